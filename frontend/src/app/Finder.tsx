import Box from "@mui/material/Box";
import Dialog from "@mui/material/Dialog";
import InputBase from "@mui/material/InputBase";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState, type KeyboardEvent } from "react";
import { useNavigate } from "react-router";
import { client, inWords, take } from "../shared/api/client";
import { choiceField, Choices, moveChoice } from "../shared/Choices";
import { useDebounced } from "../shared/useDebounced";

export interface Page {
  name: string;
  path: string;
}

interface Props {
  pages: readonly Page[];
  /** The words; held outside, since they may be typed before this stands. */
  typed: string;
  type: (words: string) => void;
  close: () => void;
}

/** Finds anything by a few words: pages, what is owned, boxes, purchases, places, cards; Enter goes there. */
export default function Finder({ pages, typed, type, close }: Props) {
  const navigate = useNavigate();
  const [at, setAt] = useState(0);
  const asked = useDebounced(typed.trim(), 120);
  const found = useQuery({
    queryKey: ["find", asked],
    queryFn: ({ signal }) => take(client.GET("/api/find", { params: { query: { find: asked } }, signal })),
    enabled: asked !== "",
    placeholderData: keepPreviousData,
    staleTime: 10_000,
  });
  const words = typed.toLowerCase().split(/\s+/).filter(Boolean);
  const places = [
    ...pages
      .filter((page) => words.every((word) => page.name.toLowerCase().includes(word)))
      .map((page) => ({ kind: "page", ...page })),
    ...(words.length && asked ? (found.data?.places ?? []) : []),
  ];
  const chosen = Math.min(at, places.length - 1);
  const go = (path: string) => {
    close();
    void navigate(path);
  };
  const onKey = (event: KeyboardEvent) => {
    const next = moveChoice(event.key, chosen, places.length);
    if (next !== null) setAt(next);
    else if (event.key === "Enter") {
      const place = places[chosen];
      if (place) go(place.path);
    } else return;
    event.preventDefault();
  };
  return (
    <Dialog
      open
      onClose={close}
      maxWidth="sm"
      fullWidth
      slotProps={{
        paper: { "aria-label": "Find anything", sx: { alignSelf: "flex-start", mt: { xs: 1, sm: 6 } } },
      }}
    >
      <InputBase
        autoFocus
        autoComplete="off"
        placeholder="a card, a box, a purchase, a place"
        value={typed}
        onChange={(event) => {
          type(event.target.value);
          setAt(0);
        }}
        onKeyDown={onKey}
        slotProps={{
          input: {
            "aria-label": "Find",
            ...choiceField("found-places", chosen, places.length),
          },
        }}
        sx={{ px: 2, py: 1, font: "inherit", fontSize: 17, borderBottom: 1, borderColor: "divider" }}
      />
      <Choices
        id="found-places"
        label="Found"
        options={places}
        keyOf={(place) => `${place.kind} ${place.path} ${place.name}`}
        at={chosen}
        pick={(place) => go(place.path)}
        over={false}
      >
        {(place) => (
          <Box component="span" sx={{ display: "flex", gap: 1.5, px: 1 }}>
            <Box component="span" sx={{ width: 70, flex: "none", color: "text.secondary" }}>
              {place.kind}
            </Box>
            {place.name}
          </Box>
        )}
      </Choices>
      <Box role="status" sx={{ px: 2, py: places.length ? 0 : 1, color: "text.secondary", fontSize: 13 }}>
        {found.isError && inWords(found.error)}
        {!found.isError &&
          asked !== "" &&
          found.isSuccess &&
          !found.isPlaceholderData &&
          places.length === 0 &&
          "Nothing here is called so."}
      </Box>
    </Dialog>
  );
}

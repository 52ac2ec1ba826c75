import TextField from "@mui/material/TextField";
import Box from "@mui/material/Box";
import { useQuery } from "@tanstack/react-query";
import { useId, useState } from "react";
import { client, take, type Schemas } from "../../shared/api/client";
import { choiceField, Choices, moveChoice } from "../../shared/Choices";
import { count, money } from "../../shared/format";
import { useDebounced } from "../../shared/useDebounced";

export type StockItem = Schemas["ItemOut"];

/** Something that is in stock, by words of its name, number, serial number or place. */
export function ItemSearch({ label, pick }: { label: string; pick: (item: StockItem) => void }) {
  const id = useId();
  const [typed, setTyped] = useState("");
  const [at, setAt] = useState(0);
  const asked = useDebounced(typed.trim(), 120);
  const found = useQuery({
    queryKey: ["items", "to sell", asked],
    queryFn: ({ signal }) =>
      take(client.GET("/api/items", { params: { query: { find: asked, take: 8 } as never }, signal })),
    enabled: asked.length > 0,
  });
  const isThere = typed.trim() !== "" && asked === typed.trim();
  const options = isThere ? (found.data?.items ?? []).filter((it) => it.kind !== "supply") : [];
  const choose = (item: StockItem) => {
    setTyped("");
    setAt(0);
    pick(item);
  };
  return (
    <Box sx={{ width: 360, maxWidth: 1 }} onBlur={() => setTyped("")}>
      <TextField
        label={label}
        value={typed}
        onChange={(event) => {
          setTyped(event.target.value);
          setAt(0);
        }}
        onKeyDown={(event) => {
          const next = moveChoice(event.key, at, options.length);
          const chosen = options[at];
          if (next !== null) setAt(next);
          else if (event.key === "Enter") {
            if (chosen) choose(chosen);
          } else if (event.key === "Escape" && typed) setTyped("");
          else return;
          event.preventDefault();
        }}
        helperText={isThere && found.data && options.length === 0 ? "nothing like that is here" : " "}
        autoComplete="off"
        slotProps={{ htmlInput: choiceField(id, at, options.length) }}
        fullWidth
      />
      <Choices
        id={id}
        label="Things in stock"
        options={options}
        keyOf={(it) => it.number}
        at={at}
        pick={choose}
      >
        {(it) => (
          <>
            {it.count > 1 && `${count(it.count)} x `}
            {it.name}
            <Box component="span" sx={{ color: "text.secondary" }}>
              {" "}
              {[it.condition, it.place, it.value === null ? null : `worth ${money(it.value)}`]
                .filter(Boolean)
                .join(" · ")}
            </Box>
          </>
        )}
      </Choices>
    </Box>
  );
}

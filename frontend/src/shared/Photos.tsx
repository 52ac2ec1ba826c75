import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { AddPhoto } from "./AddPhoto";
import { client, take } from "./api/client";
import { Ask } from "./Ask";
import { ChoiceBox } from "./ChoiceBox";
import { fileOf, photosOf, smallOf, type PhotoSide } from "./photos";
import { Section } from "./Section";
import { useAct } from "./useAct";

const SIDES = { front: "the front", back: "the back", detail: "a detail" };

/** The photos of a thing: small ones that open large, another one, one taken out. */
export function Photos({ item }: { item: number }) {
  const photos = useQuery(photosOf(item));
  const [side, setSide] = useState<PhotoSide>("front");
  const [asked, setAsked] = useState<number | null>(null);
  const remove = useAct(
    (number: number) => take(client.DELETE("/api/photos/{number}", { params: { path: { number } } })),
    { keys: ["items", "grading"], text: "The photo is gone.", done: () => setAsked(null) },
  );
  return (
    <Section title="Photos" point={photos.data?.photos.length ? "the newest of a side counts" : ""}>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, my: 1 }}>
        {photos.data?.photos.map((photo) => (
          <Box key={photo.number} component="figure" sx={{ m: 0, width: 96 }}>
            <a href={fileOf(photo.number)} target="_blank" rel="noreferrer">
              <Box
                component="img"
                src={smallOf(photo.number)}
                alt={`${photo.side}, ${photo.width} x ${photo.height} pixels`}
                sx={{ width: 1, display: "block", border: 1, borderColor: "divider" }}
              />
            </a>
            <figcaption>
              <Button
                color="inherit"
                sx={{ p: 0, minWidth: 0, minHeight: 26, fontSize: 12 }}
                onClick={() => setAsked(photo.number)}
                aria-label={`${photo.side}: take it out`}
              >
                {photo.side}: take it out
              </Button>
            </figcaption>
          </Box>
        ))}
      </Box>
      <Box sx={{ mb: 1.5 }}>
        <ChoiceBox
          label="It shows"
          value={side}
          set={(value) => setSide(value as PhotoSide)}
          choices={SIDES}
          width={150}
        />
      </Box>
      <AddPhoto item={item} side={side} />
      {asked !== null && (
        <Ask
          title="Take this photo out?"
          act="Take it out for good"
          busy={remove.isPending}
          go={() => remove.mutate(asked)}
          close={() => setAsked(null)}
        >
          It cannot be brought back, nor can what was measured on it.
        </Ask>
      )}
    </Section>
  );
}

import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { client, take, type Schemas } from "../../shared/api/client";
import { count } from "../../shared/format";
import { fileOf, smallOf } from "../../shared/photos";
import { Section } from "../../shared/Section";
import { useAct } from "../../shared/useAct";
import { LISTED, turned } from "./listings";

/** The photos of a listing's things: which go with it, the first of them in front. */
export function ListingPhotos({ data }: { data: Schemas["ListingOut"] }) {
  const { number, version, things } = data.listing;
  const goes = data.chosen_photos;
  const choose = useAct(
    (photos: readonly number[]) =>
      take(
        client.PUT("/api/listings/{number}/photos", {
          params: { path: { number } },
          body: { version, photos: [...photos] },
        }),
      ),
    { keys: LISTED },
  );
  const rest = data.photos.filter((photo) => !goes.includes(photo));
  return (
    <Section title="Photos" point={goes.length ? `${count(goes.length)} go with it` : "none goes with it"}>
      {data.photos.length === 0 && (
        <span>There are none: add them on the page of {things.length === 1 ? "the thing" : "a thing"}.</span>
      )}
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, my: 1 }}>
        {[...goes, ...rest].map((photo, at) => {
          const isIn = at < goes.length;
          const name = `photo ${at + 1}`;
          return (
            <Box key={photo} component="figure" sx={{ m: 0, width: 96 }}>
              <a href={fileOf(photo)} target="_blank" rel="noreferrer">
                <Box
                  component="img"
                  src={smallOf(photo)}
                  alt={isIn ? `${name}, goes with it` : `${name}, stays here`}
                  sx={{
                    width: 1,
                    display: "block",
                    border: 1,
                    borderColor: "divider",
                    opacity: isIn ? 1 : 0.4,
                  }}
                />
              </a>
              <Box component="figcaption" sx={{ display: "flex", flexWrap: "wrap" }}>
                <Act
                  label={isIn ? "Leave out" : "Take in"}
                  of={name}
                  busy={choose.isPending}
                  go={() => choose.mutate(turned(goes, photo, isIn ? "out" : "in"))}
                />
                {isIn && at > 0 && (
                  <Act
                    label="To the front"
                    of={name}
                    busy={choose.isPending}
                    go={() => choose.mutate(turned(goes, photo, "first"))}
                  />
                )}
              </Box>
            </Box>
          );
        })}
      </Box>
    </Section>
  );
}

function Act({ label, of, busy, go }: { label: string; of: string; busy: boolean; go: () => void }) {
  return (
    <Button
      color="inherit"
      sx={{ p: 0.5, minWidth: 0, minHeight: 26, fontSize: 12 }}
      disabled={busy}
      onClick={go}
      aria-label={`${label}: ${of}`}
    >
      {label}
    </Button>
  );
}

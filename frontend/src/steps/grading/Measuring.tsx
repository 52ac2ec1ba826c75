import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { AddPhoto } from "../../shared/AddPhoto";
import { Answer } from "../../shared/Answer";
import { client, inWords, take } from "../../shared/api/client";
import { Figures } from "../../shared/Figures";
import { Key } from "../../shared/Key";
import { useKey } from "../../shared/keys/useKey";
import { begun, toBody, toLines, type Lines } from "../../shared/lines";
import { MeasuringPicture } from "../../shared/MeasuringPicture";
import { fileOf, type Photo } from "../../shared/photos";
import { Aside } from "../../shared/states";
import { useAct } from "../../shared/useAct";
import { useDebounced } from "../../shared/useDebounced";
import { useDraft } from "../../shared/useDraft";
import { FromScanner } from "./FromScanner";
import { linesOf, type Close, type Measured } from "./queries";

export type Side = "front" | "back";

/** Where no picture is yet: one is added, or taken from the scanner. */
export function NoPicture({ item, side }: { item: number; side: Side }) {
  const find = useFind(item);
  return (
    <Box>
      <AddPhoto item={item} side={side} done={(photo) => find.mutate({ photo, version: 0 })} />
      <FromScanner item={item} />
      <Aside>
        Lay the card flat on a ground that differs from its border, straight above, without flash; a scanner
        at 300 dots an inch or more tells its size as well.
      </Aside>
    </Box>
  );
}

/** The program looks for the card and its frame. */
function useFind(item: number, done?: (found: Measured) => void) {
  return useAct(
    ({ photo, version }: { photo: number; version: number }) =>
      take(
        client.POST("/api/photos/{number}/lines", { params: { path: { number: photo } }, body: { version } }),
      ),
    {
      keys: ["grading"],
      scope: `lines of ${item}`,
      text: (found) => (found.found ? "Found; move what is off." : ""),
      ...(done ? { done } : {}),
    },
  );
}

/** A side's picture with its lines, found or moved. */
export function Picture({ photo, data, side }: { photo: Photo; data: Close; side: Side }) {
  const lines = useQuery(linesOf(photo.number));
  if (!lines.data) return <Answer of={lines} />;
  return <Measuring kept={lines.data} data={data} side={side} />;
}

function Measuring({ kept, data, side }: { kept: Measured; data: Close; side: Side }) {
  const { photo } = kept;
  const stands = kept.found ? toLines(kept) : null;
  const [draft, setDraft, forget] = useDraft<{ version: number; lines: Lines } | null>(
    `lines of photo ${photo.number}`,
    null,
  );
  const moved = draft !== null && draft.version === kept.version ? draft.lines : null;
  const lines = moved ?? stands;
  const drop = () => {
    forget();
    setDraft(null);
  };
  const asked = useDebounced(JSON.stringify(moved), 150);
  const tried = useQuery({
    queryKey: ["grading", "tried", photo.number, asked],
    queryFn: ({ signal }) =>
      take(
        client.POST("/api/photos/{number}/tried", {
          params: { path: { number: photo.number } },
          body: { version: kept.version, ...toBody(JSON.parse(asked) as Lines) },
          signal,
        }),
      ),
    enabled: asked !== "null",
    placeholderData: keepPreviousData,
    retry: false,
  });
  const find = useFind(data.item, drop);
  const keep = useAct(
    (said: Lines) =>
      take(
        client.PUT("/api/photos/{number}/lines", {
          params: { path: { number: photo.number } },
          body: { version: kept.version, ...toBody(said) },
        }),
      ),
    { keys: ["grading"], text: "The lines are kept.", done: drop },
  );
  useKey("f", "find the lines", () => find.mutate({ photo: photo.number, version: kept.version }));
  const found = moved ? (tried.data ?? kept.found) : kept.found;
  return (
    <Box>
      <MeasuringPicture
        src={fileOf(photo.number)}
        label={`The ${side} of ${data.name}`}
        width={photo.width}
        height={photo.height}
        lines={lines}
        set={(fresh) => setDraft({ version: kept.version, lines: fresh })}
        marks={kept.found ? marksOn(data, side, kept.found.corners) : []}
      />
      {kept.refused && !lines && <Aside>{kept.refused}. Place the lines by hand.</Aside>}
      {moved && tried.isError && (
        <Box role="alert" sx={{ color: "error.main", fontSize: 13 }}>
          {inWords(tried.error)}
        </Box>
      )}
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mt: 1 }}>
        <Button
          variant={lines ? "outlined" : "contained"}
          color={lines ? "inherit" : "primary"}
          disabled={find.isPending}
          onClick={() => find.mutate({ photo: photo.number, version: kept.version })}
        >
          Find the lines&nbsp;&nbsp;<Key>F</Key>
        </Button>
        {!lines && (
          <Button
            color="inherit"
            onClick={() => setDraft({ version: kept.version, lines: begun(photo.width, photo.height) })}
          >
            Place them by hand
          </Button>
        )}
        {moved && (
          <>
            <Button
              variant="contained"
              disabled={keep.isPending || tried.isError}
              onClick={() => keep.mutate(moved)}
            >
              Keep these lines
            </Button>
            <Button color="inherit" onClick={drop}>
              As they were
            </Button>
          </>
        )}
      </Box>
      {found && (
        <Box sx={{ mt: 1.5 }}>
          <Figures
            rows={[
              ["Left to right", `${pair(found.left_right)} ± ${found.uncertainty[0]!.toFixed(1)}`],
              ["Top to bottom", `${pair(found.top_bottom)} ± ${found.uncertainty[1]!.toFixed(1)}`],
              ["Print turned on the card", `${(found.tilt || 0).toFixed(2).replace("-0.00", "0.00")}°`],
              ["Card turned in the picture", `${found.turn.toFixed(1)}°`],
              [
                kept.by_hand || moved ? "Placed" : "Found",
                kept.by_hand || moved ? "by hand" : "by the program",
              ],
            ]}
          />
        </Box>
      )}
      <Box sx={{ mt: 2 }}>
        <AddPhoto
          item={data.item}
          side={side}
          done={(number) => find.mutate({ photo: number, version: 0 })}
        />
      </Box>
    </Box>
  );
}

export function pair([one, other]: readonly number[]): string {
  return `${one!.toFixed(1)} / ${other!.toFixed(1)}`;
}

/** The flaws of a side where they lie on its picture. */
function marksOn(data: Close, side: Side, corners: readonly (readonly number[])[]) {
  const [a, b, c, d] = corners as [number[], number[], number[], number[]];
  return data.flaws
    .filter((flaw) => flaw.side === side)
    .map(({ x, y, words }) => ({
      x: (1 - y) * ((1 - x) * a[0]! + x * b[0]!) + y * ((1 - x) * d[0]! + x * c[0]!),
      y: (1 - y) * ((1 - x) * a[1]! + x * b[1]!) + y * ((1 - x) * d[1]! + x * c[1]!),
      name: words,
    }));
}

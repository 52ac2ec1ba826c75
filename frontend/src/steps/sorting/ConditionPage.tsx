import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate, useParams } from "react-router";
import { Answer } from "../../shared/Answer";
import { client, inWords, take, type Schemas } from "../../shared/api/client";
import { CardDrawing } from "../../shared/CardDrawing";
import { ChoiceBox } from "../../shared/ChoiceBox";
import { FieldRow } from "../../shared/FieldRow";
import { Figures } from "../../shared/Figures";
import { money } from "../../shared/format";
import { Key } from "../../shared/Key";
import { useKey } from "../../shared/keys/useKey";
import { PageTitle } from "../../shared/PageTitle";
import { cardOf, fileOf, newest, photosOf } from "../../shared/photos";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { TwoColumns } from "../../shared/TwoColumns";
import { useAct } from "../../shared/useAct";
import { useDraft } from "../../shared/useDraft";
import { FlawTable } from "./FlawTable";
import { KIND_NAMES, SIZES, asMark, type Flaw } from "./flaws";

type Judged = Schemas["JudgedOut"];

/** A raw card's condition: flaws are marked on a drawing of both sides; both readings follow. */
export default function ConditionPage() {
  const { number = "" } = useParams();
  const path = { number: Number(number) };
  const kept = useQuery({
    queryKey: ["items", "condition", number],
    queryFn: () => take(client.GET("/api/items/{number}/condition", { params: { path } })),
  });
  if (!kept.data) return <Answer of={kept} />;
  return <Judging kept={kept.data} />;
}

function Judging({ kept }: { kept: Judged }) {
  const path = { number: kept.item };
  const navigate = useNavigate();
  const stands = kept.flaws.map(({ kind, side, size, x, y }): Flaw => ({ kind, side, size, x, y }));
  const [draft, setDraft, forget] = useDraft<{ version: number; flaws: Flaw[] }>(`flaws of ${kept.item}`, {
    version: kept.version,
    flaws: stands,
  });
  const flaws = draft.flaws;
  const set = (fresh: Flaw[]) => setDraft({ version: draft.version, flaws: fresh });
  const [kind, setKind] = useState<Flaw["kind"]>("wear");
  const [size, setSize] = useState<Flaw["size"]>("small");
  const isChanged = JSON.stringify(flaws) !== JSON.stringify(stands);
  const tried = useQuery({
    queryKey: ["items", "condition", String(kept.item), "tried", flaws],
    queryFn: ({ signal }) =>
      take(client.POST("/api/items/{number}/condition", { params: { path }, body: { flaws }, signal })),
    enabled: isChanged,
    placeholderData: (before) => before,
    retry: false,
  });
  const data = isChanged ? (tried.data ?? kept) : kept;
  const keep = useAct(
    (condition: string | null) =>
      take(
        client.PUT("/api/items/{number}/condition", {
          params: { path },
          body: { version: kept.version, flaws, condition: condition as never },
        }),
      ),
    {
      keys: ["items"],
      text: (done) => `Kept: ${done.condition ?? "no condition"} with ${done.flaws.length} marks.`,
      done: (done) => {
        forget();
        setDraft({
          version: done.version,
          flaws: done.flaws.map(({ kind: k, side, size: s, x, y }) => ({ kind: k, side, size: s, x, y })),
        });
      },
    },
  );
  const photos = useQuery(photosOf(kept.item));
  const [noCard, setNoCard] = useState<ReadonlySet<number>>(new Set());
  // The card by itself where it can be found on the photo, else the photo as it is.
  const photoOf = (side: Flaw["side"]) => {
    const photo = newest(photos.data?.photos, side);
    return photo && (noCard.has(photo.number) ? fileOf(photo.number) : cardOf(photo.number));
  };
  const pick = (name: Flaw["kind"]) => () => setKind(name);
  useKey("1", "small", () => setSize("small"));
  useKey("2", "medium", () => setSize("medium"));
  useKey("3", "large", () => setSize("large"));
  useKey("Backspace", "take the last mark off", () => set(flaws.slice(0, -1)), { on: flaws.length > 0 });
  return (
    <PageTitle
      title={`Condition of ${kept.name}`}
      verdict={data.verdict}
      crumbs={[
        { name: "Stock", to: "/stock" },
        { name: kept.name, to: `/stock/${kept.item}` },
        { name: "Condition" },
      ]}
    >
      {draft.version !== kept.version && isChanged && (
        <Aside>
          It was changed since these marks were begun;{" "}
          <Button color="inherit" onClick={() => setDraft({ version: kept.version, flaws: stands })}>
            begin with what stands
          </Button>
        </Aside>
      )}
      {tried.isError && <Aside>{inWords(tried.error)}</Aside>}
      <TwoColumns
        main={
          <Section
            title="Mark what you see"
            point={
              <>
                tap the place; <Key>⌫</Key> takes the last mark off
              </>
            }
          >
            {data.faults.length > 0 && <Aside>Known of this release: {data.faults.join("; ")}</Aside>}
            <Box
              role="group"
              aria-label="Kind of flaw"
              sx={{ display: "flex", flexWrap: "wrap", gap: 0.5, my: 1 }}
            >
              {(Object.keys(KIND_NAMES) as Flaw["kind"][]).map((name) => (
                <Button
                  key={name}
                  color="inherit"
                  aria-pressed={name === kind}
                  onClick={pick(name)}
                  sx={{
                    minHeight: { xs: 40, sm: 28 },
                    py: 0,
                    borderRadius: 0,
                    borderBottom: 3,
                    borderColor: name === kind ? "tone.marker" : "transparent",
                    fontWeight: name === kind ? 700 : 400,
                  }}
                >
                  {KIND_NAMES[name]}
                </Button>
              ))}
            </Box>
            <FieldRow>
              <ChoiceBox
                label="Size"
                value={size}
                set={(value) => setSize(value as Flaw["size"])}
                choices={SIZES}
                width={220}
              />
            </FieldRow>
            {photos.data?.photos.map((photo) => (
              <img
                key={photo.number}
                src={cardOf(photo.number)}
                alt=""
                hidden
                onError={() => setNoCard((known) => new Set([...known, photo.number]))}
              />
            ))}
            <Box sx={{ display: "flex", gap: 2, flexWrap: "wrap" }}>
              {(["front", "back"] as const).map((side) => (
                <CardDrawing
                  key={side}
                  label={side}
                  photo={photoOf(side)}
                  marks={flaws.flatMap((flaw, at) => (flaw.side === side ? [asMark(flaw, at)] : []))}
                  place={(x, y) => set([...flaws, { kind, side, size, x, y }])}
                  move={(at, x, y) =>
                    set(flaws.map((flaw, place) => (place === at ? { ...flaw, x, y } : flaw)))
                  }
                  remove={(at) => set(flaws.filter((_, place) => place !== at))}
                />
              ))}
            </Box>
          </Section>
        }
        aside={
          <>
            <Section title="Both readings" point={`in ${data.currency}`}>
              <Figures
                rows={data.worths.map((it) => [
                  `${it.condition}${it.condition === data.strict.condition ? ", strictly" : ""}${it.condition === data.lenient.condition ? ", leniently" : ""}`,
                  it.amount === null ? "unknown" : `${it.by_factor ? "about " : ""}${money(it.amount)}`,
                ])}
              />
              <Box sx={{ fontSize: 12, color: "text.secondary", mt: 0.5 }}>
                “about”: by a factor, no sale in that condition says so
              </Box>
              <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mt: 1.5 }}>
                <Button
                  variant="contained"
                  disabled={keep.isPending}
                  onClick={() => keep.mutate(data.strict.condition)}
                >
                  Keep as {data.strict.condition}
                </Button>
                {data.lenient.condition !== data.strict.condition && (
                  <Button
                    variant="outlined"
                    color="inherit"
                    disabled={keep.isPending}
                    onClick={() => keep.mutate(data.lenient.condition)}
                  >
                    Keep as {data.lenient.condition}
                  </Button>
                )}
                <Button color="inherit" disabled={keep.isPending} onClick={() => keep.mutate(null)}>
                  Keep the marks only
                </Button>
                <Button color="inherit" onClick={() => void navigate(`/stock/${kept.item}`)}>
                  Back to the card
                </Button>
              </Box>
            </Section>
            {(data.size || data.marked.length > 0) && (
              <Section title="Of its mates" point="">
                {data.size && (
                  <Box>
                    It should measure {data.size.width} x {data.size.height} mm; smaller may be trimmed.
                  </Box>
                )}
                {data.marked.length > 0 && (
                  <Box>
                    Marked on others of the release:{" "}
                    {data.marked.map((it) => `${KIND_NAMES[it.kind]} ${it.things}`).join(", ")}
                  </Box>
                )}
              </Section>
            )}
            <Aside>Cleaning or flattening a card can damage it, and buyers must be told.</Aside>
          </>
        }
      />
      <FlawTable />
    </PageTitle>
  );
}

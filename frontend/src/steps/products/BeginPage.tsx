import Button from "@mui/material/Button";
import { useFieldArray } from "react-hook-form";
import { useNavigate } from "react-router";
import * as z from "zod/mini";
import { client, take } from "../../shared/api/client";
import { FieldRow } from "../../shared/FieldRow";
import { CountField, MoneyField, OtherFaults, WordsField } from "../../shared/forms/fields";
import { maybeAmount, maybeWhole, maybeWords, whole, words } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { keyed } from "../../shared/useOnce";

const LINE = { name: "", cards: "", odds: "", price: "" };
const EMPTY = {
  name: "",
  year: "",
  publisher: "",
  series: "",
  format: "Box",
  packs_per_box: "",
  cards_per_pack: "",
  boxes_per_case: "",
  price: "",
  base_cards: "",
  lines: [LINE],
};
const orEmpty = z.pipe(
  maybeAmount,
  z.transform((text) => text ?? ""),
);
const SHAPE = z.object({
  name: words,
  year: whole,
  publisher: words,
  series: maybeWords,
  format: words,
  packs_per_box: whole,
  cards_per_pack: whole,
  boxes_per_case: maybeWhole,
  price: orEmpty,
  base_cards: whole,
  lines: z.array(z.object({ name: words, cards: maybeWhole, odds: words, price: orEmpty })),
});

/** A release from what is known on the first day: one format, the base, and the lines by their odds. */
export default function BeginPage() {
  const navigate = useNavigate();
  const { form, submit, busy, faults } = useEntry({
    draft: "begin a release",
    empty: EMPTY,
    shape: SHAPE,
    names: {
      "formats[0].price": "price",
      "formats[0].packs_per_box": "packs_per_box",
      "formats[0].cards_per_pack": "cards_per_pack",
      "formats[0].boxes_per_case": "boxes_per_case",
    },
    send: ({ lines, ...said }, key) =>
      take(
        client.POST("/api/releases/begin", {
          body: {
            ...said,
            // a row that was left empty is no line
            lines: lines
              .filter((line) => line.name || line.cards !== null || line.odds)
              .map((line) => ({ ...line, cards: line.cards ?? 0 })),
          },
          ...keyed(key),
        }),
      ),
    keys: ["shelf", "desk", "stubs", "cards"],
    text: (done) => `${done.title} is begun.`,
    done: (done) => void navigate(`/products/${done.release}`),
  });
  const { control } = form;
  const lines = useFieldArray({ control, name: "lines" });
  return (
    <PageTitle
      title="Begin a release"
      plain="Begin a release with what is known."
      crumbs={[{ name: "Products", to: "/products" }, { name: "Begin a release" }]}
    >
      <form noValidate onSubmit={submit}>
        <Section title="The release">
          <FieldRow>
            <WordsField control={control} name="name" label="What it is called" width={240} autoFocus />
            <CountField control={control} name="year" label="Year" />
            <WordsField control={control} name="series" label="Series, if any" width={130} />
            <WordsField control={control} name="publisher" label="Publisher" />
          </FieldRow>
        </Section>
        <Section title="One format of it" point="more come with a product sheet">
          <FieldRow>
            <WordsField control={control} name="format" label="Format" width={140} />
            <CountField control={control} name="packs_per_box" label="Packs in it" width={100} />
            <CountField control={control} name="cards_per_pack" label="Cards in a pack" width={120} />
            <CountField control={control} name="boxes_per_case" label="Boxes in a case" width={120} />
            <MoneyField control={control} name="price" label="Price today" hint="empty: unknown" />
            <CountField control={control} name="base_cards" label="Cards of the base" width={130} />
          </FieldRow>
        </Section>
        <Section
          title="Its lines"
          point="odds as the wrapper says: 1:12, 1 per box, 2 per box guaranteed, unstated"
        >
          {lines.fields.map((line, at) => (
            <FieldRow key={line.id}>
              <WordsField control={control} name={`lines.${at}.name`} label="Line" />
              <CountField control={control} name={`lines.${at}.cards`} label="Cards" />
              <WordsField control={control} name={`lines.${at}.odds`} label="Odds" width={170} />
              <MoneyField
                control={control}
                name={`lines.${at}.price`}
                label="Each is worth"
                hint="empty: unknown"
              />
              <Button
                color="inherit"
                onClick={() => lines.remove(at)}
                aria-label={`Leave out line ${at + 1}`}
              >
                Leave out
              </Button>
            </FieldRow>
          ))}
          <Button color="inherit" onClick={() => lines.append(LINE)}>
            Another line
          </Button>
        </Section>
        <OtherFaults faults={faults} />
        <Button type="submit" variant="contained" disabled={busy}>
          Begin it
        </Button>
        <Aside>
          The cards are numbered, and whom they show is left open. Prices and odds are corrected on its page;
          a product sheet that is imported later takes its place. What is worth nothing known is left out,
          never counted as 0.
        </Aside>
      </form>
    </PageTitle>
  );
}

import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useWatch } from "react-hook-form";
import * as z from "zod/mini";
import { client, take } from "../shared/api/client";
import { FieldRow } from "../shared/FieldRow";
import {
  CheckField,
  ChoiceField,
  MoneyField,
  OtherFaults,
  PercentField,
  WordsField,
} from "../shared/forms/fields";
import { amount, share, words } from "../shared/forms/shapes";
import { useEntry } from "../shared/forms/useEntry";
import { Section } from "../shared/Section";
import { Aside } from "../shared/states";
import { toId } from "../steps/pricing/ways";
import { useBegun } from "./session";

const HAND = "From hand to hand";
const EMPTY = {
  name: "",
  passphrase: "",
  currency: "",
  by_hand: false,
  market: false,
  market_name: "",
  commission: "",
  fixed_fee: "",
  postage: "",
};
type Typed = typeof EMPTY;

/** What is not shown is not asked: an empty field of a way that is not chosen is no fault. */
function only<T>(shape: z.ZodMiniType<T, string>, isAsked: (typed: Typed) => boolean) {
  return (typed: Typed, field: keyof Typed, context: z.core.ParsePayload) => {
    if (!isAsked(typed)) return null;
    const found = shape.safeParse(typed[field]);
    if (found.success) return found.data;
    for (const issue of found.error.issues) {
      context.issues.push({ code: "custom", message: issue.message, path: [field], input: typed });
    }
    return null;
  };
}

const isMarket = (typed: Typed) => typed.market;
const marketName = only(words, isMarket);
const marketShare = only(share, isMarket);
const marketAmount = only(amount, isMarket);

const SHAPE = z.pipe(
  z.custom<Typed>(),
  z.transform((typed: Typed, context) => {
    const way = {
      name: marketName(typed, "market_name", context) ?? "",
      commission: marketShare(typed, "commission", context) ?? "0",
      fixed_fee: marketAmount({ ...typed, fixed_fee: typed.fixed_fee || "0" }, "fixed_fee", context) ?? "0",
      postage: marketAmount({ ...typed, postage: typed.postage || "0" }, "postage", context) ?? "0",
    };
    const hand = { id: toId(HAND), name: HAND, commission: "0", fixed_fee: "0", postage: "0" };
    return {
      name: typed.name.trim(),
      passphrase: typed.passphrase,
      currency: typed.currency,
      ways: [...(typed.market ? [{ id: toId(way.name), ...way }] : []), ...(typed.by_hand ? [hand] : [])],
    };
  }),
);

/** The installation belongs to nobody yet: who begins, by which passphrase, in which money, and how they sell. */
export default function FirstVisit() {
  const begun = useBegun();
  const currencies = useQuery({
    queryKey: ["currencies"],
    queryFn: () => take(client.GET("/api/currencies")),
    staleTime: Infinity,
  });
  const choices = Object.fromEntries(
    (currencies.data?.currencies ?? []).map(({ code, name }) => [code, `${code}, ${name}`]),
  );
  const [names] = useState(() =>
    Object.fromEntries(
      Object.entries({
        name: "market_name",
        commission: "commission",
        fixed_fee: "fixed_fee",
        postage: "postage",
      }).map(([field, own]) => [`ways[0].${field}`, own]),
    ),
  );
  const { form, submit, busy, faults } = useEntry({
    empty: EMPTY,
    shape: SHAPE,
    names,
    send: (body) => take(client.POST("/api/owner", { body })),
    keys: [],
    done: begun,
  });
  const { control } = form;
  const market = useWatch({ control, name: "market" });
  return (
    <Box component="main" sx={{ maxWidth: 720, mx: "auto", mt: { xs: 3, sm: "8vh" }, px: 3, pb: 6 }}>
      <Typography component="p" sx={{ fontWeight: 600, fontSize: 20, mb: 3, fontFamily: "h1.fontFamily" }}>
        Tobbix
      </Typography>
      <Typography variant="h1" sx={{ mb: 1 }}>
        This is yours. Whose is it?
      </Typography>
      <Typography sx={{ color: "text.secondary", mb: 3 }}>
        It runs on this machine, and nothing leaves it. All of this can be changed later but the currency,
        which stays once something is booked.
      </Typography>
      <form noValidate onSubmit={submit}>
        <Section title="You">
          <FieldRow>
            <WordsField control={control} name="name" label="Your name" autoFocus />
            <WordsField
              control={control}
              name="passphrase"
              label="Passphrase"
              width={300}
              hint="four words or more that do not belong together"
              more={{ type: "password", autoComplete: "new-password" }}
            />
          </FieldRow>
          <Aside>Nobody can tell it to you again. Write it down where only you look.</Aside>
        </Section>
        <Section title="Money at home" point="everything is added up in it">
          <FieldRow>
            <ChoiceField
              control={control}
              name="currency"
              label="Home currency"
              choices={choices}
              width={300}
            />
          </FieldRow>
        </Section>
        <Section title="How you sell" point="so that values are what is left to you; none is fine, too">
          <Box sx={{ display: "flex", flexDirection: "column", alignItems: "flex-start" }}>
            <CheckField
              control={control}
              name="by_hand"
              label="From hand to hand: at a fair, among friends. Nothing is taken."
            />
            <CheckField control={control} name="market" label="On a marketplace, which takes a part" />
          </Box>
          {market && (
            <FieldRow>
              <WordsField control={control} name="market_name" label="What you call it" />
              <PercentField control={control} name="commission" label="It takes" />
              <MoneyField
                control={control}
                name="fixed_fee"
                label="And for each sale"
                hint="0 if left empty"
              />
              <MoneyField control={control} name="postage" label="Postage you pay" hint="0 if left empty" />
            </FieldRow>
          )}
        </Section>
        <OtherFaults faults={faults} />
        <Button type="submit" variant="contained" disabled={busy}>
          Begin
        </Button>
      </form>
    </Box>
  );
}

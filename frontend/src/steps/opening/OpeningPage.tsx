import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useState } from "react";
import { useWatch } from "react-hook-form";
import { Link, useNavigate } from "react-router";
import * as z from "zod/mini";
import { Answer } from "../../shared/Answer";
import { client, take, type Schemas } from "../../shared/api/client";
import { FieldRow } from "../../shared/FieldRow";
import { day, money } from "../../shared/format";
import { CountField, OtherFaults, PercentField, WordsField } from "../../shared/forms/fields";
import { maybeShare, maybeWords, share, whole } from "../../shared/forms/shapes";
import { useEntry } from "../../shared/forms/useEntry";
import { PageTitle } from "../../shared/PageTitle";
import { Section } from "../../shared/Section";
import { Heads, Table } from "../../shared/Table";
import { holds, losesIn } from "../../shared/prospect";
import { keyed } from "../../shared/useOnce";
import { words } from "../../shared/VerdictLine";
import { useOpenings } from "./queries";
import { Redemptions } from "./Redemptions";

/** What is being opened, what could be, and what came by post. */
export default function OpeningPage() {
  const openings = useOpenings();
  if (!openings.data) return <Answer of={openings} />;
  const { verdict, sessions, openable } = openings.data;
  return (
    <PageTitle title="Opening" verdict={verdict} crumbs={[{ name: "Opening" }]}>
      <Section title="Sealed, on the desk" point="what it cost stays with it until it is opened">
        {openable.length === 0 && (
          <Box sx={{ py: 1, color: "text.secondary" }}>
            Nothing sealed is here. What you buy in a format of a release can be opened once it is received.
          </Box>
        )}
        {openable.length > 0 && (
          <Table label="Sealed, on the desk">
            <Heads
              of={[
                "What",
                { figure: "paid a box" },
                { figure: "sealed, today" },
                { figure: "opened, about" },
                { figure: "chance of less" },
                { hidden: "open it" },
              ]}
            />
            <tbody>
              {openable.map((item) => (
                <Openable key={item.item} item={item} />
              ))}
            </tbody>
          </Table>
        )}
      </Section>
      <Section
        title="Sessions"
        point={<Link to="/opening/-/results">odds against results, and weights</Link>}
      >
        {sessions.length > 0 && (
          <Table label="Sessions">
            <Heads of={["Begun", "What", "State", { figure: "packs" }]} />
            <tbody>
              {sessions.map((row) => (
                <tr key={row.number} data-row>
                  <td>{day(row.started_on)}</td>
                  <td>
                    <Link data-cell to={`/opening/${row.number}`}>
                      {row.name}
                    </Link>
                  </td>
                  <td>
                    {row.state === "done"
                      ? "finished"
                      : row.state === "undone"
                        ? "taken back"
                        : `${row.state}, pack ${row.current_pack}`}
                  </td>
                  <td className="figure">{row.packs}</td>
                </tr>
              ))}
            </tbody>
          </Table>
        )}
      </Section>
      <Redemptions />
    </PageTitle>
  );
}

/** Sealed product with what opening it may bring; "open" asks how before anything is begun. */
function Openable({ item }: { item: Schemas["OpenableOut"] }) {
  const [asking, setAsking] = useState(false);
  const { paid, sealed, loss } = item.prospect;
  return (
    <>
      <tr>
        <td>
          <b>{item.name}</b>
          {item.count > 1 && `, ${item.count} of them`}
        </td>
        <td className="figure">{money(paid)}</td>
        <td className="figure">{money(sealed)}</td>
        <td className="figure">{holds(item.prospect)}</td>
        <td className="figure">
          <Box component="span" sx={{ color: (loss ?? 0) > 0.5 ? "tone.lossText" : undefined }}>
            {losesIn(item.prospect)}
          </Box>
        </td>
        <td className="figure">
          <Button
            variant="outlined"
            color="inherit"
            aria-expanded={asking}
            aria-label={`Open: ${item.name}`}
            onClick={() => setAsking(!asking)}
            sx={{ py: 0.25 }}
          >
            {asking ? "Not now" : "Open"}
          </Button>
        </td>
      </tr>
      {asking && (
        <tr>
          <td colSpan={6}>
            <Begin item={item} />
          </td>
        </tr>
      )}
    </>
  );
}

interface Typed {
  boxes: string;
  fun: string;
  gone: string;
  trust: string;
  caseName: string;
  seen: Record<string, string>;
}

function beginShape(item: Schemas["OpenableOut"]) {
  return z.pipe(
    z.object({
      boxes: whole,
      fun: maybeShare,
      gone: whole,
      trust: share,
      caseName: maybeWords,
      seen: z.record(z.string(), whole),
    }),
    z.transform((typed): Schemas["OpeningIn"] => {
      const isBegun = typed.gone > 0; // what is hidden is not sent
      return {
        item: item.item,
        boxes: typed.boxes,
        entertainment: typed.fun,
        gone: typed.gone,
        gone_hits: isBegun ? typed.seen : {},
        trust: isBegun ? Number(typed.trust) : 1,
        note: null,
        case_name: item.of_case ? typed.caseName : null,
      };
    }),
  );
}

/** How it is opened: how many, whether packs are gone, what of the cost is for fun. */
function Begin({ item }: { item: Schemas["OpenableOut"] }) {
  const navigate = useNavigate();
  const [more, setMore] = useState(false);
  const { form, submit, busy, faults } = useEntry({
    empty: {
      boxes: "1",
      fun: "",
      gone: "0",
      trust: "100",
      caseName: "",
      seen: Object.fromEntries(item.promised.map(({ line }) => [line, "0"])),
    } satisfies Typed,
    shape: beginShape(item),
    names: { entertainment: "fun", gone_hits: "gone", case_name: "caseName" },
    send: (body, key) => take(client.POST("/api/sessions", { body, ...keyed(key) })),
    keys: ["sessions"],
    done: ({ number }) => void navigate(`/opening/${number}`),
  });
  const { control } = form;
  const { errors } = form.formState;
  // What is wrong in a field that is folded away unfolds it.
  const isOpen = more || Boolean(errors.gone ?? errors.trust ?? errors.seen);
  const begun = !/^0*$/.test((useWatch({ control, name: "gone" }) ?? "").trim());
  return (
    <Box component="form" noValidate onSubmit={submit} sx={{ py: 1 }}>
      <Box sx={{ mb: 1 }}>{words(item.verdict)}</Box>
      <FieldRow>
        {item.count > 1 && (
          <CountField control={control} name="boxes" label="How many" hint={`of ${item.count}`} />
        )}
        <PercentField control={control} name="fun" label="For fun" />
        {item.of_case && (
          <WordsField
            control={control}
            name="caseName"
            label="Of which case"
            hint="the same words for each of its boxes: what the case promises is remembered"
            width={220}
          />
        )}
        {isOpen && item.packs_gone === 0 && item.packs > 1 && (
          <CountField control={control} name="gone" label="Packs gone before" width={130} />
        )}
        {isOpen &&
          begun &&
          item.promised.map(({ line, name, count }) => (
            <CountField
              key={line}
              control={control}
              name={`seen.${line}`}
              label={`${name} in them, of ${count}`}
              width={190}
            />
          ))}
        {isOpen && begun && (
          <PercentField control={control} name="trust" label="Trust in the word" width={140} />
        )}
        {!isOpen && item.packs_gone === 0 && item.packs > 1 && (
          <Button color="inherit" onClick={() => setMore(true)}>
            Some packs are gone
          </Button>
        )}
        <Button type="submit" variant="contained" disabled={busy}>
          Begin a session
        </Button>
      </FieldRow>
      <OtherFaults faults={faults} />
    </Box>
  );
}

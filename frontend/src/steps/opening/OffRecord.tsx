import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { inWords, type Schemas } from "../../shared/api/client";
import { Section } from "../../shared/Section";
import { Aside } from "../../shared/states";
import { useOnce } from "../../shared/useOnce";
import type { Opening } from "./entering";

interface Props {
  data: Opening;
  log: (body: Schemas["TotalsIn"], key: string) => Promise<Opening>;
}

/** Packs that were opened without logging each card: how many hits of which line. */
export function OffRecord({ data, log }: Props) {
  const [shown, setShown] = useState(false);
  const [packs, setPacks] = useState("");
  const [counts, setCounts] = useState<Record<string, string>>({});
  const once = useOnce();
  const [fault, setFault] = useState("");
  const isWhole = (text: string) => /^\d{1,4}$/.test(text.trim());
  const wrong = Object.values(counts).some((text) => text.trim() !== "" && !isWhole(text));
  const submit = async () => {
    const totals = Object.entries(counts).flatMap(([line, text]) =>
      Number(text) > 0 ? [{ line, count: Number(text) }] : [],
    );
    try {
      await log({ packs: Number(packs), totals }, once.key());
      once.made();
      setCounts({});
      setPacks("");
      setFault("");
    } catch (error) {
      setFault(inWords(error));
    }
  };
  if (!shown) {
    return (
      <Button color="inherit" onClick={() => setShown(true)}>
        Packs opened off the record
      </Button>
    );
  }
  return (
    <Section title="Packs opened off the record" point="from this pack on, as totals; the rest is base">
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, my: 1.5 }}>
        <TextField
          label="Packs"
          value={packs}
          onChange={(event) => setPacks(event.target.value)}
          sx={{ width: 90 }}
        />
        {data.lines
          .filter((line) => !line.is_base)
          .map((line) => (
            <TextField
              key={line.id}
              label={line.name}
              value={counts[line.id] ?? ""}
              onChange={(event) => setCounts({ ...counts, [line.id]: event.target.value })}
              error={(counts[line.id] ?? "").trim() !== "" && !isWhole(counts[line.id] ?? "")}
              sx={{ width: 150 }}
            />
          ))}
      </Box>
      {(fault || wrong) && (
        <Box role="alert" sx={{ color: "error.main", mb: 1 }}>
          {wrong ? "counts are whole numbers" : fault}
        </Box>
      )}
      <Button
        variant="outlined"
        color="inherit"
        disabled={!isWhole(packs) || Number(packs) < 1 || wrong}
        onClick={() => void submit()}
      >
        Log these packs
      </Button>
      <Button color="inherit" onClick={() => setShown(false)}>
        Close
      </Button>
      <Aside>Which card it was stays unknown: it counts at the average of its line.</Aside>
    </Section>
  );
}

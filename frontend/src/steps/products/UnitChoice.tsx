import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import InputBase from "@mui/material/InputBase";
import { useState } from "react";
import type { Schemas } from "../../shared/api/client";
import type { Asked } from "./queries";

interface Props {
  format: Schemas["FormatOut"];
  asked: Asked;
  choose: (change: Partial<Asked>) => void;
}

/** A pack, a box, a case or any number of boxes. */
export function UnitChoice({ format, asked, choose }: Props) {
  const [text, setText] = useState("");
  const perCase = format.boxes_per_case;
  const choices: { name: string; unit: Asked["unit"]; boxes: number }[] = [
    { name: "a box", unit: "boxes", boxes: 1 },
  ];
  if (format.packs_per_box > 1) choices.unshift({ name: "a pack", unit: "pack", boxes: 1 });
  if (perCase !== null && perCase > 1)
    choices.push({ name: `a case of ${perCase}`, unit: "boxes", boxes: perCase });
  const submit = () => {
    const boxes = Number(text);
    if (Number.isInteger(boxes) && boxes >= 1 && boxes <= 1000) choose({ unit: "boxes", boxes });
  };
  const wrong = text !== "" && !/^[1-9]\d{0,2}$|^1000$/.test(text);
  return (
    <Box role="group" aria-label="How much" sx={{ display: "flex", alignItems: "center", gap: 0.5 }}>
      {choices.map((choice) => {
        const chosen = asked.unit === choice.unit && (choice.unit === "pack" || asked.boxes === choice.boxes);
        return (
          <Button
            key={choice.name}
            color="inherit"
            aria-pressed={chosen}
            onClick={() => choose({ unit: choice.unit, boxes: choice.boxes })}
            sx={{
              px: 1,
              minWidth: 0,
              fontWeight: chosen ? 700 : 400,
              borderBottom: 3,
              borderRadius: 0,
              borderColor: chosen ? "tone.marker" : "transparent",
            }}
          >
            {choice.name}
          </Button>
        );
      })}
      <InputBase
        value={text}
        placeholder="n"
        onChange={(event) => setText(event.target.value.trim())}
        onKeyDown={(event) => event.key === "Enter" && submit()}
        onBlur={submit}
        slotProps={{
          input: { "aria-label": "Number of boxes, 1 to 1,000", inputMode: "numeric", "aria-invalid": wrong },
        }}
        sx={{
          font: "inherit",
          width: 48,
          borderBottom: 1,
          borderColor: wrong ? "error.main" : "text.secondary",
          "& input": { p: 0, textAlign: "right" },
        }}
      />
      boxes
      {wrong && (
        <Box component="span" sx={{ color: "error.main" }}>
          : a whole number, 1 to 1,000
        </Box>
      )}
    </Box>
  );
}

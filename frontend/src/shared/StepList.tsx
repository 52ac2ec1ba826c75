import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import { useEffect, useRef } from "react";
import type { Schemas } from "./api/client";
import { Key } from "./Key";
import { useKey } from "./keys/useKey";
import { Section } from "./Section";
import { OFF_PAPER } from "./print";

export type Step = Schemas["StepOut"];

/** How long a key counts before what it did is seen (ms): after that it was refused. */
const ANSWER = 5_000;

/** The step that comes next, null when all are done. */
export function nextStep(steps: readonly Step[]): Step | null {
  return steps.find((step) => !step.done) ?? null;
}

interface Props {
  title: string;
  steps: readonly Step[];
  /** The key that ticks what comes next. */
  letter: string;
  tick: (step: Step, done: boolean) => void;
  on?: boolean;
}

/** Steps that are gone through by hand: kept, ticked by a tap or by one key, printed with empty boxes. */
export function StepList({ title, steps, letter, tick, on = true }: Props) {
  const next = nextStep(steps);
  // a second key may come before the first is drawn, or one that is drawn late after it
  const pressed = useRef(new Map<string, { done: boolean; at: number }>());
  const shown = useRef(steps);
  useEffect(() => {
    shown.current = steps;
    for (const step of steps)
      if (pressed.current.get(step.id)?.done === step.done) pressed.current.delete(step.id);
  }, [steps]);
  const set = (step: Step, done: boolean) => {
    pressed.current.set(step.id, { done, at: Date.now() });
    tick(step, done);
  };
  const setNext = () => {
    const now = Date.now();
    const open = shown.current.find((step) => {
      const key = pressed.current.get(step.id);
      return !(key && now - key.at < ANSWER ? key.done : step.done);
    });
    if (open) set(open, true);
  };
  useKey(letter, "tick the next step", setNext, { on: on && next !== null });
  const done = steps.filter((step) => step.done).length;
  return (
    <Section
      title={title}
      point={
        <>
          {done} of {steps.length} done
          {next && (
            <Box component="span" sx={OFF_PAPER}>
              , next <Key>{letter.toUpperCase()}</Key>
            </Box>
          )}
        </>
      }
    >
      <Box component="ol" sx={{ listStyle: "none", m: 0, p: 0 }}>
        {steps.map((step) => (
          <Box component="li" key={step.id} sx={{ borderBottom: 1, borderColor: "divider" }}>
            <FormControlLabel
              sx={{ alignItems: "flex-start", width: "100%", m: 0, py: 0.5 }}
              control={
                <Checkbox
                  size="small"
                  sx={{ p: 0.5, mr: 0.75 }}
                  checked={step.done}
                  onChange={(_, checked) => set(step, checked)}
                />
              }
              label={
                <Box sx={{ pt: 0.4, color: step.done ? "text.secondary" : "text.primary" }}>
                  {step.text}
                  {step.why && (
                    <Box component="span" sx={{ display: "block", fontSize: 12, color: "text.secondary" }}>
                      {step.why}
                    </Box>
                  )}
                </Box>
              }
            />
          </Box>
        ))}
      </Box>
      <Button color="inherit" onClick={() => window.print()} sx={{ ...OFF_PAPER, mt: 0.5 }}>
        Print
      </Button>
    </Section>
  );
}

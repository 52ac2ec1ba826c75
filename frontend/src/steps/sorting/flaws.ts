import type { Schemas } from "../../shared/api/client";
import type { DrawnMark } from "../../shared/CardDrawing";

export type Flaw = Schemas["FlawIn"];

export const KIND_NAMES: Record<Flaw["kind"], string> = {
  wear: "wear",
  crease: "crease",
  scratch: "scratch",
  dent: "dent",
  stain: "stain",
  tear: "tear",
  writing: "writing",
  print: "print fault",
  warp: "bend",
};
export const SIZES: Record<Flaw["size"], string> = {
  small: "small, up to 1 mm",
  medium: "medium, up to 3 mm",
  large: "large",
};
const REACH: Record<Flaw["size"], number> = { small: 2.2, medium: 3.6, large: 6 };

/** A flaw as it is drawn: its name says kind and size, its reach the size. */
export function asMark(flaw: Flaw, at: number): DrawnMark {
  return {
    at,
    x: flaw.x,
    y: flaw.y,
    reach: REACH[flaw.size],
    letter: KIND_NAMES[flaw.kind][0]!.toUpperCase(),
    name: `${flaw.size} ${KIND_NAMES[flaw.kind]}`,
  };
}

import type { Packing } from "./queries";

type Way = Packing["ways"][number];

export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

export interface Drawn {
  outer: Box;
  holder: Box | null;
  card: Box;
  width: number;
  height: number;
}

const CARD = [63, 88] as const; // mm; what lies in it is drawn at the usual size

/** A parcel drawn lying, to its own scale: the outer, the holder in it with its mouth to the right, the card in that. */
export function draw(way: Way, holder: readonly (string | null)[] | null, width = 250): Drawn {
  const [long, short] = [Number(way.size[0]), Number(way.size[1])];
  const scale = width / long;
  const height = short * scale;
  const inside = (one: number, other: number): Box => {
    const [along, across] = [Math.max(one, other) * scale, Math.min(one, other) * scale];
    const size = { width: Math.min(along, width - 8), height: Math.min(across, height - 8) };
    return { x: (width - size.width) / 2, y: (height - size.height) / 2, ...size };
  };
  const held = holder ? inside(Number(holder[0]), Number(holder[1])) : null;
  return {
    outer: { x: 0, y: 0, width, height },
    holder: held,
    card: inside(CARD[0] * 0.97, CARD[1] * 0.97),
    width,
    height,
  };
}

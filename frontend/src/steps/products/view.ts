export type Basis = "gross" | "net" | "floor";

/** How a page looks at values: as usual where it says nothing. */
export interface View {
  basis?: Basis;
  way?: string;
}

export function readView(params: URLSearchParams): View {
  const basis = params.get("basis");
  const way = params.get("way");
  return {
    ...(basis === "gross" || basis === "net" || basis === "floor" ? { basis } : {}),
    ...(way ? { way } : {}),
  };
}

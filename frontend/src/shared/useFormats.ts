import { useQuery } from "@tanstack/react-query";
import { client, take } from "./api/client";

/** The releases by key, as a choice of names. */
export function useReleases(): Record<string, string> {
  const shelf = useQuery({
    queryKey: ["shelf"],
    queryFn: () => take(client.GET("/api/releases")),
    select: (found) => Object.fromEntries(found.releases.map((release) => [release.id, release.title])),
  });
  return shelf.data ?? {};
}

/** The lines of a release, by key; none without one. */
export function useLines(release: string): Record<string, string> {
  const found = useQuery({
    queryKey: ["release", release],
    queryFn: () => take(client.GET("/api/releases/{release}", { params: { path: { release } } })),
    enabled: release !== "",
    select: ({ lines }) => Object.fromEntries(lines.map((line) => [line.id, line.name])),
  });
  return found.data ?? {};
}

/** The formats of all releases, to choose what was bought or what a sealed thing is. */
export function useFormats(enabled = true) {
  return useQuery({
    queryKey: ["shelf"],
    queryFn: () => take(client.GET("/api/releases")),
    enabled,
    select: (shelf) =>
      shelf.releases.flatMap((release) =>
        release.formats.map((format) => ({
          release: release.id,
          format: format.id,
          name: `${release.title}, ${format.name}`,
          price: format.price,
        })),
      ),
  });
}

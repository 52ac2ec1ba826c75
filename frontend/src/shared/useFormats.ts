import { useQuery } from "@tanstack/react-query";
import { client, take } from "./api/client";

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

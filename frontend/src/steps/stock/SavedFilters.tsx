import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { client, take } from "../../shared/api/client";
import { useAct } from "../../shared/useAct";

/** Filters that are kept by name: choose one, keep this one, or forget the chosen one. */
export function SavedFilters({
  params,
  setParams,
}: {
  params: URLSearchParams;
  setParams: (fresh: URLSearchParams, options: { replace: boolean }) => void;
}) {
  const filters = useQuery({
    queryKey: ["item-filters"],
    queryFn: () => take(client.GET("/api/item-filters")),
  });
  const [name, setName] = useState("");
  const forget = useAct(
    (kept: string) => take(client.DELETE("/api/item-filters/{name}", { params: { path: { name: kept } } })),
    { keys: ["item-filters"], text: "Filter forgotten." },
  );
  const same = (kept: Record<string, unknown>) =>
    new URLSearchParams(kept as Record<string, string>).toString() === params.toString();
  const here = filters.data?.filters.find((item) => same(item.query));
  const save = useAct(
    () => take(client.PUT("/api/item-filters", { body: { name, query: Object.fromEntries(params) } })),
    { keys: ["item-filters"], text: "Filter kept.", done: () => setName("") },
  );
  return (
    <>
      {(filters.data?.filters.length ?? 0) > 0 && (
        <TextField
          select
          label="Kept filters"
          value={here?.name ?? ""}
          onChange={(event) => {
            const found = filters.data?.filters.find((item) => item.name === event.target.value);
            if (found)
              setParams(new URLSearchParams(found.query as Record<string, string>), { replace: true });
          }}
          sx={{ width: 150 }}
        >
          {filters.data?.filters.map((item) => (
            <MenuItem key={item.name} value={item.name}>
              {item.name}
            </MenuItem>
          ))}
        </TextField>
      )}
      {here && (
        <Button color="inherit" onClick={() => forget.mutate(here.name)}>
          Forget “{here.name}”
        </Button>
      )}
      <TextField
        label="Keep this filter as"
        value={name}
        onChange={(event) => setName(event.target.value)}
        onKeyDown={(event) => event.key === "Enter" && name.trim() && save.mutate(undefined)}
        sx={{ width: 170 }}
      />
    </>
  );
}

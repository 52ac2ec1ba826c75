import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import { useSearchParams } from "react-router";
import type { Schemas } from "../../shared/api/client";
import { useWays } from "../../shared/ways";

/** What a pull is worth on this page: gross, or net of a way of selling. It stands in the address. */
export function BasisChoice({ basis }: { basis: Schemas["BasisOut"] }) {
  const [params, setParams] = useSearchParams();
  const ways = useWays();
  const chosen = basis.basis === "gross" ? "gross" : `${basis.basis}:${basis.way ?? ""}`;
  const choose = (value: string) => {
    const fresh = new URLSearchParams(params);
    const [kind = "gross", way] = value.split(":");
    fresh.set("basis", kind);
    if (way) fresh.set("way", way);
    else fresh.delete("way");
    setParams(fresh, { replace: true });
  };
  const listed = ways.data?.ways ?? [];
  return (
    <Select
      variant="standard"
      value={chosen}
      onChange={(event) => choose(event.target.value)}
      inputProps={{ "aria-label": "What a pull is worth" }}
      sx={{ fontSize: 13 }}
    >
      <MenuItem value="gross">gross: market prices</MenuItem>
      {listed.map((way) => [
        <MenuItem key={`floor:${way.id}`} value={`floor:${way.id}`}>
          net of {way.name}, cheap cards as bulk
        </MenuItem>,
        <MenuItem key={`net:${way.id}`} value={`net:${way.id}`}>
          net of {way.name}
        </MenuItem>,
      ])}
      {chosen !== "gross" && !listed.some((way) => way.id === basis.way) && (
        <MenuItem value={chosen}>net of {basis.way_name}</MenuItem>
      )}
    </Select>
  );
}

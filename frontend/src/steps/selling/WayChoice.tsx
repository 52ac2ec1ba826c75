import { ChoiceBox } from "../../shared/ChoiceBox";
import { useAddress } from "../../shared/useAddress";
import { useWays, wayNames } from "../../shared/ways";

/** The way of selling that the address asks for, else the first one, with its name; "" until they are known. */
export function useWay(): { way: string; name: string; none: boolean } {
  const [params] = useAddress();
  const ways = useWays();
  const way = params.get("way") ?? ways.data?.ways[0]?.id ?? "";
  return { way, name: wayNames(ways.data)[way] ?? way, none: ways.data?.ways.length === 0 };
}

/** Which way of selling it is about, in the address. */
export function WayChoice() {
  const [, change] = useAddress();
  const { way } = useWay();
  const ways = useWays();
  return (
    <ChoiceBox
      label="Way of selling"
      value={way}
      set={(value) => change({ way: value })}
      choices={wayNames(ways.data)}
      width={190}
    />
  );
}

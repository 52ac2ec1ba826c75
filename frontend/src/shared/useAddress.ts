import { useSearchParams } from "react-router";

/**
 * What a page asks, as it stands in the address, and a way to change a part of it. Changes are made on the address as it
 * is at that moment: the router may show it a little later, and two fields may be left at once.
 */
export function useAddress(
  defaults?: Record<string, string>,
): [URLSearchParams, (change: Record<string, string | null>) => void] {
  const [params, setParams] = useSearchParams(defaults);
  const change = (fields: Record<string, string | null>) => {
    const fresh = new URLSearchParams(window.location.search || params);
    for (const [name, value] of Object.entries(fields)) {
      if (value) fresh.set(name, value);
      else fresh.delete(name);
    }
    setParams(fresh, { replace: true });
  };
  return [params, change];
}

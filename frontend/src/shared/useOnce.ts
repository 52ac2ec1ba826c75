import { useRef } from "react";

/** A key for what is to be made once however often it is sent: the same until it was made, then a fresh one. */
export function useOnce() {
  const key = useRef(crypto.randomUUID());
  return {
    key: (): string => key.current,
    made: () => {
      key.current = crypto.randomUUID();
    },
  };
}

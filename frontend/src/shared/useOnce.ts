import { useRef } from "react";

/** What a request carries so that it is carried out once, however often it is sent. */
export function keyed(key: string): { headers: { "Idempotency-Key": string } } {
  return { headers: { "Idempotency-Key": key } };
}

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

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { client, goOn, keepToken, take, type Schemas } from "../shared/api/client";
import { LEFT } from "../shared/leaving";
import { forgetDrafts } from "../shared/useDraft";

const KEY = ["session"];

function kept(session: Schemas["SessionOut"]): Schemas["SessionOut"] {
  keepToken(session.token);
  if (session.signed_in) goOn(); // also where another tab has signed in
  return session;
}

/** Who is signed in; asked again when the window comes back, since another tab may have signed out. */
export function useSession() {
  return useQuery({ queryKey: KEY, queryFn: async () => kept(await take(client.GET("/api/session"))) });
}

export function useSignIn() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async (passphrase: string) => {
      kept(await take(client.GET("/api/session"))); // another tab may have left this one's token behind
      return kept(await take(client.POST("/api/session", { body: { passphrase } })));
    },
    onSuccess: (session) => queries.setQueryData(KEY, session),
  });
}

/** The first visit is over: who began is signed in. */
export function useBegun() {
  const queries = useQueryClient();
  return (session: Schemas["SessionOut"]) => queries.setQueryData(KEY, kept(session));
}

/** The owner leaves: drafts go, in this tab and, by the storage they share, in every other one. */
export function leave(): void {
  goOn();
  forgetDrafts();
  localStorage.setItem(LEFT, String(Date.now()));
  window.dispatchEvent(new Event(LEFT));
}

/** Whether the page of a session that has ended is to stay: it was signed in here, and nobody signed out. */
export function useStays(signedIn: boolean): boolean {
  const queries = useQueryClient();
  const [stays, setStays] = useState(false);
  const [before, setBefore] = useState(false);
  if (signedIn !== before) {
    setBefore(signedIn);
    if (signedIn) setStays(true);
  }
  useEffect(() => {
    const left = () => {
      setStays(false);
      void queries.invalidateQueries({ queryKey: KEY });
    };
    const elsewhere = (event: StorageEvent) => {
      if (event.key !== LEFT) return;
      forgetDrafts();
      window.dispatchEvent(new Event(LEFT));
    };
    window.addEventListener(LEFT, left);
    window.addEventListener("storage", elsewhere);
    return () => {
      window.removeEventListener(LEFT, left);
      window.removeEventListener("storage", elsewhere);
    };
  }, [queries]);
  return stays;
}

export function useSignOut() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async () => kept(await take(client.DELETE("/api/session"))),
    onSuccess: (session) => {
      queries.setQueryData(KEY, session);
      leave();
      queries.removeQueries({ predicate: (query) => query.queryKey[0] !== KEY[0] });
    },
  });
}

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { client, keepToken, take, type Schemas } from "../shared/api/client";

const KEY = ["session"];

function kept(session: Schemas["SessionOut"]): Schemas["SessionOut"] {
  keepToken(session.token);
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

export function useSignOut() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async () => kept(await take(client.DELETE("/api/session"))),
    onSuccess: (session) => {
      queries.setQueryData(KEY, session);
      queries.removeQueries({ predicate: (query) => query.queryKey[0] !== KEY[0] });
    },
  });
}

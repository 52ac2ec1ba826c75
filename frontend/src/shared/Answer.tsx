import { onlineManager, useQueryClient, type Query, type QueryClient } from "@tanstack/react-query";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useCallback, useSyncExternalStore } from "react";
import { inWords } from "./api/client";
import { clock } from "./format";
import { Quiet, Trouble } from "./states";

interface Asked {
  isError: boolean;
  error: unknown;
  refetch: () => unknown;
}

/**
 * What stands where the answer to a question is not there yet: it is on its way, or it failed and can be asked again.
 * Once there was an answer it stays: a page shows what it has and `Stale` says how old that is.
 */
export function Answer({ of }: { of: Asked }) {
  return of.isError ? <Trouble error={of.error} again={() => void of.refetch()} /> : <Quiet />;
}

function isStale(query: Query): boolean {
  return query.isActive() && query.state.status === "error" && query.state.data !== undefined;
}

/** The questions on the page whose newest asking failed while an older answer is shown. */
function staleOf(queries: QueryClient): Query[] {
  return queries.getQueryCache().findAll({ predicate: isStale });
}

/** Says above a page that what it shows is old, since asking anew failed; nothing on the page is touched. */
export function Stale() {
  const queries = useQueryClient();
  const subscribe = useCallback(
    (notify: () => void) => {
      const leave = [queries.getQueryCache().subscribe(notify), onlineManager.subscribe(notify)];
      return () => leave.forEach((go) => go());
    },
    [queries],
  );
  const oldest = useSyncExternalStore(subscribe, () =>
    staleOf(queries).reduce((least, query) => Math.min(least, query.state.dataUpdatedAt), Infinity),
  );
  if (oldest === Infinity) return null;
  const failed = staleOf(queries);
  return (
    <Box
      role="status"
      sx={{
        display: "flex",
        flexWrap: "wrap",
        alignItems: "center",
        gap: 1,
        mb: 1.5,
        pl: 1.25,
        borderLeft: 3,
        borderColor: "tone.marker",
        fontSize: 13,
      }}
    >
      This is as it stood at {clock(oldest)}. {inWords(failed[0]?.state.error)}
      <Button
        color="inherit"
        variant="outlined"
        // a failure is the query's own: it keeps this note standing
        onClick={() => failed.forEach((query) => void query.fetch().catch(() => undefined))}
      >
        Ask again
      </Button>
    </Box>
  );
}

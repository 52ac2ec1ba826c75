import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { client, inWords, take, type Schemas } from "../../shared/api/client";
import { askAnew } from "../../shared/api/forget";
import { useNotice } from "../../shared/notices";
import { useCorrections, useForget } from "./queries";
import type { View } from "./view";

export function useSureness(release: string, format: string, view: View, price: number | null) {
  const query = { ...view, price: price ?? undefined };
  return useQuery({
    queryKey: ["answer", release, format, "sureness", query],
    queryFn: () =>
      take(
        client.GET("/api/releases/{release}/formats/{format}/sureness", {
          params: { path: { release, format }, query },
        }),
      ),
    placeholderData: keepPreviousData,
  });
}

export function useComparison(release: string, view: View, rare: number) {
  const query = { ...view, rare_packs: rare };
  return useQuery({
    queryKey: ["answer", release, "comparison", query],
    queryFn: () =>
      take(client.GET("/api/releases/{release}/comparison", { params: { path: { release }, query } })),
    placeholderData: keepPreviousData,
  });
}

export interface SetAsked {
  line: string;
  number: string;
  repeats: boolean;
  held: boolean;
}

export function useSet(release: string, format: string, view: View, asked: SetAsked) {
  const query = {
    ...view,
    line: asked.line,
    repeats: asked.repeats,
    held: asked.held,
    ...(asked.number ? { number: asked.number } : {}),
  };
  return useQuery({
    queryKey: ["answer", release, format, "set", query],
    queryFn: () =>
      take(
        client.GET("/api/releases/{release}/formats/{format}/set", {
          params: { path: { release, format }, query },
        }),
      ),
    enabled: asked.line !== "",
    placeholderData: keepPreviousData,
    retry: false,
  });
}

export function useProduction(release: string, shares: string) {
  return useQuery({
    queryKey: ["answer", release, "production", shares],
    queryFn: () =>
      take(
        client.GET("/api/releases/{release}/production", {
          params: { path: { release }, query: { shares } },
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  });
}

export interface SealedAsked {
  price?: number;
  sealed_value?: number;
  growth?: number;
  years?: number;
  keeping?: number;
}

export function useChoice(release: string, format: string, view: View, sealed: SealedAsked) {
  const query = { ...view, ...sealed };
  return useQuery({
    queryKey: ["answer", release, format, "choice", query],
    queryFn: () =>
      take(
        client.GET("/api/releases/{release}/formats/{format}/choice", {
          params: { path: { release, format }, query },
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  });
}

export function useWanted(release: string) {
  return useQuery({
    queryKey: ["wanted", release],
    queryFn: () => take(client.GET("/api/releases/{release}/wanted", { params: { path: { release } } })),
  });
}

export function useWant(release: string) {
  const queries = useQueryClient();
  const say = useNotice();
  const send = (body: Schemas["WantedIn"]) =>
    take(client.PUT("/api/releases/{release}/wanted", { params: { path: { release } }, body }));
  return useMutation({
    mutationFn: send,
    onSuccess: (found, { line, number, wanted }) => {
      queries.setQueryData(["wanted", release], found);
      void askAnew(queries, ["answer"], true);
      say({
        text: wanted ? `${number} is on your list of wanted cards.` : `${number} is no longer wanted.`,
        undo: async () => {
          const back = await send({ line, number, wanted: !wanted });
          queries.setQueryData(["wanted", release], back);
          await askAnew(queries, ["answer"], true);
        },
      });
    },
    onError: (error) => say({ text: inWords(error), isError: true }),
  });
}

export function useAssumptions(release: string) {
  return useQuery({
    queryKey: ["assumptions", release],
    queryFn: () => take(client.GET("/api/releases/{release}/assumptions", { params: { path: { release } } })),
  });
}

/** Assume something of a line, or with empty words take it back. */
export function useAssume(release: string) {
  const queries = useQueryClient();
  const forget = useForget();
  const say = useNotice();
  const send = async (body: Schemas["AssumptionIn"]) => {
    const found = await take(
      client.PUT("/api/releases/{release}/assumptions", { params: { path: { release } }, body }),
    );
    queries.setQueryData(["assumptions", release], found);
    void forget();
  };
  return async (body: Schemas["AssumptionIn"], before = "") => {
    await send(body);
    say({
      text: body.text ? "Assumed; it is named wherever it counts." : "No longer assumed.",
      undo: () => send({ ...body, text: before }),
    });
  };
}

export function useTrial(release: string, format: string, view: View) {
  return useQuery({
    queryKey: ["answer", release, format, "trial", view],
    queryFn: () =>
      take(
        client.GET("/api/releases/{release}/formats/{format}/trial", {
          params: { path: { release, format }, query: view },
        }),
      ),
    placeholderData: keepPreviousData,
  });
}

/** Changes of a scratch copy; each names the version that this window has seen. */
export function useTrialActs(release: string, version: number) {
  const queries = useQueryClient();
  const forget = useForget();
  const say = useNotice();
  const { undo } = useCorrections(release);
  const path = { release };
  const again = () => askAnew(queries, ["answer"]);
  const told = async <T>(act: Promise<T>): Promise<T> => {
    try {
      return await act;
    } finally {
      await again();
    }
  };
  return {
    add: (edit: Omit<Schemas["EditIn"], "version">) =>
      told(
        take(
          client.POST("/api/releases/{release}/trial/edits", {
            params: { path },
            body: { ...edit, version },
          }),
        ),
      ),
    remove: (number: number) =>
      told(
        take(
          client.DELETE("/api/releases/{release}/trial/edits/{number}", {
            params: { path: { release, number }, query: { version } },
          }),
        ),
      ).catch((error: unknown) => say({ text: inWords(error), isError: true })),
    keep: async () => {
      try {
        const { change } = await take(
          client.POST("/api/releases/{release}/trial/keep", { params: { path }, body: { version } }),
        );
        const text = "The scratch copy is the sheet now.";
        if (change !== null) say({ text, undo: () => undo(change) });
      } catch (error) {
        say({ text: inWords(error), isError: true });
      }
      await forget();
    },
    drop: async () => {
      await take(client.DELETE("/api/releases/{release}/trial", { params: { path } }));
      await again();
      say({ text: "Scratch copy dropped; the sheet is as it was." });
    },
  };
}

const FINISHED = ["done", "cancelled", "failed"];

/** A long simulation: begun, followed while it runs, stopped. */
/** A long simulation of some kinds: begun, followed, stopped; what was asked last is there after a reload. */
export function useSimulation(
  release: string,
  format: string,
  isOurs: (task: Schemas["TaskOut"]) => boolean,
) {
  const queries = useQueryClient();
  const begin = useMutation({
    mutationFn: (body: Schemas["SimulationIn"]) =>
      take(
        client.POST("/api/releases/{release}/formats/{format}/simulations", {
          params: { path: { release, format } },
          body,
        }),
      ),
  });
  const before = useQuery({
    queryKey: ["simulations", release, format],
    queryFn: () =>
      take(client.GET("/api/tasks", { params: { query: { belongs_to: `release:${release}/${format}` } } })),
  });
  const kept = before.data?.tasks.find((task) => isOurs(task) && task.state !== "cancelled");
  const number = begin.data?.number ?? kept?.number;
  const followed = useQuery({
    queryKey: ["simulation", number],
    queryFn: () =>
      take(client.GET("/api/simulations/{number}", { params: { path: { number: number ?? 0 } } })),
    enabled: number !== undefined,
    ...(begin.data ? { initialData: begin.data } : {}),
    refetchInterval: (query) => (FINISHED.includes(query.state.data?.state ?? "") ? false : 400),
  });
  const stop = useMutation({
    mutationFn: () =>
      take(client.POST("/api/simulations/{number}/stop", { params: { path: { number: number ?? 0 } } })),
    onSuccess: (found) => queries.setQueryData(["simulation", number], found),
  });
  return { begin, stop, current: number === undefined ? undefined : followed.data };
}

/** The numbers of a line's cards that are held and that are not; undefined until that is known. */
export function useLacked(release: string, line: string) {
  const found = useQuery({
    queryKey: ["items", "held", release, line],
    queryFn: () => take(client.GET("/api/held", { params: { query: { release, line } } })),
    enabled: line !== "",
  });
  return found.data;
}

import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { useNavigate } from "react-router";
import { client, inWords, ProblemError, take, type Schemas } from "../../shared/api/client";
import { askAnew } from "../../shared/api/forget";
import { send, type Stage } from "../../shared/api/upload";
import { useNotice } from "../../shared/notices";
import type { View } from "./view";

export interface Asked {
  unit: "pack" | "boxes";
  boxes: number;
  price: number | null;
  /** The odds as the owner's own openings moved them. */
  own: boolean;
  /** The share of loose packs that are believed to have been searched. */
  searched: number;
}

export function useShelf() {
  return useQuery({ queryKey: ["shelf"], queryFn: () => take(client.GET("/api/releases")) });
}

export function useRelease(release: string) {
  return useQuery({
    queryKey: ["release", release],
    queryFn: () => take(client.GET("/api/releases/{release}", { params: { path: { release } } })),
  });
}

/** The answer about a format; while another price or unit is on its way, the last answer stays. */
export function useAnswer(release: string, format: string, asked: Asked, view: View = {}) {
  const query = {
    ...view,
    unit: asked.unit,
    boxes: asked.boxes,
    price: asked.price ?? undefined,
    own_odds: asked.own,
    searched: asked.unit === "pack" ? asked.searched : 0,
  };
  return useQuery({
    queryKey: ["answer", release, format, query],
    queryFn: ({ signal }) =>
      take(
        client.GET("/api/releases/{release}/formats/{format}/answer", {
          params: { path: { release, format }, query },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
  });
}

/** What it takes to pull any of some targets, like "hand" or "fog:FS1,FS2; hand:KH3". */
export function useChase(release: string, format: string, targets: string, view: View) {
  return useQuery({
    queryKey: ["answer", release, format, "chase", targets, view],
    queryFn: () =>
      take(
        client.GET("/api/releases/{release}/formats/{format}/chase", {
          params: { path: { release, format }, query: { ...view, targets } },
        }),
      ),
    enabled: targets !== "",
    placeholderData: keepPreviousData,
    retry: false,
  });
}

export function useStubs() {
  return useQuery({ queryKey: ["stubs"], queryFn: () => take(client.GET("/api/stubs")) });
}

export interface CardsAsked {
  find: string;
  sort: "checklist" | "number" | "subject" | "price" | "weight";
  descending: boolean;
  start: number;
  count: number;
}

export function useCards(release: string, line: string, asked: CardsAsked) {
  return useQuery({
    queryKey: ["cards", release, line, asked],
    queryFn: () =>
      take(
        client.GET("/api/releases/{release}/lines/{line}/cards", {
          params: { path: { release, line }, query: asked },
        }),
      ),
    placeholderData: keepPreviousData,
  });
}

/** Forget what a change of a release may have made wrong: what is being looked at first, the overviews after it. */
export function useForget() {
  const queries = useQueryClient();
  return useCallback(async () => {
    await askAnew(queries, ["answer", "cards"], true);
    await askAnew(queries, ["release", "assumptions"]);
    await askAnew(queries, ["shelf", "desk", "stubs"]);
  }, [queries]);
}

/** Corrections of a release, each on the revision that this window has seen; every one can be undone. */
export function useCorrections(release: string) {
  const queries = useQueryClient();
  const forget = useForget();
  const say = useNotice();
  const navigate = useNavigate();

  /** Takes a certain change back, or the last one whichever it is; says what it was. */
  const undo = useCallback(
    async (change?: number) => {
      try {
        const params = { path: { release }, query: change === undefined ? {} : { change } };
        const done = await take(client.POST("/api/releases/{release}/undo", { params }));
        if (done.gone) void navigate("/products"); // there is no sheet any more
        return done.undone;
      } finally {
        void forget();
      }
    },
    [release, forget, navigate],
  );

  const correct = async (
    send: (revision: number) => Promise<Schemas["RevisionOut"]>,
    counts: "revision" | "price_revision" = "revision",
  ) => {
    const key = ["release", release];
    const detail = queries.getQueryData<Schemas["ReleaseDetailOut"]>(key);
    const answered = queries
      .getQueriesData<Schemas["AnswerOut"]>({ queryKey: ["answer", release] })
      .map(([, answer]) => answer?.[counts] ?? 0);
    try {
      const done = await send(Math.max(detail?.release[counts] ?? 1, ...answered));
      if (detail) {
        const { revision, price_revision } = done;
        queries.setQueryData(key, { ...detail, release: { ...detail.release, revision, price_revision } });
      }
      const { change } = done;
      if (change !== null) say({ text: `${done.what}.`, undo: () => undo(change) });
    } catch (error) {
      if (!(error instanceof ProblemError && error.problem.status === 409)) throw error;
      await forget(); // changed in another window: show that state beside the refusal
      throw error;
    }
    void forget();
  };

  return {
    undo,
    undoLast: async () => {
      try {
        say({ text: `Taken back: ${await undo()}.` });
      } catch (error) {
        say({ text: inWords(error), isError: true });
      }
    },
    priceCase: (format: string, price: string) =>
      correct(
        (price_revision) =>
          take(
            client.PUT("/api/releases/{release}/formats/{format}/case-price", {
              params: { path: { release, format } },
              body: { price, price_revision },
            }),
          ),
        "price_revision",
      ),
    priceCards: (line: string, prices: Schemas["NumberedPriceIn"][]) =>
      correct(
        (price_revision) =>
          take(
            client.PUT("/api/releases/{release}/lines/{line}/prices", {
              params: { path: { release, line } },
              body: { prices, price_revision },
            }),
          ),
        "price_revision",
      ),
    priceCard: (line: string, number: string, price: string) =>
      correct(
        (revision) =>
          take(
            client.PUT("/api/releases/{release}/lines/{line}/price", {
              params: { path: { release, line } },
              body: { number, price, price_revision: revision },
            }),
          ),
        "price_revision",
      ),
    priceFormat: (format: string, price: string) =>
      correct(
        (revision) =>
          take(
            client.PUT("/api/releases/{release}/formats/{format}/price", {
              params: { path: { release, format } },
              body: { price, price_revision: revision },
            }),
          ),
        "price_revision",
      ),
    setUsable: (format: string, usable: string) =>
      correct((revision) =>
        take(
          client.PUT("/api/releases/{release}/formats/{format}/usable", {
            params: { path: { release, format } },
            body: { usable, revision },
          }),
        ),
      ),
    setGuarantee: (number: number, guarantee: string) =>
      correct((revision) =>
        take(
          client.PUT("/api/releases/{release}/guarantees/{number}", {
            params: { path: { release, number } },
            body: { guarantee, revision },
          }),
        ),
      ),
    setOdds: (line: string, format: string, pack: string | null, odds: string) =>
      correct((revision) =>
        take(
          client.PUT("/api/releases/{release}/lines/{line}/odds", {
            params: { path: { release, line } },
            body: { format, pack, odds, revision },
          }),
        ),
      ),
  };
}

export type Corrections = ReturnType<typeof useCorrections>;

/** Bring a removed release back. */
export function useRestoring(release: string, title: string) {
  const forget = useForget();
  const say = useNotice();
  return useMutation({
    mutationFn: () => take(client.POST("/api/releases/{release}/restore", { params: { path: { release } } })),
    onSuccess: async () => {
      say({ text: `${title} is back.` });
      await forget();
    },
    onError: (error) => say({ text: inWords(error), isError: true }),
  });
}

/** Put a release out of sight, with a way back. */
export function useRemoval(release: string, title: string, after: () => void) {
  const forget = useForget();
  const say = useNotice();
  const path = { params: { path: { release } } };
  return useMutation({
    mutationFn: () => take(client.DELETE("/api/releases/{release}", path)),
    onSuccess: async () => {
      after();
      await forget();
      say({
        text: `${title} was removed from Products.`,
        undo: async () => {
          await take(client.POST("/api/releases/{release}/restore", path));
          await forget();
        },
      });
    },
    onError: (error) => say({ text: inWords(error), isError: true }),
  });
}

/** Bring the invented demo's releases in, to look around. */
export function useDemoReleases() {
  const forget = useForget();
  const say = useNotice();
  return useMutation({
    mutationFn: () => take(client.POST("/api/demo-releases")),
    onSuccess: (done) => {
      say({ text: `${done.added} invented releases added. Remove them whenever you like.` });
      void forget();
    },
    onError: (error) => say({ text: inWords(error), isError: true }),
  });
}

export interface ImportAsked {
  file: File;
  confirmSilent: boolean;
  replace: boolean;
  sameRelease: boolean | null;
  key: string;
  signal: AbortSignal;
  tell: (stage: Stage | null) => void;
}

/** Send a product sheet; nothing is stored unless all of it is right and confirmed. */
export function useImport() {
  const forget = useForget();
  return useMutation({
    mutationFn: ({ file, confirmSilent, replace, sameRelease, key, signal, tell }: ImportAsked) => {
      const form = new FormData();
      form.set("file", file);
      form.set("confirm_silent", String(confirmSilent));
      form.set("replace", String(replace));
      if (sameRelease !== null) form.set("same_release", String(sameRelease));
      return send<Schemas["ImportedOut"]>({ path: "/api/releases", form, key, signal }, tell);
    },
    onSuccess: () => void forget(),
  });
}

export function usePreferences() {
  return useQuery({ queryKey: ["preferences"], queryFn: () => take(client.GET("/api/preferences")) });
}

/** What is sent of the preferences: all but what is chosen apart. */
export function toPreferences(preferences: Schemas["PreferencesOut"]): Schemas["PreferencesFields"] {
  const fields: Partial<Schemas["PreferencesOut"]> = { ...preferences };
  delete fields.currency;
  delete fields.currency_open;
  delete fields.sheet_condition;
  delete fields.school;
  return fields as Schemas["PreferencesFields"];
}

/** What the owner's preferences may change elsewhere. */
export const PREFERRED = [
  "preferences",
  "spending",
  "shelf",
  "release",
  "answer",
  "choice",
  "comparison",
  "items",
] as const;

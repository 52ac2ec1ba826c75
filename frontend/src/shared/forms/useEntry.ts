import { zodResolver } from "@hookform/resolvers/zod";
import { useEffect, useRef, useState } from "react";
import {
  useForm,
  type DefaultValues,
  type FieldPath,
  type FieldValues,
  type UseFormReturn,
} from "react-hook-form";
import type * as z from "zod/mini";
import { inWords, ProblemError } from "../api/client";
import { useAct } from "../useAct";
import { draftName } from "../useDraft";

interface Options<In extends FieldValues, Out, R> {
  /** Where what is typed is kept until it is sent, for this tab; left out, it is not kept. */
  draft?: string;
  empty: In;
  /** It changes something that is there: `empty` is that as it stands, and what was sent stays in the fields. */
  stays?: boolean;
  /** From what stands in the fields to what is sent; its faults stand at their fields. */
  shape: z.ZodMiniType<Out, In>;
  send: (body: Out, key: string) => Promise<R>;
  /** What the answer may change elsewhere. */
  keys: readonly string[];
  text?: string | ((answer: R) => string);
  undo?: (body: Out, answer: R) => Promise<unknown>;
  done?: (answer: R) => void;
  /** Names by which the server calls a field otherwise than the form does. */
  names?: Readonly<Record<string, string>>;
}

export interface EntryForm<In extends FieldValues> {
  form: UseFormReturn<In>;
  submit: (event?: { preventDefault: () => void }) => void;
  busy: boolean;
  /** What was refused that belongs to no field of the form. */
  faults: readonly string[];
  /** Empty every field, and forget the draft. */
  clear: () => void;
}

interface Kept<In> {
  values: In;
  key: string;
}

/** The server's name of a field as a path of the form: "charges[0].amount" is "charges.0.amount". */
export function pathOf(field: string, names: Readonly<Record<string, string>> = {}): string {
  return names[field] ?? field.replace(/\[(\d+)\]/g, ".$1");
}

function has(values: unknown, path: string): boolean {
  let at: unknown = values;
  for (const step of path.split(".")) {
    if (typeof at !== "object" || at === null || !(step in at)) return false;
    at = (at as Record<string, unknown>)[step];
  }
  return true;
}

function readKept<In>(name: string | undefined): Kept<In> | null {
  if (!name) return null;
  try {
    return JSON.parse(sessionStorage.getItem(draftName(name)) ?? "null") as Kept<In> | null;
  } catch {
    return null; // of an older shape
  }
}

/**
 * A form: its words outlive a reload, what is refused stands at its field with the focus on the first, and a change of a
 * field clears its own fault only. However often it is sent, it is carried out once: its key stays until the answer is
 * known, over a reload too.
 */
export function useEntry<In extends FieldValues, Out, R>(options: Options<In, Out, R>): EntryForm<In> {
  const { draft, empty, shape, names } = options;
  const [kept] = useState(() => readKept<In>(draft));
  const key = useRef(kept?.key ?? crypto.randomUUID());
  const [faults, setFaults] = useState<readonly string[]>([]);
  const form = useForm<In, unknown, Out>({
    defaultValues: { ...empty, ...kept?.values } as DefaultValues<In>,
    // a draft of an older shape lacks what is new: what is empty stands in for it
    resolver: zodResolver(shape as never) as never,
    shouldFocusError: true,
  });

  useEffect(() => {
    if (!draft) return undefined;
    return form.subscribe({
      formState: { values: true },
      callback: ({ values }) => {
        sessionStorage.setItem(draftName(draft), JSON.stringify({ values, key: key.current }));
      },
    });
  }, [draft, form]);

  const base = useRef(empty);
  /** What stands in the store is this now: fields that were typed in since keep their words, the others follow. */
  const rebase = (next: In) => {
    const now = form.getValues();
    const before = base.current;
    base.current = next;
    form.reset(next as DefaultValues<In>);
    for (const name of Object.keys(next)) {
      if (now[name] === before[name] || now[name] === next[name]) continue;
      form.setValue(name as FieldPath<In>, now[name] as never, { shouldDirty: true });
    }
  };
  const stands = JSON.stringify(empty);
  const seen = useRef(kept ? "" : stands); // what was kept of a draft is what was typed since
  useEffect(() => {
    if (!options.stays || seen.current === stands) return;
    seen.current = stands;
    rebase(empty);
  });

  const forget = () => {
    key.current = crypto.randomUUID();
    if (draft) sessionStorage.removeItem(draftName(draft));
  };
  const clear = () => {
    form.reset(empty as DefaultValues<In>);
    forget();
    setFaults([]);
  };
  const sent = useRef(empty);
  const act = useAct((body: Out) => options.send(body, key.current), {
    keys: options.keys,
    quiet: true,
    ...(options.text ? { text: options.text } : {}),
    ...(options.undo ? { undo: options.undo } : {}),
    done: (answer) => {
      if (options.stays) {
        rebase(sent.current);
        forget();
        setFaults([]);
      } else clear();
      options.done?.(answer);
    },
  });
  const refuse = (error: unknown) => {
    // what another window changed is said beside the rows, where it stays should the form go
    if (error instanceof ProblemError && error.problem.status === 409) return;
    if (!(error instanceof ProblemError) || !error.problem.faults?.length) return setFaults([inWords(error)]);
    // The key of what was refused may be sent with other words: nothing came of it.
    key.current = crypto.randomUUID();
    const others: string[] = [];
    let first = true;
    for (const fault of error.problem.faults) {
      const path = pathOf(fault.field, names);
      if (has(form.getValues(), path)) {
        form.setError(
          path as FieldPath<In>,
          { type: "server", message: fault.message },
          { shouldFocus: first },
        );
        first = false;
      } else others.push(fault.message);
    }
    setFaults(others);
  };
  const send = (body: Out) => {
    if (act.isPending) return; // sent twice is sent once
    setFaults([]);
    sent.current = structuredClone(form.getValues());
    act.mutate(body, { onError: refuse });
  };
  return {
    form: form as never,
    submit: (event) => {
      event?.preventDefault();
      void form.handleSubmit(send)();
    },
    busy: act.isPending,
    faults,
    clear,
  };
}

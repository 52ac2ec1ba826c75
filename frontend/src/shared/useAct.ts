import { useMutation, useQueryClient } from "@tanstack/react-query";
import { inWords, ProblemError } from "./api/client";
import { askAnew } from "./api/forget";
import { useNotice } from "./notices";

interface Told<V, R> {
  keys: readonly string[];
  text?: string | ((result: R) => string);
  /** The same, where it hangs on what was asked. */
  told?: (value: V) => string;
  /** What takes it back, offered beside the text and kept in the history; what it may have changed is asked anew too. */
  undo?: (value: V, result: R) => Promise<unknown>;
  done?: (result: R) => void;
  quiet?: boolean;
  /** Acts of one scope are done one after another, each on what the one before left. */
  scope?: string;
}

/** Something that is done: what it may have changed is asked anew, and it is said; a refusal too, unless shown elsewhere. */
export function useAct<V, R>(
  act: (value: V) => Promise<R>,
  { keys, text, told, undo, done, quiet, scope }: Told<V, R>,
) {
  const queries = useQueryClient();
  const anew = () => askAnew(queries, [...keys, "desk"]);
  const say = useNotice();
  return useMutation({
    mutationFn: act,
    ...(scope ? { scope: { id: scope } } : {}),
    onSuccess: (result, value) => {
      const said = told?.(value) ?? (typeof text === "function" ? text(result) : text);
      if (said) say({ text: said, ...(undo && { undo: () => undo(value, result).then(anew) }) });
      done?.(result);
      // Done only when what it changed is there anew: the next step names the version that stands then.
      return anew();
    },
    onError: (error) => {
      void askAnew(queries, keys);
      // What another window changed may take the form away that would show it: that is always said.
      const changed = error instanceof ProblemError && error.problem.status === 409;
      if (!quiet || changed) say({ text: inWords(error), isError: true });
    },
  });
}

import { useEffect, useRef, useState } from "react";
import { client, currentToken, problemOf, ProblemError, take, untilBack } from "./client";

/** How far an upload is: on its way (in bytes), then read and stored by the server (in rows). */
export interface Stage {
  phase: "sending" | "waiting" | "reading" | "storing";
  done: number;
  total: number | null;
}

export interface Upload {
  path: string;
  form: FormData;
  /** The same as long as the same is meant: what was lost on the way can be sent again. */
  key: string;
  signal?: AbortSignal;
}

const ASKED_EVERY = 400;

/** Send a form with a file; `tell` hears how far it is. The answer, or its problem thrown. */
export async function send<T>(upload: Upload, tell: (stage: Stage | null) => void): Promise<T> {
  let asking: ReturnType<typeof setInterval> | undefined;
  const ask = async () => {
    try {
      const params = { path: { once: upload.key } };
      const found = await take(client.GET("/api/progress/{once}", { params }));
      if (asking !== undefined) tell(found);
    } catch {
      // The answer itself will tell; how far it is, is worth no trouble.
    }
  };
  const arrived = () => {
    tell({ phase: "waiting", done: 0, total: null });
    asking = setInterval(() => void ask(), ASKED_EVERY);
  };
  const rest = () => {
    clearInterval(asking);
    asking = undefined;
    tell(null);
  };
  try {
    return await attempt<T>(upload, tell, arrived);
  } catch (error) {
    if (!(error instanceof ProblemError) || error.problem.status !== 401) throw error;
    rest();
    await untilBack(); // its session had ended: nothing was done, so it is sent once more
    return await attempt<T>(upload, tell, arrived);
  } finally {
    rest();
  }
}

function attempt<T>(
  { path, form, key, signal }: Upload,
  tell: (stage: Stage) => void,
  arrived: () => void,
): Promise<T> {
  return new Promise<T>((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open("POST", path);
    request.setRequestHeader("X-CSRFToken", currentToken());
    request.setRequestHeader("Idempotency-Key", key);
    request.upload.onprogress = (event) =>
      tell({ phase: "sending", done: event.loaded, total: event.lengthComputable ? event.total : null });
    request.upload.onload = arrived;
    request.onload = () => {
      const body = parse(request.responseText);
      if (request.status >= 200 && request.status < 300) resolve(body as T);
      else reject(new ProblemError(problemOf(body, request.status, request.statusText)));
    };
    request.onerror = () => reject(new ProblemError(problemOf(undefined, 0, "")));
    request.onabort = () => reject(new DOMException("It was stopped.", "AbortError"));
    signal?.addEventListener("abort", () => request.abort());
    request.send(form);
  });
}

function parse(text: string): unknown {
  try {
    return text === "" ? null : JSON.parse(text);
  } catch {
    return undefined;
  }
}

/** A key for each file: the same file with the same answers again is the same wish. */
export function useUploadKey(): (mark: string) => string {
  const known = useRef({ mark: "", key: "" });
  return (mark) => {
    if (known.current.mark !== mark) known.current = { mark, key: crypto.randomUUID() };
    return known.current.key;
  };
}

/** What tells one file from another. */
export function markOf(file: File): string {
  return `${file.name} ${file.size} ${file.lastModified}`;
}

/** Where an upload stands, for as long as the page that sends it is there. */
export function useStage(): [Stage | null, (stage: Stage | null) => void] {
  const [stage, setStage] = useState<Stage | null>(null);
  const here = useRef(true);
  useEffect(() => {
    here.current = true;
    return () => {
      here.current = false;
    };
  }, []);
  return [stage, (fresh) => here.current && setStage(fresh)];
}

import { stageWords } from "../UploadProgress";
import { goOn, ProblemError } from "./client";
import { send, type Stage } from "./upload";

/** Stands in for the browser's request: the test plays the network. */
class Played {
  static last: Played;
  upload: { onprogress?: (event: object) => void; onload?: () => void } = {};
  onload?: () => void;
  onerror?: () => void;
  onabort?: () => void;
  headers: Record<string, string> = {};
  status = 0;
  statusText = "";
  responseText = "";
  constructor() {
    Played.last = this;
  }
  open() {}
  send() {}
  abort() {
    this.onabort?.();
  }
  setRequestHeader(name: string, value: string) {
    this.headers[name] = value;
  }
  answer(status: number, text: string) {
    this.status = status;
    this.responseText = text;
    this.onload?.();
  }
}

beforeEach(() => vi.stubGlobal("XMLHttpRequest", Played));
afterEach(() => vi.unstubAllGlobals());

function begin(signal?: AbortSignal) {
  const told: (Stage | null)[] = [];
  const sent = send({ path: "/api/items", form: new FormData(), key: "k", signal }, (stage) =>
    told.push(stage),
  );
  return { sent, told };
}

test("bytes on their way and the server's rows are told, and forgotten with the answer", async () => {
  const { sent, told } = begin();
  Played.last.upload.onprogress?.({ loaded: 50, total: 200, lengthComputable: true });
  Played.last.upload.onload?.();
  Played.last.answer(201, '{"rows": 3}');
  expect(await sent).toEqual({ rows: 3 });
  expect(Played.last.headers["Idempotency-Key"]).toBe("k");
  expect(told.map((stage) => stage && stageWords(stage))).toEqual([
    "Sending: 25 %",
    "Looking at the file",
    null,
  ]);
  expect(stageWords({ phase: "storing", done: 5000, total: 20000 })).toBe("Storing: 5,000 of 20,000 rows");
});

test("an upload whose session has ended is sent once more when there is one again", async () => {
  const { sent } = begin();
  const first = Played.last;
  first.answer(401, '{"detail": "Sign in first.", "status": 401, "title": "", "faults": []}');
  await Promise.resolve();
  await Promise.resolve();
  goOn();
  await vi.waitFor(() => expect(Played.last).not.toBe(first));
  Played.last.answer(201, '{"rows": 7}');
  expect(await sent).toEqual({ rows: 7 });
});

test("a refusal keeps its words, no answer is said, and a stop is a stop", async () => {
  const refused = begin();
  Played.last.answer(422, '{"detail": "row 2, basis: is wrong", "status": 422, "title": "", "faults": []}');
  await expect(refused.sent).rejects.toThrow("row 2, basis: is wrong");
  const lost = begin();
  Played.last.onerror?.();
  await expect(lost.sent).rejects.toBeInstanceOf(ProblemError);
  const stop = new AbortController();
  const stopped = begin(stop.signal);
  stop.abort();
  await expect(stopped.sent).rejects.toMatchObject({ name: "AbortError" });
});

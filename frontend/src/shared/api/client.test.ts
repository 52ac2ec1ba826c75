import { goOn, hearOfEnd, keepToken, patientFetch } from "./client";

const answers: number[] = [];
const sent: { method: string; token: string | null; body: string }[] = [];

beforeEach(() => {
  answers.length = 0;
  sent.length = 0;
  vi.stubGlobal("fetch", async (request: Request) => {
    sent.push({
      method: request.method,
      token: request.headers.get("X-CSRFToken"),
      body: request.method === "GET" ? "" : await request.text(),
    });
    return new Response("{}", { status: answers.shift() ?? 200 });
  });
});
afterEach(() => vi.unstubAllGlobals());

test("what finds its session ended waits, is heard of once, and goes on with the new token", async () => {
  let ends = 0;
  hearOfEnd(() => (ends += 1));
  answers.push(401, 401, 200, 200);
  const read = patientFetch(new Request("http://here/api/items"));
  const body = JSON.stringify({ name: "a shoebox" });
  const act = patientFetch(
    new Request("http://here/api/items/one", { method: "POST", body, headers: { "X-CSRFToken": "old" } }),
  );
  await vi.waitFor(() => expect(sent).toHaveLength(2));
  expect(ends).toBe(1);
  keepToken("new");
  goOn();
  expect([(await read).status, (await act).status]).toEqual([200, 200]);
  expect(sent[3]).toEqual({ method: "POST", token: "new", body });
});

test("a wrong passphrase is an answer, and an owner who has left is not waited for", async () => {
  answers.push(401);
  expect((await patientFetch(new Request("http://here/api/session", { method: "POST" }))).status).toBe(401);
  answers.push(401, 401);
  const late = patientFetch(new Request("http://here/api/items"));
  await vi.waitFor(() => expect(sent).toHaveLength(2));
  goOn();
  expect((await late).status).toBe(401);
});

import { act, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { useState } from "react";
import { useFormState } from "react-hook-form";
import * as z from "zod/mini";
import { problemOf, ProblemError } from "../api/client";
import { around } from "../around";
import { CountField, OtherFaults, WordsField } from "./fields";
import { whole, words } from "./shapes";
import { pathOf, useEntry } from "./useEntry";

type Sent = { name: string; things: { count: number }[] };
const refusal = (...faults: { field: string; message: string }[]) =>
  new ProblemError({ ...problemOf(undefined, 422, ""), detail: "refused", faults });

function Form({ send }: { send: (body: Sent, key: string) => Promise<unknown> }) {
  const [shape] = useState(() => z.object({ name: words, things: z.array(z.object({ count: whole })) }));
  const { form, submit, busy, faults } = useEntry({
    draft: "test",
    empty: { name: "", things: [{ count: "1" }, { count: "1" }] },
    shape,
    send,
    keys: [],
  });
  return (
    <form onSubmit={submit}>
      <WordsField control={form.control} name="name" label="Name" />
      <CountField control={form.control} name="things.0.count" label="First" />
      <CountField control={form.control} name="things.1.count" label="Second" />
      <OtherFaults faults={faults} />
      <button disabled={busy}>Send</button>
    </form>
  );
}

function show(send: (body: Sent, key: string) => Promise<unknown>) {
  return render(<Form send={send} />, { wrapper: around() });
}

const type = (label: string, value: string) =>
  fireEvent.change(screen.getByLabelText(label), { target: { value } });
const submit = () => fireEvent.click(screen.getByText("Send"));

beforeEach(() => sessionStorage.clear());

test("the server's names of fields are paths of the form", () => {
  expect(pathOf("things[1].count")).toBe("things.1.count");
  expect(pathOf("entertainment", { entertainment: "fun" })).toBe("fun");
});

test("what cannot be read is said at its field and is not sent; mending one clears one", async () => {
  const send = vi.fn().mockResolvedValue({});
  show(send);
  type("First", "some");
  type("Second", "more");
  submit();
  await waitFor(() => expect(screen.getAllByText("write a whole number")).toHaveLength(2));
  await waitFor(() => expect(screen.getByLabelText("First")).toHaveFocus());
  type("First", "3");
  await waitFor(() => expect(screen.getAllByText("write a whole number")).toHaveLength(1));
  expect(send).not.toHaveBeenCalled();
});

test("a refusal lands at its row, takes the focus there, and what has no field stands apart in its words", async () => {
  const send = vi
    .fn()
    .mockRejectedValue(
      refusal(
        { field: "things[1].count", message: "is too many" },
        { field: "charges", message: "give the price" },
      ),
    );
  show(send);
  type("Name", "box");
  submit();
  expect(await screen.findByText("is too many")).toBeInTheDocument();
  expect(screen.getByLabelText("Second")).toHaveFocus();
  expect(screen.getByRole("alert")).toHaveTextContent(/^give the price$/);
  expect(screen.getByLabelText("Name")).toHaveValue("box");
});

test("sent again after no answer it has the same key, also after a reload; after a refusal or an answer another", async () => {
  const keys: string[] = [];
  const answers = [
    () => Promise.reject(new ProblemError(problemOf(undefined, 0, ""))),
    () => Promise.reject(refusal({ field: "name", message: "is missing" })),
    () => Promise.resolve({}),
  ];
  const send = (_body: Sent, key: string) => {
    keys.push(key);
    return answers[Math.max(keys.length - 2, 0)]?.() ?? Promise.resolve({});
  };
  const first = show(send);
  type("Name", "box");
  submit();
  expect(await screen.findByRole("alert")).toHaveTextContent("does not answer");
  first.unmount(); // a reload
  show(send);
  expect(screen.getByLabelText("Name")).toHaveValue("box");
  submit();
  expect(await screen.findByRole("alert")).toHaveTextContent("does not answer");
  submit();
  expect(await screen.findByText("is missing")).toBeInTheDocument();
  submit();
  await waitFor(() => expect(screen.getByLabelText("Name")).toHaveValue(""));
  expect(new Set(keys.slice(0, 3)).size).toBe(1);
  expect(new Set(keys).size).toBe(2);
  expect(Object.keys(sessionStorage)).toEqual([]); // what was booked is no draft
});

function Change({ stored, send }: { stored: { name: string; place: string }; send: () => Promise<unknown> }) {
  const [shape] = useState(() => z.object({ name: words, place: words }));
  const { form, submit } = useEntry({ draft: "change", empty: stored, stays: true, shape, send, keys: [] });
  const { isDirty } = useFormState({ control: form.control });
  return (
    <form onSubmit={submit}>
      <WordsField control={form.control} name="name" label="Name" />
      <WordsField control={form.control} name="place" label="Place" />
      <button disabled={!isDirty}>Send</button>
    </form>
  );
}

test("a form of what is there keeps what is typed while it is sent, and follows what was changed elsewhere", async () => {
  let answer: (value: unknown) => void = () => undefined;
  const send = vi.fn(() => new Promise((resolve) => (answer = resolve)));
  const { rerender } = render(<Change stored={{ name: "box", place: "tin 1" }} send={send} />, {
    wrapper: around(),
  });
  expect(screen.getByText("Send")).toHaveProperty("disabled", true);
  type("Name", "case");
  submit();
  await waitFor(() => expect(send).toHaveBeenCalledOnce());
  type("Place", "tin 2"); // typed while it is under way
  await act(async () => answer({}));
  expect(screen.getByLabelText("Name")).toHaveProperty("value", "case");
  expect(screen.getByLabelText("Place")).toHaveProperty("value", "tin 2");
  expect(screen.getByText("Send")).toHaveProperty("disabled", false); // that is still to be sent
  rerender(<Change stored={{ name: "crate", place: "tin 9" }} send={send} />);
  await waitFor(() => expect(screen.getByLabelText("Name")).toHaveProperty("value", "crate"));
  expect(screen.getByLabelText("Place")).toHaveProperty("value", "tin 2");
});

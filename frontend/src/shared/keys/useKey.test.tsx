import { fireEvent, render, screen } from "@testing-library/react";
import { HotkeysProvider } from "react-hotkeys-hook";
import { useTakesEntries } from "./entries";
import { useKey } from "./useKey";

function Page({
  keys,
  act,
  on = true,
  takes = false,
}: {
  keys: string;
  act: () => void;
  on?: boolean;
  takes?: boolean;
}) {
  useKey(keys, "something", act, { on });
  useTakesEntries(takes);
  return <input aria-label="words" />;
}

/** A key as a keyboard makes it: its character, and the place where it lies. */
function press(key: string, code: string, more: Partial<KeyboardEventInit> = {}) {
  fireEvent.keyDown(document.body, { key, code, ...more });
  fireEvent.keyUp(document.body, { key, code, ...more });
}

const show = (page: React.ReactNode) => render(<HotkeysProvider>{page}</HotkeysProvider>);

test.each([
  ["?", "?", "Slash", { shiftKey: true }],
  ["?", "?", "Minus", { shiftKey: true }], // on QWERTZ
  ["/", "/", "Digit7", { shiftKey: true }],
  ["]", "]", "Digit9", { ctrlKey: true, altKey: true, modifierAltGraph: true }], // AltGr on some systems
  ["mod+z", "z", "KeyY", { ctrlKey: true }],
])("%s goes by the character, wherever it lies", (keys, key, code, held) => {
  const act = vi.fn();
  show(<Page keys={keys} act={act} />);
  press(key, code, held);
  expect(act).toHaveBeenCalledTimes(1);
});

test("a command is not the browser's as well: it would take back what was typed into a field", () => {
  show(<Page keys="mod+z" act={vi.fn()} />);
  const pressed = (key: string) => fireEvent.keyDown(document.body, { key, code: "KeyZ", ctrlKey: true });
  expect([pressed("z"), pressed("y")]).toEqual([false, true]);
});

test("Ctrl Y on QWERTZ is not what lies where Z is elsewhere, and a command is no single key", () => {
  const [undo, next] = [vi.fn(), vi.fn()];
  show(
    <>
      <Page keys="mod+z" act={undo} />
      <Page keys="n" act={next} />
    </>,
  );
  press("y", "KeyZ", { ctrlKey: true });
  press("n", "KeyN", { ctrlKey: true });
  expect([undo, next].flatMap((act) => act.mock.calls)).toEqual([]);
});

test("a key that is held, typed into a field, or pressed under a dialog does nothing", () => {
  const act = vi.fn();
  show(<Page keys="n" act={act} />);
  press("n", "KeyN", { repeat: true });
  fireEvent.keyDown(screen.getByLabelText("words"), { key: "n", code: "KeyN" });
  const dialog = document.createElement("div");
  dialog.setAttribute("aria-modal", "true");
  document.body.append(dialog);
  press("n", "KeyN");
  dialog.remove();
  expect(act).not.toHaveBeenCalled();
  press("n", "KeyN");
  expect(act).toHaveBeenCalledTimes(1);
});

test("a digit is no way out of a page that takes entries", () => {
  const act = vi.fn();
  const { rerender } = show(<Page keys="2" act={act} takes />);
  press("2", "Digit2");
  expect(act).not.toHaveBeenCalled();
  rerender(
    <HotkeysProvider>
      <Page keys="2" act={act} />
    </HotkeysProvider>,
  );
  press("2", "Digit2");
  expect(act).toHaveBeenCalledTimes(1);
});

test("of a frame and its page the page has the key, as long as it wants it", () => {
  const [frame, page] = [vi.fn(), vi.fn()];
  const both = (on: boolean) => (
    <HotkeysProvider>
      <Page keys="mod+z" act={frame} />
      <Page key="page" keys="mod+z" act={page} on={on} />
    </HotkeysProvider>
  );
  const { rerender } = render(both(true));
  press("z", "KeyZ", { ctrlKey: true });
  rerender(both(false));
  press("z", "KeyZ", { ctrlKey: true });
  expect([frame.mock.calls.length, page.mock.calls.length]).toEqual([1, 1]);
});

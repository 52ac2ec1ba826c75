import { fireEvent, render, screen } from "@testing-library/react";
import { useState } from "react";
import { MemoryRouter } from "react-router";
import { expect, test } from "vitest";
import { StepList, type Step } from "./StepList";

const THREE: Step[] = ["wrap", "count", "blade"].map((id) => ({
  id,
  text: `Look at ${id}.`,
  why: "",
  done: false,
}));

function Kept() {
  const [steps, setSteps] = useState(THREE);
  return (
    <StepList
      title="Before"
      steps={steps}
      letter="x"
      tick={(step, done) =>
        setSteps(steps.map((known) => (known.id === step.id ? { ...known, done } : known)))
      }
    />
  );
}

test("one key ticks what comes next, a tap opens it again, and the list says how far it is", () => {
  render(<Kept />, { wrapper: MemoryRouter });
  const press = () => fireEvent.keyDown(document.body, { key: "x", code: "KeyX" });
  const ticked = () => screen.getAllByRole<HTMLInputElement>("checkbox").map((box) => box.checked);
  press();
  press();
  expect(ticked()).toEqual([true, true, false]);
  expect(screen.getByText(/2 of 3 done/)).toBeTruthy();
  fireEvent.click(screen.getByRole("checkbox", { name: /Look at wrap/ }));
  expect(ticked()).toEqual([false, true, false]);
  fireEvent.keyDown(screen.getByRole("checkbox", { name: /Look at blade/ }), { key: "x", code: "KeyX" });
  expect(ticked()).toEqual([true, true, false]); // a box that has the focus takes no words
  fireEvent.click(screen.getByRole("checkbox", { name: /Look at wrap/ }));
  press(); // the first that is open, not the one after the last
  press();
  press(); // nothing is left to tick
  expect(ticked()).toEqual([true, true, true]);
});

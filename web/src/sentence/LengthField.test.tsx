// @vitest-environment jsdom
import { act, cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, expect, test, vi } from "vitest";
import { NOTHING_TRIED } from "../state/model/tried";
import { change } from "../state/store";
import { LengthField } from "./LengthField";

afterEach(() => {
  cleanup();
  change({ ...NOTHING_TRIED });
});

function field() {
  const [onTry, onKeep] = [vi.fn(), vi.fn()];
  render(<LengthField label="Room" value="16 px" onTry={onTry} onKeep={onKeep} />);
  return { onTry, onKeep, input: screen.getByRole<HTMLInputElement>("textbox", { name: /Room/ }) };
}

test("a sum typed quickly is kept, though what stood half written was a fault", async () => {
  const { onKeep, input } = field();
  await userEvent.type(input, "4mm + 2pt", { initialSelectionStart: 0, initialSelectionEnd: 5 });
  act(() => change({ triedFault: "“4mm +” is no length", asking: true }));
  await userEvent.type(input, "{Enter}");
  expect(onKeep).toHaveBeenCalledExactlyOnceWith("4mm + 2pt");
});

test("what is known to be a fault is not kept, and the field says what holds", async () => {
  const { onKeep, input } = field();
  await userEvent.type(input, "4mm +", { initialSelectionStart: 0, initialSelectionEnd: 5 });
  act(() => change({ triedFault: "“4mm +” is no length" }));
  await userEvent.type(input, "{Enter}");
  expect(onKeep).not.toHaveBeenCalled();
  expect(input.value).toBe("16 px");
});

test("what the server refuses goes back to what holds", async () => {
  const { onKeep, input } = field();
  await userEvent.type(input, "9999999mm{Enter}", { initialSelectionStart: 0, initialSelectionEnd: 5 });
  expect(onKeep).toHaveBeenCalledExactlyOnceWith("9999999mm");
  act(() => change(({ epoch }) => ({ epoch: epoch + 1 })));
  expect(input.value).toBe("16 px");
});

test("arrows step in the unit that stands there, and each step is tried", async () => {
  const { onTry, input } = field();
  await userEvent.type(input, "{ArrowUp}{Shift>}{ArrowUp}{/Shift}");
  expect(onTry.mock.calls).toEqual([["17 px"], ["27 px"]]);
  expect(input.value).toBe("27 px");
});

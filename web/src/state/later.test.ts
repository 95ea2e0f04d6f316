import { expect, test, vi } from "vitest";
import { counter, inOrder, later, once } from "./later";

test("what is made once is made when it is asked for first, and never again", () => {
  const make = vi.fn(() => ({}));
  const get = once(make);
  expect(make).not.toHaveBeenCalled();
  expect(get()).toBe(get());
  expect(make).toHaveBeenCalledTimes(1);
});

test("of what is put off only the last is done, and nothing once it is taken back", () => {
  vi.useFakeTimers();
  const done: string[] = [];
  const soon = later(50);
  soon(() => done.push("a"));
  vi.advanceTimersByTime(40);
  soon(() => done.push("b"));
  vi.advanceTimersByTime(40);
  expect(done).toEqual([]);
  vi.advanceTimersByTime(20);
  expect(done).toEqual(["b"]);
  soon(() => done.push("c"));
  soon.cancel();
  vi.advanceTimersByTime(100);
  expect(done).toEqual(["b"]);
  vi.useRealTimers();
});

test("pieces of work go one after the other, also behind one that goes wrong", async () => {
  const done: number[] = [];
  const then = inOrder();
  void then(async () => {
    await new Promise((on) => setTimeout(on, 5));
    done.push(1);
  });
  void then(() => Promise.reject(new Error("wrong")));
  await then(() => Promise.resolve(done.push(2)));
  expect(done).toEqual([1, 2]);
});

test("a counter counts on", () => {
  const next = counter(7);
  expect([next(), next(), next()]).toEqual([7, 8, 9]);
});

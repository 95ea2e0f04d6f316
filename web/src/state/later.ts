/** Small helpers that hold what they need themselves: made once, put off, one after the other, counted. */

/** What is made when it is first asked for, and then is there. */
export function once<T>(make: () => T): () => T {
  const made: T[] = [];
  return () => (made.length ? made[0] : (made[0] = make()));
}

/** Does something so many ms after it was asked for last. */
export function later(ms: number): { (run: () => unknown): void; cancel: () => void } {
  const timers: ReturnType<typeof setTimeout>[] = [];
  const cancel = () => timers.splice(0).forEach(clearTimeout);
  return Object.assign((run: () => unknown) => (cancel(), void timers.push(setTimeout(run, ms))), { cancel });
}

/** Each piece of work begins when all before it are over, gone wrong or not. */
export function inOrder(): (work: () => Promise<unknown>) => Promise<unknown> {
  const last = [Promise.resolve() as Promise<unknown>];
  return (work) => (last[0] = last[0].then(work).catch(() => undefined));
}

/** Counts on from a figure. */
export function counter(from = 0): () => number {
  const next = [from];
  return () => next[0]++;
}

/** The queue of changes that wait to be stored: one for each document, in order, one on its way at a time.
 *
 * A queue stands on a revision, and on the window's own changes since. As long as nobody else changes the document,
 * each answer is taken in and the queue stands on it. Where a change was merged with another's, the document stays as
 * it is seen until all that waits is stored: what waits was made on that. */
import { type Operation, post, Refused, type Schemas } from "../api/client";
import { drop, keep, left, type Waiting } from "./kept";
import { counter } from "./later";
import { isOpen, mark, WINDOW } from "./window";

export type Made = Schemas["EditOut"];
export type Side = "mine" | "theirs";

export interface Change extends Waiting {
  /** Whether it was sent: then it stays as it is. */
  sent: boolean;
  /** How often a fault of the server stopped it. */
  faults?: number;
  /** Whether it is over: in what the window shows as stored, or refused. */
  over: boolean;
  prefer?: Side;
  done: (made: boolean) => void;
}

export interface Held {
  label: string;
  collisions: Schemas["CollisionOut"][];
}

interface Hooks {
  /** What the window shows of a document that is large, for the answer to go by. */
  shows(queue: Queue): { shown?: string; seen?: number[] };
  /** What is on its way, waits, or does not go on changed. */
  changed(): void;
  /** All that was made is in this answer. */
  takeIn(queue: Queue, made: Made, typing: boolean): void;
  /** What this queue stored is shown nowhere yet. */
  readAgain(queue: Queue): void;
  /** What undo and redo would do. */
  steps(queue: Queue, made: Made): void;
  may(queue: Queue, kind: "undo" | "redo"): boolean;
  refused(queue: Queue, error: unknown, change: Change): void;
}

/** How long until the server is asked again, in ms. */
const AGAIN = 1500;
/** How often a change is asked for again that a fault of the server stopped. */
const FAULTS = 4;
const nextPlace = counter(Date.now() * 1000);

/** No answer, none of the application's, or none without signing in again. */
export function unreached(error: unknown): error is Refused {
  return error instanceof Refused && !error.barred && [0, 401, 403, 502, 503, 504].includes(error.status);
}

export class Queue {
  changes: Change[] = [];
  base = 0;
  on: Operation[] = [];
  busy = false;
  /** What collides with another window's change: nothing goes on until it is chosen. */
  held: Held | null = null;
  away: { since: number; out: boolean } | null = null;
  /** Whether what waits was left by a window that is closed: what it was made on is shown nowhere. */
  left = false;
  private wake: (() => void) | null = null;
  /** The window whose changes wait: this one, or one that is closed. */
  private whose = WINDOW;
  /** Changes that are made and not taken in yet. */
  private made: Change[] = [];

  constructor(
    readonly doc: number,
    private hooks: Hooks,
  ) {}

  /** The window shows this revision; changes are made on it from now on. */
  stand(revision: number) {
    if (this.changes.length || this.busy) return;
    this.base = revision;
    this.on = [];
  }

  private get standing() {
    return { doc: this.doc, window: this.whose, base: this.base, on: this.on };
  }

  add(change: Pick<Change, "kind" | "operations" | "label" | "join" | "done">): Change {
    const made: Change = {
      ...change,
      mark: mark(),
      doc: this.doc,
      window: this.whose,
      order: nextPlace(),
      sent: false,
      over: false,
    };
    const last = this.changes[this.changes.length - 1];
    const together = last && !last.sent && summed(last, made);
    if (together) this.changes[this.changes.length - 1] = together;
    else this.changes.push(made);
    keep(together || made, this.standing);
    this.hooks.changed();
    void this.work();
    return together || made;
  }

  /** Make a change that was not sent yet another one. */
  amend(change: Change, operations: Operation[]) {
    change.operations = operations;
    keep(change, this.standing);
  }

  waits(change: Change): boolean {
    return !change.sent && this.changes.includes(change);
  }

  /** Store what this window, before it was loaded again, or one that is closed left behind. */
  async takeUp(): Promise<void> {
    for (const group of await left(this.doc)) {
      if (this.changes.length || (await isOpen(group.standing.window))) continue;
      this.whose = group.standing.window;
      this.base = group.standing.base;
      this.on = group.standing.on;
      this.left = true;
      this.changes = group.changes.map((change) => ({ ...change, sent: true, over: false, done: () => undefined }));
      await this.work();
    }
  }

  async work() {
    if (this.busy || this.held) return;
    this.busy = true;
    this.hooks.changed();
    while (this.changes.length) {
      const change = this.changes[0];
      const { kind, operations, label, join, prefer } = change;
      if (kind !== "edit" && !this.left && !this.hooks.may(this, kind)) {
        this.end(change, false);
        continue;
      }
      const { shown = "", seen = [] } = this.hooks.shows(this);
      const asked = { base: this.base, window: WINDOW, mark: change.mark, prefer: prefer ?? null, shown };
      try {
        change.sent = true;
        const made = await post<Made>(
          `/api/documents/${this.doc}/${kind === "edit" ? "edits" : kind}`,
          kind === "edit" ? { ...asked, seen, on: this.on, operations, label, join } : asked,
        );
        this.reached();
        const alone = !this.on.length && made.revision <= this.base + 1;
        if (alone || this.changes.length === 1) {
          this.changes.shift(); // what is taken in is not waited for
          for (const one of [...this.made.splice(0), change]) one.over = true;
          this.base = made.revision;
          this.on = [];
          drop(change.mark, this.standing);
          if (!this.left) this.hooks.takeIn(this, made, alone && join.startsWith("typing:"));
          change.done(true);
        } else {
          if (kind === "edit") this.on = [...this.on, ...operations];
          this.made.push(change);
          this.hooks.steps(this, made);
          this.end(change, true);
        }
      } catch (error) {
        if (unreached(error)) {
          await this.later([401, 403].includes(error.status));
          continue;
        }
        // A fault that nobody foresaw may be of a moment: what was done is not let go for it.
        if (error instanceof Refused && error.status >= 500 && (change.faults = (change.faults ?? 0) + 1) <= FAULTS) {
          await this.later(false);
          continue;
        }
        this.reached();
        if (error instanceof Refused && error.collisions.length) {
          this.held = { label, collisions: error.collisions };
          // Steps pressed one after the other: those behind one that collides are not gone on with.
          if (kind !== "edit") for (const one of this.changes.slice(1)) if (one.kind !== "edit") this.end(one, false);
          break;
        }
        this.end(change, false);
        this.hooks.refused(this, error, change);
      }
    }
    this.busy = false;
    if (!this.changes.length) this.whose = WINDOW;
    if (this.left && !this.changes.length) {
      this.left = false;
      this.hooks.readAgain(this);
    }
    this.hooks.changed();
  }

  /** Say which side holds where a change collides; what was made on it follows. */
  choose(prefer: Side) {
    this.held = null;
    for (const change of this.changes) change.prefer = prefer;
    void this.work();
  }

  /** Ask at once, not in a while. */
  now() {
    this.wake?.();
  }

  private end(change: Change, made: boolean) {
    change.over ||= !made;
    this.changes = this.changes.filter((one) => one !== change);
    drop(change.mark, this.standing);
    change.done(made);
  }

  private reached() {
    if (!this.away) return;
    this.away = null;
    this.hooks.changed();
  }

  private async later(out: boolean) {
    this.away = { since: this.away?.since ?? Date.now(), out };
    this.hooks.changed();
    await new Promise<void>((on) => {
      const timer = setTimeout(on, AGAIN);
      this.wake = () => (clearTimeout(timer), on());
    });
    this.wake = null;
  }
}

/** Two moves of the same objects that wait one behind the other, as one. */
function summed(a: Change, b: Change): Change | null {
  if (!a.join || a.join !== b.join || a.operations.length !== 1 || b.operations.length !== 1) return null;
  const [one, other] = [a.operations[0], b.operations[0]];
  if (one.do !== "act" || other.do !== "act" || one.act !== "move" || other.act !== "move") return null;
  const [by, more] = [one.given.by, other.given.by] as [number, number][];
  const given = { ...one.given, by: [by[0] + more[0], by[1] + more[1]] };
  return { ...a, operations: [{ ...one, given }], done: (made) => (a.done(made), b.done(made)) };
}

/** What the hand does from pressing to letting go. */
import type { Point } from "../state/geometry";

export interface Keys {
  shift: boolean;
  alt: boolean;
  /** Ctrl or ⌘. */
  command: boolean;
}

export interface Gesture {
  move(at: Point, keys: Keys): void;
  end(): void;
  cancel(): void;
  /** What to show beside the pointer. */
  readout: string;
}

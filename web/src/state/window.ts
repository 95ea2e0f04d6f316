/** This window: its own name, kept over a reload, by which its changes and its undo are told from those of others. */
import { counter } from "./later";

function named(): string {
  const made = Array.from(crypto.getRandomValues(new Uint8Array(9)), (n) => (n % 36).toString(36)).join("");
  try {
    const again =
      (performance.getEntriesByType("navigation")[0] as PerformanceNavigationTiming | undefined)?.type === "reload";
    const name = (again && sessionStorage.getItem("window")) || made; // a tab that was duplicated is another window
    sessionStorage.setItem("window", name);
    return name;
  } catch {
    return made; // nothing can be kept in this browser
  }
}

export const WINDOW = named();

const held = "locks" in navigator && navigator.locks ? navigator.locks : null;
// As long as it is open it holds a lock of its name, by which others know.
void held?.request(`nest-line ${WINDOW}`, () => new Promise(() => undefined)).catch(() => undefined);

/** Whether another window of this browser is open still. */
export async function isOpen(window: string): Promise<boolean> {
  if (window === WINDOW || !held) return false;
  const { held: locks } = await held.query();
  return (locks ?? []).some((lock) => lock.name === `nest-line ${window}`);
}

const count = counter();

/** An id for a change, that no other has. */
export function mark(): string {
  return `${WINDOW}-${Date.now().toString(36)}-${count().toString(36)}`;
}

import type { Frame } from "../state/document";
import { shown } from "../state/units";

export type Edge = "top" | "right" | "bottom" | "left";
export const EDGES: Edge[] = ["top", "right", "bottom", "left"];

/** What gives, in words. */
export function giveSaid(frame: Frame): string {
  const give = frame.give ?? [];
  const where = give.includes("in-proportion")
    ? "gives in proportion"
    : give.length === 4
      ? "gives on all sides"
      : give.length
        ? `gives ${at(give as Edge[])}`
        : "holds its size";
  const line = frame.wrap_lines === false ? ", its lines unwrapped" : "";
  const least = [
    frame.least?.width && `${shown(frame.least.width)} wide`,
    frame.least?.height && `${shown(frame.least.height)} high`,
  ].filter(Boolean);
  const most = [
    frame.greatest?.width && `${shown(frame.greatest.width)} wide`,
    frame.greatest?.height && `${shown(frame.greatest.height)} high`,
  ].filter(Boolean);
  return (
    where +
    line +
    (give.length && least.length ? `, at least ${least.join(" and ")}` : "") +
    (give.length && most.length ? `, at most ${most.join(" and ")}` : "")
  );
}

function at(edges: Edge[]): string {
  const names = EDGES.filter((e) => edges.includes(e)).map(
    (e) => ({ top: "at the top", right: "on the right", bottom: "at the bottom", left: "on the left" })[e],
  );
  return names.length > 1 ? `${names.slice(0, -1).join(", ")} and ${names.at(-1)}` : names[0];
}

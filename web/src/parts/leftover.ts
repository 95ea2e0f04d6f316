import type { NestScene } from "../api/client";
import { inUnit } from "../state/units";

/** What a frame lacks for the words that are left over, and what pushes them away. */
export function leftoverSaid(
  nest: Pick<NestScene, "lacks" | "pushedBy">,
  labels: Record<string, string>,
  unit: string,
): string {
  const pushers = nest.pushedBy.map((id) => labels[id] ?? id);
  const by =
    pushers.length > 2 ? `${pushers.slice(0, 2).join(", ")} and ${pushers.length - 2} more` : pushers.join(" and ");
  return [
    nest.lacks && `its ${nest.lacks.axis} lacks ${inUnit(nest.lacks.points, unit)}`,
    by && `${by} ${pushers.length > 1 ? "push" : "pushes"} it`,
  ]
    .filter(Boolean)
    .join("; ");
}

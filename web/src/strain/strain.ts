/** The document under longer or shorter copy: shown, never stored. */
import { later } from "../state/later";
import { create } from "zustand";
import { type Operation, post, Refused, type Schemas } from "../api/client";
import { useStore } from "../state/store";
import { stopTrying, tryOut } from "../state/trying";
import { say } from "../state/viewing";

interface State {
  /** How much longer copy is, in per cent. */
  by: number;
  /** In the words of which language; "" is its own. */
  language: string;
  /** How much larger type is, in per cent. */
  type: number;
  /** Width and height of another sheet; null is its own. */
  sheet: [string, string] | null;
  /** Whether its pictures have come. */
  pictures: boolean;
  /** Up to which strain each frame holds, of a revision; null until it is asked. */
  holds: { revision: number; upTo: Record<string, number | null> } | null;
  asking: boolean;
  /** Grows when what was asked until now is over. */
  turn: number;
}

type Given = Pick<State, "by" | "language" | "type" | "sheet" | "pictures">;
export const AT_REST: Given = { by: 0, language: "", type: 0, sheet: null, pictures: true };

export const useStrain = create<State>(() => ({ ...AT_REST, holds: null, asking: false, turn: 0 }));

export const isStrained = ({ by, language, type, sheet, pictures }: Given) =>
  by !== 0 || language !== "" || type !== 0 || sheet !== null || !pictures;

/** What the document is under, in words. */
export function strainSaid({ by, type, sheet, pictures }: Given): string {
  const parts = [
    by && `${by > 0 ? "+" : "−"}${Math.abs(by)} % strained`,
    type && `with type ${type} % larger`,
    sheet && `on ${sheet.join(" × ")}`,
    !pictures && "without its pictures",
  ].filter(Boolean);
  return parts.length ? parts.join(", ") : "in other words";
}

/** Steps of a slider come one after the other: the last is asked for. */
const soon = later(90);

function nextTurn(): number {
  const turn = useStrain.getState().turn + 1;
  useStrain.setState({ turn });
  return turn;
}

/** Show the document so; at nothing it is shown as it is. */
export function strain(change: Partial<Given>) {
  useStrain.setState(change);
  soon.cancel();
  const turn = nextTurn();
  const { by, language, type, sheet, pictures } = useStrain.getState();
  if (!isStrained(useStrain.getState())) return stopTrying();
  soon(async () => {
    const { id } = useStore.getState();
    try {
      const given = { by, language: language || null, type, sheet, pictures };
      const { operations } = await post<Schemas["StrainOut"]>(`/api/documents/${id}/strain`, given);
      if (turn === useStrain.getState().turn) tryOut(operations as Operation[]);
    } catch (error) {
      if (error instanceof Refused) say(error.message, "fault");
    }
  });
}

/** What is strained is not what is worked on: the first change, and another document, end it. */
export function followStrain(): () => void {
  return useStore.subscribe((now, before) => {
    if (now.id !== before.id) useStrain.setState({ ...AT_REST, holds: null, asking: false });
    else if (isStrained(useStrain.getState()) && now.revision !== before.revision) {
      soon.cancel();
      nextTurn();
      // Another version is shown under the same strain.
      if (now.document?.showing !== before.document?.showing) strain({});
      else useStrain.setState(AT_REST);
    }
  });
}

/** Try every frame under more and more copy. */
export async function askHolds() {
  const { id, revision } = useStore.getState();
  useStrain.setState({ asking: true });
  try {
    const found = await post<Schemas["HoldsOut"][]>(`/api/documents/${id}/holds`, {});
    if (useStore.getState().id === id)
      useStrain.setState({ holds: { revision, upTo: Object.fromEntries(found.map((one) => [one.object, one.upTo])) } });
  } catch (error) {
    if (error instanceof Refused) say(error.message, "fault");
  } finally {
    useStrain.setState({ asking: false });
  }
}

/** How far a frame holds, in words; nothing where it was not asked of the document as it is. */
export function holdsSaid(id: string, { holds }: State, revision: number): string | null {
  if (holds?.revision !== revision || !(id in holds.upTo)) return null;
  const upTo = holds.upTo[id];
  if (upTo === null) return "holds +100 %";
  return upTo < 0 ? "lacks room as it is" : upTo === 0 ? "holds nothing more" : `holds to +${upTo} %`;
}

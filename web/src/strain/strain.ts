/** The document under longer or shorter copy: shown, never stored. */
import { create } from "zustand";
import { type Operation, post, Refused, type Schemas } from "../api/client";
import { say, stopTrying, tryOut, useStore } from "../state/store";

interface State {
  /** How much longer copy is, in per cent. */
  by: number;
  /** In the words of which language; "" is its own. */
  language: string;
  /** Up to which strain each frame holds, of a revision; null until it is asked. */
  holds: { revision: number; upTo: Record<string, number | null> } | null;
  asking: boolean;
}

export const useStrain = create<State>(() => ({ by: 0, language: "", holds: null, asking: false }));

let timer = 0;
let turn = 0;

/** Show the document so; at nothing it is shown as it is. */
export function strain(change: Partial<Pick<State, "by" | "language">>) {
  useStrain.setState(change);
  clearTimeout(timer);
  const mine = ++turn;
  const { by, language } = useStrain.getState();
  if (!by && !language) return stopTrying();
  timer = window.setTimeout(async () => {
    const { id } = useStore.getState();
    try {
      const given = { by, language: language || null };
      const { operations } = await post<Schemas["StrainOut"]>(`/api/documents/${id}/strain`, given);
      if (mine === turn) tryOut(operations as Operation[]);
    } catch (error) {
      if (error instanceof Refused) say(error.message, "fault");
    }
  }, 90);
}

/** What is strained is not what is worked on: the first change, and another document, end it. */
export function followStrain(): () => void {
  return useStore.subscribe((now, before) => {
    const { by, language } = useStrain.getState();
    if (now.id !== before.id) useStrain.setState({ by: 0, language: "", holds: null, asking: false });
    else if ((by || language) && (now.revision !== before.revision || now.saving)) {
      turn++;
      clearTimeout(timer);
      useStrain.setState({ by: 0, language: "" });
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

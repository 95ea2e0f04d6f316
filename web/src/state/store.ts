/** The one store, of five parts: the open document, what is chosen, what is tried, what is sent, and the view. It is
 * read everywhere, and written by the named actions of this folder alone: opening, choosing, trying, sending,
 * viewing. */
import { create, type StoreApi } from "zustand";
import type { ObjectScene, SceneOut } from "../api/client";
import { type Thing, thingsOf } from "./document";
import { allOf, type Chosen, NOTHING_CHOSEN } from "./model/chosen";
import { NOTHING_OPEN, type Opened, sceneOf } from "./model/opened";
import { NOTHING_SENT, type Sent } from "./model/sent";
import { NOTHING_TRIED, type Tried } from "./model/tried";
import { SEEN_AT_FIRST, type View } from "./model/view";
import type { Scene } from "./seen";

export type State = Opened & Chosen & Tried & Sent & View;

const store = create<State>(() => ({
  ...NOTHING_OPEN,
  ...NOTHING_CHOSEN,
  ...NOTHING_TRIED,
  ...NOTHING_SENT,
  ...SEEN_AT_FIRST,
}));

type Read = Pick<StoreApi<State>, "getState" | "subscribe"> & (<T>(of: (state: State) => T) => T);

/** The state, to be read. */
export const useStore: Read = store;

/** How it is written: by the actions of this folder. */
export const change = store.setState;

/** What is drawn now: the scene, or with a preview put in; worked out once for each. */
export const shownScene: (state?: State) => Scene | null = remembering(({ scene, tried }) =>
  scene && tried ? sceneOf(scene, tried) : scene,
);

/** The last answer is given again as long as neither the scene nor what is tried is another. */
function remembering(work: (of: { scene: Scene | null; tried: SceneOut | null }) => Scene | null) {
  let last: { scene: Scene | null; tried: SceneOut | null; found: Scene | null } | null = null;
  return ({ scene, tried }: State = store.getState()) => {
    if (!last || last.scene !== scene || last.tried !== tried) last = { scene, tried, found: work({ scene, tried }) };
    return last.found;
  };
}

/** Everything that is selected, the one spoken of first. */
export function selection(state: State = store.getState()): string[] {
  return allOf(state);
}

/** What is selected, with the rules that it takes from its recipe. */
export function selectedThing(state: State = store.getState()): Thing | null {
  const thing = state.selected && state.document && thingsOf(state.document).find((t) => t.id === state.selected);
  return thing ? ruled(thing, state) : null;
}

const withRules = new WeakMap<Thing, { follows: ObjectScene["follows"]; thing: Thing }>();

/** An object with the rules that it takes from its recipe. */
export function ruled(thing: Thing, state: State = store.getState()): Thing {
  const follows = state.scene?.objects[thing.id]?.follows;
  if (!follows) return thing;
  let known = withRules.get(thing);
  if (known?.follows !== follows) {
    const { frame, ...own } = follows.rules as { frame: object } & Partial<Thing>;
    known = { follows, thing: { ...own, ...thing, ...(thing.frame ? { frame: { ...frame, ...thing.frame } } : {}) } };
    withRules.set(thing, known);
  }
  return known.thing;
}

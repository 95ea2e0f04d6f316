/** Writes on the page: a press puts the caret, dragging chooses words, clicking again the word, its line, its
 * paragraph. */
import { apply, inverse, type Point } from "../../state/geometry";
import { putCaret } from "../../state/choosing";
import { shownScene, useStore } from "../../state/store";
import { indexAt, lineStep } from "../../drawing/caret";
import { spotAt } from "../hand";
import { Hint } from "./Hint";
import { matrixOf } from "./tool";
import type { BenchTool } from "./tool";

export const copy: BenchTool<"copy"> = {
  down({ scene, at, keys }) {
    const spot = spotAt(scene, at);
    const place = copyPlace(at);
    const { selected, caret } = useStore.getState();
    if (place === null || spot.kind === "bench" || (spot.kind === "object" && spot.id !== selected)) return "hand";
    const anchor = keys.shift ? (caret?.anchor ?? place) : place;
    putCaret(anchor, place, keys.command ? "add" : keys.shift ? undefined : "clear");
    return {
      readout: "",
      move(to) {
        const head = copyPlace(to);
        if (head !== null && head !== useStore.getState().caret?.head) putCaret(anchor, head);
      },
      end() {},
      cancel() {},
    };
  },
  over({ scene, at }) {
    const spot = spotAt(scene, at);
    return spot.kind === "object" && spot.id === useStore.getState().selected ? "text" : "default";
  },
  clicked(_, times) {
    // A finger's press and its click come at once: the caret is still on its way then.
    const { caret: there, wanted } = useStore.getState();
    const caret = wanted ?? there;
    const shape = shapeOfSelected();
    if (!caret || !shape) return;
    const around =
      times === 2
        ? wordAround(shape.text, caret.head)
        : times === 3
          ? lineAround(caret.head)
          : paragraphAround(shape.text, caret.head);
    putCaret(...around, wanted?.keep);
  },
  // It goes by itself: what is being written may stand where it stands.
  Hint: () => (
    <Hint
      keys="Ctrl with B, I, U: bold, italic, underlined · Ctrl and a press: more words · Ctrl and .: do … · Esc: done"
      passing
    >
      Press where the words go on, or drag over words.
    </Hint>
  ),
  writes: true,
  rests: true,
};

/** The place of the selected frame's copy nearest to a point of the bench. */
export function copyPlace(here: Point): number | null {
  const scene = shownScene();
  const { selected } = useStore.getState();
  const nest = scene?.nests[selected ?? ""];
  const shape = nest && scene?.shapes[nest.shape];
  const object = scene?.objects[selected ?? ""];
  if (!scene || !nest || !shape || !object) return null;
  return indexAt(nest, shape, apply(inverse(matrixOf(scene, object.page)), here));
}

function shapeOfSelected() {
  const scene = shownScene();
  const nest = scene?.nests[useStore.getState().selected ?? ""];
  return nest ? scene?.shapes[nest.shape] : undefined;
}

/** Anchor and head of the word at a place (code points), by the language's own words. */
function wordAround(text: string, at: number): [number, number] {
  const each = Array.from(text);
  const units = each.slice(0, at).join("").length;
  for (const part of new Intl.Segmenter(undefined, { granularity: "word" }).segment(text)) {
    if (units < part.index + part.segment.length || part.index + part.segment.length >= text.length) {
      const start = Array.from(text.slice(0, part.index)).length;
      return [start, start + Array.from(part.segment).length];
    }
  }
  return [at, at];
}

function lineAround(at: number): [number, number] {
  const scene = shownScene();
  const nest = scene?.nests[useStore.getState().selected ?? ""];
  const shape = nest && scene?.shapes[nest.shape];
  if (!nest || !shape) return [at, at];
  const [start, end] = [lineStep(nest, shape, at, "Home", null), lineStep(nest, shape, at, "End", null)];
  return [start?.index ?? at, end?.index ?? at];
}

function paragraphAround(text: string, at: number): [number, number] {
  const each = Array.from(text);
  let [start, end] = [at, at];
  while (start > 0 && each[start - 1] !== "\n") start--;
  while (end < each.length && each[end] !== "\n") end++;
  return [start, end];
}

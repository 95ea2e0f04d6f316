import { useEffect, useState } from "react";
import { thingsOf } from "../state/document";
import { labelOf } from "../state/naming";
import { selection, shownScene, useStore } from "../state/store";
import { inUnit } from "../state/units";

/** How long nothing more must come before something is said, in ms: while a key is held only what it ends in. */
const REST = 500;

const TOOLS: Record<string, string> = {
  outline: "An outline is in hand: Enter makes it in the middle of what is seen.",
  draw: "Drawing: arrows move the pen, Space puts a point, Enter closes the outline.",
  line: "A line of type is in hand: Enter makes it in the middle of what is seen.",
  points: "Points: Tab goes from one to the next, arrows move it, A adds one, Delete takes it away.",
  why: "Why here: arrows go from line to line, and along it.",
  within: "The picture is moved within its outline.",
  copy: "Writing in the copy. Escape leaves it.",
};

/** What is chosen, where it stands and how full it is. */
function chosenSaid(): string {
  const scene = shownScene();
  const { document, selected, others } = useStore.getState();
  if (!scene || !document) return "";
  if (!selected) return "Nothing is chosen.";
  if (others.length) return `${selection().length} objects are chosen.`;
  const object = scene.objects[selected];
  const thing = thingsOf(document).find((one) => one.id === selected);
  if (!object || !thing) return "";
  const unit = document.unit ?? "mm";
  const [x, y, width, height] = object.box.map((figure) => inUnit(figure, unit));
  const page = scene.pages.length > 1 ? `, page ${object.page + 1}` : "";
  return `${labelOf(thing)}, ${thing.picture ? "picture" : thing.frame ? "frame" : "outline"}, ${width} by ${height}, ${x} from the left, ${y} from the top${page}${object.turn ? `, turned by ${object.turn}°` : ""}. ${fullSaid(selected)}`;
}

function fullSaid(id: string): string {
  const nest = shownScene()?.nests[id];
  if (!nest) return "";
  if (nest.leftover) return `${nest.leftover} ${nest.leftover === 1 ? "word is" : "words are"} left over.`;
  return nest.words ? `${Math.round(nest.fill * 100)} per cent full.` : "It is empty.";
}

function pointSaid(): string {
  const { points } = useStore.getState();
  return points.length === 1 ? `Point ${points[0][1] + 1}.` : `${points.length} points are chosen.`;
}

/** Says calmly, to those who listen, what is chosen, what changed in it, what was undone, and what is in hand. */
export function Announcer() {
  const [said, setSaid] = useState("");
  useEffect(() => {
    let timer = 0;
    let next = "";
    const say = (text: string) => {
      next = text;
      clearTimeout(timer);
      timer = window.setTimeout(() => setSaid(next), REST);
    };
    const stop = useStore.subscribe((now, before) => {
      if (now.id !== before.id) return;
      const [label, undone] = [now.undoLabel, now.redoLabel];
      if (now.revision !== before.revision && undone && undone !== before.redoLabel)
        return say(`Undone: ${undone}. ${chosenSaid()}`);
      if (now.revision !== before.revision && before.redoLabel && label === before.redoLabel)
        return say(`Again: ${label}. ${chosenSaid()}`);
      if (now.tool.kind !== before.tool.kind && TOOLS[now.tool.kind]) return say(TOOLS[now.tool.kind]);
      if (now.points !== before.points && now.points.length) return say(pointSaid());
      if (now.why !== before.why && now.why?.causes[0])
        return say(now.why.causes.map((cause) => cause.said).join(". "));
      if (now.selected !== before.selected || now.others.length !== before.others.length) return say(chosenSaid());
      if (before.caret && !now.caret && now.selected) return say(chosenSaid());
      if (now.revision === before.revision) return;
      // While somebody writes, only that words are left over, or that all have room again.
      if (now.caret) {
        const over = (state: typeof now) => (state.selected ? (state.scene?.nests[state.selected]?.leftover ?? 0) : 0);
        if (over(now) !== over(before)) say(fullSaid(now.selected!));
      } else say(`${label ? `${label}. ` : ""}${chosenSaid()}`);
    });
    return () => {
      stop();
      clearTimeout(timer);
    };
  }, []);
  return (
    <p role="status" aria-live="polite" className="sr-only">
      {said}
    </p>
  );
}

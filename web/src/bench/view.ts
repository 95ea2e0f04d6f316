/** What is seen of the pages: how large, and where. */
import { apply, pagePlaces, type Point, PX } from "../drawing/geometry";
import { shownScene, useStore } from "../state/store";
import { SENTENCE } from "../sentence/lines";
import { pageMatrix } from "./paint";

export function zoomAt(at: Point, factor: number) {
  const { view } = useStore.getState();
  const scale = Math.min(40, Math.max(0.05, view.scale * factor));
  const real = scale / view.scale;
  useStore.setState({ view: { scale, x: at[0] - (at[0] - view.x) * real, y: at[1] - (at[1] - view.y) * real } });
}

function benchSize(): Point {
  const element = document.querySelector("canvas");
  return element ? [element.clientWidth, element.clientHeight] : [800, 600];
}

export function zoomBy(factor: number) {
  const [w, h] = benchSize();
  zoomAt([w / 2, h / 2], factor);
}

/** The view that a page was fitted with last: while it is the view, the page stays fitted. */
let fitted: { view: object; page: number } | null = null;

/** How large the window was when the bench changed its size last. */
let inner: Point = [window.innerWidth, window.innerHeight];

/** Keep what is seen in the middle when the bench changes its size; a page that was fitted is fitted again. Where only the
 * sentence below has more to say, or less, all stays where it is. */
export function keepInView(from: Point, to: Point) {
  const { view } = useStore.getState();
  const now: Point = [window.innerWidth, window.innerHeight];
  const same = now[0] === inner[0] && now[1] === inner[1];
  inner = now;
  if (same && from[0] === to[0]) {
    if (fitted?.view === view && said() > SENTENCE) showPage(fitted.page);
    return;
  }
  if (fitted?.view === view) return showPage(fitted.page);
  useStore.setState({ view: { ...view, x: view.x + (to[0] - from[0]) / 2, y: view.y + (to[1] - from[1]) / 2 } });
}

/** How much higher the sentence may come to be than it is. */
function mostSaid(): number {
  return said() ? Math.max(0, SENTENCE - said()) : 0;
}

/** How high the sentence is, in px; 0 where there is none. */
function said(): number {
  return document.querySelector<HTMLElement>("[data-sentence]")?.offsetHeight ?? 0;
}

/** Fit the page that is spoken of into the bench. */
export function showAll() {
  showPage(useStore.getState().page);
}

/** Fit a page into the bench. */
export function showPage(index: number) {
  const scene = shownScene();
  const page = scene?.pages[Math.min(index, scene.pages.length - 1)];
  if (!scene || !page) return;
  const [w, tall] = benchSize();
  // What is said of an object is longer than what is said of the page: the page has room above either.
  const h = tall - mostSaid();
  // Rulers take room at the top and on the left.
  const rulers = useStore.getState().clean ? 0 : 14;
  // Pages that face each other are shown together.
  const places = pagePlaces(scene);
  const top = places[scene.pages.indexOf(page)][1];
  const row = scene.pages.map((one, i) => ({ one, left: places[i][0] })).filter((_, i) => places[i][1] === top);
  const left = Math.min(...row.map((r) => r.left));
  const width = Math.max(...row.map((r) => r.left + r.one.width)) - left;
  const height = Math.max(...row.map((r) => r.one.height));
  const bleed = useStore.getState().clean ? 0 : page.bleed;
  const scale = Math.min((w - 36 - rulers) / (width + 2 * bleed), (h - 16 - rulers) / (height + 2 * bleed)) / PX;
  const view = {
    scale,
    x: (w + rulers - width * scale * PX) / 2 - left * scale * PX,
    y: (h + rulers - height * scale * PX) / 2 - top * scale * PX,
  };
  useStore.setState({ view });
  fitted = { view, page: index };
}

/** Show the page of an object that is out of sight. */
export function bringIntoView(id: string) {
  const scene = shownScene();
  const object = scene?.objects[id];
  if (!scene || !object) return;
  const [w, h] = benchSize();
  const [x, y, width, height] = object.box;
  const [px, py] = apply(pageMatrix(useStore.getState().view, pagePlaces(scene)[object.page]), [
    x + width / 2,
    y + height / 2,
  ]);
  if (px < 0 || px > w || py < 0 || py > h) showPage(object.page);
}

export function zoomTo(scale: number) {
  zoomBy(scale / useStore.getState().view.scale);
}

/** What is seen of the pages: how large, and where. */
import { later } from "../state/later";
import { speakOf } from "../state/choosing";
import { apply, extentOf, openWith, pagePlaces, type Point, PX } from "../state/geometry";
import type { Laid } from "../state/seen";
import { selection, shownScene, useStore } from "../state/store";
import { layPages, askOver, see, seeAside } from "../state/viewing";
import type { Box } from "./beside";
import { SENTENCE } from "./lines";
import { pageMatrix } from "../state/geometry";

/** How small and how large the pages are seen: 5 to 6,400 per cent. */
const SMALLEST = 0.05;
const LARGEST = 64;

export function zoomAt(at: Point, factor: number) {
  const { view } = useStore.getState();
  const scale = Math.min(LARGEST, Math.max(SMALLEST, view.scale * factor));
  const real = scale / view.scale;
  see({ scale, x: at[0] - (at[0] - view.x) * real, y: at[1] - (at[1] - view.y) * real });
}

function benchSize(): Point {
  const element = document.querySelector("canvas");
  return element ? [element.clientWidth, element.clientHeight] : [800, 600];
}

export function zoomBy(factor: number) {
  const [w, h] = benchSize();
  zoomAt([w / 2, h / 2], factor);
}

/** Lay the pages of the open document beside one another, or under. */
export function lay(how: Laid) {
  layPages(how);
  keepLook();
  showAll();
}

interface Look {
  view: { scale: number; x: number; y: number };
  size: Point;
  /** The page that was fitted; null when it was another view. */
  fitted: number | null;
  laid: Laid;
  page: number;
}

/** The page that is fitted; null when another view is seen. */
function fittedPage(): number | null {
  const { view, fitted } = useStore.getState();
  return fitted?.view === view ? fitted.page : null;
}

/** Keep what is seen of the open document, for when it is opened again. */
function keepLook() {
  const { id, view, page, clean, scene } = useStore.getState();
  if (id === null || clean) return;
  const look: Look = {
    view,
    size: benchSize(),
    fitted: fittedPage(),
    laid: scene?.laid ?? "under",
    page,
  };
  try {
    localStorage.setItem(`view ${id}`, JSON.stringify(look));
  } catch {
    // a browser that is full shows the whole page next time
  }
}

/** What is seen is kept when it has stood for a while; gives what ends that. */
export function keepLooks(): () => void {
  const soon = later(400);
  return useStore.subscribe((now, before) => {
    if (now.view !== before.view && now.id !== null && now.id === before.id) soon(keepLook);
  });
}

/** Show a document as it was seen last; at first its first page. */
export function showAsBefore(id: number) {
  const kept = localStorage.getItem(`view ${id}`);
  const look = kept ? (JSON.parse(kept) as Look) : null;
  layPages(look?.laid ?? "under");
  const pages = shownScene()?.pages.length ?? 1;
  if (look && look.page < pages) speakOf(look.page);
  if (!look || look.fitted !== null) return showPage(Math.min(look?.fitted ?? 0, pages - 1));
  const [w, h] = benchSize();
  const { scale, x, y } = look.view;
  see({ scale, x: x + (w - look.size[0]) / 2, y: y + (h - look.size[1]) / 2 });
}

/** Keep what is seen in the middle when the bench changes its size; a page that was fitted is fitted again. Where
 * only the sentence below has more to say, or less, and the window is as large as it was, all stays where it is. */
export function keepInView(from: Point, to: Point, sameWindow: boolean) {
  const page = fittedPage();
  if (sameWindow && from[0] === to[0]) {
    if (page !== null && said() > SENTENCE) showPage(page);
    return;
  }
  if (page !== null) return showPage(page);
  seeAside((to[0] - from[0]) / 2, (to[1] - from[1]) / 2);
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
  const at = scene.pages.indexOf(page);
  const top = places[at][1];
  const row = openWith(scene, at).map((i) => ({ one: scene.pages[i], left: places[i][0] }));
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
  see(view, index);
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

/** What is chosen as it is seen, in CSS px of the window; null where nothing is, or nothing of it is in sight. */
export function chosenBox(bench: Box): Box | null {
  const scene = shownScene();
  if (!scene) return null;
  const { view } = useStore.getState();
  const places = pagePlaces(scene);
  const corners = selection().flatMap((id) => {
    const object = scene.objects[id];
    if (!object) return [];
    const { left, top, right, bottom } = extentOf(object);
    const m = pageMatrix(view, places[object.page]);
    return [apply(m, [left, top]), apply(m, [right, bottom])];
  });
  if (!corners.length) return null;
  const box = {
    left: bench.left + Math.min(...corners.map((c) => c[0])),
    top: bench.top + Math.min(...corners.map((c) => c[1])),
    right: bench.left + Math.max(...corners.map((c) => c[0])),
    bottom: bench.top + Math.max(...corners.map((c) => c[1])),
  };
  return box.right > bench.left && box.left < bench.right && box.bottom > bench.top && box.top < bench.bottom
    ? box
    : null;
}

/** Fit a part of the bench, in pt of the pages as they lie, into it, with some room round it. */
function showBox([left, top, right, bottom]: [number, number, number, number], most: number) {
  const [w, tall] = benchSize();
  const h = tall - mostSaid();
  const room = 0.12;
  const scale = Math.min(
    most,
    Math.max(SMALLEST, Math.min((w * (1 - room)) / (right - left), (h * (1 - room)) / (bottom - top)) / PX),
  );
  see({ scale, x: w / 2 - ((left + right) / 2) * scale * PX, y: h / 2 - ((top + bottom) / 2) * scale * PX });
}

/** Fit what is chosen into the bench. */
export function showChosen() {
  const scene = shownScene();
  if (!scene) return;
  const places = pagePlaces(scene);
  const boxes = selection().flatMap((id) => {
    const object = scene.objects[id];
    if (!object) return [];
    const { left, top, right, bottom } = extentOf(object);
    const [x, y] = places[object.page];
    return [[left + x, top + y, right + x, bottom + y]];
  });
  if (!boxes.length) return showAll();
  const most = (at: number, pick: (...all: number[]) => number) => pick(...boxes.map((box) => box[at]));
  showBox([most(0, Math.min), most(1, Math.min), most(2, Math.max), most(3, Math.max)], LARGEST);
}

/** Fit every page into the bench. */
export function showSpread() {
  const scene = shownScene();
  if (!scene) return;
  const places = pagePlaces(scene);
  const right = Math.max(...scene.pages.map((page, i) => places[i][0] + page.width));
  const bottom = Math.max(...scene.pages.map((page, i) => places[i][1] + page.height));
  showBox([Math.min(...places.map((p) => p[0])), Math.min(...places.map((p) => p[1])), right, bottom], LARGEST);
}

const SCREEN = "screen-scale";

/** How many CSS px of this screen an inch has, once it was measured with a card; until then 96. */
export function pxAnInch(): number {
  const said = Number(localStorage.getItem(SCREEN));
  return said > 40 && said < 600 ? said : 96;
}

export function measured(): boolean {
  return localStorage.getItem(SCREEN) !== null;
}

export function keepMeasure(px: number) {
  localStorage.setItem(SCREEN, String(Math.round(px * 100) / 100));
}

/** As large as it will be in the hand; the first time the screen is measured. */
export function showReal() {
  if (!measured()) askOver("screen");
  else zoomTo(pxAnInch() / 96);
}

export function zoomTo(scale: number) {
  zoomBy(scale / useStore.getState().view.scale);
}

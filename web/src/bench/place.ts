/** Placing pictures on a page. */
import { knowPicture } from "../state/opening";
import { act, post, Refused, type Schemas } from "../api/client";
import { type Thing, thingsOf } from "../state/document";
import { bringText, isText } from "../parts/texts";
import { lastCaret, select, selectAll, putDown, selectOnly } from "../state/choosing";
import { labelOf } from "../state/naming";
import { edit, mayChange } from "../state/sending";
import { shownScene, useStore } from "../state/store";
import { say } from "../state/viewing";
import { pageAt, spotAt } from "./hand";
import { freshIds } from "../state/ids";
import { apply, inverse, pagePlaces, type Point, rounded } from "../state/geometry";
import { pageMatrix } from "../state/geometry";

/** Bring any file that can stand on a page: a picture, an SVG's outlines, or text for the frame it is dropped on. */
export async function bringFile(file: File, at?: Point) {
  const under = at ? thingAt(at) : null;
  if (isText(file)) {
    if (!under) return say("Drop text on an outline: it becomes its copy.");
    const version = shownScene()?.nests[under.id]?.version ?? useStore.getState().document?.language ?? "en";
    if (await bringText(file, under.id, version)) select(under.id);
    return;
  }
  if (file.type === "image/svg+xml" || /\.svg$/i.test(file.name)) return bringSvg(file, at);
  return placePicture(file, at, holdable(under));
}

function thingAt(at: Point): Thing | null {
  const scene = shownScene();
  const open = useStore.getState().document;
  if (!scene || !open) return null;
  const spot = spotAt(scene, at);
  return (spot.kind === "object" && thingsOf(open).find((t) => t.id === spot.id)) || null;
}

/** An outline that a picture dropped on it goes into: one that holds nothing yet. */
function holdable(under: Thing | null): Thing | null {
  return under && !under.frame && !under.picture ? under : null;
}

/** Where what is dragged to a place of the bench would go, in words; null where it stands by itself. */
export function intoSaid(at: Point, picture: boolean): { id: string; said: string } | null {
  const under = thingAt(at);
  if (!under) return null;
  if (!picture) return under.picture ? null : { id: under.id, said: `becomes the copy of “${labelOf(under)}”` };
  return holdable(under) ? { id: under.id, said: `goes into “${labelOf(under)}”` } : null;
}

async function bringSvg(file: File, at?: Point) {
  const scene = shownScene();
  if (!scene) return;
  if (file.size > 5_000_000) return say(`“${file.name}” is larger than 5 MB.`, "fault");
  const svg = await file.text();
  const number = Math.min(useStore.getState().page, scene.pages.length - 1);
  const place = at ? apply(inverse(pageMatrix(useStore.getState().view, pagePlaces(scene)[number])), at) : null;
  const before = new Set(Object.keys(useStore.getState().scene?.objects ?? {}));
  if (
    await edit(
      [
        {
          do: "act",
          act: "bring-svg",
          given: { page: number, name: file.name.replace(/\.[^.]+$/, ""), svg, at: place },
        },
      ],
      "Bring outlines",
    )
  )
    selectAll(Object.keys(useStore.getState().scene?.objects ?? {}).filter((id) => !before.has(id)));
}

/** Keep a picture; nothing where it is refused, which is said. */
async function kept(file: File) {
  if (!mayChange()) return null;
  say(`Bringing “${file.name}” …`);
  const form = new FormData();
  form.append("file", file);
  try {
    return await post<Schemas["PictureOut"]>(`/api/pictures?document=${useStore.getState().id}`, form);
  } catch (error) {
    say(error instanceof Refused ? `“${file.name}”: ${error.message}` : String(error), "fault");
    return null;
  }
}

/** Another picture where one stands. */
export async function replacePicture(file: File, thing: Thing) {
  const picture = await kept(file);
  if (!picture) return;
  knowPicture(picture.file, picture.url);
  await edit(act("replace-picture", { object: thing.id, file: picture.file }), "Another picture");
}

/** Bring a picture and place it; the core says how copy runs round it. */
async function placePicture(file: File, at?: Point, into: Thing | null = null) {
  const picture = await kept(file);
  if (!picture) return;
  await placed(picture, file.name.replace(/\.[^.]+$/, ""), at, into);
}

/** What is dragged from the picture shelf: the file's name. */
export const SHELF = "application/x-nest-line-shelf";

/** Take a picture from the shelf and place it, at a point of the bench or in the page's middle. */
export async function placeFromShelf(file: string, at?: Point) {
  if (!mayChange()) return;
  const under = at ? thingAt(at) : null;
  try {
    const picture = await post<Schemas["PictureOut"]>(
      `/api/shelf/${encodeURIComponent(file)}?document=${useStore.getState().id}`,
      {},
    );
    const name = picture.name.replace(/\.[^.]+$/, "").replace(/-/g, " ");
    await placed(picture, name[0].toUpperCase() + name.slice(1), at, holdable(under));
  } catch (error) {
    say(error instanceof Refused ? error.message : String(error), "fault");
  }
}

/** A picture that was kept, placed: in an outline, at a point of the bench, or in the page's middle. */
async function placed(picture: Schemas["PictureOut"], name: string, at?: Point, into: Thing | null = null) {
  const { document: open, view } = useStore.getState();
  const scene = shownScene();
  if (!open || !scene) return;
  knowPicture(picture.file, picture.url);
  if (into) {
    if (
      await edit(
        [{ do: "put", at: ["objects", into.id, "picture"], value: { file: picture.file, alt: "" } }],
        "Put picture into outline",
      )
    )
      select(into.id);
    return;
  }
  const number = at ? pageAt(scene, at) : Math.min(useStore.getState().page, scene.pages.length - 1);
  const centre = at ? apply(inverse(pageMatrix(view, pagePlaces(scene)[number])), at).map(rounded) : null;
  const [id] = freshIds(1);
  // With a caret in copy it goes there, like a letter.
  const caret = at ? null : (useStore.getState().caret ?? lastCaret());
  const there =
    caret && scene.nests[caret.frame]
      ? { frame: caret.frame, place: caret.head, version: scene.nests[caret.frame].version }
      : {};
  const page = "frame" in there ? scene.nests[there.frame!].page : number;
  if (await edit(act("place-picture", { page, file: picture.file, name, at: centre, id, ...there }), "Place picture")) {
    selectOnly(id);
    putDown();
    const found = useStore.getState().scene?.objects[id]?.contour;
    if (found?.unsure)
      say("Its contour is doubtful: open “its contour” in the sentence to look at it, or mark the subject.");
  }
}

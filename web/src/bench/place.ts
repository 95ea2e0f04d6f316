/** Placing pictures on a page. */
import { type Operation, post, Refused, type Schemas } from "../api/client";
import { fresh, thingsOf } from "../state/document";
import { edit, say, shownScene, useStore } from "../state/store";
import { apply, inverse, pageTops, type Point, rounded } from "./geometry";
import { pageMatrix } from "./paint";

/** Bring a picture and place it, its wrap on: by its contour when it has transparency, else by its outline. */
export async function placePicture(file: File, at?: Point) {
  const { document: open, view, pictures } = useStore.getState();
  const scene = shownScene();
  if (!open || !scene) return;
  say(`Bringing “${file.name}” …`);
  const form = new FormData();
  form.append("file", file);
  let picture;
  try {
    picture = await post<Schemas["PictureOut"]>("/api/pictures", form);
  } catch (error) {
    say(error instanceof Refused ? `“${file.name}”: ${error.message}` : String(error), "fault");
    return;
  }
  useStore.setState({ pictures: { ...pictures, [picture.file]: picture.url }, notice: null });
  const page = scene.pages[0];
  const scale = Math.min((page.width * 0.4) / picture.width, (page.height * 0.4) / picture.height);
  const [width, height] = [picture.width * scale, picture.height * scale];
  const centre: Point = at ? apply(inverse(pageMatrix(view, pageTops(scene)[0])), at) : [page.width / 2, page.height / 2];
  const id = fresh(thingsOf(open).map((t) => t.id), "o");
  const thing = {
    id,
    name: file.name.replace(/\.[^.]+$/, ""),
    x: rounded(centre[0] - width / 2),
    y: rounded(centre[1] - height / 2),
    width: rounded(width),
    height: rounded(height),
    picture: { file: picture.file, alt: "" },
    wrap: { by: picture.transparent ? "contour" : "outline", clearance: 9 },
  };
  const operation: Operation = { do: "splice", at: ["pages", 0, "objects"], from: open.pages[0].objects.length, remove: 0, insert: [thing] };
  if (await edit([operation], "Place picture")) useStore.setState({ selected: id, others: [] });
}

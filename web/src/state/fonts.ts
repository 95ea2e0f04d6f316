/** Fonts that users bring, and those that a document names and that are not there. */
import { knowFaces } from "./opening";
import { answer, api, post, Refused } from "../api/client";
import { readAgain } from "./sending";
import { useStore } from "./store";
import { say } from "./viewing";
import type { Scene } from "./seen";

/** Fonts that frames name and that are not there, each with the one that stands in and how many frames name it. */
export function absentFonts(scene: Scene | null): { family: string; by: string; frames: number }[] {
  const found = new Map<string, { family: string; by: string; frames: number }>();
  for (const nest of Object.values(scene?.nests ?? {}))
    for (const { family, by } of nest.absent)
      found.set(family, { family, by, frames: (found.get(family)?.frames ?? 0) + 1 });
  return [...found.values()];
}

/** What is said of them, or null. */
export function absentSaid(scene: Scene | null): string | null {
  const absent = absentFonts(scene);
  if (!absent.length) return null;
  const names = absent.map((f) => `“${f.family}”`).join(" and ");
  return `${absent.length === 1 ? `The font ${names} is` : `The fonts ${names} are`} not here: ${absent[0].by} stands in, so lines end elsewhere.`;
}

/** Choose font files of one's own and bring them. */
export function chooseFonts() {
  const input = document.createElement("input");
  input.type = "file";
  input.multiple = true;
  input.accept = ".ttf,.otf,.woff,.woff2";
  input.hidden = true;
  input.setAttribute("aria-label", "Font file");
  input.onchange = async () => {
    for (const file of input.files ?? []) await bringFont(file);
    input.remove();
  };
  input.oncancel = () => input.remove();
  document.body.append(input); // some browsers open nothing for an input outside the page
  input.click();
}

/** Keep a font file; what waited for it is set in it. */
export async function bringFont(file: File) {
  const form = new FormData();
  form.append("file", file);
  say(`Checking “${file.name}” …`);
  try {
    const families = await post<string[]>("/api/fonts", form);
    knowFaces(await answer(api.GET("/api/fonts", { params: { query: { document: useStore.getState().id } } })));
    if (absentFonts(useStore.getState().scene).some((f) => families.includes(f.family))) {
      await readAgain();
      return say(`${families.map((f) => `“${f}”`).join(", ")} is here: its copy is set in it again.`);
    }
    say(`${families.map((f) => `“${f}”`).join(", ")} can be used now.`);
  } catch (error) {
    say(error instanceof Refused ? `“${file.name}”: ${error.message}` : String(error), "fault");
  }
}

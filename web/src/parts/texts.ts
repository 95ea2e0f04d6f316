/** Text files that are brought as copy. */
import { base64 } from "../api/base64";
import { act, answer, api } from "../api/client";
import { edit } from "../state/sending";
import { say } from "../state/viewing";

export const TEXT_FILES = ".txt,.md,.markdown,.docx,.odt,text/plain,text/markdown";

export function isText(file: File): boolean {
  return /\.(txt|md|markdown|docx|odt)$/i.test(file.name) || file.type === "text/plain";
}

/** Bring a text file as an object's copy. */
export async function bringText(file: File, object: string, version: string, plain = false) {
  if (file.size > 20_000_000) {
    say(`“${file.name}” is larger than 20 MB.`, "fault");
    return false;
  }
  say(`Bringing “${file.name}” …`);
  const content = await base64(file);
  const done = await edit(act("bring-text", { object, version, name: file.name, content, plain }), "Bring text");
  if (done) {
    const behind = await leftBehind(file.name, content);
    say(`“${file.name}” is the copy of this frame now${behind}. Undo brings back what it held.`);
  }
  return done;
}

/** What of a text file is no copy, as the end of what is said of bringing it. */
export async function leftBehind(name: string, content: string): Promise<string> {
  if (/\.txt$/i.test(name)) return "";
  const what = await answer(api.POST("/api/texts/left-out", { body: { name, content } })).then(
    (out) => out.leftOut,
    () => [],
  );
  if (!what.length) return "";
  const said = [what.slice(0, -1).join(", "), what[what.length - 1]].filter(Boolean).join(" and ");
  return `, but for ${said}, which ${what.length === 1 && /^a /.test(said) ? "stays" : "stay"} behind`;
}

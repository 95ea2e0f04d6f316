/** The user's recipes: those that ship and their own, used in every document. */
import { knowLibrary } from "../state/opening";
import { post, type Schemas } from "../api/client";
import { answer, api } from "../api/client";
import { useStore } from "../state/store";
import { say } from "../state/viewing";

export type Recipe = Schemas["RecipeOut"];

const refused = (error: Error) => say(error.message, "fault");

export async function loadLibrary() {
  knowLibrary(await answer(api.GET("/api/recipes")));
}

/** Keep a recipe of the open document in the library. */
export async function keepInLibrary(name: string) {
  const open = useStore.getState().document;
  const rules = open?.recipes?.[name];
  if (!rules) return;
  await post<Recipe[]>("/api/recipes", { name, rules, colors: open.colors ?? {} }).then((all) => {
    knowLibrary(all);
    say(`“${name}” is in your library, for every document.`);
  }, refused);
}

export async function forNewFrames(name: string | null) {
  await post<Recipe[]>("/api/recipes/for-new-frames", { name }).then(knowLibrary, refused);
}

export async function dropFromLibrary(recipe: Recipe) {
  await post<Recipe[]>("/api/recipes/drop", { name: recipe.name }).then((all) => {
    knowLibrary(all);
    say(`“${recipe.name}” is taken out of your library. Documents that use it keep theirs.`, "said", {
      label: "Undo",
      run: () =>
        void post<Recipe[]>("/api/recipes", { name: recipe.name, rules: recipe.rules }).then(knowLibrary, refused),
    });
  }, refused);
}

export async function bringRecipes(file: File) {
  const form = new FormData();
  form.append("file", file);
  await post<Recipe[]>("/api/recipes/import", form).then((all) => {
    knowLibrary(all);
    say(`The recipes of “${file.name}” are in your library.`);
  }, refused);
}

/** What each rule is called. */
export const RULE_WORDS: Record<string, string> = {
  padding: "padding",
  give: "what gives",
  least: "least size",
  greatest: "greatest size",
  whole_pixels: "whole pixels",
  columns: "columns",
  gutter: "gutter",
  balance: "balanced columns",
  column_rule: "rule between columns",
  setting: "lines of a turned outline",
  sit: "where lines sit",
  lift: "lift",
  leaded: "limits of leading out",
  hang: "what it hangs from",
  hang_least: "least hang",
  stand: "what it stands on",
  band: "band of a line",
  fit_type: "type that follows",
  leftover: "what does not fit",
  wrap_lines: "lines wrapped",
  pushed: "wraps of others",
  least_slot: "least slot",
  arms: "arms",
  fill: "fill",
  stroke: "stroke",
  paint: "painted or not",
  wrap: "how other copy runs",
  text: "text style",
};

export function ruleWord(rule: string): string {
  return rule.startsWith("text.")
    ? `text: ${rule.slice(5).replaceAll("_", " ")}`
    : (RULE_WORDS[rule] ?? rule.replaceAll("_", " "));
}

/** The rules that a recipe holds, in words. */
export function heldSaid(rules: Record<string, unknown>): string {
  const names = [
    ...Object.keys((rules.frame as object) ?? {}),
    ...["fill", "stroke", "paint", "wrap", "text"].filter((rule) => rule in rules),
  ];
  const words = names.map(ruleWord);
  return words.length > 5 ? `${words.slice(0, 4).join(", ")} and ${words.length - 4} more` : words.join(", ");
}

/** Words of the copy that no dictionary of its language knows: asked of the server, marked in the galley. */
import type { Editor } from "@tiptap/react";
import { useEffect, useState } from "react";
import { post, type Schemas } from "../api/client";
import { useStore } from "../state/store";
import { spellingKey, wordsOf } from "./extensions";

export interface Spelling {
  language: string;
  /** Whether there is a dictionary for the copy's language. */
  known: boolean;
  unknown: string[];
}

/** Whether each word asked for is known, by language and word. */
const asked = new Map<string, boolean>();

/** What is misspelt, once nobody has typed for a moment. */
export function useSpelling(editor: Editor | null, language: string, epoch: number): Spelling {
  const [spelling, setSpelling] = useState<Spelling>({ language, known: true, unknown: [] });
  const own = useStore((s) => s.document?.words ?? NONE);
  useEffect(() => {
    if (!editor) return;
    let timer = 0;
    let gone = false;
    const look = async () => {
      const words = [
        ...new Set(editor.state.doc.children.flatMap((paragraph) => wordsOf(paragraph).map(({ word }) => word))),
      ];
      const fresh = words.filter((word) => !asked.has(`${language} ${word}`));
      let known = true;
      for (let at = 0; at < fresh.length && known; at += 2000) {
        const some = fresh.slice(at, at + 2000);
        const said = await post<Schemas["WordsOut"]>("/api/spelling", { language, words: some }).catch(() => ({
          known: false,
          unknown: [] as string[],
        }));
        known = said.known;
        if (!known) break;
        const found = new Set(said.unknown);
        for (const word of some) asked.set(`${language} ${word}`, !found.has(word));
      }
      if (gone || editor.isDestroyed) return;
      const mine = new Set(own);
      const unknown = known
        ? words.filter((word) => !mine.has(word) && asked.get(`${language} ${word}`) === false)
        : [];
      setSpelling({ language, known, unknown });
      editor.view.dispatch(editor.state.tr.setMeta(spellingKey, new Set(unknown)));
    };
    const later = () => {
      clearTimeout(timer);
      timer = window.setTimeout(() => void look(), 700);
    };
    later();
    editor.on("update", later);
    return () => {
      gone = true;
      clearTimeout(timer);
      editor.off("update", later);
    };
  }, [editor, language, epoch, own]);
  return spelling;
}

const NONE: string[] = [];

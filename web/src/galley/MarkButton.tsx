import { type Editor } from "@tiptap/react";
import { useEffect, useState } from "react";
import { keptKey } from "./extensions";

export function MarkButton({
  editor,
  mark,
  label,
  icon,
}: {
  editor: Editor | null;
  mark: "bold" | "italic" | "underline";
  label: string;
  icon: React.ReactNode;
}) {
  const [, count] = useState(0);
  useEffect(() => {
    if (!editor) return;
    const update = () => count((n) => n + 1);
    editor.on("transaction", update);
    return () => void editor.off("transaction", update);
  }, [editor]);
  const on = editor?.isActive(mark) ?? false;
  return (
    <button
      className={`grid size-6 place-items-center rounded-md ${on ? "bg-slot-wash text-slot-text" : "text-soft hover:bg-inset"}`}
      aria-label={label}
      aria-pressed={on}
      title={`${label} (Ctrl+${label[0]})`}
      onMouseDown={(event) => event.preventDefault()}
      onClick={() => editor && toggled(editor, mark, on)}
    >
      {icon}
    </button>
  );
}

/** Bold, italic or underlined, in everything that is chosen. */
function toggled(editor: Editor, mark: "bold" | "italic" | "underline", on: boolean) {
  const kept = keptKey.getState(editor.state) ?? [];
  if (!kept.length) return editor.chain().focus().toggleMark(mark).run();
  const { tr, schema, selection } = editor.state;
  for (const { from, to } of [...kept, selection]) {
    if (on) tr.removeMark(from, to, schema.marks[mark]);
    else if (from < to) tr.addMark(from, to, schema.marks[mark].create());
  }
  editor.view.dispatch(tr.setMeta(keptKey, kept));
}

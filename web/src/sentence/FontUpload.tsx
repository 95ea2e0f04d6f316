import { useRef } from "react";
import { answer, api, post, Refused } from "../api/client";
import { say, useStore } from "../state/store";

/** Bring a font of one's own. */
export function FontUpload() {
  const file = useRef<HTMLInputElement>(null);
  const bring = async (chosen: File) => {
    const form = new FormData();
    form.append("file", chosen);
    say(`Checking “${chosen.name}” …`);
    try {
      const families = await post<string[]>("/api/fonts", form);
      useStore.setState({ faces: await answer(api.GET("/api/fonts")) });
      say(`${families.map((f) => `“${f}”`).join(", ")} can be used now.`);
    } catch (error) {
      say(error instanceof Refused ? `“${chosen.name}”: ${error.message}` : String(error), "fault");
    }
  };
  return (
    <>
      <button className="button mb-1 w-full px-2.5 text-left text-slot-text" onClick={() => file.current?.click()}>
        Bring a font of your own …
      </button>
      <input
        ref={file}
        type="file"
        hidden
        aria-label="Font file"
        accept=".ttf,.otf,.woff,.woff2"
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          if (chosen) void bring(chosen);
          event.target.value = "";
        }}
      />
    </>
  );
}

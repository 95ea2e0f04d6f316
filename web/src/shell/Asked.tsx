import { askOver } from "../state/viewing";
import { Dialog, DialogPanel } from "@headlessui/react";
import type { ReactNode } from "react";
import { useStore } from "../state/store";
import { DoList } from "./DoList";
import { KeyList } from "./KeyList";
import { MeasureScreen } from "./MeasureScreen";
import { Homecoming } from "../translating/Homecoming";
import { SendOut } from "../translating/SendOut";
import { StrainPictures } from "../strain/Pictures";
import { comeHome } from "../translating/translating";
import { ShareDialog } from "../documents/ShareDialog";
import { Words } from "./Words";

/** What lies over the screen when it is asked for: "do …", the keyboard, the words, the measuring of the screen. */
export function Asked() {
  const asks = useStore((s) => s.asks);
  return (
    <>
      <Over open={asks === "do"} high>
        <DoList />
      </Over>
      <Over open={asks === "keys"}>
        <KeyList />
      </Over>
      <Over open={asks === "words"}>
        <Words />
      </Over>
      <Over open={asks === "screen"}>
        <MeasureScreen />
      </Over>
      <Over open={asks === "out"}>
        <SendOut />
      </Over>
      <Over open={asks === "home"}>
        <Homecoming />
      </Over>
      {asks === "share" && <ShareOpen />}
      <Over open={asks === "strained"}>
        <StrainPictures />
      </Over>
      <input
        id="translation-file"
        type="file"
        hidden
        aria-label="Translation"
        accept=".xlf,.xliff,.zip,.csv,application/xliff+xml,text/csv"
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          event.target.value = "";
          if (chosen) void comeHome(chosen);
        }}
      />
    </>
  );
}

function Over({ open, high, children }: { open: boolean; high?: boolean; children: ReactNode }) {
  return (
    <Dialog open={open} onClose={() => askOver(null)} className="relative z-50">
      <div
        className={`fixed inset-0 flex justify-center bg-black/25 p-6 ${high ? "items-start pt-[12vh]" : "items-center"}`}
      >
        <DialogPanel className="contents">{children}</DialogPanel>
      </div>
    </Dialog>
  );
}

function ShareOpen() {
  const id = useStore((s) => s.id);
  const title = useStore((s) => s.document?.title);
  if (id === null) return null;
  return <ShareDialog id={id} title={title || "Untitled"} onClose={() => askOver(null)} />;
}

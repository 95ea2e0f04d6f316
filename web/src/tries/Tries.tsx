import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import { useEffect, useRef, useState } from "react";
import { type Operation, post, type SceneOut } from "../api/client";
import { extentOf } from "../state/geometry";
import { onFontsReady } from "../drawing/fonts";
import { pictures } from "../drawing/pictures";
import { COLUMNS, HYPHEN } from "../drawing/records";
import { drawObject } from "../drawing/scene";
import { sceneOf } from "../state/model/opened";
import { edit } from "../state/sending";
import { useStore } from "../state/store";
import type { Scene } from "../state/seen";
import { Choice } from "../parts/Part";

interface Try {
  operations: Operation[];
  /** What shows it, under the strain that was asked for. */
  shown: Operation[];
  across: string;
  down: string;
  scene?: Scene;
}

const KINDS = [
  { value: "align", label: "alignment and size" },
  { value: "break", label: "line ends and hyphens" },
  { value: "letters", label: "fitted letters" },
  { value: "room", label: "padding and sit" },
] as const;
type Kind = (typeof KINDS)[number]["value"];

/** The same frame nested several ways, side by side, each live and with its figures; a click takes one. */
export function Tries({ id, onClose }: { id: string; onClose: () => void }) {
  const [kind, setKind] = useState<Kind>("align");
  const [by, setBy] = useState(0);
  const [tries, setTries] = useState<Try[]>([]);
  const [said, setSaid] = useState("");
  useEffect(() => {
    let gone = false;
    setTries([]);
    setSaid("");
    void (async () => {
      const open = useStore.getState();
      let made: Try[];
      try {
        made = await post<Try[]>(`/api/documents/${open.id}/tries`, {
          base: open.revision,
          object: id,
          kind,
          version: open.scene?.nests[id]?.version,
          strain: by,
        });
      } catch (error) {
        return void (!gone && setSaid(error instanceof Error ? error.message : String(error)));
      }
      if (gone) return;
      setTries([...made]);
      for (let i = 0; i < made.length && !gone; i++) {
        const { id: document, revision, scene } = useStore.getState();
        try {
          const out = await post<SceneOut>(`/api/documents/${document}/preview`, {
            base: revision,
            operations: made[i].shown,
          });
          if (gone || !scene) return;
          made[i] = { ...made[i], scene: sceneOf(scene, out) };
          setTries([...made]);
        } catch (error) {
          if (!gone) setSaid(error instanceof Error ? error.message : String(error));
        }
      }
    })();
    return () => void (gone = true);
  }, [id, kind, by]);
  // Beside a picture that is high its figures take less from it than below.
  const high = useStore((s) => {
    const box = s.scene?.objects[id] && extentOf(s.scene.objects[id]);
    return !!box && box.bottom - box.top > 0.8 * (box.right - box.left);
  });
  const columns = new Set(tries.map((t) => t.across)).size || 1;
  return (
    <Dialog open onClose={onClose} className="relative z-50">
      <div className="fixed inset-0 grid place-items-center bg-black/25 p-6">
        <DialogPanel className="card flex h-[calc(100vh-3rem)] w-full max-w-[1600px] flex-col p-6">
          <div className="flex items-center gap-6">
            <DialogTitle className="font-serif text-xl font-bold">Tries</DialogTitle>
            <div className="flex-1">
              <Choice columns={4} value={kind} options={KINDS} onChoose={setKind} />
            </div>
            <select
              className="field"
              aria-label="Under which strain"
              value={by}
              onChange={(event) => setBy(Number(event.target.value))}
            >
              <option value={0}>its own length</option>
              {[15, 30, 60].map((one) => (
                <option key={one} value={one}>
                  +{one} % strained
                </option>
              ))}
            </select>
            <button className="button" onClick={onClose}>
              Keep it as it is
            </button>
          </div>
          {said && <p className="mt-2 text-coral-text">{said}</p>}
          <div
            className="mt-4 grid min-h-0 flex-1 auto-rows-[minmax(11rem,1fr)] gap-3 overflow-y-auto"
            style={{ gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))` }}
          >
            {tries.map((one, index) => (
              <button
                key={`${kind} ${index}`}
                className={`flex min-h-0 rounded-lg border-2 border-line p-2 text-left hover:border-slot ${high ? "gap-3" : "flex-col gap-1.5"}`}
                aria-label={`${one.across}, ${one.down}`}
                onClick={() => {
                  onClose();
                  if (one.operations.length) void edit(one.operations, "Take a try");
                }}
              >
                <Picture scene={one.scene} id={id} />
                <span className={high ? "w-28 shrink-0 pt-1" : ""}>
                  <span className="block text-sm">
                    {one.across}, {one.down}
                  </span>
                  {!one.operations.length && <span className="block text-xs font-bold text-slot-text">as it is</span>}
                  <Figures scene={one.scene} id={id} each={high} />
                </span>
              </button>
            ))}
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}

/** Each on a line of its own, or all on one. */
function Figures({ scene, id, each }: { scene?: Scene; id: string; each: boolean }) {
  const nest = scene?.nests[id];
  if (!nest) return <span className="block text-xs text-soft">Nesting …</span>;
  let hyphens = 0;
  for (let row = 0; row < nest.records.length; row += COLUMNS) hyphens += nest.records[row + HYPHEN];
  const parts = [
    `${Math.round(nest.fill * 100)} % full`,
    nest.loosest > 0 ? `loosest line +${Math.round(nest.loosest * 100)} %` : "",
    hyphens ? `${hyphens} ${hyphens === 1 ? "hyphen" : "hyphens"}` : "",
    nest.rivers ? `${nest.rivers} ${nest.rivers === 1 ? "river" : "rivers"}` : "",
    nest.uneven >= 0.005 ? `word spaces ± ${Math.round(nest.uneven * 100)} %` : "",
  ];
  return (
    <span className="block text-xs text-soft tabular-nums">
      {each
        ? parts.filter(Boolean).map((part) => (
            <span key={part} className="block">
              {part}
            </span>
          ))
        : parts.filter(Boolean).join(" · ")}
      {nest.leftover > 0 && (
        <b className={`text-coral-text ${each ? "block" : ""}`}>
          {each ? "" : " · "}
          {nest.leftover} over
        </b>
      )}
    </span>
  );
}

function Picture({ scene, id }: { scene?: Scene; id: string }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const draw = () => {
      const element = canvas.current;
      const object = scene?.objects[id];
      if (!element || !scene || !object) return;
      const ratio = window.devicePixelRatio || 1;
      element.width = element.clientWidth * ratio;
      element.height = element.clientHeight * ratio;
      const ctx = element.getContext("2d")!;
      const page = scene.pages[object.page];
      const { left: x, top: y, right, bottom } = extentOf(object);
      const [w, h] = [right - x, bottom - y];
      const scale = Math.min((element.width - 8) / w, (element.height - 8) / h);
      ctx.setTransform(
        scale,
        0,
        0,
        scale,
        (element.width - w * scale) / 2 - x * scale,
        (element.height - h * scale) / 2 - y * scale,
      );
      ctx.fillStyle = page.background ?? "#fffdf8";
      ctx.fillRect(0, 0, page.width, page.height);
      for (const other of page.order)
        drawObject(ctx, scene, other, pictures, { clean: false, leftoverColor: "#e2553c" });
    };
    const sizes = new ResizeObserver(draw); // draws at once, too
    sizes.observe(canvas.current!);
    const stop = onFontsReady(draw);
    return () => (sizes.disconnect(), stop());
  }, [scene, id]);
  return (
    <span className="relative block min-h-0 flex-1">
      <canvas ref={canvas} className="absolute inset-0 h-full w-full rounded-md bg-inset" />
    </span>
  );
}

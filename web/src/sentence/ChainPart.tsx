import { selectOnly } from "../state/choosing";
import { useState } from "react";
import { act } from "../api/client";
import { type Thing, thingsOf } from "../state/document";
import { labelOf } from "../state/naming";
import { edit, keepTried } from "../state/sending";
import { useStore } from "../state/store";
import { stopTrying, tryOut } from "../state/trying";
import { say } from "../state/viewing";
import { Part, Rest } from "../parts/Part";

/** Where a frame's copy comes from and goes on, and what can be done about that. */
export function ChainPart({ thing }: { thing: Thing }) {
  // By what is stored: what is pointed at to try it must not go away.
  const nest = useStore((s) => s.scene?.nests[thing.id]);
  const open = useStore((s) => s.document);
  const scene = useStore((s) => s.scene);
  if (!nest || !open || !scene || thing.frame?.wrap_lines === false) return null;
  const chain = nest.chain;
  const things = thingsOf(open);
  const page = (id: string) => scene.objects[id]?.page ?? nest.page;
  const elsewhere = (id: string) => (page(id) !== nest.page ? ` on page ${page(id) + 1}` : "");
  const named = (id: string) => things.find((t) => t.id === id)?.name;
  // Frames of a chain are called by the same words: without a name of its own each has its number.
  const called = (id: string) => `${named(id) || `frame ${chain!.frames.indexOf(id) + 1}`}${elsewhere(id)}`;
  const last = chain?.frames.at(-1) === thing.id;
  const said = !chain
    ? "ends in this frame"
    : `${chain.before ? `comes from ${called(chain.before)}` : "begins here"}${last ? " and ends here" : ` and goes on in ${called(chain.after!)}`}`;
  const others = things.filter(
    (t) =>
      t.id !== thing.id &&
      !t.picture &&
      !chain?.frames.includes(t.id) &&
      scene.objects[t.id] &&
      !scene.objects[t.id].hidden &&
      t.frame?.wrap_lines !== false,
  );
  const link = (to: string) => act("link", { frame: thing.id, to, version: nest.version });
  return (
    <Rest of="chain" plain={!chain && nest.leftover === 0}>
      {" "}
      It{" "}
      <Part name="chain" title="Where the copy goes on" said={said} width="w-96">
        {(close) => (
          <div className="space-y-3" onMouseLeave={stopTrying}>
            {chain && (
              <ol className="space-y-0.5">
                {chain.frames.map((id, index) => (
                  <li key={id} className={`flex items-baseline gap-2 ${id === thing.id ? "font-bold" : ""}`}>
                    <span className="w-4 text-right text-soft tabular-nums">{index + 1}</span>
                    <button
                      className="min-w-0 flex-1 truncate text-left hover:underline"
                      onClick={() => (close(), selectOnly(id))}
                    >
                      {named(id) ? `${named(id)}${elsewhere(id)}` : `on page ${page(id) + 1}`}
                    </button>
                    <span className="text-xs font-normal text-soft tabular-nums">
                      {scene.nests[id] ? `${scene.nests[id].wordsHeld} words` : "hidden"}
                    </span>
                  </li>
                ))}
              </ol>
            )}
            <div>
              <h4 className="eyebrow mb-1">{chain && !last ? "Put a frame in between" : "Let it go on in"}</h4>
              <div className="scroller max-h-40">
                <button
                  className="button -ml-3 block w-full text-left"
                  onMouseEnter={() => tryOut(act("go-on", { frame: thing.id }))}
                  onClick={() => (close(), void keepTried(act("go-on", { frame: thing.id }), "Go on in another frame"))}
                >
                  a new frame of the same kind
                </button>
                {others.map((other) => (
                  <button
                    key={other.id}
                    className="button -ml-3 block w-full truncate text-left"
                    onMouseEnter={() => tryOut(link(other.id))}
                    onClick={() => (close(), void keepTried(link(other.id), "Go on in another frame"))}
                  >
                    {labelOf(other)}
                    {elsewhere(other.id)}
                    {other.frame && scene.nests[other.id]?.words ? (
                      <span className="text-xs text-soft">
                        {" "}
                        · its own {scene.nests[other.id].words} words come behind
                      </span>
                    ) : null}
                  </button>
                ))}
              </div>
              <p className="mt-1 text-xs text-soft">
                Or drag the tag at the frame’s end onto another frame or an empty place.
              </p>
            </div>
            {chain && (
              <div className="border-t border-line pt-2">
                {!last && (
                  <>
                    <button
                      className="button -ml-3 block"
                      onClick={() => (close(), void edit(act("cut-chain", { frame: thing.id }), "Cut the chain"))}
                    >
                      Cut behind this frame: each side keeps its words
                    </button>
                    <button
                      className="button -ml-3 block"
                      onClick={() => (
                        close(),
                        void edit(act("cut-chain", { frame: thing.id, words: "stay" }), "Cut the chain")
                      )}
                    >
                      Cut behind it: all words stay here
                    </button>
                  </>
                )}
                <button
                  className="button -ml-3 block"
                  onClick={() => (
                    close(),
                    void edit(act("take-out-of-chain", { frame: thing.id }), "Take out of the chain")
                  )}
                >
                  Take this frame out: the copy passes it by
                </button>
              </div>
            )}
            {chain && !last && (
              <JumpLines
                thing={thing}
                after={chain.after!}
                continued={chain.continued}
                version={nest.version}
                close={close}
              />
            )}
          </div>
        )}
      </Part>
      .
    </Rest>
  );
}

/** Lines that say where the copy goes on, or where it comes from. */
function JumpLines({
  thing,
  after,
  continued,
  version,
  close,
}: {
  thing: Thing;
  after: string;
  continued: readonly string[];
  version: string;
  close: () => void;
}) {
  const scene = useStore((s) => s.scene);
  const [to, setTo] = useState(continued[0]);
  const [from, setFrom] = useState(continued[1]);
  const page = (id: string) => (scene?.objects[id]?.page ?? 0) + 1;
  const put = (kind: "to" | "from", words: string) => {
    close();
    void edit(act("jump-line", { frame: thing.id, kind, words, version }), "Jump line").then(
      (made) => made && say("The jump line is tied to its frame; its page number stays right by itself."),
    );
  };
  return (
    <div className="space-y-1.5 border-t border-line pt-2">
      <h4 className="eyebrow">Jump lines</h4>
      {(
        [
          ["to", to, setTo, page(after), "below this frame"],
          ["from", from, setFrom, page(thing.id), "above the next"],
        ] as const
      ).map(([kind, words, set, number, where]) => (
        <div key={kind} className="flex items-center gap-2">
          <input
            className="field min-w-0 flex-1 px-2 py-1"
            aria-label={kind === "to" ? "Wording of the line that leads on" : "Wording of the line that leads back"}
            value={words}
            onChange={(event) => set(event.target.value)}
            onKeyDown={(event) => event.key === "Enter" && put(kind, words)}
          />
          <span className="tabular-nums">{number}</span>
          <button className="button shrink-0 px-2 py-1" onClick={() => put(kind, words)}>
            {where}
          </button>
        </div>
      ))}
    </div>
  );
}

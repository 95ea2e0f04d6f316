import { apply, extentOf, pagePlaces, type Point } from "../state/geometry";
import { pageMatrix } from "../state/geometry";
import { shownScene, useStore } from "../state/store";
import { about, comesTo, cure, faultsOf, type Finding, useFindings } from "../findings/findings";

/** Cures that are offered at the words themselves; the list has all. */
const MOST = 2;

/** Thin marks on the page at the words that faults speak of; what is read is drawn round. */
export function FindingMarks() {
  const { found, at, revision, of, cures } = useFindings();
  const view = useStore((s) => s.view);
  const hidden = useStore((s) => s.clean || s.quiet || s.tried !== null || s.revision !== revision || s.id !== of);
  const scene = shownScene();
  if (hidden || !scene) return null;
  const tops = pagePlaces(scene);
  const boxes = (one: Finding) =>
    one.marks.flatMap((mark, index) => {
      if (!tops[one.page]) return [];
      const m = pageMatrix(view, tops[one.page]);
      const [left, top] = apply(m, [mark[0], mark[1]] as Point);
      const [right, bottom] = apply(m, [mark[2], mark[3]] as Point);
      return [{ key: `${about(one)} ${index}`, left, top, width: right - left, height: bottom - top }];
    });
  const read = found.find((one) => about(one) === at);
  // Above the whole object, so that it lies on no copy of it.
  const object = read && scene.objects[read.object];
  const corner = object && apply(pageMatrix(view, tops[object.page]), [extentOf(object).left, extentOf(object).top]);
  const mending = (cures ?? []).filter((made) => made.mends).slice(0, MOST);
  return (
    <div className="pointer-events-none absolute inset-0 overflow-hidden">
      {faultsOf(found)
        .filter((one) => one.shown === "words" && about(one) !== at)
        .flatMap((one) =>
          boxes(one).map(({ key, left, top, width, height }) => (
            <span
              key={key}
              className="absolute border-b-2 border-dotted border-coral"
              style={{ left, top, width, height: height + 1 }}
            />
          )),
        )}
      <svg aria-hidden className="absolute inset-0 h-full w-full">
        {found
          .filter((one) => one.shown === "line" && !one.neverMind)
          .map((one) => (
            <polyline
              key={about(one)}
              data-line={one.kind}
              fill="none"
              stroke="var(--color-coral)"
              strokeWidth={about(one) === at ? 3 : 1.5}
              strokeLinecap="round"
              strokeLinejoin="round"
              points={boxes(one)
                .flatMap(({ left, top, width, height }) => [
                  `${left + width / 2},${top}`,
                  `${left + width / 2},${top + height}`,
                ])
                .join(" ")}
            />
          ))}
      </svg>
      {read &&
        read.shown !== "line" &&
        boxes(read).map(({ key, left, top, width, height }) => (
          <span
            key={key}
            className="absolute rounded-[3px] border-2 border-coral bg-coral/10"
            style={{ left: left - 2, top: top - 2, width: width + 4, height: height + 4 }}
          />
        ))}
      {corner && !read.neverMind && mending.length > 0 && (
        <div
          role="group"
          aria-label="What mends it"
          className="card pointer-events-auto absolute flex gap-1 p-1 text-xs"
          style={{ left: Math.max(corner[0], 24), top: Math.max(corner[1] - 46, 24) }}
        >
          {mending.map((made) => (
            <button
              key={made.label}
              className="button min-h-6 px-2 py-0.5 font-bold whitespace-nowrap text-slot-text"
              title={comesTo(made)}
              onClick={() => void cure(made)}
            >
              {made.label}
            </button>
          ))}
        </div>
      )}
    </div>
  );
}

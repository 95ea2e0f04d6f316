import { cancel, useJobs } from "../state/jobs";

/** What is being worked out apart, at the lower right: how far it is, and a way to end it. */
export function Jobs() {
  const followed = useJobs((s) => s.followed);
  if (!followed.length) return null;
  return (
    <section
      aria-label="In the making"
      className="card fixed right-4 bottom-4 z-40 w-80 divide-y divide-line px-4 py-1"
    >
      {followed.map(({ job, label }) => {
        const percent = Math.round(job.share * 100);
        const said = job.state === "waiting" ? "waits for its turn" : `${percent} %`;
        return (
          <div key={job.id} className="py-2.5">
            <div className="flex items-baseline gap-2">
              <span className="min-w-0 flex-1 truncate font-bold">{label}</span>
              <span className="text-xs text-soft tabular-nums">{said}</span>
              <button
                className="text-xs font-bold underline underline-offset-2"
                aria-label={`Cancel: ${label}`}
                onClick={() => void cancel(job)}
              >
                Cancel
              </button>
            </div>
            <div
              role="progressbar"
              aria-label={label}
              aria-valuenow={percent}
              aria-valuemin={0}
              aria-valuemax={100}
              className="mt-2 h-1.5 overflow-hidden rounded-full bg-inset"
            >
              <div
                className="h-full rounded-full bg-slot transition-[width]"
                style={{ width: `${Math.max(percent, 2)}%` }}
              />
            </div>
          </div>
        );
      })}
    </section>
  );
}

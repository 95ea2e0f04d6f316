/** What the server works out apart, because it takes long: how far it is, and what came of it. */
import { create } from "zustand";
import { answer, api, post, Refused, type Schemas } from "../api/client";
import { sentence } from "./sentence";
import { say } from "./viewing";

export type Job = Schemas["JobOut"];
interface Followed {
  job: Job;
  label: string;
}

export const useJobs = create<{ followed: Followed[] }>(() => ({ followed: [] }));
const waiting = new Set<number>();

const put = (job: Job, label: string) =>
  useJobs.setState(({ followed }) => ({
    followed: followed.some((f) => f.job.id === job.id)
      ? followed.map((f) => (f.job.id === job.id ? { ...f, job } : f))
      : [...followed, { job, label }],
  }));
const drop = (id: number) =>
  useJobs.setState(({ followed }) => ({ followed: followed.filter((f) => f.job.id !== id) }));
const open = (job: Job) => job.state === "waiting" || job.state === "running";
const LABELS = {
  export: "Making a file",
  import: "Bringing in a document",
  trace: "Tracing a contour",
  desk: "At the translation desk",
  account: "Gathering all that is yours",
};

/** Show a job until it has ended; how it ended. While the server does not answer it is asked again. */
export async function follow(given: Job, label: string): Promise<Job> {
  let job = given;
  waiting.add(job.id);
  put(job, label);
  for (let pause = 250; open(job); pause = Math.min(1000, pause * 1.2)) {
    await new Promise((resolve) => setTimeout(resolve, pause));
    try {
      job = await answer(api.GET("/api/jobs/{job_id}", { params: { path: { job_id: job.id } } }));
    } catch (error) {
      if (error instanceof Refused && error.status === 404) job = { ...job, state: "failed", said: error.message };
      else if (error instanceof Refused && error.status === 401) break;
    }
    put(job, label);
  }
  drop(job.id);
  waiting.delete(job.id);
  return job;
}

export async function cancel(job: Job) {
  try {
    put(await answer(api.DELETE("/api/jobs/{job_id}", { params: { path: { job_id: job.id } } })), "");
  } catch (error) {
    say((error as Error).message, "fault");
  }
}

/** What was being worked out when this window was closed is shown again. */
export async function takeUpJobs() {
  const jobs = await answer(api.GET("/api/jobs")).catch(() => []);
  for (const job of jobs.filter((one) => open(one) && one.kind !== "trace" && !waiting.has(one.id)))
    void follow(job, LABELS[job.kind]).then((ended) =>
      ["export", "desk", "account"].includes(ended.kind)
        ? arrived(ended)
        : ended.state === "failed" && say(sentence(ended.said || "this could not be worked out"), "fault"),
    );
}

/** Have a file of a document: at once, or as soon as it is worked out. */
export async function exportDocument(id: number, wanted: Schemas["ExportIn"], label: string) {
  try {
    const { url, job } = await post<Schemas["ExportOut"]>(`/api/documents/${id}/exports`, wanted);
    if (job) arrived(await follow(job, label));
    else if (url) await download(url);
  } catch (error) {
    say((error as Error).message, "fault");
  }
}

function arrived(job: Job) {
  if (job.state === "failed") return say(sentence(job.said || "this could not be worked out"), "fault");
  if (job.state !== "done" || !job.url) return;
  save(job.url, job.name);
  say(`“${job.name}” is made; it is kept for a week.`, "said", {
    label: "Save again",
    run: () => save(job.url!, job.name),
  });
}

export async function download(url: string) {
  const answered = await fetch(url);
  if (!answered.ok)
    throw new Refused(
      ((await answered.json().catch(() => null)) as { message?: string } | null)?.message ??
        "The file could not be made. Nothing was changed.",
      answered.status,
    );
  const name = answered.headers.get("Content-Disposition")?.match(/filename="([^"]+)"/)?.[1] ?? "document";
  const local = URL.createObjectURL(await answered.blob());
  save(local, name);
  setTimeout(() => URL.revokeObjectURL(local), 60000);
}

function save(url: string, name: string) {
  const link = document.createElement("a");
  link.href = url;
  link.download = name;
  link.click();
}

/** Have all that is one's own here, as soon as it is worked out. */
export async function exportAccount() {
  try {
    arrived(await follow(await post<Job>("/api/account/data", {}), LABELS.account));
  } catch (error) {
    say((error as Error).message, "fault");
  }
}

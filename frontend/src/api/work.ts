import { api, data, Refusal, type Schemas } from "./client";
import { worthAnother } from "./healing";

export type Work = Schemas["WorkOut"];
const SOON_MS = 120;
const LATER_MS = 600;

export const isOpen = (work: Pick<Work, "state">) => work.state === "waiting" || work.state === "going";
export const showWork = (id: number, signal?: AbortSignal) =>
  data(api.GET("/api/work/{work_id}", { params: { path: { work_id: id } }, signal }));
export const stopWork = (id: number) => data(api.DELETE("/api/work/{work_id}", { params: { path: { work_id: id } } }));

/** Resolves after a while, or rejects when the page no longer wants it. */
export const pause = (ms: number, signal?: AbortSignal) =>
  new Promise<void>((resolve, reject) => {
    const timer = window.setTimeout(resolve, ms);
    signal?.addEventListener("abort", () => {
      window.clearTimeout(timer);
      reject(signal.reason);
    });
  });

/** Work that was started, once it is done; what failed is thrown with the field that is wrong. */
export async function worked(started: Promise<Work>, signal?: AbortSignal): Promise<Work> {
  let work = await started;
  let failures = 0;
  for (let tries = 0; isOpen(work); tries += 1) {
    await pause(tries < 10 ? SOON_MS : LATER_MS, signal);
    try {
      work = await showWork(work.id, signal);
    } catch (error) {
      if (!worthAnother(failures++, error)) throw error; // the work goes on, whether or not it can be looked at
    }
  }
  const { problem } = work;
  if (problem) throw new Refusal(422, `${problem.message} ${problem.remedy}`.trim(), [problem]);
  return work;
}

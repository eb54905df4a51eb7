import { del, get, keys, set } from "idb-keyval";
import { Away, api, data, Refusal, type Schemas } from "../api/client";

export type JobSheet = Schemas["JobSheetOut"];
export type Entry = Schemas["Entry"];
/** Something done on a sheet that has not come to the server yet; `refused` says why it does not take it. */
export type Waiting = { sheet: number; order: number; refused?: string } & (
  | { entry: Entry }
  | { photo: Blob; step: string; key: string }
);
export const keyOf = (item: Waiting) => ("entry" in item ? item.entry.key : item.key);

/** Whether something done stands in the sheet as the server has it. */
export const hasCome = (item: Waiting, sheet: JobSheet | undefined) =>
  sheet !== undefined && (sheet.keys.includes(keyOf(item)) || sheet.photos.some((photo) => photo.key === keyOf(item)));

/** Where things are kept: the device's database; in tests a map. */
export type Store = {
  get: <T>(key: string) => Promise<T | undefined>;
  set: (key: string, value: unknown) => Promise<void>;
  del: (key: string) => Promise<void>;
  keys: () => Promise<string[]>;
};

const device: Store = {
  get: (key) => get(key),
  set: (key, value) => set(key, value),
  del: (key) => del(key),
  keys: async () => (await keys()).map(String),
};

/** What a line to the server does with one thing; it throws `Away` while there is none. */
export type Send = (waiting: Waiting) => Promise<JobSheet | null>;

const sendOne: Send = async (waiting) => {
  const path = { sheet_id: waiting.sheet };
  if ("entry" in waiting)
    return data(api.POST("/api/sheets/{sheet_id}/entries", { params: { path }, body: { entries: [waiting.entry] } }));
  await data(
    api.PUT("/api/sheets/{sheet_id}/photos/{step}/{key}", {
      params: { path: { ...path, step: waiting.step, key: waiting.key } },
      body: waiting.photo as never,
      bodySerializer: (body: unknown) => body as Blob,
      headers: { "Content-Type": "application/octet-stream" },
    }),
  );
  return null;
};

/** Whether an answer says nothing of what was sent: nobody is signed in, or the server cannot take it just now. */
export const passes = (status: number) => [401, 408, 425, 429].includes(status) || status >= 500;

/**
 * Sheets and what is done on them, kept on the device by account and sent in order.
 *
 * What was sent without an answer is sent again: its key makes it count once. What the server refuses stays, with the
 * reason, until the person takes it back; what comes after it goes on.
 */
export class Queue {
  private sending: Promise<JobSheet | null> | null = null;
  private last = 0;

  constructor(
    private readonly account: string,
    private readonly store: Store = device,
    private readonly send: Send = sendOne,
    private readonly now: () => number = Date.now,
  ) {}

  private prefix(kind: "sheet" | "wait") {
    return `wheelometron.${kind}.${this.account}.`;
  }

  keepSheet(sheet: JobSheet) {
    return this.store.set(`${this.prefix("sheet")}${sheet.id}`, sheet);
  }

  keptSheet(id: number) {
    return this.store.get<JobSheet>(`${this.prefix("sheet")}${id}`);
  }

  /** What waits, of one sheet or of all, in the order in which it was done. */
  async waiting(sheet?: number): Promise<Waiting[]> {
    const found = await Promise.all(
      (await this.store.keys())
        .filter((key) => key.startsWith(this.prefix("wait")))
        .map((key) => this.store.get<Waiting>(key)),
    );
    return found
      .filter((item): item is Waiting => item !== undefined && (sheet === undefined || item.sheet === sheet))
      .sort((a, b) => a.order - b.order);
  }

  private keyOf(item: Waiting) {
    return `${this.prefix("wait")}${keyOf(item)}`;
  }

  /** Keep something that was done; it rejects where the device is full. A clock that goes back does not change the order. */
  async add(item: { sheet: number } & ({ entry: Entry } | { photo: Blob; step: string; key: string })) {
    const orders = (await this.waiting()).map((other) => other.order);
    this.last = Math.max(this.now(), this.last + 1, ...orders.map((order) => order + 1));
    const kept = { ...item, order: this.last } as Waiting;
    await this.store.set(this.keyOf(kept), kept);
  }

  /** Have something that was refused sent again. */
  again(item: Waiting) {
    const { refused: _, ...open } = item;
    return this.store.set(this.keyOf(item), open);
  }

  /** Nothing of the sheets stays on the device; what was done and not sent does. */
  async forgetSheets() {
    for (const key of await this.store.keys()) if (key.startsWith("wheelometron.sheet.")) await this.store.del(key);
  }

  drop(item: Waiting) {
    return this.store.del(this.keyOf(item));
  }

  /**
   * Send what waits, one after the other, and what is added meanwhile; the newest state of the sheet, where the server
   * said one. Throws `Away`.
   */
  flush(sheet?: number): Promise<JobSheet | null> {
    this.sending ??= this.sendAll(sheet).finally(() => {
      this.sending = null;
    });
    return this.sending;
  }

  private async sendAll(sheet?: number) {
    let newest: JobSheet | null = null;
    for (;;) {
      const item = (await this.waiting(sheet)).find((other) => !other.refused);
      if (!item) break;
      try {
        newest = (await this.send(item)) ?? newest;
        await this.drop(item);
      } catch (error) {
        if (!(error instanceof Refusal)) throw error;
        if (passes(error.status)) throw new Away();
        const reason = error.problems[0] ? `${error.problems[0].message} ${error.problems[0].remedy}` : error.message;
        await this.store.set(this.keyOf(item), { ...item, refused: reason });
      }
    }
    if (newest) await this.keepSheet(newest);
    return newest;
  }
}

const queues = new Map<string, Queue>();

/** The queue of an account: one for all pages, so that one thing at a time is sent. */
export function queueOf(account: string) {
  const found = queues.get(account) ?? new Queue(account);
  queues.set(account, found);
  return found;
}

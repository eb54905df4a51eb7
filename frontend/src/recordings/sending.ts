import { Away, api, data, Refusal } from "../api/client";
import { pause } from "../api/work";
import type { RecordingOut } from "./queries";

const PIECE_BYTES = 1_000_000;
const MOST_TRIES = 20;

/** Send a file in pieces, each until it has come, and have it read; a slow or broken line only makes it later. */
export async function sendRecording(
  vehicle: number,
  file: File,
  progress: (share: number) => unknown,
  signal?: AbortSignal,
): Promise<RecordingOut> {
  const made = await data(
    api.POST("/api/vehicles/{vehicle_id}/recordings", {
      params: { path: { vehicle_id: vehicle } },
      body: { name: file.name.slice(-120), size_bytes: file.size },
      signal,
    }),
  );
  const path = { recording_id: made.id };
  const send = async (number: number) => {
    const begin = number * PIECE_BYTES;
    const content = await file.slice(begin, begin + PIECE_BYTES).arrayBuffer();
    await api.PUT("/api/recordings/{recording_id}/pieces/{number}", {
      params: { path: { ...path, number } },
      headers: { "Content-Type": "application/octet-stream" },
      body: content as never,
      bodySerializer: (body: unknown) => body as ArrayBuffer,
      signal,
    });
  };
  const pieces = Math.ceil(file.size / PIECE_BYTES);
  for (let number = 0; number < pieces; number += 1) {
    progress(number / pieces);
    for (let tries = 0; ; tries += 1) {
      try {
        await send(number);
        break;
      } catch (error) {
        if (!(error instanceof Away) || tries >= MOST_TRIES) throw error;
        await pause(error.retryMs, signal);
      }
    }
  }
  progress(1);
  return data(api.POST("/api/recordings/{recording_id}/read", { params: { path }, body: NOTHING_SAID, signal }));
}

export const NOTHING_SAID = {
  columns: null,
  dbc: "",
  signals: null,
  threshold: null,
  hysteresis: null,
  rising: true,
  roles: {},
};

/** What was wrong, in words. */
export const refusalOf = (error: unknown) =>
  error instanceof Refusal && error.problems[0]
    ? `${error.problems[0].message} ${error.problems[0].remedy}`
    : (error as Error).message;

import { keepPreviousData, useQueries, useQuery } from "@tanstack/react-query";
import { api, data, file, type Installation, newKey, Refusal, type Schemas } from "../../../api/client";

export type BenchFrame = Schemas["BenchFrame"];
export type Faults = Schemas["Faults"];
export const NO_FAULTS: Faults = {
  noise: 0,
  runout_mm: 0,
  missing: 0,
  bounce_ms: 0,
  open_every_s: 0,
  open_for_ms: 0,
  seed: 0,
};
export type Run = Schemas["Run"];

const asked = { placeholderData: keepPreviousData, staleTime: Infinity, gcTime: 10_000 } as const;

/** The document that the server knows by a key. */
export type Sent = { key: string; document?: Installation };

const askMoment = (body: Schemas["MomentIn"]) => data(api.POST("/api/bench/moment", { body }));

/** The bench at one moment; the document goes along when it changed, or when the server does not know it any more. */
export async function fetchMoment(sent: Sent, document: Installation, moment: Schemas["Moment"]) {
  const known = sent.document === document;
  if (!known) sent.key = newKey();
  const { key } = sent;
  try {
    const frame = await askMoment({ key, document: known ? null : document, moment });
    sent.document = document;
    return frame;
  } catch (error) {
    if (!(known && error instanceof Refusal && error.status === 409)) throw error;
    return askMoment({ key, document, moment });
  }
}

/** The test card of one readout. */
export const useCard = (document: Installation, readout: number) =>
  useQuery({
    ...asked,
    queryKey: ["card", readout, JSON.stringify(document)],
    queryFn: () => data(api.POST("/api/bench/card", { body: { document, readout } })),
  });

/** The document after what its card advises was entered. */
export const enterCard = (document: Installation, readout: number) =>
  data(api.POST("/api/bench/card/apply", { body: { document, readout } }));

/** The document with a test in its records, and what that test verifies. */
export const recordTest = (document: Installation, record: Schemas["TestRecordInput"]) =>
  data(api.POST("/api/bench/record", { body: { document, record } }));

/** The document with one stage verified by a test that agreed. */
export const verifyStage = (document: Installation, verified: Omit<Schemas["VerifyIn"], "document">) =>
  data(api.POST("/api/bench/verify", { body: { document, ...verified } }));

/** The document with shown against true speed among its observations. */
export const observeChain = (document: Installation, comparison: Schemas["SpeedComparison"]) =>
  data(api.POST("/api/bench/observe", { body: { document, comparison } }));

/** One readout over speed, with what the law permits. */
export const useOverSpeed = (document: Installation, readout: number) =>
  useQuery({
    queryKey: ["over-speed", readout, JSON.stringify(document)],
    queryFn: () => data(api.POST("/api/over-speed", { body: { document, readout, max_speed_kmh: null } })),
    placeholderData: keepPreviousData,
  });

/** What runs there and back say, of each setting that they were run with. */
export const useRunsByHand = (groups: Schemas["ReciprocalIn"][]) =>
  useQueries({
    queries: groups.map((body) => ({
      queryKey: ["runs by hand", body],
      queryFn: ({ signal }: { signal: AbortSignal }) => data(api.POST("/api/bench/reciprocal", { body, signal })),
      enabled: body.runs.length > 1,
      placeholderData: keepPreviousData,
      staleTime: Infinity,
    })),
  });

export const fetchCardPdf = (document: Installation, readout: number, installation_id: number) =>
  file(
    api.POST("/api/bench/card/pdf", {
      params: { query: { installation_id } },
      body: { document, readout },
      parseAs: "blob",
    }),
  );

type Hand = { turns: string; waves: string; seconds: string };

/** What to expect of a wheel turned, and a magnet waved, by hand. */
export const useHand = (document: Installation, { turns, waves, seconds }: Hand) =>
  useQuery({
    ...asked,
    queryKey: ["hand", turns, waves, seconds, JSON.stringify(document)],
    queryFn: () =>
      data(
        api.POST("/api/bench/hand", {
          body: { document, turns: turns || null, waves: waves || null, seconds: seconds || null },
        }),
      ),
  });

type Pairs = { readout: number; pairs: { true_kmh: string; shown_kmh: string }[] };

/** The pattern of readings beside the true speed, and its likely causes; nothing is asked without a pair. */
export const useReadings = (document: Installation, readings: Pairs) =>
  useQuery({
    ...asked,
    enabled: readings.pairs.length > 0,
    queryKey: ["readings", JSON.stringify([document, readings])],
    queryFn: () => data(api.POST("/api/bench/readings", { body: { document, readings } })),
  });

export const startRun = (document: Installation, run: Run) =>
  data(api.POST("/api/bench/runs", { body: { document, run } }) as Promise<{ data?: Schemas["WorkOut"] }>);

export type FileKind = "csv" | "vcd" | "nmea";
export const fetchFile = (kind: FileKind, document: Installation, run: Run) =>
  file(
    api.POST("/api/bench/files/{kind}", {
      params: { path: { kind } },
      body: { document, run },
      parseAs: "blob",
    }),
  );

/** What was refused, in words: the first field's, with its remedy. */
export const messageOf = (error: Error) => {
  const first = error instanceof Refusal ? error.problems[0] : undefined;
  return first ? `${first.message} ${first.remedy}` : error.message;
};

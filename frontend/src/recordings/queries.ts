import { keepPreviousData, queryOptions, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, file, type Installation, type Schemas } from "../api/client";
import { askAgain } from "../api/healing";
import { worked } from "../api/work";
import { t } from "../ui/words";

export type RecordingOut = Schemas["RecordingOut"];
export type Reading = Schemas["ReadingOut"];
export type ReadAs = Schemas["ReadAs"];
export type Wanted = Schemas["CheckWanted"];
export type Proof = Schemas["Proof"];
const ASK_EVERY_MS = 400;
const kept = { placeholderData: keepPreviousData, staleTime: Infinity, gcTime: 60_000 } as const;

export const recordingKeys = {
  ofVehicle: (vehicle: number) => ["recordings", "of", vehicle] as const,
  one: (id: number) => ["recordings", id] as const,
  results: (id: number) => ["recordings", id, "results"] as const,
};

export const useRecordings = (vehicle: number | undefined) =>
  useQuery({
    queryKey: recordingKeys.ofVehicle(vehicle ?? 0),
    enabled: vehicle !== undefined,
    queryFn: ({ signal }) =>
      data(
        api.GET("/api/vehicles/{vehicle_id}/recordings", { params: { path: { vehicle_id: vehicle ?? 0 } }, signal }),
      ),
    refetchInterval: ({ state }) =>
      askAgain(state.error, state.data?.some((item) => item.state === "reading") ? ASK_EVERY_MS : false),
  });

/** A recording and how it is read; asked again while it is being read. */
export const recordingQuery = (id: number) =>
  queryOptions({
    queryKey: recordingKeys.one(id),
    queryFn: ({ signal }) =>
      data(api.GET("/api/recordings/{recording_id}", { params: { path: { recording_id: id } }, signal })),
  });
export const useRecording = (id: number | null) =>
  useQuery({
    ...recordingQuery(id ?? 0),
    enabled: id !== null,
    refetchInterval: ({ state }) =>
      askAgain(state.error, state.data?.recording.state === "reading" ? ASK_EVERY_MS : false),
  });

/** Have a recording read in another way. */
export function useReadAgain(id: number) {
  const client = useQueryClient();
  return useMutation({
    meta: { what: t("Reading the recording") },
    mutationFn: (readAs: ReadAs) =>
      data(api.POST("/api/recordings/{recording_id}/read", { params: { path: { recording_id: id } }, body: readAs })),
    onSuccess: () => client.invalidateQueries({ queryKey: ["recordings"] }),
  });
}

export const usePlot = (id: number, channels: string[], span: readonly [number, number] | null, of: string) =>
  useQuery({
    queryKey: ["recordings", id, "plot", channels, span, of],
    enabled: channels.length > 0,
    queryFn: ({ signal }) =>
      data(
        api.POST("/api/recordings/{recording_id}/plot", {
          params: { path: { recording_id: id } },
          body: { channels, from_s: span?.[0] ?? null, to_s: span?.[1] ?? null, points: 1200 },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });

const MOST_PICTURES = 40;

/** Each channel over the whole recording in a few points, by its name. */
export function usePictures(recording: RecordingOut) {
  const channels = recording.channels.slice(0, MOST_PICTURES).map(({ name }) => name);
  const found = useQuery({
    queryKey: ["recordings", recording.id, "pictures", recording.channels],
    enabled: channels.length > 0,
    queryFn: ({ signal }) =>
      data(
        api.POST("/api/recordings/{recording_id}/plot", {
          params: { path: { recording_id: recording.id } },
          body: { channels, from_s: null, to_s: null, points: 60 },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });
  return new Map((found.data?.curves ?? []).map((curve) => [curve.name, curve.values]));
}

/** How far it had come at times of the recording. */
export const useAlong = (id: number, wanted: boolean, of: string) =>
  useQuery({
    queryKey: ["recordings", id, "along", of],
    enabled: wanted,
    queryFn: ({ signal }) =>
      data(api.GET("/api/recordings/{recording_id}/along", { params: { path: { recording_id: id } }, signal })),
    staleTime: Infinity,
  });

/** By how much another recording is shifted to be in the time of this one. */
export const useLaidOver = (id: number, other: number | undefined, by: "begin" | "clock" | "launch" | "speed") =>
  useQuery({
    queryKey: ["recordings", id, "laid-over", other, by],
    enabled: other !== undefined,
    queryFn: ({ signal }) =>
      data(
        api.GET("/api/recordings/{recording_id}/laid-over", {
          params: { path: { recording_id: id }, query: { other: other ?? 0, by } },
          signal,
        }),
      ),
    staleTime: Infinity,
  });

/** Put a mark into a recording, or take one away. */
export function useMarking(id: number) {
  const client = useQueryClient();
  const path = { recording_id: id };
  const onSuccess = () => client.invalidateQueries({ queryKey: ["recordings"] });
  const put = useMutation({
    meta: { what: t("Putting the mark") },
    mutationFn: (body: Schemas["MarkIn"]) =>
      data(api.POST("/api/recordings/{recording_id}/marks", { params: { path }, body })),
    onSuccess,
  });
  const remove = useMutation({
    meta: { what: t("Removing the mark") },
    mutationFn: (at_s: number) =>
      data(api.DELETE("/api/recordings/{recording_id}/marks", { params: { path, query: { at_s } } })),
    onSuccess,
  });
  return { put, remove };
}

/** How long a channel was at each value. */
export const useHistogram = (id: number, channel: string | undefined, of: string) =>
  useQuery({
    queryKey: ["recordings", id, "histogram", channel, of],
    enabled: channel !== undefined,
    queryFn: ({ signal }) =>
      data(
        api.GET("/api/recordings/{recording_id}/histogram", {
          params: { path: { recording_id: id }, query: { channel: channel ?? "" } },
          signal,
        }),
      ),
    staleTime: Infinity,
  });

export type Result = Schemas["ResultOut"];

/** What it was asked before, and what it answered. */
export const useResults = (id: number) =>
  useQuery({
    queryKey: recordingKeys.results(id),
    queryFn: ({ signal }) =>
      data(api.GET("/api/recordings/{recording_id}/results", { params: { path: { recording_id: id } }, signal })),
  });

export const useDrift = (id: number) =>
  useQuery({
    queryKey: ["recordings", id, "drift"],
    queryFn: ({ signal }) =>
      data(api.GET("/api/recordings/{recording_id}/drift", { params: { path: { recording_id: id } }, signal })),
  });

/** Have a channel computed and kept, or removed. */
export function useDeriving(id: number) {
  const client = useQueryClient();
  const params = { path: { recording_id: id } };
  const onSuccess = () => client.invalidateQueries({ queryKey: ["recordings"] });
  const add = useMutation({
    meta: { what: t("Adding the channel") },
    mutationFn: (body: Schemas["DeriveIn"]) =>
      worked(data(api.POST("/api/recordings/{recording_id}/derived", { params, body }))),
    onSuccess,
  });
  const remove = useMutation({
    meta: { what: t("Removing the channel") },
    mutationFn: (name: string) =>
      data(api.DELETE("/api/recordings/{recording_id}/derived", { params: { ...params, query: { name } } })),
    onSuccess,
  });
  return { add, remove };
}

/** Have a file made of its channels, and fetch it. */
export function useExport(id: number) {
  return useMutation({
    meta: { what: t("Making the file") },
    mutationFn: async (body: Schemas["ExportIn"]) => {
      const path = { recording_id: id };
      const work = await worked(data(api.POST("/api/recordings/{recording_id}/export", { params: { path }, body })));
      window.location.assign(`/api/work/${work.id}/file`);
    },
  });
}

/** What changed on a ring since an earlier capture. */
export const useRingChange = (recording: RecordingOut | undefined, asked: Schemas["RingChangeIn"] | null) =>
  useQuery({
    ...kept,
    queryKey: ["recordings", recording?.id, "ring_change", recording?.channels, asked],
    enabled: recording?.state === "ready" && asked !== null,
    queryFn: async ({ signal }) => {
      const path = { recording_id: recording?.id ?? 0 };
      const body = asked as Schemas["RingChangeIn"];
      const work = await worked(
        data(api.POST("/api/recordings/{recording_id}/ring-change", { params: { path }, body })),
        signal,
      );
      return work.ring_change as Schemas["RingChange"];
    },
  });

export const useTrack = (id: number, speeds: RecordingOut["usual"], there: boolean) =>
  useQuery({
    queryKey: ["recordings", id, "track", speeds],
    enabled: there,
    queryFn: ({ signal }) =>
      data(
        api.GET("/api/recordings/{recording_id}/track", {
          params: {
            path: { recording_id: id },
            query: { true: speeds?.true_channel ?? "", shown: speeds?.shown_channel ?? "" },
          },
          signal,
        }),
      ),
    staleTime: Infinity,
  });

/** What a recording proves of a readout; asked again with every change of the document. */
export const useProof = (
  recording: RecordingOut | undefined,
  document: Installation,
  wanted: Wanted | null,
  installation: number,
) =>
  useQuery({
    ...kept,
    queryKey: [
      "recordings",
      recording?.id,
      "proof",
      JSON.stringify([recording?.channels, document, wanted, installation]),
    ],
    enabled: recording?.state === "ready" && wanted !== null,
    queryFn: async ({ signal }) => {
      const path = { recording_id: recording?.id ?? 0 };
      const body = { document, wanted: wanted as Wanted, installation };
      const work = await worked(
        data(api.POST("/api/recordings/{recording_id}/check", { params: { path }, body })),
        signal,
      );
      return work.check as Proof;
    },
  });

/** What a drive proves, on paper. */
export const fetchReport = (id: number, document: Installation, wanted: Wanted, installation: number) =>
  file(
    api.POST("/api/recordings/{recording_id}/report", {
      params: { path: { recording_id: id } },
      body: { document, wanted, installation },
      parseAs: "blob",
    }),
  );

/** The fingerprint of a captured ring. */
export const useRing = (recording: RecordingOut | undefined, asked: Schemas["RingIn"] | null) =>
  useQuery({
    ...kept,
    queryKey: ["recordings", recording?.id, "ring", recording?.channels, asked],
    enabled: recording?.state === "ready" && asked !== null,
    queryFn: async ({ signal }) => {
      const path = { recording_id: recording?.id ?? 0 };
      const body = asked as Schemas["RingIn"];
      const work = await worked(
        data(api.POST("/api/recordings/{recording_id}/ring", { params: { path }, body })),
        signal,
      );
      return work.ring as Schemas["Fingerprint"];
    },
  });

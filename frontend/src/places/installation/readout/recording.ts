import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Installation, type Schemas } from "../../../api/client";

export type Recording = Schemas["RecordingOut"];
type Asked = Pick<Schemas["RecordingIn"], "columns" | "wanted">;

/** A recording that was chosen, for as long as the app is open: the file, and what was said of it. */
export type Chosen = { name: string; file: string; key: number; setting: number | null } & Asked;

const keyOf = (installation: number, readout: number) => ["chosen recording", installation, readout];

/** The file chosen for a readout; it stays while other stages are looked at. */
export function useChosen(installation: number, readout: number) {
  const client = useQueryClient();
  const queryKey = keyOf(installation, readout);
  const chosen = useQuery<Chosen | null>({
    queryKey,
    queryFn: () => client.getQueryData<Chosen>(queryKey) ?? null,
    staleTime: Infinity,
    gcTime: Infinity,
  }).data;
  const choose = (next: Chosen | null) => client.setQueryData(queryKey, next);
  return { chosen: chosen ?? null, choose };
}

/** What a file proves of a readout. */
export const useRecording = (document: Installation, chosen: Chosen | null, readout: number) =>
  useQuery({
    queryKey: ["recording", chosen?.key, readout, JSON.stringify([chosen?.columns, chosen?.wanted, document])],
    queryFn: ({ signal }) => {
      const { file = "", columns = null, wanted = null, setting = null } = chosen ?? {};
      const body = { document, file, columns, wanted: wanted && { ...wanted, readout }, readout, setting };
      return data(api.POST("/api/recordings/check", { body, signal }));
    },
    enabled: chosen !== null,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 60_000,
  });

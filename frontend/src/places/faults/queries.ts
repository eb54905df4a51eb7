import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import { keys } from "../../api/hooks";
import { t } from "../../ui/words";

export type Fault = Schemas["FaultOut"];
export type TestToDo = Fault["view"]["tests"][number];
export type CauseSeen = Fault["view"]["causes"][number];
const LOOK_AGAIN_MS = 5000;
const of = (installation: number) => ["faults", "of", installation] as const;
const one = (id: number) => ["faults", id] as const;

export const useFaults = (installation: number) =>
  useQuery({
    queryKey: of(installation),
    queryFn: ({ signal }) =>
      data(
        api.GET("/api/installations/{installation_id}/faults", {
          params: { path: { installation_id: installation } },
          signal,
        }),
      ),
  });

/** A fault; looked at again and again, since another device may answer a test. */
export const useFault = (id: number) =>
  useQuery({
    queryKey: one(id),
    queryFn: ({ signal }) => data(api.GET("/api/faults/{fault_id}", { params: { path: { fault_id: id } }, signal })),
    refetchInterval: (query) => (query.state.data?.closed_at ? false : LOOK_AGAIN_MS),
  });

export function useStartFault(installation: number) {
  const client = useQueryClient();
  return useMutation({
    meta: { what: t("Opening the fault") },
    mutationFn: (body: Schemas["Seen"]) =>
      data(
        api.POST("/api/installations/{installation_id}/faults", {
          params: { path: { installation_id: installation } },
          body,
        }),
      ),
    onSuccess: (fault) => {
      client.setQueryData(one(fault.id), fault);
      client.invalidateQueries({ queryKey: of(installation) });
    },
  });
}

/** What changes a fault. */
export function useFaultChanges(fault: Fault) {
  const client = useQueryClient();
  const path = { fault_id: fault.id };
  const onSuccess = (changed: Fault) => {
    client.setQueryData(one(fault.id), changed);
    client.invalidateQueries({ queryKey: of(fault.installation) });
    client.invalidateQueries({ queryKey: keys.installation(fault.installation) });
  };
  return {
    answer: useMutation({
      meta: { what: t("Sending the answer") },
      mutationFn: ({ key, test, outcome }: { key: string; test: string; outcome: string }) =>
        data(
          api.POST("/api/faults/{fault_id}/answers", { params: { path }, body: { key, answer: { test, outcome } } }),
        ),
      onSuccess,
    }),
    close: useMutation({
      meta: { what: t("Closing the fault") },
      mutationFn: (body: Schemas["CloseIn"]) =>
        data(api.POST("/api/faults/{fault_id}/close", { params: { path }, body })),
      onSuccess,
    }),
    remove: useMutation({
      meta: { what: t("Deleting the fault") },
      mutationFn: () => data(api.DELETE("/api/faults/{fault_id}", { params: { path } })),
      onSuccess: () => client.invalidateQueries({ queryKey: of(fault.installation) }),
    }),
  };
}

export const useOnBench = (fault: number, cause: string | null) =>
  useQuery({
    queryKey: ["faults", fault, "bench", cause],
    enabled: cause !== null,
    queryFn: ({ signal }) =>
      data(
        api.POST("/api/faults/{fault_id}/bench", {
          params: { path: { fault_id: fault } },
          body: { cause: cause ?? "", kmh: 50 },
          signal,
        }),
      ),
  });

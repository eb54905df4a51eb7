import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, file, type Schemas } from "../../api/client";
import { t } from "../../ui/words";

export type DueItem = Schemas["DueOut"];
export type Item = Schemas["ItemOut"];
export type Kind = Item["kind"];
const OF = (vehicle: number) => ["service", vehicle] as const;

export const useDue = (vehicle: number) =>
  useQuery({
    queryKey: [...OF(vehicle), "due"],
    queryFn: ({ signal }) =>
      data(api.GET("/api/vehicles/{vehicle_id}/due", { params: { path: { vehicle_id: vehicle } }, signal })),
  });

export const fetchTrailerCard = (vehicle_id: number) =>
  file(api.GET("/api/vehicles/{vehicle_id}/trailer-card", { params: { path: { vehicle_id } }, parseAs: "blob" }));

export const useParts = (vehicle: number) =>
  useQuery({
    queryKey: [...OF(vehicle), "parts"],
    queryFn: ({ signal }) =>
      data(api.GET("/api/vehicles/{vehicle_id}/parts", { params: { path: { vehicle_id: vehicle } }, signal })),
  });

export const useTimeline = (vehicle: number, search: string, kind: Kind | null) =>
  useQuery({
    queryKey: [...OF(vehicle), "timeline", search, kind],
    queryFn: ({ signal }) =>
      data(
        api.GET("/api/vehicles/{vehicle_id}/timeline", {
          params: { path: { vehicle_id: vehicle }, query: { search, ...(kind ? { kind } : {}) } },
          signal,
        }),
      ),
    placeholderData: (before) => before,
  });

/** All that changes what is due and what was noted. */
export function useServiceChanges(vehicle: number) {
  const client = useQueryClient();
  const onSuccess = () => client.invalidateQueries({ queryKey: OF(vehicle) });
  const path = { vehicle_id: vehicle };
  return {
    addDue: useMutation({
      meta: { what: t("Adding what is due") },
      mutationFn: (body: Schemas["DueIn"]) =>
        data(api.POST("/api/vehicles/{vehicle_id}/due", { params: { path }, body })),
      onSuccess,
    }),
    changeDue: useMutation({
      meta: { what: t("Changing what is due") },
      mutationFn: ({ id, ...body }: Schemas["DueChangeIn"] & { id: number }) =>
        data(api.PUT("/api/due/{item_id}", { params: { path: { item_id: id } }, body })),
      onSuccess,
    }),
    setWearLimit: useMutation({
      meta: { what: t("Saving the wear limit"), saysStale: true },
      mutationFn: (body: Schemas["WearLimitIn"]) =>
        data(api.PUT("/api/vehicles/{vehicle_id}/wear-limit", { params: { path }, body })),
      onSettled: onSuccess,
    }),
    removeDue: useMutation({
      meta: { what: t("Removing what is due") },
      mutationFn: (id: number) => data(api.DELETE("/api/due/{item_id}", { params: { path: { item_id: id } } })),
      onSuccess,
    }),
    addNote: useMutation({
      meta: { what: t("Adding the note") },
      mutationFn: (body: Schemas["NoteIn"]) =>
        data(api.POST("/api/vehicles/{vehicle_id}/notes", { params: { path }, body })),
      onSuccess,
    }),
    removeNote: useMutation({
      meta: { what: t("Removing the note") },
      mutationFn: (id: number) => data(api.DELETE("/api/notes/{item_id}", { params: { path: { item_id: id } } })),
      onSuccess,
    }),
    bringIn: useMutation({
      meta: { what: t("Importing the timeline") },
      mutationFn: (file: string) =>
        data(api.POST("/api/vehicles/{vehicle_id}/timeline", { params: { path }, body: { file } })),
      onSuccess,
    }),
    addPart: useMutation({
      meta: { what: t("Adding the part") },
      mutationFn: (body: Schemas["PartIn"]) =>
        data(api.POST("/api/vehicles/{vehicle_id}/parts", { params: { path }, body })),
      onSuccess,
    }),
    changePart: useMutation({
      meta: { what: t("Changing the part") },
      mutationFn: ({ id, ...body }: Schemas["ChangedPartIn"] & { id: number }) =>
        data(
          api.PUT("/api/vehicles/{vehicle_id}/parts/{part_id}", { params: { path: { ...path, part_id: id } }, body }),
        ),
      onSettled: onSuccess,
    }),
    removePart: useMutation({
      meta: { what: t("Deleting the part") },
      mutationFn: (id: number) => data(api.DELETE("/api/parts/{part_id}", { params: { path: { part_id: id } } })),
      onSuccess,
    }),
  };
}

export function useFeed() {
  const client = useQueryClient();
  const onSuccess = () => client.invalidateQueries({ queryKey: ["calendar"] });
  return {
    feed: useQuery({ queryKey: ["calendar"], queryFn: ({ signal }) => data(api.GET("/api/calendar", { signal })) }),
    make: useMutation({
      meta: { what: t("Creating the calendar") },
      mutationFn: () => data(api.POST("/api/calendar")),
      onSuccess,
    }),
    drop: useMutation({
      meta: { what: t("Revoking the calendar") },
      mutationFn: () => data(api.DELETE("/api/calendar")),
      onSuccess,
    }),
  };
}

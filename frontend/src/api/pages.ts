import { infiniteQueryOptions, keepPreviousData, useInfiniteQuery } from "@tanstack/react-query";
import { api, data, type Installation, type Schemas } from "./client";
import { keys } from "./hooks";

const VEHICLES_AT_ONCE = 60;

export type VehicleFilter = {
  search: string;
  kind?: Schemas["VehicleOut"]["kind"];
  purpose?: Installation["purpose"];
  state?: Schemas["InstallationSummary"]["state"];
};

/** Vehicles found, page by page; the counts on each page are of all that were found. */
export const vehiclesQuery = (filter: VehicleFilter) =>
  infiniteQueryOptions({
    queryKey: [...keys.vehicles, filter],
    queryFn: ({ pageParam: offset, signal }) =>
      data(api.GET("/api/vehicles", { params: { query: { ...filter, offset, limit: VEHICLES_AT_ONCE } }, signal })),
    initialPageParam: 0,
    getNextPageParam: (last, pages) =>
      pages.length * VEHICLES_AT_ONCE < last.total ? pages.length * VEHICLES_AT_ONCE : undefined,
  });
export const useVehicles = (filter: VehicleFilter) =>
  useInfiniteQuery({ ...vehiclesQuery(filter), placeholderData: keepPreviousData });

/** The logbook, page by page, the newest revision first. */
export const useRevisions = (id: number) =>
  useInfiniteQuery({
    queryKey: keys.revisions(id),
    queryFn: ({ pageParam: before }) =>
      data(
        api.GET("/api/installations/{installation_id}/revisions", {
          params: { path: { installation_id: id }, query: { limit: 50, ...(before ? { before } : {}) } },
        }),
      ),
    initialPageParam: 0,
    getNextPageParam: (last) => (last.more ? last.revisions.at(-1)?.number : undefined),
  });

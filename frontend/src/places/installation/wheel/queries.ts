import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useDeferredValue } from "react";
import { api, data, type Installation } from "../../../api/client";

/** Every method of the last good document against every other; drawn when there is time. */
export function useComparison(document: Installation) {
  const asked = useQuery({
    queryKey: ["compare", JSON.stringify([document.wheel, document.vehicle_kind, document.target])],
    queryFn: () => data(api.POST("/api/compare-methods", { body: document })),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  });
  return { asked, result: useDeferredValue(asked.data) };
}

export const chartKey = ["chart"] as const;

export const useChart = () =>
  useQuery({ queryKey: chartKey, queryFn: ({ signal }) => data(api.GET("/api/chart", { signal })) });

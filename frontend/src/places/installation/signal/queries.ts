import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, data, file, type Installation, type Schemas } from "../../../api/client";

export type SignalView = Schemas["SignalView"];
export type SignalDetail = Schemas["SignalDetail"];

const asked = { placeholderData: keepPreviousData, staleTime: Infinity, gcTime: 10_000 } as const;

/** What is drawn of the signal of the last good document. */
export const useSignal = (document: Installation) =>
  useQuery({
    ...asked,
    queryKey: ["signal", JSON.stringify(document)],
    queryFn: () => data(api.POST("/api/signal", { body: document })),
  });

/** Wires and the order sheet. */
export const useWiring = (document: Installation) =>
  useQuery({
    ...asked,
    queryKey: ["wiring", JSON.stringify(document)],
    queryFn: () => data(api.POST("/api/wiring", { body: document })),
  });

export const fetchWiringPdf = (document: Installation, installation_id: number) =>
  file(
    api.POST("/api/wiring/pdf", {
      params: { query: { installation_id } },
      body: document,
      parseAs: "blob",
    }),
  );

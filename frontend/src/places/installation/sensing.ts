import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, data, file, type Installation, Refusal, type Schemas } from "../../api/client";
import { offer } from "../../ui/files";

export type PlacementView = Schemas["PlacementView"];
export type PlacementDetail = Schemas["PlacementDetail"];
export type SpokePlan = Schemas["SpokePlan"];

const asked = { placeholderData: keepPreviousData, staleTime: Infinity } as const;

/** The placement of the last good document. */
export const usePlacement = (document: Installation) =>
  useQuery({
    ...asked,
    queryKey: ["placement", JSON.stringify(document)],
    gcTime: 10_000,
    queryFn: () => data(api.POST("/api/placement", { body: document })),
  });

/** Which spokes carry the magnets best. */
export const useSpokes = (document: Installation) =>
  useQuery({
    ...asked,
    queryKey: ["spokes", JSON.stringify(document.target)],
    queryFn: () => data(api.POST("/api/spokes", { body: document })),
  });

/** Every kind of sensor for this installation. */
export const useChoices = (document: Installation) =>
  useQuery({
    ...asked,
    queryKey: ["sensor-choices", JSON.stringify(document)],
    gcTime: 10_000,
    queryFn: () => data(api.POST("/api/sensor-choices", { body: document })),
  });

export type Part = "ring" | "bracket";
export type FileKind = "dxf" | "svg" | "pdf";

const fetchPart = (part: Part, kind: FileKind, document: Installation) => {
  const options = { params: { path: { kind } }, body: document, parseAs: "blob" } as const;
  return file(part === "ring" ? api.POST("/api/ring/{kind}", options) : api.POST("/api/bracket/{kind}", options));
};

/** A part to make: its drawing as it will be cut, what stands in the way in words, and its files. */
export function usePart(part: Part, document: Installation) {
  const preview = useQuery({
    ...asked,
    queryKey: ["part", part, JSON.stringify([document.target, document.sensor.kind, document.placement?.bracket])],
    queryFn: async () => (await fetchPart(part, "svg", document)).text(),
  });
  const [refused, refuse] = useState("");
  const save = (kind: FileKind) => {
    refuse("");
    fetchPart(part, kind, document).then(
      (file) => offer(file, `${part}.${kind}`),
      (error: Error) => refuse(messageOf(error)),
    );
  };
  return {
    svg: preview.error ? undefined : preview.data,
    error: preview.error ? messageOf(preview.error) : refused,
    save,
  };
}

const messageOf = (error: Error) => {
  const first = error instanceof Refusal ? error.problems[0] : undefined;
  return first ? `${first.message} ${first.remedy}` : error.message;
};

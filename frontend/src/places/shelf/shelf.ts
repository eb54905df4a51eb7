import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Installation, type Schemas } from "../../api/client";
import { useWrite } from "../../api/hooks";
import { t } from "../../ui/words";

export type ShelfPart = Schemas["ShelfPartOut"];
export type ShelfKind = ShelfPart["kind"];
export type PartLabel = Schemas["PartLabel"];
const KEY = ["shelf"] as const;

/** All parts of the workshop's shelf. */
export const useShelf = () =>
  useQuery({ queryKey: KEY, queryFn: ({ signal }) => data(api.GET("/api/shelf", { signal })) });

/** Putting a part of a document on the shelf. */
export function useToShelf() {
  const client = useQueryClient();
  return useWrite(
    (body: Schemas["ToShelfIn"], header) => data(api.POST("/api/shelf", { params: { header }, body })),
    () => client.invalidateQueries({ queryKey: KEY }),
  );
}

export function useRelabel() {
  const client = useQueryClient();
  return useMutation({
    meta: { what: t("Saving the part") },
    mutationFn: ({ id, ...body }: Schemas["LabelIn"] & { id: number }) =>
      data(api.PUT("/api/shelf/{part_id}", { params: { path: { part_id: id } }, body })),
    onSuccess: () => client.invalidateQueries({ queryKey: KEY }),
  });
}

export function useTakeOff() {
  const client = useQueryClient();
  return useMutation({
    meta: { what: t("Removing the part") },
    mutationFn: (id: number) => data(api.DELETE("/api/shelf/{part_id}", { params: { path: { part_id: id } } })),
    onSuccess: () => client.invalidateQueries({ queryKey: KEY }),
  });
}

/** The document with a part of the shelf in it. */
export const takeFromShelf = (id: number, document: Installation, readout: number) =>
  data(api.POST("/api/shelf/{part_id}/take", { params: { path: { part_id: id } }, body: { document, readout } }));

/** The parts that have all words of a search. */
export function searched(parts: readonly ShelfPart[], wanted: string): ShelfPart[] {
  const words = wanted.toLocaleLowerCase().split(/\s+/).filter(Boolean);
  const textOf = (part: ShelfPart) => [...Object.values(part.label), part.contents].join(" ").toLocaleLowerCase();
  return parts.filter((part) => words.every((word) => textOf(part).includes(word)));
}

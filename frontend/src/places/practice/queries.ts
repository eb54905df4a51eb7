import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Schemas } from "../../api/client";
import { t } from "../../ui/words";

export type Case = Schemas["PracticeOut"];
const ALL = ["practice"] as const;
const one = (id: number) => ["practice", id] as const;

export const usePractice = () =>
  useQuery({ queryKey: ALL, queryFn: ({ signal }) => data(api.GET("/api/practice", { signal })) });

export const useCase = (id: number) =>
  useQuery({
    queryKey: one(id),
    queryFn: ({ signal }) =>
      data(api.GET("/api/practice/{practice_id}", { params: { path: { practice_id: id } }, signal })),
  });

export function useBegin() {
  const client = useQueryClient();
  return useMutation({
    meta: { what: t("Beginning the case") },
    mutationFn: (number: number | null) => data(api.POST("/api/practice", { body: { case: number } })),
    onSuccess: (made) => {
      client.setQueryData(one(made.id), made);
      client.invalidateQueries({ queryKey: ALL, exact: true });
    },
  });
}

/** Moves of a case, and its end. */
export function useMoves(found: Case) {
  const client = useQueryClient();
  const path = { practice_id: found.id };
  const onSuccess = (changed: Case) => {
    client.setQueryData(one(found.id), changed);
    client.invalidateQueries({ queryKey: ALL, exact: true });
  };
  return {
    move: useMutation({
      meta: { what: t("Sending the move") },
      mutationFn: (move: Schemas["Move"]) =>
        data(api.POST("/api/practice/{practice_id}/moves", { params: { path }, body: { count: found.moves, move } })),
      onSuccess,
    }),
    end: useMutation({
      meta: { what: t("Ending the case") },
      mutationFn: () => data(api.POST("/api/practice/{practice_id}/end", { params: { path } })),
      onSuccess,
    }),
  };
}

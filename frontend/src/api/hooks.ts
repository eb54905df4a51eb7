import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, data, type Fit, type Schemas } from "./client";

export const keys = {
  session: ["session"] as const,
  yard: ["yard"] as const,
  fit: (id: number) => ["fit", id] as const,
  revisions: (id: number) => ["fit", id, "revisions"] as const,
  due: (id: number) => ["fit", id, "due"] as const,
  sheet: (id: number) => ["vehicle", id] as const,
};

export const useSession = () => useQuery({ queryKey: keys.session, queryFn: () => data(api.GET("/api/session")) });

export const useYard = () => useQuery({ queryKey: keys.yard, queryFn: () => data(api.GET("/api/vehicles")) });

export const useCatalogue = () =>
  useQuery({ queryKey: ["catalogue"], queryFn: () => data(api.GET("/api/catalogue")), staleTime: Infinity });

export const useFit = (id: number) =>
  useQuery({
    queryKey: keys.fit(id),
    queryFn: () => data(api.GET("/api/fits/{fit_id}", { params: { path: { fit_id: id } } })),
  });

export const useRevisions = (id: number) =>
  useQuery({
    queryKey: keys.revisions(id),
    queryFn: () => data(api.GET("/api/fits/{fit_id}/revisions", { params: { path: { fit_id: id } } })),
  });

export const useDue = (id: number) =>
  useQuery({
    queryKey: keys.due(id),
    queryFn: () => data(api.GET("/api/fits/{fit_id}/due", { params: { path: { fit_id: id } } })),
  });

export function useTick() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ id, done }: { id: number; done: boolean }) =>
      data(api.PUT("/api/due/{item_id}", { params: { path: { item_id: id } }, body: { done } })),
    onSuccess: () => {
      client.invalidateQueries({ queryKey: ["fit"] });
      client.invalidateQueries({ queryKey: keys.yard });
    },
  });
}

export const useSheet = (id: number) =>
  useQuery({
    queryKey: keys.sheet(id),
    queryFn: () => data(api.GET("/api/vehicles/{vehicle_id}/sheet", { params: { path: { vehicle_id: id } } })),
  });

/** One revision's document, fetched when it is asked for. */
export const fetchRevision = (fit: number, number: number) =>
  data(api.GET("/api/fits/{fit_id}/revisions/{number}", { params: { path: { fit_id: fit, number } } }));

export const saveFit = (id: number, base: number, document: Fit) =>
  data(api.PUT("/api/fits/{fit_id}", { params: { path: { fit_id: id } }, body: { base_revision: base, document } }));

export function useSignIn() {
  const client = useQueryClient();
  const done = (session: Schemas["SessionOut"]) => {
    client.setQueryData(keys.session, session);
    client.removeQueries({ predicate: (query) => query.queryKey[0] !== keys.session[0] });
  };
  return {
    password: useMutation({
      mutationFn: (given: Schemas["SignIn"]) => data(api.POST("/api/session", { body: given })),
      onSuccess: done,
    }),
    demo: useMutation({ mutationFn: () => data(api.POST("/api/session/demo")), onSuccess: done }),
    out: useMutation({ mutationFn: () => data(api.DELETE("/api/session")), onSuccess: done }),
  };
}

export function useYardChanges() {
  const client = useQueryClient();
  const onSuccess = () => client.invalidateQueries({ queryKey: keys.yard });
  return {
    addVehicle: useMutation({
      mutationFn: (given: Schemas["VehicleIn"]) => data(api.POST("/api/vehicles", { body: given })),
      onSuccess,
    }),
    changeVehicle: useMutation({
      mutationFn: ({ id, given }: { id: number; given: Schemas["VehicleIn"] }) =>
        data(api.PUT("/api/vehicles/{vehicle_id}", { params: { path: { vehicle_id: id } }, body: given })),
      onSuccess,
    }),
    deleteVehicle: useMutation({
      mutationFn: (id: number) =>
        data(api.DELETE("/api/vehicles/{vehicle_id}", { params: { path: { vehicle_id: id } } })),
      onSuccess,
    }),
    addFit: useMutation({
      mutationFn: ({ vehicle, document }: { vehicle: number; document: Fit }) =>
        data(
          api.POST("/api/vehicles/{vehicle_id}/fits", { params: { path: { vehicle_id: vehicle } }, body: document }),
        ),
      onSuccess,
    }),
    deleteFit: useMutation({
      mutationFn: (id: number) => data(api.DELETE("/api/fits/{fit_id}", { params: { path: { fit_id: id } } })),
      onSuccess,
    }),
  };
}

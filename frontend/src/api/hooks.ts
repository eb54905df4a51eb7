import { queryOptions, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import type { Sending } from "../editing/session";
import { keepText, readKept } from "../ui/device";
import { Away, api, data, type Installation, newKey, Refusal, type Schemas } from "./client";
import { forgetKept } from "./offline";

/** A write with a key of its own: repeated with the same key until it is known to be done or refused. */
export function useWrite<Inputs, Answer>(
  send: (inputs: Inputs, headers: { "Idempotency-Key": string }) => Promise<Answer>,
  onSuccess?: (answer: Answer) => unknown,
) {
  const kept = useRef({ key: "", of: "" });
  return useMutation({
    mutationFn: (inputs: Inputs) => send(inputs, { "Idempotency-Key": kept.current.key }),
    onMutate: (inputs) => {
      const of = JSON.stringify(inputs) ?? "";
      if (!kept.current.key || kept.current.of !== of) kept.current = { key: newKey(), of };
    },
    onSuccess: (answer) => {
      kept.current.key = "";
      return onSuccess?.(answer);
    },
    onError: (error) => {
      if (!(error instanceof Away)) kept.current.key = "";
    },
  });
}

export const keys = {
  session: ["session"] as const,
  vehicles: ["vehicles"] as const,
  installation: (id: number) => ["installation", id] as const,
  revisions: (id: number) => ["installation", id, "revisions"] as const,
  tasks: (id: number) => ["installation", id, "tasks"] as const,
  sheet: (id: number) => ["vehicle", id] as const,
};

const SIGNED_IN = "wheelometron.signed-in";
/** Whether somebody was signed in when this device last asked: then a page's requests need not wait for the answer. */
export const wasSignedIn = () => readKept("local", SIGNED_IN) === "yes";

export const sessionQuery = queryOptions({
  queryKey: keys.session,
  queryFn: async ({ signal }) => {
    const found = await data(api.GET("/api/session", { signal }));
    keepText("local", SIGNED_IN, found.signed_in ? "yes" : "no");
    if (!found.signed_in) await forgetKept(); // signed out, here or from elsewhere
    return found;
  },
});
export const useSession = () => useQuery(sessionQuery);

/** The names of all vehicles, to choose from. */
export const useVehicleNames = () =>
  useQuery({
    queryKey: [...keys.vehicles, "names"],
    queryFn: ({ signal }) => data(api.GET("/api/vehicles/names", { signal })),
  });

export const catalogueQuery = queryOptions({
  queryKey: ["catalogue"],
  queryFn: ({ signal }) => data(api.GET("/api/catalogue", { signal })),
  staleTime: Infinity,
});
export const useCatalogue = () => useQuery(catalogueQuery);

export const installationQuery = (id: number) =>
  queryOptions({
    queryKey: keys.installation(id),
    queryFn: ({ signal }) =>
      data(api.GET("/api/installations/{installation_id}", { params: { path: { installation_id: id } }, signal })),
  });
export const useInstallation = (id: number) => useQuery(installationQuery(id));

export const useTasks = (id: number) =>
  useQuery({
    queryKey: keys.tasks(id),
    queryFn: ({ signal }) =>
      data(
        api.GET("/api/installations/{installation_id}/tasks", { params: { path: { installation_id: id } }, signal }),
      ),
  });

export function useMarkTask() {
  const client = useQueryClient();
  return useWrite(
    ({ id, done }: { id: number; done: boolean }, header) =>
      data(api.PUT("/api/tasks/{item_id}", { params: { path: { item_id: id }, header }, body: { done } })),
    () => {
      client.invalidateQueries({ queryKey: ["installation"] });
      client.invalidateQueries({ queryKey: keys.vehicles });
    },
  );
}

export const sheetQuery = (id: number) =>
  queryOptions({
    queryKey: keys.sheet(id),
    queryFn: ({ signal }) =>
      data(api.GET("/api/vehicles/{vehicle_id}/sheet", { params: { path: { vehicle_id: id } }, signal })),
  });
export const useSheet = (id: number) => useQuery(sheetQuery(id));

/** One revision's document, fetched when it is asked for. */
export const fetchRevision = (installation: number, number: number) =>
  data(
    api.GET("/api/installations/{installation_id}/revisions/{number}", {
      params: { path: { installation_id: installation, number } },
    }),
  );

/** Save; a page that is being left sends it on its way out. */
export const saveInstallation = (
  id: number,
  { base, document, editKey, key }: Sending<Installation>,
  leaving: boolean,
) =>
  data(
    api.PUT("/api/installations/{installation_id}", {
      params: { path: { installation_id: id }, header: { "Idempotency-Key": key } },
      body: { base_revision: base.number, base_amended: base.amended, edit_key: editKey, document },
      keepalive: leaving,
    }),
  );

/** A document from a file as the server understands it, or an error that names the first field it refuses. */
export async function understood(document: Installation): Promise<Installation> {
  try {
    return (await data(api.POST("/api/evaluate", { body: document }))).document;
  } catch (error) {
    const field = error instanceof Refusal ? error.problems[0] : undefined;
    if (!field) throw error;
    throw new Error(`This file cannot be used. ${field.path}: ${field.message} ${field.remedy}`);
  }
}

export function useSignIn() {
  const client = useQueryClient();
  const done = (session: Schemas["SessionOut"]) => {
    keepText("local", SIGNED_IN, session.signed_in ? "yes" : "no");
    forgetKept();
    client.setQueryData(keys.session, session);
    client.removeQueries({ predicate: (query) => query.queryKey[0] !== keys.session[0] });
  };
  return {
    password: useMutation({
      mutationFn: (inputs: Schemas["SignIn"]) => data(api.POST("/api/session", { body: inputs })),
      onSuccess: done,
    }),
    demo: useMutation({ mutationFn: () => data(api.POST("/api/session/demo")), onSuccess: done }),
    out: useMutation({ mutationFn: () => data(api.DELETE("/api/session")), onSuccess: done }),
  };
}

export function useVehicleChanges() {
  const client = useQueryClient();
  const changed = () => client.invalidateQueries({ queryKey: keys.vehicles });
  return {
    addVehicle: useWrite(
      (inputs: Schemas["VehicleIn"], header) => data(api.POST("/api/vehicles", { params: { header }, body: inputs })),
      changed,
    ),
    changeVehicle: useWrite(
      ({ id, inputs }: { id: number; inputs: Schemas["VehicleChangeIn"] }, header) =>
        data(api.PUT("/api/vehicles/{vehicle_id}", { params: { path: { vehicle_id: id }, header }, body: inputs })),
      changed,
    ),
    deleteVehicle: useWrite(
      ({ id, version }: { id: number; version: number }, header) =>
        data(
          api.DELETE("/api/vehicles/{vehicle_id}", {
            params: { path: { vehicle_id: id }, query: { base_version: version }, header },
          }),
        ),
      changed,
    ),
    addInstallation: useWrite(
      ({ vehicle, document }: { vehicle: number; document: Installation }, header) =>
        data(
          api.POST("/api/vehicles/{vehicle_id}/installations", {
            params: { path: { vehicle_id: vehicle }, header },
            body: document,
          }),
        ),
      changed,
    ),
    copyInstallation: useWrite(
      ({ id, ...body }: { id: number } & Schemas["CopyIn"], header) =>
        data(
          api.POST("/api/installations/{installation_id}/copies", {
            params: { path: { installation_id: id }, header },
            body,
          }),
        ),
      changed,
    ),
    deleteInstallation: useWrite(
      ({ id, revision }: { id: number; revision: number }, header) =>
        data(
          api.DELETE("/api/installations/{installation_id}", {
            params: { path: { installation_id: id }, query: { base_revision: revision }, header },
          }),
        ),
      changed,
    ),
  };
}

import { useEffect, useState } from "react";
import { api, data } from "../api/client";

/** Whether a sheet opens on this device without the network: the app is kept on it and answers for itself, and so are who is
 * signed in, the words and limits of fields, and the sheet. */
export function useKeptHere(id: number) {
  const [kept, say] = useState(false);
  useEffect(() => {
    let left = false;
    keep(id).then(
      () => !left && say(true),
      () => undefined, // it is not said
    );
    return () => {
      left = true;
    };
  }, [id]);
  return kept;
}

async function keep(id: number) {
  const worker = navigator.serviceWorker;
  if (!worker) throw new Error("no service worker here");
  await worker.ready;
  if (!worker.controller)
    await new Promise((controlled) => worker.addEventListener("controllerchange", controlled, { once: true }));
  // what came before it was there went past it
  await Promise.all([
    data(api.GET("/api/session")),
    data(api.GET("/api/catalogue")),
    data(api.GET("/api/sheets/{sheet_id}", { params: { path: { sheet_id: id } } })),
  ]);
}

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useState } from "react";
import { useNavigate } from "react-router";
import { Away, api, data, file } from "../api/client";
import { useSession } from "../api/hooks";
import { t } from "../ui/words";
import { type Entry, hasCome, type JobSheet, keyOf, queueOf, type Waiting } from "./queue";

const TRY_EVERY_MS = 4000;
export const jobKeys = {
  of: (installation: number) => ["jobs", installation] as const,
  sheet: (id: number) => ["sheets", id] as const,
};

export const fetchSheetPdf = (sheet_id: number) =>
  file(api.GET("/api/sheets/{sheet_id}/pdf", { params: { path: { sheet_id } }, parseAs: "blob" }));

export const fetchTag = (installation_id: number, place: "sensor" | "loom" | "dash") =>
  file(
    api.GET("/api/installations/{installation_id}/tag/{place}", {
      params: { path: { installation_id, place } },
      parseAs: "blob",
    }),
  );

export const useJobs = (installation: number) =>
  useQuery({
    queryKey: jobKeys.of(installation),
    queryFn: ({ signal }) =>
      data(
        api.GET("/api/installations/{installation_id}/jobs", {
          params: { path: { installation_id: installation } },
          signal,
        }),
      ),
  });

/** Draw a sheet up and open it. */
export function useStartSheet(installation: number) {
  const client = useQueryClient();
  const go = useNavigate();
  return useMutation({
    meta: { what: t("Starting the sheet") },
    mutationFn: (template: string) =>
      data(
        api.POST("/api/installations/{installation_id}/sheets", {
          params: { path: { installation_id: installation } },
          body: { template },
        }),
      ),
    onSuccess: (sheet) => {
      client.invalidateQueries({ queryKey: jobKeys.of(installation) });
      go(`/sheet/${sheet.id}`);
    },
  });
}

export type Line = "sent" | "sending" | "waiting" | "full";

/** A sheet: from the server, or as it was last seen on this device; what is done on it is kept here and sent in order. */
export function useSheet(id: number) {
  const account = useSession().data?.username ?? "";
  const client = useQueryClient();
  const queue = useMemo(() => queueOf(account), [account]);
  const [waiting, show] = useState<Waiting[]>([]);
  const [line, say] = useState<Line>("sent");
  const query = useQuery({
    queryKey: jobKeys.sheet(id),
    queryFn: async ({ signal }): Promise<JobSheet> => {
      try {
        const found = await data(api.GET("/api/sheets/{sheet_id}", { params: { path: { sheet_id: id } }, signal }));
        await queue.keepSheet(found).catch(() => undefined);
        return found;
      } catch (error) {
        const kept = error instanceof Away ? await queue.keptSheet(id).catch(() => undefined) : undefined;
        if (kept) return kept;
        throw error;
      }
    },
  });
  const look = useCallback(async () => {
    const kept = await queue.waiting(id).catch(() => []);
    const sheet = client.getQueryData<JobSheet>(jobKeys.sheet(id));
    // what is sent stays until the sheet has it, or a step that is done would look open for a moment
    show((shown) => [
      ...shown.filter((item) => !hasCome(item, sheet) && !kept.some((other) => keyOf(other) === keyOf(item))),
      ...kept,
    ]);
  }, [queue, id, client]);
  const flush = useCallback(async () => {
    const open = (await queue.waiting(id)).filter((item) => !item.refused);
    if (open.length === 0) {
      say("sent");
      return look();
    }
    say("sending");
    try {
      await queue.flush(id);
      await client.invalidateQueries({ queryKey: jobKeys.sheet(id) });
      say("sent");
    } catch {
      say("waiting");
    }
    await look();
  }, [queue, id, client, look]);
  const add = useCallback(
    async (item: { entry: Entry } | { photo: Blob; step: string; key: string }) => {
      try {
        await queue.add({ sheet: id, ...item });
        void navigator.storage?.persist?.(); // what is not sent yet is not cleared to make room
      } catch {
        say("full");
        return false;
      }
      await look();
      void flush();
      return true;
    },
    [queue, id, look, flush],
  );
  useEffect(() => {
    void flush();
    const timer = window.setInterval(() => void flush(), TRY_EVERY_MS);
    const back = () => void flush();
    window.addEventListener("online", back);
    return () => {
      window.clearInterval(timer);
      window.removeEventListener("online", back);
    };
  }, [flush]);
  const drop = useCallback(
    async (item: Waiting) => {
      await queue.drop(item);
      show((shown) => shown.filter((other) => keyOf(other) !== keyOf(item)));
    },
    [queue],
  );
  const again = useCallback(
    async (item: Waiting) => {
      await queue.again(item);
      show((shown) => shown.map((other) => (keyOf(other) === keyOf(item) ? { ...other, refused: undefined } : other)));
      await flush();
    },
    [queue, flush],
  );
  return { ...query, again, waiting: waiting.filter((item) => !hasCome(item, query.data)), line, add, drop, flush };
}

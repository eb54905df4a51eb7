import type { QueryClient } from "@tanstack/react-query";
import { matchPath } from "react-router";
import { evaluateAhead } from "../api/evaluatedAhead";
import { catalogueQuery, installationQuery, sessionQuery, sheetQuery, wasSignedIn } from "../api/hooks";
import { vehiclesQuery } from "../api/pages";
import { recordingQuery } from "../recordings/queries";
import { type Lazily, lazily } from "../ui/lazily";
import { loadStage } from "./installation/stageParts";

type Params = Readonly<Record<string, string | undefined>>;
type Place = {
  path: string;
  Place: Lazily<object>;
  /** What the place needs before it shows anything, asked for while its script is on its way. */
  begin?: (client: QueryClient, params: Params) => Promise<unknown>[];
};

/** Every place of the app that needs an account. */
export const PLACES: Place[] = [
  {
    path: "/",
    Place: lazily(() => import("./vehicles/VehiclesPlace")),
    begin: (client) => [
      client.prefetchQuery(catalogueQuery),
      client.prefetchInfiniteQuery(vehiclesQuery({ search: "" })),
    ],
  },
  { path: "/new", Place: lazily(() => import("./new/NewInstallationPlace")) },
  { path: "/bin", Place: lazily(() => import("./bin/BinPlace")) },
  { path: "/jobs", Place: lazily(() => import("./jobs/TemplatesPlace")) },
  { path: "/shelf", Place: lazily(() => import("./shelf/ShelfPlace")) },
  { path: "/phones", Place: lazily(() => import("./phones/PhonesPlace")) },
  {
    path: "/vehicle/:id",
    Place: lazily(() => import("./vehicle/VehiclePlace")),
    begin: (client, { id }) => [client.prefetchQuery(catalogueQuery), client.prefetchQuery(sheetQuery(Number(id)))],
  },
  { path: "/vehicle/:id/service", Place: lazily(() => import("./service/ServicePlace")) },
  { path: "/vehicle/:id/record", Place: lazily(() => import("./recording/PhonePlace")) },
  {
    path: "/recording/:id",
    Place: lazily(() => import("./recording/RecordingPlace")),
    begin: (client, { id }) => [client.prefetchQuery(recordingQuery(Number(id)))],
  },
  { path: "/installation/:id/jobs", Place: lazily(() => import("./jobs/JobsPlace")) },
  { path: "/installation/:id/faults", Place: lazily(() => import("./faults/FaultsPlace")) },
  { path: "/practice", Place: lazily(() => import("./practice/PracticePlace")) },
  { path: "/practice/:id", Place: lazily(() => import("./practice/CasePlace")) },
  { path: "/fault-table", Place: lazily(() => import("./faults/TablePlace")) },
  { path: "/fault/:id", Place: lazily(() => import("./faults/FaultPlace")) },
  { path: "/sheet/:id", Place: lazily(() => import("./jobs/SheetPlace")) },
  {
    path: "/installation/:id/:stage?",
    Place: lazily(() => import("./installation/InstallationPlace")),
    begin: (client, { id, stage }) => [
      client.prefetchQuery(catalogueQuery),
      client.prefetchQuery(installationQuery(Number(id))),
      evaluateAhead(Number(id)),
      loadStage(stage),
    ],
  },
];

/** Ask for everything that a place begins with, at once: its script, and what it shows to somebody who is signed in. */
export function ahead(client: QueryClient, path: string): Promise<unknown> {
  const session = client.prefetchQuery(sessionQuery);
  for (const { path: pattern, Place, begin } of PLACES) {
    const found = matchPath(pattern, path);
    if (!found) continue;
    const shown = () => Promise.allSettled(begin?.(client, found.params) ?? []);
    const here = wasSignedIn() ? shown() : session.then(() => (wasSignedIn() ? shown() : []));
    return Promise.allSettled([session, Place.load(), here]);
  }
  return session;
}

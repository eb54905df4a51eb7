import createClient, { type Middleware } from "openapi-fetch";
import { keepText, readKept } from "../ui/device";
import { language, t } from "../ui/words";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type Installation = Schemas["InstallationInput"];
export type Evaluation = Schemas["Evaluation"];
export type Evaluated = Schemas["Evaluated"];
export type Catalogue = Schemas["Catalogue"];
export type FieldProblem = Schemas["FieldProblem"];
export type StageName = Schemas["Stage"]["stage"];
export type Evidence = Schemas["Stage"]["evidence"];
export type RevisionOut = Schemas["RevisionOut"];
export type ReadoutResult = Schemas["ReadoutResult"];

/** An answer of the API that is a refusal, with the fields it is about. */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly problems: FieldProblem[] = [],
    readonly theirs?: RevisionOut,
  ) {
    super(message);
  }
}

/** The server, or its database, cannot be reached at the moment; it says when to try again. */
export class Away extends Error {
  constructor(readonly retryMs = 2000) {
    super(t("The server cannot be reached. What you typed is kept on this device. Trying again …"));
  }
}

/** The server is there and says that its disk is full: reading goes on. */
const DISK_FULL = 507;

/** The server answered that it failed: no fault of what was asked, and worth another try. */
export const isServerFault = (error: unknown) =>
  error instanceof Refusal && error.status >= 500 && error.status !== DISK_FULL;

type ReadIn = { speed: string; length: string };
const READ_IN = "wheelometron.units.read";
/** The units in which texts of the server say speeds and lengths: this person's, or those of the page that is open. */
export const readIn: { person: ReadIn; page?: ReadIn } = { person: lastReadIn() };

/** As this device read last: what is asked before the session is known comes in the right unit at once. */
function lastReadIn(): ReadIn {
  const [speed, length] = (readKept("local", READ_IN) ?? "").split(" ");
  return { speed: speed || "km/h", length: length || "mm" };
}

export function readPersonIn(units: ReadIn) {
  readIn.person = units;
  keepText("local", READ_IN, `${units.speed} ${units.length}`);
}

const csrf: Middleware = {
  onRequest({ request }) {
    request.headers.set("Accept-Language", language());
    const { speed, length } = readIn.page ?? readIn.person;
    request.headers.set("X-Speed-Unit", speed);
    request.headers.set("X-Length-Unit", length);
    const token = document.cookie.match(/(?:^|; )(?:__Host-)?csrftoken=([^;]+)/)?.[1];
    if (token && request.method !== "GET") request.headers.set("X-CSRFToken", token);
    return request;
  },
  async onResponse({ response }) {
    if (response.ok) return response;
    if (response.status >= 502 && response.status !== DISK_FULL)
      throw new Away(1000 * (Number(response.headers.get("Retry-After")) || 2));
    const body = await response.json().catch(() => ({}));
    throw new Refusal(
      response.status,
      body.detail ?? t("The server answered {0}.", response.status),
      body.problems,
      body.theirs,
    );
  },
  onError() {
    return new Away();
  },
};

export const api = createClient<paths>({ baseUrl: "/" });
api.use(csrf);

/** A new key for one write: the server answers a repeat with the same key as it answered the first. */
export const newKey = () =>
  Array.from(crypto.getRandomValues(new Uint8Array(16)), (byte) => byte.toString(16).padStart(2, "0")).join("");

/** The data of an answer; refusals were thrown by the middleware. */
export async function data<T>(answer: Promise<{ data?: T }>): Promise<T> {
  return (await answer).data as T;
}

/** The same for a file; ask for it with `parseAs: "blob"`. */
export const file = (answer: Promise<unknown>) => data(answer as Promise<{ data?: Blob }>);

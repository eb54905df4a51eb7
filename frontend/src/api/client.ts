import createClient, { type Middleware } from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type Fit = Schemas["Fit"];
export type Evaluation = Schemas["Evaluation"];
export type Evaluated = Schemas["Evaluated"];
export type Catalogue = Schemas["Catalogue"];
export type FieldProblem = Schemas["FieldProblem"];
export type LinkName = Schemas["Link"]["link"];
export type Evidence = Schemas["Link"]["evidence"];
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

/** The server did not answer at all. */
export class Away extends Error {
  constructor() {
    super("The server does not answer. What you typed is kept here and tried again.");
  }
}

const csrf: Middleware = {
  onRequest({ request }) {
    const token = document.cookie.match(/(?:^|; )csrftoken=([^;]+)/)?.[1];
    if (token && request.method !== "GET") request.headers.set("X-CSRFToken", token);
    return request;
  },
  async onResponse({ response }) {
    if (response.ok) return response;
    if (response.status >= 502) throw new Away();
    const body = await response.json().catch(() => ({}));
    throw new Refusal(
      response.status,
      body.detail ?? `The server answered ${response.status}.`,
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

/** The data of an answer; refusals were thrown by the middleware. */
export async function data<T>(answer: Promise<{ data?: T }>): Promise<T> {
  return (await answer).data as T;
}

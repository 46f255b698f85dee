/** The typed client. Every answer that is not a success becomes a Failure that a person can read. */
import createClient, { type Middleware } from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];

export class Failure extends Error {
  constructor(
    readonly status: number,
    readonly told: Schemas["ErrorOut"],
  ) {
    super(told.message);
  }

  /** What, and what to do, in one line. */
  get line(): string {
    return this.told.hint ? `${this.told.message}. ${capital(this.told.hint)}.` : `${this.told.message}.`;
  }
}

export function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

export function csrfToken(): string {
  return /(?:^|; )csrftoken=([^;]+)/.exec(document.cookie)?.[1] ?? "";
}

const guard: Middleware = {
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", csrfToken());
    return request;
  },
  async onResponse({ response }) {
    if (response.ok) return response;
    throw await failureOf(response);
  },
};

export async function failureOf(response: Response): Promise<Failure> {
  const plain = { message: `the server answered ${response.status}`, subject: "", hint: "try again", current: null };
  const body = (await response.json().catch(() => plain)) as Schemas["ErrorOut"];
  return new Failure(response.status, { ...plain, ...body });
}

/** What is asked again and again is soon answered or lost on the way; anything else may have to be computed first, ms. */
const LONGEST_POLL = 10_000;
const LONGEST = 120_000;

/** A request that is never answered ends as one to a server out of reach, so that it is asked again. Changes are not cut off. */
function patient(request: Request): Promise<Response> {
  const polled = /\/api\/jobs\/[^/]+$|\/pulse$/.test(new URL(request.url).pathname);
  if (request.method !== "GET" && !polled) return globalThis.fetch(request);
  const signal = AbortSignal.any([request.signal, AbortSignal.timeout(polled ? LONGEST_POLL : LONGEST)]);
  return globalThis.fetch(request, { signal });
}

/** A file sent to an address that reads it, and what the server found in it. */
export async function sendFile<T>(url: string, file: File): Promise<T> {
  const body = new FormData();
  body.append("file", file);
  const response = await fetch(url, { method: "POST", body, headers: { "X-CSRFToken": csrfToken() } });
  if (!response.ok) throw await failureOf(response);
  return (await response.json()) as T;
}

export const api = createClient<paths>({ baseUrl: "/", fetch: patient });
api.use(guard);

/** Whether an error means that the server, or its database, is out of reach for now: what was asked may be asked again. */
export function isAway(error: unknown): boolean {
  return !(error instanceof Failure) || [502, 503, 504].includes(error.status);
}

/** What to tell of an error, in one line. */
export function lineOf(error: unknown): string {
  return error instanceof Failure ? error.line : "The server cannot be reached.";
}

/** The data of an answer that succeeded. */
export function dataOf<T>(answer: { data?: T }): T {
  return answer.data as T;
}

/** Where a file of a road is fetched from, or sent to be read for it: what comes after the project in the address. */
export function fileOf({ path, query }: { path: { project_id: number }; query: { road: string } }, rest: string): string {
  return `/api/projects/${path.project_id}/${rest}${rest.includes("?") ? "&" : "?"}road=${encodeURIComponent(query.road)}`;
}

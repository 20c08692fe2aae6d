import createClient, { createQuerySerializer, type Middleware } from "openapi-fetch";
import createQueries from "openapi-react-query";

export type * from "./schema";
import { answered, CARRIES, keptAnswer, keepAnswer, unanswered, unpaired, wasKept } from "../pocket/away";
import type { components, paths, Problem, Route } from "./schema";

/** A pair: its routes in a line each, and the one that is looked at in full. */
export type MatchReport = components["schemas"]["RouteList"];
export type BecomingRow = components["schemas"]["Becoming"];
export type CameraDone = components["schemas"]["Done"];
export type Grade = Route["grade"];
export type Term = components["schemas"]["GlossaryTerm"];
export type Word = Term["key"];
export type ShelfRow = components["schemas"]["Row"];
export type WouldFitReport = components["schemas"]["WouldFit"];

/** Nobody answers: the server was stopped, or its machine sleeps. */
export class AwayError extends Error {
  constructor() {
    super("The server does not answer; what you typed is kept.");
  }
}

/** What is kept of a phone's answers is waited for no longer than this. */
const PATIENCE_MS = 8_000;

/** As the browser fetches; where nobody answers, what was kept of the log, else words for it. */
async function fetched(request: Request): Promise<Response> {
  const kept = wasKept(request);
  const signal = kept ? AbortSignal.any([request.signal, AbortSignal.timeout(PATIENCE_MS)]) : request.signal;
  try {
    const response = await fetch(request, { signal });
    answered();
    if (response.status === 401 && CARRIES) unpaired();
    if (kept && response.ok) await keepAnswer(request.url, response.clone());
    return response;
  } catch (error) {
    // What was called off is no fault.
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    unanswered();
    const answer = kept ? await keptAnswer(request.url) : null;
    if (answer) return answer;
    throw new AwayError();
  }
}

/** What the server refused, as it put it. */
export class ProblemError extends Error {
  readonly problem: Problem;

  constructor(problem: Problem) {
    super(problem.detail || problem.title);
    this.problem = problem;
  }
}

/** What somebody else made of a record meanwhile, where that is why it was refused. */
export function movedTo(error: unknown): { current: unknown; version: number } | null {
  if (!(error instanceof ProblemError) || error.problem.type !== "stale") return null;
  const { current, version } = error.problem;
  return current && version != null ? { current, version } : null;
}

function isProblem(value: unknown): value is Problem {
  return typeof value === "object" && value !== null && "title" in value && "status" in value;
}

/** What a refused answer says, or that it says nothing that is known. */
async function refusal(response: Response): Promise<ProblemError> {
  const said: unknown = await response.json().catch(() => null);
  const { status } = response;
  const detail = `The server answered ${status}.`;
  const unknown: Problem = {
    type: "bad_request",
    title: "No answer",
    status,
    detail,
    errors: [],
    near: [],
    users: [],
  };
  return new ProblemError(isProblem(said) ? said : unknown);
}

/** Throws what the server refused. */
const refusing: Middleware = {
  async onResponse({ response }) {
    if (!response.ok) throw await refusal(response);
  },
};

interface Refused {
  default: { content: { "application/problem+json": ProblemError } };
}
/** An operation whose refusals are thrown as errors. */
type Told<Operation> = Operation extends { responses: infer Responses }
  ? Omit<Operation, "responses"> & { responses: Omit<Responses, 404 | 409 | 422> & Refused }
  : Operation;
type Paths = { [Path in keyof paths]: { [Method in keyof paths[Path]]: Told<paths[Path][Method]> } };

export const client = createClient<Paths>({ baseUrl: window.location.origin, fetch: fetched });
client.use(refusing);
/** Options of queries and mutations, by method and path. */
export const api = createQueries(client);

/** Where something is that no script fetches: a picture, a table. */
export const addressOf = (path: keyof paths, query: object) => `${path}?${createQuerySerializer()(query)}`;

/** The data of an answer: what was refused has been thrown. */
export const unwrap = <T>({ data }: { data?: T }): T => data as T;

/** A file sent as it is; throws what the server refused. */
export async function send(
  path: string,
  body: BodyInit,
  type = "application/octet-stream",
  signal: AbortSignal | null = null,
): Promise<Response> {
  const response = await fetch(path, { method: "POST", body, headers: { "content-type": type }, signal });
  if (!response.ok) throw await refusal(response);
  return response;
}

import { isProblem, ProblemError } from "./client";

/** A file sent as it is; throws what the server refused. */
export async function send(
  path: string,
  body: BodyInit,
  type = "application/octet-stream",
  signal?: AbortSignal,
): Promise<Response> {
  const response = await fetch(path, {
    method: "POST",
    body,
    headers: { "content-type": type },
    ...(signal ? { signal } : {}),
  });
  if (response.ok) return response;
  const problem: unknown = await response.json().catch(() => null);
  throw new ProblemError(
    isProblem(problem)
      ? problem
      : {
          type: "bad_request",
          title: "No answer",
          status: response.status,
          detail: `The server answered ${response.status}.`,
          errors: [],
          near: [],
          users: [],
        },
  );
}

import { refusal } from "./client";

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
  throw refusal(await response.json().catch(() => null), response.status);
}

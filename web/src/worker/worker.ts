/**
 * Keeps one shell of the application, so that it opens without the server. What the server answers is never kept here.
 *
 * The page is kept with the nonce that it came with; each time it is given out, a fresh one stands in it and in its
 * policy. Another build or another collection is another worker: it waits until somebody agrees.
 */

interface Shell {
  build: string;
  collection: string;
  files: readonly string[];
}

// The server writes it in.
declare const __SHELL__: Shell;
declare const self: ServiceWorkerGlobalScope;

const shell = __SHELL__;
const KEPT = "shell ";
const NAME = `${KEPT}${shell.collection} ${shell.build}`;
const PAGE = "/";
const NONCE = /'nonce-([^']+)'/;

async function install() {
  const cache = await caches.open(NAME);
  await cache.addAll([PAGE, ...shell.files].map((path) => new Request(path, { cache: "reload" })));
  // A device that was shut out meanwhile got another page.
  const page = await cache.match(PAGE);
  if (!page || !(await page.text()).includes('id="root"')) throw new Error("not the page of the application");
}

async function activate() {
  for (const name of await caches.keys()) if (name.startsWith(KEPT) && name !== NAME) await caches.delete(name);
  await self.clients.claim();
}

const fresh = () => btoa(String.fromCharCode(...crypto.getRandomValues(new Uint8Array(18))));

/** The kept page under a nonce of its own. */
async function page(request: Request): Promise<Response> {
  const kept = await (await caches.open(NAME)).match(PAGE);
  const policy = kept?.headers.get("content-security-policy");
  const [, old] = NONCE.exec(policy ?? "") ?? [];
  if (!kept || !policy || !old) return fetch(request);
  const nonce = fresh();
  const headers = new Headers(kept.headers);
  headers.set("content-security-policy", policy.replaceAll(old, nonce));
  // The text is what the server packed.
  for (const name of ["content-encoding", "content-length"]) headers.delete(name);
  return new Response((await kept.text()).replaceAll(old, nonce), { headers });
}

const file = async (request: Request) => (await (await caches.open(NAME)).match(request)) ?? fetch(request);

self.addEventListener("install", (event) => {
  event.waitUntil(install());
});

self.addEventListener("activate", (event) => {
  event.waitUntil(activate());
});

self.addEventListener("fetch", (event) => {
  const { request } = event;
  const { origin, pathname } = new URL(request.url);
  if (request.method !== "GET" || origin !== self.location.origin || pathname.startsWith("/api/")) return;
  if (request.mode === "navigate") event.respondWith(page(request));
  else if (shell.files.includes(pathname)) event.respondWith(file(request));
});

self.addEventListener("message", (event) => {
  if (event.data === "take over") event.waitUntil(self.skipWaiting());
  if (event.data === "which") event.ports[0]?.postMessage({ build: shell.build, collection: shell.collection });
});

// A module of its own to the type checker.
export {};

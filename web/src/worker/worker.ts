/**
 * Keeps one shell of the application, so that it opens without the server. What the server answers is never kept here.
 * Another build or another collection is another worker: it waits until somebody agrees.
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

const page = async (request: Request) => (await (await caches.open(NAME)).match(PAGE)) ?? fetch(request);

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

import "@fontsource-variable/sofia-sans-semi-condensed/wght.css";
import "@fontsource-variable/literata/wght.css";
import "../app/tokens.css";
import "./pair.css";

import { keep } from "../parts/csv";
import { keepFieldInSight } from "../pocket/keyboard";
import { inLogFile, LOG_FILE_NAME, logFileOf } from "../pocket/logFile";
import { discardDeeds, waitingDeeds, wipe } from "../pocket/store";

const the = <T extends HTMLElement>(id: string, kind: new () => T): T => {
  const found = document.getElementById(id);
  if (!(found instanceof kind)) throw new Error(`no ${id}`);
  return found;
};

const form = the("pair", HTMLFormElement);
const code = the("code", HTMLInputElement);
const name = the("name", HTMLInputElement);
const said = the("said", HTMLParagraphElement);

if (matchMedia("(prefers-color-scheme: dark)").matches) document.documentElement.dataset.theme = "dark";
name.value = /Mobi|Android|iPhone/.test(navigator.userAgent) ? "Phone" : "Computer";

function problemIn(value: unknown): string {
  if (typeof value !== "object" || value === null) return "";
  if ("detail" in value && typeof value.detail === "string" && value.detail) return value.detail;
  return "title" in value && typeof value.title === "string" ? value.title : "";
}

async function pair() {
  const button = form.querySelector("button");
  if (button) button.disabled = true;
  said.textContent = "";
  try {
    const answer = await fetch("/api/v1/lan/pair", {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify({ code: code.value, name: name.value.trim() || "Phone" }),
    });
    if (answer.ok) {
      window.location.replace("/");
      return;
    }
    said.textContent = problemIn(await answer.json().catch(() => null)) || `The machine answered ${answer.status}.`;
  } catch {
    said.textContent = "The machine does not answer. Are both in one network?";
  }
  if (button) button.disabled = false;
}

/** What was logged here and never arrived belongs to whoever holds the device. */
async function tellWaiting() {
  const waiting = await waitingDeeds();
  const entries = inLogFile(waiting);
  the("waiting", HTMLElement).hidden = waiting.length === 0;
  the("waiting-said", HTMLHeadingElement).textContent =
    entries === 0
      ? "Ticks on cards wait on this device."
      : `${entries} ${entries === 1 ? "entry, correction or strike waits" : "entries, corrections and strikes wait"} on this device.`;
  the("save", HTMLButtonElement).onclick = () => keep(LOG_FILE_NAME, "application/json", logFileOf(waiting));
  the("discard", HTMLButtonElement).onclick = () => {
    if (window.confirm("Discard what waits on this device? It was never sent."))
      void discardDeeds().then(() => tellWaiting());
  };
}

keepFieldInSight();
form.addEventListener("submit", (event) => {
  event.preventDefault();
  void pair();
});

/** The code in the address: behind # it was never sent, and it leaves the address bar at once. */
function readCode() {
  const [, read] = /^#pair=([0-9A-Za-z-]{8,12})$/.exec(window.location.hash) ?? [];
  if (read === undefined) return;
  code.value = read.length === 8 ? `${read.slice(0, 4)}-${read.slice(4)}` : read;
  history.replaceState(null, "", window.location.pathname);
  name.focus();
}

window.addEventListener("hashchange", readCode);
readCode();
// Nothing of a collection stays on a device that is not paired.
void wipe().then(tellWaiting);

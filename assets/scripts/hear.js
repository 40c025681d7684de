// What others write to the case on screen appears here. One stream serves all tabs of this browser:
// a shared worker holds it where there is one, else the tab in sight does.

import { ask } from "./ask.js";
import { afterEach, busy, inTurn } from "./line.js";
import { changed } from "./onward.js";
import { show } from "./page.js";

let port = null;
let source = null;
let heard = 0;
let look = false;

const place = () => document.getElementById("live")?.dataset ?? {};
// A page of the whole floor follows every case.
const all = () => "all" in place();
// Nobody loses what is being said in a part that was opened for it.
const saying = () => all() && document.querySelector("#live details.over[open]");

/** What was said: "look", "case look", or "case number". */
export function parse(said) {
  const [which, what] = said.split(" ");
  if (which === "look") return { anything: true };
  return what === "look" ? { which, look: true } : { which, seq: Number(what) };
}

/** Listens while a case is on screen and in sight. */
export function listen() {
  const wanted = (place().case || all()) && !document.hidden;
  if (!wanted) {
    hush();
  } else if (!port && !source) {
    const worker = document.documentElement.dataset.live;
    if (window.SharedWorker && worker) {
      port = new SharedWorker(worker).port;
      port.onmessage = ({ data }) => hear(data);
    } else {
      source = new EventSource("/live");
      source.addEventListener("entry", ({ data }) => hear(data));
      source.addEventListener("open", () => hear("look"));
    }
  }
}

function hush() {
  port?.postMessage("leave");
  port?.close();
  source?.close();
  port = source = null;
}

async function hear(said) {
  const { anything, which, seq = 0, look: locked = false } = parse(said);
  if (all()) {
    look = true;
    catchUp();
    return;
  }
  if (anything) {
    const id = place().case;
    if (!id) return;
    try {
      hear(`${id} ${(await ask(`/cases/${id}/live`)).text}`);
    } catch {
      // The next one tells it.
    }
    return;
  }
  if (which !== place().case) return;
  look ||= locked;
  heard = Math.max(heard, seq);
  catchUp();
}

function catchUp() {
  const shown = Number(place().seq || 0);
  if (busy() || saying() || !(place().case || all()) || (!look && heard <= shown)) return;
  heard = 0;
  look = false;
  inTurn(async () => {
    const answer = await ask(location.href);
    if (answer.ok) await show(answer.text, location.href);
    changed();
  });
}

/** Begins to follow what comes into sight. */
export function start() {
  afterEach(catchUp);
  document.addEventListener("visibilitychange", () => {
    listen();
    if (!document.hidden) hear("look");
  });
  addEventListener("pagehide", hush);
  addEventListener("pageshow", (event) => {
    if (!event.persisted) return;
    listen();
    hear("look");
  });
}

// After an action the focus goes where the next one is, and what changed is said to whoever cannot
// see it: saved, a new leader, a stop.

import { mark, own } from "./seen.js";

// What was done on the page before, across a new page.
const KEY = "us-acted";

const NEXT = ["[data-next]", ".step .button.main", ".stage .button.main", ".button.main", "h1"];
const leader = () => document.getElementById("live")?.dataset.leader ?? "";
const stop = () => document.querySelector("#work .stop-box, #work .stopped")?.textContent ?? "";

/** What is said of a change, and whether it is urgent. */
export function news(before, now, saved) {
  const urgent = now.stop && now.stop !== before.stop ? now.stop : "";
  const said = saved ? ["Saved."] : [];
  if (now.hearsay > before.hearsay) said.push("A helper suggests something.");
  if (now.leader && now.leader !== before.leader) said.push(`Leading now: ${now.leader}.`);
  return { said: said.join(" "), urgent };
}

const heard = () => Number(document.getElementById("live")?.dataset.hearsay ?? 0);
const seen = () => ({
  leader: leader(),
  stop: stop().trim().replace(/\s+/g, " "),
  hearsay: heard(),
});
let before = { leader: "", stop: "", hearsay: 0 };

function say(saved) {
  const now = seen();
  const { said, urgent } = news(before, now, saved);
  before = now;
  if (said) document.getElementById("said").textContent = said;
  if (urgent) document.getElementById("alarm").textContent = urgent;
}

function focusNext() {
  const found = NEXT.map((next) => document.querySelector(`#work ${next}`));
  const next = found.find(Boolean);
  if (!next) return;
  if (next.matches("h1")) next.tabIndex = -1;
  next.focus({ preventScroll: true });
}

/** A touch was taken and its answer is on screen: what had the focus may be gone. */
export function acted() {
  say(true);
  if (!document.activeElement || document.activeElement === document.body) focusNext();
}

/** The touch leads to another page: that one goes on from it. */
export function leaving() {
  sessionStorage.setItem(KEY, JSON.stringify(before));
}

/** Somebody else's doing, or a part of a page opened in place. */
export function changed() {
  say(false);
}

/** Takes up what the page before left. */
export function start() {
  const kept = sessionStorage.getItem(KEY);
  sessionStorage.removeItem(KEY);
  if (kept === null) {
    before = seen();
    return;
  }
  before = JSON.parse(kept);
  own();
  mark();
  say(true);
  if (!document.querySelector("#work [autofocus]")) focusNext();
}

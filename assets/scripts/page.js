// The page on screen: its work area takes the content of pages that come as text.

import { still } from "./press.js";

export const work = () => document.getElementById("work");

const options = { key: (element) => element.id, updating };
const shown = [];
let address = "";

/** Calls `then` whenever another content is shown, and once at the beginning. */
export function whenShown(then) {
  shown.push(then);
}

/** Whether two addresses name the same page, perhaps at different places. */
export const samePage = (a, b) => a.split("#")[0] === b.split("#")[0];

// What a person opened stays open, and the word that nothing was sent stays until it was.
function updating(from, to, children, skip) {
  if (from.nodeType !== 1) return;
  if (from.matches("details") && from.dataset.opened) {
    to.toggleAttribute("open", from.open);
    to.dataset.opened = "yes";
  }
  if (from.matches("#not-sent")) skip();
}

function morph(fresh) {
  Alpine.morph(work(), fresh.outerHTML, options);
}

/** The work area of a page that came as text; nothing when it has none. */
export function workOf(html) {
  const page = new DOMParser().parseFromString(html, "text/html");
  return { title: page.title, fresh: page.getElementById("work") };
}

/** Shows a page that came as text; typed values elsewhere and the focus stay. */
export async function show(html, url) {
  await still();
  const { title, fresh } = workOf(html);
  if (!fresh) {
    location.href = url;
    return;
  }
  document.title = title;
  const focused = document.activeElement?.id;
  morph(fresh);
  if (focused && document.activeElement?.id !== focused) {
    document.getElementById(focused)?.focus({ preventScroll: true });
  }
  if (url !== location.href) history.pushState({}, "", url);
  address = location.href;
  for (const then of shown) then();
}

/** Shows another state of the same page, without a word to those who follow the content. */
export async function refine(html) {
  await still();
  const { fresh } = workOf(html);
  if (fresh) morph(fresh);
  return Boolean(fresh);
}

/** Leaves for another page. */
export function leave(url) {
  address = url;
  location.assign(url);
}

/** Begins to watch the page. */
export function start() {
  address = location.href;
  // A step within the page is no new page: the browser scrolls by itself.
  addEventListener("popstate", () => {
    if (!samePage(location.href, address)) location.reload();
  });
  const opened = (event) => {
    const summary = event.target.closest("summary");
    if (summary) summary.parentElement.dataset.opened = "yes";
  };
  document.addEventListener("click", opened, true);
  for (const then of shown) then();
}

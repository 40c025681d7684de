// Parts of a page and places on a map open without a new page.

import { ask } from "./ask.js";
import { inTurn } from "./line.js";
import { show } from "./page.js";

// Widest screen on which the signs of a place stand below its map, in pixels.
const NARROW = 1020;

async function open(url, spot) {
  try {
    const answer = await ask(url);
    await show(answer.text, answer.url);
    const signs = document.getElementById("signs");
    if (spot && signs && innerWidth <= NARROW) signs.scrollIntoView({ block: "start" });
  } catch {
    location.href = url;
  }
}

/** Opens such links in place from now on. */
export function start() {
  document.addEventListener("click", (event) => {
    // A place that stands for a button of its form presses it.
    const place = event.target.closest('a.spot[href^="#at-"]');
    if (place) {
      event.preventDefault();
      document.getElementById(place.getAttribute("href").slice(1))?.click();
      return;
    }
    const link = event.target.closest("a[data-swap], a.spot");
    const elsewhere = event.ctrlKey || event.metaKey || event.shiftKey || event.button;
    if (!link || elsewhere) return;
    event.preventDefault();
    const url = new URL(link.getAttribute("href"), location.href).href;
    inTurn(() => open(url, link.matches(".spot")));
  });
}

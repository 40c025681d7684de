// While numbers are typed at the bench, what follows from them is shown at once: the same page is
// fetched with the numbers in its address.

import { ask } from "./ask.js";
import { refine } from "./page.js";

/** How long a person must rest before the page is asked, in milliseconds. */
const REST = 160;

let timer = 0;
let latest = 0;

function address(form) {
  const url = new URL(form.action);
  for (const [name, value] of new FormData(form)) url.searchParams.append(name, value);
  return url.href;
}

async function reckon(form) {
  const url = address(form);
  const mine = ++latest;
  try {
    const answer = await ask(url);
    if (mine !== latest || !answer.ok) return;
    history.replaceState({}, "", url);
    await refine(answer.text);
  } catch {
    // The button is still there: without an answer nothing is lost.
  }
}

export function start() {
  document.addEventListener("input", ({ target }) => {
    const form = target.closest("form[data-reckon]");
    if (!form) return;
    clearTimeout(timer);
    timer = setTimeout(() => reckon(form), REST);
  });
}

// The plan appears at once as far as it is thought, and grows one step at a time.

import { ask } from "./ask.js";
import { inTurn } from "./line.js";
import { refine } from "./page.js";

const deeper = () => document.querySelector("a[data-deepen]");

/** Thinks one step further, as long as there is one. */
export function deepen() {
  const url = deeper()?.href;
  if (!url) return;
  inTurn(async () => {
    const answer = await ask(url);
    if (!answer.ok || deeper()?.href !== url) return;
    if (await refine(answer.text)) deepen();
  });
}

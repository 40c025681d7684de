// A page that follows its answers: a drawing, a list of what belongs to a choice. Without scripts a
// button asks for it.

import { ask } from "./ask.js";
import { inTurn } from "./line.js";
import { refine } from "./page.js";
import { settle } from "./touch.js";

// What belongs to the sending of a form and not to what it says.
const OF_THE_FORM = ["touch", "seq", "machine_id", "case_id"];

function address(form, submitter) {
  const said = new URLSearchParams();
  for (const [name, value] of new FormData(form, submitter)) {
    if (typeof value === "string" && !OF_THE_FORM.includes(name)) said.append(name, value);
  }
  return `${form.dataset.follow}?${said}`;
}

function follow(form, submitter) {
  return inTurn(async () => {
    try {
      await refine((await ask(address(form, submitter))).text);
      settle(form);
    } catch {
      // The answers stand; the next one draws it.
    }
  });
}

/** Follows from now on. */
export function start() {
  document.addEventListener("change", (event) => {
    const form = event.target.closest("form[data-follow]");
    if (form && event.target.matches("[type=radio]")) follow(form);
  });
  document.addEventListener("submit", (event) => {
    const form = event.target;
    if (!form.matches("form[data-follow]") || event.submitter?.formMethod !== "get") return;
    event.preventDefault();
    event.stopImmediatePropagation();
    follow(form, event.submitter);
  });
}

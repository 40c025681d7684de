// A touch: what a form said at the press, under an identity of its own, so that it counts once
// however often it is sent.

import { PATIENCE, UPLOAD_PATIENCE, ask } from "./ask.js";
import { forget } from "./drafts.js";
import { inTurn } from "./line.js";
import { acted, leaving } from "./onward.js";
import { leave, show, work } from "./page.js";
import { still } from "./press.js";
import { mark, own as ownIsSeen } from "./seen.js";

// Touches sent and not answered yet: a later one says that it knows of them.
const underWay = [];
// What each form said last, and under which identity: the same said again is the same touch.
const lastSaid = new WeakMap();

/** An identity as the server makes them; works on plain http too. */
export function identity(bytes = crypto.getRandomValues(new Uint8Array(16))) {
  bytes[6] = (bytes[6] & 0x0f) | 0x40;
  bytes[8] = (bytes[8] & 0x3f) | 0x80;
  const hex = [...bytes].map((b) => b.toString(16).padStart(2, "0")).join("");
  return hex.replace(/^(.{8})(.{4})(.{4})(.{4})/, "$1-$2-$3-$4-");
}

/** What a form says besides its identity, as one text; files say nothing comparable. */
export function saidBy(entries) {
  return JSON.stringify(
    entries.filter(([name, value]) => name !== "touch" && typeof value === "string"),
  );
}

/** A touch as it was at the press: where it goes and what it says do not change any more. */
function freeze(form, submitter) {
  const data = new FormData(form, submitter);
  const said = saidBy([...data]);
  const files = [...data].some(([, value]) => value instanceof File && value.size > 0);
  const last = lastSaid.get(form);
  const again = last && last.said === said && !files;
  const own = last ? identity() : data.get("touch") || identity();
  const id = again ? last.id : own;
  data.set("touch", id);
  const before = underWay.filter((other) => other !== id);
  if (before.length) data.set("after", before.join(","));
  lastSaid.set(form, { said, id });
  const upload = form.enctype === "multipart/form-data";
  return {
    id,
    again: again && underWay.includes(id),
    action: submitter?.hasAttribute("formaction") ? submitter.formAction : form.action,
    body: upload ? data : new URLSearchParams(data),
    patience: upload ? UPLOAD_PATIENCE : PATIENCE,
    names: [...data.keys()],
    morph: form.matches("[data-morph]"),
    form,
  };
}

// What was taken shows as the server wrote it down ("0.008 in" as 0.203); the field being typed in
// is left alone.
export function settle(form) {
  for (const field of form.elements) {
    if (field === document.activeElement) continue;
    if (field.matches("input[type=radio], input[type=checkbox]")) {
      field.checked = field.defaultChecked;
    } else if (field.matches("select")) {
      for (const option of field.options) option.selected = option.defaultSelected;
    } else if (field.matches("input:not([type=file]), textarea")) {
      field.value = field.defaultValue;
    }
  }
}

async function answered(touch, answer) {
  notSent(null);
  // The page that answers gives the form a new identity.
  lastSaid.delete(touch.form);
  // Whatever was taken leads on to a page; an answer in place asks something first.
  const taken = answer.ok && answer.redirected;
  if (taken) forget(touch.action, touch.names);
  if (taken && !touch.morph) {
    await still();
    leaving();
    leave(answer.url);
    return;
  }
  // What was not taken has no page of its own to reload, so the address stays.
  await show(answer.text, taken ? answer.url : location.href);
  if (taken && touch.form.isConnected) settle(touch.form);
  if (taken) {
    ownIsSeen();
    mark();
    acted();
  }
}

function send(touch) {
  underWay.push(touch.id);
  touch.form.classList.add("sending");
  return inTurn(async () => {
    try {
      const how = { method: "POST", body: touch.body };
      await answered(touch, await ask(touch.action, how, touch.patience));
    } catch {
      // No answer, or none that says what became of it. The form stays as it is, the touch keeps
      // its identity: sent again, it counts once.
      notSent(touch);
    } finally {
      underWay.splice(underWay.indexOf(touch.id), 1);
      touch.form.classList.remove("sending");
    }
  });
}

// "Not sent: try again", beside the form it belongs to, with everything typed still in it.
function notSent(touch) {
  document.getElementById("not-sent")?.remove();
  if (!touch) return;
  const box = document.createElement("div");
  box.id = "not-sent";
  box.className = "not-sent";
  box.setAttribute("role", "alert");
  box.innerHTML =
    "<strong>Not sent.</strong> No answer came. What you entered is still here. " +
    '<button type="button" class="button small">Try again</button>';
  box.querySelector("button").addEventListener("click", () => {
    box.remove();
    send(touch);
  });
  const there = touch.form.isConnected && touch.form.offsetParent;
  if (there) touch.form.append(box);
  else work().firstElementChild.prepend(box);
  box.scrollIntoView({ block: "nearest" });
}

/** Sends forms as touches from now on. */
export function start() {
  document.addEventListener("submit", (event) => {
    const form = event.target;
    if (form.method !== "post" || event.defaultPrevented) return;
    event.preventDefault();
    const touch = freeze(form, event.submitter);
    if (!touch.again) send(touch);
  });
}

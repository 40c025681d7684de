// Drafts: what is typed is kept in this tab until an answer says that it was recorded, so that
// neither an error, nor a lost line, nor a reload takes it away.

const DRAFT = "usual-suspect-draft ";
const DRAFTABLE = "textarea, input:not([type]), input[type=text]";

// At a shared station what somebody was typing is nobody else's to see.
const owner = () => globalThis.document?.documentElement?.dataset?.owner ?? "";

/** The name under which a field's draft is kept. */
export const draftName = (action, field) =>
  `${DRAFT}${owner()} ${new URL(action).pathname} ${field}`;

function keep({ target }) {
  const { form, name } = target;
  if (!target.matches?.(DRAFTABLE) || form?.method !== "post" || !name) return;
  try {
    sessionStorage.setItem(draftName(form.action, name), target.value);
  } catch {
    // No room: only the page keeps it.
  }
}

/** Puts drafts into the empty fields they belong to. */
export function restore() {
  for (const field of document.querySelectorAll("form[method=post] :is(textarea, input)")) {
    const taken = field.value || field.defaultValue;
    if (!field.matches(DRAFTABLE) || !field.name || taken) continue;
    field.value = sessionStorage.getItem(draftName(field.form.action, field.name)) ?? "";
  }
}

/** Forgets drafts of fields that were recorded. */
export function forget(action, names) {
  for (const name of names) sessionStorage.removeItem(draftName(action, name));
}

/** Begins to keep drafts. */
export function start() {
  document.addEventListener("input", keep);
}

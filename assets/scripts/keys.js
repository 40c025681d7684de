// Keys answer what is on screen.

const TYPED_IN = "input:not([type=radio]):not([type=checkbox]), textarea, select";
// Digits rest so long after a change, in milliseconds: a key meant for what was there before must
// not answer what came instead.
const REST = 500;

let resting = 0;

/** Digits rest for a moment: what they mean has changed. */
export function rest() {
  const root = document.documentElement;
  root.dataset.resting = "yes";
  clearTimeout(resting);
  resting = setTimeout(() => delete root.dataset.resting, REST);
}

const visible = (element) => element.checkVisibility?.() ?? element.offsetParent !== null;

// The element a key stands for: what is marked with it and can be seen.
function marked(key) {
  if (key === "Enter") {
    if (document.activeElement && document.activeElement !== document.body) return null;
    return [...document.querySelectorAll("#work .button.main")].find(visible);
  }
  const all = document.querySelectorAll(`[data-key="${CSS.escape(key)}"]`);
  return [...all].find(visible);
}

/** Answers keys from now on. */
export function start() {
  document.addEventListener("keydown", (event) => {
    // A key that is held down is one press.
    if (event.ctrlKey || event.metaKey || event.altKey || event.repeat) return;
    if (event.target.matches(TYPED_IN) || document.querySelector("dialog[open]")) return;
    if (event.key === "?") {
      document.getElementById("keys").showModal();
      return;
    }
    const digit = /^[0-9]$/.test(event.key);
    if (digit && document.documentElement.dataset.resting) return;
    const target = marked(event.key);
    if (!target) return;
    event.preventDefault();
    target.click();
    document.getElementById(target.dataset.then)?.focus();
  });
}

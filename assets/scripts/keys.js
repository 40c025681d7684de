// Keys answer what is on screen.

const TYPED_IN = "input:not([type=radio]):not([type=checkbox]), textarea, select";

/** Answers keys from now on. */
export function start() {
  document.addEventListener("keydown", (event) => {
    // A key that is held down is one press.
    if (event.ctrlKey || event.metaKey || event.altKey || event.repeat) return;
    if (event.target.matches(TYPED_IN)) return;
    if (event.key === "?") {
      document.getElementById("keys").showModal();
      return;
    }
    const target = document.querySelector(`[data-key="${CSS.escape(event.key)}"]`);
    if (!target) return;
    event.preventDefault();
    target.click();
    document.getElementById(target.dataset.then)?.focus();
  });
}

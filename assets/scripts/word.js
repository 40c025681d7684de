// Words of the trade: a touch, the pointer or the focus opens the word's line of the glossary.
// Without scripts they are links to it.

const GAP = 6;
let shown = null;

function box() {
  let line = document.getElementById("word-line");
  if (!line) {
    line = document.createElement("p");
    line.id = "word-line";
    line.className = "word-line";
    line.setAttribute("role", "tooltip");
    document.body.append(line);
  }
  return line;
}

function hide() {
  shown?.removeAttribute("aria-describedby");
  shown = null;
  document.getElementById("word-line")?.remove();
}

function open(word) {
  if (shown === word) return;
  hide();
  const line = box();
  line.textContent = word.dataset.word;
  word.setAttribute("aria-describedby", line.id);
  shown = word;
  const at = word.getBoundingClientRect();
  const left = Math.min(at.left, document.documentElement.clientWidth - line.offsetWidth - GAP);
  line.style.left = `${Math.max(left, GAP) + window.scrollX}px`;
  const below = at.bottom + GAP + line.offsetHeight < window.innerHeight;
  const top = below ? at.bottom + GAP : at.top - GAP - line.offsetHeight;
  line.style.top = `${top + window.scrollY}px`;
}

const wordAt = (event) => event.target.closest?.("a.word");

/** Explains words from now on. */
export function start() {
  let touched = false;
  document.addEventListener("pointerdown", (event) => {
    touched = event.pointerType === "touch";
  });
  document.addEventListener("pointerover", (event) => {
    if (event.pointerType === "touch") return;
    const word = wordAt(event);
    if (word) open(word);
    else if (shown && shown !== document.activeElement) hide();
  });
  document.addEventListener("focusin", (event) => {
    const word = wordAt(event);
    if (word) open(word);
    else hide();
  });
  document.addEventListener("click", (event) => {
    const word = wordAt(event);
    if (!word) {
      hide();
      return;
    }
    // The first touch explains; the second leads to the entry, as any link does.
    if (touched && !word.dataset.opened) {
      event.preventDefault();
      open(word);
      word.dataset.opened = "yes";
    }
  });
  document.addEventListener("keydown", (event) => {
    if (event.key === "Escape") hide();
  });
}

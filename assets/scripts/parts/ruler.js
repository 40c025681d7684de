// The ruler on the print map: dragged, or moved by arrow keys, it fills the field beside it.

/** Within 0 and 1. */
export const clamp = (share) => Math.min(1, Math.max(0, share));

/** A share of a piece so many millimetres tall, to half a millimetre. */
export const millimetres = (share, piece) => Math.round(clamp(share) * piece * 2) / 2;

/** Where a key moves the ruler from `now`, in millimetres; nothing for other keys. */
export function moved(key, now, piece, shift) {
  const step = shift ? 10 : 1;
  switch (key) {
    case "ArrowUp":
      return now + step;
    case "ArrowDown":
      return now - step;
    case "PageUp":
      return now + 10;
    case "PageDown":
      return now - 10;
    case "Home":
      return 0;
    case "End":
      return piece;
    default:
      return undefined;
  }
}

class Ruler {
  constructor(root) {
    this.root = root;
    this.held = null;
  }

  get form() {
    return this.root.querySelector("#height");
  }

  piece(ruler) {
    const typed = this.form.elements.piece_mm.value.replace(",", ".");
    return Number(typed) || Number(ruler.dataset.piece);
  }

  put(ruler, share) {
    const { foot, tip } = ruler.dataset;
    const mm = millimetres(share, this.piece(ruler));
    ruler.setAttribute("transform", `translate(0 ${Number(foot) - clamp(share) * (foot - tip)})`);
    ruler.setAttribute("aria-valuenow", mm);
    ruler.classList.add("known");
    this.form.elements.fault_mm.value = mm;
  }

  follow(event) {
    const drawing = this.held.ownerSVGElement;
    const box = drawing.getBoundingClientRect();
    const { foot, tip } = this.held.dataset;
    const y = ((event.clientY - box.top) * drawing.viewBox.baseVal.height) / box.height;
    this.put(this.held, (foot - y) / (foot - tip));
  }

  take(event) {
    this.held = event.target.closest(".ruler");
    if (!this.held) return;
    event.preventDefault();
    this.held.focus();
    this.held.setPointerCapture(event.pointerId);
  }

  letGo(event) {
    if (!this.held) return;
    this.follow(event);
    this.held = null;
    this.form.requestSubmit();
  }

  key(event) {
    const ruler = event.target.closest(".ruler");
    if (!ruler) return;
    const now = Number(ruler.getAttribute("aria-valuenow"));
    const piece = this.piece(ruler);
    const to = moved(event.key, now, piece, event.shiftKey);
    if (to === undefined && event.key !== "Enter") return;
    event.preventDefault();
    if (to === undefined) this.form.requestSubmit();
    else this.put(ruler, to / piece);
  }
}

export const part = () => ({
  init() {
    const { $root } = this;
    const ruler = new Ruler($root);
    const on = (event, then, how) => $root.addEventListener(event, then, how);
    on("pointerdown", (event) => ruler.take(event));
    on("pointermove", (event) => ruler.held && ruler.follow(event));
    // A finger on the ruler must not scroll the page.
    on("touchmove", (event) => ruler.held && event.preventDefault(), {
      passive: false,
    });
    on("pointercancel", () => {
      ruler.held = null;
    });
    on("pointerup", (event) => ruler.letGo(event));
    on("keydown", (event) => ruler.key(event));
  },
});

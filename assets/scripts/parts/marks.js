// Marks are drawn on the picture; the fields beside it carry them.

import { clamp } from "./ruler.js";

// A stroke shorter than this share of the picture is a touch.
const TOUCH = 0.01;

/** A share as the field takes it: per cent with one decimal. */
export const percent = (share) => (clamp(share) * 100).toFixed(1);

/** What a stroke from one place to another puts into the fields. */
export function stroke(from, to) {
  const drawn = Math.hypot(to[0] - from[0], to[1] - from[1]) > TOUCH;
  return {
    x: percent(from[0]),
    y: percent(from[1]),
    to_x: drawn ? percent(to[0]) : "",
    to_y: drawn ? percent(to[1]) : "",
  };
}

export const part = () => ({
  init() {
    const figure = this.$root;
    const form = () => document.getElementById("mark-form");
    const at = (event) => {
      const box = figure.querySelector("img").getBoundingClientRect();
      return [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height];
    };
    let from = null;
    figure.addEventListener("pointerdown", (event) => {
      if (!form() || event.button) return;
      event.preventDefault();
      from = at(event);
      figure.setPointerCapture(event.pointerId);
    });
    figure.addEventListener("pointercancel", () => {
      from = null;
    });
    figure.addEventListener("pointerup", (event) => {
      if (!from) return;
      const fields = form().elements;
      for (const [name, value] of Object.entries(stroke(from, at(event)))) {
        fields[name].value = value;
      }
      from = null;
      if (fields.kind.value === "text" && !fields.text.value.trim()) {
        fields.text.focus();
        return;
      }
      form().requestSubmit();
      form().reset();
    });
  },
});

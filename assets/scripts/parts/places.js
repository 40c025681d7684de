// Places on a photo: dragged by mouse or finger, moved by keys. They stand in the fields below.

const STEP = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

/** A place within a picture of that size, to a tenth of a pixel. */
export function within([x, y], [width, height]) {
  const held = (v, most) => Math.round(Math.min(most - 1, Math.max(0, v)) * 10) / 10;
  return [held(x, width), held(y, height)];
}

/** The text of a field after its nth place has moved. */
export function moved(text, nth, [x, y]) {
  const numbers = text.trim().split(/\s+/);
  numbers.splice(2 * nth, 2, x, y);
  return numbers.join(" ");
}

export const part = () => ({
  init() {
    const figure = this.$root;
    const image = figure.querySelector("img");
    const size = () => [Number(image.getAttribute("width")), Number(image.getAttribute("height"))];
    const field = (grip) => document.getElementById("places").elements[grip.dataset.field];
    const at = ({ clientX, clientY }) => {
      const box = image.getBoundingClientRect();
      const [width, height] = size();
      const x = ((clientX - box.left) / box.width) * width;
      return [x, ((clientY - box.top) / box.height) * height];
    };
    const put = (grip, place) => {
      const [x, y] = within(place, size());
      Object.assign(grip.dataset, { x, y });
      grip.setAttribute("transform", `translate(${x} ${y})`);
      const n = Number(grip.dataset.nth) + 1;
      for (const line of figure.querySelectorAll(`[data-of=${grip.dataset.field}]`)) {
        line.setAttribute(`x${n}`, x);
        line.setAttribute(`y${n}`, y);
      }
      const input = field(grip);
      input.value = moved(input.value, Number(grip.dataset.nth), [x, y]);
      return input;
    };
    const tell = (input) => input.dispatchEvent(new Event("input", { bubbles: true }));
    let held = null;
    figure.addEventListener("pointerdown", (event) => {
      const grip = event.target.closest(".grip");
      if (!grip || event.button) return;
      event.preventDefault();
      grip.focus();
      // Where the finger lies beside the middle: the place must not jump under it.
      const [x, y] = at(event);
      held = { grip, off: [grip.dataset.x - x, grip.dataset.y - y] };
      figure.setPointerCapture(event.pointerId);
    });
    figure.addEventListener("pointermove", (event) => {
      if (!held) return;
      const [x, y] = at(event);
      put(held.grip, [x + held.off[0], y + held.off[1]]);
    });
    const drop = () => {
      if (held) tell(field(held.grip));
      held = null;
    };
    figure.addEventListener("pointerup", drop);
    figure.addEventListener("pointercancel", drop);
    figure.addEventListener("keydown", (event) => {
      const grip = event.target.closest(".grip");
      const step = STEP[event.key];
      if (!grip || !step) return;
      event.preventDefault();
      event.stopPropagation();
      const many = event.shiftKey ? 20 : 1;
      const now = [Number(grip.dataset.x), Number(grip.dataset.y)];
      tell(put(grip, [now[0] + many * step[0], now[1] + many * step[1]]));
    });
  },
});

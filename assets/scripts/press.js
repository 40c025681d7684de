// Under a pressed finger nothing moves: what came meanwhile is shown once it is lifted.

let pressed = false;
const later = [];

function lifted() {
  pressed = false;
  // The click belongs to the press: it comes first.
  setTimeout(() => {
    while (!pressed && later.length) later.shift()();
  });
}

/** Watches presses. */
export function start() {
  const down = () => {
    pressed = true;
  };
  addEventListener("pointerdown", down, true);
  for (const end of ["pointerup", "pointercancel", "dragend", "contextmenu", "blur"]) {
    addEventListener(end, lifted, end !== "blur");
  }
}

/** Done once no finger is down. */
export function still() {
  return pressed ? new Promise((resolve) => later.push(resolve)) : Promise.resolve();
}

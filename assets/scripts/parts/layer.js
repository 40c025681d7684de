// One layer on a canvas: what lines are for, speed or flow by colour and by pattern; moved and
// zoomed. Colours are those of the style sheet, so that the dark theme holds here too.

/** Dashes by what a line is for, in millimetres: a pattern beside the colour. */
export const DASHES = {
  "outer-loop": [],
  "inner-loop": [2.4, 0.5],
  "overhang-loop": [1.2, 0.4],
  infill: [3.2, 0.9],
  skin: [0.7, 0.35],
  "top-skin": [],
  bridge: [0.35, 0.35],
  support: [1.6, 1.1],
  "support-roof": [1.6, 0.4],
  skirt: [4, 1.2],
  tower: [0.9, 0.9],
  "gap-fill": [0.5, 0.7],
  other: [1, 1],
};

/** Classes of a quantity, slow to fast, and their dashes: denser is more. */
export const CLASSES = 5;
const CLASS_DASHES = [[0.4, 0.8], [0.9, 0.7], [1.6, 0.6], [3, 0.5], []];

/** Upper ends of classes that hold about as many pieces each. */
export function ends(values, count = CLASSES) {
  const sorted = [...new Set(values)].sort((a, b) => a - b);
  if (!sorted.length) return [];
  const at = (share) => sorted[Math.min(sorted.length - 1, Math.ceil(share * sorted.length) - 1)];
  const all = Array.from({ length: count }, (_, n) => at((n + 1) / count));
  return [...new Set(all)];
}

/** The class of a value. */
export function classOf(value, upper) {
  const at = upper.findIndex((end) => value <= end);
  return at < 0 ? upper.length - 1 : at;
}

/** A scale and a middle that show a box in a place of this size. */
export function whole([left, front, right, back], [width, height]) {
  const margin = 3;
  const wide = right - left + 2 * margin;
  const deep = back - front + 2 * margin;
  return {
    scale: Math.min(width / wide, height / deep),
    x: (left + right) / 2,
    y: (front + back) / 2,
  };
}

const colour = (style, name) => style.getPropertyValue(name).trim();

/** Strokes by what they look like: a pen's key, and its pieces. */
function pens(layer, by) {
  const all = new Map();
  const values = by === "speed" ? layer.speeds : layer.flows;
  const laid = layer.ways.map((way, at) => (way >= 0 ? values[at] : null));
  const upper = ends(laid.filter((value) => value !== null));
  layer.ways.forEach((way, at) => {
    let key = way === -1 ? "travel" : "wipe";
    if (way >= 0) key = by === "type" ? layer.types[way] : `class-${classOf(values[at], upper)}`;
    if (!all.has(key)) all.set(key, []);
    all.get(key).push(at);
  });
  return { all, upper };
}

const dashes = (key) => {
  if (key === "travel") return [0.3, 0.9];
  if (key === "wipe") return [0.3, 0.3];
  const nth = key.startsWith("class-") ? Number(key.slice(6)) : -1;
  return nth >= 0 ? CLASS_DASHES[nth] : DASHES[key];
};

/** A view in `place`; `page` holds its choices, `point` says what a line is. */
export function canvas(place, page, point) {
  const board = document.createElement("canvas");
  board.className = "layer-canvas";
  place.append(board);
  place.classList.add("drawn");
  const legend = page.querySelector("[data-legend]");
  const first = legend.innerHTML;
  const brush = board.getContext("2d");
  let layer = null;
  let eye = null;
  // Until somebody moves or zooms, each layer fills the place.
  let own = false;
  const by = () => page.querySelector("[name=colour]:checked")?.value ?? "type";

  const size = () => {
    const ratio = window.devicePixelRatio || 1;
    const { width, height } = place.getBoundingClientRect();
    board.width = Math.round(width * ratio);
    board.height = Math.round(height * ratio);
    return [width, height, ratio];
  };
  const draw = () => {
    if (!layer) return;
    const [width, height, ratio] = size();
    if (!own || !eye) eye = whole(layer.box, [width, height]);
    const style = getComputedStyle(page);
    const s = eye.scale * ratio;
    brush.setTransform(s, 0, 0, -s, board.width / 2 - eye.x * s, board.height / 2 + eye.y * s);
    const { all } = pens(layer, by());
    const order = [...all.keys()].sort((a) => (a === "travel" || a === "wipe" ? -1 : 1));
    const ways = page.querySelector("#ways")?.checked;
    brush.lineCap = "butt";
    for (const key of order) {
      const thin = key === "travel" || key === "wipe";
      if (thin && !ways) continue;
      brush.strokeStyle = colour(style, `--line-${key}`);
      brush.lineWidth = thin ? 1 / eye.scale : Math.max(0.36, 1.4 / eye.scale);
      brush.setLineDash(eye.scale > 2 ? dashes(key) : []);
      brush.beginPath();
      let end = [NaN, NaN];
      for (const at of all.get(key)) {
        const [x0, y0, x1, y1] = layer.places.slice(4 * at, 4 * at + 4);
        if (x0 !== end[0] || y0 !== end[1]) brush.moveTo(x0, y0);
        brush.lineTo(x1, y1);
        end = [x1, y1];
      }
      brush.stroke();
    }
    brush.setLineDash([]);
    const dot = Math.max(0.5, 4 / eye.scale);
    brush.lineWidth = 1.5 / eye.scale;
    brush.fillStyle = colour(style, "--line-seam");
    for (const [x, y] of layer.seams) {
      brush.beginPath();
      brush.moveTo(x, y + dot);
      brush.lineTo(x + dot, y);
      brush.lineTo(x, y - dot);
      brush.lineTo(x - dot, y);
      brush.fill();
    }
    brush.strokeStyle = colour(style, "--line-drawn-back");
    brush.beginPath();
    for (const [x, y] of layer.retractions) {
      const half = dot * 0.6;
      brush.moveTo(x - half, y - half);
      brush.lineTo(x + half, y + half);
      brush.moveTo(x - half, y + half);
      brush.lineTo(x + half, y - half);
    }
    brush.stroke();
  };
  const key = () => {
    const choice = by();
    if (choice === "type" || !layer) {
      legend.innerHTML = first;
      return;
    }
    const unit = choice === "speed" ? "mm/s" : "mm³/s";
    const { upper } = pens(layer, choice);
    legend.replaceChildren(
      ...upper.map((end, nth) => {
        const item = document.createElement("li");
        const swatch = document.createElementNS("http://www.w3.org/2000/svg", "svg");
        swatch.setAttribute("viewBox", "0 0 30 8");
        swatch.setAttribute("width", 30);
        swatch.setAttribute("height", 8);
        const line = document.createElementNS("http://www.w3.org/2000/svg", "path");
        line.setAttribute("d", "M1 4H29");
        line.setAttribute("class", `laid class-${nth}`);
        swatch.append(line);
        const words = nth ? `over ${upper[nth - 1]} to ${end} ${unit}` : `up to ${end} ${unit}`;
        item.append(swatch, ` ${words}`);
        return item;
      }),
    );
  };
  const zoom = (factor, [x, y] = [eye?.x ?? 0, eye?.y ?? 0]) => {
    if (!eye) return;
    own = true;
    const scale = Math.min(400, Math.max(0.2, eye.scale * factor));
    const share = 1 - eye.scale / scale;
    eye = { scale, x: eye.x + (x - eye.x) * share, y: eye.y + (y - eye.y) * share };
    draw();
  };
  const at = ({ clientX, clientY }) => {
    const box = board.getBoundingClientRect();
    const x = eye.x + (clientX - box.left - box.width / 2) / eye.scale;
    return [x, eye.y - (clientY - box.top - box.height / 2) / eye.scale];
  };
  const nearest = ([x, y]) => {
    let found = -1;
    let least = 6 / eye.scale;
    layer.ways.forEach((way, n) => {
      if (way < 0) return;
      const [x0, y0, x1, y1] = layer.places.slice(4 * n, 4 * n + 4);
      const long = (x1 - x0) ** 2 + (y1 - y0) ** 2 || 1e-9;
      const share = Math.min(1, Math.max(0, ((x - x0) * (x1 - x0) + (y - y0) * (y1 - y0)) / long));
      const far = Math.hypot(x - x0 - share * (x1 - x0), y - y0 - share * (y1 - y0));
      if (far < least) [found, least] = [n, far];
    });
    return found;
  };
  const say = (event) => {
    const n = layer && eye ? nearest(at(event)) : -1;
    if (n < 0) return;
    const name = layer.names[layer.ways[n]];
    point.textContent = `Line ${layer.lines[n]}: ${name}, ${layer.speeds[n]} mm/s, ${layer.flows[n]} mm³/s`;
  };

  const held = new Map();
  place.addEventListener("pointerdown", (event) => {
    held.set(event.pointerId, [event.clientX, event.clientY]);
    place.setPointerCapture(event.pointerId);
    say(event);
  });
  place.addEventListener("pointermove", (event) => {
    const before = held.get(event.pointerId);
    if (!before || !eye) {
      if (event.pointerType === "mouse") say(event);
      return;
    }
    const now = [event.clientX, event.clientY];
    if (held.size === 2) {
      const [, other] = [...held].find(([id]) => id !== event.pointerId);
      const apart = (place_) => Math.hypot(place_[0] - other[0], place_[1] - other[1]);
      zoom(apart(now) / Math.max(1, apart(before)));
    } else {
      own = true;
      eye.x -= (now[0] - before[0]) / eye.scale;
      eye.y += (now[1] - before[1]) / eye.scale;
      draw();
    }
    held.set(event.pointerId, now);
  });
  for (const end of ["pointerup", "pointercancel"]) {
    place.addEventListener(end, ({ pointerId }) => held.delete(pointerId));
  }
  place.addEventListener(
    "wheel",
    (event) => {
      if (!event.ctrlKey && document.activeElement !== place) return;
      event.preventDefault();
      zoom(event.deltaY < 0 ? 1.15 : 0.87, at(event));
    },
    { passive: false },
  );
  page.addEventListener("change", ({ target }) => {
    if (target.name === "colour" || target.id === "ways") {
      key();
      draw();
    }
  });
  page.querySelector("[data-whole]")?.addEventListener("click", () => {
    own = false;
    draw();
  });
  window.addEventListener("resize", draw);
  window.matchMedia("(prefers-color-scheme: dark)").addEventListener("change", draw);
  return {
    show(data) {
      layer = data;
      draw();
      key();
      place.dataset.drawn = String(layer.ways.length);
    },
    zoom,
  };
}

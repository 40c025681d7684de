// What of a layer's view needs no page: patterns, classes, which line is near a place.

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

/** Strokes by what they look like: a pen's key, and its pieces. */
export function pens(layer, by) {
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

/** The dashes of a pen, in millimetres. */
export const dashes = (key) => {
  if (key === "travel") return [0.3, 0.9];
  if (key === "wipe") return [0.3, 0.3];
  const nth = key.startsWith("class-") ? Number(key.slice(6)) : -1;
  return nth >= 0 ? CLASS_DASHES[nth] : DASHES[key];
};

/** The piece of plastic nearest to a place, no farther than `reach`; -1 where there is none. */
export function nearest(layer, [x, y], reach) {
  let found = -1;
  let least = reach;
  layer.ways.forEach((way, n) => {
    if (way < 0) return;
    const [x0, y0, x1, y1] = layer.places.slice(4 * n, 4 * n + 4);
    const [dx, dy] = [x1 - x0, y1 - y0];
    const long = dx ** 2 + dy ** 2 || 1e-9;
    const share = Math.min(1, Math.max(0, ((x - x0) * dx + (y - y0) * dy) / long));
    const far = Math.hypot(x - x0 - share * dx, y - y0 - share * dy);
    if (far < least) [found, least] = [n, far];
  });
  return found;
}

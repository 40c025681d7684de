// One layer on a canvas: what lines are for, speed or flow by colour and by pattern; moved and
// zoomed. Colours are those of the style sheet, so that the dark theme holds here too.

import { dashes, nearest, pens, whole } from "./layer.js";

const SVG = "http://www.w3.org/2000/svg";
const isThin = (key) => key === "travel" || key === "wipe";

/** A swatch of the legend with its words. */
function swatch(name, words) {
  const item = document.createElement("li");
  const drawing = document.createElementNS(SVG, "svg");
  drawing.setAttribute("viewBox", "0 0 7.5 2");
  drawing.setAttribute("width", 30);
  drawing.setAttribute("height", 8);
  const line = document.createElementNS(SVG, "path");
  line.setAttribute("d", "M.2 1H7.3");
  line.setAttribute("class", `laid ${name}`);
  drawing.append(line);
  item.append(drawing, ` ${words}`);
  return item;
}

/** A view in `place`; `page` holds its choices, `point` says what a line is. */
export class LayerView {
  constructor(place, page, point) {
    this.place = place;
    this.page = page;
    this.point = point;
    this.board = document.createElement("canvas");
    this.board.className = "layer-canvas";
    place.append(this.board);
    place.classList.add("drawn");
    this.brush = this.board.getContext("2d");
    this.legend = page.querySelector("[data-legend]");
    this.types = this.legend.innerHTML;
    this.layer = null;
    this.eye = null;
    // Until somebody moves or zooms, each layer fills the place.
    this.own = false;
    this.held = new Map();
    this.listen();
  }

  /** Shows a layer as the server tells it. */
  show(layer) {
    this.layer = layer;
    this.draw();
    this.tell();
    this.place.dataset.drawn = String(layer.ways.length);
  }

  get by() {
    return this.page.querySelector("[name=colour]:checked")?.value ?? "type";
  }

  draw() {
    if (!this.layer) return;
    const { board, brush } = this;
    const ratio = window.devicePixelRatio || 1;
    const { width, height } = this.place.getBoundingClientRect();
    board.width = Math.round(width * ratio);
    board.height = Math.round(height * ratio);
    if (!this.own || !this.eye) this.eye = whole(this.layer.box, [width, height]);
    const { scale, x, y } = this.eye;
    const s = scale * ratio;
    brush.setTransform(s, 0, 0, -s, board.width / 2 - x * s, board.height / 2 + y * s);
    const style = getComputedStyle(this.page);
    const colour = (name) => style.getPropertyValue(name).trim();
    const { all } = pens(this.layer, this.by);
    const ways = this.page.querySelector("#ways")?.checked;
    // What is laid lies over the ways between.
    const order = [...all.keys()].sort((a, b) => isThin(b) - isThin(a));
    for (const key of order.filter((name) => ways || !isThin(name))) {
      brush.strokeStyle = colour(`--line-${key}`);
      brush.lineWidth = isThin(key) ? 1 / scale : Math.max(0.36, 1.4 / scale);
      brush.setLineDash(scale > 2 ? dashes(key) : []);
      this.stroke(all.get(key));
    }
    brush.setLineDash([]);
    this.marks(colour);
  }

  stroke(pieces) {
    const { brush, layer } = this;
    brush.beginPath();
    let end = [NaN, NaN];
    for (const at of pieces) {
      const [x0, y0, x1, y1] = layer.places.slice(4 * at, 4 * at + 4);
      if (x0 !== end[0] || y0 !== end[1]) brush.moveTo(x0, y0);
      brush.lineTo(x1, y1);
      end = [x1, y1];
    }
    brush.stroke();
  }

  marks(colour) {
    const { brush, layer } = this;
    const dot = Math.max(0.5, 4 / this.eye.scale);
    brush.lineWidth = 1.5 / this.eye.scale;
    brush.fillStyle = colour("--line-seam");
    for (const [x, y] of layer.seams) {
      brush.beginPath();
      brush.moveTo(x, y + dot);
      brush.lineTo(x + dot, y);
      brush.lineTo(x, y - dot);
      brush.lineTo(x - dot, y);
      brush.fill();
    }
    brush.strokeStyle = colour("--line-drawn-back");
    brush.beginPath();
    const half = dot * 0.6;
    for (const [x, y] of layer.retractions) {
      brush.moveTo(x - half, y - half);
      brush.lineTo(x + half, y + half);
      brush.moveTo(x - half, y + half);
      brush.lineTo(x + half, y - half);
    }
    brush.stroke();
  }

  /** Says in the legend what colours mean now. */
  tell() {
    if (this.by === "type" || !this.layer) {
      this.legend.innerHTML = this.types;
      return;
    }
    const unit = this.by === "speed" ? "mm/s" : "mm³/s";
    const { upper } = pens(this.layer, this.by);
    const words = (end, nth) =>
      nth ? `over ${upper[nth - 1]} to ${end} ${unit}` : `up to ${end} ${unit}`;
    this.legend.replaceChildren(
      ...upper.map((end, nth) => swatch(`class-${nth}`, words(end, nth))),
    );
  }

  zoom(factor, [x, y] = [this.eye?.x ?? 0, this.eye?.y ?? 0]) {
    if (!this.eye) return;
    this.own = true;
    const scale = Math.min(400, Math.max(0.2, this.eye.scale * factor));
    const share = 1 - this.eye.scale / scale;
    this.eye = {
      scale,
      x: this.eye.x + (x - this.eye.x) * share,
      y: this.eye.y + (y - this.eye.y) * share,
    };
    this.draw();
  }

  at({ clientX, clientY }) {
    const box = this.board.getBoundingClientRect();
    const { scale, x, y } = this.eye;
    return [
      x + (clientX - box.left - box.width / 2) / scale,
      y - (clientY - box.top - box.height / 2) / scale,
    ];
  }

  /** Says which line of the file is under the pointer. */
  say(event) {
    const { layer, eye } = this;
    const n = layer && eye ? nearest(layer, this.at(event), 6 / eye.scale) : -1;
    if (n < 0) return;
    const what = `${layer.names[layer.ways[n]]}, ${layer.speeds[n]} mm/s, ${layer.flows[n]} mm³/s`;
    this.point.textContent = `Line ${layer.lines[n]}: ${what}`;
  }

  /** A finger moves the layer, two fingers zoom it. */
  move(event) {
    const before = this.held.get(event.pointerId);
    if (!before || !this.eye) {
      if (event.pointerType === "mouse") this.say(event);
      return;
    }
    const now = [event.clientX, event.clientY];
    if (this.held.size === 2) {
      const [, other] = [...this.held].find(([id]) => id !== event.pointerId);
      const apart = ([x, y]) => Math.hypot(x - other[0], y - other[1]);
      this.zoom(apart(now) / Math.max(1, apart(before)));
    } else {
      this.own = true;
      this.eye.x -= (now[0] - before[0]) / this.eye.scale;
      this.eye.y += (now[1] - before[1]) / this.eye.scale;
      this.draw();
    }
    this.held.set(event.pointerId, now);
  }

  listen() {
    const { place, page } = this;
    place.addEventListener("pointerdown", (event) => {
      this.held.set(event.pointerId, [event.clientX, event.clientY]);
      place.setPointerCapture(event.pointerId);
      this.say(event);
    });
    place.addEventListener("pointermove", (event) => this.move(event));
    for (const end of ["pointerup", "pointercancel"]) {
      place.addEventListener(end, ({ pointerId }) => this.held.delete(pointerId));
    }
    const wheel = (event) => {
      if (!event.ctrlKey && document.activeElement !== place) return;
      event.preventDefault();
      this.zoom(event.deltaY < 0 ? 1.15 : 0.87, this.at(event));
    };
    place.addEventListener("wheel", wheel, { passive: false });
    page.addEventListener("change", ({ target }) => {
      if (target.name !== "colour" && target.id !== "ways") return;
      this.tell();
      this.draw();
    });
    page.querySelector("[data-whole]")?.addEventListener("click", () => {
      this.own = false;
      this.draw();
    });
    window.addEventListener("resize", () => this.draw());
    const dark = window.matchMedia("(prefers-color-scheme: dark)");
    dark.addEventListener("change", () => this.draw());
  }
}

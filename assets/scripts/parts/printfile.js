// A print file: the height looked at moves through all charts at once, the values there follow, and
// the layer is drawn on a canvas that is moved and zoomed by mouse, finger or keys.

import { LayerView } from "./layer-view.js";

/** The layer whose plastic a height is in; the nearest where none is. */
export function layerAt(series, z) {
  const { bottom, z: tops } = series;
  let nearest = 0;
  let least = Infinity;
  for (let at = 0; at < tops.length; at += 1) {
    if (z > bottom[at] - 1e-6 && z <= tops[at] + 1e-6) return at;
    const far = Math.abs((bottom[at] + tops[at]) / 2 - z);
    if (far < least) [nearest, least] = [at, far];
  }
  return nearest;
}

/** The height that a place on a chart shows, between the plate and the top. */
export function heightAt(y, { top, bottom, tall }) {
  const share = (bottom - y) / (bottom - top);
  return Math.min(tall, Math.max(0, share * tall));
}

const scale = (chart) => ({
  top: Number(chart.dataset.top),
  bottom: Number(chart.dataset.bottom),
  tall: Number(chart.dataset.tall),
});

/** The page of a file: charts, values and layer that follow one height. */
class FilePage {
  constructor(page, series) {
    this.page = page;
    this.series = series;
    this.slide = this.find("#z-slide");
    this.field = this.find("#z");
    this.layers = this.find("#layer-slide");
    this.place = this.find("[data-view]");
    this.view = this.place && new LayerView(this.place, page, this.find("[data-point]"));
    this.shown = Number(page.dataset.layer) - 1;
    this.waiting = 0;
    this.z = Number(this.slide.value);
  }

  find(what) {
    return this.page.querySelector(what);
  }

  /** Moves the line across all charts. */
  lines(z) {
    for (const chart of this.page.querySelectorAll(".by-height")) {
      const { top, bottom, tall } = scale(chart);
      const y = bottom - (Math.min(z, tall) / tall) * (bottom - top);
      chart.querySelector(".here")?.setAttribute("transform", `translate(0 ${y.toFixed(1)})`);
    }
  }

  async draw(at) {
    const answer = await fetch(`${this.page.dataset.layers}/${at + 1}`);
    if (answer.ok && at === this.shown) this.view.show(await answer.json());
  }

  /** Shows the figures of a layer. */
  values(at) {
    for (const cell of this.page.querySelectorAll("[data-value]")) {
      cell.textContent = this.series.figures[cell.dataset.value]?.[at] ?? "none";
    }
  }

  /** Writes the height looked at wherever it stands. */
  height(z) {
    const round = Math.round(z * 100) / 100;
    this.slide.value = z;
    this.field.value = round;
    const noted = this.find("[data-height]");
    if (noted) {
      noted.value = round;
      noted.form.hidden = noted.form.dataset.fault === String(round);
      this.find("[data-height-words]").textContent = round;
    }
    this.z = z;
    this.lines(z);
  }

  /** Turns to a layer, from 0. */
  turn(at) {
    const { series } = this;
    this.shown = Math.min(series.z.length - 1, Math.max(0, at));
    this.values(this.shown);
    this.find("[data-number]").textContent = this.shown + 1;
    this.find("[data-z]").textContent = `${series.z[this.shown]} mm`;
    if (this.layers) this.layers.value = this.shown + 1;
    if (!this.view) return;
    // What a finger sweeps over is not fetched layer by layer: the last one counts.
    clearTimeout(this.waiting);
    this.waiting = setTimeout(() => this.draw(this.shown), 40);
  }

  /** Turns to a layer, the height with it. */
  step(at) {
    this.turn(at);
    this.height(this.series.z[this.shown]);
  }

  /** Looks at a height, the layer with it. */
  look(z) {
    this.height(z);
    this.turn(layerAt(this.series, z));
  }

  /** The height under the pointer; none beside the charts. */
  under(event) {
    const chart = event.target.closest?.(".by-height");
    if (!chart) return null;
    const box = chart.getBoundingClientRect();
    const units = chart.viewBox.baseVal.height;
    return heightAt(((event.clientY - box.top) / box.height) * units, scale(chart));
  }

  follow(event) {
    const z = this.under(event);
    if (z !== null) this.look(z);
  }

  /** What the pointer hovers over is told, and what is looked at stays. */
  peek(event) {
    const z = this.under(event);
    this.lines(z ?? this.z);
    this.values(z === null ? this.shown : layerAt(this.series, z));
  }

  key(event) {
    const step = { ArrowUp: 1, ArrowDown: -1, PageUp: 10, PageDown: -10 }[event.key];
    if (step) {
      event.preventDefault();
      this.step(this.shown + step);
    } else if (event.key === "+" || event.key === "-") {
      this.view.zoom(event.key === "+" ? 1.25 : 0.8);
    }
  }

  listen() {
    this.slide.addEventListener("input", () => this.look(Number(this.slide.value)));
    this.layers?.addEventListener("input", () => this.step(Number(this.layers.value) - 1));
    this.place?.addEventListener("keydown", (event) => this.key(event));
    const charts = this.find(".charts");
    let dragged = false;
    charts.addEventListener("pointerdown", (event) => {
      dragged = event.pointerType === "mouse";
    });
    charts.addEventListener("pointermove", (event) => {
      if (dragged) this.follow(event);
      else if (event.pointerType === "mouse") this.peek(event);
    });
    charts.addEventListener("pointerleave", () => {
      this.lines(this.z);
      this.values(this.shown);
    });
    charts.addEventListener("click", (event) => this.follow(event));
    window.addEventListener("pointerup", () => {
      dragged = false;
    });
  }
}

export const part = () => ({
  async init() {
    const page = this.$root;
    const answer = await fetch(page.dataset.series);
    if (!answer.ok) return;
    const file = new FilePage(page, await answer.json());
    file.listen();
    file.turn(file.shown);
  },
});

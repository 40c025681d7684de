// A print file: the height looked at moves through all charts at once, the values there follow, and
// the layer is drawn on a canvas that is moved and zoomed by mouse, finger or keys.

import { canvas } from "./layer.js";

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

export const part = () => ({
  async init() {
    const page = this.$root;
    const find = (what) => page.querySelector(what);
    const slide = find("#z-slide");
    const field = find("#z");
    const layers = find("#layer-slide");
    const series = await fetch(page.dataset.series).then((answer) => answer.json());
    const place = find("[data-view]");
    const view = place && canvas(place, page, find("[data-point]"));
    let shown = Number(page.dataset.layer) - 1;

    const lines = (z) => {
      for (const chart of page.querySelectorAll(".by-height")) {
        const { top, bottom, tall } = scale(chart);
        const y = bottom - (Math.min(z, tall) / tall) * (bottom - top);
        chart.querySelector(".here")?.setAttribute("transform", `translate(0 ${y.toFixed(1)})`);
      }
    };
    const values = (at) => {
      for (const cell of page.querySelectorAll("[data-value]")) {
        cell.textContent = series.figures[cell.dataset.value]?.[at] ?? "none";
      }
    };
    const draw = async (at) => {
      if (!view) return;
      const answer = await fetch(`${page.dataset.layers}/${at + 1}`);
      if (answer.ok && at === shown) view.show(await answer.json());
    };
    // What a finger sweeps over is not fetched layer by layer: the last one counts.
    let waiting = 0;
    const turn = (at) => {
      shown = Math.min(series.z.length - 1, Math.max(0, at));
      values(shown);
      find("[data-number]").textContent = shown + 1;
      find("[data-z]").textContent = `${series.z[shown]} mm`;
      if (layers) layers.value = shown + 1;
      clearTimeout(waiting);
      waiting = setTimeout(() => draw(shown), 40);
    };
    const look = (z) => {
      slide.value = z;
      field.value = Math.round(z * 100) / 100;
      lines(z);
      turn(layerAt(series, z));
    };

    slide.addEventListener("input", () => look(Number(slide.value)));
    layers?.addEventListener("input", () => {
      turn(Number(layers.value) - 1);
      const z = series.z[shown];
      slide.value = z;
      field.value = z;
      lines(z);
    });
    let dragged = false;
    const charts = find(".charts");
    const follow = (event) => {
      const chart = event.target.closest?.(".by-height");
      if (!chart) return;
      const box = chart.getBoundingClientRect();
      const units = chart.viewBox.baseVal.height;
      look(heightAt(((event.clientY - box.top) / box.height) * units, scale(chart)));
    };
    charts.addEventListener("pointerdown", (event) => {
      if (event.pointerType !== "mouse") return;
      dragged = true;
      follow(event);
    });
    charts.addEventListener("click", follow);
    charts.addEventListener("pointermove", (event) => dragged && follow(event));
    window.addEventListener("pointerup", () => {
      dragged = false;
    });
    place?.addEventListener("keydown", (event) => {
      const step = { ArrowUp: 1, ArrowDown: -1, PageUp: 10, PageDown: -10 }[event.key];
      if (step) {
        event.preventDefault();
        turn(shown + step);
        const z = series.z[shown];
        slide.value = z;
        field.value = z;
        lines(z);
      } else if (event.key === "+" || event.key === "-") {
        view.zoom(event.key === "+" ? 1.25 : 0.8);
      }
    });
    turn(shown);
  },
});

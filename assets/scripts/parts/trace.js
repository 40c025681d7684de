// A live trace: readings are added to the table as they come, and the page is asked every now and
// then what they show.

import { ask } from "../ask.js";
import { refine } from "../page.js";

/** Most lines the table holds: a longer trace loses its beginning. */
export const MOST = 12000;
// How often the page is asked what the readings show, in milliseconds.
const SHOWN_EVERY = 2000;
// Fewer readings say nothing yet.
const LEAST = 30;

/** Lines with one more, the oldest gone when there are too many. */
export function added(lines, line, most = MOST) {
  const kept = lines.length < most ? lines : lines.slice(lines.length - most + 1);
  return [...kept, line];
}

export const part = () => ({
  init() {
    const form = this.$root;
    const { live } = form.dataset;
    let source = null;
    let timer = 0;
    let lines = [];
    let words = "";
    const say = () => {
      const place = form.querySelector("[data-said]");
      if (place) place.textContent = words;
    };
    const said = (now) => {
      words = now;
      say();
    };
    const table = () => form.elements.table;
    const show = async () => {
      if (lines.length < LEAST) return;
      table().value = lines.join("\n");
      const answer = await ask(form.action, { method: "POST", body: new FormData(form) });
      await refine(answer.text);
      table().value = lines.join("\n");
      say();
    };
    const end = (last) => {
      source?.close();
      source = null;
      clearInterval(timer);
      said(last);
      show().catch(() => {});
    };
    form.addEventListener("click", ({ target }) => {
      if (!target.closest("[data-live]")) return;
      if (source) {
        end(`Stopped after ${lines.length} readings.`);
        return;
      }
      lines = [];
      said("Waiting for the first reading.");
      source = new EventSource(live);
      source.addEventListener("reading", ({ data }) => {
        const [time, value, set] = data.split(";");
        lines = added(lines, `${time};${value}`);
        const wanted = form.elements.set_c;
        if (wanted && !wanted.value && Number(set) > 0) wanted.value = set;
        said(`${value} °C, ${lines.length} readings. Press again to stop.`);
      });
      source.addEventListener("ended", ({ data }) => end(data));
      source.addEventListener("error", () => end("The line to the machine broke off."));
      timer = setInterval(() => show().catch(() => {}), SHOWN_EVERY);
    });
  },
});

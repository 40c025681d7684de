// Better with scripts, whole without them: parts are morphed in place, keys answer what is on
// screen, what others write appears, and nothing typed is lost when an answer does not come.

import * as awake from "./awake.js";
import * as card from "./card.js";
import * as drafts from "./drafts.js";
import * as follow from "./follow.js";
import * as hear from "./hear.js";
import * as keys from "./keys.js";
import * as onward from "./onward.js";
import * as page from "./page.js";
import * as plan from "./plan.js";
import * as press from "./press.js";
import * as reckon from "./reckon.js";
import * as rest from "./rest.js";
import * as seen from "./seen.js";
import * as swap from "./swap.js";
import * as touch from "./touch.js";
import * as waits from "./waits.js";
import * as word from "./word.js";
import * as brief from "./parts/brief.js";
import * as copier from "./parts/copier.js";
import * as drop from "./parts/drop.js";
import * as marks from "./parts/marks.js";
import * as places from "./parts/places.js";
import * as printfile from "./parts/printfile.js";
import * as recorder from "./parts/recorder.js";
import * as ruler from "./parts/ruler.js";
import * as trace from "./parts/trace.js";
import * as turning from "./parts/turning.js";
import * as upload from "./parts/upload.js";

document.documentElement.classList.add("scripted");

// On a narrow screen the parts of a page lie beside each other: the one shown must be in sight.
function inSight() {
  const part = document.querySelector(".stages [aria-current]");
  const row = part?.parentElement;
  if (row) row.scrollLeft = part.offsetLeft - (row.clientWidth - part.offsetWidth) / 2;
}

document.addEventListener("alpine:init", () => {
  Alpine.data("ruler", ruler.part);
  Alpine.data("drop", drop.part);
  Alpine.data("marks", marks.part);
  Alpine.data("brief", brief.part);
  Alpine.data("copier", copier.part);
  Alpine.data("places", places.part);
  Alpine.data("recorder", recorder.part);
  Alpine.data("trace", trace.part);
  Alpine.data("turning", turning.part);
  Alpine.data("upload", upload.part);
  Alpine.data("printfile", printfile.part);
  Alpine.data("printer", () => ({ print: () => window.print() }));
  // Numbers are recorded as soon as one is finished, so that the window beside it speaks at once.
  Alpine.data("atonce", () => ({
    init() {
      this.$root.addEventListener("change", ({ target }) => {
        // A fix tried before is two answers: which, and what came of it.
        const tried = target.name.match(/^t\.\d+\./)?.[0];
        const half = (of) => tried && !this.$root.elements[tried + of]?.value;
        if (half("fix") || half("result")) return;
        const { stay } = this.$root.elements;
        if (stay) stay.value = "yes";
        this.$root.requestSubmit();
      });
    },
  }));
});

const onScreen = [waits.tick, inSight, drafts.restore, hear.listen, plan.deepen];
for (const then of [...onScreen, awake.keep, seen.mark, keys.rest]) {
  page.whenShown(then);
}
const parts = [
  press,
  drafts,
  follow,
  touch,
  swap,
  hear,
  keys,
  waits,
  awake,
  card,
  word,
  reckon,
  page,
  rest,
];
for (const part of parts) part.start();
onward.start();

// Waits count down by the reader's own clock; they end whether or not anybody looks. The title of
// the tab tells of them, and a notification where one is allowed.

const told = new Set();

/** "1:02:03 left", "The wait is over.": what is said of so many seconds. */
export function words(left) {
  if (left <= 0) return "The wait is over.";
  const hours = Math.floor(left / 3600);
  const two = (n) => String(n).padStart(2, "0");
  const clock = `${two(Math.floor(left / 60) % 60)}:${two(left % 60)}`;
  return `${hours ? `${hours}:` : ""}${clock} left`;
}

/** What the title of the tab says of the wait that ends first: "4 min", "The wait is over". */
export function short(left) {
  return left <= 0 ? "The wait is over" : `${Math.ceil(left / 60)} min`;
}

/** A title under what is said of a wait; without one, as it was. */
export function titled(title, said) {
  const plain = title.replace(/^\([^)]*\) /, "");
  return said ? `(${said}) ${plain}` : plain;
}

function notify(timer) {
  const { until, what } = timer.dataset;
  if (told.has(until)) return;
  told.add(until);
  if (!window.Notification || window.Notification.permission !== "granted") return;
  new window.Notification("The wait is over", { body: what || document.title, tag: until });
}

/** Brings the waits on screen up to date. */
export function tick() {
  let first = null;
  for (const timer of document.querySelectorAll(".timer[data-until]")) {
    const left = Math.round((new Date(timer.dataset.until) - Date.now()) / 1000);
    const over = left <= 0;
    timer.classList.toggle("over", over);
    timer.querySelector(".left").textContent = words(left);
    if (over && timer.dataset.ran) notify(timer);
    if (!over) timer.dataset.ran = "yes";
    if (first === null || left < first) first = left;
    offer(timer, over);
  }
  const title = titled(document.title, first === null ? "" : short(first));
  if (title !== document.title) document.title = title;
}

// "Tell me when it is over": asked only where a wait runs and nothing was answered yet.
function offer(timer, over) {
  const asked = timer.querySelector(".tell-me");
  const may = window.Notification && window.Notification.permission === "default" && !over;
  if (!may) asked?.remove();
  if (!may || asked) return;
  const button = document.createElement("button");
  button.type = "button";
  button.className = "button small tell-me";
  button.textContent = "Tell me when it is over";
  button.addEventListener("click", (event) => {
    event.preventDefault();
    window.Notification.requestPermission().then(tick);
  });
  if (!timer.closest("a")) timer.append(button);
}

/** Counts from now on. */
export function start() {
  setInterval(tick, 1000);
}

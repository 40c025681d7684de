// Waits count down by the reader's own clock; they end whether or not anybody looks.

/** "1:02:03 left", "The wait is over.": what is said of so many seconds. */
export function words(left) {
  if (left <= 0) return "The wait is over.";
  const hours = Math.floor(left / 3600);
  const two = (n) => String(n).padStart(2, "0");
  const clock = `${two(Math.floor(left / 60) % 60)}:${two(left % 60)}`;
  return `${hours ? `${hours}:` : ""}${clock} left`;
}

/** Brings the waits on screen up to date. */
export function tick() {
  for (const timer of document.querySelectorAll(".timer[data-until]")) {
    const left = Math.round((new Date(timer.dataset.until) - Date.now()) / 1000);
    timer.classList.toggle("over", left <= 0);
    timer.querySelector(".left").textContent = words(left);
  }
}

/** Counts from now on. */
export function start() {
  setInterval(tick, 1000);
}

// The screen stays awake while a step is on it: hands are dirty or hot.

let lock = null;

/** Holds the screen awake on a page with a step; lets it sleep elsewhere. */
export async function keep() {
  const wanted = document.querySelector("[data-awake]") && !document.hidden;
  if (!wanted) {
    await lock?.release().catch(() => {});
    lock = null;
    return;
  }
  if (lock && !lock.released) return;
  try {
    lock = await navigator.wakeLock?.request("screen");
  } catch {
    // Refused, by low battery say: the screen sleeps as it always does.
    lock = null;
  }
}

/** Begins to hold it. */
export function start() {
  document.addEventListener("visibilitychange", keep);
}

// A shared station is nobody's again after some minutes of rest.

const HANDS = ["pointerdown", "keydown", "input", "scroll", "touchstart"];
let timer = null;

async function leave() {
  try {
    await fetch("/sign-out", { method: "POST", redirect: "manual" });
  } catch {
    // The server ends the session by itself.
  }
  const next = encodeURIComponent(location.pathname + location.search);
  location.assign(`/station?next=${next}`);
}

/** Begins to watch for rest, where this is a station and somebody is there. */
export function start() {
  const seconds = Number(document.documentElement.dataset.rest ?? 0);
  if (!seconds) return;
  const again = () => {
    clearTimeout(timer);
    timer = setTimeout(leave, seconds * 1000);
  };
  for (const what of HANDS) document.addEventListener(what, again, { passive: true });
  again();
}

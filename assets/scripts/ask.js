// How long an answer may take before it is said that nothing came, in milliseconds.
export const PATIENCE = 15000;
export const UPLOAD_PATIENCE = 300000;

/** A request that is given up when no answer comes; an answer of 500 or more counts as none. */
export async function ask(url, how = {}, patience = PATIENCE) {
  const clock = new AbortController();
  const timer = setTimeout(() => clock.abort(), patience);
  try {
    const answer = await fetch(url, { ...how, signal: clock.signal });
    if (answer.status >= 500) throw new Error(String(answer.status));
    const { ok, redirected } = answer;
    return { ok, redirected, url: answer.url, text: await answer.text() };
  } finally {
    clearTimeout(timer);
  }
}

// What others did to a case since one last looked is marked in its history.

const key = (id) => `us-seen-${id}`;
let since = null;
let of = null;

const place = () => document.querySelector(".case-page#live")?.dataset;

/** Marks what is new, and keeps how far the case was seen. */
export function mark() {
  const case_ = place();
  if (!case_) return;
  if (of !== case_.case) {
    of = case_.case;
    since = Number(localStorage.getItem(key(of)) ?? case_.seq);
  }
  let many = 0;
  for (const entry of document.querySelectorAll(".history .entry")) {
    const fresh = Number(entry.dataset.seq) > since;
    entry.classList.toggle("new", fresh);
    many += fresh ? 1 : 0;
  }
  const line = document.getElementById("new-entries");
  if (line) line.textContent = many ? `${many} new since you last looked` : "";
  localStorage.setItem(key(of), case_.seq);
}

/** What one does oneself is seen. */
export function own() {
  const case_ = place();
  if (case_) localStorage.setItem(key(case_.case), case_.seq);
  if (case_ && of === case_.case) since = Number(case_.seq);
}

// A suspect's name opens a small card with its reasons; the card leads on to the dossier. Without
// scripts the card is a page.

import { ask } from "./ask.js";

function dialog() {
  let box = document.getElementById("card-box");
  if (!box) {
    box = document.createElement("dialog");
    box.id = "card-box";
    box.className = "card-box";
    box.addEventListener("click", (event) => {
      if (event.target === box || event.target.closest("[data-close]")) box.close();
    });
    document.body.append(box);
  }
  return box;
}

async function open(href) {
  try {
    const answer = await ask(href);
    const card = new DOMParser().parseFromString(answer.text, "text/html").getElementById("card");
    if (!card) throw new Error("no card");
    const box = dialog();
    box.replaceChildren(card);
    box.setAttribute("aria-labelledby", "card-title");
    const close = document.createElement("button");
    close.type = "button";
    close.className = "button";
    close.dataset.close = "yes";
    close.textContent = "Close";
    card.querySelector(".row")?.append(close);
    if (!box.open) box.showModal();
  } catch {
    location.href = href;
  }
}

/** Opens cards from now on. */
export function start() {
  document.addEventListener("click", (event) => {
    const link = event.target.closest("a[data-card]");
    if (!link || event.ctrlKey || event.metaKey || event.shiftKey || event.button) return;
    event.preventDefault();
    open(new URL(link.getAttribute("href"), location.href).href);
  });
}

// A print file is sent with its progress told; what becomes of it is the page that answers.

/** What is said of an upload: how far it is, then that the rest is being read. */
export function progress(loaded, total) {
  if (!total) return { percent: 0, words: "Uploading." };
  const percent = Math.floor((100 * loaded) / total);
  const words = percent < 100 ? `Uploading and reading: ${percent} %.` : "Uploaded. Reading it.";
  return { percent, words };
}

export const part = () => ({
  init() {
    const form = this.$root;
    const input = form.querySelector("input[type=file]");
    const bar = form.querySelector("progress");
    const place = form.querySelector("[data-said]");
    const say = (words) => {
      place.textContent = words;
    };
    const failed = (words) => {
      bar.hidden = true;
      form.querySelector("button").disabled = false;
      say(words);
    };
    const send = () => {
      const request = new XMLHttpRequest();
      request.open("POST", form.action);
      request.upload.addEventListener("progress", ({ loaded, total }) => {
        const now = progress(loaded, total);
        bar.value = now.percent;
        say(now.words);
      });
      request.addEventListener("load", () => {
        if (request.status < 400) {
          window.location.assign(request.responseURL);
          return;
        }
        const page = new DOMParser().parseFromString(request.responseText, "text/html");
        const why = page.querySelector(".error, main p");
        failed(why?.textContent.trim() || "It was not taken in. Send it again.");
      });
      request.addEventListener("error", () =>
        failed("The line broke off; nothing was kept. Send the file again."),
      );
      bar.hidden = false;
      form.querySelector("button").disabled = true;
      say("Uploading.");
      request.send(new FormData(form));
    };
    form.addEventListener("submit", (event) => {
      if (!input.files.length) return;
      event.preventDefault();
      send();
    });
    form.addEventListener("dragover", (event) => {
      event.preventDefault();
      form.classList.add("over");
    });
    form.addEventListener("dragleave", () => form.classList.remove("over"));
    form.addEventListener("drop", (event) => {
      event.preventDefault();
      form.classList.remove("over");
      input.files = event.dataTransfer.files;
      form.requestSubmit();
    });
  },
});

// Pictures are sent as soon as they are chosen or dropped.

export const part = () => ({
  init() {
    const form = this.$root;
    const input = form.querySelector("input[type=file]");
    const over = (on) => form.classList.toggle("over", on);
    const send = () => {
      if (!input.files.length) return;
      form.requestSubmit();
      input.value = "";
    };
    input.addEventListener("change", send);
    form.addEventListener("dragover", (event) => {
      event.preventDefault();
      over(true);
    });
    form.addEventListener("dragleave", () => over(false));
    form.addEventListener("drop", (event) => {
      event.preventDefault();
      over(false);
      input.files = event.dataTransfer.files;
      send();
    });
  },
});

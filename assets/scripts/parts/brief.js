// The brief: copied, or printed.

export const part = () => ({
  said: "",
  async copy() {
    const box = document.getElementById("markdown");
    try {
      await navigator.clipboard.writeText(box.value);
      this.said = "Copied.";
    } catch {
      box.closest("details").open = true;
      box.focus();
      box.select();
      this.said = "Select it and copy it from here.";
    }
  },
  print() {
    window.print();
  },
});

// A text copied to wherever it is pasted.

export const part = () => ({
  said: "",
  async copy() {
    const text = this.$refs.what.textContent.trim();
    try {
      await navigator.clipboard.writeText(text);
      this.said = "Copied.";
    } catch {
      window.getSelection().selectAllChildren(this.$refs.what);
      this.said = "Marked: copy it from here.";
    }
  },
});

// Three seconds from the microphone as a WAV file, put into the form. Nothing leaves this machine.

const SECONDS = 3;

/** Samples between -1 and 1 as a WAV file: mono, 16 bits. */
export function wav(samples, rate) {
  const bytes = new DataView(new ArrayBuffer(44 + 2 * samples.length));
  const text = (at, word) => {
    for (let i = 0; i < word.length; i += 1) bytes.setUint8(at + i, word.charCodeAt(i));
  };
  text(0, "RIFF");
  bytes.setUint32(4, 36 + 2 * samples.length, true);
  text(8, "WAVEfmt ");
  bytes.setUint32(16, 16, true);
  bytes.setUint16(20, 1, true);
  bytes.setUint16(22, 1, true);
  bytes.setUint32(24, rate, true);
  bytes.setUint32(28, 2 * rate, true);
  bytes.setUint16(32, 2, true);
  bytes.setUint16(34, 16, true);
  text(36, "data");
  bytes.setUint32(40, 2 * samples.length, true);
  samples.forEach((sample, i) => {
    const held = Math.max(-1, Math.min(1, sample));
    bytes.setInt16(44 + 2 * i, Math.round(held * 32767), true);
  });
  return bytes.buffer;
}

/** Joins blocks of samples into one. */
export function joined(blocks) {
  const all = new Float32Array(blocks.reduce((sum, block) => sum + block.length, 0));
  let at = 0;
  for (const block of blocks) {
    all.set(block, at);
    at += block.length;
  }
  return all;
}

// What a microphone does to please an ear would bend the tone.
const PLAIN = { echoCancellation: false, noiseSuppression: false, autoGainControl: false };

async function record(worklet) {
  const stream = await navigator.mediaDevices.getUserMedia({ audio: PLAIN });
  const context = new AudioContext();
  try {
    await context.audioWorklet.addModule(worklet);
    const node = new AudioWorkletNode(context, "blocks");
    const blocks = [];
    const enough = SECONDS * context.sampleRate;
    await new Promise((done) => {
      let many = 0;
      node.port.onmessage = ({ data }) => {
        blocks.push(data);
        many += data.length;
        if (many >= enough) done();
      };
      context.createMediaStreamSource(stream).connect(node);
    });
    return wav(joined(blocks).slice(0, enough), context.sampleRate);
  } finally {
    for (const track of stream.getTracks()) track.stop();
    await context.close();
  }
}

export const part = () => ({
  init() {
    const form = this.$root;
    form.addEventListener("click", async ({ target }) => {
      const button = target.closest("[data-record]");
      if (!button) return;
      const said = button.parentElement.querySelector("[data-said]");
      button.disabled = true;
      said.textContent = "Recording: pluck now.";
      try {
        const bytes = await record(form.dataset.worklet);
        const files = new DataTransfer();
        files.items.add(new File([bytes], "pluck.wav", { type: "audio/wav" }));
        document.getElementById(button.dataset.record).files = files.files;
        said.textContent = "Recorded. Listening to it.";
        form.requestSubmit();
      } catch {
        said.textContent =
          "No microphone may be used here. It needs this page on this machine or over a secure " +
          "line, and your leave. A file will do as well.";
      } finally {
        button.disabled = false;
      }
    });
  },
});

// What of the bench's scripts needs no page.

import assert from "node:assert/strict";
import { test } from "node:test";
import { moved, within } from "../parts/places.js";
import { joined, wav } from "../parts/recorder.js";
import { MOST, added } from "../parts/trace.js";

test("a place stays on the picture, to a tenth of a pixel", () => {
  assert.deepEqual(within([-5, 700.04], [800, 600]), [0, 599]);
  assert.deepEqual(within([12.34, 56.78], [800, 600]), [12.3, 56.8]);
});

test("only the place that moved changes in its field", () => {
  assert.equal(moved("1 2 3 4", 1, [30, 40]), "1 2 30 40");
  assert.equal(moved(" 1  2 3 4 ", 0, [9.5, 8]), "9.5 8 3 4");
});

test("a recording is a WAV file of one channel with 16 bits", () => {
  const bytes = new DataView(
    wav(joined([new Float32Array([0, 1]), new Float32Array([-2])]), 48000),
  );
  const text = (at) => String.fromCharCode(...[0, 1, 2, 3].map((i) => bytes.getUint8(at + i)));
  assert.deepEqual([text(0), text(8), text(36)], ["RIFF", "WAVE", "data"]);
  assert.equal(bytes.getUint16(22, true), 1);
  assert.equal(bytes.getUint32(24, true), 48000);
  assert.equal(bytes.getUint32(40, true), 6);
  // Louder than can be is held at full scale.
  assert.deepEqual(
    [0, 1, 2].map((i) => bytes.getInt16(44 + 2 * i, true)),
    [0, 32767, -32767],
  );
});

test("a trace that goes on for long loses its beginning and grows no more", () => {
  let lines = [];
  for (let n = 0; n < 25; n += 1) lines = added(lines, String(n), 10);
  assert.equal(lines.length, 10);
  assert.deepEqual([lines[0], lines[9]], ["15", "24"]);
  assert.ok(MOST < 20000);
});

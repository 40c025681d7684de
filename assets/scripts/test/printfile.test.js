// What of a print file's scripts needs no page.

import assert from "node:assert/strict";
import { test } from "node:test";
import { CLASSES, DASHES, classOf, ends, whole } from "../parts/layer.js";
import { heightAt, layerAt } from "../parts/printfile.js";
import { progress } from "../parts/upload.js";

const series = { bottom: [0, 0.2, 0.4], z: [0.2, 0.4, 0.6] };

test("a height is in the layer whose plastic is there, or in the nearest", () => {
  assert.equal(layerAt(series, 0.1), 0);
  assert.equal(layerAt(series, 0.4), 1);
  assert.equal(layerAt(series, 0.41), 2);
  assert.equal(layerAt(series, 99), 2);
  assert.equal(layerAt(series, -1), 0);
});

test("a place on a chart is a height between plate and top", () => {
  const chart = { top: 20, bottom: 120, tall: 40 };
  assert.equal(heightAt(120, chart), 0);
  assert.equal(heightAt(70, chart), 20);
  assert.equal(heightAt(0, chart), 40);
  assert.equal(heightAt(500, chart), 0);
});

test("classes part a quantity, and every value has one", () => {
  const upper = ends([10, 20, 30, 40, 50, 50, 50]);
  assert.deepEqual(upper, [10, 20, 30, 40, 50]);
  assert.deepEqual(
    [5, 10, 11, 50, 90].map((v) => classOf(v, upper)),
    [0, 0, 1, 4, 4],
  );
  assert.deepEqual(ends([7, 7]), [7]);
  assert.deepEqual(ends([]), []);
  assert.equal(CLASSES, 5);
});

test("kinds of lines that stand beside each other have patterns of their own", () => {
  const patterns = Object.values(DASHES).map((dashes) => dashes.join(" "));
  const dashed = patterns.filter((pattern) => pattern);
  assert.equal(new Set(dashed).size, dashed.length);
});

test("a box fills its place without being bent", () => {
  const eye = whole([0, 0, 94, 44], [500, 500]);
  assert.deepEqual([eye.scale, eye.x, eye.y], [5, 47, 22]);
});

test("an upload tells how far it is, then that it is being read", () => {
  assert.deepEqual(progress(50, 200), { percent: 25, words: "Uploading and reading: 25 %." });
  assert.equal(progress(200, 200).words, "Uploaded. Reading it.");
  assert.equal(progress(1, 0).percent, 0);
});

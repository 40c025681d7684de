// What of the scripts needs no page.

import assert from "node:assert/strict";
import { webcrypto } from "node:crypto";
import { test } from "node:test";
import { draftName } from "../drafts.js";
import { parse } from "../hear.js";
import { afterEach, busy, inTurn } from "../line.js";
import { samePage } from "../page.js";
import { percent, stroke } from "../parts/marks.js";
import { millimetres, moved } from "../parts/ruler.js";
import { identity, saidBy } from "../touch.js";
import { news } from "../onward.js";
import { short, titled, words } from "../waits.js";

// Browsers have it, Node's older versions only under this name.
globalThis.crypto ??= webcrypto;

test("jobs are done one at a time in their order, whatever becomes of them", async () => {
  const done = [];
  let idle = 0;
  afterEach(() => {
    idle += 1;
  });
  let release;
  const slow = inTurn(async () => {
    await new Promise((resolve) => {
      release = resolve;
    });
    done.push("slow");
  });
  const broken = inTurn(async () => {
    done.push("broken");
    throw new Error("no answer");
  });
  const last = inTurn(async () => done.push("last"));
  assert.ok(busy());
  await Promise.resolve();
  release();
  await Promise.all([slow, broken, last]);
  assert.deepEqual(done, ["slow", "broken", "last"]);
  assert.equal(idle, 3);
  assert.ok(!busy());
});

test("an identity is a UUID of version 4, and another one each time", () => {
  const form = /^[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/;
  assert.match(identity(), form);
  assert.notEqual(identity(), identity());
  const all = identity(new Uint8Array(16).fill(0xff));
  assert.equal(all, "ffffffff-ffff-4fff-bfff-ffffffffffff");
});

test("the same words are the same touch, whatever identity they carry", () => {
  const said = (touch, text) =>
    saidBy([
      ["touch", touch],
      ["text", text],
      ["picture", {}],
    ]);
  assert.equal(said("a", "strings"), said("b", "strings"));
  assert.notEqual(said("a", "strings"), said("a", "gaps"));
});

test("a draft belongs to its form and field, wherever the program is reached", () => {
  const here = draftName("http://127.0.0.1:8080/cases/x/note?a=1", "text");
  assert.equal(here, draftName("http://localhost/cases/x/note", "text"));
  assert.notEqual(here, draftName("http://localhost/cases/y/note", "text"));
});

test("a place within a page is no other page", () => {
  assert.ok(samePage("http://a/b#c", "http://a/b#d"));
  assert.ok(!samePage("http://a/b?x=1", "http://a/b?x=2"));
});

test("what is heard says which case, and how far it has come", () => {
  assert.deepEqual(parse("look"), { anything: true });
  assert.deepEqual(parse("01a1 look"), { which: "01a1", look: true });
  assert.deepEqual(parse("01a1 17"), { which: "01a1", seq: 17 });
});

test("a wait is told in hours, minutes and seconds until it is over", () => {
  assert.equal(words(59), "00:59 left");
  assert.equal(words(3600 + 62), "1:01:02 left");
  assert.equal(words(0), "The wait is over.");
  assert.equal(words(-5), "The wait is over.");
});

test("the ruler stays on the piece and moves by keys", () => {
  assert.equal(millimetres(0.333, 100), 33.5);
  assert.equal(millimetres(-1, 100), 0);
  assert.equal(millimetres(2, 80), 80);
  assert.equal(moved("ArrowUp", 10, 100, false), 11);
  assert.equal(moved("ArrowDown", 10, 100, true), 0);
  assert.equal(moved("End", 10, 100, false), 100);
  assert.equal(moved("a", 10, 100, false), undefined);
});

test("a touch on a picture has one place, a stroke has two", () => {
  assert.deepEqual(stroke([0.5, 0.25], [0.502, 0.25]), {
    x: "50.0",
    y: "25.0",
    to_x: "",
    to_y: "",
  });
  assert.equal(stroke([0.1, 0.1], [0.4, 0.2]).to_x, "40.0");
  assert.equal(percent(1.7), "100.0");
});

test("the title of the tab tells of the wait that ends first, and is itself again after it", () => {
  assert.equal(titled("Cold pull · Usual Suspect", short(61)), "(2 min) Cold pull · Usual Suspect");
  const over = titled("(1 min) Cold pull", short(0));
  assert.equal(over, "(The wait is over) Cold pull");
  assert.equal(titled(over, ""), "Cold pull");
});

test("what changed is said once, and a stop at once", () => {
  const before = { leader: "Wet filament, 40 %", stop: "" };
  assert.deepEqual(news(before, before, true), { said: "Saved.", urgent: "" });
  const now = { leader: "Worn coupler, 45 %", stop: "Switch off" };
  assert.deepEqual(news(before, now, false), {
    said: "Leading now: Worn coupler, 45 %.",
    urgent: "Switch off",
  });
  assert.deepEqual(news(now, now, false), { said: "", urgent: "" });
});

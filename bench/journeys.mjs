// Five journeys through the program, each counted: touches and typings as actions, Tabs and other
// keys, and the milliseconds until the next thing to do is on screen.

import { spawn } from "node:child_process";
import { writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { createInterface } from "node:readline";

const base = process.argv[2];
const TAB = "\uE004";
const ENTER = "\uE007";
// A picture of one grey point: its bytes, smallest of all.
const PHOTO = Buffer.from(
  "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAAAAAA6fptVAAAACklEQVR4nGNoAAAAggCB" +
    "d81ytgAAAABJRU5ErkJggg==",
  "base64",
);

async function started() {
  const process_ = spawn("chromedriver", ["--port=0"]);
  for await (const line of createInterface({ input: process_.stdout })) {
    const port = line.match(/successfully on port (\d+)/)?.[1];
    if (port) return { process_, port };
  }
  throw new Error("chromedriver did not start");
}

class Browser {
  constructor(port) {
    this.root = `http://127.0.0.1:${port}/session`;
  }

  async ask(method, path, body) {
    const how = { method, headers: { "content-type": "application/json" } };
    if (body) how.body = JSON.stringify(body);
    const answer = await (await fetch(this.root + path, how)).json();
    if (answer.value?.error) throw new Error(`${path}: ${answer.value.message}`);
    return answer.value;
  }

  async open({ width, height, phone }) {
    const args = ["--headless=new", "--no-sandbox", `--window-size=${width},${height}`];
    const options = { args };
    if (phone) {
      const deviceMetrics = { width, height, pixelRatio: 1, touch: true };
      options.mobileEmulation = { deviceMetrics };
    }
    const wanted = { alwaysMatch: { "goog:chromeOptions": options } };
    const { sessionId } = await this.ask("POST", "", { capabilities: wanted });
    this.root += `/${sessionId}`;
    this.actions = this.keys = this.tabs = 0;
    this.waited = [];
    await this.ask("POST", "/url", { url: base });
  }

  run(script, ...args) {
    return this.ask("POST", "/execute/sync", { script, args });
  }

  // Until a condition of the page holds; the time counts as waiting.
  async until(condition) {
    const began = Date.now();
    for (;;) {
      const holds = await this.run(`return Boolean(${condition})`).catch(() => false);
      if (holds) break;
      if (Date.now() - began > 15000) {
        const page = await this.run("return location.href + ' ' + document.body.innerText");
        throw new Error(`waiting for ${condition} on ${page.slice(0, 600)}`);
      }
    }
    this.waited.push(Date.now() - began);
  }

  async element(css) {
    await this.until(`document.querySelector(${JSON.stringify(css)})?.checkVisibility()`);
    const found = await this.ask("POST", "/element", { using: "css selector", value: css });
    return Object.values(found)[0];
  }

  async touch(css) {
    const element = await this.element(css);
    await this.run("arguments[0].scrollIntoView({ block: 'center' })", {
      "element-6066-11e4-a52e-4f735466cecf": element,
    });
    await this.ask("POST", `/element/${element}/click`, {});
    this.actions += 1;
  }

  async type(css, text) {
    const element = await this.element(css);
    await this.ask("POST", `/element/${element}/value`, { text });
    this.actions += 1;
  }

  async key(value) {
    if (/^[0-9]$/.test(value)) await this.until("!document.documentElement.dataset.resting");
    const actions = [
      { type: "keyDown", value },
      { type: "keyUp", value },
    ];
    await this.ask("POST", "/actions", { actions: [{ type: "key", id: "keyboard", actions }] });
    if (value === TAB) this.tabs += 1;
    else this.keys += 1;
  }

  async tabTo(css) {
    const there = `document.activeElement?.matches(${JSON.stringify(css)})`;
    for (let n = 0; n < 300; n += 1) {
      if (await this.run(`return Boolean(${there})`)) return;
      await this.key(TAB);
    }
    throw new Error(`${css} cannot be reached`);
  }

  async close() {
    await this.ask("DELETE", "");
  }
}

const onMachine = (name) =>
  `[...document.querySelectorAll('.machine')].find((m) => ` +
  `m.querySelector('h2').textContent.includes('${name}')).querySelector('.machine-foot a')`;

async function newCaseOn(browser, name) {
  await browser.until(onMachine(name));
  await browser.run(`${onMachine(name)}.id = 'here'`);
  await browser.touch("#here");
}

// What was read is confirmed one by one until the case shows its next step.
async function confirmAll(browser) {
  for (;;) {
    await browser.until("document.querySelector('#proposals .main, .case-page .step .main')");
    if (await browser.run("return Boolean(document.querySelector('.case-page'))")) return;
    const before = await browser.run("return document.getElementById('live').dataset.seq");
    await browser.touch("#proposals li:first-child .main");
    await browser.until(`document.getElementById('live')?.dataset.seq !== '${before}'`);
  }
}

async function firstCheck(browser) {
  const before = await browser.run("return document.getElementById('live').dataset.seq");
  await browser.touch(".outcomes .outcome");
  await browser.until(`document.getElementById('live')?.dataset.seq !== '${before}'`);
}

const PHONE = { width: 390, height: 844, phone: true };
const DESK = { width: 1280, height: 800 };

const journeys = {
  "A hairs on Heron, phone, to the first check recorded": async (browser) => {
    await browser.open(PHONE);
    await newCaseOn(browser, "Heron");
    await browser.type("#told", "fine hairs between the towers, it hisses and pops");
    await browser.touch(".submit-row .main");
    // C-033 is this very trouble.
    await browser.touch(".twin .main");
    await confirmAll(browser);
    await firstCheck(browser);
  },
  "B nothing comes out on Wagtail, phone, to the first check recorded": async (browser) => {
    await browser.open(PHONE);
    await newCaseOn(browser, "Wagtail");
    const told = "nothing comes out of the nozzle after I changed the spool";
    await browser.type("#told", told);
    await browser.touch(".submit-row .main");
    await confirmAll(browser);
    await firstCheck(browser);
  },
  "C corners lift on Dipper with a photo, phone, to the first check recorded": async (browser) => {
    const photo = join(tmpdir(), "us-journey.png");
    writeFileSync(photo, PHOTO);
    await browser.open(PHONE);
    await newCaseOn(browser, "Dipper");
    await browser.type("#told", "corners of my box lift off");
    await browser.type("#files", photo);
    await browser.touch(".submit-row .main");
    await confirmAll(browser);
    await firstCheck(browser);
  },
  "D a step sideways on Teal, keyboard alone, to the first check recorded": async (browser) => {
    await browser.open(DESK);
    await browser.until("document.querySelector('.floor')");
    await browser.key("n");
    await browser.until("document.querySelector('.machine-chip')");
    const digit = await browser.run(
      "return [...document.querySelectorAll('.machine-chip')].find((c) => " +
        "c.textContent.includes('Teal')).querySelector('input').dataset.key",
    );
    await browser.key(digit);
    await browser.until("document.activeElement?.id === 'told'");
    await browser.type("#told", "suddenly one step sideways, 4 mm in X");
    await browser.tabTo(".submit-row .main");
    await browser.key(ENTER);
    await browser.until("document.querySelector('.twins, #proposals')");
    if (await browser.run("return Boolean(document.querySelector('.twins'))")) {
      await browser.tabTo("button[name=twin]");
      await browser.key(ENTER);
    }
    for (;;) {
      await browser.until("document.querySelector('#proposals .main, .case-page .step .main')");
      if (await browser.run("return Boolean(document.querySelector('.case-page'))")) break;
      const before = await browser.run("return document.getElementById('live').dataset.seq");
      await browser.key("1");
      await browser.until(`document.getElementById('live')?.dataset.seq !== '${before}'`);
    }
    await browser.tabTo(".step .button.main");
    const before = await browser.run("return document.getElementById('live').dataset.seq");
    await browser.key("1");
    await browser.until(`document.getElementById('live')?.dataset.seq !== '${before}'`);
  },
  "E loose heater wires on Grebe, desktop, to the stop lifted by name": async (browser) => {
    await browser.open(DESK);
    await newCaseOn(browser, "Grebe");
    await browser.type("#told", "heater wires are loose");
    await browser.touch(".submit-row .main");
    await confirmAll(browser);
    await browser.touch(".stopped .button.main");
    await browser.until("document.querySelectorAll('input[name=seen]').length");
    const steps = await browser.run("return document.querySelectorAll('input[name=seen]').length");
    for (let n = 1; n <= steps; n += 1) await browser.touch(`input[name=seen][value='${n}']`);
    await browser.type("#by", "Ida Reed");
    await browser.type("#reason", "New wires, crimped, strain relieved and pulled at");
    await browser.touch(".button.main");
    await browser.until(
      "document.querySelector('.case-page') && !document.querySelector('.stopped')",
    );
  },
};

const { process_, port } = await started();
try {
  for (const [name, walk] of Object.entries(journeys)) {
    const browser = new Browser(port);
    await walk(browser);
    const slowest = Math.max(...browser.waited);
    const all = browser.waited.reduce((sum, ms) => sum + ms, 0);
    console.log(
      `${name}: ${browser.actions} actions, ${browser.tabs} Tabs, ${browser.keys} other keys, ` +
        `waited ${all} ms in all, ${slowest} ms at most`,
    );
    await browser.close();
  }
} finally {
  process_.kill();
}

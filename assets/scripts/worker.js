// One stream for all pages of this browser: it tells each page which case has a new entry.
"use strict";
const ports = new Set();
let source = null;
let broken = false;

function tell(message) {
  for (const port of ports) port.postMessage(message);
}

function listen() {
  if (source) return;
  source = new EventSource("/live");
  source.addEventListener("open", () => {
    // After a break anything may have happened meanwhile.
    if (broken) tell("look");
    broken = false;
  });
  source.addEventListener("entry", (event) => tell(event.data));
  source.addEventListener("error", () => {
    broken = true;
    if (source.readyState !== EventSource.CLOSED) return;
    source = null;
    setTimeout(listen, 5000);
  });
}

onconnect = (event) => {
  const port = event.ports[0];
  ports.add(port);
  port.onmessage = (said) => {
    if (said.data === "leave") ports.delete(port);
  };
  port.start();
  listen();
  port.postMessage("look");
};

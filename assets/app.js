// Better with scripts, whole without them: parts are morphed in place, keys answer what is on screen,
// what others write appears, and nothing typed is lost when an answer does not come.
(() => {
  'use strict';
  document.documentElement.classList.add('scripted');
  const work = () => document.getElementById('work');
  const options = { key: (el) => el.id, updating };
  // How long an answer may take before it is said that nothing came.
  const PATIENCE = 15000;
  const UPLOAD_PATIENCE = 300000;

  // What a person opened stays open, and a field that is being typed in keeps what was typed.
  function updating(from, to, children, skip) {
    if (from.nodeType !== 1) return;
    if (from.matches('details') && from.dataset.opened) to.toggleAttribute('open', from.open);
    if (from.matches('details') && from.dataset.opened) to.dataset.opened = 'yes';
    if (from.matches('#not-sent')) skip();
  }
  document.addEventListener('click', (event) => {
    const summary = event.target.closest('summary');
    if (summary) summary.parentElement.dataset.opened = 'yes';
  }, true);

  // Under a pressed finger nothing moves: what came meanwhile is shown once it is lifted.
  let pressed = false;
  const later = [];
  addEventListener('pointerdown', () => { pressed = true; }, true);
  function lifted() {
    pressed = false;
    // The click belongs to the press: it comes first.
    setTimeout(() => { while (!pressed && later.length) later.shift()(); });
  }
  for (const end of ['pointerup', 'pointercancel', 'dragend', 'contextmenu', 'blur']) {
    addEventListener(end, lifted, end !== 'blur');
  }
  function still() {
    return pressed ? new Promise((resolve) => { later.push(resolve); }) : Promise.resolve();
  }

  // Shows a page that came as text: its work area takes the place of ours, typed values elsewhere stay.
  function show(html, url) {
    const page = new DOMParser().parseFromString(html, 'text/html');
    const fresh = page.getElementById('work');
    if (!fresh) { location.href = url; return; }
    document.title = page.title;
    const focused = document.activeElement?.id;
    Alpine.morph(work(), fresh.outerHTML, options);
    if (focused && document.activeElement?.id !== focused) {
      document.getElementById(focused)?.focus({ preventScroll: true });
    }
    if (url !== location.href) history.pushState({}, '', url);
    ticking();
    inSight();
    restore();
    listen();
    deepen();
  }
  addEventListener('popstate', () => { if (!samePlace(location.href, shownAt)) location.reload(); });

  // A step within the page is no new page: the browser scrolls by itself.
  let shownAt = location.href;
  const samePlace = (a, b) => a.split('#')[0] === b.split('#')[0];

  // One request at a time, in the order of the touches: a later answer never overtakes an earlier one.
  let line = Promise.resolve();
  let waiting = 0;
  function inTurn(job) {
    waiting += 1;
    line = line.then(job).catch(() => {}).finally(() => { waiting -= 1; catchUp(); });
    return line;
  }

  // A request that is given up when no answer comes; an answer of 503 or more counts as none.
  async function ask(url, how = {}, patience = PATIENCE) {
    const clock = new AbortController();
    const timer = setTimeout(() => clock.abort(), patience);
    try {
      const answer = await fetch(url, { ...how, signal: clock.signal });
      if (answer.status >= 500) throw new Error(String(answer.status));
      const { ok, redirected } = answer;
      return { ok, redirected, url: answer.url, text: await answer.text() };
    } finally { clearTimeout(timer); }
  }

  // What was taken shows as the server wrote it down ("0.008 in" as 0.203); the field being typed in
  // is left alone.
  function settle(form) {
    for (const field of form.elements) {
      if (field === document.activeElement) continue;
      if (field.matches('input[type=radio], input[type=checkbox]')) field.checked = field.defaultChecked;
      else if (field.matches('select')) for (const option of field.options) option.selected = option.defaultSelected;
      else if (field.matches('input:not([type=file]), textarea')) field.value = field.defaultValue;
    }
  }

  // Drafts: what is typed is kept in this tab until an answer says that it was recorded, so that
  // neither an error, nor a lost line, nor a reload takes it away.
  const DRAFT = 'usual-suspect-draft ';
  const draftable = 'textarea, input:not([type]), input[type=text]';
  const draftOf = (field) => `${DRAFT}${new URL(field.form.action).pathname} ${field.name}`;
  document.addEventListener('input', ({ target }) => {
    if (!target.matches?.(draftable) || !target.form || target.form.method !== 'post' || !target.name) return;
    try { sessionStorage.setItem(draftOf(target), target.value); } catch { /* no room: only the page keeps it */ }
  });
  function restore() {
    for (const field of document.querySelectorAll('form[method=post] :is(textarea, input)')) {
      if (!field.matches(draftable) || !field.name || field.value || field.defaultValue) continue;
      field.value = sessionStorage.getItem(draftOf(field)) ?? '';
    }
  }
  function forget(action, names) {
    const path = new URL(action).pathname;
    for (const name of names) sessionStorage.removeItem(`${DRAFT}${path} ${name}`);
  }

  // An identity for a press, as the server makes them; works on plain http too.
  function identity() {
    const bytes = crypto.getRandomValues(new Uint8Array(16));
    bytes[6] = (bytes[6] & 0x0f) | 0x40;
    bytes[8] = (bytes[8] & 0x3f) | 0x80;
    const hex = [...bytes].map((b) => b.toString(16).padStart(2, '0')).join('');
    return hex.replace(/^(.{8})(.{4})(.{4})(.{4})/, '$1-$2-$3-$4-');
  }

  // Touches sent and not answered yet: a later one says that it knows of them.
  const underWay = [];
  // What each form said last, and under which identity: the same said again is the same touch.
  const lastSaid = new WeakMap();

  // A touch as it was at the press: where it goes and what it says do not change any more.
  function freeze(form, submitter) {
    const data = new FormData(form, submitter);
    const said = JSON.stringify([...data].filter(([name, value]) => name !== 'touch' && typeof value === 'string'));
    const files = [...data].some(([, value]) => value instanceof File && value.size > 0);
    const last = lastSaid.get(form);
    const again = last && last.said === said && !files;
    const own = data.get('touch') || identity();
    const id = again ? last.id : (last ? identity() : own);
    data.set('touch', id);
    const before = underWay.filter((t) => t !== id);
    if (before.length) data.set('after', before.join(','));
    lastSaid.set(form, { said, id });
    return {
      id,
      again: again && underWay.includes(id),
      action: submitter?.formAction && submitter.hasAttribute('formaction') ? submitter.formAction : form.action,
      body: form.enctype === 'multipart/form-data' ? data : new URLSearchParams(data),
      patience: form.enctype === 'multipart/form-data' ? UPLOAD_PATIENCE : PATIENCE,
      names: [...data.keys()],
      morph: form.matches('[data-morph]'),
      form,
    };
  }

  document.addEventListener('submit', (event) => {
    const form = event.target;
    if (form.method !== 'post' || event.defaultPrevented) return;
    event.preventDefault();
    const touch = freeze(form, event.submitter);
    if (touch.again) return;
    send(touch);
  });

  function send(touch) {
    underWay.push(touch.id);
    touch.form.classList.add('sending');
    return inTurn(async () => {
      try {
        const answer = await ask(touch.action, { method: 'POST', body: touch.body }, touch.patience);
        notSent(null);
        // The page that answers gives the form a new identity.
        lastSaid.delete(touch.form);
        // Whatever was taken leads on to a page; an answer in place asks something first.
        const taken = answer.ok && answer.redirected;
        if (taken) forget(touch.action, touch.names);
        await still();
        if (taken && !touch.morph) { shownAt = answer.url; location.assign(answer.url); return; }
        // What was not taken has no page of its own to reload, so the address stays.
        show(answer.text, taken ? answer.url : location.href);
        shownAt = location.href;
        if (taken && touch.form.isConnected) settle(touch.form);
      } catch {
        // No answer, or none that says what became of it. The form stays as it is, the touch keeps its
        // identity: sent again, it counts once.
        notSent(touch);
      } finally {
        underWay.splice(underWay.indexOf(touch.id), 1);
        touch.form.classList.remove('sending');
      }
    });
  }

  // "Not sent: try again", beside the form it belongs to, with everything typed still in it.
  function notSent(touch) {
    document.getElementById('not-sent')?.remove();
    if (!touch) return;
    const box = document.createElement('div');
    box.id = 'not-sent';
    box.className = 'not-sent';
    box.setAttribute('role', 'alert');
    box.innerHTML = '<strong>Not sent.</strong> No answer came. What you entered is still here. <button type="button" class="button small">Try again</button>';
    box.querySelector('button').addEventListener('click', () => { box.remove(); send(touch); });
    const beside = touch.form.isConnected && touch.form.offsetParent ? touch.form : work().firstElementChild;
    if (beside === touch.form) beside.append(box); else beside.prepend(box);
    box.scrollIntoView({ block: 'nearest' });
  }

  // Parts of a page and places on a map open without a new page.
  document.addEventListener('click', (event) => {
    const link = event.target.closest('a[data-swap], a.spot');
    if (!link || event.ctrlKey || event.metaKey || event.shiftKey || event.button) return;
    event.preventDefault();
    const url = new URL(link.getAttribute('href'), location.href).href;
    inTurn(async () => {
      try {
        const answer = await ask(url);
        await still();
        show(answer.text, answer.url);
        shownAt = location.href;
        const signs = document.getElementById('signs');
        if (link.matches('.spot') && signs && innerWidth < 1021) signs.scrollIntoView({ block: 'start' });
      } catch { location.href = url; }
    });
  });

  // What others write to the case on screen appears here. One stream serves all tabs of this browser:
  // a shared worker holds it where there is one, else the tab in sight does.
  const paths = document.documentElement.dataset;
  let port = null;
  let source = null;
  let heard = 0;
  let look = false;
  const place = () => document.getElementById('live')?.dataset ?? {};
  function listen() {
    const wanted = place().case && !document.hidden;
    if (wanted && !port && !source) {
      if (window.SharedWorker && paths.live) {
        port = new SharedWorker(paths.live).port;
        port.onmessage = ({ data }) => hear(data);
      } else {
        source = new EventSource('/live');
        source.addEventListener('entry', ({ data }) => hear(data));
        source.addEventListener('open', () => hear('look'));
      }
    } else if (!wanted) { hush(); }
  }
  function hush() {
    port?.postMessage('leave');
    port?.close();
    source?.close();
    port = source = null;
  }
  document.addEventListener('visibilitychange', () => { listen(); if (!document.hidden) hear('look'); });
  // "look": anything may have changed; "case look": what locks it did; "case number": its last entry.
  async function hear(said) {
    const [which, what] = said.split(' ');
    if (which === 'look') {
      const id = place().case;
      if (!id) return;
      try { hear(`${id} ${(await ask(`/cases/${id}/live`)).text}`); } catch { /* the next one tells it */ }
      return;
    }
    if (which !== place().case) return;
    if (what === 'look') look = true; else heard = Math.max(heard, Number(what));
    catchUp();
  }
  function catchUp() {
    const shown = Number(place().seq || 0);
    if (waiting || !place().case || (!look && heard <= shown)) return;
    heard = 0;
    look = false;
    inTurn(async () => {
      const answer = await ask(location.href);
      await still();
      if (answer.ok) show(answer.text, location.href);
    });
  }
  addEventListener('pagehide', hush);
  addEventListener('pageshow', (event) => { if (event.persisted) { listen(); hear('look'); } });

  document.addEventListener('keydown', (event) => {
    // A key that is held down is one press.
    if (event.ctrlKey || event.metaKey || event.altKey || event.repeat) return;
    if (event.target.matches('input:not([type=radio]):not([type=checkbox]), textarea, select')) return;
    if (event.key === '?') { document.getElementById('keys').showModal(); return; }
    const target = document.querySelector(`[data-key="${CSS.escape(event.key)}"]`);
    if (target) { event.preventDefault(); target.click(); }
  });

  // Waits count down by the reader's own clock; they end whether or not anybody looks.
  function ticking() {
    for (const timer of document.querySelectorAll('.timer[data-until]')) {
      const left = Math.round((new Date(timer.dataset.until) - Date.now()) / 1000);
      timer.classList.toggle('over', left <= 0);
      const hours = Math.floor(left / 3600);
      const clock = [Math.floor(left / 60) % 60, left % 60].map((n) => String(n).padStart(2, '0')).join(':');
      timer.querySelector('.left').textContent = left <= 0 ? 'The wait is over.' : `${hours ? `${hours}:` : ''}${clock} left`;
    }
  }
  setInterval(ticking, 1000);

  // The plan appears at once as far as it is thought, and grows one step at a time.
  function deepen() {
    const link = document.querySelector('a[data-deepen]');
    if (!link) return;
    const url = link.href;
    inTurn(async () => {
      const answer = await ask(url);
      if (!answer.ok || document.querySelector('a[data-deepen]')?.href !== url) return;
      await still();
      const fresh = new DOMParser().parseFromString(answer.text, 'text/html').getElementById('work');
      if (fresh) { Alpine.morph(work(), fresh.outerHTML, options); deepen(); }
    });
  }

  // On a narrow screen the parts of a page lie beside each other: the one shown must be in sight.
  function inSight() {
    const part = document.querySelector('.stages [aria-current]');
    if (part) part.parentElement.scrollLeft = part.offsetLeft - (part.parentElement.clientWidth - part.offsetWidth) / 2;
  }

  const clamp = (value) => Math.min(1, Math.max(0, value));
  const percent = (share) => (clamp(share) * 100).toFixed(1);

  document.addEventListener('alpine:init', () => {
    // The ruler on the print map: dragged, or moved by arrow keys, it fills the field beside it.
    Alpine.data('ruler', () => ({
      init() {
        const root = this.$root;
        const fields = () => root.querySelector('#height').elements;
        const piece = (ruler) => Number(fields().piece_mm.value.replace(',', '.')) || Number(ruler.dataset.piece);
        const put = (ruler, share) => {
          const { foot, tip } = ruler.dataset;
          const mm = Math.round(clamp(share) * piece(ruler) * 2) / 2;
          ruler.setAttribute('transform', `translate(0 ${Number(foot) - clamp(share) * (foot - tip)})`);
          ruler.setAttribute('aria-valuenow', mm);
          ruler.classList.add('known');
          fields().fault_mm.value = mm;
        };
        let held = null;
        const follow = (event) => {
          const box = held.ownerSVGElement.getBoundingClientRect();
          const { foot, tip } = held.dataset;
          const y = (event.clientY - box.top) * held.ownerSVGElement.viewBox.baseVal.height / box.height;
          put(held, (foot - y) / (foot - tip));
        };
        root.addEventListener('pointerdown', (event) => {
          held = event.target.closest('.ruler');
          if (!held) return;
          event.preventDefault();
          held.focus();
          held.setPointerCapture(event.pointerId);
        });
        root.addEventListener('pointermove', (event) => { if (held) follow(event); });
        // A finger on the ruler must not scroll the page.
        root.addEventListener('touchmove', (event) => { if (held) event.preventDefault(); }, { passive: false });
        root.addEventListener('pointercancel', () => { held = null; });
        root.addEventListener('pointerup', (event) => {
          if (!held) return;
          follow(event);
          held = null;
          root.querySelector('#height').requestSubmit();
        });
        root.addEventListener('keydown', (event) => {
          const ruler = event.target.closest('.ruler');
          if (!ruler) return;
          const now = Number(ruler.getAttribute('aria-valuenow'));
          const step = event.shiftKey ? 10 : 1;
          const to = { ArrowUp: now + step, ArrowDown: now - step, PageUp: now + 10, PageDown: now - 10, Home: 0, End: piece(ruler) }[event.key];
          if (to !== undefined) { event.preventDefault(); put(ruler, to / piece(ruler)); }
          if (event.key === 'Enter') { event.preventDefault(); root.querySelector('#height').requestSubmit(); }
        });
      },
    }));

    // Numbers are recorded as soon as one is finished, so that the window beside it speaks at once.
    Alpine.data('atonce', () => ({
      init() { this.$root.addEventListener('change', () => this.$root.requestSubmit()); },
    }));

    // Pictures are sent as soon as they are chosen or dropped.
    Alpine.data('drop', () => ({
      init() {
        const form = this.$root;
        const input = form.querySelector('input[type=file]');
        const over = (on) => form.classList.toggle('over', on);
        input.addEventListener('change', () => { if (input.files.length) { form.requestSubmit(); input.value = ''; } });
        form.addEventListener('dragover', (event) => { event.preventDefault(); over(true); });
        form.addEventListener('dragleave', () => over(false));
        form.addEventListener('drop', (event) => {
          event.preventDefault();
          over(false);
          input.files = event.dataTransfer.files;
          if (input.files.length) { form.requestSubmit(); input.value = ''; }
        });
      },
    }));

    // Marks are drawn on the picture; the fields beside it carry them.
    Alpine.data('marks', () => ({
      init() {
        const figure = this.$root;
        const form = () => document.getElementById('mark-form');
        const at = (event) => {
          const box = figure.querySelector('img').getBoundingClientRect();
          return [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height];
        };
        let from = null;
        figure.addEventListener('pointerdown', (event) => {
          if (!form() || event.button) return;
          event.preventDefault();
          from = at(event);
          figure.setPointerCapture(event.pointerId);
        });
        figure.addEventListener('pointercancel', () => { from = null; });
        figure.addEventListener('pointerup', (event) => {
          if (!from) return;
          const fields = form().elements;
          const to = at(event);
          const drawn = Math.hypot(to[0] - from[0], to[1] - from[1]) > 0.01;
          fields.x.value = percent(from[0]);
          fields.y.value = percent(from[1]);
          fields.to_x.value = drawn ? percent(to[0]) : '';
          fields.to_y.value = drawn ? percent(to[1]) : '';
          from = null;
          if (fields.kind.value === 'text' && !fields.text.value.trim()) { fields.text.focus(); return; }
          form().requestSubmit();
          form().reset();
        });
      },
    }));

    Alpine.data('printer', () => ({ print() { window.print(); } }));

    Alpine.data('brief', () => ({
      said: '',
      async copy() {
        const box = document.getElementById('markdown');
        try { await navigator.clipboard.writeText(box.value); this.said = 'Copied.'; } catch {
          box.closest('details').open = true;
          box.focus();
          box.select();
          this.said = 'Select it and copy it from here.';
        }
      },
      print() { window.print(); },
    }));
  });
  document.addEventListener('DOMContentLoaded', () => { ticking(); inSight(); restore(); listen(); deepen(); });
})();

// Better with scripts, whole without them: parts are morphed in place, keys answer what is on screen, what others write appears.
(() => {
  'use strict';
  document.documentElement.classList.add('scripted');
  const TOLD = 'usual-suspect-told';
  const work = () => document.getElementById('work');
  const options = { key: (el) => el.id };

  // Shows a page that came as text: its work area takes the place of ours, typed values elsewhere stay.
  function show(html, url) {
    const page = new DOMParser().parseFromString(html, 'text/html');
    const fresh = page.getElementById('work');
    if (!fresh) { location.href = url; return; }
    document.title = page.title;
    Alpine.morph(work(), fresh.outerHTML, options);
    if (url !== location.href) history.pushState({}, '', url);
    dates();
    ticking();
    inSight();
    listen();
    deepen();
  }
  addEventListener('popstate', () => location.reload());

  // One request at a time, in the order of the touches: a later answer never overtakes an earlier one.
  let line = Promise.resolve();
  let waiting = 0;
  function inTurn(job) {
    waiting += 1;
    line = line.then(job).catch(() => {}).finally(() => { waiting -= 1; catchUp(); });
    return line;
  }

  // What was taken shows as the server wrote it down ("0.008 in" as 0.203); the field being typed in is left alone.
  function settle(form) {
    for (const field of form.elements) {
      if (field === document.activeElement) continue;
      if (field.matches('input[type=radio], input[type=checkbox]')) field.checked = field.defaultChecked;
      else if (field.matches('select')) for (const option of field.options) option.selected = option.defaultSelected;
      else if (field.matches('input, textarea')) field.value = field.defaultValue;
    }
  }

  document.addEventListener('submit', (event) => {
    const form = event.target;
    if (!form.matches('form[data-morph]') || event.defaultPrevented) return;
    event.preventDefault();
    const data = new FormData(form, event.submitter);
    const button = event.submitter;
    inTurn(async () => {
      try {
        form.classList.add('sending');
        // An earlier touch may have been answered meanwhile: the form knows of it by now.
        if (form.isConnected && form.elements.seq) data.set('seq', form.elements.seq.value);
        const body = form.enctype === 'multipart/form-data' ? data : new URLSearchParams(data);
        const answer = await fetch(form.action, { method: 'POST', body });
        // A refusal has no page of its own to reload, so the address stays.
        show(await answer.text(), answer.ok ? answer.url : location.href);
        if (answer.ok) settle(form);
      } catch {
        // The network is gone: let the browser send the form itself and say so. Nothing is stored twice: the form carries its number.
        const sent = document.createElement('input');
        if (button && button.name) { sent.type = 'hidden'; sent.name = button.name; sent.value = button.value; form.append(sent); }
        form.submit();
      } finally { form.classList.remove('sending'); }
    });
  });

  // Parts of a page and places on a map open without a new page.
  document.addEventListener('click', (event) => {
    const link = event.target.closest('a[data-swap], a.spot');
    if (!link || event.ctrlKey || event.metaKey || event.shiftKey || event.button) return;
    event.preventDefault();
    const url = new URL(link.getAttribute('href'), location.href).href;
    inTurn(async () => {
      try {
        const answer = await fetch(url);
        show(await answer.text(), answer.url);
        const signs = document.getElementById('signs');
        if (link.matches('.spot') && signs && innerWidth < 1021) signs.scrollIntoView({ block: 'start' });
      } catch { location.href = url; }
    });
  });

  // What others write to the case on screen appears here: the stream tells the number of its last entry.
  let source = null;
  let listeningTo = '';
  let heard = 0;
  function listen() {
    const address = document.getElementById('live')?.dataset.live || '';
    if (address === listeningTo) return;
    source?.close();
    source = null;
    listeningTo = address;
    heard = 0;
    if (!address) return;
    source = new EventSource(address);
    source.addEventListener('entry', (event) => { heard = Math.max(heard, Number(event.data)); catchUp(); });
  }
  function catchUp() {
    const shown = Number(document.getElementById('live')?.dataset.seq || 0);
    if (waiting || !shown || heard <= shown) return;
    heard = 0;
    inTurn(async () => {
      const answer = await fetch(location.href);
      if (answer.ok) show(await answer.text(), location.href);
    });
  }
  addEventListener('pagehide', () => source?.close());

  document.addEventListener('keydown', (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.target.matches('input:not([type=radio]):not([type=checkbox]), textarea, select')) return;
    if (event.key === '?') { document.getElementById('keys').showModal(); return; }
    const target = document.querySelector(`[data-key="${CSS.escape(event.key)}"]`);
    if (target) { event.preventDefault(); target.click(); }
  });

  // Times are stored in universal time and shown in the reader's own.
  function dates() {
    for (const el of document.querySelectorAll('time[datetime]:not([data-day])')) {
      const at = new Date(el.dateTime);
      if (!isNaN(at)) el.textContent = at.toTimeString().slice(0, 5);
    }
  }

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
      const answer = await fetch(url);
      if (!answer.ok || document.querySelector('a[data-deepen]')?.href !== url) return;
      const fresh = new DOMParser().parseFromString(await answer.text(), 'text/html').getElementById('work');
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
    // Words of a case not yet opened survive leaving the page by mistake.
    Alpine.data('told', () => ({
      init() {
        const box = this.$root.querySelector('#told');
        if (!box.value && !document.querySelector('.error')) box.value = sessionStorage.getItem(TOLD) || '';
        box.addEventListener('input', () => sessionStorage.setItem(TOLD, box.value));
        this.$root.addEventListener('submit', () => sessionStorage.removeItem(TOLD));
      },
    }));

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
  document.addEventListener('DOMContentLoaded', () => { dates(); ticking(); inSight(); listen(); deepen(); });
})();

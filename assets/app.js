// Better with scripts, whole without them: parts are morphed in place, keys answer the step on screen, an unsent case is kept.
(() => {
  'use strict';
  document.documentElement.classList.add('scripted');
  const DRAFT = 'usual-suspect-new-case';
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
  }
  addEventListener('popstate', () => location.reload());

  document.addEventListener('submit', async (event) => {
    const form = event.target;
    if (!form.matches('form[data-morph]')) return;
    event.preventDefault();
    const body = new URLSearchParams(new FormData(form, event.submitter));
    try {
      const answer = await fetch(form.action, { method: 'POST', body });
      // A refusal has no page of its own to reload, so the address stays.
      show(await answer.text(), answer.ok ? answer.url : location.href);
    } catch {
      // The network is gone: let the browser send the form itself and say so. Nothing is stored twice: the form carries its number.
      const sent = document.createElement('input');
      if (event.submitter && event.submitter.name) {
        sent.type = 'hidden'; sent.name = event.submitter.name; sent.value = event.submitter.value; form.append(sent);
      }
      form.submit();
    }
  });

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

  document.addEventListener('alpine:init', () => {
    Alpine.data('intake', () => ({
      asked: 0,
      init() {
        this.restore();
        this.$root.addEventListener('change', () => { this.keep(); this.refresh(); });
        this.$root.addEventListener('input', () => this.keep());
        this.$root.addEventListener('submit', () => sessionStorage.removeItem(DRAFT));
      },
      fields() { return new URLSearchParams(new FormData(this.$root)); },
      keep() { sessionStorage.setItem(DRAFT, this.fields().toString()); },
      // What was typed before the page was left by mistake comes back, unless the server sent the page filled in.
      restore() {
        const kept = sessionStorage.getItem(DRAFT);
        if (!kept || document.querySelector('.error') || this.$root.querySelector('#title').value) return;
        const machine = this.$root.querySelector('#machine').value;
        for (const [name, value] of new URLSearchParams(kept)) {
          if (name === 'case_id' || (name === 'machine' && machine)) continue;
          for (const field of this.$root.querySelectorAll(`[name="${CSS.escape(name)}"]`)) {
            if (field.type === 'radio') field.checked = field.value === value; else field.value = value;
          }
          const group = this.$root.querySelector(`[name="${CSS.escape(name)}"]`)?.closest('details');
          if (group && value) group.open = true;
        }
        this.refresh();
      },
      async refresh() {
        const mine = ++this.asked;
        try {
          const answer = await fetch('/cases/preview', { method: 'POST', body: this.fields() });
          const html = await answer.text();
          // A slow answer must not overwrite a later one.
          if (answer.ok && mine === this.asked) Alpine.morph(document.getElementById('preview'), html, options);
        } catch { /* Offline: the facts stay in the form, the line-up waits. */ }
      },
    }));
  });
  document.addEventListener('DOMContentLoaded', dates);
})();

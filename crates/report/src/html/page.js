// The report: everything is read from files beside it, by scripts that hand their data over, since a page from disk may fetch nothing.
const fidelon = (() => {
  const waiting = new Map();
  const held = new Map();
  const take = (name, data) => {
    held.set(name, data);
    waiting.get(name)?.resolve(data);
  };
  const load = (name) => {
    if (held.has(name)) return Promise.resolve(held.get(name));
    if (!waiting.has(name)) {
      const one = Promise.withResolvers?.() ?? (() => { const o = {}; o.promise = new Promise((resolve, reject) => Object.assign(o, { resolve, reject })); return o; })();
      waiting.set(name, one);
      const script = document.createElement('script');
      script.src = `data/${name}.js`;
      script.addEventListener('error', () => one.reject(new Error(`data/${name}.js is missing`)));
      document.head.append(script);
    }
    return waiting.get(name).promise;
  };
  const many = (n, one, more = `${one}s`) => `${n} ${n === 1 ? one : more}`;
  /** Exactly when something breaks. */
  const when = (f) => el('span', {}, f.how, ' ', f.conditions.flatMap((c, i) => [i > 0 && ' or when ', el('span', { class: 'cause' }, c)]));
  const mark = (verdict) => el('span', { class: `mark ${MARKS[verdict][1]}`, role: 'img', 'aria-label': MARKS[verdict][2] }, MARKS[verdict][0]);
  const $ = (id) => document.getElementById(id);
  let all;

  // The list.
  const chosen = new Set();
  const words = (c) => [c.name, c.contract, c.reason, ...c.clauses.map((r) => r.name), ...c.laws.map((r) => r.name), ...c.findings.flatMap((f) => [f.promise, f.message, ...f.conditions])].join('\n').toLowerCase();
  const matching = () => {
    const asked = $('search').value.trim().toLowerCase().split(/\s+/).filter(Boolean);
    return all.components.filter((c) => (chosen.size === 0 || chosen.has(c.verdict)) && asked.every((word) => (c.words ??= words(c)).includes(word)));
  };
  const list = () => {
    const found = matching();
    const folders = new Map();
    for (const c of found) {
      const at = c.name.lastIndexOf('/');
      const folder = at < 0 ? '' : c.name.slice(0, at);
      if (!folders.has(folder)) folders.set(folder, []);
      folders.get(folder).push(c);
    }
    const item = (c) => el('li', {}, el('a', { href: `#/${encodeURI(c.name)}`, 'aria-current': c.name === here() ? 'page' : undefined }, mark(c.verdict), el('span', {}, c.name.slice(c.name.lastIndexOf('/') + 1)), c.findings.length > 0 && el('span', { class: 'many' }, String(c.findings.length))));
    $('list').replaceChildren(...[...folders].map(([folder, of]) => el('section', { 'aria-label': folder || 'this folder' }, folder && el('p', { class: 'folder' }, folder), el('ul', {}, of.map(item)))));
    $('shown').textContent = found.length === all.components.length ? many(found.length, 'component') : `${found.length} of ${many(all.components.length, 'component')}`;
  };

  // The overview.
  const sentence = () => {
    const t = all.totals;
    const parts = [`${t.components - t.broken - t.unjudged} hold`, t.broken && `${t.broken} broken`, t.unjudged && `${t.unjudged} unjudged`].filter(Boolean);
    return `${many(t.components, 'component')}: ${parts.join(', ')}. ${many(t.combinations, 'combination')}, ${many(t.checks, 'check')}.`;
  };
  const held_of = (rules) => { const judged = rules.filter((r) => r.checked > 0); return `${judged.filter((r) => r.verdict === 'holds').length} of ${judged.length}`; };
  const overview = () => {
    const rows = all.components.map((c) => el('tr', {},
      el('td', {}, mark(c.verdict)), el('td', {}, el('a', { href: `#/${encodeURI(c.name)}` }, c.name)),
      el('td', { class: 'number' }, c.clauses.length ? held_of(c.clauses) : '–'), el('td', { class: 'number' }, c.laws.length ? held_of(c.laws.filter((r) => r.checked > 0)) : '–'),
      el('td', { class: 'number' }, String(c.combinations)), el('td', { class: 'number' }, c.coverage.of ? `${c.coverage.met} of ${c.coverage.of}` : '–')));
    const broken = all.components.flatMap((c) => c.findings.map((f) => el('li', {}, el('a', { href: `#/${encodeURI(c.name)}` }, c.name), ': ', f.promise, ', ', when(f))));
    return [
      el('h1', {}, 'What holds and what breaks'), el('p', {}, sentence()),
      ...all.faults.map((f) => el('div', { class: 'notice' }, el('code', {}, f.place), `: ${f.message}`, f.help && el('span', { class: 'soft' }, ` (${f.help})`))),
      ...all.notes.map((n) => el('p', { class: 'soft' }, n)),
      broken.length > 0 && el('section', { 'aria-label': 'What breaks' }, el('h2', {}, 'What breaks, and exactly when'), el('ul', {}, broken)),
      el('section', { 'aria-label': 'Components' }, el('h2', {}, 'Components'), el('div', { class: 'wide', tabindex: '0', role: 'region', 'aria-label': 'All components' }, el('table', {},
        el('thead', {}, el('tr', {}, el('th', {}, el('span', { class: 'soft' }, 'Verdict')), el('th', {}, 'Component'), el('th', { class: 'number' }, 'Clauses that hold'), el('th', { class: 'number' }, 'Laws'), el('th', { class: 'number' }, 'Combinations'), el('th', { class: 'number' }, 'Pairs covered'))), el('tbody', {}, rows)))),
    ];
  };

  // A finding.
  /** Where two texts differ: what they begin and end with alike is left as it is. */
  const difference = (expected, actual) => {
    let start = 0;
    while (start < Math.min(expected.length, actual.length) && expected[start] === actual[start]) start += 1;
    let end = 0;
    while (end < Math.min(expected.length, actual.length) - start && expected.at(-1 - end) === actual.at(-1 - end)) end += 1;
    const cut = (text, tone) => [text.slice(0, start), el('mark', { class: tone }, text.slice(start, text.length - end)), text.slice(text.length - end)];
    return [cut(expected, 'right'), cut(actual, 'wrong')];
  };
  const compared = (f) => {
    if (f.diff.length) {
      const line = (text) => (text.startsWith('-') ? el('del', {}, text) : text.startsWith('+') ? el('ins', {}, text) : text);
      return el('pre', { class: 'diff', tabindex: '0', 'aria-label': 'Difference' }, f.diff.flatMap((text) => [line(text), '\n']));
    }
    if (f.expected === null || f.actual === null) return null;
    const [expected, actual] = difference(f.expected, f.actual);
    return el('div', { class: 'pair' }, el('div', {}, el('span', { class: 'soft' }, 'expected'), el('pre', { tabindex: '0' }, expected)), el('div', {}, el('span', { class: 'soft' }, 'actual'), el('pre', { tabindex: '0' }, actual)));
  };
  const command = (text) => {
    const say = el('span', { role: 'status', class: 'soft' });
    const copy = async () => {
      try { await navigator.clipboard.writeText(text); say.textContent = ' copied'; } catch { say.textContent = ' select it and copy it by hand'; }
    };
    return el('span', {}, el('code', {}, text), ' ', el('button', { type: 'button', onclick: copy, 'aria-label': `Copy ${text}` }, 'Copy'), say);
  };
  const finding = (f) => el('article', { class: 'finding', id: f.id, 'aria-label': f.promise },
    el('h3', {}, f.promise), el('p', {}, 'breaks ', when(f), el('span', { class: 'soft' }, ` (${f.counts})`)), el('p', {}, coded(f.message)), compared(f),
    el('dl', {},
      f.node && [el('dt', {}, 'at'), el('dd', {}, el('code', {}, f.node))],
      f.events.length > 0 && [el('dt', {}, 'events'), el('dd', { class: 'code' }, f.events.join(', then '))],
      [el('dt', {}, 'shown by'), el('dd', {}, `${f.case} with ${f.combination}`)],
      f.source && [el('dt', {}, 'source'), el('dd', {}, el('code', {}, f.source))],
      f.written && [el('dt', {}, 'promised'), el('dd', {}, el('code', {}, f.written))],
      [el('dt', {}, f.kind === 'law' ? 'more' : 'again'), el('dd', {}, command(f.kind === 'law' ? `fidelon explain ${f.rule}` : `fidelon replay ${f.case}`))]),
    el('div', { class: 'reel' }));

  // What it looked like.
  const page = async (gallery, index) => {
    const chunk = await load(`${gallery.id}-${Math.floor(index / gallery.chunk)}`);
    const [styles, body] = chunk[index % gallery.chunk];
    return [gallery.styles[styles], body];
  };
  const frame_at = (gallery, index, title) => {
    const place = el('div', { class: 'blank' }, '…');
    if (index === null) return el('div', { class: 'blank' }, 'not rendered');
    frames.lazily(place, async (at) => {
      const [styles, body] = await page(gallery, index);
      const frame = frames.make(title, styles, body);
      at.className = '';
      at.replaceChildren(frame);
      frame.addEventListener('load', () => { at.style.height = ''; });
    });
    return place;
  };
  const film = (gallery, f) => el('ol', { class: 'film', tabindex: '0', 'aria-label': `Step by step: ${f.rule}` }, f.moments.map((m) => el('li', { class: m.broke.length ? 'broke' : '' },
    el('strong', {}, m.step ?? 'mounted'), frame_at(gallery, m.page, `after ${m.step ?? 'the mount'}`),
    m.events.length > 0 && el('ul', { 'aria-label': 'Events' }, m.events.map((e) => el('li', { style: 'all: revert' }, e))),
    m.notes.map((n) => el('p', { class: 'open' }, n)), m.broke.map((b) => el('p', { class: 'bad' }, coded(b))))));

  // Which pairs of values the plan has, as a picture: one field a pair.
  const matrix = (gallery, broken, pick) => {
    const names = Object.keys(gallery.axes);
    const values = names.flatMap((name, axis) => gallery.axes[name].map((value, at) => ({ axis, at, label: `${name} = ${value}` })));
    if (names.length < 2 || values.length > 90) return null;
    const size = 15;
    const short = (text) => (text.length > 26 ? `${text.slice(0, 25)}…` : text);
    const left = 8 + 6.7 * Math.max(...values.map((v) => short(v.label).length));
    const count = new Map();
    for (const shot of gallery.shots) {
      const own = shot.values.map((at, axis) => values.findIndex((v) => v.axis === axis && v.at === at));
      const hurt = broken.has(shot.case);
      for (const a of own) for (const b of own) if (a > b && b >= 0) {
        const known = count.get(`${a},${b}`) ?? [0, 0];
        count.set(`${a},${b}`, [known[0] + 1, known[1] + hurt]);
      }
    }
    const svg = (tag, attributes, ...children) => {
      const node = document.createElementNS('http://www.w3.org/2000/svg', tag);
      for (const [name, value] of Object.entries(attributes)) node.setAttribute(name, value);
      node.append(...children);
      return node;
    };
    const fields = [];
    let missed = 0;
    values.forEach((a, i) => values.forEach((b, j) => {
      if (j >= i || a.axis === b.axis) return;
      const [met, hurt] = count.get(`${i},${j}`) ?? [0, 0];
      if (!met) missed += 1;
      const told = `${a.label} with ${b.label}: ${met ? many(met, 'combination') : 'in none'}${hurt ? `, ${hurt} broken` : ''}`;
      const rect = svg('rect', { x: left + j * size, y: i * size, width: size, height: size, class: hurt ? 'hurt' : met ? 'met' : 'never' }, svg('title', {}, told));
      if (hurt) rect.style.fillOpacity = String(0.25 + (0.75 * hurt) / met);
      if (met) {
        rect.dataset.pair = `${i},${j}`;
        rect.addEventListener('click', () => pick([a, b], rect));
      }
      fields.push(rect);
    }));
    // A pillar of labels on the left, the same along the diagonal.
    const labels = values.map((v, i) => svg('text', { x: left - 5, y: i * size + 11, 'text-anchor': 'end' }, short(v.label)));
    const width = left + values.length * size + 4;
    const hurting = [...count.values()].filter(([, hurt]) => hurt).length;
    const told = `${many(count.size, 'pair')} of values occur together in the plan${missed ? `, ${missed} cannot or do not` : ''}${hurting ? `; ${hurting} of them in combinations that break` : ''}.`;
    return el('div', {}, el('p', {}, told, ' A press on a field shows its combinations.'),
      el('p', { 'aria-hidden': 'true' }, el('span', { class: 'key' }, el('i', { style: 'background: var(--good); opacity: .55' }), 'holds'), el('span', { class: 'key' }, el('i', { style: 'background: var(--bad)' }), 'breaks, the fuller the oftener'), missed > 0 && el('span', { class: 'key' }, el('i', {}), 'does not occur')),
      el('div', { class: 'matrix', tabindex: '0', role: 'region', 'aria-label': 'Pairs of values' }, svg('svg', { width, height: values.length * size + 2, role: 'img', 'aria-label': told }, ...labels, ...fields)));
  };

  const combinations = (gallery, broken) => {
    const names = Object.keys(gallery.axes);
    const wanted = new Map();
    let hurt = false;
    const grid = el('ul', { class: 'shots' });
    const status = el('p', { role: 'status', class: 'soft' });
    // What has one value is the same everywhere.
    const varies = (name) => gallery.axes[name].length > 1;
    const selects = names.map((name, axis) => {
      if (!varies(name)) return null;
      const id = `axis-${axis}`;
      const select = el('select', { id, onchange: () => { if (select.value === '') wanted.delete(axis); else wanted.set(axis, Number(select.value)); draw(); } },
        el('option', { value: '' }, 'any'), gallery.axes[name].map((value, at) => el('option', { value: at }, value)));
      return el('span', { class: 'axis' }, el('label', { for: id }, name), select);
    });
    const only = broken.size > 0 && el('button', { type: 'button', 'aria-pressed': 'false', onclick: () => { hurt = !hurt; only.setAttribute('aria-pressed', hurt); draw(); } }, 'Only broken');
    const caption = (shot) => names.map((name, axis) => [name, gallery.axes[name][shot.values[axis]]]).filter(([name, value]) => varies(name) && value !== 'absent' && value !== 'empty').map(([name, value]) => `${name} = ${value}`).join(', ') || 'nothing passed';
    const PAGE = 400;
    let drawn = [];
    const more = el('button', { type: 'button', onclick: () => extend() }, 'Show more');
    const shot_of = (shot) => {
      const why = broken.get(shot.case) ?? [];
      return el('li', { class: `shot${why.length ? ' broke' : ''}` }, el('figure', {}, frame_at(gallery, shot.page, caption(shot)), el('figcaption', {}, caption(shot),
        why.map((rule) => el('div', { class: 'why' }, `✗ ${rule}`)), shot.events.length > 0 && el('div', { class: 'code' }, `emits ${shot.events.join(', then ')}`), shot.notes.map((n) => el('div', { class: 'open' }, n)))));
    };
    const extend = () => {
      const from = grid.childElementCount;
      grid.append(...drawn.slice(from, from + PAGE).map(shot_of));
      more.hidden = grid.childElementCount >= drawn.length;
    };
    const draw = () => {
      drawn = gallery.shots.filter((shot) => (!hurt || broken.has(shot.case)) && [...wanted].every(([axis, at]) => shot.values[axis] === at));
      grid.replaceChildren();
      status.textContent = `${drawn.length} of ${many(gallery.shots.length, 'combination')}`;
      extend();
    };
    const pick = (pair, rect) => {
      document.querySelectorAll('.matrix .on').forEach((r) => r.classList.remove('on'));
      rect.classList.add('on');
      wanted.clear();
      names.forEach((_, axis) => { const at = pair.find((v) => v.axis === axis)?.at; if (at !== undefined) wanted.set(axis, at); const select = document.getElementById(`axis-${axis}`); if (select) select.value = at ?? ''; });
      draw();
      status.scrollIntoView({ block: 'nearest' });
    };
    const picture = matrix(gallery, broken, pick);
    new IntersectionObserver((entries) => { if (entries.some((e) => e.isIntersecting) && !more.hidden) extend(); }, { rootMargin: '800px' }).observe(more);
    draw();
    return el('section', { 'aria-label': 'Combinations' }, el('h2', {}, 'What it looks like'), picture, el('div', { class: 'row', role: 'group', 'aria-label': 'Which combinations' }, selects.filter(Boolean), only || ''), status, grid, more);
  };

  // What it declares.
  const surface = (s) => {
    const rows = s.props.map((p) => el('tr', {}, el('td', {}, el('code', {}, p.name), p.two_way && el('span', { class: 'soft' }, ' ↔')), el('td', {}, el('code', {}, p.type)), el('td', {}, p.required ? 'yes' : 'no'), el('td', {}, p.default ? el('code', {}, p.default) : ''), el('td', {}, p.about ?? '')));
    const listed = (label, items) => items.length > 0 && [el('dt', {}, label), el('dd', {}, items)];
    const item = (name, more) => el('div', {}, el('code', {}, name), more && el('span', { class: 'soft' }, ` ${more}`));
    return el('section', { 'aria-label': 'What it declares' }, el('h2', {}, 'What it declares'),
      rows.length > 0 && el('div', { class: 'wide', tabindex: '0', role: 'region', 'aria-label': 'Props' }, el('table', {}, el('caption', { class: 'soft', style: 'text-align: left' }, 'Props; ↔ marks what it reports back'), el('thead', {}, el('tr', {}, ['Prop', 'Type', 'Required', 'Default', 'About'].map((t) => el('th', { scope: 'col' }, t)))), el('tbody', {}, rows))),
      el('div', { class: 'finding', style: 'border: 0; background: none; padding: 0' }, el('dl', {},
        listed('events', s.events.map((e) => item(e.name, [e.payload, e.reports && `reports ${e.reports}`].filter(Boolean).join(', ')))),
        listed('slots', s.slots.map((l) => item(l.name, [l.exposes && 'hands values to its content', l.fallback && `shows “${l.fallback}” when empty`].filter(Boolean).join(', ')))),
        listed('members', s.exposes.map((m) => item(m))))),
      s.open && el('p', { class: 'soft' }, 'Its source does not tell all: there may be more.'));
  };

  /** What broke comes first; what had nothing to look at is named in one line. */
  const rules = (label, list) => {
    if (!list.length) return null;
    const seen = list.filter((r) => r.checked > 0).sort((a, b) => (a.verdict === 'holds') - (b.verdict === 'holds'));
    const idle = list.filter((r) => r.checked === 0);
    const row = (r) => el('tr', {}, el('td', { class: 'thin' }, mark(r.verdict)), el('td', {}, r.name), el('td', { class: 'number soft' }, r.broke ? `broke in ${r.broke} of ${r.checked}` : many(r.checked, 'check')));
    return el('details', {}, el('summary', {}, `${label}: ${held_of(seen)} hold`), el('table', {}, el('tbody', {}, seen.map(row))),
      idle.length > 0 && el('p', { class: 'soft' }, `With nothing to look at here: ${idle.map((r) => r.name).join(', ')}.`));
  };

  const component = (c) => {
    const parts = [
      el('h1', {}, mark(c.verdict), ' ', c.name),
      el('p', { class: 'soft' }, c.contract ? `held to ${c.contract} and to the laws` : 'held to the laws alone: it has no contract', `, in ${many(c.combinations, 'combination')}`, c.coverage.of ? ` that cover ${c.coverage.met} of ${c.coverage.of} pairs` : ''),
      c.reason && el('div', { class: 'notice' }, `Not judged: ${c.reason}`), ...c.notes.map((n) => el('p', { class: 'soft' }, coded(n))),
      c.findings.length > 0 && el('section', { 'aria-label': 'What breaks' }, el('h2', {}, 'What breaks, and exactly when'), c.findings.map(finding)),
      el('section', { 'aria-label': 'What was promised' }, el('h2', {}, 'What was promised'), rules('Clauses', c.clauses), rules('Laws', c.laws), c.baseline && el('p', {}, mark(c.baseline.verdict), ` accepted output: ${many(c.baseline.checked, 'combination')} compared`)),
    ];
    const later = el('div', {}, el('p', { class: 'soft' }, c.gallery ? 'Loading what it looked like …' : ''));
    if (c.gallery) load(c.gallery).then((gallery) => {
      if (!later.isConnected) return;
      const broken = new Map();
      for (const f of c.findings) for (const name of f.cases) broken.set(name, [...(broken.get(name) ?? []), f.kind === 'clause' ? f.promise : f.rule]);
      for (const f of gallery.films) {
        const at = c.findings.find((one) => one.kind === 'clause' && one.rule === f.rule);
        if (at) document.getElementById(at.id)?.querySelector('.reel').append(film(gallery, f));
      }
      later.replaceChildren(combinations(gallery, broken), surface(gallery.surface));
    }, (error) => later.replaceChildren(el('div', { class: 'notice' }, `${error.message}: was the folder copied whole?`)));
    return [...parts, later];
  };

  // Where one is.
  const here = () => decodeURI(location.hash.slice(2)).replace(/^$/, '');
  const show = (isMove) => {
    frames.forget();
    const c = all.components.find((one) => one.name === here());
    $('main').replaceChildren(...(c ? component(c) : overview()).filter(Boolean));
    document.title = `${c ? c.name : 'What holds and what breaks'} · Fidelon`;
    list();
    if (isMove) { window.scrollTo(0, 0); $('main').focus({ preventScroll: true }); }
  };
  const start = (data) => {
    all = data;
    let number = 0;
    for (const c of all.components) for (const f of c.findings) f.id = `finding-${(number += 1)}`;
    window.addEventListener('hashchange', () => show(true));
    $('search').addEventListener('input', list);
    for (const button of document.querySelectorAll('[data-verdict]')) button.addEventListener('click', () => {
      const { verdict } = button.dataset;
      if (chosen.has(verdict)) chosen.delete(verdict); else chosen.add(verdict);
      button.setAttribute('aria-pressed', chosen.has(verdict));
      list();
    });
    const theme = $('theme');
    const dark = () => (document.documentElement.dataset.theme ?? (matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light')) === 'dark';
    const label = () => { theme.textContent = dark() ? 'Light colours' : 'Dark colours'; };
    theme.addEventListener('click', () => { document.documentElement.dataset.theme = dark() ? 'light' : 'dark'; label(); });
    label();
    show(false);
  };
  load('overview').then(start);
  return { take };
})();

// The desk: which component, what it is given, what it says. The component itself runs in a frame of another origin and is spoken to by
// messages.
const $ = (id) => document.getElementById(id);
const get = (path) => fetch(path).then((r) => (r.ok ? r.json() : r.text().then((t) => Promise.reject(new Error(t)))));
const post = (path, body) => fetch(path, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }).then((r) => (r.ok ? r.json() : r.text().then((t) => Promise.reject(new Error(t)))));

let all = { turn: 0, saved: 0, components: [], faults: [] };
/** The component on the bench: what is known of it, what it is given, and its controls. */
let now = null;
let frame = null;
let began = performance.now();

// --- the list
const list = () => {
  const words = $('find').value.toLowerCase().split(/\s+/).filter(Boolean);
  const rows = [];
  let folder = null;
  for (const c of all.components) {
    if (!words.every((w) => c.name.toLowerCase().includes(w))) continue;
    const at = c.name.lastIndexOf('/') + 1;
    if (c.name.slice(0, at) !== folder) rows.push(el('li', { class: 'folder' }, (folder = c.name.slice(0, at)) || './'));
    const [mark, tone, said] = MARKS[c.verdict] ?? ['·', 'soft', 'not judged yet'];
    rows.push(el('li', {}, el('button', { type: 'button', 'data-name': c.name, 'aria-current': c.name === now?.name ? 'true' : undefined, onclick: () => { location.hash = encodeURI(c.name); } },
      el('span', { class: `mark ${tone}`, role: 'img', 'aria-label': said }, mark), c.name.slice(at))));
  }
  $('list').replaceChildren(...rows);
  $('list').querySelector('[aria-current]')?.scrollIntoView({ block: 'nearest' });
  $('faults').replaceChildren(...all.faults.map((f) => el('span', { class: 'bad' }, el('code', {}, f.place), ` ${f.message} `)));
};

// --- what is said
const MOST_LINES = 500;
const say = (from, text, tone = '') => {
  const log = $('log');
  log.append(el('li', { class: tone }, el('span', { class: 'from' }, `${((performance.now() - began) / 1000).toFixed(2)} s`), `${from} ${text}`));
  while (log.childElementCount > MOST_LINES) log.firstChild.remove();
  log.scrollTop = log.scrollHeight;
};
const shown = (value) => {
  if (!value || value.kind === 'absent') return 'nothing';
  return value.kind === 'json' ? JSON.stringify(value.value) : String(value.value);
};

// --- what it is given
const combination = () => ({ props: now.props, fills: now.fills });
const send = (message) => frame?.contentWindow.postMessage(message, now.origin);
const sameAsPlan = () => {
  const given = JSON.stringify(Object.entries(now.props).filter(([, v]) => v.kind !== 'absent').sort());
  const at = now.combinations.findIndex((c) => JSON.stringify(Object.entries(c.props).filter(([, v]) => v.kind !== 'absent').sort()) === given && JSON.stringify(c.fills) === JSON.stringify(now.fills));
  $('case').value = at;
  findings(at >= 0 ? now.combinations[at].case : null);
};
const change = (name, value) => {
  now.props = { ...now.props, [name]: value };
  const twoWay = now.surface.props.find((p) => p.name === name)?.two_way;
  send({ step: { step: twoWay ? 'assign' : 'pass', props: { [name]: value } } });
  sameAsPlan();
};
const give = (given) => {
  const known = new Set(now.surface.props.map((p) => p.name));
  // What the last combination passed and this one does not is taken back.
  now.props = { ...Object.fromEntries([...known].map((name) => [name, { kind: 'absent' }])), ...given.props };
  now.fills = { ...given.fills };
  controls();
  send({ mount: combination() });
  sameAsPlan();
};
const controls = () => {
  now.controls = new Map();
  const nodes = now.surface.props.map((prop) => {
    const made = propControl(prop, now.types[prop.name] ?? '', now.props[prop.name], (value) => change(prop.name, value));
    now.controls.set(prop.name, made);
    return made.node;
  });
  $('props').replaceChildren(...(nodes.length ? nodes : [el('p', { class: 'soft' }, now.surface.open ? 'Its source does not tell which.' : 'It takes none.')]));
  $('slots-part').hidden = now.surface.slots.length === 0;
  $('slots').replaceChildren(...now.surface.slots.map((slot) => {
    const area = el('textarea', { id: `slot-${slot.name}`, spellcheck: 'false', oninput: () => {
      const html = area.value === '' ? null : area.value;
      now.fills = { ...now.fills, [slot.name]: html };
      send({ step: { step: 'fill', fills: { [slot.name]: html } } });
      sameAsPlan();
    } });
    area.value = now.fills[slot.name] ?? '';
    return el('div', { class: 'prop' }, el('label', { for: `slot-${slot.name}` }, el('strong', {}, slot.name), ' ', el('span', { class: 'type' }, slot.fallback ? `HTML; empty it shows “${slot.fallback}”` : 'HTML')), area);
  }));
};

// --- what the parent holds
const held = ({ bound, exposed }) => {
  const rows = [];
  const before = now.props;
  for (const [name, value] of Object.entries(bound)) {
    rows.push(el('dt', {}, name), el('dd', {}, shown(value)));
    // What it reports back is what it is given from now on.
    if (now.props[name] && JSON.stringify(now.props[name]) !== JSON.stringify(value) && value.kind === 'json') {
      now.props = { ...now.props, [name]: value };
      if (!now.controls.get(name)?.node.contains(document.activeElement)) now.controls.get(name)?.set(value);
    }
  }
  for (const [name, value] of Object.entries(exposed ?? {})) {
    const isCall = value.kind === 'other' && value.value === 'function';
    const given = isCall && el('input', { 'aria-label': `What ${name} is called with, as a JSON list`, value: '[]' });
    const call = () => {
      try { send({ step: { step: 'call', member: name, with: JSON.parse(given.value).map(json), gives: null } }); say('call', `${name}(${given.value.slice(1, -1)})`); } catch (error) { say('call', error.message, 'bad'); }
    };
    rows.push(el('dt', {}, name), el('dd', {}, isCall ? el('span', { class: 'row' }, given, el('button', { type: 'button', onclick: call, 'aria-label': `Call ${name}` }, 'Call')) : shown(value)));
  }
  if (now.props !== before) sameAsPlan();
  $('held-part').hidden = rows.length === 0;
  // Somebody may be typing into it.
  if (!$('held').contains(document.activeElement)) $('held').replaceChildren(...rows);
};

// --- what breaks
const findings = (current) => {
  const verdict = now.verdict;
  if (!verdict) return $('findings').replaceChildren(el('p', { class: 'soft' }, 'It is being checked.'));
  if (verdict === 'unjudged') return $('findings').replaceChildren(el('p', { class: 'open' }, now.reason ?? 'It could not be judged.'));
  if (!now.findings.length) return $('findings').replaceChildren(el('p', { class: 'good' }, '✓ Every promise holds.'));
  $('findings').replaceChildren(...now.findings.map((f) => {
    const here = current && f.cases.includes(current);
    const at = now.combinations.findIndex((c) => c.case === f.case || f.cases.includes(c.case));
    return el('article', { class: `finding${here ? '' : ' aside'}` }, el('p', {}, el('strong', { class: here ? 'bad' : '' }, f.promise)), el('p', {}, `breaks ${[f.how, f.causes.join(' or when ')].filter(Boolean).join(' ')}`, here ? ', as here' : ''), el('p', { class: 'soft' }, coded(f.message), f.expected && f.actual ? ` (expected ${f.expected}, actual ${f.actual})` : ''),
      !here && at >= 0 && el('button', { type: 'button', onclick: () => give(now.combinations[at]) }, 'Show it'));
  }));
};

// --- the bench
window.addEventListener('message', ({ source, origin, data }) => {
  if (!frame || source !== frame.contentWindow || origin !== now?.origin) return;
  if (data.ready) send({ mount: combination() });
  if (data.height) frame.style.height = `${Math.min(Math.max(data.height + 4, 96), 900)}px`;
  for (const e of data.events ?? []) say(e.binding ? 'reports' : 'emits', `${e.name}${e.payload.length ? `: ${e.payload.map(shown).join(', ')}` : ''}`);
  for (const e of data.strays ?? []) say('emits', `${e.name}, which it does not declare`, 'open');
  if (data.held) held(data.held);
  if (data.warned) say('warns', data.warned, 'open');
  if (data.failed) say('fails', data.failed, 'bad');
});
const lay = async (mine) => {
  const { address } = await post('lay', { name: now.name });
  if (mine !== opening) return;
  now.origin = new URL(address).origin;
  const next = el('iframe', { title: `${now.name}, to be tried`, src: address });
  frame = next;
  $('bench').replaceChildren(next);
};
/** Counts up with every component that is opened: what comes of an earlier one is no longer wanted. */
let opening = 0;
const open = async (name) => {
  if (!name) return;
  const mine = (opening += 1);
  let told;
  try { told = await get(`component?name=${encodeURIComponent(name)}`); } catch (error) {
    if (mine !== opening) return; now = null; $('name').textContent = name; $('about').textContent = error.message; return; }
  if (mine !== opening) return;
  const before = now?.name === name ? now : null;
  now = { ...told, props: {}, fills: {}, controls: new Map(), origin: null };
  $('name').textContent = name;
  document.title = `${name} · Fidelon`;
  $('about').textContent = [told.surface.framework, told.contract ? `held to ${told.contract}` : 'without a contract', told.why].filter(Boolean).join(' · ');
  $('case').replaceChildren(el('option', { value: -1 }, 'by hand'), ...told.combinations.map((c, i) => el('option', { value: i }, c.words)));
  const first = told.combinations[0] ?? { props: {}, fills: {} };
  // What was given by hand stays, also through a save in which nothing is declared.
  now.given = before ? { ...before.given, ...before.props } : {};
  now.props = Object.fromEntries(told.surface.props.map((p) => [p.name, now.given[p.name] ?? first.props[p.name] ?? { kind: 'absent' }]));
  now.fills = before ? { ...before.fills } : { ...first.fills };
  if (!before) { $('log').replaceChildren(); began = performance.now(); }
  $('held-part').hidden = true;
  controls();
  sameAsPlan();
  list();
  try { await lay(mine); } catch (error) { if (mine === opening) say('fails', error.message, 'bad'); }
};
/** Only what is said of it changes: the component goes on as it is. */
const refresh = async () => {
  const mine = opening;
  const told = await get(`component?name=${encodeURIComponent(now.name)}`);
  if (mine !== opening) return;
  Object.assign(now, { verdict: told.verdict, findings: told.findings, reason: told.reason, contract: told.contract });
  sameAsPlan();
};

// --- what happens elsewhere
const news = async () => {
  for (;;) {
    try {
      const { turn } = await get(`news?turn=${all.turn}`);
      if (turn === all.turn) continue;
      const before = all.saved;
      all = await get('components');
      list();
      // A save may have come since the news did: what is known by now counts.
      if (now && all.saved !== before && before !== 0) { say('saved', 'it is laid out anew, with what it was given'); await open(now.name); } else if (now) await refresh();
    } catch {
      await new Promise((resolve) => setTimeout(resolve, 1000));
    }
  }
};
$('find').addEventListener('input', list);
$('clear').addEventListener('click', () => { $('log').replaceChildren(); began = performance.now(); });
$('case').addEventListener('change', () => { const at = Number($('case').value); if (at >= 0) give(now.combinations[at]); });
$('keep').addEventListener('submit', async (event) => {
  event.preventDefault();
  if (!now) return;
  $('kept').className = '';
  $('kept').textContent = '…';
  try {
    const { file, line } = await post('keep', { name: now.name, words: $('words').value, combination: combination() });
    $('kept').className = 'good';
    $('kept').textContent = `✓ ${file}:${line}`;
    $('words').value = '';
  } catch (error) {
    $('kept').className = 'bad';
    $('kept').textContent = error.message;
  }
});
window.addEventListener('hashchange', () => open(decodeURI(location.hash.slice(1))));
get('components').then(async (told) => {
  all = told;
  list();
  await open(decodeURI(location.hash.slice(1)) || all.components[0]?.name);
  news();
});

// The bench: the session that stages have, under a person's own hand. It hears from the desk what to mount and to pass, and tells it what
// comes and what is held. Time is real.
const tell = (message) => parent.postMessage(message, desk);
const failed = (error) => tell({ failed: String(error?.message ?? error) });
window.addEventListener('error', (e) => { if (e instanceof ErrorEvent && (e.error || e.message)) failed(e.error ?? e.message); });
window.addEventListener('unhandledrejection', (e) => failed(e.reason));
for (const level of ['warn', 'error']) {
  const say = console[level].bind(console);
  console[level] = (...args) => { say(...args); tell({ warned: args.map(String).join(' ').slice(0, 2000) }); };
}
// Of what a realm tells a session, what concerns nobody here.
const host = { JSON, Map, answer() {}, around: (work) => work(), takeRequests: () => [], left: () => [], idOf: () => 0 };
hide(globalThis, '__fidelon', host);

const stage = () => host.stage;
/** A value that a session tells in short, as it is passed. */
const inFull = (v) => (v === null ? { kind: 'absent' } : typeof v === 'string' ? { kind: 'other', value: v } : { kind: 'json', value: v[0] });
const whole = (held) => Object.fromEntries(Object.entries(held).map(([name, v]) => [name, inFull(v)]));
let mounted = false;
let last = '';
const look = () => {
  if (!mounted) return;
  let seen;
  try { seen = JSON.parse(stage().observe()); } catch (error) { failed(error); return; }
  const own = seen.held[''] ?? Object.values(seen.held)[0] ?? {};
  const held = JSON.stringify({ bound: whole(own.bound ?? {}), exposed: own.exposed ? whole(own.exposed) : null });
  const { events = [], strays = [] } = seen;
  const heard = (list) => list.map((event) => ({ ...event, payload: event.payload.map(inFull) }));
  if (events.length || strays.length || held !== last) tell({ events: heard(events), strays: heard(strays), held: JSON.parse(held) });
  last = held;
};
const mount = (combination) => {
  if (mounted) stage().end();
  document.body.replaceChildren();
  last = '';
  mounted = true;
  stage().mount(JSON.stringify({ combination, parent: 'obeys', network: null }));
  queueMicrotask(look);
};
const step = (wanted) => {
  if (!mounted) return;
  stage().begin(JSON.stringify(wanted));
  for (;;) {
    const answer = stage().go();
    if (answer === 'done') break;
    if (answer !== 'more') { tell({ failed: answer.replace(/^fault /, '') }); break; }
  }
  queueMicrotask(look);
};
window.addEventListener('message', ({ source, origin, data }) => {
  if (source !== parent || origin !== desk) return;
  try {
    if (data.mount) mount(data.mount);
    if (data.step) step(data.step);
  } catch (error) { failed(error); }
});
setInterval(look, 80);
const size = () => tell({ height: Math.ceil(document.documentElement.getBoundingClientRect().height) });
window.addEventListener('DOMContentLoaded', () => new ResizeObserver(size).observe(document.documentElement));
import(`${base}/s/stage:entry`).then(() => tell({ ready: true }), async (error) => {
  const why = await fetch(`${base}/fault`).then((r) => r.text(), () => '');
  tell({ failed: why || String(error?.message ?? error) });
});

// Virtual time: timers, frames, tasks, Date, performance; seeded randomness. HTML §8.6, §8.1.7.

const EPOCH = 1930122000000; // 2031-03-01T09:00:00Z
let now = 0;
let startTime = EPOCH;
let nextTimer = 1;
let order = 0;
/** What waits to run: `{ id, at, order, run, every, level, depth, busy, around }`. Few at a time, so a plain list is quickest. */
let pending = [];
let frames = [];
let nextFrame = 1;

/** How many tasks one moment may see that each start the next. Work in slices takes time, and a wide page has many tasks side by side. */
const DEEPEST = 250;
/** How long the chain is that what runs now ends: tasks, each started by the one before it at the same moment. */
let depth = 0;
const isTooDeep = () => depth > DEEPEST;
/** What comes next is started by nobody. */
const atRest = () => { depth = 0; };

const performanceNow = () => now;
const later = (run, delay, every = null, busy = false) => {
  const id = nextTimer++;
  pending.push({ id, at: now + delay, order: order++, run, every, level: timerLevel + 1, depth: delay > 0 ? 0 : depth + 1, busy, around: surrounding });
  return id;
};
const queueTask = (run) => later(run, 0);
let timerLevel = 0;
const timer = (callback, delay, args, repeats) => {
  // HTML §8.6: at least 4 ms once timers nest deeper than five; browsers take 0 as it is until then.
  let ms = Math.max(0, Number(delay) || 0);
  const held = timerLevel > 5 && ms < 4;
  if (held) ms = 4;
  const run = typeof callback === 'function' ? () => callback.apply(globalThis, args) : () => (0, eval)(String(callback));
  return later(run, ms, repeats ? Math.max(ms, 1) : null, held && !repeats);
};
const isPending = (id) => pending.some((t) => t.id === id);
const cancel = (id) => { pending = pending.filter((t) => t.id !== id); };

for (const [name, f] of Object.entries({
  setTimeout: (callback, delay, ...args) => timer(callback, delay, args, false),
  setInterval: (callback, delay, ...args) => timer(callback, delay, args, true),
  clearTimeout: cancel,
  clearInterval: cancel,
  setImmediate: undefined,
  requestAnimationFrame: (callback) => { const id = nextFrame++; frames.push({ id, callback }); return id; },
  cancelAnimationFrame: (id) => { frames = frames.filter((f) => f.id !== id); },
  requestIdleCallback: (callback) => later(() => callback({ didTimeout: false, timeRemaining: () => 50 }), 1),
  cancelIdleCallback: cancel,
  queueMicrotask: (callback) => { Promise.resolve().then(() => { try { callback(); } catch (e) { reportException(e); } }); },
})) if (f) hide(globalThis, name, f);

const FRAME = 1000 / 60;
/** What happens when the page is drawn, after its frames: whether it is to be drawn anyhow, and what is done then. */
const drawing = { due: () => false, run() {} };
/** What is done whenever the clock has gone on. */
const ticking = { run() {} };
/** Elements that stood in the body once the project's frameworks were set up. */
const surroundings = new Set();
/** Runs what a project sets its frameworks up by. */
const around = (work) => {
  const there = new Set(document.body.children);
  surrounding = true;
  try { return work(); } finally {
    surrounding = false;
    for (const element of document.body.children) if (!there.has(element)) surroundings.add(element);
  }
};
/** How many of those are still there. */
const aroundNow = () => { let count = 0; for (const element of surroundings) if (element.parentNode === document.body) count++; return count; };
/** What of a page outlives a component: elements in the body, listeners, timers, observers, requests, connections. `observed` are the
 * targets of each observer: one of nodes goes with them, one of boxes stays as long as it observes anything (Resize Observer §3.5). */
const leftOver = (elements, listeners, observed) => [
  elements - (surroundings.size && aroundNow()), listeners,
  pending.reduce((count, timer) => count + (timer.around ? 0 : 1), frames.length) - flying - messagesWaiting(),
  observed.length && observed.filter(([list, ofBoxes]) => list.some((t) => ofBoxes || t.isConnected)).length, flying, connections.size,
];
/** When something is next due, or -1. */
const nextDue = () => {
  let at = Infinity;
  for (const t of pending) if (t.at < at) at = t.at;
  if (frames.length || drawing.due()) at = Math.min(at, (Math.floor(now / FRAME + 1e-6) + 1) * FRAME);
  return at === Infinity ? -1 : at;
};
/**
 * Runs the one task that is due first, if it is due by `limit`. True when it ran one. With `onward` it runs one that is due later, too,
 * while a timer waits that only the 4 ms of the standard hold back: a task that starts the next at once is no clock, and not at rest.
 */
const runNext = (limit, onward = false) => {
  const at = nextDue();
  if (at < 0 || at > limit && !(onward && pending.some((t) => t.busy))) return false;
  if (at > now) { now = at; ticking.run(); }
  let first = null;
  for (const t of pending) if (t.at <= at && (first === null || t.at < first.at || (t.at === first.at && t.order < first.order))) first = t;
  depth = first?.depth ?? 0;
  if (first === null) {
    const batch = frames;
    frames = [];
    for (const f of batch) try { f.callback(now); } catch (e) { reportException(e); }
    drawing.run();
    return true;
  }
  if (first.every === null) cancel(first.id);
  else { first.at = now + first.every; first.order = order++; }
  timerLevel = first.level;
  try { first.run(); } catch (e) { reportException(e); }
  timerLevel = 0;
  return true;
};

const RealDate = Date;
const VirtualDate = function Date(...args) {
  if (!new.target) return new VirtualDate().toString();
  return Reflect.construct(RealDate, args.length ? args : [startTime + Math.floor(now)], new.target);
};
VirtualDate.prototype = RealDate.prototype;
hide(VirtualDate.prototype, 'constructor', VirtualDate);
hide(VirtualDate, 'now', () => startTime + Math.floor(now));
hide(VirtualDate, 'parse', RealDate.parse);
hide(VirtualDate, 'UTC', RealDate.UTC);
hide(globalThis, 'Date', VirtualDate);

const marks = [];
const performance = {
  get timeOrigin() { return startTime; },
  now: performanceNow,
  mark(name, o) { const m = { name, entryType: 'mark', startTime: o?.startTime ?? now, duration: 0, detail: o?.detail ?? null }; if (marks.length < 1000) marks.push(m); return m; },
  measure(name, o) { const m = { name, entryType: 'measure', startTime: now, duration: 0, detail: o?.detail ?? null }; return m; },
  clearMarks() { marks.length = 0; }, clearMeasures() {}, getEntries: () => marks.slice(), getEntriesByName: (n) => marks.filter((m) => m.name === n),
  getEntriesByType: (t) => marks.filter((m) => m.entryType === t), toJSON: () => ({}), setResourceTimingBufferSize() {},
};
hide(globalThis, 'performance', performance);

// mulberry32: small, seeded, good enough to vary and never to protect.
let seed = 1;
const random = () => {
  seed = (seed + 0x6d2b79f5) | 0;
  let t = Math.imul(seed ^ (seed >>> 15), 1 | seed);
  t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
  return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
};
hide(Math, 'random', random);
const crypto = {
  getRandomValues(array) { const b = new Uint8Array(array.buffer, array.byteOffset, array.byteLength); for (let i = 0; i < b.length; i++) b[i] = random() * 256; return array; },
  randomUUID() {
    const h = [...this.getRandomValues(new Uint8Array(16))].map((b, i) => (i === 6 ? (b & 15) | 64 : i === 8 ? (b & 63) | 128 : b).toString(16).padStart(2, '0')).join('');
    return `${h.slice(0, 8)}-${h.slice(8, 12)}-${h.slice(12, 16)}-${h.slice(16, 20)}-${h.slice(20)}`;
  },
};
hide(globalThis, 'crypto', crypto);

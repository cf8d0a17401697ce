// The page of a stage in a real browser: what a realm is in the embedded one. It keeps time and nodes, says what was logged, brings
// the page back between cases, and plays what the server hands it. It stands in one scope with the shared files of the engine.

// --- what is asked of the server -------------------------------------------------------------------------------------

const post = (path, body) => native.fetch(base + path, { method: 'POST', body: JSON.stringify(body) }).then((r) => r.json());
/** An answer that a step waits for within one task. */
const ask = (path, body) => {
  const request = new native.XMLHttpRequest();
  request.open('POST', base + path, false);
  request.send(JSON.stringify(body));
  return request.responseText;
};

// --- modules -----------------------------------------------------------------------------------------------------------

/** Imports that are on their way: a page with one has not come to rest. */
const importing = new Set();
hide(globalThis, '__import', (specifier, from) => {
  const address = from === undefined ? specifier : ask('/resolve', [String(specifier), from]);
  const coming = import(address);
  const settled = coming.then(() => {}, () => {});
  importing.add(settled);
  settled.then(() => importing.delete(settled));
  return coming;
});
const files = new Map();
const required = (name) => {
  const file = files.get(name);
  if (!file) throw new Error(`${name} is not loaded`);
  if (file.namespace) return 'module.exports' in file.namespace ? file.namespace['module.exports'] : file.namespace;
  if (!file.module) {
    const module = (file.module = { exports: {}, id: name, filename: name });
    const require = (specifier) => {
      const target = file.required[specifier];
      if (target === undefined) throw Object.assign(new Error(`\`${specifier}\` is required in ${name}, but it cannot be found`), { code: 'MODULE_NOT_FOUND' });
      return required(target);
    };
    file.wrapper.call(module.exports, module, module.exports, require, name, name.replace(/\/[^/]*$/, ''));
  }
  return file.module.exports;
};
hide(globalThis, '__common', {
  define(name, wrapper, needs) { if (!files.has(name)) files.set(name, { wrapper, required: needs }); },
  module(name, namespace) { if (!files.has(name)) files.set(name, { namespace }); },
  require: required,
});

// --- what is said ------------------------------------------------------------------------------------------------------

let notes = [];
/** A stack with frames as `at raise (/studio/KilnDial.vue:12:5)`, whatever the browser writes. */
const stackOf = (v) => (typeof v?.stack === 'string' ? v.stack : '').split('\n').map((line) => {
  const other = /^(.*?)@(.*:\d+:\d+)$/.exec(line.trim());
  return other ? `    at ${other[1] || '<anonymous>'} (${other[2]})` : line;
}).join('\n');
const note = (level, text, stack) => { const entry = { level, text, stack }; notes.push(entry); return entry; };
const log = (level) => (...args) => {
  const error = args.find((a) => a instanceof Error);
  note(level, format(args), error ? stackOf(error) : stackOf(new Error()).replace(/^.*\n.*\n/, ''));
};
const counts = new Map();
Object.assign(console, {
  log: log('log'), info: log('log'), debug: log('log'), warn: log('warn'), error: log('error'), trace: log('log'), dir: log('log'), dirxml: log('log'), table: log('log'),
  assert(ok, ...args) { if (!ok) log('error')('Assertion failed:', ...args); },
  group() {}, groupCollapsed() {}, groupEnd() {}, time() {}, timeEnd() {}, timeLog() {}, clear() {}, timeStamp() {}, profile() {}, profileEnd() {},
  count(l = 'default') { counts.set(l, (counts.get(l) ?? 0) + 1); }, countReset(l = 'default') { counts.delete(l); },
});
/** Said unless somebody else handles it: that shows once all listeners were called. */
const unlessHandled = (event, level, error, text) => {
  const entry = note(level, text, stackOf(error));
  Promise.resolve().then(() => { if (event.defaultPrevented) notes = notes.filter((n) => n !== entry); });
};
native.addEventListener.call(window, 'error', (e) => {
  // What the browser says of its own, as of observers that were called too often, is no fault of a script.
  if (!(e instanceof ErrorEvent) || (e.error === null && e.lineno === 0)) return;
  const error = e.error ?? e.message;
  unlessHandled(e, 'uncaught', error, error instanceof Error || error?.message ? show(error) : `uncaught: ${show(error)}`);
});
native.addEventListener.call(window, 'unhandledrejection', (e) => { unlessHandled(e, 'rejected', e.reason, show(e.reason)); });
hide(globalThis, 'reportError', reportException);

// --- a page that stays where it is, with no network ----------------------------------------------------------------------

history.replaceState(null, '', '/');
const quiet = (event) => {
  const link = event.target instanceof Element && event.target.closest('a[href], area[href]');
  if (!link || event.defaultPrevented) return;
  event.preventDefault();
  const to = new URL(link.href, here.href);
  if (to.origin === here.origin) history.replaceState(history.state, '', to.href);
};
native.addEventListener.call(window, 'click', quiet);
native.addEventListener.call(window, 'auxclick', quiet);
native.addEventListener.call(window, 'submit', (event) => event.preventDefault());
for (const [name, value] of Object.entries({ alert() {}, confirm: () => false, prompt: () => null, open: () => null, print() {}, close() {} })) hide(globalThis, name, value);
hide(globalThis, 'fetch', (input, init) => new Promise((resolve, reject) => {
  const request = new Request(input, init);
  const gone = () => reject(request.signal.reason);
  if (request.signal.aborted) return gone();
  const off = exchange({ method: request.method, url: new URL(request.url), headers: request.headers, body: bodyText(init?.body)[0] }, (reply) => {
    const status = reply.status ?? 200;
    const empty = [101, 204, 205, 304].includes(status);
    resolve(new Response(empty ? null : reply.text ?? null, { status, headers: reply.headers ?? {} }));
  }, (message) => reject(new TypeError(message)));
  request.signal.addEventListener('abort', () => { off(); gone(); }, { once: true });
}));
hide(navigator, 'sendBeacon', () => false);

/** Messages are tasks of the virtual clock: schedulers wait for them. */
class MessagePort extends EventTarget {
  postMessage(data) { const other = this.other; queueTask(() => fire(other, new MessageEvent('message', { data: structuredClone(data) }))); }
  start() {}
  close() {}
}
defineHandlers(MessagePort.prototype, ['message', 'messageerror']);
class MessageChannel {
  constructor() {
    this.port1 = new MessagePort();
    this.port2 = new MessagePort();
    hide(this.port1, 'other', this.port2);
    hide(this.port2, 'other', this.port1);
  }
}
expose(MessagePort, MessageChannel);
hide(globalThis, 'postMessage', (data) => queueTask(() => fire(window, new MessageEvent('message', { data: structuredClone(data), origin, source: window }))));

// --- rest --------------------------------------------------------------------------------------------------------------

/** How long the page may go on, in virtual milliseconds, and how many tasks it may take to come to rest. */
const WINDOW = 50;
const MOST_TASKS = 2000;

const channel = new native.MessageChannel();
let woken = null;
channel.port1.onmessage = () => woken();
/** All promise jobs that wait have run. */
const drained = async () => {
  await new Promise((resolve) => { woken = resolve; channel.port2.postMessage(0); });
  while (importing.size) await Promise.all(importing);
};
/** Rejections that nobody handled are told of in tasks of the browser's own, which come before this one ends. */
const told = () => new Promise((resolve) => (native.postTask ? native.postTask(resolve, { priority: 'background' }) : native.setTimeout(resolve, 0)));

/** Observers are called when the page is drawn: where there are any, it must be. */
let observing = false;
for (const name of ['ResizeObserver', 'IntersectionObserver']) {
  const Native = window[name];
  hide(globalThis, name, class extends Native { observe(...args) { observing = true; return super.observe(...args); } });
  Object.defineProperty(globalThis[name], 'name', { value: name });
}
const drawn = () => new Promise((resolve) => native.requestAnimationFrame(() => { channel.port2.postMessage(0); woken = resolve; }));

/** When each animation was first seen: they run by the virtual clock. Gives whether one came to its end. */
const started = new WeakMap();
const animate = () => {
  let ended = false;
  for (const animation of document.getAnimations()) {
    if (!started.has(animation)) { started.set(animation, now); animation.pause(); }
    const end = Number(animation.effect?.getComputedTiming().endTime ?? 0);
    const at = now - started.get(animation);
    if (at >= end && animation.playState !== 'finished') { animation.finish(); ended = true; } else animation.currentTime = at;
  }
  return ended;
};

/** Runs what is due within `window` milliseconds of virtual time. False when something keeps itself going. */
const settle = async (window) => {
  await drained();
  const end = now + window;
  let tasks = 0;
  for (let looks = 0; ; looks++) {
    while (runNext(end)) {
      await drained();
      if (++tasks === MOST_TASKS) return false;
    }
    await told();
    if (looks === 2 || !(animate() || observing)) break;
    await drawn();
    if (nextDue() < 0 || nextDue() > end) break;
  }
  return true;
};

// --- nodes -------------------------------------------------------------------------------------------------------------

let numbers = new WeakMap();
let nodes = [];
const idOf = (node) => {
  let id = numbers.get(node);
  if (id === undefined) { id = nodes.push(node) - 1; numbers.set(node, id); }
  return id;
};
const NAMESPACES = { 'http://www.w3.org/1999/xhtml': 0, 'http://www.w3.org/2000/svg': 1, 'http://www.w3.org/1998/Math/MathML': 2 };
const hasText = (e) => e instanceof HTMLTextAreaElement || (e instanceof HTMLInputElement && !['hidden', 'checkbox', 'radio', 'file', 'submit', 'image', 'reset', 'button', 'range', 'color'].includes(e.type));
/** What a form control holds beyond its attributes. */
const held = (e) => {
  const out = {};
  if (hasText(e) || (e instanceof HTMLInputElement && (e.type === 'range' || e.type === 'color'))) {
    out.value = e.value;
    if (hasText(e) && e.selectionStart !== null) out.selection = [e.selectionStart, e.selectionEnd];
  }
  if (e instanceof HTMLInputElement) { out.checked = e.checked; out.indeterminate = e.indeterminate; }
  if (e instanceof HTMLOptionElement) out.selected = e.selected;
  if (e.validity?.customError) out.custom_validity = e.validationMessage;
  return out;
};
/** A node as `[number, text]`, `[number, null, doctype]` or `[number, name, namespace, prefix, attributes, children, held]`. */
const written = (node) => {
  if (node.nodeType === 3 || node.nodeType === 4) return [idOf(node), node.data];
  if (node.nodeType === 10) return [idOf(node), null, node.name];
  const attributes = [];
  for (const a of node.attributes) attributes.push(a.namespaceURI ? [a.name, a.value, a.namespaceURI] : [a.name, a.value]);
  const out = [idOf(node), node.localName, NAMESPACES[node.namespaceURI] ?? node.namespaceURI ?? '', node.prefix, attributes, children(node)];
  if ('form' in node || node instanceof HTMLOptionElement) out.push(held(node));
  return out;
};
const children = (node) => { const out = []; for (let c = node.firstChild; c; c = c.nextSibling) if (c.nodeType === 1 || c.nodeType === 3 || c.nodeType === 4 || c.nodeType === 10) out.push(written(c)); return out; };
const page = () => {
  const active = document.activeElement;
  // What can take the focus no more loses it when the page is next drawn: it counts as lost.
  const focused = active && active !== document.body && host.focusable(active) ? idOf(active) : null;
  return { nodes: children(document), focused, pointed };
};
hide(globalThis, '__find', (request) => ask('/find', { page: page(), ...JSON.parse(request) }));

// --- what the session and the steps of a person need ----------------------------------------------------------------------

const valueAtFocus = new WeakMap();
native.addEventListener.call(document, 'focusin', (e) => { if (hasText(e.target)) valueAtFocus.set(e.target, e.target.value); }, true);
/** A change that a person made is told when the field is left; scripts that write are no persons, so the browser does not tell. */
const commitEdit = (e) => {
  if (valueAtFocus.get(e) === undefined || valueAtFocus.get(e) === e.value) return;
  valueAtFocus.set(e, e.value);
  fire(e, new Event('change', { bubbles: true }));
};
/** Selectors 4 §9.4: the browser itself knows of no input, as all of it is made here. */
let pointed = false;
for (const Class of [HTMLElement, SVGElement]) {
  const focus = Class.prototype.focus;
  hide(Class.prototype, 'focus', function (options) { return focus.call(this, { focusVisible: !pointed || hasText(this), ...options }); });
}
const host = {
  by(means) { pointed = means === 'pointer'; },
  idOf, wrap: (id) => nodes[id], fire, show, hasText, commitEdit,
  now: () => now,
  answer(list) { answers = list; },
  takeRequests() { const taken = requests; requests = []; return taken; },
  disabled: (e) => e.matches(':disabled'),
  editable: (e) => e.isContentEditable || (hasText(e) && !e.readOnly && !e.matches(':disabled')),
  focusable(e) {
    if (!e.isConnected || e.matches(':disabled') || (e instanceof HTMLInputElement && e.type === 'hidden')) return false;
    if (!e.checkVisibility({ visibilityProperty: true })) return false;
    return e.hasAttribute('tabindex') ? Number.isInteger(parseInt(e.getAttribute('tabindex'), 10)) : e.tabIndex >= 0 || e.isContentEditable;
  },
  moveFocus(to) {
    if (to && (!to.isConnected || !host.focusable(to))) return;
    const from = document.activeElement;
    if (from === to) return;
    if (from && hasText(from)) commitEdit(from);
    if (to) to.focus({ preventScroll: true });
    else if (from && from !== document.body) from.blur();
  },
  implicitSubmission(field) {
    const form = field.form;
    if (!form) return;
    const button = [...form.elements].find((e) => e.type === 'submit' || e.type === 'image');
    if (button) { if (!host.disabled(button)) button.click(); return; }
    const blocking = [...form.elements].filter((e) => e instanceof HTMLInputElement && hasText(e));
    if (blocking.length <= 1) form.requestSubmit();
  },
  resize(width, height) {
    for (const [name, value] of Object.entries({ innerWidth: width, innerHeight: height, outerWidth: width, outerHeight: height })) hide(globalThis, name, value);
    fire(window, new UIEvent('resize', { view: window }));
  },
};
Object.defineProperty(globalThis, '__fidelon', { value: Object.freeze(host) });

// --- between cases -------------------------------------------------------------------------------------------------------

/** Listeners on what outlives a case. */
const listened = [];
let kept = null;
let lasting = [];
/** Follows listeners from the moment when the document is there. */
const follow = () => {
  lasting = [window, document, document.documentElement, document.head, document.body];
  const capture = (options) => (typeof options === 'object' && options ? !!options.capture : !!options);
  for (const object of lasting) {
    hide(object, 'addEventListener', (type, listener, options) => {
      listened.push({ object, type, listener, capture: capture(options) });
      return native.addEventListener.call(object, type, listener, options);
    });
    hide(object, 'removeEventListener', (type, listener, options) => {
      const at = listened.findIndex((l) => l.object === object && l.type === type && l.listener === listener && l.capture === capture(options));
      if (at >= 0) listened.splice(at, 1);
      return native.removeEventListener.call(object, type, listener, options);
    });
  }
};
const handlerNames = (object) => { const out = []; for (const key in object) if (key.startsWith('on')) out.push(key); return out; };
const attributesOf = (e) => [...e.attributes].map((a) => [a.name, a.value]);
const keep = () => {
  const own = new Map();
  for (const key of Reflect.ownKeys(window)) {
    const is = Object.getOwnPropertyDescriptor(window, key);
    if (is) own.set(key, 'value' in is && is.writable ? is.value : KEPT);
  }
  kept = {
    own, listeners: listened.length,
    handlers: lasting.map((object) => [object, handlerNames(object).map((name) => [name, object[name]])]),
    head: [...document.head.childNodes],
    attributes: [document.documentElement, document.body].map((e) => [e, attributesOf(e)]),
    sheets: [...document.adoptedStyleSheets],
  };
};
const KEPT = Symbol('kept');
/** Between cases tree, listeners, globals, timers, storage, address, time and chance are as `keep` found them. */
const reset = (newSeed, starts) => {
  document.body.replaceChildren();
  const own = new Set(kept.head);
  // Stylesheets stay: libraries keep theirs in a variable and insert beside them again.
  for (const node of [...document.head.childNodes]) if (!own.has(node) && !(node instanceof Element && node.matches('style, link[rel~=stylesheet i]'))) node.remove();
  for (const node of kept.head) if (!node.isConnected) document.head.append(node);
  for (const [element, attributes] of kept.attributes) {
    const names = new Set(attributes.map(([name]) => name));
    for (const a of [...element.attributes]) if (!names.has(a.name)) element.removeAttribute(a.name);
    for (const [name, value] of attributes) if (element.getAttribute(name) !== value) element.setAttribute(name, value);
  }
  for (const { object, type, listener, capture } of listened.splice(kept.listeners)) native.removeEventListener.call(object, type, listener, capture);
  for (const [object, handlers] of kept.handlers) for (const [name, value] of handlers) if (object[name] !== value) object[name] = value;
  for (const key of Reflect.ownKeys(window)) if (!kept.own.has(key)) { try { delete window[key]; } catch { /* not configurable: it stays */ } }
  for (const [key, value] of kept.own) if (value !== KEPT && window[key] !== value) { try { window[key] = value; } catch { /* likewise */ } }
  document.adoptedStyleSheets = kept.sheets;
  pending = []; frames = []; now = 0; order = 0; timerLevel = 0; seed = newSeed; startTime = starts ?? EPOCH;
  marks.length = 0; counts.clear(); notes = []; answers = null; requests = []; observing = false; pointed = false;
  numbers = new WeakMap(); nodes = [];
  // The document has the first number on every stage.
  idOf(document);
  getSelection()?.removeAllRanges();
  localStorage.clear(); sessionStorage.clear();
  for (const cookie of document.cookie.split(';')) if (cookie) document.cookie = `${cookie.split('=')[0]}=;max-age=0;path=/`;
  if (here.pathname !== '/' || here.search || here.hash) history.replaceState(null, '', '/');
  window.scrollTo(0, 0);
};

// --- playing -------------------------------------------------------------------------------------------------------------

const look = (faults, settled) => {
  // Rejections are told of late; by now all are.
  const seen = { told: JSON.parse(globalThis.__stage.observe()), page: page(), notes, faults, settled };
  notes = [];
  return seen;
};
/** Plays a step task by task; gives what made it impossible, and whether the page came to rest. */
const step = async (wanted) => {
  const plain = wanted.step === 'in' ? wanted.inner : wanted;
  if (plain.step === 'elapse') {
    const end = now + plain.milliseconds;
    const rests = await settle(plain.milliseconds);
    now = Math.max(now, end);
    if (animate()) { await drawn(); await settle(0); }
    return [null, rests];
  }
  globalThis.__stage.begin(JSON.stringify(wanted));
  for (;;) {
    const answer = globalThis.__stage.go();
    await drained();
    if (answer === 'done') break;
    if (answer !== 'more') return [answer.replace(/^fault /, ''), true];
  }
  return [null, await settle(WINDOW)];
};
const play = async ({ combination, parent, phases, seed: newSeed, surroundings }) => {
  reset(newSeed, surroundings.clock);
  globalThis.__stage.mount(JSON.stringify({ combination, parent, network: surroundings.network }));
  const seen = [look([], await settle(WINDOW))];
  for (const steps of phases) {
    const faults = [];
    let idle = true;
    for (const [i, wanted] of steps.entries()) {
      const [fault, rests] = await step(wanted);
      if (fault !== null) { faults.push({ step: i, message: fault }); break; }
      idle &&= rests;
    }
    // With no steps nothing has changed: the phase sees what the mount left, events included.
    seen.push(steps.length ? look(faults, idle) : seen.at(-1));
  }
  try {
    globalThis.__stage.end();
    await settle(WINDOW);
  } catch { /* all is seen */ }
  return seen;
};
const open = async () => {
  try {
    await import(`${base}/s/stage:entry`);
    await settle(0);
  } catch (error) {
    return { failed: { message: show(error), stack: stackOf(error) } };
  }
  const thrown = notes.find((n) => n.level === 'uncaught');
  if (thrown) return { failed: { message: thrown.text, stack: thrown.stack } };
  const values = JSON.parse(globalThis.__stage.values());
  // A window that the system has not given the focus yet tells of no focus at all.
  window.focus();
  for (let i = 0; i < 400 && !document.hasFocus(); i++) await new Promise((resolve) => native.setTimeout(resolve, 5));
  keep();
  return { opened: values };
};
/** Takes work in batches until another page has taken the place of this one. */
const work = async () => {
  let said = [await open()];
  for (;;) {
    const batch = await post(`/turn/${script.dataset.page}`, said);
    if (batch === null) return;
    said = [];
    for (const wanted of batch) {
      try {
        said.push({ played: await play(wanted) });
      } catch (error) {
        said.push({ lost: `${show(error)} ${stackOf(error).split('\n')[1] ?? ''}` });
      }
    }
  }
};
native.addEventListener.call(window, 'DOMContentLoaded', () => { follow(); work(); });

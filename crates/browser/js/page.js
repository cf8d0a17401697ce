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
Object.assign(console, consoleOver(log));
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
/** A stage does not navigate: the address changes, where it can, and a change of the fragment is told. */
const go = (address) => {
  const old = here.href;
  const to = new URL(address, old);
  if (to.origin !== here.origin) return;
  history.replaceState(history.state, '', to.href);
  if (new URL(old).hash !== to.hash) queueTask(() => fire(window, new HashChangeEvent('hashchange', { oldURL: old, newURL: to.href })));
};
const quiet = (event) => {
  const link = event.composedPath().find((n) => n instanceof Element && n.matches('a[href], area[href]'));
  if (!link || event.defaultPrevented) return;
  event.preventDefault();
  go(link.href);
};
native.addEventListener.call(window, 'click', quiet);
native.addEventListener.call(window, 'auxclick', quiet);
native.addEventListener.call(window, 'submit', (event) => event.preventDefault());
// What scripts set off themselves, by `location` or by a link off the page, where the browser lets it be called off.
window.navigation?.addEventListener('navigate', (event) => {
  if (!event.cancelable || event.destination.sameDocument) return;
  event.preventDefault();
  if (event.navigationType === 'push' || event.navigationType === 'replace') go(event.destination.url);
});
for (const [name, value] of Object.entries({ alert() {}, confirm: () => false, prompt: () => null, open: () => null, print() {}, close() {} })) hide(globalThis, name, value);
hide(globalThis, 'fetch', (input, init) => new Promise((resolve, reject) => {
  const request = new Request(input, init);
  const gone = () => reject(request.signal.reason);
  if (request.signal.aborted) return gone();
  const off = exchange({ method: request.method, url: new URL(request.url), headers: request.headers, body: bodyText(init?.body)[0] }, (reply) => {
    const status = reply.status ?? 200;
    const empty = [101, 204, 205, 304].includes(status);
    const body = reply.bytes ? Uint8Array.from(atob(reply.bytes), (c) => c.charCodeAt(0)) : reply.text ?? null;
    const response = new Response(empty ? null : body, { status, statusText: STATUS[status] ?? '', headers: reply.headers ?? {} });
    Object.defineProperties(response, { url: { value: request.url }, type: { value: 'basic' } });
    resolve(response);
  }, (message) => reject(new TypeError(message)));
  request.signal.addEventListener('abort', () => { off(); gone(); }, { once: true });
}));
hide(navigator, 'sendBeacon', () => false);
// What is compiled takes the time of other threads: a page that waits for it has not come to rest. What is still on its way comes by the
// page's own time.
const compiling = (coming) => {
  const settled = coming.then(() => {}, () => {});
  importing.add(settled);
  settled.then(() => importing.delete(settled));
  return coming;
};
for (const name of ['compile', 'instantiate', 'compileStreaming', 'instantiateStreaming']) {
  const make = WebAssembly[name]?.bind(WebAssembly);
  if (make) hide(WebAssembly, name, async (source, ...more) => { const there = await source; return compiling(make(there, ...more)); });
}

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
/** What the browser itself tells of in tasks of its own since `settle` began, and who waits for it: such events may set one another off without end. */
let toldOf = 0;
let tooMuch = () => {};
for (const type of ['toggle', 'close', 'unhandledrejection']) native.addEventListener.call(window, type, () => { if (++toldOf >= MOST_TASKS) tooMuch(false); }, true);
/** All that has been told, or false when there is no end of it: the task in which this ends comes after all others. */
const told = () => new Promise((resolve) => {
  tooMuch = resolve;
  const done = () => resolve(true);
  if (native.postTask) native.postTask(done, { priority: 'background' }); else native.setTimeout(done, 0);
});

/** Observers are called when the page is drawn: where there are any, it must be. */
let observing = false;
/** The targets of observers that watch something. */
const watching = new Map();
for (const name of ['MutationObserver', 'ResizeObserver', 'IntersectionObserver']) {
  const Native = window[name];
  hide(globalThis, name, class extends Native {
    observe(target, ...options) {
      super.observe(target, ...options);
      if (name !== 'MutationObserver') observing = true;
      if (!watching.has(this)) watching.set(this, { targets: new Set(), ofBoxes: name !== 'MutationObserver' });
      watching.get(this).targets.add(target);
    }
    disconnect() { super.disconnect(); watching.delete(this); }
  });
  if (Native.prototype.unobserve) hide(globalThis[name].prototype, 'unobserve', function unobserve(target) { Native.prototype.unobserve.call(this, target); watching.get(this)?.targets.delete(target); });
  Object.defineProperty(globalThis[name], 'name', { value: name });
}
const drawn = () => new Promise((resolve) => native.requestAnimationFrame(() => { channel.port2.postMessage(0); woken = resolve; }));

/** When each animation was first seen: they run by the virtual clock, and end when it has come there. */
const started = new WeakMap();
let finished = false;
const running = () => [document, ...attached.filter((root) => root.isConnected)].flatMap((root) => root.getAnimations());
/** Takes note of new animations; gives whether there were any. */
const animate = () => {
  let fresh = false;
  for (const animation of running()) {
    if (started.has(animation)) { animation.currentTime = now - started.get(animation); continue; }
    fresh = true;
    started.set(animation, now);
    animation.pause();
    const end = Number(animation.effect?.getComputedTiming().endTime ?? 0);
    if (end < Infinity) later(() => { if (running().includes(animation)) { animation.finish(); finished = true; } }, end);
  }
  return fresh;
};
/** Animations tell of their end when the page is drawn. */
const toldOfEnds = async () => { while (finished) { finished = false; await drawn(); await drained(); } };

/** Runs what is due within `window` milliseconds of virtual time, `onward` as `runNext` has it. False when something keeps itself going. */
const settle = async (window, onward = true) => {
  await drained();
  const end = now + window;
  let tasks = 0;
  toldOf = 0;
  for (let looks = 0; ; looks++) {
    while (runNext(end, onward)) {
      await drained();
      await toldOfEnds();
      if (++tasks === MOST_TASKS || isTooDeep()) { atRest(); return false; }
    }
    atRest();
    if (!await told()) return false;
    // That a dialog was closed is told when the page is drawn, as what observers see is.
    if (looks === 2 || !(animate() || observing || everywhere('dialog').length > 0)) break;
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
/** The shadow roots that were attached, closed ones too. */
const roots = new WeakMap();
let attached = [];
const shadowOf = (e) => roots.get(e) ?? e.shadowRoot ?? null;
const attach = Element.prototype.attachShadow;
hide(Element.prototype, 'attachShadow', function attachShadow(init) {
  const root = attach.call(this, init);
  roots.set(this, root);
  shadows++;
  attached.push(root);
  native.addEventListener.call(root, 'focusin', remember, true);
  return root;
});
/** What a selector finds, in whatever tree. */
const everywhere = (selector) => [document, ...attached.filter((root) => root.isConnected)].flatMap((root) => [...root.querySelectorAll(selector)]);
/** What has the focus, in whatever tree. */
const active = () => {
  let e = document.activeElement;
  for (let root = e && shadowOf(e); root?.activeElement; root = shadowOf(e)) e = root.activeElement;
  return e;
};
/** What a form control holds beyond its attributes. */
const held = (e) => {
  const out = {};
  if (e.constructor.formAssociated) out.associated = true;
  if (hasText(e) || (e instanceof HTMLInputElement && (e.type === 'range' || e.type === 'color'))) {
    out.value = e.value;
    if (hasText(e) && e.selectionStart !== null) out.selection = [e.selectionStart, e.selectionEnd];
  }
  if (e instanceof HTMLInputElement) { out.checked = e.checked; out.indeterminate = e.indeterminate; }
  if (e instanceof HTMLOptionElement) out.selected = e.selected;
  if (e.validity?.customError) out.custom_validity = e.validationMessage;
  return out;
};
/**
 * The nodes of the document in tree order, each with the place of its parent in this list, or -1: `[number, parent, 3, text]`,
 * `[number, parent, 10, doctype]`, `[number, parent, 1, name, namespace, prefix, attributes, held]`, `[number, parent, 11, mode, delegates the
 * focus, slots by hand]` for a shadow root. A list is no deeper for a deep document.
 */
const written = () => {
  const list = [];
  const waiting = [];
  const push = (parent, at) => { for (let c = parent.lastChild; c; c = c.previousSibling) if (c.nodeType === 1 || c.nodeType === 3 || c.nodeType === 4 || c.nodeType === 10) waiting.push([c, at]); };
  push(document, -1);
  while (waiting.length) {
    const [node, parent] = waiting.pop();
    const at = list.length;
    if (node instanceof ShadowRoot) list.push([idOf(node), parent, 11, node.mode, node.delegatesFocus, node.slotAssignment === 'manual']);
    else if (node.nodeType === 10) list.push([idOf(node), parent, 10, node.name]);
    else if (node.nodeType !== 1) list.push([idOf(node), parent, 3, node.data]);
    else list.push(element(node, parent));
    push(node, at);
    // What stands in the shadow tree comes before the children.
    const root = node.nodeType === 1 ? shadowOf(node) : null;
    if (root) waiting.push([root, at]);
  }
  return list;
};
const element = (node, parent) => {
  const attributes = [];
  for (const a of node.attributes) attributes.push(a.namespaceURI ? [a.name, a.value, a.namespaceURI] : [a.name, a.value]);
  const number = idOf(node);
  const root = shadowOf(node);
  if (node.localName === 'dialog' || node.hasAttribute('popover')) {
    const overlay = node.matches(':popover-open') ? 'popover' : node.matches(':modal') ? 'modal' : null;
    if (overlay) overlays.push([number, overlay]);
  }
  if (styled) {
    const style = getComputedStyle(node);
    if (style.display === 'none' || style.visibility !== 'visible') undisplayed.push(number);
  }
  if (root?.slotAssignment === 'manual') for (const slot of root.querySelectorAll('slot')) assigned.push([idOf(slot), slot.assignedNodes().map(idOf)]);
  const holds = 'form' in node || node instanceof HTMLOptionElement || node.constructor.formAssociated;
  return [number, parent, 1, node.localName, NAMESPACES[node.namespaceURI] ?? node.namespaceURI ?? '', node.prefix, attributes, holds ? held(node) : null];
};
/** What slots hold where scripts assign it. */
let assigned = [];
/** Whether there are stylesheets, and what style does not display then. */
let styled = false;
let undisplayed = [];
/** What stands in the top layer. */
let overlays = [];
let shadows = 0;
const page = () => {
  const on = active();
  // What can take the focus no more loses it when the page is next drawn: it counts as lost.
  const focused = on && on !== document.body && host.focusable(on) ? idOf(on) : null;
  assigned = [];
  undisplayed = [];
  overlays = [];
  styled = shadows > 0 || document.styleSheets.length > 0 || document.adoptedStyleSheets.length > 0;
  return { nodes: written(), focused, pointed, assigned, styled, undisplayed, overlays };
};

// --- what the session and the steps of a person need ----------------------------------------------------------------------

const valueAtFocus = new WeakMap();
const remember = (e) => { if (hasText(e.target)) valueAtFocus.set(e.target, e.target.value); };
native.addEventListener.call(document, 'focusin', remember, true);
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
/** What the driver was asked to do last: a step goes on when it has done it. */
let handing = null;
/** Whether the window has another size than pages have at first. */
let resized = false;
/** Where on the page a hand meets an element; a text where it cannot. */
const meets = (e) => {
  e.scrollIntoView({ block: 'center', inline: 'center', behavior: 'instant' });
  const box = [...e.getClientRects()].find((r) => r.width > 0 && r.height > 0);
  if (!box) return `a person cannot reach this <${e.localName}>: it has no place on the page`;
  const [x, y] = [box.left + box.width / 2, box.top + box.height / 2];
  let over = document.elementFromPoint(x, y);
  for (let root = over && shadowOf(over); root; root = over && shadowOf(over)) { const inner = root.elementFromPoint(x, y); if (!inner || inner === over) break; over = inner; }
  const around = [];
  for (let n = over; n; n = n.assignedSlot ?? n.parentNode ?? n.host) around.push(n);
  if (!around.includes(e) && !(e.labels && [...e.labels].some((l) => around.includes(l)))) return `a person cannot reach this <${e.localName}>: ${over ? `<${over.localName}> lies over it` : 'it lies outside the window'}`;
  return { x, y };
};
const real = (gesture) => {
  const { at, ...told } = gesture;
  const place = at ? meets(at) : {};
  if (typeof place === 'string') return place;
  handing = post('/input', { ...told, ...place });
  return null;
};
const host = {
  JSON, Map,
  find: (request) => ask('/find', { page: page(), ...JSON.parse(request) }),
  send: script.dataset.served === 'true' ? (request) => ask('/send', JSON.parse(request)) : undefined,
  real: script.dataset.real === 'true' ? real : undefined,
  by(means) { pointed = means === 'pointer'; },
  idOf, wrap: (id) => nodes[id], fire, show, hasText, commitEdit,
  // A browser knows by itself what a person did, and a person it is with real input alone.
  judged() {}, typed() {},
  now: () => now,
  answer(list) { answers = list; },
  takeRequests() { const taken = requests; requests = []; return taken; },
  left: () => leftOver(document.body.childElementCount, listened.filter((l) => !l.around).length, [...watching.values()].map(({ targets, ofBoxes }) => [[...targets], ofBoxes])),
  around,
  disabled: (e) => e.matches(':disabled'),
  editable: (e) => e.isContentEditable || (hasText(e) && !e.readOnly && !e.matches(':disabled')),
  focusable(e) {
    if (!e.isConnected || e.matches(':disabled') || (e instanceof HTMLInputElement && e.type === 'hidden')) return false;
    if (!e.checkVisibility({ visibilityProperty: true })) return false;
    if (host.delegates(e)) return [...shadowOf(e).querySelectorAll('*')].some(host.focusable);
    return e.hasAttribute('tabindex') ? Number.isInteger(parseInt(e.getAttribute('tabindex'), 10)) : e.tabIndex >= 0 || e.isContentEditable;
  },
  moveFocus(to) {
    if (to && (!to.isConnected || !host.focusable(to))) return;
    const from = active();
    if (from === to) return;
    if (from && hasText(from)) commitEdit(from);
    if (to) to.focus({ preventScroll: true });
    else if (from && from !== document.body) from.blur();
  },
  active,
  /** What a person closes by Escape, and by pressing elsewhere: the browser itself does it for real input alone. */
  dismiss() {
    const last = everywhere(':modal, :popover-open').filter((e) => e.matches(':modal') || e.popover === 'auto').at(-1);
    if (last?.matches(':modal')) last.requestClose();
    else last?.hidePopover();
  },
  pressedOutside(e) {
    const around = [];
    for (let n = e; n; n = n.parentNode ?? n.host) around.push(n);
    for (const p of everywhere(':popover-open').reverse()) if (p.popover === 'auto' && !around.includes(p)) p.hidePopover();
  },
  flatParent(e) {
    const parent = e.parentNode;
    if (parent instanceof ShadowRoot) return parent.host;
    const root = parent instanceof Element ? shadowOf(parent) : null;
    return root ? [...root.querySelectorAll('slot')].find((s) => s.assignedNodes().includes(e)) ?? null : parent;
  },
  flatChildren(e) {
    const root = shadowOf(e);
    if (root) return [...root.children];
    return e instanceof HTMLSlotElement && e.assignedNodes().length ? e.assignedElements() : [...e.children];
  },
  /** Whether it is a shadow host that hands the focus on. */
  delegates: (e) => !!shadowOf(e)?.delegatesFocus,
  implicitSubmission(field) {
    const form = field.form;
    if (!form) return;
    const button = [...form.elements].find((e) => e.type === 'submit' || e.type === 'image');
    if (button) { if (!host.disabled(button)) button.click(); return; }
    const blocking = [...form.elements].filter((e) => e instanceof HTMLInputElement && hasText(e));
    if (blocking.length <= 1) form.requestSubmit();
  },
  /** The window itself changes, so that media queries and layout follow: the step goes on when it has. */
  resize(width, height) {
    resized = true;
    handing = post('/resize', [width, height]).then(async (done) => { await drawn(); return done; });
  },
};
// For the session, which takes it before any module of a project runs.
Object.defineProperty(globalThis, '__fidelon', { value: host, configurable: true });

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
      listened.push({ object, type, listener, capture: capture(options), around: surrounding });
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
    hung: lasting.filter((object) => object !== window).map((object) => [object, new Map(Reflect.ownKeys(object).map((key) => [key, object[key]]))]),
  };
};
const KEPT = Symbol('kept');
/** Between cases tree, listeners, globals, timers, storage, address, time and chance are as `keep` found them. */
const reset = (newSeed, starts) => {
  document.body.replaceChildren();
  surroundings.clear();
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
  // What code hangs on the document and its lasting elements goes with the case that hung it there.
  for (const [object, own] of kept.hung) {
    for (const key of Reflect.ownKeys(object)) if (!own.has(key)) { try { delete object[key]; } catch { /* not configurable: it stays */ } }
    for (const [key, value] of own) if (object[key] !== value) { try { object[key] = value; } catch { /* likewise */ } }
  }
  for (const key of Reflect.ownKeys(window)) if (!kept.own.has(key)) { try { delete window[key]; } catch { /* not configurable: it stays */ } }
  for (const [key, value] of kept.own) if (value !== KEPT && window[key] !== value) { try { window[key] = value; } catch { /* likewise */ } }
  document.adoptedStyleSheets = kept.sheets;
  pending = []; frames = []; now = 0; order = 0; timerLevel = 0; atRest(); seed = newSeed; startTime = starts ?? EPOCH;
  marks.length = 0; counts.clear(); notes = []; answers = null; requests = []; flying = 0; connections.clear(); watching.clear(); observing = false; pointed = false; finished = false; attached = attached.filter((root) => root.isConnected);
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
  const seen = { told: JSON.parse(host.stage.observe()), page: page(), notes, faults, settled };
  notes = [];
  return seen;
};
/** Plays a step task by task; gives what made it impossible, and whether the page came to rest. */
const step = async (wanted) => {
  const plain = wanted.step === 'in' ? wanted.inner : wanted;
  if (plain.step === 'elapse') {
    const end = now + plain.milliseconds;
    const rests = await settle(plain.milliseconds, false);
    now = Math.max(now, end);
    animate();
    return [null, rests];
  }
  host.stage.begin(JSON.stringify(wanted));
  for (;;) {
    const answer = host.stage.go();
    if (handing) {
      const done = await handing;
      handing = null;
      if (done !== 'done') return [done, true];
      await told();
    }
    await drained();
    if (answer === 'done') break;
    if (answer !== 'more') return [answer.replace(/^fault /, ''), true];
  }
  return [null, await settle(WINDOW)];
};
const play = async ({ combination, parent, phases, seed: newSeed, surroundings }) => {
  if (resized) { await post('/resize', [1280, 800]); await drawn(); resized = false; }
  reset(newSeed, surroundings.clock);
  host.stage.mount(JSON.stringify({ combination, parent, network: surroundings.network }));
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
    host.stage.end();
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
  const opened = JSON.parse(host.stage.opened());
  // A window that the system has not given the focus yet tells of no focus at all.
  window.focus();
  for (let i = 0; i < 400 && !document.hasFocus(); i++) await new Promise((resolve) => native.setTimeout(resolve, 5));
  keep();
  return { opened };
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
native.addEventListener.call(window, 'DOMContentLoaded', () => { follow(); work(); }, { once: true });

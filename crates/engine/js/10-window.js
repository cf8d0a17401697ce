// The window: console, errors, location, storage, media queries, computed style, messages, encoding, URLs, files.

hide(globalThis, 'window', globalThis);
for (const name of ['self', 'top', 'parent', 'frames']) hide(globalThis, name, globalThis);
class Window extends EventTarget {}
Object.setPrototypeOf(Window.prototype, EventTarget.prototype);
expose(Window);
Object.setPrototypeOf(globalThis, Window.prototype);
defineHandlers(globalThis, [...HANDLER_NAMES, ...WINDOW_HANDLER_NAMES]);
for (const [name, value] of Object.entries({
  innerWidth: 1280, innerHeight: 800, outerWidth: 1280, outerHeight: 800, devicePixelRatio: 1,
  screenX: 0, screenY: 0, closed: false, length: 0, name: '', isSecureContext: true, origin: 'http://stage.test', opener: null, frameElement: null,
  screen: { width: 1280, height: 800, availWidth: 1280, availHeight: 800, colorDepth: 24, pixelDepth: 24, orientation: Object.assign(Object.create(EventTarget.prototype), { type: 'landscape-primary', angle: 0, lock: () => Promise.reject(new DOMException('The orientation is fixed.', 'NotSupportedError')), unlock() {} }) },
  visualViewport: Object.assign(Object.create(EventTarget.prototype), { width: 1280, height: 800, scale: 1, offsetLeft: 0, offsetTop: 0, pageLeft: 0, pageTop: 0 }),
  focus() {}, blur() {}, print() {}, stop() {}, open: () => null, close() {},
  alert() {}, confirm: () => false, prompt: () => null, getSelection: () => selection, postMessage(data) { queueTask(() => fire(globalThis, new MessageEvent('message', { data: structuredClone(data), origin: 'http://stage.test', source: globalThis }))); },
})) hide(globalThis, name, value);

const refused = (failed) => queueTask(() => failed?.({ code: 1, message: 'User denied Geolocation', PERMISSION_DENIED: 1, POSITION_UNAVAILABLE: 2, TIMEOUT: 3 }));
hide(globalThis, 'navigator', {
  userAgent: 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Stage/1.0', platform: 'Linux x86_64', vendor: '', language: 'en-US', languages: ['en-US', 'en'],
  onLine: true, cookieEnabled: true, hardwareConcurrency: 2, maxTouchPoints: 0, webdriver: false, appVersion: '5.0', product: 'Gecko', appName: 'Netscape',
  clipboard: { text: '', writeText(t) { this.text = String(t); return Promise.resolve(); }, readText() { return Promise.resolve(this.text); } },
  vibrate: () => false, sendBeacon: () => false,
  // Nobody has allowed the page anything.
  geolocation: { getCurrentPosition(_, failed) { refused(failed); }, watchPosition(_, failed) { refused(failed); return 1; }, clearWatch() {} },
  permissions: { query: ({ name }) => Promise.resolve(Object.assign(Object.create(EventTarget.prototype), { name, state: 'prompt', onchange: null })) },
});

// --- console and errors --------------------------------------------------------------------------------------------

const stackOf = (v) => (typeof v?.stack === 'string' ? v.stack : '');
const log = (level) => (...args) => {
  const error = args.find((a) => a instanceof Error);
  native.log(level, format(args), error ? stackOf(error) : new Error().stack);
};
hide(globalThis, 'console', consoleOver(log));

/** HTML §8.1.4.6 "report an exception": the window hears it first, then it is on record. */
const reportException = (error) => {
  // What the engine's own limits raise cannot be handled by the page.
  const event = new ErrorEvent('error', { message: show(error), error, cancelable: true, filename: '', lineno: 0, colno: 0 });
  if (fire(globalThis, event)) native.log('uncaught', error instanceof Error || error?.message ? show(error) : `uncaught: ${show(error)}`, stackOf(error));
};
hide(globalThis, 'reportError', reportException);
let rejections = new Map();
const rejected = (promise, reason, handled) => {
  if (handled) rejections.delete(promise);
  else rejections.set(promise, reason);
};
/**
 * Tasks of the user agent's own, which wait for no time: they run as soon as all promise jobs have, also between the parts of a step. Each
 * entry can be called off.
 */
let soon = [];
const queueSoon = (run) => { const entry = { run }; soon.push(entry); return entry; };
const callOff = (entry) => { entry.run = null; };
/** Does what waits for promise jobs to be done; true when there was any. What that sets off comes after the jobs that it left. */
const reportSoon = () => {
  if (soon.length === 0 && rejections.size === 0) return false;
  for (const entry of soon.splice(0)) {
    try { entry.run?.(); } catch (error) { reportException(error); }
  }
  const all = rejections;
  rejections = new Map();
  for (const [promise, reason] of all) {
    const event = new PromiseRejectionEvent('unhandledrejection', { promise, reason, cancelable: true });
    if (fire(globalThis, event)) native.log('rejected', show(reason), stackOf(reason));
  }
  return true;
};

// --- location, history, storage ------------------------------------------------------------------------------------

class URLSearchParams {
  #list = []; #owner = null;
  constructor(init = '', owner = null) {
    this.#owner = owner;
    if (typeof init === 'string') this.#list = native.query_parse(init.replace(/^\?/, ''));
    else if (init?.[Symbol.iterator]) this.#list = [...init].map(([k, v]) => [String(k), String(v)]);
    else if (init) this.#list = Object.entries(init).map(([k, v]) => [k, String(v)]);
  }
  #changed() { this.#owner?.(this.toString()); }
  get size() { return this.#list.length; }
  append(k, v) { this.#list.push([String(k), String(v)]); this.#changed(); }
  delete(k, v) { this.#list = this.#list.filter(([n, w]) => n !== String(k) || (v !== undefined && w !== String(v))); this.#changed(); }
  get(k) { return this.#list.find(([n]) => n === String(k))?.[1] ?? null; }
  getAll(k) { return this.#list.filter(([n]) => n === String(k)).map(([, v]) => v); }
  has(k, v) { return this.#list.some(([n, w]) => n === String(k) && (v === undefined || w === String(v))); }
  set(k, v) {
    const at = this.#list.findIndex(([n]) => n === String(k));
    if (at < 0) this.#list.push([String(k), String(v)]);
    else { this.#list[at][1] = String(v); this.#list = this.#list.filter(([n], i) => n !== String(k) || i <= at); }
    this.#changed();
  }
  sort() { this.#list.sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0)); this.#changed(); }
  forEach(f, self) { for (const [k, v] of this.#list) f.call(self, v, k, this); }
  entries() { return this.#list.map((e) => [...e]).values(); }
  keys() { return this.#list.map(([k]) => k).values(); }
  values() { return this.#list.map(([, v]) => v).values(); }
  [Symbol.iterator]() { return this.entries(); }
  toString() { return native.query_write(this.#list); }
}
const URL_PARTS = ['href', 'protocol', 'username', 'password', 'host', 'hostname', 'port', 'pathname', 'search', 'hash'];
class URL {
  #parts; #params;
  constructor(url, base) {
    this.#parts = native.url_parse(String(url), base === undefined ? '' : String(base));
    if (!this.#parts) throw new TypeError(`Failed to construct 'URL': '${url}' is no valid address${base === undefined ? '' : ` with the base '${base}'`}.`);
  }
  static canParse(url, base) { return !!native.url_parse(String(url), base === undefined ? '' : String(base)); }
  static parse(url, base) { return URL.canParse(url, base) ? new URL(url, base) : null; }
  get origin() { return this.#parts.origin; }
  get searchParams() { return (this.#params ??= new URLSearchParams(this.search, (q) => { this.#set('search', q, true); })); }
  #set(part, value, keepParams) { const p = native.url_set(this.#parts.href, part, String(value)); if (p) this.#parts = p; if (!keepParams) this.#params = undefined; }
  static {
    for (const part of URL_PARTS) accessor(URL.prototype, part, function () { return this.#parts[part]; }, function (v) { this.#set(part, v); });
  }
  toString() { return this.href; }
  toJSON() { return this.href; }
}
expose(URL, URLSearchParams);

const START = 'http://stage.test/';
let here = new URL(START);
const location = { assign(v) { go(v); }, replace(v) { go(v); }, reload() {}, toString() { return here.href; }, ancestorOrigins: [] };
for (const part of [...URL_PARTS, 'origin']) accessor(location, part, () => here[part], (v) => { const u = new URL(here.href); u[part] = v; go(u.href); });
/** A stage does not navigate: the address changes, and a change of the fragment is told. */
const go = (to) => {
  const old = here;
  here = new URL(to, here.href);
  if (old.hash !== here.hash) queueTask(() => fire(globalThis, new HashChangeEvent('hashchange', { oldURL: old.href, newURL: here.href })));
};
Object.defineProperty(globalThis, 'location', { get: () => location, set: (v) => go(v), configurable: true });
let entries = [{ url: here.href, state: null }];
let at = 0;
hide(globalThis, 'history', {
  get length() { return entries.length; }, get state() { return entries[at].state; }, scrollRestoration: 'auto',
  pushState(state, _, url) { if (url != null) here = new URL(url, here.href); entries = [...entries.slice(0, at + 1), { url: here.href, state }]; at++; },
  replaceState(state, _, url) { if (url != null) here = new URL(url, here.href); entries[at] = { url: here.href, state }; },
  go(n = 0) {
    if (!entries[at + n] || n === 0) return;
    queueTask(() => { at += n; here = new URL(entries[at].url); fire(globalThis, new PopStateEvent('popstate', { state: entries[at].state })); });
  },
  back() { this.go(-1); }, forward() { this.go(1); },
});
class Storage {
  get length() { return Object.keys(this).length; }
  key(i) { return Object.keys(this)[i] ?? null; }
  getItem(k) { return Object.hasOwn(this, k) ? this[k] : null; }
  setItem(k, v) { Object.defineProperty(this, String(k), { value: String(v), writable: true, enumerable: true, configurable: true }); }
  removeItem(k) { delete this[k]; }
  clear() { for (const k of Object.keys(this)) delete this[k]; }
}
expose(Storage);
hide(globalThis, 'localStorage', new Storage());
hide(globalThis, 'sessionStorage', new Storage());

// --- style ---------------------------------------------------------------------------------------------------------

const BLOCKS = new Set('address article aside blockquote body center dd details dialog dir div dl dt fieldset figcaption figure footer form h1 h2 h3 h4 h5 h6 header hgroup hr html legend listing main menu nav ol p plaintext pre search section summary ul xmp'.split(' '));
class MediaQueryList extends EventTarget {
  addListener(f) { this.addEventListener('change', f); }
  removeListener(f) { this.removeEventListener('change', f); }
}
defineHandlers(MediaQueryList.prototype, ['change']);
hide(globalThis, 'matchMedia', (media) => {
  const list = Object.create(MediaQueryList.prototype);
  hide(list, 'media', String(media));
  accessor(list, 'matches', () => native.media(String(media)));
  mediaLists.push({ list: new WeakRef(list), matched: list.matches });
  return list;
});
let mediaLists = [];
/** Another size of the window: the event, and a change of each media query that answers otherwise now (CSSOM View §13.1). */
const resize = (width, height) => {
  Object.assign(globalThis, { innerWidth: width, innerHeight: height, outerWidth: width, outerHeight: height });
  native.set_viewport(width, height);
  fire(globalThis, new UIEvent('resize', { view: globalThis }));
  mediaLists = mediaLists.filter((entry) => entry.list.deref());
  for (const entry of mediaLists) {
    const list = entry.list.deref();
    if (list.matches === entry.matched) continue;
    entry.matched = list.matches;
    fire(list, Object.assign(new Event('change'), { matches: list.matches, media: list.media }));
  }
};
expose(MediaQueryList);
/** A person who is asked for a colour of the screen calls it off. */
class EyeDropper { open() { return Promise.reject(new DOMException('The user canceled the selection.', 'AbortError')); } }
expose(EyeDropper);
/** CSS Properties and Values API §4: the names of custom properties that scripts registered. */
const registered = new Set();
const registerProperty = (definition) => {
  if (definition?.name === undefined || definition.inherits === undefined) throw new TypeError("Failed to execute 'registerProperty' on 'CSS': members `name` and `inherits` are required.");
  const [name, syntax, initial] = [String(definition.name), String(definition.syntax ?? '*'), definition.initialValue];
  if (!name.startsWith('--') || name === '--') throw new DOMException(`'${name}' is no name of a custom property.`, 'SyntaxError');
  if (registered.has(name)) throw new DOMException(`'${name}' is registered already.`, 'InvalidModificationError');
  if (syntax !== '*' && initial === undefined) throw new DOMException('An initial value must be given where the syntax is not \'*\'.', 'SyntaxError');
  registered.add(name);
  native.register_property(name, initial === undefined ? undefined : String(initial).trim(), !!definition.inherits);
};
hide(globalThis, 'CSS', {
  registerProperty,
  escape: (s) => String(s).replace(/[\0]|^-?\d|^-$|[^\w\u0080-\uffff-]/g, (c) => (c === '\0' ? '\ufffd' : /\d$/.test(c) ? `${c.length > 1 ? '-' : ''}\\${c.charCodeAt(c.length - 1).toString(16)} ` : '\\' + c)),
  supports: (a, b) => (b === undefined ? native.supports_text(String(a)) : native.supports(propertyName(a), String(b))),
});

// --- messages, abort, cloning, encoding ------------------------------------------------------------------------------

class BroadcastChannel extends EventTarget { constructor(name) { super(); this.name = name; } postMessage() {} close() {} }
/** DOM §3.2: a signal may follow others, and is aborted with the first of them. */
class AbortSignal extends EventTarget {
  constructor(...given) { if (given[0] !== HOST) throw illegal(); super(); hide(this, LIST, { aborted: false, reason: undefined, steps: [] }); }
  get aborted() { return this[LIST].aborted; }
  get reason() { return this[LIST].reason; }
  throwIfAborted() { if (this.aborted) throw this.reason; }
  static abort(reason) { const signal = new AbortSignal(HOST); abort(signal, reason); return signal; }
  static timeout(ms) {
    const signal = new AbortSignal(HOST);
    setTimeout(() => abort(signal, new DOMException('The time is up.', 'TimeoutError')), ms);
    return signal;
  }
  static any(signals) {
    const signal = new AbortSignal(HOST);
    const all = [...signals];
    for (const one of all) if (!(one instanceof AbortSignal)) throw new TypeError('This is no signal.');
    const first = all.find((one) => one.aborted);
    if (first) { abort(signal, first.reason); return signal; }
    for (const one of all) one[LIST].steps.push(() => abort(signal, one.reason));
    return signal;
  }
}
/** Aborts a signal: what follows it first, then who listens. */
const abort = (signal, reason = new DOMException('The operation was aborted.', 'AbortError')) => {
  const state = signal[LIST];
  if (state.aborted) return;
  Object.assign(state, { aborted: true, reason });
  const steps = state.steps.splice(0);
  for (const step of steps) step();
  fire(signal, new Event('abort'));
};
enumerable(AbortSignal);
defineHandlers(AbortSignal.prototype, ['abort']);
class AbortController {
  #signal = new AbortSignal(HOST);
  get signal() { return this.#signal; }
  abort(reason) { abort(this.#signal, reason); }
}
enumerable(AbortController);
expose(BroadcastChannel, AbortSignal, AbortController);

hide(globalThis, 'structuredClone', (value) => {
  const seen = new Map();
  const copy = (v) => {
    if (typeof v === 'function' || typeof v === 'symbol' || v?.[ID] !== undefined) throw new DOMException(`${show(v)} could not be cloned.`, 'DataCloneError');
    if (typeof v !== 'object' || v === null) return v;
    if (seen.has(v)) return seen.get(v);
    let out;
    if (v instanceof RealDate) out = new Date(v.getTime());
    else if (v instanceof RegExp) out = new RegExp(v.source, v.flags);
    else if (v instanceof PageMap) { seen.set(v, (out = new PageMap())); for (const [k, w] of v) out.set(copy(k), copy(w)); }
    else if (v instanceof Set) { seen.set(v, (out = new Set())); for (const w of v) out.add(copy(w)); }
    else if (ArrayBuffer.isView(v) || v instanceof ArrayBuffer) out = v.slice(0);
    else if (v instanceof Error) { out = new Error(v.message); out.name = v.name; out.stack = v.stack; }
    else { out = Array.isArray(v) ? [] : {}; seen.set(v, out); for (const k of Object.keys(v)) out[k] = copy(v[k]); }
    seen.set(v, out);
    return out;
  };
  return copy(value);
});
const B64 = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';
hide(globalThis, 'btoa', (s) => {
  s = String(s);
  let out = '';
  for (let i = 0; i < s.length; i += 3) {
    const [a, b, c] = [s.charCodeAt(i), s.charCodeAt(i + 1), s.charCodeAt(i + 2)];
    if (a > 255 || b > 255 || c > 255) throw new DOMException('A character is beyond Latin-1.', 'InvalidCharacterError');
    const n = (a << 16) | ((b || 0) << 8) | (c || 0);
    out += B64[n >> 18] + B64[(n >> 12) & 63] + (i + 1 < s.length ? B64[(n >> 6) & 63] : '=') + (i + 2 < s.length ? B64[n & 63] : '=');
  }
  return out;
});
hide(globalThis, 'atob', (s) => {
  s = String(s).replace(/[\t\n\f\r ]/g, '').replace(/={1,2}$/, '');
  if (/[^A-Za-z0-9+/]/.test(s) || s.length % 4 === 1) throw new DOMException('The text is not base64.', 'InvalidCharacterError');
  let out = '';
  for (let i = 0, bits = 0, n = 0; i < s.length; i++) {
    n = (n << 6) | B64.indexOf(s[i]);
    bits += 6;
    if (bits >= 8) { bits -= 8; out += String.fromCharCode((n >> bits) & 255); n &= (1 << bits) - 1; }
  }
  return out;
});
/** A value of a form's entry (XHR §4.1): a text, or a file with a name. */
const entryOf = (value, name) => {
  if (!(value instanceof Blob)) return String(value);
  if (value instanceof File && name === undefined) return value;
  return new File([value], name ?? 'blob', { type: value.type, lastModified: value.lastModified });
};
class FormData {
  #list = [];
  constructor(form, submitter) {
    if (!form) return;
    for (const e of form.elements) {
      if (e[CUSTOM]) { if (!native.disabled(e[ID])) for (const [name, value] of internalEntries(e)) this.append(name, value); continue; }
      if (!e.name || native.disabled(e[ID]) || e instanceof HTMLFieldSetElement || e.localName === 'output' || e.closest('datalist')) continue;
      if (['submit', 'reset', 'button', 'image'].includes(e.type) && e !== submitter) continue;
      if (['checkbox', 'radio'].includes(e.type)) { if (e.checked) this.append(e.name, e.value); }
      else if (e instanceof HTMLSelectElement) { for (const o of e.selectedOptions) if (!native.disabled(o[ID])) this.append(e.name, o.value); }
      else if (e.type === 'file') { for (const f of e.files) this.append(e.name, f); }
      else this.append(e.name, e.value);
    }
  }
  append(k, v, name) { this.#list.push([String(k), entryOf(v, name)]); }
  delete(k) { this.#list = this.#list.filter(([n]) => n !== k); }
  get(k) { return this.#list.find(([n]) => n === k)?.[1] ?? null; }
  getAll(k) { return this.#list.filter(([n]) => n === k).map(([, v]) => v); }
  has(k) { return this.#list.some(([n]) => n === k); }
  set(k, v, name) {
    const i = this.#list.findIndex(([n]) => n === String(k));
    if (i < 0) { this.append(k, v, name); return; }
    this.#list[i][1] = entryOf(v, name);
    this.#list = this.#list.filter(([n], j) => n !== String(k) || j <= i);
  }
  forEach(f, self) { for (const [k, v] of this.#list) f.call(self, v, k, this); }
  entries() { return this.#list.values(); }
  keys() { return this.#list.map(([k]) => k).values(); }
  values() { return this.#list.map(([, v]) => v).values(); }
  [Symbol.iterator]() { return this.entries(); }
}
/** What is dragged or copied (HTML §6.11.3): texts by type, and files. */
class DataTransfer {
  constructor() {
    this.dropEffect = 'none';
    this.effectAllowed = 'all';
    hide(this, LIST, { texts: {}, files: [] });
    const add = (data, type) => { if (data instanceof File) this[LIST].files.push(data); else this[LIST].texts[type] = String(data); };
    const entries = () => [
      ...Object.entries(this[LIST].texts).map(([type, text]) => ({ kind: 'string', type, getAsString: (f) => queueTask(() => f(text)), getAsFile: () => null })),
      ...this[LIST].files.map((file) => ({ kind: 'file', type: file.type, getAsFile: () => file, getAsString() {} })),
    ];
    accessor(this, 'items', () => Object.assign(entries(), { add, clear: () => this.clearData(), remove() {} }));
    accessor(this, 'files', () => fileList(this[LIST].files));
    accessor(this, 'types', () => [...Object.keys(this[LIST].texts), ...(this[LIST].files.length ? ['Files'] : [])]);
  }
  setData(type, text) { this[LIST].texts[type === 'text' ? 'text/plain' : type] = String(text); }
  getData(type) { return this[LIST].texts[type === 'text' ? 'text/plain' : type] ?? ''; }
  clearData(type) { if (type === undefined) this[LIST].texts = {}; else delete this[LIST].texts[type]; }
  setDragImage() {}
}
expose(FormData, DataTransfer);

// Requests, answered from a list that the host gives: Fetch, XMLHttpRequest. Nothing leaves the process; delays are virtual.

/**
 * `{ method, path, replies: [{ status, headers, text, after } | { fail: true, after }] }`: they come in turn, the last again and again;
 * a `*` in a path stands for anything.
 */
let answers = null;
/** What was asked for since the host last took it. */
let requests = [];

const matches = (pattern, text) => new RegExp(`^${pattern.split('*').map((p) => p.replace(/[.+?^${}()|[\]\\]/g, '\\$&')).join('.*')}$`).test(text);
const answerTo = (method, url) => {
  const own = url.origin === here.origin ? url.pathname : url.origin + url.pathname;
  return answers?.find((a) => a.method === method && (matches(a.path, own + url.search) || matches(a.path, own)));
};

/**
 * One request: `done(reply)` or `failed(message)` is called as a task, after the delay of the answer. Gives what calls it off.
 */
const exchange = ({ method, url, headers, body }, done, failed) => {
  const answer = answerTo(method, url);
  const shown = url.origin === here.origin ? url.pathname + url.search : url.href;
  requests.push({ method, url: shown, body: body ?? null, answered: !!answer });
  // The host gives the list anew for each case.
  const reply = answer && answer.replies[Math.min(answer.asked ?? 0, answer.replies.length - 1)];
  if (answer) answer.asked = (answer.asked ?? 0) + 1;
  const after = reply?.after ?? 0;
  const timer = setTimeout(() => {
    if (!answer) failed(`A component on the stage has no network: ${method} ${shown} was not sent${answers ? ', and no reply is canned for it' : ''}.`);
    else if (reply.fail) failed('Failed to fetch');
    else done(reply);
  }, after);
  return () => clearTimeout(timer);
};

/** A body as text, and the type that it brings. */
const bodyText = (body) => {
  if (body == null) return [null, null];
  if (typeof body === 'string') return [body, 'text/plain;charset=UTF-8'];
  if (body instanceof URLSearchParams) return [body.toString(), 'application/x-www-form-urlencoded;charset=UTF-8'];
  if (body instanceof Blob) return [body[LIST], body.type || null];
  if (body instanceof FormData) return [new URLSearchParams([...body].map(([k, v]) => [k, v instanceof File ? v.name : v])).toString(), 'multipart/form-data'];
  if (ArrayBuffer.isView(body) || body instanceof ArrayBuffer) return [new TextDecoder().decode(body), null];
  return [String(body), 'text/plain;charset=UTF-8'];
};

/** What requests and replies have in common (Fetch §5.3). */
class Body {
  get bodyUsed() { return this[LIST].used; }
  get body() { return null; }
  #text() {
    if (this[LIST].used) return Promise.reject(new TypeError('The body was read already.'));
    this[LIST].used = true;
    return Promise.resolve(this[LIST].text ?? '');
  }
  text() { return this.#text(); }
  json() { return this.#text().then((t) => JSON.parse(t)); }
  blob() { return this.#text().then((t) => new Blob([t], { type: this.headers.get('content-type') ?? '' })); }
  arrayBuffer() { return this.#text().then((t) => new TextEncoder().encode(t).buffer); }
  formData() { return this.#text().then((t) => { const f = new FormData(); for (const [k, v] of new URLSearchParams(t)) f.append(k, v); return f; }); }
}
class Request extends Body {
  constructor(input, init = {}) {
    super();
    const from = input instanceof Request ? input : null;
    const [text, type] = init.body !== undefined ? bodyText(init.body) : [from?.[LIST].text ?? null, null];
    this.url = new URL(from ? from.url : String(input), here.href).href;
    this.method = String(init.method ?? from?.method ?? 'GET').toUpperCase();
    this.headers = new Headers(init.headers ?? from?.headers ?? {});
    this.signal = init.signal ?? from?.signal ?? new AbortController().signal;
    Object.assign(this, { credentials: init.credentials ?? 'same-origin', mode: init.mode ?? 'cors', cache: init.cache ?? 'default', redirect: init.redirect ?? 'follow' });
    if (text !== null && (this.method === 'GET' || this.method === 'HEAD')) throw new TypeError('A request with GET or HEAD has no body.');
    if (type && !this.headers.has('content-type')) this.headers.set('content-type', type);
    hide(this, LIST, { text, used: false });
  }
  clone() { return new Request(this); }
}
class Response extends Body {
  constructor(body = null, init = {}) {
    super();
    const [text, type] = bodyText(body);
    this.status = init.status ?? 200;
    if (this.status < 200 || this.status > 599) throw new RangeError(`${this.status} is no status of a reply.`);
    this.statusText = init.statusText ?? '';
    this.headers = new Headers(init.headers ?? {});
    if (type && !this.headers.has('content-type')) this.headers.set('content-type', type);
    Object.assign(this, { type: 'default', url: '', redirected: false });
    hide(this, LIST, { text, used: false });
  }
  get ok() { return this.status >= 200 && this.status < 300; }
  clone() { const c = new Response(this[LIST].text, this); c.url = this.url; return c; }
  static json(data, init = {}) { const r = new Response(JSON.stringify(data), init); r.headers.set('content-type', 'application/json'); return r; }
  static error() { const r = new Response(); r.status = 0; r.type = 'error'; return r; }
}
hide(globalThis, 'fetch', (input, init) => new Promise((resolve, reject) => {
  const request = new Request(input, init);
  const gone = () => reject(request.signal.reason);
  if (request.signal.aborted) return gone();
  const off = exchange({ method: request.method, url: new URL(request.url), headers: request.headers, body: request[LIST].text }, (reply) => {
    const response = new Response(reply.text ?? null, { status: reply.status ?? 200, headers: reply.headers ?? {} });
    response.url = request.url;
    response.type = 'basic';
    resolve(response);
  }, (message) => reject(new TypeError(message)));
  request.signal.addEventListener('abort', () => { off(); gone(); }, { once: true });
}));
expose(Request, Response);

/** XMLHttpRequest, as far as one thread can: it is never synchronous. */
class XMLHttpRequestEventTarget extends EventTarget {}
defineHandlers(XMLHttpRequestEventTarget.prototype, ['loadstart', 'progress', 'abort', 'error', 'load', 'timeout', 'loadend']);
class XMLHttpRequest extends XMLHttpRequestEventTarget {
  #state = 0; #request = null; #reply = null; #off = null;
  responseType = ''; timeout = 0; withCredentials = false;
  upload = new XMLHttpRequestEventTarget();
  get readyState() { return this.#state; }
  get status() { return this.#reply?.status ?? 0; }
  get statusText() { return this.#reply ? 'OK' : ''; }
  get responseURL() { return this.#reply ? this.#request.url.href : ''; }
  get responseText() { return this.#reply?.text ?? ''; }
  get responseXML() { return null; }
  get response() {
    if (this.responseType === '' || this.responseType === 'text') return this.responseText;
    if (this.#state !== 4 || !this.#reply) return null;
    if (this.responseType === 'json') { try { return JSON.parse(this.responseText); } catch { return null; } }
    return this.responseType === 'blob' ? new Blob([this.responseText]) : new TextEncoder().encode(this.responseText).buffer;
  }
  open(method, url) {
    this.#request = { method: String(method).toUpperCase(), url: new URL(String(url), here.href), headers: new Headers() };
    this.#reply = null;
    this.#to(1);
  }
  setRequestHeader(name, value) { this.#request.headers.append(name, value); }
  getResponseHeader(name) { return new Headers(this.#reply?.headers ?? {}).get(name); }
  getAllResponseHeaders() { return [...new Headers(this.#reply?.headers ?? {})].map(([k, v]) => `${k}: ${v}\r\n`).join(''); }
  overrideMimeType() {}
  send(body = null) {
    if (this.#state !== 1) throw new DOMException('The request is not open.', 'InvalidStateError');
    this.#tell('loadstart');
    this.#off = exchange({ ...this.#request, body: bodyText(body)[0] }, (reply) => {
      this.#reply = { status: 200, headers: {}, text: '', ...reply };
      this.#to(2);
      this.#to(3);
      this.#to(4);
      this.#tell('load');
      this.#tell('loadend');
    }, () => { this.#to(4); this.#tell('error'); this.#tell('loadend'); });
  }
  abort() {
    this.#off?.();
    if (this.#state > 0 && this.#state < 4 && this.#off) { this.#to(4); this.#tell('abort'); this.#tell('loadend'); }
    this.#state = 0;
  }
  #to(state) { this.#state = state; fire(this, new Event('readystatechange')); }
  #tell(type) { const n = this.responseText.length; fire(this, new ProgressEvent(type, { lengthComputable: n > 0, loaded: n, total: n })); }
}
defineHandlers(XMLHttpRequest.prototype, ['readystatechange']);
for (const [name, value] of [['UNSENT', 0], ['OPENED', 1], ['HEADERS_RECEIVED', 2], ['LOADING', 3], ['DONE', 4]]) {
  for (const target of [XMLHttpRequest, XMLHttpRequest.prototype]) Object.defineProperty(target, name, { value, enumerable: true });
}
expose(XMLHttpRequestEventTarget, XMLHttpRequest);

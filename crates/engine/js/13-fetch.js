// Fetch, over the exchange.

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
  arrayBuffer() { return this.#text().then((t) => (this[LIST].bytes ? Uint8Array.from(atob(this[LIST].bytes), (c) => c.charCodeAt(0)) : new TextEncoder().encode(t)).buffer); }
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
    if (reply.bytes) response[LIST].bytes = reply.bytes;
    response.type = 'basic';
    resolve(response);
  }, (message) => reject(new TypeError(message)));
  request.signal.addEventListener('abort', () => { off(); gone(); }, { once: true });
}));
expose(Request, Response);

// Fetch, over the exchange (Fetch Standard §5).

/** The text that a request's body is told by, and the type that it brings. */
const bodyText = (body) => {
  if (body == null) return [null, null];
  if (typeof body === 'string') return [body, 'text/plain;charset=UTF-8'];
  if (body instanceof URLSearchParams) return [body.toString(), 'application/x-www-form-urlencoded;charset=UTF-8'];
  if (body instanceof Blob) return [native.decode('utf-8', body[LIST].slice(), false), body.type || null];
  if (body instanceof FormData) return [new URLSearchParams([...body].map(([k, v]) => [k, v instanceof File ? v.name : v])).toString(), null];
  if (ArrayBuffer.isView(body) || body instanceof ArrayBuffer) return [native.decode('utf-8', bytesOf(body).slice(), false), null];
  return [String(body), 'text/plain;charset=UTF-8'];
};
let boundaries = 0;
/** The entries of a form as parts (RFC 7578). */
const multipart = (form) => {
  const boundary = `----stage-boundary-${String(++boundaries).padStart(16, '0')}`;
  const quoted = (name) => String(name).replace(/\r\n?|\n/g, '%0D%0A').replaceAll('"', '%22');
  const parts = [];
  for (const [name, value] of form) {
    const file = value instanceof File;
    const head = `--${boundary}\r\nContent-Disposition: form-data; name="${quoted(name)}"`;
    parts.push(encoded(file ? `${head}; filename="${quoted(value.name)}"\r\nContent-Type: ${value.type || 'application/octet-stream'}\r\n\r\n` : `${head}\r\n\r\n`));
    parts.push(file ? value[LIST] : encoded(value), encoded('\r\n'));
  }
  parts.push(encoded(`--${boundary}--\r\n`));
  return [joinedBytes(parts), `multipart/form-data; boundary=${boundary}`];
};
/** A body's bytes or stream, its text, and the type that it brings. */
const extracted = (body) => {
  if (body == null) return { bytes: null, type: null, text: null };
  if (isStream(body)) {
    if (body.locked) throw new TypeError('The stream is in use.');
    return { bytes: null, stream: body, type: null, text: null };
  }
  const [text, type] = bodyText(body);
  if (body instanceof FormData) { const [bytes, made] = multipart(body); return { bytes, type: made, text }; }
  if (body instanceof Blob) return { bytes: body[LIST], type, text };
  if (ArrayBuffer.isView(body) || body instanceof ArrayBuffer) return { bytes: bytesOf(body).slice(), type, text };
  return { bytes: encoded(text), type, text };
};

const TOKEN = /^[!#$%&'*+\-.^_`|~0-9A-Za-z]+$/;
class Headers {
  #list = [];
  #guard = '';
  constructor(init = undefined) {
    if (init === undefined) return;
    if (init === null || typeof init !== 'object') throw new TypeError('Headers are a list or an object.');
    if (typeof init[Symbol.iterator] === 'function') {
      for (const pair of init) {
        const both = [...pair];
        if (both.length !== 2) throw new TypeError('A header is a name and a value.');
        this.append(both[0], both[1]);
      }
    } else for (const name of Reflect.ownKeys(init)) if (Object.getOwnPropertyDescriptor(init, name)?.enumerable) this.append(name, init[name]);
  }
  /** The name in small letters, and the value without blanks around it. */
  #of(name, value) {
    name = String(name);
    if (!TOKEN.test(name)) throw new TypeError(`'${name}' is no name of a header.`);
    if (value !== undefined) {
      value = String(value).replace(/^[\t\n\r ]+|[\t\n\r ]+$/g, '');
      if (/[\0\r\n]|[^\0-\xff]/.test(value)) throw new TypeError(`'${value}' is no value of a header.`);
    }
    if (this.#guard === 'immutable' && value !== undefined) throw new TypeError('These headers cannot be changed.');
    return [name.toLowerCase(), value];
  }
  append(name, value) { this.#list.push(this.#of(name, value)); }
  delete(name) { [name] = this.#of(name, ''); this.#list = this.#list.filter(([n]) => n !== name); }
  get(name) { [name] = this.#of(name); const found = this.#list.filter(([n]) => n === name); return found.length ? found.map(([, v]) => v).join(', ') : null; }
  getSetCookie() { return this.#list.filter(([n]) => n === 'set-cookie').map(([, v]) => v); }
  has(name) { [name] = this.#of(name); return this.#list.some(([n]) => n === name); }
  set(name, value) {
    [name, value] = this.#of(name, value);
    const at = this.#list.findIndex(([n]) => n === name);
    if (at < 0) { this.#list.push([name, value]); return; }
    this.#list[at][1] = value;
    this.#list = this.#list.filter(([n], i) => n !== name || i <= at);
  }
  forEach(work, self) { for (const [name, value] of this) work.call(self, value, name, this); }
  *entries() {
    const names = [...new Set(this.#list.map(([n]) => n))].sort();
    for (const name of names) {
      if (name === 'set-cookie') for (const value of this.getSetCookie()) yield [name, value];
      else yield [name, this.get(name)];
    }
  }
  *keys() { for (const [name] of this.entries()) yield name; }
  *values() { for (const [, value] of this.entries()) yield value; }
  [Symbol.iterator]() { return this.entries(); }
}
enumerable(Headers);

/** What requests and replies have in common (Fetch §5.3). */
class Body {
  get bodyUsed() { const state = this[LIST]; return state.used || !!state.stream?._disturbed; }
  get body() {
    const state = this[LIST];
    if (!state.stream && state.bytes) state.stream = streamOf(state.bytes);
    return state.stream ?? null;
  }
  /** All of the body, once. */
  async #all() {
    const state = this[LIST];
    if (this.bodyUsed || state.stream?.locked) throw new TypeError('The body was read already.');
    if (state.stream) return drained(state.stream);
    if (!state.bytes) return new Uint8Array(0);
    state.used = true;
    return state.bytes.slice();
  }
  async #text() { return native.decode('utf-8', await this.#all(), false).replace(/^\ufeff/, ''); }
  text() { return this.#text(); }
  json() { return this.#text().then((text) => JSON.parse(text)); }
  bytes() { return this.#all(); }
  arrayBuffer() { return this.#all().then((bytes) => bytes.buffer); }
  blob() { const type = this.headers.get('content-type') ?? ''; return this.#all().then((bytes) => new Blob([bytes], { type })); }
  async formData() {
    const type = this.headers.get('content-type') ?? '';
    const boundary = /boundary=(?:"([^"]+)"|([^;\s]+))/i.exec(type);
    const form = new FormData();
    if (/^multipart\/form-data/i.test(type) && boundary) {
      const text = binary(await this.#all());
      for (const part of text.split(`--${boundary[1] ?? boundary[2]}`).slice(1, -1)) {
        const [head, ...rest] = part.replace(/^\r\n/, '').split('\r\n\r\n');
        const content = unbinary(rest.join('\r\n\r\n').replace(/\r\n$/, ''));
        const name = native.decode('utf-8', unbinary(/\bname="([^"]*)"/i.exec(head)?.[1] ?? ''), false);
        const file = /\bfilename="([^"]*)"/i.exec(head);
        const kind = /^content-type:\s*(.*)$/im.exec(head)?.[1]?.trim() ?? '';
        form.append(name, file ? new File([content], file[1], { type: kind }) : native.decode('utf-8', content, false));
      }
      return form;
    }
    if (!/^application\/x-www-form-urlencoded/i.test(type)) throw new TypeError('The body is no form.');
    for (const [name, value] of new URLSearchParams(await this.#text())) form.append(name, value);
    return form;
  }
}
/** The state of a body that is another's, which keeps its own. */
const clonedBody = (of) => {
  const state = of[LIST];
  if (of.bodyUsed || state.stream?.locked) throw new TypeError('The body was read already.');
  if (!state.stream) return { ...state };
  const [mine, other] = state.stream.tee();
  state.stream = mine;
  return { ...state, stream: other, used: false };
};
const METHODS = ['DELETE', 'GET', 'HEAD', 'OPTIONS', 'POST', 'PUT'];
class Request extends Body {
  #init;
  constructor(input, init = {}) {
    super();
    init ??= {};
    const from = input instanceof Request ? input : null;
    const url = new URL(from ? from.url : String(input), document.baseURI);
    if (url.username || url.password) throw new TypeError('An address with a name and a password is no request\'s.');
    const given = String(init.method ?? from?.method ?? 'GET');
    if (!TOKEN.test(given) || /^(CONNECT|TRACE|TRACK)$/i.test(given)) throw new TypeError(`'${given}' is no method.`);
    const method = METHODS.includes(given.toUpperCase()) ? given.toUpperCase() : given;
    const plain = (name, otherwise) => String(init[name] ?? from?.[name] ?? otherwise);
    const signal = init.signal === undefined ? from?.signal : init.signal;
    this.#init = {
      url: url.href, method, headers: new Headers(init.headers ?? from?.headers),
      signal: signal ? AbortSignal.any([signal]) : new AbortController().signal,
      mode: plain('mode', 'cors'), credentials: plain('credentials', 'same-origin'), cache: plain('cache', 'default'),
      redirect: plain('redirect', 'follow'), referrer: plain('referrer', 'about:client'), referrerPolicy: plain('referrerPolicy', ''),
      integrity: plain('integrity', ''), keepalive: !!(init.keepalive ?? from?.keepalive),
    };
    const has = init.body != null || from && init.body === undefined && (from[LIST].bytes || from[LIST].stream);
    if (has && (method === 'GET' || method === 'HEAD')) throw new TypeError('A request with GET or HEAD has no body.');
    if (init.body != null) {
      const body = extracted(init.body);
      if (body.type && !this.headers.has('content-type')) this.headers.append('content-type', body.type);
      hide(this, LIST, { ...body, used: false });
    } else if (has) {
      if (from.bodyUsed) throw new TypeError('The body was read already.');
      hide(this, LIST, { ...from[LIST], used: false });
      from[LIST].used = true;
    } else hide(this, LIST, { bytes: null, text: null, used: false });
  }
  get url() { return this.#init.url; }
  get method() { return this.#init.method; }
  get headers() { return this.#init.headers; }
  get signal() { return this.#init.signal; }
  get mode() { return this.#init.mode; }
  get credentials() { return this.#init.credentials; }
  get cache() { return this.#init.cache; }
  get redirect() { return this.#init.redirect; }
  get referrer() { return this.#init.referrer; }
  get referrerPolicy() { return this.#init.referrerPolicy; }
  get integrity() { return this.#init.integrity; }
  get keepalive() { return this.#init.keepalive; }
  get destination() { return ''; }
  get duplex() { return 'half'; }
  clone() {
    const state = clonedBody(this);
    const copy = new Request(this.url, { ...this.#init, url: undefined });
    hide(copy, LIST, state);
    return copy;
  }
}
/** Statuses of replies that have no body. */
const EMPTY = [101, 103, 204, 205, 304];
class Response extends Body {
  #init;
  constructor(body = null, init = {}) {
    super();
    init ??= {};
    const status = init.status === undefined ? 200 : Math.trunc(Number(init.status));
    if (init[HOST] === undefined && !(status >= 200 && status <= 599)) throw new RangeError(`${init.status} is no status of a reply.`);
    const statusText = String(init.statusText ?? '');
    if (/[^\t\x20-\x7e\x80-\xff]/.test(statusText)) throw new TypeError('This is no text of a status.');
    this.#init = { status, statusText, headers: new Headers(init.headers), type: 'default', url: '', redirected: false, ...init[HOST] };
    if (body != null && EMPTY.includes(status)) throw new TypeError(`A reply with the status ${status} has no body.`);
    const state = extracted(body);
    if (state.type && !this.headers.has('content-type')) this.headers.append('content-type', state.type);
    hide(this, LIST, { ...state, used: false });
  }
  get status() { return this.#init.status; }
  get statusText() { return this.#init.statusText; }
  get headers() { return this.#init.headers; }
  get type() { return this.#init.type; }
  get url() { return this.#init.url; }
  get redirected() { return this.#init.redirected; }
  get ok() { return this.status >= 200 && this.status < 300; }
  clone() {
    const state = clonedBody(this);
    const { status, statusText, headers, type, url, redirected } = this.#init;
    const copy = new Response(null, { status, statusText, headers, [HOST]: { type, url, redirected } });
    hide(copy, LIST, state);
    return copy;
  }
  static json(data, init = {}) {
    const text = JSON.stringify(data);
    if (text === undefined) throw new TypeError('This is no JSON.');
    const headers = new Headers(init?.headers);
    if (!headers.has('content-type')) headers.set('content-type', 'application/json');
    return new Response(text, { ...init, headers });
  }
  static error() { return new Response(null, { status: 0, [HOST]: { type: 'error' } }); }
  static redirect(url, status = 302) {
    if (![301, 302, 303, 307, 308].includes(status)) throw new RangeError(`${status} is no status of a redirect.`);
    return new Response(null, { status, headers: { location: new URL(String(url), document.baseURI).href } });
  }
}
for (const c of [Body, Request, Response]) enumerable(c);
for (const name of Object.getOwnPropertyNames(Body.prototype)) {
  // Web IDL mixes a body into each: neither inherits it from the other.
  if (name === 'constructor') continue;
  for (const c of [Request, Response]) Object.defineProperty(c.prototype, name, Object.getOwnPropertyDescriptor(Body.prototype, name));
}
for (const c of [Request, Response]) Object.setPrototypeOf(c.prototype, Object.prototype);

/** What an address holds that is no server's: `data:` and blobs; none for any other. */
const heldBy = (url) => {
  if (url.protocol === 'data:') {
    const [, type, base64, data] = /^data:([^,]*?)(;\s*base64)?,([\s\S]*)$/i.exec(url.href) ?? [];
    if (data === undefined) return { fail: true };
    const text = decodeURIComponent(data.replace(/%(?![0-9a-f]{2})/gi, '%25'));
    return { bytes: base64 ? unbinary(atob(text)) : encoded(text), type: type || 'text/plain;charset=US-ASCII' };
  }
  if (url.protocol === 'blob:') {
    const blob = blobAddresses.get(url.href);
    return blob ? { bytes: blob[LIST], type: blob.type } : { fail: true };
  }
  return null;
};
hide(globalThis, 'fetch', (input, init) => new Promise((resolve, reject) => {
  const request = new Request(input, init);
  const gone = () => reject(request.signal.reason);
  if (request.signal.aborted) return gone();
  const url = new URL(request.url);
  const failed = (message) => reject(new TypeError(message));
  const own = heldBy(url);
  if (own) {
    if (own.fail) return failed('Failed to fetch');
    resolve(new Response(own.bytes, { headers: own.type ? { 'content-type': own.type } : {}, [HOST]: { type: 'basic', url: request.url } }));
    return;
  }
  const send = (text) => {
    let body = null;
    const off = exchange({ method: request.method, url, headers: request.headers, body: text }, (reply) => {
      const status = reply.status ?? 200;
      const bytes = EMPTY.includes(status) || request.method === 'HEAD' ? null : reply.bytes ? unbinary(atob(reply.bytes)) : encoded(reply.text ?? '');
      const response = new Response(bytes, {
        status, statusText: reply.statusText ?? STATUS[status] ?? '', headers: reply.headers ?? {}, [HOST]: { type: 'basic', url: request.url },
      });
      body = response[LIST];
      resolve(response);
    }, failed);
    request.signal[LIST].steps.push(() => { off(); gone(); if (body && !body.stream) body.used = true; });
  };
  const { stream, text } = request[LIST];
  if (stream) drained(stream).then((bytes) => send(native.decode('utf-8', bytes, false)), reject);
  else send(text);
}));
expose(Headers, Request, Response);

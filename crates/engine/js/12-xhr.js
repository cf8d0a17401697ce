// XMLHttpRequest, over the exchange (XMLHttpRequest Standard §3). Shared with the stage in a real browser.

class XMLHttpRequestEventTarget extends EventTarget {}
defineHandlers(XMLHttpRequestEventTarget.prototype, ['loadstart', 'progress', 'abort', 'error', 'load', 'timeout', 'loadend']);
class XMLHttpRequestUpload extends XMLHttpRequestEventTarget {}
const RESPONSE_TYPES = ['', 'arraybuffer', 'blob', 'document', 'json', 'text'];
/** As far as one thread can: it is never synchronous. */
class XMLHttpRequest extends XMLHttpRequestEventTarget {
  #state = 0; #sent = false; #request = null; #reply = null; #bytes = null; #off = null; #type = ''; #mime = null; #timeout = 0; #timer = null; #made;
  #upload = new XMLHttpRequestUpload();
  withCredentials = false;
  get upload() { return this.#upload; }
  get readyState() { return this.#state; }
  get timeout() { return this.#timeout; }
  set timeout(ms) { this.#timeout = Math.max(0, Math.trunc(Number(ms)) || 0); }
  get status() { return this.#reply?.status ?? 0; }
  get statusText() { return this.#reply ? this.#reply.statusText ?? STATUS[this.#reply.status] ?? '' : ''; }
  get responseURL() { return this.#reply ? this.#request.url.href.replace(/#.*$/, '') : ''; }
  get responseType() { return this.#type; }
  set responseType(type) {
    if (this.#state > 2) throw new DOMException('The reply is there already.', 'InvalidStateError');
    if (RESPONSE_TYPES.includes(String(type))) this.#type = String(type);
  }
  get responseText() {
    if (this.#type !== '' && this.#type !== 'text') throw new DOMException('The reply is asked for as something else.', 'InvalidStateError');
    return this.#text();
  }
  get responseXML() {
    if (this.#type !== '' && this.#type !== 'document') throw new DOMException('The reply is asked for as something else.', 'InvalidStateError');
    return this.#document();
  }
  get response() {
    if (this.#type === '' || this.#type === 'text') return this.#text();
    if (this.#state !== 4 || !this.#reply) return null;
    return (this.#made ??= { made: this.#as() }).made;
  }
  #text() { return this.#bytes && this.#state >= 3 ? new TextDecoder().decode(this.#bytes) : ''; }
  #kind() { return this.#mime ?? new Headers(this.#reply?.headers ?? {}).get('content-type') ?? ''; }
  #as() {
    if (this.#type === 'json') { try { return JSON.parse(this.#text()); } catch { return null; } }
    if (this.#type === 'blob') return new Blob([this.#bytes], { type: this.#kind() || 'text/xml' });
    if (this.#type === 'document') return this.#document();
    return this.#bytes.slice().buffer;
  }
  #document() {
    const type = this.#kind().split(';')[0].trim().toLowerCase();
    if (this.#state !== 4 || !this.#reply || !(type === 'text/html' && this.#type === 'document' || /^(?:text|application)\/xml$|\+xml$/.test(type))) return null;
    return new DOMParser().parseFromString(this.#text(), type);
  }
  open(method, url, later = true, user, password) {
    method = String(method);
    if (!/^[!#$%&'*+\-.^_`|~0-9A-Za-z]+$/.test(method)) throw new DOMException(`'${method}' is no method.`, 'SyntaxError');
    if (/^(?:CONNECT|TRACE|TRACK)$/i.test(method)) throw new DOMException(`'${method}' is not allowed.`, 'SecurityError');
    let address;
    try { address = new URL(String(url), document.baseURI); } catch { throw new DOMException(`'${url}' is no address.`, 'SyntaxError'); }
    this.#off?.();
    const upper = method.toUpperCase();
    this.#request = { method: ['DELETE', 'GET', 'HEAD', 'OPTIONS', 'POST', 'PUT'].includes(upper) ? upper : method, url: address, headers: new Headers() };
    this.#sent = false; this.#reply = this.#bytes = this.#off = null; this.#made = undefined;
    if (this.#state !== 1) this.#to(1);
  }
  setRequestHeader(name, value) {
    if (this.#state !== 1 || this.#sent) throw new DOMException('The request is not open.', 'InvalidStateError');
    try { this.#request.headers.append(name, value); } catch { throw new DOMException('This is no header.', 'SyntaxError'); }
  }
  getResponseHeader(name) { return this.#reply ? new Headers(this.#reply.headers).get(name) : null; }
  getAllResponseHeaders() { return this.#reply ? [...new Headers(this.#reply.headers)].map(([k, v]) => `${k}: ${v}\r\n`).join('') : ''; }
  overrideMimeType(type) {
    if (this.#state > 2) throw new DOMException('The reply is there already.', 'InvalidStateError');
    this.#mime = String(type);
  }
  send(body = null) {
    if (this.#state !== 1 || this.#sent) throw new DOMException('The request is not open.', 'InvalidStateError');
    const { method, headers } = this.#request;
    const [text, type] = method === 'GET' || method === 'HEAD' ? [null, null] : bodyText(body);
    if (type && !headers.has('content-type')) headers.set('content-type', type);
    this.#sent = true;
    const size = text === null ? 0 : new TextEncoder().encode(text).length;
    this.#tell(this, 'loadstart', 0, 0);
    if (size) this.#tell(this.#upload, 'loadstart', 0, size);
    if (this.#state !== 1 || !this.#sent) return;
    if (this.#timeout) this.#timer = setTimeout(() => { this.#off?.(); this.#fail('timeout'); }, this.#timeout);
    this.#off = exchange({ ...this.#request, body: text }, (reply) => {
      const uploaded = (type) => { if (size) this.#tell(this.#upload, type, size, size); };
      for (const type of ['progress', 'load', 'loadend']) uploaded(type);
      this.#reply = { status: 200, headers: {}, ...reply };
      this.#to(2);
      if (this.#state !== 2) return;
      this.#bytes = method === 'HEAD' ? new Uint8Array(0) : reply.bytes ? Uint8Array.from(atob(reply.bytes), (c) => c.charCodeAt(0)) : new TextEncoder().encode(reply.text ?? '');
      this.#to(3);
      if (this.#state !== 3) return;
      const n = this.#bytes.length;
      this.#tell(this, 'progress', n, n);
      this.#rest();
      this.#to(4);
      this.#tell(this, 'load', n, n);
      this.#tell(this, 'loadend', n, n);
    }, () => this.#fail('error'));
  }
  abort() {
    this.#off?.();
    if (this.#state === 1 && this.#sent || this.#state === 2 || this.#state === 3) this.#fail('abort');
    if (this.#state === 4) { this.#state = 0; this.#reply = this.#bytes = null; }
  }
  #rest() { this.#sent = false; this.#off = null; if (this.#timer !== null) clearTimeout(this.#timer); this.#timer = null; }
  #fail(type) {
    this.#reply = this.#bytes = null;
    this.#rest();
    this.#to(4);
    this.#tell(this, type, 0, 0);
    this.#tell(this, 'loadend', 0, 0);
  }
  #to(state) { this.#state = state; fire(this, new Event('readystatechange')); }
  #tell(target, type, loaded, total) { fire(target, new ProgressEvent(type, { lengthComputable: total > 0, loaded, total })); }
}
defineHandlers(XMLHttpRequest.prototype, ['readystatechange']);
for (const [name, value] of [['UNSENT', 0], ['OPENED', 1], ['HEADERS_RECEIVED', 2], ['LOADING', 3], ['DONE', 4]]) {
  for (const target of [XMLHttpRequest, XMLHttpRequest.prototype]) Object.defineProperty(target, name, { value, enumerable: true });
}
expose(XMLHttpRequestEventTarget, XMLHttpRequestUpload, XMLHttpRequest);

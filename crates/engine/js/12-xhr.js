// XMLHttpRequest, over the exchange. Shared with the stage in a real browser.

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

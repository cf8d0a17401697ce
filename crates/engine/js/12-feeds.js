// Connections over which a server speaks by itself: EventSource (HTML §9.2) and WebSocket (WebSockets Standard §3), over the list of canned
// messages. Nothing leaves the process; delays are virtual. Shared with the stage in a real browser.

/** Connections that are open, or about to be. */
const connections = new Set();
/** How many messages of theirs wait for their time: those are the server's timers, and no component's. */
const messagesWaiting = () => { let count = 0; for (const connection of connections) count += connection.timers.size; return count; };

/**
 * Opens a connection to what is canned for a method and an address. `told` is called as tasks: `opened()`, `message({ text, event, id })` each after
 * its time from the opening on, `closed(code)` where the server ends it, `failed()` where nothing answers.
 */
const connect = (method, url, told) => {
  const http = new URL(url.href.replace(/^ws/, 'http'));
  const answer = answerTo(method, http);
  const shown = http.origin === here.origin ? http.pathname + http.search : http.href;
  requests.push({ method, url: shown, body: null, answered: !!answer });
  const connection = {
    timers: new Set(), shown,
    after(ms, what) {
      const timer = setTimeout(() => { connection.timers.delete(timer); what(); }, ms);
      connection.timers.add(timer);
    },
    end() {
      for (const timer of connection.timers) clearTimeout(timer);
      connection.timers.clear();
      connections.delete(connection);
    },
  };
  connections.add(connection);
  const feed = answer?.messages ?? [];
  const failing = !answer || answer.replies?.[0]?.fail;
  connection.after(answer?.replies?.[0]?.after ?? 0, () => {
    if (failing) { connection.end(); told.failed(); return; }
    told.opened();
    for (const message of feed) {
      connection.after(message.after ?? 0, () => {
        if (message.close === undefined || message.close === null) told.message(message);
        else { connection.end(); told.closed(message.close); }
      });
    }
  });
  return connection;
};
/** An address that a script gives, by the page's own. */
const addressOf = (given) => {
  try { return new URL(String(given), document.baseURI); } catch { throw new DOMException(`'${given}' is no address.`, 'SyntaxError'); }
};
const readyStates = (C, names) => {
  names.forEach((name, value) => { for (const target of [C, C.prototype]) Object.defineProperty(target, name, { value, enumerable: true }); });
};

class EventSource extends EventTarget {
  #url; #state = 0; #credentials; #connection;
  constructor(url, init = {}) {
    super();
    this.#url = addressOf(url);
    this.#credentials = !!init?.withCredentials;
    const shut = () => { this.#state = 2; fire(this, new Event('error')); };
    this.#connection = connect('EVENTS', this.#url, {
      opened: () => { this.#state = 1; fire(this, new Event('open')); },
      message: ({ text, event, id }) => fire(this, new MessageEvent(event || 'message', { data: text, origin: this.#url.origin, lastEventId: id ?? '' })),
      closed: shut, failed: shut,
    });
  }
  get url() { return this.#url.href; }
  get withCredentials() { return this.#credentials; }
  get readyState() { return this.#state; }
  close() { this.#state = 2; this.#connection.end(); }
}
defineHandlers(EventSource.prototype, ['open', 'message', 'error']);
readyStates(EventSource, ['CONNECTING', 'OPEN', 'CLOSED']);

class WebSocket extends EventTarget {
  #url; #state = 0; #protocol = ''; #kind = 'blob'; #connection;
  constructor(url, protocols = []) {
    super();
    const address = addressOf(url);
    const scheme = { 'http:': 'ws:', 'https:': 'wss:' }[address.protocol] ?? address.protocol;
    this.#url = new URL(scheme + address.href.slice(address.protocol.length));
    if (!/^wss?:$/.test(scheme)) throw new DOMException(`'${address.protocol}' is no scheme of a socket.`, 'SyntaxError');
    if (address.hash) throw new DOMException('The address of a socket has no fragment.', 'SyntaxError');
    const wanted = (typeof protocols === 'string' ? [protocols] : [...protocols]).map(String);
    if (new Set(wanted).size < wanted.length || !wanted.every((p) => /^[!#$%&'*+\-.^_`|~0-9A-Za-z]+$/.test(p))) throw new DOMException('The protocols are not valid.', 'SyntaxError');
    this.#connection = connect('WS', this.#url, {
      opened: () => { this.#state = 1; this.#protocol = wanted[0] ?? ''; fire(this, new Event('open')); },
      message: ({ text }) => fire(this, new MessageEvent('message', { data: text, origin: this.#url.origin })),
      closed: (code) => this.#shut(true, code, ''),
      failed: () => { this.#state = 3; fire(this, new Event('error')); this.#shut(false, 1006, ''); },
    });
  }
  get url() { return this.#url.href; }
  get readyState() { return this.#state; }
  get protocol() { return this.#protocol; }
  get extensions() { return ''; }
  get bufferedAmount() { return 0; }
  get binaryType() { return this.#kind; }
  set binaryType(kind) { if (['blob', 'arraybuffer'].includes(String(kind))) this.#kind = String(kind); }
  send(data) {
    if (this.#state === 0) throw new DOMException('The socket is not open yet.', 'InvalidStateError');
    if (this.#state !== 1) return;
    requests.push({ method: 'WS', url: this.#connection.shown, body: typeof data === 'string' ? data : bodyText(data) ?? String(data), answered: true });
  }
  close(code, reason = '') {
    if (code !== undefined && code !== 1000 && !(code >= 3000 && code <= 4999)) throw new DOMException(`A page cannot close a socket with ${code}.`, 'InvalidAccessError');
    if (new TextEncoder().encode(String(reason)).length > 123) throw new DOMException('The reason is too long.', 'SyntaxError');
    if (this.#state > 1) return;
    const opened = this.#state === 1;
    this.#state = 2;
    this.#connection.end();
    setTimeout(() => {
      if (!opened) fire(this, new Event('error'));
      this.#shut(opened, opened ? code ?? 1005 : 1006, opened ? String(reason) : '');
    }, 0);
  }
  #shut(wasClean, code, reason) {
    this.#state = 3;
    fire(this, new CloseEvent('close', { wasClean, code, reason }));
  }
}
defineHandlers(WebSocket.prototype, ['open', 'message', 'error', 'close']);
readyStates(WebSocket, ['CONNECTING', 'OPEN', 'CLOSING', 'CLOSED']);
expose(EventSource, WebSocket);

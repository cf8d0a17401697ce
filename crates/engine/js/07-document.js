// The document, ranges, selection, tree walkers and observers.

/** The local name and the prototype of an HTML element that is created by a name. */
const elementNamed = remembered((written) => {
  const name = String(written).toLowerCase();
  if (!/^[a-z_:][^\s>/\0]*$/.test(name)) throw new DOMException(`'${name}' is not a valid element name.`, 'InvalidCharacterError');
  return { name, proto: prototypeOf('h:' + name), tag: name.toUpperCase() };
});
for (const [C, type] of [[Element, 1], [Text, 3], [Comment, 8], [DocumentFragment, 11]]) hide(C.prototype, TYPE, type);
class Document extends Node {
  get documentElement() { return wrap(native.document_element()); }
  get head() { return wrap(native.head()); }
  get body() { return wrap(native.body()); }
  get doctype() { return [...this.childNodes].find((n) => n.nodeType === 10) ?? null; }
  get defaultView() { return globalThis; }
  get activeElement() { return retarget(focusedNode(), this) ?? this.body; }
  get readyState() { return 'complete'; }
  get compatMode() { return 'CSS1Compat'; }
  get characterSet() { return 'UTF-8'; }
  get contentType() { return 'text/html'; }
  get URL() { return location.href; }
  get documentURI() { return location.href; }
  get domain() { return location.hostname; }
  get referrer() { return ''; }
  get location() { return location; }
  set location(v) { location.href = v; }
  get hidden() { return false; }
  get visibilityState() { return 'visible'; }
  get cookie() { return this[COOKIE] ?? ''; }
  set cookie(v) { hide(this, COOKIE, [this.cookie, String(v).split(';')[0]].filter(Boolean).join('; ')); }
  get dir() { return this.documentElement?.dir ?? ''; }
  get title() { return this.querySelector('title')?.textContent.trim() ?? ''; }
  set title(v) {
    let t = this.querySelector('title');
    if (!t) this.head.appendChild((t = this.createElement('title')));
    t.textContent = v;
  }
  get designMode() { return 'off'; }
  get implementation() { return IMPLEMENTATION; }
  get styleSheets() { return sheetList(this); }
  get adoptedStyleSheets() { return adoptedSheets(this); }
  set adoptedStyleSheets(sheets) { adoptSheets(this, sheets); }
  get fonts() { return fonts; }
  get forms() { return byTag(this, 'form'); }
  get images() { return byTag(this, 'img'); }
  get links() { return liveCollection(this, 'links', HTMLCollection, () => native.query_all(0, 'a[href], area[href]'), { byAttributes: true }); }
  get scripts() { return byTag(this, 'script'); }
  get currentScript() { return null; }
  get scrollingElement() { return this.documentElement; }
  get fullscreenElement() { return null; }
  get pointerLockElement() { return null; }
  createElement(name, options) {
    const { name: localName, proto, tag } = elementNamed(name);
    if (definitions.size > 0) {
      const is = typeof options === 'string' ? options : options?.is;
      const definition = definitions.get(is ?? localName);
      if (definition?.localName === localName) return createCustom(definition);
    }
    const made = wrapAs(proto, native.create_html(localName));
    made[TAG] = tag;
    if (options?.is != null) native.set_is(made[ID], String(options.is));
    return made;
  }
  createElementNS(ns, name, options) {
    if (ns === HTML_NS && definitions.size > 0) return this.createElement(name, options);
    return wrap(native.create_element(ns ?? '', String(name)));
  }
  createTextNode(data) { return wrap(native.create_text(String(data))); }
  createComment(data) { return wrap(native.create_comment(String(data))); }
  createCDATASection(data) { return this.createTextNode(data); }
  createDocumentFragment() { return wrap(native.create_fragment()); }
  createAttribute(name) { return attrNode(null, String(name).toLowerCase()); }
  createEvent(name) {
    const C = { event: Event, events: Event, htmlevents: Event, customevent: CustomEvent, mouseevent: MouseEvent, mouseevents: MouseEvent, uievent: UIEvent, uievents: UIEvent, keyboardevent: KeyboardEvent }[String(name).toLowerCase()];
    if (!C) throw new DOMException(`'${name}' is not an event interface that can be created so.`, 'NotSupportedError');
    return new C('');
  }
  createRange() { return new Range(); }
  createTreeWalker(root, show = 0xffffffff, filter = null) { return new TreeWalker(root, show, filter); }
  createNodeIterator(root, show = 0xffffffff, filter = null) { return new NodeIterator(root, show, filter); }
  importNode(node, deep = false) { return cloned(node, deep, true); }
  adoptNode(node) { if (node.parentNode) removeNode(node); return node; }
  getElementById(id) { return wrap(native.by_id(0, String(id))); }
  getElementsByTagName(name) { return byTag(this, name); }
  getElementsByTagNameNS(_, name) { return byTag(this, name); }
  getElementsByClassName(names) { return byClass(this, names); }
  getElementsByName(name) { return staticList([...this.querySelectorAll('[name]')].filter((e) => e.getAttribute('name') === String(name))); }
  elementFromPoint() { return this.body; }
  elementsFromPoint() { return [this.body]; }
  hasFocus() { return true; }
  getSelection() { return selection; }
  execCommand() { return false; }
  queryCommandSupported() { return false; }
  write() {}
  open() { return this; }
  close() {}
}
/** Nothing is set in type on a stage: every font is there at once (CSS Font Loading §3). */
class FontFaceSet extends EventTarget {
  #faces = new Set();
  get ready() { return Promise.resolve(this); }
  get status() { return 'loaded'; }
  get size() { return this.#faces.size; }
  check() { return true; }
  load() { return Promise.resolve([]); }
  add(face) { this.#faces.add(face); return this; }
  has(face) { return this.#faces.has(face); }
  delete(face) { return this.#faces.delete(face); }
  clear() { this.#faces.clear(); }
  forEach(f, self) { this.#faces.forEach((face) => f.call(self, face, face, this)); }
  values() { return this.#faces.values(); }
  [Symbol.iterator]() { return this.#faces.values(); }
}
class FontFace {
  constructor(family, source, descriptors = {}) { Object.assign(this, { family: String(family), style: 'normal', weight: 'normal', stretch: 'normal', display: 'auto', status: 'unloaded' }, descriptors); }
  get loaded() { return Promise.resolve(this); }
  load() { this.status = 'loaded'; return Promise.resolve(this); }
}
defineHandlers(FontFaceSet.prototype, ['loading', 'loadingdone', 'loadingerror']);
expose(FontFaceSet, FontFace);
const fonts = new FontFaceSet();
const COOKIE = Symbol('cookie');
enumerable(Document);
for (const name in PARENT_NODE) if (!['constructor', 'getElementById'].includes(name)) Object.defineProperty(Document.prototype, name, PARENT_NODE[name]);
defineHandlers(Document.prototype, [...HANDLER_NAMES, 'readystatechange', 'visibilitychange']);
class HTMLDocument extends Document {}
class XMLDocument extends Document {}
expose(Document, HTMLDocument, XMLDocument);
wrappers[0] = Object.create(HTMLDocument.prototype);
wrappers[0][ID] = 0;
const document = wrappers[0];
hide(globalThis, 'document', document);

/** A detached tree that answers like a document: for `DOMParser` and `createHTMLDocument`. */
const detachedDocument = (html) => {
  const holder = document.createElement('html');
  holder.innerHTML = /<(head|body)/i.test(html) ? html : `<head></head><body>${html}</body>`;
  const body = holder.querySelector('body');
  return Object.assign(Object.create(null), {
    documentElement: holder, body, head: holder.querySelector('head'), nodeType: 9,
    querySelector: (s) => holder.querySelector(s), querySelectorAll: (s) => holder.querySelectorAll(s),
    getElementById: (id) => holder.querySelector('#' + CSS.escape(id)), getElementsByTagName: (n) => holder.getElementsByTagName(n),
    createElement: (n) => document.createElement(n), createTextNode: (t) => document.createTextNode(t), importNode: (n, d) => n.cloneNode(d),
  });
};
const IMPLEMENTATION = { hasFeature: () => true, createHTMLDocument: (title = '') => detachedDocument(`<head><title>${title}</title></head><body></body>`) };
class DOMParser {
  parseFromString(text, type) {
    if (type === 'image/svg+xml' || type?.endsWith('xml')) {
      const t = document.createElement('div');
      t.innerHTML = text;
      return { documentElement: t.firstElementChild, querySelector: (s) => t.querySelector(s), querySelectorAll: (s) => t.querySelectorAll(s) };
    }
    return detachedDocument(String(text));
  }
}
class XMLSerializer { serializeToString(node) { return native.outer_html(idOf(node)); } }
expose(DOMParser, XMLSerializer);

const NodeFilter = { FILTER_ACCEPT: 1, FILTER_REJECT: 2, FILTER_SKIP: 3, SHOW_ALL: 0xffffffff, SHOW_ELEMENT: 1, SHOW_TEXT: 4, SHOW_COMMENT: 128 };
hide(globalThis, 'NodeFilter', NodeFilter);
class TreeWalker {
  constructor(root, whatToShow, filter) { Object.assign(this, { root, whatToShow, filter, currentNode: root }); }
  #verdict(n) {
    if (!(this.whatToShow & (1 << (n.nodeType - 1)))) return 3;
    if (!this.filter) return 1;
    return typeof this.filter === 'function' ? this.filter(n) : this.filter.acceptNode(n);
  }
  nextNode() {
    let node = this.currentNode;
    let verdict = 1;
    for (;;) {
      while (verdict !== 2 && node.firstChild) {
        node = node.firstChild;
        verdict = this.#verdict(node);
        if (verdict === 1) return (this.currentNode = node);
      }
      while (node && node !== this.root && !node.nextSibling) node = node.parentNode;
      if (!node || node === this.root) return null;
      node = node.nextSibling;
      verdict = this.#verdict(node);
      if (verdict === 1) return (this.currentNode = node);
    }
  }
  previousNode() {
    let node = this.currentNode;
    while (node !== this.root) {
      let sibling = node.previousSibling;
      while (sibling) {
        node = sibling;
        let verdict = this.#verdict(node);
        while (verdict !== 2 && node.lastChild) { node = node.lastChild; verdict = this.#verdict(node); }
        if (verdict === 1) return (this.currentNode = node);
        sibling = node.previousSibling;
      }
      if (node === this.root || !node.parentNode) return null;
      node = node.parentNode;
      if (this.#verdict(node) === 1) return (this.currentNode = node);
    }
    return null;
  }
  parentNode() {
    let n = this.currentNode;
    while (n && n !== this.root) { n = n.parentNode; if (n && this.#verdict(n) === 1) return (this.currentNode = n); }
    return null;
  }
  #child(from, next) {
    for (let n = this.currentNode[from]; n; n = n[next]) if (this.#verdict(n) === 1) return (this.currentNode = n);
    return null;
  }
  firstChild() { return this.#child('firstChild', 'nextSibling'); }
  lastChild() { return this.#child('lastChild', 'previousSibling'); }
  nextSibling() { return this.#child('nextSibling', 'nextSibling'); }
  previousSibling() { return this.#child('previousSibling', 'previousSibling'); }
}
class NodeIterator {
  #walker; #started = false;
  constructor(root, whatToShow, filter) { this.root = root; this.#walker = new TreeWalker(root, whatToShow, filter); }
  nextNode() { if (!this.#started) { this.#started = true; return this.root; } return this.#walker.nextNode(); }
  previousNode() { return this.#walker.previousNode(); }
  detach() {}
}
expose(TreeWalker, NodeIterator);

// --- observers -----------------------------------------------------------------------------------------------------

class MutationRecord { constructor(r) { Object.assign(this, { previousSibling: null, nextSibling: null, attributeName: null, attributeNamespace: null, oldValue: null }, r); } }
/** Observers that watch something, with what gives their targets. */
const watching = new Map();
class MutationObserver {
  #callback; #targets = []; #records = []; #sink; #queued = false;
  constructor(callback) { this.#callback = callback; }
  observe(target, options = {}) {
    if (options.attributeFilter || options.attributeOldValue) options = { attributes: true, ...options };
    if (options.characterDataOldValue) options = { characterData: true, ...options };
    this.#targets = this.#targets.filter((t) => t.target !== target);
    this.#targets.push({ target, options });
    watching.set(this, () => this.#targets.map((t) => t.target));
    if (!this.#sink) {
      this.#sink = (record) => {
        const hit = this.#targets.find(({ target, options: o }) => (target === record.target || (o.subtree && target.contains(record.target))) && o[record.type]
          && (record.type !== 'attributes' || !o.attributeFilter || o.attributeFilter.includes(record.attributeName)));
        if (!hit) return;
        const keepsOld = record.type === 'attributes' ? hit.options.attributeOldValue : hit.options.characterDataOldValue;
        this.#records.push(new MutationRecord({ ...record, addedNodes: staticList(record.addedNodes), removedNodes: staticList(record.removedNodes), oldValue: keepsOld ? record.oldValue : null }));
        if (this.#queued) return;
        this.#queued = true;
        queueMicrotask(() => {
          this.#queued = false;
          const records = this.takeRecords();
          if (records.length) try { this.#callback.call(this, records, this); } catch (e) { reportException(e); }
        });
      };
      mutationSinks.push(this.#sink);
    }
  }
  takeRecords() { return this.#records.splice(0); }
  disconnect() {
    const at = mutationSinks.indexOf(this.#sink);
    if (at >= 0) mutationSinks.splice(at, 1);
    this.#sink = null;
    this.#targets = [];
    this.#records = [];
    watching.delete(this);
  }
}
class PerformanceObserver { observe() {} disconnect() {} takeRecords() { return []; } static supportedEntryTypes = []; }
expose(MutationRecord, MutationObserver, PerformanceObserver);

// The document, ranges, selection, tree walkers and observers.

/** The local name and the prototype of an HTML element that is created by a name. */
const elementNamed = remembered((written) => {
  const name = String(written).toLowerCase();
  if (!/^[a-z_:][^\s>/\0]*$/.test(name)) throw new DOMException(`'${name}' is not a valid element name.`, 'InvalidCharacterError');
  return { name, proto: prototypeOf('h:' + name), tag: name.toUpperCase() };
});
for (const [C, type] of [[Element, 1], [Text, 3], [Comment, 8], [DocumentFragment, 11]]) hide(C.prototype, TYPE, type);
const CONTENT = Symbol('content');
const ADDRESS = Symbol('address');
const QUIRKS = Symbol('quirks');
/** A document besides the page's own. */
const newDocument = (proto, contentType) => {
  const made = wrapAs(proto, native.create_document());
  hide(made, CONTENT, contentType);
  otherDocuments++;
  return made;
};
/** What a document makes is its own. */
const made = (owner, node) => (owner === document ? node : ownedBy(node, owner));
const isHtml = (owner) => owner.contentType === 'text/html';
const NAME = /^[:A-Z_a-z\u00c0-\u00d6\u00d8-\u00f6\u00f8-\u02ff\u0370-\u037d\u037f-\u1fff\u200c-\u200d\u2070-\u218f\u2c00-\u2fef\u3001-\ud7ff\uf900-\ufdcf\ufdf0-\ufffd\u{10000}-\u{effff}][-.\d\u00b7:A-Z_a-z\u00c0-\u00d6\u00d8-\u00f6\u00f8-\u037d\u037f-\u1fff\u200c-\u200d\u203f-\u2040\u2070-\u218f\u2c00-\u2fef\u3001-\ud7ff\uf900-\ufdcf\ufdf0-\ufffd\u{10000}-\u{effff}]*$/u;
const valid = (name) => {
  if (!NAME.test(name)) throw new DOMException(`'${name}' is no name.`, 'InvalidCharacterError');
  return name;
};
const partOf = (owner, names) => {
  const top = owner.documentElement;
  return top?.localName === 'html' && top.namespaceURI === HTML_NS ? childrenOf(top).find((e) => names.includes(e.localName)) ?? null : null;
};
class Document extends Node {
  constructor() { return newDocument(new.target === Document ? Document.prototype : new.target.prototype, 'application/xml'); }
  get documentElement() { return this === document ? wrap(native.document_element()) : this.firstElementChild; }
  get head() { return this === document ? wrap(native.head()) : partOf(this, ['head']); }
  get body() { return this === document ? wrap(native.body()) : partOf(this, ['body', 'frameset']); }
  get doctype() { return [...this.childNodes].find((n) => n.nodeType === 10) ?? null; }
  get defaultView() { return this === document ? globalThis : this[FRAME_VIEW] ?? null; }
  get activeElement() { return this === document ? retarget(focusedNode(), this) ?? this.body : this.body; }
  get readyState() { return 'complete'; }
  get compatMode() { return this[QUIRKS] ? 'BackCompat' : 'CSS1Compat'; }
  get characterSet() { return 'UTF-8'; }
  get contentType() { return this[CONTENT] ?? 'text/html'; }
  get URL() { return this === document ? location.href : this[ADDRESS] ?? 'about:blank'; }
  get documentURI() { return this.URL; }
  get charset() { return 'UTF-8'; }
  get inputEncoding() { return 'UTF-8'; }
  get domain() { return location.hostname; }
  get referrer() { return ''; }
  get location() { return this === document ? location : null; }
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
  get implementation() { return implementationOf(this); }
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
    if (this !== document && !isHtml(this)) {
      const xhtml = this.contentType === 'application/xhtml+xml';
      return made(this, wrap(native.create_element(xhtml ? HTML_NS : '', valid(String(name)))));
    }
    const { name: localName, proto, tag } = elementNamed(name);
    if (definitions.size > 0) {
      const is = typeof options === 'string' ? options : options?.is;
      const definition = definitions.get(is ?? localName);
      if (definition?.localName === localName) return createCustom(definition);
    }
    const element = wrapAs(proto, native.create_html(localName));
    element[TAG] = tag;
    if (options?.is != null) native.set_is(element[ID], String(options.is));
    return made(this, element);
  }
  createElementNS(ns, name, options) {
    name = String(name);
    ns = ns == null || ns === '' ? null : String(ns);
    qualified(ns, name);
    if (ns === HTML_NS && definitions.size > 0 && !name.includes(':')) return made(this, document.createElement(name, options));
    return made(this, wrap(native.create_element(ns ?? '', name)));
  }
  createTextNode(data) { return made(this, wrap(native.create_text(String(data)))); }
  createComment(data) { return made(this, wrap(native.create_comment(String(data)))); }
  createCDATASection(data) {
    if (isHtml(this)) throw new DOMException('A page has no such sections.', 'NotSupportedError');
    if (String(data).includes(']]>')) throw new DOMException('The data ends the section.', 'InvalidCharacterError');
    const section = wrapAs(CDATASection.prototype, native.create_text(String(data)));
    hide(section, TYPE, 4);
    return made(this, section);
  }
  createProcessingInstruction(target, data) {
    [target, data] = [valid(String(target)), String(data)];
    if (data.includes('?>')) throw new DOMException('The data ends the instruction.', 'InvalidCharacterError');
    return made(this, wrap(native.create_instruction(target, data)));
  }
  createDocumentFragment() { return made(this, wrap(native.create_fragment())); }
  createAttribute(name) { return attrNode(null, String(name).toLowerCase()); }
  createEvent(name) {
    const C = { event: Event, events: Event, htmlevents: Event, customevent: CustomEvent, mouseevent: MouseEvent, mouseevents: MouseEvent, uievent: UIEvent, uievents: UIEvent, keyboardevent: KeyboardEvent }[String(name).toLowerCase()];
    if (!C) throw new DOMException(`'${name}' is not an event interface that can be created so.`, 'NotSupportedError');
    return new C('');
  }
  createRange() { const range = new Range(); range.setStart(this, 0); range.collapse(true); return range; }
  createTreeWalker(root, show = 0xffffffff, filter = null) { idOf(root); return new TreeWalker(root, show >>> 0, filter ?? null); }
  createNodeIterator(root, show = 0xffffffff, filter = null) { idOf(root); return new NodeIterator(HOST, root, show >>> 0, filter ?? null); }
  importNode(node, deep = false) {
    if (node?.nodeType === 9 || node instanceof ShadowRoot) throw new DOMException('This is taken over by no document.', 'NotSupportedError');
    return made(this, cloned(node, !!deep, true));
  }
  adoptNode(node) {
    if (node?.nodeType === 9) throw new DOMException('A document is taken over by none.', 'NotSupportedError');
    if (node instanceof ShadowRoot) throw new DOMException('A shadow tree stays with its host.', 'HierarchyRequestError');
    if (node.parentNode) removeNode(node);
    return ownedBy(node, this);
  }
  getElementById(id) { return wrap(native.by_id(this[ID], String(id))); }
  getElementsByTagName(name) { return byTag(this, name); }
  getElementsByTagNameNS(_, name) { return byTag(this, name); }
  getElementsByClassName(names) { return byClass(this, names); }
  getElementsByName(name) { return staticList([...this.querySelectorAll('[name]')].filter((e) => e.getAttribute('name') === String(name))); }
  elementFromPoint() { return this.body; }
  elementsFromPoint() { return [this.body]; }
  hasFocus() { return this === document; }
  getSelection() { return this === document ? selection : null; }
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
/** The parts of a qualified name, as they may go with a namespace (DOM §1.4). */
const qualified = (ns, name) => {
  valid(name);
  const parts = name.split(':');
  if (parts.length > 2 || parts.some((part) => part === '' || !NAME.test(part))) throw new DOMException(`'${name}' is no name.`, 'InvalidCharacterError');
  const prefix = parts.length === 2 ? parts[0] : null;
  const bad = prefix !== null && ns === null || prefix === 'xml' && ns !== 'http://www.w3.org/XML/1998/namespace'
    || (name === 'xmlns' || prefix === 'xmlns') !== (ns === 'http://www.w3.org/2000/xmlns/');
  if (bad) throw new DOMException(`'${name}' does not go with its namespace.`, 'NamespaceError');
};
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

const createDoctype = (name, publicId = '', systemId = '') => {
  const doctype = wrap(native.create_doctype(name));
  hide(doctype, PUBLIC, publicId);
  hide(doctype, SYSTEM, systemId);
  return doctype;
};
/** A page that is shown nowhere, with this in it (`DOMParser`, `createHTMLDocument`, frames). */
const pageOf = (html, address = 'about:blank') => {
  const page = newDocument(HTMLDocument.prototype, 'text/html');
  const [publicId, systemId, quirks] = native.parse_html(page[ID], html);
  hide(page, ADDRESS, address);
  hide(page, QUIRKS, quirks === 'quirks');
  const { doctype } = page;
  if (doctype) { hide(doctype, PUBLIC, publicId); hide(doctype, SYSTEM, systemId); }
  return page;
};
/** A document from a text of a type that is known. */
const documentFrom = (text, type, address) => {
  if (type === 'text/html') return pageOf(text, address);
  const parsed = newDocument(XMLDocument.prototype, type);
  hide(parsed, ADDRESS, address);
  const fault = native.parse_xml(parsed[ID], text);
  if (!fault) return parsed;
  // A text that is no XML is a document that says so.
  const error = parsed.createElementNS(HTML_NS, 'parsererror');
  error.textContent = fault;
  const top = parsed.documentElement;
  if (top) top.insertBefore(error, top.firstChild);
  else parsed.appendChild(error);
  return parsed;
};
class DOMImplementation {
  #owner;
  constructor(key, owner) { if (key !== HOST) throw illegal(); this.#owner = owner; }
  hasFeature() { return true; }
  createHTMLDocument(...given) {
    const page = pageOf('<!doctype html>');
    if (given.length && given[0] !== undefined) page.head.appendChild(page.createElement('title')).appendChild(page.createTextNode(String(given[0])));
    return page;
  }
  createDocument(ns, name, doctype = null) {
    if (arguments.length < 2) throw new TypeError('A document takes a namespace and a name.');
    ns = ns == null || ns === '' ? null : String(ns);
    name = name === null ? '' : String(name);
    const type = ns === HTML_NS ? 'application/xhtml+xml' : ns === 'http://www.w3.org/2000/svg' ? 'image/svg+xml' : 'application/xml';
    const made = newDocument(XMLDocument.prototype, type);
    const top = name === '' ? null : made.createElementNS(ns, name);
    if (doctype) made.appendChild(doctype);
    if (top) made.appendChild(top);
    return made;
  }
  createDocumentType(name, publicId, systemId) {
    if (arguments.length < 3) throw new TypeError('A doctype takes a name and two identifiers.');
    name = String(name);
    if (/[\t\n\f\r >]|\0/.test(name)) throw new DOMException(`'${name}' is no name of a doctype.`, 'InvalidCharacterError');
    return made(this.#owner, createDoctype(name, String(publicId), String(systemId)));
  }
}
enumerable(DOMImplementation);
const IMPLEMENTATION = Symbol('implementation');
const implementationOf = (owner) => { if (!owner[IMPLEMENTATION]) hide(owner, IMPLEMENTATION, new DOMImplementation(HOST, owner)); return owner[IMPLEMENTATION]; };
const XML_TYPES = ['text/xml', 'application/xml', 'application/xhtml+xml', 'image/svg+xml'];
class DOMParser {
  parseFromString(text, type) {
    if (type !== 'text/html' && !XML_TYPES.includes(type)) throw new TypeError(`'${type}' is no type of a document.`);
    return documentFrom(String(text), type, document.URL);
  }
}
class XMLSerializer { serializeToString(node) { return native.xml(idOf(node)); } }
expose(DOMImplementation, DOMParser, XMLSerializer);

const NodeFilter = {
  FILTER_ACCEPT: 1, FILTER_REJECT: 2, FILTER_SKIP: 3, SHOW_ALL: 0xffffffff, SHOW_ELEMENT: 1, SHOW_ATTRIBUTE: 2, SHOW_TEXT: 4, SHOW_CDATA_SECTION: 8, SHOW_ENTITY_REFERENCE: 16,
  SHOW_ENTITY: 32, SHOW_PROCESSING_INSTRUCTION: 64, SHOW_COMMENT: 128, SHOW_DOCUMENT: 256, SHOW_DOCUMENT_TYPE: 512, SHOW_DOCUMENT_FRAGMENT: 1024, SHOW_NOTATION: 2048,
};
hide(globalThis, 'NodeFilter', NodeFilter);
/** The node after another one in the order of the tree, within a root; and the one before. */
const following = (node, root) => {
  if (node.firstChild) return node.firstChild;
  for (let n = node; n && n !== root; n = n.parentNode) if (n.nextSibling) return n.nextSibling;
  return null;
};
const preceding = (node, root) => {
  if (node === root) return null;
  let n = node.previousSibling;
  if (!n) return node.parentNode;
  while (n.lastChild) n = n.lastChild;
  return n;
};
let leaveIterator;
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
/** DOM §6.1: it follows what is taken out of the tree under it. */
class NodeIterator {
  #root; #what; #filter; #reference; #before = true; #active = false;
  constructor(key, root, what, filter) {
    if (key !== HOST) throw illegal();
    [this.#root, this.#what, this.#filter, this.#reference] = [root, what, filter, root];
    tracking().iterators.push(new WeakRef(this));
  }
  get root() { return this.#root; }
  get whatToShow() { return this.#what; }
  get filter() { return this.#filter; }
  get referenceNode() { return this.#reference; }
  get pointerBeforeReferenceNode() { return this.#before; }
  #accepts(node) {
    if (this.#active) throw new DOMException('The filter is asking already.', 'InvalidStateError');
    if (!(this.#what & (1 << (node.nodeType - 1)))) return 3;
    if (!this.#filter) return 1;
    this.#active = true;
    try { return typeof this.#filter === 'function' ? this.#filter(node) : this.#filter.acceptNode(node); } finally { this.#active = false; }
  }
  #move(forward) {
    let [node, before] = [this.#reference, this.#before];
    for (;;) {
      if (forward) { if (!before) { node = following(node, this.#root); if (!node) return null; } before = false; }
      else { if (before) { node = preceding(node, this.#root); if (!node) return null; } before = true; }
      if (this.#accepts(node) === 1) break;
    }
    [this.#reference, this.#before] = [node, before];
    return node;
  }
  nextNode() { return this.#move(true); }
  previousNode() { return this.#move(false); }
  detach() {}
  static {
    leaveIterator = (iterator, node) => {
      if (node === iterator.#root || !node.contains(iterator.#reference) || node.contains(iterator.#root)) return;
      if (iterator.#before) {
        let next = node;
        while (next && !next.nextSibling && next !== iterator.#root) next = next.parentNode;
        if (next && next !== iterator.#root) { iterator.#reference = next.nextSibling; return; }
        iterator.#before = false;
      }
      let last = node.previousSibling;
      if (!last) { iterator.#reference = node.parentNode; return; }
      while (last.lastChild) last = last.lastChild;
      iterator.#reference = last;
    };
  }
}
enumerable(NodeIterator);
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

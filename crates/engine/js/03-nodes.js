// Nodes, the document tree and its collections: DOM §4.

/** Listeners of tree changes: the mutation observers of 07 add themselves here. */
const mutationSinks = [];
const notify = (record) => { for (const sink of mutationSinks) sink(record); };

const wrap = (id) => {
  if (id < 0) return null;
  return wrappers[id] ?? adopt(id);
};
const adopt = (id) => {
  const earlier = stale[id]?.deref();
  return earlier ? keepWrapper(id, earlier) : wrapAs(prototypeOf(native.kind(id)), id);
};
/** The wrapper of a node that has none yet. */
const wrapAs = (proto, id) => {
  const node = Object.create(proto);
  node[ID] = id;
  return keepWrapper(id, node);
};
/** A list with holes would be a slow one. */
const keepWrapper = (id, node) => {
  while (wrappers.length < id) wrappers.push(undefined);
  return (wrappers[id] = node);
};
const idOf = (node, what) => {
  const id = node?.[ID];
  if (id === undefined) throw new TypeError(`${what ?? 'The argument'} is not a Node.`);
  return id;
};

const DOCUMENT_POSITION = { DISCONNECTED: 1, PRECEDING: 2, FOLLOWING: 4, CONTAINS: 8, CONTAINED_BY: 16, IMPLEMENTATION_SPECIFIC: 32 };

/** What follows changes of the tree: ranges and iterators, once somebody has made one (DOM §4.2.3, §5.3). */
let tracked = null;
const tracking = () => (tracked ??= { ranges: [], iterators: [] });
const eachRange = (move) => {
  let gone = false;
  for (const held of tracked.ranges) { const range = held.deref(); if (range) moveBoundaries(range, move); else gone = true; }
  if (gone) tracked.ranges = tracked.ranges.filter((held) => held.deref());
};
let moveBoundaries;
/** A node is about to leave its parent. */
const leavesTree = (node) => {
  const parent = node.parentNode;
  if (!parent) return;
  if (tracked.ranges.length) {
    const at = native.index(node[ID]);
    eachRange((n, offset) => (n === parent ? [n, offset > at ? offset - 1 : offset] : node.contains(n) ? [parent, at] : [n, offset]));
  }
  for (const held of tracked.iterators) { const iterator = held.deref(); if (iterator) leaveIterator(iterator, node); }
};
/** So many nodes are about to come into a parent before another one. */
const entersTree = (parent, before, count) => {
  if (!before || !tracked.ranges.length) return;
  const at = native.index(before[ID]);
  eachRange((n, offset) => [n, n === parent && offset > at ? offset + count : offset]);
};
/** A part of a text gets another text. */
const replacesText = (node, from, count, length) => eachRange((n, offset) => {
  if (n !== node || offset <= from) return [n, offset];
  return [n, offset <= from + count ? from : offset + length - count];
});

/** How many documents there are besides the page's own, and which of them owns a node that stands in none. */
let otherDocuments = 0;
const DOCUMENT = Symbol('owner');
const ownerOf = (node) => {
  const root = wrap(native.composed_root(node[ID]));
  return root.nodeType === 9 ? root : root[DOCUMENT] ?? document;
};
const ownedBy = (node, owner) => {
  if (owner !== document || node[DOCUMENT]) hide(node, DOCUMENT, owner);
  return node;
};

/** What frameworks ask of nodes again and again: the kind, which the prototypes have, and the name of elements made by one. */
const TYPE = Symbol('type');
const TAG = Symbol('tag');
class Node extends EventTarget {
  constructor() { super(); throw illegal(); }
  get nodeType() { return this[TYPE] ?? native.node_type(this[ID]); }
  get nodeName() { return this[TAG] ?? native.node_name(this[ID]); }
  get ownerDocument() { return this.nodeType === 9 ? null : otherDocuments ? ownerOf(this) : document; }
  get parentNode() { return wrap(native.parent(this[ID])); }
  get parentElement() { const p = this.parentNode; return p instanceof Element ? p : null; }
  get firstChild() { return wrap(native.first(this[ID])); }
  get lastChild() { return wrap(native.last(this[ID])); }
  get previousSibling() { return wrap(native.prev(this[ID])); }
  get nextSibling() { return wrap(native.next(this[ID])); }
  get childNodes() { return liveCollection(this, 'childNodes', NodeList, () => native.children(this[ID]), { ofChildren: true, first: () => native.first(this[ID]) }); }
  get isConnected() { return native.connected(this[ID]) || otherDocuments > 0 && native.node_type(native.composed_root(this[ID])) === 9; }
  get baseURI() { return location.href; }
  get nodeValue() { return this instanceof CharacterData ? this.data : null; }
  set nodeValue(value) { if (this instanceof CharacterData) this.data = value; }
  get textContent() { return this.nodeType === 9 || this.nodeType === 10 ? null : native.text(this[ID]); }
  set textContent(value) {
    if (this instanceof CharacterData) { this.data = value; return; }
    value = value == null ? '' : String(value);
    if (isQuiet()) native.set_text(this[ID], value);
    else replaceAll(this, () => native.set_text(this[ID], value));
  }
  hasChildNodes() { return native.first(this[ID]) >= 0; }
  contains(other) { return other != null && native.contains(this[ID], idOf(other)); }
  getRootNode(options) { return wrap(options?.composed ? native.composed_root(this[ID]) : native.root(this[ID])); }
  isSameNode(other) { return this === other; }
  isEqualNode(other) { return other != null && native.equal(this[ID], idOf(other)); }
  compareDocumentPosition(other) { return native.compare(this[ID], idOf(other)); }
  appendChild(node) { return insertNode(this, node, null); }
  insertBefore(node, before) {
    if (arguments.length < 2) throw new TypeError("Failed to execute 'insertBefore' on 'Node': 2 arguments required.");
    return insertNode(this, node, before ?? null);
  }
  removeChild(node) {
    idOf(node);
    if (native.parent(node[ID]) !== this[ID]) throw new DOMException('The node to be removed is not a child of this node.', 'NotFoundError');
    removeNode(node);
    return node;
  }
  replaceChild(node, old) {
    idOf(node);
    if (native.parent(idOf(old)) !== this[ID]) throw new DOMException('The node to be replaced is not a child of this node.', 'NotFoundError');
    if (node === old) return insertNode(this, node, node.nextSibling);
    if (this instanceof Document) {
      // It holds one element, so the old one has to make room first.
      const next = old.nextSibling === node ? node.nextSibling : old.nextSibling;
      removeNode(old);
      insertNode(this, node, next);
      return old;
    }
    // What cannot be inserted must leave the old one in its place.
    changing(() => {
      insertNode(this, node, old);
      removeNode(old);
    });
    return old;
  }
  cloneNode(deep = false) { return cloned(this, deep, !inTemplate(this)); }
  normalize() {
    for (const text of [...descendantsOf(this)].filter((n) => n.nodeType === 3)) {
      if (!text.parentNode) continue;
      if (text.data === '') { removeNode(text); continue; }
      while (text.nextSibling?.nodeType === 3) {
        const { nextSibling: next, parentNode: parent, length } = text;
        if (tracked) {
          const at = native.index(next[ID]);
          eachRange((n, o) => (n === next ? [text, o + length] : n === parent && o === at ? [text, length] : [n, o]));
        }
        text.appendData(next.data);
        removeNode(text.nextSibling);
      }
    }
  }
  lookupNamespaceURI() { return null; }
}
enumerable(Node);
for (const target of [Node, Node.prototype]) {
  const names = ['ELEMENT_NODE', 'ATTRIBUTE_NODE', 'TEXT_NODE', 'CDATA_SECTION_NODE', 'ENTITY_REFERENCE_NODE', 'ENTITY_NODE',
    'PROCESSING_INSTRUCTION_NODE', 'COMMENT_NODE', 'DOCUMENT_NODE', 'DOCUMENT_TYPE_NODE', 'DOCUMENT_FRAGMENT_NODE', 'NOTATION_NODE'];
  names.forEach((name, i) => Object.defineProperty(target, name, { value: i + 1, enumerable: true }));
  for (const name in DOCUMENT_POSITION) Object.defineProperty(target, 'DOCUMENT_POSITION_' + name, { value: DOCUMENT_POSITION[name], enumerable: true });
}

const descendantsOf = function* (node) {
  for (const id of native.descendants(node[ID])) yield wrap(id);
};

/** Whether nobody is to be told of changes to the tree: no observer, no custom element, no slot. */
const isQuiet = () => mutationSinks.length === 0 && definitions.size === 0 && !shadowed;
/** Puts it there, an error where it cannot stand there; gives the first in it that wants the focus, or -1. */
const insertAt = (parentId, id, beforeId) => {
  const told = native.insert(parentId, id, beforeId);
  if (told < -1) throw INSERT_ERRORS[told]();
  return told;
};
const insertNode = (parent, node, before) => {
  const id = idOf(node, 'The node to insert');
  const beforeId = before === null ? -1 : idOf(before, 'The node before which to insert');
  if (tracked && (before === null || native.parent(beforeId) === parent[ID])) {
    const coming = node.nodeType === 11 ? childrenOf(node) : [node];
    for (const one of coming) leavesTree(one);
    entersTree(parent, before === node ? node.nextSibling : before, coming.length);
  }
  if (isQuiet()) {
    const wanting = insertAt(parent[ID], id, beforeId);
    if (wanting >= 0) autofocus(wrap(wanting));
    return node;
  }
  const watched = mutationSinks.length > 0;
  const many = watched || definitions.size > 0 ? (node.nodeType === 11 ? childrenOf(node) : [node]) : null;
  const oldParent = watched ? node.parentNode : null;
  const moved = definitions.size > 0 && node.parentNode ? candidates(node) : null;
  const leaving = moved && node.isConnected ? moved : null;
  let wanting = -1;
  const insert = () => {
    wanting = insertAt(parent[ID], id, beforeId);
    if (leaving) reactToRemoval(leaving);
    if (moved) for (const element of moved) leaveForm(element, node);
    if (definitions.size > 0) for (const n of many) reactToInsert(n);
  };
  if (definitions.size > 0) changing(insert);
  else insert();
  if (watched) {
    if (oldParent) notify({ type: 'childList', target: oldParent, addedNodes: [], removedNodes: [node] });
    notify({ type: 'childList', target: parent, addedNodes: many, removedNodes: [], nextSibling: before, previousSibling: many[0]?.previousSibling ?? null });
  }
  if (shadowed) slotsChanged();
  if (wanting >= 0) autofocus(wrap(wanting));
  return node;
};
const removeNode = (node) => {
  if (otherDocuments) ownedBy(node, ownerOf(node));
  if (tracked) leavesTree(node);
  if (isQuiet()) return native.detach(node[ID]);
  const watched = mutationSinks.length > 0;
  const [parent, previousSibling, nextSibling] = watched ? [node.parentNode, node.previousSibling, node.nextSibling] : [];
  const leaving = definitions.size > 0 && node.isConnected ? candidates(node) : null;
  const remove = () => {
    native.detach(node[ID]);
    if (leaving) reactToRemoval(leaving);
    if (definitions.size > 0) candidates(node).forEach(associate);
  };
  if (definitions.size > 0) changing(remove);
  else remove();
  if (watched && parent) notify({ type: 'childList', target: parent, addedNodes: [], removedNodes: [node], previousSibling, nextSibling });
  if (shadowed) slotsChanged();
};
/** The children as they are now. */
const childrenOf = (node) => native.children(node[ID]).map(wrap);
/** Replaces all children in one go. */
const replaceAll = (parent, work) => {
  if (tracked) for (const child of childrenOf(parent)) leavesTree(child);
  const watched = mutationSinks.length > 0;
  const removed = watched ? childrenOf(parent) : [];
  const replace = () => {
    const leaving = definitions.size > 0 && parent.isConnected ? candidates(parent).filter((e) => e !== parent && e.getRootNode() !== parent.shadowRoot) : [];
    work();
    reactToRemoval(leaving);
    leaving.forEach(associate);
    if (definitions.size > 0) for (const child of childrenOf(parent)) reactToInsert(child);
  };
  if (definitions.size > 0) changing(replace);
  else replace();
  if (watched) notify({ type: 'childList', target: parent, addedNodes: childrenOf(parent), removedNodes: removed });
  if (shadowed) slotsChanged();
};
const setInnerHTML = (node, html) => replaceAll(node, () => {
  const text = html == null ? '' : String(html);
  noteHandlers(text);
  native.set_inner_html(node[ID], text);
  if (definitions.size > 0 && !inTemplate(node)) for (const child of childrenOf(node)) upgradeAll(child);
});
const upgradeAll = (node) => { for (const element of candidates(node)) enqueueUpgrade(element); };
/** The contents of templates belong to a document of their own, in which nothing becomes a custom element. */
const inTemplate = (node) => definitions.size > 0 && wrap(native.root(node[ID]))[INERT] === true;
const INERT = Symbol('inert');
const cloned = (node, deep, upgrades) => {
  const copy = wrap(native.clone(node[ID], !!deep));
  if (upgrades && definitions.size > 0) changing(() => upgradeAll(copy));
  return copy;
};
/** HTML §6.6.4: `autofocus` of what was inserted into the document. */
const autofocus = (element) => {
  if (element.isConnected && document.activeElement === document.body) element.focus();
};

/** Nodes and strings, as the mixins of DOM §4.2.6 and §4.2.8 take them. */
const oneNode = (items, parent) => {
  const nodes = items.map((i) => (i?.[ID] === undefined ? document.createTextNode(String(i)) : i));
  if (nodes.length === 1) return nodes[0];
  // As browsers do it: what cannot be inserted is taken out all the same.
  if (nodes.some((n) => n.nodeType !== 11 && n.contains(parent))) {
    for (const n of nodes) if (n.parentNode) removeNode(n);
    throw new DOMException('A node cannot hold itself.', 'HierarchyRequestError');
  }
  const fragment = document.createDocumentFragment();
  for (const n of nodes) fragment.appendChild(n);
  return fragment;
};
const mixin = (members, ...classes) => {
  for (const C of classes) {
    const from = Object.getOwnPropertyDescriptors(members);
    for (const name in from) Object.defineProperty(C.prototype, name, { ...from[name], enumerable: true });
  }
};

class CharacterData extends Node {
  get data() { return native.text(this[ID]); }
  set data(value) {
    const oldValue = mutationSinks.length || tracked ? this.data : null;
    value = value == null ? '' : String(value);
    if (tracked) replacesText(this, 0, oldValue.length, value.length);
    native.set_text(this[ID], value);
    if (mutationSinks.length) notify({ type: 'characterData', target: this, addedNodes: [], removedNodes: [], oldValue });
  }
  get length() { return this.data.length; }
  substringData(offset, count) {
    if (arguments.length < 2) throw new TypeError('A part takes its offset and its length.');
    const d = this.data;
    [offset, count] = [offset >>> 0, count >>> 0];
    if (offset > d.length) throw new DOMException('The offset is behind the end of the text.', 'IndexSizeError');
    return d.slice(offset, offset + count);
  }
  appendData(text) {
    if (arguments.length < 1) throw new TypeError('A text is missing.');
    this.replaceData(this.data.length, 0, text);
  }
  insertData(offset, text) {
    if (arguments.length < 2) throw new TypeError('A text is put in at an offset.');
    this.replaceData(offset, 0, text);
  }
  deleteData(offset, count) {
    if (arguments.length < 2) throw new TypeError('A part takes its offset and its length.');
    this.replaceData(offset, count, '');
  }
  replaceData(offset, count, text) {
    if (arguments.length < 3) throw new TypeError('A part takes its offset, its length and its new text.');
    const d = this.data;
    [offset, count, text] = [offset >>> 0, count >>> 0, String(text)];
    if (offset > d.length) throw new DOMException('The offset is behind the end of the text.', 'IndexSizeError');
    count = Math.min(count, d.length - offset);
    if (tracked) replacesText(this, offset, count, text.length);
    native.set_text(this[ID], d.slice(0, offset) + text + d.slice(offset + count));
    if (mutationSinks.length) notify({ type: 'characterData', target: this, addedNodes: [], removedNodes: [], oldValue: d });
  }
}
class Text extends CharacterData {
  constructor(data = '') { return document.createTextNode(data); }
  get wholeText() {
    let first = this;
    while (first.previousSibling?.nodeType === 3) first = first.previousSibling;
    let out = '';
    for (let n = first; n?.nodeType === 3; n = n.nextSibling) out += n.data;
    return out;
  }
  splitText(offset) {
    offset >>>= 0;
    if (offset > this.data.length) throw new DOMException('The offset is behind the end of the text.', 'IndexSizeError');
    const rest = this.ownerDocument.createTextNode(this.data.slice(offset));
    const parent = this.parentNode;
    parent?.insertBefore(rest, this.nextSibling);
    if (tracked && parent) {
      const at = native.index(this[ID]);
      eachRange((n, o) => (n === this && o > offset ? [rest, o - offset] : n === parent && o === at + 1 ? [n, o + 1] : [n, o]));
    }
    this.replaceData(offset, this.data.length - offset, '');
    return rest;
  }
}
class Comment extends CharacterData {
  constructor(data = '') { return document.createComment(data); }
}
const PUBLIC = Symbol('public');
const SYSTEM = Symbol('system');
class DocumentType extends Node {
  get name() { return native.node_name(this[ID]); }
  get publicId() { return this[PUBLIC] ?? ''; }
  get systemId() { return this[SYSTEM] ?? ''; }
}
class DocumentFragment extends Node {
  constructor() { return document.createDocumentFragment(); }
  getElementById(id) { return wrap(native.by_id(this[ID], String(id))); }
}
class Attr extends Node {
  get nodeType() { return 2; }
  get nodeName() { return this.name; }
  get value() { return this.ownerElement ? this.ownerElement.getAttribute(this.name) ?? '' : this.detached ?? ''; }
  set value(v) { this.ownerElement ? this.ownerElement.setAttribute(this.name, v) : hide(this, 'detached', String(v)); }
  get nodeValue() { return this.value; }
  set nodeValue(v) { this.value = v; }
  get textContent() { return this.value; }
  set textContent(v) { this.value = v; }
  get specified() { return true; }
}
for (const C of [CharacterData, Text, DocumentType, DocumentFragment, Attr]) enumerable(C);
const attrNode = (ownerElement, name, namespaceURI = null) => {
  const attr = Object.create(Attr.prototype);
  const colon = namespaceURI === null ? -1 : name.indexOf(':');
  hide(attr, 'name', name);
  hide(attr, 'localName', colon < 0 ? name : name.slice(colon + 1));
  hide(attr, 'prefix', colon < 0 ? null : name.slice(0, colon));
  hide(attr, 'namespaceURI', namespaceURI);
  hide(attr, 'ownerElement', ownerElement);
  return attr;
};

// --- collections ---------------------------------------------------------------------------------------------------

const LIST = Symbol('list');
class NodeList {
  constructor() { throw illegal(); }
  get length() { return this[LIST].count?.() ?? this[LIST]().length; }
  item(index) { return this[index] ?? null; }
  forEach(f, self) { let i = 0; for (const n of this) f.call(self, n, i++, this); }
  *entries() { let i = 0; for (const n of this) yield [i++, n]; }
  *keys() { for (let i = 0; i < this.length; i++) yield i; }
  values() { return this[Symbol.iterator](); }
  *[Symbol.iterator]() { for (let i = 0; i < this.length; i++) yield this[i]; }
}
class HTMLCollection {
  constructor() { throw illegal(); }
  get length() { return this[LIST].count?.() ?? this[LIST]().length; }
  item(index) { return this[index] ?? null; }
  namedItem(name) { return name === '' ? null : [...this].find((e) => e.id === name || e.getAttribute('name') === name) ?? null; }
  *[Symbol.iterator]() { for (let i = 0; i < this.length; i++) yield this[i]; }
}
class RadioNodeList extends NodeList {
  get value() { return [...this].find((r) => r.checked)?.value ?? ''; }
  set value(v) { const r = [...this].find((r) => r.value === v); if (r) r.checked = true; }
}
class HTMLFormControlsCollection extends HTMLCollection {
  namedItem(name) {
    const found = [...this].filter((e) => e.id === name || e.getAttribute('name') === name);
    return found.length > 1 ? staticList(found, RadioNodeList) : found[0] ?? null;
  }
}
class HTMLOptionsCollection extends HTMLCollection {
  add(option, before) { this[LIST].owner.add(option, before); }
  remove(index) { this[index]?.remove(); }
  get selectedIndex() { return this[LIST].owner.selectedIndex; }
  set selectedIndex(i) { this[LIST].owner.selectedIndex = i; }
}
for (const C of [NodeList, HTMLCollection, HTMLFormControlsCollection, HTMLOptionsCollection]) enumerable(C);

const INDEX = /^(?:0|[1-9]\d*)$/;
const collectionHandler = {
  get(target, key, receiver) {
    if (typeof key === 'string') {
      // Lists are emptied from the front, and each step changes the tree.
      if (key === '0' && target[LIST].first) return wrap(target[LIST].first()) ?? undefined;
      if (INDEX.test(key)) return wrap(target[LIST]()[key] ?? -1) ?? undefined;
      if (!(key in target) && target instanceof HTMLCollection) return receiver.namedItem(key) ?? undefined;
    }
    return Reflect.get(target, key, receiver);
  },
  has(target, key) {
    if (typeof key === 'string' && INDEX.test(key)) return Number(key) < target[LIST]().length;
    return Reflect.has(target, key);
  },
  ownKeys(target) { return [...target[LIST]().keys()].map(String); },
  getOwnPropertyDescriptor(target, key) {
    if (typeof key === 'string' && INDEX.test(key)) {
      const value = wrap(target[LIST]()[key] ?? -1);
      return value ? { value, writable: false, enumerable: true, configurable: true } : undefined;
    }
    return Reflect.getOwnPropertyDescriptor(target, key);
  },
};
const COLLECTIONS = Symbol('collections');
/**
 * A live list of `ids()`, the same object at every call for one owner and name. The numbers are read anew once the tree has changed, for
 * lists `ofChildren` once those of the owner are others, for lists `byAttributes` once anything has changed. `first` and `count` tell of it
 * without making the list.
 */
const liveCollection = (owner, name, C, ids, { ofChildren = false, byAttributes = false, first, count } = {}) => {
  const all = owner[COLLECTIONS] ?? (hide(owner, COLLECTIONS, new Map()), owner[COLLECTIONS]);
  let list = all.get(name);
  if (!list) {
    const revision = ofChildren ? () => native.relinked(owner[ID]) : byAttributes ? native.changes : native.shape;
    let known;
    let at = -1;
    const numbers = () => {
      const now = revision();
      if (now !== at) [known, at] = [ids(), now];
      return known;
    };
    numbers.owner = owner;
    numbers.first = first;
    numbers.count = count && (() => (revision() === at ? known.length : count()));
    const target = Object.create(C.prototype);
    hide(target, LIST, numbers);
    all.set(name, (list = new Proxy(target, collectionHandler)));
  }
  return list;
};
/** A list that stays as it is, as `querySelectorAll` gives it. */
const staticList = (nodes, C = NodeList) => {
  const list = Object.create(C.prototype);
  hide(list, LIST, () => nodes);
  nodes.forEach((n, i) => { list[i] = n; });
  return list;
};

mixin({
  get children() {
    return liveCollection(this, 'children', HTMLCollection, () => native.child_elements(this[ID]), { ofChildren: true, first: () => native.first_element(this[ID]), count: () => native.child_element_count(this[ID]) });
  },
  get childElementCount() { return native.child_element_count(this[ID]); },
  get firstElementChild() { return wrap(native.first_element(this[ID])); },
  get lastElementChild() { return wrap(native.last_element(this[ID])); },
  append(...nodes) { changing(() => insertNode(this, oneNode(nodes, this), null)); },
  prepend(...nodes) { changing(() => insertNode(this, oneNode(nodes, this), this.firstChild)); },
  replaceChildren(...nodes) {
    changing(() => {
      const node = oneNode(nodes, this);
      if (node.contains(this)) throw new DOMException('A node cannot hold itself.', 'HierarchyRequestError');
      while (this.firstChild) removeNode(this.firstChild);
      insertNode(this, node, null);
    });
  },
  querySelector(selector) { return wrap(native.query(this[ID], String(selector))); },
  querySelectorAll(selector) { return staticList(native.query_all(this[ID], String(selector)).map(wrap)); },
}, DocumentFragment);
const PARENT_NODE = Object.getOwnPropertyDescriptors(DocumentFragment.prototype);

/** DOM §4.2.8, viable siblings: the next one on a side that is not among the nodes which are about to be inserted. */
const viable = (node, side, nodes) => {
  let stays = node[side];
  while (stays && nodes.includes(stays)) stays = stays[side];
  return stays;
};
const CHILD_NODE = {
  remove() { if (this.parentNode) removeNode(this); },
  before(...nodes) {
    const parent = this.parentNode;
    if (!parent) return;
    const stays = viable(this, 'previousSibling', nodes);
    changing(() => {
      const node = oneNode(nodes, parent);
      parent.insertBefore(node, stays ? stays.nextSibling : parent.firstChild);
    });
  },
  after(...nodes) {
    const parent = this.parentNode;
    if (!parent) return;
    const stays = viable(this, 'nextSibling', nodes);
    changing(() => parent.insertBefore(oneNode(nodes, parent), stays));
  },
  replaceWith(...nodes) {
    const parent = this.parentNode;
    if (!parent) return;
    const stays = viable(this, 'nextSibling', nodes);
    changing(() => {
      const node = oneNode(nodes, parent);
      if (this.parentNode === parent) parent.replaceChild(node, this);
      else parent.insertBefore(node, stays);
    });
  },
};
mixin(CHILD_NODE, CharacterData, DocumentType);
mixin({
  get nextElementSibling() { return wrap(native.sibling_element(this[ID], true)); },
  get previousElementSibling() { return wrap(native.sibling_element(this[ID], false)); },
}, CharacterData);

expose(Node, CharacterData, Text, Comment, DocumentType, DocumentFragment, Attr, NodeList, HTMLCollection, RadioNodeList,
  HTMLFormControlsCollection, HTMLOptionsCollection);
class CDATASection extends Text {
  constructor() { throw illegal(); }
  get nodeName() { return '#cdata-section'; }
}
class ProcessingInstruction extends CharacterData {
  constructor() { throw illegal(); }
  get target() { return native.node_name(this[ID]); }
}
expose(CDATASection, ProcessingInstruction);

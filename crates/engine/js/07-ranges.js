// Ranges and the selection: DOM §5, Selection API. Ranges follow what becomes of the tree.

const lengthOf = (node) => (node instanceof CharacterData ? node.data.length : node instanceof DocumentType ? 0 : node.childNodes.length);
const indexOf = (node) => native.index(node[ID]);
const rootOf = (node) => wrap(native.root(node[ID]));
/** DOM §5.2: -1 where the first boundary point is before the second, 1 where it is after. Both are in one tree. */
const position = (a, ao, b, bo) => {
  if (a === b) return Math.sign(ao - bo);
  if (a.compareDocumentPosition(b) & Node.DOCUMENT_POSITION_PRECEDING) return -position(b, bo, a, ao);
  if (a.contains(b)) {
    let child = b;
    while (child.parentNode !== a) child = child.parentNode;
    if (indexOf(child) < ao) return 1;
  }
  return -1;
};
const checked = (node, offset) => {
  idOf(node);
  if (node instanceof DocumentType) throw new DOMException('A doctype holds no boundary.', 'InvalidNodeTypeError');
  if (!(offset >>> 0 <= lengthOf(node))) throw new DOMException(`There is no offset ${offset}.`, 'IndexSizeError');
  return offset >>> 0;
};
const parentOf = (node) => {
  const parent = node.parentNode;
  if (!parent) throw new DOMException('The node has no parent.', 'InvalidNodeTypeError');
  return parent;
};
class AbstractRange {
  constructor(key) { if (key !== HOST) throw illegal(); }
}
/** Two boundaries that stay where they were put, whatever becomes of the tree. */
class StaticRange extends AbstractRange {
  #init;
  constructor(init) {
    super(HOST);
    for (const name of ['startContainer', 'endContainer']) {
      const node = init?.[name];
      idOf(node);
      if (node.nodeType === 10 || node.nodeType === 2) throw new DOMException('It holds no boundary.', 'InvalidNodeTypeError');
    }
    this.#init = { startContainer: init.startContainer, startOffset: init.startOffset >>> 0, endContainer: init.endContainer, endOffset: init.endOffset >>> 0 };
  }
  get startContainer() { return this.#init.startContainer; }
  get startOffset() { return this.#init.startOffset; }
  get endContainer() { return this.#init.endContainer; }
  get endOffset() { return this.#init.endOffset; }
  get collapsed() { return this.startContainer === this.endContainer && this.startOffset === this.endOffset; }
}
class Range extends AbstractRange {
  #start = document; #startAt = 0; #end = document; #endAt = 0;
  constructor() { super(HOST); tracking().ranges.push(new WeakRef(this)); }
  static {
    moveBoundaries = (range, move) => {
      [range.#start, range.#startAt] = move(range.#start, range.#startAt);
      [range.#end, range.#endAt] = move(range.#end, range.#endAt);
    };
  }
  get startContainer() { return this.#start; }
  get startOffset() { return this.#startAt; }
  get endContainer() { return this.#end; }
  get endOffset() { return this.#endAt; }
  get collapsed() { return this.#start === this.#end && this.#startAt === this.#endAt; }
  get commonAncestorContainer() { let n = this.#start; while (!n.contains(this.#end)) n = n.parentNode; return n; }
  setStart(node, offset) {
    const at = checked(node, offset);
    if (rootOf(node) !== rootOf(this.#end) || position(node, at, this.#end, this.#endAt) > 0) [this.#end, this.#endAt] = [node, at];
    [this.#start, this.#startAt] = [node, at];
  }
  setEnd(node, offset) {
    const at = checked(node, offset);
    if (rootOf(node) !== rootOf(this.#start) || position(node, at, this.#start, this.#startAt) < 0) [this.#start, this.#startAt] = [node, at];
    [this.#end, this.#endAt] = [node, at];
  }
  setStartBefore(n) { this.setStart(parentOf(n), indexOf(n)); }
  setStartAfter(n) { this.setStart(parentOf(n), indexOf(n) + 1); }
  setEndBefore(n) { this.setEnd(parentOf(n), indexOf(n)); }
  setEndAfter(n) { this.setEnd(parentOf(n), indexOf(n) + 1); }
  collapse(toStart = false) {
    if (toStart) [this.#end, this.#endAt] = [this.#start, this.#startAt];
    else [this.#start, this.#startAt] = [this.#end, this.#endAt];
  }
  selectNode(n) { const [parent, at] = [parentOf(n), indexOf(n)]; this.setStart(parent, at); this.setEnd(parent, at + 1); }
  selectNodeContents(n) { this.setStart(n, 0); this.setEnd(n, lengthOf(n)); }
  cloneRange() { const r = new Range(); r.setStart(this.#start, this.#startAt); r.setEnd(this.#end, this.#endAt); return r; }
  compareBoundaryPoints(how, other) {
    if (!(how >= 0 && how <= 3)) throw new DOMException('There is no such comparison.', 'NotSupportedError');
    if (rootOf(this.#start) !== rootOf(other.startContainer)) throw new DOMException('The ranges are in different trees.', 'WrongDocumentError');
    const ours = how === 0 || how === 3 ? [this.#start, this.#startAt] : [this.#end, this.#endAt];
    const theirs = how === 0 || how === 1 ? [other.startContainer, other.startOffset] : [other.endContainer, other.endOffset];
    return position(...ours, ...theirs);
  }
  comparePoint(node, offset) {
    if (rootOf(node) !== rootOf(this.#start)) throw new DOMException('The node is in another tree.', 'WrongDocumentError');
    const at = checked(node, offset);
    return position(node, at, this.#start, this.#startAt) < 0 ? -1 : position(node, at, this.#end, this.#endAt) > 0 ? 1 : 0;
  }
  isPointInRange(node, offset) { return rootOf(node) === rootOf(this.#start) && this.comparePoint(node, offset) === 0; }
  intersectsNode(node) {
    if (rootOf(node) !== rootOf(this.#start)) return false;
    const parent = node.parentNode;
    if (!parent) return true;
    const at = indexOf(node);
    return position(parent, at, this.#end, this.#endAt) < 0 && position(parent, at + 1, this.#start, this.#startAt) > 0;
  }
  #contains(node) { return position(node, 0, this.#start, this.#startAt) > 0 && position(node, lengthOf(node), this.#end, this.#endAt) < 0; }
  /** What deleting, taking out and copying have in common: `take` says what is done, and gives what comes of it. */
  #process(take) {
    const fragment = document.createDocumentFragment();
    if (this.collapsed) return fragment;
    const [start, startAt, end, endAt] = [this.#start, this.#startAt, this.#end, this.#endAt];
    const cut = (node, from, to) => {
      if (take !== 'delete') { const copy = node.cloneNode(false); copy.data = node.data.slice(from, to); fragment.appendChild(copy); }
      if (take !== 'copy') node.replaceData(from, to - from, '');
    };
    if (start === end && start instanceof CharacterData) { cut(start, startAt, endAt); if (take !== 'copy') this.collapse(true); return fragment; }
    const common = this.commonAncestorContainer;
    const childOf = (node) => { let n = node; while (n.parentNode !== common) n = n.parentNode; return n; };
    const first = start === common || start.contains(end) ? null : childOf(start);
    const last = end === common || end.contains(start) ? null : childOf(end);
    const whole = [...common.childNodes].filter((n) => this.#contains(n));
    if (take !== 'delete' && whole.some((n) => n instanceof DocumentType)) throw new DOMException('A doctype cannot be taken out.', 'HierarchyRequestError');
    let [node, at] = [start, startAt];
    if (!start.contains(end)) { let reference = start; while (!reference.parentNode.contains(end)) reference = reference.parentNode; [node, at] = [reference.parentNode, indexOf(reference) + 1]; }
    const part = (child, from, fromAt, to, toAt) => {
      if (child instanceof CharacterData) return cut(child, child === from ? fromAt : 0, child === to ? toAt : child.data.length);
      const inner = new Range();
      inner.setStart(from, fromAt);
      inner.setEnd(to, toAt);
      const made = inner.#process(take);
      if (take !== 'delete') { const copy = child.cloneNode(false); fragment.appendChild(copy); copy.appendChild(made); }
    };
    if (first) part(first, start, startAt, first, lengthOf(first));
    for (const child of whole) { if (take === 'copy') fragment.appendChild(child.cloneNode(true)); else if (take === 'extract') fragment.appendChild(child); else child.remove(); }
    if (last) part(last, last, 0, end, endAt);
    if (take !== 'copy') { [this.#start, this.#startAt] = [node, at]; [this.#end, this.#endAt] = [node, at]; }
    return fragment;
  }
  deleteContents() { this.#process('delete'); }
  extractContents() { return this.#process('extract'); }
  cloneContents() { return this.#process('copy'); }
  insertNode(node) {
    idOf(node);
    const start = this.#start;
    if (start instanceof Comment || (start instanceof Text && !start.parentNode) || start === node) throw new DOMException('Nothing can be inserted there.', 'HierarchyRequestError');
    let reference = start instanceof Text ? start : start.childNodes[this.#startAt] ?? null;
    const parent = reference ? reference.parentNode : start;
    native.check_insert?.(parent[ID], node[ID]);
    if (start instanceof Text) reference = start.splitText(this.#startAt);
    if (node === reference) reference = reference.nextSibling;
    const wasCollapsed = this.collapsed;
    node.parentNode?.removeChild(node);
    const at = (reference ? indexOf(reference) : lengthOf(parent)) + (node instanceof DocumentFragment ? lengthOf(node) : 1);
    parent.insertBefore(node, reference);
    if (wasCollapsed) [this.#end, this.#endAt] = [parent, at];
  }
  surroundContents(parent) {
    for (const [from, to] of [[this.#start, this.#end], [this.#end, this.#start]]) {
      for (let n = from; n && !n.contains(to); n = n.parentNode) if (!(n instanceof Text)) throw new DOMException('A part of a node cannot be surrounded.', 'InvalidStateError');
    }
    const fragment = this.extractContents();
    while (parent.firstChild) parent.removeChild(parent.firstChild);
    this.insertNode(parent);
    parent.appendChild(fragment);
    this.selectNode(parent);
  }
  createContextualFragment(html) { return parseFragment(this.#start instanceof Element ? this.#start : this.#start.parentElement ?? document.body, html); }
  toString() {
    if (this.#start === this.#end && this.#start instanceof Text) return this.#start.data.slice(this.#startAt, this.#endAt);
    let text = this.#start instanceof Text ? this.#start.data.slice(this.#startAt) : '';
    const walker = document.createTreeWalker(this.commonAncestorContainer, NodeFilter.SHOW_TEXT);
    for (let n = walker.nextNode(); n; n = walker.nextNode()) if (this.#contains(n)) text += n.data;
    return text + (this.#end instanceof Text ? this.#end.data.slice(0, this.#endAt) : '');
  }
  getBoundingClientRect() { return new DOMRect(); }
  getClientRects() { return []; }
  detach() {}
}
for (const [name, value] of [['START_TO_START', 0], ['START_TO_END', 1], ['END_TO_END', 2], ['END_TO_START', 3]]) {
  for (const target of [Range, Range.prototype]) Object.defineProperty(target, name, { value, enumerable: true });
}
class Selection {
  constructor() { hide(this, LIST, null); }
  get rangeCount() { return this[LIST] ? 1 : 0; }
  get anchorNode() { return this[LIST]?.startContainer ?? null; }
  get anchorOffset() { return this[LIST]?.startOffset ?? 0; }
  get focusNode() { return this[LIST]?.endContainer ?? null; }
  get focusOffset() { return this[LIST]?.endOffset ?? 0; }
  get isCollapsed() { return this[LIST]?.collapsed ?? true; }
  get type() { return this[LIST] ? (this.isCollapsed ? 'Caret' : 'Range') : 'None'; }
  getRangeAt(i) { if (i !== 0 || !this[LIST]) throw new DOMException('There is no such range.', 'IndexSizeError'); return this[LIST]; }
  addRange(range) { this[LIST] ??= range; }
  removeRange(range) { if (this[LIST] === range) this[LIST] = null; }
  removeAllRanges() { this[LIST] = null; }
  empty() { this[LIST] = null; }
  collapse(node, offset = 0) { this[LIST] = null; if (node) { const r = new Range(); r.setStart(node, offset); r.collapse(true); this[LIST] = r; } }
  setBaseAndExtent(a, ao, f, fo) { const r = new Range(); r.setStart(a, ao); r.setEnd(f, fo); this[LIST] = r; }
  extend(node, offset = 0) { this[LIST]?.setEnd(node, offset); }
  selectAllChildren(node) { const r = new Range(); r.selectNodeContents(node); this[LIST] = r; }
  containsNode() { return false; }
  toString() { return this[LIST]?.toString() ?? ''; }
}
const selection = new Selection();
expose(AbstractRange, StaticRange, Range, Selection);

// What follows from where boxes stand: scrolling (CSSOM View §6), and observers of sizes and of what is in view.

const setScroll = (element, left, top) => {
  const [x, y] = native.scrolled(element[ID]);
  const [newX, newY] = native.scroll(element[ID], left === undefined ? x : Number(left) || 0, top === undefined ? y : Number(top) || 0);
  if (newX === x && newY === y) return;
  const target = element === document.documentElement ? document : element;
  // Told when the page is drawn next, once however often it was scrolled (§13.2).
  if (scrolledSince.has(target)) return;
  scrolledSince.add(target);
  requestAnimationFrame(() => {
    scrolledSince.delete(target);
    for (const type of ['scroll', 'scrollend']) fire(target, new Event(type, { bubbles: target === document }));
  });
};
const scrolledSince = new Set();
const scrollWindow = (x, y) => setScroll(document.documentElement, typeof x === 'object' ? x.left : x, typeof x === 'object' ? x.top : y);
for (const [name, value] of [['scrollTo', scrollWindow], ['scroll', scrollWindow], ['scrollBy', (x, y) => {
  const o = typeof x === 'object' ? x : { left: x, top: y };
  scrollWindow(scrollX + (o.left ?? 0), scrollY + (o.top ?? 0));
}]]) hide(globalThis, name, value);
for (const [name, axis] of [['scrollX', 0], ['pageXOffset', 0], ['scrollY', 1], ['pageYOffset', 1]]) {
  Object.defineProperty(globalThis, name, { get: () => native.scrolled(document.documentElement[ID])[axis], set() {}, configurable: true });
}

/** Scrolls everything around an element so that it is in view (§6.1, "scroll an element into view"). */
const bringIntoView = (element, options) => {
  const wanted = typeof options === 'object' && options ? options : { block: options === false ? 'end' : 'start' };
  const place = (how, from, size, start, room) => {
    if (how === 'start') return from - start;
    if (how === 'end') return from + size - start - room;
    if (how === 'center') return from + size / 2 - start - room / 2;
    if (from < start && from + size > start + room || from >= start && from + size <= start + room) return 0;
    return from < start === size < room ? from - start : from + size - start - room;
  };
  for (let a = element.parentElement; a; a = a.parentElement) {
    const isWindow = a === document.documentElement;
    const box = element.getBoundingClientRect();
    const around = isWindow ? new DOMRect(0, 0, innerWidth, innerHeight) : a.getBoundingClientRect();
    const [x, y] = native.scrolled(a[ID]);
    setScroll(a, x + place(wanted.inline ?? 'nearest', box.x, box.width, around.x, isWindow ? around.width : a.clientWidth),
      y + place(wanted.block ?? 'start', box.y, box.height, around.y, isWindow ? around.height : a.clientHeight));
  }
};

// Observers are asked when the page is drawn: after its frames, whenever something that can move a box has changed since.
const boxObservers = new Set();
let drawn = -1;
drawing.due = () => boxObservers.size > 0 && drawn !== native.turn();
drawing.run = () => {
  drawn = native.turn();
  for (const observer of [...boxObservers]) observer[LOOK]();
};
const LOOK = Symbol('look');

/** What is common to observers of boxes: `seen` gives an entry where a target is not as it was last told. */
class BoxObserver {
  #callback; #targets = new Map();
  constructor(callback) {
    if (typeof callback !== 'function') throw new TypeError('An observer takes a function.');
    this.#callback = callback;
  }
  observe(target, options) {
    if (!(target instanceof Element)) throw new TypeError('What is observed is an element.');
    if (this.#targets.has(target)) return;
    this.#targets.set(target, { options });
    watching.set(this, () => [...this.#targets.keys()]);
    boxObservers.add(this);
    drawn = -1;
  }
  unobserve(target) { this.#targets.delete(target); if (this.#targets.size === 0) boxObservers.delete(this); }
  disconnect() { this.#targets.clear(); watching.delete(this); boxObservers.delete(this); }
  [LOOK]() {
    const entries = [...this.#targets].map(([target, told]) => this[SEEN](target, told)).filter(Boolean);
    if (entries.length) try { this.#callback.call(this, entries, this); } catch (e) { reportException(e); }
  }
}
const SEEN = Symbol('seen');

class ResizeObserver extends BoxObserver {
  [SEEN](target, told) {
    const [outer, edges] = [target.getBoundingClientRect(), native.edges(target[ID])];
    // What is transformed is as large as it was.
    const own = native.plain(target[ID]);
    const [left, top, right, bottom, padLeft, padTop] = edges;
    const content = { inlineSize: Math.max(own[0] - left - right, 0), blockSize: Math.max(own[1] - top - bottom, 0) };
    const border = { inlineSize: own[0], blockSize: own[1] };
    const watched = told.options?.box === 'border-box' ? border : content;
    if (watched.inlineSize === (told.inlineSize ?? 0) && watched.blockSize === (told.blockSize ?? 0)) return null;
    Object.assign(told, watched);
    return { target, contentRect: new DOMRectReadOnly(padLeft, padTop, content.inlineSize, content.blockSize), borderBoxSize: [border], contentBoxSize: [content],
      devicePixelContentBoxSize: [{ inlineSize: Math.round(content.inlineSize), blockSize: Math.round(content.blockSize) }] };
  }
}
class IntersectionObserver extends BoxObserver {
  constructor(callback, options = {}) {
    super(callback);
    this.root = options.root ?? null;
    this.rootMargin = options.rootMargin ?? '0px';
    this.thresholds = [options.threshold ?? 0].flat().sort((a, b) => a - b);
  }
  takeRecords() { return []; }
  [SEEN](target, told) {
    const box = target.getBoundingClientRect();
    const root = this.root instanceof Element ? this.root.getBoundingClientRect() : new DOMRect(0, 0, innerWidth, innerHeight);
    const [top, right = top, bottom = top, left = right] = String(this.rootMargin).trim().split(/\s+/);
    const grown = (text, size) => (text.endsWith('%') ? parseFloat(text) / 100 * size : parseFloat(text) || 0);
    const around = new DOMRect(root.x - grown(left, root.width), root.y - grown(top, root.height),
      root.width + grown(left, root.width) + grown(right, root.width), root.height + grown(top, root.height) + grown(bottom, root.height));
    const seen = native.in_view(target[ID], this.root instanceof Element ? this.root[ID] : -1, around.x, around.y, around.width, around.height);
    const isIntersecting = seen.length > 0;
    const common = isIntersecting ? new DOMRectReadOnly(...seen) : new DOMRectReadOnly();
    const area = box.width * box.height;
    const intersectionRatio = isIntersecting ? (area > 0 ? common.width * common.height / area : 1) : 0;
    const passed = isIntersecting ? this.thresholds.filter((t) => t <= intersectionRatio).length : -1;
    if (told.passed === passed) return null;
    told.passed = passed;
    return { target, isIntersecting, intersectionRatio, time: performanceNow(), boundingClientRect: new DOMRectReadOnly(box.x, box.y, box.width, box.height),
      intersectionRect: common, rootBounds: new DOMRectReadOnly(around.x, around.y, around.width, around.height) };
  }
}
expose(ResizeObserver, IntersectionObserver);

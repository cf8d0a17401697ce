// What the host calls: time, errors, and the reset between cases. Named so that no component meets it by accident.

/** What this file's own code hangs on objects: never part of a snapshot. */
const OURS = new Set([LISTENERS, HANDLERS, COLLECTIONS, STYLE]);
/**
 * An object's own properties, to be restored. Most cases touch none of the several hundred that the window has, so the data
 * properties are also kept as two lists that one quick pass can compare.
 */
const snapshot = (object) => {
  for (const key of OURS) if (!(key in object)) hide(object, key, undefined);
  const all = new Map(Reflect.ownKeys(object).filter((k) => !OURS.has(k)).map((k) => [k, Object.getOwnPropertyDescriptor(object, k)]));
  const data = [...all].filter(([, d]) => 'value' in d);
  // The list of values keeps them alive for the natives.
  const values = data.map(([, d]) => d.value);
  return { object, all, count: all.size + OURS.size, watched: native.watch(data.map(([k]) => k), values), values };
};
const restore = ({ object, all, count, watched }) => {
  if (native.holds(object, count, watched)) return;
  for (const key of Reflect.ownKeys(object)) if (!all.has(key) && !OURS.has(key)) { try { delete object[key]; } catch { /* not configurable: it stays */ } }
  for (const [key, descriptor] of all) {
    const is = Object.getOwnPropertyDescriptor(object, key);
    if (!is || ('value' in descriptor && is.value !== descriptor.value)) { try { Object.defineProperty(object, key, descriptor); } catch { /* likewise */ } }
  }
};
/** What listens on an object, functions and handler attributes alike. */
const countOf = (all) => {
  let count = 0;
  if (all) for (const list of all.values()) for (const listener of list) if (!listener.around) count++;
  return count;
};
const keepListeners = (object) => {
  const all = object[LISTENERS];
  if (all) all.kept = true;
  return { object, all, count: countOf(all), handlers: new Map([...(object[HANDLERS] ?? [])].map(([type, entry]) => [type, entry.value])) };
};
const restoreListeners = ({ object, all, handlers }) => {
  if (object[LISTENERS] !== all) {
    object[LISTENERS] = all;
    for (const list of all?.values() ?? []) for (const listener of list) listener.removed = false;
  }
  for (const [type, entry] of object[HANDLERS] ?? []) {
    if (handlers.has(type)) entry.value = handlers.get(type);
    else object[HANDLERS].delete(type);
  }
};
let kept = null;
let turnsEnd = 0;
/** Elements that last from case to case as the page's own do, with what hangs on them and listens there. */
const lasting = [];
/** The nodes of the last case are no longer held from here: whatever hangs on them can go. */
const letGo = (from) => native.let_go(wrappers, from, weakly);
/** The numbers in `stale`. */
let outlived = [];
const weakly = (id, wrapper) => {
  while (stale.length < id) stale.push(undefined);
  if (stale[id] === undefined) outlived.push(id);
  stale[id] = new WeakRef(wrapper);
};

const host = {
  JSON, Map,
  nextDue, rejected, wrap, idOf, show,
  now: () => now,
  /**
   * A turn of the event loop, promise jobs being done: 1 when there was something to do, 0 when there was not, -1 when what runs has no end.
   * `window` is what of virtual time may pass since the first turn: with none only what follows at once comes.
   */
  turn(begins, window, onward) {
    if (begins) turnsEnd = now + window;
    if (reportSoon()) return 1;
    if (window === undefined) return 0;
    if (isTooDeep()) { atRest(); return -1; }
    if (runNext(turnsEnd, onward)) return 1;
    atRest();
    // HTML §6.6.4 "focus fixup": what can take the focus no more, as it was disabled or hidden, loses it without an event.
    const id = native.focused();
    if (id >= 0 && !native.focusable(id)) native.set_focused(-1);
    return 0;
  },
  arrive(at) { now = Math.max(now, at); },
  /** What requests are answered with, or null where there is no network; and what was asked for since the last time. */
  answer(list) { answers = list; },
  takeRequests() { const taken = requests; requests = []; return taken; },
  left() {
    let listeners = 0;
    for (let i = 0; i < kept.page.length; i++) {
      const now = kept.page[i][LISTENERS];
      listeners += now === kept.listeners[i].all ? kept.listeners[i].count : countOf(now);
    }
    const body = native.body();
    return leftOver(body < 0 ? 0 : native.child_element_count(body), listeners, watching.size ? [...watching].map(([observer, targets]) => [targets(), observer instanceof BoxObserver]) : []);
  },
  around,
  lasts(element) { lasting.push(element); },
  /** Marks the present state as the one that `reset` returns to: taken once the modules are loaded. */
  keep() {
    const page = [globalThis, document, document.documentElement, document.head, document.body];
    const objects = [...page, ...lasting];
    kept = {
      page,
      objects: objects.map(snapshot),
      listeners: objects.map(keepListeners),
      head: [...document.head.childNodes].map(idOf),
      sinks: mutationSinks.slice(),
      registered: registered.size,
      nodes: native.count(),
      first: native.count(),
    };
  },
  /** After a reset and the collection of garbage: nodes of earlier cases that no script can reach any more hold nothing from here. */
  sweep() {
    outlived = outlived.filter((id) => stale[id].deref() !== undefined || (stale[id] = undefined));
    native.sweep(kept.first, outlived);
  },
  /** Between cases: tree, listeners, globals, timers, storage, address, time and chance are as `keep` found them. */
  reset(newSeed, starts) {
    native.clear(kept.head);
    kept.objects.forEach(restore);
    kept.listeners.forEach(restoreListeners);
    letGo(kept.nodes);
    kept.nodes = native.count();
    if (registered.size > kept.registered) for (const name of [...registered].slice(kept.registered)) { registered.delete(name); native.forget_property(name); }
    tracked = null; otherDocuments = 0; blobAddresses.clear(); boundaries = 0;
    mutationSinks.length = 0;
    mutationSinks.push(...kept.sinks);
    pending = []; frames = []; now = 0; order = 0; timerLevel = 0; atRest(); seed = newSeed; startTime = starts ?? EPOCH;
    surroundings.clear();
    held = new Map(); forgetAnimations(); openPopovers = []; soon = []; native.set_viewport(1280, 800);
    rejections.clear(); marks.length = 0; counts.clear(); selection.removeAllRanges();
    localStorage.clear(); sessionStorage.clear();
    answers = null; requests = []; flying = 0; connections.clear(); watching.clear(); boxObservers.clear(); scrolledSince.clear(); native.unscroll(); mediaLists = mediaLists.filter((entry) => entry.list.deref());
    if (here.href !== START || entries.length > 1) { here = new URL(START); entries = [{ url: START, state: null }]; at = 0; }
  },
  // For the steps of a person: the default actions that only trusted input causes.
  /** Whether the next focus comes of a pointer or of a key. */
  by: (means) => native.set_pointed(means === 'pointer'),
  fire, implicitSubmission, commitEdit, judged, resize,
  /** A person wrote the value of a field; `unreadable` where what is written is no value of its kind. */
  typed: (field, unreadable) => native.mark_typed(field[ID], unreadable),
  moveFocus: (e) => moveFocus(e && focusDelegate(e)),
  /** What a person closes by Escape, and by pressing elsewhere. */
  dismiss, pressedOutside: (e) => hideAll(e),
  /** What has the focus, in whatever tree. */
  active: () => focusedNode() ?? document.body,
  flatParent: (e) => wrap(native.flat_parent(e[ID])),
  flatChildren: (e) => native.flat_children(e[ID]).map(wrap).filter((n) => n instanceof Element),
  /** Whether it is a shadow host that hands the focus on. */
  delegates: (e) => native.shadow(e[ID]) >= 0 && wrap(native.shadow(e[ID])).delegatesFocus,
  focusable: (e) => native.focusable(e[ID]),
  editable: (e) => native.editable(e[ID]),
  hasText: (e) => native.has_text_value(e[ID]),
  disabled: (e) => native.disabled(e[ID]),
};
// For the session, which takes it before any module of a project runs: what observes a component is in nobody else's hands.
Object.defineProperty(globalThis, '__fidelon', { value: host, enumerable: false, configurable: true, writable: false });
export { host };

// What the host calls: time, errors, and the reset between cases. Named so that no component meets it by accident.

const snapshot = (object) => new Map(Reflect.ownKeys(object).map((k) => [k, Object.getOwnPropertyDescriptor(object, k)]));
const restore = (object, was) => {
  for (const key of Reflect.ownKeys(object)) if (!was.has(key)) { try { delete object[key]; } catch { /* not configurable: it stays */ } }
  for (const [key, descriptor] of was) {
    const is = Object.getOwnPropertyDescriptor(object, key);
    if (!is || ('value' in descriptor && is.value !== descriptor.value)) { try { Object.defineProperty(object, key, descriptor); } catch { /* likewise */ } }
  }
};
const copyListeners = (target) => new Map([...(target[LISTENERS] ?? [])].map(([type, list]) => [type, list.slice()]));
let kept = null;

const host = {
  nextDue, runNext, rejected, reportRejections, wrap, idOf, show,
  now: () => now,
  arrive(at) { now = Math.max(now, at); },
  /** Marks the present state as the one that `reset` returns to: taken once the modules are loaded. */
  keep() {
    const targets = [globalThis, document, document.documentElement, document.head, document.body];
    kept = {
      targets: targets.map((t) => [t, copyListeners(t)]),
      head: [...document.head.childNodes],
      objects: targets.map((t) => [t, snapshot(t)]),
      sinks: mutationSinks.slice(),
      pending: pending.slice(),
    };
  },
  /** Between cases: tree, listeners, globals, timers, storage, address, time and chance are as `keep` found them. */
  reset(newSeed, starts) {
    native.set_focused(-1);
    for (const child of [...document.body.childNodes]) native.detach(child[ID]);
    for (const child of [...document.head.childNodes]) if (!kept.head.includes(child)) native.detach(child[ID]);
    for (const e of [document.documentElement, document.body, document.head]) for (const name of native.attr_names(e[ID])) native.remove_attr(e[ID], name);
    for (const [object, was] of kept.objects) restore(object, was);
    for (const [target, listeners] of kept.targets) {
      if (listeners.size) hide(target, LISTENERS, new Map([...listeners].map(([t, l]) => [t, l.slice()])));
      else delete target[LISTENERS];
    }
    mutationSinks.length = 0;
    mutationSinks.push(...kept.sinks);
    pending = []; frames = []; now = 0; order = 0; timerLevel = 0; seed = newSeed; startTime = starts ?? EPOCH;
    rejections.clear(); marks.length = 0; counts.clear(); selection.removeAllRanges();
    localStorage.clear(); sessionStorage.clear();
    here = new URL('http://stage.test/'); entries = [{ url: here.href, state: null }]; at = 0;
  },
  // For the steps of a person: the default actions that only trusted input causes.
  fire, moveFocus, implicitSubmission, commitEdit,
  focusable: (e) => native.focusable(e[ID]),
  editable: (e) => native.editable(e[ID]),
  hasText: (e) => native.has_text_value(e[ID]),
  disabled: (e) => native.disabled(e[ID]),
};
Object.defineProperty(globalThis, '__fidelon', { value: host, enumerable: false, configurable: false, writable: false });
Object.freeze(host);

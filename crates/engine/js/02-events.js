// Events and their dispatch: DOM §2, UI Events, Pointer Events, Input Events.

const EVENT = Symbol('event state');
const LISTENERS = Symbol('listeners');
/** What the state of an event of an interface starts from: its members, then those of the interface it extends. */
const DEFAULTS = Symbol('defaults');
const STATE = {
  type: '', bubbles: false, cancelable: false, composed: false, target: null, currentTarget: null, phase: 0, path: [], stop: false,
  stopNow: false, canceled: false, passive: false, dispatching: false, trusted: false, time: 0, relatedTarget: null,
};

class Event {
  static NONE = 0; static CAPTURING_PHASE = 1; static AT_TARGET = 2; static BUBBLING_PHASE = 3;
  constructor(type, init) {
    if (arguments.length < 1) throw new TypeError("Failed to construct 'Event': 1 argument required.");
    const members = new.target[DEFAULTS] ?? STATE;
    // Most members of most events are what they start from: the state holds the others alone.
    const state = Object.create(members);
    state.type = String(type);
    state.time = performanceNow();
    if (init) {
      if (init.bubbles) state.bubbles = true;
      if (init.cancelable) state.cancelable = true;
      if (init.composed) state.composed = true;
      if (members !== STATE) for (const key in init) if (init[key] !== undefined && key in members && (!(key in STATE) || key in RELATED)) state[key] = init[key];
    }
    hide(this, EVENT, state);
  }
  get type() { return this[EVENT].type; }
  get target() { return this[EVENT].target; }
  get srcElement() { return this[EVENT].target; }
  get currentTarget() { return this[EVENT].currentTarget; }
  get eventPhase() { return this[EVENT].phase; }
  get bubbles() { return this[EVENT].bubbles; }
  get cancelable() { return this[EVENT].cancelable; }
  get composed() { return this[EVENT].composed; }
  get defaultPrevented() { return this[EVENT].canceled; }
  get timeStamp() { return this[EVENT].time; }
  get isTrusted() { return this[EVENT].trusted; }
  get cancelBubble() { return this[EVENT].stop; }
  set cancelBubble(on) { if (on) this[EVENT].stop = true; }
  get returnValue() { return !this[EVENT].canceled; }
  set returnValue(value) { if (!value) this.preventDefault(); }
  composedPath() {
    const s = this[EVENT];
    return s.currentTarget ? openPath(s) : [];
  }
  stopPropagation() { this[EVENT].stop = true; }
  stopImmediatePropagation() { this[EVENT].stop = this[EVENT].stopNow = true; }
  preventDefault() {
    const s = this[EVENT];
    if (s.cancelable && !s.passive) s.canceled = true;
  }
  initEvent(type, bubbles = false, cancelable = false) {
    const s = this[EVENT];
    if (s.dispatching) return;
    Object.assign(s, { type: String(type), bubbles: !!bubbles, cancelable: !!cancelable, stop: false, stopNow: false, canceled: false });
  }
}
enumerable(Event);
for (const [name, value] of [['NONE', 0], ['CAPTURING_PHASE', 1], ['AT_TARGET', 2], ['BUBBLING_PHASE', 3]]) {
  Object.defineProperty(Event.prototype, name, { value, enumerable: true });
}

Object.defineProperty(Event, DEFAULTS, { value: STATE });
/** A member that some interfaces take and the dispatch reads of all. */
const RELATED = { relatedTarget: null };

/** Defines an event interface whose members are plain values with a default. */
const eventClass = (name, Base, members) => {
  const C = { [name]: class extends Base {} }[name];
  Object.defineProperty(C, DEFAULTS, { value: Object.assign(Object.create(Base[DEFAULTS]), members) });
  for (const key in members) accessor(C.prototype, key, function () { return this[EVENT][key]; });
  return C;
};

const MODIFIERS = { ctrlKey: false, shiftKey: false, altKey: false, metaKey: false };
const CustomEvent = eventClass('CustomEvent', Event, { detail: null });
const UIEvent = eventClass('UIEvent', Event, { view: null, detail: 0, which: 0 });
const FocusEvent = eventClass('FocusEvent', UIEvent, { relatedTarget: null });
const MouseEvent = eventClass('MouseEvent', UIEvent, {
  ...MODIFIERS, screenX: 0, screenY: 0, clientX: 0, clientY: 0, pageX: 0, pageY: 0, offsetX: 0, offsetY: 0, x: 0, y: 0,
  movementX: 0, movementY: 0, button: 0, buttons: 0, relatedTarget: null,
});
const PointerEvent = eventClass('PointerEvent', MouseEvent, {
  pointerId: 0, width: 1, height: 1, pressure: 0, tangentialPressure: 0, tiltX: 0, tiltY: 0, twist: 0, pointerType: '', isPrimary: false,
});
const WheelEvent = eventClass('WheelEvent', MouseEvent, { deltaX: 0, deltaY: 0, deltaZ: 0, deltaMode: 0 });
const DragEvent = eventClass('DragEvent', MouseEvent, { dataTransfer: null });
const KeyboardEvent = eventClass('KeyboardEvent', UIEvent, {
  ...MODIFIERS, key: '', code: '', location: 0, repeat: false, isComposing: false, charCode: 0, keyCode: 0,
});
const InputEvent = eventClass('InputEvent', UIEvent, { data: null, inputType: '', isComposing: false, dataTransfer: null });
const CompositionEvent = eventClass('CompositionEvent', UIEvent, { data: '' });
const TouchEvent = eventClass('TouchEvent', UIEvent, { ...MODIFIERS, touches: [], targetTouches: [], changedTouches: [] });
const ClipboardEvent = eventClass('ClipboardEvent', Event, { clipboardData: null });
const SubmitEvent = eventClass('SubmitEvent', Event, { submitter: null });
const ToggleEvent = eventClass('ToggleEvent', Event, { oldState: '', newState: '', source: null });
const AnimationEvent = eventClass('AnimationEvent', Event, { animationName: '', elapsedTime: 0, pseudoElement: '' });
const TransitionEvent = eventClass('TransitionEvent', Event, { propertyName: '', elapsedTime: 0, pseudoElement: '' });
const ErrorEvent = eventClass('ErrorEvent', Event, { message: '', filename: '', lineno: 0, colno: 0, error: undefined });
const PromiseRejectionEvent = eventClass('PromiseRejectionEvent', Event, { promise: null, reason: undefined });
const CloseEvent = eventClass('CloseEvent', Event, { wasClean: false, code: 0, reason: '' });
const MessageEvent = eventClass('MessageEvent', Event, { data: null, origin: '', lastEventId: '', source: null, ports: [] });
const PopStateEvent = eventClass('PopStateEvent', Event, { state: null });
const HashChangeEvent = eventClass('HashChangeEvent', Event, { oldURL: '', newURL: '' });
const StorageEvent = eventClass('StorageEvent', Event, { key: null, oldValue: null, newValue: null, url: '', storageArea: null });
const ProgressEvent = eventClass('ProgressEvent', Event, { lengthComputable: false, loaded: 0, total: 0 });
const FormDataEvent = eventClass('FormDataEvent', Event, { formData: null });
for (const C of [MouseEvent, KeyboardEvent, TouchEvent]) {
  hide(C.prototype, 'getModifierState', function (key) {
    return { Control: this.ctrlKey, Shift: this.shiftKey, Alt: this.altKey, Meta: this.metaKey }[key] ?? false;
  });
}
hide(CustomEvent.prototype, 'initCustomEvent', function (type, bubbles, cancelable, detail = null) {
  this.initEvent(type, bubbles, cancelable);
  this[EVENT].detail = detail;
});
hide(InputEvent.prototype, 'getTargetRanges', () => []);
expose(Event, CustomEvent, UIEvent, FocusEvent, MouseEvent, PointerEvent, WheelEvent, DragEvent, KeyboardEvent, InputEvent,
  CompositionEvent, TouchEvent, ClipboardEvent, SubmitEvent, ToggleEvent, AnimationEvent, TransitionEvent, ErrorEvent,
  PromiseRejectionEvent, CloseEvent, MessageEvent, PopStateEvent, HashChangeEvent, StorageEvent, ProgressEvent, FormDataEvent);

/** What listened when the state was kept is shared by all cases, and copied by the first in one that changes it. */
const ownListeners = (target) => {
  const all = target[LISTENERS];
  return all.kept ? (target[LISTENERS] = new Map([...all].map(([type, list]) => [type, list.slice()]))) : all;
};
const flatten = (options) => (typeof options === 'boolean' ? options : !!options?.capture);

class EventTarget {
  addEventListener(type, callback, options) {
    const self = this ?? globalThis;
    if (typeof callback !== 'function') {
      if (callback == null) return;
      if (typeof callback !== 'object') throw new TypeError('The listener is not an object.');
    }
    if (typeof type !== 'string') type = String(type);
    // Some frameworks add a hundred and more to each page: `once`, `passive` and `removed` are there only where they are true.
    const listener = { callback, capture: options === true };
    let signal;
    if (options && options !== true) {
      if (typeof options === 'object') {
        listener.capture = !!options.capture;
        if (options.once) listener.once = true;
        if (options.passive) listener.passive = true;
        signal = options.signal;
        if (signal?.aborted) return;
      } else listener.capture = true;
    }
    if (surrounding) listener.around = true;
    let all = self[LISTENERS];
    if (all === undefined) {
      all = new Map();
      // On a node it is one of several marks of ours; hiding it takes longer.
      if (ID in self) self[LISTENERS] = all;
      else hide(self, LISTENERS, all);
    } else if (all.kept) all = ownListeners(self);
    const list = all.get(type);
    if (list === undefined) all.set(type, [listener]);
    else {
      for (let i = 0; i < list.length; i++) if (list[i].callback === callback && list[i].capture === listener.capture) return;
      list.push(listener);
    }
    // One that was cloned, or parsed, with its address.
    if ((type === 'error' || type === 'load') && self instanceof HTMLImageElement) tryPicture(self);
    if (type === 'load' && self instanceof HTMLIFrameElement) tryFrame(self);
    if (signal) signal.addEventListener('abort', () => self.removeEventListener(type, callback, listener.capture), { once: true });
  }
  removeEventListener(type, callback, options) {
    const self = this ?? globalThis;
    type = String(type);
    const list = self[LISTENERS]?.get(type);
    if (!list) return;
    const capture = flatten(options);
    const at = list.findIndex((l) => l.callback === callback && l.capture === capture);
    if (at >= 0) {
      list[at].removed = true;
      ownListeners(self).get(type).splice(at, 1);
    }
  }
  dispatchEvent(event) {
    if (!(event instanceof Event)) throw new TypeError("The argument of 'dispatchEvent' is not an Event.");
    if (event[EVENT].dispatching) throw new DOMException('The event is being dispatched already.', 'InvalidStateError');
    event[EVENT].trusted = false;
    return dispatch(event, this ?? globalThis);
  }
}
enumerable(EventTarget);
expose(EventTarget);

let currentEvent;
accessor(globalThis, 'event', () => currentEvent, () => {});

/** True once there is a shadow root: before that, paths are plain. */
let shadowed = false;
const isNode = (target) => target != null && ID in target;
const composedContains = (node, other) => isNode(other) && native.composed_contains(node[ID], other[ID]);
/** DOM §2.6 "retarget": what stands for `target` where `at` stands: the host of the shadow tree that it must not look into. */
const retarget = (target, at) => {
  while (isNode(target)) {
    const root = native.root(target[ID]);
    const host = native.host(root);
    if (host < 0 || composedContains(wrap(root), at)) return target;
    target = wrap(host);
  }
  return target;
};
/** The targets that an event passes, innermost first (DOM §2.9): ancestors, then the window of a connected node. */
const pathOf = (event, target) => {
  if (!isNode(target)) return [target];
  const path = native.path(target[ID]).map(wrap);
  // The window hears what passes its document, but for `load`.
  if (path[path.length - 1] === document && event[EVENT].type !== 'load') path.push(globalThis);
  return path;
};
/** The next target of an event (DOM §4.2.4, §4.8 "get the parent"): the slot before the parent, the host where the event is composed. */
const nextTarget = (event, node, first) => {
  if (node === globalThis) return null;
  if (node === document) return event[EVENT].type === 'load' ? null : globalThis;
  const slot = native.assigned_slot(node[ID]);
  if (slot >= 0) return wrap(slot);
  const host = native.host(node[ID]);
  if (host < 0) return node.parentNode;
  return !event[EVENT].composed && native.root(first[ID]) === node[ID] ? null : wrap(host);
};
const isClosed = (node) => isNode(node) && node instanceof ShadowRoot && node.mode === 'closed';
/**
 * The path through shadow trees (DOM §2.9 steps 5.1 to 5.9): the targets, and beside each what the event's target and related target
 * are there. `adjusted` is null where the target is that of the step before.
 */
const composedSteps = (event, target) => {
  const first = target;
  const related = event[EVENT].relatedTarget;
  const steps = [];
  const add = (item, adjusted, relatedTarget, slotInClosed) => steps.push({ item, adjusted, relatedTarget, slotInClosed, closedRoot: isClosed(item) });
  let relatedTarget = retarget(related, target);
  if (target === relatedTarget && target !== related) return steps;
  add(target, target, relatedTarget, false);
  let slottable = native.assigned_slot(target[ID]) >= 0 ? target : null;
  for (let parent = nextTarget(event, target, first); parent; ) {
    let slotInClosed = false;
    if (slottable) {
      slottable = null;
      slotInClosed = isClosed(parent.getRootNode());
    }
    if (isNode(parent) && native.assigned_slot(parent[ID]) >= 0) slottable = parent;
    relatedTarget = retarget(related, parent);
    if (parent === globalThis || composedContains(wrap(native.root(target[ID])), parent)) add(parent, null, relatedTarget, slotInClosed);
    else if (parent === relatedTarget) break;
    else {
      target = parent;
      add(parent, target, relatedTarget, slotInClosed);
    }
    parent = nextTarget(event, parent, first);
  }
  return steps;
};
/** Sets the target and the related target for the step of the path that is called next. */
const aim = (state, i) => {
  const { steps } = state;
  state.relatedTarget = steps[i].relatedTarget;
  while (i >= 0 && steps[i].adjusted === null) i--;
  state.target = steps[i]?.adjusted ?? null;
  state.at = i;
};
/** DOM §2.4 `composedPath`: what of the path may be known where the event is. */
const openPath = ({ steps, path, currentTarget }) => {
  if (!steps) return path.slice();
  const at = path.indexOf(currentTarget);
  const levels = [];
  let level = 0;
  for (let i = path.length - 1; i >= 0; i--) {
    if (steps[i].closedRoot) level++;
    levels[i] = level;
    if (steps[i].slotInClosed) level--;
  }
  const out = [path[at]];
  for (const [step, add] of [[-1, (x) => out.unshift(x)], [1, (x) => out.push(x)]]) {
    let most = levels[at];
    for (let i = at + step; i >= 0 && i < path.length; i += step) {
      if (levels[i] <= most) { add(path[i]); most = Math.min(most, levels[i]); }
    }
  }
  return out;
};

const callListeners = (target, event, capture) => {
  const s = event[EVENT];
  const list = target[LISTENERS]?.get(s.type);
  if (!list || list.length === 0) return;
  s.currentTarget = target;
  for (const l of list.slice()) {
    if (l.removed || l.capture !== capture) continue;
    if (l.once) target.removeEventListener(s.type, l.callback, l.capture);
    s.passive = l.passive === true;
    const outer = currentEvent;
    currentEvent = event;
    try {
      if (typeof l.callback === 'function') l.callback.call(target, event);
      else l.callback.handleEvent(event);
    } catch (error) {
      reportException(error);
    }
    currentEvent = outer;
    s.passive = false;
    if (s.stopNow) return;
  }
};

/** Whether anybody on its way listens for it: where nobody does, nobody can begin to while it passes. */
const isHeard = ({ path, type }) => {
  for (let i = 0; i < path.length; i++) if (path[i][LISTENERS]?.get(type)?.length) return true;
  return false;
};

/** Dispatches an event (DOM §2.9), with the activation behaviour of what a click hits. False when it was cancelled. */
const dispatch = (event, target) => {
  const s = event[EVENT];
  s.dispatching = true;
  s.target = target;
  s.steps = shadowed && isNode(target) ? composedSteps(event, target) : null;
  s.path = s.steps ? s.steps.map((step) => step.item) : pathOf(event, target);
  if (writtenHandlers) for (const on of s.path) awaken(on, s.type);
  const clicked = s.type === 'click' && event instanceof MouseEvent ? activationTarget(s.path, s.bubbles) : null;
  const undo = clicked ? beforeActivation(clicked) : null;
  if (!isHeard(s)) s.stop = true;
  for (let i = s.path.length - 1; i >= 0 && !s.stop; i--) {
    if (s.steps) aim(s, i);
    s.phase = i === 0 || s.steps?.[i].adjusted ? 2 : 1;
    callListeners(s.path[i], event, true);
  }
  for (let i = 0; i < s.path.length && !s.stop; i++) {
    const atTarget = i === 0 || s.steps?.[i].adjusted;
    if (!atTarget && !s.bubbles) { if (s.steps) continue; else break; }
    if (s.steps) aim(s, i);
    s.phase = atTarget ? 2 : 3;
    callListeners(s.path[i], event, false);
  }
  s.phase = 0;
  s.currentTarget = null;
  s.dispatching = s.stop = s.stopNow = false;
  if (s.steps) settleTargets(s);
  if (clicked) {
    if (s.canceled) undo?.();
    else if (undo !== NOTHING) activate(clicked, event);
  }
  return !s.canceled;
};

/** What stays of the targets once all was called: nothing where they stand in a shadow tree (DOM §2.9 steps 5.10, 11). */
const settleTargets = (s) => {
  const last = s.steps.findLast((step) => step.adjusted !== null);
  const hidden = (node) => isNode(node) && native.host(native.root(node[ID])) >= 0;
  s.target = last ? last.adjusted : s.target;
  if (last && (hidden(last.adjusted) || hidden(last.relatedTarget))) s.target = s.relatedTarget = null;
};

/** Dispatches an event that the user agent made: `isTrusted` is true. */
const fire = (target, event) => {
  event[EVENT].trusted = true;
  return dispatch(event, target);
};

/** HTML §8.1.8: event handler attributes and IDL attributes, `onclick` and its kin. */
const HANDLERS = Symbol('handlers');
const HANDLER_NAMES = ('abort auxclick beforeinput beforetoggle blur cancel canplay canplaythrough change click close contextmenu copy cuechange cut dblclick ' +
  'drag dragend dragenter dragleave dragover dragstart drop durationchange emptied ended error focus focusin focusout formdata gotpointercapture input invalid ' +
  'keydown keypress keyup load loadeddata loadedmetadata loadstart lostpointercapture mousedown mouseenter mouseleave mousemove ' +
  'mouseout mouseover mouseup paste pause play playing pointercancel pointerdown pointerenter pointerleave pointermove ' +
  'pointerout pointerover pointerup progress ratechange reset resize scroll scrollend securitypolicyviolation seeked seeking select selectionchange selectstart slotchange ' +
  'stalled submit suspend timeupdate toggle transitioncancel transitionend transitionrun transitionstart ' +
  'animationcancel animationend animationiteration animationstart volumechange waiting wheel').split(' ');
const WINDOW_HANDLER_NAMES = ('afterprint beforeprint beforeunload hashchange languagechange message messageerror offline online ' +
  'pagehide pageshow popstate rejectionhandled storage unhandledrejection unload').split(' ');

const setHandler = (target, type, value) => {
  const handlers = target[HANDLERS] ?? (hide(target, HANDLERS, new Map()), target[HANDLERS]);
  const known = handlers.get(type);
  if (known) known.value = value;
  else {
    const entry = { value };
    handlers.set(type, entry);
    target.addEventListener(type, function (event) {
      if (typeof entry.value !== 'function') return;
      const special = type === 'error' && event instanceof ErrorEvent && target === globalThis;
      const out = special
        ? entry.value.call(this, event.message, event.filename, event.lineno, event.colno, event.error)
        : entry.value.call(this, event);
      if (special ? out === true : out === false) event.preventDefault();
    });
  }
};
const defineHandlers = (proto, names) => {
  for (const type of names) {
    accessor(proto, 'on' + type, function () { if (writtenHandlers) awaken(this ?? globalThis, type); return (this ?? globalThis)[HANDLERS]?.get(type)?.value ?? null; },
      function (value) { setHandler(this ?? globalThis, type, typeof value === 'function' || (value && typeof value === 'object') ? value : null); });
  }
};
const HANDLER_SET = new Set([...HANDLER_NAMES, ...WINDOW_HANDLER_NAMES]);
/** Whether markup that was parsed so far holds handlers: they are compiled when they are first asked for (HTML §8.1.8.1). */
let writtenHandlers = false;
const noteHandlers = (html) => { writtenHandlers ||= / on[a-z]+ *=|[\t\n]on[a-z]+ *=/i.test(html); };
/** A handler that stands in markup listens before all that was added since. */
const awaken = (target, type) => {
  if (!(target instanceof Element) || target[HANDLERS]?.has(type)) return;
  const text = native.attr(target[ID], 'on' + type);
  if (text == null) return;
  const before = target[LISTENERS]?.get(type)?.length;
  setHandlerAttribute(target, 'on' + type, text);
  const list = before && ownListeners(target).get(type);
  if (before && list.length > before) list.unshift(list.pop());
};
/** An `on…` content attribute was set: its text becomes the body of a function. */
const setHandlerAttribute = (element, name, text) => {
  const type = name.slice(2);
  if (!HANDLER_SET.has(type)) return;
  if (text === null) return setHandler(element, type, null);
  try {
    setHandler(element, type, new Function('event', text));
  } catch (error) {
    reportException(error);
  }
};

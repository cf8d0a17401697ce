// Animations by the virtual clock: Web Animations §4 to §6. What they come to at a time is said of their elements in the cascade.

const KEYFRAMES = Symbol('keyframes');
const PROGRESS = Symbol('progress');
class AnimationEffect {
  constructor() { throw illegal(); }
}
const elementOrNull = (target) => {
  if (target != null && !(target instanceof Element)) throw new TypeError('What is animated is an element.');
  return target ?? null;
};
const TIMING = { delay: 0, endDelay: 0, fill: 'auto', iterationStart: 0, iterations: 1, duration: 'auto', direction: 'normal', easing: 'linear' };
class KeyframeEffect extends AnimationEffect {
  constructor(target, keyframes, options) {
    target = elementOrNull(target);
    const effect = Object.create(new.target.prototype);
    const given = typeof options === 'number' ? { duration: options } : options ?? {};
    const timing = { ...TIMING };
    for (const key in TIMING) if (given[key] !== undefined) timing[key] = given[key];
    if (typeof timing.duration === 'number' && (timing.duration < 0 || Number.isNaN(timing.duration))) throw new TypeError('The duration is no positive number.');
    hide(effect, KEYFRAMES, { target, keyframes: keyframesOf(keyframes), timing, composite: given.composite ?? 'replace', easing: easingOf(timing.easing), animation: null });
    return effect;
  }
  get target() { return this[KEYFRAMES].target; }
  set target(element) {
    const { animation } = this[KEYFRAMES];
    const listed = animation && isListed(animation);
    if (listed) delist(animation);
    this[KEYFRAMES].target = elementOrNull(element);
    if (listed) { enlist(animation); compose(element); }
  }
  get pseudoElement() { return null; }
  get composite() { return this[KEYFRAMES].composite; }
  getKeyframes() { return this[KEYFRAMES].keyframes.map((k) => ({ ...k })); }
  setKeyframes(keyframes) { this[KEYFRAMES].keyframes = keyframesOf(keyframes); this[KEYFRAMES].frames = null; compose(this.target); }
  getTiming() { return { ...this[KEYFRAMES].timing }; }
  updateTiming(timing) {
    for (const key in TIMING) if (timing[key] !== undefined) this[KEYFRAMES].timing[key] = timing[key];
    this[KEYFRAMES].easing = easingOf(this[KEYFRAMES].timing.easing);
    compose(this.target);
  }
  getComputedTiming() {
    const timing = { ...this.getTiming() };
    timing.duration = typeof timing.duration === 'number' ? timing.duration : 0;
    if (timing.fill === 'auto') timing.fill = 'none';
    timing.activeDuration = timing.duration === 0 ? 0 : timing.duration * timing.iterations;
    timing.endTime = Math.max(0, timing.delay + timing.activeDuration + timing.endDelay);
    const animation = this[KEYFRAMES].animation;
    const localTime = animation?.currentTime ?? null;
    return { ...timing, localTime, ...this[PROGRESS](localTime, animation?.playbackRate ?? 1, timing) };
  }
  /** How far it has come at a time of its own (§4.8 to §4.10): nothing where it is not in effect. */
  [PROGRESS](time, rate, { delay, activeDuration, endTime, duration, iterations, iterationStart, direction }) {
    const none = { progress: null, currentIteration: null };
    if (time === null) return none;
    const fill = this[KEYFRAMES].timing.fill;
    const begins = Math.max(Math.min(delay, endTime), 0);
    const ends = Math.max(Math.min(delay + activeDuration, endTime), 0);
    const before = time < begins || rate < 0 && time === begins;
    const after = !before && (time > ends || rate >= 0 && time === ends);
    if (before && fill !== 'backwards' && fill !== 'both' || after && fill !== 'forwards' && fill !== 'both') return none;
    const active = before ? Math.max(time - delay, 0) : after ? Math.max(Math.min(time - delay, activeDuration), 0) : time - delay;
    const overall = iterationStart + (duration === 0 ? (before ? 0 : iterations) : active / duration);
    let within = overall === Infinity ? iterationStart % 1 : overall % 1;
    if (within === 0 && !before && (active === activeDuration) && iterations !== 0 && overall !== 0) within = 1;
    const iteration = after && iterations === Infinity ? Infinity : within === 1 ? Math.floor(overall) - 1 : Math.floor(overall);
    const backwards = direction === 'reverse' || direction === 'alternate' && iteration % 2 === 1 || direction === 'alternate-reverse' && iteration % 2 === 0;
    const directed = backwards ? 1 - within : within;
    return { progress: this[KEYFRAMES].easing(directed, backwards ? after : before), currentIteration: iteration };
  }
}
/** Both forms of keyframes as a list, with an offset each (Web Animations §5.2). */
const keyframesOf = (keyframes) => {
  if (keyframes == null) return [];
  let list = [];
  if (keyframes[Symbol.iterator]) list = [...keyframes].map((k) => ({ offset: null, easing: 'linear', composite: 'auto', ...k }));
  else {
    const count = Math.max(0, ...Object.values(keyframes).map((v) => (Array.isArray(v) ? v.length : 1)));
    for (let i = 0; i < count; i++) list.push({ offset: null, easing: 'linear', composite: 'auto', ...Object.fromEntries(Object.entries(keyframes).map(([k, v]) => [k, Array.isArray(v) ? v[i] : v])) });
  }
  return list.map((k, i) => ({ ...k, computedOffset: k.offset ?? (list.length > 1 ? i / (list.length - 1) : 1) }));
};

/** Keyframes as the cascade takes them: where each stands, its declarations, and the longhands that they set. */
const framesOf = (effect) => effect[KEYFRAMES].frames ??= effect[KEYFRAMES].keyframes.map((frame) => {
  const declared = [];
  for (const [key, value] of Object.entries(frame)) {
    if (['offset', 'computedOffset', 'easing', 'composite'].includes(key) || value == null) continue;
    const name = key === 'cssOffset' ? 'offset' : key === 'cssFloat' ? 'float' : key.startsWith('--') ? key : kebab(key);
    if (!native.supports(name, String(value))) continue;
    for (const longhand of native.longhands(`${name}: ${value}`)) if (!UNANIMATED.test(longhand)) declared.push([longhand, `${name}: ${value}`]);
  }
  const composite = frame.composite === 'auto' ? effect[KEYFRAMES].composite : frame.composite;
  return { offset: frame.computedOffset, easing: easingOf(frame.easing), composite, declared: new Map(declared) };
});
/** What says how to animate, and in which direction a text runs, is not animated itself (CSS Animations §3). */
const UNANIMATED = /^(?:animation|transition)(?:-|$)|^(?:direction|unicode-bidi|writing-mode|text-orientation)$/;
/** A property between the keyframes around a point of an effect (§5.3.5). `under` is what it comes to without the effect. */
const valueAt = (element, frames, property, progress, under) => {
  const own = frames.filter((f) => f.declared.has(property));
  const neutral = (offset) => ({ offset, easing: EASINGS.linear, composite: 'neutral', declared: null });
  if (own[0].offset !== 0) own.unshift(neutral(0));
  if (own.at(-1).offset !== 1) own.push(neutral(1));
  let i = own.findLastIndex((f) => f.offset <= progress);
  if (progress < 0) i = own.findLastIndex((f) => f.offset === 0);
  i = Math.min(Math.max(i, 0), own.length - 2);
  if (progress >= 1) i = own.findIndex((f) => f.offset === 1) - 1;
  const [a, b] = [own[i], own[i + 1]];
  const end = ({ composite, declared }) => {
    if (composite === 'neutral') return under;
    const value = native.computed_with(element[ID], declared.get(property), property);
    return composite === 'replace' ? value : native.added(property, under, value, composite === 'accumulate') ?? value;
  };
  const length = b.offset - a.offset;
  const at = length === 0 ? (progress < 0 ? 0 : 1) : a.easing((progress - a.offset) / length);
  const [from, to] = [end(a), end(b)];
  return at === 0 ? from : at === 1 ? to : native.between(property, from, to, at) ?? (at < 0.5 ? from : to);
};
/** Says in the cascade what the animations of an element come to now. */
const compose = (element) => {
  if (!element) return;
  const said = new Map();
  for (const { effect } of runningOn(element)) {
    const { progress } = effect.getComputedTiming();
    if (progress === null) continue;
    const frames = framesOf(effect);
    const mark = effect[KEYFRAMES].animation instanceof CSSTransition ? '!' : '';
    for (const property of new Set(frames.flatMap((f) => [...f.declared.keys()]))) {
      const under = said.get(property)?.[1] ?? native.computed_with(element[ID], '', property);
      said.set(property, [mark + property, valueAt(element, frames, property, progress, under)]);
    }
  }
  native.set_animated(element[ID], [...said.values()].flat());
};
/** When all was worked out last: once for a frame, and whenever a script looks at a style. */
let composedAt = 0;
const composeNow = () => {
  if (composedAt === now || animations.size === 0) return;
  composedAt = now;
  for (const [{ effect }] of [...animations.values()]) compose(effect.target);
};
ticking.run = () => { if (Math.floor(now / FRAME) !== Math.floor(composedAt / FRAME)) composeNow(); };

/** By the number of their element, the animations that have not come to an end or go on to count after it, in the order in which they count. */
let animations = new Map();
const runningOn = (element) => animations.get(element?.[ID]) ?? [];
const setRunning = (element, list) => { if (list.length) animations.set(element[ID], list); else animations.delete(element[ID]); };
const inOrder = (a, b) => {
  const rank = (animation) => (animation instanceof CSSTransition ? 0 : animation instanceof CSSAnimation ? 1 : 2);
  return rank(a) - rank(b) || a[MADE] - b[MADE];
};
const isListed = (animation) => runningOn(animation.effect?.target).includes(animation);
const enlist = (animation) => {
  const target = animation.effect?.target;
  if (!target || isListed(animation)) return;
  setRunning(target, [...runningOn(target), animation].sort(inOrder));
};
const delist = (animation) => {
  const target = animation.effect?.target;
  if (!target) return;
  setRunning(target, runningOn(target).filter((a) => a !== animation));
  compose(target);
};
const MADE = Symbol('made');
let animationsMade = 0;
class AnimationPlaybackEvent extends Event {
  constructor(type, init = {}) {
    super(type, init);
    this.currentTime = init.currentTime ?? null;
    this.timelineTime = init.timelineTime ?? null;
  }
}
const timeline = Object.create(class AnimationTimeline {}.prototype, { currentTime: { get: () => now, enumerable: true } });
class Animation extends EventTarget {
  #effect; #start = null; #held = null; #rate = 1; #timer = null; #finished; #ready; #state = 'idle';
  constructor(effect = null, on = timeline) {
    super();
    this.#effect = effect;
    this.timeline = on;
    hide(this, MADE, animationsMade++);
    if (effect) effect[KEYFRAMES].animation = this;
    this.id = '';
    this.#promise();
    this.#ready = Promise.resolve(this);
  }
  #promise() {
    this.#finished = Promise.withResolvers();
    // A rejection is told to who asked for the promise alone.
    this.#finished.promise.catch(() => {});
  }
  get effect() { return this.#effect; }
  set effect(effect) {
    const listed = isListed(this);
    if (listed) delist(this);
    this.#effect = effect;
    if (effect) effect[KEYFRAMES].animation = this;
    if (listed) enlist(this);
    this.#plan();
  }
  get #end() { return this.#effect?.getComputedTiming().endTime ?? 0; }
  get ready() { return this.#ready; }
  get finished() { return this.#finished.promise; }
  get pending() { return false; }
  get replaceState() { return 'active'; }
  get playState() { return this.#state; }
  get startTime() { return this.#start; }
  set startTime(at) { this.#start = at; this.#held = null; this.#plan(); }
  get currentTime() {
    if (this.#held !== null) return this.#held;
    return this.#start === null ? null : (now - this.#start) * this.#rate;
  }
  set currentTime(at) {
    if (at === null) return;
    if (this.#state === 'running') { this.#start = now - at / this.#rate; this.#plan(); return; }
    // What has come to its end, or never began, stands where it is put.
    if (this.#state === 'idle' || this.#state === 'finished' && at < this.#end) this.#state = this.#state === 'idle' ? 'paused' : 'running';
    if (this.#state === 'running') { this.#start = now - at / this.#rate; this.#held = null; } else this.#held = at;
    enlist(this);
    this.#plan();
  }
  get playbackRate() { return this.#rate; }
  set playbackRate(rate) {
    const at = this.currentTime;
    this.#rate = rate;
    if (this.#state === 'running' && at !== null) { this.#start = now - at / rate; this.#plan(); }
  }
  updatePlaybackRate(rate) { this.playbackRate = rate; }
  /** Its end is due when the clock has come there. */
  #plan() {
    if (this.#timer !== null) cancel(this.#timer);
    this.#timer = null;
    compose(this.#effect?.target);
    if (this.#state !== 'running') return;
    const at = this.currentTime ?? 0;
    const left = this.#rate > 0 ? this.#end - at : at;
    if (this.#rate === 0 || left === Infinity) return;
    this.#timer = later(() => this.#finish(), Math.max(0, left / Math.abs(this.#rate)));
    if (this[OF]) ofThePage();
  }
  #finish() {
    this.#timer = null;
    this.#ended();
    fire(this, new AnimationPlaybackEvent('finish', { currentTime: this.#held, timelineTime: now }));
  }
  #ended() {
    this.#state = 'finished';
    this.#held = this.#rate > 0 ? this.#end : 0;
    if (this.#effect?.getComputedTiming().progress == null) delist(this);
    else {
      // Of those that go on to count, one that says all that an earlier one says takes its place (§5.5).
      const target = this.#effect.target;
      const says = new Set(framesOf(this.#effect).flatMap((f) => [...f.declared.keys()]));
      const isCovered = (a) => a !== this && a.playState === 'finished'
        && framesOf(a.effect).every((f) => [...f.declared.keys()].every((name) => says.has(name)));
      setRunning(target, runningOn(target).filter((a) => !isCovered(a)));
      enlist(this);
      compose(target);
    }
    this.#finished.resolve(this);
  }
  play() {
    if (this.#state === 'finished' || this.#state === 'idle') {
      if (this.#state === 'finished') this.#promise();
      this.#held = null;
      this.#start = now - (this.#rate < 0 ? this.#end / this.#rate : 0);
    } else if (this.#state === 'paused') { this.#start = now - (this.#held ?? 0) / this.#rate; this.#held = null; }
    this.#state = 'running';
    enlist(this);
    this.#plan();
  }
  pause() {
    this.#held = this.currentTime ?? 0;
    this.#state = 'paused';
    enlist(this);
    this.#plan();
  }
  reverse() { this.playbackRate = -this.#rate; this.play(); }
  finish() {
    if (this.#rate > 0 && this.#end === Infinity) throw new DOMException('An endless animation has no end to go to.', 'InvalidStateError');
    if (this.#timer !== null) cancel(this.#timer);
    this.#timer = null;
    this.#ended();
    queueTask(() => fire(this, new AnimationPlaybackEvent('finish', { currentTime: this.#held, timelineTime: now })));
  }
  cancel() {
    if (this.#state === 'idle') return;
    if (this.#timer !== null) cancel(this.#timer);
    this.#timer = null;
    const running = this.#state !== 'finished';
    this.#state = 'idle';
    this.#held = this.#start = null;
    delist(this);
    if (running) this.#finished.reject(new DOMException('The animation was canceled.', 'AbortError'));
    this.#promise();
    queueTask(() => fire(this, new AnimationPlaybackEvent('cancel', { currentTime: null, timelineTime: now })));
  }
  persist() {}
  /** Writes what it comes to into the element's own style (§6.4). */
  commitStyles() {
    const target = this.#effect?.target;
    if (!target) return;
    for (const property of new Set(framesOf(this.#effect).flatMap((f) => [...f.declared.keys()]))) target.style.setProperty(property, native.computed(target[ID], property));
  }
}
enumerable(Animation);
defineHandlers(Animation.prototype, ['finish', 'cancel', 'remove']);
expose(AnimationEffect, KeyframeEffect, AnimationPlaybackEvent, Animation);

const animationsOf = (wanted) => [...animations.values()].filter(([{ effect }]) => wanted(effect.target)).flat().sort(inOrder);
mixin({
  animate(keyframes, options) {
    const animation = new Animation(new KeyframeEffect(this, keyframes, options));
    if (typeof options === 'object' && options?.id) animation.id = String(options.id);
    animation.play();
    return animation;
  },
  getAnimations(options) { restyle(this); return animationsOf((e) => e === this || (options?.subtree && this.contains(e))); },
}, Element);
mixin({ getAnimations() { return animationsOf((e) => e.getRootNode() === this); } }, Document, ShadowRoot);
accessor(Document.prototype, 'timeline', () => timeline);

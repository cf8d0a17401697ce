// Animations that scripts make, by the virtual clock: Web Animations §4, §6. Nothing is drawn, so keyframes change no style; what counts
// is when they run, end and are given up.

const KEYFRAMES = Symbol('keyframes');
class AnimationEffect {
  constructor() { throw illegal(); }
}
const TIMING = { delay: 0, endDelay: 0, fill: 'auto', iterationStart: 0, iterations: 1, duration: 'auto', direction: 'normal', easing: 'linear' };
class KeyframeEffect extends AnimationEffect {
  constructor(target, keyframes, options) {
    const effect = Object.create(new.target.prototype);
    const given = typeof options === 'number' ? { duration: options } : options ?? {};
    const timing = { ...TIMING };
    for (const key in TIMING) if (given[key] !== undefined) timing[key] = given[key];
    if (typeof timing.duration === 'number' && (timing.duration < 0 || Number.isNaN(timing.duration))) throw new TypeError('The duration is no positive number.');
    hide(effect, KEYFRAMES, { target, keyframes: keyframesOf(keyframes), timing, composite: given.composite ?? 'replace' });
    return effect;
  }
  get target() { return this[KEYFRAMES].target; }
  set target(element) { this[KEYFRAMES].target = element; }
  get pseudoElement() { return null; }
  get composite() { return this[KEYFRAMES].composite; }
  getKeyframes() { return this[KEYFRAMES].keyframes.map((k) => ({ ...k })); }
  setKeyframes(keyframes) { this[KEYFRAMES].keyframes = keyframesOf(keyframes); }
  getTiming() { return { ...this[KEYFRAMES].timing }; }
  updateTiming(timing) { for (const key in TIMING) if (timing[key] !== undefined) this[KEYFRAMES].timing[key] = timing[key]; }
  getComputedTiming() {
    const timing = { ...this.getTiming() };
    timing.duration = typeof timing.duration === 'number' ? timing.duration : 0;
    if (timing.fill === 'auto') timing.fill = 'none';
    timing.activeDuration = timing.duration === 0 ? 0 : timing.duration * timing.iterations;
    timing.endTime = Math.max(0, timing.delay + timing.activeDuration + timing.endDelay);
    return { ...timing, localTime: null, progress: null, currentIteration: null };
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

/** The animations that have not come to an end, in the order in which they were made. */
let animations = [];
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
  set effect(effect) { this.#effect = effect; this.#plan(); }
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
    if (this.#state === 'running') { this.#start = now - at / this.#rate; this.#plan(); } else this.#held = at;
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
    if (this.#state !== 'running') return;
    const at = this.currentTime ?? 0;
    const left = this.#rate > 0 ? this.#end - at : at;
    if (this.#rate !== 0 && left < Infinity) this.#timer = later(() => this.#finish(), Math.max(0, left / Math.abs(this.#rate)));
  }
  #finish() {
    this.#timer = null;
    this.#state = 'finished';
    this.#held = this.#rate > 0 ? this.#end : 0;
    animations = animations.filter((a) => a !== this);
    this.#finished.resolve(this);
    fire(this, new AnimationPlaybackEvent('finish', { currentTime: this.#held, timelineTime: now }));
  }
  play() {
    if (this.#state === 'finished' || this.#state === 'idle') {
      if (this.#state === 'finished') this.#promise();
      this.#held = null;
      this.#start = now - (this.#rate < 0 ? this.#end / this.#rate : 0);
    } else if (this.#state === 'paused') { this.#start = now - (this.#held ?? 0) / this.#rate; this.#held = null; }
    this.#state = 'running';
    if (!animations.includes(this)) animations.push(this);
    this.#plan();
  }
  pause() {
    this.#held = this.currentTime ?? 0;
    this.#state = 'paused';
    if (!animations.includes(this)) animations.push(this);
    this.#plan();
  }
  reverse() { this.playbackRate = -this.#rate; this.play(); }
  finish() {
    if (this.#rate > 0 && this.#end === Infinity) throw new DOMException('An endless animation has no end to go to.', 'InvalidStateError');
    if (this.#timer !== null) cancel(this.#timer);
    this.#timer = null;
    this.#state = 'finished';
    this.#held = this.#rate > 0 ? this.#end : 0;
    animations = animations.filter((a) => a !== this);
    this.#finished.resolve(this);
    queueTask(() => fire(this, new AnimationPlaybackEvent('finish', { currentTime: this.#held, timelineTime: now })));
  }
  cancel() {
    if (this.#state === 'idle') return;
    if (this.#timer !== null) cancel(this.#timer);
    this.#timer = null;
    animations = animations.filter((a) => a !== this);
    const running = this.#state !== 'finished';
    this.#state = 'idle';
    this.#held = this.#start = null;
    if (running) this.#finished.reject(new DOMException('The animation was canceled.', 'AbortError'));
    this.#promise();
    queueTask(() => fire(this, new AnimationPlaybackEvent('cancel', { currentTime: null, timelineTime: now })));
  }
  persist() {}
  commitStyles() {}
}
enumerable(Animation);
defineHandlers(Animation.prototype, ['finish', 'cancel', 'remove']);
expose(AnimationEffect, KeyframeEffect, AnimationPlaybackEvent, Animation);

const animationsOf = (wanted) => animations.filter((a) => a.effect?.target && wanted(a.effect.target));
mixin({
  animate(keyframes, options) {
    const animation = new Animation(new KeyframeEffect(this, keyframes, options));
    if (typeof options === 'object' && options?.id) animation.id = String(options.id);
    animation.play();
    return animation;
  },
  getAnimations(options) { return animationsOf((e) => e === this || (options?.subtree && this.contains(e))); },
}, Element);
mixin({ getAnimations() { return animationsOf((e) => e.getRootNode() === this); } }, Document, ShadowRoot);
accessor(Document.prototype, 'timeline', () => timeline);

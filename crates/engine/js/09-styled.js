// Animations that style begins: transitions (CSS Transitions §3) and animations (CSS Animations §3). They begin where a script looks at an
// element's style, and for such elements whenever the page is drawn.

class CSSTransition extends Animation {
  get transitionProperty() { return this[OF].name; }
}
class CSSAnimation extends Animation {
  get animationName() { return this[OF].name; }
}
/** What an animation of style is of: its element, and its property or name. */
const OF = Symbol('of');
expose(CSSTransition, CSSAnimation);

/** By the number of an element whose style a script has looked at, its transitions by property and its animations by name. */
let watched = new Map();
/** Those that are animated or have transitions: what they come to is looked at when the page is drawn. */
let styled = new Set();
const forgetAnimations = () => {
  if (watched.size || animations.size) native.forget_animations();
  animations = new Map(); animationsMade = 0; composedAt = 0;
  watched = new Map(); styled = new Set(); looked = -1;
};

/** Times of CSS in milliseconds. */
const milliseconds = (text) => parseFloat(text) * (text.endsWith('ms') ? 1 : 1000);
/** The outer items of a list. */
const items = (text) => text.split(/,(?![^(]*\))/).map((t) => t.trim());
const listOf = (element, name) => items(native.computed(element[ID], name));

/** Looks at an element's style: what has changed since begins to change over time where it is to. */
const restyle = (element) => {
  composeNow();
  const known = watched.get(element[ID]);
  const turn = native.turn();
  // Most ask for one property after the other.
  if (known?.turn === turn) return;
  const [names, transitions, ...changed] = native.restyled(element[ID]);
  if (names === undefined) { if (watched.delete(element[ID])) leave(element); return; }
  const own = known ?? { transitions: new Map(), animations: new Map() };
  own.turn = turn;
  watched.set(element[ID], own);
  if (names || transitions) styled.add(element); else styled.delete(element);
  if (changed.length) beginTransitions(element, own, changed);
  if (names || own.animations.size) followAnimations(element, own, names);
};
/** Gives up what ran on an element that is not on the page. */
const leave = (element) => {
  styled.delete(element);
  for (const animation of runningOn(element)) if (animation[OF]) animation.cancel();
};

/** The timer that was just set is the page's own: a component leaves no timer behind by its style. */
const ofThePage = () => { pending.at(-1).around = true; };
const told = (animation, type, elapsed) => {
  const { element, name, isTransition } = animation[OF];
  const init = { bubbles: true, elapsedTime: elapsed / 1000 };
  fire(element, isTransition ? new TransitionEvent(type, { ...init, propertyName: name }) : new AnimationEvent(type, { ...init, animationName: name }));
};
/** Makes an animation of style, which tells of its course by events (CSS Transitions §5, CSS Animations §4). */
const begin = (Kind, element, name, keyframes, timing) => {
  const isTransition = Kind === CSSTransition;
  const animation = new Kind(new KeyframeEffect(element, keyframes, timing));
  hide(animation, OF, { element, name, isTransition });
  const elapsed = Math.max(-timing.delay, 0);
  const [run, start, end, cancelled] = isTransition ? ['transitionrun', 'transitionstart', 'transitionend', 'transitioncancel']
    : [null, 'animationstart', 'animationend', 'animationcancel'];
  const active = animation.effect.getComputedTiming().activeDuration;
  if (run) { queueTask(() => told(animation, run, elapsed)); ofThePage(); }
  const started = later(() => { if (animation.playState !== 'idle') told(animation, start, elapsed); }, Math.max(timing.delay, 0));
  ofThePage();
  animation.addEventListener('finish', () => {
    if (isTransition) watched.get(element[ID])?.transitions.delete(name);
    told(animation, end, active);
  });
  animation.addEventListener('cancel', () => { cancel(started); told(animation, cancelled, elapsed); });
  animation.play();
  return animation;
};

const covered = new Map();
/** Whether a name in `transition-property` means a property. */
const isMeant = (name, property) => {
  if (name === 'all' || name === property) return true;
  if (!covered.has(name)) covered.set(name, new Set(native.longhands(`${name}: initial`)));
  return covered.get(name).has(property);
};
const beginTransitions = (element, own, changed) => {
  const names = listOf(element, 'transition-property');
  const [durations, delays, easings, behaviors] = ['duration', 'delay', 'timing-function', 'behavior'].map((part) => listOf(element, `transition-${part}`));
  for (let i = 0; i < changed.length; i += 3) {
    const [property, before, to] = changed.slice(i, i + 3);
    if (UNANIMATED.test(property)) continue;
    const at = names.findLastIndex((name) => isMeant(name, property));
    const running = own.transitions.get(property);
    const duration = at < 0 ? 0 : Math.max(milliseconds(durations[at % durations.length]), 0);
    const delay = at < 0 ? 0 : milliseconds(delays[at % delays.length]);
    // What is under way goes on from where it is.
    const from = running ? native.computed(element[ID], property) : before;
    const goes = at >= 0 && duration + delay > 0 && from !== to
      && (native.between(property, from, to, 0.5) != null || behaviors[at % behaviors.length] === 'allow-discrete');
    if (running) { own.transitions.delete(property); running.cancel(); }
    if (!goes) continue;
    const frames = [{ [property]: from, easing: 'linear' }, { [property]: to }];
    own.transitions.set(property, begin(CSSTransition, element, property, frames, { duration, delay, easing: easings[at % easings.length], fill: 'backwards' }));
  }
};

/** The keyframes of a name as an element sees them; none where there are none. */
const namedKeyframes = (element, name, easing) => {
  const told = native.keyframes(element[ID], name);
  if (!told.length) return null;
  const at = new Map();
  for (let i = 0; i < told.length; i += 2) {
    for (const place of told[i].split(',').map((p) => p.trim())) {
      const offset = place === 'from' ? 0 : place === 'to' ? 1 : parseFloat(place) / 100;
      if (!(offset >= 0 && offset <= 1)) continue;
      const frame = at.get(offset) ?? { offset, easing };
      for (const longhand of native.style_names(told[i + 1])) {
        const value = native.style_get(told[i + 1], longhand)[0];
        if (longhand === 'animation-timing-function') frame.easing = value;
        else if (longhand === 'animation-composition') frame.composite = value;
        else frame[longhand] = value;
      }
      at.set(offset, frame);
    }
  }
  return [...at.values()].sort((a, b) => a.offset - b.offset);
};
const followAnimations = (element, own, names) => {
  const parts = ['duration', 'delay', 'timing-function', 'iteration-count', 'direction', 'fill-mode', 'play-state', 'composition'];
  const lists = parts.map((part) => listOf(element, `animation-${part}`));
  const wanted = new Map();
  if (names && native.computed(element[ID], 'display') !== 'none') items(names).forEach((name, i) => {
    if (name !== 'none') wanted.set(name, lists.map((list) => list[i % list.length]));
  });
  for (const [name, { animation }] of own.animations) {
    if (wanted.has(name)) continue;
    own.animations.delete(name);
    if (animation.playState !== 'idle') animation.cancel();
  }
  for (const [name, [duration, delay, easing, count, direction, fill, play, composite]] of wanted) {
    const timing = { duration: duration === 'auto' ? 0 : milliseconds(duration), delay: milliseconds(delay), easing: 'linear', direction,
      iterations: count === 'infinite' ? Infinity : Number(count), fill: fill === 'none' ? 'none' : fill, composite };
    const known = own.animations.get(name);
    const key = JSON.stringify([timing, easing, String(timing.iterations)]);
    if (known) {
      if (known.key !== key) { known.key = key; known.animation.effect.setKeyframes(namedKeyframes(element, name, easing) ?? []); known.animation.effect.updateTiming(timing); }
      if (known.play !== play && known.animation.playState !== 'finished') { known.play = play; if (play === 'paused') known.animation.pause(); else known.animation.play(); }
      continue;
    }
    const keyframes = namedKeyframes(element, name, easing);
    if (!keyframes) continue;
    const animation = begin(CSSAnimation, element, name, keyframes, timing);
    if (play === 'paused') animation.pause();
    own.animations.set(name, { animation, key, play });
  }
};

// When the page is drawn, what scripts have looked at is looked at again, where anything has changed since.
let looked = -1;
const observersDue = drawing.due;
const observersRun = drawing.run;
const isChanged = () => styled.size > 0 && looked !== native.turn();
drawing.due = () => observersDue() || isChanged();
drawing.run = () => {
  if (isChanged()) {
    for (const element of [...styled]) restyle(element);
    looked = native.turn();
  }
  observersRun();
};

// Easing functions (CSS Easing 2): how far an effect has come where its time has come so far.

/** A cubic Bézier curve from (0, 0) to (1, 1) as a function of its x (§2.2); beyond its ends it goes on as it came there. */
const bezier = (x1, y1, x2, y2) => {
  const at = (a, b, t) => ((1 - 3 * b + 3 * a) * t + (3 * b - 6 * a)) * t * t + 3 * a * t;
  const start = x1 > 0 ? y1 / x1 : y1 === 0 && x2 > 0 ? y2 / x2 : 0;
  const end = x2 < 1 ? (y2 - 1) / (x2 - 1) : x2 === 1 && x1 < 1 ? (y1 - 1) / (x1 - 1) : 0;
  return (x) => {
    if (x <= 0) return start * x;
    if (x >= 1) return 1 + end * (x - 1);
    let [low, high] = [0, 1];
    for (let i = 0; i < 60; i++) {
      const t = (low + high) / 2;
      if (at(x1, x2, t) < x) low = t; else high = t;
    }
    return at(y1, y2, (low + high) / 2);
  };
};
/** So many equal steps (§2.3). `before`: the effect has not begun, so that a step right at its start is not taken. */
const steps = (count, where) => (x, before) => {
  const jumps = where === 'jump-none' ? count - 1 : where === 'jump-both' ? count + 1 : count;
  let step = Math.floor(x * count + 1e-12);
  if (['start', 'jump-start', 'jump-both'].includes(where)) step++;
  if (before && Number.isInteger(x * count)) step--;
  if (x >= 0 && step < 0) step = 0;
  if (x <= 1 && step > jumps) step = jumps;
  return step / jumps;
};
/** Straight lines between points (§2.1). */
const linear = (text) => {
  const points = [];
  for (const part of text.split(',')) {
    const words = part.trim().split(/\s+/);
    const places = words.filter((w) => w.endsWith('%')).map((w) => parseFloat(w) / 100);
    const value = Number(words.find((w) => !w.endsWith('%')));
    points.push({ value, place: places[0] ?? null });
    if (places.length > 1) points.push({ value, place: places[1] });
  }
  if (points.length < 2) return () => points[0]?.value ?? 0;
  points[0].place ??= 0;
  points.at(-1).place ??= 1;
  let most = points[0].place;
  for (const point of points) if (point.place !== null) most = point.place = Math.max(point.place, most);
  for (let i = 1; i < points.length; i++) {
    if (points[i].place !== null) continue;
    const end = points.findIndex((p, j) => j > i && p.place !== null);
    const [from, to] = [points[i - 1].place, points[end].place];
    for (let j = i; j < end; j++) points[j].place = from + (to - from) * (j - i + 1) / (end - i + 1);
  }
  return (x) => {
    let i = points.findLastIndex((p) => p.place <= x);
    i = Math.min(Math.max(i, 0), points.length - 2);
    const [a, b] = [points[i], points[i + 1]];
    return a.place === b.place ? b.value : a.value + (b.value - a.value) * (x - a.place) / (b.place - a.place);
  };
};
const EASINGS = { linear: (x) => x, ease: bezier(0.25, 0.1, 0.25, 1), 'ease-in': bezier(0.42, 0, 1, 1), 'ease-out': bezier(0, 0, 0.58, 1),
  'ease-in-out': bezier(0.42, 0, 0.58, 1), 'step-start': steps(1, 'start'), 'step-end': steps(1, 'end') };
/** The function of a text that the grammar takes for one. */
const easingOf = (text) => {
  const known = EASINGS[text = String(text).trim().toLowerCase()];
  if (known) return known;
  const [, name, inner] = /^([a-z-]+)\((.*)\)$/s.exec(text) ?? [];
  if (name === 'cubic-bezier') return bezier(...inner.split(',').map(Number));
  if (name === 'steps') { const [count, where] = inner.split(','); return steps(Number(count), where?.trim() ?? 'end'); }
  return name === 'linear' ? linear(inner) : EASINGS.linear;
};

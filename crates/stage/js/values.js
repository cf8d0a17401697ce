// Values between contracts and the page: plain data in both directions. Shared by the session and the sandbox of expressions.

/** Values that are told of one: a graph of a thousand objects has more paths than anybody could read. */
const MOST_TOLD = 20_000;

/** A value as plain data: JSON where it can be, a description where it cannot. */
const encode = (value) => {
  if (value === undefined) return { kind: 'absent' };
  const json = plain(value, 0, [], { left: MOST_TOLD });
  return json === OTHER ? { kind: 'other', value: describe(value) } : { kind: 'json', value: json };
};
/** The same in short, as sessions tell what they saw: what JSON can say as a list of one, a description as a text, nothing as `null`. */
const told = (value) => {
  if (value === undefined) return null;
  const json = plain(value, 0, [], { left: MOST_TOLD });
  return json === OTHER ? describe(value) : [json];
};
const OTHER = Symbol('other');
/** What frameworks make of a tag is no data: it leads to all that it stands in. They mark it, by `$$typeof` or as a node of theirs. */
const isRendered = (v) => typeof v.$$typeof === 'symbol' || v.__v_isVNode === true;
const plain = (v, depth, seen, count) => {
  if (v === null || typeof v === 'string' || typeof v === 'boolean') return v;
  if (typeof v === 'number') return Number.isFinite(v) ? v : depth ? String(v) : OTHER;
  if (typeof v === 'bigint' || typeof v === 'symbol' || typeof v === 'function') return depth ? describe(v) : OTHER;
  if (v === undefined) return null;
  if (seen.includes(v) || depth > 8) return '(a circle)';
  if (v instanceof Date || v instanceof RegExp || v instanceof Map || v instanceof Set || v instanceof Promise) return depth ? describe(v) : OTHER;
  if (v instanceof Event) return domEvent(v);
  // React wraps events in objects of a class of its own; a plain object that holds one is a payload like any other.
  if (v.nativeEvent instanceof Event && Object.getPrototypeOf(v) !== Object.prototype) return domEvent(v.nativeEvent);
  if (v instanceof Node) return depth ? describe(v) : OTHER;
  if (isRendered(v)) return depth ? 'something rendered' : OTHER;
  if (count.left <= 0) return '(more)';
  const path = [...seen, v];
  const within = (x) => (count.left--, plain(x, depth + 1, path, count));
  if (Array.isArray(v)) return v.slice(0, 1000).map(within);
  const out = {};
  for (const key of Object.keys(v).slice(0, 1000)) if (v[key] !== undefined) out[key] = within(v[key]);
  return out;
};
/** A DOM event as payload is its type and its target's value and ticked state. */
const domEvent = (e) => {
  const out = { type: e.type };
  const t = e.target;
  if (t && 'value' in t && typeof t.value === 'string') out.value = t.value;
  if (t && (t.type === 'checkbox' || t.type === 'radio')) out.ticked = t.checked;
  return out;
};
const describe = (v) => {
  if (typeof v === 'function') return 'function';
  if (typeof v === 'object' && v !== null && isRendered(v)) return 'something rendered';
  if (v instanceof Date) return Number.isNaN(+v) ? 'Date (invalid)' : `Date ${v.toISOString()}`;
  if (v instanceof Element) return `<${v.localName}>`;
  if (v instanceof Map || v instanceof Set) return `${v.constructor.name} of ${v.size}`;
  if (typeof v === 'object' && v !== null) return v.constructor?.name ?? 'object';
  return String(v);
};

const evaluated = (text) => (0, eval)(`(${text})`);
/**
 * A value that a contract writes, made anew: `{ $js: … }` and `{ $from: … }` may stand anywhere in it. `imported` are the values
 * of modules by name.
 */
const decode = (value, imported) => {
  if (value.kind === 'json') return revive(value.value, imported);
  if (value.kind === 'js') return evaluated(value.value);
  if (value.kind === 'from') return imported[value.value];
  return undefined;
};
const revive = (json, imported) => {
  if (json === null || typeof json !== 'object') return json;
  if (Array.isArray(json)) return json.map((v) => revive(v, imported));
  const keys = Object.keys(json);
  if (keys.length === 1 && keys[0] === '$js') return evaluated(json.$js);
  if (keys.length === 1 && keys[0] === '$from') return imported[json.$from];
  if (keys.length === 1 && keys[0] === '$absent') return undefined;
  return Object.fromEntries(keys.map((k) => [k, revive(json[k], imported)]));
};

// What the host's scripts go by, as it is before anybody else's run: scripts may put something else in its place. Shared with the stage in a
// real browser.

const JSON = ((own, plain) => {
  const { parse, stringify } = own;
  const { isArray } = Array;
  const keys = Object.keys;
  /** The text of plain data, whatever `toJSON` scripts hang on the prototypes of arrays and objects. */
  const written = (v) => {
    if (typeof v !== 'object' || v === null) return stringify(v);
    let out = '';
    if (isArray(v)) {
      for (let i = 0; i < v.length; i++) out += (i ? ',' : '') + (written(v[i]) ?? 'null');
      return `[${out}]`;
    }
    const names = keys(v);
    for (let i = 0; i < names.length; i++) {
      const text = written(v[names[i]]);
      if (text !== undefined) out += `${out ? ',' : ''}${stringify(names[i])}:${text}`;
    }
    return `{${out}}`;
  };
  return { parse, stringify: (v) => ('toJSON' in plain ? written(v) : stringify(v)) };
})(globalThis.JSON, []);
const Promise = globalThis.Promise;
const PageMap = globalThis.Map;
/** A map whose methods nobody else can replace. */
const Map = (() => {
  const Own = class Map extends globalThis.Map {};
  const { prototype } = globalThis.Map;
  for (const key of Reflect.ownKeys(prototype)) if (key !== 'constructor') Object.defineProperty(Own.prototype, key, Object.getOwnPropertyDescriptor(prototype, key));
  return Own;
})();

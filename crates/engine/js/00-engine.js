// What the engine itself has wrong, set right before anything else runs.

// An accessor that a proxy's trap describes comes out as a value that is undefined (ECMA-262 §10.5.5 demands the accessor).
{
  const Native = Proxy;
  const { getOwnPropertyDescriptor } = Object;
  const reflected = Reflect.getOwnPropertyDescriptor;
  const traps = new WeakMap();
  const known = (proxy, target, handler) => {
    if (typeof handler?.getOwnPropertyDescriptor === 'function') traps.set(proxy, [target, handler]);
    return proxy;
  };
  const Wrapped = function Proxy(target, handler) {
    if (!new.target) throw new TypeError("Constructor Proxy requires 'new'");
    return known(new Native(target, handler), target, handler);
  };
  Object.defineProperty(Wrapped, 'length', { value: 2, configurable: true });
  Object.defineProperty(Wrapped, 'revocable', { writable: true, configurable: true, value: function revocable(target, handler) {
    const made = Native.revocable(target, handler);
    known(made.proxy, target, handler);
    return made;
  } });
  Wrapped.prototype = undefined;
  /** The answer, unless it may be one of those that came out wrong: then the trap is asked again. */
  const right = (found, of, name) => {
    if (!found || found.value !== undefined || found.writable || 'get' in found || !traps.has(of)) return found;
    const [target, handler] = traps.get(of);
    const told = handler.getOwnPropertyDescriptor(target, typeof name === 'symbol' ? name : String(name));
    if (!told || !('get' in told || 'set' in told)) return found;
    return { get: told.get, set: told.set, enumerable: !!told.enumerable, configurable: !!told.configurable };
  };
  const define = (on, name, value) => Object.defineProperty(on, name, { value, writable: true, configurable: true });
  define(globalThis, 'Proxy', Wrapped);
  define(Object, 'getOwnPropertyDescriptor', function (of, name) { return right(getOwnPropertyDescriptor(of, name), of, name); });
  define(Reflect, 'getOwnPropertyDescriptor', function (of, name) { return right(reflected(of, name), of, name); });
  for (const f of [Object.getOwnPropertyDescriptor, Reflect.getOwnPropertyDescriptor]) Object.defineProperty(f, 'name', { value: 'getOwnPropertyDescriptor', configurable: true });
}

// A pattern is compiled each time that an expression is made of a text (and by each `split` by an expression), which takes much longer than to
// use it: what was compiled is kept, and copied.
{
  const Native = RegExp;
  const kept = new globalThis.Map();
  const { get, set, clear } = globalThis.Map.prototype;
  const { apply, construct } = Reflect;
  const source = Object.getOwnPropertyDescriptor(Native.prototype, 'source').get;
  const size = Object.getOwnPropertyDescriptor(globalThis.Map.prototype, 'size').get;
  const MOST = 2000;
  /** What `new RegExp(pattern, flags)` copies instead of compiling; nothing where it is not that plain. */
  const compiled = (pattern, flags) => {
    let text = pattern;
    if (typeof pattern !== 'string') {
      if (typeof flags !== 'string' || typeof pattern !== 'object' || pattern === null) return undefined;
      // Another object than an expression of the engine's has no such source.
      try { text = apply(source, pattern, []); } catch { return undefined; }
    } else if (flags !== undefined && typeof flags !== 'string') return undefined;
    const key = `${flags ?? ''}/${text}`;
    let found = apply(get, kept, [key]);
    if (!found) {
      found = new Native(text, flags);
      if (apply(size, kept, []) >= MOST) apply(clear, kept, []);
      apply(set, kept, [key, found]);
    }
    return found;
  };
  const Caching = new Proxy(Native, {
    construct(target, given, made) {
      const known = compiled(given[0], given[1]);
      return construct(target, known ? [known] : given, made === Caching ? target : made);
    },
    apply(target, self, given) {
      // ECMA-262 §22.2.4.1, step 2: an expression that this constructor made stays itself.
      if (given[1] === undefined && given[0] instanceof target && given[0].constructor === Caching) return given[0];
      const known = typeof given[0] === 'string' ? compiled(given[0], given[1]) : undefined;
      return known ? new target(known) : apply(target, self, given);
    },
  });
  Object.defineProperty(Native.prototype, 'constructor', { value: Caching, writable: true, configurable: true });
  Object.defineProperty(globalThis, 'RegExp', { value: Caching, writable: true, configurable: true });
}

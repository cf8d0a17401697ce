// Which calls a component makes to the page, and what they cost alone. `start` lays a recorder over every method and
// accessor of the page's interfaces; `stop` takes it off again; `again` plays what was recorded without the component.
globalThis.__record = (() => {
  const calls = [];
  let depth = 0;
  let undo = [];
  const names = Object.getOwnPropertyNames(globalThis).filter((n) => /^[A-Z]/.test(n) && typeof globalThis[n] === 'function'
    && (globalThis[n] === EventTarget || globalThis[n].prototype instanceof EventTarget || ['DOMTokenList', 'CSSStyleDeclaration', 'NodeList', 'HTMLCollection'].includes(n)));
  const over = (f, name) => function (...args) {
    if (depth++ === 0) calls.push({ f, name, self: this, args });
    try { return f.apply(this, args); } finally { depth--; }
  };
  /** A listener that is there already costs less than a new one. */
  const forget = () => {
    for (const { name, self, args } of calls) if (name === 'EventTarget.addEventListener') (self ?? globalThis).removeEventListener(...args);
  };
  return {
    start() {
      calls.length = 0;
      for (const name of names) {
        const proto = globalThis[name].prototype;
        for (const key of Reflect.ownKeys(proto)) {
          const d = Object.getOwnPropertyDescriptor(proto, key);
          if (!d.configurable || key === 'constructor') continue;
          const next = { ...d };
          if (typeof d.value === 'function') next.value = over(d.value, `${name}.${String(key)}`);
          else if (d.get) { next.get = over(d.get, `${name}.${String(key)}`); if (d.set) next.set = over(d.set, `${name}.${String(key)} =`); } else continue;
          Object.defineProperty(proto, key, next);
          undo.push([proto, key, d]);
        }
      }
      return '';
    },
    stop() { for (const [proto, key, d] of undo) Object.defineProperty(proto, key, d); undo = []; return String(calls.length); },
    /** Nanoseconds of all calls, and of as many that do nothing: what playing takes, and making a call. */
    again(times) {
      let took = 0, empty = 0;
      const nothing = () => {};
      for (let n = 0; n < Number(times); n++) {
        forget();
        const a = Number(__clock(''));
        for (const { f, self, args } of calls) { try { f.apply(self, args); } catch { /* a node that is gone */ } }
        const b = Number(__clock(''));
        for (const { self, args } of calls) { try { nothing.apply(self, args); } catch { /* as above */ } }
        took += b - a;
        empty += Number(__clock('')) - b;
      }
      return `${took / Number(times)}\t${empty / Number(times)}`;
    },
    /** Name, how often and nanoseconds of each kind of call, a line each. */
    kinds() {
      forget();
      const kinds = new Map();
      for (const { f, name, self, args } of calls) {
        const a = Number(__clock(''));
        const empty = Number(__clock('')) - a;
        const b = Number(__clock(''));
        try { f.apply(self, args); } catch { /* likewise */ }
        const took = Number(__clock('')) - b - empty;
        const kind = kinds.get(name) ?? [0, 0];
        kinds.set(name, [kind[0] + 1, kind[1] + took]);
      }
      return [...kinds].map(([name, [count, took]]) => `${name}\t${count}\t${took}`).join('\n');
    },
  };
})();
''

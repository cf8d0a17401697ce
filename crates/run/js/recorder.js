((shape, path, { deep, iterable, packages }) => {
  // Stands in for a value of which little is known, and notes what a component reads of it. `shape` is what is known already: `{ is: value }`,
  // `{ items: [shape, …] }`, `{ fields: { name: shape } }`, or `"?"` for a thing that may be anything. `deep` makes what is read of such a
  // thing another one, where it is a text otherwise. Where frameworks show whatever can be gone through, things are not `iterable`.
  // `packages` are those of the framework.
  const TEXT = 'mug';
  const NUMBER = 7;
  // What frameworks and the language ask of any value.
  const OWN = /^[_$@0-9]|^(?:toJSON|then|nodeType|nativeEvent|constructor|prototype|inspect|tagName|hasOwnProperty|isPrototypeOf|propertyIsEnumerable)$/;
  const words = (text) => new Set(text.split(' '));
  const OF_LISTS = words('map forEach filter find findIndex findLast some every reduce reduceRight flatMap flat sort reverse toSorted toReversed entries splice push pop shift unshift fill join keys values');
  const OF_TEXTS = words('toUpperCase toLowerCase trim trimStart trimEnd split charAt charCodeAt codePointAt replace replaceAll startsWith endsWith padStart padEnd substring substr match matchAll search localeCompare normalize repeat');
  const OF_NUMBERS = words('toFixed toPrecision toExponential');
  const OF_BOTH = words('slice concat includes indexOf lastIndexOf at toLocaleString');
  // A framework that is given a thing in place of a text looks at it before it refuses it. First come the frames of what follows here.
  const isOfFramework = (frame) => packages.some((name) => frame.includes(`/node_modules/${name}${name.endsWith('/') ? '' : '/'}`));
  const noted = new Set();
  const note = (at, is) => {
    const text = JSON.stringify({ at, is });
    if (noted.has(text) || is === 'field' && isOfFramework(new Error().stack.split('\n')[2] ?? '')) return;
    noted.add(text);
    console.log(`\u0002reads ${text}`);
  };
  const MOST_DEEP = 4;
  const thing = (at, depth) => {
    // What is read again is the same again.
    const parts = new Map();
    const part = (key, step, plain) => {
      if (!parts.has(key)) parts.set(key, !plain && depth < MOST_DEEP ? thing([...at, step], depth + 1) : TEXT);
      return parts.get(key);
    };
    const several = () => {
      note(at, 'list');
      return [part('0 of all', null), part('1 of all', null)];
    };
    const of = (value, name) => value[name].bind(value);
    return new Proxy({}, {
      get(_, name) {
        if (name === Symbol.iterator) return iterable ? () => several()[Symbol.iterator]() : undefined;
        if (name === Symbol.toPrimitive) return (hint) => (hint === 'number' ? (note(at, 'counted'), NUMBER) : (note(at, 'shown'), TEXT));
        if (typeof name !== 'string' || OWN.test(name)) return undefined;
        if (name === 'toString') return () => (note(at, 'shown'), TEXT);
        if (name === 'valueOf') return () => TEXT;
        if (name === 'length') return 2;
        if (OF_LISTS.has(name)) return of(several(), name);
        if (OF_TEXTS.has(name)) { note(at, 'text'); return of(TEXT, name); }
        if (OF_NUMBERS.has(name)) { note(at, 'number'); return of(NUMBER, name); }
        if (OF_BOTH.has(name)) return of(TEXT, name);
        note([...at, name], 'field');
        return part(name, name, !deep);
      },
      has(_, name) {
        if (typeof name === 'string' && !OWN.test(name)) note([...at, name], 'field');
        return name === Symbol.iterator ? iterable : typeof name === 'string' && !OWN.test(name);
      },
    });
  };
  const made = (of, at) => {
    if (of === '?') return thing(at, 0);
    if ('is' in of) return of.is;
    if (of.items) return of.items.map((item) => made(item, [...at, null]));
    const fields = Object.fromEntries(Object.entries(of.fields).map(([name, field]) => [name, made(field, [...at, name])]));
    return new Proxy(fields, {
      get(own, name) {
        if (name in own || typeof name !== 'string' || OWN.test(name) || name === 'length') return own[name];
        note([...at, name], 'field');
        return TEXT;
      },
    });
  };
  return made(shape, path);
})

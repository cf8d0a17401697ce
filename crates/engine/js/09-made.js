// Functions that are made of text: a text that names itself (`//# sourceURL=`) is called so in stacks, as in browsers, and the map that it brings
// is kept, so that a place in it leads back to what a person wrote. Compilers that run in the page, Angular's among them, write so.
{
  const Native = Function;
  const NAME = /\n\/\/[#@] sourceURL=(\S+)/;
  const MAP = /\n\/\/[#@] sourceMappingURL=data:application\/json[^,\n]*;base64,([\w+/=]+)\s*$/;
  const { construct } = Reflect;
  const made = (texts) => {
    const body = texts.at(-1);
    const [, name] = (typeof body === 'string' && NAME.exec(body)) || [];
    if (name === undefined || !texts.every((text) => typeof text === 'string')) return undefined;
    // Made the plain way first: what is no function body is refused there, and nothing that would close the brackets early runs here.
    construct(Native, texts);
    const [, map] = MAP.exec(body) ?? [];
    if (map) native.keepMap(name, map);
    return native.evaluated(`(function anonymous(${texts.slice(0, -1).join()}\n) {\n${body}\n})`, name);
  };
  const Named = function Function(...texts) { return made(texts) ?? construct(Native, texts, new.target ?? Native); };
  Object.defineProperty(Named, 'length', { value: 1, configurable: true });
  Object.defineProperty(Named, 'prototype', { value: Native.prototype, writable: false });
  Object.setPrototypeOf(Named, Object.getPrototypeOf(Native));
  Object.defineProperty(Native.prototype, 'constructor', { value: Named, writable: true, configurable: true });
  Object.defineProperty(globalThis, 'Function', { value: Named, writable: true, configurable: true });
}

// Modules as the server links them: imports that only the page can resolve, and CommonJS files. Expects `hide` and `ask`.

/** Imports that are on their way: a page with one has not come to rest. */
const importing = new Set();
hide(globalThis, '__import', (specifier, from) => {
  const address = from === undefined ? specifier : ask('/resolve', [String(specifier), from]);
  const coming = import(address);
  const settled = coming.then(() => {}, () => {});
  importing.add(settled);
  settled.then(() => importing.delete(settled));
  return coming;
});
const files = new Map();
const required = (name) => {
  const file = files.get(name);
  if (!file) throw new Error(`${name} is not loaded`);
  if (file.namespace) return 'module.exports' in file.namespace ? file.namespace['module.exports'] : file.namespace;
  if (!file.module) {
    const module = (file.module = { exports: {}, id: name, filename: name });
    const require = (specifier) => {
      const target = file.required[specifier];
      if (target === undefined) throw Object.assign(new Error(`\`${specifier}\` is required in ${name}, but it cannot be found`), { code: 'MODULE_NOT_FOUND' });
      return required(target);
    };
    file.wrapper.call(module.exports, module, module.exports, require, name, name.replace(/\/[^/]*$/, ''));
  }
  return file.module.exports;
};
hide(globalThis, '__common', {
  define(name, wrapper, needs) { if (!files.has(name)) files.set(name, { wrapper, required: needs }); },
  module(name, namespace) { if (!files.has(name)) files.set(name, { namespace }); },
  require: required,
});


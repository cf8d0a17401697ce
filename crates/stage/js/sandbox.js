// Expressions of contracts: each sees the names of one combination and the language's own objects, nothing of a page.
const made = new Map();
const compile = (expression, names) => {
  const key = names.join() + '\n' + expression;
  let f = made.get(key);
  if (!f) made.set(key, (f = new Function(...names, `"use strict"; return (${expression}\n);`)));
  return f;
};
let known = {};
globalThis.__expressions = {
  parse(expression) { compile(expression, []); return ''; },
  /** Values of modules, as plain data. */
  know(json) { known = Object.fromEntries(Object.entries(JSON.parse(json)).map(([name, v]) => [name, decode(v, {})])); return ''; },
  evaluate(json) {
    const { expression, scope } = JSON.parse(json);
    const names = Object.keys(scope).filter((n) => /^[A-Za-z_$][\w$]*$/.test(n));
    return JSON.stringify(encode(compile(expression, names)(...names.map((n) => decode(scope[n], known)))));
  },
};

// Expressions of contracts: each sees the names of one combination and the language's own objects, nothing of a page.
const made = new Map();
const compile = (expression, names) => {
  const key = names.join() + '\n' + expression;
  let f = made.get(key);
  if (!f) made.set(key, (f = new Function(...names, `"use strict"; return (${expression}\n);`)));
  return f;
};
const value = (v) => (v.kind === 'json' ? v.value : v.kind === 'js' ? (0, eval)(`(${v.value})`) : undefined);
globalThis.__expressions = {
  parse(expression) { compile(expression, []); return ''; },
  evaluate(json) {
    const { expression, scope } = JSON.parse(json);
    const names = Object.keys(scope).filter((n) => /^[A-Za-z_$][\w$]*$/.test(n));
    const out = compile(expression, names)(...names.map((n) => value(scope[n])));
    if (out === undefined) return JSON.stringify({ kind: 'absent' });
    if (typeof out === 'function' || typeof out === 'symbol') return JSON.stringify({ kind: 'other', value: typeof out });
    return JSON.stringify({ kind: 'json', value: out });
  },
};

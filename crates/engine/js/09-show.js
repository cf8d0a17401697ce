// Values as text for people, and the console that says them. Shared with the stage in a real browser.

/** What libraries throw in place of an error, made like one: `{ name: 'HttpErrorResponse', message: '…' }`. */
const isErrorLike = (v) => {
  try { return typeof v.name === 'string' && v.name.includes('Error') && typeof v.message === 'string' && v.message !== ''; } catch { return false; }
};

/** Console Standard §2.2.1, and values as a person would read them. */
const show = (v, depth = 0) => {
  if (typeof v === 'string') return depth ? JSON.stringify(v) : v;
  if (typeof v === 'function') return `function ${v.name || '(anonymous)'}`;
  if (typeof v === 'bigint') return `${v}n`;
  if (v instanceof Error) return v.name && v.message ? `${v.name}: ${v.message}` : String(v);
  if (typeof v !== 'object' || v === null) return String(v);
  if (isErrorLike(v)) return `${v.name}: ${v.message}`;
  try {
    if (v instanceof Node) return v instanceof Element ? `<${v.localName}${v.id ? ' id="' + v.id + '"' : ''}>` : v.nodeName;
    if (depth > 2) return Array.isArray(v) ? '[…]' : '{…}';
    if (Array.isArray(v)) return `[${v.slice(0, 20).map((x) => show(x, depth + 1)).join(', ')}${v.length > 20 ? ', …' : ''}]`;
    const keys = Object.keys(v);
    return `{${keys.slice(0, 20).map((k) => `${k}: ${show(v[k], depth + 1)}`).join(', ')}${keys.length > 20 ? ', …' : ''}}`;
  } catch { return '{…}'; }
};
const format = (args) => {
  if (typeof args[0] !== 'string') return args.map((a) => show(a)).join(' ');
  let i = 1;
  const head = args[0].replace(/%([sdifoOc%])/g, (all, kind) => {
    if (kind === '%') return '%';
    if (i >= args.length) return all;
    const v = args[i++];
    if (kind === 'c') return '';
    if (kind === 'd' || kind === 'i') return String(typeof v === 'symbol' ? NaN : parseInt(v, 10));
    if (kind === 'f') return String(parseFloat(v));
    return show(v);
  });
  return [head, ...args.slice(i).map((a) => show(a))].join(' ');
};

const counts = new Map();
/** Console Standard §1: `log(level)` gives what takes the arguments of an entry. */
const consoleOver = (log) => ({
  log: log('log'), info: log('log'), debug: log('log'), warn: log('warn'), error: log('error'), trace: log('log'), dir: log('log'), dirxml: log('log'), table: log('log'),
  assert(ok, ...args) { if (!ok) log('error')('Assertion failed:', ...args); },
  group() {}, groupCollapsed() {}, groupEnd() {}, time() {}, timeEnd() {}, timeLog() {}, clear() {}, timeStamp() {}, profile() {}, profileEnd() {},
  count(l = 'default') { counts.set(l, (counts.get(l) ?? 0) + 1); }, countReset(l = 'default') { counts.delete(l); },
});

// What compilers ask of Node's `path`, for paths with forward slashes.
const parts = (path) => path.split('/').reduce((out, part) => {
  if (part === '..' && out.length && out.at(-1) !== '..') out.pop();
  else if (part !== '.' && part !== '') out.push(part);
  return out;
}, []);
export const sep = '/';
export const delimiter = ':';
export const isAbsolute = (path) => path.startsWith('/');
export const normalize = (path) => (isAbsolute(path) ? '/' : '') + parts(path).join('/') || '.';
export const join = (...paths) => normalize(paths.filter(Boolean).join('/'));
export const resolve = (...paths) => normalize(paths.reduceRight((out, path) => (isAbsolute(out) ? out : `${path}/${out}`), '').replace(/^(?!\/)/, '/'));
export const dirname = (path) => path.replace(/\/+[^/]*\/*$/, '') || (isAbsolute(path) ? '/' : '.');
export const basename = (path, end = '') => { const name = path.replace(/\/+$/, '').split('/').at(-1); return end && name.endsWith(end) ? name.slice(0, -end.length) : name; };
export const extname = (path) => /(?<=[^/])\.[^./]*$/.exec(basename(path))?.[0] ?? '';
export const relative = (from, to) => {
  const [a, b] = [parts(resolve(from)), parts(resolve(to))];
  let same = 0;
  while (same < a.length && same < b.length && a[same] === b[same]) same++;
  return [...a.slice(same).map(() => '..'), ...b.slice(same)].join('/');
};
export const posix = { sep, delimiter, isAbsolute, normalize, join, resolve, dirname, basename, extname, relative };
export default posix;

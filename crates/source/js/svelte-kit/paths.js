// `$app/paths`: an application at the root of its address.
export const base = '';
export const assets = '';
const PART = /^\[(\[)?(?:\.\.\.)?(\w+)(?:=\w+)?\]\]?$/;
export const resolve = (id, params = {}) => '/' + id.split('/')
  .filter((part) => part && !/^\(.*\)$/.test(part))
  .map((part) => part.replace(/\[\[?(?:\.\.\.)?\w+(?:=\w+)?\]\]?/g, (written) => params[PART.exec(written)?.[2]] ?? ''))
  .filter(Boolean).join('/');
export const resolveRoute = resolve;
export const asset = (file) => '/' + String(file).replace(/^\//, '');
export const match = async () => null;

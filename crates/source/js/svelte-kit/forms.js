// `$app/forms`: a form asks the application's server, which canned replies stand for: `{ type, status, data }`, the data plain or as the
// server writes it, a list in which values name one another by their place.
import { tick } from 'svelte';
import { goto } from './navigation.js';
import { held, tell } from './page.js';

const SPECIAL = { '-1': undefined, '-3': NaN, '-4': Infinity, '-5': -Infinity, '-6': -0 };
const MADE = {
  Date: ([text]) => new Date(text),
  Set: (items, value) => new Set(items.map(value)),
  Map: (items, value) => new Map(Array.from({ length: items.length / 2 }, (_, i) => [value(items[2 * i]), value(items[2 * i + 1])])),
  BigInt: ([text]) => BigInt(text),
  RegExp: ([source, flags]) => new RegExp(source, flags),
};
const unfold = (list) => {
  const made = new Map();
  const value = (at) => {
    if (at < 0) return SPECIAL[at];
    if (made.has(at)) return made.get(at);
    const flat = list[at];
    if (flat === null || typeof flat !== 'object') return flat;
    if (Array.isArray(flat) && typeof flat[0] === 'string') return MADE[flat[0]]?.(flat.slice(1), value);
    const out = Array.isArray(flat) ? [] : {};
    made.set(at, out);
    for (const key of Object.keys(flat)) out[key] = value(flat[key]);
    return out;
  };
  return value(0);
};

export const deserialize = (text) => {
  const result = JSON.parse(text);
  return typeof result.data === 'string' ? { ...result, data: unfold(JSON.parse(result.data)) } : result;
};

export async function applyAction(result) {
  if (result.type === 'redirect') return goto(result.location);
  const page = held();
  page.status = result.status ?? 200;
  if (result.type === 'error') page.error = result.error;
  else page.form = result.data ?? null;
  tell();
  await tick();
}

export function enhance(formElement, submit = () => {}) {
  const attribute = (name, submitter) => submitter?.getAttribute(`form${name}`) ?? formElement.getAttribute(name);
  if ((attribute('method') ?? 'get').toLowerCase() !== 'post') throw new Error('use:enhance needs a form with method="POST"');
  // What another page's action says is nothing of this page's, but for where it leads.
  const update = async (action, result, { reset = true } = {}) => {
    if (result.type === 'success' && reset) HTMLFormElement.prototype.reset.call(formElement);
    const isOwn = action.origin + action.pathname === location.origin + location.pathname;
    if (isOwn || result.type === 'redirect' || result.type === 'error') await applyAction(result);
  };
  const onsubmit = async (event) => {
    if ((attribute('method', event.submitter) ?? 'get').toLowerCase() !== 'post') return;
    event.preventDefault();
    const action = new URL(attribute('action', event.submitter) ?? '', document.baseURI);
    const formData = new FormData(formElement, event.submitter);
    const controller = new AbortController();
    let cancelled = false;
    const cancel = () => { cancelled = true; };
    const after = await submit({ action, formData, formElement, controller, submitter: event.submitter, cancel });
    if (cancelled) return;
    let result;
    try {
      const headers = { accept: 'application/json', 'x-sveltekit-action': 'true' };
      const response = await fetch(action, { method: 'POST', headers, cache: 'no-store', body: formData, signal: controller.signal });
      result = deserialize(await response.text());
      if (result.type === 'error') result.status = response.status;
    } catch (error) {
      if (error?.name === 'AbortError') return;
      result = { type: 'error', error };
    }
    if (typeof after !== 'function') return update(action, result);
    await after({ action, formData, formElement, result, update: (options) => update(action, result, options) });
  };
  formElement.addEventListener('submit', onsubmit);
  return { destroy: () => formElement.removeEventListener('submit', onsubmit) };
}

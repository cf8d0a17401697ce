// `$app/state`: what a component reads of it, it reads anew when the page changes. A project's set-up may write `page.data` and the rest.
import * as reactivity from 'svelte/reactivity';
import { current, held, listen, tell } from './page.js';

const follow = reactivity.createSubscriber?.(listen) ?? (() => {});
const page = {};
for (const name of ['url', 'params', 'route', 'status', 'error', 'data', 'form', 'state']) {
  const set = name === 'url' || name === 'state' ? undefined : (value) => { held()[name] = value; tell(); };
  Object.defineProperty(page, name, { enumerable: true, get() { follow(); return current()[name]; }, set });
}
const navigating = {};
for (const name of ['from', 'to', 'type', 'willUnload', 'delta', 'complete']) {
  Object.defineProperty(navigating, name, { enumerable: true, get() { follow(); return held().navigating?.[name] ?? null; } });
}
const updated = { current: false, check: async () => false };

export { navigating, page, updated };

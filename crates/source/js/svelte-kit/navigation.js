// `$app/navigation`: the application goes where it is told, and loads nothing.
import { onMount } from 'svelte';
import { held, tell } from './page.js';

/** Registers what a component wants to hear, as long as it is mounted. */
const register = (kind) => (callback) => onMount(() => {
  const callbacks = held()[kind];
  callbacks.add(callback);
  return () => callbacks.delete(callback);
});
const target = (url) => ({ url: new URL(url), params: held().params, route: held().route });

export const beforeNavigate = register('before');
export const onNavigate = register('on');
export const afterNavigate = (callback) => {
  register('after')(callback);
  onMount(() => callback({ from: null, to: target(location.href), type: 'enter', willUnload: false, complete: Promise.resolve() }));
};

export async function goto(url, { replaceState: replaces = false, state = {} } = {}) {
  const to = new URL(url, document.baseURI);
  if (to.origin !== location.origin) throw new Error('goto: invalid URL');
  let ended;
  const complete = new Promise((resolve) => { ended = resolve; });
  const navigation = { from: target(location.href), to: target(to), type: 'goto', willUnload: false, delta: undefined, complete };
  let cancelled = false;
  for (const callback of [...held().before]) callback({ ...navigation, cancel: () => { cancelled = true; } });
  if (cancelled) return;
  held().navigating = navigation;
  tell();
  const ends = (await Promise.all([...held().on].map((callback) => callback(navigation)))).filter((end) => typeof end === 'function');
  history[replaces ? 'replaceState' : 'pushState'](state, '', to);
  held().form = null;
  held().navigating = null;
  tell();
  for (const callback of [...ends, ...held().after]) callback(navigation);
  ended();
}

const shallow = (method) => (url, state) => {
  history[method](state, '', new URL(url || location.href, document.baseURI));
  tell();
};
export const pushState = shallow('pushState');
export const replaceState = shallow('replaceState');

export const invalidate = async () => tell();
export const invalidateAll = async () => tell();
export const refreshAll = async () => tell();
export const preloadData = async () => ({ type: 'loaded', status: 200, data: {} });
export const preloadCode = async () => {};
export const disableScrollHandling = () => {};

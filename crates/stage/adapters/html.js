// Plain HTML on a stage: a page or a piece of one, whose scripts run as a page runs them. Same contract as the other adapters: see vue.js.
// What a parent passes are attributes of the outermost element, `data-…` but for those that HTML knows; what it hears are events that
// reach that element.

import { mount as mountElement } from 'stage:element';

/** Attributes that HTML knows; a `data-` attribute that the page has written comes before. */
const KNOWN = /^(aria-.*|data-.*|class|id|style|hidden|title|lang|dir|open|disabled|value|checked|role|tabindex|href|name|type)$/;
const dataOf = (name) => `data-${name.replace(/[A-Z]/g, (c) => `-${c.toLowerCase()}`)}`;
const set = (element, attribute, value) => {
  if (value === undefined || value === null || value === false) element.removeAttribute(attribute);
  else element.setAttribute(attribute, value === true ? '' : typeof value === 'object' ? JSON.stringify(value) : String(value));
};

/** Scripts in the order in which a page runs them: those that wait for the page come after the others (HTML §4.12.1). */
const run = async (scripts, failed) => {
  for (const late of [false, true]) {
    for (const script of scripts.filter((s) => s.late === late)) {
      try {
        if (script.text !== undefined) (0, eval)(script.text);
        else await script.load();
      } catch (error) {
        failed(typeof WebAssembly === 'undefined' && /WebAssembly/.test(error?.message) ? new Error('It needs WebAssembly, which this stage has not: play it with --stage browser') : error);
      }
    }
  }
  document.dispatchEvent(new Event('DOMContentLoaded', { bubbles: true }));
  window.dispatchEvent(new Event('load'));
};

/** Handlers that a page writes at its body and the window has (HTML §8.1.8.2). */
const OF_WINDOW = ['afterprint', 'beforeprint', 'beforeunload', 'blur', 'error', 'focus', 'hashchange', 'languagechange', 'load', 'message', 'messageerror', 'offline',
  'online', 'pagehide', 'pageshow', 'popstate', 'resize', 'scroll', 'storage', 'unload'];
/** What of a head is put into the head of the stage: nothing that loads or leads elsewhere. */
const OF_HEAD = 'title, meta:not([http-equiv]), template';
/**
 * Puts what a page has around its content where it belongs: its head, attributes of its body and its root, and the names that its scripts call
 * its elements by. Gives what takes it away again.
 */
const enter = (parsed, container) => {
  for (const style of [...parsed.head.querySelectorAll('style')].reverse()) container.prepend(style);
  const undo = [];
  for (const element of parsed.head.querySelectorAll(OF_HEAD)) {
    document.head.append(element);
    undo.push(() => element.remove());
  }
  for (const [of, to] of [[parsed.documentElement, document.documentElement], [parsed.body, document.body]]) {
    for (const name of of.getAttributeNames()) {
      const value = of.getAttribute(name);
      if (name.startsWith('on') && OF_WINDOW.includes(name.slice(2))) {
        window[name] = new Function('event', value);
        undo.push(() => { window[name] = null; });
      } else {
        const before = to.getAttribute(name);
        to.setAttribute(name, value);
        undo.push(() => { if (before === null) to.removeAttribute(name); else to.setAttribute(name, before); });
      }
    }
  }
  // A browser has them by itself (HTML §7.2.2.3).
  for (const element of container.querySelectorAll('[id]')) {
    const { id } = element;
    if (id === '' || id in globalThis) continue;
    Object.defineProperty(globalThis, id, {
      get: () => document.getElementById(id) ?? undefined,
      set(value) { Object.defineProperty(globalThis, id, { value, writable: true, enumerable: true, configurable: true }); },
      enumerable: false,
      configurable: true,
    });
    undo.push(() => { delete globalThis[id]; });
  }
  return () => { for (const step of undo.splice(0).reverse()) step(); };
};

/** The scripts of a page that a server gave, which are asked for there. */
const scriptsOf = (parsed, address) => [...parsed.querySelectorAll('script')].filter((s) => /^(module|text\/javascript|application\/javascript|)$/.test(s.getAttribute('type') ?? '')).map((script) => {
  const src = script.getAttribute('src');
  const module = script.getAttribute('type') === 'module';
  const late = module || src !== null && (script.hasAttribute('defer') || script.hasAttribute('async'));
  if (module && src !== null) return { late, load: () => import(new URL(src, address).href) };
  if (src !== null) return { late, load: async () => { (0, eval)(await (await fetch(src)).text()); } };
  if (!module) return { late, text: script.textContent };
  // A module that stands in a page: what it imports is asked for before it runs.
  const code = script.textContent
    .replace(/^\s*import\s+\{([^}]*)\}\s*from\s*(['"])([^'"]+)\2;?/gm, (_, names, q, from) => `const {${names.replaceAll(' as ', ': ')}} = await __import(${JSON.stringify(from)});`)
    .replace(/^\s*import\s+\*\s+as\s+(\w+)\s+from\s*(['"])([^'"]+)\2;?/gm, (_, name, q, from) => `const ${name} = await __import(${JSON.stringify(from)});`)
    .replace(/^\s*import\s+(\w+)\s+from\s*(['"])([^'"]+)\2;?/gm, (_, name, q, from) => `const { default: ${name} } = await __import(${JSON.stringify(from)});`)
    .replace(/^\s*import\s*(['"])([^'"]+)\1;?/gm, (_, q, from) => `await __import(${JSON.stringify(from)});`);
  const run = new (async () => {}).constructor('__import', code);
  return { late, load: () => run((from) => import(new URL(from, address).href)) };
});
/** The page at an address, parsed; the styles that it links are in place. */
const fetched = async (url) => {
  const answer = await fetch(url.href);
  if (!answer.ok) throw new Error(`${url.pathname}${url.search} answered ${answer.status}`);
  const parsed = new DOMParser().parseFromString(await answer.text(), 'text/html');
  for (const sheet of parsed.querySelectorAll('link[rel~=stylesheet]')) {
    const from = new URL(sheet.getAttribute('href') ?? '', url);
    // Nothing is loaded from anywhere else: a page does without.
    if (from.origin === url.origin) await import(from.href);
    else console.info(`left out: \`${from.href}\` is not fetched: nothing is loaded from the network`);
  }
  return parsed;
};

/** How often it is looked whether a page has registered something, a virtual millisecond apart. */
const LOOKS = 40;
/**
 * A component that the scripts of a page register under a name: as a custom element, or as a component of .NET that is put into an
 * element by `Blazor.rootComponents`. The page itself is not shown.
 */
const registered = (address, name, container, given) => {
  let held = null, gone = false;
  let props = given.props, slots = given.slots ?? {};
  const rooted = async () => {
    const holder = document.createElement('div');
    container.append(holder);
    const heard = Object.fromEntries(Object.entries(given.listeners).map(([event, listener]) => [event, (...args) => listener(args.length > 1 ? args : args[0])]));
    const component = await globalThis.Blazor.rootComponents.add(holder, name, { ...props, ...heard });
    return { update: (next) => { Promise.resolve(component.setParameters(next)).catch(given.failed); }, fill() {}, reach: () => holder.firstElementChild, remove() { component.dispose(); holder.remove(); } };
  };
  const show = async () => {
    const url = new URL(address);
    url.hash = '';
    await run(scriptsOf(await fetched(url), url.href), given.failed);
    const is = () => customElements.get(name) || globalThis.Blazor?.rootComponents;
    for (let looks = 0; looks < LOOKS && !is(); looks++) await new Promise((resolve) => { setTimeout(resolve, 1); });
    if (gone) return;
    if (!is()) throw new Error(`${url.href} registers no component under the name ${name}`);
    const then = props;
    held = customElements.get(name) ? mountElement(name, container, { ...given, props, slots }) : await rooted();
    if (gone) held.remove();
    // What was passed while it was on its way.
    else if (props !== then) held.update(props);
  };
  show().catch(given.failed);
  return {
    update(next) { props = next; held?.update(next); },
    fill(next) { slots = next; held?.fill(next); },
    reach: () => held?.reach() ?? null,
    own: (member) => !(member in HTMLElement.prototype),
    remove() { gone = true; held?.remove(); container.replaceChildren(); },
  };
};

/** What a server renders: what a parent passes are the parameters of its address. */
const served = ({ address }, container, { props, listeners, failed }) => {
  let asked = 0;
  let leave = () => {};
  for (const [written, listener] of Object.entries(listeners)) {
    container.addEventListener(written, (event) => listener(event instanceof CustomEvent && event.detail !== null ? event.detail : event));
  }
  const show = async (given) => {
    const turn = ++asked;
    const url = new URL(address);
    for (const [name, value] of Object.entries(given)) if (value !== undefined && value !== null) url.searchParams.set(name, typeof value === 'object' ? JSON.stringify(value) : String(value));
    const parsed = await fetched(url);
    if (turn !== asked) return;
    leave();
    container.innerHTML = parsed.body.innerHTML;
    leave = enter(parsed, container);
    await run(scriptsOf(parsed, url.href), failed);
  };
  const shown = (given) => { show(given).catch(failed); };
  shown(props);
  return {
    update: shown,
    fill() {},
    reach: () => container.firstElementChild,
    own: (name) => !(name in HTMLElement.prototype),
    remove() { asked++; leave(); container.replaceChildren(); },
  };
};

export function mount(page, container, given) {
  const name = page.address?.split('#')[1];
  if (name) return registered(page.address, name, container, given);
  if (page.address) return served(page, container, given);
  const { props, listeners, failed } = given;
  for (const sheet of page.leftOut) console.info(`left out: ${sheet}`);
  const parsed = new DOMParser().parseFromString(page.html, 'text/html');
  container.innerHTML = parsed.body.innerHTML;
  const leave = enter(parsed, container);
  const root = [...container.children].find((e) => !['script', 'style', 'link', 'meta', 'title'].includes(e.localName)) ?? container;
  const written = new Set(root.getAttributeNames());
  const attributeOf = (name) => (KNOWN.test(name) && !written.has(dataOf(name)) ? name : dataOf(name));
  const initial = new Map();
  let current = {};
  const pass = (next) => {
    for (const [name, value] of Object.entries(next)) {
      if (name in current && Object.is(current[name], value)) continue;
      if (!initial.has(name)) initial.set(name, root.getAttribute(attributeOf(name)));
      set(root, attributeOf(name), value);
    }
    for (const name of Object.keys(current)) if (!(name in next)) set(root, attributeOf(name), initial.get(name));
    current = next;
  };
  pass(props);
  for (const [event, listener] of Object.entries(listeners)) {
    container.addEventListener(event, (event) => listener(event instanceof CustomEvent && event.detail !== null ? event.detail : event));
  }
  run(page.scripts, failed);
  return {
    update: pass,
    fill() {},
    reach: () => (root.isConnected ? root : null),
    own: (name) => !(name in HTMLElement.prototype),
    remove() { leave(); container.replaceChildren(); },
  };
}

// Plain HTML on a stage: a page or a piece of one, whose scripts run as a page runs them. Same contract as the other adapters: see vue.js.
// What a parent passes are attributes of the outermost element, `data-…` but for those that HTML knows; what it hears are events that
// reach that element.

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
        failed(error);
      }
    }
  }
  document.dispatchEvent(new Event('DOMContentLoaded', { bubbles: true }));
  window.dispatchEvent(new Event('load'));
};

export function mount(page, container, { props, listeners, failed }) {
  const parsed = new DOMParser().parseFromString(page.html, 'text/html');
  container.innerHTML = parsed.body.innerHTML;
  const root = [...container.children].find((e) => e.localName !== 'script' && e.localName !== 'style') ?? container;
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
    remove() { container.replaceChildren(); },
  };
}

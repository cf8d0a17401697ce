// React 18 and 19 on a stage, in its public API only. Same contract as the other adapters: see vue.js.
import { createElement, createRef, Component as Base, Fragment } from 'react';
import { createRoot } from 'react-dom/client';

const ATTRIBUTES = {
  class: 'className', for: 'htmlFor', tabindex: 'tabIndex', readonly: 'readOnly', maxlength: 'maxLength', colspan: 'colSpan', rowspan: 'rowSpan',
  autofocus: 'autoFocus', autocomplete: 'autoComplete', contenteditable: 'contentEditable', value: 'defaultValue', checked: 'defaultChecked',
};
const attributes = (given) => {
  const out = {};
  for (const [name, value] of Object.entries(given)) {
    if (name === 'style' && typeof value === 'string') {
      out.style = Object.fromEntries(value.split(';').map((d) => d.split(/:(.*)/s)).filter(([k, v]) => k.trim() && v)
        .map(([k, v]) => [k.trim().startsWith('--') ? k.trim() : k.trim().replace(/-([a-z])/g, (_, c) => c.toUpperCase()), v.trim()]));
    } else out[ATTRIBUTES[name] ?? name] = value === '' && typeof name === 'string' && ['disabled', 'checked', 'readonly'].includes(name) ? true : value;
  }
  return out;
};

/** A content tree as elements. */
const element = (node, scope, key) => {
  if (node.text !== undefined) return node.text(scope);
  const children = node.children.map((c, i) => element(c, scope, i));
  const given = node.attributes(scope);
  if (node.component) return createElement(node.component, { ...given, key }, ...children);
  return createElement(node.tag, { ...attributes(given), ...(node.seen && { ref: node.seen }), key }, ...children);
};
/** One child as it is, several as a fragment: what a parent's JSX would pass. */
const content = ({ nodes, receive }, scope) => {
  if (scope !== undefined) receive(scope);
  const made = nodes.map((n, i) => element(n, scope, i));
  return made.length === 1 ? made[0] : createElement(Fragment, null, ...made);
};

export function mount(Component, container, { props, listeners, slots, failed, wantsRef, scoped, wrap, prefix }) {
  let current = { props, slots };
  const ref = createRef();
  // Errors of a root are options since React 19 and reach the window before it.
  const root = createRoot(container, { onUncaughtError: (error) => failed(error), identifierPrefix: prefix });
  const render = () => {
    const given = { ...current.props, ...listeners };
    let children = [];
    for (const [name, filled] of Object.entries(current.slots)) {
      if (!filled) continue;
      const { nodes } = filled;
      const exposes = scoped.includes(name);
      if (name === 'default' && !exposes) children = nodes.map((n, i) => element(n, undefined, nodes.length > 1 ? i : undefined));
      else given[name === 'default' ? 'children' : name] = exposes ? (scope) => content(filled, scope) : content(filled);
    }
    if (wantsRef) given.ref = ref;
    const itself = createElement(Component, given, ...children);
    root.render(wrap.reduceRight((inner, { component, props: passed }) => createElement(component, passed, inner), itself));
  };
  render();
  return {
    update(next) { current = { ...current, props: next }; render(); },
    fill(next) { current = { ...current, slots: next }; render(); },
    reach() {
      const it = ref.current;
      return it && typeof it === 'object' ? it : null;
    },
    own: (name) => !(name in Base.prototype),
    remove() { root.unmount(); },
  };
}

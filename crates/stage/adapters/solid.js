// Solid on a stage, in its public API only. Same contract as the other adapters: see vue.js. A Solid parent renders once: what it
// passes are members that are read where they are needed, and content is made where it is read.
import { createComponent, createSignal, mergeProps, untrack } from 'solid-js';
import { DelegatedEvents, delegateEvents, insert, render } from 'solid-js/web';

// Handlers are found by one listener for each kind of event, and Solid remembers for which kinds there is one. Between cases that is not to
// change.
delegateEvents([...DelegatedEvents]);

/** A content tree as what JSX makes of it. */
const piece = (node, scope) => {
  if (node.text !== undefined) return node.text(scope);
  const given = node.attributes(scope);
  const children = () => node.children.map((child) => piece(child, scope));
  if (node.component) return createComponent(node.component, node.children.length ? mergeProps(given, { get children() { return children(); } }) : given);
  const element = document.createElement(node.tag);
  for (const [name, value] of Object.entries(given)) element.setAttribute(name, String(value));
  insert(element, children());
  node.seen?.(element);
  return element;
};
const pieces = ({ nodes, receive }, scope) => {
  if (scope !== undefined) receive(scope);
  return untrack(() => (nodes.length === 1 ? piece(nodes[0], scope) : nodes.map((node) => piece(node, scope))));
};

export function mount(Component, container, { props, listeners, slots, wantsRef, scoped, wrap }) {
  let current = { props, slots, listeners };
  let held = null;
  /** One signal for each prop, and one for which props there are. */
  const signals = new Map();
  const given = () => {
    const out = { ...current.props, ...current.listeners };
    for (const [name, content] of Object.entries(current.slots)) if (content) out[name === 'default' ? 'children' : name] = content;
    return out;
  };
  const isContent = (name) => (name === 'children' ? current.slots.default : current.slots[name]) != null;
  const members = () => {
    const out = {};
    for (const name of Object.keys(given())) {
      const [read] = signals.get(name);
      const content = name === 'children' ? 'default' : name;
      const get = !isContent(name) ? read : scoped.includes(content) ? () => { const filled = read(); return (scope) => pieces(filled, scope); } : () => pieces(read());
      Object.defineProperty(out, name, { enumerable: true, configurable: true, get });
    }
    return out;
  };
  const names = () => Object.keys(given()).join('\n');
  const note = () => {
    for (const [name, value] of Object.entries(given())) {
      if (signals.has(name)) signals.get(name)[1](() => value);
      else signals.set(name, createSignal(value));
    }
  };
  note();
  let known = names();
  const [all, setAll] = createSignal(members());
  const pass = () => {
    note();
    if (names() !== known) { known = names(); setAll(members()); }
  };
  const itself = () => createComponent(Component, mergeProps(all, wantsRef ? { ref: (it) => { held = it; } } : {}));
  const dispose = render(wrap.reduceRight((inner, { component, props: around }) => () => createComponent(component, mergeProps(around, { get children() { return inner(); } })), itself), container);
  return {
    update(next) { current = { ...current, props: next }; pass(); },
    listen(next) { current = { ...current, listeners: next }; pass(); return Object.keys(next); },
    fill(next) { current = { ...current, slots: next }; pass(); },
    reach: () => (held && typeof held === 'object' ? held : null),
    own: () => true,
    remove() { held = null; dispose(); },
  };
}

// What React and Preact have in common on a stage: a parent that renders elements anew. Same contract as the other adapters: see vue.js.

/**
 * Gives the adapter of a framework: `createElement`, `createRef`, `Fragment`; `root(container, { failed, prefix })` with `render(element)` and
 * `unmount()`; `attributes(given)`, those of HTML as the framework writes them; `own(name)`, false for what every instance has.
 */
export const adapter = ({ createElement, createRef, Fragment, root, attributes, own }) => {
  /** A content tree as elements. */
  const element = (node, scope, key) => {
    if (node.text !== undefined) return node.text(scope);
    const children = node.children.map((c, i) => element(c, scope, i));
    const given = node.attributes(scope);
    if (node.component) return createElement(node.component, { ...given, key }, ...children);
    return createElement(node.tag, { ...attributes(given), ...(node.seen && { ref: node.seen }), key }, ...children);
  };
  /** One child as it is, several as a fragment: what a parent's JSX would pass. */
  const content = ({ nodes, receive }, scope, key) => {
    if (scope !== undefined) receive(scope);
    if (nodes.length === 1) return element(nodes[0], scope, key ?? 0);
    return createElement(Fragment, { key }, ...nodes.map((n, i) => element(n, scope, i)));
  };
  /**
   * The key of what is rendered for one of several, as whoever writes that would give it: what the thing is called, else where it stands.
   * What is rendered once has none that changes, or it would be made anew.
   */
  const keyOf = ([it, ...more]) => {
    const place = more.find((handed) => typeof handed === 'number');
    const name = Object(it) === it ? it.id ?? it.key : place === undefined ? undefined : it;
    return typeof name === 'string' || typeof name === 'number' ? name : place;
  };

  return (Component, container, { props, listeners, slots, failed, wantsRef, scoped, wrap, prefix }) => {
    let current = { props, slots, listeners };
    const ref = createRef();
    const page = root(container, { failed, prefix });
    const render = () => {
      const given = { ...current.props, ...current.listeners };
      let children = [];
      for (const [name, filled] of Object.entries(current.slots)) {
        if (!filled) continue;
        const { nodes } = filled;
        const exposes = scoped.includes(name);
        if (name === 'default' && !exposes) children = nodes.map((n, i) => element(n, undefined, nodes.length > 1 ? i : undefined));
        else given[name === 'default' ? 'children' : name] = exposes ? (...handed) => content(filled, handed[0], keyOf(handed)) : content(filled);
      }
      if (wantsRef) given.ref = ref;
      const itself = createElement(Component, given, ...children);
      page.render(wrap.reduceRight((inner, { component, props: passed }) => createElement(component, passed, inner), itself));
    };
    render();
    return {
      update(next) { current = { ...current, props: next }; render(); },
      listen(next) { current = { ...current, listeners: next }; render(); return Object.keys(next); },
      fill(next) { current = { ...current, slots: next }; render(); },
      refresh() { render(); },
      reach() {
        const it = ref.current;
        return it && typeof it === 'object' ? it : null;
      },
      own,
      remove() { page.unmount(); },
    };
  };
};

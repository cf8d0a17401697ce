// Vue 3 on a stage, in its public API only.
//
// mount(Component, container, { props, listeners, slots, failed, warned, wantsRef, scoped, wrap, setup, prefix, stray }) gives a handle with
// update(props), fill(slots), reach(), remove(). It writes to none of what it is given: `props` are the parent's own. `slots` maps names to contents, see content.js of the stage; `wrap` are components
// around it with their props, outermost first; `setup` are what the project's set-up modules export: functions that take the application; `declared` are the names of its props; `prefix` keeps generated ids of two mounts apart; `stray(name, payload)` hears what is
// emitted and not declared, where the framework lets anybody hear that. An adapter may `prepare(container)`: do what its framework does once to
// an element that it renders in; it may say what it knows that a component `declares`; and, where the framework keeps listeners of the page itself, how many are
// `listening`.
import { camelize, createApp, h, shallowReactive, ref } from 'vue';

const onName = (written) => 'on' + written[0].toUpperCase() + written.slice(1);

/** A content tree as vnodes. */
const vnode = (node, scope) => {
  if (node.text !== undefined) return node.text(scope);
  const attributes = node.attributes(scope);
  if (node.seen) attributes.ref = node.seen;
  const children = () => node.children.map((c) => vnode(c, scope));
  return node.component ? h(node.component, attributes, node.children.length ? { default: children } : undefined) : h(node.tag, attributes, children());
};

/**
 * Vue tells its developer tools of every event, declared or not. Only those of the component itself count: not of what it is made of,
 * also where that is the same component.
 */
const hear = (Component, listeners, stray) => {
  const hook = globalThis.__VUE_DEVTOOLS_GLOBAL_HOOK__;
  const known = new Set(Object.keys(listeners).flatMap((name) => [name, camelize(name), hyphenate(name)]));
  hook.emit = (what, app, instance, name, payload) => {
    if (what !== 'component:emit' || known.has(name) || instance?.type !== Component) return;
    for (let outer = instance.parent; outer; outer = outer.parent) if (outer.type === Component) return;
    stray(name, payload);
  };
};
const hyphenate = (name) => name.replace(/\B([A-Z])/g, '-$1').toLowerCase();

/** Props as options declare them, those of mixins and of what it extends first. */
const propsOf = (Component) => {
  const out = {};
  for (const base of [...(Component.mixins ?? []), ...(Component.extends ? [Component.extends] : [])]) Object.assign(out, propsOf(base));
  if (Array.isArray(Component.props)) for (const name of Component.props) out[camelize(name)] = {};
  else for (const [name, told] of Object.entries(Component.props ?? {})) out[camelize(name)] = typeof told === 'function' || Array.isArray(told) ? { type: told } : told ?? {};
  return out;
};
const emitsOf = (Component) => {
  const bases = [...(Component.mixins ?? []), ...(Component.extends ? [Component.extends] : [])];
  const own = Array.isArray(Component.emits) ? Component.emits : Object.keys(Component.emits ?? {});
  // A name that a constant should have held and does not is none.
  return [...new Set([...bases.flatMap(emitsOf), ...own])].filter((name) => typeof name === 'string');
};
/** What Vue knows of a component. */
export const declares = (Component) => ({
  props: Object.entries(propsOf(Component)).map(([name, { type, required, default: initial }]) => ({
    name,
    types: [type].flat().filter((t) => typeof t === 'function').map((t) => t.name),
    required: required === true,
    default: typeof initial === 'function' || (typeof initial === 'object' && initial !== null) ? undefined : initial,
  })),
  events: emitsOf(Component),
  exposes: Array.isArray(Component.expose) ? Component.expose : [],
  whole: Component.props !== undefined || typeof Component !== 'function',
});

/** Renders every component below a node anew, though nothing says that it has changed. */
const anew = (vnode) => {
  if (!vnode || typeof vnode !== 'object') return;
  if (vnode.component) {
    vnode.component.proxy?.$forceUpdate();
    anew(vnode.component.subTree);
  }
  anew(vnode.suspense?.activeBranch);
  if (Array.isArray(vnode.children)) vnode.children.forEach(anew);
};

export function mount(Component, container, { props, listeners, slots, failed, warned, wrap, setup, prefix, stray }) {
  const state = shallowReactive({ props, slots });
  const instance = ref(null);
  const on = {};
  for (const [written, listener] of Object.entries(listeners)) on[onName(written)] = listener;
  const Parent = {
    name: 'Stage',
    render() {
      const filled = {};
      for (const [name, content] of Object.entries(state.slots)) {
        if (content) filled[name] = (scope) => { content.receive(scope); return content.nodes.map((n) => vnode(n, scope)); };
      }
      const itself = () => h(Component, { ...state.props, ...on, ref: instance }, filled);
      return wrap.reduceRight((inner, { component, props: given }) => () => h(component, given, { default: inner }), itself)();
    },
  };
  const app = createApp(Parent);
  app.config.errorHandler = (error) => failed(error);
  app.config.warnHandler = (message, _, trace = '') => {
    // Of what it is made of, the component that is warned of is named: it comes first in the trace, which ends with our own parent.
    const [first, second] = trace.split('\n').map((line) => /^at <([^\s>]+)/.exec(line)?.[1]);
    const isInner = second && second !== Parent.name && first !== Component.name && first !== Component.__name;
    warned(isInner ? `${message}\n  in <${first}>` : message);
  };
  if (prefix) app.config.idPrefix = prefix;
  if (stray) hear(Component, listeners, stray);
  for (const given of setup) {
    if (typeof given !== 'function') throw new Error('what a set-up module exports by default is no function: write `export default (app) => { app.use(…); }`');
    given(app);
  }
  app.mount(container);
  return {
    update(next) { state.props = next; },
    fill(next) { state.slots = next; },
    refresh() { anew(container._vnode); },
    reach() {
      const it = instance.value;
      return it && typeof it === 'object' ? it : null;
    },
    /** Names that every instance has, which are not the component's own. */
    own: (name) => !name.startsWith('$') && !name.startsWith('_'),
    remove() { app.unmount(); },
  };
}

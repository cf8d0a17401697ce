// Svelte 5 on a stage, in its public API only. Same contract as the other adapters: see vue.js. Components in the form of Svelte 4
// go the same way.
import { mount as put, unmount, untrack } from 'svelte';
import { SvelteMap } from 'svelte/reactivity';
import Pieces from 'stage:pieces.svelte';

const BOUND = 'bind:';
const HEARD = 'on:';
const NOTHING = [];

/** A value that effects read one by one: of a map, whoever looks for what is not there reads all of it. */
const cell = (value) => {
  const held = new SvelteMap([['it', value]]);
  return { read: () => held.get('it'), write: (next) => held.set('it', next) };
};

const ABSENT = Symbol('absent');

/**
 * The parent's values, each read by itself, and which there are. Their cells are made before anything reads them: an effect does not follow
 * what is made while it runs.
 */
const valuesOf = (declared) => {
  const cells = new Map(declared.map((name) => [name, cell(ABSENT)]));
  const names = cell(NOTHING);
  const of = (name) => {
    if (!cells.has(name)) cells.set(name, cell(ABSENT));
    return cells.get(name);
  };
  return {
    has: (name) => of(name).read() !== ABSENT,
    get: (name) => { const value = of(name).read(); return value === ABSENT ? undefined : value; },
    keys: () => names.read(),
    set(name, value) {
      of(name).write(value);
      if (!names.read().includes(name)) names.write([...names.read(), name]);
    },
    delete(name) {
      of(name).write(ABSENT);
      names.write(names.read().filter((it) => it !== name));
    },
  };
};

/**
 * Whether the parent holds a value already: assigning the same again is nothing that it could notice. An object may have been changed in
 * place, and its assignment says so.
 */
const isHeld = (values, name, value) => Object(value) !== value && values.has(name) && Object.is(values.get(name), value);

/**
 * What a parent passes, as the compiler writes it: an object whose members are read when they are needed, and written to where the
 * parent binds them. A prop that it does not pass is not bound either.
 */
const passed = (values, bound, asked) => new Proxy({}, {
  get: (_, name) => { asked(name); return values.get(name); },
  has: (_, name) => typeof name === 'string' && values.has(name),
  ownKeys: () => values.keys(),
  // `mount` itself keeps what it passes there.
  set(_, name, value) { if (name in bound) bound[name](value); else values.set(name, value); return true; },
  getOwnPropertyDescriptor(_, name) {
    if (typeof name !== 'string' || !values.has(name)) return undefined;
    return { enumerable: true, configurable: true, get: () => values.get(name), set: bound[name] };
  },
});

/**
 * A snippet takes the place where it stands and what it is handed, each as a function. It stays the same while a slot is filled: slots in
 * the form of Svelte 4 look at it once.
 */
const snippet = (content) => (anchor, ...handed) => Pieces(anchor, {
  get nodes() { return content().nodes; },
  get scope() {
    const given = handed.map((read) => read());
    const [first] = given;
    const scope = given.length === 1 && typeof first === 'object' && first !== null && !Array.isArray(first) ? first : Object.fromEntries(given.map((value, i) => [i ? `value${i + 1}` : 'value', value]));
    if (given.length) content().receive(scope);
    return scope;
  },
});

/** A slot's content as a parent in the form of Svelte 4 passes it, beside the props: it is handed an object. */
const slotted = (content) => (anchor, handed) => content(anchor, () => handed ?? {});

export function mount(Component, container, { props, listeners, slots, wrap, hands = {}, shared = [], declared = [] }) {
  const values = valuesOf([...declared, ...Object.keys(listeners), ...Object.keys(hands), 'children', '$$slots', '$$events']);
  const bound = {};
  const events = {};
  let handlers = {};
  for (const [written, heard] of Object.entries(listeners)) {
    // A component may report in an effect of its own: what the stage looks at then, and what it passes, is nothing that the effect reads.
    const listener = (...payload) => untrack(() => heard(...payload));
    if (written.startsWith(BOUND)) {
      const name = written.slice(BOUND.length);
      bound[name] = (value) => { if (!untrack(() => isHeld(values, name, value))) listener(value); };
    }
    else if (written.startsWith(HEARD)) events[written.slice(HEARD.length)] = (event) => (event instanceof CustomEvent ? (event.detail === null ? listener() : listener(event.detail)) : listener(event));
    else handlers[written] = listener;
  }
  /** Callbacks that are props; what is bound and heard is the framework's to keep. */
  const callbacks = (all) => Object.fromEntries(Object.keys(handlers).map((written) => [written, (...payload) => untrack(() => all[written](...payload))]));
  let current = { props, slots };
  const contents = new SvelteMap();
  const snippets = new Map();
  const given = () => {
    const filled = Object.entries(current.slots).filter(([, content]) => content);
    const passed = filled.map(([name, content]) => {
      contents.set(name, content);
      if (!snippets.has(name)) snippets.set(name, snippet(() => contents.get(name)));
      return [name === 'default' ? 'children' : name, snippets.get(name)];
    }).filter(([name]) => !shared.includes(name));
    const names = filled.map(([name]) => [name, shared.includes(name) ? slotted(snippets.get(name)) : true]);
    // Components in the form of Svelte 4 know by `$$slots` which slots are filled.
    return { ...handlers, ...current.props, ...Object.fromEntries(passed), ...(names.length && { $$slots: Object.fromEntries(names) }) };
  };
  const pass = () => {
    const next = given();
    for (const name of values.keys()) if (!(name in next) && name !== '$$events') values.delete(name);
    for (const [name, value] of Object.entries(next)) {
      if (name !== '$$slots' || Object.keys(values.get(name) ?? {}).join() !== Object.keys(value).join()) values.set(name, value);
    }
  };
  pass();
  let instance = null;
  /** Whether it has looked at which slots are filled: it does that once. */
  let hasAsked = false;
  const props$ = passed(values, bound, (name) => { hasAsked ||= name === '$$slots'; });
  const itself = (anchor) => { instance = Component(anchor, props$); };
  const [outermost, ...inner] = wrap;
  const start = () => (outermost
    ? put(outermost.component, { target: container, props: { ...outermost.props, children: inner.reduceRight((within, { component, props: around }) => (anchor) => component(anchor, { ...around, children: within }), itself) } })
    : (instance = put(Component, { target: container, props: props$, events })));
  let root = start();
  const filled = () => Object.keys(current.slots).filter((name) => current.slots[name]).join();
  return {
    update(next) { current = { ...current, props: next }; pass(); },
    listen(next) { handlers = callbacks(next); pass(); return Object.keys(handlers); },
    fill(next) {
      const before = filled();
      current = { ...current, slots: next };
      pass();
      // A parent in the form of Svelte 4 fills the same slots for ever: another one takes its place.
      if (hasAsked && filled() !== before) { unmount(root); root = start(); }
    },
    reach: () => (instance && typeof instance === 'object' ? instance : null),
    own: (name) => !name.startsWith('$'),
    remove() { instance = null; unmount(root); },
  };
}

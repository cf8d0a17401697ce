// Standard custom elements on a stage: properties, attributes, events and slotted children, as a page uses them. Same contract as
// the other adapters: see vue.js. A component is the class that was registered, or the name that it was registered under.

const nameOf = (component) => {
  const name = typeof component === 'string' ? component : customElements.getName(component);
  if (!name || !customElements.get(name)) throw new Error(`${name ?? component?.name ?? 'The class'} is not registered: \`customElements.define\` was not called for it`);
  return name;
};
/** A property where the element has one, else an attribute: as frameworks set them. Gives what undoes it. */
const set = (element, name, value) => {
  if (name in element) element[name] = value;
  else if (value === false || value == null) element.removeAttribute(name);
  else element.setAttribute(name, value === true ? '' : String(value));
};
/**
 * An element as `document.createElement` makes it. One whose constructor gives it attributes or children is refused there (DOM §4.9, "create an
 * element"), and made where a page's HTML is upgraded: it is made so, and the fault is told.
 */
const make = (name) => {
  let made;
  try {
    made = new (customElements.get(name))();
  } catch { /* What it throws is reported below. */ }
  const gained = made?.localName !== name ? null : made.hasAttributes() ? `the attribute \`${made.attributes[0].name}\`` : made.firstChild ? 'children' : null;
  if (!gained) return made?.localName === name ? made : document.createElement(name);
  console.warn(`\`document.createElement('${name}')\` fails, and with it every framework that makes the element so: its constructor gives it ${gained}, which only \`connectedCallback\` may (HTML §4.13.2)`);
  const page = document.createElement('template');
  page.innerHTML = `<${name}></${name}>`;
  return document.importNode(page.content, true).firstChild;
};
const build = (component, props) => {
  const element = make(nameOf(component));
  for (const [name, value] of Object.entries(props)) set(element, name, value);
  return element;
};

/** A content tree as nodes. */
const dom = (node) => {
  if (node.text !== undefined) return document.createTextNode(node.text(undefined));
  const given = node.attributes(undefined);
  const element = node.component ? build(node.component, given) : document.createElement(node.tag);
  if (!node.component) for (const [name, value] of Object.entries(given)) element.setAttribute(name, String(value));
  element.append(...node.children.map(dom));
  node.seen?.(element);
  return element;
};
/** What stands in a slot: elements are named for it, text in a named one is held by an element that is. */
const slotted = (name, content) => content.nodes.map(dom).map((node) => {
  if (name === 'default') return node;
  if (node.nodeType !== 1) {
    const holder = document.createElement('span');
    holder.append(node);
    node = holder;
  }
  node.slot = name;
  return node;
});

/** What a class of custom elements tells: the properties of its library, else the attributes that it observes and what can be set. */
export const declares = (component) => {
  const name = nameOf(component);
  const Class = customElements.get(name);
  const props = new Map();
  for (const [property, told] of Class.elementProperties ?? []) {
    if (typeof property === 'string' && !told.state && !property.startsWith('_')) props.set(property, { name: property, types: typeof told.type === 'function' ? [told.type.name] : [] });
  }
  if (!Class.elementProperties) {
    for (let proto = Class.prototype; proto && proto !== HTMLElement.prototype; proto = Object.getPrototypeOf(proto)) {
      for (const [property, told] of Object.entries(Object.getOwnPropertyDescriptors(proto))) {
        if (told.set && !property.startsWith('_')) props.set(property, { name: property });
      }
    }
  }
  return { props: [...props.values()], whole: Boolean(Class.elementProperties) };
};

export function mount(component, container, { props, listeners, slots, wrap }) {
  const element = make(nameOf(component));
  /** What properties held before anybody set them. */
  const initial = new Map();
  let current = {};
  const pass = (next) => {
    for (const [name, value] of Object.entries(next)) {
      if (name in current && Object.is(current[name], value)) continue;
      if (!initial.has(name)) initial.set(name, name in element ? element[name] : undefined);
      set(element, name, value);
    }
    for (const name of Object.keys(current)) if (!(name in next)) set(element, name, initial.get(name));
    current = next;
  };
  let children = [];
  const fill = (next) => {
    for (const child of children) child.remove();
    children = Object.entries(next).flatMap(([name, content]) => (content ? slotted(name, content) : []));
    element.append(...children);
  };
  for (const [written, listener] of Object.entries(listeners)) {
    element.addEventListener(written, (event) => listener(event instanceof CustomEvent && event.detail !== null ? event.detail : event));
  }
  pass(props);
  fill(slots);
  const outermost = wrap.reduceRight((inner, { component: around, props: given }) => {
    const outer = build(around, given);
    outer.append(inner);
    return outer;
  }, element);
  container.append(outermost);
  return {
    update: pass,
    fill,
    reach: () => (element.isConnected ? element : null),
    /** Names of properties that it has set to another value than was passed; a number that is held as a text is the same. */
    overruled: () => Object.keys(current).filter((name) => name in element && Object(current[name]) !== current[name] && String(element[name] ?? '') !== String(current[name] ?? '')),
    /** Names that every element has, which are not the component's own. */
    own: (name) => !(name in HTMLElement.prototype),
    remove() { outermost.remove(); },
  };
}

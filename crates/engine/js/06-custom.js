// Custom elements: HTML §4.13. Reactions run when the outermost change of the tree is done.

/** Name → definition, and constructor → definition. */
const definitions = new Map();
const byConstructor = new Map();
/** On an element: its definition once it is custom; `null` once its constructor failed. */
const DEFINITION = Symbol('definition');
const REACTIONS = Symbol('reactions');
const INTERNALS = Symbol('internals');
const definitionOf = (element) => element[DEFINITION] ?? undefined;
/** The definition of an element whose constructor has run: reactions are for those alone. */
const customOf = (element) => (element[CUSTOM] ? element[DEFINITION] : undefined);
const CUSTOM = Symbol('custom');
const lookUp = (element) => {
  if (definitions.size === 0) return undefined;
  const name = element.localName;
  const found = definitions.get(name) ?? definitions.get(native.is_value(element[ID]) ?? native.attr(element[ID], 'is') ?? '');
  return found?.localName === name ? found : undefined;
};

// --- reactions -----------------------------------------------------------------------------------------------------

/** The elements with reactions to run, while the tree is being changed; null while scripts run. */
let reacting = null;
/** Changes the tree, then runs the reactions of the elements it met (HTML §4.13.6 [CEReactions]). */
const changing = (work) => {
  if (definitions.size === 0 || reacting) return work();
  reacting = [];
  try {
    return work();
  } finally {
    const elements = reacting;
    reacting = null;
    for (const element of elements) react(element);
  }
};
const react = (element) => {
  const queue = element[REACTIONS];
  while (queue?.length) {
    const reaction = queue.shift();
    try { reaction(); } catch (error) { reportException(error); }
  }
};
const enqueue = (element, reaction) => {
  if (element[REACTIONS] === undefined) hide(element, REACTIONS, []);
  element[REACTIONS].push(reaction);
  if (reacting) reacting.push(element);
  else queueMicrotask(() => react(element));
};
const enqueueCallback = (element, name, ...args) => {
  const callback = customOf(element)?.callbacks[name];
  if (callback) enqueue(element, () => callback.apply(element, args));
};
const enqueueUpgrade = (element) => {
  const definition = element[DEFINITION] === undefined && lookUp(element);
  if (definition) enqueue(element, () => upgrade(element, definition));
};
/** The elements below and including that are custom or may become so. */
const candidates = (node) => (definitions.size === 0 ? [] : native.candidates(node[ID]).map(wrap));
/** What was inserted into a connected tree hears of it, or becomes custom by it. */
const reactToInsert = (node) => {
  if (definitions.size === 0) return;
  const connected = node.isConnected;
  for (const element of candidates(node)) {
    if (customOf(element)) {
      if (connected) enqueueCallback(element, 'connectedCallback');
      associate(element);
    } else if (connected) enqueueUpgrade(element);
  }
};
const reactToRemoval = (elements) => {
  for (const element of elements) {
    if (!customOf(element)) continue;
    enqueueCallback(element, 'disconnectedCallback');
  }
};
const reactToAttribute = (element, name, old, value, namespace) => {
  const definition = customOf(element);
  if (!definition) return;
  if (definition.observed.has(name)) enqueueCallback(element, 'attributeChangedCallback', name, old, value, namespace);
  if (definition.associated && (name === 'form' || name === 'disabled')) associate(element);
};

// --- upgrading -----------------------------------------------------------------------------------------------------

/** HTML §4.13.5 "upgrade an element". */
const CONSTRUCTED = Symbol('already constructed');
const upgrade = (element, definition) => {
  if (element[DEFINITION] !== undefined) return;
  hide(element, DEFINITION, definition);
  if (element[REACTIONS] === undefined) hide(element, REACTIONS, []);
  const { attributeChangedCallback: changed, connectedCallback: connected } = definition.callbacks;
  for (const name of element.getAttributeNames()) {
    const value = element.getAttribute(name);
    if (changed && definition.observed.has(name)) element[REACTIONS].push(() => changed.call(element, name, null, value, null));
  }
  if (connected && element.isConnected) element[REACTIONS].push(() => connected.call(element));
  definition.stack.push(element);
  try {
    const made = new definition.constructor();
    if (made !== element) throw new TypeError('The constructor of a custom element gave another object.');
  } catch (error) {
    hide(element, DEFINITION, null);
    element[REACTIONS].length = 0;
    throw error;
  } finally {
    definition.stack.pop();
  }
  becomeCustom(element, definition);
  associate(element);
};
const becomeCustom = (element, definition) => {
  hide(element, DEFINITION, definition);
  hide(element, CUSTOM, true);
  native.set_custom(element[ID], definition.associated);
};
/** HTML §3.2.3 "HTML element constructors". */
const constructElement = (target) => {
  const definition = byConstructor.get(target);
  if (!definition) throw illegal();
  const proto = target.prototype;
  const at = definition.stack.length - 1;
  if (at < 0) {
    const id = native.create_element(HTML_NS, definition.localName);
    const element = Object.create(proto);
    element[ID] = id;
    wrappers[id] = element;
    if (definition.localName !== definition.name) native.set_is(id, definition.name);
    becomeCustom(element, definition);
    return element;
  }
  const element = definition.stack[at];
  if (element === CONSTRUCTED) throw new TypeError('This instance is constructed already.');
  Object.setPrototypeOf(element, proto);
  definition.stack[at] = CONSTRUCTED;
  return element;
};
/** DOM §4.9 "create an element" with a definition, at once. */
const createCustom = (definition) => {
  if (definition.localName !== definition.name) {
    const element = wrap(native.create_element(HTML_NS, definition.localName));
    native.set_is(element[ID], definition.name);
    try { upgrade(element, definition); } catch (error) { reportException(error); }
    react(element);
    return element;
  }
  try {
    const element = new definition.constructor();
    const fault = !(element instanceof HTMLElement) ? 'is no HTML element' : element.hasAttributes() ? 'has attributes already' : element.firstChild ? 'has children already'
      : element.parentNode ? 'stands in a tree already' : element.localName !== definition.localName ? 'has another name' : null;
    if (fault) throw fault === 'is no HTML element' ? new TypeError(`What the constructor of <${definition.name}> made ${fault}.`) : new DOMException(`What the constructor of <${definition.name}> made ${fault}.`, 'NotSupportedError');
    return element;
  } catch (error) {
    reportException(error);
    const element = wrap(native.create_element(HTML_NS, definition.localName));
    Object.setPrototypeOf(element, HTMLUnknownElement.prototype);
    hide(element, DEFINITION, null);
    return element;
  }
};

const CALLBACKS = ['connectedCallback', 'disconnectedCallback', 'adoptedCallback', 'connectedMoveCallback', 'attributeChangedCallback'];
const FORM_CALLBACKS = ['formAssociatedCallback', 'formResetCallback', 'formDisabledCallback', 'formStateRestoreCallback'];
const isConstructor = (value) => {
  try { Reflect.construct(Object, [], value); return true; } catch { return false; }
};
class CustomElementRegistry {
  #waiting = new Map();
  #defining = false;
  define(name, constructor, options = {}) {
    name = String(name);
    if (!isConstructor(constructor)) throw new TypeError("Failed to execute 'define' on 'CustomElementRegistry': the second argument is no constructor.");
    if (!native.is_custom_name(name)) throw new DOMException(`'${name}' is not a valid custom element name: it has to start with a small letter and to hold a hyphen.`, 'SyntaxError');
    if (definitions.has(name)) throw new DOMException(`the name '${name}' has been used with this registry before.`, 'NotSupportedError');
    if (byConstructor.has(constructor)) throw new DOMException('this constructor has been used with this registry before.', 'NotSupportedError');
    const base = options?.extends;
    if (base != null && (native.is_custom_name(String(base)) || !TAGS.has(String(base)))) throw new DOMException(`'${base}' cannot be extended.`, 'NotSupportedError');
    if (this.#defining) throw new DOMException('another element is being defined.', 'NotSupportedError');
    this.#defining = true;
    const callbacks = {};
    let observed = [], disabled = [], associated = false;
    try {
      const proto = constructor.prototype;
      if (Object(proto) !== proto) throw new TypeError('The prototype of the constructor is no object.');
      const take = (names) => {
        for (const key of names) {
          const callback = proto[key];
          if (callback !== undefined && typeof callback !== 'function') throw new TypeError(`'${key}' is no function.`);
          callbacks[key] = callback;
        }
      };
      take(CALLBACKS);
      if (callbacks.attributeChangedCallback) observed = [...(constructor.observedAttributes ?? [])].map(String);
      disabled = [...(constructor.disabledFeatures ?? [])].map(String);
      associated = !!constructor.formAssociated;
      if (associated) take(FORM_CALLBACKS);
    } finally {
      this.#defining = false;
    }
    const definition = {
      name, localName: base == null ? name : String(base), constructor, callbacks, observed: new Set(observed), associated, stack: [],
      noInternals: disabled.includes('internals'), noShadow: disabled.includes('shadow'),
    };
    definitions.set(name, definition);
    byConstructor.set(constructor, definition);
    changing(() => { for (const element of candidates(document.documentElement)) if (lookUp(element) === definition) enqueueUpgrade(element); });
    this.#waiting.get(name)?.resolve(constructor);
    this.#waiting.delete(name);
  }
  get(name) { return definitions.get(String(name))?.constructor; }
  getName(constructor) { return byConstructor.get(constructor)?.name ?? null; }
  whenDefined(name) {
    name = String(name);
    if (!native.is_custom_name(name)) return Promise.reject(new DOMException(`'${name}' is not a valid custom element name.`, 'SyntaxError'));
    if (definitions.has(name)) return Promise.resolve(definitions.get(name).constructor);
    if (!this.#waiting.has(name)) this.#waiting.set(name, Promise.withResolvers());
    return this.#waiting.get(name).promise;
  }
  upgrade(root) { changing(() => upgradeAll(root)); }
}
enumerable(CustomElementRegistry);
expose(CustomElementRegistry);
hide(globalThis, 'customElements', new CustomElementRegistry());

// --- taking part in forms ------------------------------------------------------------------------------------------

/** Tells a form-associated element of its form and of being disabled, where that changed (HTML §4.13.7.3). */
const associate = (element) => {
  const definition = customOf(element);
  if (!definition?.associated) return;
  const known = element[ASSOCIATION] ?? (hide(element, ASSOCIATION, { form: null, disabled: false }), element[ASSOCIATION]);
  const form = wrap(native.form_owner(element[ID]));
  if (form !== known.form) { known.form = form; enqueueCallback(element, 'formAssociatedCallback', form); }
  const disabled = native.disabled(element[ID]);
  if (disabled !== known.disabled) { known.disabled = disabled; enqueueCallback(element, 'formDisabledCallback', disabled); }
};
/** One that is taken from its form and put into it again is told of both. */
const leaveForm = (element, moved) => {
  const known = element[ASSOCIATION];
  if (!known?.form || moved.contains(known.form)) return;
  known.form = null;
  enqueueCallback(element, 'formAssociatedCallback', null);
};
const ASSOCIATION = Symbol('association');
/** Custom states are what a script puts in, by name (HTML §4.13.7.5); style asks the document for them. */
class CustomStateSet extends Set {
  #element;
  constructor(key, element) {
    if (key !== HOST) throw illegal();
    super();
    this.#element = element;
  }
  #told() { native.set_states(this.#element[ID], [...this].join(' ')); }
  add(state) { super.add(String(state)); this.#told(); return this; }
  delete(state) { const had = super.delete(String(state)); this.#told(); return had; }
  clear() { super.clear(); this.#told(); }
}
class ElementInternals {
  #element; #value = null; #message = ''; #states;
  constructor(key, element) {
    if (key !== HOST) throw illegal();
    this.#element = element;
  }
  #associated() {
    if (!definitionOf(this.#element)?.associated) throw new DOMException('The element is not form-associated: its class has no `static formAssociated = true`.', 'NotSupportedError');
    return this.#element;
  }
  get shadowRoot() { return wrap(native.shadow(this.#element[ID])); }
  get states() { return (this.#states ??= new CustomStateSet(HOST, this.#element)); }
  get form() { return wrap(native.form_owner(this.#associated()[ID])); }
  get labels() { return staticList(native.labels(this.#associated()[ID]).map(wrap)); }
  setFormValue(value) { this.#associated(); this.#value = value ?? null; }
  setValidity(flags = {}, message = '') {
    this.#associated();
    const on = VALIDITY.filter((name) => flags[name]);
    if (on.length && message === '') throw new TypeError('A message is missing: say what is not valid.');
    native.set_faults(this.#element[ID], on.reduce((bits, name) => bits | (1 << VALIDITY.indexOf(name)), 0));
    this.#message = on.length ? String(message) : '';
  }
  get willValidate() { return native.validates(this.#associated()[ID]); }
  get validity() { return validityState(this.#associated()); }
  get validationMessage() { this.#associated(); return this.#message; }
  checkValidity() {
    if (!isWrong(this.#associated())) return true;
    fire(this.#element, new Event('invalid', { cancelable: true }));
    return false;
  }
  reportValidity() {
    const ok = this.checkValidity();
    if (!ok) this.#element.focus();
    return ok;
  }
  /** What goes into form data: a value under the element's name, or all of a `FormData`. */
  static entries(element) {
    const internals = element[INTERNALS];
    if (!internals || internals.#value === null) return [];
    if (internals.#value instanceof FormData) return [...internals.#value];
    const name = element.getAttribute('name');
    return name ? [[name, internals.#value]] : [];
  }
}
const internalEntries = ElementInternals.entries;
delete ElementInternals.entries;
// ARIA by default (HTML §4.13.7.4): kept beside the attributes, which win.
for (const name of ARIA_NAMES) {
  const attribute = name === 'role' ? 'role' : 'aria-' + name.slice(4).toLowerCase();
  const key = Symbol(attribute);
  accessor(ElementInternals.prototype, name, function () { return this[key] ?? null; }, function (v) { hide(this, key, v == null ? null : String(v)); });
}
enumerable(ElementInternals);
expose(ElementInternals, CustomStateSet);
mixin({
  attachInternals() {
    const definition = definitionOf(this) ?? (this[DEFINITION] === undefined ? lookUp(this) : undefined);
    if (!definition || definition.localName !== definition.name) throw new DOMException('Element internals belong to custom elements.', 'NotSupportedError');
    if (definition.noInternals) throw new DOMException('This custom element has its internals disabled.', 'NotSupportedError');
    if (this[INTERNALS]) throw new DOMException('The internals were attached before.', 'NotSupportedError');
    const internals = new ElementInternals(HOST, this);
    hide(this, INTERNALS, internals);
    if (definition.associated) native.set_custom(this[ID], true);
    return internals;
  },
}, HTMLElement);

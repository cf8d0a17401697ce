// What every API below uses: the natives, DOMException, and the way interfaces are put on the global.
const native = globalThis.__native;
delete globalThis.__native;

/** True while a project sets its frameworks up: what that leaves on the page is around the component, and none of its own. */
let surrounding = false;
/** Key under which a wrapper keeps its node's number. */
const ID = Symbol('id');
/** Passed to constructors that only the host may call. */
const HOST = Symbol('host');
/** Node number → wrapper: one object per node for the life of the realm. */
const wrappers = [];
/** Wrappers of earlier cases, for as long as a module holds them: they keep their identity, and no memory. A list, as the engine's maps are slow with numbers. */
const stale = [];

const hide = (object, name, value) =>
  Object.defineProperty(object, name, { value, writable: true, enumerable: false, configurable: true });

const expose = (...interfaces) => {
  for (const c of interfaces) {
    hide(globalThis, c.name, c);
    if (c.prototype && !Object.hasOwn(c.prototype, Symbol.toStringTag)) {
      Object.defineProperty(c.prototype, Symbol.toStringTag, { value: c.name, configurable: true });
    }
  }
};

/** Getters are enumerable in Web IDL, unlike those of a class body. */
const enumerable = (c) => {
  for (const name of Object.getOwnPropertyNames(c.prototype)) {
    if (name === 'constructor') continue;
    const d = Object.getOwnPropertyDescriptor(c.prototype, name);
    Object.defineProperty(c.prototype, name, { ...d, enumerable: true });
  }
};

const accessor = (proto, name, get, set) =>
  Object.defineProperty(proto, name, { get, set, enumerable: true, configurable: true });

const illegal = () => new TypeError('Illegal constructor');

// Web IDL §2.8.1
const EXCEPTION_CODES = {
  IndexSizeError: 1, HierarchyRequestError: 3, WrongDocumentError: 4, InvalidCharacterError: 5,
  NoModificationAllowedError: 7, NotFoundError: 8, NotSupportedError: 9, InUseAttributeError: 10,
  InvalidStateError: 11, SyntaxError: 12, InvalidModificationError: 13, NamespaceError: 14,
  InvalidAccessError: 15, SecurityError: 18, NetworkError: 19, AbortError: 20, URLMismatchError: 21,
  QuotaExceededError: 22, TimeoutError: 23, InvalidNodeTypeError: 24, DataCloneError: 25,
};

class DOMException extends Error {
  #name;
  constructor(message = '', name = 'Error') {
    super(message);
    this.#name = String(name);
  }
  get name() { return this.#name; }
  get code() { return EXCEPTION_CODES[this.#name] ?? 0; }
}
for (const [name, code] of Object.entries(EXCEPTION_CODES)) {
  const constant = name.replace(/Error$/, '').replace(/([a-z])([A-Z])/g, '$1_$2').toUpperCase() + '_ERR';
  DOMException[constant] = code;
}
expose(DOMException);

const INSERT_ERRORS = {
  [-2]: () => new DOMException('The new child contains the parent, or the parent takes no such child.', 'HierarchyRequestError'),
  [-3]: () => new DOMException('The node before which to insert is not a child of this node.', 'NotFoundError'),
};

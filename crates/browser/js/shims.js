// What the files that both stages share expect around them.

/** True while a project sets its frameworks up: what that leaves on the page is around the component, and none of its own. */
let surrounding = false;
const hide = (target, name, value) => Object.defineProperty(target, name, { value, writable: true, enumerable: false, configurable: true });
const expose = (...classes) => { for (const c of classes) hide(globalThis, c.name, c); };
const fire = (target, event) => target.dispatchEvent(event);
/** Handler attributes as event handler IDL attributes have them: one function, in the order of listeners. */
const defineHandlers = (proto, types) => {
  const held = new WeakMap();
  for (const type of types) {
    Object.defineProperty(proto, `on${type}`, {
      configurable: true, enumerable: true,
      get() { return held.get(this)?.[type] ?? null; },
      set(f) {
        const all = held.get(this) ?? {};
        if (!(type in all)) this.addEventListener(type, (e) => all[type]?.call(this, e));
        all[type] = typeof f === 'function' ? f : null;
        held.set(this, all);
      },
    });
  }
};
const here = location;
/** HTML "report an exception": the window hears it; what it says is on record in `notes`. */
const reportException = (error) => {
  window.dispatchEvent(new ErrorEvent('error', { message: show(error), error, cancelable: true }));
};
/** A body as text, and the type that it brings. What can only be read later is not read. */
const bodyText = (body) => {
  if (body == null) return [null, null];
  if (typeof body === 'string') return [body, 'text/plain;charset=UTF-8'];
  if (body instanceof URLSearchParams) return [body.toString(), 'application/x-www-form-urlencoded;charset=UTF-8'];
  if (body instanceof Blob) return ['', body.type || null];
  if (body instanceof FormData) return [new URLSearchParams([...body].map(([k, v]) => [k, v instanceof File ? v.name : v])).toString(), 'multipart/form-data'];
  if (ArrayBuffer.isView(body) || body instanceof ArrayBuffer) return [new TextDecoder().decode(body), null];
  return [String(body), 'text/plain;charset=UTF-8'];
};

// Shadow trees and slots: DOM §4.2.2, §4.8; HTML §4.12.4.

class ShadowRoot extends DocumentFragment {
  constructor() { super(); throw illegal(); }
  get host() { return wrap(native.host(this[ID])); }
  get innerHTML() { return native.inner_html(this[ID]); }
  set innerHTML(html) { setInnerHTML(this, html); }
  getHTML() { return this.innerHTML; }
  setHTMLUnsafe(html) { this.innerHTML = html; }
  get activeElement() {
    const inside = retarget(focusedNode(), this);
    return inside && inside.getRootNode() === this ? inside : null;
  }
  get styleSheets() { return sheetList(this); }
  get adoptedStyleSheets() { return adoptedSheets(this); }
  set adoptedStyleSheets(sheets) { adoptSheets(this, sheets); }
  get fullscreenElement() { return null; }
  get pointerLockElement() { return null; }
  elementFromPoint() { return null; }
  elementsFromPoint() { return []; }
  getSelection() { return selection; }
  cloneNode() { throw new DOMException('A shadow root cannot be cloned.', 'NotSupportedError'); }
}
mixin({
  get mode() { return native.shadow_flags(this[ID])[0] ? 'open' : 'closed'; },
  get delegatesFocus() { return native.shadow_flags(this[ID])[1]; },
  get slotAssignment() { return native.shadow_flags(this[ID])[2] ? 'manual' : 'named'; },
  get clonable() { return native.shadow_flags(this[ID])[3]; },
  get serializable() { return native.shadow_flags(this[ID])[4]; },
}, ShadowRoot);
enumerable(ShadowRoot);
defineHandlers(ShadowRoot.prototype, ['slotchange']);
expose(ShadowRoot);

mixin({
  attachShadow(init) {
    if (init?.mode !== 'open' && init?.mode !== 'closed') throw new TypeError("Failed to execute 'attachShadow' on 'Element': `mode` is open or closed.");
    if (definitionOf(this)?.noShadow) throw new DOMException('This custom element has shadow trees disabled.', 'NotSupportedError');
    const id = native.attach_shadow(this[ID], init.mode === 'open', !!init.delegatesFocus, init.slotAssignment === 'manual', !!init.clonable, !!init.serializable);
    if (id < 0) throw new DOMException(native.shadow(this[ID]) >= 0 ? 'The element has a shadow root already.' : `<${this.localName}> takes no shadow root.`, 'NotSupportedError');
    shadowed = true;
    return wrap(id);
  },
  get shadowRoot() {
    const root = wrap(native.shadow(this[ID]));
    return root?.mode === 'open' ? root : null;
  },
  getHTML() { return this.innerHTML; },
  setHTMLUnsafe(html) { this.innerHTML = html; },
}, Element);
mixin({
  get assignedSlot() {
    const slot = shadowed ? wrap(native.assigned_slot(this[ID])) : null;
    return slot?.getRootNode().mode === 'open' ? slot : null;
  },
}, Element, Text);

/** What is assigned; flattened, slots in it stand for what they hold (DOM §4.2.2.3 "find flattened slottables"). */
const slotted = (slot, flat) => {
  const assigned = native.assigned(slot[ID]).map(wrap);
  if (!flat) return assigned;
  if (!(slot.getRootNode() instanceof ShadowRoot)) return [];
  const nodes = assigned.length ? assigned : [...slot.childNodes].filter((n) => n.nodeType === 1 || n.nodeType === 3);
  return nodes.flatMap((n) => (n instanceof HTMLSlotElement && n.getRootNode() instanceof ShadowRoot ? slotted(n, true) : [n]));
};
members(HTMLSlotElement, {
  assignedNodes(options) { return slotted(this, !!options?.flatten); },
  assignedElements(options) { return slotted(this, !!options?.flatten).filter((n) => n.nodeType === 1); },
  assign(...nodes) {
    native.set_assigned(this[ID], nodes.map((n) => idOf(n)).join(' '));
    slotsChanged();
  },
});

/** What each slot held when it was last told of a change. */
let held = new Map();
let slotCheck = false;
/** DOM §4.2.2.5 "signal a slot change": once all that runs now is done, each slot that holds something else is told. */
const slotsChanged = () => {
  if (!shadowed || slotCheck) return;
  slotCheck = true;
  queueMicrotask(() => {
    slotCheck = false;
    const changed = [];
    const seen = new Set();
    for (const root of native.shadows()) {
      for (const slot of native.slots(root)) {
        const now = native.assigned(slot).join();
        seen.add(slot);
        if (now !== (held.get(slot) ?? '')) changed.push(slot);
        held.set(slot, now);
      }
    }
    // A slot that was taken out lost what it held.
    for (const [slot, had] of held) if (!seen.has(slot)) { held.delete(slot); if (had !== '') changed.push(slot); }
    for (const slot of changed) fire(wrap(slot), new Event('slotchange', { bubbles: true }));
  });
};

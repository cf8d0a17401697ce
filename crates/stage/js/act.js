// The steps of a person: the event sequences of UI Events, Pointer Events and Input Events with their default actions.
// A generator yields between tasks, so that the page can react in between as it does under a real hand.
// `host.find(request)` finds the one node of a locator, or says what is wrong with it here.

const host = globalThis.__fidelon;
const { JSON } = host;
const pointed = { over: null };

/** Where the step at hand looks: within which element, and what `slot(…)` and `ref(…)` stand for. */
let places = { within: null, started: () => [] };
/** The one node that a locator finds. */
const one = (locator) => {
  let start = locator.start;
  while (start?.by === 'within') start = start.name.start;
  const started = start ? places.started(start).map(host.idOf) : [];
  const answer = host.find(JSON.stringify({ locator, within: places.within ? host.idOf(places.within) : null, started }));
  if (!answer.startsWith('node ')) throw { fault: answer };
  return host.wrap(Number(answer.slice(5)));
};
const mouse = (type, init) => new MouseEvent(type, { bubbles: true, cancelable: true, composed: true, view: window, ...init });
const pointer = (type, init) => new PointerEvent(type, { bubbles: true, cancelable: true, composed: true, view: window, pointerId: 1, pointerType: 'mouse', isPrimary: true, ...init });
/** The element and those around it in the flat tree: slots and hosts among them. */
const ancestors = (e) => { const out = []; for (let n = e; n instanceof Element; n = host.flatParent(n)) out.push(n); return out; };
const focusable = (e) => ancestors(e).find((n) => host.focusable(n)) ?? null;
const holds = (n, other) => other instanceof Element && ancestors(other).includes(n);
/** What a person can go through by Tab: all that can be focused, shadow trees among it, in the order of the flat tree. */
const stops = (from) => [...(host.focusable(from) && !host.delegates(from) && from.tabIndex >= 0 ? [from] : []), ...host.flatChildren(from).flatMap(stops)];
const blocked = (e) => ancestors(e).some((n) => host.disabled(n));

/** Hands a gesture to the one who has a hand: the driver of a browser, under real input. The page waits for it. */
function* byHand(gesture) {
  const fault = host.real(gesture);
  if (fault) throw { fault };
  yield;
}

function* moveOver(target) {
  if (host.real) {
    pointed.over = target;
    yield* byHand({ kind: 'move', at: target });
    return;
  }
  const from = pointed.over?.isConnected ? pointed.over : null;
  if (from === target) return;
  pointed.over = target;
  if (from) {
    host.fire(from, pointer('pointerout', { relatedTarget: target }));
    host.fire(from, mouse('mouseout', { relatedTarget: target }));
    for (const n of ancestors(from)) if (!holds(n, target)) { host.fire(n, pointer('pointerleave', { bubbles: false, relatedTarget: target })); host.fire(n, mouse('mouseleave', { bubbles: false, relatedTarget: target })); }
  }
  host.fire(target, pointer('pointerover', { relatedTarget: from }));
  for (const n of ancestors(target).reverse()) if (!from || !holds(n, from)) host.fire(n, pointer('pointerenter', { bubbles: false, relatedTarget: from }));
  if (!blocked(target)) {
    host.fire(target, mouse('mouseover', { relatedTarget: from }));
    for (const n of ancestors(target).reverse()) if (!from || !holds(n, from)) host.fire(n, mouse('mouseenter', { bubbles: false, relatedTarget: from }));
  }
  yield;
  host.fire(target, pointer('pointermove'));
  if (!blocked(target)) host.fire(target, mouse('mousemove'));
  yield;
}

/** Whether it opens and closes a popover by itself. */
const opens = (target) => ancestors(target).some((e) => e.hasAttribute('popovertarget') || e.hasAttribute('commandfor'));
function* click(target, count) {
  if (host.real) {
    pointed.over = target;
    host.by('pointer');
    yield* byHand({ kind: 'press', at: target });
    return;
  }
  yield* moveOver(target);
  // A disabled control takes no mouse events at all (HTML §4.10.18.5); pointer events still come.
  const dead = blocked(target);
  host.by('pointer');
  const down = host.fire(target, pointer('pointerdown', { buttons: 1, pressure: 0.5 }));
  yield;
  if (!opens(target)) { host.pressedOutside(target); yield; }
  if (!dead && down) {
    const go = host.fire(target, mouse('mousedown', { buttons: 1, detail: count }));
    yield;
    if (go) {
      const takes = focusable(target);
      if (takes) host.moveFocus(takes);
      else if (host.active() !== document.body) host.moveFocus(null);
      yield;
    }
  }
  host.fire(target, pointer('pointerup'));
  if (!dead) host.fire(target, mouse('mouseup', { detail: count }));
  yield;
  if (!dead && target.isConnected) host.fire(target, pointer('click', { detail: count }));
  yield;
}

const CODES = { Enter: ['Enter', 13], Escape: ['Escape', 27], Tab: ['Tab', 9], ' ': ['Space', 32], Backspace: ['Backspace', 8], Delete: ['Delete', 46],
  ArrowLeft: ['ArrowLeft', 37], ArrowUp: ['ArrowUp', 38], ArrowRight: ['ArrowRight', 39], ArrowDown: ['ArrowDown', 40], Home: ['Home', 36], End: ['End', 35],
  PageUp: ['PageUp', 33], PageDown: ['PageDown', 34] };
const keyInit = (key, modifiers) => {
  const known = CODES[key] ?? (/^[a-z]$/i.test(key) ? ['Key' + key.toUpperCase(), key.toUpperCase().charCodeAt(0)] : /^\d$/.test(key) ? ['Digit' + key, key.charCodeAt(0)] : [key.length > 1 ? key : '', 0]);
  return { bubbles: true, cancelable: true, composed: true, view: window, key, code: known[0], keyCode: known[1], which: known[1], ...modifiers };
};

/** Changes the text of a field as an edit does: beforeinput, the change, input. */
function* edit(field, inputType, data, change) {
  const before = new InputEvent('beforeinput', { bubbles: true, cancelable: true, composed: true, inputType, data });
  if (!host.fire(field, before)) return;
  yield;
  if (field.isContentEditable && !('value' in field)) {
    field.textContent = change(field.textContent, field.textContent.length, field.textContent.length).text;
  } else {
    const plain = field.value;
    const [start, end] = field.selectionStart === null ? [plain.length, plain.length] : [field.selectionStart, field.selectionEnd];
    const draft = drafts.get(field) ?? plain;
    const next = field.selectionStart === null ? change(draft, draft.length, draft.length) : change(plain, start, end);
    if (field.maxLength >= 0 && next.text.length > field.maxLength && next.text.length > plain.length) return;
    // A number field shows what was typed even while it is no number yet; its value is empty then.
    setValue(field, next.text);
    host.typed(field, next.text !== '' && field.value === '');
    if (field.selectionStart === null) drafts.set(field, next.text);
    else field.setSelectionRange(next.at, next.at);
  }
  host.fire(field, new InputEvent('input', { bubbles: true, composed: true, inputType, data }));
  yield;
}
const drafts = new WeakMap();
/** The setter of the prototype, past any that a framework laid over the element. */
const setValue = (field, value) => {
  const proto = field instanceof HTMLTextAreaElement ? HTMLTextAreaElement.prototype : HTMLInputElement.prototype;
  Object.getOwnPropertyDescriptor(proto, 'value').set.call(field, value);
};

function* press(key, target, modifiers = {}) {
  if (host.real) {
    host.by('key');
    yield* byHand({ kind: 'key', key, modifiers: Object.keys(modifiers).filter((m) => modifiers[m]) });
    return;
  }
  const held = modifiers.ctrlKey || modifiers.metaKey || modifiers.altKey;
  const init = keyInit(key, modifiers);
  host.by('key');
  const down = host.fire(target, new KeyboardEvent('keydown', init));
  yield;
  let at = host.active() ?? target;
  if (down) {
    let go = true;
    if ((key.length === 1 || key === 'Enter') && !held) {
      go = host.fire(at, new KeyboardEvent('keypress', { ...init, charCode: key === 'Enter' ? 13 : key.codePointAt(0), keyCode: key === 'Enter' ? 13 : key.codePointAt(0) }));
      yield;
    }
    if (go) yield* keyDefault(key, at, modifiers, held);
  }
  at = host.active() ?? target;
  const up = host.fire(at, new KeyboardEvent('keyup', init));
  yield;
  if (up && down && key === ' ' && (at instanceof HTMLButtonElement || (at instanceof HTMLInputElement && ['checkbox', 'radio', 'button', 'submit', 'reset'].includes(at.type)) || at.localName === 'summary')) {
    at.click();
    yield;
  }
}

function* keyDefault(key, at, modifiers, held) {
  const text = host.hasText(at) || at.isContentEditable;
  if (key === 'Escape') {
    host.dismiss();
    yield;
  } else if (key === 'Tab') {
    const order = stops(document.documentElement).sort((a, b) => (a.tabIndex || 1e9) - (b.tabIndex || 1e9));
    const i = order.indexOf(at);
    host.moveFocus(order[(i + (modifiers.shiftKey ? -1 : 1) + order.length + (i < 0 && modifiers.shiftKey ? 1 : 0)) % order.length] ?? null);
    yield;
  } else if (key === 'Enter') {
    if (at instanceof HTMLTextAreaElement || at.isContentEditable) {
      if (host.editable(at)) yield* edit(at, 'insertLineBreak', null, (t, a, b) => ({ text: t.slice(0, a) + '\n' + t.slice(b), at: a + 1 }));
    } else if (at instanceof HTMLInputElement && !['checkbox', 'radio', 'button', 'submit', 'reset', 'file', 'color'].includes(at.type)) {
      host.commitEdit(at);
      yield;
      host.implicitSubmission(at);
    } else if (at instanceof HTMLButtonElement || (at instanceof HTMLAnchorElement && at.href) || at instanceof HTMLInputElement || at.localName === 'summary') at.click();
    yield;
  } else if (key === 'Backspace' && text && host.editable(at)) {
    yield* edit(at, 'deleteContentBackward', null, (t, a, b) => (a === b ? { text: t.slice(0, Math.max(0, a - 1)) + t.slice(b), at: Math.max(0, a - 1) } : { text: t.slice(0, a) + t.slice(b), at: a }));
  } else if (key === 'Delete' && text && host.editable(at)) {
    yield* edit(at, 'deleteContentForward', null, (t, a, b) => ({ text: t.slice(0, a) + t.slice(a === b ? b + 1 : b), at: a }));
  } else if (key === 'a' && held && host.hasText(at)) {
    if (at.selectionStart !== null) at.setSelectionRange(0, at.value.length);
    else drafts.set(at, '');
  } else if (key.length <= 2 && [...key].length === 1 && !held && text && host.editable(at)) {
    yield* edit(at, 'insertText', key, (t, a, b) => ({ text: t.slice(0, a) + key + t.slice(b), at: a + key.length }));
  } else if (key.startsWith('Arrow') && at instanceof HTMLInputElement) {
    const forward = key === 'ArrowUp' || key === 'ArrowRight';
    if (at.type === 'radio') {
      const group = at.name ? [...at.getRootNode().querySelectorAll('input[type=radio]')].filter((r) => r.name === at.name && r.form === at.form && !host.disabled(r)) : [at];
      const next = group[(group.indexOf(at) + (key === 'ArrowDown' || key === 'ArrowRight' ? 1 : -1) + group.length) % group.length];
      host.moveFocus(next);
      next.click();
    } else if ((at.type === 'range' || (at.type === 'number' && !/Left|Right/.test(key))) && !at.readOnly && !host.disabled(at)) {
      const before = at.value;
      const copy = at.cloneNode();
      setValue(copy, before);
      forward ? copy.stepUp() : copy.stepDown();
      if (copy.value !== before) {
        setValue(at, copy.value);
        host.typed(at, false);
        drafts.set(at, copy.value);
        host.fire(at, new Event('input', { bubbles: true, composed: true }));
        yield;
        host.commitEdit(at);
        host.judged(at);
        if (at.type === 'range') host.fire(at, new Event('change', { bubbles: true }));
      }
    }
    yield;
  } else if (key.startsWith('Arrow') && at instanceof HTMLSelectElement && !at.multiple) {
    const i = at.selectedIndex + (key === 'ArrowDown' || key === 'ArrowRight' ? 1 : -1);
    if (i >= 0 && i < at.options.length) yield* chooseOption(at, at.options[i]);
  }
}

function* chooseOption(select, option) {
  if (option.selected && !select.multiple) return;
  option.selected = select.multiple ? !option.selected : true;
  host.fire(select, new Event('input', { bubbles: true, composed: true }));
  yield;
  host.judged(select);
  host.fire(select, new Event('change', { bubbles: true }));
  yield;
}

const needsFocus = (e) => { if (!host.focusable(e)) throw { fault: `<${e.localName}> cannot take the focus` }; };

/** A file that a person has. */
const fileOf = ({ name, type, text }) => new File([text], name, { type });
const listOf = (files) => { const t = new DataTransfer(); for (const f of files) t.items.add(f); return t; };
/** Whether a file input takes a file (HTML §4.10.5.1.17, `accept`). */
const accepts = (input, file) => {
  const rules = input.accept.split(',').map((r) => r.trim().toLowerCase()).filter(Boolean);
  return rules.length === 0 || rules.some((r) => (r.startsWith('.') ? file.name.toLowerCase().endsWith(r) : r.endsWith('/*') ? file.type.startsWith(r.slice(0, -1)) : file.type === r));
};
function* drop(target, files) {
  if (target instanceof HTMLInputElement && target.type === 'file') {
    if (blocked(target)) throw { fault: 'a person cannot choose files there: it is disabled' };
    if (files.length > 1 && !target.multiple) throw { fault: 'this file input takes one file: it has no `multiple`' };
    const refused = files.find((f) => !accepts(target, f));
    if (refused) throw { fault: `this file input does not take \`${refused.name}\`: it accepts ${target.accept}` };
    target.files = listOf(files).files;
    host.fire(target, new Event('input', { bubbles: true, composed: true }));
    yield;
    host.judged(target);
    host.fire(target, new Event('change', { bubbles: true }));
    yield;
    return;
  }
  const dataTransfer = listOf(files);
  const drag = (type, init) => host.fire(target, new DragEvent(type, { bubbles: true, cancelable: true, composed: true, view: window, dataTransfer, ...init }));
  drag('dragenter');
  yield;
  // Where nobody takes the drag, nothing is dropped (HTML §6.11.5).
  if (drag('dragover')) {
    drag('dragleave', { cancelable: false });
    throw { fault: 'nothing takes a drop there: `dragover` is not cancelled' };
  }
  yield;
  drag('drop');
  yield;
}

/** Brings a control to a value in the way that fits it. */
function* editTo(step) {
  const control = one(step.at);
  const value = places.decode(step.to);
  const at = step.at;
  const role = control.getAttribute('role');
  if (control instanceof HTMLInputElement && ['checkbox', 'radio'].includes(control.type) || ['checkbox', 'switch', 'menuitemcheckbox', 'radio'].includes(role)) {
    yield* perform({ step: 'tick', at, on: Boolean(value) });
  } else if (control instanceof HTMLSelectElement || ['listbox', 'radiogroup', 'combobox'].includes(role) && !('value' in control)) {
    yield* perform({ step: 'choose', option: String(value), at });
  } else if (control instanceof HTMLInputElement && ['range', 'color', 'date', 'time', 'month', 'week', 'datetime-local'].includes(control.type)) {
    if (blocked(control)) throw { fault: 'a person cannot change it: it is disabled' };
    host.moveFocus(control);
    yield;
    setValue(control, String(value));
    host.fire(control, new Event('input', { bubbles: true, composed: true }));
    yield;
    host.fire(control, new Event('change', { bubbles: true }));
    yield;
  } else {
    yield* perform({ step: 'type', text: String(value ?? ''), at, replace: true });
    // A field tells of its change when it is left.
    host.moveFocus(null);
    yield;
  }
}

/** Plays one step of a person. */
export function* act(step, where) {
  places = where;
  yield* perform(step);
}

function* perform(step) {
  switch (step.step) {
    case 'press':
      for (let i = 0; i < step.times; i++) yield* click(one(step.at), 1);
      return;
    case 'type': {
      const field = one(step.at);
      if (!host.editable(field)) {
        throw { fault: host.disabled(field) ? 'the field is disabled: a person cannot type into it' : `a person cannot type into this <${field.localName}>` };
      }
      if (host.active() !== field) yield* click(field, 1);
      if (field.selectionStart !== null && 'setSelectionRange' in field && host.hasText(field)) field.setSelectionRange(step.replace ? 0 : field.value.length, field.value.length);
      if (step.replace && field.value !== '' && host.real) {
        if (field.selectionStart === null) field.select();
        yield* press('Delete', field);
      } else if (step.replace && field.value !== '') {
        if (field.selectionStart === null) drafts.set(field, '');
        yield* edit(field, 'deleteContentBackward', null, (t, a, b) => (field.selectionStart === null ? { text: '', at: 0 } : { text: t.slice(0, a) + t.slice(b), at: a }));
      }
      for (const key of step.text) yield* press(key === '\n' ? 'Enter' : key, host.active() ?? field);
      return;
    }
    case 'key': {
      const parts = step.key.length > 1 ? step.key.split('+') : [step.key];
      const key = parts.pop() || '+';
      const modifiers = { ctrlKey: parts.includes('Control'), shiftKey: parts.includes('Shift'), altKey: parts.includes('Alt'), metaKey: parts.includes('Meta') };
      const wrong = parts.find((p) => !['Control', 'Shift', 'Alt', 'Meta'].includes(p));
      if (wrong) throw { fault: `\`${wrong}\` is no modifier: use Control, Shift, Alt or Meta` };
      let at = host.active();
      if (step.at) {
        at = one(step.at);
        if (at !== host.active()) { needsFocus(at); host.moveFocus(at); yield; }
      }
      const names = { Space: ' ', Esc: 'Escape', Up: 'ArrowUp', Down: 'ArrowDown', Left: 'ArrowLeft', Right: 'ArrowRight' };
      yield* press(names[key] ?? key, at, modifiers);
      return;
    }
    case 'choose': {
      const from = one(step.at);
      const texts = [];
      const hit = (e) => { const t = (e.label ?? e.textContent).trim().replace(/\s+/g, ' '); texts.push(t); return t === step.option || e.value === step.option || e.getAttribute?.('data-value') === step.option; };
      if (from instanceof HTMLSelectElement) {
        const option = [...from.options].find(hit);
        if (!option) throw { fault: `there is no option \`${step.option}\`. There is: ${texts.join(', ')}` };
        if (blocked(from) || option.disabled) throw { fault: 'a person cannot choose there: it is disabled' };
        host.moveFocus(from);
        yield;
        yield* chooseOption(from, option);
        return;
      }
      const options = [...from.querySelectorAll('[role=option], [role=radio], input[type=radio]')];
      const target = options.find((o) => (o instanceof HTMLInputElement ? [...(o.labels ?? [])].some((l) => l.textContent.trim() === step.option) || o.value === step.option : hit(o)));
      if (!target) throw { fault: `there is no option \`${step.option}\` in it` };
      yield* click(target, 1);
      return;
    }
    case 'tick': {
      const e = one(step.at);
      const on = e instanceof HTMLInputElement ? e.checked : ['aria-checked', 'aria-pressed'].some((a) => e.getAttribute(a) === 'true');
      if (on !== step.on) yield* click(e, 1);
      return;
    }
    case 'focus': {
      const e = one(step.at);
      needsFocus(e);
      host.moveFocus(e);
      yield;
      return;
    }
    case 'leave': {
      const e = one(step.at);
      if (host.active() === e || holds(e, host.active())) host.moveFocus(null);
      if (pointed.over && holds(e, pointed.over)) yield* moveOver(document.body);
      yield;
      return;
    }
    case 'point':
      yield* moveOver(one(step.at));
      return;
    case 'signal': {
      const e = one(step.at);
      const detail = places.decode(step.detail);
      e.dispatchEvent(new CustomEvent(step.event, { bubbles: true, cancelable: true, composed: true, detail }));
      yield;
      return;
    }
    case 'drop':
      yield* drop(one(step.at), step.files.map(fileOf));
      return;
    case 'scroll': {
      const target = step.at ? one(step.at) : null;
      (target ?? window).scrollTo(step.left, step.top);
      // A component by itself may be too small to be scrolled: it is told all the same that it was.
      const told = target ? { scrollLeft: step.left, scrollTop: step.top } : { scrollX: step.left, pageXOffset: step.left, scrollY: step.top, pageYOffset: step.top };
      for (const [name, value] of Object.entries(told)) if ((target ?? window)[name] !== value) Object.defineProperty(target ?? window, name, { value, writable: true, configurable: true });
      host.fire(target ?? document, new Event('scroll', { bubbles: !target }));
      yield;
      return;
    }
    case 'resize':
      host.resize(step.width, step.height);
      yield;
      return;
    case 'edit':
      yield* editTo(step);
      return;
    default:
      throw { fault: `the step \`${step.step}\` is not known here` };
  }
}

// Dialogs, popovers and details: HTML §4.11, §6.12. What is in the top layer is kept with the document.

const OVERLAY = { none: 0, modal: 1, popover: 2 };
const TOGGLING = Symbol('toggling');
/** Tells of the last of several changes, from the state before the first (HTML §4.11.1 "queue a details toggle event task"). */
const queueToggle = (element, oldState, newState, source = null) => {
  const waiting = element[TOGGLING];
  if (waiting) callOff(waiting.task);
  const from = waiting?.oldState ?? oldState;
  hide(element, TOGGLING, { oldState: from, task: queueSoon(() => {
    hide(element, TOGGLING, undefined);
    fire(element, new ToggleEvent('toggle', { oldState: from, newState, source }));
  }) });
};
const detailsChanged = (details, open) => {
  queueToggle(details, open ? 'closed' : 'open', open ? 'open' : 'closed');
  const name = details.getAttribute('name');
  if (!open || !name) return;
  const group = [...details.getRootNode().querySelectorAll('details[name][open]')];
  for (const other of group) if (other !== details && other.getAttribute('name') === name) other.open = false;
};

// --- dialogs ------------------------------------------------------------------------------------------------------------

const BEFORE = Symbol('focused before');
const RETURN = Symbol('return value');
const openDialog = (dialog, modal) => {
  if (!fire(dialog, new ToggleEvent('beforetoggle', { oldState: 'closed', newState: 'open', cancelable: true }))) return;
  if (dialog.open) return;
  queueToggle(dialog, 'closed', 'open');
  dialog.open = true;
  if (modal) native.set_overlay(dialog[ID], OVERLAY.modal);
  hide(dialog, BEFORE, focusedNode());
  if (modal) hideAll(null);
  const inside = [...descendantsOf(dialog)].filter((n) => n instanceof HTMLElement);
  const wanted = dialog.autofocus ? dialog : inside.find((n) => n.autofocus && native.focusable(n[ID])) ?? inside.find((n) => native.focusable(n[ID]));
  if (wanted && wanted !== dialog) wanted.focus();
  else moveFocus(native.focusable(dialog[ID]) ? dialog : null);
};
const closeDialog = (dialog, value) => {
  if (!dialog.open) return;
  fire(dialog, new ToggleEvent('beforetoggle', { oldState: 'open', newState: 'closed' }));
  if (!dialog.open) return;
  queueToggle(dialog, 'open', 'closed');
  dialog.removeAttribute('open');
  const wasModal = native.overlay(dialog[ID]) === OVERLAY.modal;
  native.set_overlay(dialog[ID], OVERLAY.none);
  if (value !== undefined) dialog.returnValue = value;
  const before = dialog[BEFORE];
  hide(dialog, BEFORE, null);
  if (before && (wasModal || composedContains(dialog, focusedNode() ?? document))) before.focus();
  // Browsers tell of it when they next draw the page.
  frames.push({ id: nextFrame++, callback: () => fire(dialog, new Event('close')) });
};
members(HTMLDialogElement, {
  get returnValue() { return this[RETURN] ?? ''; },
  set returnValue(v) { hide(this, RETURN, String(v)); },
  show() {
    const modal = native.overlay(this[ID]) === OVERLAY.modal;
    if (this.open && !modal) return;
    if (this.open) throw new DOMException('The dialog is open as a modal one.', 'InvalidStateError');
    openDialog(this, false);
  },
  showModal() {
    if (this.open && native.overlay(this[ID]) === OVERLAY.modal) return;
    if (this.open) throw new DOMException('The dialog is open already.', 'InvalidStateError');
    if (!this.isConnected) throw new DOMException('The dialog is not in the document.', 'InvalidStateError');
    if (native.overlay(this[ID]) === OVERLAY.popover) throw new DOMException('The dialog is open as a popover.', 'InvalidStateError');
    openDialog(this, true);
  },
  close(value) { closeDialog(this, value); },
  requestClose(value) {
    if (this.open && fire(this, new Event('cancel', { cancelable: true }))) closeDialog(this, value);
  },
});

// --- popovers -----------------------------------------------------------------------------------------------------------

/** The automatic popovers that are open, outermost first. */
let openPopovers = [];
const kindOf = (element) => {
  const value = element.getAttribute('popover');
  return value === null ? null : ['', 'auto'].includes(value.toLowerCase()) ? 'auto' : value.toLowerCase() === 'hint' ? 'hint' : 'manual';
};
const isShowing = (element) => native.overlay(element[ID]) === OVERLAY.popover;
const checkPopover = (element, showing) => {
  if (kindOf(element) === null) throw new DOMException('The element has no `popover` attribute.', 'NotSupportedError');
  if (isShowing(element) !== showing) return false;
  if (showing) return true;
  if (!element.isConnected) throw new DOMException('The popover is not in the document.', 'InvalidStateError');
  if (element instanceof HTMLDialogElement && element.open) throw new DOMException('The popover is an open dialog.', 'InvalidStateError');
  return true;
};
/** Hides automatic popovers that do not hold `around`. */
const hideAll = (around) => {
  openPopovers = openPopovers.filter(isShowing);
  for (const popover of openPopovers.slice().reverse()) if (!around || !composedContains(popover, around)) hidePopover(popover);
};
const showPopover = (popover, source = null) => {
  if (!checkPopover(popover, false)) return;
  if (!fire(popover, new ToggleEvent('beforetoggle', { oldState: 'closed', newState: 'open', cancelable: true, source }))) return;
  if (!checkPopover(popover, false)) return;
  if (kindOf(popover) === 'auto') {
    // One that a button of another opens stands within that one.
    hideAll(source && openPopovers.some((p) => composedContains(p, source)) ? source : popover);
    openPopovers.push(popover);
  }
  hide(popover, BEFORE, focusedNode());
  native.set_overlay(popover[ID], OVERLAY.popover);
  const wanted = popover.autofocus ? popover : [...popover.querySelectorAll('[autofocus]')].find((n) => native.focusable(n[ID]));
  wanted?.focus();
  queueToggle(popover, 'closed', 'open', source);
};
const hidePopover = (popover) => {
  if (!checkPopover(popover, true)) return;
  fire(popover, new ToggleEvent('beforetoggle', { oldState: 'open', newState: 'closed' }));
  if (!isShowing(popover)) return;
  openPopovers = openPopovers.filter((p) => p !== popover);
  const inside = composedContains(popover, focusedNode() ?? document);
  native.set_overlay(popover[ID], OVERLAY.none);
  if (inside) popover[BEFORE]?.focus();
  queueToggle(popover, 'open', 'closed');
};
mixin({
  get popover() { return kindOf(this); },
  set popover(v) { v == null ? this.removeAttribute('popover') : this.setAttribute('popover', v); },
  showPopover(options) { showPopover(this, options?.source ?? null); },
  hidePopover() { hidePopover(this); },
  togglePopover(options) {
    const force = typeof options === 'object' ? options?.force : options;
    if (isShowing(this) && force !== true) hidePopover(this);
    else if (!isShowing(this) && force !== false) showPopover(this, options?.source ?? null);
    else checkPopover(this, isShowing(this));
    return isShowing(this);
  },
}, HTMLElement);

const targeted = (element, attribute) => {
  const id = element.getAttribute(attribute);
  return id ? wrap(native.by_id(native.root(element[ID]), id)) : null;
};
const TARGET = Symbol('popover target');
mixin({
  get popoverTargetElement() { return this[TARGET] ?? targeted(this, 'popovertarget'); },
  set popoverTargetElement(element) { hide(this, TARGET, element ?? undefined); },
  get popoverTargetAction() { const v = this.getAttribute('popovertargetaction')?.toLowerCase(); return v === 'show' || v === 'hide' ? v : 'toggle'; },
  set popoverTargetAction(v) { this.setAttribute('popovertargetaction', v); },
}, HTMLButtonElement, HTMLInputElement);
const togglePopoverOf = (button) => {
  const popover = button instanceof HTMLButtonElement || ['button', 'submit', 'reset', 'image'].includes(button.type) ? button.popoverTargetElement : null;
  if (!popover || kindOf(popover) === null) return;
  const action = button.popoverTargetAction;
  if (isShowing(popover) ? action !== 'show' : action !== 'hide') { if (isShowing(popover)) hidePopover(popover); else showPopover(popover, button); }
};

class CommandEvent extends Event {
  constructor(type, init = {}) {
    super(type, init);
    this.source = init.source ?? null;
    this.command = String(init.command ?? '');
  }
}
expose(CommandEvent);
mixin({
  get commandForElement() { return targeted(this, 'commandfor'); },
  get command() { return this.getAttribute('command') ?? ''; },
  set command(v) { this.setAttribute('command', v); },
}, HTMLButtonElement);
/** What a button does to the element that it commands (HTML §4.10.6.1). True when it commands one. */
const command = (button) => {
  const target = button.commandForElement;
  const wanted = button.command.toLowerCase();
  if (!target || wanted === '') return false;
  if (!fire(target, new CommandEvent('command', { cancelable: true, source: button, command: button.command }))) return true;
  if (kindOf(target) !== null) {
    if (isShowing(target) ? ['hide-popover', 'toggle-popover'].includes(wanted) : ['show-popover', 'toggle-popover'].includes(wanted)) isShowing(target) ? hidePopover(target) : showPopover(target, button);
  } else if (target instanceof HTMLDialogElement) {
    const value = button.hasAttribute('value') ? button.value : undefined;
    if (wanted === 'show-modal' && !target.open) target.showModal();
    else if (wanted === 'close' && target.open) target.close(value);
    else if (wanted === 'request-close' && target.open) target.requestClose(value);
  }
  return true;
};

/** Escape: what was opened last is asked to close. */
const dismiss = () => {
  const last = native.overlays().map(wrap).filter((e) => native.overlay(e[ID]) === OVERLAY.modal || kindOf(e) === 'auto').at(-1);
  if (!last) return;
  if (native.overlay(last[ID]) === OVERLAY.modal) last.requestClose();
  else hidePopover(last);
};

// What a click, the focus and a submit do by default: HTML §6.4 activation, §6.6 focus, §4.10.22 submission.

/** The nearest target on the path that has an activation behaviour (DOM §2.9 step 5). */
const activationTarget = (path, bubbles) => {
  for (let i = 0; i < path.length; i++) {
    if (i > 0 && !bubbles) return null;
    if (path[i]?.[ID] !== undefined && hasActivation(path[i])) return path[i];
  }
  return null;
};
const hasActivation = (e) =>
  e instanceof HTMLInputElement || e instanceof HTMLButtonElement || e instanceof HTMLLabelElement ||
  (e instanceof HTMLAnchorElement && e.hasAttribute('href')) || isSummary(e);
const isSummary = (e) => e.localName === 'summary' && e.parentNode instanceof HTMLDetailsElement &&
  [...e.parentNode.children].find((c) => c.localName === 'summary') === e;

/** What undoes a click on a radio button that is on already: it stays on, and nothing is told. */
const NOTHING = () => {};
/** The legacy pre-activation behaviour of checkboxes and radio buttons; gives what undoes it. */
const beforeActivation = (e) => {
  if (!(e instanceof HTMLInputElement) || native.disabled(e[ID])) return null;
  if (e.type === 'checkbox') {
    const [checked, indeterminate] = [e.checked, e.indeterminate];
    // Past any setter that a framework laid over the element: the page's own scripts do not see this change as theirs.
    native.set_checked(e[ID], !checked);
    e.indeterminate = false;
    return () => { native.set_checked(e[ID], checked); e.indeterminate = indeterminate; };
  }
  if (e.type === 'radio') {
    if (e.checked) return NOTHING;
    const was = native.radio_group(e[ID]).map(wrap).find((r) => r.checked);
    native.set_checked(e[ID], true);
    return () => { native.set_checked(e[ID], false); if (was) native.set_checked(was[ID], true); };
  }
  return null;
};

const activate = (e, event) => {
  if (e instanceof HTMLLabelElement) {
    const control = e.control;
    const target = event[EVENT].path[0];
    // Interactive content within a label keeps its own click (HTML §4.10.4).
    const inside = target.closest?.('button, input:not([type=hidden]), select, textarea, a[href], label, details, embed, iframe, object, img[usemap], audio[controls], video[controls]');
    const keeps = inside && inside !== e && inside !== control && e.contains(inside);
    if (!control || control === target || keeps || control.contains(target)) return;
    if (native.disabled(control[ID])) return;
    if (control instanceof HTMLInputElement && !['checkbox', 'radio', 'file', 'submit', 'button', 'reset', 'image', 'color'].includes(control.type)) control.focus();
    else if (control instanceof HTMLSelectElement || control instanceof HTMLTextAreaElement) control.focus();
    control.click();
    return;
  }
  if (isSummary(e)) {
    const details = e.parentNode;
    details.open = !details.open;
    return;
  }
  if (e instanceof HTMLAnchorElement) {
    const href = e.getAttribute('href');
    if (href.startsWith('#')) location.hash = href;
    return;
  }
  if (native.disabled(e[ID])) return;
  if (e instanceof HTMLInputElement && (e.type === 'checkbox' || e.type === 'radio')) {
    if (!e.isConnected) return;
    fire(e, new Event('input', { bubbles: true, composed: true }));
    judged(e);
    fire(e, new Event('change', { bubbles: true }));
    return;
  }
  if (e instanceof HTMLButtonElement && command(e)) return;
  const form = e.form;
  if (!form) { togglePopoverOf(e); return; }
  const type = e instanceof HTMLInputElement && e.type === 'image' ? 'submit' : e.type;
  if (type === 'submit') submitForm(form, e);
  else if (type === 'reset') form.reset();
  else togglePopoverOf(e);
};

/** A person has left a control changed: from then on `:user-invalid` tells of it (HTML §4.10.20.1). */
const judged = (e) => native.mark_judged(e[ID]);

/** Form submission up to the navigation, which a stage does not do. */
const submitForm = (form, submitter) => {
  // What listens to the submission may not begin another (HTML §4.10.22.3, "firing submission events").
  if (!form.isConnected || submitting.has(form)) return;
  submitting.add(form);
  try {
    sendForm(form, submitter);
  } finally {
    submitting.delete(form);
  }
};
const submitting = new WeakSet();
const sendForm = (form, submitter) => {
  for (const id of native.form_elements(form[ID])) native.mark_judged(id);
  if (!form.noValidate && !submitter?.formNoValidate && !form.reportValidity()) return;
  const go = fire(form, new SubmitEvent('submit', { bubbles: true, cancelable: true, submitter }));
  if (go && form.method === 'dialog') form.closest('dialog')?.close(submitter?.value);
};

/** Enter in a field (HTML §4.10.22.2): press the default button, or submit a form with a single field. */
const implicitSubmission = (field) => {
  const form = field.form;
  if (!form) return;
  const button = wrap(native.default_button(form[ID]));
  if (button) { if (!native.disabled(button[ID])) button.click(); return; }
  const blocking = [...form.elements].filter((e) => e instanceof HTMLInputElement && ['text', 'search', 'tel', 'url', 'email', 'password', 'date', 'month', 'week', 'time', 'datetime-local', 'number'].includes(e.type));
  if (blocking.length <= 1) submitForm(form, null);
};

/** A text control's value when it took the focus: what `change` compares with. */
const valueAtFocus = new WeakMap();
/** True where the value can change by typing, so that leaving it commits the change. */
const commitsOnBlur = (e) => native.has_text_value(e[ID]);

const focusedNode = () => wrap(native.focused());
/** What takes the focus in the place of a shadow host that delegates it (HTML §6.6.4 "get the focusable area", "focus delegate"). */
const focusDelegate = (element) => {
  const root = shadowed ? wrap(native.shadow(element[ID])) : null;
  if (!root?.delegatesFocus) return element;
  const focused = focusedNode();
  if (focused && composedContains(element, focused)) return focused;
  const inside = [...descendantsOf(root)].filter((n) => n instanceof Element);
  const wanted = inside.find((n) => n.autofocus && native.focusable(n[ID])) ?? inside.find((n) => native.focusable(n[ID]));
  return wanted ? focusDelegate(wanted) : element;
};
/** HTML §6.6.4 focus update steps: change, blur, focusout, focus, focusin, in the order of UI Events §5.2.4. */
const moveFocus = (to) => {
  if (to && (!to.isConnected || !native.focusable(to[ID]))) return;
  const from = wrap(native.focused());
  if (from === to) return;
  if (from) {
    if (commitsOnBlur(from) && valueAtFocus.get(from) !== undefined && valueAtFocus.get(from) !== from.value) {
      judged(from);
      fire(from, new Event('change', { bubbles: true }));
    }
    valueAtFocus.delete(from);
  }
  native.set_focused(to ? to[ID] : -1);
  const init = { bubbles: false, composed: true, view: globalThis };
  if (from) {
    fire(from, new FocusEvent('blur', { ...init, relatedTarget: to }));
    fire(from, new FocusEvent('focusout', { ...init, bubbles: true, relatedTarget: to }));
  }
  if (to && wrap(native.focused()) === to) {
    if (commitsOnBlur(to)) valueAtFocus.set(to, to.value);
    fire(to, new FocusEvent('focus', { ...init, relatedTarget: from }));
    fire(to, new FocusEvent('focusin', { ...init, bubbles: true, relatedTarget: from }));
  }
};
/** A committed edit that did not wait for blur (Enter in a field): `change` must not come again. */
const commitEdit = (e) => {
  if (valueAtFocus.get(e) !== undefined && valueAtFocus.get(e) !== e.value) {
    valueAtFocus.set(e, e.value);
    judged(e);
    fire(e, new Event('change', { bubbles: true }));
  }
};

// React 18 and 19 on a stage, in its public API only.
import { createElement, createRef, Component as Base, Fragment } from 'react';
import { createRoot } from 'react-dom/client';
import { adapter } from 'stage:jsx';

const ATTRIBUTES = {
  class: 'className', for: 'htmlFor', tabindex: 'tabIndex', readonly: 'readOnly', maxlength: 'maxLength', colspan: 'colSpan', rowspan: 'rowSpan',
  autofocus: 'autoFocus', autocomplete: 'autoComplete', contenteditable: 'contentEditable', value: 'defaultValue', checked: 'defaultChecked',
};
const attributes = (given) => {
  const out = {};
  for (const [name, value] of Object.entries(given)) {
    if (name === 'style' && typeof value === 'string') {
      out.style = Object.fromEntries(value.split(';').map((d) => d.split(/:(.*)/s)).filter(([k, v]) => k.trim() && v)
        .map(([k, v]) => [k.trim().startsWith('--') ? k.trim() : k.trim().replace(/-([a-z])/g, (_, c) => c.toUpperCase()), v.trim()]));
    } else out[ATTRIBUTES[name] ?? name] = value === '' && typeof name === 'string' && ['disabled', 'checked', 'readonly'].includes(name) ? true : value;
  }
  return out;
};

/** A root listens to all events that there are, whatever is rendered in it. */
export const prepare = (container) => createRoot(container).unmount();

export const mount = adapter({
  createElement, createRef, Fragment, attributes,
  // Errors of a root are options since React 19 and reach the window before it.
  root: (container, { failed, prefix }) => createRoot(container, { onUncaughtError: (error) => failed(error), identifierPrefix: prefix }),
  own: (name) => !(name in Base.prototype),
});

// Preact on a stage, in its public API only.
import { createElement, createRef, Component as Base, Fragment, render } from 'preact';
import { adapter } from 'stage:jsx';

export const mount = adapter({
  createElement, createRef, Fragment,
  attributes: (given) => given,
  root: (container) => ({ render: (element) => render(element, container), unmount: () => render(null, container) }),
  own: (name) => !(name in Base.prototype),
});

// Preact on a stage, in its public API only.
import { createElement, createRef, Component as Base, Fragment, render } from 'preact';
import { adapter } from 'stage:jsx';

/** A parent with a state, as every other: what its child reports while it renders makes it render once more, and not within that. */
class Parent extends Base {
  state = { shown: this.props.first };
  constructor(props) { super(props); props.made(this); }
  render() { return this.state.shown; }
}

export const mount = adapter({
  createElement, createRef, Fragment,
  attributes: (given) => given,
  root: (container) => {
    let parent = null;
    return {
      render(element) {
        if (parent) parent.setState({ shown: element });
        else render(createElement(Parent, { first: element, made: (it) => { parent = it; } }), container);
      },
      unmount: () => render(null, container),
    };
  },
  own: (name) => !(name in Base.prototype),
});

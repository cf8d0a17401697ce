//! Scripts whose name says nothing: what they hold is told by their text.

mod told;

use std::path::Path;

use fidelon_reader::may_declare_components;
use fidelon_source::MemoryFiles;
use told::{Shelves, assert_told, told, told_among};

#[test]
fn options_of_vue_in_a_plain_script() {
    let source = "
import { h } from 'vue'
import { make } from './make'
export const makeLid = () => 1
const KilnLid = make({
  name: 'KilnLid',
  props: { label: String, heat: { type: Number, default: 20 } },
  emits: ['open'],
  setup(props, { slots }) { return () => h('b', props.label, slots.default?.()) },
})
export { KilnLid }
export default { props: ['glaze'], render() { return h('i', this.glaze) } }
export const settings = { props: { a: 1 } }
";
    assert_told(
        &told("kiln-lid.js", source),
        "
        KilnLid (KilnLid)
          label?: text
          heat?: number = 20
          on open (open)
          slot default
        ---
        kiln-lid (default)
          glaze?: ?any?
        ",
    );
}

#[test]
fn jsx_in_a_plain_script_with_its_prop_types() {
    let source = "
import React from 'react'
import PropTypes from 'prop-types'
const shared = { className: PropTypes.string }
const propTypes = {
  ...shared,
  /** How hot it is. */
  heat: PropTypes.number.isRequired,
  unit: PropTypes.oneOf(['C', 'F']),
  size: PropTypes.oneOfType([PropTypes.string, PropTypes.bool]),
  pieces: PropTypes.arrayOf(PropTypes.shape({ id: PropTypes.number.isRequired, glaze: PropTypes.string })),
  onTurn: PropTypes.func,
  children: PropTypes.node,
  custom: isKiln,
}
function KilnDial({ heat, unit, children, onTurn }) {
  return <p onClick={() => onTurn(heat + 1)}>{heat} {unit} {children}</p>
}
KilnDial.propTypes = propTypes
KilnDial.defaultProps = { unit: 'C' }
export default KilnDial
";
    assert_told(
        &told("KilnDial.js", source),
        r#"
        KilnDial (default)
          className?: text
          heat: number // How hot it is.
          unit?: "C" | "F" = 'C'
          size?: (text or boolean)
          pieces?: [{ id: number, glaze?: text }]
          custom?: ?isKiln?
          on turn (onTurn)
          slot default
          and more
        "#,
    );
    assert_told(&told("words.js", "import React from 'react'\nexport const words = '<b></b>'"), "");
}

#[test]
fn an_element_that_a_helper_registers_with_its_mixins() {
    let files = MemoryFiles::default()
        .with(
            "kiln-lid.js",
            "import { define } from './define.js'\nimport { Pressable } from './pressable.js'\nclass KilnLid extends Pressable(HTMLElement) {\n  static get is() { return 'kiln-lid' }\n  set glaze(value) {}\n}\ndefine(KilnLid)\nexport { KilnLid }\n",
        )
        .with(
            "pressable.js",
            "const Lockable = (base) => class extends base {\n  static get observedAttributes() { return ['locked'] }\n}\nexport const Pressable = (superClass) =>\n  class extends Lockable(superClass) {\n    press() { this.dispatchEvent(new CustomEvent('pressed')) }\n  }\n",
        );
    assert_told(
        &told_among("kiln-lid.js", files, &Shelves::default()),
        "
        KilnLid (kiln-lid)
          glaze?: ?any?
          locked?: text
          on pressed (pressed)
          member press
        ",
    );
}

/// A kit whose classes come through files that pass them on, made of mixins that a helper sees applied once.
#[test]
fn an_element_whose_class_is_passed_on() {
    let files = MemoryFiles::default()
        .with("define/kiln-lid.js", "import { Lid } from '../lid.js'\ncustomElements.define('kiln-lid', Lid)\n")
        .with("lid.js", "export * from './round.js'\nexport { KilnLid as Lid } from './src/lid.js'\n")
        // In a circle: each passes all of the other on.
        .with("round.js", "export * from './lid.js'\n")
        .with(
            "src/lid.js",
            "import { Base } from './base.js'\nclass Inner extends Base {\n  static get properties() { return { ...super.properties, glaze: { type: String } } }\n  render() { return html`<slot name=\"knob\"></slot>` }\n}\nexport { Inner as KilnLid }\n",
        )
        .with(
            "src/base.js",
            "import { once } from './once.js'\nimport Lockable from 'locks/lockable.js'\nconst PressableImplementation = (superclass) =>\n  class extends Lockable(superclass) {\n    press() { this.dispatchEvent(new CustomEvent('pressed')) }\n  }\nconst Pressable = once(PressableImplementation)\nexport const Base = Pressable(LitElement)\n",
        )
        .with(
            "packages/locks/src/lockable.js",
            "import { once } from './once.js'\nexport default once((superclass) => class extends superclass {\n  static get properties() { return { locked: { type: Boolean } } }\n})\n",
        )
        // A package whose declarations lie apart from its code.
        .with("packages/locks/types/lockable.d.ts", "declare const mixin: <T>(superclass: T) => T\nexport default mixin\n")
        .with("src/once.js", "export const once = (mixin) => mixin\n");
    let shelves = Shelves {
        files: vec![("locks/lockable.js", "packages/locks/types/lockable.d.ts")],
        code: vec![("locks/lockable.js", "packages/locks/src/lockable.js")],
        ..Shelves::default()
    };
    assert_told(
        &told_among("define/kiln-lid.js", files, &shelves),
        "
        Lid (kiln-lid)
          glaze?: text
          locked?: boolean
          on pressed (pressed)
          slot knob
          member press
        ",
    );
}

#[test]
fn names_of_scripts() {
    let folder = tempfile::tempdir().expect("made");
    let write = |name: &str, text: &str| {
        let path = folder.path().join(name);
        std::fs::write(&path, text).expect("written");
        may_declare_components(Path::new(&path))
    };
    let angular = "import { Component } from '@angular/core'\n@Component({ template: '' })\nexport class Lamp {}";
    let jsx = "import React from 'react'\nexport const Lamp = () => <b>lamp</b>";
    for (name, text, is) in [
        ("lamp.page.ts", angular, true),
        ("lamp.dialog.ts", angular, true),
        ("lamp.component.spec.ts", angular, false),
        ("lamp.stories.ts", angular, false),
        ("Lamp.js", jsx, true),
        ("Plain.js", "export default function Plain() {\n  return (\n    <b>lamp</b>\n  )\n}", true),
        ("Lamp.test.js", jsx, false),
        ("index.tsx", jsx, true),
        ("index.jsx", "export { Lamp } from './Lamp'\nexport { default } from './Kiln'", false),
        ("index.stories.tsx", jsx, false),
        ("Lamp.parts.js", jsx, false),
        ("lamp.js", "export const lamp = 1", false),
    ] {
        assert_eq!(write(name, text), is, "{name}");
    }
}

//! What custom elements declare, in every way that they do.

mod told;

use fidelon_source::MemoryFiles;
use told::{Shelves, assert_told, told, told_among};

#[test]
fn accessors_attributes_events_slots_and_methods() {
    let source = r#"
const template = document.createElement('template')
template.innerHTML = `<header><slot name="heading">Kiln</slot></header><slot></slot><slot name=${x}></slot>`
/**
 * @attr {"C"|"F"} unit - which scale
 * @fires overfire - it got too hot
 */
export class KilnDial extends HTMLElement {
  static observedAttributes = ['locked', 'step', 'unit', 'max-heat']
  #target = 0
  _inner = 1
  /** Degrees. */
  get target(): number { return this.#target }
  set target(target: number) { this.#target = target }
  get maxHeat() { return 1300 }
  set maxHeat(heat) {}
  get reading() { return '' }
  connectedCallback() { this.locked = this.hasAttribute('locked'); this.step = Number(this.getAttribute('step')) }
  reset() { this.dispatchEvent(new CustomEvent('target-change', { detail: 0 })); this.dispatchEvent(new Event('fire')) }
  onClick() {}
  handleKey() {}
  private secret() {}
}
customElements.define('kiln-dial', KilnDial)
"#;
    assert_told(
        &told("kiln-dial.ts", source),
        r#"
        KilnDial (kiln-dial)
          target?: number two-way // Degrees.
          maxHeat?: text
          locked?: boolean
          step?: number
          unit?: "C" | "F" // which scale
          on target (target-change) reports target
          on fire (fire)
          on overfire (overfire)
          slot heading
          slot default
          member reset
          member reading
        "#,
    );
}

#[test]
fn fields_properties_and_decorators_of_a_library() {
    let source = r#"
import { LitElement, html } from 'lit'
@customElement('vent-switch')
export class VentSwitch extends LitElement {
  /** Beside the switch. */
  @property() label = 'Vent'
  @property({ type: Boolean, reflect: true }) open = false
  @property({ type: Number }) heat?: number
  @property({ attribute: false }) size: 'small' | 'large' = 'small'
  @state() private busy = false
  @query('button') button!: HTMLButtonElement
  render() { return html`<slot name="icon"></slot>${this.label}` }
  toggle() { this.dispatchEvent(new CustomEvent('open-change')) }
}
class Shelf extends LitElement {
  static properties = { title: { type: String }, count: { type: Number }, busy: { state: true }, pieces: Array }
}
customElements.define('studio-shelf', Shelf)
"#;
    assert_told(
        &told("switches.ts", source),
        r#"
        VentSwitch (vent-switch)
          label?: text = 'Vent' // Beside the switch.
          open?: boolean = false two-way
          heat?: number
          size?: "small" | "large" = 'small'
          on open (open-change) reports open
          slot icon
          member toggle
        ---
        Shelf (studio-shelf)
          title?: text
          count?: number
          pieces?: [?any?]
        "#,
    );
}

#[test]
fn decorators_that_a_compiler_wrote_as_calls() {
    // As TypeScript, and as bundlers write them; the second with the names of a minified file.
    let source = r#"
import { LitElement, html } from 'lit'
import { customElement, property, state } from 'lit/decorators.js'
import { property as n } from 'lit/decorators.js'
let VentSwitch = class VentSwitch extends LitElement {
  constructor() { super(...arguments); this.label = 'Vent'; this.heat = 1240; this.busy = false }
  get size() { return this._size }
  set size(size) { this._size = size }
  get hot() { return true }
  render() { return html`<slot></slot>` }
}
__decorate([property({ type: Boolean })], VentSwitch.prototype, "hot", null)
__decorate([property()], VentSwitch.prototype, "label", void 0)
__decorate([property({ type: Boolean, reflect: true })], VentSwitch.prototype, "open", void 0)
__decorate([property({ attribute: 'heat' })], VentSwitch.prototype, "heat", void 0)
__decorate([property()], VentSwitch.prototype, "size", null)
__decorate([state()], VentSwitch.prototype, "busy", void 0)
VentSwitch = VentSwitch_1 = __decorate([customElement('vent-switch')], VentSwitch)
let a = class extends LitElement {
  constructor() { super(), this.hot = !1 }
  static helper() { list([one], a) }
}
i([n({ type: Boolean })], a.prototype, 'hot', 2)
i([s({ type: Number })], a.prototype, 'count', 2)
a = i([define('kiln-lamp')], a)
export { VentSwitch, a as KilnLamp }
"#;
    assert_told(
        &told("switches.js", source),
        r#"
        VentSwitch (vent-switch)
          size?: ?any?
          label?: text = 'Vent'
          open?: boolean
          heat?: number = 1240
          slot default
          member hot
        ---
        a (kiln-lamp)
          hot?: boolean
          count?: number
        "#,
    );
}

#[test]
fn a_class_whose_types_are_declared_beside_it() {
    let files = MemoryFiles::default()
        .with("badge.d.ts", "export * from './kiln-badge.element'")
        .with(
            "kiln-badge.element.d.ts",
            "/** @fires {CustomEvent<number>} warm */\nexport declare class KilnBadge extends LitElement {\n  /** How it looks. */\n  look: 'matt' | 'glossy'\n  \
             sizes: number[]\n  untold: string\n}",
        )
        .with(
            "badge.js",
            "import { defineElement } from './registration'\nclass KilnBadge extends LitElement { constructor() { super(); this.look = 'matt' } }\n\
             decorate([property()], KilnBadge.prototype, 'look', 2)\ndecorate([property({ type: Array })], KilnBadge.prototype, 'sizes', 2)\n\
             KilnBadge = decorate([defineElement('kiln-badge')], KilnBadge)\nexport { KilnBadge }",
        );
    assert_told(
        &told_among("badge.js", files, &Shelves::default()),
        r#"
        KilnBadge (kiln-badge)
          look?: "matt" | "glossy" = 'matt' // How it looks.
          sizes?: [number]
        "#,
    );
}

#[test]
fn a_decorator_of_the_project_registers() {
    let source = "@defineElement('kiln-lamp')\nexport class KilnLamp extends LitElement { @property() glow = 'red' }\n@route('not-extended') class Page {}";
    assert_told(&told("lamp.ts", source), "KilnLamp (kiln-lamp)\n  glow?: text = 'red'");
    assert_eq!(told("potters.ts", "@Controller('all-potters')\nexport class Potters extends Routes { list() { return [] } }"), "");
}

#[test]
fn a_class_of_another_file_an_unnamed_one_and_one_of_an_unknown_base() {
    let files =
        MemoryFiles::default().with("parts/dial.js", "export class Dial extends HTMLElement { set target(t) {} get target() {} }").with(
            "register.js",
            "import { Dial } from './parts/dial.js'\nimport { Field } from 'somewhere'\n\
             window.customElements.define('kiln-dial', Dial)\n\
             customElements.define('kiln-note', class extends HTMLElement { static get observedAttributes() { return ['text'] } })\n\
             customElements.define('kiln-field', class extends Field { value = '' })\n\
             customElements.define('kiln-far', Field)\n",
        );
    assert_told(
        &told_among("register.js", files, &Shelves::default()),
        r#"
        Dial (kiln-dial)
          target?: ?any?
        ---
        KilnNote (kiln-note)
          text?: text
        ---
        KilnField (kiln-field)
          value?: text = ''
          and more
        ---
        Field (kiln-far)
          and more
        "#,
    );
}

#[test]
fn scripts_that_register_nothing_hold_no_component() {
    assert_eq!(told("kiln.js", "export const hot = 1240"), "");
    assert_told(&told("broken.js", "customElements.define('x-a', class {"), "broken (broken)\n  and more");
}

#[test]
fn the_manifest_of_the_package_completes_what_the_source_tells() {
    let manifest = r#"{ "schemaVersion": "2.1.0", "modules": [{ "kind": "javascript-module", "path": "dial.js", "declarations": [
        { "kind": "class", "name": "KilnDial", "customElement": true, "tagName": "kiln-dial",
          "members": [
            { "kind": "field", "name": "unit", "type": { "text": "'C' | 'F' | undefined" }, "default": "'C'", "description": "The scale." },
            { "kind": "field", "name": "locked", "type": { "text": "string" }, "description": "Inert." },
            { "kind": "field", "name": "secret", "privacy": "private" }, { "kind": "field", "name": "version", "static": true },
            { "kind": "field", "name": "reading", "readonly": true }, { "kind": "method", "name": "reset" }, { "kind": "method", "name": "connectedCallback" } ],
          "attributes": [{ "name": "unit", "fieldName": "unit" }, { "name": "max-heat", "type": { "text": "number" } }],
          "events": [{ "name": "unit-change", "type": { "text": "CustomEvent" } }],
          "slots": [{ "name": "", "description": "the caption" }, { "name": "icon" }] }] }] }"#;
    let source = "import { Base } from 'far-away'\nexport class KilnDial extends Base {\n  static properties = { locked: { type: Boolean } }\n}\ncustomElements.define('kiln-dial', KilnDial)\n";
    let files = |package: &str, name: &str| {
        MemoryFiles::default().with("/shop/package.json", package).with(name, manifest).with("/shop/src/kiln-dial.js", source)
    };
    let expected = r#"
        KilnDial (kiln-dial)
          locked?: boolean // Inert.
          unit?: "C" | "F" = 'C' two-way // The scale.
          maxHeat?: number
          on unit (unit-change) reports unit
          slot default
          slot icon
          member reading
          member reset
          and more
        "#;
    let named = files("{ \"customElements\": \"./dist/elements.json\" }", "/shop/dist/elements.json");
    let beside = files("{}", "/shop/custom-elements.json");
    for files in [named, beside] {
        assert_told(&told_among("/shop/src/kiln-dial.js", files, &Shelves::default()), expected);
    }
    // A manifest that is none changes nothing.
    let faulty = files("{}", "/shop/other.json").with("/shop/custom-elements.json", "{ \"kiln-dial\": ");
    let told = told_among("/shop/src/kiln-dial.js", faulty, &Shelves::default());
    assert_told(&told, "KilnDial (kiln-dial)\n  locked?: boolean\n  and more");
}

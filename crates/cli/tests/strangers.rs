//! Sound components as others write them: what they declare is read, and nothing false is told of them.

mod studio;

use studio::Studio;

/// The one component of a run: its results.
fn only(studio: &Studio, paths: &[&str]) -> serde_json::Value {
    let results = studio.results(paths);
    assert_eq!(results["components"].as_array().map(Vec::len), Some(1), "{results:#}");
    results["components"][0].clone()
}

#[test]
fn defaults_of_sveltes_older_form_count_once() {
    let studio = Studio::new()
        .with("Label.svelte", "<script>\n  export let align = 'end'\n  export let text\n</script>\n\n<p class={align}>{text}</p>\n");
    let component = only(&studio, &["Label.svelte"]);
    assert_eq!(component["findings"], serde_json::json!([]), "{component:#}");
}

#[test]
fn modules_that_import_each_other_are_loaded_as_an_application_does() {
    let studio = Studio::new()
        .with("Shelf.vue", "<script>\nimport Board from './Board.vue'\nexport const parts = { Board: Board.name ?? 'board' }\nexport default { name: 'Shelf', props: { tall: Boolean } }\n</script>\n<template><div :class=\"{ tall }\"><slot /></div></template>\n")
        .with("Board.vue", "<script>\nimport { parts } from './Shelf.vue'\nexport default { name: 'Board', props: { wide: Boolean }, computed: { of: () => parts.Board } }\n</script>\n<template><p :class=\"{ wide }\">{{ of }}</p></template>\n");
    assert_eq!(only(&studio, &["Board.vue"])["verdict"], "holds");
}

#[test]
fn what_ends_by_itself_and_what_is_said_of_made_up_names_is_no_fault() {
    let studio = Studio::new().with(
        "spy-list.js",
        "/** @attr {string} label */\nexport class SpyList extends HTMLElement {\n  connectedCallback() {\n    setTimeout(() => {}, 3000)\n    const label = this.getAttribute('label') ?? ''\n    if (label && !document.getElementById(label)) console.warn(`SpyList: no element with id \"${label}\" on the page`)\n    this.textContent = label\n  }\n  static observedAttributes = ['label']\n  attributeChangedCallback() { this.textContent = this.getAttribute('label') ?? '' }\n}\ncustomElements.define('spy-list', SpyList)\n",
    );
    let component = only(&studio, &["spy-list.js"]);
    assert_eq!(component["findings"], serde_json::json!([]), "{component:#}");
    let studio = Studio::new().with(
        "tick-list.js",
        "/** @attr {string} label */\nexport class TickList extends HTMLElement {\n  connectedCallback() { setInterval(() => {}, 3000) }\n}\ncustomElements.define('tick-list', TickList)\n",
    );
    assert_eq!(only(&studio, &["tick-list.js"])["findings"][0]["rule"], "render/leaves-nothing");
}

/// Props that are declared as choices go together; what breaks within one of them is found.
#[test]
fn props_that_go_together_are_passed_together() {
    let types = "type One = { kind: 'one'; value: number }\ntype Many = { kind: 'many'; value: number[]; most?: number }\ntype Props = (One | Many) & { label?: string }\n";
    let react = |all: &str| {
        format!(
            "import React from 'react'\n{types}export function Dial(props: Props) {{\n  if (props.kind === 'many') return <ul aria-label={{props.label}}>{{props.value.slice({all}).map((v) => <li key={{v}}>{{v}}</li>)}}</ul>\n  \
             return <b title={{props.label}}>{{props.value.toFixed(1)}}</b>\n}}\n"
        )
    };
    let vue = format!(
        "<script setup lang=\"ts\">\n{types}const props = defineProps<Props>()\n</script>\n<template><ul v-if=\"props.kind === 'many'\" :aria-label=\"label\"><li v-for=\"v in props.value.slice(0, props.most)\" :key=\"v\">{{{{ v }}}}</li></ul>\
         <b v-else :title=\"label\">{{{{ props.value.toFixed(1) }}}}</b></template>\n"
    );
    let svelte = format!(
        "<script lang=\"ts\">\n{types}let props: Props = $props()\n</script>\n{{#if props.kind === 'many'}}<ul aria-label={{props.label}}>{{#each props.value.slice(0, props.most) as v}}<li>{{v}}</li>{{/each}}</ul>\
         {{:else}}<b title={{props.label}}>{{props.value.toFixed(1)}}</b>{{/if}}\n"
    );
    let studio = Studio::new().with("Dial.tsx", react("0, props.most")).with("Dial.vue", vue).with("Dial.svelte", svelte);
    for file in ["Dial.tsx", "Dial.vue", "Dial.svelte"] {
        let component = only(&studio, &[file]);
        assert_eq!(component["findings"], serde_json::json!([]), "{file}: {component:#}");
        assert!(component["combinations"].as_u64().is_some_and(|n| n > 12), "{file}: {component:#}");
    }
    let studio = Studio::new().with("Dial.tsx", react("0, props.most!.valueOf()"));
    let finding = &only(&studio, &["Dial.tsx"])["findings"][0];
    assert_eq!(finding["rule"], "render/succeeds", "{finding:#}");
    assert!(finding["combination"].as_str().is_some_and(|c| c.contains("\"many\"") && !c.contains("most")), "{finding:#}");
}

/// HTML §4.13.2: a constructor gives no attributes. What is made of a page's HTML works all the same, and is judged.
#[test]
fn an_element_whose_constructor_sets_attributes_is_told_and_judged() {
    let source = |set: &str| {
        format!(
            "export class KilnLamp extends HTMLElement {{\n  static observedAttributes = ['glow']\n  constructor() {{ super(); {set} }}\n  connectedCallback() {{ this.show() }}\n  \
             attributeChangedCallback() {{ this.show() }}\n  show() {{ this.textContent = this.getAttribute('glow') ?? 'dark' }}\n}}\ncustomElements.define('kiln-lamp', KilnLamp)\n"
        )
    };
    let component = only(&Studio::new().with("lamp.js", source("this.setAttribute('role', 'img')")), &["lamp.js"]);
    let findings = component["findings"].as_array().expect("a list");
    assert_eq!(findings.len(), 1, "{component:#}");
    assert_eq!(findings[0]["rule"], "render/quiet");
    assert!(findings[0]["actual"].as_str().is_some_and(|a| a.contains("`document.createElement('kiln-lamp')` fails")), "{component:#}");
    let live = component["laws"].as_array().expect("laws").iter().find(|law| law["law"] == "prop/live").expect("it is asked");
    assert!(live["checked"].as_u64().is_some_and(|n| n > 0), "{component:#}");
    assert_eq!(only(&Studio::new().with("lamp.js", source("")), &["lamp.js"])["verdict"], "holds");
}

#[test]
fn what_an_element_sets_by_its_content_and_a_callback_that_is_refused_are_no_faults() {
    let chip = "export class KilnChip extends HTMLElement {\n  #icon = false\n  constructor() {\n    super()\n    this.attachShadow({ mode: 'open' }).innerHTML = '<p></p><slot name=\"icon\"></slot>'\n    \
                const slot = this.shadowRoot.querySelector('slot')\n    slot.addEventListener('slotchange', () => { this.hasIcon = slot.assignedNodes().length > 0 })\n  }\n  \
                /** @type {boolean} */\n  get hasIcon() { return this.#icon }\n  set hasIcon(icon) { this.#icon = Boolean(icon); this.shadowRoot.querySelector('p').className = icon ? 'with' : '' }\n}\n\
                customElements.define('kiln-chip', KilnChip)\n";
    let component = only(&Studio::new().with("chip.js", chip), &["chip.js"]);
    let rules: Vec<_> = component["findings"].as_array().expect("a list").iter().map(|f| f["rule"].clone()).collect();
    assert!(!rules.contains(&"slot/live".into()), "{component:#}");
    let sign = "import React from 'react'\nexport function Sign(props: { label?: string; makeStyles?: () => void }) {\n  \
                if (props.makeStyles) console.warn('Manually passing the \"makeStyles\" property is not allowed')\n  return <b>{props.label}</b>\n}\n";
    let component = only(&Studio::new().with("Sign.tsx", sign), &["Sign.tsx"]);
    assert_eq!(component["findings"], serde_json::json!([]), "{component:#}");
}

#[test]
fn one_root_of_many_findings_is_told_once() {
    // Whatever changes, the id is lost: the changed attribute is no part of the difference.
    let props = ["a", "b", "c", "d", "e", "f", "g", "h", "i"];
    let sign = format!(
        "<script lang=\"ts\">\n  import Board from './Board.svelte'\n  let {{ {} }}: {{ {} }} = $props()\n  let given = $derived({{ mark: [{}].join(' ') }})\n</script>\n\n<Board {{...given}} />\n",
        props.join(", "),
        props.map(|p| format!("{p}?: 'x{p}' | 'y{p}'")).join("; "),
        props.join(", "),
    );
    let board = "<script lang=\"ts\">\n  let { id = $bindable(), mark }: { id?: string; mark?: string } = $props()\n  if (!id) id = 'sign'\n</script>\n\n<p {id} class={mark}>Sign</p>\n";
    let component = only(&Studio::new().with("Sign.svelte", &sign).with("Board.svelte", board), &["Sign.svelte"]);
    let findings = component["findings"].as_array().expect("a list");
    let told: Vec<&str> = findings.iter().filter_map(|f| f["message"].as_str()).collect();
    assert_eq!(told.len(), 1, "{told:#?}");
    assert!(told[0].contains("(the same of `b`") && told[0].ends_with("more)"), "{}", told[0]);
}

#[test]
fn a_slot_may_have_the_name_of_a_prop() {
    let studio = Studio::new().with(
        "Panel.svelte",
        "<script>\n  /** @type {string | undefined} */\n  export let header = undefined\n</script>\n\n<section>\n  {#if header}<h2>{header}</h2>{/if}\n  {#if $$slots.header}<div><slot name=\"header\" /></div>{/if}\n</section>\n",
    );
    let component = only(&studio, &["Panel.svelte"]);
    assert_eq!(component["findings"], serde_json::json!([]), "{component:#}");
}

#[test]
fn for_is_one_id() {
    let studio = Studio::new().with(
        "Field.vue",
        "<script setup lang=\"ts\">\ndefineProps<{ fieldId: string; tall?: boolean }>()\n</script>\n<template><div :class=\"{ tall }\"><label :for=\"'cone ' + fieldId\">Cone</label><input :id=\"'cone ' + fieldId\" aria-label=\"Cone\"></div></template>\n",
    );
    let component = only(&studio, &["Field.vue"]);
    assert_eq!(component["findings"], serde_json::json!([]), "{component:#}");
}

#[test]
fn a_variable_types_what_is_made_by_a_call() {
    let studio = Studio::new().with(
        "Shelves.tsx",
        "import * as React from 'react'\ninterface Props { names: string[]; wide?: boolean }\nexport const Shelves: React.FC<Props> = React.forwardRef<HTMLUListElement>((props: any, ref) => (\n  <ul ref={ref} className={props.wide ? 'wide' : 'narrow'}>{props.names.map((n: string) => <li key={n}>{n}</li>)}</ul>\n))\nexport const Short: React.FC<Props> = React.memo((props) => <p>{props.names.length}</p>)\n",
    );
    let results = studio.results(&["Shelves.tsx"]);
    for component in results["components"].as_array().expect("a list") {
        assert_eq!(component["verdict"], "holds", "{component:#}");
        assert!(component["combinations"].as_u64().is_some_and(|n| n > 3), "{component:#}");
    }
}

#[test]
fn a_callback_is_an_event_whatever_it_is_called() {
    let studio = Studio::new()
        .with(
            "Counter.tsx",
            "export function Counter({ countUp, label }: { countUp: (by: number) => void; label: (n: number) => string }) {\n  return <button onClick={() => countUp(1)}>{label(1)}</button>\n}\n",
        )
        .with(
            "Counter.contract.yaml",
            "component: ./Counter.tsx#Counter\nprops:\n  label: [{ $js: \"(n) => 'by ' + n\" }]\nclauses:\n  - clause: counts up by one\n    do:\n      - press: button\n    expect:\n      - emitted: countUp\n        with: 1\n",
        );
    let component = only(&studio, &["Counter.tsx"]);
    assert_eq!(component["verdict"], "holds", "{component:#}");
    assert_eq!(component["clauses"][0]["checked"], 1, "{component:#}");
}

#[test]
fn a_tsconfig_that_cannot_be_read_is_not_the_end() {
    let studio = Studio::new()
        .with("tsconfig.json", "{ \"extends\": \"@made-up/config/base.json\" }")
        .with("Sign.tsx", "import { useState } from 'react'\nexport default function Sign() {\n  const [text] = useState('open')\n  return <p>{text}</p>\n}\n");
    let component = only(&studio, &["Sign.tsx"]);
    assert_eq!(component["verdict"], "holds", "{component:#}");
}

#[test]
fn a_part_that_misses_its_parent_cannot_be_judged_alone() {
    let studio = Studio::new()
        .with(
            "Shelf.tsx",
            "import { createContext, useContext } from 'react'\nconst Kiln = createContext<{ heat: number } | null>(null)\nexport function Shelf({ label }: { label: string }) {\n  const kiln = useContext(Kiln)\n  if (!kiln) throw new Error('Shelf must be used within a Kiln')\n  return <p>{label} {kiln.heat}</p>\n}\n",
        )
        .with("Tile.vue", "<script setup lang=\"ts\">\nimport { inject } from 'vue'\ndefineProps<{ label: string }>()\nconst kiln = inject('kiln')\n</script>\n<template><p>{{ label }} {{ kiln }}</p></template>\n");
    let shelf = only(&studio, &["Shelf.tsx"]);
    assert_eq!(shelf["verdict"], "unjudged", "{shelf:#}");
    let message = shelf["reason"]["message"].as_str().expect("text");
    assert!(message.contains("cannot be judged alone: Error: Shelf must be used within a Kiln") && message.contains("`wrap`"), "{message}");
    let tile = only(&studio, &["Tile.vue"]);
    assert_eq!(tile["verdict"], "holds", "what only warns is judged: {tile:#}");
    assert!(
        tile["notes"][0].as_str().is_some_and(|n| n.contains("it misses something around it: injection \"kiln\" not found")),
        "{tile:#}"
    );
}

#[test]
fn what_is_read_only_reports_no_change_and_a_law_that_saw_nothing_has_no_verdict() {
    let tick = |guard: &str| {
        format!(
            "<script>\n  export let on = false\n  export let readonly = false\n</script>\n<button role=\"switch\" aria-checked={{on}} on:click={{() => {{ {guard}on = !on }}}}>Vent</button>\n"
        )
    };
    let sound = Studio::new().with("Tick.svelte", tick("if (!readonly) "));
    let component = only(&sound, &["Tick.svelte"]);
    assert_eq!(component["findings"], serde_json::json!([]), "{component:#}");
    let laws = component["laws"].as_array().expect("a list");
    let of = |name: &str| laws.iter().find(|l| l["law"] == name).unwrap_or_else(|| panic!("{name}"));
    assert_eq!((&of("event/inert")["verdict"], of("event/inert")["checked"].as_u64() > Some(0)), (&serde_json::json!("holds"), true));
    assert_eq!(of("list/identity")["verdict"], "unjudged", "there is no list");
    assert_eq!(component["coverage"]["props"], serde_json::json!({ "met": 2, "of": 2 }));
    let flawed = only(&sound.with("Tick.svelte", tick("")), &["Tick.svelte"]);
    assert_eq!(flawed["findings"][0]["rule"], "event/inert", "{flawed:#}");
}

#[test]
fn made_up_texts_are_of_their_kind_and_what_a_page_refuses_is_no_fault() {
    let studio = Studio::new()
        .with(
            "Title.svelte",
            "<script lang=\"ts\">\n  let { as = 'h2', part = 'x', price, locale = 'en' }: { as?: string; part?: string; price: number; locale?: string } = $props()\n</script>\n<svelte:element this={as}><svelte:element this={'x-' + part}>{new Intl.NumberFormat(locale).format(price)}</svelte:element></svelte:element>\n",
        );
    let component = only(&studio, &["Title.svelte"]);
    let rules: Vec<&str> = component["findings"].as_array().expect("a list").iter().filter_map(|f| f["rule"].as_str()).collect();
    assert!(!rules.contains(&"render/succeeds"), "{component:#}");
}

#[test]
fn what_refuses_to_be_changed_or_filled_is_not_broken() {
    let studio = Studio::new()
        .with(
            "Rack.tsx",
            "import { useRef } from 'react'\nexport function Rack({ rows = 2 }: { rows?: number }) {\n  const first = useRef(rows)\n  if (first.current !== rows) throw new Error('You must not change the number of rows.')\n  return <p>{rows}</p>\n}\n",
        )
        .with(
            "Pick.tsx",
            "import type { ReactNode } from 'react'\nexport function Pick({ children }: { children?: ReactNode }) {\n  return <select aria-label=\"Glaze\">{children}</select>\n}\n",
        )
        .with("Cell.tsx", "export function Cell({ glaze }: { glaze: string }) {\n  return <td>{glaze}</td>\n}\n")
        .with(
            "Faded.tsx",
            "export function Faded({ heat = 1, glaze = 'ash' }: { heat?: number; glaze?: string }) {\n  if (heat > 100) throw undefined!.x\n  return <p>{heat} {glaze}</p>\n}\n",
        );
    let results = studio.results(&["Rack.tsx", "Pick.tsx", "Cell.tsx", "Faded.tsx"]);
    let findings = |name: &str| {
        let all = results["components"].as_array().expect("a list");
        let found = all.iter().find(|c| c["component"].as_str().is_some_and(|n| n.contains(name))).expect("judged");
        found["findings"].as_array().expect("a list").iter().map(|f| f["rule"].clone()).collect::<Vec<_>>()
    };
    for name in ["Rack", "Pick", "Cell"] {
        assert_eq!(findings(name), Vec::<serde_json::Value>::new(), "{name}: {results:#}");
    }
    assert_eq!(findings("Faded"), ["render/succeeds"], "a fault beside them is told");
}

#[test]
fn what_needs_a_context_in_some_combinations_is_judged_in_the_others() {
    let studio = Studio::new().with(
        "Slide.tsx",
        "import { createContext, useContext } from 'react'\nconst Slides = createContext({} as { show: (n: number) => void })\nexport function Slide({ active = false, label }: { active?: boolean; label: string }) {\n  const { show } = useContext(Slides)\n  if (active) {\n    show(1)\n  }\n  return <p>{label}</p>\n}\n",
    );
    let component = only(&studio, &["Slide.tsx"]);
    assert_eq!(component["findings"], serde_json::json!([]), "{component:#}");
    let notes = component["notes"].to_string();
    assert!(notes.contains("it misses something around it"), "{notes}");
}

#[test]
fn a_bare_field_is_named_by_the_label_that_it_is_put_in() {
    let studio = Studio::new()
        .with("Heat.tsx", "export function Heat({ max = 9 }: { max?: number }) {\n  return <input type=\"number\" max={max} />\n}\n")
        .with(
            "Glaze.tsx",
            "export function Glaze({ max = 9 }: { max?: number }) {\n  return <p>Glaze <input type=\"number\" max={max} /></p>\n}\n",
        );
    let bare = only(&studio, &["Heat.tsx"]);
    assert_eq!(bare["findings"], serde_json::json!([]), "{bare:#}");
    let beside_text = only(&studio, &["Glaze.tsx"]);
    assert_eq!(beside_text["findings"][0]["rule"], "access/named", "{beside_text:#}");
}

#[test]
fn components_of_plain_scripts_are_judged() {
    let studio = Studio::new()
        .with(
            "Lid.js",
            "import { h } from 'vue'\nimport { make } from './make.js'\nexport default make({ props: { heat: Number }, setup: (props) => () => h('p', props.heat) })\n",
        )
        .with("make.js", "export const make = (options) => options\n")
        .with("Tag.js", "import React from 'react'\nexport const Tag = ({ text = 'mug' }) => <b>{text}</b>\n");
    let results = studio.results(&["."]);
    let verdicts: Vec<_> = results["components"].as_array().expect("a list").iter().map(|c| c["verdict"].clone()).collect();
    assert_eq!(verdicts, ["holds", "holds"], "{results:#}");
}

#[test]
fn one_component_of_a_file_is_named_by_its_export() {
    let studio = Studio::new().with(
        "Kiln.tsx",
        "export function Dial({ heat }: { heat: number }) {\n  return <output>{heat}</output>\n}\nexport function Sign() {\n  return <b>Kiln</b>\n}\n",
    );
    let dial = only(&studio, &["Kiln.tsx#Dial"]);
    assert_eq!((&dial["component"], &dial["verdict"]), (&"Kiln.tsx#Dial".into(), &"holds".into()), "{dial:#}");
    assert_eq!(studio.results(&["Kiln.tsx#Dial", "Kiln.tsx"])["components"].as_array().map(Vec::len), Some(2));
    let run = studio.run(&["survey", "Kiln.tsx#Sign"]);
    assert!(run.code == 0 && run.out.contains("Sign") && !run.out.contains("Dial"), "{}", run.out);
    let run = studio.run(&["check", "Kiln.tsx#Door"]);
    assert!(run.code == 2 && run.err.contains("`Kiln.tsx` exports no component `Door`; it has `Dial`, `Sign`"), "{}", run.err);
    let run = studio.run(&["check", "Kilm.tsx#Dial"]);
    assert!(run.code == 2 && run.err.contains("there is no file or folder `Kilm.tsx#Dial`"), "{}", run.err);
}

#[test]
fn what_asks_for_its_surroundings_or_advises_is_not_broken() {
    let studio = Studio::new()
        .with("context.js", "import { createContext } from 'svelte'\nconst [use, set] = createContext()\nexport const KilnContext = { consume() { try { return use() } catch { return undefined } }, set }\n")
        .with("Shelf.svelte", "<script>\n  import { KilnContext } from './context.js'\n  const kiln = KilnContext.consume()\n  const heat = $derived(kiln().heat)\n</script>\n<p>{heat}</p>\n")
        .with(
            "Vent.vue",
            "<script setup lang=\"ts\">\nconst props = defineProps<{ label?: string; wide?: boolean }>()\nif (props.wide && props.label) console.warn('label has no effect on a wide vent')\n</script>\n<template><p>{{ wide ? '' : label }}</p></template>\n",
        )
        .with("sized.js", "import { defineComponent } from 'vue'\nexport default defineComponent({ props: { size: String }, computed: { wide() { return this.size === 'l' } } })\n");
    let shelf = only(&studio, &["Shelf.svelte"]);
    assert!(shelf["verdict"] == "unjudged" && shelf["reason"]["message"].as_str().is_some_and(|m| m.contains("`wrap`")), "{shelf:#}");
    assert_eq!(only(&studio, &["Vent.vue"])["verdict"], "holds");
    assert_eq!(studio.results(&["."])["components"].as_array().map(Vec::len), Some(2), "what is mixed in is no component");
}

#[test]
fn what_the_options_of_vue_ask_for_refuse_and_mix_in_is_no_fault() {
    let hours = "<script>\nexport default {\n  props: { incrementHours: { type: Number, default: 1 } },\n  computed: {\n    hours() {\n      if (!this.incrementHours || this.incrementHours < 1) throw new Error('Hour increment cannot be null or less than 1.')\n      return this.incrementHours\n    },\n  },\n}\n</script>\n<template><p>{{ hours }}</p></template>\n";
    let item = "<script>\nexport default {\n  inject: { shelf: { from: 'shelf', default: undefined } },\n  props: { divider: Boolean },\n  computed: {\n    full() {\n      return this.shelf.full\n    },\n  },\n}\n</script>\n<template><hr v-if=\"divider\"><p v-else :class=\"{ full }\">Mug</p></template>\n";
    let ring = "<script setup>\nconst hue = defineModel({ type: Number, default: 0 })\nconst turn = (by) => { hue.value = (hue.value + by + 360) % 360 }\n</script>\n<template><div role=\"slider\" tabindex=\"0\" aria-label=\"Hue\" aria-valuemin=\"0\" aria-valuemax=\"359\" :aria-valuenow=\"hue\" @keydown.up=\"turn(1)\" @keydown.down=\"turn(-1)\">{{ hue }}</div></template>\n";
    let mixed_in = "import { defineComponent } from 'vue'\nimport Warm from './Warm'\nexport default defineComponent({ mixins: [Warm], props: { cone: Number } })\n";
    let studio = Studio::new().with("Hours.vue", hours).with("Item.vue", item).with("Ring.vue", ring).with("Cold.ts", mixed_in);
    let results = studio.results(&["."]);
    let components = results["components"].as_array().expect("components");
    let names: Vec<&str> = components.iter().filter_map(|c| c["component"].as_str()).collect();
    assert_eq!(names, ["Hours.vue", "Item.vue", "Ring.vue"], "what is mixed in is no component");
    for component in components {
        assert_eq!(component["findings"], serde_json::json!([]), "{component:#}");
    }
    let notes = components[1]["notes"].to_string();
    assert!(notes.contains("it misses something around it"), "{notes}");
}

#[test]
fn what_a_react_component_leaves_to_its_element_to_its_content_and_to_its_parent_is_no_fault() {
    let studio = Studio::new()
        // The handler that goes with `value` is among the attributes of the element.
        .with("Field.tsx", "import * as React from 'react'\ninterface FieldProps extends React.ComponentPropsWithoutRef<'input'> { value?: string; defaultValue?: string }\nexport function Field({ ...rest }: FieldProps) {\n  return <input aria-label=\"Glaze\" {...rest} />\n}\n")
        // It says itself what it asks for.
        .with("Only.tsx", "import * as React from 'react'\nexport function Only({ children }: { children?: React.ReactNode }) {\n  if (!React.Children.count(children)) throw new Error('Expected a single child, but got none')\n  return <div>{children}</div>\n}\n")
        // Asked for anew for each shelf.
        .with("Shelves.tsx", "import * as React from 'react'\nexport function Shelves({ label }: { label?: (shelf: number) => React.ReactNode }) {\n  return <ol>{[1, 2, 3, 4].map((shelf) => <li key={shelf} title={shelf > 2 ? 'high' : undefined}>{label?.(shelf) ?? shelf}</li>)}</ol>\n}\n")
        // What the parent passed comes back as it was.
        .with("Pieces.tsx", "import * as React from 'react'\ninterface Piece { id: string; parts?: Piece[]; maker: { name: string; studio: { town: string } } }\nexport function Pieces({ pieces, onPick }: { pieces: Piece[]; onPick?: (piece: Piece) => void }) {\n  return <ul>{pieces.map((piece) => <li key={piece.id}><button onClick={() => onPick?.(piece)}>{piece.id}</button></li>)}</ul>\n}\n")
        // A mark with an id of React's in it.
        .with("Marked.tsx", "import * as React from 'react'\nexport function Marked({ label = 'Kiln' }: { label?: string }) {\n  return <p data-part={`Marked-${React.useId()}`}>{label}</p>\n}\n");
    let results = studio.results(&["."]);
    for component in results["components"].as_array().expect("components") {
        assert_eq!((&component["findings"], &component["reason"]), (&serde_json::json!([]), &serde_json::Value::Null), "{component:#}");
    }
    assert_eq!(results["components"].as_array().map(Vec::len), Some(5));
}

#[test]
fn a_component_without_types_is_passed_what_it_reads() {
    let studio = Studio::new()
        .with(
            "Card.vue",
            "<script setup>\ndefineProps(['potter', 'pieces', 'isOpen', 'prices'])\ndefineEmits(['pick'])\n</script>\n<template>\n  <section v-if=\"isOpen\">\n    <h2>{{ potter.name }}</h2><p>{{ potter.studio.town }}</p>\n    <ul><li v-for=\"piece in pieces\" :key=\"piece.id\"><button @click=\"$emit('pick', piece.id)\">{{ piece.glaze.toUpperCase() }}</button></li></ul>\n    <b>{{ prices.currency }}</b>\n  </section>\n</template>\n",
        )
        .with(
            "Profile.jsx",
            "export default function Profile({ potter, onSave, shelves }) {\n  return <section><h2>{potter.name}</h2><p>{potter.studio.town}</p>{shelves.map((s) => <b key={s.id}>{s.height.toFixed(1)}</b>)}<button onClick={() => onSave(potter.id)}>Save</button></section>\n}\n",
        )
        .with("Row.svelte", "<script>\n  export let potter\n  export let rows = []\n</script>\n<h2>{potter.name} {potter.studio.town}</h2>\n{#each rows as row}<p>{row.text}</p>{/each}\n")
        .with("Sign.vue", "<script setup>\ndefineProps(['shown'])\n</script>\n<template><p>{{ shown?.text }}</p></template>\n");
    let results = studio.results(&["."]);
    let all = results["components"].as_array().expect("components");
    assert_eq!(all.len(), 4);
    for component in all {
        assert_eq!(component["verdict"], "holds", "{component:#}");
    }
    let of = |name: &str| all.iter().find(|c| c["component"].as_str().is_some_and(|n| n.contains(name))).expect("judged");
    // Nothing of it is only ever left out, and what it does not do without is told.
    let notes = of("Card")["notes"].to_string();
    assert!(!notes.contains("never passed") && notes.contains("`potter`, `prices` are always passed"), "{notes}");
    assert!(of("Profile")["notes"].to_string().contains("`potter`, `shelves` are always passed"), "{:#}", of("Profile"));
    // What may be left out is left out too.
    assert!(!of("Sign")["notes"].to_string().contains("always passed"), "{:#}", of("Sign"));
    let shown = studio.run(&["render", "Profile.jsx"]);
    assert!(shown.out.contains("<h2>mug</h2>") && shown.out.contains("<b>1.0</b>"), "{}{}", shown.out, shown.err);
}

#[test]
fn what_is_warned_to_be_missing_explains_what_is_thrown_for_want_of_it() {
    // What asks for it is a composable of another file, and not every combination gets there.
    let studio = Studio::new()
        .with("use-kiln.js", "import { inject } from 'vue'\nexport const useKiln = () => inject('_kiln_')\n")
        .with("Always.vue", "<script setup>\nimport { useKiln } from './use-kiln'\nconst kiln = useKiln()\n</script>\n<template><p>{{ kiln.heat.now }}</p></template>\n")
        .with(
            "Mark.vue",
            "<script setup>\nimport { useKiln } from './use-kiln'\nconst heat = useKiln().heat\n</script>\n<template><i>{{ heat }}</i></template>\n",
        )
        .with(
            "Often.vue",
            "<script setup>\nimport Mark from './Mark.vue'\ndefineProps({ marked: Boolean })\n</script>\n<template><p>Kiln <Mark v-if=\"marked\" /></p></template>\n",
        );
    let results = studio.results(&["Always.vue", "Often.vue"]);
    let all = results["components"].as_array().expect("components");
    assert_eq!(all[0]["verdict"], "unjudged", "{:#}", all[0]);
    assert!(all[0]["reason"]["message"].as_str().is_some_and(|m| m.contains("_kiln_") && m.contains("`wrap`")), "{:#}", all[0]);
    assert_eq!(all[1]["findings"], serde_json::json!([]), "{:#}", all[1]);
    assert!(all[1]["notes"].to_string().contains("_kiln_"), "{:#}", all[1]);
}

#[test]
fn what_an_instance_draws_by_chance_and_what_nobody_sees_is_no_fault() {
    let studio = Studio::new()
        // A group of radio buttons has a name that no other has.
        .with("Choice.vue", "<script setup>\nconst name = `choice-${Math.random().toString(36).slice(2, 11)}`\ndefineProps({ label: { type: String, default: 'Ash' } })\n</script>\n<template><label>{{ label }}<input type=\"radio\" :name=\"name\"></label></template>\n")
        // What is shown by style alone has its fallback all the same.
        .with("Notice.vue", "<script setup>\ndefineProps({ shown: Boolean })\n</script>\n<template><p v-show=\"shown\"><slot name=\"sign\">Hot kiln</slot></p></template>\n")
        // A number between bounds, whatever else it may hold before one was typed.
        .with("Heat.vue", "<script setup>\nconst props = defineProps({ modelValue: { type: [String, Number], default: '' }, min: { type: Number, default: 0 }, max: { type: Number, default: 100 } })\nconst emit = defineEmits(['update:modelValue'])\n</script>\n<template><input type=\"number\" aria-label=\"Heat\" :min=\"props.min\" :max=\"props.max\" :value=\"modelValue\" @change=\"emit('update:modelValue', Number($event.target.value))\"></template>\n")
        // What it shows moves on for a while, whatever is passed meanwhile.
        .with("Rise.vue", "<script setup>\nimport { onMounted, ref } from 'vue'\ndefineProps({ label: { type: String, default: 'Ash' } })\nconst height = ref(0)\nonMounted(() => {\n  const start = performance.now()\n  const rise = (now) => {\n    height.value = Math.min(100, (now - start) / 9)\n    if (height.value < 100) requestAnimationFrame(rise)\n  }\n  requestAnimationFrame(rise)\n})\n</script>\n<template><div :style=\"{ height: `${height}px` }\">{{ label }}</div></template>\n")
        // A child refuses an icon of this name, which is the plan's own.
        .with("Icon.vue", "<script setup>\ndefineProps({ sign: { type: String, required: true, validator: (sign) => ['flame', 'vent'].includes(sign) } })\n</script>\n<template><i>{{ sign }}</i></template>\n")
        .with("Sign.vue", "<script setup>\nimport Icon from './Icon.vue'\ndefineProps({ icon: String, label: { type: String, default: 'Kiln' } })\n</script>\n<template><p><Icon v-if=\"icon\" :sign=\"icon\" />{{ label }}</p></template>\n")
        // A field for files takes no text.
        .with("Field.vue", "<script setup>\ndefineProps({ type: { type: String, default: 'text', validator: (type) => ['text', 'file'].includes(type) }, text: { type: String, default: '' } })\n</script>\n<template><input aria-label=\"Glaze\" :type=\"type\" :value=\"text\"></template>\n")
        // One element and no more, as the framework itself says.
        .with("Fade.vue", "<template><Transition name=\"fade\"><slot /></Transition></template>\n");
    let results = studio.results(&["."]);
    assert_hold(&results, &["Choice.vue", "Fade.vue", "Field.vue", "Heat.vue", "Icon.vue", "Notice.vue", "Rise.vue", "Sign.vue"]);
}

#[test]
fn a_report_may_hold_the_value_beside_other_things() {
    let studio = Studio::new()
        .with("Token.tsx", "export function Token({ value, onChange }: { value: string; onChange: (change: { value: string }) => void }) {\n  return <input aria-label=\"Token\" value={value} onChange={(e) => onChange({ value: e.target.value })} />\n}\n")
        .with("Pick.tsx", "interface Glaze { value: string; label: string }\nconst GLAZES: Glaze[] = [{ value: 'ash', label: 'Ash' }, { value: 'tin', label: 'Tin' }]\nexport function Pick({ value, onChange }: { value?: Glaze | null; onChange?: (glaze: Glaze) => void }) {\n  return <div><p>{value ? value.label.toUpperCase() : 'none'}</p>{GLAZES.map((g) => <button key={g.value} onClick={() => onChange?.(g)}>{g.label}</button>)}</div>\n}\n")
        // Asked for what it gives; and a render function that waits for a ref is no component before something made one of it.
        .with("Tip.tsx", "const named = (render: any, name: string) => { const Made = (props: any) => render(props, undefined); Made.displayName = name; return Made }\nexport function PlainTip({ value = 1, renderTip = (v) => v }: { value?: number; renderTip?: (value: number) => string | number | undefined }, ref: any) {\n  return <output ref={ref}>{renderTip(value)}</output>\n}\nexport const Tip = named(PlainTip, 'Tip')\n");
    let results = studio.results(&["."]);
    assert_hold(&results, &["Pick.tsx#Pick", "Tip.tsx#Tip", "Token.tsx#Token"]);
    // What is chosen is a thing with a field of the same name: the parent is told the thing.
    let shown = studio.run(&["render", "Pick.tsx", "--with", "value=absent", "--do", "press: button \"Ash\""]);
    assert!(shown.out.contains("<p>ASH</p>"), "{}{}", shown.out, shown.err);
}

#[test]
fn what_a_component_itself_hands_to_a_child_that_refuses_it_is_its_own_fault() {
    let studio = Studio::new()
        .with("Icon.vue", "<script setup>\ndefineProps({ sign: { type: String, required: true, validator: (sign) => ['flame', 'vent'].includes(sign) } })\n</script>\n<template><i>{{ sign }}</i></template>\n")
        .with("Sign.vue", "<script setup>\nimport Icon from './Icon.vue'\ndefineProps({ label: { type: String, required: true } })\n</script>\n<template><p><Icon sign=\"smoke\" />{{ label }}</p></template>\n");
    let sign = only(&studio, &["Sign.vue"]);
    assert!(sign["findings"][0]["message"].as_str().is_some_and(|m| m.contains("a validator refuses")), "{sign:#}");
}

/// These components, and no others, were judged, and nothing was found.
fn assert_hold(results: &serde_json::Value, names: &[&str]) {
    let all = results["components"].as_array().expect("components");
    assert_eq!(all.iter().filter_map(|c| c["component"].as_str()).collect::<Vec<_>>(), names);
    for component in all {
        assert_eq!((&component["findings"], &component["verdict"]), (&serde_json::json!([]), &serde_json::json!("holds")), "{component:#}");
    }
}

#[test]
fn what_a_plugin_of_the_build_makes_is_named_with_what_stands_for_it() {
    let eye =
        "<script setup>\nimport Eye from '~icons/kiln/eye'\n</script>\n<template><button aria-label=\"Look\"><Eye /></button></template>\n";
    let studio = Studio::new().with("src/Look.vue", eye).with("src/Far.vue", eye.replace("~icons/kiln/eye", "https://kiln.example/eye.js"));
    let told = studio.run(&["check", "src"]);
    let flat = told.out.split_whitespace().collect::<Vec<_>>().join(" ");
    assert!(flat.contains("`~icons/kiln/eye` is made by the project's build") && flat.contains("`\"~icons/*\" ="), "{}", told.out);
    assert!(flat.contains("lies on the network") && !told.out.contains("npm install"), "{}", told.out);
    let studio = studio
        .with("test/Icon.vue", "<template><svg aria-hidden=\"true\" /></template>\n")
        .with("fidelon.toml", "[alias]\n\"~icons/*\" = \"test/Icon.vue\"\n");
    let run = studio.run(&["check", "src/Look.vue"]);
    assert_eq!(run.code, 0, "{}{}", run.out, run.err);
    let studio = studio.with("fidelon.toml", "[alias]\n\"~icons/*\" = \"test\"\n");
    let run = studio.run(&["check", "src/Look.vue"]);
    assert!(run.code == 2 && run.out.contains("stands for one file"), "{}{}", run.out, run.err);
}

/// Sound components that were told as broken by what the plan made up for them.
#[test]
fn what_the_plan_makes_up_is_no_fault() {
    let vue = |script: &str, template: &str| format!("<script setup lang=\"ts\">\n{script}\n</script>\n<template>{template}</template>\n");
    let studio = Studio::new()
        // A component that is named by a prop is registered by whoever names it.
        .with(
            "NavLink.vue",
            vue(
                "import { computed, resolveComponent } from 'vue'\nconst props = withDefaults(defineProps<{ component?: string; to?: string }>(), { component: 'a', to: '/' })\nconst is = computed(() => (props.component === 'a' ? 'a' : resolveComponent(props.component)))",
                "<component :is=\"is\" :href=\"to\"><slot /></component>",
            ),
        )
        // Required, and with a default that only the type knows of.
        .with("Brand.vue", vue("withDefaults(defineProps<{ name: string; border: boolean }>(), { name: '', border: false })", "<p :class=\"{ border }\">{{ name }}</p>"))
        // More stars than there are.
        .with("Stars.vue", vue("const props = withDefaults(defineProps<{ scale?: number; given?: number }>(), { scale: 5, given: 1 })", "<p><b v-for=\"n in given\" :key=\"n\">*</b><i v-for=\"n in scale - given\" :key=\"n\">.</i></p>"))
        // Names that chance draws, in a mark and in a drawing.
        .with(
            "Ring.vue",
            vue(
                "const signs = '0123456789abcdefghijABCDEFGHIJ'\nconst drawn = Array.from({ length: 21 }, () => signs[Math.floor(Math.random() * 30)]).join('') + 'a1B2'\ndefineProps<{ color?: string }>()",
                "<svg :data-ring=\"drawn\"><linearGradient :id=\"'g' + drawn.slice(0, 3)\" /><circle :stroke=\"`url(#g${drawn.slice(0, 3)})`\" :fill=\"color\" /></svg>",
            ),
        )
        // All props are used by whoever is given the component.
        .with("Crumbs.vue", "<script>\nexport default { props: { separator: String, label: String }, provide() { return { crumbs: this } } }\n</script>\n<template><nav>{{ label }}<slot /></nav></template>\n")
        // A text that is thrown says what may be passed, and so does an error about a number that is out of range.
        .with("Tick.vue", "<script>\nexport default { props: { modelValue: { type: [String, Number, Boolean], default: false } }, emits: ['update:modelValue'], watch: { modelValue(to) { if (to !== true && to !== false) throw 'modelValue should be true or false.' } } }\n</script>\n<template><button role=\"checkbox\" aria-label=\"Fired\" :aria-checked=\"modelValue ? 'true' : 'false'\" @click=\"$emit('update:modelValue', !modelValue)\" /></template>\n")
        .with("Weight.vue", vue("defineProps<{ weight: number; digitsAfter?: number }>()", "<p>{{ weight.toFixed(digitsAfter ?? 1) }}</p>"))
        // What happens every so often does not happen all the time.
        .with("Clock.vue", vue("import { onUnmounted, ref } from 'vue'\nconst props = withDefaults(defineProps<{ interval?: number }>(), { interval: 1000 })\nconst n = ref(0)\nconst timer = setInterval(() => n.value++, props.interval)\nonUnmounted(() => clearInterval(timer))", "<p>{{ n }}</p>"))
        // A name comes of a text or of content; another text is a class.
        .with("Menu.vue", vue("withDefaults(defineProps<{ text?: string; buttonClass?: string; disabled?: boolean }>(), { text: 'Menu' })", "<button type=\"button\" :class=\"[buttonClass, { off: disabled }]\" :disabled=\"disabled\">{{ text }}</button>"));
    let results = studio.results(&["."]);
    for component in results["components"].as_array().expect("components") {
        let rules: Vec<&str> = component["findings"].as_array().expect("findings").iter().filter_map(|f| f["rule"].as_str()).collect();
        // The clock's interval counts at its start alone: that is so, and told.
        let wanted: &[&str] = if component["component"] == "Clock.vue" { &["prop/live"] } else { &[] };
        let live: Vec<&str> = rules.iter().copied().filter(|rule| !wanted.contains(rule)).collect();
        assert!(live.is_empty() && component["verdict"] != "unjudged", "{component:#}");
    }
}

/// What Svelte components do with what is bound to them, and what is made up for types of exactly so many parts.
#[test]
fn what_is_bound_and_written_in_an_effect_comes_to_rest() {
    let studio = Studio::new()
        // Written in an effect, while another prop is left out.
        .with(
            "Search.svelte",
            "<script>\n  let { pots = [], found = $bindable([]), chosen = $bindable(undefined) } = $props()\n  let names = $derived(new Set(chosen ?? []))\n  $effect.pre(() => { found = pots.filter((pot) => !names.has(pot)) })\n</script>\n<p>{found.length} of {pots.length}</p>\n",
        )
        // What is bound is shared, so it may be changed in place.
        .with(
            "Shelf.svelte",
            "<script lang=\"ts\">\n  let { pots = $bindable([]) }: { pots?: { label: string; place?: number }[] } = $props()\n  $effect(() => { pots.forEach((pot, i) => { pot.place = i }) })\n</script>\n{#each pots as pot}<p>{pot.label}</p>{/each}\n",
        )
        // A list of exactly so many.
        .with(
            "Pages.svelte",
            "<script lang=\"ts\">\n  type Page = [title: string, to: string]\n  let { pages }: { pages: Page[] } = $props()\n</script>\n{#each pages as [title, to] (to)}<a href={to}>{title.toUpperCase()}</a>{/each}\n",
        )
        // It says in words of its own what it wants.
        .with(
            "Trail.svelte",
            "<script lang=\"ts\">\n  let { stops }: { stops: string[] } = $props()\n  $effect(() => { if (stops.length < 3) console.warn(`Trail: ${stops.length} stops given, three is the least`) })\n</script>\n{#each stops as stop}<p>{stop}</p>{/each}\n",
        );
    assert_hold(&studio.results(&["."]), &["Pages.svelte", "Search.svelte", "Shelf.svelte", "Trail.svelte"]);
}

/// A moment in a text is one that can be read.
#[test]
fn a_field_that_is_called_so_holds_a_moment() {
    let post = "<script setup lang=\"ts\">\ndefineProps<{ post: { title: string; publishedAt: string } }>()\nconst told = (at: string) => new Intl.DateTimeFormat('en', { timeZone: 'UTC' }).format(new Date(at))\n</script>\n<template><p>{{ post.title }} {{ told(post.publishedAt) }}</p></template>\n";
    assert_hold(&Studio::new().with("Post.vue", post).results(&["."]), &["Post.vue"]);
}

/// A list that lets its parent render each item, and a panel that hands what it knows to its content anew each time.
#[test]
fn what_a_parent_renders_has_the_keys_that_a_parent_gives() {
    let list = "import type { ReactNode } from 'react'\nexport function Pieces({ items, render }: { items: string[]; render: (item: string, index: number) => ReactNode }) {\n  return <div>{items.map(render)}</div>\n}\n";
    let panel = "import { useState, type ReactNode } from 'react'\nexport function Panel({ children }: { children: (panel: { open: boolean; toggle: () => void }) => ReactNode }) {\n  const [open, setOpen] = useState(false)\n  return <section><button type=\"button\" aria-expanded={open} onClick={() => setOpen(!open)}>Kiln</button>{open && <p>Hot</p>}{children({ open, toggle: () => setOpen(!open) })}</section>\n}\n";
    let studio = Studio::new().with("Pieces.tsx", list).with("Panel.tsx", panel);
    assert_hold(&studio.results(&["."]), &["Panel.tsx#Panel", "Pieces.tsx#Pieces"]);
}

/// A Svelte parent hears of a value that it holds already no more than once; a Vue component may call its events by constants.
#[test]
fn what_a_parent_cannot_notice_is_no_fault() {
    let step = "<script>\n  export let value = 1\n  function set(event) { value = event.target.value === '' ? null : Number(event.target.value) }\n</script>\n<input type=\"number\" aria-label=\"Cone\" {value} on:input={set} on:change={set} />\n";
    let card = "<script>\nimport { EVENTS } from './words'\nexport default {}\n</script>\n<script setup>\nconst emit = defineEmits([EVENTS.FIRE])\n</script>\n<template><button type=\"button\" @click=\"emit(EVENTS.FIRE)\">Fire</button></template>\n";
    let stray = card.replace("emit(EVENTS.FIRE)", "emit('cool')");
    let studio = Studio::new()
        .with("Step.svelte", step)
        .with("words.js", "export const EVENTS = { FIRE: 'fire' }\n")
        .with("Card.vue", card)
        .with("Stray.vue", stray);
    let results = studio.results(&["."]);
    let broken = |name: &str| -> Vec<String> {
        let all = results["components"].as_array().expect("a list");
        let component = all.iter().find(|c| c["component"] == name).expect("it was judged");
        component["findings"].as_array().expect("a list").iter().map(|f| f["rule"].as_str().unwrap_or_default().to_owned()).collect()
    };
    assert_eq!((broken("Step.svelte"), broken("Card.vue")), (Vec::new(), Vec::new()));
    assert_eq!(broken("Stray.vue"), ["event/declared"], "what the framework declares is known where the source does not tell");
}

#[test]
fn what_a_package_gives_to_all_templates_is_no_fault_and_a_slip_is_one() {
    let studio = Studio::new()
        .with("package.json", "{ \"dependencies\": { \"vue\": \"3\", \"kiln-router\": \"1\" } }")
        .with("node_modules/kiln-router/package.json", "{ \"name\": \"kiln-router\", \"main\": \"index.js\", \"peerDependencies\": { \"vue\": \"3\" } }")
        .with("node_modules/kiln-router/index.js", "export const RouterLink = {}\nexport const install = (app) => app.component('RouterLink', RouterLink)\n")
        .with("Shelf.vue", "<script setup lang=\"ts\">\ndefineProps<{ label: string }>()\n</script>\n<template><router-link to=\"/mugs\">{{ label }}</router-link></template>\n")
        .with("Page.vue", "<script setup lang=\"ts\">\nimport Shelf from './Shelf.vue'\n</script>\n<template><Shelf label=\"Mugs\" /></template>\n")
        .with("Slip.vue", "<script setup lang=\"ts\">\nimport Shelf from './Shelf.vue'\nvoid Shelf\n</script>\n<template><Shelff label=\"Mugs\" /></template>\n")
        .with("Forgotten.vue", "<template><shelf label=\"Mugs\" /><Shelf label=\"Bowls\" /></template>\n");
    for (file, verdict) in [("Shelf.vue", "holds"), ("Page.vue", "holds"), ("Slip.vue", "broken"), ("Forgotten.vue", "broken")] {
        let component = only(&studio, &[file]);
        assert_eq!(component["verdict"], verdict, "{component:#}");
        let notes: Vec<&str> = component["notes"].as_array().into_iter().flatten().filter_map(|n| n.as_str()).collect();
        let is_told = notes.iter().any(|n| n.contains("`router-link`") && n.contains("`setup`"));
        assert_eq!(is_told, verdict == "holds", "{component:#}");
    }
}

#[test]
fn a_component_whose_content_is_its_parts_cannot_be_judged_without_them() {
    let studio = Studio::new().with(
        "Rack.svelte",
        "<script>\n  import { onMount, setContext } from 'svelte'\n  export let first = 0\n  const shelves = []\n  setContext('rack', { add: (shelf) => shelves.push(shelf) })\n  onMount(() => { shelves[first].light() })\n</script>\n\n<div class=\"rack\"><slot /></div>\n",
    );
    let rack = only(&studio, &["Rack.svelte"]);
    assert_eq!(rack["verdict"], "unjudged", "{rack:#}");
    let message = rack["reason"]["message"].as_str().expect("text");
    assert!(message.contains("it speaks to the parts in its content, and there are none") && message.contains("`slots:`"), "{message}");
}

#[test]
fn texts_that_a_component_tells_apart_are_passed() {
    let studio = Studio::new()
        .with("Tag.svelte", "<script>\n  export let variant = 'plain'\n  const kinds = { plain: { tag: 'p' }, loud: { tag: 'h2' } }\n</script>\n\n<svelte:element this={kinds[variant].tag}>Mug</svelte:element>\n")
        .with("Sign.tsx", "export default function Sign({ tone }: { tone: string }) {\n  return <p>{tone === 'sale' ? 'half price' : tone}</p>\n}\n")
        .with("Heat.svelte", "<script>\n  export let value = null\n</script>\n\n<input type=\"range\" aria-label=\"Heat\" bind:value />\n");
    for file in ["Tag.svelte", "Sign.tsx", "Heat.svelte"] {
        let component = only(&studio, &[file]);
        assert_eq!(component["findings"], serde_json::json!([]), "{component:#}");
    }
    let survey = studio.run(&["survey", "Tag.svelte", "Sign.tsx", "Heat.svelte", "--json", "-"]);
    for told in ["\"loud\"", "\"sale\""] {
        assert!(survey.out.contains(told), "{told}: {}", survey.out);
    }
}

#[test]
fn no_message_names_a_folder_of_the_machine() {
    let studio = Studio::new()
        .with("Lamp.svelte", "<script>\n  export let on = false\n</script>\n\n<p>{on}</p>\n")
        .with("Old.svelte", "<script>\n  import { onMount } from 'svelte'\n  import Lamp from './Lamp.svelte'\n  let place\n  onMount(() => { new Lamp({ target: place }) })\n</script>\n\n<div bind:this={place}></div>\n");
    let old = only(&studio, &["Old.svelte"]);
    let told = old["findings"][0]["actual"].as_str().expect("it throws");
    assert!(told.contains("component_api_invalid_new") && told.contains("instantiate Lamp.svelte"), "{told}");
}

/// Ids of ten signs that are drawn by chance, a control that ends the disabled state itself, a fallback of two buttons, a kind of field that takes
/// any text, a store that a function makes.
#[test]
fn what_components_of_older_svelte_do_on_purpose_is_no_fault() {
    let studio = Studio::new()
        .with("Drawn.svelte", "<script>\nconst signs = 'useandom-26T198340PX75pxJACKVERYMINDBUSHWOLF_GQZbfghjklqvwyzrict'\nconst draw = () => Array.from({ length: 10 }, () => signs[Math.floor(Math.random() * 64)]).join('')\nexport let label = 'Kilns'\nconst menu = draw(), mark = draw()\n</script>\n<button aria-controls={menu} data-mark={mark}>{label}</button>\n")
        .with("Nullable.svelte", "<script>\nexport let value = ''\nexport let disabled = false\n</script>\n<label>Piece <input bind:value {disabled}></label>\n<label><input type=\"checkbox\" bind:checked={disabled} on:change={() => { value = '' }}> None</label>\n")
        .with("Ask.svelte", "<script>\nexport let title = 'Fire it?'\n</script>\n<h2>{title}</h2>\n<footer><slot name=\"answers\"><button>No</button><button>Yes</button></slot></footer>\n")
        .with("Field.svelte", "<script>\nexport let type = 'text'\nexport let value = ''\nconst ready = (field) => field.setSelectionRange(value.length, value.length)\n</script>\n<label>Piece <input bind:value {...{ type }} use:ready></label>\n")
        .with("Tree.svelte", "<script>\nimport { writable } from 'svelte/store'\nexport let expanded = writable([])\nexport let label = 'Shelf'\n</script>\n<p>{label}: {$expanded.length}</p>\n");
    assert_hold(&studio.results(&["."]), &["Ask.svelte", "Drawn.svelte", "Field.svelte", "Nullable.svelte", "Tree.svelte"]);
}

#[test]
fn what_only_a_browser_has_is_no_fault_of_a_component() {
    let studio = Studio::new()
        .with("Store.vue", "<script setup>\nimport { onMounted } from 'vue'\nonMounted(() => { indexedDB.open('kilns') })\n</script>\n<template><p>Kilns</p></template>\n")
        .with("Slip.vue", "<script setup>\nimport { onMounted } from 'vue'\nonMounted(() => { kilnDB.open('kilns') })\n</script>\n<template><p>Kilns</p></template>\n");
    let results = studio.results(&["."]);
    let of =
        |name: &str| results["components"].as_array().expect("all").iter().find(|c| c["component"] == name).expect("it is there").clone();
    let (store, slip) = (of("Store.vue"), of("Slip.vue"));
    assert_eq!(store["verdict"], "unjudged", "{store:#}");
    assert!(
        store["reason"]["message"]
            .as_str()
            .is_some_and(|r| r.contains("there is no `indexedDB` on this stage") && r.contains("--stage browser")),
        "{store:#}"
    );
    assert_eq!(slip["findings"][0]["rule"], "render/succeeds", "{slip:#}");
}

#[test]
fn a_missing_context_that_shows_in_some_combinations_is_told_and_no_fault() {
    let hint = "<script lang=\"ts\">\nimport { getContext } from 'svelte'\nlet { text }: { text: string } = $props()\nif (!getContext('Hints')) throw new Error('Context \"Hints.Provider\" not found')\n</script>\n<i>{text}</i>\n";
    let studio = Studio::new()
        .with("parts/Hint.svelte", hint)
        .with("Piece.svelte", "<script lang=\"ts\">\nimport Hint from './parts/Hint.svelte'\nlet { name, hint }: { name: string, hint?: string } = $props()\n</script>\n<p>{name}{#if hint}<Hint text={hint} />{/if}</p>\n");
    let piece = only(&studio, &["Piece.svelte"]);
    assert_eq!((&piece["verdict"], &piece["findings"]), (&"holds".into(), &serde_json::json!([])), "{piece:#}");
    let mut told = piece["notes"].as_array().expect("notes").iter().filter_map(|n| n.as_str());
    assert!(told.any(|n| n.contains("misses something around it: Error: Context \"Hints.Provider\" not found")), "{piece:#}");
}

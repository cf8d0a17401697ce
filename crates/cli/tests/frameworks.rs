//! Every framework by the program itself: one contract for all of them, and what is peculiar to each.

mod studio;

use serde_json::{Value as Json, json};
use studio::{Studio, kit};

/// An implementation of the dial with the files that belong to it, and a fault: in Fahrenheit a press turns it twice as far.
const DIALS: [(&str, &[&str], &str, &str); 6] = [
    ("vue/KilnDial.vue", &[], "target.value + degrees", "target.value + degrees * (props.unit === 'F' ? 2 : 1)"),
    ("react/KilnDial.tsx", &[], "target + degrees", "target + degrees * (unit === 'F' ? 2 : 1)"),
    ("svelte/KilnDial.svelte", &[], "target + degrees", "target + degrees * (unit === 'F' ? 2 : 1)"),
    (
        "angular/kiln-dial.ts",
        &["angular/kiln-dial.html", "angular/kiln-dial.css"],
        "this.target() + degrees",
        "this.target() + degrees * (this.unit() === 'F' ? 2 : 1)",
    ),
    ("solid/KilnDial.tsx", &["solid/tsconfig.json"], "props.target + degrees", "props.target + degrees * (props.unit === 'F' ? 2 : 1)"),
    ("elements/KilnDial.js", &[], "this.#target + degrees", "this.#target + degrees * (this.unit === 'F' ? 2 : 1)"),
];

fn judged(faulty: impl Fn(usize) -> bool) -> Vec<Json> {
    let mut studio = Studio::new().with("contracts/KilnDial.contract.yaml", kit("contracts/KilnDial.contract.yaml"));
    for (i, (file, beside, sound, fault)) in DIALS.iter().enumerate() {
        let text = kit(file);
        assert!(text.contains(sound), "{file}");
        studio = studio.with(file, if faulty(i) { text.replace(sound, fault) } else { text });
        for file in *beside {
            studio = studio.with(file, kit(file));
        }
    }
    let results = studio.results(&["contracts/KilnDial.contract.yaml"]);
    let named = |component: &Json, file: &str| component["component"].as_str().is_some_and(|c| c.split('#').next() == Some(file));
    let components = results["components"].as_array().cloned().unwrap_or_default();
    DIALS
        .iter()
        .map(|(file, ..)| components.iter().find(|c| named(c, file)).unwrap_or_else(|| panic!("{file}: {results:#}")).clone())
        .collect()
}

#[test]
fn one_contract_judges_six_implementations() {
    for odd in [0, 1] {
        for (i, component) in judged(|i| i % 2 == odd).iter().enumerate() {
            let file = DIALS[i].0;
            if i % 2 != odd {
                assert_eq!(component["verdict"], "holds", "{file}: {:#}", component["findings"]);
                continue;
            }
            let findings = component["findings"].as_array().expect("broken");
            let raised =
                findings.iter().find(|f| f["rule"] == "raising reports the next step").unwrap_or_else(|| panic!("{file}: {findings:#?}"));
            assert_eq!(raised["cause"], json!([{ "prop": "unit", "is": "F" }]), "{file}");
        }
    }
}

#[test]
fn svelte_in_the_form_of_version_4() {
    let vent = r#"<script>
  import { createEventDispatcher, onDestroy } from 'svelte'
  export let label = 'Vent'
  export let open = false
  const dispatch = createEventDispatcher()
  function turn() { open = !open; dispatch('turned', { open }) }
  export function shut() { open = false }
</script>
<button type="button" role="switch" aria-checked={open} on:click={turn} on:focus><slot>{label}</slot></button>
<p><slot name="note" {open}>nothing to note</slot></p>
"#;
    let contract = r#"
component: ./Vent.svelte
props: { label: [Vent], open: [false, true] }
slots:
  default: [absent, "<b>Damper</b>"]
  note: [absent, "<i>${open ? 'draws' : 'rests'}</i>"]
cover: every
exposes: { shut: function }
clauses:
  - clause: a press turns it over and tells both ways
    do:
      - press: role(switch)
    expect:
      - bound: open
        is: ${!open}
      - emitted: turned
        times: 1
        with: { open: "${!open}" }
      - emitted: focus
  - clause: slots take content, hand over and fall back
    expect:
      - text: role(switch)
        is: "${slots.default ? 'Damper' : 'Vent'}"
      - text: p
        is: "${slots.note ? (open ? 'draws' : 'rests') : 'nothing to note'}"
  - clause: the parent's change shows
    do:
      - assign: { open: "${!open}" }
    expect:
      - ticked: role(switch)
        is: ${!open}
  - clause: a member that is exported can be called
    where: open
    do:
      - call: shut
    expect:
      - bound: open
        is: false
"#;
    let run = Studio::new().with("Vent.svelte", vent).with("Vent.contract.yaml", contract).run(&["check"]);
    assert_eq!(run.code, 0, "{}{}", run.out, run.err);
}

#[test]
fn runes_in_modules_contexts_and_components_in_slots() {
    let studio = Studio::new()
        .with("heat.svelte.ts", "export class Heat {\n  degrees: number = $state(600)\n  get hot(): boolean { return this.degrees > 900 }\n}\nexport const heat = new Heat()\n")
        .with("Heat.svelte", "<script lang=\"ts\">\n  import { getContext } from 'svelte'\n  import { Heat } from './heat.svelte'\n  const { unit = getContext<string>('unit') ?? 'C', children } = $props()\n  const heat = new Heat()\n</script>\n<button onclick={() => (heat.degrees += 400)}>{heat.degrees} {unit} {heat.hot ? 'hot' : 'warm'}</button>{@render children?.()}\n")
        .with("Unit.svelte", "<script>\n  import { setContext } from 'svelte'\n  let { unit, children } = $props()\n  setContext('unit', unit)\n</script>\n<main>{@render children()}</main>\n")
        .with("Badge.svelte", "<script>\n  let { name, children } = $props()\n</script>\n<em>{name}: {@render children?.()}</em>\n")
        .with(
            "Heat.contract.yaml",
            "component: ./Heat.svelte\nwrap: [{ component: ./Unit.svelte, props: { unit: F } }]\nuses: { Badge: ./Badge.svelte }\nslots: { default: [\"<Badge name={'cone'}>six</Badge>\"] }\nclauses:\n  - clause: it climbs\n    do:\n      - press: button\n    expect:\n      - text: button\n        is: 1000 F hot\n      - text: em\n        is: \"cone: six\"\n",
        );
    let run = studio.run(&["check", "Heat.contract.yaml"]);
    assert_eq!(run.code, 0, "{}{}", run.out, run.err);
}

#[test]
fn angular_services_queries_templates_and_attribute_selectors() {
    let rack = r#"import { NgTemplateOutlet } from '@angular/common'
import { ChangeDetectionStrategy, Component, ContentChildren, Directive, ElementRef, EventEmitter, Injectable, Input, Output, QueryList, TemplateRef, inject, viewChild } from '@angular/core'

@Injectable({ providedIn: 'root' })
export class Rack {
  readonly name = 'drying rack'
}
@Directive({ selector: '[studioPiece]' })
export class Piece {
  constructor(readonly element: ElementRef<HTMLElement>) {}
}
@Component({
  selector: 'button[studioRack]',
  imports: [NgTemplateOutlet],
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '[class.full]': 'full', '(click)': 'picked.emit(rack.name)' },
  template: `
    <span #label>{{ rack.name }}</span>
    <ng-container [ngTemplateOutlet]="row ?? null" [ngTemplateOutletContext]="{ $implicit: 1, room: 3 }" />
    <ng-content select=".note">no note</ng-content>
  `,
})
export class RackButton {
  protected readonly rack = inject(Rack)
  @Input() full = false
  @Input() row?: TemplateRef<{ room: number }>
  @Output() readonly picked = new EventEmitter<string>()
  private readonly label = viewChild.required<ElementRef<HTMLElement>>('label')
  constructor(private readonly host: ElementRef<HTMLElement>) {}
  width(): string { return this.label().nativeElement.textContent + this.host.nativeElement.localName }
}
"#;
    let contract = r#"
component: ./rack.ts
props: { full: all }
slots:
  row: [absent, "<i>${room} free</i>"]
  note: [absent, "<small>glazed</small>"]
cover: every
exposes: { width: function }
clauses:
  - clause: the host is a button that wears its class
    expect:
      - classes: button
        is: "${full ? ['full'] : []}"
  - clause: it tells what was picked
    do:
      - press: button
    expect:
      - emitted: picked
        with: drying rack
  - clause: a template is handed its context
    where: slots.row !== null
    expect:
      - text: button i
        is: 3 free
  - clause: content goes where it is selected
    expect:
      - text: button
        has: "${slots.note ? 'glazed' : 'no note'}"
  - clause: what it asks of its own view is there
    do:
      - call: width
        gives: drying rackbutton
    expect:
      - warned: nothing
"#;
    let studio = Studio::new().with("rack.ts", rack).with("rack.contract.yaml", contract);
    let run = studio.run(&["check"]);
    assert_eq!(run.code, 0, "{}{}", run.out, run.err);
    let studio = studio.with("rack.ts", rack.replace("template: `", "templateUrl: './gone.html', styles: `"));
    let run = studio.run(&["render", "rack.ts"]);
    assert!(run.code == 2 && run.err.starts_with("fidelon: rack.ts:17:3: `./gone.html`"), "{}{}", run.out, run.err);
}

#[test]
fn solid_signals_stores_context_and_control_flow() {
    let ledger = r#"import { createContext, createMemo, createSignal, For, Show, useContext, type JSX } from 'solid-js'
import { createStore } from 'solid-js/store'

export const Unit = createContext('C')
export function UnitProvider(props: { unit: string; children?: JSX.Element }) {
  return <Unit.Provider value={props.unit}>{props.children}</Unit.Provider>
}
export function Ledger(props: { pieces: { id: number; name: string }[]; empty?: JSX.Element; onPick?: (piece: string) => void }) {
  const unit = useContext(Unit)
  const [picked, pick] = createStore<{ names: string[] }>({ names: [] })
  const [open, setOpen] = createSignal(true)
  const count = createMemo(() => props.pieces.length)
  return (
    <section>
      <button class="count" onClick={() => setOpen(!open())}>{count()} {unit}</button>
      <Show when={open() && count() > 0} fallback={<p class="none">{props.empty ?? 'shut'}</p>}>
        <For each={props.pieces}>
          {(piece) => <button class="piece" onClick={() => { pick('names', picked.names.length, piece.name); props.onPick?.(picked.names.join('+')) }}>{piece.name}</button>}
        </For>
      </Show>
    </section>
  )
}
"#;
    let contract = r#"
component: "./Ledger.tsx#Ledger"
wrap: [{ component: "./Ledger.tsx#UnitProvider", props: { unit: F } }]
props:
  pieces: [[], [{ id: 1, name: Mug }, { id: 2, name: Bowl }]]
slots: { empty: [absent, "<b>none yet</b>"] }
cover: every
clauses:
  - clause: it counts in the unit around it
    expect:
      - text: .count
        is: ${pieces.length} F
  - clause: it falls back
    where: pieces.length === 0
    expect:
      - text: .none
        is: "${slots.empty ? 'none yet' : 'shut'}"
  - clause: picking tells all that were picked
    where: pieces.length === 2
    do:
      - press: button "Bowl"
      - press: button "Mug"
    expect:
      - emitted: pick
        times: 2
        last: Bowl+Mug
  - clause: it follows its pieces
    do:
      - pass: { pieces: [{ id: 3, name: Vase }] }
    expect:
      - order: .piece
        is: [Vase]
"#;
    let studio = Studio::new()
        .with("package.json", r#"{ "name": "studio", "dependencies": { "solid-js": "1" } }"#)
        .with("Ledger.tsx", ledger)
        .with("Ledger.contract.yaml", contract);
    let run = studio.run(&["check", "Ledger.contract.yaml"]);
    assert_eq!(run.code, 0, "{}{}", run.out, run.err);
    let studio = studio.with("Ledger.tsx", ledger.replace("<section>", "<section").as_str());
    let run = studio.run(&["render", "Ledger.tsx"]);
    assert!(run.code == 2 && run.err.contains("Ledger.tsx:15:"), "{}{}", run.out, run.err);
}

#[test]
fn preact_hooks_and_forwarded_refs() {
    let timer = "import { useEffect, useImperativeHandle, useState } from 'preact/hooks'\nimport type { ComponentChildren } from 'preact'\nexport default function Timer({ from = 3, onDone, children }: { from?: number; onDone?: () => void; children?: ComponentChildren }) {\n  const [left, setLeft] = useState(from)\n  useEffect(() => {\n    if (left === 0) { onDone?.(); return }\n    const id = setTimeout(() => setLeft(left - 1), 1000)\n    return () => clearTimeout(id)\n  }, [left])\n  return <p class=\"timer\">{left} {children}</p>\n}\n";
    let contract = "component: ./Timer.tsx\nlaws: { prop/live: { off: true, because: it starts once } }\nprops: { from: [absent, 1] }\nslots: { default: [absent, \"<b>cone</b>\"] }\nclauses:\n  - clause: it counts down and says so once\n    do:\n      - elapse: 5s\n    expect:\n      - emitted: done\n        times: 1\n      - text: p\n        has: \"0\"\n";
    let studio = Studio::new()
        .with("package.json", r#"{ "name": "studio", "dependencies": { "preact": "11" } }"#)
        .with("Timer.tsx", timer)
        .with("Timer.contract.yaml", contract);
    let run = studio.run(&["check", "Timer.contract.yaml"]);
    assert_eq!(run.code, 0, "{}{}", run.out, run.err);
}

#[test]
fn a_compiler_that_is_missing_is_named() {
    let tells = |run: &studio::Run, file: &str, package: &str| {
        assert_eq!(run.code, 2, "{}{}", run.out, run.err);
        let told = run.err.starts_with(&format!("fidelon: {file}:1:1")) && run.err.contains(&format!("npm install {package}"));
        assert!(told, "{}", run.err);
    };
    let svelte = Studio::empty().with("package.json", "{}").with("Vent.svelte", "<p>vent</p>");
    tells(&svelte.run(&["render", "Vent.svelte"]), "Vent.svelte", "svelte");
    let solid = Studio::new().with("Vent.tsx", "import { Show } from 'solid-js'\nexport function Vent() { return <Show when>vent</Show> }");
    std::fs::remove_dir_all(solid.path("node_modules/babel-preset-solid")).expect("was there");
    tells(&solid.run(&["render", "Vent.tsx"]), "Vent.tsx", "babel-preset-solid");
}

#[test]
fn a_page_runs_its_scripts_anew_for_each_case() {
    let page = "<!doctype html>\n<html>\n<head><link rel=\"stylesheet\" href=\"/page.css\"><script src=\"https://cdn.example/npm/glaze@2/dist/glaze.js\" defer></script></head>\n<body>\n<section id=\"rack\" data-room=\"3\"><ol></ol><button onclick=\"place('Mug')\">place</button><p class=\"left\"></p></section>\n<script src=\"rack.js\"></script>\n<script>\n  let placed = 0\n  document.addEventListener('DOMContentLoaded', () => { left.textContent = `${room - placed} left, glazed ${typeof glaze}` })\n</script>\n</body>\n</html>\n";
    let contract = "component: ./rack.html\nprops: { room: [absent, \"5\"] }\nevents: { placed: {} }\nclauses:\n  - clause: it places\n    do:\n      - press: button\n        times: 2\n    expect:\n      - order: li\n        is: [Mug, Mug]\n      - text: .left\n        is: \"${(room ?? 3) - 2} left\"\n      - emitted: placed\n        times: 2\n        last: { piece: Mug }\n  - clause: each case starts from the page\n    expect:\n      - text: .left\n        is: \"${room ?? 3} left, glazed function\"\n      - style: button\n        property: color\n        is: \"rgb(1, 2, 3)\"\n";
    let studio = Studio::new()
        .with("rack.html", page)
        .with("rack.js", "const section = document.getElementById('rack')\nconst left = section.querySelector('.left')\nconst room = Number(section.dataset.room)\nfunction place(piece) {\n  placed++\n  section.querySelector('ol').insertAdjacentHTML('beforeend', `<li>${piece}</li>`)\n  left.textContent = `${room - placed} left`\n  section.dispatchEvent(new CustomEvent('placed', { bubbles: true, detail: { piece } }))\n}\n")
        .with("public/page.css", "button { color: rgb(1, 2, 3) }")
        .with("node_modules/glaze/dist/glaze.js", "function glaze() {}")
        .with("rack.contract.yaml", contract);
    let run = studio.run(&["check", "rack.contract.yaml"]);
    assert_eq!(run.code, 0, "{}{}", run.out, run.err);
    if studio::has_browser() {
        let run = studio.run(&["check", "--stage", "browser", "rack.contract.yaml"]);
        assert_eq!(run.code, 0, "{}{}", run.out, run.err);
    }
    // A page is a component only where somebody says so.
    assert!(!studio.run(&["survey"]).out.contains("rack.html"));
    let studio = studio.with("rack.html", page.replace("glaze@2/dist", "stain@1"));
    let run = studio.run(&["render", "rack.html"]);
    assert!(run.code == 2 && run.err.contains("rack.html:3:") && run.err.contains("npm install stain"), "{}", run.err);
}

#[test]
fn what_the_source_does_not_tell_the_framework_knows() {
    let studio = Studio::new()
        // The props come from elsewhere: no source reader follows a call.
        .with("props.js", "export const named = (more) => ({ label: { type: String, default: 'Kiln' }, ...more })\n")
        .with("Dial.vue", "<script>\nimport { named } from './props'\nexport default {\n  props: named({ open: { type: Boolean, default: false } }),\n  emits: ['update:open'],\n}\n</script>\n<template><button role=\"switch\" :aria-checked=\"open\" @click=\"$emit('update:open', !open)\">{{ label }}</button></template>\n")
        .with("base.js", "export class Base extends HTMLElement {\n  #text = ''\n  get label() { return this.#text }\n  set label(text) { this.#text = text; this.textContent = text }\n}\n")
        .with("sign.js", "import { Base } from './base.js'\nconst make = (C) => class extends C {}\nconst Sign = make(Base)\ncustomElements.define('kiln-sign', Sign)\n");
    let results = studio.results(&["Dial.vue", "sign.js"]);
    let dial = results["components"].as_array().expect("judged").iter().find(|c| c["component"] == "Dial.vue").expect("there");
    // label and open, both told by Vue alone.
    assert!(dial["combinations"].as_u64().expect("a number") > 6, "{dial:#}");
    let reports = dial["laws"].as_array().expect("laws").iter().find(|l| l["law"] == "binding/reports").expect("held");
    assert_eq!((&reports["verdict"], reports["checked"].as_u64().map(|c| c > 0)), (&Json::from("holds"), Some(true)), "{dial:#}");
    let sign = results["components"].as_array().expect("judged").iter().find(|c| c["component"] == "sign.js#kiln-sign").expect("there");
    // That there is a `label` is all that is known of it: its name says what it takes.
    assert!(sign["combinations"].as_u64().expect("a number") > 3, "{sign:#}");
}

//! Every key of the contract language on real components, with an example that holds and one that breaks. The components are one
//! design in two frameworks, held to one contract.

mod studio;

use std::fmt::Write as _;

use studio::Studio;

const VUE: &str = r#"<script setup lang="ts">
import { ref, useTemplateRef } from 'vue'
const props = defineProps<{ label?: string; locked?: boolean; pieces?: string[]; kiln?: { name: string; lit: Date } }>()
const target = defineModel<number>('target', { default: 600 })
const emit = defineEmits<{ fire: [firing: { target: number }]; dropped: [names: string[]] }>()
const field = useTemplateRef('field')
const note = ref('')
const hovered = ref(false)
const seen = ref('')
function raise() { if (props.locked) return; const next = target.value + 10; target.value = next; emit('fire', { target: next }) }
function dropped(files: FileList | null | undefined) { emit('dropped', [...(files ?? [])].map((f) => `${f.name} ${f.type}`)) }
async function ask(method: string) { const r = await fetch('/api/kilns/7?hot=1', { method, body: method === 'POST' ? JSON.stringify({ target: target.value }) : undefined }); seen.value = await r.text() }
function complain() { console.warn('the kiln is cold') }
function fall() { throw new Error('the shelf fell') }
let timer = 0
function later() { timer = window.setTimeout(() => { seen.value = 'later' }, 5000) }
function sized() { seen.value = `${innerWidth}` }
window.addEventListener('resize', sized)
defineExpose({ nudge: (n: number) => (target.value += n), field, reading: 'warm' })
</script>
<template>
  <section class="panel" :class="{ locked }" :aria-label="label ?? 'Panel'" style="color: red" @mouseenter="hovered = true" @mouseleave="hovered = false">
    <button class="raise" :disabled="locked" @click="raise">Raise</button>
    <button class="ask" @click="ask('GET')">Ask</button><button class="post" @click="ask('POST')">Post</button>
    <button class="complain" @click="complain">Complain</button><button class="fall" @click="fall">Fall</button><button class="later" @click="later">Later</button>
    <label>Note <input ref="field" class="note" v-model="note" @keydown.enter="seen = 'enter'" @settle="seen = `settled ${($event as CustomEvent).detail}`"></label>
    <label>Target <input class="target" type="number" :value="target" @input="target = Number(($event.target as HTMLInputElement).value)"></label>
    <label><input type="checkbox" class="glazed" @change="seen = ($event.target as HTMLInputElement).checked ? 'glazed' : 'bare'"> Glazed</label>
    <label>Cone <select class="cone" @change="seen = `cone ${($event.target as HTMLSelectElement).value}`"><option>6</option><option>10</option></select></label>
    <label>Plan <input type="file" accept=".txt" @change="dropped(($event.target as HTMLInputElement).files)"></label>
    <div class="dropzone" @dragover.prevent @drop.prevent="dropped($event.dataTransfer?.files)">Drop here</div>
    <div class="scroller" @scroll="seen = `at ${($event.target as HTMLElement).scrollTop}`"></div>
    <output class="reading">{{ target }} {{ kiln?.name }} {{ kiln ? kiln.lit.getFullYear() : '' }}</output><p class="seen">{{ seen }}</p><p v-show="hovered" class="hint">hint</p>
    <ul><li v-for="p in pieces" :key="p">{{ p }}</li></ul>
    <div class="body"><slot>Nothing here</slot></div><footer><slot name="caption" :room="3">no caption</slot></footer>
  </section>
</template>
"#;

const REACT: &str = r#"import { useEffect, useImperativeHandle, useRef, useState, type ReactNode, type Ref } from 'react'
interface Props {
  label?: string; locked?: boolean; pieces?: string[]; kiln?: { name: string; lit: Date }
  target?: number; onTargetChange?: (target: number) => void
  onFire?: (firing: { target: number }) => void; onDropped?: (names: string[]) => void
  children?: ReactNode; caption?: (given: { room: number }) => ReactNode
  ref?: Ref<{ nudge(n: number): number; field: HTMLInputElement | null; reading: string }>
}
export default function Panel({ label = 'Panel', locked = false, pieces = [], kiln, target = 600, onTargetChange, onFire, onDropped, children, caption, ref }: Props) {
  const field = useRef<HTMLInputElement>(null)
  const [note, setNote] = useState('')
  const [hovered, setHovered] = useState(false)
  const [seen, setSeen] = useState('')
  const raise = () => { if (!locked) { onTargetChange?.(target + 10); onFire?.({ target: target + 10 }) } }
  const dropped = (files: FileList | null) => onDropped?.([...(files ?? [])].map((f) => `${f.name} ${f.type}`))
  const ask = async (method: string) => { const r = await fetch('/api/kilns/7?hot=1', { method, body: method === 'POST' ? JSON.stringify({ target }) : undefined }); setSeen(await r.text()) }
  useEffect(() => { const sized = () => setSeen(`${innerWidth}`); addEventListener('resize', sized); return () => removeEventListener('resize', sized) }, [])
  useEffect(() => { const f = field.current!; const settle = (e: Event) => setSeen(`settled ${(e as CustomEvent).detail}`); f.addEventListener('settle', settle); return () => f.removeEventListener('settle', settle) }, [])
  useImperativeHandle(ref, () => ({ nudge: (n) => { onTargetChange?.(target + n); return target + n }, get field() { return field.current }, reading: 'warm' }))
  return (
    <section className={locked ? 'panel locked' : 'panel'} aria-label={label} style={{ color: 'red' }} onMouseEnter={() => setHovered(true)} onMouseLeave={() => setHovered(false)}>
      <button className="raise" disabled={locked} onClick={raise}>Raise</button>
      <button className="ask" onClick={() => ask('GET')}>Ask</button><button className="post" onClick={() => ask('POST')}>Post</button>
      <button className="complain" onClick={() => console.warn('the kiln is cold')}>Complain</button><button className="fall" onClick={() => { throw new Error('the shelf fell') }}>Fall</button>
      <button className="later" onClick={() => setTimeout(() => setSeen('later'), 5000)}>Later</button>
      <label>Note <input ref={field} className="note" value={note} onChange={(e) => setNote(e.target.value)} onKeyDown={(e) => e.key === 'Enter' && setSeen('enter')} /></label>
      <label>Target <input className="target" type="number" value={target} onChange={(e) => onTargetChange?.(Number(e.target.value))} /></label>
      <label><input type="checkbox" className="glazed" onChange={(e) => setSeen(e.target.checked ? 'glazed' : 'bare')} /> Glazed</label>
      <label>Cone <select className="cone" onChange={(e) => setSeen(`cone ${e.target.value}`)}><option>6</option><option>10</option></select></label>
      <label>Plan <input type="file" accept=".txt" onChange={(e) => dropped(e.target.files)} /></label>
      <div className="dropzone" onDragOver={(e) => e.preventDefault()} onDrop={(e) => { e.preventDefault(); dropped(e.dataTransfer.files) }}>Drop here</div>
      <div className="scroller" onScroll={(e) => setSeen(`at ${e.currentTarget.scrollTop}`)}></div>
      <output className="reading">{target} {kiln?.name} {kiln ? kiln.lit.getFullYear() : ''}</output><p className="seen">{seen}</p><p className="hint" style={{ display: hovered ? undefined : 'none' }}>hint</p>
      <ul>{pieces.map((p) => <li key={p}>{p}</li>)}</ul>
      <div className="body">{children ?? 'Nothing here'}</div><footer>{caption ? caption({ room: 3 }) : 'no caption'}</footer>
    </section>
  )
}
"#;

/// What stands above the clauses: every key of a contract of a component.
const TOP: &str = r#"
component: [./Panel.vue, ./Panel.tsx]
about: Every word of the language.
styles: studio.css
wrap: [./Around.vue, { component: ./Around.tsx }]
uses: { Badge: [./Badge.vue, ./Badge.tsx] }
props:
  label: [absent, Bisque]
  locked: all
  target: { start: 600, values: [600, 1240] }
  pieces: [absent, { $file: pieces.json }]
  kiln: [absent, { $from: "./kilns.ts#hot" }, { name: Cold, lit: { $js: "new Date(Date.UTC(2001, 5, 1))" } }]
never: [locked && target === 1240]
cover: pairs
events: { fire: { payload: { type: object, required: [target] } } }
bindings: { target: { edit: .target, with: [615, 700] } }
slots:
  default: { fills: [absent, "<p class=mug>Mug</p><p>Bowl</p>", "<Badge name='Shino' cone={6} safe />"], fallback: Nothing here }
  caption: { fills: [absent, "<em>${room} left</em>"], fallback: no caption, exposes: { room: { type: integer } } }
exposes: { nudge: function, reading: string, field: object }
network:
  - { on: GET /api/kilns/*, reply: { status: 200, text: hot, headers: { x-kiln: "7" } } }
  - { on: POST /api/kilns/*, reply: { json: { ok: true }, after: 5s } }
clock: { starts: 2031-03-01T09:00:00Z }
laws: { prop/live: { off: true, because: the tests of laws are elsewhere }, prop/steady: { except: [pieces], because: likewise } }
clauses:
"#;

/// The rest of a clause, and whether it holds.
const CLAUSES: &[(&str, bool)] = &[
    // Where it applies, what is fixed, how the parent answers.
    ("where: locked, expect: [{ classes: .panel, has: locked }]", true),
    ("where: '!locked', expect: [{ classes: .panel, has: locked }]", false),
    ("where: component.endsWith('.vue') || component.endsWith('.tsx'), expect: [{ count: section, is: 1 }]", true),
    ("hold: { label: Glaze, slots: { default: '<i>Jar</i>' } }, expect: [{ name: .panel, is: Glaze }, { text: .body, is: Jar }]", true),
    ("hold: { label: Glaze }, expect: [{ name: .panel, is: Bisque }]", false),
    ("hold: { locked: false }, parent: keeps, do: [{ press: .raise }], expect: [{ text: .reading, has: '${target}' }]", true),
    ("hold: { locked: false }, parent: obeys, do: [{ press: .raise }], expect: [{ text: .reading, has: '${target}' }]", false),
    // Steps.
    ("hold: { locked: false }, do: [{ press: button \"Raise\", times: 3 }], expect: [{ bound: target, is: '${target + 30}' }]", true),
    ("hold: { locked: false }, do: [{ press: button \"Raise\", times: 3 }], expect: [{ bound: target, is: '${target + 20}' }]", false),
    ("do: [{ type: ab, into: .note }], expect: [{ value: .note, is: ab }]", true),
    ("do: [{ type: ab, into: .note }, { type: c, into: .note, replace: true }], expect: [{ value: .note, is: c }]", true),
    ("do: [{ type: ab, into: .note }, { type: c, into: .note }], expect: [{ value: .note, is: c }]", false),
    ("do: [{ type: ab, into: .panel }], expect: [{ value: .note, is: ab }]", false),
    ("do: [{ key: Enter, at: .note }], expect: [{ text: .seen, is: enter }]", true),
    ("do: [{ key: Escape, at: .note }], expect: [{ text: .seen, is: enter }]", false),
    ("do: [{ choose: '10', from: combobox \"Cone\" }], expect: [{ text: .seen, is: cone 10 }]", true),
    ("do: [{ choose: '04', from: combobox \"Cone\" }], expect: [{ text: .seen, is: '' }]", false),
    ("do: [{ tick: .glazed }], expect: [{ ticked: .glazed }, { text: .seen, is: glazed }]", true),
    ("do: [{ tick: .glazed }, { untick: .glazed }], expect: [{ ticked: .glazed, is: false }]", true),
    ("do: [{ untick: .glazed }], expect: [{ text: .seen, is: bare }]", false),
    ("do: [{ focus: .note }], expect: [{ focused: textbox \"Note\" }]", true),
    ("do: [{ focus: .note }, { leave: .note }], expect: [{ focused: .note }]", false),
    ("do: [{ point: .reading }], expect: [{ visible: .hint }]", true),
    ("do: [{ point: .reading }, { leave: .panel }], expect: [{ visible: .hint }]", false),
    ("do: [{ signal: settle, at: .note, detail: 7 }], expect: [{ text: .seen, is: settled 7 }]", true),
    ("do: [{ signal: settles, at: .note, detail: 7 }], expect: [{ text: .seen, is: settled 7 }]", false),
    ("do: [{ pass: { label: Glaze } }], expect: [{ name: .panel, is: Glaze }]", true),
    ("do: [{ pass: { label: absent } }], expect: [{ name: .panel, is: Glaze }]", false),
    ("do: [{ fill: { default: '<b>Vase</b>' } }], expect: [{ text: .body, is: Vase }]", true),
    ("do: [{ fill: { default: absent } }], expect: [{ text: .body, is: Vase }]", false),
    ("do: [{ assign: { target: 5 } }], expect: [{ value: .target, is: 5 }, { emitted: nothing }]", true),
    ("do: [{ assign: { target: 5 } }], expect: [{ bound: target, is: 6 }]", false),
    ("do: [{ call: nudge, with: 7, gives: '${target + 7}' }], expect: [{ bound: target, is: '${target + 7}' }]", true),
    ("do: [{ call: nudge, with: 7, gives: 7 }], expect: [{ count: section, is: 1 }]", false),
    ("do: [{ press: .later }, { elapse: 5s }], expect: [{ text: .seen, is: later }]", true),
    ("do: [{ press: .later }, { elapse: 4999ms }], expect: [{ text: .seen, is: later }]", false),
    ("do: [{ drop: plan.txt, onto: 'input[type=file]' }], expect: [{ emitted: dropped, with: [plan.txt text/plain] }]", true),
    ("do: [{ drop: plan.png, onto: 'input[type=file]' }], expect: [{ count: section, is: 1 }]", false),
    (
        "do: [{ drop: [a.png, { name: b, type: x/y }], onto: .dropzone }], expect: [{ emitted: dropped, with: [a.png image/png, b x/y] }]",
        true,
    ),
    ("do: [{ drop: a.png, onto: .body }], expect: [{ count: section, is: 1 }]", false),
    ("do: [{ scroll: .scroller, to: 40 }], expect: [{ text: .seen, is: at 40 }]", true),
    ("do: [{ scroll: page, to: { left: 1, top: 40 } }], expect: [{ text: .seen, is: at 40 }]", false),
    ("do: [{ resize: { width: 375, height: 667 } }], expect: [{ text: .seen, is: 375 }]", true),
    ("do: [{ resize: { width: 375 } }], expect: [{ text: .seen, is: 376 }]", false),
    (
        "do: [{ edit: .note, to: hot }, { edit: .glazed, to: true }, { edit: .cone, to: 10 }], expect: [{ value: .note, is: hot }, { ticked: .glazed }, { value: .cone, is: 10 }]",
        true,
    ),
    ("do: [{ edit: .glazed, to: false }], expect: [{ ticked: .glazed }]", false),
    ("do: [{ remove: true }], expect: [{ present: section, is: false }]", true),
    ("do: [{ remove: true }, { press: .raise }], expect: [{ present: section, is: false }]", false),
    // Checks.
    ("expect: [{ text: .dropzone, is: Drop here }]", true),
    ("expect: [{ text: .dropzone, isnt: Drop here }]", false),
    ("expect: [{ value: .target, is: '${target}' }]", true),
    ("expect: [{ value: .target, is: 1 }]", false),
    ("expect: [{ attribute: .raise, named: disabled, is: '${locked ? \"\" : null}' }]", true),
    ("expect: [{ attribute: .raise, named: disabled, is: x }]", false),
    ("expect: [{ classes: .raise, is: raise }, { classes: .raise, lacks: lower }]", true),
    ("expect: [{ style: .panel, property: color, is: 'rgb(255, 0, 0)' }]", true),
    ("expect: [{ style: .panel, property: color, is: red }]", false),
    ("expect: [{ count: li, is: '${pieces ? 2 : 0}' }]", true),
    ("expect: [{ count: li, above: 2 }]", false),
    ("expect: [{ present: .raise }, { present: .lower, is: false }]", true),
    ("expect: [{ present: .lower }]", false),
    ("expect: [{ visible: .hint, is: false }, { visible: .raise }]", true),
    ("expect: [{ enabled: .raise, is: '${!locked}' }]", true),
    ("where: locked, expect: [{ enabled: .raise }]", false),
    ("expect: [{ role: .panel, is: region }, { name: .panel, one_of: [Panel, Bisque] }]", true),
    ("expect: [{ role: .panel, is: group }]", false),
    ("where: pieces, expect: [{ order: li, is: [Mug, Bowl] }]", true),
    ("where: pieces, expect: [{ order: li, is: [Bowl, Mug] }]", false),
    ("hold: { pieces: [Mug] }, expect: [{ markup: ul, is: '<li>Mug</li>' }]", true),
    ("hold: { pieces: [Mug] }, expect: [{ markup: ul, is: '<li>Bowl</li>' }]", false),
    ("expect: [{ within: footer, expect: [{ count: button, is: 0 }] }]", true),
    ("expect: [{ within: .panel, expect: [{ count: button, is: 0 }] }]", false),
    (
        "hold: { locked: false }, do: [{ press: .raise }], expect: [{ emitted: fire, times: 1, with: { target: '${target + 10}' } }, { emitted: { only: [fire, target] } }]",
        true,
    ),
    ("hold: { locked: false }, do: [{ press: .raise }], expect: [{ emitted: { only: [fire] } }]", false),
    ("where: locked, do: [{ press: .raise }], expect: [{ emitted: nothing }]", true),
    ("where: '!locked', do: [{ press: .raise }], expect: [{ emitted: nothing }]", false),
    (
        "hold: { locked: false }, do: [{ press: .raise, times: 2 }], expect: [{ emitted: fire, in_turn: [{ target: '${target + 10}' }, { target: '${target + 20}' }], last: { target: '${target + 20}' }, fits: { type: object } }]",
        true,
    ),
    ("hold: { locked: false }, do: [{ press: .raise, times: 2 }], expect: [{ emitted: fire, each: { target: '${target + 10}' } }]", false),
    ("expect: [{ bound: target, is: '${target}' }, { exposed: reading, is: warm }, { exposed: nudge }]", true),
    ("expect: [{ exposed: reading, matches: ^cold }]", false),
    ("do: [{ press: .ask }], expect: [{ requested: 'GET /api/kilns/*', times: 1 }, { text: .seen, is: hot }]", true),
    ("do: [{ press: .ask }], expect: [{ requested: nothing }]", false),
    (
        "do: [{ press: .post }], expect: [{ requested: POST /api/kilns/7, with: { target: '${target}' }, fits: { required: [target] } }, { text: .seen, is: '' }]",
        true,
    ),
    ("do: [{ press: .post }, { elapse: 5s }], expect: [{ requested: POST /api/kilns/7, with: { target: 1 } }]", false),
    ("do: [{ press: .complain }], expect: [{ warned: true, has: cold }, { failed: nothing }]", true),
    ("do: [{ press: .complain }], expect: [{ warned: nothing }]", false),
    ("do: [{ press: .fall }], expect: [{ failed: true, matches: shelf.*fell }]", true),
    ("do: [{ press: .fall }], expect: [{ failed: nothing }]", false),
    (
        "where: slots.default && slots.default.includes('Mug'), expect: [{ fills: default, in: .body, times: 1 }, { order: slot(default), is: [Mug, Bowl] }]",
        true,
    ),
    ("where: slots.default && slots.default.includes('Mug'), expect: [{ fills: default, in: footer }]", false),
    ("where: slots.caption, expect: [{ handed: caption, is: { room: 3 } }, { text: slot(caption), is: 3 left }]", true),
    ("where: slots.caption, expect: [{ handed: caption, fits: { properties: { room: { minimum: 4 } } } }]", false),
    ("do: [{ pass: { label: x } }], expect: [{ outlasts: .panel }, { outlasts: button }]", true),
    ("do: [{ fill: { default: '<b>x</b>' } }], expect: [{ outlasts: .body p }]", false),
    ("expect: [{ value: ref(field), is: '' }, { role: ref(field), is: textbox }]", true),
    ("expect: [{ role: ref(reading), is: textbox }]", false),
    ("expect: [{ text: 'text(\"Raise\")', is: Raise }, { present: region \"${label ?? 'Panel'}\" .raise }]", true),
    ("expect: [{ present: button \"Lower\" }]", false),
    // What stands around it, and values that YAML cannot say.
    ("expect: [{ text: header, is: around }]", true),
    ("where: slots.default && slots.default.includes('Badge'), expect: [{ text: .badge, is: Shino 6 safe }]", true),
    ("where: kiln, expect: [{ text: .reading, matches: '(Hot 2031|Cold 2001)$' }]", true),
    ("where: kiln && kiln.name === 'Hot', expect: [{ text: .reading, has: '${kiln.name}' }]", true),
    ("where: kiln && kiln.name === 'Hot', expect: [{ text: .reading, has: Cold }]", false),
    ("expect: [{ exposed: reading, is: { $js: \"'wa' + 'rm'\" } }]", true),
    // Phases.
    (
        "hold: { locked: false }, do: [{ press: .raise }], expect: [{ emitted: fire }], next: [{ do: [{ press: .ask }], expect: [{ emitted: nothing }] }]",
        true,
    ),
    (
        "hold: { locked: false }, do: [{ press: .raise }], expect: [{ emitted: fire }], next: [{ do: [{ press: .ask }], expect: [{ emitted: fire }] }]",
        false,
    ),
];

fn contract() -> String {
    let mut out = TOP.to_owned();
    for (i, (body, _)) in CLAUSES.iter().enumerate() {
        let _ = writeln!(out, "  - {{ clause: number {i}, {} }}", quoted(body));
    }
    out
}

/// In a flow mapping a locator with quotes in it must be quoted as a whole.
fn quoted(body: &str) -> String {
    let mut out = String::new();
    let mut rest = body;
    for word in ["button \"Raise\"", "button \"Lower\"", "combobox \"Cone\"", "textbox \"Note\"", "region \"${label ?? 'Panel'}\" .raise"] {
        if let Some(at) = rest.find(word) {
            out.push_str(&rest[..at]);
            let _ = write!(out, "'{}'", word.replace('\'', "''"));
            rest = &rest[at + word.len()..];
        }
    }
    out + rest
}

fn project() -> Studio {
    Studio::new()
        .with("Panel.vue", VUE)
        .with("Panel.tsx", REACT)
        .with("Around.vue", "<template><main><header>around</header><slot /></main></template>")
        .with("Around.tsx", "export default ({ children }: any) => <main><header>around</header>{children}</main>")
        .with("Badge.vue", "<script setup lang=\"ts\">defineProps<{ name: string; cone: number; safe?: boolean }>()</script><template><b class=\"badge\">{{ name }} {{ cone + 0 }} {{ safe ? 'safe' : '' }}</b></template>")
        .with("Badge.tsx", "export default ({ name, cone, safe }: { name: string; cone: number; safe?: boolean }) => <b className=\"badge\">{name} {cone + 0} {safe ? 'safe' : ''}</b>")
        .with("kilns.ts", "export const hot = { name: 'Hot', lit: new Date(Date.UTC(2031, 2, 1)) }")
        .with("pieces.json", "[\"Mug\", \"Bowl\"]")
        .with("studio.css", ".panel { margin: 0 }")
        .with("Panel.contract.yaml", contract())
}

#[test]
fn every_word_holds_and_breaks_as_it_should() {
    let studio = project();
    let results = studio.results(&["Panel.contract.yaml"]);
    assert_eq!(results["faults"], serde_json::json!([]), "{:#}", results["faults"]);
    let components = results["components"].as_array().expect("a list");
    assert_eq!(components.len(), 2, "one contract, two frameworks");
    for component in components {
        let name = component["component"].as_str().expect("a name");
        assert_eq!(component["reason"], serde_json::Value::Null, "{name}");
        let mut wrong = String::new();
        for (i, (body, holds)) in CLAUSES.iter().enumerate() {
            let clause = format!("number {i}");
            let rule = component["clauses"].as_array().expect("a list").iter().find(|c| c["clause"] == clause.as_str());
            let rule = rule.unwrap_or_else(|| panic!("{name}: `{body}` was not judged"));
            if (rule["verdict"] == "holds") != *holds {
                let finding = component["findings"].as_array().expect("a list").iter().find(|f| f["rule"] == clause.as_str());
                let _ = writeln!(wrong, "{body}\n    {rule}\n    {}", finding.map(|f| f["message"].to_string()).unwrap_or_default());
            }
        }
        assert!(wrong.is_empty(), "{name}:\n{wrong}");
        let implied: Vec<&str> = component["clauses"].as_array().expect("a list").iter().filter_map(|c| c["clause"].as_str()).collect();
        assert_eq!(implied.iter().filter(|c| !c.starts_with("number")).count(), 10, "promises outside the clauses: {implied:?}");
    }
}

/// A scene of the kit's form and ledger: the rest of a clause, and whether it holds.
const SCENE: &[(&str, bool)] = &[
    (
        "do: [{ part: form, type: Jar, into: input }, { part: form, press: button }], expect: [{ bound: pieces, is: '${[...pieces, { id: 7, name: \"Jar\", glaze: \"Shino\" }]}' }, { count: li, part: ledger, is: '${pieces.length + 1}' }]",
        true,
    ),
    ("do: [{ part: form, type: Jar, into: input }, { part: form, press: button }], expect: [{ bound: pieces, is: '${pieces}' }]", false),
    (
        "where: pieces.length > 0, do: [{ part: ledger, press: 'button \"Remove Mug\"' }], expect: [{ emitted: removed, part: ledger, with: 1 }, { emitted: nothing, part: form }]",
        true,
    ),
    (
        "where: pieces.length > 0, do: [{ part: ledger, press: 'button \"Remove Mug\"' }], expect: [{ emitted: removed, part: ledger, with: 2 }]",
        false,
    ),
    ("do: [{ pass: { pieces: [] } }], expect: [{ text: .empty, part: ledger, is: No pieces yet }]", true),
    (
        "do: [{ part: ledger, pass: { entries: [{ id: 9, name: Urn, glaze: Ash }] } }], expect: [{ order: .name, is: [Urn] }, { bound: pieces, is: '${pieces}' }]",
        true,
    ),
    ("do: [{ part: ledger, remove: true }], expect: [{ present: .piece-ledger, is: false }, { present: .piece-form }]", true),
    ("do: [{ part: ledger, remove: true }], expect: [{ present: .piece-form, is: false }]", false),
    ("do: [{ press: button }], expect: [{ focused: ref(field), part: form }]", true),
    ("do: [{ press: button }], expect: [{ focused: .piece-ledger, part: ledger }]", false),
    ("do: [{ remove: true }], expect: [{ count: form, is: 0 }, { count: .piece-ledger, is: 0 }]", true),
];

#[test]
fn scenes_hold_and_break_as_they_should() {
    let mut contract = "scene:\n  state: { pieces: [] }\n  parts:\n    form: { component: [PieceForm.vue, PieceForm.tsx] }\n    ledger: { component: [PieceLedger.vue, PieceLedger.tsx], props: { entries: '${state.pieces}' } }\n\
        \x20 wires:\n    - { from: form.added, set: { pieces: '[...state.pieces, $event]' } }\n    - { from: ledger.removed, set: { pieces: 'pieces.filter((p) => p.id !== $event)' } }\n\
        props: { pieces: [[{ id: 1, name: Mug, glaze: Tenmoku }]] }\nnetwork: [{ on: POST /api/pieces, reply: { json: { id: 7, name: Jar, glaze: Shino } } }, { on: DELETE /api/pieces/*, reply: { status: 204 } }]\nclauses:\n"
        .to_owned();
    for (i, (body, _)) in SCENE.iter().enumerate() {
        let body = body.replace("press: button }", "press: 'button \"Add\"' }");
        let _ = writeln!(contract, "  - {{ clause: number {i}, {body} }}");
    }
    let mut studio = Studio::new().with("Table.contract.yaml", contract);
    for file in ["PieceForm.vue", "PieceLedger.vue", "PieceForm.tsx", "PieceLedger.tsx"] {
        let folder = if file.ends_with("vue") { "vue" } else { "react" };
        studio = studio.with(file, studio::kit(&format!("{folder}/{file}")));
    }
    let results = studio.results(&["Table.contract.yaml"]);
    assert_eq!(results["faults"], serde_json::json!([]), "{:#}", results["faults"]);
    let names: Vec<&str> = results["components"].as_array().expect("a list").iter().filter_map(|c| c["component"].as_str()).collect();
    assert_eq!(names, ["Table.contract.yaml#react", "Table.contract.yaml#vue"], "one scene for each framework");
    for component in results["components"].as_array().expect("a list") {
        assert_eq!(component["combinations"], 2);
        for (i, (body, holds)) in SCENE.iter().enumerate() {
            let rule = component["clauses"].as_array().expect("a list").iter().find(|c| c["clause"] == format!("number {i}").as_str());
            assert_eq!(
                rule.is_some_and(|r| r["verdict"] == "holds"),
                *holds,
                "{}: {body}: {:#}",
                component["component"],
                component["findings"]
            );
        }
        let laws: Vec<&str> = component["laws"].as_array().expect("a list").iter().filter_map(|l| l["law"].as_str()).collect();
        assert!(laws.contains(&"render/quiet") && !laws.contains(&"prop/live"), "a scene has no props of its own: {laws:?}");
    }
}

#[test]
fn a_scene_may_be_of_one_way_and_two_way_props() {
    let dial = "<script setup>const target = defineModel({ type: Number, default: 0 })</script><template><button @click=\"target += 10\">{{ target }}</button></template>";
    let sign = "<script setup>defineProps({ reading: Number, unit: String })</script><template><output>{{ reading }} {{ unit }}</output></template>";
    let contract = "scene:\n  state: { heat: 600 }\n  parts:\n    dial: { component: Dial.vue, props: { modelValue: state.heat } }\n    sign: { component: Sign.vue, props: { reading: state.heat, unit: C } }\n\
        clauses:\n  - clause: the sign follows the dial\n    do: [{ part: dial, press: button, times: 2 }]\n    expect: [{ text: output, part: sign, is: 620 C }, { bound: heat, is: 620 }, { bound: modelValue, part: dial, is: 620 }]\n\
        \x20 - clause: a parent that keeps its value\n    parent: keeps\n    do: [{ part: dial, press: button }]\n    expect: [{ text: output, is: 600 C }, { bound: heat, is: 600 }]\n";
    let studio = Studio::new().with("Dial.vue", dial).with("Sign.vue", sign).with("Kiln.contract.yaml", contract);
    let run = studio.run(&["check", "Kiln.contract.yaml"]);
    assert_eq!(run.code, 0, "{}{}", run.out, run.err);
}

#[test]
fn what_stands_around_is_checked_by_name() {
    let studio = project();
    let of = |lines: &str| {
        let base = format!("component: ./Panel.vue\n{lines}\nclauses: [{{ clause: x, expect: [{{ count: section, is: 1 }}] }}]\n");
        std::fs::write(studio.path("Around.contract.yaml"), base).expect("written");
        let run = studio.run(&["check", "Around.contract.yaml"]);
        assert_eq!(run.code, 2, "{lines}: {}", run.out);
        run.out + &run.err
    };
    for (lines, told) in [
        ("wrap: ./Nowhere.vue", "Nowhere.vue"),
        ("wrap: not-installed#Provider", "not-installed"),
        ("uses: { Badge: ./Bagde.vue }", "Bagde.vue"),
        ("styles: ./none.css", "none.css"),
        ("props: { kiln: [{ $from: ./none.ts#hot }] }", "none.ts"),
        ("props: { kiln: [{ $from: ./kilns.ts#cold }] }", "exports no `cold`"),
        ("props: { pieces: [{ $file: none.json }] }", "none.json"),
        ("props: { pieces: [{ $file: studio.css }] }", "not JSON"),
        ("uses: { Badge: ./Badge.vue }\nslots: { default: ['<Bagde/>'] }", "did you mean `Badge`"),
        ("slots: { default: ['<Badge/>'] }", "uses: { Badge: ./Badge.vue }"),
        ("slots: { sidebar: [absent] }", "`sidebar` is no slot"),
    ] {
        let out = of(lines);
        assert!(out.contains(told), "{lines}: {out}");
    }
    let scene = |rest: &str| {
        std::fs::write(
            studio.path("Around.contract.yaml"),
            format!(
                "scene:\n  state: {{ a: 1 }}\n  parts: {{ badge: {{ component: Badge.vue, props: {{ name: x, cone: 6 }} }} }}\n{rest}\n"
            ),
        )
        .expect("written");
        let run = studio.run(&["check", "Around.contract.yaml"]);
        assert_eq!(run.code, 2, "{rest}: {}", run.out);
        run.out + &run.err
    };
    for (rest, told) in [
        ("  wires: [{ from: badge.fire, set: { a: '2' } }]", "`fire` is no event of Badge"),
        ("clauses: [{ clause: x, do: [{ part: bagde, press: b }], expect: [{ count: b, is: 1 }] }]", "did you mean `badge`"),
        ("clauses: [{ clause: x, do: [{ pass: { b: 1 } }], expect: [{ count: b, is: 1 }] }]", "`b` is no field of the state"),
        ("clauses: [{ clause: x, do: [{ call: go }], expect: [{ count: b, is: 1 }] }]", "`part` is missing"),
        ("clauses: [{ clause: x, do: [{ part: badge, pass: { nmae: 1 } }], expect: [{ count: b, is: 1 }] }]", "did you mean `name`"),
        ("clauses: [{ clause: x, expect: [{ bound: heat, is: 1 }] }]", "`heat` is no field of the state"),
        ("props: { a: all }\nclauses: [{ clause: x, expect: [{ bound: a, is: 1 }] }]", "list the values"),
        ("  wires: [{ from: badge.fire, set: { a: 'a +' } }]", "this is no expression"),
    ] {
        let out = scene(rest);
        assert!(out.contains(told), "{rest}: {out}");
    }
}

#[test]
fn the_examples_of_the_reference_hold() {
    let reference = std::fs::read_to_string(concat!(env!("CARGO_MANIFEST_DIR"), "/../../docs/contract.md")).expect("there");
    let blocks: Vec<&str> = reference.split("```yaml\n").skip(1).filter_map(|b| b.split("```").next()).collect();
    assert!(blocks.len() >= 4, "the reference shows the language by examples");
    let mut studio = Studio::new().with("contracts/pieces.json", studio::kit("contracts/pieces.json"));
    for name in ["KilnDial", "GlazeBadge", "KilnSign", "StudioProvider", "PieceForm", "PieceLedger"] {
        for file in [format!("vue/{name}.vue"), format!("react/{name}.tsx")] {
            studio = studio.with(&file, studio::kit(&file));
        }
    }
    let mut whole = 0;
    for block in blocks {
        if block.starts_with("component:") || block.starts_with("scene:") {
            std::fs::write(studio.path("contracts/Example.contract.yaml"), block).expect("written");
            let run = studio.run(&["check", "contracts/Example.contract.yaml"]);
            assert_eq!(run.code, 0, "{block}\n{}{}", run.out, run.err);
            whole += 1;
        } else {
            let faults = fidelon_core::contract::read(&format!("component: a.vue\n{block}")).err();
            assert_eq!(faults, None, "{block}");
        }
    }
    assert!(whole >= 3, "whole contracts among them: {whole}");
}

#[test]
fn what_is_declared_and_not_passed_is_undefined() {
    let studio = Studio::new()
        .with("Tag.vue", "<script setup lang=\"ts\">\ndefineProps<{ label: string; id?: string }>()\n</script>\n<template><p :id>{{ label }}</p></template>\n")
        .with(
            "Tag.contract.yaml",
            "component: ./Tag.vue\nprops:\n  label: [Mug]\nclauses:\n  - clause: has no id of its own\n    where: \"!id\"\n    expect:\n      - text: p\n        is: \"${id ?? label}\"\n",
        );
    let results = studio.results(&["Tag.vue"]);
    assert_eq!(results["components"][0]["verdict"], "holds", "{results:#}");
}

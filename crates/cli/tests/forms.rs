//! The forms in which components of React and Vue come: classes, memo, refs, lazy parts, boundaries, portals; options, JSX, async parts,
//! teleports, transitions, injection, directives, plugins.

mod studio;

use studio::Studio;

fn held(studio: &Studio, contract: &str) {
    let run = studio.run(&["check", contract]);
    assert_eq!(run.code, 0, "{}{}", run.out, run.err);
}

#[test]
fn react_in_its_forms() {
    let dial = r#"import { Component, Suspense, createContext, forwardRef, lazy, memo, useContext, useEffect, useImperativeHandle, useState, type ReactNode, type Ref } from 'react'
import { createPortal } from 'react-dom'

export const Unit = createContext('C')
export function UnitProvider({ unit, children }: { unit: string; children?: ReactNode }) {
  return <Unit.Provider value={unit}>{children}</Unit.Provider>
}
interface Props { label?: string; heat: number; onHeatChange?: (heat: number) => void; broken?: boolean }
export class Dial extends Component<Props, { turned: number }> {
  static defaultProps = { label: 'Kiln' }
  static contextType = Unit
  declare context: string
  state = { turned: 0 }
  componentDidUpdate(before: Props) { if (before.heat !== this.props.heat) this.setState((s) => ({ turned: s.turned + 1 })) }
  reset() { this.props.onHeatChange?.(0) }
  handlePress = () => this.props.onHeatChange?.(this.props.heat + 1)
  render() { return <button onClick={this.handlePress}>{this.props.label} {this.props.heat} {this.context} {this.state.turned}</button> }
}
class Boundary extends Component<{ children: ReactNode }, { failed: boolean }> {
  state = { failed: false }
  static getDerivedStateFromError() { return { failed: true } }
  render() { return this.state.failed ? <p className="sorry">out of order</p> : this.props.children }
}
function Fragile({ broken }: { broken?: boolean }) {
  const [bad, setBad] = useState(false)
  useEffect(() => { if (broken) setBad(true) }, [broken])
  if (bad) throw new Error('cracked')
  return <p className="whole">whole</p>
}
export function Guarded({ broken = false }: { broken?: boolean }) { return <Boundary><Fragile broken={broken} /></Boundary> }
const Notes = lazy(() => import('./Notes'))
export const Late = memo(function Late({ open }: { open: boolean }) {
  const unit = useContext(Unit)
  return <Suspense fallback={<i>loading</i>}>{open ? <Notes text={unit} /> : <b>shut</b>}</Suspense>
})
export const Field = forwardRef<{ clear(): void }, { name: string }>(function Field({ name }, ref) {
  const [text, setText] = useState('')
  useImperativeHandle(ref, () => ({ clear: () => setText('') }))
  return <>{createPortal(<em role="note">{name}: {text}</em>, document.body)}<input aria-label={name} value={text} onChange={(e) => setText(e.target.value)} /></>
})
export function Plain({ ref, tone = 'warm' }: { tone?: string; ref?: Ref<HTMLParagraphElement> }) { return <p ref={ref}>{tone}</p> }
"#;
    let contract = |export: &str, rest: &str| {
        format!("component: \"./Dial.tsx#{export}\"\nwrap: [{{ component: \"./Dial.tsx#UnitProvider\", props: {{ unit: F }} }}]\n{rest}")
    };
    let studio = Studio::new()
        .with("Dial.tsx", dial)
        .with("Notes.tsx", "export default function Notes({ text }: { text: string }) { return <p className=\"notes\">in {text}</p> }\n")
        .with("a.contract.yaml", contract("Dial", "props: { label: [absent, Oven], heat: [1, 5] }\nexposes: { reset: function }\nlaws: { binding/shows: { off: true, because: it counts turns }, prop/live: { off: true, because: it counts turns } }\nclauses:\n  - clause: a class\n    do: [{ press: button }]\n    expect:\n      - bound: heat\n        is: ${heat + 1}\n      - text: button\n        is: ${label ?? 'Kiln'} ${heat + 1} F 1\n    next:\n      - do: [{ call: reset }]\n        expect: [{ bound: heat, is: 0 }]\n"))
        .with("b.contract.yaml", contract("Guarded", "props: { broken: all }\nlaws: { prop/live: { off: true, because: what broke stays broken }, render/quiet: { off: true, because: React tells of it } }\nclauses:\n  - clause: a boundary holds\n    expect:\n      - present: .sorry\n        is: ${broken}\n      - present: .whole\n        is: ${!broken}\n"))
        .with("c.contract.yaml", contract("Late", "props: { open: all }\nclauses:\n  - clause: what is lazy comes\n    where: open\n    do: [{ elapse: 1s }]\n    expect: [{ text: .notes, is: in F }, { count: i, is: 0 }]\n  - clause: or does not\n    where: \"!open\"\n    expect: [{ text: b, is: shut }]\n"))
        .with("d.contract.yaml", contract("Field", "props: { name: [Glaze] }\nexposes: { clear: function }\nclauses:\n  - clause: what is typed shows elsewhere, until it is cleared\n    do: [{ type: Celadon, into: textbox \"Glaze\" }]\n    expect: [{ text: role(note), is: \"Glaze: Celadon\" }]\n    next:\n      - do: [{ call: clear }]\n        expect: [{ text: role(note), is: \"Glaze:\" }, { value: textbox \"Glaze\", is: \"\" }]\n"))
        .with("e.contract.yaml", contract("Plain", "clauses:\n  - clause: a ref as a prop\n    expect: [{ text: ref(), is: warm }]\n"));
    for name in ["a", "b", "c", "d", "e"] {
        held(&studio, &format!("{name}.contract.yaml"));
    }
}

#[test]
fn vue_in_its_forms() {
    let studio = Studio::new()
        .with("Options.vue", "<script>\nimport { defineAsyncComponent } from 'vue'\nexport default {\n  components: { Late: defineAsyncComponent(() => import('./Late.vue')) },\n  directives: { hot: (el, { value }) => { el.dataset.hot = value } },\n  inject: { unit: { default: 'C' } },\n  props: { kiln: { type: String, required: true }, rows: { type: Number, default: 2 } },\n  emits: ['picked'],\n  expose: ['shut'],\n  data: () => ({ open: false }),\n  computed: { words() { return `${this.kiln} ${this.unit} ${this.rows}` } },\n  methods: { shut() { this.open = false } },\n}\n</script>\n<template>\n  <button v-hot=\"rows\" @click=\"open = !open; $emit('picked', kiln)\">{{ words }}</button>\n  <Teleport to=\"body\"><p v-if=\"open\" role=\"note\">over</p></Teleport>\n  <Suspense><Late v-if=\"open\" /><template #fallback><i>loading</i></template></Suspense>\n  <Transition><b v-if=\"open\">shown</b></Transition>\n  <KeepAlive><component :is=\"open ? 'input' : 'span'\" /></KeepAlive>\n</template>\n")
        .with("Late.vue", "<script setup>\nconst text = await Promise.resolve('late')\n</script>\n<template><em>{{ text }}</em></template>\n")
        .with("Unit.vue", "<script setup>\nimport { getCurrentInstance, provide } from 'vue'\nimport { glaze } from './glaze'\nconst { unit } = defineProps({ unit: String })\nprovide('unit', unit)\nglaze.install(getCurrentInstance().appContext.app)\n</script>\n<template><slot /></template>\n")
        .with("glaze.js", "export const glaze = { install(app) { app.config.globalProperties.$glaze = (name) => `glazed ${name}` } }\n")
        .with("Options.contract.yaml", "component: ./Options.vue\nwrap: [{ component: ./Unit.vue, props: { unit: F } }]\nprops: { kiln: [Big], rows: [absent, 5] }\nlaws: { render/quiet: { off: true, because: Vue calls Suspense experimental } }\nclauses:\n  - clause: it opens\n    do: [{ press: button }, { elapse: 1s }]\n    expect:\n      - text: button\n        is: Big F ${rows ?? 2}\n      - attribute: button\n        named: data-hot\n        is: ${String(rows ?? 2)}\n      - emitted: picked\n        with: Big\n      - text: role(note)\n        is: over\n      - text: em\n        is: late\n      - text: b\n        is: shown\n      - present: input\n    next:\n      - do: [{ call: shut }, { elapse: 1s }]\n        expect: [{ count: role(note), is: 0 }, { count: b, is: 0 }]\n")
        .with("Models.vue", "<script setup lang=\"ts\">\nconst first = defineModel<string>('first', { default: '' })\nconst last = defineModel<string>('last', { required: true })\n</script>\n<template><input aria-label=\"First\" v-model=\"first\"><input aria-label=\"Last\" v-model=\"last\"><p>{{ $glaze?.(first + last) }}</p></template>\n")
        .with("Models.contract.yaml", "component: ./Models.vue\nwrap: [{ component: ./Unit.vue, props: { unit: F } }]\nprops: { first: [Ada], last: [Kiln] }\nclauses:\n  - clause: two models and a plugin\n    do: [{ type: x, into: textbox \"Last\" }]\n    expect:\n      - bound: last\n        is: Kilnx\n      - bound: first\n        is: Ada\n      - text: p\n        is: glazed AdaKilnx\n")
        .with("Jsx.tsx", "import { defineComponent, ref, type PropType } from 'vue'\nexport const Rack = defineComponent({\n  props: { pieces: { type: Array as PropType<string[]>, required: true }, tone: String as PropType<'warm' | 'cold'> },\n  emits: { pick: (piece: string) => true },\n  setup(props, { emit, slots, expose }) {\n    const picked = ref('')\n    expose({ picked })\n    return () => <ul class={props.tone}>{props.pieces.map((p) => <li key={p}><button onClick={() => { picked.value = p; emit('pick', p) }}>{p}</button></li>)}{slots.default?.()}</ul>\n  },\n})\n")
        .with("Jsx.contract.yaml", "component: \"./Jsx.tsx#Rack\"\nprops: { pieces: [[Mug, Bowl]], tone: [absent, warm] }\nslots: { default: [absent, \"<li>more</li>\"] }\nclauses:\n  - clause: it picks\n    do: [{ press: button \"Bowl\" }]\n    expect:\n      - emitted: pick\n        with: Bowl\n      - exposed: picked\n        is: Bowl\n      - classes: ul\n        is: \"${tone ? [tone] : []}\"\n      - count: li\n        is: \"${slots.default ? 3 : 2}\"\n");
    for name in ["Options", "Models", "Jsx"] {
        held(&studio, &format!("{name}.contract.yaml"));
    }
}

//! What Vue components declare: macros by type and by value, the options form, slots of templates.

mod told;

use fidelon_source::MemoryFiles;
use told::{Shelves, assert_told, told, told_among};

#[test]
fn macros_by_type() {
    let source = r#"
<script setup lang="ts">
interface Glaze { name: string; cone?: number }
type Finish = 'gloss' | 'satin' | 'matte'
interface Props {
  /** What it is called. */
  label: string
  finish?: Finish
  cone: 6 | 10
  glazes?: Glaze[]
  fired: Date | null
  pick?: (glaze: Glaze) => void
  foodSafe?: boolean
}
const props = withDefaults(defineProps<Props>(), { finish: 'satin', glazes: () => [] })
const emit = defineEmits<{ pick: [glaze: Glaze]; 'glaze-chosen': []; (e: 'fire' | 'cool', at: number): void }>()
defineSlots<{ default(props: { glaze: Glaze }): any; icon(): any }>()
defineExpose({ reset: () => {}, cone: props.cone })
</script>
<template><div><slot :glaze="1" /><slot name="icon" /></div></template>
"#;
    assert_told(
        &told("GlazeList.vue", source),
        r#"
        GlazeList (default)
          label: text // What it is called.
          finish?: "gloss" | "satin" | "matte" = 'satin'
          cone: 6 | 10
          glazes?: [{ name: text, cone?: number }] = () => []
          fired: (date or null)
          pick?: function
          foodSafe?: boolean
          on pick (pick)
          on glazeChosen (glaze-chosen)
          on fire (fire)
          on cool (cool)
          slot default exposes
          slot icon
          member reset
          member cone
        "#,
    );
}

#[test]
fn macros_by_value() {
    let source = r#"
<script setup>
const UNITS = ['C', 'F']
const { step = 10 } = defineProps({
  label: String,
  target: { type: Number, required: true },
  unit: { type: String, default: 'C', validator: (u) => UNITS.includes(u) },
  locked: Boolean,
  size: [String, Number],
  step: Number,
})
const emit = defineEmits(['fire', 'update:target'])
</script>
<template><p>{{ label }}<slot /></p></template>
"#;
    assert_told(
        &told("KilnDial.vue", source),
        r#"
        KilnDial (default)
          label?: text
          target: number two-way
          unit?: "C" | "F" = 'C'
          locked?: boolean
          size?: (text or number)
          step?: number = 10
          on fire (fire)
          on target (update:target) reports target
          slot default
        "#,
    );
}

#[test]
fn models_are_two_way_props() {
    let source = r#"
<script setup lang="ts">
const text = defineModel<string>()
const open = defineModel<boolean>('open', { default: true })
const cone = defineModel('cone', { type: Number, required: true })
</script>
<template><p /></template>
"#;
    assert_told(
        &told("Vent.vue", source),
        r#"
        Vent (default)
          modelValue?: text two-way
          open?: boolean = true two-way
          cone: number two-way
          on modelValue (update:modelValue) reports modelValue
          on open (update:open) reports open
          on cone (update:cone) reports cone
        "#,
    );
}

#[test]
fn the_options_form() {
    let source = r#"
<script>
import { defineComponent } from 'vue'
export default defineComponent({
  name: 'ShelfCard',
  props: { title: { type: String, required: true }, pieces: Array, wide: { type: Boolean, default: false } },
  emits: { tidy: null, 'update:wide': (v) => typeof v === 'boolean' },
  expose: ['tidy'],
})
</script>
<template>
  <section><slot name="heading">{{ title }}</slot><slot v-for="p in pieces" :piece="p" /><slot :name="'foot'" /></section>
</template>
"#;
    let shelf = told("ShelfCard.vue", source);
    assert_told(
        &shelf,
        r#"
        ShelfCard (default)
          title: text
          pieces?: [?any?]
          wide?: boolean = false two-way
          on tidy (tidy)
          on wide (update:wide) reports wide
          slot heading
          slot default exposes
          slot foot
          member tidy
        "#,
    );
    assert_eq!(told("ShelfCard.vue", &source.replace("defineComponent(", "(")), shelf, "a plain object says the same");
}

#[test]
fn what_the_source_does_not_tell_leaves_the_surface_open() {
    for (why, script) in [
        ("spread", "defineProps({ ...shared, label: String })"),
        ("imported", "import { shared } from './shared'\ndefineProps(shared)"),
        ("from a package that is not there", "import type { Kiln } from 'kilns'\ndefineProps<Kiln>()"),
        ("syntax error", "defineProps<{ a: string }>(\nconst = 1"),
    ] {
        let told = told("A.vue", &format!("<script setup lang=\"ts\">\n{script}\n</script>\n<template><p/></template>"));
        assert!(told.ends_with("and more"), "{why}: {told}");
    }
    let mixin = told("A.vue", "<script>\nexport default { mixins: [x], props: ['a'] }\n</script>\n<template><p/></template>");
    assert!(mixin.ends_with("and more") && mixin.contains("a?: ?any?"), "{mixin}");
}

#[test]
fn what_a_validator_lets_through_is_all_there_is() {
    let files = MemoryFiles::default().with("units.ts", "export enum Unit { C = 'c', F = 'f' }\nexport const UNITS: string[] = [Unit.C, Unit.F]\nexport const HEATS = { low: 1, high: 2 }\nexport const NAMES = Object.keys(HEATS)");
    for (validator, expected) in [
        ("validator: (v) => ['s', 'm'].includes(v)", "\"s\" | \"m\""),
        ("validator(v) { return ['s', 'm'].indexOf(v) !== -1 }", "\"s\" | \"m\""),
        ("validator: function (v) { return ['s', 'm'].indexOf(v) > -1 }", "\"s\" | \"m\""),
        ("validator: (v) => !v || new Set(['s', 'm']).has(v)", "\"s\" | \"m\""),
        ("validator: (v) => v === 's' || 'm' === v || v === undefined", "\"s\" | \"m\""),
        ("validator: (v: string) => !!~LOCAL.indexOf(v)", "\"s\" | \"m\""),
        ("validator: (v) => typeof v === 'string' && LOCAL.includes(v)", "\"s\" | \"m\""),
        ("validator: (v) => UNITS.includes(v as Unit)", "\"c\" | \"f\""),
        ("validator: (v) => v in HEATS", "\"low\" | \"high\""),
        ("validator: (v) => NAMES.includes(v)", "\"low\" | \"high\""),
        ("validator: isSize", "\"s\" | \"m\""),
        // By more than a list, or by another thing's.
        ("validator: (v) => v.length > 2", "text"),
        ("validator: (v) => LOCAL.includes(other)", "text"),
        ("validator: (v) => [...LOCAL, other].includes(v)", "text"),
        ("validator: (v) => !LOCAL.includes(v)", "text"),
        ("validator: (v) => v !== 's'", "text"),
        ("validator: (v) => [1, 2].includes(v)", "text"),
    ] {
        let source = format!(
            "<script lang=\"ts\">\nimport {{ Unit, UNITS, HEATS, NAMES }} from './units'\nconst LOCAL = ['s', 'm']\nconst isSize = (v) => LOCAL.includes(v)\nexport default {{ props: {{ size: {{ {validator}, type: String }} }} }}\n</script>\n<template><p>{{{{ size }}}}</p></template>"
        );
        let told = told_among("A.vue", files.clone().with("A.vue", source), &Shelves::default());
        assert_eq!(told, format!("A (default)\n  size?: {expected}"), "{validator}");
    }
}

#[test]
fn types_are_followed_through_files_packages_and_aliases() {
    let component =
        |import: &str| format!("<script setup lang=\"ts\">\n{import}\ndefineProps<Kiln>()\n</script>\n<template><p/></template>");
    let shelves = Shelves { files: vec![("@/kiln", "src/kiln.ts"), ("kilns", "node_modules/kilns/index.d.ts")], ..Shelves::default() };
    for (import, way) in [
        ("import type { Kiln } from './kiln'", "a file beside"),
        ("import type { Kiln } from './kiln.js'", "a file beside, by the name it will have"),
        ("import { type Kiln } from './barrel'", "passed on by name"),
        ("import type { Furnace as Kiln } from './barrel'", "passed on under another name"),
        ("import type { Kiln } from './all'", "passed on with all"),
        ("import type { Kiln } from '@/kiln'", "an alias"),
        ("import type { Kiln } from 'kilns'", "a package"),
    ] {
        let files = MemoryFiles::default()
            .with("src/A.vue", component(import))
            .with("src/kiln.ts", "export interface Kiln extends Heated { name: string }\nimport type { Heated } from './heated'\n")
            .with("src/heated.ts", "export type Heated = { hot?: boolean }")
            .with("src/barrel.ts", "export { type Kiln, type Kiln as Furnace } from './kiln'")
            .with("src/all.ts", "export * from './other'\nexport * from './kiln'")
            .with("src/other.ts", "export type Other = 1")
            .with("node_modules/kilns/index.d.ts", "export * from './kiln'")
            .with("node_modules/kilns/kiln.d.ts", "export interface Kiln { hot?: boolean; name: string }");
        let told = told_among("src/A.vue", files, &shelves);
        assert_eq!(told, "A (default)\n  hot?: boolean\n  name: text", "{way}");
    }
}

#[test]
fn a_circle_of_files_ends() {
    let files = MemoryFiles::default()
        .with(
            "A.vue",
            "<script setup lang=\"ts\">\nimport type { Kiln } from './a'\ndefineProps<Kiln>()\n</script>\n<template><p/></template>",
        )
        .with("a.ts", "export * from './b'\nexport type Loop = Loop")
        .with("b.ts", "export * from './a'\nexport * from './b'");
    assert_eq!(told_among("A.vue", files, &Shelves::default()), "A (default)\n  and more");
}

#[test]
fn slots_are_read_from_the_template() {
    let template = |t: &str| told("A.vue", &format!("<template>{t}</template>"));
    for (html, slots) in [
        ("<slot></slot>", "  slot default"),
        ("<slot/>", "  slot default"),
        ("<slot name=\"a\" :x=\"1\"/>", "  slot a exposes"),
        ("<slot name=\"a\" v-bind=\"all\"/>", "  slot a exposes"),
        ("<slot name='a' /><slot name='a' :x='1' />", "  slot a exposes"),
        ("<p title=\"<slot name='no'/>\">{{ '<slot>' }}</p><!-- <slot name=\"no\"/> --><slot name=\"yes\"/>", "  slot yes"),
        ("<p v-if=\"a\"><slot name=\"x\">fallback <slot name=\"y\"/></slot></p>", "  slot x\n  slot y"),
    ] {
        assert_eq!(template(html), format!("A (default)\n{slots}"), "{html}");
    }
}

#[test]
fn what_options_extend_and_mix_in_is_theirs() {
    let files = MemoryFiles::default()
        .with("src/Base.vue", "<script>\nexport default { name: 'Base', props: { label: String, tone: null }, emits: ['fire'] }\n</script>")
        .with("src/heat.js", "export const heat = { props: { heat: { type: Number, default: 600 } } }\nexport default { emits: ['cool'] }")
        .with(
            "src/Kiln.vue.d.ts",
            "interface KilnProps { tone?: 'ash' | 'shino' }\ndeclare const _default: { new (): { $props: KilnProps } }\nexport default _default",
        )
        .with(
            "src/Kiln.vue",
            "<template><p>{{ label }}</p></template>\n<script>\nimport Base from './Base.vue'\nimport cooling, { heat } from './heat.js'\nconst own = { props: ['shelf'] }\nexport default { extends: Base, mixins: [heat, cooling, own], props: { label: { type: String, required: true } } }\n</script>",
        );
    assert_told(
        &told_among("src/Kiln.vue", files, &Shelves::default()),
        r#"
        Kiln (default)
          label: text
          tone?: "ash" | "shino"
          heat?: number = 600
          shelf?: ?any?
          on fire (fire)
          on cool (cool)
        "#,
    );
}

#[test]
fn a_script_may_have_type_parameters() {
    let source = "<script setup lang=\"ts\" generic=\"T extends string | number, U extends { id: T }\">\ndefineProps<{ items: U[]; picked?: T }>()\nconst emit = defineEmits<{ pick: [item: U]; (e: 'drop' | 'lift', at: T): void }>()\n</script>\n<template><p/></template>";
    assert_told(
        &told("List.vue", source),
        r#"
        List (default)
          items: [{ id: (text or number) }]
          picked?: (text or number)
          on pick (pick)
          on drop (drop)
          on lift (lift)
        "#,
    );
}

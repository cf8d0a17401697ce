//! What Svelte components declare: runes with their types, snippets, bindable props; and the form of Svelte 4.

mod told;

use std::path::Path;

use fidelon_source::MemoryFiles;
use told::{Shelves, assert_told, told, told_among};

#[test]
fn typed_props_are_sorted_into_props_events_and_slots() {
    let source = r#"
<script lang="ts" module>
  export type Unit = 'C' | 'F'
</script>
<script lang="ts">
  import type { Snippet } from 'svelte'
  interface Props {
    /** What the firing is called. */
    label: string
    target: number
    unit?: Unit
    onfire?: (firing: { target: number }) => void
    onTargetSettled?: () => void
    children?: Snippet
    heading: Snippet
    row?: Snippet<[piece: string]>
    mark?: import('svelte').Snippet
    shelf?: import('svelte').Snippet<[number: string]>
  }
  let { label, target = $bindable(600), unit = 'C', onfire, onTargetSettled, children, heading, row, mark, shelf }: Props = $props()
  const reading = $derived(`${target}`)
  export function nudge(degrees: number) { target += degrees }
  export { reading }
</script>
{#if target < 3 && label}<p>{label}</p>{/if}
{@render children?.()}
<style>p { color: red }</style>
"#;
    assert_told(
        &told("KilnDial.svelte", source),
        r#"
        KilnDial (default)
          label: text // What the firing is called.
          target?: number = 600 two-way
          unit?: "C" | "F" = 'C'
          on target (bind:target) reports target
          on fire (onfire)
          on targetSettled (onTargetSettled)
          slot default
          slot heading
          slot row exposes
          slot mark
          slot shelf exposes
          member nudge
          member reading
        "#,
    );
}

#[test]
fn types_come_from_other_files_and_rest_props_leave_it_open() {
    let files = MemoryFiles::default()
        .with("ShelfCard.svelte", "<script lang='ts'>\nimport type { ShelfProps } from './shelf'\nlet { title, ...rest }: ShelfProps = $props()\n</script>\n<p {...rest}>{title}</p>")
        .with("shelf.ts", "import type { HTMLAttributes } from 'svelte/elements'\nexport interface ShelfProps extends HTMLAttributes<HTMLElement> { title?: string; capacity?: 2 | 4 }");
    assert_told(
        &told_among("ShelfCard.svelte", files, &Shelves::default()),
        "
        ShelfCard (default)
          title?: text
          capacity?: 2 | 4
          and more
        ",
    );
}

#[test]
fn without_types_the_pattern_and_the_markup_tell() {
    let source = "<script>\n  let { title = 'Shelf', onpick, children, footer, klass: inner } = $props()\n</script>\n<h2>{title}</h2>{@render children()}{@render footer?.(title)}";
    assert_told(
        &told("ShelfCard.svelte", source),
        "
        ShelfCard (default)
          title?: ?any? = 'Shelf'
          klass?: ?any?
          on pick (onpick)
          slot default
          slot footer exposes
        ",
    );
}

#[test]
fn the_form_of_svelte_4() {
    let source = r#"
<script lang="ts">
  import { createEventDispatcher } from 'svelte'
  /** What the vent is called. */
  export let label: string
  export let open = false
  export let query = ''
  export let limit: number | undefined = undefined
  export const size = 4
  let klass = ''
  export { klass as class }
  const dispatch = createEventDispatcher<{ turned: { on: boolean } }>()
  export function reset() { open = false }
  const say = () => dispatch('told')
</script>
<button class={klass} on:click on:focus={say}><slot>{label}</slot></button>
<input bind:value={query}>
{#if limit === 1}<slot name="note" {open}>No note</slot>{/if}
"#;
    assert_told(
        &told("Vent.svelte", source),
        "
        Vent (default)
          label: text // What the vent is called.
          open?: boolean = false two-way
          query?: text = '' two-way
          limit?: number
          class?: text = ''
          on open (bind:open) reports open
          on query (bind:query) reports query
          on turned (on:turned)
          on told (on:told)
          on click (on:click)
          slot default
          slot note exposes
          member size
          member reset
        ",
    );
}

#[test]
fn a_script_with_a_syntax_error_leaves_it_open() {
    assert_told(&told("A.svelte", "<script>let { = $props()</script><p/>"), "A (default)\n  and more");
}

#[test]
fn comments_type_the_older_form_and_its_events() {
    let source = r#"
<script>
  /**
   * @typedef {{ id: string; heat?: number }} Kiln
   * @event {{ toggled: boolean }} toggle - it was turned over
   * @event {null} clear
   */
  import { createEventDispatcher } from 'svelte'
  /** @type {"start" | "end"} */
  export let align = "end"
  /** @type {ReadonlyArray<Kiln>} */
  export let kilns = []
  /** @type {*} */
  export let anything = null
  export let id = "kiln-" + Math.random().toString(36)
  const MOST = 3
  export let most = MOST
  function every() { return true }
  export let filter = every
  export let shown = (kiln) => kiln.id
  export let opened = () => {}
  const dispatch = createEventDispatcher()
</script>
<button on:click={() => dispatch('toggle', { toggled: true })} on:focus={() => { dispatch("fire") }}>{align}</button>
"#;
    assert_told(
        &told("Kiln.svelte", source),
        r#"
        Kiln (default)
          align?: "start" | "end" = "end"
          kilns?: [{ id: text, heat?: number }] = []
          anything?: ?any? = null
          id?: text = "kiln-" + Math.random().toString(36)
          most?: number = MOST
          filter?: ?function? = every
          shown?: ?function? = (kiln) => kiln.id
          opened?: function = () => {}
          on toggle (on:toggle)
          on clear (on:clear)
          on fire (on:fire)
        "#,
    );
}

#[test]
fn type_parameters_are_what_they_must_extend() {
    let source = "<script lang=\"ts\" generics=\"T extends { name: string }, K extends keyof T\">\n  let { items, by }: { items: T[]; by?: K } = $props()\n</script>\n<p>{by}</p>";
    assert_told(
        &told("List.svelte", source),
        r#"
        List (default)
          items: [{ name: text }]
          by?: "name"
        "#,
    );
}

#[test]
fn what_is_exported_twice_is_one_prop_more_and_what_is_commented_out_is_nothing() {
    let source = "<!--\n<script>\n  export let gone = 1\n</script>\n-->\n<script>\n  export let klass = 'sign'\n  export { klass as class }\n</script>\n<p class={klass}></p>\n";
    assert_told(
        &told("Sign.svelte", source),
        "
        Sign (default)
          klass?: text = 'sign'
          class?: text = 'sign'
        ",
    );
}

#[test]
fn what_was_published_without_types_is_told_by_the_declaration_beside_it() {
    for class in ["SvelteComponent", "SvelteComponentTyped"] {
        let declared = format!(
            "import {{ {class} }} from 'svelte'\ndeclare const __propDef: {{ props: {{ [x: string]: any; heat?: number | undefined; unit?: 'C' | 'F' | undefined; label?: string }}; events: {{}}; slots: {{}} }}\nexport type Props = typeof __propDef.props\nexport default class Dial extends {class}<Props> {{}}"
        );
        let files = MemoryFiles::default()
            .with(
                "Dial.svelte",
                "<script>\nexport let heat = void 0\nexport let unit = 'C'\nexport let label = ''\n</script>\n<p>{heat}{unit}{label}</p>",
            )
            .with("Dial.svelte.d.ts", declared);
        let shelves = Shelves { files: vec![("./Dial.svelte.d.ts", "Dial.svelte.d.ts")], ..Shelves::default() };
        let told = told_among("Dial.svelte", files, &shelves);
        for line in ["heat?: number", "unit?: \"C\" | \"F\" = 'C'", "label?: text = ''"] {
            assert!(told.contains(line), "{class}: {told}");
        }
    }
}

#[test]
fn what_stands_where_a_slot_is_filled_is_no_fallback() {
    let told = |markup: &str| {
        let files = MemoryFiles::default().with("Shelf.svelte", markup);
        let read = fidelon_reader::surfaces(&files, &Shelves::default(), Path::new("Shelf.svelte"), "Shelf.svelte").expect("it reads");
        read[0].slots[0].fallback.clone()
    };
    assert_eq!(told("<slot name=\"head\">Nothing yet</slot>").as_deref(), Some("Nothing yet"));
    assert_eq!(told("{#if $$slots.head}<header><slot name=\"head\">Nothing yet</slot></header>{/if}"), None);
    assert_eq!(told("{#if $$slots.head}<hr>{/if}<slot name=\"head\">Nothing yet</slot>").as_deref(), Some("Nothing yet"));
    assert_eq!(told("{#if $$slots.heading}<hr>{/if}<slot name=\"head\">Nothing yet</slot>").as_deref(), Some("Nothing yet"));
}

//! What slots show while they are empty, what they hand over, and what events of elements carry: as far as the source says.

mod told;

use std::path::Path;

use fidelon_core::surface::{Surface, Type};
use fidelon_reader::surfaces;
use fidelon_source::MemoryFiles;
use told::Shelves;

fn read(name: &str, source: &str, jsx: &'static str) -> Surface {
    let shelves = Shelves { jsx, ..Shelves::default() };
    let found = surfaces(&MemoryFiles::default().with(name, source), &shelves, Path::new(name), name).expect("can be read");
    found.into_iter().next().expect("a component")
}

fn fallback(surface: &Surface, slot: &str) -> Option<String> {
    surface.slot(slot).unwrap_or_else(|| panic!("{slot}: {surface:?}")).fallback.clone()
}

#[test]
fn jsx_says_in_expressions_what_an_empty_slot_shows() {
    let card = |body: &str| {
        let source = format!(
            "import type {{ ReactNode }} from 'react'\nexport default function Card({{ title, children }}: {{ title: string; children?: ReactNode }}) {{ return {body} }}"
        );
        fallback(&read("Card.tsx", &source, "react"), "default")
    };
    for (body, wanted) in [
        ("<p>{children ?? 'Nothing yet'}</p>", Some("Nothing yet")),
        ("<p>{children || <b>Nothing <i>yet</i></b>}</p>", Some("Nothing yet")),
        ("<p>{children ? children : <>Nothing{' yet'}</>}</p>", Some("Nothing yet")),
        ("<p>{children ?? 'Nothing yet'}{children && <hr />}</p>", Some("Nothing yet")),
        ("<p>{!children && <hr />}{children ?? 'Nothing yet'}</p>", Some("Nothing yet")),
        ("<p>{children ?? title}</p>", None),
        ("<p>{children ?? <Empty>Nothing</Empty>}</p>", None),
        ("<p>{children ?? <b>No {title}</b>}</p>", None),
        ("<p>{title ? children : 'Nothing yet'}</p>", None),
        ("title ? <i>{children}</i> : <p>{children ?? 'Nothing yet'}</p>", None),
        ("<p>{children}</p>", None),
    ] {
        assert_eq!(card(body).as_deref(), wanted, "{body}");
    }
    let other = "export function Lid({ children }) { return <i>{children}</i> }\nexport default function Card(props: { children?: React.ReactNode }) { return <p>{props.children ?? 'None'}</p> }";
    let found =
        surfaces(&MemoryFiles::default().with("Card.tsx", other), &Shelves::default(), Path::new("Card.tsx"), "Card.tsx").expect("reads");
    let of = |name: &str| found.iter().find(|s| s.name == name).map(|s| fallback(s, "default"));
    assert_eq!((of("Lid"), of("Card")), (Some(None), Some(Some("None".into()))), "each component by itself");
}

#[test]
fn solid_resolves_its_children_first() {
    let source = "import { children, mergeProps, Show, type JSX } from 'solid-js'\n\
        export default function Card(given: { title?: string; children?: JSX.Element; note?: JSX.Element }) {\n\
          const props = mergeProps({ title: 'Shelf' }, given)\n  const pieces = children(() => props.children)\n\
          return <p>{pieces() ?? <i>No pieces</i>}<Show when={pieces()}><hr /></Show>{given.note ?? 'No note'}</p>\n}";
    let card = read("Card.tsx", source, "solid-js");
    assert_eq!((fallback(&card, "default").as_deref(), fallback(&card, "note").as_deref()), (Some("No pieces"), Some("No note")));
}

#[test]
fn markup_and_templates_say_it_too() {
    let svelte = "<script lang=\"ts\">\n  import type { Snippet } from 'svelte'\n  let { children, note }: { children?: Snippet; note?: Snippet } = $props()\n</script>\n\
        <p>{#if children}{@render children()}{:else}<b>No pieces</b>{/if}{@render note?.()}</p>";
    let card = read("Card.svelte", svelte, "react");
    assert_eq!((fallback(&card, "default").as_deref(), fallback(&card, "note")), (Some("No pieces"), None));

    let element = "class Shelf extends HTMLElement { constructor() { super(); this.attachShadow({ mode: 'open' }).innerHTML =\n\
        '<slot name=\"heading\"><b>Shelf</b></slot><slot>No ' + 'pieces</slot><slot name=note></slot>' } }\ncustomElements.define('a-shelf', Shelf)";
    let shelf = read("shelf.js", element, "react");
    assert_eq!(fallback(&shelf, "heading").as_deref(), Some("Shelf"));
    assert_eq!((fallback(&shelf, "default"), fallback(&shelf, "note")), (None, None), "code between is no text");
}

#[test]
fn templates_of_angular_are_told_names() {
    let source = "import { Component, ContentChild, contentChild, TemplateRef } from '@angular/core'\n\
        @Component({ selector: 'a-shelf', template: '' })\nexport class Shelf {\n\
          footer = contentChild<TemplateRef<{ count: number; room: number }>>('footer')\n\
          @ContentChild('note') note?: TemplateRef<{ $implicit: string }> | null\n}";
    let shelf = read("shelf.ts", source, "react");
    let hands = |slot: &str| shelf.slot(slot).expect("there").hands.clone();
    assert_eq!(hands("footer"), ["count", "room"]);
    assert_eq!(hands("note"), ["$implicit"]);
}

#[test]
fn what_events_of_elements_carry() {
    let source = "/** @fires {CustomEvent<number>} turned - degrees */\n\
        class Dial extends HTMLElement {\n  a() { this.dispatchEvent(new CustomEvent<string>('named', {})); this.dispatchEvent(new CustomEvent<void>('closed')); this.dispatchEvent(new CustomEvent('turned')) }\n}\n\
        customElements.define('a-dial', Dial)";
    let dial = read("dial.ts", source, "react");
    let of = |name: &str| dial.events.iter().find(|e| e.name == name).and_then(|e| e.payload.clone());
    assert_eq!((of("turned"), of("named"), of("closed")), (Some(vec![Type::Number]), Some(vec![Type::String]), Some(Vec::new())));
    let nested = "/**\n * @fires {CustomEvent<{ id: number }>} taken - which\n */\nclass List extends HTMLElement {}\ncustomElements.define('a-list', List)";
    let list = read("list.js", nested, "react");
    let told = list.events.first().and_then(|e| e.payload.as_ref()).expect("it carries something");
    assert!(matches!(told.as_slice(), [Type::Object { fields }] if fields.len() == 1), "{told:?}");
}

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
fn for_is_one_id() {
    let studio = Studio::new().with(
        "Field.vue",
        "<script setup lang=\"ts\">\ndefineProps<{ fieldId: string; tall?: boolean }>()\n</script>\n<template><div><label :for=\"'cone ' + fieldId\">Cone</label><input :id=\"'cone ' + fieldId\" aria-label=\"Cone\"></div></template>\n",
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

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

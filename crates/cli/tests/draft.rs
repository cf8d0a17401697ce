//! `fidelon draft` and `fidelon survey`: what is written and what is told, of every framework.

mod studio;

use serde_json::Value as Json;
use studio::{Studio, kit};

#[test]
fn a_draft_tells_what_a_dial_does_and_holds() {
    // Of an element nobody tells what its properties take.
    let told = ["--with", "target=600", "--with", "target=0", "--with", "step=25"];
    for (file, with) in [("vue/KilnDial.vue", &[][..]), ("solid/KilnDial.tsx", &[]), ("elements/KilnDial.js", &told)] {
        let studio = Studio::new().with("solid/tsconfig.json", kit("solid/tsconfig.json")).with(file, kit(file));
        let run = studio.run(&[&["draft", file], with].concat());
        assert_eq!(run.code, 0, "{}{}", run.out, run.err);
        let folder = file.split('/').next().expect("a folder");
        let text = std::fs::read_to_string(studio.path(&format!("{folder}/KilnDial.contract.yaml"))).expect("written");
        for wanted in [
            "text: .reading\n        is: \"${target} °${unit",
            "is: ${!locked}",
            "value: spinbutton \"Target\"\n        is: ${target}",
            "bound: target\n        is: 7",
            "emitted: fire",
            "emitted: nothing",
            "# observed",
            "  nudge: function",
        ] {
            assert!(text.contains(wanted), "{file}: {wanted}\n{text}");
        }
        let run = studio.run(&["check", folder]);
        assert_eq!(run.code, 0, "{file}: {}{}", run.out, run.err);
        // What an attribute falls back to no source tells.
        let payload = text.contains("(step ?? 10)") && text.contains("unit: \"${unit ?? \\\"C\\\"}\" }");
        assert_eq!(payload, folder != "elements", "{text}");
        // A fault that comes later is found by what was observed before.
        let broken = kit(file)
            .replace("disabled={props.locked}", "")
            .replace(":disabled=\"locked\"", "")
            .replace("control.disabled = this.locked", "");
        let run = studio.with(file, broken).run(&["check", folder]);
        assert!(run.code == 1 && run.out.contains("can be used as the props say"), "{file}: {}", run.out);
    }
}

#[test]
fn drafts_of_slots_states_and_what_the_source_does_not_tell() {
    let studio = Studio::new()
        .with("ShelfCard.svelte", kit("svelte/ShelfCard.svelte"))
        .with("VentSwitch.tsx", kit("react/VentSwitch.tsx"))
        .with("Ledger.jsx", "export function Ledger({ pieces }) {\n  return <ol>{pieces.map((p) => <li key={p}>{p}</li>)}</ol>\n}\n")
        .with("Odd.vue", "<script setup>\ndefineProps({ text: String })\n</script>\n<template><p>{{ text.length }}</p></template>\n");
    let draft = |args: &[&str]| studio.run(&[&["draft", "--to", "-"], args].concat());
    let shelf = draft(&["ShelfCard.svelte"]);
    for wanted in
        ["is: \"${count ?? 0} of ${capacity ?? 3}\"", "where: slots.default === null\n    expect:\n      - text: .empty", "- fills: footer"]
    {
        assert!(shelf.out.contains(wanted), "{wanted}\n{}", shelf.out);
    }
    let vent = draft(&["VentSwitch.tsx"]);
    assert!(
        vent.out.contains("ticked: .vent-switch\n        is: ${open ?? false}") && vent.out.contains("is: ${!(open ?? false)}"),
        "{}",
        vent.out
    );
    // Nobody knows what the list holds: it is asked for, and taken.
    let ledger = Studio::new()
        .with("tsconfig.json", "{}")
        .with("Ledger.tsx", "interface Props { pieces: Foreign }\nexport function Ledger({ pieces }: Props) {\n  return <ol className=\"all\">{(pieces as string[]).length} of <b>{(pieces as string[])[0]}</b></ol>\n}\n");
    let run = ledger.run(&["draft", "Ledger.tsx"]);
    assert!(run.code == 2 && run.err.contains("--with pieces=…"), "{}", run.err);
    let run = ledger.run(&["draft", "Ledger.tsx", "--with", "pieces=[\"Mug\"]", "--with", "pieces=[\"Bowl\",\"Vase\"]"]);
    assert_eq!(run.code, 0, "{}", run.err);
    assert_eq!(ledger.run(&["check", "Ledger.contract.yaml"]).code, 0);
    // What breaks a law as it is says so in the draft.
    let odd = draft(&["Odd.vue"]);
    assert!(odd.code == 0 && odd.out.contains("render/succeeds: { off: true, because: not looked at yet }"), "{}{}", odd.out, odd.err);
    assert!(odd.err.contains("broken as it is now: render/succeeds"), "{}", odd.err);
}

#[test]
fn a_draft_overwrites_nothing() {
    let studio = Studio::new().with("Lamp.vue", "<template><p>Lamp</p></template>").with("Lamp.contract.yaml", "mine");
    let run = studio.run(&["draft", "Lamp.vue"]);
    assert!(run.code == 2 && run.err.contains("`Lamp.contract.yaml` is there already"), "{}", run.err);
    assert_eq!(std::fs::read_to_string(studio.path("Lamp.contract.yaml")).expect("there"), "mine");
    assert_eq!(studio.run(&["draft", "Lamp.vue", "--to", "Other.contract.yaml"]).code, 0);
    assert!(studio.path("Other.contract.yaml").is_file());
    for (args, told) in [
        (&["draft", "Gone.vue"][..], "`Gone.vue`: there is no such file"),
        (&["draft", "Lamp.vue", "--to", "-", "--with", "heat=1"], "`heat` is no prop of Lamp"),
        (&["draft", "Lamp.contract.yaml", "--to", "-"], "is no component"),
    ] {
        let run = studio.run(args);
        assert!(run.code == 2 && run.err.contains(told), "{}", run.err);
    }
}

#[test]
fn a_survey_tells_what_is_declared() {
    let studio = Studio::new()
        .with("src/KilnDial.svelte", kit("svelte/KilnDial.svelte"))
        .with("src/kiln-dial.ts", kit("angular/kiln-dial.ts"))
        .with("src/KilnDial.js", kit("elements/KilnDial.js"))
        .with("src/built/Old.vue", "<template/>")
        .with(".gitignore", "built\n");
    let run = studio.run(&["survey"]);
    assert_eq!(run.code, 0, "{}", run.err);
    assert!(run.out.contains("src/KilnDial.svelte  svelte\n  props    label, target ↔, unit?, locked?, step?\n  events   fire\n  members  nudge, reset, reading\n"), "{}", run.out);
    assert!(run.out.contains("\n3 components: 1 angular, 1 element, 1 svelte") && !run.out.contains("Old.vue"), "{}", run.out);
    let one = studio.run(&["survey", "src/kiln-dial.ts"]);
    for line in [
        "props    label   string, required\n                   What the firing is called.",
        "unit    \"C\" | \"F\", else 'C'",
        "events   fire  { target: number; unit: \"C\" | \"F\" }",
        "members  reading\n           nudge",
    ] {
        assert!(one.out.contains(line), "{line}\n{}", one.out);
    }
    let json: Json = serde_json::from_str(&studio.run(&["survey", "--json", "-"]).out).expect("JSON");
    assert_eq!(json["components"][0]["framework"], "element");
    assert_eq!(
        json["components"][1]["props"][1],
        serde_json::json!({ "name": "target", "type": { "is": "number" }, "required": true, "default": null, "two_way": true, "about": "Degrees that the kiln climbs to.",
            "source": { "file": "src/KilnDial.svelte", "line": 6, "column": 5 } })
    );
    // A change is seen, what is kept from before or not.
    let studio = studio.with("src/KilnDial.svelte", "<script>let { heat } = $props()</script>");
    let again = studio.run(&["survey"]);
    assert!(again.out.contains("src/KilnDial.svelte  svelte\n  props    heat?\n"), "{}", again.out);
    assert_eq!(studio.run(&["survey", "gone"]).code, 2);
}

#[test]
fn custom_elements_go_out_as_a_manifest() {
    let studio = Studio::new().with("KilnDial.js", kit("elements/KilnDial.js"));
    assert_eq!(studio.run(&["survey", "--manifest", "custom-elements.json"]).code, 0);
    let text = std::fs::read_to_string(studio.path("custom-elements.json")).expect("written");
    let manifest: Json = serde_json::from_str(&text).expect("JSON");
    assert_eq!(manifest["schemaVersion"], "2.1.0");
    let module = &manifest["modules"][0];
    assert_eq!(module["exports"][0]["declaration"], serde_json::json!({ "name": "KilnDial", "module": "KilnDial.js" }));
    let element = &module["declarations"][0];
    assert_eq!((&element["tagName"], &element["customElement"]), (&Json::from("kiln-dial"), &Json::from(true)));
    let unit = element["members"].as_array().expect("members").iter().find(|m| m["name"] == "unit").expect("declared");
    assert_eq!(unit["type"]["text"], "\"C\" | \"F\"");
    assert!(element["events"].as_array().expect("events").iter().any(|e| e["name"] == "target-change"), "{element:#}");
}

//! `fidelon check` as CI runs it: the results file and its schema, exit codes, the same bytes every time.

mod studio;

use studio::{Studio, kit};

/// Two sound components, two flawed ones, one that cannot be loaded, and a contract with a fault.
fn mixed() -> Studio {
    Studio::new()
        .with("VentSwitch.vue", kit("vue/VentSwitch.vue"))
        .with("GlazeBadge.tsx", kit("react/GlazeBadge.tsx"))
        .with("DoubledCard.vue", kit("flawed/DoubledCard.vue"))
        .with("DoubledCard.contract.yaml", kit("flawed/DoubledCard.contract.yaml"))
        .with("StaleDial.vue", kit("flawed/StaleDial.vue"))
        .with("Lost.vue", "<script setup>\nimport x from './nowhere'\n</script>\n<template><p>{{ x }}</p></template>\n")
        .with("Shelf.vue", "<template><p>Mug</p></template>")
        .with("Shelf.contract.yaml", "component: ./Shelf.vue\nclauses:\n  - clause: has a piece\n    expct: [{ count: p, is: 1 }]\n")
}

#[test]
fn results_keep_to_their_schema() {
    let schema = std::fs::read_to_string(concat!(env!("CARGO_MANIFEST_DIR"), "/../../docs/results.schema.json")).expect("there");
    let schema: serde_json::Value = serde_json::from_str(&schema).expect("JSON");
    let validator = jsonschema::validator_for(&schema).expect("a schema");
    let results = mixed().results(&[]);
    let errors: Vec<String> = validator.iter_errors(&results).map(|e| format!("{}: {e}", e.instance_path())).collect();
    assert!(errors.is_empty(), "{errors:#?}");
    let verdicts: Vec<_> = results["components"].as_array().expect("a list").iter().map(|c| c["verdict"].as_str().unwrap_or("")).collect();
    for verdict in ["holds", "broken", "unjudged"] {
        assert!(verdicts.contains(&verdict), "every kind of entry was there to be looked at: {verdicts:?}");
    }
    assert!(!results["faults"].as_array().expect("a list").is_empty());
    let mut wrong = results.clone();
    wrong["components"][0]["verdict"] = "fine".into();
    assert!(!validator.is_valid(&wrong), "the schema tells right from wrong");
}

#[test]
fn a_finding_has_the_shape_that_was_promised() {
    let results = Studio::new()
        .with("DoubledCard.vue", kit("flawed/DoubledCard.vue"))
        .with("DoubledCard.contract.yaml", kit("flawed/DoubledCard.contract.yaml"))
        .results(&[]);
    let finding = &results["components"][0]["findings"][0];
    assert_eq!(finding["rule"], "each piece stands in one place");
    assert_eq!(finding["kind"], "clause");
    assert_eq!(finding["cause"], serde_json::json!([{ "prop": "wide", "is": true }, { "prop": "framed", "is": true }]));
    assert_eq!((&finding["expected"], &finding["actual"]), (&"1".into(), &"2".into()));
    assert_eq!(results["totals"]["broken"], 1);
    assert_eq!(results["components"][0]["coverage"]["pairs"]["met"], results["components"][0]["coverage"]["pairs"]["of"]);
}

#[test]
fn the_same_bytes_come_back_whatever_the_threads_and_the_cache() {
    let studio = mixed();
    let first = studio.run(&["check", "--json", "-", "--jobs", "1"]);
    for args in [&["--jobs", "1"][..], &["--jobs", "4"], &["--jobs", "4", "--no-cache"], &["--jobs", "3", "--fresh"]] {
        let again = studio.run(&[&["check", "--json", "-"], args].concat());
        assert_eq!(again.code, first.code, "{args:?}");
        assert!(again.out == first.out, "{args:?}: {}", difference(&first.out, &again.out));
    }
    let report = studio.run(&["check"]).out;
    assert_eq!(studio.run(&["check", "--jobs", "4"]).out, report);
    assert!(!report.contains('\u{1b}'), "no colour where there is no terminal");
}

fn difference(a: &str, b: &str) -> String {
    a.lines().zip(b.lines()).find(|(a, b)| a != b).map_or("in length".into(), |(a, b)| format!("{a} / {b}"))
}

#[test]
fn exit_codes_say_what_came_of_it() {
    let studio = mixed().with("Hung.vue", "<script setup>\nfor (;;) {}\n</script>\n<template><p/></template>\n");
    for (paths, code) in [
        (&["VentSwitch.vue", "GlazeBadge.tsx"][..], 0),
        (&["VentSwitch.vue", "DoubledCard.vue"], 1),
        (&["StaleDial.vue"], 1),
        (&["VentSwitch.vue", "Lost.vue"], 2),
        (&["VentSwitch.vue", "Shelf.vue"], 2),
        (&["VentSwitch.vue", "nowhere.vue"], 2),
        (&["VentSwitch.vue", "Hung.vue"], 3),
    ] {
        let run = studio.run(&[&["check", "--deadline", "500"], paths].concat());
        assert_eq!(run.code, code, "{paths:?}: {}{}", run.out, run.err);
        if !paths.contains(&"nowhere.vue") {
            assert!(run.out.contains("✓ VentSwitch.vue") || !paths.contains(&"VentSwitch.vue"), "the others are judged: {}", run.out);
        }
    }
}

#[test]
fn results_go_to_a_file_whole_or_not_at_all() {
    let studio = Studio::new().with("VentSwitch.vue", kit("vue/VentSwitch.vue")).with("results.json", "old");
    let run = studio.run(&["check", "--json", "results.json"]);
    assert_eq!(run.code, 0, "{}", run.err);
    assert!(run.out.contains("1 component: 1 hold"), "the report is printed as well: {}", run.out);
    let written = std::fs::read_to_string(studio.path("results.json")).expect("written");
    assert_eq!(serde_json::from_str::<serde_json::Value>(&written).expect("JSON")["format"], 1);
    let run = studio.run(&["check", "--json", "no/such/folder/results.json"]);
    assert_eq!(run.code, 2);
    assert!(run.err.contains("no/such/folder/results.json"), "{}", run.err);
}

#[test]
fn two_runs_at_once_share_a_cache() {
    let studio = Studio::new().with("VentSwitch.vue", kit("vue/VentSwitch.vue")).with("GlazeBadge.tsx", kit("react/GlazeBadge.tsx"));
    let outputs: Vec<String> = std::thread::scope(|scope| {
        let runs: Vec<_> = (0..3).map(|_| scope.spawn(|| studio.run(&["check", "--json", "-"]))).collect();
        runs.into_iter().map(|r| r.join().expect("ran")).map(|r| format!("{} {}", r.code, r.out)).collect()
    });
    assert!(outputs.iter().all(|o| *o == outputs[0] && o.starts_with("0 ")), "{outputs:#?}");
}

#[test]
fn help_teaches() {
    let studio = Studio::empty();
    for (args, parts) in [
        (&["--help"][..], &["check", "render", "demo", "Exit codes", "fidelon demo"][..]),
        (&["check", "--help"], &["--json", "--jobs", "--fresh", "--deadline", "Without a contract"]),
        (&["render", "--help"], &["--with", "--fill", "--as", "title=Hello"]),
        (&["demo", "--help"], &["offline"]),
    ] {
        let run = studio.run(args);
        assert_eq!(run.code, 0);
        for part in parts {
            assert!(run.out.contains(part), "{args:?} tells of {part}: {}", run.out);
        }
    }
    let wrong = studio.run(&["chekc"]);
    assert_eq!(wrong.code, 2);
    assert!(wrong.err.contains("check"), "{}", wrong.err);
    let nothing = studio.run(&["check"]);
    assert!(nothing.out.contains("No component was found"), "{}", nothing.out);
}

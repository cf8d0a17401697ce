//! Results for machines: JUnit XML, SARIF and annotations, held to their published schemas and to what is in the results.

mod studio;

use std::process::Command;

use studio::{Studio, kit};

/// A sound component, one that breaks a clause and a law, one that cannot be loaded, a contract with a fault.
fn mixed() -> Studio {
    Studio::new()
        .with("src/VentSwitch.vue", kit("vue/VentSwitch.vue"))
        .with("src/DoubledCard.vue", kit("flawed/DoubledCard.vue"))
        .with("src/DoubledCard.contract.yaml", kit("flawed/DoubledCard.contract.yaml"))
        .with("src/Lost & found, 1.vue", "<script setup>\nimport x from './nowhere'\n</script>\n<template><p>{{ x }}</p></template>\n")
        .with("src/Shelf.vue", "<template><p>Mug</p></template>")
        .with(
            "src/Shelf.contract.yaml",
            "component: ./Shelf.vue\nclauses:\n  - clause: has a <piece> & \"more\"\n    expct: [{ count: p, is: 1 }]\n",
        )
}

fn read(studio: &Studio, file: &str) -> String {
    std::fs::read_to_string(studio.path(file)).expect(file)
}

#[test]
fn sarif_keeps_to_its_schema_and_tells_what_broke() {
    let studio = mixed();
    let run = studio.run(&["check", "src", "--sarif", "out.sarif"]);
    assert_eq!(run.code, 2, "a file is wrong: {}", run.err);
    let log: serde_json::Value = serde_json::from_str(&read(&studio, "out.sarif")).expect("JSON");
    // One pattern ends with a bracket that only ECMAScript takes for itself.
    let schema = include_str!("schemas/sarif-2.1.0.json").replace("[a-zA-Z]{2}]?$", "[a-zA-Z]{2}\\\\]?$");
    let schema: serde_json::Value = serde_json::from_str(&schema).expect("JSON");
    let validator = jsonschema::validator_for(&schema).expect("a schema");
    let errors: Vec<String> = validator.iter_errors(&log).map(|e| format!("{}: {e}", e.instance_path())).collect();
    assert!(errors.is_empty(), "{errors:#?}");
    let run = &log["runs"][0];
    let results = run["results"].as_array().expect("a list");
    let ids: Vec<_> = results.iter().map(|r| r["ruleId"].as_str().unwrap_or_default()).collect();
    assert_eq!(ids, ["contract/clause", "slot/once"]);
    for result in results {
        let index = usize::try_from(result["ruleIndex"].as_u64().expect("a number")).expect("small");
        assert_eq!(run["tool"]["driver"]["rules"][index]["id"], result["ruleId"]);
    }
    let clause = &results[0];
    assert_eq!(clause["properties"]["cause"], "wide and framed");
    assert_eq!(clause["locations"][0]["physicalLocation"]["artifactLocation"]["uri"], "src/DoubledCard.contract.yaml");
    assert_eq!(clause["locations"][0]["physicalLocation"]["region"]["startLine"], 17);
    let told = run["invocations"][0]["toolExecutionNotifications"].as_array().expect("a list");
    let levels: Vec<_> = told
        .iter()
        .map(|n| (n["level"].as_str().unwrap_or_default(), &n["locations"][0]["physicalLocation"]["artifactLocation"]["uri"]))
        .collect();
    assert!(levels.iter().any(|(level, uri)| *level == "error" && **uri == "src/Shelf.contract.yaml"), "{levels:?}");
    assert!(levels.iter().any(|(level, uri)| *level == "warning" && **uri == "src/Lost%20&%20found,%201.vue"), "{levels:?}");
    assert_eq!(run["invocations"][0]["executionSuccessful"], false);
}

#[test]
fn junit_keeps_to_its_schema_and_counts_every_promise() {
    let studio = mixed();
    let results = studio.results(&["src", "--junit", "out.xml"]);
    let xml = read(&studio, "out.xml");
    let (mut tests, mut failures) = (0, 0);
    for component in results["components"].as_array().expect("a list") {
        let rules = || ["clauses", "laws"].iter().flat_map(|k| component[k].as_array().into_iter().flatten());
        tests += rules().count() + usize::from(!component["reason"].is_null());
        failures += rules().filter(|r| r["verdict"] == "broken").count();
    }
    let faults = results["faults"].as_array().map_or(0, Vec::len);
    let errors = faults + results["totals"]["unjudged"].as_u64().and_then(|n| usize::try_from(n).ok()).unwrap_or(0);
    tests += faults;
    assert!(xml.contains(&format!("tests=\"{tests}\" failures=\"{failures}\" errors=\"{errors}\"")), "{tests} {failures}: {}", &xml[..200]);
    assert!(
        xml.contains("breaks exactly when wide and framed (broke in 1 of 4 cases)") && xml.contains("fidelon replay DoubledCard@"),
        "{xml}"
    );
    let schema = concat!(env!("CARGO_MANIFEST_DIR"), "/tests/schemas/junit-10.xsd");
    let Ok(run) = Command::new("xmllint").args(["--noout", "--schema", schema]).arg(studio.path("out.xml")).output() else {
        return studio::passed_over("xmllint is not here: the file was not held to its schema");
    };
    assert!(run.status.success(), "{}", String::from_utf8_lossy(&run.stderr));
}

#[test]
fn lines_and_annotations_name_file_line_and_column() {
    let studio = mixed();
    let lines = studio.run(&["check", "src", "--format", "lines"]);
    let told: Vec<&str> = lines.out.lines().collect();
    assert!(told.iter().any(|l| l.starts_with("src/Shelf.contract.yaml:4:5: error: ")), "{told:#?}");
    assert!(
        told.iter().any(|l| l.starts_with("src/Lost & found, 1.vue:2:") && l.contains(": warning: ")
            || l.starts_with("src/Lost & found, 1.vue:1:1: warning: ")),
        "{told:#?}"
    );
    assert!(
        told.iter()
            .any(|l| l
                .starts_with("src/DoubledCard.contract.yaml:17:13: error: “each piece stands in one place” breaks when wide and framed:")),
        "{told:#?}"
    );
    let annotations = studio.run(&["check", "src", "--format", "annotations"]);
    assert_eq!(annotations.out.lines().count(), told.len());
    let of = |start: &str| annotations.out.lines().any(|l| l.starts_with(start));
    // Commas and colons in names would end the property.
    assert!(of("::error file=src/DoubledCard.contract.yaml,line=17,col=13,title=src/DoubledCard.vue::“each piece"), "{}", annotations.out);
    assert!(annotations.out.contains("file=src/Lost & found%2C 1.vue,"), "{}", annotations.out);
    assert_eq!((lines.code, annotations.code), (2, 2));
    // Where all holds there is nothing to tell.
    let quiet = studio.run(&["check", "src/VentSwitch.vue", "--format", "lines"]);
    assert_eq!((quiet.out.as_str(), quiet.code), ("", 0));
    // What cannot be written to is told.
    let run = studio.run(&["check", "src/VentSwitch.vue", "--junit", "nowhere/out.xml"]);
    assert!(run.code == 2 && run.err.contains("nowhere/out.xml"), "{}", run.err);
}

#[test]
fn a_place_that_cannot_be_written_to_costs_no_findings() {
    let studio = mixed().with("taken", "a file");
    for (args, what) in
        [(["--html", "taken"], "is a file"), (["--html", "taken/report"], "taken/report"), (["--json", "taken/out.json"], "taken/out.json")]
    {
        let run = studio.run(&[&["check", "src/DoubledCard.vue"][..], &args].concat());
        assert!(run.code == 2 && run.err.contains(what), "{args:?}: {}", run.err);
        // A folder that cannot be is told before the work is done, a file after what was found.
        assert_eq!(run.out.contains("each piece stands in one place"), args[0] == "--json", "{args:?}: {}", run.out);
    }
    assert_eq!(read(&studio, "taken"), "a file");
    // A disk that is full, where this system lets us have one.
    let full = studio.path("full");
    std::fs::create_dir(&full).expect("made");
    let mounted =
        Command::new("mount").args(["-t", "tmpfs", "-o", "size=32k", "tmpfs"]).arg(&full).output().is_ok_and(|o| o.status.success());
    if !mounted {
        return studio::passed_over("no file system of 32 KiB can be mounted here");
    }
    let run = studio.run(&["check", "src/DoubledCard.vue", "--html", "full/report"]);
    let left: Vec<_> =
        std::fs::read_dir(full.join("report")).expect("there").flatten().map(|e| e.file_name().to_string_lossy().into_owned()).collect();
    let _ = Command::new("umount").arg(&full).output();
    assert!(run.code == 2 && run.err.contains("full/report") && run.out.contains("each piece"), "{}{}", run.out, run.err);
    assert!(!left.contains(&"index.html".to_owned()), "no page without what it reads: {left:?}");
}

#[test]
fn a_component_that_logs_without_measure_is_judged() {
    let studio = Studio::new().with(
        "Loud.vue",
        "<script setup>\nimport { onMounted } from 'vue'\nonMounted(() => { for (let i = 0; i < 20; i++) console.log('x'.repeat(1e6)) })\n</script>\n<template><p>Loud</p></template>\n",
    );
    let run = studio.run(&["check", "--deadline", "60000", "--json", "-", "--effort", "quick"]);
    assert_eq!(run.code, 0, "{}{}", run.out, run.err);
    // What it said is not carried into results.
    assert!(run.out.len() < 20_000, "{}", run.out.len());
    let report = studio.run_with(&["check"], &[("COLUMNS", "40")]);
    assert!(report.out.lines().all(|l| l.chars().count() <= 40), "{}", report.out);
}

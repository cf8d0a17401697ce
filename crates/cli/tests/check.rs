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
    for args in [&["--jobs", "1"][..], &["--jobs", "4"], &["--jobs", "4", "--no-cache"], &["--jobs", "3", "--fresh", "--apart"]] {
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
        let run = studio.run(&[&["check", "--deadline", "2500"], paths].concat());
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
    assert!(run.out.contains("1 component: 1 holds"), "the report is printed as well: {}", run.out);
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

const LOG: &str = "<script setup>\nimport { onMounted, ref } from 'vue'\nconst props = defineProps({ kiln: { type: Number, required: true } })\nconst rows = ref(null)\nconst failed = ref(false)\n\
    const load = async () => {\n  failed.value = false\n  try {\n    const reply = await fetch(`/api/kilns/${props.kiln}/log?last=2`)\n    rows.value = await reply.json()\n  } catch { failed.value = true }\n}\nonMounted(load)\n\
    const note = (text) => fetch('/api/notes', { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify({ text }) })\n</script>\n\
    <template><p v-if=\"failed\" role=\"alert\">No log</p><p v-else-if=\"!rows\">Loading</p><ul v-else><li v-for=\"r in rows\" :key=\"r\">{{ r }}</li></ul><button @click=\"note('checked')\">Note</button><button @click=\"load\">Again</button></template>\n";

const LOG_CONTRACT: &str = "component: ./FiringLog.vue\nprops: { kiln: [1, 2, 3] }\nnetwork:\n\
    \x20 - on: GET /api/kilns/1/log\n    reply: { json: [\"600 °C\", \"610 °C\"], after: 5s }\n\
    \x20 - { on: GET /api/kilns/2/*, fail: true, after: 1s }\n\
    \x20 - { on: POST /api/notes, reply: { status: 201 } }\nlaws: { render/quiet: { off: true, because: the third kiln has no log } }\nclauses:\n\
    \x20 - clause: shows that it loads\n    hold: { kiln: 1 }\n    expect: [{ text: p, is: Loading }, { requested: GET /api/kilns/1/log, times: 1 }]\n\
    \x20 - clause: shows the rows in order\n    hold: { kiln: 1 }\n    do: [{ elapse: 5s }]\n    expect: [{ order: li, is: [600 °C, 610 °C] }, { requested: nothing }]\n\
    \x20 - clause: says that there is no log\n    hold: { kiln: 2 }\n    do: [{ elapse: 1s }]\n    expect: [{ text: role(alert), is: No log }]\n\
    \x20 - clause: posts a note once\n    hold: { kiln: 1 }\n    do: [{ press: button \"Note\" }]\n    expect: [{ requested: POST /api/notes, times: 1, with: { text: checked } }]\n\
    \x20 - clause: asks for nothing else\n    where: kiln === 3\n    expect: [{ present: button \"Again\" }]\n";

#[test]
fn requests_get_canned_replies_in_virtual_time() {
    let began = std::time::Instant::now();
    let results = Studio::new().with("FiringLog.vue", LOG).with("FiringLog.contract.yaml", LOG_CONTRACT).results(&[]);
    let component = &results["components"][0];
    let verdicts: Vec<_> = component["clauses"].as_array().expect("a list").iter().map(|c| c["verdict"].as_str().unwrap_or("")).collect();
    assert_eq!(verdicts, ["holds", "holds", "holds", "holds", "broken"], "{results:#}");
    let finding = &component["findings"][0];
    assert_eq!(finding["message"], "a request was made for which no reply is canned");
    assert_eq!(finding["actual"], "GET /api/kilns/3/log?last=2");
    assert!(began.elapsed().as_secs() < 30, "five seconds of a reply take none");
}

#[test]
fn the_clock_starts_when_the_contract_says() {
    let results = Studio::new()
        .with("Today.tsx", "export default function Today() {\n  return <p>{new Date().toISOString()}</p>\n}\n")
        .with("Today.contract.yaml", "component: ./Today.tsx\nclock: { starts: 2028-02-29T12:00:00Z }\nclauses:\n  - clause: is a leap day\n    expect: [{ text: p, is: '2028-02-29T12:00:00.000Z' }]\n")
        .results(&[]);
    assert_eq!(results["components"][0]["verdict"], "holds", "{results:#}");
}

#[test]
fn members_and_fallbacks_that_a_contract_promises_are_judged() {
    let contract = |member: &str, fallback: &str| {
        format!(
            "component: ./Card.vue\nexposes: {{ tidy: {member} }}\nslots: {{ note: {{ fills: [absent, '<b>new</b>'], fallback: {fallback} }} }}\n"
        )
    };
    let card = "<script setup>\ndefineExpose({ tidy: () => 1 })\n</script>\n<template><section><slot name=\"note\">none yet</slot></section></template>\n";
    let judged = |member, fallback| {
        let results = Studio::new().with("Card.vue", card).with("Card.contract.yaml", contract(member, fallback)).results(&[]);
        let findings = results["components"][0]["findings"].as_array().expect("a list").clone();
        findings.iter().map(|f| f["rule"].as_str().unwrap_or("").to_owned()).collect::<Vec<_>>()
    };
    assert_eq!(judged("function", "none yet"), Vec::<String>::new());
    assert_eq!(judged("number", "none yet"), ["exposes `tidy`"]);
    assert_eq!(judged("function", "nothing"), ["the slot `note` shows its fallback when left empty"]);
}

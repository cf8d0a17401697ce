//! `fidelon challenge`: components are broken on purpose, and what notices it is told.

mod studio;

use serde_json::Value as Json;
use studio::{Studio, kit};

/// A badge whose contract says little.
const BADGE: &str = "<script setup lang=\"ts\">\nconst props = defineProps<{ cone: number; safe?: boolean }>()\nconst emit = defineEmits<{ pick: [cone: number] }>()\n</script>\n<template>\n<button type=\"button\" @click=\"emit('pick', props.cone)\">Cone {{ cone }}<b v-if=\"safe\">food safe</b></button>\n</template>\n";
const CONTRACT: &str = "component: ./Badge.vue\nprops:\n  cone: [6, 10]\n  safe: all\nclauses:\n  - clause: names its cone\n    expect:\n      - name: button\n        has: Cone ${cone}\n";

fn faults(out: &str) -> Vec<Json> {
    let results: Json = serde_json::from_str(out).expect("JSON");
    results["components"][0]["faults"].as_array().expect("a list").clone()
}

#[test]
fn what_no_promise_notices_is_told_with_a_clause_that_does() {
    let studio = Studio::new().with("Badge.vue", BADGE).with("Badge.contract.yaml", CONTRACT);
    let run = studio.run(&["challenge", "Badge.vue"]);
    assert_eq!(run.code, 0, "{}{}", run.out, run.err);
    for wanted in [
        "not noticed: a condition is turned round",
        "<b v-if=\"!(safe)\">",
        "this clause - clause:",
        "    - emitted: pick",
        "1 component: noticed",
    ] {
        assert!(run.out.contains(wanted), "{wanted}\n{}", run.out);
    }
    // Nothing on the disk was touched.
    assert_eq!(std::fs::read_to_string(studio.path("Badge.vue")).expect("there"), BADGE);

    let run = studio.run(&["challenge", "Badge.vue", "--json", "-"]);
    let all = faults(&run.out);
    let of = |kind: &str| all.iter().filter(|f| f["kind"] == kind).cloned().collect::<Vec<_>>();
    // The text is what the clause is about.
    assert!(of("output").iter().all(|f| f["outcome"] == "noticed"), "{all:?}");
    // Each clause that is told holds of the component, and the fault breaks it.
    let missed: Vec<&Json> = all.iter().filter(|f| f["outcome"] == "missed").collect();
    assert!(missed.len() >= 3, "{all:?}");
    let clauses: String = missed
        .iter()
        .filter_map(|f| f["clause"].as_str())
        .enumerate()
        .map(|(i, c)| c.replacen("- clause: ", &format!("- clause: {i} "), 1).replacen(&format!("{i} \""), &format!("\"{i} "), 1))
        .map(|clause| clause.lines().map(|l| format!("  {l}\n")).collect::<String>())
        .collect();
    let studio = studio.with("Badge.contract.yaml", format!("{CONTRACT}{clauses}"));
    let run = studio.run(&["challenge", "Badge.vue", "--json", "-"]);
    assert_eq!(run.code, 0, "{}{}", run.out, run.err);
    let left = faults(&run.out).iter().filter(|f| f["outcome"] == "missed" && f["clause"].is_string()).count();
    assert_eq!(left, 0, "{}", run.out);
}

#[test]
fn the_share_that_is_asked_for_decides_and_kinds_and_lines_are_chosen() {
    let studio = Studio::new().with("Badge.vue", BADGE).with("Badge.contract.yaml", CONTRACT);
    let run = studio.run(&["challenge", "Badge.vue", "--least", "100%"]);
    assert_eq!(run.code, 1, "{}{}", run.out, run.err);
    let run = studio.run(&["challenge", "Badge.vue", "--least", "100%", "--kinds", "output"]);
    assert_eq!(run.code, 0, "{}{}", run.out, run.err);
    let run = studio.run(&["challenge", "Badge.vue", "--kinds", "rust"]);
    assert!(run.code == 2 && run.err.contains("there is no such kind of fault; there are condition"), "{}", run.err);
    let run = studio.run(&["challenge", "Badge.vue", "--most", "0"]);
    assert!(run.code == 2 && run.err.contains("`all`"), "{}", run.err);

    studio.git(&["init", "-q"]);
    studio.git(&["add", "Badge.vue"]);
    studio.git(&["commit", "-q", "-m", "badge"]);
    let studio = studio.with("Badge.vue", BADGE.replace("food safe", "safe for food"));
    let run = studio.run(&["challenge", "Badge.vue", "--since", "HEAD", "--json", "-"]);
    let lines: Vec<i64> = faults(&run.out).iter().filter_map(|f| f["place"]["line"].as_i64()).collect();
    assert!(!lines.is_empty() && lines.iter().all(|line| *line == 6), "{lines:?}");
}

#[test]
fn what_breaks_already_notices_nothing_and_what_is_faulty_is_not_challenged() {
    let studio = Studio::new().with("Badge.vue", BADGE).with("Badge.contract.yaml", CONTRACT.replace("Cone $", "Code $"));
    let run = studio.run(&["challenge", "Badge.vue", "--kinds", "output"]);
    assert_eq!(run.code, 0, "{}{}", run.out, run.err);
    let told = "as it is it breaks the clause `names its cone`: the other promises are challenged";
    assert!(run.out.contains(told) && run.out.contains("noticed 0 of 1 fault"), "{}", run.out);
    let studio = studio.with("Badge.contract.yaml", "component: ./Badge.vue\nclauses: 3\n");
    let run = studio.run(&["challenge", "Badge.vue"]);
    assert_eq!(run.code, 2, "{}{}", run.out, run.err);
}

#[test]
fn a_fault_that_never_ends_costs_one_fault() {
    let loops = "export function Count({ to = 3 }: { to?: number }) {\n  const out = []\n  for (let i = 0; i < to; i++) out.push(i)\n  return <p>{out.join(' ')}</p>\n}\n";
    let studio = Studio::new().with("Count.tsx", loops);
    let run = studio.run(&["challenge", "Count.tsx", "--deadline", "500ms", "--json", "-"]);
    assert_eq!(run.code, 0, "{}{}", run.out, run.err);
    let all = faults(&run.out);
    let turned = all.iter().find(|f| f["after"][0].as_str().is_some_and(|l| l.contains("i--"))).expect("tried");
    assert_eq!(turned["outcome"], "noticed", "{turned}");
    let after = all.iter().skip_while(|f| *f != turned).skip(1).collect::<Vec<_>>();
    assert!(after.iter().any(|f| f["outcome"] != "noticed" || f["by"].as_str().is_some_and(|by| by.contains("law"))), "{after:?}");
}

#[test]
fn every_framework_can_be_challenged() {
    for file in
        ["vue/VentSwitch.vue", "react/VentSwitch.tsx", "svelte/VentSwitch.svelte", "angular/vent-switch.ts", "elements/VentSwitch.js"]
    {
        let studio = Studio::new().with(file, kit(file));
        let run = studio.run(&["challenge", file, "--json", "-", "--most", "8"]);
        let results: Json = serde_json::from_str(&run.out).expect("JSON");
        let totals = &results["totals"];
        assert!(totals["counted"].as_u64() >= Some(3) && totals["noticed"].as_u64() >= Some(1), "{file}: {totals} {}", run.err);
        assert!(totals["invalid"].as_u64() <= Some(1), "{file}: {totals}");
    }
}

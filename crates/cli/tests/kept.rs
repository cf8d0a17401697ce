//! `fidelon accept`, what `check` makes of it, and `fidelon replay`.

mod studio;

use studio::{Studio, kit};

const DIAL: &str = "<script setup>\ndefineProps({ unit: String, locked: Boolean })\n</script>\n<template>\n  <div class=\"dial\"><b>{{ unit }}</b><i v-if=\"locked\">locked</i></div>\n</template>\n";
const CONTRACT: &str = "component: ./Dial.vue\nprops: { unit: [C, F], locked: all }\nclauses: [{ clause: shows its unit, expect: [{ text: b, is: '${unit}' }] }]\n";

fn dial() -> Studio {
    Studio::new().with("Dial.vue", DIAL).with("Dial.contract.yaml", CONTRACT)
}

#[test]
fn what_is_accepted_is_compared_from_then_on() {
    let studio = dial();
    let first = studio.run(&["accept"]);
    assert_eq!((first.code, first.out.as_str()), (0, "✓ Dial.vue.baseline.txt  4 combinations, for the first time\n"), "{}", first.err);
    let text = std::fs::read_to_string(studio.path("Dial.vue.baseline.txt")).expect("written");
    assert!(text.contains("@ unit = \"F\", locked = true\n  <div>\n    <div class=\"dial\">\n"), "{text}");
    assert_eq!(studio.run(&["check"]).code, 0, "nothing changed");
    assert_eq!(studio.results(&[])["components"][0]["baseline"]["checked"], 4);

    let studio = studio.with(
        "Dial.vue",
        DIAL.replace("<i v-if=\"locked\">locked</i>", "<i v-if=\"locked && unit === 'F'\">shut</i><i v-else-if=\"locked\">locked</i>"),
    );
    let broken = studio.run(&["check"]);
    assert_eq!(broken.code, 1, "{}{}", broken.out, broken.err);
    for told in
        ["output as accepted", "exactly when unit = \"F\" and locked (broke in 1 of 4 cases)", "-    <i>locked</i>", "+    <i>shut</i>"]
    {
        assert!(broken.out.contains(told), "{told}: {}", broken.out);
    }
    let dry = studio.run(&["accept", "--dry-run"]);
    assert!(dry.out.contains("would hold 4 combinations: 1 changed"), "{}", dry.out);
    assert_eq!(std::fs::read_to_string(studio.path("Dial.vue.baseline.txt")).expect("there"), text, "a dry run writes nothing");
    assert!(studio.run(&["accept", "--known"]).out.contains("4 combinations: 1 changed"));
    assert_eq!(studio.run(&["check"]).code, 0, "accepted now");
    let twice = std::fs::read_to_string(studio.path("Dial.vue.baseline.txt")).expect("there");
    assert!(studio.run(&["accept"]).out.contains("as before"));
    assert_eq!(std::fs::read_to_string(studio.path("Dial.vue.baseline.txt")).expect("there"), twice, "the same bytes again");
}

#[test]
fn what_comes_of_using_it_is_accepted_too() {
    let bell = |emits: &str| {
        format!(
            "<script setup lang=\"ts\">\nimport {{ ref }} from 'vue'\nconst props = defineProps<{{ kiln: 'tall' | 'low'; quiet?: boolean }}>()\nconst emit = defineEmits<{{ ring: [kiln: string] }}>()\nconst count = ref(0)\nfunction ring() {{ if (props.quiet) return; count.value++; {emits} }}\n</script>\n<template><div><button @click=\"ring\">Ring</button><output>{{{{ count }}}}</output></div></template>\n"
        )
    };
    let studio = Studio::new().with("Bell.vue", bell("emit('ring', props.kiln)"));
    assert_eq!(studio.run(&["accept"]).code, 0);
    let text = std::fs::read_to_string(studio.path("Bell.vue.baseline.txt")).expect("written");
    let loud = "> press button \"Ring\"\n@ kiln = \"tall\"\n@ kiln = \"tall\", quiet = false\n  emitted ring \"tall\"\n  was     <output>0</output>\n  now     <output>1</output>\n";
    assert!(text.contains(loud), "{text}");
    assert!(text.contains("@ kiln = \"tall\", quiet = true\n@ kiln = \"low\", quiet = true\n  nothing\n"), "{text}");
    assert_eq!(studio.run(&["check"]).code, 0, "nothing changed");

    let studio = studio.with("Bell.vue", bell("if (props.kiln === 'tall') emit('ring', props.kiln)"));
    let broken = studio.run(&["check"]);
    assert_eq!(broken.code, 1, "{}{}", broken.out, broken.err);
    for told in ["press button \"Ring\" does something else than was accepted", "-emitted ring \"low\"", "exactly when kiln = \"low\" and"]
    {
        assert!(broken.out.contains(told), "{told}: {}", broken.out);
    }
    // A record of the output alone is compared by it.
    let output = text.split("\n> ").next().expect("the first section").to_owned();
    assert_eq!(studio.with("Bell.vue.baseline.txt", output).run(&["check"]).code, 0);
}

#[test]
fn new_and_stale_combinations_are_told_and_break_nothing() {
    let studio = dial();
    studio.run(&["accept"]);
    let studio = studio.with("Dial.contract.yaml", CONTRACT.replace("[C, F]", "[C, K]"));
    let run = studio.run(&["check"]);
    assert_eq!(run.code, 0, "{}", run.out);
    assert!(run.out.contains("2 combinations have no accepted output yet"), "{}", run.out);
    assert!(run.out.contains("2 accepted combinations are in the plan no more"), "{}", run.out);
    assert!(studio.run(&["accept"]).out.contains("2 new, 2 gone"));
}

#[test]
fn what_cannot_be_accepted_is_not() {
    let studio = dial().with("Dial.vue", DIAL.replace("<div class", "<div :id=\"unit.nothing.here\" class"));
    let run = studio.run(&["accept"]);
    assert_eq!(run.code, 3, "{}{}", run.out, run.err);
    assert!(run.out.contains("not recorded: it throws with unit = \"C\""), "{}", run.out);
    assert!(!studio.path("Dial.vue.baseline.txt").exists());

    let studio = dial().with("Dial.vue.baseline.txt", "# x\n@ unit = \"C\"\n  <p>\n<<<<<<< theirs\n");
    let run = studio.run(&["check"]);
    assert_eq!(run.code, 2, "{}", run.out);
    assert!(run.out.contains("Dial.vue.baseline.txt:4:1") && run.out.contains("no line of a baseline"), "{}", run.out);
    assert_eq!(studio.run(&["accept", "Nowhere.vue"]).code, 2);
}

#[test]
fn a_case_is_played_again_step_by_step() {
    let studio = Studio::new()
        .with("ChattySwitch.tsx", kit("flawed/ChattySwitch.tsx"))
        .with("ChattySwitch.contract.yaml", kit("flawed/ChattySwitch.contract.yaml"));
    let case = studio.results(&[])["components"][0]["findings"][0]["case"].as_str().expect("a case").to_owned();
    let run = studio.run(&["replay", &case]);
    assert_eq!(run.code, 1, "{}{}", run.out, run.err);
    for told in [
        "“the parent's own change is not told back”",
        "mounted",
        "1  assign open = true",
        "emitted  open ← true",
        "held     open = true",
        "✗ something was emitted",
    ] {
        assert!(run.out.contains(told), "{told}: {}", run.out);
    }
    let other = studio.run(&["replay", &case, "--clause", "pressing turns it, and tells so"]);
    let clauses = studio.results(&[])["components"][0]["clauses"].clone();
    let first = clauses[0]["clause"].as_str().expect("words");
    let held = studio.run(&["replay", &case, "--clause", first]);
    assert_eq!(held.code, 0, "{}{}", held.out, held.err);
    assert!(held.out.contains("hold"), "{}", held.out);
    assert_eq!(other.code, 2, "no such clause: {}", other.out);
    for (case, told) in [
        ("ChattySwitsh@123456", "did you mean `ChattySwitch`?"),
        ("ChattySwitch@123456", "is called `123456` now"),
        ("ChattySwitch", "is no case"),
    ] {
        let run = studio.run(&["replay", case]);
        assert_eq!(run.code, 2, "{case}");
        assert!(run.err.contains(told), "{case}: {}", run.err);
    }
}

#[test]
fn a_case_beyond_the_plan_is_found_again() {
    // Under pairs the smallest case that shows a fault of three props is often one that only the search for its cause played.
    let dial = "<script setup>\ndefineProps({ a: Boolean, b: Boolean, c: Boolean, d: Boolean, e: Boolean })\n</script>\n<template><p>{{ a && b && c ? 'wrong' : 'right' }}</p></template>\n";
    let contract = "component: ./Dial.vue\nprops: { a: all, b: all, c: all, d: all, e: all }\ncover: pairs\nclauses: [{ clause: is right, expect: [{ text: p, is: right }] }]\n";
    let studio = Studio::new().with("Dial.vue", dial).with("Dial.contract.yaml", contract);
    let finding = studio.results(&[])["components"][0]["findings"][0].clone();
    assert!(finding["asked"].as_u64().expect("a count") > 0, "{finding:#}");
    let run = studio.run(&["replay", finding["case"].as_str().expect("a case")]);
    assert_eq!(run.code, 1, "{}{}", run.out, run.err);
    assert!(run.out.contains("a = true, b = true, c = true, d = false, e = false"), "{}", run.out);
}

#[test]
fn a_component_given_alone_is_held_to_its_contract_elsewhere() {
    let studio = Studio::new()
        .with("vue/Dial.vue", DIAL)
        .with("contracts/dials.contract.yaml", CONTRACT.replace("./Dial.vue", "[../vue/Dial.vue, ../vue/Other.vue]"))
        .with("vue/Other.vue", DIAL);
    for path in ["vue/Dial.vue", "vue"] {
        let results = studio.results(&[path]);
        assert_eq!(results["components"][0]["contract"], "contracts/dials.contract.yaml", "{path}");
    }
    assert_eq!(studio.results(&["vue/Dial.vue"])["totals"]["components"], 1, "its sibling is not judged");
}

//! `fidelon compare`: two components, or two states of one, and what a parent could notice.

mod studio;

use serde_json::Value as Json;
use studio::Studio;

const OLD: &str = "<script setup lang=\"ts\">\ndefineProps<{ cone: number; safe?: boolean }>()\nconst emit = defineEmits<{ pick: [cone: number] }>()\n</script>\n<template>\n<button type=\"button\" @click=\"emit('pick', cone)\">Cone {{ cone }}<b v-if=\"safe\">food safe</b></button>\n</template>\n";

fn differences(studio: &Studio, args: &[&str]) -> Vec<(String, String)> {
    let run = studio.run(&[&["compare", "--json", "-"], args].concat());
    let results: Json = serde_json::from_str(&run.out).unwrap_or_else(|e| panic!("{e}: {}{}", run.out, run.err));
    let all = results["pairs"][0]["differences"].as_array().expect("a list");
    let text = |value: &Json| value.as_str().unwrap_or_default().to_owned();
    all.iter().map(|d| (text(&d["level"]), format!("{} {}", text(&d["area"]), text(&d["message"])))).collect()
}

#[test]
fn a_rewrite_that_is_the_same_is_told_so() {
    // Options against setup; attributes in another order, other names within.
    let options = "<script lang=\"ts\">\nimport { defineComponent } from 'vue'\nexport default defineComponent({\n  props: { cone: { type: Number, required: true }, safe: Boolean },\n  emits: { pick: (_cone: number) => true },\n  methods: { choose() { this.$emit('pick', this.cone) } },\n})\n</script>\n<template>\n<button @click=\"choose\" type=\"button\">Cone {{ cone }}<b v-if=\"safe\">food safe</b></button>\n</template>\n";
    let react = "export default function Badge({ cone, safe, onPick }: { cone: number; safe?: boolean; onPick?: (cone: number) => void }) {\n  return <button type=\"button\" onClick={() => onPick?.(cone)}>Cone {cone}{safe && <b>food safe</b>}</button>\n}\n";
    let studio = Studio::new().with("Old.vue", OLD).with("Options.vue", options).with("Badge.tsx", react);
    for other in ["Old.vue", "Options.vue", "Badge.tsx"] {
        let run = studio.run(&["compare", "Old.vue", other]);
        assert_eq!(run.code, 0, "{other}: {}{}", run.out, run.err);
        assert!(run.out.contains("the same for its parents"), "{other}: {}", run.out);
    }
}

#[test]
fn each_difference_is_told_with_when_it_is_there() {
    let changed = |from: &str, to: &str| Studio::new().with("Old.vue", OLD).with("New.vue", OLD.replacen(from, to, 1));
    let told = |from: &str, to: &str| differences(&changed(from, to), &["Old.vue", "New.vue"]);
    let is = |found: &[(String, String)], level: &str, words: &str| found.iter().any(|(l, m)| l == level && m.contains(words));

    let found = told("emit('pick', cone)\"", "emit('pick', cone + 1)\"");
    assert!(is(&found, "major", "events other events are sent after `press"), "{found:?}");
    let found = told("<b v-if=\"safe\">", "<b class=\"safe\" v-if=\"safe\">");
    assert_eq!(found.len(), 1, "{found:?}");
    assert!(is(&found, "patch", "rendering other output is rendered when it is mounted"), "{found:?}");
    let found = told("safe?: boolean", "safe?: boolean; tone?: string");
    assert_eq!(found, [("minor".to_owned(), "surface the prop `tone` is new".to_owned())]);
    let found = told("pick: [cone: number]", "pick: [cone: string]");
    assert!(is(&found, "major", "the event `pick` carries `string`"), "{found:?}");
    let found = told("type=\"button\" @click", "type=\"button\" :disabled=\"safe\" @click");
    assert!(is(&found, "major", "rendering other output"), "{found:?}");

    let studio = changed("<b v-if=\"safe\">food safe</b>", "<b v-if=\"safe\">glazed</b>");
    let run = studio.run(&["compare", "Old.vue", "New.vue", "--changelog", "CHANGES.md"]);
    assert_eq!(run.code, 1, "{}{}", run.out, run.err);
    assert!(run.out.contains("when safe (in ") && run.out.contains("asks for a major version"), "{}", run.out);
    let text = std::fs::read_to_string(studio.path("CHANGES.md")).expect("written");
    assert_eq!(text, "### Changed, and parents can break\n\n- `New.vue`: other output is rendered when it is mounted, when safe\n\n");
    assert_eq!(studio.run(&["compare", "Old.vue", "New.vue", "--allow", "major"]).code, 0);
    assert_eq!(studio.run(&["compare", "Old.vue", "New.vue", "--allow", "minor"]).code, 1);
}

#[test]
fn names_are_paired_by_what_is_said_or_left() {
    let renamed = OLD.replace("safe", "glazed").replace("food glazed", "food safe");
    let studio = Studio::new().with("Old.vue", OLD).with("New.vue", renamed);
    let run = studio.run(&["compare", "Old.vue", "New.vue"]);
    assert!(run.out.contains("`glazed` is taken for what was `safe`"), "{}", run.out);
    assert!(run.out.contains("1 major, 0 minor, 0 patch"), "{}", run.out);
    let run = studio.run(&["compare", "Old.vue", "New.vue", "--renamed", "safe=glazed"]);
    assert!(run.out.contains("the prop `safe` is called `glazed`") && !run.out.contains("is taken for"), "{}", run.out);
    let run = studio.run(&["compare", "Old.vue", "New.vue", "--renamed", "save=glazed"]);
    assert!(run.code == 2 && run.err.contains("`save` is no prop, event, slot or member of Old.vue"), "{}", run.err);
}

#[test]
fn a_component_and_its_earlier_revision() {
    let studio = Studio::new().with("src/Badge.vue", OLD).with("src/Other.vue", "<template><p>x</p></template>\n");
    studio.git(&["init", "-q"]);
    studio.git(&["add", "src"]);
    studio.git(&["commit", "-q", "-m", "badge"]);
    let run = studio.run(&["compare", "src", "--since", "HEAD"]);
    assert_eq!(run.code, 0, "{}{}", run.out, run.err);
    let studio = studio.with("src/Badge.vue", OLD.replace("Cone {{", "Kegel {{")).with("src/New.vue", "<template><i>x</i></template>\n");
    std::fs::remove_file(studio.path("src/Other.vue")).expect("removed");
    let run = studio.run(&["compare", "src", "--since", "HEAD"]);
    assert_eq!(run.code, 1, "{}{}", run.out, run.err);
    for wanted in
        ["≠ src/Badge.vue  major", "src/Other.vue → (none)", "the component is gone", "(none) → src/New.vue", "3 pairs: 2 major, 1 minor"]
    {
        assert!(run.out.contains(wanted), "{wanted}\n{}", run.out);
    }
    let run = studio.run(&["compare", "src/New.vue", "--since", "HEAD"]);
    assert!(run.code == 2 && run.err.contains("was not there at HEAD"), "{}", run.err);
    let run = studio.run(&["compare", "src", "--since", "nowhere"]);
    assert!(run.code == 2 && run.err.contains("git says"), "{}", run.err);
}

#[test]
fn what_cannot_be_compared_is_told() {
    let other = "<script setup lang=\"ts\">\ndefineProps<{ rows: string[] }>()\n</script>\n<template><p>{{ rows.length }}</p></template>\n";
    let studio =
        Studio::new().with("Old.vue", OLD).with("Other.vue", other).with("Torn.vue", "<template><p></template>\n").with("note.txt", "x");
    let run = studio.run(&["compare", "Old.vue", "Other.vue"]);
    assert!(run.code == 3 && run.out.contains("no prop, event or slot in common"), "{}{}", run.out, run.err);
    let run = studio.run(&["compare", "Other.vue", "Torn.vue"]);
    assert!(run.code == 2 && run.out.contains("Torn.vue:1:"), "{}{}", run.out, run.err);
    for args in [&["compare", "Old.vue"][..], &["compare", "Old.vue", "Old.vue", "--since", "HEAD"], &["compare", "Old.vue", "Gone.vue"]] {
        let run = studio.run(args);
        assert!(run.code == 2 && run.err.starts_with("fidelon: "), "{args:?} {}", run.err);
    }
}

#[test]
fn what_never_comes_to_rest_is_compared_in_a_few_mounts() {
    let restless = "<script setup>\nimport { ref, watchEffect } from 'vue'\ndefineProps({ cone: Number, safe: Boolean, tone: String })\nconst n = ref(0)\nwatchEffect(() => { n.value; setTimeout(() => n.value++, 0) })\n</script>\n<template><p>{{ cone }}</p></template>\n";
    let still =
        "<script setup>\ndefineProps({ cone: Number, safe: Boolean, tone: String })\n</script>\n<template><p>{{ cone }}</p></template>\n";
    let studio = Studio::new().with("Restless.vue", restless).with("Still.vue", still);
    let run = studio.run(&["compare", "Still.vue", "Restless.vue"]);
    assert_eq!(run.code, 1, "{}{}", run.out, run.err);
    assert!(run.out.contains("it comes to rest on one side alone") && run.out.contains("only mounts in 3 combinations"), "{}", run.out);
}

#[test]
fn what_a_module_keeps_from_case_to_case_is_no_difference() {
    let counting = "<script>\nlet made = 0\n</script>\n<script setup>\ndefineProps({ cone: Number, safe: Boolean })\nmade += 1\nconst mine = made\n</script>\n<template><p>{{ cone }}{{ mine > 20 ? ' worn' : '' }}</p></template>\n";
    let plain = "<script setup>\ndefineProps({ cone: Number, safe: Boolean })\n</script>\n<template><p>{{ cone }}</p></template>\n";
    let studio = Studio::new().with("Counting.vue", counting).with("Plain.vue", plain);
    let run = studio.run(&["compare", "Counting.vue", "Plain.vue"]);
    assert_eq!(run.code, 0, "{}{}", run.out, run.err);
}

#[test]
fn a_wrapper_more_hides_no_other_text_after_a_press() {
    let of = |open: &str, close: &str, by: &str| {
        format!(
            "<script setup>\nimport {{ ref }} from 'vue'\ndefineProps({{ cone: Number }})\nconst n = ref(0)\n</script>\n<template>{open}<button type=\"button\" @click=\"n += {by}\">More</button><p>{{{{ n }}}}</p>{close}</template>\n"
        )
    };
    let studio = Studio::new().with("Old.vue", of("<div>", "</div>", "1")).with("New.vue", of("<section>", "</section>", "2"));
    let found = differences(&studio, &["Old.vue", "New.vue"]);
    assert!(found.iter().any(|(l, m)| l == "patch" && m.contains("when it is mounted")), "{found:?}");
    assert!(found.iter().any(|(l, m)| l == "major" && m.contains("after `press button \"More\"`")), "{found:?}");
}

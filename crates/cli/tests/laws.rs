//! The laws, from the command line: each is broken by the components of the kit that were made to break it and by no other, and
//! each is really checked on sound ones.

mod studio;

use std::collections::{BTreeMap, BTreeSet};
use std::sync::OnceLock;

use serde_json::Value as Json;
use studio::{Studio, has_browser, kit};

/// The whole kit, unpacked in a studio.
fn unpacked() -> Studio {
    let studio = Studio::empty();
    assert_eq!(studio.run(&["demo"]).code, 0);
    studio
}

fn results(studio: &Studio, folder: &str, args: &[&str]) -> Json {
    let run = studio.run_in(folder, &[&["check", "--json", "-"], args].concat());
    serde_json::from_str(&run.out).unwrap_or_else(|e| panic!("{e}: {}{}", run.out, run.err))
}

/// What breaks in each component, by its file.
fn broken(results: &Json) -> BTreeMap<String, BTreeSet<String>> {
    let components = results["components"].as_array().expect("components");
    let rules =
        |c: &Json| c["findings"].as_array().expect("findings").iter().map(|f| f["rule"].as_str().expect("text").to_owned()).collect();
    components.iter().map(|c| (c["component"].as_str().expect("text").to_owned(), rules(c))).collect()
}

/// The framework of a component of the kit, by the folder that it is in, or by what a scene names.
fn framework(component: &str) -> &str {
    let mut folders = component.split('/').filter(|f| *f != "laws");
    match (component.rsplit_once('#'), folders.next()) {
        (Some((scene, of)), Some("contracts")) if scene.ends_with(".yaml") => of,
        (_, folder) => folder.expect("it is in a folder"),
    }
}

/// What was found in the flawed components, on the embedded stage.
fn flawed() -> &'static (Studio, Json) {
    static FLAWED: OnceLock<(Studio, Json)> = OnceLock::new();
    FLAWED.get_or_init(|| {
        let studio = unpacked();
        let flawed = results(&studio, "kiln-studio", &["laws"]);
        (studio, flawed)
    })
}

/// The frameworks in which a component can break a law. Where the others keep it by themselves there is nothing to show.
fn can_break(law: &str) -> BTreeSet<&'static str> {
    let all = ["angular", "elements", "preact", "react", "solid", "svelte", "vue"];
    let only: &[&str] = match law {
        // Only Vue declares what is emitted apart from what a parent passes.
        "event/declared" => &["vue"],
        // Vue warns of it by itself: that is another law.
        "prop/typed" => &["angular", "elements", "preact", "react", "solid", "svelte"],
        // A default of a parameter is what counts, and nothing else is to be asked.
        "prop/default" => &["angular", "solid", "svelte", "vue"],
        // Signals are not told of what is equal.
        "prop/steady" => &["angular", "preact", "react", "vue"],
        "ref/stable" => &["angular", "preact", "react", "vue"],
        // Attributes are written one by one there.
        "prop/contained" => &["preact", "react", "solid", "svelte", "vue"],
        "binding/obeys" | "ref/released" => &["react"],
        // Where a component can be rendered anew though nothing has changed.
        "render/current" => &["angular", "preact", "react", "vue"],
        // Where callbacks are props a component can keep one.
        "event/latest" => &["preact", "react", "solid", "svelte"],
        // A node of a shadow tree's content stands in one place, in its order, and is the page's own.
        "slot/once" => &["angular", "preact", "react", "solid", "svelte", "vue"],
        "slot/ordered" => &["preact", "react", "solid", "vue"],
        "slot/exposes" => &["angular", "preact", "react", "solid", "svelte", "vue"],
        "slot/live" => &["preact", "react", "solid", "svelte", "vue"],
        // Where content is a prop one may be meant to take the place of another.
        "slot/independent" => &["angular", "elements", "svelte", "vue"],
        "ref/available" => &["angular", "preact", "react", "solid", "svelte", "vue"],
        // The compiler of Angular refuses what a child does not declare; templates of elements are texts.
        "child/declared" | "surface/used" => &["preact", "react", "solid", "svelte", "vue"],
        "style/contained" => &["angular", "svelte", "vue"],
        "stage/agrees" => &[],
        _ => &all,
    };
    only.iter().copied().collect()
}

#[test]
fn each_flawed_component_breaks_its_law_and_no_other() {
    let (studio, flawed) = flawed();
    let mut laws: BTreeMap<String, BTreeSet<&str>> = BTreeMap::new();
    let broken = broken(flawed);
    for (component, rules) in &broken {
        let folder = component.split('/').nth(2).expect("laws/<framework>/<law>/<component>");
        let law = folder.replacen('-', "/", 1);
        assert_eq!(rules.iter().collect::<Vec<_>>(), [&law], "{component}");
        laws.entry(law).or_default().insert(framework(component));
    }
    for law in fidelon_core::judge::laws::names() {
        assert_eq!(laws.get(law).cloned().unwrap_or_default(), can_break(law), "{law}");
    }

    // On sound components the same laws hold, and they are not idle: each is checked where its framework can break it.
    let kit = ["vue", "react", "svelte", "angular", "solid", "preact", "elements", "contracts"];
    let sound = results(studio, "kiln-studio", &kit);
    let mut checked: BTreeMap<(String, &str), u64> = BTreeMap::new();
    for component in sound["components"].as_array().expect("components") {
        let name = component["component"].as_str().expect("text");
        assert_eq!(component["findings"], Json::Array(Vec::new()), "{name}");
        for law in component["laws"].as_array().expect("laws") {
            *checked.entry((law["law"].as_str().expect("text").to_owned(), framework(name))).or_default() +=
                law["checked"].as_u64().expect("count");
        }
    }
    let idle: Vec<String> = laws
        .iter()
        .flat_map(|(law, of)| of.iter().map(move |framework| (law, *framework)))
        .filter(|(law, framework)| checked.get(&((*law).clone(), *framework)).is_none_or(|n| *n == 0))
        .map(|(law, framework)| format!("{law} is checked on no sound component of {framework}"))
        .collect();
    assert_eq!(idle, Vec::<String>::new());
}

#[test]
fn a_browser_breaks_the_same_laws() {
    if !has_browser() {
        return;
    }
    // The stages play the same sessions for every framework: what differs between them shows in a few, in turn.
    let in_turn = |(index, law): (usize, &str)| {
        let able: Vec<&str> = ["vue", "react", "elements"].into_iter().filter(|framework| can_break(law).contains(framework)).collect();
        (!able.is_empty()).then(|| format!("laws/{}/{}", able[index % able.len()], law.replace('/', "-")))
    };
    let folders: Vec<String> = fidelon_core::judge::laws::names().enumerate().filter_map(in_turn).collect();
    let paths: Vec<&str> = folders.iter().map(String::as_str).collect();
    let (studio, embedded) = flawed();
    let browser = results(studio, "kiln-studio", &[&paths[..], &["--stage", "browser"]].concat());
    let of_these = |c: &String| folders.iter().any(|folder| c.starts_with(&format!("{folder}/")));
    let expected: BTreeMap<String, BTreeSet<String>> = broken(embedded).into_iter().filter(|(c, _)| of_these(c)).collect();
    assert!(expected.len() >= folders.len() && folders.len() > 40, "{} of {folders:?}", expected.len());
    assert_eq!(expected, broken(&browser));
}

const DIAL: &str = "<script setup lang=\"ts\">\nimport { ref } from 'vue'\nconst props = defineProps<{ label: string; start: number }>()\nconst shown = ref(props.label)\nconst from = ref(props.start)\n</script>\n<template><p>{{ shown }} {{ from }}</p></template>\n";

#[test]
fn laws_are_exempted_with_a_reason_and_idle_exemptions_are_told() {
    let contract = "component: ./Dial.vue\nprops:\n  label: [Bisque, Glaze]\n  start: [600, 900]\nlaws:\n  prop/live: { except: [start], because: it is where it begins }\n  access/named: { off: true, because: nothing to press }\n";
    let studio = Studio::new().with("Dial.vue", DIAL).with("Dial.contract.yaml", contract);
    let run = studio.run(&["check"]);
    assert!(run.code == 1 && run.out.contains("after `label` changed") && !run.out.contains("after `start` changed"), "{}", run.out);
    assert!(run.out.contains("the exemption of `access/named` exempts nothing"), "{}", run.out);
    assert!(!run.out.contains("the exemption of `prop/live`"), "{}", run.out);

    let settings = "[[exempt]]\nlaw = \"prop/live\"\nin = \"legacy\"\nbecause = \"rewritten by spring\"\n\n[[exempt]]\nlaw = \"prop/late\"\nin = \"legacy\"\nbecause = \"likewise\"\n";
    let studio = Studio::new().with("legacy/Dial.vue", DIAL).with("new/Dial.vue", DIAL).with("fidelon.toml", settings);
    let run = studio.run(&["check"]);
    assert!(run.out.contains("✓ legacy/Dial.vue") && run.out.contains("✗ new/Dial.vue"), "{}", run.out);
    assert!(run.out.contains("`prop/live` is off: rewritten by spring"), "{}", run.out);
    assert!(run.out.contains("fidelon.toml: the exemption of prop/late in legacy exempts nothing"), "{}", run.out);

    let studio =
        Studio::new().with("Dial.vue", DIAL).with("fidelon.toml", "[[exempt]]\nlaw = \"prop/life\"\nin = \".\"\nbecause = \"x\"\n");
    let run = studio.run(&["check"]);
    assert!(run.code == 2 && run.out.contains("fidelon.toml:2:7") && run.out.contains("prop/live"), "{}", run.out);
}

/// Two fields that follow one prop, and a prop of which nothing is known.
const TWICE: &str = "<script setup>\nconst model = defineModel({ type: Number })\ndefineProps({ odd: null })\n</script>\n<template><p :title=\"odd\"><input type=\"number\" aria-label=\"Left\" v-model=\"model\"><input type=\"number\" aria-label=\"Right\" v-model=\"model\"></p></template>\n";

#[test]
fn what_cannot_be_guessed_is_asked_for() {
    let reports = |studio: &Studio| {
        let of = results(studio, ".", &[]);
        let laws = of["components"][0]["laws"].as_array().expect("laws").clone();
        laws.iter().find(|l| l["law"] == "binding/reports").expect("there")["checked"].as_u64().expect("count")
    };
    let studio = Studio::new().with("Twice.vue", TWICE);
    let run = studio.run(&["check"]);
    let told = run.out.split_whitespace().collect::<Vec<_>>().join(" ");
    assert!(told.contains("`modelValue` is followed by spinbutton \"Left\" and spinbutton \"Right\""), "{told}");
    assert!(told.contains("bindings: { modelValue: { edit: spinbutton \"Left\", with: [0] } }"), "{told}");
    assert!(told.contains("never passed: `odd`"), "{told}");
    assert_eq!(reports(&studio), 0);
    let contract =
        "component: ./Twice.vue\nprops:\n  modelValue: [1, 4]\nbindings:\n  modelValue: { edit: 'spinbutton \"Right\"', with: [3] }\n";
    let studio = studio.with("Twice.contract.yaml", contract);
    let run = studio.run(&["check"]);
    assert!(run.code == 0 && !run.out.contains("is followed by"), "{}", run.out);
    assert_eq!(reports(&studio), 1);
}

/// A choice between two units, as radio buttons, as tabs, as a slider beside it; what is told of a press is left open.
const CHOICE: &str = "<script setup lang=\"ts\">\ndefineProps<{ unit: 'C' | 'F'; page: 'Kilns' | 'Shelves' }>()\nconst heat = defineModel<number>('heat', { required: true })\ndefineEmits<{ 'update:unit': [unit: 'C' | 'F']; 'update:page': [page: 'Kilns' | 'Shelves'] }>()\n</script>\n<template><div>\n<label v-for=\"u in ['C', 'F'] as const\" :key=\"u\"><input type=\"radio\" name=\"unit\" :value=\"u\" :checked=\"unit === u\" @change=\"$emit('update:unit', TOLD)\">{{ u }}</label>\n<div role=\"tablist\"><button v-for=\"p in ['Kilns', 'Shelves'] as const\" :key=\"p\" role=\"tab\" :aria-selected=\"page === p\" @click=\"$emit('update:page', p)\">{{ p }}</button></div>\n<input type=\"range\" aria-label=\"Heat\" v-model.number=\"heat\">\n</div></template>\n";

#[test]
fn choices_and_sliders_are_found_as_controls() {
    let studio = Studio::new().with("Good.vue", CHOICE.replace("TOLD", "u")).with("Bad.vue", CHOICE.replace("TOLD", "unit"));
    let of = results(&studio, ".", &[]);
    let reports = |c: &Json| {
        let laws = c["laws"].as_array().expect("laws");
        laws.iter().find(|l| l["law"] == "binding/reports").map(|l| (l["checked"].as_u64(), l["broke"].as_u64())).expect("there")
    };
    let [bad, good] = &of["components"].as_array().expect("components")[..] else { panic!("two: {of}") };
    assert_eq!(reports(good), (Some(3), Some(0)), "{good:#}");
    assert_eq!(reports(bad), (Some(3), Some(1)), "{bad:#}");
    assert_eq!(good["verdict"], "holds", "{good:#}");
    assert!(bad["findings"][0]["message"].as_str().is_some_and(|m| m.contains("`unit`")), "{bad:#}");
}

#[test]
fn a_law_is_explained_with_what_breaks_it() {
    let studio = Studio::empty();
    let all = studio.run(&["explain"]);
    for law in fidelon_core::judge::laws::names() {
        assert!(all.out.contains(law), "{law}: {}", all.out);
        let one = studio.run(&["explain", law]);
        assert_eq!(one.code, 0);
        let examples = one.out.matches("Broken by laws/").count();
        assert!(one.out.contains("Why") && one.out.contains("Fix") && one.out.contains("fidelon.toml"), "{}", one.out);
        assert_eq!(examples > 0, law != "stage/agrees", "{law}");
    }
    let one = studio.run(&["explain", "prop/late", "--in", "solid"]);
    assert!(
        one.out.contains("Broken by laws/solid/") && !one.out.contains("Broken by laws/vue/") && one.out.contains("--in vue"),
        "{}",
        one.out
    );
    let none = studio.run(&["explain", "style/contained", "--in", "solid"]);
    assert!(none.code == 0 && none.err.contains("nothing in the kit breaks `style/contained` in solid"), "{}", none.err);
    let foreign = studio.run(&["explain", "prop/late", "--in", "svelt"]);
    assert!(foreign.code == 2 && foreign.err.contains("did you mean `svelte`?"), "{}", foreign.err);
    let unknown = studio.run(&["explain", "prop/lve"]);
    assert!(unknown.code == 2 && unknown.err.contains("did you mean `prop/live`?"), "{}", unknown.err);
}

#[test]
fn effort_says_how_much_is_played() {
    let studio = Studio::new().with("ShelfCard.vue", kit("vue/ShelfCard.vue"));
    let checks = |effort: &str| {
        let of = results(&studio, ".", &["--effort", effort]);
        of["totals"]["checks"].as_u64().expect("count")
    };
    let (quick, normal, thorough) = (checks("quick"), checks("normal"), checks("thorough"));
    assert!(quick < normal && normal < thorough, "{quick} {normal} {thorough}");
}

#[test]
fn what_a_framework_warns_of_is_mapped_to_component_prop_and_line() {
    let handle = "<script setup lang=\"ts\">\ndefineProps<{ size: number }>()\n</script>\n<template><i>{{ size }}</i></template>";
    let mug = "<script setup lang=\"ts\">\nimport MugHandle from './MugHandle.vue'\ndefineProps<{ label: string }>()\n</script>\n\
               <template><p>{{ label }}<MugHandle /><Lid /></p></template>";
    let shelf = "<script setup>\ndefineProps({ marks: Array })\n</script>\n<template><p><b v-for=\"m in marks\" :key=\"m.length\">{{ m }}</b></p></template>";
    let kiln = "<script>\nexport default {\n  props: {\n    label: String,\n    step: { type: Number, required: true, validator: (v) => v >= 0 },\n  },\n}\n\
                </script>\n<template><p>{{ label }} {{ step }}</p></template>";
    let rows = "interface Props { items: string[] }\nconst Row = ({ items }: Props) => <ul>{items.map((i) => <li>{i}</li>)}</ul>;\n\
                export default function Rows({ items }: Props) { return <div><Row items={items} /></div>; }";
    let studio = Studio::new()
        .with("MugHandle.vue", handle)
        .with("Mug.vue", mug)
        .with("Shelf.vue", shelf)
        .with("Shelf.contract.yaml", "component: Shelf.vue\nprops: { marks: [[AB, ABC], [A, B, GLAZ]] }\n")
        .with("free/Kiln.vue", kiln)
        .with("told/Kiln.vue", kiln)
        .with("told/Kiln.contract.yaml", "component: Kiln.vue\nprops: { step: [5, -1] }\n")
        .with("Rows.tsx", rows);
    let all = results(&studio, ".", &[]);
    let told = |component: &str| -> Vec<(String, Json)> {
        let components = all["components"].as_array().expect("components");
        let found = components.iter().find(|c| c["component"] == component).unwrap_or_else(|| panic!("{component}: {all:#}"));
        let findings = found["findings"].as_array().expect("findings").iter();
        findings.map(|f| (f["message"].as_str().unwrap_or_default().to_owned(), f["source"].clone())).collect()
    };
    assert_eq!(
        told("Mug.vue"),
        [
            ("it warned: a tag names no element and no component, `Lid`".to_owned(), Json::Null),
            ("it warned: a required prop is missing, `size`, in <MugHandle>".to_owned(), Json::Null)
        ],
        "each is a fault of its own"
    );
    let keys =
        "it warned when `marks` changed from [\"AB\",\"ABC\"] to [\"A\",\"B\",\"GLAZ\"]: two items of a list have one key, `1`".to_owned();
    let marks = serde_json::json!({ "file": "Shelf.vue", "line": 2, "column": 15 });
    assert_eq!(told("Shelf.vue"), [(keys, marks)], "what the framework tells no place of is at the prop that changed");
    let items = serde_json::json!({ "file": "Rows.tsx", "line": 1, "column": 19 });
    assert_eq!(told("Rows.tsx"), [("it warned: the items of a list have no `key`, in <Row>".to_owned(), items)]);
    assert_eq!(told("free/Kiln.vue"), [], "the value was made up by Fidelon, which the component refuses");
    let refused = "it warned: a validator refuses the value of a prop, `step`".to_owned();
    assert_eq!(told("told/Kiln.vue"), [(refused, serde_json::json!({ "file": "told/Kiln.vue", "line": 5, "column": 5 }))]);
}

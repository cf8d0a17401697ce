//! `fidelon render` on a stranger's components, with no configuration.

mod studio;

use studio::{Studio, kit};

const CARD: &str = "<script setup>\nimport { ref } from 'vue'\nimport Tag from '@/Tag.vue'\nimport rates from './rates.json'\nimport './card.css'\ndefineProps({ title: { type: String, required: true }, tags: Array })\nconst n = ref(rates.bisque)\n</script>\n<template><article><h2>{{ title }}</h2><Tag v-for=\"t in tags\" :key=\"t\" :text=\"t\" /><p v-if=\"n\">{{ n }} °/h</p><slot name=\"foot\" /></article></template>\n";

fn studio() -> Studio {
    Studio::new()
        .with("src/Card.vue", CARD)
        .with("src/Tag.vue", "<script>\nexport default { props: { text: String }, computed: { loud() { return this.text.toUpperCase() } } }\n</script>\n<template><b>{{ loud }}</b></template>")
        .with("src/rates.json", "{ \"bisque\": 120 }")
        .with("src/card.css", "article { color: teal }")
        .with("tsconfig.json", "{ \"compilerOptions\": { \"paths\": { \"@/*\": [\"./src/*\"] } }, \"include\": [\"src\"] }")
        .with("src/Row.tsx", "import { useState, useEffect, type ReactNode } from 'react'\nimport { createPortal } from 'react-dom'\nexport const Row = ({ label, children }: { label: string; children?: ReactNode }) => {\n  const [ready, set] = useState(false)\n  useEffect(() => { set(true) }, [])\n  return <><div style={{ marginTop: 4 }} data-ready={ready}>{label}{children}</div>{createPortal(<i>far</i>, document.body)}</>\n}\n")
}

#[test]
fn a_strangers_components_just_render() {
    let studio = studio();
    let vue = studio.run(&[
        "render",
        "src/Card.vue",
        "--with",
        "title=Hello",
        "--with",
        "tags=[\"new\",\"hot\"]",
        "--fill",
        "foot=<em>end</em>",
        "--as",
        "raw",
    ]);
    assert_eq!(vue.out, "<article><h2>Hello</h2><b>NEW</b><b>HOT</b><p>120 °/h</p><em>end</em></article>\n", "{}", vue.err);
    assert_eq!((vue.code, vue.err.as_str()), (0, ""));
    let react = studio.run(&["render", "src/Row.tsx#Row", "--with", "label=Mug", "--fill", "default=<b class=x>y</b>"]);
    assert_eq!(
        react.out,
        "<div data-ready=\"true\" style=\"margin-top: 4px;\">\n  Mug\n  <b class=\"x\">y</b>\n</div>\n<!-- elsewhere in the page -->\n<i>far</i>\n",
        "{}",
        react.err
    );
}

#[test]
fn a_warm_run_gives_the_same_bytes_and_a_damaged_cache_costs_nothing_but_time() {
    let studio = studio();
    let args = ["render", "src/Card.vue", "--with", "title=Hello", "--as", "json"];
    let cold = studio.run(&args);
    assert_eq!(studio.run(&args).out, cold.out);
    let mut damaged = 0;
    for folder in std::fs::read_dir(studio.path(".cache")).expect("made").flatten() {
        for file in folder.path().read_dir().expect("a folder").flatten() {
            let mut bytes = std::fs::read(file.path()).expect("readable");
            let middle = bytes.len() / 2;
            bytes[middle] ^= 0xff;
            std::fs::write(file.path(), bytes).expect("written");
            damaged += 1;
        }
    }
    assert!(damaged > 10, "{damaged}");
    let again = studio.run(&args);
    assert_eq!((again.code, again.out), (0, cold.out), "{}", again.err);
}

#[test]
fn the_outline_is_what_a_person_finds() {
    let studio = Studio::new().with("KilnDial.tsx", kit("react/KilnDial.tsx"));
    let run = studio.run(&[
        "render",
        "KilnDial.tsx",
        "--with",
        "label=Bisque",
        "--with",
        "target=600",
        "--with",
        "locked=true",
        "--as",
        "outline",
    ]);
    assert_eq!(
        run.out,
        "“Bisque”\nbutton \"Lower\" [disabled]\nspinbutton \"Target\" = \"600\" [disabled]\nbutton \"Raise\" [disabled]\nstatus\n  “600 °C”\n"
    );
}

#[test]
fn a_value_that_does_not_fit_is_passed_and_told() {
    let studio = studio().with("src/Dial.vue", "<script setup lang=\"ts\">\ndefineProps<{ target: number; unit?: 'C' | 'F' }>()\n</script>\n<template><p>{{ target }} {{ unit }}</p></template>\n");
    let run = studio.run(&["render", "src/Dial.vue", "--with", "target=hot", "--with", "unit=K", "--as", "raw"]);
    assert_eq!((run.code, run.out.as_str()), (0, "<p>hot K</p>\n"), "{}", run.err);
    assert!(run.err.contains("note: \"hot\" does not fit `target` (number); it was passed all the same"), "{}", run.err);
    assert!(run.err.contains("note: \"K\" does not fit `unit` (\"C\" or \"F\"); it was passed all the same"), "{}", run.err);
    let run = studio.run(&["render", "src/Dial.vue", "--with", "target=930", "--with", "unit=F", "--as", "raw"]);
    assert_eq!(run.err, "", "{}", run.out);
}

#[test]
fn wrong_requests_are_told() {
    let studio = studio();
    for (args, code, part) in [
        (&["render", "src/Crad.vue"][..], 2, "there is no such file"),
        (&["render", "src/rates.json"], 2, "is no component"),
        (&["render", "src/Card.vue", "--with", "titel=x"], 2, "did you mean `title`"),
        (&["render", "src/Card.vue", "--with", "title=x", "--fill", "fot=x"], 2, "did you mean `foot`"),
        (&["render", "src/Card.vue", "--with", "title"], 2, "write NAME=VALUE"),
        (&["render", "src/Row.tsx#Rov"], 2, "there is Row"),
        (&["check", "nowhere"], 2, "no file or folder"),
        (&["check", "package.json"], 2, "neither a component"),
    ] {
        let run = studio.run(args);
        assert_eq!(run.code, code, "{args:?}: {}", run.err);
        assert!(run.err.contains(part), "{args:?}: {}", run.err);
    }
}

#[test]
fn a_contract_that_is_not_there_or_has_a_fault_is_told() {
    let studio = Studio::empty().with("package.json", "{}").with("bad.contract.yaml", "compnent: ./Lid.vue\n");
    let gone = studio.run(&["render", "gone.contract.yaml"]);
    assert!(gone.code == 2 && gone.err.contains("there is no file `gone.contract.yaml`"), "{}", gone.err);
    let bad = studio.run(&["render", "bad.contract.yaml"]);
    assert!(bad.code == 2 && bad.err.contains("has a fault: see `fidelon check bad.contract.yaml`"), "{}", bad.err);
}

#[test]
fn a_page_keeps_what_stands_around_its_content() {
    let studio = Studio::empty().with("package.json", "{}").with(
        "page.html",
        "<!DOCTYPE html><html><head><link rel=\"stylesheet\" href=\"https://fonts.example/kiln.css\"><link rel=\"stylesheet\" href=\"/gone.css\"><style>.lid { width: 40px; height: 10px }</style></head><body class=\"hall\" onload=\"lid.textContent = lid.offsetWidth + ' ' + document.body.className\"><div class=\"lid\" id=\"lid\"></div></body></html>",
    );
    let run = studio.run(&["render", "page.html"]);
    assert_eq!(run.code, 0, "{}{}", run.out, run.err);
    assert!(run.out.contains("40 hall"), "{}", run.out);
}

#[test]
fn what_is_done_before_it_is_printed() {
    let studio = Studio::new().with("vue/KilnDial.vue", kit("vue/KilnDial.vue"));
    let with = ["--with", "label=Bisque", "--with", "target=600", "--as", "outline"];
    let render = |args: &[&str]| studio.run(&[&["render", "vue/KilnDial.vue"], &with[..], args].concat());
    let run = render(&["--do", "press: button \"Raise\"", "--do", "press: button \"Raise\"", "--elapse", "1s"]);
    assert_eq!(run.code, 0, "{}{}", run.out, run.err);
    assert!(run.out.contains("“620 °C”") && run.err.contains("emitted fire { target: 620, unit: \"C\" }"), "{}{}", run.out, run.err);
    let run = render(&["--do", "type: '75', into: spinbutton \"Target\", replace: true"]);
    assert!(run.out.contains("“75 °C”"), "{}{}", run.out, run.err);
    let run = render(&["--do", "press: button \"Rise\""]);
    assert!(run.code == 2 && run.err.contains("the step `press button \"Rise\"` cannot be done"), "{}", run.err);
    let run = render(&["--do", "pres: button"]);
    assert!(run.code == 2 && run.err.contains("--do `pres: button`") && run.err.contains("did you mean `press`?"), "{}", run.err);
}

#[test]
fn unsaved_text_is_rendered_as_the_file_that_it_will_be() {
    let studio =
        Studio::new().with("src/Tag.vue", "<template><b>saved</b></template>").with("src/words.ts", "export const words = 'from beside'\n");
    let input = "<script setup>\nimport { words } from './words'\ndefineProps({ tone: String })\n</script>\n<template><b :class=\"tone\">{{ words }}</b></template>\n";
    let render = |args: &[&str]| {
        use std::io::Write as _;
        use std::process::Stdio;
        let mut started =
            studio.command(args).stdin(Stdio::piped()).stdout(Stdio::piped()).stderr(Stdio::piped()).spawn().expect("the program starts");
        started.stdin.take().expect("piped").write_all(input.as_bytes()).expect("written");
        let done = started.wait_with_output().expect("it ends");
        let text = |bytes: Vec<u8>| String::from_utf8(bytes).expect("text");
        (done.status.code(), text(done.stdout), text(done.stderr))
    };
    for file in ["src/Tag.vue", "src/New.vue"] {
        let (code, out, err) = render(&["render", "-", "--as-file", file, "--with", "tone=hot"]);
        assert_eq!((code, out.trim()), (Some(0), "<b class=\"hot\">from beside</b>"), "{file}: {err}");
    }
    assert!(studio.run(&["render", "src/Tag.vue"]).out.contains("saved"), "nothing was kept of it");
    let (code, _, err) = render(&["render", "-"]);
    assert!(code == Some(2) && err.contains("--as-file"), "{err}");
    assert_eq!(studio.run(&["render", "src/Tag.vue", "--as-file", "src/Tag.vue"]).code, 2);
}

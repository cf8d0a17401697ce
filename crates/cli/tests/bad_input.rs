//! Bad components and bad contracts: a clear error with its place, the right exit code, and the others still judged.

mod studio;

use studio::Studio;

/// A component that is sound, beside each bad one.
const GOOD: &str = "<template><p>Mug</p></template>";

/// Runs a check over a bad component and a good one; gives the bad one's entry and the exit code.
fn beside_a_good_one(file: &str, source: impl AsRef<[u8]>) -> (serde_json::Value, i32) {
    let studio = Studio::new().with(file, source).with("Sound.vue", GOOD);
    let run = studio.run(&["check", "--json", "-", "--deadline", "2000", "--memory", "96"]);
    let results: serde_json::Value = serde_json::from_str(&run.out).unwrap_or_else(|e| panic!("{file}: {e}: {}{}", run.out, run.err));
    let components = results["components"].as_array().expect("a list");
    let of = |name: &str| components.iter().find(|c| c["component"].as_str().is_some_and(|n| n.starts_with(name)));
    assert_eq!(of("Sound.vue").expect("judged")["verdict"], "holds", "{file}");
    let bad = of(file).cloned().unwrap_or_else(|| results["faults"][0].clone());
    (bad, run.code)
}

#[test]
fn what_throws_is_a_broken_promise_with_its_line() {
    for (file, source, line, text) in [
        ("A.tsx", "export default function A() {\n  if (true) throw new TypeError('in render')\n  return <p/>\n}\n", 2, "in render"),
        (
            "B.tsx",
            "import { useEffect } from 'react'\nexport default function B() {\n  useEffect(() => {\n    throw new Error('in an effect')\n  })\n  return <p/>\n}\n",
            4,
            "in an effect",
        ),
        (
            "C.tsx",
            "export default function C() {\n  Promise.resolve().then(() => {\n    throw new Error('in a promise')\n  })\n  return <p/>\n}\n",
            3,
            "in a promise",
        ),
        (
            "D.vue",
            "<script setup lang=\"ts\">\nconst kiln: { hot?: { at: number } } = {}\nconst at = kiln.hot!.at\n</script>\n<template><p>{{ at }}</p></template>\n",
            3,
            "undefined",
        ),
        (
            "E.vue",
            "<script setup>\nimport { onMounted } from 'vue'\nonMounted(() => {\n  throw new Error('when mounted')\n})\n</script>\n<template><p/></template>\n",
            4,
            "when mounted",
        ),
    ] {
        let (bad, code) = beside_a_good_one(file, source);
        assert_eq!((bad["verdict"].as_str(), code), (Some("broken"), 1), "{file}: {bad:#}");
        let finding = &bad["findings"][0];
        assert_eq!(finding["rule"], "render/succeeds", "{file}");
        assert!(finding["actual"].as_str().is_some_and(|a| a.contains(text)), "{file}: {finding:#}");
        assert_eq!(
            (finding["source"]["file"].as_str(), finding["source"]["line"].as_u64()),
            (Some(file), Some(line)),
            "{file}: {finding:#}"
        );
    }
}

#[test]
fn what_throws_in_a_handler_breaks_the_clause_that_presses() {
    let studio = Studio::new()
        .with("Dial.vue", "<script setup>\nfunction turn() {\n  throw new Error('stuck')\n}\n</script>\n<template><button @click=\"turn\">Raise</button></template>\n")
        .with("Dial.contract.yaml", "component: ./Dial.vue\nclauses:\n  - clause: can be turned\n    do:\n      - press: button \"Raise\"\n    expect:\n      - failed: nothing\n");
    let results = studio.results(&[]);
    let finding = &results["components"][0]["findings"][0];
    assert_eq!(finding["rule"], "can be turned", "{results:#}");
    assert_eq!(finding["source"]["line"], 3, "{finding:#}");
}

#[test]
fn what_cannot_be_loaded_says_where_and_what_to_do() {
    for (file, source, part, line) in [
        ("A.vue", "<script setup>\nconst a = 1\nconst = 2\n</script>\n<template><p/></template>\n", "does not compile", 3),
        ("B.vue", "<template>\n  <div>\n    <p>\n  </div>\n</template>\n", "missing end tag", 3),
        ("C.tsx", "export default function C() {\n  return <p>\n}\n", "syntax error", 3),
        (
            "D.vue",
            "<script setup>\nimport x from './nowhere.js'\n</script>\n<template><p/></template>\n",
            "`./nowhere.js` is imported, but there is no such file",
            0,
        ),
        (
            "E.tsx",
            "import { format } from 'kiln-time'\nexport default function E() { return <p>{format()}</p> }\n",
            "npm install kiln-time",
            0,
        ),
        ("F.vue", "<script>\nthrow new Error('at once')\n</script>\n<template><p/></template>\n", "at once", 2),
    ] {
        let (bad, code) = beside_a_good_one(file, source);
        assert_eq!((bad["verdict"].as_str(), code), (Some("unjudged"), 2), "{file}: {bad:#}");
        let reason = &bad["reason"];
        assert!(reason["message"].as_str().is_some_and(|m| m.to_lowercase().contains(&part.to_lowercase())), "{file}: {reason:#}");
        assert_eq!(reason["place"]["file"], file, "{reason:#}");
        if line > 0 {
            assert_eq!(reason["place"]["line"], line, "{file}: {reason:#}");
        }
    }
    let (fault, code) = beside_a_good_one("G.vue", b"<template>\xff\xfe</template>");
    assert_eq!(code, 2);
    assert!(fault["message"].as_str().is_some_and(|m| m.contains("not UTF-8")), "{fault:#}");
}

#[test]
fn what_never_ends_is_unjudged() {
    for (file, source, parts) in [
        (
            "A.tsx",
            "export default function A() {\n  for (;;) {}\n}\n",
            &["mounting it did not come to an end within 40 million steps", "`--deadline` raises it (with nothing passed)"][..],
        ),
        (
            "B.js",
            "for (;;) {}\ncustomElements.define('x-b', class extends HTMLElement {})\n",
            &["loading it did not come to an end within 240 million"],
        ),
        (
            "C.vue",
            "<script setup>\nconst heap = []\nfor (;;) heap.push(new Array(10000).fill('clay'))\n</script>\n<template><p/></template>\n",
            &["mounting it needed more than 96 MiB of memory: `--memory` raises the limit"],
        ),
    ] {
        let (bad, code) = beside_a_good_one(file, source);
        assert_eq!((bad["verdict"].as_str(), code), (Some("unjudged"), 3), "{file}: {bad:#}");
        assert!(bad["reason"]["message"].as_str().is_some_and(|m| parts.iter().all(|p| m.contains(p))), "{file}: {bad:#}");
    }
}

/// Each event of its details sets off the next.
const TOGGLES: &str = "<script setup>\nimport { ref } from 'vue'\nconst open = ref(true)\n</script>\n<template><details :open=\"open\" @toggle=\"open = !open\"><summary>Glazes</summary></details></template>\n";

#[test]
fn in_a_browser_too_events_that_set_one_another_off_end() {
    if !studio::has_browser() {
        return;
    }
    let studio = Studio::new().with("Glazes.vue", TOGGLES);
    let run = studio.run(&["check", "--stage", "browser", "--json", "-"]);
    assert_eq!(run.code, 1, "{}{}", run.out, run.err);
    assert!(run.out.contains("render/settles"), "{}", run.out);
}

#[test]
fn an_endless_update_loop_is_a_finding() {
    for (file, source) in [
        (
            "A.tsx",
            "import { useEffect, useState } from 'react'\nexport default function A() {\n  const [n, set] = useState(0)\n  useEffect(() => set(n + 1))\n  return <p>{n}</p>\n}\n",
        ),
        ("B.vue", "<script setup>\nimport { ref } from 'vue'\nconst n = ref(0)\n</script>\n<template><p>{{ n++ }}</p></template>\n"),
        ("C.vue", TOGGLES),
        ("D.vue", "<script setup>\nconst again = () => Promise.resolve().then(again)\nagain()\n</script>\n<template><p/></template>\n"),
        (
            "E.vue",
            "<script setup>\nimport { nextTick, ref, watch } from 'vue'\nconst n = ref(0)\nwatch(n, async () => { await nextTick(); n.value++ })\nn.value++\n</script>\n<template><p>{{ n }}</p></template>\n",
        ),
        (
            "F.tsx",
            "import { useEffect, useState } from 'react'\nexport default function F() {\n  const [n, set] = useState(0)\n  useEffect(() => { Promise.resolve().then(() => set(n + 1)) }, [n])\n  return <p>{n}</p>\n}\n",
        ),
    ] {
        let (bad, code) = beside_a_good_one(file, source);
        assert_eq!((bad["verdict"].as_str(), code), (Some("broken"), 1), "{file}: {bad:#}");
    }
}

#[test]
fn faults_of_contracts_are_told_all_at_once_with_their_places() {
    let dial = "<script setup lang=\"ts\">\ndefineProps<{ label: string; locked?: boolean }>()\n</script>\n<template><p class=\"label\">{{ label }}</p></template>\n";
    let contract = "component: ./Dial.vue\nprops:\n  lable: [Bisque]\n  locked: all\nclauses:\n  - clause: shows its label\n    where: \"!locked &&\"\n    expect:\n      - text: .label\n        is: ${label}\n  - clause: is there\n    expect:\n      - emitted: fire\n      - text: \"..x\"\n        is: 1\n";
    let studio = Studio::new().with("Dial.vue", dial).with("Dial.contract.yaml", contract).with("Sound.vue", GOOD);
    let run = studio.run(&["check"]);
    assert_eq!(run.code, 2, "{}", run.out);
    assert!(run.out.contains("Dial.contract.yaml:14:") && run.out.contains("✓ Sound.vue"), "{}", run.out);
    // With the selector mended, what needs the component and the engine is told, all of it.
    let studio = studio.with("Dial.contract.yaml", contract.replace("..x", ".x"));
    let run = studio.run(&["check"]);
    for part in ["`lable` is no prop of Dial", "did you mean `label`?", "this is no expression", "`fire` is no event of Dial"] {
        assert!(run.out.contains(part), "{part}: {}", run.out);
    }
    assert_eq!(run.code, 2);
}

#[test]
fn a_contract_for_nothing_is_a_fault() {
    let studio = Studio::new().with("Sound.vue", GOOD).with("Gone.contract.yaml", "component: ./Soumd.vue\n");
    let run = studio.run(&["check"]);
    assert_eq!(run.code, 2);
    assert!(run.out.contains("did you mean `Sound.vue`?"), "{}", run.out);
}

#[test]
fn faults_of_every_kind_are_told_in_one_run() {
    let studio = Studio::new().with("Dial.vue", "<script setup>\ndefineProps({ locked: Boolean })\n</script>\n<template><button>Raise</button></template>\n").with(
        "Dial.contract.yaml",
        "component: ./Dial.vue\nprops: { lokced: all }\nnever: locked &&\nclauses:\n  - clause: rises\n    do: [{ press: buton \"Raise\" }, { pres: button }]\n    expect: [{ emitted: fire }, { count: '..x', is: 1 }]\n",
    );
    let results = studio.results(&[]);
    let faults = results["faults"].as_array().expect("a list");
    let lines: Vec<_> = faults.iter().map(|f| (f["place"]["line"].as_u64().unwrap_or(0), f["message"].as_str().unwrap_or(""))).collect();
    for (line, part) in [
        (2, "`lokced` is no prop"),
        (3, "no expression"),
        (6, "`buton` is no WAI-ARIA role"),
        (6, "`pres` is no step"),
        (7, "`fire` is no event"),
    ] {
        assert!(lines.iter().any(|(l, m)| *l == line && m.contains(part)), "{part}: {lines:#?}");
    }
}

#[test]
fn a_faulty_contract_given_alone_tells_all_its_faults() {
    let lamp =
        "<script setup>\ndefineProps({ lit: Boolean })\ndefineEmits(['toggled'])\n</script>\n<template><button>Lamp</button></template>\n";
    let contract = "component: ../src/Lamp.vue\nprosp: {}\nclauses:\n  - { clause: it tells, do: [{ pass: { litt: true } }], expect: [{ emitted: toggle }] }\n";
    let studio = Studio::new().with("src/Lamp.vue", lamp).with("contracts/Lamp.contract.yaml", contract);
    let run = studio.run(&["check", "contracts/Lamp.contract.yaml"]);
    assert_eq!(run.code, 2, "{}", run.out);
    for told in ["`prosp` is no key", "`litt` is no prop", "`toggle` is no event", "? src/Lamp.vue", "3 faults in files"] {
        assert!(run.out.contains(told), "{told}: {}", run.out);
    }
}

#[test]
fn a_template_in_another_language_is_no_page() {
    let studio = Studio::new().with(
        "Sign.vue",
        "<script>\nexport default { props: { label: String } }\n</script>\n<template lang=\"pug\">\np.sign {{ label }}\n</template>\n",
    );
    let run = studio.run(&["check", "Sign.vue"]);
    assert_eq!(run.code, 2, "{}{}", run.out, run.err);
    assert!(run.out.contains("Sign.vue:4:1") && run.out.contains("written in pug"), "{}", run.out);
}

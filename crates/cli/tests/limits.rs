//! What components, sources and stylesheets may do costs themselves alone: the sound component beside each is judged in every run, within
//! the limits of memory that were given.

mod studio;

use std::io::Write as _;
use std::process::{Command, Stdio};

use studio::Studio;

const GOOD: &str = "<template><p>Mug</p></template>";

/// An element whose connection runs this.
fn element(script: &str) -> String {
    format!("customElements.define('x-bad', class extends HTMLElement {{ connectedCallback() {{ {script} }} }})\n")
}

/// What became of a bad file beside a good one: its entry, and the exit code.
fn beside_a_good_one(files: &[(&str, String)], bad: &str) -> (serde_json::Value, i32) {
    let mut studio = Studio::new().with("Sound.vue", GOOD);
    for (file, source) in files {
        studio = studio.with(file, source);
    }
    let run = studio.run(&["check", ".", "--json", "-", "--deadline", "1s", "--memory", "96"]);
    let results: serde_json::Value = serde_json::from_str(&run.out).unwrap_or_else(|e| panic!("{bad}: {e}: {}{}", run.out, run.err));
    let components = results["components"].as_array().expect("a list");
    let of = |name: &str| components.iter().find(|c| c["component"].as_str().is_some_and(|n| n.starts_with(name))).cloned();
    assert_eq!(of("Sound.vue").expect("judged")["verdict"], "holds", "{bad}");
    (of(bad).unwrap_or_else(|| results["faults"][0].clone()), run.code)
}

#[test]
fn stylesheets_without_end_cost_one_verdict() {
    let nested = format!("{}{}", "a{".repeat(20_000), "}".repeat(20_000));
    for (what, sass) in [
        ("a function that calls itself", "@function f($x){@return f($x)} .a{b:f(1)}"),
        ("a mixin that includes itself", "@mixin m{@include m} .a{@include m}"),
        ("blocks in blocks", nested.as_str()),
        ("a text that doubles", "$s:'x'; @for $i from 1 through 60 {$s:$s+$s}"),
        ("a loop", "@while true{a{b:c}}"),
        ("a long loop", "@for $i from 1 through 100000000{.a#{$i}{b:c}}"),
    ] {
        let component = "<script setup>\nimport './s.scss'\n</script>\n<template><p>x</p></template>\n".to_owned();
        let (bad, code) = beside_a_good_one(&[("Bad.vue", component), ("s.scss", sass.to_owned())], "Bad.vue");
        assert_eq!((bad["verdict"].as_str(), code), (Some("unjudged"), 3), "{what}: {bad:#}");
        let message = bad["reason"]["message"].as_str().expect("told");
        let told = message.starts_with("compiling s.scss needed more than 96 MiB of memory")
            || message.starts_with("compiling s.scss took more than 6s of processor time")
            || message == "loading it ended the process that it ran in (stack overflow)";
        assert!(told, "{what}: {message}");
    }
}

#[test]
fn what_no_step_interrupts_is_ended_from_outside() {
    for (what, script, told) in [
        ("a long join", "Array.prototype.join.call({ length: 2 ** 40 }, '')", "mounting it took more than 4s of processor time"),
        (
            "values of a field",
            "const t = document.createElement('textarea'); for (;;) t.value = 'x'.repeat(3e7)",
            "mounting it needed more than 96 MiB",
        ),
        ("a loop", "for (;;);", "mounting it did not come to an end within 20 million steps"),
    ] {
        let (bad, code) = beside_a_good_one(&[("bad.js", element(script))], "bad.js");
        assert_eq!((bad["verdict"].as_str(), code), (Some("unjudged"), 3), "{what}: {bad:#}");
        let message = bad["reason"]["message"].as_str().expect("told");
        assert!(message.starts_with(told) && message.ends_with("(with nothing passed)"), "{what}: {message}");
    }
}

#[test]
fn an_error_that_ends_in_null_is_no_full_memory() {
    let (bad, code) =
        beside_a_good_one(&[("bad.js", element("globalThis.held = new Array(1e6).fill(1.5); const o = null; o.x"))], "bad.js");
    assert_eq!((bad["verdict"].as_str(), code), (Some("broken"), 1), "{bad:#}");
    assert!(bad["findings"][0]["actual"].as_str().is_some_and(|a| a.contains("property 'x' of null")), "{bad:#}");
}

#[test]
fn sources_that_nest_deep_cost_one_verdict() {
    let deep = |open: &str, close: &str, n: usize| {
        format!("const a = {}1{}\nexport default function Deep() {{ return <p>deep</p> }}\n", open.repeat(n), close.repeat(n))
    };
    for (what, source) in [
        (
            "an interface that extends itself",
            "interface Props extends Props { x: string }\nexport default function Deep(p: Props) { return <p/> }\n".to_owned(),
        ),
        (
            "two that extend each other",
            "interface D extends E {}\ninterface E extends D {}\nexport default function Deep(p: D) { return <p/> }\n".to_owned(),
        ),
        ("arrays", deep("[", "]", 10_000)),
        ("parentheses", deep("(", ")", 10_000)),
        ("objects", deep("{a:", "}", 10_000)),
        ("conditions", deep("1?", ":2", 20_000)),
        ("sums", deep("1+", "", 100_000)),
        ("elements", format!("export default function Deep() {{ return {}{} }}\n", "<a>".repeat(20_000), "</a>".repeat(20_000))),
        (
            "branches",
            format!("export default function Deep() {{ let a = 1; {}{{}} return <p/> }}\n", "if (a == 1) {} else ".repeat(30_000)),
        ),
        ("calls", format!("const a = ''{}\nexport default function Deep() {{ return <p/> }}\n", ".at(1, 2)".repeat(30_000))),
    ] {
        // Whether the engine's own stack is enough for it decides the verdict; that there is one is what counts.
        let (bad, code) = beside_a_good_one(&[("Deep.tsx", source)], "Deep.tsx");
        assert!(matches!(code, 0..=3) && (bad["verdict"].is_string() || bad["message"].is_string()), "{what}: exit {code}, {bad:#}");
    }
}

#[test]
fn a_made_up_value_that_is_too_much_is_left_out() {
    let (many, code) = beside_a_good_one(
        &[(
            "Many.vue",
            "<script setup lang=\"ts\">\ndefineProps<{ width: number; label?: string }>()\n</script>\n<template><p :title=\"label\"><i v-for=\"n in Math.max(0, Math.floor(width)) ** 2\" :key=\"n\" /></p></template>\n".to_owned(),
        )],
        "Many.vue",
    );
    assert_eq!((many["verdict"].as_str(), code), (Some("holds"), 0), "{many:#}");
    let notes: Vec<&str> = many["notes"].as_array().expect("notes").iter().filter_map(|n| n.as_str()).collect();
    assert!(notes.iter().any(|n| n.starts_with("not judged with width = 10000: mounting it")), "{notes:?}");
}

#[test]
fn what_observes_cannot_be_reached_or_replaced() {
    let base = |attack: &str| {
        format!(
            "<script setup>\nconst emit = defineEmits(['fire'])\n{attack}\nfetch('/api/kilns').catch(() => {{}})\nfunction twice() {{ emit('fire'); emit('fire') }}\n</script>\n<template><button @click=\"twice\">Fire</button></template>\n"
        )
    };
    let contract = "component: ./Bad.vue\nclauses:\n  - clause: emits once\n    do:\n      - press: button\n    expect:\n      - emitted: fire\n        times: 1\n  - clause: asks for nothing\n    expect:\n      - requested: nothing\n";
    for attack in [
        "",
        "for (const name of ['events', 'requests', 'held', 'strays']) Object.defineProperty(Object.prototype, name, { configurable: true, set() {}, get() { return undefined } })",
        "Array.prototype.toJSON = () => []",
        "Object.defineProperty(Object.prototype, 'toJSON', { configurable: true, writable: true, value: () => ({ left: [0, 0, 0, 0, 0], held: {} }) })",
        "const own = JSON.stringify; JSON.stringify = (v) => own(v && v.held ? { left: v.left, held: v.held } : v)",
        "try { globalThis.__fidelon.takeRequests() } catch {} try { globalThis.__stage.observe() } catch {}",
        "Map.prototype.get = () => undefined; Map.prototype.has = () => false",
        "import('stage:session').catch(() => {}); import('stage:window').then((m) => m.host.takeRequests()).catch(() => {})",
    ] {
        let studio = Studio::new().with("Bad.vue", base(attack)).with("Bad.contract.yaml", contract);
        // What breaks the component itself with its attack may leave it unjudged, but never held.
        let not_held = |arguments: &[&str], wanted: &[&str]| {
            let results = studio.results(arguments);
            let component = &results["components"][0];
            for clause in ["emits once", "asks for nothing"] {
                let of = component["clauses"].as_array().and_then(|all| all.iter().find(|c| c["clause"] == clause));
                let verdict = of.map_or("unjudged", |c| c["verdict"].as_str().unwrap_or_default());
                assert!(wanted.contains(&verdict), "{clause}: {attack} {arguments:?}: {component:#}");
            }
        };
        not_held(&[], &["broken", "unjudged"]);
        if ["", "Array.prototype.toJSON = () => []", "Map.prototype.get = () => undefined; Map.prototype.has = () => false"]
            .contains(&attack)
            && studio::has_browser()
        {
            not_held(&["--stage", "browser"], &["broken"]);
        }
    }
}

#[test]
fn nothing_outside_the_project_is_read_or_written() {
    let outside = tempfile::tempdir().expect("made");
    let place = outside.path().canonicalize().expect("there");
    std::fs::create_dir_all(place.join("node_modules/leak")).expect("made");
    for (file, text) in [
        ("secret.html", "<p>CANARY-1</p>"),
        ("secret.ts", "export interface Leak { canary2: 'CANARY-2' }"),
        ("secret.json", "\"CANARY-3\""),
        ("node_modules/leak/private.txt", "CANARY-4"),
        ("XExt.js", "customElements.define('x-ext', class extends HTMLElement { connectedCallback() { this.textContent = 'CANARY-5' } })"),
    ] {
        std::fs::write(place.join(file), text).expect("written");
    }
    let at = place.display();
    let studio = Studio::new()
        .with("package.json", "{}")
        .with("Page.ts", format!("import {{ Component }} from '@angular/core'\n@Component({{ selector: 'x-page', templateUrl: '{at}/secret.html' }})\nexport class Page {{}}\n"))
        .with("Types.tsx", format!("import type {{ Leak }} from '{at}/secret'\nexport default function Types(p: Leak) {{ return <p/> }}\n"))
        .with("File.vue", "<script setup>\ndefineProps(['word'])\n</script>\n<template><p>{{ word }}</p></template>\n")
        .with("File.contract.yaml", format!("component: ./File.vue\nprops:\n  word: [{{ $file: {at}/secret.json }}]\n"))
        .with("Installed.vue", format!("<script setup>\nimport text from '{at}/node_modules/leak/private.txt?raw'\n</script>\n<template><p>{{{{ text }}}}</p></template>\n"))
        .with("Ext.contract.yaml", format!("component: {at}/XExt.js\n"));
    #[cfg(unix)]
    let studio = {
        std::os::unix::fs::symlink(place.join("secret.json"), studio.path("link.json")).expect("linked");
        studio.with("Linked.vue", "<script setup>\nimport word from './link.json'\n</script>\n<template><p>{{ word }}</p></template>\n")
    };
    for arguments in [
        &["check", ".", "--json", "-"][..],
        &["survey", ".", "--full"],
        &["accept", "."],
        &["check", ".", "--stage", "browser", "--json", "-"],
    ] {
        if arguments.contains(&"browser") && !studio::has_browser() {
            continue;
        }
        let run = studio.run(arguments);
        assert!(!run.out.contains("CANARY") && !run.err.contains("CANARY"), "{arguments:?}: {}{}", run.out, run.err);
    }
    let mut left: Vec<String> = place.read_dir().expect("there").flatten().map(|e| e.file_name().to_string_lossy().into_owned()).collect();
    left.sort();
    assert_eq!(left, ["XExt.js", "node_modules", "secret.html", "secret.json", "secret.ts"]);
}

#[cfg(unix)]
#[test]
fn what_is_no_file_is_not_read() {
    let studio = Studio::new()
        .with("Dial.vue", "<script setup>\ndefineProps(['word'])\n</script>\n<template><p>{{ word }}</p></template>\n")
        .with("Dial.contract.yaml", "component: ./Dial.vue\nprops:\n  word: [{ $file: ./endless.json }, { $file: ./pipe.json }]\n");
    std::os::unix::fs::symlink("/dev/zero", studio.path("endless.json")).expect("linked");
    let made = Command::new("mkfifo").arg(studio.path("pipe.json")).status().expect("mkfifo runs");
    assert!(made.success());
    let run = studio.run(&["check", "."]);
    assert_eq!(run.code, 2, "{}{}", run.out, run.err);
    assert!(run.out.contains("no regular file") || run.out.contains("outside the project"), "{}", run.out);
}

#[cfg(unix)]
#[test]
fn a_report_takes_nothing_away_that_it_did_not_write() {
    let outside = tempfile::tempdir().expect("made");
    std::fs::write(outside.path().join("thesis.txt"), "years of work").expect("written");
    let studio =
        Studio::new().with("Sound.vue", GOOD).with("report/.fidelon-report", "0.1.0\n../keep.txt\ndata/old.js\n").with("keep.txt", "mine");
    std::os::unix::fs::symlink(outside.path(), studio.path("report/data")).expect("linked");
    let run = studio.run(&["check", ".", "--html", "report"]);
    assert_eq!(run.code, 2, "{}{}", run.out, run.err);
    assert!(run.err.contains("is a link"), "{}", run.err);
    assert!(outside.path().join("thesis.txt").is_file() && outside.path().read_dir().expect("there").count() == 1);
    // Without the link: its own old file goes, the user's stays.
    std::fs::remove_file(studio.path("report/data")).expect("removed");
    let studio = studio.with("report/data/old.js", "").with("report/data/mine.txt", "mine");
    let run = studio.run(&["check", ".", "--html", "report"]);
    assert_eq!(run.code, 0, "{}{}", run.out, run.err);
    let is_there = |file: &str| studio.path(file).is_file();
    assert!(is_there("report/data/mine.txt") && is_there("keep.txt") && !is_there("report/data/old.js") && is_there("report/index.html"));
}

#[test]
fn texts_of_components_move_no_terminal_and_command_no_service() {
    let studio = Studio::new().with(
        "Bad.vue",
        "<script setup>\nthrow new Error('boom \\u001b[2J \\u009b \\u0007\\r\\n::error file=x::pwned')\n</script>\n<template><p/></template>\n",
    );
    for arguments in [
        &["check", "."][..],
        &["check", ".", "--format", "lines"],
        &["check", ".", "--format", "annotations"],
        &["check", ".", "--color", "always"],
        &["render", "Bad.vue"],
    ] {
        let run = studio.run(arguments);
        for text in [&run.out, &run.err] {
            let colours = arguments.contains(&"always");
            let bad = text.chars().any(|c| c.is_control() && c != '\n' && c != '\t' && !(colours && c == '\u{1b}'));
            assert!(!bad && !text.contains("\u{1b}[2J"), "{arguments:?}: {text:?}");
            assert!(text.lines().all(|l| !l.trim_start().starts_with("::error file=x")), "{arguments:?}: {text}");
        }
        assert!(run.out.contains("boom") || run.err.contains("boom"), "{arguments:?}: {}{}", run.out, run.err);
    }
}

#[cfg(target_os = "linux")]
#[test]
fn what_cannot_be_written_is_told() {
    let studio = Studio::new().with("Sound.vue", GOOD);
    for arguments in
        [&["check", "."][..], &["check", ".", "--json", "-"], &["survey", "."], &["render", "Sound.vue"], &["schema", "contract"]]
    {
        let full = std::fs::OpenOptions::new().write(true).open("/dev/full").expect("there");
        let mut command = studio.command(arguments);
        let output = command.stdout(Stdio::from(full)).stderr(Stdio::piped()).output().expect("runs");
        let said = String::from_utf8_lossy(&output.stderr).into_owned();
        assert_eq!(output.status.code(), Some(2), "{arguments:?}: {said}");
        assert!(said.contains("standard output cannot be written"), "{arguments:?}: {said}");
    }
}

#[test]
fn events_come_as_lines_and_a_failed_file_is_an_error() {
    let studio = Studio::new()
        .with("Sound.vue", GOOD)
        .with("Thrown.vue", "<script setup>\nthrow new Error('x')\n</script>\n<template><p/></template>\n");
    let run = studio.run(&["check", ".", "--events", "events.jsonl"]);
    assert_eq!(run.code, 1, "{}{}", run.out, run.err);
    let text = std::fs::read_to_string(studio.path("events.jsonl")).expect("written");
    let events: Vec<serde_json::Value> = text.lines().map(|l| serde_json::from_str(l).expect("JSON")).collect();
    assert_eq!(events[0]["event"], "surveyed");
    assert_eq!(events[0]["components"], serde_json::json!(["Sound.vue", "Thrown.vue"]));
    let mut judged: Vec<(u64, &str)> = events
        .iter()
        .filter(|e| e["event"] == "judged")
        .map(|e| (e["index"].as_u64().expect("a number"), e["component"]["verdict"].as_str().expect("a word")))
        .collect();
    judged.sort_unstable();
    assert_eq!(judged, [(0, "holds"), (1, "broken")]);
    let run = studio.run(&["check", ".", "--events", "nowhere/events.jsonl"]);
    assert_eq!(run.code, 2, "{}{}", run.out, run.err);
}

/// A worker that is spoken to in no language that it knows ends, and says nothing.
#[test]
fn a_worker_takes_no_nonsense() {
    let mut worker = Command::new(env!("CARGO_BIN_EXE_fidelon"))
        .arg("--play-components")
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .expect("starts");
    worker.stdin.take().expect("open").write_all(&[3, 0, 0, 0, 1, 2, 3]).expect("written");
    let output = worker.wait_with_output().expect("ends");
    assert!(!output.status.success() && output.stdout.is_empty());
}

/// Where each case has a realm of its own, that is a copy of one that lies ready: what ends a copy costs what it costs elsewhere, and what
/// only a copy reached is known.
#[test]
fn a_realm_for_each_case_is_lost_alone() {
    let late = "<script setup lang=\"ts\">\nimport { ref, watchEffect } from 'vue'\nconst props = defineProps<{ kiln: 'cold' | 'lit' | 'mad' }>()\nconst words = ref('')\nwatchEffect(async () => {\n  if (props.kiln === 'mad') { const all: string[] = []; for (;;) all.push('ash'.repeat(1e6) + all.length) }\n  words.value = props.kiln === 'lit' ? (await import('./words.js')).words : ''\n})\n</script>\n<template><p>{{ kiln }} {{ words }}</p></template>\n";
    let contract = "component: ./Late.vue\nprops: { kiln: all }\nclauses:\n  - clause: it says so\n    where: kiln == 'lit'\n    expect: [{ text: p, is: lit hot }]\n";
    let studio = Studio::new()
        .with("Late.vue", late)
        .with("words.js", "export const words = 'hot'\n")
        .with("Late.contract.yaml", contract)
        .with("Sound.vue", GOOD);
    let check = |studio: &Studio, more: &[&str]| {
        let run = studio.run(&[&["check", ".", "--json", "-", "--deadline", "1s", "--memory", "96"], more].concat());
        let results: serde_json::Value = serde_json::from_str(&run.out).unwrap_or_else(|e| panic!("{e}: {}{}", run.out, run.err));
        (results["components"].clone(), run.code)
    };
    let (fresh, code) = check(&studio, &["--fresh"]);
    let notes: Vec<&str> = fresh[0]["notes"].as_array().expect("notes").iter().filter_map(|n| n.as_str()).collect();
    assert!(notes.iter().any(|n| n.starts_with("not judged with kiln = \"mad\": mounting it")), "{fresh:#}");
    assert_eq!((fresh[0]["verdict"].as_str(), fresh[1]["verdict"].as_str(), code), (Some("holds"), Some("holds"), 0), "{fresh:#}");
    let (shared, _) = check(&studio, &[]);
    assert_eq!(shared, fresh, "each realm is as one that was opened");
    // Only playing reaches the words.
    let studio = studio.with("words.js", "export const words = 'cold'\n");
    let (anew, code) = check(&studio, &["--fresh"]);
    assert_eq!((anew[0]["verdict"].as_str(), code), (Some("broken"), 1), "{anew:#}");
}

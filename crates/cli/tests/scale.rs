//! Runs over many components: in parts that are joined, of what a change touches, with what an earlier run kept.

mod studio;

use std::path::Path;

use studio::{Studio, kit};

/// Components that share a file, some that do not, and flawed ones.
fn shop() -> Studio {
    let mut studio = Studio::new()
        .with("src/words.ts", "export const mug = 'Mug'\n")
        .with("src/lib/price.ts", "import { mug } from '../words'\nexport const price = (n: number) => `${mug} ${n}`\n")
        .with("src/DoubledCard.vue", kit("flawed/DoubledCard.vue"))
        .with("src/DoubledCard.contract.yaml", kit("flawed/DoubledCard.contract.yaml"))
        .with("src/VentSwitch.tsx", kit("react/VentSwitch.tsx"))
        .with("src/Hung.vue", "<script setup>\nfor (;;) {}\n</script>\n<template><p/></template>\n");
    for n in 0..5 {
        let script = if n < 3 { "import { price } from './lib/price'" } else { "const price = (n) => n" };
        let text = format!(
            "<script setup lang=\"ts\">\n{script}\ndefineProps<{{ n: number }}>()\n</script>\n<template><p>{{{{ price(n) }}}}</p></template>\n"
        );
        studio = studio.with(&format!("src/Piece{n}.vue"), text);
    }
    studio
}

#[test]
fn parts_joined_are_the_whole() {
    let studio = shop();
    let deadline = ["--deadline", "4000"];
    let whole = studio.run(&[&["check", "src", "--json", "whole.json", "--junit", "whole.xml"][..], &deadline].concat());
    assert_eq!(whole.code, 3, "one is never done: {}{}", whole.out, whole.err);
    let mut seen = 0;
    for n in 1..=3 {
        let (part, file) = (format!("{n}/3"), format!("part-{n}.json"));
        studio.run(&[&["check", "src", "--part", &part, "--json", &file][..], &deadline].concat());
        let results: serde_json::Value =
            serde_json::from_str(&std::fs::read_to_string(studio.path(&file)).expect("written")).expect("JSON");
        assert_eq!(results["part"], serde_json::json!({ "number": n, "of": 3 }));
        seen += results["components"].as_array().map_or(0, Vec::len);
    }
    let merged = studio.run(&["merge", "part-3.json", "part-1.json", "part-2.json", "--json", "merged.json", "--junit", "merged.xml"]);
    assert_eq!((merged.code, seen), (3, 8), "{}", merged.err);
    let read = |file: &str| std::fs::read_to_string(studio.path(file)).expect(file);
    assert_eq!(read("merged.json"), read("whole.json"));
    assert_eq!(read("merged.xml"), read("whole.xml"));
    assert_eq!(merged.out, whole.out);

    let told = |args: &[&str]| {
        let run = studio.run(args);
        assert_eq!(run.code, 2, "{args:?}: {}", run.out);
        run.err
    };
    assert!(told(&["merge", "part-1.json", "part-3.json"]).contains("one is missing: 2"));
    assert!(told(&["merge", "part-1.json", "part-1.json", "part-2.json"]).contains("are both part 1"));
    assert!(told(&["merge", "whole.json"]).contains("of a whole run"));
    assert!(told(&["merge", "src/words.ts"]).contains("holds no results"));
    for (part, why) in [("0/3", "no part"), ("4/3", "no part 4 of 3"), ("x", "write 2/5"), ("auto", "no scheduler set a number")] {
        assert!(told(&["check", "src", "--part", part]).contains(why), "{part}");
    }
    // A scheduler says which.
    let run = studio.run_with(
        &["check", "src", "--part", "auto", "--json", "-"],
        &[("CI_NODE_INDEX", "2"), ("CI_NODE_TOTAL", "3"), ("SLURM_ARRAY_TASK_ID", "9")],
    );
    let results: serde_json::Value = serde_json::from_str(&run.out).expect("JSON");
    assert_eq!(results["part"]["number"], 2);
}

#[test]
fn only_what_a_change_reaches_is_judged() {
    let studio = shop().with(".gitignore", "node_modules\n.cache\n");
    std::fs::remove_file(studio.path("src/Hung.vue")).expect("there");
    studio.git(&["init", "-q", "-b", "main"]);
    studio.git(&["add", "."]);
    studio.git(&["commit", "-q", "-m", "the shop"]);
    let judged = |studio: &Studio| -> Vec<String> {
        let run = studio.run(&["check", "--since", "main", "--json", "-"]);
        assert!(run.code < 2, "{}", run.err);
        let results: serde_json::Value = serde_json::from_str(&run.out).expect("JSON");
        results["components"].as_array().expect("a list").iter().map(|c| c["component"].as_str().unwrap_or_default().to_owned()).collect()
    };
    assert_eq!(judged(&studio), Vec::<String>::new());
    studio.git(&["switch", "-q", "-c", "prices"]);
    // Two files away, and not committed.
    let studio = studio.with("src/words.ts", "export const mug = 'Cup'\n");
    assert_eq!(judged(&studio), ["src/Piece0.vue", "src/Piece1.vue", "src/Piece2.vue"]);
    studio.git(&["commit", "-q", "-am", "cups"]);
    // A contract, a new component, and a file that is gone.
    let contract = kit("flawed/DoubledCard.contract.yaml").replace("each piece", "every piece");
    let studio = studio.with("src/DoubledCard.contract.yaml", contract).with("src/New.vue", "<template><p>New</p></template>\n");
    assert_eq!(judged(&studio), ["src/DoubledCard.vue", "src/New.vue", "src/Piece0.vue", "src/Piece1.vue", "src/Piece2.vue"]);
    // Versions of packages touch everything.
    let studio = studio.with("package.json", "{ \"name\": \"studio\", \"private\": true, \"dependencies\": {} }");
    assert_eq!(judged(&studio).len(), 8);
    let run = studio.run(&["check", "--since", "no-such-branch"]);
    assert!(run.code == 2 && run.err.contains("git says"), "{}", run.err);
}

/// How many components a run judged anew: what was kept costs no realm, and says so with `--verbose`.
fn kept(run: &studio::Run) -> usize {
    let line = run.err.lines().find(|l| l.contains("unchanged")).unwrap_or_default();
    line.split_whitespace().next().and_then(|n| n.parse().ok()).unwrap_or(0)
}

fn copy(from: &Path, to: &Path) {
    std::fs::create_dir_all(to).expect("made");
    for entry in std::fs::read_dir(from).expect("there").flatten() {
        let target = to.join(entry.file_name());
        if entry.path().is_dir() { copy(&entry.path(), &target) } else { assert!(std::fs::copy(entry.path(), target).is_ok()) }
    }
}

#[test]
fn what_was_not_changed_is_not_played_again_and_nothing_else_is_kept() {
    let studio = shop();
    std::fs::remove_file(studio.path("src/Hung.vue")).expect("there");
    let all = ["check", "src", "--json", "-", "--verbose"];
    let first = studio.run(&all);
    assert_eq!((kept(&first), first.code), (0, 1), "{}", first.err);
    let again = studio.run(&all);
    assert_eq!((kept(&again), again.out == first.out), (7, true), "{}", again.err);
    let fresh = studio.run(&[&all[..], &["--fresh"]].concat());
    assert_eq!((kept(&fresh), fresh.out == first.out), (0, true), "{}", fresh.err);

    // Each of these is seen, and what comes of it is what a run without a memory gives.
    let same = |studio: &Studio, expected: usize, what: &str| {
        let kept_run = studio.run(&all);
        let anew = studio.run(&[&all[..], &["--no-cache"]].concat());
        assert_eq!(kept_run.out, anew.out, "{what}");
        assert_eq!(kept(&kept_run), expected, "{what}: {}", kept_run.err);
        assert_eq!(kept(&studio.run(&all)), 7, "{what}, a second time");
    };
    let studio = studio.with("src/words.ts", "export const mug = 'Cup'\n");
    same(&studio, 4, "a file that three import through another");
    let studio = studio.with("src/lib/price.mjs", "export const price = (n) => `none ${n}`\n");
    same(&studio, 4, "a new file that comes before the one that was imported");
    let studio = studio.with("src/DoubledCard.contract.yaml", kit("flawed/DoubledCard.contract.yaml").replace("each piece", "every piece"));
    same(&studio, 6, "a contract");
    let studio = studio.with("fidelon.toml", "[[exempt]]\nlaw = \"slot/once\"\nin = \"src/DoubledCard.vue\"\nbecause = \"it mirrors\"\n");
    same(&studio, 6, "an exemption");
    std::fs::remove_file(studio.path("fidelon.toml")).expect("there");
    same(&studio, 7, "and without it, as it was judged before");
    // Another copy of a package that only the framework itself asks for.
    let (from, to) = (studio.path("node_modules/@vue/shared"), studio.path("node_modules/@vue/runtime-dom/node_modules/@vue/shared"));
    copy(&from, &to);
    same(&studio, 1, "a package within the framework");

    // Damaged entries are made anew.
    let mut damaged = 0;
    for folder in std::fs::read_dir(studio.path(".cache")).expect("there").flatten() {
        for file in std::fs::read_dir(folder.path()).into_iter().flatten().flatten() {
            std::fs::write(file.path(), b"damaged").expect("written");
            damaged += 1;
        }
    }
    assert!(damaged > 20, "{damaged}");
    let run = studio.run(&all);
    assert_eq!((kept(&run), run.code), (0, 1));
    assert_eq!(kept(&studio.run(&all)), 7);
}

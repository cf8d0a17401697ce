//! `fidelon watch`: what a save changes is told, whatever is in between.

mod studio;

use std::io::{BufRead as _, BufReader, Write as _};
use std::process::{Child, ChildStdin, Command, Stdio};
use std::sync::mpsc::{Receiver, channel};
use std::time::{Duration, Instant};

use studio::{Studio, kit};

struct Watch {
    child: Child,
    keys: ChildStdin,
    lines: Receiver<String>,
}

impl Watch {
    fn start(studio: &Studio, args: &[&str]) -> Self {
        let mut child = Command::new(env!("CARGO_BIN_EXE_fidelon"))
            .arg("watch")
            .args(args)
            .env("FIDELON_CACHE", studio.path(".cache"))
            .current_dir(studio.path("."))
            .stdin(Stdio::piped())
            .stdout(Stdio::piped())
            .spawn()
            .expect("the program starts");
        let (tell, lines) = channel();
        let out = child.stdout.take().expect("piped");
        std::thread::spawn(move || {
            for line in BufReader::new(out).lines().map_while(Result::ok) {
                if tell.send(line).is_err() {
                    return;
                }
            }
        });
        Self { keys: child.stdin.take().expect("piped"), child, lines }
    }

    fn press(&mut self, key: &str) {
        writeln!(self.keys, "{key}").expect("it listens");
    }

    /// All that is said until all of these words were, and the look that said the last of them is done. A slow machine may see one save as two.
    #[track_caller]
    fn until(&self, words: &[&str]) -> String {
        let end = Instant::now() + Duration::from_secs(90);
        let mut out = String::new();
        while let Ok(line) = self.lines.recv_timeout(end.saturating_duration_since(Instant::now())) {
            out.push_str(&line);
            out.push('\n');
            if line.contains(DONE) && words.iter().all(|w| out.contains(w)) {
                return out;
            }
        }
        panic!("{words:?} were not said:\n{out}");
    }

    /// All that is said until a line has these words.
    #[track_caller]
    fn line(&self, words: &str) -> String {
        let end = Instant::now() + Duration::from_secs(90);
        let mut out = String::new();
        while let Ok(line) = self.lines.recv_timeout(end.saturating_duration_since(Instant::now())) {
            out.push_str(&line);
            out.push('\n');
            if line.contains(words) {
                return out;
            }
        }
        panic!("`{words}` was not said:\n{out}");
    }
}

impl Drop for Watch {
    fn drop(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

/// The line that ends every look.
const DONE: &str = "q end";

#[test]
fn a_save_tells_what_it_touches_and_a_fault_in_between_is_left_behind() {
    let sound = kit("vue/VentSwitch.vue");
    let contract = "component: ./VentSwitch.vue\nprops: { label: [Vent], open: all }\nclauses:\n  - clause: it is labelled\n    where: \"!open\"\n    expect:\n      - text: button\n        is: ${label} shut\n";
    let studio = Studio::new()
        .with("src/VentSwitch.vue", &sound)
        .with("src/VentSwitch.contract.yaml", contract)
        .with("src/words.ts", "export const mug = 'Mug'\n")
        .with("src/Mug.vue", "<script setup>\nimport { mug } from './words'\n</script>\n<template><p>{{ mug }}</p></template>\n")
        .with("src/Bowl.vue", "<template><p>Bowl</p></template>\n");
    let mut watch = Watch::start(&studio, &["src"]);
    watch.until(&["✓ src/VentSwitch.vue", "3 hold, 0 broken"]);
    // As editors save: a file beside it, renamed.
    let save = |file: &str, text: &str| {
        std::fs::write(studio.path("src/.saved.swp"), text).expect("written");
        std::fs::rename(studio.path("src/.saved.swp"), studio.path(file)).expect("renamed");
    };

    // A module that one component imports: that one alone is judged, and nothing is said of what is as it was.
    save("src/words.ts", "export const mug = 'Cup'\n");
    let said = watch.until(&["── src/words.ts", "3 hold"]);
    assert!(!said.contains("Bowl") && !said.contains("Mug.vue"), "{said}");
    save("src/words.ts", "export const mug = (() => { throw new Error('no clay') })()\n");
    watch.until(&["? src/Mug.vue", "no clay", "1 unjudged"]);
    save("src/words.ts", "export const mug = 'Mug'\n");
    watch.until(&["✓ src/Mug.vue", "3 hold"]);

    // A fault of the component's own file, half of a line; then one that breaks a promise; then all well again.
    save("src/VentSwitch.vue", "<script setup lang=\"ts\">\nconst x = (\n</script>\n<template><button>{{ x }}</button></template>\n");
    let said = watch.until(&["? src/VentSwitch.vue", "src/VentSwitch.vue:3:"]);
    assert!(!said.contains("is no prop of"), "what a file with a syntax error declares nobody can say: {said}");
    save("src/VentSwitch.vue", &sound.replace("{{ label }}", "{{ label }}!"));
    watch.until(&["✗ src/VentSwitch.vue", "“it is labelled”", "\"Vent! shut\"", "2 hold, 1 broken"]);
    watch.press("r");
    let said = watch.line("actual");
    assert!(said.contains("mounted") && said.contains("switch \"Vent! shut\""), "{said}");
    save("src/VentSwitch.vue", &sound);
    watch.until(&["✓ src/VentSwitch.vue", "3 hold"]);

    // Gone, and another one made.
    std::fs::remove_file(studio.path("src/Bowl.vue")).expect("there");
    watch.until(&["src/Bowl.vue is there no more", "2 hold"]);
    std::fs::create_dir(studio.path("src/shelves")).expect("made");
    std::fs::write(studio.path("src/shelves/Shelf.vue"), "<template><p>Shelf</p></template>\n").expect("written");
    watch.until(&["✓ src/shelves/Shelf.vue", "3 hold"]);

    watch.press("f shelf");
    let said = watch.until(&["shown: shelf", "Shelf.vue"]);
    assert!(!said.contains("Mug.vue"), "{said}");
    watch.press("f");
    watch.until(&["Mug.vue"]);
    watch.press("");
    watch.until(&["Mug.vue", "3 hold"]);
    watch.press("q");
    let status = watch.child.wait().expect("ends");
    assert_eq!(status.code(), Some(0));
}

#[test]
fn what_changed_since_it_was_accepted_is_accepted_by_a_key() {
    let studio = Studio::new().with("Mug.vue", "<template><p>Mug</p></template>\n");
    assert_eq!(studio.run(&["accept", "Mug.vue"]).code, 0);
    let mut watch = Watch::start(&studio, &[]);
    watch.until(&["1 holds"]);
    std::fs::write(studio.path("Mug.vue"), "<template><p>Cup</p></template>\n").expect("written");
    watch.until(&["output as accepted", "Cup", "1 broken"]);
    watch.press("a");
    watch.until(&["accepted", "✓ Mug.vue", "1 holds"]);
    assert!(std::fs::read_to_string(studio.path("Mug.vue.baseline.txt")).expect("there").contains("Cup"));
    let run = studio.run(&["watch", "nowhere"]);
    assert!(run.code == 2 && run.err.contains("nowhere"), "{}", run.err);
}

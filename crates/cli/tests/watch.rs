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

    /// All that is said until a line has these words.
    #[track_caller]
    fn until(&self, words: &str) -> String {
        let end = Instant::now() + Duration::from_secs(60);
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
    let first = watch.until(DONE);
    assert!(first.contains("✓ src/VentSwitch.vue") && first.contains("3 hold, 0 broken"), "{first}");

    // A module that one component imports: that one alone is judged, and nothing is said of what is as it was.
    studio.path("src/words.ts");
    std::fs::write(studio.path("src/words.ts"), "export const mug = 'Cup'\n").expect("written");
    let said = watch.until(DONE);
    assert!(said.contains("── src/words.ts") && !said.contains("Bowl"), "{said}");
    std::fs::write(studio.path("src/words.ts"), "export const mug = (() => { throw new Error('no clay') })()\n").expect("written");
    let said = watch.until(DONE);
    assert!(said.contains("? src/Mug.vue") && said.contains("no clay") && said.contains("1 unjudged"), "{said}");
    std::fs::write(studio.path("src/words.ts"), "export const mug = 'Mug'\n").expect("written");
    let said = watch.until(DONE);
    assert!(said.contains("✓ src/Mug.vue") && said.contains("3 hold"), "{said}");

    // By an editor that writes a file beside it and renames: half of a line, then a fault of the component's own, then all well again.
    let save = |text: &str| {
        std::fs::write(studio.path("src/.VentSwitch.vue.swp"), text).expect("written");
        std::fs::rename(studio.path("src/.VentSwitch.vue.swp"), studio.path("src/VentSwitch.vue")).expect("renamed");
    };
    save("<script setup lang=\"ts\">\nconst x = (\n</script>\n<template><button>{{ x }}</button></template>\n");
    let said = watch.until(DONE);
    assert!(said.contains("? src/VentSwitch.vue") && said.contains("src/VentSwitch.vue:3:"), "{said}");
    assert!(!said.contains("is no prop of"), "what a file with a syntax error declares nobody can say: {said}");
    save(&sound.replace("{{ label }}", "{{ label }}!"));
    let said = watch.until(DONE);
    assert!(said.contains("✗ src/VentSwitch.vue") && said.contains("“it is labelled”") && said.contains("\"Vent! shut\""), "{said}");
    watch.press("r");
    let said = watch.until("actual");
    assert!(said.contains("mounted") && said.contains("switch \"Vent! shut\""), "{said}");
    save(&sound);
    assert!(watch.until(DONE).contains("✓ src/VentSwitch.vue"));

    // Gone, and another one made.
    std::fs::remove_file(studio.path("src/Bowl.vue")).expect("there");
    let said = watch.until(DONE);
    assert!(said.contains("src/Bowl.vue is there no more") && said.contains("2 hold"), "{said}");
    std::fs::create_dir(studio.path("src/shelves")).expect("made");
    std::fs::write(studio.path("src/shelves/Shelf.vue"), "<template><p>Shelf</p></template>\n").expect("written");
    assert!(watch.until("src/shelves/Shelf.vue  holds").contains("✓"));
    watch.until(DONE);

    watch.press("f shelf");
    let said = watch.until(DONE);
    assert!(said.contains("shown: shelf") && said.contains("Shelf.vue") && !said.contains("Mug.vue"), "{said}");
    watch.press("f");
    assert!(watch.until(DONE).contains("Mug.vue"));
    watch.press("");
    watch.until(DONE);
    watch.press("q");
    let status = watch.child.wait().expect("ends");
    assert_eq!(status.code(), Some(0));
}

#[test]
fn what_changed_since_it_was_accepted_is_accepted_by_a_key() {
    let studio = Studio::new().with("Mug.vue", "<template><p>Mug</p></template>\n");
    assert_eq!(studio.run(&["accept", "Mug.vue"]).code, 0);
    let mut watch = Watch::start(&studio, &[]);
    watch.until(DONE);
    std::fs::write(studio.path("Mug.vue"), "<template><p>Cup</p></template>\n").expect("written");
    let said = watch.until(DONE);
    assert!(said.contains("output as accepted") && said.contains("Cup"), "{said}");
    watch.press("a");
    watch.until("accepted");
    let said = watch.until(DONE);
    assert!(said.contains("✓ Mug.vue") && said.contains("1 hold"), "{said}");
    assert!(std::fs::read_to_string(studio.path("Mug.vue.baseline.txt")).expect("there").contains("Cup"));
    let run = studio.run(&["watch", "nowhere"]);
    assert!(run.code == 2 && run.err.contains("nowhere"), "{}", run.err);
}

//! `fidelon serve` in a real browser, as a person uses it: a prop is edited, an event seen, a member called, a case kept, a save followed;
//! and who else may ask it. Passed over where no browser can be driven, unless FIDELON_REQUIRE_BROWSER=1.

mod studio;

use std::io::{BufRead as _, BufReader, Read as _, Write as _};
use std::net::{TcpListener, TcpStream};
use std::process::{Child, Command, Stdio};
use std::time::{Duration, Instant};

use fidelon_browser::{DriverChoice, Page};
use serde_json::{Value as Json, json};
use studio::{Studio, has_browser, kit};

struct Served {
    child: Child,
    address: String,
}

impl Served {
    fn start(studio: &Studio, args: &[&str]) -> Self {
        let mut child = Command::new(env!("CARGO_BIN_EXE_fidelon"))
            .args(["serve", "--port", "0"])
            .args(args)
            .env("FIDELON_CACHE", studio.path(".cache"))
            .current_dir(studio.path("."))
            .stdout(Stdio::piped())
            .stderr(Stdio::null())
            .spawn()
            .expect("the program starts");
        let mut address = String::new();
        BufReader::new(child.stdout.take().expect("piped")).read_line(&mut address).expect("it says where");
        Self { child, address: address.trim().to_owned() }
    }

    /// `127.0.0.1:port` and the path.
    fn parts(&self) -> (&str, String) {
        let rest = self.address.strip_prefix("http://").expect("an address");
        let (host, path) = rest.split_once('/').expect("a path");
        (host, format!("/{path}"))
    }

    /// The status of an answer to a request that is written by hand.
    fn ask(&self, request: &str) -> String {
        let mut stream = TcpStream::connect(self.parts().0).expect("it listens");
        stream.write_all(format!("{request}\r\nconnection: close\r\n\r\n").as_bytes()).expect("sent");
        let mut answer = String::new();
        let _ = stream.read_to_string(&mut answer);
        answer.lines().next().unwrap_or_default().to_owned()
    }
}

impl Drop for Served {
    fn drop(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

struct Desk(Page);

impl Desk {
    fn run(&self, script: &str) -> Json {
        self.0.run(script, Vec::new()).expect("runs")
    }

    #[track_caller]
    fn until(&self, what: &str, seen: impl Fn() -> Json, wanted: &Json) {
        let end = Instant::now() + Duration::from_secs(120);
        let mut last = Json::Null;
        while Instant::now() < end {
            last = seen();
            if last == *wanted {
                return;
            }
            std::thread::sleep(Duration::from_millis(40));
        }
        panic!("{what}: {last} instead of {wanted}");
    }

    #[track_caller]
    fn wait(&self, expression: &str, wanted: &Json) {
        self.until(expression, || self.run(&format!("return {expression}")), wanted);
    }

    /// In the frame that the component runs in.
    #[track_caller]
    fn wait_there(&self, expression: &str, wanted: &Json) {
        self.until(expression, || self.0.run_in_frame(0, &format!("return {expression}")).unwrap_or(Json::Null), wanted);
    }

    fn there(&self, script: &str) {
        self.0.run_in_frame(0, script).expect("runs");
    }
}

/// What was said so far, without the times.
const LOG: &str = "[...document.querySelectorAll('#log li')].map((l) => l.textContent.replace(/^[\\d.]+ s/, '').trim())";

#[test]
fn a_component_is_tried_by_hand_and_a_case_kept() {
    if !has_browser() {
        return;
    }
    let contract = "component: ./KilnDial.vue   # the studio's dial\nprops:\n  label: [Bisque]\n  target: [600, 0]\n  unit: all\n  locked: [false]\n  step: [absent]\n\nclauses:\n  - clause: it is labelled\n    expect:\n      - text: .label\n        is: ${label}\n";
    let studio = Studio::new()
        .with("src/KilnDial.vue", kit("vue/KilnDial.vue"))
        .with("src/KilnDial.contract.yaml", contract)
        .with("src/PieceLedger.tsx", kit("react/PieceLedger.tsx"))
        .with("src/DoubledCard.vue", kit("flawed/DoubledCard.vue"))
        .with("src/DoubledCard.contract.yaml", kit("flawed/DoubledCard.contract.yaml"));
    let served = Served::start(&studio, &["src"]);
    let desk = Desk(Page::open_here(&DriverChoice::Found).expect("a browser"));
    desk.0.resize(1280, 900).expect("resized");
    desk.0.go(&format!("{}#src/KilnDial.vue", served.address)).expect("opens");
    desk.wait(
        "[...document.querySelectorAll('#list button')].map((b) => b.dataset.name)",
        &json!(["src/DoubledCard.vue", "src/KilnDial.vue", "src/PieceLedger.tsx"]),
    );
    desk.wait_there("document.querySelector('.reading')?.textContent", &"600 °C".into());

    // A press there is an event here, and the parent holds what was reported.
    desk.there("[...document.querySelectorAll('button')].find((b) => b.textContent === 'Raise').click()");
    desk.wait(LOG, &json!(["reports target: 610", "emits fire: {\"target\":610,\"unit\":\"C\"}"]));
    desk.wait("document.querySelector('#held dd').textContent", &"610".into());
    desk.wait("document.querySelector('#props input[aria-label=target]').value", &"610".into());
    // A prop that is edited here shows there, without another mount.
    desk.there("window.same = document.querySelector('.kiln-dial')");
    desk.run("const s = document.querySelector('#props select[aria-label=unit]'); s.value = '1'; s.dispatchEvent(new Event('change'))");
    desk.wait_there("document.querySelector('.reading').textContent", &"610 °F".into());
    desk.wait_there("window.same === document.querySelector('.kiln-dial')", &true.into());
    // A member, with an argument.
    desk.run("document.querySelector('[aria-label^=\"What nudge\"]').value = '[40]'; document.querySelector('[aria-label=\"Call nudge\"]').click()");
    desk.wait_there("document.querySelector('.reading').textContent", &"650 °F".into());
    desk.wait("document.getElementById('findings').textContent", &"✓ Every promise holds.".into());

    // What is shown is kept, in a contract of which nothing else changes, and it holds.
    desk.run("document.getElementById('words').value = 'a dial: hot'; document.querySelector('#keep button').click()");
    desk.wait("document.getElementById('kept').textContent", &"✓ src/KilnDial.contract.yaml:15".into());
    let text = std::fs::read_to_string(studio.path("src/KilnDial.contract.yaml")).expect("there");
    let added = text.strip_prefix(contract).expect("nothing else changed");
    assert!(
        added.starts_with("\n  - clause: \"a dial: hot\"   # kept\n    hold: {")
            && added.contains("target: 650")
            && added.contains("unit: F"),
        "{added}"
    );
    let run = studio.run(&["check", "src/KilnDial.vue"]);
    assert_eq!(run.code, 0, "{}{}", run.out, run.err);

    // A save lays it out anew, with what it was given by hand.
    let source = kit("vue/KilnDial.vue").replace("{{ label }}", "{{ label }}!");
    assert_ne!(source, kit("vue/KilnDial.vue"));
    std::fs::write(studio.path("src/KilnDial.vue"), source).expect("written");
    desk.wait_there(
        "document.querySelector('.label')?.textContent + ' ' + document.querySelector('.reading').textContent",
        &"Bisque! 650 °F".into(),
    );
    desk.wait("document.querySelector('#findings strong')?.textContent", &"“it is labelled”".into());
    // A syntax error in between is said, and left behind.
    std::fs::write(studio.path("src/KilnDial.vue"), "<script setup>\nconst x = (\n</script>\n<template><p/></template>\n")
        .expect("written");
    desk.wait(&format!("{LOG}.some((l) => l.startsWith('fails') && l.includes('KilnDial.vue:3:'))"), &true.into());
    std::fs::write(studio.path("src/KilnDial.vue"), kit("vue/KilnDial.vue")).expect("written");
    desk.wait_there("document.querySelector('.label')?.textContent", &"Bisque".into());

    // Lists of objects have a control for each field, and can grow.
    desk.run("document.querySelector('[data-name=\"src/PieceLedger.tsx\"]').click()");
    desk.wait_there("document.querySelectorAll('li').length", &1.into());
    desk.run("[...document.querySelectorAll('#props button')].find((b) => b.textContent === '+ one more').click()");
    desk.wait_there("document.querySelectorAll('li').length", &2.into());
    desk.run("const i = [...document.querySelectorAll('#props input[aria-label$=name]')].at(-1); i.value = 'Teapot'; i.dispatchEvent(new Event('input'))");
    desk.wait_there("document.body.textContent.includes('Teapot')", &true.into());

    // What breaks is told beside it; the case that shows it is one press away.
    desk.run("document.querySelector('[data-name=\"src/DoubledCard.vue\"]').click()");
    desk.wait("[...document.querySelectorAll('#findings strong')].length", &2.into());
    desk.run("document.querySelector('#findings button').click()");
    desk.wait_there("document.querySelectorAll('.piece').length", &2.into());
    desk.wait("document.querySelectorAll('.finding:not(.aside)').length", &2.into());
    // Component code reaches nothing of the page that may write.
    assert!(desk.0.run_in_frame(0, "return parent.document.title").is_err());
}

#[test]
fn one_design_is_tried_in_every_framework() {
    if !has_browser() {
        return;
    }
    let mut studio = Studio::new().with("contracts/KilnDial.contract.yaml", kit("contracts/KilnDial.contract.yaml"));
    let files = [
        "angular/kiln-dial.ts",
        "elements/KilnDial.js",
        "react/KilnDial.tsx",
        "solid/KilnDial.tsx",
        "svelte/KilnDial.svelte",
        "vue/KilnDial.vue",
    ];
    for file in files.iter().chain(&["solid/tsconfig.json", "angular/kiln-dial.html", "angular/kiln-dial.css"]) {
        studio = studio.with(file, kit(file));
    }
    let served = Served::start(&studio, &["contracts"]);
    let desk = Desk(Page::open_here(&DriverChoice::Found).expect("a browser"));
    desk.0.go(&served.address).expect("opens");
    desk.wait("document.querySelectorAll('#list button').length", &files.len().into());
    // In whichever tree it stands.
    let within = "const all = (root) => [...root.querySelectorAll('*')].flatMap((e) => [e, ...(e.shadowRoot ? all(e.shadowRoot) : [])]); const found = (q) => all(document).find((e) => e.matches(q));";
    for file in files {
        desk.run(&format!("[...document.querySelectorAll('#list button')].find((b) => b.dataset.name.startsWith('{file}')).click()"));
        desk.wait(&format!("document.getElementById('name').textContent.startsWith('{file}')"), &true.into());
        let reading = format!("(() => {{ {within} return found('.reading')?.textContent.trim() }})()");
        desk.wait_there(&reading, &"600 °C".into());
        desk.there(&format!("{within} all(document).find((e) => e.localName === 'button' && e.textContent.trim() === 'Raise').click()"));
        desk.wait(LOG, &json!(["reports target: 610", "emits fire: {\"target\":610,\"unit\":\"C\"}"]));
        desk.wait("document.getElementById('case').value", &"-1".into());
        desk.run("const s = document.querySelector('#props select[aria-label=unit]'); s.value = '1'; s.dispatchEvent(new Event('change'))");
        desk.wait_there(&reading, &"610 °F".into());
        desk.run("document.querySelector('[aria-label=\"Call reset\"]').click()");
        desk.wait_there(&reading, &"0 °F".into());
        assert_eq!(desk.run(&format!("return {LOG}.filter((l) => l.startsWith('fails'))")), json!([]), "{file}");
    }
}

#[test]
fn nobody_else_is_answered() {
    let studio = Studio::new().with("Mug.vue", "<template><p>Mug</p></template>\n");
    let served = Served::start(&studio, &[]);
    let (host, path) = served.parts();
    let status = |request: &str| served.ask(request);
    assert!(status(&format!("GET {path} HTTP/1.1\r\nhost: {host}")).contains("200"));
    for (what, request) in [
        ("without the secret path", format!("GET / HTTP/1.1\r\nhost: {host}")),
        ("a guess", format!("GET /0123456789abcdef0123456789abcdef/components HTTP/1.1\r\nhost: {host}")),
    ] {
        assert!(status(&request).contains("404"), "{what}: {}", status(&request));
    }
    let post = |more: &str| {
        format!(
            "POST {path}lay HTTP/1.1\r\nhost: {host}\r\ncontent-type: application/json\r\ncontent-length: 18\r\n{more}\r\n\r\n{{\"name\":\"Mug.vue\"}}"
        )
    };
    for (what, request) in [
        ("by another name that points here", format!("GET {path} HTTP/1.1\r\nhost: studio.example")),
        ("from another page", format!("GET {path} HTTP/1.1\r\nhost: {host}\r\norigin: http://studio.example")),
        ("from another page, to change something", post("origin: http://studio.example")),
        ("from nowhere, to change something", post("accept: */*")),
    ] {
        assert!(status(&request).contains("403"), "{what}: {}", status(&request));
    }
    assert!(status(&post(&format!("origin: http://{host}"))).contains("200"));

    // A port that somebody has, a path that is not there.
    let taken = TcpListener::bind("127.0.0.1:0").expect("a port");
    let port = taken.local_addr().expect("bound").port().to_string();
    let run = studio.run(&["serve", "--port", &port]);
    assert!(run.code == 2 && run.err.contains(&format!("port {port} cannot be taken")) && run.err.contains("--port 0"), "{}", run.err);
    let run = studio.run(&["serve", "nowhere", "--port", "0"]);
    assert!(run.code == 2 && run.err.contains("nowhere"), "{}", run.err);
}

#[test]
fn keeps_at_once_and_an_edit_before_them_are_all_there() {
    let contract = "component: Mug.vue\nclauses:\n  - clause: shows its name\n    expect:\n      - text: p\n        is: Mug\n";
    let studio = Studio::new().with("Mug.vue", "<template><p>Mug</p></template>\n").with("Mug.contract.yaml", contract);
    assert_eq!(studio.run(&["check"]).code, 0, "{}", studio.run(&["check"]).out);
    let served = Served::start(&studio, &[]);
    let (host, path) = served.parts();
    // The studio has looked at the contract by now; an editor saves it as editors do, by a new file in its place.
    assert!(served.ask(&format!("GET {path}components HTTP/1.1\r\nhost: {host}")).contains("200"));
    let edited = contract.replace("shows its name", "an edit of just now");
    std::fs::write(studio.path("Mug.contract.yaml.new"), &edited).expect("written");
    std::fs::rename(studio.path("Mug.contract.yaml.new"), studio.path("Mug.contract.yaml")).expect("renamed");
    let keep = &|n: usize| {
        let body = json!({ "name": "Mug.vue", "words": format!("kept {n}"), "combination": { "props": {}, "fills": {} } }).to_string();
        served.ask(&format!(
            "POST {path}keep HTTP/1.1\r\nhost: {host}\r\norigin: http://{host}\r\ncontent-type: application/json\r\ncontent-length: {}\r\n\r\n{body}",
            body.len()
        ))
    };
    let answers: Vec<String> = std::thread::scope(|scope| {
        let all: Vec<_> = (0..6).map(|n| scope.spawn(move || keep(n))).collect();
        all.into_iter().map(|one| one.join().expect("no panic")).collect()
    });
    assert!(
        answers.iter().all(|a| a.contains("200")),
        "{answers:?}\n{}",
        std::fs::read_to_string(studio.path("Mug.contract.yaml")).unwrap_or_default()
    );
    let text = std::fs::read_to_string(studio.path("Mug.contract.yaml")).expect("read");
    assert!(text.contains("an edit of just now"), "{text}");
    assert!((0..6).all(|n| text.contains(&format!("kept {n}"))), "{text}");
    let run = studio.run(&["check"]);
    assert!(run.code == 0 && run.out.contains("1 holds"), "{}", run.out);
}

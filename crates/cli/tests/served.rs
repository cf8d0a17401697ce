//! Components that a server on this machine renders: the demo's own stand-in, started for the test.

mod studio;

use std::io::{BufRead as _, BufReader};
use std::process::{Child, Command, Stdio};

use studio::{Studio, has_browser, stages};

struct Server(Child);

impl Server {
    /// The server, and where it listens.
    fn start() -> (Self, String) {
        let mut child =
            Command::new(env!("CARGO_BIN_EXE_fidelon")).args(["demo", "--server", "0"]).stdout(Stdio::piped()).spawn().expect("starts");
        let said = child.stdout.take().expect("piped");
        // It is ended whatever comes.
        let server = Self(child);
        let mut line = String::new();
        BufReader::new(said).read_line(&mut line).expect("says where");
        let address = line.split([' ', ',']).find_map(|word| word.strip_suffix("/pieces")).expect("an address").to_owned();
        (server, address)
    }
}

impl Drop for Server {
    fn drop(&mut self) {
        let _ = self.0.kill();
        let _ = self.0.wait();
    }
}

#[test]
fn islands_are_connected_by_an_event_and_requests_are_counted() {
    let (_server, at) = Server::start();
    let pieces = format!(
        "component: {at}/pieces\nprops: {{ shelf: [absent, \"Bisque & more\"] }}\nevents: {{ pieceAdded: {{}} }}\nclauses:\n  - clause: the server writes the shelf's name\n    expect:\n      - text: h2\n        is: ${{shelf ?? 'Drying'}}\n  - clause: what one island adds the other lists\n    do:\n      - type: Tall vase\n        into: textbox \"Piece\"\n      - press: button \"Add\"\n    expect:\n      - requested: POST /api/pieces\n        times: 1\n        with: {{ piece: Tall vase }}\n      - emitted: pieceAdded\n        with: {{ piece: Tall vase }}\n      - order: li\n        is: [Tall vase]\n      - text: .count\n        is: 1 pieces\n      - value: textbox \"Piece\"\n        is: \"\"\n  - clause: nothing is added without a name\n    do:\n      - press: button \"Add\"\n    expect:\n      - requested: nothing\n"
    );
    let glaze = format!(
        "component: {at}/glaze\nclauses:\n  - clause: it tells the glaze\n    expect:\n      - text: h2\n        is: Celadon\n      - text: .cone\n        is: cone 10\n  - clause: one request is enough\n    expect:\n      - requested: GET /api/glazes/7\n        times: 1\n"
    );
    let studio = Studio::empty().with("package.json", "{}").with("pieces.contract.yaml", pieces).with("glaze.contract.yaml", glaze);
    for stage in stages() {
        let run = studio.run(&["check", "pieces.contract.yaml", "--stage", stage]);
        assert_eq!(run.code, 0, "{stage}: {}{}", run.out, run.err);
        let run = studio.run(&["check", "glaze.contract.yaml", "--stage", stage]);
        assert_eq!(run.code, 1, "{stage}: {}{}", run.out, run.err);
        assert!(
            run.out.contains("/glaze “one request is enough”") && run.out.contains("expected  1") && run.out.contains("actual    2"),
            "{stage}: {}",
            run.out
        );
        assert!(!run.out.contains("“it tells the glaze”"), "{stage}: {}", run.out);
    }
}

#[test]
fn what_a_page_registers_once_its_webassembly_is_there_is_played_in_a_browser() {
    let (_server, at) = Server::start();
    let dial = format!(
        "component: {at}/dial#kiln-dial\nprops: {{ target: [absent, 600] }}\nevents: {{ target-change: {{}} }}\nclauses:\n  - clause: it tells the target\n    expect:\n      - text: output\n        is: ${{(target ?? 0) + ' °C'}}\n  - clause: a press raises it\n    do: [{{ press: button \"Raise\" }}]\n    expect:\n      - emitted: target-change\n        with: ${{(target ?? 0) + 10}}\n      - text: output\n        is: ${{(target ?? 0) + 10 + ' °C'}}\n"
    );
    let sign = format!(
        "component: {at}/dial#kiln-sign\nprops: {{ kiln: [Test kiln, Big kiln], target: [absent, 600] }}\nevents: {{ pressed: {{}} }}\nclauses:\n  - clause: it names the kiln\n    expect:\n      - text: button\n        is: ${{kiln}}\n  - clause: another name is shown\n    do: [{{ assign: {{ kiln: Raku kiln }} }}]\n    expect:\n      - text: button\n        is: Raku kiln\n  - clause: a press tells the next target\n    do: [{{ press: button }}]\n    expect:\n      - emitted: pressed\n        with: ${{(target ?? 0) + 10}}\n"
    );
    let nobody = format!("component: {at}/dial#kiln-lamp\nclauses:\n  - clause: it is there\n    expect: [{{ present: output }}]\n");
    let studio = Studio::empty()
        .with("package.json", "{}")
        .with("dial.contract.yaml", dial)
        .with("sign.contract.yaml", sign)
        .with("nobody.contract.yaml", nobody);
    let run = studio.run(&["check", "dial.contract.yaml"]);
    assert!(run.code == 1 && run.out.contains("needs WebAssembly") && run.out.contains("--stage browser"), "{}{}", run.out, run.err);
    if !has_browser() {
        return;
    }
    let run = studio.run(&["check", "dial.contract.yaml", "sign.contract.yaml", "--stage", "browser"]);
    assert!(run.code == 0 && run.out.contains("kiln-sign"), "{}{}", run.out, run.err);
    let run = studio.run(&["check", "nobody.contract.yaml", "--stage", "browser"]);
    assert!(run.code == 1 && run.out.contains("There is no component with the identifier kiln-lamp"), "{}{}", run.out, run.err);
}

#[test]
fn only_servers_of_this_machine_are_asked_and_one_that_is_gone_is_told() {
    let studio = Studio::empty()
        .with("package.json", "{}")
        .with("far.contract.yaml", "component: http://kiln.example/dial\nclauses: []\n")
        .with("gone.contract.yaml", "component: http://127.0.0.1:1/dial\nclauses:\n  - clause: it is there\n    expect: [{ present: p }]\n")
        // Code of a project cannot reach a server, whatever it imports or asks.
        .with("Spy.tsx", "export async function call() { return (await import('http://127.0.0.1:1/x.js')).default }\nexport function Spy() { call().catch((e) => console.warn(String(e))); return <p>{String('__send' in globalThis)}</p> }\n");
    let run = studio.run(&["check", "far.contract.yaml"]);
    assert!(run.code == 2 && run.out.contains("only `http:` addresses of this machine"), "{}", run.out);
    let run = studio.run(&["check", "gone.contract.yaml"]);
    assert!(run.code == 1 && run.out.contains("gave no answer"), "{}", run.out);
    let spy = Studio::new().with("Spy.tsx", std::fs::read(studio.path("Spy.tsx")).expect("written")).run(&["render", "Spy.tsx"]);
    assert!(spy.out.contains("<p>false</p>") && spy.err.contains("lies outside the project"), "{}{}", spy.out, spy.err);
}

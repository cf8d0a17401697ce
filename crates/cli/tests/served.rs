//! Components that a server on this machine renders: the demo's own stand-in, started for the test.

mod studio;

use std::io::{BufRead as _, BufReader};
use std::process::{Child, Command, Stdio};

use studio::Studio;

struct Server(Child);

impl Server {
    /// The server, and where it listens.
    fn start() -> (Self, String) {
        let mut child =
            Command::new(env!("CARGO_BIN_EXE_fidelon")).args(["demo", "--server", "0"]).stdout(Stdio::piped()).spawn().expect("starts");
        let mut line = String::new();
        BufReader::new(child.stdout.take().expect("piped")).read_line(&mut line).expect("says where");
        let address = line.split_whitespace().find_map(|word| word.strip_suffix("/pieces")).expect("an address").to_owned();
        (Self(child), address)
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
    let run = studio.run(&["check", "pieces.contract.yaml"]);
    assert_eq!(run.code, 0, "{}{}", run.out, run.err);
    let run = studio.run(&["check", "glaze.contract.yaml"]);
    assert_eq!(run.code, 1, "{}{}", run.out, run.err);
    assert!(
        run.out.contains("/glaze “one request is enough”") && run.out.contains("expected  1") && run.out.contains("actual    2"),
        "{}",
        run.out
    );
    assert!(!run.out.contains("“it tells the glaze”"), "{}", run.out);
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

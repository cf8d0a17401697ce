//! `fidelon editor`: the protocol spoken to the built program, as an editor does.

mod studio;

use std::io::{BufReader, Write as _};
use std::process::{Child, ChildStdin, Stdio};
use std::sync::mpsc::{Receiver, channel};
use std::time::Duration;

use lsp_server::{Message, Notification, Request};
use serde_json::{Value as Json, json};
use studio::{Studio, kit};

/// Longer than anything takes on a busy machine.
const PATIENCE: Duration = Duration::from_mins(2);

/// An editor.
struct Client<'a> {
    studio: &'a Studio,
    child: Child,
    to: ChildStdin,
    from: Receiver<Message>,
    asked: i32,
    /// What came that nobody waited for yet.
    come: Vec<Message>,
}

impl<'a> Client<'a> {
    fn start(studio: &'a Studio, capabilities: Json) -> Self {
        let mut child = studio.command(&["editor"]).stdin(Stdio::piped()).stdout(Stdio::piped()).spawn().expect("starts");
        let (to, out) = (child.stdin.take().expect("piped"), child.stdout.take().expect("piped"));
        let (tell, from) = channel();
        std::thread::spawn(move || {
            let mut out = BufReader::new(out);
            while let Ok(Some(message)) = Message::read(&mut out) {
                if tell.send(message).is_err() {
                    return;
                }
            }
        });
        let mut client = Self { studio, child, to, from, asked: 0, come: Vec::new() };
        let folder = json!([{ "uri": client.uri("."), "name": "studio" }]);
        let told = client
            .ask("initialize", json!({ "processId": null, "rootUri": null, "workspaceFolders": folder, "capabilities": capabilities }));
        assert_eq!(told["serverInfo"]["name"], "fidelon");
        client.tell("initialized", json!({}));
        client
    }

    fn uri(&self, file: &str) -> String {
        let folder = self.studio.path(".").canonicalize().expect("there");
        format!("file://{}", folder.join(file).display())
    }

    fn send(&mut self, message: Message) {
        message.write(&mut self.to).expect("written");
        self.to.flush().expect("written");
    }

    fn tell(&mut self, method: &str, params: Json) {
        self.send(Message::Notification(Notification { method: method.into(), params }));
    }

    fn ask(&mut self, method: &str, params: Json) -> Json {
        self.asked += 1;
        let id = self.asked;
        self.send(Message::Request(Request { id: id.into(), method: method.into(), params }));
        let answer = self.await_one(|message| match message {
            Message::Response(response) if response.id == id.into() => Some(response.clone()),
            _ => None,
        });
        answer.response_result.unwrap_or_else(|e| panic!("{method}: {e:?}"))
    }

    /// Waits for a message that is wanted; the others are kept.
    fn await_one<T>(&mut self, wanted: impl Fn(&Message) -> Option<T>) -> T {
        if let Some((at, found)) = self.come.iter().enumerate().find_map(|(at, m)| Some((at, wanted(m)?))) {
            self.come.remove(at);
            return found;
        }
        loop {
            let message = self.from.recv_timeout(PATIENCE).unwrap_or_else(|e| panic!("{e}; what came: {:#?}", self.come));
            if let Some(found) = wanted(&message) {
                return found;
            }
            self.come.push(message);
        }
    }

    fn open(&mut self, file: &str, text: &str) {
        let document = json!({ "uri": self.uri(file), "languageId": "any", "version": 1, "text": text });
        self.tell("textDocument/didOpen", json!({ "textDocument": document }));
    }

    fn change(&mut self, file: &str, version: i32, text: &str) {
        let document = json!({ "uri": self.uri(file), "version": version });
        self.come.retain(|m| !matches!(m, Message::Notification(n) if n.method == "textDocument/publishDiagnostics"));
        self.tell("textDocument/didChange", json!({ "textDocument": document, "contentChanges": [{ "text": text }] }));
    }

    /// Waits until the diagnostics of a file at a version are such.
    fn diagnostics(&mut self, file: &str, version: i32, wanted: impl Fn(&[Json]) -> bool) -> Vec<Json> {
        let uri = self.uri(file);
        self.await_one(|message| match message {
            Message::Notification(n) if n.method == "textDocument/publishDiagnostics" && n.params["uri"] == *uri => {
                let all = n.params["diagnostics"].as_array()?;
                (n.params["version"] == version && wanted(all)).then(|| all.clone())
            }
            _ => None,
        })
    }

    fn at(&self, file: &str, line: u32, character: u32) -> Json {
        json!({ "textDocument": { "uri": self.uri(file) }, "position": { "line": line, "character": character } })
    }

    fn end(mut self) {
        self.ask("shutdown", Json::Null);
        self.tell("exit", Json::Null);
        assert!(self.child.wait().expect("ends").success());
    }
}

const DIAL: &str = "<script setup>
const props = defineProps({ label: String, unit: { type: String, default: 'C' } })
</script>
<template><strong class=\"label\">{{ props.label }}</strong></template>
";

fn stale() -> String {
    DIAL.replace("</script>", "const shown = props.label\n</script>").replace("{{ props.label }}", "{{ shown }}")
}

fn codes(all: &[Json]) -> Vec<&str> {
    all.iter().filter_map(|d| d["code"].as_str()).collect()
}

#[test]
fn what_is_typed_is_judged_before_it_is_saved() {
    let studio = Studio::new().with("Dial.vue", DIAL);
    let mut client = Client::start(&studio, json!({}));
    client.open("Dial.vue", DIAL);
    client.diagnostics("Dial.vue", 1, <[Json]>::is_empty);
    client.change("Dial.vue", 2, &stale());
    let found = client.diagnostics("Dial.vue", 2, |all| codes(all).contains(&"prop/live"));
    let live = found.iter().find(|d| d["code"] == "prop/live").expect("waited for");
    let message = live["message"].as_str().expect("a text");
    assert!(message.contains("does not show what a fresh mount shows") && message.contains("again: fidelon replay"), "{message}");
    assert_eq!(live["range"]["start"]["line"], 1, "at the prop's declaration: {live}");
    // The disk has another text, and still has it.
    assert_eq!(std::fs::read_to_string(studio.path("Dial.vue")).expect("there"), DIAL);
    // Not whole, then whole again.
    client.change("Dial.vue", 3, &DIAL.replace("</script>", "const shown = (\n</script>"));
    client.diagnostics("Dial.vue", 3, |all| all.iter().any(|d| d["message"].as_str().is_some_and(|m| m.starts_with("not judged"))));
    client.change("Dial.vue", 4, DIAL);
    client.diagnostics("Dial.vue", 4, <[Json]>::is_empty);
    let lenses = client.ask("textDocument/codeLens", json!({ "textDocument": { "uri": client.uri("Dial.vue") } }));
    let titles: Vec<&str> = lenses.as_array().expect("a list").iter().filter_map(|l| l["command"]["title"].as_str()).collect();
    assert!(titles.iter().any(|t| t.starts_with("✓ holds")) && titles.contains(&"draft a contract"), "{titles:?}");
    let hover = client.ask("textDocument/hover", client.at("Dial.vue", 1, 29));
    assert_eq!(hover["contents"]["value"], "prop `label`: `string`");
    client.end();
}

#[test]
fn a_contract_is_completed_by_what_its_component_has() {
    let contract = "component: ./KilnDial.vue\nprops:\n  label: [Bisque]\n  unit: all\n  target: [600]\nclauses:\n  - clause: raising reports\n    do:\n      - press: button \"Raise\"\n    expect:\n      - emitted: fire\n";
    let studio = Studio::new().with("KilnDial.vue", kit("vue/KilnDial.vue")).with("KilnDial.contract.yaml", contract);
    let mut client = Client::start(&studio, json!({}));
    client.open("KilnDial.contract.yaml", contract);
    client.diagnostics("KilnDial.contract.yaml", 1, <[Json]>::is_empty);
    let labels = |client: &mut Client<'_>, text: &str, version: i32| {
        let at = text.find('|').expect("a cursor");
        let (line, column) = (text[..at].matches('\n').count(), at - text[..at].rfind('\n').map_or(0, |n| n + 1));
        client.change("KilnDial.contract.yaml", version, &text.replacen('|', "", 1));
        let place = client.at("KilnDial.contract.yaml", u32::try_from(line).expect("few"), u32::try_from(column).expect("few"));
        let items = client.ask("textDocument/completion", place);
        items.as_array().expect("a list").iter().filter_map(|i| i["label"].as_str().map(str::to_owned)).collect::<Vec<_>>()
    };
    let has = |all: &[String], wanted: &[&str]| wanted.iter().all(|w| all.iter().any(|l| l == w));
    // Until it was judged nobody knows what it shows.
    let nodes = (2..40).map(|version| {
        std::thread::sleep(Duration::from_millis(250));
        labels(&mut client, &contract.replace("button \"Raise\"", "|"), version)
    });
    let nodes = nodes.into_iter().find(|all| !all.is_empty()).unwrap_or_default();
    assert!(has(&nodes, &["button \"Raise\"", "button \"Lower\"", "spinbutton \"Target\""]), "{nodes:?}");
    let found = labels(&mut client, &contract.replace("emitted: fire", "emitted: |"), 50);
    assert!(has(&found, &["fire", "nothing"]) || has(&found, &["fire"]), "{found:?}");
    let found = labels(&mut client, &contract.replace("  unit: all", "  |"), 51);
    assert!(has(&found, &["unit", "locked", "step"]), "{found:?}");
    let found = labels(&mut client, &contract.replace("unit: all", "unit: |"), 52);
    assert!(has(&found, &["C", "F", "all"]), "{found:?}");
    let found = labels(&mut client, &format!("{contract}        ti|"), 53);
    assert!(has(&found, &["times", "with"]), "{found:?}");

    // What is misspelt is corrected by what was meant.
    client.change("KilnDial.contract.yaml", 60, &contract.replace("  unit: all", "  unti: all"));
    let told = client.diagnostics("KilnDial.contract.yaml", 60, |all| !all.is_empty());
    let context = json!({ "diagnostics": told });
    let asked = json!({ "textDocument": { "uri": client.uri("KilnDial.contract.yaml") }, "range": told[0]["range"], "context": context });
    let actions = client.ask("textDocument/codeAction", asked);
    assert_eq!(actions[0]["title"], "write `unit`");
    let edit = &actions[0]["edit"]["documentChanges"][0]["edits"][0];
    assert_eq!((edit["newText"].as_str(), edit["range"]["start"]["line"].as_u64()), (Some("unit"), Some(3)), "{edit}");

    // From the contract to the source.
    client.change("KilnDial.contract.yaml", 61, contract);
    client.diagnostics("KilnDial.contract.yaml", 61, <[Json]>::is_empty);
    let file = client.ask("textDocument/definition", client.at("KilnDial.contract.yaml", 0, 15));
    assert_eq!(file[0]["uri"], client.uri("KilnDial.vue"));
    let prop = client.ask("textDocument/definition", client.at("KilnDial.contract.yaml", 3, 3));
    assert_eq!(prop[0]["uri"], client.uri("KilnDial.vue"), "{prop}");
    let hover = client.ask("textDocument/hover", client.at("KilnDial.contract.yaml", 8, 9));
    assert_eq!(hover["contents"]["value"], "`press`: A click with all its events");
    client.end();
}

#[test]
fn a_law_is_exempted_in_the_contract_which_is_made_where_there_is_none() {
    let studio = Studio::new().with("Dial.vue", stale());
    let mut client = Client::start(&studio, json!({ "workspace": { "workspaceEdit": { "resourceOperations": ["create"] } } }));
    client.open("Dial.vue", &stale());
    let told = client.diagnostics("Dial.vue", 1, |all| codes(all).contains(&"prop/live"));
    let live = told.iter().find(|d| d["code"] == "prop/live").expect("waited for");
    let asked = json!({ "textDocument": { "uri": client.uri("Dial.vue") }, "range": live["range"], "context": { "diagnostics": [live] } });
    let actions = client.ask("textDocument/codeAction", asked);
    assert_eq!(actions[0]["title"], "exempt `label` of prop/live in the contract");
    let changes = &actions[0]["edit"]["documentChanges"];
    assert_eq!(changes[0]["kind"], "create");
    let text = changes[1]["edits"][0]["newText"].as_str().expect("a text");
    assert_eq!(text, "component: ./Dial.vue\nlaws:\n  prop/live: { except: [label], because: … }\n");
    // It does what it says.
    std::fs::write(studio.path("Dial.contract.yaml"), text).expect("written");
    client.tell("workspace/didChangeWatchedFiles", json!({ "changes": [] }));
    client.diagnostics("Dial.vue", 1, |all| !codes(all).contains(&"prop/live"));
    client.end();
}

#[test]
fn a_slip_in_what_a_parent_passes_is_corrected() {
    let parent = "<script setup>\nimport Dial from './Dial.vue'\n</script>\n<template><Dial lable=\"Bisque\" /></template>\n";
    let studio = Studio::new().with("Dial.vue", DIAL).with("Kiln.vue", parent);
    let mut client = Client::start(&studio, json!({}));
    client.open("Kiln.vue", parent);
    let told = client.diagnostics("Kiln.vue", 1, |all| codes(all).contains(&"child/declared"));
    let asked = json!({ "textDocument": { "uri": client.uri("Kiln.vue") }, "range": told[0]["range"], "context": { "diagnostics": told } });
    let actions = client.ask("textDocument/codeAction", asked);
    let edit = &actions[0]["edit"]["documentChanges"][0]["edits"][0];
    assert_eq!((&actions[0]["title"], &edit["newText"]), (&json!("write `label`"), &json!("label")));
    assert_eq!(edit["range"], json!({ "start": { "line": 3, "character": 16 }, "end": { "line": 3, "character": 21 } }));
    // Other files see what is typed, too: with the prop renamed in the child that is open, the name is right.
    client.open("Dial.vue", &DIAL.replace("label", "lable"));
    client.diagnostics("Kiln.vue", 1, |all| !codes(all).contains(&"child/declared"));
    client.end();
}

#[test]
fn a_draft_is_made_by_the_editor_and_nothing_is_written_over() {
    let studio = Studio::new().with("Dial.vue", DIAL);
    let mut client = Client::start(&studio, json!({ "workspace": { "workspaceEdit": { "resourceOperations": ["create"] } } }));
    client.open("Dial.vue", DIAL);
    client.diagnostics("Dial.vue", 1, <[Json]>::is_empty);
    let root = studio.path(".").canonicalize().expect("there");
    let draft = json!({ "command": "fidelon.draft", "arguments": [root, "Dial.vue"] });
    client.ask("workspace/executeCommand", draft.clone());
    let edit = client.await_one(|m| match m {
        Message::Request(request) if request.method == "workspace/applyEdit" => Some(request.params.clone()),
        _ => None,
    });
    let text = edit["edit"]["documentChanges"][1]["edits"][0]["newText"].as_str().expect("a text");
    assert!(text.contains("component: ./Dial.vue") && text.contains("clauses:"), "{text}");
    std::fs::write(studio.path("Dial.contract.yaml"), "component: ./Dial.vue\n").expect("written");
    client.ask("workspace/executeCommand", draft);
    let why = client.await_one(|m| match m {
        Message::Notification(n) if n.method == "window/showMessage" => n.params["message"].as_str().map(str::to_owned),
        _ => None,
    });
    assert!(why.contains("is there already"), "{why}");
    client.end();
}

#[test]
fn what_is_no_message_and_who_goes_away_end_it() {
    let studio = Studio::empty();
    let mut child =
        studio.command(&["editor"]).stdin(Stdio::piped()).stdout(Stdio::piped()).stderr(Stdio::piped()).spawn().expect("starts");
    child.stdin.take().expect("piped").write_all(b"GET / HTTP/1.1\r\n\r\n").expect("written");
    let out = child.wait_with_output().expect("ends");
    assert_eq!(out.status.code(), Some(2), "{}", String::from_utf8_lossy(&out.stderr));
    // A client that vanishes in the middle of a look.
    let studio = Studio::new().with("KilnDial.vue", kit("vue/KilnDial.vue"));
    let mut client = Client::start(&studio, json!({}));
    client.open("KilnDial.vue", &kit("vue/KilnDial.vue"));
    let Client { mut child, to, from, .. } = client;
    drop(to);
    drop(from);
    assert!(child.wait().expect("ends").success());
}

#[test]
fn a_text_of_ten_megabytes_that_is_never_valid_holds_nothing_up() {
    let studio = Studio::new().with("Dial.vue", DIAL);
    let mut client = Client::start(&studio, json!({}));
    let huge = format!("<script setup>\n{}", "const a = (\n".repeat(10 << 20 >> 4).repeat(2));
    client.open("Dial.vue", &huge);
    for version in 2..6 {
        let change = json!([{ "range": { "start": { "line": 0, "character": 0 }, "end": { "line": 0, "character": 0 } }, "text": "x" }]);
        let document = json!({ "uri": client.uri("Dial.vue"), "version": version });
        client.tell("textDocument/didChange", json!({ "textDocument": document, "contentChanges": change }));
    }
    // It answers while it is at it, and judges what comes next.
    client.ask("textDocument/codeLens", json!({ "textDocument": { "uri": client.uri("Dial.vue") } }));
    client.change("Dial.vue", 9, &stale());
    client.diagnostics("Dial.vue", 9, |all| codes(all).contains(&"prop/live"));
    client.end();
}

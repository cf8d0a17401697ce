//! From text to contract: the top level. Every fault is collected; a contract with one is not judged.

use fidelon_source::Span;
use indexmap::IndexMap;
use serde_json::Value as Json;

use crate::contract::checks::{Schema, schema};
use crate::contract::clauses::{clauses, implied};
use crate::contract::fault::Fault;
use crate::contract::model::{Binding, Contract, Exemption, Expression, Named, SlotContract};
use crate::contract::scene::{around, scene};
use crate::contract::steps::locator;
use crate::contract::surroundings::surroundings;
use crate::contract::values::{self, props, value_of};
use crate::contract::yaml::{self, Data, Node};
use crate::plan::Cover;
use crate::value::Value;

const TOP: [&str; 17] = [
    "component",
    "scene",
    "about",
    "wrap",
    "styles",
    "uses",
    "props",
    "never",
    "cover",
    "events",
    "bindings",
    "slots",
    "exposes",
    "network",
    "clock",
    "laws",
    "clauses",
];

/// Reads the files that `$file` names: gives the text of one, or why it cannot be had.
pub type ReadFile<'a> = &'a dyn Fn(&str) -> Result<String, String>;

/// A contract that reads no files.
///
/// # Errors
/// Every fault of the text, in its order.
pub fn read(text: &str) -> Result<Contract, Vec<Fault>> {
    match read_all(text, &|file| Err(format!("`{file}` cannot be read here"))) {
        (Some(contract), faults) if faults.is_empty() => Ok(contract),
        (_, faults) => Err(faults),
    }
}

/// Reads as much as can be read, with every fault of the text, in its order. There is nothing when it is no mapping at all.
pub fn read_all(text: &str, file: ReadFile<'_>) -> (Option<Contract>, Vec<Fault>) {
    let root = match yaml::parse(text) {
        Ok(root) => root,
        Err(fault) => return (None, vec![fault]),
    };
    let mut faults = Vec::new();
    if !matches!(root.data, Data::Map(_)) {
        return (None, vec![Fault::kind(root.span, "the file", "keys such as `component:` and `clauses:`", root.kind())]);
    }
    let root = &values::with_files(&root, file, &mut faults);
    keys_of(root, "key of a contract", &TOP, &mut faults);
    for key in ["props", "events", "bindings", "slots", "exposes", "uses", "laws", "scene"] {
        mapping(root, key, &mut faults);
    }
    let scene = scene(root, &mut faults);
    let contract = Contract {
        components: if root.get("scene").is_some() { Vec::new() } else { components(root, &mut faults) },
        scene,
        around: around(root, &mut faults),
        about: root.get("about").and_then(|n| text_of(n, "about", &mut faults)),
        props: props(root, &mut faults),
        never: root
            .get("never")
            .map_or_else(Vec::new, |n| n.one_or_many().iter().filter_map(|e| expression(e, "never", &mut faults)).collect()),
        cover: cover(root, &mut faults),
        slots: slots(root, &mut faults),
        exposes: exposes(root, &mut faults),
        events: events(root, &mut faults),
        bindings: bindings(root, &mut faults),
        surroundings: surroundings(root, &mut faults),
        laws: laws(root, &mut faults),
        clauses: clauses(root, &mut faults),
    };
    let implied = implied(&contract);
    let contract = Contract { clauses: [implied, contract.clauses].concat(), ..contract };
    faults.iter_mut().for_each(|f| f.span = whole_characters(text, f.span));
    faults.sort_by_key(|f| f.span);
    faults.dedup();
    (Some(contract), faults)
}

/// A span that begins and ends between characters: within escapes the place of a fault is only nearly known.
fn whole_characters(text: &str, span: Span) -> Span {
    let start = text.floor_char_boundary(span.start);
    Span::new(start, text.ceil_char_boundary(span.end.max(start)))
}

/// Whose contract a text is, whatever else is wrong with it.
pub fn named_components(text: &str) -> Vec<String> {
    let Ok(root) = yaml::parse(text) else { return Vec::new() };
    let parts = root.get("scene").and_then(|s| s.get("parts")).map_or(&[][..], Node::entries);
    let of_parts = parts.iter().filter_map(|(_, part)| part.get("component"));
    let nodes = root.get("component").into_iter().chain(of_parts);
    nodes.flat_map(|n| paths(n, "component", &mut Vec::new())).map(|(name, _)| name).collect()
}

fn components(root: &Node, faults: &mut Vec<Fault>) -> Named {
    let Some(node) = root.get("component") else {
        if faults.iter().any(|f| f.help.as_deref() == Some("did you mean `component`?")) {
            return Vec::new();
        }
        faults.push(
            Fault::new(Span::new(root.span.start, root.span.start), "`component` is missing: whose contract is this?")
                .help("write `component: ./Name.vue`"),
        );
        return Vec::new();
    };
    paths(node, "component", faults)
}

/// An address that a server on this machine answers.
pub fn is_of_this_machine(address: &str) -> bool {
    let host = address.strip_prefix("http://").map(|rest| rest.split(['/', '?', '#']).next().unwrap_or(rest));
    let name =
        host.map(|host| host.rsplit_once(':').filter(|(_, port)| port.chars().all(|c| c.is_ascii_digit())).map_or(host, |(name, _)| name));
    matches!(name, Some("127.0.0.1" | "localhost" | "[::1]"))
}

/// A path, or a list of them.
pub(super) fn paths(node: &Node, key: &str, faults: &mut Vec<Fault>) -> Named {
    let mut out = Vec::new();
    if node.items().is_some_and(<[Node]>::is_empty) {
        faults.push(Fault::new(node.span, "no component is named here").help(format!("write `{key}: ./Name.vue`")));
    }
    for item in node.one_or_many() {
        match item.text().filter(|t| !t.is_empty()) {
            Some(text) if text.contains("://") && !is_of_this_machine(text) => {
                let fault = Fault::new(item.span, format!("`{text}` is not loaded: only `http:` addresses of this machine are"));
                faults.push(fault.help("write it as `http://127.0.0.1:…`, and start the server before"));
            }
            Some(text) => out.push((text.to_owned(), item.span)),
            None => faults.push(Fault::kind(item.span, key, "a path, or a list of paths", item.kind())),
        }
    }
    out
}

fn cover(root: &Node, faults: &mut Vec<Fault>) -> Option<Cover> {
    let node = root.get("cover")?;
    match node.text() {
        Some("every") => return Some(Cover::Every),
        Some("pairs") => return Some(Cover::Pairs),
        Some("triples") => return Some(Cover::Triples),
        _ => {}
    }
    let Some(sample) = node.get("sample") else {
        let ways = ["every", "pairs", "triples", "{ sample: 400, seed: 7 }"];
        faults.push(Fault::unknown(node.span, "way to cover", node.text().unwrap_or_default(), &ways));
        return None;
    };
    keys_of(node, "key of a sample", &["sample", "seed"], faults);
    let count = whole(sample, "sample", faults)?;
    let seed = node.get("seed").map_or(Some(1), |n| whole(n, "seed", faults))?;
    if count == 0 {
        faults.push(Fault::new(sample.span, "a sample of none judges nothing"));
        return None;
    }
    Some(Cover::Sample { count: usize::try_from(count).unwrap_or(usize::MAX), seed })
}

fn whole(node: &Node, key: &str, faults: &mut Vec<Fault>) -> Option<u64> {
    let number = node.to_json().as_u64();
    if number.is_none() {
        faults.push(Fault::kind(node.span, key, "a whole number", node.kind()));
    }
    number
}

fn slots(root: &Node, faults: &mut Vec<Fault>) -> IndexMap<String, (SlotContract, Span)> {
    let mut out = IndexMap::new();
    for (key, node) in root.get("slots").map_or(&[][..], Node::entries) {
        let mut slot = SlotContract::default();
        let fills = match &node.data {
            Data::Map(_) => {
                keys_of(node, "key of a slot", &["fills", "fallback", "exposes"], faults);
                slot.fallback = node.get("fallback").and_then(|n| n.text().map(str::to_owned));
                slot.exposes = node.get("exposes").and_then(|n| handed(n, faults));
                node.get("fills")
            }
            _ => Some(node),
        };
        for fill in fills.map_or(&[][..], Node::one_or_many) {
            match value_of(fill) {
                Value::Absent => slot.fills.push(None),
                Value::Json(Json::String(html)) => slot.fills.push(Some(html).filter(|h| !h.is_empty())),
                _ => faults.push(Fault::kind(fill.span, "fills", "HTML as a text, or `absent`", fill.kind())),
            }
        }
        if slot.fills.is_empty() {
            slot.fills.push(None);
        }
        out.insert(key.text().unwrap_or_default().to_owned(), (slot, key.span));
    }
    out
}

fn exposes(root: &Node, faults: &mut Vec<Fault>) -> IndexMap<String, (String, Span)> {
    let mut out = IndexMap::new();
    for (key, node) in root.get("exposes").map_or(&[][..], Node::entries) {
        let kind = match node.text() {
            Some(kind) if ["function", "number", "string", "boolean", "object", "any"].contains(&kind) => kind.to_owned(),
            Some(other) => {
                faults.push(Fault::unknown(
                    node.span,
                    "kind of member",
                    other,
                    &["function", "number", "string", "boolean", "object", "any"],
                ));
                continue;
            }
            None => match node.get("type").and_then(Node::text) {
                Some(kind) => kind.to_owned(),
                None => "any".into(),
            },
        };
        out.insert(key.text().unwrap_or_default().to_owned(), (kind, key.span));
    }
    out
}

/// What a slot hands to its content, as one schema: each name must be there and fit its own.
fn handed(node: &Node, faults: &mut Vec<Fault>) -> Option<Schema> {
    if node.entries().is_empty() {
        faults.push(Fault::kind(node.span, "exposes", "names, each with a JSON Schema", node.kind()));
        return None;
    }
    for (_, one) in node.entries() {
        schema(one, faults)?;
    }
    let names: Vec<&str> = node.entries().iter().filter_map(|(k, _)| k.text()).collect();
    Schema::of(serde_json::json!({ "type": "object", "required": names, "properties": node.to_json() })).ok()
}

fn events(root: &Node, faults: &mut Vec<Fault>) -> IndexMap<String, (Option<Schema>, Span)> {
    let mut out = IndexMap::new();
    for (key, node) in root.get("events").map_or(&[][..], Node::entries) {
        keys_of(node, "key of an event", &["payload"], faults);
        let payload = node.get("payload").and_then(|n| schema(n, faults));
        out.insert(key.text().unwrap_or_default().to_owned(), (payload, key.span));
    }
    out
}

fn bindings(root: &Node, faults: &mut Vec<Fault>) -> IndexMap<String, (Binding, Span)> {
    let mut out = IndexMap::new();
    for (key, node) in root.get("bindings").map_or(&[][..], Node::entries) {
        keys_of(node, "key of a binding", &["event", "edit", "with"], faults);
        let edit = node.get("edit").and_then(|n| locator(n, "edit", faults));
        let with: Vec<Value> = node.get("with").map_or_else(Vec::new, |n| n.one_or_many().iter().map(value_of).collect());
        match (&edit, with.is_empty()) {
            (Some(_), true) => faults.push(Fault::new(node.span, "`with` is missing: which values is it edited to?")),
            (None, false) => faults.push(Fault::new(node.span, "`edit` is missing: which control does a person use?")),
            _ => {}
        }
        let event = node.get("event").and_then(|n| text_of(n, "event", faults));
        out.insert(key.text().unwrap_or_default().to_owned(), (Binding { event, edit, with }, key.span));
    }
    out
}

fn laws(root: &Node, faults: &mut Vec<Fault>) -> Vec<Exemption> {
    let mut out = Vec::new();
    for (key, node) in root.get("laws").map_or(&[][..], Node::entries) {
        let law = key.text().unwrap_or_default();
        let names: Vec<&str> = crate::judge::laws::names().collect();
        if !names.contains(&law) {
            faults.push(Fault::unknown(key.span, "law", law, &names));
            continue;
        }
        let Some(because) = node.get("because").and_then(Node::text).filter(|b| !b.trim().is_empty()) else {
            faults.push(
                Fault::new(node.span, format!("`because` is missing: why does `{law}` not hold here?"))
                    .help("write `{ off: true, because: … }` or `{ except: [name], because: … }`"),
            );
            continue;
        };
        keys_of(node, "key of an exemption", &["off", "except", "because"], faults);
        let except =
            node.get("except").map_or_else(Vec::new, |n| n.one_or_many().iter().filter_map(|i| i.text().map(str::to_owned)).collect());
        out.push(Exemption { law: law.into(), except, because: because.into(), span: key.span });
    }
    out
}

pub(super) fn expression(node: &Node, key: &str, faults: &mut Vec<Fault>) -> Option<Expression> {
    if node.is_null() || node.text().is_none() {
        let fault = Fault::kind(node.span, key, "an expression", node.kind());
        faults.push(if key == "where" {
            fault.help("YAML reads a leading `!`, `[` or `{` itself: put the expression in quotes")
        } else {
            fault
        });
        return None;
    }
    Some(Expression { text: node.text().unwrap_or_default().to_owned(), span: node.span })
}

pub(crate) fn text_of(node: &Node, key: &str, faults: &mut Vec<Fault>) -> Option<String> {
    let text = node.text().filter(|_| !node.is_null());
    if text.is_none() && !matches!(node.data, Data::Map(_)) {
        faults.push(Fault::kind(node.span, key, "a text", node.kind()));
    }
    text.map(str::to_owned)
}

/// A key that holds others, if it is there, is a mapping.
pub(super) fn mapping(node: &Node, key: &str, faults: &mut Vec<Fault>) {
    if let Some(found) = node.get(key)
        && !matches!(found.data, Data::Map(_))
    {
        faults.push(Fault::kind(found.span, key, "a mapping", found.kind()));
    }
}

pub(crate) fn keys_of(node: &Node, what: &str, allowed: &[&str], faults: &mut Vec<Fault>) {
    for (key, _) in node.entries() {
        let name = key.text().unwrap_or_default();
        if !allowed.contains(&name) {
            faults.push(Fault::unknown(key.span, what, name, allowed));
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::contract::check_names;
    use crate::contract::model::PropValues;
    use crate::contract::steps::read_step;
    use crate::scene::Scene;
    use crate::stage::Step;
    use crate::surface::{Surface, Type};

    const DIAL: &str = r#"
component: ./KilnDial.vue
props:
  label:  [Bisque, ""]
  target: { start: 600, values: [0, 600, 1240] }
  unit:   all
  step:   [absent, 25]
never:
  - unit === "F" && target === 1240
cover: every
clauses:
  - clause: raising reports
    where: "!locked"
    hold: { label: x, slots: { default: <p>y</p> } }
    do:
      - press: button "Raise"
        times: 2
    expect:
      - emitted: fire
        times: 2
        last: { target: "${target + 1}" }
      - text: .label
        is: ${label}
    next:
      - do: { remove: true }
        expect: { emitted: nothing }
"#;

    #[test]
    fn a_whole_contract_is_read() {
        let contract = read(DIAL).unwrap_or_else(|f| panic!("{f:?}"));
        assert_eq!(contract.props["step"].0, PropValues::These(vec![Value::Absent, Value::json(25)]));
        assert_eq!(contract.props["target"].0, PropValues::These(vec![Value::json(600), Value::json(0), Value::json(1240)]));
        let clause = &contract.clauses[0];
        assert_eq!(clause.phases.len(), 2);
        assert_eq!(clause.hold.fills["default"].as_deref(), Some("<p>y</p>"));
        assert_eq!(read_step(&clause.phases[1].steps[0]), Ok(Step::Remove));
    }

    #[test]
    fn every_fault_is_told_at_its_place() {
        for (text, at, message, help) in [
            ("componnt: a.vue", "componnt", "no key of a contract", "did you mean `component`"),
            ("component: a.vue\ncover: evry", "evry", "no way to cover", "every"),
            ("component: a.vue\nclauses:\n  - clause: x\n    expect:\n      - txt: .a", "txt", "no check", "did you mean `text`"),
            (
                "component: a.vue\nclauses:\n  - clause: x\n    expect:\n      - text: .a\n        iz: 1",
                "iz",
                "no check",
                "did you mean `is`",
            ),
            (
                "component: a.vue\nclauses:\n  - clause: x\n    do: [{prss: .a}]\n    expect: [{warned: nothing}]",
                "prss",
                "no step",
                "did you mean `press`",
            ),
            (
                "component: a.vue\nclauses:\n  - clause: x\n    expect:\n      - text: [a]\n        is: 1",
                "[a]",
                "needs a locator",
                "in quotes",
            ),
            ("component: a.vue\nclauses:\n  - clause: x\n    expect:\n      - text: #a\n        is: 1", "", "needs a locator", "comment"),
            ("component: a.vue\nclauses:\n  - clause: x\n    expect:\n      - text: \"p:molten\"\n        is: 1", "\"", "", ""),
            ("component: a.vue\nclauses:\n  - clause: x", "x", "expects nothing", "expect:"),
            ("component: a.vue\nlaws:\n  prop/liv: off", "prop/liv", "no law", "did you mean `prop/live`"),
            ("component: a.vue\nlaws:\n  prop/live: off", "off", "`because` is missing", "because"),
            ("component: a.vue\nprops: { a: [] }", "[]", "at least one value", ""),
            (
                "component: a.vue\nclauses:\n  - clause: x\n    expect:\n      - text: .a\n        matches: \"(\"",
                "\"(\"",
                "no regular expression",
                "",
            ),
            (
                "component: a.vue\nclauses:\n  - clause: x\n    do: [{elapse: 5}]\n    expect: [{warned: nothing}]",
                "5",
                "with its unit",
                "5s",
            ),
            ("about: x", "", "`component` is missing", "component:"),
            ("component: a.vue\nbindings: { a: { edit: input } }", "{ edit", "`with` is missing", ""),
            ("component: a.vue\nbindings: { a: { with: [1] } }", "{ with", "`edit` is missing", ""),
            ("component: a.vue\nevents: { fire: { payload: { type: numbre } } }", "{ type", "no JSON Schema", ""),
            ("component: a.vue\nslots: { note: { fills: [absent], exposes: { a: { type: 1 } } } }", "{ type", "no JSON Schema", ""),
            (
                "component: a.vue\nclauses:\n  - clause: x\n    do: [{drop: []}]\n    expect: [{warned: nothing}]",
                "{drop",
                "`onto` is missing",
                "",
            ),
            (
                "component: a.vue\nclauses:\n  - clause: x\n    do: [{resize: 300}]\n    expect: [{warned: nothing}]",
                "300",
                "width: 375",
                "",
            ),
            (
                "component: a.vue\nclauses:\n  - clause: x\n    do: [{scroll: page, to: far}]\n    expect: [{warned: nothing}]",
                "far",
                "pixels",
                "",
            ),
            (
                "component: a.vue\nclauses:\n  - clause: x\n    do: [{remove: false}]\n    expect: [{warned: nothing}]",
                "false",
                "needs `true`",
                "",
            ),
            ("component: a.vue\nclauses:\n  - clause: x\n    expect: [{warned: true}]", "true", "needs `has:`", ""),
            ("component: a.vue\nclauses:\n  - clause: x\n    expect: [{handed: note}]", "{handed", "what should be true", "is, isnt"),
        ] {
            let faults = read(text).expect_err(text);
            let fault = &faults[0];
            assert!(fault.message.contains(message), "{text}: {fault:?}");
            assert!(fault.help.as_deref().unwrap_or("").contains(help), "{text}: {fault:?}");
            let marked = &text[fault.span.start..fault.span.end];
            assert!(marked.starts_with(at) || message.is_empty(), "{text}: marks {marked:?}");
        }
    }

    #[test]
    fn all_faults_come_at_once() {
        let text = "componet: a.vue\ncover: al\nclauses:\n  - clause: x\n    expect: [{txt: .a}]\n  - clause: x\n    expect: [{text: .a}]";
        assert!(read(text).expect_err("wrong").len() >= 5);
    }

    #[test]
    fn promises_outside_the_clauses_are_clauses_too() {
        let contract =
            read("component: a.vue\nexposes: { nudge: function }\nslots: { note: { fills: [absent, '<b>x</b>'], fallback: none yet, exposes: { room: { type: number } } } }\nbindings: { target: { edit: input, with: [700] } }")
                .expect("reads");
        let names: Vec<_> = contract.clauses.iter().map(|c| c.name.as_str()).collect();
        assert_eq!(
            names,
            [
                "exposes `nudge`",
                "the slot `note` shows its fallback when left empty",
                "the slot `note` does not show its fallback when filled",
                "the slot `note` hands over what it exposes",
                "an edit of `target` to 700 reaches the parent",
            ]
        );
    }

    #[test]
    fn names_are_checked_against_the_surface() {
        let mut surface = Surface::new("KilnDial", "KilnDial.vue", "default", crate::surface::Framework::Vue);
        surface.props.push(crate::surface::Prop { required: true, ..crate::surface::Prop::new("target", Type::Number) });
        let locked = crate::surface::Prop { name: "locked".into(), ty: Type::Boolean, ..surface.props[0].clone() };
        surface.props.push(locked);
        let contract = read("component: a.vue\nprops: { targt: [1], locked: [no, true] }\nclauses:\n  - clause: x\n    do: [{pass: {tarket: 1}}, {call: nudge}]\n    expect: [{emitted: fire}, {bound: target, is: 1}, {emitted: {only: [burn]}}, {exposed: reset}, {text: slot(note), is: x}, {within: p, expect: [{count: ref(field) i, is: 1}]}]").expect("reads");
        let faults = check_names(&contract, &Scene::alone(surface));
        let messages: Vec<_> = faults.iter().map(|f| f.message.as_str()).collect();
        assert_eq!(
            messages,
            [
                "`targt` is no prop of KilnDial",
                "`locked` is a boolean, and YAML 1.2 takes `no` for a text",
                "`tarket` is no prop of KilnDial",
                "`nudge` is no exposed member of KilnDial",
                "`fire` is no event of KilnDial",
                "`target` is no two-way prop of KilnDial",
                "`burn` is no event of KilnDial",
                "`reset` is no exposed member of KilnDial",
                "`note` is no slot of KilnDial",
                "`field` is no exposed member of KilnDial",
            ]
        );
        assert_eq!(faults[0].help.as_deref(), Some("did you mean `target`?"));
    }
}

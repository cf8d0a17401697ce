//! From text to contract: the top level and the clauses. Every fault is collected; a contract with one is not judged.

use fidelon_source::Span;
use indexmap::IndexMap;
use serde_json::Value as Json;

use crate::contract::checks::{Events, Subject, read_check};
use crate::contract::fault::Fault;
use crate::contract::model::{Binding, Clause, Contract, Exemption, Expression, Phase, PropValues, SlotContract};
use crate::contract::steps::{fills_of, props_named, read_step};
use crate::contract::surroundings::surroundings;
use crate::contract::yaml::{self, Data, Node};
use crate::plan::Cover;
use crate::stage::{Combination, Parent, Step};
use crate::surface::{Surface, Type};
use crate::value::Value;

const TOP: [&str; 13] =
    ["component", "about", "props", "never", "cover", "events", "bindings", "slots", "exposes", "network", "clock", "laws", "clauses"];
const TOP_LATER: [&str; 4] = ["wrap", "styles", "uses", "scene"];
const CLAUSE: [&str; 8] = ["clause", "where", "hold", "do", "expect", "next", "parent", "about"];

/// Reads a contract.
///
/// # Errors
/// Every fault of the text, in its order.
pub fn read(text: &str) -> Result<Contract, Vec<Fault>> {
    match read_all(text) {
        (Some(contract), faults) if faults.is_empty() => Ok(contract),
        (_, faults) => Err(faults),
    }
}

/// Reads as much as can be read, with every fault of the text, in its order. There is nothing when it is no mapping at all.
pub fn read_all(text: &str) -> (Option<Contract>, Vec<Fault>) {
    let root = match yaml::parse(text) {
        Ok(root) => root,
        Err(fault) => return (None, vec![fault]),
    };
    let mut faults = Vec::new();
    if !matches!(root.data, Data::Map(_)) {
        return (None, vec![Fault::kind(root.span, "the file", "keys such as `component:` and `clauses:`", root.kind())]);
    }
    for (key, _) in root.entries() {
        let name = key.text().unwrap_or_default();
        if TOP_LATER.contains(&name) {
            faults.push(Fault::not_yet(key.span, name));
        } else if !TOP.contains(&name) {
            faults.push(Fault::unknown(key.span, "key of a contract", name, &TOP));
        }
    }
    let contract = Contract {
        components: components(&root, &mut faults),
        about: root.get("about").and_then(|n| text_of(n, "about", &mut faults)),
        props: props(&root, &mut faults),
        never: root
            .get("never")
            .map_or_else(Vec::new, |n| n.one_or_many().iter().filter_map(|e| expression(e, "never", &mut faults)).collect()),
        cover: cover(&root, &mut faults),
        slots: slots(&root, &mut faults),
        exposes: exposes(&root, &mut faults),
        events: events(&root, &mut faults),
        bindings: bindings(&root, &mut faults),
        surroundings: surroundings(&root, &mut faults),
        laws: laws(&root, &mut faults),
        clauses: clauses(&root, &mut faults),
    };
    let implied = implied(&contract);
    let contract = Contract { clauses: [implied, contract.clauses].concat(), ..contract };
    faults.sort_by_key(|f| f.span);
    (Some(contract), faults)
}

/// Whose contract a text is, whatever else is wrong with it.
pub fn named_components(text: &str) -> Vec<String> {
    yaml::parse(text).map_or_else(|_| Vec::new(), |root| components(&root, &mut Vec::new()).into_iter().map(|(name, _)| name).collect())
}

fn components(root: &Node, faults: &mut Vec<Fault>) -> Vec<(String, Span)> {
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
    let mut out = Vec::new();
    if node.items().is_some_and(<[Node]>::is_empty) {
        faults.push(Fault::new(node.span, "no component is named: whose contract is this?").help("write `component: ./Name.vue`"));
    }
    for item in node.one_or_many() {
        match item.text().filter(|t| !t.is_empty()) {
            Some(text) if text.starts_with("http:") => faults.push(Fault::not_yet(item.span, "a served component")),
            Some(text) => out.push((text.to_owned(), item.span)),
            None => faults.push(Fault::kind(item.span, "component", "a path, or a list of paths", item.kind())),
        }
    }
    out
}

fn props(root: &Node, faults: &mut Vec<Fault>) -> IndexMap<String, (PropValues, Span)> {
    let mut out = IndexMap::new();
    for (key, node) in root.get("props").map_or(&[][..], Node::entries) {
        let values = match &node.data {
            Data::Scalar { text, plain: true } if text == "all" => PropValues::All,
            Data::List(items) if items.is_empty() => {
                faults.push(Fault::new(node.span, "a prop needs at least one value"));
                continue;
            }
            Data::List(items) => PropValues::These(items.iter().map(value_of).collect()),
            Data::Map(_) if node.get("declared").is_some() => PropValues::Declared,
            Data::Map(_) if node.get("values").is_some() || node.get("start").is_some() => {
                let mut values: Vec<Value> = node.get("start").map(value_of).into_iter().collect();
                for value in node.get("values").map_or(&[][..], Node::one_or_many).iter().map(value_of) {
                    if !values.contains(&value) {
                        values.push(value);
                    }
                }
                PropValues::These(values)
            }
            _ => PropValues::These(vec![value_of(node)]),
        };
        for value in node.one_or_many() {
            for later in ["$from", "$file"] {
                if value.get(later).is_some() {
                    faults.push(Fault::not_yet(value.span, later));
                }
            }
        }
        out.insert(key.text().unwrap_or_default().to_owned(), (values, key.span));
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

fn events(root: &Node, faults: &mut Vec<Fault>) -> IndexMap<String, Span> {
    let mut out = IndexMap::new();
    for (key, node) in root.get("events").map_or(&[][..], Node::entries) {
        for (inner, _) in node.entries() {
            match inner.text() {
                Some("payload") => faults.push(Fault::not_yet(inner.span, "payload").help("use `fits:` in an `emitted` check")),
                name => faults.push(Fault::unknown(inner.span, "key of an event", name.unwrap_or_default(), &["payload"])),
            }
        }
        out.insert(key.text().unwrap_or_default().to_owned(), key.span);
    }
    out
}

fn bindings(root: &Node, faults: &mut Vec<Fault>) -> IndexMap<String, (Binding, Span)> {
    let mut out = IndexMap::new();
    for (key, node) in root.get("bindings").map_or(&[][..], Node::entries) {
        let mut binding = Binding::default();
        for (inner, value) in node.entries() {
            match inner.text() {
                Some("event") => binding.event = text_of(value, "event", faults),
                Some(later @ ("edit" | "with")) => faults.push(Fault::not_yet(inner.span, later)),
                name => faults.push(Fault::unknown(inner.span, "key of a binding", name.unwrap_or_default(), &["event"])),
            }
        }
        out.insert(key.text().unwrap_or_default().to_owned(), (binding, key.span));
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

fn clauses(root: &Node, faults: &mut Vec<Fault>) -> Vec<Clause> {
    let mut out: Vec<Clause> = Vec::new();
    let Some(node) = root.get("clauses") else { return out };
    let Some(items) = node.items() else {
        faults.push(Fault::kind(node.span, "clauses", "a list, each with `- clause: …`", node.kind()));
        return out;
    };
    for item in items {
        keys_of(item, "key of a clause", &CLAUSE, faults);
        let Some(name_node) = item.get("clause") else {
            faults.push(Fault::new(item.span, "`clause` is missing: what is promised, in words?"));
            continue;
        };
        let Some(name) = text_of(name_node, "clause", faults) else { continue };
        if out.iter().any(|c| c.name == name) {
            faults.push(Fault::new(name_node.span, format!("there is a clause `{name}` already: each needs words of its own")));
        }
        let mut phases = vec![phase(item, faults)];
        for next in item.get("next").map_or(&[][..], Node::one_or_many) {
            keys_of(next, "key of a phase", &["do", "expect"], faults);
            phases.push(phase(next, faults));
        }
        if phases.iter().all(|p| p.checks.is_empty()) {
            faults.push(Fault::new(name_node.span, "this clause expects nothing").help("add `expect:` with at least one check"));
        }
        out.push(Clause {
            name,
            span: name_node.span,
            condition: item.get("where").and_then(|n| expression(n, "where", faults)),
            hold: hold(item, faults),
            parent: parent(item, faults),
            phases,
        });
    }
    out
}

/// The promises that stand outside the clauses: members of their kind, and what an empty slot shows.
fn implied(contract: &Contract) -> Vec<Clause> {
    let clause = |name: String, span: Span, condition: Option<String>, check: Vec<(&str, Json)>| {
        let node = |data| Node { span, data };
        let entries = check.into_iter().map(|(k, v)| (node(Data::Scalar { text: k.into(), plain: true }), node(Data::Given(v)))).collect();
        Clause {
            name,
            span,
            condition: condition.map(|text| Expression { text, span }),
            hold: Combination::default(),
            parent: Parent::Obeys,
            phases: vec![Phase { steps: Vec::new(), checks: vec![node(Data::Map(entries))] }],
        }
    };
    let mut out = Vec::new();
    for (name, (kind, span)) in &contract.exposes {
        let check = vec![("exposed", Json::from(name.as_str())), ("kind", Json::from(kind.as_str()))];
        out.push(clause(format!("exposes `{name}`"), *span, None, check));
    }
    for (name, (slot, span)) in &contract.slots {
        let Some(fallback) = &slot.fallback else { continue };
        let key = Json::from(name.as_str());
        for (empty, words) in [(true, "shows"), (false, "does not show")] {
            if slot.fills.iter().any(|f| f.is_none() == empty) {
                let condition = format!("slots[{key}] {} null", if empty { "===" } else { "!==" });
                let check = vec![("present", Json::from(format!("text(\"{fallback}\")"))), ("is", Json::from(empty))];
                let which = if empty { "left empty" } else { "filled" };
                out.push(clause(format!("the slot `{name}` {words} its fallback when {which}"), *span, Some(condition), check));
            }
        }
    }
    out
}

fn phase(node: &Node, faults: &mut Vec<Fault>) -> Phase {
    let list = |key: &str| node.get(key).map_or_else(Vec::new, |n| n.one_or_many().to_vec());
    let phase = Phase { steps: list("do"), checks: list("expect") };
    for step in &phase.steps {
        if let Err(more) = read_step(step) {
            faults.extend(more);
        }
    }
    for check in &phase.checks {
        if let Err(more) = read_check(check) {
            faults.extend(more);
        }
    }
    phase
}

fn hold(clause: &Node, faults: &mut Vec<Fault>) -> Combination {
    let mut out = Combination::default();
    for (key, value) in clause.get("hold").map_or(&[][..], Node::entries) {
        match key.text().unwrap_or_default() {
            "slots" => out.fills.extend(fills_of(value, faults).unwrap_or_default()),
            name => drop(out.props.insert(name.to_owned(), value_of(value))),
        }
    }
    out
}

fn parent(clause: &Node, faults: &mut Vec<Fault>) -> Parent {
    match clause.get("parent").map(|n| (n, n.text())) {
        None | Some((_, Some("obeys"))) => Parent::Obeys,
        Some((_, Some("keeps"))) => Parent::Keeps,
        Some((node, other)) => {
            faults.push(Fault::unknown(node.span, "way for a parent to answer", other.unwrap_or_default(), &["obeys", "keeps"]));
            Parent::Obeys
        }
    }
}

fn expression(node: &Node, key: &str, faults: &mut Vec<Fault>) -> Option<Expression> {
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

/// A node as a value: `absent`, `{ $js: … }`, else what YAML says.
pub(crate) fn value_of(node: &Node) -> Value {
    if let Data::Scalar { text, plain: true } = &node.data
        && text == "absent"
    {
        return Value::Absent;
    }
    if let Some(js) = node.get("$js").and_then(Node::text) {
        return Value::Js(js.to_owned());
    }
    match node.to_json() {
        Json::Object(map) if map.contains_key("$absent") => Value::Absent,
        Json::Object(map) if map.contains_key("$js") => Value::Js(map["$js"].as_str().unwrap_or_default().to_owned()),
        json => Value::Json(json),
    }
}

pub(crate) fn text_of(node: &Node, key: &str, faults: &mut Vec<Fault>) -> Option<String> {
    let text = node.text().filter(|_| !node.is_null());
    if text.is_none() && !matches!(node.data, Data::Map(_)) {
        faults.push(Fault::kind(node.span, key, "a text", node.kind()));
    }
    text.map(str::to_owned)
}

pub(crate) fn keys_of(node: &Node, what: &str, allowed: &[&str], faults: &mut Vec<Fault>) {
    for (key, _) in node.entries() {
        let name = key.text().unwrap_or_default();
        if !allowed.contains(&name) {
            faults.push(Fault::unknown(key.span, what, name, allowed));
        }
    }
}

/// Checks the names of a contract against what a component declares.
pub fn check_names(contract: &Contract, surface: &Surface) -> Vec<Fault> {
    let mut faults = Vec::new();
    if surface.open {
        return faults;
    }
    let props: Vec<&str> = surface.props.iter().map(|p| p.name.as_str()).collect();
    let slots: Vec<&str> = surface.slots.iter().map(|s| s.name.as_str()).collect();
    let what = format!("prop of {}", surface.name);
    for (name, (values, span)) in &contract.props {
        match surface.prop(name) {
            None => faults.push(Fault::unknown(*span, &what, name, &props)),
            Some(prop) if *values == PropValues::All && !matches!(prop.ty, Type::Boolean | Type::Union { .. }) => {
                faults.push(
                    Fault::new(*span, format!("`{name}` is neither a boolean nor a union of values, so `all` tells nothing"))
                        .help("list the values"),
                );
            }
            Some(_) => {}
        }
    }
    for (name, (_, span)) in contract.bindings.iter().filter(|(n, _)| surface.prop(n).is_none()) {
        faults.push(Fault::unknown(*span, &what, name, &props));
    }
    for (name, (_, span)) in &contract.slots {
        if !slots.contains(&name.as_str()) {
            faults.push(Fault::unknown(*span, &format!("slot of {}", surface.name), name, &slots));
        }
    }
    for clause in &contract.clauses {
        for name in clause.hold.props.keys().filter(|n| surface.prop(n).is_none()) {
            faults.push(Fault::unknown(clause.span, &what, name, &props));
        }
        for name in clause.hold.fills.keys().filter(|n| surface.slot(n).is_none()) {
            faults.push(Fault::unknown(clause.span, &format!("slot of {}", surface.name), name, &slots));
        }
        for phase in &clause.phases {
            for node in &phase.steps {
                check_step(node, surface, &what, &props, &slots, &mut faults);
            }
            for node in &phase.checks {
                check_check(node, surface, &props, &mut faults);
            }
        }
    }
    faults
}

fn check_step(node: &Node, surface: &Surface, what: &str, props: &[&str], slots: &[&str], faults: &mut Vec<Fault>) {
    let Ok(step) = read_step(node) else { return };
    for name in props_named(&step).into_iter().filter(|n| surface.prop(n).is_none()) {
        faults.push(Fault::unknown(node.span, what, name, props));
    }
    if let Step::Fill { fills } = &step {
        for name in fills.keys().filter(|n| surface.slot(n).is_none()) {
            faults.push(Fault::unknown(node.span, &format!("slot of {}", surface.name), name, slots));
        }
    }
    if let Step::Call { member, .. } = &step
        && !surface.exposes.contains(member)
    {
        let known: Vec<&str> = surface.exposes.iter().map(String::as_str).collect();
        let span = node.get("call").map_or(node.span, |n| n.span);
        faults.push(Fault::unknown(span, &format!("exposed member of {}", surface.name), member, &known));
    }
}

fn check_check(node: &Node, surface: &Surface, props: &[&str], faults: &mut Vec<Fault>) {
    let Ok(check) = read_check(node) else { return };
    let events: Vec<&str> = surface.events.iter().filter(|e| e.reports.is_none()).map(|e| e.name.as_str()).collect();
    match &check.subject {
        Subject::Emitted(Events::Named { name, .. }) if !events.contains(&name.as_str()) => {
            let span = node.get("emitted").map_or(node.span, |n| n.span);
            let fault = Fault::unknown(span, &format!("event of {}", surface.name), name, &events);
            faults.push(if props.contains(&name.as_str()) {
                fault.help(format!("changes of the two-way prop are checked with `bound: {name}`"))
            } else {
                fault
            });
        }
        Subject::Bound(name) if !surface.prop(name).is_some_and(|p| p.two_way) => {
            let two_way: Vec<&str> = surface.props.iter().filter(|p| p.two_way).map(|p| p.name.as_str()).collect();
            let span = node.get("bound").map_or(node.span, |n| n.span);
            faults.push(Fault::unknown(span, &format!("two-way prop of {}", surface.name), name, &two_way));
        }
        _ => {}
    }
}

#[cfg(test)]
mod tests {
    use super::*;

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
            read("component: a.vue\nexposes: { nudge: function }\nslots: { note: { fills: [absent, '<b>x</b>'], fallback: none yet } }")
                .expect("reads");
        let names: Vec<_> = contract.clauses.iter().map(|c| c.name.as_str()).collect();
        assert_eq!(
            names,
            [
                "exposes `nudge`",
                "the slot `note` shows its fallback when left empty",
                "the slot `note` does not show its fallback when filled"
            ]
        );
    }

    #[test]
    fn names_are_checked_against_the_surface() {
        let mut surface = Surface::new("KilnDial", "KilnDial.vue", "default", crate::surface::Framework::Vue);
        surface.props.push(crate::surface::Prop {
            name: "target".into(),
            ty: Type::Number,
            required: true,
            default: None,
            two_way: false,
            about: None,
        });
        let contract = read("component: a.vue\nprops: { targt: [1] }\nclauses:\n  - clause: x\n    do: [{pass: {tarket: 1}}, {call: nudge}]\n    expect: [{emitted: fire}, {bound: target, is: 1}]").expect("reads");
        let faults = check_names(&contract, &surface);
        let messages: Vec<_> = faults.iter().map(|f| f.message.as_str()).collect();
        assert_eq!(
            messages,
            [
                "`targt` is no prop of KilnDial",
                "`tarket` is no prop of KilnDial",
                "`nudge` is no exposed member of KilnDial",
                "`fire` is no event of KilnDial",
                "`target` is no two-way prop of KilnDial",
            ]
        );
        assert_eq!(faults[0].help.as_deref(), Some("did you mean `target`?"));
    }
}

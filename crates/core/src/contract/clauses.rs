//! The clauses of a contract, and the promises that stand outside them.

use fidelon_source::Span;
use serde_json::Value as Json;

use crate::contract::checks::read_check;
use crate::contract::fault::Fault;
use crate::contract::model::{Clause, Contract, Expression, Phase};
use crate::contract::read::{expression, keys_of, mapping, text_of};
use crate::contract::steps::{fills_of, read_step};
use crate::contract::values::value_of;
use crate::contract::yaml::{Data, Node};
use crate::stage::{Combination, Parent};
use crate::value::Value;

const CLAUSE: [&str; 8] = ["clause", "where", "hold", "do", "expect", "next", "parent", "about"];

pub(super) fn clauses(root: &Node, faults: &mut Vec<Fault>) -> Vec<Clause> {
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
            implied: false,
        });
    }
    out
}

/// The promises that stand outside the clauses: members of their kind, what an empty slot shows, what a filled one hands
/// over, what an edit of a two-way prop reports.
pub(super) fn implied(contract: &Contract) -> Vec<Clause> {
    let mut out = Vec::new();
    for (name, (kind, span)) in &contract.exposes {
        let check = entry(*span, &[("exposed", Json::from(name.as_str())), ("kind", Json::from(kind.as_str()))]);
        out.push(clause(format!("exposes `{name}`"), *span, None, Vec::new(), check));
    }
    for (name, (slot, span)) in &contract.slots {
        let is = |empty: bool| format!("slots[{}] {} null", Json::from(name.as_str()), if empty { "===" } else { "!==" });
        for (empty, words, which) in [(true, "shows", "left empty"), (false, "does not show", "filled")] {
            if let Some(fallback) = &slot.fallback
                && slot.fills.iter().any(|f| f.is_none() == empty)
            {
                let check = entry(*span, &[("present", Json::from(format!("text(\"{fallback}\")"))), ("is", Json::from(empty))]);
                let words = format!("the slot `{name}` {words} its fallback when {which}");
                out.push(clause(words, *span, Some(is(empty)), Vec::new(), check));
            }
        }
        if let Some(schema) = &slot.exposes {
            let check = entry(*span, &[("handed", Json::from(name.as_str())), ("fits", schema.json().clone())]);
            out.push(clause(format!("the slot `{name}` hands over what it exposes"), *span, Some(is(false)), Vec::new(), check));
        }
    }
    for (prop, (binding, span)) in &contract.bindings {
        let Some(edit) = &binding.edit else { continue };
        for value in &binding.with {
            let plain = value.to_plain();
            let step = entry(*span, &[("edit", Json::from(edit.written.as_str())), ("to", plain.clone())]);
            let check = entry(*span, &[("bound", Json::from(prop.as_str())), ("is", plain.clone())]);
            let differs = matches!(value, Value::Json(_)).then(|| format!("JSON.stringify({prop}) !== JSON.stringify({plain})"));
            out.push(clause(format!("an edit of `{prop}` to {value} reaches the parent"), *span, differs, vec![step], check));
        }
    }
    out
}

fn clause(name: String, span: Span, condition: Option<String>, steps: Vec<Node>, check: Node) -> Clause {
    Clause {
        name,
        span,
        condition: condition.map(|text| Expression { text, span }),
        hold: Combination::default(),
        parent: Parent::Obeys,
        phases: vec![Phase { steps, checks: vec![check] }],
        implied: true,
    }
}

/// A step or a check as a contract would write it.
fn entry(span: Span, pairs: &[(&str, Json)]) -> Node {
    let node = |data| Node { span, data };
    let pairs = pairs.iter().map(|(k, v)| (node(Data::Scalar { text: (*k).into(), plain: true }), node(Data::Given(v.clone()))));
    node(Data::Map(pairs.collect()))
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
    mapping(clause, "hold", faults);
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

//! What a contract adds to a surface where the source does not tell: members, events, two-way props.

use crate::contract::model::Contract;
use crate::contract::yaml::{Data, Node};
use crate::surface::{Event, Surface};

/// The surface with what the contract says of it.
pub fn adapted(surface: &Surface, contract: &Contract) -> Surface {
    let mut out = surface.clone();
    for name in contract.exposes.keys() {
        if !out.exposes.contains(name) {
            out.exposes.push(name.clone());
        }
    }
    for name in contract.events.keys() {
        event(&mut out, name);
    }

    for (prop, (binding, _)) in &contract.bindings {
        if let Some(prop) = out.props.iter_mut().find(|p| p.name == *prop) {
            prop.two_way = true;
        }
        if let Some(name) = &binding.event {
            event(&mut out, name).reports = Some(prop.clone());
        }
    }
    out
}

/// What the clauses ask for that is only watched where they do: the ref itself, and where slot content stands.
pub fn watched(contract: &Contract) -> (bool, bool) {
    let nodes = || contract.clauses.iter().flat_map(|c| &c.phases).flat_map(|p| p.steps.iter().chain(&p.checks));
    let says = |word: &str| nodes().any(|n| mentions(n, word));
    let reached = says("ref()") || contract.bindings.values().any(|(b, _)| b.edit.as_ref().is_some_and(|e| e.written.starts_with("ref()")));
    (reached, says("slot(") || says("fills"))
}

/// The properties of styles that clauses look at.
pub fn styled(contract: &Contract) -> Vec<String> {
    let mut out = Vec::new();
    contract.clauses.iter().flat_map(|c| &c.phases).flat_map(|p| &p.checks).for_each(|node| properties(node, &mut out));
    out
}

fn properties(node: &Node, out: &mut Vec<String>) {
    match &node.data {
        Data::List(items) => items.iter().for_each(|i| properties(i, out)),
        Data::Map(entries) => {
            let text = |key: &str| entries.iter().find(|(k, _)| k.text() == Some(key)).and_then(|(_, v)| v.text());
            if let (Some(_), Some(property)) = (text("style"), text("property"))
                && !out.iter().any(|p| p == property)
            {
                out.push(property.to_owned());
            }
            entries.iter().for_each(|(_, v)| properties(v, out));
        }
        _ => {}
    }
}

/// True where a text or a key below a node starts with a word.
fn mentions(node: &Node, word: &str) -> bool {
    match &node.data {
        Data::Scalar { text, .. } => text.trim_start().starts_with(word),
        Data::List(items) => items.iter().any(|i| mentions(i, word)),
        Data::Map(entries) => entries.iter().any(|(k, v)| mentions(k, word) || mentions(v, word)),
        Data::Given(json) => json.as_str().is_some_and(|text| text.starts_with(word)),
    }
}

/// The declared event of this name; one that the source does not declare is written as its framework writes it.
fn event<'a>(surface: &'a mut Surface, name: &str) -> &'a mut Event {
    let at = surface.events.iter().position(|e| e.name == name).unwrap_or_else(|| {
        let written = (surface.framework.record().listener)(name);
        surface.events.push(Event::new(name, written));
        surface.events.len() - 1
    });
    &mut surface.events[at]
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::contract::read;
    use crate::surface::{Framework, Prop, Type};

    #[test]
    fn a_contract_tells_what_the_source_does_not() {
        let text = "component: ./A.tsx\nexposes: { reset: function }\nevents: { settle: {} }\nbindings: { target: { event: turn } }\n";
        let contract = read(text).expect("reads");
        let mut surface = Surface::new("A", "A.tsx", "default", Framework::React);
        surface.props.push(Prop { required: true, ..Prop::new("target", Type::Number) });
        surface.events.push(Event::new("turn", "onTurn"));
        let out = adapted(&surface, &contract);
        assert!(out.props[0].two_way);
        assert_eq!(out.exposes, ["reset"]);
        let events: Vec<_> = out.events.iter().map(|e| (e.written.as_str(), e.reports.as_deref())).collect();
        assert_eq!(events, [("onTurn", Some("target")), ("onSettle", None)]);
    }
}

//! A combination that somebody looked at and wants kept: a clause that holds it fixed and says what was to be seen, and its place in a
//! contract's text, of which nothing else changes.

use fidelon_dom::{Document, NodeData, NodeId, accessible_name, form, role_of};

use super::write::{scalar, value};
use crate::locator::Locator;
use crate::observation::PhaseSnapshot;
use crate::stage::Combination;
use crate::value::Value;

/// So much is said of what was to be seen.
const MOST_CHECKS: usize = 12;

/// The clause, indented as an item of a list at the left margin. None where nothing was to be seen that can be said.
pub fn clause(words: &str, combination: &Combination, seen: &PhaseSnapshot) -> Option<String> {
    let mut checks = shown(&seen.tree);
    checks.truncate(MOST_CHECKS);
    if checks.is_empty() {
        return None;
    }
    let mut out = format!("- clause: {}   # kept\n", scalar(words));
    out.push_str(&hold(combination));
    out.push_str("  expect:\n");
    for check in checks {
        out.push_str(&check);
    }
    Some(out)
}

/// The line of a clause that holds a combination fixed; nothing where nothing is passed.
pub(super) fn hold(combination: &Combination) -> String {
    let props =
        combination.props.iter().filter(|(_, v)| !matches!(v, Value::Other(_))).map(|(name, v)| format!("{}: {}", scalar(name), value(v)));
    let fills = combination.fills.iter().map(|(slot, html)| {
        let html = html.as_ref().map_or("absent".to_owned(), |h| serde_json::Value::from(h.as_str()).to_string());
        format!("{}: {html}", scalar(slot))
    });
    let fills: Vec<String> = fills.collect();
    let slots = (!fills.is_empty()).then(|| format!("slots: {{ {} }}", fills.join(", ")));
    let hold: Vec<String> = props.chain(slots).collect();
    if hold.is_empty() { String::new() } else { format!("  hold: {{ {} }}\n", hold.join(", ")) }
}

/// What a person finds: roles with names and values, and texts that stand by themselves.
pub(super) fn shown(doc: &Document) -> Vec<String> {
    let mut out = Vec::new();
    let body = doc.body().unwrap_or(Document::ROOT);
    visit(doc, body, &mut out);
    out
}

fn visit(doc: &Document, id: NodeId, out: &mut Vec<String>) {
    for child in doc.flat_children(id) {
        match &doc.node(child).data {
            NodeData::Element(_) if !form::shows(doc, child) => {}
            NodeData::Element(element) => {
                let name = accessible_name(doc, child);
                let role = role_of(doc, child).filter(|r| !["generic", "none", "presentation"].contains(r));
                let written = role.filter(|_| !name.is_empty()).map(|role| format!("{role} {name:?}"));
                let found = written.filter(|w| finds(doc, w, child));
                if let Some(locator) = &found {
                    let quoted = serde_json::Value::from(locator.as_str());
                    if form::has_text_value(element) {
                        out.push(format!("    - value: {quoted}\n      is: {}\n", serde_json::Value::from(form::value(doc, child))));
                    } else {
                        out.push(format!("    - present: {quoted}\n"));
                    }
                }
                // What names an element is its own text most often: it is not said twice.
                let told = found.is_some() && fidelon_dom::serialize::collapse(&doc.flat_text(child)) == name;
                if !told {
                    visit(doc, child, out);
                }
            }
            NodeData::Text(text) => {
                let text = fidelon_dom::serialize::collapse(text);
                let locator = format!("text({text:?})");
                let parent = doc.node(child).parent.unwrap_or(id);
                if !text.is_empty() && finds(doc, &locator, parent) {
                    out.push(format!("    - present: {}\n", serde_json::Value::from(locator)));
                }
            }
            _ => {}
        }
    }
}

fn finds(doc: &Document, written: &str, id: NodeId) -> bool {
    Locator::parse(written).is_ok_and(|l| l.find_one(doc, Document::ROOT, &[]) == Ok(id))
}

/// The text of a contract with a clause put at the end of its clauses; for no text a new contract of a component.
pub fn put(text: Option<&str>, component: &str, clause: &str) -> String {
    let indented = |by: &str| clause.lines().fold(String::new(), |out, line| out + by + line + "\n");
    let Some(text) = text else { return format!("component: {}\n\nclauses:\n{}", scalar(component), indented("  ")) };
    let lines: Vec<&str> = text.lines().collect();
    let Some(start) = lines.iter().position(|l| l.starts_with("clauses:")) else {
        return format!("{}\n\nclauses:\n{}", text.trim_end(), indented("  "));
    };
    // The section goes on to the next line that begins at the margin; what stands at its end without belonging to it stays below.
    let own = |line: &&str| line.is_empty() || line.starts_with([' ', '\t', '#', '-']);
    let mut end = start + 1 + lines[start + 1..].iter().take_while(|l| own(l)).count();
    while end > start + 1 && (lines[end - 1].trim().is_empty() || lines[end - 1].starts_with('#')) {
        end -= 1;
    }
    let dash = lines[start + 1..end].iter().find_map(|l| l.trim_start().starts_with("- ").then(|| &l[..l.len() - l.trim_start().len()]));
    let head = if dash.is_none() { "clauses:" } else { lines[start] };
    let mut out: Vec<String> = lines[..start].iter().map(|l| (*l).to_owned()).collect();
    out.push(head.to_owned());
    out.extend(lines[start + 1..end].iter().map(|l| (*l).to_owned()));
    if dash.is_some() {
        out.push(String::new());
    }
    out.push(indented(dash.unwrap_or("  ")).trim_end().to_owned());
    out.extend(lines[end..].iter().map(|l| (*l).to_owned()));
    out.join("\n") + "\n"
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_clause_is_put_at_the_end_of_the_clauses_and_nothing_else_changes() {
        let clause = "- clause: kept\n  expect:\n    - present: p\n";
        let put = |text: &str| super::put(Some(text), "./A.vue", clause);
        let two = "component: ./A.vue\nclauses:\n    - clause: one   # a remark\n      expect: [{ present: p }]\n\n# the laws\nlaws:\n  prop/live: { off: true, because: x }\n";
        assert_eq!(
            put(two),
            "component: ./A.vue\nclauses:\n    - clause: one   # a remark\n      expect: [{ present: p }]\n\n    - clause: kept\n      expect:\n        - present: p\n\n# the laws\nlaws:\n  prop/live: { off: true, because: x }\n"
        );
        assert_eq!(
            put("component: ./A.vue\nclauses: []\n"),
            "component: ./A.vue\nclauses:\n  - clause: kept\n    expect:\n      - present: p\n"
        );
        assert_eq!(put("component: ./A.vue\n"), "component: ./A.vue\n\nclauses:\n  - clause: kept\n    expect:\n      - present: p\n");
        assert_eq!(
            super::put(None, "./A.vue", clause),
            "component: ./A.vue\n\nclauses:\n  - clause: kept\n    expect:\n      - present: p\n"
        );
    }

    #[test]
    fn what_was_to_be_seen_is_said_as_a_person_finds_it() {
        // What several have, and what a locator cannot write, is left out.
        let tree = fidelon_dom::parse::document(
            "<h2>Kiln</h2><button>Raise</button><button>Lower</button><button>Lower</button><label>Target <input value=600></label><p hidden>no</p><span>two cones</span><i>three \"cones\"</i>",
        );
        let seen = PhaseSnapshot { tree, ..PhaseSnapshot::default() };
        let mut combination = Combination::default();
        combination.props.insert("unit".into(), Value::json("F"));
        combination.props.insert("step".into(), Value::Absent);
        combination.fills.insert("default".into(), Some("<i>x</i>".into()));
        assert_eq!(
            clause("a hot kiln: 600", &combination, &seen).as_deref(),
            Some(
                "- clause: \"a hot kiln: 600\"   # kept\n  hold: { unit: F, step: absent, slots: { default: \"<i>x</i>\" } }\n  expect:\n    - present: \"heading \\\"Kiln\\\"\"\n    - present: \"button \\\"Raise\\\"\"\n    - present: \"text(\\\"Target\\\")\"\n    - value: \"textbox \\\"Target\\\"\"\n      is: \"600\"\n    - present: \"text(\\\"two cones\\\")\"\n"
            )
        );
    }
}

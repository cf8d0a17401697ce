//! What a person would do with a component of which nothing is known but what it shows: each control is used once, in the
//! way that fits its role.

use fidelon_dom::{Document, NodeId, accessible_name, form, role_of};

use crate::finding::Failure;
use crate::locator::Locator;
use crate::observation::PhaseSnapshot;
use crate::stage::Step;
use crate::trace::ElementTrace;

/// The roles that a person acts on (WAI-ARIA 1.2 §5.3.2, without those that only hold others).
const WIDGETS: [&str; 16] = [
    "button",
    "checkbox",
    "combobox",
    "link",
    "listbox",
    "menuitem",
    "menuitemcheckbox",
    "menuitemradio",
    "option",
    "radio",
    "searchbox",
    "slider",
    "spinbutton",
    "switch",
    "tab",
    "textbox",
];

/// Controls that are tried at most, in the order of the page.
const MOST: usize = 8;

/// The elements that a person can act on, in the order of the page.
pub(crate) fn controls(doc: &Document) -> Vec<NodeId> {
    let Some(body) = doc.body() else { return Vec::new() };
    doc.composed_descendants(body).filter(|n| is_control(doc, *n)).collect()
}

/// Whether a person can act on an element: it has the role of a control, or takes the focus.
pub(crate) fn is_control(doc: &Document, node: NodeId) -> bool {
    doc.element(node).is_some()
        && (role_of(doc, node).is_some_and(|r| WIDGETS.contains(&r)) || form::is_focusable(doc, node))
        && !form::is_hidden(doc, node)
}

/// The controls of a page, each with what a person does there.
pub(crate) fn acts(seen: &PhaseSnapshot) -> Vec<Vec<Step>> {
    let doc = &seen.tree;
    controls(doc).into_iter().filter(|n| !doc.is_html(*n, "option")).take(MOST).filter_map(|n| act(doc, n)).collect()
}

/// What a person does with a control; none where that needs more than a page, a list of files for one.
pub(crate) fn act(doc: &Document, node: NodeId) -> Option<Vec<Step>> {
    let at = Locator::at(doc, node);
    let element = doc.element(node)?;
    let key = |key: &str| Step::Key { key: key.into(), at: Some(at.clone()) };
    if form::is_editable(doc, node) {
        let kind = if element.is_html("input") { element.input_type() } else { String::new() };
        let text = match kind.as_str() {
            "number" => "7",
            "date" | "time" | "month" | "week" | "datetime-local" | "color" | "file" => return None,
            "email" => "a@b.example",
            "url" => "https://b.example/",
            "tel" => "70",
            _ => "bowl",
        };
        return Some(vec![Step::Type { text: text.into(), at: at.clone(), replace: false }, key("Enter")]);
    }
    if element.is_html("select") {
        let other = form::options(doc, node).into_iter().find(|o| !form::is_selected(doc, *o) && !form::is_disabled(doc, *o))?;
        return Some(vec![Step::Choose { option: form::option_text(doc, other), at }]);
    }
    Some(match role_of(doc, node) {
        Some("slider" | "spinbutton") => vec![key("ArrowRight"), key("ArrowUp")],
        Some("button" | "link" | "checkbox" | "radio" | "switch") | None => vec![Step::Press { at, times: 1 }],
        _ => vec![Step::Press { at: at.clone(), times: 1 }, key("ArrowDown")],
    })
}

/// Whether a control of one look of a page is there in another, by its words.
pub(crate) fn is_there(doc: &Document, control: NodeId, other: &Document) -> bool {
    let words = in_words(doc, control);
    controls(other).into_iter().any(|n| in_words(other, n) == words)
}

/// A control in words: `button "Raise"`, `textbox`.
pub(crate) fn in_words(doc: &Document, node: NodeId) -> String {
    let name = accessible_name(doc, node);
    // What has no role says most by its tag.
    let role = role_of(doc, node).filter(|role| *role != "generic").or(doc.local_name(node)).unwrap_or_default();
    if name.is_empty() { role.to_owned() } else { format!("{role} {name:?}") }
}

/// What breaks at a control: the rest of a failure.
pub(crate) fn broken_at(doc: &Document, node: NodeId) -> Failure {
    Failure { node: Some(in_words(doc, node)), element: ElementTrace::of(doc, node).map(Box::new), ..Failure::default() }
}

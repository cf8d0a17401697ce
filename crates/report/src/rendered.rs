//! One rendered component: markup, what a person finds, or JSON.

use fidelon_core::judge::{check, equivalence};
use fidelon_core::observation::{PhaseSnapshot, Tone};
use fidelon_core::stage::Combination;
use fidelon_core::surface::Surface;
use fidelon_dom::{Document, NodeData, NodeId, serialize};
use serde_json::json;

/// How it is printed.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Form {
    /// Indented HTML, one element a line.
    Html,
    /// Exactly the HTML that the document holds.
    Raw,
    /// Roles, names and values.
    Outline,
    /// All that was seen, as JSON.
    Json,
}

/// What was seen, in one of the forms. Content that a component put elsewhere in the page comes after its own.
pub fn print(surface: &Surface, combination: &Combination, seen: &PhaseSnapshot, form: Form) -> String {
    let doc = &seen.tree;
    let own = equivalence::container(doc);
    let elsewhere = elsewhere(doc, own);
    match form {
        Form::Html => {
            let mut out = own.map(|c| serialize::markup(doc, c)).unwrap_or_default();
            if !elsewhere.is_empty() {
                out.push_str("<!-- elsewhere in the page -->\n");
                out.extend(elsewhere.iter().map(|e| serialize::outer_html(doc, *e) + "\n"));
            }
            out
        }
        Form::Raw => html(doc, own) + &elsewhere.iter().map(|e| serialize::outer_html(doc, *e)).collect::<String>() + "\n",
        Form::Outline => doc.body().map(|b| serialize::outline(doc, b)).unwrap_or_default(),
        Form::Json => {
            let notes: Vec<_> = seen.notes.iter().map(|n| json!({ "tone": n.tone, "text": n.text, "place": n.place })).collect();
            let held = seen.held("").cloned().unwrap_or_default();
            let value = json!({
                "component": surface.name, "file": surface.file, "passed": combination, "html": html(doc, own),
                "events": seen.events.iter().map(check::in_words).collect::<Vec<_>>(), "bound": held.bound, "exposed": held.exposed, "notes": notes,
            });
            format!("{value:#}\n")
        }
    }
}

/// What stands in the body beside the component's own place, but for the empty texts and comments that mark a spot.
fn elsewhere(doc: &Document, own: Option<NodeId>) -> Vec<NodeId> {
    let shows = |n: &NodeId| doc.element(*n).is_some() || matches!(&doc.node(*n).data, NodeData::Text(t) if !t.trim().is_empty());
    doc.body().map(|b| doc.children(b).filter(|c| Some(*c) != own).filter(shows).collect()).unwrap_or_default()
}

fn html(doc: &Document, own: Option<NodeId>) -> String {
    own.map(|c| serialize::inner_html(doc, c)).unwrap_or_default()
}

/// What the component logged or threw, a line each.
pub fn notes(seen: &PhaseSnapshot) -> Vec<String> {
    let word = |tone| match tone {
        Tone::Warned => "warned",
        Tone::Failed => "threw",
        Tone::Said => "said",
    };
    seen.notes
        .iter()
        .map(|n| format!("{}{}: {}", n.place.as_ref().map(|p| format!("{p}: ")).unwrap_or_default(), word(n.tone), n.text))
        .collect()
}

//! `access/…`: what a person with other means than a mouse and eyes must find.

use std::rc::Rc;

use fidelon_dom::{Document, NodeId, accessible_name, form, role_of};

use super::acting::{broken_at, controls, in_words};
use super::{Checked, LawContext, LawOutcome, Runs, change, failed, mount};
use crate::finding::Failure;
use crate::observation::PhaseSnapshot;
use crate::plan::Domain;
use crate::stage::{Combination, Script, StageError, Step};
use crate::surface::{Prop, Type};
use crate::value::Value;

/// Where a control stands, whatever it holds: controls of several combinations that are one in the source.
fn site(doc: &Document, node: NodeId) -> String {
    let element = doc.element(node);
    let classes = element.map(|e| e.classes().collect::<Vec<_>>().join(".")).unwrap_or_default();
    format!("{} {} {}", role_of(doc, node).unwrap_or_default(), doc.local_name(node).unwrap_or_default(), classes)
}

/// A control: its site, and itself where it has no name.
type Found = (String, Option<NodeId>);

/// Every control has an accessible name. What it is called may come of a prop or a slot: so a control is at fault when no combination
/// gives it a name, nor a label that the parent passes on to it.
pub(super) fn named(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut seen: Vec<(&Combination, Rc<PhaseSnapshot>, Vec<Found>)> = Vec::new();
    for combination in context.combinations {
        let observation = runs.play(&mount(combination))?;
        let Some(page) = observation.phases.first().filter(|_| !failed(&observation)).cloned() else { continue };
        let doc = &page.tree;
        let of = controls(doc).into_iter().filter(|n| needs_name(doc, *n) && !is_given(&page, *n));
        let found = of.map(|n| (site(doc, n), accessible_name(doc, n).is_empty().then_some(n))).collect();
        seen.push((combination, page, found));
    }
    // What may carry the name is not passed where its type says too little: then nobody can tell.
    let untold = |p: &&Prop| matches!(p.ty, Type::Unresolved { .. }) && !context.given.contains(&p.name);
    let may_name = |p: &Prop| {
        let name = p.name.to_ascii_lowercase();
        name.contains("aria") || name.contains("label") || name.contains("attr")
    };
    if context.surface.props.iter().filter(untold).any(may_name) {
        return Ok(Vec::new());
    }
    let mut judged: Vec<(String, bool)> = Vec::new();
    let mut out = Vec::new();
    for (combination, page, sites) in &seen {
        let mut failure = None;
        for (site, nameless) in sites {
            let Some(nameless) = nameless else { continue };
            let fault = match judged.iter().find(|(s, _)| s == site) {
                Some((_, fault)) => *fault,
                None => {
                    let ever = seen.iter().flat_map(|(_, _, s)| s).any(|(s, nameless)| s == site && nameless.is_none());
                    let fault = !ever && !is_bare_field(combination, site, runs)? && !can_be_named(combination, context, site, runs)?;
                    judged.push((site.clone(), fault));
                    fault
                }
            };
            if fault && !context.except.contains(&in_words(&page.tree, *nameless)) {
                failure.get_or_insert_with(|| Failure {
                    message: "a control has no accessible name, in this and in every combination".into(),
                    expected: Some("a name: text in it, a label, `aria-label`".into()),
                    actual: Some("none".into()),
                    ..broken_at(&page.tree, *nameless)
                });
            }
        }
        out.push(Checked { combination: (*combination).clone(), failure, events: Vec::new(), about: None });
    }
    Ok(out)
}

/// What stands in a slot is the parent's to name.
fn is_given(seen: &PhaseSnapshot, node: NodeId) -> bool {
    let given = seen.held.values().flat_map(|h| h.given.values()).flatten();
    given.into_iter().any(|g| g.node == node || seen.tree.flat_ancestors(node).any(|a| a == g.node))
}

/// Options of a list and parts that hold others are named by what they hold or by what they stand in.
fn needs_name(doc: &Document, node: NodeId) -> bool {
    let hidden = std::iter::once(node).chain(doc.flat_ancestors(node)).any(|n| doc.attr(n, "aria-hidden") == Some("true"));
    let widget = role_of(doc, node).is_some_and(|r| {
        ["button", "checkbox", "combobox", "link", "menuitem", "radio", "searchbox", "slider", "spinbutton", "switch", "tab", "textbox"]
            .contains(&r)
    });
    // What takes no focus on purpose is a part of another control.
    let part = doc.attr(node, "tabindex").is_some_and(|t| t.trim().starts_with('-')) && role_of(doc, node) != Some("tab");
    widget && !hidden && !part
}

/// Whether a field stands in the component with no text around it: a parent names it by the `<label>` that it stands in (HTML §4.10.4).
fn is_bare_field(combination: &Combination, site_of: &str, runs: &mut dyn Runs) -> Result<bool, StageError> {
    let observation = runs.play(&mount(combination))?;
    let Some(page) = observation.mount() else { return Ok(false) };
    let doc = &page.tree;
    let first = doc.descendants(Document::ROOT).find(|n| doc.element(*n).is_some_and(form::is_labelable));
    let is_field = |n: NodeId| doc.local_name(n).is_some_and(|tag| ["input", "select", "textarea"].contains(&tag));
    let unseen =
        |n: NodeId| doc.ancestors(n).any(|a| doc.local_name(a).is_some_and(|t| ["option", "style", "script", "title"].contains(&t)));
    let is_text = |n: NodeId| doc.local_name(n).is_none() && !doc.text_content(n).trim().is_empty() && !unseen(n);
    Ok(first.is_some_and(|n| is_field(n) && site(doc, n) == site_of) && !doc.descendants(Document::ROOT).any(is_text))
}

/// Where a control stands among those of its kind: their role, tag and number, and which of them it is. Texts that a parent passes may be
/// classes, which change its site.
fn rank(doc: &Document, node: NodeId) -> (String, usize, usize) {
    let kind = |n: NodeId| format!("{} {}", role_of(doc, n).unwrap_or_default(), doc.local_name(n).unwrap_or_default());
    let own = kind(node);
    let alike: Vec<NodeId> = controls(doc).into_iter().filter(|n| kind(*n) == own).collect();
    let at = alike.iter().position(|n| *n == node).unwrap_or_default();
    (own, alike.len(), at)
}

/// The same combination with a text for each prop that takes one, or content in each slot, or both: what may name a control is there.
fn filled(combination: &Combination, context: &LawContext<'_>, texts: bool, contents: bool) -> Combination {
    let mut out = combination.clone();
    let is_text = |value: &Value| matches!(value, Value::Json(serde_json::Value::String(text)) if !text.is_empty());
    for domain in context.domains {
        let fuller = match domain {
            Domain::Prop(name, values) if texts && !combination.props.get(name).is_some_and(is_text) => values.iter().position(is_text),
            Domain::Slot(name, fills) if contents && combination.fills.get(name).is_none_or(Option::is_none) => {
                fills.iter().position(Option::is_some)
            }
            _ => None,
        };
        if let Some(index) = fuller {
            domain.put(index, &mut out);
        }
    }
    out
}

/// Whether a parent can name a control: by what it passes or fills in, by a label that the component hands on, or by `<label for>`.
fn can_be_named(combination: &Combination, context: &LawContext<'_>, site_of: &str, runs: &mut dyn Runs) -> Result<bool, StageError> {
    let passed = [("aria-label", "Kiln"), ("ariaLabel", "Kiln"), ("id", "kiln"), ("title", "Kiln")];
    let ways = passed.into_iter().map(|(prop, value)| change(combination, prop, Value::json(value)));
    let plain = runs.play(&mount(combination))?;
    let ranks: Vec<_> = plain.mount().map_or_else(Vec::new, |page| {
        let doc = &page.tree;
        controls(doc).into_iter().filter(|n| site(doc, *n) == site_of).map(|n| rank(doc, n)).collect()
    });
    let fuller = [(true, true), (true, false), (false, true)].map(|(texts, contents)| filled(combination, context, texts, contents));
    for way in fuller.into_iter().chain(ways) {
        let observation = runs.play(&mount(&way))?;
        let Some(page) = observation.mount() else { continue };
        let doc = &page.tree;
        let is_it = |n: &NodeId| site(doc, *n) == site_of || ranks.contains(&rank(doc, *n));
        let reached = controls(doc).into_iter().filter(is_it).any(|n| {
            !accessible_name(doc, n).is_empty() || (doc.element(n).is_some_and(form::is_labelable) && doc.attr(n, "id") == Some("kiln"))
        });
        if reached {
            return Ok(true);
        }
    }
    Ok(false)
}

/// References to ids that must be there while the element is (WAI-ARIA 1.2 §6.5, HTML §4.10.4). What is opened later, by
/// `aria-controls`, may come later.
const REFERENCES: [&str; 4] = ["for", "aria-labelledby", "aria-describedby", "aria-errormessage"];

/// No id occurs twice, also where the component stands twice on a page, and what ids refer to is there.
pub(super) fn unique_ids(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    for combination in context.some(12) {
        let observation = runs.play(&Script { phases: vec![vec![Step::Again]], ..mount(combination) })?;
        let [one, two] = observation.phases.as_slice() else { continue };
        if failed(&observation) {
            continue;
        }
        let dangled = match dangling(one, combination, context.except) {
            // What it refers to may be another part.
            Some(_) if context.is_part => None,
            Some((node, _)) if is_around_content(&site(&one.tree, node), combination, context, runs)? => None,
            dangled => dangled,
        };
        let failure = doubled(one, combination, context.except, "an id occurs twice", &|_, _| true)
            .or_else(|| dangled.map(|(_, failure)| failure))
            .or_else(|| {
                let shared = "where the component stands twice on a page, both have the same id, and what refers to it means the first";
                doubled(two, combination, context.except, shared, &is_referred)
            });
        out.push(Checked { combination: combination.clone(), failure, events: Vec::new(), about: None });
    }
    Ok(out)
}

/// Whether an element holds the content that a parent gives: the part that it refers to may be among it. A label beside a field of the
/// component's own names that field, whatever it holds.
fn is_around_content(site_of: &str, combination: &Combination, context: &LawContext<'_>, runs: &mut dyn Runs) -> Result<bool, StageError> {
    let mut filled = combination.clone();
    // What is handed values may take the place of the element itself.
    for slot in context.surface.slots.iter().filter(|slot| !slot.exposes) {
        filled.fills.insert(slot.name.clone(), Some("<span>Mug</span>".into()));
    }
    let observation = runs.play(&mount(&filled))?;
    let Some(page) = observation.mount() else { return Ok(false) };
    let doc = &page.tree;
    let is_field = |n: NodeId| doc.element(n).is_some_and(form::is_labelable) && !is_given(page, n);
    let has_field = doc.descendants(Document::ROOT).any(is_field);
    let is_it = |around: NodeId| site(doc, around) == site_of && !(doc.is_html(around, "label") && has_field);
    let given = page.held.values().flat_map(|h| h.given.values()).flatten();
    // Content may take the place of the element itself.
    Ok(given.into_iter().any(|g| std::iter::once(g.node).chain(doc.flat_ancestors(g.node)).any(is_it)))
}

/// An id that the parent passed, or that is made from what it passed, is the parent's to keep unique.
fn is_passed(id: &str, combination: &Combination) -> bool {
    fn holds(value: &serde_json::Value, id: &str) -> bool {
        match value {
            serde_json::Value::String(text) => !text.is_empty() && id.contains(text.as_str()),
            serde_json::Value::Array(items) => items.iter().any(|item| holds(item, id)),
            serde_json::Value::Object(fields) => fields.values().any(|field| holds(field, id)),
            _ => false,
        }
    }
    let fills = combination.fills.values().flatten();
    combination.props.values().any(|value| matches!(value, Value::Json(json) if holds(json, id)))
        || fills.into_iter().any(|html| html.contains(&format!("id=\"{id}\"")))
}

/// Attributes by which an element refers to another one (HTML, WAI-ARIA 1.2 §6.5).
const REFERRING: [&str; 10] = [
    "for",
    "aria-labelledby",
    "aria-describedby",
    "aria-errormessage",
    "aria-controls",
    "aria-owns",
    "aria-activedescendant",
    "list",
    "form",
    "headers",
];

/// Whether something on the page means an id: one that nothing refers to may stand on a page twice, and nobody is led astray.
fn is_referred(doc: &Document, id: &str) -> bool {
    let names = |node: NodeId| {
        let listed = |name: &&str| doc.attr(node, name).is_some_and(|ids| ids.split_ascii_whitespace().any(|i| i == id));
        REFERRING.iter().any(listed) || doc.attr(node, "href").and_then(|h| h.strip_prefix('#')) == Some(id)
    };
    doc.body().is_some_and(|body| doc.composed_descendants(body).any(names))
}

fn doubled(
    seen: &PhaseSnapshot,
    combination: &Combination,
    except: &[String],
    message: &str,
    counts: &dyn Fn(&Document, &str) -> bool,
) -> Option<Failure> {
    let doc = &seen.tree;
    let mut known: Vec<(NodeId, &str)> = Vec::new();
    // Ids are counted in each tree by itself.
    for node in doc.composed_descendants(doc.body()?) {
        let Some(id) = doc.attr(node, "id").filter(|id| !id.is_empty() && !is_given(seen, node)) else { continue };
        let root = doc.root_of(node);
        if known.contains(&(root, id)) && !is_passed(id, combination) && !except.iter().any(|e| e == id) && counts(doc, id) {
            return Some(Failure {
                message: message.into(),
                expected: Some("once".into()),
                actual: Some(format!("id=\"{id}\" twice")),
                ..broken_at(doc, node)
            });
        }
        known.push((root, id));
    }
    None
}

fn dangling(seen: &PhaseSnapshot, combination: &Combination, except: &[String]) -> Option<(NodeId, Failure)> {
    let doc = &seen.tree;
    let shown = doc.composed_descendants(doc.body()?).filter(|n| doc.element(*n).is_some() && !form::is_hidden(doc, *n));
    shown.into_iter().find_map(|node| {
        REFERENCES.iter().find_map(|attribute| {
            let written = doc.attr(node, attribute)?;
            let root = doc.root_of(node);
            // HTML §4.10.4: `for` of a label is one id, whatever is in it; of an output it is a list (§4.10.12), as the others are; of
            // anything else it refers to nothing.
            let ids: Vec<&str> = match *attribute {
                "for" if doc.is_html(node, "label") => vec![written],
                "for" if !doc.is_html(node, "output") => return None,
                _ => written.split_ascii_whitespace().collect(),
            };
            let missing = ids.iter().find(|id| {
                !id.is_empty() && doc.by_id(root, id).is_none() && !is_passed(id, combination) && !except.iter().any(|e| e == *id)
            })?;
            // Several names of which one is there still name it.
            let some = ids.iter().any(|id| doc.by_id(root, id).is_some());
            let failure = || Failure {
                message: format!("`{attribute}` refers to an id that is not on the page"),
                expected: Some(format!("an element with id=\"{missing}\"")),
                actual: Some("none".into()),
                ..broken_at(doc, node)
            };
            (!some).then(|| (node, failure()))
        })
    })
}

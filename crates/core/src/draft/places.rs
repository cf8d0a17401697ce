//! Locators that mean one node in every combination where it is there.

use fidelon_dom::{Document, NodeId, accessible_name, role_of};

use super::Mounts;
use crate::locator::Locator;

/// A locator and what it finds in each combination.
#[derive(Debug, Clone)]
pub(super) struct At {
    pub(super) written: String,
    pub(super) nodes: Vec<Option<NodeId>>,
}

/// More places are no help to a reader.
const MOST: usize = 40;
/// Roles that name a part of a page, and by which people find it.
const NAMING: [&str; 14] = [
    "alert",
    "article",
    "banner",
    "contentinfo",
    "figure",
    "form",
    "heading",
    "img",
    "list",
    "meter",
    "navigation",
    "progressbar",
    "region",
    "status",
];

pub(super) fn places(mounts: &Mounts<'_>) -> Vec<At> {
    let mut written: Vec<String> = Vec::new();
    for seen in (0..mounts.combinations.len()).filter_map(|i| mounts.seen(i)) {
        let doc = &seen.tree;
        let given: Vec<NodeId> = seen.held.values().flat_map(|h| h.given.values().flatten().map(|g| g.node)).collect();
        let Some(body) = doc.body() else { continue };
        for node in doc.composed_descendants(body).filter(|n| doc.element(*n).is_some()) {
            // What the parent wrote is no part of the component.
            let is_given = given.contains(&node) || doc.composed_ancestors(node).any(|a| given.contains(&a));
            if !is_given {
                written.extend(names(doc, node).into_iter().filter(|w| !written.contains(w)).collect::<Vec<_>>());
            }
        }
    }
    let mut out: Vec<At> = Vec::new();
    for written in written {
        let Some(at) = found(&written, mounts) else { continue };
        // Another name of what is known, or of it in one of its states.
        let within = |a: &At, b: &At| a.nodes.iter().zip(&b.nodes).all(|(a, b)| a.is_none() || a == b);
        if out.iter().any(|other| within(&at, other)) {
            continue;
        }
        // One that means the same in more states takes its place.
        if let Some(narrow) = out.iter().position(|other| within(other, &at)) {
            out[narrow] = at;
        } else if out.len() < MOST {
            out.push(at);
        }
    }
    out
}

/// What a locator finds; none where it ever finds several, or nothing at all.
pub(super) fn found(written: &str, mounts: &Mounts<'_>) -> Option<At> {
    let locator = Locator::parse(written).ok()?;
    let mut nodes = Vec::new();
    for index in 0..mounts.combinations.len() {
        let Some(seen) = mounts.seen(index) else {
            nodes.push(None);
            continue;
        };
        let found = locator.find(&seen.tree, Document::ROOT, &[]);
        if found.len() > 1 {
            return None;
        }
        nodes.push(found.first().copied());
    }
    nodes.iter().any(Option::is_some).then(|| At { written: written.to_owned(), nodes })
}

/// How a person would point at an element, the best way first.
fn names(doc: &Document, node: NodeId) -> Vec<String> {
    let mut out = Vec::new();
    let Some(element) = doc.element(node) else { return out };
    out.extend(element.classes().filter(|c| is_meant(c)).map(|c| format!(".{c}")));
    match role_of(doc, node) {
        Some(role) if super::acted::is_control(doc, node) => {
            let name = accessible_name(doc, node);
            if !name.is_empty() && name.len() < 40 {
                out.insert(0, format!("{role} {name:?}"));
            }
            out.push(format!("role({role})"));
        }
        Some(role) if NAMING.contains(&role) => out.push(format!("role({role})")),
        _ => {}
    }
    let tag = element.local.to_string();
    if tag.len() > 1 && !["div", "span", "html", "body", "style", "script", "svg", "path"].contains(&tag.as_str()) || tag == "p" {
        out.push(tag);
    }
    out
}

/// A class that a person wrote, not a tool: no digits, no marks of scoping.
fn is_meant(class: &str) -> bool {
    let plain = class.chars().all(|c| c.is_alphabetic() || c == '-' || c == '_') && class.starts_with(char::is_alphabetic);
    plain && !class.starts_with("css-") && !class.starts_with("svelte-") && !class.starts_with("ng-")
}

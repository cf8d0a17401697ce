//! From what the page says to observations.

use std::collections::{HashMap, HashSet};

use fidelon_core::locator::Locator;
use fidelon_core::observation::{Note, PhaseSnapshot, SessionSnapshot, StepFault, Tone};
use fidelon_dom::{Attr, Document, Element, FormState, Namespace, NodeData, NodeId, Overlay, Shadow, ShadowMode};
use fidelon_source::Place;
use serde::Deserialize;
use serde_json::Value as Json;

/// A page: its nodes as `page.js` writes them.
#[derive(Debug, Deserialize)]
pub(crate) struct Page {
    nodes: Vec<Json>,
    focused: Option<u32>,
    #[serde(default)]
    pointed: bool,
    /// Slots, and what scripts assigned to them.
    #[serde(default)]
    assigned: Vec<(u32, Vec<u32>)>,
    /// Whether it has stylesheets, and what style does not display then.
    #[serde(default)]
    styled: bool,
    #[serde(default)]
    undisplayed: Vec<u32>,
    /// What stands in the top layer.
    #[serde(default)]
    overlays: Vec<(u32, Overlay)>,
}

/// What was there after a phase.
#[derive(Debug, Deserialize)]
pub(crate) struct Looked {
    told: SessionSnapshot,
    page: Page,
    pub(crate) notes: Vec<Entry>,
    faults: Vec<StepFault>,
    settled: bool,
}

/// A log entry.
#[derive(Debug, Clone, Deserialize)]
pub(crate) struct Entry {
    level: String,
    text: String,
    /// Frames as the browser writes them.
    pub(crate) stack: String,
}

/// A locator that a step asks for.
#[derive(Debug, Deserialize)]
pub(crate) struct Asked {
    page: Page,
    locator: Locator,
    within: Option<u32>,
    started: Vec<u32>,
}

impl Page {
    /// The document, and the number of each of its nodes on the page.
    fn document(&self) -> Option<(Document, Vec<NodeId>)> {
        let mut doc = Document::new();
        let mut numbers = vec![Document::ROOT];
        for node in &self.nodes {
            add(&mut doc, &mut numbers, node)?;
        }
        if self.styled {
            let undisplayed: HashSet<u32> = self.undisplayed.iter().copied().collect();
            for (at, number) in numbers.iter().enumerate() {
                if let Some(element) = doc.element_mut(at_index(at)) {
                    element.displayed = Some(!undisplayed.contains(&number.0));
                }
            }
        }
        let places: HashMap<u32, NodeId> = numbers.iter().enumerate().skip(1).map(|(at, n)| (n.0, at_index(at))).collect();
        for (number, overlay) in &self.overlays {
            if let Some(at) = places.get(number) {
                doc.set_overlay(*at, Some(*overlay));
            }
        }
        for (slot, held) in &self.assigned {
            if let Some(element) = places.get(slot).and_then(|s| doc.element_mut(*s)) {
                element.assigned = held.iter().filter_map(|n| places.get(n).copied()).collect();
            }
        }
        doc.focused = self.focused.and_then(|f| places.get(&f).copied());
        doc.pointed = self.pointed;
        Some((doc, numbers))
    }
}

fn at_index(at: usize) -> NodeId {
    NodeId(u32::try_from(at).unwrap_or(u32::MAX))
}

/// Adds a node of the list. Those before it are there, in the order of the list, behind the document.
fn add(doc: &mut Document, numbers: &mut Vec<NodeId>, node: &Json) -> Option<()> {
    let number = NodeId(u32::try_from(node.get(0)?.as_u64()?).ok()?);
    let parent = usize::try_from(node.get(1)?.as_i64()? + 1).ok().filter(|at| *at < numbers.len())?;
    let parent = at_index(parent);
    let text = |at: usize| node.get(at).and_then(Json::as_str);
    match node.get(2)?.as_u64()? {
        11 => {
            let mode = if text(3)? == "open" { ShadowMode::Open } else { ShadowMode::Closed };
            let (delegates_focus, manual) = (node.get(4)?.as_bool()?, node.get(5)?.as_bool()?);
            doc.attach_shadow(Shadow { delegates_focus, manual, ..Shadow::new(parent, mode) })?;
        }
        10 => {
            let doctype = doc.push(NodeData::Doctype(text(3)?.to_owned()));
            doc.append(parent, doctype);
        }
        3 => {
            let text = doc.push(NodeData::Text(text(3)?.to_owned().into()));
            doc.append(parent, text);
        }
        _ => {
            let element = element(node)?;
            // Not `push_element`: the contents of templates are no part of what is seen.
            let id = doc.push(NodeData::Element(Box::new(element)));
            doc.append(parent, id);
        }
    }
    numbers.push(number);
    Some(())
}

fn element(node: &Json) -> Option<Element> {
    let name = node.get(3)?.as_str()?;
    let namespace = node.get(4)?;
    let namespace = match (namespace.as_u64(), namespace.as_str()) {
        (Some(0), _) => Namespace::Html,
        (Some(1), _) => Namespace::Svg,
        (Some(2), _) => Namespace::MathMl,
        (_, uri) => Namespace::Other(uri.unwrap_or_default().into()),
    };
    let mut element = Element::new(namespace, name);
    element.prefix = node.get(5)?.as_str().map(Into::into);
    for attribute in node.get(6)?.as_array()? {
        let text = |i: usize| attribute.get(i).and_then(Json::as_str);
        element.attrs.push(Attr { namespace: text(2).map(Into::into), name: text(0)?.into(), value: text(1)?.to_owned() });
    }
    // Whether it became custom does not show; what is on a page has.
    element.custom = fidelon_dom::shadow::is_custom_name(name);
    if let Some(held) = node.get(7).filter(|held| !held.is_null()) {
        element.form = form_state(held);
    }
    Some(element)
}

fn form_state(held: &Json) -> FormState {
    let flag = |name: &str| held.get(name).and_then(Json::as_bool);
    let text = |name: &str| held.get(name).and_then(Json::as_str).map(str::to_owned);
    let units = |i: usize| held.get("selection")?.get(i)?.as_u64().and_then(|n| u32::try_from(n).ok());
    FormState {
        value: text("value"),
        checked: flag("checked"),
        selected: flag("selected"),
        indeterminate: flag("indeterminate").unwrap_or(false),
        selection: units(0).zip(units(1)),
        associated: flag("associated").unwrap_or(false),
        custom_validity: text("custom_validity").unwrap_or_default(),
    }
}

/// Answers a step's question for the one node of a locator: `node 7`, or what is wrong with it here.
pub(crate) fn find(asked: &Asked) -> String {
    let Some((doc, numbers)) = asked.page.document() else { return "the page cannot be read".into() };
    let places: HashMap<u32, NodeId> = numbers.iter().enumerate().skip(1).map(|(at, n)| (n.0, at_index(at))).collect();
    let within = asked.within.and_then(|n| places.get(&n).copied()).unwrap_or(Document::ROOT);
    let started: Vec<NodeId> = asked.started.iter().filter_map(|n| places.get(n).copied()).collect();
    match asked.locator.find_one(&doc, within, &started) {
        Ok(id) => format!("node {}", numbers[id.0 as usize].0),
        Err(message) => message,
    }
}

/// What was seen; `places` are those of the notes.
pub(crate) fn seen(looked: Looked, places: Vec<Option<Place>>) -> Option<PhaseSnapshot> {
    let (tree, numbers) = looked.page.document()?;
    let notes = looked.notes.into_iter().zip(places).map(|(entry, place)| Note { tone: entry.tone(), text: entry.text, place }).collect();
    Some(PhaseSnapshot { notes, faults: looked.faults, settled: looked.settled, ..looked.told.seen(tree, numbers) })
}

impl Entry {
    fn tone(&self) -> Tone {
        match self.level.as_str() {
            "log" => Tone::Said,
            "warn" | "error" => Tone::Warned,
            _ => Tone::Failed,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn page() -> Page {
        let nodes = serde_json::json!([
            [1, -1, 10, "html"],
            [2, -1, 1, "html", 0, null, [["lang", "en"]], null],
            [3, 1, 1, "head", 0, null, [], null],
            [4, 1, 1, "body", 0, null, [], null],
            [7, 3, 1, "input", 0, null, [["type", "checkbox"], ["id", "lit"]], { "checked": true, "indeterminate": false }],
            [9, 3, 3, "Lit"],
            [8, 3, 1, "svg", 1, null, [["xlink:href", "#a", "http://www.w3.org/1999/xlink"]], null],
            [10, 3, 1, "kiln-lamp", 0, null, [], null],
            [11, 7, 11, "closed", false, false],
            [12, 8, 3, "hot"],
        ]);
        serde_json::from_value(serde_json::json!({ "nodes": nodes, "focused": 7 })).expect("a page")
    }

    #[test]
    fn a_page_becomes_a_document() {
        let (doc, numbers) = page().document().expect("reads");
        let body = doc.body().expect("a body");
        let input = doc.children(body).next().expect("an input");
        assert_eq!(numbers[input.0 as usize], NodeId(7));
        assert_eq!(doc.focused, Some(input));
        assert!(doc.element(input).is_some_and(fidelon_dom::form::is_checked));
        let svg = doc.children(body).nth(2).expect("a picture");
        assert_eq!(doc.element(svg).map(|e| e.attrs[0].local_name().to_owned()).as_deref(), Some("href"));
        let lamp = doc.children(body).last().expect("an element with a shadow tree");
        let root = doc.shadow_of(lamp).expect("closed, and seen");
        assert_eq!((doc.text_content(root).as_str(), numbers[root.0 as usize]), ("hot", NodeId(11)));
    }

    #[test]
    fn depth_of_nesting_is_no_depth_of_calls() {
        let nodes: Vec<Json> = (0..100_000).map(|i| serde_json::json!([i + 1, i - 1, 1, "i", 0, null, [], null])).collect();
        let page: Page = serde_json::from_value(serde_json::json!({ "nodes": nodes, "focused": null })).expect("a page");
        let (doc, numbers) = page.document().expect("reads");
        assert_eq!((doc.len(), numbers.len()), (100_001, 100_001));
        // A parent that comes later is none.
        let wrong: Page = serde_json::from_value(serde_json::json!({ "nodes": [[1, 5, 3, "x"]], "focused": null })).expect("a page");
        assert!(wrong.document().is_none());
    }

    #[test]
    fn locators_are_answered_in_the_numbers_of_the_page() {
        let asked =
            |locator: &str| Asked { page: page(), locator: Locator::parse(locator).expect("a locator"), within: None, started: Vec::new() };
        assert_eq!(find(&asked("role(checkbox)")), "node 7");
        assert!(find(&asked("role(button)")).contains("finds nothing"), "{}", find(&asked("role(button)")));
    }
}

//! Nodes in one arena, linked as a tree (DOM §4.2).

use std::sync::Arc;

use serde::{Deserialize, Serialize};
use serde_tuple::{Deserialize_tuple, Serialize_tuple};

use crate::cascade::Styles;
use crate::element::{Attr, Element, Namespace, Overlay};
use crate::revision::Revisions;
use crate::shadow::Shadow;

/// The number of a node in its document. Numbers are never used twice, so a stale one finds a detached node.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
pub struct NodeId(pub u32);

/// What a node is.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub enum NodeData {
    /// The document itself.
    Document,
    /// `<!DOCTYPE name>`.
    Doctype(String),
    /// A document fragment, also the contents of a template.
    Fragment,
    /// A shadow root: a fragment that belongs to an element.
    Shadow(Box<Shadow>),
    /// An element.
    Element(Box<Element>),
    /// Text: copies of a document share it, as some stylesheets are long.
    Text(Arc<String>),
    /// A comment.
    Comment(String),
    /// A processing instruction, which only XML has: its target and its data.
    Instruction(Box<str>, String),
}

/// A node and its links.
#[derive(Debug, Clone, PartialEq, Eq, Serialize_tuple, Deserialize_tuple)]
pub struct Node {
    /// The parent, if it stands in a tree.
    pub parent: Option<NodeId>,
    /// The sibling before.
    pub prev: Option<NodeId>,
    /// The sibling after.
    pub next: Option<NodeId>,
    /// The first child.
    pub first: Option<NodeId>,
    /// The last child.
    pub last: Option<NodeId>,
    /// What it is.
    pub data: NodeData,
}

/// Why a node could not be inserted (DOM §4.2.3, "ensure pre-insert validity").
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum InsertError {
    /// `HierarchyRequestError`: the parent takes no such child, or the node holds the parent.
    Hierarchy,
    /// `NotFoundError`: the reference node is no child of the parent.
    NotFound,
}

/// A document: an arena of nodes of which node 0 is the document node.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Document {
    nodes: Vec<Node>,
    /// The shadow roots, in the order in which they were made.
    #[serde(default)]
    pub(crate) shadows: Vec<NodeId>,
    /// What stands in the top layer, in the order in which it came there.
    #[serde(default)]
    pub(crate) overlays: Vec<NodeId>,
    /// Its stylesheets.
    #[serde(skip)]
    pub(crate) styles: Styles,
    /// How often it was changed.
    #[serde(skip)]
    pub(crate) revisions: Revisions,
    /// The element that has the focus.
    pub focused: Option<NodeId>,
    /// True when the last input came from a pointer: the focus is indicated on text fields alone then.
    #[serde(default)]
    pub pointed: bool,
}

impl Default for Document {
    fn default() -> Self {
        Self::new()
    }
}

impl Document {
    /// The document node's number.
    pub const ROOT: NodeId = NodeId(0);

    /// An empty document: the document node alone.
    pub fn new() -> Self {
        let mut doc = Self {
            nodes: Vec::new(),
            shadows: Vec::new(),
            overlays: Vec::new(),
            styles: Styles::default(),
            revisions: Revisions::default(),
            focused: None,
            pointed: false,
        };
        doc.push(NodeData::Document);
        doc
    }

    /// A document with `<html><head></head><body></body></html>`.
    pub fn blank() -> Self {
        let mut doc = Self::new();
        let doctype = doc.push(NodeData::Doctype("html".into()));
        let html = doc.create_element("html");
        let head = doc.create_element("head");
        let body = doc.create_element("body");
        doc.append(Self::ROOT, doctype);
        doc.append(Self::ROOT, html);
        doc.append(html, head);
        doc.append(html, body);
        doc
    }

    /// How many nodes were ever made.
    pub fn len(&self) -> usize {
        self.nodes.len()
    }

    /// False: the document node is always there.
    pub fn is_empty(&self) -> bool {
        self.nodes.is_empty()
    }

    /// Adds a detached node.
    pub fn push(&mut self, data: NodeData) -> NodeId {
        let id = NodeId(u32::try_from(self.nodes.len()).expect("the engine's memory limit ends long before 2^32 nodes"));
        self.nodes.push(Node { parent: None, prev: None, next: None, first: None, last: None, data });
        self.revisions.add_node();
        id
    }

    /// A detached HTML element. A `<template>` gets its contents fragment.
    pub fn create_element(&mut self, local: &str) -> NodeId {
        self.push_element(Element::new(Namespace::Html, local))
    }

    /// A detached element. A `<template>` gets its contents fragment.
    pub fn push_element(&mut self, mut element: Element) -> NodeId {
        if element.is_html("template") && element.template.is_none() {
            element.template = Some(self.push(NodeData::Fragment));
        }
        self.push(NodeData::Element(Box::new(element)))
    }

    /// The node with this number; the number must come from this document.
    pub fn node(&self, id: NodeId) -> &Node {
        &self.nodes[id.0 as usize]
    }

    /// True when this document made a node with this number.
    pub fn contains_id(&self, id: NodeId) -> bool {
        (id.0 as usize) < self.nodes.len()
    }

    /// The node, to be linked with others.
    fn links_mut(&mut self, id: NodeId) -> &mut Node {
        self.revisions.shape += 1;
        self.node_mut(id)
    }

    fn node_mut(&mut self, id: NodeId) -> &mut Node {
        self.revisions.changes += 1;
        &mut self.nodes[id.0 as usize]
    }

    /// What the node is, to be changed in place.
    pub fn data_mut(&mut self, id: NodeId) -> &mut NodeData {
        &mut self.node_mut(id).data
    }

    /// The element, if the node is one.
    pub fn element(&self, id: NodeId) -> Option<&Element> {
        match &self.node(id).data {
            NodeData::Element(element) => Some(element),
            _ => None,
        }
    }

    /// The element to be changed, if the node is one.
    pub fn element_mut(&mut self, id: NodeId) -> Option<&mut Element> {
        match &mut self.node_mut(id).data {
            NodeData::Element(element) => Some(element),
            _ => None,
        }
    }

    /// An attribute's value, if the node is an element that has it.
    pub fn attr(&self, id: NodeId, name: &str) -> Option<&str> {
        self.element(id)?.attr(name)
    }

    /// The local name, if the node is an element.
    pub fn local_name(&self, id: NodeId) -> Option<&str> {
        self.element(id).map(|e| &*e.local)
    }

    /// True for an HTML element with this local name.
    pub fn is_html(&self, id: NodeId, local: &str) -> bool {
        self.element(id).is_some_and(|e| e.is_html(local))
    }

    /// The children, in order.
    pub fn children(&self, id: NodeId) -> impl Iterator<Item = NodeId> + '_ {
        std::iter::successors(self.node(id).first, |n| self.node(*n).next)
    }

    /// The first child that is an element.
    pub fn first_element(&self, id: NodeId) -> Option<NodeId> {
        self.children(id).find(|c| self.element(*c).is_some())
    }

    /// The last child that is an element.
    pub fn last_element(&self, id: NodeId) -> Option<NodeId> {
        std::iter::successors(self.node(id).last, |n| self.node(*n).prev).find(|c| self.element(*c).is_some())
    }

    /// The parent and its parents, nearest first.
    pub fn ancestors(&self, id: NodeId) -> impl Iterator<Item = NodeId> + '_ {
        std::iter::successors(self.node(id).parent, |n| self.node(*n).parent)
    }

    /// The node and all below it, in tree order. Template contents are no part of the tree.
    pub fn inclusive_descendants(&self, root: NodeId) -> impl Iterator<Item = NodeId> + '_ {
        std::iter::successors(Some(root), move |n| self.following(*n, root))
    }

    /// All below the node, in tree order.
    pub fn descendants(&self, root: NodeId) -> impl Iterator<Item = NodeId> + '_ {
        self.inclusive_descendants(root).skip(1)
    }

    fn following(&self, id: NodeId, root: NodeId) -> Option<NodeId> {
        let node = self.node(id);
        if node.first.is_some() {
            return node.first;
        }
        let mut at = id;
        while at != root {
            if let Some(next) = self.node(at).next {
                return Some(next);
            }
            at = self.node(at).parent?;
        }
        None
    }

    /// True when `id` is `ancestor` or stands below it.
    pub fn is_inclusive_ancestor(&self, ancestor: NodeId, id: NodeId) -> bool {
        ancestor == id || self.ancestors(id).any(|a| a == ancestor)
    }

    /// The root of the tree that the node stands in.
    pub fn root_of(&self, id: NodeId) -> NodeId {
        self.ancestors(id).last().unwrap_or(id)
    }

    /// True when the node stands in the document, or in a shadow tree of an element there.
    pub fn is_connected(&self, id: NodeId) -> bool {
        self.composed_root_of(id) == Self::ROOT
    }

    /// `<html>`.
    pub fn document_element(&self) -> Option<NodeId> {
        self.first_element(Self::ROOT)
    }

    /// `<head>`.
    pub fn head(&self) -> Option<NodeId> {
        let html = self.document_element()?;
        self.children(html).find(|c| self.is_html(*c, "head"))
    }

    /// `<body>`.
    pub fn body(&self) -> Option<NodeId> {
        let html = self.document_element()?;
        self.children(html).find(|c| self.is_html(*c, "body"))
    }

    /// The first element with this id in tree order below `root`.
    pub fn by_id(&self, root: NodeId, id: &str) -> Option<NodeId> {
        self.descendants(root).find(|n| self.attr(*n, "id") == Some(id))
    }

    /// Takes a node out of its tree. Its subtree stays with it.
    pub fn detach(&mut self, id: NodeId) {
        let Node { parent, prev, next, .. } = *self.node(id);
        let Some(parent) = parent else { return };
        self.revisions.relink(parent);
        match prev {
            Some(prev) => self.links_mut(prev).next = next,
            None => self.links_mut(parent).first = next,
        }
        match next {
            Some(next) => self.links_mut(next).prev = prev,
            None => self.links_mut(parent).last = prev,
        }
        self.forget_sheet(parent);
        if !self.overlays.is_empty() {
            // What leaves the document leaves the top layer.
            let gone: Vec<NodeId> = self.overlays.iter().copied().filter(|o| self.is_composed_ancestor(id, *o)).collect();
            gone.into_iter().for_each(|o| self.set_overlay(o, None));
        }
        let node = self.links_mut(id);
        (node.parent, node.prev, node.next) = (None, None, None);
        if let Some(focused) = self.focused
            && self.is_composed_ancestor(id, focused)
        {
            // HTML §6.6.4 "focus fixup": a focused element that leaves the document loses the focus without events.
            self.focused = None;
        }
    }

    /// What stands in the top layer, in the order in which it came there.
    pub fn overlays(&self) -> &[NodeId] {
        &self.overlays
    }

    /// Puts an element into the top layer, or takes it out.
    pub fn set_overlay(&mut self, id: NodeId, overlay: Option<Overlay>) {
        self.overlays.retain(|o| *o != id);
        if overlay.is_some() {
            self.overlays.push(id);
        }
        if let Some(element) = self.element_mut(id) {
            element.overlay = overlay;
        }
    }

    /// Appends a node that needs no validity check: made by the parser or by [`Document::blank`].
    pub fn append(&mut self, parent: NodeId, child: NodeId) {
        self.link(parent, child, None);
    }

    fn link(&mut self, parent: NodeId, child: NodeId, before: Option<NodeId>) {
        self.detach(child);
        self.revisions.relink(parent);
        self.forget_sheet(parent);
        self.forget_sheets_in(child);
        let prev = match before {
            Some(before) => self.node(before).prev,
            None => self.node(parent).last,
        };
        {
            let node = self.links_mut(child);
            (node.parent, node.prev, node.next) = (Some(parent), prev, before);
        }
        match prev {
            Some(prev) => self.links_mut(prev).next = Some(child),
            None => self.links_mut(parent).first = Some(child),
        }
        match before {
            Some(before) => self.links_mut(before).prev = Some(child),
            None => self.links_mut(parent).last = Some(child),
        }
    }

    /// Inserts `child` into `parent` before `before`, or last (DOM §4.2.3 "pre-insert"). A fragment gives its children
    /// and stays empty.
    ///
    /// # Errors
    /// [`InsertError`] where the standard throws; nothing has changed then.
    pub fn insert(&mut self, parent: NodeId, child: NodeId, before: Option<NodeId>) -> Result<(), InsertError> {
        let takes_children =
            matches!(self.node(parent).data, NodeData::Document | NodeData::Fragment | NodeData::Shadow(_) | NodeData::Element(_));
        let fits = !matches!(self.node(child).data, NodeData::Document);
        if !takes_children || !fits || self.is_composed_ancestor(child, parent) {
            return Err(InsertError::Hierarchy);
        }
        if matches!(self.node(parent).data, NodeData::Document) {
            let has_element = self.children(parent).any(|c| c != child && self.element(c).is_some());
            let bad = match &self.node(child).data {
                NodeData::Text(_) => true,
                NodeData::Element(_) => has_element,
                _ => false,
            };
            if bad {
                return Err(InsertError::Hierarchy);
            }
        }
        let mut before = before;
        if let Some(reference) = before {
            if self.node(reference).parent != Some(parent) {
                return Err(InsertError::NotFound);
            }
            if reference == child {
                before = self.node(child).next;
            }
        }
        if matches!(self.node(child).data, NodeData::Fragment | NodeData::Shadow(_)) {
            let children: Vec<_> = self.children(child).collect();
            for c in children {
                self.link(parent, c, before);
            }
        } else {
            self.link(parent, child, before);
        }
        Ok(())
    }

    /// Empties the nodes from `first` on that cannot be reached from the document or from those that are held: what stands in one tree
    /// with them, the contents of their templates, their shadow trees and hosts can. Numbers are not given out again.
    pub fn forget_unreachable(&mut self, first: NodeId, held: impl IntoIterator<Item = NodeId>) {
        let mut reached = vec![false; self.nodes.len()];
        let mut roots: Vec<NodeId> = held.into_iter().chain((0..first.0).map(NodeId)).map(|id| self.root_of(id)).collect();
        while let Some(root) = roots.pop() {
            if std::mem::replace(&mut reached[root.0 as usize], true) {
                continue;
            }
            roots.extend(self.host_of(root).map(|host| self.root_of(host)));
            for id in self.inclusive_descendants(root) {
                reached[id.0 as usize] = true;
                roots.extend(self.element(id).into_iter().flat_map(|e| [e.template, e.shadow]).flatten());
            }
        }
        self.shadows.retain(|s| reached[s.0 as usize]);
        for (node, _) in self.nodes.iter_mut().zip(&reached).skip(first.0 as usize).filter(|(_, reached)| !**reached) {
            *node = Node { parent: None, prev: None, next: None, first: None, last: None, data: NodeData::Text(Arc::default()) };
        }
    }

    /// The text of all text nodes below (or of the node itself), as `textContent` gives it. Empty for the document.
    pub fn text_content(&self, id: NodeId) -> String {
        match &self.node(id).data {
            NodeData::Text(text) => text.to_string(),
            NodeData::Comment(text) | NodeData::Instruction(_, text) => text.clone(),
            NodeData::Document | NodeData::Doctype(_) => String::new(),
            NodeData::Fragment | NodeData::Shadow(_) | NodeData::Element(_) => {
                let mut out = String::new();
                for n in self.descendants(id) {
                    if let NodeData::Text(text) = &self.node(n).data {
                        out.push_str(text);
                    }
                }
                out
            }
        }
    }

    /// Sets `textContent`: an element's or fragment's children are replaced by one text node, or none.
    pub fn set_text_content(&mut self, id: NodeId, text: &str) {
        match &mut self.node_mut(id).data {
            NodeData::Text(old) => *old = Arc::new(text.to_owned()),
            NodeData::Comment(old) | NodeData::Instruction(_, old) => text.clone_into(old),
            NodeData::Document | NodeData::Doctype(_) => {}
            NodeData::Fragment | NodeData::Shadow(_) | NodeData::Element(_) => {
                while let Some(child) = self.node(id).first {
                    self.detach(child);
                }
                if !text.is_empty() {
                    let node = self.push(NodeData::Text(Arc::new(text.to_owned())));
                    self.append(id, node);
                }
            }
        }
    }

    /// A copy (DOM §4.4 "clone a node"); with `deep` of all below too, template contents included.
    pub fn clone_node(&mut self, id: NodeId, deep: bool) -> NodeId {
        let mut data = self.node(id).data.clone();
        let mut shadow = None;
        if let NodeData::Element(element) = &mut data {
            let contents = element.template.take();
            shadow = element.shadow.take();
            element.assigned.clear();
            (element.custom, element.overlay) = (false, None);
            // HTML: cloning steps of input copy value and checkedness; of textarea the raw value. An option's are not.
            if !(element.is_html("input") || element.is_html("textarea")) {
                element.form = crate::FormState::default();
                element.internal = crate::Internal::default();
            }
            element.internal.states.clear();
            element.internal.faults = 0;
            if let Some(contents) = contents {
                let copy = if deep { self.clone_node(contents, true) } else { self.push(NodeData::Fragment) };
                element.template = Some(copy);
            }
        }
        let copy = self.push(data);
        if deep {
            let children: Vec<_> = self.children(id).collect();
            for child in children {
                let child = self.clone_node(child, true);
                self.append(copy, child);
            }
        }
        if let Some(root) = shadow {
            self.clone_shadow(root, copy);
        }
        copy
    }

    /// A shadow tree that may be cloned goes with its host, whole.
    fn clone_shadow(&mut self, root: NodeId, host: NodeId) {
        let Some(shadow) = self.as_shadow(root).filter(|s| s.clonable).cloned() else { return };
        let Some(copy) = self.attach_shadow(Shadow { host, ..shadow }) else { return };
        let children: Vec<_> = self.children(root).collect();
        for child in children {
            let child = self.clone_node(child, true);
            self.append(copy, child);
        }
    }

    /// DOM §4.4 "equals": of one kind, with equal attributes in any order and equal children.
    pub fn is_equal(&self, a: NodeId, b: NodeId) -> bool {
        let same = match (&self.node(a).data, &self.node(b).data) {
            (NodeData::Element(a), NodeData::Element(b)) => {
                let alike = |x: &Attr, y: &Attr| x.namespace == y.namespace && x.local_name() == y.local_name() && x.value == y.value;
                (&a.namespace, &a.prefix, &a.local) == (&b.namespace, &b.prefix, &b.local)
                    && a.attrs.len() == b.attrs.len()
                    && a.attrs.iter().all(|x| b.attrs.iter().any(|y| alike(x, y)))
            }
            (a, b) => a == b,
        };
        let (first, second) = (self.children(a), self.children(b));
        same && first
            .map(Some)
            .chain(std::iter::repeat(None))
            .zip(second.map(Some).chain(std::iter::repeat(None)))
            .map_while(|pair| match pair {
                (None, None) => None,
                (Some(a), Some(b)) => Some(self.is_equal(a, b)),
                _ => Some(false),
            })
            .all(|equal| equal)
    }

    /// The texts of all text nodes, to be replaced by equal ones that others share.
    pub fn texts_mut(&mut self) -> impl Iterator<Item = (NodeId, &mut Arc<String>)> {
        self.nodes.iter_mut().enumerate().filter_map(|(at, node)| match &mut node.data {
            NodeData::Text(text) => Some((NodeId(at as u32), text)),
            _ => None,
        })
    }

    /// The attributes of an element; empty for other nodes.
    pub fn attrs(&self, id: NodeId) -> &[Attr] {
        self.element(id).map_or(&[], |e| &e.attrs)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::shadow::ShadowMode;

    fn three() -> (Document, NodeId, [NodeId; 3]) {
        let mut doc = Document::blank();
        let body = doc.body().expect("blank has a body");
        let kids = ["a", "b", "i"].map(|n| doc.create_element(n));
        for k in kids {
            doc.insert(body, k, None).expect("valid");
        }
        (doc, body, kids)
    }

    #[test]
    fn insert_before_itself_keeps_its_place() {
        let (mut doc, body, [a, b, i]) = three();
        doc.insert(body, b, Some(b)).expect("valid");
        assert_eq!(doc.children(body).collect::<Vec<_>>(), [a, b, i]);
    }

    #[test]
    fn a_node_cannot_hold_itself() {
        let (mut doc, body, [a, ..]) = three();
        assert_eq!(doc.insert(a, body, None), Err(InsertError::Hierarchy));
        assert_eq!(doc.insert(a, a, None), Err(InsertError::Hierarchy));
        assert_eq!(doc.children(body).count(), 3, "nothing changed");
    }

    #[test]
    fn a_reference_must_be_a_child() {
        let (mut doc, body, [a, ..]) = three();
        let new = doc.create_element("p");
        let stranger = doc.create_element("p");
        assert_eq!(doc.insert(body, new, Some(stranger)), Err(InsertError::NotFound));
        assert_eq!(doc.insert(a, new, None), Ok(()));
    }

    #[test]
    fn a_fragment_gives_its_children_in_order() {
        let (mut doc, body, [a, b, i]) = three();
        let fragment = doc.push(NodeData::Fragment);
        let [x, y] = ["x", "y"].map(|n| doc.create_element(n));
        doc.append(fragment, x);
        doc.append(fragment, y);
        doc.insert(body, fragment, Some(b)).expect("valid");
        assert_eq!(doc.children(body).collect::<Vec<_>>(), [a, x, y, b, i]);
        assert_eq!(doc.children(fragment).count(), 0);
    }

    #[test]
    fn what_nobody_can_reach_holds_nothing() {
        let (mut doc, body, [a, b, _]) = three();
        let first = NodeId(doc.len() as u32);
        // A held text keeps the tree that it stands in, with the contents of its template and the shadow tree that they hold.
        let [kept, template, host, gone, gone_inner] = ["p", "template", "div", "section", "em"].map(|n| doc.create_element(n));
        let (held, other) = (doc.push(NodeData::Text("held".to_owned().into())), doc.push(NodeData::Text("gone".to_owned().into())));
        let contents = doc.element(template).and_then(|e| e.template).expect("a template has contents");
        let shadow = doc.attach_shadow(Shadow {
            host,
            mode: ShadowMode::Open,
            delegates_focus: false,
            manual: false,
            clonable: false,
            serializable: false,
        });
        let shadow = shadow.expect("a div takes a shadow root");
        let inside = doc.create_element("b");
        for (parent, child) in [(kept, held), (kept, template), (contents, host), (shadow, inside), (gone, gone_inner), (gone_inner, other)]
        {
            doc.append(parent, child);
        }
        let connected = doc.create_element("u");
        doc.append(a, connected);
        doc.forget_unreachable(first, [held]);
        assert_eq!(doc.children(kept).collect::<Vec<_>>(), [held, template]);
        assert_eq!((doc.text_content(kept), doc.local_name(host), doc.local_name(inside)), ("held".into(), Some("div"), Some("b")));
        assert_eq!(doc.children(body).count(), 3);
        assert_eq!((doc.children(a).collect::<Vec<_>>(), doc.local_name(connected)), (vec![connected], Some("u")));
        assert_eq!(doc.local_name(b), Some("b"), "what was there first stays");
        for id in [gone, gone_inner, other] {
            assert_eq!(doc.node(id).data, NodeData::Text(Arc::default()));
            assert_eq!((doc.node(id).parent, doc.node(id).first), (None, None));
        }
    }

    #[test]
    fn removal_takes_the_focus_away() {
        let (mut doc, _, [a, ..]) = three();
        let inner = doc.create_element("input");
        doc.append(a, inner);
        doc.focused = Some(inner);
        doc.detach(a);
        assert_eq!(doc.focused, None);
    }

    #[test]
    fn a_snapshot_is_independent_and_has_no_comments() {
        let (mut doc, body, [a, ..]) = three();
        let comment = doc.push(NodeData::Comment("anchor".into()));
        doc.append(a, comment);
        doc.focused = Some(a);
        let (snap, numbers) = doc.snapshot();
        assert_eq!(numbers.len(), snap.len(), "every node has its number");
        assert_eq!(numbers[snap.focused.expect("mapped").0 as usize], a);
        doc.detach(body);
        let body = snap.body().expect("kept");
        assert_eq!(snap.children(body).count(), 3);
        assert_eq!(snap.local_name(snap.focused.expect("mapped")), Some("a"));
        assert!(snap.inclusive_descendants(Document::ROOT).all(|n| !matches!(snap.node(n).data, NodeData::Comment(_))));
    }
}

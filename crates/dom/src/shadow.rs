//! Shadow trees, slots, and the two views that come of them (DOM §4.2.2, §4.8): the composed tree, in which a shadow tree follows its
//! host, and the flat tree, in which slots hold what is assigned to them: what a person meets.

use serde::{Deserialize, Serialize};

use crate::element::Namespace;
use crate::tree::{Document, NodeData, NodeId};

/// What a shadow root is beside a fragment (DOM §4.8).
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Shadow {
    /// The element that it belongs to.
    pub host: NodeId,
    /// Whether scripts reach it through its host.
    pub mode: ShadowMode,
    /// Whether the focus of the host goes to what can take it inside.
    pub delegates_focus: bool,
    /// True when slots take what scripts assign, and nothing by name.
    pub manual: bool,
    /// True when a clone of the host gets a copy.
    pub clonable: bool,
    /// True when `getHTML` may write it.
    pub serializable: bool,
}

/// `open` or `closed`.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum ShadowMode {
    /// `element.shadowRoot` gives it.
    Open,
    /// Only who attached it has it.
    Closed,
}

impl ShadowMode {
    /// As the attribute `shadowrootmode` writes it.
    pub fn name(self) -> &'static str {
        match self {
            Self::Open => "open",
            Self::Closed => "closed",
        }
    }
}

impl Shadow {
    /// The shadow root of a host, with nothing asked for.
    pub fn new(host: NodeId, mode: ShadowMode) -> Self {
        Self { host, mode, delegates_focus: false, manual: false, clonable: false, serializable: false }
    }
}

/// The elements that take a shadow root beside custom ones (DOM §4.9 "valid shadow host name").
const HOSTS: [&str; 18] = [
    "article",
    "aside",
    "blockquote",
    "body",
    "div",
    "footer",
    "h1",
    "h2",
    "h3",
    "h4",
    "h5",
    "h6",
    "header",
    "main",
    "nav",
    "p",
    "section",
    "span",
];

/// True for a name that a custom element may have (HTML §4.13.3).
pub fn is_custom_name(name: &str) -> bool {
    const TAKEN: [&str; 8] = [
        "annotation-xml",
        "color-profile",
        "font-face",
        "font-face-src",
        "font-face-uri",
        "font-face-format",
        "font-face-name",
        "missing-glyph",
    ];
    name.starts_with(|c: char| c.is_ascii_lowercase())
        && name.contains('-')
        && !name.contains(|c: char| c.is_ascii_uppercase() || c.is_ascii_whitespace() || matches!(c, '\0' | '/' | '>'))
        && !TAKEN.contains(&name)
}

impl Document {
    /// Gives an element its shadow root (DOM §4.9 "attach a shadow root").
    ///
    /// # Errors
    /// None when the element takes none, or has one.
    pub fn attach_shadow(&mut self, shadow: Shadow) -> Option<NodeId> {
        let host = shadow.host;
        let element = self.element(host)?;
        let fits = element.namespace == Namespace::Html && (HOSTS.contains(&&*element.local) || is_custom_name(&element.local));
        if !fits || element.shadow.is_some() {
            return None;
        }
        let root = self.push(NodeData::Shadow(Box::new(shadow)));
        self.element_mut(host)?.shadow = Some(root);
        self.shadows.push(root);
        Some(root)
    }

    /// The shadow root of an element.
    pub fn shadow_of(&self, id: NodeId) -> Option<NodeId> {
        self.element(id)?.shadow
    }

    /// What the node is as a shadow root.
    pub fn as_shadow(&self, id: NodeId) -> Option<&Shadow> {
        match &self.node(id).data {
            NodeData::Shadow(shadow) => Some(shadow),
            _ => None,
        }
    }

    /// The host, if the node is a shadow root.
    pub fn host_of(&self, id: NodeId) -> Option<NodeId> {
        self.as_shadow(id).map(|s| s.host)
    }

    /// All shadow roots that were made, in that order.
    pub fn shadows(&self) -> &[NodeId] {
        &self.shadows
    }

    /// Lists only the shadow roots that are connected from now on. Those of detached hosts stay theirs.
    pub fn forget_shadows(&mut self) {
        let mut shadows = std::mem::take(&mut self.shadows);
        shadows.retain(|s| self.is_connected(*s));
        self.shadows = shadows;
    }

    /// The parent, or of a shadow root its host.
    pub fn composed_parent(&self, id: NodeId) -> Option<NodeId> {
        self.node(id).parent.or_else(|| self.host_of(id))
    }

    /// Parents and hosts, nearest first.
    pub fn composed_ancestors(&self, id: NodeId) -> impl Iterator<Item = NodeId> + '_ {
        std::iter::successors(self.composed_parent(id), |n| self.composed_parent(*n))
    }

    /// True when `id` is `ancestor`, or stands below it or in a shadow tree below it.
    pub fn is_composed_ancestor(&self, ancestor: NodeId, id: NodeId) -> bool {
        // What holds nothing is above nothing: a deep tree is built from its leaves without a walk up for each.
        let holds_something = || self.node(ancestor).first.is_some() || self.element(ancestor).is_some_and(|e| e.shadow.is_some());
        ancestor == id || holds_something() && self.composed_ancestors(id).any(|a| a == ancestor)
    }

    /// The root of the tree that holds the tree of the node, over all hosts.
    pub fn composed_root_of(&self, id: NodeId) -> NodeId {
        self.composed_ancestors(id).last().unwrap_or(id)
    }

    /// The way from the root to an element: which of the elements at each step, from 0; -1 into a shadow tree.
    pub fn path_to(&self, id: NodeId) -> Vec<i32> {
        let mut path = Vec::new();
        let mut at = id;
        while let Some(parent) = self.composed_parent(at) {
            path.push(match self.as_shadow(at) {
                Some(_) => -1,
                None => self.children(parent).filter(|c| self.element(*c).is_some()).position(|c| c == at).map_or(-2, |i| i as i32),
            });
            at = parent;
        }
        path.reverse();
        path
    }

    /// The element at the end of such a way, if it is there.
    pub fn at_path(&self, path: &[i32]) -> Option<NodeId> {
        path.iter().try_fold(Self::ROOT, |at, step| match step {
            -1 => self.shadow_of(at),
            step => self.children(at).filter(|c| self.element(*c).is_some()).nth(usize::try_from(*step).ok()?),
        })
    }

    /// All below the node, in shadow-including tree order (DOM §4.8): a shadow tree stands before its host's children.
    pub fn composed_descendants(&self, root: NodeId) -> impl Iterator<Item = NodeId> + '_ {
        std::iter::successors(Some(root), move |n| self.composed_following(*n, root)).skip(1)
    }

    fn composed_following(&self, id: NodeId, root: NodeId) -> Option<NodeId> {
        if let Some(below) = self.shadow_of(id).or(self.node(id).first) {
            return Some(below);
        }
        let mut at = id;
        while at != root {
            if let Some(next) = self.node(at).next {
                return Some(next);
            }
            match self.host_of(at) {
                Some(host) => match self.node(host).first {
                    Some(first) => return Some(first),
                    None => at = host,
                },
                None => at = self.node(at).parent?,
            }
        }
        None
    }

    /// The slot that a child of a host is assigned to (DOM §4.2.2.3 "find a slot").
    pub fn assigned_slot(&self, id: NodeId) -> Option<NodeId> {
        let name = match &self.node(id).data {
            NodeData::Element(element) => element.attr("slot").unwrap_or(""),
            NodeData::Text(_) => "",
            _ => return None,
        };
        let root = self.shadow_of(self.node(id).parent?)?;
        if self.as_shadow(root)?.manual {
            return self.slots_in(root).find(|s| self.element(*s).is_some_and(|e| e.assigned.contains(&id)));
        }
        self.slots_in(root).find(|s| self.attr(*s, "name").unwrap_or("") == name)
    }

    /// The slots of a tree, in order.
    pub fn slots_in(&self, root: NodeId) -> impl Iterator<Item = NodeId> + '_ {
        self.descendants(root).filter(|n| self.is_html(*n, "slot"))
    }

    /// What is assigned to a slot, in order (DOM §4.2.2.3 "find slottables").
    pub fn assigned(&self, slot: NodeId) -> Vec<NodeId> {
        let Some(shadow) = self.is_html(slot, "slot").then(|| self.as_shadow(self.root_of(slot))).flatten() else { return Vec::new() };
        if shadow.manual {
            let held = self.element(slot).map_or(&[][..], |e| &e.assigned);
            return held.iter().copied().filter(|n| self.node(*n).parent == Some(shadow.host)).collect();
        }
        self.children(shadow.host).filter(|c| self.assigned_slot(*c) == Some(slot)).collect()
    }

    /// The children in the flat tree (CSS Scoping §3.3).
    pub fn flat_children(&self, id: NodeId) -> Vec<NodeId> {
        if let Some(root) = self.shadow_of(id) {
            return self.children(root).collect();
        }
        if !self.shadows.is_empty() && self.is_html(id, "slot") {
            let assigned = self.assigned(id);
            if !assigned.is_empty() {
                return assigned;
            }
        }
        self.children(id).collect()
    }

    /// The parent in the flat tree; none for what is assigned to no slot.
    pub fn flat_parent(&self, id: NodeId) -> Option<NodeId> {
        let parent = self.node(id).parent?;
        if self.shadow_of(parent).is_some() {
            return self.assigned_slot(id);
        }
        // Controls and media have inner trees of the browser's own, which take no children.
        const CLOSED: [&str; 6] = ["input", "textarea", "meter", "progress", "video", "audio"];
        if self.element(parent).is_some_and(|e| CLOSED.iter().any(|t| e.is_html(t))) {
            return None;
        }
        self.host_of(parent).or(Some(parent))
    }

    /// The parents in the flat tree, nearest first.
    pub fn flat_ancestors(&self, id: NodeId) -> impl Iterator<Item = NodeId> + '_ {
        std::iter::successors(self.flat_parent(id), |n| self.flat_parent(*n))
    }

    /// True when the node stands in the flat tree of the document: not so the fallback of a filled slot, and children that no slot takes.
    pub fn is_flat(&self, id: NodeId) -> bool {
        let mut at = id;
        while let Some(parent) = self.flat_parent(at) {
            if self.is_html(parent, "slot") && self.node(at).parent == Some(parent) && !self.assigned(parent).is_empty() {
                return false;
            }
            at = parent;
        }
        at == Self::ROOT
    }

    /// True for what a slot would show if nothing were assigned to it.
    pub fn is_unused_fallback(&self, id: NodeId) -> bool {
        self.composed_ancestors(id).any(|slot| self.is_html(slot, "slot") && !self.assigned(slot).is_empty())
    }

    /// All text below in the flat tree: what a person reads, as far as it is shown.
    pub fn flat_text(&self, id: NodeId) -> String {
        if self.shadows.is_empty() {
            return self.text_content(id);
        }
        let mut out = String::new();
        self.add_flat_text(id, &mut out);
        out
    }

    fn add_flat_text(&self, id: NodeId, out: &mut String) {
        match &self.node(id).data {
            NodeData::Text(text) => out.push_str(text),
            // A stylesheet belongs to every shadow tree, and is no text of it.
            NodeData::Element(e) if self.host_of(self.root_of(id)).is_some() && (e.is_html("style") || e.is_html("script")) => {}
            NodeData::Element(_) | NodeData::Fragment | NodeData::Shadow(_) => {
                for child in self.flat_children(id) {
                    self.add_flat_text(child, out);
                }
            }
            _ => {}
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::parse;

    /// A host `kiln-card` with the children of `light`, and a shadow tree of `inside`.
    fn card(inside: &str, light: &str) -> (Document, NodeId, NodeId) {
        let mut doc = parse::document(&format!("<kiln-card>{light}</kiln-card>"));
        let host = doc.children(doc.body().expect("a body")).next().expect("a card");
        let root = doc.attach_shadow(Shadow::new(host, ShadowMode::Open)).expect("a host");
        let fragment = parse::fragment(&mut doc, host, inside);
        doc.insert(root, fragment, None).expect("inserted");
        (doc, host, root)
    }

    #[test]
    fn slots_take_what_is_named_for_them_and_else_show_their_fallback() {
        let (doc, host, root) =
            card("<slot name=top>Shelf</slot><p><slot>empty</slot></p>", "<b slot=top>Top</b> Mug <i>Bowl</i><u slot=nowhere>lost</u>");
        let slots: Vec<_> = doc.slots_in(root).collect();
        let names = |slot| doc.assigned(slot).iter().map(|n| doc.text_content(*n)).collect::<Vec<_>>();
        assert_eq!(names(slots[0]), ["Top"]);
        assert_eq!(names(slots[1]), [" Mug ", "Bowl"]);
        assert_eq!(doc.flat_text(host), "Top Mug Bowl");
        let lost = doc.children(host).last().expect("the lost one");
        assert_eq!(doc.assigned_slot(lost), None);
        assert!(!doc.is_flat(lost));
        let (doc, host, _) = card("<slot name=top>Shelf</slot><slot>empty</slot>", "");
        assert_eq!(doc.flat_text(host), "Shelfempty");
    }

    #[test]
    fn the_first_of_two_slots_of_one_name_takes_all() {
        let (doc, _, root) = card("<slot></slot><slot></slot>", "Mug");
        let counts: Vec<_> = doc.slots_in(root).map(|s| doc.assigned(s).len()).collect();
        assert_eq!(counts, [1, 0]);
    }

    #[test]
    fn a_shadow_tree_is_connected_with_its_host_and_stands_before_its_children() {
        let (mut doc, host, root) = card("<p>in</p>", "<b>out</b>");
        let order: Vec<_> = doc.composed_descendants(host).map(|n| doc.local_name(n).unwrap_or("·").to_owned()).collect();
        assert_eq!(order, ["·", "p", "·", "b", "·"]);
        assert!(doc.is_connected(root));
        assert_eq!(doc.root_of(doc.node(root).first.expect("p")), root);
        doc.detach(host);
        assert!(!doc.is_connected(root));
    }

    #[test]
    fn only_some_elements_take_a_shadow_root_and_only_one() {
        let mut doc = parse::document("<input><div></div>");
        let [input, div] = ["input", "div"].map(|t| doc.descendants(Document::ROOT).find(|n| doc.is_html(*n, t)).expect(t));
        assert_eq!(doc.attach_shadow(Shadow::new(input, ShadowMode::Open)), None);
        assert!(doc.attach_shadow(Shadow::new(div, ShadowMode::Closed)).is_some());
        assert_eq!(doc.attach_shadow(Shadow::new(div, ShadowMode::Closed)), None);
    }

    #[test]
    fn a_snapshot_holds_the_shadow_trees() {
        let (mut doc, host, root) = card("<p><slot></slot></p>", "Mug");
        let loose = doc.create_element("kiln-dial");
        doc.attach_shadow(Shadow::new(loose, ShadowMode::Open)).expect("a host");
        let (copy, numbers) = doc.snapshot();
        assert_eq!(copy.shadows().len(), 1, "only what is connected");
        let copied = copy.shadows()[0];
        assert_eq!(numbers[copied.0 as usize], root);
        let host_there = copy.host_of(copied).expect("a host");
        assert_eq!(numbers[host_there.0 as usize], host);
        assert_eq!(copy.shadow_of(host_there), Some(copied));
        assert_eq!(copy.flat_text(host_there), "Mug");
        assert_eq!(
            crate::serialize::markup(&copy, copy.body().expect("a body")),
            "<kiln-card>\n  <template shadowrootmode=\"open\">\n    <p>\n      <slot></slot>\n    </p>\n  </template>\n  Mug\n</kiln-card>\n"
        );
    }
}

//! How often a document was changed: what was found out at one count holds while it lasts.

use crate::{Document, NodeId};

/// The counts of a document. They make no two documents differ.
#[derive(Debug, Clone, Default)]
pub(crate) struct Revisions {
    /// Anything was changed.
    pub(crate) changes: u64,
    /// Nodes were linked or taken apart.
    pub(crate) shape: u64,
    /// The children of each node were others.
    children: Vec<u32>,
    /// Whether an `autofocus` attribute may have come: as long as none did, nobody need look for one.
    autofocus: bool,
}

impl PartialEq for Revisions {
    fn eq(&self, _: &Self) -> bool {
        true
    }
}
impl Eq for Revisions {}

impl Revisions {
    /// There is one node more.
    pub(crate) fn add_node(&mut self) {
        self.children.push(0);
    }

    /// The children of a node are others.
    pub(crate) fn relink(&mut self, parent: NodeId) {
        if let Some(count) = self.children.get_mut(parent.0 as usize) {
            *count = count.wrapping_add(1);
        }
    }
}

impl Document {
    /// A number that is another one once anything in the document was changed.
    pub fn changes(&self) -> u64 {
        self.revisions.changes
    }

    /// A number that is another one once a node was put elsewhere: lists of nodes last as long as it does.
    pub fn shape(&self) -> u64 {
        self.revisions.shape
    }

    /// A number that is another one once the children of a node are others.
    pub fn relinked(&self, id: NodeId) -> u32 {
        self.revisions.children.get(id.0 as usize).copied().unwrap_or(0)
    }

    /// Says that this HTML, or an attribute of this name, comes into the document.
    pub fn note_autofocus(&mut self, text: &str) {
        self.revisions.autofocus |= text.contains("autofocus");
    }

    /// The first element of a tree that is to take the focus (HTML §6.6.7).
    pub fn wanting_focus(&self, root: NodeId) -> Option<NodeId> {
        if !self.revisions.autofocus {
            return None;
        }
        self.inclusive_descendants(root).find(|n| self.attr(*n, "autofocus").is_some())
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn each_count_changes_with_what_it_counts() {
        let mut doc = Document::blank();
        let body = doc.body().expect("blank has one");
        let [p, b] = ["p", "b"].map(|name| doc.create_element(name));
        doc.append(body, p);
        let counts = |doc: &Document| (doc.changes(), doc.shape(), doc.relinked(body), doc.relinked(p));
        let before = counts(&doc);
        doc.element_mut(p).expect("an element").set_attr("title", "mug");
        let attribute = counts(&doc);
        assert!(attribute.0 > before.0 && (attribute.1, attribute.2, attribute.3) == (before.1, before.2, before.3));
        doc.append(p, b);
        let inner = counts(&doc);
        assert!(inner.0 > attribute.0 && inner.1 > attribute.1 && inner.2 == attribute.2 && inner.3 > attribute.3);
        doc.detach(p);
        let gone = counts(&doc);
        assert!(gone.1 > inner.1 && gone.2 > inner.2 && gone.3 == inner.3);
    }

    #[test]
    fn who_wants_the_focus_is_looked_for_once_somebody_may() {
        let mut doc = Document::blank();
        let body = doc.body().expect("blank has one");
        let field = doc.create_element("input");
        doc.append(body, field);
        doc.element_mut(field).expect("an element").set_attr("autofocus", "");
        assert_eq!(doc.wanting_focus(body), None, "nobody said that one came");
        doc.note_autofocus("autofocus");
        assert_eq!(doc.wanting_focus(body), Some(field));
    }
}

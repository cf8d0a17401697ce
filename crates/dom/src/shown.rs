//! Which elements of a document show, for who asks for many of them: what stands around one is looked at once, not once for each in it.

use rustc_hash::FxHashMap;

use crate::form::{admits, is_displayed, own_visibility};
use crate::{Document, NodeId};

/// What is known of a node.
#[derive(Debug, Clone, Copy)]
struct Standing {
    /// Whether it has a place on the page.
    rendered: bool,
    /// Whether style takes the visibility of what stands in it.
    invisible: bool,
}

/// The elements of a document that show. Holds as long as the document is not changed.
#[derive(Debug)]
pub struct Shown<'d> {
    doc: &'d Document,
    known: FxHashMap<NodeId, Standing>,
}

impl<'d> Shown<'d> {
    /// Nothing is looked at yet.
    pub fn new(doc: &'d Document) -> Self {
        Self { doc, known: FxHashMap::default() }
    }

    /// The same as [`crate::form::is_hidden`].
    pub fn is_hidden(&mut self, node: NodeId) -> bool {
        if !self.doc.shadows().is_empty() && self.doc.is_connected(node) && !self.doc.is_flat(node) {
            return true;
        }
        let Standing { rendered, invisible } = self.standing(node);
        !rendered || invisible
    }

    fn standing(&mut self, node: NodeId) -> Standing {
        // From the outside in, so that no depth of nesting is a depth of calls.
        let mut chain = Vec::new();
        let mut around = Standing { rendered: true, invisible: false };
        for n in std::iter::once(node).chain(self.doc.flat_ancestors(node)) {
            if let Some(known) = self.known.get(&n) {
                around = *known;
                break;
            }
            chain.push(n);
        }
        // The first of them stands in what was known, or in nothing.
        let mut outer = chain.last().and_then(|n| self.doc.flat_ancestors(*n).next());
        for n in chain.into_iter().rev() {
            if let Some(element) = self.doc.element(n) {
                around.rendered = around.rendered && is_displayed(self.doc, n, element) && outer.is_none_or(|o| admits(self.doc, o, n));
                around.invisible = own_visibility(self.doc, n, element).unwrap_or(around.invisible);
            }
            self.known.insert(n, around);
            outer = Some(n);
        }
        around
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{form, parse};

    #[test]
    fn it_agrees_with_what_is_asked_one_by_one() {
        let doc = parse::document(
            "<style>.off { display: none } .gone { visibility: hidden } .back { visibility: visible }</style>\
             <div class=off><p>a<b>b</b></p></div><section class=gone><i>c</i><i class=back>d<u>e</u></i></section>\
             <details><summary>f</summary><p>g</p></details><details open><summary>h</summary><p>i</p></details>\
             <select><option>j</option></select><video><p>k</p></video><dialog><p>l</p></dialog><div hidden><p>m</p></div>\
             <div><template shadowrootmode=open><slot name=a></slot></template><b slot=a>n</b><b>o</b></div>",
        );
        let all: Vec<_> = doc.composed_descendants(Document::ROOT).filter(|n| doc.element(*n).is_some()).collect();
        let (forward, backward) = (&mut Shown::new(&doc), &mut Shown::new(&doc));
        let wanted: Vec<bool> = all.iter().map(|n| form::is_hidden(&doc, *n)).collect();
        assert!(wanted.contains(&true) && wanted.contains(&false));
        assert_eq!(all.iter().map(|n| forward.is_hidden(*n)).collect::<Vec<_>>(), wanted);
        let mut seen: Vec<bool> = all.iter().rev().map(|n| backward.is_hidden(*n)).collect();
        seen.reverse();
        assert_eq!(seen, wanted);
    }
}

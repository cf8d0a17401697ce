//! A document as it is at one moment, by itself.

use crate::shadow::Shadow;
use crate::{Document, NodeData, NodeId};

impl Document {
    /// A document of its own that holds the elements, texts and live state now connected here, numbered in tree order:
    /// what can be kept after this one has moved on. Comments are left out. Beside it the number that each of its nodes has here.
    pub fn snapshot(&self) -> (Self, Vec<NodeId>) {
        let mut out = Self::new();
        let mut numbers = vec![Self::ROOT];
        self.copy_children(Self::ROOT, Self::ROOT, self.is_styled().then_some(false), &mut out, &mut numbers);
        let place = |o: &NodeId| numbers.iter().position(|n| n == o).map(|at| NodeId(at as u32));
        out.focused = self.focused.as_ref().and_then(place);
        out.overlays = self.overlays.iter().filter_map(place).collect();
        out.pointed = self.pointed;
        self.keep_told_rules(&numbers, &mut out);
        self.keep_read(&numbers, &mut out);
        (out, numbers)
    }

    /// `invisible` is what stylesheets make children inherit, where there are any.
    fn copy_children(&self, from: NodeId, to: NodeId, invisible: Option<bool>, out: &mut Self, numbers: &mut Vec<NodeId>) {
        if let Some(root) = self.shadow_of(from)
            && let Some(shadow) = self.as_shadow(root)
            && let Some(copy) = out.attach_shadow(Shadow { host: to, ..shadow.clone() })
        {
            numbers.push(root);
            self.copy_children(root, copy, invisible, out, numbers);
        }
        for child in self.children(from) {
            let mut inherited = invisible;
            let copy = match &self.node(child).data {
                NodeData::Comment(_) | NodeData::Instruction(..) => continue,
                NodeData::Element(element) => {
                    let mut element = element.clone();
                    (element.template, element.shadow) = (None, None);
                    if let Some(around) = invisible {
                        let (shows, hides) = crate::form::showing(self, child, around);
                        element.displayed = Some(shows);
                        inherited = Some(hides);
                    }
                    out.push(NodeData::Element(element))
                }
                other => out.push(other.clone()),
            };
            numbers.push(child);
            out.append(to, copy);
            self.copy_children(child, copy, inherited, out, numbers);
        }
    }
}

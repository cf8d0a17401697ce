//! Whether an element shows, as far as stylesheets say. Every element of a snapshot is asked, so both properties are found at once, among
//! the rules that say either.

use super::sheet;
use crate::tree::{Document, NodeId};

/// What authors say of whether an element shows, where they say anything.
#[derive(Debug, Clone, Default)]
pub(super) struct Showing {
    display: Option<String>,
    visibility: Option<String>,
}

impl Document {
    /// What authors' stylesheets say of the display of an element: `none` or another value, where they say anything.
    pub(crate) fn authored(&self, id: NodeId, property: &'static str) -> Option<String> {
        if !self.is_styled() {
            return None;
        }
        let of = |showing: &Showing| if property == "display" { showing.display.clone() } else { showing.visibility.clone() };
        if let Some(known) = self.styles.known.borrow().authored.get(&id) {
            return of(known);
        }
        let found = self.showing(id);
        let told = of(&found);
        self.styles.known.borrow_mut().authored.insert(id, found);
        told
    }

    fn showing(&self, id: NodeId) -> Showing {
        let mut applied = Vec::new();
        self.author(id, true, &mut applied);
        let said = |property: &str| {
            let of = applied.iter().filter(|(_, d)| &*d.name == property);
            let (_, declared) = of.max_by_key(|(weight, _)| *weight)?;
            if declared.value.contains("var(") || sheet::is_wide(&declared.value) {
                return self.computed(id).map(|c| c.get(property));
            }
            Some(declared.value.to_string())
        };
        Showing { display: said("display"), visibility: said("visibility") }
    }
}

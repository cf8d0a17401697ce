//! Shadow trees, slots, and what custom elements need to be found.

use fidelon_dom::{Document, NodeId, Shadow, ShadowMode, shadow};

use super::{Natives, number, numbers, reads, writes};

pub(crate) fn register(n: &mut Natives<'_, '_>) -> rquickjs::Result<()> {
    reads!(n,
        "shadow" => |doc, id| number(doc.shadow_of(id));
        "host" => |doc, id| number(doc.host_of(id));
        "shadow_flags" => |doc, id| doc.as_shadow(id).map_or_else(Vec::new, |s| {
            vec![s.mode == ShadowMode::Open, s.delegates_focus, s.manual, s.clonable, s.serializable]
        });
        "is_value" => |doc, id| doc.element(id).and_then(|e| e.is.as_deref().map(str::to_owned));
        "composed_root" => |doc, id| doc.composed_root_of(id).0;
        "composed_contains" => |doc, id, other: u32| doc.is_composed_ancestor(id, super::known(&doc, other));
        "assigned_slot" => |doc, id| number(doc.assigned_slot(id));
        "assigned" => |doc, id| numbers(doc.assigned(id));
        "slots" => |doc, id| numbers(doc.slots_in(id));
        "flat_parent" => |doc, id| number(doc.flat_parent(id));
        "flat_children" => |doc, id| numbers(doc.flat_children(id));
        "candidates" => |doc, id| numbers(candidates(&doc, id));
    );
    writes!(n,
        "set_assigned" => |doc, id, nodes: String| if let Some(e) = doc.element_mut(id) {
            e.assigned = nodes.split_ascii_whitespace().filter_map(|n| n.parse().ok().map(NodeId)).collect();
        };
        "set_is" => |doc, id, name: String| if let Some(e) = doc.element_mut(id) { e.is = Some(name.into()) };
        "set_custom" => |doc, id, associated: bool| if let Some(e) = doc.element_mut(id) { (e.custom, e.form.associated) = (true, associated) };
    );
    let host = n.host.clone();
    n.add("attach_shadow", move |node: u32, open: bool, delegates_focus: bool, manual: bool, clonable: bool, serializable: bool| {
        let mode = if open { ShadowMode::Open } else { ShadowMode::Closed };
        let mut doc = host.doc.borrow_mut();
        let shadow = Shadow { host: super::known(&doc, node), mode, delegates_focus, manual, clonable, serializable };
        number(doc.attach_shadow(shadow))
    })?;
    let host = n.host.clone();
    n.add("shadows", move || numbers(host.doc.borrow().shadows().iter().copied()))?;
    n.add("is_custom_name", |name: String| shadow::is_custom_name(&name))
}

/// What could be a custom element, in shadow-including tree order, the node itself among them.
fn candidates(doc: &Document, id: NodeId) -> Vec<NodeId> {
    std::iter::once(id)
        .chain(doc.composed_descendants(id))
        .filter(|n| doc.element(*n).is_some_and(|e| e.custom || e.local.contains('-') || e.has_attr("is")))
        .collect()
}

//! What bringing a realm back to an earlier state needs to be quick.

use fidelon_dom::{Document, NodeId};
use rquickjs::{Array, Atom, Object, Value};

use super::Natives;

pub(crate) fn register(n: &mut Natives<'_, '_>) -> rquickjs::Result<()> {
    let host = n.host.clone();
    n.add("clear", move |kept: Vec<u32>| clear(&mut host.doc.borrow_mut(), &kept))?;
    let host = n.host.clone();
    n.add("count", move || host.doc.borrow().len())?;
    n.add("holds", holds)
}

/// Empties the document: the body and the attributes of `html`, `head` and `body` go, and what is new in the head.
/// Stylesheets stay there: libraries that write styles keep their elements in a variable and insert before them again, and a
/// person sees no more of them than what they style.
fn clear(doc: &mut Document, kept: &[u32]) {
    doc.focused = None;
    let body: Vec<NodeId> = doc.body().map_or_else(Vec::new, |b| doc.children(b).collect());
    let head: Vec<NodeId> = doc.head().map_or_else(Vec::new, |h| doc.children(h).collect());
    let gone = head.into_iter().filter(|n| !kept.contains(&n.0) && !is_stylesheet(doc, *n)).collect::<Vec<_>>();
    for node in body.into_iter().chain(gone) {
        doc.detach(node);
    }
    for node in [doc.document_element(), doc.head(), doc.body()].into_iter().flatten() {
        if let Some(element) = doc.element_mut(node) {
            element.attrs.clear();
        }
    }
}

fn is_stylesheet(doc: &Document, node: NodeId) -> bool {
    let rel = || doc.attr(node, "rel").unwrap_or_default().split_ascii_whitespace().any(|r| r.eq_ignore_ascii_case("stylesheet"));
    doc.is_html(node, "style") || (doc.is_html(node, "link") && rel())
}

/// True when an object has `count` own properties and each of `keys` still has its value.
fn holds<'js>(object: Object<'js>, count: usize, keys: Array<'js>, values: Array<'js>) -> rquickjs::Result<bool> {
    let every = rquickjs::object::Filter::new().string().symbol();
    if object.own_keys::<Atom<'js>>(every).count() != count {
        return Ok(false);
    }
    for (key, value) in keys.iter::<Value<'js>>().zip(values.iter::<Value<'js>>()) {
        let key = Atom::from_value(object.ctx().clone(), &key?)?;
        if object.get::<_, Value<'js>>(key)? != value? {
            return Ok(false);
        }
    }
    Ok(true)
}

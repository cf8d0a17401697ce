//! What bringing a realm back to an earlier state needs to be quick.

use fidelon_dom::{Document, NodeId};
use rquickjs::{Array, Function, Object, Value, qjs};

use super::Natives;

pub(crate) fn register<'js>(n: &mut Natives<'_, 'js>) -> rquickjs::Result<()> {
    let host = n.host.clone();
    n.add("clear", move |kept: Vec<u32>| {
        host.lists.forget();
        clear(&mut host.doc.borrow_mut(), &kept);
    })?;
    let host = n.host.clone();
    n.add("count", move || host.doc.borrow().len())?;
    let host = n.host.clone();
    n.add("watch", move |keys: Array<'js>, values: Array<'js>| watch(&mut host.watched.borrow_mut(), &keys, &values))?;
    let host = n.host.clone();
    n.add("holds", move |object: Object<'js>, count: u32, watched: usize| holds(&object, count, &host.watched.borrow()[watched]))?;
    let host = n.host.clone();
    n.add("sweep", move |first: u32, held: Vec<u32>| {
        host.doc.borrow_mut().forget_unreachable(NodeId(first), held.into_iter().map(NodeId))
    })?;
    let host = n.host.clone();
    n.add("let_go", move |wrappers: Array<'js>, from: u32, weakly: Function<'js>| let_go(&host.doc.borrow(), &wrappers, from, &weakly))
}

/// Empties the document: the body and the attributes of `html`, `head` and `body` go, and what is new in the head.
/// Stylesheets stay there: libraries that write styles keep their elements in a variable and insert before them again, and a
/// person sees no more of them than what they style.
fn clear(doc: &mut Document, kept: &[u32]) {
    (doc.focused, doc.pointed) = (None, false);
    let body: Vec<NodeId> = doc.body().map_or_else(Vec::new, |b| doc.children(b).collect());
    let head: Vec<NodeId> = doc.head().map_or_else(Vec::new, |h| doc.children(h).collect());
    let gone = head.into_iter().filter(|n| !kept.contains(&n.0) && !is_stylesheet(doc, *n)).collect::<Vec<_>>();
    for node in body.into_iter().chain(gone) {
        doc.detach(node);
    }
    doc.forget_gone_sheets();
    doc.forget_shadows();
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

/// A property as it was: its name by the runtime's own number, and its value as the engine holds it.
pub(crate) type Watched = (qjs::JSAtom, qjs::JSValue);

/// Takes note of properties; gives the number by which [`holds`] knows them. Their names are the runtime's and end with it; the
/// values must be kept alive by the caller.
fn watch<'js>(lists: &mut Vec<Vec<Watched>>, keys: &Array<'js>, values: &Array<'js>) -> rquickjs::Result<usize> {
    let ctx = keys.ctx().as_raw().as_ptr();
    let pairs = keys.iter::<Value<'js>>().zip(values.iter::<Value<'js>>()).map(|(key, value)| {
        let key = key?;
        // SAFETY: the context is alive, and the key one of its own. The reference that is taken is never given back: the number
        // must not come to mean another name.
        Ok((unsafe { qjs::JS_ValueToAtom(ctx, key.as_raw()) }, value?.as_raw()))
    });
    lists.push(pairs.collect::<rquickjs::Result<_>>()?);
    Ok(lists.len() - 1)
}

/// True when an object has `count` own properties and each of those watched is still plain data with its value. The quick look
/// between cases: several hundred properties, of which hardly one ever changes.
fn holds(object: &Object<'_>, count: u32, watched: &[Watched]) -> rquickjs::Result<bool> {
    let (ctx, of) = (object.ctx().as_raw().as_ptr(), object.as_raw());
    let (mut names, mut length) = (std::ptr::null_mut(), 0);
    // SAFETY: the context is alive and the object is its own; the list is given back to it at once.
    unsafe {
        let flags = (qjs::JS_GPN_STRING_MASK | qjs::JS_GPN_SYMBOL_MASK) as i32;
        if qjs::JS_GetOwnPropertyNames(ctx, &mut names, &mut length, of, flags) < 0 {
            return Err(rquickjs::Error::Exception);
        }
        qjs::JS_FreePropertyEnum(ctx, names, length);
    }
    Ok(length == count && watched.iter().all(|(atom, value)| is_still(ctx, of, *atom, *value)))
}

/// Whether a property is plain data with this very value. One that is equal and not the same counts as another: that costs a
/// closer look, no more.
fn is_still(ctx: *mut qjs::JSContext, of: qjs::JSValue, atom: qjs::JSAtom, value: qjs::JSValue) -> bool {
    let mut found = std::mem::MaybeUninit::<qjs::JSPropertyDescriptor>::uninit();
    // SAFETY: the context is alive, the object its own, and the name is held by `watch`. The descriptor is filled in when the answer
    // is positive; what it holds is ours then and given back. Values are compared as they lie in memory, which reads no more
    // than the bytes of each.
    unsafe {
        if qjs::JS_GetOwnProperty(ctx, found.as_mut_ptr(), of, atom) <= 0 {
            return false;
        }
        let found = found.assume_init();
        let data = found.flags & qjs::JS_PROP_GETSET as i32 == 0;
        let bytes = |v: &qjs::JSValue| std::mem::transmute_copy::<qjs::JSValue, [u8; std::mem::size_of::<qjs::JSValue>()]>(v);
        let same = data && bytes(&found.value) == bytes(&value);
        for held in [found.value, found.getter, found.setter] {
            qjs::JS_FreeValue(ctx, held);
        }
        same
    }
}

/// Lets go of the wrappers of nodes that are on the page no more. `weakly` is told each, with its number: a module that holds it must
/// find the same one again.
fn let_go<'js>(doc: &Document, wrappers: &Array<'js>, from: u32, weakly: &Function<'js>) -> rquickjs::Result<()> {
    for id in from..u32::try_from(wrappers.len()).unwrap_or(u32::MAX) {
        let wrapper: Value<'js> = wrappers.get(id as usize)?;
        if wrapper.is_undefined() || doc.is_connected(super::known(doc, id)) {
            continue;
        }
        wrappers.set(id as usize, Value::new_undefined(wrapper.ctx().clone()))?;
        weakly.call::<_, ()>((id, wrapper))?;
    }
    Ok(())
}

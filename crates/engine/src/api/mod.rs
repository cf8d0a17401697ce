//! The natives that `js/` is built on: small functions over node numbers and strings. A missing node is `-1`.

mod form;
mod intl;
mod keep;
mod layout;
mod made;
mod query;
mod shadow;
mod style;
pub(crate) mod text;
mod tree;
mod url;
mod xml;

use std::rc::Rc;

pub(crate) use keep::Watched;
pub(crate) use layout::Layout;
pub(crate) use style::Recent;

use fidelon_dom::{Document, NodeId};
use rquickjs::{Ctx, Object};

use crate::host::Host;

/// The object that the prelude finds as `__native`.
pub(crate) fn natives<'js>(ctx: &Ctx<'js>, host: &Rc<Host>) -> rquickjs::Result<Object<'js>> {
    let object = Object::new(ctx.clone())?;
    let mut natives = Natives { ctx, host, object: &object };
    tree::register(&mut natives)?;
    query::register(&mut natives)?;
    shadow::register(&mut natives)?;
    form::register(&mut natives)?;
    style::register(&mut natives)?;
    text::register(&mut natives)?;
    url::register(&mut natives)?;
    intl::register(&mut natives)?;
    keep::register(&mut natives)?;
    layout::register(&mut natives)?;
    made::register(&mut natives)?;
    Ok(object)
}

/// Where natives are put.
pub(crate) struct Natives<'a, 'js> {
    pub(crate) ctx: &'a Ctx<'js>,
    pub(crate) host: &'a Rc<Host>,
    object: &'a Object<'js>,
}

impl<'js> Natives<'_, 'js> {
    pub(crate) fn add<P>(&mut self, name: &str, function: impl rquickjs::function::IntoJsFunc<'js, P> + 'js) -> rquickjs::Result<()> {
        self.object.set(name, rquickjs::Function::new(self.ctx.clone(), function)?)
    }
}

/// Adds natives that read the document: `reads!(n, "name" => |doc, id| …)`.
macro_rules! reads {
    ($n:expr, $($name:literal => |$doc:ident, $id:ident $(, $arg:ident : $ty:ty)*| $body:expr;)*) => {$({
        let host = $n.host.clone();
        $n.add($name, move |node: u32 $(, $arg: <$ty as crate::api::Taken>::From)*| {
            $(let $arg = <$ty as crate::api::Taken>::taken($arg);)*
            let $doc = host.doc.borrow();
            let $id = crate::api::known(&$doc, node);
            $body
        })?;
    })*};
}
/// Adds natives that change the document.
macro_rules! writes {
    ($n:expr, $($name:literal => |$doc:ident, $id:ident $(, $arg:ident : $ty:ty)*| $body:expr;)*) => {$({
        let host = $n.host.clone();
        #[allow(unused_mut, reason = "some bodies only pass the document on, and some take no text")]
        $n.add($name, move |node: u32 $(, $arg: <$ty as crate::api::Taken>::From)*| {
            $(let mut $arg = <$ty as crate::api::Taken>::taken($arg);)*
            host.meter.weight().add(0 $(+ crate::api::Heavy::bytes(&$arg))*);
            if host.meter.weight().is_over() {
                $(crate::api::Heavy::empty(&mut $arg);)*
            }
            let mut $doc = host.doc.borrow_mut();
            let $id = crate::api::known(&$doc, node);
            $body
        })?;
    })*};
}
pub(crate) use {reads, writes};

/// How an argument comes from a script.
pub(crate) trait Taken {
    /// What it comes as.
    type From: for<'js> rquickjs::FromJs<'js>;
    fn taken(from: Self::From) -> Self;
}
impl Taken for String {
    type From = Text;
    fn taken(from: Text) -> Self {
        from.0
    }
}
macro_rules! as_they_are {
    ($($ty:ty),*) => {$(
        impl Taken for $ty {
            type From = $ty;
            fn taken(from: $ty) -> Self {
                from
            }
        }
    )*};
}
as_they_are!(bool, u32, i32, i64, f64, Vec<u32>, Option<u32>, Vec<String>);

/// A text of a script. Half a pair of surrogates, which a script may cut an emoji to, is no character: it stands as one that nobody can read
/// (WHATWG Infra, "scalar value string").
pub(crate) struct Text(pub(crate) String);

impl<'js> rquickjs::FromJs<'js> for Text {
    fn from_js(ctx: &Ctx<'js>, value: rquickjs::Value<'js>) -> rquickjs::Result<Self> {
        match String::from_js(ctx, value.clone()) {
            Err(rquickjs::Error::Utf8(_) | rquickjs::Error::FromJs { .. }) if value.is_string() => {
                let whole: rquickjs::Function<'_> = ctx.eval("(text) => text.toWellFormed()")?;
                whole.call((value,)).map(Self)
            }
            other => other.map(Self),
        }
    }
}

/// What an argument adds to the document.
pub(crate) trait Heavy {
    fn bytes(&self) -> usize {
        0
    }
    /// Over the limit nothing is added any more: the realm is lost as soon as the engine looks at its limits.
    fn empty(&mut self) {}
}
impl Heavy for String {
    fn bytes(&self) -> usize {
        self.len()
    }
    fn empty(&mut self) {
        *self = String::new();
    }
}
impl Heavy for Vec<String> {
    fn bytes(&self) -> usize {
        self.iter().map(String::len).sum()
    }
    fn empty(&mut self) {
        self.clear();
    }
}
impl Heavy for bool {}
impl Heavy for u32 {}
impl Heavy for i64 {}
impl Heavy for f64 {}

/// The node that a script means. Our own scripts mean none that is not there; whoever else came by a native is given the document.
pub(crate) fn known(doc: &Document, node: u32) -> NodeId {
    let id = NodeId(node);
    if doc.contains_id(id) { id } else { Document::ROOT }
}

/// A node as scripts see it.
pub(crate) fn number(id: Option<NodeId>) -> i64 {
    id.map_or(-1, |n| i64::from(n.0))
}

/// Nodes as scripts see them.
pub(crate) fn numbers(ids: impl IntoIterator<Item = NodeId>) -> Vec<u32> {
    ids.into_iter().map(|n| n.0).collect()
}

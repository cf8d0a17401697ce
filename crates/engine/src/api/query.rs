//! Finding nodes: selectors, ids, tags, classes.

use std::rc::Rc;

use fidelon_dom::{Document, NodeId, Selectors};
use rquickjs::{Ctx, Exception};

use super::{Natives, known, number, numbers, reads};
use crate::host::Host;

fn selectors(ctx: &Ctx<'_>, host: &Host, text: &str) -> rquickjs::Result<Rc<Selectors>> {
    if let Some(found) = host.selectors.borrow().get(text) {
        return Ok(found.clone());
    }
    match Selectors::parse(text) {
        Ok(parsed) => {
            let parsed = Rc::new(parsed);
            host.selectors.borrow_mut().insert(text.to_owned(), parsed.clone());
            Ok(parsed)
        }
        Err(error) => {
            let make: rquickjs::Function<'_> = ctx.eval("(m) => new DOMException(m, 'SyntaxError')")?;
            let exception: rquickjs::Value<'_> = make
                .call((format!("'{text}' is not a valid selector: {error}"),))
                .map_err(|_| Exception::throw_syntax(ctx, &error.message))?;
            Err(ctx.throw(exception))
        }
    }
}

pub(crate) fn register(n: &mut Natives<'_, '_>) -> rquickjs::Result<()> {
    let host = n.host.clone();
    n.add("query", move |ctx: Ctx<'_>, root: u32, text: String| -> rquickjs::Result<i64> {
        let s = selectors(&ctx, &host, &text)?;
        let doc = host.doc.borrow();
        Ok(number(s.query(&doc, known(&doc, root))))
    })?;
    let host = n.host.clone();
    n.add("query_all", move |ctx: Ctx<'_>, root: u32, text: String| -> rquickjs::Result<Vec<u32>> {
        let s = selectors(&ctx, &host, &text)?;
        let doc = host.doc.borrow();
        Ok(numbers(s.query_all(&doc, known(&doc, root))))
    })?;
    let host = n.host.clone();
    n.add("matches", move |ctx: Ctx<'_>, node: u32, text: String| -> rquickjs::Result<bool> {
        let s = selectors(&ctx, &host, &text)?;
        let doc = host.doc.borrow();
        let id = known(&doc, node);
        Ok(s.matches(&doc, id, Some(id)))
    })?;
    let host = n.host.clone();
    n.add("closest", move |ctx: Ctx<'_>, node: u32, text: String| -> rquickjs::Result<i64> {
        let s = selectors(&ctx, &host, &text)?;
        let doc = host.doc.borrow();
        let id = known(&doc, node);
        Ok(number(std::iter::once(id).chain(doc.ancestors(id)).find(|a| s.matches(&doc, *a, Some(id)))))
    })?;
    reads!(n,
        "by_id" => |doc, id, name: String| number(if name.is_empty() { None } else { doc.by_id(id, &name) });
        "by_tag" => |doc, id, name: String| numbers(by_tag(&doc, id, &name));
        "by_class" => |doc, id, names: Vec<String>| numbers(doc.descendants(id).filter(|d| {
            !names.is_empty() && doc.element(*d).is_some_and(|e| names.iter().all(|n| e.classes().any(|c| c == n)))
        }));
    );
    Ok(())
}

fn by_tag(doc: &Document, root: NodeId, name: &str) -> Vec<NodeId> {
    let lower = name.to_ascii_lowercase();
    doc.descendants(root)
        .filter(|d| {
            doc.element(*d).is_some_and(|e| {
                name == "*" || *e.local == *(if e.namespace == fidelon_dom::Namespace::Html { lower.as_str() } else { name })
            })
        })
        .collect()
}

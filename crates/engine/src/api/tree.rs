//! Nodes, attributes and HTML in and out.

use fidelon_dom::{Document, Element, InsertError, Namespace, NodeData, NodeId, form, parse, serialize};

use super::{Natives, known, number, numbers, reads, writes};

pub(crate) fn register(n: &mut Natives<'_, '_>) -> rquickjs::Result<()> {
    links(n)?;
    attributes(n)?;
    creation(n)?;
    changes(n)
}

fn links(n: &mut Natives<'_, '_>) -> rquickjs::Result<()> {
    reads!(n,
        "kind" => |doc, id| kind(&doc, id);
        "node_type" => |doc, id| node_type(&doc, id);
        "node_name" => |doc, id| node_name(&doc, id);
        "prefix" => |doc, id| doc.element(id).and_then(|e| e.prefix.as_deref()).unwrap_or_default().to_owned();
        "local_name" => |doc, id| doc.local_name(id).unwrap_or("").to_owned();
        "namespace" => |doc, id| doc.element(id).map_or(String::new(), |e| e.namespace.uri().to_owned());
        "is_html" => |doc, id| doc.element(id).is_some_and(|e| e.namespace == Namespace::Html);
        "parent" => |doc, id| number(doc.node(id).parent);
        "first" => |doc, id| number(doc.node(id).first);
        "last" => |doc, id| number(doc.node(id).last);
        "prev" => |doc, id| number(doc.node(id).prev);
        "next" => |doc, id| number(doc.node(id).next);
        "children" => |doc, id| numbers(doc.children(id));
        "child_element_count" => |doc, id| u32::try_from(doc.children(id).filter(|c| doc.element(*c).is_some()).count()).unwrap_or(u32::MAX);
        "relinked" => |doc, id| doc.relinked(id);
        "first_element" => |doc, id| number(doc.first_element(id));
        "last_element" => |doc, id| number(doc.last_element(id));
        "child_elements" => |doc, id| numbers(doc.children(id).filter(|c| doc.element(*c).is_some()));
        "descendants" => |doc, id| numbers(doc.descendants(id));
        "path" => |doc, id| numbers(std::iter::once(id).chain(doc.ancestors(id)));
        "root" => |doc, id| doc.root_of(id).0;
        "index" => |doc, id| u32::try_from(std::iter::successors(doc.node(id).prev, |s| doc.node(*s).prev).count()).unwrap_or(u32::MAX);
        "connected" => |doc, id| doc.is_connected(id);
        "contains" => |doc, id, other: u32| doc.is_inclusive_ancestor(id, known(&doc, other));
        "compare" => |doc, id, other: u32| compare(&doc, id, known(&doc, other));
        "text" => |doc, id| doc.text_content(id);
        "inner_html" => |doc, id| serialize::inner_html(&doc, id);
        "equal" => |doc, id, other: u32| doc.is_equal(id, known(&doc, other));
        "outer_html" => |doc, id| serialize::outer_html(&doc, id);
        "xml" => |doc, id| serialize::xml(&doc, id);
        "template" => |doc, id| number(doc.element(id).and_then(|e| e.template));
        "sibling_element" => |doc, id, forward: bool| number(
            std::iter::successors(Some(id), |s| if forward { doc.node(*s).next } else { doc.node(*s).prev })
                .skip(1)
                .find(|s| doc.element(*s).is_some()));
    );
    for (name, count) in [("shape", Document::shape as fn(&Document) -> u64), ("changes", Document::changes)] {
        let host = n.host.clone();
        #[allow(clippy::cast_precision_loss, reason = "a document is not changed 2^53 times")]
        n.add(name, move || count(&host.doc.borrow()) as f64)?;
    }
    for (name, get) in [
        ("document_element", Document::document_element as fn(&Document) -> Option<NodeId>),
        ("head", Document::head),
        ("body", Document::body),
    ] {
        let host = n.host.clone();
        n.add(name, move || number(get(&host.doc.borrow())))?;
    }
    Ok(())
}

fn attributes(n: &mut Natives<'_, '_>) -> rquickjs::Result<()> {
    reads!(n,
        "attr" => |doc, id, name: String| doc.attr(id, &name).map(str::to_owned);
        "attr_ns" => |doc, id, ns: String, local: String| doc.attrs(id).iter()
            .find(|a| a.namespace.as_deref().unwrap_or("") == ns && a.local_name() == local)
            .map(|a| a.value.clone());
        "attr_names" => |doc, id| doc.attrs(id).iter().map(|a| a.name.to_string()).collect::<Vec<_>>();
    );
    writes!(n,
        "set_attr" => |doc, id, name: String, value: String| { doc.note_autofocus(&name); if let Some(e) = doc.element_mut(id) { form::retyping(e, &name, |e| e.set_attr(&name, &value)) } };
        "set_attr_ns" => |doc, id, ns: String, name: String, value: String| if let Some(e) = doc.element_mut(id) { e.set_attr_ns(Some(&ns), &name, &value) };
        "remove_attr" => |doc, id, name: String| doc.element_mut(id).is_some_and(|e| form::retyping(e, &name, |e| e.remove_attr(&name)));
    );
    Ok(())
}

fn creation(n: &mut Natives<'_, '_>) -> rquickjs::Result<()> {
    let host = n.host.clone();
    n.add("create_element", move |ns: String, name: String| {
        let namespace = Namespace::from_uri(&ns);
        let (prefix, local) = match name.split_once(':') {
            Some((prefix, local)) => (Some(prefix.into()), local),
            None => (None, name.as_str()),
        };
        let mut element = Element::new(namespace, local);
        element.prefix = prefix;
        host.doc.borrow_mut().push_element(element).0
    })?;
    let host = n.host.clone();
    n.add("create_html", move |name: String| host.doc.borrow_mut().push_element(Element::new(Namespace::Html, &name)).0)?;
    let text = |text: String| NodeData::Text(text.into());
    for (name, make) in [("create_text", text as fn(String) -> NodeData), ("create_comment", NodeData::Comment)] {
        let host = n.host.clone();
        n.add(name, move |super::Text(text): super::Text| {
            host.meter.weight().add(text.len());
            let text = if host.meter.weight().is_over() { String::new() } else { text };
            host.doc.borrow_mut().push(make(text)).0
        })?;
    }
    let host = n.host.clone();
    n.add("create_fragment", move || host.doc.borrow_mut().push(NodeData::Fragment).0)?;
    let host = n.host.clone();
    n.add("create_document", move || host.doc.borrow_mut().push(NodeData::Document).0)?;
    let host = n.host.clone();
    n.add("create_doctype", move |name: String| host.doc.borrow_mut().push(NodeData::Doctype(name)).0)?;
    let host = n.host.clone();
    n.add("create_instruction", move |target: String, data: String| {
        host.meter.weight().add(target.len() + data.len());
        host.doc.borrow_mut().push(NodeData::Instruction(target.into(), data)).0
    })?;
    let host = n.host.clone();
    // What is wrong with a text of XML; empty where it is put into the node as a tree.
    n.add("parse_xml", move |into: u32, text: String| {
        host.meter.weight().add(text.len());
        if host.meter.weight().is_over() {
            return "it is too long".to_owned();
        }
        let mut doc = host.doc.borrow_mut();
        let into = known(&doc, into);
        super::xml::parse(&mut doc, into, &text).err().unwrap_or_default()
    })?;
    let host = n.host.clone();
    // The two identifiers of its doctype, and `quirks` where it is in that mode.
    n.add("parse_html", move |into: u32, text: String| {
        host.meter.weight().add(text.len());
        if host.meter.weight().is_over() {
            return Vec::new();
        }
        let mut doc = host.doc.borrow_mut();
        let into = known(&doc, into);
        let kind = parse::document_into(&mut doc, into, &text);
        vec![kind.public_id, kind.system_id, if kind.quirks { "quirks".to_owned() } else { String::new() }]
    })?;
    let host = n.host.clone();
    n.add("clone", move |node: u32, deep: bool| {
        let mut doc = host.doc.borrow_mut();
        let node = known(&doc, node);
        if deep {
            host.meter.weight().add(doc.text_content(node).len());
        }
        let deep = deep && !host.meter.weight().is_over();
        doc.clone_node(node, deep).0
    })?;
    writes!(n,
        "fragment" => |doc, id, html: String| { doc.note_autofocus(&html); parse::fragment(&mut doc, id, &html).0 };
    );
    Ok(())
}

fn changes(n: &mut Natives<'_, '_>) -> rquickjs::Result<()> {
    writes!(n,
        "insert" => |doc, id, child: u32, before: i64| {
            let before = u32::try_from(before).ok().map(|b| known(&doc, b));
            // A fragment is empty once it was inserted: what it holds is asked before.
            let child = known(&doc, child);
            let wanting = doc.wanting_focus(child);
            match doc.insert(id, child, before) {
                Ok(()) => number(wanting),
                Err(InsertError::Hierarchy) => -2,
                Err(InsertError::NotFound) => -3,
            }
        };
        "detach" => |doc, id| doc.detach(id);
        "set_text" => |doc, id, text: String| doc.set_text_content(id, &text);
        "set_inner_html" => |doc, id, html: String| {
            doc.note_autofocus(&html);
            let target = doc.element(id).and_then(|e| e.template).unwrap_or(id);
            let fragment = parse::fragment(&mut doc, id, &html);
            doc.set_text_content(target, "");
            let _ = doc.insert(target, fragment, None);
        };
    );
    Ok(())
}

fn kind(doc: &Document, id: NodeId) -> String {
    match &doc.node(id).data {
        NodeData::Element(e) => match e.namespace {
            Namespace::Html => format!("h:{}", e.local),
            Namespace::Svg => format!("s:{}", e.local),
            Namespace::MathMl => format!("m:{}", e.local),
            Namespace::Other(_) => format!("o:{}", e.local),
        },
        NodeData::Text(_) => "3".into(),
        NodeData::Comment(_) => "8".into(),
        NodeData::Instruction(..) => "7".into(),
        NodeData::Document => "9".into(),
        NodeData::Doctype(_) => "d".into(),
        NodeData::Fragment => "11".into(),
        NodeData::Shadow(_) => "r".into(),
    }
}

fn node_type(doc: &Document, id: NodeId) -> u32 {
    match &doc.node(id).data {
        NodeData::Element(_) => 1,
        NodeData::Text(_) => 3,
        NodeData::Comment(_) => 8,
        NodeData::Instruction(..) => 7,
        NodeData::Document => 9,
        NodeData::Doctype(_) => 10,
        NodeData::Fragment | NodeData::Shadow(_) => 11,
    }
}

fn node_name(doc: &Document, id: NodeId) -> String {
    match &doc.node(id).data {
        NodeData::Element(e) => {
            let mut name = match &e.prefix {
                Some(prefix) => format!("{prefix}:{}", e.local),
                None => e.local.to_string(),
            };
            if e.namespace == Namespace::Html {
                name.make_ascii_uppercase();
            }
            name
        }
        NodeData::Text(_) => "#text".into(),
        NodeData::Comment(_) => "#comment".into(),
        NodeData::Instruction(target, _) => target.to_string(),
        NodeData::Document => "#document".into(),
        NodeData::Doctype(name) => name.clone(),
        NodeData::Fragment | NodeData::Shadow(_) => "#document-fragment".into(),
    }
}

/// `compareDocumentPosition` (DOM §4.4).
fn compare(doc: &Document, a: NodeId, b: NodeId) -> u32 {
    const DISCONNECTED: u32 = 1;
    const PRECEDING: u32 = 2;
    const FOLLOWING: u32 = 4;
    const CONTAINS: u32 = 8;
    const CONTAINED_BY: u32 = 16;
    const IMPLEMENTATION_SPECIFIC: u32 = 32;
    if a == b {
        return 0;
    }
    if doc.root_of(a) != doc.root_of(b) {
        return DISCONNECTED | IMPLEMENTATION_SPECIFIC | if b < a { PRECEDING } else { FOLLOWING };
    }
    if doc.is_inclusive_ancestor(b, a) {
        return CONTAINS | PRECEDING;
    }
    if doc.is_inclusive_ancestor(a, b) {
        return CONTAINED_BY | FOLLOWING;
    }
    let first = doc.inclusive_descendants(doc.root_of(a)).find(|n| *n == a || *n == b);
    if first == Some(b) { PRECEDING } else { FOLLOWING }
}

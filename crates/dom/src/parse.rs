//! HTML text to nodes: html5ever's tree builder writes straight into a [`Document`] (HTML §13.2).

use std::borrow::Cow;
use std::cell::{Ref, RefCell};
use std::rc::Rc;
use std::sync::Arc;

use html5ever::driver::parse_fragment_for_element;
use html5ever::interface::{ElemName, ElementFlags, NodeOrText, QuirksMode, TreeSink};
use html5ever::tendril::{StrTendril, TendrilSink};
use html5ever::{Attribute, LocalName, Namespace as HtmlNamespace, ParseOpts, QualName, parse_document};
use rustc_hash::FxHashMap;

use crate::element::{Attr, Element, Namespace};
use crate::tree::{Document, NodeData, NodeId};

struct Sink<'a> {
    doc: RefCell<&'a mut Document>,
    /// The node that stands for the document: node 0, or a scratch node when a fragment is parsed.
    root: NodeId,
    /// The names of what was made here: the tree builder asks for those of all open elements again and again.
    names: RefCell<FxHashMap<NodeId, Rc<QualName>>>,
    kind: RefCell<Kind>,
}

/// What the beginning of a text says of the document.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Kind {
    /// The public identifier of its doctype.
    pub public_id: String,
    /// The system identifier of its doctype.
    pub system_id: String,
    /// Whether it is in quirks mode (HTML §13.2.6.4.1).
    pub quirks: bool,
}

/// The name of an element while the document is borrowed.
#[derive(Debug)]
struct Name(Rc<QualName>);

impl ElemName for Name {
    fn ns(&self) -> &HtmlNamespace {
        &self.0.ns
    }
    fn local_name(&self) -> &LocalName {
        &self.0.local
    }
}

fn attrs_of(attrs: Vec<Attribute>) -> Vec<Attr> {
    attrs
        .into_iter()
        .map(|a| Attr {
            namespace: (!a.name.ns.is_empty()).then(|| Box::from(&*a.name.ns)),
            name: match &a.name.prefix {
                Some(prefix) if !prefix.is_empty() => format!("{prefix}:{}", a.name.local).into(),
                _ => (*a.name.local).into(),
            },
            value: a.value.to_string(),
        })
        .collect()
}

impl Sink<'_> {
    fn insert(&self, parent: NodeId, child: NodeOrText<NodeId>, before: Option<NodeId>) {
        let mut doc = self.doc.borrow_mut();
        match child {
            NodeOrText::AppendNode(node) => {
                // The tree builder only asks for what the standard allows.
                let _ = doc.insert(parent, node, before);
            }
            NodeOrText::AppendText(text) => {
                let neighbour = match before {
                    Some(before) => doc.node(before).prev,
                    None => doc.node(parent).last,
                };
                if let Some(neighbour) = neighbour
                    && let NodeData::Text(old) = doc.data_mut(neighbour)
                {
                    Arc::make_mut(old).push_str(&text);
                    return;
                }
                let node = doc.push(NodeData::Text(Arc::new(text.to_string())));
                let _ = doc.insert(parent, node, before);
            }
        }
    }
}

impl TreeSink for Sink<'_> {
    type Handle = NodeId;
    type Output = Kind;
    type ElemName<'b>
        = Name
    where
        Self: 'b;

    fn finish(self) -> Kind {
        self.kind.into_inner()
    }
    fn parse_error(&self, _: Cow<'static, str>) {}
    fn get_document(&self) -> NodeId {
        self.root
    }
    fn elem_name<'b>(&'b self, target: &'b NodeId) -> Name {
        let name = self.names.borrow().get(target).cloned();
        Name(name.unwrap_or_else(|| {
            let doc: Ref<'_, &mut Document> = self.doc.borrow();
            let element = doc.element(*target).expect("html5ever names elements only");
            Rc::new(QualName::new(None, HtmlNamespace::from(element.namespace.uri()), LocalName::from(&*element.local)))
        }))
    }
    fn create_element(&self, name: QualName, attrs: Vec<Attribute>, _: ElementFlags) -> NodeId {
        let mut element = Element::new(Namespace::from_uri(&name.ns), &name.local);
        element.attrs = attrs_of(attrs);
        let id = self.doc.borrow_mut().push_element(element);
        self.names.borrow_mut().insert(id, Rc::new(name));
        id
    }
    fn create_comment(&self, text: StrTendril) -> NodeId {
        self.doc.borrow_mut().push(NodeData::Comment(text.to_string()))
    }
    fn create_pi(&self, target: StrTendril, data: StrTendril) -> NodeId {
        self.doc.borrow_mut().push(NodeData::Comment(format!("?{target} {data}")))
    }
    fn append(&self, parent: &NodeId, child: NodeOrText<NodeId>) {
        self.insert(*parent, child, None);
    }
    fn append_based_on_parent_node(&self, element: &NodeId, prev_element: &NodeId, child: NodeOrText<NodeId>) {
        let parent = self.doc.borrow().node(*element).parent;
        match parent {
            Some(parent) => self.insert(parent, child, Some(*element)),
            None => self.insert(*prev_element, child, None),
        }
    }
    fn append_doctype_to_document(&self, name: StrTendril, public_id: StrTendril, system_id: StrTendril) {
        let mut kind = self.kind.borrow_mut();
        (kind.public_id, kind.system_id) = (public_id.to_string(), system_id.to_string());
        let mut doc = self.doc.borrow_mut();
        let node = doc.push(NodeData::Doctype(name.to_string()));
        let _ = doc.insert(self.root, node, None);
    }
    fn get_template_contents(&self, target: &NodeId) -> NodeId {
        let doc = self.doc.borrow();
        doc.element(*target).and_then(|e| e.template).expect("html5ever asks for the contents of templates only")
    }
    fn same_node(&self, x: &NodeId, y: &NodeId) -> bool {
        x == y
    }
    fn set_quirks_mode(&self, mode: QuirksMode) {
        self.kind.borrow_mut().quirks = matches!(mode, QuirksMode::Quirks);
    }
    fn append_before_sibling(&self, sibling: &NodeId, new_node: NodeOrText<NodeId>) {
        let parent = self.doc.borrow().node(*sibling).parent;
        if let Some(parent) = parent {
            self.insert(parent, new_node, Some(*sibling));
        }
    }
    fn add_attrs_if_missing(&self, target: &NodeId, attrs: Vec<Attribute>) {
        if let Some(element) = self.doc.borrow_mut().element_mut(*target) {
            for attr in attrs_of(attrs) {
                if !element.has_attr(&attr.name) {
                    element.attrs.push(attr);
                }
            }
        }
    }
    fn remove_from_parent(&self, target: &NodeId) {
        self.doc.borrow_mut().detach(*target);
    }
    fn reparent_children(&self, node: &NodeId, new_parent: &NodeId) {
        let mut doc = self.doc.borrow_mut();
        let children: Vec<_> = doc.children(*node).collect();
        for child in children {
            let _ = doc.insert(*new_parent, child, None);
        }
    }
}

/// A whole document from its text.
pub fn document(html: &str) -> Document {
    let mut doc = Document::new();
    document_into(&mut doc, Document::ROOT, html);
    doc
}

/// A whole document as the content of a node that stands for one.
pub fn document_into(doc: &mut Document, root: NodeId, html: &str) -> Kind {
    let sink = Sink { doc: RefCell::new(doc), root, names: RefCell::default(), kind: RefCell::default() };
    parse_document(sink, ParseOpts::default()).one(html)
}

/// Parses `html` as the content of an element like `context` (HTML §13.4); gives a fragment with the nodes.
pub fn fragment(doc: &mut Document, context: NodeId, html: &str) -> NodeId {
    let form = std::iter::once(context).chain(doc.ancestors(context)).find(|a| doc.is_html(*a, "form"));
    let context = if doc.element(context).is_some() { context } else { doc.create_element("body") };
    // html5ever appends a root <html> to "the document": a scratch fragment takes it here.
    let root = doc.push(NodeData::Fragment);
    let sink = Sink { doc: RefCell::new(doc), root, names: RefCell::default(), kind: RefCell::default() };
    parse_fragment_for_element(sink, ParseOpts::default(), context, true, form).one(html);
    let out = doc.push(NodeData::Fragment);
    if let Some(html) = doc.node(root).first {
        let children: Vec<_> = doc.children(html).collect();
        for child in children {
            doc.append(out, child);
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::serialize::inner_html;

    #[test]
    fn fragments_follow_their_context() {
        for (context, html, out) in [
            ("div", "<p>Mug<p>Bowl", "<p>Mug</p><p>Bowl</p>"),
            ("tbody", "<tr><td>Mug", "<tr><td>Mug</td></tr>"),
            ("div", "<tr><td>Mug", "Mug"),
            ("div", "a &amp; b<br>c", "a &amp; b<br>c"),
            ("div", "<template><b>x</b></template>", "<template><b>x</b></template>"),
            ("div", "<svg><linearGradient></linearGradient></svg>", "<svg><linearGradient></linearGradient></svg>"),
            ("textarea", "<b>x</b>", "&lt;b&gt;x&lt;/b&gt;"),
        ] {
            let mut doc = Document::blank();
            let element = doc.create_element(context);
            let fragment = fragment(&mut doc, element, html);
            assert_eq!(inner_html(&doc, fragment), out, "{context}: {html}");
        }
    }

    #[test]
    fn a_document_gets_its_skeleton() {
        let doc = document("<title>Kiln</title><p>hot");
        assert!(doc.head().is_some());
        let body = doc.body().expect("made by the parser");
        assert_eq!(doc.text_content(body), "hot");
    }
}

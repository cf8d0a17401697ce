//! An element as it stands in a document, told so that its source can be found: the tag that was written, and those around it.

use fidelon_dom::{Document, NodeId};

/// Elements around one that are told of it.
const AROUND: usize = 8;
/// Elements of a document that are looked at, to tell one from those alike.
const MOST: usize = 20_000;

/// An element of a document and those around it.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct ElementTrace {
    /// The element, then what it stands in, from within.
    pub elements: Vec<TracedElement>,
    /// Which it is of those with the same tag and attributes, in the order of the document, from 0.
    pub index: usize,
    /// How many those are.
    pub count: usize,
}

/// One of them.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct TracedElement {
    /// Its local name.
    pub tag: String,
    /// Its attributes by name.
    pub attributes: Vec<(String, String)>,
    /// The texts right in it, with single spaces.
    pub text: String,
}

impl ElementTrace {
    /// The trace of an element of a document; none for what is no element.
    pub fn of(doc: &Document, node: NodeId) -> Option<Self> {
        let told = |node: NodeId| {
            let attributes = doc.element(node)?.attrs.iter().map(|a| (a.name.to_string(), a.value.to_string()));
            let texts = doc.children(node).filter(|n| doc.element(*n).is_none()).map(|n| doc.text_content(n)).collect::<String>();
            Some(TracedElement {
                tag: doc.local_name(node)?.to_owned(),
                attributes: attributes.collect(),
                text: texts.split_whitespace().collect::<Vec<_>>().join(" "),
            })
        };
        let elements: Vec<TracedElement> = std::iter::once(node).chain(doc.flat_ancestors(node)).filter_map(told).take(AROUND).collect();
        let first = doc.element(node)?;
        let is_alike = |n: &NodeId| doc.element(*n).is_some_and(|other| other.local == first.local && other.attrs == first.attrs);
        let alike: Vec<NodeId> = doc.composed_descendants(doc.body()?).take(MOST).filter(is_alike).collect();
        let index = alike.iter().position(|n| *n == node).unwrap_or_default();
        let count = alike.len().max(1);
        Some(Self { elements, index, count })
    }
}

#[cfg(test)]
mod tests {
    use fidelon_dom::parse;

    use super::*;

    #[test]
    fn an_element_is_told_with_what_is_around_it_and_which_of_those_alike_it_is() {
        let doc = parse::document("<ul class=kiln><li><a href='#'>Glaze</a><li><a href='#'>Bisque\n firing</a></ul>");
        let links: Vec<NodeId> = doc.composed_descendants(doc.body().expect("there")).filter(|n| doc.is_html(*n, "a")).collect();
        let trace = ElementTrace::of(&doc, links[1]).expect("it is an element");
        let tags: Vec<&str> = trace.elements.iter().map(|e| e.tag.as_str()).collect();
        assert_eq!(tags, ["a", "li", "ul", "body", "html"]);
        assert_eq!((trace.index, trace.count, trace.elements[0].text.as_str()), (1, 2, "Bisque firing"));
        assert_eq!(trace.elements[2].attributes, [("class".to_owned(), "kiln".to_owned())]);
        let text = doc.children(links[0]).next().expect("it has a text");
        assert_eq!(ElementTrace::of(&doc, text), None);
    }
}

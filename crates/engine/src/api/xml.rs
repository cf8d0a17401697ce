//! Texts of XML as trees (XML 1.0, Namespaces in XML 1.0): what `DOMParser` makes of icons and feeds.

use fidelon_dom::{Attr, Document, Element, Namespace, NodeData, NodeId};
use quick_xml::events::{BytesStart, Event};
use quick_xml::name::ResolveResult;
use quick_xml::{NsReader, XmlVersion};

/// How deep elements nest at most.
const MOST_DEPTH: usize = 2_000;

/// Puts the tree of a text below a node.
///
/// # Errors
/// What is wrong with the text; what came before it is in the tree.
pub(super) fn parse(doc: &mut Document, into: NodeId, text: &str) -> Result<(), String> {
    let mut reader = NsReader::from_str(text);
    reader.config_mut().check_end_names = true;
    let mut open = vec![into];
    let mut elements = 0usize;
    loop {
        let event = reader.read_event().map_err(|e| e.to_string())?;
        let parent = *open.last().unwrap_or(&into);
        match event {
            Event::Start(start) => {
                let element = element_of(&start, &reader)?;
                let node = doc.push_element(element);
                append(doc, parent, node)?;
                elements += usize::from(parent == into);
                open.push(node);
                if open.len() > MOST_DEPTH {
                    return Err("it nests too deep".into());
                }
            }
            Event::Empty(start) => {
                let element = element_of(&start, &reader)?;
                let node = doc.push_element(element);
                append(doc, parent, node)?;
                elements += usize::from(parent == into);
            }
            Event::End(_) => drop(open.pop()),
            Event::Text(text) => {
                let text = text.decode().map_err(|e| e.to_string())?;
                put_text(doc, parent, into, &text)?;
            }
            Event::CData(data) => {
                let text = data.decode().map_err(|e| e.to_string())?;
                put_text(doc, parent, into, &text)?;
            }
            Event::GeneralRef(reference) => {
                let text = match reference.resolve_char_ref().map_err(|e| e.to_string())? {
                    Some(c) => c.to_string(),
                    None => match &*reference.decode().map_err(|e| e.to_string())? {
                        "lt" => "<".to_owned(),
                        "gt" => ">".to_owned(),
                        "amp" => "&".to_owned(),
                        "apos" => "'".to_owned(),
                        "quot" => "\"".to_owned(),
                        other => return Err(format!("the entity `{other}` is not known")),
                    },
                };
                put_text(doc, parent, into, &text)?;
            }
            Event::Comment(text) => {
                let text = text.decode().map_err(|e| e.to_string())?.into_owned();
                let node = doc.push(NodeData::Comment(text));
                append(doc, parent, node)?;
            }
            Event::PI(instruction) => {
                let target = String::from_utf8_lossy(instruction.target()).into_owned();
                let data = String::from_utf8_lossy(instruction.content()).trim_start().to_owned();
                let node = doc.push(NodeData::Instruction(target.into(), data));
                append(doc, parent, node)?;
            }
            Event::DocType(written) => {
                let text = written.decode().map_err(|e| e.to_string())?;
                let name = text.split_whitespace().next().unwrap_or_default().to_owned();
                let node = doc.push(NodeData::Doctype(name));
                append(doc, parent, node)?;
            }
            Event::Decl(_) => {}
            Event::Eof => break,
        }
    }
    match (open.len(), elements) {
        (1, 1) => Ok(()),
        (1, 0) => Err("it has no element".into()),
        (1, _) => Err("there is more than one element at the top".into()),
        _ => Err("an element is not closed".into()),
    }
}

fn append(doc: &mut Document, parent: NodeId, node: NodeId) -> Result<(), String> {
    doc.insert(parent, node, None).map_err(|_| "a node stands where it must not".to_owned())
}

/// Text outside of all elements may be blank.
fn put_text(doc: &mut Document, parent: NodeId, into: NodeId, text: &str) -> Result<(), String> {
    if parent == into {
        return if text.trim().is_empty() { Ok(()) } else { Err("text stands outside of all elements".into()) };
    }
    if let Some(last) = doc.node(parent).last
        && let NodeData::Text(before) = &doc.node(last).data
    {
        let joined = format!("{before}{text}");
        doc.set_text_content(last, &joined);
        return Ok(());
    }
    let node = doc.push(NodeData::Text(text.to_owned().into()));
    append(doc, parent, node)
}

fn element_of(start: &BytesStart<'_>, reader: &NsReader<&[u8]>) -> Result<Element, String> {
    let name = start.name();
    let text = |bytes: &[u8]| String::from_utf8_lossy(bytes).into_owned();
    let namespace = match reader.resolver().resolve_element(name).0 {
        ResolveResult::Bound(uri) => Namespace::from_uri(&text(uri.as_ref())),
        ResolveResult::Unbound => Namespace::from_uri(""),
        ResolveResult::Unknown(prefix) => return Err(format!("the prefix `{}` is bound to no namespace", text(&prefix))),
    };
    let mut element = Element::new(namespace, &text(name.local_name().as_ref()));
    element.prefix = name.prefix().map(|prefix| text(prefix.as_ref()).into());
    for attribute in start.attributes() {
        let attribute = attribute.map_err(|e| e.to_string())?;
        let value = attribute.normalized_value(XmlVersion::Implicit1_0).map_err(|e| e.to_string())?;
        element.attrs.push(Attr { namespace: None, name: text(attribute.key.as_ref()).into(), value: value.into_owned() });
    }
    Ok(element)
}

//! Nodes to text: HTML as `innerHTML` gives it (HTML §13.3), indented markup for people, and an outline.

use std::fmt::Write as _;

use crate::element::{Element, Namespace};
use crate::form;
use crate::tree::{Document, NodeData, NodeId};

/// Elements that never have an end tag (HTML §13.1.2).
pub const VOID: [&str; 14] =
    ["area", "base", "br", "col", "embed", "hr", "img", "input", "link", "meta", "source", "track", "wbr", "param"];

const RAW_TEXT: [&str; 7] = ["style", "script", "xmp", "iframe", "noembed", "noframes", "plaintext"];

pub(crate) fn escape(out: &mut String, text: &str, attribute: bool) {
    for c in text.chars() {
        match c {
            '&' => out.push_str("&amp;"),
            '\u{a0}' => out.push_str("&nbsp;"),
            '"' if attribute => out.push_str("&quot;"),
            '<' => out.push_str("&lt;"),
            '>' => out.push_str("&gt;"),
            c => out.push(c),
        }
    }
}

pub(crate) fn tag_name(element: &Element) -> String {
    match &element.prefix {
        Some(prefix) => format!("{prefix}:{}", element.local),
        None => element.local.to_string(),
    }
}

pub(crate) fn open_tag(out: &mut String, element: &Element, attrs: &[&crate::Attr]) {
    out.push('<');
    out.push_str(&tag_name(element));
    if let Some(is) = element.is.as_ref().filter(|_| !element.has_attr("is")) {
        let _ = write!(out, " is=\"{is}\"");
    }
    for attr in attrs {
        let _ = write!(out, " {}=\"", attr.name);
        escape(out, &attr.value, true);
        out.push('"');
    }
    out.push('>');
}

pub(crate) fn is_void(element: &Element) -> bool {
    element.namespace == Namespace::Html && VOID.contains(&&*element.local)
}

fn write_node(doc: &Document, id: NodeId, out: &mut String) {
    match &doc.node(id).data {
        NodeData::Element(element) => {
            open_tag(out, element, &element.attrs.iter().collect::<Vec<_>>());
            if is_void(element) {
                return;
            }
            write_children(doc, element.template.unwrap_or(id), out);
            let _ = write!(out, "</{}>", tag_name(element));
        }
        NodeData::Text(text) => {
            let raw = doc.node(id).parent.and_then(|p| doc.element(p)).is_some_and(|p| RAW_TEXT.contains(&&*p.local));
            if raw { out.push_str(text) } else { escape(out, text, false) }
        }
        NodeData::Comment(text) => {
            let _ = write!(out, "<!--{text}-->");
        }
        NodeData::Instruction(target, data) => {
            let _ = write!(out, "<?{target} {data}?>");
        }
        NodeData::Doctype(name) => {
            let _ = write!(out, "<!DOCTYPE {name}>");
        }
        NodeData::Document | NodeData::Fragment | NodeData::Shadow(_) => write_children(doc, id, out),
    }
}

/// A node as XML (DOM Parsing §3.2), which declares each namespace where it begins to count.
pub fn xml(doc: &Document, id: NodeId) -> String {
    let mut out = String::new();
    write_xml(doc, id, "", &mut out);
    out
}

fn write_xml(doc: &Document, id: NodeId, around: &str, out: &mut String) {
    match &doc.node(id).data {
        NodeData::Element(element) => {
            let prefix = element.prefix.as_ref().map_or_else(String::new, |p| format!("{p}:"));
            let name = format!("{prefix}{}", element.local);
            let uri = element.namespace.uri();
            let _ = write!(out, "<{name}");
            let declaration = if prefix.is_empty() { "xmlns".to_owned() } else { format!("xmlns:{}", prefix.trim_end_matches(':')) };
            let declared = element.attrs.iter().any(|a| *a.name == *declaration);
            if !declared && uri != around {
                let _ = write!(out, " {declaration}=\"");
                escape(out, uri, true);
                out.push('"');
            }
            for attr in &element.attrs {
                let _ = write!(out, " {}=\"", attr.name);
                escape(out, &attr.value, true);
                out.push('"');
            }
            let content = element.template.unwrap_or(id);
            let is_html = element.namespace == Namespace::Html;
            if doc.children(content).next().is_none() && (!is_html || is_void(element)) {
                out.push_str(if is_html { " />" } else { "/>" });
                return;
            }
            out.push('>');
            for child in doc.children(content) {
                write_xml(doc, child, uri, out);
            }
            let _ = write!(out, "</{name}>");
        }
        NodeData::Text(text) => escape(out, text, false),
        NodeData::Document | NodeData::Fragment | NodeData::Shadow(_) => {
            for child in doc.children(id) {
                write_xml(doc, child, around, out);
            }
        }
        NodeData::Comment(_) | NodeData::Instruction(..) | NodeData::Doctype(_) => write_node(doc, id, out),
    }
}

fn write_children(doc: &Document, id: NodeId, out: &mut String) {
    for child in doc.children(id) {
        write_node(doc, child, out);
    }
}

/// The children as HTML, as `innerHTML` gives them; of a template its contents.
pub fn inner_html(doc: &Document, id: NodeId) -> String {
    let mut out = String::new();
    if doc.element(id).is_some_and(is_void) {
        return out;
    }
    write_children(doc, doc.element(id).and_then(|e| e.template).unwrap_or(id), &mut out);
    out
}

/// The node as HTML, as `outerHTML` gives it.
pub fn outer_html(doc: &Document, id: NodeId) -> String {
    let mut out = String::new();
    write_node(doc, id, &mut out);
    out
}

/// Markup for people and for comparing: the children of `id`, one element a line, attributes in alphabetical order,
/// white space collapsed, comments left out, live form state written as the attributes that would give it.
pub fn markup(doc: &Document, id: NodeId) -> String {
    let mut out = String::new();
    markup_children(doc, id, 0, &mut out);
    out
}

fn markup_children(doc: &Document, id: NodeId, depth: usize, out: &mut String) {
    if let Some(root) = doc.shadow_of(id) {
        // As HTML writes a shadow tree (HTML §4.12.3).
        indent(out, depth);
        let mode = doc.as_shadow(root).map_or("", |s| s.mode.name());
        let _ = writeln!(out, "<template shadowrootmode=\"{mode}\">");
        markup_children(doc, root, depth + 1, out);
        indent(out, depth);
        out.push_str("</template>\n");
    }
    // Texts beside each other are one for whoever reads them, however many nodes they are.
    let mut run = String::new();
    for child in doc.children(id) {
        match &doc.node(child).data {
            NodeData::Text(text) => run.push_str(text),
            NodeData::Element(element) => {
                markup_text(&std::mem::take(&mut run), depth, out);
                markup_element(doc, child, element, depth, out);
            }
            _ => {}
        }
    }
    markup_text(&run, depth, out);
}

fn markup_text(text: &str, depth: usize, out: &mut String) {
    let text = collapse(text);
    if !text.is_empty() {
        indent(out, depth);
        escape(out, &text, false);
        out.push('\n');
    }
}

/// An element with its live form state as the attributes that would give it.
pub(crate) fn live(doc: &Document, id: NodeId, element: &Element) -> Element {
    let mut live = element.clone();
    if element.is_html("input") {
        match element.input_type().as_str() {
            "checkbox" | "radio" => {
                live.remove_attr("checked");
                if form::is_checked(element) {
                    live.set_attr("checked", "");
                }
            }
            "file" => {}
            _ => live.set_attr("value", &form::value(doc, id)),
        }
    } else if element.is_html("option") {
        live.remove_attr("selected");
        if form::is_selected(doc, id) {
            live.set_attr("selected", "");
        }
    }
    live
}

fn markup_element(doc: &Document, id: NodeId, element: &Element, depth: usize, out: &mut String) {
    let live = live(doc, id, element);
    let mut attrs: Vec<_> = live.attrs.iter().collect();
    attrs.sort_by(|a, b| a.name.cmp(&b.name));
    indent(out, depth);
    open_tag(out, &live, &attrs);
    if is_void(element) {
        out.push('\n');
        return;
    }
    let text_only = element.shadow.is_none() && doc.children(id).all(|c| !matches!(doc.node(c).data, NodeData::Element(_)));
    if element.is_html("textarea") {
        escape(out, &form::value(doc, id), false);
    } else if text_only {
        escape(out, &collapse(&doc.text_content(id)), false);
    } else {
        out.push('\n');
        markup_children(doc, id, depth + 1, out);
        indent(out, depth);
    }
    let _ = writeln!(out, "</{}>", tag_name(element));
}

fn indent(out: &mut String, depth: usize) {
    for _ in 0..depth {
        out.push_str("  ");
    }
}

/// Runs of white space become one space; none is left at the ends.
pub fn collapse(text: &str) -> String {
    text.split_ascii_whitespace().collect::<Vec<_>>().join(" ")
}

/// What a person finds below `id`: one line a node that has a role, a name, a value or a text of its own.
pub fn outline(doc: &Document, id: NodeId) -> String {
    let mut out = String::new();
    outline_children(doc, id, 0, &mut out);
    out
}

fn outline_children(doc: &Document, id: NodeId, depth: usize, out: &mut String) {
    for child in doc.flat_children(id) {
        match &doc.node(child).data {
            NodeData::Text(text) => {
                let text = collapse(text);
                if !text.is_empty() {
                    indent(out, depth);
                    let _ = writeln!(out, "“{text}”");
                }
            }
            // What is not displayed is not found.
            NodeData::Element(_) if !form::shows(doc, child) => {}
            NodeData::Element(element) => {
                let line = outline_line(doc, child, element);
                let deeper = if line.is_empty() { depth } else { depth + 1 };
                if !line.is_empty() {
                    indent(out, depth);
                    out.push_str(&line);
                    out.push('\n');
                }
                let name = crate::accessible_name(doc, child);
                let told = !line.is_empty() && !name.is_empty() && collapse(&doc.flat_text(child)) == name;
                if !told {
                    outline_children(doc, child, deeper, out);
                }
            }
            _ => {}
        }
    }
}

fn outline_line(doc: &Document, id: NodeId, element: &Element) -> String {
    let Some(role) = crate::role_of(doc, id) else { return String::new() };
    if role == "generic" || role == "none" || role == "presentation" {
        return String::new();
    }
    let mut line = role.to_string();
    let name = crate::accessible_name(doc, id);
    if !name.is_empty() {
        let _ = write!(line, " \"{name}\"");
    }
    if form::has_text_value(element) || element.is_html("select") || (element.is_html("input") && role == "slider") {
        let _ = write!(line, " = \"{}\"", form::value(doc, id));
    }
    match crate::role::ticked(doc, id) {
        Some(crate::role::Checkedness::Yes) => line.push_str(" [ticked]"),
        Some(crate::role::Checkedness::Mixed) => line.push_str(" [partly ticked]"),
        _ => {}
    }
    if form::is_disabled(doc, id) || element.attr("aria-disabled") == Some("true") {
        line.push_str(" [disabled]");
    }
    if doc.focused == Some(id) {
        line.push_str(" [focused]");
    }
    line
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::parse;

    #[test]
    fn text_and_attributes_are_escaped() {
        let doc = parse::document("<p title='a \"b\" < c'>1 < 2 &amp; 3\u{a0}x</p><script>a < b</script>");
        let body = doc.body().expect("body");
        assert_eq!(inner_html(&doc, body), "<p title=\"a &quot;b&quot; &lt; c\">1 &lt; 2 &amp; 3&nbsp;x</p><script>a < b</script>");
    }

    #[test]
    fn markup_shows_live_state() {
        let mut doc = parse::document("<label>  Cone <input value=6></label><textarea>x</textarea>");
        let body = doc.body().expect("body");
        let input = doc.descendants(body).find(|n| doc.is_html(*n, "input")).expect("input");
        doc.element_mut(input).expect("element").form.value = Some("10".into());
        assert_eq!(markup(&doc, body), "<label>\n  Cone\n  <input value=\"10\">\n</label>\n<textarea>x</textarea>\n");
    }

    #[test]
    fn the_outline_tells_roles_names_and_states() {
        let doc = parse::document(
            "<div><h2>Kiln</h2><button disabled>Raise</button><label>Vent <input type=checkbox checked></label>7 shelves</div>",
        );
        let body = doc.body().expect("body");
        assert_eq!(outline(&doc, body), "heading \"Kiln\"\nbutton \"Raise\" [disabled]\n“Vent”\ncheckbox \"Vent\" [ticked]\n“7 shelves”\n");
    }
}

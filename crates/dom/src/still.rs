//! A page as it stood: HTML that shows the same where no script runs. Form state that only scripts know becomes attributes, shadow trees are
//! declared (HTML §4.12.3), rules that scripts gave stand in `<style>`, and nothing that would run is left.

use std::collections::BTreeSet;

use crate::serialize::{escape, is_void, live, open_tag, tag_name};
use crate::tree::{Document, NodeData, NodeId};

/// A page as it stood.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Still {
    /// The rules of the page.
    pub styles: String,
    /// What is in its body.
    pub body: String,
}

/// The page of a snapshot as it stood.
pub fn still(doc: &Document) -> Still {
    let body = doc.body();
    let mut styles: Vec<String> = Vec::new();
    for id in doc.descendants(Document::ROOT).filter(|n| doc.is_sheet(*n)) {
        // Those within the body stand where they are.
        if body.is_none_or(|body| !doc.descendants(body).any(|n| n == id)) {
            styles.push(rules(doc, id));
        }
    }
    styles.push(doc.told_rules(Document::ROOT));
    styles.retain(|s| !s.trim().is_empty());
    let mut out = String::new();
    let overlays: BTreeSet<NodeId> = doc.overlays().iter().copied().collect();
    if let Some(body) = body {
        children(doc, body, &overlays, &mut out);
    }
    Still { styles: styles.join("\n"), body: out }
}

/// The text of a `<style>`, or the rules that scripts put into it.
fn rules(doc: &Document, id: NodeId) -> String {
    let text = doc.text_content(id);
    if text.trim().is_empty() { doc.told_rules(id) } else { text }
}

fn children(doc: &Document, id: NodeId, overlays: &BTreeSet<NodeId>, out: &mut String) {
    if let Some(root) = doc.shadow_of(id) {
        out.push_str("<template shadowrootmode=\"open\">");
        let adopted = doc.told_rules(root);
        if !adopted.is_empty() {
            out.push_str("<style>");
            out.push_str(&harmless(&adopted));
            out.push_str("</style>");
        }
        children(doc, root, overlays, out);
        out.push_str("</template>");
    }
    for child in doc.children(id) {
        node(doc, child, overlays, out);
    }
}

/// Rules that cannot end the element they stand in.
fn harmless(rules: &str) -> String {
    rules.replace("</", "<\\/")
}

fn node(doc: &Document, id: NodeId, overlays: &BTreeSet<NodeId>, out: &mut String) {
    let NodeData::Element(element) = &doc.node(id).data else {
        if let NodeData::Text(text) = &doc.node(id).data {
            escape(out, text, false);
        }
        return;
    };
    // Nothing of it would be shown, or it would run.
    if ["script", "noscript", "template", "base", "meta", "link"].iter().any(|tag| element.is_html(tag)) {
        return;
    }
    let mut shown = live(doc, id, element);
    // What only a script can open again is shown as it stands.
    if overlays.contains(&id) {
        shown.remove_attr("popover");
    }
    let runs = |name: &str| name.starts_with("on") || matches!(name, "autofocus" | "autoplay" | "srcdoc");
    let leads = |value: &str| value.trim_start().to_ascii_lowercase().starts_with("javascript:");
    let attrs: Vec<_> = shown.attrs.iter().filter(|a| !runs(&a.name.to_string().to_ascii_lowercase()) && !leads(&a.value)).collect();
    open_tag(out, &shown, &attrs);
    if is_void(element) {
        return;
    }
    if element.is_html("style") {
        out.push_str(&harmless(&rules(doc, id)));
    } else if element.is_html("textarea") {
        // A parser drops the first line break (HTML §13.2.6.4.7).
        out.push('\n');
        escape(out, &crate::form::value(doc, id), false);
    } else {
        children(doc, id, overlays, out);
    }
    out.push_str("</");
    out.push_str(&tag_name(element));
    out.push('>');
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::parse;

    #[test]
    fn live_state_is_kept_and_nothing_runs() {
        let mut doc = parse::document(
            "<head><style>p { color: red }</style></head><body><p onclick='run()' title=a>1 &lt; 2</p><script>run()</script>\
             <a href=' JavaScript:run()'>x</a><input value=6><textarea>a</textarea><style>b { top: 0 }</style></body>",
        );
        let body = doc.body().expect("body");
        let input = doc.descendants(body).find(|n| doc.is_html(*n, "input")).expect("input");
        doc.element_mut(input).expect("element").form.value = Some("10".into());
        let still = still(&doc.snapshot().0);
        assert_eq!(still.styles, "p { color: red }");
        assert_eq!(
            still.body,
            "<p title=\"a\">1 &lt; 2</p><a>x</a><input value=\"10\"><textarea>\na</textarea><style>b { top: 0 }</style>"
        );
    }
}

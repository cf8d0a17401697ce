//! Accessible names (accname 1.2 §4.3, with HTML-AAM §4.1 for the native ones).

use crate::element::Element;
use crate::form;
use crate::role::role_of;
use crate::serialize::collapse;
use crate::tree::{Document, NodeData, NodeId};

/// Roles whose name may come from their content (WAI-ARIA 1.2 §5.2.8.5).
const FROM_CONTENT: [&str; 22] = [
    "button",
    "cell",
    "checkbox",
    "columnheader",
    "gridcell",
    "heading",
    "link",
    "menuitem",
    "menuitemcheckbox",
    "menuitemradio",
    "option",
    "radio",
    "row",
    "rowheader",
    "sectionhead",
    "switch",
    "tab",
    "tooltip",
    "treeitem",
    "caption",
    "term",
    "definition",
];

/// The accessible name of an element, white space collapsed; empty when it has none.
pub fn accessible_name(doc: &Document, id: NodeId) -> String {
    let mut walk = Walk { doc, seen: Vec::new() };
    collapse(&walk.name(id, Part::Root))
}

#[derive(Clone, Copy, PartialEq, Eq)]
enum Part {
    Root,
    /// Reached through `aria-labelledby`.
    Reference,
    /// Reached as content of what is being named.
    Content,
}

struct Walk<'a> {
    doc: &'a Document,
    seen: Vec<NodeId>,
}

impl Walk<'_> {
    fn name(&mut self, id: NodeId, part: Part) -> String {
        let doc = self.doc;
        if self.seen.contains(&id) {
            return String::new();
        }
        self.seen.push(id);
        let Some(element) = doc.element(id) else {
            return match &doc.node(id).data {
                NodeData::Text(text) => text.to_string(),
                _ => String::new(),
            };
        };
        // 2A: what is hidden names nothing, unless it was asked for by reference.
        if part != Part::Reference && (element.attr("aria-hidden") == Some("true") || (part == Part::Content && form::is_hidden(doc, id))) {
            return String::new();
        }
        // 2B: aria-labelledby, followed once.
        if part != Part::Reference
            && let Some(ids) = element.attr("aria-labelledby")
        {
            let root = doc.root_of(id);
            let parts: Vec<_> = ids
                .split_ascii_whitespace()
                .filter_map(|r| doc.by_id(root, r))
                .map(|n| Walk { doc, seen: if n == id { Vec::new() } else { vec![id] } }.name(n, Part::Reference))
                .collect();
            let joined = collapse(&parts.join(" "));
            if !joined.is_empty() {
                return joined;
            }
        }
        let role = role_of(doc, id).unwrap_or("");
        // 2C: a control inside a label counts with its value.
        if part != Part::Root
            && let Some(value) = self.embedded_value(id, element, role)
        {
            return value;
        }
        // 2D: aria-label.
        if let Some(label) = element.attr("aria-label").filter(|l| !l.trim().is_empty()) {
            return label.to_owned();
        }
        // 2E: what HTML gives.
        if role != "none"
            && role != "presentation"
            && let Some(native) = self.native(id, element)
        {
            return native;
        }
        // 2F: content.
        if part != Part::Root || FROM_CONTENT.contains(&role) {
            let content = self.content(id);
            if !content.trim().is_empty() {
                return content;
            }
        }
        // 2I: tooltip.
        element.attr("title").or_else(|| element.attr("placeholder").filter(|_| form::has_text_value(element))).unwrap_or("").to_owned()
    }

    fn content(&mut self, id: NodeId) -> String {
        let mut out = String::new();
        for child in self.doc.flat_children(id) {
            let block = self.doc.element(child).is_some_and(|e| !is_inline(e));
            if block {
                out.push(' ');
            }
            out.push_str(&self.name(child, Part::Content));
            if block {
                out.push(' ');
            }
        }
        out
    }

    fn embedded_value(&mut self, id: NodeId, element: &Element, role: &str) -> Option<String> {
        match role {
            "textbox" | "searchbox" | "spinbutton" | "slider" | "combobox" if form::is_control(element) => {
                if element.is_html("select") {
                    let texts: Vec<_> = form::selected_options(self.doc, id).iter().map(|o| form::option_text(self.doc, *o)).collect();
                    return Some(texts.join(" "));
                }
                Some(form::value(self.doc, id))
            }
            "slider" | "spinbutton" | "progressbar" | "meter" | "scrollbar" => {
                element.attr("aria-valuetext").or_else(|| element.attr("aria-valuenow")).map(str::to_owned)
            }
            _ => None,
        }
    }

    fn native(&mut self, id: NodeId, element: &Element) -> Option<String> {
        let doc = self.doc;
        let child_text = |walk: &mut Self, tag: &str| doc.children(id).find(|c| doc.is_html(*c, tag)).map(|c| walk.name(c, Part::Content));
        let named = match &*element.local {
            "input" if matches!(element.input_type().as_str(), "button" | "submit" | "reset") => {
                let shown = element.attr("value").map(str::to_owned).or_else(|| match element.input_type().as_str() {
                    "submit" => Some("Submit".into()),
                    "reset" => Some("Reset".into()),
                    _ => None,
                });
                self.labels(id).or(shown)
            }
            "input" if element.input_type() == "image" => element.attr("alt").map(str::to_owned).or_else(|| Some("Submit".into())),
            "img" | "area" => element.attr("alt").map(str::to_owned),
            "fieldset" => child_text(self, "legend"),
            "figure" => child_text(self, "figcaption"),
            "table" => child_text(self, "caption"),
            "optgroup" => element.attr("label").map(str::to_owned),
            "option" => element.attr("label").map(str::to_owned),
            "svg" => doc.children(id).find(|c| doc.local_name(*c) == Some("title")).map(|c| doc.text_content(c)),
            _ if form::is_labelable(element) => self.labels(id),
            _ => None,
        };
        named.filter(|n| !n.trim().is_empty())
    }

    fn labels(&mut self, id: NodeId) -> Option<String> {
        let doc = self.doc;
        let names: Vec<_> = form::labels(doc, id)
            .into_iter()
            .map(|l| Walk { doc, seen: vec![id] }.name(l, Part::Reference))
            .map(|n| collapse(&n))
            .filter(|n| !n.is_empty())
            .collect();
        (!names.is_empty()).then(|| names.join(" "))
    }
}

fn is_inline(element: &Element) -> bool {
    const INLINE: [&str; 25] = [
        "a", "abbr", "b", "bdi", "bdo", "cite", "code", "data", "dfn", "em", "i", "kbd", "mark", "q", "s", "samp", "small", "span",
        "strong", "sub", "sup", "time", "u", "var", "wbr",
    ];
    INLINE.contains(&&*element.local)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::parse;
    use crate::selector::Selectors;

    #[test]
    fn names_by_markup() {
        for (html, name) in [
            ("<button class=t>Raise <b>now</b></button>", "Raise now"),
            ("<button class=t aria-label=Raise>+</button>", "Raise"),
            ("<span id=l>Target</span><input class=t aria-labelledby=l>", "Target"),
            ("<label>Target <input class=t value=600></label>", "Target"),
            ("<label for=x>Cone</label><select id=x class=t><option>6</select>", "Cone"),
            (
                "<label>Hold <input value=5> minutes<input type=checkbox class=t id=c></label><label for=c>Hold <input value=5> minutes</label>",
                "Hold 5 minutes",
            ),
            ("<img class=t alt='A mug'>", "A mug"),
            ("<button class=t><img alt='Raise'></button>", "Raise"),
            ("<button class=t><span aria-hidden=true>×</span> Close</button>", "Close"),
            ("<input class=t type=submit>", "Submit"),
            ("<input class=t placeholder=Name>", "Name"),
            ("<fieldset class=t><legend>Unit</legend></fieldset>", "Unit"),
            ("<button class=t title=Help></button>", "Help"),
            ("<div class=t>text</div>", ""),
            ("<button class=t><svg><title>Fire</title></svg></button>", "Fire"),
            ("<button class=t id=b aria-label=Delete aria-labelledby='b f'></button><span id=f>mug.png</span>", "Delete mug.png"),
        ] {
            let doc = parse::document(html);
            let id = Selectors::parse(".t").expect("valid").query(&doc, Document::ROOT).expect("a target");
            assert_eq!(accessible_name(&doc, id), name, "{html}");
        }
    }
}

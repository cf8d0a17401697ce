//! ARIA roles: the explicit one, else what HTML gives the element (HTML-AAM §3.5, WAI-ARIA 1.2 §5).

use crate::element::{Element, Namespace};
use crate::tree::{Document, NodeId};

/// The roles of WAI-ARIA 1.2 that an author may write; an unknown token in `role` is passed over.
pub const ROLES: [&str; 82] = [
    "alert",
    "alertdialog",
    "application",
    "article",
    "banner",
    "blockquote",
    "button",
    "caption",
    "cell",
    "checkbox",
    "code",
    "columnheader",
    "combobox",
    "complementary",
    "contentinfo",
    "definition",
    "deletion",
    "dialog",
    "document",
    "emphasis",
    "feed",
    "figure",
    "form",
    "generic",
    "grid",
    "gridcell",
    "group",
    "heading",
    "img",
    "insertion",
    "link",
    "list",
    "listbox",
    "listitem",
    "log",
    "main",
    "marquee",
    "math",
    "menu",
    "menubar",
    "menuitem",
    "menuitemcheckbox",
    "menuitemradio",
    "meter",
    "navigation",
    "none",
    "note",
    "option",
    "paragraph",
    "presentation",
    "progressbar",
    "radio",
    "radiogroup",
    "region",
    "row",
    "rowgroup",
    "rowheader",
    "scrollbar",
    "search",
    "searchbox",
    "separator",
    "slider",
    "spinbutton",
    "status",
    "strong",
    "subscript",
    "superscript",
    "switch",
    "tab",
    "table",
    "tablist",
    "tabpanel",
    "term",
    "textbox",
    "time",
    "timer",
    "toolbar",
    "tooltip",
    "tree",
    "treegrid",
    "treeitem",
    "mark",
];

/// The element's role, or none for nodes that have no role (text, `<script>`).
pub fn role_of(doc: &Document, id: NodeId) -> Option<&str> {
    let element = doc.element(id)?;
    if let Some(written) = element.attr("role") {
        let known = written.split_ascii_whitespace().find_map(|token| ROLES.iter().find(|r| r.eq_ignore_ascii_case(token)).copied());
        if let Some(role) = known {
            return Some(role);
        }
    }
    implicit(doc, id, element)
}

fn implicit(doc: &Document, id: NodeId, element: &Element) -> Option<&'static str> {
    if element.namespace == Namespace::Svg {
        return if &*element.local == "svg" { Some("img") } else { None };
    }
    if element.namespace != Namespace::Html {
        return None;
    }
    let either = |is: bool, one, other| Some(if is { one } else { other });
    match &*element.local {
        "a" | "area" => either(element.has_attr("href"), "link", "generic"),
        "footer" => either(in_section(doc, id), "generic", "contentinfo"),
        "header" => either(in_section(doc, id), "generic", "banner"),
        "img" => either(element.attr("alt") == Some(""), "none", "img"),
        "input" => input_role(element),
        "section" => either(has_name_attribute(element), "region", "generic"),
        "select" => {
            let many = element.has_attr("multiple") || element.attr("size").and_then(|s| s.parse::<u32>().ok()).unwrap_or(1) > 1;
            either(many, "listbox", "combobox")
        }
        "td" => either(in_grid(doc, id), "gridcell", "cell"),
        "th" => either(matches!(element.attr("scope"), Some("row" | "rowgroup")), "rowheader", "columnheader"),
        name => by_name(name),
    }
}

/// The role of an element that has the same wherever it stands and whatever it says.
fn by_name(name: &str) -> Option<&'static str> {
    Some(match name {
        "article" => "article",
        "aside" => "complementary",
        "b" | "bdi" | "bdo" | "data" | "div" | "i" | "pre" | "q" | "samp" | "small" | "span" | "u" | "body" => "generic",
        "blockquote" => "blockquote",
        "button" | "summary" => "button",
        "caption" | "figcaption" => "caption",
        "code" => "code",
        "datalist" => "listbox",
        "dd" => "definition",
        "del" | "s" => "deletion",
        "details" | "fieldset" | "optgroup" | "address" | "hgroup" => "group",
        "dialog" => "dialog",
        "dfn" | "dt" => "term",
        "em" => "emphasis",
        "figure" => "figure",
        "form" => "form",
        "h1" | "h2" | "h3" | "h4" | "h5" | "h6" => "heading",
        "hr" => "separator",
        "html" => "document",
        "ins" => "insertion",
        "li" => "listitem",
        "main" => "main",
        "mark" => "mark",
        "menu" | "ol" | "ul" => "list",
        "meter" => "meter",
        "nav" => "navigation",
        "option" => "option",
        "output" => "status",
        "p" => "paragraph",
        "progress" => "progressbar",
        "search" => "search",
        "strong" => "strong",
        "sub" => "subscript",
        "sup" => "superscript",
        "table" => "table",
        "tbody" | "tfoot" | "thead" => "rowgroup",
        "textarea" => "textbox",
        "time" => "time",
        "tr" => "row",
        _ => return None,
    })
}

fn input_role(element: &Element) -> Option<&'static str> {
    let with_list = element.has_attr("list");
    Some(match element.input_type().as_str() {
        "button" | "image" | "reset" | "submit" => "button",
        "checkbox" => "checkbox",
        "radio" => "radio",
        "number" => "spinbutton",
        "range" => "slider",
        "search" => {
            if with_list {
                "combobox"
            } else {
                "searchbox"
            }
        }
        "text" | "email" | "tel" | "url" => {
            if with_list {
                "combobox"
            } else {
                "textbox"
            }
        }
        // HTML-AAM gives these no role; people look for them as fields, so they are found as text boxes.
        "password" | "date" | "time" | "month" | "week" | "datetime-local" => "textbox",
        _ => return None,
    })
}

fn has_name_attribute(element: &Element) -> bool {
    ["aria-label", "aria-labelledby", "title"].iter().any(|a| element.attr(a).is_some_and(|v| !v.trim().is_empty()))
}

fn in_section(doc: &Document, id: NodeId) -> bool {
    doc.ancestors(id).any(|a| doc.element(a).is_some_and(|e| ["article", "aside", "main", "nav", "section"].iter().any(|t| e.is_html(t))))
}

fn in_grid(doc: &Document, id: NodeId) -> bool {
    let table = doc.ancestors(id).find(|a| doc.is_html(*a, "table"));
    table.is_some_and(|t| matches!(doc.attr(t, "role"), Some("grid" | "treegrid")))
}

/// The state of a checkbox, radio button, switch or toggle button.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Checkedness {
    /// On.
    Yes,
    /// Off.
    No,
    /// Neither.
    Mixed,
}

/// Whether the element is ticked, pressed or selected; none for elements without such a state.
pub fn ticked(doc: &Document, id: NodeId) -> Option<Checkedness> {
    let element = doc.element(id)?;
    if element.is_html("input") && matches!(element.input_type().as_str(), "checkbox" | "radio") {
        if element.form.indeterminate {
            return Some(Checkedness::Mixed);
        }
        return Some(if crate::form::is_checked(element) { Checkedness::Yes } else { Checkedness::No });
    }
    let state = element.attr("aria-checked").or_else(|| element.attr("aria-pressed")).or_else(|| element.attr("aria-selected"))?;
    match state {
        "true" => Some(Checkedness::Yes),
        "mixed" => Some(Checkedness::Mixed),
        "false" => Some(Checkedness::No),
        _ => None,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::parse;

    #[test]
    fn roles_by_markup() {
        for (html, role) in [
            ("<a href=x>", Some("link")),
            ("<a>", Some("generic")),
            ("<button>", Some("button")),
            ("<input type=number>", Some("spinbutton")),
            ("<div role='fancy switch'>", Some("switch")),
            ("<div role=fancy>", Some("generic")),
            ("<input type=hidden>", None),
            ("<img alt=''>", Some("none")),
            ("<section aria-label=x>", Some("region")),
            ("<section>", Some("generic")),
            ("<select>", Some("combobox")),
            ("<select multiple>", Some("listbox")),
            ("<footer>", Some("contentinfo")),
            ("<svg>", Some("img")),
        ] {
            let doc = parse::document(html);
            let body = doc.body().expect("body");
            let id = doc.children(body).next().expect("an element");
            assert_eq!(role_of(&doc, id), role, "{html}");
        }
    }
}

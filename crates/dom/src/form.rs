//! What form controls hold and whether they can be used (HTML §4.10).

use crate::element::Element;
use crate::inputs::sanitize;
use crate::tree::{Document, NodeData, NodeId};

/// True for the listed form controls: input, select, textarea.
pub fn is_control(element: &Element) -> bool {
    ["input", "select", "textarea"].iter().any(|n| element.is_html(n))
}

/// True where a person types text: a textarea or a text-like input.
pub fn has_text_value(element: &Element) -> bool {
    element.is_html("textarea")
        || (element.is_html("input")
            && !["hidden", "checkbox", "radio", "file", "submit", "image", "reset", "button", "range", "color"]
                .contains(&element.input_type().as_str()))
}

/// True where the `disabled` attribute means something.
pub fn can_be_disabled(element: &Element) -> bool {
    element.form.associated
        || ["button", "input", "select", "textarea", "optgroup", "option", "fieldset"].iter().any(|n| element.is_html(n))
}

/// "Actually disabled" (HTML §4.16.3): by its own attribute, a disabled fieldset around it, or its optgroup.
pub fn is_disabled(doc: &Document, id: NodeId) -> bool {
    let Some(element) = doc.element(id) else { return false };
    if !can_be_disabled(element) {
        return false;
    }
    if element.has_attr("disabled") {
        return true;
    }
    if element.is_html("option") {
        return doc.node(id).parent.is_some_and(|p| doc.is_html(p, "optgroup") && doc.attr(p, "disabled").is_some());
    }
    let mut below = id;
    for ancestor in doc.ancestors(id) {
        if doc.is_html(ancestor, "fieldset") && doc.attr(ancestor, "disabled").is_some() {
            // Controls in the first legend stay usable (HTML §4.10.15).
            let legend = doc.children(ancestor).find(|c| doc.is_html(*c, "legend"));
            if legend != Some(below) {
                return true;
            }
        }
        below = ancestor;
    }
    false
}

/// True where a person can change the text: an enabled text field that is not read-only, or editable content.
pub fn is_editable(doc: &Document, id: NodeId) -> bool {
    let Some(element) = doc.element(id) else { return false };
    if has_text_value(element) {
        return !element.has_attr("readonly") && !is_disabled(doc, id);
    }
    std::iter::once(id)
        .chain(doc.ancestors(id))
        .find_map(|n| doc.attr(n, "contenteditable"))
        .is_some_and(|v| !v.eq_ignore_ascii_case("false"))
}

/// The checkedness of a checkbox or radio button.
pub fn is_checked(element: &Element) -> bool {
    element.form.checked.unwrap_or_else(|| element.has_attr("checked"))
}

/// DOM "child text content": the text nodes right below.
fn child_text(doc: &Document, id: NodeId) -> String {
    let texts = doc.children(id).map(|c| if let NodeData::Text(text) = &doc.node(c).data { text.as_str() } else { "" });
    texts.collect()
}

/// The value as the `value` IDL attribute gives it, for every element that has one; empty for the others.
pub fn value(doc: &Document, id: NodeId) -> String {
    let Some(element) = doc.element(id) else { return String::new() };
    match &*element.local {
        "input" => input_value(element),
        "textarea" => element.form.value.clone().unwrap_or_else(|| child_text(doc, id)),
        "select" => selected_options(doc, id).first().map(|o| value(doc, *o)).unwrap_or_default(),
        "option" => element.attr("value").map_or_else(|| option_text(doc, id), str::to_owned),
        "button" | "li" | "meter" | "progress" | "param" | "data" => element.attr("value").unwrap_or("").to_owned(),
        _ => String::new(),
    }
}

/// An option's text: its text content, white space collapsed.
pub fn option_text(doc: &Document, id: NodeId) -> String {
    crate::serialize::collapse(&doc.text_content(id))
}

fn input_value(element: &Element) -> String {
    let attribute = element.attr("value");
    match element.input_type().as_str() {
        "checkbox" | "radio" => attribute.unwrap_or("on").to_owned(),
        "hidden" | "submit" | "image" | "reset" | "button" => attribute.unwrap_or("").to_owned(),
        "file" => String::new(),
        kind => {
            let raw = element.form.value.as_deref().or(attribute).unwrap_or("");
            sanitize(kind, raw, element)
        }
    }
}

/// Changes an attribute of an element. Where that makes an input one of another type, its value is what the new type takes of it from then on
/// (HTML §4.10.5, "When an input element's type attribute changes state").
pub fn retyping<T>(element: &mut Element, name: &str, change: impl FnOnce(&mut Element) -> T) -> T {
    if name != "type" || !element.is_html("input") {
        return change(element);
    }
    let before = element.input_type();
    let value = input_value(element);
    let out = change(element);
    let after = element.input_type();
    let holds = |kind: &str| !matches!(kind, "checkbox" | "radio" | "hidden" | "submit" | "image" | "reset" | "button" | "file");
    if before != after {
        match (holds(&before), holds(&after)) {
            (true, true) if element.form.value.is_some() => element.form.value = Some(sanitize(&after, &value, element)),
            (true, false) if !value.is_empty() && after != "file" => element.set_attr("value", &value),
            (false, true) => element.form.value = None,
            _ => {}
        }
    }
    out
}

/// The options of a select, in tree order.
pub fn options(doc: &Document, select: NodeId) -> Vec<NodeId> {
    doc.descendants(select).filter(|n| doc.is_html(*n, "option")).collect()
}

/// The selected options of a select, in tree order. A single select with nothing chosen shows its first usable option
/// (HTML §4.10.7 "ask for a reset").
pub fn selected_options(doc: &Document, select: NodeId) -> Vec<NodeId> {
    let options = options(doc, select);
    let on: Vec<_> = options
        .iter()
        .copied()
        .filter(|o| doc.element(*o).is_some_and(|e| e.form.selected.unwrap_or_else(|| e.has_attr("selected"))))
        .collect();
    if doc.attr(select, "multiple").is_some() {
        return on;
    }
    if let Some(last) = on.last() {
        return vec![*last];
    }
    let none_by_choice = options.iter().any(|o| doc.element(*o).is_some_and(|e| e.form.selected == Some(false)))
        && options.iter().all(|o| doc.element(*o).is_some_and(|e| e.form.selected == Some(false)));
    let drop_down = doc.attr(select, "size").and_then(|s| s.parse::<u32>().ok()).unwrap_or(1) <= 1;
    if none_by_choice || !drop_down {
        return on;
    }
    options.into_iter().find(|o| !is_disabled(doc, *o)).into_iter().collect()
}

/// True when the option is shown as chosen.
pub fn is_selected(doc: &Document, option: NodeId) -> bool {
    match doc.ancestors(option).find(|a| doc.is_html(*a, "select")) {
        Some(select) => selected_options(doc, select).contains(&option),
        None => doc.element(option).is_some_and(|e| e.form.selected.unwrap_or_else(|| e.has_attr("selected"))),
    }
}

/// The other radio buttons of the group: same name, same form owner, same tree (HTML §4.10.5.1.16).
pub fn radio_group(doc: &Document, radio: NodeId) -> Vec<NodeId> {
    let name = match doc.attr(radio, "name") {
        Some(name) if !name.is_empty() => name,
        _ => return Vec::new(),
    };
    let owner = form_owner(doc, radio);
    doc.inclusive_descendants(doc.root_of(radio))
        .filter(|n| *n != radio && doc.element(*n).is_some_and(|e| e.is_html("input") && e.input_type() == "radio"))
        .filter(|n| doc.attr(*n, "name") == Some(name) && form_owner(doc, *n) == owner)
        .collect()
}

/// The form that a control belongs to (HTML §4.10.17.3).
pub fn form_owner(doc: &Document, control: NodeId) -> Option<NodeId> {
    if let Some(id) = doc.attr(control, "form")
        && doc.is_connected(control)
    {
        return Some(id).filter(|id| !id.is_empty()).and_then(|id| doc.by_id(Document::ROOT, id)).filter(|n| doc.is_html(*n, "form"));
    }
    doc.ancestors(control).find(|a| doc.is_html(*a, "form"))
}

/// The controls of a form, in tree order, as `form.elements` lists them (image buttons are not among them).
pub fn form_elements(doc: &Document, form: NodeId) -> Vec<NodeId> {
    doc.descendants(doc.root_of(form))
        .filter(|n| {
            doc.element(*n).is_some_and(|e| {
                (e.form.associated
                    || ["button", "fieldset", "input", "object", "output", "select", "textarea"].iter().any(|t| e.is_html(t)))
                    && !(e.is_html("input") && e.input_type() == "image")
            })
        })
        .filter(|n| form_owner(doc, *n) == Some(form))
        .collect()
}

/// True for elements that a `<label>` can name (HTML §4.10.2).
pub fn is_labelable(element: &Element) -> bool {
    element.form.associated
        || ["button", "meter", "output", "progress", "select", "textarea"].iter().any(|n| element.is_html(n))
        || (element.is_html("input") && element.input_type() != "hidden")
}

/// The control that a `<label>` names.
pub fn labeled_control(doc: &Document, label: NodeId) -> Option<NodeId> {
    let labelable = |n: &NodeId| doc.element(*n).is_some_and(is_labelable);
    match doc.attr(label, "for") {
        Some(id) => doc.by_id(doc.root_of(label), id).filter(labelable),
        None => doc.descendants(label).find(labelable),
    }
}

/// The labels of a control, in tree order.
pub fn labels(doc: &Document, control: NodeId) -> Vec<NodeId> {
    doc.inclusive_descendants(doc.root_of(control))
        .filter(|n| doc.is_html(*n, "label") && labeled_control(doc, *n) == Some(control))
        .collect()
}

/// The default button of a form: its first submit button (HTML §4.10.22.2).
pub fn default_button(doc: &Document, form: NodeId) -> Option<NodeId> {
    form_elements_with_images(doc, form).into_iter().find(|n| is_submit_button(doc, *n))
}

fn form_elements_with_images(doc: &Document, form: NodeId) -> Vec<NodeId> {
    doc.descendants(doc.root_of(form)).filter(|n| doc.element(*n).is_some() && form_owner(doc, *n) == Some(form)).collect()
}

/// True for buttons that submit their form.
pub fn is_submit_button(doc: &Document, id: NodeId) -> bool {
    let Some(element) = doc.element(id) else { return false };
    if element.is_html("button") {
        return !matches!(element.attr("type").map(str::to_ascii_lowercase).as_deref(), Some("button" | "reset"));
    }
    element.is_html("input") && matches!(element.input_type().as_str(), "submit" | "image")
}

/// True when a person can focus the element (HTML §6.6.2), by its kind, `tabindex` or editability.
pub fn is_focusable(doc: &Document, id: NodeId) -> bool {
    let Some(element) = doc.element(id) else { return false };
    // What is asked of the element itself comes first: whether it is hidden, its ancestors say too.
    let takes_part = || !(is_hidden(doc, id) || is_inert(doc, id) || can_be_disabled(element) && is_disabled(doc, id));
    if let Some(root) = element.shadow.and_then(|s| doc.as_shadow(s).filter(|s| s.delegates_focus).map(|_| s)) {
        return takes_part() && doc.composed_descendants(root).any(|n| is_focusable(doc, n));
    }
    let by_kind = match &*element.local {
        "button" | "select" | "textarea" | "iframe" => true,
        "summary" => is_for_its_details(doc, id),
        "input" => element.input_type() != "hidden",
        "a" | "area" => element.has_attr("href"),
        _ => false,
    };
    let takes_focus = by_kind
        || element.attr("tabindex").is_some_and(|t| t.trim().parse::<i32>().is_ok())
        || element.attr("contenteditable").is_some_and(|v| !v.eq_ignore_ascii_case("false"));
    takes_focus && takes_part()
}

/// True for what takes no part (HTML §6.3): below `inert`, or beside a modal dialog.
pub fn is_inert(doc: &Document, id: NodeId) -> bool {
    let is_modal = |n: &NodeId| doc.element(*n).is_some_and(|e| e.overlay == Some(crate::Overlay::Modal));
    let modal = doc.overlays().iter().rev().find(|o| is_modal(o));
    let around = || std::iter::once(id).chain(doc.flat_ancestors(id));
    modal.is_some_and(|m| !around().any(|n| n == *m)) || around().any(|n| doc.element(n).is_some_and(|e| e.has_attr("inert")))
}

/// True when the element or one around it is not shown: by a stylesheet or its own style (`display`, `visibility`), by `hidden`, in a
/// closed `<dialog>` or the closed part of `<details>`, or because it stands in no slot.
pub fn is_hidden(doc: &Document, id: NodeId) -> bool {
    !is_rendered(doc, id) || is_invisible(doc, id)
}

/// True when the element has a place on the page, be it an invisible one (HTML §15.1 "being rendered").
pub fn is_rendered(doc: &Document, id: NodeId) -> bool {
    if !doc.shadows().is_empty() && doc.is_connected(id) && !doc.is_flat(id) {
        return false;
    }
    let mut below = None;
    for n in std::iter::once(id).chain(doc.flat_ancestors(id)) {
        let Some(element) = doc.element(n) else { continue };
        if !is_displayed(doc, n, element) || below.is_some_and(|b| !admits(doc, n, b)) {
            return false;
        }
        below = Some(n);
    }
    true
}

/// Whether an element gives what stands right in it a place at all: a control, other media and the closed part of `<details>` do not.
pub(crate) fn admits(doc: &Document, outer: NodeId, inner: NodeId) -> bool {
    let Some(element) = doc.element(outer) else { return true };
    if ["input", "textarea", "iframe", "img", "video", "audio"].iter().any(|t| element.is_html(t)) {
        return false;
    }
    if element.is_html("select") {
        return ["option", "optgroup"].iter().any(|t| doc.is_html(inner, t));
    }
    let closed = element.is_html("details") && !element.has_attr("open");
    !closed || doc.children(outer).find(|c| doc.is_html(*c, "summary")) == Some(inner)
}

/// Whether the element itself takes the visibility of what stands in it; none where it says nothing of it.
pub(crate) fn own_visibility(doc: &Document, id: NodeId, element: &Element) -> Option<bool> {
    styled(doc, id, element, "visibility").map(|v| v == "hidden" || v == "collapse")
}

/// What the element's own style or an author's stylesheet says of a property.
fn styled(doc: &Document, id: NodeId, element: &Element, property: &'static str) -> Option<String> {
    let inline = element.attr("style").filter(|s| s.as_bytes().windows(4).any(|w| w.eq_ignore_ascii_case(&property.as_bytes()[..4])));
    inline
        .and_then(|s| crate::style::parse(s).into_iter().find(|d| d.name == property))
        .map(|d| d.value.to_ascii_lowercase())
        .or_else(|| doc.authored(id, property))
}

/// Whether the element itself, whatever stands around it, is displayed.
pub(crate) fn is_displayed(doc: &Document, id: NodeId, element: &Element) -> bool {
    if let Some(displayed) = element.displayed {
        return displayed;
    }
    match styled(doc, id, element, "display") {
        Some(display) => display != "none",
        None => {
            !(element.has_attr("hidden")
                || (element.is_html("dialog") && !element.has_attr("open") && element.overlay.is_none())
                || (element.has_attr("popover") && element.overlay != Some(crate::Overlay::Popover))
                || ["script", "style", "template", "head", "noscript"].iter().any(|t| element.is_html(t)))
        }
    }
}

/// Whether the element itself shows, as far as style tells: its display, and the visibility that it inherits.
pub fn shows(doc: &Document, id: NodeId) -> bool {
    let Some(element) = doc.element(id) else { return true };
    is_displayed(doc, id, element) && !is_invisible(doc, id)
}

/// The same where it is known whether what is around it is `invisible`; and whether it makes what is in it so. In shadow trees content inherits from
/// its slot: there it is looked for.
pub(crate) fn showing(doc: &Document, id: NodeId, invisible: bool) -> (bool, bool) {
    let Some(element) = doc.element(id) else { return (true, invisible) };
    let hides = if doc.shadows().is_empty() { own_visibility(doc, id, element).unwrap_or(invisible) } else { is_invisible(doc, id) };
    (is_displayed(doc, id, element) && !hides, hides)
}

/// Whether style takes its visibility.
fn is_invisible(doc: &Document, id: NodeId) -> bool {
    let mut chain = std::iter::once(id).chain(doc.flat_ancestors(id));
    chain.find_map(|n| doc.element(n).and_then(|e| own_visibility(doc, n, e))).unwrap_or(false)
}

/// Sets the text that a select's option list is chosen by: clears the others in a single select.
pub fn choose(doc: &mut Document, option: NodeId, on: bool) {
    let select = doc.ancestors(option).find(|a| doc.is_html(*a, "select"));
    if let Some(select) = select
        && on
        && doc.attr(select, "multiple").is_none()
    {
        for other in options(doc, select) {
            if let Some(e) = doc.element_mut(other) {
                e.form.selected = Some(false);
            }
        }
    }
    if let Some(e) = doc.element_mut(option) {
        e.form.selected = Some(on);
    }
}

/// True for text nodes, for callers that look at siblings.
pub fn is_text(doc: &Document, id: NodeId) -> bool {
    matches!(doc.node(id).data, NodeData::Text(_))
}

/// "A summary for its parent details" (HTML §4.11.2): the first summary in it.
fn is_for_its_details(doc: &Document, id: NodeId) -> bool {
    let parent = doc.node(id).parent.filter(|p| doc.is_html(*p, "details"));
    parent.is_some_and(|p| doc.children(p).find(|c| doc.is_html(*c, "summary")) == Some(id))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::parse;
    use crate::selector::Selectors;

    fn find(doc: &Document, selector: &str) -> NodeId {
        Selectors::parse(selector).expect("valid").query(doc, Document::ROOT).unwrap_or_else(|| panic!("{selector}"))
    }

    #[test]
    fn values_follow_their_type() {
        for (html, value_is) in [
            ("<input value=a>", "a"),
            ("<input type=checkbox>", "on"),
            ("<input type=number value=1x>", ""),
            ("<input type=number value=-1.5e3>", "-1.5e3"),
            ("<input type=range>", "50"),
            ("<input type=range min=10 max=20 value=99>", "20"),
            ("<input type=range step=25 value=40>", "50"),
            ("<input type=color value=RED>", "#000000"),
            ("<input type=date value=2031-03-01>", "2031-03-01"),
            ("<input type=date value=soon>", ""),
            ("<select><option>a<option value=b>B</select>", "a"),
            ("<select><option>a<option value=b selected>B</select>", "b"),
            ("<select><option disabled>a<option>c</select>", "c"),
            ("<select multiple><option>a</select>", ""),
            ("<textarea>t</textarea>", "t"),
        ] {
            let doc = parse::document(html);
            assert_eq!(value(&doc, find(&doc, "input, select, textarea")), value_is, "{html}");
        }
    }

    #[test]
    fn a_fieldset_disables_all_but_its_first_legend() {
        let doc = parse::document("<fieldset disabled><legend><button id=l></button></legend><button id=b></button></fieldset>");
        assert!(!is_disabled(&doc, find(&doc, "#l")));
        assert!(is_disabled(&doc, find(&doc, "#b")));
    }

    #[test]
    fn radio_groups_stay_within_their_form() {
        let doc = parse::document("<form><input type=radio name=u id=a><input type=radio name=u id=b></form><input type=radio name=u>");
        assert_eq!(radio_group(&doc, find(&doc, "#a")), [find(&doc, "#b")]);
    }

    #[test]
    fn hidden_content_cannot_take_the_focus() {
        for (html, focusable) in [
            ("<button>x</button>", true),
            ("<button disabled>x</button>", false),
            ("<div hidden><button>x</button></div>", false),
            ("<div style='display: none'><button>x</button></div>", false),
            ("<details><summary>s</summary><button>x</button></details>", false),
            ("<details open><summary>s</summary><button>x</button></details>", true),
        ] {
            let doc = parse::document(html);
            assert_eq!(is_focusable(&doc, find(&doc, "button")), focusable, "{html}");
        }
    }
}

//! Constraint validation: what is wrong with the value of a control (HTML §4.10.20).

use crate::element::{Element, Mark};
use crate::form;
use crate::inputs::{self, Steps};
use crate::tree::{Document, NodeId};

/// What can be wrong with a value, in the order of the standard's list (HTML §4.10.20.1); each is one bit of [`Faults`].
pub const NAMES: [&str; 10] = [
    "valueMissing",
    "typeMismatch",
    "patternMismatch",
    "tooLong",
    "tooShort",
    "rangeUnderflow",
    "rangeOverflow",
    "stepMismatch",
    "badInput",
    "customError",
];

/// What is wrong with a value: a bit for each of [`NAMES`].
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Faults(pub u16);

impl Faults {
    pub(crate) const MISSING: Faults = Faults(1);
    pub(crate) const TYPE: Faults = Faults(1 << 1);
    pub(crate) const PATTERN: Faults = Faults(1 << 2);
    pub(crate) const LONG: Faults = Faults(1 << 3);
    pub(crate) const SHORT: Faults = Faults(1 << 4);
    pub(crate) const UNDER: Faults = Faults(1 << 5);
    pub(crate) const OVER: Faults = Faults(1 << 6);
    pub(crate) const STEP: Faults = Faults(1 << 7);
    pub(crate) const BAD: Faults = Faults(1 << 8);
    pub(crate) const CUSTOM: Faults = Faults(1 << 9);

    /// Whether this is among what is wrong.
    pub(crate) fn has(self, fault: Self) -> bool {
        self.0 & fault.0 != 0
    }

    /// Nothing is wrong.
    pub fn is_none(self) -> bool {
        self.0 == 0
    }

    fn add(&mut self, fault: Self, is_wrong: bool) {
        if is_wrong {
            self.0 |= fault.0;
        }
    }
}

/// Whether anybody asks if an element is valid: it is a control, and nothing bars it (HTML §4.10.20.1, "candidate for constraint validation").
pub fn is_candidate(doc: &Document, id: NodeId) -> bool {
    let Some(element) = doc.element(id) else { return false };
    let can_be = if element.is_html("input") {
        let kind = element.input_type();
        // The standard names kinds for which `readonly` means nothing; browsers ask none that has it.
        !matches!(kind.as_str(), "hidden" | "reset" | "button") && !element.has_attr("readonly")
    } else if element.is_html("button") {
        !matches!(element.attr("type").map(str::to_ascii_lowercase).as_deref(), Some("reset" | "button"))
    } else {
        element.is_html("select") || ((element.is_html("textarea") || element.form.associated) && !element.has_attr("readonly"))
    };
    can_be && !form::is_disabled(doc, id) && !doc.ancestors(id).any(|a| doc.is_html(a, "datalist"))
}

fn is_text(kind: &str) -> bool {
    matches!(kind, "text" | "search" | "url" | "tel" | "email" | "password")
}

/// What is wrong with the value of a control. Nothing of an element that is none.
pub fn faults(doc: &Document, id: NodeId) -> Faults {
    let Some(element) = doc.element(id) else { return Faults::default() };
    let mut out = Faults(element.internal.faults);
    out.add(Faults::CUSTOM, !element.form.custom_validity.is_empty());
    let (is_input, is_area) = (element.is_html("input"), element.is_html("textarea"));
    let kind = if is_input { element.input_type() } else { String::new() };
    let value = form::value(doc, id);
    out.add(Faults::BAD, is_input && element.internal.is(Mark::Unreadable));
    out.add(Faults::MISSING, is_missing(doc, id, element, &kind, &value));
    if value.is_empty() || !(is_input || is_area) {
        return out;
    }
    if is_area || is_text(&kind) {
        let most = |name: &str| element.attr(name).and_then(|v| v.trim().parse::<usize>().ok());
        let length = value.encode_utf16().count();
        // What a script wrote may be as long as it likes.
        let is_typed = element.internal.is(Mark::Typed);
        out.add(Faults::LONG, is_typed && most("maxlength").is_some_and(|most| length > most));
        out.add(Faults::SHORT, is_typed && most("minlength").is_some_and(|least| length < least));
    }
    let is_list = kind == "email" && element.has_attr("multiple");
    let each = || value.split(if is_list { ',' } else { '\0' });
    if is_text(&kind) {
        let is_wrong = (kind == "email" && !each().all(|one| is_email(one.trim()))) || (kind == "url" && url::Url::parse(&value).is_err());
        out.add(Faults::TYPE, is_wrong);
        out.add(Faults::PATTERN, element.attr("pattern").is_some_and(|pattern| !fits(pattern, each())));
    }
    if let (Some(steps), Some(number)) = (is_input.then(|| Steps::of(element)).flatten(), inputs::number(&kind, &value)) {
        let (under, over) = (steps.min.is_some_and(|min| number < min), steps.max.is_some_and(|max| number > max));
        // Times go round: from evening until morning (HTML §4.10.5.3.7, "reversed range").
        let is_round = kind == "time" && matches!((steps.min, steps.max), (Some(min), Some(max)) if max < min);
        out.add(Faults::UNDER, if is_round { under && over } else { under });
        out.add(Faults::OVER, if is_round { under && over } else { over });
        out.add(Faults::STEP, !steps.is_aligned(number));
    }
    out
}

fn is_missing(doc: &Document, id: NodeId, element: &Element, kind: &str, value: &str) -> bool {
    if element.is_html("select") {
        // The option that stands for nothing chosen (HTML §4.10.7, "placeholder label option").
        let chosen = form::selected_options(doc, id);
        let is_single = !element.has_attr("multiple") && element.attr("size").and_then(|s| s.trim().parse::<u32>().ok()).unwrap_or(1) <= 1;
        let placeholder = form::options(doc, id).first().copied();
        let stands_for_nothing = |option: NodeId| {
            is_single && Some(option) == placeholder && form::value(doc, option).is_empty() && doc.node(option).parent == Some(id)
        };
        return element.has_attr("required") && chosen.iter().all(|option| stands_for_nothing(*option));
    }
    if kind == "radio" {
        let group = form::radio_group(doc, id);
        let each = || group.iter().chain([&id]).filter_map(|n| doc.element(*n));
        return each().any(|e| e.has_attr("required")) && !each().any(form::is_checked);
    }
    if !element.has_attr("required") {
        return false;
    }
    match kind {
        "checkbox" => !form::is_checked(element),
        "file" => !element.internal.is(Mark::Filled),
        "hidden" | "range" | "color" | "submit" | "image" | "reset" | "button" => false,
        "" => element.is_html("textarea") && is_mutable(doc, id, element) && value.is_empty(),
        _ => is_mutable(doc, id, element) && value.is_empty(),
    }
}

fn is_mutable(doc: &Document, id: NodeId, element: &Element) -> bool {
    !element.has_attr("readonly") && !form::is_disabled(doc, id)
}

/// Whether all that a person may have typed fits a pattern (HTML §4.10.5.3.6). One that is no expression fits everything.
fn fits<'a>(pattern: &str, mut each: impl Iterator<Item = &'a str>) -> bool {
    // By itself it must be one too: `)(` is none.
    if regress::Regex::with_flags(pattern, "v").is_err() {
        return true;
    }
    let Ok(whole) = regress::Regex::with_flags(&format!("^(?:{pattern})$"), "v") else { return true };
    each.all(|one| whole.find(one).is_some())
}

/// A valid e-mail address, as the standard has it: not as RFC 5322 does (HTML §4.10.5.1.5).
pub(crate) fn is_email(text: &str) -> bool {
    let is_atom = |b: u8| b.is_ascii_alphanumeric() || b".!#$%&'*+/=?^_`{|}~-".contains(&b);
    let is_label = |label: &str| {
        let bytes = label.as_bytes();
        (1..=63).contains(&bytes.len())
            && bytes.iter().all(|b| b.is_ascii_alphanumeric() || *b == b'-')
            && bytes.first() != Some(&b'-')
            && bytes.last() != Some(&b'-')
    };
    text.split_once('@').is_some_and(|(name, host)| !name.is_empty() && name.bytes().all(is_atom) && host.split('.').all(is_label))
}

/// Whether an element is told by `:valid` or `:invalid` (HTML §4.16.3): a control by what is wrong with it, a form or a field set by what is in it.
pub(crate) fn is_valid(doc: &Document, id: NodeId) -> Option<bool> {
    let control = |id: NodeId| faults(doc, id).is_none();
    if doc.is_html(id, "form") {
        return Some(form::form_elements(doc, id).into_iter().filter(|c| is_candidate(doc, *c)).all(control));
    }
    if doc.is_html(id, "fieldset") {
        return Some(doc.descendants(id).filter(|c| is_candidate(doc, *c)).all(control));
    }
    is_candidate(doc, id).then(|| control(id))
}

/// Whether a number lies within its bounds (`:in-range`, `:out-of-range`); none of what has none.
pub(crate) fn is_in_range(doc: &Document, id: NodeId) -> Option<bool> {
    let element = doc.element(id).filter(|e| e.is_html("input"))?;
    Steps::of(element).filter(|steps| steps.min.is_some() || steps.max.is_some())?;
    is_candidate(doc, id).then(|| {
        let wrong = faults(doc, id);
        !wrong.has(Faults::UNDER) && !wrong.has(Faults::OVER)
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::parse;

    /// What is wrong with the first control of a page.
    fn wrong(html: &str) -> String {
        let doc = parse::document(html);
        let first =
            crate::Selectors::parse("input, select, textarea, button").expect("a selector").query(&doc, Document::ROOT).expect("a control");
        let bits = faults(&doc, first).0;
        NAMES.iter().enumerate().filter(|(i, _)| bits & (1 << i) != 0).map(|(_, name)| *name).collect::<Vec<_>>().join(" ")
    }

    #[test]
    fn what_is_wrong_is_told() {
        for (html, expected) in [
            ("<input required>", "valueMissing"),
            ("<input required value=mug>", ""),
            ("<input required readonly>", ""),
            ("<input type=checkbox required>", "valueMissing"),
            ("<input type=checkbox required checked>", ""),
            ("<input type=radio name=a><input type=radio name=a required>", "valueMissing"),
            ("<input type=radio name=a required><input type=radio name=a checked>", ""),
            ("<input type=range required>", ""),
            ("<select required><option value=''>none<option>mug</select>", "valueMissing"),
            ("<select required><option value=''>none<option selected>mug</select>", ""),
            ("<select required><optgroup><option value=''>none</optgroup></select>", ""),
            ("<textarea required></textarea>", "valueMissing"),
            ("<input type=email value=a@b.c>", ""),
            ("<input type=email value=a@-b>", "typeMismatch"),
            ("<input type=email multiple value='a@b, c'>", "typeMismatch"),
            ("<input type=url value=kiln>", "typeMismatch"),
            ("<input type=url value=kiln:a>", ""),
            ("<input pattern='[a-z]+' value=ab>", ""),
            ("<input pattern='[a-z]+' value=aB>", "patternMismatch"),
            ("<input pattern='a|b' value=ab>", "patternMismatch"),
            ("<input pattern='(' value=ab>", ""),
            ("<input pattern='[(]' value='('>", ""),
            ("<input maxlength=1 value=ab>", ""),
            ("<input type=number min=2 value=1>", "rangeUnderflow"),
            ("<input type=number max=2 value=3>", "rangeOverflow"),
            ("<input type=number step=2 value=3>", ""),
            ("<input type=number step=2 min=0 value=3>", "stepMismatch"),
            ("<input type=number step=0.1 min=0 value=0.7>", ""),
            ("<input type=date max=2026-01-01 value=2026-01-02>", "rangeOverflow"),
            ("<input type=time min=22:00 max=06:00 value=23:00>", ""),
            ("<input type=time min=22:00 max=06:00 value=12:00>", "rangeUnderflow rangeOverflow"),
            ("<input type=time value=12:00:30 min=12:00>", "stepMismatch"),
            ("<button>Save</button>", ""),
        ] {
            assert_eq!(wrong(html), expected, "{html}");
        }
    }

    #[test]
    fn only_what_a_person_can_change_is_asked() {
        for (html, expected) in [
            ("<input>", true),
            ("<input readonly>", false),
            ("<input type=checkbox readonly>", false),
            ("<input type=hidden>", false),
            ("<input disabled>", false),
            ("<fieldset disabled><input></fieldset>", false),
            ("<datalist><input></datalist>", false),
            ("<button>", true),
            ("<button type=button>", false),
            ("<textarea readonly></textarea>", false),
            ("<select></select>", true),
        ] {
            let doc = parse::document(html);
            let control = crate::Selectors::parse("input, select, textarea, button")
                .expect("a selector")
                .query(&doc, Document::ROOT)
                .expect("a control");
            assert_eq!(is_candidate(&doc, control), expected, "{html}");
        }
    }
}

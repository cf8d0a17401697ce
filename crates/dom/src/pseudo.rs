//! Pseudo-classes that depend on the state of a document: of controls, links, the focus, languages and directions (Selectors 4 §7 to §13, HTML §4.16.3).

use std::fmt;

use cssparser::ToCss;

use crate::element::{Mark, Namespace};
use crate::tree::{Document, NodeId};
use crate::{form, validity};

/// Pseudo-classes that depend on the state of the document.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) enum State {
    Checked,
    /// A custom state, `:state(open)`.
    Custom(Box<str>),
    Default,
    Disabled,
    Enabled,
    Focus,
    FocusVisible,
    FocusWithin,
    InRange,
    Indeterminate,
    Invalid,
    /// One of these ranges of languages, `:lang(de, "*-CH")`.
    Language(Vec<Box<str>>),
    Link,
    Never,
    Optional,
    OutOfRange,
    PlaceholderShown,
    ReadOnly,
    ReadWrite,
    Required,
    Defined,
    Open,
    Modal,
    PopoverOpen,
    UserInvalid,
    UserValid,
    Valid,
    /// Written from the left, `:dir(ltr)`.
    FromLeft,
    /// `:dir(rtl)`
    FromRight,
}

impl State {
    pub(crate) fn named(name: &str) -> Option<Self> {
        Some(match name {
            "checked" => Self::Checked,
            "default" => Self::Default,
            "disabled" => Self::Disabled,
            "enabled" => Self::Enabled,
            "focus" => Self::Focus,
            "focus-visible" => Self::FocusVisible,
            "focus-within" => Self::FocusWithin,
            "in-range" => Self::InRange,
            "indeterminate" => Self::Indeterminate,
            "invalid" => Self::Invalid,
            "link" | "any-link" | "-webkit-any-link" => Self::Link,
            "visited"
            | "hover"
            | "active"
            | "target"
            | "autofill"
            | "-webkit-autofill"
            | "fullscreen"
            | "-webkit-full-screen"
            | "picture-in-picture" => Self::Never,
            "optional" => Self::Optional,
            "out-of-range" => Self::OutOfRange,
            "placeholder-shown" => Self::PlaceholderShown,
            "read-only" => Self::ReadOnly,
            "read-write" => Self::ReadWrite,
            "required" => Self::Required,
            "defined" => Self::Defined,
            "open" => Self::Open,
            "modal" => Self::Modal,
            "popover-open" => Self::PopoverOpen,
            "user-invalid" => Self::UserInvalid,
            "user-valid" => Self::UserValid,
            "valid" => Self::Valid,
            _ => return None,
        })
    }

    pub(crate) fn holds(&self, doc: &Document, id: NodeId) -> bool {
        let Some(element) = doc.element(id) else { return false };
        match self {
            Self::Checked => {
                let ticks = element.is_html("input") && ["checkbox", "radio"].contains(&element.input_type().as_str());
                (ticks && form::is_checked(element)) || (element.is_html("option") && form::is_selected(doc, id))
            }
            Self::Custom(name) => element.internal.states.iter().any(|state| state == name),
            Self::Default => is_default(doc, id, element),
            Self::Disabled => form::is_disabled(doc, id),
            Self::Enabled => form::can_be_disabled(element) && !form::is_disabled(doc, id),
            Self::Focus => has_focus(doc, id, element),
            // Selectors 4 §9.4: where a person must see it: always after keys, on text fields after a pointer too.
            Self::FocusVisible => {
                has_focus(doc, id, element) && (!doc.pointed || doc.focused.and_then(|f| doc.element(f)).is_some_and(form::has_text_value))
            }
            Self::FocusWithin => doc.focused.is_some_and(|f| f == id || doc.flat_ancestors(f).any(|a| a == id)),
            Self::InRange => validity::is_in_range(doc, id) == Some(true),
            Self::Indeterminate => is_indeterminate(doc, id, element),
            Self::Invalid => validity::is_valid(doc, id) == Some(false),
            Self::Language(ranges) => {
                let language = language(doc, id);
                ranges.iter().any(|range| is_of_language(&language, range))
            }
            Self::Link => (element.is_html("a") || element.is_html("area")) && element.has_attr("href"),
            Self::Never => false,
            Self::Required => form::is_control(element) && element.has_attr("required"),
            Self::Optional => form::is_control(element) && !element.has_attr("required"),
            Self::OutOfRange => validity::is_in_range(doc, id) == Some(false),
            Self::PlaceholderShown => form::has_text_value(element) && element.has_attr("placeholder") && form::value(doc, id).is_empty(),
            Self::ReadWrite => form::is_editable(doc, id),
            Self::ReadOnly => !form::is_editable(doc, id),
            Self::Defined => element.custom || element.namespace != Namespace::Html || !crate::shadow::is_custom_name(&element.local),
            Self::Open => (element.is_html("details") || element.is_html("dialog")) && element.has_attr("open"),
            Self::Modal => element.overlay == Some(crate::Overlay::Modal),
            Self::PopoverOpen => element.overlay == Some(crate::Overlay::Popover),
            Self::UserInvalid => element.internal.is(Mark::Judged) && validity::is_valid(doc, id) == Some(false),
            Self::UserValid => element.internal.is(Mark::Judged) && validity::is_valid(doc, id) == Some(true),
            Self::Valid => validity::is_valid(doc, id) == Some(true),
            Self::FromLeft => !is_from_right(doc, id),
            Self::FromRight => is_from_right(doc, id),
        }
    }
}

/// HTML §4.16.3 `:default`: what a form is sent by, and what was chosen at first.
fn is_default(doc: &Document, id: NodeId, element: &crate::Element) -> bool {
    if element.is_html("option") {
        return element.has_attr("selected");
    }
    if element.is_html("input") && ["checkbox", "radio"].contains(&element.input_type().as_str()) {
        return element.has_attr("checked");
    }
    form::is_submit_button(doc, id) && form::form_owner(doc, id).is_some_and(|owner| form::default_button(doc, owner) == Some(id))
}

/// HTML §4.16.3 `:indeterminate`: a box that shows neither state, radio buttons of which none is chosen, a bar without a value.
fn is_indeterminate(doc: &Document, id: NodeId, element: &crate::Element) -> bool {
    if element.is_html("progress") {
        return !element.has_attr("value");
    }
    if !element.is_html("input") {
        return false;
    }
    match element.input_type().as_str() {
        "checkbox" => element.form.indeterminate,
        "radio" => {
            let group = form::radio_group(doc, id);
            !group.iter().chain([&id]).filter_map(|n| doc.element(*n)).any(form::is_checked)
        }
        _ => false,
    }
}

/// The language of an element (HTML §3.2.6.2): what it or the nearest around it says.
fn language(doc: &Document, id: NodeId) -> String {
    let says = |node: NodeId| doc.element(node)?.attrs.iter().find(|a| matches!(&*a.name, "lang" | "xml:lang")).map(|a| a.value.clone());
    std::iter::once(id).chain(doc.composed_ancestors(id)).find_map(says).unwrap_or_default()
}

/// Whether a language lies in a range, by extended filtering (RFC 4647 §3.3.2; Selectors 4 §7.2).
fn is_of_language(language: &str, range: &str) -> bool {
    if language.is_empty() || range.is_empty() {
        return language.is_empty() && range.is_empty();
    }
    let mut tags = language.split('-');
    let mut asked = range.split('-');
    let (Some(first), Some(wanted)) = (tags.next(), asked.next()) else { return false };
    if wanted != "*" && !first.eq_ignore_ascii_case(wanted) {
        return false;
    }
    asked.filter(|wanted| *wanted != "*").all(|wanted| {
        // What is one letter begins an extension, and nothing of it is passed over.
        tags.by_ref().take_while(|tag| tag.eq_ignore_ascii_case(wanted) || tag.len() > 1).any(|tag| tag.eq_ignore_ascii_case(wanted))
    })
}

/// The directionality of an element (HTML §3.2.6.4): what it or the nearest around it says, across shadow trees.
fn is_from_right(doc: &Document, id: NodeId) -> bool {
    std::iter::once(id).chain(doc.composed_ancestors(id)).find_map(|node| says_from_right(doc, node)).unwrap_or(false)
}

fn says_from_right(doc: &Document, id: NodeId) -> Option<bool> {
    let element = doc.element(id).filter(|e| e.namespace == Namespace::Html)?;
    let dir = element.attr("dir").map(str::to_ascii_lowercase);
    match dir.as_deref() {
        Some("ltr") => Some(false),
        Some("rtl") => Some(true),
        Some("auto") => Some(is_text_from_right(&auto_text(doc, id))),
        _ if element.is_html("bdi") => Some(is_text_from_right(&auto_text(doc, id))),
        _ if element.is_html("input") && element.input_type() == "tel" => Some(false),
        _ => None,
    }
}

/// The text that decides where `dir=auto` begins: a field's value, or what stands in the element.
fn auto_text(doc: &Document, id: NodeId) -> String {
    let is_field = doc.element(id).is_some_and(form::has_text_value);
    if is_field { form::value(doc, id) } else { doc.text_content(id) }
}

/// Whether the first letter that has a direction is one of a script that is written from the right (Unicode bidirectional classes R and AL).
fn is_text_from_right(text: &str) -> bool {
    let from_right =
        |c: char| matches!(u32::from(c), 0x0590..=0x08ff | 0xfb1d..=0xfdff | 0xfe70..=0xfeff | 0x1_0800..=0x1_0fff | 0x1_e800..=0x1_efff);
    text.chars().find(|c| c.is_alphabetic()).is_some_and(from_right)
}

/// HTML §4.16.3 `:focus`: the element itself, or the host of a shadow tree with the focus in it.
fn has_focus(doc: &Document, id: NodeId, element: &crate::Element) -> bool {
    doc.focused.is_some_and(|f| f == id || element.shadow.is_some_and(|root| doc.is_composed_ancestor(root, f)))
}

impl selectors::parser::NonTSPseudoClass for State {
    fn is_active_or_hover(&self) -> bool {
        false
    }
    fn is_user_action_state(&self) -> bool {
        matches!(self, Self::Focus | Self::FocusVisible | Self::FocusWithin)
    }
}
impl ToCss for State {
    fn to_css<W: fmt::Write>(&self, dest: &mut W) -> fmt::Result {
        write!(dest, ":{self:?}")
    }
}

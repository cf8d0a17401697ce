//! What frameworks warn of, in their development builds, read from their words.

use std::fmt;

use fidelon_source::Place;

use crate::surface::Surface;

/// What a framework warns of.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Kind {
    /// A prop that is required and not passed.
    MissingProp,
    /// A value of a type that the prop does not take.
    WrongType,
    /// A value that the prop's own validator refuses.
    RefusedValue,
    /// A prop, an attribute or a listener that ends nowhere.
    UnknownProp,
    /// An event that is not declared.
    UndeclaredEvent,
    /// A payload that the event's own validator refuses.
    RefusedPayload,
    /// Two items of a list with one key.
    DuplicateKey,
    /// An item of a list without one.
    MissingKey,
    /// A tag that names nothing.
    UnknownElement,
    /// A number of rows or the like that is no count.
    NoCount,
    /// A name that a template reads and nobody defines.
    UnknownName,
    /// Elements that HTML does not allow in one another.
    Nesting,
    /// An update outside of what waits for it.
    Unawaited,
    /// An update while another component is rendered.
    UpdateInRender,
    /// An error that nobody handled.
    Unhandled,
    /// A field that changes between being the parent's and its own.
    Control,
    /// A write to what is read-only.
    ReadOnly,
    /// Updates that set off each other.
    Loop,
}

/// A warning that could be read.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Warning {
    /// What it is about.
    pub kind: Kind,
    /// The prop, event, key or tag that it names.
    pub of: Option<String>,
    /// The component that it names.
    pub within: Option<String>,
}

/// How each kind begins in the words of Vue 3 and React 18 and 19; the name follows in quotes or in a tag.
const WORDS: [(&str, Kind); 35] = [
    ("Missing required prop", Kind::MissingProp),
    ("Invalid prop: type check failed", Kind::WrongType),
    ("Invalid prop: custom validator check failed", Kind::RefusedValue),
    ("must be a scalar value if", Kind::RefusedValue),
    ("must be an array if", Kind::RefusedValue),
    ("Failed prop type", Kind::WrongType),
    ("Failed %s type", Kind::WrongType),
    ("Extraneous non-props attributes", Kind::UnknownProp),
    ("Extraneous non-emits event listeners", Kind::UnknownProp),
    ("React does not recognize the", Kind::UnknownProp),
    ("Unknown event handler property", Kind::UnknownProp),
    ("Invalid DOM property", Kind::UnknownProp),
    ("for a non-boolean attribute", Kind::UnknownProp),
    ("Component emitted event", Kind::UndeclaredEvent),
    ("Invalid event arguments", Kind::RefusedPayload),
    ("Duplicate keys found", Kind::DuplicateKey),
    ("Encountered two children with the same key", Kind::DuplicateKey),
    ("Each child in a list should have a unique", Kind::MissingKey),
    ("Failed to resolve component", Kind::UnknownElement),
    ("is unrecognized in this browser", Kind::UnknownElement),
    ("expects a positive integer value", Kind::NoCount),
    ("was accessed during render but is not defined", Kind::UnknownName),
    ("cannot be a descendant of", Kind::Nesting),
    ("cannot be a child of", Kind::Nesting),
    ("cannot appear as a child of", Kind::Nesting),
    ("cannot appear as a descendant of", Kind::Nesting),
    ("cannot contain a nested", Kind::Nesting),
    ("was not wrapped in act", Kind::Unawaited),
    ("flushSync was called from inside", Kind::UpdateInRender),
    ("while rendering a different component", Kind::UpdateInRender),
    ("Unhandled error during execution", Kind::Unhandled),
    ("to be controlled", Kind::Control),
    ("to be uncontrolled", Kind::Control),
    ("target is readonly", Kind::ReadOnly),
    ("Maximum recursive updates exceeded", Kind::Loop),
];

/// Reads a warning; none for what a framework does not say.
pub fn read(text: &str) -> Option<Warning> {
    let (words, kind) = WORDS.iter().find(|(words, _)| text.contains(words))?;
    let at = text.find(words)?;
    let rest = &text[at + words.len()..];
    // Further lines say where it was met.
    let line = text[at..].lines().next().unwrap_or_default();
    let of = quoted(line).or_else(|| bare(rest)).or_else(|| quoted(&text[at..])).or_else(|| quoted(text));
    Some(Warning { kind: *kind, of, within: component(text) })
}

/// The component that a warning is said to come from: the innermost that the trace of Vue names, or the one whose rendering React says to
/// look at.
fn component(text: &str) -> Option<String> {
    const BEFORE: [(&str, char); 4] = [
        ("\n  in <", '>'),
        ("Check the render method of `", '`'),
        ("Check the top-level render call using <", '>'),
        ("It was passed a child from ", '.'),
    ];
    let (at, close) = BEFORE.iter().find_map(|(words, close)| Some((text.find(words)? + words.len(), *close)))?;
    let name = text[at..].split([close, ' ', '\n']).next()?;
    (!name.is_empty() && name != "Anonymous").then(|| name.to_owned())
}

/// What is named without quotes: `: Lid`, ` during update:1Make sure keys are unique.`
fn bare(rest: &str) -> Option<String> {
    let rest = rest.strip_prefix(" during update").unwrap_or(rest).strip_prefix(':')?.trim_start();
    let name = rest.split("Make sure").next()?.split_whitespace().next()?;
    Some(name.to_owned())
}

/// The first name in quotes, backticks or a tag.
fn quoted(text: &str) -> Option<String> {
    let (at, open) = text.char_indices().find(|(_, c)| matches!(c, '"' | '`' | '<' | '('))?;
    let close = match open {
        '<' => '>',
        '(' => ')',
        same => same,
    };
    let inner = &text[at + open.len_utf8()..];
    let name = &inner[..inner.find(close)?];
    (!name.is_empty() && name.len() < 60).then(|| name.to_owned())
}

impl Warning {
    /// Whether another law tells of it: of events that are not declared or carry what they should not.
    pub fn is_of_another_law(&self) -> bool {
        matches!(self.kind, Kind::UndeclaredEvent | Kind::RefusedPayload)
    }

    /// Whether it is about the value that a prop was given.
    pub fn is_of_a_value(&self) -> bool {
        matches!(self.kind, Kind::WrongType | Kind::RefusedValue)
    }

    /// Whether only what is written in components can be the reason, whatever a parent passes.
    pub fn is_own(&self) -> bool {
        use Kind::{DuplicateKey, Loop, MissingKey, Nesting, ReadOnly, UnknownElement, UnknownName, UpdateInRender};
        matches!(self.kind, DuplicateKey | Loop | MissingKey | Nesting | ReadOnly | UnknownElement | UnknownName | UpdateInRender)
    }

    /// What it is about, of a component of this name: ``a required prop is missing, `label` ``.
    pub fn in_words(&self, component: &str) -> String {
        let mut out = self.kind.to_string();
        match &self.of {
            Some(name) => out += &format!(" `{name}`"),
            None => out.truncate(out.trim_end_matches(',').len()),
        }
        if let Some(within) = self.within.as_ref().filter(|w| *w != component) {
            out += &format!(", in <{within}>");
        }
        out
    }

    /// Where the prop that it names is declared, where it is of this component.
    pub fn declared_at(&self, surface: &Surface) -> Option<Place> {
        if self.within.as_ref().is_some_and(|w| *w != surface.name) {
            return None;
        }
        surface.prop(self.of.as_deref()?)?.place.clone()
    }
}

impl fmt::Display for Kind {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(match self {
            Self::MissingProp => "a required prop is missing,",
            Self::WrongType => "a prop gets a value of another type,",
            Self::RefusedValue => "a validator refuses the value of a prop,",
            Self::UnknownProp => "a prop ends nowhere,",
            Self::UndeclaredEvent => "an event is not declared,",
            Self::RefusedPayload => "a validator refuses the payload of an event,",
            Self::DuplicateKey => "two items of a list have one key,",
            Self::MissingKey => "the items of a list have no",
            Self::UnknownElement => "a tag names no element and no component,",
            Self::NoCount => "a number is no count,",
            Self::UnknownName => "a template reads a name that nobody defines,",
            Self::Nesting => "HTML does not allow this element there,",
            Self::Unawaited => "an update came when nobody waited for it,",
            Self::UpdateInRender => "a rendering updates another component,",
            Self::Unhandled => "an error was handled by nobody,",
            Self::Control => "a field changes between being the parent's and its own,",
            Self::ReadOnly => "it writes to what is read-only,",
            Self::Loop => "updates set off each other without end,",
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::surface::{Framework, Prop, Type};

    #[test]
    fn frameworks_are_understood() {
        for (text, kind, of) in [
            ("[Vue warn]: Missing required prop: \"label\"", Kind::MissingProp, Some("label")),
            ("Invalid prop: type check failed for prop \"step\". Expected Number, got String", Kind::WrongType, Some("step")),
            ("Component emitted event \"fire\" but it is neither declared in the emits option", Kind::UndeclaredEvent, Some("fire")),
            ("Extraneous non-props attributes (glaze) were passed to component", Kind::UnknownProp, Some("glaze")),
            ("Encountered two children with the same key, `mug`. Keys should be unique", Kind::DuplicateKey, Some("mug")),
            ("Each child in a list should have a unique \"key\" prop.", Kind::MissingKey, Some("key")),
            ("In HTML, <p> cannot be a descendant of <p>.", Kind::Nesting, Some("p")),
            ("Failed to resolve component: Lid\nIf this is a native custom element, make sure", Kind::UnknownElement, Some("Lid")),
            ("Duplicate keys found during update:1Make sure keys are unique.", Kind::DuplicateKey, Some("1")),
            ("React does not recognize the `foodSafe` prop on a DOM element.", Kind::UnknownProp, Some("foodSafe")),
        ] {
            assert_eq!(read(text), Some(Warning { kind, of: of.map(str::to_owned), within: None }), "{text}");
        }
        assert_eq!(read("the kiln is hot"), None);
        let further = read("Failed to resolve component: kiln-lid\nIf this is a native custom element\n  in <Kiln>").expect("reads");
        assert_eq!((further.of.as_deref(), further.within.as_deref()), (Some("kiln-lid"), Some("Kiln")));
        for (text, within) in [
            ("Missing required prop: \"label\"\n  in <MugHandle>", "MugHandle"),
            ("Each child in a list should have a unique \"key\" prop.\n\nCheck the render method of `FiringLog`. See …", "FiringLog"),
        ] {
            assert_eq!(read(text).expect("reads").within.as_deref(), Some(within), "{text}");
        }
        let text = "Component emitted event \"fire\" but";
        assert!(read(text).expect("reads").is_of_another_law());
    }

    #[test]
    fn what_is_named_is_found_where_it_is_declared() {
        let place = Place { file: "GlazeBadge.vue".into(), line: 3, column: 5 };
        let mut surface = Surface::new("GlazeBadge", "GlazeBadge.vue", "default", Framework::Vue);
        surface.props.push(Prop { place: Some(place.clone()), ..Prop::new("label", Type::String) });
        let of = |text: &str| read(text).expect("reads");
        let own = of("Missing required prop: \"label\"\n  in <GlazeBadge>");
        assert_eq!((own.in_words("GlazeBadge"), own.declared_at(&surface)), ("a required prop is missing, `label`".into(), Some(place)));
        let inner = of("Missing required prop: \"label\"\n  in <MugHandle>");
        assert_eq!(
            (inner.in_words("GlazeBadge"), inner.declared_at(&surface)),
            ("a required prop is missing, `label`, in <MugHandle>".into(), None)
        );
        assert_eq!(of("Maximum recursive updates exceeded").in_words("GlazeBadge"), "updates set off each other without end");
    }
}

//! What a component declares to the parents that use it.

mod declared;
mod misuse;
mod variant;

use fidelon_source::Place;
use serde::{Deserialize, Serialize};
use serde_json::Value as Json;

pub use crate::framework::{Framework, StartsBy};
pub use declared::{Declared, DeclaredProp};
pub use misuse::{ChildUse, Misuse, Passed, PassedAs};
pub use variant::{Variant, VariantProp};

/// A declared type, as far as it tells which values can be passed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "is", rename_all = "snake_case")]
pub enum Type {
    /// Text.
    String,
    /// A number.
    Number,
    /// `true` or `false`.
    Boolean,
    /// One of these values.
    Union {
        /// The members, as declared.
        of: Vec<Json>,
    },
    /// A list.
    Array {
        /// What it lists.
        of: Box<Type>,
    },
    /// A list of exactly these.
    Tuple {
        /// What stands in each place.
        of: Vec<Type>,
    },
    /// An object with these fields.
    Object {
        /// The fields, as declared.
        fields: Vec<Field>,
    },
    /// A function.
    Function,
    /// What the framework can render.
    Node,
    /// A date.
    Date,
    /// Several types; the first is the plainest.
    Either {
        /// The types.
        of: Vec<Type>,
    },
    /// Source alone does not tell; the text of the type.
    Unresolved {
        /// As written.
        text: String,
    },
}

impl Type {
    /// Whether all of its values are texts, numbers and the like: nothing with parts.
    pub fn is_scalar(&self) -> bool {
        match self {
            Self::String | Self::Number | Self::Boolean | Self::Date => true,
            Self::Union { of } => of.iter().all(|value| !value.is_object() && !value.is_array()),
            Self::Either { of } => of.iter().all(Self::is_scalar),
            Self::Array { .. } | Self::Tuple { .. } | Self::Object { .. } | Self::Function | Self::Node | Self::Unresolved { .. } => false,
        }
    }
}

/// As TypeScript writes it, but for `content`: what the framework can render.
impl std::fmt::Display for Type {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        let joined = |types: &[String]| types.join(" | ");
        match self {
            Self::String => f.write_str("string"),
            Self::Number => f.write_str("number"),
            Self::Boolean => f.write_str("boolean"),
            Self::Union { of } => f.write_str(&joined(&of.iter().map(Json::to_string).collect::<Vec<_>>())),
            Self::Array { of } => match **of {
                Self::Union { .. } | Self::Either { .. } => write!(f, "({of})[]"),
                _ => write!(f, "{of}[]"),
            },
            Self::Tuple { of } => write!(f, "[{}]", of.iter().map(ToString::to_string).collect::<Vec<_>>().join(", ")),
            Self::Object { fields } => {
                let fields: Vec<String> =
                    fields.iter().map(|field| format!("{}{}: {}", field.name, if field.required { "" } else { "?" }, field.ty)).collect();
                if fields.is_empty() { f.write_str("{}") } else { write!(f, "{{ {} }}", fields.join("; ")) }
            }
            Self::Function => f.write_str("function"),
            Self::Node => f.write_str("content"),
            Self::Date => f.write_str("Date"),
            Self::Either { of } => f.write_str(&joined(&of.iter().map(ToString::to_string).collect::<Vec<_>>())),
            Self::Unresolved { text } => f.write_str(&text.split_whitespace().collect::<Vec<_>>().join(" ")),
        }
    }
}

/// A field of an object type.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Field {
    /// The name.
    pub name: String,
    /// The type.
    #[serde(rename = "type")]
    pub ty: Type,
    /// True when it must be there.
    pub required: bool,
}

/// A declared prop.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Prop {
    /// The name, as a parent writes it.
    pub name: String,
    /// The type.
    #[serde(rename = "type")]
    pub ty: Type,
    /// True when a parent must pass it.
    pub required: bool,
    /// The declared default, as written.
    pub default: Option<String>,
    /// True when the component reports changes of it back to the parent.
    pub two_way: bool,
    /// The comment above it.
    pub about: Option<String>,
    /// Where it is declared, where the source was read.
    #[serde(default, skip_serializing_if = "Option::is_none", rename = "source")]
    pub place: Option<Place>,
}

impl Prop {
    /// A prop that may be left out, of which no more is known than its name and its type.
    pub fn new(name: impl Into<String>, ty: Type) -> Self {
        Self { name: name.into(), ty, required: false, default: None, two_way: false, about: None, place: None }
    }
}

/// A declared event, by the name that one contract uses in every framework.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Event {
    /// `targetSettled`.
    pub name: String,
    /// As the framework writes it: `target-settled`, `onTargetSettled`.
    pub written: String,
    /// The prop that it reports a change of, for a two-way prop.
    pub reports: Option<String>,
    /// The declared types of what it carries; none where the source does not tell.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub payload: Option<Vec<Type>>,
}

impl Event {
    /// An event of which no more is known than its name.
    pub fn new(name: impl Into<String>, written: impl Into<String>) -> Self {
        Self { name: name.into(), written: written.into(), reports: None, payload: None }
    }
}

/// A declared slot.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Slot {
    /// The name; `default` for the nameless one.
    pub name: String,
    /// True when it hands values to its content.
    pub exposes: bool,
    /// The names of those values, where the source tells.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub hands: Vec<String>,
    /// The text that stands there when it is left empty, where the source tells.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub fallback: Option<String>,
    /// True when a parent must fill it.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub required: bool,
    /// The slot in whose fallback it stands.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub inside: Option<String>,
}

impl Slot {
    /// A slot that hands nothing over and has no known fallback.
    pub fn new(name: impl Into<String>) -> Self {
        Self { name: name.into(), exposes: false, hands: Vec::new(), fallback: None, required: false, inside: None }
    }
}

/// All that a component declares, in the order of its source.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Surface {
    /// The component's name.
    pub name: String,
    /// The file, relative to the project.
    pub file: String,
    /// The export: `default` or a name.
    pub export: String,
    /// The framework.
    pub framework: Framework,
    /// The props that are no events, slots or refs.
    pub props: Vec<Prop>,
    /// The choices of props that go together, where the type of all of them is a union.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub variants: Vec<Variant>,
    /// The events, those of two-way props too.
    pub events: Vec<Event>,
    /// The slots.
    pub slots: Vec<Slot>,
    /// Members that a parent reaches through a ref.
    pub exposes: Vec<String>,
    /// True when the source alone did not tell all: names that are not listed may exist too.
    pub open: bool,
    /// True where a default counts at the mount alone, as in Svelte's form of version 4: a prop that is passed no more is `undefined` then.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub defaults_once: bool,
    /// True where its source asks for what is around it: a context, what a parent provides.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub asks_around: bool,
    /// True where its source speaks to its content: it gives a context to it, or asks which parts are in it.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub speaks_to_content: bool,
    /// The lines of its file that use what a context gave.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub around: Vec<u32>,
}

impl Surface {
    /// A surface with a name and nothing declared.
    pub fn new(name: &str, file: &str, export: &str, framework: Framework) -> Self {
        Self {
            name: name.into(),
            file: file.into(),
            export: export.into(),
            framework,
            props: Vec::new(),
            variants: Vec::new(),
            events: Vec::new(),
            slots: Vec::new(),
            exposes: Vec::new(),
            open: false,
            defaults_once: false,
            asks_around: false,
            speaks_to_content: false,
            around: Vec::new(),
        }
    }

    /// The surface of what a server renders, or of a component that its page registers under the name after the `#`: nothing of it is known.
    pub fn served(address: &str) -> Self {
        if let Some((_, name)) = address.split_once('#').filter(|(_, name)| !name.is_empty()) {
            let mut out = Self::new(name, address, "default", Framework::Html);
            out.open = true;
            return out;
        }
        let path = address.split(['?', '#']).next().unwrap_or(address);
        let name = path.trim_end_matches('/').rsplit('/').next().filter(|n| !n.is_empty() && !n.contains(':')).unwrap_or("page");
        let mut out = Self::new(name, address, "default", Framework::Html);
        out.open = true;
        out
    }

    /// Whether a server renders it.
    pub fn is_served(&self) -> bool {
        self.file.starts_with("http://")
    }

    /// The prop of this name.
    pub fn prop(&self, name: &str) -> Option<&Prop> {
        self.props.iter().find(|p| p.name == name)
    }

    /// The slot of this name.
    pub fn slot(&self, name: &str) -> Option<&Slot> {
        self.slots.iter().find(|s| s.name == name)
    }
}

/// `target-settled`, `onTargetSettled`, `TargetSettled` → `targetSettled`.
pub fn event_name(written: &str) -> String {
    let bare = written.strip_prefix("on").filter(|r| r.starts_with(|c: char| c.is_uppercase())).unwrap_or(written);
    let mut out = String::new();
    let mut upper = false;
    for (i, c) in bare.chars().enumerate() {
        if c == '-' || c == '_' {
            upper = true;
        } else if upper {
            out.extend(c.to_uppercase());
            upper = false;
        } else if i == 0 {
            out.extend(c.to_lowercase());
        } else {
            out.push(c);
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn one_name_in_every_framework() {
        for written in ["target-settled", "onTargetSettled", "targetSettled", "TargetSettled"] {
            assert_eq!(event_name(written), "targetSettled");
        }
        assert_eq!(event_name("once"), "once");
    }
}

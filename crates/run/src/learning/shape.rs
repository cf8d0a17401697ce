//! What is known of a value whose type says too little, and what is read of it adds.

use fidelon_core::plan::{self, names};
use fidelon_core::surface::{Field, Type};
use fidelon_core::value::Value;
use serde::Deserialize;
use serde_json::{Value as Json, json};

/// Fields that a thing is given: a component may read without an end.
const MOST_FIELDS: usize = 40;

/// What is known of a value.
#[derive(Debug, Clone, PartialEq)]
pub(super) enum Shape {
    /// Nothing; what its name suggests, if anything. `tried` once it is known that nothing is read of it.
    Unknown { hint: Option<Type>, tried: bool },
    /// All.
    Plain(Type),
    /// A list of these.
    List(Box<Shape>),
    /// A thing with these fields.
    Object(Vec<(String, Shape)>),
}

/// What a component did with a part of a value.
#[derive(Debug, Deserialize)]
pub(super) struct Read {
    /// The way to it, the prop first: a field by its name, any item of a list by nothing.
    at: Vec<Option<String>>,
    is: Use,
}

#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "lowercase")]
enum Use {
    /// A field of what is above was asked for.
    Field,
    /// It was gone through.
    List,
    /// It was asked for what texts can do.
    Text,
    /// It was asked for what numbers can do.
    Number,
    /// It was shown, or put into a text.
    Shown,
    /// It was reckoned with, or compared.
    Counted,
}

/// A step on the way to a part of a value: see [`Read`].
pub(super) type Step = Option<String>;

impl Read {
    /// The prop, and the way on from there.
    pub(super) fn prop(&self) -> Option<(&str, &[Step])> {
        let (first, rest) = self.at.split_first()?;
        Some((first.as_deref()?, rest))
    }
}

impl Shape {
    pub(super) fn unknown() -> Self {
        Self::Unknown { hint: None, tried: false }
    }

    /// What a name suggests.
    pub(super) fn named(name: &str) -> Self {
        match names::by_name(name) {
            hint @ (None | Some(Type::Array { .. })) => Self::Unknown { hint, tried: false },
            // Things whose name says no more than that they are things.
            Some(Type::Object { .. }) => Self::unknown(),
            Some(ty) => Self::Plain(ty),
        }
    }

    pub(super) fn ty(&self) -> Type {
        match self {
            Self::Unknown { hint, .. } => hint.clone().unwrap_or(Type::String),
            Self::Plain(ty) => ty.clone(),
            Self::List(item) => Type::Array { of: Box::new(item.ty()) },
            Self::Object(fields) => {
                let field = |(name, shape): &(String, Self)| Field { name: name.clone(), ty: shape.ty(), required: true };
                Type::Object { fields: fields.iter().map(field).collect() }
            }
        }
    }

    /// Takes in what was read; false where that is nothing new.
    pub(super) fn take(&mut self, way: &[Step], read: &Read) -> bool {
        match way.split_first() {
            None => self.is_used(read.is),
            Some((None, rest)) => {
                let was_none = matches!(self, Self::Unknown { .. } | Self::Plain(_));
                if was_none {
                    *self = Self::List(Box::new(Self::unknown()));
                }
                let Self::List(item) = self else { return false };
                item.take(rest, read) | was_none
            }
            Some((Some(name), rest)) => {
                // What is done with it tells more than its name.
                if matches!(self, Self::Unknown { .. } | Self::Plain(_)) {
                    *self = Self::Object(Vec::new());
                }
                let Self::Object(fields) = self else { return false };
                let is_new = fields.iter().all(|(known, _)| known != name);
                if is_new && fields.len() >= MOST_FIELDS {
                    return false;
                }
                if is_new {
                    fields.push((name.clone(), Self::named(name)));
                }
                let field = fields.iter_mut().find(|(known, _)| known == name);
                field.is_some_and(|(_, shape)| shape.take(rest, read)) | is_new
            }
        }
    }

    fn is_used(&mut self, used: Use) -> bool {
        let is_unknown = matches!(self, Self::Unknown { .. });
        let shape = match used {
            Use::List => Self::List(Box::new(Self::unknown())),
            Use::Text => Self::Plain(Type::String),
            Use::Number => Self::Plain(Type::Number),
            // Anything can be shown and compared: a name tells more.
            Use::Shown if is_unknown => Self::Plain(Type::String),
            Use::Counted if is_unknown => Self::Plain(Type::Number),
            Use::Field | Use::Shown | Use::Counted => return false,
        };
        let is_new = is_unknown || matches!(self, Self::Plain(_)) && *self != shape;
        if is_new {
            *self = shape;
        }
        is_new
    }

    /// The ways to the parts of which nothing is known and nothing was tried.
    pub(super) fn untried(&self) -> Vec<Vec<Step>> {
        match self {
            Self::Unknown { tried: false, .. } => vec![Vec::new()],
            Self::Unknown { .. } | Self::Plain(_) => Vec::new(),
            Self::List(item) => item.untried().into_iter().map(|way| [vec![None], way].concat()).collect(),
            Self::Object(fields) => {
                let below = |(name, shape): &(String, Self)| {
                    let name = name.clone();
                    shape.untried().into_iter().map(move |way| [vec![Some(name.clone())], way].concat())
                };
                fields.iter().flat_map(below).collect()
            }
        }
    }

    /// Nothing more is to be learnt of a part.
    pub(super) fn is_tried(&mut self, way: &[Step]) {
        match (way.split_first(), self) {
            (None, Self::Unknown { tried, .. }) => *tried = true,
            (Some((None, rest)), Self::List(item)) => item.is_tried(rest),
            (Some((Some(name), rest)), Self::Object(fields)) => {
                fields.iter_mut().filter(|(known, _)| known == name).for_each(|(_, shape)| shape.is_tried(rest));
            }
            _ => {}
        }
    }

    /// What the recorder makes a value of. What is unknown is a thing that notes what is read of it where `asked` says so.
    pub(super) fn recorded(&self, asked: Asked<'_>) -> Json {
        self.with(asked, &mut Vec::new(), 0)
    }

    fn with(&self, asked: Asked<'_>, way: &mut Vec<Step>, nth: usize) -> Json {
        match self {
            Self::Unknown { tried, .. } => match asked {
                Asked::All if !tried => json!("?"),
                Asked::One(wanted) if wanted == way.as_slice() => json!("?"),
                _ => json!({ "is": value(&self.ty(), nth) }),
            },
            Self::Plain(ty) => json!({ "is": value(ty, nth) }),
            Self::List(item) => {
                way.push(None);
                let items: Vec<Json> = (0..2).map(|nth| item.with(asked, way, nth)).collect();
                way.pop();
                json!({ "items": items })
            }
            Self::Object(fields) => {
                let mut out = serde_json::Map::new();
                for (name, shape) in fields {
                    way.push(Some(name.clone()));
                    out.insert(name.clone(), shape.with(asked, way, nth));
                    way.pop();
                }
                json!({ "fields": out })
            }
        }
    }

    /// Whether enough is known of it to pass one. A thing of which nothing was read, or that is asked for what a node of the page has, may be
    /// an element or a part of a library, which no plain object stands in for.
    pub(super) fn is_known(&self, required: bool) -> bool {
        const OF_NODES: [&str; 6] =
            ["addEventListener", "appendChild", "contains", "getBoundingClientRect", "ownerDocument", "querySelector"];
        match self {
            Self::Unknown { hint, .. } => required || hint.is_some(),
            Self::Object(fields) => !fields.is_empty() && !fields.iter().any(|(name, _)| OF_NODES.contains(&name.as_str())),
            Self::List(_) | Self::Plain(_) => true,
        }
    }

    /// The same with nothing known of what is within.
    pub(super) fn bare(&self) -> Self {
        match self {
            Self::List(_) => Self::List(Box::new(Self::Unknown { hint: None, tried: true })),
            Self::Object(_) => Self::Object(Vec::new()),
            other => other.clone(),
        }
    }
}

/// Which parts are asked about.
#[derive(Debug, Clone, Copy)]
pub(super) enum Asked<'w> {
    /// All of which nothing is known.
    All,
    /// The one that this way leads to.
    One(&'w [Step]),
    /// None.
    None,
}

/// A value of a type, another one for another item.
fn value(ty: &Type, nth: usize) -> Json {
    let plain = |value| match value {
        Value::Json(json) => Some(json),
        _ => None,
    };
    let listed = Type::Array { of: Box::new(ty.clone()) };
    let items = plan::edge_values(&listed).into_iter().filter_map(plain).filter_map(|list| list.as_array().cloned()).max_by_key(Vec::len);
    let item = items.and_then(|items| items.get(nth).or(items.first()).cloned());
    item.or_else(|| plan::edge_values(ty).into_iter().find_map(plain)).unwrap_or(Json::Null)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn read(text: &str) -> Read {
        serde_json::from_str(text).expect("a read")
    }

    fn taken(shape: &mut Shape, text: &str) -> bool {
        let read = read(text);
        let (_, way) = read.prop().expect("a prop");
        shape.take(way, &read)
    }

    #[test]
    fn what_is_read_makes_the_type() {
        let mut shape = Shape::unknown();
        for text in [
            r#"{"at":["user","name"],"is":"field"}"#,
            r#"{"at":["user","address"],"is":"field"}"#,
            r#"{"at":["user","address","city"],"is":"field"}"#,
            r#"{"at":["user","orders"],"is":"field"}"#,
            r#"{"at":["user","orders"],"is":"list"}"#,
            r#"{"at":["user","orders",null,"total"],"is":"field"}"#,
            r#"{"at":["user","pot"],"is":"field"}"#,
            r#"{"at":["user","pot"],"is":"counted"}"#,
            r#"{"at":["user","title"],"is":"field"}"#,
            r#"{"at":["user","title"],"is":"number"}"#,
            r#"{"at":["user","kiln"],"is":"field"}"#,
            r#"{"at":["user","kiln"],"is":"shown"}"#,
        ] {
            assert!(taken(&mut shape, text), "{text}");
            assert!(!taken(&mut shape, text), "{text} is known");
        }
        assert_eq!(
            shape.ty().to_string(),
            "{ name: string; address: { city: string }; orders: { total: number }[]; pot: number; title: number; kiln: string }"
        );
    }

    #[test]
    fn what_was_tried_is_asked_no_more() {
        let mut shape = Shape::unknown();
        taken(&mut shape, r#"{"at":["user","nick"],"is":"field"}"#);
        taken(&mut shape, r#"{"at":["user","pet"],"is":"field"}"#);
        let way = |name: &str| vec![Some(name.to_owned())];
        assert_eq!(shape.untried(), [way("nick"), way("pet")]);
        assert_eq!(shape.recorded(Asked::One(&way("pet"))), json!({ "fields": { "nick": { "is": "mug" }, "pet": "?" } }));
        shape.is_tried(&way("pet"));
        assert_eq!(shape.untried(), [way("nick")]);
        assert_eq!(shape.recorded(Asked::All), json!({ "fields": { "nick": "?", "pet": { "is": "mug" } } }));
    }
}

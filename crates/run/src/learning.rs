//! What a component takes that does not say so: `pieces: Array` tells nothing of a piece. Objects that note what is read of them are passed,
//! and what the component reads is what a piece has.

use fidelon_core::contract::Contract;
use fidelon_core::judge::laws::{self, Runs};
use fidelon_core::observation::{Observation, Tone};
use fidelon_core::plan;
use fidelon_core::stage::{Combination, Script};
use fidelon_core::surface::{Field, Prop, Surface, Type};
use fidelon_core::value::Value;
use serde_json::{Value as Json, json};

/// Props that are looked into.
const MOST: usize = 8;

/// Rounds: what is read of a field that was not known before may lead to another.
const ROUNDS: usize = 4;

/// Fields that a thing is given: a component may read without an end.
const MOST_FIELDS: usize = 40;

/// Begins a line of the console that tells of a field that was read.
const READ: &str = "\u{2}reads ";

/// What is known of a prop whose type says too little.
#[derive(Clone)]
enum Shape {
    /// A list of things with these fields; of texts as long as none is known.
    List(Vec<Field>),
    /// A thing with these fields.
    Object(Vec<Field>),
    /// What its name tells.
    Plain(Type),
}

impl Shape {
    fn ty(&self) -> Type {
        let thing = |fields: &[Field]| Type::Object { fields: fields.to_vec() };
        match self {
            Self::List(fields) if fields.is_empty() => Type::Array { of: Box::new(Type::String) },
            Self::List(fields) => Type::Array { of: Box::new(thing(fields)) },
            Self::Object(fields) => thing(fields),
            Self::Plain(ty) => ty.clone(),
        }
    }

    /// Whether enough is known of it to pass one. A thing of which nothing was read, or that is asked for what a node of the page has, may be
    /// an element or a part of a library, which no plain object stands in for.
    fn is_known(&self) -> bool {
        const OF_NODES: [&str; 6] =
            ["addEventListener", "appendChild", "contains", "getBoundingClientRect", "ownerDocument", "querySelector"];
        match self {
            Self::Object(fields) => !fields.is_empty() && !fields.iter().any(|f| OF_NODES.contains(&f.name.as_str())),
            Self::List(_) | Self::Plain(_) => true,
        }
    }

    fn fields(&mut self) -> Option<&mut Vec<Field>> {
        match self {
            Self::List(fields) | Self::Object(fields) => Some(fields),
            Self::Plain(_) => None,
        }
    }
}

/// The surface with types for props that declare none, as far as the component shows by what it reads. What cannot be learnt stays unknown,
/// and what a contract lists is not looked into.
pub(crate) fn learned(surface: &Surface, contract: Option<&Contract>, runs: &mut dyn Runs) -> Surface {
    let is_asked = |p: &Prop| contract.is_none_or(|c| p.required && c.scene.is_none() && !c.props.contains_key(&p.name));
    let mut shapes: Vec<(String, Shape)> =
        surface.props.iter().filter(|p| is_asked(p)).filter_map(|p| Some((p.name.clone(), guess(p)?))).take(MOST).collect();
    if shapes.is_empty() {
        return surface.clone();
    }
    for _ in 0..ROUNDS {
        let Some(plain) = plainest(&with(surface, &shapes)) else { break };
        let mut probed = plain;
        for (name, shape) in &shapes {
            probed.props.extend(probe(name, shape).map(|value| (name.clone(), value)));
        }
        let Ok(observation) = runs.play(&laws::mount(&probed)) else { break };
        if !take(&mut shapes, &observation) {
            break;
        }
    }
    // What it does not bear was no right guess: first the things it lists are texts, then nothing is known.
    for texts in [false, true] {
        if texts {
            shapes.iter_mut().filter_map(|(_, s)| s.fields()).for_each(Vec::clear);
        }
        shapes.retain(|(_, shape)| shape.is_known());
        let out = with(surface, &shapes);
        let Some(plain) = plainest(&out).filter(|c| bears(runs, c)) else { continue };
        // What it bears as long as it is not passed it may not bear when it is.
        shapes.retain(|(name, shape)| {
            let value = plan::edge_values(&shape.ty()).into_iter().next();
            let passed = value.map(|value| Combination {
                props: plain.props.clone().into_iter().chain([(name.clone(), value)]).collect(),
                ..plain.clone()
            });
            passed.is_some_and(|c| bears(runs, &c))
        });
        return with(surface, &shapes);
    }
    surface.clone()
}

/// Whether a component is mounted without throwing.
fn bears(runs: &mut dyn Runs, combination: &Combination) -> bool {
    runs.play(&laws::mount(combination)).is_ok_and(|o| !threw(&o))
}

fn threw(observation: &Observation) -> bool {
    observation.phases.iter().flat_map(|p| &p.notes).any(|n| n.tone == Tone::Failed)
}

/// What a prop may be by its declaration, its default and its name; none where its type says enough, or nothing says anything.
fn guess(prop: &Prop) -> Option<Shape> {
    let default = prop.default.as_deref().map(|d| d.trim_start_matches("()").trim_start().trim_start_matches("=>").trim_start());
    let begins = |c: &str| default.is_some_and(|d| d.starts_with(c));
    match &prop.ty {
        Type::Array { of } if matches!(**of, Type::Unresolved { .. }) => Some(Shape::List(Vec::new())),
        Type::Object { fields } if fields.is_empty() => Some(Shape::Object(Vec::new())),
        Type::Unresolved { text } => match text.as_str() {
            "Array" => Some(Shape::List(Vec::new())),
            "Object" | "object" => Some(Shape::Object(Vec::new())),
            "any" if begins("[") => Some(Shape::List(Vec::new())),
            "any" if begins("{") || begins("({") => Some(Shape::Object(Vec::new())),
            "any" => match plan::values::by_name(&prop.name) {
                Some(Type::Array { .. }) => Some(Shape::List(Vec::new())),
                Some(Type::Object { .. }) => Some(Shape::Object(Vec::new())),
                Some(ty) => Some(Shape::Plain(ty)),
                None => prop.required.then_some(Shape::Plain(Type::String)),
            },
            _ => None,
        },
        _ => None,
    }
}

fn with(surface: &Surface, shapes: &[(String, Shape)]) -> Surface {
    let mut out = surface.clone();
    for (name, shape) in shapes {
        if let Some(prop) = out.props.iter_mut().find(|p| p.name == *name) {
            prop.ty = shape.ty();
        }
    }
    out
}

/// Everything at its plainest, with something in what is looked into.
fn plainest(surface: &Surface) -> Option<Combination> {
    let domains = plan::declared(surface).ok()?;
    let mut out = Combination::default();
    domains.iter().filter(|d| !d.is_empty()).for_each(|d| d.put(0, &mut out));
    Some(out)
}

/// How the expression begins that stands for things which note what is read of them.
const PROBE: &str = "((things, told = new Set())";

/// True for a script that is played to learn what a component reads, and not to judge it.
pub(crate) fn is_probe(script: &Script) -> bool {
    script.combination.props.values().any(|value| matches!(value, Value::Js(text) if text.starts_with(PROBE)))
}

/// An expression for things that note what is read of them; what is known of them they have.
fn probe(name: &str, shape: &Shape) -> Option<Value> {
    let things: Vec<Json> = match (shape, plan::edge_values(&shape.ty())) {
        (Shape::Plain(_), _) => return None,
        (Shape::List(fields) | Shape::Object(fields), _) if fields.is_empty() => vec![json!({}), json!({})],
        (Shape::List(_), values) => values.into_iter().filter_map(as_list).max_by_key(Vec::len)?,
        (Shape::Object(_), values) => values.into_iter().filter_map(as_json).take(1).collect(),
    };
    let (things, prop, read) = (Json::from(things), json!(name), json!(READ));
    let which = if matches!(shape, Shape::Object(_)) { "[0]" } else { "" };
    Some(Value::Js(format!(
        "{PROBE} => things.map((thing) => new Proxy(thing, {{ get(it, name) {{ \
         if (name in it || typeof name !== 'string' || /^[_$@0-9]|^(toJSON|then|length|nodeType|nativeEvent|constructor)$/.test(name)) return it[name]; \
         if (!told.has(name)) {{ told.add(name); console.log({read} + {prop} + '.' + name); }} \
         return 'mug'; }} }})))({things}){which}"
    )))
}

fn as_json(value: Value) -> Option<Json> {
    match value {
        Value::Json(json) => Some(json),
        _ => None,
    }
}

fn as_list(value: Value) -> Option<Vec<Json>> {
    as_json(value)?.as_array().cloned()
}

/// Takes in what was read; false where that is nothing new.
fn take(shapes: &mut [(String, Shape)], observation: &Observation) -> bool {
    let mut new = false;
    let notes = observation.phases.iter().flat_map(|p| &p.notes).filter(|n| n.tone == Tone::Said);
    for read in notes.filter_map(|n| n.text.strip_prefix(READ)) {
        let Some((prop, field)) = read.split_once('.') else { continue };
        let Some(fields) = shapes.iter_mut().find(|(name, _)| name == prop).and_then(|(_, shape)| shape.fields()) else { continue };
        if fields.len() < MOST_FIELDS && fields.iter().all(|f| f.name != field) {
            let ty = plan::values::by_name(field).unwrap_or(Type::String);
            fields.push(Field { name: field.to_owned(), ty, required: true });
            new = true;
        }
    }
    new
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_prop_is_looked_into_where_its_type_says_too_little() {
        let any = || Type::Unresolved { text: "any".into() };
        let guessed = |name: &str, ty: Type, default: Option<&str>, required: bool| {
            guess(&Prop { default: default.map(str::to_owned), required, ..Prop::new(name, ty) }).map(|s| s.ty().to_string())
        };
        assert_eq!(guessed("pieces", Type::Array { of: Box::new(any()) }, None, true).as_deref(), Some("string[]"));
        assert_eq!(guessed("shelf", any(), Some("() => []"), false).as_deref(), Some("string[]"));
        assert_eq!(guessed("pieces", any(), None, true).as_deref(), Some("string[]"));
        assert_eq!(guessed("disabled", any(), None, false).as_deref(), Some("boolean"));
        assert_eq!(guessed("thing", any(), None, true).as_deref(), Some("string"));
        assert_eq!(guessed("thing", any(), None, false), None);
        assert_eq!(guessed("label", Type::String, None, true), None);
    }

    #[test]
    fn what_is_played_to_learn_is_known_by_its_probes() {
        let mut combination = Combination::default();
        combination.props.insert("pieces".into(), Value::Js("[1, 2]".into()));
        assert!(!is_probe(&laws::mount(&combination)));
        combination.props.insert("pieces".into(), probe("pieces", &Shape::List(Vec::new())).expect("a list can be probed"));
        assert!(is_probe(&laws::mount(&combination)));
    }
}

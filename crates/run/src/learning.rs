//! What a component takes that does not say so: `pieces: Array` tells nothing of a piece, and an untyped prop nothing at all. Things that note
//! what is read of them are passed, and what the component reads is what there is.

mod shape;

use fidelon_core::contract::Contract;
use fidelon_core::framework::Record;
use fidelon_core::judge::laws::{self, Runs};
use fidelon_core::observation::{Observation, Tone};
use fidelon_core::plan::{self, Domain};
use fidelon_core::stage::{Combination, Script};
use fidelon_core::surface::{Prop, Surface, Type};
use fidelon_core::value::Value;
use serde_json::{Value as Json, json};

use self::shape::{Asked, Read, Shape, Step};

/// Props that are looked into.
const MOST: usize = 12;

/// Rounds: what is read of a field that was not known before may lead to another.
const ROUNDS: usize = 4;

/// Parts that are tried one by one, where a component bears no thing in place of a text.
const MOST_ALONE: usize = 48;

/// Begins a line of the console that tells what was read.
const READ: &str = "\u{2}reads ";

/// An expression for a function that makes values which note what is read of them.
const RECORDER: &str = include_str!("../js/recorder.js");

/// The props that are looked into, with what is known of each.
type Shapes = Vec<(String, Shape)>;

/// The surface with types for props that declare none, as far as the component shows by what it reads. What cannot be learnt stays unknown,
/// and what a contract lists is not looked into. One without which the component throws is required, if nothing says that it may be left out.
pub(crate) fn learned(surface: &Surface, contract: Option<&Contract>, runs: &mut dyn Runs) -> Surface {
    let is_asked = |p: &Prop| contract.is_none_or(|c| p.required && c.scene.is_none() && !c.props.contains_key(&p.name));
    let asked = surface.props.iter().filter(|p| is_asked(p)).filter_map(|p| Some((p.name.clone(), guess(p)?)));
    let mut shapes: Shapes = asked.take(MOST).collect();
    if shapes.is_empty() {
        return surface.clone();
    }
    look(surface, &mut shapes, runs);
    let is_required = |name: &str| surface.prop(name).is_some_and(|p| p.required);
    // What it does not bear was no right guess: first the things it lists are texts, then nothing is known.
    for texts in [false, true] {
        if texts {
            shapes.iter_mut().for_each(|(_, shape)| *shape = shape.bare());
        }
        shapes.retain(|(name, shape)| shape.is_known(is_required(name)));
        let out = required_by_use(&with(surface, &shapes), surface, &shapes, runs);
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
        let known = with(surface, &shapes);
        return Surface {
            props: known.props.into_iter().map(|p| Prop { required: out.prop(&p.name).is_some_and(|o| o.required), ..p }).collect(),
            ..known
        };
    }
    surface.clone()
}

/// Passes things that note what is read of them until nothing new is.
fn look(surface: &Surface, shapes: &mut Shapes, runs: &mut dyn Runs) {
    let framework = surface.framework.record();
    let mut alone = 0;
    for _ in 0..ROUNDS {
        let bases = bases(&with(surface, shapes));
        let (mut new, mut bore) = (false, true);
        for base in &bases {
            let probed = recorded(base, shapes, framework, |_| Asked::All);
            let Ok(observation) = runs.play(&laws::mount(&probed)) else { return };
            bore &= !threw(&observation);
            new |= take(shapes, &observation);
        }
        // Not every framework shows a thing where a text belongs, and what throws reads no further.
        let untried: Vec<(String, Vec<Step>)> =
            shapes.iter().flat_map(|(name, shape)| shape.untried().into_iter().map(|way| (name.clone(), way))).collect();
        for (name, way) in untried.iter().filter(|_| !bore) {
            alone += 1;
            let Some(base) = bases.last().filter(|_| alone <= MOST_ALONE) else { return };
            let probed = recorded(base, shapes, framework, |prop| if prop == name { Asked::One(way) } else { Asked::None });
            let Ok(observation) = runs.play(&laws::mount(&probed)) else { return };
            new |= take(shapes, &observation);
            shapes.iter_mut().filter(|(known, _)| known == name).for_each(|(_, shape)| shape.is_tried(way));
        }
        if !new {
            return;
        }
    }
}

/// What learning begins with: everything at its plainest, and with all shown that is switched on by something.
fn bases(surface: &Surface) -> Vec<Combination> {
    let Ok(domains) = plan::declared(surface) else { return Vec::new() };
    let of = |on: bool| {
        let mut out = Combination::default();
        for domain in domains.iter().filter(|d| !d.is_empty()) {
            let is_on = |values: &[Value]| values.iter().position(|v| *v == Value::Json(Json::Bool(true)));
            let index = match domain {
                Domain::Prop(_, values) if on => is_on(values).unwrap_or(0),
                _ => 0,
            };
            domain.put(index, &mut out);
        }
        out
    };
    let (plain, full) = (of(false), of(true));
    if plain == full { vec![plain] } else { vec![plain, full] }
}

/// A combination with what is looked into in it.
fn recorded<'w>(base: &Combination, shapes: &Shapes, framework: &Record, asked: impl Fn(&str) -> Asked<'w>) -> Combination {
    let mut out = base.clone();
    for (name, shape) in shapes {
        if let Shape::Plain(_) = shape {
            continue;
        }
        let asked = asked(name);
        let is_deep = matches!(asked, Asked::All);
        // JSX shows whatever can be gone through: that it is says nothing there.
        let options = json!({ "deep": is_deep, "iterable": !framework.passes_all_as_props, "packages": framework.packages });
        let made = format!("{RECORDER}({}, {}, {options})", shape.recorded(asked), json!([name]));
        out.props.insert(name.clone(), Value::Js(made));
    }
    out
}

/// The surface with what its component cannot do without, though nothing says so, as required: what has no type cannot say what may be left out.
fn required_by_use(known: &Surface, declared: &Surface, shapes: &Shapes, runs: &mut dyn Runs) -> Surface {
    let says_nothing = |p: &Prop| matches!(&p.ty, Type::Unresolved { text } if text == "any") && p.default.is_none() && !p.required;
    let untold: Vec<&str> = shapes.iter().map(|(name, _)| name.as_str()).filter(|n| declared.prop(n).is_some_and(says_nothing)).collect();
    let require = |names: &[&str]| {
        let props = known.props.iter().cloned().map(|p| Prop { required: p.required || names.contains(&p.name.as_str()), ..p });
        Surface { props: props.collect(), ..known.clone() }
    };
    let whole = bases(&require(&untold));
    // What throws with all of it says nothing of any.
    if untold.is_empty() || !whole.iter().all(|base| bears(runs, base)) {
        return known.clone();
    }
    let needed = untold.iter().copied().filter(|name| {
        whole.iter().any(|base| {
            let mut without = base.clone();
            without.props.insert((*name).to_owned(), Value::Absent);
            !bears(runs, &without)
        })
    });
    let needed: Vec<&str> = needed.collect();
    require(&needed)
}

/// Whether a component is mounted without throwing.
fn bears(runs: &mut dyn Runs, combination: &Combination) -> bool {
    runs.play(&laws::mount(combination)).is_ok_and(|o| !threw(&o))
}

fn threw(observation: &Observation) -> bool {
    observation.phases.iter().flat_map(|p| &p.notes).any(|n| n.tone == Tone::Failed)
}

/// What a prop may be by its declaration, its default and its name; none where its type says enough.
fn guess(prop: &Prop) -> Option<Shape> {
    let default = prop.default.as_deref().map(|d| d.trim_start_matches("()").trim_start().trim_start_matches("=>").trim_start());
    let begins = |c: &str| default.is_some_and(|d| d.starts_with(c));
    let list = || Shape::List(Box::new(Shape::unknown()));
    match &prop.ty {
        Type::Array { of } if matches!(**of, Type::Unresolved { .. }) => Some(list()),
        Type::Object { fields } if fields.is_empty() => Some(Shape::Object(Vec::new())),
        Type::Unresolved { text } => match text.as_str() {
            "Array" => Some(list()),
            "Object" | "object" => Some(Shape::Object(Vec::new())),
            "any" if begins("[") => Some(list()),
            "any" if begins("{") || begins("({") => Some(Shape::Object(Vec::new())),
            // What a function makes is nothing that a name could tell: `expanded = writable([])`.
            "any" if default.is_some_and(is_made) => None,
            "any" => Some(Shape::named(&prop.name)),
            // A type of a package that nobody could read, of what is called a label or an id: what that is, is plain.
            _ if prop.required
                && plan::names::by_name(&prop.name).is_some_and(|ty| matches!(ty, Type::String | Type::Number | Type::Boolean)) =>
            {
                Some(Shape::named(&prop.name))
            }
            _ => None,
        },
        _ => None,
    }
}

/// Whether a default is what a call gives, an instance, or something else of the module's, a function as a rule: `transitionIn = slide`. What is
/// written in capitals is a constant.
fn is_made(default: &str) -> bool {
    const LITERALS: [&str; 4] = ["true", "false", "null", "undefined"];
    let rest = default.strip_prefix("new ").unwrap_or(default).trim_start_matches(|c: char| c.is_alphanumeric() || "_$.".contains(c));
    let name = default.starts_with(|c: char| c.is_lowercase() || c == '_' || c == '$') && !LITERALS.contains(&default);
    rest.len() < default.len() && (rest.starts_with('(') || rest.is_empty() && name)
}

fn with(surface: &Surface, shapes: &Shapes) -> Surface {
    let mut out = surface.clone();
    for (name, shape) in shapes {
        if let Some(prop) = out.props.iter_mut().find(|p| p.name == *name) {
            prop.ty = shape.ty();
        }
    }
    out
}

/// Everything at its plainest.
fn plainest(surface: &Surface) -> Option<Combination> {
    bases(surface).into_iter().next()
}

/// True for a script that is played to learn what a component reads, and not to judge it.
pub(crate) fn is_probe(script: &Script) -> bool {
    script.combination.props.values().any(|value| matches!(value, Value::Js(text) if text.starts_with(RECORDER)))
}

/// Takes in what was read; false where that is nothing new.
fn take(shapes: &mut Shapes, observation: &Observation) -> bool {
    let notes = observation.phases.iter().flat_map(|p| &p.notes).filter(|n| n.tone == Tone::Said);
    let mut new = false;
    for read in notes.filter_map(|n| serde_json::from_str::<Read>(n.text.strip_prefix(READ)?).ok()) {
        let Some((prop, way)) = read.prop() else { continue };
        let known = shapes.iter_mut().find(|(name, _)| name == prop);
        new |= known.is_some_and(|(_, shape)| shape.take(way, &read));
    }
    new
}

#[cfg(test)]
mod tests {
    use super::*;
    use fidelon_core::framework::Framework;

    #[test]
    fn what_a_default_is_made_by_says_nothing_by_its_name() {
        for made in ["writable([])", "new Map()", "slide", "kilns.first", "create()"] {
            assert!(is_made(made), "{made}");
        }
        for told in ["void 0", "true", "null", "undefined", "'mug'", "600", "[]", "{}", "DEFAULT_HEAT", "-1"] {
            assert!(!is_made(told), "{told}");
        }
    }

    #[test]
    fn a_prop_is_looked_into_where_its_type_says_too_little() {
        let any = || Type::Unresolved { text: "any".into() };
        let guessed = |name: &str, ty: Type, default: Option<&str>| {
            guess(&Prop { default: default.map(str::to_owned), ..Prop::new(name, ty) }).map(|s| s.ty().to_string())
        };
        assert_eq!(guessed("pieces", Type::Array { of: Box::new(any()) }, None).as_deref(), Some("string[]"));
        assert_eq!(guessed("shelf", any(), Some("() => []")).as_deref(), Some("string[]"));
        assert_eq!(guessed("pieces", any(), None).as_deref(), Some("string[]"));
        assert_eq!(guessed("disabled", any(), None).as_deref(), Some("boolean"));
        assert_eq!(guessed("thing", any(), None).as_deref(), Some("string"));
        assert_eq!(guessed("label", Type::String, None), None);
    }

    #[test]
    fn what_is_played_to_learn_is_known_by_its_recorders() {
        let mut combination = Combination::default();
        combination.props.insert("pieces".into(), Value::Js("[1, 2]".into()));
        assert!(!is_probe(&laws::mount(&combination)));
        let shapes = vec![("pieces".to_owned(), Shape::unknown())];
        assert!(is_probe(&laws::mount(&recorded(&combination, &shapes, Framework::Vue.record(), |_| Asked::All))));
    }
}

//! Values made from declared types.

use serde_json::{Value as Json, json};

use super::Domain;
use super::names::{bounds, gives_text, held_by, is_choice, is_count, is_in, is_measure, is_time, of_calendar};
use super::texts::{self, words};
use crate::surface::{Field, Prop, Slot, Surface, Type};
use crate::value::Value;

/// The values that a declared type has at its edges, the plainest first.
pub fn edge_values(ty: &Type) -> Vec<Value> {
    let json = |values: &[Json]| values.iter().cloned().map(Value::Json).collect::<Vec<_>>();
    match ty {
        Type::Boolean => json(&[json!(false), json!(true)]),
        Type::String => json(&[
            json!("mug"),
            json!(""),
            json!("A long line about a glaze that ran down the side of a tall vase and onto the shelf below it"),
            json!("<b>&\"'"),
            json!("כוס"),
            json!("🏺"),
        ]),
        Type::Number => json(&[json!(1), json!(0), json!(-1), json!(0.5), json!(10_000)]),
        Type::Union { of } => json(of),
        Type::Array { of } => {
            let items: Vec<Json> = (0..3).filter_map(|i| item(of, i, true)).collect();
            let mut many: Vec<Json> = Vec::new();
            items.iter().for_each(|item| {
                if !many.contains(item) {
                    many.push(item.clone())
                }
            });
            if items.is_empty() {
                return json(&[json!([])]);
            }
            [Json::from_iter(items.into_iter().take(1)), json!([]), Json::from(many)].into_iter().map(made).collect()
        }
        Type::Tuple { .. } => {
            let (first, other) = (item(ty, 0, true), item(ty, 1, true).filter(|other| item(ty, 0, true).as_ref() != Some(other)));
            first.into_iter().chain(other).map(made).collect()
        }
        Type::Object { .. } => {
            let (few, all) = (item(ty, 0, false), item(ty, 0, true));
            let both: Vec<Json> = if few == all { all.into_iter().collect() } else { all.into_iter().chain(few).collect() };
            both.into_iter().map(made).collect()
        }
        Type::Function => vec![Value::Js("() => {}".into())],
        Type::Node => json(&[json!("mug"), json!("")]),
        Type::Date => vec![Value::Js("new Date(0)".into()), Value::Js("new Date(Date.UTC(2028, 1, 29))".into())],
        // A function that is made up does nothing and gives nothing: where there is a plainer type it says less than that.
        // A date that may be said as a text or a number as well.
        Type::Either { of } if of.contains(&Type::Date) => {
            let said = |ty: &Type| match ty {
                Type::String => json(&[json!("2028-02-29"), json!("2028-03-01")]),
                Type::Number => json(&[json!(1_835_395_200_000_i64), json!(0)]),
                ty => edge_values(ty).into_iter().take(2).collect(),
            };
            of.iter().filter(|ty| **ty != Type::Function).flat_map(said).collect()
        }
        // Texts that it tells apart, and any other.
        Type::Either { of } if is_open_choice(of) => {
            of.iter().flat_map(|t| if *t == Type::String { edge_values(t).into_iter().take(1).collect() } else { edge_values(t) }).collect()
        }
        Type::Either { of } => {
            let plain = of.iter().filter(|t| **t != Type::Function || of.iter().all(|t| *t == Type::Function));
            plain.flat_map(|t| edge_values(t).into_iter().take(2)).collect()
        }
        Type::Unresolved { .. } => Vec::new(),
    }
}

/// The values that a prop draws from: those of its type, and small numbers for what is counted. Ten thousand of anything say no more than
/// twelve, and take as long as all other cases together.
fn prop_values(name: &str, ty: &Type, default: Option<&str>) -> Vec<Value> {
    if let (Type::Number, Some(bounds)) = (ty, bounds(name)) {
        return bounds.map(Value::json).to_vec();
    }
    if let (Type::Number, Some(values)) = (ty, of_calendar(name)) {
        return values.iter().map(|n| Value::json(*n)).collect();
    }
    if let (Type::String, Some(formats)) = (ty, default.and_then(|default| texts::format_like(name, default))) {
        return formats.map(Value::json).to_vec();
    }
    let mut values = match (ty, texts::of(name).or_else(|| default.and_then(texts::like))) {
        (Type::Function, _) if gives_text(name) => vec![Value::Js(GIVES_TEXT.into())],
        (Type::String, Some(texts)) => texts.map(Value::json).to_vec(),
        // Of several types the text is one of its kind, too.
        (Type::Either { of }, Some(texts)) if is_open_choice(of) => {
            edge_values(&of[0]).into_iter().chain(texts.into_iter().take(1).map(Value::json)).collect()
        }
        (Type::Either { of }, Some(texts)) if of.contains(&Type::String) => {
            let one = |ty: &Type| if *ty == Type::String { texts.map(Value::json).to_vec() } else { edge_values(ty) };
            of.iter().flat_map(|t| one(t).into_iter().take(2)).collect()
        }
        _ => edge_values(ty),
    };
    if is_count(name) || is_measure(name) {
        // Nobody counts by halves, or waits for less than no time.
        let absurd = |value: &Value| [json!(-1), json!(0.5)].iter().any(|a| *value == Value::Json(a.clone()));
        values.retain(|value| !absurd(value));
    }
    // Pages that begin with 1 have none before it.
    let is_page = words(name).iter().any(|word| is_in(word, &["page", "current"]));
    if *ty == Type::Number && is_page && default.is_some_and(|default| default.trim() == "1") {
        values.retain(|value| *value != Value::json(0) && *value != Value::json(-1));
    }
    // What happens every so often never happens all the time; and what does something for the component cannot be merely wanted.
    let words = words(name);
    if words.iter().any(|word| is_in(word, &["interval", "speed", "period"])) {
        values.retain(|value| *value != Value::json(0));
    }
    if words.last().is_some_and(|word| DONE_BY.contains(&word.as_str()))
        && matches!(ty, Type::Either { of } if of.contains(&Type::Function))
    {
        values.retain(|value| *value != Value::json(true));
    }
    if is_time(name) {
        // What is over before anybody looks shows nothing of what it is for.
        for value in &mut values {
            if *value == Value::json(1) {
                *value = Value::json(5_000);
            }
        }
    }
    if is_count(name) {
        for value in &mut values {
            if *value == Value::json(10_000) {
                *value = Value::json(12);
            }
        }
    }
    values
}

/// Words that end the name of what a parent does for a component: `filterMethod: [Function, Boolean]` takes `false` for none.
const DONE_BY: [&str; 11] =
    ["method", "fn", "func", "function", "handler", "callback", "hook", "formatter", "validator", "render", "renderer"];

/// The value number `i` of a type, for the items of a list: no two are alike where the type allows that, as ids must be. Optional
/// fields are there in `all` and in every item but the second; what is on or off is on in the third. So one is as plain as can be, between
/// one that is not hidden or disabled and one that is.
fn item(ty: &Type, i: usize, all: bool) -> Option<Json> {
    match ty {
        Type::String => Some(json!(["mug", "bowl", "tall vase"][i % 3])),
        Type::Number => Some(json!(i + 1)),
        Type::Boolean => Some(json!(i % 3 == 2)),
        Type::Union { of } => of.get(i % of.len().max(1)).cloned(),
        // What is mostly methods is an instance of something, and methods that give nothing are none of it.
        Type::Object { fields } if is_instance(fields) => None,
        // The innermost branches of a tree, of which no more is known, are left out.
        Type::Object { fields } if fields.iter().any(|f| f.required && is_more_of_itself(&f.ty)) => None,
        Type::Object { fields } => {
            // A callback that may be left out is: what calls it asks for it first.
            let of = fields.iter().filter(|f| f.required || all && i != 1 && f.ty != Type::Function);
            // What may be anything must be there all the same: a text that no other item has.
            let key = key_of(fields).map(|f| &f.name);
            let value = |f: &Field| match &f.ty {
                // What names a thing and what is read of it are not the same word, or nobody sees that one stands for the other.
                // An element's name, an address, a colour: no other text says anything there.
                Type::String if key.is_none_or(|k| *k != f.name) && of_a_kind(&f.name).is_some() => {
                    of_a_kind(&f.name).map(|t| json!(t[i % 3]))
                }
                // A component that has to be there shows nothing.
                Type::Unresolved { text } if f.required && text == "component" => Some(json!({ FUNCTION: null })),
                Type::Function if gives_text(&f.name) => Some(json!({ FUNCTION: "text" })),
                Type::String if key.is_some_and(|k| *k != f.name) => Some(json!(["Mug", "Bowl", "Tall vase"][i % 3])),
                Type::String if key.is_some() => Some(json!(["mug", "bowl", "tall-vase"][i % 3])),
                ty => item(ty, i, all).or_else(|| (f.required && is_any(ty)).then(|| json!(["mug", "bowl", "tall vase"][i % 3]))),
            };
            Some(Json::Object(of.filter_map(|f| Some((f.name.clone(), value(f)?))).collect()))
        }
        Type::Array { of } => Some(item(of, i, all).into_iter().collect()),
        // Its parts are no more alike than items are: two numbers are often a range.
        Type::Tuple { of } => of.iter().enumerate().map(|(place, ty)| item(ty, i + place, all)).collect(),
        Type::Function => Some(json!({ FUNCTION: null })),
        Type::Either { of } => of.iter().find_map(|t| item(t, i, all)),
        other => edge_values(other).into_iter().find_map(plain_json),
    }
}

/// Whether a type is some texts, and any other beside.
fn is_open_choice(of: &[Type]) -> bool {
    matches!(of, [Type::Union { .. }, Type::String])
}

/// Whether a type is told no further, as it holds itself.
fn is_more_of_itself(ty: &Type) -> bool {
    matches!(ty, Type::Unresolved { text } if text == "more of itself")
}

/// Whether fields are those of an instance: most of them, and several, are methods that have to be there. Handlers (`onSave`) are none: nobody
/// counts on what they give.
fn is_instance(fields: &[Field]) -> bool {
    let is_handler = |f: &Field| f.name.strip_prefix("on").is_some_and(|rest| rest.starts_with(char::is_uppercase));
    let methods = fields.iter().filter(|f| f.required && f.ty == Type::Function && !is_handler(f)).count();
    // What is asked for something gives it: `getBoundingClientRect`, `toDate`.
    let asked = |f: &Field| {
        let words = words(&f.name);
        words.len() > 1 && ["get", "to", "is", "has", "find", "create", "compute"].contains(&words[0].as_str())
    };
    methods > 2 && methods * 2 > fields.len() || fields.iter().any(|f| f.required && f.ty == Type::Function && asked(f))
}

/// The texts of a field that takes no other; not those of names, of which any will do.
fn of_a_kind(field: &str) -> Option<[&'static str; 3]> {
    texts::several(field).filter(|texts| texts[0] != "mug")
}

/// The field by which the things of a list are told apart: a text or a number that is called so.
fn key_of(fields: &[Field]) -> Option<&Field> {
    let can = |f: &&Field| matches!(f.ty, Type::String | Type::Number);
    let ends = |f: &Field, ends: &[&str]| words(&f.name).last().is_some_and(|w| ends.contains(&w.as_str()));
    let named = |list: &[&str]| fields.iter().filter(can).find(|f| ends(f, list));
    named(&["id", "key", "value", "code", "slug", "uid", "uuid"]).or_else(|| named(&["name"]))
}

/// Stands for a function in an item, which JSON has none of.
const FUNCTION: &str = "\u{0}function";

/// An item as a value: with functions in it as an expression.
fn made(json: Json) -> Value {
    let text = json.to_string();
    let functions = [(json!({ FUNCTION: null }).to_string(), "() => {}"), (json!({ FUNCTION: "text" }).to_string(), GIVES_TEXT)];
    if functions.iter().all(|(function, _)| !text.contains(function)) {
        return Value::Json(json);
    }
    Value::Js(format!("({})", functions.iter().fold(text, |text, (function, code)| text.replace(function, code))))
}

const GIVES_TEXT: &str = "() => 'mug'";

/// What is passed for a required prop of which nothing is told, in the language of values: a text, unless it is called as several things are.
/// Whether that was right, the component tells by throwing or not.
pub fn guess(prop: &Prop) -> Option<Value> {
    let several = prop.name.ends_with('s') || ["data", "list", "children"].contains(&prop.name.as_str());
    (prop.required && is_any(&prop.ty) && !several).then(|| Value::json(texts::of(&prop.name).map_or("mug", |texts| texts[0])))
}

fn is_any(ty: &Type) -> bool {
    matches!(ty, Type::Unresolved { text } if text == "any")
}

fn plain_json(value: Value) -> Option<Json> {
    match value {
        Value::Json(json) => Some(json),
        _ => None,
    }
}

/// Values that are those of items of a list beside them, or their keys: of the first, the second and the third as [`item`] makes them, and one
/// of none.
fn chosen(ty: &Type, of: &Type) -> Option<Vec<Value>> {
    let none = match ty {
        Type::String => json!(""),
        Type::Number => json!(0),
        _ => return None,
    };
    let of_item = |i: usize| {
        let Type::Object { fields } = of else { return None };
        let key = key_of(fields).filter(|f| f.ty == *ty).or_else(|| fields.iter().find(|f| f.ty == *ty))?;
        item(of, i, true)?.get(&key.name).cloned()
    };
    let items = (0..3).filter_map(|i| of_item(i).or_else(|| item(ty, i, true)));
    Some(items.chain([none]).map(made).collect())
}

/// What the items of a list are called that says which fields of other items are shown.
const COLUMNS: [&str; 5] = ["columns", "cols", "fields", "headers", "attributes"];
/// What those other items are called.
const ROWS: [&str; 6] = ["rows", "items", "data", "records", "entries", "list"];

/// The fields that the columns of a table show, as the plan makes up its columns: a row without them shows nothing.
fn columns_of(surface: &Surface) -> Vec<String> {
    let is_columns = |prop: &&Prop| words(&prop.name).last().is_some_and(|w| COLUMNS.contains(&w.as_str()));
    let keys = surface.props.iter().filter(is_columns).find_map(|prop| {
        let Type::Array { of } = &prop.ty else { return None };
        let Type::Object { fields } = &**of else { return None };
        let named = |list: &[&str]| fields.iter().find(|f| f.ty == Type::String && list.contains(&f.name.as_str()));
        let key = named(&["key", "field", "prop", "accessor", "dataIndex", "dataKey"]).or_else(|| key_of(fields))?;
        Some((0..3).filter_map(|i| item(of, i, true)?.get(&key.name)?.as_str().map(str::to_owned)).collect())
    });
    keys.unwrap_or_default()
}

/// True for a list of things of which more may be there than their type says.
fn is_rows(prop: &Prop) -> bool {
    let is_named = words(&prop.name).last().is_some_and(|w| ROWS.contains(&w.as_str()));
    is_named && matches!(&prop.ty, Type::Array { of } if matches!(**of, Type::Object { .. }))
}

/// A list of rows, each with a cell for every column; no two rows are in the order in which they would be sorted.
fn with_cells(value: Value, columns: &[String]) -> Value {
    let Value::Json(Json::Array(rows)) = value else { return value };
    let with = |(i, row): (usize, Json)| {
        let Json::Object(mut fields) = row else { return row };
        for (column, name) in columns.iter().enumerate() {
            fields.entry(name.clone()).or_insert_with(|| json!(["Tall vase", "Bowl", "Mug"][(i + column) % 3]));
        }
        Json::Object(fields)
    };
    Value::Json(rows.into_iter().enumerate().map(with).collect())
}

/// Of a declared union of more members than this, so many are passed, evenly over it.
pub const MOST_MEMBERS: usize = 64;

/// Of a surface with more props than this, the first so many take all their values, and the others their plainest.
pub const MOST_VARIED: usize = 200;

/// At most so many of a list, evenly over it, the first among them.
fn some_of(values: Vec<Value>, most: usize) -> Vec<Value> {
    let count = values.len();
    if count <= most {
        return values;
    }
    values.into_iter().enumerate().filter(|(i, _)| *i == 0 || i * most / count != (i - 1) * most / count).map(|(_, value)| value).collect()
}

/// Whether numbers are among the values of a type of numbers and texts.
fn can_be_number(ty: &Type) -> bool {
    match ty {
        Type::Number => true,
        Type::Either { of } => of.contains(&Type::Number) && of.iter().all(|t| matches!(t, Type::Number | Type::String)),
        _ => false,
    }
}

/// Whether a component has numbers as bounds of what it holds. A field of any type (`type`) may have them and hold a text.
fn has_bounds(surface: &Surface) -> bool {
    surface.prop("type").is_none() && ["min", "max"].iter().filter_map(|bound| surface.prop(bound)).any(|prop| can_be_number(&prop.ty))
}

/// Whether a number lies between the bounds that a component has by default: beyond them a control shows another one.
fn is_within(surface: &Surface, value: &Value) -> bool {
    let bound = |name: &str| surface.prop(name)?.default.as_deref()?.trim().parse::<f64>().ok();
    let Value::Json(number) = value else { return true };
    let Some(number) = number.as_f64() else { return true };
    bound("min").is_none_or(|min| number >= min) && bound("max").is_none_or(|max| number <= max)
}

/// Domains from the declared surface alone. Optional props can be absent, first of all.
///
/// # Errors
/// The names of required props whose type the source does not tell.
pub fn declared(surface: &Surface) -> Result<Vec<Domain>, Vec<String>> {
    let mut unknown = Vec::new();
    let mut domains = Vec::new();
    let listed = surface.props.iter().find_map(|prop| match &prop.ty {
        Type::Array { of } if item(of, 0, true).is_some() => Some(&**of),
        _ => None,
    });
    let columns = columns_of(surface);
    for prop in &surface.props {
        // What a component holds is called after it.
        let held = held_by(&surface.name).filter(|_| ["value", "modelValue"].contains(&prop.name.as_str()));
        let named = held.filter(|held| of_a_kind(held).is_some()).unwrap_or_else(|| prop.name.clone());
        let mut values = some_of(prop_values(&named, &prop.ty, prop.default.as_deref()), MOST_MEMBERS);
        if !columns.is_empty() && is_rows(prop) {
            values = values.into_iter().map(|value| with_cells(value, &columns)).collect();
        }
        if let Some(of) = listed.filter(|_| is_choice(&prop.name)) {
            values = chosen(&prop.ty, of).unwrap_or(values);
        }
        // Between its bounds a value can go both ways; and it is a number, whatever else a control may hold before one was typed.
        if is_choice(&prop.name) && can_be_number(&prop.ty) && has_bounds(surface) {
            let is_number = |value: &Value| matches!(value, Value::Json(Json::Number(_)));
            values.retain(|value| is_number(value) && *value != Value::json(0.5) && is_within(surface, value));
            values.insert(0, Value::json(6));
        }
        // What a function of the plan's gives is not what the component asks it for; that it is not passed is meant.
        let is_function = match &prop.ty {
            Type::Either { of } => of.iter().all(|t| *t == Type::Function),
            ty => *ty == Type::Function,
        };
        if is_function && !prop.required {
            values.clear();
        }
        // What a component hands out is a parent's own to hold: no text and no number is one.
        if prop.name == "ref" || prop.name.ends_with("Ref") {
            values.clear();
        }
        values.extend(guess(prop));
        if values.is_empty() && prop.required {
            unknown.push(prop.name.clone());
        }
        if !prop.required {
            values.insert(0, Value::Absent);
        }
        if domains.len() >= MOST_VARIED {
            values.truncate(1);
        }
        if !values.is_empty() {
            domains.push(Domain::Prop(prop.name.clone(), values));
        }
    }
    // A slot that is named for a field takes that field and nothing else.
    let takes_any = |slot: &&Slot| slot.required || !["input", "textarea", "select"].contains(&slot.name.as_str());
    for slot in surface.slots.iter().filter(takes_any) {
        let filled = [Some("<span>Mug</span>".into()), Some("<span>Mug</span><span>Bowl</span>".into())];
        let empty = (!slot.required).then_some(None);
        domains.push(Domain::Slot(slot.name.clone(), empty.into_iter().chain(filled).collect()));
    }
    if unknown.is_empty() { Ok(domains) } else { Err(unknown) }
}

#[cfg(test)]
mod tests {
    use super::super::names::by_name;
    use super::*;
    use crate::surface::Framework;

    #[test]
    fn nobody_makes_up_an_instance() {
        let of = |names: [&str; 3]| {
            let field = |name: &str, ty| crate::surface::Field { name: name.into(), ty, required: true };
            let methods = names.into_iter().map(|name| field(name, Type::Function));
            edge_values(&Type::Object { fields: methods.chain([field("label", Type::String)]).collect() })
        };
        assert_eq!(of(["find", "items", "stringify"]), Vec::new());
        assert_eq!(of(["onSave", "onDrop", "onClose"]).len(), 1, "handlers give nothing anyhow");
    }

    #[test]
    fn no_two_items_of_a_list_are_alike() {
        let field = |name: &str, ty, required| crate::surface::Field { name: name.into(), ty, required };
        let piece = Type::Object { fields: vec![field("id", Type::String, true), field("cone", Type::Number, false)] };
        let many = json!([{ "id": "mug", "cone": 1 }, { "id": "bowl" }, { "id": "tall-vase", "cone": 3 }]);
        let wanted = [json!([{ "id": "mug", "cone": 1 }]), json!([]), many].map(Value::Json);
        assert_eq!(edge_values(&Type::Array { of: Box::new(piece) }), wanted);
        assert_eq!(edge_values(&Type::Array { of: Box::new(Type::Boolean) })[2], Value::Json(json!([false, true])));
    }

    #[test]
    fn what_items_must_have_is_there() {
        let field = |name: &str, ty, required| crate::surface::Field { name: name.into(), ty, required };
        let told_no_further = || Type::Unresolved { text: "more of itself".into() };
        let branch = Type::Object { fields: vec![field("id", told_no_further(), true)] };
        let tree =
            Type::Object { fields: vec![field("id", Type::String, true), field("branches", Type::Array { of: Box::new(branch) }, false)] };
        assert_eq!(item(&tree, 0, true), Some(json!({ "id": "mug", "branches": [] })));
        let panel = Type::Object { fields: vec![field("view", Type::Unresolved { text: "component".into() }, true)] };
        assert_eq!(item(&panel, 0, true), Some(json!({ "view": { FUNCTION: null } })));
    }

    #[test]
    fn what_is_counted_stays_small() {
        for (name, count) in
            [("total", true), ("pageSize", true), ("sibling_count", true), ("itemsPerPage", true), ("width", false), ("target", false)]
        {
            let last = prop_values(name, &Type::Number, None).pop();
            assert_eq!(last, Some(Value::json(if count { 12 } else { 10_000 })), "{name}");
        }
    }

    #[test]
    fn a_name_suggests_a_type() {
        for (name, wanted) in [
            ("soldOut", Some("boolean")),
            ("isOpen", Some("boolean")),
            ("expanded", Some("boolean")),
            ("speed", Some("number")),
            ("label", Some("string")),
            ("imageUrl", Some("string")),
            ("price", Some("number")),
            ("total", Some("number")),
            ("pageGenerator", None),
            ("pieces", Some("string[]")),
            ("status", None),
            ("thing", None),
        ] {
            assert_eq!(by_name(name).map(|t| t.to_string()).as_deref(), wanted, "{name}");
        }
    }

    #[test]
    fn a_range_ends_after_it_begins() {
        let of = |name: &str| prop_values(name, &Type::Number, None);
        assert_eq!([of("min"), of("maxValue"), of("step")], [[1, 0], [12, 100], [1, 5]].map(|v| v.map(Value::json).to_vec()));
        assert_eq!(of("stepMinutes"), [15, 5].map(Value::json));
        assert_eq!(of("minutes"), edge_values(&Type::Number));
        assert_eq!(of("focusedMonth"), [1, 0, 11].map(Value::json));
    }

    #[test]
    fn what_nothing_is_told_of_is_tried_with_a_text() {
        let prop = |name: &str| Prop { required: true, ..Prop::new(name, Type::Unresolved { text: "any".into() }) };
        let mut surface = Surface::new("Sign", "Sign.svelte", "default", Framework::Svelte);
        surface.props = vec![prop("message")];
        assert_eq!(declared(&surface), Ok(vec![Domain::Prop("message".into(), vec![Value::json("mug")])]));
        surface.props.push(prop("pieces"));
        assert_eq!(declared(&surface), Err(vec!["pieces".to_owned()]));
    }

    #[test]
    fn of_very_many_a_few_are_taken() {
        let mut surface = Surface::new("Dial", "Dial.vue", "default", Framework::Vue);
        let members = Type::Union { of: (0..10_000).map(|i| json!(i)).collect() };
        surface.props = (0..300).map(|i| Prop { required: true, ..Prop::new(format!("p{i}"), members.clone()) }).collect();
        let domains = declared(&surface).expect("known");
        let lengths: Vec<usize> = domains.iter().map(Domain::len).collect();
        assert_eq!((lengths.len(), lengths[0], lengths[MOST_VARIED - 1], lengths[MOST_VARIED]), (300, MOST_MEMBERS, MOST_MEMBERS, 1));
        let Domain::Prop(_, values) = &domains[0] else { panic!("a prop") };
        assert_eq!((&values[0], &values[1]), (&Value::json(0), &Value::json(157)));
    }

    #[test]
    fn pages_that_begin_with_one_have_none_before_it() {
        for (name, default, has_none) in [("page", "1", false), ("currentPage", "1", false), ("page", "0", true), ("level", "1", true)] {
            let values = prop_values(name, &Type::Number, Some(default));
            assert!(values.len() > 1, "{values:?}");
            assert_eq!(values.contains(&Value::json(0)), has_none, "{name} = {default}");
        }
    }

    #[test]
    fn a_value_lies_between_the_bounds_that_it_has_by_default() {
        let mut surface = Surface::new("Dial", "Dial.svelte", "default", Framework::Svelte);
        let bound = |name: &str, default: &str| Prop { default: Some(default.into()), ..Prop::new(name, Type::Number) };
        surface.props = vec![Prop::new("value", Type::Number), bound("min", "0"), bound("max", "100")];
        let Domain::Prop(_, values) = &declared(&surface).expect("known")[0] else { panic!("a prop") };
        let numbers: Vec<f64> = values.iter().filter_map(|v| if let Value::Json(n) = v { n.as_f64() } else { None }).collect();
        assert!(numbers.len() > 2 && numbers.iter().all(|n| (0.0..=100.0).contains(n)), "{numbers:?}");
    }

    #[test]
    fn rows_hold_what_their_columns_show() {
        let mut surface = Surface::new("Table", "Table.vue", "default", Framework::Vue);
        let field = |name: &str| Field { name: name.into(), ty: Type::String, required: true };
        let list = |name: &str, fields: &[&str]| {
            let of = Type::Object { fields: fields.iter().map(|f| field(f)).collect() };
            Prop { required: true, ..Prop::new(name, Type::Array { of: Box::new(of) }) }
        };
        surface.props = vec![list("columns", &["key", "label"]), list("rows", &["id"])];
        let Domain::Prop(_, values) = &declared(&surface).expect("known")[1] else { panic!("a prop") };
        let first = json!([{ "id": "mug", "mug": "Tall vase", "bowl": "Bowl", "tall-vase": "Mug" }]);
        assert_eq!(values[0], Value::Json(first));
        surface.props[0].name = "pieces".into();
        let Domain::Prop(_, values) = &declared(&surface).expect("known")[1] else { panic!("a prop") };
        assert_eq!(values[0], Value::Json(json!([{ "id": "mug" }])), "nothing says what is shown of a row");
    }

    #[test]
    fn times_are_long_enough_to_be_seen() {
        assert_eq!(prop_values("duration", &Type::Number, None), [5_000, 0, 10_000].map(Value::json));
        assert_eq!(prop_values("width", &Type::Number, None), [1, 0, 10_000].map(Value::json));
    }

    #[test]
    fn what_is_chosen_is_one_of_the_items() {
        let mut surface = Surface::new("Choice", "Choice.vue", "default", Framework::Vue);
        let prop = |name: &str, ty| Prop { required: true, ..Prop::new(name, ty) };
        surface.props = vec![prop("value", Type::String), prop("label", Type::String)];
        let values = |surface: &Surface| match &declared(surface).expect("known")[0] {
            Domain::Prop(_, values) => values.clone(),
            Domain::Slot(..) => Vec::new(),
        };
        assert_eq!(values(&surface), edge_values(&Type::String), "there is nothing to choose from");
        surface.props.push(prop("options", Type::Array { of: Box::new(Type::String) }));
        assert_eq!(values(&surface), ["mug", "bowl", "tall vase", ""].map(Value::json));
        let field = |name: &str, ty| Field { name: name.into(), ty, required: true };
        let of = Type::Object { fields: vec![field("label", Type::String), field("id", Type::String)] };
        surface.props[2].ty = Type::Array { of: Box::new(of) };
        assert_eq!(values(&surface)[1], Value::json("bowl"), "what it is known by, not what is read");
    }

    #[test]
    fn optional_props_start_absent() {
        let mut surface = Surface::new("Dial", "Dial.vue", "default", Framework::Vue);
        let prop = |name: &str, ty, required| Prop { required, ..Prop::new(name, ty) };
        surface.props = vec![
            prop("label", Type::String, true),
            prop("locked", Type::Boolean, false),
            prop("x", Type::Unresolved { text: "T".into() }, false),
        ];
        let domains = declared(&surface).expect("known");
        assert_eq!(domains[1], Domain::Prop("locked".into(), vec![Value::Absent, Value::json(false), Value::json(true)]));
        assert_eq!(domains[2], Domain::Prop("x".into(), vec![Value::Absent]));
        surface.props[2].required = true;
        assert_eq!(declared(&surface), Err(vec!["x".into()]));
    }
}

//! Whether a value is one of a declared type, as far as the type tells.

use serde_json::Value as Json;

use crate::surface::{Field, Type};
use crate::value::{Value, same_json};

/// Whether a value fits a type. Nothing (absent, null) fits everywhere: types are read without their `null` and `undefined`. What
/// the source does not tell fits too.
pub fn fits(value: &Value, ty: &Type) -> bool {
    match value {
        Value::Absent | Value::Js(_) | Value::From(_) => true,
        Value::Json(json) => json_fits(json, ty),
        Value::Other(text) => match ty {
            Type::String | Type::Boolean | Type::Union { .. } | Type::Array { .. } | Type::Tuple { .. } => false,
            Type::Number => text == "NaN" || text.ends_with("Infinity"),
            Type::Function => text == "function",
            Type::Date => text.starts_with("Date"),
            Type::Either { of } => of.iter().any(|t| fits(value, t)),
            Type::Object { .. } | Type::Node | Type::Unresolved { .. } => true,
        },
    }
}

fn json_fits(json: &Json, ty: &Type) -> bool {
    // `{ $js: … }` within a value is known only where it is made.
    if json.is_null() || json.as_object().is_some_and(|o| o.len() == 1 && o.keys().all(|k| k.starts_with('$'))) {
        return true;
    }
    match ty {
        Type::String => json.is_string(),
        Type::Number => json.is_number(),
        Type::Boolean => json.is_boolean(),
        Type::Union { of } => of.iter().any(|member| same_json(member, json)),
        Type::Array { of } => json.as_array().is_some_and(|items| items.iter().all(|item| json_fits(item, of))),
        Type::Tuple { of } => json.as_array().is_some_and(|items| {
            items.len() <= of.len() && of.iter().enumerate().all(|(i, ty)| json_fits(items.get(i).unwrap_or(&Json::Null), ty))
        }),
        Type::Object { fields } => json.as_object().is_some_and(|object| {
            fields.iter().all(|Field { name, ty, required }| match object.get(name) {
                Some(value) => json_fits(value, ty),
                // What may be nothing may be left out as well.
                None => !required || matches!(ty, Type::Node | Type::Unresolved { .. }),
            })
        }),
        // A description stands for a function or a date within other values.
        Type::Function => json.as_str() == Some("function"),
        Type::Date => json.as_str().is_some_and(|text| text.starts_with("Date")),
        Type::Either { of } => of.iter().any(|t| json_fits(json, t)),
        Type::Node | Type::Unresolved { .. } => true,
    }
}

/// What was declared and what was given, for a value that does not fit.
pub fn misfit(value: &Value, ty: &Type) -> (String, String) {
    (in_words(ty), value.to_string())
}

/// Values of a type that are named; a long list of them tells nobody more.
const MOST_NAMED: usize = 12;

/// A type in words: `number`, `"F" or "C"`, `a list of string`.
pub fn in_words(ty: &Type) -> String {
    match ty {
        Type::String => "string".into(),
        Type::Number => "number".into(),
        Type::Boolean => "boolean".into(),
        Type::Union { of } => {
            let named = of.iter().take(MOST_NAMED).map(Json::to_string).collect::<Vec<_>>().join(" or ");
            if of.len() > MOST_NAMED { format!("{named} or {} more", of.len() - MOST_NAMED) } else { named }
        }
        Type::Array { of } => format!("a list of {}", in_words(of)),
        Type::Tuple { of } => format!("a list of {}", of.iter().map(in_words).collect::<Vec<_>>().join(" and ")),
        Type::Object { fields } => {
            let named = |f: &Field| format!("{}{}: {}", f.name, if f.required { "" } else { "?" }, in_words(&f.ty));
            format!("{{ {} }}", fields.iter().map(named).collect::<Vec<_>>().join(", "))
        }
        Type::Function => "function".into(),
        Type::Node => "what the framework renders".into(),
        Type::Date => "Date".into(),
        Type::Either { of } => of.iter().map(in_words).collect::<Vec<_>>().join(" or "),
        Type::Unresolved { text } => text.clone(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    #[test]
    fn a_value_fits_what_its_type_tells() {
        let unit = Type::Union { of: vec![json!("C"), json!("F")] };
        let fire = Type::Object {
            fields: vec![
                Field { name: "target".into(), ty: Type::Number, required: true },
                Field { name: "unit".into(), ty: unit.clone(), required: false },
            ],
        };
        for (value, ty, wanted) in [
            (Value::json(1), Type::Number, true),
            (Value::json("1"), Type::Number, false),
            (Value::Other("NaN".into()), Type::Number, true),
            (Value::Absent, Type::Number, true),
            (Value::json("F"), unit.clone(), true),
            (Value::json("K"), unit, false),
            (Value::Json(json!({ "target": 600 })), fire.clone(), true),
            (Value::Json(json!({ "target": "600" })), fire.clone(), false),
            (Value::Json(json!({ "unit": "C" })), fire.clone(), false),
            (Value::Json(json!([{ "target": 1 }])), Type::Array { of: Box::new(fire) }, true),
            (Value::Other("function".into()), Type::Function, true),
            (Value::Other("Map of 2".into()), Type::String, false),
            (Value::json("x"), Type::Either { of: vec![Type::Number, Type::String] }, true),
            (Value::json("x"), Type::Unresolved { text: "T".into() }, true),
            (Value::Json(json!({})), Type::Object { fields: vec![Field { name: "icon".into(), ty: Type::Node, required: true }] }, true),
        ] {
            assert_eq!(fits(&value, &ty), wanted, "{value} / {}", in_words(&ty));
        }
        assert!(in_words(&Type::Union { of: (0..20).map(Json::from).collect() }).ends_with("10 or 11 or 8 more"));
    }
}

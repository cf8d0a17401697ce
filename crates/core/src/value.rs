//! Values of props, payloads and bindings.

use std::fmt;

use serde::de::{self, Deserializer, MapAccess, SeqAccess, Visitor};
use serde::{Deserialize, Serialize};
use serde_json::Value as Json;

/// A value as a contract writes it or a stage reports it.
#[derive(Debug, Clone, PartialEq, Serialize)]
#[serde(tag = "kind", content = "value", rename_all = "snake_case")]
pub enum Value {
    /// The prop is not passed at all; `undefined` in a payload.
    Absent,
    /// What JSON can say.
    Json(Json),
    /// An ECMAScript expression that gives the value.
    Js(String),
    /// What a module exports: `./kilns.ts#hot`, as a contract names it.
    From(String),
    /// Something that JSON cannot say, as a stage describes it: `function raise`, `Date 2031-03-01T09:00:00.000Z`.
    Other(String),
}

impl Value {
    /// The value of a JSON text written in code.
    pub fn json(value: impl Into<Json>) -> Self {
        Self::Json(value.into())
    }

    /// The value in a results file: JSON as it is; what JSON cannot say as an object with one key, `$absent`, `$js`,
    /// `$from` or `$other`.
    pub fn to_plain(&self) -> Json {
        match self {
            Self::Json(json) => json.clone(),
            Self::Absent => serde_json::json!({ "$absent": true }),
            Self::Js(text) => serde_json::json!({ "$js": text }),
            Self::From(text) => serde_json::json!({ "$from": text }),
            Self::Other(text) => serde_json::json!({ "$other": text }),
        }
    }

    /// What [`Value::to_plain`] wrote.
    pub fn from_plain(json: Json) -> Self {
        let text = |key: &str| json.as_object().filter(|o| o.len() == 1).and_then(|o| o.get(key));
        let word = |key: &str| text(key).and_then(Json::as_str).map(str::to_owned);
        if text("$absent").is_some() {
            return Self::Absent;
        }
        let other = || word("$js").map(Self::Js).or_else(|| word("$from").map(Self::From)).or_else(|| word("$other").map(Self::Other));
        other().unwrap_or(Self::Json(json))
    }

    /// The JSON of a value in which nothing has to be made: no `{ "$js": … }` and the like stands anywhere in it.
    pub fn as_json(&self) -> Option<&Json> {
        fn is_plain(json: &Json) -> bool {
            match json {
                Json::Array(list) => list.iter().all(is_plain),
                Json::Object(map) => {
                    let is_word = |key: &String| matches!(key.as_str(), "$js" | "$from" | "$absent");
                    !(map.len() == 1 && map.keys().any(is_word)) && map.values().all(is_plain)
                }
                _ => true,
            }
        }
        match self {
            Self::Json(json) if is_plain(json) => Some(json),
            _ => None,
        }
    }

    /// True for a value that JavaScript takes as false.
    pub fn is_falsy(&self) -> bool {
        match self {
            Self::Absent => true,
            Self::Json(Json::Null | Json::Bool(false)) => true,
            Self::Json(Json::String(s)) => s.is_empty(),
            Self::Json(Json::Number(n)) => n.as_f64() == Some(0.0),
            _ => false,
        }
    }

    /// The same value for a person who compares: `1` and `1.0` are one number, the order of keys does not count.
    pub fn same(&self, other: &Self) -> bool {
        match (self, other) {
            (Self::Json(a), Self::Json(b)) => same_json(a, b),
            _ => self == other,
        }
    }
}

/// As it is written, and in the short form in which sessions tell of it: `null`, a text that describes it, a list of one.
impl<'de> Deserialize<'de> for Value {
    fn deserialize<D: Deserializer<'de>>(from: D) -> Result<Self, D::Error> {
        /// The form that is written.
        #[derive(Deserialize)]
        #[serde(tag = "kind", content = "value", rename_all = "snake_case")]
        enum Written {
            Absent,
            Json(Json),
            Js(String),
            From(String),
            Other(String),
        }
        struct Forms;
        impl<'de> Visitor<'de> for Forms {
            type Value = Value;
            fn expecting(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
                f.write_str("a value with its kind, a list of one, a text, or null")
            }
            fn visit_unit<E: de::Error>(self) -> Result<Value, E> {
                Ok(Value::Absent)
            }
            fn visit_str<E: de::Error>(self, text: &str) -> Result<Value, E> {
                Ok(Value::Other(text.to_owned()))
            }
            fn visit_seq<A: SeqAccess<'de>>(self, mut list: A) -> Result<Value, A::Error> {
                let json = list.next_element()?.ok_or_else(|| de::Error::invalid_length(0, &self))?;
                Ok(Value::Json(json))
            }
            fn visit_map<A: MapAccess<'de>>(self, map: A) -> Result<Value, A::Error> {
                Ok(match Written::deserialize(de::value::MapAccessDeserializer::new(map))? {
                    Written::Absent => Value::Absent,
                    Written::Json(json) => Value::Json(json),
                    Written::Js(text) => Value::Js(text),
                    Written::From(text) => Value::From(text),
                    Written::Other(text) => Value::Other(text),
                })
            }
        }
        from.deserialize_any(Forms)
    }
}

/// Equality of JSON values by what they mean: numbers by value, objects without order.
pub fn same_json(a: &Json, b: &Json) -> bool {
    match (a, b) {
        (Json::Number(a), Json::Number(b)) => a.as_f64() == b.as_f64(),
        (Json::Array(a), Json::Array(b)) => a.len() == b.len() && a.iter().zip(b).all(|(a, b)| same_json(a, b)),
        (Json::Object(a), Json::Object(b)) => a.len() == b.len() && a.iter().all(|(k, v)| b.get(k).is_some_and(|w| same_json(v, w))),
        _ => a == b,
    }
}

impl fmt::Display for Value {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Absent => f.write_str("absent"),
            Self::Json(Json::Object(map)) => {
                let parts: Vec<_> = map.iter().map(|(k, v)| format!("{k}: {v}")).collect();
                if parts.is_empty() { f.write_str("{}") } else { write!(f, "{{ {} }}", parts.join(", ")) }
            }
            Self::Json(value) => write!(f, "{value}"),
            Self::Js(text) | Self::From(text) => write!(f, "`{text}`"),
            Self::Other(text) => f.write_str(text),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    #[test]
    fn values_are_read_in_full_and_in_short() {
        let values = [
            Value::Absent,
            Value::json(Json::Null),
            Value::Json(json!(["a"])),
            Value::Js("1 + 1".into()),
            Value::From("./kilns.ts#hot".into()),
            Value::Other("function".into()),
        ];
        let full = serde_json::to_value(&values).expect("JSON");
        assert_eq!(serde_json::from_value::<Vec<Value>>(full).expect("values"), values);
        let short = r#"[null, [null], [["a"]], "function"]"#;
        let told: Vec<Value> = serde_json::from_str(short).expect("values");
        assert_eq!(told, [values[0].clone(), values[1].clone(), values[2].clone(), values[5].clone()]);
        assert!(serde_json::from_str::<Value>("[]").is_err());
        assert!(serde_json::from_str::<Value>(r#"{ "kind": "odd" }"#).is_err());
    }

    #[test]
    fn plain_values_come_back() {
        for value in [
            Value::Absent,
            Value::json(1),
            Value::Json(json!({ "a": [1], "$js": 2 })),
            Value::Js("new Date(0)".into()),
            Value::From("./kilns.ts#hot".into()),
            Value::Other("function".into()),
        ] {
            assert_eq!(Value::from_plain(value.to_plain()), value);
        }
        assert_eq!(Value::json("F").to_plain(), json!("F"));
    }

    #[test]
    fn values_in_which_nothing_has_to_be_made_are_json() {
        for (json, is_plain) in [
            (json!([1, { "a": null }]), true),
            (json!({ "$js": "1", "b": 2 }), true),
            (json!({ "$js": "1" }), false),
            (json!([{ "a": { "$from": "./kilns.ts#hot" } }]), false),
            (json!({ "a": { "$absent": true } }), false),
        ] {
            assert_eq!(Value::Json(json.clone()).as_json().is_some(), is_plain, "{json}");
        }
        assert!(Value::Absent.as_json().is_none() && Value::Js("1".into()).as_json().is_none());
    }

    #[test]
    fn numbers_compare_by_value_and_objects_without_order() {
        assert!(Value::json(1).same(&Value::json(1.0)));
        assert!(Value::Json(json!({ "a": 1, "b": [2.0] })).same(&Value::Json(json!({ "b": [2], "a": 1 }))));
        assert!(!Value::json("1").same(&Value::json(1)));
        assert!(!Value::Absent.same(&Value::Json(Json::Null)));
    }
}

//! `${…}` in the strings of steps and checks: replaced by the value of the expression in the case at hand.

use serde_json::Value as Json;

use crate::contract::values::value_of;
use crate::contract::yaml::{Data, Node};
use crate::value::Value;

/// A piece of a templated text.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Piece {
    /// As it stands.
    Text(String),
    /// An expression, and where it starts in the text.
    Expression(String, usize),
}

/// Splits a text at its `${…}`; braces within an expression may nest.
pub fn pieces(text: &str) -> Vec<Piece> {
    let mut out = Vec::new();
    let mut rest = 0;
    while let Some(found) = text[rest..].find("${") {
        let start = rest + found;
        let mut depth = 1;
        let end = text[start + 2..].char_indices().find_map(|(i, c)| {
            match c {
                '{' => depth += 1,
                '}' => depth -= 1,
                _ => {}
            }
            (depth == 0).then_some(start + 2 + i)
        });
        let Some(end) = end else { break };
        if start > rest {
            out.push(Piece::Text(text[rest..start].into()));
        }
        out.push(Piece::Expression(text[start + 2..end].into(), start + 2));
        rest = end + 1;
    }
    if rest < text.len() {
        out.push(Piece::Text(text[rest..].into()));
    }
    out
}

/// All expressions in the strings below a node, with the node they stand in.
pub fn expressions<'a>(node: &'a Node, out: &mut Vec<(&'a Node, String)>) {
    match &node.data {
        Data::Scalar { text, .. } => {
            for piece in pieces(text) {
                if let Piece::Expression(expression, _) = piece {
                    out.push((node, expression));
                }
            }
        }
        Data::List(items) => items.iter().for_each(|i| expressions(i, out)),
        Data::Map(entries) => entries.iter().for_each(|(_, v)| expressions(v, out)),
        Data::Given(_) => {}
    }
}

/// The node with every `${…}` replaced. A string that is one `${…}` keeps the type of its value.
///
/// # Errors
/// The expression that failed, and why.
pub fn resolve(node: &Node, evaluate: &mut dyn FnMut(&str) -> Result<Value, String>) -> Result<Node, String> {
    let data = match &node.data {
        Data::Scalar { text, .. } if text.contains("${") => {
            let pieces = pieces(text);
            match pieces.as_slice() {
                [Piece::Expression(expression, _)] => Data::Given(evaluate(expression)?.to_plain()),
                _ => {
                    let mut out = String::new();
                    for piece in &pieces {
                        match piece {
                            Piece::Text(text) => out.push_str(text),
                            Piece::Expression(expression, _) => out.push_str(&in_text(&evaluate(expression)?)),
                        }
                    }
                    Data::Given(Json::from(out))
                }
            }
        }
        Data::List(items) => Data::List(items.iter().map(|i| resolve(i, evaluate)).collect::<Result<_, _>>()?),
        Data::Map(entries) => {
            let entries = entries.iter().map(|(k, v)| Ok((k.clone(), resolve(v, evaluate)?)));
            Data::Map(entries.collect::<Result<_, String>>()?)
        }
        other => other.clone(),
    };
    Ok(Node { span: node.span, data })
}

/// The node with what every `{ $js: … }` and `{ $from: … }` gives in its place, as plain data: what a check compares with.
///
/// # Errors
/// The expression that failed, and why.
pub fn plain(node: &Node, evaluate: &mut dyn FnMut(&Value) -> Result<Value, String>) -> Result<Node, String> {
    let data = match &node.data {
        Data::Map(entries) => match value_of(node) {
            special @ (Value::Js(_) | Value::From(_)) => Data::Given(evaluate(&special)?.to_plain()),
            _ => {
                let entries = entries.iter().map(|(k, v)| Ok((k.clone(), plain(v, evaluate)?)));
                Data::Map(entries.collect::<Result<_, String>>()?)
            }
        },
        Data::List(items) => Data::List(items.iter().map(|i| plain(i, evaluate)).collect::<Result<_, _>>()?),
        Data::Given(json) => Data::Given(plain_json(json, evaluate)?),
        other => other.clone(),
    };
    Ok(Node { span: node.span, data })
}

fn plain_json(json: &Json, evaluate: &mut dyn FnMut(&Value) -> Result<Value, String>) -> Result<Json, String> {
    match (Value::from_plain(json.clone()), json) {
        (special @ (Value::Js(_) | Value::From(_)), _) => Ok(evaluate(&special)?.to_plain()),
        (_, Json::Array(items)) => items.iter().map(|i| plain_json(i, evaluate)).collect(),
        (_, Json::Object(map)) => map.iter().map(|(k, v)| Ok((k.clone(), plain_json(v, evaluate)?))).collect(),
        _ => Ok(json.clone()),
    }
}

/// A value within a text, as ECMAScript's template literals put it.
fn in_text(value: &Value) -> String {
    match value {
        Value::Json(Json::String(s)) => s.clone(),
        Value::Json(Json::Number(n)) => match n.as_f64() {
            Some(f) if f.fract() == 0.0 && f.abs() < 1e15 => format!("{f:.0}"),
            _ => n.to_string(),
        },
        Value::Json(other) => other.to_string(),
        Value::Absent => "undefined".into(),
        other => other.to_string(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn texts_are_split() {
        assert_eq!(
            pieces("a ${x ? {y: 1}.y : `b`} c"),
            [Piece::Text("a ".into()), Piece::Expression("x ? {y: 1}.y : `b`".into(), 4), Piece::Text(" c".into())]
        );
        assert_eq!(pieces("plain $ {x}"), [Piece::Text("plain $ {x}".into())]);
    }

    #[test]
    fn one_expression_keeps_its_type() {
        let node = crate::contract::yaml::parse("{a: '${x}', b: 'at ${x}°'}").expect("parses");
        let mut give = |_: &str| Ok(Value::json(600));
        let out = resolve(&node, &mut give).expect("resolves").to_json();
        assert_eq!(out, serde_json::json!({ "a": 600, "b": "at 600°" }));
    }
}

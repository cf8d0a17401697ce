//! Values as the props make them.

use serde_json::Value as Json;

use super::condition::is_word;
use crate::plan::Domain;
use crate::stage::Combination;
use crate::surface::Surface;
use crate::value::Value;

/// A prop as an expression, with its value in each combination: the declared default stands for one that is not passed.
#[derive(Debug, Clone)]
pub(super) struct Term {
    pub(super) prop: String,
    pub(super) expression: String,
    pub(super) values: Vec<Option<Json>>,
}

pub(super) fn terms(surface: &Surface, domains: &[Domain], combinations: &[Combination]) -> Vec<Term> {
    let names = domains.iter().filter_map(|d| match d {
        Domain::Prop(name, values) if is_word(name) => Some((name, values)),
        _ => None,
    });
    names
        .map(|(name, values)| {
            let default = surface.prop(name).and_then(|p| p.default.as_deref()).and_then(literal);
            let is_boolean = values.iter().all(|v| matches!(v, Value::Absent | Value::Json(Json::Bool(_))));
            // A boolean that is not passed is false.
            let default =
                default.or_else(|| (is_boolean && values.contains(&Value::Absent)).then(|| (Json::from(false), "false".to_owned())));
            let optional = values.contains(&Value::Absent);
            let expression = match &default {
                Some((_, text)) if optional => format!("({name} ?? {text})"),
                _ => name.clone(),
            };
            let value = |c: &Combination| match c.props.get(name) {
                Some(Value::Json(json)) => Some(json.clone()),
                Some(Value::Absent) | None => default.as_ref().map(|(json, _)| json.clone()),
                Some(_) => None,
            };
            Term { prop: name.clone(), expression, values: combinations.iter().map(value).collect() }
        })
        .collect()
}

/// A literal of the source, and how an expression writes it.
fn literal(text: &str) -> Option<(Json, String)> {
    let text = text.trim();
    if let Some(inner) = text.strip_prefix('\'').and_then(|t| t.strip_suffix('\'')).filter(|t| !t.contains(['\'', '\\'])) {
        let json = Json::from(inner);
        return Some((json.clone(), json.to_string()));
    }
    let json: Json = serde_json::from_str(text).ok()?;
    (!json.is_object() && !json.is_array() && !json.is_null()).then(|| (json.clone(), json.to_string()))
}

/// A value as text, as pages show it.
pub(super) fn shown(value: &Json) -> Option<String> {
    match value {
        Json::String(text) => Some(text.split_whitespace().collect::<Vec<_>>().join(" ")),
        Json::Number(number) => Some(number.to_string()),
        _ => None,
    }
}

/// The text that a template gives in a combination.
pub(super) fn filled(template: &[Piece], index: usize, terms: &[Term]) -> Option<String> {
    let mut out = String::new();
    for piece in template {
        match piece {
            Piece::Text(text) => out.push_str(text),
            Piece::Term(t) => out.push_str(&shown(terms[*t].values[index].as_ref()?)?),
        }
    }
    Some(out.split_whitespace().collect::<Vec<_>>().join(" "))
}

/// A part of a text.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) enum Piece {
    Text(String),
    Term(usize),
}

/// A text of a combination with the values of its props in place of what they may have made. Longer values come first.
pub(super) fn template(text: &str, index: usize, terms: &[Term]) -> Vec<Piece> {
    let mut known: Vec<(usize, String)> =
        terms.iter().enumerate().filter_map(|(t, term)| Some((t, shown(term.values[index].as_ref()?)?))).collect();
    known.retain(|(_, value)| !value.is_empty());
    known.sort_by_key(|(t, value)| (std::cmp::Reverse(value.len()), *t));
    let mut pieces = vec![Piece::Text(text.to_owned())];
    for (term, value) in known {
        pieces = pieces
            .into_iter()
            .flat_map(|piece| match piece {
                Piece::Text(text) => split(&text, &value, term),
                other => vec![other],
            })
            .collect();
    }
    pieces
}

/// A text cut where a value stands as a word.
fn split(text: &str, value: &str, term: usize) -> Vec<Piece> {
    let mut out = Vec::new();
    let mut from = 0;
    for (at, _) in text.match_indices(value) {
        let joins = |c: Option<char>| c.is_some_and(char::is_alphanumeric);
        let stands_alone = !joins(text[..at].chars().next_back()) && !joins(text[at + value.len()..].chars().next());
        if at < from || !stands_alone {
            continue;
        }
        if at > from {
            out.push(Piece::Text(text[from..at].to_owned()));
        }
        out.push(Piece::Term(term));
        from = at + value.len();
    }
    if from < text.len() {
        out.push(Piece::Text(text[from..].to_owned()));
    }
    out
}

/// A template as a contract writes it.
pub(super) fn written(template: &[Piece], terms: &[Term]) -> String {
    let piece = |p: &Piece| match p {
        Piece::Text(text) => text.clone(),
        Piece::Term(t) => format!("${{{}}}", terms[*t].expression.trim_start_matches('(').trim_end_matches(')')),
    };
    template.iter().map(piece).collect()
}

/// The expression that gives a value in each of these combinations: a constant, a prop, its opposite, a prop and a number more or less.
pub(super) fn expression(values: &[(usize, Json)], terms: &[Term]) -> Option<Json> {
    let (_, first) = values.first()?;
    // What a prop gives says more than a constant does, but one value shows nothing.
    let varies = values.iter().any(|(_, v)| v != first);
    if !varies {
        return Some(first.clone());
    }
    let is = |text: String| Some(Json::from(format!("${{{text}}}")));
    let plain = |term: &Term| term.expression.strip_prefix('(').and_then(|e| e.strip_suffix(')')).unwrap_or(&term.expression).to_owned();
    for term in terms {
        let of = |i: usize| term.values[i].as_ref();
        if values.iter().all(|(i, v)| of(*i) == Some(v)) {
            return is(plain(term));
        }
        if values.iter().all(|(i, v)| matches!((of(*i), v), (Some(Json::Bool(a)), Json::Bool(b)) if a != b)) {
            return is(format!("!{}", term.expression));
        }
    }
    let number = |json: Option<&Json>| json.and_then(Json::as_f64);
    for term in terms {
        let differences: Option<Vec<f64>> = values.iter().map(|(i, v)| Some(v.as_f64()? - number(term.values[*i].as_ref())?)).collect();
        let Some(differences) = differences else { continue };
        let first = differences[0];
        if first != 0.0 && first.fract() == 0.0 && differences.iter().all(|d| *d == first) {
            return is(format!("{} {} {}", term.expression, if first < 0.0 { '-' } else { '+' }, first.abs()));
        }
        for step in terms.iter().filter(|t| t.prop != term.prop) {
            for (sign, mark) in [(1.0, '+'), (-1.0, '-')] {
                let same =
                    values.iter().zip(&differences).all(|((i, _), d)| number(step.values[*i].as_ref()).is_some_and(|s| s * sign == *d));
                if same && first != 0.0 {
                    return is(format!("{} {mark} {}", term.expression, step.expression));
                }
            }
        }
    }
    None
}

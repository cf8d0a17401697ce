//! Conditions on props that tell where something was so.

use serde_json::Value as Json;

use crate::plan::Domain;
use crate::stage::Combination;
use crate::value::Value;

/// An expression over a combination, and where it is true.
#[derive(Debug, Clone)]
pub(super) struct Condition {
    /// None where nothing is asked.
    pub(super) text: Option<String>,
    pub(super) holds: Vec<bool>,
}

/// A condition as a value: `true` or `false`, whatever it is about.
pub(super) fn truth(text: &str) -> String {
    if is_word(text) { format!("${{!!{text}}}") } else { format!("${{{text}}}") }
}

/// True for a name that stands for itself in an expression.
pub(super) fn is_word(name: &str) -> bool {
    let mut chars = name.chars();
    chars.next().is_some_and(|c| c.is_alphabetic() || c == '_' || c == '$') && chars.all(|c| c.is_alphanumeric() || c == '_' || c == '$')
}

pub(super) fn conditions(domains: &[Domain], combinations: &[Combination]) -> Vec<Condition> {
    let mut out = vec![Condition { text: None, holds: vec![true; combinations.len()] }];
    let mut add = |text: String, holds: &dyn Fn(&Combination) -> bool| {
        let holds: Vec<bool> = combinations.iter().map(holds).collect();
        if holds.iter().any(|h| *h) && holds.iter().any(|h| !*h) {
            out.push(Condition { text: Some(text), holds });
        }
    };
    for domain in domains {
        match domain {
            Domain::Prop(name, values) if is_word(name) => {
                let of = |c: &Combination| c.props.get(name).cloned().unwrap_or(Value::Absent);
                let is_boolean = values.iter().all(|v| matches!(v, Value::Absent | Value::Json(Json::Bool(_))));
                if is_boolean {
                    add(name.clone(), &|c| !of(c).is_falsy());
                    add(format!("!{name}"), &|c| of(c).is_falsy());
                    add(format!("{name} !== undefined"), &|c| of(c) != Value::Absent);
                    add(format!("{name} === undefined"), &|c| of(c) == Value::Absent);
                    continue;
                }
                add(format!("{name} !== undefined"), &|c| of(c) != Value::Absent);
                add(format!("{name} === undefined"), &|c| of(c) == Value::Absent);
                if values.contains(&Value::json(0)) {
                    add(format!("{name} !== 0"), &|c| of(c) != Value::json(0));
                    add(format!("{name} === 0"), &|c| of(c) == Value::json(0));
                }
                if values.contains(&Value::json("")) {
                    add(format!("{name} !== undefined && {name} !== \"\""), &|c| !of(c).is_falsy());
                    add(format!("{name} === undefined || {name} === \"\""), &|c| of(c).is_falsy());
                    add(format!("{name} === \"\""), &|c| of(c) == Value::json(""));
                    add(format!("{name} !== \"\""), &|c| of(c) != Value::json(""));
                }
                for value in values.iter().filter(|v| matches!(v, Value::Json(Json::String(s)) if !s.is_empty() && s.len() < 24)) {
                    let Value::Json(json) = value else { continue };
                    add(format!("{name} === {json}"), &|c| of(c) == *value);
                }
                if values.iter().any(|v| matches!(v, Value::Json(Json::Array(_)))) {
                    let empty = |c: &Combination| {
                        matches!(of(c), Value::Absent | Value::Json(Json::Null)) || of(c) == Value::Json(Json::Array(Vec::new()))
                    };
                    add(format!("{name} === undefined || {name}.length === 0"), &empty);
                    add(format!("{name} !== undefined && {name}.length > 0"), &|c| !empty(c));
                }
            }
            Domain::Slot(name, _) if is_word(name) => {
                let filled = |c: &Combination| c.fills.get(name).is_some_and(Option::is_some);
                add(format!("slots.{name} !== null"), &filled);
                add(format!("slots.{name} === null"), &|c| !filled(c));
            }
            _ => {}
        }
    }
    // Two of the plain ones together, for what needs both: an open switch that is not disabled.
    let plain: Vec<Condition> =
        out.iter().filter(|c| c.text.as_deref().is_some_and(|t| !t.contains("||") && !t.contains("&&"))).cloned().collect();
    for (i, a) in plain.iter().enumerate() {
        for b in &plain[i + 1..] {
            let holds: Vec<bool> = a.holds.iter().zip(&b.holds).map(|(a, b)| *a && *b).collect();
            let (Some(first), Some(second)) = (&a.text, &b.text) else { continue };
            let narrower = holds != a.holds && holds != b.holds && holds.iter().any(|h| *h);
            if narrower && out.len() < MOST {
                out.push(Condition { text: Some(format!("{first} && {second}")), holds });
            }
        }
    }
    out
}

/// More are no help to a reader.
const MOST: usize = 400;

/// The condition under which something was so wherever it can be told (`told[i]` is `Some`): one that never holds where it was not, and
/// holds as often as any.
pub(super) fn explaining<'c>(conditions: &'c [Condition], so: &[Option<bool>]) -> Option<&'c Condition> {
    let covers = |c: &Condition| -> Option<usize> {
        let mut count = 0;
        for (holds, so) in c.holds.iter().zip(so) {
            match (holds, so) {
                (true, Some(true)) => count += 1,
                (true, _) => return None,
                _ => {}
            }
        }
        (count > 0).then_some(count)
    };
    let mut best: Option<(&Condition, usize)> = None;
    for condition in conditions {
        if let Some(count) = covers(condition)
            && best.is_none_or(|(_, most)| count > most)
        {
            best = Some((condition, count));
        }
    }
    best.map(|(c, _)| c)
}

/// The condition that is true exactly where something was so.
pub(super) fn exactly<'c>(conditions: &'c [Condition], so: &[bool]) -> Option<&'c Condition> {
    conditions.iter().find(|c| c.holds == so)
}

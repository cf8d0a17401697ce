//! From the cases where a promise broke and those where it held to the smallest condition that separates them.

use crate::finding::Condition;
use crate::stage::Combination;
use crate::value::Value;

/// The most parts that a cause may have.
const MOST_PARTS: usize = 3;

/// The smallest conjunction of `prop = value` that is true in every broken case and in no other. Empty when every case
/// broke; none when there is no such conjunction of up to three parts.
pub fn cause(broken: &[&Combination], held: &[&Combination]) -> Option<Vec<Condition>> {
    if held.is_empty() {
        return Some(Vec::new());
    }
    let first = broken.first()?;
    // Only what all broken cases share can be part of it.
    let shared: Vec<Condition> = conditions(first).into_iter().filter(|c| broken.iter().all(|b| is_true(c, b))).collect();
    for size in 1..=MOST_PARTS.min(shared.len()) {
        let mut chosen = Vec::new();
        if let Some(found) = search(&shared, held, size, 0, &mut chosen) {
            return Some(found);
        }
    }
    None
}

fn search(shared: &[Condition], held: &[&Combination], size: usize, from: usize, chosen: &mut Vec<usize>) -> Option<Vec<Condition>> {
    if chosen.len() == size {
        let separates = held.iter().all(|h| chosen.iter().any(|i| !is_true(&shared[*i], h)));
        return separates.then(|| chosen.iter().map(|i| shared[*i].clone()).collect());
    }
    for i in from..shared.len() {
        chosen.push(i);
        if let Some(found) = search(shared, held, size, i + 1, chosen) {
            return Some(found);
        }
        chosen.pop();
    }
    None
}

fn conditions(combination: &Combination) -> Vec<Condition> {
    let props = combination.props.iter().map(|(prop, is)| Condition { prop: prop.clone(), is: is.clone() });
    let fills = combination.fills.iter().map(|(slot, is)| Condition { prop: format!("slots.{slot}"), is: fill(is.as_deref()) });
    props.chain(fills).collect()
}

fn fill(content: Option<&str>) -> Value {
    content.map_or(Value::Absent, Value::json)
}

fn is_true(condition: &Condition, combination: &Combination) -> bool {
    match condition.prop.strip_prefix("slots.") {
        Some(slot) => combination.fills.get(slot).is_some_and(|f| fill(f.as_deref()) == condition.is),
        None => combination.props.get(&condition.prop).is_some_and(|v| v.same(&condition.is)),
    }
}

/// The plainest of the cases: the one with the most in common with the first combination of the plan, which holds every
/// prop's first value; among equals the first.
pub fn plainest<'a>(plain: &Combination, cases: &[&'a Combination]) -> Option<&'a Combination> {
    let distance = |c: &Combination| conditions(plain).iter().filter(|p| !is_true(p, c)).count();
    cases.iter().copied().min_by_key(|c| distance(c))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan;
    use serde_json::json;

    fn all() -> Vec<Combination> {
        let values = [
            ("unit", vec![json!("C"), json!("F")]),
            ("locked", vec![json!(false), json!(true)]),
            ("target", vec![json!(0), json!(600), json!(1240)]),
        ];
        let domains: Vec<plan::Domain> =
            values.into_iter().map(|(n, v)| plan::Domain::Prop(n.into(), v.into_iter().map(Value::Json).collect())).collect();
        plan::every(&domains)
    }

    fn told(breaks: impl Fn(&str) -> bool) -> Option<String> {
        let all = all();
        let (broken, held): (Vec<_>, Vec<_>) = all.iter().partition(|c| breaks(&c.in_words()));
        cause(&broken, &held).map(|c| c.iter().map(ToString::to_string).collect::<Vec<_>>().join(" and "))
    }

    #[test]
    fn planted_causes_are_found() {
        assert_eq!(told(|_| true).as_deref(), Some(""));
        assert_eq!(told(|c| c.contains("locked = true")).as_deref(), Some("locked"));
        assert_eq!(told(|c| c.contains("\"F\"") && c.contains("1240")).as_deref(), Some("unit = \"F\" and target = 1240"));
        assert_eq!(told(|c| c.contains("\"F\"") || c.contains("1240")), None);
    }
}

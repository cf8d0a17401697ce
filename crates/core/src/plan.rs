//! From values to combinations.

use std::collections::BTreeSet;

use crate::stage::Combination;
use crate::surface::{Surface, Type};
use crate::value::Value;
use serde_json::{Value as Json, json};

/// What one prop or slot draws its values from. The first is its plainest.
#[derive(Debug, Clone, PartialEq)]
pub enum Domain {
    /// A prop and its values.
    Prop(String, Vec<Value>),
    /// A slot and its contents.
    Slot(String, Vec<Option<String>>),
}

impl Domain {
    /// True for the domain of this prop.
    pub fn is_of(&self, prop: &str) -> bool {
        matches!(self, Self::Prop(name, _) if name == prop)
    }

    fn len(&self) -> usize {
        match self {
            Self::Prop(_, v) => v.len(),
            Self::Slot(_, v) => v.len(),
        }
    }

    fn put(&self, index: usize, into: &mut Combination) {
        match self {
            Self::Prop(name, values) => drop(into.props.insert(name.clone(), values[index].clone())),
            Self::Slot(name, values) => drop(into.fills.insert(name.clone(), values[index].clone())),
        }
    }
}

/// How many combinations are wanted.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Cover {
    /// All of them.
    Every,
    /// So many that each pair of values of any two occurs.
    Pairs,
}

/// How many combinations there may be before pairs take the place of all.
pub const MOST_BY_DEFAULT: usize = 256;
/// How many combinations `cover: every` may ask for.
pub const MOST_EVER: usize = 100_000;

/// How many combinations there are in all; none when the number is beyond counting.
pub fn size(domains: &[Domain]) -> Option<usize> {
    domains.iter().try_fold(1usize, |n, d| n.checked_mul(d.len()))
}

/// The combinations for these domains, in a stable order; the first holds every first value.
pub fn combinations(domains: &[Domain], cover: Option<Cover>) -> Vec<Combination> {
    let few = size(domains).is_some_and(|n| n <= MOST_BY_DEFAULT);
    match cover {
        Some(Cover::Every) => every(domains),
        Some(Cover::Pairs) => pairs(domains),
        None if few => every(domains),
        None => pairs(domains),
    }
}

/// All combinations; the last domain varies fastest.
pub fn every(domains: &[Domain]) -> Vec<Combination> {
    let mut rows: Vec<Vec<usize>> = vec![Vec::new()];
    for domain in domains {
        rows = rows.into_iter().flat_map(|row| (0..domain.len()).map(move |i| [row.as_slice(), &[i]].concat())).collect();
    }
    rows.iter().map(|row| combination(domains, row)).collect()
}

fn combination(domains: &[Domain], row: &[usize]) -> Combination {
    let mut out = Combination::default();
    for (domain, index) in domains.iter().zip(row) {
        domain.put(*index, &mut out);
    }
    out
}

/// A greedy covering array of strength two: each row starts from the first pair that is missing and takes, prop by prop,
/// the value that meets the most missing pairs.
fn pairs(domains: &[Domain]) -> Vec<Combination> {
    let n = domains.len();
    if n < 2 {
        return every(domains);
    }
    let mut missing: BTreeSet<(usize, usize, usize, usize)> = BTreeSet::new();
    for a in 0..n {
        for b in a + 1..n {
            for i in 0..domains[a].len() {
                for j in 0..domains[b].len() {
                    missing.insert((a, i, b, j));
                }
            }
        }
    }
    let mut rows = vec![vec![0; n]];
    let cover = |row: &[usize], missing: &mut BTreeSet<_>| {
        for a in 0..n {
            for b in a + 1..n {
                missing.remove(&(a, row[a], b, row[b]));
            }
        }
    };
    cover(&rows[0], &mut missing);
    while let Some(&(a, i, b, j)) = missing.first() {
        let mut row: Vec<Option<usize>> = vec![None; n];
        (row[a], row[b]) = (Some(i), Some(j));
        for p in 0..n {
            if row[p].is_some() {
                continue;
            }
            let gain = |value: usize| {
                (0..n)
                    .filter(|q| *q != p)
                    .filter(|q| {
                        row[*q].is_some_and(|w| {
                            if p < *q { missing.contains(&(p, value, *q, w)) } else { missing.contains(&(*q, w, p, value)) }
                        })
                    })
                    .count()
            };
            row[p] = (0..domains[p].len()).max_by_key(|v| (gain(*v), domains[p].len() - v));
        }
        let row: Vec<usize> = row.into_iter().map(|v| v.unwrap_or(0)).collect();
        cover(&row, &mut missing);
        rows.push(row);
    }
    rows.iter().map(|row| combination(domains, row)).collect()
}

/// Pairs of values that a plan meets, and pairs that there are.
pub fn pairs_met(domains: &[Domain], plan: &[Combination]) -> (usize, usize) {
    let n = domains.len();
    let index_of = |domain: &Domain, c: &Combination| match domain {
        Domain::Prop(name, values) => c.props.get(name).and_then(|v| values.iter().position(|w| w == v)),
        Domain::Slot(name, values) => c.fills.get(name).and_then(|v| values.iter().position(|w| w == v)),
    };
    let mut met = BTreeSet::new();
    for c in plan {
        let row: Vec<_> = domains.iter().map(|d| index_of(d, c)).collect();
        for a in 0..n {
            for b in a + 1..n {
                if let (Some(i), Some(j)) = (row[a], row[b]) {
                    met.insert((a, i, b, j));
                }
            }
        }
    }
    let of = (0..n).flat_map(|a| (a + 1..n).map(move |b| (a, b))).map(|(a, b)| domains[a].len() * domains[b].len()).sum();
    (met.len(), of)
}

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
        Type::Number => json(&[json!(1), json!(0), json!(-1), json!(0.5), json!(1_000_000)]),
        Type::Union { of } => json(of),
        Type::Array { of } => {
            let one: Vec<Json> = edge_values(of).into_iter().filter_map(plain_json).take(3).collect();
            let first: Vec<Json> = one.iter().take(1).cloned().collect();
            json(&[Json::from(first), json!([]), Json::from(one)])
        }
        Type::Object { fields } => {
            let build = |all: bool| -> Json {
                let of = fields.iter().filter(|f| f.required || all);
                Json::Object(of.filter_map(|f| Some((f.name.clone(), edge_values(&f.ty).into_iter().find_map(plain_json)?))).collect())
            };
            let (few, all) = (build(false), build(true));
            if few == all { json(&[all]) } else { json(&[all, few]) }
        }
        Type::Function => vec![Value::Js("() => {}".into())],
        Type::Node => json(&[json!("mug"), json!("")]),
        Type::Date => vec![Value::Js("new Date(0)".into()), Value::Js("new Date(Date.UTC(2028, 1, 29))".into())],
        Type::Either { of } => of.iter().flat_map(|t| edge_values(t).into_iter().take(2)).collect(),
        Type::Unresolved { .. } => Vec::new(),
    }
}

fn plain_json(value: Value) -> Option<Json> {
    match value {
        Value::Json(json) => Some(json),
        _ => None,
    }
}

/// Domains from the declared surface alone. Optional props can be absent, first of all.
///
/// # Errors
/// The names of required props whose type the source does not tell.
pub fn declared(surface: &Surface) -> Result<Vec<Domain>, Vec<String>> {
    let mut unknown = Vec::new();
    let mut domains = Vec::new();
    for prop in &surface.props {
        let mut values = edge_values(&prop.ty);
        if values.is_empty() && prop.required {
            unknown.push(prop.name.clone());
        }
        if !prop.required {
            values.insert(0, Value::Absent);
        }
        if !values.is_empty() {
            domains.push(Domain::Prop(prop.name.clone(), values));
        }
    }
    for slot in &surface.slots {
        domains.push(Domain::Slot(slot.name.clone(), vec![None, Some("<p>Mug</p>".into()), Some("<p>Mug</p><p>Bowl</p>".into())]));
    }
    if unknown.is_empty() { Ok(domains) } else { Err(unknown) }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn domains(sizes: &[usize]) -> Vec<Domain> {
        sizes.iter().enumerate().map(|(i, n)| Domain::Prop(format!("p{i}"), (0..*n).map(|v| Value::json(v)).collect())).collect()
    }

    #[test]
    fn every_is_a_full_product_in_order() {
        let all = every(&domains(&[2, 3]));
        let words: Vec<_> = all.iter().map(Combination::in_words).collect();
        assert_eq!(words, ["p0 = 0, p1 = 0", "p0 = 0, p1 = 1", "p0 = 0, p1 = 2", "p0 = 1, p1 = 0", "p0 = 1, p1 = 1", "p0 = 1, p1 = 2"]);
    }

    #[test]
    fn pairs_meet_all_pairs_with_few_rows() {
        for (sizes, at_most) in [(vec![3; 4], 12), (vec![2; 20], 20), (vec![5, 4, 3, 2, 2, 2], 26), (vec![4], 4)] {
            let domains = domains(&sizes);
            let plan = pairs(&domains);
            let (met, of) = pairs_met(&domains, &plan);
            assert_eq!(met, of, "{sizes:?}");
            assert!(plan.len() <= at_most, "{sizes:?}: {}", plan.len());
        }
    }

    #[test]
    fn optional_props_start_absent() {
        let mut surface = Surface::new("Dial", "Dial.vue", "default", crate::surface::Framework::Vue);
        let prop =
            |name: &str, ty, required| crate::surface::Prop { name: name.into(), ty, required, default: None, two_way: false, about: None };
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

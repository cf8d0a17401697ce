//! Which combinations are wanted, and the plan: those combinations in a stable order, with what they cover.

use std::collections::BTreeSet;

use super::array::{Array, pairs, triples};
use super::chance::Chance;
use super::domain::{Domain, combination, rows, size};
use super::rules::{Found, Rules};
use crate::stage::Combination;

/// How many combinations are wanted.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Cover {
    /// All of them.
    Every,
    /// So many that each pair of values of any two occurs.
    Pairs,
    /// So many that each triple of values of any three occurs.
    Triples,
    /// So many, by chance.
    Sample {
        /// How many.
        count: usize,
        /// What chance starts from.
        seed: u64,
    },
}

/// How many combinations there may be before pairs take the place of all.
pub const MOST_BY_DEFAULT: usize = 256;
/// How many combinations `cover: every` may ask for.
pub const MOST_EVER: usize = 100_000;
/// How many triples there may be: each is looked at many times.
const MOST_TRIPLES: usize = 60_000;

/// The combinations of a component, and what they cover.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Plan {
    /// The combinations; the first holds every first value, if that can occur.
    pub combinations: Vec<Combination>,
    /// Pairs of values that they meet.
    pub met: usize,
    /// Pairs of values that can occur.
    pub possible: usize,
    /// Pairs that cannot, by proof.
    pub impossible: usize,
}

/// Why there is no plan.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Unplanned {
    /// `cover` asks for more than can be played; how many, in words.
    Many(String),
    /// `never` leaves none.
    Empty,
}

/// The plan for these domains under these rules.
///
/// # Errors
/// [`Unplanned`] says why there is none.
pub fn plan(domains: &[Domain], cover: Option<Cover>, rules: &Rules) -> Result<Plan, Unplanned> {
    let sizes: Vec<usize> = domains.iter().map(Domain::len).collect();
    let all = size(domains);
    let few = all.is_some_and(|n| n <= MOST_BY_DEFAULT);
    let array = match cover {
        Some(Cover::Every) if all.is_none_or(|n| n > MOST_EVER) => {
            return Err(Unplanned::Many(all.map_or("too many".into(), |n| n.to_string()) + " combinations"));
        }
        Some(Cover::Every) => every(&sizes, rules),
        None if few => every(&sizes, rules),
        Some(Cover::Triples) if domains.len() > 2 => {
            let count = triples_of(&sizes);
            if count > MOST_TRIPLES {
                return Err(Unplanned::Many(format!("{count} triples")));
            }
            triples(&sizes, rules)
        }
        Some(Cover::Sample { count, seed }) => sample(&sizes, rules, count.min(MOST_EVER), seed),
        Some(Cover::Pairs | Cover::Triples) | None if domains.len() < 2 => every(&sizes, rules),
        Some(Cover::Pairs | Cover::Triples) | None => pairs(&sizes, rules),
    };
    if array.rows.is_empty() {
        return Err(Unplanned::Empty);
    }
    let met = pairs_met(&sizes, &array.rows);
    let total: usize = (0..sizes.len()).flat_map(|a| (a + 1..sizes.len()).map(move |b| (a, b))).map(|(a, b)| sizes[a] * sizes[b]).sum();
    let impossible = impossible_pairs(&sizes, rules, total - met, &array.rows);
    let combinations = array.rows.iter().map(|row| combination(domains, row)).collect();
    Ok(Plan { combinations, met, possible: total - impossible, impossible })
}

fn every(sizes: &[usize], rules: &Rules) -> Array {
    Array { rows: rows(sizes).filter(|r| rules.allow(r)).collect(), ..Array::default() }
}

fn triples_of(sizes: &[usize]) -> usize {
    let k = sizes.len();
    let all = (0..k).flat_map(|a| (a + 1..k).flat_map(move |b| (b + 1..k).map(move |c| (a, b, c))));
    all.map(|(a, b, c)| sizes[a] * sizes[b] * sizes[c]).sum()
}

/// Rows by chance, each once; the plainest first. Values that no rule is about are equally likely.
fn sample(sizes: &[usize], rules: &Rules, count: usize, seed: u64) -> Array {
    let chance = std::cell::RefCell::new(Chance::new(seed));
    let mut seen: BTreeSet<Vec<usize>> = BTreeSet::new();
    let mut out = Array::default();
    let none = vec![None; sizes.len()];
    let plainest = rules.complete(&none, &|d| (0..sizes[d]).collect());
    let shuffled = |d: usize| {
        let mut values: Vec<usize> = (0..sizes[d]).collect();
        chance.borrow_mut().shuffle(&mut values);
        values
    };
    let mut next = plainest;
    let mut misses = 0;
    while out.rows.len() < count && misses < 1000 {
        let Found::Row(row) = next else { break };
        if seen.insert(row.clone()) {
            out.rows.push(row);
            misses = 0;
        } else {
            misses += 1;
        }
        next = rules.complete(&none, &shuffled);
    }
    out
}

/// How many pairs of values stand in one row or another. Values of all domains are numbered in one row, and each pair is a bit: a component may have
/// thousands of props.
fn pairs_met(sizes: &[usize], rows: &[Vec<usize>]) -> usize {
    let start: Vec<usize> = sizes.iter().scan(0, |next, size| Some(std::mem::replace(next, *next + size))).collect();
    let total: usize = sizes.iter().sum();
    let words = total.div_ceil(64);
    let mut met = vec![0u64; total * words];
    for row in rows {
        let values: Vec<usize> = row.iter().zip(&start).map(|(value, start)| start + value).collect();
        for (at, a) in values.iter().enumerate() {
            let of_a = &mut met[a * words..(a + 1) * words];
            values[at + 1..].iter().for_each(|b| of_a[b / 64] |= 1 << (b % 64));
        }
    }
    met.iter().map(|word| word.count_ones() as usize).sum()
}

/// How many pairs cannot occur. Only those that no row meets are asked for.
fn impossible_pairs(sizes: &[usize], rules: &Rules, unmet: usize, rows: &[Vec<usize>]) -> usize {
    if rules.is_empty() || unmet == 0 {
        return 0;
    }
    let mut out = 0;
    for a in 0..sizes.len() {
        for b in a + 1..sizes.len() {
            for (i, j) in (0..sizes[a]).flat_map(|i| (0..sizes[b]).map(move |j| (i, j))) {
                let met = rows.iter().any(|r| r[a] == i && r[b] == j);
                out += usize::from(!met && rules.possible(&[(a, i), (b, j)]) == Found::Impossible);
            }
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::super::rules::Rule;
    use super::*;
    use crate::value::Value;

    fn domains(sizes: &[usize]) -> Vec<Domain> {
        sizes.iter().enumerate().map(|(i, n)| Domain::Prop(format!("p{i}"), (0..*n).map(Value::json).collect())).collect()
    }

    fn none(sizes: &[usize]) -> Rules {
        Rules::new(sizes, Vec::new())
    }

    #[test]
    fn how_many_are_wanted() {
        for (sizes, cover, count) in [
            (vec![3, 3, 3], None, 27..=27),
            (vec![3; 10], None, 9..=20),
            (vec![3, 3, 3], Some(Cover::Pairs), 9..=9),
            (vec![3, 3, 3], Some(Cover::Triples), 27..=27),
            (vec![2, 2, 2, 2], Some(Cover::Triples), 8..=9),
            (vec![3; 10], Some(Cover::Sample { count: 40, seed: 1 }), 40..=40),
            (vec![2, 2], Some(Cover::Sample { count: 40, seed: 1 }), 4..=4),
            (vec![4], Some(Cover::Pairs), 4..=4),
            (vec![], None, 1..=1),
        ] {
            let plan = plan(&domains(&sizes), cover, &none(&sizes)).expect("a plan");
            assert!(count.contains(&plan.combinations.len()), "{sizes:?} {cover:?}: {}", plan.combinations.len());
            assert!(plan.combinations[0].props.values().all(|v| *v == Value::json(0)), "the plainest comes first");
            if !matches!(cover, Some(Cover::Sample { .. })) {
                assert_eq!(plan.met, plan.possible, "{sizes:?} {cover:?}");
            }
        }
    }

    #[test]
    fn what_cannot_be_planned_says_why() {
        let big = vec![10; 12];
        assert_eq!(plan(&domains(&big), Some(Cover::Every), &none(&big)), Err(Unplanned::Many("1000000000000 combinations".into())));
        let sizes = [2, 2];
        let nothing = Rules::new(&sizes, vec![Rule { about: vec![0], forbids: vec![true, true] }]);
        for cover in [None, Some(Cover::Pairs), Some(Cover::Sample { count: 3, seed: 1 })] {
            assert_eq!(plan(&domains(&sizes), cover, &nothing), Err(Unplanned::Empty), "{cover:?}");
        }
    }

    #[test]
    fn rules_take_away_and_are_counted() {
        let sizes = [2, 2, 3];
        // p0 = 1 and p1 = 1 never; so no pair of them, and all other pairs.
        let rules = Rules::new(&sizes, vec![Rule { about: vec![0, 1], forbids: vec![false, false, false, true] }]);
        for cover in [None, Some(Cover::Pairs)] {
            let plan = plan(&domains(&sizes), cover, &rules).expect("a plan");
            assert_eq!((plan.met, plan.possible, plan.impossible), (15, 15, 1), "{cover:?}");
            assert!(!plan.combinations.iter().any(|c| c.in_words().contains("p0 = 1, p1 = 1")));
        }
    }

    #[test]
    fn a_sample_depends_on_its_seed_alone() {
        let sizes = vec![5; 8];
        let of = |seed| plan(&domains(&sizes), Some(Cover::Sample { count: 20, seed }), &none(&sizes)).expect("a plan").combinations;
        assert_eq!(of(1), of(1));
        assert_ne!(of(1), of(2));
    }
}

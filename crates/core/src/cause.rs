//! From the cases where a promise broke and those where it held to the smallest condition that separates them.
//!
//! What the plan has shown is rarely enough to tell one explanation from all others, so further combinations are asked for:
//! a broken one is brought as near to the plainest as it stays broken, then each of its values is changed in turn. What
//! cannot be changed without mending it is the cause. Each cause is then tried on other combinations before it is told.

use indexmap::IndexMap;

use crate::finding::Condition;
use crate::plan::Domain;
use crate::stage::Combination;
use crate::value::Value;

/// The most causes that are told of one promise: what breaks in more ways breaks in general.
const MOST_CAUSES: usize = 4;
/// The most parts that a cause may have.
const MOST_PARTS: usize = 4;
/// On how many other combinations a cause is tried.
const TRIALS: usize = 6;

/// Why a promise breaks.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Explained {
    /// Each breaks it by itself, and nothing else does. Empty when no simple condition tells. A cause without parts means
    /// always.
    pub causes: Vec<Vec<Condition>>,
    /// The plainest combination that shows it.
    pub shown: Combination,
    /// How many combinations were played beyond the plan.
    pub asked: usize,
}

/// Answers whether the promise breaks in a combination: none when it does not apply there.
pub type Ask<'a, E> = dyn FnMut(&Combination) -> Result<Option<bool>, E> + 'a;

/// Explains why a promise breaks. `known` are the cases of the plan with whether it broke; at most `budget` others are asked
/// for. None when it broke in no case.
///
/// # Errors
/// What `ask` failed with.
pub fn explain<E>(
    domains: &[Domain],
    plain: &Combination,
    known: &[(Combination, bool)],
    budget: usize,
    ask: &mut Ask<'_, E>,
) -> Result<Option<Explained>, E> {
    let mut search = Search { domains, plain, answers: IndexMap::new(), asked: 0, budget, ask };
    for (combination, broke) in known {
        search.answers.insert(key(combination), Some(*broke));
    }
    let broken: Vec<&Combination> = known.iter().filter(|(_, broke)| *broke).map(|(c, _)| c).collect();
    let held: Vec<&Combination> = known.iter().filter(|(_, broke)| !broke).map(|(c, _)| c).collect();
    let Some(nearest) = plainest(plain, &broken) else { return Ok(None) };
    if held.is_empty() {
        return Ok(Some(Explained { causes: vec![Vec::new()], shown: nearest.clone(), asked: 0 }));
    }
    let mut out = Explained { causes: Vec::new(), shown: nearest.clone(), asked: 0 };
    let mut open = broken.clone();
    while let Some(next) = plainest(plain, &open).cloned() {
        let found = if out.causes.len() < MOST_CAUSES { search.cause_of(&next, known)? } else { None };
        let Some((cause, shown)) = found else {
            // One case without an explanation, and all that was found explains too little.
            out.causes.clear();
            break;
        };
        if out.causes.is_empty() {
            out.shown = shown;
        }
        open.retain(|c| !holds(&cause, c));
        out.causes.push(cause);
    }
    if out.causes.is_empty() {
        out.causes = conjunction(&broken, &held).into_iter().collect();
    }
    out.asked = search.asked;
    Ok(Some(out))
}

fn key(combination: &Combination) -> String {
    serde_json::to_string(combination).unwrap_or_default()
}

/// True when every part of a cause is true.
fn holds(cause: &[Condition], combination: &Combination) -> bool {
    cause.iter().all(|c| is_true(c, combination))
}

struct Search<'a, 'f, E> {
    domains: &'a [Domain],
    plain: &'a Combination,
    answers: IndexMap<String, Option<bool>>,
    asked: usize,
    budget: usize,
    ask: &'a mut Ask<'f, E>,
}

impl<E> Search<'_, '_, E> {
    /// Whether it breaks there; none when the promise does not apply, or the budget is spent.
    fn breaks(&mut self, combination: &Combination) -> Result<Option<bool>, E> {
        let key = key(combination);
        if let Some(known) = self.answers.get(&key) {
            return Ok(*known);
        }
        if self.asked >= self.budget {
            return Ok(None);
        }
        let answer = (self.ask)(combination)?;
        self.asked += usize::from(answer.is_some());
        self.answers.insert(key, answer);
        Ok(answer)
    }

    /// The cause that is at work in a broken combination, and the plainest combination that shows it; none when what is
    /// found does not stand up to trial.
    fn cause_of(&mut self, broken: &Combination, known: &[(Combination, bool)]) -> Result<Option<(Vec<Condition>, Combination)>, E> {
        let shown = self.nearer(broken)?;
        let mut cause = Vec::new();
        // What has one value in every case is no part of it; of a component with thousands of props most have one.
        for (d, domain) in self.domains.iter().enumerate().filter(|(_, domain)| domain.len() > 1) {
            let mut also = Vec::new();
            let mut mended = false;
            for value in 0..domain.len() {
                let other = changed(domain, value, &shown);
                if other == shown {
                    continue;
                }
                match self.breaks(&other)? {
                    Some(true) => also.push(value_of(domain, value)),
                    Some(false) => mended = true,
                    None => {}
                }
                // One that cannot be mended by two other values is taken to be no part of it.
                if !mended && also.len() == 2 {
                    break;
                }
            }
            if mended {
                let condition = conditions(&shown).into_iter().find(|c| c.prop == name_of(&self.domains[d]));
                cause.extend(condition.map(|c| Condition { or: also, ..c }));
            }
        }
        let sound = cause.len() <= MOST_PARTS
            && holds(&cause, broken)
            && known.iter().all(|(c, broke)| *broke || !holds(&cause, c))
            && self.stands(&cause, &shown)?;
        Ok(sound.then_some((cause, shown)))
    }

    /// Brings a broken combination as near to the plainest as it stays broken.
    fn nearer(&mut self, broken: &Combination) -> Result<Combination, E> {
        let mut now = broken.clone();
        for domain in self.domains.iter().filter(|domain| domain.len() > 1) {
            let next = plainer(domain, self.plain, &now);
            if next != now && self.breaks(&next)? == Some(true) {
                now = next;
            }
        }
        Ok(now)
    }

    /// Tries a cause on combinations that share nothing else with the one that shows it.
    fn stands(&mut self, cause: &[Condition], shown: &Combination) -> Result<bool, E> {
        for trial in 1..=TRIALS {
            let mut other = shown.clone();
            for (d, domain) in self.domains.iter().enumerate() {
                if domain.len() > 1 && !cause.iter().any(|c| c.prop == name_of(domain)) {
                    domain.put((trial * (d + 2) + d / 2) % domain.len(), &mut other);
                }
            }
            if self.breaks(&other)? == Some(false) {
                return Ok(false);
            }
        }
        Ok(true)
    }
}

fn changed(domain: &Domain, value: usize, from: &Combination) -> Combination {
    let mut out = from.clone();
    domain.put(value, &mut out);
    out
}

/// The combination with a domain's value as the plainest has it.
fn plainer(domain: &Domain, plain: &Combination, from: &Combination) -> Combination {
    let mut out = from.clone();
    match domain {
        Domain::Prop(name, _) => {
            if let Some(value) = plain.props.get(name) {
                out.props.insert(name.clone(), value.clone());
            }
        }
        Domain::Slot(name, _) => {
            if let Some(fill) = plain.fills.get(name) {
                out.fills.insert(name.clone(), fill.clone());
            }
        }
    }
    out
}

fn name_of(domain: &Domain) -> String {
    match domain {
        Domain::Prop(name, _) => name.clone(),
        Domain::Slot(name, _) => format!("slots.{name}"),
    }
}

fn value_of(domain: &Domain, index: usize) -> Value {
    match domain {
        Domain::Prop(_, values) => values[index].clone(),
        Domain::Slot(_, fills) => fill(fills[index].as_deref()),
    }
}

/// The smallest conjunction of up to three parts that is true in every broken case and in no other, from these cases alone.
fn conjunction(broken: &[&Combination], held: &[&Combination]) -> Option<Vec<Condition>> {
    let first = broken.first()?;
    let shared: Vec<Condition> = conditions(first).into_iter().filter(|c| broken.iter().all(|b| is_true(c, b))).collect();
    (1..=3.min(shared.len())).find_map(|size| choose(&shared, held, size, 0, &mut Vec::new()))
}

fn choose(shared: &[Condition], held: &[&Combination], size: usize, from: usize, chosen: &mut Vec<usize>) -> Option<Vec<Condition>> {
    if chosen.len() == size {
        let separates = held.iter().all(|h| chosen.iter().any(|i| !is_true(&shared[*i], h)));
        return separates.then(|| chosen.iter().map(|i| shared[*i].clone()).collect());
    }
    (from..shared.len()).find_map(|i| {
        chosen.push(i);
        let found = choose(shared, held, size, i + 1, chosen);
        chosen.pop();
        found
    })
}

fn conditions(combination: &Combination) -> Vec<Condition> {
    let props = combination.props.iter().map(|(prop, is)| Condition { prop: prop.clone(), is: is.clone(), or: Vec::new() });
    let fills =
        combination.fills.iter().map(|(slot, is)| Condition { prop: format!("slots.{slot}"), is: fill(is.as_deref()), or: Vec::new() });
    props.chain(fills).collect()
}

fn fill(content: Option<&str>) -> Value {
    content.map_or(Value::Absent, Value::json)
}

fn is_true(condition: &Condition, combination: &Combination) -> bool {
    let is = |value: &Value| std::iter::once(&condition.is).chain(&condition.or).any(|v| v.same(value));
    match condition.prop.strip_prefix("slots.") {
        Some(slot) => combination.fills.get(slot).is_some_and(|f| is(&fill(f.as_deref()))),
        None => combination.props.get(&condition.prop).is_some_and(is),
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
    use crate::plan::{Cover, Rules, plan};
    use serde_json::json;
    use std::convert::Infallible;

    fn dial() -> Vec<Domain> {
        let values = [
            ("unit", vec![json!("C"), json!("F")]),
            ("locked", vec![json!(false), json!(true)]),
            ("target", vec![json!(0), json!(600), json!(1240)]),
        ];
        values.into_iter().map(|(n, v)| Domain::Prop(n.into(), v.into_iter().map(Value::Json).collect())).collect()
    }

    fn explained(domains: &[Domain], cover: Option<Cover>, budget: usize, breaks: &dyn Fn(&Combination) -> bool) -> Option<Explained> {
        let sizes: Vec<usize> = domains.iter().map(Domain::len).collect();
        let planned = plan(domains, cover, &Rules::new(&sizes, Vec::new())).expect("a plan").combinations;
        let known: Vec<(Combination, bool)> = planned.iter().map(|c| (c.clone(), breaks(c))).collect();
        let mut ask = |c: &Combination| Ok::<_, Infallible>(Some(breaks(c)));
        explain(domains, &planned[0], &known, budget, &mut ask).expect("cannot fail")
    }

    fn told(explained: &Explained) -> String {
        let one = |c: &Vec<Condition>| c.iter().map(ToString::to_string).collect::<Vec<_>>().join(" and ");
        explained.causes.iter().map(one).collect::<Vec<_>>().join(" / ")
    }

    #[test]
    fn causes_of_every_shape() {
        let has = |c: &Combination, text: &str| c.in_words().contains(text);
        /// Whether it breaks, the causes in words, the combination that shows it.
        type Row<'a> = (&'a dyn Fn(&Combination) -> bool, &'a str, &'a str);
        let rows: [Row<'_>; 7] = [
            (&|_| true, "", "unit = \"C\", locked = false, target = 0"),
            (&|c| has(c, "locked = true"), "locked", "unit = \"C\", locked = true, target = 0"),
            (&|c| has(c, "\"F\"") && has(c, "1240"), "unit = \"F\" and target = 1240", "unit = \"F\", locked = false, target = 1240"),
            (&|c| has(c, "\"F\"") || has(c, "1240"), "target = 1240 / unit = \"F\"", "unit = \"C\", locked = false, target = 1240"),
            (&|c| !has(c, "target = 0"), "target = 600 or 1240", "unit = \"C\", locked = false, target = 600"),
            (&|c| has(c, "\"C\"") && has(c, "target = 0"), "unit = \"C\" and target = 0", "unit = \"C\", locked = false, target = 0"),
            (
                &|c| (has(c, "\"F\"") && has(c, "locked = true")) || (has(c, "\"C\"") && has(c, "1240")),
                "unit = \"C\" and target = 1240 / unit = \"F\" and locked",
                "unit = \"C\", locked = false, target = 1240",
            ),
        ];
        for (breaks, cause, shown) in rows {
            let explained = explained(&dial(), None, 100, breaks).expect("it breaks");
            assert_eq!((told(&explained).as_str(), explained.shown.in_words().as_str()), (cause, shown));
            assert_eq!(explained.asked, 0, "all combinations were in the plan: nothing is left to ask");
        }
        assert_eq!(explained(&dial(), None, 100, &|_| false), None);
    }

    #[test]
    fn a_promise_that_does_not_apply_everywhere_is_explained_within_its_bounds() {
        let domains = dial();
        let all = crate::plan::every(&domains);
        let applies = |c: &Combination| c.in_words().contains("locked = true");
        let breaks = |c: &Combination| c.in_words().contains("\"F\"");
        let known: Vec<_> = all.iter().filter(|c| applies(c)).map(|c| (c.clone(), breaks(c))).collect();
        let mut ask = |c: &Combination| Ok::<_, Infallible>(applies(c).then(|| breaks(c)));
        let explained = explain(&domains, &all[0], &known, 50, &mut ask).expect("cannot fail").expect("it breaks");
        assert_eq!(told(&explained), "unit = \"F\"");
        assert_eq!(explained.shown.in_words(), "unit = \"F\", locked = true, target = 0");
    }

    #[test]
    fn without_a_budget_the_plan_alone_must_tell() {
        let breaks = |c: &Combination| c.in_words().contains("\"F\"") && c.in_words().contains("1240");
        let explained = explained(&dial(), Some(Cover::Pairs), 0, &breaks).expect("it breaks");
        assert_eq!((told(&explained).as_str(), explained.asked), ("unit = \"F\" and target = 1240", 0));
    }

    /// SplitMix64, as in the plan, so that trials can be told apart by number.
    fn chance(state: &mut u64, n: usize) -> usize {
        *state = state.wrapping_add(0x9e37_79b9_7f4a_7c15);
        let mut z = *state;
        z = (z ^ (z >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
        z = (z ^ (z >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
        usize::try_from((z ^ (z >> 31)) % n as u64).unwrap_or(0)
    }

    #[test]
    fn planted_causes_over_twenty_props_are_found_exactly() {
        let sizes: Vec<usize> = (0..20).map(|i| 2 + i % 3).collect();
        let domains: Vec<Domain> =
            sizes.iter().enumerate().map(|(i, n)| Domain::Prop(format!("p{i}"), (0..*n).map(Value::json).collect())).collect();
        // Half the trials on the plan that a component of this size gets, half on one that shows every triple somewhere.
        let rules = Rules::new(&sizes, Vec::new());
        let plans = [Cover::Pairs, Cover::Triples].map(|cover| plan(&domains, Some(cover), &rules).expect("a plan").combinations);
        let (mut found, mut trials, mut asked, mut state) = (0, 0, 0, 1u64);
        while trials < 1000 {
            let planned = &plans[trials % 2];
            let mut planted: Vec<(String, Value)> = Vec::new();
            for _ in 0..1 + chance(&mut state, 3) {
                let d = chance(&mut state, 20);
                let part = (format!("p{d}"), Value::json(chance(&mut state, sizes[d])));
                if !planted.iter().any(|(p, _)| *p == part.0) {
                    planted.push(part);
                }
            }
            let breaks = |c: &Combination| planted.iter().all(|(p, v)| c.props.get(p) == Some(v));
            let known: Vec<_> = planned.iter().map(|c| (c.clone(), breaks(c))).collect();
            let mut ask = |c: &Combination| Ok::<_, Infallible>(Some(breaks(c)));
            // A plan may not hold the planted values together: then nothing broke, and there is nothing to explain.
            let Some(explained) = explain(&domains, &planned[0], &known, 150, &mut ask).expect("cannot fail") else { continue };
            trials += 1;
            asked += explained.asked;
            let mut told: Vec<(String, Value)> = explained.causes.iter().flatten().map(|c| (c.prop.clone(), c.is.clone())).collect();
            told.sort_by(|a, b| a.0.cmp(&b.0));
            planted.sort_by(|a, b| a.0.cmp(&b.0));
            found += usize::from(explained.causes.len() == 1 && told == planted && explained.causes[0].iter().all(|c| c.or.is_empty()));
        }
        assert!(found >= 990, "{found} of {trials}");
        assert!(asked / trials <= 80, "{} combinations asked for on average", asked / trials);
    }
}

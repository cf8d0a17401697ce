//! The laws: promises that every component keeps unless its contract says why not. Each is a relation between runs, so
//! none needs an expected output.
//!
//! A law is one function over [`Runs`]. It asks for the runs it needs; who plays them is not its business.

mod access;
pub(crate) mod acting;
mod binding;
mod changes;
mod child;
mod event;
mod list;
mod operable;
mod pressing;
mod prop;
mod reference;
mod render;
mod reporting;
mod request;
mod slot;
mod stage;
mod style;
mod surface;
mod table;
mod unseen;

use std::collections::HashSet;

use fidelon_source::Place;

use crate::finding::Failure;
use crate::locator::Locator;
use crate::observation::{Observation, Tone};
use crate::plan::Domain;
use crate::stage::{Canned, Combination, Environment, Parent, Script, StageError, Step};
use crate::surface::{ChildUse, Surface};
use crate::value::Value;

pub use binding::unclear;
pub use table::{AGREES, Explains, LAWS, Law, names};
pub use unseen::unseen;

/// What a law may ask for.
pub trait Runs {
    /// Plays a script, or gives what came of it before.
    ///
    /// # Errors
    /// When the stage could not play it.
    fn play(&mut self, script: &Script) -> Result<Observation, StageError>;
    /// The same on another kind of stage; none where there is no other.
    ///
    /// # Errors
    /// When that stage could not play it.
    fn elsewhere(&mut self, _script: &Script) -> Option<Result<Observation, StageError>> {
        None
    }
}

/// How much is played to find faults.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub enum Effort {
    /// A few combinations for each law.
    Quick,
    /// Enough for most faults.
    #[default]
    Normal,
    /// Every combination for every law.
    Thorough,
}

/// Steps of the engine in a second of its work, about: the same for limits and budgets.
const STEPS_PER_SECOND: u64 = 20_000_000;

impl Effort {
    /// What the laws may take of one component, in steps of the engine; none for all that they ask for.
    pub fn budget(self) -> Option<u64> {
        match self {
            Self::Quick => Some(3 * STEPS_PER_SECOND),
            Self::Normal => Some(15 * STEPS_PER_SECOND),
            Self::Thorough => None,
        }
    }

    /// At most so many of something, where `normal` is the number for normal effort.
    pub fn most(self, normal: usize) -> usize {
        match self {
            Self::Quick => normal.div_ceil(4),
            Self::Normal => normal,
            Self::Thorough => usize::MAX,
        }
    }
}

/// What a law may ask of the application that a component is of.
pub trait Application: std::fmt::Debug {
    /// Whether it is the application, and none of the components, that gives templates a component of this name.
    fn registers(&self, name: &str) -> bool;
}

/// No application: a component by itself.
impl Application for () {
    fn registers(&self, _: &str) -> bool {
        false
    }
}

/// What a law knows of the component at hand.
#[derive(Debug, Clone, Copy)]
pub struct LawContext<'a> {
    /// What it declares.
    pub surface: &'a Surface,
    /// What its props and slots draw from.
    pub domains: &'a [Domain],
    /// The combinations of the plan.
    pub combinations: &'a [Combination],
    /// What the contract has played with them.
    pub scripts: &'a [Script],
    /// Names that the contract exempts from this law.
    pub except: &'a [String],
    /// Props whose values a contract lists: what is said against them is said against what somebody wrote.
    pub given: &'a [String],
    /// Where a contract says which control a two-way prop is edited in.
    pub edits: &'a [(String, Locator)],
    /// The children of the project that it shows, with what it passes to each.
    pub children: &'a [ChildUse],
    /// What it declares and nothing in its source uses, with where it is declared.
    pub unused: &'a [(String, Place)],
    /// What its requests are answered with, where a contract says it.
    pub network: Option<&'a [Canned]>,
    /// The application that it is of.
    pub application: &'a dyn Application,
    /// How much is played.
    pub effort: Effort,
    /// True for a scene: its props are the fields of its state.
    pub is_scene: bool,
    /// True for a part that stands in a parent which was found for it, without the other parts that a person would put there.
    pub is_part: bool,
}

impl<'a> LawContext<'a> {
    /// Some of the combinations, the plainest first: at most so many under normal effort.
    fn some(&self, normal: usize) -> Vec<&'a Combination> {
        let all: Vec<&Combination> = self.combinations.iter().collect();
        spread(&all, self.effort.most(normal))
    }
}

/// Combinations whose mounts are counted to find those with most to use.
const MOST_COUNTED: usize = 120;

impl<'a> LawContext<'a> {
    /// Some of the combinations in which there is something to use: half of them those with most controls, one for each number of them, the others
    /// as [`LawContext::some`] has them.
    fn busiest(&self, normal: usize, runs: &mut dyn Runs) -> Vec<&'a Combination> {
        let most = self.effort.most(normal);
        let all: Vec<&Combination> = self.combinations.iter().collect();
        if all.len() <= most {
            return all;
        }
        let mut counted: Vec<(usize, &Combination)> = Vec::new();
        for combination in spread(&all, MOST_COUNTED) {
            let Ok(observation) = runs.play(&mount(combination)) else { continue };
            let controls = observation.mount().filter(|_| !failed(&observation)).map_or(0, |seen| acting::controls(&seen.tree).len());
            counted.push((controls, combination));
        }
        counted.sort_by_key(|(controls, _)| std::cmp::Reverse(*controls));
        counted.dedup_by_key(|(controls, _)| *controls);
        let mut out: Vec<&Combination> = vec![all[0]];
        for combination in counted.into_iter().map(|(_, c)| c).take(most / 2).chain(spread(&all, most)) {
            if out.len() < most && !out.contains(&combination) {
                out.push(combination);
            }
        }
        out
    }
}

/// At most so many combinations, in the order of the plan: first those that hold a value which none before has, then others evenly over
/// the rest.
pub fn telling(all: &[Combination], most: usize) -> Vec<Combination> {
    if all.len() <= most {
        return all.to_vec();
    }
    let mut known: HashSet<String> = HashSet::new();
    let (mut new, mut others) = (Vec::new(), Vec::new());
    for (i, combination) in all.iter().enumerate() {
        let props = combination.props.iter().map(|(name, value)| format!("{name}={value}"));
        let fills = combination.fills.iter().map(|(name, fill)| format!("{name}:{fill:?}"));
        let fresh = props.chain(fills).filter(|part| known.insert(part.clone())).count();
        if fresh > 0 { new.push(i) } else { others.push(i) }
    }
    new.truncate(most);
    let mut chosen: Vec<usize> = new.iter().copied().chain(spread(&others, most - new.len())).collect();
    chosen.sort_unstable();
    chosen.into_iter().map(|i| all[i].clone()).collect()
}

/// At most so many of a list, evenly over it, the first among them.
pub fn spread<T: Copy>(all: &[T], most: usize) -> Vec<T> {
    if all.len() <= most {
        return all.to_vec();
    }
    (0..most).map(|i| all[i * all.len() / most]).collect()
}

/// A case in which a law was checked.
#[derive(Debug, Clone)]
pub struct Checked {
    /// The combination.
    pub combination: Combination,
    /// How it broke, if it did.
    pub failure: Option<Failure>,
    /// The events in that case.
    pub events: Vec<String>,
    /// The prop, slot, event or member that it is about, where it is about one.
    pub about: Option<String>,
}

/// What a law says of a component: each case it was checked in, or why it could not be.
pub type LawOutcome = Result<Vec<Checked>, StageError>;

/// A script that mounts and does nothing.
pub fn mount(combination: &Combination) -> Script {
    Script {
        combination: combination.clone(),
        parent: Parent::Obeys,
        phases: vec![Vec::new()],
        seed: 1,
        surroundings: Environment::default(),
    }
}

/// Mounts, then uses each control once.
fn used(combination: &Combination, runs: &mut dyn Runs) -> Result<Observation, StageError> {
    let mounted = runs.play(&mount(combination))?;
    match mounted.mount().map(acting::acts) {
        Some(acts) if !acts.is_empty() && !failed(&mounted) => runs.play(&Script { phases: acts, ..mount(combination) }),
        _ => Ok(mounted),
    }
}

/// Long enough for what is on its way, a transition, to end.
fn pause() -> Vec<Step> {
    vec![Step::Elapse { milliseconds: 2000 }]
}

/// A combination with another value of one prop.
fn change(combination: &Combination, prop: &str, value: Value) -> Combination {
    let mut out = combination.clone();
    out.props.insert(prop.to_owned(), value);
    out
}

/// Whether something was thrown, which `render/succeeds` tells of.
fn failed(observation: &Observation) -> bool {
    observation.phases.iter().any(|p| p.notes.iter().any(|n| n.tone == Tone::Failed))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_holds_a_new_value_comes_first() {
        let of = |a: i64, b: i64| Combination {
            props: [("a", a), ("b", b)].map(|(n, v)| (n.to_owned(), Value::json(v))).into(),
            ..Combination::default()
        };
        let all = [of(1, 1), of(1, 1), of(1, 1), of(2, 1), of(2, 2), of(1, 2)];
        assert_eq!(telling(&all, 3), [of(1, 1), of(2, 1), of(2, 2)]);
        assert_eq!(telling(&all, 4).len(), 4);
        assert_eq!(telling(&all, 2), [of(1, 1), of(2, 1)]);
        assert_eq!(telling(&all, 9), all);
        assert_eq!(telling(&all, 0), []);
        assert!(Effort::Quick.budget() < Effort::Normal.budget() && Effort::Thorough.budget().is_none());
    }

    #[test]
    fn some_of_many_are_spread_over_all() {
        assert_eq!(spread(&[1, 2, 3], 5), [1, 2, 3]);
        assert_eq!(spread(&[0, 1, 2, 3, 4, 5, 6, 7], 4), [0, 2, 4, 6]);
        assert_eq!((Effort::Quick.most(8), Effort::Normal.most(8), Effort::Quick.most(1)), (2, 8, 1));
    }
}

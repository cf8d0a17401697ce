//! What a component cannot be played with costs itself alone: the value that is to blame is found and left out of the plan, and all else
//! is judged.

use fidelon_core::judge::laws::{self, Runs as _};
use fidelon_core::stage::{Combination, Script, StageError, Step};
use fidelon_core::{Unjudged, Value};

use crate::caching_runner::CachingRunner;
use crate::planning::{LeftOut, Planned};

/// So much is left out of the plan of one component at most: what cannot be played with more than that has no verdict.
const MOST: usize = 8;

/// What was left out, and why.
#[derive(Debug, Default)]
pub(super) struct Struck {
    pub(super) from_plan: LeftOut,
    told: Vec<Telling>,
}

#[derive(Debug)]
struct Telling {
    /// In words: `total = 10000`.
    what: String,
    why: String,
    /// The prop, where one value is to blame.
    prop: Option<String>,
}

impl Struck {
    /// Leaves out what a component was lost with; false when that cannot be told, or is nothing that could be left out.
    pub(super) fn strike(&mut self, runs: &mut CachingRunner<'_>, planned: &Planned) -> bool {
        let Some((script, why)) = runs.take_lost() else { return false };
        let Some(plain) = planned.plan.combinations.first() else { return false };
        if self.told.len() >= MOST || is_lost(runs, plain).is_some() {
            return false;
        }
        for (prop, value) in candidates(&script, plain) {
            let mut alone = plain.clone();
            alone.props.insert(prop.clone(), value.clone());
            if let Some(why) = is_lost(runs, &alone) {
                self.told.push(Telling { what: format!("{prop} = {value}"), why: bare(why), prop: Some(prop.clone()) });
                self.from_plan.values.push((prop, value));
                return true;
            }
        }
        // A combination that was made to explain something is none of the plan, and whoever asked for it goes on without.
        let known = planned.plan.combinations.contains(&script.combination);
        if !known || script.combination == *plain {
            return false;
        }
        self.told.push(Telling { what: script.combination.in_words(), why: bare(why), prop: None });
        self.from_plan.combinations.push(script.combination);
        true
    }

    /// What is said of it.
    pub(super) fn notes(&self) -> impl Iterator<Item = String> + '_ {
        self.told.iter().map(|t| format!("not judged with {}: {}", t.what, t.why))
    }

    /// The first that somebody asked for, by a contract: without it there is no whole verdict.
    pub(super) fn asked_for(&self, given: &[String]) -> Option<String> {
        let of_contract = |t: &&Telling| !given.is_empty() && t.prop.as_ref().is_none_or(|prop| given.contains(prop));
        self.told.iter().find(of_contract).map(|t| format!("not judged with {}: {}", t.what, t.why))
    }
}

fn bare(why: Unjudged) -> String {
    Unjudged { with: None, ..why }.to_string()
}

/// Why a component cannot be mounted with these props.
fn is_lost(runs: &mut CachingRunner<'_>, combination: &Combination) -> Option<Unjudged> {
    match runs.play(&laws::mount(combination)) {
        Err(StageError::Unjudged(why)) if why.cause.is_of_component() => Some(why),
        _ => None,
    }
}

/// The values of a script that may be to blame: those that it mounts with beyond the plainest, and those that its parent passes.
fn candidates(script: &Script, plain: &Combination) -> Vec<(String, Value)> {
    let mounted = script.combination.props.iter();
    let passed = script.phases.iter().flatten().filter_map(|step| match step {
        Step::Pass { props } | Step::Assign { props } => Some(props.iter()),
        _ => None,
    });
    let mut out: Vec<(String, Value)> = Vec::new();
    for (prop, value) in mounted.chain(passed.flatten()) {
        let one = (prop.clone(), value.clone());
        if plain.props.get(prop) != Some(value) && !out.contains(&one) {
            out.push(one);
        }
    }
    out
}

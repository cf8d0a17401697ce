//! A component against what was accepted of it: what it renders, and what comes of using it.

use fidelon_core::baseline::Baseline;
use fidelon_core::finding::Failure;
use std::rc::Rc;

use fidelon_core::judge::behaviour::{self, Act, THEN};
use fidelon_core::judge::check::in_words;
use fidelon_core::judge::equivalence::{diff, difference};
use fidelon_core::judge::laws::{self, Checked, Runs as _};
use fidelon_core::observation::PhaseSnapshot;
use fidelon_core::stage::{Combination, StageError};

use crate::accepting::acted;
use crate::caching_runner::CachingRunner;

/// How the promise that a baseline makes is called.
pub(super) const ACCEPTED: &str = "output as accepted";

/// What comes of an act whose control is not there.
const GONE: &str = "there is no such control";

/// One combination against its accepted output; none when there is none.
pub(super) fn compared(
    baseline: &Baseline,
    combination: &Combination,
    runs: &mut CachingRunner<'_>,
) -> Result<Option<Checked>, StageError> {
    let Some(accepted) = baseline.output(combination) else { return Ok(None) };
    let observation = runs.play(&laws::mount(combination))?;
    let mounted = observation.phases.first();
    let output = mounted.map(|seen| behaviour::rendered(seen)).unwrap_or_default();
    let mut failure = differing(accepted, &output, || "it renders something else than was accepted".into());
    let recorded = baseline.acts(combination);
    if let (None, Some(mounted), false) = (&failure, mounted, recorded.is_empty()) {
        let acts = behaviour::acts(mounted);
        for (name, accepted) in recorded {
            let Some((act, before)) = found(name, &acts, combination, mounted, runs)? else {
                failure = differing(accepted, GONE, || format!("{name} cannot be done any more"));
                break;
            };
            let after = runs.play(&acted(combination, &act))?;
            let Some(after) = after.phases.last() else { continue };
            failure =
                differing(accepted, &behaviour::outcome(&act, &before, after), || format!("{name} does something else than was accepted"));
            if failure.is_some() {
                break;
            }
        }
    }
    let events = observation.phases.iter().flat_map(|p| &p.events).map(in_words).collect();
    Ok(Some(Checked { combination: combination.clone(), failure, events, about: None }))
}

/// The act of this name, with what is there before it: one of those that can be done at once, or one that follows such a one.
fn found(
    name: &str,
    acts: &[Act],
    combination: &Combination,
    mounted: &Rc<PhaseSnapshot>,
    runs: &mut CachingRunner<'_>,
) -> Result<Option<(Act, Rc<PhaseSnapshot>)>, StageError> {
    if let Some(act) = acts.iter().find(|a| a.name == name) {
        return Ok(Some((act.clone(), mounted.clone())));
    }
    let follows = |act: &&Act| name.strip_prefix(&act.name).is_some_and(|rest| rest.starts_with(THEN));
    for first in acts.iter().filter(follows) {
        let observation = runs.play(&acted(combination, first))?;
        let Some(after) = observation.phases.last() else { continue };
        if let Some(act) = behaviour::next(first, mounted, after).into_iter().find(|a| a.name == name) {
            return Ok(Some((act, after.clone())));
        }
    }
    Ok(None)
}

/// An outcome against the one that was accepted.
fn differing(accepted: &str, outcome: &str, message: impl Fn() -> String) -> Option<Failure> {
    let outcome = Baseline::tidy(outcome);
    (outcome != accepted).then(|| {
        let (expected, actual) = difference(accepted, &outcome);
        let diff = diff(accepted, &outcome);
        Failure { message: message(), expected: Some(expected), actual: Some(actual), diff, ..Failure::default() }
    })
}

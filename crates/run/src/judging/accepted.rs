//! A component against what was accepted of it: what it renders, and what comes of using it.

use fidelon_core::baseline::Baseline;
use fidelon_core::finding::Failure;
use fidelon_core::judge::behaviour;
use fidelon_core::judge::check::in_words;
use fidelon_core::judge::equivalence::{diff, difference};
use fidelon_core::judge::laws::{self, Checked, Runs as _};
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
    let mounted = observation.mount();
    let output = mounted.map(behaviour::rendered).unwrap_or_default();
    let mut failure = differing(accepted, &output, || "it renders something else than was accepted".into());
    let recorded = baseline.acts(combination);
    if let (None, Some(mounted), false) = (&failure, mounted, recorded.is_empty()) {
        let acts = behaviour::acts(mounted);
        for (name, accepted) in recorded {
            let Some(act) = acts.iter().find(|a| a.name == name) else {
                failure = differing(accepted, GONE, || format!("{name} cannot be done any more"));
                break;
            };
            let after = runs.play(&acted(combination, act))?;
            let Some(after) = after.phases.last() else { continue };
            failure =
                differing(accepted, &behaviour::outcome(act, mounted, after), || format!("{name} does something else than was accepted"));
            if failure.is_some() {
                break;
            }
        }
    }
    let events = observation.phases.iter().flat_map(|p| &p.events).map(in_words).collect();
    Ok(Some(Checked { combination: combination.clone(), failure, events, about: None }))
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

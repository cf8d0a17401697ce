//! `stage/…`: what two stages must have in common.

use super::{Checked, LawContext, LawOutcome, Runs, mount};
use crate::judge::agreement::disagreement;
use crate::judge::check::in_words;

/// What is played is seen alike on both stages: the mount, and what the contract does with it.
pub(super) fn agrees(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    for combination in context.combinations {
        let played = context.scripts.iter().filter(|s| s.combination == *combination).cloned();
        let mut checked = Checked { combination: combination.clone(), failure: None, events: Vec::new(), about: None };
        for script in std::iter::once(mount(combination)).chain(played) {
            let here = runs.play(&script)?;
            let Some(there) = runs.elsewhere(&script) else { return Ok(Vec::new()) };
            if let Some(difference) = disagreement(&here, &there?) {
                checked.failure = Some(difference.into_failure());
                checked.events = here.phases.iter().flat_map(|p| &p.events).map(in_words).collect();
                break;
            }
        }
        out.push(checked);
    }
    Ok(out)
}

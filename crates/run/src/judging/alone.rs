//! What cannot be judged alone: a part that asks for its parent, a component without its provider.

use fidelon_core::judge::laws::{self, Runs as _};
use fidelon_core::judge::missing::{self, Missing};
use fidelon_core::observation::{Observation, Tone};
use fidelon_core::results::Reason;
use fidelon_core::stage::{Combination, StageError};

use crate::remembering::Remembering;

/// Combinations that must all miss the same before a component is not judged.
const ASKED: usize = 3;

/// Why a component cannot be judged alone: whatever it is passed, it throws for want of what is around it.
pub(super) fn cannot(combinations: &[Combination], runs: &mut Remembering<'_>) -> Result<Option<Reason>, StageError> {
    let mut found: Option<Missing> = None;
    for combination in laws::spread(&combinations.iter().collect::<Vec<_>>(), ASKED) {
        match said(&runs.play(&laws::mount(combination))?, Tone::Failed).into_iter().next() {
            Some(missing) => found = found.or(Some(missing)),
            None => return Ok(None),
        }
    }
    Ok(found.map(|missing| Reason {
        message: format!("it cannot be judged alone: {} ({})", missing.said, missing.remedy),
        place: None,
        file: false,
    }))
}

/// What a component that can be judged warns that is not around it.
pub(super) fn warns(combination: &Combination, runs: &mut Remembering<'_>) -> Result<Vec<String>, StageError> {
    let observation = runs.play(&laws::mount(combination))?;
    let mut out: Vec<String> = Vec::new();
    for missing in said(&observation, Tone::Warned) {
        let note = format!("it misses something around it: {} ({})", missing.said, missing.remedy);
        if !out.contains(&note) {
            out.push(note);
        }
    }
    Ok(out)
}

fn said(observation: &Observation, tone: Tone) -> Vec<Missing> {
    let notes = observation.phases.iter().flat_map(|p| &p.notes);
    notes.filter(|n| n.tone == tone).filter_map(|n| missing::read(&n.text)).collect()
}

//! `render/…`: what must be true of every mount.

use super::{Checked, Matter, Runs, Said};
use crate::finding::Failure;
use crate::judge::equivalence::{difference, normal};
use crate::observation::{Note, Observation, Seen, Tone};
use crate::stage::{Combination, Parent, Script, Surroundings};

/// A script that mounts and does nothing.
pub fn mount(combination: &Combination) -> Script {
    Script {
        combination: combination.clone(),
        parent: Parent::Obeys,
        phases: vec![Vec::new()],
        seed: 1,
        surroundings: Surroundings::default(),
    }
}

fn each(matter: &Matter<'_>, runs: &mut dyn Runs, judge: impl Fn(&Observation) -> Option<Failure>) -> Said {
    let mut out = Vec::new();
    for combination in matter.combinations {
        let observation = runs.play(&mount(combination))?;
        let events = observation.phases.iter().flat_map(|p| &p.events).map(crate::judge::check::in_words).collect();
        out.push(Checked { combination: combination.clone(), failure: judge(&observation), events, about: None });
    }
    Ok(out)
}

fn first(observation: &Observation, tone: Tone) -> Option<&Note> {
    observation.phases.iter().flat_map(|p| &p.notes).find(|n| n.tone == tone)
}

fn of_note(message: &str, note: &Note) -> Failure {
    Failure {
        message: message.into(),
        expected: Some("nothing".into()),
        actual: Some(note.text.clone()),
        place: note.place.clone(),
        ..Failure::default()
    }
}

/// Mounting raises no error.
pub(super) fn succeeds(matter: &Matter<'_>, runs: &mut dyn Runs) -> Said {
    each(matter, runs, |o| first(o, Tone::Failed).map(|n| of_note("it threw", n)))
}

/// Nothing is logged as a warning or an error.
pub(super) fn quiet(matter: &Matter<'_>, runs: &mut dyn Runs) -> Said {
    each(matter, runs, |o| {
        // An error that was thrown is told by render/succeeds; frameworks log about it once more.
        if first(o, Tone::Failed).is_some() { None } else { first(o, Tone::Warned).map(|n| of_note("it warned", n)) }
    })
}

/// It comes to rest.
pub(super) fn settles(matter: &Matter<'_>, runs: &mut dyn Runs) -> Said {
    each(matter, runs, |o| {
        let rests = o.phases.iter().all(|p: &Seen| p.settled);
        (!rests).then(|| Failure {
            message: "it keeps itself busy without end".into(),
            expected: Some("rest within the budget of 2,000 tasks".into()),
            actual: Some("more tasks still waiting".into()),
            ..Failure::default()
        })
    })
}

/// Two fresh mounts of one combination are the same. Chance is seeded otherwise in the second.
pub(super) fn repeatable(matter: &Matter<'_>, runs: &mut dyn Runs) -> Said {
    let mut out = Vec::new();
    for combination in matter.combinations.iter().take(16) {
        let first = runs.play(&mount(combination))?;
        let second = runs.play(&Script { seed: 2, ..mount(combination) })?;
        let (a, b) = (first.mount().map(normal).unwrap_or_default(), second.mount().map(normal).unwrap_or_default());
        let failure = (a != b).then(|| {
            let (expected, actual) = difference(&a, &b);
            Failure {
                message: "a second mount of the same shows something else".into(),
                expected: Some(expected),
                actual: Some(actual),
                ..Failure::default()
            }
        });
        out.push(Checked { combination: combination.clone(), failure, events: Vec::new(), about: None });
    }
    Ok(out)
}

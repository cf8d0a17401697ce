//! `render/…`: what must be true of every mount, and of what is left of it.

use super::acting::acts;
use super::{Checked, Matter, Runs, Said, failed, mount, prop};
use crate::finding::Failure;
use crate::judge::equivalence::{difference, observable};
use crate::judge::warnings;
use crate::observation::{Left, Note, Observation, Seen, Tone};
use crate::stage::{Script, Step};

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

fn of_note(message: String, note: &Note) -> Failure {
    Failure { message, expected: Some("nothing".into()), actual: Some(note.text.clone()), place: note.place.clone(), ..Failure::default() }
}

/// Mounting and updating raise no error.
pub(super) fn succeeds(matter: &Matter<'_>, runs: &mut dyn Runs) -> Said {
    let mut out = each(matter, runs, |o| first(o, Tone::Failed).map(|n| of_note("it threw".into(), n)))?;
    // What fails at the mount would fail at the update too.
    if out.iter().all(|c| c.failure.is_none()) && !matter.is_scene {
        out.extend(prop::updates(matter, runs)?);
    }
    Ok(out)
}

/// Nothing is logged as a warning or an error. What other laws demand is told by them.
pub(super) fn quiet(matter: &Matter<'_>, runs: &mut dyn Runs) -> Said {
    each(matter, runs, |o| {
        // An error that was thrown is told by render/succeeds; frameworks log about it once more.
        if first(o, Tone::Failed).is_some() {
            return None;
        }
        let mut warned = o.phases.iter().flat_map(|p| &p.notes).filter(|n| n.tone == Tone::Warned);
        warned.find_map(|note| match warnings::read(&note.text) {
            Some(warning) if warning.is_of_another_law() => None,
            Some(warning) => Some(of_note(format!("it warned: {}", warning.in_words()), note)),
            None => Some(of_note("it warned".into(), note)),
        })
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
    for combination in matter.some(8) {
        let first = runs.play(&mount(combination))?;
        let second = runs.play(&Script { seed: 2, ..mount(combination) })?;
        let (a, b) = (first.mount().map(observable).unwrap_or_default(), second.mount().map(observable).unwrap_or_default());
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

/// After the removal nothing of it is left: what a second life of the component adds to what the first one left is what each
/// leaves. What a library sets up once for all its components does not grow, and does not count.
pub(super) fn leaves_nothing(matter: &Matter<'_>, runs: &mut dyn Runs) -> Said {
    let mut out = Vec::new();
    for (i, combination) in matter.some(16).into_iter().enumerate() {
        let mounted = runs.play(&mount(combination))?;
        let Some(seen) = mounted.mount().filter(|s| s.settled && !failed(&mounted)) else { continue };
        // Listeners often come with the first use, of a menu that opens for one.
        let acts = if i < matter.effort.most(4) { acts(seen) } else { Vec::new() };
        // What waits for a moment, to end a transition, is no leftover.
        let remove = vec![Step::Remove, Step::Elapse { milliseconds: 1000 }];
        let life: Vec<Vec<Step>> = acts.iter().cloned().chain([remove]).collect();
        let phases: Vec<Vec<Step>> = life.iter().cloned().chain([vec![Step::Again]]).chain(life.iter().cloned()).collect();
        let observation = runs.play(&Script { phases, ..mount(combination) })?;
        let (Some(once), Some(twice)) = (observation.phases.get(life.len()), observation.phases.last()) else { continue };
        if failed(&observation) {
            continue;
        }
        let failure = grown(once.left, twice.left).map(|what| Failure {
            message: "after it was removed something of it is left, more each time".into(),
            expected: Some("nothing".into()),
            actual: Some(what),
            ..Failure::default()
        });
        out.push(Checked { combination: combination.clone(), failure, events: Vec::new(), about: None });
    }
    Ok(out)
}

fn grown(once: Left, twice: Left) -> Option<String> {
    let kinds = [
        ("element in the body", "elements in the body", once.nodes, twice.nodes),
        ("listener on the window or the document", "listeners on the window or the document", once.listeners, twice.listeners),
        ("timer", "timers", once.timers, twice.timers),
        ("observer", "observers", once.observers, twice.observers),
        ("request under way", "requests under way", once.requests, twice.requests),
    ];
    let more: Vec<String> = kinds
        .iter()
        .filter(|(.., a, b)| b > a)
        .map(|(one, many, a, b)| if b - a == 1 { format!("1 {one}") } else { format!("{} {many}", b - a) })
        .collect();
    (!more.is_empty()).then(|| more.join(", "))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_what_grows_is_left() {
        let once = Left { nodes: 1, listeners: 2, timers: 0, observers: 1, requests: 0 };
        assert_eq!(grown(once, once), None);
        let twice = Left { listeners: 4, timers: 1, ..once };
        assert_eq!(grown(once, twice).as_deref(), Some("2 listeners on the window or the document, 1 timer"));
    }
}

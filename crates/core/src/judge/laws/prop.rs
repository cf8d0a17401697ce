//! `prop/…`: what must be true when the parent passes props anew.

use indexmap::IndexMap;

use super::render::mount;
use super::{Checked, Matter, Runs, Said};
use crate::finding::Failure;
use crate::judge::check::in_words;
use crate::judge::equivalence::{difference, normal};
use crate::observation::{Observation, Tone};
use crate::plan::Domain;
use crate::stage::{Combination, Script, Step};
use crate::value::Value;

fn failed(observation: &Observation) -> bool {
    observation.phases.iter().any(|p| p.notes.iter().any(|n| n.tone == Tone::Failed))
}

/// Names that say of themselves that only the first value counts.
fn is_initial(name: &str) -> bool {
    ["initial", "default"].iter().any(|p| name.strip_prefix(p).is_some_and(|r| r.starts_with(|c: char| c.is_uppercase())))
}

/// `update(a → b) ≡ fresh(b)` for every prop and every one of its values, all others at their plainest; and back again.
pub(super) fn live(matter: &Matter<'_>, runs: &mut dyn Runs) -> Said {
    let mut out = Vec::new();
    let Some(plain) = matter.combinations.first() else { return Ok(out) };
    for domain in matter.domains {
        let Domain::Prop(name, values) = domain else { continue };
        if is_initial(name) || matter.except.contains(name) {
            continue;
        }
        for value in values.iter().skip(1) {
            let mut other = plain.clone();
            other.props.insert(name.clone(), value.clone());
            out.extend(change(plain, &other, name, runs)?);
            out.extend(change(&other, plain, name, runs)?);
        }
    }
    Ok(out)
}

fn change(from: &Combination, to: &Combination, name: &str, runs: &mut dyn Runs) -> Result<Option<Checked>, crate::stage::StageError> {
    let value = to.props.get(name).cloned().unwrap_or(Value::Absent);
    let pass = || vec![vec![Step::Pass { props: IndexMap::from([(name.to_owned(), value.clone())]) }]];
    // The fresh mount is told its own value once more: what only a first rendering shows (a transition that is held back) is
    // no trace of the old value.
    let fresh = runs.play(&Script { phases: pass(), ..mount(to) })?;
    let updated = runs.play(&Script { phases: pass(), ..mount(from) })?;
    if failed(&fresh) {
        // render/succeeds tells of it.
        return Ok(None);
    }
    let expected = fresh.phases.last().map(normal).unwrap_or_default();
    let actual = updated.phases.last().map(normal).unwrap_or_default();
    let failure = (expected != actual).then(|| {
        let (expected, actual) = difference(&expected, &actual);
        let was = from.props.get(name).cloned().unwrap_or(Value::Absent);
        Failure {
            message: format!("after `{name}` changed from {was} to {value} it does not show what a fresh mount shows"),
            expected: Some(expected),
            actual: Some(actual),
            ..Failure::default()
        }
    });
    let events = updated.phases.iter().flat_map(|p| &p.events).map(in_words).collect();
    Ok(Some(Checked { combination: to.clone(), failure, events, about: Some(name.to_owned()) }))
}

/// Passing equal props again changes nothing and emits nothing.
pub(super) fn steady(matter: &Matter<'_>, runs: &mut dyn Runs) -> Said {
    let mut out = Vec::new();
    for combination in matter.combinations.iter().take(32) {
        let pass = vec![Step::Pass { props: combination.props.clone() }];
        // Twice: a first rendering may differ from all later ones (a transition that is held back) and harm nobody.
        let script = Script { phases: vec![pass.clone(), pass], ..mount(combination) };
        let observation = runs.play(&script)?;
        let [_, before, after] = observation.phases.as_slice() else { continue };
        let (a, b) = (normal(before), normal(after));
        let events: Vec<String> = before.events.iter().chain(&after.events).map(in_words).collect();
        let failure = if a != b {
            let (expected, actual) = difference(&a, &b);
            Some(Failure {
                message: "equal props passed again change what it shows".into(),
                expected: Some(expected),
                actual: Some(actual),
                ..Failure::default()
            })
        } else if !events.is_empty() {
            Some(Failure {
                message: "equal props passed again make it emit".into(),
                expected: Some("nothing".into()),
                actual: Some(events.join(", ")),
                ..Failure::default()
            })
        } else {
            None
        };
        out.push(Checked { combination: combination.clone(), failure, events, about: None });
    }
    Ok(out)
}

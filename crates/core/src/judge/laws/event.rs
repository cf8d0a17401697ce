//! `event/…`: what a component tells its parent.

use indexmap::IndexMap;

use super::acting::{acts, controls};
use super::{Checked, Matter, Runs, Said, change, failed, mount, used};
use crate::finding::Failure;
use crate::fits::{fits, misfit};
use crate::judge::check::in_words;
use crate::observation::{Emitted, Observation};
use crate::stage::{Script, Step};
use crate::surface::{Framework, Type};
use crate::value::Value;

fn each(matter: &Matter<'_>, runs: &mut dyn Runs, judge: impl Fn(&Observation) -> Vec<(String, Failure)>) -> Said {
    let mut out = Vec::new();
    for combination in matter.some(12) {
        let observation = used(combination, runs)?;
        let events: Vec<String> = observation.phases.iter().flat_map(|p| &p.events).map(in_words).collect();
        // The first failure of each event tells of it.
        let failures: IndexMap<String, Failure> =
            judge(&observation).into_iter().rev().filter(|(about, _)| !matter.except.contains(about)).collect();
        if failures.is_empty() {
            out.push(Checked { combination: combination.clone(), failure: None, events, about: None });
            continue;
        }
        let checked = |(about, failure)| Checked {
            combination: combination.clone(),
            failure: Some(failure),
            events: events.clone(),
            about: Some(about),
        };
        out.extend(failures.into_iter().map(checked));
    }
    Ok(out)
}

/// Only declared events are emitted. Vue lets everybody hear what is emitted; a React component can only call what it was given.
pub(super) fn declared(matter: &Matter<'_>, runs: &mut dyn Runs) -> Said {
    if matter.surface.framework != Framework::Vue || matter.surface.open {
        return Ok(Vec::new());
    }
    each(matter, runs, |observation| {
        let strays = observation.phases.iter().flat_map(|p| &p.strays);
        strays
            .map(|stray| {
                let failure = Failure {
                    message: format!("it emits `{}`, which it does not declare", stray.name),
                    expected: Some("an entry in `defineEmits` or `emits`".into()),
                    actual: Some(in_words(stray)),
                    ..Failure::default()
                };
                (stray.name.clone(), failure)
            })
            .collect()
    })
}

/// Each payload fits the type that the event declares for it.
pub(super) fn payload(matter: &Matter<'_>, runs: &mut dyn Runs) -> Said {
    let typed: Vec<_> = matter.surface.events.iter().filter(|e| e.payload.is_some()).collect();
    if typed.is_empty() {
        return Ok(Vec::new());
    }
    each(matter, runs, |observation| {
        let events = observation.phases.iter().flat_map(|p| &p.events);
        events
            .filter_map(|event| {
                let declared = typed.iter().find(|e| e.name == event.name)?.payload.as_deref()?;
                let (expected, actual) = mismatch(event, declared)?;
                let failure = Failure {
                    message: format!("the payload of `{}` is not what it declares", event.name),
                    expected: Some(expected),
                    actual: Some(actual),
                    ..Failure::default()
                };
                Some((event.name.clone(), failure))
            })
            .collect()
    })
}

/// The declared type that an argument does not fit, and the argument.
fn mismatch(event: &Emitted, declared: &[Type]) -> Option<(String, String)> {
    declared.iter().enumerate().find_map(|(i, ty)| {
        let given = event.payload.get(i).unwrap_or(&Value::Absent);
        (!fits(given, ty)).then(|| misfit(given, ty))
    })
}

/// Events that tell where the pointer and the focus are: a component that is disabled may still tell of them.
const OF_ATTENTION: [&str; 16] = [
    "focus",
    "blur",
    "focusin",
    "focusout",
    "mouseenter",
    "mouseleave",
    "mouseover",
    "mouseout",
    "mousemove",
    "mousedown",
    "mouseup",
    "pointerenter",
    "pointerleave",
    "pointermove",
    "pointerdown",
    "pointerup",
];

/// While it is disabled, nothing that a person does makes it emit.
pub(super) fn inert(matter: &Matter<'_>, runs: &mut dyn Runs) -> Said {
    let disabling = matter.surface.prop("disabled").filter(|p| matches!(p.ty, Type::Boolean)).map(|p| p.name.clone());
    let Some(name) = disabling.filter(|n| !matter.except.contains(n)) else { return Ok(Vec::new()) };
    let mut out = Vec::new();
    for combination in matter.some(8) {
        let on = change(combination, &name, Value::json(true));
        if out.iter().any(|c: &Checked| c.combination == on) {
            continue;
        }
        // Its controls are looked for while it is enabled: what is missing then shows once it is not.
        let off = runs.play(&mount(&change(combination, &name, Value::json(false))))?;
        let Some(seen) = off.mount().filter(|_| !failed(&off)) else { continue };
        let mut phases = acts(seen);
        let doc = &seen.tree;
        // A control that is no real one is pressed by the keyboard too.
        phases.extend(
            controls(doc)
                .into_iter()
                .filter(|n| doc.attr(*n, "role").is_some())
                .take(4)
                .map(|n| vec![Step::Key { key: "Enter".into(), at: Some(crate::locator::Locator::at(doc, n)) }]),
        );
        if phases.is_empty() {
            continue;
        }
        let observation = runs.play(&Script { phases, ..mount(&on) })?;
        let heard: Vec<&Emitted> = observation
            .phases
            .iter()
            .skip(1)
            .flat_map(|p| p.events.iter().chain(&p.strays))
            .filter(|e| !OF_ATTENTION.contains(&e.name.to_lowercase().as_str()) && !e.name.to_lowercase().starts_with("key"))
            .collect();
        let failure = heard.first().map(|first| Failure {
            message: format!("it emits `{}` although `{name}` is true", first.name),
            expected: Some("nothing".into()),
            actual: Some(in_words(first)),
            ..Failure::default()
        });
        let events = observation.phases.iter().flat_map(|p| &p.events).map(in_words).collect();
        out.push(Checked { combination: on, failure, events, about: None });
    }
    Ok(out)
}

//! `event/…`: what a component tells its parent.

use std::rc::Rc;

use fidelon_dom::form;
use indexmap::IndexMap;
use serde_json::Value as Json;

use super::acting::{acts, broken_at, controls};
use super::pressing::{self, Acted};
use super::{Checked, LawContext, LawOutcome, Runs, change, changes, failed, mount, used};
use crate::finding::Failure;
use crate::fits::{fits, misfit};
use crate::judge::check::in_words;
use crate::naming::kebab;
use crate::observation::{Emitted, PhaseSnapshot};
use crate::stage::{Combination, Script, Step};
use crate::surface::{Prop, Surface, Type};
use crate::value::Value;

fn each(
    context: &LawContext<'_>,
    runs: &mut dyn Runs,
    judge: impl Fn(&Combination, &[Rc<PhaseSnapshot>]) -> Vec<(String, Failure)>,
) -> LawOutcome {
    let mut out = Vec::new();
    let mut looks: Vec<(Combination, Vec<Rc<PhaseSnapshot>>)> = Vec::new();
    for combination in context.some(12) {
        looks.push((combination.clone(), used(combination, runs)?.phases));
    }
    // What a press opens is used, too.
    let opened = pressing::each(context, runs)?.into_iter().filter(|acted| !acted.lead.is_empty());
    looks.extend(opened.map(|acted| (acted.combination, vec![acted.after, acted.rested])));
    for (combination, phases) in &looks {
        let events: Vec<String> = phases.iter().flat_map(|p| &p.events).map(in_words).collect();
        // The first failure of each event tells of it.
        let failures: IndexMap<String, Failure> =
            judge(combination, phases).into_iter().rev().filter(|(about, _)| !context.except.contains(about)).collect();
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

/// Only declared events are emitted, where a parent hears others too: a component that calls what it was given can call nothing else.
pub(super) fn declared(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    if !context.surface.framework.record().parent_hears_undeclared || context.surface.open {
        return Ok(Vec::new());
    }
    each(context, runs, |_, phases| {
        let strays = phases.iter().flat_map(|p| &p.strays);
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
pub(super) fn payload(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let typed: Vec<_> = context.surface.events.iter().filter(|e| e.payload.is_some()).collect();
    if typed.is_empty() {
        return Ok(Vec::new());
    }
    each(context, runs, |combination, phases| {
        let events = phases.iter().flat_map(|p| &p.events);
        events
            .filter_map(|event| {
                let declared = typed.iter().find(|e| e.name == event.name)?.payload.as_deref()?;
                let (expected, actual) = mismatch(event, declared, combination)?;
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

/// The declared type that an argument does not fit, and the argument. Where a thing is declared and one of those comes back that the parent
/// passed itself, whether its fields fit is the parent's own affair.
fn mismatch(event: &Emitted, declared: &[Type], combination: &Combination) -> Option<(String, String)> {
    let is_passed = |given: &Value| {
        let whole = given.as_json().filter(|json| json.is_object() || json.is_array());
        whole.is_some_and(|json| combination.props.values().filter_map(Value::as_json).any(|passed| is_within(json, passed)))
    };
    declared.iter().enumerate().find_map(|(i, ty)| {
        let given = event.payload.get(i).unwrap_or(&Value::Absent);
        let is_right = fits(given, ty) || is_thing(ty) && is_passed(given);
        (!is_right).then(|| misfit(given, ty))
    })
}

/// Whether a type is of what has parts.
fn is_thing(ty: &Type) -> bool {
    match ty {
        Type::Object { .. } | Type::Array { .. } | Type::Tuple { .. } => true,
        Type::Either { of } => of.iter().any(is_thing),
        _ => false,
    }
}

/// Whether a value is another one, or a part of it.
fn is_within(value: &Json, other: &Json) -> bool {
    value == other
        || match other {
            Json::Array(items) => items.iter().any(|item| is_within(value, item)),
            Json::Object(fields) => fields.values().any(|field| is_within(value, field)),
            _ => false,
        }
}

/// Events that tell where the pointer and the focus are: a component that is disabled may still tell of them.
pub(super) const OF_ATTENTION: [&str; 18] = [
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
    "pointerover",
    "pointerout",
    "pointerdown",
    "pointerup",
];

/// Whether an event tells where the pointer and the focus are, or which key was pressed, by its name (`dayMouseEnter`, `onInputKeyDown`) or by the
/// event of the page that it passes on.
fn is_of_attention(event: &Emitted) -> bool {
    let name = event.name.to_lowercase().replace(['-', '_', ':'], "");
    let by_name = name.starts_with("key") || OF_ATTENTION.iter().chain(&["keydown", "keyup", "keypress"]).any(|of| name.ends_with(of));
    let of_page = |value: &Value| value.as_json().and_then(|json| json.get("type")?.as_str()).is_some_and(|of| OF_ATTENTION.contains(&of));
    by_name || event.payload.iter().any(of_page)
}

/// While it is disabled, nothing that a person does makes it emit; while it is read-only, nothing makes it report another value.
pub(super) fn inert(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    for (name, only_changes) in [("disabled", false), ("readonly", true), ("readOnly", true)] {
        let is_flag = context.surface.prop(name).is_some_and(|p| matches!(p.ty, Type::Boolean));
        if is_flag && !context.except.iter().any(|e| e == name) {
            out.extend(inert_while(name, only_changes, context, runs)?);
        }
    }
    if !context.except.iter().any(|e| e == SAYS_DISABLED) {
        out.extend(inert_by_its_word(context, runs)?);
    }
    Ok(out)
}

/// What an element says of itself that cannot be used (WAI-ARIA 1.2 §6.6, `aria-disabled`).
const SAYS_DISABLED: &str = "aria-disabled";

/// A part that says that it is disabled is: an option that is sold out, a tab that is locked.
fn inert_by_its_word(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    for acted in pressing::each(context, runs)?.into_iter().filter(Acted::is_press) {
        let doc = &acted.before.tree;
        if doc.attr(acted.node, SAYS_DISABLED) != Some("true") || form::is_disabled(doc, acted.node) {
            continue;
        }
        let told = |e: &&Emitted| !is_of_attention(e) && e.name != "click" && !is_closing(e);
        let event = acted.after.events.iter().chain(&acted.after.strays).find(told);
        let failure = event.map(|event| Failure {
            message: format!("a press of what says that it is disabled makes it emit `{}`", event.name),
            expected: Some("nothing".into()),
            actual: Some(in_words(event)),
            ..broken_at(doc, acted.node)
        });
        let events = self::told(&acted);
        out.push(Checked { combination: acted.combination, failure, events, about: Some(SAYS_DISABLED.to_owned()) });
    }
    Ok(out)
}

/// Whether an event tells of another value, by its name.
fn is_of_change(event: &Emitted) -> bool {
    let name = event.name.to_lowercase();
    event.binding || ["change", "input", "update", "toggle"].iter().any(|w| name.contains(w))
}

/// Whether an event tells that something that was open is so no more: a press beside it closes it, whatever else it refuses.
fn is_closing(event: &Emitted) -> bool {
    let name = event.name.to_lowercase();
    let of = |words: &[&str]| words.iter().any(|word| name.contains(word));
    let tells_no = event.payload.first().is_some_and(|value| *value == Value::json(false));
    of(&["close", "hide", "dismiss"]) || tells_no && of(&["open", "show", "visible", "expanded"])
}

fn inert_while(name: &str, only_changes: bool, context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    for combination in context.busiest(8, runs) {
        let on = change(combination, name, Value::json(true));
        if out.iter().any(|c: &Checked| c.combination == on) {
            continue;
        }
        // Its controls are looked for while it is enabled: what is missing then shows once it is not.
        let off = runs.play(&mount(&change(combination, name, Value::json(false))))?;
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
        // What is there to end it does so: all that comes of that press and after it is another state's.
        let ends = |e: &Emitted| e.binding && e.name == name;
        let heard: Vec<&Emitted> = observation
            .phases
            .iter()
            .skip(1)
            .take_while(|p| !p.events.iter().any(ends))
            .flat_map(|p| p.events.iter().chain(&p.strays))
            .filter(|e| !is_of_attention(e))
            .filter(|e| !only_changes || is_of_change(e))
            .filter(|e| !is_closing(e))
            .collect();
        let failure = heard.first().map(|first| Failure {
            message: format!("it emits `{}` although `{name}` is true", first.name),
            expected: Some("nothing".into()),
            actual: Some(in_words(first)),
            ..Failure::default()
        });
        let events = observation.phases.iter().flat_map(|p| &p.events).map(in_words).collect();
        out.push(Checked { combination: on, failure, events, about: Some(name.to_owned()) });
    }
    Ok(out)
}

/// What came of one act, in words.
fn told(acted: &Acted) -> Vec<String> {
    acted.after.events.iter().chain(&acted.rested.events).map(in_words).collect()
}

/// Whether a payload is plain data: two events of the page may look alike and be two.
fn is_plain(event: &Emitted) -> bool {
    event.payload.iter().all(|v| !matches!(v, Value::Other(_)))
}

/// One press is told once: the same event does not come twice with the same payload.
pub(super) fn once(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    for acted in pressing::each(context, runs)?.into_iter().filter(Acted::is_press) {
        let events: Vec<&Emitted> = acted.after.events.iter().filter(|e| !e.binding && !context.except.contains(&e.name)).collect();
        if events.is_empty() {
            continue;
        }
        let again = |(i, event): (usize, &&Emitted)| is_plain(event) && events[..i].contains(event);
        let twice = events.iter().enumerate().find(|(i, e)| again((*i, e))).map(|(_, e)| *e);
        let failure = twice.map(|event| Failure {
            message: format!("one press makes it emit `{}` twice", event.name),
            expected: Some(format!("{}, once", in_words(event))),
            actual: Some(events.iter().map(|e| in_words(e)).collect::<Vec<_>>().join(", then ")),
            ..broken_at(&acted.before.tree, acted.node)
        });
        let about = twice.map(|e| e.name.clone());
        out.push(Checked { combination: acted.combination.clone(), failure, events: told(&acted), about });
    }
    Ok(out)
}

/// Whether an event speaks of a two-way prop, by its name: `change`, `toggle`, `update`, or the prop's own.
fn speaks_of(event: &Emitted, prop: &str) -> bool {
    let (name, prop) = (event.name.to_lowercase(), prop.to_lowercase());
    let against = ["before", "old", "leave", "prev", "will", "un", "de"];
    !against.iter().any(|w| name.starts_with(w))
        && (["change", "input", "update", "toggle", "select"].iter().any(|w| name.contains(w)) || name.contains(&prop))
}

/// An event that comes with a change of a two-way prop tells the value that is now, not the one before.
pub(super) fn current(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    for acted in pressing::each(context, runs)?.into_iter().filter(Acted::is_press) {
        for report in acted.after.events.iter().filter(|e| e.binding) {
            let held = |seen: &PhaseSnapshot| seen.held("").and_then(|h| h.bound.get(&report.name)).cloned().unwrap_or(Value::Absent);
            let (old, new) = (held(&acted.before), held(&acted.after));
            if old.same(&new) || matches!(old, Value::Absent | Value::Other(_)) {
                continue;
            }
            for event in acted.after.events.iter().filter(|e| !e.binding && !context.except.contains(&e.name)) {
                let [payload] = event.payload.as_slice() else { continue };
                // `{ toggled }` names the prop; a value alone is its own if the event speaks of it.
                let value = match payload {
                    Value::Json(serde_json::Value::Object(fields)) => fields.get(&report.name).cloned().map(Value::Json),
                    other => speaks_of(event, &report.name).then(|| other.clone()),
                };
                let Some(value) = value else { continue };
                let failure = value.same(&old).then(|| Failure {
                    message: format!("`{}` tells the value that `{}` had before", event.name, report.name),
                    expected: Some(new.to_string()),
                    actual: Some(in_words(event)),
                    ..broken_at(&acted.before.tree, acted.node)
                });
                let about = Some(event.name.clone());
                out.push(Checked { combination: acted.combination.clone(), failure, events: told(&acted), about });
            }
        }
    }
    Ok(out)
}

/// Words in the names of events that tell what became of a component, whoever made it so.
const OF_LIFE: [&str; 24] = [
    "open",
    "close",
    "show",
    "hide",
    "hidden",
    "enter",
    "leave",
    "expand",
    "collapse",
    "visible",
    "load",
    "ready",
    "mount",
    "error",
    "resize",
    "scroll",
    "animation",
    "transition",
    "render",
    "init",
    "end",
    "start",
    "complete",
    "finish",
];

/// Whether an event of an element tells of every change of a property, whoever made it, as many libraries have it: `heat-changed`.
pub(super) fn tells_each_change(surface: &Surface, event: &str) -> bool {
    let of = |prop: &Prop| kebab(event) == format!("{}-changed", kebab(&prop.name));
    surface.framework.record().is_element && surface.props.iter().any(of)
}

/// What a press makes it emit does not come of what the parent itself passes: it would answer its own words.
pub(super) fn prompted(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    let mut of_presses: Vec<String> = Vec::new();
    for acted in pressing::each(context, runs)?.into_iter().filter(Acted::is_press) {
        for event in acted.after.events.iter().filter(|e| !e.binding) {
            let name = event.name.to_lowercase();
            let counts = !OF_LIFE.iter().any(|w| name.contains(w))
                && !OF_ATTENTION.contains(&name.as_str())
                && !tells_each_change(context.surface, &event.name);
            if counts && !context.except.contains(&event.name) && !of_presses.contains(&event.name) {
                of_presses.push(event.name.clone());
            }
        }
    }
    // What is told at the mount, too, tells of states, not of presses.
    if let Some(plain) = context.combinations.first() {
        let mounted = runs.play(&mount(plain))?;
        let told: Vec<&str> = mounted.phases.iter().flat_map(|p| &p.events).map(|e| e.name.as_str()).collect();
        of_presses.retain(|name| !told.contains(&name.as_str()));
    }
    if of_presses.is_empty() {
        return Ok(out);
    }
    for (name, to, combination, seen) in changes::passed(context, runs)? {
        // What is corrected is reported, and may be told besides.
        let corrected = seen.events.iter().any(|e| e.binding);
        let event = seen.events.iter().find(|e| !e.binding && of_presses.contains(&e.name)).filter(|_| !corrected);
        let failure = event.map(|event| Failure {
            message: format!("the parent sets `{name}` to {to}, and it emits `{}` as if somebody had pressed something", event.name),
            expected: Some("nothing".into()),
            actual: Some(in_words(event)),
            ..Failure::default()
        });
        let about = event.map(|e| e.name.clone());
        out.push(Checked { combination, failure, events: seen.events.iter().map(in_words).collect(), about });
    }
    Ok(out)
}

/// A callback that the parent replaced is called no more, the new one is: one that is remembered acts on the parent's past.
pub(super) fn latest(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    if !context.surface.framework.record().calls_functions_of_parent || context.surface.events.is_empty() {
        return Ok(out);
    }
    for acted in pressing::each(context, runs)? {
        let emitted = |e: &Emitted| !context.except.contains(&e.name);
        if !acted.after.events.iter().chain(&acted.rested.events).any(emitted) {
            continue;
        }
        let steps = acted.lead.iter().chain([&Step::Relisten, &acted.step, &pressing::REST]);
        let phases = steps.map(|s| vec![s.clone()]).collect();
        let observation = runs.play(&Script { phases, ..mount(&acted.combination) })?;
        if failed(&observation) || observation.phases.iter().any(|p| !p.faults.is_empty()) {
            continue;
        }
        let old = observation.phases.iter().skip(1 + acted.lead.len()).flat_map(|p| &p.strays).find(|e| emitted(e)).cloned();
        let failure = old.as_ref().map(|event| Failure {
            message: format!("the parent passed another callback for `{}`, and the first one is called", event.name),
            expected: Some("the callback that was passed last is called".into()),
            actual: Some(format!("{}, by the callback that was there before", in_words(event))),
            ..broken_at(&acted.before.tree, acted.node)
        });
        out.push(Checked { combination: acted.combination.clone(), failure, events: told(&acted), about: old.map(|e| e.name) });
    }
    Ok(out)
}

//! What comes of acting on each control: what is emitted, with what, and what the parent holds then.

use std::rc::Rc;

use fidelon_dom::{Document, NodeId};
use serde_json::Value as Json;

use super::condition::explaining;
use super::places::found;
use super::relation::{expression, terms};
use super::write::{flow, scalar, text_scalar};
use super::{Clause, Mounts};
use crate::judge::laws::{Runs, acting, mount};
use crate::locator::Locator;
use crate::observation::{Emitted, PhaseSnapshot};
use crate::stage::{Script, StageError, Step};
use crate::value::Value;

pub(super) fn is_control(doc: &Document, node: NodeId) -> bool {
    acting::is_control(doc, node)
}

/// A control as a contract points at it, and what a person does there.
struct Act {
    words: String,
    steps: Vec<Step>,
    lines: Vec<String>,
}

pub(super) fn clauses(mounts: &Mounts<'_>, runs: &mut dyn Runs) -> Result<Vec<Clause>, StageError> {
    let mut out = Vec::new();
    for act in acts(mounts) {
        let mut after = Vec::new();
        for combination in mounts.combinations {
            let script = Script { phases: vec![act.steps.clone()], ..mount(combination) };
            let observation = runs.play(&script)?;
            after.push(observation.phases.get(1).filter(|s| s.faults.is_empty()).cloned());
        }
        out.extend(of(mounts, &act, &after));
    }
    Ok(out)
}

/// The controls that are there in some combination, each by the plainest locator that means it alone.
fn acts(mounts: &Mounts<'_>) -> Vec<Act> {
    let mut out: Vec<Act> = Vec::new();
    let Some(seen) = mounts.seen(0) else { return out };
    let doc = &seen.tree;
    for node in acting::controls(doc).into_iter().take(8) {
        let Some(steps) = acting::act(doc, node) else { continue };
        let words = acting::in_words(doc, node);
        let role = words.split(' ').next().unwrap_or_default();
        let classes = doc.element(node).map(|e| e.classes().map(|c| format!(".{c}")).collect::<Vec<_>>()).unwrap_or_default();
        let names = [words.clone(), format!("role({role})")].into_iter().chain(classes);
        let everywhere = |written: &str| {
            found(written, mounts)
                .is_some_and(|at| at.nodes[0] == Some(node) && at.nodes.iter().filter(|n| n.is_some()).count() * 2 > at.nodes.len())
        };
        let Some(written) = names.into_iter().find(|w| everywhere(w)) else { continue };
        let Ok(locator) = Locator::parse(&written) else { continue };
        let steps: Vec<Step> = steps.into_iter().map(|step| pointed(step, &locator)).collect();
        let lines = steps.iter().flat_map(lines).collect();
        out.push(Act { words: written, steps, lines });
    }
    out
}

/// The step at a control that is found by its locator.
fn pointed(step: Step, at: &Locator) -> Step {
    match step.aimed(at) {
        Step::Type { text, at, .. } => Step::Type { text, at, replace: true },
        other => other,
    }
}

fn lines(step: &Step) -> Vec<String> {
    match step {
        Step::Press { at, .. } => vec![format!("- press: {}", scalar(&at.written))],
        Step::Type { text, at, .. } => {
            vec![format!("- type: {}", scalar(text)), format!("  into: {}", scalar(&at.written)), "  replace: true".into()]
        }
        Step::Key { key, at } => {
            let at = at.iter().map(|at| format!("  at: {}", scalar(&at.written)));
            std::iter::once(format!("- key: {}", scalar(key))).chain(at).collect()
        }
        Step::Choose { option, at } => vec![format!("- choose: {}", scalar(option)), format!("  from: {}", scalar(&at.written))],
        _ => Vec::new(),
    }
}

/// What holds after an act, by the condition under which it does.
fn of(mounts: &Mounts<'_>, act: &Act, after: &[Option<Rc<PhaseSnapshot>>]) -> Vec<Clause> {
    let terms = terms(mounts.surface, mounts.domains, mounts.combinations);
    let mut found: Vec<(Option<String>, String, Vec<String>)> = Vec::new();
    let events = |i: usize| after[i].as_ref().map(|s| s.events.as_slice()).unwrap_or_default();
    let mut names: Vec<(&str, bool)> = Vec::new();
    for event in (0..after.len()).flat_map(events) {
        if !names.contains(&(&event.name, event.binding)) {
            names.push((&event.name, event.binding));
        }
    }
    for (name, binding) in names {
        let of_name = |i: usize| events(i).iter().filter(|e| e.name == name && e.binding == binding).collect::<Vec<&Emitted>>();
        if binding {
            found.extend(bound(mounts, name, after, &of_name, &terms));
            continue;
        }
        let times = (0..after.len()).map(|i| of_name(i).len()).find(|n| *n > 0).unwrap_or(1);
        let so: Vec<Option<bool>> = (0..after.len()).map(|i| Some(after[i].is_some() && of_name(i).len() == times)).collect();
        let Some(condition) = explaining(&mounts.conditions, &so) else { continue };
        let mut check = vec![format!("emitted: {}", scalar(name))];
        if times > 1 {
            check.push(format!("times: {times}"));
        }
        let payloads: Option<Vec<(usize, Json)>> = (0..after.len())
            .filter(|i| condition.holds[*i])
            .map(|i| match of_name(i).last().map(|e| e.value()) {
                Some(Value::Json(json)) => Some((i, json)),
                _ => None,
            })
            .collect();
        if let Some(written) = payloads.and_then(|p| payload(&p, &terms)) {
            check.push(format!("{}: {}", if times > 1 { "last" } else { "with" }, flow(&written)));
        }
        found.push((condition.text.clone(), format!("emits {name}"), check));
    }
    let silent: Vec<Option<bool>> = (0..after.len()).map(|i| Some(after[i].is_some() && events(i).is_empty())).collect();
    let speaks = (0..after.len()).any(|i| !events(i).is_empty());
    if speaks && let Some(condition) = explaining(&mounts.conditions, &silent).filter(|c| c.text.is_some()) {
        found.push((condition.text.clone(), "emits nothing".into(), vec!["emitted: nothing".into()]));
    }
    // What holds under the same condition is one promise.
    let mut out: Vec<Clause> = Vec::new();
    let verb = if matches!(act.steps.first(), Some(Step::Press { .. })) { "pressing" } else { "using" };
    for (only, words, check) in found {
        match out.iter_mut().find(|c| c.only == only) {
            Some(clause) => {
                clause.words.push_str(&format!(" and {words}"));
                clause.checks.push(check);
            }
            None => {
                out.push(Clause { words: format!("{verb} {} {words}", act.words), only, steps: act.lines.clone(), checks: vec![check] })
            }
        }
    }
    for clause in &mut out {
        if let Some(only) = &clause.only {
            clause.words.push_str(&format!(" when {}", super::write::in_words(only)));
        }
    }
    out
}

type Kept = (Option<String>, String, Vec<String>);

/// What the parent holds of a two-way prop after an act.
fn bound<'e>(
    mounts: &Mounts<'_>,
    name: &str,
    after: &[Option<Rc<PhaseSnapshot>>],
    of_name: &dyn Fn(usize) -> Vec<&'e Emitted>,
    terms: &[super::relation::Term],
) -> Option<Kept> {
    let held = |i: usize| match after[i].as_ref()?.held.get("")?.bound.get(name)? {
        Value::Json(json) => Some(json.clone()),
        _ => None,
    };
    let reported: Vec<usize> = (0..after.len()).filter(|i| !of_name(*i).is_empty() && held(*i).is_some()).collect();
    // The widest condition under which one expression gives what is held.
    let mut best: Option<(usize, Kept)> = None;
    for condition in &mounts.conditions {
        let within: Vec<usize> = (0..after.len()).filter(|i| condition.holds[*i]).collect();
        let all = within.iter().all(|i| reported.contains(i));
        if !all || within.len() * 2 < reported.len() || best.as_ref().is_some_and(|(most, _)| within.len() <= *most) {
            continue;
        }
        let values: Vec<(usize, Json)> = within.iter().filter_map(|i| Some((*i, held(*i)?))).collect();
        let Some(written) = expression(&values, terms) else { continue };
        let is = written.as_str().map_or_else(|| written.to_string(), text_scalar);
        let check = vec![format!("bound: {}", scalar(name)), format!("is: {is}")];
        best = Some((within.len(), (condition.text.clone(), format!("sets {name}"), check)));
    }
    best.map(|(_, kept)| kept)
}

/// What an event carries, each leaf as the props make it; none where that cannot be told.
fn payload(values: &[(usize, Json)], terms: &[super::relation::Term]) -> Option<Json> {
    let (_, first) = values.first()?;
    match first {
        Json::Object(map) => {
            let mut out = serde_json::Map::new();
            for key in map.keys() {
                let inner: Option<Vec<(usize, Json)>> = values.iter().map(|(i, v)| Some((*i, v.get(key)?.clone()))).collect();
                out.insert(key.clone(), payload(&inner?, terms)?);
            }
            let same_keys = values.iter().all(|(_, v)| v.as_object().is_some_and(|o| o.len() == map.len()));
            same_keys.then_some(Json::Object(out))
        }
        _ => expression(values, terms),
    }
}

//! `ref/…`: what must be true of the members that a parent reaches.

use fidelon_dom::NodeId;

use super::changes::told;
use super::{Checked, LawContext, LawOutcome, Runs, failed, mount};
use crate::finding::Failure;
use crate::observation::{ParentView, PhaseSnapshot};
use crate::stage::{Script, Step};
use crate::value::Value;

fn breaks(message: String, expected: &str, actual: String) -> Failure {
    Failure { message, expected: Some(expected.into()), actual: Some(actual), ..Failure::default() }
}

/// Every declared member is there after the mount; one that holds something only at times must do so in some combination.
pub(super) fn available(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    let mut seen: Vec<(crate::stage::Combination, Option<ParentView>)> = Vec::new();
    for combination in context.some(12) {
        let observation = runs.play(&mount(combination))?;
        if !failed(&observation) {
            seen.push((combination.clone(), observation.mount().and_then(|s| s.held("").cloned())));
        }
    }
    let is_nothing = |v: &Value| matches!(v, Value::Absent | Value::Json(serde_json::Value::Null));
    for member in context.surface.exposes.iter().filter(|m| !context.except.contains(m)) {
        let value = |held: &Option<ParentView>| held.as_ref().and_then(|h| h.exposed.as_ref()).and_then(|e| e.get(member)).cloned();
        let ever = seen.iter().any(|(_, h)| value(h).is_some_and(|v| !is_nothing(&v)));
        for (combination, held) in &seen {
            let failure = match value(held) {
                None => Some(breaks(format!("the parent does not reach `{member}`, which is declared"), "a member", "nothing".into())),
                // What a getter of an element gives may be nothing yet: `focused`, `selected`.
                Some(v) if is_nothing(&v) && !ever && !context.surface.framework.record().is_element => {
                    Some(breaks(format!("`{member}`, which is declared, holds nothing in any combination"), "a value", v.to_string()))
                }
                Some(_) => None,
            };
            out.push(Checked { combination: combination.clone(), failure, events: Vec::new(), about: Some(member.clone()) });
        }
    }
    Ok(out)
}

/// An update with equal props leaves the parent what it holds: the same handle, and the same elements. In React and Preact a
/// handle may be made anew with every rendering, as their documentation does: there the elements count.
pub(super) fn stable(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    if context.surface.exposes.is_empty() {
        return Ok(out);
    }
    for combination in context.some(4) {
        let observation = runs.play(&told(combination))?;
        let handles: Vec<Handle> = observation.phases.iter().filter_map(|seen| Handle::of(seen)).collect();
        let [_, before, after] = handles.as_slice() else { continue };
        if failed(&observation) {
            continue;
        }
        let same_instance = context.surface.framework.record().may_renew_handle || before.instance == after.instance;
        let replaced = before.elements.iter().find(|(name, number)| after.elements.iter().any(|(n, other)| n == name && other != number));
        let failure = if let Some((name, _)) = replaced {
            let what = if name.is_empty() { "the element that the ref holds".to_owned() } else { format!("the element `{name}`") };
            Some(breaks(format!("an update with equal props replaces {what}"), "the same element", "another one".into()))
        } else {
            (!same_instance)
                .then(|| breaks("an update with equal props gives the parent another handle".into(), "the same", "another one".into()))
        };
        out.push(Checked { combination: combination.clone(), failure, events: Vec::new(), about: None });
    }
    Ok(out)
}

/// What the parent holds: which object, and which elements by their numbers on the stage.
struct Handle {
    instance: u32,
    elements: Vec<(String, NodeId)>,
}

impl Handle {
    fn of(seen: &PhaseSnapshot) -> Option<Self> {
        let held = seen.held("")?;
        let number = |node: &NodeId| seen.numbers.get(node.0 as usize).copied();
        let elements = held.refs.iter().filter_map(|(name, node)| Some((name.clone(), number(node)?))).collect();
        Some(Self { instance: held.instance?, elements })
    }
}

/// After the removal the parent holds nothing any more.
pub(super) fn released(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    // Where the framework fills a ref, it clears it too.
    if context.surface.exposes.is_empty() || !context.surface.framework.record().hands_out_handle {
        return Ok(out);
    }
    for combination in context.some(2) {
        let observation = runs.play(&Script { phases: vec![vec![Step::Remove]], ..mount(combination) })?;
        if failed(&observation) {
            continue;
        }
        let kept = observation.phases.last().and_then(|p| p.held("")).is_some_and(|h| h.kept);
        let failure =
            kept.then(|| breaks("after it was removed the parent's ref still holds its handle".into(), "nothing", "the handle".into()));
        out.push(Checked { combination: combination.clone(), failure, events: Vec::new(), about: None });
    }
    Ok(out)
}

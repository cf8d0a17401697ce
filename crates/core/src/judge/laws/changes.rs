//! A prop, changed: what comes of each of its values after the other, beside what a fresh mount shows.

use std::rc::Rc;

use indexmap::IndexMap;
use serde_json::Value as Json;

use super::prop::is_reported;
use super::{Checked, Effort, LawContext, Runs, change, failed, mount, pause};
use crate::finding::Failure;
use crate::judge::check::in_words;
use crate::judge::equivalence::{difference, observable, without_marks};
use crate::judge::warnings;
use crate::naming::kebab;
use crate::observation::{Note, Observation, PhaseSnapshot, Tone};
use crate::plan::{Domain, is_time};
use crate::stage::{Combination, Script, StageError, Step};
use crate::surface::Prop;
use crate::value::Value;

/// Values of one prop that are passed one after the other.
const MOST_CHANGES: usize = 8;

/// A mount that is told its own props twice more. What only a first rendering shows, a transition that is held back, is no trace of
/// an old value: so what comes of a change is compared with what comes of the first telling.
pub(super) fn told(combination: &Combination) -> Script {
    let pass = vec![Step::Pass { props: combination.props.clone() }];
    Script { phases: vec![pass.clone(), pass], ..mount(combination) }
}

/// Names that say of themselves that only the first value counts, or of which HTML says so (§6.6.7, `autofocus`: where it comes into the page);
/// and the one by which many libraries let a parent's content take the place of an element: it says how the parent is written.
pub(super) fn is_initial(name: &str) -> bool {
    name.eq_ignore_ascii_case("autofocus")
        || kebab(name) == "as-child"
        || ["initial", "default"].iter().any(|p| name.strip_prefix(p).is_some_and(|r| r.starts_with(|c: char| c.is_uppercase())))
}

pub(super) fn is_nothing(value: &Value) -> bool {
    matches!(value, Value::Absent | Value::Json(Json::Null))
}

/// Whether a change is of a prop that comes late: where there is a default, what is not passed is not missing.
pub(super) fn is_late(prop: &Prop, from: &Value, to: &Value) -> bool {
    prop.default.is_none() && is_nothing(from) && !is_nothing(to)
}

/// Longer than any time that the plan passes but the longest.
pub(super) const LONG: Step = Step::Elapse { milliseconds: 6_000 };

/// Changes of all props together, about: a component that takes a hundred of them is not tried with eight values of each.
const MOST_CHANGES_OF_ALL: usize = 240;

/// How many values of one prop are passed one after the other.
fn most_changes(context: &LawContext<'_>) -> usize {
    let share = (MOST_CHANGES_OF_ALL / context.domains.len().max(1)).max(3);
    if context.effort == Effort::Thorough { usize::MAX } else { context.effort.most(MOST_CHANGES).min(share) }
}

/// Combinations in which it is looked for what a prop changes, beside the plainest.
const MOST_BASES: usize = 4;

/// The combination in which the values of a prop tell most: the plainest where they show there, else another of the plan in which they do.
/// Which of some tabs is active shows nothing as long as there is one.
pub(super) fn base<'a>(context: &LawContext<'a>, name: &str, values: &[&Value], runs: &mut dyn Runs) -> &'a Combination {
    let plain = &context.combinations[0];
    // A first look, and a question about one combination, have no other.
    if context.combinations.len() < 3 {
        return plain;
    }
    let tried: Vec<&Value> = values.iter().copied().filter(|v| !is_nothing(v)).take(3).collect();
    let mut shows = |combination: &Combination| {
        let mut shown = Vec::new();
        for value in &tried {
            // One that cannot be played tells nothing.
            let Ok(observation) = runs.play(&mount(&change(combination, name, (*value).clone()))) else { return false };
            shown.extend(observation.mount().filter(|_| !failed(&observation)).map(observable));
        }
        shown.len() == tried.len() && shown.windows(2).any(|w| w[0] != w[1])
    };
    if shows(plain) {
        return plain;
    }
    // Where lists are longest most can be chosen.
    let length = |v: &Value| match v {
        Value::Json(Json::Array(items)) => items.len(),
        _ => 0,
    };
    let mut others: Vec<&Combination> = context.combinations[1..].iter().collect();
    others.sort_by_cached_key(|c| std::cmp::Reverse(c.props.values().map(length).sum::<usize>()));
    let few = if context.domains.len() > MOST_CHANGES_OF_ALL / MOST_CHANGES { 1 } else { MOST_BASES };
    super::spread(&others, context.effort.most(few)).into_iter().find(|c| shows(c)).unwrap_or(plain)
}

/// A change of one prop, all others at their plainest, or where it shows.
pub(super) struct Change<'a> {
    pub(super) prop: &'a str,
    pub(super) from: &'a Value,
    pub(super) to: Combination,
    /// What was seen after it, and after a fresh mount.
    pub(super) updated: Rc<PhaseSnapshot>,
    pub(super) fresh: Rc<PhaseSnapshot>,
    /// What the whole case told.
    events: Vec<String>,
    /// Whether the component is an element, which shows states of its own as attributes: those that were not passed.
    host: bool,
    states: Vec<String>,
}

/// Every prop takes its values one after the other and comes back to the plainest. A change that does not show what a fresh mount
/// shows is played once more by itself: in a chain it may be the time that has passed.
pub(super) fn changes<'a>(
    context: &LawContext<'a>,
    runs: &mut dyn Runs,
    wanted: impl Fn(&Prop, &Value, &Value) -> bool,
) -> Result<Vec<Change<'a>>, StageError> {
    let mut out = Vec::new();
    let Some(plain) = context.combinations.first() else { return Ok(out) };
    // What is never at rest has no state to compare.
    if runs.play(&mount(plain))?.phases.iter().any(|p| !p.settled) {
        return Ok(out);
    }
    for domain in context.domains {
        let Domain::Prop(name, values) = domain else { continue };
        let Some(prop) = context.surface.prop(name) else { continue };
        let keeps = !context.surface.framework.record().can_unset_props;
        // Where a default counts once, a fresh mount shows it and one that is passed nothing any more does not: both are right. So is it
        // where the default is that of a part, which is passed what is passed here.
        let keeps = keeps || context.surface.defaults_once;
        let back = |to: &Value| !keeps || *to != Value::Absent;
        if is_initial(name) || context.except.contains(name) || values.len() < 2 {
            continue;
        }
        let values: Vec<&Value> = values.iter().take(most_changes(context)).collect();
        let plain = base(context, name, &values, runs);
        let pass = |value: &Value| vec![pass_of(name, value)];
        let (chain, steps) = chain(plain, name, &values);
        let chained = runs.play(&chain)?;
        let is_asked = |from: &Value, to: &Value| wanted(prop, from, to) && back(to) && !begins_otherwise(from, to);
        for (i, (from, to)) in steps.into_iter().enumerate().filter(|(_, (from, to))| is_asked(from, to)) {
            let to_all = change(plain, name, to.clone());
            let fresh = runs.play(&told(&to_all))?;
            let Some(mut expected) = fresh.phases.get(1).filter(|s| s.settled && !failed(&fresh)).cloned() else { continue };
            // What an element sets back by itself is a state of its own: it shows where it is, whatever was passed.
            if expected.held("").is_some_and(|held| held.overruled.contains(name)) {
                continue;
            }
            let mut observed: Option<(Rc<PhaseSnapshot>, Vec<String>)> = chained.phases.get(i + 1).map(|s| (s.clone(), words(&chained)));
            if observed.as_ref().is_none_or(|(seen, _)| threw(seen).is_some() || observable(seen) != observable(&expected)) {
                // It may still be on its way: what transitions come to counts, also those that the value before made long.
                let rest = if is_time(name) { vec![LONG] } else { pause() };
                let before = change(plain, name, from.clone());
                let alone = runs.play(&Script { phases: vec![pass(to), rest.clone()], ..mount(&before) })?;
                let fresh = runs.play(&Script { phases: vec![pass(to), rest], ..mount(&to_all) })?;
                // What was never at rest had no state to change from.
                let restless = alone.phases.first().is_some_and(|p| !p.settled);
                if failed_at(&alone, 0) || takes_over(&alone) || restless {
                    continue;
                }
                // A prop that the component itself changed before is another one than a fresh mount is passed.
                let begun = alone.phases.first().is_some_and(|p| p.events.iter().any(|e| is_reported(e, &before)));
                if begun && !fresh.phases.first().is_some_and(|p| p.events.iter().any(|e| e.binding)) {
                    continue;
                }
                let at = if alone.phases.get(1).is_some_and(|s| threw(s).is_some()) { 1 } else { 2 };
                observed = alone.phases.get(at).map(|s| (s.clone(), words(&alone)));
                expected = fresh.phases.get(2).cloned().unwrap_or(expected);
                if is_late(prop, from, to)
                    && let Some((seen, _)) = &observed
                    && is_trace(runs, seen, &expected, Script { phases: vec![pass(from), pass(to), pause()], ..mount(&to_all) })?
                {
                    expected = seen.clone();
                }
            }
            let Some((updated, events)) = observed else { continue };
            if leaves_alone(prop, context, &change(plain, name, from.clone()), to, &updated, runs)? {
                continue;
            }
            let host = context.surface.framework.record().is_element;
            let passed = |p: &&Prop| p.name == *name || to_all.props.get(&p.name).is_some_and(|v| *v != Value::Absent);
            let states =
                if host { context.surface.props.iter().filter(|p| !passed(p)).map(|p| kebab(&p.name)).collect() } else { Vec::new() };
            out.push(Change { prop: name, from, to: to_all, updated, fresh: expected, events, host, states });
        }
    }
    Ok(out)
}

/// Whether two objects differ in what counts in the beginning alone: options for a part, one of which is where that part begins.
fn begins_otherwise(from: &Value, to: &Value) -> bool {
    let beginning = |value: &Value| match value {
        Value::Json(Json::Object(fields)) => {
            fields.iter().filter(|(name, _)| is_initial(name)).map(|(name, value)| (name.clone(), value.clone())).collect::<Vec<_>>()
        }
        _ => Vec::new(),
    };
    beginning(from) != beginning(to)
}

/// Whether a component goes on with a state that is no longer passed: where all that is passed comes as props, what is not passed is the
/// component's own, and it begins with what was there.
fn leaves_alone(
    prop: &Prop,
    context: &LawContext<'_>,
    before: &Combination,
    to: &Value,
    updated: &PhaseSnapshot,
    runs: &mut dyn Runs,
) -> Result<bool, StageError> {
    if *to != Value::Absent || prop.default.is_some() || !context.surface.framework.record().passes_all_as_props {
        return Ok(false);
    }
    let before = runs.play(&told(before))?;
    Ok(before.phases.get(1).is_some_and(|seen| observable(seen) == observable(updated)))
}

/// A prop, the value that the parent sets it to, the combination that is so made, and what was seen then.
type Passed = (String, Value, Combination, Rc<PhaseSnapshot>);

/// What comes of each value that a prop is set to, one after the other in one mount.
pub(super) fn passed(context: &LawContext<'_>, runs: &mut dyn Runs) -> Result<Vec<Passed>, StageError> {
    let mut out = Vec::new();
    let Some(plain) = context.combinations.first() else { return Ok(out) };
    for domain in context.domains {
        let Domain::Prop(name, values) = domain else { continue };
        if context.except.contains(name) || values.len() < 2 || is_initial(name) {
            continue;
        }
        let (chain, steps) = chain(plain, name, &values.iter().take(most_changes(context)).collect::<Vec<_>>());
        let observation = runs.play(&chain)?;
        if !failed(&observation) {
            let seen = steps.iter().zip(observation.phases.iter().skip(1));
            out.extend(seen.map(|((_, to), seen)| (name.clone(), (*to).clone(), change(plain, name, (*to).clone()), seen.clone())));
        }
    }
    Ok(out)
}

/// A mount with the first of some values of a prop, that takes the others one after the other and comes back; with the steps.
pub(super) fn chain<'v>(plain: &Combination, name: &str, values: &[&'v Value]) -> (Script, Vec<(&'v Value, &'v Value)>) {
    let steps: Vec<(&Value, &Value)> = values.windows(2).map(|w| (w[0], w[1])).chain([(values[values.len() - 1], values[0])]).collect();
    let phases = steps.iter().map(|(_, to)| vec![pass_of(name, to)]).collect();
    (Script { phases, ..mount(&change(plain, name, values[0].clone())) }, steps)
}

pub(super) fn pass_of(name: &str, value: &Value) -> Step {
    Step::Pass { props: IndexMap::from([(name.to_owned(), value.clone())]) }
}

/// Whether what came late differs from a fresh mount in nothing but a mark of the way that it came: a class that names the state before.
/// What began with the value, left it and `came_back` bears the same mark then; what is stale does not.
fn is_trace(runs: &mut dyn Runs, seen: &PhaseSnapshot, fresh: &PhaseSnapshot, came_back: Script) -> Result<bool, StageError> {
    let (seen, fresh) = (observable(seen), observable(fresh));
    if seen == fresh || without_marks(&seen) != without_marks(&fresh) {
        return Ok(false);
    }
    Ok(runs.play(&came_back)?.phases.last().is_some_and(|s| observable(s) == seen))
}

/// Whether a framework tells that a value goes from the component's own to the parent's, which none takes well.
pub(super) fn takes_over(observation: &Observation) -> bool {
    let warned = observation.phases.iter().flat_map(|p| &p.notes).filter(|n| n.tone == Tone::Warned);
    warned.filter_map(|n| warnings::read(&n.text)).any(|w| w.kind == warnings::Kind::Control)
}

pub(super) fn words(observation: &Observation) -> Vec<String> {
    observation.phases.iter().flat_map(|p| &p.events).map(in_words).collect()
}

pub(super) fn threw(seen: &PhaseSnapshot) -> Option<&Note> {
    seen.notes.iter().find(|n| n.tone == Tone::Failed)
}

fn failed_at(observation: &Observation, phase: usize) -> bool {
    observation.phases.get(phase).is_some_and(|p| threw(p).is_some())
}

impl Change<'_> {
    pub(super) fn value(&self) -> &Value {
        self.to.props.get(self.prop).unwrap_or(&Value::Absent)
    }

    /// Where it does not show what a fresh mount shows.
    pub(super) fn stale(&self, message: String) -> Option<Failure> {
        let (expected, actual) = (self.shown(&self.fresh), self.shown(&self.updated));
        (threw(&self.updated).is_none() && expected != actual).then(|| {
            let (expected, actual) = difference(&expected, &actual);
            Failure { message, expected: Some(expected), actual: Some(actual), ..Failure::default() }
        })
    }

    /// What is to be seen of a state, without what is not of the prop: who has the focus, which a mount may take and a change leaves where it
    /// is, and attributes by which an element shows states of its own (`dirty`), which are declared and were not passed.
    fn shown(&self, seen: &PhaseSnapshot) -> String {
        let text = observable(seen).replace(" focused=\"\"", "");
        let Some((host, rest)) = self.host.then(|| text.split_once('>')).flatten() else { return text };
        let host = self.states.iter().fold(host.to_owned(), |host, state| without_attribute(&host, state));
        format!("{host}>{rest}")
    }

    /// What it threw on the way.
    pub(super) fn thrown(&self, message: String) -> Option<Failure> {
        threw(&self.updated).map(|note| Failure {
            message,
            expected: Some("nothing".into()),
            actual: Some(note.text.clone()),
            place: note.place.clone(),
            ..Failure::default()
        })
    }

    pub(super) fn checked(self, failure: Option<Failure>) -> Checked {
        Checked { failure, events: self.events, about: Some(self.prop.to_owned()), combination: self.to }
    }

    pub(super) fn in_words(&self) -> String {
        format!("`{}` changed from {} to {}", self.prop, self.from, self.value())
    }
}
/// What is to be seen without an attribute of this name, wherever it stands.
pub(super) fn without_attribute(shown: &str, name: &str) -> String {
    let begins = format!(" {name}=\"");
    let mut out = String::new();
    let mut rest = shown;
    while let Some(start) = rest.find(&begins) {
        out.push_str(&rest[..start]);
        let value = &rest[start + begins.len()..];
        rest = value.find('"').map_or("", |end| &value[end + 1..]);
    }
    out + rest
}

//! `binding/…`: what must be true of each two-way prop. Its control is looked for: the form control or ARIA widget whose value
//! follows the prop. Where several do, or none, nothing is judged and the contract can name it under `bindings`.

use std::rc::Rc;

use fidelon_dom::{Document, NodeId, accessible_name, form, role, role_of, serialize};
use indexmap::IndexMap;
use serde_json::Value as Json;

use super::acting::{in_words as in_words_of, is_control};
use super::{Checked, LawContext, LawOutcome, Runs, change, changes, failed, mount, prop, reporting};
use crate::finding::Failure;
use crate::judge::check::in_words;
use crate::locator::Locator;
use crate::observation::{Emitted, Observation, PhaseSnapshot};
use crate::plan::{self, Domain};
use crate::stage::{Combination, Parent, Script, StageError, Step};
use crate::surface::Event;
use crate::value::Value;

/// A two-way prop with the control that shows it.
struct Bound<'a> {
    prop: &'a str,
    event: &'a Event,
    /// Values that the control shows, one of them the one that an edit begins with.
    values: Vec<Value>,
    /// The combination that it is tried in, without the prop.
    around: Combination,
    control: Control,
    at: Locator,
    /// What can be pressed in it to choose, by value.
    choices: Vec<(String, Locator)>,
    /// The control in words.
    name: String,
}

/// How a control shows a value.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Control {
    /// As its text.
    Text,
    /// As the option that is chosen.
    Choice,
    /// As ticked or not; for a button, as pressed or not.
    Tick,
    /// As a number on a scale.
    Scale,
}

/// The value that a control shows, as text; `true` and `false` for what can be ticked.
fn shown(doc: &Document, node: NodeId) -> Option<(Control, String)> {
    let element = doc.element(node)?;
    if element.is_html("select") {
        let chosen = form::selected_options(doc, node);
        return (!element.has_attr("multiple"))
            .then(|| (Control::Choice, chosen.first().map(|_| form::value(doc, node)).unwrap_or_default()));
    }
    if form::has_text_value(element) {
        return Some((Control::Text, form::value(doc, node)));
    }
    if element.is_html("input") && element.input_type() == "range" {
        return Some((Control::Scale, form::value(doc, node)));
    }
    let choices = choices(doc, node);
    if !choices.is_empty() {
        let chosen = choices.into_iter().find(|(_, n)| is_chosen(doc, *n));
        return Some((Control::Choice, chosen.map(|(value, _)| value).unwrap_or_default()));
    }
    if element.is_html("input") && element.input_type() == "radio" {
        return None;
    }
    if let Some(ticked) = role::ticked(doc, node) {
        return Some((Control::Tick, (ticked == role::Checkedness::Yes).to_string()));
    }
    match role_of(doc, node) {
        Some("slider" | "spinbutton") => doc.attr(node, "aria-valuenow").map(|v| (Control::Scale, v.to_owned())),
        Some("button") => doc.attr(node, "aria-pressed").map(|v| (Control::Tick, v.to_owned())),
        Some("textbox" | "searchbox") if form::is_editable(doc, node) => Some((Control::Text, serialize::collapse(&doc.flat_text(node)))),
        _ => None,
    }
}

/// What can be chosen by a press: the radio buttons of one name, where the first stands for all of them, or the members of a radio
/// group, a list box or a list of tabs. Each with its value: the one it is written with, else its name.
fn choices(doc: &Document, node: NodeId) -> Vec<(String, NodeId)> {
    let Some(element) = doc.element(node) else { return Vec::new() };
    let is_radio = element.is_html("input") && element.input_type() == "radio";
    let within = |n: NodeId, role: &str| doc.flat_ancestors(n).any(|a| role_of(doc, a) == Some(role));
    let members: Vec<NodeId> = if is_radio {
        let others = form::radio_group(doc, node);
        if within(node, "radiogroup") || others.is_empty() || others.iter().any(|o| o.0 < node.0) {
            return Vec::new();
        }
        std::iter::once(node).chain(others).collect()
    } else {
        let member = match role_of(doc, node) {
            Some("radiogroup") => "radio",
            Some("listbox") if doc.attr(node, "aria-multiselectable") != Some("true") => "option",
            Some("tablist") => "tab",
            _ => return Vec::new(),
        };
        doc.composed_descendants(node).filter(|n| role_of(doc, *n) == Some(member)).collect()
    };
    let value =
        |n: NodeId| ["value", "data-value"].iter().find_map(|a| doc.attr(n, a)).map_or_else(|| accessible_name(doc, n), str::to_owned);
    members.into_iter().map(|n| (value(n), n)).collect()
}

fn is_chosen(doc: &Document, member: NodeId) -> bool {
    role::ticked(doc, member) == Some(role::Checkedness::Yes) || doc.attr(member, "aria-selected") == Some("true")
}

/// Controls, and what holds members to choose from.
fn candidates(doc: &Document) -> Vec<NodeId> {
    let Some(body) = doc.body() else { return Vec::new() };
    let holds = |n: &NodeId| matches!(role_of(doc, *n), Some("radiogroup" | "tablist")) && !form::is_hidden(doc, *n);
    doc.composed_descendants(body).filter(|n| is_control(doc, *n) || holds(n)).collect()
}

/// Whether what a control shows is this value.
fn is_shown(shown: &str, value: &Value) -> bool {
    match value {
        // What is read may be written with a capital and a blank: `tall-vase` is chosen as "Tall vase".
        Value::Json(Json::String(text)) => {
            let plain = |c: char| if c == '-' { ' ' } else { c.to_ascii_lowercase() };
            shown.chars().map(plain).eq(text.chars().map(plain))
        }
        Value::Json(Json::Number(number)) => shown.trim().parse::<f64>().ok() == number.as_f64(),
        Value::Json(Json::Bool(on)) => shown == on.to_string(),
        Value::Absent | Value::Json(Json::Null) => shown.is_empty() || shown == "false",
        _ => false,
    }
}

/// Values of a two-way prop that are mounted to find the control that follows it.
const MOST_LOOKS: usize = 5;

/// The two-way props whose control is found.
fn bound<'a>(context: &LawContext<'a>, runs: &mut dyn Runs) -> Result<Vec<Bound<'a>>, StageError> {
    let followed = followed(context, runs)?;
    Ok(followed.into_iter().filter(|f| f.len() == 1).flatten().collect())
}

/// Two-way props that several controls follow, in words that say what to do.
///
/// # Errors
/// When the stage could not play a mount.
pub fn unclear(context: &LawContext<'_>, runs: &mut dyn Runs) -> Result<Vec<String>, StageError> {
    let told = |of: Vec<Bound<'_>>| {
        let names: Vec<&str> = of.iter().map(|b| b.name.as_str()).collect();
        let prop = of[0].prop;
        format!(
            "`{prop}` is followed by {}: for the binding laws say in a contract which one is edited, as `bindings: {{ {prop}: {{ edit: {}, with: [{}] }} }}`",
            names.join(" and "),
            of[0].at.written,
            of[0].values[1]
        )
    };
    Ok(followed(context, runs)?.into_iter().filter(|f| f.len() > 1).map(told).collect())
}

/// The controls that follow each two-way prop; the one that a contract names where it names one.
fn followed<'a>(context: &LawContext<'a>, runs: &mut dyn Runs) -> Result<Vec<Vec<Bound<'a>>>, StageError> {
    let mut out = Vec::new();
    let Some(plain) = context.combinations.first() else { return Ok(out) };
    for domain in context.domains {
        let Domain::Prop(name, values) = domain else { continue };
        let event = context.surface.events.iter().find(|e| e.reports.as_ref() == Some(name));
        let (Some(event), false) = (event, context.except.contains(name)) else { continue };
        let values: Vec<&Value> =
            values.iter().filter(|v| matches!(v, Value::Json(j) if !j.is_null() && !j.is_array() && !j.is_object())).collect();
        let plain = if values.len() < 2 { plain } else { changes::base(context, name, &values, runs) };
        let mut looks: Vec<(Value, Rc<PhaseSnapshot>)> = Vec::new();
        for value in values.iter().take(MOST_LOOKS) {
            looks.extend(look(plain, name, (*value).clone(), runs)?);
        }
        let Some((_, seen)) = looks.first().cloned() else { continue };
        let doc = &seen.tree;
        let named = context.edits.iter().find(|(prop, _)| prop == name).map(|(_, at)| at.find(doc, Document::ROOT, &[]));
        let mut follows = Vec::new();
        for node in candidates(doc).into_iter().filter(|n| named.as_ref().is_none_or(|list| list.contains(n))) {
            if doc.is_html(node, "option") || form::is_disabled(doc, node) || is_fixed(doc, node) {
                continue;
            }
            let Some((control, _)) = shown(doc, node) else { continue };
            let shows = |(value, seen): &(Value, Rc<PhaseSnapshot>)| {
                let there = seen.tree.at_path(&doc.path_to(node))?;
                let (_, text) = shown(&seen.tree, there)?;
                is_shown(&text, value).then(|| value.clone())
            };
            let mut values: Vec<Value> = looks.iter().filter_map(shows).collect();
            // Not every value of the type is one that can be chosen: what is offered tells.
            if let ([one], Control::Choice) = (values.as_slice(), control) {
                let offered = offers(doc, node).into_iter().filter_map(|text| of_kind(one, &text)).find(|v| v != one);
                if let Some(offered) = offered {
                    values.extend(look(plain, name, offered, runs)?.as_ref().and_then(shows));
                }
            }
            // Two values that it shows tell that it follows.
            if values.len() > 1 {
                follows.push(Bound {
                    prop: name,
                    event,
                    values,
                    around: plain.clone(),
                    control,
                    at: Locator::at(doc, node),
                    choices: choices(doc, node).into_iter().map(|(value, n)| (value, Locator::at(doc, n))).collect(),
                    name: in_words_of(doc, node),
                });
            }
        }
        out.push(follows);
    }
    Ok(out)
}

/// A mount with one value of a prop; none where it threw.
fn look(around: &Combination, prop: &str, value: Value, runs: &mut dyn Runs) -> Result<Option<(Value, Rc<PhaseSnapshot>)>, StageError> {
    let observation = runs.play(&mount(&change(around, prop, value.clone())))?;
    Ok(observation.phases.first().filter(|_| !failed(&observation)).map(|seen| (value, seen.clone())))
}

/// The values of all that can be chosen in a control.
fn offers(doc: &Document, node: NodeId) -> Vec<String> {
    let of_options = form::options(doc, node).into_iter().filter(|o| !form::is_disabled(doc, *o)).map(|o| option_value(doc, o));
    if doc.is_html(node, "select") { of_options.collect() } else { choices(doc, node).into_iter().map(|(value, _)| value).collect() }
}

/// A text as a value of the kind that another is.
fn of_kind(one: &Value, text: &str) -> Option<Value> {
    match one {
        Value::Json(Json::String(_)) => Some(Value::json(text)),
        Value::Json(Json::Number(_)) => text.trim().parse::<i64>().ok().map(Value::json),
        _ => None,
    }
}

fn is_fixed(doc: &Document, node: NodeId) -> bool {
    doc.element(node)
        .is_some_and(|e| e.has_attr("readonly") || e.attr("aria-readonly") == Some("true") || e.attr("aria-disabled") == Some("true"))
}

impl Bound<'_> {
    fn with(&self, value: &Value) -> Combination {
        change(&self.around, self.prop, value.clone())
    }

    fn shows(&self, seen: &PhaseSnapshot) -> Option<String> {
        let [node] = self.at.find(&seen.tree, Document::ROOT, &[])[..] else { return None };
        shown(&seen.tree, node).map(|(_, text)| text)
    }

    /// A value that a person can bring the control to, other than the one it has.
    fn edited(&self, seen: &PhaseSnapshot, from: &Value) -> Option<Value> {
        let [node] = self.at.find(&seen.tree, Document::ROOT, &[])[..] else { return None };
        let element = seen.tree.element(node)?;
        let number = |name: &str| element.attr(name).and_then(|v| v.trim().parse::<f64>().ok());
        match (self.control, from) {
            (Control::Tick, _) => Some(Value::json(*from != Value::json(true))),
            (Control::Choice, _) if !self.choices.is_empty() => {
                let can = |value: &Value| {
                    self.choices.iter().any(|(v, at)| {
                        is_shown(v, value) && at.find(&seen.tree, Document::ROOT, &[]).iter().all(|n| !form::is_disabled(&seen.tree, *n))
                    })
                };
                let offered =
                    || self.choices.iter().filter_map(|(text, _)| of_kind(from, &text.to_lowercase())).find(|v| v != from && can(v));
                self.values.iter().find(|v| *v != from && can(v)).cloned().or_else(offered)
            }
            (Control::Choice, _) => {
                let other = self.values.iter().find(|v| {
                    *v != from
                        && form::options(&seen.tree, node)
                            .iter()
                            .any(|o| !form::is_disabled(&seen.tree, *o) && is_shown(&option_value(&seen.tree, *o), v))
                });
                other.cloned()
            }
            (_, Value::Json(Json::Number(_))) if element.is_html("input") && matches!(&*element.input_type(), "number" | "range") => {
                let step = number("step").unwrap_or(1.0);
                let base = number("min").filter(|min| min.abs() < 1e6).unwrap_or(0.0);
                let to = base + step * 3.0;
                let most = number("max").or((element.input_type() == "range").then_some(100.0));
                let fits = most.is_none_or(|max| to <= max) && !Value::json(to).same(from);
                fits.then(|| if to.fract() == 0.0 { Value::json(to as i64) } else { Value::json(to) })
            }
            (Control::Text, Value::Json(Json::String(_))) => {
                let plain = matches!(element.input_type().as_str(), "text" | "search") || !element.is_html("input");
                // A field may take no text but its own kind: another value of the prop is one.
                let fits = |t: &str| (1..=12).contains(&t.len()) && t.bytes().all(|b| b.is_ascii_alphanumeric() || b"-#".contains(&b));
                let word = |v: &&Value| matches!(v, Value::Json(Json::String(t)) if fits(t));
                let other = self.values.iter().filter(|v| *v != from).find(word).cloned();
                let other = other.or_else(|| plan::texts_of(self.prop).is_none().then(|| Value::json("bowl")))?;
                let free = number("maxlength").is_none_or(|m| m >= 12.0) && !element.has_attr("pattern");
                (plain && free && other != *from).then_some(other)
            }
            _ => None,
        }
    }

    fn step(&self, to: &Value) -> Step {
        if let Some((_, at)) = self.choices.iter().find(|(value, _)| is_shown(value, to)) {
            return Step::Press { at: at.clone(), times: 1 };
        }
        match self.control {
            // A button that is pressed or not is no checkbox.
            Control::Tick => Step::Press { at: self.at.clone(), times: 1 },
            _ => Step::Edit { at: self.at.clone(), to: to.clone() },
        }
    }

    fn reports<'o>(&self, seen: &'o PhaseSnapshot) -> impl Iterator<Item = &'o Emitted> + use<'o, '_> {
        seen.events.iter().filter(|e| e.binding && e.name == self.event.name)
    }

    fn checked(&self, value: &Value, observation: &Observation, failure: Option<Failure>) -> Checked {
        let events = observation.phases.iter().flat_map(|p| &p.events).map(in_words).collect();
        Checked { combination: self.with(value), failure, events, about: Some(self.prop.to_owned()) }
    }

    fn breaks(&self, message: String, expected: impl Into<String>, actual: impl Into<String>) -> Failure {
        Failure {
            message,
            expected: Some(expected.into()),
            actual: Some(actual.into()),
            node: Some(self.name.clone()),
            ..Failure::default()
        }
    }
}

fn option_value(doc: &Document, option: NodeId) -> String {
    doc.attr(option, "value").map_or_else(|| form::option_text(doc, option), str::to_owned)
}

/// The view shows the parent's value when the parent changes it, as a fresh mount with that value does.
pub(super) fn shows(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    // Without a value a two-way prop is the component's own from then on; not every framework lets the parent take it back.
    let can_bind_later = context.surface.framework.record().can_bind_later;
    let stays = |from: &Value, to: &Value| !(changes::is_nothing(to) || !can_bind_later && changes::is_nothing(from));
    let changes = changes::changes(context, runs, |prop, from, to| prop.two_way && stays(from, to))?;
    let judged = changes.into_iter().map(|change| {
        let stale = change.stale(format!("after the parent's {} the view does not follow", change.in_words()));
        let refused = prop::is_refused_by_css(&change, context);
        change.checked(stale.filter(|_| !refused))
    });
    Ok(judged.collect())
}

/// What came of one edit by a person, and of a second of rest after it.
fn edit(bound: &Bound<'_>, parent: Parent, runs: &mut dyn Runs) -> Result<Option<(Value, Observation)>, StageError> {
    let from = &bound.values[0];
    let start = runs.play(&mount(&bound.with(from)))?;
    let Some(to) = start.mount().and_then(|s| bound.edited(s, from)) else { return Ok(None) };
    // A field is left after the edit; what is only pressed has nothing to be left.
    let leave = (bound.control == Control::Text).then(|| Step::Leave { at: bound.at.clone() });
    let phases = vec![vec![bound.step(&to)], leave.into_iter().chain([Step::Elapse { milliseconds: 1000 }]).collect()];
    let observation = runs.play(&Script { phases, parent, ..mount(&bound.with(from)) })?;
    let broke_off = observation.phases.get(1).is_none_or(|p| !p.faults.is_empty());
    Ok((!broke_off && !failed(&observation)).then_some((to, observation)))
}

/// One edit by a person is reported: once where it is one act, key by key or at its end where it is typed; at last with the value
/// that the control then shows.
pub(super) fn reports(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    for bound in bound(context, runs)? {
        let Some((to, observation)) = edit(&bound, Parent::Obeys, runs)? else { continue };
        let prop = bound.prop;
        // What is reported when the field is left, or after a moment, is reported all the same. What comes after a report is told by
        // `binding/converges`.
        let first = observation.phases[1..].iter().find(|p| bound.reports(p).next().is_some());
        let Some(phase) = first.or(observation.phases.last()) else { continue };
        let reported: Vec<Value> = bound.reports(phase).map(Emitted::value).collect();
        let held = phase.held("").and_then(|h| h.bound.get(prop)).cloned().unwrap_or(Value::Absent);
        let words = || {
            if reported.is_empty() { "nothing".to_owned() } else { reported.iter().map(ToString::to_string).collect::<Vec<_>>().join(", ") }
        };
        let twice = reported.windows(2).any(|w| w[0].same(&w[1]));
        let failure = if reported.is_empty() {
            Some(bound.breaks(format!("an edit of its control to {to} is not reported as a change of `{prop}`"), to.to_string(), "nothing"))
        } else if twice {
            Some(bound.breaks(format!("one edit of its control is reported more than once as `{prop}`"), format!("{to}, once"), words()))
        } else if bound.control == Control::Tick && reported.len() > 1 {
            Some(bound.breaks(format!("one press is reported {} times as `{prop}`", reported.len()), format!("{to}, once"), words()))
        } else if !held.same(&to) && !is_shown(&plain(&held), &to) {
            Some(bound.breaks(
                format!("an edit of its control to {to} is reported as another value of `{prop}`"),
                to.to_string(),
                held.to_string(),
            ))
        } else {
            None
        };
        out.push(bound.checked(&bound.values[0], &observation, failure));
    }
    out.extend(reporting::what_was_typed(context, runs)?);
    out.extend(reporting::with_the_others(context, runs)?);
    out.extend(reporting::within_bounds(context, runs)?);
    Ok(out)
}

fn plain(value: &Value) -> String {
    match value {
        Value::Json(Json::String(text)) => text.clone(),
        other => other.to_string(),
    }
}

/// The parent's own assignment is reported to nobody.
pub(super) fn silent(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    for domain in context.domains {
        let Domain::Prop(name, values) = domain else { continue };
        let Some(event) = context.surface.events.iter().find(|e| e.reports.as_ref() == Some(name)) else { continue };
        if context.except.contains(name) || super::event::tells_each_change(context.surface, &event.written) {
            continue;
        }
        // Values in the plainest combination, then one change in some others.
        let changes: Vec<(&Value, &Value)> = values.iter().zip(values.iter().skip(1)).take(context.effort.most(4)).collect();
        for (i, combination) in context.some(6).into_iter().enumerate() {
            for (from, to) in changes.iter().take(if i == 0 { changes.len() } else { 1 }) {
                out.extend(assigned(combination, event, name, (from, to), runs)?);
            }
        }
    }
    Ok(out)
}

fn assigned(
    combination: &Combination,
    event: &Event,
    name: &str,
    (from, to): (&Value, &Value),
    runs: &mut dyn Runs,
) -> Result<Option<Checked>, StageError> {
    let assign = Step::Assign { props: IndexMap::from([(name.to_owned(), to.clone())]) };
    let phases = vec![vec![assign, Step::Elapse { milliseconds: 1000 }]];
    let observation = runs.play(&Script { phases, ..mount(&change(combination, name, from.clone())) })?;
    // What a value that nobody would write brings about is told by other laws; a value that is corrected is no echo of it.
    if failed(&observation) {
        return Ok(None);
    }
    let echo = observation.phases.last().and_then(|p| p.events.iter().find(|e| e.binding && e.name == event.name && e.value().same(to)));
    let failure = echo.map(|e| Failure {
        message: format!("the parent sets `{name}` to {to}, and it is reported back"),
        expected: Some("nothing".into()),
        actual: Some(in_words(e)),
        ..Failure::default()
    });
    let events = observation.phases.iter().flat_map(|p| &p.events).map(in_words).collect();
    Ok(Some(Checked { combination: combination.clone(), failure, events, about: Some(name.to_owned()) }))
}

/// Once an edit is reported and the parent wrote it back, nothing more happens.
pub(super) fn converges(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    for bound in bound(context, runs)? {
        let Some((to, observation)) = edit(&bound, Parent::Obeys, runs)? else { continue };
        let prop = bound.prop;
        let [_, edited, later] = observation.phases.as_slice() else { continue };
        let at_once = edited.held("").and_then(|h| h.bound.get(prop)).cloned().unwrap_or(Value::Absent);
        let at_last = later.held("").and_then(|h| h.bound.get(prop)).cloned().unwrap_or(Value::Absent);
        // What is only reported when the field is left changes then for the first time.
        let began = bound.reports(edited).next().is_some();
        let shows = bound.shows(later).unwrap_or_default();
        let failure = if !edited.settled || !later.settled {
            Some(bound.breaks(format!("after one edit of `{prop}` it never comes to rest"), "rest", "more tasks still waiting"))
        } else if began && bound.control == Control::Tick && !at_once.same(&at_last) {
            Some(bound.breaks(format!("`{prop}` changes once more after the edit to {to}"), at_once.to_string(), at_last.to_string()))
        } else if !is_shown(&shows, &at_last) && !matches!(at_last, Value::Other(_)) && is_shown(&shows, &bound.values[0]) {
            Some(bound.breaks(format!("the parent took the edit of `{prop}`, and its control fell back"), at_last.to_string(), shows))
        } else {
            None
        };
        out.push(bound.checked(&bound.values[0], &observation, failure));
    }
    Ok(out)
}

/// If the parent keeps its value, the view returns to it, where the framework holds fields to it.
pub(super) fn obeys(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    if !context.surface.framework.record().holds_fields {
        return Ok(out);
    }
    for bound in bound(context, runs)? {
        let Some((to, observation)) = edit(&bound, Parent::Keeps, runs)? else { continue };
        let value = &bound.values[0];
        let now = observation.phases.last().and_then(|s| bound.shows(s)).unwrap_or_default();
        let failure = (!is_shown(&now, value)).then(|| {
            bound.breaks(format!("the parent keeps `{}`, and its control goes on to show {to}", bound.prop), value.to_string(), now)
        });
        out.push(bound.checked(value, &observation, failure));
    }
    Ok(out)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_control_shows_a_value_in_its_own_way() {
        for (html, wanted) in [
            ("<input value=mug>", Some((Control::Text, "mug"))),
            ("<input type=number value=600>", Some((Control::Text, "600"))),
            ("<input type=checkbox checked>", Some((Control::Tick, "true"))),
            ("<button role=switch aria-checked=false>Vent</button>", Some((Control::Tick, "false"))),
            ("<button aria-pressed=true>Vent</button>", Some((Control::Tick, "true"))),
            ("<button>Vent</button>", None),
            ("<select><option>C<option selected value=F>Fahrenheit</select>", Some((Control::Choice, "F"))),
            ("<input type=range value=30>", Some((Control::Scale, "30"))),
            ("<div role=slider tabindex=0 aria-valuenow=7></div>", Some((Control::Scale, "7"))),
            ("<textarea>mug</textarea>", Some((Control::Text, "mug"))),
            ("<input type=radio name=u value=C><input type=radio name=u value=F checked>", Some((Control::Choice, "F"))),
            ("<input type=radio value=C>", None),
            (
                "<div role=radiogroup><b role=radio aria-checked=true data-value=C>a</b><b role=radio data-value=F>b</b></div>",
                Some((Control::Choice, "C")),
            ),
            (
                "<ul role=listbox tabindex=0><li role=option>Ash<li role=option aria-selected=true>Shino</ul>",
                Some((Control::Choice, "Shino")),
            ),
            ("<div role=tablist><button role=tab aria-selected=true>Kilns</button></div>", Some((Control::Choice, "Kilns"))),
        ] {
            let doc = fidelon_dom::parse::document(html);
            let node = candidates(&doc)[0];
            assert_eq!(shown(&doc, node), wanted.map(|(c, t)| (c, t.to_owned())), "{html}");
        }
        assert!(is_shown("600", &Value::json(600)) && is_shown("true", &Value::json(true)) && !is_shown("6", &Value::json("mug")));
    }
}

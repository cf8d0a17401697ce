//! A press of each control, in a mount of its own, and of each that such a press brings to light: what several laws look at.

use std::rc::Rc;

use fidelon_dom::{Document, NodeId, form, role_of};
use serde_json::Value as Json;

use super::acting::{act, controls, in_words};
use super::{LawContext, Runs, change, failed, mount};
use crate::judge::equivalence::{observable, without_marks};
use crate::locator::Locator;
use crate::observation::{Emitted, Observation, PhaseSnapshot};
use crate::plan::{Domain, is_choice};
use crate::stage::{Combination, Script, StageError, Step};
use crate::value::Value;

/// Combinations in which controls are pressed under normal effort.
const MOST_COMBINATIONS: usize = 8;

/// Controls that are pressed in a combination.
const MOST_CONTROLS: usize = 6;

/// Controls that are pressed of those that one press opens, and how often the same control is pressed to open them.
const MOST_OPENED: usize = 6;
const MOST_OPENINGS: usize = 2;

/// How long what a press sets off is waited for.
pub(super) const REST: Step = Step::Elapse { milliseconds: 1000 };

/// A control, and what came of acting on it in a fresh mount.
pub(super) struct Acted {
    /// The combination that was mounted.
    pub(super) combination: Combination,
    /// The control, in the mount.
    pub(super) node: NodeId,
    /// What points at it.
    pub(super) at: Locator,
    /// What was done before: the press that opened what the control stands in, if it was not there from the start.
    pub(super) lead: Vec<Step>,
    /// What was done with it.
    pub(super) step: Step,
    /// What there was before: the mount, or what was opened.
    pub(super) before: Rc<PhaseSnapshot>,
    /// What there was right after the act.
    pub(super) after: Rc<PhaseSnapshot>,
    /// What there was a second later.
    pub(super) rested: Rc<PhaseSnapshot>,
}

/// Each control that a press is for is pressed, each field typed into.
pub(super) fn each(context: &LawContext<'_>, runs: &mut dyn Runs) -> Result<Vec<Acted>, StageError> {
    let mut out: Vec<Acted> = Vec::new();
    let mut openings: Vec<(String, usize)> = Vec::new();
    let fullest = fullest(context);
    let richest = match &fullest {
        Some(fullest) => richest(context, fullest, runs)?,
        None => None,
    };
    for combination in context.busiest(MOST_COMBINATIONS, runs).into_iter().chain(&fullest).chain(&richest) {
        let mounted = runs.play(&mount(combination))?;
        let Some(before) = mounted.phases.first().filter(|s| s.settled && !failed(&mounted)).cloned() else { continue };
        for node in controls(&before.tree).into_iter().take(MOST_CONTROLS) {
            let focused = focused(combination, &before, node, runs)?;
            for acted in of_control(combination, &[], &before, node, runs)?.into_iter().chain(focused) {
                let opener = in_words(&before.tree, node);
                let opened = acted.opened();
                // Where it opens more than ever before, there is more to see.
                let known = openings.iter().filter(|(of, _)| *of == opener);
                let is_known =
                    known.clone().count() >= context.effort.most(MOST_OPENINGS) && known.clone().any(|(_, most)| *most >= opened.len());
                let (lead, within) = ([acted.step.clone()], acted.after.clone());
                out.push(acted);
                if opened.is_empty() || is_known {
                    continue;
                }
                openings.push((opener, opened.len()));
                for node in opened.into_iter().take(MOST_OPENED) {
                    out.extend(of_control(combination, &lead, &within, node, runs)?);
                }
            }
        }
        out.extend(escaped(combination, &before, runs)?);
    }
    Ok(out)
}

/// The key by which what lies over a page is closed, pressed anywhere; none where nothing comes of it.
fn escaped(combination: &Combination, before: &Rc<PhaseSnapshot>, runs: &mut dyn Runs) -> Result<Option<Acted>, StageError> {
    let Some(node) = before.tree.body() else { return Ok(None) };
    let step = Step::Key { key: "Escape".into(), at: None };
    let tells = |acted: &Acted| !acted.after.events.is_empty() || !acted.rested.events.is_empty();
    Ok(done(combination, &[], before, (node, step), runs)?.filter(tells))
}

/// The plainest combination with all that lists can hold: there is most to press, and no combination of a few need be of that kind. None where
/// a contract says which values go together, or one combination alone is looked at.
fn fullest(context: &LawContext<'_>) -> Option<Combination> {
    let is_free = context.given.is_empty() && context.scripts.is_empty() && !context.is_scene;
    let plain = context.combinations.first().filter(|_| is_free && context.combinations.len() > 1)?;
    let mut out = plain.clone();
    for domain in context.domains {
        let Domain::Prop(name, values) = domain else { continue };
        let length = |v: &Value| match v {
            Value::Json(Json::Array(items)) => items.len(),
            _ => 0,
        };
        // Of what is chosen one is: then something else can be.
        let chosen = || values.iter().find(|v| length(v) == 1);
        let longest = values.iter().max_by_key(|v| length(v)).filter(|v| length(v) > 1);
        if let Some(list) = longest.and_then(|longest| if is_choice(name) { chosen() } else { Some(longest) }) {
            out.props.insert(name.clone(), list.clone());
        }
    }
    (out != *plain).then_some(out)
}

/// Flags that are tried to come to more controls.
const MOST_FLAGS: usize = 6;

/// The same with each flag set that brings more controls: boxes to choose rows by, what takes an item away.
fn richest(context: &LawContext<'_>, fullest: &Combination, runs: &mut dyn Runs) -> Result<Option<Combination>, StageError> {
    let mut out = fullest.clone();
    let mut count = |combination: &Combination| -> Result<usize, StageError> {
        let mounted = runs.play(&mount(combination))?;
        Ok(mounted.mount().filter(|_| !failed(&mounted)).map_or(0, |seen| controls(&seen.tree).len()))
    };
    let mut most = count(&out)?;
    for name in context.domains.iter().filter_map(Domain::flag).take(MOST_FLAGS) {
        let with = change(&out, name, Value::json(true));
        let controls = count(&with)?;
        if controls > most {
            (out, most) = (with, controls);
        }
    }
    Ok((out != *fullest).then_some(out))
}

/// What comes of acting on one control of what is there `before`; none where it is for no press and no text, or could not be done.
fn of_control(
    combination: &Combination,
    lead: &[Step],
    before: &Rc<PhaseSnapshot>,
    node: NodeId,
    runs: &mut dyn Runs,
) -> Result<Option<Acted>, StageError> {
    let Some(step) = first_step(&before.tree, node) else { return Ok(None) };
    done(combination, lead, before, (node, step), runs)
}

/// What comes of a step at a node of what is there `before`; none where it could not be done.
fn done(
    combination: &Combination,
    lead: &[Step],
    before: &Rc<PhaseSnapshot>,
    (node, step): (NodeId, Step),
    runs: &mut dyn Runs,
) -> Result<Option<Acted>, StageError> {
    let at = Locator::at(&before.tree, node);
    let of = |(after, rested)| Acted {
        combination: combination.clone(),
        node,
        at,
        lead: lead.to_vec(),
        step: step.clone(),
        before: before.clone(),
        after,
        rested,
    };
    Ok(acted(combination, lead, step.clone(), runs)?.map(of))
}

/// A field that shows what there is to choose from as soon as it has the focus; none of any other control.
fn focused(combination: &Combination, before: &Rc<PhaseSnapshot>, node: NodeId, runs: &mut dyn Runs) -> Result<Option<Acted>, StageError> {
    if !form::is_editable(&before.tree, node) {
        return Ok(None);
    }
    let step = Step::Focus { at: Locator::at(&before.tree, node) };
    Ok(done(combination, &[], before, (node, step), runs)?.filter(|acted| !acted.opened().is_empty()))
}

/// The press of a control, or what is typed into a field; none for what is chosen from or moved by keys.
fn first_step(doc: &Document, node: NodeId) -> Option<Step> {
    let step = act(doc, node)?.into_iter().next()?;
    matches!(step, Step::Press { .. } | Step::Type { .. }).then_some(step)
}

/// What was there right after an act, and a second later.
type Outcome = (Rc<PhaseSnapshot>, Rc<PhaseSnapshot>);

/// One step in a fresh mount, after those that lead to it, and a second of rest; none where it could not be done or something was thrown.
pub(super) fn acted(combination: &Combination, lead: &[Step], step: Step, runs: &mut dyn Runs) -> Result<Option<Outcome>, StageError> {
    let steps = lead.iter().chain([&step, &REST]);
    let observation: Observation = runs.play(&Script { phases: steps.map(|s| vec![s.clone()]).collect(), ..mount(combination) })?;
    let [.., after, rested] = observation.phases.as_slice() else { return Ok(None) };
    Ok((after.faults.is_empty() && !failed(&observation)).then(|| (after.clone(), rested.clone())))
}

impl Acted {
    /// Whether it was pressed.
    pub(super) fn is_press(&self) -> bool {
        matches!(self.step, Step::Press { .. })
    }

    /// The controls that a press or the focus brought to light: those of which there were none of the same words before.
    pub(super) fn opened(&self) -> Vec<NodeId> {
        let opens = self.is_press() || matches!(self.step, Step::Focus { .. });
        if !opens || !self.lead.is_empty() {
            return Vec::new();
        }
        let words = |seen: &PhaseSnapshot| controls(&seen.tree).into_iter().map(|n| (n, in_words(&seen.tree, n))).collect::<Vec<_>>();
        let before = words(&self.before);
        let is_new = |(_, words): &(NodeId, String)| !before.iter().any(|(_, known)| known == words);
        words(&self.after).into_iter().filter(is_new).map(|(node, _)| node).collect()
    }

    /// The control where it stands in what was seen later, by its place, if it looks like the same one.
    pub(super) fn control_in(&self, seen: &PhaseSnapshot) -> Option<NodeId> {
        let node = self.at.find(&seen.tree, Document::ROOT, &[]).into_iter().next()?;
        let (was, is) = (&self.before.tree, &seen.tree);
        (role_of(was, self.node) == role_of(is, node) && was.local_name(self.node) == is.local_name(node)).then_some(node)
    }

    /// Whether a node of what was seen later is the control that was there before.
    pub(super) fn is_same(&self, seen: &PhaseSnapshot, node: NodeId) -> bool {
        self.before.numbers.get(self.node.0 as usize) == seen.numbers.get(node.0 as usize)
    }
}

/// Whether an act came to anything: it made the component emit, or showed something else. What only marks the way, a class or a
/// style, is none.
pub(super) fn reacts(before: &PhaseSnapshot, after: &PhaseSnapshot, of_attention: &[&str]) -> bool {
    let tells = |e: &Emitted| !of_attention.contains(&e.name.to_lowercase().as_str()) && !e.name.to_lowercase().starts_with("key");
    after.events.iter().chain(&after.strays).any(tells) || without_marks(&observable(before)) != without_marks(&observable(after))
}

/// Whether a person can reach a control by the keyboard: it takes the focus in the order of the page.
pub(super) fn is_reached(doc: &Document, node: NodeId) -> bool {
    form::is_focusable(doc, node) && doc.attr(node, "tabindex").is_none_or(|t| !t.trim().starts_with('-'))
}

//! A press of each control, in a mount of its own: what several laws look at.

use std::rc::Rc;

use fidelon_dom::{Document, NodeId, form, role_of};

use super::acting::{act, controls};
use super::{Matter, Runs, failed, mount};
use crate::judge::equivalence::{observable, without_marks};
use crate::locator::Locator;
use crate::observation::{Emitted, Observation, Seen};
use crate::stage::{Combination, Script, StageError, Step};

/// Combinations in which controls are pressed under normal effort.
const MOST_COMBINATIONS: usize = 8;

/// Controls that are pressed in a combination.
const MOST_CONTROLS: usize = 6;

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
    /// What was done with it.
    pub(super) step: Step,
    /// The mount.
    pub(super) before: Rc<Seen>,
    /// What there was right after the act.
    pub(super) after: Rc<Seen>,
    /// What there was a second later.
    pub(super) rested: Rc<Seen>,
}

/// Each control that a press is for is pressed, each field typed into.
pub(super) fn each(matter: &Matter<'_>, runs: &mut dyn Runs) -> Result<Vec<Acted>, StageError> {
    let mut out = Vec::new();
    for combination in matter.some(MOST_COMBINATIONS) {
        let mounted = runs.play(&mount(combination))?;
        let Some(before) = mounted.phases.first().filter(|s| s.settled && !failed(&mounted)).cloned() else { continue };
        for node in controls(&before.tree).into_iter().take(MOST_CONTROLS) {
            let Some(step) = first_step(&before.tree, node) else { continue };
            let Some((after, rested)) = acted(combination, step.clone(), runs)? else { continue };
            let at = Locator::at(&before.tree, node);
            out.push(Acted { combination: combination.clone(), node, at, step, before: before.clone(), after, rested });
        }
    }
    Ok(out)
}

/// The press of a control, or what is typed into a field; none for what is chosen from or moved by keys.
fn first_step(doc: &Document, node: NodeId) -> Option<Step> {
    let step = act(doc, node)?.into_iter().next()?;
    matches!(step, Step::Press { .. } | Step::Type { .. }).then_some(step)
}

/// What was there right after an act, and a second later.
type Outcome = (Rc<Seen>, Rc<Seen>);

/// One step in a fresh mount, and a second of rest; none where it could not be done or something was thrown.
pub(super) fn acted(combination: &Combination, step: Step, runs: &mut dyn Runs) -> Result<Option<Outcome>, StageError> {
    let observation: Observation = runs.play(&Script { phases: vec![vec![step], vec![REST]], ..mount(combination) })?;
    let [_, after, rested] = observation.phases.as_slice() else { return Ok(None) };
    Ok((after.faults.is_empty() && !failed(&observation)).then(|| (after.clone(), rested.clone())))
}

impl Acted {
    /// Whether it was pressed.
    pub(super) fn is_press(&self) -> bool {
        matches!(self.step, Step::Press { .. })
    }

    /// The control where it stands in what was seen later, by its place, if it looks like the same one.
    pub(super) fn control_in(&self, seen: &Seen) -> Option<NodeId> {
        let node = self.at.find(&seen.tree, Document::ROOT, &[]).into_iter().next()?;
        let (was, is) = (&self.before.tree, &seen.tree);
        (role_of(was, self.node) == role_of(is, node) && was.local_name(self.node) == is.local_name(node)).then_some(node)
    }

    /// Whether a node of what was seen later is the control that was there before.
    pub(super) fn is_same(&self, seen: &Seen, node: NodeId) -> bool {
        self.before.numbers.get(self.node.0 as usize) == seen.numbers.get(node.0 as usize)
    }
}

/// Whether an act came to anything: it made the component emit, or showed something else. What only marks the way, a class or a
/// style, is none.
pub(super) fn reacts(before: &Seen, after: &Seen, of_attention: &[&str]) -> bool {
    let tells = |e: &Emitted| !of_attention.contains(&e.name.to_lowercase().as_str()) && !e.name.to_lowercase().starts_with("key");
    after.events.iter().chain(&after.strays).any(tells) || without_marks(&observable(before)) != without_marks(&observable(after))
}

/// Whether a person can reach a control by the keyboard: it takes the focus in the order of the page.
pub(super) fn is_reached(doc: &Document, node: NodeId) -> bool {
    form::is_focusable(doc, node) && doc.attr(node, "tabindex").is_none_or(|t| !t.trim().starts_with('-'))
}

//! `list/…`: what must be true of the rows that an array makes.

use fidelon_dom::{Document, NodeId, form};
use indexmap::IndexMap;
use serde_json::Value as Json;

use super::acting::{act, is_control};
use super::{Checked, LawContext, LawOutcome, Runs, change, failed, mount};
use crate::finding::Failure;
use crate::judge::equivalence::markup;
use crate::observation::PhaseSnapshot;
use crate::plan::Domain;
use crate::stage::{Combination, Script, StageError, Step};
use crate::value::Value;

/// Reordering an array moves the nodes of its items. Where a row holds what a person can focus or write into, a node that is
/// rewritten into another item's carries its focus and its text over; rows that hold nothing of the kind are not judged.
pub(super) fn identity(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    let Some(plain) = context.combinations.first() else { return Ok(out) };
    for domain in context.domains {
        let Domain::Prop(name, values) = domain else { continue };
        if context.except.contains(name) {
            continue;
        }
        let Some(items) = values.iter().find_map(several) else { continue };
        let start = change(plain, name, Value::Json(items.iter().cloned().collect()));
        let turned: Vec<Json> = items.iter().rev().cloned().collect();
        // What is shown in an order of its own shows nothing of a list turned round: there an item is taken away.
        let without = |i: usize| items[..i].iter().chain(&items[i + 1..]).cloned().collect::<Vec<_>>();
        for (to, what) in [(turned, "change places"), (without(0), "lose one"), (without(1), "lose one")] {
            let pass = vec![Step::Pass { props: IndexMap::from([(name.clone(), Value::Json(Json::Array(to)))]) }];
            let observation = runs.play(&Script { phases: vec![pass], ..mount(&start) })?;
            let ([before, after], false) = (observation.phases.as_slice(), failed(&observation)) else { continue };
            let Some(moved) = groups(before, items.len()).iter().find_map(|rows| moved_rows(before, after, rows)) else { continue };
            let failure = moved.are_rewritten().then(|| Failure {
                message: format!("when the items of `{name}` {what}, its rows stay and are rewritten"),
                expected: Some("the row of an item moves with it".into()),
                actual: Some("each row shows another item, with the focus and the text of the one before".into()),
                ..Failure::default()
            });
            out.push(Checked { combination: start.clone(), failure, events: Vec::new(), about: Some(name.clone()) });
            break;
        }
    }
    Ok(out)
}

/// Controls of a row that are tried.
const MOST_TRIED: usize = 3;

/// What a person typed, ticked or opened in the row of an item goes with it when the items change places, and goes away with it. Judged where
/// what a row shows follows from its item alone and the parent was told of nothing: its list would be another then. Rows that
/// are rewritten are `list/identity`'s.
pub(super) fn kept(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    let Some(plain) = context.combinations.first() else { return Ok(out) };
    for domain in context.domains {
        let Domain::Prop(name, values) = domain else { continue };
        if context.except.contains(name) {
            continue;
        }
        let Some(items) = values.iter().find_map(several) else { continue };
        let start = change(plain, name, Value::Json(items.iter().cloned().collect()));
        let mounted = runs.play(&mount(&start))?;
        let Some(before) = mounted.phases.first().filter(|s| s.settled && !failed(&mounted)).cloned() else { continue };
        let turned: Vec<Json> = items.iter().rev().cloned().collect();
        let tried = [(turned, Move::Turned), (items[1..].to_vec(), Move::FirstTaken)];
        for (to, how) in tried {
            let pass = vec![Step::Pass { props: IndexMap::from([(name.clone(), Value::Json(Json::Array(to)))]) }];
            let checked = kept_by(&start, &before, items.len(), &pass, how, runs)?;
            let Some(failure) = checked else { continue };
            let failure = failure.map(|act| Failure {
                message: format!(
                    "after {act}, when the items of `{name}` {}, another item has what was done with the first",
                    how.in_words()
                ),
                expected: Some("the row of an item keeps what a person did in it".into()),
                actual: Some("what was done stays at its place in the list, in the row of another item".into()),
                ..Failure::default()
            });
            out.push(Checked { combination: start.clone(), failure, events: Vec::new(), about: Some(name.clone()) });
            break;
        }
    }
    Ok(out)
}

/// How the items of a list are moved.
#[derive(Clone, Copy)]
enum Move {
    /// The other way round.
    Turned,
    /// All but the first.
    FirstTaken,
}

impl Move {
    fn in_words(self) -> &'static str {
        match self {
            Self::Turned => "change places",
            Self::FirstTaken => "lose the first one",
        }
    }

    /// Rows, as they should stand after the move.
    fn of<T: Clone>(self, rows: &[T]) -> Vec<T> {
        match self {
            Self::Turned => rows.iter().rev().cloned().collect(),
            Self::FirstTaken => rows[1..].to_vec(),
        }
    }
}

/// Acts in the first row, then moves the items: none where nothing is to be told of it, else the act that broke it, in words.
fn kept_by(
    start: &Combination,
    before: &PhaseSnapshot,
    count: usize,
    pass: &[Step],
    how: Move,
    runs: &mut dyn Runs,
) -> Result<Option<Option<String>>, StageError> {
    let idle = runs.play(&Script { phases: vec![pass.to_vec()], ..mount(start) })?;
    let ([_, idle_after], false) = (idle.phases.as_slice(), failed(&idle)) else { return Ok(None) };
    for rows in groups(before, count) {
        let Some(parent) = before.tree.node(rows[0]).parent.map(|p| before.tree.path_to(p)) else { continue };
        let was: Vec<String> = rows.iter().map(|n| markup(&before.tree, *n)).collect();
        let moved = texts_at(idle_after, &parent);
        if moved != how.of(&was) || numbers_at(before, &parent)[..moved.len()] == numbers_at(idle_after, &parent) {
            continue;
        }
        let controls = before.tree.composed_descendants(rows[0]).chain([rows[0]]).filter(|n| is_control(&before.tree, *n));
        for act in controls.filter_map(|n| act(&before.tree, n)).take(MOST_TRIED).collect::<Vec<_>>() {
            let words = act.first().map(ToString::to_string).unwrap_or_default();
            let observation = runs.play(&Script { phases: vec![act, pass.to_vec()], ..mount(start) })?;
            let ([_, used, after], false) = (observation.phases.as_slice(), failed(&observation)) else { continue };
            let told = !used.events.is_empty() || !used.requests.is_empty() || !after.events.is_empty();
            let shown = texts_at(used, &parent);
            // What is done in one row changes that row alone; anything else is a choice among all of them.
            if told || shown.len() != was.len() || shown[0] == was[0] || shown[1..] != was[1..] {
                continue;
            }
            let now = texts_at(after, &parent);
            if now.len() != moved.len() {
                continue;
            }
            let own = match how {
                Move::Turned => Some(now.len() - 1),
                Move::FirstTaken => None,
            };
            let strays = (0..now.len()).any(|i| Some(i) != own && now[i] != moved[i]);
            return Ok(Some(strays.then_some(words)));
        }
    }
    Ok(None)
}

/// What the rows below an element show, in their order.
fn texts_at(seen: &PhaseSnapshot, parent: &[i32]) -> Vec<String> {
    let Some(parent) = seen.tree.at_path(parent) else { return Vec::new() };
    seen.tree.children(parent).filter(|c| seen.tree.element(*c).is_some()).map(|n| markup(&seen.tree, n)).collect()
}

/// The same rows by the numbers of their nodes.
fn numbers_at(seen: &PhaseSnapshot, parent: &[i32]) -> Vec<NodeId> {
    let Some(parent) = seen.tree.at_path(parent) else { return Vec::new() };
    let rows = seen.tree.children(parent).filter(|c| seen.tree.element(*c).is_some());
    rows.filter_map(|n| seen.numbers.get(n.0 as usize).copied()).collect()
}

fn several(value: &Value) -> Option<&Vec<Json>> {
    let Value::Json(Json::Array(items)) = value else { return None };
    let distinct = items.iter().enumerate().all(|(i, item)| !items[..i].contains(item));
    (items.len() > 1 && distinct).then_some(items)
}

/// Siblings that could be the rows of so many items: as many, of one tag, no two alike, with something to focus in each.
fn groups(seen: &PhaseSnapshot, count: usize) -> Vec<Vec<NodeId>> {
    let doc = &seen.tree;
    let Some(body) = doc.body() else { return Vec::new() };
    let holds = |row: NodeId| doc.composed_descendants(row).chain([row]).any(|n| form::is_focusable(doc, n));
    let rows_of = |parent: NodeId| -> Vec<NodeId> { doc.children(parent).filter(|c| doc.element(*c).is_some()).collect() };
    doc.composed_descendants(body)
        .map(rows_of)
        .filter(|rows| rows.len() == count && rows.iter().all(|r| doc.local_name(*r) == doc.local_name(rows[0]) && holds(*r)))
        .filter(|rows| {
            let texts: Vec<String> = rows.iter().map(|r| markup(doc, *r)).collect();
            texts.iter().enumerate().all(|(i, t)| !texts[..i].contains(t))
        })
        .collect()
}

/// Rows before and after some went elsewhere, by the numbers of their nodes.
struct Moved {
    was: Vec<NodeId>,
    is: Vec<NodeId>,
}

impl Moved {
    /// Whether nodes stay where they were, and show what others showed.
    fn are_rewritten(&self) -> bool {
        self.was.iter().zip(&self.is).all(|(was, is)| was == is)
    }
}

/// The rows before and after. None when what is there now is neither the same rows the other way round, nor all but one that was not the last.
fn moved_rows(before: &PhaseSnapshot, after: &PhaseSnapshot, rows: &[NodeId]) -> Option<Moved> {
    let parent = before.tree.node(rows[0]).parent?;
    let parent = after.tree.at_path(&before.tree.path_to(parent))?;
    let now: Vec<NodeId> = after.tree.children(parent).filter(|c| after.tree.element(*c).is_some()).collect();
    let text = |doc: &Document, list: &[NodeId]| list.iter().map(|n| markup(doc, *n)).collect::<Vec<_>>();
    let (was, is) = (text(&before.tree, rows), text(&after.tree, &now));
    let reversed: Vec<String> = was.iter().rev().cloned().collect();
    let number =
        |seen: &PhaseSnapshot, list: &[NodeId]| list.iter().filter_map(|n| seen.numbers.get(n.0 as usize).copied()).collect::<Vec<_>>();
    let lost = (0..was.len().saturating_sub(1)).any(|i| was[..i].iter().chain(&was[i + 1..]).eq(&is));
    (is == reversed || lost).then(|| Moved { was: number(before, rows), is: number(after, &now) })
}

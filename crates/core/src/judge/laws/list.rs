//! `list/…`: what must be true of the rows that an array makes.

use fidelon_dom::{Document, NodeId, form};
use indexmap::IndexMap;
use serde_json::Value as Json;

use super::{Checked, LawContext, LawOutcome, Runs, change, failed, mount};
use crate::finding::Failure;
use crate::judge::equivalence::markup;
use crate::observation::PhaseSnapshot;
use crate::plan::Domain;
use crate::stage::{Script, Step};
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

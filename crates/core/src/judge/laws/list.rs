//! `list/…`: what must be true of the rows that an array makes.

use fidelon_dom::{Document, NodeId, form};
use indexmap::IndexMap;
use serde_json::Value as Json;

use super::acting::{act, controls, is_control};
use super::{Checked, LawContext, LawOutcome, Runs, change, failed, mount};
use crate::finding::Failure;
use crate::judge::equivalence::markup;
use crate::locator::Locator;
use crate::observation::{Emitted, PhaseSnapshot};
use crate::plan::Domain;
use crate::stage::{Combination, Script, StageError, Step};
use crate::value::Value;

/// Reordering an array moves the nodes of its items. Where a row holds what a person can focus or write into, a node that is
/// rewritten into another item's carries its focus and its text over; rows that hold nothing of the kind are not judged.
pub(super) fn identity(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out: Vec<Checked> = Vec::new();
    for (name, items, start) in starts(context, runs)? {
        // One case about each list says it.
        if out.iter().any(|c| c.about.as_ref() == Some(&name)) {
            continue;
        }
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

/// Combinations in which lists are looked at, beside the plainest.
const MOST_STARTS: usize = 3;

/// Each list with several items, in the plainest combination and in some with more to use: rows of a table have nothing to focus until
/// something makes them so.
fn starts(context: &LawContext<'_>, runs: &mut dyn Runs) -> Result<Vec<(String, Vec<Json>, Combination)>, StageError> {
    let lists: Vec<(&String, &Vec<Json>)> = context
        .domains
        .iter()
        .filter_map(|domain| match domain {
            Domain::Prop(name, values) if !context.except.contains(name) => Some((name, values.iter().find_map(several)?)),
            _ => None,
        })
        .collect();
    if lists.is_empty() {
        return Ok(Vec::new());
    }
    let Some(plain) = context.combinations.first() else { return Ok(Vec::new()) };
    let flags = flags_set(context, plain);
    let others = context.busiest(MOST_STARTS, runs).into_iter().filter(|c| *c != plain).cloned();
    let bases: Vec<Combination> = std::iter::once(plain.clone()).chain(flags).chain(others).collect();
    let listed = |items: &[Json]| Value::Json(items.iter().cloned().collect());
    let with = |base: &Combination, name: &str, items: &[Json]| {
        // Every list is long: a table shows nothing without its columns.
        if base == plain {
            change(plain, name, listed(items))
        } else {
            lists.iter().fold(base.clone(), |out, (name, items)| change(&out, name, listed(items)))
        }
    };
    let ways = |(name, items): &(&String, &Vec<Json>)| {
        let all = bases.iter().map(|base| ((*name).clone(), (*items).clone(), with(base, name, items)));
        // The third of some items may be hidden: two of them make as many rows then.
        let few = (items.len() > 2).then(|| ((*name).clone(), items[..2].to_vec(), change(plain, name, listed(&items[..2]))));
        all.chain(few).collect::<Vec<_>>()
    };
    Ok(lists.iter().flat_map(ways).collect())
}

/// The plainest combination with each of its flags set by itself, for the first few: what makes rows selectable is one of them.
fn flags_set(context: &LawContext<'_>, plain: &Combination) -> Vec<Combination> {
    let flags = context.domains.iter().filter_map(Domain::flag).map(|name| change(plain, name, Value::json(true)));
    flags.take(context.effort.most(MOST_STARTS + 1)).collect()
}

/// Controls of a row that are tried.
const MOST_TRIED: usize = 3;

/// What a person typed, ticked or opened in the row of an item goes with it when the items change places, and goes away with it. Judged where
/// what a row shows follows from its item alone and the parent was told of nothing: its list would be another then. Rows that
/// are rewritten are `list/identity`'s.
pub(super) fn kept(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out: Vec<Checked> = Vec::new();
    for (name, items, start) in starts(context, runs)? {
        if out.iter().any(|c| c.about.as_ref() == Some(&name)) {
            continue;
        }
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
        let stayed = || numbers_at(before, &parent).into_iter().take(moved.len()).eq(numbers_at(idle_after, &parent));
        if moved != how.of(&was) || stayed() {
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

/// What is pressed in the row of an item and told to the parent is told of that item: a payload that is an item of the list, or what an item
/// is known by, is the row's own, and of a list that loses one item that one is lost.
pub(super) fn own(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out: Vec<Checked> = Vec::new();
    for (name, items, start) in starts(context, runs)? {
        if out.iter().any(|c| c.about.as_ref() == Some(&name)) {
            continue;
        }
        let mounted = runs.play(&mount(&start))?;
        let Some(closed) = mounted.phases.first().filter(|s| s.settled && !failed(&mounted)).cloned() else { continue };
        // Rows may come to light when a field has the focus.
        let fields = controls(&closed.tree).into_iter().filter(|n| form::is_editable(&closed.tree, *n)).take(1);
        let leads: Vec<Vec<Step>> = fields.map(|n| vec![Step::Focus { at: Locator::at(&closed.tree, n) }]).collect();
        for lead in std::iter::once(Vec::new()).chain(leads) {
            let opened = runs.play(&Script { phases: vec![lead.clone()], ..mount(&start) })?;
            let Some(before) = opened.phases.last().filter(|s| s.settled && !failed(&opened)).cloned() else { continue };
            let row = Row { list: &name, items: &items, start: &start, lead: &lead };
            let Some(told) = row.told(&before, runs)? else { continue };
            out.push(Checked { combination: start.clone(), failure: told, events: Vec::new(), about: Some(name.clone()) });
            break;
        }
    }
    Ok(out)
}

/// Which row's controls are pressed.
const ROW: usize = 1;

/// A row of a list, and what leads to it.
struct Row<'a> {
    list: &'a str,
    items: &'a [Json],
    start: &'a Combination,
    lead: &'a [Step],
}

impl Row<'_> {
    /// Presses the controls of the row: none where nothing is told of any item.
    fn told(&self, before: &PhaseSnapshot, runs: &mut dyn Runs) -> Result<Option<Option<Failure>>, StageError> {
        for rows in groups(before, self.items.len()) {
            // Rows are those of the items where each shows what its item holds.
            let shows = |(row, item): (&NodeId, &Json)| {
                let text = markup(&before.tree, *row);
                known(item).iter().filter_map(Json::as_str).any(|word| !word.is_empty() && text.contains(word))
            };
            if !rows.iter().zip(self.items).all(shows) {
                continue;
            }
            let within = before.tree.composed_descendants(rows[ROW]).chain([rows[ROW]]).filter(|n| is_control(&before.tree, *n));
            let acts: Vec<Vec<Step>> = within.filter_map(|n| act(&before.tree, n)).take(MOST_TRIED).collect();
            for steps in acts.into_iter().filter(|steps| matches!(steps.first(), Some(Step::Press { .. }))) {
                let words = steps.first().map(ToString::to_string).unwrap_or_default();
                let observation = runs.play(&Script { phases: vec![self.lead.to_vec(), steps], ..mount(self.start) })?;
                let (Some(after), false) = (observation.phases.last(), failed(&observation)) else { continue };
                let Some((index, what)) = after.events.iter().find_map(|event| self.spoken_of(event)) else { continue };
                let items = self.items;
                return Ok(Some((index != ROW).then(|| Failure {
                    message: format!("after {words}, in the row of {}, another item of `{}` is {what}", items[ROW], self.list),
                    expected: Some(items[ROW].to_string()),
                    actual: Some(items[index].to_string()),
                    ..Failure::default()
                })));
            }
        }
        Ok(None)
    }

    /// The item that an event speaks of, and what it says of it: the list itself comes back without it, or it is the payload, whole or by
    /// a text that it alone is known by. Another list, of what is chosen, says nothing of the items that are not in it.
    fn spoken_of(&self, event: &Emitted) -> Option<(usize, &'static str)> {
        let one = |is: &dyn Fn(&Json) -> bool| {
            let all: Vec<usize> = (0..self.items.len()).filter(|i| is(&self.items[*i])).collect();
            if let [one] = all.as_slice() { Some(*one) } else { None }
        };
        event.payload.iter().filter_map(Value::as_json).find_map(|value| match value {
            Json::Array(left) => {
                let is_the_list = event.binding && event.name == self.list && left.len() + 1 == self.items.len();
                is_the_list.then(|| one(&|item| !left.contains(item))).flatten().map(|i| (i, "lost"))
            }
            value => {
                let by_text = || one(&|item| value.is_string() && known(item).contains(value));
                one(&|item| item == value).or_else(by_text).map(|i| (i, "told of"))
            }
        })
    }
}

/// What an item can be known by.
fn known(item: &Json) -> Vec<Json> {
    match item {
        Json::Object(fields) => fields.values().filter(|v| v.is_string() || v.is_number()).cloned().collect(),
        other => vec![other.clone()],
    }
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

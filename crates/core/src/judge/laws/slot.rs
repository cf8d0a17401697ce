//! `slot/…`: what must be true of the content that a parent gives.

use std::rc::Rc;

use fidelon_dom::{Document, NodeId, form, serialize};
use indexmap::IndexMap;
use serde_json::Value as Json;

use super::{Checked, LawContext, LawOutcome, Runs, change, failed, mount};
use crate::finding::Failure;
use crate::judge::equivalence::{difference, observable};
use crate::observation::{Observation, PhaseSnapshot, Tone};
use crate::plan::Domain;
use crate::stage::{Combination, Script, StageError, Step};
use crate::surface::{Slot, Type};
use crate::value::Value;

/// A fault doubles content; what hands values to content that stands in more places goes through a list of its own.
const MOST_DOUBLED: usize = 2;

/// Content that nothing else on the page says.
const ONE: &str = "<span>Saucer</span>";
const TWO: &str = "<span>Saucer</span><span>Beaker</span>";
const OTHER: &str = "<span>Beaker</span>";

fn with(combination: &Combination, slot: &str, html: Option<&str>) -> Combination {
    let mut out = combination.clone();
    out.fills.insert(slot.to_owned(), html.map(str::to_owned));
    out
}

/// Nodes of a slot's content that a person meets, with which of the contents each is, in the order of the page. A copy that is hidden
/// from assistive technology beside one that is not, as the gap in a field's border that takes the place of its label, is none; content
/// that is only there for the eye, as an icon, is met all the same.
fn places(seen: &PhaseSnapshot, slot: &str) -> Vec<(usize, NodeId)> {
    let doc = &seen.tree;
    let Some(body) = doc.body() else { return Vec::new() };
    let given = seen.held("").and_then(|h| h.given.get(slot)).map_or(&[][..], Vec::as_slice);
    let mut out: Vec<(usize, NodeId)> = given.iter().filter(|g| doc.is_flat(g.node)).map(|g| (g.index, g.node)).collect();
    let order: Vec<NodeId> = doc.composed_descendants(body).collect();
    out.sort_by_key(|(_, node)| order.iter().position(|n| n == node));
    out.dedup();
    let for_the_eye =
        |node: NodeId| std::iter::once(node).chain(doc.flat_ancestors(node)).any(|n| doc.attr(n, "aria-hidden") == Some("true"));
    if out.first().is_some_and(|(_, first)| !for_the_eye(*first)) {
        out.retain(|(_, node)| !for_the_eye(*node));
    }
    out
}

/// How often a text stands on the page as a whole.
fn said(seen: &PhaseSnapshot, text: &str) -> usize {
    let Some(body) = seen.tree.body() else { return 0 };
    let shown = |n: &NodeId| form::is_text(&seen.tree, *n) && is_shown(&seen.tree, *n);
    seen.tree.composed_descendants(body).filter(shown).filter(|n| serialize::collapse(&seen.tree.text_content(*n)).contains(text)).count()
}

/// The same of a text that may stand in several nodes, one after the other: two buttons.
fn said_across(seen: &PhaseSnapshot, text: &str) -> usize {
    let Some(body) = seen.tree.body() else { return 0 };
    let bare = |text: &str| text.split_whitespace().collect::<String>();
    let shown = |n: &NodeId| form::is_text(&seen.tree, *n) && is_shown(&seen.tree, *n);
    let all: String = seen.tree.composed_descendants(body).filter(shown).map(|n| bare(&seen.tree.text_content(n))).collect();
    all.matches(&bare(text)).count().max(said(seen, text))
}

/// Whether what holds a node is rendered.
fn is_shown(doc: &Document, node: NodeId) -> bool {
    doc.flat_parent(node).is_some_and(|parent| form::is_rendered(doc, parent))
}

fn warned(seen: &PhaseSnapshot) -> bool {
    seen.notes.iter().any(|n| n.tone == Tone::Warned)
}

fn breaks(message: String, expected: impl Into<String>, actual: impl Into<String>) -> Failure {
    Failure { message, expected: Some(expected.into()), actual: Some(actual.into()), ..Failure::default() }
}

/// What a law says of a slot in a combination: how it broke if it did; none where there is nothing to say.
type Judged = Result<Option<Option<Failure>>, StageError>;

/// Each slot in some combinations, with content of the law's own in it and the other slots as they are there.
fn each<'a>(
    context: &LawContext<'a>,
    runs: &mut dyn Runs,
    mut judge: impl FnMut(&'a Slot, &Combination, &mut dyn Runs) -> Judged,
) -> LawOutcome {
    each_in(context, &context.some(8), runs, &mut judge)
}

/// The same in these combinations.
fn each_in<'a>(
    context: &LawContext<'a>,
    combinations: &[&Combination],
    runs: &mut dyn Runs,
    judge: &mut dyn FnMut(&'a Slot, &Combination, &mut dyn Runs) -> Judged,
) -> LawOutcome {
    let mut out = Vec::new();
    for slot in context.surface.slots.iter().filter(|s| !context.except.contains(&s.name)) {
        for combination in combinations {
            if let Some(failure) = judge(slot, combination, runs)? {
                let combination = (*combination).clone();
                out.push(Checked { combination, failure, events: Vec::new(), about: Some(slot.name.clone()) });
            }
        }
    }
    Ok(out)
}

/// Flags that are tried two at a time around each slot, of those that a component has.
const MOST_FLAGS: usize = 5;

/// The plainest combination with two flags set: what takes three to meet, two flags and a slot, is in few plans.
fn with_two_flags(context: &LawContext<'_>) -> Vec<Combination> {
    let Some(plain) = context.combinations.first() else { return Vec::new() };
    let flags: Vec<&String> = context.domains.iter().filter_map(Domain::flag).take(MOST_FLAGS).collect();
    let pairs = flags.iter().enumerate().flat_map(|(i, a)| flags[i + 1..].iter().map(move |b| (a, b)));
    let set = |of: &Combination, name: &str| change(of, name, Value::json(true));
    pairs.map(|(a, b)| set(&set(plain, a), b)).collect()
}

fn seen(combination: &Combination, runs: &mut dyn Runs) -> Result<Option<Rc<PhaseSnapshot>>, StageError> {
    let observation = runs.play(&mount(combination))?;
    Ok(if failed(&observation) { None } else { observation.phases.into_iter().next() })
}

/// What stands around a place, by tag and class: rows of a list look alike. Where a slot is told which item its content is for, rows may look as
/// their items are.
fn surroundings(doc: &Document, node: NodeId, slot: &Slot) -> Vec<(String, String)> {
    let class = |e: &fidelon_dom::Element| if slot.exposes { String::new() } else { e.attr("class").unwrap_or_default().to_owned() };
    doc.composed_ancestors(node).filter_map(|n| doc.element(n)).map(|e| (e.local.to_string(), class(e))).collect()
}

/// Content appears in its place and nowhere else; as often as the component repeats the slot.
pub(super) fn once(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let repeats = context.surface.open || context.surface.props.iter().any(|p| can_repeat(&p.ty));
    let flagged = if context.is_scene { Vec::new() } else { with_two_flags(context) };
    let some = context.some(8);
    let more = flagged.iter().filter(|c| !some.contains(c));
    let combinations: Vec<&Combination> = some.iter().copied().chain(more).collect();
    each_in(context, &combinations, runs, &mut |slot, combination, runs| {
        let filled = with(combination, &slot.name, Some(ONE));
        let Some(seen) = seen(&filled, runs)? else { return Ok(None) };
        let places = places(&seen, &slot.name);
        let Some((_, first)) = places.first() else { return Ok(None) };
        let alike = places.iter().all(|(_, n)| surroundings(&seen.tree, *n, slot) == surroundings(&seen.tree, *first, slot));
        let many = |n: usize| if n == 1 { "in one place".to_owned() } else { format!("in {n} places") };
        let copies = said(&seen, "Saucer").saturating_sub(said_in(&seen, &places));
        // What is asked for anew with other values, for each day of a month, is one of many; twice it may be doubled.
        let of_many = slot.exposes && places.len() > MOST_DOUBLED;
        let repeated = of_many || places.len() > 1 && alike && repeats && is_repeated(context, &filled, slot, places.len(), runs)?;
        let failure = if places.len() > 1 && !repeated {
            Some(breaks(format!("the content of the slot `{}` stands in two places", slot.name), many(1), many(places.len())))
        } else if copies > 0 && slot_text_is_unique(combination) {
            let where_else = format!(
                "{}, and its text {} more",
                many(places.len()),
                if copies == 1 { "once".into() } else { format!("{copies} times") }
            );
            Some(breaks(format!("the content of the slot `{}` is copied elsewhere", slot.name), many(places.len()), where_else))
        } else {
            None
        };
        Ok(Some(failure))
    })
}

/// A value that is handed over, without what counts up in its ids: another mount has others.
fn without_counts(value: &Value) -> Value {
    fn walk(json: &Json, is_id: bool) -> Json {
        match json {
            Json::String(text) if is_id => Json::from(text.replace(|c: char| c.is_ascii_digit(), "")),
            Json::Array(items) => items.iter().map(|item| walk(item, is_id)).collect(),
            Json::Object(fields) => {
                let names_ids =
                    |name: &str| name == "id" || name == "for" || name == "htmlFor" || name.ends_with("Id") || name.starts_with("aria-");
                fields.iter().map(|(name, field)| (name.clone(), walk(field, names_ids(name)))).collect()
            }
            other => other.clone(),
        }
    }
    value.as_json().map_or_else(|| value.clone(), |json| Value::Json(walk(json, false)))
}

/// Whether a slot stands as often as something says that was passed: with another list, or another number, it stands more or less often.
fn is_repeated(context: &LawContext<'_>, filled: &Combination, slot: &Slot, count: usize, runs: &mut dyn Runs) -> Result<bool, StageError> {
    for domain in context.domains {
        let Domain::Prop(name, values) = domain else { continue };
        if !context.surface.prop(name).is_some_and(|p| can_repeat(&p.ty)) {
            continue;
        }
        for value in values.iter().take(4) {
            let Some(seen) = seen(&change(filled, name, value.clone()), runs)? else { return Ok(true) };
            if places(&seen, &slot.name).len() != count {
                return Ok(true);
            }
        }
    }
    // What nobody passes, a prop of an unknown type, may say it as well.
    let is_passed = |name: &str| context.domains.iter().any(|d| matches!(d, Domain::Prop(of, values) if of == name && values.len() > 1));
    Ok(context.surface.props.iter().any(|p| can_repeat(&p.ty) && !is_passed(&p.name)))
}

/// No other slot of the combination holds the same text.
fn slot_text_is_unique(combination: &Combination) -> bool {
    !combination.fills.values().flatten().any(|html| html.contains("Saucer"))
}

/// The text nodes with the text of the content that stand within its places.
fn said_in(seen: &PhaseSnapshot, places: &[(usize, NodeId)]) -> usize {
    let doc = &seen.tree;
    let Some(body) = doc.body() else { return 0 };
    let hidden = |n: NodeId| doc.flat_ancestors(n).any(|a| doc.attr(a, "aria-hidden") == Some("true"));
    doc.composed_descendants(body)
        .filter(|n| form::is_text(doc, *n) && doc.text_content(*n).contains("Saucer"))
        .filter(|n| hidden(*n) || places.iter().any(|(_, p)| doc.is_composed_ancestor(*p, *n)))
        .count()
}

fn can_repeat(ty: &Type) -> bool {
    match ty {
        Type::Array { .. } | Type::Tuple { .. } | Type::Number | Type::Unresolved { .. } | Type::Object { .. } => true,
        Type::Either { of } => of.iter().any(can_repeat),
        _ => false,
    }
}

/// A slot left empty shows its fallback; filled, it does not.
pub(super) fn fallback(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    each(context, runs, |slot, combination, runs| {
        let Some(text) = slot.fallback.as_ref().filter(|_| !slot.required) else { return Ok(None) };
        let (empty, filled) = (with(combination, &slot.name, None), with(combination, &slot.name, Some(ONE)));
        let (Some(without), Some(given)) = (seen(&empty, runs)?, seen(&filled, runs)?) else { return Ok(None) };
        // Where nobody sees the content, nobody sees what stands there without it.
        if !places(&given, &slot.name).iter().any(|(_, node)| is_shown(&given.tree, *node)) {
            return Ok(None);
        }
        let (before, after) = (said_across(&without, text), said_across(&given, text));
        Ok(Some(if before == 0 {
            let failure = breaks(format!("the slot `{}` is empty, and its fallback is not there", slot.name), text.clone(), "(nothing)");
            Some(failure)
        } else if after >= before || (after > 0 && text.split_whitespace().count() > 2) {
            let failure =
                breaks(format!("the slot `{}` is filled, and its fallback is there too", slot.name), "the content alone", text.clone());
            Some(failure)
        } else {
            None
        }))
    })
}

/// Filling one slot changes nothing of the content of another.
pub(super) fn independent(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let slots = &context.surface.slots;
    let mut out = Vec::new();
    // Where a parent's code decides what stands for what, one content may be meant to take the place of another.
    if slots.len() < 2 || context.surface.framework.record().passes_all_as_props {
        return Ok(out);
    }
    for slot in slots.iter().filter(|s| !context.except.contains(&s.name)) {
        for other in slots.iter().filter(|o| o.name != slot.name && o.inside.as_ref() != Some(&slot.name)) {
            for combination in context.some(2) {
                let alone = with(&with(combination, &other.name, Some(ONE)), &slot.name, None);
                let both = with(&alone, &slot.name, Some(OTHER));
                let (Some(before), Some(after)) = (seen(&alone, runs)?, seen(&both, runs)?) else { continue };
                let (was, is) = (places(&before, &other.name).len(), places(&after, &other.name).len());
                if was == 0 || places(&after, &slot.name).is_empty() || is == 0 && replaces((&before, &other.name), (&after, &slot.name)) {
                    continue;
                }
                let times = |n: usize| if n == 1 { "once".to_owned() } else { format!("{n} times") };
                let failure = (was != is).then(|| {
                    breaks(
                        format!("filling the slot `{}` changes what stands in the slot `{}`", slot.name, other.name),
                        times(was),
                        times(is),
                    )
                });
                out.push(Checked { combination: combination.clone(), failure, events: Vec::new(), about: Some(slot.name.clone()) });
            }
        }
    }
    Ok(out)
}

/// Whether the content of a slot stands where what held that of another one stood: one that is rendered instead is meant to be.
fn replaces((before, other): (&PhaseSnapshot, &str), (after, slot): (&PhaseSnapshot, &str)) -> bool {
    let holders: Vec<NodeId> = places(after, slot).iter().filter_map(|(_, node)| after.tree.flat_parent(*node)).collect();
    let held = places(before, other);
    let stood = held.iter().flat_map(|(_, node)| before.tree.flat_ancestors(*node));
    let same = |was: NodeId| {
        let is = holders.iter().find(|is| after.tree.path_to(**is) == before.tree.path_to(was));
        let beside = |seen: &PhaseSnapshot, node| seen.tree.flat_parent(node).map_or(0, |parent| seen.tree.children(parent).count());
        is.is_some_and(|is| after.tree.local_name(*is) == before.tree.local_name(was) || beside(after, *is) == beside(before, was))
    };
    stood.into_iter().take_while(|n| Some(*n) != before.tree.body()).any(same)
}

/// Several children appear in the order given.
pub(super) fn ordered(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    each(context, runs, |slot, combination, runs| {
        let one = with(combination, &slot.name, Some(OTHER));
        let two = with(combination, &slot.name, Some(TWO));
        let (Some(alone), Some(both)) = (seen(&one, runs)?, seen(&two, runs)?) else { return Ok(None) };
        let order: Vec<usize> = places(&both, &slot.name).into_iter().map(|(index, _)| index).collect();
        if places(&alone, &slot.name).is_empty() || order.is_empty() {
            return Ok(None);
        }
        let words = |order: &[usize]| {
            let names = order.iter().map(|i| if *i == 0 { "Saucer" } else { "Beaker" }).collect::<Vec<_>>();
            names.join(", ")
        };
        // A component that takes one child alone says so.
        if warned(&both) && !warned(&alone) {
            return Ok(None);
        }
        // A named slot of an element may be for one node by custom: its class takes out the one that was there.
        let holds_one = context.surface.framework.record().is_element && slot.name != "default";
        let missing = !holds_one && !order.contains(&1) && said(&both, "Beaker") == 0
            || !holds_one && !order.contains(&0) && said(&both, "Saucer") == 0;
        let turned = order.first() == Some(&1) && order.contains(&0);
        let failure = (missing || turned).then(|| {
            let what = if missing { "are not all there" } else { "come in another order" };
            breaks(format!("two children in the slot `{}` {what}", slot.name), "Saucer, Beaker", words(&order))
        });
        Ok(Some(failure))
    })
}

/// What a slot exposes reaches the content and follows updates.
pub(super) fn exposes(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    let Some(plain) = context.combinations.first() else { return Ok(out) };
    let handed = |seen: &PhaseSnapshot, slot: &str| seen.held("").and_then(|h| h.handed.get(slot)).map(without_counts);
    for slot in context.surface.slots.iter().filter(|s| s.exposes && !context.except.contains(&s.name)) {
        let start = with(plain, &slot.name, Some(ONE));
        for domain in context.domains {
            let Domain::Prop(name, values) = domain else { continue };
            if super::changes::is_initial(name) {
                continue;
            }
            for (from, to) in values.iter().zip(values.iter().skip(1)).take(context.effort.most(2)) {
                let (before, after) = (super::change(&start, name, from.clone()), super::change(&start, name, to.clone()));
                let pass = vec![Step::Pass { props: IndexMap::from([(name.clone(), to.clone())]) }];
                let updated = runs.play(&Script { phases: vec![pass], ..mount(&before) })?;
                let Some(fresh) = seen(&after, runs)? else { continue };
                let (Some(last), false) = (updated.phases.last(), failed(&updated)) else { continue };
                // Where the slot is not shown nothing is handed over.
                if places(&fresh, &slot.name).is_empty() || places(last, &slot.name).is_empty() {
                    continue;
                }
                let (mut expected, mut actual) = (handed(&fresh, &slot.name), handed(last, &slot.name));
                if expected != actual {
                    // It may be on its way: what a value that moves comes to counts.
                    let pass = vec![Step::Pass { props: IndexMap::from([(name.clone(), to.clone())]) }];
                    let ends = |of: &Combination| Script { phases: vec![pass.clone(), super::pause()], ..mount(of) };
                    let (fresh, updated) = (runs.play(&ends(&after))?, runs.play(&ends(&before))?);
                    let last = |o: &Observation| o.phases.last().and_then(|s| handed(s, &slot.name));
                    (expected, actual) = (last(&fresh), last(&updated));
                }
                let words = |v: &Option<Value>| v.as_ref().map_or("nothing".to_owned(), ToString::to_string);
                let failure = if expected.is_none() {
                    Some(breaks(format!("the slot `{}` hands nothing to its content", slot.name), "what it exposes", "nothing"))
                } else {
                    (expected != actual).then(|| {
                        let what = format!("after `{name}` changed the slot `{}` still hands over what it did before", slot.name);
                        breaks(what, words(&expected), words(&actual))
                    })
                };
                out.push(Checked { combination: after, failure, events: Vec::new(), about: Some(slot.name.clone()) });
            }
        }
    }
    Ok(out)
}

/// New content replaces the old in place; emptied, the slot is as if nothing had been there.
pub(super) fn live(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    each(context, runs, |slot, combination, runs| {
        let filled = with(combination, &slot.name, Some(ONE));
        let fill = |html: Option<&str>| vec![Step::Fill { fills: IndexMap::from([(slot.name.clone(), html.map(str::to_owned))]) }];
        let observation: Observation = runs.play(&Script { phases: vec![fill(Some(OTHER)), fill(None)], ..mount(&filled) })?;
        if failed(&observation) {
            return Ok(None);
        }
        let [first, changed, emptied] = observation.phases.as_slice() else { return Ok(None) };
        if places(first, &slot.name).is_empty() {
            return Ok(None);
        }
        for (html, now) in [(Some(OTHER), changed), (None, emptied)] {
            if html.is_none() && slot.required {
                continue;
            }
            let target = with(combination, &slot.name, html);
            // Told once more: what only a first rendering shows is no trace of the old content.
            let fresh = runs.play(&Script { phases: vec![fill(html)], ..mount(&target) })?;
            let Some(expected) = fresh.phases.last().filter(|s| s.settled && !failed(&fresh)).map(|s| observable(s)) else { continue };
            let (expected, actual) = if observable(now) == expected {
                (expected.clone(), expected)
            } else {
                // It may be on its way: what transitions come to counts.
                let ends = |script: Script| Script { phases: script.phases.into_iter().chain([super::pause()]).collect(), ..script };
                let fresh = runs.play(&ends(Script { phases: vec![fill(html)], ..mount(&target) }))?;
                let from = html.map_or_else(|| with(combination, &slot.name, Some(OTHER)), |_| filled.clone());
                let updated = runs.play(&ends(Script { phases: vec![fill(html)], ..mount(&from) }))?;
                (
                    fresh.phases.last().map(|s| observable(s)).unwrap_or_default(),
                    updated.phases.last().map(|s| observable(s)).unwrap_or_default(),
                )
            };
            // What an element puts into a slot of its own accord, where its parent gives nothing, it need not put there again.
            let own = |seen: &PhaseSnapshot| {
                let mut nodes = seen.tree.descendants(Document::ROOT);
                nodes.any(|n| seen.tree.attr(n, "slot") == Some(&slot.name))
            };
            if html.is_none() && context.surface.framework.record().is_element && fresh.phases.last().is_some_and(|s| own(s)) {
                continue;
            }
            // A prop that an element sets by its content is its own: what it was passed counts for no other content.
            let set_back =
                |seen: Option<&PhaseSnapshot>| seen.and_then(|s| s.held("")).map(|held| held.overruled.clone()).unwrap_or_default();
            if set_back(Some(now)) != set_back(fresh.phases.last().map(|s| &**s)) {
                continue;
            }
            if expected != actual {
                let (expected, actual) = difference(&expected, &actual);
                let what = if html.is_some() { "got new content" } else { "was emptied" };
                let message = format!("after the slot `{}` {what} it does not show what a fresh mount shows", slot.name);
                return Ok(Some(Some(breaks(message, expected, actual))));
            }
        }
        Ok(Some(None))
    })
}

//! What is shown: texts and values that follow props, classes that states wear, what is there and what is not.

use fidelon_dom::{Document, NodeId, form, role, serialize};
use serde_json::Value as Json;

use super::condition::{exactly, explaining, truth};
use super::places::{At, places};
use super::relation::{Piece, Term, expression, filled, template, terms, written};
use super::write::{scalar, text_scalar};
use super::{Clause, Mounts};
use crate::observation::PhaseSnapshot;

pub(super) fn clauses(mounts: &Mounts<'_>) -> Vec<Clause> {
    let terms = terms(mounts.surface, mounts.domains, mounts.combinations);
    let places = places(mounts);
    let mut out = Vec::new();
    for at in &places {
        out.extend(texts(mounts, at, &places, &terms));
    }
    for at in &places {
        out.extend(value(mounts, at, &terms));
        out.extend(ticked(mounts, at, &terms));
        out.extend(enabled(mounts, at));
        out.extend(present(mounts, at));
        out.extend(classes(mounts, at, &terms));
    }
    out.extend(fills(mounts));
    out
}

/// A check of one value.
pub(super) fn check(subject: &str, at: &str, is: &str) -> Vec<String> {
    vec![format!("{subject}: {}", scalar(at)), format!("is: {is}")]
}

fn clause(words: String, only: Option<String>, check: Vec<String>) -> Clause {
    Clause { words, only, steps: Vec::new(), checks: vec![check] }
}

/// What is read of a node in each combination.
fn read<T>(mounts: &Mounts<'_>, at: &At, of: impl Fn(&PhaseSnapshot, NodeId) -> T) -> Vec<Option<T>> {
    at.nodes.iter().enumerate().map(|(i, node)| Some(of(mounts.seen(i)?, (*node)?))).collect()
}

/// A text that follows props, or those that stand there under a condition alone.
fn texts(mounts: &Mounts<'_>, at: &At, places: &[At], terms: &[Term]) -> Vec<Clause> {
    let texts = read(mounts, at, |seen, node| serialize::collapse(&seen.tree.flat_text(node)));
    let is_control =
        at.nodes.iter().enumerate().any(|(i, n)| n.is_some_and(|n| mounts.seen(i).is_some_and(|s| has_text_value(&s.tree, n))));
    // What others within it say is told of them.
    let within = places.iter().any(|other| {
        !std::ptr::eq(other, at)
            && (0..mounts.combinations.len()).any(|i| match (at.nodes[i], other.nodes[i], mounts.seen(i)) {
                (Some(outer), Some(inner), Some(seen)) => {
                    outer != inner
                        && seen.tree.composed_ancestors(inner).any(|a| a == outer)
                        && !seen.tree.flat_text(inner).trim().is_empty()
                }
                _ => false,
            })
    });
    if is_control || within {
        return Vec::new();
    }
    let mut constant: Vec<Clause> = Vec::new();
    let mut best: Option<(Vec<Piece>, Option<String>, usize)> = None;
    let mut tried: Vec<Vec<Piece>> = Vec::new();
    for (index, text) in texts.iter().enumerate() {
        let Some(text) = text.as_ref().filter(|t| !t.is_empty() && t.len() < 200) else { continue };
        let pieces = template(text, index, terms);
        if tried.contains(&pieces) || tried.len() > 12 {
            continue;
        }
        let so: Vec<Option<bool>> = texts.iter().enumerate().map(|(i, t)| Some(t.as_ref() == filled(&pieces, i, terms).as_ref())).collect();
        if let Some(condition) = explaining(&mounts.conditions, &so) {
            let count = condition.holds.iter().filter(|h| **h).count();
            let is = check("text", &at.written, &text_scalar(&written(&pieces, terms)));
            if pieces.iter().any(|p| matches!(p, Piece::Term(_))) {
                if best.as_ref().is_none_or(|(.., most)| count > *most) {
                    best = Some((pieces.clone(), condition.text.clone(), count));
                }
            } else if let Some(only) = &condition.text {
                // A constant says something only where it comes and goes.
                let words = format!("says “{}” when {}", written(&pieces, terms), super::write::in_words(only));
                constant.push(clause(words, Some(only.clone()), is));
            }
        }
        tried.push(pieces);
    }
    let Some((pieces, only, _)) = best else {
        constant.truncate(MOST_CONSTANTS);
        return constant;
    };
    let named: Vec<&str> = pieces
        .iter()
        .filter_map(|p| match p {
            Piece::Term(t) => Some(terms[*t].prop.as_str()),
            Piece::Text(_) => None,
        })
        .collect();
    let mut named = named;
    named.dedup();
    vec![clause(format!("shows {}", named.join(" and ")), only, check("text", &at.written, &text_scalar(&written(&pieces, terms))))]
}

/// Texts of one place that come and go: more are a list, not a state.
const MOST_CONSTANTS: usize = 4;

/// Whether a person reads the value of a control where others have text.
fn has_text_value(doc: &Document, node: NodeId) -> bool {
    doc.element(node).is_some_and(|e| form::has_text_value(e) || e.is_html("select"))
}

fn value(mounts: &Mounts<'_>, at: &At, terms: &[Term]) -> Option<Clause> {
    let values = read(mounts, at, |seen, node| has_text_value(&seen.tree, node).then(|| form::value(&seen.tree, node)));
    let values: Vec<Option<String>> = values.into_iter().map(Option::flatten).collect();
    if values.iter().all(Option::is_none) {
        return None;
    }
    let mut best: Option<(&Term, Option<String>, usize)> = None;
    for term in terms {
        let so: Vec<Option<bool>> = values
            .iter()
            .enumerate()
            .map(|(i, v)| Some(v.is_some() && *v == term.values[i].as_ref().and_then(super::relation::shown)))
            .collect();
        if let Some(condition) = explaining(&mounts.conditions, &so) {
            let count = condition.holds.iter().filter(|h| **h).count();
            let follows = so.iter().zip(&term.values).filter(|(so, _)| **so == Some(true)).map(|(_, v)| v).collect::<Vec<_>>();
            let varies = follows.iter().any(|v| v != &follows[0]);
            if varies && best.as_ref().is_none_or(|(.., most)| count > *most) {
                best = Some((term, condition.text.clone(), count));
            }
        }
    }
    let (term, only, _) = best?;
    let piece = [Piece::Term(terms.iter().position(|t| t.prop == term.prop)?)];
    Some(clause(format!("holds {} in its field", term.prop), only, check("value", &at.written, &text_scalar(&written(&piece, terms)))))
}

/// What is so of a control as an expression of the props.
fn follows(mounts: &Mounts<'_>, states: &[Option<bool>], terms: &[Term]) -> Option<String> {
    let known: Vec<(usize, Json)> = states.iter().enumerate().filter_map(|(i, s)| Some((i, Json::from((*s)?)))).collect();
    let varies = known.iter().any(|(_, v)| *v != known[0].1);
    if known.len() < mounts.combinations.len() || !varies {
        return None;
    }
    if let Some(Json::String(text)) = expression(&known, terms) {
        return Some(text);
    }
    let so: Vec<bool> = states.iter().map(|s| *s == Some(true)).collect();
    exactly(&mounts.conditions, &so).and_then(|c| c.text.as_ref()).map(|text| truth(text))
}

fn ticked(mounts: &Mounts<'_>, at: &At, terms: &[Term]) -> Option<Clause> {
    let states = read(mounts, at, |seen, node| match role::ticked(&seen.tree, node)? {
        role::Checkedness::Yes => Some(true),
        role::Checkedness::No => Some(false),
        role::Checkedness::Mixed => None,
    });
    let states: Vec<Option<bool>> = states.into_iter().map(Option::flatten).collect();
    let is = follows(mounts, &states, terms)?;
    Some(clause(format!("is ticked by {}", super::write::subject(&is)), None, check("ticked", &at.written, &text_scalar(&is))))
}

fn enabled(mounts: &Mounts<'_>, at: &At) -> Option<Clause> {
    let states = read(mounts, at, |seen, node| {
        super::acted::is_control(&seen.tree, node)
            .then(|| !form::is_disabled(&seen.tree, node) && seen.tree.attr(node, "aria-disabled") != Some("true"))
    });
    let states: Vec<Option<bool>> = states.into_iter().map(Option::flatten).collect();
    let is = follows(mounts, &states, &[])?;
    Some(clause(format!("{} can be used as the props say", at.written), None, check("enabled", &at.written, &text_scalar(&is))))
}

fn present(mounts: &Mounts<'_>, at: &At) -> Option<Clause> {
    let there: Vec<bool> = at.nodes.iter().map(Option::is_some).collect();
    if there.iter().all(|t| *t) {
        // Controls are what a component is used by.
        let is_control = at
            .nodes
            .iter()
            .enumerate()
            .all(|(i, n)| n.is_some_and(|n| mounts.seen(i).is_some_and(|s| super::acted::is_control(&s.tree, n))));
        let named = at.written.contains('"');
        return (is_control && named)
            .then(|| clause(format!("offers {}", at.written), None, vec![format!("present: {}", scalar(&at.written))]));
    }
    let condition = exactly(&mounts.conditions, &there)?;
    let text = condition.text.as_ref()?;
    let words = format!("has {} only when {}", at.written, super::write::in_words(text));
    Some(clause(words, None, check("present", &at.written, &text_scalar(&truth(text)))))
}

/// Classes that come and go with a condition, and those that name a value.
fn classes(mounts: &Mounts<'_>, at: &At, terms: &[Term]) -> Vec<Clause> {
    let lists = read(mounts, at, |seen, node| {
        seen.tree.element(node).map(|e| e.classes().map(str::to_owned).collect::<Vec<_>>()).unwrap_or_default()
    });
    if lists.iter().any(Option::is_none) {
        return Vec::new();
    }
    let lists: Vec<Vec<String>> = lists.into_iter().flatten().collect();
    let mut all: Vec<&String> = lists.iter().flatten().collect();
    all.sort();
    all.dedup();
    let changing: Vec<&String> = all.into_iter().filter(|c| !lists.iter().all(|l| l.contains(c))).collect();
    let mut out = Vec::new();
    let mut told: Vec<String> = Vec::new();
    for term in terms {
        let named = |class: &str, i: usize| {
            super::relation::shown(term.values[i].as_ref()?)
                .filter(|v| v.len() > 1 && class.contains(v.as_str()))
                .map(|v| class.replacen(&v, "\u{1}", 1))
        };
        let patterns: Vec<String> =
            changing.iter().filter_map(|c| lists.iter().enumerate().find(|(_, l)| l.contains(c)).and_then(|(i, _)| named(c, i))).collect();
        for pattern in patterns {
            let worn = |i: usize| term.values[i].as_ref().and_then(super::relation::shown).map(|v| pattern.replacen('\u{1}', &v, 1));
            let always = (0..lists.len()).all(|i| worn(i).is_some_and(|class| lists[i].contains(&class)));
            let written = pattern.replacen('\u{1}', &format!("${{{}}}", term.expression.trim_start_matches('(').trim_end_matches(')')), 1);
            if always && !told.contains(&written) {
                out.push(clause(
                    format!("wears {} as a class", term.prop),
                    None,
                    vec![format!("classes: {}", scalar(&at.written)), format!("has: {}", text_scalar(&written))],
                ));
                told.push(written);
                told.extend((0..lists.len()).filter_map(worn));
            }
        }
    }
    for class in changing.into_iter().filter(|c| !told.contains(c)) {
        let so: Vec<bool> = lists.iter().map(|l| l.contains(class)).collect();
        let not: Vec<bool> = so.iter().map(|s| !s).collect();
        let (Some(when), Some(otherwise)) = (exactly(&mounts.conditions, &so), exactly(&mounts.conditions, &not)) else { continue };
        let worn = |key: &str| vec![format!("classes: {}", scalar(&at.written)), format!("{key}: {}", text_scalar(class))];
        out.push(clause(
            format!("wears {class} when {}", super::write::in_words(when.text.as_deref().unwrap_or_default())),
            when.text.clone(),
            worn("has"),
        ));
        out.push(clause(format!("wears no {class} otherwise"), otherwise.text.clone(), worn("lacks")));
    }
    out
}

/// Slot content that stands on the page wherever it is given.
fn fills(mounts: &Mounts<'_>) -> Vec<Clause> {
    let mut out = Vec::new();
    for slot in mounts.surface.slots.iter().filter(|s| super::condition::is_word(&s.name)) {
        let filled = |i: usize| mounts.combinations[i].fills.get(&slot.name).is_some_and(Option::is_some);
        let stands =
            |i: usize| mounts.seen(i).and_then(|s| s.held.get("")).and_then(|h| h.given.get(&slot.name)).is_some_and(|g| !g.is_empty());
        let so: Vec<Option<bool>> = (0..mounts.combinations.len()).map(|i| Some(filled(i) && stands(i))).collect();
        if let Some(condition) = explaining(&mounts.conditions, &so) {
            let check = vec![format!("fills: {}", scalar(&slot.name))];
            out.push(clause(
                format!("shows what fills {}", if slot.name == "default" { "it" } else { &slot.name }),
                condition.text.clone(),
                check,
            ));
        }
    }
    out
}

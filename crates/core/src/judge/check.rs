//! One check against what was seen. Every failure carries what was expected and what was there.

use fidelon_dom::{Document, NodeId, accessible_name, form, role, role_of, serialize};
use serde_json::Value as Json;

use crate::contract::checks::{Check, Events, Predicate, Request, Schema, Subject};
use crate::finding::Failure;
use crate::judge::equivalence;
use crate::locator::{Locator, Start, describe};
use crate::observation::{Emitted, Note, ParentView, PhaseSnapshot, Requested, Tone};
use crate::value::Value;

/// Whether a check holds.
///
/// # Errors
/// How it failed.
pub fn holds(check: &Check, before: &PhaseSnapshot, seen: &PhaseSnapshot) -> Result<(), Failure> {
    holds_in(check, before, seen, None)
}

/// Whether a check holds of what is below `root`, or of its part of the page.
fn holds_in(check: &Check, before: &PhaseSnapshot, seen: &PhaseSnapshot, root: Option<NodeId>) -> Result<(), Failure> {
    let Some(root) = root.or_else(|| seen.place(&check.part)) else {
        return Err(failure(format!("the part `{}` is not on the page", check.part), None, None, None));
    };
    let part = check.part.as_str();
    let place = &CheckScope { seen, part, doc: &seen.tree, root };
    let doc = place.doc;
    let p = &check.predicates;
    match &check.subject {
        Subject::Text(at) => one(place, at, p, |n| Value::json(serialize::collapse(&doc.flat_text(n)))),
        Subject::Value(at) => one(place, at, p, |n| Value::json(form::value(doc, n))),
        Subject::Attribute(at, name) => one(place, at, p, |n| doc.attr(n, name).map_or(Value::Absent, Value::json)),
        Subject::Classes(at) => {
            one(place, at, p, |n| Value::json(doc.element(n).map_or_else(Vec::new, |e| e.classes().map(str::to_owned).collect())))
        }
        Subject::Role(at) => one(place, at, p, |n| role_of(doc, n).map_or(Value::Absent, Value::json)),
        Subject::Name(at) => one(place, at, p, |n| Value::json(accessible_name(doc, n))),
        Subject::Enabled(at) => {
            one(place, at, &or_true(p), |n| Value::json(!form::is_disabled(doc, n) && doc.attr(n, "aria-disabled") != Some("true")))
        }
        Subject::Checkedness(at) => one(place, at, &or_true(p), |n| match role::ticked(doc, n) {
            Some(role::Checkedness::Yes) => Value::json(true),
            Some(role::Checkedness::No) => Value::json(false),
            Some(role::Checkedness::Mixed) => Value::json("mixed"),
            None => Value::Absent,
        }),
        Subject::Focused(at) => one(place, at, &or_true(p), |n| Value::json(doc.focused == Some(n))),
        Subject::Count(at) => {
            let found = place.find(at).len();
            all(p, &Value::json(found), &format!("the number of `{}`", at.written), None)
        }
        Subject::Present(at) => {
            let found = !place.find(at).is_empty();
            all(&or_true(p), &Value::json(found), &format!("`{}` being there", at.written), None)
        }
        Subject::Order(at) => {
            let nodes = place.find(at);
            let texts: Vec<Json> = nodes.iter().map(|n| Json::from(serialize::collapse(&doc.flat_text(*n)))).collect();
            all(p, &Value::Json(Json::Array(texts)), &format!("the texts of `{}`", at.written), None)
        }
        Subject::Visible(at) => one(place, at, &or_true(p), |n| Value::json(!form::is_hidden(doc, n))),
        Subject::Style(at, property) => one(place, at, p, |n| {
            if let Some((_, value)) = seen.styles.get(property).and_then(|list| list.iter().find(|(node, _)| *node == n)) {
                return Value::json(value.as_str());
            }
            let declared = fidelon_dom::style::parse(doc.attr(n, "style").unwrap_or_default());
            fidelon_dom::style::get(&declared, property).map_or(Value::Absent, |d| Value::json(d.value))
        }),
        Subject::Markup(at) => markup(place, at, p),
        Subject::Within(at, checks) => {
            let node = place.find_one(at)?;
            let inner = |f: Failure| Failure { message: format!("within `{}`, {}", at.written, f.message), ..f };
            checks.iter().try_for_each(|c| holds_in(c, before, seen, Some(node))).map_err(inner)
        }
        Subject::Requested(request) => requested(request.as_ref(), &seen.requests),
        Subject::Emitted(events) if part.is_empty() => emitted(events, &seen.events),
        Subject::Emitted(events) => emitted(events, &seen.events.iter().filter(|e| e.part == part).cloned().collect::<Vec<_>>()),
        Subject::Fills { slot, within, times } => fills(place, slot, within.as_ref(), *times),
        Subject::Handed(slot) => {
            let value = place.held().and_then(|h| h.handed.get(slot)).cloned().unwrap_or(Value::Absent);
            all(p, &value, &format!("what the slot `{slot}` hands over"), None)
        }
        Subject::Outlasts(at) => outlasts(at, before, place),
        Subject::Bound(prop) => {
            let value = place.held().and_then(|h| h.bound.get(prop)).cloned().unwrap_or(Value::Absent);
            all(p, &value, &format!("what the parent holds of `{prop}`"), None)
        }
        Subject::Exposed(member) => exposed(place, member, p),
        Subject::Warned => noted(seen, Tone::Warned, p),
        Subject::Failed => noted(seen, Tone::Failed, p),
    }
}

fn or_true(predicates: &[Predicate]) -> Vec<Predicate> {
    if predicates.is_empty() { vec![Predicate::Is(Value::json(true))] } else { predicates.to_vec() }
}

fn failure(message: String, expected: Option<String>, actual: Option<String>, node: Option<String>) -> Failure {
    Failure { message, expected, actual, node, ..Failure::default() }
}

/// Where a check looks.
struct CheckScope<'a> {
    seen: &'a PhaseSnapshot,
    part: &'a str,
    doc: &'a Document,
    root: NodeId,
}

impl CheckScope<'_> {
    fn held(&self) -> Option<&ParentView> {
        self.seen.held(self.part)
    }

    /// The nodes that a locator starts from. Without a part it may be any part's.
    fn started(&self, at: &Locator) -> Vec<NodeId> {
        let Some(start) = &at.start else { return Vec::new() };
        let held = self.seen.held.iter().filter(|(name, _)| self.part.is_empty() || *name == self.part).map(|(_, held)| held);
        match start {
            Start::Slot(slot) => held.filter_map(|h| h.given.get(slot)).flatten().map(|g| g.node).collect(),
            Start::Within(outer) => self.started(outer),
            Start::At(_) => Vec::new(),
            Start::Ref(name) => held.filter_map(|h| h.refs.get(name)).copied().collect(),
        }
    }

    fn find(&self, at: &Locator) -> Vec<NodeId> {
        at.find(self.doc, self.root, &self.started(at))
    }

    fn find_one(&self, at: &Locator) -> Result<NodeId, Failure> {
        at.find_one(self.doc, self.root, &self.started(at)).map_err(|m| failure(m, None, None, None))
    }
}

/// Where the content of a slot stands: in one node and nowhere else, and how often.
fn fills(place: &CheckScope<'_>, slot: &str, within: Option<&Locator>, times: Option<usize>) -> Result<(), Failure> {
    let given = place.held().and_then(|h| h.given.get(slot)).map_or(&[][..], Vec::as_slice);
    let what = format!("the content of the slot `{slot}`");
    // The content may be several nodes: each stands as often as the slot is repeated.
    let contents = given.iter().map(|g| g.index).max().map_or(0, |most| most + 1);
    let often = (0..contents).map(|i| given.iter().filter(|g| g.index == i).count()).max().unwrap_or(0);
    let stands = |count: usize| if count == 1 { "once".to_owned() } else { format!("{count} times") };
    match times {
        Some(n) if n != often => {
            return Err(failure(format!("{what} does not stand as often as promised"), Some(stands(n)), Some(stands(often)), None));
        }
        None if often == 0 => {
            return Err(failure(format!("{what} stands nowhere"), Some("on the page".into()), Some("nowhere".into()), None));
        }
        _ => {}
    }
    let Some(at) = within else { return Ok(()) };
    let inside = place.find(at);
    if inside.is_empty() && often > 0 {
        place.find_one(at)?;
    }
    let doc = place.doc;
    let is_in = |node: NodeId| inside.iter().any(|i| doc.is_composed_ancestor(*i, node) || doc.flat_ancestors(node).any(|a| a == *i));
    match given.iter().find(|g| !is_in(g.node)) {
        None => Ok(()),
        Some(astray) => Err(failure(
            format!("{what} stands elsewhere"),
            Some(format!("in `{}` and nowhere else", at.written)),
            Some(format!("in {}", path_of(doc, astray.node))),
            Some(path_of(doc, astray.node)),
        )),
    }
}

/// Whether what was there before the steps is there after them: the same nodes, not others that look like them.
fn outlasts(at: &Locator, before: &PhaseSnapshot, place: &CheckScope<'_>) -> Result<(), Failure> {
    let Some(root) = before.place(place.part) else { return Err(failure("nothing was there before the steps".into(), None, None, None)) };
    let earlier = CheckScope { seen: before, part: place.part, doc: &before.tree, root };
    let number = |seen: &PhaseSnapshot, node: &NodeId| seen.numbers.get(node.0 as usize).copied();
    let was = earlier.find(at);
    if was.is_empty() {
        earlier.find_one(at)?;
    }
    let is: Vec<_> = place.find(at).iter().map(|n| number(place.seen, n)).collect();
    match was.iter().find(|n| !is.contains(&number(before, n))) {
        None => Ok(()),
        Some(lost) => {
            let actual = if is.is_empty() { "nothing" } else { "another node in its place" };
            Err(failure(
                format!("`{}` did not outlast the steps", at.written),
                Some(format!("the same {}", describe(earlier.doc, *lost))),
                Some(actual.into()),
                Some(path_of(earlier.doc, *lost)),
            ))
        }
    }
}

/// The markup of a node's content against HTML, both in the normal form: white space, the order of attributes and ids that
/// were generated do not count.
fn markup(place: &CheckScope<'_>, at: &Locator, predicates: &[Predicate]) -> Result<(), Failure> {
    let normal = |value: &Value| match value {
        Value::Json(Json::String(html)) => {
            let doc = fidelon_dom::parse::document(html);
            Value::json(doc.body().map(|b| equivalence::markup(&doc, b)).unwrap_or_default())
        }
        other => other.clone(),
    };
    let predicates: Vec<Predicate> = predicates
        .iter()
        .map(|p| match p {
            Predicate::Is(v) => Predicate::Is(normal(v)),
            Predicate::Isnt(v) => Predicate::Isnt(normal(v)),
            other => other.clone(),
        })
        .collect();
    one(place, at, &predicates, |n| Value::json(equivalence::markup(place.doc, n))).map_err(|mut failure| {
        let promised = predicates.iter().find_map(|p| match p {
            Predicate::Is(Value::Json(Json::String(text))) => Some(text),
            _ => None,
        });
        if let (Some(promised), Ok(node)) = (promised, place.find_one(at)) {
            let is = equivalence::markup(place.doc, node);
            let (expected, actual) = equivalence::difference(promised, &is);
            failure = Failure { expected: Some(expected), actual: Some(actual), diff: equivalence::diff(promised, &is), ..failure };
        }
        failure
    })
}

fn one(place: &CheckScope<'_>, at: &Locator, predicates: &[Predicate], read: impl Fn(NodeId) -> Value) -> Result<(), Failure> {
    let doc = place.doc;
    let node = place.find_one(at)?;
    all(predicates, &read(node), &format!("`{}`", at.written), Some(path_of(doc, node)))
}

/// A node's way down from the body: `div.dial > output.reading`.
pub fn path_of(doc: &Document, node: NodeId) -> String {
    let mut parts: Vec<String> = std::iter::once(node)
        .chain(doc.composed_ancestors(node))
        .take_while(|n| !doc.is_html(*n, "body"))
        .filter_map(|n| {
            let element = doc.element(n)?;
            let class = element.classes().next().map(|c| format!(".{c}")).unwrap_or_default();
            Some(format!("{}{class}", element.local))
        })
        .collect();
    parts.pop();
    parts.reverse();
    if parts.is_empty() { describe(doc, node) } else { parts.join(" > ") }
}

fn all(predicates: &[Predicate], actual: &Value, what: &str, node: Option<String>) -> Result<(), Failure> {
    for predicate in predicates {
        if !fits(predicate, actual) {
            let (word, expected) = told(predicate);
            return Err(failure(format!("{what} {word}"), Some(expected), Some(actual.to_string()), node));
        }
    }
    Ok(())
}

fn told(predicate: &Predicate) -> (&'static str, String) {
    match predicate {
        Predicate::Is(v) => ("is not as promised", v.to_string()),
        Predicate::Isnt(v) => ("is what it must not be", format!("anything but {v}")),
        Predicate::Has(v) => ("lacks something", format!("something with {v}")),
        Predicate::Lacks(v) => ("has what it must not have", format!("nothing with {v}")),
        Predicate::Matches(r) => ("does not match", format!("/{r}/")),
        Predicate::Above(n) => ("is too low", format!("above {n}")),
        Predicate::Below(n) => ("is too high", format!("below {n}")),
        Predicate::Fits(schema) => ("does not fit", format!("what fits {}", schema.text())),
        Predicate::Kind(kind) => ("is of another kind", kind.clone()),
        Predicate::OneOf(v) => ("is none of those allowed", v.iter().map(ToString::to_string).collect::<Vec<_>>().join(" or ")),
    }
}

fn fits(predicate: &Predicate, actual: &Value) -> bool {
    match predicate {
        Predicate::Is(v) => equal(v, actual),
        Predicate::Isnt(v) => !equal(v, actual),
        Predicate::Has(v) => has(actual, v),
        Predicate::Lacks(v) => !has(actual, v),
        Predicate::Matches(r) => r.is_match(&plain(actual)),
        Predicate::Above(n) => number(actual).is_some_and(|a| a > *n),
        Predicate::Below(n) => number(actual).is_some_and(|a| a < *n),
        Predicate::OneOf(many) => many.iter().any(|v| equal(v, actual)),
        Predicate::Fits(schema) => actual_json(actual).is_some_and(|json| schema.misfit(&json).is_none()),
        Predicate::Kind(kind) => is_of(kind, actual),
    }
}

/// A value as JSON, if it is any: absent is null, as a payload that was left out.
fn actual_json(value: &Value) -> Option<Json> {
    match value {
        Value::Json(json) => Some(json.clone()),
        Value::Absent => Some(Json::Null),
        Value::Js(_) | Value::From(_) | Value::Other(_) => None,
    }
}

fn is_of(kind: &str, value: &Value) -> bool {
    match (kind, value) {
        (_, Value::Absent) => false,
        ("any", _) => true,
        ("function", Value::Other(text)) => text == "function",
        ("number", Value::Json(Json::Number(_))) | ("string", Value::Json(Json::String(_))) | ("boolean", Value::Json(Json::Bool(_))) => {
            true
        }
        ("object", Value::Json(Json::Object(_) | Json::Array(_))) => true,
        ("object", Value::Other(text)) => text != "function",
        _ => false,
    }
}

/// Equality where the page has only text: `600` is what a field with the value `"600"` shows, and a list of classes
/// equals the text that lists them.
fn equal(expected: &Value, actual: &Value) -> bool {
    if expected.same(actual) {
        return true;
    }
    match (expected, actual) {
        (Value::Json(Json::Number(_) | Json::Bool(_)), Value::Json(Json::String(text))) => plain(expected) == *text,
        (Value::Json(Json::String(text)), Value::Json(Json::String(shown))) => serialize::collapse(text) == *shown,
        (Value::Json(Json::String(text)), Value::Json(Json::Array(items))) => {
            text.split_ascii_whitespace().map(Json::from).eq(items.iter().cloned())
        }
        (Value::Json(Json::Null), Value::Absent) => true,
        _ => false,
    }
}

fn has(actual: &Value, wanted: &Value) -> bool {
    match actual {
        Value::Json(Json::Array(items)) => match wanted {
            Value::Json(Json::String(words)) if items.iter().all(Json::is_string) => {
                items.iter().any(|i| i == words) || words.split_ascii_whitespace().all(|w| items.iter().any(|i| i == w))
            }
            _ => items.iter().any(|i| Value::Json(i.clone()).same(wanted)),
        },
        Value::Json(Json::Object(map)) => match wanted {
            Value::Json(Json::Object(part)) => part.iter().all(|(k, v)| map.get(k).is_some_and(|w| crate::value::same_json(v, w))),
            other => map.contains_key(&plain(other)),
        },
        Value::Json(Json::String(text)) => text.contains(&plain(wanted)),
        _ => false,
    }
}

fn plain(value: &Value) -> String {
    match value {
        Value::Json(Json::String(s)) => s.clone(),
        Value::Json(Json::Number(n)) => match n.as_f64() {
            Some(f) if f.fract() == 0.0 && f.abs() < 1e15 => format!("{f:.0}"),
            _ => n.to_string(),
        },
        other => other.to_string(),
    }
}

fn number(value: &Value) -> Option<f64> {
    match value {
        Value::Json(Json::Number(n)) => n.as_f64(),
        Value::Json(Json::String(s)) => s.trim().parse().ok(),
        _ => None,
    }
}

/// Events in words: `fire { target: 610 }`, `target ← 610`.
pub fn in_words(event: &Emitted) -> String {
    match (event.binding, event.payload.is_empty()) {
        (true, _) => format!("{} ← {}", event.name, event.value()),
        (false, true) => event.name.clone(),
        (false, false) => format!("{} {}", event.name, event.value()),
    }
}

fn came(events: &[Emitted]) -> String {
    if events.is_empty() { "nothing".into() } else { events.iter().map(in_words).collect::<Vec<_>>().join(", then ") }
}

fn emitted(expected: &Events, seen: &[Emitted]) -> Result<(), Failure> {
    let fail = |message: String, expected: String, actual: String| Err(failure(message, Some(expected), Some(actual), None));
    match expected {
        Events::Nothing if seen.is_empty() => Ok(()),
        Events::Nothing => fail("something was emitted".into(), "nothing".into(), came(seen)),
        Events::Only(names) => {
            let others: Vec<_> = seen.iter().filter(|e| !names.contains(&e.name)).cloned().collect();
            if others.is_empty() {
                Ok(())
            } else {
                fail("something else was emitted".into(), format!("only {}", names.join(", ")), came(&others))
            }
        }
        Events::Named { name, times, with, last, each, in_turn, fits } => {
            let these: Vec<&Emitted> = seen.iter().filter(|e| !e.binding && e.name == *name).collect();
            let wanted = if with.is_some() { times.or(Some(1)) } else { *times };
            match wanted {
                Some(n) if these.len() != n => {
                    return fail(
                        format!("`{name}` did not come as often as promised"),
                        format!("{n} times"),
                        format!("{} times ({})", these.len(), came(seen)),
                    );
                }
                None if these.is_empty() => return fail(format!("`{name}` was not emitted"), format!("`{name}`"), came(seen)),
                _ => {}
            }
            let payload = |wanted: &Value, event: Option<&&Emitted>| match event {
                Some(e) if equal(wanted, &e.value()) => Ok(()),
                Some(e) => fail(format!("`{name}` carried something else"), wanted.to_string(), e.value().to_string()),
                None => fail(format!("`{name}` was not emitted"), wanted.to_string(), came(seen)),
            };
            if let Some(wanted) = with {
                payload(wanted, these.first())?;
            }
            if let Some(wanted) = last {
                payload(wanted, these.last())?;
            }
            if let Some(wanted) = each {
                these.iter().try_for_each(|e| payload(wanted, Some(e)))?;
            }
            if let Some(schema) = fits {
                for event in &these {
                    let misfit = actual_json(&event.value()).map_or(Some("it is no plain data".into()), |json| schema.misfit(&json));
                    if let Some(why) = misfit {
                        return fail(format!("`{name}` carried what does not fit: {why}"), schema.text(), event.value().to_string());
                    }
                }
            }
            if let Some(list) = in_turn {
                let values: Vec<_> = these.iter().map(|e| e.value()).collect();
                let same = values.len() == list.len() && list.iter().zip(&values).all(|(w, v)| equal(w, v));
                if !same {
                    let words = |v: &[Value]| v.iter().map(ToString::to_string).collect::<Vec<_>>().join(", ");
                    return fail(format!("`{name}` did not carry these in turn"), words(list), words(&values));
                }
            }
            Ok(())
        }
    }
}

fn requested(wanted: Option<&Request>, seen: &[Requested]) -> Result<(), Failure> {
    let words = |r: &Requested| format!("{} {}{}", r.method, r.url, r.body.as_ref().map(|b| format!(" {b}")).unwrap_or_default());
    let all = if seen.is_empty() { "nothing".to_owned() } else { seen.iter().map(words).collect::<Vec<_>>().join(", then ") };
    let fail = |message: String, expected: String, actual: String| Err(failure(message, Some(expected), Some(actual), None));
    let Some(wanted) = wanted else {
        return if seen.is_empty() { Ok(()) } else { fail("something was requested".into(), "nothing".into(), all) };
    };
    let name = format!("{} {}", wanted.method, wanted.path);
    let path = |r: &Requested| like(&wanted.path, &r.url) || like(&wanted.path, r.url.split('?').next().unwrap_or_default());
    let these: Vec<&Requested> = seen.iter().filter(|r| r.method == wanted.method && path(r)).collect();
    match wanted.times {
        Some(n) if these.len() != n => {
            return fail(
                format!("`{name}` was not requested as often as promised"),
                format!("{n} times"),
                format!("{} times ({all})", these.len()),
            );
        }
        None if these.is_empty() => return fail(format!("`{name}` was not requested"), format!("`{name}`"), all),
        _ => {}
    }
    for request in these {
        let text = request.body.clone().unwrap_or_default();
        let body = serde_json::from_str::<Json>(&text).unwrap_or_else(|_| Json::from(text.as_str()));
        if let Some(value) = &wanted.with
            && !equal(value, &Value::Json(body.clone()))
        {
            return fail(format!("`{name}` was sent with something else"), value.to_string(), Value::Json(body).to_string());
        }
        if let Some(why) = wanted.fits.as_ref().and_then(|s| s.misfit(&body)) {
            return fail(
                format!("`{name}` was sent with what does not fit: {why}"),
                wanted.fits.as_ref().map(Schema::text).unwrap_or_default(),
                text,
            );
        }
    }
    Ok(())
}

/// Whether a text is like a pattern in which `*` stands for anything.
fn like(pattern: &str, text: &str) -> bool {
    match pattern.split_once('*') {
        None => pattern == text,
        Some((before, after)) => text.strip_prefix(before).is_some_and(|rest| {
            after.is_empty() || rest.char_indices().map(|(i, _)| i).chain([rest.len()]).any(|i| like(after, &rest[i..]))
        }),
    }
}

fn exposed(place: &CheckScope<'_>, member: &str, predicates: &[Predicate]) -> Result<(), Failure> {
    let what = format!("the exposed member `{member}`");
    let Some(members) = place.held().and_then(|h| h.exposed.as_ref()) else {
        return Err(failure(format!("{what} cannot be reached: the ref holds nothing"), Some(member.into()), Some("nothing".into()), None));
    };
    match members.get(member) {
        Some(value) => all(predicates, value, &what, None),
        None => {
            let there = if members.is_empty() { "nothing".into() } else { members.keys().cloned().collect::<Vec<_>>().join(", ") };
            Err(failure(format!("{what} is not there"), Some(member.into()), Some(there), None))
        }
    }
}

fn noted(seen: &PhaseSnapshot, tone: Tone, predicates: &[Predicate]) -> Result<(), Failure> {
    let notes: Vec<&Note> = seen.notes.iter().filter(|n| n.tone == tone).collect();
    let word = if tone == Tone::Warned { "warned" } else { "failed" };
    let texts = || notes.iter().map(|n| n.text.as_str()).collect::<Vec<_>>().join(" / ");
    if predicates.is_empty() {
        // `warned: nothing`
        return match notes.first() {
            None => Ok(()),
            Some(first) => {
                Err(Failure { place: first.place.clone(), ..failure(format!("it {word}"), Some("nothing".into()), Some(texts()), None) })
            }
        };
    }
    if notes.iter().any(|n| predicates.iter().all(|p| fits(p, &Value::json(n.text.as_str())))) {
        return Ok(());
    }
    let expected = predicates.iter().map(|p| told(p).1).collect::<Vec<_>>().join(" and ");
    Err(failure(
        format!("it {word} not as promised"),
        Some(expected),
        Some(if notes.is_empty() { "nothing".into() } else { texts() }),
        None,
    ))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::contract::{read, yaml};
    use crate::observation::SlotPlacement;

    fn seen(html: &str) -> PhaseSnapshot {
        let event = |name: &str, binding, payload: Json| Emitted {
            name: name.into(),
            binding,
            payload: vec![Value::Json(payload)],
            part: if name == "target" { "dial".into() } else { String::new() },
        };
        let tree = fidelon_dom::parse::document(html);
        let found = |locator: &str| Locator::parse(locator).expect("reads").find(&tree, Document::ROOT, &[]);
        let given = |locator: &str| found(locator).iter().map(|n| SlotPlacement { index: 0, node: *n }).collect::<Vec<_>>();
        let held = ParentView {
            bound: [("target".to_owned(), Value::json(620))].into_iter().collect(),
            exposed: Some(
                [("reset".to_owned(), Value::Other("function".into())), ("reading".to_owned(), Value::json(620))].into_iter().collect(),
            ),
            refs: found("input").iter().map(|n| ("field".to_owned(), *n)).collect(),
            given: [("default".to_owned(), given("li")), ("note".to_owned(), given(".gone b")), ("footer".to_owned(), Vec::new())].into(),
            handed: [("note".to_owned(), Value::Json(serde_json::json!({ "room": 3 })))].into_iter().collect(),
            ..ParentView::default()
        };
        let part = ParentView { bound: [("target".to_owned(), Value::json(7))].into_iter().collect(), ..ParentView::default() };
        PhaseSnapshot {
            numbers: (0..tree.len() as u32).map(NodeId).collect(),
            tree,
            events: vec![
                event("fire", false, serde_json::json!({ "target": 610 })),
                event("target", true, serde_json::json!(610)),
                event("fire", false, serde_json::json!({ "target": 620 })),
            ],
            held: [(String::new(), held), ("dial".to_owned(), part)].into_iter().collect(),
            notes: vec![Note { tone: Tone::Warned, text: "Missing required prop: \"label\"".into(), place: None }],
            settled: true,
            requests: vec![
                Requested { method: "GET".into(), url: "/api/kilns?hot=1".into(), body: None, answered: true },
                Requested { method: "POST".into(), url: "/api/pieces".into(), body: Some("{\"name\":\"Mug\"}".into()), answered: true },
            ],
            ..PhaseSnapshot::default()
        }
    }

    #[test]
    fn checks_hold_and_break() {
        let page = seen(
            "<div class='dial hot'><output class=reading>620  °C</output><input type=number value=620><button disabled>Raise</button><li>a</li><li>b</li></div>\
             <div data-part=dial><i>in the part</i></div><p class=gone style='display:none;margin:1px 2px'><b class=x id=q1>a</b><label for=q1></label></p>",
        );
        for (check, ok) in [
            ("{text: .reading, is: 620 °C}", true),
            ("{visible: .reading}", true),
            ("{visible: .gone}", false),
            ("{visible: .gone, is: false}", true),
            ("{style: .gone, property: display, is: none}", true),
            ("{style: .gone, property: margin, is: 1px 2px}", true),
            ("{style: .gone, property: color, is: absent}", true),
            ("{markup: .gone, is: '<b  class=\"y x\" id=q1>a</b>'}", false),
            ("{markup: .gone, is: '<b id=other class=x>a</b><label for=other></label>'}", true),
            ("{markup: .gone, has: '<b'}", true),
            ("{within: .dial, expect: [{count: output, is: 1}, {count: .gone, is: 0}]}", true),
            ("{within: .gone, expect: [{count: output, is: 1}]}", false),
            ("{requested: GET /api/kilns}", true),
            ("{requested: GET /api/*, times: 1}", true),
            ("{requested: GET /api/kilns?hot=1}", true),
            ("{requested: POST /api/pieces, with: {name: Mug}}", true),
            ("{requested: POST /api/pieces, with: {name: Bowl}}", false),
            ("{requested: POST /api/pieces, fits: {required: [name]}}", true),
            ("{requested: POST /api/pieces, fits: {required: [glaze]}}", false),
            ("{requested: DELETE /api/*}", false),
            ("{requested: nothing}", false),
            ("{exposed: reading, fits: {type: number, minimum: 600}}", true),
            ("{exposed: reading, fits: {type: string}}", false),
            ("{emitted: fire, fits: {type: object, required: [target]}}", true),
            ("{emitted: fire, fits: {type: object, required: [unit]}}", false),
            ("{text: .reading, is: 620}", false),
            ("{text: .reading, has: 620}", true),
            ("{text: .reading, matches: '^6\\d+'}", true),
            ("{value: role(spinbutton), is: 620}", true),
            ("{value: input, above: 600, below: 700}", true),
            ("{value: input, above: 620}", false),
            ("{attribute: input, named: type, is: number}", true),
            ("{attribute: input, named: min, is: absent}", true),
            ("{classes: .dial, is: dial hot}", true),
            ("{classes: .dial, has: hot}", true),
            ("{classes: .dial, lacks: hot}", false),
            ("{count: li, is: 2}", true),
            ("{count: li, above: 2}", false),
            ("{present: li}", true),
            ("{present: em}", false),
            ("{present: em, is: false}", true),
            ("{enabled: button, is: false}", true),
            ("{enabled: input}", true),
            ("{order: li, is: [a, b]}", true),
            ("{order: li, is: [b, a]}", false),
            ("{role: input, is: spinbutton}", true),
            ("{name: button, one_of: [Raise, Lower]}", true),
            ("{text: li, is: a}", false),
            ("{emitted: nothing}", false),
            ("{emitted: fire}", true),
            ("{emitted: fire, times: 2}", true),
            ("{emitted: fire, times: 1}", false),
            ("{emitted: fire, last: {target: 620}}", true),
            ("{emitted: fire, last: {target: 610}}", false),
            ("{emitted: fire, with: {target: 610}}", false),
            ("{emitted: fire, in_turn: [{target: 610}, {target: 620}]}", true),
            ("{emitted: stop}", false),
            ("{emitted: stop, times: 0}", true),
            ("{emitted: {only: [fire, target]}}", true),
            ("{emitted: {only: [fire]}}", false),
            ("{bound: target, is: 620}", true),
            ("{bound: target, is: 610}", false),
            ("{exposed: reset}", true),
            ("{exposed: nudge}", false),
            ("{exposed: reading, is: 620}", true),
            ("{fills: default}", true),
            ("{fills: default, times: 2}", true),
            ("{fills: default, times: 1}", false),
            ("{fills: default, in: .dial}", true),
            ("{fills: default, in: .gone}", false),
            ("{fills: default, in: .nowhere}", false),
            ("{fills: footer}", false),
            ("{fills: footer, times: 0}", true),
            ("{text: slot(note), is: a}", true),
            ("{text: slot(note), is: b}", false),
            ("{count: slot(default) li, is: 2}", true),
            ("{value: ref(field), is: 620}", true),
            ("{present: ref(nothing)}", false),
            ("{handed: note, is: {room: 3}}", true),
            ("{handed: note, has: room}", true),
            ("{handed: note, fits: {required: [count]}}", false),
            ("{outlasts: .dial}", true),
            ("{outlasts: .nowhere}", false),
            ("{text: i, part: dial, is: in the part}", true),
            ("{present: li, part: dial}", false),
            ("{present: i, part: shelf}", false),
            ("{bound: target, part: dial, is: 7}", true),
            ("{emitted: nothing, part: dial}", false),
            ("{emitted: {only: [target]}, part: dial}", true),
            ("{emitted: fire, part: dial}", false),
            ("{warned: nothing}", false),
            ("{warned: true, has: label}", true),
            ("{failed: nothing}", true),
        ] {
            let node = yaml::parse(check).expect("yaml");
            let check_read = crate::contract::checks::read_check(&node).unwrap_or_else(|f| panic!("{check}: {f:?}"));
            let outcome = holds(&check_read, &page, &page);
            assert_eq!(outcome.is_ok(), ok, "{check}: {outcome:?}");
        }
        assert!(read("component: a").is_ok());
    }

    #[test]
    fn a_node_outlasts_steps_when_it_is_the_same_one() {
        let (before, mut after) = (seen("<ul><li>a</li><li>b</li></ul>"), seen("<ul><li>b</li><li>a</li></ul>"));
        let read = |check: &str| crate::contract::checks::read_check(&yaml::parse(check).expect("yaml")).expect("reads");
        let number_of = |seen: &PhaseSnapshot, text: &str| {
            let found = Locator::parse(&format!("text(\"{text}\")")).expect("reads").find_one(&seen.tree, Document::ROOT, &[]);
            found.expect("there").0 as usize
        };
        // Moved: each keeps its number.
        let (a, b) = (number_of(&before, "a"), number_of(&before, "b"));
        let (new_b, new_a) = (number_of(&after, "b"), number_of(&after, "a"));
        after.numbers[new_b] = before.numbers[b];
        after.numbers[new_a] = before.numbers[a];
        assert_eq!(holds(&read("{outlasts: li}"), &before, &after), Ok(()));
        // Made anew.
        after.numbers[new_a] = NodeId(4000);
        let failure = holds(&read("{outlasts: text(\"a\")}"), &before, &after).expect_err("another node");
        assert_eq!(failure.actual.as_deref(), Some("another node in its place"));
    }

    #[test]
    fn failures_say_what_was_there() {
        let page = seen("<p class=reading>20</p>");
        let markup = yaml::parse("{markup: body, is: '<p class=reading>21</p>'}").expect("yaml");
        let failure = holds(&crate::contract::checks::read_check(&markup).expect("reads"), &page, &page).expect_err("differs");
        assert!(failure.diff.iter().any(|l| l.starts_with('-') && l.contains("21")), "{failure:?}");
        assert!(failure.diff.iter().any(|l| l.starts_with('+') && l.contains("20")), "{failure:?}");
        let node = yaml::parse("{text: .reading, is: 21}").expect("yaml");
        let failure = holds(&crate::contract::checks::read_check(&node).expect("reads"), &page, &page).expect_err("differs");
        assert_eq!((failure.expected.as_deref(), failure.actual.as_deref()), (Some("21"), Some("\"20\"")));
        assert_eq!(failure.message, "`.reading` is not as promised");
    }
}

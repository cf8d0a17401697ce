//! `prop/…`: what must be true of the values that a parent passes, at first and anew.

use std::sync::LazyLock;

use fidelon_dom::{Document, NodeId, style};
use regex::Regex;
use serde_json::Value as Json;

use super::acting::broken_at;
use super::changes::{Change, LONG, changes, is_initial, is_late, is_nothing, pass_of, told, without_attribute, words};
use super::{Checked, LawContext, LawOutcome, Runs, change, failed, mount, pause, pressing, render, used};
use crate::finding::Failure;
use crate::fits::{fits, misfit};
use crate::judge::check::in_words;
use crate::judge::equivalence::{difference, observable};
use crate::judge::{missing, warnings};
use crate::naming::kebab;
use crate::observation::{Emitted, Note, Observation, PhaseSnapshot, Tone};
use crate::plan::{Domain, is_time};
use crate::stage::{Combination, Script, StageError, Step};
use crate::surface::{Framework, Type};
use crate::value::Value;

/// `update(a → b) ≡ fresh(b)` for every prop, its values one after the other. Of two-way props `binding/shows` tells.
pub(super) fn live(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let changes = changes(context, runs, |prop, from, to| !prop.two_way && !is_late(prop, from, to))?;
    let judged = changes.into_iter().map(|change| {
        let stale = change.stale(format!("after {} it does not show what a fresh mount shows", change.in_words()));
        let refused = is_refused_by_css(&change, context);
        change.checked(stale.filter(|_| !refused))
    });
    let mut out: Vec<Checked> = judged.collect();
    out.extend(live_within(context, runs)?);
    out.extend(live_in_time(context, runs)?);
    Ok(out)
}

/// A time that is changed counts from then on: what comes of it comes as in a fresh mount.
fn live_in_time(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    let Some(plain) = context.combinations.first() else { return Ok(out) };
    for domain in context.domains {
        let Domain::Prop(name, values) = domain else { continue };
        let is_read = context.surface.prop(name).is_some_and(|p| p.ty == Type::Number && !p.two_way);
        if !is_read || !is_time(name) || is_initial(name) || context.except.contains(name) {
            continue;
        }
        let is_set = |v: &&Value| v.as_json().and_then(Json::as_f64).is_some_and(|n| n > 0.0);
        let (Some(none), Some(some)) = (values.iter().find(|v| **v == Value::json(0)), values.iter().find(is_set)) else { continue };
        for (from, to) in [(none, some), (some, none)] {
            let ended = |start: &Value, runs: &mut dyn Runs| {
                let phases = vec![vec![pass_of(name, to)], vec![LONG]];
                runs.play(&Script { phases, ..mount(&change(plain, name, start.clone())) })
            };
            let (updated, fresh) = (ended(from, runs)?, ended(to, runs)?);
            let (Some(seen), Some(anew)) = (updated.phases.last(), fresh.phases.last()) else { continue };
            if failed(&updated) || failed(&fresh) || !seen.settled || !anew.settled {
                continue;
            }
            let without_focus = |seen: &PhaseSnapshot| observable(seen).replace(" focused=\"\"", "");
            let (mut expected, mut actual) = (without_focus(anew), without_focus(seen));
            if expected == actual {
                let told = |o: &Observation| o.phases.iter().flat_map(|p| &p.events).map(in_words).collect::<Vec<_>>().join(", ");
                (expected, actual) = (told(&fresh), told(&updated));
            }
            let failure = (expected != actual).then(|| {
                let (expected, actual) = difference(&expected, &actual);
                let message = format!("`{name}` changed from {from} to {to}, and after six seconds it is not as a fresh mount is by then");
                Failure { message, expected: Some(expected), actual: Some(actual), ..Failure::default() }
            });
            out.push(Checked { combination: change(plain, name, to.clone()), failure, events: words(&updated), about: Some(name.clone()) });
        }
    }
    Ok(out)
}

/// What a press opened follows a changed prop, too: it shows what the same press opens in a fresh mount.
fn live_within(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    let mut openers: Vec<pressing::Acted> = Vec::new();
    for pressed in pressing::each(context, runs)?.into_iter().filter(|a| !a.opened().is_empty()) {
        if openers.len() < context.effort.most(2) && openers.iter().all(|known| known.at != pressed.at) {
            openers.push(pressed);
        }
    }
    for opener in openers {
        let opened = |seen: &PhaseSnapshot| opener.opened().iter().any(|n| super::acting::is_there(&opener.after.tree, *n, &seen.tree));
        for domain in context.domains {
            let Domain::Prop(name, values) = domain else { continue };
            let Some(prop) = context.surface.prop(name).filter(|p| !p.two_way) else { continue };
            let values: Vec<&Value> = values.iter().filter(|v| !is_nothing(v)).collect();
            let from = opener.combination.props.get(name).unwrap_or(&Value::Absent);
            let Some(to) = values.into_iter().rev().find(|v| *v != from) else { continue };
            if is_initial(name) || context.except.contains(name) || prop.ty == Type::Function {
                continue;
            }
            let press = vec![opener.step.clone()];
            let updated =
                runs.play(&Script { phases: vec![press.clone(), vec![pass_of(name, to)], pause()], ..mount(&opener.combination) })?;
            let to_all = change(&opener.combination, name, to.clone());
            let fresh = runs.play(&Script { phases: vec![vec![pass_of(name, to)], press, pause()], ..mount(&to_all) })?;
            let (Some(seen), Some(anew)) = (updated.phases.last(), fresh.phases.last()) else { continue };
            let broke_off = [&updated, &fresh].iter().any(|o| failed(o) || o.phases.iter().any(|p| !p.faults.is_empty() || !p.settled));
            // Some close when something else is passed, and some cannot be opened then.
            if broke_off || !opened(seen) || !opened(anew) {
                continue;
            }
            let without_focus = |seen: &PhaseSnapshot| observable(seen).replace(" focused=\"\"", "");
            let (expected, actual) = (without_focus(anew), without_focus(seen));
            let failure = (expected != actual).then(|| {
                let (expected, actual) = difference(&expected, &actual);
                Failure {
                    message: format!(
                        "open, after `{name}` changed from {from} to {to}, it does not show what it shows when it is opened then"
                    ),
                    expected: Some(expected),
                    actual: Some(actual),
                    ..broken_at(&opener.before.tree, opener.node)
                }
            });
            out.push(Checked { combination: to_all, failure, events: words(&updated), about: Some(name.clone()) });
        }
    }
    Ok(out)
}

/// Whether CSS refused a value that the plan made up, and kept the valid one that was there.
pub(super) fn is_refused_by_css(change: &Change<'_>, context: &LawContext<'_>) -> bool {
    let is_plain = match change.value() {
        Value::Json(Json::String(_) | Json::Number(_)) => true,
        // The least of no numbers is beyond all of them.
        Value::Json(Json::Array(items)) => items.is_empty(),
        _ => false,
    };
    is_plain && !context.given.iter().any(|given| given == change.prop) && keeps_valid(change)
}

/// Whether all that is stale are inline styles that a fresh mount has not: what CSS refuses of a made-up value leaves the valid one that
/// was there (CSSOM §6.6.1).
fn keeps_valid(change: &Change<'_>) -> bool {
    let declared = |seen: &PhaseSnapshot| {
        let body = seen.tree.body().into_iter().flat_map(|body| seen.tree.composed_descendants(body)).collect::<Vec<_>>();
        let styles = body.iter().filter_map(|n| seen.tree.element(*n)).map(|e| {
            let mut names: Vec<(String, String)> =
                style::parse(e.attr("style").unwrap_or_default()).into_iter().map(|d| (d.name.to_string(), d.value.to_string())).collect();
            names.sort();
            (e.local.to_string(), names)
        });
        styles.collect::<Vec<_>>()
    };
    let (fresh, updated) = (declared(&change.fresh), declared(&change.updated));
    let bare = |text: &str| {
        static STYLE: LazyLock<Regex> = LazyLock::new(|| Regex::new(r#" style="[^"]*""#).expect("the pattern is well-formed"));
        STYLE.replace_all(text, "").into_owned()
    };
    fresh.len() == updated.len()
        && fresh.iter().zip(&updated).all(|((tag, few), (other, many))| tag == other && few.iter().all(|d| many.contains(d)))
        && bare(&observable(&change.fresh)) == bare(&observable(&change.updated))
}

/// Nothing first, the value later: no error in between, and it shows what it would have shown with the value from the start.
pub(super) fn late(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let changes = changes(context, runs, |prop, from, to| !prop.two_way && is_late(prop, from, to))?;
    let judged = changes.into_iter().map(|change| {
        let (prop, value) = (change.prop, change.value());
        let failure = change.thrown(format!("`{prop}` came late, as {value}, and it threw")).or_else(|| {
            change.stale(format!("`{prop}` came late, as {value}, and it does not show what it shows when it is there from the start"))
        });
        change.checked(failure)
    });
    Ok(judged.collect())
}

/// What a change of a prop made it throw, where a fresh mount with the new value throws nothing. Told by `render/succeeds`.
pub(super) fn updates(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let changes = changes(context, runs, |prop, from, to| !is_late(prop, from, to))?;
    let judged = changes.into_iter().filter_map(|change| {
        let failure = change.thrown(format!("it threw when {}", change.in_words()))?;
        // A component that says itself that something must not be changed is not broken by who changes it.
        if failure.actual.as_deref().is_some_and(refuses_change) || missing::explains(context.surface, &failure).is_some() {
            return None;
        }
        let checked = change.checked(Some(failure));
        (!render::is_refused(&checked, context)).then_some(checked)
    });
    Ok(judged.collect())
}

/// Whether a component threw an error of its own that says that something must not change.
fn refuses_change(text: &str) -> bool {
    static REFUSES: LazyLock<Regex> = LazyLock::new(|| {
        Regex::new(r"(?i)^Error: .*\b(?:must not|cannot|can not|can't|may not|should not|shouldn't|not allowed to|not supported to|do not|don't)\b.*\b(?:chang\w*|switch\w*|updat\w*)\b|(?i)^Error: .*\bchang\w* .*\b(?:is|are) not (?:allowed|supported)\b")
            .expect("the pattern is well-formed")
    });
    REFUSES.is_match(text.lines().next().unwrap_or_default())
}

/// What a change of a prop made it warn of, as far as the component alone can be the reason. Told by `render/quiet`.
pub(super) fn warned(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let changes = changes(context, runs, |prop, from, to| !is_late(prop, from, to))?;
    let judged = changes.into_iter().filter_map(|change| {
        let is_own = |n: &Note| {
            let warning = warnings::read(&n.text).filter(|w| n.tone == Tone::Warned && w.is_own());
            warning.is_some_and(|w| !render::is_of_made_up_name(&w, &change.to, context) && !render::is_registered(&w, context))
        };
        let note = change.updated.notes.iter().find(|n| is_own(n))?;
        let warning = warnings::read(&note.text)?.in_words(&context.surface.name);
        let message = format!("it warned when {}: {warning}", change.in_words());
        let failure = Failure { message, expected: Some("nothing".into()), actual: Some(note.text.clone()), ..Failure::default() };
        Some(change.checked(Some(failure)))
    });
    Ok(judged.collect())
}

/// Passing equal props again changes nothing, emits nothing and requests nothing.
pub(super) fn steady(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    for combination in context.some(24) {
        let observation = runs.play(&told(combination))?;
        let [_, before, after] = observation.phases.as_slice() else { continue };
        if !after.settled || failed(&observation) {
            continue;
        }
        let (a, b) = (observable(before), observable(after));
        // A value that the component does not take is corrected each time that it is passed; one that it changes as time goes on is another one
        // by the time that it is passed again.
        if observation.phases.iter().flat_map(|p| &p.events).any(|e| is_reported(e, combination)) {
            continue;
        }
        let events: Vec<String> = before.events.iter().chain(&after.events).map(in_words).collect();
        let requests: Vec<String> = before.requests.iter().chain(&after.requests).map(|r| format!("{} {}", r.method, r.url)).collect();
        let breaks = |what: &str, expected: String, actual: String| Failure {
            message: format!("equal props passed again {what}"),
            expected: Some(expected),
            actual: Some(actual),
            ..Failure::default()
        };
        let failure = if a != b && !moves_on(combination, runs)? {
            let (expected, actual) = difference(&a, &b);
            Some(breaks("change what it shows", expected, actual))
        } else if !events.is_empty() {
            Some(breaks("make it emit", "nothing".into(), events.join(", ")))
        } else if !requests.is_empty() {
            Some(breaks("make it ask again", "no request".into(), requests.join(", ")))
        } else {
            None
        };
        out.push(Checked { combination: combination.clone(), failure, events, about: None });
    }
    Ok(out)
}

/// Whether what a component shows moves on as time passes, an animation say, whatever is passed meanwhile: once it rests nothing that is passed again
/// changes it, or it never rests.
fn moves_on(combination: &Combination, runs: &mut dyn Runs) -> Result<bool, StageError> {
    const FRAME: Step = Step::Elapse { milliseconds: 17 };
    let pass = Step::Pass { props: combination.props.clone() };
    let mut changes = |then: Step| {
        let phases = vec![vec![pass.clone(), LONG], vec![then]];
        let observation = runs.play(&Script { phases, ..mount(combination) })?;
        Ok(observation.phases.last().map(|p| observable(p)) != observation.phases.get(1).map(|p| observable(p)))
    };
    Ok(!changes(pass.clone())? || changes(FRAME)?)
}

/// Whether an event tells the parent that one of the props of a combination is another one now.
pub(super) fn is_reported(event: &Emitted, combination: &Combination) -> bool {
    event.binding && combination.props.get(&event.name).is_some_and(|passed| !passed.same(&event.value()))
}

/// Not passed, a prop shows what its declared default shows. Defaults that are more than a literal are not compared.
pub(super) fn default(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    for prop in &context.surface.props {
        let given = prop.default.as_deref().filter(|_| prop.ty != Type::Function).and_then(literal);
        let Some(value) = given.filter(|_| !context.except.contains(&prop.name)) else { continue };
        for combination in context.some(3) {
            let without = change(combination, &prop.name, Value::Absent);
            let with = change(combination, &prop.name, Value::Js(value.clone()));
            let (absent, passed) = (runs.play(&mount(&without))?, runs.play(&mount(&with))?);
            if failed(&absent) || failed(&passed) {
                continue;
            }
            let (expected, actual) =
                (passed.mount().map(observable).unwrap_or_default(), absent.mount().map(observable).unwrap_or_default());
            // Where all that is passed is spread over an element, what is passed as the default stands there too: `prop/contained` tells of that.
            let spread =
                || without_attribute(&expected, &prop.name.to_lowercase()) == without_attribute(&actual, &prop.name.to_lowercase());
            let failure = (expected != actual && !spread()).then(|| {
                let (expected, actual) = difference(&expected, &actual);
                Failure {
                    message: format!("without `{}` it does not show what its default {value} shows", prop.name),
                    expected: Some(expected),
                    actual: Some(actual),
                    ..Failure::default()
                }
            });
            out.push(Checked { combination: without, failure, events: words(&absent), about: Some(prop.name.clone()) });
        }
    }
    Ok(out)
}

/// The text of a default that says all by itself: literals, lists and objects of them, also as the factory that Vue asks for.
fn literal(text: &str) -> Option<String> {
    let body = text.trim().strip_prefix("()").and_then(|r| r.trim_start().strip_prefix("=>")).map_or(text, str::trim);
    let mut rest = body.trim();
    if rest.is_empty() {
        return None;
    }
    while let Some(first) = rest.chars().next() {
        let taken = match first {
            '"' | '\'' | '`' => {
                let end = rest[1..].find(first)? + 2;
                if rest[..end].contains(['\\', '$']) {
                    return None;
                }
                end
            }
            c if c.is_ascii_digit() => rest.find(|c: char| !(c.is_ascii_alphanumeric() || c == '.' || c == '_')).unwrap_or(rest.len()),
            c if c.is_alphabetic() || c == '_' || c == '$' => {
                let end = rest.find(|c: char| !(c.is_alphanumeric() || c == '_' || c == '$')).unwrap_or(rest.len());
                let is_key = rest[end..].trim_start().starts_with(':');
                if !is_key && !matches!(&rest[..end], "true" | "false" | "null") {
                    return None;
                }
                end
            }
            '[' | ']' | '{' | '}' | '(' | ')' | ',' | ':' | '-' => 1,
            c if c.is_whitespace() => c.len_utf8(),
            _ => return None,
        };
        rest = &rest[taken..];
    }
    Some(body.trim().to_owned())
}

/// What is passed in stays the parent's: the component does not write to it.
pub(super) fn untouched(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    let is_object = |value: &Value| {
        matches!(value, Value::Json(Json::Array(a)) if !a.is_empty()) || matches!(value, Value::Json(Json::Object(o)) if !o.is_empty())
    };
    let with_objects: Vec<&Combination> = context.combinations.iter().filter(|c| c.props.values().any(is_object)).collect();
    let is_shared = |name: &String| {
        let surface = context.surface;
        surface.framework.record().shares_bound && surface.prop(name).is_some_and(|prop| prop.two_way)
    };
    let opened: Vec<_> = pressing::each(context, runs)?.into_iter().filter(|a| !a.lead.is_empty()).collect();
    for combination in super::spread(&with_objects, context.effort.most(8)) {
        let observations = [runs.play(&told(combination))?, used(combination, runs)?];
        let within = opened.iter().filter(|a| a.combination == *combination).map(|a| &a.after);
        let held = observations.iter().flat_map(|o| &o.phases).chain(within).filter_map(|p| p.held(""));
        let touched: Vec<&String> = held.flat_map(|h| &h.touched).filter(|t| !context.except.contains(t) && !is_shared(t)).collect();
        let failure = touched.first().map(|prop| Failure {
            message: format!("it writes to the value that was passed as `{prop}`"),
            expected: combination.props.get(*prop).map(ToString::to_string),
            actual: Some("another value in the same object".into()),
            ..Failure::default()
        });
        let about = touched.first().map(|t| (*t).clone());
        out.push(Checked { combination: (*combination).clone(), failure, events: Vec::new(), about });
    }
    Ok(out)
}

/// A declared prop does not land on an element as an attribute that HTML does not know there.
pub(super) fn contained(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    for combination in context.combinations {
        let observation = runs.play(&mount(combination))?;
        let Some(seen) = observation.mount() else { continue };
        let given: Vec<NodeId> = seen.held.values().flat_map(|h| h.given.values()).flatten().map(|g| g.node).collect();
        let spilled = spilled(&seen.tree, &given, combination, context.surface.framework, context.except);
        let failure = spilled.as_ref().map(|(prop, node, attribute)| Failure {
            message: format!("its prop `{prop}` lands on an element as an attribute that HTML does not know there"),
            expected: Some("no such attribute".into()),
            actual: Some(attribute.clone()),
            ..broken_at(&seen.tree, *node)
        });
        let about = spilled.map(|(prop, ..)| prop);
        out.push(Checked { combination: combination.clone(), failure, events: Vec::new(), about });
    }
    Ok(out)
}

/// Whether a parent passes the name of an element: which one is shown is its own choice.
pub(super) fn is_named_by(combination: &Combination, tag: &str) -> bool {
    combination.props.values().any(|value| matches!(value, Value::Json(Json::String(text)) if text == tag))
}

/// A prop that stands as an unknown attribute on an element; not on one that the parent has `given`, which the component prepares.
fn spilled(
    doc: &Document,
    given: &[NodeId],
    combination: &Combination,
    framework: Framework,
    except: &[String],
) -> Option<(String, NodeId, String)> {
    let body = doc.body()?;
    doc.composed_descendants(body).find_map(|node| {
        let element = doc.element(node)?;
        if element.namespace != fidelon_dom::Namespace::Html || element.local.contains('-') || given.contains(&node) {
            return None;
        }
        // What is no element of HTML is the name of a component that nobody registered: it takes what it takes.
        if !fidelon_dom::attributes::is_element(&element.local) {
            return None;
        }
        // An element that the parent names knows what the parent says that it does.
        if is_named_by(combination, &element.local) {
            return None;
        }
        let shows = |value: &Value| match value {
            Value::Json(Json::String(text)) => text.clone(),
            Value::Json(Json::Object(_)) => "[object Object]".into(),
            Value::Json(Json::Bool(_)) => String::new(),
            other => other.to_string(),
        };
        let passed = combination.props.iter().filter(|(name, value)| **value != Value::Absent && !except.contains(name));
        passed.into_iter().find_map(|(name, value)| {
            let written = [name.to_lowercase(), kebab(name)];
            let attr = element.attrs.iter().find(|a| written.iter().any(|w| **w == *a.name))?;
            let same = attr.value == shows(value) || attr.value == value.to_string() || attr.value == "[object Object]";
            let known = fidelon_dom::attributes::is_known(element, &attr.name) || framework.record().attributes.contains(&&*attr.name);
            (same && !known).then(|| (name.clone(), node, format!("<{} {}=\"{}\">", element.local, attr.name, attr.value)))
        })
    })
}

/// What a contract passes fits the declared types, and what is required is there. Told from the source: nothing is played.
pub(super) fn typed(context: &LawContext<'_>, _: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    let Some(plain) = context.combinations.first() else { return Ok(out) };
    for domain in context.domains {
        let Domain::Prop(name, values) = domain else { continue };
        // What the plan made up is no contract's to answer for.
        let is_given = context.given.contains(name) && !context.except.contains(name);
        let Some(prop) = context.surface.prop(name).filter(|_| is_given) else { continue };
        for value in values {
            let failure = if *value == Value::Absent && prop.required {
                Some((format!("a value: `{name}` is required"), "nothing passed".into()))
            } else {
                (!fits(value, &prop.ty)).then(|| misfit(value, &prop.ty))
            };
            let failure = failure.map(|(expected, actual)| Failure {
                message: format!("the contract passes `{name}` what its type does not allow"),
                expected: Some(expected),
                actual: Some(actual),
                ..Failure::default()
            });
            let combination = change(plain, name, value.clone());
            out.push(Checked { combination, failure, events: Vec::new(), about: Some(name.clone()) });
        }
    }
    Ok(out)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_defaults_that_say_all_are_compared() {
        for (text, wanted) in [
            ("10", Some("10")),
            ("'C'", Some("'C'")),
            ("-0.5", Some("-0.5")),
            ("() => []", Some("[]")),
            ("() => ({ target: 600, unit: 'C' })", Some("({ target: 600, unit: 'C' })")),
            ("true", Some("true")),
            ("UNITS[0]", None),
            ("() => makeId()", None),
            ("undefined", None),
            ("`a ${b}`", None),
            ("", None),
        ] {
            assert_eq!(literal(text).as_deref(), wanted, "{text}");
        }
    }

    #[test]
    fn a_prop_that_lands_on_an_element_is_seen() {
        let spills = |html: &str| {
            let doc = fidelon_dom::parse::document(html);
            let mut combination = Combination::default();
            for (name, value) in [("glaze", Value::json("ash")), ("title", Value::json("Kiln")), ("foodSafe", Value::json(true))] {
                combination.props.insert(name.into(), value);
            }
            spilled(&doc, &[], &combination, Framework::React, &[]).map(|(prop, _, attribute)| format!("{prop}: {attribute}"))
        };
        assert_eq!(spills("<p title=Kiln data-glaze=ash>ash</p>"), None, "HTML knows these");
        assert_eq!(spills("<p glaze=ash></p>").as_deref(), Some("glaze: <p glaze=\"ash\">"));
        assert_eq!(spills("<p foodsafe=true></p>").as_deref(), Some("foodSafe: <p foodsafe=\"true\">"));
        assert_eq!(spills("<glaze-chip glaze=ash></glaze-chip>"), None, "elements of their own have attributes of their own");
        assert_eq!(spills("<p glaze=other></p>"), None);
    }
}

//! `binding/reports`, of whole values: what is typed is in them, what was chosen stays, what has bounds is within them.

use fidelon_dom::{form, role_of};
use serde_json::Value as Json;

use super::acting::{acts, broken_at};
use super::{Checked, LawContext, LawOutcome, Runs, change, failed, mount, pressing};
use crate::finding::Failure;
use crate::judge::check::in_words;
use crate::observation::Emitted;
use crate::plan::Domain;
use crate::stage::Step;
use crate::surface::Type;
use crate::value::Value;

/// What is typed into a field of a form whose whole value is one prop is in the value that is reported: one that is as before tells the
/// parent of an edit that it cannot see.
pub(super) fn what_was_typed(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    for acted in pressing::each(context, runs)?.into_iter().filter(|a| matches!(a.step, Step::Type { .. })) {
        let doc = &acted.before.tree;
        let is_free = doc.element(acted.node).is_some_and(|e| {
            let kind = e.input_type();
            !(e.has_attr("maxlength") || e.has_attr("pattern")) && (!e.is_html("input") || matches!(kind.as_str(), "text" | "search"))
        });
        let reports: Vec<&Emitted> = acted.after.events.iter().filter(|e| e.binding).collect();
        let Some(first) = reports.first().filter(|e| is_free && !context.except.contains(&e.name)) else { continue };
        let Some(was) = acted.before.held("").and_then(|h| h.bound.get(&first.name)).filter(|v| is_whole(v)) else { continue };
        let failure = reports.iter().all(|e| e.name == first.name && e.value().same(was)).then(|| Failure {
            message: format!("what is typed is reported as a change of `{}`, and is not in it", first.name),
            expected: Some("a value with what was typed".into()),
            actual: Some(format!("{}, as before", first.value())),
            ..broken_at(doc, acted.node)
        });
        let events = reports.iter().map(|e| in_words(e)).collect();
        out.push(Checked { combination: acted.combination.clone(), failure, events, about: Some(first.name.clone()) });
    }
    Ok(out)
}

/// A box that is ticked adds to a list: what was in it is still in it.
pub(super) fn with_the_others(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    for acted in pressing::each(context, runs)?.into_iter().filter(pressing::Acted::is_press) {
        let doc = &acted.before.tree;
        let is_off = doc.element(acted.node).is_some_and(|e| !form::is_checked(e) && e.attr("aria-checked") != Some("true"));
        if role_of(doc, acted.node) != Some("checkbox") || !is_off {
            continue;
        }
        let list = |value: &Value| value.as_json().and_then(Json::as_array).cloned();
        let Some(event) = acted.after.events.iter().find(|e| e.binding && !context.except.contains(&e.name)) else { continue };
        let was = acted.before.held("").and_then(|h| h.bound.get(&event.name)).and_then(list).filter(|was| !was.is_empty());
        let (Some(was), Some(is)) = (was, list(&event.value())) else { continue };
        // What is none of the items that were passed may go: nobody can see it.
        let is_item = |value: &Json| {
            acted.combination.props.iter().filter(|(name, _)| **name != event.name).filter_map(|(_, v)| list(v)).flatten().any(|item| {
                match &item {
                    Json::Object(fields) => fields.values().any(|v| v == value),
                    other => other == value,
                }
            })
        };
        let failure = was.iter().find(|item| !is.contains(item) && is_item(item)).map(|lost| Failure {
            message: format!("a box is ticked, and `{}` loses what was in it", event.name),
            expected: Some(format!("a list with {lost}")),
            actual: Some(Json::Array(is.clone()).to_string()),
            ..broken_at(doc, acted.node)
        });
        out.push(Checked {
            combination: acted.combination.clone(),
            failure,
            events: vec![in_words(event)],
            about: Some(event.name.clone()),
        });
    }
    Ok(out)
}

/// Whether a value is made of several.
fn is_whole(value: &Value) -> bool {
    matches!(value, Value::Json(Json::Object(fields)) if !fields.is_empty())
}

/// A number that has a least and a most is reported between them, wherever it stands when a control is used.
pub(super) fn within_bounds(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    let Some(plain) = context.combinations.first() else { return Ok(out) };
    let number = |value: &Value| matches!(value, Value::Json(Json::Number(_)));
    let limits = context.domains.iter().filter_map(|domain| match domain {
        Domain::Prop(name, values) if matches!(name.as_str(), "min" | "max") => Some((name, values.iter().find(|v| number(v))?)),
        _ => None,
    });
    for (limit, most) in limits {
        let Value::Json(Json::Number(edge)) = most else { continue };
        let beyond = |value: &Value| match value {
            Value::Json(Json::Number(n)) if limit == "max" => n.as_f64() > edge.as_f64(),
            Value::Json(Json::Number(n)) => n.as_f64() < edge.as_f64(),
            _ => false,
        };
        let numbers = context.surface.props.iter().filter(|p| p.two_way && p.ty == Type::Number && !context.except.contains(&p.name));
        for prop in numbers {
            let at_edge = change(&change(plain, limit, most.clone()), &prop.name, most.clone());
            let mounted = runs.play(&mount(&at_edge))?;
            let Some(seen) = mounted.mount().filter(|s| s.settled && !failed(&mounted)) else { continue };
            let acts = acts(seen).into_iter().flatten().filter(|s| matches!(s, Step::Press { .. } | Step::Key { .. }));
            for step in acts {
                let Some((after, _)) = pressing::acted(&at_edge, &[], step.clone(), runs)? else { continue };
                let Some(last) = after.events.iter().rfind(|e| e.binding && e.name == prop.name) else { continue };
                let failure = beyond(&last.value()).then(|| Failure {
                    message: format!("`{}` is {most}, as `{limit}` is, and {step} reports {}", prop.name, last.value()),
                    expected: Some(format!("{most} or {}", if limit == "max" { "less" } else { "more" })),
                    actual: Some(last.value().to_string()),
                    ..Failure::default()
                });
                out.push(Checked { combination: at_edge.clone(), failure, events: vec![in_words(last)], about: Some(prop.name.clone()) });
            }
        }
    }
    Ok(out)
}

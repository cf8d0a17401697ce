//! `access/keys`, `access/focus`, `access/states`, `access/modal`: what a person who does not use a mouse, or does not see, needs.

use fidelon_dom::{Document, NodeId, form, role_of, serialize};

use super::acting::{broken_at, controls, in_words};
use super::changes::pass_of;
use super::event::OF_ATTENTION;
use super::pressing::{Acted, acted, each, is_reached, reacts};
use super::prop::is_named_by;
use super::{Checked, LawContext, LawOutcome, Runs, change, failed, mount, pause};
use crate::finding::Failure;
use crate::locator::Locator;
use crate::observation::PhaseSnapshot;
use crate::stage::{Combination, Script, Step};
use crate::value::Value;

fn checked(pressed: &Acted, failure: Option<Failure>) -> Checked {
    // Its name may be what is passed: the role says which it is in every combination.
    let about = Some(role(pressed).to_owned());
    Checked { combination: pressed.combination.clone(), failure, events: Vec::new(), about }
}

fn role(pressed: &Acted) -> &str {
    role_of(&pressed.before.tree, pressed.node).unwrap_or("generic")
}

/// A control is exempted by its role, or by its role and its name.
fn is_exempt(context: &LawContext<'_>, pressed: &Acted) -> bool {
    let words = in_words(&pressed.before.tree, pressed.node);
    context.except.iter().any(|e| *e == words || e == role(pressed))
}

/// What a press works and no element of HTML stands behind works by Enter or Space too (WAI-ARIA 1.2 §5.3.2, ARIA Authoring Practices).
pub(super) fn keys(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    for pressed in each(context, runs)? {
        if !is_made_by_hand(&pressed.before.tree, pressed.node) || is_exempt(context, &pressed) {
            continue;
        }
        // What a parent makes of it is the parent's to make whole.
        if pressed.before.tree.local_name(pressed.node).is_some_and(|tag| is_named_by(&pressed.combination, tag)) {
            continue;
        }
        if !reacts(&pressed.before, &pressed.rested, &OF_ATTENTION) && !reacts(&pressed.before, &pressed.after, &OF_ATTENTION) {
            continue;
        }
        let mut works = false;
        for key in ["Enter", "Space"] {
            let step = Step::Key { key: key.into(), at: Some(pressed.at.clone()) };
            if let Some((after, rested)) = acted(&pressed.combination, &pressed.lead, step, runs)? {
                works |= [after, rested].iter().any(|seen| reacts(&pressed.before, seen, &OF_ATTENTION));
            }
        }
        let failure = (!works).then(|| Failure {
            message: "a press works it, and no key does".into(),
            expected: Some("Enter or Space does what a press does".into()),
            actual: Some("nothing".into()),
            ..broken_at(&pressed.before.tree, pressed.node)
        });
        out.push(checked(&pressed, failure));
    }
    out.extend(arrows(context, runs)?);
    Ok(out)
}

/// The roles whose members are moved between by arrows, by whatever holds them.
const COMPOSITE: [&str; 9] = ["listbox", "menu", "menubar", "tablist", "radiogroup", "tree", "treegrid", "grid", "combobox"];

/// Whether the keys of a control are the component's own work: it is pressed, takes the focus, and no element of HTML does it.
fn is_made_by_hand(doc: &Document, node: NodeId) -> bool {
    let Some(element) = doc.element(node) else { return false };
    let native = ["button", "a", "area", "input", "select", "textarea", "summary", "option", "label", "iframe", "audio", "video"];
    // An element of somebody's own, and what has a shadow tree, may hold one.
    let is_own = element.local.contains('-') || element.shadow.is_some();
    if native.iter().any(|n| element.is_html(n)) || is_own || form::is_editable(doc, node) || !is_reached(doc, node) {
        return false;
    }
    if form::is_disabled(doc, node) || doc.attr(node, "aria-disabled") == Some("true") {
        return false;
    }
    let pressed = matches!(role_of(doc, node), Some("button" | "link" | "checkbox" | "switch"));
    // What holds it may move between its members by arrows and choose by itself; one that is reached alone is worked alone.
    let member = matches!(role_of(doc, node), Some("option" | "menuitem" | "menuitemcheckbox" | "menuitemradio"));
    let holder = doc.flat_ancestors(node).find(|a| role_of(doc, *a).is_some_and(|r| COMPOSITE.contains(&r)));
    let reached = holder.is_none_or(|h| member && !is_reached(doc, h) && doc.attr(h, "aria-activedescendant").is_none());
    let holds = doc.composed_descendants(node).any(|n| n != node && is_reached(doc, n));
    (pressed && holder.is_none() || member && reached) && !holds
}

/// The keys that bring a value up and down (ARIA Authoring Practices: slider, spinbutton).
const UP_AND_DOWN: [(&str, f64); 2] = [("ArrowUp", 1.0), ("ArrowDown", -1.0)];

/// What is moved by arrows moves their way: up is more, down is less.
fn arrows(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    // What a prop turns round goes the other way on purpose.
    let is_turned = |combination: &Combination| {
        let turns = |name: &str| ["invert", "revers"].iter().any(|word| name.to_ascii_lowercase().contains(word));
        combination.props.iter().any(|(name, value)| turns(name) && *value == Value::json(true))
    };
    for combination in context.some(8).into_iter().filter(|combination| !is_turned(combination)) {
        let mounted = runs.play(&mount(combination))?;
        let Some(seen) = mounted.mount().filter(|s| s.settled && !failed(&mounted)) else { continue };
        let doc = &seen.tree;
        let by_hand = |n: &NodeId| {
            matches!(role_of(doc, *n), Some("slider" | "spinbutton")) && !doc.is_html(*n, "input") && !form::is_disabled(doc, *n)
        };
        for node in controls(doc).into_iter().filter(by_hand).take(2) {
            let at = Locator::at(doc, node);
            let words = in_words(doc, node);
            let value = |seen: &PhaseSnapshot| {
                let node = at.find(&seen.tree, Document::ROOT, &[]).into_iter().next()?;
                seen.tree.attr(node, "aria-valuenow")?.trim().parse::<f64>().ok()
            };
            let Some(was) = value(seen) else { continue };
            // What lies beyond its bounds is brought back by any key.
            let edge = |name: &str| doc.attr(node, name).and_then(|v| v.trim().parse::<f64>().ok());
            if edge("aria-valuemax").is_some_and(|most| was > most) || edge("aria-valuemin").is_some_and(|least| was < least) {
                continue;
            }
            // A hue, an angle or an hour goes on from its end at its beginning.
            let is_round = |was: f64, is: f64| {
                edge("aria-valuemin").zip(edge("aria-valuemax")).is_some_and(|(least, most)| (is - was).abs() > (most - least) / 2.0)
            };
            let role = role_of(doc, node).unwrap_or_default();
            if context.except.iter().any(|e| *e == words || e == role) {
                continue;
            }
            let mut failure = None;
            for (key, way) in UP_AND_DOWN {
                let step = Step::Key { key: key.into(), at: Some(at.clone()) };
                let Some((after, _)) = acted(combination, &[], step, runs)? else { continue };
                let Some(is) = value(&after).filter(|is| (is - was) * way < 0.0 && !is_round(was, *is)) else { continue };
                failure = failure.or(Some(Failure {
                    message: format!("`{key}` brings it from {was} to {is}"),
                    expected: Some(format!("{was} or {}", if way > 0.0 { "more" } else { "less" })),
                    actual: Some(is.to_string()),
                    ..broken_at(doc, node)
                }));
            }
            out.push(Checked { combination: combination.clone(), failure, events: Vec::new(), about: Some(role.to_owned()) });
        }
    }
    Ok(out)
}

/// What is used keeps the focus as long as it is there: one that is made anew under a person's hand loses it.
pub(super) fn focus(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    for pressed in each(context, runs)? {
        if !is_reached(&pressed.before.tree, pressed.node) || is_exempt(context, &pressed) {
            continue;
        }
        // What goes away for a while, to make room for what is loading, takes the focus along; so does what gives way to another page.
        if !pressed.after.requests.is_empty() || leads_elsewhere(&pressed.before.tree, pressed.node) {
            continue;
        }
        let (Some(_), Some(now)) = (pressed.control_in(&pressed.rested), pressed.control_in(&pressed.after)) else { continue };
        let is_nowhere = |seen: &PhaseSnapshot| seen.tree.focused.is_none_or(|n| Some(n) == seen.tree.body());
        let doc = &pressed.after.tree;
        let made_anew = !pressed.is_same(&pressed.after, now)
            && is_in_its_place(&pressed, now)
            && !form::is_disabled(doc, now)
            && form::is_rendered(doc, now);
        let lost = made_anew && is_nowhere(&pressed.after) && is_nowhere(&pressed.rested);
        let failure = lost.then(|| Failure {
            message: "it is made anew while it is used, and loses the focus".into(),
            expected: Some("the focus stays on it".into()),
            actual: Some("the focus is on nothing".into()),
            ..broken_at(&pressed.before.tree, pressed.node)
        });
        out.push(checked(&pressed, failure));
    }
    Ok(out)
}

/// Whether a control is a link to another page (HTML §4.6.1): where an application shows that itself, its links are other ones. A link
/// that runs a script, or says that it is something else, leads nowhere.
fn leads_elsewhere(doc: &Document, node: NodeId) -> bool {
    let to = doc.attr(node, "href").filter(|_| doc.is_html(node, "a") && role_of(doc, node) == Some("link"));
    to.is_some_and(|to| !to.is_empty() && !to.starts_with('#') && !to.trim_start().to_ascii_lowercase().starts_with("javascript:"))
}

/// Whether a node that stands where the control stood is meant to be the control: it has its name. Where a row is taken away, the control of
/// the next one moves up, or comes in for it, and is no other form of it: there is one less of them then.
fn is_in_its_place(pressed: &Acted, now: NodeId) -> bool {
    let words = in_words(&pressed.before.tree, pressed.node);
    let count = |doc: &Document| controls(doc).into_iter().filter(|n| in_words(doc, *n) == words).count();
    words == in_words(&pressed.after.tree, now) && count(&pressed.after.tree) >= count(&pressed.before.tree)
}

/// `aria-expanded` follows what a press opens and closes (WAI-ARIA 1.2 §6.6).
pub(super) fn states(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    for pressed in each(context, runs)? {
        if !pressed.is_press() || is_exempt(context, &pressed) {
            continue;
        }
        let Some(was) = expanded(&pressed.before, pressed.node) else { continue };
        let Some(now) = pressed.control_in(&pressed.rested) else { continue };
        let Some(is) = expanded(&pressed.rested, now) else { continue };
        let (before, after) = (around(&pressed.before, pressed.node), around(&pressed.rested, now));
        let (opens, closes) = (contains(&after, &before), contains(&before, &after));
        if opens == closes {
            continue;
        }
        let failure = (is != opens).then(|| Failure {
            message: format!(
                "a press {} what it holds, and `aria-expanded` {} \"{is}\"",
                if opens { "opens" } else { "closes" },
                if was == is { "stays" } else { "becomes" }
            ),
            expected: Some(format!("aria-expanded=\"{opens}\"")),
            actual: Some(format!("aria-expanded=\"{is}\"")),
            ..broken_at(&pressed.before.tree, pressed.node)
        });
        out.push(checked(&pressed, failure));
    }
    out.extend(current(context, runs)?);
    Ok(out)
}

/// Of the members of a set one at most is the current one of its kind (WAI-ARIA 1.2 §6.6, `aria-current`).
fn current(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    for combination in context.some(8) {
        let mounted = runs.play(&mount(combination))?;
        let Some(seen) = mounted.mount().filter(|_| !failed(&mounted)) else { continue };
        let doc = &seen.tree;
        let Some(body) = doc.body() else { continue };
        let marked = |n: &NodeId| doc.attr(*n, "aria-current").filter(|v| !v.is_empty() && *v != "false").map(str::to_owned);
        let all: Vec<NodeId> = doc.composed_descendants(body).filter(|n| marked(n).is_some()).collect();
        let Some(first) = all.first() else { continue };
        let is_set = |n: &NodeId| matches!(role_of(doc, *n), Some("list" | "navigation" | "tablist" | "menu" | "table"));
        let set = |n: NodeId| doc.flat_ancestors(n).find(is_set);
        let alike = all.iter().filter(|n| set(**n).is_some() && set(**n) == set(*first) && marked(n) == marked(first)).count();
        let failure = (alike > 1 && !context.except.iter().any(|e| e == "aria-current")).then(|| Failure {
            message: "of one set several are marked as the current one".into(),
            expected: Some("`aria-current` on one of them".into()),
            actual: Some(format!("on {alike}")),
            ..broken_at(doc, *first)
        });
        out.push(Checked { combination: combination.clone(), failure, events: Vec::new(), about: Some("aria-current".into()) });
    }
    Ok(out)
}

/// A modal dialog that a press or a prop opens takes the focus (ARIA Authoring Practices, "Dialog (Modal)"): what is behind it is not there for
/// who cannot see it. What HTML opens as modal takes it by itself.
pub(super) fn modal(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    for pressed in each(context, runs)?.into_iter().filter(Acted::is_press) {
        let Some(failure) = opened_behind(&pressed.before, &pressed.rested).filter(|_| !is_exempt(context, &pressed)) else { continue };
        out.push(checked(&pressed, failure));
    }
    let Some(plain) = context.combinations.first() else { return Ok(out) };
    for domain in context.domains {
        let Some(name) = domain.flag().filter(|name| !context.except.contains(name)) else { continue };
        let start = change(plain, name, Value::json(false));
        let observation = runs.play(&Script { phases: vec![vec![pass_of(name, &Value::json(true))], pause()], ..mount(&start) })?;
        let ([before, _, rested], false) = (observation.phases.as_slice(), failed(&observation)) else { continue };
        let Some(failure) = opened_behind(before, rested) else { continue };
        out.push(Checked { combination: start, failure, events: Vec::new(), about: Some(name.clone()) });
    }
    Ok(out)
}

/// Whether the focus stays behind a modal dialog that was opened; none where none was.
fn opened_behind(before: &PhaseSnapshot, seen: &PhaseSnapshot) -> Option<Option<Failure>> {
    let dialog = modals(seen).into_iter().next().filter(|_| modals(before).is_empty())?;
    let doc = &seen.tree;
    let focused = doc.focused.filter(|n| Some(*n) != doc.body());
    let is_within = focused.is_some_and(|n| n == dialog || doc.is_composed_ancestor(dialog, n));
    Some((!is_within).then(|| Failure {
        message: "a modal dialog opens, and the focus stays behind it".into(),
        expected: Some("the focus is in the dialog".into()),
        actual: Some(focused.map_or("the focus is on nothing".into(), |n| format!("the focus is on {}", in_words(doc, n)))),
        ..broken_at(doc, dialog)
    }))
}

/// The modal dialogs that are shown, but for those of HTML.
fn modals(seen: &PhaseSnapshot) -> Vec<NodeId> {
    let doc = &seen.tree;
    let Some(body) = doc.body() else { return Vec::new() };
    let is_modal = |n: NodeId| doc.attr(n, "aria-modal") == Some("true") && !doc.is_html(n, "dialog") && form::is_rendered(doc, n);
    doc.composed_descendants(body).filter(|n| is_modal(*n) && !form::is_hidden(doc, *n)).collect()
}

fn expanded(seen: &PhaseSnapshot, node: NodeId) -> Option<bool> {
    seen.tree.attr(node, "aria-expanded")?.parse().ok()
}

/// What is shown beside a control: texts, and controls by their names, in the order of the page.
fn around(seen: &PhaseSnapshot, control: NodeId) -> Vec<String> {
    let doc = &seen.tree;
    let Some(body) = doc.body() else { return Vec::new() };
    let beside = |n: NodeId| n != control && !doc.is_composed_ancestor(control, n);
    let shown = |n: NodeId| doc.flat_parent(n).is_some_and(|p| form::is_rendered(doc, p) && !form::is_hidden(doc, p));
    let texts = doc.composed_descendants(body).filter(|n| form::is_text(doc, *n) && beside(*n) && shown(*n));
    let texts = texts.map(|n| serialize::collapse(&doc.text_content(n))).filter(|t| !t.is_empty());
    texts.chain(controls(doc).into_iter().filter(|n| beside(*n)).map(|n| in_words(doc, n))).collect()
}

/// Whether a list is the other with something taken in.
fn contains(more: &[String], less: &[String]) -> bool {
    let mut rest = more.iter();
    less.iter().all(|l| rest.any(|m| m == l))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn innermost(html: &str) -> (Document, NodeId) {
        let doc = fidelon_dom::parse::document(html);
        let all = controls(&doc);
        let node = all.iter().copied().find(|n| role_of(&doc, *n) == Some("option")).unwrap_or(all[0]);
        (doc, node)
    }

    #[test]
    fn keys_are_the_components_own_work_where_html_does_nothing() {
        for (html, by_hand) in [
            ("<div role=button tabindex=0>Fire</div>", true),
            ("<span role=switch tabindex=0 aria-checked=false>Vent</span>", true),
            ("<button>Fire</button>", false),
            ("<a href=#x role=button>Fire</a>", false),
            ("<div role=button tabindex=-1>x</div>", false),
            ("<div role=button tabindex=0 aria-disabled=true>x</div>", false),
            ("<div role=button tabindex=0><button>x</button></div>", false),
            ("<div role=menu><div role=button tabindex=0>x</div></div>", false),
            ("<div role=tab tabindex=0>x</div>", false),
            ("<ul role=listbox><li role=option tabindex=0>x</ul>", true),
            ("<ul role=listbox tabindex=0><li role=option tabindex=0>x</ul>", false),
            ("<ul role=listbox><li role=option tabindex=-1>x</ul>", false),
            ("<my-button role=button tabindex=0>x</my-button>", false),
        ] {
            let (doc, node) = innermost(html);
            assert_eq!(is_made_by_hand(&doc, node), by_hand, "{html}");
        }
    }

    #[test]
    fn what_was_there_stays_in_its_order_when_something_opens() {
        let list = |words: &str| words.split(' ').map(str::to_owned).collect::<Vec<_>>();
        assert!(contains(&list("a b c"), &list("a c")) && contains(&list("a"), &list("a")));
        assert!(!contains(&list("a c"), &list("a b")) && !contains(&list("c a"), &list("a c")));
    }
}

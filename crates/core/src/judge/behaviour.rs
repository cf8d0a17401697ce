//! What comes of acting on a component, in words that stay the same from run to run: what is accepted beside its output.

use fidelon_dom::{Document, NodeId, form, role_of};
use indexmap::IndexMap;

use super::equivalence::{diff, markup};
use super::laws::acting;
use crate::locator::Locator;
use crate::observation::{Emitted, PhaseSnapshot, Tone};
use crate::stage::Step;

/// Controls that are tried in a combination.
const MOST: usize = 12;

/// How long what an act sets off is waited for.
const REST: Step = Step::Elapse { milliseconds: 1000 };

/// Something that a person does.
#[derive(Debug, Clone, PartialEq)]
pub struct Act {
    /// In words, on one line: `press button "Raise"`.
    pub name: String,
    /// What is acted on.
    pub at: Locator,
    /// What is played.
    pub steps: Vec<Step>,
}

/// What a person can do with what is seen: each control is used as fits its role, and one that is made by hand by the keyboard too.
pub fn acts(seen: &PhaseSnapshot) -> Vec<Act> {
    acts_in(seen, MOST)
}

fn acts_in(seen: &PhaseSnapshot, most: usize) -> Vec<Act> {
    let doc = &seen.tree;
    let mut names: IndexMap<String, usize> = IndexMap::new();
    let mut out = Vec::new();
    let controls = acting::controls(doc).into_iter().filter(|n| !doc.is_html(*n, "option"));
    for node in controls.take(most) {
        let keys = if has_keys_of_its_own(doc, node) { ["Enter", "Space"].as_slice() } else { &[] };
        let by_key = keys.iter().map(|key| vec![Step::Key { key: (*key).into(), at: Some(Locator::at(doc, node)) }]);
        // A field may show what there is to choose from as soon as it has the focus.
        let focus = form::is_editable(doc, node).then(|| vec![Step::Focus { at: Locator::at(doc, node) }]);
        for steps in acting::act(doc, node).into_iter().chain(focus).chain(by_key) {
            let words = steps.iter().map(ToString::to_string).collect::<Vec<_>>().join(", ").replace(['\n', '\r'], " ");
            let count = names.entry(words.clone()).or_insert(0);
            *count += 1;
            let name = if *count == 1 { words } else { format!("{words} ({count})") };
            out.push(Act { name, at: Locator::at(doc, node), steps: steps.into_iter().chain([REST]).collect() });
        }
    }
    // What lies over a page is closed by a key that is pressed anywhere.
    let escape = Step::Key { key: "Escape".into(), at: None };
    if let Some(body) = doc.body() {
        out.push(Act { name: escape.to_string(), at: Locator::at(doc, body), steps: vec![escape, REST] });
    }
    out
}

/// Controls that are used of those that an act brought to light, of how many that are there then.
const MOST_THEN: usize = 4;
const MOST_LOOKED_AT: usize = 60;

/// What a person can do next, once something was done: what came to light is used, what was pressed is pressed again, and so is the next one
/// of its kind.
pub fn next(first: &Act, before: &PhaseSnapshot, after: &PhaseSnapshot) -> Vec<Act> {
    let names =
        |seen: &PhaseSnapshot| acting::controls(&seen.tree).into_iter().map(|n| acting::in_words(&seen.tree, n)).collect::<Vec<_>>();
    let known = names(before);
    let is_new = |act: &&Act| {
        let found = act.at.find(&after.tree, Document::ROOT, &[]).into_iter().next();
        found.is_some_and(|n| !known.contains(&acting::in_words(&after.tree, n)))
    };
    let is_again = |act: &Act| matches!(act.steps.first(), Some(Step::Press { .. })) && act.name == first.name;
    let all = acts_in(after, MOST_LOOKED_AT);
    let new: Vec<&Act> = all.iter().filter(is_new).take(MOST_THEN).collect();
    let again = all.iter().filter(|act| is_again(act) && !new.contains(act));
    let role = |act: &Act| act.at.find(&after.tree, Document::ROOT, &[]).into_iter().next().and_then(|n| role_of(&after.tree, n));
    let kind = first.at.find(&before.tree, Document::ROOT, &[]).into_iter().next().and_then(|n| role_of(&before.tree, n));
    let is_press = |act: &Act| matches!(act.steps.first(), Some(Step::Press { .. }));
    let is_other = |act: &&Act| is_press(first) && is_press(act) && act.name != first.name && role(act) == kind && !new.contains(act);
    let after_it = all.iter().skip_while(|act| act.name != first.name).chain(&all);
    let other = after_it.filter(is_other).take(1);
    let then = |act: &Act| Act {
        name: format!("{}{THEN}{}", first.name, act.name),
        at: act.at.clone(),
        steps: first.steps.iter().chain(&act.steps).cloned().collect(),
    };
    new.iter().copied().chain(again).chain(other).map(then).collect()
}

/// Stands in the name of an act between what is done and what is done next.
pub const THEN: &str = ", then ";

/// Whether a control is pressed, and its keys are the component's own work: a role was given to it, or it is no control of HTML.
fn has_keys_of_its_own(doc: &Document, node: NodeId) -> bool {
    let Some(element) = doc.element(node) else { return false };
    let native = ["button", "a", "input", "select", "textarea", "summary", "option"].iter().any(|n| element.is_html(n));
    let pressed = matches!(role_of(doc, node), Some("button" | "link" | "checkbox" | "radio" | "switch" | "tab" | "menuitem" | "option"));
    pressed && (!native || element.has_attr("role"))
}

/// What is there after the mount: what was emitted, then the normal form of the page.
pub fn rendered(mount: &PhaseSnapshot) -> String {
    let mut lines = said(mount);
    lines.push(super::equivalence::normal(mount).to_string());
    lines.join("\n")
}

/// What came of an act: what was emitted, requested and thrown, where the focus went if it is not on what was acted on, and which
/// lines of the page changed; `nothing` where nothing did.
pub fn outcome(act: &Act, before: &PhaseSnapshot, after: &PhaseSnapshot) -> String {
    let mut lines = said(after);
    lines.extend(after.faults.iter().map(|f| format!("cannot be done: {}", f.message)));
    lines.extend(
        after
            .requests
            .iter()
            .map(|r| format!("requested {} {}{}", r.method, r.url, r.body.iter().map(|b| format!(" {b}")).collect::<String>())),
    );
    lines.extend(focus(act, before, after));
    let page = |seen: &PhaseSnapshot| seen.tree.body().map(|body| markup(&seen.tree, body)).unwrap_or_default();
    let (was, is) = (page(before), page(after));
    lines.extend(diff(&was, &is).iter().filter_map(|line| {
        let (gone, came) = (line.strip_prefix('-'), line.strip_prefix('+'));
        gone.map(|line| format!("was {line}")).or_else(|| came.map(|line| format!("now {line}")))
    }));
    if !after.settled {
        lines.push("does not come to rest".into());
    }
    if lines.is_empty() {
        lines.push("nothing".into());
    }
    lines.join("\n")
}

/// Where the focus went, unless it is where it was or on the control that was used.
fn focus(act: &Act, before: &PhaseSnapshot, after: &PhaseSnapshot) -> Option<String> {
    let on = |seen: &PhaseSnapshot| seen.tree.focused.filter(|n| Some(*n) != seen.tree.body()).map(|n| acting::in_words(&seen.tree, n));
    let control = act.at.find(&after.tree, Document::ROOT, &[]).into_iter().next();
    if control.is_some() && after.tree.focused == control {
        return None;
    }
    let takes_it = act.at.find(&before.tree, Document::ROOT, &[]).into_iter().next().is_some_and(|n| form::is_focusable(&before.tree, n));
    match (on(before), on(after)) {
        (was, Some(now)) if was.as_ref() != Some(&now) => Some(format!("focus goes to {now}")),
        (was, None) if was.is_some() || takes_it => Some("focus is lost".into()),
        _ => None,
    }
}

fn said(seen: &PhaseSnapshot) -> Vec<String> {
    let threw = |text: &str| format!("threw {}", text.lines().next().unwrap_or_default());
    let events = seen.events.iter().chain(&seen.strays).map(told);
    events.chain(seen.notes.iter().filter(|n| n.tone == Tone::Failed).map(|n| threw(&n.text))).collect()
}

/// On one line, in the words of a contract.
fn told(event: &Emitted) -> String {
    let line = match (event.binding, event.payload.is_empty()) {
        (true, _) => format!("bound {} = {}", event.name, event.value()),
        (false, true) => format!("emitted {}", event.name),
        (false, false) => format!("emitted {} {}", event.name, event.value()),
    };
    line.split(['\n', '\r']).map(str::trim).collect::<Vec<_>>().join("⏎")
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::value::Value;

    fn seen(html: &str) -> PhaseSnapshot {
        PhaseSnapshot { tree: fidelon_dom::parse::document(html), settled: true, ..PhaseSnapshot::default() }
    }

    #[test]
    fn each_control_is_acted_on_and_what_is_made_by_hand_by_key_too() {
        let page = seen(
            "<div><button>Fire</button><button>Fire</button><span role=button tabindex=0>Glaze</span><input aria-label=Note>\
             <input type=checkbox role=switch aria-label=Vent></div>",
        );
        let names: Vec<String> = acts(&page).into_iter().map(|a| a.name).collect();
        let expected = [
            "press button \"Fire\"",
            "press button \"Fire\" (2)",
            "press button \"Glaze\"",
            "key Enter at button \"Glaze\"",
            "key Space at button \"Glaze\"",
            "type \"bowl\" into textbox \"Note\", key Enter at textbox \"Note\"",
            "focus textbox \"Note\"",
            "press switch \"Vent\"",
            "key Enter at switch \"Vent\"",
            "key Space at switch \"Vent\"",
            "key Escape",
        ];
        assert_eq!(names, expected);
    }

    #[test]
    fn an_outcome_tells_what_was_emitted_and_what_changed() {
        let before = seen("<div><output>600</output><p>x</p></div>");
        let event = |name: &str, binding| Emitted { name: name.into(), binding, payload: vec![Value::json(610)], part: String::new() };
        let after = PhaseSnapshot {
            events: vec![event("change", false), event("target", true)],
            ..seen("<div><output>610</output><p>x</p></div>")
        };
        let act = Act { name: "x".into(), at: Locator::default(), steps: Vec::new() };
        let told = "emitted change 610\nbound target = 610\nwas   <output>600</output>\nnow   <output>610</output>";
        assert_eq!(outcome(&act, &before, &after), told);
        assert_eq!(outcome(&act, &before, &before), "nothing");
        assert!(rendered(&after).starts_with("emitted change 610\n"), "{}", rendered(&after));
        assert!(outcome(&act, &before, &PhaseSnapshot { settled: false, ..before.clone() }).contains("come to rest"));
    }
}

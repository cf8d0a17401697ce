//! A clause that tells what is right from what is wrong: it plays the case in which the two were seen to differ, and says what was there
//! and is not, or is there and was not.

use fidelon_dom::{Document, Element, form, role};

use super::kept::{hold, shown};
use super::write::{flow, scalar, value};
use crate::framework::Framework;
use crate::judge::check::in_words;
use crate::locator::{Locator, Start};
use crate::observation::{Observation, PhaseSnapshot};
use crate::stage::{Script, Step};
use crate::value::Value;

/// So much is said of what differs.
const MOST_CHECKS: usize = 3;

/// The clause for a script after one of whose phases (0 is the mount) two observations differ, as an item of a list at the left margin. None
/// where a contract has no words for the steps, or for what differs.
pub fn clause(script: &Script, phase: usize, right: &Observation, wrong: &Observation) -> Option<String> {
    let (a, b) = (right.phases.get(phase)?, wrong.phases.get(phase)?);
    let mut steps = Vec::new();
    for (at, phase) in script.phases.iter().take(phase).enumerate() {
        let before = right.phases.get(at)?;
        for step in phase {
            steps.extend(lines(step, &before.tree)?);
        }
    }
    let alone = script.phases.iter().take(phase).filter(|p| !p.is_empty()).count() <= 1;
    let mut checks = differing_checks(a, b);
    // Events are counted from the beginning of what is done.
    if checks.is_empty() && alone {
        checks = event_checks(a, b);
    }
    if checks.is_empty() {
        checks = held_checks(a, b);
    }
    if checks.is_empty() {
        return None;
    }
    checks.truncate(MOST_CHECKS);
    let after = if steps.is_empty() { String::new() } else { format!(" after {}", told(&steps)) };
    let words = format!("{}{after}, with {}", in_plain_words(&checks[0]), script.combination.in_words());
    let mut out = format!("- clause: {}\n", scalar(&words.replace('"', "")));
    out.push_str(&hold(&script.combination));
    if !steps.is_empty() {
        out.push_str("  do:\n");
        for line in &steps {
            out.push_str(&format!("    {line}\n"));
        }
    }
    out.push_str("  expect:\n");
    for check in checks {
        out.push_str(&check);
    }
    Some(out)
}

/// Steps in a few words: `press button Raise`, `type 7 into spinbutton Target`.
fn told(lines: &[String]) -> String {
    let mut out = String::new();
    for line in lines {
        out.push_str(if line.starts_with('-') && !out.is_empty() {
            ", "
        } else if out.is_empty() {
            ""
        } else {
            " "
        });
        out.push_str(&line.trim_start_matches(['-', ' ']).replacen(": ", " ", 1).replace(['"', '\\'], ""));
    }
    out
}

/// The first check in words: `button Raise is there`, `fire is sent`.
fn in_plain_words(check: &str) -> String {
    let mut lines = check.lines().map(|line| {
        let (key, value) = line.trim().trim_start_matches("- ").split_once(": ").unwrap_or_default();
        (key.to_owned(), value.replace(['"', '\\'], ""))
    });
    let (key, of) = lines.next().unwrap_or_default();
    let rest: Vec<(String, String)> = lines.collect();
    let said = |key: &str| rest.iter().find(|(k, _)| k == key).map(|(_, v)| v.as_str());
    let is_so = said("is") != Some("false");
    match key.as_str() {
        "present" => format!("{of} is {}there", if is_so { "" } else { "not " }),
        "enabled" => format!("{of} {} be used", if is_so { "can" } else { "cannot" }),
        "ticked" => format!("{of} is {}ticked", if is_so { "" } else { "not " }),
        "emitted" => match (said("times"), said("with").or(said("last"))) {
            (Some("0"), _) => format!("{of} is not sent"),
            (Some("1") | None, None) => format!("{of} is sent once"),
            (Some(times), _) => format!("{of} is sent {times} times"),
            (None, Some(payload)) => format!("{of} is sent with {payload}"),
        },
        "classes" => format!(
            "{of} {} the class {}",
            if said("has").is_some() { "has" } else { "lacks" },
            said("has").or(said("lacks")).unwrap_or_default()
        ),
        "attribute" => format!("{} of {of} is {}", said("named").unwrap_or_default(), said("is").unwrap_or_default()),
        _ => format!("{of} is {}", said("is").unwrap_or_default()),
    }
}

/// What of the one page is not so on the other.
fn differing_checks(right: &PhaseSnapshot, wrong: &PhaseSnapshot) -> Vec<String> {
    let (is, other) = (shown(&right.tree), shown(&wrong.tree));
    let mut out: Vec<String> = is.iter().filter(|check| !other.contains(check)).cloned().collect();
    let gone = other.iter().filter(|check| !is.contains(check)).filter_map(|check| {
        let locator = check.trim().strip_prefix("- present: ")?;
        let parsed = Locator::parse(&serde_json::from_str::<String>(locator).ok()?).ok()?;
        parsed.find(&right.tree, Document::ROOT, &[]).is_empty().then(|| format!("    - present: {locator}\n      is: false\n"))
    });
    out.extend(gone.collect::<Vec<_>>());
    if out.is_empty() { element_checks(&right.tree, &wrong.tree) } else { out }
}

/// Elements that are looked at one by one.
const MOST_ELEMENTS: usize = 200;

/// What of an element that is on both pages is not the same: whether it can be used or is ticked, its classes, its attributes.
fn element_checks(right: &Document, wrong: &Document) -> Vec<String> {
    let mut out = Vec::new();
    let body = right.body().unwrap_or(Document::ROOT);
    for node in right.composed_descendants(body).filter(|n| right.element(*n).is_some()).take(MOST_ELEMENTS) {
        let Some(locator) = Locator::as_found(right, node) else { continue };
        let Ok(other) = locator.find_one(wrong, Document::ROOT, &[]) else { continue };
        let (Some(is), Some(was)) = (right.element(node), wrong.element(other)) else { continue };
        let at = serde_json::Value::from(locator.written);
        let enabled = !form::is_disabled(right, node);
        if enabled == form::is_disabled(wrong, other) {
            out.push(format!("    - enabled: {at}\n      is: {enabled}\n"));
            continue;
        }
        let ticked = role::ticked(right, node) == Some(role::Checkedness::Yes);
        if ticked != (role::ticked(wrong, other) == Some(role::Checkedness::Yes)) {
            out.push(format!("    - ticked: {at}\n      is: {ticked}\n"));
            continue;
        }
        let sorted = |element: &Element| {
            let mut all: Vec<String> = element.classes().map(str::to_owned).collect();
            all.sort_unstable();
            all
        };
        let (classes, others) = (sorted(is), sorted(was));
        for class in classes.iter().filter(|c| !others.contains(c)) {
            out.push(format!("    - classes: {at}\n      has: {}\n", scalar(class)));
        }
        for class in others.iter().filter(|c| !classes.contains(c)) {
            out.push(format!("    - classes: {at}\n      lacks: {}\n", scalar(class)));
        }
        let named =
            is.attrs.iter().chain(&was.attrs).map(|a| &*a.name).filter(|name| !PASSED_OVER.contains(name) && !Framework::is_mark(name));
        let mut names: Vec<&str> = named.filter(|name| is.attr(name) != was.attr(name)).collect();
        names.dedup();
        for name in names {
            let value = is.attr(name).map_or("absent".to_owned(), |v| serde_json::Value::from(v).to_string());
            out.push(format!("    - attribute: {at}\n      named: {}\n      is: {value}\n", scalar(name)));
        }
    }
    out
}

/// Attributes that are told by what they mean, or are another in each run.
const PASSED_OVER: [&str; 6] = ["class", "disabled", "checked", "style", "id", "for"];

fn event_checks(right: &PhaseSnapshot, wrong: &PhaseSnapshot) -> Vec<String> {
    let mut names: Vec<(&str, bool)> = Vec::new();
    for event in right.events.iter().chain(&wrong.events).filter(|e| e.part.is_empty()) {
        if !names.contains(&(&event.name, event.binding)) {
            names.push((&event.name, event.binding));
        }
    }
    let mut out = Vec::new();
    for (name, binding) in names.into_iter().filter(|(_, binding)| !binding) {
        let of =
            |seen: &PhaseSnapshot| seen.events.iter().filter(|e| e.name == name && e.binding == binding).map(in_words).collect::<Vec<_>>();
        let (is, other) = (of(right), of(wrong));
        if is == other {
            continue;
        }
        let mut check = format!("    - emitted: {}\n", scalar(name));
        if is.is_empty() {
            check = format!("    - emitted: {}\n      times: 0\n", scalar(name));
        } else if is.len() != other.len() {
            check.push_str(&format!("      times: {}\n", is.len()));
        } else if let Some(Value::Json(payload)) = right.events.iter().rfind(|e| e.name == name).map(|e| e.value()) {
            check.push_str(&format!("      {}: {}\n", if is.len() > 1 { "last" } else { "with" }, flow(&payload)));
        }
        out.push(check);
    }
    out
}

/// What the parent holds of two-way props.
fn held_checks(right: &PhaseSnapshot, wrong: &PhaseSnapshot) -> Vec<String> {
    let (Some(is), Some(other)) = (right.held(""), wrong.held("")) else { return Vec::new() };
    let differing = is.bound.iter().filter(|(name, held)| other.bound.get(*name) != Some(held));
    differing
        .filter(|(_, held)| matches!(held, Value::Json(_)))
        .map(|(name, held)| format!("    - bound: {}\n      is: {}\n", scalar(name), value(held)))
        .collect()
}

/// A step as a contract writes it; none where it has no words for it.
fn lines(step: &Step, before: &Document) -> Option<Vec<String>> {
    let at = |at: &Locator| pointing(at, before).map(|written| serde_json::Value::from(written).to_string());
    let listed = |props: &indexmap::IndexMap<String, Value>| {
        let is_plain = props.values().all(|v| !matches!(v, Value::Other(_)));
        is_plain.then(|| props.iter().map(|(name, v)| format!("{}: {}", scalar(name), value(v))).collect::<Vec<_>>().join(", "))
    };
    Some(match step {
        Step::Press { at: target, times: 1 } => vec![format!("- press: {}", at(target)?)],
        Step::Press { at: target, times } => vec![format!("- press: {}", at(target)?), format!("  times: {times}")],
        Step::Type { text, at: target, replace } => {
            let mut out = vec![format!("- type: {}", scalar(text)), format!("  into: {}", at(target)?)];
            out.extend(replace.then(|| "  replace: true".to_owned()));
            out
        }
        Step::Key { key, at: Some(target) } => vec![format!("- key: {}", scalar(key)), format!("  at: {}", at(target)?)],
        Step::Key { key, at: None } => vec![format!("- key: {}", scalar(key))],
        Step::Choose { option, at: target } => vec![format!("- choose: {}", scalar(option)), format!("  from: {}", at(target)?)],
        Step::Tick { at: target, on: true } => vec![format!("- tick: {}", at(target)?)],
        Step::Tick { at: target, on: false } => vec![format!("- untick: {}", at(target)?)],
        Step::Focus { at: target } => vec![format!("- focus: {}", at(target)?)],
        Step::Leave { at: target } => vec![format!("- leave: {}", at(target)?)],
        Step::Point { at: target } => vec![format!("- point: {}", at(target)?)],
        Step::Edit { at: target, to } => vec![format!("- edit: {}", at(target)?), format!("  to: {}", value(to))],
        Step::Pass { props } => vec![format!("- pass: {{ {} }}", listed(props)?)],
        Step::Assign { props } => vec![format!("- assign: {{ {} }}", listed(props)?)],
        Step::Elapse { milliseconds } => vec![format!("- elapse: {milliseconds}ms")],
        Step::Remove => vec!["- remove: true".to_owned()],
        _ => return None,
    })
}

/// A locator that a contract can write for what another one means.
fn pointing(at: &Locator, doc: &Document) -> Option<String> {
    if !matches!(at.start, Some(Start::At(_))) {
        return Some(at.written.clone());
    }
    let node = at.find_one(doc, Document::ROOT, &[]).ok()?;
    Locator::as_found(doc, node).map(|locator| locator.written)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::observation::Emitted;
    use crate::stage::Combination;

    fn seen(html: &str, events: &[(&str, i32)]) -> PhaseSnapshot {
        let events = events.iter().map(|(name, with)| Emitted {
            name: (*name).into(),
            binding: false,
            payload: vec![Value::json(*with)],
            part: String::new(),
        });
        PhaseSnapshot { tree: fidelon_dom::parse::document(html), events: events.collect(), settled: true, ..PhaseSnapshot::default() }
    }

    fn script(doc: &Document) -> Script {
        let button = doc.composed_descendants(doc.body().expect("there")).find(|n| doc.is_html(*n, "button")).expect("there");
        let press = Step::Press { at: Locator::at(doc, button), times: 1 };
        let mut combination = Combination::default();
        combination.props.insert("unit".into(), Value::json("F"));
        Script { phases: vec![vec![press]], ..crate::judge::laws::mount(&combination) }
    }

    #[test]
    fn what_is_there_and_what_was_not() {
        let mount = seen("<button>Raise</button>", &[]);
        let script = script(&mount.tree);
        let right = Observation::new(vec![mount.clone(), seen("<button>Raise</button><p>610</p>", &[])]);
        let wrong = Observation::new(vec![mount, seen("<button>Raise</button><p>600</p>", &[])]);
        assert_eq!(
            clause(&script, 1, &right, &wrong).as_deref(),
            Some(
                "- clause: text(610) is there after press button Raise, with unit = F\n  hold: { unit: F }\n  do:\n    - press: \"button \\\"Raise\\\"\"\n  expect:\n    - present: \"text(\\\"610\\\")\"\n    - present: \"text(\\\"600\\\")\"\n      is: false\n"
            )
        );
    }

    #[test]
    fn events_by_number_and_by_what_they_carry() {
        let mount = seen("<button>Raise</button>", &[]);
        let script = script(&mount.tree);
        let of = |events: &[(&str, i32)]| Observation::new(vec![mount.clone(), seen("<button>Raise</button>", events)]);
        let told = |right: &[(&str, i32)], wrong: &[(&str, i32)]| {
            let clause = clause(&script, 1, &of(right), &of(wrong)).expect("said");
            clause.split("  expect:\n").nth(1).expect("there").to_owned()
        };
        assert_eq!(told(&[("fire", 1)], &[]), "    - emitted: fire\n      times: 1\n");
        assert_eq!(told(&[], &[("fire", 1)]), "    - emitted: fire\n      times: 0\n");
        assert_eq!(told(&[("fire", 1)], &[("fire", 2)]), "    - emitted: fire\n      with: 1\n");
        assert_eq!(clause(&script, 1, &of(&[]), &of(&[])), None);
    }
}

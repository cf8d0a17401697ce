//! What was seen of two components that played the same script, area by area.

use fidelon_dom::serialize::outline;

use crate::compare::{Area, Level};
use crate::judge::agreement::{held, listed, requests, steps};
use crate::judge::check::in_words;
use crate::judge::equivalence::{diff, difference, observable};
use crate::observation::{LeakCounts, Observation, PhaseSnapshot, Tone};

/// A difference in one area, in the first phase that shows it.
#[derive(Debug, Clone, PartialEq)]
pub struct SeenChange {
    /// What it is about.
    pub area: Area,
    /// How much it asks of parents.
    pub level: Level,
    /// In which phase, from 0, which is the mount.
    pub phase: usize,
    /// What the first shows.
    pub before: String,
    /// What the second shows.
    pub after: String,
    /// The lines in which documents differ.
    pub diff: Vec<String>,
}

/// How much of what was seen is compared.
type Told = fn(&PhaseSnapshot) -> String;

const AREAS: [(Area, Told); 8] = [
    (Area::Steps, steps),
    (Area::Errors, |s| listed(s.notes.iter().filter(|n| n.tone == Tone::Failed).map(|n| first_line(&n.text)))),
    (Area::Rendering, |s| observable(s).to_string()),
    (Area::Events, |s| listed(s.events.iter().map(in_words))),
    (Area::Parent, held),
    (Area::Requests, requests),
    (Area::Warnings, |s| listed(s.notes.iter().filter(|n| n.tone == Tone::Warned).map(|n| first_line(&n.text)))),
    (Area::Timing, |s| if s.settled { "it comes to rest" } else { "it does not come to rest" }.to_owned()),
];

fn first_line(text: &str) -> String {
    text.lines().next().unwrap_or_default().to_owned()
}

/// What was left by one removal more: frameworks leave something of their own at the first.
fn left(first: &PhaseSnapshot, last: &PhaseSnapshot) -> LeakCounts {
    let (a, b) = (first.left, last.left);
    LeakCounts {
        nodes: 0,
        listeners: b.listeners.saturating_sub(a.listeners),
        timers: b.timers.saturating_sub(a.timers),
        observers: b.observers.saturating_sub(a.observers),
        requests: b.requests.saturating_sub(a.requests),
        connections: b.connections.saturating_sub(a.connections),
    }
}

fn left_in_words(left: LeakCounts) -> String {
    let counts = [
        (left.listeners, "listeners"),
        (left.timers, "timers"),
        (left.observers, "observers"),
        (left.requests, "requests"),
        (left.connections, "open connections"),
    ];
    listed(
        counts.iter().filter(|(n, _)| *n > 0).map(|(n, what)| format!("{n} {}", if *n == 1 { what.trim_end_matches('s') } else { what })),
    )
}

/// The first of the largest differences in each area: a wrapper more in the mount hides no other text after a press.
pub fn changes(before: &Observation, after: &Observation) -> Vec<SeenChange> {
    let mut out: Vec<SeenChange> = Vec::new();
    for (phase, (a, b)) in before.phases.iter().zip(&after.phases).enumerate() {
        for (area, told) in AREAS {
            let (was, is) = (told(a), told(b));
            if was == is {
                continue;
            }
            let level = level(area, a, b);
            if out.iter().any(|c| c.area == area && c.level >= level) {
                continue;
            }
            out.retain(|c| c.area != area);
            let lines = if area == Area::Rendering { diff(&was, &is) } else { Vec::new() };
            let (was, is) = if area == Area::Rendering { difference(&was, &is) } else { (was, is) };
            out.push(SeenChange { area, level, phase, before: was, after: is, diff: lines });
        }
    }
    out
}

/// What is left behind, where the phases with these numbers each saw a removal.
pub fn leftovers(before: &Observation, after: &Observation, (first, last): (usize, usize)) -> Option<SeenChange> {
    let of = |seen: &Observation| Some(left(seen.phases.get(first)?, seen.phases.get(last)?));
    let (was, is) = (of(before)?, of(after)?);
    let count = |left: LeakCounts| left.listeners + left.timers + left.observers + left.requests + left.connections;
    let level = if count(is) > count(was) { Level::Minor } else { Level::Patch };
    let (before, after) = (left_in_words(was), left_in_words(is));
    (was != is).then(|| SeenChange { area: Area::Leftovers, level, phase: last, before, after, diff: Vec::new() })
}

fn level(area: Area, before: &PhaseSnapshot, after: &PhaseSnapshot) -> Level {
    let warned = |s: &PhaseSnapshot| s.notes.iter().filter(|n| n.tone == Tone::Warned).count();
    match area {
        Area::Rendering => of_page(before, after),
        // Who is warned is told something; who is not any more, nothing.
        Area::Warnings if warned(after) <= warned(before) => Level::Patch,
        Area::Warnings => Level::Minor,
        _ => Level::Major,
    }
}

/// Of pages what a person finds counts: nothing else in it is a patch; more of it than before, and all that there was, is something new.
fn of_page(before: &PhaseSnapshot, after: &PhaseSnapshot) -> Level {
    let found = |seen: &PhaseSnapshot| {
        let body = seen.tree.body().unwrap_or(fidelon_dom::Document::ROOT);
        outline(&seen.tree, body).lines().map(|l| l.trim().to_owned()).collect::<Vec<_>>()
    };
    let (was, is) = (found(before), found(after));
    if was == is {
        let focus = |seen: &PhaseSnapshot| seen.tree.focused.map(|node| fidelon_dom::accessible_name(&seen.tree, node));
        return if focus(before) == focus(after) { Level::Patch } else { Level::Major };
    }
    // All that there was, in its order.
    let mut rest = is.iter();
    let keeps = was.iter().all(|line| rest.any(|l| l == line));
    if keeps { Level::Minor } else { Level::Major }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::observation::{Emitted, Note};
    use crate::value::Value;

    fn seen(html: &str) -> PhaseSnapshot {
        PhaseSnapshot { tree: fidelon_dom::parse::document(html), settled: true, ..PhaseSnapshot::default() }
    }

    fn told(before: PhaseSnapshot, after: PhaseSnapshot) -> Vec<(Area, Level)> {
        changes(&Observation::new(vec![before]), &Observation::new(vec![after])).iter().map(|c| (c.area, c.level)).collect()
    }

    #[test]
    fn what_a_person_finds_decides_about_pages() {
        assert_eq!(told(seen("<p class='a b'>x</p>"), seen("<p class='b a'>x</p>")), []);
        assert_eq!(told(seen("<p class=a>x</p>"), seen("<p class=b>x</p>")), [(Area::Rendering, Level::Patch)]);
        assert_eq!(told(seen("<p>x</p>"), seen("<div><p>x</p></div>")), [(Area::Rendering, Level::Patch)]);
        assert_eq!(told(seen("<p>x</p>"), seen("<p>x</p><p>y</p>")), [(Area::Rendering, Level::Minor)]);
        assert_eq!(told(seen("<button>x</button>"), seen("<button disabled>x</button>")), [(Area::Rendering, Level::Major)]);
        assert_eq!(told(seen("<p>x</p>"), seen("<p>y</p>")), [(Area::Rendering, Level::Major)]);
    }

    #[test]
    fn events_warnings_and_leftovers() {
        let fired = PhaseSnapshot {
            events: vec![Emitted { name: "fire".into(), binding: false, payload: vec![Value::json(1)], part: String::new() }],
            ..seen("")
        };
        assert_eq!(told(seen(""), fired.clone()), [(Area::Events, Level::Major)]);
        let warned = PhaseSnapshot { notes: vec![Note { tone: Tone::Warned, text: "hot".into(), place: None }], ..seen("") };
        assert_eq!(told(seen(""), warned.clone()), [(Area::Warnings, Level::Minor)]);
        assert_eq!(told(warned, seen("")), [(Area::Warnings, Level::Patch)]);
        let mut leaves = seen("");
        leaves.left.timers = 1;
        // What a framework leaves once is not counted.
        let removals = |first: &PhaseSnapshot, last: &PhaseSnapshot| Observation::new(vec![seen(""), first.clone(), last.clone()]);
        let (none, once, each) = (removals(&seen(""), &seen("")), removals(&leaves, &leaves), removals(&seen(""), &leaves));
        let told = |before, after| leftovers(before, after, (1, 2)).map(|c| (c.level, c.before, c.after));
        assert_eq!(told(&none, &once), None);
        assert_eq!(told(&none, &each), Some((Level::Minor, "nothing".into(), "1 timer".into())));
        assert_eq!(told(&each, &none).map(|c| c.0), Some(Level::Patch));
    }
}

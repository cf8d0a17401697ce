//! Whether two stages saw the same when they played one script.

use std::hash::{Hash as _, Hasher as _};

use rustc_hash::FxHasher;
use serde_json::Value as Json;

use crate::finding::Failure;
use crate::judge::check::in_words;
use crate::judge::equivalence::{diff, difference, normal};
use crate::observation::{Note, Observation, ParentView, PhaseSnapshot, Requested, Tone};
use crate::value::Value;

/// What two observations differ in, the first that does.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Aspect {
    /// What of the steps could be done.
    Steps,
    /// The document, form values and the focus.
    Document,
    /// The events that it emitted.
    Events,
    /// What the parent holds: bound values, exposed members, what slots hand over.
    Held,
    /// The requests that were made.
    Requests,
    /// What was warned of or thrown.
    Notes,
    /// Whether it came to rest.
    Rest,
}

/// A difference between two observations of one script.
#[derive(Debug, Clone, PartialEq)]
pub struct Disagreement {
    /// What differs.
    pub aspect: Aspect,
    /// In which phase, from 0, which is the mount.
    pub phase: usize,
    /// What the first stage saw.
    pub first: String,
    /// What the second stage saw.
    pub second: String,
    /// The lines in which documents differ.
    pub diff: Vec<String>,
}

impl Disagreement {
    /// As a broken promise: what the second stage saw is what should have been there.
    pub fn into_failure(self) -> Failure {
        let what = match self.aspect {
            Aspect::Steps => "a step can be done on one stage alone",
            Aspect::Document => "the stages show different documents",
            Aspect::Events => "the stages hear different events",
            Aspect::Held => "the parent holds different things on the stages",
            Aspect::Requests => "different requests are made on the stages",
            Aspect::Notes => "different things are logged or thrown on the stages",
            Aspect::Rest => "it comes to rest on one stage alone",
        };
        let when = if self.phase == 0 { "when it is mounted".to_owned() } else { format!("after phase {}", self.phase) };
        let sides = if self.diff.is_empty() { "" } else { " (- on the other one, + on this one)" };
        Failure {
            message: format!("{what} {when}{sides}"),
            expected: Some(self.second),
            actual: Some(self.first),
            diff: self.diff,
            ..Failure::default()
        }
    }
}

/// The first difference of two observations of one script.
pub fn disagreement(first: &Observation, second: &Observation) -> Option<Disagreement> {
    let pairs = first.phases.iter().zip(&second.phases).enumerate();
    pairs.into_iter().find_map(|(phase, (a, b))| {
        let (aspect, a, b) = differing(a, b)?;
        let lines = if aspect == Aspect::Document { diff(&b, &a) } else { Vec::new() };
        let (second, first) = if aspect == Aspect::Document { difference(&b, &a) } else { (b, a) };
        Some(Disagreement { aspect, phase, first, second, diff: lines })
    })
}

/// A number for all that could be noticed of an observation: the same for two that nobody can tell apart.
pub fn digest(seen: &Observation) -> u64 {
    let mut hasher = FxHasher::default();
    for phase in &seen.phases {
        for (_, told) in ASPECTS {
            told(phase).hash(&mut hasher);
        }
        // What nobody sees at once, and what the laws ask for.
        for stray in &phase.strays {
            in_words(stray).hash(&mut hasher);
        }
        for held in phase.held.values() {
            (&held.touched, &held.overruled, held.kept, held.refs.len()).hash(&mut hasher);
        }
        format!("{:?}", phase.left).hash(&mut hasher);
        for (property, values) in &phase.styles {
            property.hash(&mut hasher);
            values.iter().for_each(|(_, value)| value.hash(&mut hasher));
        }
    }
    hasher.finish()
}

impl Aspect {
    /// What it is about, in words.
    pub fn words(self) -> &'static str {
        match self {
            Self::Steps => "what can be done",
            Self::Document => "the document",
            Self::Events => "events",
            Self::Held => "what the parent holds",
            Self::Requests => "requests",
            Self::Notes => "what is logged or thrown",
            Self::Rest => "whether it comes to rest",
        }
    }
}

/// How an aspect of what was seen is told.
type Told = fn(&PhaseSnapshot) -> String;

/// What is looked at, in this order.
const ASPECTS: [(Aspect, Told); 8] = [
    (Aspect::Steps, steps),
    (Aspect::Document, |s| normal(s).to_string()),
    (Aspect::Events, |s| listed(s.events.iter().map(in_words))),
    (Aspect::Held, held),
    (Aspect::Held, given),
    (Aspect::Requests, requests),
    (Aspect::Notes, |s| listed(s.notes.iter().filter_map(note))),
    (Aspect::Rest, |s| if s.settled { "it comes to rest" } else { "it does not come to rest" }.to_owned()),
];

/// What differs in one phase, and how each stage saw it.
fn differing(a: &PhaseSnapshot, b: &PhaseSnapshot) -> Option<(Aspect, String, String)> {
    ASPECTS.into_iter().map(|(aspect, told)| (aspect, told(a), told(b))).find(|(_, a, b)| a != b)
}

pub(crate) fn listed(all: impl Iterator<Item = String>) -> String {
    let all: Vec<String> = all.collect();
    if all.is_empty() { "nothing".into() } else { all.join(", then ") }
}

pub(crate) fn steps(seen: &PhaseSnapshot) -> String {
    listed(seen.faults.iter().map(|f| format!("step {}: {}", f.step + 1, f.message)))
}

/// What the parent holds; of nodes only whether there are any, since each stage numbers its own.
pub(crate) fn held(seen: &PhaseSnapshot) -> String {
    let one = |(part, held): (&String, &ParentView)| {
        let name = if part.is_empty() { String::new() } else { format!("{part}: ") };
        // In which order members were exposed nobody can tell.
        let mut exposed: Vec<String> = held.exposed.iter().flatten().map(|(n, v)| format!("exposed {n} = {v}")).collect();
        exposed.sort_unstable();
        let all = held.bound.iter().map(|(n, v)| format!("{n} = {v}")).chain(exposed);
        // Nothing that is handed over in an object is nothing.
        let handed = held.handed.iter().filter(|(_, v)| !matches!(v, Value::Json(Json::Object(fields)) if fields.is_empty()));
        let all = all.chain(handed.map(|(n, v)| format!("slot {n} hands over {v}")));
        format!("{name}{}", listed(all))
    };
    listed(seen.held.iter().map(one))
}

pub(crate) fn requests(seen: &PhaseSnapshot) -> String {
    let one = |r: &Requested| {
        [Some(r.method.as_str()), Some(r.url.as_str()), r.body.as_deref()].into_iter().flatten().collect::<Vec<_>>().join(" ")
    };
    listed(seen.requests.iter().map(one))
}

/// How often the content of each slot stands somewhere.
fn given(seen: &PhaseSnapshot) -> String {
    let of = |held: &ParentView| held.given.iter().map(|(n, g)| format!("slot {n} stands {} times", g.len())).collect::<Vec<_>>();
    listed(seen.held.values().flat_map(of))
}

/// A warning or an error in the words that stages have in common: engines word their own errors differently.
fn note(note: &Note) -> Option<String> {
    match note.tone {
        Tone::Said => None,
        Tone::Failed => Some(format!("threw {}", note.text.split(':').next().unwrap_or_default())),
        Tone::Warned if note.text.contains("Error") => Some("warned of an error".into()),
        Tone::Warned => Some(format!("warned: {}", note.text.lines().next().unwrap_or_default())),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::observation::{Emitted, StepFault};

    fn seen(html: &str) -> PhaseSnapshot {
        PhaseSnapshot { tree: fidelon_dom::parse::document(html), settled: true, ..PhaseSnapshot::default() }
    }

    fn differ(a: PhaseSnapshot, b: PhaseSnapshot) -> Option<(Aspect, String, String)> {
        let of = |s: PhaseSnapshot| Observation::new(vec![seen("<p>x</p>"), s]);
        disagreement(&of(a), &of(b)).map(|d| (d.aspect, d.first, d.second))
    }

    #[test]
    fn the_same_is_the_same_and_what_differs_is_named() {
        assert_eq!(differ(seen("<p id=a>x</p>"), seen("<p id=b>x</p>")), None);
        assert_eq!(differ(seen("<p>x</p>"), seen("<p>y</p>")), Some((Aspect::Document, "<p>x</p>".into(), "<p>y</p>".into())));
        let emitted = Emitted { name: "fire".into(), binding: false, payload: vec![Value::json(1)], part: String::new() };
        let event = PhaseSnapshot { events: vec![emitted], ..seen("") };
        assert_eq!(differ(event, seen("")), Some((Aspect::Events, "fire 1".into(), "nothing".into())));
        let fault = PhaseSnapshot { faults: vec![StepFault { step: 0, message: "no".into() }], ..seen("<p>y</p>") };
        assert_eq!(differ(fault, seen("")).map(|d| d.0), Some(Aspect::Steps), "what could not be done comes first");
        let rest = PhaseSnapshot { settled: false, ..seen("") };
        assert_eq!(differ(rest, seen("")).map(|d| d.0), Some(Aspect::Rest));
    }

    #[test]
    fn engines_may_word_their_errors_as_they_like() {
        let threw = |text: &str| PhaseSnapshot { notes: vec![Note { tone: Tone::Failed, text: text.into(), place: None }], ..seen("") };
        assert_eq!(differ(threw("TypeError: a is no function"), threw("TypeError: not a function")), None);
        assert_eq!(differ(threw("TypeError: a"), threw("RangeError: a")).map(|d| d.0), Some(Aspect::Notes));
        assert_eq!(differ(threw("TypeError: a"), seen("")).map(|d| d.2), Some("nothing".into()));
    }
}

//! What was seen on a stage.

use fidelon_dom::Document;
use fidelon_source::Place;
use indexmap::IndexMap;
use serde::{Deserialize, Serialize};

use crate::value::Value;

/// An event that the component emitted, or a change of a two-way prop that it reported.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Emitted {
    /// The event's name; the prop's for a report.
    pub name: String,
    /// True for the report of a two-way prop.
    pub binding: bool,
    /// The arguments.
    pub payload: Vec<Value>,
}

impl Emitted {
    /// The payload as contracts speak of it: the single argument, or the list of several.
    pub fn value(&self) -> Value {
        match self.payload.as_slice() {
            [] => Value::Absent,
            [one] => one.clone(),
            many => Value::Json(
                many.iter()
                    .map(|v| match v {
                        Value::Json(j) => j.clone(),
                        other => serde_json::Value::from(other.to_string()),
                    })
                    .collect(),
            ),
        }
    }
}

/// How something that was said came about.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Tone {
    /// Logged as a warning or an error.
    Warned,
    /// Thrown, and caught by no one in the component.
    Failed,
    /// Logged otherwise.
    Said,
}

/// A log entry or an error.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Note {
    /// How it came about.
    pub tone: Tone,
    /// The text.
    pub text: String,
    /// The place in the user's own source.
    pub place: Option<Place>,
}

/// A step that could not be done: its target was not there, or there were several.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct StepFault {
    /// Which step of the phase, from 0.
    pub step: usize,
    /// What is wrong.
    pub message: String,
}

/// What was there after a phase, and what came during it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Seen {
    /// The page.
    pub tree: Document,
    /// Events since the phase began, in order.
    pub events: Vec<Emitted>,
    /// The parent's side of each two-way prop.
    pub bound: IndexMap<String, Value>,
    /// Members that the ref reaches: functions as `Value::Other("function")`.
    pub exposed: Option<IndexMap<String, Value>>,
    /// What was logged or thrown since the phase began.
    pub notes: Vec<Note>,
    /// Steps that could not be done.
    pub faults: Vec<StepFault>,
    /// False when it never came to rest.
    pub settled: bool,
    /// Requests that were made since the phase began.
    pub requests: Vec<Requested>,
}

/// All phases of a script; the first is the mount.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Observation {
    /// One entry a phase.
    pub phases: Vec<Seen>,
}

impl Observation {
    /// What came of the mount.
    pub fn mount(&self) -> Option<&Seen> {
        self.phases.first()
    }
}

/// A request that was made.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Requested {
    /// `GET`.
    pub method: String,
    /// The path with its query, or the whole address when it is elsewhere.
    pub url: String,
    /// The body, as text.
    pub body: Option<String>,
    /// True when a canned reply answers it.
    pub answered: bool,
}

//! A promise that broke, and how it is told.

use fidelon_source::Place;
use serde::{Deserialize, Deserializer, Serialize, Serializer};

use crate::trace::ElementTrace;
use crate::value::Value;

/// What became of a promise, or of a component.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Verdict {
    /// Every check held.
    Holds,
    /// Some check broke.
    Broken,
    /// It could not be judged.
    Unjudged,
}

/// What kind of promise.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum RuleKind {
    /// From a contract.
    Clause,
    /// Kept by every component.
    Law,
    /// Rendered output that was accepted.
    Baseline,
}

/// One part of a cause: this prop has this value, or this slot this content.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Condition {
    /// The prop, or `slots.<name>`.
    pub prop: String,
    /// The value; in JSON as [`Value::to_plain`] writes it.
    #[serde(serialize_with = "plain", deserialize_with = "from_plain")]
    pub is: Value,
    /// Or one of these.
    #[serde(serialize_with = "plain_list", deserialize_with = "from_plain_list", skip_serializing_if = "Vec::is_empty", default)]
    pub or: Vec<Value>,
}

fn plain_list<S: Serializer>(values: &[Value], serializer: S) -> Result<S::Ok, S::Error> {
    values.iter().map(Value::to_plain).collect::<Vec<_>>().serialize(serializer)
}

fn from_plain_list<'de, D: Deserializer<'de>>(deserializer: D) -> Result<Vec<Value>, D::Error> {
    Vec::<serde_json::Value>::deserialize(deserializer).map(|list| list.into_iter().map(Value::from_plain).collect())
}

fn plain<S: Serializer>(value: &Value, serializer: S) -> Result<S::Ok, S::Error> {
    value.to_plain().serialize(serializer)
}

fn from_plain<'de, D: Deserializer<'de>>(deserializer: D) -> Result<Value, D::Error> {
    serde_json::Value::deserialize(deserializer).map(Value::from_plain)
}

impl std::fmt::Display for Condition {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        if !self.or.is_empty() {
            let values: Vec<String> = std::iter::once(&self.is).chain(&self.or).map(ToString::to_string).collect();
            return write!(f, "{} = {}", self.prop, values.join(" or "));
        }
        match &self.is {
            Value::Absent if self.prop.starts_with("slots.") => write!(f, "{} is empty", self.prop),
            Value::Absent => write!(f, "{} is not passed", self.prop),
            Value::Json(serde_json::Value::Bool(true)) => write!(f, "{}", self.prop),
            Value::Json(serde_json::Value::Bool(false)) => write!(f, "not {}", self.prop),
            value => write!(f, "{} = {value}", self.prop),
        }
    }
}

/// A check that failed in one case.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
pub struct Failure {
    /// What was looked at and found.
    pub message: String,
    /// What should have been there.
    pub expected: Option<String>,
    /// What was there.
    pub actual: Option<String>,
    /// The lines in which the two differ, for markup: unchanged ones around, `-` before what is missing, `+` before what is
    /// there instead.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub diff: Vec<String>,
    /// The node that was looked at.
    pub node: Option<String>,
    /// The place in the component's source, where it is known.
    #[serde(rename = "source")]
    pub place: Option<Place>,
    /// The element that was looked at, as its source is found by.
    #[serde(skip)]
    pub element: Option<Box<ElementTrace>>,
}

/// A broken promise.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Finding {
    /// The clause's words, or the law's name.
    pub rule: String,
    /// What kind of promise.
    pub kind: RuleKind,
    /// The prop, slot, event or member that it is about; none when it is about the whole.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub about: Option<String>,
    /// How it failed in the case below.
    #[serde(flatten)]
    pub failure: Failure,
    /// The condition that makes it break; empty when it breaks always, none when no simple one tells.
    pub cause: Option<Vec<Condition>>,
    /// Other conditions, each of which makes it break by itself.
    pub also: Vec<Vec<Condition>>,
    /// How many combinations were played beyond the plan to find the causes.
    pub asked: usize,
    /// The plainest case that shows it.
    pub case: String,
    /// That case in words.
    pub combination: String,
    /// The events in that case, in words.
    pub events: Vec<String>,
    /// In how many cases it was checked, and in how many it broke.
    pub checked: usize,
    /// See `checked`.
    pub broke: usize,
    /// The combinations of the plan in which it broke, as their cases are named.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub cases: Vec<String>,
    /// Where the promise was written, for a clause.
    pub written: Option<Place>,
}

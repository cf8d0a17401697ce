//! The checks of a clause: from a node to a [`Check`].

use std::sync::Arc;

use indexmap::IndexMap;
use regex::Regex;
use serde_json::Value as Json;

use crate::contract::fault::Fault;
use crate::contract::read::{keys_of, text_of};
use crate::contract::steps::{is_template, locator};
use crate::contract::surroundings::request;
use crate::contract::values::value_of;
use crate::contract::yaml::{Data, Node};
use crate::locator::Locator;
use crate::value::Value;

/// What is looked at.
#[derive(Debug, Clone)]
pub enum Subject {
    /// The text of a node.
    Text(Locator),
    /// A control's value.
    Value(Locator),
    /// An attribute.
    Attribute(Locator, String),
    /// The class names.
    Classes(Locator),
    /// How many nodes there are.
    Count(Locator),
    /// Whether there is a node.
    Present(Locator),
    /// Whether a person can use it.
    Enabled(Locator),
    /// Whether it is ticked.
    Checkedness(Locator),
    /// Whether it has the focus.
    Focused(Locator),
    /// Its role.
    Role(Locator),
    /// Its accessible name.
    Name(Locator),
    /// The texts of nodes, in document order.
    Order(Locator),
    /// Events.
    Emitted(Events),
    /// The parent's side of a two-way prop.
    Bound(String),
    /// A member that the ref reaches.
    Exposed(String),
    /// Warnings.
    Warned,
    /// Errors that nobody caught.
    Failed,
    /// Whether a person can see it: in the document, and hidden by no attribute or inline style.
    Visible(Locator),
    /// A property of the inline style.
    Style(Locator, String),
    /// The normalised markup of what is in it.
    Markup(Locator),
    /// Requests; none for `requested: nothing`.
    Requested(Option<Request>),
    /// Checks that look at what is in it alone.
    Within(Locator, Vec<Check>),
    /// Where the content of a slot stands: in this node alone, and how often.
    Fills {
        /// The slot.
        slot: String,
        /// The node that it stands in.
        within: Option<Locator>,
        /// How often; at least once when nothing is said.
        times: Option<usize>,
    },
    /// What a slot hands to its content.
    Handed(String),
    /// Whether the nodes that it found before the steps are found after them.
    Outlasts(Locator),
}

/// What is expected of the events of a phase.
#[derive(Debug, Clone)]
pub enum Events {
    /// None at all.
    Nothing,
    /// Only these.
    Only(Vec<String>),
    /// One of this name, with its count and payload.
    Named {
        /// The event.
        name: String,
        /// How often; at least once when nothing is said.
        times: Option<usize>,
        /// The payload of the one event.
        with: Option<Value>,
        /// The payload of the last.
        last: Option<Value>,
        /// The payload of each.
        each: Option<Value>,
        /// All payloads, in turn.
        in_turn: Option<Vec<Value>>,
        /// A JSON Schema that each payload fits.
        fits: Option<Schema>,
    },
}

/// What must be true of it.
#[derive(Debug, Clone)]
pub enum Predicate {
    /// Equal.
    Is(Value),
    /// Not equal.
    Isnt(Value),
    /// Holds this text, item or class.
    Has(Value),
    /// Does not.
    Lacks(Value),
    /// Matches a regular expression.
    Matches(Box<Regex>),
    /// Greater.
    Above(f64),
    /// Less.
    Below(f64),
    /// One of these.
    OneOf(Vec<Value>),
    /// It fits a JSON Schema.
    Fits(Schema),
    /// It is of this kind: `function`, `number`, `string`, `boolean`, `object` or `any`.
    Kind(String),
}

/// A check: a subject and all that must be true of it.
#[derive(Debug, Clone)]
pub struct Check {
    /// The part of a scene that is looked at; all of the page when it is empty.
    pub part: String,
    /// What is looked at.
    pub subject: Subject,
    /// What must be true; for some subjects nothing more needs to be said.
    pub predicates: Vec<Predicate>,
}

impl Check {
    /// The locators in it.
    pub fn locators(&self) -> Vec<&Locator> {
        match &self.subject {
            Subject::Text(at)
            | Subject::Value(at)
            | Subject::Attribute(at, _)
            | Subject::Classes(at)
            | Subject::Count(at)
            | Subject::Present(at)
            | Subject::Enabled(at)
            | Subject::Checkedness(at)
            | Subject::Focused(at)
            | Subject::Role(at)
            | Subject::Name(at)
            | Subject::Order(at)
            | Subject::Visible(at)
            | Subject::Style(at, _)
            | Subject::Markup(at)
            | Subject::Outlasts(at) => vec![at],
            Subject::Within(at, checks) => std::iter::once(at).chain(checks.iter().flat_map(Self::locators)).collect(),
            Subject::Fills { within, .. } => within.iter().collect(),
            Subject::Emitted(_)
            | Subject::Bound(_)
            | Subject::Exposed(_)
            | Subject::Warned
            | Subject::Failed
            | Subject::Requested(_)
            | Subject::Handed(_) => Vec::new(),
        }
    }
}

const PREDICATES: [&str; 9] = ["is", "isnt", "has", "lacks", "matches", "above", "below", "one_of", "fits"];
const SUBJECTS: [&str; 25] = [
    "text",
    "value",
    "attribute",
    "classes",
    "count",
    "present",
    "enabled",
    "ticked",
    "focused",
    "role",
    "name",
    "order",
    "emitted",
    "bound",
    "exposed",
    "warned",
    "failed",
    "visible",
    "style",
    "markup",
    "within",
    "requested",
    "fills",
    "handed",
    "outlasts",
];

/// Reads a check.
///
/// # Errors
/// All that is wrong with it.
pub fn read_check(node: &Node) -> Result<Check, Vec<Fault>> {
    let Some((key, subject)) = node.entries().iter().find(|(k, _)| k.text().is_some_and(|t| SUBJECTS.contains(&t))) else {
        return Err(vec![match node.entries().iter().find(|(k, _)| k.text() != Some("part")) {
            Some((k, _)) => Fault::unknown(k.span, "check", k.text().unwrap_or_default(), &SUBJECTS),
            None => Fault::kind(node.span, "expect", "a list of checks such as `text: .label`", node.kind()),
        }]);
    };
    let mut faults = Vec::new();
    let key = key.text().unwrap_or_default();
    let subject = subject_of(key, node, subject, &mut faults);
    let extra: &[&str] = match key {
        "attribute" => &["named"],
        "style" => &["property"],
        "exposed" if matches!(node.get("kind").map(|n| &n.data), Some(Data::Given(_))) => &["kind"],
        "within" => &["expect"],
        "requested" => &["times", "with", "fits"],
        "fills" => &["in", "times"],
        "emitted" => &["times", "with", "last", "each", "in_turn", "fits"],
        _ => &[],
    };
    let alone = matches!(key, "emitted" | "within" | "requested" | "fills" | "outlasts");
    let allowed: Vec<&str> = [&[key, "part"][..], extra, if alone { &[] } else { &PREDICATES }].concat();
    keys_of(node, "check", &allowed, &mut faults);
    let predicates = predicates(node, &mut faults);
    let part = node.get("part").and_then(|n| text_of(n, "part", &mut faults)).unwrap_or_default();
    let needs_one = matches!(
        key,
        "text" | "value" | "attribute" | "classes" | "count" | "role" | "name" | "order" | "bound" | "style" | "markup" | "handed"
    );
    if needs_one && predicates.is_empty() && faults.is_empty() {
        faults.push(
            Fault::new(node.span, format!("what should be true of this `{key}`?")).help(format!("add one of: {}", PREDICATES.join(", "))),
        );
    }
    match subject {
        Some(subject) if faults.is_empty() => Ok(Check { part, subject, predicates }),
        _ => Err(faults),
    }
}

fn subject_of(key: &str, node: &Node, subject: &Node, faults: &mut Vec<Fault>) -> Option<Subject> {
    Some(match key {
        "emitted" => Subject::Emitted(events(node, subject, faults)?),
        "requested" => Subject::Requested(requested(node, subject, faults)?),
        "bound" => Subject::Bound(text_of(subject, key, faults)?),
        "exposed" => Subject::Exposed(text_of(subject, key, faults)?),
        "handed" => Subject::Handed(text_of(subject, key, faults)?),
        "fills" => {
            let within = match node.get("in") {
                Some(at) => Some(locator(at, "in", faults)?),
                None => None,
            };
            Subject::Fills { slot: text_of(subject, key, faults)?, within, times: times(node, faults) }
        }
        "warned" | "failed" => {
            if subject.text() != Some("nothing") && subject.to_json() != Json::Bool(true) {
                faults.push(Fault::new(subject.span, format!("write `{key}: nothing`, or `{key}: true` with `has:` or `matches:`")));
                return None;
            }
            if subject.text() == Some("nothing") && PREDICATES.iter().any(|p| node.get(p).is_some()) {
                faults.push(Fault::new(subject.span, format!("`{key}: nothing` needs no more words")));
            }
            if subject.text() != Some("nothing") && PREDICATES.iter().all(|p| node.get(p).is_none()) {
                faults.push(Fault::new(subject.span, format!("`{key}: true` needs `has:` or `matches:` to say what")));
            }
            if key == "warned" { Subject::Warned } else { Subject::Failed }
        }
        _ => {
            let at = locator(subject, key, faults)?;
            match key {
                "text" => Subject::Text(at),
                "value" => Subject::Value(at),
                "attribute" => match node.get("named") {
                    Some(named) => Subject::Attribute(at, text_of(named, "named", faults)?),
                    None => {
                        faults.push(Fault::new(node.span, "`named` is missing: which attribute?"));
                        return None;
                    }
                },
                "classes" => Subject::Classes(at),
                "count" => Subject::Count(at),
                "present" => Subject::Present(at),
                "enabled" => Subject::Enabled(at),
                "ticked" => Subject::Checkedness(at),
                "focused" => Subject::Focused(at),
                "role" => Subject::Role(at),
                "name" => Subject::Name(at),
                "visible" => Subject::Visible(at),
                "markup" => Subject::Markup(at),
                "outlasts" => Subject::Outlasts(at),
                "style" => match node.get("property") {
                    Some(property) => Subject::Style(at, text_of(property, "property", faults)?),
                    None => {
                        faults.push(Fault::new(node.span, "`property` is missing: which one?").help("add `property: color`"));
                        return None;
                    }
                },
                "within" => Subject::Within(at, within(node, faults)?),
                _ => Subject::Order(at),
            }
        }
    })
}

/// A request that must be made.
#[derive(Debug, Clone)]
pub struct Request {
    /// `POST`.
    pub method: String,
    /// The path; `*` stands for anything.
    pub path: String,
    /// How often; else at least once.
    pub times: Option<usize>,
    /// The body of each, as JSON or text.
    pub with: Option<Value>,
    /// A JSON Schema that each body fits.
    pub fits: Option<Schema>,
}

fn requested(node: &Node, subject: &Node, faults: &mut Vec<Fault>) -> Option<Option<Request>> {
    if subject.text() == Some("nothing") {
        return Some(None);
    }
    let (method, path) = if is_template(subject) { ("GET".into(), "/".into()) } else { request(subject, faults)? };
    let times = times(node, faults);
    let fits = node.get("fits").and_then(|n| schema(n, faults));
    Some(Some(Request { method, path, times, with: node.get("with").map(value_of), fits }))
}

fn times(node: &Node, faults: &mut Vec<Fault>) -> Option<usize> {
    match node.get("times")? {
        n if is_template(n) => Some(1),
        n => match n.to_json().as_f64() {
            Some(t) if t.fract() == 0.0 && t >= 0.0 => Some(t as usize),
            _ => {
                faults.push(Fault::kind(n.span, "times", "a whole number", n.kind()));
                None
            }
        },
    }
}

fn within(node: &Node, faults: &mut Vec<Fault>) -> Option<Vec<Check>> {
    let Some(expect) = node.get("expect") else {
        faults.push(Fault::new(node.span, "`expect` is missing: what should be true in there?"));
        return None;
    };
    let mut checks = Vec::new();
    for check in expect.one_or_many() {
        match read_check(check) {
            Ok(check) => checks.push(check),
            Err(more) => faults.extend(more),
        }
    }
    Some(checks)
}

fn events(node: &Node, subject: &Node, faults: &mut Vec<Fault>) -> Option<Events> {
    let name = text_of(subject, "emitted", faults);
    if name.as_deref() == Some("nothing") {
        return Some(Events::Nothing);
    }
    if let Some(only) = subject.get("only") {
        return Some(Events::Only(only.one_or_many().iter().filter_map(|n| n.text().map(str::to_owned)).collect()));
    }
    let times = times(node, faults);
    Some(Events::Named {
        name: name?,
        times,
        with: node.get("with").map(value_of),
        last: node.get("last").map(value_of),
        each: node.get("each").map(value_of),
        fits: node.get("fits").and_then(|n| schema(n, faults)),
        in_turn: node.get("in_turn").map(|n| n.one_or_many().iter().map(value_of).collect()),
    })
}

fn predicates(node: &Node, faults: &mut Vec<Fault>) -> Vec<Predicate> {
    let mut out = Vec::new();
    for (key, value) in node.entries() {
        let Some(key) = key.text() else { continue };
        out.push(match key {
            "is" => Predicate::Is(value_of(value)),
            "isnt" => Predicate::Isnt(value_of(value)),
            "has" => Predicate::Has(value_of(value)),
            "lacks" => Predicate::Lacks(value_of(value)),
            "fits" => match schema(value, faults) {
                Some(schema) => Predicate::Fits(schema),
                None => continue,
            },
            // Of `exposes:` alone, which reads the kinds.
            "kind" => Predicate::Kind(value.text().unwrap_or_default().to_owned()),
            "one_of" => Predicate::OneOf(value.one_or_many().iter().map(value_of).collect()),
            "above" | "below" => match value.to_json().as_f64() {
                Some(n) => {
                    if key == "above" {
                        Predicate::Above(n)
                    } else {
                        Predicate::Below(n)
                    }
                }
                None if is_template(value) => continue,
                None => {
                    faults.push(Fault::kind(value.span, key, "a number", value.kind()));
                    continue;
                }
            },
            "matches" => match Regex::new(value.text().unwrap_or_default()) {
                Ok(regex) => Predicate::Matches(Box::new(regex)),
                Err(error) => {
                    let reason = error.to_string().lines().last().unwrap_or_default().replace("error: ", "");
                    faults.push(Fault::new(value.span, format!("this is no regular expression: {reason}")));
                    continue;
                }
            },
            _ => continue,
        });
    }
    out
}

/// A JSON Schema that was found sound.
#[derive(Debug, Clone)]
pub struct Schema {
    json: Json,
    validator: Arc<jsonschema::Validator>,
}

impl PartialEq for Schema {
    fn eq(&self, other: &Self) -> bool {
        self.json == other.json
    }
}

impl Schema {
    /// A schema, if it is a sound one.
    ///
    /// # Errors
    /// What is wrong with it.
    pub fn of(json: Json) -> Result<Self, String> {
        match jsonschema::validator_for(&json) {
            Ok(validator) => Ok(Self { json, validator: Arc::new(validator) }),
            Err(error) => Err(error.to_string()),
        }
    }

    /// As JSON.
    pub fn json(&self) -> &Json {
        &self.json
    }

    /// What does not fit, in words; none when all does.
    pub fn misfit(&self, value: &Json) -> Option<String> {
        let error = self.validator.iter_errors(value).next()?;
        let place = error.instance_path().to_string();
        Some(if place.is_empty() { error.to_string() } else { format!("{place}: {error}") })
    }

    /// As it was written.
    pub fn text(&self) -> String {
        self.json.to_string()
    }
}

pub(super) fn schema(node: &Node, faults: &mut Vec<Fault>) -> Option<Schema> {
    let json = node.to_json();
    // Its text is only known in a case.
    let json = if has_template(&json) { Json::Bool(true) } else { json };
    Schema::of(json).map_err(|why| faults.push(Fault::new(node.span, format!("this is no JSON Schema: {why}")))).ok()
}

/// True where `${…}` stands in some text.
fn has_template(json: &Json) -> bool {
    match json {
        Json::String(text) => text.contains("${"),
        Json::Array(items) => items.iter().any(has_template),
        Json::Object(map) => map.values().any(has_template),
        _ => false,
    }
}

/// Values by name, as messages list them.
pub fn in_words(values: &IndexMap<String, Value>) -> String {
    values.iter().map(|(k, v)| format!("{k} = {v}")).collect::<Vec<_>>().join(", ")
}

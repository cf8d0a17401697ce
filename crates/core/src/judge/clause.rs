//! A clause: the cases it asks for, and what its checks say of what was seen.

use indexmap::IndexMap;
use serde_json::Value as Json;

use crate::contract::checks::{Check, Schema, read_check};
use crate::contract::model::{Clause, Contract, Expression};
use crate::contract::steps::read_step;
use crate::contract::template;
use crate::contract::yaml::Node;
use crate::finding::Failure;
use crate::judge::check::holds;
use crate::observation::{Observation, Tone};
use crate::stage::{Combination, Environment, Expressions, Script, Step};
use crate::surface::Surface;
use crate::value::Value;

/// A clause in one combination: what to play, and what to check after each phase.
#[derive(Debug, Clone)]
pub struct Case {
    /// The combination, with what the clause holds fixed.
    pub combination: Combination,
    /// What to play.
    pub script: Script,
    /// The checks after each phase of the clause. The phases of the observation are one more: the mount comes first.
    pub checks: Vec<Vec<Check>>,
}

/// What every clause of a contract promises besides its own words.
#[derive(Debug, Clone, Default)]
pub struct Standing {
    /// Whether replies are canned: a request that none answers is a fault then.
    pub canned: bool,
    /// What the payloads of events fit.
    pub payloads: IndexMap<String, Schema>,
}

impl Standing {
    /// Those of a contract.
    pub fn of(contract: &Contract) -> Self {
        let payloads = contract.events.iter().filter_map(|(name, (schema, _))| Some((name.clone(), schema.clone()?)));
        Self { canned: contract.surroundings.network.is_some(), payloads: payloads.collect() }
    }
}

/// An expression that could not be evaluated, and in which combination.
#[derive(Debug, Clone, PartialEq)]
pub struct ExpressionFault {
    /// What the engine says.
    pub message: String,
    /// Where the expression stands; the clause's words when it is a `${…}`.
    pub span: fidelon_source::Span,
    /// The combination, in words.
    pub combination: String,
}

/// Whose expressions are evaluated.
#[derive(Debug, Clone, Copy)]
pub struct Subject<'a> {
    /// The component, as results name it.
    pub name: &'a str,
    /// What it declares.
    pub surface: &'a Surface,
}

/// What an expression sees of a combination: every prop by name, `slots`, and `component`.
pub fn scope(combination: &Combination, subject: Subject<'_>) -> IndexMap<String, Value> {
    let mut scope = combination.props.clone();
    // What is declared and not passed is `undefined`, whether the contract names it or not.
    for name in subject.surface.props.iter().map(|p| &p.name) {
        if !scope.contains_key(name) {
            scope.insert(name.clone(), Value::Absent);
        }
    }
    let fills: serde_json::Map<String, Json> =
        combination.fills.iter().map(|(k, v)| (k.clone(), v.clone().map_or(Json::Null, Json::from))).collect();
    scope.insert("slots".into(), Value::Json(Json::Object(fills)));
    scope.insert("component".into(), Value::json(subject.name));
    scope
}

/// Whether an expression is true in a combination.
///
/// # Errors
/// [`ExpressionFault`] when it cannot be evaluated.
pub fn is_true(
    expression: &Expression,
    combination: &Combination,
    subject: Subject<'_>,
    engine: &mut dyn Expressions,
) -> Result<bool, ExpressionFault> {
    let value = engine.evaluate(&expression.text, &scope(combination, subject));
    value.map(|v| !v.is_falsy()).map_err(|message| ExpressionFault { message, span: expression.span, combination: combination.in_words() })
}

/// The cases of a clause over these combinations: those it applies to, each once.
///
/// # Errors
/// The first expression that cannot be evaluated.
pub fn cases(
    clause: &Clause,
    combinations: &[Combination],
    subject: Subject<'_>,
    engine: &mut dyn Expressions,
) -> Result<Vec<Case>, ExpressionFault> {
    let mut out: Vec<Case> = Vec::new();
    for combination in combinations {
        let combination = combination.with(&clause.hold);
        if out.iter().any(|c| c.combination == combination) {
            continue;
        }
        if let Some(condition) = &clause.condition
            && !is_true(condition, &combination, subject, engine)?
        {
            continue;
        }
        out.push(case(clause, combination, subject, engine)?);
    }
    Ok(out)
}

fn case(clause: &Clause, combination: Combination, subject: Subject<'_>, engine: &mut dyn Expressions) -> Result<Case, ExpressionFault> {
    let scope = scope(&combination, subject);
    let fault = |message: String| ExpressionFault { message, span: clause.span, combination: combination.in_words() };
    let mut evaluate = |expression: &str| engine.evaluate(expression, &scope).map_err(|m| format!("`${{{expression}}}`: {m}"));
    let mut written: Vec<(Vec<Step>, Vec<Node>)> = Vec::new();
    let mut phases = Vec::new();
    let mut checks = Vec::new();
    let words = |faults: Vec<crate::contract::Fault>| faults.into_iter().map(|f| f.message).collect::<Vec<_>>().join("; ");
    for phase in &clause.phases {
        let mut steps = Vec::new();
        for node in &phase.steps {
            let node = template::resolve(node, &mut evaluate).map_err(fault)?;
            steps.push(read_step(&node).map_err(|f| fault(words(f)))?);
        }
        let nodes = phase.checks.iter().map(|node| template::resolve(node, &mut evaluate).map_err(fault)).collect::<Result<_, _>>()?;
        written.push((steps, nodes));
    }
    // What a check compares with is plain data; what a step passes is the value itself.
    let mut value = |special: &Value| match special {
        Value::Js(text) => engine.evaluate(text, &scope).map_err(|m| format!("`{text}`: {m}")),
        other => engine.evaluate("value", &[("value".to_owned(), other.clone())].into_iter().collect()),
    };
    for (steps, nodes) in written {
        let read = nodes.iter().map(|node| {
            let node = template::plain(node, &mut value).map_err(fault)?;
            read_check(&node).map_err(|f| fault(words(f)))
        });
        checks.push(read.collect::<Result<_, _>>()?);
        phases.push(steps);
    }
    let script = Script { combination: combination.clone(), parent: clause.parent, phases, seed: 1, surroundings: Environment::default() };
    Ok(Case { combination, script, checks })
}

/// What the checks of a case say: every failure, in the order of the clause. A step that could not be done is one.
pub fn judge(case: &Case, standing: &Standing, observation: &Observation) -> Vec<Failure> {
    let mut failures = Vec::new();
    if standing.canned {
        failures.extend(unexpected(observation));
    }
    failures.extend(misfits(standing, observation));
    // A clause without steps looks at the mount itself.
    for (i, checks) in case.checks.iter().enumerate() {
        let Some(seen) = observation.phases.get(i + 1) else {
            failures.push(Failure { message: "the stage did not come this far".into(), ..Failure::default() });
            continue;
        };
        for fault in &seen.faults {
            failures
                .push(Failure { message: format!("step {} could not be done: {}", fault.step + 1, fault.message), ..Failure::default() });
        }
        failures.extend(checks.iter().filter_map(|check| holds(check, &observation.phases[i], seen).err()));
    }
    // What fell at the mount is the reason for all that is missing later.
    let fell = observation.mount().and_then(|m| m.notes.iter().find(|n| n.tone == Tone::Failed));
    if let Some(note) = fell {
        for failure in &mut failures {
            failure.message = format!("{}; it threw when it was mounted: {}", failure.message, note.text);
            failure.place = failure.place.take().or_else(|| note.place.clone());
        }
    }
    failures
}

/// Where replies are canned, a request that none answers is no part of the promise. Each is told once.
fn unexpected(observation: &Observation) -> Vec<Failure> {
    let mut out: Vec<Failure> = Vec::new();
    for request in observation.phases.iter().flat_map(|p| &p.requests).filter(|r| !r.answered) {
        let failure = Failure {
            message: "a request was made for which no reply is canned".into(),
            expected: Some("one of those under `network:`".into()),
            actual: Some(format!("{} {}", request.method, request.url)),
            ..Failure::default()
        };
        if !out.contains(&failure) {
            out.push(failure);
        }
    }
    out
}

/// Events whose payload does not fit what the contract says of it. Each is told once.
fn misfits(standing: &Standing, observation: &Observation) -> Vec<Failure> {
    let mut out: Vec<Failure> = Vec::new();
    for event in observation.phases.iter().flat_map(|p| &p.events).filter(|e| !e.binding) {
        let Some(schema) = standing.payloads.get(&event.name) else { continue };
        let why = match event.value() {
            Value::Json(json) => schema.misfit(&json),
            Value::Absent => schema.misfit(&Json::Null),
            _ => Some("it is no plain data".into()),
        };
        let Some(why) = why else { continue };
        let failure = Failure {
            message: format!("`{}` carried what does not fit its payload: {why}", event.name),
            expected: Some(format!("what fits {}", schema.text())),
            actual: Some(event.value().to_string()),
            ..Failure::default()
        };
        if !out.contains(&failure) {
            out.push(failure);
        }
    }
    out
}

//! A clause: the cases it asks for, and what its checks say of what was seen.

use indexmap::IndexMap;
use serde_json::Value as Json;

use crate::contract::checks::{Check, read_check};
use crate::contract::model::{Clause, Expression};
use crate::contract::steps::read_step;
use crate::contract::template;
use crate::finding::Failure;
use crate::judge::check::holds;
use crate::observation::Observation;
use crate::stage::{Combination, Expressions, Script, Surroundings};
use crate::value::Value;

/// A clause in one combination: what to play, and what to check after each phase.
#[derive(Debug, Clone)]
pub struct Case {
    /// The combination, with what the clause holds fixed.
    pub combination: Combination,
    /// What to play.
    pub script: Script,
    /// True when the contract cans replies.
    pub canned: bool,
    /// The checks after each phase of the clause. The phases of the observation are one more: the mount comes first.
    pub checks: Vec<Vec<Check>>,
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

/// What an expression sees of a combination: every prop by name, `slots`, and `component`.
pub fn scope(combination: &Combination, component: &str) -> IndexMap<String, Value> {
    let mut scope = combination.props.clone();
    let fills: serde_json::Map<String, Json> =
        combination.fills.iter().map(|(k, v)| (k.clone(), v.clone().map_or(Json::Null, Json::from))).collect();
    scope.insert("slots".into(), Value::Json(Json::Object(fills)));
    scope.insert("component".into(), Value::json(component));
    scope
}

/// Whether an expression is true in a combination.
///
/// # Errors
/// [`ExpressionFault`] when it cannot be evaluated.
pub fn is_true(
    expression: &Expression,
    combination: &Combination,
    component: &str,
    engine: &mut dyn Expressions,
) -> Result<bool, ExpressionFault> {
    let value = engine.evaluate(&expression.text, &scope(combination, component));
    value.map(|v| !v.is_falsy()).map_err(|message| ExpressionFault { message, span: expression.span, combination: combination.in_words() })
}

/// The cases of a clause over these combinations: those it applies to, each once.
///
/// # Errors
/// The first expression that cannot be evaluated.
pub fn cases(
    clause: &Clause,
    canned: bool,
    combinations: &[Combination],
    component: &str,
    engine: &mut dyn Expressions,
) -> Result<Vec<Case>, ExpressionFault> {
    let mut out: Vec<Case> = Vec::new();
    for combination in combinations {
        let combination = combination.with(&clause.hold);
        if out.iter().any(|c| c.combination == combination) {
            continue;
        }
        if let Some(condition) = &clause.condition
            && !is_true(condition, &combination, component, engine)?
        {
            continue;
        }
        out.push(Case { canned, ..case(clause, combination, component, engine)? });
    }
    Ok(out)
}

fn case(clause: &Clause, combination: Combination, component: &str, engine: &mut dyn Expressions) -> Result<Case, ExpressionFault> {
    let scope = scope(&combination, component);
    let fault = |message: String| ExpressionFault { message, span: clause.span, combination: combination.in_words() };
    let mut evaluate = |expression: &str| engine.evaluate(expression, &scope).map_err(|m| format!("`${{{expression}}}`: {m}"));
    let mut phases = Vec::new();
    let mut checks = Vec::new();
    let words = |faults: Vec<crate::contract::Fault>| faults.into_iter().map(|f| f.message).collect::<Vec<_>>().join("; ");
    for phase in &clause.phases {
        let mut steps = Vec::new();
        for node in &phase.steps {
            let node = template::resolve(node, &mut evaluate).map_err(fault)?;
            steps.push(read_step(&node).map_err(|f| fault(words(f)))?);
        }
        let mut of_phase = Vec::new();
        for node in &phase.checks {
            let node = template::resolve(node, &mut evaluate).map_err(fault)?;
            of_phase.push(read_check(&node).map_err(|f| fault(words(f)))?);
        }
        phases.push(steps);
        checks.push(of_phase);
    }
    let script = Script { combination: combination.clone(), parent: clause.parent, phases, seed: 1, surroundings: Surroundings::default() };
    Ok(Case { combination, script, canned: false, checks })
}

/// What the checks of a case say: every failure, in the order of the clause. A step that could not be done is one.
pub fn judge(case: &Case, observation: &Observation) -> Vec<Failure> {
    let mut failures = Vec::new();
    if case.canned {
        failures.extend(unexpected(observation));
    }
    // A clause without steps looks at the mount itself.
    for (i, checks) in case.checks.iter().enumerate() {
        let Some(seen) = observation.phases.get(i + 1) else {
            failures.push(Failure {
                message: "the stage did not come this far".into(),
                expected: None,
                actual: None,
                node: None,
                place: None,
            });
            continue;
        };
        for fault in &seen.faults {
            failures.push(Failure {
                message: format!("step {} could not be done: {}", fault.step + 1, fault.message),
                expected: None,
                actual: None,
                node: None,
                place: None,
            });
        }
        failures.extend(checks.iter().filter_map(|check| holds(check, seen).err()));
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
            node: None,
            place: None,
        };
        if !out.contains(&failure) {
            out.push(failure);
        }
    }
    out
}

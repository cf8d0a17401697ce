//! One component: its plan, its runs, its verdict.

use std::collections::HashMap;

use fidelon_core::cause::{cause, plainest};
use fidelon_core::contract::{Contract, Fault, PropValues, check_names, template};
use fidelon_core::finding::{Failure, Finding, RuleKind, Verdict};
use fidelon_core::judge::check::in_words;
use fidelon_core::judge::clause::{self, ExpressionFault};
use fidelon_core::judge::laws::{self, Checked, Law, Matter, Runs};
use fidelon_core::observation::Observation;
use fidelon_core::plan::{self, Domain};
use fidelon_core::results::{Component, Coverage, FileFault, Met, Reason, Rule};
use fidelon_core::stage::{Combination, Expressions, Script, Stage, StageError};
use fidelon_core::surface::{Surface, Type};
use fidelon_core::{Value, contract};
use fidelon_source::{Place, place_of};

use crate::survey::{Job, in_file};

/// The contract that a component is held to.
#[derive(Debug, Clone, Copy)]
pub struct Held<'a> {
    /// Its file.
    pub file: &'a str,
    /// Its text.
    pub text: &'a str,
    /// What it says; none when it has faults.
    pub contract: Option<&'a Contract>,
}

/// A component's name in results: its file, and `#export` when that is not the default one.
pub fn name_of(surface: &Surface) -> String {
    if surface.export == "default" { surface.file.clone() } else { format!("{}#{}", surface.file, surface.export) }
}

/// The most observations that are kept for a component: a long run must not fill the memory.
const MOST_KEPT: usize = 600;

/// A stage that remembers what it saw: several clauses and laws look at the same mount.
struct Remembering<'a> {
    stage: &'a mut dyn Stage,
    known: HashMap<String, Observation>,
}

impl Runs for Remembering<'_> {
    fn play(&mut self, script: &Script) -> Result<Observation, StageError> {
        let plain = script.phases.iter().all(Vec::is_empty);
        if !plain {
            return self.stage.play(script);
        }
        // Without steps every phase sees the mount; one entry serves any number of them.
        let bare = Script { phases: vec![Vec::new()], ..script.clone() };
        let key = serde_json::to_string(&bare).unwrap_or_default();
        let mut observation = match self.known.get(&key) {
            Some(known) => known.clone(),
            None => {
                let seen = self.stage.play(&bare)?;
                if self.known.len() < MOST_KEPT {
                    self.known.insert(key, seen.clone());
                }
                seen
            }
        };
        while observation.phases.len() < script.phases.len() + 1 {
            let last = observation.phases.last().cloned();
            observation.phases.extend(last);
        }
        Ok(observation)
    }
}

/// Judges one component. What is wrong with its contract comes beside the result.
pub fn judge(job: &Job, held: Option<Held<'_>>, stage: &mut dyn Stage, engine: &mut dyn Expressions) -> (Component, Vec<FileFault>) {
    let surface = &job.surface;
    let mut out = Component {
        component: name_of(surface),
        contract: held.map(|h| h.file.to_owned()),
        verdict: Verdict::Holds,
        reason: None,
        combinations: 0,
        coverage: Coverage::default(),
        clauses: Vec::new(),
        laws: Vec::new(),
        findings: Vec::new(),
        notes: Vec::new(),
    };
    let mut faults = Vec::new();
    if let Some(held) = held {
        faults = match held.contract {
            Some(contract) => faults_of(contract, surface, engine).into_iter().map(|f| in_file(held.file, held.text, f)).collect(),
            None => Vec::new(),
        };
        if held.contract.is_none() || !faults.is_empty() {
            out.verdict = Verdict::Unjudged;
            out.reason = Some(Reason { message: "its contract has faults: see there".into(), place: None, file: true });
            return (out, faults);
        }
    }
    if let Err(error) = stage.open(surface) {
        unjudged(&mut out, error);
        return (out, faults);
    }
    match plan_of(surface, held.and_then(|h| h.contract), engine) {
        Ok((domains, combinations)) => {
            let (met, of) = plan::pairs_met(&domains, &combinations);
            out.combinations = combinations.len();
            out.coverage = Coverage { pairs: Met { met, of } };
            let mut runs = Remembering { stage, known: HashMap::new() };
            let judged = Judging { surface, held, domains: &domains, combinations: &combinations };
            if let Err(stop) = judged.all(&mut out, &mut runs, engine, &mut faults) {
                unjudged(&mut out, stop);
            }
        }
        Err(PlanFault::Expression(fault)) => {
            faults.extend(held.map(|h| expression_fault(h, &fault)));
            out.reason = Some(Reason { message: "its contract has faults: see there".into(), place: None, file: true });
        }
        Err(PlanFault::Unknown(props)) => {
            let names = props.iter().map(|p| format!("`{p}`")).collect::<Vec<_>>().join(", ");
            let message =
                format!("its source does not tell which values the required {names} can take: give some under `props:` in a contract");
            out.reason = Some(Reason { message, place: Some(Place { file: surface.file.clone(), line: 1, column: 1 }), file: false });
        }
        Err(PlanFault::Many(count)) => {
            let message = format!(
                "`cover: every` asks for {count} combinations, and {} is the most: take fewer values, or `cover: pairs`",
                plan::MOST_EVER
            );
            out.reason = Some(Reason { message, place: None, file: true });
        }
        Err(PlanFault::Empty) => {
            out.reason = Some(Reason { message: "`never` leaves no combination".into(), place: None, file: true });
        }
    }
    if out.reason.is_some() {
        out.verdict = Verdict::Unjudged;
    } else if !out.findings.is_empty() {
        out.verdict = Verdict::Broken;
    }
    (out, faults)
}

fn unjudged(out: &mut Component, error: StageError) {
    out.verdict = Verdict::Unjudged;
    out.reason = Some(match error {
        StageError::File { message, place } => Reason { message, place, file: true },
        StageError::Unjudged { reason } => Reason { message: reason, place: None, file: false },
    });
}

fn expression_fault(held: Held<'_>, fault: &ExpressionFault) -> FileFault {
    let told = Fault::new(fault.span, format!("the expression fails: {}", fault.message))
        .help(format!("in the combination {}", fault.combination));
    in_file(held.file, held.text, told)
}

/// Faults of a contract that only its component or the engine can tell.
fn faults_of(contract: &Contract, surface: &Surface, engine: &mut dyn Expressions) -> Vec<Fault> {
    let mut faults = check_names(contract, surface);
    let mut parse = |text: &str, span| {
        if let Err(message) = engine.parse(text) {
            faults.push(
                Fault::new(span, format!("this is no expression: {message}"))
                    .help("expressions are ECMAScript over the props, as `!locked && target < 1240`"),
            );
        }
    };
    for expression in contract.never.iter().chain(contract.clauses.iter().filter_map(|c| c.condition.as_ref())) {
        parse(&expression.text, expression.span);
    }
    for phase in contract.clauses.iter().flat_map(|c| &c.phases) {
        let mut found = Vec::new();
        phase.steps.iter().chain(&phase.checks).for_each(|n| template::expressions(n, &mut found));
        for (node, expression) in found {
            parse(&expression, node.span);
        }
    }
    faults
}

enum PlanFault {
    Expression(ExpressionFault),
    Unknown(Vec<String>),
    Many(String),
    Empty,
}

/// The domains and combinations of a component: the contract's values first, declared types for what it does not name.
fn plan_of(
    surface: &Surface,
    contract: Option<&Contract>,
    engine: &mut dyn Expressions,
) -> Result<(Vec<Domain>, Vec<Combination>), PlanFault> {
    let domains = domains_of(surface, contract).map_err(PlanFault::Unknown)?;
    let cover = contract.and_then(|c| c.cover);
    if cover == Some(plan::Cover::Every) && plan::size(&domains).is_none_or(|n| n > plan::MOST_EVER) {
        return Err(PlanFault::Many(plan::size(&domains).map_or("too many".into(), |n| n.to_string())));
    }
    let mut combinations = plan::combinations(&domains, cover);
    for never in contract.map_or(&[][..], |c| &c.never) {
        let mut kept = Vec::new();
        for combination in combinations {
            if !clause::is_true(never, &combination, &name_of(surface), engine).map_err(PlanFault::Expression)? {
                kept.push(combination);
            }
        }
        combinations = kept;
    }
    if combinations.is_empty() { Err(PlanFault::Empty) } else { Ok((domains, combinations)) }
}

/// Domains by the contract, or by the declared types where there is none.
///
/// # Errors
/// Required props whose values nobody tells.
pub fn domains_of(surface: &Surface, contract: Option<&Contract>) -> Result<Vec<Domain>, Vec<String>> {
    let Some(contract) = contract else { return plan::declared(surface) };
    let mut domains = Vec::new();
    let mut unknown = Vec::new();
    for (name, (values, _)) in &contract.props {
        let declared = surface.prop(name).map(|p| &p.ty);
        let values = match values {
            PropValues::These(values) => values.clone(),
            PropValues::All => declared.map_or_else(Vec::new, all_values),
            PropValues::Declared => declared.map_or_else(Vec::new, plan::edge_values),
        };
        if values.is_empty() { unknown.push(name.clone()) } else { domains.push(Domain::Prop(name.clone(), values)) }
    }
    // A prop that the contract does not name takes a value of its declared type if it is required, and is absent if not.
    for prop in surface.props.iter().filter(|p| p.required && !contract.props.contains_key(&p.name)) {
        match plan::edge_values(&prop.ty).into_iter().next() {
            Some(value) => domains.push(Domain::Prop(prop.name.clone(), vec![value])),
            None => unknown.push(prop.name.clone()),
        }
    }
    for (name, (slot, _)) in &contract.slots {
        domains.push(Domain::Slot(name.clone(), slot.fills.clone()));
    }
    if unknown.is_empty() { Ok(domains) } else { Err(unknown) }
}

fn all_values(ty: &Type) -> Vec<Value> {
    match ty {
        Type::Boolean => vec![Value::json(false), Value::json(true)],
        Type::Union { of } => of.iter().cloned().map(Value::Json).collect(),
        _ => Vec::new(),
    }
}

struct Judging<'a> {
    surface: &'a Surface,
    held: Option<Held<'a>>,
    domains: &'a [Domain],
    combinations: &'a [Combination],
}

impl Judging<'_> {
    fn all(
        &self,
        out: &mut Component,
        runs: &mut dyn Runs,
        engine: &mut dyn Expressions,
        faults: &mut Vec<FileFault>,
    ) -> Result<(), StageError> {
        let contract = self.held.and_then(|h| h.contract);
        for clause in contract.map_or(&[][..], |c| &c.clauses) {
            self.clause(clause, out, runs, engine, faults)?;
        }
        let exemptions = contract.map_or(&[][..], |c| &c.laws);
        for law in &laws::LAWS {
            match laws::exempted(law, exemptions) {
                None => out.notes.push(format!(
                    "`{}` is off: {}",
                    law.name,
                    exemptions.iter().find(|e| e.law == law.name).map_or("", |e| &e.because)
                )),
                Some(partly) => {
                    let except: Vec<String> = partly.iter().flat_map(|e| e.except.iter().cloned()).collect();
                    self.law(law, &except, out, runs)?;
                }
            }
        }
        Ok(())
    }

    fn clause(
        &self,
        clause: &contract::Clause,
        out: &mut Component,
        runs: &mut dyn Runs,
        engine: &mut dyn Expressions,
        faults: &mut Vec<FileFault>,
    ) -> Result<(), StageError> {
        let Some(held) = self.held else { return Ok(()) };
        let cases = match clause::cases(clause, self.combinations, &name_of(self.surface), engine) {
            Ok(cases) => cases,
            Err(fault) => {
                faults.push(expression_fault(held, &fault));
                out.reason = Some(Reason { message: "its contract has faults: see there".into(), place: None, file: true });
                return Ok(());
            }
        };
        if cases.is_empty() {
            let fault = Fault::new(clause.span, "this clause applies to no combination")
                .help("its `where` is true in none of the plan: check it, or add values under `props:`");
            faults.push(in_file(held.file, held.text, fault));
            out.reason = Some(Reason { message: "its contract has faults: see there".into(), place: None, file: true });
            return Ok(());
        }
        let mut checked = Vec::new();
        for case in &cases {
            let observation = runs.play(&case.script)?;
            let failure = clause::judge(case, &observation).into_iter().next();
            let events = observation.phases.iter().flat_map(|p| &p.events).map(in_words).collect();
            checked.push(Checked { combination: case.combination.clone(), failure, events, about: None });
        }
        let (line, column) = place_of(held.text, clause.span.start);
        let written = Place { file: held.file.to_owned(), line, column };
        out.clauses.push(rule(Some(clause.name.clone()), None, &checked));
        out.findings.extend(finding(self.surface, &clause.name, RuleKind::Clause, &checked, Some(written)));
        Ok(())
    }

    fn law(&self, law: &Law, except: &[String], out: &mut Component, runs: &mut dyn Runs) -> Result<(), StageError> {
        let matter = Matter { surface: self.surface, domains: self.domains, combinations: self.combinations, except };
        let checked = (law.check)(&matter, runs)?;
        out.laws.push(rule(None, Some(law.name.to_owned()), &checked));
        // A law about props is told prop by prop: each is a fault of its own.
        let mut abouts: Vec<Option<String>> = Vec::new();
        for c in &checked {
            if !abouts.contains(&c.about) {
                abouts.push(c.about.clone());
            }
        }
        for about in abouts {
            let of: Vec<Checked> = checked.iter().filter(|c| c.about == about).cloned().collect();
            let mut found = finding(self.surface, law.name, RuleKind::Law, &of, None);
            if about.is_some()
                && let Some(found) = &mut found
            {
                // The change of the prop is what makes it break; the values that it changed to say no more.
                found.cause = None;
            }
            out.findings.extend(found);
        }
        Ok(())
    }
}

fn rule(clause: Option<String>, law: Option<String>, checked: &[Checked]) -> Rule {
    let broke = checked.iter().filter(|c| c.failure.is_some()).count();
    Rule { clause, law, verdict: if broke == 0 { Verdict::Holds } else { Verdict::Broken }, checked: checked.len(), broke }
}

fn finding(surface: &Surface, name: &str, kind: RuleKind, checked: &[Checked], written: Option<Place>) -> Option<Finding> {
    let broken: Vec<&Combination> = checked.iter().filter(|c| c.failure.is_some()).map(|c| &c.combination).collect();
    let held: Vec<&Combination> = checked.iter().filter(|c| c.failure.is_none()).map(|c| &c.combination).collect();
    let shown = plainest(&checked.first()?.combination, &broken)?;
    let case = checked.iter().find(|c| c.failure.is_some() && c.combination == *shown)?;
    let failure: Failure = case.failure.clone()?;
    Some(Finding {
        rule: name.to_owned(),
        kind,
        cause: cause(&broken, &held),
        case: format!("{}@{}", surface.name, shown.tag()),
        combination: shown.in_words(),
        events: case.events.clone(),
        checked: checked.len(),
        broke: broken.len(),
        failure,
        written,
    })
}

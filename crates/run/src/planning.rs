//! From a component's surface and contract to what its props draw from, and the combinations.

use fidelon_core::Value;
use fidelon_core::contract::{Contract, Expression, PropValues};
use fidelon_core::judge::clause::{self, ExpressionFault, Subject};
use fidelon_core::locator::Locator;
use fidelon_core::plan::{self, Domain, Plan, Rule, Rules, Unplanned};
use fidelon_core::stage::{Combination, Expressions};
use fidelon_core::surface::{Surface, Type};

use crate::judging::name_of;

/// Why there is no plan.
pub(crate) enum PlanFault {
    /// An expression of `never` that cannot be evaluated.
    Expression(ExpressionFault),
    /// An expression of `never` about so many values that it cannot be tabulated.
    Wide(fidelon_source::Span, usize),
    /// Required props whose values nobody tells.
    Unknown(Vec<String>),
    /// See there.
    Unplanned(Unplanned),
}

/// What a component's props draw from, what cannot occur, and the combinations to be played.
pub(crate) struct Planned {
    pub(crate) domains: Vec<Domain>,
    pub(crate) rules: Rules,
    /// Which control each two-way prop is edited in, where the contract says so.
    pub(crate) edits: Vec<(String, Locator)>,
    /// Props whose values the contract lists.
    pub(crate) given: Vec<String>,
    pub(crate) plan: Plan,
    left_out: LeftOut,
}

/// What is left out of a plan, as a component cannot be played with it.
#[derive(Debug, Clone, Default, PartialEq)]
pub(crate) struct LeftOut {
    /// Values of props.
    pub(crate) values: Vec<(String, Value)>,
    /// Combinations in which no value alone is the reason.
    pub(crate) combinations: Vec<Combination>,
}

impl LeftOut {
    fn holds(&self, combination: &Combination) -> bool {
        self.combinations.contains(combination) || self.values.iter().any(|(prop, value)| combination.props.get(prop) == Some(value))
    }
}

impl Planned {
    /// True for a combination that can occur.
    pub(crate) fn allows(&self, combination: &Combination) -> bool {
        !self.left_out.holds(combination) && plan::row(&self.domains, combination).is_none_or(|row| self.rules.allow(&row))
    }
}

/// The plan of a component: the contract's values first, declared types for what it does not name.
pub(crate) fn plan_of(surface: &Surface, contract: Option<&Contract>, engine: &mut dyn Expressions) -> Result<Planned, PlanFault> {
    plan_without(&LeftOut::default(), surface, contract, engine)
}

/// The same without what cannot be played. Of a surface that was learnt from, see [`crate::learning`].
pub(crate) fn plan_without(
    left_out: &LeftOut,
    surface: &Surface,
    contract: Option<&Contract>,
    engine: &mut dyn Expressions,
) -> Result<Planned, PlanFault> {
    let mut domains = domains_of(surface, contract).map_err(PlanFault::Unknown)?;
    for domain in &mut domains {
        if let Domain::Prop(name, values) = domain {
            values.retain(|value| !left_out.values.iter().any(|(prop, out)| prop == name && out == value));
        }
    }
    let sizes: Vec<usize> = domains.iter().map(Domain::len).collect();
    let mut rules = Vec::new();
    for never in contract.map_or(&[][..], |c| &c.never) {
        rules.push(rule_of(never, &domains, Subject { name: &name_of(surface), surface }, engine)?);
    }
    rules.extend(of_uncontrolled(surface, contract, &domains));
    let together = of_variants(surface, contract, &domains);
    // Made-up values may fit no choice; then they are passed as if there were none.
    let with_variants = Rules::new(&sizes, rules.iter().cloned().chain(together).collect());
    let rules = if with_variants.is_satisfiable() { with_variants } else { Rules::new(&sizes, rules) };
    let mut plan = plan::plan(&domains, contract.and_then(|c| c.cover), &rules).map_err(PlanFault::Unplanned)?;
    plan.combinations.retain(|combination| !left_out.holds(combination));
    let bindings = contract.into_iter().flat_map(|c| &c.bindings);
    let edits = bindings.filter_map(|(prop, (binding, _))| Some((prop.clone(), binding.edit.clone()?))).collect();
    let listed = contract.into_iter().flat_map(|c| &c.props).filter(|(_, (values, _))| matches!(values, PropValues::These(_)));
    let given = listed.map(|(prop, _)| prop.clone()).collect();
    Ok(Planned { domains, rules, edits, given, plan, left_out: left_out.clone() })
}

/// A value and the one that it begins with are not passed together: who controls a value says it each time (React, "Controlled and
/// uncontrolled components"). A contract that lists one of them knows what it does.
fn of_uncontrolled(surface: &Surface, contract: Option<&Contract>, domains: &[Domain]) -> Vec<Rule> {
    if !surface.framework.record().passes_all_as_props {
        return Vec::new();
    }
    let is_free = |domain: &Domain| {
        let may_be_absent = matches!(domain, Domain::Prop(_, values) if values.contains(&Value::Absent));
        may_be_absent && contract.is_none_or(|c| !c.props.contains_key(domain.name()))
    };
    let begins = |name: &str| name.strip_prefix("default").filter(|rest| rest.starts_with(char::is_uppercase)).map(str::to_owned);
    let mut out = Vec::new();
    for (first, domain) in domains.iter().enumerate() {
        let Some(controlled) = begins(domain.name()) else { continue };
        let is_its = |other: &&Domain| other.name().eq_ignore_ascii_case(&controlled) && is_free(other) && is_free(domain);
        let Some(second) = domains.iter().position(|other| is_its(&other)) else { continue };
        let about = vec![first.min(second), first.max(second)];
        let named: Vec<Domain> = about.iter().map(|d| domains[*d].clone()).collect();
        let mut plain = Combination::default();
        named.iter().for_each(|d| d.put(0, &mut plain));
        let both = |row: &Combination| plain.with(row).props.values().all(|value| *value != Value::Absent);
        out.push(Rule { about, forbids: plan::every(&named).iter().map(both).collect() });
    }
    out
}

/// Props that go together are passed as one choice of their union has them. A rule is about two props: values of them that no choice has both.
/// A contract that lists values of a prop knows what it does.
fn of_variants(surface: &Surface, contract: Option<&Contract>, domains: &[Domain]) -> Vec<Rule> {
    let variants = &surface.variants;
    // For each value of a prop in which the choices differ, the choices that have it.
    let choices_of = |(index, domain): (usize, &Domain)| {
        let Domain::Prop(name, values) = domain else { return None };
        let prop = surface.prop(name).filter(|_| variants.iter().any(|v| v.props.iter().any(|p| p.name == *name)))?;
        let is_free = contract.is_none_or(|c| !c.props.contains_key(name));
        let of = |value: &Value| {
            let of: Vec<bool> = variants.iter().map(|v| v.admits(prop, value)).collect();
            // A value that no choice has was made up in a way of its own.
            if of.contains(&true) { of } else { vec![true; variants.len()] }
        };
        is_free.then(|| (index, values.iter().map(of).collect::<Vec<_>>()))
    };
    let told_apart: Vec<(usize, Vec<Vec<bool>>)> = domains.iter().enumerate().filter_map(choices_of).collect();
    let mut out = Vec::new();
    for (at, (first, of_first)) in told_apart.iter().enumerate() {
        for (second, of_second) in &told_apart[at + 1..] {
            let is_apart = |a: &[bool], b: &[bool]| !a.iter().zip(b).any(|(a, b)| *a && *b);
            let forbids: Vec<bool> = of_first.iter().flat_map(|a| of_second.iter().map(move |b| is_apart(a, b))).collect();
            if forbids.contains(&true) {
                out.push(Rule { about: vec![*first, *second], forbids });
            }
        }
    }
    out
}

/// The plainest combination: of each prop and slot the first that the contract gives, or that is declared.
pub(crate) fn plainest(surface: &Surface, contract: Option<&Contract>) -> Combination {
    put(&domains_of(surface, contract).unwrap_or_default(), |_| 0)
}

/// The plainest combination, and that which is farthest from it: what shows in neither of them shows seldom.
pub(crate) fn extremes(surface: &Surface, contract: Option<&Contract>) -> [Combination; 2] {
    let domains = domains_of(surface, contract).unwrap_or_default();
    [put(&domains, |_| 0), put(&domains, |of| of.saturating_sub(1))]
}

fn put(domains: &[Domain], which: impl Fn(usize) -> usize) -> Combination {
    let mut out = Combination::default();
    for domain in domains.iter().filter(|domain| !domain.is_empty()) {
        domain.put(which(domain.len()), &mut out);
    }
    out
}

/// Rows of one table: each costs an evaluation.
const MOST_ROWS: usize = 20_000;

/// What an expression forbids, tabulated over the domains that it names.
fn rule_of(never: &Expression, domains: &[Domain], subject: Subject<'_>, engine: &mut dyn Expressions) -> Result<Rule, PlanFault> {
    let words: Vec<&str> = never.text.split(|c: char| !(c.is_alphanumeric() || c == '_' || c == '$')).collect();
    let about: Vec<usize> = (0..domains.len()).filter(|d| words.contains(&domains[*d].name())).collect();
    let named: Vec<Domain> = about.iter().map(|d| domains[*d].clone()).collect();
    if plan::size(&named).is_none_or(|n| n > MOST_ROWS) {
        return Err(PlanFault::Wide(never.span, MOST_ROWS));
    }
    let mut plain = Combination::default();
    domains.iter().filter(|d| !d.is_empty()).for_each(|d| d.put(0, &mut plain));
    let forbids = plan::every(&named)
        .iter()
        .map(|row| clause::is_true(never, &plain.with(row), subject, engine))
        .collect::<Result<Vec<bool>, _>>()
        .map_err(PlanFault::Expression)?;
    Ok(Rule { about, forbids })
}

/// Domains by the contract, or by the declared types where there is none.
///
/// # Errors
/// Required props whose values nobody tells.
pub fn domains_of(surface: &Surface, contract: Option<&Contract>) -> Result<Vec<Domain>, Vec<String>> {
    let Some(contract) = contract else { return plan::declared(surface) };
    if let Some(scene) = &contract.scene {
        return Ok(scene.state.iter().map(|(field, start)| of_state(field, start, contract)).collect());
    }
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

/// What a field of a scene's state draws from: its start, then what the contract lists.
fn of_state(field: &str, start: &Value, contract: &Contract) -> Domain {
    let mut values = vec![start.clone()];
    if let Some((PropValues::These(more), _)) = contract.props.get(field) {
        values.extend(more.iter().filter(|v| *v != start).cloned());
    }
    Domain::Prop(field.to_owned(), values)
}

fn all_values(ty: &Type) -> Vec<Value> {
    match ty {
        Type::Boolean => vec![Value::json(false), Value::json(true)],
        Type::Union { of } => of.iter().cloned().map(Value::Json).collect(),
        _ => Vec::new(),
    }
}

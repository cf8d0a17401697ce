//! From a component's surface and contract to what its props draw from, and the combinations.

use fidelon_core::Value;
use fidelon_core::contract::{Contract, PropValues};
use fidelon_core::judge::clause::{self, ExpressionFault};
use fidelon_core::plan::{self, Domain};
use fidelon_core::stage::{Combination, Expressions};
use fidelon_core::surface::{Surface, Type};

use crate::judging::name_of;

/// Why there is no plan.
pub(crate) enum PlanFault {
    /// An expression of `never` that cannot be evaluated.
    Expression(ExpressionFault),
    /// Required props whose values nobody tells.
    Unknown(Vec<String>),
    /// So many combinations are asked for.
    Many(String),
    /// `never` leaves none.
    Empty,
}

/// The domains and combinations of a component: the contract's values first, declared types for what it does not name.
pub(crate) fn plan_of(
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

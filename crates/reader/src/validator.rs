//! What a validator of Vue's lets through, where that is a list: `validator: (unit) => UNITS.includes(unit)`.

use std::sync::Arc;

use fidelon_core::surface::Type;
use fidelon_types::lower;
use fidelon_types::syntax::Value;
use oxc::ast::ast::{
    ArrowFunctionBody, BinaryExpression, BinaryOperator, CallExpression, Expression, FormalParameters, FunctionBody, LogicalOperator,
    Statement, UnaryOperator,
};
use serde_json::Value as Json;

use crate::program::Script;
use crate::types::bare;

/// The values that a validator lets through; none where it decides by more than a list.
pub(crate) fn allowed(script: &Script<'_>, validator: &Expression<'_>) -> Option<Vec<Json>> {
    match bare(validator) {
        Expression::ArrowFunctionExpression(f) => {
            let check = Check { script, parameter: &first_of(&f.params)? };
            match &f.body {
                ArrowFunctionBody::FunctionBody(body) => check.lets_through(given_back(body)?),
                other => check.lets_through(other.as_expression()?),
            }
        }
        Expression::FunctionExpression(f) => {
            let check = Check { script, parameter: &first_of(&f.params)? };
            check.lets_through(given_back(f.body.as_ref()?)?)
        }
        Expression::Identifier(id) => {
            allowed(script, script.constants.get(id.name.as_str()).filter(|e| !matches!(e, Expression::Identifier(_)))?)
        }
        _ => None,
    }
}

/// The type of a prop that takes these values of what it is declared as.
pub(crate) fn within(declared: &Type, allowed: Vec<Json>) -> Type {
    let is_of = |ty: &Type, value: &Json| match ty {
        Type::String => value.is_string(),
        Type::Number => value.is_number(),
        Type::Boolean => value.is_boolean(),
        _ => false,
    };
    let is_declared = |value: &Json| match declared {
        Type::Unresolved { text } => text == "any",
        Type::Either { of } => of.iter().any(|ty| is_of(ty, value)),
        ty => is_of(ty, value),
    };
    let of: Vec<Json> = allowed.into_iter().filter(is_declared).collect();
    if of.is_empty() { declared.clone() } else { Type::Union { of } }
}

/// The name of the first parameter.
fn first_of(params: &FormalParameters<'_>) -> Option<String> {
    Some(params.items.first()?.pattern.get_binding_identifier()?.name.to_string())
}

/// What a body gives back, if that is all it does.
fn given_back<'e, 'a>(body: &'e FunctionBody<'a>) -> Option<&'e Expression<'a>> {
    match body.statements.as_slice() {
        [Statement::ReturnStatement(r)] => r.argument.as_ref(),
        _ => None,
    }
}

/// A question about a value.
struct Check<'c, 's> {
    script: &'c Script<'s>,
    /// The name of the value.
    parameter: &'c str,
}

impl Check<'_, '_> {
    /// The values of which an expression is true.
    fn lets_through(&self, expression: &Expression<'_>) -> Option<Vec<Json>> {
        match bare(expression) {
            Expression::CallExpression(call) => self.listed_by(call, &["includes", "has"]),
            Expression::BinaryExpression(binary) => self.compared(binary),
            Expression::LogicalExpression(logical) => {
                let (left, right) = (self.lets_through(&logical.left), self.lets_through(&logical.right));
                match logical.operator {
                    LogicalOperator::Or => Some(left?.into_iter().chain(right?).collect()),
                    // The other side asks for less: `typeof unit === 'string' && UNITS.includes(unit)`.
                    LogicalOperator::And => left.or(right),
                    LogicalOperator::Coalesce => None,
                }
            }
            Expression::UnaryExpression(unary) => match (unary.operator, bare(&unary.argument)) {
                (UnaryOperator::LogicalNot, Expression::UnaryExpression(inner)) if inner.operator == UnaryOperator::LogicalNot => {
                    self.lets_through(&inner.argument)
                }
                // `!unit || …`: nothing, too.
                (UnaryOperator::LogicalNot, argument) if self.is_value(argument) => Some(Vec::new()),
                (UnaryOperator::BitwiseNot, Expression::CallExpression(call)) => self.listed_by(call, &["indexOf"]),
                _ => None,
            },
            _ => None,
        }
    }

    fn compared(&self, binary: &BinaryExpression<'_>) -> Option<Vec<Json>> {
        if let Expression::CallExpression(call) = bare(&binary.left) {
            let is_in = match binary.operator {
                BinaryOperator::GreaterThan | BinaryOperator::Inequality | BinaryOperator::StrictInequality => -1.0,
                BinaryOperator::GreaterEqualThan => 0.0,
                _ => return None,
            };
            return (number(&binary.right)? == is_in).then(|| self.listed_by(call, &["indexOf"])).flatten();
        }
        if binary.operator == BinaryOperator::In && self.is_value(&binary.left) {
            let keys = Value::Path(["Object", "keys"].map(str::to_owned).to_vec());
            return self.listed(&Arc::new(Value::Call(Arc::new(keys), Vec::new(), vec![lower::value(bare(&binary.right))])));
        }
        let is_equality = matches!(binary.operator, BinaryOperator::Equality | BinaryOperator::StrictEquality);
        let other = match (self.is_value(&binary.left), self.is_value(&binary.right)) {
            (true, false) => &binary.right,
            (false, true) => &binary.left,
            _ => return None,
        };
        // `unit === undefined || …` and `unit == null || …`: nothing, too.
        if matches!(bare(other), Expression::NullLiteral(_)) || matches!(bare(other), Expression::Identifier(id) if id.name == "undefined")
        {
            return is_equality.then(Vec::new);
        }
        is_equality.then(|| self.listed(&Arc::new(Value::List(vec![lower::value(bare(other))])))).flatten()
    }

    /// What is listed where a call asks whether the value is in it.
    fn listed_by(&self, call: &CallExpression<'_>, methods: &[&str]) -> Option<Vec<Json>> {
        let Expression::StaticMemberExpression(member) = bare(&call.callee) else { return None };
        let asked = call.arguments.first()?.as_expression()?;
        if !methods.contains(&member.property.name.as_str()) || !self.is_value(asked) {
            return None;
        }
        let list = match bare(&member.object) {
            // `new Set(["C", "F"]).has(unit)`
            Expression::NewExpression(new) => bare(new.arguments.first()?.as_expression()?),
            other => other,
        };
        self.listed(&lower::value(list))
    }

    fn listed(&self, value: &Arc<Value>) -> Option<Vec<Json>> {
        self.script.checker().listed(value, &self.script.scope())
    }

    fn is_value(&self, expression: &Expression<'_>) -> bool {
        matches!(bare(expression), Expression::Identifier(id) if id.name == self.parameter)
    }
}

fn number(expression: &Expression<'_>) -> Option<f64> {
    match bare(expression) {
        Expression::NumericLiteral(n) => Some(n.value),
        Expression::UnaryExpression(u) if u.operator == UnaryOperator::UnaryNegation => number(&u.argument).map(|n| -n),
        _ => None,
    }
}

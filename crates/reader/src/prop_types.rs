//! What plain JavaScript declares of a component's props beside it: `KilnDial.propTypes = { heat: PropTypes.number.isRequired }`.

use fidelon_core::surface::{Field, Type};
use fidelon_types::lower;
use oxc::ast::ast::{
    AssignmentTarget, Class, ClassElement, Expression, ObjectExpression, ObjectPropertyKind, PropertyDefinition, Statement,
};
use oxc::span::GetSpan;

use crate::program::{Script, key_name};
use crate::types::{Member, bare, object_literal};

/// How deep types are read within types.
const MOST_DEPTH: usize = 5;

/// The props that a component declares by its `propTypes`, by name or within its class; none where it has none.
pub fn members(script: &Script<'_>, name: &str, class: Option<&Class<'_>>) -> Option<Vec<Member>> {
    let declared = assigned(script, name, "propTypes").or_else(|| class.and_then(|c| within(c, "propTypes")))?;
    let mut out = Vec::new();
    of_object(script, object_of(script, declared)?, &mut out, 0);
    Some(out)
}

/// The defaults that stand beside it: `KilnDial.defaultProps = { heat: 20 }`.
pub fn defaults(script: &Script<'_>, name: &str) -> Vec<(String, Option<String>)> {
    let Some(object) = assigned(script, name, "defaultProps").and_then(|e| object_of(script, e)) else { return Vec::new() };
    let texts = object.properties.iter().filter_map(|p| p.as_property());
    texts.filter_map(|p| Some((key_name(&p.key)?, Some(script.text(bare(&p.value).span()).to_owned())))).collect()
}

/// What is assigned to a member of a component at the top of the script.
fn assigned<'s, 'a>(script: &'s Script<'a>, name: &str, member: &str) -> Option<&'s Expression<'a>> {
    script.program.body.iter().find_map(|statement| {
        let Statement::ExpressionStatement(statement) = statement else { return None };
        let Expression::AssignmentExpression(assignment) = &statement.expression else { return None };
        let AssignmentTarget::StaticMemberExpression(target) = &assignment.left else { return None };
        let is_of = matches!(&target.object, Expression::Identifier(id) if id.name == name);
        (is_of && target.property.name == member).then_some(&assignment.right)
    })
}

fn within<'c, 'a>(class: &'c Class<'a>, member: &str) -> Option<&'c Expression<'a>> {
    let named = |field: &&PropertyDefinition<'a>| field.r#static && key_name(&field.key).as_deref() == Some(member);
    let fields = class.body.body.iter().filter_map(|element| match element {
        ClassElement::PropertyDefinition(field) => Some(&**field),
        _ => None,
    });
    fields.filter(|f| named(f)).find_map(|f| f.value.as_ref())
}

fn object_of<'s, 'a>(script: &'s Script<'a>, expression: &'s Expression<'a>) -> Option<&'s ObjectExpression<'a>> {
    match bare(expression) {
        Expression::Identifier(id) => object_literal(script.constants.get(id.name.as_str())?),
        other => object_literal(other),
    }
}

fn of_object(script: &Script<'_>, object: &ObjectExpression<'_>, out: &mut Vec<Member>, depth: usize) {
    for property in &object.properties {
        match property {
            ObjectPropertyKind::ObjectProperty(property) => {
                let Some(name) = key_name(&property.key) else { continue };
                let (ty, required) = of_type(script, &property.value, depth);
                let silent = ty == Type::Function;
                let told = script.told(property.span.start);
                out.retain(|m| m.name != name);
                out.push(Member { optional: !required, told, silent, ..Member::optional(name, ty) });
            }
            ObjectPropertyKind::SpreadProperty(spread) if depth < MOST_DEPTH => {
                if let Some(inner) = object_of(script, &spread.argument) {
                    of_object(script, inner, out, depth + 1);
                }
            }
            ObjectPropertyKind::SpreadProperty(_) => {}
        }
    }
}

/// The type that a checker stands for, and whether it is required.
fn of_type(script: &Script<'_>, expression: &Expression<'_>, depth: usize) -> (Type, bool) {
    let untold = || Type::Unresolved { text: script.text(expression.span()).chars().take(60).collect() };
    if depth > MOST_DEPTH {
        return (untold(), false);
    }
    match bare(expression) {
        Expression::StaticMemberExpression(member) if member.property.name == "isRequired" => {
            (of_type(script, &member.object, depth).0, true)
        }
        Expression::StaticMemberExpression(member) => (plain(member.property.name.as_str()).unwrap_or_else(untold), false),
        Expression::Identifier(id) => match script.constants.get(id.name.as_str()) {
            Some(init) => of_type(script, init, depth + 1),
            None => (plain(id.name.as_str()).unwrap_or_else(untold), false),
        },
        Expression::CallExpression(call) => {
            let name = match &call.callee {
                Expression::StaticMemberExpression(member) => member.property.name.as_str(),
                Expression::Identifier(id) => id.name.as_str(),
                _ => return (untold(), false),
            };
            let argument = call.arguments.first().and_then(|a| a.as_expression()).map(bare);
            let argument = argument.map(|a| match a {
                Expression::Identifier(id) => script.constants.get(id.name.as_str()).map_or(a, |init| bare(init)),
                other => other,
            });
            let ty = match (name, argument) {
                ("oneOf", Some(list)) => {
                    let listed = script.checker().listed(&lower::value(list), &script.scope());
                    listed.map_or_else(untold, |of| Type::Union { of })
                }
                ("oneOfType", Some(Expression::ArrayExpression(list))) => {
                    let types = list.elements.iter().filter_map(|e| Some(of_type(script, e.as_expression()?, depth + 1).0));
                    let of: Vec<Type> = types.filter(|ty| !matches!(ty, Type::Unresolved { .. })).collect();
                    match of.len() {
                        0 => untold(),
                        1 => of.into_iter().next().unwrap_or_else(untold),
                        _ => Type::Either { of },
                    }
                }
                ("arrayOf", Some(of)) => Type::Array { of: Box::new(of_type(script, of, depth + 1).0) },
                ("shape" | "exact", Some(Expression::ObjectExpression(object))) => {
                    let mut members = Vec::new();
                    of_object(script, object, &mut members, depth + 1);
                    let fields = members.into_iter().map(|m| Field { name: m.name, ty: m.ty, required: !m.optional });
                    Type::Object { fields: fields.collect() }
                }
                _ => untold(),
            };
            (ty, false)
        }
        _ => (untold(), false),
    }
}

fn plain(name: &str) -> Option<Type> {
    Some(match name {
        "string" => Type::String,
        "number" => Type::Number,
        "bool" => Type::Boolean,
        "func" => Type::Function,
        "node" | "element" => Type::Node,
        "array" => Type::Array { of: Box::new(Type::Unresolved { text: "any".into() }) },
        _ => return None,
    })
}

//! What a class of an element has of those above it: base classes and mixins, in this file and in others.

use oxc::ast::ast::{Argument, ArrowFunctionBody, Class, Declaration, Expression, Statement};

use super::class::{Read, read_at, read_members};
use crate::program::{Script, source_type, with_script};
use crate::types::bare;

/// How many classes and mixins are followed above a class.
const MOST_BASES: usize = 24;

/// Takes down what a class has of those that it extends, by name or by mixins (`Pressable(Focusable(HTMLElement))`); whether all of it
/// was read. `end` is the parameter of the mixin that the class stands in: what that stands for is known elsewhere.
pub(super) fn inherited(script: &Script<'_>, base: &Expression<'_>, end: &str, out: &mut Read, depth: usize) -> bool {
    if depth > MOST_BASES {
        return false;
    }
    match bare(base) {
        Expression::Identifier(id) => {
            let name = id.name.as_str();
            let ends = name == end || ["HTMLElement", "LitElement", "ReactiveElement"].contains(&name);
            ends || with_declared(script, name, &mut |script, declared| match declared {
                Declared::Class(class) => {
                    let read = read_at(script, class, depth + 1);
                    let whole = !read.open;
                    merge(read, out);
                    whole
                }
                Declared::Mixin(..) => false,
            })
            .unwrap_or(false)
        }
        Expression::StaticMemberExpression(member) => member.property.name.ends_with("LitElement"),
        // What is passed to a mixin is what its class extends.
        Expression::CallExpression(call) => {
            let mut whole = true;
            for argument in call.arguments.iter().filter_map(Argument::as_expression) {
                whole &= inherited(script, argument, end, out, depth + 1);
            }
            let Expression::Identifier(id) = bare(&call.callee) else { return false };
            let read = with_declared(script, id.name.as_str(), &mut |script, declared| match declared {
                Declared::Mixin(parameter, class) => {
                    let mut read = read_members(script, class);
                    let above = class.heritage.as_ref().is_none_or(|h| inherited(script, &h.expression, parameter, &mut read, depth + 1));
                    merge(read, out);
                    above
                }
                Declared::Class(_) => false,
            });
            whole && read.unwrap_or(false)
        }
        _ => false,
    }
}

/// What a name that a class extends stands for.
enum Declared<'e, 'a> {
    Class(&'e Class<'a>),
    /// A function that gives a class, and the name of what that extends.
    Mixin(&'e str, &'e Class<'a>),
}

/// Hands over what a name declares, in this file or in the one that it comes from.
fn with_declared<T>(script: &Script<'_>, name: &str, work: &mut dyn FnMut(&Script<'_>, Declared<'_, '_>) -> T) -> Option<T> {
    let found = script.program.body.iter().find_map(|statement| {
        let declaration = statement.as_declaration().or(match statement {
            Statement::ExportDeclaration(export) => Some(&export.declaration),
            _ => None,
        })?;
        declared_as(declaration, name)
    });
    if let Some(declared) = found {
        return Some(work(script, declared));
    }
    let (specifier, there) = script.imports.get(name)?;
    let file = script.file_of_code(specifier)?;
    let source = script.sources.open(&file)?;
    let wanted = if *there == "default" { name } else { there };
    with_script(script.sources, &file, &source, source_type(&file), |inner| with_declared(inner, wanted, work))?
}

fn declared_as<'e, 'a>(declaration: &'e Declaration<'a>, name: &str) -> Option<Declared<'e, 'a>> {
    match declaration {
        Declaration::ClassDeclaration(class) if class.id.as_ref().is_some_and(|id| id.name == name) => Some(Declared::Class(class)),
        Declaration::FunctionDeclaration(function) if function.id.as_ref().is_some_and(|id| id.name == name) => {
            let parameter = function.params.items.first()?.pattern.get_identifier_name()?;
            Some(Declared::Mixin(parameter.as_str(), class_in(&function.body.as_ref()?.statements)?))
        }
        Declaration::VariableDeclaration(variable) => {
            let declarator = variable.declarations.iter().find(|d| d.id.get_identifier_name().is_some_and(|n| n == name))?;
            match bare(declarator.init.as_ref()?) {
                Expression::ClassExpression(class) => Some(Declared::Class(class)),
                Expression::ArrowFunctionExpression(function) => {
                    let parameter = function.params.items.first()?.pattern.get_identifier_name()?;
                    let class = match &function.body {
                        ArrowFunctionBody::FunctionBody(body) => class_in(&body.statements)?,
                        body => match bare(body.as_expression()?) {
                            Expression::ClassExpression(class) => class,
                            _ => return None,
                        },
                    };
                    Some(Declared::Mixin(parameter.as_str(), class))
                }
                _ => None,
            }
        }
        _ => None,
    }
}

/// The class that the body of a mixin declares or gives.
fn class_in<'e, 'a>(statements: &'e [Statement<'a>]) -> Option<&'e Class<'a>> {
    statements.iter().find_map(|statement| match statement {
        Statement::ClassDeclaration(class) => Some(&**class),
        Statement::ReturnStatement(returned) => match bare(returned.argument.as_ref()?) {
            Expression::ClassExpression(class) => Some(&**class),
            _ => None,
        },
        _ => None,
    })
}

/// What a class has of one above it and does not say itself.
fn merge(above: Read, out: &mut Read) {
    for prop in above.props {
        if !out.props.iter().any(|p| p.name == prop.name) {
            out.props.push(prop);
        }
    }
    for event in above.events {
        if !out.events.iter().any(|e| e.name == event.name) {
            out.events.push(event);
        }
    }
    for name in above.exposes {
        if !out.exposes.contains(&name) && !out.props.iter().any(|p| p.name == name) {
            out.exposes.push(name);
        }
    }
    for slot in above.slots {
        if !out.slots.iter().any(|s| s.name == slot.name) {
            out.slots.push(slot);
        }
    }
}

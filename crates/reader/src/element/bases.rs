//! What a class of an element has of those above it: base classes and mixins, in this file and in others.

use std::collections::BTreeSet;
use std::path::PathBuf;

use oxc::ast::ast::{Argument, ArrowFunctionBody, Class, Declaration, ExportDefaultDeclarationKind, Expression, Function, Statement};

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
            let read = |script: &Script<'_>, declared: &Expressed<'_, '_>| match declared {
                Expressed::Class(class) => {
                    let read = read_at(script, class, depth + 1);
                    let whole = !read.open;
                    merge(read, out);
                    whole
                }
                // `const Base = Pressable(HTMLElement)`.
                Expressed::Made(call) => inherited(script, call, end, out, depth + 1),
                Expressed::Mixin(..) => false,
            };
            ends || with_declared(script, name, read).unwrap_or(false)
        }
        Expression::StaticMemberExpression(member) => member.property.name.ends_with("LitElement"),
        // What is passed to a mixin is what its class extends.
        Expression::CallExpression(call) => {
            let mut whole = true;
            for argument in call.arguments.iter().filter_map(Argument::as_expression) {
                whole &= inherited(script, argument, end, out, depth + 1);
            }
            let Expression::Identifier(id) = bare(&call.callee) else { return false };
            whole && mixed_in(script, id.name.as_str(), out, depth).unwrap_or(false)
        }
        _ => false,
    }
}

/// Takes down what a mixin brings; whether all of it was read.
fn mixed_in(script: &Script<'_>, name: &str, out: &mut Read, depth: usize) -> Option<bool> {
    if depth > MOST_BASES {
        return None;
    }
    with_declared(script, name, |script, declared| brought(script, declared, out, depth))?
}

fn brought(script: &Script<'_>, declared: &Expressed<'_, '_>, out: &mut Read, depth: usize) -> Option<bool> {
    match declared {
        Expressed::Mixin(parameter, class) => {
            let mut read = read_members(script, class);
            let above = class.heritage.as_ref().is_none_or(|h| inherited(script, &h.expression, parameter, &mut read, depth + 1));
            merge(read, out);
            Some(above)
        }
        // A function that a helper gives back, applied once to a class however often it is asked: `once(base => class extends base { … })`.
        Expressed::Made(Expression::CallExpression(call)) => {
            let handed = bare(call.arguments.first()?.as_expression()?);
            match handed {
                Expression::Identifier(id) => mixed_in(script, id.name.as_str(), out, depth + 1),
                handed => brought(script, &expressed(handed)?, out, depth + 1),
            }
        }
        _ => None,
    }
}

/// What a name that a class extends stands for.
enum Expressed<'e, 'a> {
    Class(&'e Class<'a>),
    /// A function that gives a class, and the name of what that extends.
    Mixin(&'e str, &'e Class<'a>),
    /// What a call gives.
    Made(&'e Expression<'a>),
}

/// Hands over the class that a name declares, in this file or in one that it comes from.
pub(super) fn with_class<T>(script: &Script<'_>, name: &str, work: impl FnOnce(&Script<'_>, &Class<'_>) -> T) -> Option<T> {
    with_declared(script, name, |script, declared| match declared {
        Expressed::Class(class) => Some(work(script, class)),
        _ => None,
    })?
}

/// Hands over what a name declares, in this file or in the one that it comes from.
fn with_declared<T>(script: &Script<'_>, name: &str, work: impl FnOnce(&Script<'_>, &Expressed<'_, '_>) -> T) -> Option<T> {
    let mut work = Some(work);
    let mut once = |script: &Script<'_>, declared: &Expressed<'_, '_>| work.take().map(|work| work(script, declared));
    search(script, name, &mut BTreeSet::new(), &mut once)?
}

/// Looks for what a name declares: here, in the file that it is imported or passed on from, or in one of which all is passed on. No file is
/// asked twice for a name, so that files which pass on each other's come to an end.
fn search<T>(
    script: &Script<'_>,
    name: &str,
    asked: &mut BTreeSet<(PathBuf, String)>,
    work: &mut dyn FnMut(&Script<'_>, &Expressed<'_, '_>) -> T,
) -> Option<T> {
    if !asked.insert((script.path.clone(), name.to_owned())) {
        return None;
    }
    let body = &script.program.body;
    let declared = body.iter().find_map(|statement| {
        let declaration = statement.as_declaration().or(match statement {
            Statement::ExportDeclaration(export) => Some(&export.declaration),
            Statement::ExportDefaultDeclaration(export) if name == "default" => return of_default(&export.declaration),
            _ => None,
        })?;
        declared_as(declaration, name)
    });
    if let Some(declared) = declared {
        return Some(work(script, &declared));
    }
    // `export { Dial as KilnDial }`, `export default Dial`: the same under another name.
    let other = body.iter().find_map(|statement| match statement {
        Statement::ExportNamedDeclaration(export) => {
            let named = export.specifiers.iter().find(|s| s.exported.name() == name)?;
            Some(named.local.name().to_string()).filter(|local| local != name)
        }
        Statement::ExportDefaultDeclaration(export) if name == "default" => match &export.declaration {
            ExportDefaultDeclarationKind::Identifier(id) => Some(id.name.to_string()),
            _ => None,
        },
        _ => None,
    });
    if let Some(other) = other {
        return search(script, &other, asked, work);
    }
    let mut elsewhere = |specifier: &str, there: &str| {
        let file = script.file_of_code(specifier)?;
        let source = script.sources.open(&file)?;
        with_script(script.sources, &file, &source, source_type(&file), |inner| search(inner, there, asked, work))?
    };
    if let Some((specifier, there)) = script.imports.get(name) {
        return elsewhere(specifier, there);
    }
    body.iter().find_map(|statement| match statement {
        Statement::ExportAllDeclaration(all) if all.exported.is_none() && name != "default" => elsewhere(&all.source.value, name),
        _ => None,
    })
}

fn of_default<'e, 'a>(declared: &'e ExportDefaultDeclarationKind<'a>) -> Option<Expressed<'e, 'a>> {
    match declared {
        ExportDefaultDeclarationKind::ClassDeclaration(class) => Some(Expressed::Class(class)),
        ExportDefaultDeclarationKind::FunctionDeclaration(function) => mixin(function),
        other => expressed(other.as_expression()?),
    }
}

fn declared_as<'e, 'a>(declaration: &'e Declaration<'a>, name: &str) -> Option<Expressed<'e, 'a>> {
    match declaration {
        Declaration::ClassDeclaration(class) if class.id.as_ref().is_some_and(|id| id.name == name) => Some(Expressed::Class(class)),
        Declaration::FunctionDeclaration(function) if function.id.as_ref().is_some_and(|id| id.name == name) => mixin(function),
        Declaration::VariableDeclaration(variable) => {
            let declarator = variable.declarations.iter().find(|d| d.id.get_identifier_name().is_some_and(|n| n == name))?;
            expressed(declarator.init.as_ref()?)
        }
        _ => None,
    }
}

fn mixin<'e, 'a>(function: &'e Function<'a>) -> Option<Expressed<'e, 'a>> {
    let parameter = function.params.items.first()?.pattern.get_identifier_name()?;
    Some(Expressed::Mixin(parameter.as_str(), class_in(&function.body.as_ref()?.statements)?))
}

fn expressed<'e, 'a>(value: &'e Expression<'a>) -> Option<Expressed<'e, 'a>> {
    match bare(value) {
        Expression::ClassExpression(class) => Some(Expressed::Class(class)),
        Expression::FunctionExpression(function) => mixin(function),
        Expression::ArrowFunctionExpression(function) => {
            let parameter = function.params.items.first()?.pattern.get_identifier_name()?;
            let class = match &function.body {
                ArrowFunctionBody::FunctionBody(body) => class_in(&body.statements)?,
                body => match bare(body.as_expression()?) {
                    Expression::ClassExpression(class) => class,
                    _ => return None,
                },
            };
            Some(Expressed::Mixin(parameter.as_str(), class))
        }
        call @ Expression::CallExpression(_) => Some(Expressed::Made(call)),
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

//! Decorators as they stand in a source, and as compilers write them for engines without them: `decorate([property()], Dial.prototype,
//! 'target', 2)` for a member, `Dial = decorate([customElement('kiln-dial')], Dial)` for the class. Each compiler calls its helper
//! differently; the arguments are the same.

use fidelon_core::surface::Type;
use oxc::ast::ast::{Argument, CallExpression, Expression, ObjectPropertyKind};
use oxc::ast_visit::{Visit, walk};

use super::class::{constructor, tag_of};
use crate::program::{Script, key_name};
use crate::types::{bare, object_literal};

/// Decorators that keep something for the element itself: no parent passes it.
const OWN: [&str; 6] = ["state", "query", "queryAll", "queryAssignedElements", "queryAssignedNodes", "queryAsync"];
/// Options that only a property of an element has.
const OPTIONS: [&str; 6] = ["type", "attribute", "reflect", "converter", "hasChanged", "noAccessor"];

/// One decorator.
#[derive(Debug)]
pub(super) struct Applied {
    /// What it is called where it comes from: `import { property as p }`.
    name: String,
    /// What it is given, where that could be a tag.
    tag: Option<String>,
    /// The names of the options that it is given.
    options: Vec<String>,
    /// The type that its options name.
    pub(super) ty: Option<Type>,
}

impl Applied {
    /// What stands after `@`, or in the list of a helper.
    pub(super) fn of(script: &Script<'_>, expression: &Expression<'_>) -> Option<Self> {
        let (called, argument) = match bare(expression) {
            Expression::CallExpression(call) => (bare(&call.callee), call.arguments.first().and_then(Argument::as_expression)),
            other => (other, None),
        };
        let Expression::Identifier(id) = called else { return None };
        let there = script.imports.get(id.name.as_str()).map(|(_, there)| *there).filter(|there| !["default", "*"].contains(there));
        let options = argument.and_then(object_literal);
        let keys = options.iter().flat_map(|o| &o.properties).filter_map(|p| match p {
            ObjectPropertyKind::ObjectProperty(p) => key_name(&p.key),
            ObjectPropertyKind::SpreadProperty(_) => None,
        });
        Some(Self {
            name: there.unwrap_or(id.name.as_str()).to_owned(),
            tag: argument.and_then(tag_of),
            options: keys.collect(),
            ty: options.and_then(|o| constructor(script, o)),
        })
    }

    /// Whether it makes a member a property that parents set. In minified code names are lost, options are not.
    pub(super) fn is_property(&self) -> bool {
        !self.keeps() && (self.name == "property" || self.options.iter().any(|o| OPTIONS.contains(&o.as_str())))
    }

    /// The tag that it registers a class under. `head` is the class up to its members: classes of servers are given routes with hyphens, so
    /// that one of both must speak of elements. In minified code neither does.
    pub(super) fn registers(&self, head: &str) -> Option<&String> {
        let of_elements = self.name.contains("lement") || head.contains("Element") || self.name.len() <= 2;
        self.tag.as_ref().filter(|_| of_elements)
    }

    /// Whether it makes a member the element's own.
    pub(super) fn keeps(&self) -> bool {
        OWN.contains(&self.name.as_str()) || self.options.iter().any(|o| o == "state")
    }
}

/// Decorators that a compiler wrote as a call.
#[derive(Debug)]
pub(crate) struct Compiled {
    /// The class as it is called in the file.
    pub(super) class: String,
    /// The member they stand at; none for those of the class.
    pub(super) member: Option<String>,
    /// In order.
    pub(super) applied: Vec<Applied>,
    /// Where the call begins.
    pub(super) start: u32,
}

/// All that a compiler wrote as calls in a script, in order.
pub(crate) fn compiled(script: &Script<'_>) -> Vec<Compiled> {
    let mut calls = Calls { script, found: Vec::new() };
    calls.visit_program(script.program);
    calls.found
}

struct Calls<'s, 'a> {
    script: &'s Script<'a>,
    found: Vec<Compiled>,
}

impl Calls<'_, '_> {
    fn read(&self, call: &CallExpression<'_>) -> Option<Compiled> {
        let (list, on) = (call.arguments.first()?.as_expression()?, call.arguments.get(1)?.as_expression()?);
        let Expression::ArrayExpression(list) = bare(list) else { return None };
        let (class, member) = match bare(on) {
            Expression::Identifier(class) if call.arguments.len() == 2 => (class, None),
            Expression::StaticMemberExpression(member) if member.property.name == "prototype" => {
                let Expression::Identifier(class) = bare(&member.object) else { return None };
                let Argument::StringLiteral(name) = call.arguments.get(2)? else { return None };
                (class, Some(name.value.to_string()))
            }
            _ => return None,
        };
        let applied: Vec<Applied> = list.elements.iter().filter_map(|e| Applied::of(self.script, e.as_expression()?)).collect();
        let found = Compiled { class: class.name.to_string(), member, applied, start: call.span.start };
        Some(found).filter(|f| !f.applied.is_empty())
    }
}

impl<'a> Visit<'a> for Calls<'_, 'a> {
    fn visit_call_expression(&mut self, call: &CallExpression<'a>) {
        let found = self.read(call);
        self.found.extend(found);
        walk::walk_call_expression(self, call);
    }
}

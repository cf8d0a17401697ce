//! The class of a custom element: its accessors, fields, attributes, events and methods.

use fidelon_core::naming::camel;
use fidelon_core::surface::{Event, Prop, Slot, Type, event_name};
use oxc::ast::ast::{
    Argument, AssignmentTarget, Class, ClassElement, Expression, MethodDefinition, MethodDefinitionKind, NewExpression, ObjectExpression,
    ObjectPropertyKind, PropertyDefinition, Statement, TSAccessibility, TSType, UnaryOperator,
};
use oxc::ast_visit::{Visit, walk};
use oxc::span::GetSpan;

use super::bases::inherited;
use super::decorators::Applied;
use super::tags::{is_nothing, said_type, slots, tags};
use crate::program::{Script, Told, key_name};
use crate::types::{self, bare, object_literal};

/// A class as read.
#[derive(Default, Clone)]
pub(super) struct Read {
    pub(super) props: Vec<Prop>,
    pub(super) events: Vec<Event>,
    pub(super) exposes: Vec<String>,
    pub(super) slots: Vec<Slot>,
    /// The tag that it says it wants to be registered under.
    pub(super) tag: Option<String>,
    /// True when it extends something that was not read.
    pub(super) open: bool,
}

/// Methods that the page or a library calls, no parent.
const CALLED: [&str; 22] = [
    "connectedCallback",
    "disconnectedCallback",
    "adoptedCallback",
    "connectedMoveCallback",
    "attributeChangedCallback",
    "formAssociatedCallback",
    "formResetCallback",
    "formDisabledCallback",
    "formStateRestoreCallback",
    "render",
    "update",
    "updated",
    "willUpdate",
    "firstUpdated",
    "shouldUpdate",
    "createRenderRoot",
    "performUpdate",
    "scheduleUpdate",
    "getUpdateComplete",
    "requestUpdate",
    "handleEvent",
    "constructor",
];

fn is_private(name: &str, accessibility: Option<TSAccessibility>) -> bool {
    name.starts_with(['_', '#']) || matches!(accessibility, Some(TSAccessibility::Private | TSAccessibility::Protected))
}

pub(super) fn read(script: &Script<'_>, class: &Class<'_>) -> Read {
    read_at(script, class, 0)
}

/// A class with what is above it, which is `depth` steps above another.
pub(super) fn read_at(script: &Script<'_>, class: &Class<'_>, depth: usize) -> Read {
    let mut out = read_members(script, class);
    out.open = class.heritage.as_ref().is_none_or(|h| !inherited(script, &h.expression, "", &mut out, depth));
    out
}

/// What a class says itself.
pub(super) fn read_members(script: &Script<'_>, class: &Class<'_>) -> Read {
    let mut out = Read::default();
    let text = script.text(class.span);
    let mut observed = Vec::new();
    let mut getters: Vec<(String, Option<Type>, Told)> = Vec::new();
    for element in &class.body.body {
        match element {
            ClassElement::PropertyDefinition(field) => {
                if let Some(name) = key_name(&field.key) {
                    field_of(script, &name, field, &mut out, &mut observed);
                }
            }
            ClassElement::AccessorProperty(field) => {
                if let Some(name) = key_name(&field.key).filter(|n| !field.r#static && !is_private(n, field.accessibility)) {
                    let annotated = field.type_annotation.as_ref().map(|a| types::declared(script, &a.type_annotation));
                    let ty = annotated.or_else(|| field.value.as_ref().map(|v| type_of(script, v))).unwrap_or_else(untyped);
                    let default = field.value.as_ref().map(|v| script.text(v.span()).to_owned());
                    add(&mut out.props, Prop { default, ..script.told(field.span.start).prop(name, ty) });
                }
            }
            ClassElement::MethodDefinition(method) => {
                if let Some(name) = key_name(&method.key) {
                    method_of(script, &name, method, &mut out, &mut observed, &mut getters);
                }
            }
            _ => {}
        }
    }
    // What can only be read stays so, whatever decorates it.
    decorated(script, class, &|name| getters.iter().any(|(n, ..)| n == name), &mut out);
    // What can be read and set is a prop, what can only be read is offered to the parent.
    for (name, ty, told) in getters {
        match out.props.iter_mut().find(|p| p.name == name) {
            Some(known) => {
                if let (Type::Unresolved { .. }, Some(ty)) = (&known.ty, ty) {
                    known.ty = ty;
                }
                known.about = known.about.take().or(told.about);
            }
            None => out.exposes.push(name),
        }
    }
    defaults(script, class, &mut out.props);
    for attribute in observed {
        let named = camel(&attribute);
        match out.props.iter_mut().find(|p| p.name == attribute || p.name == named) {
            Some(known) => {
                if matches!(known.ty, Type::Unresolved { .. }) {
                    known.ty = attribute_type(text, &attribute);
                }
            }
            None => out.props.push(Prop::new(attribute.clone(), attribute_type(text, &attribute))),
        }
    }
    let mut dispatched = Dispatched { script, events: Vec::new() };
    dispatched.visit_class_body(&class.body);
    out.events = dispatched.events;
    out.slots = slots(text);
    tags(script, class.span.start, &mut out);
    out
}

/// Takes down what decorators say that a compiler wrote as calls. `is_read` tells members that have a getter.
fn decorated(script: &Script<'_>, class: &Class<'_>, is_read: &dyn Fn(&str) -> bool, out: &mut Read) {
    let bound = || script.constants.iter().find(|(_, value)| matches!(bare(value), Expression::ClassExpression(c) if c.span == class.span));
    let Some(name) = class.id.as_ref().map(|id| id.name.as_str()).or_else(|| bound().map(|(name, _)| *name)) else { return };
    for compiled in script.compiled().iter().filter(|c| c.class == name) {
        let Some(member) = compiled.member.as_ref().filter(|m| !is_private(m, None)) else { continue };
        if compiled.applied.iter().any(Applied::keeps) {
            out.props.retain(|p| p.name != *member);
        } else if let Some(property) = compiled.applied.iter().find(|a| a.is_property())
            && (!is_read(member) || out.props.iter().any(|p| p.name == *member))
        {
            add(&mut out.props, script.told(compiled.start).prop(member, property.ty.clone().unwrap_or_else(untyped)));
        }
    }
}

/// What a constructor gives to properties is their default: `this.target = 1200`.
fn defaults(script: &Script<'_>, class: &Class<'_>, props: &mut [Prop]) {
    let constructor = class.body.body.iter().find_map(|element| match element {
        ClassElement::MethodDefinition(method) if method.kind == MethodDefinitionKind::Constructor => method.value.body.as_ref(),
        _ => None,
    });
    for statement in constructor.iter().flat_map(|body| &body.statements) {
        let Statement::ExpressionStatement(statement) = statement else { continue };
        let Expression::AssignmentExpression(assignment) = bare(&statement.expression) else { continue };
        let AssignmentTarget::StaticMemberExpression(member) = &assignment.left else { continue };
        if !matches!(member.object, Expression::ThisExpression(_)) {
            continue;
        }
        if let Some(prop) = props.iter_mut().find(|p| member.property.name == *p.name) {
            prop.default.get_or_insert_with(|| script.text(assignment.right.span()).to_owned());
            let ty = type_of(script, &assignment.right);
            if matches!(prop.ty, Type::Unresolved { .. }) && !matches!(ty, Type::Unresolved { .. }) {
                prop.ty = ty;
            }
        }
    }
}

fn field_of(script: &Script<'_>, name: &str, field: &PropertyDefinition<'_>, out: &mut Read, observed: &mut Vec<String>) {
    if field.r#static {
        match (name, &field.value) {
            ("observedAttributes", Some(value)) => observed.extend(words(value)),
            ("properties", Some(value)) => {
                if let Some(object) = object_literal(value) {
                    properties(script, object, out);
                }
            }
            (_, Some(value)) => out.tag = out.tag.take().or_else(|| tag_of(value)),
            _ => {}
        }
        return;
    }
    let decorators: Vec<Applied> = field.decorators.iter().filter_map(|d| Applied::of(script, &d.expression)).collect();
    if is_private(name, field.accessibility) || field.readonly || field.declare || CALLED.contains(&name) {
        // `declare label: string` tells the type of what `static properties` lists.
        if let Some(annotation) = &field.type_annotation
            && let Some(known) = out.props.iter_mut().find(|p| p.name == name)
        {
            known.ty = types::declared(script, &annotation.type_annotation);
        }
        return;
    }
    if decorators.iter().any(Applied::keeps) {
        return;
    }
    if matches!(field.value.as_ref().map(bare), Some(Expression::ArrowFunctionExpression(_) | Expression::FunctionExpression(_))) {
        return;
    }
    let annotated = field.type_annotation.as_ref().map(|a| types::declared(script, &a.type_annotation));
    let ty = annotated
        .or_else(|| decorators.into_iter().filter(Applied::is_property).find_map(|d| d.ty))
        .or_else(|| said_type(script, field.span.start))
        .or_else(|| field.value.as_ref().map(|v| type_of(script, v)))
        .unwrap_or_else(untyped);
    let default = field.value.as_ref().map(|v| script.text(v.span()).to_owned());
    add(&mut out.props, Prop { default, ..script.told(field.span.start).prop(name, ty) });
}

fn method_of(
    script: &Script<'_>,
    name: &str,
    method: &MethodDefinition<'_>,
    out: &mut Read,
    observed: &mut Vec<String>,
    getters: &mut Vec<(String, Option<Type>, Told)>,
) {
    if method.r#static {
        let returned = method.value.body.as_ref().and_then(|b| b.statements.iter().find_map(returned));
        match (name, method.kind, returned) {
            ("observedAttributes", MethodDefinitionKind::Get, Some(value)) => observed.extend(words(value)),
            ("properties", MethodDefinitionKind::Get, Some(value)) => {
                if let Some(object) = object_literal(value) {
                    properties(script, object, out);
                }
            }
            (_, MethodDefinitionKind::Get, Some(value)) => out.tag = out.tag.take().or_else(|| tag_of(value)),
            _ => {}
        }
        return;
    }
    if is_private(name, method.accessibility) || CALLED.contains(&name) {
        return;
    }
    let told = script.told(method.span.start);
    match method.kind {
        MethodDefinitionKind::Method => {
            // A handler is called by the element's own template.
            let handles = ["on", "handle"].iter().any(|p| name.strip_prefix(p).is_some_and(|r| r.starts_with(|c: char| c.is_uppercase())));
            if !handles && !out.exposes.iter().any(|e| e == name) {
                out.exposes.push(name.to_owned());
            }
        }
        MethodDefinitionKind::Get => {
            let annotated = method.value.return_type.as_ref().map(|r| types::declared(script, &r.type_annotation));
            let ty = annotated.or_else(|| said_type(script, method.span.start));
            getters.push((name.to_owned(), ty, told));
        }
        MethodDefinitionKind::Set => {
            let first = method.value.params.items.first();
            let annotated = first.and_then(|p| p.type_annotation.as_ref()).map(|a| types::declared(script, &a.type_annotation));
            let ty = annotated.or_else(|| said_type(script, method.span.start));
            add(&mut out.props, told.prop(name, ty.unwrap_or_else(untyped)));
        }
        MethodDefinitionKind::Constructor => {}
    }
}

/// A text that is the name of a custom element (HTML §4.13.3).
pub(super) fn tag_of(value: &Expression<'_>) -> Option<String> {
    let Expression::StringLiteral(text) = bare(value) else { return None };
    let is_name = text.value.starts_with(|c: char| c.is_ascii_lowercase())
        && text.value.contains('-')
        && text.value.chars().all(|c| c.is_ascii_lowercase() || c.is_ascii_digit() || "-._".contains(c));
    is_name.then(|| text.value.to_string())
}

fn returned<'e, 'a>(statement: &'e Statement<'a>) -> Option<&'e Expression<'a>> {
    match statement {
        Statement::ReturnStatement(r) => r.argument.as_ref(),
        _ => None,
    }
}

/// The texts of a list of texts.
fn words(value: &Expression<'_>) -> Vec<String> {
    match bare(value) {
        Expression::ArrayExpression(list) => list
            .elements
            .iter()
            .filter_map(|e| match e.as_expression().map(bare) {
                Some(Expression::StringLiteral(text)) => Some(text.value.to_string()),
                _ => None,
            })
            .collect(),
        _ => Vec::new(),
    }
}

/// `static properties = { target: { type: Number }, glaze: String }`.
fn properties(script: &Script<'_>, object: &ObjectExpression<'_>, out: &mut Read) {
    for entry in &object.properties {
        let ObjectPropertyKind::ObjectProperty(entry) = entry else { continue };
        let Some(name) = key_name(&entry.key).filter(|n| !is_private(n, None)) else { continue };
        let inner = object_literal(&entry.value);
        let is_state = inner.is_some_and(|o| {
            o.properties.iter().any(|p| matches!(p, ObjectPropertyKind::ObjectProperty(p) if key_name(&p.key).as_deref() == Some("state")))
        });
        if is_state {
            continue;
        }
        let ty =
            inner.and_then(|o| constructor(script, o)).or_else(|| by_constructor(script.text(entry.value.span()))).unwrap_or_else(untyped);
        add(&mut out.props, script.told(entry.span.start).prop(name, ty));
    }
}

/// The `type` of a property's options.
pub(super) fn constructor(script: &Script<'_>, options: &ObjectExpression<'_>) -> Option<Type> {
    options.properties.iter().find_map(|p| match p {
        ObjectPropertyKind::ObjectProperty(p) if key_name(&p.key).as_deref() == Some("type") => by_constructor(script.text(p.value.span())),
        _ => None,
    })
}

fn by_constructor(text: &str) -> Option<Type> {
    Some(match text {
        "String" => Type::String,
        "Number" => Type::Number,
        "Boolean" => Type::Boolean,
        "Date" => Type::Date,
        "Function" => Type::Function,
        "Array" => Type::Array { of: Box::new(untyped()) },
        "Object" => Type::Unresolved { text: "Object".into() },
        _ => return None,
    })
}

/// What a value tells of the type of what it is given to.
fn type_of(script: &Script<'_>, value: &Expression<'_>) -> Type {
    match bare(value) {
        Expression::StringLiteral(_) | Expression::TemplateLiteral(_) => Type::String,
        Expression::UnaryExpression(unary) if unary.operator == UnaryOperator::LogicalNot => Type::Boolean,
        Expression::UnaryExpression(unary) if unary.operator == UnaryOperator::Void => untyped(),
        Expression::NumericLiteral(_) | Expression::UnaryExpression(_) => Type::Number,
        Expression::BooleanLiteral(_) => Type::Boolean,
        Expression::ArrayExpression(_) => Type::Array { of: Box::new(untyped()) },
        other => Type::Unresolved { text: script.text(other.span()).to_owned() },
    }
}

pub(super) fn untyped() -> Type {
    Type::Unresolved { text: "any".into() }
}

/// What the class does with an attribute tells what it holds.
fn attribute_type(class: &str, name: &str) -> Type {
    let said = |call: &str| [format!("{call}('{name}'"), format!("{call}(\"{name}\"")].iter().any(|c| class.contains(c.as_str()));
    let number = ["Number(this.getAttribute", "parseFloat(this.getAttribute", "parseInt(this.getAttribute", "+this.getAttribute"];
    if said("hasAttribute") || said("toggleAttribute") {
        Type::Boolean
    } else if number.iter().any(|call| said(call)) {
        Type::Number
    } else {
        Type::String
    }
}

/// What is told twice is told best with a type.
pub(super) fn add(props: &mut Vec<Prop>, prop: Prop) {
    match props.iter_mut().find(|p| p.name == prop.name) {
        Some(known) => {
            if matches!(known.ty, Type::Unresolved { .. }) {
                known.ty = prop.ty;
            }
            known.default = known.default.take().or(prop.default);
            known.about = known.about.take().or(prop.about);
            known.place = known.place.take().or(prop.place);
        }
        None => props.push(prop),
    }
}

/// The events that are dispatched, `new CustomEvent<number>('turned', …)` with what they carry.
struct Dispatched<'s, 'a> {
    script: &'s Script<'a>,
    events: Vec<Event>,
}

impl<'a> Visit<'a> for Dispatched<'_, 'a> {
    fn visit_new_expression(&mut self, new: &NewExpression<'a>) {
        if let Expression::Identifier(class) = &new.callee
            && (class.name == "Event" || class.name.ends_with("Event"))
            && let Some(Argument::StringLiteral(name)) = new.arguments.first()
            && !self.events.iter().any(|e| name.value == *e.written)
        {
            let carried = new.type_arguments.as_ref().and_then(|a| a.params.first()).filter(|_| class.name == "CustomEvent");
            let nothing = |t: &TSType<'_>| is_nothing(self.script.text(t.span()));
            let payload = carried.map(|t| if nothing(t) { Vec::new() } else { vec![types::declared(self.script, t)] });
            self.events.push(Event { payload, ..Event::new(event_name(&name.value), name.value.to_string()) });
        }
        walk::walk_new_expression(self, new);
    }
}

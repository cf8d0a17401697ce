//! Angular: exported classes with `@Component` or `@Directive`: signal inputs, models, outputs and queries, their decorated form, and the content that
//! their templates project.

use std::path::Path;

use fidelon_core::surface::{Event, Framework, Prop, Slot, Surface, Type, event_name};
use oxc::ast::ast::{
    Argument, CallExpression, Class, ClassElement, Decorator, Expression, MethodDefinition, MethodDefinitionKind, ObjectExpression,
    PropertyDefinition, Statement, TSAccessibility, TSType,
};
use oxc::span::GetSpan;

use crate::program::{Script, Sources, Told, key_name, source_type, with_script};
use crate::sfc::{self, Dialect};
use crate::types::{self, bare, object_literal};

/// Whether a script may declare a component, or a directive that a template can use, by a look at its text.
pub fn may_declare(source: &str) -> bool {
    let declares = source.contains("@Component(") || source.contains("@Directive(") && source.contains("selector");
    declares && source.contains("@angular/core")
}

/// The surfaces of all components that a file exports.
pub fn surfaces(sources: Sources<'_>, path: &Path, shown: &str, source: &str) -> Vec<Surface> {
    let found = with_script(sources, path, source, source_type(path), |script| {
        exported(script).into_iter().map(|(class, export)| surface(script, class, &export, shown)).collect::<Vec<_>>()
    });
    found.unwrap_or_else(|| {
        // The loader tells the syntax error; here the file still counts as one component.
        let stem = path.file_stem().and_then(|s| s.to_str()).unwrap_or("Component");
        let mut surface = Surface::new(stem, shown, "default", Framework::Angular);
        surface.open = true;
        vec![surface]
    })
}

fn exported<'s, 'a>(script: &'s Script<'a>) -> Vec<(&'s Class<'a>, String)> {
    let mut out = Vec::new();
    for statement in &script.program.body {
        match statement {
            Statement::ExportDeclaration(export) => {
                if let oxc::ast::ast::Declaration::ClassDeclaration(class) = &export.declaration {
                    let name = class.id.as_ref().map(|id| id.name.to_string()).unwrap_or_default();
                    out.push((&**class, name));
                }
            }
            Statement::ExportDefaultDeclaration(export) => {
                if let oxc::ast::ast::ExportDefaultDeclarationKind::ClassDeclaration(class) = &export.declaration {
                    out.push((&**class, "default".to_owned()));
                }
            }
            _ => {}
        }
    }
    out.retain(|(class, _)| decorated(&class.decorators, "Component").is_some() || is_usable_directive(class));
    // A file is first of all its component.
    out.sort_by_key(|(class, _)| decorated(&class.decorators, "Component").is_none());
    out
}

/// Whether a class is a directive with a selector; one without is there for others to extend.
fn is_usable_directive(class: &Class<'_>) -> bool {
    let metadata = decorated(&class.decorators, "Directive").and_then(|c| c.arguments.first()?.as_expression()).and_then(object_literal);
    !class.r#abstract && metadata.is_some_and(|m| member(m, "selector").is_some())
}

/// The call of a decorator of this name.
fn decorated<'s, 'a>(decorators: &'s [Decorator<'a>], name: &str) -> Option<&'s CallExpression<'a>> {
    decorators.iter().find_map(|d| match &d.expression {
        Expression::CallExpression(call) if is_named(&call.callee, name) => Some(&**call),
        _ => None,
    })
}

fn is_named(expression: &Expression<'_>, name: &str) -> bool {
    matches!(expression, Expression::Identifier(id) if id.name == name)
}

fn surface(script: &Script<'_>, class: &Class<'_>, export: &str, shown: &str) -> Surface {
    let stem = shown.rsplit('/').next().and_then(|n| n.split('.').next()).unwrap_or("Component");
    let name = class.id.as_ref().map_or(stem, |id| id.name.as_str());
    let mut out = Surface::new(name, shown, export, Framework::Angular);
    let decorator = ["Component", "Directive"].iter().find_map(|name| decorated(&class.decorators, name));
    let metadata = decorator.and_then(|c| c.arguments.first()?.as_expression()).and_then(object_literal);
    out.open = metadata.is_none();
    if let Some(heritage) = &class.heritage {
        out.open |= !inherited(script, &heritage.expression, &mut out);
    }
    members(script, class, &mut out);
    control(script, class, &mut out);
    if let Some(metadata) = metadata {
        out.open |= ["inputs", "outputs", "hostDirectives"].iter().any(|key| member(metadata, key).is_some());
        if let Some(template) = template(script, metadata) {
            project(&template, &mut out);
        }
        // Who writes the attribute that a selector asks for passes the input of that name, if only nothing.
        if let Some(selector) = member(metadata, "selector").and_then(text_of) {
            let is_asked = |name: &str| selector.split(['[', ']', '=']).any(|part| part == name);
            out.props.iter_mut().filter(|p| is_asked(&p.name)).for_each(|p| {
                p.required = true;
                p.default = None;
            });
        }
    }
    bind(&mut out);
    out
}

/// The members of a class that another extends, where it is written in this file or in one beside it.
fn inherited(script: &Script<'_>, base: &Expression<'_>, out: &mut Surface) -> bool {
    let Expression::Identifier(id) = bare(base) else { return false };
    let declared = |script: &Script<'_>, name: &str, out: &mut Surface| {
        let found = script.program.body.iter().find_map(|statement| {
            match statement {
                Statement::ClassDeclaration(class) => Some(&**class),
                Statement::ExportDeclaration(export) => match &export.declaration {
                    oxc::ast::ast::Declaration::ClassDeclaration(class) => Some(&**class),
                    _ => None,
                },
                _ => None,
            }
            .filter(|class| class.id.as_ref().is_some_and(|id| id.name == name))
        });
        let Some(class) = found else { return false };
        let whole = class.heritage.as_ref().is_none_or(|h| inherited(script, &h.expression, out));
        members(script, class, out);
        whole
    };
    if let Some((specifier, there)) = script.imports.get(id.name.as_str()) {
        let Some(file) = script.file_of(specifier) else { return false };
        let Some(source) = script.sources.open(&file) else { return false };
        return with_script(script.sources, &file, &source, source_type(&file), |other| declared(other, there, out)).unwrap_or(false);
    }
    declared(script, id.name.as_str(), out)
}

/// Methods that Angular and its forms call, no parent.
const CALLED: [&str; 15] = [
    "constructor",
    "ngOnInit",
    "ngOnChanges",
    "ngDoCheck",
    "ngOnDestroy",
    "ngAfterContentInit",
    "ngAfterContentChecked",
    "ngAfterViewInit",
    "ngAfterViewChecked",
    "writeValue",
    "registerOnChange",
    "registerOnTouched",
    "setDisabledState",
    "validate",
    "registerOnValidatorChange",
];

fn is_own(name: &str, accessibility: Option<TSAccessibility>) -> bool {
    name.starts_with(['_', '#']) || matches!(accessibility, Some(TSAccessibility::Private | TSAccessibility::Protected))
}

fn members(script: &Script<'_>, class: &Class<'_>, out: &mut Surface) {
    for element in &class.body.body {
        match element {
            ClassElement::PropertyDefinition(field) if !field.r#static => {
                if let Some(name) = key_name(&field.key) {
                    field_of(script, &name, field, out);
                }
            }
            ClassElement::MethodDefinition(method) if !method.r#static => {
                if let Some(name) = key_name(&method.key) {
                    method_of(script, &name, method, out);
                }
            }
            _ => {}
        }
    }
}

fn untyped() -> Type {
    Type::Unresolved { text: "any".into() }
}

fn text_of(expression: &Expression<'_>) -> Option<String> {
    match bare(expression) {
        Expression::StringLiteral(text) => Some(text.value.to_string()),
        Expression::TemplateLiteral(text) if text.expressions.is_empty() => Some(text.quasis.first()?.value.raw.to_string()),
        _ => None,
    }
}

fn member<'s, 'a>(object: &'s ObjectExpression<'a>, name: &str) -> Option<&'s Expression<'a>> {
    let of = |p: &'s oxc::ast::ast::ObjectProperty<'a>| (key_name(&p.key).as_deref() == Some(name)).then_some(&p.value);
    object.properties.iter().filter_map(|p| p.as_property()).find_map(of)
}

fn field_of(script: &Script<'_>, name: &str, field: &PropertyDefinition<'_>, out: &mut Surface) {
    let told = script.told(field.decorators.first().map_or(field.span.start, |d| d.span.start.min(field.span.start)));
    let annotation = field.type_annotation.as_ref().map(|a| &a.type_annotation);
    if let Some(call) = decorated(&field.decorators, "Input") {
        let ty = annotation.map(|t| types::declared(script, t)).or_else(|| field.value.as_ref().map(guessed)).unwrap_or_else(untyped);
        let default = field.value.as_ref().map(|v| script.text(v.span()).to_owned());
        // `dial!: Dial` says that whoever uses the class gives it.
        input(script, call, name, ty, Given { default, by_parent: field.definite }, told, out);
        return;
    }
    if let Some(call) = decorated(&field.decorators, "Output") {
        let alias = call.arguments.first().and_then(Argument::as_expression).and_then(text_of);
        let payload = match field.value.as_ref().map(bare) {
            Some(Expression::NewExpression(new)) => new.type_arguments.as_ref().and_then(|a| a.params.first()),
            _ => None,
        };
        output(script, alias.unwrap_or_else(|| name.to_owned()), payload, out);
        return;
    }
    if let Some(call) = decorated(&field.decorators, "ContentChild") {
        query(script, call, annotation, out);
        return;
    }
    let Some(Expression::CallExpression(call)) = field.value.as_ref().map(bare) else { return };
    let (callee, required) = match &call.callee {
        Expression::Identifier(id) => (id.name.as_str(), false),
        Expression::StaticMemberExpression(m) if m.property.name == "required" => match &m.object {
            Expression::Identifier(id) => (id.name.as_str(), true),
            _ => return,
        },
        _ => return,
    };
    let type_argument = call.type_arguments.as_ref().and_then(|a| a.params.first());
    let arguments: Vec<&Expression<'_>> = call.arguments.iter().filter_map(Argument::as_expression).collect();
    match callee {
        "input" | "model" => {
            let initial = if required { None } else { arguments.first().copied() };
            let options = arguments.get(usize::from(!required)).and_then(|e| object_literal(e));
            let alias = options.and_then(|o| member(o, "alias")).and_then(text_of).unwrap_or_else(|| name.to_owned());
            let ty = type_argument.map(|t| types::declared(script, t)).or_else(|| initial.map(guessed)).unwrap_or_else(untyped);
            let ty = options.and_then(|o| member(o, "transform")).map_or(ty, transformed);
            let default = initial.filter(|i| !is_named(i, "undefined")).map(|i| script.text(i.span()).to_owned());
            if callee == "model" {
                let payload = Some(vec![ty.clone()]);
                out.events.push(Event { payload, ..Event::new(alias.clone(), format!("{alias}Change")) });
            }
            add(out, Prop { required, default, ..told.prop(alias, ty) });
        }
        "output" | "outputFromObservable" => {
            let options = arguments.iter().find_map(|e| object_literal(e));
            let alias = options.and_then(|o| member(o, "alias")).and_then(text_of);
            output(script, alias.unwrap_or_else(|| name.to_owned()), type_argument, out);
        }
        "contentChild" => query(script, call, type_argument, out),
        // What is worked out is read by parents, too.
        "computed" if !is_own(name, field.accessibility) => out.exposes.push(name.to_owned()),
        _ => {}
    }
}

/// What `booleanAttribute` and `numberAttribute` take is what they make of it.
fn transformed(transform: &Expression<'_>) -> Type {
    match bare(transform) {
        Expression::Identifier(id) if id.name == "booleanAttribute" => Type::Boolean,
        Expression::Identifier(id) if id.name == "numberAttribute" => Type::Number,
        _ => untyped(),
    }
}

fn guessed(value: &Expression<'_>) -> Type {
    match bare(value) {
        Expression::StringLiteral(_) | Expression::TemplateLiteral(_) => Type::String,
        Expression::NumericLiteral(_) => Type::Number,
        Expression::BooleanLiteral(_) => Type::Boolean,
        _ => untyped(),
    }
}

/// `@Input('alias')`, `@Input({ alias, required, transform })`.
/// What a class says of the value that an input begins with.
#[derive(Default)]
struct Given {
    default: Option<String>,
    by_parent: bool,
}

fn input(script: &Script<'_>, call: &CallExpression<'_>, name: &str, ty: Type, given_by: Given, told: Told, out: &mut Surface) {
    let given = call.arguments.first().and_then(Argument::as_expression);
    let options = given.and_then(object_literal);
    let alias = given.and_then(text_of).or_else(|| options.and_then(|o| member(o, "alias")).and_then(text_of));
    let required = options.and_then(|o| member(o, "required")).is_some_and(|e| script.text(e.span()) == "true");
    let Given { default, by_parent } = given_by;
    let ty = options.and_then(|o| member(o, "transform")).map_or(ty, transformed);
    add(out, Prop { required: required || by_parent, default, ..told.prop(alias.unwrap_or_else(|| name.to_owned()), ty) });
}

/// An input; one that takes a template is a slot.
fn add(out: &mut Surface, prop: Prop) {
    if prop.ty == Type::Node {
        out.slots.push(Slot { exposes: true, required: prop.required, ..Slot::new(prop.name) });
    } else {
        out.props.retain(|p| p.name != prop.name);
        out.props.push(prop);
    }
}

fn output(script: &Script<'_>, written: String, payload: Option<&TSType<'_>>, out: &mut Surface) {
    let payload = payload.and_then(|t| match t {
        TSType::TSVoidKeyword(_) => Some(Vec::new()),
        TSType::TSAnyKeyword(_) => None,
        t => Some(vec![types::declared(script, t)]),
    });
    if !out.events.iter().any(|e| e.written == written) {
        out.events.push(Event { payload, ..Event::new(event_name(&written), written) });
    }
}

/// `contentChild<TemplateRef<Shelf>>('footer')`: a template that the parent writes between the tags.
fn query(script: &Script<'_>, call: &CallExpression<'_>, ty: Option<&TSType<'_>>, out: &mut Surface) {
    let options = call.arguments.get(1).and_then(Argument::as_expression).and_then(object_literal);
    let reads_template = options.and_then(|o| member(o, "read")).is_some_and(|e| is_named(e, "TemplateRef"));
    let takes_template = reads_template || ty.is_some_and(|t| script.text(t.span()).contains("TemplateRef"));
    let name = call.arguments.first().and_then(Argument::as_expression).and_then(text_of);
    if let Some(name) = name.filter(|_| takes_template) {
        let hands = ty.map(|t| context(script, t)).unwrap_or_default();
        out.slots.push(Slot { exposes: true, hands, ..Slot::new(name) });
    }
}

/// What a template is told: the names in `TemplateRef<{ count: number; room: number }>`.
fn context(script: &Script<'_>, ty: &TSType<'_>) -> Vec<String> {
    match ty {
        TSType::TSTypeReference(r) if script.text(r.type_name.span()) == "TemplateRef" => {
            let given = r.type_arguments.as_ref().and_then(|a| a.params.first());
            given.map(|t| types::members(script, t).list.into_iter().map(|m| m.name).collect()).unwrap_or_default()
        }
        TSType::TSUnionType(union) => union.types.iter().flat_map(|t| context(script, t)).collect(),
        _ => Vec::new(),
    }
}

fn method_of(script: &Script<'_>, name: &str, method: &MethodDefinition<'_>, out: &mut Surface) {
    let told = script.told(method.decorators.first().map_or(method.span.start, |d| d.span.start.min(method.span.start)));
    match method.kind {
        MethodDefinitionKind::Set | MethodDefinitionKind::Get if decorated(&method.decorators, "Input").is_some() => {
            let call = decorated(&method.decorators, "Input").expect("looked for above");
            let annotation = match method.kind {
                MethodDefinitionKind::Set => method.value.params.items.first().and_then(|p| p.type_annotation.as_ref()),
                _ => method.value.return_type.as_ref(),
            };
            let ty = annotation.map_or_else(untyped, |a| types::declared(script, &a.type_annotation));
            input(script, call, name, ty, Given::default(), told, out);
        }
        MethodDefinitionKind::Method | MethodDefinitionKind::Get => {
            let listens = !method.decorators.is_empty();
            if !listens && !is_own(name, method.accessibility) && !CALLED.contains(&name) && !out.exposes.iter().any(|e| e == name) {
                out.exposes.push(name.to_owned());
            }
        }
        _ => {}
    }
}

fn template(script: &Script<'_>, metadata: &ObjectExpression<'_>) -> Option<String> {
    if let Some(inline) = member(metadata, "template") {
        return text_of(inline);
    }
    let file = script.file_beside(&text_of(member(metadata, "templateUrl")?)?)?;
    script.sources.open(&file)
}

const TEMPLATE: Dialect = Dialect { marks: ("{{", "}}"), tag: "ng-content", read: projected };

fn projected(attributes: &[(&str, &str)]) -> Option<Slot> {
    let select = attributes.iter().find(|(name, _)| *name == "select").map_or("*", |(_, value)| value);
    // What takes templates out of the way is no place for content.
    (!select.starts_with("ng-")).then(|| Slot::new(slot_name(select)))
}

/// `[heading]`, `.heading`, `heading`, `[slot=heading]` → `heading`. The adapter names them the same way.
fn slot_name(select: &str) -> String {
    let first = select.split(',').next().unwrap_or("*").trim();
    let bare = first.trim_start_matches(|c: char| !(c.is_alphanumeric() || c == '*'));
    let value = bare.split_once('=').map_or(bare, |(_, value)| value).trim_matches(['"', '\'', ']']);
    let end = value.find(|c: char| !(c.is_alphanumeric() || c == '-' || c == '_' || c == '*')).unwrap_or(value.len());
    if value[..end].is_empty() || &value[..end] == "*" { "default".to_owned() } else { value[..end].to_owned() }
}

fn project(template: &str, out: &mut Surface) {
    // Control flow is written in blocks: a fallback that holds one is none that the source tells.
    for slot in sfc::slots_within(template, TEMPLATE) {
        let fallback = slot.fallback.filter(|text| !text.contains(['@', '{']));
        if !out.slots.iter().any(|s| s.name == slot.name) {
            out.slots.push(Slot { fallback, ..slot });
        }
    }
}

/// `target` with `targetChange` is two-way.
/// A class that forms speak to by methods (`writeValue`, `registerOnChange`) has a value that is bound both ways, and may be switched off.
fn control(script: &Script<'_>, class: &Class<'_>, out: &mut Surface) {
    let method = |name: &str| {
        class.body.body.iter().find_map(|element| match element {
            ClassElement::MethodDefinition(m) if key_name(&m.key).as_deref() == Some(name) => Some(&**m),
            _ => None,
        })
    };
    let (Some(write), Some(_)) = (method("writeValue"), method("registerOnChange")) else { return };
    let declared =
        write.value.params.items.first().and_then(|p| p.type_annotation.as_ref()).map(|a| types::declared(script, &a.type_annotation));
    let is_told = |ty: &Type| !matches!(ty, Type::Unresolved { .. });
    // Where the method takes anything, the field that it keeps tells what.
    let field = || {
        class.body.body.iter().find_map(|element| match element {
            ClassElement::PropertyDefinition(field) if key_name(&field.key).is_some_and(|n| n.trim_start_matches('_') == "value") => {
                let annotated = field.type_annotation.as_ref().map(|a| types::declared(script, &a.type_annotation));
                annotated.or_else(|| field.value.as_ref().map(guessed))
            }
            _ => None,
        })
    };
    let ty = declared.clone().filter(is_told).or_else(field).filter(is_told).or(declared).unwrap_or_else(untyped);
    if out.props.iter().all(|p| p.name != "ngModel") {
        let told = script.told(write.span.start);
        out.events.push(Event { payload: Some(vec![ty.clone()]), ..Event::new("ngModel", "ngModelChange") });
        out.props.push(told.prop("ngModel", ty));
    }
    if let Some(disable) = method("setDisabledState").filter(|_| out.props.iter().all(|p| p.name != "disabled")) {
        out.props.push(script.told(disable.span.start).prop("disabled", Type::Boolean));
    }
}

fn bind(out: &mut Surface) {
    for prop in &mut out.props {
        let report = format!("{}Change", prop.name);
        if let Some(event) = out.events.iter_mut().find(|e| e.written == report) {
            prop.two_way = true;
            event.name.clone_from(&prop.name);
            event.reports = Some(prop.name.clone());
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn slots_are_named_by_what_they_select() {
        for (select, name) in [
            ("*", "default"),
            ("[heading]", "heading"),
            (".heading", "heading"),
            ("kiln-heading", "kiln-heading"),
            ("[slot=heading]", "heading"),
            ("[slot='heading'], h2", "heading"),
            ("h2[heading]", "h2"),
        ] {
            assert_eq!(slot_name(select), name, "{select}");
        }
    }
}

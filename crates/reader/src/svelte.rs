//! Svelte: `$props()` with its types, snippets and bindable props; and the form of Svelte 4, `export let`, slots and dispatched events.

use std::ops::Range;
use std::path::Path;

use fidelon_core::surface::{Event, Framework, Prop, Slot, Surface, Type, event_name};
use fidelon_types::{comments, lower};
use oxc::ast::ast::{
    AssignmentExpression, AssignmentTarget, BindingPattern, CallExpression, Declaration, Expression, ObjectPattern, SimpleAssignmentTarget,
    Statement, UpdateExpression, VariableDeclarator,
};
use oxc::ast_visit::{Visit, walk};
use oxc::span::{GetSpan, SourceType, Span};
use serde_json::Value as Json;

use crate::program::{Script, Sources, key_name, with_script};
use crate::types::{self, Member, bare};
use crate::{fallback, sfc};

/// The surface of a component.
pub fn surface(sources: Sources<'_>, path: &Path, shown: &str, source: &str) -> Surface {
    let name = path.file_stem().and_then(|s| s.to_str()).unwrap_or("Component");
    let mut out = Surface::new(name, shown, "default", Framework::Svelte);
    let parts = parts(source);
    let kind = if parts.typed { SourceType::ts() } else { SourceType::mjs() };
    let generics = parts.generics.as_deref().map(lower::generics_of).unwrap_or_default();
    let read = with_script(sources, path, &parts.script, kind, |script| {
        script.with_generics(generics, || {
            let mut said = Said::default();
            said.visit_program(script.program);
            if !read_props(script, &parts.template, &mut out) {
                read_exports(script, &parts.template, &said, &mut out);
            }
            // What the module exports is no instance's.
            let is_of_instance = |s: &&Statement<'_>| !parts.module.iter().any(|range| range.contains(&(s.span().start as usize)));
            for statement in script.program.body.iter().filter(is_of_instance) {
                exposed(script, statement, &mut out);
            }
            dispatched(script, &parts.template, &said, &mut out);
        })
    });
    if read.is_none() {
        out.open = true;
    }
    types::declared_beside(sources, path, &mut out.props);
    for slot in sfc::slots_within(&parts.template, sfc::SVELTE) {
        if !out.slots.iter().any(|s| s.name == slot.name) {
            out.slots.push(slot);
        }
    }
    for slot in out.slots.iter_mut().filter(|s| s.fallback.is_none()) {
        let prop = if slot.name == "default" { "children" } else { &slot.name };
        slot.fallback = fallback::of_snippet(&parts.template, prop);
    }
    // What stands only where the slot is filled never shows what would be there without it.
    for slot in out.slots.iter_mut().filter(|s| s.fallback.is_some()) {
        slot.fallback = slot.fallback.take().filter(|_| !fallback::stands_where_filled(&parts.template, &slot.name));
    }
    passed_on(&parts.template, &mut out);
    let reported: Vec<String> = out.events.iter().filter_map(|e| e.reports.clone()).collect();
    for prop in &mut out.props {
        prop.two_way |= reported.contains(&prop.name);
    }
    out
}

/// A component's scripts, joined, and its template.
struct Parts {
    script: String,
    typed: bool,
    template: String,
    /// Its type parameters, as `generics="T"` writes them.
    generics: Option<String>,
    /// Where the scripts of its module stand.
    module: Vec<Range<usize>>,
}

/// The source with spaces for what stands in comments of HTML around or between its parts, if there are any: a script that is commented out is none.
fn without_comments(source: &str) -> Option<String> {
    let mut out = String::new();
    let mut rest = source;
    while let Some(start) = rest.find("<!--") {
        // What looks like one in a script or a sheet is none.
        let opened = ["script", "style"].into_iter().filter_map(|n| Some((rest[..start].rfind(&format!("<{n}"))?, n))).max();
        let is_text = opened.is_some_and(|(at, name)| !rest[at..start].contains(&format!("</{name}")));
        let end = rest[start..].find("-->").map_or(rest.len(), |i| start + i + 3);
        if is_text {
            out.push_str(&rest[..end]);
        } else {
            out.push_str(&rest[..start]);
            out.extend(rest[start..end].chars().flat_map(|c| std::iter::repeat_n(if c == '\n' { '\n' } else { ' ' }, c.len_utf8())));
        }
        rest = &rest[end..];
    }
    (!out.is_empty()).then(|| out + rest)
}

fn parts(source: &str) -> Parts {
    let blank = without_comments(source);
    let source = blank.as_deref().unwrap_or(source);
    let mut out = Parts { script: String::new(), typed: false, template: String::new(), generics: None, module: Vec::new() };
    let mut scripts = Vec::new();
    let mut rest = source;
    loop {
        let next = ["script", "style"].into_iter().filter_map(|name| Some((rest.find(&format!("<{name}"))?, name))).min();
        let Some((start, name)) = next else { break };
        out.template.push_str(&rest[..start]);
        let Some(open) = rest[start..].find('>').map(|i| start + i) else { break };
        let end = format!("</{name}");
        let close = rest[open..].find(&end).map_or(rest.len(), |i| open + i);
        if name == "script" {
            let attributes = &rest[start..open];
            out.typed |= attributes.contains("lang=\"ts\"") || attributes.contains("lang='ts'") || attributes.contains("typescript");
            out.generics = out.generics.or_else(|| sfc::attribute_of(attributes, "generics").map(str::to_owned));
            let from = source.len() - rest.len();
            let range = from + open + 1..from + close.max(open + 1);
            if attributes.split_whitespace().any(|a| a == "module" || a.starts_with("context=")) {
                out.module.push(range.clone());
            }
            scripts.push(range);
        }
        rest = rest[close..].find('>').map_or("", |i| &rest[close + i + 1..]);
    }
    out.template.push_str(rest);
    out.script = sfc::in_place(source, &scripts);
    out
}

/// What a component shows: all of it but its scripts and styles.
pub(crate) fn markup(source: &str) -> String {
    parts(source).template
}

/// The scripts of a component where they stand, for what they export to others.
pub(crate) fn scripts_in_place(source: &str) -> String {
    parts(source).script
}

/// `let { label, target = $bindable() }: Props = $props()`. False where there is none.
fn read_props(script: &Script<'_>, template: &str, out: &mut Surface) -> bool {
    let mut found = None;
    for statement in &script.program.body {
        let Statement::VariableDeclaration(variable) = statement else { continue };
        found = found.or_else(|| variable.declarations.iter().find_map(|d| props_call(d).map(|call| (d, call))));
    }
    let Some((declarator, call)) = found else { return false };
    let pattern = match &declarator.id {
        BindingPattern::ObjectPattern(pattern) => Some(pattern),
        _ => None,
    };
    let named = pattern.map(|p| passed(script, p)).unwrap_or_default();
    let annotation = declarator.type_annotation.as_ref().map(|a| &a.type_annotation);
    let members = match annotation.or_else(|| call.type_arguments.as_ref()?.params.first()) {
        Some(ty) => {
            let members = types::members(script, ty);
            out.open = members.open;
            out.variants = members.variants;
            let mut list = members.list;
            // What is taken is there, also where its type could not be followed.
            for given in named.iter().filter(|_| members.open) {
                if !list.iter().any(|m| m.name == given.name) {
                    list.push(untyped(&given.name, template, true));
                }
            }
            list
        }
        None => {
            out.open = pattern.is_none_or(|p| p.rest.is_some());
            named.iter().map(|given| untyped(&given.name, template, false)).collect()
        }
    };
    let typed = annotation.is_some();
    for member in members {
        let given = named.iter().find(|g| g.name == member.name);
        sort(member, given, typed, out);
    }
    true
}

fn props_call<'e, 'a>(declarator: &'e VariableDeclarator<'a>) -> Option<&'e CallExpression<'a>> {
    let Expression::CallExpression(call) = bare(declarator.init.as_ref()?) else { return None };
    is_named(&call.callee, "$props").then_some(call)
}

fn is_named(expression: &Expression<'_>, name: &str) -> bool {
    matches!(expression, Expression::Identifier(id) if id.name == name)
}

/// A prop as the pattern takes it.
struct Given {
    name: String,
    default: Option<String>,
    bindable: bool,
}

fn passed(script: &Script<'_>, pattern: &ObjectPattern<'_>) -> Vec<Given> {
    let given = |property: &oxc::ast::ast::BindingProperty<'_>| {
        let name = key_name(&property.key)?;
        let BindingPattern::AssignmentPattern(assignment) = &property.value else {
            return Some(Given { name, default: None, bindable: false });
        };
        Some(match bare(&assignment.right) {
            Expression::CallExpression(call) if is_named(&call.callee, "$bindable") => {
                let default = call.arguments.first().map(|a| script.text(a.span()).to_owned());
                Given { name, default, bindable: true }
            }
            value => Given { name, default: Some(script.text(value.span()).to_owned()), bindable: false },
        })
    };
    pattern.properties.iter().filter_map(given).collect()
}

/// What a name alone tells.
///
/// Of a component that takes more than its own type says, what is called as an attribute of HTML is one.
fn untyped(name: &str, template: &str, open: bool) -> Member {
    let rendered = ["{@render ", "{@render\n"].iter().any(|at| {
        template.match_indices(at).any(|(i, at)| {
            let rest = template[i + at.len()..].trim_start();
            rest.strip_prefix(name).is_some_and(|r| r.starts_with(['(', '?', ' ', '}']))
        })
    });
    let takes = template.contains(&format!("{name}(")) && !template.contains(&format!("{name}()"))
        || template.contains(&format!("{name}?.(")) && !template.contains(&format!("{name}?.()"));
    let ty = match name {
        "children" => Type::Node,
        _ if rendered => Type::Node,
        _ if is_handler(name) => Type::Function,
        _ if open && let Some(ty) = types::of_attribute(name) => ty,
        _ => Type::Unresolved { text: "any".into() },
    };
    let renders = ty == Type::Node;
    Member { renders, takes: renders && takes, ..Member::optional(name, ty) }
}

fn is_handler(name: &str) -> bool {
    name.len() > 2 && name.starts_with("on") && name[2..].starts_with(char::is_alphabetic)
}

fn sort(member: Member, given: Option<&Given>, typed: bool, out: &mut Surface) {
    let name = member.name;
    if member.renders || member.ty == Type::Node {
        let slot = if name == "children" { "default".to_owned() } else { name };
        out.slots.push(Slot { exposes: member.takes, required: typed && !member.optional, ..Slot::new(slot) });
    } else if member.ty == Type::Function && is_handler(&name) {
        let event = if name[2..].starts_with(char::is_uppercase) { event_name(&name) } else { name[2..].to_owned() };
        out.events.push(Event { payload: member.arguments, ..Event::new(event, name) });
    } else {
        let bindable = given.is_some_and(|g| g.bindable);
        if bindable {
            let payload = Some(vec![member.ty.clone()]);
            out.events.push(Event { reports: Some(name.clone()), payload, ..Event::new(name.clone(), format!("bind:{name}")) });
        }
        let default = given.and_then(|g| g.default.clone());
        let required = !member.optional && default.is_none();
        out.props.push(Prop { required, default, two_way: bindable, ..member.told.prop(name, member.ty) });
    }
}

/// `export let label: string = 'Bisque'`, the form of Svelte 4. A parent can bind each; one that the component never writes to has
/// nothing to report.
fn read_exports(script: &Script<'_>, template: &str, said: &Said, out: &mut Surface) {
    let mut add = |declarator: &VariableDeclarator<'_>, start: u32, shown: Option<&str>| {
        let Some(local) = declarator.id.get_identifier_name() else { return };
        let name = shown.unwrap_or(local.as_str()).to_owned();
        let annotation = declarator.type_annotation.as_ref().map(|a| &a.type_annotation);
        let ty = annotation.map(|t| types::declared(script, t)).or_else(|| types::commented(script, start));
        let ty = ty.unwrap_or_else(|| guessed(script, declarator.init.as_ref(), CONSTANTS));
        let default = declarator.init.as_ref().filter(|i| !is_named(i, "undefined")).map(|i| script.text(i.span()).to_owned());
        let optional = annotation.is_some_and(|t| script.text(t.span()).contains("undefined"));
        let two_way = said.written.iter().any(|w| w == local.as_str()) || is_written(template, local.as_str());
        if two_way {
            let payload = Some(vec![ty.clone()]);
            out.events.push(Event { reports: Some(name.clone()), payload, ..Event::new(name.clone(), format!("bind:{name}")) });
        }
        let required = declarator.init.is_none() && !optional;
        out.defaults_once = true;
        out.props.push(Prop { required, default, two_way, ..script.told(start).prop(name, ty) });
    };
    for statement in &script.program.body {
        match statement {
            Statement::ExportDeclaration(export) => {
                if let Declaration::VariableDeclaration(variable) = &export.declaration
                    && !variable.kind.is_const()
                {
                    variable.declarations.iter().for_each(|d| add(d, export.span.start, None));
                }
            }
            // `let klass; export { klass as class }`
            Statement::ExportNamedDeclaration(export) => {
                for specifier in &export.specifiers {
                    let (local, exported) = (specifier.local.name(), specifier.exported.name());
                    for statement in &script.program.body {
                        // What is exported under its own name may be so under another one, too.
                        let variable = match statement {
                            Statement::VariableDeclaration(variable) => Some(variable),
                            Statement::ExportDeclaration(export) => match &export.declaration {
                                Declaration::VariableDeclaration(variable) => Some(variable),
                                _ => None,
                            },
                            _ => None,
                        };
                        if let Some(variable) = variable.filter(|v| !v.kind.is_const()) {
                            let declared = variable.declarations.iter().filter(|d| d.id.get_identifier_name().is_some_and(|n| n == *local));
                            declared.for_each(|d| add(d, variable.span.start, Some(exported.as_str())));
                        }
                    }
                }
            }
            _ => {}
        }
    }
    out.open |= ["$$props", "$$restProps"].iter().any(|all| template.contains(all) || script.source.contains(all));
}

/// Constants that lead to one another, and parts of a sum.
const CONSTANTS: u8 = 32;

/// A type as a default shows it.
fn guessed(script: &Script<'_>, init: Option<&Expression<'_>>, depth: u8) -> Type {
    let any = || Type::Unresolved { text: "any".into() };
    let of_function = |body: Option<Span>| match body.map(|span| script.text(span)) {
        Some(body) if !body.chars().all(|c| c.is_whitespace() || "{}".contains(c)) => Type::Unresolved { text: "function".into() },
        _ => Type::Function,
    };
    match init.map(bare) {
        Some(Expression::StringLiteral(_) | Expression::TemplateLiteral(_)) => Type::String,
        Some(Expression::NumericLiteral(_)) => Type::Number,
        Some(Expression::BooleanLiteral(_)) => Type::Boolean,
        // One that gives something cannot be made up.
        Some(Expression::ArrowFunctionExpression(function)) => of_function(Some(function.body.span())),
        Some(Expression::FunctionExpression(function)) => of_function(function.body.as_ref().map(|body| body.span)),
        // What the script calls by a name: a function, or a constant.
        Some(Expression::Identifier(id)) => {
            let declared = script.program.body.iter().find_map(|statement| match statement {
                Statement::FunctionDeclaration(f) if f.id.as_ref().is_some_and(|own| own.name == id.name) => Some(f),
                _ => None,
            });
            match (declared, script.constants.get(id.name.as_str())) {
                (Some(function), _) => of_function(function.body.as_ref().map(|body| body.span)),
                (None, Some(constant)) if depth > 0 => guessed(script, Some(constant), depth - 1),
                _ => any(),
            }
        }
        // `"tab-" + n`
        Some(Expression::BinaryExpression(sum))
            if depth > 0 && [&sum.left, &sum.right].into_iter().any(|side| guessed(script, Some(side), depth - 1) == Type::String) =>
        {
            Type::String
        }
        _ => any(),
    }
}

/// Whether markup writes to a name: `bind:value={name}`, `{() => name = 1}`.
fn is_written(template: &str, name: &str) -> bool {
    let is_word = |c: char| c.is_alphanumeric() || c == '_' || c == '$';
    template.match_indices(name).any(|(at, _)| {
        let (before, after) = (&template[..at], template[at + name.len()..].trim_start());
        if before.ends_with(|c| is_word(c) || c == '.') || after.starts_with(is_word) && template[at + name.len()..].starts_with(is_word) {
            return false;
        }
        let bound = after.starts_with('}') && before.trim_end().ends_with('{') && {
            let head = before.trim_end().trim_end_matches('{').trim_end();
            head.strip_suffix('=').and_then(|h| h.rsplit([' ', '\n', '\t', '<']).next()).is_some_and(|a| a.starts_with("bind:"))
        };
        let short = before.ends_with("bind:") && !after.starts_with('=');
        let assigned =
            after.starts_with('=') && !after.starts_with("==") && !after.starts_with("=>") && before.rfind('{') > before.rfind('}');
        bound
            || short
            || assigned
            || after.starts_with("++")
            || after.starts_with("--")
            || after.starts_with("+=")
            || after.starts_with("-=")
    })
}

/// Members that a parent reaches: what the instance script exports and is no prop.
fn exposed(script: &Script<'_>, statement: &Statement<'_>, out: &mut Surface) {
    match statement {
        Statement::ExportDeclaration(export) => match &export.declaration {
            Declaration::FunctionDeclaration(function) => out.exposes.extend(function.id.iter().map(|id| id.name.to_string())),
            Declaration::VariableDeclaration(variable) if variable.kind.is_const() => {
                out.exposes.extend(variable.declarations.iter().filter_map(|d| Some(d.id.get_identifier_name()?.to_string())));
            }
            _ => {}
        },
        Statement::ExportNamedDeclaration(export) => {
            for specifier in &export.specifiers {
                let exported = specifier.exported.name().to_string();
                let is_type = script.module.declares_type(specifier.local.name().as_str());
                if !is_type && !out.props.iter().any(|p| p.name == exported) {
                    out.exposes.push(exported);
                }
            }
        }
        _ => {}
    }
}

/// What a script writes to, and what it dispatches.
#[derive(Default)]
struct Said {
    written: Vec<String>,
    dispatched: Vec<(String, String)>,
}

impl<'a> Visit<'a> for Said {
    fn visit_assignment_expression(&mut self, assignment: &AssignmentExpression<'a>) {
        match &assignment.left {
            AssignmentTarget::AssignmentTargetIdentifier(id) => self.written.push(id.name.to_string()),
            // `pieces[0] = …` and `piece.name = …` write to what a parent bound, too.
            AssignmentTarget::StaticMemberExpression(member) => self.written.extend(root(&member.object)),
            AssignmentTarget::ComputedMemberExpression(member) => self.written.extend(root(&member.object)),
            _ => {}
        }
        walk::walk_assignment_expression(self, assignment);
    }

    fn visit_update_expression(&mut self, update: &UpdateExpression<'a>) {
        if let SimpleAssignmentTarget::AssignmentTargetIdentifier(id) = &update.argument {
            self.written.push(id.name.to_string());
        }
        walk::walk_update_expression(self, update);
    }

    fn visit_call_expression(&mut self, call: &CallExpression<'a>) {
        if let Expression::Identifier(callee) = &call.callee
            && let Some(Expression::StringLiteral(event)) = call.arguments.first().and_then(|a| a.as_expression())
        {
            self.dispatched.push((callee.name.to_string(), event.value.to_string()));
        }
        walk::walk_call_expression(self, call);
    }
}

fn root(expression: &Expression<'_>) -> Option<String> {
    match bare(expression) {
        Expression::Identifier(id) => Some(id.name.to_string()),
        Expression::StaticMemberExpression(member) => root(&member.object),
        Expression::ComputedMemberExpression(member) => root(&member.object),
        _ => None,
    }
}

/// `const dispatch = createEventDispatcher<{ fire: Firing }>()`.
fn dispatched(script: &Script<'_>, template: &str, said: &Said, out: &mut Surface) {
    for (name, value) in &script.constants {
        let Expression::CallExpression(call) = bare(value) else { continue };
        if !is_named(&call.callee, "createEventDispatcher") {
            continue;
        }
        for tag in script.module.tags("event") {
            let (Some((event, _)), Some(ty)) = (comments::name_of(&tag), types::of_tag(script, &tag)) else { continue };
            let nothing = matches!(&ty, Type::Unresolved { text } if text == "undefined") || ty == Type::Union { of: vec![Json::Null] };
            add_event(out, event, Some(if nothing { Vec::new() } else { vec![ty] }));
        }
        let typed = call.type_arguments.as_ref().and_then(|a| a.params.first()).map(|ty| types::members(script, ty).list);
        for member in typed.into_iter().flatten() {
            add_event(out, &member.name, Some(vec![member.ty]));
        }
        for (_, event) in said.dispatched.iter().filter(|(by, _)| by == name) {
            add_event(out, event, None);
        }
        for event in dispatched_in(template, name) {
            add_event(out, event, None);
        }
    }
}

/// The events that markup dispatches: `on:click={() => dispatch("fire")}`.
fn dispatched_in<'t>(template: &'t str, dispatcher: &str) -> Vec<&'t str> {
    let is_word = |c: char| c.is_alphanumeric() || c == '_' || c == '$';
    let calls = template.match_indices(dispatcher).filter(|(at, _)| !template[..*at].ends_with(|c| is_word(c) || c == '.'));
    let named = calls.filter_map(|(at, name)| {
        let argument = template[at + name.len()..].trim_start().strip_prefix('(')?.trim_start();
        let quote = argument.chars().next().filter(|c| matches!(c, '"' | '\'' | '`'))?;
        argument[1..].split(quote).next()
    });
    named.filter(|event| !event.is_empty() && !event.contains(['$', '\n'])).collect()
}

fn add_event(out: &mut Surface, event: &str, payload: Option<Vec<Type>>) {
    let written = format!("on:{event}");
    if !out.events.iter().any(|e| e.written == written) {
        out.events.push(Event { payload, ..Event::new(event_name(event), written) });
    }
}

/// `on:click` without a handler passes the event on to the parent.
fn passed_on(template: &str, out: &mut Surface) {
    for (at, _) in template.match_indices(" on:").chain(template.match_indices("\ton:")) {
        let rest = &template[at + " on:".len()..];
        let end = rest.find(|c: char| !(c.is_alphanumeric() || c == '-' || c == '_')).unwrap_or(rest.len());
        if end > 0 && rest[end..].starts_with(|c: char| c.is_whitespace() || c == '>' || c == '/') {
            add_event(out, &rest[..end], None);
        }
    }
}

//! Standard custom elements: what a file registers by `customElements.define` or by a decorator, and what the class declares: accessors
//! and fields, observed attributes, `static properties`, events that it dispatches, slots of its templates, public methods; and what
//! its comment says in the tags of the trade (`@attr`, `@prop`, `@slot`, `@fires`).

mod bases;
mod class;
pub(crate) mod decorators;
mod manifest;
mod tags;

use std::path::Path;
use std::sync::LazyLock;

use fidelon_core::naming::camel;
use fidelon_core::surface::{Framework, Prop, Slot, Surface, Type};
use oxc::ast::ast::{Argument, CallExpression, Class, Expression, Statement, VariableDeclarator};
use oxc::ast_visit::{Visit, walk};
use oxc::span::Span;
use regex::Regex;

use self::bases::with_class;
use self::class::{Read, read};
use self::decorators::Applied;
use self::tags::slots;
use crate::program::{Script, Sources, source_type, with_script};
use crate::types::bare;

/// Whether a script may register an element, by a look at its text.
pub fn may_register(source: &str) -> bool {
    source.contains("customElements.define") || may_name_its_tag(source) || may_be_decorated(source)
}

/// Whether a decorator may be given a tag: `@customElement('kiln-dial')`, as it stands in a source or as a compiler writes it.
fn may_be_decorated(source: &str) -> bool {
    static TAG: LazyLock<Regex> = LazyLock::new(|| {
        Regex::new(r#"(?:@|\[\s*|\),\s*)[\w$]+\(\s*['"`][a-z][a-z0-9]*-[a-z0-9-]*['"`]\s*\)"#).expect("the pattern is well-formed")
    });
    source.contains(" extends ") && TAG.is_match(source)
}

/// Whether a class may say its own tag, for a helper that registers it: `static get is() { return 'kiln-dial' }`.
fn may_name_its_tag(source: &str) -> bool {
    static TAG: LazyLock<Regex> = LazyLock::new(|| {
        Regex::new(r#"\bstatic\s+(?:get\s+)?\w+\s*(?:\(\s*\)\s*\{\s*return\s|=)\s*['"][a-z][a-z0-9]*-[a-z0-9-]*['"]"#)
            .expect("the pattern is well-formed")
    });
    source.contains(" extends ") && TAG.is_match(source)
}

/// The surfaces of all elements that a file registers. The export of each is the name it is registered under.
pub fn surfaces(sources: Sources<'_>, path: &Path, shown: &str, source: &str) -> Vec<Surface> {
    if !may_register(source) {
        return Vec::new();
    }
    let read = with_script(sources, path, source, source_type(path), |script| {
        let found = Found::of(script);
        let mut surfaces: Vec<Surface> = found.registered.iter().map(|(tag, class)| found.surface(script, tag, class, shown)).collect();
        for surface in &mut surfaces {
            declared_beside(sources, path, surface);
        }
        surfaces
    });
    let mut out = read.unwrap_or_else(|| {
        // The loader tells the syntax error; here the file still counts as one component.
        let stem = path.file_stem().and_then(|s| s.to_str()).unwrap_or("Element");
        let mut surface = Surface::new(stem, shown, stem, Framework::Element);
        surface.open = true;
        vec![surface]
    });
    manifest::complete(sources, path, &mut out);
    out.iter_mut().for_each(bind);
    out
}

/// Where an element was published without its types, its class is declared in a file beside it, or in the one of its folder. That tells
/// the types of what the code is known to take.
fn declared_beside(sources: Sources<'_>, path: &Path, surface: &mut Surface) {
    // A constructor tells that it is a text, and the declaration which texts there are.
    let is_loose = |p: &Prop| matches!(p.ty, Type::Unresolved { .. } | Type::Array { .. } | Type::String);
    if !path.extension().is_some_and(|e| e == "js" || e == "mjs") || !surface.props.iter().any(is_loose) {
        return;
    }
    let beside = [path.with_extension("d.ts"), path.with_file_name("index.d.ts")];
    let declared = beside.iter().find_map(|file| {
        let source = sources.open(file)?;
        with_script(sources, file, &source, source_type(file), |script| with_class(script, &surface.name, read))?
    });
    let Some(declared) = declared else { return };
    for prop in surface.props.iter_mut().filter(|p| is_loose(p)) {
        let told = declared.props.iter().find(|d| d.name == prop.name);
        if let Some(told) = told.filter(|d| !matches!(d.ty, Type::Unresolved { .. })) {
            prop.ty = told.ty.clone();
            prop.about = prop.about.take().or_else(|| told.about.clone());
        }
    }
    for event in &mut surface.events {
        let told = declared.events.iter().find(|d| d.written == event.written);
        event.payload = event.payload.take().or_else(|| told?.payload.clone());
    }
}

/// Which class is registered.
enum Registered {
    Named(String),
    At(Span),
}

/// What a script registers, and its classes.
struct Found<'s, 'a> {
    script: &'s Script<'a>,
    registered: Vec<(String, Registered)>,
    classes: Vec<(Span, Option<String>, Read)>,
}

impl<'s, 'a> Found<'s, 'a> {
    fn of(script: &'s Script<'a>) -> Self {
        let mut found = Found { script, registered: Vec::new(), classes: Vec::new() };
        found.visit_program(script.program);
        found.handed_over();
        found.decorated();
        // The template of a class alone in its file often stands beside it.
        if let [(_, _, read)] = found.classes.as_mut_slice() {
            let known = std::mem::replace(&mut read.slots, slots(script.source));
            let others: Vec<Slot> = known.into_iter().filter(|k| !read.slots.iter().any(|s| s.name == k.name)).collect();
            read.slots.extend(others);
        }
        found
    }

    /// Classes that say their own tag and are handed to a function that registers them: `define(KilnDial)`.
    fn handed_over(&mut self) {
        for statement in &self.script.program.body {
            let Statement::ExpressionStatement(statement) = statement else { continue };
            let Expression::CallExpression(call) = bare(&statement.expression) else { continue };
            for argument in &call.arguments {
                let Some(Expression::Identifier(id)) = argument.as_expression() else { continue };
                let named = self.classes.iter().find(|(_, name, _)| name.as_deref() == Some(id.name.as_str()));
                let Some(tag) = named.and_then(|(.., read)| read.tag.clone()) else { continue };
                if !self.registered.iter().any(|(known, _)| *known == tag) {
                    self.registered.push((tag, Registered::Named(id.name.to_string())));
                }
            }
        }
    }

    /// Classes that a decorator registers which a compiler wrote as a call.
    fn decorated(&mut self) {
        for compiled in self.script.compiled().iter().filter(|c| c.member.is_none()) {
            let class = self.classes.iter().find(|(_, name, _)| name.as_ref() == Some(&compiled.class));
            let Some(head) = class.map(|(span, ..)| head(self.script, *span)) else { continue };
            let tag = compiled.applied.iter().find_map(|a| a.registers(head)).cloned();
            if let Some(tag) = tag.filter(|tag| self.registered.iter().all(|(known, _)| known != tag)) {
                self.registered.push((tag, Registered::Named(compiled.class.clone())));
            }
        }
    }

    fn class(&self, wanted: &Registered) -> Option<Read> {
        let (_, _, read) = self.classes.iter().find(|(span, name, _)| match wanted {
            Registered::Named(wanted) => name.as_ref() == Some(wanted),
            Registered::At(at) => span == at,
        })?;
        Some(read.clone())
    }

    fn surface(&self, script: &Script<'_>, tag: &str, class: &Registered, shown: &str) -> Surface {
        let name = match class {
            Registered::Named(name) => name.clone(),
            Registered::At(_) => pascal(tag),
        };
        let mut out = Surface::new(&name, shown, tag, Framework::Element);
        let read = self.class(class).or_else(|| imported(script, &name));
        let Some(read) = read else {
            out.open = true;
            return out;
        };
        out.props = read.props;
        out.exposes = read.exposes;
        out.open = read.open;
        out.slots = read.slots;
        for event in read.events {
            if !out.events.iter().any(|e| e.name == event.name) {
                out.events.push(event);
            }
        }
        out
    }
}

/// By the custom of the trade a property `x` is two-way with an event `x-change`, `value` and `checked` with the change event of the
/// element.
fn bind(surface: &mut Surface) {
    for prop in &mut surface.props {
        let own = format!("{}Change", prop.name);
        let by_name = surface.events.iter().position(|e| e.name == own);
        let by_change = || {
            let of_value = prop.name == "value" || prop.name == "checked";
            surface.events.iter().position(|e| of_value && e.name == "change")
        };
        if let Some(at) = by_name.or_else(by_change) {
            prop.two_way = true;
            // One name for one thing: what reports a prop is named by the prop.
            surface.events[at].name.clone_from(&prop.name);
            surface.events[at].reports = Some(prop.name.clone());
        }
    }
}

/// A class of another file: the one that registers is often not the one that declares.
fn imported(script: &Script<'_>, name: &str) -> Option<Read> {
    with_class(script, name, |script, class| {
        // With the slots of the template beside it.
        let found = Found::of(script);
        found.class(&Registered::At(class.span)).unwrap_or_else(|| read(script, class))
    })
}

impl<'a> Visit<'a> for Found<'_, 'a> {
    fn visit_call_expression(&mut self, call: &CallExpression<'a>) {
        if let Expression::StaticMemberExpression(member) = &call.callee
            && member.property.name == "define"
            && is_registry(&member.object)
            && let Some(Argument::StringLiteral(tag)) = call.arguments.first()
            && let Some(class) = call.arguments.get(1).and_then(Argument::as_expression)
        {
            let class = match bare(class) {
                Expression::Identifier(id) => Some(Registered::Named(id.name.to_string())),
                Expression::ClassExpression(class) => Some(Registered::At(class.span)),
                _ => None,
            };
            let known = self.registered.iter().any(|(t, _)| tag.value == *t);
            if let Some(class) = class.filter(|_| !known) {
                self.registered.push((tag.value.to_string(), class));
            }
        }
        walk::walk_call_expression(self, call);
    }

    fn visit_variable_declarator(&mut self, declarator: &VariableDeclarator<'a>) {
        if let (Some(name), Some(Expression::ClassExpression(class))) = (declarator.id.get_identifier_name(), &declarator.init) {
            let read = read(self.script, class);
            self.classes.push((class.span, Some(name.to_string()), read));
        }
        walk::walk_variable_declarator(self, declarator);
    }

    fn visit_class(&mut self, class: &Class<'a>) {
        let name = class.id.as_ref().map(|id| id.name.to_string());
        if !self.classes.iter().any(|(span, ..)| *span == class.span) {
            self.classes.push((class.span, name.clone(), read(self.script, class)));
        }
        // A project's own decorator registers as that of a library does: what both are given is the tag.
        let decorators = class.decorators.iter().filter(|_| class.heritage.is_some());
        let head = head(self.script, class.span);
        for tag in decorators.filter_map(|d| Applied::of(self.script, &d.expression)?.registers(head).cloned()) {
            let class = name.clone().map_or(Registered::At(class.span), Registered::Named);
            self.registered.push((tag, class));
        }
        walk::walk_class(self, class);
    }
}

/// A class up to its members.
fn head<'a>(script: &Script<'a>, class: Span) -> &'a str {
    script.text(class).split('{').next().unwrap_or_default()
}

fn is_registry(object: &Expression<'_>) -> bool {
    match object {
        Expression::Identifier(id) => id.name == "customElements",
        Expression::StaticMemberExpression(member) => member.property.name == "customElements",
        _ => false,
    }
}

/// `kiln-dial` → `KilnDial`.
fn pascal(tag: &str) -> String {
    let camel = camel(tag);
    let mut chars = camel.chars();
    chars.next().map(|c| c.to_uppercase().collect::<String>() + chars.as_str()).unwrap_or_default()
}

//! Vue: `<script setup>` macros (runtime and type-based) and the options form.

use std::path::Path;

use fidelon_core::surface::{Event, Framework, Prop, Slot, Surface, Type, event_name};
use fidelon_types::lower;
use oxc::ast::ast::{ArrayExpression, BindingPattern, CallExpression, Expression, ObjectExpression, ObjectPropertyKind, Statement, TSType};
use oxc::span::{GetSpan, SourceType};

use crate::program::{Script, Sources, Told, key_name, source_type, with_script};
use crate::types::{self, bare, object_literal};
use crate::{sfc, validator};

/// Whether a file renders nothing by itself: it has no template, and its options are there for others to extend.
pub fn is_base(source: &str) -> bool {
    let blocks = sfc::blocks(source);
    let renders = |text: &str| ["render", "setup", "template", "defineComponent", "defineAsyncComponent"].iter().any(|w| text.contains(w));
    blocks.template.is_none() && !blocks.scripts.is_empty() && blocks.scripts.iter().all(|s| !s.setup && !renders(s.text))
}

/// What every instance of Vue has by itself; anything else that begins so is the application's.
const OF_EVERY_INSTANCE: [&str; 17] = [
    "attrs",
    "data",
    "el",
    "emit",
    "event",
    "forceUpdate",
    "nextTick",
    "options",
    "parent",
    "props",
    "refs",
    "root",
    "slots",
    "watch",
    "setup",
    "style",
    "set",
];

/// The lines, from 1, on which a component reads what only a plugin puts on every instance: `this.$kiln`, `{{ $t('ash') }}`.
pub fn lines_of_application(source: &str) -> Vec<u32> {
    let is_word = |c: char| c.is_alphanumeric() || c == '_' || c == '$';
    let reads = |line: &str| {
        line.match_indices('$').any(|(at, _)| {
            let rest = &line[at + 1..];
            let name = &rest[..rest.find(|c| !is_word(c)).unwrap_or(rest.len())];
            let read = line[..at].ends_with("this.") || line[..at].ends_with(['{', ' ', '"', '(']);
            let used = rest[name.len()..].starts_with(['.', '(', '?']);
            read && used && name.starts_with(char::is_alphabetic) && !OF_EVERY_INSTANCE.contains(&name)
        })
    };
    (1u32..).zip(source.lines()).filter(|(_, line)| reads(line)).map(|(number, _)| number).collect()
}

/// The surface of a single-file component.
pub fn surface(sources: Sources<'_>, path: &Path, shown: &str, source: &str) -> Surface {
    let name = path.file_stem().and_then(|s| s.to_str()).unwrap_or("Component");
    let mut out = Surface::new(name, shown, "default", Framework::Vue);
    let blocks = sfc::blocks(source);
    // `<script setup>` sees the types of the plain script beside it: both are read as one.
    let joined = sfc::in_place(source, &blocks.scripts.iter().map(|s| s.at.clone()).collect::<Vec<_>>());
    let generics = blocks.scripts.iter().find_map(|s| s.generics).map(lower::generics_of).unwrap_or_default();
    let setup = blocks.scripts.iter().any(|s| s.setup);
    let kind = if blocks.scripts.iter().any(|s| s.typed) { SourceType::tsx() } else { SourceType::jsx() };
    let kind = if joined.contains('<') && blocks.scripts.iter().any(|s| s.typed) { SourceType::ts() } else { kind };
    let read = with_script(sources, path, &joined, kind, |script| {
        script.with_generics(generics, || if setup { read_setup(script, &mut out) } else { read_options(script, &mut out) });
    });
    if read.is_none() {
        out.open = true;
    }
    types::declared_beside(sources, path, &mut out.props);
    for slot in blocks.template.map(sfc::slots).unwrap_or_default() {
        add_slot(&mut out, slot);
    }
    finish(&mut out);
    out
}

fn add_slot(out: &mut Surface, slot: Slot) {
    match out.slots.iter_mut().find(|s| s.name == slot.name) {
        Some(known) => known.exposes |= slot.exposes,
        None => out.slots.push(slot),
    }
}

/// A prop with an event `update:prop` is two-way.
fn finish(out: &mut Surface) {
    let reported: Vec<String> = out.events.iter().filter_map(|e| e.reports.clone()).collect();
    for prop in &mut out.props {
        prop.two_way |= reported.contains(&prop.name);
    }
}

fn add_event(out: &mut Surface, written: &str, payload: Option<Vec<Type>>) {
    if let Some(known) = out.events.iter_mut().find(|e| e.written == written) {
        known.payload = known.payload.take().or(payload);
        return;
    }
    let reports = (Framework::Vue.record().reported_prop)(written);
    let name = match &reports {
        Some(prop) => prop.clone(),
        None => event_name(written),
    };
    out.events.push(Event { reports, payload, ..Event::new(name, written) });
}

fn read_setup(script: &Script<'_>, out: &mut Surface) {
    for statement in &script.program.body {
        match statement {
            Statement::ExpressionStatement(s) => macro_call(script, &s.expression, None, out),
            Statement::VariableDeclaration(v) => {
                for declarator in &v.declarations {
                    if let Some(init) = &declarator.init {
                        macro_call(script, init, Some(&declarator.id), out);
                    }
                }
            }
            _ => {}
        }
    }
}

fn macro_call(script: &Script<'_>, expression: &Expression<'_>, target: Option<&BindingPattern<'_>>, out: &mut Surface) {
    let Expression::CallExpression(call) = bare(expression) else { return };
    let Expression::Identifier(callee) = &call.callee else { return };
    match callee.name.as_str() {
        "defineProps" => {
            define_props(script, call, out);
            defaults_of_pattern(script, target, out);
        }
        "withDefaults" => {
            if let Some(Expression::CallExpression(inner)) = call.arguments.first().and_then(|a| a.as_expression()) {
                define_props(script, inner, out);
            }
            if let Some(object) = call.arguments.get(1).and_then(|a| a.as_expression()).and_then(object_literal) {
                for property in properties(object) {
                    set_default(out, &property.0, script.text(property.1.span()));
                }
            }
        }
        "defineEmits" => define_emits(script, call, out),
        "defineModel" => define_model(script, call, out),
        "defineExpose" => {
            if let Some(object) = call.arguments.first().and_then(|a| a.as_expression()).and_then(object_literal) {
                out.exposes.extend(names_of(object));
            }
        }
        "defineSlots" => {
            if let Some(ty) = type_argument(call) {
                let members = types::members(script, ty);
                for member in members.list {
                    add_slot(out, Slot { exposes: member.takes, ..Slot::new(member.name) });
                }
            }
        }
        "defineOptions" => {}
        _ => {}
    }
}

fn type_argument<'e, 'a>(call: &'e CallExpression<'a>) -> Option<&'e TSType<'a>> {
    call.type_arguments.as_ref()?.params.first()
}

fn define_props(script: &Script<'_>, call: &CallExpression<'_>, out: &mut Surface) {
    if let Some(ty) = type_argument(call) {
        let members = types::members(script, ty);
        out.open |= members.open;
        out.variants = members.variants;
        for m in members.list {
            // Vue casts a boolean prop that is not passed to false.
            out.props.push(Prop { required: !m.optional, ..m.told.prop(m.name, m.ty) });
        }
        return;
    }
    if let Some(expression) = call.arguments.first().and_then(|a| a.as_expression()) {
        runtime_props(script, expression, out);
    }
}

/// `const { step = 10 } = defineProps<…>()`
fn defaults_of_pattern(script: &Script<'_>, target: Option<&BindingPattern<'_>>, out: &mut Surface) {
    let Some(BindingPattern::ObjectPattern(pattern)) = target else { return };
    for property in &pattern.properties {
        if let (Some(name), BindingPattern::AssignmentPattern(assignment)) = (key_name(&property.key), &property.value) {
            set_default(out, &name, script.text(assignment.right.span()));
        }
    }
}

fn set_default(out: &mut Surface, name: &str, text: &str) {
    if let Some(prop) = out.props.iter_mut().find(|p| p.name == name) {
        // What its type demands stays required: Vue warns where it is not passed, whatever its default.
        prop.default = Some(text.to_owned());
    }
}

/// `{ label: String, step: { type: Number, default: 10 } }` or `['label']`.
fn runtime_props(script: &Script<'_>, expression: &Expression<'_>, out: &mut Surface) {
    match bare(expression) {
        Expression::ArrayExpression(array) => {
            for name in strings(array) {
                out.props.push(script.told(array.span.start).prop(name, untyped()));
            }
        }
        Expression::ObjectExpression(object) => {
            out.open |= object.properties.iter().any(|p| matches!(p, ObjectPropertyKind::SpreadProperty(_)));
            for (name, value) in properties(object) {
                let told = object
                    .properties
                    .iter()
                    .filter_map(|p| p.as_property())
                    .find(|p| key_name(&p.key).as_deref() == Some(&name))
                    .map(|p| script.told(p.span.start));
                out.props.push(runtime_prop(script, name, value, told.unwrap_or_default()));
            }
        }
        Expression::Identifier(id) => match script.constants.get(id.name.as_str()) {
            Some(constant) => runtime_props(script, constant, out),
            None => out.open = true,
        },
        _ => out.open = true,
    }
}

fn untyped() -> Type {
    Type::Unresolved { text: "any".into() }
}

fn runtime_prop(script: &Script<'_>, name: String, value: &Expression<'_>, told: Told) -> Prop {
    let mut prop = told.prop(name, untyped());
    match object_literal(value) {
        Some(options) => {
            let mut allowed = None;
            for (key, value) in properties(options) {
                match key.as_str() {
                    "type" => prop.ty = runtime_type(script, value),
                    "required" => prop.required = matches!(bare(value), Expression::BooleanLiteral(b) if b.value),
                    "default" => prop.default = Some(script.text(value.span()).to_owned()),
                    "validator" => allowed = validator::allowed(script, value),
                    _ => {}
                }
            }
            if let Some(allowed) = allowed {
                prop.ty = validator::within(&prop.ty, allowed);
            }
        }
        None => prop.ty = runtime_type(script, value),
    }
    prop
}

fn runtime_type(script: &Script<'_>, expression: &Expression<'_>) -> Type {
    // `Object as PropType<Kiln>` says more than the constructor.
    if let Expression::TSAsExpression(cast) = expression
        && let TSType::TSTypeReference(reference) = &cast.type_annotation
        && let Some(ty) = reference.type_arguments.as_ref().and_then(|a| a.params.first())
    {
        return types::declared(script, ty);
    }
    match bare(expression) {
        Expression::Identifier(id) => match id.name.as_str() {
            "String" => Type::String,
            "Number" => Type::Number,
            "Boolean" => Type::Boolean,
            "Function" => Type::Function,
            "Date" => Type::Date,
            // Of what, nobody says.
            "Array" => Type::Array { of: Box::new(untyped()) },
            _ => Type::Unresolved { text: script.text(expression.span()).to_owned() },
        },
        Expression::ArrayExpression(array) => {
            let of: Vec<Type> = array.elements.iter().filter_map(|e| e.as_expression()).map(|e| runtime_type(script, e)).collect();
            Type::Either { of }
        }
        _ => Type::Unresolved { text: script.text(expression.span()).to_owned() },
    }
}

fn define_emits(script: &Script<'_>, call: &CallExpression<'_>, out: &mut Surface) {
    if let Some(ty) = type_argument(call) {
        for (name, payload) in types::events(script, ty) {
            add_event(out, &name, payload);
        }
    } else if let Some(expression) = call.arguments.first().and_then(|a| a.as_expression()) {
        emits_of_value(script, expression, out);
    }
}

fn emits_of_value(script: &Script<'_>, expression: &Expression<'_>, out: &mut Surface) {
    match bare(expression) {
        Expression::ArrayExpression(array) => {
            let names = strings(array);
            // What is called by a constant of another module the framework knows when it runs.
            out.open |= names.len() < array.elements.len();
            names.iter().for_each(|name| add_event(out, name, None));
        }
        Expression::ObjectExpression(object) => {
            let names = names_of(object);
            out.open |= names.len() < object.properties.len();
            names.iter().for_each(|name| add_event(out, name, None));
        }
        Expression::Identifier(id) => match script.constants.get(id.name.as_str()) {
            Some(constant) => emits_of_value(script, constant, out),
            None => out.open = true,
        },
        _ => out.open = true,
    }
}

fn define_model(script: &Script<'_>, call: &CallExpression<'_>, out: &mut Surface) {
    let arguments: Vec<&Expression<'_>> = call.arguments.iter().filter_map(|a| a.as_expression()).collect();
    let (name, options) = match arguments.first().map(|a| bare(a)) {
        Some(Expression::StringLiteral(name)) => (name.value.to_string(), arguments.get(1).copied()),
        _ => ("modelValue".to_owned(), arguments.first().copied()),
    };
    let told = script.told(call.span.start);
    let mut prop = match options {
        Some(options) => runtime_prop(script, name.clone(), options, told),
        None => told.prop(name.clone(), untyped()),
    };
    prop.two_way = true;
    if matches!(prop.ty, Type::Unresolved { .. }) {
        prop.ty = untyped();
    }
    if let Some(ty) = type_argument(call) {
        prop.ty = types::declared(script, ty);
    }
    let payload = vec![prop.ty.clone()];
    out.props.push(prop);
    add_event(out, &format!("update:{name}"), Some(payload));
}

/// The surfaces of components that a script exports: `defineComponent({ … })`, with JSX as a rule.
pub fn exported(sources: Sources<'_>, path: &Path, shown: &str, source: &str) -> Vec<Surface> {
    let stem = path.file_stem().and_then(|s| s.to_str()).unwrap_or("Component");
    let read = with_script(sources, path, source, crate::program::source_type(path), |script| {
        let mut found: Vec<(String, String, &Expression<'_>)> = Vec::new();
        for statement in &script.program.body {
            match statement {
                Statement::ExportDefaultDeclaration(export) => {
                    let expression = export.declaration.as_expression().and_then(|e| match bare(e) {
                        Expression::Identifier(id) => script.constants.get(id.name.as_str()).copied(),
                        other => Some(other),
                    });
                    found.extend(expression.map(|e| (stem.to_owned(), "default".to_owned(), e)));
                }
                Statement::ExportDeclaration(export) => {
                    if let oxc::ast::ast::Declaration::VariableDeclaration(variable) = &export.declaration {
                        for declarator in &variable.declarations {
                            if let (Some(name), Some(init)) = (declarator.id.get_identifier_name(), &declarator.init) {
                                found.push((name.to_string(), name.to_string(), init));
                            }
                        }
                    }
                }
                Statement::ExportNamedDeclaration(export) => {
                    for specifier in &export.specifiers {
                        let init = script.constants.get(specifier.local.name().as_str());
                        let name = specifier.exported.name().to_string();
                        found.extend(init.map(|init| (if name == "default" { stem.to_owned() } else { name.clone() }, name, *init)));
                    }
                }
                _ => {}
            }
        }
        let mut known: Vec<oxc::span::Span> = Vec::new();
        let mut out = Vec::new();
        for (name, export, expression) in found {
            // A component that is exported by name and by default is one.
            if known.contains(&expression.span()) {
                continue;
            }
            let arguments: Vec<&Expression<'_>> = match bare(expression) {
                Expression::CallExpression(call) => call.arguments.iter().filter_map(|a| a.as_expression()).collect(),
                object @ Expression::ObjectExpression(_) => vec![object],
                _ => continue,
            };
            let defines = matches!(bare(expression), Expression::CallExpression(call) if matches!(&call.callee, Expression::Identifier(id) if id.name == "defineComponent"));
            let options = arguments.iter().find_map(|e| object_literal(e));
            // A helper of the project's own may define it. Options that render nothing and extend nothing are for others to mix in.
            if !options.map_or(defines, |options| renders(options) || defines && extends(options)) {
                continue;
            }
            known.push(expression.span());
            let mut surface = Surface::new(&name, shown, &export, Framework::Vue);
            // The form with a function takes its options beside it.
            match options {
                Some(options) => of_options(script, options, &mut surface),
                None => surface.open = true,
            }
            if let Some(setup) = arguments.iter().find(|e| object_literal(e).is_none()) {
                said_in_setup(script.text(setup.span()), &mut surface);
            }
            finish(&mut surface);
            out.push(surface);
        }
        out
    });
    read.unwrap_or_else(|| {
        let mut surface = Surface::new(stem, shown, "default", Framework::Vue);
        surface.open = true;
        vec![surface]
    })
}

/// Whether options are those of a component: they say what it renders.
fn renders(options: &ObjectExpression<'_>) -> bool {
    properties(options).iter().any(|(name, value)| match name.as_str() {
        "setup" | "render" => matches!(value, Expression::FunctionExpression(_) | Expression::ArrowFunctionExpression(_)),
        "template" => matches!(value, Expression::StringLiteral(_) | Expression::TemplateLiteral(_)),
        _ => false,
    })
}

/// Whether options take what they render from elsewhere. What they mix in is as a rule no template: such options are for others to mix in, too.
fn extends(options: &ObjectExpression<'_>) -> bool {
    options.properties.iter().any(|p| matches!(p, oxc::ast::ast::ObjectPropertyKind::SpreadProperty(_)))
        || properties(options).iter().any(|(name, _)| matches!(name.as_str(), "extends" | "setup" | "render" | "template"))
}

fn read_options(script: &Script<'_>, out: &mut Surface) {
    let Some(options) = script.program.body.iter().find_map(|s| match s {
        Statement::ExportDefaultDeclaration(export) => export.declaration.as_expression().and_then(|e| options_object(script, e)),
        _ => None,
    }) else {
        out.open |= !script.program.body.is_empty();
        return;
    };
    of_options(script, options, out);
}

fn of_options(script: &Script<'_>, options: &ObjectExpression<'_>, out: &mut Surface) {
    let mut options = properties(options);
    // What it says itself counts before what it inherits.
    options.sort_by_key(|(key, _)| matches!(key.as_str(), "extends" | "mixins"));
    for (key, value) in options {
        match key.as_str() {
            "props" => runtime_props(script, value, out),
            "emits" => emits_of_value(script, value, out),
            "expose" => {
                if let Expression::ArrayExpression(array) = bare(value) {
                    out.exposes.extend(strings(array));
                }
            }
            "setup" => said_in_setup(script.text(value.span()), out),
            "extends" => inherited(script, value, out),
            "mixins" => match bare(value) {
                Expression::ArrayExpression(array) => array.elements.iter().for_each(|e| match e.as_expression() {
                    Some(mixin) => inherited(script, mixin, out),
                    None => out.open = true,
                }),
                _ => out.open = true,
            },
            _ => {}
        }
    }
}

/// What another component brings, by `extends` or as a mixin: one of this file, or of one beside it.
fn inherited(script: &Script<'_>, value: &Expression<'_>, out: &mut Surface) {
    let mut from = Surface::new("", "", "", Framework::Vue);
    let read = match bare(value) {
        Expression::ObjectExpression(object) => {
            of_options(script, object, &mut from);
            true
        }
        Expression::Identifier(id) => match script.constants.get(id.name.as_str()).and_then(|c| options_object(script, c)) {
            Some(object) => {
                of_options(script, object, &mut from);
                true
            }
            None => imported_options(script, id.name.as_str(), &mut from),
        },
        _ => false,
    };
    out.open |= !read || from.open;
    for prop in from.props {
        if !out.props.iter().any(|p| p.name == prop.name) {
            out.props.push(prop);
        }
    }
    from.events.into_iter().for_each(|e| add_event(out, &e.written, e.payload));
}

/// The options of a component that is imported. False where they cannot be read.
fn imported_options(script: &Script<'_>, name: &str, out: &mut Surface) -> bool {
    let Some((specifier, there)) = script.imports.get(name) else { return false };
    let Some(path) = script.file_beside(specifier) else { return false };
    let Some(text) = script.sources.open(&path) else { return false };
    let is_vue = path.extension().is_some_and(|e| e == "vue");
    let (text, kind) = if is_vue { (sfc::scripts_in_place(&text), SourceType::ts()) } else { (text, source_type(&path)) };
    let read = with_script(script.sources, &path, &text, kind, |other| {
        if *there == "default" {
            read_options(other, out);
            return true;
        }
        match other.constants.get(there).and_then(|c| options_object(other, c)) {
            Some(object) => {
                of_options(other, object, out);
                true
            }
            None => false,
        }
    });
    read == Some(true)
}

/// What a function that renders says of its slots and of the members that it offers: `slots.footer({ room })`, `expose({ reset })`.
fn said_in_setup(text: &str, out: &mut Surface) {
    for (at, _) in text.match_indices("slots.") {
        let rest = &text[at + "slots.".len()..];
        let end = rest.find(|c: char| !(c.is_alphanumeric() || c == '_')).unwrap_or(rest.len());
        let called = rest[end..].trim_start_matches("?.");
        if end > 0 && !text[..at].ends_with(|c: char| c.is_alphanumeric() || c == '_') {
            let exposes = called.strip_prefix('(').is_some_and(|inside| !inside.trim_start().starts_with(')'));
            add_slot(out, Slot { exposes, ..Slot::new(&rest[..end]) });
        }
    }
    if let Some((_, rest)) = text.split_once("expose({") {
        let names =
            rest.split('}').next().unwrap_or_default().split(',').map(|part| part.split([':', '(']).next().unwrap_or_default().trim());
        let words = names.filter(|n| !n.is_empty() && n.chars().all(|c| c.is_alphanumeric() || c == '_'));
        for name in words.map(str::to_owned) {
            if !out.exposes.contains(&name) {
                out.exposes.push(name);
            }
        }
    }
}

fn options_object<'e, 'a>(script: &'e Script<'a>, expression: &'e Expression<'a>) -> Option<&'e ObjectExpression<'a>> {
    match bare(expression) {
        Expression::ObjectExpression(object) => Some(object),
        Expression::CallExpression(call) => call.arguments.first().and_then(|a| a.as_expression()).and_then(object_literal),
        Expression::Identifier(id) => object_literal(script.constants.get(id.name.as_str())?),
        _ => None,
    }
}

fn properties<'e, 'a>(object: &'e ObjectExpression<'a>) -> Vec<(String, &'e Expression<'a>)> {
    object.properties.iter().filter_map(|p| p.as_property()).filter_map(|p| Some((key_name(&p.key)?, &p.value))).collect()
}

fn names_of(object: &ObjectExpression<'_>) -> Vec<String> {
    object.properties.iter().filter_map(|p| p.as_property()).filter_map(|p| key_name(&p.key)).collect()
}

fn strings(array: &ArrayExpression<'_>) -> Vec<String> {
    array
        .elements
        .iter()
        .filter_map(|e| match e.as_expression()? {
            Expression::StringLiteral(s) => Some(s.value.to_string()),
            _ => None,
        })
        .collect()
}

//! The texts that a component tells apart, of a prop that is declared as any text, or as nothing at all: keys of an object of its own that the prop
//! looks up, cases of a `switch`, texts that it is compared with, and `@values a, b` in the comment above it.

use std::borrow::Cow;
use std::collections::BTreeMap;
use std::path::Path;

use fidelon_core::surface::{Prop, Surface, Type};
use oxc::allocator::Allocator;
use oxc::ast::ast::{
    BinaryExpression, CallExpression, ComputedMemberExpression, Expression, LogicalExpression, ObjectExpression, ObjectPropertyKind,
    PropertyDefinition, StaticMemberExpression, SwitchStatement, VariableDeclarator,
};
use oxc::ast_visit::{Visit, walk};
use oxc::parser::Parser;
use oxc::span::SourceType;
use serde_json::json;

use crate::markup::{Attribute, Syntax, scan};
use crate::program::{key_name, source_type};
use crate::types::bare;
use crate::words::is_part;
use crate::{sfc, svelte, words};

/// No more of them are passed.
const MOST: usize = 12;

/// A file by its parts: scripts in the places where they stand, and markup.
pub(crate) struct Parts<'s> {
    scripts: Cow<'s, str>,
    kind: SourceType,
    markup: Cow<'s, str>,
    syntax: Syntax,
}

impl<'s> Parts<'s> {
    pub(crate) fn of_vue(source: &'s str) -> Self {
        let markup = sfc::blocks(source).template.unwrap_or_default().into();
        Self { scripts: sfc::scripts_in_place(source).into(), kind: SourceType::tsx(), markup, syntax: Syntax::Vue }
    }

    pub(crate) fn of_svelte(source: &'s str) -> Self {
        let (scripts, markup) = (svelte::scripts_in_place(source).into(), svelte::markup(source).into());
        Self { scripts, kind: SourceType::ts(), markup, syntax: Syntax::Svelte }
    }

    /// What a script shows stands in its expressions, or in a template that is a text of it.
    pub(crate) fn of_script(source: &'s str, path: &Path) -> Self {
        Self { scripts: source.into(), kind: source_type(path), markup: Cow::default(), syntax: Syntax::Angular }
    }
}

/// Gives the props of a file's components the texts that its scripts and its markup tell apart.
pub(crate) fn narrow(surfaces: &mut [Surface], source: &str, parts: &Parts<'_>) {
    if !surfaces.iter().flat_map(|s| &s.props).any(is_any_text) {
        return;
    }
    let allocator = Allocator::default();
    let parsed = Parser::new(&allocator, &parts.scripts, parts.kind).parse();
    let mut seen = Seen::default();
    if !parsed.panicked {
        seen.visit_program(&parsed.program);
    }
    let numbers = number_fields(parts);
    for surface in surfaces.iter_mut() {
        let has_bounds = ["min", "max", "step"].iter().filter(|bound| surface.prop(bound).is_some()).count() > 1;
        let of_bounds = |prop: &Prop| has_bounds && ["value", "modelValue"].contains(&prop.name.as_str());
        for prop in surface.props.iter_mut().filter(|p| is_untyped(p)) {
            if of_bounds(prop) || numbers.contains(&prop.name.as_str()) {
                prop.ty = Type::Number;
            }
        }
    }
    let kinds = kinds_of_fields(parts);
    for prop in surfaces.iter_mut().flat_map(|s| &mut s.props).filter(|p| is_any_text(p) && kinds.contains(&p.name.as_str())) {
        prop.ty = union(&FIELDS.map(str::to_owned));
    }
    let documented = documented(source);
    for prop in surfaces.iter_mut().flat_map(|s| &mut s.props).filter(|p| is_any_text(p)) {
        if let Some((_, listed)) = documented.iter().find(|(name, _)| *name == prop.name) {
            prop.ty = union(listed);
            continue;
        }
        let looked_up = seen.maps.iter().filter_map(|(map, keys)| Some((keys, seen.looks_up(map, &prop.name, &parts.markup)?)));
        match looked_up.min_by_key(|(keys, _)| keys.len()) {
            Some((keys, Lookup::Bare)) => prop.ty = union(keys),
            Some((keys, Lookup::Guarded)) => prop.ty = Type::Either { of: vec![union(keys), Type::String] },
            None => {
                let mut compared: Vec<String> = Vec::new();
                let in_markup = compared_in_markup(&parts.markup, &prop.name);
                for text in seen.compared.iter().filter(|(name, _)| *name == prop.name).map(|(_, text)| text).chain(&in_markup) {
                    if !text.is_empty() && !compared.contains(text) {
                        compared.push(text.clone());
                    }
                }
                if !compared.is_empty() {
                    prop.ty = Type::Either { of: vec![union(&compared), Type::String] };
                }
            }
        }
    }
}

fn union(texts: &[String]) -> Type {
    Type::Union { of: texts.iter().take(MOST).map(|text| json!(text)).collect() }
}

/// How a prop is looked up in an object.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Lookup {
    /// As a key that must be there.
    Bare,
    /// With something in its place where it is not: `sizes[size] ?? 1`, `kinds[kind]?.tag`.
    Guarded,
}

/// Whether a prop may be any text, as far as is declared.
fn is_any_text(prop: &Prop) -> bool {
    prop.ty == Type::String || is_untyped(prop)
}

fn is_untyped(prop: &Prop) -> bool {
    matches!(&prop.ty, Type::Unresolved { text } if text == "any")
}

/// The names that markup puts into fields of numbers as their value: `<input type="range" bind:value>`, `v-model="heat"`.
fn number_fields<'p>(parts: &'p Parts<'_>) -> Vec<&'p str> {
    let markup: &str = &parts.markup;
    let found = scan(markup, 0..markup.len(), parts.syntax);
    let inputs = found.tags.iter().filter(|tag| &markup[tag.name.clone()] == "input").filter(|tag| {
        let says =
            |a: &Attribute| &markup[a.name.clone()] == "type" && a.value.clone().is_some_and(|v| ["range", "number"].contains(&&markup[v]));
        tag.attributes.iter().any(says)
    });
    let is_value = |name: &str| ["value", "bind:value", ":value", "v-model", "v-model.number"].contains(&name);
    let values = inputs.flat_map(|tag| &tag.attributes).filter(|a| is_value(&markup[a.name.clone()]));
    // `bind:value` by itself stands for `bind:value={value}`.
    values.map(|a| a.value.clone().map_or("value", |v| markup[v].trim())).collect()
}

/// Kinds of fields that take any text, and have a selection.
const FIELDS: [&str; 3] = ["text", "search", "password"];

/// The names that markup gives to fields as their kind: `<input {type}>`, `<input :type="kind">`.
fn kinds_of_fields<'p>(parts: &'p Parts<'_>) -> Vec<&'p str> {
    let markup: &str = &parts.markup;
    let found = scan(markup, 0..markup.len(), parts.syntax);
    let inputs = found.tags.iter().filter(|tag| &markup[tag.name.clone()] == "input");
    let kind = |a: &Attribute| {
        let value = markup[a.value.clone()?].trim();
        match &markup[a.name.clone()] {
            ":type" | "v-bind:type" => Some(value),
            "type" => a.in_braces.then_some(value),
            // `{type}` and `{...{ type }}`, which keeps a compiler from looking at it.
            "" => Some(value.trim_start_matches("...").trim_matches(['{', '}', ' '])).filter(|name| *name == "type"),
            _ => None,
        }
    };
    inputs
        .flat_map(|tag| &tag.attributes)
        .filter_map(kind)
        .map(|name| ["props.", "$props."].iter().find_map(|p| name.strip_prefix(p)).unwrap_or(name))
        .collect()
}

/// Objects with fixed keys, what looks something up in them, and texts that names are compared with.
#[derive(Default)]
struct Seen {
    maps: BTreeMap<String, Vec<String>>,
    /// The object, the name, and how.
    lookups: Vec<(String, String, Lookup)>,
    /// The name and the text.
    compared: Vec<(String, String)>,
}

impl Seen {
    fn map(&mut self, name: String, object: &ObjectExpression<'_>) {
        let key = |property: &ObjectPropertyKind<'_>| match property {
            ObjectPropertyKind::ObjectProperty(p) if !p.computed => key_name(&p.key),
            _ => None,
        };
        let keys: Option<Vec<String>> = object.properties.iter().map(key).collect();
        if let Some(keys) = keys.filter(|keys| keys.len() > 1) {
            // Two of one name may mean either.
            if self.maps.insert(name.clone(), keys).is_some() {
                self.maps.insert(name, Vec::new());
            }
        }
    }

    /// How a prop is looked up in an object, if it is.
    fn looks_up(&self, map: &str, prop: &str, markup: &str) -> Option<Lookup> {
        let in_script = self.lookups.iter().filter(|(of, by, _)| of == map && by == prop).map(|(.., how)| *how);
        let all: Vec<Lookup> = in_script.chain(looked_up_in_markup(markup, map, prop)).collect();
        all.iter().find(|how| **how == Lookup::Guarded).or_else(|| all.first()).copied()
    }

    fn guard(&mut self, expression: &Expression<'_>) {
        if let Expression::ComputedMemberExpression(member) = bare(expression)
            && let (Some(object), Some(name)) = (object_of(&member.object), prop_of(&member.expression))
        {
            self.lookups.push((object, name, Lookup::Guarded));
        }
    }

    fn compare(&mut self, by: &Expression<'_>, text: &Expression<'_>) {
        if let (Some(name), Expression::StringLiteral(text)) = (prop_of(by), bare(text)) {
            self.compared.push((name, text.value.to_string()));
        }
    }
}

/// The prop that an expression may mean: `size`, `props.size`, `this.size`, `this.props.size`.
fn prop_of(expression: &Expression<'_>) -> Option<String> {
    match bare(expression) {
        Expression::Identifier(id) => Some(id.name.to_string()),
        Expression::StaticMemberExpression(member) => {
            let holds_props = match bare(&member.object) {
                Expression::ThisExpression(_) => true,
                Expression::Identifier(id) => ["props", "$props", "__props"].contains(&id.name.as_str()),
                Expression::StaticMemberExpression(inner) => {
                    inner.property.name == "props" && matches!(bare(&inner.object), Expression::ThisExpression(_))
                }
                _ => false,
            };
            holds_props.then(|| member.property.name.to_string())
        }
        _ => None,
    }
}

/// What a name is called that stands for an object: `sizes`, `this.sizes`.
fn object_of(expression: &Expression<'_>) -> Option<String> {
    match bare(expression) {
        Expression::Identifier(id) => Some(id.name.to_string()),
        Expression::StaticMemberExpression(member) if matches!(bare(&member.object), Expression::ThisExpression(_)) => {
            Some(member.property.name.to_string())
        }
        _ => None,
    }
}

impl<'a> Visit<'a> for Seen {
    fn visit_variable_declarator(&mut self, declarator: &VariableDeclarator<'a>) {
        if let (Some(id), Some(Expression::ObjectExpression(object))) =
            (declarator.id.get_binding_identifier(), declarator.init.as_ref().map(bare))
        {
            self.map(id.name.to_string(), object);
        }
        walk::walk_variable_declarator(self, declarator);
    }

    fn visit_property_definition(&mut self, property: &PropertyDefinition<'a>) {
        if let (Some(name), Some(Expression::ObjectExpression(object))) = (key_name(&property.key), property.value.as_ref().map(bare)) {
            self.map(name, object);
        }
        walk::walk_property_definition(self, property);
    }

    fn visit_computed_member_expression(&mut self, member: &ComputedMemberExpression<'a>) {
        if let (Some(object), Some(name)) = (object_of(&member.object), prop_of(&member.expression)) {
            self.lookups.push((object, name, Lookup::Bare));
        }
        // `{ small: 1, large: 2 }[size]`
        if let (Expression::ObjectExpression(object), Some(name)) = (bare(&member.object), prop_of(&member.expression)) {
            let own = format!("{{}}{}", self.lookups.len());
            self.map(own.clone(), object);
            self.lookups.push((own, name, Lookup::Bare));
        }
        walk::walk_computed_member_expression(self, member);
    }

    fn visit_logical_expression(&mut self, logical: &LogicalExpression<'a>) {
        if !logical.operator.is_and() {
            self.guard(&logical.left);
        }
        walk::walk_logical_expression(self, logical);
    }

    fn visit_static_member_expression(&mut self, member: &StaticMemberExpression<'a>) {
        if member.optional {
            self.guard(&member.object);
        }
        walk::walk_static_member_expression(self, member);
    }

    fn visit_binary_expression(&mut self, binary: &BinaryExpression<'a>) {
        if binary.operator.is_equality() {
            self.compare(&binary.left, &binary.right);
            self.compare(&binary.right, &binary.left);
        }
        walk::walk_binary_expression(self, binary);
    }

    fn visit_switch_statement(&mut self, switch: &SwitchStatement<'a>) {
        for case in switch.cases.iter().filter_map(|case| case.test.as_ref()) {
            self.compare(&switch.discriminant, case);
        }
        walk::walk_switch_statement(self, switch);
    }

    /// `["small", "large"].includes(size)`
    fn visit_call_expression(&mut self, call: &CallExpression<'a>) {
        if let (Expression::StaticMemberExpression(member), Some(asked)) =
            (&call.callee, call.arguments.first().and_then(|a| a.as_expression()))
            && member.property.name == "includes"
            && let Expression::ArrayExpression(list) = bare(&member.object)
        {
            for text in list.elements.iter().filter_map(|e| e.as_expression()) {
                self.compare(asked, text);
            }
        }
        walk::walk_call_expression(self, call);
    }
}

/// How markup looks up a name in an object: `{sizes[size]}`, `:class="sizes[props.size] ?? 'small'"`.
fn looked_up_in_markup<'m>(markup: &'m str, object: &'m str, name: &'m str) -> impl Iterator<Item = Lookup> + 'm {
    words::places(markup, object).filter_map(move |at| {
        let (inner, rest) = markup[at + object.len()..].trim_start().strip_prefix('[')?.split_once(']')?;
        let by = ["props.", "this."].iter().find_map(|holder| inner.trim().strip_prefix(holder)).unwrap_or(inner.trim());
        let is_guarded = ["??", "||", "?."].iter().any(|guard| rest.trim_start().starts_with(guard));
        (by == name).then_some(if is_guarded { Lookup::Guarded } else { Lookup::Bare })
    })
}

/// The texts that markup compares a name with: `{#if size === 'large'}`, `v-if="'large' == size"`.
fn compared_in_markup(source: &str, name: &str) -> Vec<String> {
    let mut out = Vec::new();
    for at in words::places(source, name) {
        let before = &source[..at];
        // `event.type` is another thing's, and what `typeof` gives is no text of the prop.
        let own = ["props.", "this."].iter().find_map(|holder| before.strip_suffix(holder)).unwrap_or(before);
        if own.ends_with('.') || own.trim_end().ends_with("typeof") {
            continue;
        }
        let after = source[at + name.len()..].trim_start();
        if let Some(text) = ["===", "!==", "==", "!="].iter().find_map(|o| quoted(after.strip_prefix(o)?.trim_start())) {
            out.push(text.to_owned());
        }
        if let Some(text) = ["===", "!==", "==", "!="].iter().find_map(|o| quoted_before(own.trim_end().strip_suffix(o)?.trim_end())) {
            out.push(text.to_owned());
        }
    }
    out
}

/// The text in the quotes with which something begins.
fn quoted(text: &str) -> Option<&str> {
    let quote = text.chars().next().filter(|c| matches!(c, '\'' | '"' | '`'))?;
    let end = text[1..].find([quote, '\n'])?;
    Some(&text[1..=end]).filter(|_| text[1 + end..].starts_with(quote)).filter(|t| !t.contains("${"))
}

/// The text in the quotes with which something ends.
fn quoted_before(text: &str) -> Option<&str> {
    let quote = text.chars().next_back().filter(|c| matches!(c, '\'' | '"' | '`'))?;
    let inner = &text[..text.len() - 1];
    let start = inner.rfind([quote, '\n'])?;
    Some(&inner[start + 1..]).filter(|_| inner[start..].starts_with(quote)).filter(|t| !t.contains("${"))
}

/// What comments list above a declaration: `@values small, medium, large`.
fn documented(source: &str) -> Vec<(String, Vec<String>)> {
    let mut out = Vec::new();
    for (at, tag) in source.match_indices("@values") {
        let rest = &source[at + tag.len()..];
        let line = rest.split(['\n', '*']).next().unwrap_or_default();
        let is_value = |v: &&str| v.chars().all(|c| c.is_alphanumeric() || c == '-' || c == '_');
        let named: Vec<&str> = line.split(',').map(|v| v.trim().trim_matches(['`', '\'', '"'])).filter(|v| !v.is_empty()).collect();
        if named.len() < 2 || !named.iter().all(is_value) {
            continue;
        }
        let Some(declared) = rest.split_once("*/").map(|(_, after)| after) else { continue };
        let mut names = declared.split(|c| !is_part(c)).filter(|w| !w.is_empty());
        let name =
            names.find(|w| !["export", "let", "const", "var", "readonly", "public", "declare", "Input", "Prop", "property"].contains(w));
        if let Some(name) = name {
            out.push((name.to_owned(), named.into_iter().map(str::to_owned).collect()));
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use fidelon_core::surface::Framework;

    /// What `size` takes in a component of Vue, where it is declared as any text.
    fn told(source: &str) -> Type {
        let source = if source.contains("<template>") { source.to_owned() } else { format!("<script>\n{source}\n</script>") };
        let mut surface = Surface::new("Mug", "Mug.vue", "default", Framework::Vue);
        surface.props = vec![Prop::new("size", Type::String)];
        let mut all = [surface];
        narrow(&mut all, &source, &Parts::of_vue(&source));
        let [surface] = all;
        surface.props[0].ty.clone()
    }

    fn texts(list: &[&str]) -> Type {
        union(&list.iter().map(|text| (*text).to_owned()).collect::<Vec<_>>())
    }

    fn open(list: &[&str]) -> Type {
        Type::Either { of: vec![texts(list), Type::String] }
    }

    #[test]
    fn keys_that_are_looked_up_are_all_there_is() {
        for source in [
            "const sizes = { small: 1, large: 2 }; const now = sizes[props.size]",
            "const sizes = { small: 1, large: 2 } as const; const now = sizes[size]",
            "const now = { small: 1, large: 2 }[size]",
            "class Mug { sizes = { small: 1, large: 2 }; now() { return this.sizes[this.size] } }",
            "<script>const sizes = { small: 1, large: 2 }</script>\n<template><p :class=\"sizes[size]\"/></template>",
            "/** How big.\n * @values small, large\n */\nexport let size = ''",
        ] {
            assert_eq!(told(source), texts(&["small", "large"]), "{source}");
        }
        for source in [
            "const sizes = { small: 1, large: 2 }; const now = sizes[size] ?? 1",
            "const sizes = { small: {}, large: {} }; const now = sizes[props.size]?.tag",
            "<script>const sizes = { small: 1, large: 2 }</script>\n<template><p :class=\"sizes[size] || 'plain'\"/></template>",
        ] {
            assert_eq!(told(source), open(&["small", "large"]), "{source}");
        }
        for source in [
            "const sizes = { ...all, small: 1, large: 2 }; const now = sizes[size]",
            "const sizes = { small: 1, large: 2 }; const now = sizes[other.size]",
            "const sizes = { small: 1, large: 2 }; const now = sizes[color]",
            "/** @values $$sizes$$, all */\nexport let size = ''",
        ] {
            assert_eq!(told(source), Type::String, "{source}");
        }
    }

    #[test]
    fn what_kind_a_field_is_of_is_one_that_takes_any_text() {
        for source in [
            "<script></script>\n<template><input :type=\"size\"></template>",
            "<script></script>\n<template><input v-bind:type=\"props.size\"></template>",
        ] {
            assert_eq!(told(source), texts(&FIELDS), "{source}");
        }
        assert_eq!(told("<script></script>\n<template><button :type=\"size\" /><input type=\"size\"></template>"), Type::String);
        for source in ["<input {type}>", "<input class=x {...{ type }} />", "<input type={type}>"] {
            assert_eq!(kinds_of_fields(&Parts::of_svelte(source)), ["type"], "{source}");
        }
        for source in ["<input {...rest}>", "<input {value}>", "<input type='text'>"] {
            assert_eq!(kinds_of_fields(&Parts::of_svelte(source)), Vec::<&str>::new(), "{source}");
        }
    }

    #[test]
    fn what_fills_a_field_of_numbers_is_a_number() {
        let told = |source: &str, names: &[&str]| {
            let mut surface = Surface::new("Dial", "Dial.svelte", "default", Framework::Svelte);
            surface.props = names.iter().map(|n| Prop::new(*n, Type::Unresolved { text: "any".into() })).collect();
            let mut all = [surface];
            narrow(&mut all, source, &Parts::of_svelte(source));
            all[0].props[0].ty.clone()
        };
        for (source, names) in [
            ("<input type=\"range\"\n bind:this={field}\n bind:value />", ["value"].as_slice()),
            ("<input bind:value={heat} type='number'>\n", &["heat"]),
            ("<p>{value}</p>", &["value", "min", "max"]),
        ] {
            assert_eq!(told(source, names), Type::Number, "{source}");
        }
        for (source, names) in [
            ("<input type=\"range\" bind:value={heat} />", ["value"].as_slice()),
            ("<input type=\"text\" bind:value />", &["value"]),
            ("<input type=\"text\" bind:value={name}><input type=\"number\" on:input={() => go()}>", &["name"]),
            ("<p>{value}</p>", &["value", "min"]),
        ] {
            assert_ne!(told(source, names), Type::Number, "{source}");
        }
    }

    #[test]
    fn what_it_is_compared_with_is_passed_beside_any_text() {
        for source in [
            "const isBig = size === 'large' || props.size !== 'small'",
            "switch (this.props.size) { case 'large': break; case 'small': break; default: }",
            "const isBig = ['large', 'small'].includes(size)",
            "<template><p v-if=\"size == 'large'\"/><p v-if=\"'small' === size\"/></template>",
        ] {
            assert_eq!(told(source), open(&["large", "small"]), "{source}");
        }
        for source in [
            "const isBig = event.size === 'large'",
            "<template><p v-if=\"cup.size == 'large'\"/></template>",
            "<template><p v-if=\"typeof size === 'string'\"/></template>",
            "const isText = typeof size === 'string'",
            "const isNone = size === ''",
        ] {
            assert_eq!(told(source), Type::String, "{source}");
        }
    }
}

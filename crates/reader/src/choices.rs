//! The texts that a component tells apart, of a prop that is declared as any text, or as nothing at all: keys of an object of its own that the prop
//! looks up, cases of a `switch`, texts that it is compared with, and `@values a, b` in the comment above it.

use std::collections::BTreeMap;

use fidelon_core::surface::{Prop, Surface, Type};
use oxc::allocator::Allocator;
use oxc::ast::ast::{
    BinaryExpression, CallExpression, ComputedMemberExpression, Expression, ObjectExpression, ObjectPropertyKind, PropertyDefinition,
    SwitchStatement, VariableDeclarator,
};
use oxc::ast_visit::{Visit, walk};
use oxc::parser::Parser;
use oxc::span::SourceType;
use serde_json::json;

use crate::program::key_name;
use crate::types::bare;
use crate::unused::is_part;
use crate::unused::words;

/// No more of them are passed.
const MOST: usize = 12;

/// Gives the props of a file's components the texts that its scripts and its markup tell apart.
pub(crate) fn narrow(surfaces: &mut [Surface], source: &str, scripts: &str, kind: SourceType) {
    if !surfaces.iter().flat_map(|s| &s.props).any(is_any_text) {
        return;
    }
    let allocator = Allocator::default();
    let parsed = Parser::new(&allocator, scripts, kind).parse();
    let mut seen = Seen::default();
    if !parsed.panicked {
        seen.visit_program(&parsed.program);
    }
    for surface in surfaces.iter_mut() {
        let has_bounds = ["min", "max", "step"].iter().filter(|bound| surface.prop(bound).is_some()).count() > 1;
        let of_bounds = |prop: &Prop| has_bounds && ["value", "modelValue"].contains(&prop.name.as_str());
        for prop in surface.props.iter_mut().filter(|p| is_untyped(p)) {
            if of_bounds(prop) || fills_number(source, &prop.name) {
                prop.ty = Type::Number;
            }
        }
    }
    let documented = documented(source);
    for prop in surfaces.iter_mut().flat_map(|s| &mut s.props).filter(|p| is_any_text(p)) {
        let listed = documented.iter().find(|(name, _)| *name == prop.name).map(|(_, values)| values.clone());
        let looked_up = || {
            let maps = seen.maps.iter().filter(|(map, _)| {
                seen.lookups.iter().any(|(of, by)| of == *map && *by == prop.name) || is_looked_up(source, map, &prop.name)
            });
            maps.map(|(_, keys)| keys.clone()).min_by_key(Vec::len)
        };
        if let Some(closed) = listed.or_else(looked_up) {
            prop.ty = Type::Union { of: closed.into_iter().take(MOST).map(|v| json!(v)).collect() };
            continue;
        }
        let mut compared: Vec<String> = Vec::new();
        let in_markup = compared_in_markup(source, &prop.name);
        for text in seen.compared.iter().filter(|(name, _)| *name == prop.name).map(|(_, text)| text).chain(&in_markup) {
            if !text.is_empty() && !compared.contains(text) {
                compared.push(text.clone());
            }
        }
        // What it begins with stands first, as it does in a list of its own.
        if !compared.is_empty() {
            let of = compared.into_iter().take(MOST).map(|v| json!(v)).collect();
            prop.ty = Type::Either { of: vec![Type::Union { of }, Type::String] };
        }
    }
}

/// Whether a prop may be any text, as far as is declared.
fn is_any_text(prop: &Prop) -> bool {
    prop.ty == Type::String || is_untyped(prop)
}

fn is_untyped(prop: &Prop) -> bool {
    matches!(&prop.ty, Type::Unresolved { text } if text == "any")
}

/// Whether markup puts a prop into a field of numbers as its value: `<input type="range" bind:value>`.
fn fills_number(source: &str, name: &str) -> bool {
    let fields =
        source.match_indices("<input").filter_map(|(at, _)| source[at..].split_once("/>").or_else(|| source[at..].split_once(">\n")));
    let mut numbers = fields.map(|(tag, _)| tag).filter(|tag| {
        ["range", "number"].iter().any(|kind| [format!("type=\"{kind}\""), format!("type='{kind}'")].iter().any(|t| tag.contains(t)))
    });
    let ways = [format!("value={{{name}}}"), format!("value=\"{name}\""), format!("v-model=\"{name}\"")];
    numbers.any(|tag| {
        ways.iter().any(|way| tag.contains(way))
            || name == "value" && words(tag, "bind:value").any(|at| !tag[at + "bind:value".len()..].starts_with('='))
    })
}

/// Objects with fixed keys, what looks something up in them, and texts that names are compared with.
#[derive(Default)]
struct Seen {
    maps: BTreeMap<String, Vec<String>>,
    /// The object and the name.
    lookups: Vec<(String, String)>,
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
            self.lookups.push((object, name));
        }
        // `{ small: 1, large: 2 }[size]`
        if let (Expression::ObjectExpression(object), Some(name)) = (bare(&member.object), prop_of(&member.expression)) {
            let own = format!("{{}}{}", self.lookups.len());
            self.map(own.clone(), object);
            self.lookups.push((own, name));
        }
        walk::walk_computed_member_expression(self, member);
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

/// Whether markup looks up a name in an object: `{sizes[size]}`, `:class="sizes[props.size]"`.
fn is_looked_up(source: &str, object: &str, name: &str) -> bool {
    words(source, object).any(|at| {
        let inner = source[at + object.len()..].trim_start().strip_prefix('[').and_then(|rest| rest.split(']').next());
        inner
            .map(str::trim)
            .is_some_and(|by| by == name || by.strip_prefix("props.") == Some(name) || by.strip_prefix("this.") == Some(name))
    })
}

/// The texts that markup compares a name with: `{#if size === 'large'}`, `v-if="'large' == size"`.
fn compared_in_markup(source: &str, name: &str) -> Vec<String> {
    let mut out = Vec::new();
    for at in words(source, name) {
        let before = &source[..at];
        // `event.type` is another thing's.
        let own = ["props.", "this."].iter().find_map(|holder| before.strip_suffix(holder)).unwrap_or(before);
        if own.ends_with('.') {
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

    /// What `size` takes, where it is declared as any text.
    fn told(source: &str) -> Type {
        let mut surface = Surface::new("Mug", "Mug.vue", "default", Framework::Vue);
        surface.props = vec![Prop::new("size", Type::String)];
        let mut all = [surface];
        let scripts = source.split("<template>").next().unwrap_or_default();
        narrow(&mut all, source, scripts, SourceType::tsx());
        let [surface] = all;
        surface.props[0].ty.clone()
    }

    fn union(texts: &[&str]) -> Type {
        Type::Union { of: texts.iter().map(|t| json!(t)).collect() }
    }

    #[test]
    fn keys_that_are_looked_up_are_all_there_is() {
        for source in [
            "const sizes = { small: 1, large: 2 }; const now = sizes[props.size]",
            "const sizes = { small: 1, large: 2 } as const; const now = sizes[size]",
            "const now = { small: 1, large: 2 }[size]",
            "class Mug { sizes = { small: 1, large: 2 }; now() { return this.sizes[this.size] } }",
            "const sizes = { small: 1, large: 2 }\n<template><p :class=\"sizes[size]\"/>",
            "/** How big.\n * @values small, large\n */\nexport let size = ''",
        ] {
            assert_eq!(told(source), union(&["small", "large"]), "{source}");
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
    fn what_fills_a_field_of_numbers_is_a_number() {
        let told = |source: &str, names: &[&str]| {
            let mut surface = Surface::new("Dial", "Dial.svelte", "default", Framework::Svelte);
            surface.props = names.iter().map(|n| Prop::new(*n, Type::Unresolved { text: "any".into() })).collect();
            let mut all = [surface];
            narrow(&mut all, source, "", SourceType::ts());
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
            "<template><p v-if=\"size == 'large'\"/><p v-if=\"'small' === size\"/>",
        ] {
            assert_eq!(told(source), Type::Either { of: vec![union(&["large", "small"]), Type::String] }, "{source}");
        }
        for source in ["const isBig = event.size === 'large'", "<template><p v-if=\"cup.size == 'large'\"/>", "const isNone = size === ''"]
        {
            assert_eq!(told(source), Type::String, "{source}");
        }
    }
}

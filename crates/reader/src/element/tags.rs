//! What stands in texts: the slots of templates, and the tags of comments.

use fidelon_core::naming::camel;
use fidelon_core::surface::{Event, Prop, Slot, Type, event_name};
use oxc::ast::ast::Declaration;
use oxc::span::SourceType;
use serde_json::Value as Json;

use super::class::{Read, add, untyped};
use crate::program::{Script, with_script};
use crate::{sfc, types};

/// Templates in scripts.
const TEMPLATE: sfc::Dialect = sfc::Dialect { marks: ("${", "}"), tag: "slot", read: |_| Some(Slot::new("default")) };

/// What stands in a slot, from its start tag on: the words of one template, without code between.
fn fallback(from: &str) -> Option<String> {
    let (inside, _) = from.split_once("</slot>")?;
    let slot = sfc::slots_within(&format!("{inside}</slot>"), TEMPLATE);
    slot.into_iter().next()?.fallback.filter(|words| !words.contains(['`', '\'', '"', '+', '\\']))
}

/// The slots of the templates in a text, in order. One that stands in two places has no one fallback.
pub(super) fn slots(source: &str) -> Vec<Slot> {
    let mut out: Vec<Slot> = Vec::new();
    for (at, _) in source.match_indices("<slot") {
        let rest = &source[at + 5..];
        if !rest.starts_with([' ', '>', '/', '\n', '\r', '\t']) {
            continue;
        }
        let tag = rest.split('>').next().unwrap_or("");
        let name = match tag.split_once("name=") {
            Some((before, _)) if !before.is_empty() && !before.ends_with(char::is_whitespace) => String::new(),
            Some((_, value)) => {
                let quote = value.chars().next().filter(|c| *c == '"' || *c == '\'');
                let text = match quote {
                    Some(q) => value[1..].split(q).next(),
                    None => value.split([' ', '/', '\n']).next(),
                };
                text.unwrap_or_default().to_owned()
            }
            None => String::new(),
        };
        // A name that is computed is not known here.
        if name.contains("${") {
            continue;
        }
        let name = if name.is_empty() { "default".to_owned() } else { name };
        let fallback = fallback(&source[at..]);
        match out.iter_mut().find(|s| s.name == name) {
            Some(known) => known.fallback = known.fallback.take().filter(|words| fallback.as_ref() == Some(words)),
            None => out.push(Slot { fallback, ..Slot::new(name) }),
        }
    }
    out
}

/// What the comment above the class says in the tags of the trade.
pub(super) fn tags(script: &Script<'_>, class: u32, out: &mut Read) {
    let Some(comment) = script.comment_before(class) else { return };
    let comment = comment.trim_start_matches("/*").trim_end_matches("*/");
    for line in comment.lines().map(|l| l.trim().trim_start_matches('*').trim()) {
        let Some((tag, rest)) = line.strip_prefix('@').and_then(|l| l.split_once(char::is_whitespace)) else { continue };
        let (ty, rest) = match braced(rest.trim()) {
            Some((ty, rest)) => (Some(ty.trim()), rest.trim()),
            None => (None, rest.trim()),
        };
        let (name, about) = rest.split_once(" - ").or_else(|| rest.split_once(' ')).unwrap_or((rest, ""));
        let (name, about) = (name.trim().trim_matches(['[', ']']), about.trim().trim_start_matches("- "));
        let about = Some(about.to_owned()).filter(|a| !a.is_empty());
        match tag {
            "attr" | "attribute" | "prop" | "property" if !name.is_empty() => {
                let (name, default) = name.split_once('=').map_or((name, None), |(n, d)| (n, Some(d.to_owned())));
                let known = out.props.iter().map(|p| p.name.clone()).find(|p| *p == camel(name)).unwrap_or_else(|| name.to_owned());
                let ty = ty.and_then(|t| commented(script, t));
                add(&mut out.props, Prop { default, about, ..Prop::new(known.clone(), ty.clone().unwrap_or_else(untyped)) });
                // What is said in words is surer than what the code lets one guess.
                if let (Some(ty), Some(prop)) = (ty, out.props.iter_mut().find(|p| p.name == known)) {
                    prop.ty = ty;
                }
            }
            "slot" => {
                let name = if name.is_empty() || name == "-" { "default" } else { name };
                if !out.slots.iter().any(|s| s.name == name) {
                    out.slots.push(Slot::new(name));
                }
            }
            "fires" | "event" | "emits" if !name.is_empty() => {
                let payload =
                    ty.and_then(detail).and_then(|t| if is_nothing(t) { Some(Vec::new()) } else { Some(vec![commented(script, t)?]) });
                match out.events.iter_mut().find(|e| e.written == name) {
                    Some(known) => known.payload = known.payload.take().or(payload),
                    None => out.events.push(Event { payload, ..Event::new(event_name(name), name) }),
                }
            }
            _ => {}
        }
    }
}

/// The `@type {…}` of the comment right before.
pub(super) fn said_type(script: &Script<'_>, at: u32) -> Option<Type> {
    let comment = script.comment_before(at)?;
    let (_, rest) = comment.split_once("@type")?;
    let (ty, _) = braced(rest.trim_start())?;
    commented(script, ty.trim())
}

/// Whether a type says that nothing is carried.
pub(super) fn is_nothing(ty: &str) -> bool {
    matches!(ty.trim(), "void" | "undefined" | "null" | "never")
}

/// What stands between the braces that a text begins with, and what comes after them.
fn braced(text: &str) -> Option<(&str, &str)> {
    let mut depth = 0;
    for (at, c) in text.char_indices() {
        match c {
            '{' => depth += 1,
            '}' => depth -= 1,
            _ => {}
        }
        if depth == 0 {
            return text[..at].strip_prefix('{').map(|inside| (inside, &text[at + 1..]));
        }
    }
    None
}

/// The type of the payload in `CustomEvent<number>`.
pub(super) fn detail(event: &str) -> Option<&str> {
    event.trim().strip_prefix("CustomEvent<")?.strip_suffix('>')
}

/// A type in a comment, read as one of TypeScript.
fn commented(script: &Script<'_>, text: &str) -> Option<Type> {
    let source = format!("let it: {text};");
    with_script(script.sources, &script.path, &source, SourceType::ts(), |inner| {
        inner.program.body.iter().find_map(|statement| match statement.as_declaration()? {
            Declaration::VariableDeclaration(variable) => {
                let annotation = variable.declarations.first()?.type_annotation.as_ref()?;
                Some(types::declared(inner, &annotation.type_annotation))
            }
            _ => None,
        })
    })?
    .filter(|ty| *ty != Type::Union { of: vec![Json::Null] })
}

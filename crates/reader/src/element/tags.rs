//! What stands in texts: the slots of templates, and the tags of comments.

use fidelon_core::surface::{Prop, Type};
use oxc::ast::ast::Declaration;
use oxc::span::SourceType;
use serde_json::Value as Json;

use super::class::{Read, add, camel, untyped};
use crate::program::{Script, with_script};
use crate::types;

/// The slots of the templates in a text, in order.
pub(super) fn slots(source: &str) -> Vec<String> {
    let mut out: Vec<String> = Vec::new();
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
        if !out.contains(&name) {
            out.push(name);
        }
    }
    out
}

/// What the comment above the class says in the tags of the trade.
pub(super) fn tags(script: &Script<'_>, class: u32, out: &mut Read) {
    let Some(comment) = script.comment_before(class) else { return };
    for line in comment.lines().map(|l| l.trim().trim_start_matches('*').trim()) {
        let Some((tag, rest)) = line.strip_prefix('@').and_then(|l| l.split_once(char::is_whitespace)) else { continue };
        let (ty, rest) = match rest.trim().strip_prefix('{').and_then(|r| r.split_once('}')) {
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
                if !out.slots.iter().any(|s| s == name) {
                    out.slots.push(name.to_owned());
                }
            }
            "fires" | "event" | "emits" if !name.is_empty() && !out.events.iter().any(|e| e == name) => out.events.push(name.to_owned()),
            _ => {}
        }
    }
}

/// The `@type {…}` of the comment right before.
pub(super) fn said_type(script: &Script<'_>, at: u32) -> Option<Type> {
    let comment = script.comment_before(at)?;
    let (_, rest) = comment.split_once("@type")?;
    let (ty, _) = rest.trim_start().strip_prefix('{')?.split_once('}')?;
    commented(script, ty.trim())
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

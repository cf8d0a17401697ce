//! What a package says of its elements in a Custom Elements Manifest (<https://github.com/webcomponents/custom-elements-manifest>): it
//! completes what the source tells, and never contradicts it.

use std::path::Path;

use fidelon_core::naming::camel;
use fidelon_core::surface::{Event, Prop, Slot, Surface, Type, event_name};
use oxc::ast::ast::Statement;
use oxc::span::SourceType;
use serde_json::Value as Json;

use super::tags::{detail, is_nothing};
use crate::program::{Sources, with_script};
use crate::types::declared;

/// The name that a package uses where its `package.json` says nothing.
const BY_CUSTOM: &str = "custom-elements.json";

/// Completes elements of a file with what the manifest of their package says of them.
pub(super) fn complete(sources: Sources<'_>, path: &Path, surfaces: &mut [Surface]) {
    if surfaces.is_empty() {
        return;
    }
    let Some(text) = of_package(sources, path) else { return };
    // Most packages have many elements and most files one.
    if !surfaces.iter().any(|s| text.contains(&format!("\"{}\"", s.export))) {
        return;
    }
    let Ok(manifest) = serde_json::from_str::<Json>(&text) else { return };
    let known: Vec<&Json> = list(&manifest, "modules").flat_map(|m| list(m, "declarations")).collect();
    for surface in surfaces {
        if let Some(told) = known.iter().find(|d| d["tagName"] == surface.export.as_str()) {
            add(sources, told, surface);
        }
    }
}

/// The manifest that the nearest `package.json` names, or that lies beside it.
fn of_package(sources: Sources<'_>, path: &Path) -> Option<String> {
    let folder = path.ancestors().skip(1).find(|f| sources.files.is_file(&f.join("package.json")))?;
    let package: Json = serde_json::from_str(&sources.files.read(&folder.join("package.json")).ok()?).ok()?;
    sources.files.read(&folder.join(package["customElements"].as_str().unwrap_or(BY_CUSTOM))).ok()
}

fn list<'a>(of: &'a Json, key: &str) -> impl Iterator<Item = &'a Json> {
    of[key].as_array().into_iter().flatten()
}

fn text(of: &Json, key: &str) -> Option<String> {
    of[key].as_str().map(str::trim).filter(|t| !t.is_empty()).map(str::to_owned)
}

fn add(sources: Sources<'_>, told: &Json, surface: &mut Surface) {
    let own = |member: &&Json| {
        let hidden = member["privacy"].as_str().is_some_and(|p| p != "public") || member["static"] == true;
        !hidden && !member["name"].as_str().unwrap_or("_").starts_with(['_', '#'])
    };
    for member in list(told, "members").filter(own) {
        let Some(name) = text(member, "name") else { continue };
        if member["kind"] == "method" {
            if !surface.exposes.contains(&name) && !LIFE.contains(&name.as_str()) {
                surface.exposes.push(name);
            }
        } else if member["readonly"] == true {
            if !surface.exposes.contains(&name) && surface.prop(&name).is_none() {
                surface.exposes.push(name);
            }
        } else {
            prop(sources, member, name, surface);
        }
    }
    // An attribute that a field stands for is that field.
    for attribute in list(told, "attributes").filter(|a| a["fieldName"].is_null()) {
        if let Some(name) = text(attribute, "name") {
            prop(sources, attribute, camel(&name), surface);
        }
    }
    for event in list(told, "events") {
        let Some(written) = text(event, "name") else { continue };
        let payload = || {
            let ty = text(&event["type"], "text")?;
            detail(&ty).map(|t| if is_nothing(t) { Vec::new() } else { vec![type_of(sources, t)] })
        };
        match surface.events.iter_mut().find(|e| e.written == written) {
            Some(known) => known.payload = known.payload.take().or_else(payload),
            None => surface.events.push(Event { payload: payload(), ..Event::new(event_name(&written), written) }),
        }
    }
    for slot in list(told, "slots") {
        let name = text(slot, "name").unwrap_or_else(|| "default".into());
        if surface.slot(&name).is_none() {
            surface.slots.push(Slot::new(name));
        }
    }
}

/// What the page calls, not a parent.
const LIFE: [&str; 5] = ["connectedCallback", "disconnectedCallback", "attributeChangedCallback", "adoptedCallback", "formResetCallback"];

fn prop(sources: Sources<'_>, told: &Json, name: String, surface: &mut Surface) {
    let ty = text(&told["type"], "text").map(|text| type_of(sources, &text));
    match surface.props.iter_mut().find(|p| p.name == name) {
        Some(known) => {
            if let (Type::Unresolved { .. }, Some(ty)) = (&known.ty, ty) {
                known.ty = ty;
            }
            known.about = known.about.take().or_else(|| text(told, "description"));
            known.default = known.default.take().or_else(|| text(told, "default"));
        }
        None => surface.props.push(Prop {
            default: text(told, "default"),
            about: text(told, "description"),
            ..Prop::new(name, ty.unwrap_or_else(|| Type::Unresolved { text: "any".into() }))
        }),
    }
}

/// A type as the manifest writes it, which is as TypeScript does.
fn type_of(sources: Sources<'_>, text: &str) -> Type {
    let unresolved = || Type::Unresolved { text: text.to_owned() };
    let source = format!("type It = {text};");
    let read = with_script(sources, Path::new("manifest.ts"), &source, SourceType::ts(), |script| {
        let Some(Statement::TSTypeAliasDeclaration(alias)) = script.program.body.first() else { return unresolved() };
        without_nothing(declared(script, &alias.type_annotation))
    });
    read.unwrap_or_else(unresolved)
}

/// `string | undefined` says that it may be left out, as any may.
fn without_nothing(ty: Type) -> Type {
    match ty {
        Type::Either { of } => {
            let mut some: Vec<Type> = of.into_iter().filter(|t| !matches!(t, Type::Unresolved { text } if text == "undefined")).collect();
            if some.len() == 1 { some.remove(0) } else { Type::Either { of: some } }
        }
        other => other,
    }
}

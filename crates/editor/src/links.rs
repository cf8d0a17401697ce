//! From a contract to the source that it speaks of, and back.

use std::path::Path;

use fidelon_run::survey::tidy;
use fidelon_source::Place;
use lsp_types::{Location, Position, Range};

use crate::contract::{Typed, cursor};
use crate::state::{Document, State};

/// Where what stands at a position of a contract is declared: a component's file, or the prop of that name.
pub(crate) fn declared(state: &State, document: &Document, at: Position) -> Vec<Location> {
    if !document.is_contract() {
        return Vec::new();
    }
    let Some((name, ..)) = document.text.name_at(at) else { return Vec::new() };
    if let Some(location) = named_file(state, document, at) {
        return vec![location];
    }
    let Some((root, known, file)) = state.around(document) else { return Vec::new() };
    let places = known.surfaces_under(&file).filter_map(|surface| surface.prop(name)?.place.as_ref());
    places.filter_map(|place| location(state, root, place)).collect()
}

/// Where the contracts of a component speak of the name at a position of its source; of the component itself on its first line.
pub(crate) fn spoken_of(state: &State, document: &Document, at: Position) -> Vec<Location> {
    let Some((root, known, file)) = state.around(document) else { return Vec::new() };
    let name = document.text.name_at(at).map(|(name, ..)| name.to_owned());
    let mut out = Vec::new();
    for surface in known.surfaces_in(&file) {
        let Some(contract) = known.contract_of(&crate::looking::component_of(surface)) else { continue };
        let path = root.join(contract);
        let Some(uri) = state.uri_of(&path) else { continue };
        let text = state.text_of(&path);
        let is_declared = name.as_ref().is_some_and(|name| {
            surface.prop(name).is_some() || surface.slot(name).is_some() || surface.events.iter().any(|e| e.name == *name)
        });
        if let Some(name) = name.as_ref().filter(|_| is_declared) {
            let found = text
                .all()
                .match_indices(name.as_str())
                .filter(|(start, _)| text.name_at(text.position(*start)).is_some_and(|(whole, ..)| whole == name));
            out.extend(found.map(|(start, _)| Location { uri: uri.clone(), range: text.range(start, start + name.len()) }));
        } else if at.line == 0 {
            out.push(Location { uri, range: Range::default() });
        }
    }
    out
}

/// The file that a path in a contract names.
fn named_file(state: &State, document: &Document, at: Position) -> Option<Location> {
    let found = cursor(&document.text, at);
    let is_path = found.typed == Typed::Value && matches!(found.keys().last(), Some(&"component" | &"wrap" | &"styles"));
    let within = found.typed == Typed::Key && matches!(found.keys().as_slice(), ["component" | "wrap" | "styles"]);
    if !is_path && !within {
        return None;
    }
    let start = document.text.offset(Position::new(at.line, 0));
    let line = document.text.line(at.line);
    let column = document.text.offset(at) - start;
    let stops = |c: char| c.is_whitespace() || matches!(c, '"' | '\'' | '[' | ']' | ',' | '{' | '}');
    let from = line[..column].rfind(stops).map_or(0, |at| at + line[at..].chars().next().map_or(1, char::len_utf8));
    let to = column + line[column..].find(stops).unwrap_or(line.len() - column);
    let written = line[from..to].split('#').next().unwrap_or_default();
    let path = tidy(&document.path.parent().unwrap_or(Path::new("")).join(written));
    path.is_file().then(|| state.uri_of(&path)).flatten().map(|uri| Location { uri, range: Range::default() })
}

fn location(state: &State, root: &Path, place: &Place) -> Option<Location> {
    let path = root.join(&place.file);
    Some(Location { uri: state.uri_of(&path)?, range: state.text_of(&path).range_of_place(place.line, place.column) })
}

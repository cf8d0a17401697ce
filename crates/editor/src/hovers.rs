//! What is told of what the cursor is on: a component's surface, a prop, a law, a key of a contract.

use std::fmt::Write as _;

use fidelon_core::judge::laws::LAWS;
use fidelon_core::surface::{Prop, Surface};
use fidelon_report::explained::section;
use lsp_types::{Hover, HoverContents, MarkupContent, MarkupKind, Position};

use crate::contract::{Cursor, Step, cursor};
use crate::looking::component_of;
use crate::schema::Allowed;
use crate::state::{Document, Known, State};

/// What is told at a position; none where nothing is known of what stands there.
pub(crate) fn at(state: &State, document: &Document, at: Position) -> Option<Hover> {
    let (_, known, file) = state.around(document)?;
    let (name, start, end) = named(document, at)?;
    let text = if document.is_contract() {
        in_contract(known, &file, document, start, name)?
    } else {
        let own = || known.surfaces_in(&file).find_map(|surface| of_name(surface, name));
        // The component itself, by its name or anywhere on its first line.
        let whole = || known.surfaces_in(&file).find(|s| s.name == name || at.line == 0).map(|surface| of_component(known, surface));
        own().or_else(whole)?
    };
    let contents = HoverContents::Markup(MarkupContent { kind: MarkupKind::Markdown, value: text });
    Some(Hover { contents, range: Some(document.text.range(start, end)) })
}

/// The name at a position; the name of a law has a slash in it.
fn named(document: &Document, at: Position) -> Option<(&str, usize, usize)> {
    let all = document.text.all();
    let (name, mut start, mut end) = document.text.name_at(at)?;
    if document.is_contract() {
        let part = |c: char| c.is_ascii_lowercase() || c == '-' || c == '/';
        let before = all[..start].rfind(|c| !part(c)).map_or(0, |at| at + all[at..].chars().next().map_or(1, char::len_utf8));
        let after = end + all[end..].find(|c| !part(c)).unwrap_or(all.len() - end);
        if all[before..after].contains('/') {
            (start, end) = (before, after);
            return Some((&all[start..end], start, end));
        }
    }
    Some((name, start, end))
}

fn in_contract(known: &Known, file: &str, document: &Document, start: usize, name: &str) -> Option<String> {
    if let Some(law) = LAWS.iter().find(|law| law.name == name) {
        return Some(format!("**{}**: {}\n\n{}", law.name, law.demands, section(law.name).unwrap_or_default().trim()));
    }
    // The path to what stands before the name, and then the name.
    let Cursor { mut path, .. } = cursor(&document.text, document.text.position(start));
    let keys = Allowed::at(&path);
    let by_schema = keys.keys().into_iter().find(|key| key.name == name).map(|key| {
        path.push(Step::Key(name.to_owned()));
        let about = key.about.or_else(|| Allowed::at(&path).about());
        about.map_or_else(|| format!("`{name}`"), |about| format!("`{name}`: {about}"))
    });
    by_schema.or_else(|| known.surfaces_under(file).find_map(|surface| of_name(surface, name)))
}

/// What a component declares under a name.
fn of_name(surface: &Surface, name: &str) -> Option<String> {
    if let Some(prop) = surface.prop(name) {
        return Some(of_prop(prop));
    }
    if let Some(event) = surface.events.iter().find(|e| e.name == name || e.written == name) {
        let carries: Option<Vec<String>> = event.payload.as_ref().map(|types| types.iter().map(|t| format!("`{t}`")).collect());
        let carries = carries.filter(|types| !types.is_empty()).map(|types| format!(", carries {}", types.join(", "))).unwrap_or_default();
        let reports = event.reports.as_ref().map(|prop| format!(", reports `{prop}`")).unwrap_or_default();
        return Some(format!("event `{}`{carries}{reports}", event.name));
    }
    if let Some(slot) = surface.slot(name) {
        let hands = if slot.hands.is_empty() { String::new() } else { format!(", hands over {}", slot.hands.join(", ")) };
        return Some(format!("slot `{name}`{hands}"));
    }
    surface.exposes.iter().any(|member| member == name).then(|| format!("member `{name}`, reached through a ref"))
}

fn of_prop(prop: &Prop) -> String {
    let mut out = format!("prop `{}`: `{}`", prop.name, prop.ty);
    if prop.required {
        out += ", required";
    }
    if let Some(default) = &prop.default {
        let _ = write!(out, ", by default `{default}`");
    }
    if prop.two_way {
        out += ", two-way";
    }
    if let Some(about) = &prop.about {
        let _ = write!(out, "\n\n{about}");
    }
    out
}

/// All that a component declares, how it was judged, and the notes.
fn of_component(known: &Known, surface: &Surface) -> String {
    let mut out = format!("**{}** ({})\n", surface.name, surface.framework);
    for prop in &surface.props {
        let _ = writeln!(out, "- {}", of_prop(prop).replace("\n\n", ": ").replace('\n', " "));
    }
    let names = surface.events.iter().map(|e| e.name.as_str());
    let others = names.chain(surface.slots.iter().map(|s| s.name.as_str())).chain(surface.exposes.iter().map(String::as_str));
    for line in others.filter_map(|name| of_name(surface, name)).filter(|line| !line.starts_with("prop ")) {
        let _ = writeln!(out, "- {line}");
    }
    if let Some(judged) = known.judged(&component_of(surface)) {
        let _ = write!(out, "\n{}\n", crate::lenses::in_short(judged));
        for note in &judged.notes {
            let _ = writeln!(out, "- {note}");
        }
    }
    out
}

//! What can be written where somebody is in a contract: keys and values of its schema, and the names that its components really have.

use fidelon_core::judge::laws::LAWS;
use fidelon_core::surface::{Surface, Type};
use lsp_types::{CompletionItem, CompletionItemKind, CompletionTextEdit, Position, TextEdit};

use crate::contract::{Cursor, Typed, cursor};
use crate::looking::component_of;
use crate::schema::Allowed;
use crate::state::{Document, State};

/// What can be written at a position.
pub(crate) fn at(state: &State, document: &Document, at: Position) -> Vec<CompletionItem> {
    if !document.is_contract() {
        return Vec::new();
    }
    let around = state.around(document);
    let file = around.as_ref().map_or("", |(.., file)| file);
    let surfaces: Vec<&Surface> = around.as_ref().map(|(_, known, _)| known.surfaces_under(file).collect()).unwrap_or_default();
    let cursor = cursor(&document.text, at);
    let mut out = Offered { document, at, items: Vec::new() };
    match cursor.typed {
        Typed::Key => keys(&cursor, &surfaces, &mut out),
        Typed::Value => {
            values(&cursor, &surfaces, &mut out);
            if Allowed::at(&cursor.path).is("locator")
                && let Some((_, known, _)) = &around
            {
                let nodes = surfaces.iter().filter_map(|surface| known.nodes.get(&component_of(surface))).flatten();
                nodes.for_each(|node| out.add(node, CompletionItemKind::REFERENCE, Some("what the component shows")));
            }
        }
    }
    out.items
}

struct Offered<'a> {
    document: &'a Document,
    at: Position,
    items: Vec<CompletionItem>,
}

impl Offered<'_> {
    /// Offers a word in place of what was typed of it; each word once.
    fn add(&mut self, label: &str, kind: CompletionItemKind, about: Option<&str>) {
        self.put(label, label, kind, about);
    }

    fn key(&mut self, name: &str, about: Option<&str>) {
        self.put(name, &format!("{name}: "), CompletionItemKind::PROPERTY, about);
    }

    fn put(&mut self, label: &str, text: &str, kind: CompletionItemKind, about: Option<&str>) {
        if self.items.iter().any(|known| known.label == label) {
            return;
        }
        let line = self.document.text.line(self.at.line);
        let start = self.document.text.offset(Position::new(self.at.line, 0));
        let end = self.document.text.offset(self.at);
        // What was typed of it: back to what begins a key or a value.
        let typed = line[..end - start].rfind(['{', '[', ',', ':']).map_or(0, |at| at + 1);
        let typed = typed + (line[typed..].len() - line[typed..].trim_start_matches([' ', '-']).len());
        let range = self.document.text.range(start + typed.min(end - start), end);
        self.items.push(CompletionItem {
            label: label.into(),
            kind: Some(kind),
            detail: about.map(str::to_owned),
            // In the order in which it is offered, not by the alphabet.
            sort_text: Some(format!("{:04}", self.items.len())),
            text_edit: Some(CompletionTextEdit::Edit(TextEdit { range, new_text: text.into() })),
            ..CompletionItem::default()
        });
    }
}

fn keys(cursor: &Cursor, surfaces: &[&Surface], out: &mut Offered<'_>) {
    let keys = cursor.keys();
    match keys.as_slice() {
        ["props"] | [.., "pass" | "hold" | "assign"] => props(surfaces, out, |_| true),
        ["bindings"] => props(surfaces, out, |prop| prop.two_way),
        ["slots"] | [.., "fill" | "slots"] => {
            surfaces.iter().flat_map(|s| &s.slots).for_each(|slot| out.key(&slot.name, Some("slot")));
        }
        ["events"] => surfaces.iter().flat_map(|s| &s.events).for_each(|event| out.key(&event.name, Some("event"))),
        ["exposes"] => surfaces.iter().flat_map(|s| &s.exposes).for_each(|member| out.key(member, Some("member"))),
        ["laws"] => LAWS.iter().for_each(|law| out.key(law.name, Some(law.demands))),
        _ => {}
    }
    Allowed::at(&cursor.path).keys().iter().for_each(|key| out.key(key.name, key.about));
}

fn props(surfaces: &[&Surface], out: &mut Offered<'_>, wanted: impl Fn(&fidelon_core::surface::Prop) -> bool) {
    for prop in surfaces.iter().flat_map(|s| &s.props).filter(|prop| wanted(prop)) {
        out.key(&prop.name, Some(&prop.ty.to_string()));
    }
}

fn values(cursor: &Cursor, surfaces: &[&Surface], out: &mut Offered<'_>) {
    match cursor.keys().as_slice() {
        ["props", prop, ..] | [.., "hold" | "pass" | "assign", prop] => {
            for ty in surfaces.iter().filter_map(|s| s.prop(prop)).map(|prop| &prop.ty) {
                members(ty, out);
            }
        }
        [.., "emitted"] | ["bindings", _, "event"] => {
            surfaces.iter().flat_map(|s| &s.events).for_each(|event| out.add(&event.name, CompletionItemKind::EVENT, Some("event")));
        }
        [.., "bound"] => {
            let two_way = surfaces.iter().flat_map(|s| &s.props).filter(|prop| prop.two_way);
            two_way.for_each(|prop| out.add(&prop.name, CompletionItemKind::FIELD, Some("two-way prop")));
        }
        [.., "exposed" | "call"] => {
            surfaces.iter().flat_map(|s| &s.exposes).for_each(|member| out.add(member, CompletionItemKind::METHOD, Some("member")));
        }
        [.., "handed" | "fills"] => {
            surfaces.iter().flat_map(|s| &s.slots).for_each(|slot| out.add(&slot.name, CompletionItemKind::FIELD, Some("slot")));
        }
        _ => {}
    }
    Allowed::at(&cursor.path).values().iter().for_each(|value| out.add(value, CompletionItemKind::VALUE, None));
}

/// The values that a type lists.
fn members(ty: &Type, out: &mut Offered<'_>) {
    match ty {
        Type::Boolean => ["true", "false"].iter().for_each(|value| out.add(value, CompletionItemKind::VALUE, None)),
        Type::Union { of } => {
            for value in of {
                let text = value.as_str().map_or_else(|| value.to_string(), str::to_owned);
                out.add(&text, CompletionItemKind::VALUE, None);
            }
        }
        Type::Either { of } => of.iter().for_each(|ty| members(ty, out)),
        _ => {}
    }
}

//! What stands above components and clauses: how they were judged, and what can be done.

use fidelon_core::Verdict;
use fidelon_core::results::Component;
use fidelon_report::told::count;
use lsp_types::{CodeLens, Command, Position, Range};
use serde_json::json;

use crate::looking::component_of;
use crate::server::commands;
use crate::state::{Document, State};
use crate::text::Text;

/// The lenses of a document.
pub(crate) fn of(state: &State, document: &Document) -> Vec<CodeLens> {
    let Some((root, known, file)) = state.around(document) else { return Vec::new() };
    let root = root.to_string_lossy();
    let mut out = Vec::new();
    let mut lens = |line: u32, title: String, command: &str, arguments: Vec<serde_json::Value>| {
        let range = Range::new(Position::new(line, 0), Position::new(line, 0));
        let command = Command { title, command: command.into(), arguments: Some(arguments) };
        out.push(CodeLens { range, command: Some(command), data: None });
    };
    if document.is_contract() {
        let under = || known.results.components.iter().filter(|c| c.contract.as_deref() == Some(&file));
        for (line, words) in clauses(&document.text) {
            let rules = under().flat_map(|c| c.clauses.iter().filter(|rule| rule.clause.as_deref() == Some(words)));
            let (checked, broke) = rules.fold((0, 0), |(checked, broke), rule| (checked + rule.checked, broke + rule.broke));
            if checked > 0 {
                let title = if broke > 0 { format!("✗ breaks in {broke} of {}", count(checked, "case")) } else { held(checked) };
                lens(line, title, commands::AGAIN, vec![json!(root)]);
            }
        }
        for component in under() {
            lens(0, format!("{}: {}", component.component, in_short(component)), commands::AGAIN, vec![json!(root)]);
        }
        return out;
    }
    for surface in known.surfaces_in(&file) {
        let component = component_of(surface);
        let line = line_of(&document.text, &surface.export);
        if let Some(judged) = known.judged(&component) {
            lens(line, in_short(judged), commands::AGAIN, vec![json!(root)]);
        }
        match known.contract_of(&component) {
            Some(contract) => lens(line, "open its contract".into(), commands::OPEN, vec![json!(root), json!(contract)]),
            None => lens(line, "draft a contract".into(), commands::DRAFT, vec![json!(root), json!(component)]),
        }
    }
    out
}

fn held(checked: usize) -> String {
    format!("✓ held in {}", count(checked, "case"))
}

/// A component's verdict in a few words.
pub(crate) fn in_short(component: &Component) -> String {
    let promises = component.clauses.len() + component.laws.len() + usize::from(component.baseline.is_some());
    let over = format!("{} in {}", count(promises, "promise"), count(component.combinations, "combination"));
    match component.verdict {
        Verdict::Holds => format!("✓ holds: {over}"),
        Verdict::Broken => format!("✗ broken: {} of {over}", component.findings.len()),
        Verdict::Unjudged => "? not judged".into(),
    }
}

/// The line on which an export stands; the first where it is not told.
fn line_of(text: &Text, export: &str) -> u32 {
    let names = |line: &str| {
        let mut words = line.split(|c: char| !c.is_alphanumeric() && c != '_' && c != '$');
        line.trim_start().starts_with("export ") && words.any(|word| word == export)
    };
    (0..text.lines()).find(|number| names(text.line(*number))).unwrap_or(0)
}

/// The clauses of a contract, with the lines that they begin on.
fn clauses(text: &Text) -> impl Iterator<Item = (u32, &str)> {
    (0..text.lines()).filter_map(|number| {
        let line = text.line(number).trim_start();
        let words = line.strip_prefix("- clause:").or_else(|| line.strip_prefix("clause:"))?.trim();
        let quoted = ['"', '\''].iter().find_map(|q| words.strip_prefix(*q)?.strip_suffix(*q));
        Some((number, quoted.unwrap_or(words)))
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::text::Columns;

    #[test]
    fn components_and_clauses_are_found_by_their_lines() {
        let source = Text::new("import x from 'y'\nexport function ShelfCard() {}\nexport default function Shelf() {}\n", Columns::Units);
        assert_eq!((line_of(&source, "ShelfCard"), line_of(&source, "default"), line_of(&source, "Other")), (1, 2, 0));
        let contract =
            Text::new("component: ./A.vue\nclauses:\n  - clause: raising reports\n    do: []\n  - clause: \"a: b\"\n", Columns::Units);
        assert_eq!(clauses(&contract).collect::<Vec<_>>(), [(2, "raising reports"), (4, "a: b")]);
    }
}

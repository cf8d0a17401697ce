//! How an application of Vue, React, Preact or Solid starts, read from its main script: what that puts around its components (plugins, a store,
//! a router, providers) as a module of its own, so that a component that asks for it can be shown alone.

mod jsx;
mod vue;

use std::collections::BTreeSet;
use std::path::{Path, PathBuf};

use fidelon_source::{Bounds, Files as _, ProjectFiles};
use oxc::allocator::Allocator;
use oxc::ast::ast::{
    BindingIdentifier, Declaration, Expression, IdentifierReference, ImportDeclaration, JSXIdentifier, Program, Statement,
};
use oxc::ast_visit::Visit;
use oxc::parser::Parser;
use oxc::span::{GetSpan, SourceType, Span};
use serde_json::Value as Json;

use crate::loader::tidy;

/// One module of what an application starts with.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Start {
    /// The file that it was read from.
    pub file: PathBuf,
    /// Its text, in TypeScript with JSX. What it exports by default is a function that takes Vue's application, or a component that puts its
    /// children where the application's own stand.
    pub code: String,
}

/// Where main scripts usually lie, beside what a page names.
const USUAL: [&str; 12] = [
    "src/main.ts",
    "src/main.js",
    "src/main.tsx",
    "src/main.jsx",
    "src/index.tsx",
    "src/index.jsx",
    "src/index.ts",
    "src/index.js",
    "main.ts",
    "main.js",
    "main.tsx",
    "main.jsx",
];

/// Whether a file is called as main scripts are.
pub fn is_main(file: &Path) -> bool {
    USUAL.iter().any(|name| file.ends_with(name))
}

/// What is done to the Vue application that a component's file belongs to, before it is mounted; nothing where no main script says so.
pub fn of_application(component: &Path) -> Vec<Start> {
    first_of_mains(component, |main, source, _| vue::started(main, source).into_iter().collect())
}

/// What the application that a component's file belongs to renders around the others, outermost first (React, Preact, Solid); nothing where
/// no main script says so.
pub fn of_rendering(component: &Path) -> Vec<Start> {
    first_of_mains(component, jsx::started)
}

type Read<'a> = &'a dyn Fn(&Path) -> Option<String>;

/// What is read from the first main script of the package that says anything.
fn first_of_mains(component: &Path, started: impl Fn(&Path, &str, Read<'_>) -> Vec<Start>) -> Vec<Start> {
    let files = ProjectFiles(Bounds::of(&[component.parent().unwrap_or(component)]));
    let read = |file: &Path| files.read(&tidy(file)).ok();
    let folder = component.ancestors().skip(1).take_while(|f| files.0.hold(f)).find(|f| files.read(&f.join("package.json")).is_ok());
    let Some(folder) = folder else { return Vec::new() };
    let named = read(&folder.join("index.html")).map(|page| scripts(&page)).unwrap_or_default();
    let mut mains = named.iter().map(String::as_str).chain(USUAL).map(|name| folder.join(name));
    let found = mains.find_map(|main| {
        let source = read(&main)?;
        let started = started(&main, &source, &read);
        (!started.is_empty()).then_some(started)
    });
    found.unwrap_or_default()
}

/// The scripts of its own that a page loads, as their paths are written from its folder.
fn scripts(page: &str) -> Vec<String> {
    let sources = page.split("<script").skip(1).filter_map(|tag| tag.split('>').next()?.split("src=").nth(1));
    let paths = sources.filter_map(|rest| rest.trim_start_matches(['"', '\'']).split(['"', '\'', ' ']).next());
    paths.filter(|path| !path.contains("://")).map(|path| path.trim_start_matches(['/', '.']).to_owned()).collect()
}

fn with_program<T>(path: &Path, source: &str, work: impl FnOnce(&Program<'_>) -> T) -> Option<T> {
    let allocator = Allocator::default();
    let kind = SourceType::from_path(path).unwrap_or_else(|_| SourceType::ts()).with_jsx(path.extension().is_none_or(|e| e != "ts"));
    let parsed = Parser::new(&allocator, source, kind).parse();
    (!parsed.panicked && parsed.diagnostics.is_empty()).then(|| work(&parsed.program))
}

fn text(source: &str, span: Span) -> &str {
    &source[span.start as usize..span.end as usize]
}

/// The text of a part of a source with some spans in it replaced.
fn replaced(source: &str, within: Span, spans: &[(Span, String)]) -> String {
    let mut sorted: Vec<&(Span, String)> = spans.iter().filter(|(s, _)| s.start >= within.start && s.end <= within.end).collect();
    sorted.sort_by_key(|(span, _)| span.start);
    let mut out = String::new();
    let mut at = within.start;
    for (span, with) in sorted {
        if span.start < at {
            continue;
        }
        out.push_str(text(source, Span::new(at, span.start)));
        out.push_str(with);
        at = span.end;
    }
    out.push_str(text(source, Span::new(at, within.end)));
    out
}

/// A module's imports that are still asked for, by what the rest of it names; those that name nothing are kept.
fn imports(program: &Program<'_>, source: &str, folder: &Path, asked: &BTreeSet<String>) -> String {
    let mut out = String::new();
    for statement in &program.body {
        let Statement::ImportDeclaration(import) = statement else { continue };
        let Some(specifiers) = &import.specifiers else {
            out.push_str(&format!("import {};\n", whole(folder, import)));
            continue;
        };
        if import.import_kind.is_type() {
            continue;
        }
        let wanted = specifiers.iter().filter(|s| asked.contains(s.local().name.as_str()));
        let mut named: Vec<&str> = Vec::new();
        for specifier in wanted {
            let written = text(source, specifier.span());
            match specifier {
                oxc::ast::ast::ImportDeclarationSpecifier::ImportSpecifier(_) => named.push(written),
                _ => out.push_str(&format!("import {written} from {};\n", whole(folder, import))),
            }
        }
        if !named.is_empty() {
            out.push_str(&format!("import {{ {} }} from {};\n", named.join(", "), whole(folder, import)));
        }
    }
    out
}

/// What is imported, in quotes, as it means the same from anywhere.
fn whole(folder: &Path, import: &ImportDeclaration<'_>) -> Json {
    let written = import.source.value.as_str();
    if !written.starts_with('.') {
        return Json::from(written);
    }
    Json::from(tidy(&folder.join(written)).to_string_lossy())
}

/// The comment by which a file says whose JSX it holds, where it has one.
fn pragma(source: &str) -> &str {
    let comments = source.match_indices("/**").filter_map(|(at, _)| Some(&source[at..at + source[at..].find("*/")? + 2]));
    comments.into_iter().find(|comment| comment.contains("@jsx")).unwrap_or_default()
}

/// A statement as it stands in a module that exports nothing.
fn declared(statement: &Statement<'_>) -> Option<Span> {
    match statement {
        Statement::ImportDeclaration(_) | Statement::ExportAllDeclaration(_) | Statement::ExportNamedDeclaration(_) => None,
        Statement::ExportDeclaration(export) => Some(export.declaration.span()),
        Statement::ExportDefaultDeclaration(_) => None,
        other => Some(other.span()),
    }
}

/// The names that something mentions, of values and of components.
#[derive(Default)]
struct Named(BTreeSet<String>);

impl<'a> Visit<'a> for Named {
    fn visit_identifier_reference(&mut self, id: &IdentifierReference<'a>) {
        self.0.insert(id.name.to_string());
    }

    fn visit_jsx_identifier(&mut self, id: &JSXIdentifier<'a>) {
        self.0.insert(id.name.to_string());
    }
}

/// The names that a text mentions, read as the statements of a module.
fn named_in(code: &str) -> BTreeSet<String> {
    let allocator = Allocator::default();
    let parsed = Parser::new(&allocator, code, SourceType::tsx()).parse();
    let mut named = Named::default();
    named.visit_program(&parsed.program);
    named.0
}

/// The declarations of a module that something asks for by name, and those that they ask for, as they stand.
fn needed(program: &Program<'_>, source: &str, asked: &str) -> String {
    let mut names = named_in(asked);
    let all: Vec<(BTreeSet<String>, Span)> = program.body.iter().filter_map(|s| Some((bound(s), declared(s)?))).collect();
    let mut kept: BTreeSet<u32> = BTreeSet::new();
    while let Some((_, span)) = all.iter().find(|(bound, span)| !kept.contains(&span.start) && !bound.is_disjoint(&names)) {
        kept.insert(span.start);
        names.extend(named_in(text(source, *span)));
    }
    let in_order = all.iter().filter(|(_, span)| kept.contains(&span.start));
    in_order.map(|(_, span)| format!("{}\n", text(source, *span))).collect()
}

/// The names that a declaration gives.
fn bound(statement: &Statement<'_>) -> BTreeSet<String> {
    let declaration = match statement {
        Statement::ExportDeclaration(export) => Some(&export.declaration),
        other => other.as_declaration(),
    };
    let id = |id: Option<&BindingIdentifier<'_>>| id.map(|id| id.name.to_string()).into_iter().collect();
    match declaration {
        Some(Declaration::VariableDeclaration(variables)) => {
            let ids = variables.declarations.iter().flat_map(|d| d.id.get_binding_identifiers());
            ids.map(|id| id.name.to_string()).collect()
        }
        Some(Declaration::FunctionDeclaration(function)) => id(function.id.as_ref()),
        Some(Declaration::ClassDeclaration(class)) => id(class.id.as_ref()),
        Some(Declaration::TSEnumDeclaration(listed)) => id(Some(&listed.id)),
        _ => BTreeSet::new(),
    }
}

/// The name that a declaration gives, where it gives one.
fn function_of<'s, 'a>(statement: &'s Statement<'a>) -> Option<(&'s str, Span)> {
    let declaration = match statement {
        Statement::ExportDeclaration(export) => Some(&export.declaration),
        other => other.as_declaration(),
    };
    match declaration? {
        Declaration::FunctionDeclaration(function) => Some((function.id.as_ref()?.name.as_str(), function.span)),
        _ => None,
    }
}

fn is_name(expression: &Expression<'_>, name: &str) -> bool {
    matches!(expression, Expression::Identifier(id) if id.name == name)
}

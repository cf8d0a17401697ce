//! Which module of Angular declares a component that is no standalone one: found by reading the project's code.

use std::path::{Path, PathBuf};

use oxc::allocator::Allocator;
use oxc::ast::ast::{
    ArrayExpressionElement, Class, Declaration, Expression, ImportDeclarationSpecifier, ObjectExpression, Program, Statement,
};
use oxc::parser::Parser;
use oxc::span::SourceType;

use super::{Project, decorator};
use crate::loader::tidy;

/// No version before this one can make an application without a page of its own (`createApplication`); some of it cannot either.
const PLAYED_SINCE: u32 = 14;

/// From this version on a component is a standalone one unless it says otherwise.
const STANDALONE_SINCE: u32 = 19;

/// How many files are looked at for the module of a component, beyond those in the folders above it.
const MOST_FILES: usize = 20_000;

/// How many lists are followed into lists.
const MOST_LISTS: usize = 8;

/// The module that declares a class which stands in none by itself: its file, among those in the class' folder, in the folders above it and
/// then in all of the package, and its name. None for a standalone component.
pub fn declaring(path: &str, class: &str) -> Option<(PathBuf, String)> {
    let path = Path::new(path);
    let project = Project::of(path);
    let source = project.text(path)?;
    if is_standalone(&project, path, &source, class)? {
        return None;
    }
    let mut top = path.parent()?;
    for folder in project.above(path) {
        top = folder;
        if let Some(found) = scripts(folder).iter().find_map(|file| in_file(&project, file, class)) {
            return Some(found);
        }
        if folder.join("package.json").is_file() {
            break;
        }
    }
    let mut files = Vec::new();
    below(top, &mut files);
    // The nearest first: where two modules of a project name the same class, one of them means another.
    files.sort_by_key(|file| {
        let shared = file.iter().zip(path.iter()).take_while(|(a, b)| a == b).count();
        (usize::MAX - shared, file.clone())
    });
    files.iter().find_map(|file| in_file(&project, file, class))
}

/// Scripts right in a folder, by name.
fn scripts(folder: &Path) -> Vec<PathBuf> {
    let entries = folder.read_dir().into_iter().flatten().flatten().map(|e| e.path());
    let mut files: Vec<PathBuf> = entries.filter(|p| is_source(p)).collect();
    files.sort();
    files
}

fn is_source(path: &Path) -> bool {
    let name = path.file_name().and_then(|n| n.to_str()).unwrap_or_default();
    name.ends_with(".ts") && ![".d.ts", ".spec.ts", ".test.ts"].iter().any(|end| name.ends_with(end))
}

fn below(folder: &Path, out: &mut Vec<PathBuf>) {
    let mut entries: Vec<_> = folder.read_dir().into_iter().flatten().flatten().collect();
    entries.sort_by_key(std::fs::DirEntry::file_name);
    for entry in entries {
        let name = entry.file_name();
        let name = name.to_str().unwrap_or_default();
        // A link is not followed: it may lead round in a circle.
        let Ok(kind) = entry.file_type() else { continue };
        if kind.is_dir() && !name.starts_with('.') && !["node_modules", "dist", "target"].contains(&name) {
            below(&entry.path(), out);
        } else if kind.is_file() && is_source(&entry.path()) && out.len() < MOST_FILES {
            out.push(entry.path());
        }
    }
}

/// Whether a class is a standalone component, as it says or as the installed version takes it; none where there is no such class.
fn is_standalone(project: &Project, path: &Path, source: &str, class: &str) -> Option<bool> {
    let written = with_program(path, source, |program| {
        let class = classes(program).find(|c| c.id.as_ref().is_some_and(|id| id.name == class))?;
        let metadata = ["Component", "Directive", "Pipe"].iter().find_map(|name| metadata(class, name))?;
        Some(match member(metadata, "standalone") {
            Some(Expression::BooleanLiteral(is)) => Some(is.value),
            _ => None,
        })
    })??;
    Some(written.unwrap_or_else(|| version(project, path).is_none_or(|v| v >= STANDALONE_SINCE)))
}

/// The version of the framework that a file gets, where it is too old to be played.
pub fn too_old(path: &Path) -> Option<u32> {
    version(&Project::of(path), path).filter(|v| *v < PLAYED_SINCE)
}

/// The major version of the framework that a file gets.
fn version(project: &Project, path: &Path) -> Option<u32> {
    // Packages may be installed above the project.
    path.ancestors().skip(1).find_map(|folder| {
        let text = project.text(&folder.join("node_modules/@angular/core/package.json"))?;
        let manifest: serde_json::Value = serde_json::from_str(&text).ok()?;
        manifest.get("version")?.as_str()?.split('.').next()?.parse().ok()
    })
}

/// The exported module of a file that declares a class.
fn in_file(project: &Project, file: &Path, class: &str) -> Option<(PathBuf, String)> {
    let source = project.text(file)?;
    if !source.contains("@NgModule(") {
        return None;
    }
    with_program(file, &source, |program| {
        program.body.iter().find_map(|statement| {
            let Statement::ExportDeclaration(export) = statement else { return None };
            let Declaration::ClassDeclaration(module) = &export.declaration else { return None };
            let declared = metadata(module, "NgModule").and_then(|m| member(m, "declarations"))?;
            let name = module.id.as_ref()?.name.to_string();
            lists(project, file, program, declared, class, 0).then(|| (file.to_path_buf(), name))
        })
    })?
}

/// Whether a list names a class, by itself or by other lists, in this file or in others.
fn lists(project: &Project, file: &Path, program: &Program<'_>, list: &Expression<'_>, class: &str, depth: usize) -> bool {
    if depth > MOST_LISTS {
        return false;
    }
    match list {
        Expression::ArrayExpression(array) => array.elements.iter().any(|element| match element {
            ArrayExpressionElement::SpreadElement(spread) => lists(project, file, program, &spread.argument, class, depth + 1),
            other => other.as_expression().is_some_and(|e| lists(project, file, program, e, class, depth + 1)),
        }),
        Expression::TSAsExpression(inner) => lists(project, file, program, &inner.expression, class, depth),
        Expression::TSSatisfiesExpression(inner) => lists(project, file, program, &inner.expression, class, depth),
        Expression::Identifier(id) => {
            let name = id.name.as_str();
            if let Some(init) = constant(program, name) {
                return lists(project, file, program, init, class, depth + 1);
            }
            match imported(program, name) {
                Some((_, there)) if there == class => true,
                Some((specifier, there)) => in_list_of(project, file, specifier, there, class, depth + 1),
                None => name == class,
            }
        }
        _ => false,
    }
}

/// Whether a list that another file exports names a class.
fn in_list_of(project: &Project, from: &Path, specifier: &str, name: &str, class: &str, depth: usize) -> bool {
    if depth > MOST_LISTS || !specifier.starts_with('.') {
        return false;
    }
    let base = tidy(&from.parent().unwrap_or(from).join(specifier));
    let candidates = [base.with_extension("ts"), PathBuf::from(format!("{}.ts", base.display())), base.join("index.ts")];
    let Some((file, source)) = candidates.into_iter().find_map(|f| Some((f.clone(), project.text(&f)?))) else {
        return false;
    };
    with_program(&file, &source, |program| {
        if let Some(init) = constant(program, name) {
            return lists(project, &file, program, init, class, depth + 1);
        }
        // It may hand on what another one exports.
        program.body.iter().any(|statement| match statement {
            Statement::ExportFromDeclaration(handed) => handed.specifiers.iter().any(|s| {
                s.exported.name() == name && in_list_of(project, &file, &handed.source.value, s.local.name().as_str(), class, depth + 1)
            }),
            Statement::ExportAllDeclaration(all) => in_list_of(project, &file, &all.source.value, name, class, depth + 1),
            _ => false,
        })
    })
    .unwrap_or_default()
}

pub(super) fn with_program<T>(path: &Path, source: &str, work: impl FnOnce(&Program<'_>) -> T) -> Option<T> {
    let allocator = Allocator::default();
    let kind = SourceType::from_path(path).unwrap_or_else(|_| SourceType::ts());
    let parsed = Parser::new(&allocator, source, kind).parse();
    (!parsed.panicked).then(|| work(&parsed.program))
}

fn classes<'s, 'a>(program: &'s Program<'a>) -> impl Iterator<Item = &'s Class<'a>> {
    program.body.iter().filter_map(|statement| match statement {
        Statement::ClassDeclaration(class) => Some(&**class),
        Statement::ExportDeclaration(export) => match &export.declaration {
            Declaration::ClassDeclaration(class) => Some(&**class),
            _ => None,
        },
        Statement::ExportDefaultDeclaration(export) => match &export.declaration {
            oxc::ast::ast::ExportDefaultDeclarationKind::ClassDeclaration(class) => Some(&**class),
            _ => None,
        },
        _ => None,
    })
}

fn metadata<'s, 'a>(class: &'s Class<'a>, name: &str) -> Option<&'s ObjectExpression<'a>> {
    let call = class.decorators.iter().find_map(|d| decorator(d, name))?;
    match call.arguments.first()?.as_expression()? {
        Expression::ObjectExpression(object) => Some(object),
        _ => None,
    }
}

fn member<'s, 'a>(object: &'s ObjectExpression<'a>, name: &str) -> Option<&'s Expression<'a>> {
    let properties = object.properties.iter().filter_map(|p| p.as_property());
    properties.filter(|p| p.key.static_name().as_deref() == Some(name)).map(|p| &p.value).next()
}

/// What a constant at the top of a script starts from.
fn constant<'s, 'a>(program: &'s Program<'a>, name: &str) -> Option<&'s Expression<'a>> {
    program.body.iter().find_map(|statement| {
        let declaration = statement.as_declaration().or(match statement {
            Statement::ExportDeclaration(export) => Some(&export.declaration),
            _ => None,
        })?;
        let Declaration::VariableDeclaration(variable) = declaration else { return None };
        let declarator = variable.declarations.iter().find(|d| d.id.get_identifier_name().is_some_and(|n| n == name))?;
        declarator.init.as_ref()
    })
}

/// Where a name comes from: the specifier, and what it is called there.
pub(super) fn imported<'s>(program: &'s Program<'_>, name: &str) -> Option<(&'s str, &'s str)> {
    program.body.iter().find_map(|statement| {
        let Statement::ImportDeclaration(import) = statement else { return None };
        import.specifiers.iter().flatten().find_map(|specifier| match specifier {
            ImportDeclarationSpecifier::ImportSpecifier(s) if s.local.name == name => {
                Some((import.source.value.as_str(), s.imported.name().as_str()))
            }
            ImportDeclarationSpecifier::ImportDefaultSpecifier(s) if s.local.name == name => {
                Some((import.source.value.as_str(), "default"))
            }
            _ => None,
        })
    })
}

//! A file with what it declares, imports and exports.

use std::collections::HashMap;
use std::path::{Path, PathBuf};
use std::sync::Arc;

use oxc::allocator::Allocator;
use oxc::ast::ast::{
    Declaration, ExportDefaultDeclarationKind, ImportDeclarationSpecifier, Program, Statement, TSEnumMemberName, TSModuleReference,
    TSNamespaceDeclarationBody, VariableDeclarator,
};
use oxc::parser::Parser;
use oxc::span::SourceType;
use serde_json::Value as Json;

use crate::syntax::{TypeDeclaration, TypeNode, Value, ValueDeclaration};
use crate::{comments, lower};

/// A file as far as types go.
#[derive(Debug, Default)]
pub struct Module {
    /// Where it is.
    pub path: PathBuf,
    /// Its text.
    pub source: Arc<str>,
    /// Types by name; those of a namespace as `Space.Name`. Interfaces of one name are one.
    pub(crate) types: HashMap<String, Vec<TypeDeclaration>>,
    /// Values by name.
    pub(crate) values: HashMap<String, ValueDeclaration>,
    /// Local name → module and the name there; `*` for all of it.
    pub(crate) imports: HashMap<String, (String, String)>,
    /// Exported name → local name, where they differ.
    pub(crate) renamed: HashMap<String, String>,
    /// Modules of which all is exported again.
    pub(crate) passed_on: Vec<String>,
    /// Comments that types are written in, by the place of what follows them.
    pub(crate) comments: Vec<(u32, u32)>,
}

impl Module {
    /// Takes down what a parsed program declares.
    pub fn of(path: &Path, source: &str, program: &Program<'_>) -> Self {
        let mut out = Self { path: path.into(), source: source.into(), ..Self::default() };
        out.comments = program.comments.iter().map(|c| (c.span.start, c.span.end)).collect();
        for statement in &program.body {
            out.take(statement, "");
        }
        for (start, end) in out.comments.clone() {
            let comment = &source[start as usize..end as usize];
            for (name, generics, node) in comments::declared(source, comment, start as usize) {
                out.add(name.to_owned(), TypeDeclaration::Alias(generics, node));
            }
        }
        out
    }

    /// Parses a file; none when it has a syntax error.
    pub fn parse(path: &Path, source: &str, kind: SourceType) -> Option<Self> {
        let allocator = Allocator::default();
        let parsed = Parser::new(&allocator, source, kind).parse();
        (!parsed.panicked).then(|| Self::of(path, source, &parsed.program))
    }

    fn take(&mut self, statement: &Statement<'_>, space: &str) {
        match statement {
            Statement::ImportDeclaration(import) => {
                let module = import.source.value.as_str();
                for specifier in import.specifiers.iter().flatten() {
                    let (local, there) = match specifier {
                        ImportDeclarationSpecifier::ImportSpecifier(s) => (s.local.name.as_str(), s.imported.name().to_string()),
                        ImportDeclarationSpecifier::ImportDefaultSpecifier(s) => (s.local.name.as_str(), "default".to_owned()),
                        ImportDeclarationSpecifier::ImportNamespaceSpecifier(s) => (s.local.name.as_str(), "*".to_owned()),
                    };
                    self.imports.insert(local.to_owned(), (module.to_owned(), there));
                }
            }
            Statement::ExportDeclaration(export) => self.declare(&export.declaration, space),
            Statement::ExportFromDeclaration(from) => {
                for specifier in &from.specifiers {
                    let (there, here) = (specifier.local.name().to_string(), specifier.exported.name().to_string());
                    self.imports.entry(here).or_insert((from.source.value.to_string(), there));
                }
            }
            Statement::ExportNamedDeclaration(export) => {
                for specifier in &export.specifiers {
                    let (local, exported) = (specifier.local.name().to_string(), specifier.exported.name().to_string());
                    if local != exported {
                        self.renamed.insert(exported, local);
                    }
                }
            }
            Statement::ExportAllDeclaration(all) => match &all.exported {
                Some(name) => {
                    self.imports.insert(name.name().to_string(), (all.source.value.to_string(), "*".to_owned()));
                }
                None => self.passed_on.push(all.source.value.to_string()),
            },
            Statement::ExportDefaultDeclaration(export) => match &export.declaration {
                ExportDefaultDeclarationKind::FunctionDeclaration(f) => self.function("default", f),
                ExportDefaultDeclarationKind::ClassDeclaration(c) => self.class("default", c),
                ExportDefaultDeclarationKind::TSInterfaceDeclaration(i) => self.interface("default", i),
                other => {
                    if let Some(expression) = other.as_expression() {
                        self.value("default", None, Some(lower::value(expression)));
                    }
                }
            },
            other => {
                if let Some(declaration) = other.as_declaration() {
                    self.declare(declaration, space);
                }
            }
        }
    }

    fn declare(&mut self, declaration: &Declaration<'_>, space: &str) {
        let named = |name: &str| if space.is_empty() { name.to_owned() } else { format!("{space}.{name}") };
        match declaration {
            Declaration::TSTypeAliasDeclaration(alias) => {
                let body = lower::node(&alias.type_annotation);
                let declared = TypeDeclaration::Alias(lower::generics(alias.type_parameters.as_deref()), body);
                self.add(named(alias.id.name.as_str()), declared);
            }
            Declaration::TSInterfaceDeclaration(interface) => self.interface(&named(interface.id.name.as_str()), interface),
            Declaration::ClassDeclaration(class) => {
                if let Some(id) = &class.id {
                    self.class(&named(id.name.as_str()), class);
                }
            }
            Declaration::TSEnumDeclaration(declared) => {
                let mut next = 0.0;
                let mut members: Vec<(String, Json)> = Vec::new();
                for member in &declared.body.members {
                    let name = match &member.id {
                        TSEnumMemberName::Identifier(id) => id.name.to_string(),
                        TSEnumMemberName::String(s) | TSEnumMemberName::ComputedString(s) => s.value.to_string(),
                        TSEnumMemberName::ComputedTemplateString(_) => continue,
                    };
                    let written = member.initializer.as_ref().map(lower::value);
                    let value = match written.as_deref() {
                        Some(Value::Literal(value)) => value.clone(),
                        Some(_) => continue,
                        None => lower::number(next),
                    };
                    next = value.as_f64().unwrap_or(next) + 1.0;
                    members.push((name, value));
                }
                self.add(named(declared.id.name.as_str()), TypeDeclaration::Enum(members));
            }
            Declaration::FunctionDeclaration(function) => {
                if let Some(id) = &function.id {
                    self.function(&named(id.name.as_str()), function);
                }
            }
            Declaration::VariableDeclaration(variable) => {
                for declarator in &variable.declarations {
                    self.variable(declarator, &named);
                }
            }
            Declaration::TSNamespaceDeclaration(inner) => self.namespace(&named(inner.id.name.as_str()), &inner.body),
            // `declare module 'x'` adds to another file; what it says of this one's own types counts here.
            Declaration::TSExternalModuleDeclaration(module) => {
                module.body.iter().flat_map(|b| &b.body).for_each(|s| self.take(s, space));
            }
            Declaration::TSGlobalDeclaration(global) => global.body.body.iter().for_each(|s| self.take(s, space)),
            Declaration::TSImportEqualsDeclaration(import) => {
                if let TSModuleReference::ExternalModuleReference(module) = &import.module_reference {
                    self.imports.insert(import.id.name.to_string(), (module.expression.value.to_string(), "*".to_owned()));
                }
            }
        }
    }

    fn namespace(&mut self, name: &str, body: &TSNamespaceDeclarationBody<'_>) {
        match body {
            TSNamespaceDeclarationBody::TSModuleBlock(block) => block.body.iter().for_each(|s| self.take(s, name)),
            TSNamespaceDeclarationBody::TSNamespaceDeclaration(inner) => {
                self.namespace(&format!("{name}.{}", inner.id.name), &inner.body);
            }
        }
    }

    fn add(&mut self, name: String, declared: TypeDeclaration) {
        self.types.entry(name).or_default().push(declared);
    }

    fn interface(&mut self, name: &str, interface: &oxc::ast::ast::TSInterfaceDeclaration<'_>) {
        let extends = interface.extends.iter().filter_map(|h| {
            let arguments = h.type_arguments.iter().flat_map(|a| &a.params).map(lower::node).collect();
            Some(crate::syntax::Heritage { path: lower::path(&h.type_name)?, arguments })
        });
        let generics = lower::generics(interface.type_parameters.as_deref());
        let shape = Arc::new(lower::shape(&interface.body.body));
        let declared = TypeDeclaration::Interface(generics, extends.collect(), shape);
        self.add(name.to_owned(), declared);
    }

    fn class(&mut self, name: &str, class: &oxc::ast::ast::Class<'_>) {
        let (generics, heritage, shape) = lower::class(class);
        self.add(name.to_owned(), TypeDeclaration::Class(generics, heritage, Arc::new(shape)));
    }

    fn function(&mut self, name: &str, function: &oxc::ast::ast::Function<'_>) {
        // Of several signatures the first is the one that its author shows.
        if !self.values.contains_key(name) {
            self.value(name, None, Some(Arc::new(Value::Function(Arc::new(lower::function(function))))));
        }
    }

    fn value(&mut self, name: &str, ty: Option<Arc<TypeNode>>, value: Option<Arc<Value>>) {
        self.values.insert(name.to_owned(), ValueDeclaration { ty, value });
    }

    fn variable(&mut self, declarator: &VariableDeclarator<'_>, named: &dyn Fn(&str) -> String) {
        if let Some(name) = declarator.id.get_identifier_name() {
            let ty = declarator.type_annotation.as_ref().map(|a| lower::node(&a.type_annotation));
            self.value(&named(name.as_str()), ty, declarator.init.as_ref().map(lower::value));
        }
    }

    /// Whether a name is a type's and no value's.
    pub fn declares_type(&self, name: &str) -> bool {
        self.types.get(name).is_some_and(|d| matches!(d.first(), Some(TypeDeclaration::Alias(..) | TypeDeclaration::Interface(..))))
    }

    /// The text of a piece.
    pub fn text(&self, (start, end): (u32, u32)) -> &str {
        self.source.get(start as usize..end as usize).unwrap_or_default()
    }

    /// The comment right before an offset, as written; words of the language such as `export` may stand between.
    pub fn comment_before(&self, offset: u32) -> Option<&str> {
        let at = self.comments.partition_point(|(_, end)| *end <= offset).checked_sub(1)?;
        let (start, end) = self.comments[at];
        let between = self.source.get(end as usize..offset as usize)?;
        let near = ["", "export", "export default", "export abstract", "abstract"].contains(&between.trim());
        (near && between.matches('\n').count() <= 1).then(|| self.text((start, end)))
    }

    /// The type that the comment right before an offset says: `@type {T}`.
    pub fn type_before(&self, offset: u32) -> Option<Arc<TypeNode>> {
        let tag = self.tags_before(offset).into_iter().rfind(|t| t.name == "type")?;
        comments::parse(&self.source, tag.ty?)
    }

    /// The tags of the comment right before an offset.
    pub fn tags_before(&self, offset: u32) -> Vec<comments::Tag<'_>> {
        let Some(comment) = self.comment_before(offset) else { return Vec::new() };
        comments::tags(comment, comment.as_ptr() as usize - self.source.as_ptr() as usize)
    }

    /// The tags of a name in all comments of the file: `@event {T} name`.
    pub fn tags<'m>(&'m self, name: &'m str) -> impl Iterator<Item = comments::Tag<'m>> {
        let all = self.comments.iter().flat_map(|(start, end)| comments::tags(self.text((*start, *end)), *start as usize));
        all.filter(move |t| t.name == name)
    }

    /// What the documentation comment right before an offset says, on one line, without its tags.
    pub fn about(&self, offset: u32) -> Option<String> {
        let text = self.comment_before(offset)?;
        let text = text.trim_start_matches("/**").trim_start_matches("/*").trim_end_matches("*/").trim_start_matches("//");
        let lines: Vec<&str> =
            text.lines().map(|l| l.trim().trim_start_matches('*').trim()).filter(|l| !l.is_empty() && !l.starts_with('@')).collect();
        (!lines.is_empty()).then(|| lines.join(" "))
    }
}

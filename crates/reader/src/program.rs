//! Parsed scripts, and what the names in them mean: local types, and types imported from files beside them.

use std::collections::HashMap;
use std::path::{Path, PathBuf};

use fidelon_source::Files;
use oxc::allocator::Allocator;
use oxc::ast::ast::{
    Comment, Declaration, Expression, ImportDeclarationSpecifier, Program, PropertyKey, Statement, TSInterfaceDeclaration,
    TSTypeAliasDeclaration,
};
use oxc::parser::Parser;
use oxc::span::{GetSpan, SourceType, Span};

/// A type that a script declares.
#[derive(Clone, Copy)]
pub enum Named<'a> {
    /// `type X = …`
    Alias(&'a TSTypeAliasDeclaration<'a>),
    /// `interface X { … }`
    Interface(&'a TSInterfaceDeclaration<'a>),
}

/// A script with its names.
pub struct Script<'a> {
    /// The text.
    pub source: &'a str,
    /// The tree.
    pub program: &'a Program<'a>,
    /// Declared types.
    pub types: HashMap<&'a str, Named<'a>>,
    /// Local name → module and the name there.
    pub imports: HashMap<&'a str, (&'a str, &'a str)>,
    /// Constants with their initial value.
    pub constants: HashMap<&'a str, &'a Expression<'a>>,
    /// The file it stands in.
    pub path: PathBuf,
    /// Where imported files come from.
    pub files: &'a dyn Files,
}

/// How deep imports of types are followed.
pub const MOST_HOPS: usize = 6;

/// Parses a script and hands it to `work`; none when it has a syntax error.
pub fn with_script<T>(
    files: &dyn Files,
    path: &Path,
    source: &str,
    source_type: SourceType,
    work: impl FnOnce(&Script<'_>) -> T,
) -> Option<T> {
    let allocator = Allocator::default();
    let parsed = Parser::new(&allocator, source, source_type).parse();
    if parsed.panicked {
        return None;
    }
    let program = &parsed.program;
    let mut script =
        Script { source, program, types: HashMap::new(), imports: HashMap::new(), constants: HashMap::new(), path: path.into(), files };
    for statement in &program.body {
        script.take(statement);
    }
    Some(work(&script))
}

impl<'a> Script<'a> {
    fn take(&mut self, statement: &'a Statement<'a>) {
        match statement {
            Statement::ImportDeclaration(import) => {
                let module = import.source.value.as_str();
                for specifier in import.specifiers.iter().flatten() {
                    let (local, there) = match specifier {
                        ImportDeclarationSpecifier::ImportSpecifier(s) => (s.local.name.as_str(), s.imported.name().as_str()),
                        ImportDeclarationSpecifier::ImportDefaultSpecifier(s) => (s.local.name.as_str(), "default"),
                        ImportDeclarationSpecifier::ImportNamespaceSpecifier(s) => (s.local.name.as_str(), "*"),
                    };
                    self.imports.insert(local, (module, there));
                }
            }
            Statement::ExportDeclaration(export) => self.declare(&export.declaration),
            other => {
                if let Some(declaration) = other.as_declaration() {
                    self.declare(declaration);
                }
            }
        }
    }

    fn declare(&mut self, declaration: &'a Declaration<'a>) {
        match declaration {
            Declaration::TSTypeAliasDeclaration(alias) => {
                let _ = self.types.insert(alias.id.name.as_str(), Named::Alias(alias));
            }
            Declaration::TSInterfaceDeclaration(interface) => {
                let _ = self.types.insert(interface.id.name.as_str(), Named::Interface(interface));
            }
            Declaration::VariableDeclaration(variable) => {
                for declarator in &variable.declarations {
                    if let (Some(name), Some(init)) = (declarator.id.get_identifier_name(), &declarator.init) {
                        self.constants.insert(name.as_str(), init);
                    }
                }
            }
            _ => {}
        }
    }

    /// The text of a piece.
    pub fn text(&self, span: Span) -> &'a str {
        &self.source[span.start as usize..span.end as usize]
    }

    /// The text of the documentation comment right before an offset.
    pub fn about(&self, offset: u32) -> Option<String> {
        let comment: &Comment = self.program.comments.iter().rev().find(|c| c.span.end <= offset)?;
        let between = &self.source[comment.span.end as usize..offset as usize];
        if !between.trim().is_empty() || between.matches('\n').count() > 1 {
            return None;
        }
        let text = self.text(comment.span);
        let text = text.trim_start_matches("/**").trim_start_matches("/*").trim_end_matches("*/").trim_start_matches("//");
        let lines: Vec<&str> =
            text.lines().map(|l| l.trim().trim_start_matches('*').trim()).filter(|l| !l.is_empty() && !l.starts_with('@')).collect();
        (!lines.is_empty()).then(|| lines.join(" "))
    }

    /// The file that a relative specifier means.
    pub fn beside(&self, specifier: &str) -> Option<PathBuf> {
        if !specifier.starts_with('.') {
            return None;
        }
        let mut base = self.path.parent()?.to_path_buf();
        for part in specifier.split('/') {
            match part {
                "." | "" => {}
                ".." => drop(base.pop()),
                part => base.push(part),
            }
        }
        let text = base.to_string_lossy().into_owned();
        let stem = text.strip_suffix(".js").unwrap_or(&text);
        let candidates = [
            text.clone(),
            format!("{stem}.ts"),
            format!("{stem}.tsx"),
            format!("{stem}.d.ts"),
            format!("{stem}/index.ts"),
            format!("{stem}/index.tsx"),
        ];
        candidates.into_iter().map(PathBuf::from).find(|p| self.files.is_file(p))
    }
}

/// The name of a property, when it is written out.
pub fn key_name(key: &PropertyKey<'_>) -> Option<String> {
    key.static_name().map(|n| n.into_owned())
}

/// The source type of a file by its name.
pub fn source_type(path: &Path) -> SourceType {
    SourceType::from_path(path).unwrap_or_else(|_| SourceType::tsx())
}

/// The span of anything.
pub fn span_of(node: &impl GetSpan) -> Span {
    node.span()
}

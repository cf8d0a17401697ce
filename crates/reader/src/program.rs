//! Parsed scripts, and what the names in them mean: local types, and types imported from files beside them.

use std::cell::{Cell, OnceCell, RefCell};
use std::collections::HashMap;
use std::path::{Path, PathBuf};
use std::sync::Arc;

use crate::depth::is_too_deep;
use crate::element::decorators::{Compiled, compiled};
use fidelon_core::surface::{Prop, Type};
use fidelon_source::{Files, Place, place_of};
use fidelon_types::syntax::Generic;
use fidelon_types::{Checker, Finds, Module, Scope};
use oxc::allocator::Allocator;
use oxc::ast::ast::{Declaration, Expression, ImportDeclarationSpecifier, Program, PropertyKey, Statement};
use oxc::parser::Parser;
use oxc::span::{GetSpan, SourceType, Span};

/// A script with its names.
pub struct Script<'a> {
    /// The text.
    pub source: &'a str,
    /// The tree.
    pub program: &'a Program<'a>,
    /// What it declares, as far as types go.
    pub module: Arc<Module>,
    /// Local name → module and the name there.
    pub imports: HashMap<&'a str, (&'a str, &'a str)>,
    /// Constants with their initial value.
    pub constants: HashMap<&'a str, &'a Expression<'a>>,
    /// The file it stands in.
    pub path: PathBuf,
    /// Where other files come from.
    pub sources: Sources<'a>,
    /// The type parameters of the component that is read.
    generics: RefCell<Vec<Generic>>,
    /// Decorators that a compiler wrote as calls, once they are asked for.
    compiled: OnceCell<Vec<Compiled>>,
}

/// What is said of a declaration beside its name and its type.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Told {
    /// The comment above it.
    pub about: Option<String>,
    /// Where it stands; the file as the reader knows it.
    pub place: Option<Place>,
}

impl Told {
    /// A prop of which this is said.
    pub fn prop(self, name: impl Into<String>, ty: Type) -> Prop {
        Prop { about: self.about, place: self.place, ..Prop::new(name, ty) }
    }
}

/// Finds the files that imports of types mean.
pub trait Imports {
    /// The file that declares the types which `specifier`, a package or an alias, means in the file `from`.
    fn types(&self, from: &Path, specifier: &str) -> Option<PathBuf>;

    /// The file whose code `specifier`, a package or an alias, means in the file `from`, where that is known.
    fn code(&self, _from: &Path, _specifier: &str) -> Option<PathBuf> {
        None
    }

    /// The package whose functions the JSX of a file calls.
    fn jsx(&self, _path: &Path, _source: &str) -> String {
        "react".to_owned()
    }
}

/// Knows no packages and no aliases.
#[derive(Debug, Clone, Copy, Default)]
pub struct NoImports;

impl Imports for NoImports {
    fn types(&self, _: &Path, _: &str) -> Option<PathBuf> {
        None
    }
}

/// Where the reader finds what it reads.
#[derive(Clone, Copy)]
pub struct Sources<'a> {
    /// Texts.
    pub files: &'a dyn Files,
    /// What imports mean.
    pub imports: &'a dyn Imports,
    /// The files that were opened for the types in them.
    pub opened: &'a Opened,
}

/// What the specifiers of a file mean.
type Specifiers = HashMap<String, Option<Arc<Module>>>;

/// Files that were opened for the types in them, each once.
#[derive(Debug, Default)]
pub struct Opened {
    count: Cell<u32>,
    modules: RefCell<HashMap<PathBuf, Option<Arc<Module>>>>,
    /// What a specifier means in a file: a name that is passed on by many files is looked for in each of them.
    imported: RefCell<HashMap<PathBuf, Specifiers>>,
}

/// Most files that are opened for the types of one file: a barrel of barrels would take seconds.
const MOST_OPENED: u32 = 300;

impl Sources<'_> {
    /// The text of another file, as long as not too many were opened.
    pub fn open(&self, path: &Path) -> Option<String> {
        self.opened.count.set(self.opened.count.get() + 1);
        if self.opened.count.get() > MOST_OPENED { None } else { self.files.read(path).ok() }
    }

    /// The file that a specifier means, to someone who reads types, in the file `from`.
    fn file_of(&self, from: &Path, specifier: &str) -> Option<PathBuf> {
        if specifier.starts_with('.') { beside(self.files, from, specifier) } else { self.imports.types(from, specifier) }
    }

    fn opened_at(&self, path: PathBuf) -> Option<Arc<Module>> {
        if let Some(known) = self.opened.modules.borrow().get(&path) {
            return known.clone();
        }
        let module = self.parsed(&path);
        self.opened.modules.borrow_mut().insert(path, module.clone());
        module
    }

    fn parsed(&self, path: &Path) -> Option<Arc<Module>> {
        let text = self.open(path)?;
        if is_too_deep(&text) {
            return None;
        }
        let (text, kind) = match path.extension().and_then(|e| e.to_str()) {
            Some("vue") => (crate::sfc::scripts_in_place(&text), SourceType::ts()),
            Some("svelte") => (crate::svelte::scripts_in_place(&text), SourceType::ts()),
            _ => (text, source_type(path)),
        };
        Module::parse(path, &text, kind).map(Arc::new)
    }
}

impl Finds for Sources<'_> {
    fn module(&self, from: &Path, specifier: &str) -> Option<Arc<Module>> {
        if let Some(known) = self.opened.imported.borrow().get(from).and_then(|known| known.get(specifier)) {
            return known.clone();
        }
        let module = self.file_of(from, specifier).and_then(|path| self.opened_at(path));
        self.opened.imported.borrow_mut().entry(from.to_path_buf()).or_default().insert(specifier.to_owned(), module.clone());
        module
    }
}

/// Parses a script and hands it to `work`; none when it has a syntax error.
pub fn with_script<T>(
    sources: Sources<'_>,
    path: &Path,
    source: &str,
    source_type: SourceType,
    work: impl FnOnce(&Script<'_>) -> T,
) -> Option<T> {
    if is_too_deep(source) {
        return None;
    }
    let allocator = Allocator::default();
    let parsed = Parser::new(&allocator, source, source_type).parse();
    if parsed.panicked {
        return None;
    }
    let program = &parsed.program;
    let mut script = Script {
        source,
        program,
        module: Arc::new(Module::of(path, source, program)),
        imports: HashMap::new(),
        constants: HashMap::new(),
        path: path.into(),
        sources,
        generics: RefCell::default(),
        compiled: OnceCell::new(),
    };
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
            Statement::ExportFromDeclaration(from) => {
                for specifier in &from.specifiers {
                    let (there, here) = (specifier.local.name(), specifier.exported.name());
                    self.imports.entry(here.as_str()).or_insert((from.source.value.as_str(), there.as_str()));
                }
            }
            other => {
                if let Some(declaration) = other.as_declaration() {
                    self.declare(declaration);
                }
            }
        }
    }

    fn declare(&mut self, declaration: &'a Declaration<'a>) {
        let Declaration::VariableDeclaration(variable) = declaration else { return };
        for declarator in &variable.declarations {
            if let (Some(name), Some(init)) = (declarator.id.get_identifier_name(), &declarator.init) {
                self.constants.insert(name.as_str(), init);
            }
        }
    }

    /// Decorators that a compiler wrote as calls.
    pub(crate) fn compiled(&self) -> &[Compiled] {
        self.compiled.get_or_init(|| compiled(self))
    }

    /// The text of a piece.
    pub fn text(&self, span: Span) -> &'a str {
        &self.source[span.start as usize..span.end as usize]
    }

    /// Where its names mean something, with the type parameters of the component that is read.
    pub fn scope(&self) -> Scope {
        let scope = Scope::of(self.module.clone());
        self.checker().with_generics(&self.generics.borrow(), &scope)
    }

    /// Reads a component that has type parameters: they are what they must extend.
    pub fn with_generics<T>(&self, generics: Vec<Generic>, work: impl FnOnce() -> T) -> T {
        let before = self.generics.replace(generics);
        let out = work();
        self.generics.replace(before);
        out
    }

    /// Works out the types that its names mean.
    pub fn checker(&self) -> Checker<'_> {
        Checker::new(&self.sources)
    }

    /// The comment right before an offset, as written; words of the language such as `export` may stand between.
    pub fn comment_before(&self, offset: u32) -> Option<&str> {
        self.module.comment_before(offset)
    }

    /// The text of the documentation comment right before an offset.
    pub fn about(&self, offset: u32) -> Option<String> {
        self.module.about(offset)
    }

    /// What is said of a declaration at an offset, beside its name and its type.
    pub fn told(&self, offset: u32) -> Told {
        let (line, column) = place_of(self.source, offset as usize);
        Told { about: self.about(offset), place: Some(Place { file: self.path.to_string_lossy().into_owned(), line, column }) }
    }

    /// The file that a specifier means to someone who reads types.
    pub fn file_of(&self, specifier: &str) -> Option<PathBuf> {
        self.sources.file_of(&self.path, specifier)
    }

    /// The file whose code a specifier means: beside it, or that of a package; where that is not known, the one beside its declarations.
    /// Declarations refer to declarations.
    pub fn file_of_code(&self, specifier: &str) -> Option<PathBuf> {
        if self.path.to_string_lossy().ends_with(".d.ts") {
            return self.file_of(specifier);
        }
        if specifier.starts_with('.') {
            return self.file_beside(specifier);
        }
        if let Some(code) = self.sources.imports.code(&self.path, specifier) {
            return Some(code);
        }
        let typed = self.sources.imports.types(&self.path, specifier)?;
        let text = typed.to_string_lossy();
        let code = text.strip_suffix(".d.ts").map(|stem| PathBuf::from(format!("{stem}.js")));
        Some(code.filter(|code| self.sources.files.is_file(code)).unwrap_or(typed))
    }

    /// The file that a relative specifier means when it is run.
    pub fn file_beside(&self, specifier: &str) -> Option<PathBuf> {
        let plain = path_beside(&self.path, specifier.strip_prefix('.').map(|_| specifier)?)?;
        if self.sources.files.is_file(&plain) { Some(plain) } else { beside(self.sources.files, &self.path, specifier) }
    }
}

fn path_beside(from: &Path, specifier: &str) -> Option<PathBuf> {
    let mut base = from.parent()?.to_path_buf();
    for part in specifier.split('/') {
        match part {
            "." | "" => {}
            ".." => drop(base.pop()),
            part => base.push(part),
        }
    }
    Some(base)
}

fn beside(files: &dyn Files, from: &Path, specifier: &str) -> Option<PathBuf> {
    let base = path_beside(from, specifier)?;
    let text = base.to_string_lossy().into_owned();
    let stem = text.strip_suffix(".js").or_else(|| text.strip_suffix(".jsx")).or_else(|| text.strip_suffix(".mjs")).unwrap_or(&text);
    let endings = ["", ".ts", ".tsx", ".d.ts", ".mts", ".d.mts", "/index.ts", "/index.tsx", "/index.d.ts"];
    let candidates = endings.iter().map(|e| PathBuf::from(if e.is_empty() { text.clone() } else { format!("{stem}{e}") }));
    // `Dial.svelte` may have its declarations beside it.
    let declared = [PathBuf::from(format!("{text}.d.ts"))];
    let is_read = |p: &PathBuf| p.extension().is_some_and(|e| e != "js" && e != "mjs" && e != "jsx") && files.is_file(p);
    candidates.chain(declared).find(is_read)
}

/// Whether a specifier means a package or a part of it.
pub fn is_of(specifier: &str, package: &str) -> bool {
    specifier.strip_prefix(package).is_some_and(|rest| rest.is_empty() || rest.starts_with('/'))
}

/// The name of a property, when it is written out.
pub fn key_name(key: &PropertyKey<'_>) -> Option<String> {
    key.static_name().map(|n| n.into_owned())
}

/// The source type of a file by its name.
pub fn source_type(path: &Path) -> SourceType {
    let named = SourceType::from_path(path).unwrap_or_else(|_| SourceType::tsx());
    // JSX is common in files named .js.
    if named.is_javascript() { named.with_jsx(true) } else { named }
}

/// The span of anything.
pub fn span_of(node: &impl GetSpan) -> Span {
    node.span()
}

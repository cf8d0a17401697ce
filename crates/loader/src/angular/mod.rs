//! Angular's classes as its own compiler, which runs beside them in the page, takes them: templates and styles of their own files written in,
//! and members that are signals declared by decorators, as the framework's build tools do.

mod application;
mod modules;
mod workspace;

use std::path::Path;

use fidelon_source::{Bounds, Files as _, ProjectFiles};
use oxc::allocator::Allocator;
use oxc::ast::ast::{
    CallExpression, Class, ClassElement, Decorator, Expression, ImportDeclaration, ImportDeclarationSpecifier, MethodDefinitionKind,
    ObjectExpression, ObjectPropertyKind, PropertyDefinition, TSInterfaceDeclaration, TSType, TSTypeAliasDeclaration,
};
use oxc::ast_visit::{Visit, walk};
use oxc::parser::Parser;
use oxc::span::{GetSpan, SourceType, Span};
use serde_json::Value as Json;

use crate::loader::tidy;

pub use application::{Application, Start};
pub use modules::{declaring, too_old};
pub use workspace::Workspace;
pub(crate) use workspace::Workspaces;

/// What the module calls the decorators that are added.
const CORE: &str = "__angular";

/// The project that a component belongs to: what is read for it lies there, by its real place, or in the packages installed for it.
struct Project(ProjectFiles);

impl Project {
    fn of(file: &Path) -> Self {
        Self(ProjectFiles(Bounds::of(&[file.parent().unwrap_or(file)])))
    }

    fn text(&self, file: &Path) -> Option<String> {
        self.0.read(&tidy(file)).ok()
    }

    /// The folders above a file that are the project's, the nearest first.
    fn above<'p>(&self, file: &'p Path) -> impl Iterator<Item = &'p Path> {
        file.ancestors().skip(1).take_while(|folder| self.0.0.hold(folder))
    }
}

/// A class file, prepared.
#[derive(Debug)]
pub struct Prepared {
    /// The text; its lines are those of the source.
    pub code: String,
    /// The files that were written in, relative to its folder.
    pub reads: Vec<String>,
}

/// True for a script that declares something of Angular.
pub fn declares(source: &str) -> bool {
    source.contains("@angular/core")
        && ["@Component(", "@Directive(", "@Injectable(", "@NgModule(", "@Pipe("].iter().any(|d| source.contains(d))
}

/// Prepares a script. `read` gives the text of a template or the rules of a stylesheet by its path.
///
/// # Errors
/// A file that cannot be read: its place in the source and what is wrong with it.
pub fn prepare(
    path: &str,
    source: &str,
    read: &mut dyn FnMut(&str) -> Result<String, String>,
) -> Result<Option<Prepared>, (usize, String)> {
    let allocator = Allocator::default();
    let kind = SourceType::from_path(Path::new(path)).unwrap_or_else(|_| SourceType::ts());
    let parsed = Parser::new(&allocator, source, kind).parse();
    if parsed.panicked {
        // The transform tells the syntax error.
        return Ok(None);
    }
    let mut edits = Edits { source, edits: Vec::new(), files: Vec::new(), signals: false, types: Vec::new() };
    // Types are known before the classes that name them, wherever they stand.
    let mut known = Edits { source, edits: Vec::new(), files: Vec::new(), signals: false, types: Vec::new() };
    known.visit_program(&parsed.program);
    edits.types = known.types;
    edits.visit_program(&parsed.program);
    let Edits { edits: mut list, files, signals, .. } = edits;
    let mut reads = Vec::new();
    for (span, key, written) in files {
        let mut texts = Vec::new();
        for file in &written {
            texts.push(read(file).map_err(|message| (span.start as usize, message))?);
            reads.push(file.clone());
        }
        let value = if key == "template" { Json::from(texts.concat()) } else { Json::from(texts) };
        list.push((span.start as usize, span.end as usize, format!("{key}: {value}")));
    }
    if list.is_empty() {
        return Ok(None);
    }
    list.sort_by_key(|e| e.0);
    let mut code = String::with_capacity(source.len() + 512);
    let mut at = 0;
    for (start, end, text) in list {
        code.push_str(&source[at..start]);
        code.push_str(&text);
        // Lines stay what they were.
        code.extend(source[start..end].matches('\n'));
        at = end;
    }
    code.push_str(&source[at..]);
    if signals {
        code.push_str(&format!("\nimport * as {CORE} from '@angular/core';\n"));
    }
    Ok(Some(Prepared { code, reads }))
}

struct Edits<'s> {
    source: &'s str,
    edits: Vec<(usize, usize, String)>,
    /// Members of metadata that name files: what they become, and the files.
    files: Vec<(Span, &'static str, Vec<String>)>,
    signals: bool,
    /// Names that are types alone.
    types: Vec<String>,
}

impl<'a> Visit<'a> for Edits<'_> {
    fn visit_import_declaration(&mut self, import: &ImportDeclaration<'a>) {
        for specifier in import.specifiers.iter().flatten() {
            let (name, typed) = match specifier {
                ImportDeclarationSpecifier::ImportSpecifier(s) => (&s.local.name, s.import_kind.is_type()),
                ImportDeclarationSpecifier::ImportDefaultSpecifier(s) => (&s.local.name, false),
                ImportDeclarationSpecifier::ImportNamespaceSpecifier(s) => (&s.local.name, false),
            };
            if typed || import.import_kind.is_type() {
                self.types.push(name.to_string());
            }
        }
    }

    fn visit_ts_interface_declaration(&mut self, declaration: &TSInterfaceDeclaration<'a>) {
        self.types.push(declaration.id.name.to_string());
    }

    fn visit_ts_type_alias_declaration(&mut self, declaration: &TSTypeAliasDeclaration<'a>) {
        self.types.push(declaration.id.name.to_string());
    }

    fn visit_class(&mut self, class: &Class<'a>) {
        let of = |name: &str| class.decorators.iter().find_map(|d| decorator(d, name));
        if ["Component", "Directive", "Injectable", "NgModule", "Pipe"].iter().any(|name| of(name).is_some()) {
            self.parameters(class);
        }
        if let Some(call) = of("Component").or_else(|| of("Directive")) {
            if let Some(Expression::ObjectExpression(metadata)) = call.arguments.first().and_then(|a| a.as_expression()) {
                self.metadata(metadata);
            }
            for element in &class.body.body {
                if let ClassElement::PropertyDefinition(field) = element {
                    self.field(field);
                }
            }
        }
        walk::walk_class(self, class);
    }
}

fn decorator<'s, 'a>(decorator: &'s Decorator<'a>, name: &str) -> Option<&'s CallExpression<'a>> {
    match &decorator.expression {
        Expression::CallExpression(call) if matches!(&call.callee, Expression::Identifier(id) if id.name == name) => Some(&**call),
        _ => None,
    }
}

fn text_of(expression: &Expression<'_>) -> Option<String> {
    match expression {
        Expression::StringLiteral(text) => Some(text.value.to_string()),
        Expression::TemplateLiteral(text) if text.expressions.is_empty() => Some(text.quasis.first()?.value.raw.to_string()),
        _ => None,
    }
}

impl Edits<'_> {
    fn text(&self, span: Span) -> &str {
        &self.source[span.start as usize..span.end as usize]
    }

    /// What a constructor asks for, as the framework's own build writes it down for its compiler at run time: types are no values, so only
    /// those are named that must be one, since something is injected by them.
    fn parameters(&mut self, class: &Class<'_>) {
        let constructor = class.body.body.iter().find_map(|element| match element {
            ClassElement::MethodDefinition(m) if m.kind == MethodDefinitionKind::Constructor && m.value.body.is_some() => Some(m),
            _ => None,
        });
        let Some(constructor) = constructor.filter(|c| !c.value.params.items.is_empty()) else { return };
        let told = constructor.value.params.items.iter().map(|parameter| {
            let calls = parameter.decorators.iter().filter_map(|d| match &d.expression {
                Expression::CallExpression(call) => Some((self.text(call.callee.span()), call)),
                _ => None,
            });
            let decorators: Vec<String> = calls
                .map(|(name, call)| {
                    let arguments: Vec<&str> = call.arguments.iter().map(|a| self.text(a.span())).collect();
                    format!("{{ type: {name}, args: [{}] }}", arguments.join(", "))
                })
                .collect();
            let named = parameter.decorators.iter().any(|d| decorator(d, "Inject").or_else(|| decorator(d, "Attribute")).is_some());
            let ty = parameter.type_annotation.as_ref().filter(|_| !named).and_then(|a| self.value_of(&a.type_annotation));
            format!("{{ type: {}, decorators: [{}] }}", ty.unwrap_or("undefined"), decorators.join(", "))
        });
        let told: Vec<String> = told.collect();
        let at = class.body.span.start as usize + 1;
        self.edits.push((at, at, format!(" static ctorParameters = () => [{}];", told.join(", "))));
    }

    /// The value that a type is named by: a class. None for what is no value.
    fn value_of(&self, ty: &TSType<'_>) -> Option<&str> {
        match ty {
            TSType::TSTypeReference(reference) => {
                let name = self.text(reference.type_name.span());
                let root = name.split('.').next().unwrap_or(name);
                (!self.types.iter().any(|known| known == root)).then_some(name)
            }
            TSType::TSUnionType(union) => {
                let nothing = |t: &&TSType<'_>| matches!(t, TSType::TSNullKeyword(_) | TSType::TSUndefinedKeyword(_));
                let mut rest = union.types.iter().filter(|t| !nothing(t));
                let only = rest.next()?;
                if rest.next().is_some() { None } else { self.value_of(only) }
            }
            TSType::TSParenthesizedType(inner) => self.value_of(&inner.type_annotation),
            _ => None,
        }
    }

    fn metadata(&mut self, metadata: &ObjectExpression<'_>) {
        let mut styles: Vec<String> = Vec::new();
        let mut place = None;
        for property in &metadata.properties {
            let ObjectPropertyKind::ObjectProperty(property) = property else { continue };
            match property.key.static_name().as_deref() {
                Some("templateUrl") => self.files.extend(text_of(&property.value).map(|file| (property.span, "template", vec![file]))),
                Some("styleUrl" | "styleUrls") => {
                    match &property.value {
                        Expression::ArrayExpression(list) => {
                            styles.extend(list.elements.iter().filter_map(|e| text_of(e.as_expression()?)));
                        }
                        one => styles.extend(text_of(one)),
                    }
                    place = Some(property.span);
                }
                _ => {}
            }
        }
        if let Some(place) = place {
            self.files.push((place, "styles", styles));
        }
    }

    /// A field that is a signal of the framework's, as the decorator that stands for it.
    fn field(&mut self, field: &PropertyDefinition<'_>) {
        let Some(Expression::CallExpression(call)) = &field.value else { return };
        let Some(name) = field.key.static_name() else { return };
        let (callee, required) = match &call.callee {
            Expression::Identifier(id) => (id.name.as_str(), false),
            Expression::StaticMemberExpression(m) if m.property.name == "required" => match &m.object {
                Expression::Identifier(id) => (id.name.as_str(), true),
                _ => return,
            },
            _ => return,
        };
        let arguments: Vec<&Expression<'_>> = call.arguments.iter().filter_map(|a| a.as_expression()).collect();
        let options = match arguments.last() {
            Some(Expression::ObjectExpression(object)) => Some(&**object),
            _ => None,
        };
        let option = |wanted: &str| {
            let found = options.into_iter().flat_map(|o| &o.properties).filter_map(|p| p.as_property());
            found.filter(|p| p.key.static_name().as_deref() == Some(wanted)).map(|p| &p.value).next()
        };
        let alias = Json::from(option("alias").and_then(text_of).unwrap_or_else(|| name.to_string()));
        let input =
            |alias: &Json| format!("@{CORE}.Input({{ isSignal: true, alias: {alias}, required: {required}, transform: undefined }}) ");
        let query = |kind: &str| {
            let what = arguments.first().map(|a| self.text(a.span())).unwrap_or("''");
            let more = arguments.get(1).map(|a| format!("...{}, ", self.text(a.span()))).unwrap_or_default();
            format!("@{CORE}.{kind}({what}, {{ {more}isSignal: true }}) ")
        };
        let added = match callee {
            "input" => input(&alias),
            "model" => {
                let change = Json::from(format!("{}Change", alias.as_str().unwrap_or_default()));
                format!("{}@{CORE}.Output({change}) ", input(&alias))
            }
            "output" | "outputFromObservable" => format!("@{CORE}.Output({alias}) "),
            "viewChild" => query("ViewChild"),
            "viewChildren" => query("ViewChildren"),
            "contentChild" => query("ContentChild"),
            "contentChildren" => query("ContentChildren"),
            _ => return,
        };
        let known = ["Input", "Output", "ViewChild", "ViewChildren", "ContentChild", "ContentChildren"];
        if field.decorators.iter().any(|d| known.iter().any(|name| decorator(d, name).is_some())) {
            return;
        }
        self.signals = true;
        self.edits.push((field.span.start as usize, field.span.start as usize, added));
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn signals_get_decorators_and_files_are_written_in() {
        let source = "import { Component, input, model } from '@angular/core';\n@Component({\n  templateUrl: './a.html',\n  styleUrl: './a.css',\n})\nexport class A {\n  label = input.required<string>({ alias: 'title' });\n  target = model(1);\n  field = viewChild('it');\n}\n";
        let mut read = |file: &str| Ok(format!("<p>{file}</p>\n"));
        let out = prepare("a.ts", source, &mut read).expect("reads").expect("has work");
        assert_eq!(out.reads, ["./a.html", "./a.css"]);
        for wanted in [
            r#"template: "<p>./a.html</p>\n","#,
            r#"styles: ["<p>./a.css</p>\n"],"#,
            r#"  @__angular.Input({ isSignal: true, alias: "title", required: true, transform: undefined }) label = "#,
            r#"required: false, transform: undefined }) @__angular.Output("targetChange") target = model(1);"#,
            "@__angular.ViewChild('it', { isSignal: true }) field",
        ] {
            assert!(out.code.contains(wanted), "{wanted}\n{}", out.code);
        }
        let line = |text: &str| text.lines().position(|l| l.contains("target = model")).expect("there");
        assert_eq!(line(&out.code), line(source));
    }

    #[test]
    fn a_missing_file_is_told() {
        let source = "import { Component } from '@angular/core';\n@Component({ templateUrl: './gone.html' })\nexport class A {}";
        let error = prepare("a.ts", source, &mut |_| Err("gone".into())).expect_err("cannot be read");
        assert_eq!(error, (source.find("templateUrl").expect("there"), "gone".to_owned()));
    }
}

//! How an application of Angular starts, read from its main script. What that gives its components, they are given here too.

use std::path::{Path, PathBuf};

use oxc::ast::ast::{CallExpression, Expression, Statement};
use oxc::ast_visit::{Visit, walk};
use oxc::span::{GetSpan, Span};
use serde_json::Value as Json;

use super::Project;
use super::modules::{imported, with_program};
use super::workspace::Workspace;
use crate::loader::tidy;

/// What is known of the application that a component belongs to.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Application {
    /// How it is built.
    pub workspace: Workspace,
    /// Its main script.
    pub main: PathBuf,
    /// How it starts.
    pub start: Option<Start>,
}

/// How an application starts.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Start {
    /// By a root module: its file and its name.
    Module {
        /// The specifier that it is imported by: a whole path, or a package.
        from: String,
        /// Its exported name.
        name: String,
    },
    /// By what it passes to `bootstrapApplication`: a script, in TypeScript, that exports it as `config`.
    Config {
        /// Its text; what is imported by a path is imported by the whole path.
        code: String,
    },
}

impl Application {
    /// The application that a component's file belongs to.
    pub fn of(file: &Path) -> Self {
        let workspace = Workspace::of(file);
        let Some(folder) = &workspace.folder else { return Self::default() };
        let main = workspace.main.clone().unwrap_or_else(|| folder.join("src/main.ts"));
        Self { start: start(&Project::of(file), &main), main, workspace }
    }

    /// The files that it was read from.
    pub fn files(&self) -> impl Iterator<Item = &Path> {
        self.workspace.file.iter().chain(self.start.as_ref().map(|_| &self.main)).map(PathBuf::as_path)
    }
}

/// How a main script starts the application.
fn start(project: &Project, main: &Path) -> Option<Start> {
    let source = project.text(main)?;
    let folder = main.parent()?;
    with_program(main, &source, |program| {
        let mut calls = Calls::default();
        calls.visit_program(program);
        if let Some(module) = calls.module {
            let (from, name) = imported(program, &module)?;
            return Some(Start::Module { from: whole(folder, from), name: name.to_owned() });
        }
        let config = calls.config?;
        let mut code = String::with_capacity(source.len());
        for statement in &program.body {
            match statement {
                Statement::ImportDeclaration(import) => {
                    let span = import.source.span;
                    code.push_str(&source[import.span.start as usize..span.start as usize]);
                    code.push_str(&Json::from(whole(folder, &import.source.value)).to_string());
                    code.push_str(&source[span.end as usize..import.span.end as usize]);
                }
                // What it does is the start itself; what it names may be passed.
                other if other.as_declaration().is_some() => code.push_str(text(&source, other.span())),
                _ => continue,
            }
            code.push('\n');
        }
        code.push_str(&format!("export const config = ({});\n", text(&source, config)));
        Some(Start::Config { code })
    })?
}

fn text(source: &str, span: Span) -> &str {
    &source[span.start as usize..span.end as usize]
}

/// A specifier that means the same from anywhere.
fn whole(folder: &Path, specifier: &str) -> String {
    if !specifier.starts_with('.') {
        return specifier.to_owned();
    }
    tidy(&folder.join(specifier)).to_string_lossy().into_owned()
}

/// The calls that start an application.
#[derive(Default)]
struct Calls {
    /// The class that `bootstrapModule` is given.
    module: Option<String>,
    /// Where the second argument of `bootstrapApplication` stands.
    config: Option<Span>,
}

impl<'a> Visit<'a> for Calls {
    fn visit_call_expression(&mut self, call: &CallExpression<'a>) {
        match &call.callee {
            Expression::Identifier(id) if id.name == "bootstrapApplication" => {
                self.config = call.arguments.get(1).and_then(|a| a.as_expression()).map(GetSpan::span);
            }
            Expression::StaticMemberExpression(member) if member.property.name == "bootstrapModule" => {
                if let Some(Expression::Identifier(id)) = call.arguments.first().and_then(|a| a.as_expression()) {
                    self.module = Some(id.name.to_string());
                }
            }
            _ => {}
        }
        walk::walk_call_expression(self, call);
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn written(files: &[(&str, &str)]) -> tempfile::TempDir {
        let folder = tempfile::tempdir().expect("made");
        for (name, text) in files {
            let path = folder.path().join(name);
            std::fs::create_dir_all(path.parent().expect("has one")).expect("made");
            std::fs::write(path, text).expect("written");
        }
        folder
    }

    #[test]
    fn what_an_application_passes_is_taken_without_starting_it() {
        let folder = written(&[
            (
                "angular.json",
                r#"{ "projects": { "app": { "root": "", "architect": { "build": { "options": { "browser": "src/main.ts", "polyfills": ["zone.js", "src/ours.ts"] } } } } } }"#,
            ),
            ("package.json", "{}"),
            ("src/ours.ts", ""),
            (
                "src/main.ts",
                "import { bootstrapApplication } from '@angular/platform-browser'\nimport { App } from './app/app'\nimport { routes } from './app/routes'\nconst more: unknown[] = []\nif (more) enable()\nbootstrapApplication(App, { providers: [provideRouter(routes), more] }).catch(console.error)\n",
            ),
        ]);
        let app = Application::of(&folder.path().join("src/app/app.ts"));
        let ours = folder.path().join("src/ours.ts").to_string_lossy().into_owned();
        assert_eq!(app.workspace.polyfills, Some(vec!["zone.js".to_owned(), ours]));
        let Some(Start::Config { code }) = app.start else { panic!("{:?}", app.start) };
        let routes = folder.path().join("src/app/routes").to_string_lossy().into_owned();
        assert!(code.contains(&format!("from \"{routes}\"")), "{code}");
        assert!(code.contains("const more: unknown[] = []") && !code.contains("enable()") && !code.contains("catch"), "{code}");
        assert!(code.ends_with("export const config = ({ providers: [provideRouter(routes), more] });\n"), "{code}");
    }

    #[test]
    fn nothing_is_read_that_lies_outside_of_the_project() {
        let folder = written(&[
            ("outside/main.ts", "bootstrapApplication(App, { providers: ['secret'] })\n"),
            ("angular.json", r#"{ "projects": { "app": { "architect": { "build": { "options": { "browser": "outside/main.ts" } } } } } }"#),
            ("shop/package.json", "{}"),
            ("shop/src/app.ts", ""),
            ("kiln/package.json", "{}"),
            (
                "kiln/angular.json",
                r#"{ "projects": { "app": { "architect": { "build": { "options": { "browser": "../outside/main.ts" } } } } } }"#,
            ),
            ("kiln/src/app.ts", ""),
        ]);
        for file in ["shop/src/app.ts", "kiln/src/app.ts"] {
            assert_eq!(Application::of(&folder.path().join(file)).start, None, "{file}");
        }
    }

    #[test]
    fn a_root_module_is_named() {
        let folder = written(&[
            ("package.json", "{}"),
            ("src/main.ts", "import { AppModule } from './app/app.module'\nplatformBrowserDynamic().bootstrapModule(AppModule)\n"),
        ]);
        let app = Application::of(&folder.path().join("src/app/row/row.component.ts"));
        let from = folder.path().join("src/app/app.module").to_string_lossy().into_owned();
        assert_eq!(app.workspace.polyfills, None);
        assert_eq!(app.start, Some(Start::Module { from, name: "AppModule".into() }));
    }
}

//! How an application of Angular starts, read from its own files: the workspace's description (`angular.json`, `project.json`) and its main
//! script. What that gives its components, they are given here too.

use std::path::{Path, PathBuf};

use oxc::ast::ast::{CallExpression, Expression, Statement};
use oxc::ast_visit::{Visit, walk};
use oxc::span::{GetSpan, Span};
use serde_json::Value as Json;

use super::Project;
use super::modules::{imported, with_program};
use crate::loader::tidy;

/// What is known of the application that a component belongs to.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Application {
    /// What is loaded before anything else, as it is imported: packages by name, files by their whole path. None where nothing says so.
    pub polyfills: Option<Vec<String>>,
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
        let project = Project::of(file);
        let Some((folder, described)) = workspace(&project, file) else { return Self::default() };
        let options = described.as_ref().and_then(|d| build_options(d, &folder, file));
        let written = |key: &str| options.and_then(|o| o.get(key));
        let polyfills = written("polyfills").map(|list| match list {
            Json::Array(list) => list.iter().filter_map(|p| p.as_str()).map(|p| specifier(&folder, p)).collect(),
            Json::String(one) => vec![specifier(&folder, one)],
            _ => Vec::new(),
        });
        let main = ["browser", "main"]
            .iter()
            .find_map(|key| written(key)?.as_str())
            .map_or_else(|| folder.join("src/main.ts"), |m| folder.join(m));
        Self { polyfills, start: start(&project, &main) }
    }
}

/// The folder that tells how a file is built, with its description where that is one; else that of the package.
fn workspace(project: &Project, file: &Path) -> Option<(PathBuf, Option<Json>)> {
    let read = |path: PathBuf| serde_json::from_str::<Json>(&without_comments(&project.text(&path)?)).ok();
    let described = project.above(file).find_map(|folder| {
        let found = ["angular.json", "project.json"].iter().find_map(|name| read(folder.join(name)))?;
        Some((folder.to_path_buf(), Some(found)))
    });
    described.or_else(|| {
        let package = project.above(file).find(|folder| folder.join("package.json").is_file())?;
        Some((package.to_path_buf(), None))
    })
}

/// JSON as its writers take it, with lines that are comments.
fn without_comments(text: &str) -> String {
    text.lines().filter(|line| !line.trim_start().starts_with("//")).collect::<Vec<_>>().join("\n")
}

/// The options of the build of the project that a file lies in; of the first application where it lies in none.
fn build_options<'d>(described: &'d Json, folder: &Path, file: &Path) -> Option<&'d Json> {
    let options = |project: &'d Json| {
        let targets = project.get("architect").or_else(|| project.get("targets"))?;
        targets.get("build")?.get("options")
    };
    let Some(projects) = described.get("projects").and_then(Json::as_object) else { return options(described) };
    let root = |project: &Json| folder.join(project.get("root").and_then(Json::as_str).unwrap_or_default());
    let holds = projects.values().filter(|p| file.starts_with(root(p))).max_by_key(|p| root(p).iter().count());
    holds.and_then(options).or_else(|| projects.values().find_map(options))
}

/// How a polyfill is imported: a file of the workspace by its whole path, a package by its name.
fn specifier(folder: &Path, written: &str) -> String {
    let file = folder.join(written);
    if file.is_file() { file.to_string_lossy().into_owned() } else { written.to_owned() }
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
        assert_eq!(app.polyfills, Some(vec!["zone.js".to_owned(), ours]));
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
        assert_eq!(app, Application { polyfills: None, start: Some(Start::Module { from, name: "AppModule".into() }) });
    }
}

//! What the description of a workspace (`angular.json`, `project.json`) says of how a file is built.

use std::cell::RefCell;
use std::collections::HashMap;
use std::path::{Path, PathBuf};
use std::rc::Rc;

use serde_json::Value as Json;

use super::Project;
use crate::loader::tidy;

/// The options that count for the components of one project of a workspace.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Workspace {
    /// The folder that paths are relative to; none where there is no package.
    pub folder: Option<PathBuf>,
    /// The description; none where there is none.
    pub file: Option<PathBuf>,
    /// What is loaded before anything else, as it is imported: packages by name, files by their whole path. None where nothing says so.
    pub polyfills: Option<Vec<String>>,
    /// The main script.
    pub main: Option<PathBuf>,
    /// The stylesheets of the page, as polyfills are written.
    pub styles: Vec<String>,
    /// Folders in which Sass looks for what it is told to take over.
    pub sass_folders: Vec<PathBuf>,
    /// Files that others stand in for, as the build and the tests of the project have it.
    pub replacements: Vec<(PathBuf, PathBuf)>,
}

impl Workspace {
    /// That of a file.
    pub fn of(file: &Path) -> Self {
        let project = Project::of(file);
        let read = |path: &Path| serde_json::from_str::<Json>(&without_comments(&project.text(path)?)).ok();
        let described = project.above(file).find_map(|folder| {
            let named = ["angular.json", "project.json"].iter().map(|name| folder.join(name));
            named.into_iter().find_map(|path| Some((folder, read(&path)?, path)))
        });
        let Some((folder, described, path)) = described else {
            let folder = project.above(file).find(|folder| folder.join("package.json").is_file());
            return Self { folder: folder.map(Path::to_path_buf), ..Self::default() };
        };
        let targets = targets(&described, folder, file);
        let options = |target: &str| targets.and_then(|all| all.get(target)?.get("options"));
        let build = |key: &str| options("build").and_then(|o| o.get(key));
        let list = |written: &Json| match written {
            Json::Array(list) => list.iter().filter_map(|one| specifier(folder, one)).collect(),
            one => specifier(folder, one).into_iter().collect::<Vec<_>>(),
        };
        let main = ["browser", "main"].iter().find_map(|key| build(key)?.as_str()).map(|main| folder.join(main));
        let pairs = ["build", "test"].iter().filter_map(|target| options(target)?.get("fileReplacements")?.as_array()).flatten();
        Self {
            folder: Some(folder.to_path_buf()),
            polyfills: build("polyfills").map(list),
            main,
            styles: build("styles").map(list).unwrap_or_default(),
            sass_folders: sass_folders(build("stylePreprocessorOptions"), folder),
            replacements: pairs.filter_map(|pair| replacement(pair, folder)).collect(),
            file: Some(path),
        }
    }

    /// The file that stands in for another.
    pub fn stand_in(&self, file: &str) -> Option<String> {
        let pair = self.replacements.iter().find(|(replaced, _)| replaced.as_os_str() == file)?;
        Some(pair.1.to_string_lossy().into_owned())
    }
}

/// The workspaces of files, read once for each folder.
#[derive(Debug, Default)]
pub(crate) struct Workspaces(RefCell<HashMap<PathBuf, Rc<Workspace>>>);

impl Workspaces {
    /// That of a file of the project; none of a file in a package.
    pub(crate) fn of(&self, file: &str) -> Option<Rc<Workspace>> {
        let path = Path::new(file);
        let folder = path.parent().filter(|_| path.is_absolute() && !file.contains("/node_modules/"))?;
        if let Some(known) = self.0.borrow().get(folder) {
            return Some(known.clone());
        }
        let found = Rc::new(Workspace::of(path));
        self.0.borrow_mut().insert(folder.to_path_buf(), found.clone());
        Some(found)
    }
}

/// JSON as its writers take it, with lines that are comments.
fn without_comments(text: &str) -> String {
    text.lines().filter(|line| !line.trim_start().starts_with("//")).collect::<Vec<_>>().join("\n")
}

/// What can be done with the project that a file lies in; with the first application where it lies in none.
fn targets<'d>(described: &'d Json, folder: &Path, file: &Path) -> Option<&'d Json> {
    let targets = |project: &'d Json| project.get("architect").or_else(|| project.get("targets")).filter(|all| all.get("build").is_some());
    let Some(projects) = described.get("projects").and_then(Json::as_object) else { return targets(described) };
    let root = |project: &Json| folder.join(project.get("root").and_then(Json::as_str).unwrap_or_default());
    let holds = projects.values().filter(|p| file.starts_with(root(p))).max_by_key(|p| root(p).iter().count());
    holds.and_then(targets).or_else(|| projects.values().find_map(targets))
}

/// How a polyfill or a stylesheet is imported: a file of the workspace by its whole path, what a package has by its name. None for one that
/// the page does not load by itself.
fn specifier(folder: &Path, written: &Json) -> Option<String> {
    let is_loaded = written.get("inject") != Some(&Json::Bool(false));
    let name = written.as_str().or_else(|| written.get("input")?.as_str()).filter(|_| is_loaded)?;
    let file = tidy(&folder.join(name));
    Some(if file.is_file() { file.to_string_lossy().into_owned() } else { name.to_owned() })
}

fn sass_folders(options: Option<&Json>, folder: &Path) -> Vec<PathBuf> {
    let Some(options) = options else { return Vec::new() };
    let lists =
        [options.get("includePaths"), options.get("sass").and_then(|sass| sass.get("loadPaths").or_else(|| sass.get("includePaths")))];
    let named = lists.into_iter().flatten().filter_map(Json::as_array).flatten().filter_map(Json::as_str);
    named.map(|name| tidy(&folder.join(name))).collect()
}

fn replacement(pair: &Json, folder: &Path) -> Option<(PathBuf, PathBuf)> {
    // The second names are those of the first versions.
    let path = |names: [&str; 2]| names.iter().find_map(|name| pair.get(name)?.as_str()).map(|name| tidy(&folder.join(name)));
    Some((path(["replace", "src"])?, path(["with", "replaceWith"])?))
}

#[cfg(test)]
mod tests {
    use super::*;

    const DESCRIBED: &str = r#"{
      // who wrote it
      "projects": {
        "tools": { "root": "tools", "architect": { "build": { "options": { "styles": ["tools/page.css"] } } } },
        "studio": { "root": "", "architect": {
          "build": { "options": {
            "browser": "src/start.ts",
            "polyfills": ["zone.js", "src/ours.ts"],
            "styles": ["src/page.scss", { "input": "glazes/theme.css", "inject": true }, { "input": "src/later.css", "inject": false }],
            "stylePreprocessorOptions": { "includePaths": ["src/tones"] },
            "fileReplacements": [{ "replace": "src/kiln.ts", "with": "src/kiln.cold.ts" }]
          } },
          "test": { "options": { "fileReplacements": [{ "src": "src/clock.ts", "replaceWith": "src/clock.still.ts" }] } }
        } }
      }
    }"#;

    #[test]
    fn a_workspace_says_how_its_files_are_built() {
        let folder = tempfile::tempdir().expect("made");
        let at = |name: &str| folder.path().join(name);
        for (name, text) in
            [("package.json", "{}"), ("angular.json", DESCRIBED), ("src/ours.ts", ""), ("src/page.scss", ""), ("tools/page.css", "")]
        {
            std::fs::create_dir_all(at(name).parent().expect("has one")).expect("made");
            std::fs::write(at(name), text).expect("written");
        }
        let whole = |name: &str| at(name).to_string_lossy().into_owned();
        let found = Workspace::of(&at("src/app/dial.ts"));
        assert_eq!(found.main, Some(at("src/start.ts")));
        assert_eq!(found.polyfills, Some(vec!["zone.js".to_owned(), whole("src/ours.ts")]));
        assert_eq!(found.styles, [whole("src/page.scss"), "glazes/theme.css".to_owned()]);
        assert_eq!(found.sass_folders, [at("src/tones")]);
        assert_eq!(found.stand_in(&whole("src/kiln.ts")), Some(whole("src/kiln.cold.ts")));
        assert_eq!(found.stand_in(&whole("src/clock.ts")), Some(whole("src/clock.still.ts")));
        assert_eq!(found.stand_in(&whole("src/other.ts")), None);
        // Another project of the workspace has options of its own.
        assert_eq!(Workspace::of(&at("tools/dial.ts")).styles, [whole("tools/page.css")]);
    }
}

//! The components of a project: which files may hold one. `.gitignore` is respected.

use std::path::{Path, PathBuf};
use std::sync::LazyLock;

use fidelon_source::{DiskFiles, Files as _};
use ignore::WalkBuilder;
use regex::Regex;

/// True for names that hold components by custom: `Name.vue`, `Name.svelte`, `Name.tsx`, `Name.jsx`. A second dot makes it something
/// about a component (a test, a declaration).
pub fn is_component_file(path: &Path) -> bool {
    let name = path.file_name().and_then(|n| n.to_str()).unwrap_or("");
    match name.split_once('.') {
        Some((stem, "vue" | "svelte")) => !stem.is_empty() && !stem.starts_with('+'),
        Some((stem, "tsx" | "jsx")) => !stem.is_empty() && stem != "index",
        _ => false,
    }
}

/// True for plain HTML. It is a component where somebody says so: most pages and templates are none.
pub fn is_page(path: &Path) -> bool {
    path.extension().is_some_and(|e| e == "html" || e == "htm")
}

/// What a script holds whose name says nothing.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum ScriptKind {
    /// Classes of Angular.
    Angular,
    /// Classes that are registered as custom elements.
    Element,
    /// Components of Vue by their options.
    Vue,
    /// Functions or classes that give JSX.
    Jsx,
}

/// Where a tag begins that a function gives, a variable holds or a call takes.
static GIVES_TAGS: LazyLock<Regex> =
    LazyLock::new(|| Regex::new(r"(?:\breturn|=>|=|\()\s*<(?:[A-Za-z][\w.:-]*[\s/>]|>)").expect("the pattern is well-formed"));

impl ScriptKind {
    /// By a look at the text: what is told is what it may hold, not that it does.
    pub fn of(source: &str) -> Option<Self> {
        let says = |words: &[&str]| words.iter().any(|word| source.contains(word));
        if crate::angular::may_declare(source) {
            Some(Self::Angular)
        } else if crate::element::may_register(source) {
            Some(Self::Element)
        } else if !says(&["export "]) {
            None
        } else if says(&["from 'vue'", "from \"vue\""]) && says(&["defineComponent(", "setup(", "setup:", "render("]) {
            Some(Self::Vue)
        } else if GIVES_TAGS.is_match(source) {
            // Nobody need import what JSX compiles to.
            Some(Self::Jsx)
        } else {
            None
        }
    }
}

/// Second endings of files that are about a component and hold none.
const ABOUT: [&str; 11] = ["d", "test", "spec", "stories", "story", "cy", "e2e", "mock", "mocks", "bench", "config"];

/// True for a script that may hold components: its name says nothing, so its text is looked at. A second dot makes it something about a
/// component, but for the names that Angular's projects give their files (`kiln-dial.component.ts`, `kiln.page.ts`).
pub fn may_declare_components(path: &Path) -> bool {
    let name = path.file_name().and_then(|n| n.to_str()).unwrap_or("");
    let mut parts = name.rsplit('.');
    let ending = parts.next().unwrap_or("");
    if !["js", "mjs", "ts", "mts", "jsx", "tsx"].contains(&ending) {
        return false;
    }
    let between: Vec<&str> = parts.collect();
    if between.iter().rev().skip(1).any(|part| ABOUT.contains(part)) {
        return false;
    }
    let Ok(source) = DiskFiles.read(path) else { return false };
    match ScriptKind::of(&source) {
        // `index.tsx`, as those call a component who give each a folder: where it does more than pass others on.
        kind if ["jsx", "tsx"].contains(&ending) => kind == Some(ScriptKind::Jsx) && between.len() == 1,
        Some(ScriptKind::Angular) => true,
        // What looks like a tag in a typed script is a type parameter.
        Some(ScriptKind::Jsx) if !["js", "mjs"].contains(&ending) => false,
        kind => kind.is_some() && between.len() == 1,
    }
}

/// All files below a folder for which `wanted` is true, by path. Installed packages are left out.
pub fn components_in(folder: &Path, wanted: impl Fn(&Path) -> bool) -> Vec<PathBuf> {
    let mut out: Vec<PathBuf> = walk(folder)
        .flatten()
        .filter(|e| e.file_type().is_some_and(|t| t.is_file()))
        .map(ignore::DirEntry::into_path)
        .filter(|p| wanted(p))
        .collect();
    out.sort();
    out
}

/// All folders below a folder in which components may lie, itself the first.
pub fn folders_in(folder: &Path) -> Vec<PathBuf> {
    walk(folder).flatten().filter(|e| e.file_type().is_some_and(|t| t.is_dir())).map(ignore::DirEntry::into_path).collect()
}

/// Folders that hold no sources, whatever git says.
const BUILT: [&str; 3] = ["node_modules", "dist", "target"];

/// Folders that hold what is about components: their tests, and what stands in for them there.
const BESIDE: [&str; 4] = ["__mocks__", "__tests__", "__fixtures__", "__snapshots__"];

fn walk(folder: &Path) -> ignore::Walk {
    WalkBuilder::new(folder)
        .require_git(false)
        .filter_entry(|e| e.file_name().to_str().is_none_or(|name| !BUILT.contains(&name) && !BESIDE.contains(&name)))
        .build()
}

/// What is no source of a project: installed and built files, hidden ones, and those that its `.gitignore` names.
#[derive(Debug)]
pub struct LeftOut {
    root: PathBuf,
    ignored: ignore::gitignore::Gitignore,
}

impl LeftOut {
    /// Of the project in a folder.
    pub fn of(root: &Path) -> Self {
        let mut ignored = ignore::gitignore::GitignoreBuilder::new(root);
        // A file with a fault leaves out what the rest of it says.
        let _ = ignored.add(root.join(".gitignore"));
        Self { root: root.to_path_buf(), ignored: ignored.build().unwrap_or_else(|_| ignore::gitignore::Gitignore::empty()) }
    }

    /// Whether a path below the folder is left out.
    pub fn covers(&self, path: &Path) -> bool {
        let Ok(below) = path.strip_prefix(&self.root) else { return false };
        let named = |name: &str| name.starts_with('.') || BUILT.contains(&name);
        let by_name = below.iter().any(|part| part.to_str().is_some_and(named));
        by_name || below.as_os_str() != "" && self.ignored.matched_path_or_any_parents(below, path.is_dir()).is_ignore()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_no_source_is_left_out() {
        let folder = tempfile::tempdir().expect("made");
        let root = folder.path();
        std::fs::write(root.join(".gitignore"), "report/\n*.log\n").expect("written");
        std::fs::create_dir_all(root.join("report/data")).expect("made");
        let left_out = LeftOut::of(root);
        for (path, is) in [
            ("src/KilnDial.vue", false),
            ("fidelon.toml", false),
            ("", false),
            ("report/data/c0.js", true),
            ("src/kiln.log", true),
            (".cache/ab/cdef", true),
            ("src/.KilnDial.vue.swp", true),
            ("packages/ui/node_modules/vue/index.js", true),
        ] {
            assert_eq!(left_out.covers(&root.join(path)), is, "{path}");
        }
    }

    #[test]
    fn names_of_component_files() {
        for (name, is) in [
            ("KilnDial.vue", true),
            ("a/KilnDial.tsx", true),
            ("KilnDial.test.tsx", false),
            ("kiln.ts", false),
            ("index.tsx", false),
            ("x.d.tsx", false),
        ] {
            assert_eq!(is_component_file(Path::new(name)), is, "{name}");
        }
    }
}

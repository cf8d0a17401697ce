//! What belongs to a project: whoever reads for a component reads nothing else, wherever links lead.

use std::cell::{OnceCell, RefCell};
use std::collections::HashMap;
use std::path::{Component, Path, PathBuf};

use crate::files::{DiskFiles, FileError, Files, place_on_disk};

/// What the folder of a project holds.
const MARKS: [&str; 3] = ["package.json", "pnpm-workspace.yaml", ".git"];

/// The folder that a project lies in with all that belongs to it, links followed: the topmost one above that is a package or a repository.
/// A home folder, and what lies above it, is none, whatever files it happens to hold.
pub fn whole_project(folder: &Path) -> PathBuf {
    let real = folder.canonicalize().unwrap_or_else(|_| folder.to_path_buf());
    let home = std::env::home_dir().and_then(|home| home.canonicalize().ok());
    topmost(&real, home.as_deref())
}

fn topmost(folder: &Path, home: Option<&Path>) -> PathBuf {
    let above_home = |at: &Path| home.is_some_and(|home| home.starts_with(at));
    let own = folder.ancestors().take_while(|at| !above_home(at));
    let found = own.filter(|at| MARKS.iter().any(|mark| at.join(mark).exists())).last();
    found.unwrap_or(folder).to_path_buf()
}

/// The folders that may be read: those of projects, and the packages that are installed for them.
#[derive(Debug, Default)]
pub struct Bounds {
    /// Real paths of projects.
    projects: Vec<PathBuf>,
    /// Real paths of the folders that packages are installed in.
    installed: Vec<PathBuf>,
    /// Real paths of packages that are links to elsewhere, once somebody asked.
    linked: OnceCell<Vec<PathBuf>>,
    /// What was answered.
    known: RefCell<HashMap<PathBuf, bool>>,
}

impl Bounds {
    /// The projects that these folders lie in.
    pub fn of(folders: &[&Path]) -> Self {
        let mut projects: Vec<PathBuf> = folders.iter().map(|folder| whole_project(folder)).collect();
        projects.sort();
        projects.dedup();
        let mut installed: Vec<PathBuf> = Vec::new();
        // Packages are looked for in each folder above, as resolvers do.
        for above in projects.iter().flat_map(|project| project.ancestors()) {
            installed.extend(above.join("node_modules").canonicalize().ok());
        }
        installed.sort();
        installed.dedup();
        Self { projects, installed, ..Self::default() }
    }

    /// Whether a file may be read: its real place counts. What is not there belongs where it would be.
    pub fn hold(&self, path: &Path) -> bool {
        if path.components().any(|c| c == Component::ParentDir) {
            return false;
        }
        if let Some(known) = self.known.borrow().get(path) {
            return *known;
        }
        let holds = self.look(path);
        self.known.borrow_mut().insert(path.to_path_buf(), holds);
        holds
    }

    fn look(&self, path: &Path) -> bool {
        // Archives hold packages, and are read as such alone.
        if path.components().any(|c| Path::new(c.as_os_str()).extension().is_some_and(|e| e == "zip")) && !path.exists() {
            return true;
        }
        let path = place_on_disk(path);
        let real = path.canonicalize().unwrap_or_else(|_| {
            let there = path.ancestors().skip(1).find_map(|a| Some(a.canonicalize().ok()?.join(path.strip_prefix(a).ok()?)));
            there.unwrap_or_else(|| path.clone())
        });
        let starts = |roots: &[PathBuf]| roots.iter().any(|root| real.starts_with(root));
        if starts(&self.projects) || starts(&self.installed) {
            return true;
        }
        let linked = self.linked.get_or_init(|| self.installed.iter().flat_map(|folder| links_in(folder)).collect());
        if starts(linked) {
            return true;
        }
        // What a linked package has installed for itself, or beside it, as package managers with one store for all do.
        linked.iter().any(|package| package.ancestors().any(|above| real.starts_with(above.join("node_modules"))))
    }
}

/// Where the packages of a folder lie that are links to elsewhere.
fn links_in(folder: &Path) -> Vec<PathBuf> {
    let entries = |folder: &Path| folder.read_dir().into_iter().flatten().flatten().map(|e| e.path()).collect::<Vec<_>>();
    let scoped = |path: &PathBuf| path.file_name().is_some_and(|n| n.to_string_lossy().starts_with('@'));
    let (scopes, packages): (Vec<PathBuf>, Vec<PathBuf>) = entries(folder).into_iter().partition(scoped);
    let all = packages.into_iter().chain(scopes.iter().flat_map(|scope| entries(scope)));
    let mut out: Vec<PathBuf> = all.filter(|p| p.is_symlink()).filter_map(|p| p.canonicalize().ok()).collect();
    out.sort();
    out
}

/// The files of the disk that belong to a project.
#[derive(Debug, Default)]
pub struct ProjectFiles(pub Bounds);

impl Files for ProjectFiles {
    fn read(&self, path: &Path) -> Result<String, FileError> {
        if self.0.hold(path) { DiskFiles.read(path) } else { Err(FileError::Refused("it lies outside the project".into())) }
    }

    fn is_file(&self, path: &Path) -> bool {
        DiskFiles.is_file(path) && self.0.hold(path)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn folder(name: &str) -> PathBuf {
        let folder = std::env::temp_dir().join(format!("fidelon-bounds-{name}-{}", std::process::id()));
        let _ = std::fs::remove_dir_all(&folder);
        std::fs::create_dir_all(&folder).expect("made");
        folder.canonicalize().expect("there")
    }

    #[test]
    fn a_home_folder_is_no_project() {
        let home = folder("home");
        for mark in ["package.json", ".git", "work/shop/package.json"] {
            let path = home.join(mark);
            std::fs::create_dir_all(path.parent().expect("has one")).expect("made");
            std::fs::write(path, "{}").expect("written");
        }
        let inner = home.join("work/shop/src");
        std::fs::create_dir_all(&inner).expect("made");
        assert_eq!(topmost(&inner, None), home);
        assert_eq!(topmost(&inner, Some(&home)), home.join("work/shop"));
        assert_eq!(topmost(&home.join("notes"), Some(&home)), home.join("notes"));
    }

    #[cfg(unix)]
    #[test]
    fn links_count_by_where_they_lead() {
        let all = folder("links");
        let put = |path: &str| {
            let path = all.join(path);
            std::fs::create_dir_all(path.parent().expect("has one")).expect("made");
            std::fs::write(&path, "x").expect("written");
            path
        };
        let link = |to: &str, from: &str| std::os::unix::fs::symlink(all.join(to), all.join(from)).expect("linked");
        put("shop/package.json");
        for file in [
            "shop/a.ts",
            "secret.txt",
            "elsewhere/node_modules/leak/private.txt",
            "store/vue/index.js",
            "tool/index.js",
            "tool/node_modules/dep/d.js",
        ] {
            put(file);
        }
        put("shop/node_modules/react/index.js");
        link("secret.txt", "shop/link.txt");
        link("a.ts", "shop/dangling.ts");
        link("tool", "shop/node_modules/tool");
        let bounds = Bounds::of(&[&all.join("shop/src/deep")]);
        for (file, holds) in [
            ("shop/a.ts", true),
            ("shop/new.ts", true),
            ("shop/node_modules/react/index.js", true),
            ("shop/node_modules/tool/index.js", true),
            ("tool/index.js", true),
            ("tool/node_modules/dep/d.js", true),
            ("shop/link.txt", false),
            ("secret.txt", false),
            ("shop/../secret.txt", false),
            ("elsewhere/node_modules/leak/private.txt", false),
            ("store/vue/index.js", false),
        ] {
            assert_eq!(bounds.hold(&all.join(file)), holds, "{file}");
        }
        assert!(matches!(ProjectFiles(bounds).read(&all.join("shop/link.txt")), Err(FileError::Refused(_))));
    }
}

//! `fidelon.toml`: what holds for whole folders of a project.

use std::path::{Path, PathBuf};
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};

use fidelon_core::contract::{Exemption, Fault};
use fidelon_core::judge::laws;
use fidelon_core::results::FileFault;
use fidelon_core::scene::Scene;
use fidelon_loader::{Aliases, PACKAGE_TABLE, Sass};
use fidelon_source::{DiskFiles, Files as _, Span};
use indexmap::IndexMap;
use serde::Deserialize;
use toml::Spanned;

use crate::scene_builder::{self, Surrounding};
use crate::survey::{in_file, shown, tidy};

/// The name of the file.
pub const FILE: &str = "fidelon.toml";

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
struct Written {
    #[serde(default)]
    alias: IndexMap<String, Spanned<String>>,
    #[serde(default)]
    around: Vec<WrittenAround>,
    #[serde(default)]
    exempt: Vec<WrittenExemption>,
    sass: Option<WrittenSass>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
struct WrittenSass {
    #[serde(default)]
    first: String,
    #[serde(default)]
    folders: Vec<Spanned<String>>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
struct WrittenExemption {
    law: Spanned<String>,
    #[serde(rename = "in")]
    folder: Spanned<String>,
    because: Spanned<String>,
    #[serde(default)]
    except: Vec<String>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
struct WrittenAround {
    #[serde(rename = "in")]
    folder: Option<Spanned<String>>,
    setup: Option<Spanned<OneOrMany>>,
    wrap: Option<Spanned<OneOrMany>>,
    styles: Option<Spanned<OneOrMany>>,
}

#[derive(Debug, Deserialize)]
#[serde(untagged, expecting = "a path, or a list of paths")]
enum OneOrMany {
    One(String),
    Many(Vec<String>),
}

/// Paths, each with the place of all.
fn list(written: Option<Spanned<OneOrMany>>) -> Vec<(String, Span)> {
    let Some(written) = written else { return Vec::new() };
    let at = span(&written);
    let many = match written.into_inner() {
        OneOrMany::One(one) => vec![one],
        OneOrMany::Many(many) => many,
    };
    many.into_iter().map(|path| (path, at)).collect()
}

fn span<T>(of: &Spanned<T>) -> Span {
    Span { start: of.span().start, end: of.span().end }
}

/// What stands around the components of a folder.
#[derive(Debug, Clone)]
pub struct FolderAround {
    folder: PathBuf,
    setup: Vec<(String, Span)>,
    wrap: Vec<(String, Span)>,
    styles: Vec<(String, Span)>,
}

/// A law that does not hold in a folder.
#[derive(Debug)]
pub struct FolderExemption {
    /// The folder or file.
    folder: PathBuf,
    /// As it is written.
    pub shown: String,
    /// What is exempted and why.
    pub exemption: Exemption,
    /// Whether it exempted anything in this run.
    used: AtomicBool,
}

impl FolderExemption {
    /// One that stands in no file: the law is not asked for.
    pub fn of_law(law: &str, because: &str) -> Self {
        let exemption = Exemption { law: law.to_owned(), except: Vec::new(), because: because.to_owned(), span: Span::default() };
        Self { folder: PathBuf::new(), shown: String::new(), exemption, used: AtomicBool::new(false) }
    }

    /// Takes note that it exempts something.
    pub fn mark(&self) {
        self.used.store(true, Ordering::Relaxed);
    }

    /// Whether it exempted anything.
    pub fn is_used(&self) -> bool {
        self.used.load(Ordering::Relaxed)
    }

    /// Whether a file lies in its folder.
    pub fn covers(&self, file: &Path) -> bool {
        file.starts_with(&self.folder)
    }
}

/// What a project's file says.
#[derive(Debug, Default)]
pub struct Settings {
    /// Laws that do not hold in folders, in the order of the file.
    pub exemptions: Vec<Arc<FolderExemption>>,
    /// What the project calls its own folders.
    pub aliases: Aliases,
    /// What stands around the components of folders, in the order of the file.
    pub around: Vec<FolderAround>,
    /// What is wrong with the file.
    pub faults: Vec<FileFault>,
    /// The file and its text.
    file: PathBuf,
    text: String,
}

impl Settings {
    /// What stands around components, with its names resolved. What is wrong with them comes beside it.
    pub(crate) fn surroundings(&self, root: &Path) -> (Vec<Surrounding>, Vec<FileFault>) {
        let mut faults = Vec::new();
        let mut out = Vec::new();
        for around in &self.around {
            let (surrounding, wrong) = scene_builder::surrounding(root, &self.file, &self.aliases, around);
            let file = shown(&self.file, root);
            faults.extend(wrong.into_iter().map(|fault| in_file(&file, &self.text, fault)));
            out.push(surrounding);
        }
        (out, faults)
    }

    /// Puts it around a scene.
    ///
    /// # Errors
    /// What is wrong with the names in the file.
    pub(crate) fn surround(&self, root: &Path, scene: &mut Scene) -> Result<(), String> {
        let (all, faults) = self.surroundings(root);
        let file = scene.parts.first().map(|p| root.join(&p.surface.file)).unwrap_or_default();
        all.iter().rev().for_each(|s| s.put_around(scene, &file));
        faults.first().map_or(Ok(()), |f| Err(format!("{}: {}", f.place, f.fault.message)))
    }

    /// The text of the first fault, for commands that go no further than that.
    ///
    /// # Errors
    /// That text.
    pub(crate) fn sound(&self) -> Result<(), String> {
        self.faults.first().map_or(Ok(()), |f| Err(format!("{}: {}", f.place, f.fault.message)))
    }
}

impl FolderAround {
    pub(crate) fn folder(&self) -> &Path {
        &self.folder
    }

    /// The set-up modules, the wrappers and the stylesheets, as they are written.
    pub(crate) fn written(&self) -> [&[(String, Span)]; 3] {
        [&self.setup, &self.wrap, &self.styles]
    }
}

/// Reads the file of the root, or the nearest one above it; no file is no fault. Where packages are kept packed is known without one.
pub fn read(root: &Path) -> Settings {
    let mut out = written(root);
    out.aliases.packed = root.ancestors().find(|folder| folder.join(PACKAGE_TABLE).is_file()).map(Path::to_path_buf);
    out
}

fn written(root: &Path) -> Settings {
    let found = root.ancestors().map(|folder| folder.join(FILE)).find(|file| file.is_file());
    let Some(path) = found else { return Settings::default() };
    let shown = shown(&path, root);
    let folder = path.parent().unwrap_or(root);
    match DiskFiles.read(&path) {
        Ok(text) => {
            let read = parse(&text, &shown, folder);
            Settings { file: path, text, ..read }
        }
        Err(error) => {
            let fault = in_file(&shown, "", Fault::new(Span { start: 0, end: 0 }, format!("it cannot be read: {error}")));
            Settings { faults: vec![fault], ..Settings::default() }
        }
    }
}

fn parse(text: &str, file: &str, folder: &Path) -> Settings {
    let written: Written = match toml::from_str(text) {
        Ok(written) => written,
        Err(error) => {
            let at = error.span().unwrap_or(0..0);
            let fault = Fault::new(Span { start: at.start, end: at.end }, error.message().trim().to_owned()).help(
                "it takes `[alias]`, `[sass]` (first, folders), `[[around]]` (in, setup, wrap, styles) and `[[exempt]]` (law, in, because): see docs/project.md",
            );
            return Settings { faults: vec![in_file(file, text, fault)], ..Settings::default() };
        }
    };
    let mut out = Settings::default();
    for (name, path) in written.alias {
        let target = tidy(&folder.join(path.get_ref()));
        if name.is_empty() || name.starts_with(['.', '/']) {
            let told = format!("`{name}` cannot stand for a folder: write a name as `@studio`");
            out.faults.push(in_file(file, text, Fault::new(span(&path), told)));
        } else if name.ends_with('*') && target.is_dir() {
            let told = format!("`{name}` stands for one file, and this is a folder: for a folder leave out `/*`");
            out.faults.push(in_file(file, text, Fault::new(span(&path), told)));
        } else if target.exists() {
            out.aliases.named.push((name, target));
        } else {
            out.faults.push(in_file(file, text, Fault::new(span(&path), "there is no such file or folder beside this file")));
        }
    }
    if let Some(sass) = written.sass {
        // What stands first names files by their way from here.
        out.aliases.sass = Sass { first: sass.first, folders: vec![folder.to_path_buf()] };
        for path in sass.folders {
            let target = tidy(&folder.join(path.get_ref()));
            if target.is_dir() {
                out.aliases.sass.folders.push(target);
            } else {
                out.faults.push(in_file(file, text, Fault::new(span(&path), "there is no such folder beside this file")));
            }
        }
    }
    for one in written.around {
        let within = one.folder.as_ref().map_or_else(|| folder.to_path_buf(), |f| tidy(&folder.join(f.get_ref())));
        if let Some(given) = one.folder.as_ref().filter(|_| !within.exists()) {
            out.faults.push(in_file(file, text, Fault::new(span(given), "there is no such file or folder beside this file")));
            continue;
        }
        out.around.push(FolderAround { folder: within, setup: list(one.setup), wrap: list(one.wrap), styles: list(one.styles) });
    }
    for one in written.exempt {
        let mut wrong = |fault: Fault| out.faults.push(in_file(file, text, fault));
        let names: Vec<&str> = laws::names().collect();
        let law = one.law.get_ref().clone();
        let place = tidy(&folder.join(one.folder.get_ref()));
        if !names.contains(&law.as_str()) {
            wrong(Fault::unknown(span(&one.law), "law", &law, &names));
        } else if one.because.get_ref().trim().is_empty() {
            wrong(Fault::new(span(&one.because), format!("`because` is empty: why does `{law}` not hold there?")));
        } else if !place.starts_with(folder) {
            wrong(Fault::new(span(&one.folder), "it lies outside the folder of this file"));
        } else if !place.exists() {
            wrong(Fault::new(span(&one.folder), "there is no such file or folder beside this file"));
        } else {
            let exemption = Exemption { law, except: one.except, because: one.because.get_ref().clone(), span: span(&one.law) };
            let shown = one.folder.into_inner();
            out.exemptions.push(Arc::new(FolderExemption { folder: place, shown, exemption, used: AtomicBool::new(false) }));
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn faults_are_told_with_their_place() {
        let folder = tempfile::tempdir().expect("made");
        std::fs::create_dir(folder.path().join("legacy")).expect("made");
        let told = |text: &str| {
            let read = parse(text, FILE, folder.path());
            (read.exemptions.len(), read.faults.iter().map(|f| format!("{} {}", f.place, f.fault.message)).collect::<Vec<_>>())
        };
        let good = "[[exempt]]\nlaw = \"prop/live\"\nin = \"legacy\"\nbecause = \"old\"\n";
        assert_eq!(told(good), (1, Vec::new()));
        let read = parse(good, FILE, folder.path());
        assert!(
            read.exemptions[0].covers(&folder.path().join("legacy/Dial.vue"))
                && !read.exemptions[0].covers(&folder.path().join("new/Dial.vue"))
        );
        let (count, faults) = told(&good.replace("prop/live", "prop/life"));
        assert!(count == 0 && faults[0].starts_with("fidelon.toml:2:7 ") && faults[0].contains("prop/life"), "{faults:?}");
        let (_, faults) = told(&good.replace("legacy", "../.."));
        assert!(faults[0].contains("outside"), "{faults:?}");
        let (_, faults) = told(&good.replace("legacy", "gone"));
        assert!(faults[0].starts_with("fidelon.toml:3:6 "), "{faults:?}");
        let (_, faults) = told(&good.replace("because = \"old\"\n", ""));
        assert!(faults[0].contains("because"), "{faults:?}");
        let (_, faults) = told("exempt = 1");
        assert_eq!(faults.len(), 1, "{faults:?}");
        assert_eq!(told(""), (0, Vec::new()));
    }
}

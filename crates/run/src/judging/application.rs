//! Components that a package gives to all templates of an application, by a plugin that the application uses: a tag that names one is no fault of
//! the component which writes it.

use std::cell::{OnceCell, RefCell};
use std::collections::{BTreeSet, HashMap};
use std::path::Path;

use fidelon_core::judge::laws::Application;
use fidelon_core::judge::missing;
use fidelon_core::judge::warnings::{self, Kind};
use fidelon_core::observation::Tone;
use fidelon_core::surface::Surface;
use fidelon_reader::words;
use fidelon_source::{Bounds, Files as _, ProjectFiles};
use serde_json::Value as Json;

use crate::caching_runner::CachingRunner;

/// What is known of the application that a component is of.
#[derive(Debug)]
pub(super) struct ProjectApplication<'a> {
    surface: &'a Surface,
    root: &'a Path,
    /// What files of the project, and what its own source writes with a capital, are called; small letters alone.
    names: OnceCell<BTreeSet<String>>,
    /// What was found out about names that warnings were about.
    known: RefCell<HashMap<String, bool>>,
}

impl<'a> ProjectApplication<'a> {
    pub(super) fn new(surface: &'a Surface, root: &'a Path) -> Self {
        Self { surface, root, names: OnceCell::new(), known: RefCell::default() }
    }

    fn names(&self) -> &BTreeSet<String> {
        self.names.get_or_init(|| {
            let files = fidelon_reader::components_in(self.root, fidelon_reader::may_declare_components);
            let mut names: BTreeSet<String> =
                files.iter().filter_map(|path| path.file_name()?.to_str()?.split('.').next()).map(plain).collect();
            let source = ProjectFiles(Bounds::of(&[self.root])).read(&self.root.join(&self.surface.file)).unwrap_or_default();
            let script: String = fidelon_reader::sfc::blocks(&source).scripts.iter().map(|s| &source[s.at.clone()]).collect();
            names.extend(script.split(|c| !words::is_part(c)).filter(|word| word.starts_with(char::is_uppercase)).map(plain));
            names
        })
    }

    /// Whether a package that the project depends on, and that is made for the framework, knows a component of this name.
    fn is_of_a_package(&self, name: &str) -> bool {
        let files = ProjectFiles(Bounds::of(&[self.root]));
        let json = |path: &Path| serde_json::from_str::<Json>(&files.read(path).ok()?).ok();
        let file = self.root.join(&self.surface.file);
        let above: Vec<&Path> = file.ancestors().skip(1).take_while(|folder| folder.starts_with(self.root)).collect();
        let Some(own) = above.iter().find_map(|folder| json(&folder.join("package.json"))) else { return false };
        let named = |package: &Json, kinds: &[&str]| -> BTreeSet<String> {
            kinds.iter().filter_map(|kind| package[*kind].as_object()).flatten().map(|(name, _)| name.clone()).collect()
        };
        let names = [name.to_owned(), pascal(name)];
        named(&own, &["dependencies", "peerDependencies", "devDependencies"]).iter().any(|package| {
            let Some(folder) = above.iter().map(|f| f.join("node_modules").join(package)).find(|f| f.is_dir()) else { return false };
            let Some(said) = json(&folder.join("package.json")) else { return false };
            let is_for_it = named(&said, &["dependencies", "peerDependencies"]).contains("vue");
            let entries = [&said["types"], &said["typings"], &said["exports"]["."]["types"], &said["module"], &said["main"]];
            let mut entries = entries.into_iter().filter_map(Json::as_str);
            is_for_it
                && entries.any(|entry| files.read(&folder.join(entry)).is_ok_and(|text| names.iter().any(|name| words::has(&text, name))))
        })
    }

    /// What it misses of the application, of all that was played.
    pub(super) fn notes(&self, runs: &CachingRunner<'_>) -> Vec<String> {
        let notes = runs.seen().flat_map(|o| &o.phases).flat_map(|p| &p.notes).filter(|n| n.tone == Tone::Warned);
        let named = notes.filter_map(|note| warnings::read(&note.text)).filter(|w| w.kind == Kind::UnknownElement).filter_map(|w| w.of);
        let names: BTreeSet<String> = named.filter(|name| self.registers(name)).collect();
        let note = |name: &String| {
            format!(
                "it misses something around it: `{name}`, which a package gives to the templates of an application ({})",
                missing::SETUP
            )
        };
        names.iter().map(note).collect()
    }
}

impl Application for ProjectApplication<'_> {
    fn registers(&self, name: &str) -> bool {
        *self.known.borrow_mut().entry(name.to_owned()).or_insert_with(|| self.is_given(name))
    }
}

impl ProjectApplication<'_> {
    /// A name of two words or with a capital, as components have, that a package of the project knows, and that nothing in the project is called,
    /// nor anything much like it.
    fn is_given(&self, name: &str) -> bool {
        let is_component = !self.root.as_os_str().is_empty() && (name.contains('-') || name.starts_with(char::is_uppercase));
        let wanted = plain(name);
        let slip = if wanted.len() > 6 { 2 } else { 1 };
        is_component && self.is_of_a_package(name) && !self.names().iter().any(|known| strsim::levenshtein(known, &wanted) <= slip)
    }
}

/// `RouterLink` of `router-link`.
fn pascal(name: &str) -> String {
    let upper = |word: &str| word.chars().next().map(|c| c.to_uppercase().chain(word.chars().skip(1)).collect::<String>());
    name.split('-').filter_map(upper).collect()
}

/// A name in small letters without what stands between its words: `kiln-dial` and `KilnDial` are one.
fn plain(name: &str) -> String {
    name.chars().filter(|c| c.is_alphanumeric()).flat_map(char::to_lowercase).collect()
}

//! What is open in the editor, and what is known of it.

use std::collections::{BTreeMap, HashMap};
use std::path::{Path, PathBuf};
use std::str::FromStr as _;
use std::sync::Arc;

use fidelon_core::Surface;
use fidelon_core::results::{Component, Results};
use fidelon_run::survey::{CONTRACT, Survey, shown};
use fidelon_source::unsaved::Unsaved;
use fidelon_source::{DiskFiles, Files as _};
use lsp_types::Uri;
use url::Url;

use crate::looking::component_of;
use crate::text::{Columns, Text};

/// A file that is open.
pub(crate) struct Document {
    /// As the client names it.
    pub(crate) uri: Uri,
    /// Its real path.
    pub(crate) path: PathBuf,
    pub(crate) text: Text,
    pub(crate) version: i32,
}

impl Document {
    pub(crate) fn is_contract(&self) -> bool {
        self.path.to_string_lossy().ends_with(CONTRACT)
    }
}

/// What is known of a project.
#[derive(Default)]
pub(crate) struct Known {
    pub(crate) survey: Survey,
    pub(crate) results: Results,
    /// What nodes of components are called.
    pub(crate) nodes: HashMap<String, Vec<String>>,
}

impl Known {
    /// The components of a file, with what they declare.
    pub(crate) fn surfaces_in<'a>(&'a self, file: &'a str) -> impl Iterator<Item = &'a Surface> {
        let all = self.survey.jobs.iter().map(|job| &job.surface).filter(move |surface| surface.file == file);
        let mut seen: Vec<&str> = Vec::new();
        all.filter(move |surface| {
            !seen.contains(&surface.export.as_str()) && {
                seen.push(&surface.export);
                true
            }
        })
    }

    /// The components that a contract is of, with what they declare.
    pub(crate) fn surfaces_under<'a>(&'a self, contract: &'a str) -> impl Iterator<Item = &'a Surface> {
        let of = move |index: Option<usize>| index.and_then(|index| self.survey.contracts.get(index)).is_some_and(|c| c.file == contract);
        self.survey.jobs.iter().filter(move |job| of(job.contract)).flat_map(|job| job.scene.parts.iter().map(|part| &part.surface))
    }

    /// The contract of a component, relative to the root.
    pub(crate) fn contract_of(&self, component: &str) -> Option<&str> {
        let job = self.survey.jobs.iter().find(|job| component_of(&job.surface) == component && job.contract.is_some())?;
        Some(&self.survey.contracts.get(job.contract?)?.file)
    }

    /// What was found of a component.
    pub(crate) fn judged(&self, component: &str) -> Option<&Component> {
        self.results.components.iter().find(|c| c.component == component)
    }
}

/// All that the server knows.
#[derive(Default)]
pub(crate) struct State {
    pub(crate) columns: Columns,
    /// The folders of the workspace, real paths.
    pub(crate) folders: Vec<PathBuf>,
    pub(crate) documents: BTreeMap<String, Document>,
    /// By the project's folder.
    pub(crate) known: BTreeMap<PathBuf, Known>,
}

impl State {
    pub(crate) fn document(&self, uri: &Uri) -> Option<&Document> {
        self.documents.get(uri.as_str())
    }

    /// The folder of the workspace that a file lies in, the innermost; else its own.
    pub(crate) fn root_of(&self, path: &Path) -> PathBuf {
        let within = self.folders.iter().filter(|folder| path.starts_with(folder)).max_by_key(|folder| folder.as_os_str().len());
        let own = || path.parent().unwrap_or(path).to_path_buf();
        within.cloned().unwrap_or_else(own)
    }

    /// What is known of the project that a document lies in, and what the document is called there.
    pub(crate) fn around(&self, document: &Document) -> Option<(&Path, &Known, String)> {
        let root = self.root_of(&document.path);
        let (root, known) = self.known.get_key_value(&root)?;
        Some((root, known, shown(&document.path, root)))
    }

    /// The open files of a project that can be judged.
    pub(crate) fn open_in(&self, root: &Path) -> Vec<PathBuf> {
        let of_root = self.documents.values().filter(|d| self.root_of(&d.path) == root && d.path.is_file());
        let mut out: Vec<PathBuf> = of_root.filter(|d| d.is_contract() || is_source(&d.path)).map(|d| d.path.clone()).collect();
        out.sort();
        out.dedup();
        out
    }

    /// The texts that stand before files of the disk.
    pub(crate) fn unsaved(&self) -> Arc<Unsaved> {
        Arc::new(self.documents.values().map(|d| (d.path.clone(), d.text.shared())).collect())
    }

    /// The text of a file: as it is typed, else as it lies on the disk.
    pub(crate) fn text_of(&self, path: &Path) -> Text {
        let open = self.documents.values().find(|d| d.path == path);
        open.map_or_else(|| Text::new(&DiskFiles.read(path).unwrap_or_default(), self.columns), |d| d.text.clone())
    }

    /// The name of a file for the client: as it named the file itself, where it did.
    pub(crate) fn uri_of(&self, path: &Path) -> Option<Uri> {
        self.documents.values().find(|d| d.path == path).map(|d| d.uri.clone()).or_else(|| uri_of(path))
    }
}

/// Whether a file may hold components.
fn is_source(path: &Path) -> bool {
    fidelon_run::survey::holds_components(path)
}

/// The path of a document, with links followed. One that is no file of the disk has none.
pub(crate) fn path_of(uri: &Uri) -> Option<PathBuf> {
    let path = Url::parse(uri.as_str()).ok().filter(|url| url.scheme() == "file")?.to_file_path().ok()?;
    Some(path.canonicalize().unwrap_or(path))
}

/// A path as the protocol names it.
pub(crate) fn uri_of(path: &Path) -> Option<Uri> {
    Uri::from_str(Url::from_file_path(path).ok()?.as_str()).ok()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_file_lies_in_the_innermost_folder_of_the_workspace() {
        let state = State { folders: ["/studio", "/studio/kiln"].map(PathBuf::from).into(), ..State::default() };
        assert_eq!(state.root_of(Path::new("/studio/kiln/vue/Dial.vue")), Path::new("/studio/kiln"));
        assert_eq!(state.root_of(Path::new("/studio/shelf/Card.vue")), Path::new("/studio"));
        assert_eq!(state.root_of(Path::new("/elsewhere/Card.vue")), Path::new("/elsewhere"));
    }

    #[test]
    fn names_of_files_come_back_as_paths() {
        let folder = tempfile::tempdir().expect("made");
        let path = folder.path().canonicalize().expect("there").join("drying shelf #1 ö.vue");
        std::fs::write(&path, "").expect("written");
        assert_eq!(uri_of(&path).as_ref().and_then(path_of), Some(path));
        assert_eq!(Uri::from_str("untitled:Untitled-1").ok().as_ref().and_then(path_of), None);
    }
}

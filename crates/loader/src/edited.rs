//! Files that are tried with other texts than on the disk: unsaved ones, and those with a fault in them. Nothing of them is kept.

use std::collections::BTreeMap;
use std::path::Path;

use fidelon_source::{DiskFiles, FileError, Files as _};

use crate::cache::Cache;
use crate::loader::Loader;

impl Loader {
    /// From now on these files have other texts than on the disk, by path. What was made from other files stays loaded.
    pub fn edit(&mut self, edits: BTreeMap<String, String>) {
        let before = std::mem::replace(&mut self.edits, edits);
        let edits = &self.edits;
        self.loaded.retain(|_, module| !module.reads.iter().any(|(file, _)| before.contains_key(file) || edits.contains_key(file)));
    }

    /// Whether something is made from a file with another text than on the disk: nothing of it is kept, nor is what was kept of it good.
    pub(crate) fn is_edited(&self, path: &str, reads: &[(String, String)]) -> bool {
        !self.edits.is_empty() && (self.edits.contains_key(path) || reads.iter().any(|(file, _)| self.edits.contains_key(file)))
    }

    pub(crate) fn text(&self, path: &str) -> Result<String, FileError> {
        self.edits.get(path).map_or_else(|| DiskFiles.read(Path::new(path)), |text| Ok(text.clone()))
    }

    /// What Vue scopes a component's styles by: the same on every machine. It follows from the text on the disk: what the component shows with another one is compared.
    pub(crate) fn scope_id(&self, path: &str, source: &str) -> String {
        let on_disk = self.edits.get(path).and_then(|_| DiskFiles.read(Path::new(path)).ok());
        Cache::hash(on_disk.as_deref().unwrap_or(source).as_bytes())[..8].to_owned()
    }
}

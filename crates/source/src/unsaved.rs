//! Texts that somebody is typing: what an editor holds stands before what the disk has, until it is saved or thrown away. They are of the
//! whole process, as the disk is.

use std::collections::BTreeMap;
use std::path::{Path, PathBuf};
use std::sync::{Arc, PoisonError, RwLock};

/// Texts by absolute path.
pub type Unsaved = BTreeMap<PathBuf, Arc<str>>;

static TEXTS: RwLock<Option<Arc<Unsaved>>> = RwLock::new(None);

/// From now on these are the texts, and no others.
pub fn hold(texts: Arc<Unsaved>) {
    *TEXTS.write().unwrap_or_else(PoisonError::into_inner) = (!texts.is_empty()).then_some(texts);
}

/// All that are held.
pub fn held() -> Arc<Unsaved> {
    TEXTS.read().unwrap_or_else(PoisonError::into_inner).clone().unwrap_or_default()
}

/// The text that stands before a file.
pub fn text_of(path: &Path) -> Option<Arc<str>> {
    TEXTS.read().unwrap_or_else(PoisonError::into_inner).as_ref()?.get(path).cloned()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{DiskFiles, Files as _, bytes_of};

    #[test]
    fn what_is_typed_stands_before_the_disk_until_it_is_thrown_away() {
        let folder = tempfile::tempdir().expect("made");
        let path = folder.path().join("Dial.vue");
        std::fs::write(&path, "saved").expect("written");
        hold(Arc::new(Unsaved::from([(path.clone(), Arc::from("\u{feff}typed"))])));
        assert_eq!(DiskFiles.read(&path), Ok("typed".into()));
        assert_eq!(bytes_of(&path).expect("there"), "\u{feff}typed".as_bytes());
        hold(Arc::default());
        assert_eq!(DiskFiles.read(&path), Ok("saved".into()));
    }
}

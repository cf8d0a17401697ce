//! What a request names: folders, files, single components of a file (`file#export`).

use std::collections::{BTreeMap, BTreeSet};
use std::path::{Path, PathBuf};

use fidelon_core::Surface;

use crate::survey::{SurveyError, shown, tidy};

/// Paths as they were given, with the exports that were asked for.
#[derive(Debug, Clone, Default)]
pub(crate) struct Selection {
    /// Folders and files, without exports.
    pub paths: Vec<PathBuf>,
    /// The exports asked for, by file relative to the root. A file that is given whole, too, is not among them.
    exports: BTreeMap<String, BTreeSet<String>>,
}

impl Selection {
    /// Reads the paths of a request.
    pub(crate) fn new(root: &Path, given: &[PathBuf]) -> Self {
        let mut out = Self::default();
        let mut whole = BTreeSet::new();
        for path in given {
            match parts(root, path) {
                Some((file, export)) => {
                    out.exports.entry(shown(&tidy(&root.join(&file)), root)).or_default().insert(export);
                    out.paths.push(file);
                }
                None => {
                    whole.insert(shown(&tidy(&root.join(path)), root));
                    out.paths.push(path.clone());
                }
            }
        }
        out.exports.retain(|file, _| !whole.contains(file));
        out
    }

    /// Whether a component is among what was asked for.
    pub(crate) fn holds(&self, surface: &Surface) -> bool {
        self.exports.get(&surface.file).is_none_or(|names| names.contains(&surface.export))
    }

    /// Checks that each export is there. A file that cannot be read has none: that is told elsewhere.
    ///
    /// # Errors
    /// [`SurveyError::NoExport`] names those that are.
    pub(crate) fn check<'a>(&self, surfaces: impl Iterator<Item = &'a Surface> + Clone) -> Result<(), SurveyError> {
        for (file, names) in &self.exports {
            let known: BTreeSet<&str> = surfaces.clone().filter(|s| s.file == *file).map(|s| s.export.as_str()).collect();
            if let Some(missing) = names.iter().find(|n| !known.contains(n.as_str())).filter(|_| !known.is_empty()) {
                let known = known.into_iter().collect::<Vec<_>>().join("`, `");
                return Err(SurveyError::NoExport { file: file.clone(), export: missing.clone(), known });
            }
        }
        Ok(())
    }
}

/// File and export, unless there is a file of just that name.
fn parts(root: &Path, path: &Path) -> Option<(PathBuf, String)> {
    let (file, export) = path.to_str()?.rsplit_once('#')?;
    (!root.join(path).exists() && root.join(file).is_file()).then(|| (PathBuf::from(file), export.to_owned()))
}

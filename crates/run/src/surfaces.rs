//! What components declare, read by all processors at once, and kept from run to run by content.

use std::cell::RefCell;
use std::collections::{BTreeMap, HashMap};
use std::path::{Path, PathBuf};
use std::sync::Mutex;
use std::sync::atomic::{AtomicUsize, Ordering};

use fidelon_core::Surface;
use fidelon_core::results::FileFault;
use fidelon_loader::{Cache, Resolvers};
use fidelon_reader::Imports;
use fidelon_source::{DiskFiles, FileError, Files};
use serde::{Deserialize, Serialize};

use crate::survey::{SurveyError, components_below, shown, whole_file};

/// What the packages and aliases of a project declare.
#[derive(Default)]
struct ProjectTypes(Resolvers);

impl Imports for ProjectTypes {
    fn types(&self, from: &Path, specifier: &str) -> Option<PathBuf> {
        self.0.types(&from.to_string_lossy(), specifier).map(PathBuf::from)
    }

    fn jsx(&self, path: &Path, source: &str) -> String {
        fidelon_loader::jsx::import_source(path, source, &self.0)
    }
}

/// Files of the disk, and which of them were read.
#[derive(Default)]
struct Noted(RefCell<Vec<PathBuf>>);

impl Files for Noted {
    fn read(&self, path: &Path) -> Result<String, FileError> {
        self.0.borrow_mut().push(path.to_path_buf());
        DiskFiles.read(path)
    }

    fn is_file(&self, path: &Path) -> bool {
        DiskFiles.is_file(path)
    }
}

/// The surfaces of the components in a file, or why it cannot be read.
pub(crate) type Read = Result<Vec<Surface>, String>;

/// The surfaces of the components in a file.
///
/// # Errors
/// Why the file cannot be read.
pub fn surfaces_of(path: &Path, root: &Path) -> Read {
    fidelon_reader::surfaces(&DiskFiles, &ProjectTypes::default(), path, &shown(path, root))
}

/// The same for many files.
pub(crate) fn surfaces_of_all(paths: &[PathBuf], root: &Path) -> HashMap<PathBuf, Read> {
    let read = at_once(paths, |types, path| fidelon_reader::surfaces(&DiskFiles, types, path, &shown(path, root)));
    paths.iter().cloned().zip(read).collect()
}

/// Does the same work for each, on all processors; gives the answers in the order of what was asked.
fn at_once<T: Send>(paths: &[PathBuf], work: impl Fn(&ProjectTypes, &Path) -> T + Sync) -> Vec<T> {
    /// So many files are worth a thread.
    const SHARE: usize = 16;
    let threads = std::thread::available_parallelism().map_or(1, usize::from).min(paths.len().div_ceil(SHARE)).max(1);
    let next = AtomicUsize::new(0);
    let done: Mutex<Vec<Option<T>>> = Mutex::new((0..paths.len()).map(|_| None).collect());
    let take = || {
        let types = ProjectTypes::default();
        loop {
            let index = next.fetch_add(1, Ordering::Relaxed);
            let Some(path) = paths.get(index) else { break };
            let answer = work(&types, path);
            if let Ok(mut done) = done.lock() {
                done[index] = Some(answer);
            }
        }
    };
    std::thread::scope(|scope| {
        for _ in 1..threads {
            scope.spawn(take);
        }
        take();
    });
    done.into_inner().unwrap_or_default().into_iter().flatten().collect()
}

/// What is kept of a file.
#[derive(Serialize, Deserialize)]
struct Entry {
    /// The content that it was read from, and that of the other files that were.
    content: String,
    reads: Vec<(String, String)>,
    /// Whose JSX it was taken for.
    jsx: Option<String>,
    surfaces: Vec<Surface>,
}

/// What was read of a file, with what is to be kept of it where that is new.
type Fresh = (Option<(String, Entry)>, Vec<Surface>);

/// The components below some paths, and what is wrong with files.
#[derive(Debug, Clone, Default)]
pub struct Listed {
    /// By path.
    pub surfaces: Vec<Surface>,
    /// Files that cannot be read.
    pub faults: Vec<FileFault>,
}

/// What the components below `paths` declare.
///
/// # Errors
/// [`SurveyError`] when a path cannot be used.
pub fn list(root: &Path, paths: &[PathBuf], cache: &Cache) -> Result<Listed, SurveyError> {
    let files: Vec<PathBuf> = components_below(root, paths)?.0.into_iter().collect();
    let key = Cache::key(&[b"surfaces", root.to_string_lossy().as_bytes()]);
    let kept: BTreeMap<String, Entry> = cache.get(&key).and_then(|bytes| serde_json::from_slice(&bytes).ok()).unwrap_or_default();
    let hashes: Mutex<HashMap<String, Option<String>>> = Mutex::default();
    let read = at_once(&files, |types, path| -> Result<Fresh, String> {
        let file = shown(path, root);
        let source = DiskFiles.read(path).map_err(|e| e.to_string())?;
        let content = Cache::hash(source.as_bytes());
        let jsx = path.extension().is_some_and(|e| e == "tsx" || e == "jsx").then(|| types.jsx(path, &source));
        let same = |entry: &&Entry| {
            entry.content == content && entry.jsx == jsx && entry.reads.iter().all(|(f, h)| hash_of(f, &hashes).as_ref() == Some(h))
        };
        if let Some(entry) = kept.get(&file).filter(same) {
            return Ok((None, entry.surfaces.clone()));
        }
        let noted = Noted::default();
        let surfaces = fidelon_reader::surfaces(&noted, types, path, &file)?;
        let others = noted.0.into_inner().into_iter().filter(|other| other != path);
        let reads = others
            .filter_map(|f| {
                let f = f.to_string_lossy().into_owned();
                hash_of(&f, &hashes).map(|h| (f, h))
            })
            .collect();
        Ok((Some((file, Entry { content, reads, jsx, surfaces: surfaces.clone() })), surfaces))
    });
    let mut out = Listed::default();
    let mut kept = kept;
    let mut changed = false;
    for (path, read) in files.iter().zip(read) {
        match read {
            Ok((entry, surfaces)) => {
                changed |= entry.is_some();
                kept.extend(entry);
                out.surfaces.extend(surfaces);
            }
            Err(message) => out.faults.push(whole_file(&shown(path, root), &message)),
        }
    }
    kept.retain(|file, _| !changed || root.join(file).is_file());
    if changed && let Ok(json) = serde_json::to_vec(&kept) {
        cache.put(&key, &json);
    }
    Ok(out)
}

/// The hash of a file, taken once a run.
fn hash_of(file: &str, hashes: &Mutex<HashMap<String, Option<String>>>) -> Option<String> {
    if let Some(known) = hashes.lock().ok().and_then(|h| h.get(file).cloned()) {
        return known;
    }
    let hash = std::fs::read(file).ok().map(|bytes| Cache::hash(&bytes));
    if let Ok(mut hashes) = hashes.lock() {
        hashes.insert(file.to_owned(), hash.clone());
    }
    hash
}

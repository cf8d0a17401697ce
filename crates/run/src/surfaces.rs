//! What components declare, read by all processors at once, and kept from run to run by content.

use std::cell::RefCell;
use std::collections::{BTreeMap, HashMap};
use std::path::{Path, PathBuf};
use std::sync::Mutex;
use std::sync::atomic::{AtomicUsize, Ordering};

use fidelon_core::Surface;
use fidelon_core::results::FileFault;
use fidelon_loader::{Aliases, Cache, Importing, Resolvers};
use fidelon_reader::Imports;
use fidelon_reader::depth::STACK;
use fidelon_source::{Bounds, FileError, Files, ProjectFiles, bytes_of};
use serde::{Deserialize, Serialize};

use crate::selection::Selection;
use crate::survey::{SurveyError, components_below, shown, whole_file};
use crate::{results_cache, settings};

/// What the packages and aliases of a project declare.
pub(crate) struct ProjectTypes(Resolvers);

impl ProjectTypes {
    fn of(aliases: &Aliases) -> Self {
        Self(Resolvers::new(aliases))
    }
}

impl Imports for ProjectTypes {
    fn types(&self, from: &Path, specifier: &str) -> Option<PathBuf> {
        self.0.types(&from.to_string_lossy(), specifier).map(PathBuf::from)
    }

    fn code(&self, from: &Path, specifier: &str) -> Option<PathBuf> {
        self.0.resolve(&from.to_string_lossy(), specifier, Importing::Module).ok().map(PathBuf::from)
    }

    fn jsx(&self, path: &Path, source: &str) -> String {
        fidelon_loader::jsx::framework(path, source, &self.0)
    }
}

/// Files of a project, and which of them were read.
struct Noted<'a> {
    files: &'a ProjectFiles,
    read: RefCell<Vec<PathBuf>>,
}

impl Files for Noted<'_> {
    fn read(&self, path: &Path) -> Result<String, FileError> {
        self.read.borrow_mut().push(path.to_path_buf());
        self.files.read(path)
    }

    fn is_file(&self, path: &Path) -> bool {
        self.files.is_file(path)
    }
}

/// Files of a project, one of which may have another text than on the disk.
struct Edited<'a> {
    files: &'a ProjectFiles,
    edited: Option<(&'a Path, &'a str)>,
}

impl Files for Edited<'_> {
    fn read(&self, path: &Path) -> Result<String, FileError> {
        match self.edited {
            Some((edited, text)) if edited == path => Ok(text.to_owned()),
            _ => self.files.read(path),
        }
    }

    fn is_file(&self, path: &Path) -> bool {
        self.edited.is_some_and(|(edited, _)| edited == path) || self.files.is_file(path)
    }
}

/// The files that may be read for the components of these files.
pub(crate) fn files_of(root: &Path, files: &[&Path]) -> ProjectFiles {
    let mut folders: Vec<&Path> = files.iter().filter_map(|file| file.parent()).filter(|folder| !folder.starts_with(root)).collect();
    folders.sort();
    folders.dedup();
    folders.push(root);
    ProjectFiles(Bounds::of(&folders))
}

/// The surfaces of the components in a file, or why it cannot be read.
pub(crate) type Read = Result<Vec<Surface>, String>;

/// The surfaces of the components in a file.
///
/// # Errors
/// Why the file cannot be read.
pub fn surfaces_of(path: &Path, root: &Path) -> Read {
    surfaces_in(path, root, None)
}

/// The same, where the file's text is another one than on the disk.
///
/// # Errors
/// Why the file cannot be read.
pub fn surfaces_in(path: &Path, root: &Path, text: Option<&str>) -> Read {
    let own = || (ProjectTypes::of(&settings::read(root).aliases), files_of(root, &[path]));
    let read = at_once(&[path], own, |(types, files), path| {
        let files = Edited { files, edited: text.map(|text| (*path, text)) };
        fidelon_reader::surfaces(&files, types, path, &shown(path, root))
    });
    read.into_iter().next().unwrap_or_else(|| Err("it cannot be read".into()))
}

/// What reading the files of a project takes: what its imports mean, and its files.
pub(crate) fn own_files(root: &Path) -> (ProjectTypes, ProjectFiles) {
    (ProjectTypes::of(&settings::read(root).aliases), files_of(root, &[]))
}

/// Does the same work for each, on all processors, of which each has something of its own; gives the answers in the order of what was asked.
pub(crate) fn at_once<I: Sync, S, T: Send>(asked: &[I], own: impl Fn() -> S + Sync, work: impl Fn(&S, &I) -> T + Sync) -> Vec<T> {
    /// So many are worth a thread.
    const SHARE: usize = 16;
    let threads = std::thread::available_parallelism().map_or(1, usize::from).min(asked.len().div_ceil(SHARE)).max(1);
    let next = AtomicUsize::new(0);
    let done: Mutex<Vec<Option<T>>> = Mutex::new((0..asked.len()).map(|_| None).collect());
    let take = || {
        let own = own();
        loop {
            let index = next.fetch_add(1, Ordering::Relaxed);
            let Some(one) = asked.get(index) else { break };
            let answer = work(&own, one);
            if let Ok(mut done) = done.lock() {
                done[index] = Some(answer);
            }
        }
    };
    std::thread::scope(|scope| {
        // Sources may nest deep.
        let start = |_| std::thread::Builder::new().stack_size(STACK).spawn_scoped(scope, take).is_ok();
        // Where the system gives fewer threads, those that there are do the work.
        if (0..threads).filter(|n| start(*n)).count() == 0 {
            take();
        }
    });
    done.into_inner().unwrap_or_default().into_iter().flatten().collect()
}

/// What is kept of a file.
#[derive(Serialize, Deserialize)]
struct Entry {
    /// The content that it was read from, and that of the other files that were.
    content: String,
    /// A file that was not there has no hash.
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
    let selection = Selection::new(root, paths);
    let files: Vec<PathBuf> = components_below(root, &selection.paths)?.0.into_iter().collect();
    let mut read = surfaces_of_all(&files, root, cache);
    let mut out = Listed::default();
    for path in &files {
        match read.remove(path) {
            Some(Ok(surfaces)) => out.surfaces.extend(surfaces),
            Some(Err(message)) => out.faults.push(whole_file(&shown(path, root), &message)),
            None => {}
        }
    }
    selection.check(out.surfaces.iter())?;
    out.surfaces.retain(|surface| selection.holds(surface));
    Ok(out)
}

/// The surfaces of the components in many files, from what is kept where nothing was changed.
pub(crate) fn surfaces_of_all(files: &[PathBuf], root: &Path, cache: &Cache) -> HashMap<PathBuf, Read> {
    let aliases = settings::read(root).aliases;
    let key = Cache::key(&[b"surfaces", results_cache::program().as_bytes(), root.to_string_lossy().as_bytes(), aliases.key().as_bytes()]);
    let kept: BTreeMap<String, Entry> = cache.get(&key).and_then(|bytes| serde_json::from_slice(&bytes).ok()).unwrap_or_default();
    let hashes: Mutex<HashMap<String, Option<String>>> = Mutex::default();
    let paths: Vec<&Path> = files.iter().map(PathBuf::as_path).collect();
    let own = || (ProjectTypes::of(&aliases), files_of(root, &paths));
    let read = at_once(files, own, |(types, project), path| -> Result<Fresh, String> {
        let file = shown(path, root);
        let source = project.read(path).map_err(|e| e.to_string())?;
        let content = Cache::hash(source.as_bytes());
        let jsx = path.extension().is_some_and(|e| ["tsx", "jsx", "js", "mjs"].iter().any(|j| e == *j)).then(|| types.jsx(path, &source));
        let same = |entry: &&Entry| {
            entry.content == content && entry.jsx == jsx && entry.reads.iter().all(|(f, h)| hash_of(f, &hashes).unwrap_or_default() == *h)
        };
        if let Some(entry) = kept.get(&file).filter(same) {
            return Ok((None, entry.surfaces.clone()));
        }
        let noted = Noted { files: project, read: RefCell::default() };
        let surfaces = fidelon_reader::surfaces(&noted, types, path, &file)?;
        let others = noted.read.into_inner().into_iter().filter(|other| other != path);
        let reads = others
            .map(|f| {
                let f = f.to_string_lossy().into_owned();
                let hash = hash_of(&f, &hashes).unwrap_or_default();
                (f, hash)
            })
            .collect();
        Ok((Some((file, Entry { content, reads, jsx, surfaces: surfaces.clone() })), surfaces))
    });
    let mut out = HashMap::new();
    let mut kept = kept;
    let mut changed = false;
    for (path, read) in files.iter().zip(read) {
        let surfaces = read.map(|(entry, surfaces)| {
            changed |= entry.is_some();
            kept.extend(entry);
            surfaces
        });
        out.insert(path.clone(), surfaces);
    }
    kept.retain(|file, _| !changed || root.join(file).is_file());
    if changed && let Ok(json) = serde_json::to_vec(&kept) {
        cache.put(&key, &json);
    }
    out
}

/// The hash of a file, taken once a run.
fn hash_of(file: &str, hashes: &Mutex<HashMap<String, Option<String>>>) -> Option<String> {
    if let Some(known) = hashes.lock().ok().and_then(|h| h.get(file).cloned()) {
        return known;
    }
    let hash = bytes_of(Path::new(file)).ok().map(|bytes| Cache::hash(&bytes));
    if let Ok(mut hashes) = hashes.lock() {
        hashes.insert(file.to_owned(), hash.clone());
    }
    hash
}

//! Reading files, from the disk, from archives that packages lie in, or from memory.

use std::collections::BTreeMap;
use std::io;
use std::path::{Path, PathBuf};
use std::sync::LazyLock;

use pnp::fs::{FileType, LruZipCache, VPath, VPathInfo, ZipCache, open_zip_via_read_p};

use crate::{build_modules, unsaved};

/// Why a file could not be read.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum FileError {
    /// There is none.
    Missing,
    /// It is not UTF-8; the byte offset of the first bad byte.
    NotUtf8(usize),
    /// The system refused; its words.
    Refused(String),
}

impl std::fmt::Display for FileError {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        match self {
            Self::Missing => f.write_str("there is no such file"),
            Self::NotUtf8(at) => write!(f, "it is not UTF-8 text: byte {at} fits no character (save it as UTF-8)"),
            Self::Refused(why) => write!(f, "it cannot be read: {why}"),
        }
    }
}

impl std::error::Error for FileError {}

/// Where files come from.
pub trait Files {
    /// The text of a file. A byte order mark is taken off.
    ///
    /// # Errors
    /// [`FileError`] tells why there is no text.
    fn read(&self, path: &Path) -> Result<String, FileError>;
    /// True when there is a file of this name.
    fn is_file(&self, path: &Path) -> bool;
}

/// The real ones.
#[derive(Debug, Clone, Copy, Default)]
pub struct DiskFiles;

impl Files for DiskFiles {
    fn read(&self, path: &Path) -> Result<String, FileError> {
        let bytes = bytes_of(path).map_err(|e| match e.kind() {
            io::ErrorKind::NotFound | io::ErrorKind::NotADirectory => FileError::Missing,
            _ => FileError::Refused(e.to_string()),
        })?;
        text(bytes)
    }
    fn is_file(&self, path: &Path) -> bool {
        path.is_file()
            || match packed(path) {
                Some(VPath::Zip(at)) => ARCHIVES.file_type(at.physical_base_path(), &at.zip_path).is_ok_and(|t| t == FileType::File),
                Some(VPath::Virtual(at)) => at.physical_base_path().is_file(),
                _ => false,
            }
    }
}

/// The bytes of a file on the disk. One that is named within an archive, as Yarn names what it keeps packed
/// (`…/vue.zip/node_modules/vue/index.js`, also behind a `__virtual__` folder), is read out of it.
///
/// # Errors
/// What the system said, or that the archive has no such file.
pub fn bytes_of(path: &Path) -> io::Result<Vec<u8>> {
    if let Some(text) = unsaved::text_of(path) {
        return Ok(text.as_bytes().to_vec());
    }
    match read_regular(path) {
        Err(error) if matches!(error.kind(), io::ErrorKind::NotFound | io::ErrorKind::NotADirectory) => match packed(path) {
            Some(VPath::Zip(at)) => ARCHIVES.read(at.physical_base_path(), &at.zip_path),
            Some(VPath::Virtual(at)) => read_regular(&at.physical_base_path()),
            _ => build_modules::text_of(path).map(String::into_bytes).ok_or(error),
        },
        read => read,
    }
}

/// Reads what is a file indeed: devices and pipes have no end, or none that ever comes.
fn read_regular(path: &Path) -> io::Result<Vec<u8>> {
    let what = std::fs::metadata(path)?;
    if !what.is_file() && !what.is_dir() {
        return Err(io::Error::other("it is no regular file"));
    }
    std::fs::read(path)
}

/// Where a file lies in truth: a virtual folder names any place above it, and an archive stands for the folder that it holds.
pub fn place_on_disk(path: &Path) -> PathBuf {
    match packed(path) {
        Some(VPath::Virtual(at)) => at.physical_base_path(),
        Some(VPath::Zip(at)) => at.physical_base_path().join(at.zip_path),
        _ => path.to_path_buf(),
    }
}

/// Archives that were opened, the ones used last.
static ARCHIVES: LazyLock<LruZipCache<Vec<u8>>> = LazyLock::new(|| LruZipCache::new(50, open_zip_via_read_p));

/// Where a path leads that no file of the disk has.
fn packed(path: &Path) -> Option<VPath> {
    let text = path.to_str()?;
    let may_be = text.contains(".zip/") || text.contains("/__virtual__/") || text.contains("/$$virtual/");
    may_be.then(|| VPath::from(path).ok()).flatten()
}

fn text(bytes: Vec<u8>) -> Result<String, FileError> {
    let text = String::from_utf8(bytes).map_err(|e| FileError::NotUtf8(e.utf8_error().valid_up_to()))?;
    Ok(match text.strip_prefix('\u{feff}') {
        Some(rest) => rest.to_owned(),
        None => text,
    })
}

/// Files that exist only in a test.
#[derive(Debug, Clone, Default)]
pub struct MemoryFiles(BTreeMap<PathBuf, Vec<u8>>);

impl MemoryFiles {
    /// Adds a file.
    #[must_use]
    pub fn with(mut self, path: &str, content: impl Into<Vec<u8>>) -> Self {
        self.0.insert(path.into(), content.into());
        self
    }
}

impl Files for MemoryFiles {
    fn read(&self, path: &Path) -> Result<String, FileError> {
        self.0.get(path).cloned().ok_or(FileError::Missing).and_then(text)
    }
    fn is_file(&self, path: &Path) -> bool {
        self.0.contains_key(path)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn text_is_utf8_without_its_mark() {
        let files = MemoryFiles::default().with("a", "\u{feff}x").with("b", [b'o', b'k', 0xff]);
        assert_eq!(files.read(Path::new("a")), Ok("x".into()));
        assert_eq!(files.read(Path::new("b")), Err(FileError::NotUtf8(2)));
        assert_eq!(files.read(Path::new("c")), Err(FileError::Missing));
    }
}

//! Reading files, from the disk or from memory.

use std::collections::BTreeMap;
use std::io;
use std::path::{Path, PathBuf};

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
        let bytes = std::fs::read(path).map_err(|e| match e.kind() {
            io::ErrorKind::NotFound => FileError::Missing,
            _ => FileError::Refused(e.to_string()),
        })?;
        text(bytes)
    }
    fn is_file(&self, path: &Path) -> bool {
        path.is_file()
    }
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

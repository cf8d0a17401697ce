//! What need not be made twice, on disk: transforms and bytecode, by content.
//!
//! An entry is a file named by the hash of all that it depends on. It is written whole and renamed, so two runs can share
//! a folder; it starts with a checksum, so a damaged one is made anew.

use std::path::{Path, PathBuf};
use std::sync::LazyLock;

/// A folder of entries; none when nothing is to be kept.
#[derive(Debug, Clone, Default)]
pub struct Cache {
    folder: Option<PathBuf>,
}

/// Part of every key: another version of this crate or of what it calls makes other entries.
const VERSION: &str = concat!("fidelon-loader ", env!("CARGO_PKG_VERSION"), " oxc 0.146.0 quickjs-ng 0.16");

/// What makes the entries: whoever changes it finds none of those that it made before.
const MAKERS: [&str; 16] = [
    include_str!("angular/mod.rs"),
    include_str!("asset.rs"),
    include_str!("auto_imports.rs"),
    include_str!("compile.rs"),
    include_str!("html.rs"),
    include_str!("jsx.rs"),
    include_str!("link.rs"),
    include_str!("loader.rs"),
    include_str!("maps.rs"),
    include_str!("script.rs"),
    include_str!("served.rs"),
    include_str!("styles.rs"),
    include_str!("cache.rs"),
    include_str!("../js/solid-compile.js"),
    include_str!("../js/svelte-compile.js"),
    include_str!("../js/vue-compile.js"),
];

/// The version and the hash of the makers.
static MADE_BY: LazyLock<[u8; 32]> = LazyLock::new(|| {
    let mut hasher = blake3::Hasher::new();
    hasher.update(VERSION.as_bytes());
    for maker in MAKERS {
        hasher.update(maker.as_bytes());
    }
    *hasher.finalize().as_bytes()
});

impl Cache {
    /// A cache in this folder; it is made when the first entry is.
    pub fn at(folder: PathBuf) -> Self {
        Self { folder: Some(folder) }
    }

    /// Keeps nothing.
    pub fn none() -> Self {
        Self::default()
    }

    /// Where it is.
    pub fn folder(&self) -> Option<&Path> {
        self.folder.as_deref()
    }

    /// The key of something that depends on these parts.
    pub fn key(parts: &[&[u8]]) -> String {
        let mut hasher = blake3::Hasher::new();
        hasher.update(&*MADE_BY);
        // Bytecode is of one kind of machine.
        hasher.update(std::env::consts::ARCH.as_bytes());
        for part in parts {
            hasher.update(&(part.len() as u64).to_le_bytes());
            hasher.update(part);
        }
        hasher.finalize().to_hex().to_string()
    }

    /// The hash of a content, for entries that list what they read.
    pub fn hash(content: &[u8]) -> String {
        blake3::hash(content).to_hex().to_string()
    }

    fn file(&self, key: &str) -> Option<PathBuf> {
        Some(self.folder.as_ref()?.join(&key[..2]).join(&key[2..]))
    }

    /// An entry, if it is there and whole.
    pub fn get(&self, key: &str) -> Option<Vec<u8>> {
        let mut bytes = std::fs::read(self.file(key)?).ok()?;
        if bytes.len() < 32 || sum(key, &bytes[32..]).as_bytes() != &bytes[..32] {
            return None;
        }
        bytes.drain(..32);
        Some(bytes)
    }

    /// Puts an entry. A full or read-only disk costs time, not the run.
    pub fn put(&self, key: &str, content: &[u8]) {
        let Some(file) = self.file(key) else { return };
        let _ = write_whole(&file, key, content);
    }
}

/// What an entry starts with. The key is in it: an entry that lies in the place of another is as good as none.
fn sum(key: &str, content: &[u8]) -> blake3::Hash {
    blake3::Hasher::new().update(key.as_bytes()).update(content).finalize()
}

fn write_whole(file: &Path, key: &str, content: &[u8]) -> std::io::Result<()> {
    use std::io::Write as _;
    let folder = file.parent().unwrap_or(Path::new("."));
    std::fs::create_dir_all(folder)?;
    let mut temporary = tempfile::NamedTempFile::new_in(folder)?;
    temporary.write_all(sum(key, content).as_bytes())?;
    temporary.write_all(content)?;
    temporary.persist(file).map_err(|e| e.error)?;
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn damaged_entries_are_as_good_as_none() {
        let folder = tempfile::tempdir().expect("a folder");
        let cache = Cache::at(folder.path().into());
        let key = Cache::key(&[b"a", b"b"]);
        assert_eq!(cache.get(&key), None);
        cache.put(&key, b"content");
        assert_eq!(cache.get(&key).as_deref(), Some(&b"content"[..]));
        let file = cache.file(&key).expect("has a folder");
        let mut bytes = std::fs::read(&file).expect("written");
        *bytes.last_mut().expect("not empty") ^= 1;
        std::fs::write(&file, &bytes).expect("damaged");
        assert_eq!(cache.get(&key), None);
        std::fs::write(&file, b"short").expect("cut");
        assert_eq!(cache.get(&key), None);
        cache.put(&key, b"again");
        assert_eq!(cache.get(&key).as_deref(), Some(&b"again"[..]));
        // A sound entry of another key.
        let other = Cache::key(&[b"c"]);
        cache.put(&other, b"other");
        std::fs::copy(cache.file(&other).expect("has a folder"), &file).expect("exchanged");
        assert_eq!(cache.get(&key), None);
    }

    #[test]
    fn keys_do_not_run_together() {
        assert_ne!(Cache::key(&[b"ab", b"c"]), Cache::key(&[b"a", b"bc"]));
    }
}

//! Files that are written whole: to a temporary one beside them, then renamed.

use std::fs::{self, File};
use std::io;
use std::path::Path;

use tempfile::NamedTempFile;

/// How temporary files begin and end: what a program that was killed has left is known by it.
const BEGINS: &str = ".fidelon-";
const ENDS: &str = ".tmp";

/// A temporary file in a folder, that becomes one of the user's: with the rights that their files have. It is locked as long as somebody
/// writes it, so that what lies there unlocked was left by a program that was killed, and is removed.
///
/// # Errors
/// When the folder cannot be written to.
pub fn temporary(folder: &Path) -> io::Result<NamedTempFile> {
    remove_left(folder);
    loop {
        let mut builder = tempfile::Builder::new();
        builder.prefix(BEGINS).suffix(ENDS);
        #[cfg(unix)]
        builder.permissions(std::os::unix::fs::PermissionsExt::from_mode(0o666));
        let file = builder.tempfile_in(folder)?;
        // A file system without locks has files all the same.
        let _ = file.as_file().lock();
        // Another program may have taken it for left in the moment before it was locked.
        if file.path().exists() {
            return Ok(file);
        }
    }
}

/// Removes what killed programs have left in a folder. What cannot be removed stays: it is in nobody's way.
fn remove_left(folder: &Path) {
    let is_ours = |name: &str| name.starts_with(BEGINS) && name.ends_with(ENDS);
    for entry in fs::read_dir(folder).into_iter().flatten().flatten() {
        let is_file = entry.file_type().is_ok_and(|t| t.is_file());
        if !is_file || !entry.file_name().to_str().is_some_and(is_ours) {
            continue;
        }
        let Ok(file) = File::options().write(true).open(entry.path()) else { continue };
        if file.try_lock().is_ok() {
            let _ = fs::remove_file(entry.path());
        }
    }
}

#[cfg(test)]
mod tests {
    use std::io::Write as _;

    use super::*;

    #[test]
    fn what_was_left_is_removed_and_what_is_written_is_not() {
        let folder = tempfile::tempdir().expect("a folder");
        let left = folder.path().join(".fidelon-abc123.tmp");
        let other = folder.path().join(".fidelon-notes.txt");
        for file in [&left, &other] {
            fs::write(file, "half").expect("written");
        }
        let mut written = temporary(folder.path()).expect("a file");
        assert!(!left.exists() && other.exists());
        written.write_all(b"whole").expect("written");
        let second = temporary(folder.path()).expect("another");
        assert!(written.path().exists(), "somebody writes it");
        let to = folder.path().join("a.yaml");
        written.persist(&to).expect("renamed");
        drop(second);
        assert_eq!(fs::read_to_string(&to).expect("there"), "whole");
        assert_eq!(fs::read_dir(folder.path()).expect("read").count(), 2);
    }
}

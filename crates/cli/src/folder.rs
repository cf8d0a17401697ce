//! A folder that a report is written to: nobody else's files are in it.

use std::path::Path;

use anyhow::{Context as _, bail};

use crate::setting;

/// The file by which a folder of ours is known.
const MARK: &str = ".fidelon-report";

/// Makes the folder, or sees that it is an earlier report or empty.
pub fn claim(dir: &Path) -> anyhow::Result<()> {
    let shown = dir.display();
    if dir.is_file() {
        bail!("`{shown}` is a file: name a folder for the report");
    }
    let mark = dir.join(MARK);
    let is_empty = || dir.read_dir().map(|mut d| d.next().is_none());
    if dir.is_dir() && !mark.is_file() && !is_empty().with_context(|| format!("`{shown}` cannot be read"))? {
        bail!("the folder `{shown}` holds other files: name a new one for the report, or an empty one");
    }
    std::fs::create_dir_all(dir).with_context(|| format!("`{shown}` cannot be made"))?;
    setting::write_whole(&mark, concat!(env!("CARGO_PKG_VERSION"), "\n"))
}

/// Writes all files of a report; those of an earlier one that it does not have are taken away.
pub fn write(dir: &Path, files: &[(String, String)]) -> anyhow::Result<()> {
    let data = dir.join("data");
    std::fs::create_dir_all(&data).with_context(|| format!("`{}` cannot be made", data.display()))?;
    for (path, text) in files {
        setting::write_whole(&dir.join(path), text)?;
    }
    for old in data.read_dir().with_context(|| format!("`{}` cannot be read", data.display()))?.flatten() {
        let name = format!("data/{}", old.file_name().to_string_lossy());
        if files.iter().all(|(path, _)| *path != name) {
            let _ = std::fs::remove_file(old.path());
        }
    }
    Ok(())
}

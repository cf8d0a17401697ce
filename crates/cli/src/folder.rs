//! A folder that a report is written to: nobody else's files are in it.

use std::path::{Component, Path};

use anyhow::{Context as _, bail};

use crate::setting;

/// The file by which a folder of ours is known: the version, then the names of the files that were written, a line each.
const MARK: &str = ".fidelon-report";

/// Makes the folder, or sees that it is an earlier report or empty.
pub fn claim(dir: &Path) -> anyhow::Result<()> {
    let shown = dir.display();
    if dir.is_file() {
        bail!("`{shown}` is a file: name a folder for the report");
    }
    // Whatever lies behind a link is somebody else's.
    for ours in [dir.to_path_buf(), dir.join("data")] {
        if ours.is_symlink() {
            bail!("`{}` is a link: name a folder for the report", ours.display());
        }
    }
    let mark = dir.join(MARK);
    let is_empty = || dir.read_dir().map(|mut d| d.next().is_none());
    if dir.is_dir() && !mark.is_file() && !is_empty().with_context(|| format!("`{shown}` cannot be read"))? {
        bail!("the folder `{shown}` holds other files: name a new one for the report, or an empty one");
    }
    std::fs::create_dir_all(dir).with_context(|| format!("`{shown}` cannot be made"))?;
    // What an earlier report wrote is still its own.
    let written = listed(dir).iter().fold(String::new(), |all, name| all + name + "\n");
    setting::write_whole(&mark, &(concat!(env!("CARGO_PKG_VERSION"), "\n").to_owned() + &written))
}

/// The files that an earlier report wrote.
fn listed(dir: &Path) -> Vec<String> {
    let text = std::fs::read_to_string(dir.join(MARK)).unwrap_or_default();
    text.lines().skip(1).map(str::to_owned).collect()
}

/// Writes all files of a report; those of an earlier one that it does not have are taken away.
pub fn write(dir: &Path, files: &[(String, String)]) -> anyhow::Result<()> {
    claim(dir)?;
    let before = listed(dir);
    let data = dir.join("data");
    std::fs::create_dir_all(&data).with_context(|| format!("`{}` cannot be made", data.display()))?;
    // Its own files are known before they are there: a report that is broken off is taken away by the next.
    let own = |names: &mut dyn Iterator<Item = &str>| {
        names.fold(concat!(env!("CARGO_PKG_VERSION"), "\n").to_owned(), |all, name| all + name + "\n")
    };
    let mut all: Vec<&str> = before.iter().map(String::as_str).chain(files.iter().map(|(path, _)| path.as_str())).collect();
    all.sort_unstable();
    all.dedup();
    setting::write_whole(&dir.join(MARK), &own(&mut all.into_iter()))?;
    for (path, text) in files {
        setting::write_whole(&dir.join(path), text)?;
    }
    for old in before.iter().filter(|name| files.iter().all(|(path, _)| path != *name)) {
        // A list that somebody else wrote leads no further than the report.
        let plain = Path::new(old).components().all(|c| matches!(c, Component::Normal(_)));
        if plain {
            let _ = std::fs::remove_file(dir.join(old));
        }
    }
    setting::write_whole(&dir.join(MARK), &own(&mut files.iter().map(|(path, _)| path.as_str())))
}

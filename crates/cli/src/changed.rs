//! Which files were changed since a revision: git is asked.

use std::collections::{BTreeMap, BTreeSet};
use std::ops::Range;
use std::path::{Path, PathBuf};
use std::process::Command;

use anyhow::{Context as _, bail};

/// Absolute paths of files that differ from a revision, are not committed yet, or are gone.
pub fn since(root: &Path, revision: &str) -> anyhow::Result<BTreeSet<PathBuf>> {
    if revision.starts_with('-') {
        bail!("`{revision}` is no revision");
    }
    let top = PathBuf::from(git(root, &["rev-parse", "--show-toplevel"])?.trim_end_matches('\n'));
    let base = base(root, revision)?;
    let tracked = git(&top, &["diff", "--name-only", "-z", "--no-renames", &base, "--"])?;
    let new = git(&top, &["ls-files", "--others", "--exclude-standard", "-z", "--full-name"])?;
    Ok(tracked.split('\0').chain(new.split('\0')).filter(|name| !name.is_empty()).map(|name| top.join(name)).collect())
}

/// The lines that differ from a revision, by absolute path, each range from its first line to before the one that follows it. A file
/// that is new differs in all.
pub fn lines_since(root: &Path, revision: &str) -> anyhow::Result<BTreeMap<String, Vec<Range<u32>>>> {
    let mut out: BTreeMap<String, Vec<Range<u32>>> = BTreeMap::new();
    for path in since(root, revision)? {
        out.insert(path.to_string_lossy().into_owned(), std::iter::once(1..u32::MAX).collect());
    }
    let top = PathBuf::from(git(root, &["rev-parse", "--show-toplevel"])?.trim_end_matches('\n'));
    let base = base(root, revision)?;
    let told = git(
        &top,
        &[
            "-c",
            "core.quotepath=off",
            "diff",
            "--unified=0",
            "--no-color",
            "--no-ext-diff",
            "--no-renames",
            "--src-prefix=a/",
            "--dst-prefix=b/",
            &base,
            "--",
        ],
    )?;
    let mut file = String::new();
    for line in told.lines() {
        if let Some(name) = line.strip_prefix("+++ ") {
            file = top.join(name.strip_prefix("b/").unwrap_or(name)).to_string_lossy().into_owned();
            if let Some(lines) = out.get_mut(&file) {
                lines.clear();
            }
        } else if let Some(lines) = line.starts_with("@@ ").then(|| out.get_mut(&file)).flatten() {
            lines.extend(added(line));
        }
    }
    Ok(out)
}

/// The lines that a hunk adds: `@@ -3,0 +4,2 @@`.
fn added(hunk: &str) -> Option<Range<u32>> {
    let (_, after) = hunk.split_once('+')?;
    let (first, count) = after.split_once(' ')?.0.split_once(',').unwrap_or((after.split_once(' ')?.0, "1"));
    let (first, count) = (first.parse::<u32>().ok()?, count.parse::<u32>().ok()?);
    // Where lines are gone, those around them are another text.
    Some(if count == 0 { first..first + 2 } else { first..first + count })
}

/// The project as it was at a revision, in a folder that is gone when this is dropped. Installed packages are those that are there now.
#[derive(Debug)]
pub struct Checkout {
    folder: tempfile::TempDir,
    below: PathBuf,
}

impl Checkout {
    /// The folder of the whole repository.
    pub fn path(&self) -> &Path {
        self.folder.path()
    }

    /// Where the folder lies in it that the command works in.
    pub fn below(&self) -> &Path {
        &self.below
    }
}

/// Writes the files of a revision to a folder of their own. Nothing in the repository is touched.
pub fn checkout(root: &Path, revision: &str) -> anyhow::Result<Checkout> {
    if revision.starts_with('-') {
        bail!("`{revision}` is no revision");
    }
    let top = PathBuf::from(git(root, &["rev-parse", "--show-toplevel"])?.trim_end_matches('\n'));
    let top = top.canonicalize().unwrap_or(top);
    let commit = base(root, revision)?;
    let folder = tempfile::Builder::new().prefix("fidelon-").tempdir().context("no folder can be made for the files of a revision")?;
    // Beside the folder: the revision may hold a file of any name.
    let archive = tempfile::NamedTempFile::new().context("no file can be made for the files of a revision")?;
    git(&top, &["archive", "--format=tar", "-o", &archive.path().to_string_lossy(), &commit])?;
    let mut files = tar::Archive::new(std::fs::File::open(archive.path()).context("the files of the revision cannot be read")?);
    files.unpack(folder.path()).context("the files of the revision cannot be written")?;
    link_packages(&top, &top, folder.path());
    let below = root.strip_prefix(&top).unwrap_or(Path::new("")).to_path_buf();
    Ok(Checkout { folder, below })
}

/// Installed packages belong to no revision: those that are there now are used.
fn link_packages(top: &Path, at: &Path, to: &Path) {
    for entry in at.read_dir().into_iter().flatten().flatten() {
        let path = entry.path();
        let Ok(below) = path.strip_prefix(top) else { continue };
        let there = to.join(below);
        if entry.file_name() == "node_modules" {
            #[cfg(unix)]
            let _ = std::os::unix::fs::symlink(&path, &there);
            #[cfg(windows)]
            let _ = std::os::windows::fs::symlink_dir(&path, &there);
        } else if there.is_dir() && !path.is_symlink() {
            link_packages(top, &path, to);
        }
    }
}

/// What a branch changed, not what went on elsewhere since it was cut.
fn base(root: &Path, revision: &str) -> anyhow::Result<String> {
    let base = git(root, &["merge-base", revision, "HEAD"])
        .or_else(|_| git(root, &["rev-parse", "--verify", &format!("{revision}^{{commit}}")]))?;
    Ok(base.trim().to_owned())
}

fn git(folder: &Path, args: &[&str]) -> anyhow::Result<String> {
    let run = Command::new("git").arg("-C").arg(folder).args(args).output().context("--since asks git, which cannot be started")?;
    if !run.status.success() {
        let said = String::from_utf8_lossy(&run.stderr);
        bail!("--since: git says: {}", said.lines().next().unwrap_or_default());
    }
    Ok(String::from_utf8_lossy(&run.stdout).into_owned())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn hunks_tell_which_lines_are_new() {
        for (hunk, lines) in [("@@ -3,0 +4,2 @@ fn", 4..6), ("@@ -3 +3 @@", 3..4), ("@@ -3,2 +2,0 @@", 2..4)] {
            assert_eq!(added(hunk), Some(lines), "{hunk}");
        }
        assert_eq!(added("@@ none @@"), None);
    }
}

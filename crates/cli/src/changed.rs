//! Which files were changed since a revision: git is asked.

use std::collections::BTreeSet;
use std::path::{Path, PathBuf};
use std::process::Command;

use anyhow::{Context as _, bail};

/// Absolute paths of files that differ from a revision, are not committed yet, or are gone.
pub fn since(root: &Path, revision: &str) -> anyhow::Result<BTreeSet<PathBuf>> {
    if revision.starts_with('-') {
        bail!("`{revision}` is no revision");
    }
    let top = PathBuf::from(git(root, &["rev-parse", "--show-toplevel"])?.trim_end_matches('\n'));
    // What a branch changed, not what went on elsewhere since it was cut.
    let base = git(root, &["merge-base", revision, "HEAD"])
        .or_else(|_| git(root, &["rev-parse", "--verify", &format!("{revision}^{{commit}}")]))?;
    let base = base.trim();
    let tracked = git(&top, &["diff", "--name-only", "-z", "--no-renames", base, "--"])?;
    let new = git(&top, &["ls-files", "--others", "--exclude-standard", "-z", "--full-name"])?;
    Ok(tracked.split('\0').chain(new.split('\0')).filter(|name| !name.is_empty()).map(|name| top.join(name)).collect())
}

fn git(folder: &Path, args: &[&str]) -> anyhow::Result<String> {
    let run = Command::new("git").arg("-C").arg(folder).args(args).output().context("--since asks git, which cannot be started")?;
    if !run.status.success() {
        let said = String::from_utf8_lossy(&run.stderr);
        bail!("--since: git says: {}", said.lines().next().unwrap_or_default());
    }
    Ok(String::from_utf8_lossy(&run.stdout).into_owned())
}

//! Whether pairs of components that were rewritten are told apart where they differ, and nowhere else; and whether the hand-planted faults of
//! `faults.json` are seen by a comparison with the sound component.

use std::path::{Path, PathBuf};

use anyhow::{Context as _, Result, anyhow, ensure};
use fidelon_core::compare::{ComparedPair, Level};
use fidelon_run::Request;
use fidelon_run::comparing::{CompareOptions, compare};
use serde::Deserialize;

use crate::laws::{self, Patch};

/// The pairs, by hand.
const PAIRS: &str = include_str!("../rewrites/pairs.json");

#[derive(Deserialize)]
struct Pair {
    before: String,
    after: String,
    /// What one of the differences is about; none for a pair that is the same.
    differs: Option<String>,
    /// What is changed in the second before.
    #[serde(default)]
    patch: Vec<Patch>,
}

fn compared(before: (&Path, &str), after: (&Path, &str)) -> Result<ComparedPair> {
    let request = |(root, path): (&Path, &str)| Request::new(root.to_path_buf(), vec![PathBuf::from(path)], laws::options(root));
    let results = compare(&request(before), &request(after), &CompareOptions::default()).map_err(|e| anyhow!("{e}"))?;
    results.pairs.into_iter().next().context("a pair")
}

fn told(pair: &ComparedPair) -> String {
    if let Some(reason) = &pair.reason {
        return format!("not compared: {}", reason.message);
    }
    let all: Vec<String> = pair.differences.iter().map(|d| format!("{} {}: {}", d.level, d.area.words(), d.message)).collect();
    if all.is_empty() { "the same".into() } else { all.join("; ") }
}

/// Compares the pairs, then each faulty component with its sound one.
pub fn figures(folder: &Path) -> Result<()> {
    ensure!(folder.join("node_modules/vue").is_dir(), "`{}` is no folder made by `fidelon demo`", folder.display());
    let place = tempfile::tempdir_in(folder)?;
    let place = place.path().canonicalize()?;
    let (sound, changed) = (place.join("sound"), place.join("changed"));
    let own = Path::new(env!("CARGO_MANIFEST_DIR"));
    for root in [&sound, &changed] {
        for part in ["vue", "react", "preact", "svelte", "solid", "angular", "elements"] {
            laws::copy(&folder.join(part), &root.join(part))?;
        }
        laws::copy(&own.join("rewrites"), &root.join("rewrites"))?;
        laws::copy(&own.join("pieces"), &root.join("pieces"))?;
    }
    let pairs: Vec<Pair> = serde_json::from_str(PAIRS).context("pairs.json")?;
    let mut right = 0;
    for pair in &pairs {
        let file = pair.after.split('#').next().unwrap_or(&pair.after);
        let text = std::fs::read_to_string(changed.join(file))?;
        std::fs::write(changed.join(file), laws::patched(&text, &pair.patch, file)?)?;
        let found = compared((&sound, &pair.before), (&changed, &pair.after));
        std::fs::write(changed.join(file), text)?;
        let found = found?;
        // A patch is no difference for anybody who does not look at markup: another framework has other wrappers.
        let noticed = |d: &&fidelon_core::compare::Difference| d.level > Level::Patch;
        let is_right = found.reason.is_none()
            && match &pair.differs {
                None => found.differences.iter().filter(noticed).count() == 0,
                Some(about) => found.differences.iter().filter(noticed).any(|d| d.area.words() == about),
            };
        right += usize::from(is_right);
        let mark = if is_right { "right" } else { "WRONG" };
        println!("{mark}  {} → {} ({}): {}", pair.before, pair.after, pair.differs.as_deref().unwrap_or("the same"), told(&found));
    }
    let faults = laws::planted()?;
    let mut seen = 0;
    for fault in &faults {
        let text = std::fs::read_to_string(changed.join(&fault.file))?;
        std::fs::write(changed.join(&fault.file), laws::patched(&text, &fault.patch, &fault.file)?)?;
        let found = compared((&sound, &fault.file), (&changed, &fault.file));
        std::fs::write(changed.join(&fault.file), text)?;
        let found = found?;
        seen += usize::from(found.level.is_some());
        if found.level.is_none() {
            println!("not seen: {}: {}: {}", fault.file, fault.fault, told(&found));
        }
    }
    println!("pairs: {right} of {} judged right; planted faults that a comparison sees: {seen} of {}", pairs.len(), faults.len());
    Ok(())
}

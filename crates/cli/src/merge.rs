//! `fidelon merge`

use anyhow::{Context as _, bail};
use fidelon_core::results::Results;

use crate::args::{Common, Merge};
use crate::{reports, setting};

/// Runs the command; gives the exit code.
pub fn run(args: &Merge, common: &Common) -> anyhow::Result<i32> {
    let root = setting::root()?;
    let mut parts: Vec<(String, Results)> = Vec::new();
    for file in &args.files {
        let name = file.display().to_string();
        let text = std::fs::read_to_string(root.join(file)).with_context(|| format!("`{name}` cannot be read"))?;
        let results = serde_json::from_str(&text).with_context(|| format!("`{name}` holds no results of `fidelon check --json`"))?;
        parts.push((name, results));
    }
    match fidelon_run::merge(parts) {
        Ok(results) => reports::write(&root, &results, &args.reports, setting::style(common), false),
        Err(why) => bail!(why),
    }
}

//! `fidelon compare`

use std::path::{Path, PathBuf};

use anyhow::bail;
use fidelon_core::compare::{CompareResults, Level};
use fidelon_report::compared;
use fidelon_run::comparing::{CompareOptions, compare};
use fidelon_run::{Request, StageOptions};

use crate::args::{Common, Compare};
use crate::{changed, exit, setting};

/// Runs the command; gives the exit code.
pub fn run(args: &Compare, common: &Common) -> anyhow::Result<i32> {
    let root = setting::root()?;
    let stage = setting::stage(&root, &args.stages, common);
    let request = |root: &Path, path: &Path, stage: StageOptions| Request::new(root.to_path_buf(), vec![path.to_path_buf()], stage);
    let options = CompareOptions { renamed: args.renamed.clone(), effort: args.effort.into() };
    let results = match (&args.after, &args.since) {
        (Some(_), Some(_)) => bail!("`--since` compares one path with itself: leave the second one out"),
        (None, None) => {
            bail!("name a second component or folder, or a revision by `--since`: `fidelon compare {} --since main`", args.before.display())
        }
        (Some(after), None) => compare(&request(&root, &args.before, stage.clone()), &request(&root, after, stage), &options)?,
        (None, Some(revision)) => {
            let then = changed::checkout(&root, revision)?;
            let at = then.path().join(then.below());
            let at = at.canonicalize().unwrap_or(at);
            let before = setting::stage(&at, &args.stages, common);
            if !at.join(file_of(&args.before)).exists() {
                bail!("`{}` was not there at {revision}: name its old place, and the new one", args.before.display());
            }
            compare(&request(&at, &args.before, before), &request(&root, &args.before, stage), &options)?
        }
    };
    let style = setting::style(common);
    let json = || serde_json::to_string_pretty(&results).map(|text| text + "\n");
    let is_stdout = |file: &Option<PathBuf>| file.as_ref().is_some_and(|file| file.as_os_str() == "-");
    if is_stdout(&args.json) {
        setting::print_data(&json()?);
    } else if !is_stdout(&args.changelog) {
        setting::print(&compared::report(&results, style));
    }
    if let Some(file) = args.json.as_ref().filter(|_| !is_stdout(&args.json)) {
        setting::write_whole(&root.join(file), &json()?)?;
    }
    match &args.changelog {
        Some(_) if is_stdout(&args.changelog) => setting::print_data(&compared::changelog(&results)),
        Some(file) => setting::write_whole(&root.join(file), &compared::changelog(&results))?,
        None => {}
    }
    Ok(code(&results, args.allow.map(Level::from)))
}

/// The file of `file#export`.
fn file_of(path: &Path) -> PathBuf {
    let text = path.to_string_lossy();
    text.rsplit_once('#').map_or_else(|| path.to_path_buf(), |(file, _)| PathBuf::from(file))
}

fn code(results: &CompareResults, allowed: Option<Level>) -> i32 {
    if results.pairs.iter().any(|p| p.reason.as_ref().is_some_and(|r| r.file)) {
        exit::WRONG
    } else if results.pairs.iter().any(|p| p.reason.is_some()) {
        exit::UNJUDGED
    } else if results.level > allowed {
        exit::BROKEN
    } else {
        exit::HOLDS
    }
}

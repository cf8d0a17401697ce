//! `fidelon challenge`

use std::path::PathBuf;

use fidelon_core::challenge::ChallengeResults;
use fidelon_report::challenged;
use fidelon_run::challenging::{ChallengeOptions, challenge};
use fidelon_run::{JudgeOptions, Request};

use crate::args::{Challenge, Common, Most, Stages};
use crate::progress::Progress;
use crate::{changed, exit, setting};

/// Runs the command; gives the exit code.
pub fn run(args: &Challenge, common: &Common) -> anyhow::Result<i32> {
    let root = setting::root()?;
    let paths = if args.paths.is_empty() { vec![PathBuf::from(".")] } else { args.paths.clone() };
    let request = Request::new(root.clone(), paths, setting::stage(&root, &Stages::default(), common));
    let request = Request {
        workers: args.jobs.map_or(request.workers, usize::from),
        how: JudgeOptions { effort: args.effort.into(), ..JudgeOptions::default() },
        changed: args.since.as_ref().map(|revision| changed::since(&root, revision)).transpose()?,
        ..request
    };
    let most = match args.most {
        Most::All => None,
        Most::Some(most) => Some(most),
    };
    let lines = args.since.as_ref().map(|revision| changed::lines_since(&root, revision)).transpose()?;
    let options = ChallengeOptions { most, kinds: args.kinds.clone(), lines };
    let style = setting::style(common);
    let to_stdout = args.json.as_ref().is_some_and(|file| file.as_os_str() == "-");
    let progress = if to_stdout { Progress::quiet() } else { Progress::printing(&root, style) };
    let results = challenge(&request, &options, &|event| progress.tell(&event))?;
    progress.end()?;
    let json = || serde_json::to_string_pretty(&results).map(|text| text + "\n");
    if to_stdout {
        setting::print_data(&json()?);
    } else {
        setting::print(&challenged::ending(&results, style));
    }
    if let Some(file) = args.json.as_ref().filter(|_| !to_stdout) {
        setting::write_whole(&root.join(file), &json()?)?;
    }
    Ok(code(&results, args.least))
}

/// The exit code: of a share that was asked for, and of what could not be challenged.
fn code(results: &ChallengeResults, least: Option<u8>) -> i32 {
    if results.components.iter().any(|c| c.reason.as_ref().is_some_and(|r| r.file)) {
        exit::WRONG
    } else if results.components.iter().any(|c| c.reason.is_some()) {
        exit::UNJUDGED
    } else if least.is_some_and(|least| results.totals.percent() < usize::from(least)) {
        exit::BROKEN
    } else {
        exit::HOLDS
    }
}

//! `fidelon replay`

use std::path::PathBuf;

use fidelon_report::replayed;
use fidelon_run::{JudgeOptions, Realms, ReplayError, ReplayTarget, Request, replay};

use crate::args::{Common, Replay};
use crate::{exit, setting};

/// Runs the command; gives the exit code.
pub fn run(args: &Replay, common: &Common) -> anyhow::Result<i32> {
    let root = setting::root()?;
    let paths = if args.paths.is_empty() { vec![PathBuf::from(".")] } else { args.paths.clone() };
    let how = JudgeOptions { realms: Realms::Fresh, ..JudgeOptions::default() };
    let request = Request { workers: 1, how, ..Request::new(root.clone(), paths, setting::stage(&root, &args.stages, common)) };
    let replay = match replay(&request, ReplayTarget { case: &args.case, clause: args.clause.as_deref() }) {
        Ok(replay) => replay,
        Err(ReplayError::Stage(reason)) => {
            setting::note(&format!("fidelon: {}: {reason}", args.case));
            return Ok(exit::UNJUDGED);
        }
        Err(error) => return Err(error.into()),
    };
    Ok(if print(&replay, setting::style(common)) { exit::BROKEN } else { exit::HOLDS })
}

/// Prints a replay; tells whether anything broke in it.
pub fn print(replay: &fidelon_run::Replay, style: fidelon_report::Style) -> bool {
    let mut head = format!("{} with {}\n", style.strong(&replay.component), style.fold(&replay.combination, 4));
    match &replay.clause {
        Some((words, place)) => head.push_str(&format!("“{words}” {}\n", style.quiet(&place.to_string()))),
        None => head.push_str(&style.quiet("No clause breaks in this case: the mount alone.\n")),
    }
    let moments: Vec<replayed::Moment<'_>> = replay
        .moments
        .iter()
        .map(|m| replayed::Moment {
            step: m.step.as_deref(),
            seen: &m.seen,
            checked: m.checked.as_ref().map(|(n, failures)| (*n, failures.as_slice())),
        })
        .collect();
    setting::print(&(head + &replayed::tell(&moments, style)));
    replay.moments.iter().any(|m| !m.seen.faults.is_empty() || m.checked.as_ref().is_some_and(|(_, f)| !f.is_empty()))
}

//! `fidelon check`

use std::path::{Path, PathBuf};
use std::time::Instant;

use fidelon_report::html;
use fidelon_run::{JudgeOptions, Outcome, Realms, Request, check};

use crate::args::{Check, Common, Format};
use crate::progress::Progress;
use crate::{changed, folder, reports, scheduled, setting};

/// Runs the command; gives the exit code.
pub fn run(args: &Check, common: &Common) -> anyhow::Result<i32> {
    let root = setting::root()?;
    // A folder that cannot be written to is told before the work is done.
    if let Some(dir) = &args.pages.html {
        folder::claim(&root.join(dir))?;
    }
    let began = Instant::now();
    let style = setting::style(common);
    let request = request(&root, args, common)?;
    // Findings are printed as they come, where a person reads them.
    let prints = args.reports.format == Format::Report && args.reports.json.as_ref().is_none_or(|file| file.as_os_str() != "-");
    let progress = if prints { Progress::printing(&root, style) } else { Progress::quiet() };
    if let Some(file) = &args.events {
        progress.write_events(&root.join(file))?;
    }
    let outcome = check(&request, &|event| progress.tell(&event))?;
    progress.end()?;
    if args.verbose {
        let judged = outcome.results.components.len() - outcome.kept;
        setting::note(&format!("{} unchanged, {judged} judged in {:.2} s", outcome.kept, began.elapsed().as_secs_f64()));
    }
    let code = reports::write(&root, &outcome.results, &args.reports, style, prints)?;
    if let Some(dir) = &args.pages.html {
        folder::write(&root.join(dir), &html::report(&outcome.results, &outcome.galleries))?;
    }
    Ok(code)
}

/// Checks components, with progress on a terminal.
pub fn judge(root: &Path, args: &Check, common: &Common) -> anyhow::Result<Outcome> {
    with_progress(&request(root, args, common)?)
}

/// Does what is asked for, with progress on a terminal.
pub fn with_progress(request: &Request) -> anyhow::Result<Outcome> {
    let progress = Progress::quiet();
    let outcome = check(request, &|event| progress.tell(&event))?;
    progress.end()?;
    Ok(outcome)
}

/// What is asked of a run.
pub fn request(root: &Path, args: &Check, common: &Common) -> anyhow::Result<Request> {
    let paths = if args.paths.is_empty() { vec![PathBuf::from(".")] } else { args.paths.clone() };
    let request = Request::new(root.to_path_buf(), paths, setting::stage(root, &args.stages, common));
    let realms = if args.apart { Realms::Fresh } else { Realms::Shared };
    Ok(Request {
        workers: args.jobs.map_or(request.workers, usize::from),
        confirm: args.confirm,
        how: JudgeOptions { realms, effort: args.effort.into(), pictures: args.pages.html.is_some(), ..JudgeOptions::default() },
        anew: args.fresh,
        part: args.part.map(scheduled::portion).transpose()?,
        changed: args.since.as_ref().map(|revision| changed::since(root, revision)).transpose()?,
        ..request
    })
}

//! `fidelon check`

use std::io::{IsTerminal as _, Write as _};
use std::path::{Path, PathBuf};
use std::sync::Mutex;
use std::time::Instant;

use fidelon_report::html;
use fidelon_run::{How, Outcome, Realms, Request, RunEvent, check};

use crate::args::{Check, Common};
use crate::{changed, folder, reports, scheduled, setting};

/// Runs the command; gives the exit code.
pub fn run(args: &Check, common: &Common) -> anyhow::Result<i32> {
    let root = setting::root()?;
    // A folder that cannot be written to is told before the work is done.
    if let Some(dir) = &args.pages.html {
        folder::claim(&root.join(dir))?;
    }
    let began = Instant::now();
    let outcome = judge(&root, args, common)?;
    if args.verbose {
        let judged = outcome.results.components.len() - outcome.kept;
        setting::note(&format!("{} unchanged, {judged} judged in {:.2} s", outcome.kept, began.elapsed().as_secs_f64()));
    }
    let code = reports::write(&root, &outcome.results, &args.reports, setting::style(common))?;
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
    let progress = Progress::new();
    let outcome = check(request, &|event| progress.tell(&event))?;
    progress.clear();
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
        how: How { realms, effort: args.effort.into(), pictures: args.pages.html.is_some(), glance: false },
        anew: args.fresh,
        part: args.part.map(scheduled::portion).transpose()?,
        changed: args.only_changed.as_ref().map(|revision| changed::since(root, revision)).transpose()?,
        ..request
    })
}

/// One line on a terminal's standard error that follows the run; nothing elsewhere, and nothing for short runs.
struct Progress {
    shown: Mutex<Shown>,
    started: Instant,
    live: bool,
}

#[derive(Default)]
struct Shown {
    of: usize,
    done: usize,
    drawn: bool,
}

impl Progress {
    fn new() -> Self {
        Self { shown: Mutex::default(), started: Instant::now(), live: std::io::stderr().is_terminal() }
    }

    fn tell(&self, event: &RunEvent) {
        let Ok(mut shown) = self.shown.lock() else { return };
        match event {
            RunEvent::Surveyed { components, .. } => shown.of = *components,
            RunEvent::Judged { done, .. } => shown.done = shown.done.max(*done),
            RunEvent::Started { component } if self.live && self.started.elapsed().as_millis() > 400 => {
                let line = format!("{} of {} judged · {component}", shown.done, shown.of);
                let line: String = line.chars().take(78).collect();
                let _ = write!(std::io::stderr().lock(), "\r\u{1b}[2K{line}");
                shown.drawn = true;
            }
            RunEvent::Started { .. } => {}
        }
    }

    fn clear(&self) {
        if self.shown.lock().is_ok_and(|s| s.drawn) {
            let _ = write!(std::io::stderr().lock(), "\r\u{1b}[2K");
        }
    }
}

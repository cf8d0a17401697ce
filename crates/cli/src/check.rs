//! `fidelon check`

use std::io::{IsTerminal as _, Write as _};
use std::path::{Path, PathBuf};
use std::sync::Mutex;
use std::time::Instant;

use fidelon_core::results::Results;
use fidelon_report::{Style, terminal};
use fidelon_run::{How, Realms, Request, RunEvent, check};

use crate::args::{Check, Common};
use crate::{exit, setting};

/// Runs the command; gives the exit code.
pub fn run(args: &Check, common: &Common) -> anyhow::Result<i32> {
    let root = setting::root()?;
    let results = judge(&root, args, common)?;
    let json = || serde_json::to_string_pretty(&results).map(|t| t + "\n");
    match &args.json {
        Some(file) if file.as_os_str() == "-" => setting::print(&json()?),
        Some(file) => {
            setting::write_whole(&root.join(file), &json()?)?;
            report(&root, &results, setting::style(common));
        }
        None => report(&root, &results, setting::style(common)),
    }
    Ok(code(&results))
}

/// Checks components, with progress on a terminal.
pub fn judge(root: &Path, args: &Check, common: &Common) -> anyhow::Result<Results> {
    let request = Request {
        root: root.to_path_buf(),
        paths: if args.paths.is_empty() { vec![PathBuf::from(".")] } else { args.paths.clone() },
        stage: setting::stage(root, &args.stages, common),
        workers: args.jobs.map_or_else(|| std::thread::available_parallelism().map_or(1, usize::from), usize::from),
        confirm: args.confirm,
        how: How { realms: if args.fresh { Realms::Fresh } else { Realms::Shared }, effort: args.effort.into() },
    };
    let progress = Progress::new();
    let results = check(&request, &|event| progress.tell(&event))?;
    progress.clear();
    Ok(results)
}

/// Prints the report.
pub fn report(root: &Path, results: &Results, style: Style) {
    let read = |file: &str| std::fs::read_to_string(root.join(file)).ok();
    setting::print(&terminal::report(results, style, &read));
}

/// The exit code that results stand for.
pub fn code(results: &Results) -> i32 {
    let wrong_file = results.components.iter().any(|c| c.reason.as_ref().is_some_and(|r| r.file));
    if !results.faults.is_empty() || wrong_file {
        exit::WRONG
    } else if results.totals.unjudged > 0 {
        exit::UNJUDGED
    } else if results.totals.broken > 0 {
        exit::BROKEN
    } else {
        exit::HOLDS
    }
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

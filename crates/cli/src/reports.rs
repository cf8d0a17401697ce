//! What becomes of results: the report on standard output, files for machines, the exit code.

use std::path::Path;

use anyhow::Context as _;
use fidelon_core::results::Results;
use fidelon_report::{Style, junit, lines, sarif, terminal};

use crate::args::{Format, Reports};
use crate::{exit, setting};

/// Writes all that was asked for; gives the exit code.
/// Components that were `printed` as they came are not printed again.
pub fn write(root: &Path, results: &Results, reports: &Reports, style: Style, printed: bool) -> anyhow::Result<i32> {
    let json = || serde_json::to_string_pretty(results).map(|t| t + "\n");
    // What was found is told before a file that cannot be written ends the run.
    let to_stdout = reports.json.as_ref().is_some_and(|file| file.as_os_str() == "-");
    if to_stdout {
        setting::print_data(&json()?);
    } else if printed {
        let read = |file: &str| std::fs::read_to_string(root.join(file)).ok();
        setting::print(&terminal::ending(results, style, &read));
    } else {
        print(root, results, reports.format, style);
    }
    if let Some(file) = reports.json.as_ref().filter(|_| !to_stdout) {
        setting::write_whole(&root.join(file), &json()?)?;
    }
    if let Some(file) = &reports.junit {
        let text = junit::junit(results).map_err(anyhow::Error::msg).context("JUnit XML")?;
        setting::write_whole(&root.join(file), &text)?;
    }
    if let Some(file) = &reports.sarif {
        setting::write_whole(&root.join(file), &(serde_json::to_string_pretty(&sarif::sarif(results))? + "\n"))?;
    }
    Ok(code(results))
}

/// Prints results to standard output.
pub fn print(root: &Path, results: &Results, format: Format, style: Style) {
    let read = |file: &str| std::fs::read_to_string(root.join(file)).ok();
    match format {
        Format::Report => setting::print(&terminal::report(results, style, &read)),
        Format::Lines => setting::print(&lines::lines(results)),
        Format::Annotations => setting::print_commands(&lines::annotations(results)),
    }
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

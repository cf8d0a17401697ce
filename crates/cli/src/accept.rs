//! `fidelon accept`

use std::path::PathBuf;

use fidelon_report::{Style, faults, replayed};
use fidelon_run::{JudgeOptions, Realms, Record, Request, accept};

use crate::args::{Accept, Common};
use crate::{exit, setting};

/// Runs the command; gives the exit code.
pub fn run(args: &Accept, common: &Common) -> anyhow::Result<i32> {
    let root = setting::root()?;
    let paths = if args.paths.is_empty() { vec![PathBuf::from(".")] } else { args.paths.clone() };
    let how = JudgeOptions { realms: Realms::Fresh, ..JudgeOptions::default() };
    let request = Request { how, ..Request::new(root.clone(), paths, setting::stage(&root, &args.stages, common)) };
    let (records, wrong) = accept(&request, args.known)?;
    let style = setting::style(common);
    let read = |file: &str| std::fs::read_to_string(root.join(file)).ok();
    for fault in &wrong {
        setting::print(&faults::show(fault, read(&fault.place.file).as_deref(), style));
    }
    for record in &records {
        if let Ok(text) = &record.text
            && !args.dry_run
        {
            setting::write_whole(&root.join(&record.file), text)?;
        }
        setting::print(&line(record, args.dry_run, style));
    }
    if records.is_empty() {
        setting::note(if args.known { "No component has accepted output yet." } else { "No component was found." });
    }
    let failed = records.iter().any(|r| r.text.is_err());
    Ok(if !wrong.is_empty() {
        exit::WRONG
    } else if failed {
        exit::UNJUDGED
    } else {
        exit::HOLDS
    })
}

/// What became of one component.
fn line(record: &Record, dry: bool, style: Style) -> String {
    let why = match &record.text {
        Err(why) => return format!("{} {}  {}\n", style.open("?"), record.component, style.fold(&format!("not recorded: {why}"), 4)),
        Ok(_) => replayed::changes_in_words(record.changes, record.first, record.combinations),
    };
    let would = if dry { "would hold " } else { "" };
    format!("{} {}  {}\n", style.good("✓"), record.file, style.quiet(&format!("{would}{why}")))
}

//! `fidelon draft`: a first contract, written beside the component.

use std::path::Path;

use anyhow::bail;
use fidelon_run::drafting;
use fidelon_run::survey::contract_beside;

use crate::args::{Common, Draft};
use crate::{exit, render, setting};

/// Runs the command; gives the exit code.
pub fn run(args: &Draft, common: &Common) -> anyhow::Result<i32> {
    let root = setting::root()?;
    let to = args.to.clone().unwrap_or_else(|| contract_beside(&args.component).into());
    let printed = to == Path::new("-");
    // What is there may be somebody's work; so it is said before anything is run.
    if !printed && root.join(&to).exists() {
        bail!("`{}` is there already, and a draft overwrites nothing: name another file by --to, or `--to -` to print it", to.display());
    }
    let stage = setting::stage(&root, &args.stages, common);
    let drafted = match drafting::draft(&root, &args.component, &args.with, &stage) {
        Err(error) => return render::cannot(error, &args.component),
        Ok(drafted) => drafted,
    };
    if printed {
        setting::print_data(&drafted.text);
    } else {
        setting::write_new(&root.join(&to), &drafted.text)?;
    }
    let style = setting::style(common);
    let counted = |count: usize, one: &str, many: &str| if count == 1 { format!("1 {one}") } else { format!("{count} {many}") };
    let written = format!(
        "{}: {}, all of which hold in {}",
        if printed { args.component.clone() } else { to.display().to_string() },
        counted(drafted.clauses, "clause", "clauses"),
        counted(drafted.component.combinations, "combination", "combinations"),
    );
    setting::note(&written);
    if !drafted.laws.is_empty() {
        setting::note(&format!(
            "{} {}: each is switched off in it, with a reason for you to give",
            style.open("broken as it is now:"),
            drafted.laws.join(", ")
        ));
    }
    Ok(exit::HOLDS)
}

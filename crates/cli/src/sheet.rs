//! `fidelon sheet`

use anyhow::bail;
use fidelon_report::sheet::{self, Layout};
use fidelon_run::{JudgeOptions, Request};

use crate::args::{Common, Sheet};
use crate::{check, exit, reports, setting};

/// Runs the command; gives the exit code.
pub fn run(args: &Sheet, common: &Common) -> anyhow::Result<i32> {
    let root = setting::root()?;
    let target = root.join(&args.to);
    if target.is_dir() {
        bail!("`{}` is a folder: name a file, as --to sheet.html", args.to.display());
    }
    let png = args.to.extension().is_some_and(|e| e.eq_ignore_ascii_case("png"));
    if !png && args.to.extension().is_none_or(|e| !e.eq_ignore_ascii_case("html") && !e.eq_ignore_ascii_case("htm")) {
        bail!("`{}` is neither .html nor .png: write --to sheet.html, or --to sheet.png", args.to.display());
    }
    let paths = if args.paths.is_empty() { vec![".".into()] } else { args.paths.clone() };
    let how = JudgeOptions { pictures: true, effort: args.effort.into(), ..JudgeOptions::default() };
    let stage = setting::stage(&root, &args.stages, common);
    let request = Request { how, ..Request::new(root, paths, stage) };
    let outcome = check::with_progress(&request)?;
    let layout = Layout { by: args.by.clone(), across: args.across.clone() };
    if let Some(name) = sheet::unknown(&outcome.galleries, &layout).first() {
        bail!("no component here has a prop or slot `{name}` in its combinations: `fidelon survey` lists them (slots are `slots.default`)");
    }
    let page = sheet::sheet(&outcome.results, &outcome.galleries, &layout);
    if png {
        let picture = fidelon_run::picture(&page, args.width).map_err(anyhow::Error::msg)?;
        setting::write_bytes(&target, &picture)?;
    } else {
        setting::write_whole(&target, &page)?;
    }
    let (shots, broken) = outcome.galleries.iter().fold((0, 0), |(shots, broken), gallery| {
        let findings = outcome.results.components.iter().filter(|c| c.component == gallery.component).flat_map(|c| &c.findings);
        let cases: Vec<&String> = findings.flat_map(|f| &f.cases).collect();
        (shots + gallery.shots.len(), broken + gallery.shots.iter().filter(|s| cases.contains(&&s.case)).count())
    });
    setting::note(&format!(
        "{}: {} in {}{}",
        args.to.display(),
        fidelon_report::told::count(shots, "combination"),
        fidelon_report::told::count(outcome.galleries.len(), "component"),
        if broken > 0 { format!(", {broken} broken") } else { String::new() }
    ));
    // A sheet shows; what breaks is for `check` to say. What could not be rendered is missing on it.
    let code = reports::code(&outcome.results);
    Ok(if code == exit::BROKEN { exit::HOLDS } else { code })
}

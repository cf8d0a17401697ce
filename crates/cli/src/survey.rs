//! `fidelon survey`: the components below some paths and what they declare.

use std::path::Path;

use fidelon_report::{manifest, surveyed};
use fidelon_run::surfaces;
use serde_json::json;

use crate::args::{Common, Survey};
use crate::{exit, setting};

/// Runs the command; gives the exit code.
pub fn run(args: &Survey, common: &Common) -> anyhow::Result<i32> {
    let root = setting::root()?;
    let paths = if args.paths.is_empty() { vec![".".into()] } else { args.paths.clone() };
    let found = surfaces::list(&root, &paths, &setting::cache(common))?;
    let style = setting::style(common);
    let outputs = [
        args.json.as_ref().map(|file| (file, json!({ "fidelon": env!("CARGO_PKG_VERSION"), "format": 1, "components": found.surfaces }))),
        args.manifest.as_ref().map(|file| (file, manifest::manifest(&found.surfaces))),
    ];
    let mut listed = true;
    for (file, json) in outputs.into_iter().flatten() {
        let text = serde_json::to_string_pretty(&json)? + "\n";
        if file == Path::new("-") {
            setting::print_data(&text);
            listed = false;
        } else {
            setting::write_whole(&root.join(file), &text)?;
        }
    }
    if listed {
        let one = paths.iter().all(|p| root.join(p).is_file());
        let told = if args.full || one { surveyed::long(&found.surfaces, style) } else { surveyed::short(&found.surfaces, style) };
        setting::print(&told);
    }
    for fault in &found.faults {
        setting::note(&format!("fidelon: {}: {}", fault.place, fault.fault.message));
    }
    Ok(if found.faults.is_empty() { exit::HOLDS } else { exit::WRONG })
}

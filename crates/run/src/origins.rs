//! Where the elements that findings are about were written: looked for in the component's own files first, then in those of the project
//! that it leads to. What a package wrote has no place there.

use std::collections::BTreeSet;
use std::path::Path;

use fidelon_core::finding::{Finding, RuleKind};
use fidelon_core::results::Component;
use fidelon_reader::origin::{self, Written};
use fidelon_source::Files as _;

use crate::affected::Reach;
use crate::stages::StageOptions;
use crate::surfaces::own_files;
use crate::survey::{Job, shown};

/// Files that are read for one component.
const MOST: usize = 400;

/// Gives each finding about an element the place at which that was written, where one is found; else that of the prop that makes it break.
pub(crate) fn locate(component: &mut Component, job: &Job, root: &Path, options: &StageOptions) {
    let open: Vec<&mut Finding> = component.findings.iter_mut().filter(|found| found.failure.place.is_none()).collect();
    let mut sources: Option<Vec<Written>> = None;
    for finding in open {
        if let Some(trace) = &finding.failure.element {
            let sources = sources.get_or_insert_with(|| sources_of(job, root, options));
            finding.failure.place = origin::find(trace, sources);
        }
        if finding.failure.place.is_none() && finding.kind == RuleKind::Law {
            let props = finding.cause.iter().flatten().map(|condition| condition.prop.as_str());
            finding.failure.place = props.filter_map(|prop| job.surface.prop(prop)).find_map(|prop| prop.place.clone());
        }
    }
}

/// The sources of a component, its own first.
fn sources_of(job: &Job, root: &Path, options: &StageOptions) -> Vec<Written> {
    let mut reach = Reach::new(root, options);
    let own = root.join(&job.surface.file).to_string_lossy().into_owned();
    let beside = reach.next(&own).unwrap_or_default().into_iter().filter(|file| is_markup(file));
    let mut files: Vec<String> = std::iter::once(own).chain(beside).collect();
    let first: BTreeSet<String> = files.iter().cloned().collect();
    files.extend(reach.files(job).into_iter().filter(|file| !first.contains(file)));
    let (_, disk) = own_files(root);
    let read = |file: String| {
        let path = Path::new(&file);
        let script = if is_markup(&file) { disk.read(&path.with_extension("ts")).unwrap_or_default() } else { String::new() };
        Some(Written::new(path, &shown(path, root), disk.read(path).ok()?, script))
    };
    files.into_iter().take(MOST).filter_map(read).collect()
}

fn is_markup(file: &str) -> bool {
    Path::new(file).extension().is_some_and(|e| e == "html" || e == "htm")
}

//! What is known of components by reading alone: what they pass to the children that they show, held against what those declare, and what
//! they declare and do not use.

use std::path::Path;

use fidelon_core::stage::Edit;
use fidelon_core::surface::ChildUse;
use fidelon_source::Files as _;

use crate::surfaces::{at_once, own_files};
use crate::survey::{Job, Survey, shown};

/// Reads for each component of a survey what it passes to children of the project that they do not declare, and what it does not use itself.
pub(crate) fn read(survey: &mut Survey, root: &Path) {
    let found = at_once(
        &survey.jobs,
        || own_files(root),
        |(types, files), job| {
            let path = root.join(&job.surface.file);
            let Ok(source) = files.read(&path) else { return (Vec::new(), Vec::new()) };
            let used = fidelon_reader::uses::uses(files, types, &path, &job.surface.file, job.surface.framework, &source);
            let mut out: Vec<ChildUse> = Vec::new();
            for child in used.iter().filter(|child| !child.passed.is_empty()) {
                let surfaces = fidelon_reader::surfaces(files, types, &child.file, &shown(&child.file, root)).unwrap_or_default();
                if let Some(surface) = surfaces.iter().find(|s| s.export == child.export) {
                    out.push(ChildUse { child: child.name.clone(), misuses: surface.misused(&child.name, &child.passed) });
                }
            }
            (out, fidelon_reader::unused::unused(&path, &source, &job.surface))
        },
    );
    for (job, (children, unused)) in survey.jobs.iter_mut().zip(found) {
        job.children = children;
        job.unused = unused;
    }
}

/// The same job where files have other texts than on the disk: what its own declares and does not use is read anew.
pub(crate) fn edited(job: &Job, edits: &[Edit]) -> Job {
    let mut out = job.clone();
    if let Some(edit) = edits.iter().find(|edit| edit.file == job.surface.file) {
        out.unused = fidelon_reader::unused::unused(&job.root.join(&edit.file), &edit.text, &job.surface);
    }
    out
}

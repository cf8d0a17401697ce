//! Which component of one side is which of the other.

use std::path::{Path, PathBuf};

use crate::pipeline::Request;
use crate::survey::{Survey, tidy};

/// Components by index into the jobs of their sides.
pub(super) enum Pair {
    Both(usize, usize),
    /// Only the first side has it.
    Gone(usize),
    /// Only the second side has it.
    New(usize),
}

/// One component on each side is a pair, whatever they are called; else files and names tell. Scenes are no components of their own: their
/// parts are compared.
pub(super) fn paired((before, first): (&Request, &Survey), (after, second): (&Request, &Survey)) -> Vec<Pair> {
    if first.jobs.len() == 1 && second.jobs.len() == 1 {
        return vec![Pair::Both(0, 0)];
    }
    let names = |request: &Request, survey: &Survey| {
        survey.jobs.iter().map(|job| key(request, &job.surface.file, &job.surface.export)).collect::<Vec<_>>()
    };
    let (a, b) = (names(before, first), names(after, second));
    let mut found: Vec<Option<usize>> = a.iter().map(|name| b.iter().position(|other| other == name)).collect();
    // Another framework keeps its files otherwise: what is left is known by its name, where that is the name of one on each side.
    let name = |survey: &Survey, index: usize| survey.jobs[index].surface.name.to_lowercase();
    let left: Vec<usize> = (0..b.len()).filter(|index| !found.contains(&Some(*index))).collect();
    for index in 0..a.len() {
        let own = name(first, index);
        let is_only = (0..a.len()).filter(|i| found[*i].is_none() && name(first, *i) == own).count() == 1;
        let mut alike = left.iter().filter(|other| name(second, **other) == own && !found.contains(&Some(**other)));
        if let (None, Some(other), None, true) = (found[index], alike.next(), alike.next(), is_only) {
            found[index] = Some(*other);
        }
    }
    let is_scene = |survey: &Survey, index: usize| survey.jobs[index].scene.state.is_some();
    let mut out: Vec<Pair> = Vec::new();
    for (index, found) in found.iter().enumerate().filter(|(index, _)| !is_scene(first, *index)) {
        out.push(found.map_or(Pair::Gone(index), |other| Pair::Both(index, other)));
    }
    out.extend((0..b.len()).filter(|index| !found.contains(&Some(*index)) && !is_scene(second, *index)).map(Pair::New));
    out
}

/// A component by its file below the folder that was named, without its extension, and its export.
fn key(request: &Request, file: &str, export: &str) -> (PathBuf, String) {
    let whole = request.root.join(file);
    let folder = request.paths.iter().map(|p| tidy(&request.root.join(p))).filter(|p| p.is_dir() && whole.starts_with(p)).max();
    let below = folder
        .and_then(|folder| whole.strip_prefix(folder).ok().map(Path::to_path_buf))
        .unwrap_or_else(|| whole.file_name().map(PathBuf::from).unwrap_or_default());
    (below.with_extension(""), export.to_owned())
}

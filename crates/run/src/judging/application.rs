//! A component that asks for what is around it, shown within what its application starts with.

use std::path::Path;

use fidelon_core::judge::laws::{self, Runs as _};
use fidelon_core::judge::warnings::{self, Kind};
use fidelon_core::observation::{Note, Tone};
use fidelon_core::results::Reason;
use fidelon_core::scene::{Scene, Started};
use fidelon_core::stage::Combination;
use fidelon_core::surface::{Framework, StartsBy, Surface};
use fidelon_loader::start::{Made, starts};

use super::alone;
use crate::caching_runner::CachingRunner;

/// Combinations that must all fail before a component is taken to ask for its application.
const ASKED: usize = 3;

/// Whether a component that stands alone misses something, or fails whatever it is passed.
pub(super) fn is_asked_for(surface: &Surface, root: &Path, combinations: &[Combination], runs: &mut CachingRunner<'_>) -> bool {
    if alone::cannot(surface, root, combinations, runs).is_ok_and(|reason| reason.is_some()) {
        return true;
    }
    if alone::warns(surface, combinations, runs).is_ok_and(|notes| !notes.is_empty()) {
        return true;
    }
    // A tag that names nothing may be registered for the whole application.
    let names_nothing = |n: &Note| n.tone == Tone::Warned && warnings::read(&n.text).is_some_and(|w| w.kind == Kind::UnknownElement);
    let has = |combination: &Combination, runs: &mut CachingRunner<'_>, is_it: &dyn Fn(&Note) -> bool| {
        let played = runs.play(&laws::mount(combination));
        played.is_ok_and(|o| o.phases.iter().flat_map(|p| &p.notes).any(is_it))
    };
    let asked = laws::spread(&combinations.iter().collect::<Vec<_>>(), ASKED);
    !asked.is_empty() && asked.iter().all(|c| has(c, runs, &|n| n.tone == Tone::Failed))
        || asked.iter().any(|c| has(c, runs, &names_nothing))
}

/// The same scene within what the application starts with that its first part belongs to; none where nothing says how that starts, or where
/// it stands there already.
pub(crate) fn within(scene: &Scene, root: &Path) -> Option<Scene> {
    let surface = scene.parts.first().map(|part| &part.surface)?;
    let made = match surface.framework.record().starts_by? {
        StartsBy::Application => Made::Vue,
        StartsBy::Rendering => Made::Jsx,
    };
    // Who says what stands around it has said all.
    if !scene.start.is_empty() || !scene.setup.is_empty() || !scene.wrap.is_empty() || surface.is_served() {
        return None;
    }
    let shown = |file: &Path| file.strip_prefix(root).unwrap_or(file).to_string_lossy().into_owned();
    // The root component brings its own.
    let is_itself = |started: &Started| started.file == surface.file;
    let start: Vec<Started> = starts(&root.join(&surface.file), made)
        .into_iter()
        .map(|start| Started { file: shown(&start.file), code: start.code })
        .filter(|started| !is_itself(started))
        .collect();
    (!start.is_empty()).then(|| Scene { start, ..scene.clone() })
}

/// What packages that the application brings warn of in plain cases, most of them once for a page: it is not said of the component.
pub(super) fn said_around(combinations: &[Combination], runs: &mut CachingRunner<'_>) -> Vec<String> {
    let is_elsewhere = |n: &Note| {
        let package = n.place.as_ref().and_then(|place| place.file.rsplit_once("node_modules/"));
        n.tone == Tone::Warned
            && warnings::read(&n.text).is_none()
            && package.is_none_or(|(_, within)| !is_of_framework(within))
            && n.place.as_ref().is_none_or(|place| place.file.contains("node_modules/"))
    };
    let mut out: Vec<String> = Vec::new();
    for combination in laws::spread(&combinations.iter().collect::<Vec<_>>(), ASKED) {
        let Ok(observation) = runs.play(&laws::mount(combination)) else { continue };
        out.extend(observation.phases.iter().flat_map(|p| &p.notes).filter(|n| is_elsewhere(n)).map(|n| n.text.clone()));
    }
    out.sort();
    out.dedup();
    out
}

/// Whether a path within `node_modules` is of a framework's package.
fn is_of_framework(within: &str) -> bool {
    let parts = if within.starts_with('@') { 2 } else { 1 };
    let end = within.match_indices('/').nth(parts - 1).map_or(within.len(), |(at, _)| at);
    Framework::is_package(&within[..end])
}

/// What is said of a component that was judged so.
pub(super) fn note(scene: &Scene) -> String {
    let files: Vec<String> = scene.start.iter().map(|started| format!("`{}`", started.file)).collect();
    format!("judged within what {} {} around it", files.join(" and "), if files.len() > 1 { "put" } else { "puts" })
}

/// What is said of a component that asked for its application in vain.
pub(super) fn refused(scene: &Scene, reason: Option<&Reason>) -> String {
    let files: Vec<String> = scene.start.iter().map(|started| format!("`{}`", started.file)).collect();
    let because = reason.map_or_else(String::new, |reason| format!(": {}", reason.message));
    format!("what {} {} around it did not help{because}", files.join(" and "), if files.len() > 1 { "put" } else { "puts" })
}

//! A component that asks for what is around it, shown within what its application starts with.

use std::path::Path;

use fidelon_core::contract::Contract;
use fidelon_core::judge::equivalence::observable;
use fidelon_core::judge::laws::{self, Runs as _};
use fidelon_core::judge::warnings::{self, Kind};
use fidelon_core::naming::package_of;
use fidelon_core::observation::{Note, Tone};
use fidelon_core::results::Reason;
use fidelon_core::scene::{Scene, Started};
use fidelon_core::stage::{Combination, Expressions, Stage};
use fidelon_core::surface::{Framework, StartsBy, Surface};
use fidelon_loader::start;

use super::{alone, parents};
use crate::caching_runner::{CachingRunner, Realms};
use crate::learning;
use crate::planning::{extremes, plan_of};
use crate::survey::Job;

/// Combinations that must all fail before a component is taken to ask for its application.
const ASKED: usize = 3;

/// Combinations that are looked at to see whether a component shows at all.
const MOST_LOOKED_AT: usize = 24;

/// What a component that stands alone says to miss, or that it fails with whatever it is passed; none for any other.
fn is_asked_for(surface: &Surface, cannot: Option<&Reason>, combinations: &[Combination], runs: &mut CachingRunner<'_>) -> Option<String> {
    if let Some(reason) = cannot {
        return Some(reason.message.clone());
    }
    if let Some(first) = alone::warns(surface, combinations, runs).ok().and_then(|notes| notes.into_iter().next()) {
        return Some(first);
    }
    let noted = |combination: &Combination, runs: &mut CachingRunner<'_>, is_it: &dyn Fn(&Note) -> bool| {
        let played = runs.play(&laws::mount(combination)).ok()?;
        played.phases.iter().flat_map(|p| &p.notes).find(|n| is_it(n)).map(|n| n.text.clone())
    };
    let asked = laws::spread(&combinations.iter().collect::<Vec<_>>(), ASKED);
    let failed: Option<Vec<String>> = asked.iter().map(|c| noted(c, runs, &|n| n.tone == Tone::Failed)).collect();
    if let Some(first) = failed.and_then(|all| all.into_iter().next()) {
        return Some(first);
    }
    // A tag that names nothing may be registered for the whole application.
    let names_nothing = |n: &Note| n.tone == Tone::Warned && warnings::read(&n.text).is_some_and(|w| w.kind == Kind::UnknownElement);
    asked.iter().find_map(|c| noted(c, runs, &names_nothing))
}

/// What a component needs around it that is not there.
pub(super) enum Need {
    /// Nothing.
    Nothing,
    /// It asks for more around it, and the project has nothing that could be put there.
    Unmet,
    /// It asks for more around it, and the project has that.
    Met(Scene),
    /// It cannot be judged.
    Cannot(Reason),
}

/// What a component needs around it; `alone` where nothing more may be put there.
pub(super) fn need(job: &Job, alone: bool, combinations: &[Combination], runs: &mut CachingRunner<'_>) -> Need {
    // What cannot be played is told by the first law that asks for it.
    let cannot = alone::cannot(&job.surface, &job.root, combinations, runs).ok().flatten();
    // Who says what stands around it has said all.
    let may_ask = !alone && job.wrapped == 0 && job.scene.setup.is_empty() && !job.root.as_os_str().is_empty();
    let asked = may_ask.then(|| is_asked_for(&job.surface, cannot.as_ref(), combinations, runs)).flatten();
    if let Some(scene) = asked.as_ref().and_then(|said| more(job, said)) {
        return Need::Met(scene);
    }
    if job.scene.wrap.len() > job.wrapped && !shows(combinations, runs) {
        return Need::Cannot(Reason { message: "within its parent it is not shown".into(), place: None, file: false });
    }
    match cannot {
        Some(reason) => Need::Cannot(reason),
        None if asked.is_some() => Need::Unmet,
        None => Need::Nothing,
    }
}

/// Takes what is said around a component for no words of its own; tells them.
pub(super) fn leave_out(job: &Job, combinations: &[Combination], runs: &mut CachingRunner<'_>) -> Option<String> {
    let is_part = job.scene.wrap.len() > job.wrapped;
    if job.scene.start.is_empty() && !is_part {
        return None;
    }
    let said = said_around(is_part, combinations, runs);
    let told = in_short(&said);
    runs.leave_out(said);
    told
}

/// The component with more around it, by what it says to miss: the parent that it is a part of, or what its application starts with.
fn more(job: &Job, said: &str) -> Option<Scene> {
    parents::within(&job.scene, &job.root, &job.index, said).or_else(|| within(&job.scene, &job.root))
}

/// Whether anything of a component is to be seen: within a parent that is closed all cases look the same.
fn shows(combinations: &[Combination], runs: &mut CachingRunner<'_>) -> bool {
    let mut seen: Vec<std::sync::Arc<str>> = Vec::new();
    for combination in laws::spread(&combinations.iter().collect::<Vec<_>>(), MOST_LOOKED_AT) {
        let Ok(observation) = runs.play(&laws::mount(combination)) else { continue };
        let Some(shown) = observation.mount().map(observable) else { continue };
        if seen.iter().any(|known| *known != shown) {
            return true;
        }
        seen.push(shown);
    }
    false
}

/// The same scene within what the application starts with that its first part belongs to; none where nothing says how that starts, or where
/// it stands there already.
fn within(scene: &Scene, root: &Path) -> Option<Scene> {
    let surface = scene.parts.first().map(|part| &part.surface)?;
    let read = match surface.framework.record().starts_by? {
        StartsBy::Application => start::of_application,
        StartsBy::Rendering => start::of_rendering,
    };
    if !scene.start.is_empty() || surface.is_served() {
        return None;
    }
    let shown = |file: &Path| file.strip_prefix(root).unwrap_or(file).to_string_lossy().into_owned();
    // The root component brings its own.
    let is_itself = |started: &Started| started.file == surface.file;
    let start: Vec<Started> = read(&root.join(&surface.file))
        .into_iter()
        .map(|start| Started { file: shown(&start.file), code: start.code })
        .filter(|started| !is_itself(started))
        .collect();
    (!start.is_empty()).then(|| Scene { start, ..scene.clone() })
}

/// What is said around the component, in a few words.
fn in_short(said: &[String]) -> Option<String> {
    let short = |text: &String| {
        let line = text.lines().next().unwrap_or_default();
        let cut: String = line.chars().take(100).collect();
        if cut.len() < line.len() { format!("{cut}…") } else { cut }
    };
    (!said.is_empty()).then(|| format!("warned of around it: {}", said.iter().map(short).collect::<Vec<_>>().join("; ")))
}

/// What packages that the application brings warn of in plain cases, most of them once for a page: it is not said of the component. Of a part
/// that stands without the others so does the parent's own code.
fn said_around(is_part: bool, combinations: &[Combination], runs: &mut CachingRunner<'_>) -> Vec<String> {
    let is_elsewhere = |n: &Note| {
        let package = n.place.as_ref().and_then(|place| package_of(&place.file));
        n.tone == Tone::Warned
            && warnings::read(&n.text).is_none()
            && package.is_none_or(|package| !Framework::is_package(package))
            && (is_part || n.place.is_none() || package.is_some())
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

/// What was put around a component, in words.
fn put(before: &Scene, after: &Scene) -> String {
    let parents = after.wrap.len() - before.wrap.len();
    let names = after.wrap[..parents].iter().map(|w| match w.component.export.as_str() {
        "default" => format!("`{}`", w.component.file),
        export => format!("`{}#{export}`", w.component.file),
    });
    let start = after.start.iter().map(|started| format!("what `{}` puts around it", started.file));
    start.chain(names).collect::<Vec<_>>().join(", ")
}

/// What is said of a component that was judged so.
pub(super) fn note(before: &Scene, after: &Scene) -> String {
    format!("judged within {}", put(before, after))
}

/// What is said of a component that asked for what is around it in vain.
pub(super) fn refused(before: &Scene, after: &Scene, reason: Option<&Reason>) -> String {
    let because = reason.map_or_else(String::new, |reason| format!(": {}", reason.message));
    format!("tried within {}{because}", put(before, after))
}

/// The job within what it asks for, for whoever shows a component and does not judge it; none where it asks for nothing, or for what the
/// project does not have or cannot show.
pub(crate) fn surrounded(job: &Job, contract: Option<&Contract>, stage: &mut dyn Stage, engine: &mut dyn Expressions) -> Option<Job> {
    if contract.is_some_and(|c| c.scene.is_some()) {
        return None;
    }
    let surroundings = contract.map(|c| c.surroundings.clone()).unwrap_or_default();
    let mut within = job.clone();
    stage.open(&within.scene).ok()?;
    // Most say nothing when they are mounted: a plan is made of those that do.
    let mut first = CachingRunner::new(stage, Realms::Shared, surroundings.clone());
    let is_quiet =
        |combination: &Combination| first.play(&laws::mount(combination)).is_ok_and(|o| o.phases.iter().all(|p| p.notes.is_empty()));
    if extremes(&within.surface, contract).iter().all(is_quiet) {
        return None;
    }
    loop {
        stage.open(&within.scene).ok()?;
        let mut runs = CachingRunner::new(stage, Realms::Shared, surroundings.clone());
        let learned = learning::learned(&within.surface, contract, &mut runs);
        let planned = plan_of(&learned, contract, engine).ok()?;
        let combinations = &planned.plan.combinations;
        match need(&within, false, combinations, &mut runs) {
            Need::Met(scene) => within.scene = scene,
            Need::Nothing | Need::Unmet => return (within.scene != job.scene).then_some(within),
            Need::Cannot(_) => return None,
        }
    }
}

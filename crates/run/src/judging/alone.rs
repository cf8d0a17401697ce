//! What cannot be judged alone: a part that asks for its parent, a component without its provider.

use std::path::Path;

use fidelon_core::finding::Failure;
use fidelon_core::judge::laws::{self, Runs as _};
use fidelon_core::judge::missing::{self, Missing};
use fidelon_core::observation::{Note, Observation, Tone};
use fidelon_core::plan::values;
use fidelon_core::results::Reason;
use fidelon_core::stage::{Combination, StageError};
use fidelon_core::surface::{Prop, Surface, Type};
use fidelon_core::value::Value;

use super::application::ProjectApplication;
use super::state;
use crate::caching_runner::CachingRunner;

/// Combinations that must all miss the same before a component is not judged.
const ASKED: usize = 3;

/// Why a component cannot be judged alone: whatever it is passed, it throws for want of what is around it.
pub(super) fn cannot(
    surface: &Surface,
    root: &Path,
    combinations: &[Combination],
    runs: &mut CachingRunner<'_>,
) -> Result<Option<Reason>, StageError> {
    let mut found: Option<Missing> = None;
    for combination in laws::spread(&combinations.iter().collect::<Vec<_>>(), ASKED) {
        let observation = runs.play(&laws::mount(combination))?;
        let failed = observation.phases.iter().flat_map(|p| &p.notes).find(|n| n.tone == Tone::Failed);
        let of_context = || {
            let failed = failed.filter(|_| surface.asks_around)?;
            missing::of_context(&failed.text).or_else(|| missing::of_refused_context(&failed.text))
        };
        let of_warning = || failed.and_then(|n| missing::of_warning(&observation, &n.text));
        let of_request = || failed.filter(|_| !surface.is_served()).and_then(|n| missing::of_requests(&observation, &n.text));
        let of_state = || failed.and_then(|n| state::unset(root, n.place.as_ref(), &n.text));
        let of_content =
            || failed.filter(|_| surface.speaks_to_content && !surface.slots.is_empty()).and_then(|n| missing::of_content(&n.text));
        let of_prop = || failed.and_then(|n| without(surface, combination, &n.text));
        let of_package = || failed.filter(|n| is_within_a_package(n)).and_then(|n| elsewhere(&n.text));
        let of_refusal = || failed.filter(|n| n.place.is_some()).and_then(|n| refused(&n.text));
        match said(&observation, Tone::Failed)
            .into_iter()
            .next()
            .or_else(of_warning)
            .or_else(of_state)
            .or_else(of_request)
            .or_else(of_context)
            .or_else(of_prop)
            .or_else(of_content)
            .or_else(of_package)
            .or_else(of_refusal)
        {
            Some(missing) => found = found.or(Some(missing)),
            None => return Ok(None),
        }
    }
    Ok(found.map(|missing| Reason {
        message: format!("it cannot be judged alone: {} ({})", missing.said, missing.remedy),
        place: None,
        file: false,
    }))
}

/// Whether an error was thrown in code of a package, as far as is known.
fn is_within_a_package(note: &Note) -> bool {
    note.place.as_ref().is_some_and(|place| place.file.contains("node_modules/"))
}

/// What an error comes of that somebody wrote on purpose, by its words, and that is thrown in every combination: something is asked for that
/// the plan does not know of. What the language itself throws is a fault, and so is any other error.
fn refused(text: &str) -> Option<Missing> {
    const NATIVE: [&str; 6] = ["TypeError", "ReferenceError", "RangeError", "SyntaxError", "InternalError", "URIError"];
    let first = text.lines().next().unwrap_or_default();
    let kind = first.split(':').next().unwrap_or_default();
    let is_error = kind.ends_with("Error") || kind.ends_with(" error");
    const ASKS: [&str; 13] = [
        "must ",
        "should ",
        "need",
        "require",
        "provide",
        "wrap",
        "xpected",
        "not supported",
        "no longer",
        "without ",
        "issing ",
        "nvalid ",
        "not initiali",
    ];
    let asks = ASKS.iter().any(|words| text.contains(words));
    (is_error && asks && !NATIVE.contains(&kind)).then(|| Missing {
        said: format!("it refuses whatever is passed: {first}"),
        remedy: "give what it asks for under `props:`, `slots:` or `wrap` in a contract",
    })
}

/// What an error comes of that a package throws in every combination because something is nothing.
fn elsewhere(text: &str) -> Option<Missing> {
    missing::of_context(text)?;
    let first = text.lines().next().unwrap_or_default();
    Some(Missing {
        said: format!("a package that it uses throws whatever is passed: {first}"),
        remedy: "if it needs a plugin, a provider or a parent, name them under `setup` in fidelon.toml or under `wrap`",
    })
}

/// What an error comes of that says that something is nothing, where there are props that nothing is passed for: their type says too little.
fn without(surface: &Surface, combination: &Combination, text: &str) -> Option<Missing> {
    missing::of_context(text)?;
    let is_untold = |p: &&Prop| {
        let passed = combination.props.get(&p.name).filter(|v| **v != Value::Absent);
        match p.ty {
            Type::Unresolved { .. } => passed.is_none_or(|v| values::guess(p).as_ref() == Some(v)),
            _ => passed.is_some() && lacks_parts(&p.ty),
        }
    };
    let names: Vec<String> = surface.props.iter().filter(is_untold).map(|p| format!("`{}`", p.name)).collect();
    let first = text.lines().next().unwrap_or_default();
    let remedy = "give values under `props:` in a contract";
    if !names.is_empty() {
        let said = format!("without {}, of which its source does not tell what they take, it throws: {first}", names.join(", "));
        return Some(Missing { said, remedy });
    }
    // A function that is required and made up gives nothing, where the component may count on what it gives.
    let mut functions = surface.props.iter().filter(|p| p.required && p.ty == Type::Function);
    functions.next().map(|p| Missing {
        said: format!("where `{}`, which it requires, is a function that gives nothing, it throws: {first}", p.name),
        remedy,
    })
}

/// Whether things of a type must have a part that its source does not tell: what is made up for it is no whole thing.
fn lacks_parts(ty: &Type) -> bool {
    match ty {
        Type::Object { fields } => fields.iter().any(|f| f.required && (matches!(f.ty, Type::Unresolved { .. }) || lacks_parts(&f.ty))),
        Type::Array { of } => lacks_parts(of),
        _ => false,
    }
}

/// What a component that can be judged warns that is not around it, and what throws for want of it in some combinations.
pub(super) fn warns(surface: &Surface, combinations: &[Combination], runs: &mut CachingRunner<'_>) -> Result<Vec<String>, StageError> {
    let mut found: Vec<Missing> = Vec::new();
    // Every combination is mounted for the laws anyhow; only one that uses a context has something to tell beyond the first.
    let asked = if surface.around.is_empty() { 1 } else { combinations.len() };
    for combination in &combinations[..asked.min(combinations.len())] {
        let observation = runs.play(&laws::mount(combination))?;
        found.extend(said(&observation, Tone::Warned));
        let failed = observation.phases.iter().flat_map(|p| &p.notes).filter(|n| n.tone == Tone::Failed);
        found.extend(failed.filter_map(|note| {
            let failure = Failure { actual: Some(note.text.clone()), place: note.place.clone(), ..Failure::default() };
            missing::explains(surface, &failure)
        }));
    }
    let mut out: Vec<String> = Vec::new();
    for note in found.iter().map(in_words) {
        if !out.contains(&note) {
            out.push(note);
        }
    }
    Ok(out)
}

fn in_words(missing: &Missing) -> String {
    format!("it misses something around it: {} ({})", missing.said, missing.remedy)
}

/// Notes with what was thrown in some of all that was played and is no fault, since it says that something is missing or a framework warned of
/// that before, and what is missing of the application; nothing twice.
pub(super) fn with_explained(mut notes: Vec<String>, runs: &CachingRunner<'_>, application: &ProjectApplication<'_>) -> Vec<String> {
    let thrown = |o: &Observation| {
        let failed = o.phases.iter().flat_map(|p| &p.notes).find(|n| n.tone == Tone::Failed)?;
        missing::of_warning(o, &failed.text).or_else(|| missing::read(&failed.text))
    };
    let found: std::collections::BTreeSet<String> = runs.seen().filter_map(thrown).map(|missing| in_words(&missing)).collect();
    let more: Vec<String> = found.into_iter().chain(application.notes(runs)).filter(|note| !notes.contains(note)).collect();
    notes.extend(more);
    notes
}

fn said(observation: &Observation, tone: Tone) -> Vec<Missing> {
    let notes = observation.phases.iter().flat_map(|p| &p.notes);
    notes.filter(|n| n.tone == tone).filter_map(|n| missing::read(&n.text)).collect()
}

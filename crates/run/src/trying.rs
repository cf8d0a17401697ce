//! A component to be tried by hand: what it can be given, and a combination that is to be kept in its contract.

use std::path::Path;

use fidelon_core::contract;
use fidelon_core::draft::kept;
use fidelon_core::observation::Tone;
use fidelon_core::stage::{Combination, Parent, Script};
use fidelon_stage::Sandbox;

use crate::judging::opened;
use crate::pipeline::{Request, contract_of};
use crate::survey::{CONTRACT, Job, Survey};

/// The combinations of a component's plan, each with the name of its case. The plainest comes first.
///
/// # Errors
/// Why there is no plan, in words.
pub fn combinations(request: &Request, survey: &Survey, job: &Job) -> Result<Vec<(String, Combination)>, String> {
    let mut stage = request.stage.stage();
    let held = contract_of(survey, job);
    let planned = opened(job, held.and_then(|h| h.contract), stage.as_mut(), &mut Sandbox::default())?;
    Ok(planned.plan.combinations.into_iter().map(|c| (format!("{}@{}", job.surface.name, c.tag()), c)).collect())
}

/// The file of a contract, and its text with one more clause.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Kept {
    /// Relative to the root.
    pub file: String,
    /// The whole text.
    pub text: String,
    /// The line on which the clause begins.
    pub line: usize,
}

/// What becomes of a component's contract when a combination of it is kept, under these words, as it is rendered now. Nothing is written.
///
/// # Errors
/// Why it cannot be kept, in words.
pub fn keep(request: &Request, survey: &Survey, job: &Job, words: &str, combination: &Combination) -> Result<Kept, String> {
    let held = contract_of(survey, job);
    if held.is_some_and(|h| h.contract.is_none()) {
        return Err("its contract has faults: mend them first".into());
    }
    let surroundings = held.and_then(|h| h.contract).map(|c| c.surroundings.clone()).unwrap_or_default();
    let mut stage = request.stage.stage();
    stage.open(&job.scene).map_err(|e| e.to_string())?;
    let script = Script { combination: combination.clone(), parent: Parent::Obeys, phases: Vec::new(), seed: 1, surroundings };
    let observation = stage.play(&script).map_err(|e| e.to_string())?;
    let seen = observation.mount().ok_or("nothing was to be seen")?;
    if let Some(failed) = seen.notes.iter().find(|n| n.tone == Tone::Failed) {
        return Err(format!("it throws: {}", failed.text));
    }
    let clause = kept::clause(words, combination, seen).ok_or("nothing is to be seen that a contract could speak of")?;
    let (file, component) = match held {
        Some(held) => (held.file.to_owned(), String::new()),
        None => beside(job),
    };
    if held.is_none() && request.root.join(&file).exists() {
        return Err(format!("`{file}` is there already and names another component: name this one in it first"));
    }
    let text = kept::put(held.map(|h| h.text), &component, &clause);
    let faults = contract::read_all(&text, &|name| {
        let folder = request.root.join(&file);
        std::fs::read_to_string(folder.parent().unwrap_or(&folder).join(name)).map_err(|e| e.to_string())
    })
    .1;
    if let Some(fault) = faults.first() {
        return Err(fault.message.clone());
    }
    let first = clause.lines().next().unwrap_or_default();
    let line = text.lines().position(|l| l.trim_start() == first).map_or(1, |at| at + 1);
    Ok(Kept { file, text, line })
}

/// Writes what is kept: whole, beside and then renamed.
///
/// # Errors
/// What the system says.
pub fn write(root: &Path, kept: &Kept) -> Result<(), String> {
    let file = root.join(&kept.file);
    let failed = |e: std::io::Error| format!("`{}` cannot be written: {e}", kept.file);
    let mut temporary = tempfile::NamedTempFile::new_in(file.parent().unwrap_or(root)).map_err(failed)?;
    std::io::Write::write_all(&mut temporary, kept.text.as_bytes()).map_err(failed)?;
    if let Ok(before) = std::fs::metadata(&file) {
        temporary.as_file().set_permissions(before.permissions()).map_err(failed)?;
    }
    temporary.persist(&file).map_err(|e| failed(e.error))?;
    Ok(())
}

/// Where the contract of a component without one goes, and how it names it.
fn beside(job: &Job) -> (String, String) {
    let file = &job.surface.file;
    let path = Path::new(file);
    let name = path.file_name().map(|n| n.to_string_lossy().into_owned()).unwrap_or_default();
    let stem = name.split('.').next().unwrap_or(&name);
    let export = if job.surface.export == "default" { String::new() } else { format!("#{}", job.surface.export) };
    (path.with_file_name(format!("{stem}{CONTRACT}")).to_string_lossy().replace('\\', "/"), format!("./{name}{export}"))
}

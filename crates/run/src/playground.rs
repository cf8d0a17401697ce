//! A component to be tried by hand: what it can be given, and a combination that is to be kept in its contract.

use std::path::Path;
use std::sync::{Mutex, PoisonError};

use fidelon_core::contract;
use fidelon_core::draft::kept;
use fidelon_core::observation::Tone;
use fidelon_core::stage::{Combination, Parent, Script};
use fidelon_source::{Bounds, DiskFiles, FileError, Files, ProjectFiles};
use fidelon_stage::Sandbox;

use crate::judging::{around, opened};
use crate::pipeline::{Request, contract_of};
use crate::survey::{Job, Survey, contract_beside, tidy};

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

/// Where a clause was put.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Kept {
    /// The contract, relative to the root.
    pub file: String,
    /// The line on which the clause begins.
    pub line: usize,
}

/// Keeps a combination of a component in its contract, under these words, as it is rendered now: the clause is put into what the file says
/// at that moment, whatever it said when it was surveyed, and the file is written whole.
///
/// # Errors
/// Why it cannot be kept, in words. Nothing is written then.
pub fn keep(request: &Request, survey: &Survey, job: &Job, words: &str, combination: &Combination) -> Result<Kept, String> {
    let held = contract_of(survey, job);
    if held.is_some_and(|h| h.contract.is_none()) {
        return Err("its contract has faults: fix them first".into());
    }
    let surroundings = held.and_then(|h| h.contract).map(|c| c.surroundings.clone()).unwrap_or_default();
    let mut stage = request.stage.stage();
    let surrounded = around::surrounded(job, held.and_then(|h| h.contract), stage.as_mut(), &mut Sandbox::default());
    stage.open(&surrounded.as_ref().unwrap_or(job).scene).map_err(|e| e.to_string())?;
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
    // Two that keep at once do so one after the other. Who writes the file otherwise is seen by what it says.
    static WRITING: Mutex<()> = Mutex::new(());
    let _one = WRITING.lock().unwrap_or_else(PoisonError::into_inner);
    let path = request.root.join(&file);
    for _ in 0..ATTEMPTS {
        let now = match DiskFiles.read(&path) {
            Ok(text) => Some(text),
            Err(FileError::Missing) if held.is_none() => None,
            Err(FileError::Missing) => return Err(format!("`{file}` is there no more: it may have been renamed")),
            Err(error) => return Err(format!("`{file}`: {error}")),
        };
        if let Some(text) = now.as_ref().filter(|_| held.is_none())
            && !names(text, job)
        {
            return Err(format!("`{file}` is there already and names another component: name this one in it first"));
        }
        let text = kept::put(now.as_deref(), &component, &clause);
        let bounds = ProjectFiles(Bounds::of(&[&request.root]));
        let faults = contract::read_all(&text, &|name| {
            let folder = path.parent().unwrap_or(&path);
            bounds.read(&tidy(&folder.join(name))).map_err(|e| e.to_string())
        })
        .1;
        if let Some(fault) = faults.first() {
            return Err(format!("`{file}`, as it is now, has a fault: {}", fault.message));
        }
        if write(&request.root, &file, now.as_deref(), &text)? {
            let first = clause.lines().next().unwrap_or_default();
            let line = text.lines().position(|l| l.trim_start() == first).map_or(1, |at| at + 1);
            return Ok(Kept { file, line });
        }
    }
    Err(format!("`{file}` is being changed by another program again and again: nothing was written"))
}

/// How often a file is read anew that changes while a clause is put into it.
const ATTEMPTS: usize = 5;

/// Whether a contract names the component of a job.
fn names(text: &str, job: &Job) -> bool {
    let name = Path::new(&job.surface.file).file_name().map(|n| n.to_string_lossy().into_owned()).unwrap_or_default();
    let file = |named: &String| named.split('#').next().and_then(|n| n.rsplit('/').next()).map(str::to_owned);
    contract::named_components(text).iter().any(|named| file(named).as_deref() == Some(&name))
}

/// Writes a file whole, as long as it still says what it said `before`; false where it does not.
fn write(root: &Path, file: &str, before: Option<&str>, text: &str) -> Result<bool, String> {
    let path = root.join(file);
    let failed = |e: std::io::Error| format!("`{file}` cannot be written: {e}");
    if path.is_symlink() {
        return Err(format!("`{file}` is a link: nothing is written through it"));
    }
    let mut temporary = fidelon_source::temporary(path.parent().unwrap_or(root)).map_err(failed)?;
    std::io::Write::write_all(&mut temporary, text.as_bytes()).map_err(failed)?;
    match before {
        Some(before) => {
            if DiskFiles.read(&path).ok().as_deref() != Some(before) {
                return Ok(false);
            }
            let permissions = std::fs::metadata(&path).map_err(failed)?.permissions();
            temporary.as_file().set_permissions(permissions).map_err(failed)?;
            temporary.persist(&path).map_err(|e| failed(e.error))?;
        }
        None => {
            let made = temporary.persist_noclobber(&path);
            if made.as_ref().is_err_and(|e| e.error.kind() == std::io::ErrorKind::AlreadyExists) {
                return Ok(false);
            }
            made.map_err(|e| failed(e.error))?;
        }
    }
    Ok(true)
}

/// Where the contract of a component without one goes, and how it names it.
fn beside(job: &Job) -> (String, String) {
    let file = &job.surface.file;
    let path = Path::new(file);
    let name = path.file_name().map(|n| n.to_string_lossy().into_owned()).unwrap_or_default();
    let export = if job.surface.export == "default" { String::new() } else { format!("#{}", job.surface.export) };
    (contract_beside(file), format!("./{name}{export}"))
}

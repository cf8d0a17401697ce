//! The whole line: files → surfaces and contracts → plans → stage → observations → judgement → results.

use std::path::PathBuf;
use std::sync::Mutex;
use std::sync::atomic::{AtomicUsize, Ordering};

use fidelon_core::results::{Component, FileFault, Results, Totals};
use fidelon_core::stage::Stage;
use fidelon_core::{Verdict, contract::Contract};
use fidelon_stage::Sandbox;

use crate::events::RunEvent;
use crate::judging::{self, How};
use crate::settings;
use crate::stages::StageOptions;
use crate::survey::{self, Job, Survey, SurveyError};

/// What is to be checked, and how.
#[derive(Debug, Clone)]
pub struct Request {
    /// The folder that paths are relative to.
    pub root: PathBuf,
    /// Files and folders.
    pub paths: Vec<PathBuf>,
    /// How stages are set up.
    pub stage: StageOptions,
    /// How many components are judged at once.
    pub workers: usize,
    /// Whether what is played is played on the other kind of stage too, and compared.
    pub confirm: bool,
    /// How each component is judged.
    pub how: How,
}

/// Worker threads evaluate expressions in the engine: its own limit is 4 MiB.
const WORKER_STACK: usize = 16 << 20;

/// Checks every component below the paths of a request. The results depend on the files alone, not on threads or time.
///
/// # Errors
/// [`SurveyError`] when a path cannot be used. What is wrong with a file or a component is part of the results.
pub fn check(request: &Request, tell: &(dyn Fn(RunEvent) + Sync)) -> Result<Results, SurveyError> {
    let survey = survey::survey(&request.root, &request.paths)?;
    tell(RunEvent::Surveyed { components: survey.jobs.len(), contracts: survey.contracts.len() });
    let judged = judge_all(request, &survey, tell);
    let (components, mut faults): (Vec<Component>, Vec<Vec<FileFault>>) = judged.into_iter().unzip();
    let mut all: Vec<FileFault> = survey.faults;
    for fault in faults.drain(..).flatten() {
        // A contract that several components share tells a fault once.
        if !all.contains(&fault) {
            all.push(fault);
        }
    }
    all.sort_by(|a, b| a.place.cmp(&b.place));
    // Only a component that is judged can tell: a folder that was not checked is not missed.
    let idle =
        survey.exemptions.iter().filter(|e| !e.is_used() && survey.jobs.iter().any(|j| e.covers(&request.root.join(&j.surface.file))));
    let notes = idle
        .map(|e| format!("{}: the exemption of {} in {} exempts nothing: take it out", settings::FILE, e.exemption.law, e.shown))
        .collect();
    Ok(Results { notes, ..results(components, all) })
}

/// A component's results, and what is wrong with its contract.
type Judged = (Component, Vec<FileFault>);

fn judge_all(request: &Request, survey: &Survey, tell: &(dyn Fn(RunEvent) + Sync)) -> Vec<Judged> {
    let done = AtomicUsize::new(0);
    over_jobs(request, survey, &|work: Work<'_>| {
        let name = judging::name_of(&work.job.surface);
        tell(RunEvent::Started { component: name.clone() });
        let judged = judging::judge(work.job, work.held, work.stage, work.other, work.sandbox, request.how);
        let done = done.fetch_add(1, Ordering::Relaxed) + 1;
        tell(RunEvent::Judged { component: name, verdict: judged.0.verdict, done });
        judged
    })
}

/// One job and what a worker has for it.
pub(crate) struct Work<'a> {
    pub(crate) job: &'a Job,
    pub(crate) held: Option<judging::Held<'a>>,
    pub(crate) stage: &'a mut dyn Stage,
    /// The other kind of stage, where what is seen is to be confirmed.
    pub(crate) other: Option<&'a mut dyn Stage>,
    pub(crate) sandbox: &'a mut Sandbox,
}

/// Does something with every job, on as many threads as were asked for; what comes of it is in the order of the jobs.
pub(crate) fn over_jobs<T: Send>(request: &Request, survey: &Survey, work: &(dyn Fn(Work<'_>) -> T + Sync)) -> Vec<T> {
    let next = AtomicUsize::new(0);
    let slots: Vec<Mutex<Option<T>>> = survey.jobs.iter().map(|_| Mutex::new(None)).collect();
    std::thread::scope(|scope| {
        for _ in 0..request.workers.clamp(1, survey.jobs.len().max(1)) {
            let worker = || {
                let mut stage = request.stage.stage();
                let mut other = request.confirm.then(|| request.stage.other().stage());
                let mut sandbox = Sandbox::default();
                while let Some((index, job)) = take(&next, &survey.jobs) {
                    let other: Option<&mut dyn Stage> = match &mut other {
                        Some(other) => Some(other.as_mut()),
                        None => None,
                    };
                    let held = contract_of(survey, job);
                    let completed = crate::told::completed(job, held.and_then(|h| h.contract), stage.as_mut());
                    let job = completed.as_ref().unwrap_or(job);
                    let done = work(Work { job, held, stage: stage.as_mut(), other, sandbox: &mut sandbox });
                    if let Ok(mut slot) = slots[index].lock() {
                        *slot = Some(done);
                    }
                }
            };
            std::thread::Builder::new().stack_size(WORKER_STACK).spawn_scoped(scope, worker).expect("the system gives a thread");
        }
    });
    slots.into_iter().filter_map(|slot| slot.into_inner().ok().flatten()).collect()
}

fn take<'a>(next: &AtomicUsize, jobs: &'a [Job]) -> Option<(usize, &'a Job)> {
    let index = next.fetch_add(1, Ordering::Relaxed);
    jobs.get(index).map(|job| (index, job))
}

pub(crate) fn contract_of<'a>(survey: &'a Survey, job: &Job) -> Option<judging::Held<'a>> {
    let file = survey.contracts.get(job.contract?)?;
    let contract: Option<&Contract> = file.contract.as_ref();
    Some(judging::Held { file: &file.file, text: &file.text, contract, partial: file.partial.as_ref() })
}

fn results(components: Vec<Component>, faults: Vec<FileFault>) -> Results {
    let mut totals = Totals { components: components.len(), ..Totals::default() };
    for c in &components {
        totals.combinations += c.combinations;
        totals.checks += c.clauses.iter().chain(&c.laws).map(|r| r.checked).sum::<usize>() + c.baseline.as_ref().map_or(0, |b| b.checked);
        totals.broken += usize::from(c.verdict == Verdict::Broken);
        totals.unjudged += usize::from(c.verdict == Verdict::Unjudged);
    }
    Results { fidelon: env!("CARGO_PKG_VERSION").into(), format: 1, totals, components, faults, notes: Vec::new() }
}

//! The whole line: files → surfaces and contracts → plans → stage → observations → judgement → results.

use std::any::Any;
use std::collections::BTreeSet;
use std::panic::{AssertUnwindSafe, catch_unwind};
use std::path::PathBuf;
use std::sync::Mutex;
use std::sync::atomic::{AtomicUsize, Ordering};

use fidelon_core::gallery::Gallery;
use fidelon_core::results::{Component, FileFault, Part, Results, Totals};
use fidelon_core::stage::{Expressions, Stage};
use fidelon_core::{Verdict, contract::Contract};
use fidelon_loader::Resolvers;

use crate::affected::{self, Reach};
use crate::events::RunEvent;
use crate::judging::{self, JudgeOptions, Judged};
use crate::origins::Origins;
use crate::results_cache::ResultsCache;
use crate::settings;
use crate::stages::StageOptions;
use crate::stopping::{Stop, Stoppable};
use crate::surfaces::at_once;
use crate::survey::{self, Job, Survey, SurveyError};
use crate::uses;

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
    pub how: JudgeOptions,
    /// Whether everything is judged anew, whatever an earlier run kept.
    pub anew: bool,
    /// Which part of the run is asked for.
    pub part: Option<Portion>,
    /// Files that were changed, as absolute paths: only components that reach one of them are judged.
    pub changed: Option<BTreeSet<PathBuf>>,
    /// Ends the run when nobody wants to know any more.
    pub stop: Stop,
}

impl Request {
    /// Everything below these paths, on as many processors as there are.
    pub fn new(root: PathBuf, paths: Vec<PathBuf>, stage: StageOptions) -> Self {
        let workers = std::thread::available_parallelism().map_or(1, usize::from);
        Self {
            root,
            paths,
            stage,
            workers,
            confirm: false,
            how: JudgeOptions::default(),
            anew: false,
            part: None,
            changed: None,
            stop: Stop::default(),
        }
    }
}

/// Worker threads evaluate expressions in the engine: its own limit is 4 MiB.
const WORKER_STACK: usize = 16 << 20;

/// Which part of a run is asked for: the second of five.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Portion {
    /// Counted from 1.
    pub number: usize,
    /// So many parts there are.
    pub of: usize,
}

/// What came of a run.
#[derive(Debug, Clone, Default)]
pub struct Outcome {
    /// The results.
    pub results: Results,
    /// What the components looked like, by path, where that was asked for.
    pub galleries: Vec<Gallery>,
    /// How many components an earlier run had judged, and nothing was changed since.
    pub kept: usize,
}

/// Checks every component below the paths of a request. The results depend on the files alone, not on threads, time, or what an earlier
/// run kept; those of a run that was stopped mean nothing.
///
/// # Errors
/// [`SurveyError`] when a path cannot be used. What is wrong with a file or a component is part of the results.
pub fn check(request: &Request, tell: &(dyn Fn(RunEvent) + Sync)) -> Result<Outcome, SurveyError> {
    let mut survey = survey::survey(&request.root, &request.paths, &request.stage.common.cache)?;
    uses::read(&mut survey, &request.root);
    let jobs = chosen(request, &survey);
    let names = jobs.iter().map(|job| judging::name_of(&survey.jobs[*job].surface)).collect();
    tell(RunEvent::Surveyed { components: names, contracts: survey.contracts.len() });
    let (judged, kept) = judge_all(request, &survey, &jobs, tell);
    let mut components: Vec<Component> = Vec::new();
    let mut galleries = Vec::new();
    let mut all: Vec<FileFault> = survey.faults.clone();
    for (index, judged) in jobs.iter().zip(judged) {
        for exempted in judged.used {
            survey.jobs[*index].exempt[exempted].mark();
        }
        for fault in judged.faults {
            // A contract that several components share tells a fault once.
            if !all.contains(&fault) {
                all.push(fault);
            }
        }
        components.push(judged.component);
        galleries.extend(judged.gallery);
    }
    all.sort_by(|a, b| a.place.cmp(&b.place));
    let results = Results { notes: idle(request, &survey, &jobs), part: request.part.map(part), ..results(components, all) };
    Ok(Outcome { results, galleries, kept })
}

/// Gets the stages of a run that are used again ready for what most of its components are made with, so that the first change is not
/// the one that waits for it.
pub fn warm(request: &Request) {
    let Ok(survey) = survey::survey(&request.root, &request.paths, &request.stage.common.cache) else { return };
    let of = |job: &Job| job.surface.framework;
    let count = |framework| survey.jobs.iter().filter(|job| of(job) == framework).count();
    // Of as many it is the one that comes first.
    let most = survey.jobs.iter().rev().max_by_key(|job| count(of(job)));
    let first = most.and_then(|most| survey.jobs.iter().find(|job| of(job) == of(most)));
    if let Some(job) = first {
        // One is at work still when the next change comes.
        request.stage.warm(&job.scene, 2);
    }
}

fn part(portion: Portion) -> Part {
    Part { number: portion.number, of: portion.of }
}

/// The jobs that are asked for, by index: those of this part of the run, and those that a change touches.
pub(crate) fn chosen(request: &Request, survey: &Survey) -> Vec<usize> {
    let mut jobs: Vec<usize> = (0..survey.jobs.len()).collect();
    if let Some(changed) = &request.changed
        && !changed.iter().any(|file| affected::touches_all(file))
    {
        let mut reach = Reach::new(&request.root, &request.stage);
        jobs.retain(|index| reach.touches(survey, &survey.jobs[*index], changed));
    }
    if let Some(part) = request.part {
        // Neighbours cost alike: a folder of heavy components is dealt out to all parts.
        jobs = jobs.into_iter().skip(part.number.saturating_sub(1)).step_by(part.of.max(1)).collect();
    }
    jobs
}

/// Exemptions of the project's file that exempted nothing. Only a whole run can tell: a component that was not checked is not missed.
fn idle(request: &Request, survey: &Survey, jobs: &[usize]) -> Vec<String> {
    if jobs.len() < survey.jobs.len() {
        return Vec::new();
    }
    let idle =
        survey.exemptions.iter().filter(|e| !e.is_used() && survey.jobs.iter().any(|j| e.covers(&request.root.join(&j.surface.file))));
    idle.map(|e| format!("{}: the exemption of {} in {} exempts nothing: take it out", settings::FILE, e.exemption.law, e.shown)).collect()
}

/// Judges jobs, but for those of which an earlier run told what still counts; gives how many those were.
fn judge_all(request: &Request, survey: &Survey, jobs: &[usize], tell: &(dyn Fn(RunEvent) + Sync)) -> (Vec<Judged>, usize) {
    let keeping = ResultsCache::of(request);
    let mut all: Vec<Option<Judged>> = keeping.as_ref().map_or_else(
        || jobs.iter().map(|_| None).collect(),
        |keeping| {
            let resolvers = || Resolvers::new(&request.stage.common.aliases);
            at_once(jobs, resolvers, |resolvers, index| {
                let job = &survey.jobs[*index];
                keeping.get(job, contract_of(survey, job), resolvers)
            })
        },
    );
    let kept = all.iter().flatten().count();
    let done = AtomicUsize::new(kept);
    for (index, judged) in all.iter().enumerate().filter_map(|(index, judged)| Some((index, judged.as_ref()?))) {
        tell(RunEvent::Judged { index, component: Box::new(judged.component.clone()), done: kept });
    }
    let places: Vec<usize> = all.iter().enumerate().filter(|(_, known)| known.is_none()).map(|(place, _)| place).collect();
    let missing: Vec<usize> = places.iter().map(|place| jobs[*place]).collect();
    let judged = over_jobs(request, survey, &missing, &|work: Work<'_>| {
        let name = judging::name_of(&work.job.surface);
        tell(RunEvent::Started { component: name });
        let (index, asked, job, held) = (work.index, work.asked, work.job, work.held);
        let Work { stage, other, expressions, origins, .. } = work;
        // A fault of this program costs one verdict.
        let judge = AssertUnwindSafe(|| judging::judge(job, held, &mut *stage, other, expressions, request.how));
        let mut judged = catch_unwind(judge).unwrap_or_else(|panic| judging::faulty_judge(job, held, &message_of(&*panic)));
        origins.locate(&mut judged.component, job);
        // What was stopped on its way is no result.
        if let Some(keeping) = keeping.as_ref().filter(|_| !request.how.glance && !request.stop.is_set()) {
            keeping.put(asked, held, stage.reached(), &judged);
        }
        let done = done.fetch_add(1, Ordering::Relaxed) + 1;
        tell(RunEvent::Judged { index: places[index], component: Box::new(judged.component.clone()), done });
        judged
    });
    let mut judged = judged.into_iter();
    for slot in all.iter_mut().filter(|known| known.is_none()) {
        *slot = judged.next();
    }
    (all.into_iter().flatten().collect(), kept)
}

/// What a panic says.
pub(crate) fn message_of(panic: &(dyn Any + Send)) -> String {
    let text = panic.downcast_ref::<&str>().copied().or_else(|| panic.downcast_ref::<String>().map(String::as_str));
    text.unwrap_or("it gave no reason").to_owned()
}

/// One job and what a worker has for it.
pub(crate) struct Work<'a> {
    /// Which of the jobs it is, from 0.
    pub(crate) index: usize,
    pub(crate) job: &'a Job,
    /// The same before the framework told what it knows.
    pub(crate) asked: &'a Job,
    pub(crate) held: Option<judging::ContractSource<'a>>,
    pub(crate) stage: &'a mut dyn Stage,
    /// The other kind of stage, where what is seen is to be confirmed.
    pub(crate) other: Option<&'a mut dyn Stage>,
    pub(crate) expressions: &'a mut dyn Expressions,
    pub(crate) origins: &'a mut Origins,
}

/// Does something with every job, on as many threads as were asked for; what comes of it is in the order of the jobs.
pub(crate) fn over_jobs<T: Send>(request: &Request, survey: &Survey, jobs: &[usize], work: &(dyn Fn(Work<'_>) -> T + Sync)) -> Vec<T> {
    let next = AtomicUsize::new(0);
    let slots: Vec<Mutex<Option<T>>> = jobs.iter().map(|_| Mutex::new(None)).collect();
    std::thread::scope(|scope| {
        let worker = || {
            let mut borrowed = request.stage.borrow();
            let (stage, expressions) = borrowed.of();
            let mut stage = Stoppable { stage, stop: &request.stop };
            let stage: &mut dyn Stage = &mut stage;
            let mut origins = Origins::new(&request.root, &request.stage);
            let mut other = request.confirm.then(|| request.stage.other().stage());
            while let Some((index, asked)) = take(&next, jobs).map(|(index, job)| (index, &survey.jobs[job])) {
                let other: Option<&mut dyn Stage> = match &mut other {
                    Some(other) => Some(other.as_mut()),
                    None => None,
                };
                let held = contract_of(survey, asked);
                let completed = crate::told::completed(asked, held.and_then(|h| h.contract), stage);
                let job = completed.as_ref().unwrap_or(asked);
                let done = work(Work { index, job, asked, held, stage, other, expressions, origins: &mut origins });
                if let Ok(mut slot) = slots[index].lock() {
                    *slot = Some(done);
                }
            }
        };
        let start = |_: &usize| std::thread::Builder::new().stack_size(WORKER_STACK).spawn_scoped(scope, worker).is_ok();
        // Where the system gives fewer threads, those that there are do the work.
        if (0..request.workers.min(jobs.len())).filter(start).count() == 0 {
            worker();
        }
    });
    slots.into_iter().filter_map(|slot| slot.into_inner().ok().flatten()).collect()
}

fn take(next: &AtomicUsize, jobs: &[usize]) -> Option<(usize, usize)> {
    let index = next.fetch_add(1, Ordering::Relaxed);
    jobs.get(index).map(|job| (index, *job))
}

pub(crate) fn contract_of<'a>(survey: &'a Survey, job: &Job) -> Option<judging::ContractSource<'a>> {
    let file = survey.contracts.get(job.contract?)?;
    let contract: Option<&Contract> = file.contract.as_ref();
    Some(judging::ContractSource { file: &file.file, text: &file.text, beside: &file.beside, contract, partial: file.partial.as_ref() })
}

/// Components and faults with their sums.
pub(crate) fn results(components: Vec<Component>, faults: Vec<FileFault>) -> Results {
    let mut totals = Totals { components: components.len(), ..Totals::default() };
    for c in &components {
        totals.combinations += c.combinations;
        totals.checks += c.clauses.iter().chain(&c.laws).map(|r| r.checked).sum::<usize>() + c.baseline.as_ref().map_or(0, |b| b.checked);
        totals.broken += usize::from(c.verdict == Verdict::Broken);
        totals.unjudged += usize::from(c.verdict == Verdict::Unjudged);
    }
    Results { fidelon: env!("CARGO_PKG_VERSION").into(), format: 1, part: None, totals, components, faults, notes: Vec::new() }
}

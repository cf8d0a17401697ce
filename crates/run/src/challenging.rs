//! Components broken on purpose: each fault of a table is put into the source, one at a time, and what promises notice it is told.
//!
//! Nothing on the disk is touched: a stage is told that a file has another text. Contract, laws and accepted output are held as ever, up
//! to the first that breaks. Where none does, what was seen of every script is compared with what the component shows as it is: a fault
//! that shows nowhere is none that anybody could notice, and one that shows is told with a clause that notices it, which was tried.

mod clause;
mod journal;

use std::collections::BTreeMap;
use std::ops::Range;
use std::panic::{AssertUnwindSafe, catch_unwind};
use std::path::Path;
use std::sync::atomic::{AtomicUsize, Ordering};
use std::sync::{Arc, LazyLock};

use fidelon_core::UnjudgedCause;
use fidelon_core::challenge::{ChallengeResults, ChallengedComponent, FaultCounts, FaultOutcome, KindCounts, SeenDifference, TriedFault};
use fidelon_core::contract::Contract;
use fidelon_core::finding::{Finding, RuleKind};
use fidelon_core::judge::agreement::disagreement;
use fidelon_core::results::{Component, Reason};
use fidelon_core::stage::{Edit, Script, StageError};
use fidelon_core::surface::Framework;
use fidelon_faults::Fault;
pub use fidelon_faults::Kind as FaultKind;
use fidelon_source::{DiskFiles, Files as _, Place, place_of};
use regex::Regex;

use self::journal::{Journal, Watched};
use crate::caching_runner::Realms;
use crate::events::RunEvent;
use crate::judging::no_verdict::reason;
use crate::judging::{self, ContractSource, JudgeOptions, name_of};
use crate::pipeline::{Request, Work, chosen, message_of, over_jobs};
use crate::settings::FolderExemption;
use crate::survey::{self, Job, SurveyError, tidy};
use crate::uses;

/// Which faults are tried.
#[derive(Debug, Clone, Default)]
pub struct ChallengeOptions {
    /// At most so many in one component; all without a number.
    pub most: Option<usize>,
    /// Only these kinds; all where none is named.
    pub kinds: Vec<FaultKind>,
    /// Only those that touch one of these lines, by absolute path; everywhere where nothing is said.
    pub lines: Option<BTreeMap<String, Vec<Range<u32>>>>,
}

/// A fault, and the file that it is in.
struct Planted {
    file: String,
    fault: Fault,
}

/// Breaks every component below the paths of a request.
///
/// # Errors
/// [`SurveyError`] when a path cannot be used.
pub fn challenge(request: &Request, options: &ChallengeOptions, tell: &(dyn Fn(RunEvent) + Sync)) -> Result<ChallengeResults, SurveyError> {
    let mut survey = survey::survey(&request.root, &request.paths, &request.stage.common.cache)?;
    uses::read(&mut survey, &request.root);
    let mut jobs = chosen(request, &survey);
    // A scene has no source of its own: its parts are challenged by themselves.
    jobs.retain(|job| survey.jobs[*job].scene.state.is_none());
    let names = jobs.iter().map(|job| name_of(&survey.jobs[*job].surface)).collect();
    tell(RunEvent::Surveyed { components: names, contracts: survey.contracts.len() });
    let done = AtomicUsize::new(0);
    let components = over_jobs(request, &survey, &jobs, &|work: Work<'_>| {
        let index = work.index;
        tell(RunEvent::Started { component: name_of(&work.job.surface) });
        let (name, contract) = (name_of(&work.job.surface), work.held.map(|h| h.file.to_owned()));
        // A fault of this program costs one component.
        let tried = catch_unwind(AssertUnwindSafe(|| one(request, options, work)));
        let component = tried.unwrap_or_else(|panic| {
            let why = UnjudgedCause::Fault(message_of(&*panic));
            ChallengedComponent { reason: Some(reason(StageError::Unjudged(why.into()))), ..blank(name, contract) }
        });
        let done = done.fetch_add(1, Ordering::Relaxed) + 1;
        tell(RunEvent::Challenged { index, component: Box::new(component.clone()), done });
        component
    });
    Ok(results(components))
}

fn results(components: Vec<ChallengedComponent>) -> ChallengeResults {
    let mut totals = FaultCounts::default();
    let mut kinds: BTreeMap<FaultKind, FaultCounts> = BTreeMap::new();
    for tried in components.iter().flat_map(|c| &c.faults) {
        totals.add(&tried.outcome);
        if let Some(kind) = FaultKind::named(&tried.kind) {
            kinds.entry(kind).or_default().add(&tried.outcome);
        }
    }
    let kinds = kinds.into_iter().map(|(kind, counts)| KindCounts { kind: kind.name().to_owned(), counts }).collect();
    ChallengeResults { fidelon: env!("CARGO_PKG_VERSION").into(), format: 1, totals, kinds, components }
}

fn one(request: &Request, options: &ChallengeOptions, work: Work<'_>) -> ChallengedComponent {
    let mut out = blank(name_of(&work.job.surface), work.held.map(|h| h.file.to_owned()));
    let mut planted = planted(request, options, &work);
    out.possible = planted.len();
    if let Some(most) = options.most {
        planted = chosen_of(planted, most);
    }
    if planted.is_empty() {
        return out;
    }
    let mut journal = Journal::default();
    let mut how = JudgeOptions { pictures: false, ..request.how };
    let as_it_is = {
        let mut stage = Watched::recording(&mut *work.stage, &mut journal);
        judging::judge(work.job, work.held, &mut stage, None, work.expressions, how)
    };
    out.reason = cannot_be_challenged(&as_it_is.component, !as_it_is.faults.is_empty());
    if out.reason.is_some() {
        return out;
    }
    how.once = true;
    if as_it_is.carried {
        how.realms = Realms::Fresh;
    }
    // What is broken as it is notices no fault: the other promises are asked.
    let mut job = without_broken(work.job, &as_it_is.component);
    if let Some(scene) = as_it_is.within.clone() {
        job.scene = scene;
    }
    let contract = work.held.and_then(|h| h.contract).map(|c| keeping(c, &as_it_is.component));
    out.broken = as_it_is.component.findings.iter().map(by).fold(Vec::new(), |mut all, rule| {
        if !all.contains(&rule) {
            all.push(rule);
        }
        all
    });
    let held = work.held.map(|h| ContractSource { contract: contract.as_ref(), ..h });
    let Work { index, asked, stage, expressions, origins, .. } = work;
    let work = Work { index, job: &job, asked, held, stage: &mut *stage, other: None, expressions: &mut *expressions, origins };
    let mut challenge = Challenge { request, work, journal, how, texts: BTreeMap::new() };
    for planted in planted {
        let tried = challenge.tried(&planted);
        out.totals.add(&tried.outcome);
        out.faults.push(tried);
    }
    // What was edited is as it is again for whatever is played next.
    let _ = challenge.work.stage.edit(&[]);
    out
}

/// A component of which nothing was tried yet.
fn blank(component: String, contract: Option<String>) -> ChallengedComponent {
    let totals = FaultCounts::default();
    ChallengedComponent { component, contract, reason: None, broken: Vec::new(), totals, possible: 0, faults: Vec::new() }
}

/// Why a component cannot be challenged: nothing can be told of what cannot be judged.
fn cannot_be_challenged(component: &Component, faulty: bool) -> Option<Reason> {
    if let Some(reason) = &component.reason {
        return Some(reason.clone());
    }
    let message = "its contract has faults: see `fidelon check`".to_owned();
    faulty.then_some(Reason { message, place: None, file: true })
}

/// The job without the laws that it breaks as it is, and without accepted output that is another one now.
fn without_broken(job: &Job, component: &Component) -> Job {
    let mut out = job.clone();
    for finding in &component.findings {
        match finding.kind {
            RuleKind::Law => out.exempt.push(Arc::new(FolderExemption::of_law(&finding.rule, "it is broken as it is"))),
            RuleKind::Baseline => out.baseline = None,
            RuleKind::Clause => {}
        }
    }
    out
}

/// The contract without the clauses that break as they are.
fn keeping(contract: &Contract, component: &Component) -> Contract {
    let mut out = contract.clone();
    out.clauses.retain(|clause| !component.findings.iter().any(|f| f.kind == RuleKind::Clause && f.rule == clause.name));
    out
}

/// All faults of a component's own files that are asked for.
fn planted(request: &Request, options: &ChallengeOptions, work: &Work<'_>) -> Vec<Planted> {
    let surface = &work.job.surface;
    let mut out = Vec::new();
    let mut add = |file: &str, source: &str, framework: Framework| {
        let lines = options.lines.as_ref().map(|lines| lines.get(&*request.root.join(file).to_string_lossy()).cloned().unwrap_or_default());
        let is_asked_for = |fault: &Fault| {
            let is_kind = options.kinds.is_empty() || options.kinds.contains(&fault.kind);
            is_kind && lines.as_ref().is_none_or(|lines| touches(source, fault, lines))
        };
        let found = fidelon_faults::faults(framework, file, &surface.export, source).into_iter().filter(is_asked_for);
        out.extend(found.map(|fault| Planted { file: file.to_owned(), fault }));
    };
    // The source of a scene is that of its parts: each is challenged by itself.
    let Ok(source) = DiskFiles.read(&request.root.join(&surface.file)) else { return Vec::new() };
    add(&surface.file, &source, surface.framework);
    if surface.framework.record().has_template_files {
        for file in templates(&surface.file, &source) {
            if let Ok(text) = DiskFiles.read(&request.root.join(&file)) {
                add(&file, &text, surface.framework);
            }
        }
    }
    out
}

/// Templates that a class keeps in files of their own, from the project's folder.
fn templates(file: &str, source: &str) -> Vec<String> {
    static NAMED: LazyLock<Regex> = LazyLock::new(|| Regex::new(r#"templateUrl\s*:\s*['"`]([^'"`]+)['"`]"#).expect("it is an expression"));
    let folder = Path::new(file).parent().unwrap_or(Path::new(""));
    NAMED.captures_iter(source).map(|c| tidy(&folder.join(&c[1])).to_string_lossy().into_owned()).collect()
}

fn touches(source: &str, fault: &Fault, lines: &[Range<u32>]) -> bool {
    let (first, last) = (place_of(source, fault.at.start).0, place_of(source, fault.at.end).0);
    lines.iter().any(|range| range.start <= last && first < range.end)
}

/// Some of them: of each file as many as its share is.
fn chosen_of(all: Vec<Planted>, most: usize) -> Vec<Planted> {
    if all.len() <= most {
        return all;
    }
    let count = all.len();
    let mut files: Vec<(String, Vec<Fault>)> = Vec::new();
    for planted in all {
        match files.iter_mut().find(|(file, _)| *file == planted.file) {
            Some((_, faults)) => faults.push(planted.fault),
            None => files.push((planted.file, vec![planted.fault])),
        }
    }
    let of_file = |(file, faults): (String, Vec<Fault>)| {
        let share = (most * faults.len()).div_ceil(count);
        fidelon_faults::choose(faults, share).into_iter().map(move |fault| Planted { file: file.clone(), fault })
    };
    files.into_iter().flat_map(of_file).collect()
}

/// One component, whose faults are tried one by one.
struct Challenge<'r, 'w> {
    request: &'r Request,
    work: Work<'w>,
    journal: Journal,
    how: JudgeOptions,
    /// The files as they are.
    texts: BTreeMap<String, String>,
}

impl Challenge<'_, '_> {
    fn tried(&mut self, Planted { file, fault }: &Planted) -> TriedFault {
        let root = &self.request.root;
        let source = self.texts.entry(file.clone()).or_insert_with(|| DiskFiles.read(&root.join(file)).unwrap_or_default()).clone();
        let (line, column) = place_of(&source, fault.at.start);
        let (before, after) = lines(&source, fault);
        let edit = [Edit { file: file.clone(), text: fault.in_source(&source) }];
        let outcome = self.outcome(&edit).unwrap_or_else(|error| FaultOutcome::Invalid { message: error.to_string() });
        TriedFault {
            kind: fault.kind.name().to_owned(),
            words: fault.kind.words().to_owned(),
            place: Place { file: file.clone(), line, column },
            before,
            after,
            outcome,
        }
    }

    fn outcome(&mut self, edit: &[Edit]) -> Result<FaultOutcome, StageError> {
        let Work { job, held, expressions, stage, .. } = &mut self.work;
        stage.edit(edit)?;
        let mut differing = Vec::new();
        let judged = {
            let mut stage = Watched::comparing(&mut **stage, &mut self.journal, &mut differing);
            judging::judge(&uses::edited(job, edit), *held, &mut stage, None, &mut **expressions, self.how)
        };
        let component = judged.component;
        if let Some(reason) = component.reason {
            // What cannot be loaded is seen by whoever saves the file.
            let message = reason.message;
            return Ok(if reason.file { FaultOutcome::Invalid { message } } else { FaultOutcome::Noticed { by: message } });
        }
        if let Some(finding) = component.findings.first() {
            return Ok(FaultOutcome::Noticed { by: by(finding) });
        }
        // What seemed to show is played once more, where nothing was played before.
        for script in &differing {
            if let Some(missed) = self.missed(edit, script)? {
                return Ok(missed);
            }
        }
        Ok(FaultOutcome::Equal)
    }

    /// What a fault shows in a script, where nothing was played before; none where it shows nothing there.
    fn missed(&mut self, edit: &[Edit], script: &Script) -> Result<Option<FaultOutcome>, StageError> {
        let Work { job, held, expressions, stage, .. } = &mut self.work;
        let mut seen = |edits: &[Edit], script: &Script| {
            stage.edit(edits)?;
            stage.open(&job.scene)?;
            stage.play(script)
        };
        let (right, wrong) = (seen(&[], script)?, seen(edit, script)?);
        let Some(differs) = disagreement(&right, &wrong) else { return Ok(None) };
        let did = script.phases.iter().take(differs.phase).flatten().map(|s| format!(", then {s}")).collect::<String>();
        let difference = SeenDifference {
            case: format!("{}{did}", script.combination.in_words()),
            aspect: differs.aspect.words().to_owned(),
            before: differs.first,
            after: differs.second,
        };
        let drafted = clause::drafted(job, *held, &mut **expressions, (script, differs.phase), (&right, &wrong));
        // It breaks with the fault, and holds without.
        let clause = match drafted {
            Some(drafted) if !drafted.holds(&seen(edit, &drafted.case.script)?) && drafted.holds(&seen(&[], &drafted.case.script)?) => {
                Some(drafted.text)
            }
            _ => None,
        };
        Ok(Some(FaultOutcome::Missed { difference, clause }))
    }
}

fn by(finding: &Finding) -> String {
    match finding.kind {
        RuleKind::Clause => format!("the clause `{}`", finding.rule),
        RuleKind::Law => format!("the law {}", finding.rule),
        RuleKind::Baseline => "the accepted output".to_owned(),
    }
}

/// Lines of a change that are told.
const MOST_LINES: usize = 4;

/// The lines that a fault changes, as they are and as they become.
fn lines(source: &str, fault: &Fault) -> (Vec<String>, Vec<String>) {
    let start = source[..fault.at.start].rfind('\n').map_or(0, |i| i + 1);
    let end = source[fault.at.end..].find('\n').map_or(source.len(), |i| fault.at.end + i);
    let becomes = format!("{}{}{}", &source[start..fault.at.start], fault.put, &source[fault.at.end..end]);
    let told = |text: &str| {
        let all: Vec<String> = text.lines().map(|l| l.trim_end().to_owned()).filter(|l| !l.trim().is_empty()).collect();
        let cut = all.len() > MOST_LINES;
        let mut out: Vec<String> = all.into_iter().take(MOST_LINES).collect();
        out.extend(cut.then(|| "…".to_owned()));
        out
    };
    (told(&source[start..end]), told(&becomes))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn templates_are_found_beside_their_class() {
        let source = "@Component({ templateUrl: './a.html' }) class A {}\n@Component({ templateUrl: `../b/c.html` }) class B {}";
        assert_eq!(templates("src/x/a.ts", source), ["src/x/a.html", "src/b/c.html"]);
    }

    #[test]
    fn a_fault_touches_the_lines_that_it_changes() {
        let source = "a\nb\nc\nd\n";
        let fault = Fault { kind: FaultKind::Number, at: 2..5, put: "x".into() };
        let in_lines = |first: u32, next: u32| touches(source, &fault, std::slice::from_ref(&(first..next)));
        assert!(in_lines(3, 4) && in_lines(1, 3));
        assert!(!in_lines(4, 9) && !in_lines(1, 2) && !touches(source, &fault, &[]));
        assert_eq!(lines(source, &fault), (vec!["b".to_owned(), "c".to_owned()], vec!["x".to_owned()]));
    }
}

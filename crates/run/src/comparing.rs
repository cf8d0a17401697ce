//! Two components, or two states of one: both are played through the same combinations, acts, changes of their parent and removal, and what
//! a parent or a person could notice is told, each with exactly when it is there.

mod pairs;
mod scripts;

use std::collections::BTreeMap;
use std::panic::{AssertUnwindSafe, catch_unwind};

use fidelon_core::cause;
use fidelon_core::compare::pairing::Pairing;
use fidelon_core::compare::seen::{SeenChange, changes, leftovers};
use fidelon_core::compare::{Area, CompareResults, ComparedPair, Difference, Level, declared};
use fidelon_core::judge::laws::{Effort, Runs as _, mount};
use fidelon_core::observation::Observation;
use fidelon_core::plan::Domain;
use fidelon_core::results::Reason;
use fidelon_core::stage::{Combination, Environment, Expressions, Script, StageError, Step};
use fidelon_core::{Surface, UnjudgedCause};

use self::pairs::Pair;
use self::scripts::Act;
use crate::caching_runner::{CachingRunner, Realms};
use crate::judging::around;
use crate::judging::no_verdict::reason;
use crate::learning;
use crate::pipeline::{Request, contract_of, message_of};
use crate::planning::{Planned, plan_of};
use crate::survey::{self, Survey, SurveyError};

/// What is compared, and how.
#[derive(Debug, Clone, Default)]
pub struct CompareOptions {
    /// Names of the first with those of the second, where they are not the same.
    pub renamed: Vec<(String, String)>,
    /// How much is played.
    pub effort: Effort,
}

/// Why nothing could be compared.
#[derive(Debug, thiserror::Error)]
pub enum CompareError {
    /// A path cannot be used.
    #[error(transparent)]
    Survey(#[from] SurveyError),
    /// The request cannot be met as it stands.
    #[error("{0}")]
    Request(String),
}

/// Compares what the paths of two requests name: one component each, or folders, whose components are matched by their files and names.
///
/// # Errors
/// [`CompareError`] when there is nothing to compare.
pub fn compare(before: &Request, after: &Request, options: &CompareOptions) -> Result<CompareResults, CompareError> {
    let surveyed = |request: &Request| survey::survey(&request.root, &request.paths, &request.stage.common.cache);
    let (first, second) = (surveyed(before)?, surveyed(after)?);
    for (request, survey) in [(before, &first), (after, &second)] {
        if survey.jobs.is_empty() {
            let paths: Vec<String> = request.paths.iter().map(|p| p.display().to_string()).collect();
            return Err(CompareError::Request(format!("there is no component in {}", paths.join(", "))));
        }
    }
    let pairs = pairs::paired((before, &first), (after, &second));
    let compared: Vec<ComparedPair> = pairs
        .into_iter()
        .map(|pair| match pair {
            Pair::Both(a, b) => {
                // A fault of this program costs one pair.
                let compared = catch_unwind(AssertUnwindSafe(|| one((before, &first, a), (after, &second, b), options)));
                let compared = compared.unwrap_or_else(|panic| {
                    let name = |survey: &Survey, job: usize| Some(crate::judging::name_of(&survey.jobs[job].surface));
                    let why = UnjudgedCause::Fault(message_of(&*panic));
                    let pair = ComparedPair::new(name(&first, a), name(&second, b));
                    Ok(ComparedPair { reason: Some(reason(StageError::Unjudged(why.into()))), ..pair })
                });
                compared.map(ComparedPair::sorted)
            }
            Pair::Gone(a) => {
                let name = crate::judging::name_of(&first.jobs[a].surface);
                let mut pair = ComparedPair::new(Some(name), None);
                pair.differences.push(Difference::of_surface(Level::Major, "the component is gone".into()));
                Ok(pair.sorted())
            }
            Pair::New(b) => {
                let name = crate::judging::name_of(&second.jobs[b].surface);
                let mut pair = ComparedPair::new(None, Some(name));
                pair.differences.push(Difference::of_surface(Level::Minor, "the component is new".into()));
                Ok(pair.sorted())
            }
        })
        .collect::<Result<_, _>>()?;
    let level = compared.iter().filter_map(|p| p.level).max();
    Ok(CompareResults { fidelon: env!("CARGO_PKG_VERSION").into(), format: 1, level, pairs: compared })
}

type Side<'a> = (&'a Request, &'a Survey, usize);

fn one((before, first, a): Side<'_>, (after, second, b): Side<'_>, options: &CompareOptions) -> Result<ComparedPair, CompareError> {
    let (mut borrowed_a, mut borrowed_b) = (before.stage.borrow(), after.stage.borrow());
    let ((stage_a, expressions), (stage_b, _)) = (borrowed_a.of(), borrowed_b.of());
    let (asked_a, asked_b) = (&first.jobs[a], &second.jobs[b]);
    let held = contract_of(first, asked_a).and_then(|h| h.contract);
    let completed_a = crate::told::completed(asked_a, held, stage_a);
    let completed_b = crate::told::completed(asked_b, contract_of(second, asked_b).and_then(|h| h.contract), stage_b);
    let (job_a, job_b) = (completed_a.as_ref().unwrap_or(asked_a), completed_b.as_ref().unwrap_or(asked_b));
    let around_a = around::surrounded(job_a, held, stage_a, expressions);
    let around_b = around::surrounded(job_b, contract_of(second, asked_b).and_then(|h| h.contract), stage_b, expressions);
    let (job_a, job_b) = (around_a.as_ref().unwrap_or(job_a), around_b.as_ref().unwrap_or(job_b));
    let name = crate::judging::name_of;
    let mut out = ComparedPair::new(Some(name(&job_a.surface)), Some(name(&job_b.surface)));
    if held.is_some_and(|c| c.scene.is_some()) {
        out.reason = Some(request("a scene is compared by its parts: name one of them"));
        return Ok(out);
    }
    let pairing = Pairing::new(&job_a.surface, &job_b.surface, &options.renamed).map_err(CompareError::Request)?;
    if nothing_in_common(&job_a.surface, &job_b.surface, &pairing) {
        out.reason = Some(request("they have no prop, event or slot in common: `--renamed OLD=NEW` says what is called otherwise"));
        return Ok(out);
    }
    for (from, to) in &pairing.guessed {
        out.notes.push(format!("`{to}` is taken for what was `{from}`: `--renamed {from}=OTHER` says otherwise"));
    }
    out.differences = declared::differences(&job_a.surface, &job_b.surface, &pairing);
    for (stage, job) in [(&mut *stage_a, job_a), (&mut *stage_b, job_b)] {
        match stage.open(&job.scene) {
            Ok(opened) if std::ptr::eq(job, job_a) => expressions.know(opened.values),
            Ok(_) => {}
            Err(error) => {
                out.reason = Some(told_of(&job.surface, error));
                return Ok(out);
            }
        }
    }
    let surroundings = held.map(|c| c.surroundings.clone()).unwrap_or_default();
    let mut runs_a = CachingRunner::new(stage_a, Realms::Shared, surroundings.clone());
    let learned = learning::learned(&job_a.surface, held, &mut runs_a);
    let planned = match plan(&learned, &job_b.surface, held, &pairing, expressions) {
        Ok(planned) => planned,
        Err(message) => {
            out.reason = Some(request(&message));
            return Ok(out);
        }
    };
    let runs_b = CachingRunner::new(stage_b, Realms::Shared, Environment::clone(&surroundings));
    let mut both = Both { runs_a, runs_b, pairing: &pairing, surfaces: (&job_a.surface, &job_b.surface), plays: 0, budget: None };
    let found = differences(&planned, &mut both, options.effort, &mut out.notes);
    out.plays = both.plays;
    out.combinations = planned.plan.combinations.len();
    match found {
        Ok(found) => out.differences.extend(found),
        Err(why) => out.reason = Some(why),
    }
    Ok(out)
}

fn request(message: &str) -> Reason {
    Reason { message: message.to_owned(), place: None, file: false }
}

fn told_of(surface: &Surface, error: StageError) -> Reason {
    let of = reason(error);
    let message = if of.place.is_some() { of.message } else { format!("{}: {}", surface.file, of.message) };
    Reason { message, ..of }
}

fn nothing_in_common(a: &Surface, b: &Surface, pairing: &Pairing) -> bool {
    let declares = |s: &Surface| !s.props.is_empty() || !s.events.is_empty() || !s.slots.is_empty();
    let common = a.props.iter().any(|p| b.prop(pairing.of(&p.name)).is_some())
        || a.events.iter().any(|e| b.events.iter().any(|o| o.name == pairing.of(&e.name)))
        || a.slots.iter().any(|s| b.slot(pairing.of(&s.name)).is_some());
    declares(a) && declares(b) && !common
}

/// The combinations of what both take: what one of them does not know is told by what they declare.
fn plan(
    first: &Surface,
    second: &Surface,
    contract: Option<&fidelon_core::contract::Contract>,
    pairing: &Pairing,
    engine: &mut dyn Expressions,
) -> Result<Planned, String> {
    let mut common = first.clone();
    common.props.retain(|p| second.open || second.prop(pairing.of(&p.name)).is_some() || p.required);
    common.slots.retain(|s| second.open || second.slot(pairing.of(&s.name)).is_some());
    let planned = plan_of(&common, contract, engine);
    let mut planned = planned
        .map_err(|_| "no combination of values can be made of what they declare: a contract beside the first gives values".to_owned())?;
    // A value that the second does not take any more is told by its type.
    let takes =
        |name: &str, value: &fidelon_core::Value| second.prop(pairing.of(name)).is_none_or(|p| fidelon_core::fits::fits(value, &p.ty));
    for domain in &mut planned.domains {
        if let Domain::Prop(name, values) = domain {
            let name = name.clone();
            if values.iter().any(|v| takes(&name, v)) {
                values.retain(|v| takes(&name, v));
            }
        }
    }
    planned.plan.combinations.retain(|c| c.props.iter().all(|(name, v)| planned.domains.iter().all(|d| !d.is_of(name) || holds(d, v))));
    if planned.plan.combinations.is_empty() { Err("they take no combination of values in common".into()) } else { Ok(planned) }
}

fn holds(domain: &Domain, value: &fidelon_core::Value) -> bool {
    matches!(domain, Domain::Prop(_, values) if values.contains(value))
}

/// The two that play the same.
struct Both<'a> {
    runs_a: CachingRunner<'a>,
    runs_b: CachingRunner<'a>,
    pairing: &'a Pairing,
    surfaces: (&'a Surface, &'a Surface),
    plays: usize,
    /// What both may take, in steps of the engine; no end to it where nothing is said.
    budget: Option<u64>,
}

impl Both<'_> {
    fn is_spent(&self) -> bool {
        self.budget.is_some_and(|budget| self.runs_a.spent() + self.runs_b.spent() > budget)
    }

    fn play(&mut self, script: &Script) -> Result<(Observation, Observation), Reason> {
        self.play_each(script, &self.pairing.script(script))
    }

    fn play_each(&mut self, script: &Script, other: &Script) -> Result<(Observation, Observation), Reason> {
        self.plays += 1;
        let seen = self.runs_a.play(script).map_err(|e| told_of(self.surfaces.0, e))?;
        let other = self.runs_b.play(other).map_err(|e| told_of(self.surfaces.1, e))?;
        Ok((seen, self.pairing.observation(other)))
    }

    /// What was seen of an act in a combination; none where it cannot be done there.
    fn seen(&mut self, act: &Act, combination: &Combination) -> Result<Option<(Observation, Observation)>, Reason> {
        let Act::Person(_, uses) = act else {
            return act.script(combination).map(|script| self.play(&script)).transpose();
        };
        let mounted = mount(combination);
        let (mut a, mut b) = self.play(&mounted)?;
        let (mut own, mut other) = (Vec::new(), Vec::new());
        for what in uses {
            let (Some(first), Some(second)) = (a.phases.last(), b.phases.last()) else { return Ok(None) };
            let Some((steps, others)) = scripts::used(what, first, second) else { return Ok(None) };
            own.push(steps);
            other.push(others);
            let with = |phases: &Vec<Vec<Step>>| {
                let phases = phases.iter().cloned().chain([vec![scripts::REST]]).collect();
                Script { phases, ..mounted.clone() }
            };
            (a, b) = self.play_each(&with(&own), &self.pairing.script(&with(&other)))?;
        }
        Ok(Some((a, b)))
    }

    /// Whether realms show a difference in which nothing was played before: what a module keeps from case to case is none.
    fn confirm(&mut self, act: &Act, combination: &Combination, area: Area) -> Result<bool, Reason> {
        let mut fresh = Both {
            runs_a: self.runs_a.afresh(),
            runs_b: self.runs_b.afresh(),
            pairing: self.pairing,
            surfaces: self.surfaces,
            plays: 0,
            budget: None,
        };
        Ok(fresh.changes(act, combination)?.is_some_and(|found| found.iter().any(|c| c.area == area)))
    }

    fn changes(&mut self, act: &Act, combination: &Combination) -> Result<Option<Vec<SeenChange>>, Reason> {
        let Some((a, b)) = self.seen(act, combination)? else { return Ok(None) };
        let mut found = changes(&a, &b);
        found.extend(act.removals().and_then(|removals| leftovers(&a, &b, removals)));
        let mut kept = Vec::new();
        for change in found {
            // What is to be seen already without the act is told of that: a wrapper more hides no other text after a press.
            let told = match act.shown_by(combination, change.phase) {
                Some(plain) => {
                    let (a, b) = self.play(&mount(&plain))?;
                    let is_same = changes(&a, &b).iter().any(|p| p.area == change.area && p.level >= change.level);
                    is_same && (change.phase == 0 || act.carries(change.area))
                }
                None => false,
            };
            if !told {
                kept.push(change);
            }
        }
        Ok(Some(kept))
    }
}

/// One kind of difference over all combinations.
#[derive(Default)]
struct Cases {
    known: Vec<(Combination, bool)>,
    changes: Vec<(Combination, SeenChange)>,
}

/// Combinations that are played beyond the plan to explain one difference.
const MOST_ASKED: usize = 60;

/// Combinations that are compared of what never comes to rest, where each play takes all that it may, and of what has spent its budget.
const FEWEST: usize = 3;

fn differences(planned: &Planned, both: &mut Both<'_>, effort: Effort, notes: &mut Vec<String>) -> Result<Vec<Difference>, Reason> {
    let combinations = &planned.plan.combinations;
    let mut out = Vec::new();
    both.budget = effort.budget();
    let (a, b) = both.play(&mount(&combinations[0]))?;
    let restless = [a, b].iter().any(|seen| seen.phases.iter().any(|p| !p.settled));
    let acts = if restless {
        notes.push(format!("it never comes to rest, so only mounts in {FEWEST} combinations were compared"));
        both.budget = Some(0);
        vec![Act::Mount]
    } else {
        scripts::acts(planned, both, effort)?
    };
    for act in acts {
        let mut cases: BTreeMap<Area, Cases> = BTreeMap::new();
        let mut looked: Vec<(Combination, Vec<SeenChange>)> = Vec::new();
        for combination in act.combinations(combinations, effort) {
            if looked.len() >= FEWEST && both.is_spent() {
                break;
            }
            if let Some(found) = both.changes(&act, &combination)? {
                looked.push((combination, found));
            }
        }
        for area in looked.iter().flat_map(|(_, found)| found.iter().map(|c| c.area)) {
            cases.entry(area).or_default();
        }
        for (area, cases) in &mut cases {
            for (combination, found) in &looked {
                let change = found.iter().find(|c| c.area == *area);
                cases.known.push((combination.clone(), change.is_some()));
                cases.changes.extend(change.map(|c| (combination.clone(), c.clone())));
            }
        }
        for (area, cases) in cases {
            out.extend(told(planned, &act, area, cases, both)?);
        }
    }
    if !restless && both.is_spent() {
        notes.push("it costs much to play: not every act was compared in every combination; `--effort thorough` plays all".into());
    }
    Ok(merged(out))
}

/// The difference of an area in an act, with exactly when it is there; none where only realms show it in which something was played before.
fn told(planned: &Planned, act: &Act, area: Area, mut cases: Cases, both: &mut Both<'_>) -> Result<Option<Difference>, Reason> {
    let plain = &planned.plan.combinations[0];
    let mut failed = None;
    let mut others = Vec::new();
    let mut ask = |combination: &Combination| {
        if failed.is_some() || both.is_spent() || !planned.allows(combination) {
            return Ok::<_, std::convert::Infallible>(None);
        }
        match both.changes(act, combination) {
            Ok(found) => Ok(found.map(|found| {
                let change = found.into_iter().find(|c| c.area == area);
                let differs = change.is_some();
                others.extend(change.map(|c| (combination.clone(), c)));
                differs
            })),
            Err(why) => {
                failed = Some(why);
                Ok(None)
            }
        }
    };
    let Ok(explained) = cause::explain(&planned.domains, plain, &cases.known, MOST_ASKED, &mut ask);
    cases.changes.extend(others);
    let explained = explained.unwrap_or_default();
    let when = |cause: &Vec<fidelon_core::finding::Condition>| cause.iter().map(ToString::to_string).collect::<Vec<_>>().join(" and ");
    let causes: Vec<String> = explained.causes.iter().map(when).filter(|c| !c.is_empty()).collect();
    let level = cases.changes.iter().map(|(_, c)| c.level).max().unwrap_or(Level::Major);
    let shown = cases.changes.iter().filter(|(_, c)| c.level == level);
    let shown = shown.clone().find(|(c, _)| *c == explained.shown).or_else(|| cases.changes.iter().find(|(_, c)| c.level == level));
    let differed = cases.known.iter().filter(|(_, differs)| *differs).count();
    let (combination, change) = shown.cloned().expect("a case that differs is known");
    if !both.confirm(act, &combination, area)? {
        return Ok(None);
    }
    let always = differed == cases.known.len();
    Ok(Some(Difference {
        level,
        area,
        message: format!("{} {}", subject(area), act.words()),
        when: if always { Some("always".into()) } else { (!causes.is_empty()).then(|| format!("when {}", causes.join(", or "))) },
        case: Some(combination.in_words()),
        differed,
        looked: cases.known.len(),
        before: Some(change.before),
        after: Some(change.after),
        diff: change.diff,
    }))
}

fn subject(area: Area) -> &'static str {
    match area {
        Area::Surface => "what is declared differs",
        Area::Rendering => "other output is rendered",
        Area::Events => "other events are sent",
        Area::Parent => "the parent holds something else",
        Area::Steps => "something else can be done",
        Area::Requests => "other requests are made",
        Area::Warnings => "other warnings are given",
        Area::Errors => "another error is thrown",
        Area::Timing => "it comes to rest on one side alone",
        Area::Leftovers => "something else is left",
    }
}

/// Acts that show the same difference are told once, with the first of them.
fn merged(all: Vec<Difference>) -> Vec<Difference> {
    let mut out: Vec<Difference> = Vec::new();
    for difference in all {
        let same = |d: &&mut Difference| {
            d.area == difference.area && d.level == difference.level && d.before == difference.before && d.after == difference.after
        };
        match out.iter_mut().find(same) {
            Some(first) if first.message.ends_with(" (and elsewhere)") => {}
            Some(first) => first.message.push_str(" (and elsewhere)"),
            None => out.push(difference),
        }
    }
    out
}

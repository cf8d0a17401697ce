//! One case again, step by step.

use fidelon_core::contract::Clause;
use fidelon_core::finding::Failure;
use fidelon_core::judge::check::holds;
use fidelon_core::judge::clause::{self, Case, Standing, Subject};
use fidelon_core::judge::laws::{self, Runs as _};
use fidelon_core::locator;
use fidelon_core::observation::{Observation, PhaseSnapshot};
use fidelon_core::scene::Scene;
use fidelon_core::stage::{Combination, Expressions as _, Opened, Script, Stage, StageError};
use fidelon_source::{Place, place_of};
use fidelon_stage::Sandbox;

use crate::caching_runner::{CachingRunner, Realms};
use crate::judging::{self, ContractSource, JudgeOptions, name_of, opened};
use crate::pipeline::{Request, contract_of};
use crate::survey::{self, Job, SurveyError};
use crate::uses;

/// What is asked for.
#[derive(Debug, Clone, Copy)]
pub struct ReplayTarget<'a> {
    /// The case: `KilnDial@7f3a91`.
    pub case: &'a str,
    /// The words of the clause; else one that breaks, or the mount alone.
    pub clause: Option<&'a str>,
}

/// A step and what was seen after it.
#[derive(Debug, Clone)]
pub struct Moment {
    /// The step in words; none for the mount.
    pub step: Option<String>,
    /// What was seen.
    pub seen: PhaseSnapshot,
    /// The checks at the end of a phase: how many hold, and how the others fail.
    pub checked: Option<(usize, Vec<Failure>)>,
}

/// A case, played again.
#[derive(Debug, Clone)]
pub struct Replay {
    /// The component.
    pub component: String,
    /// What it is passed, in words.
    pub combination: String,
    /// The clause, and where it is written.
    pub clause: Option<(String, Place)>,
    /// The mount, then each step.
    pub moments: Vec<Moment>,
}

/// Why there is nothing to be seen.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum ReplayError {
    /// A path that cannot be used.
    #[error(transparent)]
    Survey(#[from] SurveyError),
    /// The request cannot be met as it stands.
    #[error("{0}")]
    Request(String),
    /// The stage could not play it.
    #[error("{0}")]
    Stage(String),
}

/// Plays a case again. Components of one name are tried in the order of their paths.
///
/// # Errors
/// [`ReplayError`] says what is wrong with the request, or why it cannot be played.
pub fn replay(request: &Request, wanted: ReplayTarget<'_>) -> Result<Replay, ReplayError> {
    let Some((name, tag)) = wanted.case.rsplit_once('@').filter(|(_, tag)| tag.len() == 6) else {
        let message = format!("`{}` is no case: `fidelon check` names them, as KilnDial@7f3a91", wanted.case);
        return Err(ReplayError::Request(message));
    };
    let mut survey = survey::survey(&request.root, &request.paths, &request.stage.common.cache)?;
    uses::read(&mut survey, &request.root);
    let jobs: Vec<&Job> = survey.jobs.iter().filter(|j| j.surface.name == name).collect();
    if jobs.is_empty() {
        let near = locator::nearest(name, survey.jobs.iter().map(|j| j.surface.name.as_str()));
        let hint = near.map_or(String::new(), |n| format!(" (did you mean `{n}`?)"));
        return Err(ReplayError::Request(format!("there is no component `{name}` below the paths given{hint}")));
    }
    let mut stage = request.stage.stage();
    let mut sandbox = Sandbox::default();
    let mut last = None;
    // A case of that tag may be of several components of one name: the one that it breaks in is meant.
    let mut holding = None;
    for job in jobs {
        let held = contract_of(&survey, job);
        let completed = crate::told::completed(job, held.and_then(|h| h.contract), stage.as_mut());
        let job = completed.as_ref().unwrap_or(job);
        let surrounded = judging::around::surrounded(job, held.and_then(|h| h.contract), stage.as_mut(), &mut sandbox);
        match Replaying::of(surrounded.as_ref().unwrap_or(job), held, wanted).and_then(|r| r.play(tag, stage.as_mut(), &mut sandbox)) {
            Ok(Some(replay)) if replay.moments.iter().any(|m| m.checked.as_ref().is_some_and(|(_, f)| !f.is_empty())) => return Ok(replay),
            Ok(replay) => holding = holding.or(replay),
            Err(error) => last = Some(error),
        }
    }
    match (holding, last) {
        (Some(replay), _) => Ok(replay),
        (None, Some(error)) => Err(error),
        (None, None) => Err(ReplayError::Request(format!(
            "no case of {name} is called `{tag}` now: its contract or its declared props were changed since"
        ))),
    }
}

struct Replaying<'a> {
    job: &'a Job,
    held: Option<ContractSource<'a>>,
    wanted: ReplayTarget<'a>,
}

impl<'a> Replaying<'a> {
    fn of(job: &'a Job, held: Option<ContractSource<'a>>, wanted: ReplayTarget<'a>) -> Result<Self, ReplayError> {
        let clauses = held.and_then(|h| h.contract).map_or(&[][..], |c| &c.clauses);
        if let Some(words) = wanted.clause
            && clauses.iter().all(|c| c.name != words)
        {
            let hint = locator::nearest(words, clauses.iter().map(|c| c.name.as_str()))
                .map_or(String::new(), |n| format!(" (did you mean `{n}`?)"));
            return Err(ReplayError::Request(format!("`{words}` is no clause of {}{hint}", name_of(&job.surface))));
        }
        Ok(Self { job, held, wanted })
    }

    fn play(&self, tag: &str, stage: &mut dyn Stage, sandbox: &mut Sandbox) -> Result<Option<Replay>, ReplayError> {
        let contract = self.held.and_then(|h| h.contract);
        let failed = |e: StageError| ReplayError::Stage(e.to_string());
        let planned = opened(self.job, contract, stage, sandbox).map_err(ReplayError::Stage)?;
        let mut combinations: Vec<Combination> = planned.plan.combinations.clone();
        let has = |c: &[Combination], sandbox: &mut Sandbox| c.iter().any(|c| c.tag() == tag) || !self.cases(tag, c, sandbox).is_empty();
        if !has(&combinations, sandbox) {
            // The search for a cause plays combinations beyond the plan: it is done again, and looked at.
            let mut recording = Recording { stage, tag, found: None };
            let _ = judging::judge(self.job, self.held, &mut recording, None, sandbox, JudgeOptions::default());
            combinations.extend(recording.found.take());
            sandbox.know(stage.open(&self.job.scene).map_err(failed)?.values);
            if !has(&combinations, sandbox) {
                return Ok(None);
            }
        }
        let surroundings = contract.map(|c| c.surroundings.clone()).unwrap_or_default();
        let standing = contract.map(Standing::of).unwrap_or_default();
        let mut runs = CachingRunner::new(stage, Realms::Fresh, surroundings);
        let mut chosen: Option<(&Clause, Case)> = None;
        for (clause, case) in self.cases(tag, &combinations, sandbox) {
            let breaks = !clause::judge(&case, &standing, &runs.play(&case.script).map_err(failed)?).is_empty();
            if breaks || self.wanted.clause.is_some() {
                chosen = Some((clause, case));
                break;
            }
        }
        let combination = match &chosen {
            Some((_, case)) => case.combination.clone(),
            None => match combinations.into_iter().find(|c| c.tag() == tag) {
                Some(combination) => combination,
                None => return Ok(None),
            },
        };
        let script = chosen.as_ref().map_or_else(|| laws::mount(&combination), |(_, case)| case.script.clone());
        // Every step as a phase of its own.
        let steps = Script { phases: script.phases.iter().flatten().map(|step| vec![step.clone()]).collect(), ..script.clone() };
        let observation = runs.play(&steps).map_err(failed)?;
        let moments = moments(&script, chosen.as_ref().map(|(_, case)| case), &observation);
        let clause = chosen.and_then(|(clause, _)| {
            let held = self.held?;
            let (line, column) = place_of(held.text, clause.span.start);
            Some((clause.name.clone(), Place { file: held.file.to_owned(), line, column }))
        });
        Ok(Some(Replay { component: name_of(&self.job.surface), combination: combination.in_words(), clause, moments }))
    }

    /// The cases of this tag, of the clause that is wanted or of all.
    fn cases(&self, tag: &str, combinations: &[Combination], sandbox: &mut Sandbox) -> Vec<(&'a Clause, Case)> {
        let clauses = self.held.and_then(|h| h.contract).map_or(&[][..], |c| &c.clauses);
        let mut out = Vec::new();
        for clause in clauses.iter().filter(|c| self.wanted.clause.is_none_or(|w| w == c.name)) {
            let cases =
                clause::cases(clause, combinations, Subject { name: &name_of(&self.job.surface), surface: &self.job.surface }, sandbox)
                    .unwrap_or_default();
            out.extend(cases.into_iter().find(|c| c.combination.tag() == tag).map(|case| (clause, case)));
        }
        out
    }
}

/// The mount and each step; the checks of a phase stand at its last step and look at all that came in it.
pub(crate) fn moments(script: &Script, case: Option<&Case>, observation: &Observation) -> Vec<Moment> {
    let mut seen = observation.phases.iter();
    let mut out: Vec<Moment> =
        seen.next().map(|s| Moment { step: None, seen: PhaseSnapshot::clone(s), checked: None }).into_iter().collect();
    for (i, steps) in script.phases.iter().enumerate() {
        let Some(before) = out.last().map(|m| m.seen.clone()) else { break };
        let mut whole: Option<PhaseSnapshot> = None;
        for step in steps {
            let Some(after) = seen.next() else { break };
            out.push(Moment { step: Some(step.to_string()), seen: PhaseSnapshot::clone(after), checked: None });
            whole = Some(match whole {
                None => PhaseSnapshot::clone(after),
                Some(earlier) => PhaseSnapshot {
                    events: [earlier.events, after.events.clone()].concat(),
                    notes: [earlier.notes, after.notes.clone()].concat(),
                    requests: [earlier.requests, after.requests.clone()].concat(),
                    ..PhaseSnapshot::clone(after)
                },
            });
        }
        let whole = whole.unwrap_or_else(|| before.clone());
        if let (Some(checks), Some(last)) = (case.and_then(|c| c.checks.get(i)), out.last_mut()) {
            let outcomes: Vec<_> = checks.iter().map(|check| holds(check, &before, &whole)).collect();
            let held = outcomes.iter().filter(|o| o.is_ok()).count();
            last.checked = Some((held, outcomes.into_iter().filter_map(Result::err).collect()));
        }
    }
    out
}

/// A stage that looks for a combination among those that are played.
struct Recording<'a> {
    stage: &'a mut dyn Stage,
    tag: &'a str,
    found: Option<Combination>,
}

impl Stage for Recording<'_> {
    fn open(&mut self, scene: &Scene) -> Result<Opened, StageError> {
        self.stage.open(scene)
    }

    fn play(&mut self, script: &Script) -> Result<Observation, StageError> {
        if script.combination.tag() == self.tag {
            self.found = Some(script.combination.clone());
        }
        self.stage.play(script)
    }

    fn renew(&mut self) {
        self.stage.renew();
    }
}

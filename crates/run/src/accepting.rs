//! Recording rendered output and behaviour as accepted.

use fidelon_core::baseline::{Baseline, Changes, RENDERED};
use fidelon_core::judge::behaviour::{self, Act};
use fidelon_core::judge::laws::{self, Runs as _};
use fidelon_core::observation::Tone;
use fidelon_core::results::FileFault;
use fidelon_core::stage::{Combination, Script, StageError, Step};
use indexmap::IndexMap;

use crate::caching_runner::{CachingRunner, Realms};
use crate::judging::{ContractSource, around, name_of, opened};
use crate::pipeline::{Request, Work, over_jobs};
use crate::survey::{self, Survey, SurveyError, baseline_file};

/// What is to be written for a component.
#[derive(Debug, Clone)]
pub struct Record {
    /// The component.
    pub component: String,
    /// The file, relative to the root.
    pub file: String,
    /// Its text, or why there is none.
    pub text: Result<String, String>,
    /// How many combinations it holds.
    pub combinations: usize,
    /// What it changes about what was accepted before.
    pub changes: Changes,
    /// True when nothing was accepted before.
    pub first: bool,
}

/// Renders the plans of all components below the paths of a request. Nothing is written here. Each combination is mounted where
/// nothing was mounted before.
///
/// # Errors
/// [`SurveyError`] when a path cannot be used.
pub fn accept(request: &Request, known_alone: bool) -> Result<(Vec<Record>, Vec<FileFault>), SurveyError> {
    let mut survey = survey::survey(&request.root, &request.paths, &request.stage.common.cache)?;
    if known_alone {
        survey.jobs.retain(|job| job.baseline.is_some());
    }
    let jobs: Vec<usize> = (0..survey.jobs.len()).collect();
    let records = over_jobs(request, &survey, &jobs, &record);
    let Survey { faults, .. } = survey;
    Ok((records, faults))
}

fn record(work: Work<'_>) -> Record {
    let file = baseline_file(&work.job.surface);
    let before = work.job.baseline.clone();
    let component = name_of(&work.job.surface);
    let first = before.is_none();
    match render_all(work) {
        Ok(baseline) => {
            let changes = before.unwrap_or_default().changes(&baseline);
            Record { text: Ok(baseline.write(&component)), component, file, combinations: baseline.len(), changes, first }
        }
        Err(why) => Record { component, file, text: Err(why), combinations: 0, changes: Changes::default(), first },
    }
}

/// Combinations whose behaviour is recorded: a part of a large plan, evenly over it. The output is recorded in all of them.
const MOST_ACTED_IN: usize = 48;

/// Combinations in which it is recorded what can be done after an act.
const MOST_THEN_IN: usize = 8;

/// What is played for an act.
pub(crate) fn acted(combination: &Combination, act: &Act) -> Script {
    Script { phases: vec![act.steps.clone()], ..laws::mount(combination) }
}

fn render_all(work: Work<'_>) -> Result<Baseline, String> {
    let Work { job, held, stage, expressions, .. } = work;
    let contract = held.and_then(|h| h.contract);
    if held.is_some_and(|h: ContractSource<'_>| h.contract.is_none()) {
        return Err("its contract has faults: see there".into());
    }
    let surrounded = around::surrounded(job, contract, stage, expressions);
    let planned = opened(surrounded.as_ref().unwrap_or(job), contract, stage, expressions)?;
    let surroundings = contract.map(|c| c.surroundings.clone()).unwrap_or_default();
    let mut runs = CachingRunner::new(stage, Realms::Fresh, surroundings);
    let mut out = Baseline::default();
    let mut then: IndexMap<String, usize> = IndexMap::new();
    let combinations = &planned.plan.combinations;
    let acted_in = laws::spread(&(0..combinations.len()).collect::<Vec<_>>(), MOST_ACTED_IN);
    for (i, combination) in combinations.iter().enumerate() {
        let observation = runs.play(&laws::mount(combination)).map_err(|e: StageError| e.to_string())?;
        let Some(seen) = observation.mount() else { continue };
        if let Some(note) = seen.notes.iter().find(|n| n.tone == Tone::Failed) {
            return Err(format!("it throws with {}: {}", combination.in_words(), note.text));
        }
        out.put(RENDERED, combination, &behaviour::rendered(seen));
        let acts = if acted_in.contains(&i) && seen.settled { behaviour::acts(seen) } else { Vec::new() };
        for act in acts {
            // What lets nobody come to an end is no outcome to accept.
            let Ok(after) = runs.play(&acted(combination, &act)) else { continue };
            let Some(after) = after.phases.last() else { continue };
            let outcome = behaviour::outcome(&act, seen, after);
            // That nothing comes of the focus or of a key that is pressed anywhere says nothing.
            if outcome != "nothing" || !matches!(act.steps.first(), Some(Step::Focus { .. } | Step::Key { at: None, .. })) {
                out.put(&act.name, combination, &outcome);
            }
            let times = then.entry(act.name.clone()).or_insert(0);
            if *times >= MOST_THEN_IN || outcome == "nothing" {
                continue;
            }
            *times += 1;
            for next in behaviour::next(&act, seen, after) {
                let Ok(rested) = runs.play(&acted(combination, &next)) else { continue };
                if let Some(rested) = rested.phases.last() {
                    out.put(&next.name, combination, &behaviour::outcome(&next, after, rested));
                }
            }
        }
    }
    Ok(out)
}

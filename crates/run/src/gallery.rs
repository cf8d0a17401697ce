//! What a component looked like, for reports and sheets: its plan, and step by step what broke.

use fidelon_core::gallery::{Film, Gallery, Moment, Shot, notes, values};
use fidelon_core::judge::check::in_words;
use fidelon_core::judge::clause::Case;
use fidelon_core::judge::laws::{self, Runs as _};
use fidelon_core::observation::PhaseSnapshot;
use fidelon_core::plan::Domain;
use fidelon_core::stage::{Script, StageError};
use fidelon_core::surface::Surface;

use crate::caching_runner::CachingRunner;
use crate::judging::name_of;
use crate::planning::Planned;
use crate::replaying::moments;

/// A clause that broke, and the case that shows it.
pub(crate) type Broke = (String, Case);

/// Renders the plan and plays what broke once more, step by step.
///
/// # Errors
/// [`StageError`] when the stage cannot play a case.
pub(crate) fn gallery(surface: &Surface, planned: &Planned, broke: &[Broke], runs: &mut CachingRunner<'_>) -> Result<Gallery, StageError> {
    let mut out = Gallery::new(name_of(surface), surface.clone());
    for domain in &planned.domains {
        match domain {
            Domain::Prop(name, values) => drop(out.axes.insert(name.clone(), values.iter().map(ToString::to_string).collect())),
            Domain::Slot(name, fills) => {
                let words = fills.iter().map(|f| f.clone().unwrap_or_else(|| "empty".into())).collect();
                out.axes.insert(format!("slots.{name}"), words);
            }
        }
    }
    let combinations = &planned.plan.combinations;
    runs.ahead(&combinations.iter().map(laws::mount).collect::<Vec<_>>());
    for combination in combinations {
        let observation = runs.play(&laws::mount(combination))?;
        let seen = observation.mount();
        let page = seen.map(|s| out.keep(s));
        out.shots.push(Shot {
            case: format!("{}@{}", surface.name, combination.tag()),
            values: values(combination),
            page,
            events: seen.map(events).unwrap_or_default(),
            notes: seen.map(notes).unwrap_or_default(),
        });
    }
    for (rule, case) in broke {
        let steps = Script { phases: case.script.phases.iter().flatten().map(|step| vec![step.clone()]).collect(), ..case.script.clone() };
        let observation = runs.play(&steps)?;
        let mut film = Film { rule: rule.clone(), case: format!("{}@{}", surface.name, case.combination.tag()), moments: Vec::new() };
        for moment in moments(&case.script, Some(case), &observation) {
            let failures = moment.checked.map(|(_, failures)| failures).unwrap_or_default();
            film.moments.push(Moment {
                step: moment.step,
                page: out.keep(&moment.seen),
                events: events(&moment.seen),
                notes: notes(&moment.seen),
                broke: failures.into_iter().map(|f| f.message).collect(),
            });
        }
        out.films.push(film);
    }
    Ok(out)
}

fn events(seen: &PhaseSnapshot) -> Vec<String> {
    seen.events.iter().map(in_words).collect()
}

//! What changes nothing: props and slots whose every value leaves all that a parent or a person can notice as it is. It is told, and is no
//! fault: what is passed on to others may matter to them.

use super::acting::acts;
use super::{LawContext, Runs, failed, mount, pause};
use crate::judge::check::in_words;
use crate::judge::equivalence::observable;
use crate::observation::{Observation, PhaseSnapshot};
use crate::plan::Domain;
use crate::stage::{Combination, Script, StageError, Step};
use crate::surface::Type;
use crate::value::Value;

/// Combinations in which the values of a prop are told apart, those with most to use among them.
const BASES: usize = 12;
/// Values of one prop that are tried; combinations in which something is used, and controls that are.
const MOST_VALUES: usize = 3;
const BASES_USED: usize = 4;
const MOST_USED: usize = 4;
/// Names that are looked at, first as it is mounted, and of those that show nothing there, as it is used.
const MOST_LOOKED_AT: usize = 40;
const MOST_USED_FOR: usize = 12;

/// The props and slots that change nothing, in their order; none where more than `most` scripts would have to be played to tell. Beside the
/// plan only combinations are played that `allowed` lets occur.
///
/// # Errors
/// When the stage could not play a mount.
pub fn unseen(
    context: &LawContext<'_>,
    allowed: &dyn Fn(&Combination) -> bool,
    most: usize,
    runs: &mut dyn Runs,
) -> Result<Vec<String>, StageError> {
    let mut looking = Looking { allowed, left: most, runs };
    let bases: Vec<Combination> = context.busiest(BASES, looking.runs).into_iter().cloned().collect();
    let mut out = Vec::new();
    let candidates = context.domains.iter().filter(|domain| is_told(context, domain)).take(MOST_LOOKED_AT);
    let rested = |combination: &Combination| Script { phases: vec![pause()], ..mount(combination) };
    for domain in candidates {
        if !looking.differs(domain, &bases, &mount)? && !looking.differs(domain, &bases, &rested)? {
            out.push(domain);
        }
        // What is noticed only as something is used is looked for in few: it costs a run for each control.
        if out.len() > MOST_USED_FOR || looking.left == 0 {
            return Ok(Vec::new());
        }
    }
    let mut names = Vec::new();
    for domain in out {
        let mut is_seen = false;
        for base in bases.iter().take(BASES_USED) {
            let mounted = looking.runs.play(&mount(base))?;
            let Some(seen) = mounted.mount().filter(|s| s.settled && !failed(&mounted)) else { continue };
            for steps in acts(seen).into_iter().take(MOST_USED) {
                let used = |combination: &Combination| {
                    let phases = steps.iter().map(|step| vec![step.clone()]).chain([pause()]).collect::<Vec<Vec<Step>>>();
                    Script { phases, ..mount(combination) }
                };
                is_seen = is_seen || looking.differs(domain, std::slice::from_ref(base), &used)?;
            }
        }
        if !is_seen {
            names.push(domain.name().to_owned());
        }
    }
    Ok(if looking.left == 0 { Vec::new() } else { names })
}

/// Whether something can be said of a prop: its type is known, it takes more than one value, it is no callback, and no law tells of it.
fn is_told(context: &LawContext<'_>, domain: &Domain) -> bool {
    let is_known = match domain {
        Domain::Slot(..) => true,
        Domain::Prop(name, _) => {
            context.surface.prop(name).is_some_and(|p| !matches!(p.ty, Type::Function | Type::Unresolved { .. }) && !p.two_way)
        }
    };
    // Ids are counted and not read where two pages are compared.
    let is_id =
        crate::plan::words(domain.name()).last().is_some_and(|last| ["id", "ids", "key", "name", "for", "ref"].contains(&last.as_str()));
    let is_unused = context.unused.iter().any(|(name, _)| name == domain.name());
    is_known && !is_id && !is_unused && domain.len() > 1
}

/// What is played to tell.
struct Looking<'a> {
    allowed: &'a dyn Fn(&Combination) -> bool,
    /// Scripts that may still be played.
    left: usize,
    runs: &'a mut dyn Runs,
}

impl Looking<'_> {
    /// Whether what is played shows something else for two values.
    fn differs(&mut self, domain: &Domain, bases: &[Combination], script: &dyn Fn(&Combination) -> Script) -> Result<bool, StageError> {
        for base in bases {
            let mut first: Option<Vec<Noticed>> = None;
            for index in values_of(domain) {
                let mut with = base.clone();
                domain.put(index, &mut with);
                if !(self.allowed)(&with) || self.left == 0 {
                    continue;
                }
                self.left -= 1;
                let seen = noticed(&self.runs.play(&script(&with))?);
                match &first {
                    None => first = Some(seen),
                    Some(first) if *first != seen => return Ok(true),
                    Some(_) => {}
                }
            }
        }
        Ok(false)
    }
}

/// The values that are tried: the first ones, and the last.
fn values_of(domain: &Domain) -> Vec<usize> {
    let all = domain.len();
    let mut out: Vec<usize> = (0..all.min(MOST_VALUES - 1)).collect();
    out.extend((all >= MOST_VALUES).then(|| all - 1));
    // Nothing is one of the values, as a rule the first: a value that is passed says more.
    if let Domain::Prop(_, values) = domain {
        out.sort_by_key(|i| values[*i] == Value::Absent);
    }
    out
}

/// What of a phase a parent or a person can notice.
#[derive(Debug, PartialEq)]
struct Noticed {
    page: std::sync::Arc<str>,
    told: Vec<String>,
}

fn noticed(observation: &Observation) -> Vec<Noticed> {
    let of = |phase: &PhaseSnapshot| {
        let events = phase.events.iter().chain(&phase.strays).map(in_words);
        let requests = phase.requests.iter().map(|r| format!("{r:?}"));
        let notes = phase.notes.iter().map(|n| n.text.clone());
        let members = phase.held.values().map(|h| format!("{:?} {:?}", h.exposed, h.handed));
        let faults = phase.faults.iter().map(|f| format!("{f:?}"));
        Noticed { page: observable(phase), told: events.chain(requests).chain(notes).chain(members).chain(faults).collect() }
    };
    observation.phases.iter().map(|phase| of(phase)).collect()
}

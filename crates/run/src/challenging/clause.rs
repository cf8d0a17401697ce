//! A clause that would have noticed a fault: made of what was seen, and tried.

use std::path::Path;

use fidelon_core::contract;
use fidelon_core::draft::{kept, noticing};
use fidelon_core::judge::clause::{self, Case, Standing, Subject};
use fidelon_core::observation::Observation;
use fidelon_core::stage::{Expressions, Script};

use crate::judging::{ContractSource, name_of};
use crate::survey::Job;

/// A clause, and the case in which it tells the two apart.
pub(super) struct Drafted {
    pub(super) text: String,
    pub(super) case: Case,
    pub(super) standing: Standing,
}

impl Drafted {
    /// Whether it holds of what was seen of its case.
    pub(super) fn holds(&self, seen: &Observation) -> bool {
        clause::judge(&self.case, &self.standing, seen).is_empty()
    }
}

/// The clause for a script after one of whose phases something else is to be seen, as the component's contract would read it. None where a
/// contract has no words for it.
pub(super) fn drafted(
    job: &Job,
    held: Option<ContractSource<'_>>,
    expressions: &mut dyn Expressions,
    (script, phase): (&Script, usize),
    (right, wrong): (&Observation, &Observation),
) -> Option<Drafted> {
    let written = noticing::clause(script, phase, right, wrong)?;
    let surface = &job.surface;
    let name = Path::new(&surface.file).file_name()?.to_string_lossy();
    let component = if surface.export == "default" { format!("./{name}") } else { format!("./{name}#{}", surface.export) };
    let text = kept::put(held.map(|h| h.text), &component, &written);
    // Values of other files are what they were: a contract that reads some is not tried with a clause more.
    let (contract, faults) = contract::read_all(&text, &|_| Err(String::new()));
    let contract = contract.filter(|_| faults.is_empty())?;
    let last = contract.clauses.last()?;
    let subject = Subject { name: &name_of(surface), surface };
    let cases = clause::cases(last, std::slice::from_ref(&script.combination), subject, expressions).ok()?;
    let mut case = cases.into_iter().next()?;
    case.script.surroundings = script.surroundings.clone();
    Some(Drafted { text: written, case, standing: Standing::of(&contract) })
}

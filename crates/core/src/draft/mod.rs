//! A first contract from what a component declares and from what was observed of it. What always was so in the combinations that were
//! played becomes a clause; what was so under a condition on the props becomes one with a `where`. Nobody has said yet that it ought to
//! be so: that is for a person to confirm.
//!
//! | module | subject |
//! |---|---|
//! | `condition` | conditions on props that tell where something was so |
//! | `relation` | values as the props make them: `${target + 10}` |
//! | `places` | locators that mean the same node in every combination |
//! | `shown` | what is shown: texts, values, classes, what is there |
//! | `acted` | what comes of acting on each control |
//! | [`kept`] | a case that somebody wants kept |
//! | [`noticing`] | a case that tells what is right from what is wrong |
//! | `values` | what props and slots draw from |
//! | `write` | the contract as text |

mod acted;
mod condition;
pub mod kept;
pub mod noticing;
mod places;
mod relation;
mod shown;
mod values;
mod write;

use crate::judge::laws::{Runs, mount};
use crate::observation::{Observation, PhaseSnapshot};
use crate::plan::Domain;
use crate::stage::{Combination, StageError};
use crate::surface::Surface;

pub use values::domains;
pub use write::write;

/// A promise that was kept wherever its condition holds.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Clause {
    /// What is promised.
    pub words: String,
    /// An expression for the combinations that it is about; all without one.
    pub only: Option<String>,
    /// The steps, as lines of YAML.
    pub steps: Vec<String>,
    /// The checks, each as lines of YAML.
    pub checks: Vec<Vec<String>>,
}

/// A contract in the making.
#[derive(Debug, Clone, PartialEq)]
pub struct Draft {
    /// What props and slots draw from.
    pub domains: Vec<Domain>,
    /// Members that a ref reached, and whether each is a function.
    pub exposes: Vec<(String, bool)>,
    /// The promises.
    pub clauses: Vec<Clause>,
    /// Laws that are broken as the component is now.
    pub laws: Vec<String>,
}

/// All that was observed of the mounts.
struct Mounts<'a> {
    surface: &'a Surface,
    domains: &'a [Domain],
    combinations: &'a [Combination],
    observations: Vec<Observation>,
    conditions: Vec<condition::Condition>,
}

impl Mounts<'_> {
    fn seen(&self, index: usize) -> Option<&PhaseSnapshot> {
        self.observations[index].mount()
    }
}

/// Drafts a contract: plays the mount of each combination, then acts on each control in each.
///
/// # Errors
/// When the stage could not play.
pub fn draft(surface: &Surface, domains: &[Domain], combinations: &[Combination], runs: &mut dyn Runs) -> Result<Draft, StageError> {
    let observations = combinations.iter().map(|c| runs.play(&mount(c))).collect::<Result<Vec<_>, _>>()?;
    let conditions = condition::conditions(domains, combinations);
    let mounts = Mounts { surface, domains, combinations, observations, conditions };
    let held = mounts.observations.iter().filter_map(|o| o.mount()?.held.get("")?.exposed.clone()).next().unwrap_or_default();
    let exposes = held.iter().map(|(name, value)| (name.clone(), value.to_string().contains("function"))).collect();
    let mut clauses = shown::clauses(&mounts);
    clauses.extend(acted::clauses(&mounts, runs)?);
    distinct(&mut clauses);
    Ok(Draft { domains: domains.to_vec(), exposes, clauses, laws: Vec::new() })
}

/// Each clause by words of its own.
fn distinct(clauses: &mut [Clause]) {
    for at in 1..clauses.len() {
        let words = clauses[at].words.clone();
        let same = clauses[..at].iter().filter(|c| c.words == words || c.words.starts_with(&format!("{words} ("))).count();
        if same > 0 {
            clauses[at].words = format!("{words} ({})", same + 1);
        }
    }
}

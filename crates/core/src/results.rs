//! The results file: what `--json` writes. Its form is stable; `format` counts up when it must change.

use serde::{Deserialize, Serialize};

use crate::contract::Fault;
use crate::finding::{Finding, Verdict};
use fidelon_source::Place;

/// All results of a run.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
pub struct Results {
    /// The version of the tool.
    pub fidelon: String,
    /// The version of this form.
    pub format: u32,
    /// Which part of a run it is, where the run was split.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub part: Option<Part>,
    /// The sums.
    pub totals: Totals,
    /// One entry a component, by path.
    pub components: Vec<Component>,
    /// What is wrong with files that are no components.
    pub faults: Vec<FileFault>,
    /// What the person should know besides.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub notes: Vec<String>,
}

/// A part of a run.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub struct Part {
    /// Counted from 1.
    pub number: usize,
    /// So many parts there are.
    pub of: usize,
}

/// The sums of a run.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct Totals {
    /// Components judged.
    pub components: usize,
    /// Combinations of all plans.
    pub combinations: usize,
    /// Checks made, those of laws too.
    pub checks: usize,
    /// Components with a broken promise.
    pub broken: usize,
    /// Components that could not be judged.
    pub unjudged: usize,
}

/// A component's results.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Component {
    /// Its file, and `#export` when it is not the default one.
    pub component: String,
    /// The contract's file, if there is one.
    pub contract: Option<String>,
    /// What became of it.
    pub verdict: Verdict,
    /// Why it could not be judged.
    pub reason: Option<Reason>,
    /// Combinations of its plan.
    pub combinations: usize,
    /// What they cover.
    pub coverage: Coverage,
    /// Its clauses, in the order of the contract.
    pub clauses: Vec<Rule>,
    /// The laws that were checked.
    pub laws: Vec<Rule>,
    /// The comparison with the output that was accepted, if there is any.
    pub baseline: Option<Compared>,
    /// Broken promises.
    pub findings: Vec<Finding>,
    /// What the person should know besides.
    pub notes: Vec<String>,
}

/// Why something could not be judged.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Reason {
    /// In words, with what to do.
    pub message: String,
    /// Where.
    pub place: Option<Place>,
    /// True when a file is at fault rather than a limit.
    pub file: bool,
}

/// Coverage of a plan.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct Coverage {
    /// Pairs of values, of those that can occur.
    pub pairs: Met,
    /// Pairs that cannot occur, by proof.
    pub impossible: usize,
    /// Props that are passed, of those that are declared.
    #[serde(default)]
    pub props: Met,
}

/// So many of so many.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct Met {
    /// Met.
    pub met: usize,
    /// Of these.
    pub of: usize,
}

/// A clause or a law, and how often it was checked.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Rule {
    /// The clause's words, for a clause.
    #[serde(skip_serializing_if = "Option::is_none", default)]
    pub clause: Option<String>,
    /// The law's name, for a law.
    #[serde(skip_serializing_if = "Option::is_none", default)]
    pub law: Option<String>,
    /// What became of it.
    pub verdict: Verdict,
    /// In how many cases it was checked.
    pub checked: usize,
    /// In how many it broke.
    pub broke: usize,
}

/// The comparison of a component with the output that was accepted.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Compared {
    /// The file that holds it.
    pub file: String,
    /// What became of it.
    pub verdict: Verdict,
    /// Combinations that were compared.
    pub checked: usize,
    /// Combinations whose output is another one.
    pub broke: usize,
    /// Combinations of the plan for which nothing was accepted.
    pub new: usize,
    /// Accepted combinations that the plan has no more.
    pub stale: usize,
}

/// A fault in a contract or in the configuration.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct FileFault {
    /// The file.
    pub place: Place,
    /// What is wrong.
    #[serde(flatten)]
    pub fault: Fault,
}

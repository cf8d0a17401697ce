//! What came of breaking components on purpose: which faults their promises noticed. `fidelon challenge --json` writes it.

use fidelon_source::Place;
use serde::{Deserialize, Serialize};

use crate::results::Reason;

/// All that came of a challenge.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
pub struct ChallengeResults {
    /// The version of the tool.
    pub fidelon: String,
    /// The version of this form.
    pub format: u32,
    /// The sums.
    pub totals: FaultCounts,
    /// The sums of each kind of fault that was tried, in the order of the kinds.
    pub kinds: Vec<KindCounts>,
    /// One entry a component, by path.
    pub components: Vec<ChallengedComponent>,
}

/// So many faults of each outcome.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct FaultCounts {
    /// Faults that somebody could notice.
    pub counted: usize,
    /// Of those, the ones that a promise noticed.
    pub noticed: usize,
    /// Faults of which nothing that was played showed anything.
    pub equal: usize,
    /// Faults with which the component could not even be loaded.
    pub invalid: usize,
}

impl FaultCounts {
    /// Counts one more.
    pub fn add(&mut self, outcome: &FaultOutcome) {
        match outcome {
            FaultOutcome::Noticed { .. } => {
                self.counted += 1;
                self.noticed += 1;
            }
            FaultOutcome::Missed { .. } => self.counted += 1,
            FaultOutcome::Equal => self.equal += 1,
            FaultOutcome::Invalid { .. } => self.invalid += 1,
        }
    }

    /// The share of the counted faults that was noticed, in percent, rounded down; 100 where there are none.
    pub fn percent(&self) -> usize {
        (self.noticed * 100).checked_div(self.counted).unwrap_or(100)
    }

    /// Faults that somebody could notice and no promise did.
    pub fn missed(&self) -> usize {
        self.counted - self.noticed
    }
}

/// The sums of one kind of fault.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct KindCounts {
    /// Its name.
    pub kind: String,
    /// The sums.
    #[serde(flatten)]
    pub counts: FaultCounts,
}

/// What came of breaking one component.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct ChallengedComponent {
    /// Its file, and `#export` when it is not the default one.
    pub component: String,
    /// The contract's file, if there is one.
    pub contract: Option<String>,
    /// Why it was not challenged.
    pub reason: Option<Reason>,
    /// Promises that break as it is: they notice nothing, and the others are asked.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub broken: Vec<String>,
    /// The sums.
    pub totals: FaultCounts,
    /// Faults that are possible in its source.
    pub possible: usize,
    /// The faults that were tried, by their places.
    pub faults: Vec<TriedFault>,
}

/// A fault, and what became of it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct TriedFault {
    /// What goes wrong: `boundary`, `event-lost`.
    pub kind: String,
    /// The same in words.
    pub words: String,
    /// Where.
    pub place: Place,
    /// The lines as they are.
    pub before: Vec<String>,
    /// The lines with the fault.
    pub after: Vec<String>,
    /// What became of it.
    #[serde(flatten)]
    pub outcome: FaultOutcome,
}

/// What became of a fault.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "outcome", rename_all = "lowercase")]
pub enum FaultOutcome {
    /// A promise broke.
    Noticed {
        /// The clause, the law, or the accepted output; or why the component could not be played any more.
        by: String,
    },
    /// Every promise held, though something else was to be seen.
    Missed {
        /// What.
        difference: SeenDifference,
        /// A clause that holds without the fault and breaks with it, as YAML; none where none could be made of what was seen.
        clause: Option<String>,
    },
    /// Nothing that was played showed anything else.
    Equal,
    /// The component could not be loaded.
    Invalid {
        /// What was said.
        message: String,
    },
}

/// The case in which a fault was to be seen.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct SeenDifference {
    /// With what, and after which steps.
    pub case: String,
    /// What differed: `the document`, `events`.
    pub aspect: String,
    /// Without the fault.
    pub before: String,
    /// With it.
    pub after: String,
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn shares_are_of_what_could_be_noticed() {
        let mut counts = FaultCounts::default();
        assert_eq!(counts.percent(), 100);
        let missed = SeenDifference { case: String::new(), aspect: String::new(), before: String::new(), after: String::new() };
        for outcome in [
            FaultOutcome::Noticed { by: "x".into() },
            FaultOutcome::Noticed { by: "x".into() },
            FaultOutcome::Missed { difference: missed, clause: None },
            FaultOutcome::Equal,
            FaultOutcome::Invalid { message: String::new() },
        ] {
            counts.add(&outcome);
        }
        assert_eq!((counts.counted, counts.percent(), counts.missed(), counts.equal, counts.invalid), (3, 66, 1, 1, 1));
    }
}

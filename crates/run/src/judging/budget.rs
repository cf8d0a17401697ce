//! What the laws may take of one component: a budget of work, spent where it tells most. What costs little never notices it. It is counted
//! in the engine's steps, so that the same is played on every machine; where a stage counts none, all is played.

use std::cell::{Cell, RefCell};

use fidelon_core::judge::laws::{self, Effort, Runs as _};
use fidelon_core::stage::{Combination, StageError};

use crate::remembering::Remembering;

/// Combinations that every law sees, whatever they cost.
const FEWEST: usize = 3;

/// Combinations that the first laws see at least.
const FEWEST_AT_FIRST: usize = 12;

/// The part of what is left that one law may take for looking at its combinations.
const PART: u64 = 4;

/// Combinations that are played for a cause at least.
const FEWEST_ASKED: usize = 8;

/// What is left for the laws.
#[derive(Debug)]
pub(super) struct Budget {
    all: Option<u64>,
    /// What had been spent before the laws began.
    begun: Cell<u64>,
    left: Cell<u64>,
    /// What a mount takes.
    mount: Cell<u64>,
    /// The fewest combinations that a law saw, of how many.
    least: RefCell<Option<(usize, usize)>>,
}

impl Budget {
    pub(super) fn new(effort: Effort) -> Self {
        let all = effort.budget();
        Self { all, begun: Cell::new(0), left: Cell::new(all.unwrap_or(u64::MAX)), mount: Cell::new(0), least: RefCell::new(None) }
    }

    /// The laws begin: what was spent before counts for the clauses, which are always played whole.
    pub(super) fn begin(&self, spent: u64) {
        self.begun.set(spent);
    }

    /// The combinations that the next law looks at, where those are not all.
    pub(super) fn part(&self, all: &[Combination], runs: &mut Remembering<'_>) -> Result<Option<Vec<Combination>>, StageError> {
        let (Some(budget), Some(plain)) = (self.all, all.first()) else { return Ok(None) };
        if self.mount.get() == 0 {
            self.mount.set(runs.play(&laws::mount(plain))?.work);
        }
        self.left.set(budget.saturating_sub(runs.spent().saturating_sub(self.begun.get())));
        let each = self.mount.get().max(1);
        let affordable = usize::try_from(self.left.get() / PART / each).unwrap_or(usize::MAX);
        let fewest = if self.is_low() { FEWEST } else { FEWEST_AT_FIRST };
        let most = affordable.max(fewest);
        if most >= all.len() {
            return Ok(None);
        }
        let mut least = self.least.borrow_mut();
        if least.is_none_or(|(known, _)| most < known) {
            *least = Some((most, all.len()));
        }
        Ok(Some(laws::telling(all, most)))
    }

    /// True once more than half of it is spent: laws look at less then.
    pub(super) fn is_low(&self) -> bool {
        self.all.is_some_and(|all| self.left.get() < all / 2)
    }

    /// True once nothing is left.
    pub(super) fn is_spent(&self) -> bool {
        self.left.get() == 0
    }

    /// How many combinations may be played to explain a finding.
    pub(super) fn most_asked(&self, most: usize) -> usize {
        let each = self.mount.get();
        if self.all.is_none() || each == 0 {
            return most;
        }
        usize::try_from(self.left.get() / PART / each).unwrap_or(most).clamp(FEWEST_ASKED, most)
    }

    /// What was not played, in words.
    pub(super) fn note(&self) -> Option<String> {
        let (least, of) = (*self.least.borrow())?;
        Some(format!(
            "it costs much to play: laws looked at {least} of {of} combinations at least, those with every single value first; `--effort thorough` plays all"
        ))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_left_says_how_much_is_asked() {
        let budget = Budget::new(Effort::Normal);
        assert_eq!((budget.most_asked(120), budget.is_low(), budget.note()), (120, false, None));
        budget.mount.set(1_000_000);
        budget.left.set(400_000_000);
        assert_eq!(budget.most_asked(120), 100);
        budget.left.set(0);
        assert_eq!((budget.most_asked(120), budget.is_low(), budget.is_spent()), (FEWEST_ASKED, true, true));
        assert!(!Budget::new(Effort::Thorough).is_low());
    }
}

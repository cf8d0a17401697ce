//! What the laws may take of one component: a budget of work, spent where it tells most. What costs little never notices it. It is counted
//! in the engine's steps, so that the same is played on every machine; where a stage counts none, all is played.

use std::cell::{Cell, RefCell};

use fidelon_core::judge::laws::{self, Effort, Runs as _};
use fidelon_core::plan::Domain;
use fidelon_core::stage::{COSTLY_MOUNT, Combination, StageError};

use crate::caching_runner::{CachingRunner, cost};

/// Combinations that every law sees, whatever they cost.
const FEWEST: usize = 3;

/// Combinations that the first laws see at least.
const FEWEST_AT_FIRST: usize = 12;

/// The part of what is left that one law may take for looking at its combinations.
const PART: u64 = 4;

/// Props and slots whose changes the first laws see at least.
const FEWEST_WATCHED: usize = 40;

/// Cases that are played to watch the changes of one prop, about.
const PLAYED_FOR_A_CHANGE: u64 = 8;

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
    /// What opening a realm takes, where each question has its own.
    opening: Cell<u64>,
    /// The fewest combinations that a law saw, of how many.
    least: RefCell<Option<(usize, usize)>>,
    /// The fewest props and slots whose changes a law saw, of how many.
    least_watched: RefCell<Option<(usize, usize)>>,
    /// Whether a mount in a realm of its own costs so much that not everything can be played so.
    costly: Cell<bool>,
    /// Whether something was left out that only a realm shows in which something was played before.
    carried: Cell<bool>,
}

impl Budget {
    pub(super) fn new(effort: Effort) -> Self {
        let all = effort.budget();
        Self {
            all,
            begun: Cell::new(0),
            left: Cell::new(all.unwrap_or(u64::MAX)),
            mount: Cell::new(0),
            opening: Cell::new(0),
            least: RefCell::new(None),
            least_watched: RefCell::new(None),
            costly: Cell::new(false),
            carried: Cell::new(false),
        }
    }

    /// The laws begin: what was spent before counts for the clauses, which are always played whole.
    pub(super) fn begin(&self, spent: u64) {
        self.begun.set(spent);
    }

    /// The combinations that the next law looks at, where those are not all.
    pub(super) fn part(&self, all: &[Combination], runs: &mut CachingRunner<'_>) -> Result<Option<Vec<Combination>>, StageError> {
        let (Some(budget), Some(plain)) = (self.all, all.first()) else { return Ok(None) };
        if self.mount.get() == 0 {
            // Where an instance stays, the first mount costs more than those that follow.
            let first = runs.play(&laws::mount(plain))?.work;
            let later = all.get(1).map(|next| runs.play(&laws::mount(next)).map(|o| o.work)).transpose()?;
            self.mount.set(later.map_or(first, |later| later.min(first)));
            self.costly.set(first > COSTLY_MOUNT);
        }
        self.left.set(self.unspent(budget, runs));
        let each = cost(plain, self.mount.get()) + runs.opening();
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

    fn unspent(&self, budget: u64, runs: &CachingRunner<'_>) -> u64 {
        budget.saturating_sub(runs.spent().saturating_sub(self.begun.get()))
    }

    /// A finding is to be explained. Where each question opens a realm, those before it have left less.
    pub(super) fn explain(&self, runs: &CachingRunner<'_>) {
        self.opening.set(runs.opening());
        if let Some(budget) = self.all.filter(|_| runs.opening() > 0) {
            self.left.set(self.unspent(budget, runs));
        }
    }

    /// The props and slots whose changes the next law looks at, where those are not all: with a realm for each case a change of each of a
    /// hundred props takes minutes.
    pub(super) fn watched(&self, all: &[Domain], runs: &CachingRunner<'_>) -> Option<Vec<Domain>> {
        if self.all.is_none() || runs.opening() == 0 {
            return None;
        }
        let each = (self.mount.get() + runs.opening()) * PLAYED_FOR_A_CHANGE;
        let affordable = usize::try_from(self.left.get() / PART / each).unwrap_or(usize::MAX);
        let most = affordable.max(if self.is_low() { FEWEST_AT_FIRST } else { FEWEST_WATCHED });
        if most >= all.len() {
            return None;
        }
        let mut least = self.least_watched.borrow_mut();
        if least.is_none_or(|(known, _)| most < known) {
            *least = Some((most, all.len()));
        }
        Some(laws::spread(&all.iter().collect::<Vec<_>>(), most).into_iter().cloned().collect())
    }

    /// True once more than half of it is spent: laws look at less then.
    pub(super) fn is_low(&self) -> bool {
        self.all.is_some_and(|all| self.left.get() < all / 2)
    }

    /// Whether a mount costs so much that not everything can be played in a realm of its own.
    pub(super) fn is_costly(&self) -> bool {
        self.all.is_some() && self.costly.get()
    }

    /// Something broke that a realm of its own does not show.
    pub(super) fn leave_out(&self) {
        self.carried.set(true);
    }

    /// True once nothing is left.
    pub(super) fn is_spent(&self) -> bool {
        self.left.get() == 0
    }

    /// How many combinations may be played to explain a finding.
    pub(super) fn most_asked(&self, most: usize) -> usize {
        let each = self.mount.get() + self.opening.get();
        if self.all.is_none() || each == 0 {
            return most;
        }
        // What is left is shared by all that is still to be explained: once that is nothing, what is known has to do.
        let fewest = if self.opening.get() > 0 && self.is_spent() { 0 } else { FEWEST_ASKED };
        usize::try_from(self.left.get() / PART / each).unwrap_or(most).clamp(fewest, most)
    }

    /// What was not played or not told, in words.
    pub(super) fn notes(&self) -> Vec<String> {
        let least = self.least.borrow().map(|(least, of)| {
            format!(
                "it costs much to play: laws looked at {least} of {of} combinations at least, those with every single value first; `--effort thorough` plays all"
            )
        });
        let carried = "its module keeps state from one case to the next: what broke only after other cases is not told; `--effort thorough` plays each in a realm of its own";
        let watched = self.least_watched.borrow().map(|(least, of)| {
            format!("with a realm for each case it costs much to play: some laws looked at changes of {least} of its {of} props and slots; `--effort thorough` plays all")
        });
        least.into_iter().chain(watched).chain(self.carried.get().then(|| carried.to_owned())).collect()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_left_says_how_much_is_asked() {
        let budget = Budget::new(Effort::Normal);
        assert_eq!((budget.most_asked(120), budget.is_low(), budget.notes()), (120, false, Vec::new()));
        budget.mount.set(1_000_000);
        budget.left.set(400_000_000);
        assert_eq!(budget.most_asked(120), 100);
        budget.opening.set(4_000_000);
        assert_eq!(budget.most_asked(120), 20);
        budget.opening.set(0);
        budget.left.set(0);
        assert_eq!((budget.most_asked(120), budget.is_low(), budget.is_spent()), (FEWEST_ASKED, true, true));
        budget.opening.set(4_000_000);
        assert_eq!(budget.most_asked(120), 0, "what is known has to do");
        assert!(!Budget::new(Effort::Thorough).is_low());
    }
}

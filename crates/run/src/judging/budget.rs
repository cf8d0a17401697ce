//! What the laws may take of one component: a budget of work, spent where it tells most. What costs little never notices it. It is counted
//! in the engine's steps, so that the same is played on every machine; where a stage counts none, all is played.

use std::borrow::Cow;
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

/// What all laws together may take once nothing is left, a part for each.
const LAWS_AFTER_ALL: u64 = 60;

/// Once laws have taken so many times what they may, because a single case costs so much, no case more is played for them as a matter of
/// course.
const MOST_BUDGETS: u64 = 2;

/// What laws saw at least.
#[derive(Debug, Default)]
struct Seen {
    combinations: Least,
    domains: Least,
    /// Laws for which the least was too much.
    not_asked: Vec<&'static str>,
}

/// The fewest of something, of how many, where those were not all.
#[derive(Debug, Default)]
struct Least {
    least: Option<(usize, usize)>,
}

impl Least {
    fn note(&mut self, seen: usize, of: usize) {
        if seen < of && self.least.is_none_or(|(known, _)| seen < known) {
            self.least = Some((seen, of));
        }
    }
}

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
    /// What laws saw.
    seen: RefCell<Seen>,
    /// Whether a mount in a realm of its own costs so much that not everything can be played so.
    costly: Cell<bool>,
    /// Whether something was left out that only a realm shows in which something was played before.
    carried: Cell<bool>,
    /// Whether so much more than all was spent that laws may ask for what is known already, and little else.
    overdrawn: Cell<bool>,
}

/// What a law looks at.
#[derive(Debug, Clone)]
pub(super) struct Extent<'a> {
    pub(super) combinations: Cow<'a, [Combination]>,
    /// The props and slots whose changes it looks at.
    pub(super) domains: Cow<'a, [Domain]>,
}

impl Extent<'_> {
    /// Half of it, what tells most; none where it is as little as can be.
    fn half(&self) -> Option<Self> {
        let (combinations, domains) = (self.combinations.len(), self.domains.len());
        (combinations > 1 || domains > 1).then(|| Self {
            combinations: laws::telling(&self.combinations, combinations.div_ceil(2)).into(),
            domains: spread(&self.domains, domains.div_ceil(2)).into(),
        })
    }
}

fn spread(domains: &[Domain], most: usize) -> Vec<Domain> {
    laws::spread(&domains.iter().collect::<Vec<_>>(), most).into_iter().cloned().collect()
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
            seen: RefCell::default(),
            costly: Cell::new(false),
            carried: Cell::new(false),
            overdrawn: Cell::new(false),
        }
    }

    /// The laws begin: what was spent before counts for the clauses, which are always played whole.
    pub(super) fn begin(&self, spent: u64) {
        self.begun.set(spent);
    }

    /// What the next law looks at, of all that there is.
    pub(super) fn part<'a>(&self, all: &Extent<'a>, runs: &mut CachingRunner<'_>) -> Result<Extent<'a>, StageError> {
        let (Some(_), Some(plain)) = (self.all, all.combinations.first()) else { return Ok(all.clone()) };
        if self.mount.get() == 0 {
            // Where an instance stays, the first mount costs more than those that follow.
            let first = runs.play(&laws::mount(plain))?.work;
            let later = all.combinations.get(1).map(|next| runs.play(&laws::mount(next)).map(|o| o.work)).transpose()?;
            self.mount.set(later.map_or(first, |later| later.min(first)));
            self.costly.set(first > COSTLY_MOUNT);
        }
        self.look(runs);
        let fewest = if self.is_low() { FEWEST } else { FEWEST_AT_FIRST };
        let most = self.affordable(cost(plain, self.mount.get()) + self.opening.get()).max(fewest);
        let mut part = all.clone();
        if most < all.combinations.len() {
            part.combinations = laws::telling(&all.combinations, most).into();
        }
        // With a realm for each case a change of each of a hundred props takes minutes.
        if self.opening.get() > 0 {
            let fewest = if self.is_low() { FEWEST_AT_FIRST } else { FEWEST_WATCHED };
            let most = self.affordable((self.mount.get() + self.opening.get()) * PLAYED_FOR_A_CHANGE).max(fewest);
            if most < all.domains.len() {
                part.domains = spread(&all.domains, most).into();
            }
        }
        Ok(part)
    }

    /// How often the part of one law pays for something.
    fn affordable(&self, each: u64) -> usize {
        usize::try_from(self.left.get() / PART / each.max(1)).unwrap_or(usize::MAX)
    }

    /// Looks at what is left, and at what a question costs now.
    pub(super) fn look(&self, runs: &CachingRunner<'_>) {
        self.opening.set(runs.opening());
        if let Some(all) = self.all {
            let spent = runs.spent().saturating_sub(self.begun.get());
            self.left.set(all.saturating_sub(spent));
            self.overdrawn.set(spent > all * MOST_BUDGETS);
        }
    }

    /// Asks a law, which may take a part of what is left; where that is too little, of half as much and half of that again. None where it
    /// would take too much whatever it looks at.
    pub(super) fn ask<'a, T>(
        &self,
        law: &'static str,
        all: &Extent<'a>,
        runs: &mut CachingRunner<'_>,
        ask: impl Fn(&Extent<'a>, &mut CachingRunner<'_>) -> Result<T, StageError>,
    ) -> Result<Option<(T, Extent<'a>)>, StageError> {
        let mut extent = self.part(all, runs)?;
        let mut room = self.room();
        loop {
            match runs.within(room, |runs| ask(&extent, runs)) {
                Err(StageError::Spent) => {}
                said => {
                    let mut seen = self.seen.borrow_mut();
                    seen.combinations.note(extent.combinations.len(), all.combinations.len());
                    seen.domains.note(extent.domains.len(), all.domains.len());
                    return said.map(|said| Some((said, extent)));
                }
            }
            let Some(half) = extent.half() else {
                self.seen.borrow_mut().not_asked.push(law);
                return Ok(None);
            };
            extent = half;
            // What was played is known: little is asked for anew.
            self.look(runs);
            room = self.room().map(|now| now.min(room.unwrap_or(now) / 2));
        }
    }

    /// What one law may take now; none where that is not limited.
    pub(super) fn room(&self) -> Option<u64> {
        let least = if self.overdrawn.get() { 0 } else { self.least() };
        self.all.map(|all| (self.left.get() / 2).max(all / LAWS_AFTER_ALL).max(least))
    }

    /// What a few cases take.
    fn least(&self) -> u64 {
        (self.mount.get() + self.opening.get()) * FEWEST_ASKED as u64
    }

    /// What it may take to explain a finding: once nothing is left, what is known has to do.
    pub(super) fn room_to_explain(&self, runs: &CachingRunner<'_>) -> Option<u64> {
        self.look(runs);
        let is_dear = self.opening.get() > 0 || self.overdrawn.get();
        self.all.map(|_| if self.is_spent() && is_dear { 0 } else { (self.left.get() / PART).max(self.least()) })
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
        self.affordable(each).clamp(FEWEST_ASKED, most)
    }

    /// What was not played or not told, in words.
    pub(super) fn notes(&self) -> Vec<String> {
        let Seen { combinations, domains, not_asked } = &*self.seen.borrow();
        let seen = [
            combinations.least.map(|(least, of)| format!("{least} of {of} combinations at least, those with every single value first")),
            domains.least.map(|(least, of)| format!("changes of {least} of its {of} props and slots at least")),
        ];
        let seen: Vec<String> = seen.into_iter().flatten().collect();
        let seen = (!seen.is_empty())
            .then(|| format!("it costs much to play: laws looked at {}; `--effort thorough` plays all", seen.join(", and at ")));
        let names: Vec<String> = not_asked.iter().map(|name| format!("`{name}`")).collect();
        let not_asked =
            (!names.is_empty()).then(|| format!("it costs too much to play: {} not held; `--effort thorough` holds all", listed(&names)));
        let carried = "its module keeps state from one case to the next: what broke only after other cases is not told; `--effort thorough` plays each in a realm of its own";
        seen.into_iter().chain(not_asked).chain(self.carried.get().then(|| carried.to_owned())).collect()
    }
}

fn listed(names: &[String]) -> String {
    match names {
        [one] => format!("{one} was"),
        [first @ .., last] => format!("{} and {last} were", first.join(", ")),
        [] => String::new(),
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
        assert!(!Budget::new(Effort::Thorough).is_low());
    }
}

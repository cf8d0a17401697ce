//! Work, memory and stack: what a script may use before it is stopped.
//!
//! Work is counted in steps of the engine, its calls and turns of loops, which are the same on every machine and under every load. What a
//! clock shows says how busy the machine is, and no verdict may depend on that.

use std::cell::Cell;
use std::rc::Rc;
use std::time::Duration;

/// So many steps are allowed for each second of a deadline: about what the engine does in a second where it does little else.
pub const STEPS_PER_SECOND: u64 = 20_000_000;

/// Loading a component with all that it imports may take so many times the deadline, and compiling one file too.
pub const LOADING: u32 = 6;

/// The engine asks its interrupt handler once in so many steps (`JS_INTERRUPT_COUNTER_INIT`).
const STEPS_PER_INTERRUPT: u64 = 10_000;

/// What running a promise job counts beside the steps that it makes: the engine asks nobody between jobs.
const STEPS_PER_JOB: u64 = 20;

/// The limits of a realm.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Limits {
    /// What one activity may take, a mount or a step of a person with all that follows: a measure of work, not of time.
    pub deadline: Duration,
    /// Heap of the runtime in MiB.
    pub memory_mib: usize,
    /// Script stack in MiB. The thread's own stack must be larger by half at least.
    pub stack_mib: usize,
}

impl Default for Limits {
    fn default() -> Self {
        Self { deadline: Duration::from_secs(5), memory_mib: 512, stack_mib: 4 }
    }
}

impl Limits {
    /// How many steps the deadline stands for.
    pub fn steps(&self) -> u64 {
        let milliseconds = u64::try_from(self.deadline.as_millis()).unwrap_or(u64::MAX);
        milliseconds.saturating_mul(STEPS_PER_SECOND / 1_000)
    }

    /// The same limits with a deadline so many times as long.
    #[must_use]
    pub fn times(self, factor: u32) -> Self {
        Self { deadline: self.deadline.saturating_mul(factor), ..self }
    }
}

/// Counts the work of the running script, shared with the engine's interrupt handler.
#[derive(Debug, Clone, Default)]
pub(crate) struct Meter {
    steps: Rc<Cell<u64>>,
    /// All steps so far, of whatever activity.
    total: Rc<Cell<u64>>,
    allowed: Rc<Cell<u64>>,
    /// How many activities are open, one within the other: the outermost counts.
    open: Rc<Cell<u32>>,
    over: Rc<Cell<bool>>,
    weight: Weight,
}

/// How much text scripts have put into the document since the last reset. The document is no part of the runtime's heap, so
/// its limit is kept here; what was replaced since counts too.
#[derive(Debug, Clone, Default)]
pub(crate) struct Weight {
    bytes: Rc<Cell<usize>>,
    limit: Rc<Cell<usize>>,
}

impl Weight {
    /// Sets the limit.
    pub(crate) fn limit(&self, bytes: usize) {
        self.limit.set(bytes);
    }

    pub(crate) fn add(&self, bytes: usize) {
        self.bytes.set(self.bytes.get().saturating_add(bytes));
    }

    pub(crate) fn reset(&self) {
        self.bytes.set(0);
    }

    /// True when there is more than may be.
    pub(crate) fn is_over(&self) -> bool {
        self.limit.get() > 0 && self.bytes.get() > self.limit.get()
    }
}

impl Meter {
    /// What scripts put into the document.
    pub(crate) fn weight(&self) -> &Weight {
        &self.weight
    }

    /// Begins an activity that may take so many steps. Within another one it changes nothing.
    pub(crate) fn begin(&self, steps: u64) {
        if self.open.get() == 0 {
            self.steps.set(0);
            self.allowed.set(steps);
        }
        self.open.set(self.open.get() + 1);
    }

    /// Ends what [`Meter::begin`] began.
    pub(crate) fn end(&self) {
        self.open.set(self.open.get().saturating_sub(1));
    }

    /// Counts so many steps, which is more than nothing where the engine makes none: in a built-in whose work grows.
    pub(crate) fn count(&self, steps: u64) {
        self.steps.set(self.steps.get().saturating_add(steps));
        self.total.set(self.total.get().saturating_add(steps));
        if self.open.get() > 0 && self.steps.get() > self.allowed.get() {
            self.over.set(true);
        }
    }

    /// How many steps the activity that is open has made.
    pub(crate) fn steps(&self) -> u64 {
        self.steps.get()
    }

    /// How many steps were made in all.
    pub(crate) fn total(&self) -> u64 {
        self.total.get()
    }

    /// How many it may make.
    pub(crate) fn allowed(&self) -> u64 {
        self.allowed.get()
    }

    /// Counts a promise job.
    pub(crate) fn count_job(&self) {
        self.count(STEPS_PER_JOB);
    }

    /// What the engine asks from time to time: true when it is to stop.
    pub(crate) fn interrupt(&self) -> bool {
        self.count(STEPS_PER_INTERRUPT);
        self.is_over()
    }

    /// True once the work is up, or the document is full. Stays true: the realm is lost.
    pub(crate) fn is_over(&self) -> bool {
        self.over.get() || self.weight.is_over()
    }

    /// Whether the steps were used up.
    pub(crate) fn has_run_out(&self) -> bool {
        self.over.get()
    }

    /// Takes back that the steps were used up: promise jobs that never end are no call that never returns, and what they did can be
    /// looked at.
    pub(crate) fn excuse(&self) {
        self.over.set(false);
        self.steps.set(0);
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_outermost_activity_counts() {
        let meter = Meter::default();
        meter.begin(25_000);
        meter.begin(1);
        assert!(!meter.interrupt() && !meter.interrupt());
        meter.end();
        assert!(meter.interrupt(), "30,000 steps of 25,000");
        meter.end();
        meter.begin(50_000);
        assert!(meter.is_over(), "what was lost stays lost");
    }

    #[test]
    fn a_deadline_stands_for_steps() {
        assert_eq!(Limits::default().steps(), 100_000_000);
        assert_eq!(Limits::default().times(6).steps(), 600_000_000);
        assert_eq!(Limits { deadline: Duration::MAX, ..Limits::default() }.times(2).steps(), u64::MAX);
    }
}

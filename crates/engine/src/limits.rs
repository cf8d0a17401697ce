//! Deadline, memory and stack: what a script may use before it is stopped.

use std::cell::Cell;
use std::rc::Rc;
use std::time::{Duration, Instant};

/// The limits of a realm.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Limits {
    /// Longest time that one call, or one settling, may take on the real clock.
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

/// The moment at which the running script is stopped, shared with the engine's interrupt handler.
#[derive(Debug, Clone, Default)]
pub(crate) struct Watch {
    until: Rc<Cell<Option<Instant>>>,
    fired: Rc<Cell<bool>>,
    weight: Weight,
}

/// How much text scripts have put into the document since the last reset. The document is no part of the runtime's heap, so
/// its limit is kept here; what was replaced since counts too.
#[derive(Debug, Clone, Default)]
pub(crate) struct Weight {
    bytes: Rc<Cell<usize>>,
    most: Rc<Cell<usize>>,
}

impl Weight {
    /// Sets the limit.
    pub(crate) fn limit(&self, bytes: usize) {
        self.most.set(bytes);
    }

    pub(crate) fn add(&self, bytes: usize) {
        self.bytes.set(self.bytes.get().saturating_add(bytes));
    }

    pub(crate) fn reset(&self) {
        self.bytes.set(0);
    }

    /// True when there is more than may be.
    pub(crate) fn is_over(&self) -> bool {
        self.most.get() > 0 && self.bytes.get() > self.most.get()
    }
}

impl Watch {
    /// What scripts put into the document.
    pub(crate) fn weight(&self) -> &Weight {
        &self.weight
    }

    pub(crate) fn start(&self, limits: &Limits) {
        if self.until.get().is_none() {
            self.until.set(Some(Instant::now() + limits.deadline));
        }
    }

    pub(crate) fn stop(&self) {
        self.until.set(None);
    }

    /// Does not count the time that `work` takes: it is the host's, not the script's.
    pub(crate) fn excuse<T>(&self, work: impl FnOnce() -> T) -> T {
        let began = Instant::now();
        let out = work();
        if let Some(until) = self.until.get() {
            self.until.set(Some(until + began.elapsed()));
        }
        out
    }

    /// True once the time is up, or the document is full. Stays true: the realm is lost.
    pub(crate) fn is_over(&self) -> bool {
        if self.weight.is_over() {
            return true;
        }
        if self.until.get().is_some_and(|t| Instant::now() > t) {
            self.fired.set(true);
        }
        self.fired.get()
    }

    pub(crate) fn has_fired(&self) -> bool {
        self.fired.get()
    }
}

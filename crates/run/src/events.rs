//! What a run tells while it goes on. Produced by [`crate::pipeline::check`], from any of its threads, one at a time;
//! consumed by whoever shows progress. The order of `Started` and `Judged` depends on the threads; results do not.

use fidelon_core::Verdict;

/// A step of a run.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum RunEvent {
    /// The components and contracts are known.
    Surveyed {
        /// How many components.
        components: usize,
        /// How many contracts.
        contracts: usize,
    },
    /// A component is being judged.
    Started {
        /// The component.
        component: String,
    },
    /// A component was judged.
    Judged {
        /// The component.
        component: String,
        /// What became of it.
        verdict: Verdict,
        /// Of so many components, so many are judged by now.
        done: usize,
    },
}

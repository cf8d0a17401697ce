//! What a run tells while it goes on. Produced by [`crate::pipeline::check`], from any of its threads, one at a time;
//! consumed by whoever shows progress. The order of `Started` and `Judged` depends on the threads; results do not.

use fidelon_core::challenge::ChallengedComponent;
use fidelon_core::results::Component;
use serde::Serialize;

/// A step of a run.
#[derive(Debug, Clone, Serialize)]
#[serde(tag = "event", rename_all = "lowercase")]
pub enum RunEvent {
    /// The components and contracts are known.
    Surveyed {
        /// The components, in the order of the results.
        components: Vec<String>,
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
        /// Which of the components it is, from 0.
        index: usize,
        /// Its results.
        component: Box<Component>,
        /// Of so many components, so many are judged by now.
        done: usize,
    },
    /// A component was broken on purpose, by every fault that was asked for.
    Challenged {
        /// Which of the components it is, from 0.
        index: usize,
        /// What came of it.
        component: Box<ChallengedComponent>,
        /// Of so many components, so many are through by now.
        done: usize,
    },
}

//! Judgement: from observations to verdicts.
//!
//! | module | subject |
//! |---|---|
//! | [`behaviour`] | what comes of acting on a component, in words that are accepted |
//! | [`check`] | one check against what was seen |
//! | [`clause`] | a clause: the cases it asks for, and what its checks say |
//! | [`laws`] | the laws: one function each |
//! | [`agreement`] | whether two stages saw the same |
//! | [`missing`] | what a component did not find around it, read from what it says |
//! | [`warnings`] | what frameworks warn of, read from their words |
//! | [`equivalence`] | ≡: what a parent or a person can observe |

pub mod agreement;
pub mod behaviour;
pub mod check;
pub mod clause;
pub mod equivalence;
pub mod laws;
pub mod missing;
pub mod warnings;

pub use check::holds;
pub use clause::{Case, cases};

//! The contract file: its text, its faults, and what it says.
//!
//! | module | subject |
//! |---|---|
//! | [`yaml`] | YAML 1.2 with the place of every node |
//! | [`fault`] | what is wrong with a contract, told as data |
//! | [`model`] | what a contract says |
//! | [`read`] | from text to model: the top level and the clauses |
//! | [`steps`] | the steps of a clause |
//! | [`checks`] | the checks of a clause |
//! | [`adapt`] | a surface with what the contract adds to it |
//! | `surroundings` | the clock and canned replies |
//! | [`template`] | `${…}` |

pub mod adapt;
pub mod checks;
pub mod fault;
pub mod model;
pub mod read;
pub mod steps;
mod surroundings;
pub mod template;
pub mod yaml;

pub use adapt::adapted;
pub use checks::{Check, Predicate, Subject};
pub use fault::Fault;
pub use model::{Clause, Contract, Exemption, Expression, Phase, PropValues, SlotContract};
pub use read::{check_names, named_components, read, read_all};

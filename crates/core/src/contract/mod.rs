//! The contract file: its text, its faults, and what it says.
//!
//! | module | subject |
//! |---|---|
//! | [`yaml`] | YAML 1.2 with the place of every node |
//! | [`fault`] | what is wrong with a contract, told as data |
//! | [`model`] | what a contract says |
//! | [`read`] | from text to model: the top level |
//! | `values` | values: what YAML says, and `$js`, `$from`, `$file` |
//! | [`scene`] | scenes, and what stands around components |
//! | `clauses` | the clauses, and the promises that stand outside them |
//! | [`names`] | the names in a contract against what its components declare |
//! | [`steps`] | the steps of a clause |
//! | [`checks`] | the checks of a clause |
//! | [`adapt`] | a surface with what the contract adds to it |
//! | `surroundings` | the clock and canned replies |
//! | [`template`] | `${…}` |

pub mod adapt;
pub mod checks;
mod clauses;
pub mod fault;
pub mod model;
pub mod names;
pub mod read;
pub mod scene;
pub mod steps;
mod surroundings;
pub mod template;
mod values;
pub mod yaml;

pub use adapt::{adapted, styled, watched};
pub use checks::{Check, Predicate, Schema, Subject};
pub use fault::Fault;
pub use model::{Clause, Contract, Exemption, Expression, Phase, PropValues, SlotContract};
pub use names::check_names;
pub use read::{is_of_this_machine, named_components, read, read_all};

//! From values to combinations.
//!
//! | module | subject |
//! |---|---|
//! | [`domain`] | what one prop or slot draws from |
//! | [`values`] | values made from declared types |
//! | [`rules`] | what cannot occur, and the proof that something cannot |
//! | [`cover`] | which combinations are wanted, and the plan |
//! | [`names`] | what the name of a prop says of its values |
//! | `texts` | texts that a prop can take, by its name |
//! | `array` | covering arrays: few combinations that meet every pair or triple |
//! | [`chance`] | seeded choice |

mod array;
pub mod chance;
pub mod cover;
pub mod domain;
pub mod names;
pub mod rules;
mod texts;
pub mod values;

pub use chance::Chance;
pub use cover::{Cover, MOST_BY_DEFAULT, MOST_EVER, Plan, Unplanned, plan};
pub use domain::{Domain, every, row, size};
pub use names::{is_choice, is_time};
pub use rules::{Rule, Rules};
pub(crate) use texts::{of as texts_of, words};
pub use values::{MOST_MEMBERS, MOST_VARIED, declared, edge_values};

//! Values of CSS, without a document: what a property takes and how a browser writes it down.
//!
//! | module | holds |
//! |---|---|
//! | [`definition`] | the language in which the standards say what is taken (CSS Values §2) |
//! | [`grammar`] | what each property and type takes, from a published table |
//! | [`component`] | a value as a tree of tokens (CSS Syntax §5.4.7) |
//! | [`interpolate`] | values between two others, and their sums |
//! | [`matching`] | a value held against what is taken |
//! | [`value`] | the canonical text of a value (CSSOM §6.7.2) |
//! | [`words`] | which words a property takes alone, as a browser says |
//! | [`math`] | what is calculated (CSS Values §10) |
//!
//! ```
//! use fidelon_css::canonical;
//!
//! assert_eq!(canonical("margin", "0 AUTO").as_deref(), Some("0px auto"));
//! assert_eq!(canonical("color", "#fa0").as_deref(), Some("rgb(255, 170, 0)"));
//! assert_eq!(canonical("padding", "-1px"), None);
//! ```

mod arrange;
mod colour;
pub mod component;
pub mod definition;
pub mod grammar;
pub mod interpolate;
pub mod matching;
pub mod math;
pub mod value;
pub mod words;

pub use value::{canonical, number, property, split};

//! Results for people and machines. Nothing is computed here.
//!
//! | module | subject |
//! |---|---|
//! | [`terminal`] | findings as a person would tell them |
//! | [`explained`] | the laws, listed, and one told with an example |
//! | [`faults`] | faults of files, with the text underlined |
//! | [`rendered`] | one rendered component as markup, outline or JSON |
//! | [`surveyed`] | what components declare, in short and in full |
//! | [`manifest`] | custom elements as the Custom Elements Manifest |
//! | [`replayed`] | a case played again, and what was accepted |
//! | [`style`] | colour, or none |

pub mod explained;
pub mod faults;
pub mod manifest;
pub mod rendered;
pub mod replayed;
pub mod style;
pub mod surveyed;
pub mod terminal;

pub use rendered::Form;
pub use style::Style;

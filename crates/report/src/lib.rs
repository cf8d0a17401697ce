//! Results for people and machines. Nothing is computed here.
//!
//! | module | subject |
//! |---|---|
//! | [`terminal`] | findings as a person would tell them |
//! | [`challenged`] | what promises noticed of faults that were made on purpose |
//! | [`compared`] | two components side by side |
//! | [`explained`] | the laws, listed, and one told with an example |
//! | [`faults`] | faults of files, with the text underlined |
//! | [`rendered`] | one rendered component as markup, outline or JSON |
//! | [`surveyed`] | what components declare, in short and in full |
//! | [`lines`] | a line a finding, for editors; annotations for CI |
//! | [`html`] | a folder that opens in a browser, with all that was rendered |
//! | [`junit`] | JUnit XML |
//! | [`sheet`] | every combination side by side on one page |
//! | [`sarif`] | SARIF 2.1.0 |
//! | [`places`] | where a finding is shown |
//! | [`told`] | the words of a finding that every report shares |
//! | [`manifest`] | custom elements as the Custom Elements Manifest |
//! | [`replayed`] | a case played again, and what was accepted |
//! | [`style`] | colour, or none |

pub mod challenged;
pub mod compared;
pub mod explained;
pub mod faults;
pub mod html;
pub mod junit;
pub mod lines;
pub mod manifest;
pub mod places;
pub mod rendered;
pub mod replayed;
pub mod sarif;
pub mod sheet;
pub mod style;
pub mod surveyed;
pub mod terminal;
pub mod told;

pub use rendered::Form;
pub use style::Style;

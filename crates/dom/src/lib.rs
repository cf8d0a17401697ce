//! The document: what the DOM, HTML and ARIA standards define without a script running.
//!
//! | module | subject |
//! |---|---|
//! | [`tree`] | nodes, insertion, removal, cloning (DOM §4.2) |
//! | [`shadow`] | shadow trees, slots, the composed and the flat tree (DOM §4.2.2, §4.8) |
//! | [`element`] | elements, attributes, live form state |
//! | [`attributes`] | the attributes that HTML knows, by element |
//! | [`parse`] | HTML text to nodes (HTML §13.2, by html5ever) |
//! | [`serialize`] | nodes to HTML text (HTML §13.3), indented markup and outline |
//! | [`still`] | a page as it stood, as HTML that shows the same without scripts |
//! | [`selector`] | CSS selectors (Selectors 4, by the `selectors` crate) |
//! | [`cascade`] | stylesheets, and what the properties of an element come to (CSS Cascade 5) |
//! | [`style`] | declaration lists as in `style` attributes (CSSOM §6.6) |
//! | [`form`] | values, checkedness, options, labels, disabledness (HTML §4.10) |
//! | [`inputs`] | what kinds of `<input>` take, the numbers behind their values, steps (HTML §4.10.5.1) |
//! | [`calendar`] | days and dates |
//! | [`validity`] | what is wrong with the value of a control (HTML §4.10.20) |
//! | [`role`] | implicit and explicit ARIA roles (HTML-AAM, WAI-ARIA 1.2) |
//! | [`name`] | accessible names (accname 1.2) |
//!
//! Nothing here knows that a script engine exists: nodes are numbered, and whoever binds the document to a language
//! keeps its own table from number to object.

pub mod attributes;
pub mod calendar;
pub mod cascade;
pub mod element;
pub mod form;
pub mod inputs;
pub mod name;
pub mod parse;
mod pseudo;
mod revision;
pub mod role;
pub mod selector;
pub mod serialize;
pub mod shadow;
pub mod shown;
mod snapshot;
pub mod still;
pub mod style;
pub mod tree;
mod validation_message;
pub mod validity;

pub use element::{Attr, Element, FormState, Internal, Mark, Namespace, Overlay};
pub use name::accessible_name;
pub use role::role_of;
pub use selector::{SelectorError, Selectors};
pub use shadow::{Shadow, ShadowMode};
pub use still::{Still, still};
pub use tree::{Document, InsertError, Node, NodeData, NodeId};
pub use validation_message::validation_message;

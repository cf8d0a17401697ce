//! What TypeScript types come to, as far as the props of components need it: aliases, interfaces and classes with their arguments put in,
//! unions, intersections, mapped, indexed and conditional types, `keyof`, `typeof`, template literals, enums, the utility types of the
//! language (TypeScript Handbook, "Creating Types from Types" and "Utility Types"), and what frameworks call their own.
//!
//! | module | subject |
//! |---|---|
//! | [`syntax`] | types, expressions and declarations as written |
//! | [`lower`] | from the parser's tree to those |
//! | [`comments`] | types that are written in comments |
//! | [`module`] | a file with what it declares, imports and exports |
//! | [`ty`] | what types come to |
//! | [`checker`] | works types out |
//! | `objects` | members: interfaces, classes, intersections, mapped and indexed types |
//! | `relate` | whether a type extends another, and what is inferred on the way |
//! | `values` | what `typeof` gives |
//! | `known` | types of the language, of the page and of frameworks |
//!
//! Nothing is checked here: a program that a compiler refuses has types, too. What cannot be resolved is [`Ty::Unknown`] with its reason, or
//! an object that is open.

pub mod checker;
pub mod comments;
mod css;
mod known;
pub mod lower;
pub mod module;
mod objects;
mod relate;
pub mod syntax;
pub mod ty;
mod values;

pub use checker::{Checker, Finds};
pub use known::attribute;
pub use module::Module;
pub use ty::{Function, Lazy, Object, Property, Scope, Ty};

//! What a contract says.

use fidelon_source::Span;
use indexmap::IndexMap;

use crate::contract::yaml::Node;
use crate::plan::Cover;
use crate::stage::{Combination, Parent, Surroundings};
use crate::value::Value;

/// An expression and where it stands.
#[derive(Debug, Clone, PartialEq)]
pub struct Expression {
    /// The text.
    pub text: String,
    /// Where.
    pub span: Span,
}

/// What a prop draws its values from.
#[derive(Debug, Clone, PartialEq)]
pub enum PropValues {
    /// These, the first for a plain render.
    These(Vec<Value>),
    /// Every value of a boolean or declared union.
    All,
    /// The edge values of the declared type.
    Declared,
}

/// What is put into a slot, and what shows when nothing is.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct SlotContract {
    /// Contents; none leaves it empty.
    pub fills: Vec<Option<String>>,
    /// The text that an empty slot shows.
    pub fallback: Option<String>,
}

/// A two-way prop.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Binding {
    /// The event that reports its changes.
    pub event: Option<String>,
}

/// A law that does not hold here, and why.
#[derive(Debug, Clone, PartialEq)]
pub struct Exemption {
    /// The law.
    pub law: String,
    /// Only for these names; for all when empty.
    pub except: Vec<String>,
    /// The reason.
    pub because: String,
    /// Where it is said.
    pub span: Span,
}

/// Steps and the checks after them. Both may hold `${…}`, so they stay nodes until the case is known.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Phase {
    /// The steps.
    pub steps: Vec<Node>,
    /// The checks.
    pub checks: Vec<Node>,
}

/// A promise.
#[derive(Debug, Clone, PartialEq)]
pub struct Clause {
    /// In words.
    pub name: String,
    /// Where its words stand.
    pub span: Span,
    /// To which combinations it applies.
    pub condition: Option<Expression>,
    /// What is fixed for it.
    pub hold: Combination,
    /// How the parent answers.
    pub parent: Parent,
    /// What is done and expected.
    pub phases: Vec<Phase>,
}

/// A contract.
#[derive(Debug, Clone, PartialEq)]
pub struct Contract {
    /// The components that are held to it: a path, or a path and `#export`.
    pub components: Vec<(String, Span)>,
    /// Prose.
    pub about: Option<String>,
    /// Values per prop.
    pub props: IndexMap<String, (PropValues, Span)>,
    /// What cannot occur.
    pub never: Vec<Expression>,
    /// How many combinations.
    pub cover: Option<Cover>,
    /// Slots.
    pub slots: IndexMap<String, (SlotContract, Span)>,
    /// Members that a parent reaches.
    pub exposes: IndexMap<String, (String, Span)>,
    /// Events that the source does not declare.
    pub events: IndexMap<String, Span>,
    /// Two-way props that the source does not tell.
    pub bindings: IndexMap<String, (Binding, Span)>,
    /// What is around the component.
    pub surroundings: Surroundings,
    /// Laws that do not hold here.
    pub laws: Vec<Exemption>,
    /// The promises.
    pub clauses: Vec<Clause>,
}

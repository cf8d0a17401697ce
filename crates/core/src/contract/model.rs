//! What a contract says.

use fidelon_source::Span;
use indexmap::IndexMap;

use crate::contract::checks::Schema;
use crate::contract::yaml::Node;
use crate::locator::Locator;
use crate::plan::Cover;
use crate::scene::Passed;
use crate::stage::{Combination, Environment, Parent};
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
    /// What the slot hands to its content: a JSON Schema per name.
    pub exposes: Option<Schema>,
}

/// A two-way prop.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Binding {
    /// The event that reports its changes.
    pub event: Option<String>,
    /// The control by which a person changes it.
    pub edit: Option<Locator>,
    /// The values that a person brings the control to.
    pub with: Vec<Value>,
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

/// A component that a contract names: one path for each framework, or one for all.
pub type Named = Vec<(String, Span)>;

/// A component around others.
#[derive(Debug, Clone, PartialEq)]
pub struct Wrap {
    /// Which: of several, the one of the component's own framework.
    pub components: Named,
    /// What it is passed.
    pub props: IndexMap<String, Value>,
}

/// A part of a scene.
#[derive(Debug, Clone, PartialEq)]
pub struct PartContract {
    /// Which component: of several, the first makes the first scene, the second another one.
    pub components: Named,
    /// What it is passed.
    pub props: IndexMap<String, (Passed, Span)>,
    /// The content of its slots.
    pub fills: IndexMap<String, Option<String>>,
    /// Where it is named.
    pub span: Span,
}

/// What an event of a part does.
#[derive(Debug, Clone, PartialEq)]
pub struct WireContract {
    /// The part and its event.
    pub from: (String, String),
    /// Where.
    pub span: Span,
    /// The new values of fields of the state.
    pub set: IndexMap<String, Expression>,
}

/// Components beside each other.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct SceneContract {
    /// The state, and its start.
    pub state: IndexMap<String, Value>,
    /// The parts.
    pub parts: IndexMap<String, PartContract>,
    /// The wires.
    pub wires: Vec<WireContract>,
    /// Where it is said.
    pub span: Span,
}

/// What stands on the page besides the component.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Around {
    /// Components around it, outermost first.
    pub wrap: Vec<Wrap>,
    /// Components that slot content may name.
    pub uses: IndexMap<String, Named>,
    /// Stylesheets.
    pub styles: Vec<(String, Span)>,
    /// Values that modules export: `./kilns.ts#hot`.
    pub values: Vec<(String, Span)>,
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
    /// True for what follows from another part of the contract: it may apply to no combination.
    pub implied: bool,
}

/// A contract.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Contract {
    /// The components that are held to it: a path, or a path and `#export`. None for a scene.
    pub components: Named,
    /// The components beside each other that are held to it instead.
    pub scene: Option<SceneContract>,
    /// What stands on the page besides.
    pub around: Around,
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
    /// Events that the source does not declare, or whose payload is promised.
    pub events: IndexMap<String, (Option<Schema>, Span)>,
    /// Two-way props that the source does not tell.
    pub bindings: IndexMap<String, (Binding, Span)>,
    /// What is around the component.
    pub surroundings: Environment,
    /// Laws that do not hold here.
    pub laws: Vec<Exemption>,
    /// The promises.
    pub clauses: Vec<Clause>,
}

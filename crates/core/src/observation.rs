//! What was seen on a stage.

use std::rc::Rc;
use std::sync::{Arc, OnceLock};

use fidelon_dom::{Document, NodeId};
use fidelon_source::Place;
use indexmap::IndexMap;
use rustc_hash::FxHashMap;
use serde::{Deserialize, Serialize};

use crate::value::Value;

/// An event that the component emitted, or a change of a two-way prop that it reported.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Emitted {
    /// The event's name; the prop's for a report.
    pub name: String,
    /// True for the report of a two-way prop.
    pub binding: bool,
    /// The arguments.
    pub payload: Vec<Value>,
    /// The part of the scene that emitted it; empty for a component alone.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub part: String,
}

impl Emitted {
    /// The payload as contracts speak of it: the single argument, or the list of several.
    pub fn value(&self) -> Value {
        match self.payload.as_slice() {
            [] => Value::Absent,
            [one] => one.clone(),
            many => Value::Json(
                many.iter()
                    .map(|v| match v {
                        Value::Json(j) => j.clone(),
                        other => serde_json::Value::from(other.to_string()),
                    })
                    .collect(),
            ),
        }
    }
}

/// How something that was said came about.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Tone {
    /// Logged as a warning or an error.
    Warned,
    /// Thrown, and caught by no one in the component.
    Failed,
    /// Logged otherwise.
    Said,
}

/// A log entry or an error.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Note {
    /// How it came about.
    pub tone: Tone,
    /// The text.
    pub text: String,
    /// The place in the user's own source.
    pub place: Option<Place>,
}

/// A step that could not be done: its target was not there, or there were several.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct StepFault {
    /// Which step of the phase, from 0.
    pub step: usize,
    /// What is wrong.
    pub message: String,
}

/// Slot content that stands somewhere.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
pub struct SlotPlacement {
    /// Which of the contents of the slot it is, from 0.
    pub index: usize,
    /// The node; for a text the node that holds it.
    pub node: NodeId,
}

/// What the parent holds of a part, and what reaches it from there.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[serde(default)]
pub struct ParentView {
    /// The parent's side of each two-way prop.
    pub bound: IndexMap<String, Value>,
    /// Members that the ref reaches: functions as `Value::Other("function")`.
    pub exposed: Option<IndexMap<String, Value>>,
    /// The nodes among those members, and under the empty name the ref itself if it is one.
    pub refs: IndexMap<String, NodeId>,
    /// Where the content of each slot stands.
    pub given: IndexMap<String, Vec<SlotPlacement>>,
    /// What each slot handed to its content at last.
    pub handed: IndexMap<String, Value>,
    /// Props whose value was changed in place since it was passed.
    pub touched: Vec<String>,
    /// Properties of an element that hold another value than was passed: it set them itself.
    pub overruled: Vec<String>,
    /// Which object the ref holds: the same number stands for the same one.
    pub instance: Option<u32>,
    /// True when the ref still holds one after the removal.
    pub kept: bool,
}

impl ParentView {
    /// The same with the nodes of the stage as a snapshot numbers them; nodes that are not in it are left out.
    #[must_use]
    pub fn in_snapshot(self, numbers: &[NodeId]) -> Self {
        if self.refs.is_empty() && self.given.is_empty() {
            return self;
        }
        let places = Places::new(numbers);
        let at = |node: NodeId| places.of(node);
        let given = |list: Vec<SlotPlacement>| list.into_iter().filter_map(|g| Some(SlotPlacement { node: at(g.node)?, ..g })).collect();
        Self {
            refs: self.refs.into_iter().filter_map(|(name, node)| Some((name, at(node)?))).collect(),
            given: self.given.into_iter().map(|(slot, list)| (slot, given(list))).collect(),
            ..self
        }
    }
}

/// Where the nodes of a stage stand in a snapshot.
#[derive(Debug, Default)]
struct Places(FxHashMap<NodeId, NodeId>);

impl Places {
    fn new(numbers: &[NodeId]) -> Self {
        Self(numbers.iter().enumerate().map(|(at, number)| (*number, NodeId(at as u32))).collect())
    }

    fn of(&self, node: NodeId) -> Option<NodeId> {
        self.0.get(&node).copied()
    }
}

/// What was there after a phase, and what came during it.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
pub struct PhaseSnapshot {
    /// The page.
    pub tree: Document,
    /// The number that each node of the tree has on the stage: where two phases have the same number, it is the same node.
    pub numbers: Vec<NodeId>,
    /// Events since the phase began, in order.
    pub events: Vec<Emitted>,
    /// Events since then that are not declared.
    pub strays: Vec<Emitted>,
    /// What the parent holds of each part; the empty name is a component alone, or the state of a scene.
    pub held: IndexMap<String, ParentView>,
    /// What was logged or thrown since the phase began.
    pub notes: Vec<Note>,
    /// Steps that could not be done.
    pub faults: Vec<StepFault>,
    /// False when it never came to rest.
    pub settled: bool,
    /// Requests that were made since the phase began.
    pub requests: Vec<Requested>,
    /// What of the page outlives a component.
    pub left: LeakCounts,
    /// Computed styles that were asked for: by property, of each element.
    #[serde(default, skip_serializing_if = "IndexMap::is_empty")]
    pub styles: IndexMap<String, Vec<(NodeId, String)>>,
    /// Its normal forms, once somebody asked for them.
    #[serde(skip)]
    pub forms: Forms,
}

/// The normal forms of what was seen, made once. A copy begins without any: it is made to be changed.
#[derive(Debug, Default)]
pub struct Forms {
    /// See [`crate::judge::equivalence::normal`].
    pub(crate) normal: OnceLock<Arc<str>>,
    /// See [`crate::judge::equivalence::observable`].
    pub(crate) observable: OnceLock<Arc<str>>,
}

impl Clone for Forms {
    fn clone(&self) -> Self {
        Self::default()
    }
}

/// They follow from what was seen.
impl PartialEq for Forms {
    fn eq(&self, _: &Self) -> bool {
        true
    }
}

impl PhaseSnapshot {
    /// What the parent holds of a part.
    pub fn held(&self, part: &str) -> Option<&ParentView> {
        self.held.get(part)
    }

    /// The element that a part was mounted in; the page for a component alone.
    pub fn place(&self, part: &str) -> Option<NodeId> {
        if part.is_empty() {
            return Some(Document::ROOT);
        }
        let doc = &self.tree;
        doc.children(doc.body()?).find(|n| doc.attr(*n, PART) == Some(part))
    }
}

/// The attribute by which the element that a part is mounted in can be told.
pub const PART: &str = "data-part";

/// What stands on a page beyond what a component renders in its place: so much of each that there is now.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
pub struct LeakCounts {
    /// Elements in the body.
    pub nodes: u32,
    /// Listeners on the window, the document and its outermost elements.
    pub listeners: u32,
    /// Timers and frames that wait.
    pub timers: u32,
    /// Observers of nodes that are on the page.
    pub observers: u32,
    /// Requests without an answer so far.
    pub requests: u32,
    /// Connections that are open: sockets, sources of events.
    #[serde(default)]
    pub connections: u32,
}

/// What a session says of a phase; what there is none of it leaves out.
#[derive(Debug, Clone, Deserialize)]
pub struct SessionSnapshot {
    #[serde(default)]
    events: Vec<Emitted>,
    #[serde(default)]
    strays: Vec<Emitted>,
    held: IndexMap<String, ParentView>,
    #[serde(default)]
    requests: Vec<Requested>,
    /// Nodes, listeners, timers, observers, requests, connections.
    left: [u32; 6],
    #[serde(default)]
    styles: IndexMap<String, Vec<(NodeId, String)>>,
}

impl SessionSnapshot {
    /// With the page, and the number that each of its nodes has on the stage.
    pub fn seen(self, tree: Document, numbers: Vec<NodeId>) -> PhaseSnapshot {
        let held = self.held.into_iter().map(|(part, held)| (part, held.in_snapshot(&numbers))).collect();
        let places = if self.styles.is_empty() { Places::default() } else { Places::new(&numbers) };
        let of = |list: Vec<(NodeId, String)>| list.into_iter().filter_map(|(node, value)| Some((places.of(node)?, value))).collect();
        let styles = self.styles.into_iter().map(|(property, list)| (property, of(list))).collect();
        let [nodes, listeners, timers, observers, waiting, connections] = self.left;
        let left = LeakCounts { nodes, listeners, timers, observers, requests: waiting, connections };
        let Self { events, strays, requests, .. } = self;
        PhaseSnapshot {
            tree,
            numbers,
            events,
            strays,
            held,
            notes: Vec::new(),
            faults: Vec::new(),
            settled: true,
            requests,
            left,
            styles,
            forms: Forms::default(),
        }
    }
}

/// All phases of a script; the first is the mount.
#[derive(Debug, Clone, Serialize, Deserialize)]
pub struct Observation {
    /// One entry a phase: many look at them, and some are the same.
    pub phases: Vec<Rc<PhaseSnapshot>>,
    /// What playing it took, in steps of the engine, the same on every machine; nothing where the stage cannot tell.
    #[serde(default)]
    pub work: u64,
}

/// What was seen, whatever it took.
impl PartialEq for Observation {
    fn eq(&self, other: &Self) -> bool {
        self.phases == other.phases
    }
}

impl Observation {
    /// What was seen, phase by phase.
    pub fn new(phases: Vec<PhaseSnapshot>) -> Self {
        Self { phases: phases.into_iter().map(Rc::new).collect(), work: 0 }
    }

    /// What came of the mount.
    pub fn mount(&self) -> Option<&PhaseSnapshot> {
        self.phases.first().map(|seen| &**seen)
    }
}

/// A request that was made.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Requested {
    /// `GET`.
    pub method: String,
    /// The path with its query, or the whole address when it is elsewhere.
    pub url: String,
    /// The body, as text.
    pub body: Option<String>,
    /// True when a canned reply answers it.
    pub answered: bool,
}

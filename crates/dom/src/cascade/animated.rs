//! What animations and transitions say of elements (CSS Cascade §6.1), and what they go by: keyframes by their name, and what has changed of an
//! element since a script looked at it last.

use std::cell::RefCell;
use std::collections::BTreeMap;
use std::sync::Arc;

use rustc_hash::FxHashMap;

use super::computed::{Computed, compute};
use super::sheet::{Declared, Rule, declarations};
use super::{Applied, Weight, property_names};
use crate::tree::{Document, NodeId};

/// What an animation or a transition says of a property now.
#[derive(Debug, Clone, PartialEq)]
pub struct Animated {
    /// The property, a longhand.
    pub name: Arc<str>,
    /// Its value.
    pub value: Arc<str>,
    /// A transition counts more than anything else that is said, an animation less than what is important.
    pub transition: bool,
}

/// How an element differs from what it came to when somebody looked last.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Restyled {
    /// `animation-name`, where it is not the initial one.
    pub animations: String,
    /// Whether its style says that changes take time.
    pub transitions: bool,
    /// Properties that have changed where it does, each with its value before and now.
    pub changed: Vec<[String; 3]>,
}

/// What animations say of the elements of a document.
#[derive(Debug, Clone, Default)]
pub(super) struct Animations {
    now: BTreeMap<NodeId, Vec<Animated>>,
    /// What elements came to when somebody looked at them last: transitions start from there.
    before: RefCell<FxHashMap<NodeId, Arc<Computed>>>,
}

/// The tree of what animations say: it counts more than what any tree says.
const ANIMATED: i32 = i32::MAX;

fn weight(transition: bool) -> Weight {
    Weight { origin: if transition { 4 } else { 1 }, tree: ANIMATED, inline: true, layer: u32::MAX, specificity: 0, order: 0 }
}

impl Document {
    /// What animations say of an element, with its weight.
    pub(super) fn animated(&self, id: NodeId) -> impl Iterator<Item = Applied> {
        self.styles.animations.now.get(&id).into_iter().flatten().map(|said| {
            let declared = Declared { name: said.name.clone(), value: said.value.clone(), important: false };
            (weight(said.transition), declared)
        })
    }

    /// Sets what animations say of an element now, instead of what they said before.
    pub fn set_animated(&mut self, id: NodeId, says: Vec<Animated>) {
        let before = self.styles.animations.now.get(&id).map_or(&[][..], Vec::as_slice);
        if *before == says {
            return;
        }
        // Sheets are as they were: only what this element comes to is another thing, and what follows from it.
        self.refresh();
        self.styles.turns += 1;
        let version = self.turn();
        let gone: Vec<NodeId> = self.composed_descendants(id).collect();
        let in_shadow = self.root_of(id) != Self::ROOT;
        let known = self.styles.known.get_mut();
        known.version = version;
        if in_shadow {
            // What is slotted into it stands in another tree.
            known.computed.clear();
        } else {
            known.computed.remove(&id);
            for node in gone {
                known.computed.remove(&node);
            }
        }
        if says.is_empty() {
            self.styles.animations.now.remove(&id);
        } else {
            self.styles.animations.now.insert(id, says);
        }
    }

    /// What the properties of an element come to without what animations say of it, and with `also` said besides, as a keyframe does.
    pub fn computed_with(&self, id: NodeId, also: &str) -> Option<Computed> {
        self.computed(id)?;
        let parent = self.flat_ancestors(id).find(|n| self.element(*n).is_some()).and_then(|n| self.computed(n));
        let mut applied = self.applied(id);
        applied.retain(|(weight, _)| weight.tree != ANIMATED);
        // What the keyframe comes to is asked here, and not whether it wins over what is important.
        applied.extend(declarations(also).into_iter().map(|declared| (weight(true), declared)));
        Some(compute(self, id, parent.as_deref(), &applied))
    }

    /// How an element differs from what it came to when this was asked last, animations left aside; nothing has changed the first time. None
    /// where it stands in no flat tree of the document.
    pub fn restyled(&self, id: NodeId) -> Option<Restyled> {
        let mut kept = self.styles.animations.before.borrow_mut();
        let Some(mut now) = self.computed(id) else {
            kept.remove(&id);
            return None;
        };
        if self.styles.animations.now.contains_key(&id) {
            now = self.computed_with(id, "").map_or(now, Arc::new);
        }
        let animations = now.given("animation-name").unwrap_or_default().to_owned();
        let transitions = now.given("transition-duration").is_some() || now.given("transition-delay").is_some();
        let before = kept.insert(id, now.clone()).filter(|before| transitions && !Arc::ptr_eq(before, &now));
        let changed = before.into_iter().flat_map(|before| {
            let values = property_names().map(|name| [name.to_owned(), before.get(name), now.get(name)]);
            values.filter(|[_, from, to]| from != to).collect::<Vec<_>>()
        });
        Some(Restyled { animations, transitions, changed: changed.collect() })
    }

    /// Forgets all that animations say, and how elements were: nobody has looked at them yet.
    pub fn forget_animations(&mut self) {
        let was = std::mem::take(&mut self.styles.animations);
        self.styles.turns += u64::from(!was.now.is_empty());
    }

    /// The keyframes of an animation by its name as an element sees them: those of its own tree before those of the page, the last before earlier
    /// ones. Of each, where it is on the way, and its declarations; nothing where the name means none.
    pub fn keyframes(&self, id: NodeId, name: &str) -> Vec<(String, String)> {
        let within = |root: NodeId| {
            let sheets = self.rules_of(root);
            sheets.iter().rev().find_map(|rules| last_named(rules, name).cloned())
        };
        let mut roots = vec![self.root_of(id)];
        roots.extend(self.shadow_of(id));
        roots.push(Self::ROOT);
        let rule = roots.into_iter().find_map(within);
        rule.iter().flat_map(|rule| &rule.inner).map(|frame| (frame.head.clone(), frame.body.clone())).collect()
    }
}

/// The last `@keyframes` of a name, those in conditions and layers included.
fn last_named<'a>(rules: &'a [Arc<Rule>], name: &str) -> Option<&'a Arc<Rule>> {
    let mut left: Vec<&Arc<Rule>> = rules.iter().collect();
    while let Some(rule) = left.pop() {
        if rule.kind != "keyframes" {
            left.extend(&rule.inner);
        } else if rule.head.trim_matches('"') == name {
            return Some(rule);
        }
    }
    None
}

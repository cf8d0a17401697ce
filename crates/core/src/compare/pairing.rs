//! Which prop, event, slot and member of one component is which of another: the same by name, by what somebody said, or the only ones that
//! are left and of one type.

use indexmap::IndexMap;

use crate::observation::{Emitted, Observation};
use crate::stage::{Combination, Script, Step};
use crate::surface::Surface;

/// Names of the second by those of the first, where they are not the same.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Pairing {
    /// Of props, events, slots and members alike: a component gives one name to one thing.
    renamed: IndexMap<String, String>,
    /// Those that nobody said: they were guessed.
    pub guessed: Vec<(String, String)>,
}

impl Pairing {
    /// Pairs what two components declare. `said` are names of the first with those of the second.
    ///
    /// # Errors
    /// A name that the component which it is said of does not have.
    pub fn new(before: &Surface, after: &Surface, said: &[(String, String)]) -> Result<Self, String> {
        let mut out = Self::default();
        for (from, to) in said {
            for (name, surface) in [(from, before), (to, after)] {
                if !names(surface).contains(&name.as_str()) && !surface.open {
                    let known = names(surface).join(", ");
                    return Err(format!("`{name}` is no prop, event, slot or member of {}, which has: {known}", surface.file));
                }
            }
            out.renamed.insert(from.clone(), to.clone());
        }
        let left = |of: &Surface, other: &Surface, taken: &dyn Fn(&str) -> bool| {
            of.props.iter().filter(|p| other.prop(&p.name).is_none() && !taken(&p.name)).cloned().collect::<Vec<_>>()
        };
        let gone = left(before, after, &|name| out.renamed.contains_key(name));
        let new = left(after, before, &|name| out.renamed.values().any(|v| v == name));
        // What is alike in nothing else is another component, and not one whose names were changed.
        let same = |name: &&str| names(after).contains(name);
        let most = names(before).into_iter().filter(same).count() + out.renamed.len();
        for prop in gone.iter().take(if most < gone.len().min(new.len()) { 0 } else { usize::MAX }) {
            let alike = |p: &&crate::surface::Prop| p.ty == prop.ty && p.two_way == prop.two_way && p.required == prop.required;
            let is_only = gone.iter().filter(alike).count() == 1;
            let mut candidates = new.iter().filter(alike);
            if let (Some(only), None, true) = (candidates.next(), candidates.next(), is_only) {
                out.renamed.insert(prop.name.clone(), only.name.clone());
                out.guessed.push((prop.name.clone(), only.name.clone()));
            }
        }
        Ok(out)
    }

    /// What the second calls what the first calls so.
    pub fn of<'n>(&'n self, name: &'n str) -> &'n str {
        self.renamed.get(name).map_or(name, String::as_str)
    }

    /// What the first calls what the second calls so.
    pub fn back<'n>(&'n self, name: &'n str) -> &'n str {
        self.renamed.iter().find(|(_, to)| *to == name).map_or(name, |(from, _)| from)
    }

    /// True where somebody said so, or it was guessed.
    pub fn is_renamed(&self, name: &str) -> bool {
        self.renamed.contains_key(name)
    }

    fn map<T: Clone>(&self, all: &IndexMap<String, T>) -> IndexMap<String, T> {
        all.iter().map(|(name, value)| (self.of(name).to_owned(), value.clone())).collect()
    }

    /// A combination of the first as the second takes it.
    pub fn combination(&self, of_first: &Combination) -> Combination {
        Combination { props: self.map(&of_first.props), fills: self.map(&of_first.fills) }
    }

    /// A script of the first as the second plays it.
    pub fn script(&self, of_first: &Script) -> Script {
        let step = |step: &Step| match step {
            Step::Pass { props } => Step::Pass { props: self.map(props) },
            Step::Assign { props } => Step::Assign { props: self.map(props) },
            Step::Fill { fills } => Step::Fill { fills: self.map(fills) },
            other => other.clone(),
        };
        let phases = of_first.phases.iter().map(|phase| phase.iter().map(step).collect()).collect();
        Script { combination: self.combination(&of_first.combination), phases, ..of_first.clone() }
    }

    /// What was seen of the second in the words of the first.
    pub fn observation(&self, of_second: Observation) -> Observation {
        if self.renamed.is_empty() {
            return of_second;
        }
        let back = |name: &str| self.back(name).to_owned();
        let work = of_second.work;
        let phases = of_second.phases.iter().map(|phase| {
            let mut phase = (**phase).clone();
            let events = |all: Vec<Emitted>| all.into_iter().map(|e| Emitted { name: back(&e.name), ..e }).collect();
            phase.events = events(phase.events);
            phase.strays = events(phase.strays);
            for held in phase.held.values_mut() {
                held.bound = held.bound.drain(..).map(|(name, v)| (back(&name), v)).collect();
                held.given = held.given.drain(..).map(|(name, v)| (back(&name), v)).collect();
                held.handed = held.handed.drain(..).map(|(name, v)| (back(&name), v)).collect();
                held.exposed = held.exposed.take().map(|all| all.into_iter().map(|(name, v)| (back(&name), v)).collect());
            }
            phase
        });
        Observation { work, ..Observation::new(phases.collect()) }
    }
}

/// All that a component calls by a name.
fn names(surface: &Surface) -> Vec<&str> {
    let props = surface.props.iter().map(|p| p.name.as_str());
    let events = surface.events.iter().map(|e| e.name.as_str());
    let slots = surface.slots.iter().map(|s| s.name.as_str());
    let mut out: Vec<&str> = Vec::new();
    for name in props.chain(events).chain(slots).chain(surface.exposes.iter().map(String::as_str)) {
        // A two-way prop and the event that reports it have one name.
        if !out.contains(&name) {
            out.push(name);
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::surface::{Framework, Prop, Type};
    use crate::value::Value;

    fn surface(props: &[(&str, Type)]) -> Surface {
        let mut out = Surface::new("A", "A.vue", "default", Framework::Vue);
        out.props = props.iter().map(|(name, ty)| Prop::new(*name, ty.clone())).collect();
        out
    }

    #[test]
    fn what_is_left_over_on_both_sides_is_taken_for_renamed() {
        let before = surface(&[("label", Type::String), ("cone", Type::Number), ("kiln", Type::Node), ("hot", Type::Boolean)]);
        let after = surface(&[("title", Type::String), ("cone", Type::Number), ("kiln", Type::Node), ("warm", Type::Number)]);
        let pairing = Pairing::new(&before, &after, &[]).expect("paired");
        assert_eq!(pairing.guessed, [("label".to_owned(), "title".to_owned())]);
        assert_eq!((pairing.of("label"), pairing.back("title"), pairing.of("hot")), ("title", "label", "hot"));
        let mut combination = Combination::default();
        combination.props.insert("label".into(), Value::json("x"));
        assert_eq!(pairing.combination(&combination).props.keys().collect::<Vec<_>>(), ["title"]);
        // Two of one type could each be the other.
        let after = surface(&[("title", Type::String), ("text", Type::String)]);
        assert_eq!(Pairing::new(&before, &after, &[]).expect("paired").guessed, []);
        let said = |from: &str, to: &str| Pairing::new(&before, &after, &[(from.into(), to.into())]);
        assert_eq!(said("label", "text").expect("paired").of("label"), "text");
        assert!(said("lable", "text").is_err_and(|e| e.contains("A.vue, which has: label, cone, kiln, hot")));
    }
}

//! What a parent passes to a child that the child does not declare.

use fidelon_source::Place;
use serde::{Deserialize, Serialize};

use super::{Surface, event_name};

/// How something is passed to a child.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum PassedAs {
    /// A value; in JSX anything.
    Prop,
    /// A listener.
    Listener,
    /// A two-way prop.
    Model,
    /// Content.
    Slot,
}

/// One thing that a parent passes, as it stands in its source.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Passed {
    /// How.
    pub kind: PassedAs,
    /// The name, as written.
    pub name: String,
    /// Where it stands.
    pub place: Place,
}

/// Something that a parent passes under a name which its child does not declare, and which is near one that it does.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Misuse {
    /// The child, as the parent calls it.
    pub child: String,
    /// What is passed.
    pub passed: Passed,
    /// The name that was meant.
    pub meant: String,
}

/// A child that a component shows, and what is amiss with what it passes there.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct ChildUse {
    /// The child, as the component calls it.
    pub child: String,
    /// What it does not declare.
    pub misuses: Vec<Misuse>,
}

impl std::fmt::Display for Misuse {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        let Self { child, passed, meant } = self;
        let what = match passed.kind {
            PassedAs::Prop => "passes",
            PassedAs::Listener => "listens for",
            PassedAs::Model => "binds",
            PassedAs::Slot => "fills",
        };
        write!(f, "it {what} `{}` of `{child}`, which does not declare it: did you mean `{meant}`?", passed.name)
    }
}

impl Surface {
    /// What of all that a parent passes is a slip: nothing of its name is declared, something of a name like it is, and that is not passed too.
    /// Nothing is said of a child of which not all is known.
    pub fn misused(&self, child: &str, all: &[Passed]) -> Vec<Misuse> {
        if self.open {
            return Vec::new();
        }
        let plain = |name: &str| name.replace(['-', '_'], "").to_lowercase();
        let events = || self.events.iter().flat_map(|e| [e.name.as_str(), e.written.as_str()]);
        let props = || self.props.iter().map(|p| p.name.as_str());
        let slots = || self.slots.iter().map(|s| s.name.as_str());
        let is_passed = |name: &str| all.iter().any(|p| plain(&p.name) == plain(name) || plain(&event_name(&p.name)) == plain(name));
        let slip = |passed: &Passed| {
            let known: Vec<&str> = match passed.kind {
                // Whatever a parent gives is an attribute to some; what is declared in any way is no slip.
                PassedAs::Prop | PassedAs::Model => props().chain(events()).chain(slots()).collect(),
                PassedAs::Listener => events().collect(),
                PassedAs::Slot => slots().collect(),
            };
            let written = plain(&passed.name);
            if known.iter().any(|name| plain(name) == written) {
                return None;
            }
            let limit = if written.chars().count() < 6 { 1 } else { 2 };
            let distance = |name: &str| strsim::damerau_levenshtein(&plain(name), &written);
            let near = known.into_iter().filter(|name| name.len() > 2 && distance(name) <= limit && !is_passed(name));
            let meant = near.min_by_key(|name| distance(name))?;
            Some(Misuse { child: child.to_owned(), passed: passed.clone(), meant: meant.to_owned() })
        };
        all.iter().filter_map(slip).collect()
    }
}

#[cfg(test)]
mod tests {
    use super::super::{Event, Framework, Prop, Slot, Type};
    use super::*;

    fn dial() -> Surface {
        let mut out = Surface::new("KilnDial", "KilnDial.vue", "default", Framework::Vue);
        out.props = vec![Prop::new("targetHeat", Type::Number), Prop::new("unit", Type::String), Prop::new("a", Type::String)];
        out.events = vec![Event::new("targetSettled", "target-settled")];
        out.slots = vec![Slot::new("footer")];
        out
    }

    fn said(surface: &Surface, all: &[(PassedAs, &str)]) -> Vec<String> {
        let place = Place { file: "Panel.vue".into(), line: 3, column: 5 };
        let all: Vec<Passed> = all.iter().map(|(kind, name)| Passed { kind: *kind, name: (*name).into(), place: place.clone() }).collect();
        surface.misused("KilnDial", &all).into_iter().map(|m| format!("{} -> {}", m.passed.name, m.meant)).collect()
    }

    #[test]
    fn slips_are_found_and_nothing_else() {
        use PassedAs::{Listener, Model, Prop, Slot};
        let sound = [(Prop, "target-heat"), (Prop, "unit"), (Listener, "target-settled"), (Slot, "footer"), (Prop, "class"), (Prop, "b")];
        assert_eq!(said(&dial(), &sound), Vec::<String>::new());
        let slips = [(Prop, "target-heta"), (Prop, "units"), (Listener, "targetSetled"), (Slot, "foter"), (Listener, "click")];
        assert_eq!(
            said(&dial(), &slips),
            ["target-heta -> targetHeat", "units -> unit", "targetSetled -> targetSettled", "foter -> footer"]
        );
        assert_eq!(said(&dial(), &[(Model, "targetHeats")]), ["targetHeats -> targetHeat"]);
        // Both are passed: the other one is meant as it is.
        assert_eq!(said(&dial(), &[(Prop, "unit"), (Prop, "units")]), Vec::<String>::new());
        assert_eq!(said(&Surface { open: true, ..dial() }, &slips), Vec::<String>::new());
    }
}

//! The names of a contract against what its components declare.

use crate::contract::checks::{Check, Events, Subject, read_check};
use crate::contract::fault::Fault;
use crate::contract::model::{Contract, PropValues};
use crate::contract::steps::{props_named, read_step};
use crate::contract::yaml::Node;
use crate::locator::{Locator, Start};
use crate::scene::{Part, Scene};
use crate::stage::Step;
use crate::surface::{Surface, Type};
use crate::value::Value;

/// Checks the names of a contract against what its components declare.
pub fn check_names(contract: &Contract, scene: &Scene) -> Vec<Fault> {
    let mut names = Names { scene, faults: Vec::new() };
    match (&scene.state, scene.parts.as_slice()) {
        (None, [alone]) => names.component(contract, &alone.surface),
        _ => names.scene(contract),
    }
    for clause in &contract.clauses {
        for phase in &clause.phases {
            phase.steps.iter().for_each(|node| names.step(node));
            phase.checks.iter().for_each(|node| names.check(node));
        }
    }
    names.fills(contract);
    names.faults
}

/// Words that older YAML took for booleans.
const YES_AND_NO: [&str; 6] = ["yes", "no", "on", "off", "y", "n"];

/// The texts among the values of a prop.
fn listed(values: &PropValues) -> impl Iterator<Item = &str> {
    let list = match values {
        PropValues::These(list) => list.as_slice(),
        PropValues::All | PropValues::Declared => &[],
    };
    list.iter().filter_map(|v| match v {
        Value::Json(serde_json::Value::String(text)) => Some(text.as_str()),
        _ => None,
    })
}

struct Names<'a> {
    scene: &'a Scene,
    faults: Vec<Fault>,
}

fn words(names: impl Iterator<Item = impl AsRef<str>>) -> Vec<String> {
    names.map(|n| n.as_ref().to_owned()).collect()
}

impl<'a> Names<'a> {
    /// A name that is not among these.
    fn unknown(&mut self, span: fidelon_source::Span, what: &str, name: &str, known: &[String]) {
        let known: Vec<&str> = known.iter().map(String::as_str).collect();
        self.faults.push(Fault::unknown(span, what, name, &known));
    }

    /// What stands at the top of the contract of a component.
    fn component(&mut self, contract: &Contract, surface: &Surface) {
        if surface.open {
            return;
        }
        let props = words(surface.props.iter().map(|p| &p.name));
        let slots = words(surface.slots.iter().map(|s| &s.name));
        let (prop, slot) = (format!("prop of {}", surface.name), format!("slot of {}", surface.name));
        for (name, (values, span)) in &contract.props {
            match surface.prop(name) {
                None => self.unknown(*span, &prop, name, &props),
                Some(prop) if *values == PropValues::All && !matches!(prop.ty, Type::Boolean | Type::Union { .. }) => {
                    let message = format!("`{name}` is neither a boolean nor a union of values, so `all` tells nothing");
                    self.faults.push(Fault::new(*span, message).help("list the values"));
                }
                Some(prop) if prop.ty == Type::Boolean => {
                    if let Some(word) = listed(values).find(|w| YES_AND_NO.contains(&w.to_lowercase().as_str())) {
                        let is = matches!(word.to_lowercase().as_str(), "yes" | "on" | "y");
                        let message = format!("`{name}` is a boolean, and YAML 1.2 takes `{word}` for a text");
                        self.faults.push(Fault::new(*span, message).help(format!("write `{is}`")));
                    }
                }
                Some(_) => {}
            }
        }
        for (name, (_, span)) in contract.bindings.iter().filter(|(n, _)| surface.prop(n).is_none()) {
            self.unknown(*span, &prop, name, &props);
        }
        for (name, (_, span)) in contract.slots.iter().filter(|(n, _)| surface.slot(n).is_none()) {
            self.unknown(*span, &slot, name, &slots);
        }
        for clause in &contract.clauses {
            for name in clause.hold.props.keys().filter(|n| surface.prop(n).is_none()) {
                self.unknown(clause.span, &prop, name, &props);
            }
            for name in clause.hold.fills.keys().filter(|n| surface.slot(n).is_none()) {
                self.unknown(clause.span, &slot, name, &slots);
            }
        }
    }

    /// What stands at the top of the contract of a scene: its combinations are of the fields of its state.
    fn scene(&mut self, contract: &Contract) {
        let fields = words(self.scene.state.iter().flat_map(|s| s.keys()));
        for (name, (_, span)) in contract.props.iter().filter(|(n, _)| !fields.contains(n)) {
            self.unknown(*span, "field of the state", name, &fields);
        }
        for (name, (_, span)) in contract.props.iter().filter(|(_, (v, _))| !matches!(v, PropValues::These(_))) {
            self.faults.push(Fault::new(*span, format!("the field `{name}` of the state has no declared type")).help("list the values"));
        }
        for clause in &contract.clauses {
            for name in clause.hold.props.keys().filter(|n| !fields.contains(n)) {
                self.unknown(clause.span, "field of the state", name, &fields);
            }
        }
        let Some(written) = &contract.scene else { return };
        for (name, part) in &written.parts {
            let Some(surface) = self.scene.part(name).map(|p| &p.surface).filter(|s| !s.open) else { continue };
            let (props, slots) = (words(surface.props.iter().map(|p| &p.name)), words(surface.slots.iter().map(|s| &s.name)));
            for (prop, (_, span)) in part.props.iter().filter(|(n, _)| surface.prop(n).is_none()) {
                self.unknown(*span, &format!("prop of {}", surface.name), prop, &props);
            }
            for slot in part.fills.keys().filter(|n| surface.slot(n).is_none()) {
                self.unknown(part.span, &format!("slot of {}", surface.name), slot, &slots);
            }
        }
        for wire in &written.wires {
            let (part, event) = &wire.from;
            let Some(surface) = self.scene.part(part).map(|p| &p.surface).filter(|s| !s.open) else { continue };
            let events = words(surface.events.iter().map(|e| e.reports.as_ref().unwrap_or(&e.name)));
            if !events.contains(event) {
                self.unknown(wire.span, &format!("event of {}", surface.name), event, &events);
            }
        }
    }

    /// The surfaces that a step or check is about: its part's, or all of them. None where source does not tell all names.
    fn about(&mut self, node: &Node, part: &str) -> Option<Vec<&'a Surface>> {
        let scene = self.scene;
        let parts: Vec<&Part> = match (part, node.get("part")) {
            ("", _) => scene.parts.iter().collect(),
            (name, at) => match scene.part(name) {
                Some(part) => vec![part],
                None => {
                    let known = words(scene.parts.iter().map(|p| &p.name).filter(|n| !n.is_empty()));
                    self.unknown(at.map_or(node.span, |n| n.span), "part of the scene", name, &known);
                    return None;
                }
            },
        };
        parts.iter().all(|p| !p.surface.open).then(|| parts.iter().map(|p| &p.surface).collect())
    }

    /// The slots and members that locators start from.
    fn starts(&mut self, node: &Node, locators: Vec<&Locator>, surfaces: &[&Surface]) {
        for locator in locators {
            let mut start = locator.start.as_ref();
            while let Some(Start::Within(outer)) = start {
                start = outer.start.as_ref();
            }
            let (what, name, known) = match start {
                Some(Start::Slot(name)) => ("slot", name, words(surfaces.iter().flat_map(|s| &s.slots).map(|s| &s.name))),
                Some(Start::Ref(name)) if !name.is_empty() => ("exposed member", name, words(surfaces.iter().flat_map(|s| &s.exposes))),
                _ => continue,
            };
            if !known.contains(name) {
                self.unknown(node.span, &Self::of(surfaces, what), name, &known);
            }
        }
    }

    /// Whose names are meant, in words.
    fn of(surfaces: &[&Surface], what: &str) -> String {
        match surfaces {
            [one] => format!("{what} of {}", one.name),
            _ => format!("{what} of a part"),
        }
    }

    fn step(&mut self, node: &Node) {
        let Ok(step) = read_step(node) else { return };
        let (part, step) = match step {
            Step::In { part, inner } => (part, *inner),
            other => (String::new(), other),
        };
        let Some(surfaces) = self.about(node, &part) else { return };
        self.starts(node, step.locators(), &surfaces);
        let in_state = self.scene.state.as_ref().filter(|_| part.is_empty());
        if let Some(state) = in_state
            && let Step::Pass { props } | Step::Assign { props } = &step
        {
            let fields = words(state.keys());
            for name in props.keys().filter(|n| !state.contains_key(*n)) {
                self.unknown(node.span, "field of the state", name, &fields);
            }
            return;
        }
        if in_state.is_some() && matches!(step, Step::Call { .. } | Step::Fill { .. }) {
            let known = self.scene.parts.iter().map(|p| format!("`{}`", p.name)).collect::<Vec<_>>().join(", ");
            self.faults.push(Fault::new(node.span, "`part` is missing: which one is meant?").help(format!("the parts are {known}")));
            return;
        }
        let props = words(surfaces.iter().flat_map(|s| &s.props).map(|p| &p.name));
        for name in props_named(&step).into_iter().filter(|n| !props.iter().any(|p| p == n)) {
            self.unknown(node.span, &Self::of(&surfaces, "prop"), name, &props);
        }
        if let Step::Fill { fills } = &step {
            let slots = words(surfaces.iter().flat_map(|s| &s.slots).map(|s| &s.name));
            for name in fills.keys().filter(|n| !slots.contains(n)) {
                self.unknown(node.span, &Self::of(&surfaces, "slot"), name, &slots);
            }
        }
        if let Step::Call { member, .. } = &step {
            let known = words(surfaces.iter().flat_map(|s| &s.exposes));
            if !known.contains(member) {
                let span = node.get("call").map_or(node.span, |n| n.span);
                self.unknown(span, &Self::of(&surfaces, "exposed member"), member, &known);
            }
        }
    }

    fn check(&mut self, node: &Node) {
        let Ok(check) = read_check(node) else { return };
        let Some(surfaces) = self.about(node, &check.part) else { return };
        self.starts(node, check.locators(), &surfaces);
        let Check { part, subject, .. } = check;
        let in_state = self.scene.state.as_ref().filter(|_| part.is_empty());
        let place = |key: &str| node.get(key).map_or(node.span, |n| n.span);
        let props = words(surfaces.iter().flat_map(|s| &s.props).map(|p| &p.name));
        match &subject {
            Subject::Emitted(Events::Named { name, .. }) => {
                let events = words(surfaces.iter().flat_map(|s| &s.events).filter(|e| e.reports.is_none()).map(|e| &e.name));
                if !events.contains(name) {
                    self.unknown(place("emitted"), &Self::of(&surfaces, "event"), name, &events);
                    if props.contains(name)
                        && let Some(fault) = self.faults.pop()
                    {
                        self.faults.push(fault.help(format!("changes of the two-way prop are checked with `bound: {name}`")));
                    }
                }
            }
            Subject::Emitted(Events::Only(names)) => {
                let told = |e: &crate::surface::Event| e.reports.clone().unwrap_or_else(|| e.name.clone());
                let events = words(surfaces.iter().flat_map(|s| &s.events).map(told));
                for name in names.iter().filter(|n| !events.contains(n)) {
                    self.unknown(place("emitted"), &Self::of(&surfaces, "event"), name, &events);
                }
            }
            Subject::Exposed(name) => {
                let members = words(surfaces.iter().flat_map(|s| &s.exposes));
                if !members.contains(name) {
                    self.unknown(place("exposed"), &Self::of(&surfaces, "exposed member"), name, &members);
                }
            }
            Subject::Bound(name) => {
                if let Some(state) = in_state {
                    let fields = words(state.keys());
                    if !fields.contains(name) {
                        self.unknown(place("bound"), "field of the state", name, &fields);
                    }
                    return;
                }
                let two_way = words(surfaces.iter().flat_map(|s| &s.props).filter(|p| p.two_way).map(|p| &p.name));
                if !two_way.contains(name) {
                    self.unknown(place("bound"), &Self::of(&surfaces, "two-way prop"), name, &two_way);
                }
            }
            Subject::Fills { slot, .. } | Subject::Handed(slot) => {
                let slots = words(surfaces.iter().flat_map(|s| &s.slots).map(|s| &s.name));
                if !slots.contains(slot) {
                    let key = if matches!(subject, Subject::Handed(_)) { "handed" } else { "fills" };
                    self.unknown(place(key), &Self::of(&surfaces, "slot"), slot, &slots);
                }
            }
            _ => {}
        }
    }

    /// The components that slot content names as tags.
    fn fills(&mut self, contract: &Contract) {
        let known = words(contract.around.uses.keys());
        let mut tags: Vec<(String, fidelon_source::Span)> = Vec::new();
        let slots = contract.slots.values().flat_map(|(s, span)| s.fills.iter().map(move |f| (f, *span)));
        let held = contract.clauses.iter().flat_map(|c| c.hold.fills.values().map(move |f| (f, c.span)));
        let parts = contract.scene.iter().flat_map(|s| s.parts.values()).flat_map(|p| p.fills.values().map(move |f| (f, p.span)));
        for (fill, span) in slots.chain(held).chain(parts) {
            for tag in fill.as_deref().map(component_tags).unwrap_or_default() {
                if !known.contains(&tag) && !tags.iter().any(|(t, _)| *t == tag) {
                    tags.push((tag, span));
                }
            }
        }
        for (tag, span) in tags {
            self.unknown(span, "component under `uses`", &tag, &known);
            if known.is_empty()
                && let Some(fault) = self.faults.pop()
            {
                self.faults.push(fault.help(format!("name it: `uses: {{ {tag}: ./{tag}.vue }}`")));
            }
        }
    }
}

/// The tags of a content that start with a capital letter: components.
fn component_tags(html: &str) -> Vec<String> {
    let starts = html.match_indices('<').map(|(at, _)| &html[at + 1..]);
    let named = starts.filter(|rest| rest.starts_with(|c: char| c.is_ascii_uppercase()));
    named.map(|rest| rest.chars().take_while(char::is_ascii_alphanumeric).collect()).collect()
}

//! What a framework itself knows of a component at run time, for what its source alone did not tell.

use serde::{Deserialize, Serialize};
use serde_json::Value as Json;

use super::{Event, Prop, Slot, Surface, Type, event_name};

/// What a framework knows.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[serde(default)]
pub struct Declared {
    /// The props.
    pub props: Vec<DeclaredProp>,
    /// Events, as the framework writes them.
    pub events: Vec<String>,
    /// Slots by name.
    pub slots: Vec<String>,
    /// Members that a ref reaches.
    pub exposes: Vec<String>,
    /// True where nothing else can be passed.
    pub whole: bool,
}

/// A prop as a framework knows it.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[serde(default)]
pub struct DeclaredProp {
    /// As a parent writes it.
    pub name: String,
    /// The names of constructors: `String`, `Number`; none where any value may be passed.
    pub types: Vec<String>,
    /// True when a parent must pass it.
    pub required: bool,
    /// The default, where it is plain data.
    pub default: Option<Json>,
}

impl DeclaredProp {
    fn ty(&self) -> Type {
        let one = |name: &String| match name.as_str() {
            "String" => Type::String,
            "Number" => Type::Number,
            "Boolean" => Type::Boolean,
            "Function" => Type::Function,
            "Date" => Type::Date,
            // What a list or an object holds nobody tells.
            other => Type::Unresolved { text: other.to_owned() },
        };
        match self.types.as_slice() {
            [] => Type::Unresolved { text: "any".into() },
            [name] => one(name),
            many => Type::Either { of: many.iter().map(one).filter(|t| !matches!(t, Type::Unresolved { .. })).collect() },
        }
    }
}

impl Surface {
    /// The surface with what the framework knows besides. What the source told stays as it is.
    #[must_use]
    pub fn completed(&self, declared: &Declared) -> Self {
        let mut out = self.clone();
        for prop in &declared.props {
            if out.prop(&prop.name).is_none() && out.slot(&prop.name).is_none() && !out.events.iter().any(|e| e.written == prop.name) {
                let default = prop.default.as_ref().map(Json::to_string);
                out.props.push(Prop { required: prop.required, default, ..Prop::new(&prop.name, prop.ty()) });
            }
        }
        for written in &declared.events {
            if out.events.iter().any(|e| e.written == *written) {
                continue;
            }
            let reports = (self.framework.record().reported_prop)(written).filter(|prop| out.prop(prop).is_some());
            let name = reports.clone().unwrap_or_else(|| event_name(written));
            out.events.push(Event { reports, ..Event::new(name, written.clone()) });
        }
        let reported: Vec<String> = out.events.iter().filter_map(|e| e.reports.clone()).collect();
        for prop in &mut out.props {
            prop.two_way |= reported.contains(&prop.name);
        }
        for slot in declared.slots.iter().filter(|s| self.slot(s).is_none()) {
            out.slots.push(Slot::new(slot.clone()));
        }
        for member in declared.exposes.iter().filter(|m| !self.exposes.contains(m)) {
            out.exposes.push(member.clone());
        }
        out.open &= !declared.whole;
        out
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::surface::Framework;

    #[test]
    fn the_source_comes_first_and_the_framework_fills_in() {
        let mut surface = Surface::new("Dial", "Dial.vue", "default", Framework::Vue);
        surface.open = true;
        let known = Prop::new("unit", Type::Union { of: vec!["C".into()] });
        surface.props.push(known.clone());
        let json = r#"{ "props": [{ "name": "unit", "types": ["String"] }, { "name": "modelValue", "types": ["Number"], "default": 3 }, { "name": "rows", "types": ["Array"], "required": true }],
            "events": ["update:modelValue", "kiln-lit"], "slots": ["default"], "whole": true }"#;
        let out = surface.completed(&serde_json::from_str(json).expect("JSON"));
        assert_eq!(out.props[0], known);
        assert!(out.props[1].two_way && out.props[1].default.as_deref() == Some("3") && out.props[1].ty == Type::Number);
        assert!(out.props[2].required && matches!(&out.props[2].ty, Type::Unresolved { text } if text == "Array"));
        let events: Vec<_> = out.events.iter().map(|e| (e.name.as_str(), e.reports.as_deref())).collect();
        assert_eq!(events, [("modelValue", Some("modelValue")), ("kilnLit", None)]);
        assert!(!out.open && out.slots.len() == 1);
    }
}

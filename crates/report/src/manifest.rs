//! Surfaces of custom elements as the Custom Elements Manifest, an open format: <https://github.com/webcomponents/custom-elements-manifest>,
//! schema version 2.1.0.

use std::collections::BTreeMap;

use fidelon_core::surface::{Framework, Surface};
use serde_json::{Value as Json, json};

/// The manifest of the custom elements among these; others have no place in it.
pub fn manifest(surfaces: &[Surface]) -> Json {
    let mut modules: BTreeMap<&str, Vec<&Surface>> = BTreeMap::new();
    for surface in surfaces.iter().filter(|s| s.framework == Framework::Element) {
        modules.entry(&surface.file).or_default().push(surface);
    }
    let module = |(path, elements): (&str, Vec<&Surface>)| {
        let exports = |s: &&Surface| json!({ "kind": "custom-element-definition", "name": s.export, "declaration": { "name": s.name, "module": path } });
        json!({
            "kind": "javascript-module",
            "path": path,
            "declarations": elements.iter().map(|s| declaration(s)).collect::<Vec<_>>(),
            "exports": elements.iter().map(exports).collect::<Vec<_>>(),
        })
    };
    json!({ "schemaVersion": "2.1.0", "modules": modules.into_iter().map(module).collect::<Vec<_>>() })
}

fn declaration(surface: &Surface) -> Json {
    let fields = surface.props.iter().map(|p| {
        let mut field = json!({ "kind": "field", "name": p.name, "type": { "text": p.ty.to_string() } });
        if let Some(about) = &p.about {
            field["description"] = about.as_str().into();
        }
        if let Some(default) = &p.default {
            field["default"] = default.as_str().into();
        }
        field
    });
    // Whether a member is a method or a field that can only be read, a surface does not tell.
    let members = surface.exposes.iter().map(|name| json!({ "kind": "field", "name": name, "readonly": true }));
    let events = surface.events.iter().map(|e| {
        let text = match e.payload.as_deref() {
            Some([one]) => format!("CustomEvent<{}>", one),
            _ => "Event".to_owned(),
        };
        json!({ "name": e.written, "type": { "text": text } })
    });
    let slots = surface.slots.iter().map(|s| json!({ "name": if s.name == "default" { "" } else { &s.name } }));
    json!({
        "kind": "class",
        "customElement": true,
        "name": surface.name,
        "tagName": surface.export,
        "members": fields.chain(members).collect::<Vec<_>>(),
        "events": events.collect::<Vec<_>>(),
        "slots": slots.collect::<Vec<_>>(),
    })
}

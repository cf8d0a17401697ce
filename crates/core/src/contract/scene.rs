//! What stands on the page: `scene`, `wrap`, `uses`, `styles`, and the modules that values come from.

use indexmap::IndexMap;

use crate::contract::fault::Fault;
use crate::contract::model::{Around, Expression, PartContract, SceneContract, WireContract, Wrap};
use crate::contract::read::{expression, keys_of, paths};
use crate::contract::steps::fills_of;
use crate::contract::template;
use crate::contract::values::{modules, value_of};
use crate::contract::yaml::{Data, Node};
use crate::scene::Passed;
use crate::value::Value;

/// Reads `wrap`, `uses` and `styles`, and gathers the modules of all `$from`.
pub(super) fn around(root: &Node, faults: &mut Vec<Fault>) -> Around {
    let mut out = Around::default();
    for item in root.get("wrap").map_or(&[][..], Node::one_or_many) {
        let wrap = match &item.data {
            Data::Map(_) => {
                keys_of(item, "key of a wrapper", &["component", "props"], faults);
                let Some(component) = item.get("component") else {
                    faults.push(Fault::new(item.span, "`component` is missing: what is put around?").help("write `component: ./Name.vue`"));
                    continue;
                };
                Wrap { components: paths(component, "component", faults), props: values_of(item.get("props")) }
            }
            _ => Wrap { components: paths(item, "wrap", faults), props: IndexMap::new() },
        };
        out.wrap.push(wrap);
    }
    for (name, node) in root.get("uses").map_or(&[][..], Node::entries) {
        let tag = name.text().unwrap_or_default();
        if !tag.starts_with(|c: char| c.is_ascii_uppercase()) || !tag.chars().all(|c| c.is_ascii_alphanumeric()) {
            let fault = Fault::new(name.span, format!("`{tag}` cannot be told from an element of HTML"));
            faults.push(fault.help("a component's tag starts with a capital letter and has letters and digits alone"));
            continue;
        }
        out.uses.insert(tag.to_owned(), paths(node, "uses", faults));
    }
    for item in root.get("styles").map_or(&[][..], Node::one_or_many) {
        match item.text().filter(|t| !t.is_empty()) {
            Some(text) => out.styles.push((text.to_owned(), item.span)),
            None => faults.push(Fault::kind(item.span, "styles", "a stylesheet, or a list of them", item.kind())),
        }
    }
    modules(root, &mut out.values, faults);
    out
}

fn values_of(node: Option<&Node>) -> IndexMap<String, Value> {
    node.map_or(&[][..], Node::entries).iter().map(|(k, v)| (k.text().unwrap_or_default().to_owned(), value_of(v))).collect()
}

/// Reads `scene`.
pub(super) fn scene(root: &Node, faults: &mut Vec<Fault>) -> Option<SceneContract> {
    let node = root.get("scene")?;
    for key in ["component", "slots", "exposes", "bindings", "events"] {
        if let Some(other) = root.get(key) {
            let fault = Fault::new(other.span, format!("`{key}` is of one component, and this contract is of a scene"));
            faults.push(
                fault.help("name the components as `parts` of the scene; what one of them promises alone stands in a contract of its own"),
            );
        }
    }
    keys_of(node, "key of a scene", &["state", "parts", "wires"], faults);
    let mut out = SceneContract { state: values_of(node.get("state")), span: node.span, ..SceneContract::default() };
    for (key, part) in node.get("parts").map_or(&[][..], Node::entries) {
        keys_of(part, "key of a part", &["component", "props", "slots"], faults);
        let name = key.text().unwrap_or_default();
        let Some(component) = part.get("component") else {
            faults.push(Fault::new(key.span, format!("`component` is missing: what is `{name}`?")).help("write `component: ./Name.vue`"));
            continue;
        };
        let props = part.get("props").map_or(&[][..], Node::entries).iter();
        let props = props.map(|(k, v)| (k.text().unwrap_or_default().to_owned(), (passed(v), k.span))).collect();
        let fills = part.get("slots").and_then(|n| fills_of(n, faults)).unwrap_or_default();
        let components = paths(component, "component", faults);
        out.parts.insert(name.to_owned(), PartContract { components, props, fills, span: key.span });
    }
    if out.parts.is_empty() {
        faults.push(Fault::new(node.span, "a scene needs parts").help("write `parts: { form: { component: ./Form.vue } }`"));
    }
    let most = out.parts.values().map(|p| p.components.len()).max().unwrap_or(1);
    for part in out.parts.values().filter(|p| p.components.len() != 1 && p.components.len() != most) {
        let fault = Fault::new(part.span, format!("here are {} components, and another part has {most}", part.components.len()));
        faults.push(
            fault.help("the first of each part make a scene, the second of each another one: give each part as many, or one for all"),
        );
    }
    for wire in node.get("wires").map_or(&[][..], Node::one_or_many) {
        out.wires.extend(read_wire(wire, &out, faults));
    }
    Some(out)
}

fn read_wire(node: &Node, scene: &SceneContract, faults: &mut Vec<Fault>) -> Option<WireContract> {
    keys_of(node, "key of a wire", &["from", "set"], faults);
    let (Some(from), Some(set)) = (node.get("from"), node.get("set")) else {
        faults.push(
            Fault::new(node.span, "a wire has `from` and `set`")
                .help("write `from: form.added` and `set: { pieces: \"[...state.pieces, $event]\" }`"),
        );
        return None;
    };
    let Some((part, event)) = from.text().and_then(|t| t.split_once('.')) else {
        faults.push(Fault::kind(from.span, "from", "a part and its event, as `form.added`", from.kind()));
        return None;
    };
    let parts: Vec<&str> = scene.parts.keys().map(String::as_str).collect();
    if !parts.contains(&part) {
        faults.push(Fault::unknown(from.span, "part of the scene", part, &parts));
    }
    let fields: Vec<&str> = scene.state.keys().map(String::as_str).collect();
    let mut changes = IndexMap::new();
    for (field, value) in set.entries() {
        let name = field.text().unwrap_or_default();
        if !fields.contains(&name) {
            faults.push(Fault::unknown(field.span, "field of the state", name, &fields));
        }
        changes.insert(name.to_owned(), expression(value, "set", faults)?);
    }
    Some(WireContract { from: (part.to_owned(), event.to_owned()), span: from.span, set: changes })
}

/// `state.pieces` and `${…}` are expressions over the state, all else is a value.
fn passed(node: &Node) -> Passed {
    let Some(text) = node.text() else { return Passed::Value(value_of(node)) };
    if matches!(node.data, Data::Scalar { plain: true, .. }) && (text == "state" || text.starts_with("state.")) {
        return Passed::Expression(text.to_owned());
    }
    match template::pieces(text).as_slice() {
        [template::Piece::Expression(expression, _)] => Passed::Expression(expression.clone()),
        pieces if pieces.iter().any(|p| matches!(p, template::Piece::Expression(..))) => {
            Passed::Expression(format!("`{}`", text.replace('\\', "\\\\").replace('`', "\\`")))
        }
        _ => Passed::Value(value_of(node)),
    }
}

/// The expressions of a scene, each with its place.
pub fn expressions(scene: &SceneContract) -> impl Iterator<Item = Expression> {
    let props = scene.parts.values().flat_map(|p| p.props.values()).filter_map(|(passed, span)| match passed {
        Passed::Expression(text) => Some(Expression { text: text.clone(), span: *span }),
        Passed::Value(_) => None,
    });
    props.chain(scene.wires.iter().flat_map(|w| w.set.values().cloned()))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::contract::read;

    const SHELF: &str = r#"
scene:
  state: { pieces: [], query: "" }
  parts:
    form:   { component: [./PieceForm.vue, ./PieceForm.tsx], props: { title: New piece, label: "for ${state.query}" } }
    ledger: { component: [./PieceLedger.vue, ./PieceLedger.tsx], props: { entries: state.pieces, query: "${state.query}" }, slots: { default: <p>x</p> } }
  wires:
    - from: form.added
      set: { pieces: "[...state.pieces, $event]" }
wrap:
  - ./Studio.vue
  - { component: [./Studio.tsx], props: { theme: dark } }
uses: { GlazeBadge: ./GlazeBadge.vue }
styles: ./studio.css
"#;

    #[test]
    fn a_scene_is_read() {
        let contract = read(SHELF).unwrap_or_else(|f| panic!("{f:?}"));
        let scene = contract.scene.expect("there");
        assert_eq!(scene.parts["ledger"].props["entries"].0, Passed::Expression("state.pieces".into()));
        assert_eq!(scene.parts["ledger"].props["query"].0, Passed::Expression("state.query".into()));
        assert_eq!(scene.parts["form"].props["title"].0, Passed::Value(Value::json("New piece")));
        assert_eq!(scene.parts["form"].props["label"].0, Passed::Expression("`for ${state.query}`".into()));
        assert_eq!(scene.parts["ledger"].fills["default"].as_deref(), Some("<p>x</p>"));
        assert_eq!((scene.wires[0].from.0.as_str(), scene.wires[0].from.1.as_str()), ("form", "added"));
        assert_eq!(expressions(&scene).count(), 4);
        assert_eq!(contract.around.wrap[1].props["theme"], Value::json("dark"));
        assert_eq!((contract.around.uses["GlazeBadge"].len(), contract.around.styles.len()), (1, 1));
    }

    #[test]
    fn faults_of_scenes() {
        for (text, part) in [
            ("scene: { parts: {} }", "needs parts"),
            ("scene: { parts: { a: {} } }", "what is `a`"),
            ("scene: { parts: { a: { component: a.vue, prosp: {} } } }", "no key of a part"),
            (
                "scene: { state: { x: 1 }, parts: { a: { component: a.vue } }, wires: [{ from: b.x, set: { x: '1' } }] }",
                "no part of the scene",
            ),
            (
                "scene: { state: { x: 1 }, parts: { a: { component: a.vue } }, wires: [{ from: a.x, set: { y: '1' } }] }",
                "no field of the state",
            ),
            ("scene: { parts: { a: { component: a.vue } }, wires: [{ from: a.x }] }", "`from` and `set`"),
            ("scene: { parts: { a: { component: a.vue } }, wires: [{ from: a, set: {} }] }", "a part and its event"),
            ("scene: { parts: { a: { component: [a.vue, b.vue, c.vue] }, b: { component: [a.vue, b.vue] } } }", "another part has 3"),
            ("component: a.vue\nscene: { parts: { a: { component: a.vue } } }", "of a scene"),
            ("component: a.vue\nwrap: [{ props: {} }]", "what is put around"),
            ("component: a.vue\nuses: { badge: ./b.vue }", "told from an element"),
            ("component: a.vue\nstyles: [1, {}]", "a stylesheet"),
        ] {
            let faults = read(text).expect_err(text);
            assert!(faults.iter().any(|f| f.message.contains(part)), "{text}: {faults:?}");
        }
    }
}

//! Values of a contract: what YAML says, and what it cannot say.

use fidelon_source::Span;
use indexmap::IndexMap;
use serde_json::Value as Json;

use crate::contract::fault::Fault;
use crate::contract::model::PropValues;
use crate::contract::read::ReadFile;
use crate::contract::yaml::{Data, Node};
use crate::value::Value;

/// A node as a value: `absent`, `{ $js: … }`, else what YAML says. A field of a mapping that is `absent` is left out of it.
pub(crate) fn value_of(node: &Node) -> Value {
    if is_absent(node) {
        return Value::Absent;
    }
    Value::from_plain(present(node))
}

fn is_absent(node: &Node) -> bool {
    matches!(&node.data, Data::Scalar { text, plain: true } if text == "absent")
}

fn present(node: &Node) -> Json {
    match &node.data {
        Data::Map(entries) => {
            let there = entries.iter().filter(|(_, v)| !is_absent(v));
            Json::Object(there.map(|(k, v)| (k.text().unwrap_or_default().to_owned(), present(v))).collect())
        }
        Data::List(items) => items.iter().map(present).collect(),
        _ => node.to_json(),
    }
}

/// The node with what every `{ $file: … }` below it reads in its place: JSON, beside the contract.
pub(super) fn with_files(node: &Node, file: ReadFile<'_>, faults: &mut Vec<Fault>) -> Node {
    let data = match &node.data {
        Data::Map(entries) => match entries.as_slice() {
            [(key, path)] if key.text() == Some("$file") => Data::Given(from_file(path, file, faults)),
            _ => Data::Map(entries.iter().map(|(k, v)| (k.clone(), with_files(v, file, faults))).collect()),
        },
        Data::List(items) => Data::List(items.iter().map(|i| with_files(i, file, faults)).collect()),
        other => other.clone(),
    };
    Node { span: node.span, data }
}

fn from_file(path: &Node, file: ReadFile<'_>, faults: &mut Vec<Fault>) -> Json {
    let Some(name) = path.text().filter(|t| !t.is_empty()) else {
        faults.push(Fault::kind(path.span, "$file", "the path of a JSON file", path.kind()));
        return Json::Null;
    };
    let read = file(name).and_then(|text| serde_json::from_str(&text).map_err(|e| format!("`{name}` is not JSON: {e}")));
    read.unwrap_or_else(|message| {
        faults.push(Fault::new(path.span, message).help("a path is relative to this contract"));
        Json::Null
    })
}

/// The modules that `{ $from: "./kilns.ts#hot" }` names anywhere below a node, each once.
pub(super) fn modules(node: &Node, out: &mut Vec<(String, Span)>, faults: &mut Vec<Fault>) {
    match &node.data {
        Data::Map(entries) => match node.get("$from") {
            Some(from) => match from.text().filter(|t| !t.is_empty() && !t.starts_with('#')) {
                Some(text) if out.iter().all(|(known, _)| known != text) => out.push((text.to_owned(), from.span)),
                Some(_) => {}
                None => faults.push(Fault::kind(from.span, "$from", "a module and its export, as `./kilns.ts#hot`", from.kind())),
            },
            None => entries.iter().for_each(|(_, v)| modules(v, out, faults)),
        },
        Data::List(items) => items.iter().for_each(|i| modules(i, out, faults)),
        Data::Scalar { .. } | Data::Given(_) => {}
    }
}

/// Reads `props`.
pub(super) fn props(root: &Node, faults: &mut Vec<Fault>) -> IndexMap<String, (PropValues, Span)> {
    let mut out = IndexMap::new();
    for (key, node) in root.get("props").map_or(&[][..], Node::entries) {
        let values = match &node.data {
            Data::Scalar { text, plain: true } if text == "all" => PropValues::All,
            Data::List(items) if items.is_empty() => {
                faults.push(Fault::new(node.span, "a prop needs at least one value"));
                continue;
            }
            Data::List(items) => PropValues::These(items.iter().map(value_of).collect()),
            Data::Map(_) if node.get("declared").is_some() => PropValues::Declared,
            Data::Map(_) if node.get("values").is_some() || node.get("start").is_some() => {
                let mut values: Vec<Value> = node.get("start").map(value_of).into_iter().collect();
                for value in node.get("values").map_or(&[][..], Node::one_or_many).iter().map(value_of) {
                    if !values.contains(&value) {
                        values.push(value);
                    }
                }
                PropValues::These(values)
            }
            _ => PropValues::These(vec![value_of(node)]),
        };
        out.insert(key.text().unwrap_or_default().to_owned(), (values, key.span));
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::contract::{read, read_all};

    #[test]
    fn what_yaml_cannot_say() {
        let file = |name: &str| if name == "./log.json" { Ok("[1, 2]".into()) } else { Err(format!("there is no file `{name}`")) };
        let text =
            "component: a.vue\nprops: { rows: { $file: ./log.json }, kiln: [{ $from: './kilns.ts#hot' }, { $js: 'new Date(0)' }] }\n";
        let (contract, faults) = read_all(text, &file);
        assert!(faults.is_empty(), "{faults:?}");
        let contract = contract.expect("reads");
        assert_eq!(contract.props["rows"].0, PropValues::These(vec![Value::Json(serde_json::json!([1, 2]))]));
        assert_eq!(
            contract.props["kiln"].0,
            PropValues::These(vec![Value::From("./kilns.ts#hot".into()), Value::Js("new Date(0)".into())])
        );
        assert_eq!(contract.around.values[0].0, "./kilns.ts#hot");
        let whole = value_of(&crate::contract::yaml::parse("{ a: absent, b: 'absent', c: [{ d: absent, e: 1 }] }").expect("YAML"));
        assert_eq!(whole, Value::Json(serde_json::json!({ "b": "absent", "c": [{ "e": 1 }] })), "a field may be absent too");
        let bad = |name: &str| if name == "bad.json" { Ok("{".into()) } else { file(name) };
        for (text, part) in [
            ("{ $file: none.json }", "no file `none.json`"),
            ("{ $file: bad.json }", "not JSON"),
            ("{ $file: [] }", "the path of a JSON file"),
            ("{ $from: '#hot' }", "a module and its export"),
        ] {
            let (_, faults) = read_all(&format!("component: a.vue\nprops: {{ rows: [{text}] }}"), &bad);
            assert!(faults.iter().any(|f| f.message.contains(part)), "{text}: {faults:?}");
        }
        assert!(read(text).is_err(), "a reader without files says so");
    }
}

//! What a contract may say where somebody is in it, by the published schema: one source for help, names and values.

use std::sync::LazyLock;

use serde_json::Value as Json;

use crate::contract::Step;

static SCHEMA: LazyLock<Json> = LazyLock::new(|| serde_json::from_str(fidelon_docs::CONTRACT_SCHEMA).unwrap_or_default());

/// How deep references and alternatives are followed.
const DEEP: usize = 12;

/// Everything that may stand at a place: each alternative by itself.
pub(crate) struct Allowed(Vec<&'static Json>);

/// A key that may stand at a place.
pub(crate) struct KeyHelp {
    pub(crate) name: &'static str,
    pub(crate) about: Option<&'static str>,
}

impl Allowed {
    /// What may stand at the end of a path.
    pub(crate) fn at(path: &[Step]) -> Self {
        let mut now = Self::of(&[&SCHEMA]);
        for step in path {
            let next: Vec<&'static Json> = now
                .0
                .iter()
                .filter_map(|schema| match step {
                    Step::Key(key) => schema.get("properties").and_then(|p| p.get(key)).or_else(|| {
                        // What is forbidden otherwise, and what may be anything, tells nothing.
                        schema.get("additionalProperties").filter(|rest| rest.is_object())
                    }),
                    Step::Item => schema.get("items"),
                })
                .collect();
            now = Self::of(&next);
        }
        now
    }

    /// The schemas with all that they refer to and all alternatives.
    fn of(schemas: &[&'static Json]) -> Self {
        let mut out: Vec<&'static Json> = Vec::new();
        let mut open: Vec<(&'static Json, usize)> = schemas.iter().rev().map(|schema| (*schema, 0)).collect();
        while let Some((schema, depth)) = open.pop() {
            if depth > DEEP || out.iter().any(|known| std::ptr::eq(*known, schema)) {
                continue;
            }
            out.push(schema);
            let alternatives = ["allOf", "anyOf", "oneOf"].iter().filter_map(|key| schema.get(key)?.as_array()).flatten();
            let mut next: Vec<(&'static Json, usize)> = alternatives.map(|one| (one, depth + 1)).collect();
            next.extend(referred(schema).map(|to| (to, depth + 1)));
            next.reverse();
            open.extend(next);
        }
        Self(out)
    }

    /// The keys, each once, in the order of the schema.
    pub(crate) fn keys(&self) -> Vec<KeyHelp> {
        let mut out: Vec<KeyHelp> = Vec::new();
        for schema in &self.0 {
            let named = schema.get("propertyNames").and_then(|names| names.get("enum")).and_then(Json::as_array);
            for name in named.into_iter().flatten().filter_map(Json::as_str).filter(|_| schema.get("required").is_none()) {
                if !out.iter().any(|known| known.name == name) {
                    out.push(KeyHelp { name, about: None });
                }
            }
            for (name, of) in schema.get("properties").and_then(Json::as_object).into_iter().flatten() {
                match out.iter_mut().find(|known| known.name == name) {
                    Some(known) => known.about = known.about.or_else(|| about(of)),
                    None => out.push(KeyHelp { name, about: about(of) }),
                }
            }
        }
        out
    }

    /// The values that are listed.
    pub(crate) fn values(&self) -> Vec<String> {
        let mut out: Vec<String> = Vec::new();
        for schema in &self.0 {
            let listed = schema.get("enum").and_then(Json::as_array).into_iter().flatten().chain(schema.get("const"));
            let booleans = schema.get("type").is_some_and(|of| of == "boolean");
            let mut take = |text: String| {
                if !out.contains(&text) {
                    out.push(text);
                }
            };
            listed.map(|value| value.as_str().map_or_else(|| value.to_string(), str::to_owned)).for_each(&mut take);
            if booleans {
                ["true", "false"].map(str::to_owned).into_iter().for_each(take);
            }
        }
        out
    }

    /// Whether one of the alternatives is what the schema defines under this name.
    pub(crate) fn is(&self, definition: &str) -> bool {
        SCHEMA.pointer(&format!("/$defs/{definition}")).is_some_and(|wanted| self.0.iter().any(|schema| std::ptr::eq(*schema, wanted)))
    }

    /// What is said of it.
    pub(crate) fn about(&self) -> Option<&'static str> {
        self.0.iter().find_map(|schema| about(schema))
    }
}

fn about(schema: &'static Json) -> Option<&'static str> {
    schema.get("description")?.as_str()
}

fn referred(schema: &'static Json) -> Option<&'static Json> {
    SCHEMA.pointer(schema.get("$ref")?.as_str()?.strip_prefix('#')?)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn at(path: &[&str]) -> Allowed {
        let steps: Vec<Step> = path.iter().map(|p| if *p == "-" { Step::Item } else { Step::Key((*p).into()) }).collect();
        Allowed::at(&steps)
    }

    fn names(allowed: &Allowed) -> Vec<&'static str> {
        allowed.keys().iter().map(|key| key.name).collect()
    }

    #[test]
    fn keys_and_values_are_those_of_the_schema() {
        let top = at(&[]);
        assert!(["component", "props", "clauses"].iter().all(|key| names(&top).contains(key)), "{:?}", names(&top));
        let steps = at(&["clauses", "-", "do", "-"]);
        assert!(["press", "times", "type", "into", "elapse"].iter().all(|key| names(&steps).contains(key)), "{:?}", names(&steps));
        assert!(steps.keys().iter().any(|key| key.name == "press" && key.about.is_some()));
        let checks = at(&["clauses", "-", "expect", "-"]);
        assert!(["text", "is", "emitted", "within"].iter().all(|key| names(&checks).contains(key)), "{:?}", names(&checks));
        assert_eq!(at(&["clauses", "-", "parent"]).values(), ["obeys", "keeps"]);
        assert!(at(&["clauses", "-", "do", "-", "press"]).is("locator"));
        assert!(!at(&["clauses", "-", "clause"]).is("locator"));
        assert!(names(&at(&["laws"])).contains(&"prop/live"));
        assert_eq!(names(&at(&["laws", "prop/live"])), ["off", "except", "because"]);
        assert!(names(&at(&["nothing", "of", "this"])).is_empty());
    }
}

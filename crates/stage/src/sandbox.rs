//! The expressions of contracts, in a realm that holds nothing else.

use std::time::Duration;

use fidelon_core::Value;
use fidelon_core::stage::Expressions;
use fidelon_engine::modules::NoModules;
use fidelon_engine::{EngineError, Limits, Realm};
use indexmap::IndexMap;

/// Evaluates expressions; what was evaluated for a combination is kept.
#[derive(Debug, Default)]
pub struct Sandbox {
    realm: Option<Realm>,
    known: std::collections::HashMap<String, Result<Value, String>>,
}

impl Sandbox {
    fn realm(&mut self) -> Result<&Realm, EngineError> {
        if self.realm.as_ref().is_none_or(Realm::is_broken) {
            let limits = Limits { deadline: Duration::from_millis(500), memory_mib: 64, ..Limits::default() };
            let realm = Realm::new(limits, Box::new(NoModules))?;
            realm.eval(include_str!("../js/sandbox.js"))?;
            self.realm = Some(realm);
        }
        Ok(self.realm.as_ref().expect("made above"))
    }
}

impl Expressions for Sandbox {
    fn evaluate(&mut self, expression: &str, scope: &IndexMap<String, Value>) -> Result<Value, String> {
        let request = serde_json::json!({ "expression": expression, "scope": scope }).to_string();
        if let Some(known) = self.known.get(&request) {
            return known.clone();
        }
        let answer = self.realm().and_then(|r| r.call("__expressions", "evaluate", &request)).map_err(|e| e.to_string());
        let value = answer.and_then(|json| serde_json::from_str(&json).map_err(|e| e.to_string()));
        self.known.insert(request, value.clone());
        value
    }

    fn parse(&mut self, expression: &str) -> Result<(), String> {
        self.realm().and_then(|r| r.call("__expressions", "parse", expression)).map(|_| ()).map_err(|e| e.to_string())
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn expressions_see_one_combination() {
        let mut sandbox = Sandbox::default();
        let scope: IndexMap<String, Value> =
            [("unit".to_owned(), Value::json("F")), ("step".to_owned(), Value::Absent), ("target".to_owned(), Value::json(600))]
                .into_iter()
                .collect();
        for (expression, value) in [
            ("unit === 'F' && target > 500", Value::json(true)),
            ("target + 2 * (step ?? 10)", Value::json(620)),
            ("step", Value::Absent),
            ("({ a: [unit] })", Value::Json(serde_json::json!({ "a": ["F"] }))),
        ] {
            assert_eq!(sandbox.evaluate(expression, &scope).map(|v| v.same(&value)), Ok(true), "{expression}");
        }
        assert!(sandbox.evaluate("nope", &scope).is_err_and(|e| e.contains("nope")));
        assert!(sandbox.parse("a +").is_err());
        assert!(sandbox.evaluate("(() => { for (;;) {} })()", &scope).is_err_and(|e| e.contains("end")));
        assert_eq!(sandbox.evaluate("1 + 1", &scope), Ok(Value::json(2)), "a lost realm is replaced");
    }
}

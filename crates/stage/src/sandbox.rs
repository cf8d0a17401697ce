//! The expressions of contracts, in a realm that holds nothing else.

use std::sync::mpsc::{Receiver, Sender, channel};
use std::thread::JoinHandle;
use std::time::Duration;

use fidelon_core::Value;
use fidelon_core::stage::Expressions;
use fidelon_engine::modules::NoModules;
use fidelon_engine::{EngineError, Limits, Realm};
use indexmap::IndexMap;

/// How many values are kept at most.
const MOST_KNOWN: usize = 20_000;

/// The stack of a thread that evaluates: the engine's own limit is 4 MiB.
const STACK: usize = 16 << 20;

/// Evaluates expressions; what was evaluated for a combination is kept.
#[derive(Debug, Default)]
pub struct Sandbox {
    realm: Option<Realm>,
    /// The values of modules, as plain data.
    values: IndexMap<String, Value>,
    known: std::collections::HashMap<String, Result<Value, String>>,
}

impl Sandbox {
    fn realm(&mut self) -> Result<&Realm, EngineError> {
        if self.realm.as_ref().is_none_or(Realm::is_broken) {
            let limits = Limits { deadline: Duration::from_secs(1), memory_mib: 64, ..Limits::default() };
            let realm = Realm::new(limits, Box::new(NoModules))?;
            realm.eval(concat!(include_str!("../js/values.js"), include_str!("../js/sandbox.js")))?;
            realm.call("__expressions", "know", &serde_json::json!(self.values).to_string())?;
            self.realm = Some(realm);
        }
        Ok(self.realm.as_ref().expect("made above"))
    }
}

/// What goes wrong with an expression, in words. Its limits are its own: no option of a run raises them.
fn told(error: &EngineError) -> String {
    match error {
        EngineError::Deadline { steps, .. } => {
            format!("it did not come to an end within {} million steps, as many as an expression of a contract may take", steps / 1_000_000)
        }
        EngineError::Memory(mib) => format!("it needed more than {mib} MiB of memory, as much as an expression of a contract may use"),
        other => other.to_string(),
    }
}

impl Expressions for Sandbox {
    fn know(&mut self, values: IndexMap<String, Value>) {
        if self.values != values {
            *self = Self { values, ..Self::default() };
        }
    }

    fn evaluate(&mut self, expression: &str, scope: &IndexMap<String, Value>) -> Result<Value, String> {
        let request = serde_json::json!({ "expression": expression, "scope": scope }).to_string();
        if let Some(known) = self.known.get(&request) {
            return known.clone();
        }
        let answer = self.realm().and_then(|r| r.call("__expressions", "evaluate", &request)).map_err(|e| told(&e));
        let value = answer.and_then(|json| serde_json::from_str(&json).map_err(|e| e.to_string()));
        if self.known.len() >= MOST_KNOWN {
            self.known.clear();
        }
        self.known.insert(request, value.clone());
        value
    }

    fn parse(&mut self, expression: &str) -> Result<(), String> {
        self.realm().and_then(|r| r.call("__expressions", "parse", expression)).map(|_| ()).map_err(|e| told(&e))
    }
}

enum Ask {
    Know(IndexMap<String, Value>),
    Evaluate(String, IndexMap<String, Value>),
    Parse(String),
}

/// A [`Sandbox`] on a thread of its own, to be used from run to run: its realm is made while nobody waits.
#[derive(Debug)]
pub struct Lasting {
    ask: Sender<Ask>,
    /// The value of an expression; of a parsed one nothing.
    answer: Receiver<Result<Value, String>>,
    thread: JoinHandle<()>,
}

impl Lasting {
    /// One that begins to make its realm at once.
    ///
    /// # Errors
    /// When the system gives no thread.
    pub fn new() -> std::io::Result<Self> {
        let (ask, asked) = channel();
        let (answers, answer) = channel();
        let thread = std::thread::Builder::new().name("expressions".into()).stack_size(STACK).spawn(move || {
            let mut sandbox = Sandbox::default();
            // What goes wrong here is told to the first who asks.
            let _ = sandbox.realm();
            while let Ok(ask) = asked.recv() {
                let said = match ask {
                    Ask::Know(values) => {
                        sandbox.know(values);
                        continue;
                    }
                    Ask::Evaluate(expression, scope) => sandbox.evaluate(&expression, &scope),
                    Ask::Parse(expression) => sandbox.parse(&expression).map(|()| Value::Absent),
                };
                if answers.send(said).is_err() {
                    return;
                }
            }
        })?;
        Ok(Self { ask, answer, thread })
    }

    /// Whether it can be asked again.
    pub fn is_alive(&self) -> bool {
        !self.thread.is_finished()
    }

    fn request(&self, ask: Ask) -> Result<Value, String> {
        let lost = "the thread that evaluates expressions was lost";
        self.ask.send(ask).map_err(|_| lost)?;
        self.answer.recv().map_err(|_| lost)?
    }
}

impl Expressions for Lasting {
    fn know(&mut self, values: IndexMap<String, Value>) {
        // One that is lost says so when it is asked for a value.
        let _ = self.ask.send(Ask::Know(values));
    }

    fn evaluate(&mut self, expression: &str, scope: &IndexMap<String, Value>) -> Result<Value, String> {
        self.request(Ask::Evaluate(expression.to_owned(), scope.clone()))
    }

    fn parse(&mut self, expression: &str) -> Result<(), String> {
        self.request(Ask::Parse(expression.to_owned())).map(|_| ())
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn expressions_see_one_combination() {
        see_one_combination(&mut Sandbox::default());
        see_one_combination(&mut Lasting::new().expect("the system gives a thread"));
    }

    #[test]
    fn what_is_told_of_a_value_has_an_end() {
        let mut sandbox = Sandbox::default();
        let mut told = |expression: &str| sandbox.evaluate(expression, &IndexMap::new()).expect("it is told").to_string();
        assert_eq!(told("({ $$typeof: Symbol('tag'), _owner: {} })"), Value::Other("something rendered".into()).to_string());
        assert_eq!(told("({ tag: { __v_isVNode: true, parent: {} } })"), r#"{ tag: "something rendered" }"#);
        // Each of sixty things leads to all of them: there are more paths than a computer could follow.
        let all = told(
            "(() => { const all = Array.from({ length: 60 }, () => ({})); all.forEach((a) => all.forEach((b, i) => { a['k' + i] = b })); return all[0] })()",
        );
        assert!(all.contains("(more)") && all.len() < 2_000_000, "{}", all.len());
    }

    fn see_one_combination(sandbox: &mut dyn Expressions) {
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
        sandbox.know([("./kilns.ts#hot".to_owned(), Value::Json(serde_json::json!({ "target": 1240 })))].into_iter().collect());
        let scope: IndexMap<String, Value> = [
            ("kiln".to_owned(), Value::From("./kilns.ts#hot".into())),
            ("kilns".to_owned(), Value::Json(serde_json::json!([{ "$from": "./kilns.ts#hot" }, { "$js": "1 + 1" }]))),
        ]
        .into_iter()
        .collect();
        assert_eq!(sandbox.evaluate("kiln.target + kilns[0].target + kilns[1]", &scope), Ok(Value::json(2482)));
        assert_eq!(sandbox.evaluate("new Date(0)", &scope), Ok(Value::Other("Date 1970-01-01T00:00:00.000Z".into())));
        assert!(sandbox.evaluate("nope", &scope).is_err_and(|e| e.contains("nope")));
        assert!(sandbox.parse("a +").is_err());
        assert!(sandbox.evaluate("(() => { for (;;) {} })()", &scope).is_err_and(|e| e.contains("end")));
        assert_eq!(sandbox.evaluate("1 + 1", &scope), Ok(Value::json(2)), "a lost realm is replaced");
    }
}

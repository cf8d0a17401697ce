//! How code comes in: a file that cannot be loaded is told as it is, whatever was compiled before.

use std::cell::RefCell;
use std::collections::HashMap;
use std::rc::Rc;
use std::sync::Arc;

use fidelon_engine::modules::{Code, Format, ImportKind, Modules};
use fidelon_engine::{EngineError, Limits, Realm};

/// What one realm compiled, for the next.
type Compiled = Rc<RefCell<HashMap<String, Arc<[u8]>>>>;

/// Modules by name; one that has no text cannot be loaded.
struct Shelf {
    texts: HashMap<&'static str, &'static str>,
    compiled: Compiled,
    asked: Rc<RefCell<Vec<String>>>,
}

impl Modules for Shelf {
    fn resolve(&mut self, _: &str, specifier: &str, _: ImportKind) -> Result<String, String> {
        self.asked.borrow_mut().push(specifier.to_owned());
        Ok(specifier.to_owned())
    }
    fn load(&mut self, name: &str) -> Result<Code, String> {
        self.source(name)?;
        Ok(Code { format: Format::Module, bytecode: self.compiled.borrow().get(name).cloned() })
    }
    fn source(&mut self, name: &str) -> Result<Arc<str>, String> {
        self.texts.get(name).map(|text| Arc::from(*text)).ok_or_else(|| format!("`{name}` cannot be read"))
    }
    fn keep(&mut self, name: &str, bytecode: &[u8]) {
        self.compiled.borrow_mut().insert(name.to_owned(), bytecode.into());
    }
}

/// A circle of modules that was compiled whole; what one of them imports is gone then.
#[test]
fn a_fault_in_a_circle_is_told_from_bytecode_as_from_source() {
    let mut texts = HashMap::from([
        ("vase", "export const vase = 1;"),
        ("shelf", "import { mug } from 'mug'; import { bowl } from 'bowl'; export const shelf = () => [mug, bowl];"),
        ("mug", "import { shelf } from 'shelf'; import { glaze } from 'glaze'; export const mug = () => [shelf, glaze];"),
        (
            "bowl",
            "import { mug } from 'mug'; import { shelf } from 'shelf'; import { vase } from 'vase'; export const bowl = () => [mug, shelf, vase];",
        ),
        ("glaze", "import { bowl } from 'bowl'; import { shelf } from 'shelf'; export const glaze = () => [bowl, shelf];"),
    ]);
    let (compiled, asked) = (Compiled::default(), Rc::<RefCell<Vec<String>>>::default());
    let realm = |texts: &HashMap<_, _>| {
        let shelf = Shelf { texts: texts.clone(), compiled: compiled.clone(), asked: asked.clone() };
        Realm::new(Limits::default(), Box::new(shelf)).expect("a realm")
    };
    realm(&texts).import("shelf").expect("all of them are there");
    assert_eq!(compiled.borrow().len(), texts.len(), "the later rounds read what the first compiled");
    texts.remove("vase");
    for round in 1..4 {
        let Err(EngineError::Thrown(thrown)) = realm(&texts).import("shelf") else { panic!("round {round}: `vase` is not there") };
        assert!(thrown.message.contains("`vase` cannot be read"), "round {round}: {}", thrown.message);
    }
    let known = ["shelf", "mug", "bowl", "glaze", "vase"];
    let strange: Vec<String> = asked.borrow().iter().filter(|name| !known.contains(&name.as_str())).cloned().collect();
    assert_eq!(strange, Vec::<String>::new(), "nothing is imported that nobody wrote");
}

/// A component that imports a circle with a fault later and catches it holds half of that circle: the engine does not know.
#[test]
fn nothing_is_imported_from_a_circle_that_is_torn() {
    let texts = HashMap::from([
        ("mug", "import { bowl } from 'bowl'; import { vase } from 'vase'; export const mug = () => [bowl, vase];"),
        ("bowl", "import { mug } from 'mug'; export const bowl = () => mug;"),
        ("plate", "export const plate = 1;"),
    ]);
    let compiled = Compiled::default();
    let told = |realm: &Realm, name: &str| {
        let asked = format!("import('{name}').then((m) => Object.keys(m).join(), (error) => error.message)");
        realm.eval_promise(&asked).expect("a refusal is caught")
    };
    for round in 0..3 {
        let shelf = Shelf { texts: texts.clone(), compiled: compiled.clone(), asked: Rc::default() };
        let realm = Realm::new(Limits::default(), Box::new(shelf)).expect("a realm");
        assert_eq!(told(&realm, "saucer"), "`saucer` cannot be read");
        assert_eq!(told(&realm, "plate"), "plate", "what is not there by itself leaves nothing half done");
        assert!(!realm.is_broken());
        for name in ["mug", "bowl", "plate"] {
            assert_eq!(told(&realm, name), "`vase` cannot be read", "round {round}: {name}");
        }
        assert!(realm.is_broken(), "the next case gets a realm of its own");
    }
}

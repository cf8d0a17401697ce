//! How code comes in: ES modules through the runtime's loader, CommonJS files through a wrapper function and a facade
//! module that re-exports what they set.

use std::cell::{Cell, RefCell};
use std::rc::Rc;
use std::sync::Arc;
use std::time::Duration;

use rquickjs::function::This;
use rquickjs::loader::{ImportAttributes, Loader, Resolver};
use rquickjs::module::{Declared, WriteOptions};
use rquickjs::{Ctx, Exception, Function, Module, Object, Promise, Value};

use crate::activity;
use crate::host::Host;

/// How a specifier was written: the two resolve under different conditions.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum ImportKind {
    /// `import`, static or dynamic.
    Import,
    /// `require`.
    Require,
}

/// What a file is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Format {
    /// An ES module.
    Module,
    /// A CommonJS file. Its code is an ES module whose default export is the wrapper function
    /// `(module, exports, require, __filename, __dirname)`.
    CommonJs,
}

/// Code to run.
#[derive(Debug, Clone)]
pub struct Code {
    /// What it is.
    pub format: Format,
    /// The compiled form from an earlier run of the same engine.
    pub bytecode: Option<Arc<[u8]>>,
}

/// Where modules come from. Names are opaque to the engine; they show up in stacks.
pub trait Modules {
    /// The name of the module that `specifier` means in `from`.
    ///
    /// # Errors
    /// A message for the person who wrote the import.
    fn resolve(&mut self, from: &str, specifier: &str, kind: ImportKind) -> Result<String, String>;
    /// The code of a module.
    ///
    /// # Errors
    /// A message for the person who wrote the file.
    fn load(&mut self, name: &str) -> Result<Code, String>;
    /// The text of a module: asked for when there is no bytecode, or none that this engine takes.
    ///
    /// # Errors
    /// A message for the person who wrote the file.
    fn source(&mut self, name: &str) -> Result<Arc<str>, String>;
    /// Takes compiled code to give it back at a later `load`.
    fn keep(&mut self, name: &str, bytecode: &[u8]);
}

/// No modules at all: for realms that only evaluate expressions.
#[derive(Debug, Clone, Copy)]
pub struct NoModules;

impl Modules for NoModules {
    fn resolve(&mut self, _: &str, specifier: &str, _: ImportKind) -> Result<String, String> {
        Err(format!("nothing can be imported here, so not `{specifier}` either"))
    }
    fn load(&mut self, name: &str) -> Result<Code, String> {
        Err(format!("nothing can be imported here, so not `{name}` either"))
    }
    fn source(&mut self, name: &str) -> Result<Arc<str>, String> {
        Err(format!("nothing can be imported here, so not `{name}` either"))
    }
    fn keep(&mut self, _: &str, _: &[u8]) {}
}

/// The two halves that the runtime asks, over one [`Modules`].
#[derive(Clone)]
pub(crate) struct Bridge {
    pub(crate) modules: Rc<RefCell<Box<dyn Modules>>>,
    pub(crate) host: Rc<Host>,
    /// How much processor time the compiling of one file may take: it is not the component's.
    pub(crate) compile: Duration,
    pub(crate) graph: Rc<Graph>,
}

/// The modules that are being linked to each other.
///
/// The engine lets go of a module as soon as one of its imports fails, though others of the same circle hold it already and would be
/// linked with it later. So once that happened nothing more is imported in that realm, whatever is asked for: the reason is given again.
#[derive(Default)]
pub(crate) struct Graph {
    /// How many modules are being declared, each for the one before.
    depth: Cell<usize>,
    /// Why one of them could not be.
    torn: RefCell<Option<String>>,
}

impl Graph {
    pub(crate) fn is_torn(&self) -> bool {
        self.torn.borrow().is_some()
    }
}

const REGISTRY: &str = "__commonjs";

fn fail(ctx: &Ctx<'_>, message: &str) -> rquickjs::Error {
    Exception::throw_message(ctx, message)
}

impl Resolver for Bridge {
    fn resolve<'js>(&mut self, ctx: &Ctx<'js>, base: &str, name: &str, _: Option<ImportAttributes<'js>>) -> rquickjs::Result<String> {
        self.part(ctx, || {
            let resolved = self.modules.borrow_mut().resolve(base, name, ImportKind::Import);
            resolved.map_err(|m| fail(ctx, &m))
        })
    }
}

impl Loader for Bridge {
    fn load<'js>(&mut self, ctx: &Ctx<'js>, name: &str, _: Option<ImportAttributes<'js>>) -> rquickjs::Result<Module<'js, Declared>> {
        self.part(ctx, || {
            let loaded = self.compiling(name, || self.modules.borrow_mut().load(name));
            let code = loaded.map_err(|m| fail(ctx, &m))?;
            match code.format {
                Format::Module => self.declare(ctx, name, &code),
                Format::CommonJs => {
                    let exports = self.require(ctx, name, &code)?;
                    let facade = facade(name, &exports)?;
                    Module::declare(ctx.clone(), name, facade)
                }
            }
        })
    }
}

impl Bridge {
    /// Finds or loads one module; where another waits for it, a failure tears the graph.
    fn part<T>(&self, ctx: &Ctx<'_>, work: impl FnOnce() -> rquickjs::Result<T>) -> rquickjs::Result<T> {
        if let Some(reason) = &*self.graph.torn.borrow() {
            return Err(fail(ctx, reason));
        }
        let done = work();
        if !matches!(done, Err(rquickjs::Error::Exception)) || self.graph.depth.get() == 0 {
            return done;
        }
        let thrown = ctx.catch();
        let reason = thrown.as_exception().and_then(Exception::message);
        self.graph.torn.borrow_mut().get_or_insert(reason.unwrap_or_else(|| "a module could not be loaded".to_owned()));
        Err(ctx.throw(thrown))
    }

    /// Runs code that is `depth` imports away from what asked for it.
    fn at_depth<T>(&self, depth: usize, work: impl FnOnce() -> T) -> T {
        let before = self.graph.depth.replace(depth);
        let done = work();
        self.graph.depth.set(before);
        done
    }

    fn compiling<T>(&self, name: &str, work: impl FnOnce() -> T) -> T {
        activity::during(|| format!("compiling {name}"), self.compile, work)
    }

    fn declare<'js>(&self, ctx: &Ctx<'js>, name: &str, code: &Code) -> rquickjs::Result<Module<'js, Declared>> {
        self.declare_as(ctx, name, name, code)
    }

    /// Declares a module; its bytecode is kept under the name of the file.
    fn declare_as<'js>(&self, ctx: &Ctx<'js>, name: &str, file: &str, code: &Code) -> rquickjs::Result<Module<'js, Declared>> {
        let deeper = self.graph.depth.get() + 1;
        if let Some(bytes) = &code.bytecode {
            self.host.bytecode.borrow_mut().push(bytes.clone());
            // SAFETY: the bytes were written by `Module::write` of this engine version (the cache's key holds it and a
            // checksum guards them), and the host keeps them alive until after the runtime is gone.
            let module = self.at_depth(deeper, || unsafe { Module::load(ctx.clone(), bytes) });
            match module {
                Ok(module) => return Ok(module),
                // Reading one imports what it imports.
                Err(error) if self.graph.is_torn() => return Err(error),
                Err(_) => drop(ctx.catch()),
            }
        }
        let source = self.modules.borrow_mut().source(file).map_err(|m| fail(ctx, &m))?;
        let module = self.at_depth(deeper, || self.compiling(name, || Module::declare(ctx.clone(), name, source.as_bytes())))?;
        // The source stays in: compilers print functions and evaluate the text again.
        if let Ok(bytes) = module.write(WriteOptions::default()) {
            self.modules.borrow_mut().keep(file, &bytes);
        }
        Ok(module)
    }

    /// Runs a CommonJS file once and gives its `module.exports`.
    fn require<'js>(&self, ctx: &Ctx<'js>, name: &str, code: &Code) -> rquickjs::Result<Value<'js>> {
        let registry = registry(ctx)?;
        if let Some(module) = registry.get::<_, Option<Object<'_>>>(name)? {
            return module.get("exports");
        }
        let wrapper_name = format!("{name}?commonjs");
        let wrapper = self.declare_wrapper(ctx, &wrapper_name, name, code)?;
        let module = Object::new(ctx.clone())?;
        let exports = Object::new(ctx.clone())?;
        module.set("exports", exports.clone())?;
        module.set("id", name)?;
        registry.set(name, module.clone())?;
        let require = self.require_function(ctx, name)?;
        let folder = name.rsplit_once('/').map_or("", |(folder, _)| folder);
        // What it requires in vain is its own affair: it may try and go on.
        let arguments = (This(exports.clone()), module.clone(), exports, require, name, folder);
        let ran: rquickjs::Result<Value<'_>> = self.at_depth(0, || wrapper.call(arguments));
        if let Err(error) = ran {
            registry.remove(name)?;
            return Err(error);
        }
        module.get("exports")
    }

    fn declare_wrapper<'js>(&self, ctx: &Ctx<'js>, wrapper_name: &str, name: &str, code: &Code) -> rquickjs::Result<Function<'js>> {
        // Not under the file's own name: that one belongs to the facade.
        let declared = self.declare_as(ctx, wrapper_name, name, code)?;
        let (module, _) = declared.eval()?;
        module.get("default")
    }

    fn require_function<'js>(&self, ctx: &Ctx<'js>, from: &str) -> rquickjs::Result<Function<'js>> {
        let bridge = self.clone();
        let from = from.to_owned();
        Function::new(ctx.clone(), move |ctx: Ctx<'js>, specifier: String| -> rquickjs::Result<Value<'js>> {
            let resolved = bridge.modules.borrow_mut().resolve(&from, &specifier, ImportKind::Require);
            let name = resolved.map_err(|m| fail(&ctx, &m))?;
            let loaded = bridge.compiling(&name, || bridge.modules.borrow_mut().load(&name));
            let code = loaded.map_err(|m| fail(&ctx, &m))?;
            match code.format {
                Format::CommonJs => bridge.require(&ctx, &name, &code),
                Format::Module => require_module(&ctx, &name),
            }
        })
    }
}

/// `require` of an ES module: its namespace, if it is evaluated without waiting.
fn require_module<'js>(ctx: &Ctx<'js>, name: &str) -> rquickjs::Result<Value<'js>> {
    let promise: Promise<'js> = Module::import(ctx, name)?;
    for _ in 0..10_000 {
        if let Some(result) = promise.result::<Value<'js>>() {
            let namespace = result?;
            return Ok(match namespace.as_object() {
                Some(object) if object.contains_key("module.exports")? => object.get("module.exports")?,
                _ => namespace,
            });
        }
        if !ctx.execute_pending_job() {
            break;
        }
    }
    Err(fail(ctx, &format!("`{name}` awaits something at its top level, so it cannot be required: import it")))
}

fn registry<'js>(ctx: &Ctx<'js>) -> rquickjs::Result<Object<'js>> {
    let globals = ctx.globals();
    if let Some(registry) = globals.get::<_, Option<Object<'_>>>(REGISTRY)? {
        return Ok(registry);
    }
    let registry = Object::new(ctx.clone())?;
    let define: Function<'_> = ctx.eval("(o, k, v) => Object.defineProperty(o, k, { value: v })")?;
    define.call::<_, ()>((globals, REGISTRY, registry.clone()))?;
    Ok(registry)
}

/// An ES module with the keys of `module.exports` as named exports. `default` is what a bundler gives: the `default`
/// member of a file that was an ES module once, else `module.exports`.
fn facade<'js>(name: &str, exports: &Value<'js>) -> rquickjs::Result<String> {
    let quoted = serde_json::Value::from(name).to_string();
    let mut out = format!("const m = globalThis.{REGISTRY}[{quoted}].exports;\n");
    let mut has_default = false;
    if let Some(object) = exports.as_object() {
        has_default = object.get::<_, Option<bool>>("__esModule").unwrap_or(None).unwrap_or(false) && object.contains_key("default")?;
        let keys = object.keys::<String>().filter_map(Result::ok).filter(|k| k != "default" && is_identifier(k));
        for (i, key) in keys.enumerate() {
            out.push_str(&format!("const e{i} = m.{key}; export {{ e{i} as {key} }};\n"));
        }
    }
    out.push_str(if has_default { "export default m.default;\n" } else { "export default m;\n" });
    Ok(out)
}

fn is_identifier(text: &str) -> bool {
    let mut chars = text.chars();
    chars.next().is_some_and(|c| c.is_ascii_alphabetic() || c == '_' || c == '$')
        && chars.all(|c| c.is_ascii_alphanumeric() || c == '_' || c == '$')
}

//! The module that brings a scene, its adapters and the session together.

use std::collections::BTreeMap;
use std::fmt::Write as _;
use std::path::Path;
use std::sync::Arc;

use fidelon_core::scene::{Module, Part, Passed, Scene};
use fidelon_core::surface::{Framework, StartsBy};
use fidelon_loader::angular::{Application, Start, Workspace, declaring as declaring_module, too_old};
use fidelon_loader::{Importing, LoadError, Loader, specifiers_of};
use serde_json::{Value as Json, json};

use crate::adapters::Adapter;

const SESSION: &str = concat!(include_str!("../js/values.js"), include_str!("../js/session.js"));
const CONTENT: &str = include_str!("../js/content.js");
const ACT: &str = include_str!("../js/act.js");
/// The name of the module that opens the session.
pub const ENTRY: &str = "stage:entry";

/// The name of the module that brings what does not change with the project's files.
pub const READY: &str = "stage:ready";

/// All modules of ours that a scene needs, by name. Those that their framework compiles are [`compiled`] before they run.
pub fn modules(scene: &Scene, root: &Path) -> BTreeMap<String, Arc<str>> {
    let fixed = [("stage:session", SESSION), ("stage:content", CONTENT), ("stage:act", ACT)];
    let adapters: Vec<Adapter> = scene.parts.iter().map(|p| Adapter::of(p.surface.framework)).collect();
    let all = fixed.into_iter().chain(adapters.iter().flat_map(Adapter::modules));
    let mut out: BTreeMap<String, Arc<str>> = all.map(|(name, code)| (name.to_owned(), Arc::from(code))).collect();
    if let Some(Start::Config { code }) = application(scene, root).and_then(|a| a.start) {
        out.insert(APPLICATION.to_owned(), code.into());
    }
    out.extend(scene.start.iter().enumerate().map(|(i, started)| (start_name(i), Arc::from(started.code.as_str()))));
    out.insert(ENTRY.to_owned(), entry(scene, root).into());
    out
}

/// The module that holds what an application of Angular passes to its start.
const APPLICATION: &str = "stage:application.ts";

/// What a module of what an application starts with is called here.
fn start_name(index: usize) -> String {
    format!("stage:start-{index}.tsx")
}

/// The same without the imports that lead nowhere here: a stylesheet that a plugin of the build makes. A component that needs them says so.
fn loadable(code: &str, from: &str, loader: &mut Loader) -> String {
    let mut leads = |line: &str| {
        let named = line.strip_prefix("import \"").and_then(|rest| rest.strip_suffix("\";"));
        named.is_none_or(|name| loader.resolve(from, name, Importing::Module).and_then(|file| loader.load(&file)).is_ok())
    };
    code.split_inclusive('\n').filter(|line| leads(line.trim_end())).collect()
}

/// What a scene is made of beside the files that it names, by whole path: what the modules that are made for it import, such as the module
/// that declares a component and the one that its application starts by.
pub fn imported(scene: &Scene, root: &Path) -> Vec<String> {
    let ours = modules(scene, root);
    let made = ours.iter().filter(|(name, _)| *name == ENTRY || *name == APPLICATION || name.starts_with("stage:start-"));
    let specifiers = made.flat_map(|(name, code)| specifiers_of(code, if name == ENTRY { "entry.mjs" } else { name }));
    let workspace = application(scene, root).map(|application| application.workspace);
    let loaded = workspace.into_iter().flat_map(|w| w.polyfills.into_iter().flatten().chain(w.styles));
    specifiers.chain(loaded).filter(|specifier| Path::new(specifier).is_absolute()).collect()
}

/// The application of Angular that a scene's components belong to.
fn application(scene: &Scene, root: &Path) -> Option<Application> {
    let part = scene.parts.iter().find(|p| p.surface.framework == Framework::Angular)?;
    Some(Application::of(&root.join(&part.surface.file)))
}

/// The same with the components among them compiled, by the compiler that the file `from` would be compiled by.
///
/// # Errors
/// [`LoadError`] when it is not installed.
pub fn compiled(ours: BTreeMap<String, Arc<str>>, from: &str, loader: &mut Loader) -> Result<BTreeMap<String, Arc<str>>, LoadError> {
    let compile = |(name, code): (String, Arc<str>)| {
        let is_written = name.ends_with(".svelte") || name.ends_with(".ts") || name.ends_with(".tsx");
        let code = if name.starts_with("stage:start-") { loadable(&code, from, loader).into() } else { code };
        let code = if is_written { loader.compile_ours(&name, &code, from)?.into() } else { code };
        Ok::<_, LoadError>((name, code))
    };
    let mut out: BTreeMap<String, Arc<str>> = ours.into_iter().map(compile).collect::<Result<_, _>>()?;
    if out.contains_key("stage:angular") {
        if let Some(version) = too_old(Path::new(from)) {
            let message = format!("Angular {version} is installed: components run with Angular 15 and later");
            return Err(LoadError::of_file(from, message));
        }
        out.insert("stage:workspace".into(), workspace(from, loader).into());
    }
    Ok(out)
}

/// What the workspace of an application of Angular has loaded before anything else: polyfills, then the stylesheets of its page.
fn workspace(from: &str, loader: &mut Loader) -> String {
    let application = Application::of(Path::new(from));
    loader.reached_too(application.files());
    let Workspace { polyfills, styles, .. } = application.workspace;
    // A project that has zone.js counts on it to see changes, unless it says that it has done without.
    let has_zone = loader.resolve(from, "zone.js", Importing::Module).is_ok();
    let zoned =
        has_zone && polyfills.as_ref().is_none_or(|list| list.iter().any(|p| p == "zone.js" || p.contains('/') && !p.starts_with('@')));
    let mut code = if zoned { String::from("import 'zone.js';\n") } else { String::new() };
    for polyfill in polyfills.into_iter().flatten().filter(|p| !p.starts_with("zone.js")) {
        // One that is not installed, or is for tests alone, is none that the components need.
        if loader.resolve(from, &polyfill, Importing::Module).is_ok() {
            let _ = writeln!(code, "import {};", Json::from(polyfill));
        }
    }
    let mut left_out = Vec::new();
    for style in styles {
        // A component that none of its rules reach is judged without it.
        match loader.resolve(from, &style, Importing::Module).and_then(|name| loader.load(&name)) {
            Ok(_) => drop(writeln!(code, "import {};", Json::from(style))),
            Err(error) => left_out.push(format!("{style}: {}", error.to_line())),
        }
    }
    let router = match loader.resolve(from, "@angular/router", Importing::Module) {
        Ok(_) => "import('@angular/router')",
        Err(_) => "null",
    };
    let _ =
        writeln!(code, "export const zoned = {zoned};\nexport const router = () => {router};\nexport const leftOut = {};", json!(left_out));
    code
}

/// The module that loads the session and the frameworks of a scene, in the order in which its own module does.
pub fn ready(scene: &Scene) -> String {
    let adapters = scene.parts.iter().map(|p| Adapter::of(p.surface.framework).name);
    std::iter::once("stage:session").chain(adapters).map(|name| format!("import {};\n", Json::from(name))).collect()
}

/// Writes imports, each under a name of its own.
struct Imports<'a> {
    root: &'a Path,
    text: String,
    count: usize,
}

impl Imports<'_> {
    fn path(&self, file: &str) -> Json {
        Json::from(self.root.join(file).to_string_lossy())
    }

    /// `what` is all of the module for `*`, else an export.
    fn import(&mut self, what: &str, from: &Json) -> String {
        self.count += 1;
        let name = format!("it{}", self.count);
        let clause = if what == "*" { format!("* as {name}") } else { format!("{{ {what} as {name} }}") };
        let _ = writeln!(self.text, "import {clause} from {from};");
        name
    }

    /// What a module exports; of a custom element by its registered name, in small letters, what it registers.
    fn module(&mut self, module: &Module, framework: Option<Framework>) -> String {
        let from = self.path(&module.file);
        let by_name = module.export != "default" && module.export.starts_with(|c: char| c.is_ascii_lowercase());
        if framework.is_some_and(|f| f.record().is_element) && by_name {
            let _ = writeln!(self.text, "import {from};");
            return Json::from(module.export.as_str()).to_string();
        }
        self.import(&module.export, &from)
    }
}

fn entry(scene: &Scene, root: &Path) -> String {
    let mut imports = Imports { root, text: String::new(), count: 0 };
    // Before anything of the project: the session takes what it observes by.
    imports.text.push_str("import { open } from 'stage:session';\n");
    let angular = application(scene, root);
    if angular.is_some() {
        // Its compiler and what the application loads first come before anything of the project.
        imports.text.push_str("import * as angular from 'stage:angular';\n");
    }
    let mut setup = Vec::new();
    for file in &scene.setup {
        let from = imports.path(file);
        setup.push(imports.import("*", &from));
    }
    let takes_application = |framework: Framework| framework.record().starts_by == Some(StartsBy::Application);
    let started: Vec<String> = (0..scene.start.len()).map(|i| imports.import("default", &Json::from(start_name(i)))).collect();
    if scene.parts.first().is_some_and(|p| takes_application(p.surface.framework)) {
        setup.extend(started.iter().map(|name| format!("{{ default: {name} }}")));
    }
    for style in &scene.styles {
        let _ = writeln!(imports.text, "import {};", imports.path(style));
    }
    let mut declaring = Vec::new();
    let parts: Vec<String> = scene.parts.iter().map(|part| part_of(part, scene, root, &mut imports, (&mut declaring, &started))).collect();
    let values: Vec<String> = scene.values.iter().map(|(name, module)| value_of(name, module, &mut imports)).collect();
    let has_start = angular.as_ref().is_some_and(|application| application.start.is_some());
    let pages: Vec<String> = scene
        .parts
        .iter()
        .map(|part| &part.surface)
        .filter(|surface| has_start && surface.framework == Framework::Angular)
        .map(|s| {
            let component = imports.module(&Module { file: s.file.clone(), export: s.export.clone() }, Some(s.framework));
            format!("{{ Component: {component}, file: {} }}", Json::from(s.file.as_str()))
        })
        .collect();
    let wires = json!(scene.wires);
    let bootstrapped = angular.map_or_else(String::new, |application| {
        let start = match application.start {
            Some(Start::Module { from, name }) => {
                format!("() => import({}).then((m) => ({{ root: m[{}] }}))", Json::from(from), Json::from(name))
            }
            Some(Start::Config { .. }) => format!("() => import({}).then((m) => m.config)", Json::from(APPLICATION)),
            None => "null".to_owned(),
        };
        let setup = setup.iter().map(|m| format!("{m}.default")).collect::<Vec<_>>().join(", ");
        let modules = declaring.join(", ");
        format!("await angular.start({{ application: {start}, setup: [{setup}], modules: [{modules}], pages: [{}] }});\n", pages.join(", "))
    });
    format!(
        "{}{bootstrapped}const exported = (module, name, of) => {{ if (!(name in module)) throw new Error(`${{of}}: the module exports no \\`${{name}}\\``); return module[name]; }};\n\
         open({{ parts: [{}], state: {}, wires: {wires}, values: {{ {} }}, setup: [{}].map((m) => m.default), computed: {} }});\n",
        imports.text,
        parts.join(", "),
        scene.state.is_some(),
        values.join(", "),
        setup.join(", "),
        json!(scene.computed),
    )
}

fn value_of(name: &str, module: &Module, imports: &mut Imports<'_>) -> String {
    let from = imports.path(&module.file);
    let all = imports.import("*", &from);
    let (name, export) = (Json::from(name), Json::from(module.export.as_str()));
    format!("{name}: exported({all}, {export}, {name})")
}

fn part_of(
    part: &Part,
    scene: &Scene,
    root: &Path,
    imports: &mut Imports<'_>,
    (declaring, started): (&mut Vec<String>, &[String]),
) -> String {
    let framework = part.surface.framework;
    let adapter = imports.import("*", &Json::from(Adapter::of(framework).name));
    let surface = &part.surface;
    // What a server renders is asked for when it is mounted.
    let component = if surface.is_served() {
        json!({ "address": surface.file }).to_string()
    } else {
        imports.module(&Module { file: surface.file.clone(), export: surface.export.clone() }, Some(framework))
    };
    let module = match framework {
        Framework::Angular => declaring_module(&root.join(&surface.file).to_string_lossy(), &surface.name),
        _ => None,
    };
    let module = module.map_or_else(
        || "null".to_owned(),
        |(file, name)| {
            let name = imports.import(&name, &Json::from(file.to_string_lossy()));
            declaring.push(name.clone());
            name
        },
    );
    // What an application puts around all of its parts stands around what the project and a contract put there.
    let around = started
        .iter()
        .filter(|_| framework.record().starts_by == Some(StartsBy::Rendering))
        .map(|name| format!("{{ component: {name}, props: {{}} }}"));
    let written = scene.wrap.iter().filter(|w| w.framework.is_none_or(|f| f == framework)).map(|w| {
        let component = imports.module(&w.component, w.framework);
        format!("{{ component: {component}, props: {} }}", json!(w.props))
    });
    let wrap: Vec<String> = around.chain(written).collect();
    let uses: Vec<String> = scene
        .uses
        .iter()
        .filter(|u| u.framework.is_none_or(|f| f == framework))
        .map(|u| format!("{}: {}", u.name, imports.module(&u.component, u.framework)))
        .collect();
    let props: serde_json::Map<String, Json> = part
        .props
        .iter()
        .map(|(name, passed)| {
            let told = match passed {
                Passed::Value(value) => json!({ "value": value }),
                Passed::Expression(text) => json!({ "expression": text }),
            };
            (name.clone(), told)
        })
        .collect();
    let declared = json!({
        "props": surface.props.iter().map(|p| json!({ "name": p.name, "two_way": p.two_way, "scalar": p.ty.is_scalar() })).collect::<Vec<_>>(),
        "events": surface.events, "slots": surface.slots, "exposes": surface.exposes,
    });
    format!(
        "{{ name: {}, adapter: {adapter}, component: {component}, surface: {declared}, props: {}, fills: {}, wrap: [{}], uses: {{ {} }}, \
         wantsRef: {}, tracked: {}, module: {module} }}",
        Json::from(part.name.as_str()),
        Json::Object(props),
        json!(part.fills),
        wrap.join(", "),
        uses.join(", "),
        part.reached || !surface.exposes.is_empty(),
        // Laws ask where content stands.
        part.tracked || !surface.slots.is_empty(),
    )
}

//! From what a contract names to what stands on a stage: components, wrappers, stylesheets, modules.

use std::path::{Path, PathBuf};

use fidelon_core::contract::model::{Named, PartContract, SceneContract};
use fidelon_core::contract::{Contract, Fault, adapted, styled, watched};
use fidelon_core::scene::{Module, Part, Scene, Used, Wire, Wrapper};
use fidelon_core::surface::{Framework, Prop, Surface, Type};
use fidelon_loader::{Aliases, Importing, Resolvers};
use fidelon_source::Span;

use indexmap::IndexMap;

use crate::settings::FolderAround;
use crate::surfaces::surfaces_of;
use crate::survey::{CONTRACT, chosen, shown, tidy};

/// What a project puts around the components of a folder, with its names resolved.
#[derive(Debug, Clone)]
pub(crate) struct Surrounding {
    folder: PathBuf,
    setup: Vec<String>,
    wrap: Vec<Wrapper>,
    styles: Vec<String>,
}

impl Surrounding {
    /// Puts it around a scene whose first part lies in its folder: outside of what the contract puts there.
    pub(crate) fn put_around(&self, scene: &mut Scene, file: &Path) {
        if file.starts_with(&self.folder) {
            scene.setup.extend(self.setup.iter().cloned());
            scene.wrap.splice(0..0, self.wrap.iter().cloned());
            scene.styles.splice(0..0, self.styles.iter().cloned());
        }
    }
}

/// Reads the names that `fidelon.toml` puts around a folder's components; what is wrong with them comes beside it.
pub(crate) fn surrounding(root: &Path, file: &Path, aliases: &Aliases, around: &FolderAround) -> (Surrounding, Vec<Fault>) {
    let none = Contract::default();
    let mut staging = Staging::new(root, file, &none, aliases);
    let [setup, wrap, styles] = around.written();
    let mut files = |written: &[(String, Span)]| written.iter().filter_map(|(name, at)| staging.resolved(name, *at)).collect();
    let (setup, styles) = (files(setup), files(styles));
    let wrap = staging.components(&wrap.to_vec());
    let wrap = wrap.into_iter().map(|(component, framework)| Wrapper { component, framework, props: IndexMap::new() }).collect();
    (Surrounding { folder: around.folder().to_path_buf(), setup, wrap, styles }, staging.faults)
}

/// Reads the names of one contract.
pub(crate) struct Staging<'a> {
    root: &'a Path,
    /// The contract's file.
    file: &'a Path,
    contract: &'a Contract,
    resolvers: Resolvers,
    /// What is wrong with its names.
    pub(crate) faults: Vec<Fault>,
}

impl<'a> Staging<'a> {
    pub(crate) fn new(root: &'a Path, file: &'a Path, contract: &'a Contract, aliases: &Aliases) -> Self {
        Self { root, file, contract, resolvers: Resolvers::new(aliases), faults: Vec::new() }
    }

    /// A component with what the contract puts around it.
    pub(crate) fn alone(&mut self, surface: &Surface) -> Scene {
        let (reached, tracked) = watched(self.contract);
        let part = Part { reached, tracked, ..Part::new("", adapted(surface, self.contract)) };
        self.around(Scene { parts: vec![part], ..Scene::alone(surface.clone()) })
    }

    /// The scenes of a contract, each with a surface that stands for it: the first of each part make one, the second another.
    pub(crate) fn scenes(&mut self, written: &SceneContract) -> Vec<(Surface, Scene)> {
        let count = written.parts.values().map(|p| p.components.len()).max().unwrap_or(0);
        let mut out: Vec<(Surface, Scene)> = Vec::new();
        for i in 0..count {
            let parts: Vec<Part> = written.parts.iter().filter_map(|(name, part)| self.part(name, part, i)).collect();
            if parts.len() < written.parts.len() {
                continue;
            }
            let wires = written.wires.iter().map(|w| Wire {
                part: w.from.0.clone(),
                event: w.from.1.clone(),
                set: w.set.iter().map(|(field, e)| (field.clone(), e.text.clone())).collect(),
            });
            let surface = self.stands_for(&parts, written, count > 1, &out);
            let plain = Scene::alone(surface.clone());
            let scene = Scene { parts, state: Some(written.state.clone()), wires: wires.collect(), ..plain };
            let scene = self.around(scene);
            out.push((surface, scene));
        }
        out
    }

    fn part(&mut self, name: &str, part: &PartContract, index: usize) -> Option<Part> {
        let (written, span) = part.components.get(index).or(part.components.first())?;
        let surface = self.surface(written, *span)?;
        let (reached, tracked) = watched(self.contract);
        let props = part.props.iter().map(|(k, (v, _))| (k.clone(), v.clone())).collect();
        Some(Part { props, fills: part.fills.clone(), reached, tracked, ..Part::new(name, surface) })
    }

    /// The surface of a scene: its props are the fields of its state.
    fn stands_for(&self, parts: &[Part], written: &SceneContract, several: bool, before: &[(Surface, Scene)]) -> Surface {
        let file = shown(self.file, self.root);
        let name = file.rsplit('/').next().and_then(|n| n.strip_suffix(CONTRACT)).unwrap_or(&file).to_owned();
        let framework = parts.first().map_or(Framework::Vue, |p| p.surface.framework);
        let mut export = if several { framework.to_string() } else { "default".to_owned() };
        if before.iter().any(|(s, _)| s.export == export) {
            export = format!("{export}-{}", before.len() + 1);
        }
        let field = |name: &String| Prop::new(name, Type::Unresolved { text: "state".into() });
        Surface { props: written.state.keys().map(field).collect(), ..Surface::new(&name, &file, &export, framework) }
    }

    /// The surface of a component that the contract names by `path` or `path#export`.
    fn surface(&mut self, written: &str, span: Span) -> Option<Surface> {
        if written.starts_with("http://") {
            return Some(Surface::served(written));
        }
        let (path, export) = written.split_once('#').map_or((written, None), |(p, e)| (p, Some(e)));
        let target = tidy(&self.file.parent().unwrap_or(self.root).join(path));
        match surfaces_of(&target, self.root) {
            Err(message) => {
                self.faults.push(Fault::new(span, format!("`{path}`: {message}")));
                None
            }
            Ok(found) => {
                let surface = chosen(&found, export, &target).cloned();
                if surface.is_none() {
                    let known: Vec<&str> = found.iter().map(|s| s.export.as_str()).collect();
                    let what = format!("component exported by {path}");
                    self.faults.push(Fault::unknown(span, &what, export.unwrap_or("default"), &known));
                }
                surface
            }
        }
    }

    fn around(&mut self, mut scene: Scene) -> Scene {
        let around = &self.contract.around;
        for wrap in &around.wrap {
            for (component, framework) in self.components(&wrap.components) {
                scene.wrap.push(Wrapper { component, framework, props: wrap.props.clone() });
            }
        }
        for (name, named) in &around.uses {
            for (component, framework) in self.components(named) {
                scene.uses.push(Used { name: name.clone(), component, framework });
            }
        }
        for (style, span) in &around.styles {
            scene.styles.extend(self.resolved(style, *span));
        }
        for (value, span) in &around.values {
            let (path, export) = value.rsplit_once('#').unwrap_or((value, "default"));
            if let Some(file) = self.resolved(path, *span) {
                scene.values.insert(value.clone(), Module { file, export: export.to_owned() });
            }
        }
        scene.computed = styled(self.contract);
        scene
    }

    /// The modules of components, each with its framework where its file tells: that of a package does not.
    fn components(&mut self, named: &Named) -> Vec<(Module, Option<Framework>)> {
        let mut out = Vec::new();
        for (written, span) in named {
            let path = written.split('#').next().unwrap_or(written);
            if fidelon_reader::is_component_file(Path::new(path)) {
                let surface = self.surface(written, *span);
                out.extend(surface.map(|s| (Module { file: s.file, export: s.export }, Some(s.framework))));
            } else {
                let (path, export) = written.rsplit_once('#').unwrap_or((written, "default"));
                let file = self.resolved(path, *span);
                out.extend(file.map(|file| (Module { file, export: export.to_owned() }, None)));
            }
        }
        out
    }

    /// The file that a path or a package means in the contract, relative to the root.
    fn resolved(&mut self, written: &str, span: Span) -> Option<String> {
        let beside = self.file.parent().unwrap_or(self.root).join(written);
        let specifier = if beside.is_file() && !written.starts_with(['.', '/']) { format!("./{written}") } else { written.to_owned() };
        match self.resolvers.resolve(&self.file.to_string_lossy(), &specifier, Importing::Module) {
            Ok(file) => Some(shown(Path::new(&file), self.root)),
            Err(error) => {
                self.faults.push(Fault::new(span, error.message));
                None
            }
        }
    }
}

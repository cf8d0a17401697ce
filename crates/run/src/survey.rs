//! Which components there are, and which contract each is held to.

use std::cell::RefCell;
use std::collections::{BTreeMap, BTreeSet, HashMap};
use std::path::{Component as Part, Path, PathBuf};
use std::sync::Arc;

use fidelon_core::Surface;
use fidelon_core::baseline::Baseline;
use fidelon_core::contract::{Contract, Fault};
use fidelon_core::results::FileFault;
use fidelon_core::scene::Scene;
use fidelon_core::surface::ChildUse;
use fidelon_loader::{Aliases, Cache};
use fidelon_source::{Bounds, DiskFiles, Files, Place, ProjectFiles, Span, place_of};

use crate::judging::parents::ComponentIndex;
use crate::scene_builder::Staging;
use crate::selection::Selection;
use crate::settings::{self, FolderExemption};
use crate::surfaces::{Read, surfaces_of, surfaces_of_all};

/// A component to be judged, or a scene.
#[derive(Debug, Clone)]
pub struct Job {
    /// What it declares; for a scene what stands for it.
    pub surface: Surface,
    /// What stands on the stage.
    pub scene: Scene,
    /// Its contract, by index into [`Survey::contracts`].
    pub contract: Option<usize>,
    /// Its accepted output.
    pub baseline: Option<Baseline>,
    /// Laws that do not hold in its folder.
    pub exempt: Vec<Arc<FolderExemption>>,
    /// The folder of the project.
    pub root: Arc<Path>,
    /// The children of the project that it shows, where a run asks for them.
    pub children: Vec<ChildUse>,
    /// What it declares and does not use, where a run asks for it.
    pub unused: Vec<(String, Place)>,
    /// How many of the components around it the project or a contract put there.
    pub wrapped: usize,
    /// What the project's components are called and give, for a part that asks for its parent.
    pub index: Arc<ComponentIndex>,
}

impl Job {
    /// A component alone, with no contract.
    pub fn new(surface: Surface) -> Self {
        Self {
            scene: Scene::alone(surface.clone()),
            surface,
            contract: None,
            baseline: None,
            exempt: Vec::new(),
            root: Path::new("").into(),
            children: Vec::new(),
            unused: Vec::new(),
            wrapped: 0,
            index: Arc::default(),
        }
    }

    /// What a contract holds: a component of it alone, or a scene.
    fn of_contract(contract: usize, surface: Surface, scene: Scene) -> Self {
        Self { scene, contract: Some(contract), ..Self::new(surface) }
    }
}

/// Where the contract of a component goes that has none, relative to the root: beside it, `KilnDial.contract.yaml`.
pub fn contract_beside(component: &str) -> String {
    let path = Path::new(component.split('#').next().unwrap_or(component));
    let stem = path.file_stem().map(|stem| stem.to_string_lossy().into_owned()).unwrap_or_default();
    path.with_file_name(format!("{stem}{CONTRACT}")).to_string_lossy().replace('\\', "/")
}

/// The file of a component's accepted output: beside it, `KilnDial.vue.baseline.txt`.
pub fn baseline_file(surface: &Surface) -> String {
    let export = if surface.export == "default" { String::new() } else { format!(".{}", surface.export) };
    format!("{}{export}.baseline.txt", surface.file)
}

/// A contract that was read.
#[derive(Debug, Clone)]
pub struct ContractFile {
    /// The file, relative to the root.
    pub file: String,
    /// The text.
    pub text: String,
    /// The other files that it reads values from, relative to the root, and a text that changes with what is in them.
    pub reads: Vec<String>,
    /// See `reads`.
    pub beside: String,
    /// What it says; none when it has faults.
    pub contract: Option<Contract>,
    /// What could be read of one with faults: its names are checked all the same.
    pub partial: Option<Contract>,
}

/// What was found.
#[derive(Debug, Clone, Default)]
pub struct Survey {
    /// Components, by path.
    pub jobs: Vec<Job>,
    /// Contracts, by path.
    pub contracts: Vec<ContractFile>,
    /// What is wrong with files.
    pub faults: Vec<FileFault>,
    /// Laws that do not hold in folders of the project.
    pub exemptions: Vec<Arc<FolderExemption>>,
}

/// A request that cannot be met as it stands.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum SurveyError {
    /// A path that is not there.
    #[error("there is no file or folder `{0}`")]
    Missing(String),
    /// A component that a file does not export.
    #[error("`{file}` exports no component `{export}`; it has `{known}`")]
    NoExport {
        /// The file.
        file: String,
        /// What was asked for.
        export: String,
        /// What it has.
        known: String,
    },
    /// A file that is neither a component nor a contract.
    #[error(
        "`{0}` is neither a component (.vue, .svelte, .tsx, .jsx, .html, or a script that exports a component or registers a custom element) nor a contract (.contract.yaml)"
    )]
    NotOurs(String),
}

/// The suffix of contract files.
pub const CONTRACT: &str = ".contract.yaml";

/// By its name, or because it registers custom elements or declares components of Angular.
pub fn holds_components(path: &Path) -> bool {
    fidelon_reader::is_component_file(path) || fidelon_reader::may_declare_components(path)
}

fn is_contract(path: &Path) -> bool {
    path.to_string_lossy().ends_with(CONTRACT)
}

/// A path relative to the root, with forward slashes.
pub fn shown(path: &Path, root: &Path) -> String {
    path.strip_prefix(root).unwrap_or(path).to_string_lossy().replace('\\', "/")
}

/// A path without `.` and `..`, without asking the disk.
pub fn tidy(path: &Path) -> PathBuf {
    let mut out = PathBuf::new();
    for part in path.components() {
        match part {
            Part::CurDir => {}
            Part::ParentDir => drop(out.pop()),
            other => out.push(other),
        }
    }
    out
}

/// Finds the components and contracts below `paths`, which may name one component of a file (`file#export`). A contract that is given, or lies below a folder that is, brings its
/// components; one that lies elsewhere below the root is found by the components that it names.
///
/// # Errors
/// [`SurveyError`] when a path cannot be used.
pub fn survey(root: &Path, paths: &[PathBuf], cache: &Cache) -> Result<Survey, SurveyError> {
    let selection = Selection::new(root, paths);
    let (components, given) = components_below(root, &selection.paths)?;
    let mut contracts: BTreeMap<PathBuf, Found> = given.into_iter().map(|file| (file, Found::Given)).collect();
    if !components.is_empty() && !paths.iter().any(|p| tidy(&root.join(p)) == root) {
        for file in fidelon_reader::components_in(root, is_contract) {
            contracts.entry(file).or_insert(Found::Elsewhere);
        }
    }
    let settings = settings::read(root);
    let mut out = assemble(root, components, contracts, &settings.aliases, cache);
    let (surroundings, faults) = settings.surroundings(root);
    out.faults.extend(faults);
    selection.check(out.jobs.iter().map(|j| &j.surface))?;
    out.jobs.retain(|job| selection.holds(&job.surface));
    let index: Arc<ComponentIndex> = Arc::default();
    for job in &mut out.jobs {
        let file = root.join(&job.surface.file);
        // A scene stands for its parts, which lie elsewhere than its contract.
        let first = job.scene.parts.first().map_or_else(|| file.clone(), |p| root.join(&p.surface.file));
        surroundings.iter().rev().for_each(|s| s.put_around(&mut job.scene, &first));
        job.wrapped = job.scene.wrap.len();
        job.index = index.clone();
        job.root = root.into();
        job.exempt = settings.exemptions.iter().filter(|e| e.covers(&file)).cloned().collect();
    }
    out.exemptions = settings.exemptions;
    out.faults.extend(settings.faults);
    Ok(out)
}

/// The files below `paths` that hold components, and the contracts.
///
/// # Errors
/// [`SurveyError`] when a path cannot be used.
pub(crate) fn components_below(root: &Path, paths: &[PathBuf]) -> Result<(BTreeSet<PathBuf>, BTreeSet<PathBuf>), SurveyError> {
    let mut components: BTreeSet<PathBuf> = BTreeSet::new();
    let mut contracts: BTreeSet<PathBuf> = BTreeSet::new();
    for given in paths {
        let path = tidy(&root.join(given));
        if path.is_dir() {
            let found = fidelon_reader::components_in(&path, |p| holds_components(p) || is_contract(p));
            for file in found {
                if is_contract(&file) {
                    contracts.insert(file);
                } else {
                    components.insert(file);
                }
            }
        } else if !path.is_file() {
            return Err(SurveyError::Missing(given.to_string_lossy().into_owned()));
        } else if is_contract(&path) {
            contracts.insert(path);
        } else if holds_components(&path) || fidelon_reader::is_page(&path) {
            components.insert(path);
        } else {
            return Err(SurveyError::NotOurs(given.to_string_lossy().into_owned()));
        }
    }
    Ok((components, contracts))
}

/// How a contract came to be looked at.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Found {
    /// It lies below the paths given.
    Given,
    /// It lies elsewhere below the root: it counts for the components that are given.
    Elsewhere,
}

/// Whether a contract names one of these components, whatever else is wrong with it; or is meant by its place.
fn names_one_of(file: &Path, text: &str, components: &BTreeSet<PathBuf>) -> bool {
    let folder = file.parent().unwrap_or(file);
    let named = fidelon_core::contract::named_components(text);
    let target = |name: &String| tidy(&folder.join(name.split('#').next().unwrap_or(name)));
    let beside = || {
        let stem = file.file_name().and_then(|n| n.to_str()).and_then(|n| n.strip_suffix(CONTRACT)).unwrap_or_default();
        components.iter().any(|c| c.parent() == file.parent() && c.file_stem().is_some_and(|s| s.to_str() == Some(stem)))
    };
    if named.is_empty() { beside() } else { named.iter().any(|n| components.contains(&target(n))) }
}

fn assemble(root: &Path, components: BTreeSet<PathBuf>, contracts: BTreeMap<PathBuf, Found>, aliases: &Aliases, cache: &Cache) -> Survey {
    let known = surfaces_of_all(&components.iter().cloned().collect::<Vec<_>>(), root, cache);
    let mut assembling = Assembling { root, aliases, components, known, out: Survey::default(), held: BTreeSet::new() };
    for (path, found) in contracts {
        assembling.contract(&path, found);
    }
    assembling.without_contract();
    assembling.baselines();
    let mut out = assembling.out;
    out.jobs.sort_by(|a, b| (&a.surface.file, &a.surface.export, a.contract).cmp(&(&b.surface.file, &b.surface.export, b.contract)));
    out
}

struct Assembling<'a> {
    root: &'a Path,
    aliases: &'a Aliases,
    components: BTreeSet<PathBuf>,
    /// What the components declare that were given.
    known: HashMap<PathBuf, Read>,
    out: Survey,
    /// Components that a sound contract names.
    held: BTreeSet<PathBuf>,
}

impl Assembling<'_> {
    fn surfaces(&self, path: &Path) -> Read {
        self.known.get(path).cloned().unwrap_or_else(|| surfaces_of(path, self.root))
    }

    /// The jobs of a contract: its components, or its scenes.
    fn contract(&mut self, path: &Path, found: Found) {
        let file = shown(path, self.root);
        let text = match DiskFiles.read(path) {
            Ok(text) => text,
            Err(_) if found == Found::Elsewhere => return,
            Err(error) => return self.out.faults.push(whole_file(&file, &error.to_string())),
        };
        if found == Found::Elsewhere && !names_one_of(path, &text, &self.components) {
            return;
        }
        let reads: RefCell<Vec<(String, String)>> = RefCell::default();
        let bounds = ProjectFiles(Bounds::of(&[self.root, path.parent().unwrap_or(self.root)]));
        let beside = |name: &str| {
            let file = tidy(&path.parent().unwrap_or(path).join(name));
            let text = bounds.read(&file).map_err(|e| e.to_string())?;
            reads.borrow_mut().push((shown(&file, self.root), Cache::hash(text.as_bytes())));
            Ok(text)
        };
        let (read, faults) = fidelon_core::contract::read_all(&text, &beside);
        let (contract, partial) = if faults.is_empty() { (read, None) } else { (None, read) };
        self.out.faults.extend(faults.into_iter().map(|f| in_file(&file, &text, f)));
        if let Some(contract) = &contract {
            // The same name is told once, however many components the contract is of.
            let mut told: Vec<Fault> = Vec::new();
            for fault in self.jobs_of(path, contract, found) {
                if !told.contains(&fault) {
                    self.out.faults.push(in_file(&file, &text, fault.clone()));
                    told.push(fault);
                }
            }
        }
        if contract.is_none() && found == Found::Given {
            // Its components are told as unjudged, and what could be read of it is checked against them.
            let folder = path.parent().unwrap_or(self.root);
            let named = fidelon_core::contract::named_components(&text);
            let files = named.iter().map(|n| tidy(&folder.join(n.split('#').next().unwrap_or(n))));
            self.components.extend(files.filter(|f| f.is_file() && holds_components(f)));
        }
        let (reads, hashes): (Vec<String>, Vec<String>) = reads.into_inner().into_iter().unzip();
        self.out.contracts.push(ContractFile { file, text, reads, beside: hashes.join(" "), contract, partial });
    }

    /// Adds the jobs of a sound contract; gives what is wrong with the names in it.
    fn jobs_of(&mut self, path: &Path, contract: &Contract, found: Found) -> Vec<Fault> {
        let index = self.out.contracts.len();
        let mut staging = Staging::new(self.root, path, contract, self.aliases);
        let bounds = Bounds::of(&[self.root, path.parent().unwrap_or(self.root)]);
        let mut faults = Vec::new();
        for (name, span) in &contract.components {
            if name.starts_with("http://") {
                let scene = staging.alone(&Surface::served(name));
                self.out.jobs.push(Job::of_contract(index, scene.parts[0].surface.clone(), scene));
                continue;
            }
            let (wanted, export) = name.split_once('#').map_or((name.as_str(), None), |(p, e)| (p, Some(e)));
            let target = tidy(&path.parent().unwrap_or(self.root).join(wanted));
            // A component given alone is not joined by its siblings in a shared contract.
            if found == Found::Elsewhere && !self.components.contains(&target) {
                continue;
            }
            // What is recorded of a component is written beside it.
            if target.is_file() && !bounds.hold(&target) {
                faults.push(
                    Fault::new(*span, format!("`{wanted}` lies outside the project"))
                        .help("a contract speaks of components of its own project alone: put it beside the component"),
                );
                continue;
            }
            let surfaces = match self.surfaces(&target) {
                Ok(surfaces) => surfaces,
                Err(message) => {
                    faults.push(self.unreadable(&target, wanted, &message, *span));
                    continue;
                }
            };
            let Some(surface) = chosen(&surfaces, export, &target) else {
                let known: Vec<&str> = surfaces.iter().map(|s| s.export.as_str()).collect();
                faults.push(Fault::unknown(*span, &format!("component exported by {wanted}"), export.unwrap_or("default"), &known));
                continue;
            };
            let scene = staging.alone(surface);
            self.out.jobs.push(Job::of_contract(index, scene.parts[0].surface.clone(), scene));
            self.held.insert(target);
        }
        if let Some(written) = &contract.scene {
            let scenes = staging.scenes(written).into_iter();
            self.out.jobs.extend(scenes.map(|(surface, scene)| Job::of_contract(index, surface, scene)));
        }
        faults.extend(staging.faults);
        faults
    }

    /// A component that cannot be read; one of nearly its name may be meant.
    fn unreadable(&self, target: &Path, wanted: &str, message: &str, span: Span) -> Fault {
        let names = self.components.iter().filter_map(|c| c.file_name()?.to_str());
        let name = target.file_name().and_then(|n| n.to_str()).unwrap_or_default();
        let fault = Fault::new(span, format!("`{wanted}`: {message}"));
        match fidelon_core::locator::nearest(name, names).filter(|n| *n != name) {
            Some(near) => fault.help(format!("did you mean `{near}`?")),
            None => fault,
        }
    }

    /// Components that no sound contract names. One with faults still says whose it is: its component is told as unjudged, not
    /// judged by the laws alone.
    fn without_contract(&mut self) {
        for path in self.components.iter().filter(|path| !self.held.contains(*path)) {
            let file = shown(path, self.root);
            let stem = path.file_stem().map(|s| s.to_string_lossy().into_owned()).unwrap_or_default();
            let beside = path.with_file_name(format!("{stem}{CONTRACT}"));
            let faulty = self.out.contracts.iter().position(|c| {
                let file = self.root.join(&c.file);
                let means =
                    |name: &String| tidy(&file.parent().unwrap_or(self.root).join(name.split('#').next().unwrap_or(name))) == **path;
                c.contract.is_none() && (file == beside || fidelon_core::contract::named_components(&c.text).iter().any(means))
            });
            match self.surfaces(path) {
                Ok(found) => self.out.jobs.extend(found.into_iter().map(|surface| Job { contract: faulty, ..Job::new(surface) })),
                Err(message) => self.out.faults.push(whole_file(&file, &message)),
            }
        }
    }

    /// The accepted output of each job.
    fn baselines(&mut self) {
        for job in &mut self.out.jobs {
            let file = baseline_file(&job.surface);
            let Ok(text) = DiskFiles.read(&self.root.join(&file)) else { continue };
            match Baseline::read(&text) {
                Ok(baseline) => job.baseline = Some(baseline),
                Err(fault) => {
                    let start: usize = text.split_inclusive('\n').take(fault.line as usize - 1).map(str::len).sum();
                    let length = text[start..].lines().next().map_or(0, str::len);
                    self.out.faults.push(in_file(&file, &text, Fault::new(Span::new(start, start + length), fault.message)));
                }
            }
        }
    }
}

/// Of the components of a file the one that is meant: by its export, else the default one, the one named as the file, the first.
pub(crate) fn chosen<'a>(found: &'a [Surface], export: Option<&str>, file: &Path) -> Option<&'a Surface> {
    let stem = file.file_stem().map(|s| s.to_string_lossy().into_owned()).unwrap_or_default();
    match export {
        Some(export) => found.iter().find(|s| s.export == export),
        None => found.iter().find(|s| s.export == "default").or_else(|| found.iter().find(|s| s.name == stem)).or(found.first()),
    }
}

pub(crate) fn whole_file(file: &str, message: &str) -> FileFault {
    FileFault { place: Place { file: file.into(), line: 1, column: 1 }, fault: Fault::new(Span::default(), message) }
}

/// A fault with the place of its span in a file.
pub fn in_file(file: &str, text: &str, fault: Fault) -> FileFault {
    let (line, column) = place_of(text, fault.span.start);
    FileFault { place: Place { file: file.into(), line, column }, fault }
}

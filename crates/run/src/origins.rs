//! Where the elements that findings are about were written: looked for in the component's own files first, then in those of the project
//! that it leads to. What a package wrote has no place there.

use std::collections::{BTreeSet, HashMap};
use std::path::{Path, PathBuf};
use std::rc::Rc;

use fidelon_core::finding::{Finding, RuleKind};
use fidelon_core::results::Component;
use fidelon_reader::origin::{self, Written};
use fidelon_source::Files as _;

use crate::affected::Reach;
use crate::stages::StageOptions;
use crate::surfaces::files_of;
use crate::survey::{Job, shown};

/// Files that are read for one component.
const MOST: usize = 400;

/// Where elements were written, for the components that one worker judges: what they share is read once.
pub(crate) struct Origins {
    root: PathBuf,
    options: StageOptions,
    reach: Option<Reach>,
    sources: HashMap<String, Option<Rc<Written>>>,
}

impl Origins {
    pub(crate) fn new(root: &Path, options: &StageOptions) -> Self {
        Self { root: root.to_path_buf(), options: options.clone(), reach: None, sources: HashMap::new() }
    }

    /// Gives each finding about an element the place at which that was written, where one is found; else that of the prop that makes it
    /// break, or of the event, slot or member that it is about.
    pub(crate) fn locate(&mut self, component: &mut Component, job: &Job) {
        let open: Vec<&mut Finding> = component.findings.iter_mut().filter(|found| found.failure.place.is_none()).collect();
        let mut sources: Option<Vec<Rc<Written>>> = None;
        let mut own: Option<String> = None;
        for finding in open {
            if let Some(trace) = &finding.failure.element {
                let sources = sources.get_or_insert_with(|| self.sources_of(job));
                finding.failure.place = origin::find(trace, &sources.iter().map(|source| &**source).collect::<Vec<_>>());
            }
            if finding.failure.place.is_none() && finding.kind == RuleKind::Law {
                let props = finding.cause.iter().flatten().map(|condition| condition.prop.as_str());
                finding.failure.place = props.filter_map(|prop| job.surface.prop(prop)).find_map(|prop| prop.place.clone());
            }
            if let (None, RuleKind::Law, Some(about)) = (&finding.failure.place, finding.kind, &finding.about) {
                let text =
                    own.get_or_insert_with(|| files_of(&self.root, &[]).read(&self.root.join(&job.surface.file)).unwrap_or_default());
                finding.failure.place = origin::declared::place(&job.surface, text, about);
            }
        }
    }

    /// The sources of a component, its own first.
    fn sources_of(&mut self, job: &Job) -> Vec<Rc<Written>> {
        let reach = self.reach.get_or_insert_with(|| Reach::new(&self.root, &self.options));
        let own = self.root.join(&job.surface.file).to_string_lossy().into_owned();
        let beside = reach.next(&own).unwrap_or_default().into_iter().filter(|file| is_markup(file));
        let mut files: Vec<String> = std::iter::once(own).chain(beside).collect();
        let first: BTreeSet<String> = files.iter().cloned().collect();
        files.extend(reach.files(job).into_iter().filter(|file| !first.contains(file)));
        files.into_iter().take(MOST).filter_map(|file| self.source(file)).collect()
    }

    fn source(&mut self, file: String) -> Option<Rc<Written>> {
        let root = &self.root;
        let read = |file: &String| {
            let disk = files_of(root, &[]);
            let path = Path::new(file);
            let script = if is_markup(file) { disk.read(&path.with_extension("ts")).unwrap_or_default() } else { String::new() };
            Some(Rc::new(Written::new(path, &shown(path, root), disk.read(path).ok()?, script)))
        };
        self.sources.entry(file).or_insert_with_key(read).clone()
    }
}

fn is_markup(file: &str) -> bool {
    Path::new(file).extension().is_some_and(|e| e == "html" || e == "htm")
}

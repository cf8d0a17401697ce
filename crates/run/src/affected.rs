//! Which components a change touches: what their modules import, followed through the files of the project without running any.

use std::collections::{BTreeMap, BTreeSet};
use std::path::{Path, PathBuf};

use fidelon_loader::start::is_main;
use fidelon_loader::{Importing, Loader};
use fidelon_stage::compilers::RealmCompilers;
use fidelon_stage::entry;

use crate::stages::StageOptions;
use crate::survey::{Job, Survey, baseline_file};

/// Follows imports; remembers what it followed.
pub(crate) struct Reach {
    root: PathBuf,
    loader: Loader,
    /// What a file leads to directly; none where that cannot be told.
    known: BTreeMap<String, Option<Vec<String>>>,
}

impl Reach {
    pub(crate) fn new(root: &Path, options: &StageOptions) -> Self {
        let (cache, aliases) = (&options.common.cache, &options.common.aliases);
        let compilers = RealmCompilers::new(cache.clone(), aliases.clone(), root);
        let loader = Loader::new(cache.clone(), Box::new(compilers)).knowing(aliases);
        Self { root: root.to_path_buf(), loader, known: BTreeMap::new() }
    }

    /// The files that a module leads to, and those that it was made from.
    pub(crate) fn next(&mut self, name: &str) -> Option<Vec<String>> {
        if !self.known.contains_key(name) {
            self.loader.note_anew();
            let led = self.loader.leads_to(name).ok();
            let made_from = self.loader.reached().files.into_keys();
            // An import that leads nowhere may be what was changed.
            let next = led.map(|led| led.into_iter().chain(made_from).collect());
            self.known.insert(name.to_owned(), next);
        }
        self.known.get(name).cloned().flatten()
    }

    /// Whether a job's files, or what they import, are among these.
    pub(crate) fn touches(&mut self, survey: &Survey, job: &Job, changed: &BTreeSet<PathBuf>) -> bool {
        // A parent that is found for a part is no module of it.
        if job.surface.asks_around && changed.iter().any(|file| crate::survey::holds_components(file)) {
            return true;
        }
        let contract = job.contract.and_then(|index| survey.contracts.get(index));
        let beside = contract.into_iter().flat_map(|c| c.reads.iter().map(|file| self.root.join(file)).chain([self.root.join(&c.file)]));
        let accepted = self.root.join(baseline_file(&job.surface));
        if beside.chain([accepted]).any(|file| changed.contains(&file)) {
            return true;
        }
        self.follow(job, &mut |file, is_known| !is_known || changed.contains(Path::new(file)))
    }

    /// The files of the project that a job is made of, by name.
    pub(crate) fn files(&mut self, job: &Job) -> BTreeSet<String> {
        let mut out = BTreeSet::new();
        self.follow(job, &mut |file, _| {
            if !file.contains("/node_modules/") {
                out.insert(file.to_owned());
            }
            false
        });
        out
    }

    /// Goes through the files that a job leads to, until one of them is what is looked for: it is asked of each, and with false of those of
    /// which it is not known where they lead.
    fn follow(&mut self, job: &Job, is_it: &mut dyn FnMut(&str, bool) -> bool) -> bool {
        let mut waiting: Vec<String> = job.scene.files().map(|file| self.root.join(file).to_string_lossy().into_owned()).collect();
        let from = self.root.join(&job.surface.file).to_string_lossy().into_owned();
        let imported = entry::imported(&job.scene, &self.root);
        waiting.extend(imported.into_iter().filter_map(|name| self.loader.resolve(&from, &name, Importing::Module).ok()));
        let mut seen: BTreeSet<String> = BTreeSet::new();
        while let Some(name) = waiting.pop() {
            let file = name.split('?').next().unwrap_or(&name).to_owned();
            if is_it(&file, true) {
                return true;
            }
            // What lies in a package changes with the files that name its version.
            if file.contains("/node_modules/") || !seen.insert(name.clone()) {
                continue;
            }
            match self.next(&name) {
                Some(next) => waiting.extend(next),
                None if is_it(&file, false) => return true,
                None => {}
            }
        }
        false
    }
}

/// Files of a project that decide which versions of packages are installed, and how its sources are read: a change of one touches every
/// component. So may the main script, which says what stands around them.
pub(crate) fn touches_all(file: &Path) -> bool {
    const NAMES: [&str; 8] = [
        "package.json",
        "package-lock.json",
        "yarn.lock",
        "pnpm-lock.yaml",
        "bun.lock",
        "bun.lockb",
        "jsconfig.json",
        crate::settings::FILE,
    ];
    let name = file.file_name().and_then(|n| n.to_str()).unwrap_or_default();
    NAMES.contains(&name) || is_main(file) || (name.starts_with("tsconfig") && name.ends_with(".json"))
}

//! What was judged before and still counts: results by the content of all that they came of.
//!
//! The key is what is known before anything runs: the scene with its declared surface, the contract and the files it reads, accepted
//! output, exemptions, how it is judged, and this program. An entry lists what the scene's modules were made from; it counts as long
//! as each of those files has the same content and each import of the project leads to the same file.

use std::collections::HashMap;
use std::fmt::Write as _;
use std::sync::Mutex;

use fidelon_core::gallery::Gallery;
use fidelon_core::results::{Component, FileFault};
use fidelon_core::stage::{Dependencies, ResolvedImport};
use fidelon_core::{Verdict, baseline::Baseline};
use fidelon_loader::{Cache, Importing, Resolvers};
use fidelon_source::bytes_of;
use serde::{Deserialize, Serialize};

use crate::judging::{ContractSource, Judged, name_of};
use crate::pipeline::Request;
use crate::stages::StageKind;
use crate::survey::Job;

/// What is kept of a component.
#[derive(Debug, Serialize, Deserialize)]
struct Entry {
    reached: Dependencies,
    component: Component,
    faults: Vec<FileFault>,
    /// Which of the exemptions of its folder exempted something.
    used: Vec<usize>,
    /// Whether its module keeps state from one case to the next.
    carried: bool,
}

/// Results of earlier runs.
pub(crate) struct ResultsCache<'a> {
    cache: &'a Cache,
    /// What every key starts from.
    setting: String,
    pictures: bool,
    /// Contents that were hashed in this run.
    hashes: Mutex<HashMap<String, Option<String>>>,
    /// What imports lead to in this run.
    led: Mutex<HashMap<(String, String, bool), Option<String>>>,
}

impl<'a> ResultsCache<'a> {
    /// The results that count for a request; none where it asks for none, or for what another program tells.
    pub(crate) fn of(request: &'a Request) -> Option<Self> {
        if request.anew || request.confirm || request.stage.on != StageKind::Embedded {
            return None;
        }
        let common = &request.stage.common;
        let how = &request.how;
        let setting = format!(
            "{}\n{}\n{:?} {:?} {:?}\n{}",
            program(),
            request.root.display(),
            how.realms,
            how.effort,
            common.limits,
            common.aliases.key()
        );
        Some(Self { cache: &common.cache, setting, pictures: how.pictures, hashes: Mutex::default(), led: Mutex::default() })
    }

    fn key(&self, job: &Job, held: Option<ContractSource<'_>>) -> String {
        let scene = serde_json::to_string(&(&job.surface, &job.scene)).unwrap_or_default();
        let (file, text, beside) = held.map_or(("", "", ""), |h| (h.file, h.text, h.beside));
        let accepted = job.baseline.as_ref().map(|b: &Baseline| b.write("")).unwrap_or_default();
        let exempt: String = job.exempt.iter().fold(String::new(), |mut out, e| {
            let _ = write!(out, "{:?} {}", e.exemption, e.shown);
            out
        });
        let parts = ["judged", &self.setting, &scene, file, text, beside, &accepted, &exempt];
        Cache::key(&parts.map(str::as_bytes))
    }

    /// What an earlier run found, if nothing was changed since.
    pub(crate) fn get(&self, job: &Job, held: Option<ContractSource<'_>>, resolvers: &Resolvers) -> Option<Judged> {
        let key = self.key(job, held);
        let entry: Entry = serde_json::from_slice(&self.cache.get(&key)?).ok()?;
        if entry.component.component != name_of(&job.surface) || !self.counts(&entry.reached, resolvers) {
            return None;
        }
        let gallery: Option<Gallery> =
            if self.pictures { Some(serde_json::from_slice(&self.cache.get(&pictures(&key))?).ok()?) } else { None };
        Some(Judged {
            component: entry.component,
            faults: entry.faults,
            gallery,
            used: entry.used,
            carried: entry.carried,
            within: None,
            tried: Vec::new(),
            misses: false,
        })
    }

    fn counts(&self, reached: &Dependencies, resolvers: &Resolvers) -> bool {
        let same = reached.files.iter().all(|(file, hash)| self.hash(file).as_ref() == Some(hash));
        same && reached.led.iter().all(|led| self.leads(led, resolvers).as_ref() == Some(&led.to))
    }

    fn leads(&self, led: &ResolvedImport, resolvers: &Resolvers) -> Option<String> {
        let asked = (led.from.clone(), led.specifier.clone(), led.required);
        if let Some(known) = self.led.lock().ok().and_then(|l| l.get(&asked).cloned()) {
            return known;
        }
        let importing = if led.required { Importing::CommonJs } else { Importing::Module };
        let to = resolvers.resolve(&led.from, &led.specifier, importing).ok();
        if let Ok(mut known) = self.led.lock() {
            known.insert(asked, to.clone());
        }
        to
    }

    /// Keeps what was found. What could not be judged is tried again each time: a limit may not be met twice. So is what asked for more
    /// around it: the parent or the provider may be there the next time.
    pub(crate) fn put(&self, job: &Job, held: Option<ContractSource<'_>>, reached: Option<Dependencies>, judged: &Judged) {
        let Some(mut reached) = reached else { return };
        if judged.component.verdict == Verdict::Unjudged || judged.misses {
            return;
        }
        // How its application starts was read and not loaded.
        let read = judged.tried.iter().map(|file| file.to_string_lossy().into_owned());
        reached.files.extend(read.filter_map(|file| Some((self.hash(&file)?, file))).map(|(hash, file)| (file, hash)));
        let key = self.key(job, held);
        let Judged { component, faults, used, carried, .. } = judged.clone();
        let entry = Entry { reached, component, faults, used, carried };
        if let Some(gallery) = &judged.gallery
            && let Ok(json) = serde_json::to_vec(gallery)
        {
            self.cache.put(&pictures(&key), &json);
        }
        if let Ok(json) = serde_json::to_vec(&entry) {
            self.cache.put(&key, &json);
        }
    }

    fn hash(&self, file: &str) -> Option<String> {
        if let Some(known) = self.hashes.lock().ok().and_then(|h| h.get(file).cloned()) {
            return known;
        }
        let hash = bytes_of(file.as_ref()).ok().map(|bytes| Cache::hash(&bytes));
        if let Ok(mut hashes) = self.hashes.lock() {
            hashes.insert(file.to_owned(), hash.clone());
        }
        hash
    }
}

fn pictures(key: &str) -> String {
    Cache::key(&[b"pictures", key.as_bytes()])
}

/// What tells one build of this program from another.
pub(crate) fn program() -> String {
    let built = std::env::current_exe().and_then(std::fs::metadata).map(|m| {
        let changed = m.modified().ok().and_then(|t| t.duration_since(std::time::UNIX_EPOCH).ok()).unwrap_or_default();
        format!("{} {}", m.len(), changed.as_nanos())
    });
    format!("{} {}", env!("CARGO_PKG_VERSION"), built.unwrap_or_default())
}

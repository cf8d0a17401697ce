//! `fidelon.toml`: what holds for whole folders of a project.

use std::path::{Path, PathBuf};
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};

use fidelon_core::contract::{Exemption, Fault};
use fidelon_core::judge::laws;
use fidelon_core::results::FileFault;
use fidelon_source::Span;
use serde::Deserialize;
use toml::Spanned;

use crate::survey::{in_file, shown, tidy};

/// The name of the file.
pub const FILE: &str = "fidelon.toml";

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
struct Written {
    #[serde(default)]
    exempt: Vec<WrittenExemption>,
}

#[derive(Debug, Deserialize)]
#[serde(deny_unknown_fields)]
struct WrittenExemption {
    law: Spanned<String>,
    #[serde(rename = "in")]
    folder: Spanned<String>,
    because: Spanned<String>,
    #[serde(default)]
    except: Vec<String>,
}

/// A law that does not hold in a folder.
#[derive(Debug)]
pub struct FolderExemption {
    /// The folder or file.
    folder: PathBuf,
    /// As it is written.
    pub shown: String,
    /// What is exempted and why.
    pub exemption: Exemption,
    /// Whether it exempted anything in this run.
    used: AtomicBool,
}

impl FolderExemption {
    /// Takes note that it exempts something.
    pub fn mark(&self) {
        self.used.store(true, Ordering::Relaxed);
    }

    /// Whether it exempted anything.
    pub fn is_used(&self) -> bool {
        self.used.load(Ordering::Relaxed)
    }

    /// Whether a file lies in its folder.
    pub fn covers(&self, file: &Path) -> bool {
        file.starts_with(&self.folder)
    }
}

/// What a project's file says.
#[derive(Debug, Default)]
pub struct Settings {
    /// Laws that do not hold in folders, in the order of the file.
    pub exemptions: Vec<Arc<FolderExemption>>,
    /// What is wrong with the file.
    pub faults: Vec<FileFault>,
}

/// Reads the file of the root, or the nearest one above it; no file is no fault.
pub fn read(root: &Path) -> Settings {
    let found = root.ancestors().map(|folder| folder.join(FILE)).find(|file| file.is_file());
    let Some(path) = found else { return Settings::default() };
    let shown = shown(&path, root);
    let folder = path.parent().unwrap_or(root);
    match std::fs::read_to_string(&path) {
        Ok(text) => parse(&text, &shown, folder),
        Err(error) => {
            let fault = in_file(&shown, "", Fault::new(Span { start: 0, end: 0 }, format!("it cannot be read: {error}")));
            Settings { faults: vec![fault], ..Settings::default() }
        }
    }
}

fn parse(text: &str, file: &str, folder: &Path) -> Settings {
    let written: Written = match toml::from_str(text) {
        Ok(written) => written,
        Err(error) => {
            let at = error.span().unwrap_or(0..0);
            let fault = Fault::new(Span { start: at.start, end: at.end }, error.message().trim().to_owned())
                .help("write `[[exempt]]` with `law`, `in` and `because`: `fidelon explain prop/live` shows one");
            return Settings { faults: vec![in_file(file, text, fault)], ..Settings::default() };
        }
    };
    let mut out = Settings::default();
    for one in written.exempt {
        let span = |of: &Spanned<String>| Span { start: of.span().start, end: of.span().end };
        let mut wrong = |fault: Fault| out.faults.push(in_file(file, text, fault));
        let names: Vec<&str> = laws::names().collect();
        let law = one.law.get_ref().clone();
        let place = tidy(&folder.join(one.folder.get_ref()));
        if !names.contains(&law.as_str()) {
            wrong(Fault::unknown(span(&one.law), "law", &law, &names));
        } else if one.because.get_ref().trim().is_empty() {
            wrong(Fault::new(span(&one.because), format!("`because` is empty: why does `{law}` not hold there?")));
        } else if !place.starts_with(folder) {
            wrong(Fault::new(span(&one.folder), "it lies outside the folder of this file"));
        } else if !place.exists() {
            wrong(Fault::new(span(&one.folder), "there is no such file or folder beside this file"));
        } else {
            let exemption = Exemption { law, except: one.except, because: one.because.get_ref().clone(), span: span(&one.law) };
            let shown = one.folder.into_inner();
            out.exemptions.push(Arc::new(FolderExemption { folder: place, shown, exemption, used: AtomicBool::new(false) }));
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn faults_are_told_with_their_place() {
        let folder = tempfile::tempdir().expect("made");
        std::fs::create_dir(folder.path().join("legacy")).expect("made");
        let told = |text: &str| {
            let read = parse(text, FILE, folder.path());
            (read.exemptions.len(), read.faults.iter().map(|f| format!("{} {}", f.place, f.fault.message)).collect::<Vec<_>>())
        };
        let good = "[[exempt]]\nlaw = \"prop/live\"\nin = \"legacy\"\nbecause = \"old\"\n";
        assert_eq!(told(good), (1, Vec::new()));
        let read = parse(good, FILE, folder.path());
        assert!(
            read.exemptions[0].covers(&folder.path().join("legacy/Dial.vue"))
                && !read.exemptions[0].covers(&folder.path().join("new/Dial.vue"))
        );
        let (count, faults) = told(&good.replace("prop/live", "prop/life"));
        assert!(count == 0 && faults[0].starts_with("fidelon.toml:2:7 ") && faults[0].contains("prop/life"), "{faults:?}");
        let (_, faults) = told(&good.replace("legacy", "../.."));
        assert!(faults[0].contains("outside"), "{faults:?}");
        let (_, faults) = told(&good.replace("legacy", "gone"));
        assert!(faults[0].starts_with("fidelon.toml:3:6 "), "{faults:?}");
        let (_, faults) = told(&good.replace("because = \"old\"\n", ""));
        assert!(faults[0].contains("because"), "{faults:?}");
        let (_, faults) = told("exempt = 1");
        assert_eq!(faults.len(), 1, "{faults:?}");
        assert_eq!(told(""), (0, Vec::new()));
    }
}

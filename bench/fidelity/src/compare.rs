//! One component on both stages.

use std::path::Path;
use std::time::Duration;

use fidelon_browser::{Browser, DriverChoice};
use fidelon_core::judge::agreement::{Aspect, Disagreement, disagreement};
use fidelon_core::observation::{Observation, Tone};
use fidelon_core::stage::Stage;
use fidelon_loader::{Aliases, Cache};
use fidelon_stage::{Apart, Limits, Options};
use serde_json::{Value as Json, json};

use crate::corpus::{Component, Corpus};

/// How long one call may take.
const DEADLINE: Duration = Duration::from_secs(20);

/// Both stages.
pub struct Stages {
    embedded: Apart,
    browser: Browser,
}

/// What came of a component.
#[derive(Debug)]
pub enum Outcome {
    /// No difference.
    Same,
    /// The first difference.
    Differs {
        /// What is missing or wrong, in words that components share.
        cause: String,
        /// The difference.
        difference: Json,
    },
}

impl Outcome {
    /// Whether there is no difference.
    pub fn is_same(&self) -> bool {
        matches!(self, Self::Same)
    }

    /// As it is written to a file.
    pub fn record(&self, corpus: &str, name: &str) -> Json {
        match self {
            Self::Same => json!({ "corpus": corpus, "name": name, "same": true }),
            Self::Differs { cause, difference } => {
                json!({ "corpus": corpus, "name": name, "same": false, "cause": cause, "difference": difference })
            }
        }
    }
}

fn differs(cause: impl Into<String>, difference: Json) -> Outcome {
    Outcome::Differs { cause: cause.into(), difference }
}

impl Stages {
    /// Both stages for the project in a folder.
    pub fn new(root: &Path) -> Self {
        let cache = Cache::at(root.join("node_modules/.cache/fidelon"));
        let limits = Limits { deadline: DEADLINE, ..Limits::default() };
        Self {
            embedded: Apart::on_thread(Options { root: root.to_path_buf(), cache: cache.clone(), aliases: Aliases::default(), limits }),
            browser: Browser::new(fidelon_browser::Options {
                root: root.to_path_buf(),
                cache,
                aliases: Aliases::default(),
                deadline: DEADLINE,
                driver: DriverChoice::Found,
                real: false,
            }),
        }
    }

    /// Plays a component on both and gives the first difference.
    pub fn compare(&mut self, corpus: &Corpus, component: &Component) -> Outcome {
        let (scene, scripts) = match component.scene(&corpus.root).and_then(|scene| Ok((scene, component.scripts()?))) {
            Ok(both) => both,
            Err(error) => return differs(format!("it cannot be played: {error}"), Json::Null),
        };
        if let Err(error) = self.browser.open(&scene) {
            return differs(format!("the browser cannot open it: {}", short(&error.to_string())), json!(error.to_string()));
        }
        if let Err(error) = self.embedded.open(&scene) {
            return differs(short(&error.to_string()), json!(error.to_string()));
        }
        for (i, script) in scripts.iter().enumerate() {
            let there = match self.browser.play(script) {
                Ok(seen) => seen,
                Err(error) => {
                    return differs(format!("the browser cannot play it: {}", short(&error.to_string())), json!(error.to_string()));
                }
            };
            let here = match self.embedded.play(script) {
                Ok(seen) => seen,
                Err(error) => return differs(short(&error.to_string()), json!(error.to_string())),
            };
            if let Some(difference) = disagreement(&here, &there) {
                let cause = cause(&difference, &here, &there);
                let told = json!({
                    "script": i, "phase": difference.phase, "aspect": format!("{:?}", difference.aspect).to_lowercase(),
                    "embedded": difference.first, "browser": difference.second, "lines": difference.diff,
                });
                return differs(cause, told);
            }
        }
        Outcome::Same
    }
}

/// The first line, without what differs from file to file.
fn short(text: &str) -> String {
    let line = text.lines().next().unwrap_or_default();
    line.split_whitespace().map(|w| if w.contains('/') { "…" } else { w }).collect::<Vec<_>>().join(" ").chars().take(140).collect()
}

/// What makes the difference, as far as it shows.
fn cause(difference: &Disagreement, here: &Observation, there: &Observation) -> String {
    let failed = |o: &Observation| {
        let notes = o.phases.iter().take(difference.phase + 1).flat_map(|p| &p.notes);
        notes.filter(|n| n.tone == Tone::Failed || n.text.contains("Error:")).map(|n| n.text.clone()).collect::<Vec<_>>()
    };
    let (ours, theirs) = (failed(here), failed(there));
    if ours.len() > theirs.len()
        && let Some(first) = ours.first()
    {
        return short(first);
    }
    if theirs.len() > ours.len()
        && let Some(first) = theirs.first()
    {
        return format!("in the browser alone: {}", short(first));
    }
    match difference.aspect {
        Aspect::Document => document_cause(&difference.diff),
        aspect => format!("{aspect:?}").to_lowercase() + " differ",
    }
}

/// Which part of the document differs first.
fn document_cause(lines: &[String]) -> String {
    let first = |sign: char| lines.iter().find(|l| l.starts_with(sign)).map(|l| l[1..].trim().to_owned());
    let (Some(there), Some(here)) = (first('-'), first('+')) else {
        let only = lines.iter().find(|l| l.starts_with(['-', '+'])).map(|l| (l.starts_with('-'), l[1..].trim().to_owned()));
        return match only {
            Some((true, line)) => format!("missing: {}", head(&line)),
            Some((false, line)) => format!("too much: {}", head(&line)),
            None => "the document differs".into(),
        };
    };
    if head(&there) != head(&here) {
        return format!("{} where {} should be", head(&here), head(&there));
    }
    let (a, b) = (attributes(&there), attributes(&here));
    let differing = a
        .iter()
        .find(|(k, v)| b.iter().find(|(n, _)| n == k).is_none_or(|(_, w)| w != v))
        .or(b.iter().find(|(k, _)| a.iter().all(|(n, _)| n != k)));
    match differing {
        Some((name, _)) if name == "style" => {
            let of = |list: &[(String, String)]| list.iter().find(|(n, _)| n == "style").map(|(_, v)| v.clone()).unwrap_or_default();
            let (a, b) = (of(&a), of(&b));
            let parts = |text: &str| text.split(';').map(|d| d.trim().to_owned()).filter(|d| !d.is_empty()).collect::<Vec<_>>();
            let (a, b) = (parts(&a), parts(&b));
            let property = a.iter().find(|d| !b.contains(d)).or(b.iter().find(|d| !a.contains(d)));
            format!("style {}", property.and_then(|d| d.split(':').next()).unwrap_or("in another order"))
        }
        Some((name, _)) => format!("attribute {name}"),
        None => format!("text in {}", head(&there)),
    }
}

fn head(line: &str) -> String {
    if line.starts_with('<') { line.split([' ', '>']).next().unwrap_or_default().to_owned() + ">" } else { "text".into() }
}

/// The attributes of a start tag, as the normal form writes it.
fn attributes(line: &str) -> Vec<(String, String)> {
    let tag = line.split_once('>').map_or(line, |(tag, _)| tag);
    let mut out = Vec::new();
    for part in tag.split("\" ") {
        let part = if part.starts_with('<') { part.split_once(' ').map_or("", |(_, rest)| rest) } else { part };
        if let Some((name, value)) = part.split_once("=\"") {
            out.push((name.trim().to_owned(), value.trim_end_matches('"').to_owned()));
        }
    }
    out
}

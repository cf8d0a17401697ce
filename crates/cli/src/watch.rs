//! `fidelon watch`

use std::collections::{BTreeMap, BTreeSet};
use std::path::{Path, PathBuf};
use std::sync::mpsc::{Receiver, channel};
use std::time::Instant;

use fidelon_core::Verdict;
use fidelon_core::results::{Component, FileFault, Results};
use fidelon_report::{Style, terminal};
use fidelon_run::watching::{Watching, Woken};
use fidelon_run::{JudgeOptions, Outcome, Realms, ReplayTarget, Request, accept, check, replay, warm};

use crate::args::{Common, Watch};
use crate::keys::{self, Key};
use crate::{exit, setting};

/// Runs the command until it is ended.
pub fn run(args: &Watch, common: &Common) -> anyhow::Result<i32> {
    let root = setting::root()?;
    let paths = if args.paths.is_empty() { vec![PathBuf::from(".")] } else { args.paths.clone() };
    // Stages live as long as the settings that they were made with.
    let stage = std::cell::RefCell::new(setting::stage(&root, &args.stages, common).pooled());
    let request = || {
        let now = setting::stage(&root, &args.stages, common);
        if now.common.aliases != stage.borrow().common.aliases {
            *stage.borrow_mut() = now.pooled();
        }
        Request::new(root.clone(), paths.clone(), stage.borrow().clone())
    };
    // A path that is not there is told before anything is watched.
    fidelon_run::survey::survey(&root, &paths, &setting::cache(common))?;
    let (tell, woken) = channel();
    Watching::start(&root).map_err(anyhow::Error::msg)?.into_channel(tell.clone());
    let restore = keys::listen(tell);
    let mut watch = Watcher {
        root: root.clone(),
        style: setting::style(common),
        shown: BTreeMap::new(),
        faults: Vec::new(),
        filter: String::new(),
        last: None,
    };
    watch.look(&request(), None);
    warm(&request());
    let code = watch.follow(&woken, &request);
    drop(restore);
    Ok(code)
}

/// What is known so far.
struct Watcher {
    root: PathBuf,
    style: Style,
    /// What was told of each component.
    shown: BTreeMap<String, Component>,
    faults: Vec<FileFault>,
    filter: String,
    last: Option<Results>,
}

impl Watcher {
    fn follow(&mut self, woken: &Receiver<Woken<Key>>, request: &dyn Fn() -> Request) -> i32 {
        while let Ok(what) = woken.recv() {
            match what {
                Woken::Changed(files) => self.look(&request(), Some(&files)),
                Woken::Told(Key::Plain('q')) => return exit::HOLDS,
                Woken::Told(Key::Plain('\n')) => {
                    self.shown.clear();
                    self.look(&Request { anew: true, ..request() }, None);
                }
                Woken::Told(Key::Plain('a')) => self.accept(&request()),
                Woken::Told(Key::Plain('r')) => self.replay(&request()),
                Woken::Told(Key::Filter(words)) => {
                    self.filter = words;
                    self.shown.clear();
                    self.look(&request(), None);
                }
                Woken::Told(Key::Plain(_)) => self.say(KEYS),
            }
        }
        exit::HOLDS
    }

    fn say(&self, text: &str) {
        setting::print(&format!("{}\n", self.style.quiet(text)));
    }

    /// Checks, and tells what is another than before.
    fn look(&mut self, request: &Request, files: Option<&BTreeSet<PathBuf>>) {
        let began = Instant::now();
        if let Some(files) = files {
            let names: Vec<String> = files.iter().take(3).map(|f| f.strip_prefix(&self.root).unwrap_or(f).display().to_string()).collect();
            let more = if files.len() > 3 { format!(" and {} more", files.len() - 3) } else { String::new() };
            self.say(&format!("\n── {}{more}", names.join(", ")));
            // The first verdict comes from a few combinations; what it finds counts, what it does not is looked for below.
            let quick = Request { how: JudgeOptions { glance: true, ..request.how }, ..request.clone() };
            if self.tell(check(&quick, &|_| {}), began, true) {
                return;
            }
        }
        self.tell(check(request, &|_| {}), began, false);
    }

    /// Tells what changed; true when there is no more to be found out.
    fn tell(&mut self, outcome: Result<Outcome, fidelon_run::survey::SurveyError>, began: Instant, is_quick: bool) -> bool {
        let outcome = match outcome {
            Ok(outcome) => outcome,
            Err(error) => {
                setting::print(&format!("{} {error}\n", self.style.open("?")));
                return true;
            }
        };
        let judged = outcome.results.components.len() - outcome.kept;
        let words: Vec<String> = self.filter.to_lowercase().split_whitespace().map(str::to_owned).collect();
        let matches = |c: &&Component| words.iter().all(|w| c.component.to_lowercase().contains(w));
        let now: Vec<&Component> = outcome.results.components.iter().filter(matches).collect();
        let fresh = |c: &&&Component| self.shown.get(&c.component).is_none_or(|before| differs(before, c));
        let told: Vec<Component> = now.iter().filter(fresh).map(|c| (*c).clone()).collect();
        let gone: Vec<String> = self.shown.keys().filter(|name| now.iter().all(|c| c.component != **name)).cloned().collect();
        let mended = !self.faults.is_empty() && outcome.results.faults.is_empty();
        let faults: Vec<FileFault> = outcome.results.faults.iter().filter(|f| !self.faults.contains(f)).cloned().collect();
        let read = |file: &str| std::fs::read_to_string(self.root.join(file)).ok();
        let took = format!("{} ms", began.elapsed().as_millis());
        setting::print(&terminal::changes_told(&told, &faults, &gone, self.style, &read));
        if mended {
            setting::print(&format!("{}\n", self.style.good("✓ no file has a fault any more")));
        }
        let all = &outcome.results;
        let t = &all.totals;
        let holding = t.components - t.broken - t.unjudged;
        if is_quick && judged > 0 {
            self.say(&format!("a first look, {took}: {judged} judged; going on"));
        } else {
            let filter = if self.filter.is_empty() { String::new() } else { format!(" · shown: {}", self.filter) };
            let hold = if holding == 1 { "holds" } else { "hold" };
            self.say(&format!("{holding} {hold}, {} broken, {} unjudged · {took}{filter} · {KEYS}", t.broken, t.unjudged));
        }
        for name in gone {
            self.shown.remove(&name);
        }
        self.shown.extend(now.into_iter().map(|c| (c.component.clone(), c.clone())));
        self.faults.clone_from(&outcome.results.faults);
        self.last = Some(outcome.results);
        judged == 0
    }

    /// Accepts what is broken only in that it is another than was accepted.
    fn accept(&mut self, request: &Request) {
        let compared = |c: &&Component| c.baseline.as_ref().is_some_and(|b| b.verdict == Verdict::Broken);
        let results = self.last.iter().flat_map(|r| r.components.iter().filter(compared));
        let paths: Vec<PathBuf> = results.map(|c| PathBuf::from(c.component.split('#').next().unwrap_or_default())).collect();
        if paths.is_empty() {
            return self.say("no accepted output has changed");
        }
        let request = Request { paths, how: JudgeOptions { realms: Realms::Fresh, ..JudgeOptions::default() }, ..request.clone() };
        match accept(&request, true) {
            Err(error) => setting::print(&format!("{} {error}\n", self.style.open("?"))),
            Ok((records, _)) => {
                for record in records {
                    let written = record
                        .text
                        .clone()
                        .and_then(|text| setting::write_whole(&self.root.join(&record.file), &text).map_err(|e| format!("{e:#}")));
                    match written {
                        Ok(()) => setting::print(&format!("{} {} accepted\n", self.style.good("✓"), record.file)),
                        Err(why) => setting::print(&format!("{} {} not accepted: {why}\n", self.style.open("?"), record.component)),
                    }
                }
            }
        }
    }

    fn replay(&self, request: &Request) {
        let first = self.last.iter().flat_map(|r| &r.components).flat_map(|c| c.findings.iter().map(move |f| (c, f))).next();
        let Some((component, finding)) = first else { return self.say("nothing breaks") };
        let file = component.component.split('#').next().unwrap_or_default();
        let request = Request { paths: vec![Path::new(file).to_path_buf()], workers: 1, ..request.clone() };
        match replay(&request, ReplayTarget { case: &finding.case, clause: None }) {
            Ok(replay) => drop(crate::replay::print(&replay, self.style)),
            Err(error) => setting::print(&format!("{} {error}\n", self.style.open("?"))),
        }
    }
}

const KEYS: &str = "Enter all anew, f filter, a accept, r replay, q end";

/// Whether there is anything to be told of a component that was told before: a quick look counts fewer cases, which says nothing.
fn differs(before: &Component, now: &Component) -> bool {
    let findings = |c: &Component| c.findings.iter().map(|f| (f.rule.clone(), f.cause.clone(), f.failure.clone())).collect::<Vec<_>>();
    before.verdict != now.verdict || before.reason != now.reason || findings(before) != findings(now)
}

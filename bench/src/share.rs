//! What share of a case is spent in our own code rather than in the framework's.

use std::time::{Duration, Instant};

use anyhow::{Context, Result, anyhow};
use fidelon_core::stage::{Mounting, Script, Stage as _};
use fidelon_core::surface::Surface;
use fidelon_engine::{EngineError, Realm};
use fidelon_stage::Embedded;
use serde_json::json;

/// So many combinations, each so many times: fewer cases in all than a realm lasts.
const FEW: usize = 24;
const TIMES: u32 = 10;

fn wrong(error: EngineError) -> anyhow::Error {
    anyhow!("{error}")
}

/// Prints the parts of a case in hundredths of its time; `which` names the calls that take most, too.
pub fn figures(stage: &mut Embedded, surface: &Surface, scripts: &[Script], which: bool) -> Result<()> {
    let few: Vec<&Script> = scripts.iter().take(FEW).collect();
    let play = |stage: &mut Embedded, script: &Script| stage.play(script).map(drop).map_err(|e| anyhow!("{e}"));
    for script in &few {
        play(stage, script)?;
    }
    // As they come in a run, one after the other.
    let (before, began) = (stage.spent(), Instant::now());
    for _ in 0..TIMES {
        for script in &few {
            play(stage, script)?;
        }
    }
    let spent = stage.spent();
    let cases = TIMES * u32::try_from(few.len())?;
    let total = (began.elapsed() - (spent.start - before.start)) / cases;
    let (reset, reading) = ((spent.reset - before.reset) / cases, (spent.observe - before.observe) / cases);

    let realm = stage.realm().context("a component is on the stage")?;
    super::clock(realm)?;
    realm.eval(include_str!("../js/record.js")).map_err(wrong)?;
    realm.eval_promise(&idle(surface)).map_err(wrong)?;
    // A reset would take them off: they belong to what is kept.
    realm.keep().map_err(wrong)?;
    let (mut own, mut session) = (Duration::ZERO, Duration::ZERO);
    for _ in 0..TIMES {
        for script in &few {
            play(stage, script)?;
            let realm = stage.realm().context("a component is on the stage")?;
            // The first frees what the case has left; the second finds nothing to free.
            realm.reset(1).map_err(wrong)?;
            let began = Instant::now();
            realm.reset(1).map_err(wrong)?;
            own += began.elapsed();
            session += idling(realm, script)?;
        }
    }
    let (own, session) = (own / cases, session / cases);

    // The session's own calls are part of what it takes.
    let (mut calls, mut its_own) = (Calls::default(), Calls::default());
    for script in &few {
        let realm = stage.realm().context("a component is on the stage")?;
        realm.call("__record", "start", "").map_err(wrong)?;
        play(stage, script)?;
        let realm = stage.realm().context("a component is on the stage")?;
        calls.add(realm, which)?;
        realm.call("__record", "start", "").map_err(wrong)?;
        idling(realm, script)?;
        its_own.add(realm, false)?;
    }
    let of = |part: f64| 100.0 * part / total.as_secs_f64();
    let each = few.len() as f64;
    calls.kinds.sort_by(|_, a, _, b| b.1.total_cmp(&a.1));
    for (name, (count, took)) in calls.kinds.iter().take(25) {
        println!("  {:5.2} %  {:6.1} times  {name}", of(took / each), count / each);
    }
    let (page, reading, own, session) =
        ((calls.took - its_own.took) / each, reading.as_secs_f64(), own.min(reset).as_secs_f64(), session.as_secs_f64());
    println!(
        "  {} combinations, {:.3} ms a case, {:.0} calls to the page",
        few.len(),
        1000.0 * total.as_secs_f64(),
        (calls.count - its_own.count) / each
    );
    println!("  the page's interfaces                {:5.1} %", of(page));
    println!("  reading what is to be seen           {:5.1} %", of(reading));
    println!("  the reset                            {:5.1} %", of(own));
    println!("  not the framework's own code         {:5.1} %", of(page + reading + own));
    println!("  the session, as the parent           {:5.1} %", of(session));
    println!("  freeing what the framework has left  {:5.1} %", of(reset.as_secs_f64() - own));
    println!("  as many calls that do nothing        {:5.1} %", of((calls.empty - its_own.empty) / each));
    Ok(())
}

/// What was recorded: how many calls, how many seconds they take, and as many that do nothing.
#[derive(Default)]
struct Calls {
    count: f64,
    took: f64,
    empty: f64,
    kinds: indexmap::IndexMap<String, (f64, f64)>,
}

impl Calls {
    /// Ends a recording, and plays what was recorded again without the component.
    fn add(&mut self, realm: &Realm, which: bool) -> Result<()> {
        self.count += realm.call("__record", "stop", "").map_err(wrong)?.parse::<f64>()?;
        let again = realm.call("__record", "again", "5").map_err(wrong)?;
        let (took, nothing) = again.split_once('\t').context("two times")?;
        let (took, nothing) = (took.parse::<f64>()? / 1e9, nothing.parse::<f64>()? / 1e9);
        self.took += took - nothing;
        self.empty += nothing;
        let kinds = if which { realm.call("__record", "kinds", "").map_err(wrong)? } else { String::new() };
        for line in kinds.lines() {
            let parts: Vec<&str> = line.split('\t').collect();
            let [name, count, took] = parts[..] else { continue };
            let kind = self.kinds.entry(name.to_owned()).or_insert((0.0, 0.0));
            *kind = (kind.0 + count.parse::<f64>()?, kind.1 + took.parse::<f64>()? / 1e9);
        }
        Ok(())
    }
}

/// A session over the same surface, in which a component that does nothing is mounted.
fn idle(surface: &Surface) -> String {
    let (props, events, slots) = (json!(surface.props), json!(surface.events), json!(surface.slots));
    format!(
        "import('stage:session').then(({{ open }}) => {{ \
            const nothing = {{ update() {{}}, fill() {{}}, reach: () => null, remove() {{}} }}; \
            globalThis.__idle = open({{ state: false, wires: [], values: {{}}, parts: [{{ name: '', component: null, adapter: {{ mount: () => nothing }}, \
                surface: {{ props: {props}, events: {events}, slots: {slots}, exposes: [] }}, props: {{}}, fills: {{}}, wrap: [], uses: {{}}, wantsRef: true }}] }}); \
        }})"
    )
}

/// What the session itself takes to mount, to come to rest and to end.
fn idling(realm: &Realm, script: &Script) -> Result<Duration> {
    let request = serde_json::to_string(&Mounting::of(script))?;
    let began = Instant::now();
    realm.call("__idle", "mount", &request).map_err(wrong)?;
    realm.settle(50.0).map_err(wrong)?;
    realm.call("__idle", "end", "").map_err(wrong)?;
    realm.settle(50.0).map_err(wrong)?;
    Ok(began.elapsed())
}

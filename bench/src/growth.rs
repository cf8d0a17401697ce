//! How costs grow with the number of elements: the exponent of each, from runs of 1,000 to 8,000.

use std::path::Path;
use std::time::{Duration, Instant};

use anyhow::{Context, Result, anyhow, bail};
use fidelon_browser::{Browser, DriverChoice, Options as BrowserOptions};
use fidelon_core::judge::equivalence;
use fidelon_core::observation::Observation;
use fidelon_core::scene::Scene;
use fidelon_core::stage::{Combination, Environment, Parent, Script, Stage, Step};
use fidelon_core::surface::{Framework, Prop, Surface, Type};
use fidelon_core::value::Value;
use fidelon_loader::{Aliases, Cache};
use fidelon_stage::{Embedded, Limits, Options};

/// So many elements, one after the other.
const SIZES: [usize; 4] = [1_000, 2_000, 4_000, 8_000];
/// Each is played so often; the quickest counts.
const TIMES: usize = 3;
/// What takes a few milliseconds is measured so often: whether its memory is fresh from the system decides how long it takes.
const TIMES_SHORT: usize = 15;
/// Steeper than this is a fault: a little more than in proportion, for what the machine's caches cost.
const STEEPEST: f64 = 1.2;
/// While something is too steep all is measured again, so often at most, and the quickest of each figure counts: other programs make
/// single figures longer, never shorter, and a cost that really grows too steeply stays too steep however often it is measured.
const ROUNDS: usize = 20;

/// An element that shows so many rows, in the ways in which scripts make and walk them.
const SOURCE: &str = "class GrowthRows extends HTMLElement {\n  static observedAttributes = ['rows', 'word']\n  connectedCallback() { this.show() }\n  \
    attributeChangedCallback(name) {\n    if (!this.isConnected) return\n    if (name === 'rows') return this.show()\n    \
    for (const row of this.children) row.firstElementChild.textContent = this.getAttribute('word')\n  }\n  show() {\n    const rows = Number(this.getAttribute('rows') ?? 0) / 2\n    \
    this.innerHTML = Array.from({ length: rows }, (_, i) => `<p id=\"row-${i}\" class=\"row\"><b>${i}</b></p>`).join('')\n    \
    for (let i = 0; i < this.children.length; i++) this.children[i].title = 'row ' + i\n  }\n}\ncustomElements.define('growth-rows', GrowthRows)\n";

/// What is measured of one size.
#[derive(Debug, Clone, Copy)]
struct Costs {
    mount: Duration,
    /// A mount and an update: what the update takes is the difference, made of the quickest of both.
    updated: Duration,
    snapshot: Duration,
    judge: Duration,
    browser: Option<Duration>,
}

impl Costs {
    /// The quicker of both, figure by figure.
    fn quickest(self, other: Self) -> Self {
        Self {
            mount: self.mount.min(other.mount),
            updated: self.updated.min(other.updated),
            snapshot: self.snapshot.min(other.snapshot),
            judge: self.judge.min(other.judge),
            browser: self.browser.zip(other.browser).map(|(a, b)| a.min(b)),
        }
    }
}

fn script(rows: usize) -> Script {
    let props = [("rows".to_owned(), Value::json(rows)), ("word".to_owned(), Value::json("mug"))].into_iter().collect();
    let pass = Step::Pass { props: [("word".to_owned(), Value::json("bowl"))].into_iter().collect() };
    Script {
        combination: Combination { props, ..Combination::default() },
        parent: Parent::Obeys,
        phases: vec![vec![pass]],
        seed: 1,
        surroundings: Environment::default(),
    }
}

fn surface() -> Surface {
    let mut surface = Surface::new("growth-rows", "growth-rows.js", "growth-rows", Framework::Element);
    surface.props = vec![Prop::new("rows", Type::Number), Prop::new("word", Type::String)];
    surface
}

/// The quickest of a few.
fn timed<T>(times: usize, mut work: impl FnMut() -> Result<T>) -> Result<(Duration, T)> {
    let mut best: Option<(Duration, T)> = None;
    for _ in 0..times {
        let began = Instant::now();
        let out = work()?;
        let took = began.elapsed();
        if best.as_ref().is_none_or(|(b, _)| took < *b) {
            best = Some((took, out));
        }
    }
    best.context("nothing was played")
}

fn played(stage: &mut dyn Stage, script: &Script) -> Result<Observation> {
    stage.play(script).map_err(|e| anyhow!("{e}"))
}

fn costs(stage: &mut Embedded, browser: Option<&mut Browser>, rows: usize) -> Result<Costs> {
    let (whole, plain) = (script(rows), Script { phases: Vec::new(), ..script(rows) });
    played(stage, &whole)?;
    let mut split = |script: &Script| -> Result<(Duration, Duration, Observation)> {
        let mut best: Option<(Duration, Duration, Observation)> = None;
        for _ in 0..TIMES {
            let before = stage.spent();
            let seen = played(stage, script)?;
            let after = stage.spent();
            let (play, observe) = (after.play - before.play, after.observe - before.observe);
            if best.as_ref().is_none_or(|(p, o, _)| play + observe < *p + *o) {
                best = Some((play, observe, seen));
            }
        }
        best.context("nothing was played")
    };
    let (mount, snapshot, _) = split(&plain)?;
    let (updated, _, seen) = split(&whole)?;
    let last = seen.phases.last().context("it has phases")?;
    if last.tree.descendants(fidelon_dom::Document::ROOT).count() < rows {
        bail!("{rows} elements were to be there");
    }
    let (judge, _) = timed(TIMES_SHORT, || {
        // A copy has no forms yet, as what was just seen has none.
        let seen = fidelon_core::observation::PhaseSnapshot::clone(last);
        Ok(equivalence::observable(&seen).len() + equivalence::normal(&seen).len())
    })?;
    let browser = browser.map(|browser| timed(TIMES, || played(browser, &plain)).map(|(took, _)| took)).transpose()?;
    Ok(Costs { mount, updated, snapshot, judge, browser })
}

/// The slope of a line through the logarithms.
fn exponent(times: &[Duration]) -> f64 {
    let points: Vec<(f64, f64)> = SIZES.iter().zip(times).map(|(n, t)| ((*n as f64).ln(), t.as_secs_f64().max(1e-6).ln())).collect();
    let count = points.len() as f64;
    let (x, y) = (points.iter().map(|p| p.0).sum::<f64>() / count, points.iter().map(|p| p.1).sum::<f64>() / count);
    let (over, under) = points.iter().fold((0.0, 0.0), |(o, u), p| (o + (p.0 - x) * (p.1 - y), u + (p.0 - x).powi(2)));
    over / under
}

/// Prints what each costs and its exponent.
///
/// # Errors
/// When one grows too steeply, or nothing can be played.
pub fn figures(with_browser: bool) -> Result<()> {
    let folder = tempfile::tempdir()?;
    let root = folder.path().canonicalize()?;
    std::fs::write(root.join("growth-rows.js"), SOURCE)?;
    let surface = surface();
    let limits = Limits { deadline: Duration::from_secs(60), ..Limits::default() };
    let mut stage = Embedded::new(Options { root: root.clone(), cache: Cache::none(), aliases: Aliases::default(), limits });
    let scene = Scene::alone(surface);
    stage.open(&scene).map_err(|e| anyhow!("{e}"))?;
    let mut browser = with_browser.then(|| browser(&root, limits));
    if let Some(browser) = &mut browser {
        browser.open(&scene).map_err(|e| anyhow!("{e}"))?;
    }
    let mut measure = || SIZES.iter().map(|n| costs(&mut stage, browser.as_mut(), *n)).collect::<Result<Vec<Costs>>>();
    let mut all = measure()?;
    let mut steep = printed(&all);
    for _ in 1..ROUNDS {
        if steep.is_empty() {
            return Ok(());
        }
        all = all.into_iter().zip(measure()?).map(|(before, now)| before.quickest(now)).collect();
        steep = printed(&all);
    }
    if steep.is_empty() {
        return Ok(());
    }
    bail!("{}; it should be at most {STEEPEST}", steep.join(", "))
}

/// One of the costs, where it was measured.
type Part = fn(&Costs) -> Option<Duration>;

/// Prints the figures; gives what grows too steeply.
fn printed(all: &[Costs]) -> Vec<String> {
    let kinds: [(&str, Part); 5] = [
        ("mount", |c| Some(c.mount)),
        ("update", |c| Some(c.updated.saturating_sub(c.mount))),
        ("snapshot", |c| Some(c.snapshot)),
        ("judge", |c| Some(c.judge)),
        ("browser, mount and snapshot", |c| c.browser),
    ];
    let mut steep = Vec::new();
    for (name, of) in kinds {
        let Some(times) = all.iter().map(of).collect::<Option<Vec<Duration>>>() else { continue };
        let listed: Vec<String> = times.iter().map(|t| format!("{:7.1}", t.as_secs_f64() * 1e3)).collect();
        let exponent = exponent(&times);
        println!("{name:28} {} ms   exponent {exponent:.2}", listed.join(" "));
        if exponent > STEEPEST {
            steep.push(format!("{name} grows with the power {exponent:.2}"));
        }
    }
    steep
}

fn browser(root: &Path, limits: Limits) -> Browser {
    Browser::new(BrowserOptions {
        root: root.to_path_buf(),
        cache: Cache::none(),
        aliases: Aliases::default(),
        deadline: limits.deadline,
        driver: DriverChoice::Found,
        real: false,
    })
}

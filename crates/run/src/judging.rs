//! One component: its plan, its runs, its verdict.

mod accepted;
mod alone;
mod application;
pub(crate) mod around;
mod broken;
mod budget;
mod by_clause;
mod by_law;
mod first_look;
mod left_out;
pub(crate) mod no_verdict;
pub(crate) mod parents;
mod state;

use std::cell::{Cell, RefCell};
use std::path::{Path, PathBuf};
use std::sync::Arc;

use fidelon_core::baseline::Baseline;
use fidelon_core::cause::{self, Explained};
use fidelon_core::contract::{self, Contract};
use fidelon_core::finding::{RuleKind, Verdict};
use fidelon_core::gallery::Gallery;
use fidelon_core::judge::clause::Standing;
use fidelon_core::judge::laws::{self, Checked, Effort, Runs as _};
use fidelon_core::results::{Compared, Component, Coverage, FileFault, Met, Reason, Rule};
use fidelon_core::scene::Scene;
use fidelon_core::stage::{Combination, Expressions, Stage, StageError};
use fidelon_core::surface::{ChildUse, Prop, Surface};
use fidelon_source::Place;

use self::accepted::{ACCEPTED, compared};
use self::application::ProjectApplication;
use self::around::Need;
use self::broken::{change_of, finding, rule};
use self::budget::Budget;
use self::left_out::Struck;
pub(crate) use self::no_verdict::faulty_judge;
use self::no_verdict::{faults_of, faulty, needed, no_plan, passed_in_part, reason, untold};
use crate::caching_runner::{CachingRunner, Realms};
use crate::gallery;
use crate::learning;
use crate::planning::{Planned, plan_of, plan_without};
use crate::settings::FolderExemption;
use crate::survey::{Job, baseline_file, in_file};

/// The contract that a component is held to.
#[derive(Debug, Clone, Copy)]
pub struct ContractSource<'a> {
    /// Its file.
    pub file: &'a str,
    /// Its text.
    pub text: &'a str,
    /// What changes with the files that it reads values from.
    pub beside: &'a str,
    /// What it says; none when it has faults.
    pub contract: Option<&'a Contract>,
    /// What could be read of one with faults.
    pub partial: Option<&'a Contract>,
}

/// A component's name in results: its file, and `#export` when that is not the default one.
pub fn name_of(surface: &Surface) -> String {
    if surface.export == "default" { surface.file.clone() } else { format!("{}#{}", surface.file, surface.export) }
}

/// Combinations that are played beyond the plan to explain one finding.
const MOST_ASKED: usize = 120;

/// What stands in the notes of a component whose module remembers earlier cases.
const CARRIED: &str =
    "its module keeps state from one case to the next: what broke after other cases was played again, each case in a realm of its own";

/// How a component is judged.
#[derive(Debug, Clone, Copy, Default)]
pub struct JudgeOptions {
    /// Whether cases share a realm.
    pub realms: Realms,
    /// How much is played for the laws.
    pub effort: Effort,
    /// Whether it is kept what the component looked like.
    pub pictures: bool,
    /// Whether a first look is enough: a few combinations, and no search for causes. What it finds is so; what it does not find may be.
    pub glance: bool,
    /// Whether the first promise that breaks is enough: no cause is looked for.
    pub once: bool,
}

/// What came of judging a component.
#[derive(Debug, Clone)]
pub struct Judged {
    /// Its results.
    pub component: Component,
    /// What is wrong with its contract.
    pub faults: Vec<FileFault>,
    /// What it looked like, where that was asked for and it could be played.
    pub gallery: Option<Gallery>,
    /// Which of the exemptions of its folder exempted something, by index into those of the job.
    pub used: Vec<usize>,
    /// Whether its module keeps state from one case to the next.
    pub carried: bool,
    /// What it was judged within, where it asked for more than was around it.
    pub within: Option<Scene>,
    /// Files that were read, and not loaded, to know what could be put around it.
    pub tried: Vec<PathBuf>,
    /// Whether it asked for more around it, and was judged without: any file of the project may bring that.
    pub misses: bool,
}

/// Judges one component. What is wrong with its contract comes beside the result.
///
/// Cases share a realm, which is brought back in between; what a module keeps in its own variables stays. So a failure is
/// believed only when a fresh realm shows it too; if one does not, the clause or law that broke is judged again with a realm
/// for each case.
pub fn judge(
    job: &Job,
    held: Option<ContractSource<'_>>,
    stage: &mut dyn Stage,
    other: Option<&mut dyn Stage>,
    engine: &mut dyn Expressions,
    how: JudgeOptions,
) -> Judged {
    let mut other = other;
    let mut beside = SideOutputs::default();
    let (mut component, mut gallery) = pass(job, held, stage, reborrow(&mut other), engine, how, &mut beside);
    // What asks for what is around it is judged within that, where the project has it and it can be played.
    let mut within = Job { scene: job.scene.clone(), ..job.clone() };
    while let Some(scene) = beside.next.take() {
        within.scene = scene;
        beside = SideOutputs::default();
        (component, gallery) = pass(&within, held, stage, reborrow(&mut other), engine, how, &mut beside);
    }
    let tried: Vec<String> = within.scene.start.iter().map(|started| started.file.clone()).collect();
    if within.scene != job.scene {
        if component.verdict == Verdict::Unjudged {
            // Told in the words of the component alone: what was put around it may need more than it does.
            let refused = around::refused(&job.scene, &within.scene, component.reason.as_ref());
            beside = SideOutputs { stands_alone: true, ..SideOutputs::default() };
            (component, gallery) = pass(job, held, stage, other, engine, how, &mut beside);
            component.notes.push(refused);
        } else {
            component.notes.insert(0, around::note(&job.scene, &within.scene));
        }
    }
    let carried = beside.carried.get();
    if carried {
        component.notes.insert(0, CARRIED.into());
    }
    let within = (within.scene != job.scene && !beside.stands_alone).then_some(within.scene);
    let tried = tried.into_iter().map(|file| job.root.join(file)).collect();
    let misses = beside.misses || beside.stands_alone;
    Judged { misses, component, faults: beside.faults, gallery, used: beside.used.into_inner(), carried, within, tried }
}

fn reborrow<'a>(stage: &'a mut Option<&mut dyn Stage>) -> Option<&'a mut dyn Stage> {
    match stage {
        Some(stage) => Some(&mut **stage),
        None => None,
    }
}

fn blank(job: &Job, held: Option<ContractSource<'_>>) -> Component {
    Component {
        component: name_of(&job.surface),
        contract: held.map(|h| h.file.to_owned()),
        verdict: Verdict::Holds,
        reason: None,
        combinations: 0,
        coverage: Coverage::default(),
        clauses: Vec::new(),
        laws: Vec::new(),
        baseline: None,
        findings: Vec::new(),
        notes: Vec::new(),
    }
}

/// What comes beside a component's results.
#[derive(Default)]
struct SideOutputs {
    /// What is wrong with its contract.
    faults: Vec<FileFault>,
    /// Which of the exemptions of its folder exempted something.
    used: RefCell<Vec<usize>>,
    /// Whether something broke that was left over from an earlier case.
    carried: Cell<bool>,
    /// The component with more around it, where it asks for that and the project has it: nothing more was judged.
    next: Option<Scene>,
    /// Whether it is judged alone, whatever it asks for.
    stands_alone: bool,
    /// Whether it asked in vain for more around it.
    misses: bool,
}

/// One pass over all clauses and laws.
fn pass(
    job: &Job,
    held: Option<ContractSource<'_>>,
    stage: &mut dyn Stage,
    mut other: Option<&mut dyn Stage>,
    engine: &mut dyn Expressions,
    how: JudgeOptions,
    beside: &mut SideOutputs,
) -> (Component, Option<Gallery>) {
    if let Err(reason) = lie_ready(job, held, stage, reborrow(&mut other), engine, &mut beside.faults) {
        return (Component { reason: Some(reason), verdict: Verdict::Unjudged, ..blank(job, held) }, None);
    }
    let surroundings = held.and_then(|h| h.contract).map(|c| c.surroundings.clone()).unwrap_or_default();
    let compares = other.is_some();
    let mut runs = CachingRunner::new(stage, how.realms, surroundings).beside(reborrow(&mut other));
    let learned = learning::learned(&job.surface, held.and_then(|h| h.contract), &mut runs);
    let mut struck = Struck::default();
    // Once for most: again where something had to be left out of the plan. What was played is not played twice.
    loop {
        match round(&Round { job, learned: &learned, held, how }, (&mut runs, compares), engine, &mut struck, beside) {
            Ok((mut out, gallery)) => {
                if out.reason.is_some() {
                    out.verdict = Verdict::Unjudged;
                } else if !out.findings.is_empty() {
                    out.verdict = Verdict::Broken;
                }
                return (out, gallery);
            }
            Err(WithLess) => beside.faults.clear(),
        }
    }
}

/// Something was left out of a component's plan: it is judged again.
struct WithLess;

/// Sees that contract and component can be used, and brings the component onto the stages.
fn lie_ready(
    job: &Job,
    held: Option<ContractSource<'_>>,
    stage: &mut dyn Stage,
    other: Option<&mut dyn Stage>,
    engine: &mut dyn Expressions,
    faults: &mut Vec<FileFault>,
) -> Result<(), Reason> {
    if let Some(held) = held {
        let of_contract = match (held.contract, held.partial) {
            (Some(contract), _) => faults_of(contract, &job.scene, engine),
            // What could be read of a faulty one names things too.
            (None, Some(partial)) => faults_of(partial, &Scene::alone(contract::adapted(&job.surface, partial)), engine),
            (None, None) => Vec::new(),
        };
        // What a file declares that has a fault itself nobody can say: its own fault is told, not what the contract misses in it.
        if !of_contract.is_empty()
            && let Err(error @ StageError::File { .. }) = stage.open(&job.scene)
        {
            return Err(reason(error));
        }
        faults.extend(of_contract.into_iter().map(|f| in_file(held.file, held.text, f)));
        if held.contract.is_none() || !faults.is_empty() {
            return Err(faulty());
        }
    }
    engine.know(stage.open(&job.scene).map_err(reason)?.values);
    other.map_or(Ok(()), |other| other.open(&job.scene).map(drop).map_err(reason))
}

/// What a round is about.
struct Round<'a> {
    job: &'a Job,
    /// Its surface, with what was learnt of it: the plan is made of that.
    learned: &'a Surface,
    held: Option<ContractSource<'a>>,
    how: JudgeOptions,
}

/// Judges a component by its plan, without what was struck from it.
fn round(
    &Round { job, learned, held, how }: &Round<'_>,
    (runs, compares): (&mut CachingRunner<'_>, bool),
    engine: &mut dyn Expressions,
    struck: &mut Struck,
    SideOutputs { faults, used, carried, next, stands_alone, misses }: &mut SideOutputs,
) -> Result<(Component, Option<Gallery>), WithLess> {
    let (surface, contract) = (&job.surface, held.and_then(|h| h.contract));
    let mut out = blank(job, held);
    let mut planned = match plan_without(&struck.from_plan, learned, contract, engine) {
        Ok(planned) => planned,
        Err(fault) => {
            no_plan(&mut out, surface, held, fault, faults);
            return Ok((out, None));
        }
    };
    if how.glance {
        planned.plan.combinations = first_look::combinations(&planned.plan.combinations);
    }
    let (planned, plan) = (&planned, &planned.plan);
    out.combinations = plan.combinations.len();
    let of_plan = untold(learned, contract).into_iter().chain(needed(&job.surface, learned));
    out.notes.extend(of_plan.chain(passed_in_part(learned, contract)).chain(struck.notes()));
    out.coverage =
        Coverage { pairs: Met { met: plan.met, of: plan.possible }, impossible: plan.impossible, props: passed(surface, planned) };
    if contract.is_none_or(|c| c.scene.is_none()) && !how.once {
        match around::need(job, *stands_alone, &plan.combinations, runs) {
            Need::Nothing => {}
            Need::Unmet => *misses = true,
            Need::Met(scene) => *next = Some(scene),
            Need::Cannot(reason) => out.reason = Some(reason),
        }
        if next.is_some() || out.reason.is_some() {
            return Ok((out, None));
        }
        out.notes.extend(alone::warns(surface, &plan.combinations, runs).unwrap_or_default());
    }
    out.notes.extend(around::leave_out(job, &plan.combinations, runs));
    used.borrow_mut().clear();
    let application = ProjectApplication::new(surface, &job.root);
    let judging = ComponentJudge {
        surface,
        held,
        planned,
        standing: contract.map(Standing::of).unwrap_or_default(),
        baseline: job.baseline.as_ref(),
        compares,
        effort: how.effort,
        glance: how.glance,
        once: how.once,
        exempt: &job.exempt,
        root: &job.root,
        application: &application,
        is_part: job.scene.wrap.len() > job.wrapped,
        children: &job.children,
        unused: &job.unused,
        used,
        carried,
        broke: RefCell::default(),
        budget: Budget::new(how.effort),
        restless: is_restless(&plan.combinations[0], runs),
    };
    let judged = judging.all(&mut out, runs, engine, faults).and_then(|()| {
        out.notes = alone::with_explained(std::mem::take(&mut out.notes), runs, &application);
        let gallery = how.pictures.then(|| gallery::gallery(surface, planned, &judging.broke.take(), runs)).transpose();
        gallery.map_err(Stop::Stage)
    });
    match judged {
        Ok(gallery) => {
            let asked_for = struck.asked_for(&planned.given).filter(|_| out.findings.is_empty());
            out.reason = out.reason.or(asked_for.map(|message| Reason { message, place: None, file: false }));
            Ok((out, gallery))
        }
        Err(Stop::Stage(StageError::Unjudged(why))) if why.cause.is_of_component() && struck.strike(runs, planned) => Err(WithLess),
        Err(Stop::Stage(error)) => {
            out.reason = Some(reason(error));
            Ok((out, None))
        }
        Err(Stop::Carried) => unreachable!("what broke in a realm of its own is believed"),
    }
}

/// Whether a component never comes to rest. What cannot be played at all is told by the first case that asks for it.
fn is_restless(plainest: &Combination, runs: &mut CachingRunner<'_>) -> bool {
    runs.play(&laws::mount(plainest)).is_ok_and(|o| o.phases.iter().any(|p| !p.settled))
}

/// How many of the declared props are passed anything at all.
fn passed(surface: &Surface, planned: &Planned) -> Met {
    let is_passed = |prop: &Prop| planned.domains.iter().any(|d| d.is_of(&prop.name));
    Met { met: surface.props.iter().filter(|p| is_passed(p)).count(), of: surface.props.len() }
}

/// Brings a job onto the stage and makes its plan.
///
/// # Errors
/// Why it cannot be played, in words.
pub(crate) fn opened(
    job: &Job,
    contract: Option<&Contract>,
    stage: &mut dyn Stage,
    engine: &mut dyn Expressions,
) -> Result<Planned, String> {
    if contract.is_some_and(|c| !faults_of(c, &job.scene, engine).is_empty()) {
        return Err("its contract has faults: `fidelon check` tells them".into());
    }
    engine.know(stage.open(&job.scene).map_err(|e| e.to_string())?.values);
    let surroundings = contract.map(|c| c.surroundings.clone()).unwrap_or_default();
    let learned = learning::learned(&job.surface, contract, &mut CachingRunner::new(stage, Realms::Shared, surroundings));
    plan_of(&learned, contract, engine).map_err(|fault| {
        let mut out = blank(job, None);
        no_plan(&mut out, &job.surface, None, fault, &mut Vec::new());
        out.reason.map(|r| r.message).unwrap_or_default()
    })
}

/// Why a pass ends before its end.
enum Stop {
    /// The stage could not play a case.
    Stage(StageError),
    /// A failure that a fresh realm does not show.
    Carried,
}

impl From<StageError> for Stop {
    fn from(error: StageError) -> Self {
        Self::Stage(error)
    }
}

struct ComponentJudge<'a> {
    surface: &'a Surface,
    held: Option<ContractSource<'a>>,
    planned: &'a Planned,
    standing: Standing,
    baseline: Option<&'a Baseline>,
    /// Whether there is another stage to compare with.
    compares: bool,
    effort: Effort,
    /// Laws that do not hold in the component's folder.
    exempt: &'a [Arc<FolderExemption>],
    /// The folder of the project.
    root: &'a Path,
    /// The application that it is of.
    application: &'a ProjectApplication<'a>,
    /// Whether it stands within a parent that was found for it.
    is_part: bool,
    /// The children that it shows.
    children: &'a [ChildUse],
    /// What it declares and does not use.
    unused: &'a [(String, Place)],
    /// Which of them exempted something.
    used: &'a RefCell<Vec<usize>>,
    /// Whether something broke so far that was left over from an earlier case.
    carried: &'a Cell<bool>,
    /// Clauses that broke so far, each with the case that shows it.
    broke: RefCell<Vec<gallery::Broke>>,
    /// True for a component that never comes to rest: each case costs the whole budget of tasks, so few are played.
    restless: bool,
    /// True where a first look is enough.
    glance: bool,
    /// True where the first promise that breaks is enough.
    once: bool,
    /// What the laws may still take.
    budget: Budget,
}

/// Cases of a clause or a law that are played of a component that never comes to rest.
const FEW: usize = 3;

impl ComponentJudge<'_> {
    fn all(
        &self,
        out: &mut Component,
        runs: &mut CachingRunner<'_>,
        engine: &mut dyn Expressions,
        faults: &mut Vec<FileFault>,
    ) -> Result<(), Stop> {
        let contract = self.held.and_then(|h| h.contract);
        for (index, clause) in contract.map_or(&[][..], |c| &c.clauses).iter().enumerate() {
            self.believed(out, runs, &mut |out, runs| self.clause((index, clause), out, runs, engine, faults))?;
            if self.is_enough(out) {
                return Ok(());
            }
        }
        self.laws(out, runs, engine)?;
        if self.is_enough(out) {
            return Ok(());
        }
        self.baseline.map_or(Ok(()), |baseline| self.believed(out, runs, &mut |out, runs| self.compare(baseline, out, runs)))
    }

    /// Judges by one rule; once more, with a realm for each case, where what broke is left over from an earlier one.
    fn believed(
        &self,
        out: &mut Component,
        runs: &mut CachingRunner<'_>,
        judge: &mut dyn FnMut(&mut Component, &mut CachingRunner<'_>) -> Result<(), Stop>,
    ) -> Result<(), Stop> {
        let before = out.clone();
        match judge(out, runs) {
            Err(Stop::Carried) => {
                self.carried.set(true);
                *out = before;
                let realms = runs.switch(Realms::Fresh);
                let judged = judge(out, runs);
                runs.switch(realms);
                judged
            }
            judged => judged,
        }
    }

    /// True while a failure may be left over from an earlier case, and that matters: of faults that were made on purpose what is left over
    /// is one more way to be noticed.
    fn is_in_doubt(&self, runs: &CachingRunner<'_>) -> bool {
        runs.are_shared() && !self.once
    }

    /// True once what was found is all that is asked for.
    fn is_enough(&self, out: &Component) -> bool {
        self.once && !out.findings.is_empty()
    }

    /// The rendered output of the plan against what was accepted.
    fn compare(&self, baseline: &Baseline, out: &mut Component, runs: &mut CachingRunner<'_>) -> Result<(), Stop> {
        let combinations = &self.planned.plan.combinations;
        let mut checked = Vec::new();
        for combination in combinations.iter().take(if self.restless { FEW } else { usize::MAX }) {
            checked.extend(compared(baseline, combination, runs)?);
        }
        let explained = self.explained(&checked, &mut |combination| compared(baseline, combination, runs))?;
        if let Some((_, shown)) = &explained
            && self.is_in_doubt(runs)
            && compared(baseline, &shown.combination, &mut runs.afresh())?.is_some_and(|c| c.failure.is_none())
        {
            return Err(Stop::Carried);
        }
        let Rule { verdict, checked: count, broke, .. } = rule(None, None, &checked);
        let new = combinations.len() - checked.len();
        let stale = baseline.stale(combinations);
        let many = |n: usize, one: &str, more: &str| if n == 1 { format!("1 {one}") } else { format!("{n} {more}") };
        if new > 0 {
            let who = many(new, "combination has", "combinations have");
            out.notes.push(format!("{who} no accepted output yet: `fidelon accept` records it"));
        }
        if stale > 0 {
            let who = many(stale, "accepted combination is", "accepted combinations are");
            out.notes.push(format!("{who} in the plan no more: `fidelon accept` drops it"));
        }
        out.baseline = Some(Compared { file: baseline_file(self.surface), verdict, checked: count, broke, new, stale });
        out.findings.extend(explained.and_then(|(e, shown)| finding(self.surface, (ACCEPTED, RuleKind::Baseline), &checked, e, &shown)));
        Ok(())
    }

    /// Why a promise breaks, and the case that shows it; none when it broke in no case. Beyond the cases of the plan others
    /// are played, as long as the stage plays them: what cannot be played tells nothing and costs no verdict.
    fn explained(
        &self,
        checked: &[Checked],
        play: &mut dyn FnMut(&Combination) -> Result<Option<Checked>, StageError>,
    ) -> Result<Option<(Explained, Checked)>, StageError> {
        let plain = &self.planned.plan.combinations[0];
        if self.restless || self.glance || self.once {
            return Ok(change_of(checked, plain));
        }
        let known: Vec<(Combination, bool)> = checked.iter().map(|c| (c.combination.clone(), c.failure.is_some())).collect();
        let mut others: Vec<Checked> = Vec::new();
        let mut lost = false;
        let mut ask = |combination: &Combination| {
            if lost || !self.planned.allows(combination) {
                return Ok::<_, StageError>(None);
            }
            match play(combination) {
                Ok(Some(checked)) => {
                    let broke = checked.failure.is_some();
                    others.push(checked);
                    Ok(Some(broke))
                }
                Ok(None) => Ok(None),
                Err(_) => {
                    lost = true;
                    Ok(None)
                }
            }
        };
        // What never comes to rest costs its whole budget each time that it is asked.
        let most = if self.restless { FEW } else { self.budget.most_asked(MOST_ASKED) };
        let Some(explained) = cause::explain(&self.planned.domains, plain, &known, most, &mut ask)? else {
            return Ok(change_of(checked, plain));
        };
        let shown = checked.iter().chain(&others).find(|c| c.failure.is_some() && c.combination == explained.shown).cloned();
        // Whatever the search comes to, what broke is told.
        Ok(shown.map(|shown| (explained, shown)).or_else(|| change_of(checked, plain)))
    }
}

//! Why a component has no verdict, or not all of one: its file, its contract, its plan, a limit.

use fidelon_core::UnjudgedCause;
use fidelon_core::contract::{self, Contract, Fault, check_names, template};
use fidelon_core::finding::Verdict;
use fidelon_core::judge::clause::ExpressionFault;
use fidelon_core::plan::{MOST_MEMBERS, MOST_VARIED, Unplanned};
use fidelon_core::results::{Component, FileFault, Reason};
use fidelon_core::scene::Scene;
use fidelon_core::stage::{Expressions, StageError};
use fidelon_core::surface::{Prop, Surface, Type};
use fidelon_source::Place;

use super::{ContractSource, Judged, blank};
use crate::planning::PlanFault;
use crate::survey::{Job, in_file};

/// The verdict on a component that this program itself failed at.
pub(crate) fn faulty_judge(job: &Job, held: Option<ContractSource<'_>>, message: &str) -> Judged {
    let mut component = blank(job, held);
    component.reason = Some(reason(StageError::Unjudged(UnjudgedCause::Fault(message.to_owned()).into())));
    component.verdict = Verdict::Unjudged;
    Judged {
        component,
        faults: Vec::new(),
        gallery: None,
        used: Vec::new(),
        carried: false,
        within: None,
        tried: Vec::new(),
        misses: false,
    }
}

/// The props that take no part because the source does not tell what they take.
pub(super) fn untold(surface: &Surface, contract: Option<&Contract>) -> Option<String> {
    let named = |prop: &str| contract.is_some_and(|c| c.props.contains_key(prop));
    let open: Vec<String> = surface
        .props
        .iter()
        .filter(|p| !named(&p.name) && contract.is_none_or(|c| c.scene.is_none()))
        .filter_map(|p| match &p.ty {
            Type::Unresolved { text } => Some(format!("`{}` ({})", p.name, text.split_whitespace().collect::<Vec<_>>().join(" "))),
            _ => None,
        })
        .collect();
    let many = if open.len() == 1 { "its type says" } else { "their types say" };
    (!open.is_empty()).then(|| format!("never passed: {}: {many} too little; give values under `props:` in a contract", open.join(", ")))
}

/// The props that are passed in every case because the component does not do without them, though it does not say so.
pub(super) fn needed(declared: &Surface, learned: &Surface) -> Option<String> {
    let says_so = |p: &&Prop| p.required && declared.prop(&p.name).is_some_and(|d| !d.required);
    let names: Vec<String> = learned.props.iter().filter(says_so).map(|p| format!("`{}`", p.name)).collect();
    let (are, they, them) = if names.len() == 1 { ("is", "it", "it") } else { ("are", "they", "them") };
    let list = names.join(", ");
    (!names.is_empty())
        .then(|| format!("{list} {are} always passed: without {them} the component throws, and nothing says that {they} may be left out"))
}

/// What of a surface is so much that only a part of it is passed.
pub(super) fn passed_in_part(surface: &Surface, contract: Option<&Contract>) -> Vec<String> {
    if contract.is_some() {
        return Vec::new();
    }
    let members = |prop: &Prop| if let Type::Union { of } = &prop.ty { of.len() } else { 0 };
    let long = surface.props.iter().filter(|prop| members(prop) > MOST_MEMBERS);
    let mut out: Vec<String> = long
        .map(|prop| {
            format!(
                "`{}` takes {} values, of which {MOST_MEMBERS} are passed: a contract passes those that it lists",
                prop.name,
                members(prop)
            )
        })
        .collect();
    if surface.props.len() > MOST_VARIED {
        out.push(format!(
            "it takes {} props, of which the first {MOST_VARIED} are varied: a contract varies those that it names",
            surface.props.len()
        ));
    }
    out
}

pub(super) fn faulty() -> Reason {
    Reason { message: "its contract has faults: see there".into(), place: None, file: true }
}

pub(super) fn no_plan(
    out: &mut Component,
    surface: &Surface,
    held: Option<ContractSource<'_>>,
    fault: PlanFault,
    faults: &mut Vec<FileFault>,
) {
    let of_contract = |message: String| Reason { message, place: None, file: true };
    out.reason = Some(match fault {
        PlanFault::Expression(fault) => {
            faults.extend(held.map(|h| expression_fault(h, &fault)));
            faulty()
        }
        PlanFault::Unknown(props) => {
            let names = props.iter().map(|p| format!("`{p}`")).collect::<Vec<_>>().join(", ");
            let message =
                format!("its source does not tell which values the required {names} can take: give some under `props:` in a contract");
            Reason { message, place: Some(Place { file: surface.file.clone(), line: 1, column: 1 }), file: false }
        }
        PlanFault::Wide(span, most) => {
            let fault = Fault::new(span, format!("the values that this expression names have more than {most} combinations"))
                .help("name fewer props in one expression, or give them fewer values");
            faults.extend(held.map(|h| in_file(h.file, h.text, fault)));
            faulty()
        }
        PlanFault::Unplanned(Unplanned::Many(count)) => {
            of_contract(format!("`cover` asks for {count}, which is more than can be played: take fewer values, or `cover: pairs`"))
        }
        PlanFault::Unplanned(Unplanned::Empty) => of_contract("`never` leaves no combination".into()),
    });
}

/// What a stage that failed gives for a reason.
pub(crate) fn reason(error: StageError) -> Reason {
    match error {
        StageError::File { message, place } => Reason { message, place, file: true },
        other => Reason { message: other.to_string(), place: None, file: false },
    }
}

pub(super) fn expression_fault(held: ContractSource<'_>, fault: &ExpressionFault) -> FileFault {
    let told = Fault::new(fault.span, format!("the expression fails: {}", fault.message))
        .help(format!("in the combination {}", fault.combination));
    in_file(held.file, held.text, told)
}

/// Faults of a contract that only its component or the engine can tell.
pub(super) fn faults_of(contract: &Contract, scene: &Scene, engine: &mut dyn Expressions) -> Vec<Fault> {
    let mut faults = check_names(contract, scene);
    let mut parse = |text: &str, span| {
        if let Err(message) = engine.parse(text) {
            faults.push(
                Fault::new(span, format!("this is no expression: {message}"))
                    .help("expressions are ECMAScript over the props, as `!locked && target < 1240`"),
            );
        }
    };
    for expression in contract.never.iter().chain(contract.clauses.iter().filter_map(|c| c.condition.as_ref())) {
        parse(&expression.text, expression.span);
    }
    for expression in contract.scene.iter().flat_map(contract::scene::expressions) {
        parse(&expression.text, expression.span);
    }
    for phase in contract.clauses.iter().flat_map(|c| &c.phases) {
        let mut found = Vec::new();
        phase.steps.iter().chain(&phase.checks).for_each(|n| template::expressions(n, &mut found));
        for (node, expression) in found {
            parse(&expression, node.span);
        }
    }
    faults
}

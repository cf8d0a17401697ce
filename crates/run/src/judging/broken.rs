//! From checked cases to rules and findings.

use fidelon_core::cause::{Explained, plainest};
use fidelon_core::finding::{Finding, RuleKind, Verdict};
use fidelon_core::judge::laws::Checked;
use fidelon_core::results::Rule;
use fidelon_core::stage::Combination;
use fidelon_core::surface::Surface;

/// The plainest case that breaks, with no other asked for: of a law about a prop the change of the prop is what makes it break, and the
/// values that it changed to say no more.
pub(super) fn change_of(checked: &[Checked], plain: &Combination) -> Option<(Explained, Checked)> {
    let broken: Vec<&Combination> = checked.iter().filter(|c| c.failure.is_some()).map(|c| &c.combination).collect();
    let nearest = plainest(plain, &broken)?;
    let shown = checked.iter().find(|c| c.failure.is_some() && c.combination == *nearest)?;
    let causes = if broken.len() == checked.len() { vec![Vec::new()] } else { Vec::new() };
    Some((Explained { causes, shown: nearest.clone(), asked: 0 }, shown.clone()))
}

/// The cases of a plan that broke, each once.
fn broken_cases(surface: &Surface, checked: &[Checked]) -> Vec<String> {
    let mut out: Vec<String> = Vec::new();
    for broken in checked.iter().filter(|c| c.failure.is_some()) {
        let case = format!("{}@{}", surface.name, broken.combination.tag());
        if !out.contains(&case) {
            out.push(case);
        }
    }
    out
}

pub(super) fn rule(clause: Option<String>, law: Option<String>, checked: &[Checked]) -> Rule {
    let broke = checked.iter().filter(|c| c.failure.is_some()).count();
    Rule { clause, law, verdict: verdict_on(checked.len(), broke), checked: checked.len(), broke }
}

/// What was checked in no case has no verdict.
pub(super) fn verdict_on(checked: usize, broke: usize) -> Verdict {
    match (checked, broke) {
        (0, _) => Verdict::Unjudged,
        (_, 0) => Verdict::Holds,
        _ => Verdict::Broken,
    }
}

pub(super) fn finding(
    surface: &Surface,
    (name, kind): (&str, RuleKind),
    checked: &[Checked],
    explained: Explained,
    shown: &Checked,
) -> Option<Finding> {
    let mut causes = explained.causes.into_iter();
    let mut failure = shown.failure.clone()?;
    let cause = causes.next();
    // What a framework or an engine does not tell the place of is told by the declaration of the prop that it is about.
    if failure.place.is_none() && kind == RuleKind::Law {
        failure.place = shown.about.as_deref().and_then(|prop| surface.prop(prop)?.place.clone());
    }
    Some(Finding {
        rule: name.to_owned(),
        kind,
        about: shown.about.clone(),
        cause,
        also: causes.collect(),
        asked: explained.asked,
        case: format!("{}@{}", surface.name, shown.combination.tag()),
        combination: shown.combination.in_words(),
        events: shown.events.clone(),
        checked: checked.len(),
        broke: checked.iter().filter(|c| c.failure.is_some()).count(),
        cases: broken_cases(surface, checked),
        failure,
        written: None,
    })
}

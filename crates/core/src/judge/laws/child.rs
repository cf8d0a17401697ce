//! `child/…`: what must be true of the children that a component shows.

use super::{Checked, LawContext, LawOutcome, Runs};
use crate::finding::Failure;

/// What a component passes to a child of the project under a name that the child does not declare, and that is near one which it does, reaches
/// nobody. Found by reading: it is so in every combination in which the child is shown.
pub(super) fn declared(context: &LawContext<'_>, _: &mut dyn Runs) -> LawOutcome {
    let Some(plain) = context.combinations.first() else { return Ok(Vec::new()) };
    let checked = |failure| Checked { combination: plain.clone(), failure, events: Vec::new(), about: None };
    let mut out = Vec::new();
    for used in context.children {
        let slips = used.misuses.iter().filter(|m| !context.except.contains(&m.passed.name) && !context.except.contains(&m.child));
        let failures: Vec<Option<Failure>> = slips
            .map(|misuse| {
                Some(Failure {
                    message: misuse.to_string(),
                    expected: Some(misuse.meant.clone()),
                    actual: Some(misuse.passed.name.clone()),
                    place: Some(misuse.passed.place.clone()),
                    ..Failure::default()
                })
            })
            .collect();
        if failures.is_empty() {
            out.push(checked(None));
        }
        out.extend(failures.into_iter().map(checked));
    }
    Ok(out)
}

//! `surface/…`: what must be true of what a component declares.

use super::{Checked, LawContext, LawOutcome, Runs};
use crate::finding::Failure;

/// So many are told one by one: a component that uses next to nothing of what it declares is known by then.
const MOST_TOLD: usize = 30;

/// What a component declares and nothing in its source uses is a promise that it cannot keep. Found by reading, where what may be used in a
/// way that is not read counts as used.
pub(super) fn used(context: &LawContext<'_>, _: &mut dyn Runs) -> LawOutcome {
    let surface = context.surface;
    let is_read = surface.framework.record().shows_uses_in_source;
    let Some(plain) = context.combinations.first().filter(|_| is_read && !surface.props.is_empty()) else { return Ok(Vec::new()) };
    let checked = |failure, about| Checked { combination: plain.clone(), failure, events: Vec::new(), about };
    let named: Vec<_> = context.unused.iter().filter(|(name, _)| !context.except.contains(name)).collect();
    let more = named.len().saturating_sub(MOST_TOLD);
    let unused: Vec<Checked> = named
        .into_iter()
        .take(MOST_TOLD)
        .enumerate()
        .map(|(at, (name, place))| {
            let others = if more > 0 && at + 1 == MOST_TOLD { format!("; nor {more} more that it declares") } else { String::new() };
            let failure = Failure {
                message: format!("`{name}` is declared, and nothing in its source uses it{others}"),
                expected: Some(format!("{name} is used")),
                actual: Some("nothing but its declaration".into()),
                place: Some(place.clone()),
                ..Failure::default()
            };
            checked(Some(failure), Some(name.clone()))
        })
        .collect();
    Ok(if unused.is_empty() { vec![checked(None, None)] } else { unused })
}

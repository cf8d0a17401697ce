//! The results of the parts of a run, joined into what one run would have told.

use fidelon_core::results::{Component, FileFault, Results};

use crate::pipeline::results;

/// Joins parts, each with the name of its file.
///
/// # Errors
/// Which part is missing or comes twice, or what else keeps them from being one run.
pub fn merge(parts: Vec<(String, Results)>) -> Result<Results, String> {
    let Some((first, one)) = parts.first() else { return Err("there are no results to join".into()) };
    let whole = || format!("`{first}` is of a whole run, not of a part: `fidelon check --part 1/2` makes parts");
    let of = one.part.ok_or_else(whole)?.of;
    let version = one.fidelon.clone();
    let mut found: Vec<Option<(String, Results)>> = vec![None; of];
    for (file, results) in parts {
        let part = results.part.ok_or_else(|| format!("`{file}` is of a whole run, not of a part"))?;
        if results.fidelon != version {
            return Err(format!("`{file}` is of version {}, the first of {version}: parts come from one version", results.fidelon));
        }
        if part.of != of {
            return Err(format!("`{file}` is part {} of {}, the first is one of {of}", part.number, part.of));
        }
        let slot =
            found.get_mut(part.number.wrapping_sub(1)).ok_or_else(|| format!("`{file}` says that it is part {} of {of}", part.number))?;
        if let Some((other, _)) = slot {
            return Err(format!("`{file}` and `{other}` are both part {}", part.number));
        }
        *slot = Some((file, results));
    }
    let missing: Vec<String> = found.iter().enumerate().filter(|(_, f)| f.is_none()).map(|(i, _)| (i + 1).to_string()).collect();
    if !missing.is_empty() {
        return Err(format!("of {of} parts {} missing: {}", if missing.len() == 1 { "one is" } else { "some are" }, missing.join(", ")));
    }
    let mut faults: Vec<FileFault> = Vec::new();
    let mut dealt: Vec<std::vec::IntoIter<Component>> = Vec::new();
    for (_, part) in found.into_iter().flatten() {
        faults.extend(part.faults.into_iter().filter(|f| !faults.contains(f)).collect::<Vec<_>>());
        dealt.push(part.components.into_iter());
    }
    faults.sort_by(|a, b| a.place.cmp(&b.place));
    // They were dealt out one by one, so they are taken back one by one: in the order of a whole run.
    let mut components = Vec::new();
    loop {
        let before = components.len();
        components.extend(dealt.iter_mut().filter_map(Iterator::next));
        if components.len() == before {
            return Ok(Results { fidelon: version, ..results(components, faults) });
        }
    }
}

//! Some faults for all: of each kind in turn, and within a kind spread over the source.

use std::collections::BTreeMap;

use crate::Fault;
use crate::kinds::Kind;

/// At most so many of these faults, in their order.
pub fn choose(faults: Vec<Fault>, most: usize) -> Vec<Fault> {
    if faults.len() <= most {
        return faults;
    }
    let mut kinds: BTreeMap<Kind, Vec<usize>> = BTreeMap::new();
    for (at, fault) in faults.iter().enumerate() {
        kinds.entry(fault.kind).or_default().push(at);
    }
    // How many of each kind: one in turn until there are enough.
    let mut counts: BTreeMap<Kind, usize> = kinds.keys().map(|kind| (*kind, 0)).collect();
    let mut left = most;
    while left > 0 {
        for (kind, places) in &kinds {
            let count = counts.entry(*kind).or_default();
            if left > 0 && *count < places.len() {
                *count += 1;
                left -= 1;
            }
        }
    }
    let spread = |places: &[usize], count: usize| (0..count).map(|i| places[i * places.len() / count]).collect::<Vec<_>>();
    let chosen: Vec<usize> = kinds.iter().flat_map(|(kind, places)| spread(places, counts[kind])).collect();
    faults.into_iter().enumerate().filter(|(at, _)| chosen.contains(at)).map(|(_, fault)| fault).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_kind_is_met_before_one_is_met_again() {
        let of = |kind: Kind, from: usize, count: usize| {
            (from..from + count).map(move |at| Fault { kind, at: at..at + 1, put: String::new() }).collect::<Vec<_>>()
        };
        let all = [of(Kind::Number, 0, 10), of(Kind::Condition, 10, 2), of(Kind::Guard, 12, 1)].concat();
        let chosen = choose(all.clone(), 5);
        let places: Vec<usize> = chosen.iter().map(|f| f.at.start).collect();
        assert_eq!(places, [0, 5, 10, 11, 12]);
        assert_eq!(choose(all.clone(), 13), all);
    }
}

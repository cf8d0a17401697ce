//! What a first look plays: little enough that its verdict comes with the save. What it does not find the whole run looks for.

use fidelon_core::stage::Combination;

/// Combinations: the plainest, and one as far from it as the plan has it.
const COMBINATIONS: usize = 2;

/// Cases of all clauses together, as long as each has one.
const CASES: usize = 8;

/// The laws that a first look holds a component to: those that ask for its mounts alone, which clauses ask for too.
pub(super) const LAWS: [&str; 3] = ["render/succeeds", "render/quiet", "render/settles"];

/// The combinations of a plan that it takes.
pub(super) fn combinations(all: &[Combination]) -> Vec<Combination> {
    let last = all.len().saturating_sub(1);
    let count = COMBINATIONS.min(all.len());
    (0..count).map(|i| all[i * last / count.saturating_sub(1).max(1)].clone()).collect()
}

/// Whether so many clauses have seen every combination by the time that laws are held.
pub(super) fn is_many(clauses: usize) -> bool {
    clauses >= COMBINATIONS
}

/// The cases of a clause, of so many: each begins with another combination.
pub(super) fn cases<T>(mut all: Vec<T>, index: usize, clauses: usize) -> Vec<T> {
    let from = index % all.len().max(1);
    all.rotate_left(from);
    all.truncate((CASES / clauses.max(1)).max(1));
    all
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn many_clauses_share_the_combinations() {
        let plain_and_far = vec!["plain", "far"];
        assert_eq!([0, 1, 2].map(|index| cases(plain_and_far.clone(), index, 13)), [["plain"], ["far"], ["plain"]]);
        assert_eq!(cases(plain_and_far, 1, 3), ["far", "plain"]);
        assert_eq!(cases(Vec::<&str>::new(), 1, 3), Vec::<&str>::new());
    }
}

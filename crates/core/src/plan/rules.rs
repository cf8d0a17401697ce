//! What cannot occur. A rule is a table over the domains that its expression names, so that it can be reasoned about: whether
//! some values occur together at all is proved by search, not guessed from what was seen.

/// The steps of one search before it gives up: far more than the rules of a contract need.
const MOST_STEPS: usize = 200_000;

/// A table of what one `never` forbids.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Rule {
    /// The domains that it is about, in rising order.
    pub about: Vec<usize>,
    /// For each row over those domains (the last varies fastest): true when it cannot occur.
    pub forbids: Vec<bool>,
}

/// All rules over domains of these sizes.
#[derive(Debug, Clone, Default)]
pub struct Rules {
    sizes: Vec<usize>,
    rules: Vec<Rule>,
    /// Which rules a domain takes part in.
    of: Vec<Vec<usize>>,
}

/// What a search found.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Found {
    /// A whole row that holds all that was asked for and breaks no rule.
    Row(Vec<usize>),
    /// There is none.
    Impossible,
    /// The search was given up.
    Unknown,
}

impl Rules {
    /// Rules over domains of these sizes.
    pub fn new(sizes: &[usize], rules: Vec<Rule>) -> Self {
        let of = (0..sizes.len()).map(|d| (0..rules.len()).filter(|r| rules[*r].about.contains(&d)).collect()).collect();
        Self { sizes: sizes.to_vec(), rules, of }
    }

    /// True when nothing is forbidden.
    pub fn is_empty(&self) -> bool {
        self.rules.is_empty()
    }

    /// True when some row is known that breaks no rule.
    pub fn is_satisfiable(&self) -> bool {
        let none = vec![None; self.sizes.len()];
        matches!(self.complete(&none, &|domain| (0..self.sizes[domain]).collect()), Found::Row(_))
    }

    /// True when a whole row breaks no rule.
    pub fn allow(&self, row: &[usize]) -> bool {
        self.rules.iter().all(|rule| !rule.forbids[self.index(rule, |d| row[d])])
    }

    /// True when a whole row breaks no rule that these domains take part in.
    pub fn allow_changed(&self, row: &[usize], changed: &[usize]) -> bool {
        changed.iter().flat_map(|d| &self.of[*d]).all(|r| !self.rules[*r].forbids[self.index(&self.rules[*r], |d| row[d])])
    }

    fn index(&self, rule: &Rule, value: impl Fn(usize) -> usize) -> usize {
        rule.about.iter().fold(0, |index, d| index * self.sizes[*d] + value(*d))
    }

    /// Completes a partial row, trying values in the order of `preferred`. A domain that no rule is about takes its first.
    pub fn complete(&self, partial: &[Option<usize>], preferred: &dyn Fn(usize) -> Vec<usize>) -> Found {
        let mut row = partial.to_vec();
        if !(0..self.rules.len()).all(|r| self.may_hold(r, &row)) {
            return Found::Impossible;
        }
        let mut steps = 0;
        match self.search(&mut row, preferred, &mut steps) {
            Some(true) => Found::Row(row.iter().enumerate().map(|(d, v)| v.unwrap_or_else(|| preferred(d)[0])).collect()),
            Some(false) => Found::Impossible,
            None => Found::Unknown,
        }
    }

    /// Whether some row holds these values.
    pub fn possible(&self, values: &[(usize, usize)]) -> Found {
        let mut partial = vec![None; self.sizes.len()];
        for (domain, value) in values {
            partial[*domain] = Some(*value);
        }
        self.complete(&partial, &|d| (0..self.sizes[d]).collect())
    }

    /// Whether a rule can still be kept: some way to fill its open domains is not forbidden.
    fn may_hold(&self, rule: usize, row: &[Option<usize>]) -> bool {
        let rule = &self.rules[rule];
        let open: Vec<usize> = rule.about.iter().copied().filter(|d| row[*d].is_none()).collect();
        let sizes: Vec<usize> = open.iter().map(|d| self.sizes[*d]).collect();
        super::domain::rows(&sizes).any(|fill| {
            let value = |d: usize| row[d].unwrap_or_else(|| fill[open.iter().position(|o| *o == d).unwrap_or(0)]);
            !rule.forbids[self.index(rule, value)]
        })
    }

    /// Depth first, the domain with the most rules first; after each value every rule about it must still be keepable.
    fn search(&self, row: &mut Vec<Option<usize>>, preferred: &dyn Fn(usize) -> Vec<usize>, steps: &mut usize) -> Option<bool> {
        let next =
            (0..row.len()).filter(|d| row[*d].is_none() && !self.of[*d].is_empty()).max_by_key(|d| (self.of[*d].len(), row.len() - d));
        let Some(domain) = next else { return Some(true) };
        for value in preferred(domain) {
            *steps += 1;
            if *steps > MOST_STEPS {
                return None;
            }
            row[domain] = Some(value);
            if self.of[domain].iter().all(|r| self.may_hold(*r, row)) && self.search(row, preferred, steps)? {
                return Some(true);
            }
            row[domain] = None;
        }
        Some(false)
    }
}

#[cfg(test)]
mod tests {
    use super::super::chance::Chance;
    use super::super::domain::rows;
    use super::*;

    /// Random rules over random small domains.
    fn random(seed: u64) -> (Vec<usize>, Rules) {
        let mut chance = Chance::new(seed);
        let sizes: Vec<usize> = (0..2 + chance.below(4)).map(|_| 2 + chance.below(3)).collect();
        let rules = (0..chance.below(7))
            .map(|_| {
                let mut about: Vec<usize> = (0..1 + chance.below(3)).map(|_| chance.below(sizes.len())).collect();
                about.sort_unstable();
                about.dedup();
                let size = about.iter().map(|d| sizes[*d]).product();
                Rule { about, forbids: (0..size).map(|_| chance.below(3) == 0).collect() }
            })
            .collect();
        (sizes.clone(), Rules::new(&sizes, rules))
    }

    #[test]
    fn what_is_called_possible_is_and_what_is_called_impossible_is_not() {
        let mut impossible = 0;
        for seed in 0..400 {
            let (sizes, rules) = random(seed);
            let all: Vec<Vec<usize>> = rows(&sizes).filter(|r| rules.allow(r)).collect();
            for a in 0..sizes.len() {
                for b in a + 1..sizes.len() {
                    for (i, j) in (0..sizes[a]).flat_map(|i| (0..sizes[b]).map(move |j| (i, j))) {
                        let truth = all.iter().any(|r| r[a] == i && r[b] == j);
                        match rules.possible(&[(a, i), (b, j)]) {
                            Found::Row(row) => assert!(truth && rules.allow(&row) && row[a] == i && row[b] == j, "{seed}"),
                            Found::Impossible => {
                                impossible += 1;
                                assert!(!truth, "{seed}: {a}={i} {b}={j}");
                            }
                            Found::Unknown => panic!("{seed}: so small a search comes to an end"),
                        }
                    }
                }
            }
        }
        assert!(impossible > 100, "the rules forbade something: {impossible}");
    }
}

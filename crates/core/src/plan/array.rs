//! Covering arrays: few rows that meet every pair (or triple) of values of any two (or three) domains that can occur.
//!
//! Pairs: each row is the best of several greedy candidates, after Cohen, Dalal, Fredman and Patton (AETG, 1997). Then rows
//! are taken away one by one, and what they alone met is brought back by a tabu search over the cells of the others, after
//! Nurmela (2004). All counts are fixed, so that the same domains give the same rows everywhere.

use super::chance::Chance;
use super::domain::rows as all_rows;
use super::rules::{Found, Rules};

/// Greedy candidates for each row, and how often the whole array is begun anew.
const CANDIDATES: usize = 12;
const STARTS: usize = 6;
/// The work of the search that takes rows away, in cells looked at: at most so many, fewer for small arrays.
const WORK: usize = 25_000_000;
const SEED: u64 = 7;

/// An array, and what it could not meet.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub(super) struct Array {
    /// Rows of value indices, one for each domain.
    pub(super) rows: Vec<Vec<usize>>,
    /// Pairs or triples that were proved impossible.
    pub(super) impossible: usize,
    /// Those for which the proof was given up.
    pub(super) unproved: usize,
}

/// Values of all domains numbered in one row, and which pairs of them are still to be met.
#[derive(Clone)]
struct Pairs {
    /// Where the values of a domain begin.
    start: Vec<usize>,
    /// The domain of a value.
    domain: Vec<usize>,
    words: usize,
    /// For each value a set of values: those that it is still to meet.
    open: Vec<u64>,
    /// How many each value is still to meet.
    count: Vec<usize>,
    left: usize,
}

impl Pairs {
    fn new(sizes: &[usize]) -> Self {
        let mut start = Vec::new();
        let mut domain = Vec::new();
        for (d, size) in sizes.iter().enumerate() {
            start.push(domain.len());
            domain.extend(std::iter::repeat_n(d, *size));
        }
        let (total, words) = (domain.len(), domain.len().div_ceil(64));
        let mut out = Self { start, domain, words, open: vec![0; total * words], count: vec![0; total], left: 0 };
        for a in 0..total {
            for b in a + 1..total {
                if out.domain[a] != out.domain[b] {
                    out.open[a * words + b / 64] |= 1 << (b % 64);
                    out.open[b * words + a / 64] |= 1 << (a % 64);
                    out.count[a] += 1;
                    out.count[b] += 1;
                    out.left += 1;
                }
            }
        }
        out
    }

    fn is_open(&self, a: usize, b: usize) -> bool {
        self.open[a * self.words + b / 64] & (1 << (b % 64)) != 0
    }

    fn close(&mut self, a: usize, b: usize) {
        if self.is_open(a, b) {
            self.open[a * self.words + b / 64] &= !(1 << (b % 64));
            self.open[b * self.words + a / 64] &= !(1 << (a % 64));
            self.count[a] -= 1;
            self.count[b] -= 1;
            self.left -= 1;
        }
    }

    /// How many of the fixed values this one is still to meet.
    fn gain(&self, value: usize, fixed: &[u64]) -> usize {
        let open = &self.open[value * self.words..(value + 1) * self.words];
        open.iter().zip(fixed).map(|(o, f)| (o & f).count_ones() as usize).sum()
    }

    fn cover(&mut self, values: &[usize]) {
        for (i, a) in values.iter().enumerate() {
            for b in &values[i + 1..] {
                self.close(*a, *b);
            }
        }
    }
}

/// From so many domains on those of one value are left out of the search, which looks at each pair of domains for each candidate: of a component
/// with thousands of props most have one. Smaller arrays are as they always were, so that what was accepted of them stands.
const WIDE: usize = 64;

/// An array that meets every pair that can occur. The first row holds every first value, if that can occur.
pub(super) fn pairs(sizes: &[usize], rules: &Rules) -> Array {
    if sizes.len() > WIDE && rules.is_empty() && sizes.contains(&1) {
        return of_varied(sizes);
    }
    let mut open = Pairs::new(sizes);
    let mut out = Array::default();
    if !rules.is_empty() {
        close_impossible(&mut open, rules, &mut out);
    }
    let first = match rules.complete(&vec![None; sizes.len()], &|d| (0..sizes[d]).collect()) {
        Found::Row(row) => row,
        _ => return out,
    };
    let mut chance = Chance::new(SEED);
    for _ in 0..STARTS {
        let most = if out.rows.is_empty() { usize::MAX } else { out.rows.len() };
        if let Some(rows) = greedy(sizes, rules, open.clone(), &first, most, &mut chance) {
            out.rows = rows;
        }
    }
    let values: Vec<Vec<usize>> = out.rows.iter().map(|row| row.iter().enumerate().map(|(d, v)| open.start[d] + v).collect()).collect();
    let values = Shrinking::new(&open, sizes, rules, values).shrink(&mut chance);
    out.rows = values.iter().map(|row| row.iter().enumerate().map(|(d, v)| v - open.start[d]).collect()).collect();
    out
}

/// The array of the domains that have more than one value, with the others' only values beside: whatever they meet is met where it occurs.
fn of_varied(sizes: &[usize]) -> Array {
    let varied: Vec<usize> = (0..sizes.len()).filter(|d| sizes[*d] > 1).collect();
    let rows: Vec<Vec<usize>> = match varied.as_slice() {
        [] => vec![Vec::new()],
        [alone] => (0..sizes[*alone]).map(|value| vec![value]).collect(),
        _ => {
            let sizes: Vec<usize> = varied.iter().map(|d| sizes[*d]).collect();
            pairs(&sizes, &Rules::new(&sizes, Vec::new())).rows
        }
    };
    let whole = |row: Vec<usize>| {
        let mut out = vec![0; sizes.len()];
        varied.iter().zip(row).for_each(|(domain, value)| out[*domain] = value);
        out
    };
    Array { rows: rows.into_iter().map(whole).collect(), ..Array::default() }
}

fn close_impossible(open: &mut Pairs, rules: &Rules, out: &mut Array) {
    let total = open.domain.len();
    for a in 0..total {
        for b in a + 1..total {
            if !open.is_open(a, b) {
                continue;
            }
            let (da, db) = (open.domain[a], open.domain[b]);
            match rules.possible(&[(da, a - open.start[da]), (db, b - open.start[db])]) {
                Found::Row(_) => continue,
                Found::Impossible => out.impossible += 1,
                Found::Unknown => out.unproved += 1,
            }
            open.close(a, b);
        }
    }
}

/// Rows until nothing is open; none when it would be as many as there were before.
fn greedy(sizes: &[usize], rules: &Rules, mut open: Pairs, first: &[usize], most: usize, chance: &mut Chance) -> Option<Vec<Vec<usize>>> {
    let mut rows = vec![first.to_vec()];
    open.cover(&numbered(&open, first));
    while open.left > 0 {
        if rows.len() + 1 >= most {
            return None;
        }
        let mut best: Option<(usize, Vec<usize>)> = None;
        for _ in 0..CANDIDATES {
            let row = candidate(sizes, rules, &open, chance);
            let gain = gain_of(&open, &row);
            if best.as_ref().is_none_or(|(g, _)| gain > *g) {
                best = Some((gain, row));
            }
        }
        let (_, row) = best?;
        open.cover(&numbered(&open, &row));
        rows.push(row);
    }
    Some(rows)
}

fn numbered(open: &Pairs, row: &[usize]) -> Vec<usize> {
    row.iter().enumerate().map(|(d, v)| open.start[d] + v).collect()
}

fn gain_of(open: &Pairs, row: &[usize]) -> usize {
    let values = numbered(open, row);
    values.iter().enumerate().map(|(i, a)| values[i + 1..].iter().filter(|b| open.is_open(*a, **b)).count()).sum()
}

/// One row: an open pair to begin with, then domain by domain in random order the value that meets most.
fn candidate(sizes: &[usize], rules: &Rules, open: &Pairs, chance: &mut Chance) -> Vec<usize> {
    let top = open.count.iter().copied().max().unwrap_or(0);
    let tops: Vec<usize> = (0..open.count.len()).filter(|v| open.count[*v] == top).collect();
    let a = tops[chance.below(tops.len())];
    let partners: Vec<usize> = (0..open.count.len()).filter(|b| open.is_open(a, *b)).collect();
    let b = partners[chance.below(partners.len())];
    let mut row = vec![None; sizes.len()];
    let mut fixed = vec![0u64; open.words];
    for value in [a, b] {
        row[open.domain[value]] = Some(value - open.start[open.domain[value]]);
        fixed[value / 64] |= 1 << (value % 64);
    }
    let mut order: Vec<usize> = (0..sizes.len()).filter(|d| row[*d].is_none()).collect();
    chance.shuffle(&mut order);
    for domain in order {
        let values = by_gain(open, sizes, domain, &fixed, chance);
        let chosen = if rules.is_empty() {
            values[0]
        } else {
            let fits = |v: &usize| {
                let mut next = row.clone();
                next[domain] = Some(*v);
                matches!(rules.complete(&next, &|d| (0..sizes[d]).collect()), Found::Row(_))
            };
            // The pair can occur, so one of the values fits, unless the search for it was given up.
            values.iter().copied().find(fits).unwrap_or(values[0])
        };
        row[domain] = Some(chosen);
        let value = open.start[domain] + chosen;
        fixed[value / 64] |= 1 << (value % 64);
    }
    let row: Vec<usize> = row.into_iter().map(|v| v.unwrap_or(0)).collect();
    if rules.allow(&row) {
        return row;
    }
    match rules.possible(&[(open.domain[a], a - open.start[open.domain[a]]), (open.domain[b], b - open.start[open.domain[b]])]) {
        Found::Row(row) => row,
        _ => row,
    }
}

/// The values of a domain, those first that meet most, then those that have most left to meet; else by chance.
fn by_gain(open: &Pairs, sizes: &[usize], domain: usize, fixed: &[u64], chance: &mut Chance) -> Vec<usize> {
    let mut values: Vec<(usize, usize, usize)> = (0..sizes[domain])
        .map(|v| {
            let value = open.start[domain] + v;
            (open.gain(value, fixed), open.count[value], v)
        })
        .collect();
    chance.shuffle(&mut values);
    values.sort_by_key(|(gain, left, _)| std::cmp::Reverse((*gain, *left)));
    values.into_iter().map(|(.., v)| v).collect()
}

/// The search that takes rows away.
struct Shrinking<'a> {
    pairs: &'a Pairs,
    sizes: &'a [usize],
    rules: &'a Rules,
    total: usize,
    rows: Vec<Vec<usize>>,
    /// For each pair of values: true when it must be met.
    wanted: Vec<bool>,
}

/// The state of one attempt: how often each pair is met, and which are not.
struct Attempt {
    rows: Vec<Vec<usize>>,
    met: Vec<u16>,
    open: Vec<(usize, usize)>,
    /// Where a pair stands in `open`.
    place: Vec<usize>,
    tabu: Vec<usize>,
}

const NOWHERE: usize = usize::MAX;

impl<'a> Shrinking<'a> {
    fn new(pairs: &'a Pairs, sizes: &'a [usize], rules: &'a Rules, rows: Vec<Vec<usize>>) -> Self {
        let total = pairs.domain.len();
        let wanted = (0..total * total).map(|i| pairs.is_open(i / total, i % total)).collect();
        Self { pairs, sizes, rules, total, rows, wanted }
    }

    fn shrink(mut self, chance: &mut Chance) -> Vec<Vec<usize>> {
        let k = self.sizes.len();
        let most = WORK.min(1_000_000 + 3_000 * self.wanted.len() / 2);
        let mut work = 0;
        // No array has fewer rows than the two largest domains have pairs.
        let mut sizes = self.sizes.to_vec();
        sizes.sort_unstable_by(|a, b| b.cmp(a));
        let bound = if self.rules.is_empty() { sizes.iter().take(2).product() } else { 2 };
        while self.rows.len() > bound && k > 2 {
            let Some(mut attempt) = self.without_weakest() else { break };
            let mut step = 0;
            while let Some(pair) = (!attempt.open.is_empty()).then(|| attempt.open[chance.below(attempt.open.len())]) {
                step += 1;
                work += attempt.rows.len() * k;
                if work > most {
                    return self.rows;
                }
                if let Some(row) = self.best_row(&attempt, pair, step, chance) {
                    for value in [pair.0, pair.1] {
                        self.set(&mut attempt, row, value, step + 1 + chance.below(6));
                    }
                }
            }
            self.rows = attempt.rows;
        }
        self.rows
    }

    /// The rows without the one, after the first, that alone meets the fewest pairs.
    fn without_weakest(&self) -> Option<Attempt> {
        let total = self.total;
        let mut met = vec![0u16; total * total];
        for row in &self.rows {
            for (i, a) in row.iter().enumerate() {
                for b in &row[i + 1..] {
                    met[a * total + b] += 1;
                    met[b * total + a] += 1;
                }
            }
        }
        let alone = |row: &Vec<usize>| {
            let pairs = row.iter().enumerate().flat_map(|(i, a)| row[i + 1..].iter().map(move |b| a * total + b));
            pairs.filter(|p| met[*p] == 1 && self.wanted[*p]).count()
        };
        let weakest = (1..self.rows.len()).min_by_key(|r| alone(&self.rows[*r]))?;
        let mut rows = self.rows.clone();
        let gone = rows.remove(weakest);
        let tabu = vec![0; rows.len() * self.sizes.len()];
        let mut attempt = Attempt { rows, met, open: Vec::new(), place: vec![NOWHERE; total * total], tabu };
        for (i, a) in gone.iter().enumerate() {
            for b in &gone[i + 1..] {
                self.unmeet(&mut attempt, *a, *b);
            }
        }
        Some(attempt)
    }

    fn key(&self, a: usize, b: usize) -> usize {
        a.min(b) * self.total + a.max(b)
    }

    fn unmeet(&self, attempt: &mut Attempt, a: usize, b: usize) {
        let (ab, ba) = (a * self.total + b, b * self.total + a);
        attempt.met[ab] -= 1;
        attempt.met[ba] -= 1;
        if attempt.met[ab] == 0 && self.wanted[ab] {
            attempt.place[self.key(a, b)] = attempt.open.len();
            attempt.open.push((a.min(b), a.max(b)));
        }
    }

    fn meet(&self, attempt: &mut Attempt, a: usize, b: usize) {
        let (ab, ba) = (a * self.total + b, b * self.total + a);
        if attempt.met[ab] == 0 && self.wanted[ab] {
            let place = std::mem::replace(&mut attempt.place[self.key(a, b)], NOWHERE);
            let last = attempt.open.swap_remove(place);
            debug_assert_eq!(last, (a.min(b), a.max(b)));
            if let Some(moved) = attempt.open.get(place) {
                attempt.place[self.key(moved.0, moved.1)] = place;
            }
        }
        attempt.met[ab] += 1;
        attempt.met[ba] += 1;
    }

    /// The row in which meeting the pair leaves the fewest pairs open; ties by chance. What was changed lately stays.
    fn best_row(&self, attempt: &Attempt, (a, b): (usize, usize), step: usize, chance: &mut Chance) -> Option<usize> {
        let k = self.sizes.len();
        let (da, db) = (self.pairs.domain[a], self.pairs.domain[b]);
        let mut best = (i64::MAX, None);
        let mut ties = 0;
        for (r, row) in attempt.rows.iter().enumerate().skip(1) {
            let (changes_a, changes_b) = (row[da] != a, row[db] != b);
            if (changes_a && attempt.tabu[r * k + da] > step) || (changes_b && attempt.tabu[r * k + db] > step) {
                continue;
            }
            let mut cost = 0i64;
            for (d, value) in row.iter().enumerate() {
                if d == da || d == db {
                    continue;
                }
                if changes_a {
                    cost += self.cost(attempt, row[da], a, *value);
                }
                if changes_b {
                    cost += self.cost(attempt, row[db], b, *value);
                }
            }
            if cost > best.0 || !self.allowed(row, (da, a), (db, b)) {
                continue;
            }
            if cost < best.0 {
                best = (cost, Some(r));
                ties = 1;
            } else {
                ties += 1;
                if chance.below(ties) == 0 {
                    best.1 = Some(r);
                }
            }
        }
        best.1
    }

    /// What putting `new` in the place of `old` beside `value` opens, less what it closes.
    fn cost(&self, attempt: &Attempt, old: usize, new: usize, value: usize) -> i64 {
        let (was, is) = (old * self.total + value, new * self.total + value);
        i64::from(attempt.met[was] == 1 && self.wanted[was]) - i64::from(attempt.met[is] == 0 && self.wanted[is])
    }

    fn allowed(&self, row: &[usize], a: (usize, usize), b: (usize, usize)) -> bool {
        if self.rules.is_empty() {
            return true;
        }
        let mut indices: Vec<usize> = row.iter().enumerate().map(|(d, v)| v - self.pairs.start[d]).collect();
        indices[a.0] = a.1 - self.pairs.start[a.0];
        indices[b.0] = b.1 - self.pairs.start[b.0];
        self.rules.allow_changed(&indices, &[a.0, b.0])
    }

    fn set(&self, attempt: &mut Attempt, row: usize, value: usize, until: usize) {
        let domain = self.pairs.domain[value];
        let old = attempt.rows[row][domain];
        if old == value {
            return;
        }
        for d in 0..self.sizes.len() {
            if d != domain {
                let other = attempt.rows[row][d];
                self.unmeet(attempt, old, other);
                self.meet(attempt, value, other);
            }
        }
        attempt.rows[row][domain] = value;
        attempt.tabu[row * self.sizes.len() + domain] = until;
    }
}

/// An array that meets every triple that can occur: rows from open triples, the rest of each row greedily.
pub(super) fn triples(sizes: &[usize], rules: &Rules) -> Array {
    let mut out = Array::default();
    let k = sizes.len();
    let mut open: std::collections::BTreeSet<[(usize, usize); 3]> = std::collections::BTreeSet::new();
    for (a, b, c) in (0..k).flat_map(|a| (a + 1..k).flat_map(move |b| (b + 1..k).map(move |c| (a, b, c)))) {
        for values in all_rows(&[sizes[a], sizes[b], sizes[c]]) {
            let triple = [(a, values[0]), (b, values[1]), (c, values[2])];
            match if rules.is_empty() { Found::Row(Vec::new()) } else { rules.possible(&triple) } {
                Found::Row(_) => drop(open.insert(triple)),
                Found::Impossible => out.impossible += 1,
                Found::Unknown => out.unproved += 1,
            }
        }
    }
    let mut chance = Chance::new(SEED);
    let mut partial = vec![None; k];
    while let Found::Row(row) = rules.complete(&partial, &|d| (0..sizes[d]).collect()) {
        let row = if out.rows.is_empty() { row } else { best_completion(sizes, rules, &open, &partial, &mut chance).unwrap_or(row) };
        open.retain(|t| !t.iter().all(|(d, v)| row[*d] == *v));
        out.rows.push(row);
        let Some(next) = open.first() else { break };
        partial = vec![None; k];
        for (d, v) in next {
            partial[*d] = Some(*v);
        }
    }
    out
}

/// Of several greedy completions of a partial row the one that meets most open triples.
fn best_completion(
    sizes: &[usize],
    rules: &Rules,
    open: &std::collections::BTreeSet<[(usize, usize); 3]>,
    partial: &[Option<usize>],
    chance: &mut Chance,
) -> Option<Vec<usize>> {
    let mut best: Option<(usize, Vec<usize>)> = None;
    for _ in 0..4 {
        let mut row = partial.to_vec();
        let mut order: Vec<usize> = (0..sizes.len()).filter(|d| row[*d].is_none()).collect();
        chance.shuffle(&mut order);
        for domain in order {
            let meets = |v: usize| {
                open.iter().filter(|t| t.contains(&(domain, v)) && t.iter().all(|(d, w)| *d == domain || row[*d] == Some(*w))).count()
            };
            let mut values: Vec<(usize, usize)> = (0..sizes[domain]).map(|v| (meets(v), v)).collect();
            chance.shuffle(&mut values);
            values.sort_by_key(|(met, _)| std::cmp::Reverse(*met));
            let fits = |v: usize| {
                let mut next = row.clone();
                next[domain] = Some(v);
                rules.is_empty() || matches!(rules.complete(&next, &|d| (0..sizes[d]).collect()), Found::Row(_))
            };
            row[domain] = Some(values.iter().map(|(_, v)| *v).find(|v| fits(*v))?);
        }
        let row: Vec<usize> = row.into_iter().collect::<Option<_>>()?;
        let met = open.iter().filter(|t| t.iter().all(|(d, v)| row[*d] == *v)).count();
        if best.as_ref().is_none_or(|(m, _)| met > *m) {
            best = Some((met, row));
        }
    }
    best.map(|(_, row)| row)
}

#[cfg(test)]
mod tests {
    use super::super::rules::Rule;
    use super::*;

    fn assert_meets_pairs(sizes: &[usize], rules: &Rules, array: &Array) {
        let mut open = Pairs::new(sizes);
        for row in &array.rows {
            assert!(rules.allow(row), "a row that cannot occur: {row:?}");
            open.cover(&numbered(&open, row));
        }
        let mut impossible = Array::default();
        if !rules.is_empty() {
            close_impossible(&mut open, rules, &mut impossible);
        }
        assert_eq!((open.left, impossible.unproved), (0, 0), "{sizes:?}");
    }

    #[test]
    fn arrays_are_as_small_as_the_best_that_are_published() {
        let of = |parts: &[(usize, usize)]| parts.iter().flat_map(|(size, times)| std::iter::repeat_n(*size, *times)).collect::<Vec<_>>();
        for (sizes, most) in [
            (of(&[(3, 4)]), 9),
            (of(&[(3, 13)]), 17),
            (of(&[(4, 15), (3, 17), (2, 29)]), 36),
            (of(&[(4, 1), (3, 39), (2, 35)]), 27),
            (of(&[(2, 100)]), 13),
            (of(&[(10, 20)]), 210),
            (of(&[(2, 1), (3, 1)]), 6),
            (of(&[(5, 1), (4, 1), (3, 1), (2, 3)]), 20),
            (of(&[(3, 4), (1, 3000)]), 9),
            (of(&[(1, 40), (3, 1), (1, 40)]), 3),
            (of(&[(1, 100)]), 1),
        ] {
            let rules = Rules::new(&sizes, Vec::new());
            let array = pairs(&sizes, &rules);
            assert_meets_pairs(&sizes, &rules, &array);
            assert!(array.rows.len() <= most, "{sizes:?}: {} rows, {most} wanted", array.rows.len());
            assert!(array.rows[0].iter().all(|v| *v == 0), "the plainest comes first");
        }
    }

    #[test]
    fn twenty_props_with_thirty_rules_lose_nothing_that_can_occur() {
        let mut chance = Chance::new(11);
        let sizes: Vec<usize> = (0..20).map(|i| 2 + i % 3).collect();
        let rules: Vec<Rule> = (0..30)
            .map(|_| {
                let mut about: Vec<usize> = (0..2 + chance.below(2)).map(|_| chance.below(20)).collect();
                about.sort_unstable();
                about.dedup();
                let size: usize = about.iter().map(|d| sizes[*d]).product();
                let forbidden = chance.below(size);
                Rule { about, forbids: (0..size).map(|i| i == forbidden || i + 1 == forbidden).collect() }
            })
            .collect();
        let rules = Rules::new(&sizes, rules);
        let array = pairs(&sizes, &rules);
        assert_meets_pairs(&sizes, &rules, &array);
        assert!(array.impossible > 0, "some pair was forbidden");
        assert_eq!(array.unproved, 0);
        assert!(array.rows.len() <= 40, "{}", array.rows.len());
    }

    #[test]
    fn the_same_domains_give_the_same_rows() {
        let sizes = [3, 4, 2, 3, 2];
        let rules = Rules::new(&sizes, Vec::new());
        assert_eq!(pairs(&sizes, &rules), pairs(&sizes, &rules));
        assert_eq!(triples(&sizes, &rules), triples(&sizes, &rules));
    }

    #[test]
    fn triples_are_met_with_few_rows() {
        for (sizes, most) in [(vec![2; 4], 9), (vec![2; 10], 24), (vec![3; 6], 62), (vec![3, 4, 2, 3], 40)] {
            let rules = Rules::new(&sizes, Vec::new());
            let array = triples(&sizes, &rules);
            let k = sizes.len();
            for (a, b, c) in (0..k).flat_map(|a| (a + 1..k).flat_map(move |b| (b + 1..k).map(move |c| (a, b, c)))) {
                for v in all_rows(&[sizes[a], sizes[b], sizes[c]]) {
                    assert!(array.rows.iter().any(|r| r[a] == v[0] && r[b] == v[1] && r[c] == v[2]), "{sizes:?}");
                }
            }
            assert!(array.rows.len() <= most, "{sizes:?}: {}", array.rows.len());
        }
    }
}

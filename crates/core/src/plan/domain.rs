//! What one prop or slot draws its values from.

use crate::stage::Combination;
use crate::value::Value;

/// A prop or a slot and its values. The first is its plainest.
#[derive(Debug, Clone, PartialEq)]
pub enum Domain {
    /// A prop and its values.
    Prop(String, Vec<Value>),
    /// A slot and its contents.
    Slot(String, Vec<Option<String>>),
}

impl Domain {
    /// The name of the prop or slot.
    pub fn name(&self) -> &str {
        match self {
            Self::Prop(name, _) | Self::Slot(name, _) => name,
        }
    }

    /// True for the domain of this prop.
    pub fn is_of(&self, prop: &str) -> bool {
        matches!(self, Self::Prop(name, _) if name == prop)
    }

    /// The name of a prop that is on or off, and may be absent; none for any other.
    pub fn flag(&self) -> Option<&String> {
        match self {
            Self::Prop(name, values) if values.contains(&Value::json(true)) && values.len() <= 3 => Some(name),
            _ => None,
        }
    }

    /// How many values it has.
    pub fn len(&self) -> usize {
        match self {
            Self::Prop(_, v) => v.len(),
            Self::Slot(_, v) => v.len(),
        }
    }

    /// True when it has none.
    pub fn is_empty(&self) -> bool {
        self.len() == 0
    }

    /// Puts its value of this index into a combination.
    pub fn put(&self, index: usize, into: &mut Combination) {
        match self {
            Self::Prop(name, values) => drop(into.props.insert(name.clone(), values[index].clone())),
            Self::Slot(name, values) => drop(into.fills.insert(name.clone(), values[index].clone())),
        }
    }
}

/// How many combinations there are in all; none when the number is beyond counting.
pub fn size(domains: &[Domain]) -> Option<usize> {
    domains.iter().try_fold(1usize, |n, d| n.checked_mul(d.len()))
}

/// The combination of a row of value indices, one for each domain.
pub fn combination(domains: &[Domain], row: &[usize]) -> Combination {
    let mut out = Combination::default();
    for (domain, index) in domains.iter().zip(row) {
        domain.put(*index, &mut out);
    }
    out
}

/// The row of a combination; none when it holds a value that is in no domain.
pub fn row(domains: &[Domain], combination: &Combination) -> Option<Vec<usize>> {
    let index = |domain: &Domain| match domain {
        Domain::Prop(name, values) => values.iter().position(|v| combination.props.get(name) == Some(v)),
        Domain::Slot(name, fills) => fills.iter().position(|f| combination.fills.get(name) == Some(f)),
    };
    domains.iter().map(index).collect()
}

/// All rows of value indices; the last domain varies fastest.
pub(super) fn rows(sizes: &[usize]) -> impl Iterator<Item = Vec<usize>> + '_ {
    let mut next = Some(vec![0; sizes.len()]).filter(|_| sizes.iter().all(|s| *s > 0));
    std::iter::from_fn(move || {
        let row = next.take()?;
        let mut after = row.clone();
        for (place, size) in after.iter_mut().zip(sizes).rev() {
            *place += 1;
            if *place < *size {
                next = Some(after);
                break;
            }
            *place = 0;
        }
        Some(row)
    })
}

/// All combinations; the last domain varies fastest.
pub fn every(domains: &[Domain]) -> Vec<Combination> {
    let sizes: Vec<usize> = domains.iter().map(Domain::len).collect();
    rows(&sizes).map(|row| combination(domains, &row)).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn flags_are_on_or_off() {
        let of = |values: &[Value]| Domain::Prop("open".into(), values.to_vec()).flag().is_some();
        assert!(of(&[Value::Absent, Value::json(false), Value::json(true)]) && of(&[Value::json(true)]));
        assert!(
            !of(&[Value::json(1), Value::json(0)])
                && !of(&[1, 2, 3, 4].map(Value::json))
                && Domain::Slot("a".into(), vec![None]).flag().is_none()
        );
    }

    #[test]
    fn every_is_a_full_product_in_order() {
        let domains: Vec<Domain> =
            [2, 3].iter().enumerate().map(|(i, n)| Domain::Prop(format!("p{i}"), (0..*n).map(Value::json).collect())).collect();
        let words: Vec<_> = every(&domains).iter().map(Combination::in_words).collect();
        assert_eq!(words, ["p0 = 0, p1 = 0", "p0 = 0, p1 = 1", "p0 = 0, p1 = 2", "p0 = 1, p1 = 0", "p0 = 1, p1 = 1", "p0 = 1, p1 = 2"]);
        assert_eq!(every(&[]).len(), 1, "no prop: one combination");
        assert_eq!(every(&[Domain::Prop("x".into(), Vec::new())]).len(), 0);
    }
}

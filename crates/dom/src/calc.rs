//! What is calculated (CSS Values §10): read once, and asked what it comes to by whoever knows more.

use std::collections::BTreeMap;

use cssparser::{ParseError, Parser, Token};

use crate::css_value::number;

/// A value, or an expression of values.
#[derive(Debug, Clone, PartialEq)]
pub enum Calculation {
    /// So many of a unit: none for a plain number, `%` for a share.
    Value(f64, String),
    /// One added to another.
    Sum(Vec<Calculation>),
    /// One times another.
    Product(Vec<Calculation>),
    /// One divided by it.
    Inverse(Box<Calculation>),
    /// The least.
    Min(Vec<Calculation>),
    /// The greatest.
    Max(Vec<Calculation>),
}

/// Sums by their unit, in the order in which they are written; a plain number has none.
type Terms = BTreeMap<String, f64>;

impl Calculation {
    /// The calculation that a text is: a number with or without its unit, or `calc()` and its like; none where it is something else, a keyword say.
    pub fn parse(text: &str) -> Option<Self> {
        Parser::new(text).parse_entirely(single).ok()
    }

    /// What the inside of a `calc()` is.
    fn inside(text: &str) -> Option<Self> {
        Parser::new(text).parse_entirely(sum).ok()
    }

    /// What it comes to in pixels, relative to `basis`; none where it has other units than pixels and shares.
    pub fn resolve(&self, basis: f64) -> Option<f64> {
        let all = |parts: &[Self]| parts.iter().map(|p| p.resolve(basis)).collect::<Option<Vec<f64>>>();
        Some(match self {
            Self::Value(value, unit) => match unit.as_str() {
                "px" | "" => *value,
                "%" => value / 100.0 * basis,
                _ => return None,
            },
            Self::Sum(parts) => all(parts)?.iter().sum(),
            Self::Product(parts) => all(parts)?.iter().product(),
            Self::Inverse(part) => 1.0 / part.resolve(basis)?,
            Self::Min(parts) => all(parts)?.into_iter().fold(f64::INFINITY, f64::min),
            Self::Max(parts) => all(parts)?.into_iter().fold(f64::NEG_INFINITY, f64::max),
        })
    }

    /// It as one sum; none where that depends on what nobody knows yet.
    pub(crate) fn terms(&self) -> Option<Terms> {
        let plain = |terms: &Terms| if terms.len() == 1 { terms.get("").copied() } else { None };
        let pick = |parts: &[Self], better: fn(f64, f64) -> bool| {
            let all = parts.iter().map(Self::terms).collect::<Option<Vec<Terms>>>()?;
            // Shares, and what has several units, cannot be compared here.
            let unit = all.first()?.keys().next()?.clone();
            let of = |terms: &Terms| terms.get(&unit).copied().filter(|_| terms.len() == 1 && unit != "%");
            let values = all.iter().map(of).collect::<Option<Vec<f64>>>()?;
            let best = values.into_iter().reduce(|a, b| if better(b, a) { b } else { a })?;
            Some(Terms::from([(unit, best)]))
        };
        match self {
            Self::Value(value, unit) => Some(Terms::from([(unit.clone(), *value)])),
            Self::Sum(parts) => {
                let mut out = Terms::new();
                for (unit, value) in parts.iter().map(Self::terms).collect::<Option<Vec<_>>>()?.into_iter().flatten() {
                    out.entry(unit).and_modify(|v| *v += value).or_insert(value);
                }
                // A number is no length.
                (out.len() == 1 || !out.contains_key("")).then_some(out)
            }
            Self::Product(parts) => parts.iter().map(Self::terms).try_fold(Terms::from([(String::new(), 1.0)]), |out, next| {
                let next = next?;
                let (terms, times) = match (plain(&out), plain(&next)) {
                    (_, Some(times)) => (out, times),
                    (Some(times), None) => (next, times),
                    _ => return None,
                };
                Some(terms.into_iter().map(|(unit, value)| (unit, value * times)).collect())
            }),
            Self::Inverse(part) => plain(&part.terms()?).filter(|by| *by != 0.0).map(|by| Terms::from([(String::new(), 1.0 / by)])),
            Self::Min(parts) => pick(parts, |a, b| a < b),
            Self::Max(parts) => pick(parts, |a, b| a > b),
        }
    }
}

/// The inside of a `calc()` as a browser writes it down (§10.13): one term for each unit, percentages first. None where it holds what only a
/// layout or the cascade can tell, or is no calculation.
pub(crate) fn simplified(inner: &str) -> Option<String> {
    Calculation::inside(inner)?.terms().map(|terms| written(&terms))
}

/// A sum as it is written down.
pub(crate) fn written(terms: &Terms) -> String {
    let mut out = String::new();
    for (unit, value) in terms {
        // Nothing that was taken away was written with its sign.
        if out.is_empty() {
            out = format!("{}{unit}", number(*value));
        } else {
            let sign = if value.is_sign_negative() { '-' } else { '+' };
            out.push_str(&format!(" {sign} {}{unit}", number(value.abs())));
        }
    }
    out
}

type Parsed = Result<Calculation, ParseError<()>>;

fn no<T>() -> Result<T, ParseError<()>> {
    Err(ParseError::custom(()))
}

/// Operands with what stands between them: `turned` is what the second of the operators makes of the one after it.
fn chain(
    input: &mut Parser<'_>,
    operand: fn(&mut Parser<'_>) -> Parsed,
    operators: [char; 2],
    turned: fn(Calculation) -> Calculation,
    whole: fn(Vec<Calculation>) -> Calculation,
) -> Parsed {
    let mut parts = vec![operand(input)?];
    while let Ok(turns) = input.try_parse(|input| match input.next()? {
        Token::Delim(c) if operators.contains(c) => Ok(*c == operators[1]),
        _ => no(),
    }) {
        let part = operand(input)?;
        parts.push(if turns { turned(part) } else { part });
    }
    Ok(if parts.len() == 1 { parts.swap_remove(0) } else { whole(parts) })
}

fn sum(input: &mut Parser<'_>) -> Parsed {
    let negative = |part| Calculation::Product(vec![Calculation::Value(-1.0, String::new()), part]);
    chain(input, product, ['+', '-'], negative, Calculation::Sum)
}

fn product(input: &mut Parser<'_>) -> Parsed {
    chain(input, single, ['*', '/'], |part| Calculation::Inverse(Box::new(part)), Calculation::Product)
}

fn single(input: &mut Parser<'_>) -> Parsed {
    let token = input.next()?.clone();
    match &token {
        Token::Number { value, .. } => Ok(Calculation::Value(f64::from(*value), String::new())),
        Token::Percentage { unit_value, .. } => Ok(Calculation::Value(f64::from(*unit_value) * 100.0, "%".into())),
        Token::Dimension { value, unit, .. } => Ok(Calculation::Value(f64::from(*value), unit.to_ascii_lowercase())),
        Token::ParenthesisBlock => input.parse_nested_block(sum),
        Token::Function(name) => {
            let name = name.to_ascii_lowercase();
            input.parse_nested_block(|input| {
                let mut list = input.parse_comma_separated(sum)?;
                match (name.as_str(), list.len()) {
                    ("calc", 1) => Ok(list.swap_remove(0)),
                    ("min", _) => Ok(Calculation::Min(list)),
                    ("max", _) => Ok(Calculation::Max(list)),
                    ("clamp", 3) => {
                        let low = list.remove(0);
                        Ok(Calculation::Max(vec![low, Calculation::Min(list)]))
                    }
                    _ => no(),
                }
            })
        }
        _ => no(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// What Chromium writes.
    #[test]
    fn terms_are_put_together() {
        for (inner, out) in [
            ("1px + 2%", Some("2% + 1px")),
            ("100% - 10px", Some("100% - 10px")),
            ("10px - 100%", Some("-100% + 10px")),
            ("2 * (10px + 1em)", Some("2em + 20px")),
            ("1px + 2px", Some("3px")),
            ("50% + 0px", Some("50% + 0px")),
            ("100% - 0px", Some("100% - 0px")),
            ("10% * 2", Some("20%")),
            ("1 + 1", Some("2")),
            ("100% / 3 - 2 * 1em - 2 * 1px", Some("33.3333% - 2em - 2px")),
            ("max(1px, 3px) + 1px", Some("4px")),
            ("max(1px, 3%) + 1px", None),
            ("1px + var(--gap)", None),
            ("1px / 0", None),
            ("1 + 1px", None),
        ] {
            assert_eq!(simplified(inner).as_deref(), out, "{inner}");
        }
    }

    #[test]
    fn expressions_come_to_pixels() {
        for (text, basis, px) in [
            ("12px", 0.0, 12.0),
            ("25%", 80.0, 20.0),
            ("calc(100% - 38px)", 100.0, 62.0),
            ("calc((100% - 8px) / 2 + 3 * 2px)", 100.0, 52.0),
            ("min(50%, 30px)", 100.0, 30.0),
            ("clamp(10px, 5%, 20px)", 100.0, 10.0),
            ("calc(100% - max(4px, 10%))", 100.0, 90.0),
        ] {
            let found = Calculation::parse(text).and_then(|c| c.resolve(basis));
            assert!(found.is_some_and(|found| (found - px).abs() < 1e-4), "{text}: {found:?}");
        }
        for text in ["auto", "1fr", "calc(1px +)", "10em", ""] {
            assert_eq!(Calculation::parse(text).and_then(|c| c.resolve(1.0)), None, "{text}");
        }
    }
}

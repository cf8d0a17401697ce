//! What is calculated, as a browser writes it down (CSS Values §10.13): one term for each unit, percentages first.

use std::collections::BTreeMap;

use cssparser::{Parser, Token};

use crate::css_value::number;

/// Terms by their unit, in the order in which they are written; a plain number has none.
type Terms = BTreeMap<String, f64>;

/// The inside of a `calc()` as it comes out; none where it holds what only a layout or the cascade can tell, or is no calculation.
pub(crate) fn simplified(inner: &str) -> Option<String> {
    let mut parser = Parser::new(inner);
    let terms = sum(&mut parser)?;
    if !parser.is_exhausted() || terms.len() > 1 && terms.contains_key("") {
        return None;
    }
    let mut out = String::new();
    for (unit, value) in &terms {
        // Nothing that was taken away was written with its sign.
        if out.is_empty() {
            out = format!("{}{unit}", number(*value));
        } else {
            let sign = if value.is_sign_negative() { '-' } else { '+' };
            out.push_str(&format!(" {sign} {}{unit}", number(value.abs())));
        }
    }
    Some(out)
}

fn sum(parser: &mut Parser<'_>) -> Option<Terms> {
    let mut out = product(parser)?;
    loop {
        let sign = parser.try_parse(|p| match p.next() {
            Ok(Token::Delim('+')) => Ok(1.0),
            Ok(Token::Delim('-')) => Ok(-1.0),
            _ => Err(()),
        });
        let Ok(sign) = sign else { return Some(out) };
        for (unit, value) in product(parser)? {
            out.entry(unit).and_modify(|v| *v += sign * value).or_insert(sign * value);
        }
    }
}

fn product(parser: &mut Parser<'_>) -> Option<Terms> {
    let mut out = single(parser)?;
    loop {
        let operator = parser.try_parse(|p| match p.next() {
            Ok(Token::Delim(c @ ('*' | '/'))) => Ok(*c),
            _ => Err(()),
        });
        let Ok(operator) = operator else { return Some(out) };
        let next = single(parser)?;
        let plain = |terms: &Terms| if terms.len() == 1 { terms.get("").copied() } else { None };
        let (terms, times) = match (operator, plain(&out), plain(&next)) {
            ('*', _, Some(times)) => (out, times),
            ('*', Some(times), None) => (next, times),
            ('/', _, Some(by)) if by != 0.0 => (out, 1.0 / by),
            _ => return None,
        };
        out = terms.into_iter().map(|(unit, value)| (unit, value * times)).collect();
    }
}

fn single(parser: &mut Parser<'_>) -> Option<Terms> {
    let one = |unit: &str, value: f64| Some(Terms::from([(unit.to_owned(), value)]));
    let nested = |p: &mut Parser<'_>| p.parse_nested_block(|p| sum(p).ok_or_else(|| cssparser::ParseError::<()>::custom(()))).ok();
    match parser.next().ok()?.clone() {
        Token::Number { value, .. } => one("", f64::from(value)),
        Token::Percentage { unit_value, .. } => one("%", f64::from(unit_value) * 100.0),
        Token::Dimension { value, unit, .. } => one(&unit.to_ascii_lowercase(), f64::from(value)),
        Token::ParenthesisBlock => nested(parser),
        Token::Function(name) if name.eq_ignore_ascii_case("calc") => nested(parser),
        _ => None,
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
            ("1px + var(--gap)", None),
            ("1px / 0", None),
            ("1 + 1px", None),
        ] {
            assert_eq!(simplified(inner).as_deref(), out, "{inner}");
        }
    }
}

//! Lengths that a layout resolves: pixels, percentages, and what `calc()` and its like make of them (CSS Values §10).

use cssparser::{ParseError, Parser, Token};

/// An expression of pixels and percentages.
#[derive(Debug, Clone, PartialEq)]
pub enum Length {
    /// Pixels, or a plain number within a product.
    Px(f32),
    /// Hundredths of what it is relative to.
    Percent(f32),
    Sum(Vec<Length>),
    Product(Vec<Length>),
    /// One divided by it.
    Inverse(Box<Length>),
    Min(Vec<Length>),
    Max(Vec<Length>),
}

impl Length {
    /// The expression that a text is; none where it is something else, a keyword say.
    pub fn parse(text: &str) -> Option<Self> {
        if let Some(px) = text.strip_suffix("px").and_then(|n| n.parse().ok()) {
            return Some(Self::Px(px));
        }
        let mut parser = Parser::new(text);
        parser.parse_entirely(value).ok()
    }

    /// What it comes to, relative to `basis`.
    pub fn resolve(&self, basis: f32) -> f32 {
        match self {
            Self::Px(px) => *px,
            Self::Percent(percent) => percent / 100.0 * basis,
            Self::Sum(parts) => parts.iter().map(|p| p.resolve(basis)).sum(),
            Self::Product(parts) => parts.iter().map(|p| p.resolve(basis)).product(),
            Self::Inverse(part) => 1.0 / part.resolve(basis),
            Self::Min(parts) => parts.iter().map(|p| p.resolve(basis)).fold(f32::INFINITY, f32::min),
            Self::Max(parts) => parts.iter().map(|p| p.resolve(basis)).fold(f32::NEG_INFINITY, f32::max),
        }
    }
}

type Parsed = Result<Length, ParseError<()>>;

fn no<T>() -> Result<T, ParseError<()>> {
    Err(ParseError::custom(()))
}

fn value(input: &mut Parser<'_>) -> Parsed {
    let token = input.next()?.clone();
    match &token {
        Token::Number { value, .. } => Ok(Length::Px(*value)),
        Token::Percentage { unit_value, .. } => Ok(Length::Percent(unit_value * 100.0)),
        Token::Dimension { value, unit, .. } if unit.eq_ignore_ascii_case("px") => Ok(Length::Px(*value)),
        Token::ParenthesisBlock => input.parse_nested_block(sum),
        Token::Function(name) => {
            let name = name.to_ascii_lowercase();
            input.parse_nested_block(|input| {
                let mut list = input.parse_comma_separated(sum)?;
                match (name.as_str(), list.len()) {
                    ("calc", 1) => Ok(list.swap_remove(0)),
                    ("min", _) => Ok(Length::Min(list)),
                    ("max", _) => Ok(Length::Max(list)),
                    ("clamp", 3) => {
                        let top = list.pop().unwrap_or(Length::Px(0.0));
                        let mid = list.pop().unwrap_or(Length::Px(0.0));
                        let low = list.pop().unwrap_or(Length::Px(0.0));
                        Ok(Length::Max(vec![low, Length::Min(vec![mid, top])]))
                    }
                    _ => no(),
                }
            })
        }
        _ => no(),
    }
}

fn sum(input: &mut Parser<'_>) -> Parsed {
    let mut parts = vec![product(input)?];
    while let Ok(minus) = input.try_parse(|input| match input.next()? {
        Token::Delim('+') => Ok(false),
        Token::Delim('-') => Ok(true),
        _ => no(),
    }) {
        let part = product(input)?;
        parts.push(if minus { Length::Product(vec![Length::Px(-1.0), part]) } else { part });
    }
    Ok(if parts.len() == 1 { parts.swap_remove(0) } else { Length::Sum(parts) })
}

fn product(input: &mut Parser<'_>) -> Parsed {
    let mut parts = vec![value(input)?];
    while let Ok(divides) = input.try_parse(|input| match input.next()? {
        Token::Delim('*') => Ok(false),
        Token::Delim('/') => Ok(true),
        _ => no(),
    }) {
        let part = value(input)?;
        parts.push(if divides { Length::Inverse(Box::new(part)) } else { part });
    }
    Ok(if parts.len() == 1 { parts.swap_remove(0) } else { Length::Product(parts) })
}

#[cfg(test)]
mod tests {
    use super::*;

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
            assert_eq!(Length::parse(text).map(|l| l.resolve(basis)), Some(px), "{text}");
        }
        for text in ["auto", "1fr", "calc(1px +)", "10em", ""] {
            assert_eq!(Length::parse(text), None, "{text}");
        }
    }
}

//! A value as a tree of tokens (CSS Syntax §5.4.7): what a definition is held against.

use cssparser::{ParseError, Parser, Token};

/// A token, or a bracket with what stands in it.
#[derive(Debug, Clone, PartialEq)]
pub enum Component {
    /// A word as it was written.
    Ident(String),
    /// A number, whole or not.
    Number(f64, Option<i32>),
    /// So many per cent.
    Percentage(f64),
    /// So many of a unit, in lower case.
    Dimension(f64, String),
    /// What stands behind `#`.
    Hash(String),
    /// A text in quotes.
    Text(String),
    /// The address in `url(…)` without quotes.
    Url(String),
    /// A function: its name in lower case, what stands in it, and that as it was written.
    Function(String, Vec<Component>, String),
    /// `(…)` or `[…]`.
    Block(char, Vec<Component>),
    /// Any other sign.
    Sign(char),
}

/// Brackets in brackets that are followed.
const MOST_NESTED: usize = 32;

/// The components of a value; none where it is broken, or nested beyond all sense.
pub fn components(text: &str) -> Option<Vec<Component>> {
    list(&mut Parser::new(text), 0).ok()
}

fn list<'i>(parser: &mut Parser<'i>, depth: usize) -> Result<Vec<Component>, ParseError<()>> {
    if depth > MOST_NESTED {
        return Err(ParseError::custom(()));
    }
    let mut out = Vec::new();
    while let Ok(token) = parser.next() {
        let token = token.clone();
        let inside = |parser: &mut Parser<'i>| {
            parser.parse_nested_block(|p| {
                let start = p.position();
                let inner = list(p, depth + 1)?;
                Ok((inner, p.slice_from(start).to_owned()))
            })
        };
        out.push(match token {
            Token::Ident(word) => Component::Ident(word.to_string()),
            Token::Number { value, int_value, .. } => Component::Number(f64::from(value), int_value),
            Token::Percentage { unit_value, .. } => Component::Percentage(f64::from(unit_value) * 100.0),
            Token::Dimension { value, unit, .. } => Component::Dimension(f64::from(value), unit.to_ascii_lowercase()),
            Token::Hash(digits) | Token::IDHash(digits) => Component::Hash(digits.to_string()),
            Token::QuotedString(text) => Component::Text(text.to_string()),
            Token::UnquotedUrl(address) => Component::Url(address.to_string()),
            Token::Function(name) => {
                let (inner, text) = inside(parser)?;
                Component::Function(name.to_ascii_lowercase(), inner, text)
            }
            Token::ParenthesisBlock => Component::Block('(', inside(parser)?.0),
            Token::SquareBracketBlock => Component::Block('[', inside(parser)?.0),
            Token::Comma => Component::Sign(','),
            Token::Colon => Component::Sign(':'),
            Token::Delim(sign) => Component::Sign(sign),
            _ => return Err(ParseError::custom(())),
        });
    }
    Ok(out)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_value_is_a_tree() {
        let inner = vec![Component::Dimension(1.0, "px".into()), Component::Sign('+'), Component::Percentage(50.0)];
        assert_eq!(
            components("Auto /* no */ CALC(1PX + 50%), [a] #fff 'x' url(y) 2.5"),
            Some(vec![
                Component::Ident("Auto".into()),
                Component::Function("calc".into(), inner, "1PX + 50%".into()),
                Component::Sign(','),
                Component::Block('[', vec![Component::Ident("a".into())]),
                Component::Hash("fff".into()),
                Component::Text("x".into()),
                Component::Url("y".into()),
                Component::Number(2.5, None),
            ])
        );
        for text in ["a ) b", "a; b", "url(a b)", &"(".repeat(40)] {
            assert_eq!(components(text), None, "{text}");
        }
    }
}

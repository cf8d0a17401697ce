//! The language in which the standards say what a property takes (CSS Values §2): `<length> | auto`, `[ left | right ]? && <length>{1,2}`.

/// What a part of a value may be.
#[derive(Debug, Clone, PartialEq)]
pub enum Term {
    /// A word, in lower case.
    Keyword(String),
    /// A sign: `,`, `/`, `+`.
    Literal(char),
    /// A type, `<length>`; the least and the most that a number may be.
    Type(String, f64, f64),
    /// What a property takes: `<'margin-top'>`.
    Property(String),
    /// A function and what stands in it, its name as it is written.
    Function(String, Box<Term>),
    /// Something in round or square brackets.
    Block(char, Box<Term>),
    /// One after the other.
    Sequence(Vec<Term>),
    /// All of them, in any order (`&&`).
    All(Vec<Term>),
    /// One or more of them, in any order (`||`).
    Any(Vec<Term>),
    /// One of them (`|`).
    One(Vec<Term>),
    /// So many times, with commas between or not.
    Repeat {
        /// What is repeated.
        term: Box<Term>,
        /// How often at least.
        least: usize,
        /// How often at most.
        most: usize,
        /// Whether commas stand between.
        commas: bool,
    },
    /// What stands in it is left out as a whole or not at all (`[ … ]!`).
    Filled(Box<Term>),
}

impl Term {
    /// What a definition says; none where it is none.
    pub fn parse(text: &str) -> Option<Self> {
        let mut reader = Reader { tokens: tokens(text)?, at: 0 };
        let term = reader.alternatives()?;
        (reader.at == reader.tokens.len()).then_some(term)
    }
}

#[derive(Debug, Clone, PartialEq)]
enum Token {
    Word(String),
    Type(String),
    Quoted(String),
    /// A word right before a bracket.
    Function(String),
    /// `|`, `||`, `&&`, `[`, `]`, `(`, `)`, `*`, `+`, `?`, `#`, `!`, `,`, `/`.
    Sign(&'static str),
    /// `{1,4}`.
    Times(usize, usize),
}

const SIGNS: [&str; 14] = ["||", "&&", "|", "[", "]", "(", ")", "*", "+", "?", "#", "!", ",", "/"];

fn tokens(text: &str) -> Option<Vec<Token>> {
    let mut out = Vec::new();
    let mut rest = text.trim_start();
    while let Some(first) = rest.chars().next() {
        let mut taken = 0;
        if first == '<' {
            let end = rest.find('>')?;
            out.push(Token::Type(rest[1..end].to_owned()));
            taken = end + 1;
        } else if first == '\'' {
            let end = rest[1..].find('\'')? + 1;
            out.push(Token::Quoted(rest[1..end].to_owned()));
            taken = end + 1;
        } else if first == '{' {
            let end = rest.find('}')?;
            let (least, most) = rest[1..end].split_once(',').map_or((&rest[1..end], None), |(a, b)| (a, Some(b)));
            let least: usize = least.trim().parse().ok()?;
            let most = match most.map(str::trim) {
                None => least,
                Some("") => usize::MAX,
                Some(most) => most.parse().ok()?,
            };
            out.push(Token::Times(least, most));
            taken = end + 1;
        } else if let Some(sign) = SIGNS.iter().find(|sign| rest.starts_with(**sign)) {
            out.push(Token::Sign(sign));
            taken = sign.len();
        } else {
            let end = rest.find(|c: char| c.is_whitespace() || "[]()|&*+?#!,/{}<>'".contains(c)).unwrap_or(rest.len());
            if end == 0 {
                // A sign that stands for itself.
                out.push(Token::Quoted(first.to_string()));
                taken = first.len_utf8();
            } else {
                let word = rest[..end].to_owned();
                taken += end;
                if rest[end..].starts_with('(') {
                    out.push(Token::Function(word));
                    taken += 1;
                } else {
                    out.push(Token::Word(word));
                }
            }
        }
        rest = rest[taken..].trim_start();
    }
    Some(out)
}

struct Reader {
    tokens: Vec<Token>,
    at: usize,
}

impl Reader {
    fn is(&self, sign: &str) -> bool {
        matches!(self.tokens.get(self.at), Some(Token::Sign(s)) if *s == sign)
    }

    fn take(&mut self, sign: &str) -> bool {
        let is = self.is(sign);
        self.at += usize::from(is);
        is
    }

    /// Parts between a combinator; what binds more stands in them.
    fn between(&mut self, sign: &str, part: fn(&mut Self) -> Option<Term>, whole: fn(Vec<Term>) -> Term) -> Option<Term> {
        let mut parts = vec![part(self)?];
        while self.take(sign) {
            parts.push(part(self)?);
        }
        Some(if parts.len() == 1 { parts.swap_remove(0) } else { whole(parts) })
    }

    fn alternatives(&mut self) -> Option<Term> {
        self.between("|", |r| r.between("||", |r| r.between("&&", Self::sequence, Term::All), Term::Any), Term::One)
    }

    fn sequence(&mut self) -> Option<Term> {
        let mut parts = Vec::new();
        while self.at < self.tokens.len() && !["|", "||", "&&", "]", ")"].iter().any(|sign| self.is(sign)) {
            parts.push(self.repeated()?);
        }
        match parts.len() {
            0 => None,
            1 => parts.pop(),
            _ => Some(Term::Sequence(parts)),
        }
    }

    fn repeated(&mut self) -> Option<Term> {
        let mut term = self.single()?;
        loop {
            let (least, most, commas) = match self.tokens.get(self.at) {
                Some(Token::Sign("*")) => (0, usize::MAX, false),
                Some(Token::Sign("+")) => (1, usize::MAX, false),
                Some(Token::Sign("?")) => (0, 1, false),
                Some(Token::Times(least, most)) => (*least, *most, false),
                Some(Token::Sign("#")) => match self.tokens.get(self.at + 1) {
                    Some(Token::Times(least, most)) => {
                        let times = (*least, *most, true);
                        self.at += 1;
                        times
                    }
                    _ => (1, usize::MAX, true),
                },
                Some(Token::Sign("!")) => {
                    self.at += 1;
                    term = Term::Filled(Box::new(term));
                    continue;
                }
                _ => return Some(term),
            };
            self.at += 1;
            term = Term::Repeat { term: Box::new(term), least, most, commas };
        }
    }

    fn single(&mut self) -> Option<Term> {
        let token = self.tokens.get(self.at)?.clone();
        self.at += 1;
        Some(match token {
            Token::Word(word) => Term::Keyword(word.to_ascii_lowercase()),
            Token::Quoted(text) => {
                let mut chars = text.chars();
                match (chars.next()?, chars.next()) {
                    (sign, None) => Term::Literal(sign),
                    _ => Term::Keyword(text.to_ascii_lowercase()),
                }
            }
            Token::Type(text) => typed(&text)?,
            // One with nothing in it stands for what is said of it elsewhere.
            Token::Function(name) if self.take(")") => Term::Type(format!("{name}()"), f64::NEG_INFINITY, f64::INFINITY),
            Token::Function(name) => {
                let inner = self.alternatives()?;
                self.take(")").then_some(Term::Function(name, Box::new(inner)))?
            }
            Token::Sign("[") => {
                let inner = self.alternatives()?;
                self.take("]").then_some(inner)?
            }
            Token::Sign("(") => {
                let inner = self.alternatives()?;
                self.take(")").then_some(Term::Block('(', Box::new(inner)))?
            }
            Token::Sign(sign @ ("," | "/" | "*" | "+")) => Term::Literal(sign.chars().next()?),
            Token::Sign(_) | Token::Times(..) => return None,
        })
    }
}

/// What stands between `<` and `>`.
fn typed(text: &str) -> Option<Term> {
    if let Some(name) = text.strip_prefix('\'') {
        return Some(Term::Property(name.trim_end_matches('\'').to_owned()));
    }
    let Some((name, range)) = text.split_once('[') else {
        return Some(Term::Type(text.trim().to_owned(), f64::NEG_INFINITY, f64::INFINITY));
    };
    let (least, most) = range.trim_end().strip_suffix(']')?.split_once(',')?;
    let bound = |text: &str| match text.trim() {
        "∞" | "+∞" => Some(f64::INFINITY),
        "-∞" | "−∞" => Some(f64::NEG_INFINITY),
        number => number.trim_end_matches(|c: char| c.is_alphabetic()).parse().ok(),
    };
    Some(Term::Type(name.trim().to_owned(), bound(least)?, bound(most)?))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_binds_more_stands_in_what_binds_less() {
        let word = |w: &str| Term::Keyword(w.into());
        let any = |name: &str| Term::Type(name.into(), f64::NEG_INFINITY, f64::INFINITY);
        assert_eq!(
            Term::parse("a b | c || d && e"),
            Some(Term::One(vec![
                Term::Sequence(vec![word("a"), word("b")]),
                Term::Any(vec![word("c"), Term::All(vec![word("d"), word("e")])])
            ]))
        );
        let repeat = |term, least, most, commas| Term::Repeat { term: Box::new(term), least, most, commas };
        assert_eq!(Term::parse("<length>{2,4}"), Some(repeat(any("length"), 2, 4, false)));
        assert_eq!(Term::parse("[ <time> ]#{2}"), Some(repeat(any("time"), 2, 2, true)));
        assert_eq!(Term::parse("<shadow>#?"), Some(repeat(repeat(any("shadow"), 1, usize::MAX, true), 0, 1, false)));
        assert_eq!(Term::parse("<number [0,∞]>"), Some(Term::Type("number".into(), 0.0, f64::INFINITY)));
        assert_eq!(Term::parse("<'gap'>"), Some(Term::Property("gap".into())));
        assert_eq!(
            Term::parse("steps( <integer> , end? )"),
            Some(Term::Function(
                "steps".into(),
                Box::new(Term::Sequence(vec![any("integer"), Term::Literal(','), repeat(word("end"), 0, 1, false)]))
            ))
        );
        for text in ["", "[ a", "a |", "<length", "{1}"] {
            assert_eq!(Term::parse(text), None, "{text}");
        }
    }
}

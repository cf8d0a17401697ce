//! What is calculated (CSS Values §10): read once, and asked what it comes to by whoever knows more.

use std::collections::BTreeMap;

use cssparser::{ParseError, Parser, Token};

use crate::value::number;

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
    /// Any other function (CSS Values §10.2 to §10.6).
    Call(String, Vec<Calculation>),
}

/// Sums by their unit, in the order in which they are written; a plain number has none.
pub type Terms = BTreeMap<String, f64>;

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
            Self::Call(name, parts) => function(name, &all(parts)?)?,
        })
    }

    /// The functions, sums and products of it as they were written, for what nobody can work out yet.
    fn text(&self) -> String {
        if let Some(terms) = self.terms() {
            return written(&terms);
        }
        let list = |parts: &[Self]| parts.iter().map(Self::text).collect::<Vec<_>>().join(", ");
        let inner = |part: &Self| match part {
            Self::Sum(_) => format!("({})", part.text()),
            _ => part.text(),
        };
        match self {
            Self::Value(value, unit) => format!("{}{unit}", number(*value)),
            Self::Sum(parts) => parts.iter().map(Self::text).fold(String::new(), |out, part| match part.strip_prefix('-') {
                _ if out.is_empty() => part,
                Some(less) => format!("{out} - {less}"),
                None => format!("{out} + {part}"),
            }),
            Self::Product(parts) => parts.iter().fold(String::new(), |out, part| match part {
                Self::Inverse(by) if !out.is_empty() => format!("{out} / {}", inner(by)),
                _ if out.is_empty() => inner(part),
                _ => format!("{out} * {}", inner(part)),
            }),
            Self::Inverse(by) => format!("1 / {}", inner(by)),
            Self::Min(parts) => format!("min({})", list(parts)),
            Self::Max(parts) => format!("max({})", list(parts)),
            Self::Call(name, parts) => match name.split_once(' ') {
                Some((name, way)) => format!("{name}({way}, {})", list(parts)),
                None => format!("{name}({})", list(parts)),
            },
        }
    }

    /// What it is of; none where things of several kinds are put together (CSS Values §10.9).
    fn kind(&self) -> Option<Kind> {
        let same = |parts: &[Self]| {
            parts.iter().map(Self::kind).try_fold(None::<Kind>, |known, kind| match (known, kind?) {
                (None, kind) => Some(Some(kind)),
                (Some(known), kind) => known.with(kind).map(Some),
            })?
        };
        match self {
            Self::Value(_, unit) => kind_of_unit(unit),
            Self::Sum(parts) | Self::Min(parts) | Self::Max(parts) => same(parts),
            Self::Product(parts) => parts.iter().map(Self::kind).try_fold(Kind::NUMBER, |known, kind| match (known, kind?) {
                (Kind::NUMBER, kind) => Some(kind),
                (known, Kind::NUMBER) => Some(known),
                _ => None,
            }),
            Self::Inverse(by) => by.kind().filter(|k| *k == Kind::NUMBER),
            Self::Call(name, parts) => match name.split(' ').next().unwrap_or_default() {
                "sin" | "cos" | "tan" => same(parts).filter(|k| *k == Kind::NUMBER || *k == Kind::ANGLE).map(|_| Kind::NUMBER),
                "asin" | "acos" | "atan" => same(parts).filter(|k| *k == Kind::NUMBER).map(|_| Kind::ANGLE),
                "atan2" => same(parts).map(|_| Kind::ANGLE),
                "pow" | "sqrt" | "log" | "exp" => same(parts).filter(|k| *k == Kind::NUMBER),
                "sign" | "progress" => same(parts).map(|_| Kind::NUMBER),
                "abs" | "mod" | "rem" | "hypot" | "clamp" | "round" => same(parts),
                _ => None,
            },
        }
    }

    /// It as one sum; none where that depends on what nobody knows yet.
    pub fn terms(&self) -> Option<Terms> {
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
            Self::Call(name, parts) => {
                let all = parts.iter().map(Self::terms).collect::<Option<Vec<Terms>>>()?;
                let unit = all.first().filter(|terms| terms.len() == 1)?.keys().next()?.clone();
                let values =
                    all.iter().map(|t| t.get(&unit).copied().filter(|_| t.len() == 1 && unit != "%")).collect::<Option<Vec<f64>>>()?;
                let is_turned = matches!(name.as_str(), "sin" | "cos" | "tan") && unit == "deg";
                let values: Vec<f64> = if is_turned { values.iter().map(|v| v.to_radians()).collect() } else { values };
                let unit = match name.as_str() {
                    "sin" | "cos" | "tan" | "sign" | "progress" => String::new(),
                    "asin" | "acos" | "atan" | "atan2" => "deg".into(),
                    _ => unit,
                };
                Some(Terms::from([(unit, function(name, &values)?)]))
            }
        }
    }
}

/// What a number is of.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Kind(u16);

impl Kind {
    /// No unit.
    pub const NUMBER: Self = Self(1);
    /// A share.
    pub const PERCENTAGE: Self = Self(2);
    /// `px`, `em` and their like.
    pub const LENGTH: Self = Self(4);
    /// `deg` and its like.
    pub const ANGLE: Self = Self(8);
    /// `s`, `ms`.
    pub const TIME: Self = Self(16);
    /// `hz`, `khz`.
    pub const FREQUENCY: Self = Self(32);
    /// `dppx` and its like.
    pub const RESOLUTION: Self = Self(64);
    /// `fr`.
    pub const FLEX: Self = Self(128);

    /// A length or a share of one.
    pub const LENGTH_PERCENTAGE: Self = Self(4 + 2);
    /// An angle or a share of one.
    pub const ANGLE_PERCENTAGE: Self = Self(8 + 2);
    /// A time or a share of one.
    pub const TIME_PERCENTAGE: Self = Self(16 + 2);
    /// A number or a share.
    pub const NUMBER_PERCENTAGE: Self = Self(1 + 2);

    /// Whether what is of another kind may stand for it.
    pub fn has(self, other: Self) -> bool {
        other.0 & !self.0 == 0
    }

    /// Of both: the same, or a share of the other. None where they cannot be added.
    fn with(self, other: Self) -> Option<Self> {
        let share = Self::PERCENTAGE.0;
        let (a, b) = (self.0 & !share, other.0 & !share);
        let plain = Self::NUMBER.0;
        // A number is no share of anything.
        let apart = a != b && a != 0 && b != 0 || (a | b) & plain != 0 && (self.0 | other.0) & share != 0;
        (!apart).then_some(Self(self.0 | other.0))
    }
}

/// The kind of a unit in lower case: none for no number, `%` for a share.
pub fn kind_of_unit(unit: &str) -> Option<Kind> {
    const LENGTHS: [&str; 45] = [
        "px", "em", "rem", "ex", "rex", "ch", "rch", "cap", "rcap", "ic", "ric", "lh", "rlh", "vw", "vh", "vi", "vb", "vmin", "vmax",
        "svw", "svh", "svi", "svb", "svmin", "svmax", "lvw", "lvh", "lvi", "lvb", "lvmin", "lvmax", "dvw", "dvh", "dvi", "dvb", "dvmin",
        "dvmax", "cqw", "cqh", "cqi", "cqb", "cqmin", "cqmax", "cm", "mm",
    ];
    Some(match unit {
        "" => Kind::NUMBER,
        "%" => Kind::PERCENTAGE,
        "in" | "pt" | "pc" | "q" => Kind::LENGTH,
        "deg" | "grad" | "rad" | "turn" => Kind::ANGLE,
        "s" | "ms" => Kind::TIME,
        "hz" | "khz" => Kind::FREQUENCY,
        "dppx" | "x" | "dpi" | "dpcm" => Kind::RESOLUTION,
        "fr" => Kind::FLEX,
        unit if LENGTHS.contains(&unit) => Kind::LENGTH,
        _ => return None,
    })
}

/// So many of a unit in the one that all of its kind are written in where something is calculated (CSS Values §6.2, §7).
fn absolute(value: f64, unit: &str) -> (f64, &str) {
    match unit {
        "in" => (value * 96.0, "px"),
        "cm" => (value * 96.0 / 2.54, "px"),
        "mm" => (value * 96.0 / 25.4, "px"),
        "q" => (value * 96.0 / 101.6, "px"),
        "pt" => (value * 96.0 / 72.0, "px"),
        "pc" => (value * 16.0, "px"),
        "grad" => (value * 0.9, "deg"),
        "rad" => (value.to_degrees(), "deg"),
        "turn" => (value * 360.0, "deg"),
        "ms" => (value / 1000.0, "s"),
        "khz" => (value * 1000.0, "hz"),
        "x" => (value, "dppx"),
        "dpi" => (value / 96.0, "dppx"),
        "dpcm" => (value * 2.54 / 96.0, "dppx"),
        _ => (value, unit),
    }
}

/// The functions that calculate (CSS Values §10).
const FUNCTIONS: [&str; 22] = [
    "calc", "min", "max", "clamp", "round", "mod", "rem", "sin", "cos", "tan", "asin", "acos", "atan", "atan2", "pow", "sqrt", "hypot",
    "log", "exp", "abs", "sign", "progress",
];

/// Whether a function calculates.
pub fn is_math(name: &str) -> bool {
    FUNCTIONS.contains(&name)
}

/// What a function that calculates is of, and its text as a browser writes it down; none where it is no calculation.
pub fn read(name: &str, inner: &str) -> Option<(Kind, String)> {
    let calculation = Calculation::parse(&format!("{name}({inner})"))?;
    let kind = calculation.kind()?;
    let text = calculation.text();
    // What came out as one sum is a calculation still; a function that stays one needs no other around it.
    let is_function =
        calculation.terms().is_none() && !matches!(calculation, Calculation::Sum(_) | Calculation::Product(_) | Calculation::Inverse(_));
    Some((kind, if is_function { text } else { format!("calc({text})") }))
}

/// What a function comes to, of plain numbers; angles are radians.
fn function(name: &str, values: &[f64]) -> Option<f64> {
    Some(match (name, values) {
        ("sin", [a]) => a.sin(),
        ("cos", [a]) => a.cos(),
        ("tan", [a]) => a.tan(),
        ("asin", [a]) => a.asin().to_degrees(),
        ("acos", [a]) => a.acos().to_degrees(),
        ("atan", [a]) => a.atan().to_degrees(),
        ("atan2", [a, b]) => a.atan2(*b).to_degrees(),
        ("pow", [a, b]) => a.powf(*b),
        ("sqrt", [a]) => a.sqrt(),
        ("hypot", all) => all.iter().map(|v| v * v).sum::<f64>().sqrt(),
        ("log", [a]) => a.ln(),
        ("log", [a, b]) => a.log(*b),
        ("exp", [a]) => a.exp(),
        ("abs", [a]) => a.abs(),
        ("sign", [a]) => {
            if *a == 0.0 {
                *a
            } else {
                a.signum()
            }
        }
        ("mod", [a, b]) => a - b * (a / b).floor(),
        ("rem", [a, b]) => a % b,
        ("round", [a]) => (a + 0.5).floor(),
        ("round", [a, by]) => (a / by + 0.5).floor() * by,
        ("round up", [a, by]) => (a / by).ceil() * by,
        ("round down", [a, by]) => (a / by).floor() * by,
        ("round to-zero", [a, by]) => (a / by).trunc() * by,
        ("clamp", [low, a, high]) => a.min(*high).max(*low),
        ("progress", [a, from, to]) => (a - from) / (to - from),
        _ => return None,
    })
}

/// The inside of a `calc()` as a browser writes it down (§10.13): one term for each unit, percentages first. None where it holds what only a
/// layout or the cascade can tell, or is no calculation.
pub(crate) fn simplified(inner: &str) -> Option<String> {
    Calculation::inside(inner)?.terms().map(|terms| written(&terms))
}

/// A sum as it is written down.
pub fn written(terms: &Terms) -> String {
    let mut out = String::new();
    // What is beyond all numbers has a name, and its unit beside it (CSS Values §10.7.1).
    if let Some((unit, value)) = terms.iter().find(|(_, value)| !value.is_finite()) {
        let name = match () {
            () if value.is_nan() => "NaN",
            () if *value > 0.0 => "infinity",
            () => "-infinity",
        };
        return if unit.is_empty() { name.into() } else { format!("{name} * 1{unit}") };
    }
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
        Token::Dimension { value, unit, .. } => {
            let unit = unit.to_ascii_lowercase();
            let (value, unit) = absolute(f64::from(*value), &unit);
            Ok(Calculation::Value(value, unit.to_owned()))
        }
        Token::Ident(name) => match name.to_ascii_lowercase().as_str() {
            "e" => Ok(Calculation::Value(std::f64::consts::E, String::new())),
            "pi" => Ok(Calculation::Value(std::f64::consts::PI, String::new())),
            "infinity" => Ok(Calculation::Value(f64::INFINITY, String::new())),
            "-infinity" => Ok(Calculation::Value(f64::NEG_INFINITY, String::new())),
            "nan" => Ok(Calculation::Value(f64::NAN, String::new())),
            _ => no(),
        },
        Token::ParenthesisBlock => input.parse_nested_block(sum),
        Token::Function(name) => {
            let name = name.to_ascii_lowercase();
            input.parse_nested_block(|input| {
                // How it is rounded stands before what is.
                let way = input.try_parse(|input| {
                    let way = input.expect_ident_cloned().map_err(|_| ParseError::<()>::custom(()))?.to_ascii_lowercase();
                    let is_way = name == "round" && ["nearest", "up", "down", "to-zero"].contains(&way.as_str());
                    let way = if is_way { Ok(way) } else { no() };
                    input.expect_comma().map_err(|_| ParseError::<()>::custom(()))?;
                    way
                });
                let way = way.ok().filter(|way| way != "nearest").map(|way| format!(" {way}")).unwrap_or_default();
                let mut list = input.parse_comma_separated(sum)?;
                match (name.as_str(), list.len()) {
                    ("calc", 1) => Ok(list.swap_remove(0)),
                    ("min", _) => Ok(Calculation::Min(list)),
                    ("max", _) => Ok(Calculation::Max(list)),
                    ("clamp", 3) => Ok(Calculation::Call(name, list)),
                    ("calc" | "clamp", _) => no(),
                    (name, _) if is_math(name) => Ok(Calculation::Call(format!("{name}{way}"), list)),
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

//! Values of properties as a browser writes them after a script set them (CSSOM §6.7.2): numbers with six significant digits,
//! colours as `rgb(…)`, a zero length with its unit, one space where the grammar has any, and what some shorthands leave out
//! or write in an order of their own.
//!
//! What is no value of a property by its definition ([`grammar`]) is refused: [`canonical`] gives none. Of the few properties without one,
//! older names that browsers keep, a word is refused that it has not ([`words`]); the rest is taken as it is, and so is what is very long.

use cssparser::{Parser, Token};

use crate::arrange::{arranged, shadow, shortest};
use crate::component::{Component, components};
use crate::{arrange, grammar, matching, words};

/// The value as it is kept; none when it is no value of this property, so that setting it changes nothing. Custom properties stay
/// as written.
pub fn canonical(name: &str, value: &str) -> Option<String> {
    if name.starts_with("--") {
        return Some(value.to_owned());
    }
    let name = property(name);
    let value = value.trim();
    if is_substituted(value) {
        // What is substituted later stays as it was written.
        return components(value).map(|_| value.to_owned());
    }
    if words::is_word(value) {
        let word = value.to_ascii_lowercase();
        // A name that an author made up stays as it was written.
        if words::is_own(name, &word) || words::takes(name, &word) && words::takes("color", &word) {
            return Some(arranged(name, &word));
        }
        let fits = |term| components(value).and_then(|list| matching::matched(name, term, &list)).is_some();
        return (words::takes(name, &word) && grammar::of_property(name).is_none_or(fits)).then(|| arranged(name, value));
    }
    if !words::is_known(name) {
        return None;
    }
    let list = components(value)?;
    let text = match grammar::of_property(name).filter(|_| !matching::is_too_long(&list)) {
        Some(term) => matching::matched(name, term, &list)?,
        None => loose(name, value).map(|text| text.trim().to_owned()).filter(|text| !text.is_empty())?,
    };
    Some(arranged(name, &text))
}

/// Whether a value holds what is known when it is computed alone (CSS Variables §3, CSS Mixins §2).
fn is_substituted(value: &str) -> bool {
    let lower = value.to_ascii_lowercase();
    let is_own =
        || components(&lower).is_some_and(|list| list.iter().any(|c| matches!(c, Component::Function(name, ..) if name.starts_with("--"))));
    if lower.contains("--") && lower.contains('(') && is_own() {
        return true;
    }
    ["var(", "env(", "attr(", "if("]
        .iter()
        .any(|f| lower.match_indices(f).any(|(at, _)| !lower[..at].ends_with(|c: char| c.is_alphanumeric() || c == '-')))
}

/// The text of a value of which it is not known what it may be.
pub(crate) fn loose(name: &str, value: &str) -> Option<String> {
    sequence(&mut Parser::new(value), name, "")
}

/// The text of one component, whatever takes it.
pub(crate) fn plain(name: &str, component: &Component) -> String {
    match component {
        Component::Ident(word) => word.clone(),
        Component::Number(n, _) => number(*n),
        Component::Percentage(n) => format!("{}%", number(*n)),
        Component::Dimension(n, unit) => format!("{}{unit}", number(*n)),
        Component::Hash(digits) => format!("#{digits}"),
        Component::Text(text) => quoted(text),
        Component::Url(address) => format!("url({})", quoted(address)),
        Component::Function(function, _, inner) => {
            let text = format!("{function}({inner})");
            loose(name, &text).unwrap_or(text)
        }
        Component::Block(open, list) => {
            let inner = list.iter().map(|c| plain(name, c)).collect::<Vec<_>>().join(" ");
            format!("{open}{inner}{}", if *open == '(' { ')' } else { ']' })
        }
        Component::Sign(sign) => sign.to_string(),
    }
}

/// The name under which a property is kept: some have older ones.
pub fn property(name: &str) -> &str {
    const SAME: [&str; 23] = [
        "transform",
        "transform-origin",
        "transform-style",
        "transition",
        "transition-delay",
        "transition-duration",
        "transition-property",
        "transition-timing-function",
        "animation",
        "animation-delay",
        "animation-duration",
        "animation-name",
        "box-shadow",
        "border-radius",
        "flex",
        "flex-direction",
        "flex-wrap",
        "align-items",
        "justify-content",
        "user-select",
        "filter",
        "appearance",
        "backface-visibility",
    ];
    match name {
        "word-wrap" => "overflow-wrap",
        "grid-gap" => "gap",
        "grid-row-gap" => "row-gap",
        "grid-column-gap" => "column-gap",
        _ => name.strip_prefix("-webkit-").filter(|rest| SAME.contains(rest)).unwrap_or(name),
    }
}

/// Functions that calculate.
const MATHS: [&str; 4] = ["calc", "min", "max", "clamp"];

/// A sequence of tokens within the function `within`, or at the top. None for what no property takes.
fn sequence(parser: &mut Parser<'_>, name: &str, within: &str) -> Option<String> {
    let mut out = String::new();
    while let Ok(token) = parser.next_including_whitespace_and_comments() {
        let token = token.clone();
        match token {
            Token::WhiteSpace(_) => {
                if !out.ends_with([' ', '(']) && !out.is_empty() {
                    out.push(' ');
                }
            }
            Token::Comment(_) => {}
            Token::Comma => {
                out.truncate(out.trim_end().len());
                out.push_str(", ");
            }
            Token::Delim('/') => {
                out.truncate(out.trim_end().len());
                out.push_str(" / ");
            }
            Token::Delim(c @ ('+' | '*')) if !within.is_empty() => {
                out.truncate(out.trim_end().len());
                out.push_str(&format!(" {c} "));
            }
            Token::Delim(c) => out.push(c),
            // What is calculated is rounded when it is done.
            Token::Number { value, .. } if within == "calc" => out.push_str(&value.to_string()),
            Token::Number { value, .. } => out.push_str(&bare(name, within, value)),
            Token::Percentage { unit_value, .. } => out.push_str(&format!("{}%", number(f64::from(unit_value) * 100.0))),
            Token::Dimension { value, ref unit, .. } => out.push_str(&format!("{}{}", number(f64::from(value)), unit.to_ascii_lowercase())),
            Token::Hash(ref digits) | Token::IDHash(ref digits) => {
                out.push_str(&hex_colour(digits).unwrap_or_else(|| format!("#{digits}")))
            }
            Token::Ident(ref word) => {
                if word.get(..3).is_some_and(|w| w.eq_ignore_ascii_case("nan")) {
                    return None;
                }
                // What is calculated has no names but those of a few constants (CSS Values §10.7).
                let constants = ["e", "pi", "infinity", "-infinity", "none"];
                if MATHS.contains(&within) && !constants.iter().any(|c| word.eq_ignore_ascii_case(c)) {
                    return None;
                }
                let made_up = word.starts_with("--") || is_named(name);
                out.push_str(&if made_up { word.to_string() } else { word.to_ascii_lowercase() });
            }
            Token::QuotedString(ref text) => out.push_str(&quoted(text)),
            Token::UnquotedUrl(ref address) => out.push_str(&format!("url({})", quoted(address))),
            Token::Function(ref function) => {
                let function = function.to_ascii_lowercase();
                let inner =
                    parser.parse_nested_block(|p| sequence(p, name, &function).ok_or_else(|| cssparser::ParseError::<()>::custom(())));
                out.push_str(&called(&function, inner.ok()?.trim()));
            }
            Token::ParenthesisBlock => {
                let around = if MATHS.contains(&within) { within } else { "(" };
                let inner = parser.parse_nested_block(|p| sequence(p, name, around).ok_or_else(|| cssparser::ParseError::<()>::custom(())));
                out.push_str(&format!("({})", inner.ok()?.trim()));
            }
            Token::SquareBracketBlock => {
                let inner = parser.parse_nested_block(|p| sequence(p, name, "[").ok_or_else(|| cssparser::ParseError::<()>::custom(())));
                out.push_str(&format!("[{}]", inner.ok()?.trim()));
            }
            Token::Colon => out.push(':'),
            _ => return None,
        }
        // A slash or comma brings its own space.
        if out.ends_with("  ") {
            out.pop();
        }
    }
    Some(out)
}

/// Names that an author made up stay as written.
fn is_named(name: &str) -> bool {
    const NAMED: [&str; 8] = ["font", "animation", "grid", "counter", "will-change", "view-", "container", "anchor"];
    NAMED.iter().any(|n| name.starts_with(n))
}

pub(crate) fn quoted(text: &str) -> String {
    format!("\"{}\"", text.replace('\\', "\\\\").replace('"', "\\\""))
}

/// A number with six significant digits, as browsers write those of CSS.
pub fn number(value: f64) -> String {
    if value == 0.0 {
        return "0".into();
    }
    // A CSS number is kept in single precision: its shortest digits are the ones that were written.
    #[allow(clippy::cast_possible_truncation, reason = "that is how precise a CSS number is")]
    let exact: f64 = (value as f32).to_string().parse().unwrap_or(value);
    #[allow(clippy::cast_possible_truncation, reason = "far below 400")]
    let exponent = exact.abs().log10().floor() as i32;
    let rounded: f64 = format!("{exact:.5e}").parse().unwrap_or(exact);
    if !(-5..6).contains(&exponent) || exponent == -5 {
        let text = format!("{rounded:e}");
        let (digits, power) = text.split_once('e').unwrap_or((&text, "0"));
        let power: i32 = power.parse().unwrap_or(0);
        return format!("{digits}e{}{:02}", if power < 0 { '-' } else { '+' }, power.abs());
    }
    rounded.to_string()
}

/// A number without a unit: a zero has one where a length or an angle is meant.
fn bare(name: &str, within: &str, value: f32) -> String {
    let text = number(f64::from(value));
    if text != "0" {
        return text;
    }
    let unit = match within {
        "" if grammar::mentions(name, "length") => "px",
        "translate" | "translatex" | "translatey" | "translatez" | "translate3d" | "rect" | "inset" | "blur" | "drop-shadow" | "minmax"
        | "perspective" | "polygon" | "circle" | "ellipse" => "px",
        "rotate" | "rotatex" | "rotatey" | "rotatez" | "skew" | "skewx" | "skewy" | "hue-rotate" => "deg",
        _ => "",
    };
    text + unit
}

/// A function as it is written: colours in the one form that they have.
pub(crate) fn called(function: &str, inner: &str) -> String {
    let function = &*function.to_ascii_lowercase();
    let name = match function {
        "translatex" => "translateX",
        "translatey" => "translateY",
        "translatez" => "translateZ",
        "rotatex" => "rotateX",
        "rotatey" => "rotateY",
        "rotatez" => "rotateZ",
        "scalex" => "scaleX",
        "scaley" => "scaleY",
        "scalez" => "scaleZ",
        "skewx" => "skewX",
        "skewy" => "skewY",
        other => other,
    };
    match function {
        "rgb" | "rgba" | "hsl" | "hsla" => colour(function, inner).unwrap_or_else(|| format!("{name}({inner})")),
        _ if let Some(text) = arrange::in_function(function, inner) => format!("{name}({text})"),
        "calc" => format!("calc({})", crate::math::simplified(inner).unwrap_or_else(|| inner.to_owned())),
        "url" => format!("url({inner})"),
        "rect" => format!("rect({})", inner.split([' ', ',']).filter(|w| !w.is_empty()).collect::<Vec<_>>().join(", ")),
        "inset" => format!("inset({})", shortest(&inner.split(' ').collect::<Vec<_>>())),
        "scale" | "scalex" | "scaley" | "scalez" | "scale3d" => {
            // CSS Transforms 2 §7: a share of one is a number.
            let plain = |n: &str| n.trim().strip_suffix('%').and_then(|p| p.parse::<f64>().ok()).map(|p| number(p / 100.0));
            let parts: Vec<String> = inner.split(',').map(|n| plain(n).unwrap_or_else(|| n.trim().to_owned())).collect();
            format!("{name}({})", parts.join(", "))
        }
        "drop-shadow" => format!("drop-shadow({})", shadow(inner)),
        _ => format!("{name}({inner})"),
    }
}

/// CSS Color §15.2: `rgb(…)`, and `rgba(…)` where it is not opaque.
pub(crate) fn colour(function: &str, inner: &str) -> Option<String> {
    let parts: Vec<&str> = inner.split([' ', ',', '/']).filter(|w| !w.is_empty()).collect();
    if !(3..=4).contains(&parts.len()) {
        return None;
    }
    let part = |text: &str, whole: f64| match text.strip_suffix('%') {
        Some(percent) => percent.parse::<f64>().ok().map(|p| p / 100.0 * whole),
        None => text.strip_suffix("deg").unwrap_or(text).parse::<f64>().ok(),
    };
    let rgb = if function.starts_with("rgb") {
        [part(parts[0], 255.0)?, part(parts[1], 255.0)?, part(parts[2], 255.0)?]
    } else {
        from_hsl(part(parts[0], 360.0)?, part(parts[1], 1.0)?, part(parts[2], 1.0)?)
    };
    let [r, g, b] = rgb.map(|c| c.round().clamp(0.0, 255.0));
    let alpha = parts.get(3).map_or(Some(1.0), |a| part(a, 1.0))?.clamp(0.0, 1.0);
    Some(rgba(r, g, b, alpha))
}

pub(crate) fn rgba(r: f64, g: f64, b: f64, alpha: f64) -> String {
    if alpha >= 1.0 { format!("rgb({r}, {g}, {b})") } else { format!("rgba({r}, {g}, {b}, {})", alpha_text(alpha)) }
}

/// CSS Color §7.1.
pub(crate) fn from_hsl(hue: f64, saturation: f64, light: f64) -> [f64; 3] {
    let channel = |n: f64| {
        let k = (n + hue.rem_euclid(360.0) / 30.0).rem_euclid(12.0);
        let a = saturation.clamp(0.0, 1.0) * light.min(1.0 - light);
        (light - a * (k - 3.0).min(9.0 - k).clamp(-1.0, 1.0)) * 255.0
    };
    [channel(0.0), channel(8.0), channel(4.0)]
}

/// CSS Color §5.2: three, four, six or eight digits, as `rgb(…)` or `rgba(…)`.
pub(crate) fn hex_colour(digits: &str) -> Option<String> {
    if !digits.bytes().all(|b| b.is_ascii_hexdigit()) {
        return None;
    }
    let wide = match digits.len() {
        3 | 4 => digits.chars().flat_map(|c| [c, c]).collect::<String>(),
        6 | 8 => digits.to_owned(),
        _ => return None,
    };
    let byte = |at: usize| wide.get(at..at + 2).and_then(|d| u8::from_str_radix(d, 16).ok()).map(f64::from);
    Some(rgba(byte(0)?, byte(2)?, byte(4)?, byte(6).unwrap_or(255.0) / 255.0))
}

/// CSSOM §6.7.2: two decimals where they lead back to the same byte, else three.
pub(crate) fn alpha_text(alpha: f64) -> String {
    let byte = (alpha * 255.0).round();
    let two = (byte / 255.0 * 100.0).round() / 100.0;
    if (two * 255.0).round() == byte { two.to_string() } else { ((byte / 255.0 * 1000.0).round() / 1000.0).to_string() }
}

/// A value split at its outer commas, or at its outer spaces.
pub fn split(text: &str, at: char) -> Vec<&str> {
    let mut depth = 0;
    let parts = text.split(|c: char| {
        match c {
            '(' | '[' => depth += 1,
            ')' | ']' => depth -= 1,
            _ => {}
        }
        depth == 0 && c == at
    });
    parts.map(str::trim).filter(|p| !p.is_empty()).collect()
}

/// Whether a word of a canonical value is a colour.
pub(crate) fn is_colour(word: &str) -> bool {
    const FUNCTIONS: [&str; 9] = ["rgb(", "rgba(", "color(", "color-mix(", "lab(", "lch(", "oklab(", "oklch(", "light-dark("];
    FUNCTIONS.iter().any(|f| word.starts_with(f)) || words::takes("color", word) && !words::is_wide(word)
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Rows that were read from a browser: a property, what a script set, what the browser kept.
    const ROWS: &str = include_str!("../tests/values.txt");

    #[test]
    fn values_are_kept_as_a_browser_keeps_them() {
        let mut wrong = String::new();
        for row in ROWS.lines().filter(|l| !l.is_empty() && !l.starts_with('#')) {
            let [name, set, kept] = row.split(" | ").collect::<Vec<_>>()[..] else { panic!("{row}") };
            let ours = canonical(name, set).map_or(String::new(), |v| format!("{}: {v}", property(name)));
            if ours != kept.trim() {
                wrong.push_str(&format!("{name}: {set} is kept as `{ours}` instead of `{kept}`\n"));
            }
        }
        assert!(wrong.is_empty(), "\n{wrong}");
    }
}

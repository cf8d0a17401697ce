//! Values of properties as a browser writes them after a script set them (CSSOM §6.7.2): numbers with six significant digits,
//! colours as `rgb(…)`, a zero length with its unit, one space where the grammar has any, and what some shorthands leave out
//! or write in an order of their own.
//!
//! No property's grammar is known here as a whole. What is certainly no value of it is refused ([`canonical`] gives none): a word that
//! it has not ([`css_words`]), a number where none may stand. The rest is taken as it is.

use cssparser::{Parser, Token};

use crate::css_words;

/// The value as it is kept; none when it is no value of this property, so that setting it changes nothing. Custom properties stay
/// as written.
pub fn canonical(name: &str, value: &str) -> Option<String> {
    if name.starts_with("--") {
        return Some(value.to_owned());
    }
    let name = property(name);
    let mut parser = Parser::new(value);
    let text = sequence(&mut parser, name, "")?;
    let text = text.trim();
    if text.contains("var(") || text.contains("env(") {
        // What is substituted later stays as it was written.
        return Some(value.trim().to_owned());
    }
    let fits = if css_words::is_word(text) { css_words::takes(name, &text.to_ascii_lowercase()) } else { fits(name, text) };
    fits.then(|| arranged(name, text))
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
            // A whole number keeps all its digits where nothing else may stand (CSS Values §5.2).
            Token::Number { int_value, .. } if within.is_empty() && takes_integer(name) => out.push_str(&int_value?.to_string()),
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

fn quoted(text: &str) -> String {
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
        "" if takes_length(name) => "px",
        "translate" | "translatex" | "translatey" | "translatez" | "translate3d" | "rect" | "inset" | "blur" | "drop-shadow" | "minmax"
        | "perspective" | "polygon" | "circle" | "ellipse" => "px",
        "rotate" | "rotatex" | "rotatey" | "rotatez" | "skew" | "skewx" | "skewy" | "hue-rotate" => "deg",
        _ => "",
    };
    text + unit
}

/// Properties in whose values a bare number is a whole one.
fn takes_integer(name: &str) -> bool {
    const NAMES: [&str; 6] = ["z-index", "order", "orphans", "widows", "column-count", "grid-area"];
    NAMES.contains(&name)
        || name.starts_with("counter-")
        || ["grid-row", "grid-column"].iter().any(|n| name.strip_prefix(n).is_some_and(|rest| matches!(rest, "" | "-start" | "-end")))
}

/// Properties in whose values a bare `0` is a length.
fn takes_length(name: &str) -> bool {
    const STARTS: [&str; 22] = [
        "margin",
        "padding",
        "inset",
        "gap",
        "row-gap",
        "column-gap",
        "min-",
        "max-",
        "scroll-margin",
        "scroll-padding",
        "letter-spacing",
        "word-spacing",
        "text-indent",
        "outline-",
        "border-spacing",
        "flex-basis",
        "column-width",
        "background-position",
        "background-size",
        "transform-origin",
        "perspective",
        "object-position",
    ];
    const NAMES: [&str; 15] = [
        "width",
        "height",
        "top",
        "right",
        "bottom",
        "left",
        "border",
        "outline",
        "inline-size",
        "block-size",
        "font-size",
        "vertical-align",
        "box-shadow",
        "text-shadow",
        "translate",
    ];
    let border = name.starts_with("border-") && !["collapse", "color", "style", "image"].iter().any(|w| name.contains(w));
    NAMES.contains(&name) || border || STARTS.iter().any(|s| name.starts_with(s))
}

/// Whether the canonical text can be a value of the property, as far as that is known here.
fn fits(name: &str, text: &str) -> bool {
    let words: Vec<&str> = split(text, ',').into_iter().flat_map(|part| split(part, ' ')).collect();
    let numeric = |w: &str| w.parse::<f64>().ok();
    match name {
        "z-index" | "order" => words.len() == 1,
        _ if name.ends_with("color") => {
            // Whatever could be read as a colour is a function by now, or a word.
            let most = match name {
                "border-color" => 4,
                "scrollbar-color" | "border-inline-color" | "border-block-color" => 2,
                _ => 1,
            };
            words.len() <= most && words.iter().all(|w| w.contains('(') || css_words::takes("color", &w.to_ascii_lowercase()))
        }
        _ if name.ends_with("-delay") || name.ends_with("-duration") => words.iter().all(|w| numeric(w).is_none()),
        _ if takes_length(name) && !name.starts_with("border-image") && name != "border-spacing" => {
            let positive = !(name.starts_with("margin") || name.starts_with("inset") || name.starts_with("scroll-margin"))
                && ["width", "height", "padding", "min-", "max-", "border-", "font-size", "flex-basis", "gap"]
                    .iter()
                    .any(|n| name.starts_with(n));
            words
                .iter()
                .all(|w| numeric(w).is_none() && !(positive && w.starts_with('-') && w[1..].starts_with(|c: char| c.is_ascii_digit())))
        }
        _ => !text.is_empty(),
    }
}

/// A function as it is written: colours in the one form that they have.
fn called(function: &str, inner: &str) -> String {
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
        "calc" => format!("calc({})", crate::calc::simplified(inner).unwrap_or_else(|| inner.to_owned())),
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

/// The sides without those that follow from the others.
fn shortest(sides: &[&str]) -> String {
    let mut shown = sides.to_vec();
    while shown.len() > 1 && shown.len() <= 4 {
        let last = shown.len() - 1;
        if shown[last] != shown[last.saturating_sub(2)] {
            break;
        }
        shown.pop();
    }
    shown.join(" ")
}

/// CSS Color §15.2: `rgb(…)`, and `rgba(…)` where it is not opaque.
fn colour(function: &str, inner: &str) -> Option<String> {
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

fn rgba(r: f64, g: f64, b: f64, alpha: f64) -> String {
    if alpha >= 1.0 { format!("rgb({r}, {g}, {b})") } else { format!("rgba({r}, {g}, {b}, {})", alpha_text(alpha)) }
}

/// CSS Color §7.1.
fn from_hsl(hue: f64, saturation: f64, light: f64) -> [f64; 3] {
    let channel = |n: f64| {
        let k = (n + hue.rem_euclid(360.0) / 30.0).rem_euclid(12.0);
        let a = saturation.clamp(0.0, 1.0) * light.min(1.0 - light);
        (light - a * (k - 3.0).min(9.0 - k).clamp(-1.0, 1.0)) * 255.0
    };
    [channel(0.0), channel(8.0), channel(4.0)]
}

/// CSS Color §5.2: three, four, six or eight digits, as `rgb(…)` or `rgba(…)`.
fn hex_colour(digits: &str) -> Option<String> {
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
fn alpha_text(alpha: f64) -> String {
    let byte = (alpha * 255.0).round();
    let two = (byte / 255.0 * 100.0).round() / 100.0;
    if (two * 255.0).round() == byte { two.to_string() } else { ((byte / 255.0 * 1000.0).round() / 1000.0).to_string() }
}

/// A value split at its outer commas, or at its outer spaces.
pub(crate) fn split(text: &str, at: char) -> Vec<&str> {
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

fn each(text: &str, one: impl Fn(&str) -> String) -> String {
    split(text, ',').into_iter().map(one).collect::<Vec<_>>().join(", ")
}

fn is_time(word: &str) -> bool {
    word.strip_suffix("ms").or_else(|| word.strip_suffix('s')).is_some_and(|n| n.parse::<f64>().is_ok())
}

fn is_timing(word: &str) -> bool {
    const WORDS: [&str; 7] = ["linear", "ease", "ease-in", "ease-out", "ease-in-out", "step-start", "step-end"];
    WORDS.contains(&word) || word.starts_with("cubic-bezier(") || word.starts_with("steps(") || word.starts_with("linear(")
}

fn is_length(word: &str) -> bool {
    word.starts_with(|c: char| c.is_ascii_digit() || c == '-' || c == '.') || word.starts_with("calc(")
}

/// Shorthands and pairs in the order in which they are written.
fn arranged(name: &str, text: &str) -> String {
    match name {
        "box-shadow" | "text-shadow" if text != "none" => each(text, shadow),
        "transition" => each(text, transition),
        "animation" => each(text, animation),
        "outline" => outline(text),
        "flex" => flex(text),
        "flex-flow" => {
            let words: Vec<&str> = split(text, ' ').into_iter().filter(|w| !["row", "nowrap"].contains(w)).collect();
            if words.is_empty() { "row".into() } else { words.join(" ") }
        }
        "opacity" => match text.strip_suffix('%').and_then(|n| n.parse::<f64>().ok()) {
            Some(percent) => number(percent / 100.0),
            None => text.to_owned(),
        },
        "aspect-ratio" if text.parse::<f64>().is_ok() => format!("{text} / 1"),
        "background-position" | "object-position" => each(text, |one| match one {
            "top" | "bottom" if name == "background-position" => format!("center {one}"),
            "top" | "bottom" => format!("center {one}"),
            _ if !one.contains(' ') => format!("{one} center"),
            _ => one.to_owned(),
        }),
        "border" if text == "0px none" => "0px".into(),
        "translate" if text == "0px 0px" => "0px".into(),
        _ => text.to_owned(),
    }
}

/// The colour comes first, `inset` last.
fn shadow(text: &str) -> String {
    let words = split(text, ' ');
    let (lengths, others): (Vec<&str>, Vec<&str>) = words.into_iter().partition(|w| is_length(w));
    let (inset, colours): (Vec<&str>, Vec<&str>) = others.into_iter().partition(|w| *w == "inset");
    [colours, lengths, inset].concat().join(" ")
}

fn outline(text: &str) -> String {
    const STYLES: [&str; 10] = ["none", "auto", "dotted", "dashed", "solid", "double", "groove", "ridge", "inset", "outset"];
    let words = split(text, ' ');
    if words.len() < 2 {
        return text.to_owned();
    }
    let (widths, rest): (Vec<&str>, Vec<&str>) = words.into_iter().partition(|w| is_length(w) || ["thin", "medium", "thick"].contains(w));
    let (styles, colours): (Vec<&str>, Vec<&str>) = rest.into_iter().partition(|w| STYLES.contains(w));
    [colours, styles, widths].concat().join(" ")
}

fn flex(text: &str) -> String {
    match text {
        "none" => "0 0 auto".into(),
        "auto" => "1 1 auto".into(),
        "initial" => "0 1 auto".into(),
        _ => {
            let words = split(text, ' ');
            let plain = |w: &str| w.parse::<f64>().is_ok();
            match words.as_slice() {
                [grow] if plain(grow) => format!("{grow} 1 0%"),
                [basis] if is_length(basis) => format!("1 1 {basis}"),
                [grow, shrink] if plain(grow) && plain(shrink) => format!("{grow} {shrink} 0%"),
                [grow, basis] if plain(grow) => format!("{grow} 1 {basis}"),
                [grow, shrink, "0"] => format!("{grow} {shrink} 0px"),
                _ => text.to_owned(),
            }
        }
    }
}

/// What is as it would be anyway is left out.
fn transition(text: &str) -> String {
    let (mut property, mut times, mut timing) = ("", Vec::new(), "");
    let mut rest = Vec::new();
    for word in split(text, ' ') {
        if is_time(word) {
            times.push(word);
        } else if is_timing(word) {
            timing = word;
        } else if property.is_empty() {
            property = word;
        } else {
            rest.push(word);
        }
    }
    let zero = |t: &&str| ["0s", "0ms"].contains(t);
    let delay = times.get(1).copied().filter(|t| !zero(t));
    let duration = times.first().copied().filter(|t| delay.is_some() || !zero(t));
    let timing = Some(timing).filter(|t| !t.is_empty() && *t != "ease");
    let mut out: Vec<&str> = Some(property).filter(|p| !p.is_empty() && *p != "all").into_iter().collect();
    out.extend(duration.into_iter().chain(timing).chain(delay).chain(rest));
    if out.is_empty() { "all".into() } else { out.join(" ") }
}

/// All of it is written, in one order.
fn animation(text: &str) -> String {
    let (mut duration, mut delay, mut timing, mut count, mut direction, mut fill, mut state, mut name) =
        (None, None, None, None, None, None, None, None);
    for word in split(text, ' ') {
        let place = match word {
            _ if is_time(word) && duration.is_none() => &mut duration,
            _ if is_time(word) => &mut delay,
            _ if is_timing(word) && timing.is_none() => &mut timing,
            _ if (word == "infinite" || word.parse::<f64>().is_ok()) && count.is_none() => &mut count,
            "normal" | "reverse" | "alternate" | "alternate-reverse" if direction.is_none() => &mut direction,
            "forwards" | "backwards" | "both" if fill.is_none() => &mut fill,
            "running" | "paused" if state.is_none() => &mut state,
            _ => &mut name,
        };
        *place = Some(word);
    }
    let parts = [
        duration.unwrap_or("auto"),
        timing.unwrap_or("ease"),
        delay.unwrap_or("0s"),
        count.unwrap_or("1"),
        direction.unwrap_or("normal"),
        fill.unwrap_or("none"),
        state.unwrap_or("running"),
        name.unwrap_or("none"),
    ];
    parts.join(" ")
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

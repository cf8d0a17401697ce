//! From values as they are written to absolute ones (CSS Values 4): units, `calc()`, colours, weights, transforms.

use cssparser::{Parser, Token};

use super::{Computed, place_of, properties};
use fidelon_css::math::{Calculation, written};
use fidelon_css::{canonical, number};

/// What relative values are relative to.
pub(super) struct Base {
    pub(super) font_size: f64,
    pub(super) root_font_size: f64,
    pub(super) viewport: super::Viewport,
}

/// The number of pixels of a value that is one length.
pub(super) fn px(value: &str) -> Option<f64> {
    value.strip_suffix("px").and_then(|n| n.parse().ok())
}

/// The computed value of a property with a value that is written so; none where that is the initial one.
pub(super) fn value_of(name: &str, value: &str, base: &Base, parent: Option<&Computed>) -> Option<String> {
    let text = canonical(name, value).unwrap_or_else(|| value.trim().to_owned());
    let out = match name {
        "font-size" => font_size(&text, base),
        "font-weight" => font_weight(&text, parent),
        "line-height" => match text.parse::<f64>() {
            Ok(times) => format!("{}px", number(times * base.font_size)),
            Err(_) => match text.strip_suffix('%').and_then(|n| n.parse::<f64>().ok()) {
                Some(percent) => format!("{}px", number(percent / 100.0 * base.font_size)),
                None => absolute(&text, base),
            },
        },
        "border-top-width" | "border-right-width" | "border-bottom-width" | "border-left-width" | "outline-width" | "column-rule-width" => {
            match text.as_str() {
                "thin" => "1px".into(),
                "medium" => "3px".into(),
                "thick" => "5px".into(),
                _ => absolute(&text, base),
            }
        }
        "opacity" => text.parse::<f64>().map_or(text.clone(), |n| number(n.clamp(0.0, 1.0))),
        "transform" => matrix(&absolute(&text, base)).unwrap_or_else(|| absolute(&text, base)),
        "transition-duration" | "transition-delay" | "animation-duration" | "animation-delay" => {
            split(&text, ',').into_iter().map(seconds).collect::<Vec<_>>().join(", ")
        }
        "box-shadow" if text != "none" => {
            split(&colours(&absolute(&text, base)), ',').into_iter().map(shadow).collect::<Vec<_>>().join(", ")
        }
        "font-family" | "will-change" | "animation-name" | "transition-property" | "content" | "container-name" | "grid-template-areas" => {
            text
        }
        "font-stretch" if text == "normal" => "100%".into(),
        _ if name.ends_with("color") || ["fill", "stroke"].contains(&name) => colour(&text),
        _ => colours(&absolute(&text, base)),
    };
    let initial = properties()[place_of(name)?].initial;
    match name {
        // What is shown of the initial value, `auto`, is nothing; to a layout a nothing that was written is another thing.
        "min-width" | "min-height" => (out != "auto").then_some(out),
        // What is shown of a border without a style is no width; one that has a style and no width was written so.
        "border-top-width" | "border-right-width" | "border-bottom-width" | "border-left-width" => Some(out),
        // Of boxes it is their middle, unless somebody wrote where.
        "transform-origin" => Some(out),
        _ => (out != initial).then_some(out),
    }
}

/// A shadow with all four of its lengths, and its colour.
fn shadow(text: &str) -> String {
    let mut words = split(text, ' ');
    let inset = words.last() == Some(&"inset");
    if inset {
        words.pop();
    }
    if words.first().is_some_and(|w| px(w).is_some()) {
        words.insert(0, "currentcolor");
    }
    words.resize(5, "0px");
    words.join(" ") + if inset { " inset" } else { "" }
}

fn font_size(text: &str, base: &Base) -> String {
    let keyword = match text {
        "xx-small" => Some(9.0),
        "x-small" => Some(10.0),
        "small" => Some(13.0),
        "medium" => Some(16.0),
        "large" => Some(18.0),
        "x-large" => Some(24.0),
        "xx-large" => Some(32.0),
        "xxx-large" => Some(48.0),
        "larger" => Some(base.font_size * 1.2),
        "smaller" => Some(base.font_size / 1.2),
        _ => text.strip_suffix('%').and_then(|n| n.parse::<f64>().ok()).map(|percent| percent / 100.0 * base.font_size),
    };
    keyword.map_or_else(|| absolute(text, base), |size| format!("{}px", number(size)))
}

/// CSS Fonts §2.2.
fn font_weight(text: &str, parent: Option<&Computed>) -> String {
    let inherited = || parent.and_then(|p| p.get("font-weight").parse::<f64>().ok()).unwrap_or(400.0);
    match text {
        "normal" => "400".into(),
        "bold" => "700".into(),
        "bolder" => match inherited() {
            w if w < 350.0 => "400".into(),
            w if w < 550.0 => "700".into(),
            _ => "900".into(),
        },
        "lighter" => match inherited() {
            w if w < 550.0 => "100".into(),
            w if w < 750.0 => "400".into(),
            _ => "700".into(),
        },
        other => other.to_owned(),
    }
}

fn seconds(time: &str) -> String {
    match time.strip_suffix("ms").and_then(|n| n.parse::<f64>().ok()) {
        Some(ms) => format!("{}s", number(ms / 1000.0)),
        None => time.strip_suffix('s').and_then(|n| n.parse::<f64>().ok()).map_or_else(|| time.to_owned(), |s| format!("{}s", number(s))),
    }
}

/// A colour as `rgb(…)`, whatever it was written as (CSS Color §15.2).
fn colour(text: &str) -> String {
    let lower = text.to_ascii_lowercase();
    if lower == "transparent" {
        return "rgba(0, 0, 0, 0)".into();
    }
    if let Ok((r, g, b)) = cssparser::color::parse_named_color(&lower) {
        return format!("rgb({r}, {g}, {b})");
    }
    match lower.as_str() {
        "canvas" | "field" => "rgb(255, 255, 255)".into(),
        "canvastext" | "fieldtext" | "buttontext" => "rgb(0, 0, 0)".into(),
        "buttonface" => "rgb(240, 240, 240)".into(),
        "graytext" => "rgb(128, 128, 128)".into(),
        "highlight" => "rgb(25, 103, 210)".into(),
        "linktext" => "rgb(0, 0, 238)".into(),
        "currentcolor" => lower,
        _ => text.to_owned(),
    }
}

/// Values that hold colours among other things.
fn colours(text: &str) -> String {
    let named = |w: &str| {
        let letters = w.chars().all(|c| c.is_ascii_alphabetic());
        if letters && (w == "transparent" || cssparser::color::parse_named_color(w).is_ok()) { colour(w) } else { w.to_owned() }
    };
    if !text.contains(' ') && !text.contains('(') {
        return text.to_owned();
    }
    split(text, ',')
        .into_iter()
        .map(|part| split(part, ' ').into_iter().map(named).collect::<Vec<_>>().join(" "))
        .collect::<Vec<_>>()
        .join(", ")
}

pub(super) fn split(text: &str, at: char) -> Vec<&str> {
    fidelon_css::split(text, at)
}

/// Relative lengths as pixels, `calc()` worked out as far as it has no percentages.
fn absolute(text: &str, base: &Base) -> String {
    let mut parser = Parser::new(text);
    let mut out = String::new();
    pieces(&mut parser, base, &mut out);
    out.trim().to_owned()
}

fn pieces(parser: &mut Parser<'_>, base: &Base, out: &mut String) {
    loop {
        let start = parser.position();
        let Ok(token) = parser.next_including_whitespace_and_comments() else { return };
        match token.clone() {
            Token::Dimension { value, unit, .. } => match in_px(f64::from(value), &unit.to_ascii_lowercase(), base) {
                Some(px) => out.push_str(&format!("{}px", number(px))),
                None => out.push_str(parser.slice_from(start)),
            },
            Token::Function(name) => {
                let lower = name.to_ascii_lowercase();
                let calculates = ["calc", "min", "max", "clamp"].contains(&lower.as_str());
                let mut inner = String::new();
                let _ = parser.parse_nested_block(|p| {
                    pieces(p, base, &mut inner);
                    Ok::<_, cssparser::ParseError<()>>(())
                });
                let worked_out = if calculates { calculate(&lower, &inner) } else { None };
                match worked_out {
                    Some(value) => out.push_str(&value),
                    None => out.push_str(&format!("{name}({inner})")),
                }
            }
            Token::ParenthesisBlock => {
                out.push('(');
                let _ = parser.parse_nested_block(|p| {
                    pieces(p, base, out);
                    Ok::<_, cssparser::ParseError<()>>(())
                });
                out.push(')');
            }
            _ => out.push_str(parser.slice_from(start)),
        }
    }
}

/// CSS Values §6: absolute units, those of the font and of the window.
fn in_px(value: f64, unit: &str, base: &Base) -> Option<f64> {
    let one = match unit {
        "px" => 1.0,
        "em" => base.font_size,
        "rem" => base.root_font_size,
        // The width of `0` and the height of `x` take a font: half an em, as CSS Values §6.1.1 has it where there is none.
        "ex" | "ch" => base.font_size / 2.0,
        "vw" | "svw" | "lvw" | "dvw" | "vi" => base.viewport.width / 100.0,
        "vh" | "svh" | "lvh" | "dvh" | "vb" => base.viewport.height / 100.0,
        "vmin" => base.viewport.width.min(base.viewport.height) / 100.0,
        "vmax" => base.viewport.width.max(base.viewport.height) / 100.0,
        "in" => 96.0,
        "cm" => 96.0 / 2.54,
        "mm" => 96.0 / 25.4,
        "q" => 96.0 / 101.6,
        "pt" => 4.0 / 3.0,
        "pc" => 16.0,
        _ => return None,
    };
    Some(value * one)
}

/// `calc()` and its kin over pixels, percentages and numbers (CSS Values §10); none for anything else.
fn calculate(function: &str, inner: &str) -> Option<String> {
    let mut terms = Calculation::parse(&format!("{function}({inner})"))?.terms()?;
    if terms.keys().any(|unit| !matches!(unit.as_str(), "" | "%" | "px")) {
        return None;
    }
    // What comes to nothing is not written beside something else.
    let all = terms.clone();
    terms.retain(|_, value| *value != 0.0);
    match terms.len() {
        0 if all.contains_key("") => Some("0".into()),
        0 => Some("0px".into()),
        1 => Some(written(&terms)),
        _ => Some(format!("calc({})", written(&terms))),
    }
}

/// Transforms in the plane as one matrix (CSS Transforms §16); none where a percentage or a third dimension is in it.
fn matrix(text: &str) -> Option<String> {
    if text == "none" {
        return None;
    }
    let mut m = [1.0, 0.0, 0.0, 1.0, 0.0, 0.0];
    for part in split(text, ' ') {
        let (name, inner) = part.strip_suffix(')')?.split_once('(')?;
        let args: Vec<&str> = inner.split(',').map(str::trim).collect();
        let length = |i: usize| args.get(i).map_or(Some(0.0), |a| px(a).or_else(|| a.parse().ok().filter(|n: &f64| *n == 0.0)));
        let plain = |i: usize| args.get(i).and_then(|a| a.parse::<f64>().ok());
        let angle = |i: usize| args.get(i).map_or(Some(0.0), |a| angle_of(a));
        let next = match name {
            "translate" => [1.0, 0.0, 0.0, 1.0, length(0)?, length(1)?],
            "translateX" => [1.0, 0.0, 0.0, 1.0, length(0)?, 0.0],
            "translateY" => [1.0, 0.0, 0.0, 1.0, 0.0, length(0)?],
            "scale" => [plain(0)?, 0.0, 0.0, plain(1).or_else(|| plain(0))?, 0.0, 0.0],
            "scaleX" => [plain(0)?, 0.0, 0.0, 1.0, 0.0, 0.0],
            "scaleY" => [1.0, 0.0, 0.0, plain(0)?, 0.0, 0.0],
            "rotate" => {
                let (sin, cos) = angle(0)?.sin_cos();
                [cos, sin, -sin, cos, 0.0, 0.0]
            }
            "skewX" => [1.0, 0.0, angle(0)?.tan(), 1.0, 0.0, 0.0],
            "skewY" => [1.0, angle(0)?.tan(), 0.0, 1.0, 0.0, 0.0],
            "skew" => [1.0, angle(1)?.tan(), angle(0)?.tan(), 1.0, 0.0, 0.0],
            "matrix" => [plain(0)?, plain(1)?, plain(2)?, plain(3)?, plain(4)?, plain(5)?],
            _ => return None,
        };
        m = [
            m[0] * next[0] + m[2] * next[1],
            m[1] * next[0] + m[3] * next[1],
            m[0] * next[2] + m[2] * next[3],
            m[1] * next[2] + m[3] * next[3],
            m[0] * next[4] + m[2] * next[5] + m[4],
            m[1] * next[4] + m[3] * next[5] + m[5],
        ];
    }
    let tidy = |n: f64| if n.abs() < 1e-12 { 0.0 } else { n };
    Some(format!("matrix({})", m.map(|n| number(tidy(n))).join(", ")))
}

fn angle_of(text: &str) -> Option<f64> {
    let of = |suffix: &str, one: f64| text.strip_suffix(suffix).and_then(|n| n.parse::<f64>().ok()).map(|n| n * one);
    of("deg", std::f64::consts::PI / 180.0)
        .or_else(|| of("grad", std::f64::consts::PI / 200.0))
        .or_else(|| of("turn", std::f64::consts::TAU))
        .or_else(|| of("rad", 1.0))
        .or_else(|| text.parse().ok().filter(|n: &f64| *n == 0.0))
}

//! Colours that are functions, as they are written down (CSS Color §15).

use crate::component::Component;
use crate::value::{self, number};

/// A function that is a colour; none for any other, and where it is no colour after all.
pub(crate) fn function(name: &str, list: &[Component], inner: &str) -> Option<String> {
    match name {
        "rgb" | "rgba" | "hsl" | "hsla" if is_plain(list) => value::colour(name, inner),
        "hwb" if is_plain(list) => hwb(list),
        "lab" | "lch" | "oklab" | "oklch" if !is_relative(list) => space(name, list),
        "color" if !is_relative(list) => in_space(list),
        "color-mix" => mix(list),
        "light-dark" => match split(list).as_slice() {
            [[light], [dark]] => Some(format!("light-dark({}, {})", of(light)?, of(dark)?)),
            _ => None,
        },
        "rgb" | "rgba" | "hsl" | "hsla" | "hwb" | "lab" | "lch" | "oklab" | "oklch" | "color" => {
            value::loose("color", inner).map(|text| format!("{}({})", name.trim_end_matches('a'), text.trim()))
        }
        _ => None,
    }
}

/// Any colour as it is written down.
fn of(component: &Component) -> Option<String> {
    match component {
        Component::Ident(word) => Some(word.to_ascii_lowercase()).filter(|w| crate::words::takes("color", w) && !crate::words::is_wide(w)),
        Component::Hash(digits) => value::hex_colour(digits),
        Component::Function(name, list, inner) => function(name, list, inner),
        _ => None,
    }
}

fn is_relative(list: &[Component]) -> bool {
    matches!(list.first(), Some(Component::Ident(word)) if word.eq_ignore_ascii_case("from"))
}

/// Whether there are numbers alone: nothing that is calculated, and nothing that is missing.
fn is_plain(list: &[Component]) -> bool {
    let is_number = |c: &Component| {
        matches!(c, Component::Number(..) | Component::Percentage(_) | Component::Dimension(..) | Component::Sign(',' | '/'))
    };
    list.iter().all(is_number)
}

/// A list split at its commas.
fn split(list: &[Component]) -> Vec<&[Component]> {
    list.split(|c| *c == Component::Sign(',')).collect()
}

/// The numbers of a colour before its slash, and how opaque it is: none where it is wholly so.
fn parts(list: &[Component]) -> Option<(&[Component], Option<String>)> {
    let at = list.iter().position(|c| *c == Component::Sign('/'));
    let Some(at) = at else { return Some((list, None)) };
    let alpha = match &list[at + 1..] {
        [Component::Number(n, _)] => number(n.clamp(0.0, 1.0)),
        [Component::Percentage(n)] => number((n / 100.0).clamp(0.0, 1.0)),
        [Component::Ident(word)] if word.eq_ignore_ascii_case("none") => "none".into(),
        [Component::Function(name, _, inner)] if crate::math::is_math(name) => crate::math::read(name, inner)?.1,
        _ => return None,
    };
    Some((&list[..at], Some(alpha).filter(|a| a != "1")))
}

/// One number of a colour: a share is one of `whole`.
fn part(component: &Component, whole: f64, least: f64, most: f64) -> Option<String> {
    match component {
        Component::Number(n, _) => Some(number(n.clamp(least, most))),
        Component::Percentage(n) => Some(number((n / 100.0 * whole).clamp(least, most))),
        Component::Ident(word) if word.eq_ignore_ascii_case("none") => Some("none".into()),
        Component::Function(name, _, inner) if crate::math::is_math(name) => Some(crate::math::read(name, inner)?.1),
        _ => None,
    }
}

/// An angle in degrees.
fn hue(component: &Component) -> Option<String> {
    match component {
        Component::Dimension(n, unit) => {
            let degrees = match unit.as_str() {
                "deg" => *n,
                "grad" => n * 0.9,
                "rad" => n.to_degrees(),
                "turn" => n * 360.0,
                _ => return None,
            };
            Some(number(degrees.rem_euclid(360.0)))
        }
        Component::Number(n, _) => Some(number(n.rem_euclid(360.0))),
        Component::Percentage(_) => None,
        other => part(other, 1.0, f64::NEG_INFINITY, f64::INFINITY),
    }
}

fn written(name: &str, parts: &[String], alpha: Option<String>) -> String {
    let alpha = alpha.map(|a| format!(" / {a}")).unwrap_or_default();
    format!("{name}({}{alpha})", parts.join(" "))
}

/// `lab()`, `lch()`, `oklab()`, `oklch()` (CSS Color §9).
fn space(name: &str, list: &[Component]) -> Option<String> {
    let (numbers, alpha) = parts(list)?;
    let [light, a, b] = numbers else { return None };
    let (most_light, share) = match name {
        "lab" => (100.0, 125.0),
        "lch" => (100.0, 150.0),
        _ => (1.0, 0.4),
    };
    let light = part(light, most_light, 0.0, most_light)?;
    let any = (f64::NEG_INFINITY, f64::INFINITY);
    let (a, b) = if name.ends_with("lch") {
        (part(a, share, 0.0, any.1)?, hue(b)?)
    } else {
        (part(a, share, any.0, any.1)?, part(b, share, any.0, any.1)?)
    };
    Some(written(name, &[light, a, b], alpha))
}

/// `color()` (CSS Color §10).
fn in_space(list: &[Component]) -> Option<String> {
    const SPACES: [&str; 10] =
        ["srgb", "srgb-linear", "display-p3", "display-p3-linear", "a98-rgb", "prophoto-rgb", "rec2020", "xyz", "xyz-d50", "xyz-d65"];
    let (numbers, alpha) = parts(list)?;
    let [Component::Ident(space), numbers @ ..] = numbers else { return None };
    let space = SPACES.iter().find(|s| space.eq_ignore_ascii_case(s))?;
    if numbers.len() != 3 {
        return None;
    }
    let mut written_parts = vec![if *space == "xyz" { "xyz-d65".to_owned() } else { (*space).to_owned() }];
    for component in numbers {
        written_parts.push(part(component, 1.0, f64::NEG_INFINITY, f64::INFINITY)?);
    }
    Some(written("color", &written_parts, alpha))
}

/// `hwb()` as `rgb()` (CSS Color §8).
fn hwb(list: &[Component]) -> Option<String> {
    let (numbers, alpha) = parts(list)?;
    let [angle, white, black] = numbers else { return None };
    let angle: f64 = hue(angle)?.parse().ok()?;
    let share = |c: &Component| match c {
        Component::Percentage(n) | Component::Number(n, _) => Some(n / 100.0),
        _ => None,
    };
    let (white, black) = (share(white)?.clamp(0.0, 1.0), share(black)?.clamp(0.0, 1.0));
    let rgb = if white + black >= 1.0 {
        [white / (white + black) * 255.0; 3]
    } else {
        value::from_hsl(angle, 1.0, 0.5).map(|c| c * (1.0 - white - black) + white * 255.0)
    };
    let [r, g, b] = rgb.map(|c| c.round().clamp(0.0, 255.0));
    Some(value::rgba(r, g, b, alpha.map_or(Some(1.0), |a| a.parse().ok())?))
}

/// `color-mix()` (CSS Color 5 §2): a share that follows from the other one is not written.
fn mix(list: &[Component]) -> Option<String> {
    let split = split(list);
    let (method, one, two) = match split.as_slice() {
        [one, two] => (&[][..], *one, *two),
        [method, one, two] => (*method, *one, *two),
        _ => return None,
    };
    let words = method.iter().map(|c| match c {
        Component::Ident(word) => Some(word.to_ascii_lowercase()),
        _ => None,
    });
    let words = words.collect::<Option<Vec<_>>>()?;
    let way = match words.iter().map(String::as_str).collect::<Vec<_>>().as_slice() {
        [] => "in oklab".to_owned(),
        ["in", space] if is_space(space) => format!("in {space}"),
        ["in", space @ ("hsl" | "hwb" | "lch" | "oklch"), "shorter", "hue"] => format!("in {space}"),
        ["in", space @ ("hsl" | "hwb" | "lch" | "oklch"), way @ ("longer" | "increasing" | "decreasing"), "hue"] => {
            format!("in {space} {way} hue")
        }
        _ => return None,
    };
    let coloured = |part: &[Component]| -> Option<(String, Option<f64>)> {
        match part {
            [colour] => Some((of(colour)?, None)),
            [Component::Percentage(n), colour] | [colour, Component::Percentage(n)] if (0.0..=100.0).contains(n) => {
                Some((of(colour)?, Some(*n)))
            }
            _ => None,
        }
    };
    let ((one, first), (two, second)) = (coloured(one)?, coloured(two)?);
    let (first, second) = match (first, second) {
        (Some(a), None) => (Some(a), Some(100.0 - a)),
        (None, Some(b)) => (Some(100.0 - b), Some(b)),
        (Some(50.0), Some(50.0)) => (None, None),
        other => other,
    };
    let share = |n: Option<f64>| n.map(|n| format!(" {}%", number(n))).unwrap_or_default();
    // What it is mixed in unless somebody says so is not written.
    let way = match way.as_str() {
        "in oklab" => String::new(),
        "in xyz" => "in xyz-d65, ".into(),
        way => format!("{way}, "),
    };
    Some(format!("color-mix({way}{one}{}, {two}{})", share(first), share(second)))
}

fn is_space(word: &str) -> bool {
    const SPACES: [&str; 15] = [
        "srgb",
        "srgb-linear",
        "display-p3",
        "display-p3-linear",
        "a98-rgb",
        "prophoto-rgb",
        "rec2020",
        "lab",
        "oklab",
        "xyz",
        "xyz-d50",
        "xyz-d65",
        "hsl",
        "hwb",
        "lch",
    ];
    SPACES.contains(&word) || word == "oklch"
}

#[cfg(test)]
mod tests {
    use crate::canonical;

    /// What Chromium keeps.
    #[test]
    fn colours_are_written_as_a_browser_writes_them() {
        for (value, kept) in [
            ("hwb(120 20% 40%)", Some("rgb(51, 153, 51)")),
            ("lab(50% 20 -30 / 50%)", Some("lab(50 20 -30 / 0.5)")),
            ("oklch(0.5 100% 1turn)", Some("oklch(0.5 0.4 0)")),
            ("lch(none 10 20deg)", Some("lch(none 10 20)")),
            ("color(display-p3 100% 0.5 0)", Some("color(display-p3 1 0.5 0)")),
            ("color(xyz 0.1 0.2 0.3 / 1)", Some("color(xyz-d65 0.1 0.2 0.3)")),
            ("color-mix(in srgb, #f00 30%, blue)", Some("color-mix(in srgb, rgb(255, 0, 0) 30%, blue 70%)")),
            ("color-mix(in hsl shorter hue, red, blue)", Some("color-mix(in hsl, red, blue)")),
            ("light-dark(#fff, black)", Some("light-dark(rgb(255, 255, 255), black)")),
            ("color(glaze 1 0 0)", None),
            ("lab(50% 20)", None),
            ("color-mix(in srgb, 1px, blue)", None),
        ] {
            assert_eq!(canonical("color", value).as_deref(), kept, "{value}");
        }
    }
}

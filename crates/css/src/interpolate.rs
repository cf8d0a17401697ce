//! Values between two others (CSS Values 4 §3, Web Animations §5.3.5): what a property comes to on the way from one computed value to another.

use crate::component::{Component, components};
use crate::math::{Calculation, Terms, written};
use crate::value::{alpha_text, canonical, hex_colour, number, split};
use crate::{grammar, words};

/// The value of a property `at` of the way between two computed values: 0 is the first, 1 the second, and an easing may lead beyond both. None
/// where there is nothing between them: such values change in one step, half way.
pub fn between(property: &str, from: &str, to: &str, at: f64) -> Option<String> {
    if is_in_steps(property) {
        return None;
    }
    match property {
        // CSS Display §4: what is shown at one end is shown all the way.
        "visibility" => return one_shown(from, to, at, "visible"),
        "display" => return one_not(from, to, at, "none"),
        "content-visibility" => return one_not(from, to, at, "hidden"),
        _ => {}
    }
    combined(property, (from, 1.0 - at), (to, at))
}

/// A computed value added to another: `add` and `accumulate` (Web Animations §5.4). None where they cannot be added: the second takes the place
/// of the first.
pub fn added(property: &str, under: &str, value: &str, accumulates: bool) -> Option<String> {
    if is_in_steps(property) || under == "none" || value == "none" {
        return None;
    }
    if !accumulates && is_list_of_effects(property) {
        let between = if property.ends_with("shadow") { ", " } else { " " };
        return Some(format!("{under}{between}{value}"));
    }
    combined(property, (under, 1.0), (value, 1.0))
}

/// Properties whose values are names, or that say how to animate: numbers in them are no amounts.
fn is_in_steps(property: &str) -> bool {
    const STEPS: [&str; 13] = [
        "font-family",
        "font-feature-settings",
        "font-language-override",
        "grid-auto-flow",
        "grid-template-areas",
        "will-change",
        "content",
        "quotes",
        "cursor",
        "counter-increment",
        "counter-reset",
        "counter-set",
        "hyphenate-limit-chars",
    ];
    const STARTS: [&str; 6] = ["animation", "transition", "grid-row", "grid-column", "container", "scroll-timeline"];
    STEPS.contains(&property) || STARTS.iter().any(|start| property.starts_with(start)) || property.starts_with("--")
}

/// Properties whose value is a list of things that are done one after the other.
fn is_list_of_effects(property: &str) -> bool {
    matches!(property, "filter" | "backdrop-filter" | "box-shadow" | "text-shadow" | "transform")
}

fn one_shown(from: &str, to: &str, at: f64, shown: &str) -> Option<String> {
    (from == shown || to == shown).then(|| {
        let there = if at <= 0.0 {
            from
        } else if at >= 1.0 {
            to
        } else {
            shown
        };
        there.to_owned()
    })
}

/// Something until the very end where one of both is the word for nothing.
fn one_not(from: &str, to: &str, at: f64, nothing: &str) -> Option<String> {
    ((from == nothing) != (to == nothing)).then(|| {
        let something = if from == nothing { to } else { from };
        let there = if at <= 0.0 {
            from
        } else if at >= 1.0 {
            to
        } else {
            something
        };
        there.to_owned()
    })
}

/// One value and how much of it counts.
type Part<'a> = (&'a str, f64);

fn combined(property: &str, a: Part<'_>, b: Part<'_>) -> Option<String> {
    let (mut from, mut to) = (a.0.to_owned(), b.0.to_owned());
    match property {
        "font-style" => {
            let oblique = |text: String| {
                if text == "normal" {
                    "oblique 0deg".into()
                } else if text == "oblique" {
                    "oblique 14deg".into()
                } else {
                    text
                }
            };
            (from, to) = (oblique(from), oblique(to));
        }
        "aspect-ratio" => return ratio(&from, a.1, &to, b.1),
        "transform" if [&from, &to].iter().all(|t| *t == "none" || t.starts_with("matrix(")) => return matrices(&from, &to, b.1),
        _ if is_list_of_effects(property) => (from, to) = same_effects(property, from, to)?,
        _ => {}
    }
    let mixer = Mixer { first: a.1, second: b.1, whole: grammar::mentions(property, "integer") && !grammar::mentions(property, "number") };
    let (from, to) = as_long(property, &from, &to)?;
    let mixed = mixer.list(&components(&from)?, &components(&to)?)?;
    // Beyond both ends there may be nothing that the property takes: the nearest that it does.
    [None, Some((0.0, f64::INFINITY)), Some((1.0, f64::INFINITY)), Some((0.0, 1.0)), Some((0.0, 100.0)), Some((1.0, 1000.0))]
        .into_iter()
        .find_map(|limits| canonical(property, &written_out(&mixed, limits)))
}

/// Lists of sizes and places repeat until they are as long as one another (CSS Values §3.1).
fn as_long(property: &str, from: &str, to: &str) -> Option<(String, String)> {
    let (a, b) = (split(from, ','), split(to, ','));
    let repeats = property.starts_with("background-")
        || property.starts_with("mask-")
        || property.starts_with("-webkit-mask-")
        || matches!(property, "object-position" | "stroke-dasharray");
    if a.len() == b.len() || !repeats || a.is_empty() || b.is_empty() || property.ends_with("image") {
        return Some((from.to_owned(), to.to_owned()));
    }
    const MOST: usize = 64;
    let common = (1..=MOST).map(|n| n * a.len()).find(|n| n % b.len() == 0)?;
    let repeated = |list: &[&str]| (0..common).map(|i| list[i % list.len()]).collect::<Vec<_>>().join(", ");
    Some((repeated(&a), repeated(&b)))
}

/// Two lists of effects with the same ones in the same order: the shorter one goes on with those of the other that do nothing.
fn same_effects(property: &str, from: String, to: String) -> Option<(String, String)> {
    let at = if property.ends_with("shadow") { ',' } else { ' ' };
    let list =
        |text: &str| if text == "none" { Vec::new() } else { split(text, at).into_iter().map(str::to_owned).collect::<Vec<String>>() };
    let (mut a, mut b) = (list(&from), list(&to));
    let (shorter, longer) = if a.len() < b.len() { (&mut a, &b) } else { (&mut b, &a) };
    for other in longer.iter().skip(shorter.len()).cloned().collect::<Vec<String>>() {
        shorter.push(idle(property, &other)?);
    }
    let between = if at == ',' { ", " } else { " " };
    Some((a.join(between), b.join(between)))
}

/// The effect of the same kind that changes nothing.
fn idle(property: &str, effect: &str) -> Option<String> {
    if property.ends_with("shadow") {
        let lengths = split(effect, ' ').iter().filter(|w| w.ends_with("px")).count();
        let inset = if effect.ends_with("inset") { " inset" } else { "" };
        return Some(format!("rgba(0, 0, 0, 0){}{inset}", " 0px".repeat(lengths)));
    }
    let name = effect.split_once('(')?.0;
    let of = |value: &str, inner: &str| {
        let count = split(inner.strip_suffix(')').unwrap_or(inner), ',').len();
        format!("{name}({})", vec![value; count.max(1)].join(", "))
    };
    let inner = effect.split_once('(')?.1;
    Some(match name {
        "blur" => "blur(0px)".into(),
        "drop-shadow" => format!("drop-shadow({})", idle("shadow", inner.strip_suffix(')')?)?),
        "grayscale" | "invert" | "sepia" => of("0", inner),
        "brightness" | "contrast" | "opacity" | "saturate" => of("1", inner),
        "matrix" => "matrix(1, 0, 0, 1, 0, 0)".into(),
        _ if name.starts_with("scale") => of("1", inner),
        _ if name.starts_with("translate") => of("0px", inner),
        _ if name.starts_with("rotate") && name != "rotate3d" || name.starts_with("skew") || name == "hue-rotate" => of("0deg", inner),
        _ => return None,
    })
}

/// CSS Sizing 4 §4: the way between two ratios is one of their logarithms.
fn ratio(from: &str, first: f64, to: &str, second: f64) -> Option<String> {
    let of = |text: &str| {
        let (width, height) = text.split_once('/').unwrap_or((text, "1"));
        let (width, height): (f64, f64) = (width.trim().parse().ok()?, height.trim().parse().ok()?);
        (width > 0.0 && height > 0.0).then(|| (width / height).ln())
    };
    Some(format!("{} / 1", number((of(from)? * first + of(to)? * second).exp())))
}

/// Transforms in the plane, taken apart into where they move, how they turn, stretch and slant (CSS Transforms §12).
fn matrices(from: &str, to: &str, at: f64) -> Option<String> {
    let read = |text: &str| -> Option<[f64; 6]> {
        if text == "none" {
            return Some([1.0, 0.0, 0.0, 1.0, 0.0, 0.0]);
        }
        let inner = text.strip_prefix("matrix(")?.strip_suffix(')')?;
        inner.split(',').map(|n| n.trim().parse().ok()).collect::<Option<Vec<f64>>>()?.try_into().ok()
    };
    let apart = |[a, b, c, d, x, y]: [f64; 6]| -> Option<[f64; 6]> {
        let width = a.hypot(b);
        if width == 0.0 || a * d - b * c == 0.0 {
            return None;
        }
        let (cos, sin) = (a / width, b / width);
        let slant = cos * c + sin * d;
        let height = cos * d - sin * c;
        Some([x, y, sin.atan2(cos), width, height, slant / height])
    };
    let (one, other) = (apart(read(from)?)?, apart(read(to)?)?);
    let mut other = other;
    // The shorter way around.
    let turn = other[2] - one[2];
    if turn.abs() > std::f64::consts::PI {
        other[2] -= turn.signum() * std::f64::consts::TAU;
    }
    let mut mixed = [0.0; 6];
    for (out, (a, b)) in mixed.iter_mut().zip(one.into_iter().zip(other)) {
        *out = a * (1.0 - at) + b * at;
    }
    let [x, y, angle, width, height, slant] = mixed;
    let (sin, cos) = angle.sin_cos();
    let (c, d) = (slant * height, height);
    let all = [cos * width, sin * width, cos * c - sin * d, sin * c + cos * d, x, y];
    let tidy = |n: f64| if n.abs() < 1e-9 { 0.0 } else { n };
    Some(format!("matrix({})", all.map(|n| number(tidy(n))).join(", ")))
}

/// Mixes values of the same shape.
struct Mixer {
    first: f64,
    second: f64,
    /// Whether there is nothing between whole numbers.
    whole: bool,
}

impl Mixer {
    fn list(&self, a: &[Component], b: &[Component]) -> Option<Vec<Component>> {
        (a.len() == b.len()).then(|| a.iter().zip(b).map(|(a, b)| self.one(a, b)).collect())?
    }

    fn mix(&self, a: f64, b: f64) -> f64 {
        a * self.first + b * self.second
    }

    fn one(&self, a: &Component, b: &Component) -> Option<Component> {
        if let (Some(a), Some(b)) = (colour(a), colour(b)) {
            return Some(self.colour(a, b));
        }
        match (a, b) {
            (Component::Number(a, _), Component::Number(b, _)) => {
                let mixed = self.mix(*a, *b);
                // Half way goes up (CSS Values §3.1, integers).
                Some(Component::Number(if self.whole { (mixed + 0.5).floor() } else { mixed }, None))
            }
            (Component::Percentage(a), Component::Percentage(b)) => Some(Component::Percentage(self.mix(*a, *b))),
            (Component::Dimension(a, unit), Component::Dimension(b, other)) if unit == other => {
                Some(Component::Dimension(self.mix(*a, *b), unit.clone()))
            }
            (Component::Function(name, a, _), Component::Function(other, b, _)) if name == other && !crate::math::is_math(name) => {
                let inner = self.list(a, b)?;
                let text = written_out(&inner, None);
                Some(Component::Function(name.clone(), inner, text))
            }
            (Component::Block(sign, a), Component::Block(other, b)) if sign == other => Some(Component::Block(*sign, self.list(a, b)?)),
            _ if a == b => Some(a.clone()),
            _ => self.sum(a, b),
        }
    }

    /// Lengths with shares of something: what comes of both is a calculation.
    fn sum(&self, a: &Component, b: &Component) -> Option<Component> {
        let (a, b) = (terms(a)?, terms(b)?);
        let mut out = Terms::new();
        for (terms, weight) in [(a, self.first), (b, self.second)] {
            for (unit, value) in terms {
                *out.entry(unit).or_default() += value * weight;
            }
        }
        if out.len() > 1 {
            out.remove("");
        }
        let text = written(&out);
        Some(Component::Function("calc".into(), components(&text)?, text))
    }

    /// CSS Color §12: what is see-through lends no colour.
    fn colour(&self, a: [f64; 4], b: [f64; 4]) -> Component {
        let alpha = self.mix(a[3], b[3]).clamp(0.0, 1.0);
        let channel = |i: usize| if alpha == 0.0 { 0.0 } else { (self.mix(a[i] * a[3], b[i] * b[3]) / alpha).round().clamp(0.0, 255.0) };
        let [red, green, blue] = [channel(0), channel(1), channel(2)];
        let text = if alpha >= 1.0 { format!("{red}, {green}, {blue}") } else { format!("{red}, {green}, {blue}, {}", alpha_text(alpha)) };
        let name = if alpha >= 1.0 { "rgb" } else { "rgba" };
        Component::Function(name.into(), components(&text).unwrap_or_default(), text)
    }
}

/// A colour of the kind that has red, green and blue, each to 255, and how opaque it is.
fn colour(of: &Component) -> Option<[f64; 4]> {
    let read = |inner: &[Component]| -> Option<[f64; 4]> {
        let numbers: Vec<f64> = inner.iter().filter_map(|c| if let Component::Number(n, _) = c { Some(*n) } else { None }).collect();
        match numbers[..] {
            [r, g, b] => Some([r, g, b, 1.0]),
            [r, g, b, alpha] => Some([r, g, b, alpha]),
            _ => None,
        }
    };
    match of {
        Component::Function(name, inner, _) if name == "rgb" || name == "rgba" => read(inner),
        Component::Hash(digits) => colour(components(&hex_colour(digits)?)?.first()?),
        Component::Ident(word) if word == "transparent" => Some([0.0; 4]),
        Component::Ident(word) if words::takes("color", word) => {
            cssparser::color::parse_named_color(word).ok().map(|(r, g, b)| [f64::from(r), f64::from(g), f64::from(b), 1.0])
        }
        _ => None,
    }
}

fn terms(of: &Component) -> Option<Terms> {
    match of {
        Component::Number(n, _) if *n == 0.0 => Some(Terms::from([(String::new(), 0.0)])),
        Component::Percentage(n) => Some(Terms::from([("%".into(), *n)])),
        Component::Dimension(n, unit) => Some(Terms::from([(unit.clone(), *n)])),
        Component::Function(name, _, inner) if crate::math::is_math(name) => Calculation::parse(&format!("{name}({inner})"))?.terms(),
        _ => None,
    }
}

/// Components as text, numbers within limits where there are any.
fn written_out(list: &[Component], limits: Option<(f64, f64)>) -> String {
    let within = |n: f64| number(limits.map_or(n, |(least, most)| n.clamp(least, most)));
    let mut out = String::new();
    for component in list {
        let text = match component {
            Component::Ident(word) => word.clone(),
            Component::Number(n, _) => within(*n),
            Component::Percentage(n) => format!("{}%", within(*n)),
            Component::Dimension(n, unit) => format!("{}{unit}", within(*n)),
            Component::Hash(digits) => format!("#{digits}"),
            Component::Text(text) => crate::value::quoted(text),
            Component::Url(address) => format!("url({})", crate::value::quoted(address)),
            Component::Function(name, _, text) if crate::math::is_math(name) || name.starts_with("rgb") => format!("{name}({text})"),
            Component::Function(name, inner, _) => format!("{name}({})", written_out(inner, limits)),
            Component::Block(sign, inner) => format!("{sign}{}{}", written_out(inner, limits), if *sign == '(' { ')' } else { ']' }),
            Component::Sign(sign) => sign.to_string(),
        };
        if !out.is_empty() && text != "," {
            out.push(' ');
        }
        out.push_str(&text);
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn values_between() {
        // Rows as CSS Values, Color, Backgrounds and Transforms work them out.
        for (property, from, to, at, wanted) in [
            ("opacity", "0", "1", 0.3, Some("0.3")),
            ("width", "0px", "100px", 1.5, Some("150px")),
            ("width", "10px", "100px", -1.0, Some("0px")),
            ("left", "-10px", "50%", 0.5, Some("calc(25% - 5px)")),
            ("left", "auto", "50px", 0.5, None),
            ("color", "rgb(255, 0, 0)", "rgb(0, 0, 255)", 0.5, Some("rgb(128, 0, 128)")),
            ("background-color", "rgba(0, 0, 0, 0)", "rgb(0, 128, 0)", 0.5, Some("rgba(0, 128, 0, 0.5)")),
            ("order", "1", "4", 0.5, Some("3")),
            ("visibility", "hidden", "visible", 0.1, Some("visible")),
            ("visibility", "hidden", "collapse", 0.1, None),
            ("display", "none", "flex", 0.1, Some("flex")),
            ("display", "grid", "flex", 0.1, None),
            ("box-shadow", "none", "rgb(0, 0, 0) 10px 20px 4px 0px", 0.5, Some("rgba(0, 0, 0, 0.5) 5px 10px 2px 0px")),
            ("background-size", "10px 10px", "20px 20px, 40px 40px", 0.5, Some("15px 15px, 25px 25px")),
            ("filter", "none", "blur(4px)", 0.25, Some("blur(1px)")),
            ("transform", "none", "matrix(1, 0, 0, 1, 20, 0)", 0.5, Some("matrix(1, 0, 0, 1, 10, 0)")),
            ("transform", "translateX(-100%)", "translateX(0px)", 0.5, Some("translateX(calc(-50% + 0px))")),
            ("grid-template-columns", "100px 1fr", "200px 2fr", 0.5, Some("150px 1.5fr")),
            ("font-family", "\"a\"", "\"b\"", 0.5, None),
            ("aspect-ratio", "1 / 2", "2 / 1", 0.5, Some("1 / 1")),
        ] {
            assert_eq!(between(property, from, to, at).as_deref(), wanted, "{property} from {from} to {to} at {at}");
        }
    }

    #[test]
    fn values_are_added() {
        assert_eq!(added("width", "10px", "5px", false).as_deref(), Some("15px"));
        assert_eq!(added("filter", "blur(1px)", "blur(2px)", false).as_deref(), Some("blur(1px) blur(2px)"));
        assert_eq!(added("filter", "blur(1px)", "blur(2px)", true).as_deref(), Some("blur(3px)"));
        assert_eq!(added("display", "block", "flex", true), None);
    }
}

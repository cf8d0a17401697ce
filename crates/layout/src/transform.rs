//! What is moved, turned and scaled (CSS Transforms 1 §11, 2 §5), in the plane of the page.

use cssparser::Parser;
use fidelon_dom::cascade::Computed;

use fidelon_css::math::Calculation;

use crate::style::resolved;

/// A rectangle, in pixels.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Area {
    /// Its left edge.
    pub x: f32,
    /// Its upper edge.
    pub y: f32,
    /// How wide it is.
    pub width: f32,
    /// How high it is.
    pub height: f32,
}

impl Area {
    /// The smallest one around both.
    #[must_use]
    pub fn around(self, other: Self) -> Self {
        let (x, y) = (self.x.min(other.x), self.y.min(other.y));
        let right = (self.x + self.width).max(other.x + other.width);
        let bottom = (self.y + self.height).max(other.y + other.height);
        Self { x, y, width: right - x, height: bottom - y }
    }

    /// What both have in common, if they touch.
    pub fn common(self, other: Self) -> Option<Self> {
        let (x, y) = (self.x.max(other.x), self.y.max(other.y));
        let right = (self.x + self.width).min(other.x + other.width);
        let bottom = (self.y + self.height).min(other.y + other.height);
        (right >= x && bottom >= y).then_some(Self { x, y, width: right - x, height: bottom - y })
    }
}

/// From one plane to another: `x' = a·x + c·y + e`, `y' = b·x + d·y + f`.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Affine(pub [f32; 6]);

impl Affine {
    /// What changes nothing.
    pub const NONE: Self = Self([1.0, 0.0, 0.0, 1.0, 0.0, 0.0]);

    /// A move.
    pub const fn by(x: f32, y: f32) -> Self {
        Self([1.0, 0.0, 0.0, 1.0, x, y])
    }

    /// This after the other: what the other gives is what this takes.
    #[must_use]
    pub fn after(self, other: Self) -> Self {
        let ([a, b, c, d, e, f], [g, h, i, j, k, l]) = (self.0, other.0);
        Self([a * g + c * h, b * g + d * h, a * i + c * j, b * i + d * j, a * k + c * l + e, b * k + d * l + f])
    }

    /// The smallest upright rectangle around where a rectangle comes to lie.
    pub fn area(self, area: Area) -> Area {
        let [a, b, c, d, e, f] = self.0;
        let at = |x: f32, y: f32| (a * x + c * y + e, b * x + d * y + f);
        let (right, bottom) = (area.x + area.width, area.y + area.height);
        let corners = [at(area.x, area.y), at(right, area.y), at(area.x, bottom), at(right, bottom)];
        let fold = |f: fn(f32, f32) -> f32, axis: fn(&(f32, f32)) -> f32| corners.iter().map(axis).reduce(f).unwrap_or(0.0);
        let (x, y) = (fold(f32::min, |p| p.0), fold(f32::min, |p| p.1));
        Area { x, y, width: fold(f32::max, |p| p.0) - x, height: fold(f32::max, |p| p.1) - y }
    }
}

/// How a box of this size is transformed about its origin; none where it is not.
pub fn of(c: &Computed, width: f32, height: f32) -> Option<Affine> {
    let parts = ["translate", "rotate", "scale", "transform"].map(|name| (name, c.get(name)));
    if parts.iter().all(|(_, value)| value == "none") {
        return None;
    }
    let mut out = Affine::NONE;
    for (name, value) in parts.iter().filter(|(_, value)| value != "none") {
        let text = if *name == "transform" {
            value.clone()
        } else {
            format!("{name}({})", value.split_whitespace().collect::<Vec<_>>().join(","))
        };
        out = out.after(functions(&text, width, height)?);
    }
    let (x, y) = origin(c.given("transform-origin").unwrap_or("50% 50%"), width, height);
    Some(Affine::by(x, y).after(out).after(Affine::by(-x, -y)))
}

/// The point that stays where it is (CSS Transforms §8): a place for each side, or one for both; names of edges in any order.
fn origin(text: &str, width: f32, height: f32) -> (f32, f32) {
    let words: Vec<&str> = text.split_whitespace().collect();
    let at = |word: Option<&&str>, size: f32| match word.copied() {
        Some("left" | "top") => 0.0,
        Some("right" | "bottom") => size,
        Some(length) => Calculation::parse(length).map_or(size / 2.0, |length| resolved(&length, size)),
        None => size / 2.0,
    };
    let upright = |word: Option<&&str>| matches!(word.copied(), Some("top" | "bottom"));
    let level = |word: Option<&&str>| matches!(word.copied(), Some("left" | "right"));
    let (first, second) = (words.first(), words.get(1));
    if upright(first) || level(second) { (at(second, width), at(first, height)) } else { (at(first, width), at(second, height)) }
}

/// What `transform` alone comes to for a box of this size; none where there is none.
pub fn plain(text: &str, width: f32, height: f32) -> Option<[f32; 6]> {
    if text == "none" { None } else { functions(text, width, height).map(|a| a.0) }
}

/// A list of functions, one after the other.
fn functions(text: &str, width: f32, height: f32) -> Option<Affine> {
    let mut parser = Parser::new(text);
    let mut out = Affine::NONE;
    while !parser.is_exhausted() {
        let name = parser.expect_function().ok()?.to_ascii_lowercase();
        let inner = parser.parse_nested_block(|input| {
            let from = input.position();
            while input.next_including_whitespace().is_ok() {}
            Ok::<_, cssparser::ParseError<()>>(input.slice_from(from))
        });
        let arguments = apart(inner.ok()?);
        let length = |at: usize, basis: f32| arguments.get(at).and_then(|a| Calculation::parse(a.trim())).map(|l| resolved(&l, basis));
        let number = |at: usize| arguments.get(at).and_then(|a| a.trim().trim_end_matches("px").parse::<f32>().ok());
        let angle = |at: usize| arguments.get(at).and_then(|a| turned(a.trim()));
        let all = || (0..arguments.len()).map(number).collect::<Option<Vec<f32>>>();
        out = out.after(match &*name {
            "translate" | "translate3d" => Affine::by(length(0, width)?, length(1, height).unwrap_or(0.0)),
            "translatex" => Affine::by(length(0, width)?, 0.0),
            "translatey" => Affine::by(0.0, length(0, height)?),
            "scale" | "scale3d" => {
                let x = number(0)?;
                Affine([x, 0.0, 0.0, number(1).unwrap_or(x), 0.0, 0.0])
            }
            "scalex" => Affine([number(0)?, 0.0, 0.0, 1.0, 0.0, 0.0]),
            "scaley" => Affine([1.0, 0.0, 0.0, number(0)?, 0.0, 0.0]),
            "rotate" | "rotatez" => {
                let (sin, cos) = angle(0)?.sin_cos();
                Affine([cos, sin, -sin, cos, 0.0, 0.0])
            }
            "skewx" => Affine([1.0, 0.0, angle(0)?.tan(), 1.0, 0.0, 0.0]),
            "skewy" => Affine([1.0, angle(0)?.tan(), 0.0, 1.0, 0.0, 0.0]),
            "matrix" => Affine(all()?.try_into().ok()?),
            "matrix3d" => {
                let m = all()?;
                (m.len() == 16).then(|| Affine([m[0], m[1], m[4], m[5], m[12], m[13]]))?
            }
            // What leads out of the plane is seen from the front.
            _ => Affine::NONE,
        });
        parser.skip_whitespace();
    }
    Some(out)
}

/// Arguments between the commas that stand in no parentheses.
fn apart(text: &str) -> Vec<&str> {
    let (mut depth, mut from, mut out) = (0, 0, Vec::new());
    for (at, c) in text.char_indices() {
        match c {
            '(' => depth += 1,
            ')' => depth -= 1,
            ',' if depth == 0 => {
                out.push(&text[from..at]);
                from = at + 1;
            }
            _ => {}
        }
    }
    out.push(&text[from..]);
    out
}

/// An angle in radians.
fn turned(text: &str) -> Option<f32> {
    let of = |unit: &str| text.strip_suffix(unit).and_then(|n| n.parse::<f32>().ok());
    let degrees = of("deg").or_else(|| of("grad").map(|g| g * 0.9)).or_else(|| of("turn").map(|t| t * 360.0));
    degrees.map(f32::to_radians).or_else(|| of("rad")).or_else(|| text.parse().ok())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn functions_follow_one_another() {
        let area = Area { x: 0.0, y: 0.0, width: 40.0, height: 20.0 };
        for (text, x, y, width, height) in [
            ("translate(-50%, -50%)", -20.0, -10.0, 40.0, 20.0),
            ("translate(calc(-50% + 4px), 3px)", -16.0, 3.0, 40.0, 20.0),
            ("scale(2)", 0.0, 0.0, 80.0, 40.0),
            ("translateX(10px) scaleY(0.5)", 10.0, 0.0, 40.0, 10.0),
            ("rotate(90deg)", -20.0, 0.0, 20.0, 40.0),
            ("matrix(1, 0, 0, 1, 5, 6)", 5.0, 6.0, 40.0, 20.0),
        ] {
            let found = functions(text, 40.0, 20.0).map(|a| a.area(area)).unwrap_or_default();
            let near = |a: f32, b: f32| (a - b).abs() < 0.001;
            assert!(near(found.x, x) && near(found.y, y) && near(found.width, width) && near(found.height, height), "{text}: {found:?}");
        }
        assert_eq!(functions("nonsense", 1.0, 1.0), None);
        for (text, point) in [
            ("50% 50%", (20.0, 10.0)),
            ("0px 0px", (0.0, 0.0)),
            ("top left", (0.0, 0.0)),
            ("right", (40.0, 10.0)),
            ("bottom", (20.0, 20.0)),
            ("10px 25%", (10.0, 5.0)),
        ] {
            assert_eq!(origin(text, 40.0, 20.0), point, "{text}");
        }
    }

    #[test]
    fn areas_meet() {
        let (a, b) = (Area { x: 0.0, y: 0.0, width: 10.0, height: 10.0 }, Area { x: 5.0, y: 5.0, width: 10.0, height: 10.0 });
        assert_eq!(a.around(b), Area { x: 0.0, y: 0.0, width: 15.0, height: 15.0 });
        assert_eq!(a.common(b), Some(Area { x: 5.0, y: 5.0, width: 5.0, height: 5.0 }));
        assert_eq!(a.common(Area { x: 20.0, ..b }), None);
    }
}

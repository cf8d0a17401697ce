//! Media queries (Media Queries 5), answered as a quiet desktop screen of a given size does.

use lightningcss::media_query::{
    MediaCondition, MediaFeatureComparison, MediaFeatureName, MediaFeatureValue, MediaList, MediaType, Operator, Qualifier, QueryFeature,
};
use lightningcss::rules::CssRule;
use lightningcss::stylesheet::{ParserOptions, PrinterOptions, StyleSheet};
use lightningcss::traits::ToCss;

/// The size of the window, in CSS pixels.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Viewport {
    /// Its width.
    pub width: f64,
    /// Its height.
    pub height: f64,
}

impl Default for Viewport {
    fn default() -> Self {
        Self { width: 1280.0, height: 800.0 }
    }
}

/// A media query list.
#[derive(Debug, Clone, PartialEq)]
pub struct Media(Vec<Query>);

#[derive(Debug, Clone, PartialEq)]
struct Query {
    negated: bool,
    on_screen: bool,
    condition: Option<Condition>,
}

#[derive(Debug, Clone, PartialEq)]
enum Condition {
    Holds(String, Option<(MediaFeatureComparison, Operand)>),
    Not(Box<Condition>),
    All(Vec<Condition>),
    Any(Vec<Condition>),
    Unknown,
}

#[derive(Debug, Clone, PartialEq)]
enum Operand {
    Number(f64),
    Word(String),
}

impl Media {
    /// Reads a list; what cannot be read matches nothing.
    pub fn parse(text: &str) -> Self {
        let rule = if super::sheet::is_too_deep(text) { String::new() } else { format!("@media {text} {{}}") };
        let sheet = StyleSheet::parse(&rule, ParserOptions::default());
        match sheet.as_ref().map(|s| s.rules.0.as_slice()) {
            Ok([CssRule::Media(media)]) => Self::of(&media.query),
            _ => Self(vec![Query { negated: false, on_screen: false, condition: None }]),
        }
    }

    /// From a list that was read.
    pub(crate) fn of(list: &MediaList<'_>) -> Self {
        Self(
            list.media_queries
                .iter()
                .map(|q| Query {
                    negated: q.qualifier == Some(Qualifier::Not),
                    on_screen: matches!(q.media_type, MediaType::All | MediaType::Screen),
                    condition: q.condition.as_ref().map(condition),
                })
                .collect(),
        )
    }

    /// Whether any query of the list matches; an empty list does.
    pub fn matches(&self, viewport: Viewport) -> bool {
        self.0.is_empty()
            || self.0.iter().any(|q| {
                // What is unknown makes a query false, negated or not (Media Queries §3.1).
                let condition = q.condition.as_ref().map_or(Some(true), |c| c.holds(viewport));
                condition.is_some_and(|c| (q.on_screen && c) != q.negated)
            })
    }
}

fn condition(of: &MediaCondition<'_>) -> Condition {
    match of {
        MediaCondition::Feature(feature) => match feature {
            QueryFeature::Boolean { name } => Condition::Holds(name_of(name), None),
            QueryFeature::Plain { name, value } => {
                let name = name_of(name);
                let (name, how) = match (name.strip_prefix("min-"), name.strip_prefix("max-")) {
                    (Some(rest), _) => (rest.to_owned(), MediaFeatureComparison::GreaterThanEqual),
                    (_, Some(rest)) => (rest.to_owned(), MediaFeatureComparison::LessThanEqual),
                    _ => (name, MediaFeatureComparison::Equal),
                };
                Condition::Holds(name, Some((how, operand(value))))
            }
            QueryFeature::Range { name, operator, value } => Condition::Holds(name_of(name), Some((*operator, operand(value)))),
            QueryFeature::Interval { name, start, start_operator, end, end_operator } => Condition::All(vec![
                Condition::Holds(name_of(name), Some((turned(*start_operator), operand(start)))),
                Condition::Holds(name_of(name), Some((*end_operator, operand(end)))),
            ]),
        },
        MediaCondition::Not(inner) => Condition::Not(Box::new(condition(inner))),
        MediaCondition::Operation { operator, conditions } => {
            let all = conditions.iter().map(condition).collect();
            if *operator == Operator::And { Condition::All(all) } else { Condition::Any(all) }
        }
        MediaCondition::Unknown(_) => Condition::Unknown,
    }
}

/// `400px <= width` is `width >= 400px`.
fn turned(operator: MediaFeatureComparison) -> MediaFeatureComparison {
    match operator {
        MediaFeatureComparison::Equal => MediaFeatureComparison::Equal,
        MediaFeatureComparison::GreaterThan => MediaFeatureComparison::LessThan,
        MediaFeatureComparison::GreaterThanEqual => MediaFeatureComparison::LessThanEqual,
        MediaFeatureComparison::LessThan => MediaFeatureComparison::GreaterThan,
        MediaFeatureComparison::LessThanEqual => MediaFeatureComparison::GreaterThanEqual,
    }
}

fn name_of<Id: ToCss>(name: &MediaFeatureName<'_, Id>) -> String {
    match name {
        MediaFeatureName::Standard(id) => id.to_css_string(PrinterOptions::default()).unwrap_or_default(),
        MediaFeatureName::Custom(name) => name.as_ref().to_owned(),
        MediaFeatureName::Unknown(name) => name.as_ref().to_owned(),
    }
}

fn operand(value: &MediaFeatureValue<'_>) -> Operand {
    match value {
        MediaFeatureValue::Length(length) => length.to_px().map_or_else(
            || {
                // Relative to the initial font size (Media Queries §1.3).
                let text = length.to_css_string(PrinterOptions::default()).unwrap_or_default();
                let digits = text.trim_end_matches(|c: char| c.is_ascii_alphabetic());
                digits.parse::<f64>().map_or(Operand::Word(text.clone()), |n| Operand::Number(n * 16.0))
            },
            |px| Operand::Number(f64::from(px)),
        ),
        MediaFeatureValue::Number(n) => Operand::Number(f64::from(*n)),
        MediaFeatureValue::Integer(n) => Operand::Number(f64::from(*n)),
        MediaFeatureValue::Boolean(on) => Operand::Number(f64::from(u8::from(*on))),
        MediaFeatureValue::Resolution(_) => Operand::Number(1.0),
        MediaFeatureValue::Ratio(ratio) => Operand::Number(f64::from(ratio.0) / f64::from(ratio.1)),
        MediaFeatureValue::Ident(word) => Operand::Word(word.as_ref().to_ascii_lowercase()),
        MediaFeatureValue::Env(_) => Operand::Word(String::new()),
    }
}

impl Condition {
    /// True, false, or unknown.
    fn holds(&self, viewport: Viewport) -> Option<bool> {
        match self {
            Self::Holds(name, asked) => feature(name, viewport).map(|is| match (is, asked) {
                (Operand::Number(is), None) => is != 0.0,
                (Operand::Word(is), None) => is != "none" && is != "no-preference",
                (Operand::Number(is), Some((how, Operand::Number(wanted)))) => compare(is, *how, *wanted),
                (Operand::Word(is), Some((_, Operand::Word(wanted)))) => is == *wanted,
                _ => false,
            }),
            Self::Not(inner) => inner.holds(viewport).map(|h| !h),
            Self::All(all) => all.iter().try_fold(true, |so_far, c| c.holds(viewport).map(|h| so_far && h)),
            Self::Any(any) => {
                let answers: Vec<_> = any.iter().map(|c| c.holds(viewport)).collect();
                if answers.contains(&Some(true)) {
                    Some(true)
                } else if answers.contains(&None) {
                    None
                } else {
                    Some(false)
                }
            }
            Self::Unknown => None,
        }
    }
}

fn compare(is: f64, how: MediaFeatureComparison, wanted: f64) -> bool {
    match how {
        MediaFeatureComparison::Equal => (is - wanted).abs() < 1e-6,
        MediaFeatureComparison::GreaterThan => is > wanted,
        MediaFeatureComparison::GreaterThanEqual => is >= wanted,
        MediaFeatureComparison::LessThan => is < wanted,
        MediaFeatureComparison::LessThanEqual => is <= wanted,
    }
}

/// What the device answers; none for features that are not known.
fn feature(name: &str, viewport: Viewport) -> Option<Operand> {
    let word = |w: &str| Some(Operand::Word(w.to_owned()));
    let number = |n: f64| Some(Operand::Number(n));
    match name {
        "width" | "device-width" => number(viewport.width),
        "height" | "device-height" => number(viewport.height),
        "aspect-ratio" | "device-aspect-ratio" => number(viewport.width / viewport.height),
        "orientation" => word(if viewport.width > viewport.height { "landscape" } else { "portrait" }),
        "resolution" | "-webkit-device-pixel-ratio" => number(1.0),
        "color" => number(8.0),
        "color-index" | "monochrome" | "grid" => number(0.0),
        "hover" | "any-hover" => word("hover"),
        "pointer" | "any-pointer" => word("fine"),
        "prefers-color-scheme" => word("light"),
        "prefers-reduced-motion" | "prefers-contrast" | "prefers-reduced-transparency" | "prefers-reduced-data" => word("no-preference"),
        "forced-colors" | "inverted-colors" => word("none"),
        "color-gamut" => word("srgb"),
        "dynamic-range" | "video-dynamic-range" => word("standard"),
        "display-mode" => word("browser"),
        "scripting" => word("enabled"),
        "update" => word("fast"),
        "overflow-block" | "overflow-inline" => word("scroll"),
        "scan" => word("progressive"),
        _ => None,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn queries_are_answered_as_on_a_desktop_screen() {
        for (query, matches) in [
            ("", true),
            ("all", true),
            ("print", false),
            ("not print", true),
            ("print, (min-width: 10px)", true),
            ("(min-width: 80em)", true),
            ("(min-width: 80.1em)", false),
            ("(width > 1279px) and (height < 801px)", true),
            ("(100px <= width < 1280px)", false),
            ("(orientation: landscape)", true),
            ("(prefers-color-scheme: dark)", false),
            ("(hover)", true),
            ("(prefers-reduced-motion)", false),
            ("(color)", true),
            ("(min-aspect-ratio: 16/10)", true),
            ("(pottery: glazed)", false),
            ("not (pottery: glazed)", false),
            ("(pottery: glazed) or (hover: hover)", true),
            ("((", false),
            (&"(".repeat(200_000), false),
        ] {
            assert_eq!(Media::parse(query).matches(Viewport::default()), matches, "{query}");
        }
        assert!(!Media::parse("(min-width: 600px)").matches(Viewport { width: 375.0, height: 667.0 }));
    }
}

//! What the kinds of `<input>` take: which texts are values, what number stands behind one, and in which steps it moves (HTML §4.10.5.1, §4.10.5.3.8).

use crate::calendar::{date_of, days_before};
use crate::element::Element;

const SECOND: f64 = 1_000.0;
const DAY: f64 = 86_400_000.0;
const WEEK: f64 = 604_800_000.0;
/// The Monday of the first week of 1970 lies so far before the first of January.
const FIRST_WEEK: f64 = -259_200_000.0;
/// The last year that a date of ECMAScript reaches.
const LAST_YEAR: i64 = 275_760;

/// The value sanitization algorithm of an input type (HTML §4.10.5.1).
pub fn sanitize(kind: &str, raw: &str, element: &Element) -> String {
    match kind {
        "text" | "search" | "tel" | "password" => raw.replace(['\r', '\n'], ""),
        "email" if element.has_attr("multiple") => {
            let each = raw.split(',').map(|one| one.trim_matches(|c: char| c.is_ascii_whitespace()));
            each.collect::<Vec<_>>().join(",").replace(['\r', '\n'], "")
        }
        "url" | "email" => raw.replace(['\r', '\n'], "").trim_matches(|c: char| c.is_ascii_whitespace()).to_owned(),
        "range" => sanitize_range(raw, element),
        "color" => {
            let hex = raw.strip_prefix('#').filter(|h| h.len() == 6 && h.bytes().all(|b| b.is_ascii_hexdigit()));
            hex.map_or_else(|| "#000000".to_owned(), |h| format!("#{}", h.to_ascii_lowercase()))
        }
        "datetime-local" => local_time(raw).map(|at| number_text(kind, at)).unwrap_or_default(),
        "number" | "date" | "month" | "week" | "time" if number(kind, raw).is_some() => raw.to_owned(),
        "number" | "date" | "month" | "week" | "time" => String::new(),
        _ => raw.to_owned(),
    }
}

/// Whether inputs of a kind have a number behind their text.
pub fn has_number(kind: &str) -> bool {
    is_time(kind) || matches!(kind, "number" | "range")
}

/// Whether inputs of a kind hold a day or a time.
pub fn is_time(kind: &str) -> bool {
    matches!(kind, "date" | "month" | "week" | "time" | "datetime-local")
}

/// The number behind a value: itself, months since 1970, or milliseconds since then. None for what is no value.
pub fn number(kind: &str, text: &str) -> Option<f64> {
    match kind {
        "number" | "range" => text.parse().ok().filter(|_| is_valid_number(text)).filter(|n: &f64| n.is_finite()),
        "date" => date(text),
        "month" => {
            let (year, month) = year_month(text)?;
            Some(whole((year - 1970) * 12 + month - 1))
        }
        "week" => {
            let (year, week) = text.split_once("-W")?;
            let (year, week) = (digits(year, 4..=6)?, digits(week, 2..=2)?);
            let fits = (1..=LAST_YEAR).contains(&year) && (1..=weeks_of(year)).contains(&week);
            fits.then(|| first_monday(year) + whole(week - 1) * WEEK)
        }
        "time" => time(text),
        "datetime-local" => local_time(text),
        _ => None,
    }
}

/// The text of a number, as the kind writes it. Empty for what it cannot.
pub fn number_text(kind: &str, value: f64) -> String {
    match kind {
        "number" | "range" => format_number(value),
        "month" => {
            let months = floored(value);
            format!("{:04}-{:02}", 1970 + months.div_euclid(12), months.rem_euclid(12) + 1)
        }
        "date" => date_text(value),
        "week" => week_text(value),
        "time" => time_text(value.rem_euclid(DAY)),
        "datetime-local" => format!("{}T{}", date_text(value), time_text(value.rem_euclid(DAY))),
        _ => String::new(),
    }
}

/// In what steps an input moves, and between which bounds.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Steps {
    /// The allowed value step; none where any value is allowed.
    pub step: Option<f64>,
    /// The step base.
    pub base: f64,
    /// The minimum, if there is one.
    pub min: Option<f64>,
    /// The maximum, if there is one.
    pub max: Option<f64>,
}

impl Steps {
    /// The steps of an input; none of one whose kind has no numbers.
    pub fn of(element: &Element) -> Option<Self> {
        let kind = element.input_type();
        if !has_number(&kind) {
            return None;
        }
        let said = |name: &str| element.attr(name).and_then(|text| number(&kind, text));
        let range = |default: f64| (kind == "range").then_some(default);
        let (scale, default) = match kind.as_str() {
            "date" => (DAY, 1.0),
            "week" => (WEEK, 1.0),
            "time" | "datetime-local" => (SECOND, 60.0),
            _ => (1.0, 1.0),
        };
        let step = element.attr("step").map_or(Some(default), |text| {
            if text.eq_ignore_ascii_case("any") { None } else { Some(number("number", text).filter(|s| *s > 0.0).unwrap_or(default)) }
        });
        let whole_units = |step: f64| if matches!(kind.as_str(), "date" | "week" | "month") { step.round().max(1.0) } else { step };
        Some(Self {
            step: step.map(|step| whole_units(step) * scale),
            base: said("min").or_else(|| said("value")).unwrap_or(if kind == "week" { FIRST_WEEK } else { 0.0 }),
            min: said("min").or(range(0.0)),
            max: said("max").or(range(100.0)),
        })
    }

    /// Whether a value is one that steps from the base lead to.
    pub fn is_aligned(&self, value: f64) -> bool {
        let Some(step) = self.step else { return true };
        let steps = (value - self.base) / step;
        (steps - steps.round()).abs() < 1e-7 * steps.abs().max(1.0)
    }

    /// Where so many steps up (or down, where negative) lead from a value (HTML §4.10.5.3.11, `stepUp`). None where it stays.
    pub fn moved(&self, from: f64, steps: f64) -> Option<f64> {
        let step = self.step?;
        let up = |value: f64| self.base + ((value - self.base) / step - 1e-9).ceil() * step;
        let down = |value: f64| self.base + ((value - self.base) / step + 1e-9).floor() * step;
        if let (Some(min), Some(max)) = (self.min, self.max)
            && (min > max || up(min) > max)
        {
            return None;
        }
        let mut value = match (self.is_aligned(from), steps < 0.0) {
            (true, _) => from + steps * step,
            (false, true) => down(from),
            (false, false) => up(from),
        };
        if let Some(min) = self.min.filter(|min| value < *min) {
            value = up(min);
        }
        if let Some(max) = self.max.filter(|max| value > *max) {
            value = down(max);
        }
        let is_backwards = if steps < 0.0 { value > from } else { value < from };
        (!is_backwards).then_some(value)
    }
}

/// A valid floating-point number (HTML §2.3.4.3).
pub fn is_valid_number(text: &str) -> bool {
    let body = text.strip_prefix('-').unwrap_or(text);
    let (mantissa, exponent) = match body.split_once(['e', 'E']) {
        Some((m, e)) => (m, Some(e.strip_prefix(['+', '-']).unwrap_or(e))),
        None => (body, None),
    };
    let digits = |s: &str| !s.is_empty() && s.bytes().all(|b| b.is_ascii_digit());
    let mantissa_ok = match mantissa.split_once('.') {
        Some((whole, fraction)) => (whole.is_empty() || digits(whole)) && digits(fraction),
        None => digits(mantissa),
    };
    mantissa_ok && exponent.is_none_or(digits)
}

fn sanitize_range(raw: &str, element: &Element) -> String {
    let said = |name: &str| element.attr(name).and_then(|v| number("number", v));
    let min = said("min").unwrap_or(0.0);
    let max = said("max").unwrap_or(100.0);
    let default = if max < min { min } else { min + (max - min) / 2.0 };
    let given = number("number", raw).unwrap_or(default);
    let mut value = if max < min { min } else { f64::clamp(given, min, max) };
    if element.attr("step") != Some("any") {
        let step = said("step").filter(|s| *s > 0.0).unwrap_or(1.0);
        let steps = ((value - min) / step).round();
        value = min + steps * step;
        if value > max && max >= min {
            value -= step;
        }
    }
    format_number(value)
}

/// A number as ECMAScript prints it, for the range in which controls move.
pub fn format_number(value: f64) -> String {
    let rounded = (value * 1e10).round() / 1e10;
    format!("{rounded}")
}

/// A whole number within the years that dates have.
#[allow(clippy::cast_precision_loss, reason = "dates reach less far than whole numbers of a float do")]
fn whole(value: i64) -> f64 {
    value as f64
}

/// A number of so many digits and nothing else.
fn digits(text: &str, count: std::ops::RangeInclusive<usize>) -> Option<i64> {
    (count.contains(&text.len()) && text.bytes().all(|b| b.is_ascii_digit())).then(|| text.parse().ok())?
}

fn year_month(text: &str) -> Option<(i64, i64)> {
    let (year, month) = text.split_once('-')?;
    let (year, month) = (digits(year, 4..=6)?, digits(month, 2..=2)?);
    ((1..=LAST_YEAR).contains(&year) && (1..=12).contains(&month)).then_some((year, month))
}

/// A valid date string (HTML §2.3.5.2): one that the calendar has.
fn date(text: &str) -> Option<f64> {
    let (month, day) = text.rsplit_once('-')?;
    let ((year, month), day) = (year_month(month)?, digits(day, 2..=2)?);
    let leap = year % 4 == 0 && (year % 100 != 0 || year % 400 == 0);
    let days = match month {
        2 => 28 + i64::from(leap),
        4 | 6 | 9 | 11 => 30,
        _ => 31,
    };
    (1..=days).contains(&day).then(|| whole(days_before(year, month, day)) * DAY)
}

/// A valid time string (HTML §2.3.5.4), in milliseconds.
fn time(text: &str) -> Option<f64> {
    let mut parts = text.splitn(3, ':');
    let hour = digits(parts.next()?, 2..=2).filter(|h| *h < 24)?;
    let minute = digits(parts.next()?, 2..=2).filter(|m| *m < 60)?;
    let (second, milli) = match parts.next() {
        None => (0, 0),
        Some(rest) => {
            let (second, fraction) = rest.split_once('.').map_or((rest, None), |(s, f)| (s, Some(f)));
            let fraction = match fraction {
                None => 0,
                Some(f) => digits(f, 1..=3)? * [100, 10, 1][f.len() - 1],
            };
            (digits(second, 2..=2).filter(|s| *s < 60)?, fraction)
        }
    };
    Some(whole(((hour * 60 + minute) * 60 + second) * 1000 + milli))
}

/// A valid local date and time string (HTML §2.3.5.5).
fn local_time(text: &str) -> Option<f64> {
    let (day, hour) = text.split_once(['T', ' '])?;
    Some(date(day)? + time(hour)?)
}

/// The whole number below one.
#[allow(clippy::cast_possible_truncation, reason = "what is too large is at an end of what there is, and written as nothing")]
fn floored(value: f64) -> i64 {
    value.floor() as i64
}

fn day_of(value: f64) -> i64 {
    floored(value / DAY)
}

fn date_text(value: f64) -> String {
    let (year, month, day) = date_of(day_of(value));
    if (1..=LAST_YEAR).contains(&year) { format!("{year:04}-{month:02}-{day:02}") } else { String::new() }
}

/// The shortest text of a time of day.
fn time_text(value: f64) -> String {
    let milli = floored(value);
    let (seconds, milli) = (milli / 1000, milli % 1000);
    let (minutes, second) = (seconds / 60, seconds % 60);
    let head = format!("{:02}:{:02}", minutes / 60, minutes % 60);
    match (second, milli) {
        (0, 0) => head,
        (_, 0) => format!("{head}:{second:02}"),
        _ => format!("{head}:{second:02}.{milli:03}"),
    }
}

/// The Monday with which the first week of a year begins: that of the week of its first Thursday (ISO 8601).
fn first_monday(year: i64) -> f64 {
    let fourth = days_before(year, 1, 4);
    whole(fourth - weekday(fourth)) * DAY
}

/// Monday is 0.
fn weekday(days: i64) -> i64 {
    (days + 3).rem_euclid(7)
}

fn weeks_of(year: i64) -> i64 {
    let days = (first_monday(year + 1) - first_monday(year)) / DAY;
    floored(days) / 7
}

fn week_text(value: f64) -> String {
    // The year of a week is that of its Thursday.
    let days = day_of(value);
    let (year, _, _) = date_of(days - weekday(days) + 3);
    let week = floored((value - first_monday(year)) / WEEK) + 1;
    format!("{year:04}-W{week:02}")
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::element::Namespace;

    fn input(attrs: &[(&str, &str)]) -> Element {
        let mut element = Element::new(Namespace::Html, "input");
        for (name, value) in attrs {
            element.set_attr(name, value);
        }
        element
    }

    #[test]
    fn numbers_stand_behind_values() {
        for (kind, text, expected) in [
            ("number", "2.5", Some(2.5)),
            ("number", "1e2", Some(100.0)),
            ("number", "+1", None),
            ("date", "1970-01-01", Some(0.0)),
            ("date", "2000-02-29", Some(951_782_400_000.0)),
            ("date", "1900-02-29", None),
            ("date", "0000-01-01", None),
            ("date", "12004-08-07", Some(316_661_356_800_000.0)),
            ("month", "2019-12", Some(599.0)),
            ("month", "1969-12", Some(-1.0)),
            ("month", "2019-13", None),
            ("week", "1970-W01", Some(-259_200_000.0)),
            ("week", "2020-W53", Some(1_609_113_600_000.0)),
            ("week", "2019-W53", None),
            ("time", "12:30", Some(45_000_000.0)),
            ("time", "12:30:00.5", Some(45_000_500.0)),
            ("time", "24:00", None),
            ("datetime-local", "1970-01-01T00:01", Some(60_000.0)),
            ("datetime-local", "1970-01-01 00:01:01", Some(61_000.0)),
            ("datetime-local", "1970-01-01", None),
            ("text", "1", None),
        ] {
            assert_eq!(number(kind, text), expected, "{kind} {text}");
        }
    }

    #[test]
    fn numbers_are_written_as_the_kind_writes_them() {
        for (kind, value, expected) in [
            ("number", 0.1 + 0.2, "0.3"),
            ("date", 951_782_400_000.0, "2000-02-29"),
            ("date", -1.0, "1969-12-31"),
            ("month", -1.0, "1969-12"),
            ("week", 1_609_113_600_000.0, "2020-W53"),
            ("week", 0.0, "1970-W01"),
            ("time", 45_000_500.0, "12:30:00.500"),
            ("time", 45_000_000.0, "12:30"),
            ("datetime-local", 61_000.0, "1970-01-01T00:01:01"),
            ("text", 1.0, ""),
        ] {
            assert_eq!(number_text(kind, value), expected, "{kind} {value}");
        }
    }

    #[test]
    fn values_are_taken_as_their_kind_takes_them() {
        for (kind, raw, expected) in [
            ("text", "a\nb", "ab"),
            ("url", "  http://kiln  ", "http://kiln"),
            ("number", "1x", ""),
            ("number", "-.5", "-.5"),
            ("color", "#ABCDEF", "#abcdef"),
            ("color", "red", "#000000"),
            ("date", "2026-02-30", ""),
            ("datetime-local", "2026-02-03 04:05:00", "2026-02-03T04:05"),
            ("time", "04:05:00", "04:05:00"),
            ("range", "", "50"),
            ("hidden", "a\nb", "a\nb"),
        ] {
            assert_eq!(sanitize(kind, raw, &input(&[])), expected, "{kind} {raw:?}");
        }
        assert_eq!(sanitize("email", " a@b , c@d ", &input(&[("multiple", "")])), "a@b,c@d");
    }

    #[test]
    fn steps_lead_from_value_to_value() {
        for (attrs, from, steps, expected) in [
            (vec![("type", "number")], 3.0, 2.0, Some(5.0)),
            (vec![("type", "number"), ("step", "2"), ("min", "1")], 2.0, 1.0, Some(3.0)),
            (vec![("type", "number"), ("step", "2"), ("min", "1")], 2.0, -1.0, Some(1.0)),
            (vec![("type", "number"), ("max", "4")], 3.0, 5.0, Some(4.0)),
            (vec![("type", "number"), ("max", "4")], 9.0, 1.0, None),
            (vec![("type", "number"), ("min", "4"), ("max", "2")], 3.0, 1.0, None),
            (vec![("type", "number"), ("step", "any")], 3.0, 1.0, None),
            (vec![("type", "time")], 60_000.0, 1.0, Some(120_000.0)),
            (vec![("type", "date"), ("step", "7")], 0.0, 1.0, Some(7.0 * DAY)),
            (vec![("type", "month")], 11.0, 1.0, Some(12.0)),
        ] {
            let steps_of = Steps::of(&input(&attrs)).expect("has numbers");
            assert_eq!(steps_of.moved(from, steps), expected, "{attrs:?} {from} {steps}");
        }
        assert_eq!(Steps::of(&input(&[("type", "text")])), None);
    }
}

//! Numbers, currencies and units (ECMA-402 §15).

use icu::decimal::options::{DecimalFormatterOptions, GroupingStrategy};
use icu::decimal::{CompactDecimalFormatter, DecimalFormatter};
use icu::experimental::dimension::currency::formatter::CurrencyFormatter;
use icu::experimental::dimension::percent::formatter::PercentFormatter;
use icu::locale::Locale;
use icu::locale::preferences::extensions::unicode::keywords::CurrencyType;

use fixed_decimal::{Decimal, FloatPrecision, Sign, SignDisplay, SignedRoundingMode, UnsignedRoundingMode};
use serde_json::Value as Json;
use writeable::Writeable as _;

use super::{Piece, parts_of, to_json};

/// A number in its parts: sign, what stands before it, its digits, what stands after it.
pub(super) fn format(locale: &Locale, asked: &Json) -> Option<Json> {
    let mut value = match &asked["value"] {
        // A BigInt comes as text: it may be larger than a number is exact.
        Json::String(text) => text.parse().unwrap_or_default(),
        value => exact(value.as_f64()?)?,
    };
    if asked["style"].as_str() == Some("percent") {
        value.multiply_pow10(2);
    }
    let decimal = rounded(value.clone(), asked);
    let (sign, digits) = match asked["value"].as_str() {
        // What is no number, or has no end, is no decimal either.
        Some("NaN") => (Sign::None, vec![piece("nan", "NaN")]),
        Some("Infinity") => (Sign::None, vec![piece("infinity", "∞")]),
        Some("-Infinity") => (Sign::Negative, vec![piece("infinity", "∞")]),
        _ => (decimal.sign(), digits(locale, asked, &value, &decimal)?),
    };
    let sign = match sign {
        Sign::Negative => Some(piece("minusSign", "-")),
        Sign::Positive => Some(piece("plusSign", "+")),
        Sign::None => None,
    };
    let (kind, pattern) = pattern(locale, asked, &decimal)?;
    // Where a number stands in the pattern, ours stands.
    let is_number = |c: char| c.is_numeric() || ['.', ',', '٫', '\u{202f}', '\u{a0}'].contains(&c);
    let start = pattern.find(char::is_numeric).unwrap_or(0);
    let end = pattern[start..].char_indices().take_while(|(_, c)| is_number(*c)).filter(|(_, c)| c.is_numeric()).last();
    let end = end.map_or(start, |(i, c)| start + i + c.len_utf8());
    let all = sign.into_iter().chain(around(&pattern[..start], kind)).chain(digits).chain(around(&pattern[end..], kind));
    Some(to_json(all.collect()))
}

fn piece(kind: &str, text: &str) -> Piece {
    (kind.to_owned(), text.to_owned())
}

/// What stands beside the number, apart from the space in between.
fn around(text: &str, kind: &str) -> Vec<Piece> {
    let middle = text.trim();
    let at = text.find(middle).unwrap_or(0);
    let pieces = [("literal", &text[..at]), (kind, middle), ("literal", &text[at + middle.len()..])];
    pieces.into_iter().filter(|(_, t)| !t.is_empty()).map(|(k, t)| piece(k, t)).collect()
}

/// The digits, without a sign.
fn digits(locale: &Locale, asked: &Json, value: &Decimal, decimal: &Decimal) -> Option<Vec<Piece>> {
    let absolute = Decimal::new(Sign::None, decimal.absolute.clone());
    match asked["notation"].as_str() {
        Some("compact") => {
            let plain = Decimal::new(Sign::None, value.absolute.clone());
            let long = asked["compactDisplay"].as_str() == Some("long");
            let make = if long { CompactDecimalFormatter::try_new_long } else { CompactDecimalFormatter::try_new_short };
            let formatter = make(locale.into(), DecimalFormatterOptions::default().into()).ok()?;
            if asked["digitsAsked"].as_bool() != Some(true) {
                return Some(compact(&formatter.format_to_string(&plain)));
            }
            // Rounding may carry into the next power: 999.9 thousand.
            let magnitude = plain.absolute.nonzero_magnitude_start();
            let scaled = |magnitude: i16| {
                let exponent = formatter.compact_exponent_for_magnitude(magnitude);
                let mut significand = plain.clone();
                significand.multiply_pow10(-i16::from(exponent));
                (rounded(significand, asked), exponent)
            };
            let (mut significand, mut exponent) = scaled(magnitude);
            if significand.absolute.nonzero_magnitude_start() + i16::from(exponent) > magnitude {
                (significand, exponent) = scaled(magnitude + 1);
            }
            Some(compact(&formatter.format_with_exponent(&significand, exponent).ok()?.to_string()))
        }
        Some(notation @ ("scientific" | "engineering")) => {
            let step = if notation == "engineering" { 3 } else { 1 };
            let exponent = if value.absolute.is_zero() { 0 } else { value.absolute.nonzero_magnitude_start().div_euclid(step) * step };
            let mut mantissa = value.clone();
            mantissa.multiply_pow10(-exponent);
            let mantissa = rounded(mantissa, asked);
            let formatter = DecimalFormatter::try_new(locale.into(), GroupingStrategy::Never.into()).ok()?;
            let mut out = parts_of(&formatter.format(&Decimal::new(Sign::None, mantissa.absolute)), "decimal");
            out.push(piece("exponentSeparator", "E"));
            out.extend((exponent < 0).then(|| piece("exponentMinusSign", "-")));
            out.push(piece("exponentInteger", &exponent.abs().to_string()));
            Some(out)
        }
        _ => {
            let grouping = match asked["useGrouping"].as_str() {
                Some("never") => GroupingStrategy::Never,
                Some("always") => GroupingStrategy::Always,
                Some("min2") => GroupingStrategy::Min2,
                _ => GroupingStrategy::Auto,
            };
            let formatter = DecimalFormatter::try_new(locale.into(), grouping.into()).ok()?;
            Some(parts_of(&formatter.format(&absolute), "decimal"))
        }
    }
}

/// A number with what belongs around it, and what that is.
fn pattern(locale: &Locale, asked: &Json, decimal: &Decimal) -> Option<(&'static str, String)> {
    let one: Decimal = "1".parse().ok()?;
    Some(match asked["style"].as_str() {
        Some("percent") => {
            let formatter = PercentFormatter::try_new(locale.into(), Default::default()).ok()?;
            ("percentSign", formatter.format(&one).write_to_string().into_owned())
        }
        Some("currency") => {
            let code = CurrencyType::try_from_str(asked["currency"].as_str()?).ok()?;
            let text = match asked["currencyDisplay"].as_str() {
                // A name goes with its number: one dollar, two dollars.
                Some("name") => {
                    let absolute = Decimal::new(Sign::None, decimal.absolute.clone());
                    CurrencyFormatter::try_new_name(locale.into(), code).ok()?.format_fixed_decimal(&absolute).to_string()
                }
                display => {
                    let make = match display {
                        Some("narrowSymbol") => CurrencyFormatter::try_new_symbol_narrow,
                        Some("code") => CurrencyFormatter::try_new_code,
                        _ => CurrencyFormatter::try_new_symbol,
                    };
                    make(locale.into(), code, Default::default()).ok()?.format_fixed_decimal(&one).to_string()
                }
            };
            ("currency", text)
        }
        Some("unit") => {
            let (_, short, shorts, narrow, long, longs) = UNITS.iter().find(|u| Some(u.0) == asked["unit"].as_str())?;
            let single = decimal.absolute == one.absolute;
            let after = match asked["unitDisplay"].as_str() {
                Some("long") if single => long,
                Some("long") => longs,
                Some("narrow") => narrow,
                _ if single => short,
                _ => shorts,
            };
            ("unit", format!("1{after}"))
        }
        _ => ("literal", "1".to_owned()),
    })
}

/// Units by their ECMA-402 name (§6.6.2): what stands after one and after several in short, after several in narrow, after one and after
/// several in full. In English: CLDR's own are not to be had by name from the crates yet.
const UNITS: [(&str, &str, &str, &str, &str, &str); 45] = [
    ("acre", " ac", " ac", "ac", " acre", " acres"),
    ("bit", " bit", " bit", "bit", " bit", " bits"),
    ("byte", " byte", " byte", "B", " byte", " bytes"),
    ("celsius", "°C", "°C", "°C", " degree Celsius", " degrees Celsius"),
    ("centimeter", " cm", " cm", "cm", " centimeter", " centimeters"),
    ("day", " day", " days", "d", " day", " days"),
    ("degree", " deg", " deg", "°", " degree", " degrees"),
    ("fahrenheit", "°F", "°F", "°", " degree Fahrenheit", " degrees Fahrenheit"),
    ("fluid-ounce", " fl oz", " fl oz", "fl oz", " fluid ounce", " fluid ounces"),
    ("foot", " ft", " ft", "′", " foot", " feet"),
    ("gallon", " gal", " gal", "gal", " gallon", " gallons"),
    ("gigabit", " Gb", " Gb", "Gb", " gigabit", " gigabits"),
    ("gigabyte", " GB", " GB", "GB", " gigabyte", " gigabytes"),
    ("gram", " g", " g", "g", " gram", " grams"),
    ("hectare", " ha", " ha", "ha", " hectare", " hectares"),
    ("hour", " hr", " hr", "h", " hour", " hours"),
    ("inch", " in", " in", "″", " inch", " inches"),
    ("kilobit", " kb", " kb", "kb", " kilobit", " kilobits"),
    ("kilobyte", " kB", " kB", "kB", " kilobyte", " kilobytes"),
    ("kilogram", " kg", " kg", "kg", " kilogram", " kilograms"),
    ("kilometer", " km", " km", "km", " kilometer", " kilometers"),
    ("liter", " L", " L", "L", " liter", " liters"),
    ("megabit", " Mb", " Mb", "Mb", " megabit", " megabits"),
    ("megabyte", " MB", " MB", "MB", " megabyte", " megabytes"),
    ("meter", " m", " m", "m", " meter", " meters"),
    ("microsecond", " μs", " μs", "μs", " microsecond", " microseconds"),
    ("mile", " mi", " mi", "mi", " mile", " miles"),
    ("mile-scandinavian", " smi", " smi", "smi", " mile-scandinavian", " miles-scandinavian"),
    ("milliliter", " mL", " mL", "mL", " milliliter", " milliliters"),
    ("millimeter", " mm", " mm", "mm", " millimeter", " millimeters"),
    ("millisecond", " ms", " ms", "ms", " millisecond", " milliseconds"),
    ("minute", " min", " min", "m", " minute", " minutes"),
    ("month", " mth", " mths", "m", " month", " months"),
    ("nanosecond", " ns", " ns", "ns", " nanosecond", " nanoseconds"),
    ("ounce", " oz", " oz", "oz", " ounce", " ounces"),
    ("percent", "%", "%", "%", " percent", " percent"),
    ("petabyte", " PB", " PB", "PB", " petabyte", " petabytes"),
    ("pound", " lb", " lb", "#", " pound", " pounds"),
    ("second", " sec", " sec", "s", " second", " seconds"),
    ("stone", " st", " st", "st", " stone", " stones"),
    ("terabit", " Tb", " Tb", "Tb", " terabit", " terabits"),
    ("terabyte", " TB", " TB", "TB", " terabyte", " terabytes"),
    ("week", " wk", " wks", "w", " week", " weeks"),
    ("yard", " yd", " yd", "yd", " yard", " yards"),
    ("year", " yr", " yrs", "y", " year", " years"),
];

/// The decimal that a number stands for.
pub(super) fn exact(value: f64) -> Option<Decimal> {
    Decimal::try_from_f64(value, FloatPrecision::RoundTrip).ok()
}

/// A number with the digits that the options ask for (ECMA-402 §15.5.3).
pub(super) fn rounded(mut decimal: Decimal, asked: &Json) -> Decimal {
    let digits = |name: &str| asked[name].as_i64().and_then(|n| i16::try_from(n).ok());
    let mode = match asked["roundingMode"].as_str() {
        Some("ceil") => SignedRoundingMode::Ceil,
        Some("floor") => SignedRoundingMode::Floor,
        Some("halfCeil") => SignedRoundingMode::HalfCeil,
        Some("halfFloor") => SignedRoundingMode::HalfFloor,
        Some("expand") => SignedRoundingMode::Unsigned(UnsignedRoundingMode::Expand),
        Some("trunc") => SignedRoundingMode::Unsigned(UnsignedRoundingMode::Trunc),
        Some("halfTrunc") => SignedRoundingMode::Unsigned(UnsignedRoundingMode::HalfTrunc),
        Some("halfEven") => SignedRoundingMode::Unsigned(UnsignedRoundingMode::HalfEven),
        _ => SignedRoundingMode::Unsigned(UnsignedRoundingMode::HalfExpand),
    };
    if let Some(most) = digits("maximumSignificantDigits") {
        let start = decimal.absolute.nonzero_magnitude_start();
        decimal.round_with_mode(start - most + 1, mode);
        decimal.absolute.trim_end();
        if let Some(least) = digits("minimumSignificantDigits") {
            let start = decimal.absolute.nonzero_magnitude_start();
            decimal.absolute.pad_end(start - least + 1);
        }
    } else {
        decimal.round_with_mode(-digits("maximumFractionDigits").unwrap_or(3), mode);
        decimal.absolute.trim_end();
        decimal.absolute.pad_end(-digits("minimumFractionDigits").unwrap_or(0));
    }
    decimal.absolute.pad_start(digits("minimumIntegerDigits").unwrap_or(1));
    decimal.apply_sign_display(match asked["signDisplay"].as_str() {
        Some("always") => SignDisplay::Always,
        Some("never") => SignDisplay::Never,
        Some("exceptZero") => SignDisplay::ExceptZero,
        Some("negative") => SignDisplay::Negative,
        _ => SignDisplay::Auto,
    });
    decimal
}

/// `1.2K` in its parts.
fn compact(text: &str) -> Vec<Piece> {
    let end = text.char_indices().take_while(|(_, c)| c.is_numeric() || ['.', ',', '\u{a0}'].contains(c)).last();
    let end = end.map_or(0, |(i, c)| i + c.len_utf8());
    let number = text[..end].trim_end_matches('\u{a0}');
    let mut out = Vec::new();
    match number.split_once(['.', ',']) {
        Some((whole, fraction)) => {
            out.push(("integer".into(), whole.to_owned()));
            out.push(("decimal".into(), number[whole.len()..number.len() - fraction.len()].to_owned()));
            out.push(("fraction".into(), fraction.to_owned()));
        }
        None => out.push(("integer".into(), number.to_owned())),
    }
    let rest = &text[number.len()..];
    let word = rest.trim_start_matches([' ', '\u{a0}']);
    if rest.len() > word.len() {
        out.push(("literal".into(), rest[..rest.len() - word.len()].to_owned()));
    }
    if !word.is_empty() {
        out.push(("compact".into(), word.to_owned()));
    }
    out
}

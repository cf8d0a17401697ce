//! What ECMA-402 asks of a locale, from CLDR by the `icu` crates: numbers, dates, plurals, order, lists, relative times, segments.
//! A request and its answer are JSON; options are resolved in `14-intl.js`.

use std::fmt::{self, Write as _};

use icu::collator::options::{CollatorOptions, Strength};
use icu::collator::preferences::CollationNumericOrdering;
use icu::collator::{Collator, CollatorPreferences};
use icu::datetime::fieldsets::builder::{DateFields, FieldSetBuilder};
use icu::datetime::input::{Date, DateTime, Time};
use icu::datetime::options::{Alignment, Length, SubsecondDigits, TimePrecision, YearStyle};
use icu::datetime::preferences::HourCycle;
use icu::datetime::{DateTimeFormatter, DateTimeFormatterPreferences};
use icu::decimal::options::{DecimalFormatterOptions, GroupingStrategy};
use icu::decimal::{CompactDecimalFormatter, DecimalFormatter};
use icu::experimental::dimension::currency::formatter::CurrencyFormatter;
use icu::experimental::dimension::percent::formatter::PercentFormatter;
use icu::experimental::relativetime::options::Numeric;
use icu::experimental::relativetime::{RelativeTimeFormatter, RelativeTimeFormatterOptions};
use icu::list::options::{ListFormatterOptions, ListLength};
use icu::list::{ListFormatter, ListFormatterPreferences};
use icu::locale::preferences::extensions::unicode::keywords::CurrencyType;
use icu::locale::{Locale, LocaleCanonicalizer};
use icu::plurals::{PluralCategory, PluralRuleType, PluralRules};
use icu::segmenter::options::{SentenceBreakInvariantOptions, WordBreakInvariantOptions};
use icu::segmenter::{GraphemeClusterSegmenter, SentenceSegmenter, WordSegmenter};

use fixed_decimal::{Decimal, FloatPrecision, Sign, SignDisplay, SignedRoundingMode, UnsignedRoundingMode};
use serde_json::{Value as Json, json};
use writeable::{Part, PartsWrite, Writeable};

use super::Natives;

pub(crate) fn register(n: &mut Natives<'_, '_>) -> rquickjs::Result<()> {
    n.add("intl", |request: String| {
        let asked: Json = serde_json::from_str(&request).unwrap_or_default();
        answer(&asked).unwrap_or(Json::Null).to_string()
    })
}

/// The answer to a request; none where the locale or an option is none that CLDR knows.
fn answer(asked: &Json) -> Option<Json> {
    let text = |name: &str| asked[name].as_str();
    if text("what")? == "tag" {
        let mut locale: Locale = text("locale")?.parse().ok()?;
        LocaleCanonicalizer::new_extended().canonicalize(&mut locale);
        return Some(locale.to_string().into());
    }
    let locale: Locale = text("locale")?.parse().ok()?;
    match text("what")? {
        "number" => number(&locale, asked),
        "date" => date(&locale, asked),
        "plural" => {
            let rules = plural_rules(&locale, asked)?;
            let value = rounded(asked["value"].as_f64()?, asked)?;
            Some(category(rules.category_for(&value.absolute)).into())
        }
        "plurals" => Some(plural_rules(&locale, asked)?.categories().map(category).collect::<Vec<_>>().into()),
        "compare" => compare(&locale, asked),
        "list" => list(&locale, asked),
        "relative" => relative(&locale, asked),
        "segments" => segments(asked),
        _ => None,
    }
}

fn category(category: PluralCategory) -> &'static str {
    match category {
        PluralCategory::Zero => "zero",
        PluralCategory::One => "one",
        PluralCategory::Two => "two",
        PluralCategory::Few => "few",
        PluralCategory::Many => "many",
        PluralCategory::Other => "other",
    }
}

/// Collects text with its parts.
#[derive(Default)]
struct Sink {
    text: String,
    parts: Vec<(usize, usize, Part)>,
}

impl fmt::Write for Sink {
    fn write_str(&mut self, text: &str) -> fmt::Result {
        self.text.push_str(text);
        Ok(())
    }
}

impl PartsWrite for Sink {
    type SubPartsWrite = Self;

    fn with_part(&mut self, part: Part, mut write: impl FnMut(&mut Self) -> fmt::Result) -> fmt::Result {
        let start = self.text.len();
        write(self)?;
        self.parts.push((start, self.text.len(), part));
        Ok(())
    }
}

/// The text in pieces as ECMA-402 names them: the innermost part of a category, `literal` in between.
fn parts_of(formatted: &impl Writeable, category: &str) -> Vec<(String, String)> {
    let mut sink = Sink::default();
    if formatted.write_to_parts(&mut sink).is_err() {
        return Vec::new();
    }
    let mut out: Vec<(String, String)> = Vec::new();
    let mut last: Option<(usize, usize)> = None;
    for (at, c) in sink.text.char_indices() {
        let covering = sink.parts.iter().filter(|(s, e, p)| p.category == category && *s <= at && at < *e);
        let innermost = covering.min_by_key(|(s, e, _)| e - s);
        let place = innermost.map(|(s, e, _)| (*s, *e));
        let name = innermost.map_or("literal", |(_, _, p)| p.value);
        match out.last_mut() {
            Some((n, text)) if n == name && (place == last || name == "literal" || name == "integer") => text.push(c),
            _ => out.push((name.to_owned(), c.to_string())),
        }
        last = place;
    }
    out
}

fn to_json(parts: Vec<(String, String)>) -> Json {
    parts.into_iter().map(|(kind, value)| json!({ "type": kind, "value": value })).collect()
}

/// A number with the digits that the options ask for (ECMA-402 §15.5.3).
fn rounded(value: f64, asked: &Json) -> Option<Decimal> {
    let mut decimal = Decimal::try_from_f64(value, FloatPrecision::RoundTrip).ok()?;
    let digits = |name: &str| asked[name].as_i64().and_then(|n| i16::try_from(n).ok());
    let mode = SignedRoundingMode::Unsigned(match asked["roundingMode"].as_str() {
        Some("ceil" | "expand") => UnsignedRoundingMode::Expand,
        Some("floor" | "trunc") => UnsignedRoundingMode::Trunc,
        Some("halfEven") => UnsignedRoundingMode::HalfEven,
        Some("halfTrunc" | "halfFloor") => UnsignedRoundingMode::HalfTrunc,
        _ => UnsignedRoundingMode::HalfExpand,
    });
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
    Some(decimal)
}

fn number(locale: &Locale, asked: &Json) -> Option<Json> {
    let style = asked["style"].as_str().unwrap_or("decimal");
    let grouping = match asked["useGrouping"].as_str() {
        Some("never") => GroupingStrategy::Never,
        Some("always") => GroupingStrategy::Always,
        Some("min2") => GroupingStrategy::Min2,
        _ => GroupingStrategy::Auto,
    };
    let value = asked["value"].as_f64();
    // What is no number or has no end is no decimal either.
    let special = match asked["value"].as_str() {
        Some("NaN") => Some(("nan", "NaN", false)),
        Some("Infinity") => Some(("infinity", "∞", false)),
        Some("-Infinity") => Some(("infinity", "∞", true)),
        _ => None,
    };
    let value = value.unwrap_or(0.0) * if style == "percent" { 100.0 } else { 1.0 };
    let decimal = rounded(value, asked)?;
    let (sign, mut shown) = if let Some((kind, text, negative)) = special {
        (if negative { Sign::Negative } else { Sign::None }, vec![(kind.to_owned(), text.to_owned())])
    } else if asked["notation"].as_str() == Some("compact") {
        let plain = Decimal::new(Sign::None, Decimal::try_from_f64(value.abs(), FloatPrecision::RoundTrip).ok()?.absolute);
        let long = asked["compactDisplay"].as_str() == Some("long");
        let make = if long { CompactDecimalFormatter::try_new_long } else { CompactDecimalFormatter::try_new_short };
        let formatter = make(locale.into(), DecimalFormatterOptions::default().into()).ok()?;
        (decimal.sign(), compact(&formatter.format_to_string(&plain)))
    } else {
        let formatter = DecimalFormatter::try_new(locale.into(), grouping.into()).ok()?;
        let absolute = Decimal::new(Sign::None, decimal.absolute.clone());
        (decimal.sign(), parts_of(&formatter.format(&absolute), "decimal"))
    };
    let one: Decimal = "1".parse().ok()?;
    let (kind, pattern) = match style {
        "percent" => {
            let formatter = PercentFormatter::try_new(locale.into(), Default::default()).ok()?;
            let mut text = String::new();
            formatter.format(&one).write_to(&mut text).ok()?;
            ("percentSign", text)
        }
        "currency" => {
            let code = CurrencyType::try_from_str(asked["currency"].as_str()?).ok()?;
            let make = match asked["currencyDisplay"].as_str() {
                Some("narrowSymbol") => CurrencyFormatter::try_new_symbol_narrow,
                Some("code") => CurrencyFormatter::try_new_code,
                _ => CurrencyFormatter::try_new_symbol,
            };
            let formatter = make(locale.into(), code, Default::default()).ok()?;
            ("currency", formatter.format_fixed_decimal(&one).to_string())
        }
        "unit" => {
            let name = unit(asked["unit"].as_str()?, asked["unitDisplay"].as_str());
            ("unit", if name.starts_with(char::is_alphabetic) { format!("1 {name}") } else { format!("1{name}") })
        }
        _ => ("literal", "1".to_owned()),
    };
    // Where a one stands in the pattern, the number stands.
    let is_number = |c: char| c.is_numeric() || c == '.' || c == ',' || c == '٫';
    let start = pattern.find(char::is_numeric).unwrap_or(0);
    let end = pattern[start..].char_indices().take_while(|(_, c)| is_number(*c)).last().map_or(start, |(i, c)| start + i + c.len_utf8());
    let around = |text: &str| -> Vec<(String, String)> {
        let trimmed = text.trim_matches(|c: char| c.is_whitespace() || c == '\u{a0}' || c == '\u{202f}');
        if text.is_empty() {
            return Vec::new();
        }
        let at = text.find(trimmed).unwrap_or(0);
        let pieces = [("literal", &text[..at]), (kind, trimmed), ("literal", &text[at + trimmed.len()..])];
        pieces.into_iter().filter(|(_, t)| !t.is_empty()).map(|(k, t)| (k.to_owned(), t.to_owned())).collect()
    };
    let mut out = around(&pattern[..start]);
    out.append(&mut shown);
    out.extend(around(&pattern[end..]));
    let sign = match sign {
        Sign::Negative => Some(("minusSign", "-")),
        Sign::Positive => Some(("plusSign", "+")),
        Sign::None => None,
    };
    if let Some((kind, sign)) = sign {
        out.insert(0, (kind.to_owned(), sign.to_owned()));
    }
    Some(to_json(out))
}

/// `1.2K` in its parts.
fn compact(text: &str) -> Vec<(String, String)> {
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

/// The short name of a unit, as English has it; others by their own name.
fn unit(name: &str, display: Option<&str>) -> String {
    if display == Some("long") {
        return format!("{name}s");
    }
    let known = [
        ("celsius", "°C"),
        ("fahrenheit", "°F"),
        ("kilometer", "km"),
        ("meter", "m"),
        ("centimeter", "cm"),
        ("kilogram", "kg"),
        ("gram", "g"),
        ("liter", "L"),
        ("percent", "%"),
        ("second", "sec"),
        ("minute", "min"),
        ("hour", "hr"),
        ("day", "day"),
        ("byte", "byte"),
        ("kilobyte", "kB"),
        ("megabyte", "MB"),
        ("gigabyte", "GB"),
    ];
    known.iter().find(|(n, _)| *n == name).map_or_else(|| name.to_owned(), |(_, short)| (*short).to_owned())
}

fn date(locale: &Locale, asked: &Json) -> Option<Json> {
    let text = |name: &str| asked[name].as_str();
    let has = |name: &str| asked.get(name).is_some_and(|v| !v.is_null());
    let mut builder = FieldSetBuilder::new();
    let (mut fields, mut length) = (None, Length::Short);
    let precision;
    let mut full_year = true;
    if has("dateStyle") || has("timeStyle") {
        if let Some(style) = text("dateStyle") {
            fields = Some(if style == "full" { DateFields::YMDE } else { DateFields::YMD });
            length = match style {
                "full" | "long" => Length::Long,
                "medium" => Length::Medium,
                _ => Length::Short,
            };
            full_year = style != "short";
        }
        precision = text("timeStyle").map(|style| if style == "short" { TimePrecision::Minute } else { TimePrecision::Second });
    } else {
        let (year, month, day, weekday) = (has("year"), has("month"), has("day"), has("weekday"));
        fields = match (year, month, day, weekday) {
            (true, true, true, true) => Some(DateFields::YMDE),
            (true, true, true, false) => Some(DateFields::YMD),
            (false, true, true, true) => Some(DateFields::MDE),
            (false, true, true, false) => Some(DateFields::MD),
            (_, true, false, _) if year => Some(DateFields::YM),
            (_, true, false, _) => Some(DateFields::M),
            (false, false, true, true) => Some(DateFields::DE),
            (_, false, true, _) => Some(DateFields::D),
            (true, false, false, _) => Some(DateFields::Y),
            (false, false, false, true) => Some(DateFields::E),
            (false, false, false, false) => None,
        };
        length = match text("month").filter(|m| ["long", "short", "narrow"].contains(m)).or(text("weekday")) {
            Some("long") => Length::Long,
            Some("short" | "narrow") => Length::Medium,
            _ => Length::Short,
        };
        full_year = text("year") != Some("2-digit");
        let digits = match asked["fractionalSecondDigits"].as_i64() {
            Some(1) => Some(SubsecondDigits::S1),
            Some(2) => Some(SubsecondDigits::S2),
            Some(3) => Some(SubsecondDigits::S3),
            _ => None,
        };
        precision = if let Some(digits) = digits {
            Some(TimePrecision::Subsecond(digits))
        } else if has("second") {
            Some(TimePrecision::Second)
        } else if has("minute") {
            Some(TimePrecision::Minute)
        } else if has("hour") {
            Some(TimePrecision::Hour)
        } else {
            None
        };
    }
    let padded = ["month", "day"].iter().any(|f| text(f) == Some("2-digit")) || (fields.is_none() && text("hour") == Some("2-digit"));
    builder.date_fields = fields;
    builder.length = Some(length);
    builder.time_precision = precision;
    builder.alignment = padded.then_some(Alignment::Column);
    if matches!(fields, Some(DateFields::YMD | DateFields::YMDE | DateFields::YM | DateFields::Y)) {
        builder.year_style = Some(if full_year { YearStyle::Full } else { YearStyle::Auto });
    }
    let mut preferences = DateTimeFormatterPreferences::from(locale);
    preferences.hour_cycle = match text("hourCycle") {
        Some("h11") => Some(HourCycle::H11),
        Some("h12") => Some(HourCycle::H12),
        Some("h23" | "h24") => Some(HourCycle::H23),
        _ => preferences.hour_cycle,
    };
    let formatter = DateTimeFormatter::try_new(preferences, builder.build_composite_datetime().ok()?).ok()?;
    // Milliseconds since 1970, in UTC: the one time zone of a stage.
    let ms = asked["value"].as_f64()?;
    let days = (ms / 86_400_000.0).floor();
    let rest = ms - days * 86_400_000.0;
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "within what a Date can hold")]
    let (days, rest) = (days as i64, rest as u32);
    let (year, month, day) = civil(days);
    let date = Date::try_new_iso(i32::try_from(year).ok()?, month, day).ok()?;
    let part = |divisor: u32, modulus: u32| u8::try_from(rest / divisor % modulus).unwrap_or(0);
    let time = Time::try_new(part(3_600_000, 24), part(60_000, 60), part(1000, 60), rest % 1000 * 1_000_000).ok()?;
    let formatted = formatter.format(&DateTime { date, time });
    let bare = !padded && text("month") == Some("numeric") && BARE.contains(&locale.id.language.as_str());
    let told = parts_of(&formatted, "datetime").into_iter().map(|(kind, value)| match &*kind {
        // Browsers keep to the space that was there before CLDR 42: pages rely on it.
        "literal" => (kind, value.replace('\u{202f}', " ")),
        "day" | "month" if bare => (kind, value.trim_start_matches('0').to_owned()),
        _ => (kind, value),
    });
    Some(to_json(told.collect()))
}

/// Languages whose all-numeric dates have no leading zeros (CLDR `availableFormats`, `yMd`), though their short dates do.
const BARE: [&str; 12] = ["cs", "da", "de", "es", "fi", "it", "ja", "ko", "nb", "nl", "no", "zh"];

/// Days since 1970 as year, month, day (Howard Hinnant, "chrono-compatible low-level date algorithms", `civil_from_days`).
fn civil(days: i64) -> (i64, u8, u8) {
    let z = days + 719_468;
    let era = z.div_euclid(146_097);
    let day_of_era = z.rem_euclid(146_097);
    let year_of_era = (day_of_era - day_of_era / 1460 + day_of_era / 36_524 - day_of_era / 146_096) / 365;
    let day_of_year = day_of_era - (365 * year_of_era + year_of_era / 4 - year_of_era / 100);
    let shifted = (5 * day_of_year + 2) / 153;
    let day = u8::try_from(day_of_year - (153 * shifted + 2) / 5 + 1).unwrap_or(1);
    let month = u8::try_from(if shifted < 10 { shifted + 3 } else { shifted - 9 }).unwrap_or(1);
    (year_of_era + era * 400 + i64::from(month <= 2), month, day)
}

fn plural_rules(locale: &Locale, asked: &Json) -> Option<PluralRules> {
    let kind = if asked["type"].as_str() == Some("ordinal") { PluralRuleType::Ordinal } else { PluralRuleType::Cardinal };
    PluralRules::try_new(locale.into(), kind.into()).ok()
}

fn compare(locale: &Locale, asked: &Json) -> Option<Json> {
    let mut options = CollatorOptions::default();
    options.strength = Some(match asked["sensitivity"].as_str() {
        Some("base") => Strength::Primary,
        Some("accent") => Strength::Secondary,
        _ => Strength::Tertiary,
    });
    let mut preferences = CollatorPreferences::from(locale);
    if asked["numeric"].as_bool() == Some(true) {
        preferences.numeric_ordering = Some(CollationNumericOrdering::True);
    }
    let collator = Collator::try_new(preferences, options).ok()?;
    let order = |a: &str, b: &str| collator.compare(a, b) as i8;
    match asked["all"].as_array() {
        // A whole list at once: the rank of each.
        Some(all) => {
            let texts: Vec<&str> = all.iter().map(|v| v.as_str().unwrap_or_default()).collect();
            let mut at: Vec<usize> = (0..texts.len()).collect();
            at.sort_by(|a, b| collator.compare(texts[*a], texts[*b]));
            Some(json!(at))
        }
        None => Some(order(asked["a"].as_str()?, asked["b"].as_str()?).into()),
    }
}

fn list(locale: &Locale, asked: &Json) -> Option<Json> {
    let length = match asked["style"].as_str() {
        Some("short") => ListLength::Short,
        Some("narrow") => ListLength::Narrow,
        _ => ListLength::Wide,
    };
    let preferences = ListFormatterPreferences::from(locale);
    let options = ListFormatterOptions::default().with_length(length);
    let formatter = match asked["type"].as_str() {
        Some("disjunction") => ListFormatter::try_new_or(preferences, options),
        Some("unit") => ListFormatter::try_new_unit(preferences, options),
        _ => ListFormatter::try_new_and(preferences, options),
    };
    let items: Vec<&str> = asked["items"].as_array()?.iter().filter_map(Json::as_str).collect();
    let parts = parts_of(&formatter.ok()?.format(items.iter()), "list");
    Some(to_json(parts))
}

fn relative(locale: &Locale, asked: &Json) -> Option<Json> {
    let mut options = RelativeTimeFormatterOptions::default();
    options.numeric = Some(if asked["numeric"].as_str() == Some("auto") { Numeric::Auto } else { Numeric::Always });
    let style = asked["style"].as_str().unwrap_or("long");
    macro_rules! of {
        ($($unit:literal $long:ident $short:ident $narrow:ident;)+) => {
            match (asked["unit"].as_str()?.trim_end_matches('s'), style) {
                $(($unit, "short") => RelativeTimeFormatter::$short(locale.into(), options),
                ($unit, "narrow") => RelativeTimeFormatter::$narrow(locale.into(), options),
                ($unit, _) => RelativeTimeFormatter::$long(locale.into(), options),)+
                _ => return None,
            }
        };
    }
    let formatter = of! {
        "second" try_new_long_second try_new_short_second try_new_narrow_second;
        "minute" try_new_long_minute try_new_short_minute try_new_narrow_minute;
        "hour" try_new_long_hour try_new_short_hour try_new_narrow_hour;
        "day" try_new_long_day try_new_short_day try_new_narrow_day;
        "week" try_new_long_week try_new_short_week try_new_narrow_week;
        "month" try_new_long_month try_new_short_month try_new_narrow_month;
        "quarter" try_new_long_quarter try_new_short_quarter try_new_narrow_quarter;
        "year" try_new_long_year try_new_short_year try_new_narrow_year;
    };
    let value = Decimal::try_from_f64(asked["value"].as_f64()?, FloatPrecision::RoundTrip).ok()?;
    let mut text = String::new();
    write!(text, "{}", formatter.ok()?.format(value)).ok()?;
    Some(text.into())
}

/// Where the segments of a text end, in UTF-16 units, and for words whether each is one.
fn segments(asked: &Json) -> Option<Json> {
    let text: Vec<u16> = asked["text"].as_str()?.encode_utf16().collect();
    Some(match asked["granularity"].as_str() {
        Some("word") => {
            let segmenter = WordSegmenter::new_auto(WordBreakInvariantOptions::default());
            let mut breaks = segmenter.segment_utf16(&text);
            let mut out = Vec::new();
            while let Some(at) = breaks.next() {
                out.push(json!([at, breaks.is_word_like()]));
            }
            out.into()
        }
        Some("sentence") => {
            let segmenter = SentenceSegmenter::new(SentenceBreakInvariantOptions::default());
            segmenter.segment_utf16(&text).map(|at| json!([at, false])).collect()
        }
        _ => GraphemeClusterSegmenter::new().segment_utf16(&text).map(|at| json!([at, false])).collect(),
    })
}

//! Dates, times and their zones (ECMA-402 §11).

use icu::datetime::fieldsets::builder::{DateFields, FieldSetBuilder};
use icu::datetime::fieldsets::enums::CompositeDateTimeFieldSet;
use icu::datetime::input::{Date, DateTime, Time};
use icu::datetime::options::{Alignment, Length, SubsecondDigits, TimePrecision, YearStyle};
use icu::datetime::preferences::HourCycle;
use icu::datetime::{DateTimeFormatter, DateTimeFormatterPreferences};
use icu::locale::Locale;
use jiff::Timestamp;
use jiff::tz::TimeZone;
use serde_json::Value as Json;

use super::{parts_of, to_json};

/// A time in its parts.
pub(super) fn format(locale: &Locale, asked: &Json) -> Option<Json> {
    let text = |name: &str| asked[name].as_str();
    let mut preferences = DateTimeFormatterPreferences::from(locale);
    preferences.hour_cycle = match text("hourCycle") {
        Some("h11") => Some(HourCycle::H11),
        Some("h12") => Some(HourCycle::H12),
        Some("h23" | "h24") => Some(HourCycle::H23),
        _ => preferences.hour_cycle,
    };
    let formatter = DateTimeFormatter::try_new(preferences, fields(asked)?).ok()?;
    let formatted = formatter.format(&shown(asked)?);
    let bare = text("month") == Some("numeric") && text("day") != Some("2-digit") && BARE.contains(&locale.id.language.as_str());
    let told = parts_of(&formatted, "datetime").into_iter().map(|(kind, value)| match &*kind {
        // Browsers keep to the space that was there before CLDR 42: pages rely on it.
        "literal" => (kind, value.replace('\u{202f}', " ")),
        "day" | "month" if bare => (kind, value.trim_start_matches('0').to_owned()),
        _ => (kind, value),
    });
    Some(to_json(told.collect()))
}

/// Which fields are shown, and how.
fn fields(asked: &Json) -> Option<CompositeDateTimeFieldSet> {
    let text = |name: &str| asked[name].as_str();
    let mut builder = FieldSetBuilder::new();
    let mut full_year = true;
    if text("dateStyle").is_some() || text("timeStyle").is_some() {
        if let Some(style) = text("dateStyle") {
            builder.date_fields = Some(if style == "full" { DateFields::YMDE } else { DateFields::YMD });
            builder.length = Some(match style {
                "full" | "long" => Length::Long,
                "medium" => Length::Medium,
                _ => Length::Short,
            });
            full_year = style != "short";
        }
        let precise = |style: &str| if style == "short" { TimePrecision::Minute } else { TimePrecision::Second };
        builder.time_precision = text("timeStyle").map(precise);
    } else {
        builder.date_fields = date_fields(asked);
        // A month in digits stays one, whatever stands beside it.
        let in_digits = text("month").is_some_and(|m| ["numeric", "2-digit"].contains(&m));
        let words = text("month").filter(|_| !in_digits).or(text("weekday").filter(|_| !in_digits));
        builder.length = Some(match words {
            Some("long") => Length::Long,
            Some("short" | "narrow") => Length::Medium,
            _ => Length::Short,
        });
        full_year = text("year") != Some("2-digit");
        builder.time_precision = time_precision(asked);
    }
    let padded = ["month", "day"].iter().any(|f| text(f) == Some("2-digit"));
    let padded = padded || (builder.date_fields.is_none() && text("hour") == Some("2-digit"));
    builder.alignment = padded.then_some(Alignment::Column);
    if matches!(builder.date_fields, Some(DateFields::YMD | DateFields::YMDE | DateFields::YM | DateFields::Y)) {
        builder.year_style = Some(if full_year { YearStyle::Full } else { YearStyle::Auto });
    }
    builder.build_composite_datetime().ok()
}

fn date_fields(asked: &Json) -> Option<DateFields> {
    let [year, month, day, weekday] = ["year", "month", "day", "weekday"].map(|f| asked.get(f).is_some_and(|v| !v.is_null()));
    match (year, month, day, weekday) {
        (true, true, true, true) => Some(DateFields::YMDE),
        (true, true, true, false) => Some(DateFields::YMD),
        (false, true, true, true) => Some(DateFields::MDE),
        (false, true, true, false) => Some(DateFields::MD),
        (true, true, false, _) => Some(DateFields::YM),
        (false, true, false, _) => Some(DateFields::M),
        (false, false, true, true) => Some(DateFields::DE),
        (_, false, true, _) => Some(DateFields::D),
        (true, false, false, _) => Some(DateFields::Y),
        (false, false, false, true) => Some(DateFields::E),
        (false, false, false, false) => None,
    }
}

fn time_precision(asked: &Json) -> Option<TimePrecision> {
    let has = |name: &str| asked.get(name).is_some_and(|v| !v.is_null());
    match asked["fractionalSecondDigits"].as_i64() {
        Some(1) => Some(TimePrecision::Subsecond(SubsecondDigits::S1)),
        Some(2) => Some(TimePrecision::Subsecond(SubsecondDigits::S2)),
        Some(3) => Some(TimePrecision::Subsecond(SubsecondDigits::S3)),
        _ if has("second") => Some(TimePrecision::Second),
        _ if has("minute") => Some(TimePrecision::Minute),
        _ if has("hour") => Some(TimePrecision::Hour),
        _ => None,
    }
}

/// What a clock in the zone shows.
fn shown(asked: &Json) -> Option<DateTime<icu::calendar::Iso>> {
    let ms = asked["value"].as_f64()? + f64::from(offset(asked)?) * 1000.0;
    let days = (ms / 86_400_000.0).floor();
    let rest = ms - days * 86_400_000.0;
    #[allow(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "within what a Date can hold")]
    let (days, rest) = (days as i64, rest as u32);
    let (year, month, day) = fidelon_dom::calendar::date_of(days);
    let date = Date::try_new_iso(i32::try_from(year).ok()?, month, day).ok()?;
    let part = |divisor: u32, modulus: u32| u8::try_from(rest / divisor % modulus).unwrap_or(0);
    let time = Time::try_new(part(3_600_000, 24), part(60_000, 60), part(1000, 60), rest % 1000 * 1_000_000).ok()?;
    Some(DateTime { date, time })
}

/// Seconds between a time zone and UTC at a time, by the tz database; none for a zone that is not in it.
pub(super) fn offset(asked: &Json) -> Option<i32> {
    let zone = asked["timeZone"].as_str().unwrap_or("UTC");
    if let Some(written) = zone.strip_prefix(['+', '-']) {
        let digits: String = written.chars().filter(char::is_ascii_digit).collect();
        let hours: i32 = digits.get(..2)?.parse().ok()?;
        let minutes: i32 = digits.get(2..).filter(|m| !m.is_empty()).map_or(Ok(0), str::parse).ok()?;
        let seconds = hours * 3600 + minutes * 60;
        return Some(if zone.starts_with('-') { -seconds } else { seconds });
    }
    // A time that the database cannot hold is told by the nearest one that it can.
    #[allow(clippy::cast_possible_truncation, reason = "within what a Date can hold")]
    let ms = asked["value"].as_f64().unwrap_or(0.0) as i64;
    let at = Timestamp::from_millisecond(ms).unwrap_or(if ms < 0 { Timestamp::MIN } else { Timestamp::MAX });
    Some(TimeZone::get(zone).ok()?.to_offset(at).seconds())
}

/// Languages whose all-numeric dates have no leading zeros (CLDR `availableFormats`, `yMd`), though their short dates do.
const BARE: [&str; 12] = ["cs", "da", "de", "es", "fi", "it", "ja", "ko", "nb", "nl", "no", "zh"];

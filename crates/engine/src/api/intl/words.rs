//! Plurals, order, lists, relative times and segments (ECMA-402 §10, §14, §17, §18, §19).

use std::fmt::Write as _;

use icu::collator::options::{CollatorOptions, Strength};
use icu::collator::preferences::CollationNumericOrdering;
use icu::collator::{Collator, CollatorPreferences};
use icu::experimental::relativetime::options::Numeric;
use icu::experimental::relativetime::{RelativeTimeFormatter, RelativeTimeFormatterOptions};
use icu::list::options::{ListFormatterOptions, ListLength};
use icu::list::{ListFormatter, ListFormatterPreferences};
use icu::locale::Locale;
use icu::plurals::{PluralCategory, PluralRuleType, PluralRules};
use icu::segmenter::options::{SentenceBreakInvariantOptions, WordBreakInvariantOptions};
use icu::segmenter::{GraphemeClusterSegmenter, SentenceSegmenter, WordSegmenter};

use serde_json::{Value as Json, json};

use super::{number, parts_of, to_json};

/// The plural category of a number.
pub(super) fn plural(locale: &Locale, asked: &Json) -> Option<Json> {
    let value = number::rounded(number::exact(asked["value"].as_f64()?)?, asked);
    Some(category(plural_rules(locale, asked)?.category_for(&value.absolute)).into())
}

/// All categories that a locale has.
pub(super) fn plurals(locale: &Locale, asked: &Json) -> Option<Json> {
    Some(plural_rules(locale, asked)?.categories().map(category).collect::<Vec<_>>().into())
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

fn plural_rules(locale: &Locale, asked: &Json) -> Option<PluralRules> {
    let kind = if asked["type"].as_str() == Some("ordinal") { PluralRuleType::Ordinal } else { PluralRuleType::Cardinal };
    PluralRules::try_new(locale.into(), kind.into()).ok()
}

pub(super) fn compare(locale: &Locale, asked: &Json) -> Option<Json> {
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
    Some((collator.compare(asked["a"].as_str()?, asked["b"].as_str()?) as i8).into())
}

pub(super) fn list(locale: &Locale, asked: &Json) -> Option<Json> {
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

pub(super) fn relative(locale: &Locale, asked: &Json) -> Option<Json> {
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
    let value = number::exact(asked["value"].as_f64()?)?;
    let mut text = String::new();
    write!(text, "{}", formatter.ok()?.format(value)).ok()?;
    Some(text.into())
}

/// Where the segments of a text end, in UTF-16 units, and for words whether each is one.
pub(super) fn segments(asked: &Json) -> Option<Json> {
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

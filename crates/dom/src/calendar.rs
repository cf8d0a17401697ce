//! Days and dates of the proleptic Gregorian calendar, over all years that a date of ECMAScript reaches (H. Hinnant, "chrono-compatible low-level date
//! algorithms").

/// Days from the first of January 1970 to a date. Months and days are counted from 1, and are not checked.
pub fn days_before(year: i64, month: i64, day: i64) -> i64 {
    // Counted from March, so that the day that is added stands last.
    let year = if month <= 2 { year - 1 } else { year };
    let (era, of_era) = (year.div_euclid(400), year.rem_euclid(400));
    let of_year = (153 * ((month + 9) % 12) + 2) / 5 + day - 1;
    era * 146_097 + of_era * 365 + of_era / 4 - of_era / 100 + of_year - 719_468
}

/// Year, month and day, of a day counted from the first of January 1970.
pub fn date_of(days: i64) -> (i64, u8, u8) {
    let days = days + 719_468;
    let (era, of_era) = (days.div_euclid(146_097), days.rem_euclid(146_097));
    let year = (of_era - of_era / 1460 + of_era / 36_524 - of_era / 146_096) / 365;
    let of_year = of_era - (365 * year + year / 4 - year / 100);
    let shifted = (5 * of_year + 2) / 153;
    let day = u8::try_from(of_year - (153 * shifted + 2) / 5 + 1).unwrap_or(1);
    let month = u8::try_from(if shifted < 10 { shifted + 3 } else { shifted - 9 }).unwrap_or(1);
    (year + era * 400 + i64::from(month <= 2), month, day)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn days_and_dates_lead_to_each_other() {
        for (date, days) in
            [((1970, 1, 1), 0), ((1969, 12, 31), -1), ((2000, 2, 29), 11_016), ((1, 1, 1), -719_162), ((275_760, 9, 13), 100_000_000)]
        {
            let (year, month, day) = date;
            assert_eq!(days_before(year, i64::from(month), i64::from(day)), days, "{date:?}");
            assert_eq!(date_of(days), date, "{days}");
        }
    }
}

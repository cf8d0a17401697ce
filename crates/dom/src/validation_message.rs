//! What a control says of itself when its value is not valid, in the words in which Chromium tells it in English: components show them to people.

use crate::element::Element;
use crate::form;
use crate::inputs::{self, Steps};
use crate::tree::{Document, NodeId};
use crate::validity::{Faults, faults};

/// The message of a control (HTML §4.10.20.3, `validationMessage`); empty where nothing is wrong, or where nobody asks it.
pub fn validation_message(doc: &Document, id: NodeId) -> String {
    let Some(element) = doc.element(id) else { return String::new() };
    let wrong = faults(doc, id);
    if !element.form.custom_validity.is_empty() {
        return element.form.custom_validity.clone();
    }
    let kind = if element.is_html("input") { element.input_type() } else { element.local.to_string() };
    let value = form::value(doc, id);
    let length = value.encode_utf16().count();
    let limit = |name: &str| element.attr(name).unwrap_or_default().trim().to_owned();
    let using = if length == 1 { "1 character".to_owned() } else { format!("{length} characters") };
    if wrong.has(Faults::BAD) {
        let of_number = "Please enter a number.";
        let of_time = "Please enter a valid value. The field is incomplete or has an invalid date.";
        return if kind == "number" { of_number } else { of_time }.to_owned();
    }
    if wrong.has(Faults::MISSING) {
        return match kind.as_str() {
            "checkbox" => "Please check this box if you want to proceed.",
            "radio" => "Please select one of these options.",
            "select" => "Please select an item in the list.",
            "file" => "Please select a file.",
            _ => "Please fill out this field.",
        }
        .to_owned();
    }
    if wrong.has(Faults::TYPE) {
        return if kind == "email" { of_email(element, &value) } else { "Please enter a URL.".into() };
    }
    if wrong.has(Faults::PATTERN) {
        return "Please match the requested format.".into();
    }
    if wrong.has(Faults::LONG) {
        return format!("Please shorten this text to {} characters or less (you are currently using {using}).", limit("maxlength"));
    }
    if wrong.has(Faults::SHORT) {
        return format!("Please lengthen this text to {} characters or more (you are currently using {using}).", limit("minlength"));
    }
    match (Steps::of(element), inputs::number(&kind, &value)) {
        (Some(steps), Some(number)) if !wrong.is_none() => of_number(&kind, &steps, number, wrong),
        _ => String::new(),
    }
}

fn of_number(kind: &str, steps: &Steps, number: f64, wrong: Faults) -> String {
    let shown = |number: f64| shown(kind, number);
    if wrong.has(Faults::UNDER) || wrong.has(Faults::OVER) {
        if let (Some(min), Some(max)) = (steps.min, steps.max) {
            match () {
                () if min == max => return format!("Value must be {}.", shown(min)),
                () if min > max && kind == "time" => return format!("Value must be between {} and {}.", shown(min), shown(max)),
                () if min > max => return format!("Minimum value ({}) must be less than the maximum value ({}).", shown(min), shown(max)),
                () => {}
            }
        }
        let is_time = inputs::is_time(kind);
        return match (wrong.has(Faults::UNDER), is_time) {
            (true, true) => format!("Value must be {} or later.", shown(steps.min.unwrap_or(0.0))),
            (false, true) => format!("Value must be {} or earlier.", shown(steps.max.unwrap_or(0.0))),
            (true, false) => format!("Value must be greater than or equal to {}.", shown(steps.min.unwrap_or(0.0))),
            (false, false) => format!("Value must be less than or equal to {}.", shown(steps.max.unwrap_or(0.0))),
        };
    }
    let Some(step) = steps.step else { return String::new() };
    let below = steps.base + ((number - steps.base) / step).floor() * step;
    let above = below + step;
    let one = |value: f64| format!("Please enter a valid value. The nearest valid value is {}.", shown(value));
    match (steps.min.is_some_and(|min| below < min), steps.max.is_some_and(|max| above > max)) {
        (true, _) => one(above),
        (_, true) => one(below),
        _ => format!("Please enter a valid value. The two nearest valid values are {} and {}.", shown(below), shown(above)),
    }
}

/// What is wrong with the first address that is no valid one.
fn of_email(element: &Element, value: &str) -> String {
    let is_list = element.has_attr("multiple");
    let all = value.split(if is_list { ',' } else { '\0' }).map(str::trim);
    let address = all.into_iter().find(|one| !crate::validity::is_email(one)).unwrap_or_default();
    let Some((name, host)) = address.split_once('@') else {
        return format!("Please include an '@' in the email address. '{address}' is missing an '@'.");
    };
    if name.is_empty() {
        return format!("Please enter a part followed by '@'. '{address}' is incomplete.");
    }
    if host.is_empty() {
        return format!("Please enter a part following '@'. '{address}' is incomplete.");
    }
    if let Some(symbol) = name.chars().find(|c| !(c.is_ascii_alphanumeric() || ".!#$%&'*+/=?^_`{|}~-".contains(*c))) {
        return format!("A part followed by '@' should not contain the symbol '{symbol}'.");
    }
    if let Some(symbol) = host.chars().find(|c| !(c.is_ascii_alphanumeric() || ".-".contains(*c))) {
        return format!("A part following '@' should not contain the symbol '{symbol}'.");
    }
    if host.starts_with('.') || host.ends_with('.') || host.contains("..") {
        return format!("'.' is used at a wrong position in '{host}'.");
    }
    "Please enter an email address.".into()
}

/// A number as a person reads it in a field of a kind.
fn shown(kind: &str, number: f64) -> String {
    const MONTHS: [&str; 12] =
        ["January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November", "December"];
    let text = inputs::number_text(kind, number);
    let date = |text: &str| match text.splitn(3, '-').collect::<Vec<_>>()[..] {
        [year, month, day] => format!("{month}/{day}/{year}"),
        _ => text.to_owned(),
    };
    match (kind, text.split_once(if kind == "datetime-local" { "T" } else { "-" })) {
        ("date", _) => date(&text),
        ("time", _) => clock(&text),
        ("datetime-local", Some((day, time))) => format!("{}, {}", date(day), clock(time)),
        ("month", Some((year, month))) => {
            let name = month.parse::<usize>().ok().and_then(|m| MONTHS.get(m.checked_sub(1)?)).copied().unwrap_or_default();
            format!("{name} {year}")
        }
        ("week", Some((year, week))) => format!("Week {}, {year}", week.trim_start_matches('W')),
        _ => text,
    }
}

/// `13:05` on a clock of twelve hours.
fn clock(text: &str) -> String {
    let (hour, rest) = text.split_once(':').unwrap_or((text, "00"));
    let hour: u32 = hour.parse().unwrap_or(0);
    format!("{}:{rest}\u{202f}{}", if hour.is_multiple_of(12) { 12 } else { hour % 12 }, if hour < 12 { "AM" } else { "PM" })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::parse;

    /// Each row as Chromium gives it.
    #[test]
    fn what_is_wrong_is_told_in_words() {
        for (html, expected) in [
            ("<input required>", "Please fill out this field."),
            ("<textarea required></textarea>", "Please fill out this field."),
            ("<input type=checkbox required>", "Please check this box if you want to proceed."),
            ("<input type=radio name=a required>", "Please select one of these options."),
            (r#"<select required><option value="">a</select>"#, "Please select an item in the list."),
            ("<input type=file required>", "Please select a file."),
            ("<input type=number required>", "Please fill out this field."),
            ("<input type=date required>", "Please fill out this field."),
            ("<input type=email value=x>", "Please include an '@' in the email address. 'x' is missing an '@'."),
            (r#"<input type=email value="a@">"#, "Please enter a part following '@'. 'a@' is incomplete."),
            (r#"<input type=email value="@b">"#, "Please enter a part followed by '@'. '@b' is incomplete."),
            (r#"<input type=email value="a@b@c">"#, "A part following '@' should not contain the symbol '@'."),
            (r#"<input type=email value="a@-b">"#, "Please enter an email address."),
            (r#"<input type=email value="a@b..c">"#, "'.' is used at a wrong position in 'b..c'."),
            (r#"<input type=email value="a@b c">"#, "A part following '@' should not contain the symbol ' '."),
            (r#"<input type=email value="a@.b">"#, "'.' is used at a wrong position in '.b'."),
            (r#"<input type=email value="a@b.">"#, "'.' is used at a wrong position in 'b.'."),
            (r#"<input type=email value="a b@c">"#, "A part followed by '@' should not contain the symbol ' '."),
            (r#"<input type=email multiple value="a@b,c">"#, "Please include an '@' in the email address. 'c' is missing an '@'."),
            ("<input type=url value=x>", "Please enter a URL."),
            (r#"<input pattern="[a-z]" value=A>"#, "Please match the requested format."),
            (r#"<input pattern="[a-z]" title="one letter" value=A>"#, "Please match the requested format."),
            ("<input type=number min=2 value=1>", "Value must be greater than or equal to 2."),
            ("<input type=number max=2 value=3>", "Value must be less than or equal to 2."),
            ("<input type=number step=2 min=0 value=3>", "Please enter a valid value. The two nearest valid values are 2 and 4."),
            ("<input type=number step=2 min=0 max=3 value=3>", "Please enter a valid value. The nearest valid value is 2."),
            ("<input type=number step=0.5 min=0 value=0.7>", "Please enter a valid value. The two nearest valid values are 0.5 and 1."),
            ("<input type=date min=2026-01-05 value=2026-01-02>", "Value must be 01/05/2026 or later."),
            ("<input type=date max=2026-01-05 value=2026-01-12>", "Value must be 01/05/2026 or earlier."),
            ("<input type=time min=12:00 value=11:00>", "Value must be 12:00\u{202f}PM or later."),
            ("<input type=time min=22:00 max=06:00 value=12:00>", "Value must be between 10:00\u{202f}PM and 6:00\u{202f}AM."),
            ("<input type=month min=2026-05 value=2026-02>", "Value must be May 2026 or later."),
            ("<input type=week min=2026-W05 value=2026-W02>", "Value must be Week 05, 2026 or later."),
            (
                "<input type=datetime-local min=2026-01-05T12:00 value=2026-01-02T12:00>",
                "Value must be 01/05/2026, 12:00\u{202f}PM or later.",
            ),
            (
                "<input type=date step=7 min=2026-01-01 value=2026-01-02>",
                "Please enter a valid value. The two nearest valid values are 01/01/2026 and 01/08/2026.",
            ),
            (
                "<input type=time step=3600 min=12:00 value=12:30>",
                "Please enter a valid value. The two nearest valid values are 12:00\u{202f}PM and 1:00\u{202f}PM.",
            ),
            ("<input type=range min=0 max=10 value=5>", ""),
            (
                "<input type=month step=2 min=2026-01 value=2026-02>",
                "Please enter a valid value. The two nearest valid values are January 2026 and March 2026.",
            ),
            ("<input type=number min=5 max=2 value=3>", "Minimum value (5) must be less than the maximum value (2)."),
            ("<input type=number min=5 max=5 value=3>", "Value must be 5."),
        ] {
            let doc = parse::document(html);
            let controls = crate::Selectors::parse("input, select, textarea").expect("a selector");
            let control = controls.query(&doc, Document::ROOT).expect("a control");
            assert_eq!(validation_message(&doc, control), expected, "{html}");
        }
    }
}

//! What the name of a prop says of its values, and the name of a component of what it holds.

use super::texts::{self, words};
use crate::surface::Type;

/// Words of a prop's name that make its number the count of something: what a component makes so many of.
const COUNTED: [&str; 43] = [
    "amount",
    "boundary",
    "col",
    "cols",
    "column",
    "columns",
    "count",
    "decimals",
    "depth",
    "digits",
    "from",
    "items",
    "last",
    "length",
    "level",
    "levels",
    "limit",
    "lines",
    "max",
    "number",
    "of",
    "page",
    "pages",
    "per",
    "precision",
    "range",
    "rating",
    "repeat",
    "row",
    "rows",
    "segments",
    "shown",
    "siblings",
    "size",
    "slots",
    "span",
    "stars",
    "step",
    "steps",
    "ticks",
    "total",
    "visible",
    "years",
];

/// True where a number says how many of something there are, by the prop's name: it ends in the length of a list, or in a loop.
pub(super) fn is_count(prop: &str) -> bool {
    words(prop).iter().any(|word| COUNTED.contains(&word.as_str()))
}

/// What a component holds, by its own name: a `ColorPicker` a colour, an `InputDate` a date.
pub(super) fn held_by(component: &str) -> Option<String> {
    const FIELDS: [&str; 16] = [
        "picker", "input", "field", "select", "selector", "editor", "panel", "chooser", "display", "view", "root", "area", "slider",
        "swatch", "wheel", "provider",
    ];
    let words = words(component);
    let rest: Vec<&str> = words.iter().map(String::as_str).filter(|word| !FIELDS.contains(word)).collect();
    (rest.len() < words.len()).then(|| rest.last().map(|word| (*word).to_owned())).flatten()
}

/// The values of what bounds other numbers, by the prop's name: no parent lets a range end before it begins, or takes steps of nothing.
pub(super) fn bounds(prop: &str) -> Option<[i64; 2]> {
    let words = words(prop);
    let says = |bound: &[&str]| words.first().is_some_and(|w| bound.contains(&w.as_str())) && words.len() < 3;
    match () {
        () if says(&["min", "minimum"]) => Some([1, 0]),
        () if says(&["max", "maximum"]) => Some([12, 100]),
        () if words == ["step"] => Some([1, 5]),
        // Of minutes, of a page: nobody takes the smallest first.
        () if says(&["step"]) || words.len() == 2 && words[1] == "step" => Some([15, 5]),
        () => None,
    }
}

/// The values of what counts in a calendar, on a clock or in the order of the page, by the last word of the prop's name: there is no month
/// of a half, and no hour of ten thousand.
pub(super) fn of_calendar(prop: &str) -> Option<&'static [i64]> {
    Some(match words(prop).last()?.as_str() {
        "month" => &[1, 0, 11],
        "year" => &[2028, 2000],
        "weekday" | "day" => &[1, 0, 6],
        "hour" => &[1, 0, 23],
        "minute" => &[1, 0, 59],
        "index" | "tabindex" => &[0, 1, -1],
        _ => return None,
    })
}

/// Words of a prop's name that make its number a length or a time: neither is less than nothing.
const MEASURED: [&str; 22] = [
    "delay",
    "duration",
    "timeout",
    "interval",
    "wait",
    "debounce",
    "throttle",
    "speed",
    "ms",
    "seconds",
    "width",
    "height",
    "size",
    "gap",
    "padding",
    "radius",
    "thickness",
    "diameter",
    "elevation",
    "opacity",
    "zoom",
    "scale",
];

/// Words of a prop's name that make its number a time in milliseconds.
const TIMED: [&str; 9] = ["delay", "duration", "timeout", "interval", "wait", "debounce", "throttle", "ms", "lifetime"];

/// True where a number is a time in milliseconds, by the prop's name.
pub fn is_time(prop: &str) -> bool {
    words(prop).iter().any(|word| is_in(word, &TIMED))
}

/// Whether a word is one of a list, or several of one: `intervals`.
pub(super) fn is_in(word: &str, list: &[&str]) -> bool {
    list.contains(&word) || word.strip_suffix('s').is_some_and(|one| list.contains(&one))
}

/// True where a number is a length or a time, by the prop's name.
pub(super) fn is_measure(prop: &str) -> bool {
    words(prop).iter().any(|word| is_in(word, &MEASURED))
}

/// Whether a function gives a text that people read, by its name: `formatValue`, `getLabel`, `ariaLabel`. A handler gives nothing.
pub(super) fn gives_text(name: &str) -> bool {
    const TEXTS: [&str; 10] =
        ["label", "title", "text", "message", "caption", "placeholder", "tooltip", "description", "format", "formatter"];
    let words = words(name);
    let is_handler = words.first().is_some_and(|word| ["on", "set", "handle", "update", "is", "has"].contains(&word.as_str()));
    let last = words.last().map_or("", String::as_str);
    !is_handler && (TEXTS.contains(&last) || words.first().is_some_and(|word| word == "format"))
}

/// Words that end the name of what is on or off.
const SWITCHED: [&str; 33] = [
    "disabled",
    "readonly",
    "checked",
    "selected",
    "active",
    "done",
    "hidden",
    "visible",
    "open",
    "loading",
    "required",
    "closable",
    "dense",
    "compact",
    "rounded",
    "outlined",
    "vertical",
    "inline",
    "multiple",
    "clearable",
    "inverted",
    "available",
    "indeterminate",
    "editable",
    "searchable",
    "sortable",
    "draggable",
    "resizable",
    "collapsible",
    "dismissible",
    "removable",
    "selectable",
    "fluid",
];

/// Words that end the name of what is a number, beside those of counts and measures.
const NUMERIC: [&str; 14] =
    ["price", "cost", "weight", "quantity", "qty", "age", "year", "month", "order", "index", "score", "percent", "progress", "temperature"];

/// Words that end the name of what is a text that people read.
const READABLE: [&str; 16] = [
    "label",
    "title",
    "text",
    "name",
    "placeholder",
    "message",
    "heading",
    "caption",
    "description",
    "subtitle",
    "legend",
    "hint",
    "tooltip",
    "alt",
    "unit",
    "value",
];

/// Words that end the name of several things.
const SEVERAL: [&str; 4] = ["list", "data", "collection", "series"];

/// Words that end the name of a thing with fields that is handed on: `inputProps`, `rootAttrs`.
const HANDED_ON: [&str; 6] = ["props", "attrs", "attributes", "params", "settings", "config"];

/// The type that the name of a prop or a field suggests, where nothing declares one; none for a name that says nothing.
pub fn by_name(name: &str) -> Option<Type> {
    let words = words(name);
    let last = words.last()?.as_str();
    let asks = words.len() > 1 && ["is", "has", "can", "should", "show", "with", "no", "hide"].contains(&words[0].as_str());
    Some(match () {
        () if asks || is_switched(&words) => Type::Boolean,
        () if texts::of(name).is_some() || READABLE.contains(&last) => Type::String,
        () if MEASURED.contains(&last) || NUMERIC.contains(&last) => Type::Number,
        () if words.len() > 1 && HANDED_ON.contains(&last) => Type::Object { fields: Vec::new() },
        () if SEVERAL.contains(&last) || is_plural(last) => Type::Array { of: Box::new(Type::String) },
        () if COUNTED.contains(&last) => Type::Number,
        () => return None,
    })
}

fn is_plural(word: &str) -> bool {
    word.len() > 3 && word.ends_with('s') && !["ss", "us", "is"].iter().any(|e| word.ends_with(e))
}

/// Whether a name is of what is on or off: `closable`, `soldOut`, `expanded`.
fn is_switched(words: &[String]) -> bool {
    let whole = words.concat();
    let last = words.last().map_or("", String::as_str);
    let is_done = last.len() > 4 && last.ends_with("ed") && !["speed", "embed"].contains(&last);
    is_done || SWITCHED.contains(&last) || SWITCHED.contains(&whole.as_str()) || words.len() > 1 && matches!(last, "out" | "only")
}

/// True where a value says which of some items is chosen, by the prop's name.
pub fn is_choice(prop: &str) -> bool {
    matches!(prop, "value" | "modelValue" | "selected" | "current" | "active") || prop.starts_with("active") || prop.starts_with("selected")
}

//! Texts that a prop can take, by its name. What goes into an attribute, a style or a formatter of the language is a word of a kind: any
//! other text says nothing about the component, and much about who made it up.

/// A kind of text: names that are whole, words that a name ends in, and two texts of the kind, the plainest first.
struct Kind {
    names: &'static [&'static str],
    ends: &'static [&'static str],
    texts: [&'static str; 3],
}

/// The kinds (HTML's attributes, CSS' values, ECMA-402).
const KINDS: [Kind; 26] = [
    Kind { names: &["id", "for", "htmlfor", "name", "key"], ends: &["id", "ids"], texts: ["mug", "tall-vase", "bowl"] },
    Kind {
        names: &["list", "form"],
        ends: &["labelledby", "describedby", "errormessage", "controls", "owns", "activedescendant"],
        texts: ["mug", "tall-vase", "bowl"],
    },
    Kind {
        names: &["tag", "as", "element", "component", "is", "wrapper"],
        ends: &["tag", "element", "component"],
        texts: ["div", "span", "section"],
    },
    Kind {
        names: &["href", "to", "src", "url", "link", "action", "poster", "image", "img", "avatar", "logo", "cite", "photo"],
        ends: &["href", "url", "src", "uri", "link"],
        texts: ["/mugs", "https://kiln.example/mugs?cone=6#top", "/bowls"],
    },
    Kind { names: &["srcset"], ends: &["srcset"], texts: ["/mug.png 1x", "/mug.png 1x, /mug-2.png 2x", "/mug-3.png 3x"] },
    Kind {
        names: &["color", "colour", "background", "bg", "fill", "stroke"],
        ends: &["color", "colour", "background"],
        texts: ["red", "#3a6ea5", "teal"],
    },
    Kind { names: &["hex"], ends: &["hex"], texts: HEX },
    Kind {
        names: &["width", "height", "gap", "padding", "margin", "radius", "offset", "thickness", "top", "left", "right", "bottom", "inset"],
        ends: &["width", "height", "gap", "padding", "margin", "radius", "offset", "thickness"],
        texts: ["10px", "50%", "2em"],
    },
    Kind { names: &["size"], ends: &["size"], texts: ["small", "10px", "large"] },
    Kind { names: &["class", "classname", "classes"], ends: &["class", "classname", "classes"], texts: ["mug", "mug tall", "mug wide"] },
    // Names of transitions are written into classes: each is one word.
    Kind { names: &["animation", "transition"], ends: &["animation", "transition"], texts: ["fade", "slide", "zoom"] },
    Kind { names: &["style", "styles"], ends: &["style", "styles"], texts: ["color: red", "color: red; margin: 1px", "margin: 2px"] },
    Kind { names: &["locale", "lang", "language"], ends: &["locale", "lang", "language"], texts: ["en", "de", "fr"] },
    Kind { names: &["timezone", "tz"], ends: &["timezone"], texts: ["UTC", "Europe/Berlin", "Asia/Tokyo"] },
    Kind { names: &["currency"], ends: &["currency"], texts: ["EUR", "JPY", "USD"] },
    Kind {
        names: &["date", "day", "birthday", "deadline", "since", "until"],
        ends: &["date"],
        texts: ["2028-02-29", "2028-03-01", "2028-03-02"],
    },
    // A moment, as JSON carries it: `createdAt`.
    Kind {
        names: &["timestamp", "datetime"],
        ends: &["at", "timestamp", "datetime"],
        texts: ["2028-02-29T08:30:00Z", "2028-03-01T17:00:00Z", "2028-03-02T21:15:00Z"],
    },
    Kind { names: &["time"], ends: &["time"], texts: ["08:30", "17:00", "21:15"] },
    // How dates and times are written, in signs that are the same in most libraries.
    Kind { names: &["format"], ends: &["format"], texts: ["HH:mm", "H:mm", "HH:mm:ss"] },
    Kind { names: &["type"], ends: &[], texts: ["text", "button", "search"] },
    Kind { names: &["target"], ends: &[], texts: ["_self", "_blank", "_parent"] },
    Kind { names: &["rel"], ends: &[], texts: ["noopener", "noreferrer", "external"] },
    Kind { names: &["role"], ends: &["role"], texts: ["group", "presentation", "region"] },
    Kind { names: &["pattern", "regex", "regexp"], ends: &["pattern", "regex"], texts: ["[a-z]+", "[0-9]*", "[a-f]+"] },
    Kind {
        names: &["selector", "container", "teleport", "appendto", "portal"],
        ends: &["selector", "container", "portal"],
        texts: ["body", "html", "head"],
    },
    Kind { names: &["placement", "position", "side"], ends: &["placement", "position", "side"], texts: ["top", "bottom", "left"] },
];

const HEX: [&str; 3] = ["#3a6ea5", "#e5393a", "#00897b"];
const DURATIONS: [&str; 3] = ["200ms", "1s", "2s"];

/// The texts that are of the kind of a prop's default, as it is written in the source; none where that says nothing.
pub(super) fn like(default: &str) -> Option<[&'static str; 2]> {
    let text = default.trim();
    let text = ['\'', '"', '`'].iter().find_map(|q| text.strip_prefix(*q)?.strip_suffix(*q))?;
    let number_of = |units: &[&str]| {
        units.iter().any(|unit| text.strip_suffix(unit).is_some_and(|number| number.parse::<f64>().is_ok_and(|n| n.is_finite())))
    };
    let is_hex =
        text.strip_prefix('#').is_some_and(|rest| matches!(rest.len(), 3 | 4 | 6 | 8) && rest.bytes().all(|b| b.is_ascii_hexdigit()));
    let is_call = ["rgb(", "rgba(", "hsl(", "hsla("].iter().any(|call| text.starts_with(call));
    let texts = match () {
        () if is_hex => HEX,
        () if is_call => return of("color"),
        () if number_of(&["ms", "s"]) => DURATIONS,
        () if number_of(&["px", "rem", "em", "%", "vh", "vw", "ch"]) => return of("width"),
        () if text.starts_with("https://") || text.starts_with('/') && text.len() > 1 => return of("href"),
        () => return None,
    };
    Some([texts[0], texts[1]])
}

/// Another way to write what a prop's default says how to write: `LLL` beside `LL`. What a format is made of only its own library knows, and a
/// letter more or less it takes.
pub(super) fn format_like(prop: &str, default: &str) -> Option<[String; 2]> {
    let text = ['\'', '"', '`'].iter().find_map(|q| default.trim().strip_prefix(*q)?.strip_suffix(*q))?;
    let is_format =
        text.chars().all(|c| c.is_ascii_alphabetic() || " -/.:,".contains(c)) && text.contains(|c: char| c.is_ascii_alphabetic());
    let last = text.rfind(|c: char| c.is_ascii_alphabetic()).filter(|_| is_format && words(prop).last().is_some_and(|w| w == "format"))?;
    let letter = &text[last..=last];
    let run = text[..=last].len() - text[..=last].trim_end_matches(letter).len();
    let other = if run < 4 {
        format!("{}{letter}{}", &text[..=last], &text[last + 1..])
    } else {
        format!("{}{}", &text[..last], &text[last + 1..])
    };
    Some([other, text.to_owned()])
}

/// The texts that a prop of this name takes; none where any text is one.
pub(crate) fn of(prop: &str) -> Option<[&'static str; 2]> {
    several(prop).map(|[plainest, other, _]| [plainest, other])
}

/// As many as a list of things has items: no two are alike.
pub(super) fn several(prop: &str) -> Option<[&'static str; 3]> {
    let words = words(prop);
    let last = words.last()?.as_str();
    let whole = words.concat();
    let is = |kind: &&Kind| {
        kind.names.contains(&whole.as_str()) || kind.ends.contains(&last) || kind.ends.iter().any(|e| e.len() > 5 && whole.ends_with(e))
    };
    KINDS.iter().find(is).map(|kind| kind.texts)
}

/// The words of a name, in lower case: `ariaLabelledBy`, `label-id`.
pub(crate) fn words(name: &str) -> Vec<String> {
    let mut out: Vec<String> = vec![String::new()];
    let mut before = ' ';
    for c in name.chars() {
        // `labelID` is two words, as `labelId` is.
        if c.is_uppercase() && !before.is_uppercase() || !c.is_alphanumeric() {
            out.push(String::new());
        }
        if c.is_alphanumeric() {
            out.last_mut().expect("there is one").extend(c.to_lowercase());
        }
        before = c;
    }
    out.retain(|w| !w.is_empty());
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_format_is_varied_in_its_own_letters() {
        for (prop, default, other) in [
            ("weekdayFormat", "'EE'", Some("EEE")),
            ("format", "\"yyyy-MM-dd\"", Some("yyyy-MM-ddd")),
            ("format", "'LLLL'", Some("LLL")),
            ("format", "'{0} of {1}'", None),
            ("label", "'EE'", None),
            ("format", "undefined", None),
        ] {
            assert_eq!(format_like(prop, default).map(|[other, _]| other).as_deref(), other, "{prop} {default}");
        }
    }

    #[test]
    fn a_default_tells_the_kind_of_its_text() {
        for (default, first) in [
            ("'#61d345'", Some("#3a6ea5")),
            ("\"rgb(1, 2, 3)\"", Some("red")),
            ("'0.3s'", Some("200ms")),
            ("'12px'", Some("10px")),
            ("'/img'", Some("/mugs")),
            ("'#mug'", None),
            ("'s'", None),
            ("'class'", None),
            ("KEYS[0]", None),
            ("12", None),
        ] {
            assert_eq!(like(default).map(|t| t[0]), first, "{default}");
        }
    }

    #[test]
    fn a_name_tells_the_kind_of_its_text() {
        for (name, first) in [
            ("id", Some("mug")),
            ("labelId", Some("mug")),
            ("labelID", Some("mug")),
            ("aria-id", Some("mug")),
            ("htmlFor", Some("mug")),
            ("grid", None),
            ("as", Some("div")),
            ("headingTag", Some("div")),
            ("stage", None),
            ("imageUrl", Some("/mugs")),
            ("backgroundColor", Some("red")),
            ("className", Some("mug")),
            ("inputClassName", Some("mug")),
            ("maxHeight", Some("10px")),
            ("animation", Some("fade")),
            ("timeZone", Some("UTC")),
            ("createdAt", Some("2028-02-29T08:30:00Z")),
            ("published_at", Some("2028-02-29T08:30:00Z")),
            ("format", Some("HH:mm")),
            ("flat", None),
            ("label", None),
            ("title", None),
            ("", None),
        ] {
            assert_eq!(of(name).map(|t| t[0]), first, "{name}");
        }
    }
}

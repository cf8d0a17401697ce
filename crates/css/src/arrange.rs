//! What follows from the rest of a value is not written (CSSOM §6.7.2 "shortest serialization"): sides that are as their opposites, parts that
//! are as they would be anyway. What is named in several ways is named in one.

use crate::value::{number, split};

/// Properties of four sides, from the top round to the left.
const SIDES: [&str; 9] = [
    "margin",
    "padding",
    "inset",
    "border-width",
    "border-style",
    "border-color",
    "scroll-margin",
    "scroll-padding",
    "border-image-outset",
];

/// Properties of two values, of which the second is as the first where it is not written.
const PAIRS: [&str; 34] = [
    "margin-block",
    "margin-inline",
    "padding-block",
    "padding-inline",
    "inset-block",
    "inset-inline",
    "border-block-color",
    "border-block-style",
    "border-block-width",
    "border-inline-color",
    "border-inline-style",
    "border-inline-width",
    "scroll-margin-block",
    "scroll-margin-inline",
    "scroll-padding-block",
    "scroll-padding-inline",
    "gap",
    "overflow",
    "overscroll-behavior",
    "border-spacing",
    "scroll-snap-align",
    "border-image-repeat",
    "mask-border-repeat",
    "border-top-left-radius",
    "border-top-right-radius",
    "border-bottom-left-radius",
    "border-bottom-right-radius",
    "border-start-start-radius",
    "border-start-end-radius",
    "border-end-start-radius",
    "border-end-end-radius",
    "place-content",
    "place-items",
    "place-self",
];

/// The text of a value with its parts in order.
pub(crate) fn arranged(name: &str, text: &str) -> String {
    if SIDES.contains(&name) {
        return shortest(&split(text, ' '));
    }
    let text = &aligned(name, text);
    if PAIRS.contains(&name) {
        // Where a pair is of words that go together, its halves are: `last baseline last baseline`.
        let words = split(text, ' ');
        let (first, second) = words.split_at(words.len() / 2);
        return if words.len().is_multiple_of(2) && first == second { first.join(" ") } else { text.clone() };
    }
    match name {
        "box-shadow" | "text-shadow" if text != "none" => each(text, shadow),
        "transition" => each(text, transition),
        "animation" => each(text, animation),
        "outline" => line(text, "outline"),
        "column-rule" | "border-block" | "border-inline" | "border" => line(text, name),
        _ if name.starts_with("border-") && ["top", "right", "bottom", "left", "start", "end"].iter().any(|side| name.ends_with(side)) => {
            line(text, name)
        }
        "flex" => flex(text),
        "flex-flow" => without(text, &["row", "nowrap"], "row"),
        "columns" => without(text, &["auto"], "auto"),
        "list-style" | "border-radius" | "-webkit-border-radius" | "contain-intrinsic-size" => match name {
            "list-style" => text.clone(),
            "contain-intrinsic-size" => halves(text),
            _ => radius(name, text),
        },
        "font" => without(&text.replace(" / normal", ""), &["normal"], text),
        "font-family" => each(text, family),
        "font-feature-settings" => each(text, |one| {
            let one = one.replace(" on", "");
            one.strip_suffix(" 1").map_or_else(|| one.replace(" off", " 0"), str::to_owned)
        }),
        "font-size-adjust" => text.replace("ex-height ", ""),
        "opacity" | "shape-image-threshold" | "fill-opacity" | "stroke-opacity" | "flood-opacity" | "stop-opacity" => {
            match text.strip_suffix('%').and_then(|n| n.parse::<f64>().ok()) {
                Some(percent) => number(percent / 100.0),
                None => text.clone(),
            }
        }
        "aspect-ratio" => {
            let is_plain = |w: &&str| w.parse::<f64>().is_ok();
            let ends_plain = split(text, ' ').last().is_some_and(is_plain);
            if ends_plain && !text.contains('/') { format!("{text} / 1") } else { text.clone() }
        }
        "background-position" | "mask-position" | "-webkit-mask-position" | "object-position" => each(text, placed),
        "transform-origin" | "perspective-origin" if !text.contains('(') || text.starts_with("calc") => placed(text),
        "background-size" | "mask-size" | "-webkit-mask-size" => each(text, |one| match one {
            "auto auto" => "auto".into(),
            _ if one.contains(' ') || ["auto", "cover", "contain"].contains(&one) || crate::words::is_word(one) => one.to_owned(),
            _ => format!("{one} auto"),
        }),
        "background-repeat" | "mask-repeat" | "-webkit-mask-repeat" => each(text, |one| match one.split_once(' ') {
            Some((x, y)) if x == y => x.to_owned(),
            Some(("repeat", "no-repeat")) => "repeat-x".into(),
            Some(("no-repeat", "repeat")) => "repeat-y".into(),
            _ => one.to_owned(),
        }),
        "counter-increment" => counted(text, "1"),
        "counter-reset" | "counter-set" => counted(text, "0"),
        "stroke-dasharray" if text != "none" => text.replace(", ", " ").split(' ').collect::<Vec<_>>().join(", "),
        "translate" => text.strip_suffix(" 0px").unwrap_or(text).to_owned(),
        "scale" => halves(text),
        "grid" | "grid-template" | "grid-template-rows" | "grid-template-columns" => {
            let text = split(text, ' ').into_iter().filter(|w| *w != "[]").collect::<Vec<_>>().join(" ");
            if text == "none / none" { "none".into() } else { text }
        }
        "grid-auto-flow" => text.strip_prefix("row ").unwrap_or(text).to_owned(),
        "grid-template-areas" => areas(text),
        "display" => shown(text),
        "white-space" if text == "wrap" => "normal".into(),
        "scroll-snap-type" => text.strip_suffix(" proximity").unwrap_or(text).to_owned(),
        "text-decoration" => without(text, &["currentcolor", "solid", "auto"], text),
        "animation-name" if text.eq_ignore_ascii_case("none") => "none".into(),
        _ => text.clone(),
    }
}

fn each(text: &str, one: impl Fn(&str) -> String) -> String {
    split(text, ',').into_iter().map(one).collect::<Vec<_>>().join(", ")
}

/// The words of a text without some of them; `none` where nothing is left.
fn without(text: &str, words: &[&str], none: &str) -> String {
    let kept: Vec<&str> = split(text, ' ').into_iter().filter(|w| !words.contains(w)).collect();
    if kept.is_empty() { none.to_owned() } else { kept.join(" ") }
}

/// The first half of a value whose halves are the same.
fn halves(text: &str) -> String {
    let words = split(text, ' ');
    let (first, second) = words.split_at(words.len() / 2);
    if words.len().is_multiple_of(2) && first == second { first.join(" ") } else { text.to_owned() }
}

/// `first baseline` is what `baseline` alone says (CSS Align §4.2); as a place for all of the content it is at the start of the other axis.
fn aligned(name: &str, text: &str) -> String {
    let is_aligned = ["align-", "justify-", "place-"].iter().any(|p| name.starts_with(p));
    if !is_aligned {
        return text.to_owned();
    }
    let text = text.replace("first baseline", "baseline");
    if name == "place-content" && text == "baseline" { "baseline start".into() } else { text }
}

/// A place in two directions: what is not said is the middle.
pub(crate) fn placed(text: &str) -> String {
    match text {
        "top" | "bottom" => format!("center {text}"),
        _ if crate::words::is_wide(text) || text == "auto" || text == "normal" || split(text, ' ').len() > 1 => text.to_owned(),
        _ => format!("{text} center"),
    }
}

fn counted(text: &str, unless: &str) -> String {
    if text == "none" || crate::words::is_wide(text) {
        return text.to_owned();
    }
    let words = split(text, ' ');
    let is_number = |w: &&str| w.parse::<f64>().is_ok() || w.starts_with("calc(");
    let mut out: Vec<&str> = Vec::new();
    for (i, word) in words.iter().enumerate() {
        out.push(word);
        if !is_number(word) && !words.get(i + 1).is_some_and(&is_number) {
            out.push(unless);
        }
    }
    out.join(" ")
}

/// A family whose name is one word needs no quotes.
fn family(one: &str) -> String {
    let inner = one.strip_prefix('"').and_then(|o| o.strip_suffix('"'));
    let is_name = |w: &&str| {
        let letters = |c: char| c.is_alphanumeric() || c == '-' || c == '_' || !c.is_ascii();
        w.starts_with(|c: char| c.is_alphabetic() || c == '_' || !c.is_ascii()) && w.chars().all(letters)
    };
    const GENERIC: [&str; 9] = ["serif", "sans-serif", "monospace", "cursive", "fantasy", "system-ui", "math", "ui-serif", "ui-sans-serif"];
    match inner {
        Some(inner) if is_name(&inner) && !crate::words::is_wide(inner) && !GENERIC.contains(&inner) => inner.to_owned(),
        Some(_) => one.to_owned(),
        None if GENERIC.iter().any(|g| one.eq_ignore_ascii_case(g)) => one.to_ascii_lowercase(),
        // Several words are one name.
        None if one.contains(' ') => format!("\"{one}\""),
        None => one.to_owned(),
    }
}

/// The cells of a grid, with one space between and one dot for what is empty.
fn areas(text: &str) -> String {
    let mut out = String::new();
    for (i, part) in text.split('"').enumerate() {
        if i % 2 == 0 {
            out.push_str(part);
            continue;
        }
        let cells = part.split_whitespace().map(|cell| if cell.bytes().all(|b| b == b'.') { "." } else { cell });
        out.push_str(&format!("\"{}\"", cells.collect::<Vec<_>>().join(" ")));
    }
    out
}

/// CSS Display §2: what has a name of its own is written by it.
fn shown(text: &str) -> String {
    match text {
        "block flow" | "flow" | "flow block" => "block",
        "flow-root block" | "block flow-root" => "flow-root",
        "inline flow" | "flow inline" => "inline",
        "inline flow-root" | "flow-root inline" => "inline-block",
        "block flow list-item" | "block list-item" | "flow list-item" | "list-item block" | "list-item flow" => "list-item",
        "inline flow list-item" => "inline list-item",
        "block flex" | "flex block" => "flex",
        "inline flex" | "flex inline" => "inline-flex",
        "block grid" | "grid block" => "grid",
        "inline grid" | "grid inline" => "inline-grid",
        "block table" | "table block" => "table",
        "inline table" | "table inline" => "inline-table",
        "inline ruby" | "ruby inline" => "ruby",
        other => other,
    }
    .to_owned()
}

fn radius(name: &str, text: &str) -> String {
    let (x, y) = match text.split_once(" / ") {
        Some((x, y)) => (shortest(&split(x, ' ')), shortest(&split(y, ' '))),
        // The older name takes two numbers for the two directions.
        None if name.starts_with('-') && split(text, ' ').len() == 2 => {
            let words = split(text, ' ');
            (words[0].to_owned(), words[1].to_owned())
        }
        None => (shortest(&split(text, ' ')), shortest(&split(text, ' '))),
    };
    if x == y { x } else { format!("{x} / {y}") }
}

/// What stands in a function, as it is written.
pub(crate) fn in_function(function: &str, inner: &str) -> Option<String> {
    Some(match function {
        "linear-gradient"
        | "repeating-linear-gradient"
        | "radial-gradient"
        | "repeating-radial-gradient"
        | "conic-gradient"
        | "repeating-conic-gradient" => gradient(function, inner),
        "circle" | "ellipse" => {
            let (size, place) = inner.split_once("at ").map_or((inner, None), |(size, place)| (size, Some(placed(place))));
            let size = match (function, size.trim()) {
                ("circle", "closest-side") | ("ellipse", "closest-side closest-side") => "",
                (_, size) => size,
            };
            let place = place.map(|p| format!("at {p}")).unwrap_or_default();
            [size, &place].into_iter().filter(|p| !p.is_empty()).collect::<Vec<_>>().join(" ")
        }
        "counter" | "counters" => inner.strip_suffix(", decimal").unwrap_or(inner).to_owned(),
        "polygon" => inner.strip_prefix("nonzero, ").unwrap_or(inner).to_owned(),
        "path" => {
            let inner = inner.strip_prefix("nonzero, ").unwrap_or(inner);
            let (rule, quoted) =
                inner.rsplit_once(", ").filter(|(rule, _)| !rule.contains('"')).map_or(("", inner), |(rule, quoted)| (rule, quoted));
            let path = path(quoted.trim_matches('"'))?;
            if rule.is_empty() { format!("\"{path}\"") } else { format!("{rule}, \"{path}\"") }
        }
        _ => return None,
    })
}

fn gradient(function: &str, inner: &str) -> String {
    let mut parts: Vec<String> = split(inner, ',').into_iter().map(str::to_owned).collect();
    // Colours of the older forms are mixed in sRGB unless somebody says so, all others in Oklab (CSS Images 4 §3.1).
    let is_newer = parts.iter().any(|part| ["color(", "lab(", "lch(", "oklab(", "oklch("].iter().any(|f| part.contains(f)));
    let usual = if is_newer { "in oklab" } else { "in srgb" };
    let is_line = function.ends_with("linear-gradient");
    let is_stop = |part: &str| {
        let first = split(part, ' ').first().copied().unwrap_or_default().to_owned();
        crate::value::is_colour(&first) || crate::value::is_colour(split(part, ' ').last().copied().unwrap_or_default())
    };
    if let Some(first) = parts.first().cloned().filter(|first| !is_stop(first)) {
        let said = if is_line { without_way(&first) } else { first };
        let said = if function.ends_with("radial-gradient") { radial(&said) } else { said };
        let said = if function.ends_with("conic-gradient") { conic(&said) } else { said };
        let said = match said.find("in ").filter(|at| *at == 0 || said[..*at].ends_with(' ')) {
            Some(at) => {
                let space = said[at..].replace(" shorter hue", "");
                let space = if space == "in xyz" { "in xyz-d65".to_owned() } else { space };
                format!("{}{}", &said[..at], if space == usual { "" } else { &space }).trim_end().to_owned()
            }
            None => said,
        };
        if said.is_empty() { drop(parts.remove(0)) } else { parts[0] = said }
    }
    // A stop that is in two places is two.
    let stops = parts.iter().flat_map(|part| match split(part, ' ').as_slice() {
        [colour, from, to] if is_stop(part) && crate::value::is_colour(colour) => {
            vec![format!("{colour} {from}"), format!("{colour} {to}")]
        }
        _ => vec![part.clone()],
    });
    stops.collect::<Vec<_>>().join(", ")
}

/// The way of a line without what it is anyway.
fn without_way(said: &str) -> String {
    let (way, space) =
        said.find("in ").filter(|at| *at == 0 || said[..*at].ends_with(' ')).map_or((said, ""), |at| (said[..at].trim(), &said[at..]));
    let way = if ["to bottom", "180deg"].contains(&way) { "" } else { way };
    [way, space].into_iter().filter(|p| !p.is_empty()).collect::<Vec<_>>().join(" ")
}

fn radial(said: &str) -> String {
    let (before, space) =
        said.find("in ").filter(|at| *at == 0 || said[..*at].ends_with(' ')).map_or((said, ""), |at| (said[..at].trim(), &said[at..]));
    let (shape, place) = before.split_once("at ").map_or((before, String::new()), |(shape, place)| (shape.trim(), placed(place.trim())));
    let lengths = split(shape, ' ').iter().filter(|w| !crate::words::is_word(w)).count();
    let implied = if lengths == 1 { "circle" } else { "ellipse" };
    let shape = without(shape, &[implied, "farthest-corner"], "");
    let place = if place.is_empty() || place == "center center" { String::new() } else { format!("at {place}") };
    [shape.as_str(), &place, space].into_iter().filter(|p| !p.is_empty()).collect::<Vec<_>>().join(" ")
}

fn conic(said: &str) -> String {
    let (before, space) =
        said.find("in ").filter(|at| *at == 0 || said[..*at].ends_with(' ')).map_or((said, ""), |at| (said[..at].trim(), &said[at..]));
    let (from, place) = before.split_once("at ").map_or((before, String::new()), |(from, place)| (from.trim(), placed(place.trim())));
    let from = if from == "from 0deg" { "" } else { from };
    let place = if place.is_empty() || place == "center center" { String::new() } else { format!("at {place}") };
    [from, &place, space].into_iter().filter(|p| !p.is_empty()).collect::<Vec<_>>().join(" ")
}

/// The data of a path with one space between all of its parts (SVG 2 §9.3); none where it is none.
fn path(data: &str) -> Option<String> {
    let mut out: Vec<String> = Vec::new();
    let bytes = data.as_bytes();
    let mut at = 0;
    let (mut command, mut taken) = (0u8, 0usize);
    while let Some(byte) = bytes.get(at) {
        if byte.is_ascii_whitespace() || *byte == b',' {
            at += 1;
        } else if byte.is_ascii_alphabetic() && *byte != b'e' {
            if !b"MmZzLlHhVvCcSsQqTtAa".contains(byte) || out.is_empty() && !b"Mm".contains(byte) {
                return None;
            }
            command = *byte;
            taken = 0;
            out.push(if *byte == b'z' { "Z".into() } else { char::from(*byte).to_string() });
            at += 1;
        } else {
            // The flags of an arc may stand without anything between them.
            let is_flag = command.eq_ignore_ascii_case(&b'a') && matches!(taken % 7, 3 | 4);
            let end = if is_flag { at + 1 } else { at + number_length(&data[at..])? };
            out.push(number(data[at..end].parse().ok()?));
            taken += 1;
            at = end;
        }
    }
    (!out.is_empty()).then(|| out.join(" "))
}

/// How long the number is with which a text begins.
fn number_length(text: &str) -> Option<usize> {
    let bytes = text.as_bytes();
    let mut at = usize::from(matches!(bytes.first(), Some(b'-' | b'+')));
    let (mut dot, mut digits) = (false, false);
    while let Some(byte) = bytes.get(at) {
        match byte {
            b'0'..=b'9' => digits = true,
            b'.' if !dot => dot = true,
            b'e' | b'E' if digits => {
                let sign = usize::from(matches!(bytes.get(at + 1), Some(b'-' | b'+')));
                let power = bytes[at + 1 + sign..].iter().take_while(|b| b.is_ascii_digit()).count();
                return Some(at + 1 + sign + power).filter(|_| power > 0);
            }
            _ => break,
        }
        at += 1;
    }
    digits.then_some(at)
}

/// The sides without those that follow from the others.
pub(crate) fn shortest(sides: &[&str]) -> String {
    let mut shown = sides.to_vec();
    while shown.len() > 1 && shown.len() <= 4 {
        let last = shown.len() - 1;
        // The second is as the first, the third as the first, the fourth as the second.
        if shown[last] != shown[last.saturating_sub(2)] {
            break;
        }
        shown.pop();
    }
    shown.join(" ")
}

fn is_time(word: &str) -> bool {
    word.strip_suffix("ms").or_else(|| word.strip_suffix('s')).is_some_and(|n| n.parse::<f64>().is_ok())
}

fn is_timing(word: &str) -> bool {
    const WORDS: [&str; 7] = ["linear", "ease", "ease-in", "ease-out", "ease-in-out", "step-start", "step-end"];
    WORDS.contains(&word) || word.starts_with("cubic-bezier(") || word.starts_with("steps(") || word.starts_with("linear(")
}

fn is_length(word: &str) -> bool {
    word.starts_with(|c: char| c.is_ascii_digit() || c == '-' || c == '.') || word.starts_with("calc(")
}

/// The colour comes first, `inset` last.
pub(crate) fn shadow(text: &str) -> String {
    let words = split(text, ' ');
    let (lengths, others): (Vec<&str>, Vec<&str>) = words.into_iter().partition(|w| is_length(w));
    let (inset, colours): (Vec<&str>, Vec<&str>) = others.into_iter().partition(|w| *w == "inset");
    [colours, lengths, inset].concat().join(" ")
}

fn flex(text: &str) -> String {
    match text {
        "none" => "0 0 auto".into(),
        "auto" => "1 1 auto".into(),
        "initial" => "0 1 auto".into(),
        _ => {
            let words = split(text, ' ');
            let plain = |w: &str| w.parse::<f64>().is_ok();
            match words.as_slice() {
                [grow] if plain(grow) => format!("{grow} 1 0%"),
                [basis] if is_length(basis) => format!("1 1 {basis}"),
                [grow, shrink] if plain(grow) && plain(shrink) => format!("{grow} {shrink} 0%"),
                [grow, basis] if plain(grow) => format!("{grow} 1 {basis}"),
                [grow, shrink, "0"] => format!("{grow} {shrink} 0px"),
                _ => text.to_owned(),
            }
        }
    }
}

/// What is as it would be anyway is left out.
fn transition(text: &str) -> String {
    let (mut property, mut times, mut timing) = ("", Vec::new(), "");
    let mut rest = Vec::new();
    for word in split(text, ' ') {
        if is_time(word) {
            times.push(word);
        } else if is_timing(word) {
            timing = word;
        } else if property.is_empty() {
            property = word;
        } else {
            rest.push(word);
        }
    }
    let zero = |t: &&str| ["0s", "0ms"].contains(t);
    let delay = times.get(1).copied().filter(|t| !zero(t));
    // A browser leaves out a duration of nothing before a delay, too, and then reads the delay as the duration: what is kept here means the same.
    let duration = times.first().copied().filter(|t| delay.is_some() || !zero(t));
    let timing = Some(timing).filter(|t| !t.is_empty() && *t != "ease");
    let mut out: Vec<&str> = Some(property).filter(|p| !p.is_empty() && *p != "all").into_iter().collect();
    out.extend(duration.into_iter().chain(timing).chain(delay).chain(rest));
    if out.is_empty() { "all".into() } else { out.join(" ") }
}

/// All of it is written, in one order.
fn animation(text: &str) -> String {
    let (mut duration, mut delay, mut timing, mut count, mut direction, mut fill, mut state, mut name) =
        (None, None, None, None, None, None, None, None);
    for word in split(text, ' ') {
        let place = match word {
            _ if is_time(word) && duration.is_none() => &mut duration,
            _ if is_time(word) => &mut delay,
            _ if is_timing(word) && timing.is_none() => &mut timing,
            _ if (word == "infinite" || word.parse::<f64>().is_ok()) && count.is_none() => &mut count,
            "normal" | "reverse" | "alternate" | "alternate-reverse" if direction.is_none() => &mut direction,
            "forwards" | "backwards" | "both" if fill.is_none() => &mut fill,
            "running" | "paused" if state.is_none() => &mut state,
            _ => &mut name,
        };
        *place = Some(word);
    }
    let parts = [
        duration.unwrap_or("auto"),
        timing.unwrap_or("ease"),
        delay.unwrap_or("0s"),
        count.unwrap_or("1"),
        direction.unwrap_or("normal"),
        fill.unwrap_or("none"),
        state.unwrap_or("running"),
        name.unwrap_or("none"),
    ];
    parts.join(" ")
}

/// A line along a side: its parts without those that it would have anyway; an outline is written the other way round.
fn line(text: &str, name: &str) -> String {
    const STYLES: [&str; 10] = ["none", "auto", "dotted", "dashed", "solid", "double", "groove", "ridge", "inset", "outset"];
    let words = split(text, ' ');
    if words.len() < 2 {
        return text.to_owned();
    }
    if name != "outline" {
        return without(text, &["none", "medium", "currentcolor"], "none");
    }
    let (widths, rest): (Vec<&str>, Vec<&str>) = words.into_iter().partition(|w| is_length(w) || ["thin", "medium", "thick"].contains(w));
    let (styles, colours): (Vec<&str>, Vec<&str>) = rest.into_iter().partition(|w| STYLES.contains(w));
    [colours, styles, widths].concat().join(" ")
}

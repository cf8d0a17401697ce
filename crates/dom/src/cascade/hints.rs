//! What attributes say of how an element looks: presentational hints (HTML §15). They count less than anything that a stylesheet of an author says.

use crate::tree::{Document, NodeId};

/// The declarations that the attributes of an element stand for.
pub(super) fn of(doc: &Document, id: NodeId) -> Vec<(&'static str, String)> {
    let Some(element) = doc.element(id).filter(|e| e.namespace == crate::Namespace::Html && !e.attrs.is_empty()) else { return Vec::new() };
    let attr = |name: &str| doc.attr(id, name);
    let mut out: Vec<(&'static str, String)> = Vec::new();
    let mut add = |property: &'static str, value: Option<String>| out.extend(value.map(|v| (property, v)));
    let (any, some): (fn(&str) -> Option<String>, fn(&str) -> Option<String>) = (
        |text| dimension(text).map(|(n, unit)| written(n, unit)),
        |text| dimension(text).filter(|(n, _)| *n != 0.0).map(|(n, unit)| written(n, unit)),
    );
    let is_picture = &*element.local == "input" && attr("type").is_some_and(|t| t.eq_ignore_ascii_case("image"));
    // Sizes (§15.4.3, §15.3.8 and others).
    match &*element.local {
        "iframe" | "img" | "object" | "embed" | "video" | "marquee" => {
            add("width", attr("width").and_then(any));
            add("height", attr("height").and_then(any));
        }
        "input" if is_picture => {
            add("width", attr("width").and_then(any));
            add("height", attr("height").and_then(any));
        }
        "table" | "td" | "th" => {
            add("width", attr("width").and_then(some));
            add("height", attr("height").and_then(if &*element.local == "table" { any } else { some }));
        }
        "hr" => add("width", attr("width").and_then(any)),
        "col" | "colgroup" => add("width", attr("width").and_then(any)),
        "tr" | "thead" | "tbody" | "tfoot" => add("height", attr("height").and_then(any)),
        _ => {}
    }
    if matches!(&*element.local, "img" | "object" | "embed" | "marquee") || is_picture {
        let (sides, ends) = (attr("hspace").and_then(any), attr("vspace").and_then(any));
        add("margin-left", sides.clone());
        add("margin-right", sides);
        add("margin-top", ends.clone());
        add("margin-bottom", ends);
    }
    // Borders (§15.4.3, §15.3.8).
    if matches!(&*element.local, "img" | "object") || is_picture {
        if let Some(width) = attr("border").and_then(whole).filter(|n| *n > 0) {
            for (side, style) in BORDERS {
                add(side, Some(format!("{width}px")));
                add(style, Some("solid".into()));
            }
        }
    }
    if &*element.local == "iframe" && attr("frameborder").is_some_and(|f| whole(f).is_none_or(|n| n == 0)) {
        BORDERS.iter().for_each(|(side, _)| add(side, Some("0px".into())));
    }
    if &*element.local == "table" {
        if let Some(width) = attr("border").map(|b| whole(b).unwrap_or(1)) {
            for (side, style) in BORDERS {
                add(side, Some(format!("{width}px")));
                add(style, (width > 0).then(|| "outset".into()));
            }
        }
        add("border-spacing", attr("cellspacing").and_then(whole).map(|n| format!("{n}px {n}px")));
    }
    if matches!(&*element.local, "td" | "th") {
        let table = doc.ancestors(id).find(|a| doc.is_html(*a, "table"));
        let of_table = |name: &str| table.and_then(|t| doc.attr(t, name));
        if let Some(padding) = of_table("cellpadding").and_then(any) {
            ["padding-top", "padding-right", "padding-bottom", "padding-left"].iter().for_each(|side| add(side, Some(padding.clone())));
        }
        if of_table("border").is_some_and(|b| whole(b) != Some(0)) {
            for (side, style) in BORDERS {
                add(side, Some("1px".into()));
                add(style, Some("inset".into()));
            }
        }
        add("white-space-collapse", attr("nowrap").map(|_| "collapse".into()));
        add("text-wrap-mode", attr("nowrap").map(|_| "nowrap".into()));
    }
    // Colours (§15.3.1, §15.3.8).
    if matches!(&*element.local, "body" | "table" | "tr" | "td" | "th" | "thead" | "tbody" | "tfoot" | "marquee") {
        add("background-color", attr("bgcolor").and_then(colour));
    }
    if &*element.local == "body" {
        add("color", attr("text").and_then(colour));
    }
    if matches!(&*element.local, "font" | "hr") {
        add("color", attr("color").and_then(colour));
    }
    if &*element.local == "font" {
        add("font-family", attr("face").filter(|f| !f.trim().is_empty()).map(str::to_owned));
        add("font-size", attr("size").and_then(font_size).map(str::to_owned));
    }
    // Alignment (§15.3.3, §15.3.8).
    let align = attr("align").map(str::to_ascii_lowercase);
    let align = align.as_deref();
    match &*element.local {
        "p" | "h1" | "h2" | "h3" | "h4" | "h5" | "h6" => add("text-align", align.filter(|a| SIDES.contains(a)).map(str::to_owned)),
        "div" | "td" | "th" | "tr" | "thead" | "tbody" | "tfoot" | "caption" => add(
            "text-align",
            match align {
                Some("center" | "middle") => Some("-webkit-center".into()),
                Some(side @ ("left" | "right")) => Some(format!("-webkit-{side}")),
                Some("justify") => Some("justify".into()),
                _ => None,
            },
        ),
        "table" => match align {
            Some("center") => {
                add("margin-inline-start", Some("auto".into()));
                add("margin-inline-end", Some("auto".into()));
            }
            side => add("float", side.filter(|s| ["left", "right"].contains(s)).map(str::to_owned)),
        },
        "hr" => match align {
            Some("left") => {
                add("margin-left", Some("0px".into()));
                add("margin-right", Some("auto".into()));
            }
            Some("right") => {
                add("margin-left", Some("auto".into()));
                add("margin-right", Some("0px".into()));
            }
            Some("center") => {
                add("margin-left", Some("auto".into()));
                add("margin-right", Some("auto".into()));
            }
            _ => {}
        },
        "img" | "iframe" | "object" | "embed" => match align {
            Some(side @ ("left" | "right")) => add("float", Some(side.to_owned())),
            Some("top") => add("vertical-align", Some("top".into())),
            Some("middle" | "center") => add("vertical-align", Some("middle".into())),
            _ => {}
        },
        _ => {}
    }
    if matches!(&*element.local, "td" | "th" | "tr" | "thead" | "tbody" | "tfoot") {
        let across = attr("valign").map(str::to_ascii_lowercase).filter(|v| ["top", "middle", "bottom", "baseline"].contains(&v.as_str()));
        add("vertical-align", across);
    }
    out
}

const BORDERS: [(&str, &str); 4] = [
    ("border-top-width", "border-top-style"),
    ("border-right-width", "border-right-style"),
    ("border-bottom-width", "border-bottom-style"),
    ("border-left-width", "border-left-style"),
];

const SIDES: [&str; 4] = ["left", "right", "center", "justify"];

/// HTML §2.3.4.4 "rules for parsing dimension values": the number, and whether it is a share.
fn dimension(text: &str) -> Option<(f64, &'static str)> {
    let text = text.trim_start_matches(|c: char| c.is_ascii_whitespace());
    let digits = text.bytes().take_while(u8::is_ascii_digit).count();
    let rest = &text[digits..];
    let fraction = rest.strip_prefix('.').map_or(0, |r| 1 + r.bytes().take_while(u8::is_ascii_digit).count());
    let number = text[..digits + fraction].trim_end_matches('.').parse().ok().filter(|_| digits > 0)?;
    Some((number, if rest[fraction..].starts_with('%') { "%" } else { "px" }))
}

fn written(number: f64, unit: &str) -> String {
    format!("{}{unit}", fidelon_css::number(number))
}

/// HTML §2.3.4.2 "rules for parsing non-negative integers".
fn whole(text: &str) -> Option<u32> {
    let text = text.trim_start_matches(|c: char| c.is_ascii_whitespace());
    let text = text.strip_prefix('+').unwrap_or(text);
    let digits = text.bytes().take_while(u8::is_ascii_digit).count();
    text[..digits].parse().ok()
}

/// HTML §2.3.6 "rules for parsing a legacy color value".
fn colour(text: &str) -> Option<String> {
    let text = text.trim_matches(|c: char| c.is_ascii_whitespace());
    if text.is_empty() || text.eq_ignore_ascii_case("transparent") {
        return None;
    }
    if let Some(named) = fidelon_css::canonical("color", text).filter(|_| text.bytes().all(|b| b.is_ascii_alphabetic())) {
        return Some(named);
    }
    let hex = |digit: char| digit.is_ascii_hexdigit();
    let bare = text.strip_prefix('#').unwrap_or(text);
    if text.starts_with('#') && bare.len() == 3 && bare.chars().all(hex) {
        return Some(format!("#{bare}"));
    }
    let mut digits: Vec<char> = Vec::new();
    for c in bare.chars().take(128) {
        // What is no digit counts as none; a letter beyond the first plane as two of them.
        digits.extend(if u32::from(c) > 0xffff { vec!['0', '0'] } else { vec![if hex(c) { c } else { '0' }] });
    }
    while digits.is_empty() || digits.len() % 3 != 0 {
        digits.push('0');
    }
    let length = digits.len() / 3;
    let mut parts: Vec<Vec<char>> = digits.chunks(length).map(<[char]>::to_vec).collect();
    for part in &mut parts {
        let surplus = part.len().saturating_sub(8);
        part.drain(..surplus);
    }
    while parts[0].len() > 2 && parts.iter().all(|p| p[0] == '0') {
        parts.iter_mut().for_each(|p| drop(p.remove(0)));
    }
    let parts = parts.iter().map(|p| if p.len() == 1 { format!("0{}", p[0]) } else { p[..2].iter().collect() });
    Some(format!("#{}", parts.collect::<String>()))
}

/// HTML §15.3.4 "rules for parsing a legacy font size".
fn font_size(text: &str) -> Option<&'static str> {
    const SIZES: [&str; 7] = ["x-small", "small", "medium", "large", "x-large", "xx-large", "xxx-large"];
    let text = text.trim_start_matches(|c: char| c.is_ascii_whitespace());
    let (way, digits) = match text.strip_prefix('+') {
        Some(rest) => (1, rest),
        None => text.strip_prefix('-').map_or((0, text), |rest| (-1, rest)),
    };
    let number: i64 = i64::from(whole(digits)?);
    let size = if way == 0 { number } else { 3 + way * number };
    SIZES.get(usize::try_from(size.clamp(1, 7) - 1).ok()?).copied()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn legacy_values_are_read_as_the_standard_says() {
        for (text, value) in [
            ("200", Some((200.0, "px"))),
            ("  00523  ", Some((523.0, "px"))),
            ("200.25in", Some((200.25, "px"))),
            ("200.%", Some((200.0, "%"))),
            ("20.25e2", Some((20.25, "px"))),
            ("0%", Some((0.0, "%"))),
            ("+1", None),
            (".5", None),
            ("abc", None),
        ] {
            assert_eq!(dimension(text), value, "{text}");
        }
        for (text, value) in [
            ("red", Some("red")),
            ("#fa0", Some("#fa0")),
            ("chucknorris", Some("#c00000")),
            ("#12", Some("#010200")),
            ("", None),
            ("transparent", None),
        ] {
            assert_eq!(colour(text).as_deref(), value, "{text}");
        }
        assert_eq!(
            (font_size("+2"), font_size("9"), font_size("-9"), font_size("x")),
            (Some("x-large"), Some("xxx-large"), Some("x-small"), None)
        );
    }
}

//! What attributes say of how an element looks: presentational hints (HTML §15). They count less than anything that a stylesheet of an author says.

use crate::tree::{Document, NodeId};

/// The declarations that the attributes of an element stand for.
pub(super) fn of(doc: &Document, id: NodeId) -> Vec<(&'static str, String)> {
    let Some(element) = doc.element(id).filter(|e| !e.attrs.is_empty()) else { return Vec::new() };
    if element.namespace == crate::Namespace::Svg {
        return of_svg(element);
    }
    if element.namespace != crate::Namespace::Html {
        return Vec::new();
    }
    let mut hints = Hints { doc, id, tag: &element.local, out: Vec::new() };
    hints.sizes();
    hints.borders();
    hints.cells();
    hints.colours();
    hints.alignment();
    hints.out
}

/// Properties that an attribute of the same name stands for on any element of a drawing (SVG 2 §6.6), without those that only paint.
const DRAWN: [&str; 22] = [
    "clip-rule",
    "color",
    "cursor",
    "direction",
    "display",
    "fill",
    "fill-opacity",
    "fill-rule",
    "font-family",
    "font-size",
    "font-style",
    "font-weight",
    "letter-spacing",
    "opacity",
    "overflow",
    "pointer-events",
    "stroke",
    "stroke-linecap",
    "stroke-linejoin",
    "stroke-opacity",
    "stroke-width",
    "visibility",
];

/// What the attributes of an element of a drawing stand for. Of the drawing itself they are its sizes, too, in any unit (SVG 2 §8.2).
fn of_svg(element: &crate::Element) -> Vec<(&'static str, String)> {
    let of = |name: &'static str| {
        let value = element.attr(name)?.trim();
        // A number without a unit is one of pixels.
        let is_number = value.parse::<f32>().is_ok() && ["width", "height", "font-size", "letter-spacing", "stroke-width"].contains(&name);
        let value = if is_number { format!("{value}px") } else { value.to_owned() };
        Some((name, fidelon_css::canonical(name, &value)?))
    };
    let sizes: &[&'static str] = if &*element.local == "svg" { &["width", "height"] } else { &[] };
    sizes.iter().chain(&DRAWN).filter_map(|name| of(name)).collect()
}

struct Hints<'a> {
    doc: &'a Document,
    id: NodeId,
    tag: &'a str,
    out: Vec<(&'static str, String)>,
}

impl<'a> Hints<'a> {
    fn attr(&self, name: &str) -> Option<&'a str> {
        self.doc.attr(self.id, name)
    }

    fn add(&mut self, property: &'static str, value: Option<String>) {
        self.out.extend(value.map(|v| (property, v)));
    }

    fn says(&mut self, property: &'static str, value: &str) {
        self.out.push((property, value.to_owned()));
    }

    /// Whether it is `<input type=image>`.
    fn is_picture(&self) -> bool {
        self.tag == "input" && self.attr("type").is_some_and(|t| t.eq_ignore_ascii_case("image"))
    }

    /// Widths and heights, and the room around what is put in (§15.4.3, §15.3.8).
    fn sizes(&mut self) {
        let (width, height) = (self.attr("width").and_then(size), self.attr("height").and_then(size));
        let some = |size: Option<String>| size.filter(|s| dimension(s).is_some_and(|(n, _)| n != 0.0));
        match self.tag {
            "iframe" | "img" | "object" | "embed" | "video" | "marquee" => {
                self.add("width", width);
                self.add("height", height);
            }
            "input" if self.is_picture() => {
                self.add("width", width);
                self.add("height", height);
            }
            "table" => {
                self.add("width", some(width));
                self.add("height", height);
            }
            "td" | "th" => {
                self.add("width", some(width));
                self.add("height", some(height));
            }
            "hr" | "col" | "colgroup" => self.add("width", width),
            "tr" | "thead" | "tbody" | "tfoot" => self.add("height", height),
            _ => {}
        }
        if matches!(self.tag, "img" | "object" | "embed" | "marquee") || self.is_picture() {
            let (sides, ends) = (self.attr("hspace").and_then(size), self.attr("vspace").and_then(size));
            self.add("margin-left", sides.clone());
            self.add("margin-right", sides);
            self.add("margin-top", ends.clone());
            self.add("margin-bottom", ends);
        }
    }

    /// A border on all sides.
    fn bordered(&mut self, width: u32, kind: &str) {
        for (side, style) in BORDERS {
            self.says(side, &format!("{width}px"));
            if width > 0 {
                self.says(style, kind);
            }
        }
    }

    /// Borders (§15.4.3, §15.3.8).
    fn borders(&mut self) {
        let border = self.attr("border");
        if matches!(self.tag, "img" | "object") || self.is_picture() {
            if let Some(width) = border.and_then(whole).filter(|n| *n > 0) {
                self.bordered(width, "solid");
            }
        } else if self.tag == "iframe" && self.attr("frameborder").is_some_and(|f| whole(f).is_none_or(|n| n == 0)) {
            self.bordered(0, "none");
        } else if let Some(border) = border.filter(|_| self.tag == "table") {
            self.bordered(whole(border).unwrap_or(1), "outset");
        }
    }

    /// What a table says of its cells, and what they say of their text (§15.3.8).
    fn cells(&mut self) {
        if !matches!(self.tag, "td" | "th") {
            return;
        }
        let table = self.doc.ancestors(self.id).find(|a| self.doc.is_html(*a, "table"));
        let of_table = |name: &str| table.and_then(|t| self.doc.attr(t, name));
        let (padding, border) = (of_table("cellpadding").and_then(size), of_table("border"));
        if let Some(padding) = padding {
            ["padding-top", "padding-right", "padding-bottom", "padding-left"].iter().for_each(|side| self.says(side, &padding));
        }
        if border.is_some_and(|b| whole(b) != Some(0)) {
            self.bordered(1, "inset");
        }
        if self.attr("nowrap").is_some() {
            self.says("white-space-collapse", "collapse");
            self.says("text-wrap-mode", "nowrap");
        }
    }

    /// Colours and fonts (§15.3.1, §15.3.4, §15.3.8).
    fn colours(&mut self) {
        if matches!(self.tag, "body" | "table" | "tr" | "td" | "th" | "thead" | "tbody" | "tfoot" | "marquee") {
            self.add("background-color", self.attr("bgcolor").and_then(colour));
        }
        match self.tag {
            "body" => self.add("color", self.attr("text").and_then(colour)),
            "hr" => self.add("color", self.attr("color").and_then(colour)),
            "font" => {
                self.add("color", self.attr("color").and_then(colour));
                self.add("font-family", self.attr("face").filter(|f| !f.trim().is_empty()).map(str::to_owned));
                self.add("font-size", self.attr("size").and_then(font_size).map(str::to_owned));
            }
            _ => {}
        }
    }

    /// Where text and boxes stand (§15.3.3, §15.3.8, §15.4.3).
    fn alignment(&mut self) {
        let align = self.attr("align").map(str::to_ascii_lowercase).unwrap_or_default();
        match (self.tag, align.as_str()) {
            ("p" | "h1" | "h2" | "h3" | "h4" | "h5" | "h6", "left" | "right" | "center" | "justify") => self.says("text-align", &align),
            ("div" | "td" | "th" | "tr" | "thead" | "tbody" | "tfoot" | "caption", "center" | "middle") => {
                self.says("text-align", "-webkit-center")
            }
            ("div" | "td" | "th" | "tr" | "thead" | "tbody" | "tfoot" | "caption", "left" | "right") => {
                self.says("text-align", &format!("-webkit-{align}"))
            }
            ("div" | "td" | "th" | "tr" | "thead" | "tbody" | "tfoot" | "caption", "justify") => self.says("text-align", "justify"),
            ("table", "center") => {
                self.says("margin-inline-start", "auto");
                self.says("margin-inline-end", "auto");
            }
            ("hr", "left" | "right" | "center") => {
                self.says("margin-left", if align == "left" { "0px" } else { "auto" });
                self.says("margin-right", if align == "right" { "0px" } else { "auto" });
            }
            ("table" | "img" | "iframe" | "object" | "embed", "left" | "right") => self.says("float", &align),
            ("img" | "iframe" | "object" | "embed", "top") => self.says("vertical-align", "top"),
            ("img" | "iframe" | "object" | "embed", "middle" | "center") => self.says("vertical-align", "middle"),
            _ => {}
        }
        if matches!(self.tag, "td" | "th" | "tr" | "thead" | "tbody" | "tfoot") {
            let across =
                self.attr("valign").map(str::to_ascii_lowercase).filter(|v| ["top", "middle", "bottom", "baseline"].contains(&v.as_str()));
            self.add("vertical-align", across);
        }
    }
}

const BORDERS: [(&str, &str); 4] = [
    ("border-top-width", "border-top-style"),
    ("border-right-width", "border-right-style"),
    ("border-bottom-width", "border-bottom-style"),
    ("border-left-width", "border-left-style"),
];

/// HTML §2.3.4.4 "rules for parsing dimension values": the number, and whether it is a share.
fn dimension(text: &str) -> Option<(f64, &'static str)> {
    let text = text.trim_start_matches(|c: char| c.is_ascii_whitespace());
    let digits = text.bytes().take_while(u8::is_ascii_digit).count();
    let rest = &text[digits..];
    let fraction = rest.strip_prefix('.').map_or(0, |r| 1 + r.bytes().take_while(u8::is_ascii_digit).count());
    let number = text[..digits + fraction].trim_end_matches('.').parse().ok().filter(|_| digits > 0)?;
    Some((number, if rest[fraction..].starts_with('%') { "%" } else { "px" }))
}

fn size(text: &str) -> Option<String> {
    dimension(text).map(|(number, unit)| format!("{}{unit}", fidelon_css::number(number)))
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
    while digits.is_empty() || !digits.len().is_multiple_of(3) {
        digits.push('0');
    }
    let length = digits.len() / 3;
    let mut parts: Vec<Vec<char>> = digits.chunks(length).map(<[char]>::to_vec).collect();
    for part in &mut parts {
        let surplus = part.len().saturating_sub(8);
        part.drain(..surplus);
    }
    while parts[0].len() > 2 && parts.iter().all(|p| p[0] == '0') {
        for part in &mut parts {
            part.remove(0);
        }
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

    #[test]
    fn attributes_count_less_than_any_sheet() {
        let doc = crate::parse::document(
            "<style>.wide { width: 9px }</style><table border=2 cellpadding=3 width=50% align=center bgcolor=red><tr valign=top>\
             <td width=0 nowrap align=right>a</td></table><img width=20 hspace=5 align=left border=1><img class=wide width=20><hr size=3 align=right>\
             <font size=5 color=#00f face=serif>b</font><p align=center>c</p><iframe frameborder=0></iframe><input type=image height=7>",
        );
        let computed = |selector: &str, property: &str| {
            let found = crate::Selectors::parse(selector).expect("a selector").query(&doc, Document::ROOT).expect("it is there");
            doc.computed(found).expect("it is on the page").get(property)
        };
        for (selector, property, value) in [
            ("table", "border-top-width", "2px"),
            ("table", "width", "50%"),
            ("table", "margin-left", "auto"),
            ("table", "background-color", "rgb(255, 0, 0)"),
            ("td", "padding-left", "3px"),
            ("td", "border-top-style", "inset"),
            ("td", "vertical-align", "top"),
            ("td", "text-align", "-webkit-right"),
            ("td", "width", "auto"),
            ("img", "width", "20px"),
            ("img", "margin-left", "5px"),
            ("img", "float", "left"),
            (".wide", "width", "9px"),
            ("hr", "margin-right", "0px"),
            ("font", "font-size", "24px"),
            ("font", "color", "rgb(0, 0, 255)"),
            ("p", "text-align", "center"),
            ("iframe", "border-left-width", "0px"),
            ("input", "height", "7px"),
        ] {
            assert_eq!(computed(selector, property), value, "{selector}: {property}");
        }
    }
}

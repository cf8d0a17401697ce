//! How large controls, pictures and the like are by themselves (HTML §15.4, §15.5): their content boxes, as Chromium draws them.

use fidelon_dom::{Document, NodeId, form};

use crate::style::Text;

/// The size of a box that has one of its own.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Natural {
    pub width: f32,
    pub height: f32,
    /// Its width over its height, where that is kept.
    pub ratio: Option<f32>,
    /// Whether it takes all the width there is where nobody says how wide it is.
    pub fills: bool,
    /// How far its text's baseline is below its top; none where it stands on its lower edge.
    pub baseline: Option<f32>,
}

impl Natural {
    const fn sized(width: f32, height: f32) -> Self {
        Self { width, height, ratio: None, fills: false, baseline: None }
    }

    fn picture(width: f32, height: f32) -> Self {
        let ratio = (width > 0.0 && height > 0.0).then(|| width / height);
        Self { width, height, ratio, fills: false, baseline: None }
    }
}

/// What an element measures by itself; none where that follows from its contents.
pub fn natural(doc: &Document, id: NodeId, text: &Text) -> Option<Natural> {
    let element = doc.element(id)?;
    let number = |name: &str| element.attr(name).and_then(|v| v.trim().trim_end_matches("px").parse::<f32>().ok()).filter(|n| *n >= 0.0);
    let (width, height) = (number("width"), number("height"));
    let or = |w: f32, h: f32| Natural::picture(width.unwrap_or(w), height.unwrap_or(h));
    let line = text.line;
    Some(match &*element.local {
        "svg" => svg(element.attr("viewBox"), width, height),
        "canvas" | "video" | "embed" | "object" => or(300.0, 150.0),
        "iframe" => Natural { ratio: None, ..or(300.0, 150.0) },
        "audio" => Natural::sized(300.0, 54.0),
        // It never loads: where it has no size of its own its text stands there, behind a small picture.
        "img" => match (width, height, element.attr("alt")) {
            (None, None, Some(alt)) if !alt.is_empty() => {
                Natural { baseline: Some(text.font.heights().ascent), ..Natural::sized(text.font.width(alt) + 16.0, line.max(16.0)) }
            }
            _ => or(0.0, 0.0),
        },
        "input" => input(doc, id, text),
        "textarea" => {
            let (letter, _) = text.font.letter();
            let cols = number("cols").filter(|n| *n > 0.0).unwrap_or(20.0);
            let rows = number("rows").filter(|n| *n > 0.0).unwrap_or(2.0);
            Natural::sized((cols * letter).ceil() + 15.0, rows * line)
        }
        "select" => {
            let widest = form::options(doc, id).iter().map(|o| text.font.width(form::option_text(doc, *o).trim())).fold(0.0, f32::max);
            if element.has_attr("multiple") || number("size").is_some_and(|n| n > 1.0) {
                Natural::sized(widest + 4.0, number("size").filter(|n| *n > 0.0).unwrap_or(4.0) * (line + 2.0))
            } else {
                Natural { baseline: Some(text.font.heights().ascent + 1.0), ..Natural::sized(widest.ceil() + 20.0, line + 2.0) }
            }
        }
        _ => return None,
    })
}

fn svg(view: Option<&str>, width: Option<f32>, height: Option<f32>) -> Natural {
    let view: Vec<f32> = view.unwrap_or_default().split([' ', ',']).filter_map(|n| n.parse().ok()).collect();
    let ratio = (view.len() == 4 && view[2] > 0.0 && view[3] > 0.0).then(|| view[2] / view[3]);
    match (width, height, ratio) {
        (Some(w), Some(h), _) => Natural { ratio: ratio.or(Some(w / h)).filter(|r| r.is_finite()), ..Natural::sized(w, h) },
        (Some(w), None, Some(r)) => Natural { ratio, ..Natural::sized(w, w / r) },
        (None, Some(h), Some(r)) => Natural { ratio, ..Natural::sized(h * r, h) },
        (None, None, Some(r)) => Natural { ratio, fills: true, ..Natural::sized(300.0, 300.0 / r) },
        _ => Natural::sized(width.unwrap_or(300.0), height.unwrap_or(150.0)),
    }
}

fn input(doc: &Document, id: NodeId, text: &Text) -> Natural {
    let element = doc.element(id).expect("asked for of an element");
    let line = text.line;
    let heights = text.font.heights();
    let baseline = Some(heights.ascent + (line - heights.total()) / 2.0);
    let written = |otherwise: &str| {
        let value = element.attr("value").unwrap_or(otherwise).to_owned();
        Natural { baseline, ..Natural::sized(text.font.width(&value), if value.is_empty() { 0.0 } else { line }) }
    };
    match element.input_type().as_str() {
        "checkbox" | "radio" => Natural { baseline: Some(13.0), ..Natural::sized(13.0, 13.0) },
        "range" => Natural { baseline: Some(16.0), ..Natural::sized(129.0, 16.0) },
        "color" => Natural { baseline: Some(19.0), ..Natural::sized(44.0, 23.0) },
        "file" => Natural::sized(289.0, line + 6.0),
        "submit" => written("Submit"),
        "reset" => written("Reset"),
        "button" => written(""),
        "image" => Natural::sized(0.0, 0.0),
        "date" => Natural::sized(text.font.size * 9.025, text.font.size * 1.3),
        "month" => Natural::sized(text.font.size * 11.275, text.font.size * 1.3),
        "datetime-local" => Natural::sized(text.font.size * 15.25, text.font.size * 1.3),
        "time" | "week" => Natural::sized(text.font.size * 7.2, text.font.size * 1.35),
        _ => {
            let (letter, more) = text.font.letter();
            let size = element.attr("size").and_then(|v| v.parse::<f32>().ok()).filter(|n| *n > 0.0).unwrap_or(20.0);
            Natural { baseline, ..Natural::sized(size * letter + more, line) }
        }
    }
}

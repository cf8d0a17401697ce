//! What stands in lines: text, inline elements, and boxes among them (CSS Inline 3, CSS Text 3 §5).

use std::collections::BTreeMap;

use fidelon_dom::NodeId;
use unicode_linebreak::{BreakOpportunity, linebreaks};

use crate::style;
use crate::transform::Area;

/// How a piece of text is set, and where it stands in its line.
#[derive(Debug, Clone, PartialEq)]
pub struct Text {
    pub text: style::Text,
    /// `vertical-align`.
    pub align: String,
}

/// What stands in lines, in order.
#[derive(Debug, Clone)]
pub enum Item {
    /// Text, set as the one with this number.
    Text { text: String, written: usize },
    /// An inline element begins: what is to its left, and what its box has above and below its text.
    Open { id: NodeId, written: usize, margin: f32, padding: f32, above: f32, below: f32 },
    /// The last one that began ends.
    Close { padding: f32, margin: f32 },
    /// A box, by its number, and its `vertical-align`.
    Atom(usize, String),
    /// A box that takes no place here, and whether it would begin a line of its own.
    Away(usize, bool),
    /// A line ends here whatever comes, by this element, set as the text with this number.
    Break(NodeId, usize),
}

/// A run of what stands in lines.
#[derive(Debug, Clone)]
pub struct Lines {
    pub items: Vec<Item>,
    pub written: Vec<Text>,
    /// How text would be set in the container itself: no line is lower.
    pub strut: style::Text,
    /// `text-align`.
    pub align: String,
}

/// How large a box is that stands in a line, its margins with it, and where its baseline is.
#[derive(Debug, Clone, Copy, Default)]
pub struct Atom {
    pub width: f32,
    pub height: f32,
    /// From the top.
    pub baseline: f32,
}

/// Lines that were filled.
#[derive(Debug, Clone, Default)]
pub struct Filled {
    pub width: f32,
    pub height: f32,
    /// Where each part of an inline element stands.
    pub parts: Vec<(NodeId, Area)>,
    /// Where the boxes stand, their margins with them.
    pub atoms: Vec<(usize, f32, f32)>,
    /// Where boxes would stand that take no place.
    pub aways: Vec<(usize, f32, f32)>,
    /// The baselines of the first and the last line.
    pub baselines: Option<(f32, f32)>,
}

/// What cannot be parted.
#[derive(Debug)]
enum Bit<'a> {
    Text { text: &'a str, written: usize },
    Item(&'a Item),
}

/// Bits up to a place where a line may end.
#[derive(Debug, Default)]
struct Chunk<'a> {
    bits: Vec<Bit<'a>>,
    /// Whether the line must end after it.
    ends: bool,
}

/// An object stands for a box among text.
const OBJECT: char = '\u{fffc}';
/// Sums of widths are not exact.
const SLACK: f32 = 1.0 / 64.0 + 0.005;

impl Lines {
    /// Whether nothing of a run takes any place.
    pub fn is_blank(items: &[Item], written: &[Text]) -> bool {
        items.iter().all(|item| match item {
            Item::Text { text, written: set } => !written[*set].text.keeps && text.chars().all(|c| c == ' '),
            Item::Open { margin, padding, .. } => *margin == 0.0 && *padding == 0.0,
            Item::Close { padding, margin } => *margin == 0.0 && *padding == 0.0,
            Item::Away(..) => true,
            Item::Atom(..) | Item::Break(..) => false,
        }) && !items.iter().any(|item| matches!(item, Item::Open { .. }))
    }

    /// The boxes that stand in the lines.
    pub fn boxes(&self) -> Vec<usize> {
        self.items.iter().filter_map(|item| if let Item::Atom(index, _) = item { Some(*index) } else { None }).collect()
    }

    fn chunks(&self) -> Vec<Chunk<'_>> {
        let all: String = self
            .items
            .iter()
            .map(|item| match item {
                Item::Text { text, .. } => text.clone(),
                Item::Atom(..) => OBJECT.to_string(),
                _ => String::new(),
            })
            .collect();
        let breaks: BTreeMap<usize, bool> = linebreaks(&all).map(|(at, how)| (at, how == BreakOpportunity::Mandatory)).collect();
        let mut out = vec![Chunk::default()];
        let mut at = 0;
        let push = |out: &mut Vec<Chunk<'_>>| out.push(Chunk::default());
        for item in &self.items {
            match item {
                Item::Text { text, written } => {
                    let mut rest = text.as_str();
                    while !rest.is_empty() {
                        let next = breaks.range(at + 1..).next().map_or(rest.len(), |(b, _)| b - at).min(rest.len());
                        let (piece, after) = rest.split_at(next);
                        let last = out.last_mut().expect("never empty");
                        last.bits.push(Bit::Text { text: piece, written: *written });
                        at += next;
                        rest = after;
                        if let Some(must) = breaks.get(&at).filter(|_| at < all.len() || piece.ends_with('\n')) {
                            last.ends = *must && piece.ends_with('\n');
                            push(&mut out);
                        }
                    }
                }
                Item::Atom(..) => {
                    // A line may end before and after a box.
                    if out.last().is_some_and(|c| c.bits.iter().any(|b| matches!(b, Bit::Text { .. } | Bit::Item(Item::Atom(..))))) {
                        push(&mut out);
                    }
                    out.last_mut().expect("never empty").bits.push(Bit::Item(item));
                    at += OBJECT.len_utf8();
                    push(&mut out);
                }
                Item::Break(..) => {
                    let last = out.last_mut().expect("never empty");
                    last.bits.push(Bit::Item(item));
                    last.ends = true;
                    push(&mut out);
                }
                // What ends belongs to what came before it.
                Item::Close { .. } => {
                    let count = out.len();
                    let back = count > 1 && out[count - 1].bits.is_empty() && !out[count - 2].ends;
                    out[if back { count - 2 } else { count - 1 }].bits.push(Bit::Item(item));
                }
                _ => out.last_mut().expect("never empty").bits.push(Bit::Item(item)),
            }
        }
        out.retain(|c| !c.bits.is_empty());
        out
    }

    /// Fills lines of a width; `size` tells how large a box is.
    pub fn fill(&self, limit: f32, space: Option<f32>, size: &mut dyn FnMut(usize) -> Atom) -> Filled {
        let mut filling =
            Filling { lines: self, limit, line: Line::default(), open: Vec::new(), out: Filled::default(), rows: Vec::new(), y: 0.0 };
        for chunk in self.chunks() {
            filling.chunk(&chunk, size);
        }
        filling.end(false);
        filling.aligned(space)
    }
}

/// A part of an inline element on a line, before the line's height is known.
#[derive(Debug)]
struct Part {
    id: NodeId,
    x: f32,
    width: f32,
    written: usize,
    above: f32,
    below: f32,
    shift: f32,
}

/// A line that is being filled.
#[derive(Debug, Default)]
struct Line {
    x: f32,
    /// Spaces at the end, which hang.
    hanging: f32,
    above: f32,
    below: f32,
    parts: Vec<Part>,
    /// Boxes: number, x, size, how far the baseline of each is above that of the line; none where it stands at an edge of the line.
    atoms: Vec<(usize, f32, Atom, Option<f32>, bool)>,
    /// Boxes that take no place: number, x, and whether they stand below the line.
    aways: Vec<(usize, f32, bool)>,
    /// Whether anything takes a place on it.
    filled: bool,
    /// How high boxes are that stand at its upper and at its lower edge.
    edges: (f32, f32),
}

/// A filled line: how wide, where, and what of the whole stands on it.
struct Row {
    width: f32,
    parts: std::ops::Range<usize>,
    atoms: std::ops::Range<usize>,
    aways: std::ops::Range<usize>,
}

struct Opened {
    id: NodeId,
    written: usize,
    above: f32,
    below: f32,
    /// Where its part on this line begins.
    from: f32,
    shift: f32,
}

struct Filling<'a> {
    lines: &'a Lines,
    limit: f32,
    line: Line,
    open: Vec<Opened>,
    out: Filled,
    rows: Vec<Row>,
    y: f32,
}

impl Filling<'_> {
    fn set(&self, written: usize) -> &style::Text {
        &self.lines.written[written].text
    }

    /// How wide a chunk is, without and with the spaces at its end.
    fn width(&self, chunk: &Chunk<'_>, size: &mut dyn FnMut(usize) -> Atom) -> (f32, f32) {
        let (mut width, mut spaces) = (0.0, 0.0);
        for bit in &chunk.bits {
            match bit {
                Bit::Text { text, written } => {
                    let set = self.set(*written);
                    let text = text.trim_end_matches('\n');
                    let bare = if set.keeps { text } else { text.trim_end_matches(' ') };
                    if bare.is_empty() {
                        spaces += set.font.width(text);
                    } else {
                        width += spaces + set.font.width(bare);
                        spaces = set.font.width(&text[bare.len()..]);
                    }
                }
                Bit::Item(Item::Open { margin, padding, .. } | Item::Close { margin, padding }) => width += margin + padding,
                Bit::Item(Item::Atom(index, _)) => {
                    width += spaces + size(*index).width;
                    spaces = 0.0;
                }
                Bit::Item(_) => {}
            }
        }
        (width, spaces)
    }

    fn wraps(&self, chunk: &Chunk<'_>) -> bool {
        let of = chunk.bits.iter().find_map(|b| if let Bit::Text { written, .. } = b { Some(self.set(*written).wraps) } else { None });
        of.unwrap_or(self.lines.strut.wraps)
    }

    fn chunk(&mut self, chunk: &Chunk<'_>, size: &mut dyn FnMut(usize) -> Atom) {
        let (width, _) = self.width(chunk, size);
        let wraps = self.wraps(chunk);
        if wraps && self.line.filled && self.line.x + self.line.hanging + width > self.limit + SLACK {
            self.end(true);
        }
        for bit in &chunk.bits {
            match bit {
                Bit::Text { text, written } => self.text(text, *written, wraps && width > self.limit + SLACK),
                Bit::Item(Item::Open { id, written, margin, padding, above, below }) => {
                    if *margin != 0.0 || *padding != 0.0 {
                        self.take_spaces();
                    }
                    self.line.x = snapped(self.line.x) + margin;
                    let shift = self.shift(*written);
                    let from = self.line.x + self.line.hanging;
                    self.open.push(Opened { id: *id, written: *written, above: *above, below: *below, from, shift });
                    self.line.x += padding;
                    // An inline box counts for the height of its line once there is anything on it.
                    self.line.filled |= *margin != 0.0 || *padding != 0.0;
                    self.raise(*written);
                }
                Bit::Item(Item::Close { padding, margin }) => {
                    if *padding != 0.0 || *margin != 0.0 {
                        self.take_spaces();
                    }
                    self.line.x = snapped(self.line.x) + padding;
                    if let Some(opened) = self.open.pop() {
                        self.part(&opened);
                    }
                    self.line.x += margin;
                }
                Bit::Item(Item::Atom(index, align)) => {
                    self.take_spaces();
                    self.atom(*index, align, size(*index));
                }
                Bit::Item(Item::Away(index, begins)) => {
                    let x = self.line.x + self.line.hanging;
                    let below = *begins && self.line.filled;
                    self.line.aways.push((*index, if *begins { 0.0 } else { x }, below));
                }
                Bit::Item(Item::Break(id, written)) => {
                    let x = self.line.x + self.line.hanging;
                    let shift = self.moved();
                    self.line.parts.push(Part { id: *id, x, width: 0.0, written: *written, above: 0.0, below: 0.0, shift });
                    self.line.filled = true;
                }
                Bit::Item(Item::Text { .. }) => {}
            }
        }
        if chunk.ends {
            self.line.filled = true;
            self.end(true);
        }
    }

    /// Spaces that something follows take their place.
    fn take_spaces(&mut self) {
        self.line.x += std::mem::take(&mut self.line.hanging);
    }

    /// How far what is open moves text up from the baseline.
    fn moved(&self) -> f32 {
        self.open.last().map_or(0.0, |o| o.shift)
    }

    fn text(&mut self, text: &str, written: usize, anywhere: bool) {
        let set = self.set(written).clone();
        let text = text.trim_end_matches('\n');
        let bare = if set.keeps { text } else { text.trim_end_matches(' ') };
        if !bare.is_empty() {
            self.take_spaces();
            if anywhere && set.anywhere {
                for c in bare.chars() {
                    let width = set.font.width(c.encode_utf8(&mut [0; 4]));
                    if self.line.filled && self.line.x + width > self.limit + SLACK {
                        self.end(true);
                    }
                    self.line.x += width;
                    self.line.filled = true;
                    self.raise(written);
                }
            } else {
                self.line.x += set.font.width(bare);
            }
            self.line.filled = true;
            self.raise(written);
        }
        let spaces = &text[bare.len()..];
        // Spaces at the start of a line go.
        if !spaces.is_empty() && (self.line.filled || bare.is_empty() && self.line.x > 0.0) {
            self.line.hanging += set.font.width(spaces);
        }
    }

    /// How far an element that begins moves its text up from the baseline.
    fn shift(&self, written: usize) -> f32 {
        let text = &self.lines.written[written];
        let size = self.lines.strut.font.size;
        let own = match &*text.align {
            "sub" => -size / 5.0 - 1.0,
            "super" => size / 3.0 + 1.0,
            "middle" => {
                let heights = text.text.font.heights();
                self.lines.strut.font.half_x() - (heights.ascent - heights.descent) / 2.0
            }
            other => style::px(other),
        };
        own + self.moved()
    }

    /// The line becomes as high as text that is set so.
    fn raise(&mut self, written: usize) {
        let (above, below) = leaded(self.set(written));
        let shift = self.moved();
        self.line.above = self.line.above.max(above + shift);
        self.line.below = self.line.below.max(below - shift);
    }

    fn atom(&mut self, index: usize, align: &str, atom: Atom) {
        self.line.x = snapped(self.line.x);
        let strut = &self.lines.strut;
        let heights = strut.font.heights();
        let up = match align {
            "top" | "bottom" => None,
            "middle" => Some(atom.height / 2.0 + strut.font.half_x() - atom.baseline),
            "text-top" => Some(heights.ascent - atom.baseline),
            "text-bottom" => Some(atom.height - heights.descent - atom.baseline),
            "sub" => Some(-strut.font.size / 5.0 - 1.0),
            "super" => Some(strut.font.size / 3.0 + 1.0),
            other => Some(style::px(other)),
        };
        let up = up.map(|up| up + self.moved());
        match up {
            Some(up) => {
                self.line.above = self.line.above.max(atom.baseline + up);
                self.line.below = self.line.below.max(atom.height - atom.baseline - up);
            }
            None if align == "bottom" => self.line.edges.1 = self.line.edges.1.max(atom.height),
            None => self.line.edges.0 = self.line.edges.0.max(atom.height),
        }
        self.line.atoms.push((index, self.line.x, atom, up, align == "bottom"));
        self.line.x += atom.width;
        self.line.filled = true;
    }

    fn part(&mut self, opened: &Opened) {
        let Opened { id, written, above, below, from, shift } = *opened;
        // One that is empty stands before the spaces at the end of its line.
        let x = from.min(self.line.x);
        self.line.parts.push(Part { id, x, width: self.line.x - x, written, above, below, shift });
    }

    /// Ends the line; `more` when another one follows, on which what is open goes on.
    fn end(&mut self, more: bool) {
        let ending: Vec<Opened> = std::mem::take(&mut self.open);
        for opened in ending.iter().rev() {
            self.part(opened);
        }
        let line = std::mem::take(&mut self.line);
        if more {
            self.open = ending.into_iter().map(|o| Opened { from: 0.0, ..o }).collect();
        }
        let starts = (self.out.parts.len(), self.out.atoms.len(), self.out.aways.len());
        let (above, below) = if line.filled {
            let (above, below) = leaded(&self.lines.strut);
            let (above, below) = (above.max(line.above), below.max(line.below));
            let below = below.max(line.edges.0 - above);
            (above.max(line.edges.1 - below), below)
        } else {
            (0.0, 0.0)
        };
        let (top, baseline) = (self.y, self.y + above);
        for part in line.parts {
            let heights = self.set(part.written).font.heights();
            let y = baseline - part.shift - heights.ascent - part.above;
            let height = heights.total() + part.above + part.below;
            self.out.parts.push((part.id, Area { x: part.x, y, width: part.width, height }));
        }
        for (index, x, atom, up, is_low) in line.atoms {
            let y = match up {
                Some(up) => baseline - up - atom.baseline,
                None if is_low => top + above + below - atom.height,
                None => top,
            };
            self.out.atoms.push((index, x, y));
        }
        self.out
            .aways
            .extend(line.aways.into_iter().map(|(index, x, is_below)| (index, x, if is_below { top + above + below } else { top })));
        if line.filled {
            let first = self.out.baselines.map_or(baseline, |b| b.0);
            self.out.baselines = Some((first, baseline));
        }
        self.y += above + below;
        let width = snapped(line.x);
        self.out.width = self.out.width.max(width);
        self.out.height = self.y;
        self.rows.push(Row {
            width,
            parts: starts.0..self.out.parts.len(),
            atoms: starts.1..self.out.atoms.len(),
            aways: starts.2..self.out.aways.len(),
        });
    }

    /// The lines as they stand in the space that there is.
    fn aligned(mut self, space: Option<f32>) -> Filled {
        let Some(space) = space else { return self.out };
        for row in self.rows {
            let free = (space - row.width).max(0.0);
            let by = match &*self.lines.align {
                "center" | "-webkit-center" => free / 2.0,
                "right" | "end" | "-webkit-right" => free,
                _ => continue,
            };
            self.out.parts[row.parts].iter_mut().for_each(|p| p.1.x += by);
            self.out.atoms[row.atoms].iter_mut().for_each(|a| a.1 += by);
            self.out.aways[row.aways].iter_mut().for_each(|a| a.1 += by);
        }
        self.out
    }
}

/// Widths are kept in 64ths of a pixel, and no text is cut.
pub fn snapped(width: f32) -> f32 {
    (width * 64.0 - 0.01).ceil() / 64.0
}

/// How far a line reaches above and below its baseline for text that is set so: what a line is higher than its font goes half above it.
fn leaded(set: &style::Text) -> (f32, f32) {
    let heights = set.font.heights();
    let above = heights.ascent + ((set.line - heights.total()) / 2.0).floor();
    (above, set.line - above)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fonts::Font;

    fn lines(items: Vec<Item>) -> Lines {
        let font = Font::of("sans-serif", 16.0, 400.0);
        let text = style::Text {
            font,
            line: font.heights().total(),
            keeps: false,
            keeps_ends: false,
            wraps: true,
            anywhere: false,
            transform: "none".into(),
        };
        Lines { items, written: vec![Text { text: text.clone(), align: "baseline".into() }], strut: text, align: "start".into() }
    }

    fn text(text: &str) -> Item {
        Item::Text { text: text.into(), written: 0 }
    }

    #[test]
    fn text_breaks_between_words() {
        let all = lines(vec![text("Fire the kiln to cone six")]);
        let font = all.strut.font;
        let whole = all.fill(f32::INFINITY, None, &mut |_| Atom::default());
        assert_eq!((whole.width, whole.height), (snapped(font.width("Fire the kiln to cone six")), 19.0));
        let narrow = all.fill(0.0, None, &mut |_| Atom::default());
        assert_eq!((narrow.width, narrow.height), (snapped(font.width("cone")), 6.0 * 19.0));
        let two = all.fill(font.width("Fire the kiln "), None, &mut |_| Atom::default());
        assert_eq!(two.height, 38.0);
        // What fits exactly does not break.
        assert_eq!(all.fill(whole.width, None, &mut |_| Atom::default()).height, 19.0);
    }

    #[test]
    fn boxes_and_elements_stand_where_text_leaves_them() {
        let id = NodeId(7);
        let open = Item::Open { id, written: 0, margin: 0.0, padding: 4.0, above: 2.0, below: 2.0 };
        let mut all = lines(vec![
            text("ab "),
            open,
            text("cd"),
            Item::Close { padding: 4.0, margin: 0.0 },
            Item::Atom(3, "baseline".into()),
            Item::Break(NodeId(9), 0),
            text("e"),
        ]);
        all.align = "right".into();
        let font = all.strut.font;
        let filled = all.fill(300.0, Some(300.0), &mut |_| Atom { width: 20.0, height: 40.0, baseline: 40.0 });
        let width = font.width("ab ") + font.width("cd") + 28.0;
        let left = 300.0 - snapped(width);
        assert_eq!(filled.height, 44.0 + 19.0, "the box stands on the baseline");
        let (_, part) = filled.parts[0];
        assert!((part.x - left - font.width("ab ")).abs() < 0.02 && (part.width - font.width("cd") - 8.0).abs() < 0.02, "{part:?}");
        assert_eq!((part.y, part.height), (40.0 - 15.0 - 2.0, 23.0));
        assert!((filled.atoms[0].1 - 280.0).abs() < 0.02 && filled.atoms[0].2 == 0.0);
        assert_eq!(filled.baselines, Some((40.0, 44.0 + 15.0)));
    }
}

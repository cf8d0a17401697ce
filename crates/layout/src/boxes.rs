//! From elements to boxes (CSS Display 3): which elements have one, what stands in blocks, in lines, in a table.

use std::ops::Range;
use std::sync::Arc;

use fidelon_dom::cascade::Computed;
use fidelon_dom::{Document, Namespace, NodeData, NodeId};
use taffy::prelude::*;
use taffy::{Cache, Direction, Layout, Overflow, Style};

use crate::controls::{self, Natural};
use crate::lines::{Item, Lines, Text as Written};
use crate::style::{Expressions, Text, px, style_of, text_of};
use crate::transform::Area;

/// How a box lays out what is in it.
#[derive(Debug)]
pub enum Kind {
    Block,
    Flex,
    Grid,
    Lines(Lines),
    Own(Natural),
}

/// A box. Boxes are told by their place in the list of all.
#[derive(Debug)]
pub struct Boxed {
    /// Whose it is; none where nobody wrote it.
    pub of: Option<NodeId>,
    pub style: Style,
    pub kind: Kind,
    pub children: Vec<usize>,
    pub cache: Cache,
    pub layout: Layout,
    /// What is placed absolutely relative to it.
    pub hoisted: Vec<usize>,
    /// Of lines: where the parts of inline elements stand in it.
    pub parts: Vec<(NodeId, Area)>,
}

/// All boxes of a document.
#[derive(Debug, Default)]
pub struct Boxes {
    pub list: Vec<Boxed>,
    pub expressions: Expressions,
    /// Rows of tables, and what holds them: each reaches around its cells.
    pub around: Vec<(NodeId, Vec<usize>)>,
}

/// How deep boxes are nested at most: what is deeper has none.
const DEEPEST: usize = 200;

impl Boxes {
    /// The boxes of a document, within one for the window, which is the last of the list.
    pub fn of(doc: &Document, width: f32, height: f32) -> Self {
        let mut building = Building { doc, all: Self::default(), depth: 0 };
        let html = doc.document_element().and_then(|id| building.element(id, true));
        let mut all = building.all;
        let size = Size { width: Dimension::length(width), height: Dimension::length(height) };
        let style = Style { display: Display::FlowRoot, position: Position::Relative, size, ..Style::default() };
        let window = Boxed { children: html.into_iter().collect(), ..Boxed::new(None, style, Kind::Block) };
        all.list.push(window);
        all
    }
}

impl Boxed {
    pub fn new(of: Option<NodeId>, style: Style, kind: Kind) -> Self {
        Self { of, style, kind, children: Vec::new(), cache: Cache::new(), layout: Layout::new(), hoisted: Vec::new(), parts: Vec::new() }
    }
}

/// What stands in a container, in order: boxes of their own, and runs of what stands in lines.
enum Piece {
    Block(usize),
    Run(Vec<Item>),
}

/// Contents as they are gathered.
#[derive(Default)]
struct Contents {
    pieces: Vec<Piece>,
    /// The texts of the runs are set so.
    written: Vec<Written>,
    /// Whether the open run ends in a space that takes the next one in.
    spaced: bool,
}

impl Contents {
    fn run(&mut self) -> &mut Vec<Item> {
        if !matches!(self.pieces.last(), Some(Piece::Run(_))) {
            self.spaced = true;
            self.pieces.push(Piece::Run(Vec::new()));
        }
        match self.pieces.last_mut() {
            Some(Piece::Run(run)) => run,
            _ => unreachable!("just pushed"),
        }
    }
}

struct Building<'a> {
    doc: &'a Document,
    all: Boxes,
    depth: usize,
}

impl Building<'_> {
    fn push(&mut self, boxed: Boxed) -> usize {
        self.all.list.push(boxed);
        self.all.list.len() - 1
    }

    /// The box of an element that has one of its own; none where it is not displayed. `item` of a container that makes blocks of its children.
    fn element(&mut self, id: NodeId, item: bool) -> Option<usize> {
        let computed = self.doc.computed(id)?;
        let display = computed.get("display");
        if display == "none" || self.depth > DEEPEST {
            return None;
        }
        self.depth += 1;
        let text = text_of(&computed);
        let mut style = style_of(&computed, &mut self.all.expressions);
        let natural = controls::natural(self.doc, id, &text);
        let index = if let Some(natural) = natural {
            self.own(id, style, natural)
        } else if matches!(&*display, "table" | "inline-table") {
            self.table(id, &computed, style)
        } else {
            let is_button = self.doc.is_html(id, "button") && !display.ends_with("flex") && !display.ends_with("grid");
            match &*display {
                "flex" | "inline-flex" => self.container(id, &computed, Style { display: Display::Flex, ..style }, Kind::Flex),
                "grid" | "inline-grid" => self.container(id, &computed, Style { display: Display::Grid, ..style }, Kind::Grid),
                _ if is_button => self.button(id, &computed, style),
                _ => {
                    let own = matches!(&*display, "inline-block" | "flow-root" | "table-cell" | "table-caption");
                    let legend = self.doc.is_html(id, "fieldset") && self.doc.children(id).any(|c| self.doc.is_html(c, "legend"));
                    // A legend stands in the place of the border, what is within follows after it.
                    let above = if legend { style.padding.top } else { LengthPercentage::length(0.0) };
                    if legend {
                        style.border.top = LengthPercentage::length(0.0);
                        style.padding.top = LengthPercentage::length(0.0);
                    }
                    let kind = if own || legend || item { Display::FlowRoot } else { Display::Block };
                    // It is as wide as what is in it.
                    style.item_is_table |= self.doc.is_html(id, "legend");
                    let index = self.container(id, &computed, Style { display: kind, ..style }, Kind::Block);
                    let first = self.all.list[index].children.first().copied().filter(|_| legend);
                    if let Some(first) = first {
                        self.all.list[first].style.margin.bottom = above.into();
                    }
                    index
                }
            }
        };
        self.depth -= 1;
        Some(index)
    }

    /// A box with a size of its own.
    fn own(&mut self, id: NodeId, mut style: Style, natural: Natural) -> usize {
        style.display = Display::Block;
        style.item_is_compressible_replaced = true;
        style.item_is_replaced = !self.doc.element(id).is_some_and(|e| matches!(&*e.local, "input" | "select" | "textarea"));
        style.aspect_ratio = style.aspect_ratio.or(natural.ratio);
        // What clips its own contents has no bars of ours.
        style.overflow = taffy::Point { x: Overflow::Clip, y: Overflow::Clip };
        self.push(Boxed::new(Some(id), style, Kind::Own(natural)))
    }

    fn container(&mut self, id: NodeId, computed: &Arc<Computed>, style: Style, kind: Kind) -> usize {
        let makes_blocks = !matches!(kind, Kind::Block);
        let mut contents = Contents::default();
        self.gather(id, makes_blocks, &mut contents);
        let children = self.settled(contents, computed);
        self.push(Boxed { children, ..Boxed::new(Some(id), style, kind) })
    }

    /// A button has its contents in its middle.
    fn button(&mut self, id: NodeId, computed: &Arc<Computed>, style: Style) -> usize {
        let mut contents = Contents::default();
        self.gather(id, false, &mut contents);
        let children = self.settled(contents, computed);
        let inner = Style { display: Display::FlowRoot, ..Style::default() };
        let inner = self.push(Boxed { children, ..Boxed::new(None, inner, Kind::Block) });
        let middle =
            Style { display: Display::Flex, flex_direction: FlexDirection::Column, justify_content: JustifyContent::CENTER, ..style };
        self.push(Boxed { children: vec![inner], ..Boxed::new(Some(id), middle, Kind::Flex) })
    }

    /// Runs become boxes of lines; what is nothing but space has none.
    fn settled(&mut self, contents: Contents, computed: &Arc<Computed>) -> Vec<usize> {
        let Contents { pieces, written, .. } = contents;
        let strut = text_of(computed);
        let align = computed.get("text-align");
        let mut children = Vec::new();
        for piece in pieces {
            match piece {
                Piece::Block(index) => children.push(index),
                Piece::Run(items) if Lines::is_blank(&items, &written) => {
                    // What is placed absolutely has its own place.
                    let away = items.iter().filter_map(|item| if let Item::Away(index, _) = item { Some(*index) } else { None });
                    children.extend(away);
                }
                Piece::Run(items) => {
                    let lines = Lines { items, written: written.clone(), strut: strut.clone(), align: align.clone() };
                    let style = Style { display: Display::Block, direction: direction(computed), ..Style::default() };
                    children.push(self.push(Boxed::new(None, style, Kind::Lines(lines))));
                }
            }
        }
        children
    }

    /// Gathers what stands in an element. In lines stands what is inline, unless the container makes blocks of everything.
    fn gather(&mut self, id: NodeId, makes_blocks: bool, out: &mut Contents) {
        if self.depth > DEEPEST {
            return;
        }
        let mut children = self.doc.flat_children(id);
        if self.doc.is_html(id, "details") && self.doc.attr(id, "open").is_none() {
            // What is folded has no boxes.
            let summary = children.iter().copied().find(|c| self.doc.is_html(*c, "summary"));
            children = summary.into_iter().collect();
        }
        let around = self.doc.computed(id);
        for child in children {
            match &self.doc.node(child).data {
                NodeData::Text(text) => {
                    if let Some(around) = &around {
                        let text = text.clone();
                        self.text(&text, around, out);
                    }
                }
                NodeData::Element(element) => {
                    let is_svg = element.namespace == Namespace::Svg && &*element.local != "svg";
                    if !is_svg {
                        self.child(child, makes_blocks, out);
                    }
                }
                _ => {}
            }
        }
    }

    fn child(&mut self, id: NodeId, makes_blocks: bool, out: &mut Contents) {
        let Some(computed) = self.doc.computed(id) else { return };
        let display = computed.get("display");
        let away = matches!(&*computed.get("position"), "absolute" | "fixed");
        if display == "contents" {
            self.depth += 1;
            self.gather(id, makes_blocks, out);
            self.depth -= 1;
        } else if self.doc.is_html(id, "br") && !makes_blocks {
            let written = self.written(&computed, out);
            out.run().push(Item::Break(id, written));
            out.spaced = true;
        } else if away {
            let Some(index) = self.element(id, true) else { return };
            match out.pieces.last_mut() {
                Some(Piece::Run(run)) => run.push(Item::Away(index, self.begins_line(id))),
                _ => out.pieces.push(Piece::Block(index)),
            }
        } else if makes_blocks || computed.get("float") != "none" {
            out.pieces.extend(self.element(id, true).map(Piece::Block));
        } else if display.starts_with("inline") && (display != "inline" || self.is_of_its_own(id)) {
            if let Some(index) = self.element(id, true) {
                out.run().push(Item::Atom(index, computed.get("vertical-align")));
                out.spaced = false;
            }
        } else if display == "inline" && !self.has_block(id, 0) {
            self.inline(id, &computed, out);
        } else {
            out.pieces.extend(self.element(id, false).map(Piece::Block));
        }
    }

    fn inline(&mut self, id: NodeId, computed: &Arc<Computed>, out: &mut Contents) {
        let style = style_of(computed, &mut self.all.expressions);
        let edge = |margin: LengthPercentageAuto, border: LengthPercentage, padding: LengthPercentage| {
            let fixed = |raw: taffy::CompactLength| if raw.tag() == taffy::CompactLength::LENGTH_TAG { raw.value() } else { 0.0 };
            (fixed(margin.into_raw()), fixed(border.into_raw()) + fixed(padding.into_raw()))
        };
        let start = edge(style.margin.left, style.border.left, style.padding.left);
        let end = edge(style.margin.right, style.border.right, style.padding.right);
        let above = edge(LengthPercentageAuto::length(0.0), style.border.top, style.padding.top).1;
        let below = edge(LengthPercentageAuto::length(0.0), style.border.bottom, style.padding.bottom).1;
        let written = self.written(computed, out);
        out.run().push(Item::Open { id, written, margin: start.0, padding: start.1, above, below });
        self.depth += 1;
        self.gather(id, false, out);
        self.depth -= 1;
        out.run().push(Item::Close { padding: end.1, margin: end.0 });
    }

    fn written(&mut self, computed: &Arc<Computed>, out: &mut Contents) -> usize {
        let written = Written { text: text_of(computed), align: computed.get("vertical-align") };
        out.written.iter().position(|w| *w == written).unwrap_or_else(|| {
            out.written.push(written);
            out.written.len() - 1
        })
    }

    fn text(&mut self, text: &str, around: &Arc<Computed>, out: &mut Contents) {
        let set = text_of(around);
        let blank = text.chars().all(|c| matches!(c, ' ' | '\t' | '\n' | '\r'));
        if blank && !set.keeps && !matches!(out.pieces.last(), Some(Piece::Run(_))) {
            return;
        }
        let written = self.written(around, out);
        out.run();
        let text = collapsed(&transformed(text, &set.transform), &set, &mut out.spaced);
        if !text.is_empty() {
            out.run().push(Item::Text { text, written });
        }
    }

    /// Whether an element would begin a line if it stood among others. What is placed absolutely is a block whatever was written: its
    /// name tells what it would be.
    fn begins_line(&self, id: NodeId) -> bool {
        const BLOCKS: [&str; 33] = [
            "address",
            "article",
            "aside",
            "blockquote",
            "center",
            "dd",
            "details",
            "dialog",
            "div",
            "dl",
            "dt",
            "fieldset",
            "figcaption",
            "figure",
            "footer",
            "form",
            "h1",
            "h2",
            "h3",
            "h4",
            "h5",
            "h6",
            "header",
            "hr",
            "li",
            "main",
            "menu",
            "nav",
            "ol",
            "p",
            "pre",
            "section",
            "ul",
        ];
        BLOCKS.iter().any(|name| self.doc.is_html(id, name))
    }

    /// Whether an inline element is laid out as a whole: a control, a picture.
    fn is_of_its_own(&self, id: NodeId) -> bool {
        self.doc.element(id).is_some_and(|e| {
            matches!(
                &*e.local,
                "img" | "svg" | "canvas" | "video" | "audio" | "iframe" | "embed" | "object" | "input" | "select" | "textarea" | "button"
            )
        })
    }

    /// Whether something within an inline element is a block, which breaks it apart: it is laid out as one then.
    fn has_block(&self, id: NodeId, depth: usize) -> bool {
        depth < DEEPEST
            && self.doc.flat_children(id).into_iter().any(|child| {
                self.doc.computed(child).is_some_and(|c| {
                    let display = c.get("display");
                    let away = matches!(&*c.get("position"), "absolute" | "fixed") || c.get("float") != "none";
                    match &*display {
                        "none" => false,
                        "inline" | "contents" => !away && !self.is_of_its_own(child) && self.has_block(child, depth + 1),
                        other => !away && !other.starts_with("inline"),
                    }
                })
            })
    }

    /// A table as a grid: its columns are as wide as their cells ask for.
    fn table(&mut self, id: NodeId, computed: &Arc<Computed>, style: Style) -> usize {
        let mut rows = Vec::new();
        let mut captions = Vec::new();
        let mut widths = Vec::new();
        self.rows(id, &mut rows, &mut captions, &mut widths, 0);
        let spacing = if computed.get("border-collapse") == "collapse" { 0.0 } else { 2.0 };
        let mut taken = Taken::default();
        let mut children = Vec::new();
        let mut count = 1;
        let first = i16::try_from(captions.len()).unwrap_or(0) + 1;
        let mut of_rows: Vec<(NodeId, Vec<usize>)> = Vec::new();
        for (at, row) in rows.iter().enumerate() {
            let mut column = 0;
            let mut cells = Vec::new();
            for cell in self.doc.flat_children(*row) {
                let Some(index) = self.doc.element(cell).is_some().then(|| self.element(cell, true)).flatten() else { continue };
                let span = |name: &str| self.doc.attr(cell, name).and_then(|n| n.parse::<usize>().ok()).unwrap_or(1).clamp(1, 500);
                let (wide, high) = (span("colspan"), span("rowspan").min(rows.len() - at));
                column = taken.free_from(at, column);
                taken.take(at..at + high, column..column + wide);
                let line = |n: usize| i16::try_from(n).unwrap_or(i16::MAX - 600);
                let style = &mut self.all.list[index].style;
                style.grid_column = Line {
                    start: taffy::style_helpers::line(line(column) + 1),
                    end: taffy::style_helpers::span(u16::try_from(wide).unwrap_or(1)),
                };
                style.grid_row = Line {
                    start: taffy::style_helpers::line(line(at) + first),
                    end: taffy::style_helpers::span(u16::try_from(high).unwrap_or(1)),
                };
                // A cell is as wide as its column, which is at least as wide as the cell asks for.
                style.min_size.width = style.size.width.into_option().map_or(style.min_size.width, LengthPercentageAuto::length);
                style.size = Size::auto();
                cells.push(index);
                column += wide;
                count = count.max(column);
            }
            children.extend(&cells);
            of_rows.push((*row, cells));
        }
        for (at, caption) in captions.iter().enumerate() {
            let style = &mut self.all.list[*caption].style;
            style.grid_row = Line { start: taffy::style_helpers::line(i16::try_from(at).unwrap_or(0) + 1), end: GridPlacement::Auto };
            style.grid_column =
                Line { start: taffy::style_helpers::line(1), end: taffy::style_helpers::span(u16::try_from(count).unwrap_or(1)) };
        }
        children.extend(captions);
        for group in self.doc.flat_children(id) {
            let cells: Vec<usize> =
                of_rows.iter().filter(|(row, _)| self.doc.node(*row).parent == Some(group)).flat_map(|(_, c)| c.clone()).collect();
            if !cells.is_empty() {
                self.all.around.push((group, cells));
            }
        }
        self.all.around.extend(of_rows);
        let track = |at: usize| match widths.get(at).copied().flatten() {
            Some(width) => taffy::style_helpers::length(width),
            None => taffy::style_helpers::auto(),
        };
        let gap = LengthPercentage::length(spacing);
        let mut style = Style {
            display: Display::Grid,
            item_is_table: true,
            grid_template_columns: (0..count).map(track).collect(),
            gap: Size { width: gap, height: gap },
            ..style
        };
        if spacing > 0.0 {
            style.padding = Rect { left: gap, right: gap, top: gap, bottom: gap };
        }
        self.push(Boxed { children, ..Boxed::new(Some(id), style, Kind::Grid) })
    }

    /// Rows in the order in which they stand, captions, and the widths that columns are given.
    fn rows(&mut self, id: NodeId, rows: &mut Vec<NodeId>, captions: &mut Vec<usize>, widths: &mut Vec<Option<f32>>, depth: usize) {
        for child in self.doc.flat_children(id) {
            let Some(computed) = self.doc.computed(child) else { continue };
            match &*computed.get("display") {
                "table-row" => rows.push(child),
                "table-caption" => captions.extend(self.element(child, true)),
                "table-column" => {
                    let written = self.doc.attr(child, "width").and_then(|w| w.parse().ok());
                    let width = px(&computed.get("width"));
                    widths.push(if width > 0.0 { Some(width) } else { written });
                }
                "none" => {}
                _ if depth < 3 => self.rows(child, rows, captions, widths, depth + 1),
                _ => {}
            }
        }
    }
}

fn direction(computed: &Computed) -> Direction {
    if computed.get("direction") == "rtl" { Direction::Rtl } else { Direction::Ltr }
}

/// Text after `text-transform`.
fn transformed(text: &str, how: &str) -> String {
    match how {
        "uppercase" => text.to_uppercase(),
        "lowercase" => text.to_lowercase(),
        "capitalize" => {
            let mut out = String::with_capacity(text.len());
            let mut begins = true;
            for c in text.chars() {
                if begins && c.is_alphabetic() {
                    out.extend(c.to_uppercase());
                } else {
                    out.push(c);
                }
                begins = c.is_whitespace();
            }
            out
        }
        _ => text.to_owned(),
    }
}

/// Text with its spaces collapsed (CSS Text §4.1.1).
fn collapsed(text: &str, set: &Text, spaced: &mut bool) -> String {
    if set.keeps {
        *spaced = false;
        return text.to_owned();
    }
    let mut out = String::with_capacity(text.len());
    for c in text.chars() {
        if c == '\n' && set.keeps_ends {
            if out.ends_with(' ') {
                out.pop();
            }
            out.push('\n');
            *spaced = true;
        } else if matches!(c, ' ' | '\t' | '\n' | '\r') {
            if !*spaced {
                out.push(' ');
            }
            *spaced = true;
        } else {
            out.push(c);
            *spaced = false;
        }
    }
    out
}

/// Places of a table's grid that cells stand in, by row and column.
#[derive(Default)]
struct Taken(Vec<Vec<bool>>);

impl Taken {
    /// The first column of a row, from one on, in which no cell stands.
    fn free_from(&self, row: usize, mut column: usize) -> usize {
        while self.0.get(row).and_then(|columns| columns.get(column)).copied().unwrap_or(false) {
            column += 1;
        }
        column
    }

    fn take(&mut self, rows: Range<usize>, columns: Range<usize>) {
        for row in rows {
            if self.0.len() <= row {
                self.0.resize(row + 1, Vec::new());
            }
            if self.0[row].len() < columns.end {
                self.0[row].resize(columns.end, false);
            }
            self.0[row][columns.clone()].fill(true);
        }
    }
}

//! Computed values, as the solver takes them.

use std::str::FromStr;

use fidelon_dom::cascade::Computed;
use taffy::prelude::*;
use taffy::{Clear, Contain, Direction, Float, Overflow, Point, Style};

use crate::fonts::Font;
use fidelon_css::math::Calculation;

/// Expressions that a style refers to: the solver asks for them by number when it knows what they are relative to.
#[derive(Debug, Default)]
pub struct Expressions(Vec<Calculation>);

impl Expressions {
    /// A number for an expression, in the shape of the address that the solver takes: of a multiple of eight.
    fn keep(&mut self, length: Calculation) -> *const () {
        self.0.push(length);
        std::ptr::without_provenance(self.0.len() * 8)
    }

    /// What the expression with this number comes to.
    pub fn resolve(&self, number: *const (), basis: f32) -> f32 {
        self.0.get((number.addr() / 8).wrapping_sub(1)).map_or(0.0, |length| resolved(length, basis))
    }

    fn length(&mut self, text: &str) -> Option<LengthPercentage> {
        Some(match Calculation::parse(text)? {
            Calculation::Value(px, unit) if unit == "px" => LengthPercentage::length(narrow((px * 64.0).trunc() / 64.0)),
            // What is asked for by number is cut when it is known what it comes to.
            other => LengthPercentage::calc(self.keep(other)),
        })
    }

    fn or_auto(&mut self, text: &str) -> LengthPercentageAuto {
        self.length(text).map_or(LengthPercentageAuto::auto(), Into::into)
    }

    fn dimension(&mut self, text: &str) -> Dimension {
        match text {
            "auto" | "none" => Dimension::auto(),
            "min-content" => Dimension::min_content(),
            "max-content" => Dimension::max_content(),
            "fit-content" => Dimension::fit_content(),
            "stretch" | "-webkit-fill-available" => Dimension::stretch(),
            "content" => Dimension::content(),
            _ => self.length(text).map_or(Dimension::auto(), Into::into),
        }
    }
}

/// Boxes are measured in single precision.
#[allow(clippy::cast_possible_truncation, reason = "as browsers measure them")]
fn narrow(px: f64) -> f32 {
    px as f32
}

/// What a length comes to; nothing where that is none.
pub fn resolved(length: &Calculation, basis: f32) -> f32 {
    cut(narrow(length.resolve(f64::from(basis)).unwrap_or(0.0)))
}

/// Lengths are kept in 64ths of a pixel, as browsers keep them: what is more precise is cut off.
fn cut(px: f32) -> f32 {
    let whole = px * 64.0;
    // Sums are not exact.
    let near = whole.round();
    if (whole - near).abs() < 0.001 { near / 64.0 } else { whole.trunc() / 64.0 }
}

fn number(text: &str, otherwise: f32) -> f32 {
    text.parse().unwrap_or(otherwise)
}

/// A length in pixels; nothing where it is none.
pub fn px(text: &str) -> f32 {
    text.strip_suffix("px").and_then(|n| n.parse().ok()).unwrap_or(0.0)
}

/// The style of a box.
pub fn style_of(c: &Computed, all: &mut Expressions) -> Style {
    let get = |name: &str| c.get(name);
    let mut sides = |pattern: &str| {
        let mut side = |name: &str| all.or_auto(&c.get(&pattern.replace('*', name)));
        Rect { left: side("left"), right: side("right"), top: side("top"), bottom: side("bottom") }
    };
    let (margin, inset) = (sides("margin-*"), sides("*"));
    let mut sides = |pattern: &str| {
        let mut side = |name: &str| all.length(&c.get(&pattern.replace('*', name))).unwrap_or(LengthPercentage::length(0.0));
        Rect { left: side("left"), right: side("right"), top: side("top"), bottom: side("bottom") }
    };
    let padding = sides("padding-*");
    // A border that is not drawn takes no place.
    let border = |side: &str| {
        let drawn = !matches!(&*get(&format!("border-{side}-style")), "none" | "hidden");
        LengthPercentage::length(if drawn { px(&get(&format!("border-{side}-width"))) } else { 0.0 })
    };
    let border = Rect { left: border("left"), right: border("right"), top: border("top"), bottom: border("bottom") };
    let overflow = |axis: &str| match &*get(&format!("overflow-{axis}")) {
        "hidden" => Overflow::Hidden,
        "auto" | "scroll" => Overflow::Scroll,
        "clip" => Overflow::Clip,
        _ => Overflow::Visible,
    };
    let overflow = Point { x: overflow("x"), y: overflow("y") };
    let mut two = |a: &str, b: &str| Size { width: all.dimension(&c.get(a)), height: all.dimension(&c.get(b)) };
    let size = two("width", "height");
    let mut two = |a: &str, b: &str| Size { width: all.or_auto(&c.get(a)), height: all.or_auto(&c.get(b)) };
    let max_size = two("max-width", "max-height");
    let mut least = |name: &str| c.given(name).map_or(LengthPercentageAuto::auto(), |given| all.or_auto(given));
    let min_size = Size { width: least("min-width"), height: least("min-height") };
    let mut gap = |name: &str| all.length(&c.get(name)).unwrap_or(LengthPercentage::length(0.0));
    let gap = Size { width: gap("column-gap"), height: gap("row-gap") };
    let flex_basis = all.dimension(&get("flex-basis"));
    let position = position_of(c);
    let mut style = Style {
        box_sizing: if get("box-sizing") == "border-box" { BoxSizing::BorderBox } else { BoxSizing::ContentBox },
        direction: if get("direction") == "rtl" { Direction::Rtl } else { Direction::Ltr },
        overflow,
        contain: Contain::from_str(&get("contain")).unwrap_or(Contain::NONE),
        float: Float::from_str(&get("float")).unwrap_or_default(),
        clear: Clear::from_str(&get("clear")).unwrap_or_default(),
        position,
        inset,
        size,
        min_size,
        max_size,
        aspect_ratio: ratio(&get("aspect-ratio")),
        margin,
        padding,
        border,
        align_items: AlignItems::from_str(&get("align-items")).unwrap_or_default(),
        align_self: AlignSelf::from_str(&get("align-self")).ok(),
        justify_items: AlignItems::from_str(&get("justify-items")).unwrap_or_default(),
        justify_self: AlignSelf::from_str(&get("justify-self")).ok(),
        align_content: AlignContent::from_str(&get("align-content")).unwrap_or_default(),
        justify_content: JustifyContent::from_str(&get("justify-content")).unwrap_or_default(),
        gap,
        flex_direction: FlexDirection::from_str(&get("flex-direction")).unwrap_or_default(),
        flex_wrap: FlexWrap::from_str(&get("flex-wrap")).unwrap_or_default(),
        flex_basis,
        flex_grow: number(&get("flex-grow"), 0.0),
        flex_shrink: number(&get("flex-shrink"), 1.0),
        ..Style::default()
    };
    grid_of(c, &mut style);
    style
}

/// What of a style is about grids: their tracks, and where a box stands in one.
fn grid_of(c: &Computed, style: &mut Style) {
    let get = |name: &str| c.get(name);
    let tracks = |name: &str| {
        let text = get(name);
        let parsed: Option<taffy::style::GridTemplateTracks<String, _>> =
            if text == "none" { None } else { taffy::style::GridTemplateTracks::from_str(&text).ok() };
        parsed.filter(few)
    };
    let auto_tracks = |name: &str| {
        let text = get(name);
        if text == "auto" { None } else { taffy::style::GridAutoTracks::from_str(&text).ok() }
    };
    let place = |name: &str| near(GridPlacement::<String>::from_str(&get(name)).unwrap_or_default());
    if get("display").ends_with("grid") {
        style.grid_auto_flow = GridAutoFlow::from_str(&get("grid-auto-flow")).unwrap_or_default();
        if let Some(tracks) = tracks("grid-template-columns") {
            (style.grid_template_columns, style.grid_template_column_names) = (tracks.tracks, tracks.line_names);
        }
        if let Some(tracks) = tracks("grid-template-rows") {
            (style.grid_template_rows, style.grid_template_row_names) = (tracks.tracks, tracks.line_names);
        }
        style.grid_auto_columns = auto_tracks("grid-auto-columns").map(|t| t.0).unwrap_or_default();
        style.grid_auto_rows = auto_tracks("grid-auto-rows").map(|t| t.0).unwrap_or_default();
    }
    style.grid_row = Line { start: place("grid-row-start"), end: place("grid-row-end") };
    style.grid_column = Line { start: place("grid-column-start"), end: place("grid-column-end") };
}

/// Grids have no more lines than this: a page that asks for more is out for memory.
const MOST_LINES: u16 = 500;

/// Whether a template has a number of tracks that anybody would want.
fn few(tracks: &taffy::style::GridTemplateTracks<String, taffy::style::GridTemplateComponent<String>>) -> bool {
    use taffy::style::{GridTemplateComponent as Component, RepetitionCount};
    let count = |component: &Component<String>| match component {
        Component::Repeat(repeated) => match repeated.count {
            RepetitionCount::Count(count) => usize::from(count) * repeated.tracks.len(),
            _ => repeated.tracks.len(),
        },
        Component::Single(_) => 1,
    };
    tracks.tracks.iter().map(count).sum::<usize>() <= usize::from(MOST_LINES)
}

/// A place in a grid that is not out of all bounds.
fn near(place: GridPlacement<String>) -> GridPlacement<String> {
    let most = i16::try_from(MOST_LINES).unwrap_or(i16::MAX);
    match place {
        GridPlacement::Line(line) if line.as_i16() == 0 || line.as_i16().abs() > most => GridPlacement::Auto,
        GridPlacement::Span(count) => GridPlacement::Span(count.clamp(1, MOST_LINES)),
        GridPlacement::NamedLine(name, nth) => GridPlacement::NamedLine(name, nth.clamp(-most, most)),
        GridPlacement::NamedSpan(name, count) => GridPlacement::NamedSpan(name, count.clamp(1, MOST_LINES)),
        other => other,
    }
}

/// What is transformed holds what is placed absolutely within it as one that is positioned does (CSS Transforms §2).
fn position_of(c: &Computed) -> Position {
    let position = match &*c.get("position") {
        "relative" => Position::Relative,
        "absolute" => Position::Absolute,
        "fixed" => Position::Fixed,
        "sticky" => Position::Sticky,
        _ => Position::Static,
    };
    let holds = position == Position::Static && (c.get("transform") != "none" || c.get("contain").contains("layout"));
    if holds { Position::Sticky } else { position }
}

fn ratio(text: &str) -> Option<f32> {
    let text = text.trim_start_matches("auto").trim();
    let (width, height) = text.split_once('/').unwrap_or((text, "1"));
    let (width, height): (f32, f32) = (width.trim().parse().ok()?, height.trim().parse().ok()?);
    (width > 0.0 && height > 0.0).then_some(width / height)
}

/// How text is set.
#[derive(Debug, Clone, PartialEq)]
pub struct Text {
    /// In which font.
    pub font: Font,
    /// How high a line is at least.
    pub line: f32,
    /// Whether spaces and line ends stay.
    pub keeps: bool,
    /// Whether line ends alone stay.
    pub keeps_ends: bool,
    /// Whether lines break where they are full.
    pub wraps: bool,
    /// Whether they break within words then.
    pub anywhere: bool,
    /// `text-transform`.
    pub transform: String,
}

/// How text in an element is set.
pub fn text_of(c: &Computed) -> Text {
    let get = |name: &str| c.get(name);
    let size = px(&get("font-size"));
    let mut font = Font::of(&get("font-family"), size, number(&get("font-weight"), 400.0));
    font.spacing = (px(&get("letter-spacing")), px(&get("word-spacing")));
    let collapse = get("white-space-collapse");
    let line = get("line-height");
    Text {
        font,
        line: if line == "normal" { font.heights().total() } else { px(&line) },
        keeps: matches!(&*collapse, "preserve" | "break-spaces"),
        keeps_ends: collapse == "preserve-breaks",
        wraps: get("text-wrap-mode") != "nowrap",
        anywhere: matches!(&*get("overflow-wrap"), "anywhere" | "break-word") || matches!(&*get("word-break"), "break-all" | "break-word"),
        transform: get("text-transform"),
    }
}

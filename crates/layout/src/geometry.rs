//! What a script is told of boxes (CSSOM View 1, CSSOM §9: resolved values).

use std::collections::{BTreeMap, HashMap};

use fidelon_dom::{Document, NodeId};
use taffy::Position;

use crate::boxes::{Boxed, Boxes, Kind};
use crate::lines::{Atom, Item, Lines, Text};
use crate::transform::{self, Affine, Area};

/// How far what scrolls is scrolled, by element: the root element stands for the window.
pub type Scrolled = BTreeMap<NodeId, (f32, f32)>;

/// What is known of an element's box.
#[derive(Debug, Clone, Default)]
struct Shape {
    /// Where its parts stand in the window, transformed.
    areas: Vec<Area>,
    /// Where it stands on the page, as if nothing were transformed or scrolled.
    plain: Area,
    /// Whether it has a box of its own, not parts of lines.
    is_box: bool,
    border: taffy::Rect<f32>,
    padding: taffy::Rect<f32>,
    margin: taffy::Rect<f32>,
    /// How far to the right and down its contents reach, from the inner edge of its border.
    reach: (f32, f32),
    /// How far it stands from the edges of what it is placed in: left, top, right, bottom.
    inset: Option<[f32; 4]>,
}

impl Shape {
    /// The size within its borders.
    fn inner(&self) -> (f32, f32) {
        let (plain, border) = (self.plain, self.border);
        ((plain.width - border.left - border.right).max(0.0), (plain.height - border.top - border.bottom).max(0.0))
    }
}

/// The sizes that an element tells, in whole pixels (CSSOM View §6, §7).
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Measures {
    /// Within its borders: their widths at the left and at the top, and the size between them.
    pub client: Area,
    /// How large all is that it can be scrolled over.
    pub scroll: (f32, f32),
    /// Its place and its size, borders and all.
    pub offset: Area,
    /// What `offset` is relative to.
    pub parent: Option<NodeId>,
}

/// Where the boxes of a document stand.
#[derive(Debug, Default)]
pub struct Geometry {
    of: HashMap<NodeId, Shape>,
    window: Area,
    root: Option<NodeId>,
}

impl Geometry {
    /// Lays a document out in its window.
    pub fn of(doc: &Document, scrolled: &Scrolled) -> Self {
        let viewport = doc.viewport();
        #[allow(clippy::cast_possible_truncation, reason = "no window is that large")]
        let (width, height) = (viewport.width as f32, viewport.height as f32);
        let mut boxes = Boxes::of(doc, width, height);
        boxes.solve(width, height);
        let window = Area { x: 0.0, y: 0.0, width, height };
        let mut out = Self { of: HashMap::new(), window, root: doc.document_element() };
        let mut at = Placing { doc, boxes: &boxes, scrolled, out: &mut out };
        at.place(boxes.list.len() - 1, Affine::NONE, (0.0, 0.0), None);
        out.rows(&boxes);
        out
    }

    /// How many elements have a box.
    pub fn len(&self) -> usize {
        self.of.len()
    }

    /// Whether nothing has a box.
    pub fn is_empty(&self) -> bool {
        self.of.is_empty()
    }

    /// Where the parts of an element stand in the window; none where it has no box.
    pub fn areas(&self, id: NodeId) -> &[Area] {
        self.of.get(&id).map_or(&[], |shape| &shape.areas)
    }

    /// The rectangle around all parts of an element.
    pub fn area(&self, id: NodeId) -> Option<Area> {
        self.areas(id).iter().copied().reduce(Area::around)
    }

    /// How large its box is, whatever it is transformed by.
    pub fn size(&self, id: NodeId) -> (f32, f32) {
        self.of.get(&id).map_or((0.0, 0.0), |shape| (shape.plain.width, shape.plain.height))
    }

    /// Border and padding together at its left, top, right and bottom, and the padding alone at its left and top.
    pub fn edges(&self, id: NodeId) -> [f32; 6] {
        let Some(Shape { border: b, padding: p, .. }) = self.of.get(&id) else { return [0.0; 6] };
        [b.left + p.left, b.top + p.top, b.right + p.right, b.bottom + p.bottom, p.left, p.top]
    }

    /// What is in view of an element within an area of the window: what is clipped by what stands around it, up to `root`, is not
    /// (Intersection Observer §3.2.7). None where it is out of view; an edge that touches is in view.
    pub fn in_view(&self, doc: &Document, id: NodeId, root: Option<NodeId>, around: Area) -> Option<Area> {
        let mut area = self.area(id)?;
        for ancestor in doc.flat_ancestors(id).take_while(|a| Some(*a) != root) {
            let Some(shape) = self.of.get(&ancestor).filter(|s| s.is_box && Some(ancestor) != self.root) else { continue };
            let clips = doc.computed(ancestor).is_some_and(|c| c.get("overflow-x") != "visible" || c.get("overflow-y") != "visible");
            if let (true, Some(clip)) = (clips, shape.areas.first()) {
                area = area.common(*clip)?;
            }
        }
        area.common(around)
    }

    /// The sizes of an element; none where it has no box.
    pub fn measures(&self, doc: &Document, id: NodeId) -> Option<Measures> {
        let shape = self.of.get(&id)?;
        let plain = shape.plain;
        let parent = self.offset_parent(doc, id);
        let from = parent.filter(|p| !doc.is_html(*p, "body")).and_then(|p| self.of.get(&p));
        let from = from.map_or((0.0, 0.0), |p| (p.plain.x + p.border.left, p.plain.y + p.border.top));
        let offset =
            Area { x: (plain.x - from.0).round(), y: (plain.y - from.1).round(), width: plain.width.round(), height: plain.height.round() };
        if self.root == Some(id) {
            let (right, bottom) = (plain.x + plain.width.max(shape.reach.0), plain.y + plain.height.max(shape.reach.1));
            let scroll = (right.round().max(self.window.width), bottom.round().max(self.window.height));
            return Some(Measures { client: self.window, scroll, offset, parent: None });
        }
        if !shape.is_box {
            return Some(Measures { offset, parent, ..Measures::default() });
        }
        let (border, inner) = (shape.border, shape.inner());
        let client = Area { x: border.left.round(), y: border.top.round(), width: inner.0.round(), height: inner.1.round() };
        let scroll = (shape.reach.0.round().max(client.width), shape.reach.1.round().max(client.height));
        Some(Measures { client, scroll, offset, parent })
    }

    /// CSSOM View §7, `offsetParent`.
    fn offset_parent(&self, doc: &Document, id: NodeId) -> Option<NodeId> {
        let computed = doc.computed(id)?;
        if self.root == Some(id) || doc.is_html(id, "body") || computed.get("position") == "fixed" {
            return None;
        }
        let is_static = computed.get("position") == "static";
        doc.flat_ancestors(id).find(|a| {
            let Some(c) = doc.computed(*a) else { return false };
            let holds = c.get("position") != "static" || c.get("transform") != "none" || doc.is_html(*a, "body");
            holds || is_static && ["td", "th", "table"].iter().any(|t| doc.is_html(*a, t))
        })
    }

    /// How far an element can be scrolled.
    pub fn most_scrolled(&self, doc: &Document, id: NodeId) -> (f32, f32) {
        let Some(m) = self.measures(doc, id) else { return (0.0, 0.0) };
        let scrolls = |axis: &str| {
            let over = doc.computed(id).map(|c| c.get(axis)).unwrap_or_default();
            self.root == Some(id) || matches!(&*over, "auto" | "scroll" | "hidden")
        };
        let most = |scroll: f32, client: f32, axis: &str| if scrolls(axis) { (scroll - client).max(0.0) } else { 0.0 };
        (most(m.scroll.0, m.client.width, "overflow-x"), most(m.scroll.1, m.client.height, "overflow-y"))
    }

    /// What a property that a layout resolves comes to, in pixels; none where it stays as it is (CSSOM §9, used values).
    pub fn used(&self, doc: &Document, id: NodeId, property: &str) -> Option<f32> {
        let shape = self.of.get(&id)?;
        let computed = doc.computed(id)?;
        let side = |rect: taffy::Rect<f32>| match property.rsplit('-').next() {
            Some("left") => Some(rect.left),
            Some("right") => Some(rect.right),
            Some("top") => Some(rect.top),
            _ => Some(rect.bottom),
        };
        match property {
            "width" | "height" if shape.is_box => {
                let (border, padding) = (shape.border, shape.padding);
                let content = computed.get("box-sizing") != "border-box";
                let (outer, edges) = if property == "width" {
                    (shape.plain.width, border.left + border.right + padding.left + padding.right)
                } else {
                    (shape.plain.height, border.top + border.bottom + padding.top + padding.bottom)
                };
                Some(if content { (outer - edges).max(0.0) } else { outer })
            }
            "margin-left" | "margin-right" | "margin-top" | "margin-bottom" if shape.is_box => side(shape.margin),
            "padding-left" | "padding-right" | "padding-top" | "padding-bottom" if shape.is_box => side(shape.padding),
            "left" | "top" | "right" | "bottom" => {
                let at = ["left", "top", "right", "bottom"].iter().position(|name| *name == property)?;
                shape.inset.map(|inset| inset[at])
            }
            _ => None,
        }
    }

    /// How a box is transformed, as a matrix that depends on its size; none where it is not.
    pub fn matrix(&self, doc: &Document, id: NodeId) -> Option<[f32; 6]> {
        let shape = self.of.get(&id)?;
        transform::plain(&doc.computed(id)?.get("transform"), shape.plain.width, shape.plain.height)
    }

    /// Rows of tables reach around their cells.
    fn rows(&mut self, boxes: &Boxes) {
        for (id, cells) in &boxes.around {
            let shapes: Vec<&Shape> = cells.iter().filter_map(|c| self.of.get(&boxes.list[*c].of?)).collect();
            let Some(plain) = shapes.iter().map(|s| s.plain).reduce(Area::around) else { continue };
            let area = shapes.iter().flat_map(|s| &s.areas).copied().reduce(Area::around);
            let shape = Shape { areas: area.into_iter().collect(), plain, is_box: true, ..Shape::default() };
            self.of.insert(*id, shape);
        }
    }
}

/// From places within boxes to places in the window.
struct Placing<'a> {
    doc: &'a Document,
    boxes: &'a Boxes,
    scrolled: &'a Scrolled,
    out: &'a mut Geometry,
}

impl Placing<'_> {
    /// Places a box that stands within `around`, and all within it. `plain` is where that one stands on the page.
    fn place(&mut self, index: usize, around: Affine, plain: (f32, f32), holder: Option<&Boxed>) {
        let node = &self.boxes.list[index];
        let layout = &node.layout;
        let (x, y) = (layout.location.x, layout.location.y);
        let (width, height) = (layout.size.width, layout.size.height);
        let mut here = around.after(Affine::by(x, y));
        let at = (plain.0 + x, plain.1 + y);
        let computed = node.of.and_then(|id| self.doc.computed(id));
        if let Some(own) = computed.as_ref().and_then(|c| transform::of(c, width, height)) {
            here = here.after(own);
        }
        let own = Area { x: 0.0, y: 0.0, width, height };
        if let Some(id) = node.of {
            let over = layout.scrollable_overflow_rect;
            let padding = layout.padding;
            let written = computed.as_ref().filter(|_| self.doc.is_html(id, "textarea")).map(|c| {
                let width = width - layout.border.left - layout.border.right - padding.left - padding.right;
                padding.top + lines_of(&fidelon_dom::form::value(self.doc, id), c, width) + padding.bottom
            });
            let shape = Shape {
                areas: vec![here.area(own)],
                plain: Area { x: at.0, y: at.1, width, height },
                is_box: true,
                border: layout.border,
                padding: layout.padding,
                margin: layout.margin,
                // What is scrolled keeps its padding after its contents, and their margin (css-overflow-3 §2.2).
                reach: (
                    over.right,
                    written.unwrap_or(if node.style.overflow.y.is_scroll_container() {
                        over.bottom.max(self.end_of_flow(index)) + padding.bottom
                    } else {
                        over.bottom
                    }),
                ),
                inset: inset(node, holder),
            };
            self.out.of.insert(id, shape);
        }
        let scroll = node.of.filter(|id| Some(*id) != self.out.root).and_then(|id| self.scrolled.get(&id)).copied().unwrap_or_default();
        let inner = here.after(Affine::by(-scroll.0, -scroll.1));
        let page = self.out.root.and_then(|root| self.scrolled.get(&root)).copied().unwrap_or_default();
        for (id, part) in &node.parts {
            let plain = Area { x: at.0 + part.x, y: at.1 + part.y, ..*part };
            let shape = self.out.of.entry(*id).or_insert_with(|| Shape { plain, ..Shape::default() });
            shape.areas.push(inner.area(*part));
            shape.plain = shape.plain.around(plain);
        }
        let is_window = holder.is_none() && node.of.is_none();
        let stand_in = if let Kind::Lines(lines) = &node.kind { lines.boxes() } else { Vec::new() };
        for child in node.children.iter().copied().chain(stand_in) {
            // What is placed absolutely is placed by what holds it.
            let child_position = self.boxes.list[child].style.position;
            if !child_position.is_out_of_flow() {
                let from = if is_window { inner.after(Affine::by(-page.0, -page.1)) } else { inner };
                self.place(child, from, at, Some(node));
            }
        }
        for child in node.hoisted.clone() {
            let fixed = self.boxes.list[child].style.position == Position::Fixed;
            let from = if is_window && !fixed { inner.after(Affine::by(-page.0, -page.1)) } else { inner };
            self.place(child, from, at, Some(node));
        }
    }
}

impl Placing<'_> {
    /// How far what stands in the flow of a box reaches down, with its margins.
    fn end_of_flow(&self, index: usize) -> f32 {
        let in_flow = |child: &&usize| !self.boxes.list[**child].style.position.is_out_of_flow();
        let ends = self.boxes.list[index].children.iter().filter(in_flow).map(|child| {
            let layout = &self.boxes.list[*child].layout;
            layout.location.y + layout.size.height + self.end_margin(*child)
        });
        ends.fold(0.0, f32::max)
    }

    /// The margin below a box, with that of its last child where the two are one (CSS 2.2 §8.3.1).
    fn end_margin(&self, index: usize) -> f32 {
        let node = &self.boxes.list[index];
        let (own, layout) = (node.layout.margin.bottom, &node.layout);
        let is_closed = layout.padding.bottom > 0.0 || layout.border.bottom > 0.0 || node.style.overflow.y.is_scroll_container();
        let is_block = node.style.display == taffy::Display::Block && node.style.size.height.is_auto();
        let last = node.children.iter().rev().find(|child| !self.boxes.list[**child].style.position.is_out_of_flow());
        match last.filter(|_| is_block && !is_closed) {
            Some(last) => own.max(self.end_margin(*last)),
            None => own,
        }
    }
}

/// How high the lines of a text are that is set within a width.
fn lines_of(text: &str, computed: &fidelon_dom::cascade::Computed, width: f32) -> f32 {
    let set = crate::style::text_of(computed);
    let lines = Lines {
        items: vec![Item::Text { text: text.to_owned(), written: 0 }],
        written: vec![Text { text: set.clone(), align: "baseline".into() }],
        strut: set.clone(),
        align: "start".into(),
    };
    let last = if text.is_empty() || text.ends_with('\n') { set.line } else { 0.0 };
    lines.fill(width, None, &mut |_| Atom::default()).height + last
}

/// How far a positioned box stands from the edges of what holds it.
fn inset(node: &Boxed, holder: Option<&Boxed>) -> Option<[f32; 4]> {
    let (layout, holder) = (&node.layout, &holder?.layout);
    match node.style.position {
        Position::Absolute | Position::Fixed => {
            let left = layout.location.x - layout.margin.left - holder.border.left;
            let top = layout.location.y - layout.margin.top - holder.border.top;
            let inner = (
                holder.size.width - holder.border.left - holder.border.right,
                holder.size.height - holder.border.top - holder.border.bottom,
            );
            let right = inner.0 - left - layout.size.width - layout.margin.left - layout.margin.right;
            let bottom = inner.1 - top - layout.size.height - layout.margin.top - layout.margin.bottom;
            Some([left, top, right, bottom])
        }
        _ => None,
    }
}

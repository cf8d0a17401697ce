//! Where boxes stand: a layout is made when somebody asks, and kept until something changes.

use std::cell::{Cell, RefCell};
use std::rc::Rc;

use fidelon_dom::{Document, NodeId};
use fidelon_layout::{Area, Geometry, Scrolled};

use super::{Natives, number};
use crate::host::Host;
use crate::limits::Meter;

/// What is known of boxes.
#[derive(Debug, Default)]
pub(crate) struct Layout {
    known: RefCell<Option<(Turn, Rc<Geometry>)>>,
    scrolled: RefCell<Scrolled>,
    /// Changes whenever something is scrolled.
    scrolls: Cell<u64>,
}

/// What laying out an element counts: about the steps that the engine makes meanwhile.
const STEPS_PER_BOX: u64 = 100;

/// What a layout was made of: the document's own turns, and that of scrolling.
type Turn = ((u64, u64), u64);

impl Layout {
    fn turn(&self, doc: &Document) -> Turn {
        (doc.turn(), self.scrolls.get())
    }

    fn of(&self, doc: &Document, meter: &Meter) -> Rc<Geometry> {
        let turn = self.turn(doc);
        if let Some((of, geometry)) = &*self.known.borrow()
            && *of == turn
        {
            return geometry.clone();
        }
        let geometry = Rc::new(Geometry::of(doc, &self.scrolled.borrow()));
        meter.count(STEPS_PER_BOX * geometry.len() as u64);
        *self.known.borrow_mut() = Some((turn, geometry.clone()));
        geometry
    }
}

/// The natives that ask where boxes stand: of a node that has none, zeros.
macro_rules! measures {
    ($n:expr, $($name:literal => |$geometry:ident, $doc:ident, $id:ident $(, $arg:ident : $ty:ty)*| $body:expr;)*) => {$({
        let host = $n.host.clone();
        $n.add($name, move |node: u32 $(, $arg: $ty)*| {
            let $doc = host.doc.borrow();
            let $id = super::known(&$doc, node);
            let $geometry = host.layout.of(&$doc, &host.meter);
            $body
        })?;
    })*};
}

pub(crate) fn register(n: &mut Natives<'_, '_>) -> rquickjs::Result<()> {
    measures!(n,
        "box" => |geometry, _doc, id| told(geometry.area(id).unwrap_or_default());
        "boxes" => |geometry, _doc, id| geometry.areas(id).iter().flat_map(|a| told(*a)).collect::<Vec<f64>>();
        "plain" => |geometry, _doc, id| { let (width, height) = geometry.size(id); vec![sixtyfourths(width), sixtyfourths(height)] };
        "edges" => |geometry, _doc, id| geometry.edges(id).map(sixtyfourths).to_vec();
        "measures" => |geometry, doc, id| {
            let m = geometry.measures(&doc, id).unwrap_or_default();
            let numbers = [
                m.client.x, m.client.y, m.client.width, m.client.height, m.scroll.0, m.scroll.1, m.offset.x, m.offset.y, m.offset.width, m.offset.height,
            ];
            #[allow(clippy::cast_precision_loss, reason = "nodes are numbered with 32 bits")]
            let parent = number(m.parent) as f64;
            numbers.into_iter().map(f64::from).chain([parent]).collect::<Vec<f64>>()
        };
        "in_view" => |geometry, doc, id, root: i64, x: f64, y: f64, width: f64, height: f64| {
            let root = u32::try_from(root).ok().map(NodeId);
            #[allow(clippy::cast_possible_truncation, reason = "no window is that large")]
            let around = Area { x: x as f32, y: y as f32, width: width as f32, height: height as f32 };
            geometry.in_view(&doc, id, root, around).map_or_else(Vec::new, told)
        };
    );
    scrolling(n)?;
    let host = n.host.clone();
    #[allow(clippy::cast_precision_loss, reason = "a document is not changed 2^53 times")]
    n.add("turn", move || {
        let ((tree, styles), scrolls) = host.layout.turn(&host.doc.borrow());
        (tree + styles + scrolls) as f64
    })
}

fn scrolling(n: &mut Natives<'_, '_>) -> rquickjs::Result<()> {
    let host = n.host.clone();
    n.add("scrolled", move |node: u32| {
        let (x, y) = host.layout.scrolled.borrow().get(&NodeId(node)).copied().unwrap_or_default();
        vec![f64::from(x), f64::from(y)]
    })?;
    let host = n.host.clone();
    n.add("scroll", move |node: u32, x: f64, y: f64| {
        let id = NodeId(node);
        let doc = host.doc.borrow();
        let most = host.layout.of(&doc, &host.meter).most_scrolled(&doc, id);
        #[allow(clippy::cast_possible_truncation, reason = "it is cut to what there is")]
        let at = ((x as f32).clamp(0.0, most.0), (y as f32).clamp(0.0, most.1));
        let mut scrolled = host.layout.scrolled.borrow_mut();
        if scrolled.get(&id).copied().unwrap_or_default() != at {
            scrolled.insert(id, at);
            host.layout.scrolls.set(host.layout.scrolls.get() + 1);
        }
        vec![f64::from(at.0), f64::from(at.1)]
    })?;
    let host = n.host.clone();
    n.add("unscroll", move || {
        host.layout.scrolled.borrow_mut().clear();
        host.layout.scrolls.set(host.layout.scrolls.get() + 1);
    })
}

/// Places are kept in 64ths of a pixel.
fn sixtyfourths(n: f32) -> f64 {
    (f64::from(n) * 64.0).round() / 64.0
}

fn told(area: Area) -> Vec<f64> {
    [area.x, area.y, area.width, area.height].map(sixtyfourths).to_vec()
}

/// The resolved value of a property (CSSOM §9): what it comes to, in pixels where a layout tells.
pub(crate) fn resolved(host: &Host, id: NodeId, name: &str) -> String {
    let doc = host.doc.borrow();
    let Some(computed) = doc.computed(id) else { return String::new() };
    let raw = computed.get(name);
    let name = computed.physical(name);
    let one = |name: &str| {
        let raw = computed.get(name);
        let asks = raw == "auto" || raw.contains('%') || matches!(name, "width" | "height");
        let used = asks.then(|| host.layout.of(&doc, &host.meter).used(&doc, id, name)).flatten();
        used.map_or(raw, |px| format!("{}px", fidelon_css::number(sixtyfourths(px))))
    };
    match &*name {
        "width" | "height" | "left" | "right" | "top" | "bottom" => one(&name),
        "margin" | "padding" | "inset" if raw.contains("auto") || raw.contains('%') => {
            let sides = ["top", "right", "bottom", "left"]
                .map(|side| one(&if name == "inset" { side.to_owned() } else { format!("{name}-{side}") }));
            fidelon_dom::style::joined(&sides.iter().map(String::as_str).collect::<Vec<_>>())
        }
        other if other.starts_with("margin-") || other.starts_with("padding-") => one(other),
        "transform" if raw.contains('%') => match host.layout.of(&doc, &host.meter).matrix(&doc, id) {
            Some(matrix) => format!("matrix({})", matrix.map(|n| fidelon_css::number(f64::from(n))).join(", ")),
            None => raw,
        },
        _ => raw,
    }
}

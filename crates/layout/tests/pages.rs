//! Pages are laid out as Chromium lays them out, but for what is known to differ.

#![allow(clippy::unwrap_used, reason = "tests")]

use fidelon_dom::Document;
use fidelon_layout::{Area, Geometry, Scrolled};

/// What no page of a person's asks for costs neither much time nor much memory.
#[test]
fn hostile_pages_are_laid_out_too() {
    let nest = |open: &str, close: &str, depth: usize| format!("{}x{}", open.repeat(depth), close.repeat(depth));
    for html in [
        nest("<span style='display:inline-block;padding:1px'>a ", "</span>", 150),
        nest("<div style='display:flex'>a ", "</div>", 150),
        nest("<div style='display:grid'>a ", "</div>", 150),
        nest("<div style='display:inline-flex;flex-wrap:wrap'>a ", "</div>", 100),
        nest("<table><tr><td>", "</td></tr></table>", 60),
        nest("<div style='position:absolute'>", "</div>", 400),
        "<div style='display:grid;grid-template-columns:repeat(60000,1px);grid-template-rows:repeat(60000,1px)'><p style='grid-area:30000/30000/span 60000/0'>x</p></div>".into(),
        "<div style='display:grid;grid-template-columns:repeat(auto-fill,1px)'><p style='grid-column:0'>x</p></div>".into(),
        "<table><tr><td colspan=99999 rowspan=99999>x</td></tr></table>".into(),
        "<div style='width:1e38px;height:calc(1px / 0);margin:-1e38px;transform:scale(1e38)'>x</div>".into(),
        format!("<p style='width:10px'>{}</p>", "kiln ".repeat(20_000)),
    ] {
        let mut doc = fidelon_dom::parse::document(&format!("<!doctype html>{html}"));
        doc.set_viewport(1280.0, 800.0);
        // A layout that doubled with each level would not end.
        let geometry = Geometry::of(&doc, &Scrolled::new());
        assert!(geometry.area(doc.body().unwrap()).is_some());
    }
}

#[test]
fn boxes_stand_where_a_browser_puts_them() {
    let mut wrong = Vec::new();
    let mut count = 0;
    for page in include_str!("pages.txt").split("=== ").skip(1) {
        let (name, rest) = page.split_once('\n').unwrap();
        let html: String = rest.lines().filter(|l| !l.starts_with("--- ")).map(|l| format!("{l}\n")).collect();
        let mut doc = fidelon_dom::parse::document(&format!("<!doctype html>{html}"));
        doc.set_viewport(1280.0, 800.0);
        let geometry = Geometry::of(&doc, &Scrolled::new());
        for row in rest.lines().filter_map(|l| l.strip_prefix("--- ")) {
            let mut words = row.split(' ');
            let id = words.next().unwrap();
            let n: Vec<f32> = words.map(|w| w.parse().unwrap()).collect();
            let node = doc.by_id(Document::ROOT, id).unwrap();
            let found = geometry.area(node).unwrap_or_default();
            let Area { x, y, width, height } = found;
            let near = |a: f32, b: f32| (a - b).abs() <= 0.04;
            count += 1;
            if !(near(x, n[0]) && near(y, n[1]) && near(width, n[2]) && near(height, n[3])) {
                wrong.push(format!("{name}: {row}, found {x} {y} {width} {height}"));
            }
        }
    }
    assert!(wrong.is_empty(), "{} of {count}:\n{}", wrong.len(), wrong.join("\n"));
}

//! Pages are laid out as Chromium lays them out, but for what is known to differ.

#![allow(clippy::unwrap_used, reason = "tests")]

use fidelon_dom::Document;
use fidelon_layout::{Area, Geometry, Scrolled};

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

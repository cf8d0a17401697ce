//! The contact sheet: every combination of each component side by side on one page that needs nothing beside it, grouped by the props that
//! are named.

use std::collections::BTreeMap;
use std::fmt::Write as _;

use fidelon_core::finding::{Finding, RuleKind};
use fidelon_core::gallery::{Gallery, Shot};
use fidelon_core::results::Results;
use serde_json::{Value as Json, json};

use crate::html::FRAMES;
use crate::told::count;

/// How combinations are laid out.
#[derive(Debug, Clone, Default)]
pub struct Layout {
    /// Props or slots (`slots.default`) whose values make rows, the first the outermost.
    pub by: Vec<String>,
    /// Those whose values make columns.
    pub across: Vec<String>,
}

/// Props that a layout names and no component has.
pub fn unknown<'a>(galleries: &[Gallery], layout: &'a Layout) -> Vec<&'a str> {
    let known = |name: &String| galleries.iter().any(|g| g.axes.contains_key(name));
    layout.by.iter().chain(&layout.across).filter(|name| !known(name)).map(String::as_str).collect()
}

/// The page.
pub fn sheet(results: &Results, galleries: &[Gallery], layout: &Layout) -> String {
    let mut body = String::new();
    let mut data = Vec::new();
    for gallery in galleries {
        let findings = results.components.iter().find(|c| c.component == gallery.component).map_or(&[][..], |c| &c.findings);
        let mut drawing = Drawing { gallery, broken: broken(findings), number: data.len(), out: &mut body };
        drawing.component(layout);
        let pages: Vec<Json> = gallery.pages.iter().map(|p| json!([p.styles, p.body])).collect();
        data.push(json!({ "styles": gallery.styles, "pages": pages }));
    }
    let open: Vec<String> = results
        .components
        .iter()
        .filter(|c| galleries.iter().all(|g| g.component != c.component))
        .map(|c| {
            format!(
                "<p class=\"open\">{} could not be rendered: {}</p>",
                text(&c.component),
                text(c.reason.as_ref().map_or("", |r| &r.message))
            )
        })
        .collect();
    // Within a script element `<` must not begin a tag.
    let data = Json::from(data).to_string().replace('<', "\\u003c");
    include_str!("sheet.html")
        .replacen("{{css}}", include_str!("sheet.css"), 1)
        .replacen("{{frames}}", FRAMES, 1)
        .replacen("{{open}}", &open.concat(), 1)
        .replacen("{{body}}", &body, 1)
        .replacen("{{data}}", &data, 1)
}

/// The promises that each case breaks.
fn broken(findings: &[Finding]) -> BTreeMap<&str, Vec<String>> {
    let mut out: BTreeMap<&str, Vec<String>> = BTreeMap::new();
    for finding in findings {
        let words = if finding.kind == RuleKind::Clause { format!("“{}”", finding.rule) } else { finding.rule.clone() };
        for case in &finding.cases {
            out.entry(case).or_default().push(words.clone());
        }
    }
    out
}

struct Drawing<'a> {
    gallery: &'a Gallery,
    broken: BTreeMap<&'a str, Vec<String>>,
    number: usize,
    out: &'a mut String,
}

/// Values of some props, each with its name.
type Values<'a> = Vec<(&'a str, &'a str)>;

impl<'a> Drawing<'a> {
    fn component(&mut self, layout: &Layout) {
        let gallery = self.gallery;
        let hurt = gallery.shots.iter().filter(|s| self.broken.contains_key(s.case.as_str())).count();
        let told = if hurt > 0 { format!(", <b class=\"bad\">✗ {hurt} of them broken</b>") } else { String::new() };
        let _ = write!(
            self.out,
            "<section aria-label=\"{0}\"><h2>{0}</h2><p>{1}{told}</p>",
            text(&gallery.component),
            count(gallery.shots.len(), "combination")
        );
        let (by, across) = (known(gallery, &layout.by), known(gallery, &layout.across));
        match (by.is_empty(), across.is_empty()) {
            (true, true) => self.flow(&gallery.shots.iter().collect::<Vec<_>>(), &[]),
            (false, true) => {
                for row in self.groups(&by) {
                    let _ = write!(self.out, "<h3>{}</h3>", text(&words(&row)));
                    let shots = self.of(&row);
                    self.flow(&shots, &by);
                }
            }
            _ => self.table(&by, &across),
        }
        self.out.push_str("</section>\n");
    }

    /// The combinations of values of these props that occur, in the order of the plan's values.
    fn groups(&self, names: &[&'a str]) -> Vec<Values<'a>> {
        let mut out: Vec<Values<'a>> = vec![Vec::new()];
        for name in names {
            let values = self.gallery.axes.get(*name).map_or(&[][..], Vec::as_slice);
            out =
                out.into_iter().flat_map(|group| values.iter().map(move |v| [group.clone(), vec![(*name, v.as_str())]].concat())).collect();
        }
        out.retain(|group| !self.of(group).is_empty());
        out
    }

    fn of(&self, group: &[(&str, &str)]) -> Vec<&'a Shot> {
        let has = |shot: &&Shot| group.iter().all(|(name, value)| shot.values.get(*name).is_some_and(|v| v == value));
        self.gallery.shots.iter().filter(has).collect()
    }

    fn table(&mut self, by: &[&'a str], across: &[&'a str]) {
        let columns = self.groups(across);
        let rows = if by.is_empty() { vec![Vec::new()] } else { self.groups(by) };
        self.out.push_str("<div class=\"wide\" tabindex=\"0\" role=\"region\" aria-label=\"All combinations\"><table><thead><tr><td></td>");
        for column in &columns {
            let _ = write!(self.out, "<th scope=\"col\">{}</th>", text(&words(column)));
        }
        self.out.push_str("</tr></thead><tbody>");
        for row in &rows {
            let _ = write!(self.out, "<tr><th scope=\"row\">{}</th>", text(&words(row)));
            for column in &columns {
                self.out.push_str("<td>");
                let shots = self.of(&[row.as_slice(), column.as_slice()].concat());
                if shots.is_empty() {
                    self.out.push_str("<span class=\"soft\">does not occur</span>");
                }
                for shot in shots {
                    self.shot(shot, &[by, across].concat());
                }
                self.out.push_str("</td>");
            }
            self.out.push_str("</tr>");
        }
        self.out.push_str("</tbody></table></div>");
    }

    fn flow(&mut self, shots: &[&Shot], told: &[&str]) {
        self.out.push_str("<div class=\"flow\">");
        for shot in shots {
            self.shot(shot, told);
        }
        self.out.push_str("</div>");
    }

    /// A combination with what no heading tells of it.
    fn shot(&mut self, shot: &Shot, told: &[&str]) {
        let varies = |name: &str| self.gallery.axes.get(name).is_some_and(|v| v.len() > 1);
        let rest: Values<'_> = shot
            .values
            .iter()
            .map(|(n, v)| (n.as_str(), v.as_str()))
            .filter(|(n, v)| !told.contains(n) && varies(n) && *v != "absent" && *v != "empty")
            .collect();
        let caption = if rest.is_empty() && told.is_empty() { "nothing passed".to_owned() } else { words(&rest) };
        let why = self.broken.get(shot.case.as_str());
        let class = if why.is_some() { "shot broke" } else { "shot" };
        let page = shot.page.map_or_else(
            || "<div class=\"blank\">not rendered</div>".to_owned(),
            |page| format!("<div class=\"blank\" data-page=\"{}/{page}\"></div>", self.number),
        );
        let why: String = why.into_iter().flatten().map(|rule| format!("<div class=\"bad\">✗ {}</div>", text(rule))).collect();
        let _ = write!(self.out, "<figure class=\"{class}\">{page}<figcaption>{}{why}</figcaption></figure>", text(&caption));
    }
}

/// Of these props those that the component has.
fn known<'a>(gallery: &'a Gallery, names: &[String]) -> Vec<&'a str> {
    names.iter().filter_map(|name| gallery.axes.get_key_value(name)).map(|(name, _)| name.as_str()).collect()
}

fn words(values: &[(&str, &str)]) -> String {
    let each = values.iter().map(|(name, value)| match *value {
        "true" => (*name).to_owned(),
        "false" => format!("not {name}"),
        "absent" => format!("no {name}"),
        value => format!("{name} = {value}"),
    });
    each.collect::<Vec<_>>().join(", ")
}

/// Text in markup, in attributes too.
fn text(plain: &str) -> String {
    plain.replace('&', "&amp;").replace('<', "&lt;").replace('>', "&gt;").replace('"', "&quot;")
}

//! The report as a folder that opens from disk: one page, its script and style in it, and the data beside it in pieces that are read when
//! they are shown.

use fidelon_core::finding::{Finding, RuleKind};
use fidelon_core::gallery::Gallery;
use fidelon_core::results::{Component, Results, Rule};
use fidelon_core::surface::Surface;
use serde_json::{Value as Json, json};

use crate::told::{condition, counts, in_words, promise};

/// Rendered pages in one file.
const CHUNK: usize = 200;

/// A file of the report, with its path in the folder.
pub type File = (String, String);

/// What draws a rendered page in a frame: the sheet has it too.
pub(crate) const FRAMES: &str = include_str!("frames.js");

/// What elements of our pages are made with.
pub const ELEMENTS: &str = include_str!("elements.js");

/// All files of the report; the page itself comes last, so that it is there when all that it reads is.
pub fn report(results: &Results, galleries: &[Gallery]) -> Vec<File> {
    let mut out = Vec::new();
    let mut components = Vec::new();
    for (number, component) in results.components.iter().enumerate() {
        let gallery = galleries.iter().find(|g| g.component == component.component);
        let id = gallery.map(|_| format!("c{number}"));
        if let (Some(gallery), Some(id)) = (gallery, &id) {
            out.extend(pieces(gallery, id));
        }
        components.push(told(component, id));
    }
    let faults = results.faults.iter().map(|f| json!({ "place": f.place.to_string(), "message": f.fault.message, "help": f.fault.help }));
    let overview = json!({
        "version": results.fidelon,
        "totals": results.totals,
        "faults": faults.collect::<Vec<_>>(),
        "notes": results.notes,
        "components": components,
    });
    out.push(taken("overview", &overview));
    let page = include_str!("page.html").replacen("{{css}}", include_str!("page.css"), 1).replacen("{{elements}}", ELEMENTS, 1);
    let page = page.replacen("{{frames}}", FRAMES, 1);
    out.push(("index.html".into(), page.replacen("{{js}}", include_str!("page.js"), 1)));
    out
}

/// A file that hands its data over when it is loaded: a page from disk may run scripts beside it and fetch nothing.
fn taken(name: &str, data: &Json) -> File {
    (format!("data/{name}.js"), format!("fidelon.take({}, {data});\n", Json::from(name)))
}

fn told(component: &Component, gallery: Option<String>) -> Json {
    let rules = |list: &[Rule]| -> Vec<Json> {
        let name = |r: &Rule| r.clause.clone().or(r.law.clone());
        list.iter().map(|r| json!({ "name": name(r), "verdict": r.verdict, "checked": r.checked, "broke": r.broke })).collect()
    };
    let reason = component.reason.as_ref().map(|r| match &r.place {
        Some(place) => format!("{place}: {}", r.message),
        None => r.message.clone(),
    });
    json!({
        "name": component.component,
        "contract": component.contract,
        "verdict": component.verdict,
        "reason": reason,
        "combinations": component.combinations,
        "coverage": component.coverage.pairs,
        "clauses": rules(&component.clauses),
        "laws": rules(&component.laws),
        "baseline": component.baseline,
        "findings": component.findings.iter().map(finding).collect::<Vec<_>>(),
        "notes": component.notes,
        "gallery": gallery,
    })
}

fn finding(finding: &Finding) -> Json {
    let failure = &finding.failure;
    let (how, first) = condition(finding);
    let also = finding.also.iter().map(|also| in_words(also));
    let conditions: Vec<String> = std::iter::once(first).filter(|c| !c.is_empty()).chain(also).collect();
    json!({
        "rule": finding.rule,
        "kind": finding.kind,
        "promise": promise(finding),
        "how": how,
        "conditions": conditions,
        "counts": counts(finding),
        "message": failure.message,
        "expected": failure.expected,
        "actual": failure.actual,
        "diff": failure.diff,
        "node": failure.node,
        "source": failure.place.as_ref().map(ToString::to_string),
        "written": finding.written.as_ref().filter(|_| finding.kind == RuleKind::Clause).map(ToString::to_string),
        "case": finding.case,
        "combination": finding.combination,
        "events": finding.events,
        "cases": finding.cases,
    })
}

/// The gallery without its pages, and its pages in pieces.
fn pieces(gallery: &Gallery, id: &str) -> Vec<File> {
    let axes: Vec<&String> = gallery.axes.keys().collect();
    let shots = gallery.shots.iter().map(|shot| {
        // A value by its place among those of its prop.
        let at = |name: &String| {
            let value = shot.values.get(name)?;
            gallery.axes[name].iter().position(|v| v == value)
        };
        let values: Vec<Json> = axes.iter().map(|name| at(name).map_or(Json::from(-1), Json::from)).collect();
        json!({ "case": shot.case, "values": values, "page": shot.page, "events": shot.events, "notes": shot.notes })
    });
    let all = json!({
        "id": id,
        "chunk": CHUNK,
        "styles": gallery.styles,
        "axes": gallery.axes,
        "shots": shots.collect::<Vec<_>>(),
        "films": gallery.films,
        "surface": surface(&gallery.surface),
    });
    let mut out = vec![taken(id, &all)];
    for (number, pages) in gallery.pages.chunks(CHUNK).enumerate() {
        let pages: Vec<Json> = pages.iter().map(|p| json!([p.styles, p.body])).collect();
        out.push(taken(&format!("{id}-{number}"), &Json::from(pages)));
    }
    out
}

fn surface(surface: &Surface) -> Json {
    let props = surface.props.iter().map(|p| {
        json!({ "name": p.name, "type": p.ty.to_string(), "required": p.required, "default": p.default, "about": p.about, "two_way": p.two_way })
    });
    let events = surface.events.iter().map(|e| {
        let payload = e.payload.as_ref().map(|types| types.iter().map(ToString::to_string).collect::<Vec<_>>().join(", "));
        json!({ "name": e.name, "payload": payload, "reports": e.reports })
    });
    let slots = surface.slots.iter().map(|s| json!({ "name": s.name, "exposes": s.exposes, "fallback": s.fallback }));
    json!({
        "framework": surface.framework,
        "props": props.collect::<Vec<_>>(),
        "events": events.collect::<Vec<_>>(),
        "slots": slots.collect::<Vec<_>>(),
        "exposes": surface.exposes,
        "open": surface.open,
    })
}

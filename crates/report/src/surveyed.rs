//! What components declare, for people: in a few lines each, or each with all that is known of it.

use std::collections::BTreeMap;
use std::fmt::Write as _;

use fidelon_core::surface::{Prop, Surface, Type};

use crate::style::Style;

/// The components in short, and the sums.
pub fn short(surfaces: &[Surface], style: Style) -> String {
    let mut out = String::new();
    for surface in surfaces {
        head(surface, style, &mut out);
        let props =
            surface.props.iter().map(|p| format!("{}{}{}", p.name, if p.required { "" } else { "?" }, if p.two_way { " ↔" } else { "" }));
        let events = surface.events.iter().filter(|e| e.reports.is_none()).map(|e| e.name.clone());
        let slots = surface.slots.iter().map(|s| if s.exposes { format!("{} (hands over)", s.name) } else { s.name.clone() });
        let rows =
            [("props", props.collect()), ("events", events.collect()), ("slots", slots.collect()), ("members", surface.exposes.clone())];
        for (what, names) in rows.into_iter().filter(|(_, names): &(_, Vec<String>)| !names.is_empty()) {
            let _ = writeln!(out, "  {}  {}", style.quiet(&format!("{what:7}")), style.fold(&names.join(", "), 11));
        }
    }
    out + &sums(surfaces, style)
}

/// The components with all that is known of them.
pub fn long(surfaces: &[Surface], style: Style) -> String {
    let mut out = String::new();
    for (i, surface) in surfaces.iter().enumerate() {
        if i > 0 {
            out.push('\n');
        }
        head(surface, style, &mut out);
        rows("props", surface.props.iter().map(|p| (p.name.as_str(), prop(p), p.about.as_deref())).collect(), style, &mut out);
        let events = surface.events.iter().filter(|e| e.reports.is_none());
        let carried = |types: &[Type]| types.iter().map(ToString::to_string).collect::<Vec<_>>().join(", ");
        let told = |payload: &Option<Vec<Type>>| {
            payload.as_deref().map_or(String::new(), |t| if t.is_empty() { "nothing".into() } else { carried(t) })
        };
        rows("events", events.map(|e| (e.name.as_str(), told(&e.payload), None)).collect(), style, &mut out);
        let slot = |s: &fidelon_core::surface::Slot| {
            let words = [
                s.required.then(|| "required".to_owned()),
                s.exposes.then(|| format!("hands over {}", if s.hands.is_empty() { "values".to_owned() } else { s.hands.join(", ") })),
                s.fallback.as_ref().map(|f| format!("else “{f}”")),
                s.inside.as_ref().map(|i| format!("within the fallback of {i}")),
            ];
            words.into_iter().flatten().collect::<Vec<_>>().join(", ")
        };
        rows("slots", surface.slots.iter().map(|s| (s.name.as_str(), slot(s), None)).collect(), style, &mut out);
        rows("members", surface.exposes.iter().map(|m| (m.as_str(), String::new(), None)).collect(), style, &mut out);
    }
    out + &sums(surfaces, style)
}

fn head(surface: &Surface, style: Style, out: &mut String) {
    let export = if surface.export == "default" { String::new() } else { format!("#{}", surface.export) };
    let more = if surface.open { style.quiet("  may take more than its source tells") } else { String::new() };
    let _ = writeln!(out, "{}{export}  {}{more}", style.strong(&surface.file), style.quiet(&surface.framework.to_string()));
}

fn prop(prop: &Prop) -> String {
    let words = [
        Some(prop.ty.to_string()),
        prop.required.then(|| "required".to_owned()),
        prop.two_way.then(|| "two-way".to_owned()),
        prop.default.as_ref().map(|d| format!("else {}", d.split_whitespace().collect::<Vec<_>>().join(" "))),
    ];
    words.into_iter().flatten().collect::<Vec<_>>().join(", ")
}

fn rows(what: &str, rows: Vec<(&str, String, Option<&str>)>, style: Style, out: &mut String) {
    let width = rows.iter().map(|(name, ..)| name.chars().count()).max().unwrap_or(0).min(24);
    for (i, (name, told, about)) in rows.iter().enumerate() {
        let label = if i == 0 { what } else { "" };
        let line = format!("  {}  {}  {}", style.quiet(&format!("{label:7}")), format_args!("{name:width$}"), style.fold(told, 13 + width));
        let _ = writeln!(out, "{}", line.trim_end());
        if let Some(about) = about {
            let _ = writeln!(out, "{}{}", " ".repeat(13 + width), style.quiet(&style.fold(about, 13 + width)));
        }
    }
}

fn sums(surfaces: &[Surface], style: Style) -> String {
    let mut frameworks: BTreeMap<String, usize> = BTreeMap::new();
    for surface in surfaces {
        *frameworks.entry(surface.framework.to_string()).or_default() += 1;
    }
    let by: Vec<String> = frameworks.iter().map(|(name, count)| format!("{count} {name}")).collect();
    let counted = |count: usize, one: &str, many: &str| if count == 1 { format!("1 {one}") } else { format!("{count} {many}") };
    let unresolved = surfaces.iter().flat_map(|s| &s.props).filter(|p| matches!(p.ty, Type::Unresolved { .. })).count();
    let mut out = format!("\n{}", style.strong(&counted(surfaces.len(), "component", "components")));
    if !by.is_empty() {
        let _ = write!(out, ": {}", by.join(", "));
    }
    if unresolved > 0 {
        let _ = write!(out, " · {} whose type the source does not tell", counted(unresolved, "prop", "props"));
    }
    out.push('\n');
    out
}

//! What the members of a component's props are: props, events, slots.

use fidelon_core::surface::{Event, Framework, Prop, Slot, Surface, Type, event_name};

use crate::types::Member;

/// What takes the attributes of an element beside `value` or `checked` takes the handler that a parent passes with them, too: React makes a
/// field without it read-only.
pub(super) fn of_field(out: &mut Surface) {
    let is_known = out.events.iter().any(|e| e.written == "onChange") || out.framework == Framework::Solid;
    let Some(prop) = out.props.iter_mut().find(|p| !is_known && !p.two_way && matches!(p.name.as_str(), "value" | "checked")) else {
        return;
    };
    prop.two_way = true;
    let name = prop.name.clone();
    out.events.push(Event { reports: Some(name.clone()), ..Event::new(name, "onChange") });
}

/// Sorts members into props, events, slots; `x` with `onXChange` is two-way, and `value` or `checked` with `onChange`.
pub(super) fn sort(members: Vec<Member>, out: &mut Surface) {
    let names: Vec<String> = members.iter().map(|m| m.name.clone()).collect();
    // A callback is an event whatever it is called, if what it gives is of no use to who calls it.
    let is_event = |m: &Member| {
        let is_told = m.silent && !is_asked(&m.name) && !m.name.ends_with("Ref");
        let is_handler = || m.name.strip_prefix("on").is_some_and(|r| r.starts_with(char::is_uppercase)) && !is_asked(&m.name);
        m.ty == Type::Function && (is_told || is_handler())
    };
    for member in members {
        if member.name == "ref" || member.name == "key" {
            continue;
        }
        if member.renders || member.ty == Type::Node || member.name == "children" && is_content(&member.ty) {
            let name = if member.name == "children" { "default".to_owned() } else { member.name };
            out.slots.push(Slot { exposes: member.renders && member.takes, required: !member.optional, ..Slot::new(name) });
        } else if is_event(&member) {
            let reports = reported(&member.name, &names);
            let name = reports.clone().unwrap_or_else(|| event_name(&member.name));
            out.events.push(Event { reports, payload: member.arguments, ..Event::new(name, member.name) });
        } else {
            out.props.push(Prop { required: !member.optional, ..member.told.prop(member.name, member.ty) });
        }
    }
    let reported: Vec<String> = out.events.iter().filter_map(|e| e.reports.clone()).collect();
    for prop in &mut out.props {
        prop.two_way = reported.contains(&prop.name);
    }
}

/// Whether children of a type are content: a list of elements is, too, and one of which nobody says what it lists.
fn is_content(ty: &Type) -> bool {
    match ty {
        Type::Node => true,
        Type::Array { of } => is_content(of) || matches!(**of, Type::Unresolved { .. }),
        Type::Either { of } => of.iter().any(is_content),
        _ => false,
    }
}

/// Whether a function is called for what it gives, by its name: `renderTip`, `onRenderItem`, `formatValue`. Its type may not say what that is.
/// `onRender` alone tells that something was rendered.
fn is_asked(name: &str) -> bool {
    const VERBS: [&str; 8] = ["render", "format", "get", "is", "should", "filter", "compare", "transform"];
    if name.strip_prefix("onRender").is_some_and(|what| what.starts_with(char::is_uppercase)) {
        return true;
    }
    VERBS.iter().any(|verb| name.strip_prefix(verb).is_some_and(|rest| rest.is_empty() || rest.starts_with(char::is_uppercase)))
}

fn reported(event: &str, names: &[String]) -> Option<String> {
    let middle = event.strip_prefix("on")?.strip_suffix("Change")?;
    if middle.is_empty() {
        return ["value", "checked"].iter().find(|n| names.iter().any(|m| m == *n)).map(|n| (*n).to_owned());
    }
    let mut chars = middle.chars();
    let prop: String = chars.next().into_iter().flat_map(char::to_lowercase).chain(chars).collect();
    names.contains(&prop).then_some(prop)
}

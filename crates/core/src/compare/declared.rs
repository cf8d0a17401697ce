//! What two components declare, and what of it a parent must know.

use crate::compare::pairing::Pairing;
use crate::compare::types::{Widened, widened};
use crate::compare::{Difference, Level};
use crate::surface::{Event, Prop, Slot, Surface, Type};

/// The differences of what is declared.
pub fn differences(before: &Surface, after: &Surface, pairing: &Pairing) -> Vec<Difference> {
    let mut out = Vec::new();
    props(before, after, pairing, &mut out);
    events(before, after, pairing, &mut out);
    slots(before, after, pairing, &mut out);
    for member in before.exposes.iter().filter(|m| !after.exposes.iter().any(|a| a == pairing.of(m)) && !after.open) {
        add(&mut out, Level::Major, format!("the member `{member}` is gone"));
    }
    for member in after.exposes.iter().filter(|m| !before.exposes.iter().any(|b| b == pairing.back(m)) && !before.open) {
        add(&mut out, Level::Minor, format!("the member `{member}` is new"));
    }
    out
}

fn add(out: &mut Vec<Difference>, level: Level, message: String) {
    out.push(Difference::of_surface(level, message));
}

fn props(before: &Surface, after: &Surface, pairing: &Pairing, out: &mut Vec<Difference>) {
    for prop in &before.props {
        match after.prop(pairing.of(&prop.name)) {
            Some(now) => prop_changed(prop, now, out),
            None if !after.open => add(out, Level::Major, format!("the prop `{}` is gone", prop.name)),
            None => {}
        }
    }
    for prop in after.props.iter().filter(|p| before.prop(pairing.back(&p.name)).is_none() && !before.open) {
        match prop.required {
            true => add(out, Level::Major, format!("the prop `{}` is new, and must be passed", prop.name)),
            false => add(out, Level::Minor, format!("the prop `{}` is new", prop.name)),
        }
    }
}

fn prop_changed(prop: &Prop, now: &Prop, out: &mut Vec<Difference>) {
    let name = &prop.name;
    if now.name != *name {
        add(out, Level::Major, format!("the prop `{name}` is called `{}`", now.name));
    }
    let types = format!("`{}`, which was `{}`", now.ty, prop.ty);
    match widened(&prop.ty, &now.ty) {
        // What a source does not tell is compared by what is seen.
        _ if is_untold(&prop.ty) || is_untold(&now.ty) => {}
        Widened::Same => {}
        Widened::More => add(out, Level::Minor, format!("the prop `{name}` takes more: {types}")),
        Widened::Less => add(out, Level::Major, format!("the prop `{name}` takes less: {types}")),
        Widened::Other => add(out, Level::Major, format!("the prop `{name}` takes something else: {types}")),
    }
    match (prop.required, now.required) {
        (false, true) => add(out, Level::Major, format!("the prop `{name}` must be passed")),
        (true, false) => add(out, Level::Minor, format!("the prop `{name}` may be left out")),
        _ => {}
    }
    match (prop.two_way, now.two_way) {
        (true, false) => add(out, Level::Major, format!("the prop `{name}` reports no change to the parent any more")),
        (false, true) => add(out, Level::Minor, format!("the prop `{name}` reports its changes to the parent")),
        _ => {}
    }
}

fn is_untold(ty: &Type) -> bool {
    match ty {
        Type::Unresolved { .. } => true,
        Type::Array { of } => is_untold(of),
        Type::Tuple { of } | Type::Either { of } => of.iter().any(is_untold),
        Type::Object { fields } => fields.iter().any(|f| is_untold(&f.ty)),
        _ => false,
    }
}

/// What an event carries: `void` is nothing.
fn carried(payload: &[Type]) -> &[Type] {
    match payload {
        [Type::Unresolved { text }] if matches!(text.trim(), "void" | "undefined" | "null") => &[],
        all => all,
    }
}

/// Events that are no report of a two-way prop: those are told with the prop.
fn own_events(surface: &Surface) -> impl Iterator<Item = &Event> {
    surface.events.iter().filter(|e| e.reports.is_none())
}

fn events(before: &Surface, after: &Surface, pairing: &Pairing, out: &mut Vec<Difference>) {
    for event in own_events(before) {
        let Some(now) = after.events.iter().find(|e| e.name == pairing.of(&event.name)) else {
            if !after.open {
                add(out, Level::Major, format!("the event `{}` is gone", event.name));
            }
            continue;
        };
        if now.name != event.name {
            add(out, Level::Major, format!("the event `{}` is called `{}`", event.name, now.name));
        }
        let (Some(was), Some(is)) = (&event.payload, &now.payload) else { continue };
        let (was, is) = (carried(was), carried(is));
        let told = |types: &[Type]| types.iter().map(|t| format!("`{t}`")).collect::<Vec<_>>().join(", ");
        if is.len() < was.len() {
            add(out, Level::Major, format!("the event `{}` carries less: {}, which was {}", event.name, told(is), told(was)));
        }
        for (was, is) in was.iter().zip(is).filter(|(a, b)| !is_untold(a) && !is_untold(b)) {
            match widened(was, is) {
                Widened::Same => {}
                // Whoever listens has to know all that may come.
                Widened::Less => add(out, Level::Patch, format!("the event `{}` carries `{is}` alone, of `{was}`", event.name)),
                Widened::More | Widened::Other => {
                    add(out, Level::Major, format!("the event `{}` carries `{is}`, which was `{was}`", event.name));
                }
            }
        }
    }
    for event in own_events(after).filter(|e| !before.events.iter().any(|b| b.name == pairing.back(&e.name)) && !before.open) {
        add(out, Level::Minor, format!("the event `{}` is new", event.name));
    }
}

fn slots(before: &Surface, after: &Surface, pairing: &Pairing, out: &mut Vec<Difference>) {
    for slot in &before.slots {
        match after.slot(pairing.of(&slot.name)) {
            Some(now) => slot_changed(slot, now, out),
            None if !after.open => add(out, Level::Major, format!("the slot `{}` is gone", slot.name)),
            None => {}
        }
    }
    for slot in after.slots.iter().filter(|s| before.slot(pairing.back(&s.name)).is_none() && !before.open) {
        match slot.required {
            true => add(out, Level::Major, format!("the slot `{}` is new, and must be filled", slot.name)),
            false => add(out, Level::Minor, format!("the slot `{}` is new", slot.name)),
        }
    }
}

fn slot_changed(slot: &Slot, now: &Slot, out: &mut Vec<Difference>) {
    let name = &slot.name;
    if now.name != *name {
        add(out, Level::Major, format!("the slot `{name}` is called `{}`", now.name));
    }
    for handed in slot.hands.iter().filter(|h| !now.hands.is_empty() && !now.hands.contains(h)) {
        add(out, Level::Major, format!("the slot `{name}` hands no `{handed}` over any more"));
    }
    for handed in now.hands.iter().filter(|h| !slot.hands.is_empty() && !slot.hands.contains(h)) {
        add(out, Level::Minor, format!("the slot `{name}` hands `{handed}` over"));
    }
    match (slot.required, now.required) {
        (false, true) => add(out, Level::Major, format!("the slot `{name}` must be filled")),
        (true, false) => add(out, Level::Minor, format!("the slot `{name}` may be left empty")),
        _ => {}
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::surface::Framework;

    fn told(before: &Surface, after: &Surface) -> Vec<String> {
        let pairing = Pairing::new(before, after, &[]).expect("paired");
        differences(before, after, &pairing).into_iter().map(|d| format!("{} {}", d.level, d.message)).collect()
    }

    #[test]
    fn an_event_that_carries_void_carries_nothing() {
        let with = |payload: Vec<Type>| {
            let mut out = Surface::new("A", "A.svelte", "default", Framework::Svelte);
            out.events = vec![Event { payload: Some(payload), ..Event::new("full", "full") }];
            out
        };
        assert_eq!(told(&with(vec![Type::Unresolved { text: "undefined".into() }]), &with(Vec::new())), Vec::<String>::new());
        assert_eq!(told(&with(vec![Type::String]), &with(Vec::new())).len(), 1);
    }

    #[test]
    fn what_is_gone_new_narrower_and_wider() {
        let mut before = Surface::new("A", "A.vue", "default", Framework::Vue);
        before.props = vec![Prop::new("size", Type::String), Prop { two_way: true, ..Prop::new("open", Type::Boolean) }];
        before.events = vec![Event { payload: Some(vec![Type::Number]), ..Event::new("fire", "fire") }, Event::new("cool", "cool")];
        before.slots = vec![Slot::new("default")];
        before.exposes = vec!["focus".into()];
        assert_eq!(told(&before, &before), Vec::<String>::new());
        let mut after = before.clone();
        after.props = vec![
            Prop { required: true, ..Prop::new("size", Type::Either { of: vec![Type::String, Type::Number] }) },
            Prop::new("open", Type::Boolean),
            Prop::new("tone", Type::String),
        ];
        after.events = vec![Event { payload: Some(vec![Type::String]), ..Event::new("fire", "fire") }, Event::new("warm", "warm")];
        after.slots = vec![Slot { required: true, ..Slot::new("default") }, Slot::new("footer")];
        after.exposes = vec!["blur".into()];
        assert_eq!(
            told(&before, &after),
            [
                "minor the prop `size` takes more: `string | number`, which was `string`",
                "major the prop `size` must be passed",
                "major the prop `open` reports no change to the parent any more",
                "minor the prop `tone` is new",
                "major the event `fire` carries `string`, which was `number`",
                "major the event `cool` is gone",
                "minor the event `warm` is new",
                "major the slot `default` must be filled",
                "minor the slot `footer` is new",
                "major the member `focus` is gone",
                "minor the member `blur` is new",
            ]
        );
    }
}

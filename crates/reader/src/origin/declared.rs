//! Where a component's own file writes an event, a slot or a member: what a finding about one points at. As text, since each framework has ways of
//! its own, and a name in quotes, a tag or a word says the same in all of them.

use fidelon_core::surface::Surface;
use fidelon_source::{Place, place_of};

use crate::words;

/// The place at which the file of a component writes the event, the slot or the member of a name; none where it writes none.
pub fn place(surface: &Surface, source: &str, name: &str) -> Option<Place> {
    let event = surface.events.iter().find(|e| e.name == name || e.written == name);
    let slot = surface.slots.iter().find(|s| s.name == name);
    let at = event
        .and_then(|event| of_event(source, &event.written))
        .or_else(|| slot.and_then(|slot| of_slot(source, &slot.name)))
        .or_else(|| surface.exposes.iter().any(|member| member == name).then(|| of_member(source, name))?)?;
    let (line, column) = place_of(source, at);
    Some(Place { file: surface.file.clone(), line, column })
}

/// Words of the lines that send events or declare them.
const SENDING: [&str; 6] = ["emit", "Emit", "dispatch", "Event", "output", "Output"];

/// `emit('raise')`, `dispatch("raise")`, `raise = output()`, `onRaise`, `on:click`. A name in quotes may be anything else where no line says so.
fn of_event(source: &str, written: &str) -> Option<usize> {
    let plain = written.strip_prefix("on:").unwrap_or(written);
    let quoted: Vec<usize> = ['\'', '"', '`']
        .iter()
        .flat_map(|q| source.match_indices(&format!("{q}{plain}{q}")).map(|(at, _)| at).collect::<Vec<_>>())
        .collect();
    let sends = |at: &&usize| SENDING.iter().any(|word| line_at(source, **at).contains(word));
    let sent = quoted.iter().filter(sends).min().copied();
    let alone = || if let [only] = quoted[..] { Some(only) } else { None };
    sent.or_else(|| words::places(source, written).next()).or_else(alone).or_else(|| words::places(source, plain).next())
}

fn line_at(source: &str, at: usize) -> &str {
    let start = source[..at].rfind('\n').map_or(0, |i| i + 1);
    source[start..].lines().next().unwrap_or_default()
}

/// `<slot name="lid">`, `{@render lid?.()}`, `<ng-content select="[lid]">`, `children`.
fn of_slot(source: &str, name: &str) -> Option<usize> {
    let tags = ["<slot", "<ng-content"].iter().flat_map(|tag| source.match_indices(*tag)).map(|(at, _)| at);
    let says = |at: usize| {
        let tag = source[at..].split('>').next().unwrap_or_default();
        let named = tag.contains("name=") || tag.contains("select=");
        if name == "default" { !named } else { named && words::places(tag, name).next().is_some() }
    };
    let prop = if name == "default" { "children" } else { name };
    let rendered = || {
        source
            .match_indices("{@render")
            .map(|(at, _)| at)
            .find(|at| words::places(source[*at..].split('}').next().unwrap_or_default(), prop).next().is_some())
    };
    let handed = || if name == "default" { words::places(source, prop).next() } else { None };
    tags.filter(|at| says(*at)).min().or_else(rendered).or_else(handed)
}

/// Where it is handed out (`defineExpose({ turn })`, `export function turn`), where it is a method, else where its name stands first.
fn of_member(source: &str, name: &str) -> Option<usize> {
    let handing = ["defineExpose(", "useImperativeHandle(", "expose("].iter().find_map(|call| source.find(call));
    let handed = handing.and_then(|at| Some(at + words::places(&source[at..], name).next()?));
    let is_own = |at: &usize| line_at(source, *at).trim_start().starts_with("export ") || source[at + name.len()..].starts_with('(');
    handed.or_else(|| words::places(source, name).find(is_own)).or_else(|| words::places(source, name).next())
}

#[cfg(test)]
mod tests {
    use super::*;
    use fidelon_core::surface::{Event, Framework, Slot};

    #[test]
    fn what_a_file_declares_is_found_in_it() {
        for (source, name, line) in [
            ("// raise\nconst emit = defineEmits(['raise'])", "raise", Some(2)),
            ("<button\n on:raise />", "raise", Some(2)),
            ("const dispatch = 1\ndispatch(\"raise\")", "raise", Some(2)),
            ("class Dial {\n  @Output() raise = new EventEmitter()\n}", "raise", Some(2)),
            ("<slot name=\"lid\"/>\n<slot />", "default", Some(2)),
            ("<slot />\n<slot name='lid'/>", "lid", Some(2)),
            ("<ng-content />\n<ng-content select=\"[lid]\" />", "lid", Some(2)),
            ("let { children } = $props()\n{@render children?.()}", "default", Some(2)),
            ("function turn() {}\ndefineExpose({ turn })", "turn", Some(2)),
            ("// turn\nexport function turn() {}", "turn", Some(2)),
            ("/* turn */\nturn() {}", "turn", Some(2)),
            ("<b kind=\"raise\"/>\n<i @click=\"$emit('raise')\"/>", "raise", Some(2)),
            ("nothing of it", "turn", None),
            ("'raise'", "glaze", None),
        ] {
            let mut surface = Surface::new("Dial", "Dial.vue", "default", Framework::Vue);
            surface.events = vec![Event::new("raise", if source.contains("on:raise") { "on:raise" } else { "raise" })];
            surface.slots = vec![Slot::new("default"), Slot::new("lid")];
            surface.exposes = vec!["turn".into()];
            assert_eq!(place(&surface, source, name).map(|p| p.line), line, "{source}: {name}");
        }
    }
}

use super::{PLAIN, Record};

pub(super) static RECORD: Record = Record {
    name: "svelte",
    packages: &["svelte"],
    // Handlers are props, by custom written like those of the page.
    listener: |event| format!("on{}", event.to_lowercase()),
    // What is dispatched is declared nowhere else.
    // `on:change` of the older form is there as it is dispatched, or passed on.
    declares_event: |written| written.starts_with("on") && !written.starts_with("on:"),
    calls_functions_of_parent: true,
    shows_uses_in_source: true,
    // "Svelte: $bindable".
    shares_bound: true,
    ..PLAIN
};

//! The table of all laws.

use super::{
    LawContext, LawOutcome, Runs, access, binding, child, event, list, operable, prop, reference, render, request, slot, stage, style,
    surface,
};

/// How a broken law is explained.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Explains {
    /// By the combinations in which it breaks: others are played to tell which of their values make it so.
    Combination,
    /// By what it is about: the change of a prop, or all combinations together.
    Change,
}

/// A law.
#[derive(Debug, Clone, Copy)]
pub struct Law {
    /// Its stable name.
    pub name: &'static str,
    /// What it demands, in one line.
    pub demands: &'static str,
    /// How it is explained.
    pub explains: Explains,
    /// Whether a scene keeps it too.
    pub of_scenes: bool,
    /// Whether frameworks tell of what it demands once and then remember that they did.
    pub told_once: bool,
    /// Whether it looks at changes of props beside mounts: what breaks in a mount is explained by mounts alone.
    pub beside_changes: bool,
    /// Whether plain HTML keeps it too: a page takes nothing back, and is never removed from itself.
    pub of_pages: bool,
    /// The law of which it is a weaker form: what broke that one for a prop breaks this one too, by the same fault.
    pub beneath: Option<&'static str>,
    /// How it is checked.
    pub check: fn(&LawContext<'_>, &mut dyn Runs) -> LawOutcome,
}

/// The law that only a run on two stages can check.
pub const AGREES: &str = "stage/agrees";

const fn law(name: &'static str, demands: &'static str, check: fn(&LawContext<'_>, &mut dyn Runs) -> LawOutcome) -> Law {
    Law {
        name,
        demands,
        explains: Explains::Combination,
        of_scenes: false,
        told_once: false,
        beside_changes: false,
        of_pages: false,
        beneath: None,
        check,
    }
}

impl Law {
    const fn of_changes(self) -> Self {
        Self { explains: Explains::Change, ..self }
    }

    const fn of_scenes(self) -> Self {
        Self { of_scenes: true, ..self }
    }

    const fn of_pages(self) -> Self {
        Self { of_pages: true, ..self }
    }

    const fn told_once(self) -> Self {
        Self { told_once: true, ..self }
    }

    const fn beside_changes(self) -> Self {
        Self { beside_changes: true, ..self }
    }

    const fn beneath(self, law: &'static str) -> Self {
        Self { beneath: Some(law), ..self }
    }
}

/// All laws, in the order in which they are told.
pub const LAWS: [Law; 48] = [
    law("render/succeeds", "mounting and updating raise no error", render::succeeds).of_scenes().of_pages().beside_changes(),
    law("render/quiet", "nothing is logged as a warning or an error", render::quiet).of_scenes().of_pages().told_once().beside_changes(),
    law("render/settles", "it comes to rest: no endless update loop", render::settles).of_scenes().of_pages(),
    law("render/repeatable", "two fresh mounts of one combination are the same", render::repeatable).of_scenes().of_pages(),
    law(
        "render/leaves-nothing",
        "after its removal no node, listener, timer, observer, request or connection of it is left",
        render::leaves_nothing,
    )
    .of_scenes(),
    law("prop/live", "a changed prop shows as it would in a fresh mount", prop::live).of_changes(),
    law("render/current", "what it shows is what a rendering anew would show", render::current),
    law("prop/late", "a prop that comes late shows as if it had been there from the start", prop::late).of_changes().beneath("prop/live"),
    law("prop/default", "a prop that is not passed shows as its declared default", prop::default),
    law("prop/steady", "passing equal props again changes nothing, emits nothing and requests nothing", prop::steady),
    law("prop/untouched", "values that are passed in are not changed in place", prop::untouched),
    law("prop/contained", "a declared prop does not land on an element as an unknown attribute", prop::contained),
    law("prop/typed", "what a contract passes fits the declared types", prop::typed).of_changes(),
    law("event/declared", "only declared events are emitted", event::declared),
    law("event/payload", "each payload fits its declared type", event::payload),
    law(
        "event/inert",
        "while it is disabled nothing that a person does makes it emit, while it is read-only nothing changes",
        event::inert,
    ),
    law("event/once", "one press makes it emit an event once", event::once),
    law("event/current", "an event that comes with a change tells the value that is now", event::current),
    law("event/prompted", "what a press makes it emit is not emitted when the parent passes props", event::prompted).of_changes(),
    law("event/latest", "the callback that the parent passed last is the one that is called", event::latest),
    law("binding/shows", "the control of a two-way prop shows the parent's value", binding::shows).of_changes(),
    law("binding/reports", "one edit by a person is reported once, with the edited value", binding::reports).of_changes(),
    law("binding/silent", "what the parent itself sets is not reported back", binding::silent),
    law("binding/converges", "after an edit and its answer nothing more happens", binding::converges).of_changes(),
    law("binding/obeys", "if the parent keeps its value, the view returns to it", binding::obeys).of_changes(),
    law("slot/once", "content that is given stands in its place and nowhere else", slot::once),
    law("slot/fallback", "a slot left empty shows its fallback, a filled one does not", slot::fallback),
    law("slot/independent", "filling one slot changes nothing of another's content", slot::independent),
    law("slot/ordered", "several children stand in the order given", slot::ordered),
    law("slot/exposes", "what a slot exposes reaches the content and follows updates", slot::exposes).of_changes(),
    law("slot/live", "new content takes the place of the old", slot::live),
    law("ref/available", "every declared member is there after the mount", reference::available).of_changes(),
    law("ref/stable", "an update gives the parent no other handle", reference::stable),
    law("ref/released", "after the removal the parent holds no handle", reference::released),
    law("list/identity", "when the items of an array change places, their rows move with them", list::identity).of_changes(),
    law("list/kept", "what a person does in a row goes with its item when the items change places", list::kept).of_changes(),
    law("list/own", "what is done in the row of an item is told of that item", list::own),
    law("request/latest", "of two requests under way the last one's reply is what is shown", request::latest).of_changes(),
    law("surface/used", "what is declared is used", surface::used),
    law("child/declared", "what it passes to a child of the project is declared there", child::declared),
    law("style/contained", "a scoped stylesheet matches no node outside the component", style::contained).of_scenes(),
    law("access/named", "every control has an accessible name", access::named).of_changes().of_scenes().of_pages(),
    law("access/keys", "a control that is none of HTML works by Enter or Space too", operable::keys).of_changes(),
    law("access/focus", "a control that is used stays the same element and keeps the focus", operable::focus),
    law("access/states", "`aria-expanded` follows what a press opens and closes", operable::states),
    law("access/modal", "a modal dialog that opens takes the focus", operable::modal),
    law("access/unique-ids", "no id occurs twice, and what ids refer to is there", access::unique_ids).of_scenes(),
    law(AGREES, "a real browser shows the same as the embedded stage", stage::agrees).of_scenes().of_pages().told_once(),
];

/// The names of all laws.
pub fn names() -> impl Iterator<Item = &'static str> {
    LAWS.iter().map(|l| l.name)
}

//! The table of faults.

/// What goes wrong.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Kind {
    /// A condition holds where it should not.
    Condition,
    /// A check before the work is missing.
    Guard,
    /// `and` for `or`.
    Logic,
    /// A limit is off by one, or the other end is taken.
    Boundary,
    /// A number is off by one.
    Number,
    /// Another sum.
    Arithmetic,
    /// A truth is a falsehood.
    Flag,
    /// A default is missing.
    Default,
    /// An event is not sent.
    EventLost,
    /// An event is sent twice.
    EventTwice,
    /// An event carries something else.
    Payload,
    /// A listener is missing.
    Listener,
    /// A listener lacks what was said with it: `prevent`, `once`.
    Modifier,
    /// A value is worked out once and never again.
    Once,
    /// A change of state is missing.
    Update,
    /// A step is left out.
    Step,
    /// What is to be done to a value is not done: it is not trimmed, not sorted, not filtered.
    Method,
    /// Something is left behind.
    Cleanup,
    /// An attribute or a prop of a part is missing.
    Attribute,
    /// A class is missing.
    Class,
    /// A key of a list is missing.
    Key,
    /// A two-way binding is missing.
    Binding,
    /// What a parent passes besides is not passed on.
    Rest,
    /// A piece of the output is missing.
    Output,
    /// A slot is missing.
    SlotLost,
    /// A slot stands twice.
    SlotTwice,
    /// A slot has no fallback.
    Fallback,
    /// A rule of style is missing.
    Style,
}

/// Name and words of each.
const TABLE: [(Kind, &str, &str); 28] = [
    (Kind::Condition, "condition", "a condition is turned round"),
    (Kind::Guard, "guard", "a check before the work is missing"),
    (Kind::Logic, "logic", "`and` and `or` are mistaken"),
    (Kind::Boundary, "boundary", "a limit is mistaken"),
    (Kind::Number, "number", "a number is off by one"),
    (Kind::Arithmetic, "arithmetic", "the sum is mistaken"),
    (Kind::Flag, "flag", "true and false are mistaken"),
    (Kind::Default, "default", "a default is missing"),
    (Kind::EventLost, "event-lost", "an event is not sent"),
    (Kind::EventTwice, "event-twice", "an event is sent twice"),
    (Kind::Payload, "payload", "an event carries something else"),
    (Kind::Listener, "listener", "a listener is missing"),
    (Kind::Modifier, "modifier", "a listener lacks its modifiers"),
    (Kind::Once, "once", "a value does not follow what it is made of"),
    (Kind::Update, "update", "a change of state is missing"),
    (Kind::Step, "step", "a step is left out"),
    (Kind::Method, "method", "what is to be done to a value is not done"),
    (Kind::Cleanup, "cleanup", "something is left behind"),
    (Kind::Attribute, "attribute", "an attribute is missing"),
    (Kind::Class, "class", "a class is missing"),
    (Kind::Key, "key", "the key of a list is missing"),
    (Kind::Binding, "binding", "a two-way binding is missing"),
    (Kind::Rest, "rest", "what else a parent passes is not passed on"),
    (Kind::Output, "output", "a piece of the output is missing"),
    (Kind::SlotLost, "slot-lost", "a slot is missing"),
    (Kind::SlotTwice, "slot-twice", "a slot stands twice"),
    (Kind::Fallback, "fallback", "a slot has no fallback"),
    (Kind::Style, "style", "a rule of style is missing"),
];

impl Kind {
    /// All of them, in the order of the table.
    pub fn all() -> impl Iterator<Item = Self> {
        TABLE.iter().map(|(kind, ..)| *kind)
    }

    /// A short name: `event-lost`.
    pub fn name(self) -> &'static str {
        TABLE[self as usize].1
    }

    /// What goes wrong, in words.
    pub fn words(self) -> &'static str {
        TABLE[self as usize].2
    }

    /// The kind of this name.
    pub fn named(name: &str) -> Option<Self> {
        TABLE.iter().find(|(_, known, _)| *known == name).map(|(kind, ..)| *kind)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_table_stands_in_the_order_of_the_kinds() {
        for (at, kind) in Kind::all().enumerate() {
            assert_eq!(kind as usize, at);
            assert_eq!(Kind::named(kind.name()), Some(kind));
        }
        assert_eq!(Kind::named("other"), None);
    }
}

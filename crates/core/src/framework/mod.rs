//! What each framework does in its own way: one record each, in a file of its own.
//!
//! Laws, plans and stages ask the record ("does a parent hear what is not declared?"), never which framework it is, so that a new one is
//! described in one place.

mod angular;
mod element;
mod html;
mod preact;
mod react;
mod solid;
mod svelte;
mod vue;

use serde::{Deserialize, Serialize};

/// The frameworks whose components can be read and run.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Framework {
    /// Vue 3.
    Vue,
    /// React 18 and 19.
    React,
    /// Preact.
    Preact,
    /// Svelte 5, in its own form and in that of Svelte 4.
    Svelte,
    /// Angular.
    Angular,
    /// Solid.
    Solid,
    /// Plain HTML with scripts.
    Html,
    /// Standard custom elements, with or without a library to write them.
    Element,
}

impl Framework {
    /// All of them.
    pub const ALL: [Self; 8] = [Self::Vue, Self::React, Self::Preact, Self::Svelte, Self::Angular, Self::Solid, Self::Html, Self::Element];

    /// What is known of it.
    pub fn record(self) -> &'static Record {
        match self {
            Self::Vue => &vue::RECORD,
            Self::React => &react::RECORD,
            Self::Preact => &preact::RECORD,
            Self::Svelte => &svelte::RECORD,
            Self::Angular => &angular::RECORD,
            Self::Solid => &solid::RECORD,
            Self::Html => &html::RECORD,
            Self::Element => &element::RECORD,
        }
    }

    /// Whether an attribute is one that a framework writes for itself.
    pub fn is_mark(attribute: &str) -> bool {
        Self::ALL.iter().any(|framework| framework.record().marks.iter().any(|mark| attribute.starts_with(mark)))
    }

    /// Whether a package is part of any framework.
    pub fn is_package(name: &str) -> bool {
        let is_of = |known: &&str| name == *known || known.ends_with('/') && name.starts_with(*known);
        Self::ALL.iter().any(|framework| framework.record().packages.iter().any(is_of))
    }
}

impl std::fmt::Display for Framework {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        f.write_str(self.record().name)
    }
}

/// What the rest of the program has to know of a framework.
#[derive(Debug)]
pub struct Record {
    /// Its name in contracts, results and messages.
    pub name: &'static str,
    /// The packages that it consists of, or a scope of them (`@vue/`). What they throw is about how the framework is used, not about a value
    /// that a component refuses.
    pub packages: &'static [&'static str],
    /// Attributes that HTML does not know and the framework leaves on elements.
    pub attributes: &'static [&'static str],
    /// What attributes begin with that it writes for itself, on whatever it renders: they say nothing of a component.
    pub marks: &'static [&'static str],

    /// How a parent writes its listener for an event that the source does not declare.
    pub listener: fn(&str) -> String,
    /// The prop whose changes an event reports, where the event's name tells.
    pub reported_prop: fn(&str) -> Option<String>,
    /// Whether an event of this written name is declared apart from where it is sent.
    pub declares_event: fn(&str) -> bool,
    /// Events and content are props of their own: `onFire`, `children`.
    pub passes_all_as_props: bool,
    /// A parent is told by functions that it passes, and may pass other ones later.
    pub calls_functions_of_parent: bool,
    /// A parent hears events that the component does not declare.
    pub parent_hears_undeclared: bool,

    /// A prop that was passed can be left out later.
    pub can_unset_props: bool,
    /// A two-way prop that was the component's own can become the parent's later.
    pub can_bind_later: bool,
    /// A component may change what is bound to it in place: the parent holds the same.
    pub shares_bound: bool,
    /// A field shows the parent's value again when the parent does not take the change.
    pub holds_fields: bool,
    /// An update that nobody asked for renders the component anew, so that it can be compared with what is shown.
    pub renders_on_request: bool,

    /// A component is an element of the page itself: it has attributes of its own and is its own handle.
    pub is_element: bool,
    /// The handle that a parent's ref holds may be another one after an update.
    pub may_renew_handle: bool,
    /// The component itself hands its handle to the parent and has to take it back.
    pub hands_out_handle: bool,

    /// All uses of a declared name are in sources that are read.
    pub shows_uses_in_source: bool,
    /// Templates may be files of their own.
    pub has_template_files: bool,
    /// It is a page, whose scripts run once.
    pub is_page: bool,
    /// It, or what its project starts with, has to be loaded before anything else of the project.
    pub loads_first: bool,
    /// An instance can stay mounted in a detached place, without parent or session.
    pub can_stand_by: bool,
    /// How a main script that uses it puts things around the components of an application; none where it does not, or in a way of its own.
    pub starts_by: Option<StartsBy>,
}

/// How an application starts.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum StartsBy {
    /// An application is made, and plugins are used on it.
    Application,
    /// Components are rendered within others.
    Rendering,
}

/// What holds of most: a record says where its framework differs.
const PLAIN: Record = Record {
    name: "",
    packages: &[],
    attributes: &[],
    marks: &[],
    listener: as_written,
    reported_prop: reports_nothing,
    declares_event: never,
    passes_all_as_props: false,
    calls_functions_of_parent: false,
    parent_hears_undeclared: false,
    can_unset_props: true,
    can_bind_later: true,
    holds_fields: false,
    renders_on_request: false,
    is_element: false,
    may_renew_handle: false,
    hands_out_handle: false,
    shows_uses_in_source: false,
    has_template_files: false,
    is_page: false,
    loads_first: false,
    can_stand_by: false,
    shares_bound: false,
    starts_by: None,
};

/// What holds where JSX hands over everything as props.
const JSX: Record = Record {
    listener: as_handler,
    declares_event: always,
    passes_all_as_props: true,
    calls_functions_of_parent: true,
    shows_uses_in_source: true,
    starts_by: Some(StartsBy::Rendering),
    ..PLAIN
};

/// A handler that is a prop: `targetSettled` → `onTargetSettled`.
fn as_handler(event: &str) -> String {
    let mut chars = event.chars();
    chars.next().map(|first| format!("on{}{}", first.to_uppercase(), chars.as_str())).unwrap_or_default()
}

fn as_written(event: &str) -> String {
    event.to_owned()
}

fn reports_nothing(_: &str) -> Option<String> {
    None
}

fn always(_: &str) -> bool {
    true
}

fn never(_: &str) -> bool {
    false
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn an_undeclared_event_is_listened_for_as_each_framework_writes_it() {
        let written = |framework: Framework| (framework.record().listener)("targetSettled");
        let all: Vec<String> = Framework::ALL.into_iter().map(|f| format!("{f} {}", written(f))).collect();
        let wanted = [
            "vue targetSettled",
            "react onTargetSettled",
            "preact onTargetSettled",
            "svelte ontargetsettled",
            "angular targetSettled",
            "solid onTargetSettled",
            "html target-settled",
            "element target-settled",
        ];
        assert_eq!(all, wanted);
    }

    #[test]
    fn a_name_tells_which_prop_an_event_reports() {
        let reported = |framework: Framework, event: &str| (framework.record().reported_prop)(event);
        assert_eq!(reported(Framework::Vue, "update:tall-vase").as_deref(), Some("tallVase"));
        assert_eq!(reported(Framework::Angular, "tallVaseChange").as_deref(), Some("tallVase"));
        assert_eq!(reported(Framework::Vue, "tallVaseChange"), None);
        assert_eq!(reported(Framework::React, "onTallVaseChange"), None, "which prop a callback reports is read from its types");
    }

    #[test]
    fn results_and_contracts_know_it_by_one_name() {
        for framework in Framework::ALL {
            let name = serde_json::to_value(framework).expect("a name");
            assert_eq!(name, framework.to_string());
            assert_eq!(serde_json::from_value::<Framework>(name).expect("the same"), framework);
        }
    }

    #[test]
    fn a_framework_knows_what_it_writes_for_itself() {
        for mark in ["data-v-1f3", "_ngcontent-ng-c1", "ng-reflect-items", "data-reactroot"] {
            assert!(Framework::is_mark(mark), "{mark}");
        }
        for own in ["data-value", "ngModel", "data-variant"] {
            assert!(!Framework::is_mark(own), "{own}");
        }
    }

    #[test]
    fn each_package_belongs_to_one_framework() {
        let mut all: Vec<&str> = Framework::ALL.into_iter().flat_map(|f| f.record().packages).copied().collect();
        let known = all.len();
        all.sort_unstable();
        all.dedup();
        assert_eq!(all.len(), known);
        assert!(Framework::is_package("react-dom") && !Framework::is_package("react-select"));
        assert!(Framework::is_package("@vue/runtime-dom") && !Framework::is_package("@vueuse/core"));
    }
}

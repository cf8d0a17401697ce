//! What stands on a stage together: a component alone, or several parts whose parent is made up of state and wires.

use indexmap::IndexMap;
use serde::{Deserialize, Serialize};

use crate::surface::{Framework, Surface};
use crate::value::Value;

/// A component or another export of a module.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Module {
    /// The file, relative to the project.
    pub file: String,
    /// The export: `default` or a name.
    pub export: String,
}

/// A component that is put around others.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Wrapper {
    /// The component.
    pub component: Module,
    /// Its framework: it wraps the parts of this one. None where its file does not tell.
    pub framework: Option<Framework>,
    /// What it is passed.
    pub props: IndexMap<String, Value>,
}

/// A component that slot content may name as a tag.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Used {
    /// The tag.
    pub name: String,
    /// The component.
    pub component: Module,
    /// Its framework: the content of parts of this one may name it. None where its file does not tell.
    pub framework: Option<Framework>,
}

/// What a part of a scene is passed for a prop.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Passed {
    /// This value.
    Value(Value),
    /// What this expression gives over the state.
    Expression(String),
}

/// A component in its place.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Part {
    /// Its name in the scene; empty for a component that stands alone.
    pub name: String,
    /// What it declares.
    pub surface: Surface,
    /// What the scene passes it, by prop.
    pub props: IndexMap<String, Passed>,
    /// The content of its slots, as HTML.
    pub fills: IndexMap<String, Option<String>>,
    /// True when the parent takes a ref though the component is not known to expose members by name.
    pub reached: bool,
    /// True when it is asked where the content of its slots stands.
    pub tracked: bool,
}

impl Part {
    /// A part with nothing passed to it.
    pub fn new(name: &str, surface: Surface) -> Self {
        Self { name: name.into(), surface, props: IndexMap::new(), fills: IndexMap::new(), reached: false, tracked: false }
    }
}

/// What happens in the parent when a part emits an event.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Wire {
    /// The part.
    pub part: String,
    /// The event, or the two-way prop.
    pub event: String,
    /// The new value of each field of the state: an expression over `state` and `$event`.
    pub set: IndexMap<String, String>,
}

/// A module of what an application starts with. What it exports by default is a function that takes the framework's application, or a component
/// that is put around each part, as the framework has it.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Started {
    /// The file that it was read from, relative to the project.
    pub file: String,
    /// Its text.
    pub code: String,
}

/// What stands on a stage.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Scene {
    /// The parts, in their order on the page; one without a name when a component stands alone.
    pub parts: Vec<Part>,
    /// The state that the parts share, and its start. A component alone has none.
    pub state: Option<IndexMap<String, Value>>,
    /// What events do to it.
    pub wires: Vec<Wire>,
    /// Components around each part, outermost first.
    pub wrap: Vec<Wrapper>,
    /// Components that slot content may name.
    pub uses: Vec<Used>,
    /// Modules that are loaded before all others, relative to the project. What they export by default sets a framework up.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub setup: Vec<String>,
    /// What the application that the parts belong to starts with, where they ask for it.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub start: Vec<Started>,
    /// Stylesheets of the page, relative to the project.
    pub styles: Vec<String>,
    /// Values that modules export: as a contract names them, and the module.
    pub values: IndexMap<String, Module>,
    /// Properties whose computed value is asked for.
    pub computed: Vec<String>,
}

impl Scene {
    /// A component alone, with nothing around it.
    pub fn alone(surface: Surface) -> Self {
        Self {
            parts: vec![Part::new("", surface)],
            state: None,
            wires: Vec::new(),
            wrap: Vec::new(),
            uses: Vec::new(),
            setup: Vec::new(),
            start: Vec::new(),
            styles: Vec::new(),
            values: IndexMap::new(),
            computed: Vec::new(),
        }
    }

    /// True where a part is plain HTML, whose scripts run once on a page.
    pub fn is_of_pages(&self) -> bool {
        self.parts.iter().any(|p| p.surface.framework.record().is_page)
    }

    /// The files that its modules start from, relative to the project.
    pub fn files(&self) -> impl Iterator<Item = &str> {
        let parts = self.parts.iter().filter(|p| !p.surface.is_served()).map(|p| p.surface.file.as_str());
        let modules = self.wrap.iter().map(|w| &w.component).chain(self.uses.iter().map(|u| &u.component)).chain(self.values.values());
        let others = self.setup.iter().chain(&self.styles).map(String::as_str);
        parts.chain(modules.map(|m| m.file.as_str())).chain(others)
    }

    /// The part of this name.
    pub fn part(&self, name: &str) -> Option<&Part> {
        self.parts.iter().find(|p| p.name == name)
    }
}

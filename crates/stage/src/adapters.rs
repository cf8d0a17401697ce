//! The module that knows how a framework mounts, updates and removes a component: one for each, and what it is made with.

use fidelon_core::surface::Framework;

/// An adapter, and the modules of ours that it imports.
pub(crate) struct Adapter {
    /// The name that modules import it by.
    pub(crate) name: &'static str,
    code: &'static str,
    beside: &'static [(&'static str, &'static str)],
}

macro_rules! source {
    ($file:literal) => {
        include_str!(concat!("../adapters/", $file))
    };
}

const JSX: (&str, &str) = ("stage:jsx", source!("jsx.js"));
const ELEMENT: &str = source!("element.js");

impl Adapter {
    /// That of a framework.
    pub(crate) fn of(framework: Framework) -> Self {
        let (name, code, beside): (_, _, &[_]) = match framework {
            Framework::Vue => ("stage:vue", source!("vue.js"), &[]),
            Framework::React => ("stage:react", source!("react.js"), &[JSX]),
            Framework::Preact => ("stage:preact", source!("preact.js"), &[JSX]),
            Framework::Svelte => ("stage:svelte", source!("svelte.js"), &[("stage:pieces.svelte", source!("pieces.svelte"))]),
            Framework::Angular => ("stage:angular", source!("angular.js"), &[("stage:angular-route", source!("angular-route.js"))]),
            Framework::Solid => ("stage:solid", source!("solid.js"), &[]),
            // A page may register elements.
            Framework::Html => ("stage:html", source!("html.js"), &[("stage:element", ELEMENT)]),
            Framework::Element => ("stage:element", ELEMENT, &[]),
        };
        Self { name, code, beside }
    }

    /// All of its modules, by name.
    pub(crate) fn modules(&self) -> impl Iterator<Item = (&'static str, &'static str)> {
        std::iter::once((self.name, self.code)).chain(self.beside.iter().copied())
    }
}

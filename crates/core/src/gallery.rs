//! What a component looked like: the output of each combination of its plan, and of what broke, step by step. Reports and sheets show it.

use indexmap::IndexMap;
use serde::{Deserialize, Serialize};

use crate::observation::{PhaseSnapshot, Tone};
use crate::stage::Combination;
use crate::surface::Surface;

/// What a component looked like.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Gallery {
    /// The component, as results name it.
    pub component: String,
    /// What it declares.
    pub surface: Surface,
    /// The values of each prop and the contents of each slot (`slots.<name>`) that the plan draws from, in words.
    pub axes: IndexMap<String, Vec<String>>,
    /// Rules that pages have, each set once.
    pub styles: Vec<String>,
    /// Pages that were seen, each once.
    pub pages: Vec<Page>,
    /// The combinations of the plan, in its order.
    pub shots: Vec<Shot>,
    /// What broke, step by step, in the order of the findings that have steps.
    pub films: Vec<Film>,
}

/// A page as it stood: HTML that needs no script.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct Page {
    /// Its rules, by index into [`Gallery::styles`].
    pub styles: usize,
    /// Its body.
    pub body: String,
}

/// A combination, rendered.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Shot {
    /// The case: `KilnDial@7f3a91`.
    pub case: String,
    /// What was passed, in words, by the names of [`Gallery::axes`].
    pub values: IndexMap<String, String>,
    /// What it looked like, by index into [`Gallery::pages`]; none where it could not be played.
    pub page: Option<usize>,
    /// Events while it was mounted, in words.
    pub events: Vec<String>,
    /// What was thrown or warned of.
    pub notes: Vec<String>,
}

/// What broke, step by step.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Film {
    /// The clause.
    pub rule: String,
    /// The case.
    pub case: String,
    /// The mount and the steps.
    pub moments: Vec<Moment>,
}

/// One step and what was seen after it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Moment {
    /// The step in words; none for the mount.
    pub step: Option<String>,
    /// What it looked like.
    pub page: usize,
    /// Events during it, in words.
    pub events: Vec<String>,
    /// What was thrown or warned of.
    pub notes: Vec<String>,
    /// Checks that failed after it, in words.
    pub broke: Vec<String>,
}

impl Gallery {
    /// A gallery with nothing in it.
    pub fn new(component: String, surface: Surface) -> Self {
        Self { component, surface, axes: IndexMap::new(), styles: Vec::new(), pages: Vec::new(), shots: Vec::new(), films: Vec::new() }
    }

    /// Keeps what was seen; gives its index.
    pub fn keep(&mut self, seen: &PhaseSnapshot) -> usize {
        let still = fidelon_dom::still(&seen.tree);
        let styles = position_of(&mut self.styles, still.styles);
        position_of(&mut self.pages, Page { styles, body: still.body })
    }
}

/// Where something stands in a list, which it is put at the end of if it does not.
fn position_of<T: PartialEq>(list: &mut Vec<T>, one: T) -> usize {
    list.iter().position(|known| *known == one).unwrap_or_else(|| {
        list.push(one);
        list.len() - 1
    })
}

/// What was thrown or warned of, in words.
pub fn notes(seen: &PhaseSnapshot) -> Vec<String> {
    seen.notes.iter().filter(|n| n.tone != Tone::Said).map(|n| n.text.clone()).collect()
}

/// What a combination passes, in words, by name.
pub fn values(combination: &Combination) -> IndexMap<String, String> {
    let props = combination.props.iter().map(|(name, value)| (name.clone(), value.to_string()));
    let fills = combination.fills.iter().map(|(name, html)| (format!("slots.{name}"), html.clone().unwrap_or_else(|| "empty".into())));
    props.chain(fills).collect()
}

//! Elements, their attributes and the live state that HTML keeps beside the attributes.

use serde::{Deserialize, Serialize};
use serde_tuple::{Deserialize_tuple, Serialize_tuple};

/// The namespaces that HTML documents meet (Infra §8).
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub enum Namespace {
    /// `http://www.w3.org/1999/xhtml`
    Html,
    /// `http://www.w3.org/2000/svg`
    Svg,
    /// `http://www.w3.org/1998/Math/MathML`
    MathMl,
    /// Any other namespace, by its URI; empty for none.
    Other(Box<str>),
}

impl Namespace {
    /// The namespace with this URI.
    pub fn from_uri(uri: &str) -> Self {
        match uri {
            "http://www.w3.org/1999/xhtml" => Self::Html,
            "http://www.w3.org/2000/svg" => Self::Svg,
            "http://www.w3.org/1998/Math/MathML" => Self::MathMl,
            other => Self::Other(other.into()),
        }
    }

    /// The URI; empty for no namespace.
    pub fn uri(&self) -> &str {
        match self {
            Self::Html => "http://www.w3.org/1999/xhtml",
            Self::Svg => "http://www.w3.org/2000/svg",
            Self::MathMl => "http://www.w3.org/1998/Math/MathML",
            Self::Other(uri) => uri,
        }
    }
}

/// One attribute (DOM §4.9.2).
#[derive(Debug, Clone, PartialEq, Eq, Serialize_tuple, Deserialize_tuple)]
pub struct Attr {
    /// Namespace URI, for the few attributes that have one (`xlink:href`).
    pub namespace: Option<Box<str>>,
    /// The qualified name, as written: `class`, `xlink:href`.
    pub name: Box<str>,
    /// The value.
    pub value: String,
}

impl Attr {
    /// The part of the name after the prefix.
    pub fn local_name(&self) -> &str {
        match (&self.namespace, self.name.split_once(':')) {
            (Some(_), Some((_, local))) => local,
            _ => &self.name,
        }
    }
}

/// What a form control holds beyond its attributes (HTML §4.10.18): each is set once a script or a person touched it.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize_tuple, Deserialize_tuple)]
pub struct FormState {
    /// The value, once it is dirty.
    pub value: Option<String>,
    /// The checkedness, once it is dirty.
    pub checked: Option<bool>,
    /// An option's selectedness, once it is dirty.
    pub selected: Option<bool>,
    /// A checkbox that shows neither state.
    pub indeterminate: bool,
    /// The text selection: start and end in UTF-16 units.
    pub selection: Option<(u32, u32)>,
    /// True for a custom element that takes part in forms (HTML §4.13.7.3).
    pub associated: bool,
    /// The message of `setCustomValidity`.
    pub custom_validity: String,
}

/// What happened to a control, of which its value alone does not tell.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Mark {
    /// A person wrote its value: how long it may be counts from then on (HTML §4.10.5.3.1).
    Typed = 1,
    /// What a person wrote is no value of its kind (HTML §4.10.20.1, "suffering from bad input").
    Unreadable = 2,
    /// A person has left it changed, or tried to send its form (HTML §4.10.20.1, "user validity").
    Judged = 4,
    /// Files are chosen.
    Filled = 8,
    /// Its selection was made from its start to its end.
    Forward = 16,
    /// Its selection was made from its end to its start.
    Backward = 32,
}

/// What an element holds that no document shows, and what its author says of it by its internals (HTML §4.13.7). It makes no two elements differ.
#[derive(Debug, Clone, Default, Eq, Serialize_tuple, Deserialize_tuple)]
pub struct Internal {
    /// One bit for each [`Mark`].
    pub marks: u8,
    /// What `ElementInternals.setValidity` says is wrong.
    pub faults: u16,
    /// Custom states (`:state()`).
    pub states: Vec<Box<str>>,
}

impl PartialEq for Internal {
    fn eq(&self, _: &Self) -> bool {
        true
    }
}

impl Internal {
    /// Whether it is marked.
    pub fn is(&self, mark: Mark) -> bool {
        self.marks & mark as u8 != 0
    }

    /// Marks it, or takes the mark off.
    pub fn mark(&mut self, mark: Mark, on: bool) {
        if on {
            self.marks |= mark as u8;
        } else {
            self.marks &= !(mark as u8);
        }
    }
}

/// What the top layer holds.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Overlay {
    /// A modal dialog: all else is inert.
    Modal,
    /// A popover that shows.
    Popover,
}

/// An element.
#[derive(Debug, Clone, PartialEq, Eq, Serialize_tuple, Deserialize_tuple)]
pub struct Element {
    /// The namespace.
    pub namespace: Namespace,
    /// The namespace prefix, if it was created with one.
    pub prefix: Option<Box<str>>,
    /// The local name: `div`, `linearGradient`.
    pub local: Box<str>,
    /// Attributes in the order they were first set.
    pub attrs: Vec<Attr>,
    /// The contents of a `<template>`.
    pub template: Option<crate::NodeId>,
    /// The shadow root.
    pub shadow: Option<crate::NodeId>,
    /// How it stands in the top layer (CSS Position 4 §3).
    pub overlay: Option<Overlay>,
    /// In a copy that has no stylesheets: whether style displays it.
    pub displayed: Option<bool>,
    /// The name that a built-in element was created under (HTML §4.13.3 "is value").
    pub is: Option<Box<str>>,
    /// True once it is a custom element (DOM §4.9, custom element state).
    pub custom: bool,
    /// What scripts assigned to a `<slot>`.
    pub assigned: Vec<crate::NodeId>,
    /// Live form state.
    pub form: FormState,
    /// What no document shows of it.
    pub internal: Internal,
}

impl Element {
    /// An element without attributes.
    pub fn new(namespace: Namespace, local: &str) -> Self {
        Self {
            namespace,
            prefix: None,
            local: local.into(),
            attrs: Vec::new(),
            template: None,
            shadow: None,
            overlay: None,
            displayed: None,
            is: None,
            custom: false,
            assigned: Vec::new(),
            form: FormState::default(),
            internal: Internal::default(),
        }
    }

    /// True for an HTML element with this local name.
    pub fn is_html(&self, local: &str) -> bool {
        self.namespace == Namespace::Html && &*self.local == local
    }

    /// The value of an attribute by qualified name.
    pub fn attr(&self, name: &str) -> Option<&str> {
        self.attrs.iter().find(|a| &*a.name == name).map(|a| a.value.as_str())
    }

    /// True when the attribute is there, whatever its value.
    pub fn has_attr(&self, name: &str) -> bool {
        self.attrs.iter().any(|a| &*a.name == name)
    }

    /// Sets an attribute without a namespace; a new one goes last.
    pub fn set_attr(&mut self, name: &str, value: &str) {
        match self.attrs.iter_mut().find(|a| &*a.name == name) {
            Some(attr) => value.clone_into(&mut attr.value),
            None => self.attrs.push(Attr { namespace: None, name: name.into(), value: value.into() }),
        }
    }

    /// Sets an attribute that has a namespace (DOM `setAttributeNS`).
    pub fn set_attr_ns(&mut self, namespace: Option<&str>, name: &str, value: &str) {
        let Some(ns) = namespace else { return self.set_attr(name, value) };
        let local = name.split_once(':').map_or(name, |(_, local)| local);
        match self.attrs.iter_mut().find(|a| a.namespace.as_deref() == Some(ns) && a.local_name() == local) {
            Some(attr) => value.clone_into(&mut attr.value),
            None => self.attrs.push(Attr { namespace: Some(ns.into()), name: name.into(), value: value.into() }),
        }
    }

    /// Removes an attribute; true when it was there.
    pub fn remove_attr(&mut self, name: &str) -> bool {
        let before = self.attrs.len();
        self.attrs.retain(|a| &*a.name != name);
        before != self.attrs.len()
    }

    /// The class names, in order, as `classList` lists them.
    pub fn classes(&self) -> impl Iterator<Item = &str> {
        self.attr("class").unwrap_or("").split_ascii_whitespace()
    }

    /// The `type` of an `<input>`, as its IDL attribute gives it: unknown and missing are `text` (HTML §4.10.5.1).
    pub fn input_type(&self) -> String {
        const KNOWN: [&str; 22] = [
            "hidden",
            "text",
            "search",
            "tel",
            "url",
            "email",
            "password",
            "date",
            "month",
            "week",
            "time",
            "datetime-local",
            "number",
            "range",
            "color",
            "checkbox",
            "radio",
            "file",
            "submit",
            "image",
            "reset",
            "button",
        ];
        let written = self.attr("type").unwrap_or("").to_ascii_lowercase();
        if KNOWN.contains(&written.as_str()) { written } else { "text".into() }
    }
}

//! What types come to.

use std::rc::Rc;
use std::sync::Arc;

use serde_json::Value as Json;

use crate::module::Module;
use crate::syntax::{Signature, TypeNode, Value};

/// A type that was worked out.
#[derive(Debug, Clone)]
pub enum Ty {
    /// It could not be resolved: its text, and why.
    Unknown(Rc<str>),
    /// `any` and `unknown`.
    Any,
    /// Nothing can be of it.
    Never,
    /// `undefined`, `void`
    Undefined,
    /// `null`
    Null,
    /// Text.
    String,
    /// A number.
    Number,
    /// `true` or `false`.
    Boolean,
    /// One value.
    Literal(Json),
    /// What a framework renders.
    Content,
    /// A function that gives content, and whether it takes anything.
    Renderer(bool),
    /// A component of a framework, with its props where they are known.
    Component(Option<Rc<Ty>>),
    /// A ref, with what it refers to.
    Ref(Rc<Ty>),
    /// A date.
    Date,
    /// An object of the page, the language or a library, by name.
    Instance(Rc<str>),
    /// An object of the page that components hand on to an element: its members are left out.
    Page(Rc<str>),
    /// A list.
    List(Rc<Lazy>),
    /// A list of so many.
    Tuple(Rc<Vec<(Lazy, bool)>>),
    /// A function.
    Function(Rc<Function>),
    /// An object.
    Object(Rc<Object>),
    /// One of these; none of them is a choice itself.
    Either(Rc<Vec<Ty>>),
}

/// A type that is worked out when somebody asks.
#[derive(Debug, Clone)]
pub enum Lazy {
    /// It was.
    Now(Ty),
    /// As written, where its names mean something.
    Written(Arc<TypeNode>, Scope),
    /// As a value shows.
    Shown(Arc<Value>, Scope, bool),
    /// Two that must both hold.
    Both(Rc<(Lazy, Lazy)>),
    /// One of these.
    Any(Rc<Vec<Lazy>>),
}

/// Where names mean something: a file, a namespace of it, and what type parameters stand for.
#[derive(Debug, Clone)]
pub struct Scope {
    /// The file.
    pub module: Arc<Module>,
    /// The namespace; empty outside of any.
    pub(crate) space: Rc<str>,
    /// What names are bound to, the innermost first.
    pub(crate) bound: Option<Rc<Bound>>,
}

/// A name that stands for a type.
#[derive(Debug)]
pub(crate) struct Bound {
    pub(crate) name: Rc<str>,
    pub(crate) to: Binding,
    pub(crate) next: Option<Rc<Bound>>,
}

/// What a name is bound to.
#[derive(Debug, Clone)]
pub(crate) enum Binding {
    /// A type.
    Ty(Ty),
    /// A pattern that holds an `infer`.
    Pattern(Arc<TypeNode>, Scope),
}

impl Scope {
    /// The names of a file.
    pub fn of(module: Arc<Module>) -> Self {
        Self { module, space: "".into(), bound: None }
    }

    pub(crate) fn with(&self, name: &str, to: Binding) -> Self {
        let bound = Some(Rc::new(Bound { name: name.into(), to, next: self.bound.clone() }));
        Self { bound, ..self.clone() }
    }

    pub(crate) fn binding(&self, name: &str) -> Option<&Binding> {
        let mut at = self.bound.as_deref();
        while let Some(bound) = at {
            if &*bound.name == name {
                return Some(&bound.to);
            }
            at = bound.next.as_deref();
        }
        None
    }

    /// The same file and namespace with nothing bound.
    pub(crate) fn outermost(&self) -> Self {
        Self { bound: None, ..self.clone() }
    }
}

/// A function, where its names mean something.
#[derive(Debug, Clone)]
pub struct Function {
    /// How it is written.
    pub signature: Arc<Signature>,
    /// Where.
    pub scope: Scope,
}

/// An object.
#[derive(Debug, Clone, Default)]
pub struct Object {
    /// Its members, in the order of the text.
    pub properties: Vec<Property>,
    /// What other members are, where there may be any.
    pub index: Option<Lazy>,
    /// How it can be called.
    pub calls: Vec<Function>,
    /// Why there may be more members than these: a part that could not be resolved.
    pub open: Option<Rc<str>>,
    /// The class that it is an instance of: data alone is none.
    pub class: Option<Rc<str>>,
}

/// A member of an object.
#[derive(Debug, Clone)]
pub struct Property {
    /// Its name.
    pub name: String,
    /// Its type.
    pub ty: Lazy,
    /// True when it may be left out.
    pub optional: bool,
    /// Where it is declared: the file, and the place in it in bytes.
    pub from: Option<(Arc<Module>, u32)>,
}

impl Object {
    /// A member by its name.
    pub fn property(&self, name: &str) -> Option<&Property> {
        self.properties.iter().find(|p| p.name == name)
    }

    /// Puts a member in, in the place of one of its name.
    pub(crate) fn put(&mut self, property: Property) {
        self.properties.retain(|p| p.name != property.name);
        self.properties.push(property);
    }

    /// Takes all of another one in; its members take the place of those of the same name.
    pub(crate) fn extend(&mut self, other: &Self) {
        other.properties.iter().cloned().for_each(|p| self.put(p));
        self.index = other.index.clone().or(self.index.take());
        self.calls.extend(other.calls.iter().cloned());
        self.open = self.open.take().or_else(|| other.open.clone());
    }
}

impl Ty {
    /// One that could not be resolved.
    pub fn unknown(text: &str) -> Self {
        Self::Unknown(text.split_whitespace().collect::<Vec<_>>().join(" ").into())
    }

    /// An object of which nothing is known but why.
    pub(crate) fn open(why: &str) -> Self {
        Self::Object(Rc::new(Object { open: Some(why.into()), ..Object::default() }))
    }

    /// The types that it may be.
    pub fn choices(&self) -> Vec<Self> {
        match self {
            Self::Either(of) => of.to_vec(),
            Self::Never => Vec::new(),
            other => vec![other.clone()],
        }
    }

    /// One of some types: what is there twice stands once, `any` takes all in.
    pub fn one_of(types: impl IntoIterator<Item = Self>) -> Self {
        let mut out: Vec<Self> = Vec::new();
        for ty in types.into_iter().flat_map(|t| t.choices()) {
            match ty {
                Self::Any => return Self::Any,
                ty if out.iter().any(|known| known.is_plainly(&ty)) => {}
                ty => out.push(ty),
            }
        }
        let has = |value: bool| out.iter().any(|t| matches!(t, Self::Literal(Json::Bool(b)) if *b == value));
        if has(true) && has(false) {
            let at = out.iter().position(|t| matches!(t, Self::Literal(Json::Bool(_)))).unwrap_or(0);
            out.retain(|t| !matches!(t, Self::Literal(Json::Bool(_))));
            out.insert(at, Self::Boolean);
        }
        match out.len() {
            0 => Self::Never,
            1 => out.remove(0),
            _ => Self::Either(Rc::new(out)),
        }
    }

    /// Whether two types are the same, as far as that can be seen without working anything out.
    pub(crate) fn is_plainly(&self, other: &Self) -> bool {
        match (self, other) {
            (Self::Literal(a), Self::Literal(b)) => a == b,
            (Self::Instance(a), Self::Instance(b)) | (Self::Unknown(a), Self::Unknown(b)) | (Self::Page(a), Self::Page(b)) => a == b,
            (Self::Object(a), Self::Object(b)) => Rc::ptr_eq(a, b),
            (Self::Any, Self::Any)
            | (Self::Undefined, Self::Undefined)
            | (Self::Null, Self::Null)
            | (Self::String, Self::String)
            | (Self::Number, Self::Number)
            | (Self::Boolean, Self::Boolean)
            | (Self::Content, Self::Content)
            | (Self::Date, Self::Date) => true,
            _ => false,
        }
    }

    /// Whether it is `null` or `undefined`.
    pub fn is_nothing(&self) -> bool {
        matches!(self, Self::Undefined | Self::Null)
    }
}

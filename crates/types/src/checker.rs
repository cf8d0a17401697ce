//! Works types out.

use std::cell::{Cell, RefCell};
use std::collections::HashSet;
use std::path::Path;
use std::rc::Rc;
use std::sync::Arc;

use serde_json::Value as Json;

use crate::known;
use crate::module::Module;
use crate::syntax::{Generic, Heritage, Keyword, MemberType, TypeDeclaration, TypeKind, TypeNode};
use crate::ty::{Binding, Function, Lazy, Object, Scope, Ty};

/// Finds the files that imports mean.
pub trait Finds {
    /// The file that `specifier` means to whoever reads types in the file `from`.
    fn module(&self, from: &Path, specifier: &str) -> Option<Arc<Module>>;
}

/// How deep types may lead from one to the next.
const MOST_DEPTH: u32 = 64;

/// How many types are worked out for one question: types can be programs that never end.
const MOST_STEPS: u32 = 60_000;

/// How many literals a template or a union of keys may come to.
const MOST_LITERALS: usize = 2_000;

/// How many files an import may be passed on through, or classes extend each other.
const MOST_HOPS: u32 = 40;

/// Where a name leads.
pub(crate) struct Located {
    /// The file that declares it.
    pub(crate) module: Arc<Module>,
    /// What it is called there.
    pub(crate) key: String,
    /// Members of it that were asked for.
    pub(crate) rest: Vec<String>,
}

/// Works types out, file by file.
pub struct Checker<'f> {
    finds: &'f dyn Finds,
    steps: Cell<u32>,
    depth: Cell<u32>,
}

impl<'f> Checker<'f> {
    /// One that looks for other files there.
    pub fn new(finds: &'f dyn Finds) -> Self {
        Self { finds, steps: Cell::new(0), depth: Cell::new(0) }
    }

    /// What a type comes to. Steps are counted for each question.
    pub fn check(&self, node: &TypeNode, scope: &Scope) -> Ty {
        self.steps.set(0);
        self.evaluate(node, scope)
    }

    /// What a lazy type comes to.
    pub fn force(&self, lazy: &Lazy) -> Ty {
        match lazy {
            Lazy::Now(ty) => ty.clone(),
            Lazy::Written(node, scope) => self.evaluate(node, scope),
            Lazy::Shown(value, scope, exactly) => self.value(value, scope, *exactly),
            Lazy::Both(both) => self.intersect(self.force(&both.0), self.force(&both.1)),
            Lazy::Any(of) => Ty::one_of(of.iter().map(|t| self.force(t))),
        }
    }

    /// Does something that may lead to itself; `text` is told where it leads too far.
    pub(crate) fn deeper(&self, text: impl Fn() -> String, work: impl FnOnce() -> Ty) -> Ty {
        if self.depth.get() >= MOST_DEPTH || self.steps.get() >= MOST_STEPS {
            return Ty::unknown(&text());
        }
        self.steps.set(self.steps.get() + 1);
        self.depth.set(self.depth.get() + 1);
        let out = work();
        self.depth.set(self.depth.get() - 1);
        out
    }

    pub(crate) fn evaluate(&self, node: &TypeNode, scope: &Scope) -> Ty {
        self.deeper(|| scope.module.text(node.span).to_owned(), || self.work_out(node, scope))
    }

    fn work_out(&self, node: &TypeNode, scope: &Scope) -> Ty {
        let text = || scope.module.text(node.span);
        let later = |node: &Arc<TypeNode>| Lazy::Written(node.clone(), scope.clone());
        match &node.kind {
            TypeKind::Keyword(word) => match word {
                Keyword::Any | Keyword::Unknown => Ty::Any,
                Keyword::Never => Ty::Never,
                Keyword::Void | Keyword::Undefined => Ty::Undefined,
                Keyword::Null => Ty::Null,
                Keyword::String => Ty::String,
                Keyword::Number => Ty::Number,
                Keyword::Boolean => Ty::Boolean,
                Keyword::BigInt => Ty::Instance("bigint".into()),
                Keyword::Symbol => Ty::Instance("symbol".into()),
                Keyword::Object => Ty::Instance("object".into()),
            },
            TypeKind::Literal(Json::Null) => Ty::Null,
            TypeKind::Literal(value) => Ty::Literal(value.clone()),
            TypeKind::Template(texts, types) => self.template(texts, types, scope),
            TypeKind::Array(of) => Ty::List(Rc::new(later(of))),
            TypeKind::Tuple(elements) => match elements.iter().find(|e| e.rest) {
                // With a rest it may be any number of what is in it.
                Some(_) => {
                    let of = elements.iter().map(|e| {
                        let ty = self.evaluate(&e.ty, scope);
                        if e.rest { self.element_of(&ty) } else { ty }
                    });
                    Ty::List(Rc::new(Lazy::Now(Ty::one_of(of.collect::<Vec<_>>()))))
                }
                None => Ty::Tuple(Rc::new(elements.iter().map(|e| (later(&e.ty), e.optional)).collect())),
            },
            TypeKind::Union(of) => Ty::one_of(of.iter().map(|t| self.evaluate(t, scope)).collect::<Vec<_>>()),
            TypeKind::Intersection(of) => {
                let mut parts = of.iter().map(|t| self.evaluate(t, scope));
                let first = parts.next().unwrap_or(Ty::Any);
                parts.fold(first, |a, b| self.intersect(a, b))
            }
            TypeKind::Object(shape) => self.callable(self.shape(shape, scope)),
            TypeKind::Function(signature) => Ty::Function(Rc::new(Function { signature: signature.clone(), scope: scope.clone() })),
            TypeKind::Reference(path, arguments) => self.reference(path, arguments, text(), scope),
            TypeKind::Import(module, path, arguments) => self.imported(module, path, arguments, text(), scope),
            TypeKind::Query(path) => self.path(path, scope, false),
            TypeKind::QueryImport(module, path) => match self.finds.module(&scope.module.path, module) {
                Some(module) => self.path_in(&module, path),
                None => Ty::unknown(text()),
            },
            TypeKind::Indexed(of, by) => {
                let (of, by) = (self.evaluate(of, scope), self.evaluate(by, scope));
                self.index(&of, &by, text())
            }
            TypeKind::Keyof(of) => self.keys_of(&self.evaluate(of, scope)),
            TypeKind::Conditional(parts) => self.conditional(parts, scope),
            TypeKind::Infer(..) => Ty::Any,
            TypeKind::Mapped(mapped) => self.mapped(mapped, scope),
            TypeKind::Other => Ty::unknown(text()),
        }
    }

    /// `` `on${Name}` ``: all texts that it can be, where those are few.
    fn template(&self, texts: &[String], types: &[Arc<TypeNode>], scope: &Scope) -> Ty {
        let mut out: Vec<String> = vec![texts.first().cloned().unwrap_or_default()];
        for (ty, text) in types.iter().zip(texts.iter().skip(1)) {
            let mut words = Vec::new();
            for choice in self.evaluate(ty, scope).choices() {
                match choice {
                    Ty::Literal(Json::String(word)) => words.push(word),
                    Ty::Literal(other) => words.push(other.to_string()),
                    Ty::Boolean => words.extend(["true".to_owned(), "false".to_owned()]),
                    Ty::Undefined => words.push("undefined".to_owned()),
                    Ty::Null => words.push("null".to_owned()),
                    _ => return Ty::String,
                }
            }
            if out.len() * words.len() > MOST_LITERALS {
                return Ty::String;
            }
            out = out.iter().flat_map(|begun| words.iter().map(move |word| format!("{begun}{word}{text}"))).collect();
        }
        Ty::one_of(out.into_iter().map(|t| Ty::Literal(Json::from(t))))
    }

    pub(crate) fn reference(&self, path: &[String], arguments: &[Arc<TypeNode>], text: &str, scope: &Scope) -> Ty {
        if let [name] = path
            && let Some(binding) = scope.binding(name)
        {
            return match binding {
                Binding::Ty(ty) => ty.clone(),
                Binding::Pattern(..) => Ty::Any,
            };
        }
        let given = || arguments.iter().map(|a| self.evaluate(a, scope)).collect::<Vec<_>>();
        if let Some(found) = self.locate_type(path, scope) {
            return self.instantiate(&found, &given(), text);
        }
        if let [of @ .., member] = path
            && !of.is_empty()
            && let Some(found) = self.locate_type(of, scope)
            && let Some(TypeDeclaration::Enum(members)) = found.module.types.get(&found.key).and_then(|d| d.first())
            && let Some((_, value)) = members.iter().find(|(name, _)| name == member)
        {
            return Ty::Literal(value.clone());
        }
        let known = match self.foreign(path, scope) {
            Some((module, name)) => known::of_framework(self, &module, &name, &given(), text),
            None => known::of_language(self, path, &given(), text),
        };
        known.unwrap_or_else(|| Ty::unknown(text))
    }

    fn imported(&self, module: &str, path: &[String], arguments: &[Arc<TypeNode>], text: &str, scope: &Scope) -> Ty {
        let given: Vec<Ty> = arguments.iter().map(|a| self.evaluate(a, scope)).collect();
        if let Some(known) = known::of_framework(self, module, &path.join("."), &given, text) {
            return known;
        }
        let found = self.finds.module(&scope.module.path, module).and_then(|m| self.exported(&m, path, Look::Type, &Trail::default()));
        found.map_or_else(|| Ty::unknown(text), |found| self.instantiate(&found, &given, text))
    }

    /// A declared type with arguments put in.
    pub(crate) fn instantiate(&self, found: &Located, arguments: &[Ty], text: &str) -> Ty {
        let Some(declared) = found.module.types.get(&found.key) else { return Ty::unknown(text) };
        let space = found.key.rsplit_once('.').map_or("", |(space, _)| space);
        let scope = Scope { space: space.into(), ..Scope::of(found.module.clone()) };
        match declared.first() {
            Some(TypeDeclaration::Alias(generics, body)) => self.evaluate(body, &self.bind(generics, arguments, &scope)),
            Some(TypeDeclaration::Enum(members)) => Ty::one_of(members.iter().map(|(_, value)| Ty::Literal(value.clone()))),
            _ => self.deeper(
                || text.to_owned(),
                || {
                    let object = self.declared_object(declared, arguments, &scope);
                    self.callable(Object { class: object.class.as_ref().map(|_| text.into()), ..object })
                },
            ),
        }
    }

    /// Interfaces of one name, or a class, with what they extend.
    fn declared_object(&self, declared: &[TypeDeclaration], arguments: &[Ty], scope: &Scope) -> Object {
        let mut out = Object::default();
        for declaration in declared {
            let (generics, heritage, shape): (_, Vec<&Heritage>, _) = match declaration {
                TypeDeclaration::Interface(generics, heritage, shape) => (generics, heritage.iter().collect(), shape),
                TypeDeclaration::Class(generics, heritage, shape) => (generics, heritage.iter().collect(), shape),
                TypeDeclaration::Alias(..) | TypeDeclaration::Enum(_) => continue,
            };
            if let TypeDeclaration::Class(_, _, shape) = declaration
                && shape.members.iter().any(|m| matches!(m.ty, MemberType::Method(_)))
            {
                out.class = Some("class".into());
            }
            let scope = self.bind(generics, arguments, scope);
            for parent in heritage {
                let parent = self.reference(&parent.path, &parent.arguments, &parent.path.join("."), &scope);
                out.extend(&self.members(&parent));
            }
            out.extend(&self.shape(shape, &scope));
        }
        out
    }

    /// A scope in which type parameters are bound: to what is given, to their default, to what they must extend.
    pub(crate) fn bind(&self, generics: &[Generic], given: &[Ty], scope: &Scope) -> Scope {
        let mut out = scope.clone();
        for (i, generic) in generics.iter().enumerate() {
            let fallback = || {
                let written = generic.default.as_ref().or(generic.constraint.as_ref());
                written.map_or(Ty::Any, |node| self.evaluate(node, &out))
            };
            let ty = given.get(i).cloned().unwrap_or_else(fallback);
            out = out.with(&generic.name, Binding::Ty(ty));
        }
        out
    }

    /// The props of the component that a file exports by default; none where it tells none.
    pub fn props_of_default(&self, from: &Path, specifier: &str) -> Option<Ty> {
        let module = self.finds.module(from, specifier)?;
        let found = self.exported(&module, &["default".to_owned()], Look::Value, &Trail::default())?;
        known::props_of(self, &self.located_value(&found, false))
    }

    /// Whether a class extends a component of a framework, by way of others if need be, and the props that it hands to that one.
    pub fn component_of_class(&self, heritage: &Heritage, scope: &Scope) -> Option<Ty> {
        self.component_above(heritage, scope, 0)
    }

    fn component_above(&self, heritage: &Heritage, scope: &Scope, hops: u32) -> Option<Ty> {
        if hops > MOST_HOPS {
            return None;
        }
        let Some(found) = self.locate_type(&heritage.path, scope) else {
            let ty = self.reference(&heritage.path, &heritage.arguments, &heritage.path.join("."), scope);
            return matches!(ty, Ty::Component(_)).then_some(ty);
        };
        let TypeDeclaration::Class(generics, parent, _) = found.module.types.get(&found.key)?.first()? else { return None };
        let given: Vec<Ty> = heritage.arguments.iter().map(|a| self.evaluate(a, scope)).collect();
        self.component_above(parent.as_ref()?, &self.bind(generics, &given, &Scope::of(found.module.clone())), hops + 1)
    }

    /// A scope in which type parameters are what they default to or must extend.
    pub fn with_generics(&self, generics: &[Generic], scope: &Scope) -> Scope {
        self.bind(generics, &[], scope)
    }

    // --- names -----------------------------------------------------------------------------------------------------

    /// Where a name of a type leads from a scope.
    pub(crate) fn locate_type(&self, path: &[String], scope: &Scope) -> Option<Located> {
        self.locate(&scope.module, &scope.space, path, Look::Type, &Trail::default())
    }

    /// Where a name of a value leads from a scope.
    pub(crate) fn locate_value(&self, path: &[String], scope: &Scope) -> Option<Located> {
        self.locate(&scope.module, &scope.space, path, Look::Value, &Trail::default())
    }

    fn locate(&self, module: &Arc<Module>, space: &str, path: &[String], look: Look, trail: &Trail) -> Option<Located> {
        let mut space = Some(space);
        while let Some(within) = space {
            if let Some((key, rest)) = look.here(module, within, path) {
                return Some(Located { module: module.clone(), key, rest });
            }
            space = if within.is_empty() { None } else { Some(within.rsplit_once('.').map_or("", |(outer, _)| outer)) };
        }
        let (specifier, there) = module.imports.get(path.first()?)?;
        if known::is_of_a_framework(specifier) {
            return None;
        }
        let from = self.finds.module(&module.path, specifier)?;
        let rest = path[1..].iter().cloned();
        let names: Vec<String> = if there == "*" { rest.collect() } else { std::iter::once(there.clone()).chain(rest).collect() };
        self.exported(&from, &names, look, trail)
    }

    /// What a file exports under a name. No file is looked through twice for one name: files that pass each other on are a circle.
    fn exported(&self, module: &Arc<Module>, path: &[String], look: Look, trail: &Trail) -> Option<Located> {
        let step = (Arc::as_ptr(module) as usize, path.join("."));
        if trail.depth.get() > MOST_HOPS || !trail.seen.borrow_mut().insert(step) {
            return None;
        }
        trail.depth.set(trail.depth.get() + 1);
        let found = self.exported_at(module, path, look, trail);
        trail.depth.set(trail.depth.get() - 1);
        found
    }

    fn exported_at(&self, module: &Arc<Module>, path: &[String], look: Look, trail: &Trail) -> Option<Located> {
        let mut path = path.to_vec();
        if let Some(local) = path.first().and_then(|first| module.renamed.get(first)) {
            path[0].clone_from(local);
        }
        if let Some(found) = self.locate(module, "", &path, look, trail) {
            // `export default Name`: the type of that name.
            return Some(found);
        }
        if path.first().is_some_and(|first| first == "default")
            && let Some(declared) = module.values.get("default")
            && let Some(crate::syntax::Value::Path(local)) = declared.value.as_deref()
        {
            let names: Vec<String> = local.iter().cloned().chain(path[1..].iter().cloned()).collect();
            return self.locate(module, "", &names, look, trail);
        }
        module.passed_on.iter().find_map(|specifier| {
            let from = self.finds.module(&module.path, specifier)?;
            self.exported(&from, &path, look, trail)
        })
    }

    /// The module and the name there of what is imported from somewhere that is not read.
    pub(crate) fn foreign(&self, path: &[String], scope: &Scope) -> Option<(String, String)> {
        let (module, there) = scope.module.imports.get(path.first()?)?;
        let rest = &path[1..];
        let name = match there.as_str() {
            "*" | "default" if !rest.is_empty() => rest.join("."),
            there => std::iter::once(there).chain(rest.iter().map(String::as_str)).collect::<Vec<_>>().join("."),
        };
        Some((module.clone(), name))
    }

    /// The value of a name in a file that was found.
    fn path_in(&self, module: &Arc<Module>, path: &[String]) -> Ty {
        match self.exported(module, path, Look::Value, &Trail::default()) {
            Some(found) => self.located_value(&found, false),
            None => Ty::unknown(&path.join(".")),
        }
    }
}

/// The way of one name through files that pass it on.
#[derive(Default)]
struct Trail {
    depth: Cell<u32>,
    /// Files, each with what was looked for in it.
    seen: RefCell<HashSet<(usize, String)>>,
}

/// What is looked for by a name.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Look {
    Type,
    Value,
}

impl Look {
    /// The name in a file, and what of the path is left.
    fn here(self, module: &Module, space: &str, path: &[String]) -> Option<(String, Vec<String>)> {
        let within = |name: &str| if space.is_empty() { name.to_owned() } else { format!("{space}.{name}") };
        match self {
            Self::Type => {
                let key = within(&path.join("."));
                module.types.contains_key(&key).then(|| (key, Vec::new()))
            }
            Self::Value => (1..=path.len()).rev().find_map(|taken| {
                let key = within(&path[..taken].join("."));
                let is_there = module.values.contains_key(&key)
                    || module
                        .types
                        .get(&key)
                        .is_some_and(|d| matches!(d.first(), Some(TypeDeclaration::Enum(_) | TypeDeclaration::Class(..))));
                is_there.then(|| (key, path[taken..].to_vec()))
            }),
        }
    }
}

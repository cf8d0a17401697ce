//! Whether a type extends another, and what is inferred on the way (TypeScript Handbook, "Conditional Types").

use std::collections::HashMap;
use std::rc::Rc;
use std::sync::Arc;

use serde_json::Value as Json;

use crate::checker::Checker;
use crate::known;
use crate::syntax::{Generic, MemberType, Signature, TypeDeclaration, TypeKind, TypeNode};
use crate::ty::{Binding, Function, Lazy, Scope, Ty};

/// What was inferred, by name.
pub(crate) type Inferred = HashMap<String, Ty>;

/// Alternatives of which some hold, some do not, and some cannot be told: none where that cannot be told.
fn any(of: impl Iterator<Item = Option<bool>>) -> Option<bool> {
    let mut unsure = false;
    for one in of {
        match one {
            Some(true) => return Some(true),
            None => unsure = true,
            Some(false) => {}
        }
    }
    if unsure { None } else { Some(false) }
}

fn all(of: impl Iterator<Item = Option<bool>>) -> Option<bool> {
    let mut unsure = false;
    for one in of {
        match one {
            Some(false) => return Some(false),
            None => unsure = true,
            Some(true) => {}
        }
    }
    if unsure { None } else { Some(true) }
}

impl Checker<'_> {
    /// `T extends U ? X : Y`. A choice is told apart where it is a type parameter's; what cannot be told is one of both.
    pub(crate) fn conditional(&self, parts: &[TypeNode; 4], scope: &Scope) -> Ty {
        let [check, extends, _, _] = parts;
        let checked = self.evaluate(check, scope);
        let parameter = match &check.kind {
            TypeKind::Reference(path, arguments) if path.len() == 1 && arguments.is_empty() => Some(&path[0]),
            _ => None,
        };
        let distributes = parameter.is_some_and(|name| scope.binding(name).is_some());
        if let (true, Some(name)) = (distributes, parameter) {
            return match &checked {
                Ty::Never => Ty::Never,
                Ty::Either(of) => Ty::one_of(
                    of.iter().map(|one| self.decide(one, extends, parts, &scope.with(name, Binding::Ty(one.clone())))).collect::<Vec<_>>(),
                ),
                _ => self.decide(&checked, extends, parts, scope),
            };
        }
        self.decide(&checked, extends, parts, scope)
    }

    fn decide(&self, checked: &Ty, extends: &TypeNode, [_, _, yes, no]: &[TypeNode; 4], scope: &Scope) -> Ty {
        let mut inferred = Inferred::new();
        let holds = self.matches(checked, extends, scope, &mut inferred);
        let mut names = Vec::new();
        infers(extends, &mut names);
        let with_inferred = || {
            names.iter().fold(scope.clone(), |scope, name| {
                let ty = inferred.get(name).cloned().unwrap_or(Ty::Any);
                scope.with(name, Binding::Ty(ty))
            })
        };
        match holds {
            Some(true) => self.evaluate(yes, &with_inferred()),
            Some(false) => self.evaluate(no, scope),
            None => {
                let (yes, no) = (self.evaluate(yes, &with_inferred()), self.evaluate(no, scope));
                // Of two objects of which one holds, what both may have.
                Ty::one_of([yes, no])
            }
        }
    }

    /// Whether a type is of the form that a pattern has; what it is at each `infer` is taken down.
    pub(crate) fn matches(&self, ty: &Ty, pattern: &TypeNode, scope: &Scope, inferred: &mut Inferred) -> Option<bool> {
        let mut out = None;
        // Patterns lead to themselves as types do.
        self.deeper(String::new, || {
            out = self.matches_here(ty, pattern, scope, inferred);
            Ty::Any
        });
        out
    }

    fn matches_here(&self, ty: &Ty, pattern: &TypeNode, scope: &Scope, inferred: &mut Inferred) -> Option<bool> {
        match &pattern.kind {
            TypeKind::Infer(name, constraint) => {
                if let Some(constraint) = constraint
                    && self.relate(ty, &self.evaluate(constraint, scope)) == Some(false)
                {
                    return Some(false);
                }
                let ty = match inferred.remove(name) {
                    Some(known) => Ty::one_of([known, ty.clone()]),
                    None => ty.clone(),
                };
                inferred.insert(name.clone(), ty);
                Some(true)
            }
            TypeKind::Reference(path, arguments) => self.matches_name(ty, pattern, (path, arguments), scope, inferred),
            _ if !holds_pattern(pattern, scope) => self.relate(ty, &self.evaluate(pattern, scope)),
            TypeKind::Array(of) => match ty {
                Ty::List(_) | Ty::Tuple(_) => self.matches(&self.element_of(ty), of, scope, inferred),
                Ty::Any | Ty::Unknown(_) => None,
                _ => Some(false),
            },
            TypeKind::Tuple(elements) => match ty {
                Ty::Tuple(of) => self.matches_tuple(of, elements, scope, inferred),
                Ty::List(of) => {
                    let of = self.force(of);
                    all(elements.iter().map(|e| if e.rest { Some(true) } else { self.matches(&of, &e.ty, scope, inferred) }))
                }
                Ty::Any | Ty::Unknown(_) => None,
                _ => Some(false),
            },
            TypeKind::Function(wanted) => self.matches_function(ty, wanted, scope, inferred),
            TypeKind::Object(shape) => {
                let object = match ty {
                    Ty::Object(_) | Ty::Either(_) => self.members(ty),
                    Ty::Any | Ty::Unknown(_) | Ty::Page(_) | Ty::Instance(_) => return None,
                    _ => return Some(false),
                };
                all(shape.members.iter().map(|member| {
                    let MemberType::Written(node) = &member.ty else { return Some(true) };
                    match object.property(&member.name) {
                        Some(property) => self.matches(&self.force(&property.ty), node, scope, inferred),
                        None if member.optional => Some(true),
                        None if object.open.is_some() => None,
                        None => Some(false),
                    }
                }))
            }
            TypeKind::Intersection(of) => all(of.iter().map(|part| self.matches(ty, part, scope, inferred))),
            TypeKind::Union(of) => any(of.iter().map(|part| self.matches(ty, part, scope, inferred))),
            // What is inferred through a condition is inferred where it holds.
            TypeKind::Conditional(parts) => self.matches(ty, &parts[2], scope, inferred),
            TypeKind::Template(texts, types) => self.matches_template(ty, texts, types, scope, inferred),
            _ => None,
        }
    }

    fn matches_name(
        &self,
        ty: &Ty,
        pattern: &TypeNode,
        (path, arguments): (&[String], &[Arc<TypeNode>]),
        scope: &Scope,
        inferred: &mut Inferred,
    ) -> Option<bool> {
        if let [name] = path
            && let Some(Binding::Pattern(node, there)) = scope.binding(name)
        {
            return self.matches(ty, node, there, inferred);
        }
        if !arguments.iter().any(|a| holds_pattern(a, scope)) {
            return self.relate(ty, &self.evaluate(pattern, scope));
        }
        if let Some(found) = self.locate_type(path, scope) {
            let declared = found.module.types.get(&found.key)?.first()?;
            let there = Scope::of(found.module.clone());
            let bound = |generics: &[Generic]| {
                generics.iter().enumerate().fold(there.clone(), |out, (i, generic)| {
                    let binding = match (arguments.get(i), &generic.default) {
                        (Some(argument), _) => Binding::Pattern(argument.clone(), scope.clone()),
                        (None, Some(default)) => Binding::Ty(self.evaluate(default, &out)),
                        (None, None) => Binding::Ty(Ty::Any),
                    };
                    out.with(&generic.name, binding)
                })
            };
            return match declared {
                TypeDeclaration::Alias(generics, body) => self.matches(ty, body, &bound(generics), inferred),
                TypeDeclaration::Interface(generics, _, shape) | TypeDeclaration::Class(generics, _, shape) => {
                    let kind = TypeKind::Object(shape.clone());
                    self.matches(ty, &TypeNode { kind, span: pattern.span }, &bound(generics), inferred)
                }
                TypeDeclaration::Enum(_) => Some(false),
            };
        }
        let name = self.foreign(path, scope).map_or_else(|| path.join("."), |(_, name)| name);
        let last = name.rsplit('.').next().unwrap_or_default();
        let first = arguments.first()?;
        match (last, ty) {
            (_, Ty::Any | Ty::Unknown(_)) => None,
            ("Array" | "ReadonlyArray", Ty::List(_) | Ty::Tuple(_)) => self.matches(&self.element_of(ty), first, scope, inferred),
            (name, Ty::Component(Some(props))) if known::is_component(name) => self.matches(props, first, scope, inferred),
            (name, Ty::Function(function)) if known::is_component(name) => {
                let (takes, _) = self.parts_of(function);
                let props = takes.first().map_or_else(|| Ty::open("no props"), |(ty, _)| self.force(ty));
                self.matches(&props, first, scope, inferred)
            }
            (name, Ty::Component(None)) if known::is_component(name) => None,
            _ => Some(false),
        }
    }

    fn matches_tuple(
        &self,
        of: &[(Lazy, bool)],
        elements: &[crate::syntax::Element],
        scope: &Scope,
        inferred: &mut Inferred,
    ) -> Option<bool> {
        let mut rest = of.iter();
        all(elements.iter().map(|element| {
            if element.rest {
                let left: Vec<(Lazy, bool)> = rest.by_ref().cloned().collect();
                return self.matches(&Ty::Tuple(Rc::new(left)), &element.ty, scope, inferred);
            }
            match rest.next() {
                Some((ty, _)) => self.matches(&self.force(ty), &element.ty, scope, inferred),
                None => Some(element.optional),
            }
        }))
    }

    /// `(props: infer P) => any`, `(...args: infer A) => infer R`
    fn matches_function(&self, ty: &Ty, wanted: &Signature, scope: &Scope, inferred: &mut Inferred) -> Option<bool> {
        let function = match ty {
            Ty::Function(function) => function.clone(),
            Ty::Object(object) => match object.calls.first() {
                Some(call) => Rc::new(call.clone()),
                None if object.open.is_some() => return None,
                None => return Some(false),
            },
            Ty::Component(Some(props)) => {
                let first = wanted.parameters.first().and_then(|p| p.ty.as_ref());
                return first.map_or(Some(true), |node| self.matches(props, node, scope, inferred));
            }
            Ty::Any | Ty::Unknown(_) | Ty::Component(None) | Ty::Instance(_) => return None,
            _ => return Some(false),
        };
        if function.signature.constructs != wanted.constructs {
            return Some(false);
        }
        let (takes, gives) = self.parts_of(&function);
        let mut at = takes.iter();
        for parameter in &wanted.parameters {
            let Some(node) = &parameter.ty else { continue };
            let ty = if parameter.rest {
                Ty::Tuple(Rc::new(at.by_ref().cloned().collect()))
            } else {
                match at.next() {
                    Some((ty, _)) => self.force(ty),
                    None => Ty::Any,
                }
            };
            // What a function takes is held to the other way round: whatever is wanted is taken.
            self.matches(&ty, node, scope, inferred);
        }
        if let Some(returns) = &wanted.returns
            && holds_pattern(returns, scope)
        {
            return self.matches(&self.force(&gives), returns, scope, inferred);
        }
        Some(true)
    }

    /// `` `on${infer Name}` ``
    fn matches_template(&self, ty: &Ty, texts: &[String], types: &[Arc<TypeNode>], scope: &Scope, inferred: &mut Inferred) -> Option<bool> {
        let Ty::Literal(Json::String(word)) = ty else { return if matches!(ty, Ty::String | Ty::Any) { None } else { Some(false) } };
        let Some(mut rest) = word.strip_prefix(texts.first()?.as_str()) else { return Some(false) };
        for (i, ty) in types.iter().enumerate() {
            let text = &texts[i + 1];
            let last = i + 1 == types.len();
            let end = match (last, text.is_empty()) {
                (true, _) => rest.len().checked_sub(text.len()).filter(|at| rest.is_char_boundary(*at) && rest[*at..] == **text),
                (false, true) => rest.chars().next().map(char::len_utf8),
                (false, false) => rest.find(text.as_str()),
            };
            let Some(end) = end else { return Some(false) };
            if self.matches(&Ty::Literal(Json::from(&rest[..end])), ty, scope, inferred) == Some(false) {
                return Some(false);
            }
            rest = &rest[end + text.len()..];
        }
        Some(true)
    }

    /// Whether what is of one type is of another one; none where that cannot be told.
    pub(crate) fn relate(&self, a: &Ty, b: &Ty) -> Option<bool> {
        let mut out = None;
        self.deeper(String::new, || {
            out = self.relate_here(a, b);
            Ty::Any
        });
        out
    }

    fn relate_here(&self, a: &Ty, b: &Ty) -> Option<bool> {
        match (a, b) {
            (_, Ty::Any) | (Ty::Never, _) => Some(true),
            (Ty::Any | Ty::Unknown(_), _) | (_, Ty::Unknown(_)) => None,
            (_, Ty::Never) => Some(false),
            (Ty::Either(of), _) => all(of.iter().map(|t| self.relate(t, b))),
            (_, Ty::Either(of)) => any(of.iter().map(|t| self.relate(a, t))),
            _ if a.is_plainly(b) => Some(true),
            (Ty::Literal(value), _) if matches!(b, Ty::String | Ty::Number | Ty::Boolean) => {
                Some(matches!((value, b), (Json::String(_), Ty::String) | (Json::Number(_), Ty::Number) | (Json::Bool(_), Ty::Boolean)))
            }
            (Ty::Boolean, Ty::Literal(Json::Bool(_))) => Some(false),
            (Ty::Literal(_) | Ty::String | Ty::Number | Ty::Boolean, Ty::Object(object)) => {
                // `{}` takes all that is not nothing.
                Some(object.properties.is_empty() && object.index.is_none() && object.open.is_none() && object.calls.is_empty())
            }
            (Ty::Undefined | Ty::Null, _) | (_, Ty::Undefined | Ty::Null) => Some(false),
            (Ty::List(_) | Ty::Tuple(_), Ty::List(_)) => self.relate(&self.element_of(a), &self.element_of(b)),
            (Ty::Tuple(a), Ty::Tuple(b)) => {
                if a.len() != b.len() {
                    return Some(false);
                }
                all(a.iter().zip(b.iter()).map(|((a, _), (b, _))| self.relate(&self.force(a), &self.force(b))))
            }
            (Ty::Function(_) | Ty::Component(_) | Ty::Renderer(_), Ty::Function(_) | Ty::Component(_) | Ty::Renderer(_)) => Some(true),
            (Ty::Function(_), Ty::Object(object)) => Some(!object.calls.is_empty() || object.properties.is_empty()),
            (Ty::Object(object), Ty::Function(_)) => {
                if object.open.is_some() {
                    None
                } else {
                    Some(!object.calls.is_empty())
                }
            }
            (Ty::Object(x), Ty::Object(y)) => self.relate_objects(x, y),
            (_, Ty::Instance(name)) if &**name == "object" => Some(!matches!(a, Ty::String | Ty::Number | Ty::Boolean | Ty::Literal(_))),
            (Ty::Page(_) | Ty::Instance(_), _) | (_, Ty::Page(_) | Ty::Instance(_)) => match (is_single(a), is_single(b)) {
                (true, _) | (_, true) => Some(false),
                _ => None,
            },
            (Ty::Content, Ty::Object(_)) | (Ty::Object(_), Ty::Content) => None,
            _ => Some(false),
        }
    }

    fn relate_objects(&self, a: &crate::ty::Object, b: &crate::ty::Object) -> Option<bool> {
        let members = b.properties.iter().map(|wanted| match a.property(&wanted.name) {
            Some(found) if found.optional && !wanted.optional => Some(false),
            Some(found) => self.relate(&self.force(&found.ty), &self.force(&wanted.ty)),
            None if wanted.optional => Some(true),
            None if a.open.is_some() => None,
            None => Some(false),
        });
        if all(members) == Some(false) {
            return Some(false);
        }
        let index = b.index.as_ref().map(|index| self.force(index));
        let indexed = index.iter().flat_map(|index| a.properties.iter().map(move |p| self.relate(&self.force(&p.ty), index)));
        let members = b.properties.iter().map(|wanted| match a.property(&wanted.name) {
            Some(found) => self.relate(&self.force(&found.ty), &self.force(&wanted.ty)),
            None if a.open.is_some() && !wanted.optional => None,
            None => Some(true),
        });
        let unsure = b.open.is_some().then_some(None);
        all(members.chain(indexed).chain(unsure))
    }

    /// What the type parameters of a function are when it is given these.
    pub(crate) fn inferred_by_call(&self, function: &Function, given: &[Ty]) -> Scope {
        let generics = &function.signature.generics;
        let patterns = generics.iter().fold(function.scope.clone(), |scope, generic| {
            let node = Arc::new(TypeNode { kind: TypeKind::Infer(generic.name.clone(), None), span: (0, 0) });
            scope.with(&generic.name, Binding::Pattern(node, function.scope.clone()))
        });
        let mut inferred = Inferred::new();
        for (parameter, ty) in function.signature.parameters.iter().zip(given) {
            if let Some(node) = &parameter.ty {
                self.matches(ty, node, &patterns, &mut inferred);
            }
        }
        let mut out = function.scope.clone();
        for generic in generics {
            let ty = inferred.remove(&generic.name).unwrap_or_else(|| {
                let written = generic.default.as_ref().or(generic.constraint.as_ref());
                written.map_or(Ty::Any, |node| self.evaluate(node, &out))
            });
            out = out.with(&generic.name, Binding::Ty(ty));
        }
        out
    }
}

/// Whether a type is a single word of the language: nothing of the page is.
fn is_single(ty: &Ty) -> bool {
    matches!(ty, Ty::String | Ty::Number | Ty::Boolean | Ty::Literal(_) | Ty::List(_) | Ty::Tuple(_))
}

/// The names that a pattern infers.
fn infers(node: &TypeNode, out: &mut Vec<String>) {
    if let TypeKind::Infer(name, _) = &node.kind {
        out.push(name.clone());
    }
    each_within(node, &mut |inner| infers(inner, out));
}

/// Whether a type holds an `infer`, or a name that stands for one.
fn holds_pattern(node: &TypeNode, scope: &Scope) -> bool {
    let is_pattern = match &node.kind {
        TypeKind::Infer(..) => true,
        TypeKind::Reference(path, _) => path.len() == 1 && matches!(scope.binding(&path[0]), Some(Binding::Pattern(..))),
        _ => false,
    };
    let mut holds = is_pattern;
    if !holds {
        each_within(node, &mut |inner| holds |= holds_pattern(inner, scope));
    }
    holds
}

/// The types that a type is made of.
fn each_within(node: &TypeNode, work: &mut dyn FnMut(&TypeNode)) {
    let of_signature = |signature: &Signature, work: &mut dyn FnMut(&TypeNode)| {
        signature.parameters.iter().filter_map(|p| p.ty.as_ref()).for_each(|t| work(t));
        signature.returns.iter().for_each(|t| work(t));
    };
    match &node.kind {
        TypeKind::Template(_, of) | TypeKind::Union(of) | TypeKind::Intersection(of) => of.iter().for_each(|t| work(t)),
        TypeKind::Array(of) | TypeKind::Keyof(of) => work(of),
        TypeKind::Tuple(of) => of.iter().for_each(|e| work(&e.ty)),
        TypeKind::Object(shape) => {
            for member in &shape.members {
                match &member.ty {
                    MemberType::Written(ty) => work(ty),
                    MemberType::Method(signature) => of_signature(signature, work),
                    MemberType::Value(_) | MemberType::Untyped => {}
                }
            }
            shape.calls.iter().for_each(|c| of_signature(c, work));
        }
        TypeKind::Function(signature) => of_signature(signature, work),
        TypeKind::Reference(_, of) | TypeKind::Import(_, _, of) => of.iter().for_each(|t| work(t)),
        TypeKind::Indexed(of, by) => {
            work(of);
            work(by);
        }
        TypeKind::Conditional(parts) => parts.iter().for_each(&mut *work),
        TypeKind::Infer(_, of) => of.iter().for_each(|t| work(t)),
        TypeKind::Mapped(mapped) => {
            work(&mapped.over);
            mapped.value.iter().for_each(|t| work(t));
        }
        TypeKind::Keyword(_) | TypeKind::Literal(_) | TypeKind::Query(_) | TypeKind::QueryImport(..) | TypeKind::Other => {}
    }
}

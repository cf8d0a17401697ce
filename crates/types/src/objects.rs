//! Members: what has them, what they are in an intersection, by a mapped type, by an index.

use std::rc::Rc;
use std::sync::Arc;

use serde_json::Value as Json;

use crate::checker::Checker;
use crate::syntax::{Keyword, Mapped, MemberType, Shape, TypeKind, TypeNode};
use crate::ty::{Binding, Function, Lazy, Object, Property, Scope, Ty};
use crate::{css, known};

impl Checker<'_> {
    /// What is between braces.
    pub(crate) fn shape(&self, shape: &Shape, scope: &Scope) -> Object {
        let mut out = Object { index: shape.index.as_ref().map(|n| Lazy::Written(n.clone(), scope.clone())), ..Object::default() };
        for member in &shape.members {
            let ty = match &member.ty {
                MemberType::Written(node) => Lazy::Written(node.clone(), scope.clone()),
                MemberType::Method(signature) => {
                    Lazy::Now(Ty::Function(Rc::new(Function { signature: signature.clone(), scope: scope.clone() })))
                }
                MemberType::Value(value) => Lazy::Shown(value.clone(), scope.outermost(), false),
                MemberType::Untyped => Lazy::Now(Ty::Any),
            };
            let from = Some((scope.module.clone(), member.at));
            out.put(Property { name: member.name.clone(), ty, optional: member.optional, from });
        }
        out.calls = shape.calls.iter().map(|s| Function { signature: s.clone(), scope: scope.clone() }).collect();
        out
    }

    /// An object that is nothing but a function is one.
    pub(crate) fn callable(&self, mut object: Object) -> Ty {
        if object.properties.is_empty() && object.index.is_none() && object.open.is_none() && object.calls.len() == 1 {
            return Ty::Function(Rc::new(object.calls.remove(0)));
        }
        Ty::Object(Rc::new(object))
    }

    /// The members of a type: of a choice all that one of them has, which may then be left out.
    pub fn members(&self, ty: &Ty) -> Object {
        match ty {
            Ty::Object(object) => (**object).clone(),
            Ty::Either(of) => {
                let all: Vec<Object> = of.iter().filter(|t| !t.is_nothing()).map(|t| self.members(t)).collect();
                let mut out = Object { open: all.iter().find_map(|o| o.open.clone()), ..Object::default() };
                for property in all.iter().flat_map(|o| &o.properties) {
                    if out.property(&property.name).is_some() {
                        continue;
                    }
                    let same: Vec<&Property> = all.iter().filter_map(|o| o.property(&property.name)).collect();
                    let optional = same.len() < all.len() || same.iter().any(|p| p.optional);
                    let ty = match same.as_slice() {
                        [one] => one.ty.clone(),
                        many => Lazy::Any(Rc::new(many.iter().map(|p| p.ty.clone()).collect())),
                    };
                    out.put(Property { ty, optional, ..property.clone() });
                }
                out
            }
            Ty::Any => Object { open: Some("any".into()), ..Object::default() },
            Ty::Unknown(text) | Ty::Page(text) | Ty::Instance(text) => Object { open: Some(text.clone()), ..Object::default() },
            _ => Object::default(),
        }
    }

    /// `A & B`
    pub(crate) fn intersect(&self, a: Ty, b: Ty) -> Ty {
        match (&a, &b) {
            (Ty::Never, _) | (_, Ty::Never) => Ty::Never,
            (Ty::Any, _) | (_, Ty::Any) => Ty::Any,
            (Ty::Either(of), _) => {
                let of: Vec<Ty> = of.iter().map(|t| self.intersect(t.clone(), b.clone())).collect();
                Ty::one_of(of)
            }
            (_, Ty::Either(of)) => {
                let of: Vec<Ty> = of.iter().map(|t| self.intersect(a.clone(), t.clone())).collect();
                Ty::one_of(of)
            }
            // `string & {}`: text of which some is suggested.
            (Ty::Object(object), _) if is_empty(object) && is_primitive(&b) => b,
            (_, Ty::Object(object)) if is_empty(object) && is_primitive(&a) => a,
            (_, _) if is_primitive(&a) && is_primitive(&b) => match (&a, &b) {
                (Ty::Literal(x), Ty::Literal(y)) => {
                    if x == y {
                        a
                    } else {
                        Ty::Never
                    }
                }
                (Ty::Literal(value), wide) | (wide, Ty::Literal(value)) => {
                    let fits = matches!(
                        (value, wide),
                        (Json::String(_), Ty::String) | (Json::Number(_), Ty::Number) | (Json::Bool(_), Ty::Boolean)
                    );
                    if fits { Ty::Literal(value.clone()) } else { Ty::Never }
                }
                _ if a.is_plainly(&b) => a,
                _ => Ty::Never,
            },
            // A branded text is a text.
            (Ty::Object(_), _) if is_primitive(&b) => b,
            (_, Ty::Object(_)) if is_primitive(&a) => a,
            (Ty::Content | Ty::Renderer(_) | Ty::Component(_) | Ty::Date | Ty::List(_) | Ty::Tuple(_), _) => a,
            (_, Ty::Content | Ty::Renderer(_) | Ty::Component(_) | Ty::Date | Ty::List(_) | Ty::Tuple(_)) => b,
            (Ty::Function(_), _) => a,
            (_, Ty::Function(_)) => b,
            // A promise with a member more is a promise: no object of members alone is one.
            (Ty::Instance(name), _) if &**name != "object" => a,
            (_, Ty::Instance(name)) if &**name != "object" => b,
            _ => {
                let mut out = self.members(&a);
                let other = self.members(&b);
                for property in &other.properties {
                    match out.property(&property.name) {
                        Some(known) => {
                            let ty = Lazy::Both(Rc::new((known.ty.clone(), property.ty.clone())));
                            let both = Property { ty, optional: known.optional && property.optional, ..property.clone() };
                            out.put(both);
                        }
                        None => out.put(property.clone()),
                    }
                }
                out.index = out.index.take().or(other.index);
                out.calls.extend(other.calls);
                out.open = out.open.take().or(other.open);
                out.class = out.class.take().or(other.class);
                Ty::Object(Rc::new(out))
            }
        }
    }

    /// `keyof T`
    pub(crate) fn keys_of(&self, ty: &Ty) -> Ty {
        match ty {
            Ty::Either(of) => {
                // What all have.
                let mut of = of.iter().filter(|t| !t.is_nothing()).map(|t| self.keys_of(t).choices());
                let first = of.next().unwrap_or_default();
                let rest: Vec<Vec<Ty>> = of.collect();
                Ty::one_of(first.into_iter().filter(|k| rest.iter().all(|r| r.iter().any(|o| o.is_plainly(k)))).collect::<Vec<_>>())
            }
            Ty::List(_) | Ty::Tuple(_) => Ty::Number,
            Ty::Object(object) => {
                let names = object.properties.iter().map(|p| Ty::Literal(Json::from(p.name.as_str())));
                let more = object.index.as_ref().map(|_| Ty::String);
                match &object.open {
                    Some(why) if object.properties.is_empty() => Ty::Unknown(why.clone()),
                    _ => Ty::one_of(names.chain(more).collect::<Vec<_>>()),
                }
            }
            Ty::Any => Ty::String,
            Ty::Unknown(text) | Ty::Page(text) | Ty::Instance(text) => Ty::Unknown(text.clone()),
            _ => Ty::Never,
        }
    }

    /// What a list holds.
    pub(crate) fn element_of(&self, ty: &Ty) -> Ty {
        match ty {
            Ty::List(of) => self.force(of),
            Ty::Tuple(of) => Ty::one_of(of.iter().map(|(t, _)| self.force(t)).collect::<Vec<_>>()),
            Ty::Either(of) => Ty::one_of(of.iter().map(|t| self.element_of(t)).collect::<Vec<_>>()),
            Ty::String => Ty::String,
            _ => Ty::Any,
        }
    }

    /// `T[K]`
    pub(crate) fn index(&self, of: &Ty, by: &Ty, text: &str) -> Ty {
        if let Ty::Either(of) = of {
            return Ty::one_of(of.iter().filter(|t| !t.is_nothing()).map(|t| self.index(t, by, text)).collect::<Vec<_>>());
        }
        if let Ty::Either(keys) = by {
            return Ty::one_of(keys.iter().map(|k| self.index(of, k, text)).collect::<Vec<_>>());
        }
        match (of, by) {
            (Ty::Any, _) => Ty::Any,
            (_, Ty::Never) => Ty::Never,
            (Ty::Page(page), Ty::Literal(Json::String(name))) if page.contains("CSSProperties") => css::value_of(name),
            (Ty::Page(_), Ty::Literal(Json::String(name))) => known::attribute(name).unwrap_or_else(|| Ty::unknown(text)),
            (Ty::List(_) | Ty::Tuple(_), Ty::Number) => self.element_of(of),
            (Ty::Tuple(of), Ty::Literal(at)) => {
                let at = at.as_u64().or_else(|| at.as_str()?.parse().ok());
                match at.and_then(|i| of.get(i as usize)) {
                    Some((ty, optional)) => Ty::one_of([self.force(ty)].into_iter().chain(optional.then_some(Ty::Undefined))),
                    None if at.is_some() => Ty::Undefined,
                    None => Ty::Number,
                }
            }
            (Ty::List(_), Ty::Literal(Json::Number(_))) => self.element_of(of),
            (Ty::List(_), Ty::Literal(_)) => Ty::Number,
            (Ty::Object(object), Ty::Literal(key)) => {
                let key = key.as_str().map_or_else(|| key.to_string(), str::to_owned);
                match (object.property(&key), &object.index) {
                    (Some(p), _) => {
                        let ty = self.force(&p.ty);
                        if p.optional { Ty::one_of([ty, Ty::Undefined]) } else { ty }
                    }
                    (None, Some(index)) => self.force(index),
                    (None, None) => Ty::unknown(text),
                }
            }
            (Ty::Object(object), Ty::String | Ty::Number) => match &object.index {
                Some(index) => self.force(index),
                None if object.open.is_none() && !object.properties.is_empty() => {
                    Ty::one_of(object.properties.iter().map(|p| self.force(&p.ty)).collect::<Vec<_>>())
                }
                None => Ty::unknown(text),
            },
            _ => Ty::unknown(text),
        }
    }

    /// `{ [K in T as N]?: V }`
    pub(crate) fn mapped(&self, mapped: &Mapped, scope: &Scope) -> Ty {
        // What it maps keeps what is said of each member.
        let source = self.mapped_from(mapped, scope);
        if let (Some(Ty::List(_) | Ty::Tuple(_)), TypeKind::Keyof(_), Some(value)) = (&source, &mapped.over.kind, &mapped.value) {
            let inner = scope.with(&mapped.key, Binding::Ty(Ty::Number));
            return Ty::List(Rc::new(Lazy::Written(value.clone(), inner)));
        }
        // Members of a text, a number or nothing are not mapped: it stays what it is, each of a choice by itself.
        if let (Some(source), TypeKind::Keyof(of)) = (&source, &mapped.over.kind) {
            if is_primitive(source) {
                return source.clone();
            }
            if let (Ty::Either(choices), TypeKind::Reference(path, _)) = (source, &of.kind)
                && let [name] = path.as_slice()
                && scope.binding(name).is_some()
            {
                let one = |ty: &Ty| self.mapped(mapped, &scope.with(name, Binding::Ty(ty.clone())));
                return Ty::one_of(choices.iter().map(one).collect::<Vec<_>>());
            }
        }
        let from = source.as_ref().map(|ty| self.members(ty)).unwrap_or_default();
        let keys = match (&mapped.over.kind, &source) {
            (TypeKind::Keyof(_), Some(ty)) => self.keys_of(ty),
            _ => self.evaluate(&mapped.over, scope),
        };
        let mut out = Object::default();
        for key in keys.choices() {
            match &key {
                Ty::Literal(word) => {
                    let word = word.as_str().map_or_else(|| word.to_string(), str::to_owned);
                    self.map_one(mapped, scope, &key, from.property(&word), &word, &mut out);
                }
                Ty::String | Ty::Number => {
                    let inner = scope.with(&mapped.key, Binding::Ty(key.clone()));
                    out.index = mapped.value.as_ref().map(|v| Lazy::Written(v.clone(), inner));
                }
                Ty::Unknown(why) => out.open = Some(why.clone()),
                Ty::Any => out.open = Some("any".into()),
                _ => {}
            }
        }
        out.open = out.open.take().or_else(|| from.open.clone().filter(|_| matches!(mapped.over.kind, TypeKind::Keyof(_))));
        Ty::Object(Rc::new(out))
    }

    fn map_one(&self, mapped: &Mapped, scope: &Scope, key: &Ty, source: Option<&Property>, word: &str, out: &mut Object) {
        let inner = scope.with(&mapped.key, Binding::Ty(key.clone()));
        let names = match &mapped.name {
            Some(name) => self.evaluate(name, &inner).choices(),
            None => vec![Ty::Literal(Json::from(word))],
        };
        for name in names {
            let Ty::Literal(name) = name else { continue };
            let name = name.as_str().map_or_else(|| name.to_string(), str::to_owned);
            let optional = mapped.optional.unwrap_or_else(|| source.is_some_and(|p| p.optional));
            let ty = mapped.value.as_ref().map_or(Lazy::Now(Ty::Any), |v| Lazy::Written(v.clone(), inner.clone()));
            let from = source.and_then(|p| p.from.clone()).or_else(|| Some((scope.module.clone(), mapped.over.span.0)));
            out.put(Property { name, ty, optional, from });
        }
    }

    /// The object whose members are mapped: `keyof T`, or `T[K]` as the value of each.
    fn mapped_from(&self, mapped: &Mapped, scope: &Scope) -> Option<Ty> {
        if let TypeKind::Keyof(of) = &mapped.over.kind {
            return Some(self.evaluate(of, scope));
        }
        let TypeKind::Indexed(of, by) = &mapped.value.as_ref()?.kind else { return None };
        let by_key = matches!(&by.kind, TypeKind::Reference(path, _) if path.len() == 1 && path[0] == mapped.key);
        by_key.then(|| self.evaluate(of, scope))
    }

    /// Some of the members of an object; which, `wanted` tells.
    pub(crate) fn picked(&self, ty: &Ty, wanted: &dyn Fn(&str) -> bool) -> Ty {
        match ty {
            Ty::Either(of) => Ty::one_of(of.iter().map(|t| self.picked(t, wanted)).collect::<Vec<_>>()),
            _ => {
                let mut object = self.members(ty);
                object.properties.retain(|p| wanted(&p.name));
                object.calls.clear();
                Ty::Object(Rc::new(object))
            }
        }
    }

    /// The same members, all of them optional or none.
    pub(crate) fn with_optional(&self, ty: &Ty, optional: bool) -> Ty {
        match ty {
            Ty::Either(of) => Ty::one_of(of.iter().map(|t| self.with_optional(t, optional)).collect::<Vec<_>>()),
            Ty::Object(_) => {
                let mut object = self.members(ty);
                object.properties.iter_mut().for_each(|p| p.optional = optional);
                Ty::Object(Rc::new(object))
            }
            other => other.clone(),
        }
    }

    /// What a function takes, and what it gives; its type parameters are what they must extend.
    pub fn parts_of(&self, function: &Function) -> (Vec<(Lazy, bool)>, Lazy) {
        let signature = &function.signature;
        let scope = self.bind(&signature.generics, &[], &function.scope);
        let later = |node: &Option<Arc<TypeNode>>| node.as_ref().map_or(Lazy::Now(Ty::Any), |n| Lazy::Written(n.clone(), scope.clone()));
        let mut taken = Vec::new();
        for parameter in &signature.parameters {
            if !parameter.rest {
                taken.push((later(&parameter.ty), parameter.optional));
                continue;
            }
            // `(...args: [a: A, b: B])` takes those.
            if let Ty::Tuple(of) = self.force(&later(&parameter.ty)) {
                taken.extend(of.iter().cloned());
            }
        }
        let gives = match (&signature.returns, &signature.result) {
            (Some(_), _) => later(&signature.returns),
            (None, Some(value)) => Lazy::Shown(value.clone(), scope.clone(), false),
            (None, None) => Lazy::Now(Ty::Any),
        };
        (taken, gives)
    }

    /// Whether a function gives nothing that anybody could use: `() => void`, `(value: string) => Promise<void>`.
    pub fn is_silent(&self, function: &Function) -> bool {
        let Some(returns) = &function.signature.returns else { return false };
        let is_void = |node: &TypeNode| matches!(node.kind, TypeKind::Keyword(Keyword::Void | Keyword::Undefined));
        match &returns.kind {
            TypeKind::Reference(path, of) if path.len() == 1 && path[0] == "Promise" => of.first().is_some_and(|t| is_void(t)),
            TypeKind::Union(of) => of.iter().any(|t| is_void(t)),
            _ => is_void(returns),
        }
    }
}

fn is_empty(object: &Object) -> bool {
    object.properties.is_empty() && object.index.is_none() && object.calls.is_empty()
}

fn is_primitive(ty: &Ty) -> bool {
    matches!(ty, Ty::String | Ty::Number | Ty::Boolean | Ty::Literal(_) | Ty::Undefined | Ty::Null)
}

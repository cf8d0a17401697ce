//! What `typeof` gives: the types of constants, functions and calls, as far as the text tells.

use std::rc::Rc;
use std::sync::Arc;

use serde_json::Value as Json;

use crate::checker::{Checker, Located};
use crate::known;
use crate::syntax::{TypeDeclaration, TypeNode, Value};
use crate::ty::{Function, Lazy, Object, Property, Scope, Ty};

/// Constants that one leads to the next, at most.
const MOST_HOPS: u8 = 8;

impl Checker<'_> {
    /// The type of an expression; `exactly` under `as const`, where literals are themselves.
    pub fn value(&self, value: &Arc<Value>, scope: &Scope, exactly: bool) -> Ty {
        self.deeper(|| "typeof".to_owned(), || self.value_here(value, scope, exactly))
    }

    fn value_here(&self, value: &Arc<Value>, scope: &Scope, exactly: bool) -> Ty {
        match &**value {
            Value::Literal(Json::Null) => Ty::Null,
            Value::Literal(literal) if exactly => Ty::Literal(literal.clone()),
            Value::Literal(Json::String(_)) => Ty::String,
            Value::Literal(Json::Bool(_)) => Ty::Boolean,
            Value::Literal(_) => Ty::Number,
            Value::List(of) if exactly => {
                Ty::Tuple(Rc::new(of.iter().map(|v| (Lazy::Shown(v.clone(), scope.clone(), true), false)).collect()))
            }
            Value::List(of) => {
                let of: Vec<Lazy> = of.iter().map(|v| Lazy::Shown(v.clone(), scope.clone(), false)).collect();
                Ty::List(Rc::new(if of.is_empty() { Lazy::Now(Ty::Any) } else { Lazy::Any(Rc::new(of)) }))
            }
            Value::Object(members, spread) => {
                let mut out = Object::default();
                for part in spread {
                    out.extend(&self.members(&self.value(part, scope, exactly)));
                }
                for (name, value, at) in members {
                    let ty = Lazy::Shown(value.clone(), scope.clone(), exactly);
                    out.put(Property { name: name.clone(), ty, optional: false, from: Some((scope.module.clone(), *at)) });
                }
                Ty::Object(Rc::new(out))
            }
            Value::Function(signature) => Ty::Function(Rc::new(Function { signature: signature.clone(), scope: scope.clone() })),
            Value::Call(callee, arguments, given) => self.call(callee, arguments, given, scope, exactly),
            Value::New(path, arguments) => {
                let given: Vec<Ty> = arguments.iter().map(|a| self.evaluate(a, scope)).collect();
                let text = path.join(".");
                match self.locate_type(path, scope) {
                    Some(found) => self.instantiate(&found, &given, &text),
                    None => known::of_language(self, path, &given, &text).unwrap_or_else(|| Ty::Instance(text.as_str().into())),
                }
            }
            Value::Path(path) => self.path(path, scope, exactly),
            Value::Member(of, name) => {
                let of = self.value(of, scope, exactly);
                self.index(&of, &Ty::Literal(Json::from(name.as_str())), name)
            }
            Value::As(node) => self.evaluate(node, scope),
            Value::Const(inner) => self.value(inner, scope, true),
            Value::Other => Ty::Any,
        }
    }

    /// The type of a name and of members of it.
    pub(crate) fn path(&self, path: &[String], scope: &Scope, exactly: bool) -> Ty {
        if let [word] = path
            && word == "undefined"
        {
            return Ty::Undefined;
        }
        match self.locate_value(path, scope) {
            Some(found) => self.located_value(&found, exactly),
            None => match self.foreign(path, scope) {
                Some((module, name)) => known::value_of_framework(&module, &name).unwrap_or_else(|| Ty::unknown(&path.join("."))),
                None => Ty::unknown(&format!("typeof {}", path.join("."))),
            },
        }
    }

    /// The type of a value that was found, and of the members of it that were asked for.
    pub(crate) fn located_value(&self, found: &Located, exactly: bool) -> Ty {
        let scope = Scope::of(found.module.clone());
        let whole = match found.module.values.get(&found.key) {
            Some(declared) => match (&declared.ty, &declared.value) {
                (Some(node), _) => self.evaluate(node, &scope),
                (None, Some(value)) => self.value(value, &scope, exactly),
                (None, None) => Ty::Any,
            },
            None => match found.module.types.get(&found.key).and_then(|d| d.first()) {
                Some(TypeDeclaration::Enum(members)) => {
                    let mut out = Object::default();
                    for (name, value) in members {
                        let ty = Lazy::Now(Ty::Literal(value.clone()));
                        out.put(Property { name: name.clone(), ty, optional: false, from: None });
                    }
                    Ty::Object(Rc::new(out))
                }
                Some(TypeDeclaration::Class(..)) => self.class_value(found),
                _ => Ty::unknown(&found.key),
            },
        };
        found.rest.iter().fold(whole, |of, name| self.index(&of, &Ty::Literal(Json::from(name.as_str())), name))
    }

    /// A class as a value: a component, with the props that it hands to the class of a framework that it extends.
    fn class_value(&self, found: &Located) -> Ty {
        if let Some(TypeDeclaration::Class(generics, Some(parent), _)) = found.module.types.get(&found.key).and_then(|d| d.first()) {
            let scope = self.bind(generics, &[], &Scope::of(found.module.clone()));
            let parent = self.reference(&parent.path, &parent.arguments, &parent.path.join("."), &scope);
            if let Ty::Component(Some(props)) = parent {
                return Ty::Component(Some(props));
            }
        }
        let instance = self.instantiate(found, &[], &found.key);
        let props = self.members(&instance).property("props").map(|p| Rc::new(self.force(&p.ty)));
        Ty::Component(props)
    }

    /// The literals that an expression lists, where all that it lists is one: `["C", "F"]`, `UNITS`, `Object.keys(UNITS)`, `[Unit.C]`.
    pub fn listed(&self, value: &Arc<Value>, scope: &Scope) -> Option<Vec<Json>> {
        self.listed_after(value, scope, 0)
    }

    fn listed_after(&self, value: &Arc<Value>, scope: &Scope, hops: u8) -> Option<Vec<Json>> {
        // What a constant was declared as says less than what it is.
        if let Value::Path(path) = &**value
            && let Some(found) = self.locate_value(path, scope).filter(|found| found.rest.is_empty())
            && let Some(constant) = found.module.values.get(&found.key).and_then(|declared| declared.value.clone())
        {
            return (hops < MOST_HOPS).then(|| self.listed_after(&constant, &Scope::of(found.module.clone()), hops + 1)).flatten();
        }
        let Ty::Tuple(of) = self.value(value, scope, true) else { return None };
        let literal = |(ty, is_rest): &(Lazy, bool)| match self.force(ty) {
            Ty::Literal(literal) if !is_rest => Some(literal),
            Ty::Null if !is_rest => Some(Json::Null),
            _ => None,
        };
        of.iter().map(literal).collect()
    }

    fn call(&self, callee: &Arc<Value>, arguments: &[Arc<TypeNode>], given: &[Arc<Value>], scope: &Scope, exactly: bool) -> Ty {
        let first = || given.first().map_or(Ty::Any, |v| self.value(v, scope, exactly));
        let ty = |i: usize| arguments.get(i).map(|node| self.evaluate(node, scope));
        if let Value::Path(path) = &**callee
            && self.locate_value(path, scope).is_none()
        {
            let name = self.foreign(path, scope).map_or_else(|| path.join("."), |(_, name)| name);
            return match name.rsplit('.').next().unwrap_or_default() {
                // What a function of React's makes of a component is one.
                "forwardRef" => match ty(1) {
                    Some(props) => Ty::Component(Some(Rc::new(props))),
                    None => self.component_of(&first()),
                },
                "memo" | "observer" => match ty(0) {
                    Some(props) => Ty::Component(Some(Rc::new(props))),
                    None => self.component_of(&first()),
                },
                "freeze" | "seal" if path.len() == 2 => first(),
                // What they list stands in the text as long as literals are themselves.
                "keys" if exactly && path[0] == "Object" => {
                    let names =
                        self.members(&first()).properties.iter().map(|p| Lazy::Now(Ty::Literal(Json::from(p.name.as_str())))).collect();
                    tuple(names)
                }
                "values" if exactly && path[0] == "Object" => {
                    tuple(self.members(&first()).properties.iter().map(|p| p.ty.clone()).collect())
                }
                "defineComponent" | "lazy" | "styled" => Ty::Component(None),
                _ => Ty::unknown(&path.join(".")),
            };
        }
        match self.value(callee, scope, false) {
            Ty::Function(function) => {
                let there = if arguments.is_empty() {
                    let given: Vec<Ty> = given.iter().map(|v| self.value(v, scope, exactly)).collect();
                    self.inferred_by_call(&function, &given)
                } else {
                    let given: Vec<Ty> = arguments.iter().map(|a| self.evaluate(a, scope)).collect();
                    self.bind(&function.signature.generics, &given, &function.scope)
                };
                match (&function.signature.returns, &function.signature.result) {
                    (Some(node), _) => self.evaluate(node, &there),
                    (None, Some(value)) => self.value(value, &there, false),
                    (None, None) => Ty::Any,
                }
            }
            Ty::Object(object) if !object.calls.is_empty() => {
                let function = &object.calls[0];
                let given: Vec<Ty> = given.iter().map(|v| self.value(v, scope, exactly)).collect();
                let there = self.inferred_by_call(function, &given);
                function.signature.returns.as_ref().map_or(Ty::Any, |node| self.evaluate(node, &there))
            }
            other => other,
        }
    }

    /// What wraps a component has its props.
    fn component_of(&self, ty: &Ty) -> Ty {
        match ty {
            Ty::Function(function) => {
                let props = self.parts_of(function).0.first().map(|(props, _)| Rc::new(self.force(props)));
                Ty::Component(props)
            }
            Ty::Component(props) => Ty::Component(props.clone()),
            _ => Ty::Component(None),
        }
    }
}

fn tuple(of: Vec<Lazy>) -> Ty {
    Ty::Tuple(Rc::new(of.into_iter().map(|ty| (ty, false)).collect()))
}

//! Declared types of props, as surfaces know them, from what TypeScript types come to.

use std::path::Path;
use std::sync::Arc;

use fidelon_core::surface::{Field, Prop, Type, Variant, VariantProp};
use fidelon_source::{Place, place_of};
use fidelon_types::comments::{self, Tag};
use fidelon_types::syntax::{TypeKind, TypeNode};
use fidelon_types::ty::{Function, Lazy};
use fidelon_types::{Checker, Object, Property, Ty, lower};
use oxc::ast::ast::{Class, Expression, FormalParameters, TSType};
use serde_json::Value as Json;

use crate::program::{Script, Sources, Told};

/// A member of an object type.
#[derive(Debug, Clone, PartialEq)]
pub struct Member {
    /// Its name.
    pub name: String,
    /// Its type.
    pub ty: Type,
    /// True when it may be left out.
    pub optional: bool,
    /// Its comment and its place.
    pub told: Told,
    /// For a function: whether it gives content.
    pub renders: bool,
    /// For a function: whether it takes anything.
    pub takes: bool,
    /// For a function: the types of what it takes, where the text tells.
    pub arguments: Option<Vec<Type>>,
    /// For a function: whether what it gives is nothing to anybody, as of one that is told of something.
    pub silent: bool,
}

impl Member {
    /// One of which nothing but name and type is known, that may be left out.
    pub fn optional(name: impl Into<String>, ty: Type) -> Self {
        Self { name: name.into(), ty, optional: true, told: Told::default(), renders: false, takes: false, arguments: None, silent: false }
    }
}

/// The members of an object type, and whether there may be more than the text tells.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Members {
    /// The members, in the order of the text.
    pub list: Vec<Member>,
    /// True when a part could not be resolved.
    pub open: bool,
    /// Where it is a union of object types, its choices as far as they differ.
    pub variants: Vec<Variant>,
}

/// The most choices of a union that are told apart, and the most members in which they differ.
const MOST_VARIANTS: usize = 24;
const MOST_VARIED: usize = 60;

/// How deep objects are told within objects.
const MOST_DEPTH: usize = 5;

/// How many fields and members a type is told with: those that hold themselves have no end.
const MOST_TOLD: usize = 600;

/// The declared type of a TypeScript type.
pub fn declared(script: &Script<'_>, ty: &TSType<'_>) -> Type {
    of_node(script, &lower::node(ty))
}

fn of_node(script: &Script<'_>, node: &TypeNode) -> Type {
    let checker = script.checker();
    Teller::new(&checker).ty(&checker.check(node, &script.scope()), 0)
}

/// The type that the comment before an offset says: `@type {T}`.
pub fn commented(script: &Script<'_>, offset: u32) -> Option<Type> {
    Some(of_node(script, &*script.module.type_before(offset)?))
}

/// The type of a tag of a comment.
pub fn of_tag(script: &Script<'_>, tag: &Tag<'_>) -> Option<Type> {
    Some(of_node(script, &*comments::parse(&script.module.source, tag.ty.clone()?)?))
}

/// What an attribute of HTML takes that a component hands on; none for what is no attribute.
pub fn of_attribute(name: &str) -> Option<Type> {
    Some(match fidelon_types::attribute(name)? {
        Ty::String => Type::String,
        Ty::Number => Type::Number,
        Ty::Boolean => Type::Boolean,
        _ => Type::Function,
    })
}

/// The members of an object type.
pub fn members(script: &Script<'_>, ty: &TSType<'_>) -> Members {
    let checker = script.checker();
    let ty = checker.check(&lower::node(ty), &script.scope());
    members_of(&checker, &ty)
}

/// The props that the comment before a function component tells: `@param {{ label: string }} props`, `@param {string} props.label`, or
/// `@type {FC<Props>}`. None where it tells nothing.
pub fn commented_props(script: &Script<'_>, offset: u32) -> Option<Members> {
    let checker = script.checker();
    let members = |node: &TypeNode| members_of(&checker, &checker.check(node, &script.scope()));
    if let Some(TypeNode { kind: TypeKind::Reference(_, arguments), .. }) = script.module.type_before(offset).as_deref() {
        return arguments.first().map(|props| members(props));
    }
    let tags = script.module.tags_before(offset);
    let mut params = tags.iter().filter(|tag| tag.name == "param");
    let whole = params.next()?;
    let node = comments::parse(&script.module.source, whole.ty.clone()?)?;
    // `@param {Object} props`, and its members one by one.
    let (of, _) = comments::name_of(whole)?;
    let named: Vec<Member> = params
        .filter_map(|tag| {
            let (name, optional) = comments::name_of(tag)?;
            let name = name.strip_prefix(of)?.strip_prefix('.').filter(|n| !n.contains('.'))?;
            let ty = checker.check(&*comments::parse(&script.module.source, tag.ty.clone()?)?, &script.scope());
            Some(member(&checker, &Property { name: name.to_owned(), ty: Lazy::Now(ty), optional, from: None }))
        })
        .collect();
    let all = if named.is_empty() { members(&node) } else { Members { list: named, ..Members::default() } };
    (!all.list.is_empty()).then_some(all)
}

/// The members of what a type comes to.
pub fn members_of(checker: &Checker<'_>, ty: &Ty) -> Members {
    let object: Object = checker.members(ty);
    // What nothing can be passed for is no prop.
    let can_be_passed = |p: &&Property| !matches!(checker.force(&p.ty), Ty::Never);
    let list = object.properties.iter().filter(can_be_passed).map(|p| member(checker, p)).collect();
    Members { list, open: object.open.is_some() || object.index.is_some(), variants: variants(checker, ty) }
}

/// The choices of a union of object types, as far as they differ.
fn variants(checker: &Checker<'_>, ty: &Ty) -> Vec<Variant> {
    let Ty::Either(of) = ty else { return Vec::new() };
    let choices: Vec<Object> = of.iter().filter(|t| !t.is_nothing()).map(|t| checker.members(t)).collect();
    if !(2..=MOST_VARIANTS).contains(&choices.len()) {
        return Vec::new();
    }
    // What is declared in one place for all choices is the same in all.
    let is_same = |a: &Property, b: &Property| {
        let at = |p: &Property| p.from.as_ref().map(|(module, at)| (Arc::as_ptr(module), *at));
        a.optional == b.optional && at(a).is_some() && at(a) == at(b)
    };
    let mut varied: Vec<&str> = Vec::new();
    for property in choices.iter().flat_map(|c| &c.properties) {
        let everywhere = choices.iter().all(|c| c.property(&property.name).is_some_and(|p| is_same(p, property)));
        if !everywhere && !varied.contains(&property.name.as_str()) {
            varied.push(&property.name);
        }
    }
    if varied.len() > MOST_VARIED {
        return Vec::new();
    }
    let in_choice = |choice: &Object, name: &&str| {
        let property = choice.property(name)?;
        let told = member(checker, property);
        let is_never = matches!(checker.force(&property.ty), Ty::Never | Ty::Undefined);
        (!is_never).then(|| VariantProp { name: told.name, ty: told.ty, required: !told.optional })
    };
    let mut out: Vec<Variant> = choices
        .iter()
        .map(|choice| Variant { props: varied.iter().filter_map(|name| in_choice(choice, name)).collect(), open: choice.open.is_some() })
        .collect();
    // What came out the same, though it is written several times, tells nothing apart.
    let same: Vec<String> = out[0].props.iter().filter(|p| out.iter().all(|v| v.props.contains(p))).map(|p| p.name.clone()).collect();
    out.iter_mut().for_each(|v| v.props.retain(|p| !same.contains(&p.name)));
    out.dedup();
    if out.len() < 2 { Vec::new() } else { out }
}

/// The props of a class that extends a component of a framework, by way of classes of the project if need be; none for any other class.
pub fn class_props(script: &Script<'_>, class: &Class<'_>) -> Option<Members> {
    let (_, heritage, _) = lower::class(class);
    let checker = script.checker();
    let Ty::Component(props) = checker.component_of_class(&heritage?, &script.scope())? else { return None };
    Some(props.map_or_else(|| Members { open: true, ..Members::default() }, |ty| members_of(&checker, &ty)))
}

/// The props of the component that another file exports by default; none where it tells none.
pub fn props_of_default(sources: Sources<'_>, from: &Path, specifier: &str) -> Option<Members> {
    let checker = Checker::new(&sources);
    let props = checker.props_of_default(from, specifier)?;
    Some(members_of(&checker, &props)).filter(|m| !m.list.is_empty())
}

/// Where a component was published without its types, they are declared in a file beside it: `Dial.vue.d.ts`, `Dial.d.ts`, or the one of
/// its folder.
pub fn declared_beside(sources: Sources<'_>, path: &Path, props: &mut [Prop]) {
    // A default tells that it is a text, and the declaration which texts there are.
    let is_loose = |p: &Prop| {
        matches!(
            &p.ty,
            Type::Unresolved { .. } | Type::Array { .. } | Type::Tuple { .. } | Type::Function | Type::Either { .. } | Type::String
        )
    };
    let (Some(file), Some(stem)) = (path.file_name().and_then(|n| n.to_str()), path.file_stem().and_then(|n| n.to_str())) else { return };
    let is_told_elsewhere = props.iter().any(|p| matches!(p.ty, Type::Unresolved { .. }));
    if !props.iter().any(is_loose) {
        return;
    }
    let beside = [format!("./{file}.d.ts"), format!("./{stem}.d.ts"), "./index.d.ts".to_owned()];
    // One that is named for something else is asked only where the source itself says nothing.
    let asked = &beside[..if is_told_elsewhere { beside.len() } else { 1 }];
    let Some(declared) = asked.iter().find_map(|specifier| props_of_default(sources, path, specifier)) else { return };
    for prop in props.iter_mut().filter(|p| is_loose(p)) {
        let told = declared.list.iter().find(|m| m.name == prop.name && !matches!(m.ty, Type::Unresolved { .. }));
        if let Some(told) = told {
            prop.ty = told.ty.clone();
        }
    }
}

/// The types of parameters; what has no type stays unresolved.
pub fn parameters(script: &Script<'_>, params: &FormalParameters<'_>) -> Vec<Type> {
    let signature = lower::signature(None, params, None, params.span, false);
    let checker = script.checker();
    arguments(&checker, &Function { signature: signature.into(), scope: script.scope() })
}

/// The events that the type of an emitting function names, each with what it carries: `{ fire: [payload: Fire] }` or
/// `{ (e: 'fire', payload: Fire): void }`.
pub fn events(script: &Script<'_>, ty: &TSType<'_>) -> Vec<(String, Option<Vec<Type>>)> {
    let checker = script.checker();
    let ty = checker.check(&lower::node(ty), &script.scope());
    let mut out = Vec::new();
    let mut named = |function: &Function| {
        // The first parameter names the events, the others are what they carry.
        let (takes, _) = checker.parts_of(function);
        let Some((names, _)) = takes.first() else { return };
        let payload: Vec<Type> = takes[1..].iter().map(|(t, _)| Teller::new(&checker).ty(&checker.force(t), 0)).collect();
        for name in checker.force(names).choices() {
            if let Ty::Literal(Json::String(name)) = name {
                out.push((name, Some(payload.clone())));
            }
        }
    };
    if let Ty::Function(function) = &ty {
        named(function);
        return out;
    }
    let object = checker.members(&ty);
    let teller = Teller::new(&checker);
    let properties = object.properties.iter().map(|property| {
        let payload = match checker.force(&property.ty) {
            Ty::Tuple(of) => Some(of.iter().map(|(t, _)| teller.ty(&checker.force(t), 0)).collect()),
            Ty::Function(function) => Some(arguments(&checker, &function)),
            _ => None,
        };
        (property.name.clone(), payload)
    });
    let mut all: Vec<_> = properties.collect();
    object.calls.iter().for_each(&mut named);
    all.append(&mut out);
    all
}

fn arguments(checker: &Checker<'_>, function: &Function) -> Vec<Type> {
    let teller = Teller::new(checker);
    checker.parts_of(function).0.iter().map(|(t, _)| teller.ty(&checker.force(t), 0)).collect()
}

fn member(checker: &Checker<'_>, property: &Property) -> Member {
    let ty = checker.force(&property.ty);
    let choices = ty.choices();
    let mut out = Member::optional(&property.name, Teller::new(checker).ty(&ty, 0));
    out.optional = property.optional || choices.iter().any(|t| matches!(t, Ty::Undefined));
    out.told = told(property);
    for choice in &choices {
        match choice {
            Ty::Renderer(takes) => (out.renders, out.takes) = (true, *takes),
            Ty::Function(function) => {
                let (takes, gives) = checker.parts_of(function);
                // A function that was declared as a prop and gives content is content.
                if function.signature.returns.is_some() && is_content(&checker.force(&gives)) {
                    out.renders = true;
                }
                out.takes |= !takes.is_empty();
                out.silent |= checker.is_silent(function);
                out.arguments.get_or_insert_with(|| arguments(checker, function));
            }
            Ty::Object(object) if !object.calls.is_empty() => {
                out.silent |= checker.is_silent(&object.calls[0]);
                out.arguments.get_or_insert_with(|| arguments(checker, &object.calls[0]));
            }
            Ty::Instance(name) if &**name == HANDLER => out.silent = true,
            // A ref is handed what it refers to.
            Ty::Ref(of) => out.arguments = Some(vec![Teller::new(checker).ty(of, 0)]),
            _ => {}
        }
    }
    out
}

/// How the checker calls a function that is told of something, where its own type is not read.
const HANDLER: &str = "handler";

fn is_content(ty: &Ty) -> bool {
    ty.choices().iter().any(|t| matches!(t, Ty::Content))
}

fn told(property: &Property) -> Told {
    let Some((module, at)) = &property.from else { return Told::default() };
    let (line, column) = place_of(&module.source, *at as usize);
    Told { about: module.about(*at), place: Some(Place { file: module.path.to_string_lossy().into_owned(), line, column }) }
}

/// Whether a type is an object with styles, as React and others call it.
fn is_styles(text: &str) -> bool {
    matches!(text, "CSSProperties" | "React.CSSProperties" | "JSX.CSSProperties" | "CSS.Properties")
}

/// Styles as an object: of all that it may hold what shows nearly everywhere.
fn styles() -> Type {
    let field = |name: &str, ty| Field { name: name.to_owned(), ty, required: false };
    let length = Type::Either { of: vec![Type::String, Type::Number] };
    Type::Object { fields: vec![field("color", Type::String), field("margin", length)] }
}

/// Says what types are in the words of surfaces.
struct Teller<'c, 'f> {
    checker: &'c Checker<'f>,
    told: std::cell::Cell<usize>,
}

impl<'c, 'f> Teller<'c, 'f> {
    fn new(checker: &'c Checker<'f>) -> Self {
        Self { checker, told: std::cell::Cell::new(0) }
    }

    fn ty(&self, ty: &Ty, depth: usize) -> Type {
        // A list of words is one thing to tell, however many they are.
        if !matches!(ty, Ty::Literal(_)) {
            self.told.set(self.told.get() + 1);
        }
        let unresolved = |text: &str| Type::Unresolved { text: text.to_owned() };
        if depth > MOST_DEPTH || self.told.get() > MOST_TOLD {
            return unresolved("more of itself");
        }
        match ty {
            Ty::Page(text) if is_styles(text) => styles(),
            Ty::Unknown(text) | Ty::Page(text) => unresolved(text),
            Ty::Any => unresolved("any"),
            Ty::Never => unresolved("never"),
            Ty::Undefined => unresolved("undefined"),
            Ty::Null => Type::Union { of: vec![Json::Null] },
            Ty::String => Type::String,
            Ty::Number => Type::Number,
            Ty::Boolean => Type::Boolean,
            Ty::Literal(value) => Type::Union { of: vec![value.clone()] },
            Ty::Content | Ty::Renderer(_) => Type::Node,
            Ty::Component(_) => unresolved("component"),
            Ty::Ref(_) => unresolved("ref"),
            Ty::Date => Type::Date,
            Ty::Instance(name) if ["Function", HANDLER].contains(&&**name) => Type::Function,
            Ty::Instance(name) => unresolved(name),
            Ty::List(of) => Type::Array { of: Box::new(self.ty(&self.checker.force(of), depth + 1)) },
            Ty::Tuple(of) => Type::Tuple { of: of.iter().map(|(t, _)| self.ty(&self.checker.force(t), depth + 1)).collect() },
            Ty::Function(_) => Type::Function,
            Ty::Object(object) if !object.calls.is_empty() => Type::Function,
            Ty::Object(object) if object.class.is_some() => unresolved(object.class.as_deref().unwrap_or_default()),
            Ty::Object(object) => match &object.open {
                Some(why) if object.properties.is_empty() => unresolved(why),
                _ => Type::Object { fields: self.fields(&object.properties, depth) },
            },
            Ty::Either(of) => union_of(of.iter().filter(|t| !matches!(t, Ty::Undefined)).map(|t| self.ty(t, depth)).collect()),
        }
    }

    /// Fields in their order. Those that hold no others are told first: a branch of a tree, whose branches are trees again, is not to use up
    /// what there is room for before its name.
    fn fields(&self, properties: &[Property], depth: usize) -> Vec<Field> {
        let types: Vec<Ty> = properties.iter().map(|p| self.checker.force(&p.ty)).collect();
        let holds = |ty: &Ty| ty.choices().iter().any(|t| matches!(t, Ty::Object(_) | Ty::List(_) | Ty::Tuple(_)));
        let mut out: Vec<Option<Field>> = properties.iter().map(|_| None).collect();
        for nested in [false, true] {
            for (i, (property, ty)) in properties.iter().zip(&types).enumerate().filter(|(_, (_, ty))| holds(ty) == nested) {
                out[i] = Some(self.field(property, ty, depth));
            }
        }
        out.into_iter().flatten().collect()
    }

    fn field(&self, property: &Property, ty: &Ty, depth: usize) -> Field {
        let required = !property.optional && !ty.choices().iter().any(|t| matches!(t, Ty::Undefined));
        Field { name: property.name.clone(), ty: self.ty(ty, depth + 1), required }
    }
}

/// A union of literals is one type; with others beside them it is a choice. `null` comes last: it is the least of what it may be.
fn union_of(types: Vec<Type>) -> Type {
    let mut literals = Vec::new();
    let mut others: Vec<Type> = Vec::new();
    let mut null = false;
    for ty in types {
        match ty {
            Type::Union { of } if of == [Json::Null] => null = true,
            Type::Union { of } => literals.extend(of),
            other if !others.contains(&other) => others.push(other),
            _ => {}
        }
    }
    if !literals.is_empty() {
        others.insert(0, Type::Union { of: literals });
    }
    // A callback or content that is nothing is one that is not passed.
    if null && !others.iter().all(|t| matches!(t, Type::Function | Type::Node)) {
        others.push(Type::Union { of: vec![Json::Null] });
    }
    match others.len() {
        1 => others.remove(0),
        _ => Type::Either { of: others },
    }
}

/// An expression without `as const`, `satisfies` and parentheses around it.
pub fn bare<'e, 'a>(expression: &'e Expression<'a>) -> &'e Expression<'a> {
    match expression {
        Expression::TSAsExpression(e) => bare(&e.expression),
        Expression::TSSatisfiesExpression(e) => bare(&e.expression),
        Expression::ParenthesizedExpression(e) => bare(&e.expression),
        Expression::TSNonNullExpression(e) => bare(&e.expression),
        other => other,
    }
}

/// The object literal that an expression is.
pub fn object_literal<'e, 'a>(expression: &'e Expression<'a>) -> Option<&'e oxc::ast::ast::ObjectExpression<'a>> {
    match bare(expression) {
        Expression::ObjectExpression(object) => Some(object),
        _ => None,
    }
}

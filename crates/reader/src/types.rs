//! TypeScript types as far as the text tells: literals, unions, objects, references to declared and imported types, and
//! the utility types of the language. What is inferred or conditional stays unresolved.

use fidelon_core::surface::{Field, Type};
use oxc::ast::ast::{
    Expression, FormalParameter, FormalParameters, TSImportType, TSImportTypeQualifier, TSLiteral, TSSignature, TSType, TSTypeName,
    TSTypeOperatorOperator, TSTypeParameterInstantiation, TSTypeQueryExprName,
};
use oxc::span::GetSpan;
use serde_json::Value as Json;

use crate::program::{MOST_HOPS, Named, Script, Told, key_name, source_type, with_script};

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
    /// For a function: the names it gives to content that it returns, or none when it returns no content.
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
}

impl Members {
    fn add(&mut self, other: Self) {
        self.open |= other.open;
        for member in other.list {
            self.list.retain(|m| m.name != member.name);
            self.list.push(member);
        }
    }

    fn unknown() -> Self {
        Self { list: Vec::new(), open: true }
    }
}

/// The declared type of a TypeScript type.
pub fn declared(script: &Script<'_>, ty: &TSType<'_>) -> Type {
    resolve(script, ty, 0)
}

fn unresolved(script: &Script<'_>, ty: &TSType<'_>) -> Type {
    Type::Unresolved { text: script.text(ty.span()).to_owned() }
}

fn resolve(script: &Script<'_>, ty: &TSType<'_>, hops: usize) -> Type {
    if hops > MOST_HOPS {
        return unresolved(script, ty);
    }
    match ty {
        TSType::TSStringKeyword(_) => Type::String,
        TSType::TSNumberKeyword(_) => Type::Number,
        TSType::TSBooleanKeyword(_) => Type::Boolean,
        TSType::TSFunctionType(_) => Type::Function,
        TSType::TSParenthesizedType(inner) => resolve(script, &inner.type_annotation, hops),
        TSType::TSLiteralType(literal) => match literal_value(&literal.literal) {
            Some(value) => Type::Union { of: vec![value] },
            None => unresolved(script, ty),
        },
        TSType::TSArrayType(array) => Type::Array { of: Box::new(resolve(script, &array.element_type, hops + 1)) },
        TSType::TSUnionType(union) => union_of(union.types.iter().filter(|t| !is_nothing(t)).map(|t| resolve(script, t, hops)).collect()),
        TSType::TSTypeLiteral(_) | TSType::TSIntersectionType(_) => object(script, ty, hops),
        TSType::TSTypeOperatorType(operator) if operator.operator == TSTypeOperatorOperator::Readonly => {
            resolve(script, &operator.type_annotation, hops)
        }
        TSType::TSTypeOperatorType(operator) if operator.operator == TSTypeOperatorOperator::Keyof => {
            keys(script, &operator.type_annotation, hops).unwrap_or_else(|| unresolved(script, ty))
        }
        TSType::TSIndexedAccessType(access) => indexed(script, &access.object_type).unwrap_or_else(|| unresolved(script, ty)),
        TSType::TSTypeReference(reference) => {
            let arguments = reference.type_arguments.as_ref();
            let first = arguments.and_then(|a| a.params.first());
            let name = last_name(&reference.type_name);
            match (name.as_str(), first) {
                ("Array" | "ReadonlyArray", Some(of)) => Type::Array { of: Box::new(resolve(script, of, hops + 1)) },
                ("Readonly" | "NonNullable", Some(of)) => resolve(script, of, hops),
                ("Date", None) => Type::Date,
                (name, _) if is_content(name, &reference.type_name, script) => Type::Node,
                ("Function", None) => Type::Function,
                (name, _) if name.ends_with("Handler") || name.ends_with("EventHandler") || name == "Dispatch" => Type::Function,
                _ => named(script, &reference.type_name, hops, resolve).unwrap_or_else(|| {
                    let members = members_at(script, ty, hops);
                    if members.open && members.list.is_empty() { unresolved(script, ty) } else { object_of(members) }
                }),
            }
        }
        TSType::TSImportType(import) if is_imported_content(import) => Type::Node,
        _ => unresolved(script, ty),
    }
}

fn is_nothing(ty: &TSType<'_>) -> bool {
    matches!(ty, TSType::TSUndefinedKeyword(_) | TSType::TSNullKeyword(_) | TSType::TSVoidKeyword(_))
}

/// A union of literals is one type; with others beside them it is a choice.
fn union_of(types: Vec<Type>) -> Type {
    let mut literals = Vec::new();
    let mut others = Vec::new();
    for ty in types {
        match ty {
            Type::Union { of } => literals.extend(of),
            other if !others.contains(&other) => others.push(other),
            _ => {}
        }
    }
    if literals.len() == 2 && literals.contains(&Json::Bool(true)) && literals.contains(&Json::Bool(false)) {
        others.insert(0, Type::Boolean);
        literals.clear();
    }
    if !literals.is_empty() {
        others.insert(0, Type::Union { of: literals });
    }
    match others.len() {
        1 => others.remove(0),
        _ => Type::Either { of: others },
    }
}

fn literal_value(literal: &TSLiteral<'_>) -> Option<Json> {
    Some(match literal {
        TSLiteral::StringLiteral(s) => Json::from(s.value.as_str()),
        TSLiteral::NumericLiteral(n) => number(n.value),
        TSLiteral::BooleanLiteral(b) => Json::from(b.value),
        TSLiteral::UnaryExpression(u) => match &u.argument {
            Expression::NumericLiteral(n) => number(-n.value),
            _ => return None,
        },
        _ => return None,
    })
}

fn number(value: f64) -> Json {
    if value.fract() == 0.0 && value.abs() < 9e15 { Json::from(value as i64) } else { Json::from(value) }
}

fn last_name(name: &TSTypeName<'_>) -> String {
    match name {
        TSTypeName::IdentifierReference(id) => id.name.to_string(),
        TSTypeName::QualifiedName(q) => q.right.name.to_string(),
        TSTypeName::ThisExpression(_) => "this".into(),
    }
}

/// What frameworks call that which they can render.
const CONTENT: [(&str, &[&str]); 5] = [
    ("react", &["ReactNode", "ReactElement", "ReactChild"]),
    ("preact", &["ComponentChildren", "ComponentChild", "VNode"]),
    ("solid-js", &["JSXElement"]),
    ("svelte", &["Snippet"]),
    ("@angular/core", &["TemplateRef"]),
];

fn is_content(last: &str, name: &TSTypeName<'_>, script: &Script<'_>) -> bool {
    match name {
        // `React.ReactNode`, `JSX.Element`
        TSTypeName::QualifiedName(_) => last == "Element" || CONTENT.iter().any(|(_, names)| names.contains(&last)),
        TSTypeName::IdentifierReference(id) => script.imports.get(id.name.as_str()).is_some_and(|(module, there)| {
            CONTENT.iter().any(|(package, names)| crate::program::is_of(module, package) && names.contains(there))
        }),
        TSTypeName::ThisExpression(_) => false,
    }
}

/// The last name of `import('svelte').Snippet`.
fn imported_name<'a>(import: &'a TSImportType<'_>) -> Option<&'a str> {
    match import.qualifier.as_ref()? {
        TSImportTypeQualifier::Identifier(name) => Some(name.name.as_str()),
        TSImportTypeQualifier::QualifiedName(name) => Some(name.right.name.as_str()),
    }
}

fn is_imported_content(import: &TSImportType<'_>) -> bool {
    let module = import.source.value.as_str();
    imported_name(import)
        .is_some_and(|name| CONTENT.iter().any(|(package, names)| crate::program::is_of(module, package) && names.contains(&name)))
}

/// Follows a name to its declaration, here or in a file beside, if that is an alias.
fn named<T>(script: &Script<'_>, name: &TSTypeName<'_>, hops: usize, work: impl Fn(&Script<'_>, &TSType<'_>, usize) -> T) -> Option<T> {
    let TSTypeName::IdentifierReference(id) = name else { return None };
    match script.types.get(id.name.as_str()) {
        Some(Named::Alias(alias)) if alias.type_parameters.is_none() => Some(work(script, &alias.type_annotation, hops + 1)),
        Some(_) => None,
        None => elsewhere(script, id.name.as_str(), hops, &|there, name| match there.types.get(name) {
            Some(Named::Alias(alias)) => Some(work(there, &alias.type_annotation, hops + 1)),
            _ => None,
        }),
    }
}

/// Modules whose types are the page's own: hundreds of attributes that a component passes on. What they declare is left out,
/// and the surface is open.
const OF_THE_PAGE: [&str; 9] =
    ["react", "vue", "csstype", "@vue/runtime-dom", "svelte", "svelte/elements", "solid-js", "preact", "@angular/core"];

/// Opens the file that a name is imported from, or exported again from there.
fn elsewhere<T>(script: &Script<'_>, name: &str, hops: usize, work: &dyn Fn(&Script<'_>, &str) -> Option<T>) -> Option<T> {
    let (module, there) = script.imports.get(name)?;
    opened(script, module, there, hops, work)
}

fn opened<T>(script: &Script<'_>, module: &str, name: &str, hops: usize, work: &dyn Fn(&Script<'_>, &str) -> Option<T>) -> Option<T> {
    if hops > MOST_HOPS || OF_THE_PAGE.contains(&module) {
        return None;
    }
    let path = script.file_of(module)?;
    let text = script.sources.open(&path)?;
    let within = |other: &Script<'_>| {
        let found = work(other, name).or_else(|| elsewhere(other, name, hops + 1, work));
        found.or_else(|| other.passed_on.iter().find_map(|next| opened(other, next, name, hops + 1, work)))
    };
    if path.extension().is_some_and(|e| e == "vue") {
        let scripts = crate::sfc::blocks(&text).scripts;
        return scripts.iter().find_map(|s| with_script(script.sources, &path, s.text, oxc::span::SourceType::ts(), within).flatten());
    }
    with_script(script.sources, &path, &text, source_type(&path), within).flatten()
}

fn keys(script: &Script<'_>, ty: &TSType<'_>, hops: usize) -> Option<Type> {
    if let TSType::TSTypeQuery(query) = ty
        && let TSTypeQueryExprName::IdentifierReference(id) = &query.expr_name
    {
        let object = object_literal(script.constants.get(id.name.as_str())?)?;
        return Some(Type::Union {
            of: object.properties.iter().filter_map(|p| key_name(&p.as_property()?.key)).map(Json::from).collect(),
        });
    }
    let members = members_at(script, ty, hops + 1);
    (!members.open).then(|| Type::Union { of: members.list.into_iter().map(|m| Json::from(m.name)).collect() })
}

/// `(typeof LIST)[number]`
fn indexed(script: &Script<'_>, ty: &TSType<'_>) -> Option<Type> {
    let ty = match ty {
        TSType::TSParenthesizedType(inner) => &inner.type_annotation,
        other => other,
    };
    let TSType::TSTypeQuery(query) = ty else { return None };
    let TSTypeQueryExprName::IdentifierReference(id) = &query.expr_name else { return None };
    let Expression::ArrayExpression(array) = bare(script.constants.get(id.name.as_str())?) else { return None };
    let of = array.elements.iter().map(|e| match e.as_expression()? {
        Expression::StringLiteral(s) => Some(Json::from(s.value.as_str())),
        Expression::NumericLiteral(n) => Some(number(n.value)),
        _ => None,
    });
    Some(Type::Union { of: of.collect::<Option<_>>()? })
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

fn object(script: &Script<'_>, ty: &TSType<'_>, hops: usize) -> Type {
    let members = members_at(script, ty, hops);
    if members.open && members.list.is_empty() { unresolved(script, ty) } else { object_of(members) }
}

fn object_of(members: Members) -> Type {
    Type::Object { fields: members.list.into_iter().map(|m| Field { name: m.name, ty: m.ty, required: !m.optional }).collect() }
}

/// The members of an object type.
pub fn members(script: &Script<'_>, ty: &TSType<'_>) -> Members {
    members_at(script, ty, 0)
}

fn members_at(script: &Script<'_>, ty: &TSType<'_>, hops: usize) -> Members {
    if hops > MOST_HOPS {
        return Members::unknown();
    }
    match ty {
        TSType::TSParenthesizedType(inner) => members_at(script, &inner.type_annotation, hops),
        TSType::TSTypeLiteral(literal) => of_signatures(script, &literal.members, hops),
        TSType::TSIntersectionType(parts) => {
            let mut out = Members::default();
            for part in &parts.types {
                out.add(members_at(script, part, hops));
            }
            out
        }
        TSType::TSTypeReference(reference) => {
            let arguments: Vec<&TSType<'_>> = reference.type_arguments.iter().flat_map(|a| &a.params).collect();
            utility(script, &last_name(&reference.type_name), &arguments, hops)
                .unwrap_or_else(|| reference_members(script, &reference.type_name, hops))
        }
        _ => Members::unknown(),
    }
}

fn utility(script: &Script<'_>, name: &str, arguments: &[&TSType<'_>], hops: usize) -> Option<Members> {
    let of = || arguments.first().map(|a| members_at(script, a, hops + 1));
    let names = || {
        let Type::Union { of } = resolve(script, arguments.get(1)?, hops + 1) else { return None };
        Some(of.into_iter().filter_map(|v| v.as_str().map(str::to_owned)).collect::<Vec<_>>())
    };
    Some(match name {
        "Readonly" | "PropsWithRef" => of()?,
        "VoidProps" => of()?,
        "PropsWithChildren" | "ParentProps" | "RenderableProps" => {
            let mut out = of().unwrap_or_default();
            out.list.push(Member::optional("children", Type::Node));
            out
        }
        "Partial" | "Required" => {
            let mut out = of()?;
            out.list.iter_mut().for_each(|m| m.optional = name == "Partial");
            out
        }
        "Pick" => {
            let (mut out, names) = (of()?, names()?);
            out.list.retain(|m| names.contains(&m.name));
            out
        }
        "Omit" => {
            let (mut out, names) = (of()?, names()?);
            out.list.retain(|m| !names.contains(&m.name));
            out
        }
        _ => return None,
    })
}

fn reference_members(script: &Script<'_>, name: &TSTypeName<'_>, hops: usize) -> Members {
    // A name may lead back to itself: `interface Props extends Props`.
    if hops > MOST_HOPS {
        return Members::unknown();
    }
    let TSTypeName::IdentifierReference(id) = name else { return Members::unknown() };
    let here = |script: &Script<'_>, name: &str| match script.types.get(name) {
        Some(Named::Alias(alias)) => Some(members_at(script, &alias.type_annotation, hops + 1)),
        Some(Named::Interface(interface)) => {
            let mut out = Members::default();
            for parent in &interface.extends {
                let arguments: Vec<&TSType<'_>> = parent.type_arguments.iter().flat_map(|a| &a.params).collect();
                out.add(
                    utility(script, &last_name(&parent.type_name), &arguments, hops)
                        .unwrap_or_else(|| reference_members(script, &parent.type_name, hops + 1)),
                );
            }
            out.add(of_signatures(script, &interface.body.body, hops));
            Some(out)
        }
        None => None,
    };
    here(script, id.name.as_str()).or_else(|| elsewhere(script, id.name.as_str(), hops, &here)).unwrap_or_else(Members::unknown)
}

fn of_signatures(script: &Script<'_>, signatures: &[TSSignature<'_>], hops: usize) -> Members {
    let mut out = Members::default();
    for signature in signatures {
        match signature {
            TSSignature::TSPropertySignature(property) => {
                let Some(name) = key_name(&property.key) else { continue };
                let annotation = property.type_annotation.as_ref().map(|a| &a.type_annotation);
                let (renders, takes) = annotation.map_or((false, false), |t| function_of_content(script, t));
                let ty = annotation.map_or(Type::Unresolved { text: "any".into() }, |t| resolve(script, t, hops + 1));
                let nullable = annotation.is_some_and(
                    |t| matches!(t, TSType::TSUnionType(u) if u.types.iter().any(|t| matches!(t, TSType::TSUndefinedKeyword(_)))),
                );
                out.list.push(Member {
                    name,
                    ty,
                    optional: property.optional || nullable,
                    told: script.told(property.span.start),
                    renders,
                    takes,
                    arguments: annotation.and_then(|t| arguments(script, t, hops)),
                    silent: annotation.is_some_and(|t| is_silent(script, t, hops)),
                });
            }
            TSSignature::TSMethodSignature(method) => {
                let Some(name) = key_name(&method.key) else { continue };
                let takes = !method.params.items.is_empty();
                out.list.push(Member {
                    name,
                    ty: Type::Function,
                    optional: method.optional,
                    told: script.told(method.span.start),
                    renders: false,
                    takes,
                    arguments: Some(parameters(script, &method.params, hops)),
                    silent: method.return_type.as_ref().is_some_and(|t| matches!(t.type_annotation, TSType::TSVoidKeyword(_))),
                });
            }
            TSSignature::TSIndexSignature(_) => out.open = true,
            _ => {}
        }
    }
    out
}

/// Whether a type is a function that gives nothing, or nothing that could be of use: `() => void`, `(value: string) => Promise<void>`.
fn is_silent(script: &Script<'_>, ty: &TSType<'_>, hops: usize) -> bool {
    match ty {
        TSType::TSFunctionType(function) => match &function.return_type.type_annotation {
            TSType::TSVoidKeyword(_) | TSType::TSUndefinedKeyword(_) => true,
            TSType::TSTypeReference(promise) if last_name(&promise.type_name) == "Promise" => {
                promise.type_arguments.as_ref().is_some_and(|a| matches!(a.params.first(), Some(TSType::TSVoidKeyword(_))))
            }
            TSType::TSUnionType(union) => union.types.iter().any(|t| matches!(t, TSType::TSVoidKeyword(_))),
            _ => false,
        },
        TSType::TSParenthesizedType(inner) => is_silent(script, &inner.type_annotation, hops),
        TSType::TSUnionType(union) => union.types.iter().any(|t| is_silent(script, t, hops)),
        TSType::TSTypeReference(reference) if hops < MOST_HOPS => {
            let name = last_name(&reference.type_name);
            // What frameworks call what they tell of events.
            name.ends_with("EventHandler")
                || name == "Dispatch"
                || matches!(script.types.get(name.as_str()), Some(Named::Alias(alias)) if is_silent(script, &alias.type_annotation, hops + 1))
        }
        _ => false,
    }
}

/// The types of what a function takes; none where the type is none.
fn arguments(script: &Script<'_>, ty: &TSType<'_>, hops: usize) -> Option<Vec<Type>> {
    match ty {
        TSType::TSFunctionType(function) => Some(parameters(script, &function.params, hops)),
        TSType::TSParenthesizedType(inner) => arguments(script, &inner.type_annotation, hops),
        TSType::TSUnionType(union) => union.types.iter().find_map(|t| arguments(script, t, hops)),
        // A ref is handed what it refers to.
        TSType::TSTypeReference(reference) if matches!(last_name(&reference.type_name).as_str(), "Ref" | "RefObject" | "ForwardedRef") => {
            Some(vec![resolve(script, reference.type_arguments.as_ref()?.params.first()?, hops + 1)])
        }
        _ => None,
    }
}

/// The types of parameters; what has no type stays unresolved.
pub fn parameters(script: &Script<'_>, params: &FormalParameters<'_>, hops: usize) -> Vec<Type> {
    let of = |p: &FormalParameter<'_>| {
        let annotation = p.type_annotation.as_ref().map(|a| &a.type_annotation);
        annotation.map_or(Type::Unresolved { text: "any".into() }, |t| resolve(script, t, hops + 1))
    };
    params.items.iter().map(of).collect()
}

/// Whether a snippet with these type arguments takes anything.
fn is_handed(arguments: &Option<oxc::allocator::Box<'_, TSTypeParameterInstantiation<'_>>>) -> bool {
    let handed = arguments.as_ref().and_then(|a| a.params.first());
    handed.is_some_and(|t| !matches!(t, TSType::TSTupleType(tuple) if tuple.element_types.is_empty()))
}

/// Whether a type is a function that gives content, and whether it takes anything.
fn function_of_content(script: &Script<'_>, ty: &TSType<'_>) -> (bool, bool) {
    match ty {
        TSType::TSFunctionType(function) => {
            let content = resolve(script, &function.return_type.type_annotation, 1) == Type::Node;
            (content, !function.params.items.is_empty())
        }
        TSType::TSTypeReference(reference) if last_name(&reference.type_name) == "Snippet" => (true, is_handed(&reference.type_arguments)),
        TSType::TSImportType(import) if imported_name(import) == Some("Snippet") => (true, is_handed(&import.type_arguments)),
        TSType::TSParenthesizedType(inner) => function_of_content(script, &inner.type_annotation),
        TSType::TSUnionType(union) => union.types.iter().map(|t| function_of_content(script, t)).find(|f| f.0).unwrap_or((false, false)),
        _ => (false, false),
    }
}

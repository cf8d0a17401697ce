//! From the parser's tree to [`crate::syntax`].

use std::sync::Arc;

use oxc::allocator::Allocator;
use oxc::ast::ast::{
    Argument, ArrayExpressionElement, ArrowFunctionBody, BindingPattern, Class, ClassElement, Expression, FormalParameters, FunctionBody,
    MethodDefinitionKind, ObjectPropertyKind, PropertyKey, Statement, TSAccessibility, TSImportTypeQualifier, TSLiteral,
    TSMappedTypeModifierOperator, TSSignature, TSTupleElement, TSType, TSTypeAnnotation, TSTypeName, TSTypeOperatorOperator,
    TSTypeParameterDeclaration, TSTypeParameterInstantiation, TSTypeQueryExprName, UnaryOperator,
};
use oxc::parser::Parser;
use oxc::span::{GetSpan, SourceType, Span};
use serde_json::Value as Json;

use crate::syntax::{
    Element, Generic, Heritage, Keyword, Mapped, Member, MemberType, Parameter, Shape, Signature, TypeKind, TypeNode, Value,
};

fn span(of: Span) -> (u32, u32) {
    (of.start, of.end)
}

/// A type.
pub fn node(ty: &TSType<'_>) -> Arc<TypeNode> {
    Arc::new(plain_node(ty))
}

fn plain_node(ty: &TSType<'_>) -> TypeNode {
    TypeNode { kind: kind(ty), span: span(ty.span()) }
}

fn nodes<'a>(types: impl IntoIterator<Item = &'a TSType<'a>>) -> Vec<Arc<TypeNode>> {
    types.into_iter().map(node).collect()
}

fn arguments(of: Option<&TSTypeParameterInstantiation<'_>>) -> Vec<Arc<TypeNode>> {
    of.map(|a| a.params.iter().map(node).collect()).unwrap_or_default()
}

fn kind(ty: &TSType<'_>) -> TypeKind {
    match ty {
        TSType::TSAnyKeyword(_) => TypeKind::Keyword(Keyword::Any),
        TSType::TSUnknownKeyword(_) => TypeKind::Keyword(Keyword::Unknown),
        TSType::TSNeverKeyword(_) => TypeKind::Keyword(Keyword::Never),
        TSType::TSVoidKeyword(_) => TypeKind::Keyword(Keyword::Void),
        TSType::TSUndefinedKeyword(_) => TypeKind::Keyword(Keyword::Undefined),
        TSType::TSNullKeyword(_) => TypeKind::Keyword(Keyword::Null),
        TSType::TSStringKeyword(_) => TypeKind::Keyword(Keyword::String),
        TSType::TSNumberKeyword(_) => TypeKind::Keyword(Keyword::Number),
        TSType::TSBooleanKeyword(_) | TSType::TSTypePredicate(_) => TypeKind::Keyword(Keyword::Boolean),
        TSType::TSBigIntKeyword(_) => TypeKind::Keyword(Keyword::BigInt),
        TSType::TSSymbolKeyword(_) => TypeKind::Keyword(Keyword::Symbol),
        TSType::TSObjectKeyword(_) => TypeKind::Keyword(Keyword::Object),
        TSType::TSParenthesizedType(inner) => kind(&inner.type_annotation),
        TSType::TSLiteralType(literal) => literal_kind(&literal.literal),
        TSType::TSTemplateLiteralType(template) => {
            let texts = template.quasis.iter().map(|q| q.value.cooked.as_ref().map(|t| t.to_string()).unwrap_or_default()).collect();
            TypeKind::Template(texts, nodes(&template.types))
        }
        TSType::TSArrayType(array) => TypeKind::Array(node(&array.element_type)),
        TSType::TSTupleType(tuple) => TypeKind::Tuple(tuple.element_types.iter().filter_map(element).collect()),
        TSType::TSNamedTupleMember(named) => element(&named.element_type).map_or(TypeKind::Other, |e| TypeKind::Tuple(vec![e])),
        TSType::TSUnionType(union) => TypeKind::Union(nodes(&union.types)),
        TSType::TSIntersectionType(parts) => TypeKind::Intersection(nodes(&parts.types)),
        TSType::TSTypeLiteral(literal) => TypeKind::Object(Arc::new(shape(&literal.members))),
        TSType::TSFunctionType(f) => {
            TypeKind::Function(Arc::new(signature(f.type_parameters.as_deref(), &f.params, Some(&f.return_type), f.span, false)))
        }
        TSType::TSConstructorType(f) => {
            TypeKind::Function(Arc::new(signature(f.type_parameters.as_deref(), &f.params, Some(&f.return_type), f.span, true)))
        }
        TSType::TSTypeReference(reference) => {
            path(&reference.type_name).map_or(TypeKind::Other, |p| TypeKind::Reference(p, arguments(reference.type_arguments.as_deref())))
        }
        TSType::TSImportType(import) => TypeKind::Import(
            import.source.value.to_string(),
            import.qualifier.as_ref().map(qualifier).unwrap_or_default(),
            arguments(import.type_arguments.as_deref()),
        ),
        TSType::TSTypeQuery(query) => match &query.expr_name {
            TSTypeQueryExprName::TSImportType(import) => {
                TypeKind::QueryImport(import.source.value.to_string(), import.qualifier.as_ref().map(qualifier).unwrap_or_default())
            }
            other => other.as_ts_type_name().and_then(path).map_or(TypeKind::Other, TypeKind::Query),
        },
        TSType::TSIndexedAccessType(access) => TypeKind::Indexed(node(&access.object_type), node(&access.index_type)),
        TSType::TSTypeOperatorType(operator) => match operator.operator {
            TSTypeOperatorOperator::Keyof => TypeKind::Keyof(node(&operator.type_annotation)),
            TSTypeOperatorOperator::Readonly => kind(&operator.type_annotation),
            TSTypeOperatorOperator::Unique => TypeKind::Keyword(Keyword::Symbol),
        },
        TSType::TSConditionalType(c) => TypeKind::Conditional(Arc::new([
            plain_node(&c.check_type),
            plain_node(&c.extends_type),
            plain_node(&c.true_type),
            plain_node(&c.false_type),
        ])),
        TSType::TSInferType(infer) => {
            TypeKind::Infer(infer.type_parameter.name.to_string(), infer.type_parameter.constraint.as_ref().map(node))
        }
        TSType::TSMappedType(mapped) => TypeKind::Mapped(Arc::new(Mapped {
            key: mapped.key.name.to_string(),
            over: node(&mapped.constraint),
            name: mapped.name_type.as_ref().map(node),
            value: mapped.type_annotation.as_ref().map(node),
            optional: mapped.optional.map(|o| o != TSMappedTypeModifierOperator::Minus),
        })),
        // `?T` and `!T`, as comments write them.
        TSType::JSDocNullableType(inner) => TypeKind::Union(vec![
            node(&inner.type_annotation),
            Arc::new(TypeNode { kind: TypeKind::Keyword(Keyword::Null), span: span(inner.span) }),
        ]),
        TSType::JSDocNonNullableType(inner) => kind(&inner.type_annotation),
        TSType::JSDocUnknownType(_) => TypeKind::Keyword(Keyword::Any),
        TSType::TSThisType(_) | TSType::TSIntrinsicKeyword(_) => TypeKind::Other,
    }
}

fn literal_kind(literal: &TSLiteral<'_>) -> TypeKind {
    match literal {
        TSLiteral::StringLiteral(s) => TypeKind::Literal(Json::from(s.value.as_str())),
        TSLiteral::NumericLiteral(n) => TypeKind::Literal(number(n.value)),
        TSLiteral::BooleanLiteral(b) => TypeKind::Literal(Json::from(b.value)),
        TSLiteral::UnaryExpression(u) => match &u.argument {
            Expression::NumericLiteral(n) => TypeKind::Literal(number(-n.value)),
            _ => TypeKind::Other,
        },
        TSLiteral::TemplateLiteral(t) if t.expressions.is_empty() => {
            let text = t.quasis.iter().map(|q| q.value.raw.as_str()).collect::<String>();
            TypeKind::Literal(Json::from(text))
        }
        TSLiteral::TemplateLiteral(_) => TypeKind::Keyword(Keyword::String),
        TSLiteral::BigIntLiteral(_) => TypeKind::Keyword(Keyword::BigInt),
    }
}

/// A number as JSON writes it: whole ones without a point.
pub fn number(value: f64) -> Json {
    if value.fract() == 0.0 && value.abs() < 9e15 { Json::from(value as i64) } else { Json::from(value) }
}

fn element(of: &TSTupleElement<'_>) -> Option<Element> {
    Some(match of {
        TSTupleElement::TSOptionalType(optional) => Element { ty: node(&optional.type_annotation), optional: true, rest: false },
        TSTupleElement::TSRestType(rest) => Element { ty: node(&rest.type_annotation), optional: false, rest: true },
        TSTupleElement::TSNamedTupleMember(named) => {
            let inner = element(&named.element_type)?;
            Element { optional: named.optional || inner.optional, ..inner }
        }
        other => Element { ty: node(other.as_ts_type()?), optional: false, rest: false },
    })
}

/// The parts of a name: `JSX.Element`.
pub fn path(name: &TSTypeName<'_>) -> Option<Vec<String>> {
    match name {
        TSTypeName::IdentifierReference(id) => Some(vec![id.name.to_string()]),
        TSTypeName::QualifiedName(q) => {
            let mut out = path(&q.left)?;
            out.push(q.right.name.to_string());
            Some(out)
        }
        TSTypeName::ThisExpression(_) => None,
    }
}

fn qualifier(of: &TSImportTypeQualifier<'_>) -> Vec<String> {
    match of {
        TSImportTypeQualifier::Identifier(id) => vec![id.name.to_string()],
        TSImportTypeQualifier::QualifiedName(q) => {
            let mut out = qualifier(&q.left);
            out.push(q.right.name.to_string());
            out
        }
    }
}

/// Type parameters.
pub fn generics(of: Option<&TSTypeParameterDeclaration<'_>>) -> Vec<Generic> {
    let one = |p: &oxc::ast::ast::TSTypeParameter<'_>| Generic {
        name: p.name.name.to_string(),
        constraint: p.constraint.as_ref().map(node),
        default: p.default.as_ref().map(node),
    };
    of.map(|g| g.params.iter().map(one).collect()).unwrap_or_default()
}

/// Type parameters as a framework writes them in an attribute: `T extends string, U = T`.
pub fn generics_of(text: &str) -> Vec<Generic> {
    let source = format!("type _<{text}> = 0");
    let allocator = Allocator::default();
    let parsed = Parser::new(&allocator, &source, SourceType::ts()).parse();
    match parsed.program.body.first() {
        Some(Statement::TSTypeAliasDeclaration(alias)) => generics(alias.type_parameters.as_deref()),
        _ => Vec::new(),
    }
}

fn annotated(of: Option<&TSTypeAnnotation<'_>>) -> Option<Arc<TypeNode>> {
    of.map(|a| node(&a.type_annotation))
}

/// A function's parameters and what it gives.
pub fn signature(
    type_parameters: Option<&TSTypeParameterDeclaration<'_>>,
    params: &FormalParameters<'_>,
    returns: Option<&TSTypeAnnotation<'_>>,
    at: Span,
    constructs: bool,
) -> Signature {
    let mut parameters: Vec<Parameter> = params
        .items
        .iter()
        .map(|p| Parameter {
            name: p.pattern.get_identifier_name().map(|n| n.to_string()).unwrap_or_default(),
            ty: annotated(p.type_annotation.as_deref()),
            optional: p.optional || p.initializer.is_some() || matches!(p.pattern, BindingPattern::AssignmentPattern(_)),
            rest: false,
        })
        .collect();
    if let Some(rest) = &params.rest {
        let name = rest.rest.argument.get_identifier_name().map(|n| n.to_string()).unwrap_or_default();
        parameters.push(Parameter { name, ty: annotated(rest.type_annotation.as_deref()), optional: true, rest: true });
    }
    Signature { generics: generics(type_parameters), parameters, returns: annotated(returns), result: None, constructs, span: span(at) }
}

/// What is between braces.
pub fn shape(signatures: &[TSSignature<'_>]) -> Shape {
    let mut out = Shape::default();
    for signature_ in signatures {
        match signature_ {
            TSSignature::TSPropertySignature(p) => out.members.extend(key(&p.key).map(|name| Member {
                name,
                ty: annotated(p.type_annotation.as_deref()).map_or(MemberType::Untyped, MemberType::Written),
                optional: p.optional,
                at: p.span.start,
            })),
            TSSignature::TSMethodSignature(m) => out.members.extend(key(&m.key).map(|name| {
                let method = signature(m.type_parameters.as_deref(), &m.params, m.return_type.as_deref(), m.span, false);
                Member { name, ty: MemberType::Method(Arc::new(method)), optional: m.optional, at: m.span.start }
            })),
            TSSignature::TSIndexSignature(index) => out.index = Some(node(&index.type_annotation.type_annotation)),
            TSSignature::TSCallSignatureDeclaration(c) => {
                let call = signature(c.type_parameters.as_deref(), &c.params, c.return_type.as_deref(), c.span, false);
                out.calls.push(Arc::new(call));
            }
            TSSignature::TSConstructSignatureDeclaration(c) => {
                let call = signature(c.type_parameters.as_deref(), &c.params, c.return_type.as_deref(), c.span, true);
                out.calls.push(Arc::new(call));
            }
        }
    }
    out
}

/// A key that is written out.
pub fn key(of: &PropertyKey<'_>) -> Option<String> {
    of.static_name().map(|n| n.into_owned())
}

/// The members of a class that its users see.
pub fn class(of: &Class<'_>) -> (Vec<Generic>, Option<Heritage>, Shape) {
    let mut out = Shape::default();
    let is_hidden = |a: Option<TSAccessibility>| matches!(a, Some(TSAccessibility::Private | TSAccessibility::Protected));
    let mut add = |name: Option<String>, ty: MemberType, optional: bool, at: u32| {
        if let Some(name) = name.filter(|n| out.members.iter().all(|m| m.name != *n)) {
            out.members.push(Member { name, ty, optional, at });
        }
    };
    for element in &of.body.body {
        match element {
            ClassElement::PropertyDefinition(p) if !p.r#static && !is_hidden(p.accessibility) => {
                let written = annotated(p.type_annotation.as_deref()).map(MemberType::Written);
                let valued = || p.value.as_ref().map_or(MemberType::Untyped, |v| MemberType::Value(value(v)));
                add(key(&p.key), written.unwrap_or_else(valued), p.optional, p.span.start);
            }
            ClassElement::MethodDefinition(m) if !m.r#static && !is_hidden(m.accessibility) => {
                let f = &m.value;
                let ty = match m.kind {
                    MethodDefinitionKind::Constructor => continue,
                    MethodDefinitionKind::Get => annotated(f.return_type.as_deref()).map_or(MemberType::Untyped, MemberType::Written),
                    MethodDefinitionKind::Set => {
                        let given = f.params.items.first().and_then(|p| annotated(p.type_annotation.as_deref()));
                        given.map_or(MemberType::Untyped, MemberType::Written)
                    }
                    MethodDefinitionKind::Method => {
                        let method = signature(f.type_parameters.as_deref(), &f.params, f.return_type.as_deref(), f.span, false);
                        MemberType::Method(Arc::new(method))
                    }
                };
                add(key(&m.key), ty, m.optional, m.span.start);
            }
            _ => {}
        }
    }
    let heritage = of.heritage.as_ref().and_then(|h| {
        let Value::Path(path) = &*value(&h.expression) else { return None };
        Some(Heritage { path: path.clone(), arguments: arguments(h.type_arguments.as_deref()) })
    });
    (generics(of.type_parameters.as_deref()), heritage, out)
}

/// An expression.
pub fn value(of: &Expression<'_>) -> Arc<Value> {
    Arc::new(plain_value(of))
}

fn plain_value(of: &Expression<'_>) -> Value {
    match of {
        Expression::StringLiteral(s) => Value::Literal(Json::from(s.value.as_str())),
        Expression::NumericLiteral(n) => Value::Literal(number(n.value)),
        Expression::BooleanLiteral(b) => Value::Literal(Json::from(b.value)),
        Expression::NullLiteral(_) => Value::Literal(Json::Null),
        Expression::UnaryExpression(u) if u.operator == UnaryOperator::UnaryNegation => match &u.argument {
            Expression::NumericLiteral(n) => Value::Literal(number(-n.value)),
            _ => Value::Other,
        },
        Expression::TemplateLiteral(t) if t.expressions.is_empty() => {
            Value::Literal(Json::from(t.quasis.iter().map(|q| q.value.raw.as_str()).collect::<String>()))
        }
        Expression::ArrayExpression(array) => {
            let one = |e: &ArrayExpressionElement<'_>| e.as_expression().map_or_else(|| Arc::new(Value::Other), value);
            Value::List(array.elements.iter().map(one).collect())
        }
        Expression::ObjectExpression(object) => {
            let (mut members, mut spread) = (Vec::new(), Vec::new());
            for property in &object.properties {
                match property {
                    ObjectPropertyKind::ObjectProperty(p) => {
                        members.extend(key(&p.key).map(|name| (name, value(&p.value), p.span.start)));
                    }
                    ObjectPropertyKind::SpreadProperty(s) => spread.push(value(&s.argument)),
                }
            }
            Value::Object(members, spread)
        }
        Expression::ArrowFunctionExpression(f) => {
            let mut made = signature(f.type_parameters.as_deref(), &f.params, f.return_type.as_deref(), f.span, false);
            made.result = match &f.body {
                ArrowFunctionBody::FunctionBody(body) => returned(body),
                other => other.as_expression().map(value),
            };
            Value::Function(Arc::new(made))
        }
        Expression::FunctionExpression(f) => Value::Function(Arc::new(function(f))),
        Expression::CallExpression(call) => {
            let given = call.arguments.iter().map(argument).collect();
            Value::Call(value(&call.callee), arguments(call.type_arguments.as_deref()), given)
        }
        Expression::NewExpression(new) => match plain_value(&new.callee) {
            Value::Path(path) => Value::New(path, arguments(new.type_arguments.as_deref())),
            _ => Value::Other,
        },
        Expression::Identifier(id) => Value::Path(vec![id.name.to_string()]),
        Expression::StaticMemberExpression(member) => match plain_value(&member.object) {
            Value::Path(mut path) => {
                path.push(member.property.name.to_string());
                Value::Path(path)
            }
            Value::Other => Value::Other,
            other => Value::Member(Arc::new(other), member.property.name.to_string()),
        },
        Expression::ParenthesizedExpression(p) => plain_value(&p.expression),
        Expression::TSNonNullExpression(p) => plain_value(&p.expression),
        // What it has to satisfy is as a rule a type with literals in it, which keeps those of the expression (TypeScript 4.9, "The satisfies
        // Operator").
        Expression::TSSatisfiesExpression(p) => Value::Const(value(&p.expression)),
        Expression::TSAsExpression(p) if p.type_annotation.is_const_type_reference() => Value::Const(value(&p.expression)),
        Expression::TSAsExpression(p) => Value::As(node(&p.type_annotation)),
        _ => Value::Other,
    }
}

fn argument(of: &Argument<'_>) -> Arc<Value> {
    of.as_expression().map_or_else(|| Arc::new(Value::Other), value)
}

/// A function with a name.
pub fn function(of: &oxc::ast::ast::Function<'_>) -> Signature {
    let made = signature(of.type_parameters.as_deref(), &of.params, of.return_type.as_deref(), of.span, false);
    Signature { result: of.body.as_deref().and_then(returned), ..made }
}

/// What a body gives that does nothing else.
fn returned(body: &FunctionBody<'_>) -> Option<Arc<Value>> {
    match body.statements.as_slice() {
        [Statement::ReturnStatement(r)] => r.argument.as_ref().map(value),
        _ => None,
    }
}

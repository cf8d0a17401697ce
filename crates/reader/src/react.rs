//! React, Preact and Solid: exported function components with typed props, also within `memo` and `forwardRef`.

mod sorting;

use std::path::Path;

use fidelon_core::surface::{Framework, Slot, Surface, Type};
use oxc::ast::ast::{
    ArrowFunctionBody, BindingPattern, CallExpression, Class, ClassElement, Declaration, ExportDefaultDeclarationKind, Expression,
    FormalParameter, Function, Statement, StaticMemberExpression, TSAccessibility, TSType, TSTypeParameterDeclaration,
};
use oxc::ast_visit::{Visit, walk};
use oxc::span::GetSpan;

use fidelon_types::lower;

use crate::fallback;
use crate::program::{Script, Sources, key_name, source_type, with_script};
use crate::prop_types;
use crate::types::{self, Member, bare};

use self::sorting::{of_field, sort};

/// The surfaces of all components that a file exports.
pub fn surfaces(sources: Sources<'_>, path: &Path, shown: &str, source: &str, framework: Framework) -> Vec<Surface> {
    let found = with_script(sources, path, source, source_type(path), |script| {
        let foreign = script.imports.values().any(|(module, _)| matches!(*module, "vue" | "svelte"));
        if foreign { Vec::new() } else { exported(script, shown, framework) }
    });
    found.unwrap_or_else(|| {
        // The loader tells the syntax error; here the file still counts as one component.
        let name = path.file_stem().and_then(|s| s.to_str()).unwrap_or("Component");
        let mut surface = Surface::new(name, shown, "default", framework);
        surface.open = true;
        vec![surface]
    })
}

/// Whether there is any JSX in what is visited.
#[derive(Default)]
struct Tags(bool);

impl<'a> Visit<'a> for Tags {
    fn visit_jsx_element(&mut self, _: &oxc::ast::ast::JSXElement<'a>) {
        self.0 = true;
    }
    fn visit_jsx_fragment(&mut self, _: &oxc::ast::ast::JSXFragment<'a>) {
        self.0 = true;
    }
}

/// Whether a script holds JSX at all: a name without `x` at its end says nothing of it.
pub fn gives_jsx(sources: Sources<'_>, path: &Path, source: &str) -> bool {
    let found = with_script(sources, path, source, source_type(path), |script| {
        let mut tags = Tags::default();
        tags.visit_program(script.program);
        tags.0
    });
    found.unwrap_or_default()
}

/// A function that makes a component, and what is known of its props.
struct Maker<'e, 'a> {
    name: String,
    props: Option<&'e FormalParameter<'a>>,
    /// Props given as a type argument: `forwardRef<Ref, Props>`, `FC<Props>`.
    ty: Option<&'e TSType<'a>>,
    /// What a ref is said to reach, the first of those arguments.
    handle: Option<&'e TSType<'a>>,
    span: oxc::span::Span,
    /// The class that it is, of those that are one.
    class: Option<&'e Class<'a>>,
    /// Its type parameters.
    generics: Option<&'e TSTypeParameterDeclaration<'a>>,
    /// Whether it takes something beside its props, a ref: it is no component until something has made one of it.
    is_unfinished: bool,
}

fn exported(script: &Script<'_>, shown: &str, framework: Framework) -> Vec<Surface> {
    let mut out: Vec<Surface> = Vec::new();
    let mut add = |maker: Option<Maker<'_, '_>>, export: &str| {
        if let Some(maker) = maker.filter(|maker| !maker.is_unfinished) {
            let blank = Surface::new(&maker.name, shown, export, framework);
            let surface = script.with_generics(lower::generics(maker.generics), || surface(script, &maker, blank));
            // A component that is exported by name and by default is one.
            if let Some(known) = out.iter_mut().find(|s| s.name == surface.name) {
                if export == "default" {
                    *known = surface;
                }
            } else {
                out.push(surface);
            }
        }
    };
    for statement in &script.program.body {
        match statement {
            Statement::ExportDeclaration(export) => {
                for (name, maker) in declared(script, &export.declaration) {
                    add(maker, &name);
                }
            }
            Statement::ExportNamedDeclaration(export) => {
                for specifier in &export.specifiers {
                    let (local, exported) = (specifier.local.name(), specifier.exported.name());
                    add(local_maker(script, local.as_str()), exported.as_str());
                }
            }
            Statement::ExportDefaultDeclaration(export) => match &export.declaration {
                ExportDefaultDeclarationKind::FunctionDeclaration(function) => {
                    let stem = stem(shown);
                    let name = function.id.as_ref().map_or(stem, |id| id.name.to_string());
                    add(function_maker(&name, function), "default");
                }
                ExportDefaultDeclarationKind::ClassDeclaration(class) => {
                    let name = class.id.as_ref().map_or_else(|| stem(shown), |id| id.name.to_string());
                    add(class_maker(script, &name, class), "default");
                }
                other => {
                    let maker = other.as_expression().and_then(|e| match bare(e) {
                        Expression::Identifier(id) => local_maker(script, id.name.as_str()),
                        e => maker(script, &stem(shown), e, None),
                    });
                    add(maker, "default");
                }
            },
            _ => {}
        }
    }
    out
}

fn stem(shown: &str) -> String {
    let name = shown.rsplit('/').next().unwrap_or(shown);
    name.split('.').next().unwrap_or(name).to_owned()
}

fn is_component_name(name: &str) -> bool {
    name.starts_with(|c: char| c.is_uppercase()) && (name.len() == 1 || name.chars().any(char::is_lowercase))
}

fn declared<'e, 'a>(script: &'e Script<'a>, declaration: &'e Declaration<'a>) -> Vec<(String, Option<Maker<'e, 'a>>)> {
    match declaration {
        Declaration::FunctionDeclaration(function) => {
            let name = function.id.as_ref().map(|id| id.name.to_string()).unwrap_or_default();
            vec![(name.clone(), function_maker(&name, function))]
        }
        Declaration::ClassDeclaration(class) => {
            let name = class.id.as_ref().map(|id| id.name.to_string()).unwrap_or_default();
            vec![(name.clone(), class_maker(script, &name, class))]
        }
        Declaration::VariableDeclaration(variable) => variable
            .declarations
            .iter()
            .filter_map(|d| {
                let name = d.id.get_identifier_name()?.to_string();
                let annotation = d.type_annotation.as_ref().map(|a| &a.type_annotation);
                Some((name.clone(), maker(script, &name, d.init.as_ref()?, annotation)))
            })
            .collect(),
        _ => Vec::new(),
    }
}

/// A component that is declared without being exported there.
fn local_maker<'e, 'a>(script: &'e Script<'a>, name: &str) -> Option<Maker<'e, 'a>> {
    script.program.body.iter().find_map(|statement| {
        let declaration = statement.as_declaration().or(match statement {
            Statement::ExportDeclaration(e) => Some(&e.declaration),
            _ => None,
        })?;
        declared(script, declaration).into_iter().find(|(n, _)| n == name)?.1
    })
}

/// `class Dial extends Component<Props>`.
fn class_maker<'e, 'a>(script: &Script<'_>, name: &str, class: &'e Class<'a>) -> Option<Maker<'e, 'a>> {
    // One that is never made is no component: others extend it.
    let is_component =
        is_component_name(name) && !class.r#abstract && script.with_generics(Vec::new(), || types::class_props(script, class)).is_some();
    let generics = class.type_parameters.as_deref();
    is_component.then(|| Maker {
        name: name.into(),
        props: None,
        ty: None,
        handle: None,
        span: class.span,
        class: Some(class),
        generics,
        is_unfinished: false,
    })
}

/// Methods that React calls, no parent.
const CALLED: [&str; 14] = [
    "constructor",
    "render",
    "componentDidMount",
    "componentDidUpdate",
    "componentWillUnmount",
    "shouldComponentUpdate",
    "componentDidCatch",
    "getSnapshotBeforeUpdate",
    "componentWillMount",
    "componentWillReceiveProps",
    "componentWillUpdate",
    "UNSAFE_componentWillMount",
    "UNSAFE_componentWillReceiveProps",
    "UNSAFE_componentWillUpdate",
];

/// Names of props with their defaults.
type Defaults = Vec<(String, Option<String>)>;

/// What a class says of itself: its defaults, and the members that a ref reaches.
fn of_class(script: &Script<'_>, class: &Class<'_>) -> (Defaults, Vec<String>) {
    let (mut defaults, mut members) = (Vec::new(), Vec::new());
    for element in &class.body.body {
        match element {
            ClassElement::PropertyDefinition(field) => {
                let Some(name) = key_name(&field.key) else { continue };
                if field.r#static && name == "defaultProps" {
                    let object = field.value.as_ref().and_then(types::object_literal);
                    for property in object.iter().flat_map(|o| &o.properties).filter_map(|p| p.as_property()) {
                        let text = script.text(bare(&property.value).span()).to_owned();
                        defaults.extend(key_name(&property.key).map(|name| (name, Some(text))));
                    }
                }
            }
            ClassElement::MethodDefinition(method) if !method.r#static => {
                let Some(name) = key_name(&method.key) else { continue };
                let hidden = matches!(method.accessibility, Some(TSAccessibility::Private | TSAccessibility::Protected));
                // Handlers and parts of the markup are its own.
                let own = ["_", "#", "handle", "render"].iter().any(|start| name.starts_with(start))
                    || name.strip_prefix("on").is_some_and(|rest| rest.starts_with(char::is_uppercase));
                if !hidden && !own && !CALLED.contains(&name.as_str()) {
                    members.push(name);
                }
            }
            _ => {}
        }
    }
    (defaults, members)
}

fn function_maker<'e, 'a>(name: &str, function: &'e Function<'a>) -> Option<Maker<'e, 'a>> {
    is_component_name(name).then(|| Maker {
        name: name.into(),
        props: function.params.items.first(),
        ty: None,
        handle: None,
        span: function.span,
        class: None,
        generics: function.type_parameters.as_deref(),
        is_unfinished: function.params.items.len() > 1,
    })
}

fn maker<'e, 'a>(
    script: &'e Script<'a>,
    name: &str,
    expression: &'e Expression<'a>,
    annotation: Option<&'e TSType<'a>>,
) -> Option<Maker<'e, 'a>> {
    if !is_component_name(name) {
        return None;
    }
    let argument = |ty: &'e TSType<'a>, i: usize| match ty {
        TSType::TSTypeReference(r) => r.type_arguments.as_ref().and_then(|a| a.params.get(i)),
        _ => None,
    };
    match bare(expression) {
        Expression::ArrowFunctionExpression(f) => Some(Maker {
            name: name.into(),
            props: f.params.items.first(),
            ty: annotation.and_then(|t| argument(t, 0)),
            handle: None,
            span: f.span,
            class: None,
            generics: f.type_parameters.as_deref(),
            is_unfinished: f.params.items.len() > 1,
        }),
        Expression::FunctionExpression(f) => Some(Maker {
            name: name.into(),
            props: f.params.items.first(),
            ty: annotation.and_then(|t| argument(t, 0)),
            handle: None,
            span: f.span,
            class: None,
            generics: f.type_parameters.as_deref(),
            is_unfinished: f.params.items.len() > 1,
        }),
        Expression::CallExpression(call) => {
            let inner = call.arguments.first()?.as_expression()?;
            match called(call).as_deref() {
                Some(callee @ ("memo" | "forwardRef" | "observer")) => {
                    let mut made = match bare(inner) {
                        Expression::Identifier(id) => local_maker(script, id.name.as_str())?,
                        inner => maker(script, name, inner, None)?,
                    };
                    made.name = name.into();
                    made.is_unfinished &= callee != "forwardRef";
                    let at = usize::from(callee == "forwardRef");
                    // `const Fc: React.FC<Props> = forwardRef(…)`: the variable tells.
                    let typed = annotation.and_then(|t| argument(t, 0));
                    if callee == "forwardRef" {
                        made.handle = call.type_arguments.as_ref().and_then(|a| a.params.first());
                    }
                    made.ty = call.type_arguments.as_ref().and_then(|a| a.params.get(at)).or(made.ty).or(typed);
                    Some(made)
                }
                // A library's own way to make components: what it is given renders.
                _ => rendering(call).and_then(|function| maker(script, name, function, None)).map(finished).or_else(|| {
                    // One that waits for a ref is given to what makes a component of it.
                    let given = call.arguments.iter().filter_map(|a| a.as_expression()).filter_map(|e| match bare(e) {
                        Expression::Identifier(id) => local_maker(script, id.name.as_str()),
                        _ => None,
                    });
                    let made = given.into_iter().find(|maker| maker.is_unfinished)?;
                    Some(finished(Maker { name: name.into(), ..made }))
                }),
            }
        }
        _ => None,
    }
}

fn finished<'e, 'a>(maker: Maker<'e, 'a>) -> Maker<'e, 'a> {
    Maker { is_unfinished: false, ..maker }
}

/// The function with JSX that a call is given, itself or as a member that has the name of a component: `create("div")((props) => …)`,
/// `create({ Component: (props) => … })`.
fn rendering<'e, 'a>(call: &'e CallExpression<'a>) -> Option<&'e Expression<'a>> {
    let renders = |e: &Expression<'a>| {
        let mut tags = Tags::default();
        match e {
            Expression::ArrowFunctionExpression(f) => tags.visit_arrow_function_expression(f),
            Expression::FunctionExpression(f) => tags.visit_function(f, oxc::syntax::scope::ScopeFlags::Function),
            _ => {}
        }
        tags.0
    };
    let given = call.arguments.iter().filter_map(|a| a.as_expression()).map(bare);
    let members = given.clone().filter_map(types::object_literal).flat_map(|o| &o.properties).filter_map(|p| p.as_property());
    let named = members.filter(|p| key_name(&p.key).is_some_and(|k| is_component_name(&k))).map(|p| bare(&p.value));
    given.chain(named).find(|e| renders(e))
}

fn called(call: &CallExpression<'_>) -> Option<String> {
    match &call.callee {
        Expression::Identifier(id) => Some(id.name.to_string()),
        Expression::StaticMemberExpression(member) => Some(member.property.name.to_string()),
        _ => None,
    }
}

fn surface(script: &Script<'_>, maker: &Maker<'_, '_>, mut out: Surface) -> Surface {
    let ty = maker.ty.or_else(|| maker.props.and_then(|p| p.type_annotation.as_ref()).map(|a| &a.type_annotation));
    let mut within = Within { script, span: maker.span, handles: Vec::new(), merged: Vec::new(), read: Vec::new(), props: None };
    let props = maker.props.and_then(|p| p.pattern.get_identifier_name()).map(|n| n.to_string());
    within.props.clone_from(&props);
    within.visit_program(script.program);
    let mut defaults = maker.props.map(|p| defaults(script, &p.pattern)).unwrap_or_default();
    defaults.append(&mut within.merged);
    let (class_defaults, class_members) = maker.class.map(|c| of_class(script, c)).unwrap_or_default();
    defaults.extend(class_defaults);
    out.exposes = class_members;
    defaults.extend(prop_types::defaults(script, &maker.name));
    let typed = ty.map(|ty| types::members(script, ty)).or_else(|| types::class_props(script, maker.class?));
    let checked = || {
        prop_types::members(script, &maker.name, maker.class).map(|list| types::Members { list, open: true, ..types::Members::default() })
    };
    // What a class hands on without saying what it is tells as little as no type at all.
    let commented = || types::commented_props(script, declared_at(script, maker.span));
    match typed.filter(|m| maker.class.is_none() || !(m.open && m.list.is_empty())).or_else(commented).or_else(checked) {
        Some(members) => {
            out.open = members.open;
            out.variants = members.variants;
            let held = members.list.iter().find(|m| m.name == "ref").and_then(|m| m.arguments.as_ref()?.first());
            if let Some(Type::Object { fields }) = held {
                out.exposes = fields.iter().map(|f| f.name.clone()).collect();
            }
            // Attributes of an element are not listed, and content is one of them: a component that shows it takes it.
            let names_content = defaults.iter().any(|(name, _)| name == "children") || within.read.iter().any(|name| name == "children");
            let lists_content = members.list.iter().any(|m| m.name == "children");
            sort(members.list, &mut out);
            if out.open && shows_field(script.text(maker.span)) {
                of_field(&mut out);
            }
            if names_content && !lists_content {
                out.slots.push(Slot::new("default"));
            }
        }
        None => {
            out.open = maker.props.is_some() || maker.class.is_some();
            sort(by_use(&defaults, within.read), &mut out);
        }
    }
    for (name, default) in defaults {
        if let (Some(prop), Some(default)) = (out.props.iter_mut().find(|p| p.name == name), default) {
            prop.default = Some(default);
            prop.required = false;
        }
    }
    if !within.handles.is_empty() {
        out.exposes = within.handles;
        for name in promised(script, maker) {
            if !out.exposes.contains(&name) {
                out.exposes.push(name);
            }
        }
    }
    if !out.slots.is_empty() {
        let mut fallbacks = fallback::of_jsx(script.program, maker.span, props.as_deref());
        for slot in &mut out.slots {
            slot.fallback = fallbacks.remove(if slot.name == "default" { "children" } else { &slot.name });
        }
    }
    out
}

/// Without types the names that are destructured or read are all that the source tells, with what their defaults say.
fn by_use(defaults: &[(String, Option<String>)], read: Vec<String>) -> Vec<Member> {
    let mut names: Vec<String> = defaults.iter().map(|(name, _)| name.clone()).collect();
    for name in read {
        if !names.contains(&name) {
            names.push(name);
        }
    }
    let given = |name: &str| {
        let default = defaults.iter().find(|(known, text)| known == name && text.is_some());
        default.and_then(|(_, text)| of_default(text.as_deref()?))
    };
    let typed = |name: String| {
        let ty = match name.as_str() {
            "children" => Type::Node,
            n if n.strip_prefix("on").is_some_and(|rest| rest.starts_with(char::is_uppercase)) => Type::Function,
            n => given(n).unwrap_or_else(|| Type::Unresolved { text: "any".into() }),
        };
        Member::optional(name, ty)
    };
    names.into_iter().map(typed).collect()
}

/// What the type of a handle promises, where it is the component's own, and not an element.
fn promised(script: &Script<'_>, maker: &Maker<'_, '_>) -> Vec<String> {
    let members = maker.handle.map(|ty| types::members(script, ty)).filter(|m| !m.open && m.list.len() < 24);
    members.into_iter().flat_map(|m| m.list).filter(|m| !m.optional).map(|m| m.name).collect()
}

/// Where the statement begins that something stands in, its export included.
fn declared_at(script: &Script<'_>, span: oxc::span::Span) -> u32 {
    let around = script.program.body.iter().map(GetSpan::span).find(|s| s.start <= span.start && span.end <= s.end);
    around.map_or(span.start, |s| s.start)
}

/// The type that a default tells by its text, where nothing else does.
fn of_default(text: &str) -> Option<Type> {
    match serde_json::from_str(&text.replace('\'', "\"")).ok()? {
        serde_json::Value::String(_) => Some(Type::String),
        serde_json::Value::Number(_) => Some(Type::Number),
        serde_json::Value::Bool(_) => Some(Type::Boolean),
        _ => None,
    }
}

fn defaults(script: &Script<'_>, pattern: &BindingPattern<'_>) -> Vec<(String, Option<String>)> {
    let BindingPattern::ObjectPattern(object) = pattern else { return Vec::new() };
    object
        .properties
        .iter()
        .filter_map(|p| {
            let default = match &p.value {
                BindingPattern::AssignmentPattern(a) => Some(script.text(bare(&a.right).span()).to_owned()),
                _ => None,
            };
            Some((key_name(&p.key)?, default))
        })
        .collect()
}

/// Whether a component shows a field of HTML's itself.
fn shows_field(source: &str) -> bool {
    ["<input", "<textarea", "<select"].iter().any(|tag| {
        source.match_indices(tag).any(|(at, _)| !source[at + tag.len()..].starts_with(|c: char| c.is_alphanumeric() || c == '-'))
    })
}

/// What is said within one component.
struct Within<'s, 'a> {
    script: &'s Script<'a>,
    span: oxc::span::Span,
    /// What `useImperativeHandle` gives.
    handles: Vec<String>,
    /// Defaults that `mergeProps` lays under what is passed.
    merged: Vec<(String, Option<String>)>,
    /// What is read of the props.
    read: Vec<String>,
    /// The name of the props.
    props: Option<String>,
}

impl<'a> Visit<'a> for Within<'_, '_> {
    fn visit_static_member_expression(&mut self, member: &StaticMemberExpression<'a>) {
        let within = member.span.start >= self.span.start && member.span.end <= self.span.end;
        let of_props = match &member.object {
            Expression::Identifier(id) => Some(id.name.as_str()) == self.props.as_deref(),
            // `this.props` of a class.
            Expression::StaticMemberExpression(inner) => {
                inner.property.name == "props" && matches!(inner.object, Expression::ThisExpression(_))
            }
            _ => false,
        };
        let name = member.property.name.to_string();
        if within && of_props && !self.read.contains(&name) {
            self.read.push(name);
        }
        walk::walk_static_member_expression(self, member);
    }

    fn visit_call_expression(&mut self, call: &CallExpression<'a>) {
        let within = call.span.start >= self.span.start && call.span.end <= self.span.end;
        if within && called(call).as_deref() == Some("mergeProps") {
            let under = call.arguments.first().and_then(|a| a.as_expression()).and_then(types::object_literal);
            for property in under.iter().flat_map(|o| &o.properties).filter_map(|p| p.as_property()) {
                self.merged
                    .extend(key_name(&property.key).map(|name| (name, Some(self.script.text(bare(&property.value).span()).to_owned()))));
            }
        }
        if within && called(call).as_deref() == Some("useImperativeHandle") {
            let object = call.arguments.get(1).and_then(|a| a.as_expression()).and_then(|e| match bare(e) {
                Expression::ArrowFunctionExpression(f) => match &f.body {
                    ArrowFunctionBody::FunctionBody(body) => body.statements.iter().find_map(returned),
                    body => body.as_expression(),
                },
                Expression::FunctionExpression(f) => f.body.as_ref()?.statements.iter().find_map(returned),
                _ => None,
            });
            if let Some(object) = object.and_then(types::object_literal) {
                self.handles.extend(object.properties.iter().filter_map(|p| p.as_property()).filter_map(|p| key_name(&p.key)));
            }
        }
        walk::walk_call_expression(self, call);
    }
}

fn returned<'e, 'a>(statement: &'e Statement<'a>) -> Option<&'e Expression<'a>> {
    match statement {
        Statement::ReturnStatement(r) => r.argument.as_ref(),
        _ => None,
    }
}

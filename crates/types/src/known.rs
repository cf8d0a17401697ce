//! Types that are declared nowhere in a project: those of the language, those of the page, and what frameworks call their own. The types
//! of the page that frameworks write down, hundreds of attributes that a component hands on to an element, are left out on purpose.

use std::rc::Rc;

use serde_json::Value as Json;

use crate::checker::Checker;
use crate::css;
use crate::ty::{Function, Lazy, Object, Property, Ty};

/// The frameworks, by the packages that declare their types.
const FRAMEWORKS: [&str; 10] =
    ["react", "react-dom", "vue", "csstype", "@vue/runtime-dom", "@vue/runtime-core", "svelte", "solid-js", "preact", "@angular/core"];

/// Whether a specifier means a framework, whose types are known here.
pub(crate) fn is_of_a_framework(specifier: &str) -> bool {
    FRAMEWORKS.iter().any(|package| specifier.strip_prefix(package).is_some_and(|rest| rest.is_empty() || rest.starts_with('/')))
}

/// What frameworks call that which they can render.
const CONTENT: [&str; 15] = [
    "ReactNode",
    "ReactElement",
    "ReactChild",
    "ReactPortal",
    "ReactFragment",
    "ComponentChildren",
    "ComponentChild",
    "VNode",
    "VNodeChild",
    "VNodeArrayChildren",
    "JSXElement",
    "JSX.Element",
    "React.JSX.Element",
    "TemplateRef",
    "TemplateResult",
];

/// What frameworks call a component.
pub(crate) fn is_component(name: &str) -> bool {
    [
        "FC",
        "VFC",
        "FunctionComponent",
        "ComponentType",
        "ComponentClass",
        "Component",
        "PureComponent",
        "ForwardRefExoticComponent",
        "NamedExoticComponent",
        "MemoExoticComponent",
        "ExoticComponent",
        "LazyExoticComponent",
        "JSXElementConstructor",
        "ParentComponent",
        "VoidComponent",
        "FlowComponent",
        "DefineComponent",
        "SvelteComponent",
        "SvelteComponentTyped",
        "ComponentConstructorOptions",
        "ForwardRefRenderFunction",
    ]
    .contains(&name)
}

/// A value that a framework exports: its components.
pub(crate) fn value_of_framework(module: &str, name: &str) -> Option<Ty> {
    (is_of_a_framework(module) && name.starts_with(char::is_uppercase)).then_some(Ty::Component(None))
}

fn with_member(checker: &Checker<'_>, of: Option<&Ty>, name: &str, ty: Ty) -> Ty {
    let mut object: Object = of.map(|t| checker.members(t)).unwrap_or_default();
    if object.property(name).is_none() {
        object.properties.push(Property { name: name.into(), ty: Lazy::Now(ty), optional: true, from: None });
    }
    Ty::Object(Rc::new(object))
}

/// The props of a component that is given as a type: a function's first parameter, what a framework's own type says, or what an instance
/// calls its props.
pub(crate) fn props_of(checker: &Checker<'_>, ty: &Ty) -> Option<Ty> {
    let of_call = |function: &Function| {
        let (takes, gives) = checker.parts_of(function);
        if !function.signature.constructs {
            return takes.first().map(|(ty, _)| checker.force(ty));
        }
        let instance = checker.members(&checker.force(&gives));
        ["$props", "props", "$$prop_def"].iter().find_map(|name| Some(checker.force(&instance.property(name)?.ty)))
    };
    match ty {
        Ty::Component(Some(props)) => Some((**props).clone()),
        Ty::Function(function) => of_call(function),
        Ty::Object(object) => object.calls.iter().find_map(of_call),
        Ty::Either(of) => {
            let of: Vec<Ty> = of.iter().filter_map(|t| props_of(checker, t)).collect();
            (!of.is_empty()).then(|| Ty::one_of(of))
        }
        _ => None,
    }
}

/// A type that a framework's package exports; none where the module is of none.
pub(crate) fn of_framework(checker: &Checker<'_>, module: &str, name: &str, given: &[Ty], text: &str) -> Option<Ty> {
    if !is_of_a_framework(module) {
        return None;
    }
    let first = given.first();
    let last = name.rsplit('.').next().unwrap_or_default();
    let renders = CONTENT.contains(&name) || CONTENT.contains(&last) || last == "Element" && name.contains("JSX.");
    Some(match last {
        _ if renders => Ty::Content,
        // `Property.Color`, `CSS.Property.Color`
        _ if module == "csstype" && name.split('.').rev().nth(1) == Some("Property") => css::value_of(last),
        "Globals" if module == "csstype" => Ty::String,
        _ if module == "csstype" && name.split('.').rev().nth(1) == Some("DataType") => Ty::String,
        "Snippet" => Ty::Renderer(first.is_some_and(|t| !matches!(t, Ty::Tuple(of) if of.is_empty()))),
        "Slot" => Ty::Renderer(true),
        "PropsWithChildren" | "ParentProps" | "RenderableProps" => with_member(checker, first, "children", Ty::Content),
        "FlowProps" => with_member(checker, first, "children", given.get(1).cloned().unwrap_or(Ty::Content)),
        "PropsWithRef" | "PropsWithoutRef" | "VoidProps" | "MaybeRef" | "MaybeRefOrGetter" | "PropType" => {
            first.cloned().unwrap_or(Ty::Any)
        }
        "SetStateAction" => first.cloned().unwrap_or(Ty::Any),
        // Those of an element of the page are left out.
        "ComponentProps" | "ComponentPropsWithoutRef" | "ComponentPropsWithRef" => {
            first.and_then(|ty| props_of(checker, ty)).unwrap_or_else(|| Ty::Page(text.into()))
        }
        "Key" => Ty::one_of([Ty::String, Ty::Number]),
        // Text, or lists and objects of it.
        "ClassValue" | "StyleValue" => Ty::String,
        "Ref" | "RefObject" | "ForwardedRef" | "LegacyRef" | "MutableRefObject" | "RefCallback" if !module.starts_with("vue") => {
            Ty::Ref(Rc::new(first.cloned().unwrap_or(Ty::Any)))
        }
        name if is_component(name) => {
            let props = first.map(|props| match name {
                "ParentComponent" => with_member(checker, Some(props), "children", Ty::Content),
                _ => props.clone(),
            });
            Ty::Component(props.map(Rc::new))
        }
        name if is_handler(name) => Ty::Instance(HANDLER.into()),
        _ => Ty::Page(text.split_whitespace().collect::<Vec<_>>().join(" ").into()),
    })
}

/// Attributes that are there or not.
const FLAGS: [&str; 22] = [
    "disabled",
    "checked",
    "required",
    "readonly",
    "multiple",
    "hidden",
    "autofocus",
    "open",
    "selected",
    "controls",
    "loop",
    "muted",
    "autoplay",
    "playsinline",
    "reversed",
    "novalidate",
    "formnovalidate",
    "async",
    "defer",
    "draggable",
    "inert",
    "default",
];
/// Attributes that hold a number.
const NUMBERS: [&str; 13] =
    ["tabindex", "rows", "cols", "maxlength", "minlength", "size", "span", "colspan", "rowspan", "start", "width", "height", "high"];
/// Attributes that hold a text.
const TEXTS: [&str; 46] = [
    "id",
    "class",
    "classname",
    "style",
    "title",
    "lang",
    "role",
    "href",
    "target",
    "rel",
    "src",
    "srcset",
    "sizes",
    "alt",
    "name",
    "placeholder",
    "type",
    "action",
    "method",
    "enctype",
    "accept",
    "pattern",
    "for",
    "htmlfor",
    "form",
    "list",
    "download",
    "poster",
    "preload",
    "loading",
    "crossorigin",
    "referrerpolicy",
    "autocomplete",
    "inputmode",
    "enterkeyhint",
    "media",
    "label",
    "headers",
    "scope",
    "cite",
    "datetime",
    "slot",
    "part",
    "translate",
    "nonce",
    "fetchpriority",
];

/// What an attribute of HTML takes, by its name as HTML or a framework writes it (HTML, "Attributes"): what a component hands on to an
/// element has that type. None for what is no attribute.
pub fn attribute(name: &str) -> Option<Ty> {
    let lower = name.to_ascii_lowercase();
    let is_in = |list: &[&str]| list.contains(&lower.as_str());
    match () {
        () if is_in(&FLAGS) => Some(Ty::Boolean),
        () if is_in(&NUMBERS) => Some(Ty::Number),
        () if is_in(&TEXTS) || lower.starts_with("aria-") => Some(Ty::String),
        () if is_listener(name) => Some(Ty::Instance(HANDLER.into())),
        () => None,
    }
}

/// `onclick`, `onClick`, `on:click`
fn is_listener(name: &str) -> bool {
    name.len() > 3 && name.strip_prefix("on").is_some_and(|rest| rest.starts_with(|c: char| c.is_alphabetic() || c == ':'))
}

/// What a function that is told of something is called where its own type is not read.
pub const HANDLER: &str = "handler";

fn is_handler(name: &str) -> bool {
    name.ends_with("Handler") || name == "Dispatch" || name == "EventHandlerUnion"
}

/// Changes a text as the four types of the language do that are named after it.
fn cased(name: &str, word: &str) -> String {
    let mut letters = word.chars();
    let first = letters.next();
    match name {
        "Uppercase" => word.to_uppercase(),
        "Lowercase" => word.to_lowercase(),
        "Capitalize" => first.into_iter().flat_map(char::to_uppercase).chain(letters).collect(),
        _ => first.into_iter().flat_map(char::to_lowercase).chain(letters).collect(),
    }
}

/// The names that a type of keys stands for; none where there may be others.
fn names(keys: &Ty) -> Option<Vec<String>> {
    let one = |key: Ty| match key {
        Ty::Literal(Json::String(name)) => Some(name),
        Ty::Literal(other) => Some(other.to_string()),
        _ => None,
    };
    keys.choices().into_iter().map(one).collect()
}

/// The utility types of the language, its own objects, and those of the page.
pub(crate) fn of_language(checker: &Checker<'_>, path: &[String], given: &[Ty], text: &str) -> Option<Ty> {
    let whole = path.join(".");
    let (first, second) = (given.first(), given.get(1));
    Some(match whole.as_str() {
        "Array" | "ReadonlyArray" | "Iterable" | "ArrayLike" => Ty::List(Rc::new(Lazy::Now(first.cloned().unwrap_or(Ty::Any)))),
        "Readonly" | "NoInfer" | "Awaited" | "ThisType" => first.cloned()?,
        "NonNullable" => Ty::one_of(first?.choices().into_iter().filter(|t| !t.is_nothing())),
        "Partial" => checker.with_optional(first?, true),
        "Required" => checker.with_optional(first?, false),
        "Pick" => {
            let wanted = names(second?)?;
            checker.picked(first?, &|name| wanted.iter().any(|w| w == name))
        }
        "Omit" => match names(second?) {
            Some(unwanted) => checker.picked(first?, &|name| !unwanted.iter().any(|u| u == name)),
            // What is taken away is not known: nothing is.
            None => first.cloned()?,
        },
        "Record" => record(first?, second?),
        "Exclude" => {
            let other = second?;
            Ty::one_of(first?.choices().into_iter().filter(|t| checker.relate(t, other) != Some(true)))
        }
        "Extract" => {
            let other = second?;
            Ty::one_of(first?.choices().into_iter().filter(|t| checker.relate(t, other) == Some(true)))
        }
        "Parameters" | "ConstructorParameters" => match first? {
            Ty::Function(function) => Ty::Tuple(Rc::new(checker.parts_of(function).0)),
            Ty::Object(object) if !object.calls.is_empty() => Ty::Tuple(Rc::new(checker.parts_of(&object.calls[0]).0)),
            Ty::Component(Some(props)) => Ty::Tuple(Rc::new(vec![(Lazy::Now((**props).clone()), false)])),
            _ => return None,
        },
        "ReturnType" => match first? {
            Ty::Function(function) => checker.force(&checker.parts_of(function).1),
            Ty::Object(object) if !object.calls.is_empty() => checker.force(&checker.parts_of(&object.calls[0]).1),
            Ty::Component(_) | Ty::Renderer(_) => Ty::Content,
            _ => return None,
        },
        "InstanceType" => return None,
        name @ ("Uppercase" | "Lowercase" | "Capitalize" | "Uncapitalize") => {
            let one = |t: Ty| match t {
                Ty::Literal(Json::String(word)) => Ty::Literal(Json::from(cased(name, &word))),
                other => other,
            };
            Ty::one_of(first?.choices().into_iter().map(one).collect::<Vec<_>>())
        }
        "String" => Ty::String,
        "Number" => Ty::Number,
        "Boolean" => Ty::Boolean,
        "Object" => Ty::Instance("object".into()),
        "Date" => Ty::Date,
        "Function" | "CallableFunction" => Ty::Instance("Function".into()),
        "VoidFunction" => Ty::Instance(HANDLER.into()),
        "JSX.Element" | "React.JSX.Element" | "JSX.Node" => Ty::Content,
        name if CONTENT.contains(&name) && path.len() > 1 => Ty::Content,
        // `React.ReactNode` where React is known to everybody.
        name if path.len() > 1 && ["React", "JSX", "preact", "h"].contains(&path[0].as_str()) => {
            return of_framework(checker, "react", name.split_once('.').map_or(name, |(_, rest)| rest), given, text);
        }
        // An interface of the page or the language, or one that nobody declares.
        name if path.len() == 1 && is_of_the_page(name) => Ty::Instance(name.into()),
        name if is_handler(name) => Ty::Instance(HANDLER.into()),
        _ => return None,
    })
}

/// `Record<K, V>`
fn record(keys: &Ty, value: &Ty) -> Ty {
    let mut out = Object::default();
    for key in keys.choices() {
        match key {
            Ty::Literal(name) => {
                let name = name.as_str().map_or_else(|| name.to_string(), str::to_owned);
                out.put(Property { name, ty: Lazy::Now(value.clone()), optional: false, from: None });
            }
            Ty::Unknown(why) => out.open = Some(why),
            _ => out.index = Some(Lazy::Now(value.clone())),
        }
    }
    Ty::Object(Rc::new(out))
}

/// Interfaces of DOM and language that are no plain data, by their names.
fn is_of_the_page(name: &str) -> bool {
    const OTHERS: [&str; 24] = [
        "Node",
        "Element",
        "Document",
        "Window",
        "Event",
        "EventTarget",
        "Map",
        "Set",
        "WeakMap",
        "WeakSet",
        "Promise",
        "RegExp",
        "Error",
        "File",
        "FileList",
        "Blob",
        "FormData",
        "URL",
        "AbortSignal",
        "AbortController",
        "DOMRect",
        "DataTransfer",
        "ShadowRoot",
        "CSSStyleDeclaration",
    ];
    let is_element = (name.starts_with("HTML") || name.starts_with("SVG")) && name.ends_with("Element");
    is_element || name.ends_with("Event") && name.len() > 5 || OTHERS.contains(&name)
}

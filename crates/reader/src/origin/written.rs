//! Tags as sources have them: what they fix of their elements, what they leave to expressions, and what they stand in.

use std::ops::Range;
use std::path::Path;

use oxc::allocator::Allocator;
use oxc::ast::ast::{
    Expression, JSXAttributeItem, JSXAttributeName, JSXAttributeValue, JSXChild, JSXElement, JSXElementName, StringLiteral, TemplateLiteral,
};
use oxc::ast_visit::{Visit, walk};
use oxc::parser::Parser;
use oxc::span::GetSpan;

use crate::depth::is_too_deep;
use crate::markup::{Attribute, Syntax, Tag, scan};
use crate::program::source_type;
use crate::sfc;

/// A tag in a source.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct WrittenTag {
    /// The offset of its `<`.
    pub at: usize,
    /// Its name, as it is written.
    pub name: String,
    /// Whether it names a component, and what comes of it is written elsewhere.
    pub is_component: bool,
    /// Attributes with the values that they have in every element.
    pub fixed: Vec<(String, String)>,
    /// Attributes that an expression gives.
    pub bound: Vec<String>,
    /// Whether an expression gives any attributes.
    pub spreads: bool,
    /// Its text, where that is fixed; none where it holds more than text.
    pub text: Option<String>,
    /// The tag that it stands in, by index.
    pub parent: Option<usize>,
}

/// The tags of a file, in its order; none of what cannot be parsed.
pub fn written(path: &Path, source: &str) -> Vec<WrittenTag> {
    let part_of = |part: &str| {
        let start = part.as_ptr() as usize - source.as_ptr() as usize;
        start..start + part.len()
    };
    match path.extension().and_then(|e| e.to_str()).unwrap_or_default() {
        "vue" => sfc::blocks(source).template.map_or_else(Vec::new, |template| of_markup(source, part_of(template), Syntax::Vue)),
        "svelte" => of_markup(source, 0..source.len(), Syntax::Svelte),
        "html" | "htm" => of_markup(source, 0..source.len(), Syntax::Angular),
        _ if is_too_deep(source) => Vec::new(),
        _ => {
            let allocator = Allocator::default();
            let parsed = Parser::new(&allocator, source, source_type(path)).parse();
            let mut found = OfScript { source, open: Vec::new(), out: Vec::new() };
            if !parsed.panicked {
                found.visit_program(&parsed.program);
            }
            found.out
        }
    }
}

fn of_markup(source: &str, within: Range<usize>, syntax: Syntax) -> Vec<WrittenTag> {
    let found = scan(source, within, syntax);
    let mut open: Vec<usize> = Vec::new();
    let mut out: Vec<WrittenTag> = Vec::new();
    for (index, tag) in found.tags.iter().enumerate() {
        while open.last().is_some_and(|around| found.tags[*around].body.end <= tag.at.start) {
            open.pop();
        }
        out.push(of_tag(source, tag, open.last().copied(), syntax));
        if !tag.body.is_empty() {
            open.push(index);
        }
    }
    out
}

fn of_tag(source: &str, tag: &Tag, parent: Option<usize>, syntax: Syntax) -> WrittenTag {
    let name = &source[tag.name.clone()];
    let body = &source[tag.body.clone()];
    let text =
        Some(body).filter(|body| !body.contains(['<', '{', '&', '@'])).map(|body| body.split_whitespace().collect::<Vec<_>>().join(" "));
    // A template or a slot makes no element of its own, nor does what a framework names.
    let is_component = name.starts_with(char::is_uppercase)
        || name.contains(['-', ':', '.'])
        || ["template", "slot", "component", "transition"].contains(&name);
    let mut out = WrittenTag {
        at: tag.name.start - 1,
        name: name.to_owned(),
        is_component,
        text: text.filter(|text| !text.is_empty()),
        parent,
        ..WrittenTag::default()
    };
    for attribute in &tag.attributes {
        of_attribute(source, attribute, syntax, &mut out);
    }
    out
}

/// Beginnings of attributes that make none of their element.
const NO_ATTRIBUTE: [&str; 9] = ["@", "#", "*", "(", "on:", "use:", "let-", "v-on:", "v-slot:"];
/// Beginnings of those whose value is an expression.
const BOUND: [&str; 10] = ["[(", "[attr.", "[", ":", "v-bind:", "bind:", "?", ".", "prop:", "attr:"];

fn of_attribute(source: &str, attribute: &Attribute, syntax: Syntax, out: &mut WrittenTag) {
    let name = &source[attribute.name.clone()];
    let value = attribute.value.as_ref().map_or("", |at| &source[at.clone()]);
    let class_or = |name: &str| {
        let part = name.split(['.', ':']).next().unwrap_or_default();
        if ["class", "style"].contains(&part) { part.to_owned() } else { name.split('.').next().unwrap_or_default().to_owned() }
    };
    let bind = |name: &str, out: &mut WrittenTag| out.bound.push(class_or(name));
    if name.is_empty() {
        // `{...rest}`, `{label}`
        match value.trim().strip_prefix("...") {
            Some(_) => out.spreads = true,
            None => bind(value.trim(), out),
        }
    } else if name == "v-bind" {
        out.spreads = true;
    } else if ["[(ngModel)]", "formControlName"].contains(&name) || name.starts_with("v-model") {
        out.bound.extend(["value", "checked"].map(str::to_owned));
    } else if ["[ngClass]", "ngClass"].contains(&name) {
        bind("class", out);
    } else if let Some(name) = BOUND.iter().find_map(|prefix| name.strip_prefix(prefix)) {
        bind(name.trim_end_matches([')', ']']), out);
    } else if NO_ATTRIBUTE.iter().any(|prefix| name.starts_with(prefix)) || name.starts_with("v-") {
    } else if name.starts_with("class:") || name.starts_with("style:") || attribute.in_braces || is_expression(value, syntax) {
        bind(name, out);
    } else {
        out.fixed.push((name.to_owned(), value.to_owned()));
    }
}

/// Whether something in a value is worked out.
fn is_expression(value: &str, syntax: Syntax) -> bool {
    match syntax {
        Syntax::Svelte => value.contains('{'),
        Syntax::Vue => false,
        Syntax::Angular => value.contains("{{") || value.contains("${"),
    }
}

/// JSX, and markup in literals: an inline template, what a tagged template renders, what is written into an element.
struct OfScript<'s> {
    source: &'s str,
    open: Vec<usize>,
    out: Vec<WrittenTag>,
}

impl OfScript<'_> {
    fn of_literal(&mut self, start: u32, end: u32) {
        let within = start as usize + 1..end as usize - 1;
        let text = &self.source[within.clone()];
        let is_markup = text.match_indices('<').any(|(at, _)| text[at + 1..].starts_with(|c: char| c.is_ascii_lowercase()));
        if is_markup {
            let before = self.out.len();
            let tags = of_markup(self.source, within, Syntax::Angular);
            self.out.extend(tags.into_iter().map(|tag| WrittenTag { parent: tag.parent.map(|p| p + before), ..tag }));
        }
    }
}

impl<'a> Visit<'a> for OfScript<'_> {
    fn visit_string_literal(&mut self, text: &StringLiteral<'a>) {
        self.of_literal(text.span.start, text.span.end);
    }

    fn visit_template_literal(&mut self, text: &TemplateLiteral<'a>) {
        self.of_literal(text.span.start, text.span.end);
        walk::walk_template_literal(self, text);
    }

    fn visit_jsx_element(&mut self, element: &JSXElement<'a>) {
        let opening = &element.opening_element;
        let (name, is_component) = match &opening.name {
            JSXElementName::Identifier(id) => (id.name.as_str(), false),
            other => (&self.source[other.span().start as usize..other.span().end as usize], true),
        };
        let mut out = WrittenTag {
            at: opening.span.start as usize,
            name: name.to_owned(),
            is_component,
            parent: self.open.last().copied(),
            text: text_of(element),
            ..WrittenTag::default()
        };
        for attribute in &opening.attributes {
            let JSXAttributeItem::Attribute(attribute) = attribute else {
                out.spreads = true;
                continue;
            };
            let JSXAttributeName::Identifier(written) = &attribute.name else { continue };
            let name = match written.name.as_str() {
                "className" => "class",
                "htmlFor" => "for",
                "defaultValue" => "value",
                "defaultChecked" => "checked",
                "key" | "ref" | "children" => continue,
                event if event.starts_with("on") && event[2..].starts_with(char::is_uppercase) => continue,
                other => other,
            };
            let text = match &attribute.value {
                None => Some(String::new()),
                Some(JSXAttributeValue::StringLiteral(text)) => Some(text.value.to_string()),
                Some(JSXAttributeValue::ExpressionContainer(held)) => match held.expression.as_expression() {
                    Some(Expression::StringLiteral(text)) => Some(text.value.to_string()),
                    Some(Expression::NumericLiteral(number)) => Some(number.value.to_string()),
                    _ => None,
                },
                Some(_) => None,
            };
            match text {
                Some(text) => out.fixed.push((name.to_owned(), text)),
                None => out.bound.push(name.to_owned()),
            }
        }
        self.open.push(self.out.len());
        self.out.push(out);
        walk::walk_jsx_element(self, element);
        self.open.pop();
    }
}

/// The text of an element that holds nothing else.
fn text_of(element: &JSXElement<'_>) -> Option<String> {
    let [JSXChild::Text(text)] = &element.children[..] else { return None };
    let text = text.value.split_whitespace().collect::<Vec<_>>().join(" ");
    (!text.is_empty() && !text.contains('&')).then_some(text)
}

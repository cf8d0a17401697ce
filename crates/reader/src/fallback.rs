//! What a slot shows while a parent gives it nothing, where the source of a component says it in words. Frameworks with a tag for slots
//! write it between its tags (`sfc`); the others decide it in an expression or in a branch of their markup.

use std::collections::HashMap;

use oxc::ast::ast::{
    Argument, BindingPattern, CallExpression, ConditionalExpression, Expression, IdentifierReference, JSXAttribute, JSXAttributeValue,
    JSXChild, JSXElementName, JSXExpression, LogicalExpression, Program, StaticMemberExpression, UnaryExpression, VariableDeclarator,
};
use oxc::ast_visit::{Visit, walk};
use oxc::span::Span;
use oxc::syntax::operator::{LogicalOperator, UnaryOperator};

use crate::sfc;
use crate::types::bare;
use crate::words;

/// The fallbacks of slots in JSX, by the prop that holds the content: `{children ?? <p>Nothing yet</p>}`. A slot that is shown in two
/// places has none.
pub fn of_jsx(program: &Program<'_>, within: Span, props: Option<&str>) -> HashMap<String, String> {
    let props = props.map(str::to_owned).into_iter().collect();
    let mut seen = Jsx { within, props, accessors: HashMap::new(), shown: HashMap::new(), words: HashMap::new() };
    seen.visit_program(program);
    let Jsx { shown, words, .. } = seen;
    words.into_iter().filter(|(name, _)| shown.get(name) == Some(&1)).filter_map(|(name, words)| Some((name, words?))).collect()
}

struct Jsx {
    within: Span,
    /// The names of the props: as they are passed, and as `mergeProps` gives them.
    props: Vec<String>,
    /// `const pieces = children(() => props.children)`: what is called to get a slot's content.
    accessors: HashMap<String, String>,
    /// How often each is shown; a test whether it is there shows nothing.
    shown: HashMap<String, i32>,
    words: HashMap<String, Option<String>>,
}

impl Jsx {
    /// The prop that an expression reads.
    fn prop(&self, expression: &Expression<'_>) -> Option<String> {
        match bare(expression) {
            Expression::Identifier(id) => Some(id.name.to_string()),
            Expression::StaticMemberExpression(member) => match &member.object {
                Expression::Identifier(id) if self.is_props(id) => Some(member.property.name.to_string()),
                _ => None,
            },
            Expression::CallExpression(call) => match &call.callee {
                Expression::Identifier(id) => self.accessors.get(id.name.as_str()).cloned(),
                _ => None,
            },
            _ => None,
        }
    }

    fn tested(&mut self, expression: &Expression<'_>) {
        if let Some(name) = self.prop(expression) {
            *self.shown.entry(name).or_default() -= 1;
        }
    }

    fn instead(&mut self, name: Option<String>, other: &Expression<'_>) {
        if let Some(name) = name {
            self.words.insert(name, expression_words(other));
        }
    }

    fn is_props(&self, id: &IdentifierReference<'_>) -> bool {
        self.props.iter().any(|name| id.name == name.as_str())
    }

    fn is_within(&self, span: Span) -> bool {
        span.start >= self.within.start && span.end <= self.within.end
    }
}

impl<'a> Visit<'a> for Jsx {
    fn visit_variable_declarator(&mut self, declarator: &VariableDeclarator<'a>) {
        if let (BindingPattern::BindingIdentifier(id), Some(Expression::CallExpression(call))) =
            (&declarator.id, declarator.init.as_ref().map(bare))
            && self.is_within(declarator.span)
        {
            if let Some(name) = resolved(call).and_then(|e| self.prop(e)) {
                self.accessors.insert(id.name.to_string(), name);
                return;
            }
            let merges = matches!(&call.callee, Expression::Identifier(callee) if callee.name == "mergeProps");
            if merges && call.arguments.iter().any(|a| matches!(a, Argument::Identifier(id) if self.is_props(id))) {
                self.props.push(id.name.to_string());
            }
        }
        walk::walk_variable_declarator(self, declarator);
    }

    fn visit_identifier_reference(&mut self, id: &IdentifierReference<'a>) {
        if self.is_within(id.span) && !self.is_props(id) {
            let name = self.accessors.get(id.name.as_str()).cloned().unwrap_or_else(|| id.name.to_string());
            *self.shown.entry(name).or_default() += 1;
        }
    }

    fn visit_static_member_expression(&mut self, member: &StaticMemberExpression<'a>) {
        if let (true, Expression::Identifier(id)) = (self.is_within(member.span), &member.object)
            && self.is_props(id)
        {
            *self.shown.entry(member.property.name.to_string()).or_default() += 1;
        }
        walk::walk_static_member_expression(self, member);
    }

    fn visit_logical_expression(&mut self, logical: &LogicalExpression<'a>) {
        if self.is_within(logical.span) {
            match logical.operator {
                LogicalOperator::And => self.tested(&logical.left),
                LogicalOperator::Or | LogicalOperator::Coalesce => self.instead(self.prop(&logical.left), &logical.right),
            }
        }
        walk::walk_logical_expression(self, logical);
    }

    fn visit_conditional_expression(&mut self, conditional: &ConditionalExpression<'a>) {
        if self.is_within(conditional.span) {
            self.tested(&conditional.test);
            let name = self.prop(&conditional.test).filter(|name| self.prop(&conditional.consequent).as_ref() == Some(name));
            self.instead(name, &conditional.alternate);
        }
        walk::walk_conditional_expression(self, conditional);
    }

    fn visit_unary_expression(&mut self, unary: &UnaryExpression<'a>) {
        if unary.operator == UnaryOperator::LogicalNot && self.is_within(unary.span) {
            self.tested(&unary.argument);
        }
        walk::walk_unary_expression(self, unary);
    }

    fn visit_jsx_attribute(&mut self, attribute: &JSXAttribute<'a>) {
        // `<Show when={props.children}>` asks whether it is there.
        if let (Some("when"), Some(JSXAttributeValue::ExpressionContainer(container))) =
            (attribute.name.as_identifier().map(|n| n.name.as_str()), &attribute.value)
            && let Some(expression) = container.expression.as_expression()
        {
            self.tested(expression);
        }
        walk::walk_jsx_attribute(self, attribute);
    }
}

/// What Solid's `children(() => …)` resolves.
fn resolved<'e, 'a>(call: &'e CallExpression<'a>) -> Option<&'e Expression<'a>> {
    let Expression::Identifier(callee) = &call.callee else { return None };
    let Some(Expression::ArrowFunctionExpression(f)) = call.arguments.first().and_then(|a| a.as_expression()).map(bare) else {
        return None;
    };
    (callee.name == "children").then(|| f.body.as_expression()).flatten()
}

/// What an expression says, where it is words alone.
fn expression_words(expression: &Expression<'_>) -> Option<String> {
    let text = match bare(expression) {
        Expression::StringLiteral(text) => text.value.to_string(),
        Expression::JSXElement(element) => element_words(&element.opening_element.name, &element.children)?,
        Expression::JSXFragment(fragment) => children_words(&fragment.children)?,
        _ => return None,
    };
    let text = text.split_whitespace().collect::<Vec<_>>().join(" ");
    (!text.is_empty()).then_some(text)
}

fn element_words(name: &JSXElementName<'_>, children: &[JSXChild<'_>]) -> Option<String> {
    // What a component makes of it is its own affair.
    matches!(name, JSXElementName::Identifier(_)).then(|| children_words(children))?
}

fn children_words(children: &[JSXChild<'_>]) -> Option<String> {
    let mut out = String::new();
    for child in children {
        match child {
            JSXChild::Text(text) => out.push_str(&text.value),
            JSXChild::Element(element) => out.push_str(&element_words(&element.opening_element.name, &element.children)?),
            JSXChild::Fragment(fragment) => out.push_str(&children_words(&fragment.children)?),
            JSXChild::ExpressionContainer(container) => match &container.expression {
                JSXExpression::StringLiteral(text) => out.push_str(&text.value),
                JSXExpression::EmptyExpression(_) => {}
                _ => return None,
            },
            JSXChild::Spread(_) => return None,
        }
    }
    Some(out)
}

/// Whether a slot of Svelte's older form stands in a branch that is there only where it is filled: `{#if $$slots.head}<slot name="head">…`.
pub fn stands_where_filled(markup: &str, slot: &str) -> bool {
    let tag = if slot == "default" { "<slot".to_owned() } else { format!("name=\"{slot}\"") };
    words::places(markup, slot).filter(|at| markup[..*at].ends_with("{#if $$slots.")).any(|at| {
        let branch = &markup[at..];
        let end = ["{/if}", "{:else"].iter().filter_map(|mark| branch.find(mark)).min();
        branch[..end.unwrap_or(branch.len())].contains(&tag)
    })
}

/// The fallback of a snippet in Svelte's markup: `{#if children}{@render children()}{:else}Nothing yet{/if}`.
pub fn of_snippet(markup: &str, name: &str) -> Option<String> {
    let renders = |text: &str| {
        let mut found = text.match_indices("{@render").filter(|(at, mark)| {
            let rest = text[at + mark.len()..].trim_start();
            rest.strip_prefix(name).is_some_and(|r| r.starts_with(['(', '?']))
        });
        found.next().is_some() && found.next().is_none()
    };
    if !renders(markup) {
        return None;
    }
    let head = format!("{{#if {name}}}");
    let (start, _) =
        markup.match_indices(&head).find(|(at, _)| branches(&markup[at + head.len()..]).is_some_and(|(shown, _)| renders(shown)))?;
    let (_, other) = branches(&markup[start + head.len()..])?;
    let plain = other.as_bytes().windows(2).all(|w| w[0] != b'<' || !w[1].is_ascii_uppercase());
    let slot = sfc::slots_within(&format!("<slot>{other}</slot>"), sfc::SVELTE);
    slot.into_iter().next().filter(|_| plain)?.fallback
}

/// The two branches of a block that has begun, where there are two: what stands before its `{:else}` and what stands after.
fn branches(markup: &str) -> Option<(&str, &str)> {
    let mut depth = 0;
    let mut other = None;
    for (at, _) in markup.match_indices('{') {
        let rest = &markup[at..];
        if rest.starts_with("{#") {
            depth += 1;
        } else if rest.starts_with("{/") {
            if depth == 0 {
                let (shown, from): (usize, usize) = other?;
                return Some((&markup[..shown], &markup[from..at]));
            }
            depth -= 1;
        } else if depth == 0 && rest.starts_with("{:else") {
            // `{:else if …}` is a branch of its own.
            let end = rest.strip_prefix("{:else}")?;
            other.get_or_insert((at, markup.len() - end.len()));
        }
    }
    None
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_branch_of_markup_is_a_fallback() {
        let told = |markup: &str| of_snippet(markup, "children");
        assert_eq!(told("{#if children}{@render children()}{:else}<p>No <b>pieces</b></p>{/if}"), Some("No pieces".to_owned()));
        assert_eq!(told("{#if children}<i>{#if a}x{:else}y{/if}</i>{@render children?.(a)}{:else}No{/if}"), Some("No".to_owned()));
        for unknown in [
            "{#if children}{@render children()}{/if}",
            "{#if children}{@render children()}{:else if other}a{:else}b{/if}",
            "{#if children}{@render children()}{:else}{title}{/if}",
            "{#if children}{@render children()}{:else}<Empty>No</Empty>{/if}",
            "{#if children}{@render children()}{:else}No{/if}{@render children?.()}",
            "{#if framed}{@render children()}{:else}No{/if}",
            "{#if children}{@render children()}{:else}No",
        ] {
            assert_eq!(told(unknown), None, "{unknown}");
        }
    }
}

//! Where a script can go wrong, JSX with it.

use std::ops::Range;

use oxc::allocator::Allocator;
use oxc::ast::ast::{
    Argument, ArrowFunctionBody, AssignmentExpression, AssignmentPattern, BinaryExpression, BooleanLiteral, CallExpression,
    ConditionalExpression, Decorator, Expression, ExpressionStatement, FormalParameter, Function, IfStatement, ImportDeclaration,
    JSXAttribute, JSXAttributeItem, JSXAttributeName, JSXAttributeValue, JSXChild, JSXExpression, JSXOpeningElement, LogicalExpression,
    NumericLiteral, ObjectExpression, ObjectProperty, ObjectPropertyKind, PropertyDefinition, Statement, TSType,
    TSTypeParameterInstantiation, UnaryExpression, UpdateExpression,
};
use oxc::ast_visit::{Visit, walk};
use oxc::parser::Parser;
use oxc::span::{GetSpan, SourceType, Span};
use oxc::syntax::operator::{AssignmentOperator, BinaryOperator, LogicalOperator, UnaryOperator, UpdateOperator};
use oxc::syntax::scope::ScopeFlags;

use crate::calls::{Purpose, callee_name, is_callback, purpose};
use crate::kinds::Kind;
use crate::{Fault, reach, template};

/// The faults of a script file that gives a component under this name.
pub(crate) fn of_file(source: &str, kind: SourceType, export: &str) -> Vec<Fault> {
    let allocator = Allocator::default();
    let parsed = Parser::new(&allocator, source, kind).parse();
    if parsed.panicked {
        return Vec::new();
    }
    let within = reach::statements(&parsed.program, export);
    let mut finder = Finder::new(source, 0);
    for statement in parsed.program.body.iter().filter(|s| within.as_ref().is_none_or(|within| within.contains(&s.span()))) {
        finder.visit_statement(statement);
    }
    finder.out
}

/// The faults of a script that stands in a file.
pub(crate) fn of_script(source: &str, at: Range<usize>, kind: SourceType) -> Vec<Fault> {
    let allocator = Allocator::default();
    let text = &source[at.clone()];
    let parsed = Parser::new(&allocator, text, kind).parse();
    if parsed.panicked {
        return Vec::new();
    }
    let mut finder = Finder::new(text, at.start);
    finder.visit_program(&parsed.program);
    finder.out
}

/// The faults of an expression, or of statements, that stand in a template.
pub(crate) fn of_expression(source: &str, at: Range<usize>) -> Vec<Fault> {
    let text = &source[at.clone()];
    for wrapped in [format!("({text})"), text.to_owned()] {
        let allocator = Allocator::default();
        let parsed = Parser::new(&allocator, &wrapped, SourceType::ts()).parse();
        if parsed.panicked || !parsed.diagnostics.is_empty() {
            continue;
        }
        let before = usize::from(wrapped.len() > text.len());
        let mut finder = Finder::new(&wrapped, 0);
        finder.visit_program(&parsed.program);
        let inside = finder.out.into_iter().filter(|f| f.at.start >= before && f.at.end <= before + text.len());
        return inside.map(|f| Fault { at: f.at.start - before + at.start..f.at.end - before + at.start, ..f }).collect();
    }
    Vec::new()
}

struct Finder<'s> {
    source: &'s str,
    base: usize,
    out: Vec<Fault>,
}

impl<'s> Finder<'s> {
    fn new(source: &'s str, base: usize) -> Self {
        Self { source, base, out: Vec::new() }
    }

    fn text(&self, span: Span) -> &'s str {
        &self.source[span.start as usize..span.end as usize]
    }

    fn add(&mut self, kind: Kind, span: Span, put: impl Into<String>) {
        let at = self.base + span.start as usize..self.base + span.end as usize;
        self.out.push(Fault { kind, at, put: put.into() });
    }

    fn turn_round(&mut self, test: &Expression<'_>) {
        let text = self.text(test.span());
        // What is turned round already has its own place.
        if !matches!(test, Expression::UnaryExpression(unary) if unary.operator == UnaryOperator::LogicalNot) {
            self.add(Kind::Condition, test.span(), format!("!({text})"));
        }
    }

    /// The operator between two operands, put another.
    fn operator(&mut self, kind: Kind, (left, right): (Span, Span), from: &str, to: &str) {
        let between = self.text(Span::new(left.end, right.start));
        if let Some(at) = between.find(from) {
            let start = left.end + u32::try_from(at).unwrap_or(0);
            self.add(kind, Span::new(start, start + u32::try_from(from.len()).unwrap_or(0)), to);
        }
    }

    /// An item of a list between commas, with the comma that belongs to it.
    fn item(&self, span: Span) -> Span {
        let rest = &self.source[span.end as usize..];
        let blank = rest.len() - rest.trim_start().len();
        let comma = rest[blank..].starts_with(',');
        let end = if comma { span.end + u32::try_from(blank).unwrap_or(0) + 1 } else { span.end };
        Span::new(span.start, end)
    }

    fn event(&mut self, call: &CallExpression<'_>, span: Span, payload: usize) {
        let text = self.text(span);
        self.add(Kind::EventLost, span, "void 0");
        self.add(Kind::EventTwice, span, format!("({text}, {text})"));
        if let Some(argument) = call.arguments.get(payload) {
            self.add(Kind::Payload, argument.span(), "undefined");
        }
    }

    /// What a call is in its chain: `emit?.(x)`.
    fn call(&mut self, call: &CallExpression<'_>, span: Span) {
        match purpose(call) {
            Purpose::Event(payload) => self.event(call, span, payload),
            Purpose::Cleanup => self.add(Kind::Cleanup, span, "void 0"),
            Purpose::Derived => {
                if let (Some(Argument::ArrowFunctionExpression(_)), Some((name, _))) = (call.arguments.first(), callee_name(&call.callee)) {
                    let function = self.text(call.arguments[0].span());
                    self.add(Kind::Once, span, format!("(kept => {name}(() => kept))(({function})())"));
                }
            }
            Purpose::Dependencies(at) => {
                if let Some(Argument::ArrayExpression(list)) = call.arguments.get(at)
                    && !list.elements.is_empty()
                {
                    self.add(Kind::Once, list.span, "[]");
                }
            }
            Purpose::Declaring | Purpose::Other => {}
        }
        if let Expression::StaticMemberExpression(member) = &call.callee {
            let receiver = self.text(member.object.span());
            match member.property.name.as_str() {
                "trim" | "filter" | "sort" | "reverse" | "slice" | "toSorted" | "toReversed" | "toLowerCase" | "toUpperCase" => {
                    self.add(Kind::Method, span, receiver);
                }
                "min" | "max" if receiver == "Math" => {
                    self.add(Kind::Boundary, member.property.span, if member.property.name == "min" { "max" } else { "min" });
                }
                _ => {}
            }
        }
        // `$derived(x)` follows, `$state(x)` does not.
        if matches!(&call.callee, Expression::Identifier(id) if id.name == "$derived") {
            self.add(Kind::Once, call.callee.span(), "$state");
        }
    }

    /// What an effect gives back is done when it ends.
    fn effect_end(&mut self, call: &CallExpression<'_>) {
        let runs = callee_name(&call.callee).is_some_and(|(name, _)| {
            matches!(name, "useEffect" | "useLayoutEffect" | "useInsertionEffect" | "$effect" | "onMount" | "pre")
        });
        let Some(Argument::ArrowFunctionExpression(function)) = call.arguments.first().filter(|_| runs) else { return };
        let ArrowFunctionBody::FunctionBody(body) = &function.body else { return };
        for statement in &body.statements {
            if let Statement::ReturnStatement(back) = statement
                && back.argument.is_some()
            {
                self.add(Kind::Cleanup, back.span, "return undefined;");
            }
        }
    }

    fn defaults_of(&mut self, object: &ObjectExpression<'_>) {
        for property in &object.properties {
            if let ObjectPropertyKind::ObjectProperty(property) = property {
                self.add(Kind::Default, self.item(property.span), "");
            }
        }
    }

    /// What of an element of JSX can be left out.
    fn jsx_attribute(&mut self, attribute: &JSXAttribute<'_>) {
        let JSXAttributeName::Identifier(name) = &attribute.name else { return };
        let name = name.name.as_str();
        let kind = match name {
            "key" => Kind::Key,
            "ref" | "children" => return,
            "class" | "className" => Kind::Class,
            _ if is_callback(name) => Kind::Listener,
            _ => Kind::Attribute,
        };
        self.add(kind, attribute.span, "");
    }

    fn jsx_expression(&mut self, expression: &JSXExpression<'_>, span: Span) {
        let Some(inner) = expression.as_expression() else { return };
        let text = self.text(inner.span());
        match inner {
            Expression::Identifier(_)
            | Expression::StaticMemberExpression(_)
            | Expression::CallExpression(_)
            | Expression::ChainExpression(_) => {
                let own = text.trim_end_matches("()").rsplit('.').next().unwrap_or_default().trim_end_matches('?');
                if own == "children" {
                    self.add(Kind::SlotLost, span, "");
                    self.add(Kind::SlotTwice, span, format!("{{{text}}}{{{text}}}"));
                } else {
                    self.add(Kind::Output, span, "");
                }
            }
            _ => {}
        }
    }
}

/// A body that only goes back: what stands before the work.
fn goes_back(statement: &Statement<'_>) -> bool {
    match statement {
        Statement::ReturnStatement(_) | Statement::ContinueStatement(_) => true,
        Statement::BlockStatement(block) => matches!(block.body.as_slice(), [only] if goes_back(only)),
        _ => false,
    }
}

fn is_number(expression: &Expression<'_>) -> bool {
    matches!(expression, Expression::NumericLiteral(_))
}

impl<'a> Visit<'a> for Finder<'_> {
    // Types run nowhere.
    fn visit_ts_type(&mut self, _: &TSType<'a>) {}
    fn visit_ts_type_parameter_instantiation(&mut self, _: &TSTypeParameterInstantiation<'a>) {}
    fn visit_import_declaration(&mut self, _: &ImportDeclaration<'a>) {}

    // What a decorator says is for the framework; a template in it is one.
    fn visit_decorator(&mut self, decorator: &Decorator<'a>) {
        let Expression::CallExpression(call) = &decorator.expression else { return };
        let Some(Argument::ObjectExpression(object)) = call.arguments.first() else { return };
        for property in &object.properties {
            let ObjectPropertyKind::ObjectProperty(property) = property else { continue };
            let is_template = property.key.static_name().is_some_and(|name| name == "template");
            if is_template && matches!(property.value, Expression::TemplateLiteral(_) | Expression::StringLiteral(_)) {
                let span = property.value.span();
                let inside = span.start as usize + 1..span.end as usize - 1;
                // What is put there stands in a literal itself.
                let quote = &self.source[span.start as usize..=span.start as usize];
                let found = template::of_markup(self.source, inside, fidelon_reader::markup::Syntax::Angular);
                let base = self.base;
                let plain = found.into_iter().filter(|f| !f.put.contains(quote));
                self.out.extend(plain.map(|f| Fault { at: f.at.start + base..f.at.end + base, ..f }));
            }
        }
    }

    fn visit_if_statement(&mut self, it: &IfStatement<'a>) {
        self.turn_round(&it.test);
        if it.alternate.is_none() && goes_back(&it.consequent) {
            self.add(Kind::Guard, it.span, ";");
        }
        walk::walk_if_statement(self, it);
    }

    fn visit_conditional_expression(&mut self, it: &ConditionalExpression<'a>) {
        self.turn_round(&it.test);
        walk::walk_conditional_expression(self, it);
    }

    fn visit_logical_expression(&mut self, it: &LogicalExpression<'a>) {
        let sides = (it.left.span(), it.right.span());
        match it.operator {
            LogicalOperator::And => self.operator(Kind::Logic, sides, "&&", "||"),
            LogicalOperator::Or => self.operator(Kind::Logic, sides, "||", "&&"),
            LogicalOperator::Coalesce => self.add(Kind::Default, it.span, self.text(it.left.span())),
        }
        walk::walk_logical_expression(self, it);
    }

    fn visit_binary_expression(&mut self, it: &BinaryExpression<'a>) {
        let sides = (it.left.span(), it.right.span());
        let with_number = is_number(&it.left) || is_number(&it.right);
        match it.operator {
            BinaryOperator::LessThan => self.operator(Kind::Boundary, sides, "<", "<="),
            BinaryOperator::LessEqualThan => self.operator(Kind::Boundary, sides, "<=", "<"),
            BinaryOperator::GreaterThan => self.operator(Kind::Boundary, sides, ">", ">="),
            BinaryOperator::GreaterEqualThan => self.operator(Kind::Boundary, sides, ">=", ">"),
            BinaryOperator::StrictEquality => self.operator(Kind::Condition, sides, "===", "!=="),
            BinaryOperator::StrictInequality => self.operator(Kind::Condition, sides, "!==", "==="),
            BinaryOperator::Equality => self.operator(Kind::Condition, sides, "==", "!="),
            BinaryOperator::Inequality => self.operator(Kind::Condition, sides, "!=", "=="),
            // Texts are put together by the same sign.
            BinaryOperator::Addition if with_number => self.operator(Kind::Arithmetic, sides, "+", "-"),
            BinaryOperator::Subtraction => self.operator(Kind::Arithmetic, sides, "-", "+"),
            BinaryOperator::Multiplication => self.operator(Kind::Arithmetic, sides, "*", "/"),
            BinaryOperator::Division => self.operator(Kind::Arithmetic, sides, "/", "*"),
            _ => {}
        }
        walk::walk_binary_expression(self, it);
    }

    fn visit_numeric_literal(&mut self, it: &NumericLiteral<'a>) {
        if it.value.fract() == 0.0 && it.value.abs() < 1e9 {
            self.add(Kind::Number, it.span, format!("{}", it.value + 1.0));
        }
    }

    fn visit_boolean_literal(&mut self, it: &BooleanLiteral) {
        self.add(Kind::Flag, it.span, if it.value { "false" } else { "true" });
    }

    fn visit_unary_expression(&mut self, it: &UnaryExpression<'a>) {
        if it.operator == UnaryOperator::LogicalNot && !matches!(it.argument, Expression::UnaryExpression(_)) {
            self.add(Kind::Condition, it.span, format!("!!({})", self.text(it.argument.span())));
        }
        // `!!x` is a truth, not a turn; `-1` is one number.
        match (it.operator, &it.argument) {
            (UnaryOperator::LogicalNot, Expression::UnaryExpression(inner)) if inner.operator == UnaryOperator::LogicalNot => {
                walk::walk_unary_expression(self, inner);
            }
            _ => walk::walk_unary_expression(self, it),
        }
    }

    fn visit_update_expression(&mut self, it: &UpdateExpression<'a>) {
        let (from, to) = if it.operator == UpdateOperator::Increment { ("++", "--") } else { ("--", "++") };
        self.add(Kind::Arithmetic, it.span, self.text(it.span).replace(from, to));
        walk::walk_update_expression(self, it);
    }

    fn visit_assignment_expression(&mut self, it: &AssignmentExpression<'a>) {
        let sides = (it.left.span(), it.right.span());
        match it.operator {
            AssignmentOperator::Addition if is_number(&it.right) => self.operator(Kind::Arithmetic, sides, "+=", "-="),
            AssignmentOperator::Subtraction => self.operator(Kind::Arithmetic, sides, "-=", "+="),
            _ => {}
        }
        walk::walk_assignment_expression(self, it);
    }

    fn visit_expression_statement(&mut self, it: &ExpressionStatement<'a>) {
        match &it.expression {
            Expression::AssignmentExpression(_) | Expression::UpdateExpression(_) => self.add(Kind::Update, it.expression.span(), "void 0"),
            Expression::CallExpression(call) if purpose(call) == Purpose::Other => self.add(Kind::Step, call.span, "void 0"),
            Expression::ChainExpression(chain) => {
                if let oxc::ast::ast::ChainElement::CallExpression(call) = &chain.expression
                    && purpose(call) == Purpose::Other
                {
                    self.add(Kind::Step, chain.span, "void 0");
                }
            }
            _ => {}
        }
        walk::walk_expression_statement(self, it);
    }

    fn visit_call_expression(&mut self, it: &CallExpression<'a>) {
        self.call(it, it.span);
        self.effect_end(it);
        if matches!(&it.callee, Expression::Identifier(id) if id.name == "withDefaults")
            && let Some(Argument::ObjectExpression(object)) = it.arguments.get(1)
        {
            self.defaults_of(object);
        }
        walk::walk_call_expression(self, it);
    }

    fn visit_assignment_pattern(&mut self, it: &AssignmentPattern<'a>) {
        self.add(Kind::Default, Span::new(it.left.span().end, it.span.end), "");
        walk::walk_assignment_pattern(self, it);
    }

    fn visit_formal_parameter(&mut self, it: &FormalParameter<'a>) {
        if let Some(initializer) = &it.initializer {
            let before = it.type_annotation.as_ref().map_or(it.pattern.span().end, |t| t.span.end);
            self.add(Kind::Default, Span::new(before, initializer.span().end), "");
        }
        walk::walk_formal_parameter(self, it);
    }

    fn visit_object_property(&mut self, it: &ObjectProperty<'a>) {
        let name = it.key.static_name();
        if name.as_deref() == Some("default") {
            self.add(Kind::Default, self.item(it.span), "");
        }
        // What is said of a prop to the framework is none of what the component does.
        if matches!(name.as_deref(), Some("required" | "type")) {
            return;
        }
        walk::walk_object_property(self, it);
    }

    fn visit_property_definition(&mut self, it: &PropertyDefinition<'a>) {
        if let Some(value) = &it.value
            && !it.r#static
            && matches!(value, Expression::StringLiteral(_) | Expression::TemplateLiteral(_) | Expression::ArrayExpression(_))
        {
            self.add(Kind::Default, value.span(), "undefined as any");
        }
        walk::walk_property_definition(self, it);
    }

    fn visit_function(&mut self, it: &Function<'a>, flags: ScopeFlags) {
        // An overload has no body.
        if it.body.is_some() {
            walk::walk_function(self, it, flags);
        }
    }

    fn visit_jsx_opening_element(&mut self, it: &JSXOpeningElement<'a>) {
        for item in &it.attributes {
            match item {
                JSXAttributeItem::Attribute(attribute) => {
                    self.jsx_attribute(attribute);
                    // A text alone can only be missing.
                    if !matches!(attribute.value, Some(JSXAttributeValue::StringLiteral(_)) | None) {
                        self.visit_jsx_attribute(attribute);
                    }
                }
                JSXAttributeItem::SpreadAttribute(spread) => {
                    self.add(Kind::Rest, spread.span, "");
                    self.visit_jsx_spread_attribute(spread);
                }
            }
        }
    }

    fn visit_jsx_child(&mut self, it: &JSXChild<'a>) {
        if let JSXChild::ExpressionContainer(container) = it {
            self.jsx_expression(&container.expression, container.span);
        }
        walk::walk_jsx_child(self, it);
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::faults;
    use fidelon_core::surface::Framework;

    /// What each fault makes of a statement, by its kind.
    fn of(source: &str) -> Vec<String> {
        let all = of_script(source, 0..source.len(), SourceType::tsx());
        all.iter().map(|f| format!("{}: {}", f.kind.name(), f.in_source(source))).collect()
    }

    #[test]
    fn conditions_and_limits() {
        assert_eq!(
            of("if (a > 3) b()"),
            ["condition: if (!(a > 3)) b()", "boundary: if (a >= 3) b()", "number: if (a > 4) b()", "step: if (a > 3) void 0"]
        );
        assert_eq!(of("if (locked) return"), ["condition: if (!(locked)) return", "guard: ;"]);
        assert_eq!(of("x = !y ? a : b")[1], "condition: x = !!(y) ? a : b");
        assert_eq!(of("const z = a ?? 'none'"), ["default: const z = a"]);
        assert_eq!(of("const z = a && b"), ["logic: const z = a || b"]);
        assert_eq!(of("const z = Math.min(a, b)"), ["boundary: const z = Math.max(a, b)"]);
    }

    #[test]
    fn events_are_lost_doubled_and_changed() {
        assert_eq!(
            of("emit('fire', next)"),
            ["event-lost: void 0", "event-twice: (emit('fire', next), emit('fire', next))", "payload: emit('fire', undefined)"]
        );
        assert_eq!(of("this.fired.emit(next)")[2], "payload: this.fired.emit(undefined)");
        assert_eq!(of("onFire?.(next)")[0], "event-lost: void 0");
        assert_eq!(of("onMounted(start)"), Vec::<String>::new());
    }

    #[test]
    fn what_follows_and_what_is_left_behind() {
        assert_eq!(of("const a = computed(() => b.value)"), ["once: const a = (kept => computed(() => kept))((() => b.value)())"]);
        assert_eq!(of("const a = $derived(b)"), ["once: const a = $state(b)"]);
        assert_eq!(
            of("useEffect(() => { return () => clearInterval(t) }, [t])"),
            [
                "once: useEffect(() => { return () => clearInterval(t) }, [])",
                "cleanup: useEffect(() => { return undefined; }, [t])",
                "cleanup: useEffect(() => { return () => void 0 }, [t])",
            ]
        );
    }

    #[test]
    fn defaults_are_left_out() {
        assert_eq!(of("function A({ size = 'm', ...rest }: Props) {}"), ["default: function A({ size, ...rest }: Props) {}"]);
        assert_eq!(of("function f(a: number = 2) {}")[0], "default: function f(a: number) {}");
        assert_eq!(
            of("withDefaults(defineProps<{ a?: 1 }>(), { a: 'x', b: 'y' })"),
            [
                "default: withDefaults(defineProps<{ a?: 1 }>(), {  b: 'y' })",
                "default: withDefaults(defineProps<{ a?: 1 }>(), { a: 'x',  })",
            ]
        );
    }

    #[test]
    fn jsx_loses_attributes_listeners_keys_and_slots() {
        assert_eq!(
            of("<li key={i} onClick={f} className='a' {...rest}>{children}{label}</li>"),
            [
                "key: <li  onClick={f} className='a' {...rest}>{children}{label}</li>",
                "listener: <li key={i}  className='a' {...rest}>{children}{label}</li>",
                "class: <li key={i} onClick={f}  {...rest}>{children}{label}</li>",
                "rest: <li key={i} onClick={f} className='a' >{children}{label}</li>",
                "slot-lost: <li key={i} onClick={f} className='a' {...rest}>{label}</li>",
                "slot-twice: <li key={i} onClick={f} className='a' {...rest}>{children}{children}{label}</li>",
                "output: <li key={i} onClick={f} className='a' {...rest}>{children}</li>",
            ]
        );
    }

    #[test]
    fn what_belongs_to_another_component_of_the_file_is_left_alone() {
        let source = "const most = 3;\nexport function A() { return most > 1 }\nexport function B() { return other() }\nfunction other() { return 7 }\n";
        let kinds = |export: &str| {
            faults(Framework::React, "a.tsx", export, source).iter().map(|f| source[f.at.clone()].to_owned()).collect::<Vec<_>>()
        };
        assert_eq!(kinds("A"), ["3", ">", "1"]);
        assert_eq!(kinds("B"), ["7"]);
    }

    #[test]
    fn a_template_of_a_class_is_looked_at_too() {
        let source = "@Component({ selector: 'a-b', template: `<p *ngIf=\"hot\">{{ text }}</p>` })\nexport class A { text = 'x' }\n";
        let all = faults(Framework::Angular, "a.ts", "A", source);
        let told: Vec<String> = all.iter().map(|f| format!("{} {}", f.kind.name(), &source[f.at.clone()])).collect();
        assert_eq!(told, ["condition hot", "output {{ text }}", "default 'x'"]);
    }
}

//! What a component declares and nothing in its source uses: as it is written, nothing is run. What may be used in a way that is not read
//! counts as used.

use std::collections::{HashMap, HashSet};
use std::path::Path;

use fidelon_core::naming::kebab;
use fidelon_core::surface::{Framework, Surface};
use fidelon_source::{Place, place_of};
use oxc::allocator::Allocator;
use oxc::ast::ast::{
    ArrowFunctionExpression, BindingPattern, CallExpression, ComputedMemberExpression, Expression, FormalParameters, Function,
    IdentifierReference, ObjectPattern, ObjectProperty, StaticMemberExpression, StringLiteral, TSInterfaceDeclaration, TSType,
    TSTypeAliasDeclaration, TSTypeAnnotation, TSTypeParameterInstantiation, ThisExpression, VariableDeclarator,
};
use oxc::ast_visit::{Visit, walk};
use oxc::parser::Parser;
use oxc::span::SourceType;
use oxc::syntax::scope::ScopeFlags;

use crate::depth::is_too_deep;
use crate::program::{key_name, source_type};
use crate::types::bare;
use crate::{sfc, svelte, words};

/// The props and events that a component's own file declares and does not use, with the place of each declaration.
pub fn unused(path: &Path, source: &str, surface: &Surface) -> Vec<(String, Place)> {
    let none = Vec::new();
    if surface.open || is_too_deep(source) {
        return none;
    }
    let (script, kind, template) = match path.extension().and_then(|e| e.to_str()) {
        Some("vue") => match sfc::blocks(source).template {
            Some(template) => (sfc::scripts_in_place(source), SourceType::tsx(), template.to_owned()),
            None => return none,
        },
        Some("svelte") => (svelte::scripts_in_place(source), SourceType::ts(), svelte::markup(source)),
        _ if surface.framework.record().passes_all_as_props => (source.to_owned(), source_type(path), String::new()),
        _ => return none,
    };
    let allocator = Allocator::default();
    let parsed = Parser::new(&allocator, &script, kind).parse();
    // A type assertion in angle brackets is no JSX.
    let retried = parsed.panicked || !parsed.diagnostics.is_empty();
    let parsed = if retried && kind.is_jsx() { Parser::new(&allocator, &script, SourceType::ts()).parse() } else { parsed };
    if parsed.panicked || !parsed.diagnostics.is_empty() {
        return none;
    }
    let declared: HashSet<&str> =
        surface.props.iter().map(|p| p.name.as_str()).chain(surface.events.iter().map(|e| e.written.as_str())).collect();
    let mut seen = Mentions { declared, component: &surface.name, ..Mentions::default() };
    seen.visit_program(&parsed.program);
    let all_at_once = ["$props", "$attrs", "$$props", "$$restProps", "v-bind=\"", "v-bind='", "{...", "v-on=\""];
    if seen.whole || all_at_once.iter().any(|word| template.contains(word)) {
        return none;
    }
    let is_used = |name: &str| {
        let local = seen.locals.get(name).map_or(name, String::as_str);
        let read = |word: &str| seen.names.contains(word) || words::has(&template, word);
        // `$expanded` is what the store that was passed as `expanded` holds.
        let said = |word: &str| read(word) || surface.framework == Framework::Svelte && read(&format!("${word}"));
        said(local) || said(name) && !seen.locals.contains_key(name) || words::has(&template, &kebab(name)) || said(&kebab(name))
    };
    let own = |place: &Option<Place>| place.as_ref().filter(|p| p.file == surface.file).cloned();
    let props = surface.props.iter().filter(|p| !p.two_way).filter_map(|p| Some((p.name.clone(), own(&p.place)?)));
    let events = surface.events.iter().filter(|e| e.reports.is_none() && (surface.framework.record().declares_event)(&e.written));
    let events = events.filter_map(|e| Some((e.written.clone(), first_place(source, &e.written, &surface.file)?)));
    props.chain(events).filter(|(name, _)| !is_used(name)).collect()
}

/// Where a name stands first in a file.
fn first_place(source: &str, name: &str, file: &str) -> Option<Place> {
    let (line, column) = place_of(source, words::places(source, name).next()?);
    Some(Place { file: file.to_owned(), line, column })
}

/// The names that a script mentions, but for where it declares them.
#[derive(Default)]
struct Mentions<'s> {
    declared: HashSet<&'s str>,
    component: &'s str,
    names: HashSet<String>,
    /// What props are called where they are taken out of their object.
    locals: HashMap<String, String>,
    /// Names of the whole of the props.
    all: HashSet<String>,
    /// Whether that is used as a whole: then everything may be.
    whole: bool,
}

/// What declares props and events.
const DECLARING: [&str; 5] = ["defineProps", "withDefaults", "defineEmits", "defineSlots", "defineOptions"];

fn callee<'e>(call: &'e CallExpression<'_>) -> Option<&'e str> {
    match &call.callee {
        Expression::Identifier(id) => Some(id.name.as_str()),
        _ => None,
    }
}

impl<'a> Mentions<'_> {
    /// Takes props out of their object.
    fn take(&mut self, pattern: &ObjectPattern<'a>) {
        self.whole |= pattern.rest.is_some();
        for property in &pattern.properties {
            let (target, default) = match &property.value {
                BindingPattern::AssignmentPattern(assigned) => (&assigned.left, Some(&assigned.right)),
                other => (other, None),
            };
            if let Some(default) = default {
                self.visit_expression(default);
            }
            match (key_name(&property.key), target) {
                (Some(name), BindingPattern::BindingIdentifier(id)) => drop(self.locals.insert(name, id.name.to_string())),
                // What is taken apart further is used.
                (Some(name), other) => {
                    self.names.insert(name);
                    self.visit_binding_pattern(other);
                }
                (None, _) => self.whole = true,
            }
        }
    }

    /// The parameters of a function, which may be the component.
    fn parameters(&mut self, name: Option<&str>, parameters: &FormalParameters<'a>) {
        let Some(first) = parameters.items.first() else { return };
        match &first.pattern {
            BindingPattern::ObjectPattern(pattern)
                if pattern.properties.iter().any(|p| key_name(&p.key).is_some_and(|k| self.declared.contains(k.as_str()))) =>
            {
                self.take(pattern);
            }
            BindingPattern::BindingIdentifier(id) if id.name == "props" || name == Some(self.component) => {
                self.all.insert(id.name.to_string());
            }
            _ => {}
        }
    }

    fn is_all(&self, expression: &Expression<'_>) -> bool {
        match bare(expression) {
            Expression::Identifier(id) => self.all.contains(id.name.as_str()),
            Expression::StaticMemberExpression(member) => {
                member.property.name == "props" && matches!(bare(&member.object), Expression::ThisExpression(_))
            }
            _ => false,
        }
    }
}

impl<'a> Visit<'a> for Mentions<'_> {
    fn visit_identifier_reference(&mut self, id: &IdentifierReference<'a>) {
        self.whole |= self.all.contains(id.name.as_str());
        self.names.insert(id.name.to_string());
    }

    /// `provide() { return { dial: this } }`: whoever gets it may use all.
    fn visit_this_expression(&mut self, _: &ThisExpression) {
        self.whole = true;
    }

    fn visit_string_literal(&mut self, text: &StringLiteral<'a>) {
        self.names.insert(text.value.to_string());
    }

    fn visit_static_member_expression(&mut self, member: &StaticMemberExpression<'a>) {
        let name = member.property.name.as_str();
        // `this.props` by itself: who takes one of them is seen before.
        let is_all = name == "props" && matches!(bare(&member.object), Expression::ThisExpression(_));
        self.whole |= is_all || ["$props", "$attrs"].contains(&name);
        self.names.insert(name.to_owned());
        // Of `this` one member is taken; of the props one of them.
        if !self.is_all(&member.object) && !matches!(member.object, Expression::ThisExpression(_)) {
            walk::walk_static_member_expression(self, member);
        }
    }

    fn visit_computed_member_expression(&mut self, member: &ComputedMemberExpression<'a>) {
        let is_named = matches!(member.expression, Expression::StringLiteral(_));
        if is_named && (self.is_all(&member.object) || matches!(member.object, Expression::ThisExpression(_))) {
            self.visit_expression(&member.expression);
        } else {
            walk::walk_computed_member_expression(self, member);
        }
    }

    fn visit_call_expression(&mut self, call: &CallExpression<'a>) {
        if !callee(call).is_some_and(|name| DECLARING.contains(&name)) {
            walk::walk_call_expression(self, call);
        }
    }

    fn visit_object_property(&mut self, property: &ObjectProperty<'a>) {
        // What is watched is named by a key: `label() {}`, `'label.length'() {}`.
        if let (Some("watch"), Expression::ObjectExpression(watched)) = (key_name(&property.key).as_deref(), bare(&property.value)) {
            let keys = watched.properties.iter().filter_map(|p| key_name(&p.as_property()?.key));
            self.names.extend(keys.filter_map(|key| Some(key.split('.').next()?.to_owned())));
        }
        // `{ props }` and `{ props: given }` hand all of them on.
        let is_literal = matches!(bare(&property.value), Expression::ObjectExpression(_) | Expression::ArrayExpression(_));
        let declares = |key: String| is_literal && ["props", "emits", "propTypes", "defaultProps"].contains(&key.as_str());
        if !key_name(&property.key).is_some_and(declares) {
            walk::walk_object_property(self, property);
        }
    }

    fn visit_variable_declarator(&mut self, declarator: &VariableDeclarator<'a>) {
        let call = declarator.init.as_ref().and_then(|init| match bare(init) {
            Expression::CallExpression(call) => callee(call),
            _ => None,
        });
        let declares = call.is_some_and(|name| name == "$props" || ["defineProps", "withDefaults"].contains(&name));
        match (&declarator.id, declares) {
            (BindingPattern::ObjectPattern(pattern), true) => self.take(pattern),
            (BindingPattern::BindingIdentifier(id), true) => drop(self.all.insert(id.name.to_string())),
            (BindingPattern::ObjectPattern(pattern), false) => {
                self.names.extend(pattern.properties.iter().filter_map(|p| key_name(&p.key)));
                let of_all = declarator.init.as_ref().is_some_and(|init| self.is_all(init));
                self.whole |= of_all && pattern.rest.is_some();
                if of_all {
                    pattern.properties.iter().for_each(|p| self.visit_binding_pattern(&p.value));
                } else {
                    walk::walk_variable_declarator(self, declarator);
                }
            }
            _ => {
                if let (BindingPattern::BindingIdentifier(id), Some(Expression::ArrowFunctionExpression(arrow))) =
                    (&declarator.id, &declarator.init)
                {
                    self.parameters(Some(&id.name), &arrow.params);
                }
                walk::walk_variable_declarator(self, declarator);
            }
        }
    }

    fn visit_function(&mut self, function: &Function<'a>, flags: ScopeFlags) {
        self.parameters(function.id.as_ref().map(|id| id.name.as_str()), &function.params);
        walk::walk_function(self, function, flags);
    }

    fn visit_arrow_function_expression(&mut self, arrow: &ArrowFunctionExpression<'a>) {
        self.parameters(None, &arrow.params);
        walk::walk_arrow_function_expression(self, arrow);
    }

    // What types say is no use.
    fn visit_ts_type(&mut self, _: &TSType<'a>) {}
    fn visit_ts_type_annotation(&mut self, _: &TSTypeAnnotation<'a>) {}
    fn visit_ts_interface_declaration(&mut self, _: &TSInterfaceDeclaration<'a>) {}
    fn visit_ts_type_alias_declaration(&mut self, _: &TSTypeAliasDeclaration<'a>) {}
    fn visit_ts_type_parameter_instantiation(&mut self, _: &TSTypeParameterInstantiation<'a>) {}
}

#[cfg(test)]
mod tests {
    use fidelon_source::MemoryFiles;

    use super::*;
    use crate::NoImports;

    fn said(file: &str, source: &str) -> Vec<String> {
        let files = MemoryFiles::default().with(file, source);
        let path = Path::new(file);
        let surfaces = crate::surfaces(&files, &NoImports, path, file.trim_start_matches("/p/")).expect("it is read");
        surfaces.iter().flat_map(|s| unused(path, source, s)).map(|(name, at)| format!("{name} {}:{}", at.line, at.column)).collect()
    }

    #[test]
    fn props_and_events_of_vue() {
        let with = |declared: &str, template: &str| {
            said("/p/Dial.vue", &format!("<script setup lang=\"ts\">\n{declared}\n</script>\n<template>{template}</template>"))
        };
        let declared = "const props = withDefaults(defineProps<{ label: string; limitOf?: number; unit?: string }>(), { limitOf: 5 })\nconst emit = defineEmits<{ fire: [n: number]; stop: [] }>()";
        assert_eq!(with(declared, "<p @click=\"$emit('fire', 1)\">{{ label }}</p>"), ["limitOf 2:57", "unit 2:75", "stop 3:47"]);
        assert_eq!(with(&format!("{declared}\nemit('stop', props.limitOf, props['unit'])"), "<p>{{ label }}</p>"), ["fire 3:28"]);
        assert_eq!(with(&format!("{declared}\nuse(props)"), ""), Vec::<String>::new(), "as a whole");
        assert_eq!(with(&format!("{declared}\nuse({{ props }})"), ""), Vec::<String>::new(), "as a field of something");
        assert_eq!(with("const { label, unit: u = 'C' } = defineProps<{ label: string; unit?: string }>()\nlog(u)", ""), ["label 2:48"]);
        assert_eq!(with(declared, "<p v-bind=\"$props\">"), Vec::<String>::new());
    }

    #[test]
    fn props_of_options() {
        let with = |options: &str| {
            let script = format!("export default {{\n  props: {{ label: String, unit: String, depth: Object }},\n{options}}}");
            said("/p/Dial.vue", &format!("<script>\n{script}\n</script>\n<template><p>{{{{ label }}}}</p></template>"))
        };
        assert_eq!(with(""), ["unit 3:27", "depth 3:41"]);
        assert_eq!(with("  watch: { async unit() {}, 'depth.of'() {} }\n"), Vec::<String>::new());
        assert_eq!(with("  provide() { return { dial: this.$props } }\n"), Vec::<String>::new());
        assert_eq!(with("  provide() { return { dial: this } }\n"), Vec::<String>::new());
        assert_eq!(with("  computed: { all() { return this.unit + this['rest'] } }\n"), ["depth 3:41"]);
    }

    #[test]
    fn props_of_svelte() {
        let with = |declared: &str, markup: &str| said("/p/Dial.svelte", &format!("<script lang=\"ts\">\n{declared}\n</script>\n{markup}"));
        let declared = "let { label, unit, onfire }: { label: string; unit?: string; onfire?: () => void } = $props()";
        assert_eq!(with(declared, "<p onclick={onfire}>{label}</p>"), ["unit 2:47"]);
        assert_eq!(with(declared, "<p>{label}{unit}</p>"), ["onfire 2:20"]);
        assert_eq!(with("let { label, ...rest }: { label: string; unit?: string } = $props()", "<p {...rest}></p>"), Vec::<String>::new());
        assert_eq!(with("export let label = ''\nexport let unit = 'C'", "{label}"), ["unit 3:1"]);
        let stores = "export let heat\nexport let unit\nexport let cone\n$: hot = $heat > 600";
        assert_eq!(with(stores, "{$unit}"), ["cone 4:1"]);
    }

    #[test]
    fn props_of_functions() {
        let with = |source: &str| said("/p/Dial.tsx", source);
        let types = "interface P { label: string; unit?: string; onFire?: () => void }\n";
        assert_eq!(
            with(&format!("{types}export const Dial = ({{ label, unit = 'C', onFire }}: P) => <p onClick={{onFire}}>{{label}}</p>")),
            ["unit 1:30"]
        );
        assert_eq!(
            with(&format!("{types}export function Dial(props: P) {{ return <p>{{props.label}}</p> }}")),
            ["unit 1:30", "onFire 1:45"]
        );
        assert_eq!(with(&format!("{types}export function Dial(props: P) {{ return <p {{...props}} /> }}")), Vec::<String>::new());
        assert_eq!(
            with(&format!("{types}export function Dial(props: P) {{ const {{ label, unit, onFire }} = props; return <p>{{label}}</p> }}")),
            Vec::<String>::new()
        );
        let types = format!("import {{ Component }} from 'react'\n{types}");
        let class = |renders: &str| format!("{types}export class Dial extends Component<P> {{ render() {{ return {renders} }} }}");
        assert_eq!(with(&class("<p onClick={this.props.onFire}>{this.props.label}</p>")), ["unit 2:30"]);
        assert_eq!(with(&class("<Lid {...this.props} label={this.props.label} />")), Vec::<String>::new());
    }
}

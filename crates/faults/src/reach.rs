//! Which top-level statements of a file a component is made of: its own, and those that these speak of.

use std::collections::{HashMap, HashSet};

use oxc::ast::ast::{BindingIdentifier, IdentifierReference, JSXIdentifier, Program, Statement};
use oxc::ast_visit::Visit;
use oxc::span::{GetSpan, Span};

/// The statements that an export is made of; none where it cannot be told, and all may count.
pub(crate) fn statements(program: &Program<'_>, export: &str) -> Option<HashSet<Span>> {
    let mut declared: HashMap<String, usize> = HashMap::new();
    let mut spoken: Vec<HashSet<String>> = Vec::new();
    let mut start = None;
    for (at, statement) in program.body.iter().enumerate() {
        let mut names = Names { depth: 0, declared: Vec::new(), spoken: HashSet::new() };
        names.visit_statement(statement);
        for name in names.declared {
            declared.entry(name).or_insert(at);
        }
        spoken.push(names.spoken);
        if export == "default" && matches!(statement, Statement::ExportDefaultDeclaration(_)) {
            start = Some(at);
        }
    }
    let start = start.or_else(|| declared.get(export).copied())?;
    let mut open = vec![start];
    let mut reached: HashSet<usize> = HashSet::new();
    while let Some(at) = open.pop() {
        if reached.insert(at) {
            open.extend(spoken[at].iter().filter_map(|name| declared.get(name)));
        }
    }
    // What runs when the file is loaded belongs to all: `Card.Header = Header`.
    let runs = |statement: &Statement<'_>| matches!(statement, Statement::ExpressionStatement(_));
    Some(program.body.iter().enumerate().filter(|(at, s)| reached.contains(at) || runs(s)).map(|(_, s)| s.span()).collect())
}

struct Names {
    depth: usize,
    declared: Vec<String>,
    spoken: HashSet<String>,
}

impl<'a> Visit<'a> for Names {
    fn enter_scope(&mut self, _: oxc::syntax::scope::ScopeFlags, _: &std::cell::Cell<Option<oxc::syntax::scope::ScopeId>>) {
        self.depth += 1;
    }

    fn leave_scope(&mut self) {
        self.depth -= 1;
    }

    fn visit_binding_identifier(&mut self, it: &BindingIdentifier<'a>) {
        if self.depth <= 1 {
            self.declared.push(it.name.to_string());
        }
    }

    fn visit_identifier_reference(&mut self, it: &IdentifierReference<'a>) {
        self.spoken.insert(it.name.to_string());
    }

    fn visit_jsx_identifier(&mut self, it: &JSXIdentifier<'a>) {
        self.spoken.insert(it.name.to_string());
    }
}

//! `createApp(App).use(router).mount('#app')`: all that a main script does to the application, with the stage's own application in its place.

use std::path::Path;

use oxc::ast::ast::{AwaitExpression, CallExpression, Expression, Function, ImportDeclarationSpecifier, Program, Statement};
use oxc::ast_visit::{Visit, walk};
use oxc::span::Span;
use oxc::syntax::scope::ScopeFlags;

use super::{Start, declared, imports, is_name, named_in, replaced, with_program};

/// What makes an application.
const MAKING: [&str; 2] = ["createApp", "createSSRApp"];

/// The module of a main script that makes an application of Vue; none for any other script.
pub(super) fn started(main: &Path, source: &str) -> Option<Start> {
    let folder = main.parent()?;
    let code = with_program(main, source, |program| {
        let making = maker(program)?;
        let mut calls = Calls { making, spans: Vec::new(), waits: false, depth: 0 };
        let mut body = String::new();
        let mut made = 0;
        for statement in &program.body {
            let before = calls.spans.len();
            calls.waits = false;
            calls.visit_statement(statement);
            let Some(span) = declared(statement) else { continue };
            // What waits for something comes after the component is there.
            if calls.waits || matches!(statement, Statement::TSInterfaceDeclaration(_) | Statement::TSTypeAliasDeclaration(_)) {
                continue;
            }
            made += calls.spans.len() - before;
            body.push_str(&replaced(source, span, &calls.spans));
            body.push('\n');
        }
        if made == 0 {
            return None;
        }
        let imports = imports(program, source, folder, &named_in(&body));
        Some(format!("{imports}{STANDS_FOR}export default (__given: any) => {{\nconst __application = __standsFor(__given);\n{body}}};\n"))
    })??;
    Some(Start { file: main.to_path_buf(), code })
}

/// The stage's application as a main script may use it: it is shown by the stage, and nowhere else.
const STANDS_FOR: &str = "const __standsFor = (app: any): any => {
  const stands: any = new Proxy(app, {
    get(of, name) {
      if (name === 'mount' || name === 'unmount') return () => stands;
      const value = of[name];
      return typeof value !== 'function' ? value : (...given: any[]) => {
        const out = value.apply(of, given);
        return out === of ? stands : out;
      };
    },
  });
  return stands;
};
";

/// The local name of what makes applications.
fn maker(program: &Program<'_>) -> Option<String> {
    program.body.iter().find_map(|statement| {
        let Statement::ImportDeclaration(import) = statement else { return None };
        import.specifiers.iter().flatten().find_map(|specifier| match specifier {
            ImportDeclarationSpecifier::ImportSpecifier(named) if MAKING.contains(&named.imported.name().as_str()) => {
                Some(named.local.name.to_string())
            }
            _ => None,
        })
    })
}

/// Where applications are made, and whether something is waited for outside of functions.
struct Calls {
    making: String,
    spans: Vec<(Span, String)>,
    waits: bool,
    depth: usize,
}

impl<'a> Visit<'a> for Calls {
    fn visit_call_expression(&mut self, call: &CallExpression<'a>) {
        if is_name(&call.callee, &self.making) {
            self.spans.push((call.span, "__application".to_owned()));
            return;
        }
        // `router.isReady().then(() => app.mount('#app'))` does nothing more for a component.
        if let Expression::StaticMemberExpression(member) = &call.callee
            && member.property.name == "then"
            && self.depth == 0
        {
            self.waits = true;
        }
        walk::walk_call_expression(self, call);
    }

    fn visit_await_expression(&mut self, wait: &AwaitExpression<'a>) {
        self.waits |= self.depth == 0;
        walk::walk_await_expression(self, wait);
    }

    fn visit_function(&mut self, function: &Function<'a>, flags: ScopeFlags) {
        self.depth += 1;
        walk::walk_function(self, function, flags);
        self.depth -= 1;
    }

    fn visit_arrow_function_expression(&mut self, arrow: &oxc::ast::ast::ArrowFunctionExpression<'a>) {
        self.depth += 1;
        walk::walk_arrow_function_expression(self, arrow);
        self.depth -= 1;
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn code(source: &str) -> Option<String> {
        started(Path::new("/p/src/main.ts"), source).map(|s| s.code)
    }

    #[test]
    fn what_is_done_to_the_application_is_kept() {
        let code = code(
            "import { createApp } from 'vue'\nimport { createPinia } from 'pinia'\nimport './main.css'\nimport App from './App.vue'\nimport router from './router'\nimport { left } from './left'\n\
             const app = createApp(App)\napp.use(createPinia())\napp.use(router)\nawait left()\nrouter.isReady().then(() => app.mount('#app'))\n",
        )
        .expect("it starts an application");
        for kept in [
            "import \"/p/src/main.css\";",
            "import { createPinia } from \"pinia\";",
            "import router from \"/p/src/router\";",
            "const app = __application",
            "app.use(router)",
        ] {
            assert!(code.contains(kept), "{kept}\n{code}");
        }
        for left_out in ["App.vue", "createApp", "left", "mount('#app')"] {
            assert!(!code.contains(left_out), "{left_out}\n{code}");
        }
    }

    #[test]
    fn a_chain_and_a_function_are_starts_too() {
        let chain = code("import { createApp as make } from 'vue'\nimport App from './App.vue'\nmake(App).use(plan).mount('#app')")
            .expect("a start");
        assert!(chain.contains("__application.use(plan).mount('#app')"), "{chain}");
        let within = "import { createApp } from 'vue'\nasync function start() { const app = createApp({}); app.use(plan); await ready(); app.mount('#a') }\nstart()";
        assert!(code(within).expect("a start").contains("const app = __application; app.use(plan)"));
        assert_eq!(code("import { ref } from 'vue'\nexport const heat = ref(1)"), None);
    }
}

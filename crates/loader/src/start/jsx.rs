//! `createRoot(place).render(<Provider><App /></Provider>)`: what stands around the application, and what the application itself puts around all
//! of its parts.

use std::path::Path;

use oxc::ast::ast::{
    CallExpression, ExportDefaultDeclarationKind, Expression, Function, ImportDeclarationSpecifier, JSXChild, JSXElement, JSXElementName,
    Program, ReturnStatement, Statement,
};
use oxc::ast_visit::{Visit, walk};
use oxc::span::{GetSpan, Span};
use oxc::syntax::scope::ScopeFlags;

use super::{Start, function_of, imports, named_in, needed, pragma, replaced, with_program};
use crate::loader::tidy;

/// Where the parts stand. Solid makes them when they are asked for: within what is around them.
const CHILDREN: &str = "{__props.children}";

/// What the modules of a main script and of its root component put around their parts, the main script's first.
pub(super) fn started(main: &Path, source: &str, read: &dyn Fn(&Path) -> Option<String>) -> Vec<Start> {
    let Some(Some((around, root))) = with_program(main, source, |program| of_main(program, source, main)) else { return Vec::new() };
    let within = root.and_then(|file| {
        let found = ["tsx", "jsx", "ts", "js", ""].iter().find_map(|extension| {
            let file = if extension.is_empty() { file.clone() } else { file.with_extension(extension) };
            Some((read(&file)?, file))
        });
        let (source, file) = found?;
        let code = with_program(&file, &source, |program| of_root(program, &source, &file))??;
        Some(Start { file, code })
    });
    around.map(|code| Start { file: main.to_path_buf(), code }).into_iter().chain(within).collect()
}

/// What a main script puts around the root component, and the file of that one.
fn of_main(program: &Program<'_>, source: &str, main: &Path) -> Option<(Option<String>, Option<std::path::PathBuf>)> {
    let mut rendered = Rendered(None);
    rendered.visit_program(program);
    let (outer, inner, root) = rendered.0?;
    let folder = main.parent()?;
    let file = imported(program, &root).filter(|from| from.starts_with('.')).map(|from| tidy(&folder.join(from)));
    if outer == inner {
        return Some((None, file));
    }
    let shown = replaced(source, outer, &[(inner, CHILDREN.to_owned())]);
    let mut body = needed(program, source, &shown);
    body.push_str(&format!("export default function Around(__props: any) {{ return ({shown}); }}\n"));
    let imports = imports(program, source, folder, &named_in(&body));
    Some((Some(format!("{}\n{imports}{body}", pragma(source))), file))
}

/// What a root component puts around its parts, where that is made of providers.
fn of_root(program: &Program<'_>, source: &str, file: &Path) -> Option<String> {
    let function = root_function(program)?;
    let mut returned = Returned(Vec::new());
    returned.visit_function_body(function.1);
    let [element] = returned.0.as_slice() else { return None };
    let inner = *element;
    // Its own parameters are the application's to give.
    let inside = replaced(source, function.1.span, &[(inner, CHILDREN.to_owned())]);
    let shown = format!("export default function Within(__props: any) {inside}\n");
    let body = format!("{}{shown}", needed(program, source, &shown));
    let imports = imports(program, source, file.parent()?, &named_in(&body));
    Some(format!("{}\n{imports}{body}", pragma(source)))
}

/// A component's name and its body.
type Component<'s, 'a> = (&'s str, &'s oxc::ast::ast::FunctionBody<'a>);

/// The component that a module exports by default, or the one that is called `App`, where it takes nothing.
fn root_function<'s, 'a>(program: &'s Program<'a>) -> Option<Component<'s, 'a>> {
    fn of<'s, 'a>(function: &'s Function<'a>, name: &'s str) -> Option<Component<'s, 'a>> {
        function.params.items.is_empty().then_some(())?;
        Some((name, function.body.as_deref()?))
    }
    let by_default = program.body.iter().find_map(|statement| match statement {
        Statement::ExportDefaultDeclaration(export) => Some(&export.declaration),
        _ => None,
    });
    let wanted = match by_default {
        Some(ExportDefaultDeclarationKind::FunctionDeclaration(function)) => return of(function, "default"),
        Some(ExportDefaultDeclarationKind::Identifier(id)) => id.name.as_str(),
        _ => "App",
    };
    program.body.iter().find_map(|statement| {
        let (name, _) = function_of(statement).filter(|(name, _)| *name == wanted)?;
        let declaration = match statement {
            Statement::ExportDeclaration(export) => &export.declaration,
            other => other.as_declaration()?,
        };
        match declaration {
            oxc::ast::ast::Declaration::FunctionDeclaration(function) => of(function, name),
            _ => None,
        }
    })
}

/// Where a local name is imported from.
fn imported<'s>(program: &'s Program<'_>, name: &str) -> Option<&'s str> {
    program.body.iter().find_map(|statement| {
        let Statement::ImportDeclaration(import) = statement else { return None };
        let is_it = |s: &ImportDeclarationSpecifier<'_>| s.local().name == name;
        import.specifiers.iter().flatten().any(is_it).then(|| import.source.value.as_str())
    })
}

fn name_of<'s>(element: &'s JSXElement<'_>) -> &'s str {
    match &element.opening_element.name {
        JSXElementName::Identifier(id) => id.name.as_str(),
        JSXElementName::IdentifierReference(id) => id.name.as_str(),
        JSXElementName::MemberExpression(member) => member.property.name.as_str(),
        _ => "",
    }
}

fn children<'s, 'a>(element: &'s JSXElement<'a>) -> Vec<&'s JSXElement<'a>> {
    let elements = element.children.iter().filter_map(|child| match child {
        JSXChild::Element(element) => Some(&**element),
        _ => None,
    });
    elements.collect()
}

/// The first JSX that is rendered onto the page: where it stands, where the root component stands in it, and the name of that.
struct Rendered(Option<(Span, Span, String)>);

impl<'a> Visit<'a> for Rendered {
    fn visit_call_expression(&mut self, call: &CallExpression<'a>) {
        let renders = match &call.callee {
            Expression::Identifier(id) => ["render", "hydrate", "hydrateRoot"].contains(&id.name.as_str()),
            Expression::StaticMemberExpression(member) => ["render", "hydrate", "hydrateRoot"].contains(&member.property.name.as_str()),
            _ => false,
        };
        if renders && self.0.is_none() {
            let mut first = First(None);
            call.arguments.iter().for_each(|argument| first.visit_argument(argument));
            self.0 = first.0;
        }
        walk::walk_call_expression(self, call);
    }
}

/// The outermost element of something, its innermost one, and the name of that.
struct First(Option<(Span, Span, String)>);

impl<'a> Visit<'a> for First {
    fn visit_jsx_element(&mut self, element: &JSXElement<'a>) {
        if self.0.is_some() {
            return;
        }
        let mut inner = element;
        loop {
            let below = children(inner);
            // Tools for developers stand beside the application.
            match below.iter().find(|e| name_of(e) == "App").or_else(|| below.first()) {
                Some(next) => inner = *next,
                None => break,
            }
        }
        self.0 = Some((element.span(), inner.span(), name_of(inner).to_owned()));
    }
}

/// Where the parts of a component stand within the providers that it returns; nothing for a component that returns none.
struct Returned(Vec<Span>);

impl Returned {
    fn look(&mut self, element: &JSXElement<'_>) {
        const PROVIDING: [&str; 5] = ["Provider", "Router", "Theme", "Boundary", "Context"];
        let provides = |e: &JSXElement<'_>| PROVIDING.iter().any(|end| name_of(e).ends_with(end));
        let mut last = None;
        let mut at = element;
        while provides(at) && !at.children.is_empty() {
            last = Some(at);
            match children(at).as_slice() {
                [one] => at = *one,
                _ => break,
            }
        }
        if let Some(last) = last
            && let (Some(first), Some(end)) = (last.children.first(), last.children.last())
        {
            self.0.push(Span::new(first.span().start, end.span().end));
        }
    }
}

impl<'a> Visit<'a> for Returned {
    fn visit_return_statement(&mut self, returned: &ReturnStatement<'a>) {
        match returned.argument.as_ref().map(Expression::without_parentheses) {
            Some(Expression::JSXElement(element)) => self.look(element),
            // Several ways to return leave it open which one counts.
            _ => self.0.extend([Span::default(), Span::default()]),
        }
    }

    fn visit_function(&mut self, _: &Function<'a>, _: ScopeFlags) {}
    fn visit_arrow_function_expression(&mut self, _: &oxc::ast::ast::ArrowFunctionExpression<'a>) {}
}

#[cfg(test)]
mod tests {
    use super::*;

    fn codes(main: &str, app: &str) -> Vec<String> {
        let read = |file: &Path| (file == Path::new("/p/src/App.tsx")).then(|| app.to_owned());
        started(Path::new("/p/src/main.tsx"), main, &read).into_iter().map(|s| s.code).collect()
    }

    #[test]
    fn what_stands_around_the_root_is_kept() {
        let main = "import { createRoot } from 'react-dom/client'\nimport { Provider } from 'kiln-store'\nimport App from './App'\nimport { store } from './store'\nconst depth = 2\n\
                    const root = createRoot(document.getElementById('root')!)\nroot.render(<StrictMode><Provider store={store} depth={depth}><App /><Tools /></Provider></StrictMode>)";
        let [code] = &codes(main, "export default function App() { return <main /> }")[..] else { panic!("one") };
        assert!(
            code.contains("<StrictMode><Provider store={store} depth={depth}>{__props.children}<Tools /></Provider></StrictMode>"),
            "{code}"
        );
        assert!(code.contains("import { store } from \"/p/src/store\";") && code.contains("const depth = 2"), "{code}");
        assert!(!code.contains("createRoot") && !code.contains("App"), "{code}");
    }

    #[test]
    fn providers_of_the_root_component_are_kept_with_what_they_need() {
        let main = "import App from './App'\nrender(<App />, place)";
        let app = "import { Router } from 'kiln-router'\nimport { Shelf } from './Shelf'\nconst client = make()\nexport default function App() {\n  const [kiln] = useState(client)\n  return (<KilnProvider kiln={kiln}><Router><Shelf /><p /></Router></KilnProvider>)\n}";
        let [code] = &codes(main, app)[..] else { panic!("one") };
        assert!(code.contains("<KilnProvider kiln={kiln}><Router>{__props.children}</Router></KilnProvider>"), "{code}");
        assert!(
            code.contains("const [kiln] = useState(client)") && code.contains("const client = make()") && !code.contains("Shelf"),
            "{code}"
        );
        assert!(codes(main, "export default function App() { return <main><Shelf /></main> }").is_empty());
        assert!(codes("export const heat = 1", "").is_empty());
    }
}

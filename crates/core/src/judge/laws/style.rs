//! `style/…`: where the rules of a component's own stylesheets reach.

use std::sync::Arc;

use fidelon_dom::cascade::sheet::{self, Rule};
use fidelon_dom::{Document, NodeId, parse};

use super::{Checked, LawContext, LawOutcome, Runs, failed, mount};
use crate::finding::Failure;
use crate::observation::PhaseSnapshot;

/// What other components on the same page may be made of.
const BYSTANDERS: &str = "<h1>a</h1><h2>a</h2><h3>a</h3><p>a <a href=x>a</a> <b>a</b> <strong>a</strong> <em>a</em> <i>a</i> <small>a</small> <code>a</code> <span>a</span></p>\
    <ul><li>a</li></ul><ol><li>a</li></ol><dl><dt>a<dd>a</dl><table><caption>a</caption><thead><tr><th>a</th></tr></thead><tbody><tr><td>a</td></tr></tbody></table>\
    <form><fieldset><legend>a</legend><label>a <input></label><input type=checkbox><input type=radio><textarea></textarea><select><option>a</select><button>a</button></fieldset></form>\
    <section><header>a</header><article>a</article><aside>a</aside><footer>a</footer></section><nav>a</nav><main>a</main><figure><img src=x><figcaption>a</figcaption></figure>\
    <details><summary>a</summary></details><dialog open>a</dialog><output>a</output><progress></progress><meter></meter><svg></svg><div>a</div>";

/// What compilers give to the elements of a component with a scoped stylesheet: attributes in Vue and Angular, a class in Svelte.
const SCOPES: [&str; 4] = ["[data-v-", "[_ngcontent-", "[_nghost-", ".svelte-"];

/// A scoped stylesheet matches no node outside the component: not the plain elements of others, nor their elements with the same
/// classes.
pub(super) fn contained(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    for combination in context.some(6) {
        let observation = runs.play(&mount(combination))?;
        let Some(seen) = observation.mount().filter(|_| !failed(&observation)) else { continue };
        let rules = scoped_rules(&seen.tree);
        if rules.is_empty() {
            continue;
        }
        let others = others(seen);
        let leak = rules.iter().flat_map(|rule| rule.flats.iter().map(move |flat| (rule, flat))).find_map(|(rule, flat)| {
            let node = others.composed_descendants(others.body()?).find(|n| flat.selectors.matches(&others, *n, None))?;
            Some((rule.head.clone(), node))
        });
        let failure = leak.map(|(selector, node)| Failure {
            message: "a rule of its scoped stylesheet reaches elements of other components".into(),
            expected: Some("only its own elements".into()),
            actual: Some(format!("`{selector}` matches <{}>", others.local_name(node).unwrap_or_default())),
            ..Failure::default()
        });
        out.push(Checked { combination: combination.clone(), failure, events: Vec::new(), about: None });
    }
    Ok(out)
}

/// The rules of stylesheets that are scoped: those in which some rule is bound to a scope. What is said of the page as a whole, custom
/// properties mostly, is no style of elements.
fn scoped_rules(doc: &Document) -> Vec<Arc<Rule>> {
    let Some(head) = doc.head() else { return Vec::new() };
    let sheets = doc.children(head).filter(|n| doc.is_html(*n, "style")).map(|n| doc.text_content(n));
    let rules = sheets.filter(|text| SCOPES.iter().any(|scope| text.contains(scope))).flat_map(|text| sheet::parse(&text));
    rules.filter(|rule| !matches!(rule.head.trim(), ":root" | "html" | "body" | ":host")).collect()
}

/// A page of other components: plain elements, and the component's own without the marks of its scope.
fn others(seen: &PhaseSnapshot) -> Document {
    let mut doc = seen.tree.clone();
    let nodes: Vec<NodeId> = doc.composed_descendants(Document::ROOT).collect();
    for node in nodes {
        if let Some(element) = doc.element_mut(node) {
            element.attrs.retain(|a| !SCOPES.iter().any(|scope| scope.strip_prefix('[').is_some_and(|s| a.name.starts_with(s))));
            if let Some(class) = element.attrs.iter_mut().find(|a| &*a.name == "class") {
                class.value = class.value.split_whitespace().filter(|c| !c.starts_with("svelte-")).collect::<Vec<_>>().join(" ");
            }
        }
    }
    if let Some(body) = doc.body() {
        let bystanders = parse::fragment(&mut doc, body, BYSTANDERS);
        for node in doc.children(bystanders).collect::<Vec<_>>() {
            doc.append(body, node);
        }
    }
    doc
}

//! Values that were worked out before. A document is asked anew after every change, and most elements come to what they came to: the same
//! declarations under the same parent.

use std::cell::RefCell;
use std::hash::{Hash, Hasher};
use std::sync::Arc;

use rustc_hash::{FxHashMap, FxHasher};

use super::computed::{Computed, compute, dir_of};
use super::{Applied, Viewport};
use crate::tree::{Document, NodeId};

/// All that an element's values depend on.
#[derive(Clone, PartialEq)]
struct Given {
    applied: Vec<Applied>,
    dir: Option<Box<str>>,
    viewport: Viewport,
    is_outermost: bool,
}

struct Entry {
    /// Held, so that no other one comes to lie where it lies.
    parent: Option<Arc<Computed>>,
    given: Given,
    computed: Arc<Computed>,
}

/// The most entries of a thread; each has some kilobytes.
const MOST: usize = 1024;

thread_local! {
    static KNOWN: RefCell<FxHashMap<u64, Entry>> = RefCell::default();
}

/// What the properties of an element come to, by what applies to it.
pub(super) fn computed(doc: &Document, id: NodeId, parent: Option<&Arc<Computed>>, applied: Vec<Applied>) -> Arc<Computed> {
    // What scripts register is few and rare.
    if !doc.registered().is_empty() {
        return Arc::new(compute(doc, id, parent.map(Arc::as_ref), &applied));
    }
    let is_outermost = doc.node(id).parent == Some(Document::ROOT);
    let given = Given { applied, dir: dir_of(doc, id).map(Box::from), viewport: doc.viewport(), is_outermost };
    let key = key(parent, &given);
    let is_it = |e: &Entry| e.parent.as_ref().map(Arc::as_ptr) == parent.map(Arc::as_ptr) && e.given == given;
    if let Some(known) = KNOWN.with_borrow(|all| all.get(&key).filter(|e| is_it(e)).map(|e| e.computed.clone())) {
        return known;
    }
    let computed = Arc::new(compute(doc, id, parent.map(Arc::as_ref), &given.applied));
    KNOWN.with_borrow_mut(|all| {
        if all.len() >= MOST {
            all.clear();
        }
        all.insert(key, Entry { parent: parent.cloned(), given, computed: computed.clone() });
    });
    computed
}

fn key(parent: Option<&Arc<Computed>>, given: &Given) -> u64 {
    let mut hasher = FxHasher::default();
    parent.map(Arc::as_ptr).hash(&mut hasher);
    (given.is_outermost, &given.dir).hash(&mut hasher);
    [given.viewport.width, given.viewport.height].map(f64::to_bits).hash(&mut hasher);
    for (_, declared) in &given.applied {
        declared.name.hash(&mut hasher);
        declared.value.hash(&mut hasher);
    }
    hasher.finish()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::parse;

    #[test]
    fn what_is_the_same_is_worked_out_once_and_what_differs_is_not_taken_for_it() {
        let mut doc =
            parse::document("<style>p { color: red } .hot { --heat: 1 }</style><p>a</p><p>b</p><p dir=rtl>c</p><p class=hot>d</p><b>e</b>");
        let of = |doc: &Document, name: &str| -> Vec<Arc<Computed>> {
            doc.descendants(Document::ROOT).filter(|n| doc.is_html(*n, name)).map(|n| doc.computed(n).expect("on the page")).collect()
        };
        let before = of(&doc, "p");
        assert!(Arc::ptr_eq(&before[0], &before[1]));
        assert_eq!((before[0].get("direction"), before[2].get("direction")), ("ltr".to_owned(), "rtl".to_owned()));
        assert_eq!((before[0].get("--heat"), before[3].get("--heat")), (String::new(), "1".to_owned()));
        let last = doc.descendants(Document::ROOT).find(|n| doc.is_html(*n, "b")).expect("there");
        doc.element_mut(last).expect("an element").set_attr("style", "top: 1px");
        assert!(Arc::ptr_eq(&before[0], &of(&doc, "p")[0]), "a change elsewhere");
        assert_eq!(of(&doc, "b")[0].get("top"), "1px");
        doc.element_mut(last).expect("an element").set_attr("style", "top: 2vw");
        let wide = of(&doc, "b")[0].get("top");
        doc.set_viewport(640.0, 480.0);
        assert_ne!(of(&doc, "b")[0].get("top"), wide, "another window");
        assert_eq!(of(&doc, "p")[2].get("direction"), "rtl");
    }
}

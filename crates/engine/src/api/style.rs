//! Declaration lists as text in, text out: the `style` attribute stays the one place where inline style is kept.

use std::cell::RefCell;
use std::collections::VecDeque;

use fidelon_css::{canonical, interpolate, property};
use fidelon_dom::style::{self, Declaration};

use fidelon_dom::cascade::{Animated, Media, property_names, sheet};

use super::{Natives, reads, writes};

pub(crate) fn register(n: &mut Natives<'_, '_>) -> rquickjs::Result<()> {
    lists(n)?;
    sheets(n)?;
    animations(n)?;
    let host = n.host.clone();
    n.add("computed", move |node: u32, name: String| {
        let id = super::known(&host.doc.borrow(), node);
        super::layout::resolved(&host, id, &name)
    })?;
    n.add("computed_names", || property_names().map(str::to_owned).collect::<Vec<_>>())?;
    n.add("supports", |name: String, value: String| sheet::takes(&name, &value))?;
    n.add("supports_text", |condition: String| sheet::supports_text(&condition))?;
    let host = n.host.clone();
    n.add("media", move |query: String| Media::parse(&query).matches(host.doc.borrow().viewport()))?;
    let host = n.host.clone();
    n.add("register_property", move |name: String, initial: Option<String>, inherits: bool| {
        host.meter.weight().add(name.len() + initial.as_ref().map_or(0, String::len));
        host.doc.borrow_mut().register_property(&name, initial.as_deref(), inherits);
    })?;
    let host = n.host.clone();
    n.add("forget_property", move |name: String| host.doc.borrow_mut().forget_property(&name))?;
    let host = n.host.clone();
    n.add("set_viewport", move |width: f64, height: f64| host.doc.borrow_mut().set_viewport(width, height))
}

/// What animations make of styles: the values on the way, and where they are set.
fn animations(n: &mut Natives<'_, '_>) -> rquickjs::Result<()> {
    // The longhands that declarations set.
    n.add("longhands", |declarations: String| {
        sheet::declarations(&declarations).into_iter().map(|d| d.name.to_string()).collect::<Vec<_>>()
    })?;
    reads!(n,
        // A property without what animations say of it, where this is declared besides.
        "computed_with" => |doc, id, also: String, name: String| doc.computed_with(id, &also).map_or(String::new(), |c| c.get(&name));
        // `animation-name`, whether changes take time, and then what has changed: name, before, now, in turn. Nothing off the page.
        "restyled" => |doc, id| doc.restyled(id).map_or(Vec::new(), |r| {
            let first = [r.animations, if r.transitions { "transitions".into() } else { String::new() }];
            first.into_iter().chain(r.changed.into_iter().flatten()).collect::<Vec<String>>()
        });
        // Where each keyframe is, and its declarations, in turn.
        "keyframes" => |doc, id, name: String| doc.keyframes(id, &name).into_iter().flat_map(|(at, says)| [at, says]).collect::<Vec<_>>();
    );
    let host = n.host.clone();
    n.add("forget_animations", move || host.doc.borrow_mut().forget_animations())?;
    n.add("between", |name: String, from: String, to: String, at: f64| interpolate::between(&name, &from, &to, at))?;
    n.add("added", |name: String, under: String, value: String, accumulates: bool| interpolate::added(&name, &under, &value, accumulates))?;
    writes!(n,
        // Names and values in turn; those of transitions have a `!` before the name.
        "set_animated" => |doc, id, says: Vec<String>| {
            let says = says.chunks_exact(2).map(|pair| {
                let (name, transition) = pair[0].strip_prefix('!').map_or((&*pair[0], false), |name| (name, true));
                Animated { name: name.into(), value: pair[1].as_str().into(), transition }
            });
            doc.set_animated(id, says.collect());
        };
    );
    Ok(())
}

/// Stylesheets by their numbers.
fn sheets(n: &mut Natives<'_, '_>) -> rquickjs::Result<()> {
    reads!(n, "is_sheet" => |doc, id| doc.is_sheet(id););
    writes!(n,
        "sheet_of" => |doc, id| doc.sheet_of(id);
        "adopt" => |doc, id, sheets: String| doc.adopt_sheets(id, sheets.split_ascii_whitespace().filter_map(|n| n.parse().ok()).collect());
    );
    let host = n.host.clone();
    n.add("sheet_new", move || host.doc.borrow_mut().new_sheet())?;
    let host = n.host.clone();
    n.add("sheet_rules", move |of: usize| host.doc.borrow().sheet_rules(of).iter().map(|r| told(r)).collect::<Vec<_>>())?;
    let host = n.host.clone();
    n.add("sheet_rule", move |of: usize, at: usize| host.doc.borrow().sheet_rules(of).get(at).map(|r| told(r)))?;
    let host = n.host.clone();
    n.add("sheet_replace", move |of: usize, text: String| {
        host.meter.weight().add(text.len());
        host.doc.borrow_mut().replace_sheet(of, &text);
    })?;
    let host = n.host.clone();
    #[allow(clippy::cast_precision_loss, reason = "nobody changes a sheet 2^53 times")]
    n.add("sheet_turn", move |of: usize| host.doc.borrow().sheet_turn(of) as f64)?;
    let host = n.host.clone();
    n.add("sheet_insert", move |of: usize, text: String, at: usize| {
        host.meter.weight().add(text.len());
        host.doc.borrow_mut().insert_rule(of, &text, at).err().unwrap_or_default()
    })?;
    let host = n.host.clone();
    n.add("sheet_delete", move |of: usize, at: usize| host.doc.borrow_mut().delete_rule(of, at).err().unwrap_or_default())?;
    let host = n.host.clone();
    n.add("sheet_change", move |of: usize, at: usize, head: String, body: String| host.doc.borrow_mut().change_rule(of, at, &head, &body))?;
    let host = n.host.clone();
    n.add("sheet_disable", move |of: usize, off: bool| host.doc.borrow_mut().disable_sheet(of, off))?;
    let host = n.host.clone();
    n.add("inner_rules", move |of: usize, path: Vec<usize>| {
        let doc = host.doc.borrow();
        let mut rules = doc.sheet_rules(of);
        for at in path {
            let Some(rule) = rules.get(at) else { return Vec::new() };
            rules = &rule.inner;
        }
        rules.iter().map(|r| told(r)).collect::<Vec<_>>()
    })
}

/// What scripts see of a rule: its kind, head, body and text.
fn told(rule: &sheet::Rule) -> Vec<String> {
    vec![rule.kind.to_owned(), rule.head.clone(), rule.body.clone(), rule.text.clone()]
}

/// Lists that were read or written last: scripts set one property of a list after the other, and a list may have hundreds. A list can
/// have another order than its text would give, so a case must not find those of an earlier one.
#[derive(Default)]
pub(crate) struct Recent(RefCell<VecDeque<(String, Vec<Declaration>)>>);

impl Recent {
    const MOST: usize = 8;

    /// Lets go of all of them.
    pub(crate) fn forget(&self) {
        self.0.borrow_mut().clear();
    }

    /// Takes a list out, or reads it.
    fn take(&self, text: &str) -> Vec<Declaration> {
        let mut all = self.0.borrow_mut();
        let known = all.iter().position(|(known, _)| known == text).and_then(|at| all.remove(at));
        known.map_or_else(|| style::parse(text), |(_, list)| list)
    }

    /// Keeps what a text says.
    fn keep(&self, text: String, list: Vec<Declaration>) {
        let mut all = self.0.borrow_mut();
        all.truncate(Self::MOST - 1);
        all.push_front((text, list));
    }
}

fn lists(n: &mut Natives<'_, '_>) -> rquickjs::Result<()> {
    n.add("style_normal", |text: String| style::serialize(&style::parse(&text)))?;
    n.add("style_names", |text: String| style::parse(&text).into_iter().map(|d| d.name).collect::<Vec<_>>())?;
    let host = n.host.clone();
    n.add("style_get", move |text: String, name: String| {
        let list = host.lists.take(&text);
        let found = style::get(&list, property(&name));
        host.lists.keep(text, list);
        found.map_or_else(
            || vec![String::new(), String::new()],
            |d| vec![d.value, if d.important { "important".to_owned() } else { String::new() }],
        )
    })?;
    let host = n.host.clone();
    n.add("style_set", move |text: String, name: String, value: String, priority: String| {
        let name = property(&name).to_owned();
        // Of a name of the author's own, blanks are a value (css-variables-1 §2); only nothing at all takes it away.
        let is_blank = name.starts_with("--") && !value.is_empty() && value.trim().is_empty();
        let value = if is_blank { " " } else { value.trim() };
        // What is no value changes nothing, not even how the attribute is written.
        let wanted = if is_blank {
            Some(Some(String::new()))
        } else if value.is_empty() {
            Some(None)
        } else {
            canonical(&name, value).filter(|_| !value.contains(['!', ';'])).map(Some)
        };
        let Some(wanted) = wanted else { return text };
        let mut list = host.lists.take(&text);
        let changed = match wanted {
            Some(value) => style::set(&mut list, Declaration { value, name, important: priority.eq_ignore_ascii_case("important") }),
            None => style::remove(&mut list, &name),
        };
        // What changes nothing leaves the attribute as it was written.
        let next = if changed { style::serialize(&list) } else { text };
        host.lists.keep(next.clone(), list);
        next
    })
}

//! Declaration lists as text in, text out: the `style` attribute stays the one place where inline style is kept.

use fidelon_dom::css_value::{canonical, property};
use fidelon_dom::style::{self, Declaration};

use super::Natives;

pub(crate) fn register(n: &mut Natives<'_, '_>) -> rquickjs::Result<()> {
    n.add("style_normal", |text: String| style::serialize(&style::parse(&text)))?;
    n.add("style_names", |text: String| style::parse(&text).into_iter().map(|d| d.name).collect::<Vec<_>>())?;
    n.add("style_get", |text: String, name: String| {
        let found = style::get(&style::parse(&text), property(&name));
        found.map_or_else(
            || vec![String::new(), String::new()],
            |d| vec![d.value, if d.important { "important".to_owned() } else { String::new() }],
        )
    })?;
    n.add("style_set", |text: String, name: String, value: String, priority: String| {
        let mut list = style::parse(&text);
        let name = property(&name).to_owned();
        let value = value.trim();
        if value.is_empty() {
            style::remove(&mut list, &name);
        } else {
            // What is no value changes nothing, not even how the attribute is written.
            let Some(value) = canonical(&name, value).filter(|_| !value.contains(['!', ';'])) else { return text };
            let important = priority.eq_ignore_ascii_case("important");
            style::set(&mut list, Declaration { value, name, important });
        }
        style::serialize(&list)
    })
}

//! Plain HTML: what the outermost element of a page takes, as far as its `data-` attributes tell.

use std::cell::RefCell;
use std::path::Path;

use fidelon_core::naming::camel;
use fidelon_core::surface::{Framework, Prop, Surface, Type};
use html5ever::tokenizer::{BufferQueue, TagKind, Token, TokenSink, TokenSinkResult, Tokenizer, TokenizerOpts};

/// The surface of a page. Events and other attributes are for its contract to tell.
pub fn surface(path: &Path, shown: &str, source: &str) -> Surface {
    let name = path.file_stem().and_then(|s| s.to_str()).unwrap_or("Page");
    let mut out = Surface::new(name, shown, "default", Framework::Html);
    out.open = true;
    let tokenizer = Tokenizer::new(First::default(), TokenizerOpts::default());
    let input = BufferQueue::default();
    input.push_back(source.into());
    let _ = tokenizer.feed(&input);
    tokenizer.end();
    for (name, value) in tokenizer.sink.found.into_inner().unwrap_or_default() {
        out.props.push(Prop { default: Some(serde_json::Value::from(value).to_string()), ..Prop::new(name, Type::String) });
    }
    out
}

/// What `data-` attributes name, with their values.
type Data = Vec<(String, String)>;

/// Hears the tags of a page up to its first element of content.
#[derive(Default)]
struct First {
    found: RefCell<Option<Data>>,
}

impl TokenSink for First {
    type Handle = ();

    fn process_token(&self, token: Token, _: u64) -> TokenSinkResult<()> {
        const AROUND: [&str; 9] = ["html", "head", "body", "title", "meta", "link", "base", "script", "style"];
        let mut found = self.found.borrow_mut();
        if let Token::TagToken(tag) = token
            && tag.kind == TagKind::StartTag
            && found.is_none()
            && !AROUND.contains(&&*tag.name)
        {
            let data = tag.attrs.iter().filter_map(|a| Some((camel(a.name.local.strip_prefix("data-")?), a.value.to_string())));
            *found = Some(data.collect());
        }
        TokenSinkResult::Continue
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_outermost_element_tells() {
        let source = "<!doctype html><html><head><title>Kiln</title></head><body><div class=dial data-target=600 data-fire-at='noon'><p data-x=1></p></div></body></html>";
        let surface = surface(Path::new("dial.html"), "dial.html", source);
        let told: Vec<_> = surface.props.iter().map(|p| (p.name.as_str(), p.default.as_deref())).collect();
        assert_eq!(told, [("target", Some("\"600\"")), ("fireAt", Some("\"noon\""))]);
        assert!(surface.open);
    }
}

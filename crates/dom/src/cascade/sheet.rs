//! Stylesheets as lists of rules (CSSOM §6.4), and what each rule comes to: selectors with declarations under conditions and in a layer.
//! The grammar of rules and properties is read by `lightningcss`.

use std::sync::Arc;
use std::sync::atomic::{AtomicU32, Ordering};

use cssparser::{Parser, Token};
use lightningcss::declaration::DeclarationBlock;
use lightningcss::properties::custom::CustomPropertyName;
use lightningcss::properties::{Property, PropertyId};
use lightningcss::rules::supports::SupportsCondition;
use lightningcss::rules::{CssRule, CssRuleList};
use lightningcss::stylesheet::{ParserOptions, PrinterOptions, StyleSheet};
use lightningcss::targets::{Features, Targets};
use lightningcss::traits::ToCss;

use super::media::Media;
use crate::selector::Selectors;
use crate::style;
use fidelon_css::words;

/// A declaration of a longhand; of a shorthand while its value holds `var()`.
#[derive(Debug, Clone, PartialEq)]
pub struct Declared {
    /// The property.
    pub name: Arc<str>,
    /// The value.
    pub value: Arc<str>,
    /// `!important`.
    pub important: bool,
}

/// A style rule, free of what stood around it.
#[derive(Debug)]
pub struct Flat {
    /// Its selectors; those of the rule around it are in them.
    pub selectors: Selectors,
    /// What it declares, in order.
    pub declarations: Vec<Declared>,
    /// The names of its layers, outermost first; empty when it is in none.
    pub layer: Vec<Box<str>>,
    /// The media queries that must match.
    pub media: Vec<Arc<Media>>,
}

/// A rule of a sheet, as the CSSOM shows it, with the style rules in it.
#[derive(Debug)]
pub struct Rule {
    /// Which interface it has: `style`, `media`, `supports`, `keyframes`, …
    pub kind: &'static str,
    /// The selector, the condition or the name.
    pub head: String,
    /// The declarations.
    pub body: String,
    /// The rules in it.
    pub inner: Vec<Arc<Rule>>,
    /// All of it.
    pub text: String,
    /// Its style rules.
    pub flats: Vec<Arc<Flat>>,
    /// Layers in the order in which they are named first.
    pub layers: Vec<Vec<Box<str>>>,
}

fn css(of: &impl ToCss) -> String {
    of.to_css_string(PrinterOptions::default()).unwrap_or_default()
}

/// Conditions as most are written, `(min-width: 1px)`.
fn condition(of: &impl ToCss) -> String {
    let targets = Targets { include: Features::MediaRangeSyntax, ..Targets::default() };
    of.to_css_string(PrinterOptions { targets, ..PrinterOptions::default() }).unwrap_or_default()
}

fn options<'i>() -> ParserOptions<'i> {
    ParserOptions { error_recovery: true, ..ParserOptions::default() }
}

/// Brackets deeper in one another than any author writes them: such a text is refused before a reader goes down into it.
pub(crate) fn is_too_deep(text: &str) -> bool {
    const DEEPEST: usize = 96;
    let mut depth = 0_usize;
    text.bytes().any(|b| {
        match b {
            b'(' | b'[' | b'{' => depth += 1,
            b')' | b']' | b'}' => depth = depth.saturating_sub(1),
            _ => {}
        }
        depth > DEEPEST
    })
}

/// Reads a stylesheet; what is no rule is left out (CSS Syntax §5).
pub fn parse(text: &str) -> Vec<Arc<Rule>> {
    pieces(text).into_iter().filter(|p| !is_too_deep(p)).filter_map(one).map(Arc::new).collect()
}

/// A text cut after each of its top-level rules, so that what is shown of a rule is what was written.
fn pieces(text: &str) -> Vec<&str> {
    let mut parser = Parser::new(text);
    let mut out = Vec::new();
    let mut start = parser.position();
    let mut at_rule = false;
    let mut fresh = true;
    while let Ok(token) = parser.next_including_whitespace_and_comments().cloned() {
        match token {
            Token::WhiteSpace(_) | Token::Comment(_) | Token::CDO | Token::CDC if fresh => start = parser.position(),
            Token::CurlyBracketBlock => {
                let _ = parser.parse_nested_block(|p| {
                    while p.next_including_whitespace_and_comments().is_ok() {}
                    Ok::<_, cssparser::ParseError<()>>(())
                });
                out.push(parser.slice_from(start));
                (start, fresh, at_rule) = (parser.position(), true, false);
            }
            Token::Semicolon if at_rule => {
                out.push(parser.slice_from(start));
                (start, fresh, at_rule) = (parser.position(), true, false);
            }
            Token::AtKeyword(_) if fresh => (fresh, at_rule) = (false, true),
            _ => fresh = false,
        }
    }
    let rest = parser.slice_from(start).trim();
    if at_rule && !rest.is_empty() {
        out.push(rest);
    }
    out
}

fn one(piece: &str) -> Option<Rule> {
    let sheet = StyleSheet::parse(piece, options()).ok()?;
    let [of] = sheet.rules.0.as_slice() else { return None };
    let block = || piece.split_once('{').map_or("", |(_, b)| b.trim_end().strip_suffix('}').unwrap_or(b));
    let (kind, head) = match of {
        CssRule::Style(r) => ("style", css(&r.selectors)),
        CssRule::Media(r) => ("media", condition(&r.query)),
        CssRule::Supports(r) => ("supports", css(&r.condition)),
        CssRule::Container(r) => ("container", r.condition.as_ref().map(css).unwrap_or_default()),
        CssRule::LayerBlock(r) => ("layer", r.name.as_ref().map(css).unwrap_or_default()),
        CssRule::LayerStatement(r) => ("layer-statement", r.names.iter().map(css).collect::<Vec<_>>().join(", ")),
        CssRule::Keyframes(r) => ("keyframes", css(&r.name)),
        CssRule::FontFace(_) => ("font-face", String::new()),
        CssRule::Import(r) => ("import", r.url.to_string()),
        CssRule::Property(r) => ("property", r.name.as_ref().to_owned()),
        CssRule::Ignored => return None,
        _ => ("other", String::new()),
    };
    let mut found = Found::default();
    found.rule(of, &Around::default());
    let (body, inner) = match of {
        CssRule::Style(r) => (declared_as_written(block()), if r.rules.0.is_empty() { Vec::new() } else { nested(block()) }),
        CssRule::Media(_) | CssRule::Supports(_) | CssRule::Container(_) | CssRule::LayerBlock(_) => (String::new(), parse(block())),
        CssRule::Keyframes(_) => (String::new(), pieces(block()).into_iter().filter_map(keyframe).collect()),
        _ => (String::new(), Vec::new()),
    };
    let text = match kind {
        "style" => style_text(&head, &body, &inner),
        "media" | "supports" | "container" | "layer" => {
            let name = if head.is_empty() { format!("@{kind}") } else { format!("@{kind} {head}") };
            lines(&name, "", &inner)
        }
        _ => condition(of),
    };
    Some(Rule { kind, head, body, inner, text, flats: found.flats, layers: found.layers })
}

/// A rule of `@keyframes` (CSS Animations §3): where it is on the way, and what is declared there.
fn keyframe(piece: &str) -> Option<Arc<Rule>> {
    let (head, block) = piece.split_once('{')?;
    let (head, body) = (head.trim().to_ascii_lowercase(), declared_as_written(block.trim_end().strip_suffix('}').unwrap_or(block)));
    let text = style_text(&head, &body, &[]);
    Some(Arc::new(Rule { kind: "keyframe", head, body, inner: Vec::new(), text, flats: Vec::new(), layers: Vec::new() }))
}

/// The declarations of a block in the form of the CSSOM; those that the grammar refuses are not there.
fn declared_as_written(block: &str) -> String {
    let kept: Vec<_> = style::parse(block).into_iter().filter(|d| takes(&d.name, &d.value)).collect();
    style::serialize(&kept)
}

/// The rules in a style rule.
fn nested(block: &str) -> Vec<Arc<Rule>> {
    // Declarations before a rule would be taken for its selector: they end with a semicolon or at the start.
    let mut out = Vec::new();
    for piece in pieces(block) {
        let open = piece.find('{').unwrap_or(piece.len());
        let rule = piece[piece[..open].rfind(';').map_or(0, |at| at + 1)..].trim();
        let rule = match rule.split_once('{') {
            Some((selectors, block)) if !rule.starts_with('@') => format!("{} {{{block}", related(selectors)),
            _ => rule.to_owned(),
        };
        out.extend(one(&rule).map(|shown| Arc::new(Rule { flats: Vec::new(), ..shown })));
    }
    out
}

/// Selectors in a rule go on from the rule around it where they do not say how (CSS Nesting §3.1).
fn related(selectors: &str) -> String {
    let each = fidelon_css::split(selectors, ',').into_iter();
    each.map(|s| if s.contains('&') { s.to_owned() } else { format!("& {s}") }).collect::<Vec<_>>().join(", ")
}

/// A style rule as text (CSSOM §6.4.3).
pub(crate) fn style_text(head: &str, body: &str, inner: &[Arc<Rule>]) -> String {
    match (body.is_empty(), inner.is_empty()) {
        (true, true) => format!("{head} {{ }}"),
        (false, true) => format!("{head} {{ {body} }}"),
        _ => lines(head, body, inner),
    }
}

/// A rule with others in it, one a line.
fn lines(head: &str, body: &str, inner: &[Arc<Rule>]) -> String {
    let mut out = format!("{head} {{\n");
    if !body.is_empty() {
        out.push_str(&format!("  {body}\n"));
    }
    for rule in inner {
        out.push_str(&format!("  {}\n", rule.text.replace('\n', "\n  ")));
    }
    out + "}"
}

/// What stands around a rule.
#[derive(Debug, Clone, Default)]
struct Around {
    parent: Option<Selectors>,
    layer: Vec<Box<str>>,
    media: Vec<Arc<Media>>,
}

#[derive(Debug, Default)]
struct Found {
    flats: Vec<Arc<Flat>>,
    layers: Vec<Vec<Box<str>>>,
}

/// Layers without a name are all different ones.
static NAMELESS: AtomicU32 = AtomicU32::new(0);

impl Found {
    fn rules(&mut self, of: &CssRuleList<'_>, around: &Around) {
        for rule in &of.0 {
            self.rule(rule, around);
        }
    }

    fn add(&mut self, selectors: Selectors, declarations: &DeclarationBlock<'_>, around: &Around) {
        let declarations = declared(declarations);
        if !declarations.is_empty() {
            self.flats.push(Arc::new(Flat { selectors, declarations, layer: around.layer.clone(), media: around.media.clone() }));
        }
    }

    fn layer(&mut self, name: &[Box<str>]) {
        // A layer stands where it, or one around it, was named first.
        for depth in 1..=name.len() {
            if !self.layers.iter().any(|l| l.as_slice() == &name[..depth]) {
                self.layers.push(name[..depth].to_vec());
            }
        }
    }

    fn rule(&mut self, of: &CssRule<'_>, around: &Around) {
        match of {
            CssRule::Style(r) => {
                let text = css(&r.selectors);
                let parsed = match &around.parent {
                    Some(parent) => Selectors::parse_nested(&text, parent),
                    None => Selectors::parse(&text),
                };
                let Ok(selectors) = parsed else { return };
                self.add(selectors.clone(), &r.declarations, around);
                if !r.rules.0.is_empty() {
                    self.rules(&r.rules, &Around { parent: Some(selectors), ..around.clone() });
                }
            }
            CssRule::NestedDeclarations(r) => {
                if let Some(parent) = &around.parent {
                    self.add(parent.clone(), &r.declarations, around);
                }
            }
            CssRule::Nesting(r) => self.rule(&CssRule::Style(r.style.clone()), around),
            CssRule::Media(r) => {
                let mut inner = around.clone();
                inner.media.push(Arc::new(Media::of(&r.query)));
                self.rules(&r.rules, &inner);
            }
            CssRule::Supports(r) if supports(&r.condition) => self.rules(&r.rules, around),
            CssRule::LayerStatement(r) => {
                for name in &r.names {
                    let path: Vec<Box<str>> = around.layer.iter().cloned().chain(name.0.iter().map(|n| Box::from(&**n))).collect();
                    self.layer(&path);
                }
            }
            CssRule::LayerBlock(r) => {
                let nameless = || vec![Box::from(format!("({})", NAMELESS.fetch_add(1, Ordering::Relaxed)))];
                let own: Vec<Box<str>> = r.name.as_ref().map_or_else(nameless, |n| n.0.iter().map(|n| Box::from(&**n)).collect());
                let layer: Vec<Box<str>> = around.layer.iter().cloned().chain(own).collect();
                self.layer(&layer);
                self.rules(&r.rules, &Around { layer, ..around.clone() });
            }
            // The size of a container takes layout: its rules do not count (as for no container).
            _ => {}
        }
    }
}

/// The declarations of a block, shorthands taken apart.
fn declared(of: &DeclarationBlock<'_>) -> Vec<Declared> {
    let mut out = Vec::new();
    for (property, important) in of.iter() {
        expand(property, important, &mut out);
    }
    out
}

/// The declarations that a text of declarations comes to, as in a `style` attribute.
pub fn declarations(text: &str) -> Vec<Declared> {
    if is_too_deep(text) {
        return Vec::new();
    }
    DeclarationBlock::parse_string(text, options()).map(|b| declared(&b)).unwrap_or_default()
}

/// What a property with this value comes to: its longhands. None when it is no value of it.
pub fn longhands(name: &str, value: &str, important: bool) -> Option<Vec<Declared>> {
    if is_too_deep(value) {
        return None;
    }
    let property = Property::parse_string(PropertyId::from(name), value, ParserOptions::default()).ok()?;
    let mut out = Vec::new();
    expand(&property, important, &mut out);
    Some(out)
}

pub use fidelon_css::words::is_wide;

/// Whether a browser would keep it: the reader takes what it does not know too.
fn is_kept(property: &Property<'_>) -> bool {
    let value = || property.value_to_css_string(PrinterOptions::default()).unwrap_or_default();
    let takes = |name: &str, value: &str| words::takes(name, &value.to_ascii_lowercase());
    match property {
        Property::Custom(custom) => match &custom.name {
            CustomPropertyName::Custom(_) => true,
            CustomPropertyName::Unknown(name) => {
                let value = value();
                if words::is_word(&value) { takes(name.as_ref(), &value) } else { words::is_known(name.as_ref()) }
            }
        },
        Property::Unparsed(unparsed) => {
            let value = value();
            if words::is_word(&value) {
                return takes(unparsed.property_id.name(), &value);
            }
            // A function may be newer than the reader is; several words that it cannot place are none.
            value.contains("var(") || value.contains("env(") || !value.trim().contains(' ')
        }
        _ => true,
    }
}

/// The two longhands of `white-space` (CSS Text 4 §3).
fn white_space(value: &str) -> Option<[&'static str; 2]> {
    Some(match value {
        "normal" => ["collapse", "wrap"],
        "nowrap" => ["collapse", "nowrap"],
        "pre" => ["preserve", "nowrap"],
        "pre-wrap" => ["preserve", "wrap"],
        "pre-line" => ["preserve-breaks", "wrap"],
        "break-spaces" => ["break-spaces", "wrap"],
        _ => return None,
    })
}

fn expand(property: &Property<'_>, important: bool, out: &mut Vec<Declared>) {
    if !is_kept(property) {
        return;
    }
    let mut push = |name: &str, value: String| out.push(Declared { name: name.into(), value: value.into(), important });
    match property {
        Property::Custom(custom) => {
            let name = match &custom.name {
                CustomPropertyName::Custom(name) => name.as_ref(),
                CustomPropertyName::Unknown(name) => name.as_ref(),
            };
            push(name, property.value_to_css_string(PrinterOptions::default()).unwrap_or_default());
        }
        Property::All(_) => push("all", property.value_to_css_string(PrinterOptions::default()).unwrap_or_default()),
        Property::Unparsed(unparsed) => {
            let value = property.value_to_css_string(PrinterOptions::default()).unwrap_or_default();
            match unparsed.property_id.longhands() {
                Some(parts) if is_wide(&value) => parts.iter().for_each(|p| push(p.name(), value.clone())),
                _ => push(unparsed.property_id.name(), value),
            }
        }
        _ => match property.property_id().longhands() {
            Some(parts) => {
                for part in parts {
                    if let Some(longhand) = property.longhand(&part) {
                        push(part.name(), longhand.value_to_css_string(PrinterOptions::default()).unwrap_or_default());
                    }
                }
            }
            None if property.property_id().name() == "white-space" => {
                let value = property.value_to_css_string(PrinterOptions::default()).unwrap_or_default();
                for (name, value) in ["white-space-collapse", "text-wrap-mode"].into_iter().zip(white_space(&value).into_iter().flatten()) {
                    push(name, value.to_owned());
                }
            }
            None => push(property.property_id().name(), property.value_to_css_string(PrinterOptions::default()).unwrap_or_default()),
        },
    }
}

/// `@supports` (CSS Conditional 3 §6).
fn supports(condition: &SupportsCondition<'_>) -> bool {
    match condition {
        SupportsCondition::Not(inner) => !supports(inner),
        SupportsCondition::And(all) => all.iter().all(supports),
        SupportsCondition::Or(any) => any.iter().any(supports),
        SupportsCondition::Declaration { property_id, value } => takes(property_id.name(), value),
        SupportsCondition::Selector(text) => Selectors::parse(text).is_ok(),
        SupportsCondition::Unknown(_) => false,
    }
}

/// Whether a property is known and takes the value.
pub fn takes(name: &str, value: &str) -> bool {
    if name.starts_with("--") || is_too_deep(value) {
        return name.starts_with("--");
    }
    if words::is_word(value.trim()) {
        return words::takes(name, &value.trim().to_ascii_lowercase());
    }
    match Property::parse_string(PropertyId::from(name), value, ParserOptions::default()) {
        Ok(Property::Custom(_)) | Err(_) => {
            words::is_known(name) && !value.trim().is_empty() && fidelon_css::canonical(name, value).is_some() && is_plain(value)
        }
        Ok(Property::Unparsed(_)) => value.contains("var(") || value.contains("env(") || is_wide(value),
        Ok(_) => true,
    }
}

/// A value of a property that the reader does not know in detail: a few words.
fn is_plain(value: &str) -> bool {
    value.split_ascii_whitespace().all(|w| w.chars().all(|c| c.is_ascii_alphanumeric() || "-.%#".contains(c)))
}

/// `CSS.supports` of a condition in one text.
pub fn supports_text(condition: &str) -> bool {
    if is_too_deep(condition) {
        return false;
    }
    let rule = |c: &str| format!("@supports {c} {{}}");
    [rule(condition), rule(&format!("({condition})"))].iter().any(|text| match StyleSheet::parse(text, ParserOptions::default()) {
        Ok(sheet) => matches!(sheet.rules.0.as_slice(), [CssRule::Supports(r)] if supports(&r.condition)),
        Err(_) => false,
    })
}

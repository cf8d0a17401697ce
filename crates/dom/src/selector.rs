//! CSS selectors over a [`Document`] (Selectors 4), parsed and matched by the `selectors` crate.

use std::borrow::Borrow;
use std::fmt;

use cssparser::{ParseError, Parser, ToCss};
use precomputed_hash::PrecomputedHash;
use selectors::attr::{AttrSelectorOperation, CaseSensitivity, NamespaceConstraint};
use selectors::bloom::BloomFilter;
use selectors::context::{MatchingContext, MatchingForInvalidation, MatchingMode, NeedsSelectorFlags, QuirksMode, SelectorCaches};
use selectors::matching::{ElementSelectorFlags, matches_selector, matches_selector_list};
use selectors::parser::{Component, ParseRelative, Selector, SelectorImpl, SelectorList, SelectorParseErrorKind};
use selectors::{Element as MatchElement, OpaqueElement};

use crate::element::Namespace;
use crate::pseudo::State;
use crate::tree::{Document, NodeData, NodeId};

/// A selector that could not be read.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct SelectorError {
    /// What is wrong, in words.
    pub message: String,
    /// Where, in UTF-16 units from the start (as cssparser counts columns), 0-based.
    pub column: usize,
}

impl fmt::Display for SelectorError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.message)
    }
}

impl std::error::Error for SelectorError {}

/// A parsed selector list.
#[derive(Debug, Clone)]
pub struct Selectors(SelectorList<Css>);

impl Selectors {
    /// Reads a selector list.
    ///
    /// # Errors
    /// [`SelectorError`] tells what is wrong and where.
    pub fn parse(text: &str) -> Result<Self, SelectorError> {
        let mut parser = Parser::new(text);
        let parsed = SelectorList::parse(&Grammar, &mut parser, ParseRelative::No);
        parsed.map(Self).map_err(|e| {
            // The parser does not tell where the faulty token began, only how far it read.
            let column = (parser.current_source_location().column as usize).saturating_sub(1).min(text.encode_utf16().count());
            SelectorError { message: describe(&e.kind), column }
        })
    }

    /// Reads the selectors of a rule in another (CSS Nesting §3): `&` is what `parent` selects.
    ///
    /// # Errors
    /// As [`Selectors::parse`].
    pub(crate) fn parse_nested(text: &str, parent: &Self) -> Result<Self, SelectorError> {
        let mut parser = Parser::new(text);
        let parsed = SelectorList::parse(&Grammar, &mut parser, ParseRelative::ForNesting);
        let list = parsed.map_err(|e| SelectorError { message: describe(&e.kind), column: 0 })?;
        Ok(Self(list.replace_parent_selector(&parent.0)))
    }

    /// The selectors of the list, one by one.
    pub(crate) fn each(&self) -> impl Iterator<Item = &Selector<Css>> {
        self.0.slice().iter()
    }

    /// True when the element matches. `scope` is what `:scope` means.
    pub fn matches(&self, doc: &Document, id: NodeId, scope: Option<NodeId>) -> bool {
        if doc.element(id).is_none() {
            return false;
        }
        let mut caches = SelectorCaches::default();
        let mut context = MatchingContext::new(
            MatchingMode::Normal,
            None,
            &mut caches,
            QuirksMode::NoQuirks,
            NeedsSelectorFlags::No,
            MatchingForInvalidation::No,
        );
        context.scope_element = scope.filter(|s| doc.element(*s).is_some()).map(|s| Handle { doc, id: s }.opaque());
        matches_selector_list(&self.0, Handle { doc, id }, &mut context)
    }

    /// All elements below `root` that match, in tree order.
    pub fn query_all(&self, doc: &Document, root: NodeId) -> Vec<NodeId> {
        doc.descendants(root).filter(|n| self.matches(doc, *n, Some(root))).collect()
    }

    /// The first element below `root` that matches.
    pub fn query(&self, doc: &Document, root: NodeId) -> Option<NodeId> {
        doc.descendants(root).find(|n| self.matches(doc, *n, Some(root)))
    }
}

fn describe(kind: &cssparser::ParseErrorKind<SelectorFault>) -> String {
    use cssparser::{BasicParseErrorKind as Basic, ParseErrorKind as Kind};
    match kind {
        Kind::Basic(Basic::UnexpectedToken) => "this is not expected here".into(),
        Kind::Basic(Basic::EndOfInput) => "the selector ends too soon".into(),
        Kind::Basic(_) => "this is not a selector".into(),
        Kind::Custom(fault) => fault.0.clone(),
    }
}

#[derive(Debug, Clone)]
struct SelectorFault(String);

impl From<SelectorParseErrorKind> for SelectorFault {
    fn from(kind: SelectorParseErrorKind) -> Self {
        use SelectorParseErrorKind as K;
        Self(match kind {
            K::EmptySelector => "the selector is empty".into(),
            K::DanglingCombinator => "the selector ends with a combinator".into(),
            K::UnsupportedPseudoClassOrElement => "this pseudo-class or pseudo-element is not known".into(),
            K::ClassNeedsIdent => "a class name is missing after `.`".into(),
            K::NoIdentForPseudo | K::PseudoElementExpectedIdent => "a name is missing after `:`".into(),
            K::ExpectedNamespace => "namespace prefixes are not declared here".into(),
            K::BadValueInAttr | K::UnexpectedTokenInAttributeSelector | K::InvalidQualNameInAttr => {
                "this attribute selector is not valid: write [name], [name=value] or [name=\"a value\"]".into()
            }
            other => format!("this is not a selector ({other:?})"),
        })
    }
}

/// What the rightmost part of a selector asks for: where a rule is filed, so that few are tried for an element.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) enum Key {
    Id(Box<str>),
    Class(Box<str>),
    Name(Box<str>),
    Any,
}

/// Where a rule's selector is matched from.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Reach {
    /// Elements of the rule's own tree.
    Own,
    /// The host of the rule's tree.
    Host,
    /// What is slotted into the rule's tree.
    Slotted,
    /// A part of a shadow tree that the rule's tree holds.
    Part,
}

/// The key of a selector, and what it is about. None for what is about a pseudo-element.
pub(crate) fn filed(selector: &Selector<Css>) -> Option<(Key, Reach)> {
    let mut key = Key::Any;
    let mut reach = Reach::Own;
    for part in selector.iter() {
        match part {
            Component::ID(id) => key = Key::Id(id.0.clone()),
            Component::Class(class) if !matches!(key, Key::Id(_)) => key = Key::Class(class.0.clone()),
            Component::LocalName(name) if key == Key::Any => key = Key::Name(name.lower_name.0.clone()),
            Component::Host(_) => reach = Reach::Host,
            Component::Slotted(_) => reach = Reach::Slotted,
            Component::Part(_) => reach = Reach::Part,
            Component::PseudoElement(_) => return None,
            _ => {}
        }
    }
    Some((if reach == Reach::Own { key } else { Key::Any }, reach))
}

/// Whether a selector of a stylesheet matches; `host` is the host of the tree that the stylesheet belongs to.
pub(crate) fn selects(selector: &Selector<Css>, doc: &Document, id: NodeId, host: Option<NodeId>) -> bool {
    let mut caches = SelectorCaches::default();
    let mut context = MatchingContext::new(
        MatchingMode::Normal,
        None,
        &mut caches,
        QuirksMode::NoQuirks,
        NeedsSelectorFlags::No,
        MatchingForInvalidation::No,
    );
    context
        .with_shadow_host(host.map(|h| Handle { doc, id: h }), |context| matches_selector(selector, 0, None, Handle { doc, id }, context))
}

#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Css;

#[derive(Debug, Clone, PartialEq, Eq, Hash, Default)]
pub(crate) struct Atom(Box<str>, u32);

impl From<&str> for Atom {
    fn from(s: &str) -> Self {
        // FNV-1a: stable from run to run, unlike the standard library's hasher.
        let hash = s.bytes().fold(0x811c_9dc5u32, |h, b| (h ^ u32::from(b)).wrapping_mul(0x0100_0193));
        Self(s.into(), hash)
    }
}
impl AsRef<str> for Atom {
    fn as_ref(&self) -> &str {
        &self.0
    }
}
impl Borrow<str> for Atom {
    fn borrow(&self) -> &str {
        &self.0
    }
}
impl PrecomputedHash for Atom {
    fn precomputed_hash(&self) -> u32 {
        self.1
    }
}
impl ToCss for Atom {
    fn to_css<W: fmt::Write>(&self, dest: &mut W) -> fmt::Result {
        cssparser::serialize_identifier(&self.0, dest)
    }
}

/// Pseudo-elements parse, as `querySelector` demands, and match no element.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct PseudoElement(Box<str>);

impl selectors::parser::PseudoElement for PseudoElement {}
impl ToCss for PseudoElement {
    fn to_css<W: fmt::Write>(&self, dest: &mut W) -> fmt::Result {
        write!(dest, "::{}", self.0)
    }
}

impl SelectorImpl for Css {
    type ExtraMatchingData<'a> = ();
    type AttrValue = Atom;
    type Identifier = Atom;
    type LocalName = Atom;
    type NamespaceUrl = Atom;
    type NamespacePrefix = Atom;
    type BorrowedNamespaceUrl = str;
    type BorrowedLocalName = str;
    type NonTSPseudoClass = State;
    type PseudoElement = PseudoElement;
}

struct Grammar;

impl<'i> selectors::parser::Parser<'i> for Grammar {
    type Impl = Css;
    type Error = SelectorFault;

    fn parse_is_and_where(&self) -> bool {
        true
    }
    fn parse_has(&self) -> bool {
        true
    }
    fn parse_nth_child_of(&self) -> bool {
        true
    }
    fn parse_parent_selector(&self) -> bool {
        true
    }
    fn parse_host(&self) -> bool {
        true
    }
    fn parse_slotted(&self) -> bool {
        true
    }
    fn parse_part(&self) -> bool {
        true
    }
    fn parse_non_ts_pseudo_class(&self, name: &str) -> Result<State, ParseError<SelectorFault>> {
        State::named(&name.to_ascii_lowercase())
            .ok_or_else(|| ParseError::custom(SelectorFault(format!("`:{name}` is not a known pseudo-class"))))
    }
    fn parse_non_ts_functional_pseudo_class(
        &self,
        name: &str,
        parser: &mut Parser<'i>,
        _after_part: bool,
    ) -> Result<State, ParseError<SelectorFault>> {
        let unknown = || ParseError::custom(SelectorFault(format!("`:{name}()` is not a known pseudo-class")));
        if name.eq_ignore_ascii_case("state") {
            return parser.expect_ident().map(|state| State::Custom((&**state).into())).map_err(|_| unknown());
        }
        if name.eq_ignore_ascii_case("lang") {
            let ranges =
                parser.parse_comma_separated(|p| p.expect_ident_or_string().map(|range| Box::from(&**range)).map_err(|_| unknown()))?;
            return Ok(State::Language(ranges));
        }
        if !name.eq_ignore_ascii_case("dir") {
            return Err(unknown());
        }
        let said = parser.expect_ident().map_err(|_| unknown())?;
        // Another word is no error, and matches nothing (Selectors 4 §7.1).
        Ok(if said.eq_ignore_ascii_case("ltr") {
            State::FromLeft
        } else if said.eq_ignore_ascii_case("rtl") {
            State::FromRight
        } else {
            State::Never
        })
    }
    fn parse_pseudo_element(&self, name: &str) -> Result<PseudoElement, ParseError<SelectorFault>> {
        match name.to_ascii_lowercase().as_str() {
            known @ ("before"
            | "after"
            | "placeholder"
            | "marker"
            | "selection"
            | "first-line"
            | "first-letter"
            | "backdrop"
            | "cue"
            | "details-content"
            | "file-selector-button"
            | "grammar-error"
            | "spelling-error"
            | "target-text"
            | "view-transition"
            | "search-text"
            | "checkmark"
            | "picker-icon"
            | "scroll-marker"
            | "scroll-marker-group"
            | "column") => Ok(PseudoElement(known.into())),
            // A browser takes any name of its own engine's (Selectors 4 §3.9).
            own if own.starts_with("-webkit-") => Ok(PseudoElement(own.into())),
            _ => Err(ParseError::custom(SelectorFault(format!("`::{name}` is not a known pseudo-element")))),
        }
    }
}

#[derive(Clone, Copy)]
struct Handle<'a> {
    doc: &'a Document,
    id: NodeId,
}

impl fmt::Debug for Handle<'_> {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        write!(f, "{:?}", self.id)
    }
}

impl<'a> Handle<'a> {
    fn at(self, id: NodeId) -> Option<Self> {
        self.doc.element(id).map(|_| Self { doc: self.doc, id })
    }
    fn element(self) -> &'a crate::Element {
        self.doc.element(self.id).expect("handles are made for elements only")
    }
}

impl MatchElement for Handle<'_> {
    type Impl = Css;

    fn opaque(&self) -> OpaqueElement {
        OpaqueElement::new(self.doc.node(self.id))
    }
    fn parent_element(&self) -> Option<Self> {
        self.doc.node(self.id).parent.and_then(|p| self.at(p))
    }
    fn parent_node_is_shadow_root(&self) -> bool {
        self.doc.node(self.id).parent.is_some_and(|p| self.doc.host_of(p).is_some())
    }
    fn containing_shadow_host(&self) -> Option<Self> {
        self.doc.host_of(self.doc.root_of(self.id)).and_then(|host| self.at(host))
    }
    fn assigned_slot(&self) -> Option<Self> {
        self.doc.assigned_slot(self.id).and_then(|slot| self.at(slot))
    }
    fn is_pseudo_element(&self) -> bool {
        false
    }
    fn prev_sibling_element(&self) -> Option<Self> {
        std::iter::successors(self.doc.node(self.id).prev, |n| self.doc.node(*n).prev).find_map(|n| self.at(n))
    }
    fn next_sibling_element(&self) -> Option<Self> {
        std::iter::successors(self.doc.node(self.id).next, |n| self.doc.node(*n).next).find_map(|n| self.at(n))
    }
    fn first_element_child(&self) -> Option<Self> {
        self.doc.children(self.id).find_map(|n| self.at(n))
    }
    fn is_html_element_in_html_document(&self) -> bool {
        self.element().namespace == Namespace::Html
    }
    fn has_local_name(&self, local_name: &str) -> bool {
        &*self.element().local == local_name
    }
    fn has_namespace(&self, ns: &str) -> bool {
        self.element().namespace.uri() == ns
    }
    fn is_same_type(&self, other: &Self) -> bool {
        let (a, b) = (self.element(), other.element());
        a.local == b.local && a.namespace == b.namespace
    }
    fn attr_matches(&self, ns: &NamespaceConstraint<&Atom>, local_name: &Atom, operation: &AttrSelectorOperation<&Atom>) -> bool {
        self.element().attrs.iter().any(|attr| {
            let namespace_fits = match ns {
                NamespaceConstraint::Any => true,
                NamespaceConstraint::Specific(uri) => attr.namespace.as_deref().unwrap_or("") == &*uri.0,
            };
            namespace_fits && attr.local_name() == &*local_name.0 && operation.eval_str(&attr.value)
        })
    }
    fn match_non_ts_pseudo_class(&self, pc: &State, _: &mut MatchingContext<'_, Css>) -> bool {
        pc.holds(self.doc, self.id)
    }
    fn match_pseudo_element(&self, _: &PseudoElement, _: &mut MatchingContext<'_, Css>) -> bool {
        false
    }
    fn apply_selector_flags(&self, _: ElementSelectorFlags) {}
    fn is_link(&self) -> bool {
        State::Link.holds(self.doc, self.id)
    }
    fn is_html_slot_element(&self) -> bool {
        self.element().is_html("slot")
    }
    fn has_id(&self, id: &Atom, case: CaseSensitivity) -> bool {
        self.element().attr("id").is_some_and(|v| case.eq(v.as_bytes(), id.0.as_bytes()))
    }
    fn has_class(&self, name: &Atom, case: CaseSensitivity) -> bool {
        self.element().classes().any(|c| case.eq(c.as_bytes(), name.0.as_bytes()))
    }
    fn has_custom_state(&self, _: &Atom) -> bool {
        false
    }
    fn imported_part(&self, _: &Atom) -> Option<Atom> {
        None
    }
    fn is_part(&self, name: &Atom) -> bool {
        self.element().attr("part").is_some_and(|parts| parts.split_ascii_whitespace().any(|p| p == &*name.0))
    }
    fn is_empty(&self) -> bool {
        self.doc.children(self.id).all(|c| match &self.doc.node(c).data {
            NodeData::Element(_) => false,
            NodeData::Text(text) => text.is_empty(),
            _ => true,
        })
    }
    fn is_root(&self) -> bool {
        self.doc.node(self.id).parent == Some(Document::ROOT)
    }
    fn add_element_unique_hashes(&self, _: &mut BloomFilter) -> bool {
        false
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::parse;

    #[test]
    fn selectors_find_what_the_standard_says() {
        let doc = parse::document(
            r#"<div id=kiln class="a B"><input type=number required><input type=checkbox checked disabled>
               <ul><li class=x>1<li>2<li class=x>3</ul><p></p><a href=#>l</a><svg><path d=M0></svg></div>"#,
        );
        for (selector, count) in [
            ("#kiln", 1),
            (".a.B", 1),
            (".b", 0),
            ("input[type=number]", 1),
            ("INPUT", 2),
            ("li:nth-child(odd)", 2),
            ("li.x ~ li", 2),
            ("li + li", 2),
            (":checked", 1),
            (":disabled", 1),
            ("input:enabled", 1),
            (":required", 1),
            ("p:empty", 1),
            ("div:has(> ul)", 1),
            ("li:not(.x)", 1),
            (":is(p, a)", 2),
            ("a:link", 1),
            ("svg > path", 1),
            ("p::before", 0),
            ("[class~=x]", 2),
            ("[id^=\"ki\" i]", 1),
            ("li:last-of-type", 1),
            ("html:root", 1),
            ("a:hover", 0),
            (":invalid", 1),
            (":valid", 0),
            ("input:in-range", 0),
            (":default", 1),
            (":indeterminate", 0),
            ("p::-webkit-scrollbar", 0),
        ] {
            let found = Selectors::parse(selector).unwrap_or_else(|e| panic!("{selector}: {e}"));
            assert_eq!(found.query_all(&doc, Document::ROOT).len(), count, "{selector}");
        }
    }

    #[test]
    fn languages_are_found_by_ranges() {
        let doc = parse::document("<p lang=de-CH-1996><b></b></p><p lang=de-x-ch></p><p lang=''></p><p lang=fr></p>");
        for (selector, count) in [
            (":lang(de)", 3),
            (":lang('de-ch')", 2),
            (":lang('*-1996')", 2),
            (":lang(fr, 'de-x')", 2),
            (":lang(\\*-ch)", 2),
            ("p:lang('')", 1),
            ("p:not(:lang(de))", 2),
        ] {
            let found = Selectors::parse(selector).unwrap_or_else(|e| panic!("{selector}: {e}"));
            assert_eq!(found.query_all(&doc, Document::ROOT).len(), count, "{selector}");
        }
    }

    #[test]
    fn bad_selectors_say_where_and_what() {
        for (selector, column, part) in
            [(".", 1, ""), ("div >", 5, "combinator"), ("p:molten", 8, ":molten"), ("[a=", 3, ""), ("", 0, "empty")]
        {
            let error = Selectors::parse(selector).expect_err(selector);
            assert!(error.message.contains(part), "{selector}: {error}");
            assert!(error.column.abs_diff(column) <= 1, "{selector}: column {}", error.column);
        }
    }
}
